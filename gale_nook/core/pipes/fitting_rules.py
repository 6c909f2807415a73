"""Checks of what sits on the pipes: silencer, filter, joints, supports."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.derived import Derived
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.registry import Rule, rule, sheet_band
from gale_nook.core.pipes.joints import bend_spans, joints_needed, kit_pipe_mm, pipe_needed_mm
from gale_nook.core.pipes.supports import free_lengths
from gale_nook.core.pipes.tubes import tube_words
from gale_nook.core.plan.pipes import FittingKind, Tube
from gale_nook.core.quantities.said import q

SILENCER = "workshop rule 21: a silencer, until the job says it is left to taste"
FILTER = "workshop rule 20: a filter, until the job says it is left to taste"


@rule("pipes.silencer", "Silencer", "count")
def silencer_there(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Without one the exhaust is heard all night; some like it shorter."""
    wish = derived.plan.pipes.silencer
    yield from _there(derived, this, "exhaust", "silencer", wish, SILENCER)


@rule("pipes.air_filter", "Filter on the combustion air", "count")
def filter_there(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Grit and snow end up in the burner; a filter also takes the whistle away."""
    yield from _there(derived, this, "intake", "filter", derived.plan.pipes.filter, FILTER)


def _there(
    derived: Derived, this: Rule, tube: Tube, kind: FittingKind, wish: str, source: str
) -> Iterator[Finding]:
    route, run = derived.plan.pipes.route(tube), derived.run(tube)
    if route is None or run is None:
        return
    count = len(route.of_kind(kind))
    # left to taste, having none is tight: the mild kind
    band = Band(1.0 if wish == "expected" else 0.0, None, Whose.WORKSHOP, kind, source)
    middle = run.point_at(run.length_mm / 2)
    yield this.finding(
        derived,
        subject=kind,
        subject_name=tube_words(tube),
        measured=float(count),
        band=band,
        tolerance=0.0 if count else 1.0,
        marks=(Mark(middle, middle),) if not count else (),
        sentence=f"There is a {kind} on the {tube_words(tube)}."
        if count
        else f"There is no {kind} on the {tube_words(tube)}.",
    )


@rule("pipes.silencer_drain", "Silencer's drain", "count")
def silencer_drains(derived: Derived, this: Rule) -> Iterator[Finding]:
    """A silencer with its drain up holds water, which freezes and rusts it through."""
    route, run = derived.plan.pipes.exhaust, derived.exhaust
    if route is None or run is None:
        return
    for fitting in route.of_kind("silencer"):
        at = run.point_at(fitting.at_mm + fitting.length_mm / 2)
        yield this.finding(
            derived,
            subject=fitting.id,
            subject_name="silencer",
            measured=0.0 if fitting.drain_down else 1.0,
            tolerance=0.0,
            band=Band(
                None,
                0.0,
                Whose.WORKSHOP,
                "silencer_drain",
                "workshop rule 21: its drain is its lowest point",
            ),
            sentence="The silencer hangs with its drain down."
            if fitting.drain_down
            else "The silencer's drain is not at its lowest.",
            marks=(Mark(at, at),),
        )


@rule("pipes.silencer_room", "Silencer on its straight", "mm")
def silencer_on_a_straight(derived: Derived, this: Rule) -> Iterator[Finding]:
    """A silencer is stiff: it lies between two bends, not in one."""
    route, run, band = (
        derived.plan.pipes.exhaust,
        derived.exhaust,
        sheet_band(derived, "silencer_room_mm"),
    )
    if route is None or run is None or band is None:
        return
    ends = [(0.0, 0.0), *bend_spans(derived), (run.length_mm, run.length_mm)]
    for fitting in route.of_kind("silencer"):
        middle = fitting.at_mm + fitting.length_mm / 2
        before = max((end for _, end in ends if end <= middle), default=0.0)
        after = min((start for start, _ in ends if start >= middle), default=run.length_mm)
        in_bend = next(((a, b) for a, b in ends if a < middle < b), None)
        room = (
            min(fitting.at_mm - before, after - fitting.end_mm)
            if in_bend is None
            else -fitting.length_mm / 2
        )
        words = f"{q(room)} straight beside the silencer."
        if room < 0:
            words = f"The silencer reaches {q(-room)} into a bend or past an end."
        yield this.finding(
            derived,
            subject=fitting.id,
            subject_name="silencer",
            measured=room,
            band=band,
            sentence=words,
            marks=(Mark(run.point_at(fitting.at_mm), run.point_at(fitting.end_mm)),),
        )


@rule("pipes.joints", "Joints of the exhaust", "count")
def joints_placed(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Where the kit's pipe is too short, its joints are drawn, so that each is reached and none
    lies inside.
    """
    route, run = derived.plan.pipes.exhaust, derived.exhaust
    if route is None or run is None:
        return
    needed, placed, kit = joints_needed(derived), len(route.of_kind("joint")), kit_pipe_mm(derived)
    band = Band(
        float(needed), None, Whose.GEOMETRY, "joints", "the kit's pipe first, then extension pieces"
    )
    yield this.finding(
        derived,
        subject="exhaust",
        subject_name="exhaust",
        measured=float(placed),
        band=band,
        tolerance=0.0,
        sentence=f"{q(pipe_needed_mm(derived))} of pipe against {q(kit)} in the kit: "
        f"{needed or 'no'} joint{'' if needed == 1 else 's'}"
        f" needed, {placed or 'none'} drawn.",
    )


@rule("pipes.joint_inside", "Joints below the floor", "mm", hazard="fumes")
def joints_below(derived: Derived, this: Rule) -> Iterator[Finding]:
    """No joint of the exhaust lies where its leak would come into the cabin: port, joints and
    silencer are below the floor.
    """
    route, run = derived.plan.pipes.exhaust, derived.exhaust
    if route is None or run is None:
        return
    joints = [("port", "the port", 0.0)]
    joints += [
        (fitting.id, f"the {fitting.kind}", fitting.at_mm)
        for fitting in route.of_kind("joint", "silencer")
    ]
    band = Band(
        0.0,
        None,
        Whose.WORKSHOP,
        "joint_inside",
        "workshop rule 22: nothing of the exhaust that can leak lies inside",
    )
    found = []
    for subject, name, at_mm in joints:
        at = run.point_at(at_mm)
        below = (
            derived.underside_z_mm - at[2]
            if within_shell(derived, at)
            else abs(derived.underside_z_mm - at[2])
        )
        found.append(
            this.finding(
                derived,
                subject=subject,
                subject_name=name,
                measured=below,
                band=band,
                title=f"Joint at {name}",
                tolerance=0.0,
                sentence=(
                    f"The joint at {name} lies {q(abs(below))} "
                    f"{'below' if below >= 0 else 'above'} the floor's underside."
                ),
                marks=(Mark(at, (at[0], at[1], derived.underside_z_mm)),),
            )
        )
    worst = [finding for finding in found if finding.verdict.value == "over"]
    yield from worst or sorted(found, key=lambda finding: finding.margin or 0.0)[:1]


def within_shell(derived: Derived, point: tuple[float, float, float]) -> bool:
    """Return whether a point lies within the cabin's outline in plan; the engine bay ahead of it is
    open below.
    """
    shell = derived.plan.vehicle.shell
    front = shell.firewall_x_mm if shell.firewall_x_mm is not None else shell.front_x_mm
    return front <= point[0] <= shell.rear_x_mm and abs(point[1]) <= shell.outer_width_mm / 2


@rule("pipes.support", "Supports of the exhaust", "mm")
def exhaust_supports(derived: Derived, this: Rule) -> Iterator[Finding]:
    """A pipe that hangs free shakes its port loose."""
    yield from _supports(derived, this, "exhaust")


@rule("pipes.air_support", "Supports of the combustion air's pipe", "mm")
def intake_supports(derived: Derived, this: Rule) -> Iterator[Finding]:
    """A pipe that hangs free shakes its port loose."""
    yield from _supports(derived, this, "intake")


def _supports(derived: Derived, this: Rule, tube: Tube) -> Iterator[Finding]:
    run, band = derived.run(tube), sheet_band(derived, "support_spacing_mm")
    if run is None or band is None:
        return
    longest = max(free_lengths(derived, tube), key=lambda hold: hold.length_mm)
    yield this.finding(
        derived,
        subject=tube,
        subject_name=tube_words(tube),
        measured=longest.length_mm,
        band=band,
        sentence=(
            f"{q(longest.length_mm)} free between {q(longest.from_mm)} and "
            f"{q(longest.to_mm)} "
            "from the port."
        ),
        marks=(Mark(run.point_at(longest.from_mm), run.point_at(longest.to_mm)),),
    )
