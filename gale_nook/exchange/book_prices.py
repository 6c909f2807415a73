"""Prices of the workshop's book as CSV: part, label, unit, price, source."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence

from pydantic import ValidationError

from gale_nook.core.catalogue.items import CatalogueItem
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.plan.book import MOST_PRICES, BookPrice
from gale_nook.core.plan.document import places_of
from gale_nook.core.text import read_text
from gale_nook.exchange.csv_rows import rows_by_name, text_cell
from gale_nook.exchange.stock import amount_of, part_of

MAX_PRICE_BYTES = 500_000
COLUMNS = ("part", "label", "unit", "price", "source")


def read_prices(
    raw: bytes, parts: Mapping[str, CatalogueItem], source: str
) -> tuple[BookPrice, ...]:
    """Return the prices in a CSV file's bytes: columns part (its id, or what it is called), price,
    and source where each has its own; rows without a price are passed over.

    Args:
        source: of prices that have none of their own.

    Raises:
        PlanUnreadable: too large, not text, or a line that cannot be read; names the line.
    """
    text = read_text(raw, MAX_PRICE_BYTES, "price lists")
    found: dict[str, BookPrice] = {}
    for number, _, line in rows_by_name(text, ("part", "price"), _bad):
        price = amount_of(line.get("price", ""), "price", number, _bad)
        part = part_of(line.get("part", ""), parts, number, _bad)
        if price is None:
            continue
        told = line.get("source", "").strip() or source
        try:
            found[part] = BookPrice(id=part, price=price, source=told)
        except ValidationError as error:
            raise _bad(number, " ".join(places_of(error)[0])) from None
        if len(found) > MOST_PRICES:
            raise _bad(number, f"is too many; up to {MOST_PRICES} prices are taken")
    if not found:
        raise PlanUnreadable("There is no price in the list.")
    return tuple(found.values())


def _bad(number: int, problem: str) -> PlanUnreadable:
    return PlanUnreadable("The price list cannot be read.", ((f"line {number}", problem),))


def write_prices(prices: Sequence[BookPrice], parts: Mapping[str, CatalogueItem]) -> str:
    """Return every part with its price as CSV that `read_prices` takes back."""
    known = {price.id: price for price in prices}
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for part in parts.values():
        price = known.get(part.id)
        told = (f"{price.price:g}", text_cell(price.source)) if price is not None else ("", "")
        unit = "metre" if part.unit == "mm" else part.unit
        writer.writerow([part.id, text_cell(part.label), unit, *told])
    return out.getvalue()
