"""What takes room before the station plans anything, in the order of the work."""

from __future__ import annotations

from gale_nook.core.fuel.before import BEFORE_FUEL
from gale_nook.core.fuel.bodies import fuel_bodies
from gale_nook.core.ledger.together import BodiesOf

BEFORE_AIR: tuple[BodiesOf, ...] = (*BEFORE_FUEL, fuel_bodies)
