"""Friction in a duct: Colebrook's law, its slope with the flow, and the way over from laminar flow.

Told as the *load* f·Re², which is what a pressure loss is proportional to; it is smooth and rises
with the flow from nothing on, so that a network of ducts has one solution.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

LAMINAR_RE, TURBULENT_RE = 2000.0, 4000.0
COLEBROOK_STEPS = 2
LN10 = math.log(10.0)


def colebrook(reynolds: Any, relative_roughness: Any) -> tuple[Any, Any]:
    """Return the Darcy friction factor of turbulent flow, and its slope with the Reynolds number.

    Colebrook's law 1/√f = −2·lg(ε/3.7 + 2.51/(Re·√f)), solved by Newton from Haaland's explicit
    form, after which two steps leave less than 2e-12 of it. Arrays of one shape.

    Source: C. F. Colebrook, Journal of the Institution of Civil Engineers 11, 1939, 133.

    >>> round(float(colebrook(np.array(1e5), np.array(1e-3))[0]), 5)
    0.02217
    """
    rough = relative_roughness / 3.7
    x = -1.8 * np.log10(rough**1.11 + 6.9 / reynolds)
    smooth = 2.51 / reynolds
    for _ in range(COLEBROOK_STEPS):
        inner = rough + smooth * x
        slope = 1.0 + 2.0 * smooth / (LN10 * inner)
        x = x - (x + 2.0 * np.log10(inner)) / slope
    inner = rough + smooth * x
    bend = 2.0 * smooth / (LN10 * inner)
    x_slope = bend * x / reynolds / (1.0 + bend)
    return x**-2.0, -2.0 * x**-3.0 * x_slope


def friction_load(reynolds: Any, relative_roughness: Any) -> tuple[Any, Any]:
    """Return f·Re² and its slope with the Reynolds number, (n,) each, from no flow on.

    Laminar (64·Re) up to LAMINAR_RE, Colebrook's from TURBULENT_RE on, and between them the cubic
    that meets both with their slopes.
    """
    reynolds = np.asarray(reynolds, dtype=float)
    at = np.maximum(reynolds, TURBULENT_RE)
    factor, slope = colebrook(at, relative_roughness)
    load, rise = factor * at * at, slope * at * at + 2.0 * factor * at
    if np.all(reynolds >= TURBULENT_RE):
        return load, rise
    share = (reynolds - LAMINAR_RE) / (TURBULENT_RE - LAMINAR_RE)
    share = np.minimum(np.maximum(share, 0.0), 1.0)
    width, start = TURBULENT_RE - LAMINAR_RE, 64.0 * LAMINAR_RE
    a, b = 64.0 * width, rise * width
    drop = load - start
    second, third = 3.0 * drop - 2.0 * a - b, a + b - 2.0 * drop
    between = start + share * (a + share * (second + share * third))
    between_rise = (a + share * (2.0 * second + 3.0 * share * third)) / width
    laminar, turbulent = reynolds <= LAMINAR_RE, reynolds >= TURBULENT_RE
    value = np.where(laminar, 64.0 * reynolds, np.where(turbulent, load, between))
    return value, np.where(laminar, 64.0, np.where(turbulent, rise, between_rise))
