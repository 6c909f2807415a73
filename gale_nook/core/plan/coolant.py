"""The plan's part for the coolant loop: its parts, its hoses, what is filled in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from gale_nook.core.base.models import (
    CatalogueId,
    CoordinateMm,
    Frozen,
    ItemId,
    Name,
    unique_ids,
)
from gale_nook.core.plan.pipes import RouteNode

HEATER = "heater"  # the part that the loop is about: its two ends are "flow" and "back"
HosePartKind = Literal["clip", "hole", "guard", "flex"]
EngineWish = Literal["none", "preheat", "heat", "both"]


class LoopPart(Frozen):
    """A part of the loop.

    Attributes:
        kind: catalogue entry.
        x_mm, y_mm, z_mm: of its middle.
        zone: of the room, that it heats.
        open_percent: of a valve; of a diverter the share that goes to a.
        level_percent: of a pump.
        fan: step of a convector's fan, 0 for off.
        mix_c: that a mixing valve is set to.
        length_m: of a floor's pipe.
        relief, scald_valve: they were added to a calorifier that has none.
        panel_opens: the floor over a floor loop can be taken up; screws_kept_off: nothing is
            screwed where it lies.
        driving: an engine runs.
    """

    id: ItemId
    name: Name
    kind: CatalogueId
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    z_mm: CoordinateMm
    yaw_deg: Literal[0, 90, 180, 270] = 0
    zone: ItemId = "living"
    open_percent: Annotated[float, Field(ge=0, le=100)] = 100.0
    level_percent: Annotated[float, Field(ge=0, le=100)] = 100.0
    fan: Annotated[int, Field(ge=0, le=9)] = 2
    mix_c: Annotated[float, Field(ge=15, le=90)] = 38.0
    length_m: Annotated[float, Field(gt=0, le=200)] = 20.0
    relief: bool = False
    scald_valve: bool = False
    panel_opens: bool = True
    screws_kept_off: bool = True
    driving: bool = False


class HosePart(Frozen):
    """Something on a hose.

    Attributes:
        at_mm: where it begins, along the hose from its start.
        length_mm: of a guarded or flexible stretch.
        slack_mm: of a flexible stretch, over what is drawn.
        diameter_mm: of a hole; fitting: a bulkhead fitting or a grommet fills it.
    """

    id: ItemId
    kind: HosePartKind
    at_mm: Annotated[float, Field(ge=0, le=30_000)] = 0.0
    length_mm: Annotated[float, Field(ge=0, le=20_000)] = 0.0
    diameter_mm: Annotated[float, Field(ge=3, le=120)] = 30.0
    fitting: bool = True
    slack_mm: Annotated[float, Field(ge=0, le=3_000)] = 0.0


class Hose(Frozen):
    """A hose from an end of one part to an end of another.

    Attributes:
        nodes: its corners between its ends.
        lagging_mm: round all of it.
    """

    id: ItemId
    from_part: ItemId
    from_end: CatalogueId
    to_part: ItemId
    to_end: CatalogueId
    kind: CatalogueId = "rubber-20"
    nodes: Annotated[tuple[RouteNode, ...], Field(max_length=40), AfterValidator(unique_ids)] = ()
    parts: Annotated[tuple[HosePart, ...], Field(max_length=60), AfterValidator(unique_ids)] = ()
    lagging_mm: Annotated[float, Field(ge=0, le=60)] = 0.0

    def of_kind(self, *kinds: HosePartKind) -> tuple[HosePart, ...]:
        """Return what is on it of some kinds, from its start on."""
        return tuple(sorted((p for p in self.parts if p.kind in kinds), key=lambda p: p.at_mm))


class Coolant(Frozen):
    """Everything about the loop.

    Attributes:
        glycol_percent: of the filling; glycol_by: volume or mass.
        frost_c: that it has to stand; None for the coldest night.
        engine: what the job wants of the engine: warmed before it starts, its heat while driving.
        engine_isolated: a leak of the loop must not empty the engine, nor the reverse.
        floor_limit_c: that its surface may reach.
        water_start_c: of the water when the heater is switched on.
    """

    parts: Annotated[tuple[LoopPart, ...], Field(max_length=60), AfterValidator(unique_ids)] = ()
    hoses: Annotated[tuple[Hose, ...], Field(max_length=80), AfterValidator(unique_ids)] = ()
    fluid: Literal["ethylene", "propylene"] = "propylene"
    glycol_percent: Annotated[float, Field(ge=0, le=60)] = 50.0
    glycol_by: Literal["volume", "mass"] = "volume"
    frost_c: Annotated[float, Field(ge=-60, le=10)] | None = None
    engine: EngineWish = "none"
    engine_isolated: bool = True
    floor_limit_c: Annotated[float, Field(ge=20, le=45)] = 29.0
    water_start_c: Annotated[float, Field(ge=0, le=60)] = 10.0

    def part(self, part_id: str) -> LoopPart | None:
        return next((part for part in self.parts if part.id == part_id), None)

    def hose(self, hose_id: str) -> Hose | None:
        return next((hose for hose in self.hoses if hose.id == hose_id), None)
