"""Candidate cures for the findings of the loop; they are tried before they are offered."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator

from gale_nook.core.catalogue.coolant import LoopPartKind
from gale_nook.core.coolant.commands import (
    AddHosePart,
    LayHose,
    MixFloors,
    MoveLoopPart,
    PutHoseParts,
    SplitHose,
    StartLoop,
)
from gale_nook.core.coolant.hose_rules import flex_at
from gale_nook.core.coolant.laying import HOLE_SPARE_MM, even_clips, sleeves
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.along import let_flex, more_slack, new_hole, sleeved
from gale_nook.core.findings.bend_room import room_for_bends_of
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.job import Job
from gale_nook.core.loop.fill import filling
from gale_nook.core.loop.hoses import HoseRun, hose_run, kind_of, loop_parts, parts_of, port_mm
from gale_nook.core.loop.pockets import Pocket, air_pockets, undrained
from gale_nook.core.plan.coolant import HosePart
from gale_nook.core.quantities.sentences import q

RAISED_MM = 10.0
ROOF_SPARE_MM = 30.0
FLEX_MM, SLACK_SPARE_MM = 200.0, 20.0
END_MM = 30.0  # a part in a hose stays so far from its ends


@remedy_for("coolant.closed")
def begin(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A usual loop, where there is none."""
    if finding.subject == "-" and not job.plan.coolant.parts:
        yield Remedy(
            "Begin with a fan convector and hot water.", StartLoop(usual="convector-water")
        )


@remedy_for("coolant.ducts")
def begin_ducts(job: Job, finding: Finding) -> Iterator[Remedy]:
    """At a convector that can, with its fan on; or with a kind that can in its place."""
    del finding
    for part, kind in loop_parts(job):
        if kind.kind != "matrix":
            continue
        changes = [Change(address="air.convector", value=part.id)]
        words = f"Let ducts begin at the {part.name}"
        if kind.duct_mm <= 0:
            able = [k for k in job.catalogue.coolant_equipment.parts if _can_in_place(k, kind)]
            if not able:
                continue
            words += f", a {able[0].label}"
            changes.append(Change(address=f"coolant.parts.{part.id}.kind", value=able[0].id))
        if part.fan == 0:
            words += ", its fan on"
            changes.append(Change(address=f"coolant.parts.{part.id}.fan", value=1))
        yield Remedy(f"{words}.", SetValues(changes=tuple(changes)))


def _can_in_place(kind: LoopPartKind, other: LoopPartKind) -> bool:
    """Whether a kind can blow into ducts and be joined as another is."""
    return (
        kind.duct_mm > 0
        and kind.port_mm == other.port_mm
        and kind.ports.keys() == other.ports.keys()
    )


@remedy_for("coolant.fit")
def fitting_hose(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A hose of the end's bore; a reducer where the two ends differ."""
    run = _run(job, finding)
    if run is None:
        return
    works, hose = job.catalogue.coolant_equipment, run.hose
    ends = [port_mm(job, end) for end in _ends(run)]
    for kind in works.hoses:
        bore = kind.outside_mm if kind.hard else kind.bore_mm
        if kind.id != hose.kind and all(end is not None and abs(end - bore) <= 1 for end in ends):
            yield Remedy(
                f"Take {kind.label} for the {run.name}.",
                set_value(f"coolant.hoses.{hose.id}.kind", kind.id),
            )
    if sorted(end or 0.0 for end in ends) == [16.0, 20.0]:
        turned = ends[0] == 16.0
        for share in (0.5, 0.35, 0.65, 0.2, 0.8):
            at = round(run.length_mm * share)
            yield Remedy(
                f"Put a reducer in, {q(float(at))} from its start.",
                SplitHose(hose=hose.id, at_mm=at, kind="reducer-20-16", turned=turned),
            )


@remedy_for("coolant.slide")
def let_it_follow(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A flexible stretch with the slack that is missing."""
    run = _run(job, finding)
    if run is None or finding.measured is None or finding.band.minimum is None:
        return
    at_mm = float(finding.subject.partition(":")[2])
    missing = math.ceil((finding.band.minimum - finding.measured + SLACK_SPARE_MM) / 10) * 10.0
    flex, address = flex_at(run, at_mm), f"coolant.hoses.{run.hose.id}"
    if flex is not None:
        yield Remedy(
            more_slack(flex.slack_mm + missing),
            set_value(f"{address}.parts.{flex.id}.slack_mm", flex.slack_mm + missing),
        )
        return
    for more in (0.0, 300.0, 600.0, 1200.0):
        item = HosePart(
            id=fresh_id(run.hose.parts, "flex"),
            kind="flex",
            at_mm=max(at_mm - FLEX_MM, 0.0),
            length_mm=2 * FLEX_MM,
            slack_mm=missing + more,
        )
        words = let_flex(missing + more)
        yield Remedy(words, AddHosePart(collection=f"{address}.parts", item=item))


@remedy_for("coolant.rating")
def hose_for_heat(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A hose of the same bore that stands it."""
    run = _run(job, finding)
    if run is None:
        return
    for kind in job.catalogue.coolant_equipment.hoses:
        if kind.bore_mm == run.kind.bore_mm and kind.rating_c >= (finding.measured or 0.0):
            yield Remedy(
                f"Take {kind.label}, which stands {kind.rating_c:g} °C.",
                set_value(f"coolant.hoses.{run.hose.id}.kind", kind.id),
            )


@remedy_for("coolant.heater_hole")
def thinner_outside(job: Job, finding: Finding) -> Iterator[Remedy]:
    """No lagging where it passes; a hose that is thinner outside."""
    run = _run(job, finding)
    if run is None:
        return
    if run.hose.lagging_mm > 0:
        yield Remedy(
            "Lead it through the floor without lagging.",
            set_value(f"coolant.hoses.{run.hose.id}.lagging_mm", 0.0),
        )
    for kind in job.catalogue.coolant_equipment.hoses:
        if kind.bore_mm == run.kind.bore_mm and kind.outside_mm < run.kind.outside_mm:
            yield Remedy(
                f"Take {kind.label}, {q(kind.outside_mm)} outside.",
                set_value(f"coolant.hoses.{run.hose.id}.kind", kind.id),
            )


@remedy_for("coolant.bend_room")
def room_for_bends(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Bends as tight as the hose allows; one bend less."""
    run = _run(job, finding)
    if run is None:
        return
    address = f"coolant.hoses.{run.hose.id}.nodes"
    yield from room_for_bends_of(run.geometry, run.hose.nodes, address, run.kind.radius_mm)


@remedy_for("coolant.radius")
def wider_bends(job: Job, finding: Finding) -> Iterator[Remedy]:
    """The least radius at each bend, where the stretches allow it; a hose that bends tighter."""
    run = _run(job, finding)
    if run is None:
        return
    least = run.kind.radius_mm
    changes = tuple(
        Change(address=f"coolant.hoses.{run.hose.id}.nodes.{node.id}.radius_mm", value=least)
        for node in run.hose.nodes
        if node.radius_mm < least
    )
    if changes:
        yield Remedy(f"Bend it with {q(least)}.", SetValues(changes=changes))
    for kind in job.catalogue.coolant_equipment.hoses:
        if kind.bore_mm == run.kind.bore_mm and kind.radius_mm < least:
            yield Remedy(
                f"Take {kind.label}, which bends with {q(kind.radius_mm)}.",
                set_value(f"coolant.hoses.{run.hose.id}.kind", kind.id),
            )
    for number, node in enumerate(run.hose.nodes, 1):
        yield Remedy(
            f"Take bend {number} out.",
            RemoveItem(collection=f"coolant.hoses.{run.hose.id}.nodes", item_id=node.id),
        )


@remedy_for("coolant.holes")
def larger_hole(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A hole that the hose passes, or the hole that is not there yet."""
    run = _run(job, finding)
    part = finding.subject.partition(":")[2]
    if run is None:
        return
    size = float(math.ceil(run.outside_mm + HOLE_SPARE_MM))
    if not part.startswith("outside-"):
        place = f"coolant.hoses.{run.hose.id}.parts.{part}.diameter_mm"
        yield Remedy(f"Drill it {q(size)}.", set_value(place, size))
        return
    at = min(
        range(0, int(run.length_mm) + 1, 5),
        key=lambda mm: math.dist(run.geometry.point_at(float(mm)), finding.marks[0].start),
    )
    hole = HosePart(
        id=fresh_id(run.hose.parts, "hole"), kind="hole", at_mm=float(at), diameter_mm=size
    )
    yield Remedy(
        new_hole(size),
        AddHosePart(collection=f"coolant.hoses.{run.hose.id}.parts", item=hole),
    )


@remedy_for("coolant.edges")
def fill_the_hole(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A grommet."""
    hose, _, part = finding.subject.partition(":")
    del job
    place = f"coolant.hoses.{hose}.parts.{part}.fitting"
    yield Remedy("Put a grommet in its hole.", set_value(place, True))


@remedy_for("coolant.clips")
def more_clips(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Clips evenly, as far apart as they may be."""
    run = _run(job, finding)
    if run is None:
        return
    clips = even_clips(job, run.length_mm)
    yield Remedy(
        f"Clip it at {len(clips)} places, evenly.",
        PutHoseParts(hose=run.hose.id, kind="clip", parts=clips),
    )


@remedy_for("coolant.chafe")
def sleeve_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A sleeve over all that lies outside."""
    run = _run(job, finding)
    if run is not None:
        parts = tuple(sleeves(job, run))
        yield Remedy(
            sleeved(sum(part.length_mm for part in parts)),
            PutHoseParts(hose=run.hose.id, kind="guard", parts=parts),
        )


@remedy_for("coolant.hot")
@remedy_for("coolant.moving")
def another_way(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Laid anew."""
    run = _run(job, finding)
    if run is not None:
        yield Remedy("Lay it anew, square to the vehicle.", LayHose(hose=run.hose.id))


@remedy_for("coolant.least_flow")
def a_bypass(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A bypass that is always open is there; hoses of a wider bore; valves taken out of the way."""
    for part in parts_of(job, "valve"):
        if kind_of(job, part).id != "bypass":
            yield Remedy(
                f"Put a bypass with a fixed bore in the place of the {part.name}.",
                set_value(f"coolant.parts.{part.id}.kind", "bypass"),
            )
    yield from _wider(job)


@remedy_for("coolant.rise")
@remedy_for("coolant.consumer")
def more_flow(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Pumps at full level; wider hoses."""
    for part in parts_of(job, "pump"):
        if part.level_percent < 100:
            yield Remedy(
                f"Let the {part.name} run at full level.",
                set_value(f"coolant.parts.{part.id}.level_percent", 100.0),
            )
    for part in parts_of(job, "valve"):
        if part.open_percent < 100:
            yield Remedy(
                f"Open the {part.name}.", set_value(f"coolant.parts.{part.id}.open_percent", 100.0)
            )
    yield from _wider(job)


def _wider(job: Job) -> Iterator[Remedy]:
    works = job.catalogue.coolant_equipment
    changes = []
    for hose in job.plan.coolant.hoses:
        kind = works.hose(hose.kind)
        if not kind.hard and kind.bore_mm < 20:
            changes.append(Change(address=f"coolant.hoses.{hose.id}.kind", value="rubber-20"))
    if changes:
        yield Remedy("Take hose of 20 mm throughout.", SetValues(changes=tuple(changes)))


@remedy_for("coolant.direction")
def weaker_pump(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Turn the pump round; slow the other one down."""
    for part in parts_of(job, "pump"):
        ends = _turned_round(job, part.id)
        if ends:
            turn = Change(
                address=f"coolant.parts.{part.id}.yaw_deg", value=(part.yaw_deg + 180) % 360
            )
            yield Remedy(f"Turn the {part.name} round.", SetValues(changes=(turn, *ends)))
    for part, level in itertools.product(parts_of(job, "pump"), (60.0, 40.0, 20.0)):
        if part.level_percent > level:
            yield Remedy(
                f"Run the {part.name} at {level:.0f} %.",
                set_value(f"coolant.parts.{part.id}.level_percent", level),
            )


def _turned_round(job: Job, part_id: str) -> tuple[Change, ...]:
    """The changes that exchange what leads to a part's two ends."""
    other = {"in": "out", "out": "in"}
    changes = []
    for hose in job.plan.coolant.hoses:
        place = f"coolant.hoses.{hose.id}"
        if hose.from_part == part_id and hose.from_end in other:
            changes.append(Change(address=f"{place}.from_end", value=other[hose.from_end]))
        if hose.to_part == part_id and hose.to_end in other:
            changes.append(Change(address=f"{place}.to_end", value=other[hose.to_end]))
    return tuple(changes)


@remedy_for("coolant.header_high")
def raise_header(job: Job, finding: Finding) -> Iterator[Remedy]:
    """As high as it has to be, under the roof."""
    header = job.plan.coolant.part(finding.subject)
    if header is None or finding.margin is None:
        return
    half = kind_of(job, header).size_mm[2] / 2
    high = header.z_mm - finding.margin + RAISED_MM
    roof = job.plan.vehicle.shell.inside_height_mm - half - ROOF_SPARE_MM
    for z_mm in dict.fromkeys((math.ceil(high), math.floor(roof))):
        if z_mm <= roof:
            yield Remedy(
                f"Raise the {header.name} to {q(float(z_mm))}.",
                MoveLoopPart(part=header.id, x_mm=header.x_mm, y_mm=header.y_mm, z_mm=float(z_mm)),
            )


@remedy_for("coolant.header_size")
def larger_header(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A header that holds more."""
    header = job.plan.coolant.part(finding.subject)
    if header is None:
        return
    has = kind_of(job, header)
    for kind in job.catalogue.coolant_equipment.parts:
        if kind.kind == "header" and kind.content_l > has.content_l:
            yield Remedy(
                f"Take the {kind.label} of {kind.content_l:g} l.",
                set_value(f"coolant.parts.{header.id}.kind", kind.id),
            )


@remedy_for("coolant.bleed")
def bleed_there(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A bleed at the high place, as near as there is room."""
    yield from _split_there(air_pockets(job), finding, "bleed", "bleed")


@remedy_for("coolant.drain")
def drain_there(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A drain at the low place."""
    yield from _split_there(undrained(job), finding, "drain", "drain tap")


def _split_there(
    pockets: Iterable[Pocket], finding: Finding, kind: str, words: str
) -> Iterator[Remedy]:
    for pocket in pockets:
        run = pocket.hose
        if finding.subject != f"{run.hose.id}:{round(pocket.at_mm)}":
            continue
        for aside in (0.0, 40.0, 80.0, 140.0):
            for at in {pocket.at_mm - aside, pocket.at_mm + aside}:
                inside = round(min(max(at, END_MM), run.length_mm - END_MM))
                yield Remedy(
                    f"Put a {words} in, {q(float(inside))} along the {run.name}.",
                    SplitHose(hose=run.hose.id, at_mm=float(max(inside, 0)), kind=kind),
                )


@remedy_for("coolant.frost")
@remedy_for("coolant.glycol")
def other_strength(job: Job, finding: Finding) -> Iterator[Remedy]:
    """As much as the frost asks for, within what is allowed."""
    found = filling(job)
    wanted = [found.least_percent] if found is not None and found.least_percent else []
    for percent in dict.fromkeys([*wanted, 30.0, 35.0, 40.0, 45.0, 50.0, 55.0]):
        if percent is None or percent == job.plan.coolant.glycol_percent:
            continue
        changes = (
            Change(address="coolant.glycol_percent", value=percent),
            Change(address="coolant.glycol_by", value="volume"),
        )
        yield Remedy(f"Fill in {percent:.0f} % of glycol by volume.", SetValues(changes=changes))
    del finding


@remedy_for("coolant.barrier")
def pipe_with_barrier(_job: Job, finding: Finding) -> Iterator[Remedy]:
    """A pipe that lets nothing through."""
    place = f"coolant.parts.{finding.subject}.kind"
    yield Remedy("Lay pipe with an oxygen barrier.", set_value(place, "floor-pipe"))


@remedy_for("coolant.floor_panel")
def panel_that_opens(_job: Job, finding: Finding) -> Iterator[Remedy]:
    """A panel that can be taken up."""
    place = f"coolant.parts.{finding.subject}.panel_opens"
    yield Remedy("Make the panel over it so that it can be taken up.", set_value(place, True))


@remedy_for("coolant.floor_screws")
def mark_the_pipe(_job: Job, finding: Finding) -> Iterator[Remedy]:
    """A mark, and nothing screwed there."""
    place = f"coolant.parts.{finding.subject}.screws_kept_off"
    yield Remedy("Mark where it lies, and screw nothing there.", set_value(place, True))


@remedy_for("coolant.mixed")
def mix_them(_job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A mixing valve ahead of them, a tee behind."""
    yield Remedy("Put a mixing valve ahead of the floor loops, and a tee behind.", MixFloors())


@remedy_for("coolant.floor_warm")
def mix_down(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A mixing valve, where there is none."""
    if not parts_of(job, "mixer"):
        yield Remedy("Mix what flows into the floor, by a valve of its own.", MixFloors())


@remedy_for("coolant.floor_warm")
def cooler_floor(job: Job, finding: Finding) -> Iterator[Remedy]:
    """The mixing valve lower, by as much as the surface is over."""
    over = -(finding.margin or 0.0)
    floor = job.plan.coolant.part(finding.subject)
    for valve in parts_of(job, "mixer"):
        share = kind_of(job, floor).surface_share if floor is not None else 0.5
        for less in (over / share + 0.5, over / share + 3, over / share + 6):
            mix_c = math.floor(valve.mix_c - less)
            if mix_c >= kind_of(job, valve).low_c:
                yield Remedy(
                    f"Set the {valve.name} to {mix_c:.0f} °C.",
                    set_value(f"coolant.parts.{valve.id}.mix_c", float(mix_c)),
                )


@remedy_for("coolant.scald")
def valve_at_the_tap(_job: Job, finding: Finding) -> Iterator[Remedy]:
    """A mixing valve at the tap."""
    place = f"coolant.parts.{finding.subject}.scald_valve"
    yield Remedy("Put a mixing valve at its tap's side.", set_value(place, True))


@remedy_for("coolant.relief")
def relief_valve(_job: Job, finding: Finding) -> Iterator[Remedy]:
    """A relief valve that drains outside."""
    place = f"coolant.parts.{finding.subject}.relief"
    yield Remedy("Put a relief valve in that drains outside.", set_value(place, True))


@remedy_for("coolant.pump_flooded")
def lower_pump(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Under the header's coolant."""
    part = job.plan.coolant.part(finding.subject)
    if part is not None and finding.margin is not None:
        z_mm = math.floor(part.z_mm + finding.margin - RAISED_MM)
        yield Remedy(
            f"Set the {part.name} {q(-finding.margin + RAISED_MM)} lower.",
            MoveLoopPart(part=part.id, x_mm=part.x_mm, y_mm=part.y_mm, z_mm=float(z_mm)),
        )


@remedy_for("coolant.zone")
def more_heat(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Convectors' fans at a higher step, then larger ones."""
    works = job.catalogue.coolant_equipment
    for part in parts_of(job, "matrix"):
        if part.zone != finding.subject:
            continue
        kind = kind_of(job, part)
        for step in range(part.fan + 1, len(kind.fans)):
            yield Remedy(
                f"Run the fan of the {part.name} at its step {kind.fans[step].label}.",
                set_value(f"coolant.parts.{part.id}.fan", step),
            )
        for larger in works.parts:
            if larger.kind == "matrix" and larger.ua_w_k > kind.ua_w_k:
                top = len(larger.fans) - 1
                changes = (
                    Change(address=f"coolant.parts.{part.id}.kind", value=larger.id),
                    Change(address=f"coolant.parts.{part.id}.fan", value=top),
                )
                yield Remedy(f"Take a {larger.label}.", SetValues(changes=changes))


@remedy_for("coolant.engine")
def change_the_wish(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Say that the engine may be joined, or apart, as it is drawn."""
    if finding.subject != "-":
        now = job.plan.coolant.engine_isolated
        words = "may empty the other" if now else "may not empty the other"
        yield Remedy(
            f"Say that a leak of one {words}.", set_value("coolant.engine_isolated", not now)
        )


def _run(job: Job, finding: Finding) -> HoseRun | None:
    return hose_run(job, finding.subject.partition(":")[0])


def _ends(run: HoseRun) -> tuple[tuple[str, str], tuple[str, str]]:
    hose = run.hose
    return ((hose.from_part, hose.from_end), (hose.to_part, hose.to_end))
