"""Edits of the electrics."""

from __future__ import annotations

import re
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from gale_nook.core.base.models import CoordinateMm, Point3
from gale_nook.core.edits.command import Command, Data
from gale_nook.core.edits.items import AddItem
from gale_nook.core.errors import BadInput, OtherKind
from gale_nook.core.job import Job
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.plan.power import (
    Alarm,
    ChargeSource,
    Disconnect,
    LeadKind,
    LeadPart,
    LeadPartKind,
    OtherLoad,
)
from gale_nook.core.power.clear_way import Wall
from gale_nook.core.power.leads import LEAD_WORDS
from gale_nook.core.power.start import (
    NO_HEATER,
    opening_passed,
    starting_battery,
    starting_controller,
    starting_lead,
)

NOT_LAID = "This lead was not laid yet."


class AddLeadBend(AddItem):
    """Add a bend to a lead."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"power\.leads\.[a-z]+\.nodes")
    collection: Annotated[str, Field(pattern=r"^power\.leads\.[a-z]+\.nodes$")]
    item: RouteNode


class AddLeadPart(AddItem):
    """Put something on a lead."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"power\.leads\.[a-z]+\.parts")
    collection: Annotated[str, Field(pattern=r"^power\.leads\.[a-z]+\.parts$")]
    item: LeadPart


class AddAlarm(AddItem):
    """Add a CO or smoke alarm."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"power\.alarms")
    collection: Literal["power.alarms"] = "power.alarms"
    item: Alarm


class AddLoad(AddItem):
    """Add something else that the battery feeds at night."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"power\.loads")
    collection: Literal["power.loads"] = "power.loads"
    item: OtherLoad


class AddCharging(AddItem):
    """Add a source of charge by day."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"power\.charging")
    collection: Literal["power.charging"] = "power.charging"
    item: ChargeSource


class StartBattery(Command):
    """Begin with a battery: the surveyed one's place, or beside the bulkhead."""

    op: Literal["start-battery"] = "start-battery"

    def change(self, data: Data, before: Job) -> None:
        data["power"]["battery"] = starting_battery(before).model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return "put the battery in"


class StartController(Command):
    """Begin with the controller in a usual place."""

    op: Literal["start-controller"] = "start-controller"

    def change(self, data: Data, before: Job) -> None:
        data["power"]["controller"] = starting_controller(before).model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return "put the controller in"


class HangController(Command):
    """Hang the controller on furniture elsewhere, dry and in the shade; its lead is laid anew."""

    op: Literal["hang-controller"] = "hang-controller"
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    z_mm: CoordinateMm

    def change(self, data: Data, before: Job) -> None:
        was = before.plan.power.controller or starting_controller(before)
        place = self.model_dump(mode="json", exclude={"op"})
        usual = {"mounted": "furniture", "sun": False, "damp": False}
        hung = was.model_copy(update={**place, **usual})
        data["power"]["controller"] = hung.model_dump(mode="json")
        if before.plan.power.lead("controller") is None:
            return
        power = before.plan.power.model_copy(update={"controller": hung})
        there = before.with_parts(power=power)
        lead = starting_lead(there, "controller").model_dump(mode="json")
        data["power"]["leads"] = [*_others(data, "controller"), lead]

    def words(self, before: Job) -> str:
        del before
        return "hung the controller elsewhere"


class StartLead(Command):
    """Lay a lead square to the vehicle along the wall, clipped; the supply with its fuse."""

    op: Literal["start-lead"] = "start-lead"
    lead: LeadKind
    wall: Wall | None = None

    def change(self, data: Data, before: Job) -> None:
        if before.plan.spot is None:
            raise BadInput("lead", self.lead, NO_HEATER)
        lead = starting_lead(before, self.lead, self.wall)
        data["power"]["leads"] = [*_others(data, self.lead), lead.model_dump(mode="json")]
        used = opening_passed(before, lead)
        for opening in data["vehicle"]["old_openings"]:
            if opening["id"] == used and opening["use"] == "open":
                opening["use"] = "cable"

    def words(self, before: Job) -> str:
        del before
        return f"laid the {LEAD_WORDS[self.lead]}"


class KeepLead(Command):
    """Keep a lead's way although an end of it has moved: it holds for these ends too."""

    op: Literal["keep-lead"] = "keep-lead"
    lead: LeadKind
    laid_from: Point3
    laid_to: Point3

    def change(self, data: Data, before: Job) -> None:
        del before
        lead = next((lead for lead in data["power"]["leads"] if lead["id"] == self.lead), None)
        if lead is None:
            raise BadInput("lead", self.lead, NOT_LAID)
        lead |= {"laid_from": list(self.laid_from), "laid_to": list(self.laid_to)}

    def words(self, before: Job) -> str:
        del before
        return f"kept the way of the {LEAD_WORDS[self.lead]}"


class RemoveLead(Command):
    """Take a lead out."""

    op: Literal["remove-lead"] = "remove-lead"
    lead: LeadKind

    def change(self, data: Data, before: Job) -> None:
        del before
        data["power"]["leads"] = _others(data, self.lead)

    def words(self, before: Job) -> str:
        del before
        return f"took the {LEAD_WORDS[self.lead]} out"


class PutLeadParts(Command):
    """Replace every part of one kind on a lead, the others staying as they are."""

    op: Literal["put-lead-parts"] = "put-lead-parts"
    lead: LeadKind
    kind: LeadPartKind
    parts: Annotated[tuple[LeadPart, ...], Field(max_length=60)]

    def change(self, data: Data, before: Job) -> None:
        del before
        other = next((part.kind for part in self.parts if part.kind != self.kind), None)
        if other is not None:
            raise OtherKind("parts", other, self.kind)
        lead = next((lead for lead in data["power"]["leads"] if lead["id"] == self.lead), None)
        if lead is None:
            raise BadInput("lead", self.lead, NOT_LAID)
        kept = [part for part in lead["parts"] if part["kind"] != self.kind]
        lead["parts"] = [*kept, *(part.model_dump(mode="json") for part in self.parts)]

    def words(self, before: Job) -> str:
        del before
        return f"{LEAD_WORDS[self.lead]}: its {self.kind}s"


class SetDisconnect(Command):
    """Say which device protects the battery, or that there is none."""

    op: Literal["disconnect"] = "disconnect"
    disconnect: Disconnect | None

    def change(self, data: Data, before: Job) -> None:
        del before
        put = self.disconnect
        data["power"]["disconnect"] = put.model_dump(mode="json") if put is not None else None

    def words(self, before: Job) -> str:
        del before
        return "took the disconnect out" if self.disconnect is None else "set the disconnect"


def _others(data: Data, kind: str) -> list[Data]:
    return [lead for lead in data["power"]["leads"] if lead["id"] != kind]


COMMANDS: tuple[type[Command], ...] = (
    AddLeadBend,
    AddLeadPart,
    AddAlarm,
    AddLoad,
    AddCharging,
    StartBattery,
    StartController,
    HangController,
    StartLead,
    KeepLead,
    RemoveLead,
    PutLeadParts,
    SetDisconnect,
)
