"""The plan's part for the warm air: how both ends of the heater breathe, a tree of ducts, the way
back, and the zones of the vehicle that are heated.
"""

from __future__ import annotations

import itertools
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from gale_nook.core.base.models import (
    CatalogueId,
    CoordinateMm,
    Frozen,
    ItemId,
    Name,
    SizeMm,
    unique_ids,
)
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.plan.solids import Direction

LIVING = "living"
WarmEnd = Literal["free", "panel", "duct"]
ColdEnd = Literal["free", "opening", "duct"]
ZoneKind = Literal["living", "bed", "bath", "garage", "locker", "cab"]
Divider = Literal["open", "curtain", "door", "panel"]
ReturnSpace = Literal["room", "outside", "engine-bay", "battery", "gas", "fuel"]
DuctPartKind = Literal["clip", "lagging", "panel", "guard", "flex"]
Leg = Literal["straight", "branch"]
MOST_WANTED = 6


class Zone(Frozen):
    """A part of the inside with a temperature of its own: a box in the vehicle's frame. What no
    zone covers is the living space.

    Attributes:
        from_x_mm, to_x_mm, left_y_mm, right_y_mm: its ends and sides in plan.
        low_z_mm, high_z_mm: its floor and ceiling; None for the load floor and the roof.
        divider: what stands between it and the living space.
        opening_cm2: left open in that for air: a gap under a door, slots of a locker.
        set_c: that it is to have; None for the inside temperature.
        wet_l: water in the gear that is hung up to dry there.
    """

    id: ItemId
    name: Name
    kind: ZoneKind = "bed"
    from_x_mm: CoordinateMm
    to_x_mm: CoordinateMm
    left_y_mm: CoordinateMm
    right_y_mm: CoordinateMm
    low_z_mm: CoordinateMm | None = None
    high_z_mm: CoordinateMm | None = None
    divider: Divider = "curtain"
    opening_cm2: Annotated[float, Field(ge=0, le=20_000)] = 200.0
    set_c: Annotated[float, Field(ge=-60, le=60)] | None = None
    wet_l: Annotated[float, Field(ge=0, le=100)] = 0.0

    @model_validator(mode="after")
    def _has_room(self) -> Zone:
        if self.id == LIVING:
            raise ValueError("the living space is what no zone covers; call the zone otherwise")
        if self.from_x_mm >= self.to_x_mm:
            raise ValueError("the zone's front end lies before its rear end")
        if self.left_y_mm >= self.right_y_mm:
            raise ValueError("the zone's left side lies left of its right side")
        low, high = self.low_z_mm, self.high_z_mm
        if low is not None and high is not None and low >= high:
            raise ValueError("the zone's floor lies below its ceiling")
        return self


class DuctPart(Frozen):
    """Something on a duct.

    Attributes:
        at_mm: where it begins, along the centre line from the duct's start.
        length_mm: of a lagged, guarded or flexible stretch.
        layers: of lagging.
        stuff: kind of a clip.
        hole_mm: diameter of the hole in a panel; ring: its edge is lined.
        slack_mm: of a flexible stretch, over what is drawn.
    """

    id: ItemId
    kind: DuctPartKind
    at_mm: Annotated[float, Field(ge=0, le=30_000)] = 0.0
    length_mm: Annotated[float, Field(ge=0, le=20_000)] = 0.0
    layers: Annotated[int, Field(ge=1, le=4)] = 1
    stuff: CatalogueId = "steel-clip"
    hole_mm: Annotated[float, Field(ge=10, le=400)] = 80.0
    ring: bool = True
    slack_mm: Annotated[float, Field(ge=0, le=5_000)] = 0.0

    @property
    def end_mm(self) -> float:
        return self.at_mm + self.length_mm


class Outlet(Frozen):
    """Where a duct's air comes out.

    Attributes:
        zone: that it heats; "living" for the living space.
        open_percent: position of its throttle.
        shut: it is closed at the moment.
        share_percent: of the whole flow that is asked of it; None asks for nothing.
        aim_deg: by which a swivelling one is turned away from its duct's direction, in plan.
    """

    name: Name = "outlet"
    kind: CatalogueId = "fixed-60"
    zone: ItemId = LIVING
    open_percent: Annotated[float, Field(ge=5, le=100)] = 100.0
    shut: bool = False
    share_percent: Annotated[float, Field(ge=0, le=100)] | None = None
    aim_deg: Annotated[float, Field(ge=-90, le=90)] = 0.0


class WantedOutlet(Frozen):
    """An outlet that was only pointed at: trees of ducts are looked for that lead there.

    Attributes:
        blows: the way in which its air goes; None for any.
        zone: that it heats.
        kind: of outlet; None for one that suits.
    """

    id: ItemId
    name: Name = "outlet"
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    z_mm: CoordinateMm
    blows: Direction | None = None
    zone: ItemId = LIVING
    kind: CatalogueId | None = None

    @property
    def at(self) -> tuple[float, float, float]:
        return (self.x_mm, self.y_mm, self.z_mm)


class Duct(Frozen):
    """One duct of the tree: from the heater, or from a leg of the splitter in which another ends,
    through its corners to its last node.

    It ends in an outlet or in a splitter; with neither, in the one duct that carries it on with
    another bore, by a reducer.

    Attributes:
        comes_from: the duct whose end it goes on from; None for the heater's warm end.
        leg: of the splitter there: straight on, or the branch.
        was_there: it is used again: it was there for an older appliance; checked: it was looked at
            inside and out, from end to end.
    """

    id: ItemId
    kind: CatalogueId = "duct-75"
    comes_from: ItemId | None = None
    leg: Leg = "straight"
    nodes: Annotated[
        tuple[RouteNode, ...], Field(min_length=1, max_length=40), AfterValidator(unique_ids)
    ]
    parts: Annotated[tuple[DuctPart, ...], Field(max_length=80), AfterValidator(unique_ids)] = ()
    outlet: Outlet | None = None
    splitter: CatalogueId | None = None
    was_there: bool = False
    checked: bool = False

    @model_validator(mode="after")
    def _one_end(self) -> Duct:
        if self.outlet is not None and self.splitter is not None:
            raise ValueError("a duct ends in an outlet or in a splitter, not in both")
        return self

    def of_kind(self, *kinds: DuctPartKind) -> tuple[DuctPart, ...]:
        """Return the parts of some kinds, from the duct's start on."""
        return tuple(sorted((p for p in self.parts if p.kind in kinds), key=lambda p: p.at_mm))


def _opened(duct: Duct) -> Duct:
    if duct.outlet is None:
        return duct
    opened = duct.outlet.model_copy(
        update={"open_percent": 100.0, "shut": False, "share_percent": None}
    )
    return duct.model_copy(update={"outlet": opened})


class ReturnOpening(Frozen):
    """An opening through which the room's air comes back to the heater.

    Attributes:
        x_mm, y_mm, z_mm: its middle; faces: the way in which one looks out of it.
        grille: catalogue entry whose share of open area counts.
        covered_percent: of it, by what may stand in front: storage, bedding.
        zone: whose air it takes in; space: where that air is.
    """

    id: ItemId
    name: Name
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    z_mm: CoordinateMm
    width_mm: SizeMm = 200.0
    height_mm: SizeMm = 100.0
    faces: Direction = "front"
    grille: CatalogueId = "bare-opening"
    covered_percent: Annotated[float, Field(ge=0, le=100)] = 0.0
    zone: ItemId = LIVING
    space: ReturnSpace = "room"


class Air(Frozen):
    """Everything about the warm air.

    Attributes:
        warm_end: how the heater's warm end blows: free into the room, through a panel (by a plenum
            made to fit), or into ducts.
        cold_end: how its inlet breathes: free, through an opening of the furniture, or by a duct.
        panel_grille, panel_width_mm, panel_height_mm: of the panel that it blows through.
        return_duct: from the inlet to its last node; its parts as of any duct.
        wanted: outlets that were pointed at, for trees to be looked for.
        first_straight: whether the sheet's first straight length holds, or what is computed.
        sensor_zone: in which the thermostat's sensor hangs.
        convector: the fan convector of the coolant loop that ducts begin at, where the job is
            heated by coolant; None for none.
    """

    warm_end: WarmEnd = "free"
    cold_end: ColdEnd = "free"
    panel_grille: CatalogueId = "slotted-grille"
    panel_width_mm: SizeMm = 200.0
    panel_height_mm: SizeMm = 150.0
    ducts: Annotated[tuple[Duct, ...], Field(max_length=60), AfterValidator(unique_ids)] = ()
    wanted: Annotated[
        tuple[WantedOutlet, ...], Field(max_length=MOST_WANTED), AfterValidator(unique_ids)
    ] = ()
    return_duct: Duct | None = None
    returns: Annotated[
        tuple[ReturnOpening, ...], Field(max_length=30), AfterValidator(unique_ids)
    ] = ()
    zones: Annotated[tuple[Zone, ...], Field(max_length=12), AfterValidator(unique_ids)] = ()
    first_straight: Literal["sheet", "computed"] = "sheet"
    sensor_zone: ItemId = LIVING
    convector: ItemId | None = None

    @model_validator(mode="after")
    def _is_a_tree(self) -> Air:
        known = {duct.id: duct for duct in self.ducts}
        legs: set[tuple[str | None, str]] = set()
        for duct in self.ducts:
            before = duct.comes_from
            if before is not None and before not in known:
                raise ValueError(f"the duct '{duct.id}' goes on from one that is not there")
            if before is not None and known[before].outlet is not None:
                raise ValueError(f"the duct '{duct.id}' goes on from an outlet")
            key = (before, duct.leg if before and known[before].splitter else "straight")
            if key in legs:
                raise ValueError(f"two ducts go on from the same end: '{duct.id}' is one")
            legs.add(key)
            seen = {duct.id}
            while before is not None:
                if before in seen:
                    raise ValueError(f"the duct '{duct.id}' leads back into itself")
                seen.add(before)
                before = known[before].comes_from
        return self

    @model_validator(mode="after")
    def _zones_apart(self) -> Air:
        for one, other in itertools.combinations(self.zones, 2):
            if zones_overlap(one, other):
                raise ValueError(f"the zones '{one.name}' and '{other.name}' lie in one another")
        known = {LIVING, *(zone.id for zone in self.zones)}
        asked = [(d.id, d.outlet.zone) for d in self.ducts if d.outlet is not None]
        asked += [(opening.id, opening.zone) for opening in self.returns]
        asked += [(wanted.name, wanted.zone) for wanted in self.wanted]
        asked.append(("the thermostat", self.sensor_zone))
        for who, zone in asked:
            if zone not in known:
                raise ValueError(f"'{who}' is in a zone that is not there: '{zone}'")
        return self

    def as_laid(self) -> Air:
        """Return the same with every outlet open: what of it has a place."""
        return self.model_copy(update={"ducts": tuple(_opened(duct) for duct in self.ducts)})

    def zone(self, zone_id: str) -> Zone | None:
        """Return a zone; None for the living space."""
        return next((zone for zone in self.zones if zone.id == zone_id), None)

    def zone_name(self, zone_id: str) -> str:
        zone = self.zone(zone_id)
        return zone.name if zone is not None else "living space"


def zones_overlap(one: Zone, other: Zone) -> bool:
    """Return whether two zones share room."""

    def height(zone: Zone) -> tuple[float, float]:
        low = zone.low_z_mm if zone.low_z_mm is not None else float("-inf")
        return low, zone.high_z_mm if zone.high_z_mm is not None else float("inf")

    spans = (
        ((one.from_x_mm, one.to_x_mm), (other.from_x_mm, other.to_x_mm)),
        ((one.left_y_mm, one.right_y_mm), (other.left_y_mm, other.right_y_mm)),
        (height(one), height(other)),
    )
    return all(a[0] < b[1] and b[0] < a[1] for a, b in spans)
