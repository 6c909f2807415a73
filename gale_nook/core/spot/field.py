"""Margins over a grid of places: each rule lowers the margin where it binds, and is remembered
where it is the lowest.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

CAP_MM = 150.0  # margins beyond this are all the same to a person with a saw


@dataclass(frozen=True)
class Grid:
    """Places by row and column: x rearward (nx,), y to the right (ny,), both rising evenly."""

    x_mm: Any
    y_mm: Any

    @property
    def shape(self) -> tuple[int, int]:
        return (len(self.y_mm), len(self.x_mm))

    @cached_property
    def everywhere(self) -> Window:
        return Window(slice(0, len(self.y_mm)), slice(0, len(self.x_mm)))

    @cached_property
    def span(self) -> tuple[float, float, float, float]:
        """Lowest x and y, highest x and y."""
        x, y = self.x_mm, self.y_mm
        return (float(x[0]), float(y[0]), float(x[-1]), float(y[-1]))

    @cached_property
    def is_one_place(self) -> bool:
        return self.shape == (1, 1)

    def window(self, low_x: float, low_y: float, high_x: float, high_y: float) -> Window | None:
        """Return the places within bounds; None when there are none."""
        x, y = self.x_mm, self.y_mm
        columns = slice(
            int(np.searchsorted(x, low_x)), int(np.searchsorted(x, high_x, side="right"))
        )
        rows = slice(int(np.searchsorted(y, low_y)), int(np.searchsorted(y, high_y, side="right")))
        if columns.start >= columns.stop or rows.start >= rows.stop:
            return None
        return Window(rows, columns)


def grid_over(low: tuple[float, float], high: tuple[float, float], step_mm: float) -> Grid:
    """Return the places on multiples of a step within a rectangle; the middle, across which no
    multiple lies.
    """
    axes = [
        np.arange(np.ceil(low[i] / step_mm), np.floor(high[i] / step_mm) + 1) * step_mm
        for i in range(2)
    ]
    axes = [
        axis if len(axis) else np.array([(low[i] + high[i]) / 2]) for i, axis in enumerate(axes)
    ]
    return Grid(axes[0], axes[1])


@dataclass(frozen=True, slots=True)
class Window:
    """A part of a grid, as slices of its rows and columns."""

    rows: slice
    columns: slice

    def places(self, grid: Grid) -> tuple[Any, Any]:
        """Return x as (1, n) and y as (m, 1)."""
        return grid.x_mm[self.columns][None, :], grid.y_mm[self.rows][:, None]


class Field:
    """The lowest margin found so far at each place, and the number of the reason that set it.

    Attributes:
        margin_mm: (ny, nx), at most CAP_MM.
        reason: (ny, nx), index into `reasons`; -1 where nothing binds within CAP_MM.
        reasons: (rule, subject) keys.
        looked: what is known of each place, (ny, nx): see `looked_rules`.
        apart_mm: the margins before those that are the same at every place were laid over; for
            shading.
    """

    def __init__(self, grid: Grid) -> None:
        self.grid = grid
        self.margin_mm = np.full(grid.shape, CAP_MM)
        self.reason = np.full(grid.shape, -1, dtype=np.int16)
        self.reasons: list[tuple[str, str]] = []
        self.apart_mm = self.margin_mm
        self.looked: Any = np.zeros(grid.shape, dtype=np.int8)

    def lower(
        self, key: tuple[str, str], window: Window, margin_mm: Any, accepted: bool = False
    ) -> None:
        """Lower the margins of a window to those of one rule and subject.

        Args:
            margin_mm: broadcasts to the window.
            accepted: a deviation that was accepted binds no more where it is over.
        """
        where = (window.rows, window.columns)
        kept = self.margin_mm[where]
        margin_mm = _binding(margin_mm, accepted)
        smaller = margin_mm < kept
        if smaller.any():
            np.copyto(kept, margin_mm, where=smaller)
            np.copyto(self.reason[where], self._number(key), where=smaller)

    def lower_at(
        self, key: tuple[str, str], rows: Any, columns: Any, margin_mm: Any, accepted: bool = False
    ) -> None:
        """Lower the margins of single places, given by row and column, all (k,)."""
        margin_mm = _binding(margin_mm, accepted)
        smaller = margin_mm < self.margin_mm[rows, columns]
        if smaller.any():
            rows, columns = rows[smaller], columns[smaller]
            self.margin_mm[rows, columns] = margin_mm[smaller]
            self.reason[rows, columns] = self._number(key)

    def _number(self, key: tuple[str, str]) -> int:
        if key not in self.reasons:
            self.reasons.append(key)
        return self.reasons.index(key)


def _binding(margin_mm: Any, accepted: bool) -> Any:
    """The margins that bind: those of an accepted deviation do so no more where it is over."""
    return np.where(np.asarray(margin_mm) < -1e-9, CAP_MM, margin_mm) if accepted else margin_mm


def merged(fields: Sequence[Field]) -> tuple[Any, Any]:
    """Return the best margin of several fields at each place, and which of them has it, both (ny,
    nx).
    """
    stacked = np.stack([field.margin_mm for field in fields])
    best = stacked.argmax(axis=0)
    return np.take_along_axis(stacked, best[None], axis=0)[0], best
