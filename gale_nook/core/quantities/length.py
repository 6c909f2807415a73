"""Reading lengths as people type them, and writing them back.

The grammar is strict: what could be read in two ways is refused with the reason, never guessed.

    length  = [sign] term { sign term }
    term    = number [unit] | feet [inches] | inches
    inches  = whole | whole fraction | fraction | decimal, followed by a double mark, "in" or
    "inch(es)"

A hyphen that stands tight between a whole number and its fraction, or between feet and inches,
joins them: `2-7/8"`, `6'-2"`. With spaces round it, it is a minus.

A decimal comma is a decimal point. A number without a unit takes the unit of the display.
"""

from __future__ import annotations

import re
from enum import StrEnum
from fractions import Fraction

from gale_nook.core.errors import BadInput, TooLong

MM_PER_INCH = Fraction(254, 10)
MM_PER_FOOT = 12 * MM_PER_INCH
MAX_LENGTH_MM = 1_000_000
MAX_TEXT = 80
FIGURES_MM = 2.0  # from here on a computed length is told in whole mm
MADE_MM = 200.0  # sizes to half a mm that things are made in are below


class UnitSystem(StrEnum):
    """How lengths and other quantities are shown."""

    METRIC = "metric"
    IMPERIAL = "imperial"


_METRIC_UNITS = {"mm": Fraction(1), "cm": Fraction(10), "m": Fraction(1000)}
_WORDS = {
    "inches": '"',
    "inch": '"',
    "in": '"',
    "feet": "'",
    "foot": "'",
    "ft": "'",
    "millimetres": "mm",
    "centimetres": "cm",
    "metres": "m",
    "metre": "m",
}
_MARKS = str.maketrans(
    {
        **{"″": '"', "”": '"', "“": '"', "′": "'", "’": "'", "‘": "'", "−": "-", "–": "-"},
        **{"\u00a0": " ", "\u202f": " ", "\u2009": " ", "\u2007": " "},
        **{"⁄": "/", "∕": "/", "‐": "-", "‑": "-"},
    }
)
_VULGAR = {"⅛": "1/8", "¼": "1/4", "⅜": "3/8", "½": "1/2", "⅝": "5/8", "¾": "3/4", "⅞": "7/8"}
_TOKEN = re.compile(
    r"""(?P<space>\s+)|(?P<fraction>\d+\s*/\s*\d+)|(?P<number>\d+(?:[.,]\d+|\.(?!\d))?|[.,]\d+)"""
    r"""|(?P<word>[A-Za-z]+)|(?P<mark>''|["'])|(?P<sign>[+-])""",
    re.ASCII | re.VERBOSE,
)
TWO_READINGS = "the comma could mark thousands or decimals; leave it out or use a point."
MAYBE_THOUSANDS = re.compile(r"[1-9]\d{0,2}(?:,\d{3})+")
_JOINED_FRACTION = re.compile(r"(?<![\d/.,])(\d+)-(?=\d+/\d)")
_JOINED_INCHES = re.compile(r"(?<=['t])-(?=\d)", re.IGNORECASE)
Token = tuple[str, str]


def parse_length_mm(
    text: str, system: UnitSystem = UnitSystem.METRIC, name: str = "length"
) -> float:
    """Return the length that `text` means, in mm.

    Args:
        text: as typed: `640`, `64 cm`, `25 1/4"`, `2' 1 1/4"`, `6 7/8" - 2 3/8"`, `1,5 m`.
        system: decides the unit of a number that has none (mm or inches).
        name: what the length is for, used in the error.

    Raises:
        BadInput: the text is not a length, or could be read in more than one way.

    >>> parse_length_mm("6 7/8\\" - 2 3/8\\"")
    114.3
    """
    tokens = _tokens(text, name)
    terms = _split_terms(tokens, text, name)
    reader = _TermReader(text, name, system, several=len(terms) > 1)
    total = sum((sign * reader.read(term) for sign, term in terms), Fraction(0))
    if abs(total) > MAX_LENGTH_MM:
        raise BadInput(name, text, "That is over a kilometre. Lengths up to 1000 m are taken.")
    return float(total)


def _tokens(text: str, name: str) -> list[Token]:
    if len(text) > MAX_TEXT:
        raise TooLong(name, text, MAX_TEXT)
    cleaned = text.translate(_MARKS)
    for sign, spelled in _VULGAR.items():
        cleaned = cleaned.replace(sign, f" {spelled}")
    cleaned = _JOINED_INCHES.sub(" ", _JOINED_FRACTION.sub(r"\1 ", cleaned))
    tokens: list[Token] = []
    position = 0
    while position < len(cleaned):
        match = _TOKEN.match(cleaned, position)
        if match is None:
            raise _unreadable(text, name, f"'{cleaned[position]}' does not belong in a length.")
        position = match.end()
        kind = str(match.lastgroup)
        if kind != "space":
            tokens.append(_normalised(kind, match.group(), text, name))
    if not tokens:
        raise BadInput(
            name, text, 'Nothing was typed. A length such as 640 mm or 25 1/4" is wanted.'
        )
    return tokens


def _normalised(kind: str, piece: str, text: str, name: str) -> Token:
    if kind == "word":
        unit = _WORDS.get(piece.lower(), piece.lower())
        if unit in _METRIC_UNITS or unit in {'"', "'"}:
            return ("unit", unit)
        raise _unreadable(
            text, name, f"'{piece}' is not a unit of length; use mm, cm, m, in or ft."
        )
    if kind == "mark":
        return ("unit", '"' if piece == "''" else piece)
    return (kind, piece)


def _split_terms(tokens: list[Token], text: str, name: str) -> list[tuple[int, list[Token]]]:
    """Split at the signs; a sign directly after another sign is refused."""
    terms: list[tuple[int, list[Token]]] = []
    sign = 1
    current: list[Token] = []
    for index, (kind, piece) in enumerate(tokens):
        if kind != "sign":
            current.append((kind, piece))
            continue
        if not current and index > 0:
            raise _unreadable(text, name, "there are two signs in a row.")
        if current:
            terms.append((sign, current))
        sign, current = (1 if piece == "+" else -1), []
    if not current:
        raise _unreadable(text, name, "it ends with a sign.")
    terms.append((sign, current))
    return terms


def _unreadable(text: str, name: str, why: str) -> BadInput:
    return BadInput(name, text, f"'{text}' cannot be read as a length: {why}")


class _TermReader:
    """Reads one term of a sum; knows the whole text for its errors."""

    def __init__(self, text: str, name: str, system: UnitSystem, several: bool) -> None:
        self.text = text
        self.name = name
        self.system = system
        self.several = several
        self._has_unit = '"' in text or "'" in text or bool(re.search(r"[A-Za-z″′”’]", text))

    def read(self, term: list[Token]) -> Fraction:
        parts = self._parts(term)
        units = [unit for _, unit in parts]
        if units == ["'", '"']:
            inches = parts[1][0]
            if inches >= 12:
                raise self._refuse("after feet, inches must be under 12.")
            if parts[0][0].denominator != 1:
                raise self._refuse("feet before inches must be a whole number.")
            return parts[0][0] * MM_PER_FOOT + inches * MM_PER_INCH
        if len(parts) != 1:
            raise self._refuse("two values stand side by side; put + or - between them.")
        value, unit = parts[0]
        return value * self._mm_per(unit, value)

    def _mm_per(self, unit: str, value: Fraction) -> Fraction:
        if unit == "'":
            return MM_PER_FOOT
        if unit == '"':
            return MM_PER_INCH
        if unit:
            return _METRIC_UNITS[unit]
        if value and self.several and self._has_unit:
            raise self._refuse("give every part of a sum its unit.")
        return MM_PER_INCH if self.system is UnitSystem.IMPERIAL else Fraction(1)

    def _parts(self, term: list[Token]) -> list[tuple[Fraction, str]]:
        """Group a term's tokens into (value, unit) pairs; a fraction needs inches."""
        parts: list[tuple[Fraction, str]] = []
        numbers: list[Token] = []
        for kind, piece in [*term, ("unit", "")]:
            if kind != "unit":
                numbers.append((kind, piece))
                continue
            if numbers:
                parts.append((self._value(numbers, piece), piece))
            elif piece:
                raise self._refuse(f"there is no number before {piece}")
            numbers = []
        return parts

    def _value(self, numbers: list[Token], unit: str) -> Fraction:
        kinds = [kind for kind, _ in numbers]
        if "fraction" in kinds and not (
            unit == '"' or (unit == "" and self.system is UnitSystem.IMPERIAL)
        ):
            raise self._refuse('fractions are read in inches only; add " or in.')
        if kinds == ["number"]:
            # in metres it can only be decimals: a thousand of them is no vehicle
            if MAYBE_THOUSANDS.fullmatch(numbers[0][1]) and unit != "m":
                raise self._refuse(TWO_READINGS)
            return Fraction(numbers[0][1].replace(",", ".").rstrip("."))
        if kinds == ["fraction"]:
            return self._fraction(numbers[0][1])
        if kinds == ["number", "fraction"]:
            whole = numbers[0][1]
            part = self._fraction(numbers[1][1])
            if "." in whole or "," in whole:
                raise self._refuse("a decimal and a fraction stand together.")
            if part >= 1:
                raise self._refuse(
                    f"the fraction {numbers[1][1]} after a whole number must be under 1."
                )
            return int(whole) + part
        raise self._refuse("two numbers stand side by side; put a unit or a sign between them.")

    def _fraction(self, piece: str) -> Fraction:
        over, under = (int(part) for part in piece.split("/"))
        if under == 0:
            raise self._refuse(f"{piece} divides by nought.")
        if under > 128:
            raise self._refuse(f"{piece} is finer than a tape reads; up to 1/128 is taken.")
        return Fraction(over, under)

    def _refuse(self, why: str) -> BadInput:
        return _unreadable(self.text, self.name, why)


def format_length(
    length_mm: float, system: UnitSystem = UnitSystem.METRIC, unit: bool = True
) -> str:
    """Return a length for the eye, as precisely as it can be known on a vehicle: inches to 1/16, or
    mm, whole ones from FIGURES_MM on, unless it is a size that things are made in.

    >>> format_length(641.35, UnitSystem.IMPERIAL), format_length(1284.3), format_length(24.5)
    ('25 1/4"', '1284 mm', '24.5 mm')
    """
    if system is UnitSystem.METRIC and not _is_made(length_mm):
        length_mm = float(round(length_mm))
    return write_length(length_mm, system, unit)


def _is_made(length_mm: float) -> bool:
    """Whether a length may be told to a tenth: a small one, or the size of something."""
    half = abs(length_mm * 2 - round(length_mm * 2)) < 1e-6
    return abs(length_mm) < FIGURES_MM or (half and abs(length_mm) < MADE_MM)


def write_length(
    length_mm: float, system: UnitSystem = UnitSystem.METRIC, unit: bool = True
) -> str:
    """Return a length as it was typed: to a tenth of a mm, or inches to 1/16."""
    if system is UnitSystem.METRIC:
        rounded = round(length_mm, 1) + 0.0
        text = f"{rounded:.0f}" if rounded == int(rounded) else f"{rounded:.1f}"
        return (text + " mm" if unit else text).replace("-", "−")
    sixteenths = round(abs(length_mm) / 25.4 * 16)
    whole, rest = divmod(sixteenths, 16)
    sign = "−" if length_mm < 0 and sixteenths else ""
    fraction = f"{Fraction(rest, 16)}" if rest else ""
    number = " ".join(part for part in (str(whole) if whole or not rest else "", fraction) if part)
    return f'{sign}{number}"' if unit else f"{sign}{number}"
