"""What every entry of a catalogue or sheet says of itself."""

from __future__ import annotations

from gale_nook.core.base.models import CatalogueId, Frozen, Name


class Sourced(Frozen):
    """A catalogue entry: its id, what it is called, and where its values come from."""

    id: CatalogueId
    label: Name
    source: Name
