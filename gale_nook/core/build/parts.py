"""What the job needs so far: parts against the heater's kit, lengths to cut, saws to fetch."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.fuel.hydraulics import bore_change
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.pipes.clamps import unclamped
from gale_nook.core.pipes.joints import (
    CUT_ALLOWANCE_MM,
    extension_mm,
    joints_needed,
    kit_pipe_mm,
    pipe_needed_mm,
)
from gale_nook.core.pipes.panels import panels, passed, ring_mm
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import Fitting, Tube
from gale_nook.core.plan.words import TUBE_WORDS
from gale_nook.core.spot.placement import PlacedHole, face_holes, floor_holes, heater_port

CLAMPS_PER_JOINT = 2
FUEL_SPARE = 1.1  # of line, for loops at pump and tank
LAGGING_OVERLAP = 1.1  # wound or lapped over itself
SAW_SIZES_MM = tuple(range(16, 181))


@dataclass(frozen=True, slots=True)
class PartLine:
    """One line of the parts list; quantities are pieces, or mm for what is cut."""

    part: str
    label: str
    unit: str
    needed: float
    in_kit: float
    use: str

    @property
    def to_buy(self) -> float:
        return max(self.needed - self.in_kit, 0.0)


@dataclass(frozen=True, slots=True)
class HoleLine:
    """One hole to cut, where it is, and with what; its height where it goes through a wall or the
    bulkhead.
    """

    name: str
    x_mm: float
    y_mm: float
    diameter_mm: float
    saw: str
    z_mm: float | None = None


@dataclass(frozen=True, slots=True)
class CutLine:
    """One length to cut."""

    label: str
    length_mm: float
    remark: str


def parts_list(job: Job) -> tuple[PartLine, ...]:
    """Return what is needed for the stations done so far, what the kit holds of it, and what must
    be bought.
    """
    sheet = heater_sheet(job)
    needed = _needed(job)
    kit: dict[str, float] = {}
    if sheet is not None:
        for item in sheet.kit:
            kit[item.part] = kit.get(item.part, 0.0) + item.quantity
    lines = []
    for part_id, quantity in needed.items():
        part = job.catalogue.parts[part_id]
        lines.append(
            PartLine(part_id, part.label, part.unit, quantity, kit.get(part_id, 0.0), part.use)
        )
    return tuple(lines)


def _needed(job: Job) -> dict[str, float]:
    mount = chosen_mount(job)
    needed: dict[str, float] = {}
    needed |= _exhaust_parts(job) | _intake_parts(job)
    needed |= _fuel_parts(job)
    supports = _supports(job)
    if supports:
        needed["pipe-clip"] = len(supports)
        needed["support-bracket"] = len(supports)
        on_nuts = sum(1 for fitting in supports if fitting.feature is None)
        needed |= {"rivet-nut": on_nuts} if on_nuts else {}
    if mount is not None:
        carrier = {"plate": "mount-plate", "bracket": "bracket"}.get(mount.id, mount.id)
        if carrier in job.catalogue.parts:
            needed[carrier] = 1
        needed["gasket" if job.plan.pipes.seal == "gasket" else "seal-tape"] = 1
        needed["heat-sealant"] = 1
        needed["edge-paint"] = 1
        needed["grommet-edge"] = (
            sum(1 for hole in mount.holes if "fuel" in hole.name or "hose" in hole.name) or 1
        )
        if job.plan.spot is not None and job.plan.spot.packing_mm > 0:
            needed["packing-ring"] = 1
    if heater_sheet(job) is not None:
        needed["co-alarm"] = 1
        needed["thermometer"] = 1
    return needed


def _exhaust_parts(job: Job) -> dict[str, float]:
    route, run = job.plan.pipes.exhaust, pipe_run(job, "exhaust")
    if route is None or run is None:
        return {}
    joints, silencers = joints_needed(job), len(route.of_kind("silencer"))
    to_place = max(joints - len(route.of_kind("joint")), 0)
    clamps = _clamps(job, "exhaust") + CLAMPS_PER_JOINT * to_place
    found = {"exhaust-pipe": pipe_needed_mm(job), "exhaust-clamp": clamps}
    found |= _through_panels(job, "exhaust", "bulkhead-fitting")
    found |= {"exhaust-joint": joints} if joints else {}
    found |= {"silencer": silencers} if silencers else {}
    lagging = sum(
        f.layers * (min(f.end_mm, run.length_mm) - f.at_mm) for f in route.of_kind("lagging")
    )
    found |= {"lagging": math.ceil(lagging * LAGGING_OVERLAP)} if lagging > 0 else {}
    shield = sum(min(f.end_mm, run.length_mm) - f.at_mm for f in route.of_kind("shield"))
    found |= {"heat-shield": math.ceil(shield)} if shield > 0 else {}
    return found | ({"exhaust-cap": 1} if route.of_kind("cap") else {})


def _clamps(job: Job, tube: Tube) -> float:
    """Those on the pipe, and those that it still lacks."""
    route = job.plan.pipes.route(tube)
    return len(route.of_kind("clamp")) + len(unclamped(job, tube)) if route is not None else 0


def _through_panels(job: Job, tube: Tube, part: str) -> dict[str, float]:
    fittings = {fitting.id for fitting in passed(job, tube).values()}
    return {part: len(fittings)} if fittings else {}


def _intake_parts(job: Job) -> dict[str, float]:
    route, run = job.plan.pipes.intake, pipe_run(job, "intake")
    if route is None or run is None:
        return {}
    filters = len(route.of_kind("filter"))
    pipe = math.ceil(
        max(run.length_mm - sum(f.length_mm for f in route.of_kind("filter")), 0.0)
        + CUT_ALLOWANCE_MM
    )
    found: dict[str, float] = {"intake-pipe": pipe, "intake-clamp": _clamps(job, "intake")}
    found |= _through_panels(job, "intake", "bulkhead-grommet")
    return found | ({"air-filter": filters} if filters else {})


def _fuel_parts(job: Job) -> dict[str, float]:
    run, tank = fuel_run(job), job.plan.fuel.tank
    if run is None:
        return {}
    ends = (
        2
        + 2 * (run.pump_mm is not None)
        + 2 * (run.filter_mm is not None)
        + len(run.line.of_kind("joint"))
    )
    found: dict[str, float] = {
        "fuel-line": math.ceil(run.length_mm * FUEL_SPARE),
        "fuel-clamp": 2 * ends,
        "fuel-joiner": ends,
        "fuel-clip": len(run.line.of_kind("clip")),
        "split-loom": math.ceil(run.length_mm),
    }
    found |= {"fuel-pump": 1, "pump-rubber": 1} if run.pump_mm is not None else {}
    found |= {"fuel-filter": 1} if run.filter_mm is not None else {}
    flexes = sum(part.hose_mm for part in run.line.of_kind("flex"))
    found |= {"fuel-flex": math.ceil(flexes)} if flexes else {}
    found |= {"fuel-adapter": 1} if bore_change(run) is not None else {}
    found |= {"fuel-tank": 1, "tank-bracket": 1} if run.supply.own and tank is not None else {}
    found |= {"stand-pipe": 1} if job.plan.fuel.source == "stand-pipe" else {}
    return found | ({"fuel-tee": 1} if job.plan.fuel.source in {"tee-feed", "tee-return"} else {})


def _supports(job: Job) -> list[Fitting]:
    routes = (job.plan.pipes.exhaust, job.plan.pipes.intake)
    return [
        fitting for route in routes if route is not None for fitting in route.of_kind("support")
    ]


def holes_to_cut(job: Job) -> tuple[HoleLine, ...]:
    """Return every hole with the next whole-millimetre saw that is not smaller."""
    shell, found = (
        job.plan.vehicle.shell,
        [HoleLine(h.name, h.x_mm, h.y_mm, h.diameter_mm, saw_of(h)) for h in floor_holes(job)],
    )
    for hole in face_holes(job):
        if hole.face == "bulkhead":
            x, y = (
                shell.firewall_x_mm if shell.firewall_x_mm is not None else shell.front_x_mm,
                hole.along_mm,
            )
        else:
            x, y = hole.along_mm, (-0.5 if hole.face == "left" else 0.5) * shell.floor_width_mm
        found.append(
            HoleLine(hole.name, x, y, hole.diameter_mm, saw_for(hole.diameter_mm), hole.z_mm)
        )
    return (*found, *_panel_holes(job, "exhaust"), *_panel_holes(job, "intake"))


def _panel_holes(job: Job, tube: Tube) -> list[HoleLine]:
    """The holes through panels, each wide enough for its fitting."""
    run, names = pipe_run(job, tube), {solid.id: solid.name for solid, _, _ in panels(job)}
    if run is None:
        return []
    wide, found = heater_port(job, tube).diameter_mm + 2 * ring_mm(job, tube), []
    for panel, fitting in passed(job, tube).items():
        x, y, z = run.point_at(fitting.at_mm + fitting.length_mm / 2)
        found.append(
            HoleLine(f"{names[panel]}, for the {TUBE_WORDS[tube]}", x, y, wide, saw_for(wide), z)
        )
    return found


def saw_of(hole: PlacedHole) -> str:
    """Return how a hole is cut."""
    if hole.is_cut:
        size = f"{2 * hole.half_x_mm:g} × {2 * hole.half_y_mm:g} mm"
        return f"jigsaw {size} between four corner holes of {hole.diameter_mm:g} mm"
    return saw_for(hole.diameter_mm)


def saw_for(diameter_mm: float) -> str:
    """Return the saw for a hole: the next whole millimetre that is not smaller."""
    size = next((size for size in SAW_SIZES_MM if size >= diameter_mm), None)
    if diameter_mm < SAW_SIZES_MM[0]:
        return "step drill"
    return f"hole saw {size} mm" if size is not None else "jigsaw to a scribed line"


def cuts(job: Job) -> tuple[CutLine, ...]:
    """Return the lengths to cut."""
    exhaust_run = pipe_run(job, "exhaust")
    found = []
    if exhaust_run is not None:
        run, whole, joints = exhaust_run, pipe_needed_mm(job), joints_needed(job)
        remark = (
            f"{len(run.straights)} straights, {len(run.bends)} bends; {CUT_ALLOWANCE_MM:.0f} "
            "mm allowance included"
        )
        kit, piece = kit_pipe_mm(job), extension_mm(job)
        lengths = [min(kit or piece, whole)]
        while joints and sum(lengths) < whole:
            lengths.append(min(piece, whole - sum(lengths)))
        names = (
            ["exhaust pipe"]
            if len(lengths) == 1
            else [f"exhaust pipe, piece {n}" for n in range(1, len(lengths) + 1)]
        )
        found += [
            CutLine(name, length, remark) for name, length in zip(names, lengths, strict=True)
        ]
    needed = _intake_parts(job).get("intake-pipe")
    if needed is not None:
        found.append(
            CutLine("combustion-air pipe", needed, f"{CUT_ALLOWANCE_MM:.0f} mm allowance included")
        )
    return tuple(found)
