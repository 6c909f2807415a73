"""The text of a file that somebody brings: whatever program wrote it, or a plain sentence."""

from __future__ import annotations

import codecs

from gale_nook.core.errors import PlanUnreadable

_MARKS = (
    (codecs.BOM_UTF8, "utf-8"),
    (codecs.BOM_UTF16_LE, "utf-16-le"),
    (codecs.BOM_UTF16_BE, "utf-16-be"),
)


def read_text(raw: bytes, most_bytes: int, what: str) -> str:
    r"""Return the text in a file's bytes, its lines ending in a line feed.

    UTF-8 and UTF-16 are known by their mark or by fitting; what fits neither is taken for Latin-1,
    as spreadsheets write it.

    Args:
        what: the kind of file, in the plural, for the refusal.

    Raises:
        PlanUnreadable: too large, or not text.

    >>> read_text(b"\xef\xbb\xbfa\rb", 100, "surveys")
    'a\nb'
    >>> read_text("Grün".encode("latin-1"), 100, "surveys")
    'Grün'
    """
    if len(raw) > most_bytes:
        raise PlanUnreadable(
            f"The file is {len(raw) / 1e6:.1f} MB; {what} up to {most_bytes / 1e6:.1f} MB are read."
        )
    for mark, encoding in _MARKS:
        if raw.startswith(mark):
            text = raw[len(mark) :].decode(encoding, "replace")
            break
    else:
        try:
            text = raw.decode("utf-8")
        except UnicodeDecodeError:
            text = raw.decode("latin-1")
    if "\x00" in text:
        raise PlanUnreadable("The file is not text.")
    return text.replace("\r\n", "\n").replace("\r", "\n")


def delimiter_of(line: str) -> str:
    """Return what parts the columns of a table whose first line is given: comma, semicolon or tab.

    >>> delimiter_of("kind;shape;x_mm")
    ';'
    """
    return max(",;\t", key=line.count)
