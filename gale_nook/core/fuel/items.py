"""What can be added to the fuel line."""

from __future__ import annotations

import re
from typing import ClassVar, Literal

from gale_nook.core.edits.items import AddItem
from gale_nook.core.plan.fuel import HoldsTank, Indent, LinePart
from gale_nook.core.plan.pipes import RouteNode


class AddBend(AddItem):
    """Add a bend to the fuel line."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"fuel\.line\.nodes")
    collection: Literal["fuel.line.nodes"] = "fuel.line.nodes"
    item: RouteNode


class AddHoldsTank(AddItem):
    """Note a strap, a bolt, a hose or a cable of the vehicle's tank."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"fuel\.drop\.holds")
    collection: Literal["fuel.drop.holds"] = "fuel.drop.holds"
    item: HoldsTank


class AddLinePart(AddItem):
    """Put something into the fuel line, or a clip on it."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"fuel\.line\.parts")
    collection: Literal["fuel.line.parts"] = "fuel.line.parts"
    item: LinePart


class AddIndent(AddItem):
    """Add a dent in a tank of one's own."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"fuel\.tank\.indents")
    collection: Literal["fuel.tank.indents"] = "fuel.tank.indents"
    item: Indent
