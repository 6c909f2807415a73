"""What takes room before the heater has a spot: whatever the station plans is held against it."""

from __future__ import annotations

from gale_nook.core.ledger.together import BodiesOf
from gale_nook.core.spot.unit_bodies import unit_bodies
from gale_nook.core.vehicle.bodies import vehicle_bodies
from gale_nook.core.vehicle.kept_free import kept_free

BEFORE_SPOT: tuple[BodiesOf, ...] = (vehicle_bodies, kept_free, unit_bodies)
