"""What takes room before the station plans anything, in the order of the work."""

from __future__ import annotations

from gale_nook.core.coolant.before import BEFORE_COOLANT
from gale_nook.core.coolant.bodies import coolant_bodies
from gale_nook.core.ledger.together import BodiesOf

BEFORE_POWER: tuple[BodiesOf, ...] = (*BEFORE_COOLANT, coolant_bodies)
