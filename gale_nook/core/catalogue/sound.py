"""What sound is worked out from where a sheet says nothing: usual sources, what each loses on its
way.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from gale_nook.core.base.sourced import Sourced

Db = Annotated[float, Field(ge=-40, le=120)]


class SoundPhysics(Sourced):
    """Usual values of sound; levels in dB(A).

    Attributes:
        exhaust_db, intake_db, body_db: sound power of mouths without silencer and of the heater's
            body at most output, where its sheet has none; unsure_db: by so much that may be off.
        silencer_db, intake_silencer_db: what a silencer takes off; each may be off by half of it.
        least_db: by which all of them are lower at least output.
        hard_body_db: more where the heater stands on metal without its rubber.
        boxed_db: that furniture round the heater keeps back.
        floor_hz, wall_kg_m2: frequency at which a floor's or wall's loss is taken; mass of a wall.
        most_loss_db: that a floor or a wall keeps back at the most, gaps and windows being there.
        panel_m2, absorbing_m2: of what the sound comes in by, and of what swallows it inside.
        path_db: by which a way may be off; sheet_db: a sheet's figure.
        convector_db: sound power of a convector's fan that draws 10 W; by_ten_db: more for ten
            times that.
    """

    exhaust_db: Db
    intake_db: Db
    body_db: Db
    unsure_db: Db
    silencer_db: Db
    intake_silencer_db: Db
    least_db: Db
    hard_body_db: Db
    boxed_db: Db
    floor_hz: Annotated[float, Field(gt=20, le=10_000)]
    wall_kg_m2: Annotated[float, Field(gt=0, le=200)]
    most_loss_db: Db
    panel_m2: Annotated[float, Field(gt=0, le=50)]
    absorbing_m2: Annotated[float, Field(gt=0, le=100)]
    path_db: Db
    sheet_db: Db
    convector_db: Db
    by_ten_db: Db
