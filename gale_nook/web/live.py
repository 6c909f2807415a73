"""What a preview replaces on a page besides board and findings: the figures, by the id of their
element.
"""

from __future__ import annotations

from gale_nook.core.edits.command import Command
from gale_nook.core.edits.values import SetValues
from gale_nook.web.context import environment
from gale_nook.web.desk import Desk

PARTS = {
    "heat": {"need-figures": "heat/need.html", "loss-bars": "heat/bars.html"},
    "fuel": {"fuel-figures": "fuel/figures.html"},
    "pipes": {"run-figures": "pipes/figures.html"},
    "heater": {
        "heater-need": "heater/need.html",
        "ranges": "heater/ranges.html",
        "night-live": "heater/night_live.html",
    },
}


def live_parts(desk: Desk) -> dict[str, str]:
    """Return the HTML of each part of the station that shows figures."""
    word = desk.station.word
    shown = desk.night_shown if word == "heater" else None
    parts = {
        element: environment.get_template(template).render(desk=desk, shown=shown)
        for element, template in PARTS.get(word, {}).items()
    }
    if word == "heat":
        parts |= {f"u-{face}": desk.u_words(face) for face, _, _, _ in desk.stacks}
    return parts


def live_fields(desk: Desk, command: Command) -> dict[str, str]:
    """Return the text of the fields that a command sets, in the user's units, by address."""
    if not isinstance(command, SetValues):
        return {}
    return {change.address: desk.text(change.address) for change in command.changes}
