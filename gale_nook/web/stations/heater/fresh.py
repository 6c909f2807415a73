"""Ids of heaters of one's own."""

from __future__ import annotations

import re

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.job import with_own_book
from gale_nook.core.plan.document import Plan


def fresh_heater_id(plan: Plan, book: Catalogue, label: str) -> str:
    """Return an id that no heater has, from its label."""
    stem = re.sub(r"[^a-z0-9]+", "-", label.lower()).strip("-")[:40]
    stem = stem if stem[:1].isalpha() else f"own-{stem}".rstrip("-")
    taken = set(with_own_book(plan, book).heaters)
    number = 2
    result = stem
    while result in taken:
        result, number = f"{stem}-{number}", number + 1
    return result
