"""What the coolant station shows."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from markupsafe import Markup

from gale_nook.core.catalogue.coolant import LoopPartKind
from gale_nook.core.coolant.start import USUAL
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.fitted.zone_supply import ZoneSupply, zone_supply
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.loop.fill import Filling, filling
from gale_nook.core.loop.hoses import HoseRun, end_name, hose_runs, kind_of, loop_parts
from gale_nook.core.loop.ladder import Rung, rungs
from gale_nook.core.loop.night import LoopRun, loop_night, warm_up
from gale_nook.core.loop.state import BranchState, LoopState, loop_state
from gale_nook.core.plan.coolant import HEATER, LoopPart
from gale_nook.drawing.loop_ladder import loop_ladder
from gale_nook.drawing.svg import svg
from gale_nook.drawing.warm_up_chart import warm_up_chart
from gale_nook.web.noise_view import NoiseView
from gale_nook.web.page import COORDINATES, StationPage
from gale_nook.web.room_zones import RoomZones

PART_WORDS = {"hole": "hole with grommet", "guard": "sleeve", "flex": "flexible stretch"}
SPLITS = ("bleed", "drain", "valve", "check", "bypass", "reducer-20-16")
CONSUMERS = {"matrix", "calorifier", "floor", "coil", "plate", "engine"}


@dataclass(frozen=True, slots=True)
class PartRow:
    """A part in the panel: what it is, and what flows through it."""

    part: LoopPart
    kind: LoopPartKind
    found: BranchState | None


class CoolantPage(StationPage):
    """What the coolant station shows."""

    has_style = True
    has_board = True
    board_hint = "drag a part or a bend"

    @cached_property
    def noise(self) -> NoiseView:
        return NoiseView(self.job)

    @property
    def exact_addresses(self) -> list[str]:
        """Values that a grip of the board is moved from."""
        coolant = self.plan.coolant
        places = [f"coolant.parts.{part.id}" for part in coolant.parts]
        for hose in coolant.hoses:
            places += [f"coolant.hoses.{hose.id}.nodes.{node.id}" for node in hose.nodes]
        result = [f"{place}.{leaf}" for place in places for leaf in COORDINATES]
        return [*super().exact_addresses, *result]

    @property
    def focus_points(self) -> tuple[Vec3, ...]:
        points = tuple(point for run in hose_runs(self.job) for point in run.geometry.points)
        return points or super().focus_points

    @cached_property
    def state(self) -> LoopState | None:
        return loop_state(self.job)

    @property
    def ladder(self) -> Markup:
        scene = loop_ladder(self.state) if self.state is not None else None
        return Markup(svg(scene)) if scene is not None else Markup("")

    @property
    def zones(self) -> tuple[ZoneSupply, ...]:
        return zone_supply(self.job)

    @cached_property
    def warm(self) -> LoopRun | None:
        return warm_up(self.job)

    @property
    def warm_chart(self) -> Markup:
        return Markup(svg(warm_up_chart(self.warm))) if self.warm is not None else Markup("")

    @property
    def night(self) -> LoopRun | None:
        return loop_night(self.job)

    @property
    def filled(self) -> Filling | None:
        return filling(self.job)

    @property
    def usual(self) -> list[tuple[str, str]]:
        return [(key, words) for key, (words, _) in USUAL.items()]

    @cached_property
    def rows(self) -> list[PartRow]:
        """Every part with what flows through it, consumers first."""
        found: dict[str, BranchState] = {}
        if self.state is not None:
            for each in self.state.branches.values():
                if each.branch.part is not None:
                    found.setdefault(each.branch.part.id, each)
        rows = [PartRow(p, kind, found.get(p.id)) for p, kind in loop_parts(self.job)]
        return sorted(rows, key=lambda row: row.kind.kind not in CONSUMERS)

    def fan_steps(self, kind: LoopPartKind) -> list[tuple[int, str]]:
        """The steps of a convector's fan, with what each blows."""
        return [(n, f"{step.label}, {step.air_m3_h:.0f} m³/h") for n, step in enumerate(kind.fans)]

    @property
    def room_zones(self) -> RoomZones:
        return RoomZones(self.job)

    @property
    def with_ducts(self) -> list[tuple[str, str]]:
        """Convectors that can blow into ducts; empty where there is none."""
        able = [(p.id, p.name) for p, kind in loop_parts(self.job) if kind.duct_mm > 0]
        return [("", "none: they blow into the room"), *able] if able else []

    @property
    def runs(self) -> tuple[HoseRun, ...]:
        return hose_runs(self.job)

    def hose_ends(self, run: HoseRun) -> str:
        """Where a hose leads, in words."""
        hose = run.hose
        start = end_name(self.job, (hose.from_part, hose.from_end))
        return f"{start} to {end_name(self.job, (hose.to_part, hose.to_end))}"

    def flow_of(self, run: HoseRun) -> BranchState | None:
        return self.state.branches.get(run.hose.id) if self.state is not None else None

    @property
    def rungs(self) -> tuple[Rung, ...]:
        return rungs(self.job)

    @property
    def two_ended(self) -> list[tuple[str, str]]:
        """Kinds of parts that can be put in, those that give heat first."""
        works = self.catalogue.coolant_equipment.parts
        kinds = [kind for kind in works if len(kind.ports) == len(("in", "out"))]
        kinds.sort(key=lambda kind: kind.kind not in CONSUMERS)
        return [(kind.id, kind.label) for kind in kinds]

    def is_two_ended(self, part: LoopPart) -> bool:
        return len(kind_of(self.job, part).ports) == len(("in", "out"))

    @property
    def kinds_of_hose(self) -> list[tuple[str, str]]:
        return [(h.id, h.label) for h in self.catalogue.coolant_equipment.hoses]

    def kinds_like(self, kind: LoopPartKind) -> list[tuple[str, str]]:
        """Kinds that a part can be changed to: of the same sort, with the same ends."""
        works = self.catalogue.coolant_equipment.parts
        return [
            (k.id, k.label)
            for k in works
            if k.kind == kind.kind and set(k.ports) == set(kind.ports)
        ]

    @property
    def all_kinds(self) -> list[tuple[str, dict[str, Any]]]:
        """Each kind of part with the command that adds one."""
        shell, spot = self.plan.vehicle.shell, self.plan.spot
        x = spot.x_mm + 400 if spot is not None else shell.bulkhead_x_mm + 500
        results = []
        for kind in self.catalogue.coolant_equipment.parts:
            item = {
                "id": fresh_id(self.plan.coolant.parts, kind.kind),
                "name": kind.label,
                "kind": kind.id,
                "x_mm": round(x),
                "y_mm": 0,
                "z_mm": 300,
            }
            command = {"op": "add", "collection": "coolant.parts", "item": item}
            results.append((kind.label, command))
        return results

    @property
    def ends(self) -> list[tuple[str, str]]:
        """Every end that no hose leads to yet, and its name."""
        taken = {(h.from_part, h.from_end) for h in self.plan.coolant.hoses}
        taken |= {(h.to_part, h.to_end) for h in self.plan.coolant.hoses}
        every = [(HEATER, "flow"), (HEATER, "back")]
        every += [(part.id, name) for part, kind in loop_parts(self.job) for name in kind.ports]
        free = [end for end in every if end not in taken]
        return [(f"{part}:{name}", end_name(self.job, (part, name))) for part, name in free]

    def splits(self, run: HoseRun) -> list[tuple[str, dict[str, Any]]]:
        """Parts that can be put into a hose, in its middle, with the command that does it."""
        works, middle = self.catalogue.coolant_equipment, round(run.length_mm / 2)
        return [
            (
                works.part(kind).label,
                {"op": "split-hose", "hose": run.hose.id, "at_mm": middle, "kind": kind},
            )
            for kind in SPLITS
        ]

    def next_parts(self, run: HoseRun) -> list[tuple[str, dict[str, Any]]]:
        """What can be put on a hose, in its middle, with the command that does it."""
        collection = f"coolant.hoses.{run.hose.id}.parts"
        results = []
        for kind, words in PART_WORDS.items():
            item: dict[str, Any] = {
                "id": fresh_id(run.hose.parts, kind),
                "kind": kind,
                "at_mm": round(run.length_mm / 2),
            }
            if kind in {"guard", "flex"}:
                item["length_mm"] = 200
            results.append((words, {"op": "add", "collection": collection, "item": item}))
        return results
