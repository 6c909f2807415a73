"""Stock and prices as CSV: part, have, price; and the shopping list with everything of a line."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Callable, Mapping, Sequence

from gale_nook.core.build.lists import PartLine
from gale_nook.core.catalogue.items import CatalogueItem
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.plan.build import StockLine
from gale_nook.core.text import read_text
from gale_nook.exchange.csv_rows import rows_by_name, text_cell

MAX_STOCK_BYTES = 500_000
MOST_LINES = 400
MOST = {"have": 1_000_000.0, "price": 100_000.0}
Refused = Callable[[int, str], PlanUnreadable]
SHOPPING = ("part", "label", "shop", "unit", "needed", "in_kit", "have", "to_buy", "price", "cost")


def read_stock(raw: bytes, parts: Mapping[str, CatalogueItem]) -> tuple[StockLine, ...]:
    """Return the stock in a CSV file's bytes: columns part (its id, or what it is called), have,
    price; other columns are left alone, an empty price is none.

    Raises:
        PlanUnreadable: too large, not text, or a line that cannot be read; names the line.
    """
    text = read_text(raw, MAX_STOCK_BYTES, "stock lists")
    found: dict[str, StockLine] = {}
    for number, _, line in rows_by_name(text, ("part", "have"), _bad):
        part = part_of(line.get("part", ""), parts, number, _bad)
        found[part] = StockLine(
            id=part,
            have=amount_of(line.get("have", ""), "have", number, _bad) or 0.0,
            price=amount_of(line.get("price", ""), "price", number, _bad),
        )
        if len(found) > MOST_LINES:
            raise _bad(number, f"is too many; up to {MOST_LINES} parts are taken")
    if not found:
        raise PlanUnreadable("There is no part in the list.")
    return tuple(found.values())


def part_of(text: str, parts: Mapping[str, CatalogueItem], number: int, refused: Refused) -> str:
    """Return the part that a line names by its id or by what it is called; raises `refused`."""
    folded = text.casefold()
    by_name = (part.id for part in parts.values() if part.label.casefold() == folded)
    part = text if text in parts else next(by_name, "")
    if not part:
        raise refused(
            number, f"'{text[:40]}' is no part of the list; take its id or its name there"
        )
    return part


def amount_of(text: str, name: str, number: int, refused: Refused) -> float | None:
    """Return the amount in a cell, None where it is empty; raises `refused`."""
    if not text:
        return None
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        raise refused(number, f"{name}: '{text[:20]}' is not a number") from None
    if not (math.isfinite(value) and 0 <= value <= MOST[name]):
        raise refused(number, f"{name}: {text[:20]} is not between 0 and {MOST[name]:g}")
    return value


def _bad(number: int, problem: str) -> PlanUnreadable:
    return PlanUnreadable("The stock list cannot be read.", ((f"line {number}", problem),))


def write_shopping(lines: Sequence[PartLine]) -> str:
    """Return the parts list as CSV that `read_stock` takes back: what is cut is in mm."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(SHOPPING)
    for line in lines:
        writer.writerow(
            [
                *(text_cell(text) for text in (line.part, line.label, line.shop)),
                line.unit,
                _plain(line.needed),
                _plain(line.in_kit),
                _plain(line.in_stock),
                _plain(line.to_buy),
                "" if line.price is None else _plain(line.price),
                "" if line.cost is None else f"{line.cost:.2f}",
            ]
        )
    return out.getvalue()


def _plain(value: float) -> str:
    return f"{value:g}" if value < MOST["have"] else f"{value:.0f}"
