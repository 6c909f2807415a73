"""What the nights teach: a Bayesian regression of five factors, robust against nights that do not
fit.

Priors are normal in the factors' logarithms, as wide as survey and sheet may be off. A night's
litres and charge scatter about the model as Student's t with few degrees of freedom, so that one
absurd entry moves next to nothing. The mode is found by Gauss and Newton's steps with weights; the
posterior is the normal one about it (A. Gelman et al., Bayesian Data Analysis, 3rd ed., ch. 4, 17).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from gale_nook.core.catalogue.log import LogBook
from gale_nook.core.log.entries import LogEntry
from gale_nook.core.log.night_model import (
    FACTORS,
    Conditions,
    NightTable,
    charge_ah,
    litres,
)
from gale_nook.core.plan.heat import Learned

FREEDOM = 4.0  # of Student's t
STEPS, SETTLED = 25, 1e-7
SMALL = 1e-4  # of a logarithm, to take slopes over
BAND_90 = 1.6449  # standard deviations on each side
LEAST_NIGHTS = 3
KNOWN_SHARE = 0.75  # of what weights say is known: set by simulated seasons


@dataclass(frozen=True)
class Data:
    """Nights that count.

    Attributes:
        at: their conditions; litres_l, sd_l: (n,); charge_ah: (n,), not a number where it was not
            read.
    """

    at: Conditions
    litres_l: Any
    sd_l: Any
    charge_ah: Any

    @property
    def nights(self) -> int:
        return len(self.litres_l)


@dataclass(frozen=True)
class Factor:
    """What is known of a factor: its middle and its 90 % band, before and after."""

    name: str
    prior: tuple[float, float, float]
    low: float
    middle: float
    high: float


@dataclass(frozen=True)
class Fit:
    """What was learned.

    Attributes:
        mode, cov: of the factors' logarithms, (5,) and (5, 5).
        weights: of each night's litres, (n,); small where it does not fit.
    """

    mode: Any
    cov: Any
    weights: Any
    nights: int
    book: LogBook

    @property
    def factors(self) -> tuple[Factor, ...]:
        wide = prior_sd(self.book)
        results = []
        for number, name in enumerate(FACTORS):
            sd = float(np.sqrt(self.cov[number, number]))
            results.append(
                Factor(
                    name,
                    _band(0.0, float(wide[number])),
                    *_band(float(self.mode[number]), sd),
                )
            )
        return tuple(results)

    @property
    def learned(self) -> Learned:
        """The factors as a plan keeps them."""
        values = np.clip(np.exp(self.mode), 0.25, 4.0)
        named = {name: round(float(v), 3) for name, v in zip(FACTORS, values, strict=True)}
        return Learned(**named, nights=self.nights)


def _band(middle: float, sd: float) -> tuple[float, float, float]:
    low, mid, high = np.exp([middle - BAND_90 * sd, middle, middle + BAND_90 * sd])
    return float(low), float(mid), float(high)


def prior_sd(book: LogBook) -> Any:
    """Return by how much each factor's logarithm may be off before anything was learned, (5,)."""
    return np.log1p([getattr(book, f"spread_{name}") for name in FACTORS])


def fit(table: NightTable, data: Data) -> Fit:
    """Return what some nights teach; the prior alone where there are none."""
    book = table.book
    wide = prior_sd(book)
    precision = np.diag(1.0 / wide**2)
    mode = np.zeros(len(FACTORS))
    known = precision
    weights = np.ones(data.nights)
    for _ in range(STEPS):
        residuals, slopes = _residuals(table, data, mode)
        weighted = (FREEDOM + 1.0) / (FREEDOM + residuals**2)
        known = precision + (slopes * weighted[:, None]).T @ slopes
        gradient = (slopes * weighted[:, None]).T @ residuals - precision @ mode
        step = np.clip(np.linalg.solve(known, gradient), -0.5, 0.5)
        mode = mode + step
        weights = weighted[: data.nights]
        if np.abs(step).max() < SETTLED:
            break
    told = known - precision
    cov = np.linalg.inv(precision + KNOWN_SHARE * told)
    return Fit(mode, cov, weights, data.nights, book)


def _residuals(table: NightTable, data: Data, mode: Any) -> tuple[Any, Any]:
    """Standardised differences, litres first, then what was read of charge; and how what is
    predicted changes with each factor, in the same measure.
    """
    book, read = table.book, ~np.isnan(data.charge_ah)
    now_l, now_ah = litres(table, data.at, mode), charge_ah(table, data.at, mode)
    noise = np.hypot(np.maximum(book.litres_share * now_l, book.litres_least), data.sd_l)
    noise_ah = np.maximum(book.charge_share * now_ah, book.charge_least_ah)
    slopes_l, slopes_ah = [], []
    for number in range(len(FACTORS)):
        ahead = mode.copy()
        ahead[number] += SMALL
        slopes_l.append((litres(table, data.at, ahead) - now_l) / SMALL)
        slopes_ah.append((charge_ah(table, data.at, ahead) - now_ah) / SMALL)
    of_l = np.array(slopes_l).T / noise[:, None]
    of_ah = (np.array(slopes_ah).T / noise_ah[:, None])[read]
    residuals = (data.litres_l - now_l) / noise
    residuals_ah = ((data.charge_ah - now_ah) / noise_ah)[read]
    return np.concatenate([residuals, residuals_ah]), np.concatenate([of_l, of_ah])


@dataclass(frozen=True)
class Band:
    """What nights should take: middle and 90 % band, (n,) each."""

    low: Any
    middle: Any
    high: Any


def predicted(table: NightTable, found: Fit, at: Conditions, sd_l: Any) -> Band:
    """Return the litres of nights by what was learned, with what a dip may be off."""
    middle = litres(table, at, found.mode)
    own = np.hypot(np.maximum(table.book.litres_share * middle, table.book.litres_least), sd_l)
    return _band_of(litres, table, found, at, own)


def predicted_ah(table: NightTable, found: Fit, at: Conditions) -> Band:
    """Return the charge of nights by what was learned."""
    middle = charge_ah(table, at, found.mode)
    own = np.maximum(table.book.charge_share * middle, table.book.charge_least_ah)
    return _band_of(charge_ah, table, found, at, own)


def _band_of(
    model: Callable[[NightTable, Conditions, Any], Any],
    table: NightTable,
    found: Fit,
    at: Conditions,
    own_sd: Any,
) -> Band:
    """What nights should take, from how well the factors are known and what each night adds."""
    middle = model(table, at, found.mode)
    slopes = []
    for number in range(len(FACTORS)):
        ahead = found.mode.copy()
        ahead[number] += SMALL
        slopes.append((model(table, at, ahead) - middle) / SMALL)
    slope = np.array(slopes).T
    sd = np.sqrt(np.einsum("ni,ij,nj->n", slope, found.cov, slope) + own_sd**2)
    return Band(np.maximum(middle - BAND_90 * sd, 0.0), middle, middle + BAND_90 * sd)


def data_of(at: Conditions, entries: Sequence[LogEntry], litres_l: Any, sd_l: Any) -> Data:
    """Return nights as data, with the charge of those that have it."""
    charge = [np.nan if e.charge_ah is None else e.charge_ah for e in entries]
    return Data(at, np.array(litres_l, float), np.array(sd_l, float), np.array(charge, float))
