"""Matching what was measured in two views of one thing: the best turn and shift, and how far it can
be trusted.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from gale_nook.core.errors import BadInput

TAPE_MM = (
    3.0  # standard error of a tape measurement where too few agree to tell; workshop assumption
)
# nearer together than that, pairs tell nothing of the turn; what it may be then, as a standard
# error; workshop assumptions
ONE_PLACE_MM = 100.0
UNKNOWN_TURN_DEG = 1.0
ONE_IN = 0.05  # the ellipse holds the true point in all but this share of cases
DOUBT = 0.01  # a feature is called mismeasured when the others make its place this unlikely


@dataclass(frozen=True)
class Registration:
    """Rigid match to = R·from + t of paired points in the plane, least squares.

    Attributes:
        source, target: the pairs, (n, 2), mm.
        turn_deg: from the first to the second axis.
        shift_mm: t.
        has_turn: the turn was found from the pairs; else it is taken to be none, and not known.
    """

    source: Any
    target: Any
    turn_deg: float
    shift_mm: tuple[float, float]
    has_turn: bool = True

    @property
    def count(self) -> int:
        return len(self.source)

    @cached_property
    def _rotation(self) -> Any:
        a = math.radians(self.turn_deg)
        return np.array([[math.cos(a), -math.sin(a)], [math.sin(a), math.cos(a)]])

    def forward(self, x_mm: float, y_mm: float) -> tuple[float, float]:
        """Return where a point of the source lies in the target."""
        x, y = self._rotation @ (x_mm, y_mm) + self.shift_mm
        return float(x), float(y)

    def back(self, x_mm: float, y_mm: float) -> tuple[float, float]:
        """Return where a point of the target lies in the source."""
        x, y = self._rotation.T @ (np.array([x_mm, y_mm]) - self.shift_mm)
        return float(x), float(y)

    @cached_property
    def residuals_mm(self) -> tuple[float, ...]:
        """Distance of each pair after the match."""
        apart = self.target - (self.source @ self._rotation.T + np.array(self.shift_mm))
        return tuple(float(d) for d in np.hypot(apart[:, 0], apart[:, 1]))

    @property
    def freedom(self) -> int:
        """Degrees of freedom left for the error: two a pair, less turn and shift (shift alone where
        the turn is not known).
        """
        return 2 * self.count - (3 if self.has_turn else 2)

    @cached_property
    def error_mm(self) -> float:
        """Standard error of one coordinate of a pair; TAPE_MM where a single pair tells nothing of
        it.
        """
        if self.freedom <= 0:
            return TAPE_MM
        return math.sqrt(sum(r * r for r in self.residuals_mm) / self.freedom)

    def ellipse(self, x_mm: float, y_mm: float) -> Ellipse:
        """Return the ellipse that holds the true target of a source point in 95 of 100 cases.

        Covariance σ²(I/n + v·vᵀ/S) with v the point's arm about the middle, turned a quarter, and S
        the sum of squared arms; scaled by Hotelling's 2·F(2, ν), whose quantile is closed for two
        dimensions. With one pair σ is assumed. Where the pairs tell nothing of the turn, what it
        may be (UNKNOWN_TURN_DEG) comes on top, across the arm, by χ².

        Source: K. V. Mardia, J. T. Kent, J. M. Bibby, Multivariate Analysis, 1979, 3.5 (Hotelling's
        T²).
        """
        middle = self.source.mean(axis=0)
        arms = self.source - middle
        spread = float((arms * arms).sum())
        covariance = np.eye(2) / self.count
        arm = self._rotation @ (np.array([x_mm, y_mm]) - middle)
        across = np.array([-arm[1], arm[0]])
        if self.has_turn:
            covariance += np.outer(across, across) / spread
        freedom, known = self.freedom, -2 * math.log(ONE_IN)
        scale = known if freedom <= 0 else freedom * (ONE_IN ** (-2 / freedom) - 1)
        covariance *= self.error_mm**2 * scale
        if not self.has_turn:
            turn = math.radians(UNKNOWN_TURN_DEG)
            covariance += np.outer(across, across) * turn**2 * known
        values, vectors = np.linalg.eigh(covariance)
        long_way = vectors[:, 1]
        return Ellipse(
            self.forward(x_mm, y_mm),
            math.sqrt(max(values[1], 0.0)),
            math.sqrt(max(values[0], 0.0)),
            math.degrees(math.atan2(long_way[1], long_way[0])),
        )


@dataclass(frozen=True, slots=True)
class Ellipse:
    """Where a point may lie: centre, half axes, and the turn of the longer one."""

    centre: tuple[float, float]
    long_mm: float
    short_mm: float
    turn_deg: float

    def holds(self, x_mm: float, y_mm: float) -> bool:
        """Return whether a point lies within."""
        a = math.radians(self.turn_deg)
        dx, dy = x_mm - self.centre[0], y_mm - self.centre[1]
        along, across = dx * math.cos(a) + dy * math.sin(a), dy * math.cos(a) - dx * math.sin(a)
        return (along / max(self.long_mm, 1e-12)) ** 2 + (
            across / max(self.short_mm, 1e-12)
        ) ** 2 <= 1


def register(source: Any, target: Any) -> Registration:
    """Return the least-squares rigid match of paired points (n, 2), n ≥ 1; with one pair, or all of
    them at one place, a shift alone.

    Source: W. Kabsch, Acta Crystallographica A32, 1976, 922, for two dimensions in closed form.

    Raises:
        BadInput: no pair, or unlike numbers of points.
    """
    a = np.asarray(source, dtype=float).reshape(-1, 2)
    b = np.asarray(target, dtype=float).reshape(-1, 2)
    if len(a) == 0 or len(a) != len(b):
        raise BadInput(
            "features", len(a), "A match needs at least one feature measured on both sides."
        )
    middle_a, middle_b = a.mean(axis=0), b.mean(axis=0)
    p, q = a - middle_a, b - middle_b
    dot, cross = float((p * q).sum()), float((p[:, 0] * q[:, 1] - p[:, 1] * q[:, 0]).sum())
    # a turn read off points a hand's breadth apart is nothing but the tape's error
    has_turn = float((p * p).sum()) > ONE_PLACE_MM**2 and math.hypot(dot, cross) > 1e-12
    turn = math.atan2(cross, dot) if has_turn else 0.0
    rotation = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
    shift = middle_b - rotation @ middle_a
    moved = (float(shift[0]), float(shift[1]))
    return Registration(a, b, math.degrees(turn), moved, has_turn)


def mismeasured(match: Registration) -> int | None:
    """Return the pair that all the others contradict, or None when none stands out; needs four
    pairs.

    Each is left out in turn; its distance to where the others put it is set against their own
    scatter, as F(2, ν).
    """
    if match.count < 4:
        return None
    chances = []
    for left in range(match.count):
        kept = [i for i in range(match.count) if i != left]
        others = register(match.source[kept], match.target[kept])
        x, y = match.source[left]
        predicted = others.forward(float(x), float(y))
        apart = math.dist(predicted, match.target[left])
        arms = others.source - others.source.mean(axis=0)
        reach = float(((match.source[left] - others.source.mean(axis=0)) ** 2).sum())
        leverage = 1 / others.count + reach / (2 * max(float((arms * arms).sum()), 1e-12))
        ratio = apart**2 / (2 * max(others.error_mm, 1e-9) ** 2 * (1 + leverage))
        chances.append((1 + 2 * ratio / others.freedom) ** (-others.freedom / 2))
    likeliest = int(np.argmin(chances))
    return likeliest if chances[likeliest] < DOUBT else None
