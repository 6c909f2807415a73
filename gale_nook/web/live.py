"""What a preview replaces on a page besides board and findings: the figures, by the id of their
element.
"""

from __future__ import annotations

from gale_nook.core.edits.command import Command
from gale_nook.core.edits.values import SetValues
from gale_nook.web.context import environment
from gale_nook.web.page import StationPage
from gale_nook.web.station import WebStation


def live_parts(station: WebStation, page: StationPage) -> dict[str, str]:
    """Return the HTML of each part of the station that shows figures."""
    values = page.live_values if station.live else {}
    parts = {
        element: environment.get_template(template).render(page=page, **values)
        for element, template in station.live.items()
    }
    return parts | page.live_texts


def live_fields(page: StationPage, command: Command) -> dict[str, str]:
    """Return the text of the fields that a command sets, in the user's units, by address."""
    if not isinstance(command, SetValues):
        return {}
    return {change.address: page.text(change.address) for change in command.changes}
