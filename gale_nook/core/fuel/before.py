"""What takes room before the station plans anything, in the order of the work."""

from __future__ import annotations

from gale_nook.core.ledger.together import BodiesOf
from gale_nook.core.pipes.before import BEFORE_PIPES
from gale_nook.core.pipes.bodies import pipe_bodies

BEFORE_FUEL: tuple[BodiesOf, ...] = (*BEFORE_PIPES, pipe_bodies)
