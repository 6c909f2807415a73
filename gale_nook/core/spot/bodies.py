"""What the heater takes room for: its body, its plates, and its way out."""

from __future__ import annotations

from gale_nook.core.geometry.shapes import box_shape
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body, body_of
from gale_nook.core.spot.air_rules import lift_mm
from gale_nook.core.spot.placement import body_corners, heater_body_shape, shelf_of
from gale_nook.core.spot.plate import adapter_plate, mount_plate


@fact
def spot_bodies(job: Job) -> tuple[Body, ...]:
    """Return the heater's body, and the room in which it is lifted out of the floor."""
    shape, corners, mount = heater_body_shape(job), body_corners(job), chosen_mount(job)
    if shape is None or corners is None or mount is None:
        return ()
    under = shelf_of(job)
    on_it = frozenset({under.id}) if under is not None else frozenset()  # it stands on it
    results = [
        body_of(
            job,
            "heater",
            shape,
            thing_id="spot.heater",
            owner="heater",
            passes=on_it,
            where=mount.place,
        )
    ]
    plates = (("mount-plate", mount_plate(job)), ("adapter-plate", adapter_plate(job)))
    for kind, plate in plates:
        if plate is not None:
            body = body_of(
                job,
                kind,
                plate.shape,
                thing_id=f"spot.{kind}",
                owner="heater",
                passes=on_it,
                where="inside",
            )
            results.append(body)
    if mount.place == "inside" and mount.through == "floor":
        (x0, y0, _), (x1, y1, top) = corners
        way = box_shape((x0, y0, top), (x1 - x0, y1 - y0, lift_mm(job)))
        results.append(
            body_of(
                job, "lift-out", way, thing_id="spot.lift-out", owner="heater", where=mount.place
            )
        )
    return tuple(results)
