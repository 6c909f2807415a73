"""What the spot station shows."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from markupsafe import Markup

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.mount import Mount
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.plan.vehicle import Feature
from gale_nook.core.spot.floor_map import map_key, map_step_mm
from gale_nook.core.spot.placement import (
    FaceHole,
    PlacedHole,
    face_holes,
    floor_holes,
    opening_used,
)
from gale_nook.core.spot.transfer import (
    Transfer,
    advice,
    came_out_right,
    nearest_hole,
    next_drilled_mm,
    next_pilot_mm,
    transfer_of,
)
from gale_nook.core.vehicle.parts import surveyed_where
from gale_nook.drawing.section import section
from gale_nook.drawing.svg import svg
from gale_nook.web.page import StationPage, Switch


class SpotPage(StationPage):
    """What the spot station shows."""

    has_style = True
    has_board = True
    board_hint = "drag the heater, or type it"
    opens_close = True
    scripts = ("floor.js",)

    @property
    def floor_picture(self) -> str:
        """Under the name of all that it depends on, so that a browser may keep it."""
        if self.view.floor == "off" or heater_sheet(self.job) is None:
            return ""
        yaw = self.plan.spot.yaw_deg if self.plan.spot is not None else 0
        turn = "best" if self.view.floor == "best" else str(yaw)
        return f"spot/floor.png?key={map_key(self.job)}&turn={turn}&plan={self.view.plan}"

    @property
    def switches(self) -> list[Switch]:
        if heater_sheet(self.job) is None:
            return super().switches
        names = (("turn", "As turned"), ("best", "Best turn"), ("off", "No map"))
        return [*super().switches, self.switch("Floor map", "floor", names)]

    @property
    def heater_sheet(self) -> HeaterSheet | None:
        return heater_sheet(self.job)

    @property
    def mount(self) -> Mount | None:
        return chosen_mount(self.job)

    @property
    def packings(self) -> list[tuple[str, str]]:
        """What a packing can be of."""
        fitting = [m for m in self.catalogue.materials.values() if m.use in {"floor", "skin"}]
        return [("", "not said yet"), *((m.id, m.label) for m in fitting)]

    @property
    def shelves(self) -> list[tuple[str, str]]:
        """What the heater can stand on: the floor, or the top of a surveyed box inside."""
        boxes = [s for s in self.plan.vehicle.solids if isinstance(s, BoxSolid)]
        inside = {s.id for s, _, _ in surveyed_where(self.job, "inside")}
        return [("", "the floor"), *((s.id, s.name) for s in boxes if s.id in inside)]

    @property
    def takes_adapter(self) -> bool:
        """Whether the mount goes through the floor from inside."""
        mount = chosen_mount(self.job)
        return mount is not None and mount.place == "inside" and mount.through == "floor"

    @property
    def openings(self) -> list[Feature]:
        """Existing openings whose place and size are known."""
        features = self.plan.vehicle.features
        return [f for f in features if f.at is not None and f.opening_mm is not None]

    @property
    def adapter_opening(self) -> str:
        opening = opening_used(self.job)
        return opening.name if opening is not None else ""

    @property
    def floor_holes(self) -> tuple[PlacedHole, ...]:
        return floor_holes(self.job)

    @property
    def face_holes(self) -> tuple[FaceHole, ...]:
        return face_holes(self.job)

    @property
    def map_step_mm(self) -> float:
        """How far apart the places of the floor's map lie."""
        mount = chosen_mount(self.job)
        place = mount.place if mount is not None else "inside"
        return map_step_mm(self.plan.vehicle, place)

    @property
    def section(self) -> Markup:
        scene = section(self.job, self.system)
        return Markup(svg(scene)) if scene is not None else Markup("")

    @cached_property
    def transfer(self) -> Transfer | None:
        return transfer_of(self.plan)

    @property
    def transfer_advice(self) -> str:
        return (
            advice(self.transfer, nearest_hole(self.check.of("spot")), came_out_right(self.job))
            if self.transfer is not None
            else ""
        )

    def shift_words(self, shift_mm: tuple[float, float]) -> str:
        """A shift in plan in words."""
        rearward, right = (round(value) for value in shift_mm)
        parts = (
            [f"{self.amount(abs(rearward), 'mm')} {'rearward' if rearward > 0 else 'forward'}"]
            if rearward
            else []
        )
        parts += (
            [f"{self.amount(abs(right), 'mm')} to the {'right' if right > 0 else 'left'}"]
            if right
            else []
        )
        return " and ".join(parts) or "nowhere off"

    @property
    def correction(self) -> dict[str, Any] | None:
        """The command that moves the survey below under the one inside; None where that is under a
        millimetre.
        """
        if self.transfer is None or self.transfer.here is None:
            return None
        rearward, right = (-float(round(value)) for value in self.transfer.off_mm)
        if rearward == 0 and right == 0:
            return None
        return {"op": "shift-below", "rearward_mm": rearward + 0.0, "right_mm": right + 0.0}

    @property
    def next_pilots(self) -> list[dict[str, Any]]:
        """A pilot to log at each hole of the mount, drilled where the last one said, and measured
        from where the drawing has the hole.
        """
        new = fresh_id(self.plan.pilots, "pilot")
        return [
            {
                "id": new,
                "hole": h.name,
                "x_mm": drilled[0],
                "y_mm": drilled[1],
                "rearward_mm": None,
                "right_mm": None,
                "mark_x_mm": h.x_mm,
                "mark_y_mm": h.y_mm,
            }
            for h in floor_holes(self.job)
            for drilled in (next_drilled_mm(self.job, h),)
        ]

    @property
    def next_pilot_words(self) -> str:
        """Where the next pilot goes, from the last one."""
        last = self.plan.pilots[-1]
        if last.came_out_mm is None:
            return (
                "Look from below where it came out, and type how far from the mark: 0 and 0 if it "
                "is on it."
            )
        words = self.shift_words(next_pilot_mm(self.job, last))
        if words == "nowhere off":
            return "The last pilot came out where the hole has to be: cut from it."
        return f"Drill the next {words} of the last."

    @property
    def turns(self) -> list[tuple[int, str]]:
        """The quarter turns, by where the warm end points; a coolant heater has none."""
        sheet = heater_sheet(self.job)
        directions = ((0, "rearward"), (90, "to the right"), (180, "forward"), (270, "to the left"))
        air = sheet is not None and sheet.medium == "air"
        return [
            (yaw, f"warm end {towards}" if air else f"front {towards}")
            for yaw, towards in directions
        ]

    @property
    def mounts(self) -> list[tuple[str, str]]:
        sheet = heater_sheet(self.job)
        return [(mount.id, mount.label) for mount in sheet.mounts] if sheet is not None else []
