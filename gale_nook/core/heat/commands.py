"""Edits of the heat need: build-ups, weather, timers."""

from __future__ import annotations

import re
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from gale_nook.core.edits.command import Command, Data
from gale_nook.core.edits.items import AddItem
from gale_nook.core.job import Job
from gale_nook.core.plan.climate import Climate
from gale_nook.core.plan.heat import SurfaceId, Timer
from gale_nook.core.plan.vehicle import Layer, Layers


class AddLayer(AddItem):
    """Add a layer to the build-up of a face, or of the floor."""

    lists: ClassVar[re.Pattern[str]] = re.compile(
        r"(vehicle\.floor|vehicle\.floors\.[a-z0-9-]{1,40}|heat\.surfaces\.[a-z-]{1,40})\.layers"
    )
    collection: Annotated[
        str,
        Field(
            pattern=r"^(vehicle\.floor|vehicle\.floors\.[a-z0-9-]+|heat\.surfaces\.[a-z-]+)\.layers$",
            max_length=100,
        ),
    ]
    item: Layer


class AddTimer(AddItem):
    """Add hours in which the thermostat is set to something else."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"heat\.night\.timers")
    collection: Literal["heat.night.timers"] = "heat.night.timers"
    item: Timer


class SetLayers(Command):
    """Replace the build-up of one or several faces."""

    op: Literal["layers"] = "layers"
    faces: Annotated[tuple[SurfaceId, ...], Field(min_length=1, max_length=9)]
    layers: Layers

    def change(self, data: Data, before: Job) -> None:
        del before
        for surface in data["heat"]["surfaces"]:
            if surface["id"] in self.faces:
                surface["layers"] = [layer.model_dump(mode="json") for layer in self.layers]

    def typed(self) -> tuple[str, ...]:
        return tuple(f"heat.surfaces.{face}.layers" for face in self.faces)

    def words(self, before: Job) -> str:
        del before
        return f"build-up: {', '.join(self.faces)}"


class SetClimate(Command):
    """Take in the weather of a place, or none."""

    op: Literal["climate"] = "climate"
    climate: Climate | None

    def change(self, data: Data, before: Job) -> None:
        del before
        climate = self.climate
        data["heat"]["climate"] = climate.model_dump(mode="json") if climate is not None else None

    def words(self, before: Job) -> str:
        del before
        return f"weather of {self.climate.name}" if self.climate is not None else "no weather"


COMMANDS: tuple[type[Command], ...] = (AddLayer, AddTimer, SetLayers, SetClimate)
