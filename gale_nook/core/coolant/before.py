"""What takes room before the station plans anything, in the order of the work."""

from __future__ import annotations

from gale_nook.core.air.before import BEFORE_AIR
from gale_nook.core.air.bodies import air_bodies
from gale_nook.core.ledger.together import BodiesOf

BEFORE_COOLANT: tuple[BodiesOf, ...] = (*BEFORE_AIR, air_bodies)
