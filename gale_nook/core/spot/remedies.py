"""Candidate cures for the findings of the spot; they are tried before they are offered."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.commands import PlaceHeater, UseOpening
from gale_nook.core.spot.placement import adapter_of, floor_stack_mm, heater_finish_z_mm

LEAST_BOARD_MM = 3.0  # what a rebate leaves of the floor above the steel


@remedy_for("spot.place")
def in_the_middle(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A first place, to be dragged from there; or a mount that the sheet has."""
    sheet = heater_sheet(job)
    if sheet is None:
        return
    if job.plan.spot is not None:
        first = sheet.mounts[0]
        yield Remedy(f"Fit the {first.label}.", set_value("spot.mount", first.id))
        return
    shell = job.plan.vehicle.shell
    middle = round((shell.bulkhead_x_mm + shell.rear_x_mm) / 2, -1)
    yield Remedy(
        f"Put it in the middle of the load space, {q(middle)} behind the datum, and drag it.",
        PlaceHeater(x_mm=middle, y_mm=0),
    )


@remedy_for("spot.stack")
def other_collar(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A mount whose collar fits; else rebate the floor or pack the mount by what is missing."""
    spot = job.plan.spot
    sheet = heater_sheet(job)
    mount = chosen_mount(job)
    if spot is None or sheet is None or mount is None:
        return
    for other in sheet.mounts:
        if other.id != mount.id:
            yield Remedy(f"Fit the {other.label} instead.", set_value("spot.mount", other.id))
    limit, stack = mount.stack, floor_stack_mm(job)
    if limit.maximum is not None and stack > limit.maximum:
        by = math.ceil(stack - limit.maximum)
        if spot.packing_mm >= by:
            yield Remedy(
                f"Take {q(by)} of packing out.", set_value("spot.packing_mm", spot.packing_mm - by)
            )
        elif spot.rebate_mm + by <= heater_finish_z_mm(job) - LEAST_BOARD_MM:
            yield Remedy(
                f"Rebate the floor {q(by)} under the mount.",
                set_value("spot.rebate_mm", spot.rebate_mm + by),
            )
    if limit.minimum is not None and stack < limit.minimum:
        by = math.ceil(limit.minimum - stack)
        changes = (Change(address="spot.packing_mm", value=spot.packing_mm + by),)
        yield Remedy(f"Pack the mount with a ring of {q(by)}.", SetValues(changes=changes))


def _move(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Shift along the floor by what is missing, and by a little more, in the four directions; then
    turn.
    """
    spot = job.plan.spot
    if spot is None or finding.margin is None:
        return
    missing = math.ceil(-finding.margin - 1e-9)
    shifts = (
        ((1, 0), "rearward"),
        ((-1, 0), "forward"),
        ((0, 1), "to the right"),
        ((0, -1), "to the left"),
    )
    for by in (missing, missing + 5, missing + 20, missing + 60):
        for (sx, sy), towards in shifts:
            place = PlaceHeater(x_mm=spot.x_mm + sx * by, y_mm=spot.y_mm + sy * by)
            yield Remedy(f"Shift the heater {q(by)} {towards}.", place)
    for yaw in (90, 180, 270):
        if yaw != spot.yaw_deg:
            turned = PlaceHeater(x_mm=spot.x_mm, y_mm=spot.y_mm, yaw_deg=yaw)
            yield Remedy(f"Turn the heater to {q(float(yaw), 'deg')}.", turned)


WITHOUT_PLATE = Remedy("Take the adapter plate out.", UseOpening())


@remedy_for("spot.adapter")
def _plate_anew(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Centre the heater on the opening with a plate that laps its rim; else take the plate out."""
    adapter = adapter_of(job)
    if adapter is not None:
        yield Remedy(
            "Centre the mount on the opening, with a plate that laps its rim.",
            UseOpening(opening=adapter.opening),
        )
        yield WITHOUT_PLATE
    yield from _move(job, finding)


@remedy_for("spot.opening")
def _no_plate(_job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Without its opening the plate has no place."""
    yield WITHOUT_PLATE


@remedy_for("spot.stands_on")
def _on_the_floor(_job: Job, _finding: Finding) -> Iterator[Remedy]:
    """What is not there carries nothing."""
    yield Remedy("Stand it on the floor.", set_value("spot.stands_on", None))


for _rule in (
    "spot.hole",
    "spot.body",
    "spot.inlet",
    "spot.outlet",
    "spot.sides",
    "spot.pipe_room",
    "spot.removal",
    "spot.port_heat",
    "spot.faces_wall",
    "spot.face_hole",
    "spot.face_stack",
    "spot.face_removal",
    "spot.plate",
    "spot.shelf",
):
    remedy_for(_rule)(_move)
