"""Friction in a duct: Colebrook's law, its slope with the flow, and the way over from laminar flow.

Told as the *load* f·Re², which is what a pressure loss is proportional to; it is smooth and rises
with the flow from nothing on, so that a network of ducts has one solution.
"""

from __future__ import annotations

import math

LAMINAR_RE, TURBULENT_RE = 2000.0, 4000.0
COLEBROOK_STEPS = 2
LN10 = math.log(10.0)


def colebrook(reynolds: float, relative_roughness: float) -> tuple[float, float]:
    """Return the Darcy friction factor of turbulent flow, and its slope with the Reynolds number.

    Colebrook's law 1/√f = −2·lg(ε/3.7 + 2.51/(Re·√f)), solved by Newton from Haaland's explicit
    form, after which two steps leave less than 2e-12 of it.

    Source: C. F. Colebrook, Journal of the Institution of Civil Engineers 11, 1939, 133.

    >>> round(colebrook(1e5, 1e-3)[0], 5)
    0.02217
    """
    rough = relative_roughness / 3.7
    x = -1.8 * math.log10(rough**1.11 + 6.9 / reynolds)
    smooth = 2.51 / reynolds
    for _ in range(COLEBROOK_STEPS):
        inner = rough + smooth * x
        slope = 1.0 + 2.0 * smooth / (LN10 * inner)
        x -= (x + 2.0 * math.log10(inner)) / slope
    bend = 2.0 * smooth / (LN10 * (rough + smooth * x))
    x_slope = bend * x / reynolds / (1.0 + bend)
    factor = 1.0 / (x * x)
    return factor, -2.0 * factor / x * x_slope


def friction_load(reynolds: float, relative_roughness: float) -> tuple[float, float]:
    """Return f·Re² and its slope with the Reynolds number, from no flow on.

    Laminar (64·Re) up to LAMINAR_RE, Colebrook's from TURBULENT_RE on, and between them the cubic
    that meets both with their slopes.
    """
    if reynolds <= LAMINAR_RE:
        return 64.0 * reynolds, 64.0
    at = max(reynolds, TURBULENT_RE)
    factor, slope = colebrook(at, relative_roughness)
    load, rise = factor * at * at, (slope * at + 2.0 * factor) * at
    if reynolds >= TURBULENT_RE:
        return load, rise
    width, start = TURBULENT_RE - LAMINAR_RE, 64.0 * LAMINAR_RE
    share = (reynolds - LAMINAR_RE) / width
    a, b, drop = 64.0 * width, rise * width, load - start
    second, third = 3.0 * drop - 2.0 * a - b, a + b - 2.0 * drop
    between = start + share * (a + share * (second + share * third))
    return between, (a + share * (2.0 * second + 3.0 * share * third)) / width
