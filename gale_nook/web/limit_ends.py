"""Ends of limits, as they are typed and shown."""

from __future__ import annotations

from gale_nook.core.base.limit import LimitBand
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.errors import BadInput
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import parse_quantity, write_quantity

KINDS = {"mm": "mm", "deg": "deg", "W": "w", "C": "c"}
PLAIN = "number"


def band_of(name: str, catalogue: Catalogue) -> LimitBand:
    """Return what is known of a limit; raises BadInput where nothing is."""
    band = catalogue.limit_bands.get(name)
    if band is None:
        raise BadInput("limit", name, "There is no limit of this name.")
    return band


def limit_end(text: str, band: LimitBand, field: str, system: UnitSystem) -> float | None:
    """Return an end of a limit as it was typed; None where nothing was.

    Raises:
        BadInput: it cannot be read.
    """
    if not text.strip():
        return None
    return parse_quantity(text, KINDS.get(band.unit, PLAIN), system, f"{field} of {band.label}")


def end_text(value: float | None, band: LimitBand, system: UnitSystem) -> str:
    """Return an end of a limit as it is typed: in the user's units, with a plain minus."""
    if value is None:
        return ""
    kind = KINDS.get(band.unit, PLAIN)
    return f"{value:g}" if kind == PLAIN else write_quantity(value, kind, system).replace("−", "-")
