"""A heater as it is fitted: what it can give through the ducting, and the room that it heats with
what each zone gets of that.
"""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.ducts.air_state import AirState
from gale_nook.core.ducts.places import OUTSIDE
from gale_nook.core.fitted.usable import Usable, usable
from gale_nook.core.heat.burner import derated_w
from gale_nook.core.heat.load_space import LoadSpace
from gale_nook.core.heat.night import NightResult, simulate_night
from gale_nook.core.heat.zoned_space import ZonedSpace
from gale_nook.core.heater.chosen import as_learned, sheet_of
from gale_nook.core.job import Job, fact
from gale_nook.core.physics.air import HEAT_CAPACITY_J_KGK
from gale_nook.core.plan.air import LIVING
from gale_nook.core.plan.heat import Learned

NOTHING = 1e-6  # of the heat, where none leaves by ducts outside


@dataclass(frozen=True, slots=True)
class Installed:
    """A heater in the job.

    Attributes:
        most_w: that it can give, derated for the place and through its ducting; 0 where it shuts
            down.
        air: the warm air at that output; None where nothing is known of its air.
    """

    sheet: HeaterSheet
    most_w: float
    air: AirState | None

    @property
    def heat_share(self) -> dict[str, float]:
        """Of its output that each zone gets; what is missing of 1 is lost outside."""
        if self.air is None or self.air.output_w <= 0:
            return {LIVING: 1.0}
        given = self.air.delivered_w
        return {
            place: watts / self.air.output_w for place, watts in given.items() if place != OUTSIDE
        }

    @property
    def flow_w_k(self) -> dict[str, float]:
        """What the flow into each zone carries for each kelvin."""
        results: dict[str, float] = {}
        for outlet in self.air.outlets if self.air is not None else ():
            carried = outlet.flow_kg_s * HEAT_CAPACITY_J_KGK
            results[outlet.zone] = results.get(outlet.zone, 0.0) + carried
        return results


def with_sheet(job: Job, sheet: HeaterSheet) -> Job:
    """Return the job with another heater, on the mount of the same name or its first."""
    if job.plan.heater.sheet == sheet.id:
        return job
    changes = {"heater": job.plan.heater.model_copy(update={"sheet": sheet.id})}
    spot = job.plan.spot
    if spot is not None and sheet.mount(spot.mount) is None:
        changes["spot"] = spot.model_copy(update={"mount": sheet.mounts[0].id})  # type: ignore[assignment]
    return job.with_parts(**changes)


@fact
def usable_with(job: Job, sheet_id: str) -> Usable | None:
    """Return what a heater of the catalogue could give through the plan's ducting."""
    return usable(with_sheet(job, job.catalogue.heater(sheet_id)))


def installed(job: Job, sheet: HeaterSheet) -> Installed:
    """Return a heater as it would be fitted here."""
    most = derated_w(sheet.output, job.plan.heat.altitude_m)
    found = usable_with(job, sheet.id) if sheet.medium == "air" else None
    if found is None:
        return Installed(sheet, most, None)
    return Installed(sheet, min(found.usable_w, most), found.at)


Shares = tuple[tuple[str, float], ...]


@dataclass(frozen=True, slots=True)
class InRoom:
    """What a heater is to the room: its sheet, its most output, where its heat goes, what its air
    carries.
    """

    sheet_id: str
    most_w: float
    heat_share: Shares
    flow_w_k: Shares


def in_room(heater: Installed) -> InRoom:
    """Return what a heater is to the room."""
    shares, flows = heater.heat_share, heater.flow_w_k
    return InRoom(
        heater.sheet.id,
        heater.most_w,
        tuple(sorted(shares.items())),
        tuple(sorted(flows.items())),
    )


def room_with(job: Job, heater: Installed) -> LoadSpace | ZonedSpace:
    """Return the cold load space that a heater warms: one room, or the zones of the plan."""
    return _room(job, in_room(heater))


def _room(job: Job, heater: InRoom) -> LoadSpace | ZonedSpace:
    shares = dict(heater.heat_share)
    all_inside = shares.get(LIVING, 0.0) > 1 - NOTHING
    if not job.plan.air.zones and all_inside:
        return LoadSpace(job.plan, job.catalogue)
    return ZonedSpace(job.plan, job.catalogue, shares, dict(heater.flow_w_k))


@fact
def night_with(job: Job, sheet_id: str) -> NightResult:
    """Return the night with a heater of the catalogue, as it would be fitted here."""
    is_chosen = sheet_id == job.plan.heater.sheet
    learned = job.plan.heat.learned if is_chosen else Learned()
    return _night(job, in_room(installed(job, sheet_of(job, sheet_id))), learned)


@fact
def _night(job: Job, heater: InRoom, learned: Learned) -> NightResult:
    sheet = as_learned(job.catalogue.heater(heater.sheet_id), learned)
    return simulate_night(job.plan, job.catalogue, sheet, heater.most_w, _room(job, heater))
