"""Checks of the warm air's flow: what arrives, how fast, and what may be shut."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.ducts.air_state import OutletState, told_c
from gale_nook.core.ducts.convector import ducted_convector, ducts_wanted
from gale_nook.core.ducts.ends import warm_end
from gale_nook.core.ducts.layout import layout
from gale_nook.core.ducts.outlet_sound import outlet_sound_db
from gale_nook.core.ducts.tree import run_of
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import YES_NO, Rule, rule
from gale_nook.core.fitted.closing import closable_ducts, closed, needed_w, usable_open
from gale_nook.core.fitted.heating import zone_heat
from gale_nook.core.fitted.usable import usable
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.air import LIVING, Duct
from gale_nook.core.quantities.sentences import capital, q

SLEEPING = ("bed",)
NEEDED_TOLERANCE = 0.03
COLDEST_NIGHT = "loss on the coldest night"


def usable_words(job: Job) -> str:
    """Return which of the fan's values were taken as usual, in words; empty where the sheet has
    them all.
    """
    plan_layout = layout(job)
    typical = plan_layout.fan.typical if plan_layout is not None else ()
    return f" Usual values were taken for {', '.join(typical)}." if typical else ""


@rule("air.ducts", "Ducts from the warm end to an outlet", YES_NO)
def led_somewhere(job: Job, this: Rule) -> Iterator[Finding]:
    """A heater that is to blow into ducts needs one, and every duct an end."""
    air = job.plan.air
    if not ducts_wanted(job) or warm_end(job) is None:
        return
    if not air.ducts:
        yield this.finding(
            job,
            measured=None,
            band=Band(None, None, Whose.GEOMETRY, source="air needs a way out"),
            sentence="The warm end is to blow into ducts, and there is none yet.",
        )
        return
    for duct in air.ducts:
        legs = _legs_without_duct(duct, air.ducts)
        if legs is None:
            continue
        run = run_of(job, duct.id)
        at = run.geometry.mouth if run is not None else (0.0, 0.0, 0.0)
        yield this.yes_no(
            job,
            subject=duct.id,
            subject_name=duct.id,
            answer=not legs,
            wanted=True,
            whose=Whose.GEOMETRY,
            source="air goes where it finds an end",
            title="Every end leads to an outlet",
            sentence=legs or "Every leg of its splitter goes on.",
            marks=(Mark(at, at),),
        )


def _legs_without_duct(duct: Duct, ducts: tuple[Duct, ...]) -> str | None:
    """What of a duct's end leads nowhere, in words; empty for nothing, None for an outlet."""
    if duct.outlet is not None:
        return None
    after = [other for other in ducts if other.comes_from == duct.id]
    if duct.splitter is None:
        return "" if after else "This duct ends in the open: it has neither outlet nor splitter."
    missing = {"straight", "branch"} - {other.leg for other in after}
    if not missing:
        return ""
    which = "both legs have" if len(missing) == 2 else f"its {missing.pop()} leg has"
    return f"The splitter leads nowhere: {which} no duct. It counts as capped."


@rule("air.usable", "Usable output through this ducting", "W")
def enough_arrives(job: Job, this: Rule) -> Iterator[Finding]:
    """The heater throttles, or shuts down, where it cannot get rid of its air."""
    found = usable(job)
    if found is None or ducted_convector(job) is not None:
        return  # what a convector gives is held against each zone's need with all of the loop
    need = needed_w(job)
    band = Band(need, None, Whose.NEED, source=COLDEST_NIGHT)
    if found.at is not None and not found.at.layout.back.known:
        yield this.finding(
            job,
            measured=None,
            band=band,
            sentence="It draws its air through an opening that nobody has measured: enter it.",
        )
        return
    if found.at is None:
        words = "Every outlet is shut: the heater shuts down."
    elif found.shuts_down:
        more, celsius = told_c(found.at.heater_c)
        words = (
            f"Even at its least output the warm end gets {more}{q(celsius, 'c')}, where "
            f"{q(found.limit_c, 'c')} is its limit: the heater shuts down."
        )
    elif found.throttles:
        words = (
            f"{q(round(found.usable_w), 'w')} of {q(found.most_w, 'w')} can be used: with more the "
            f"warm end passes its limit of {q(found.limit_c, 'c')}."
        )
    else:
        words = (
            f"All of its {q(found.most_w, 'w')} can be used: the warm end gets "
            f"{q(round(found.at.heater_c), 'c')}, {q(found.limit_c, 'c')} is its limit."
        )
    yield this.finding(
        job,
        measured=found.usable_w,
        band=band,
        tolerance=NEEDED_TOLERANCE * need,
        sentence=words + usable_words(job),
    )


@rule("air.zone", "Heat that a zone gets", "W")
def zone_gets_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """A bed behind a curtain gets what its outlet brings, not what the heater gives."""
    if not job.plan.air.zones or usable(job) is None or ducted_convector(job) is not None:
        return
    for zone in zone_heat(job):
        if zone.gets_w is None:
            continue
        ends = f" It ends at {q(round(zone.ends_c, 1), 'c')}." if zone.ends_c is not None else ""
        yield this.finding(
            job,
            subject=zone.zone,
            subject_name=zone.name,
            measured=zone.gets_w,
            band=Band(zone.need_w, None, Whose.NEED, source="its loss on the coldest night"),
            tolerance=NEEDED_TOLERANCE * zone.need_w,
            title=f"Heat for: {zone.name}",
            sentence=(
                f"At the usable output it gets {q(round(zone.gets_w), 'w')}; to keep "
                f"{q(zone.set_c, 'c')} it needs {q(round(zone.need_w), 'w')}.{ends}"
            ),
        )


@rule("air.never_closable", "At least one outlet that cannot be closed", YES_NO)
def one_stays_open(job: Job, this: Rule) -> Iterator[Finding]:
    """Somebody will close what can be closed."""
    plan_layout = layout(job)
    if plan_layout is None or not plan_layout.runs or ducted_convector(job) is not None:
        return  # a convector gets no hotter than its coolant
    outlets = [run for run in plan_layout.runs if run.duct.outlet is not None]
    if not outlets:
        return
    closable = closable_ducts(job, plan_layout)
    fixed = [
        run.duct.outlet.name for run in outlets if run.duct.id not in closable and run.duct.outlet
    ]
    words = f"{fixed[0]} cannot be closed." if fixed else "Every outlet can be closed by hand."
    yield this.yes_no(
        job,
        answer=bool(fixed),
        wanted=True,
        source="workshop rule 36: one outlet stays open whatever is done",
        sentence=capital(words),
    )


@rule("air.closable", "Usable output with outlets closed", "W")
def may_be_closed(job: Job, this: Rule) -> Iterator[Finding]:
    """What can be closed by hand may not take from the heater what is needed, and all of it
    together may not shut it down.
    """
    plan_layout, whole = layout(job), usable_open(job)
    if plan_layout is None or whole is None or ducted_convector(job) is not None:
        return
    ducts = closable_ducts(job, plan_layout)
    needed = min(needed_w(job), plan_layout.most_w)
    names = {run.duct.id: run.duct.outlet.name for run in plan_layout.runs if run.duct.outlet}
    for duct in ducts:
        found = closed(job, frozenset({duct}))
        run = run_of(job, duct)
        if found is None or run is None:
            continue
        at = run.geometry.mouth
        yield this.finding(
            job,
            subject=duct,
            subject_name=names[duct],
            measured=found.usable.usable_w,
            band=Band(needed, None, Whose.NEED, source=COLDEST_NIGHT),
            tolerance=1.0,
            title=f"With {names[duct]} closed",
            sentence=(
                f"With {names[duct]} closed {q(round(found.usable.usable_w), 'w')} can be used; "
                f"{q(round(needed), 'w')} are needed on the coldest night."
            ),
            marks=(Mark(at, at),),
        )
    if len(ducts) > 1:
        yield from _all_closed(job, this, ducts)


def _all_closed(job: Job, this: Rule, ducts: tuple[str, ...]) -> Iterator[Finding]:
    plan_layout, found = layout(job), closed(job, frozenset(ducts))
    if plan_layout is None or found is None:
        return
    least = plan_layout.least_w
    yield this.finding(
        job,
        subject="all",
        subject_name="all that can be closed",
        measured=found.usable.usable_w,
        band=Band(least, None, Whose.SHEET, source="its least output"),
        tolerance=1.0,
        title="With all closed that can be",
        sentence=(
            f"With {', '.join(found.names)} closed {q(round(found.usable.usable_w), 'w')} can be "
            f"used; the heater does not go below {q(least, 'w')}."
        ),
    )


def _sleeps_in(job: Job, outlet: OutletState) -> bool:
    """Whether somebody sleeps where an outlet blows: in a bed's zone, or in the one room where no
    bed has a zone of its own.
    """
    zones = {zone.id: zone for zone in job.plan.air.zones}
    if outlet.zone in zones:
        return zones[outlet.zone].kind in SLEEPING
    return outlet.zone == LIVING and not any(z.kind in SLEEPING for z in zones.values())


@rule("air.velocity", "Speed of the air where people sleep", "m/s")
def quiet_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """Fast air is heard, and felt as a draught."""
    band, found = limit_band(job, "outlet_bed_m_s"), usable(job)
    if band is None or found is None or found.at is None or not found.at.ducts:
        return
    for outlet in found.at.outlets:
        if not _sleeps_in(job, outlet):
            continue
        run = run_of(job, outlet.id)
        at = run.geometry.mouth if run is not None else (0.0, 0.0, 0.0)
        yield this.finding(
            job,
            subject=outlet.id,
            subject_name=outlet.name,
            measured=outlet.velocity_m_s,
            band=band,
            tolerance=0.2,
            title=f"Speed at {outlet.name}",
            sentence=f"{q(round(outlet.velocity_m_s, 1), 'm_s')} at {outlet.name} at the usable "
            "output.",
            marks=(Mark(at, at),),
        )


@rule("air.sound", "Sound of the air where people sleep", "dB")
def sound_at_the_bed(job: Job, this: Rule) -> Iterator[Finding]:
    """What the air makes at the outlets by the bed, a metre off; the heater's own noise comes on
    top.
    """
    band, found = limit_band(job, "outlet_bed_db"), usable(job)
    if band is None or found is None or found.at is None or not found.at.ducts:
        return
    near = [outlet for outlet in found.at.outlets if _sleeps_in(job, outlet)]
    if not near:
        return
    bores = found.at.layout.outlet_bore_mm
    power = sum(10 ** (outlet_sound_db(o.velocity_m_s, bores.get(o.id, 75.0)) / 10) for o in near)
    level = 10 * math.log10(power) - 10 * math.log10(2 * math.pi)  # a metre off, from a wall
    yield this.finding(
        job,
        measured=level,
        band=band,
        tolerance=2.0,
        sentence=(
            f"{q(level, 'db')} a metre from {', '.join(o.name for o in near)}, by the air alone."
        ),
    )
