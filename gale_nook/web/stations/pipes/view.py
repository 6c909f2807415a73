"""What the pipes station shows of the burner's pipe that is worked on, and what its buttons do."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from gale_nook.core.checking import Check
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.findings.finding import Finding
from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.pipes.pressure import PressureLoss, pressure_losses
from gale_nook.core.pipes.report import Protection, SurveyPlace, first_firing, protections
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.short_routes import is_short
from gale_nook.core.pipes.start import FILTER_MM, SILENCER_MM
from gale_nook.core.pipes.supports import fixings
from gale_nook.core.plan.pipes import Fitting, Route, Tube
from gale_nook.core.plan.words import FITTING_WORDS

FITTING_LENGTHS: dict[str, dict[str, float]] = {
    "exhaust": {
        "silencer": SILENCER_MM,
        "support": 0.0,
        "joint": 0.0,
        "lagging": 300.0,
        "shield": 200.0,
        "cap": 0.0,
        "clamp": 0.0,
        "bulkhead": 40.0,
        "box": 300.0,
        "hatch": 0.0,
    },
    "intake": {"filter": FILTER_MM, "support": 0.0, "clamp": 0.0, "bulkhead": 40.0},
}


class PipesView:
    """One of the two pipes of a checked plan; each figure is derived when asked for."""

    def __init__(self, check: Check, tube: Tube) -> None:
        self.check = check
        self.job = check.job
        self.tube: Tube = tube
        self._plan = check.job.plan

    @property
    def run(self) -> RouteGeometry | None:
        """The pipe that is worked on."""
        return pipe_run(self.job, self.tube)

    @property
    def route(self) -> Route | None:
        return self._plan.pipes.route(self.tube)

    @property
    def pressure(self) -> PressureLoss | None:
        return pressure_losses(self.job).get(self.tube)

    @property
    def pressure_most(self) -> float | None:
        """What the sheet allows the pipe that is worked on to cost."""
        name = "exhaust_back_pressure_pa" if self.tube == "exhaust" else "intake_pressure_pa"
        band = limit_band(self.job, name)
        return band.maximum if band is not None else None

    @property
    def least_fall_deg(self) -> float | None:
        """Of the straights; negative where one rises."""
        falls = (
            [straight.fall_deg for straight in self.run.straights] if self.run is not None else []
        )
        return min(falls, default=None)

    @cached_property
    def nearest_part(self) -> Finding | None:
        """The check of the pipe that is worked on to what is nearest to it."""
        results = [
            f
            for f in self.check.findings
            if (f.rule, f.run) == ("pipes.clearance", self.tube) and f.measured is not None
        ]
        return min(results, key=lambda finding: finding.measured or 0.0, default=None)

    @property
    def short_ways(self) -> bool:
        """Whether ways of the pipe that is worked on need no edge of the vehicle."""
        return is_short(self.job, self.tube)

    def edges_with(self, edge: str) -> list[str]:
        """The edges at which the exhaust may end, with one of them put in or taken out."""
        now = self._plan.pipes.edges
        return [e for e in now if e != edge] if edge in now else [*now, edge]

    @cached_property
    def first_firing(self) -> tuple[SurveyPlace, ...]:
        return first_firing(self.job)

    @cached_property
    def protections(self) -> tuple[Protection, ...]:
        return protections(self.job)

    @property
    def next_fittings(self) -> list[tuple[str, dict[str, Any]]]:
        """What can be put on the pipe that is worked on, each with the command that does it."""
        run, route, tube = self.run, self.route, self.tube
        if run is None or route is None:
            return []
        results = []
        for kind, length in FITTING_LENGTHS[tube].items():
            middle = float(round((run.length_mm - length) / 2))
            item = {
                "id": fresh_id(route.fittings, kind),
                "kind": kind,
                "at_mm": max(middle, 0.0),
                "length_mm": length,
            }
            results.append(
                (
                    FITTING_WORDS[kind][0],
                    {"op": "add", "collection": f"pipes.{tube}.fittings", "item": item},
                )
            )
        return results

    def split_of(self, index: int) -> dict[str, Any]:
        """The command that cuts a straight of the pipe in two with a joint in its middle."""
        if self.run is None or self.route is None:
            return {}
        start, end = self.run.straight_spans_mm[index]
        item = {
            "id": fresh_id(self.route.fittings, "joint"),
            "kind": "joint",
            "at_mm": float(round((start + end) / 2)),
        }
        return {"op": "add", "collection": f"pipes.{self.tube}.fittings", "item": item}

    def fitting_words(self, fitting: Fitting) -> str:
        return FITTING_WORDS[fitting.kind][0]

    @property
    def fixing_choices(self) -> list[tuple[str, str]]:
        """What a support can hang on."""
        return [
            ("", "a rivet nut"),
            *((feature.id, feature.name) for feature, _ in fixings(self.job)),
        ]
