"""The rows of a CSV file by the names in its first line."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterator, Sequence

from gale_nook.core.text import delimiter_of

# with which a spreadsheet takes a cell for a formula
FORMULA_BEGINS = ("=", "+", "-", "@", "\t", "\r")


def text_cell(text: str) -> str:
    """Return a text as a cell that no spreadsheet works out: with a space in front where it would,
    which readers of ours take off.

    >>> text_cell("=1+1"), text_cell("Heron")
    (' =1+1', 'Heron')
    """
    return f" {text}" if text.startswith(FORMULA_BEGINS) else text


def rows_by_name(
    text: str, wanted: Sequence[str], refused: Callable[[int, str], Exception]
) -> Iterator[tuple[int, str, dict[str, str]]]:
    """Yield each row: its line's number, what separates its cells, and its cells by the heading's
    names, which are read in any case. Empty rows are passed over.

    Args:
        wanted: names that the heading has to have.
        refused: makes the error of a line that cannot be read; it is raised.
    """
    delimiter = delimiter_of(text.partition("\n")[0])
    reader = csv.reader(io.StringIO(text), delimiter=delimiter)
    heading: list[str] = []
    try:
        for number, row in enumerate(reader, 1):
            cells = [cell.strip() for cell in row]
            if not any(cells):
                continue
            if heading:
                yield number, delimiter, dict(zip(heading, cells, strict=False))
                continue
            heading = [cell.casefold() for cell in cells]
            if not set(wanted) <= set(heading):
                raise refused(number, f"has to name the columns: {', '.join(wanted)}")
    except csv.Error as error:
        raise refused(reader.line_num, str(error)) from None
