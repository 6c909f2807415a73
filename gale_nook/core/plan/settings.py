"""The job's own settings, and the deviations that were accepted."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from gale_nook.core.base.models import (
    CatalogueId,
    Frozen,
    ItemId,
    Name,
    Note,
)

RunName = Literal["", "exhaust", "intake", "fuel"]

# ids that rules had before a finding said which run it is about: how they are called now
FORMER_RULES: dict[str, tuple[str, RunName]] = {
    "pipes.air_run": ("pipes.run", "intake"),
    "pipes.air_length": ("pipes.length", "intake"),
    "pipes.air_bends": ("pipes.bends", "intake"),
    "pipes.air_radius": ("pipes.radius", "intake"),
    "pipes.air_bend_room": ("pipes.bend_room", "intake"),
    "pipes.air_first_straight": ("pipes.first_straight", "intake"),
    "pipes.air_pressure": ("pipes.pressure_loss", "intake"),
    "pipes.back_pressure": ("pipes.pressure_loss", "exhaust"),
    "pipes.air_clearance": ("pipes.clearance", "intake"),
    "pipes.air_floor": ("pipes.floor", "intake"),
    "pipes.air_clamps": ("pipes.clamps", "intake"),
    "pipes.air_bulkhead": ("pipes.bulkhead", "intake"),
    "pipes.air_filter": ("pipes.filter", "intake"),
    "pipes.air_support": ("pipes.support", "intake"),
    "pipes.air_trap": ("pipes.low_point", "intake"),
    "pipes.air_parked": ("pipes.parked", "intake"),
    "pipes.air_forward": ("pipes.mouth_forward", "intake"),
    "pipes.air_down": ("pipes.mouth_down", "intake"),
    "pipes.air_ground": ("pipes.mouth_ground", "intake"),
    "pipes.air_spray": ("pipes.spray", "intake"),
    "pipes.mouth_spray": ("pipes.spray", "exhaust"),
}
EXHAUST_AND_INTAKE = {"pipes.mouths_apart", "pipes.mouths_facing", "pipes.tubes_apart"}
NOT_OF_THE_FUEL_LINE = {"fuel.reserve", "fuel.source", "fuel.wax"}


def _as_called_now(data: Any) -> Any:
    """Read an acceptance that was written when a rule's id said which run it is about."""
    if not isinstance(data, dict) or "run" in data or not isinstance(data.get("rule"), str):
        return data
    rule = data["rule"]
    if rule in FORMER_RULES:
        now, run = FORMER_RULES[rule]
        return {**data, "rule": now, "run": run}
    if rule.startswith("pipes.") and rule not in EXHAUST_AND_INTAKE:
        return {**data, "run": "exhaust"}
    if rule.startswith("fuel.") and not rule.startswith(("fuel.tank_", "fuel.filler")):
        return {**data, "run": "" if rule in NOT_OF_THE_FUEL_LINE else "fuel"}
    return {**data, "run": ""}


class Acceptance(Frozen):
    """A finding that is over and was accepted: by whom, when and why.

    Attributes:
        run: that the finding is about; empty where it is about none, or about two.
        measured: the value that was accepted; None for a question, and where it was not kept.
        about: the other thing that it was about, by its name; empty where that was not kept.
        heater, mount: with which it was accepted.
        at: where the heater stood: behind the datum, right of centre, turn.
    """

    id: ItemId
    rule: Annotated[str, Field(pattern=r"^[a-z]+\.[a-z_]+$", max_length=60)]
    run: RunName = ""
    subject: Annotated[str, Field(max_length=120)]
    reason: Note = ""
    by: Name
    on: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")]
    measured: float | None = None
    about: Annotated[str, Field(max_length=200)] = ""
    heater: CatalogueId | None = None
    mount: CatalogueId | None = None
    at: tuple[float, float, float] | None = None

    @property
    def is_bound(self) -> bool:
        """Whether it was kept with what it is about."""
        return self.measured is not None or bool(self.about) or self.heater is not None

    @property
    def key(self) -> tuple[str, str, str]:
        """Which finding it accepts."""
        return (self.rule, self.run, self.subject)

    @model_validator(mode="before")
    @classmethod
    def _former_ids(cls, data: Any) -> Any:
        return _as_called_now(data)


class Settings(Frozen):
    """The job's own settings.

    Attributes:
        tolerance_mm, tolerance_deg: within this of a limit, a value inside it is called tight.
        heights_below: from what the heights of parts below the floor are typed and shown; they are
            kept from the load floor.
        parked_tilt_deg: nose up or down, left or right, at which the exhaust still has to drain.
    """

    tolerance_mm: Annotated[float, Field(ge=0, le=100)] = 5.0
    tolerance_deg: Annotated[float, Field(ge=0, le=10)] = 0.5
    parked_tilt_deg: Annotated[float, Field(ge=0, le=15)] = 3.0
    heights_below: Literal["floor", "underside", "ground"] = "floor"
