"""What takes room before the station plans anything, in the order of the work."""

from __future__ import annotations

from gale_nook.core.ledger.together import BodiesOf
from gale_nook.core.spot.before import BEFORE_SPOT
from gale_nook.core.spot.bodies import spot_bodies

BEFORE_PIPES: tuple[BodiesOf, ...] = (*BEFORE_SPOT, spot_bodies)
