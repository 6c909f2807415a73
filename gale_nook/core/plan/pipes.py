"""The plan's part for the burner's pipes: routes of corners, and what sits on them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from gale_nook.core.base.models import CoordinateMm, Frozen, ItemId, Note, SizeMm, unique_ids

Tube = Literal["exhaust", "intake"]
FittingKind = Literal[
    "silencer",
    "filter",
    "joint",
    "support",
    "lagging",
    "shield",
    "cap",
    "clamp",
    "bulkhead",
    "box",
    "hatch",
]
EdgeName = Literal["left", "right", "rear"]


class RouteNode(Frozen):
    """A corner or the end of a route; `radius_mm` is the bend's centre-line radius there.

    Attributes:
        drain: a drain hole is made here.
    """

    id: ItemId
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    z_mm: CoordinateMm
    radius_mm: SizeMm = 60.0
    drain: bool = False


class Fitting(Frozen):
    """Something on a pipe.

    Attributes:
        at_mm: where it begins, along the centre line from the port.
        length_mm: of a silencer, filter or bulkhead fitting, and of a lagged, shielded or boxed
            stretch; 0 for what has no length.
        layers: of lagging.
        box_mm: left free round the pipe in its box.
        sealed: a joint is sealed as well as clamped.
        drain_down: a silencer hangs with its drain lowest.
        feature: the factory hole or thread that a support hangs on; None for a rivet nut.
    """

    id: ItemId
    kind: FittingKind
    at_mm: Annotated[float, Field(ge=0, le=20_000)] = 0.0
    length_mm: Annotated[float, Field(ge=0, le=20_000)] = 0.0
    layers: Annotated[int, Field(ge=1, le=4)] = 1
    box_mm: Annotated[float, Field(ge=5, le=300)] = 40.0
    sealed: bool = False
    drain_down: bool = True
    feature: ItemId | None = None

    @property
    def end_mm(self) -> float:
        return self.at_mm + self.length_mm


class Route(Frozen):
    """A pipe from the heater's port through its nodes; the last node is the mouth.

    The start is the port and moves with the heater, so it is not kept here.
    """

    nodes: Annotated[
        tuple[RouteNode, ...], Field(min_length=1, max_length=40), AfterValidator(unique_ids)
    ]
    fittings: Annotated[tuple[Fitting, ...], Field(max_length=60), AfterValidator(unique_ids)] = ()

    def of_kind(self, *kinds: FittingKind) -> tuple[Fitting, ...]:
        """Return the fittings of some kinds, from the port on."""
        return tuple(sorted((f for f in self.fittings if f.kind in kinds), key=lambda f: f.at_mm))


class Pipes(Frozen):
    """The burner's pipes, and how the job wants them.

    Attributes:
        edges: sides of the vehicle at which the exhaust may end.
        mouth_from_mm, mouth_to_mm: stretch of the sides, behind the datum, in which it may; None
            for all of it.
        silencer: expected on the exhaust, or not needed.
        filter: expected on the combustion air, or not needed.
        seal: of the mount; a gasket can be taken off again, sealant has to be cut.
        inside: whether they may run inside the cabin for a stretch; inside_reason: why, in words.
        firing_c: air temperature on the day of the first firing.
    """

    exhaust: Route | None = None
    intake: Route | None = None
    edges: Annotated[tuple[EdgeName, ...], Field(min_length=1, max_length=3)] = (
        "left",
        "right",
        "rear",
    )
    mouth_from_mm: CoordinateMm | None = None
    mouth_to_mm: CoordinateMm | None = None
    silencer: Literal["expected", "optional"] = "expected"
    filter: Literal["expected", "optional"] = "expected"
    seal: Literal["gasket", "sealant"] = "gasket"
    inside: Literal["never", "allowed"] = "never"
    inside_reason: Note = ""
    firing_c: Annotated[float, Field(ge=-40, le=50)] = 15.0

    def route(self, tube: Tube) -> Route | None:
        return self.exhaust if tube == "exhaust" else self.intake
