"""Limit sheets of heaters as files: YAML or JSON in, YAML out, and their schema."""

from __future__ import annotations

import json
import re
from typing import Any

import yaml
from pydantic import ValidationError

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.models import schema_of
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.heater.sheets import contradictions
from gale_nook.core.plan.document import places_of
from gale_nook.core.text import read_text

UNREADABLE = "The file is neither YAML nor JSON that can be read here."
MAX_SHEET_BYTES = 200_000
MAX_DEPTH = 20  # a sheet needs five
TOO_DEEP = f"nested deeper than {MAX_DEPTH}"
_MARKS = re.compile(r"\s*(?:[-?:]\s+){20}")
_BRACKETS = re.compile(r"[\[\]{}]")
_OPENS = (
    yaml.BlockSequenceStartToken,
    yaml.BlockMappingStartToken,
    yaml.FlowSequenceStartToken,
    yaml.FlowMappingStartToken,
)
_CLOSES = (yaml.BlockEndToken, yaml.FlowSequenceEndToken, yaml.FlowMappingEndToken)
TITLE = "Gale Nook heater sheet, version 1"


def sheet_schema() -> dict[str, Any]:
    """Return the JSON Schema (2020-12) of a heater's sheet."""
    return schema_of(HeaterSheet, TITLE)


def read_sheet(raw: bytes) -> HeaterSheet:
    """Return the sheet in a file's bytes; JSON is a part of YAML and is read as such.

    Raises:
        PlanUnreadable: too large, not text, not YAML (the line is named), or values that a sheet
            cannot hold.
    """
    text = read_text(raw, MAX_SHEET_BYTES, "sheets")
    try:
        data = _plain(text)
    except yaml.MarkedYAMLError as error:
        raise PlanUnreadable("The file is neither YAML nor JSON.", (_place(error),)) from None
    except (yaml.YAMLError, RecursionError, ValueError):
        raise PlanUnreadable(UNREADABLE) from None
    if not isinstance(data, dict):
        raise PlanUnreadable(
            "This is not a heater's sheet: a sheet names its values, one under the other."
        )
    try:
        return HeaterSheet.model_validate(data)
    except ValidationError as error:
        raise PlanUnreadable(
            "The sheet holds values that cannot be taken.", places_of(error)
        ) from None
    except (OverflowError, ValueError, TypeError):
        raise PlanUnreadable(
            "The sheet holds a value that no number or text of a sheet can be."
        ) from None


def read_sound_sheet(raw: bytes, catalogue: Catalogue) -> HeaterSheet:
    """Return the sheet in a file's bytes; raises PlanUnreadable as `read_sheet` does, and where it
    contradicts itself.
    """
    sheet = read_sheet(raw)
    troubles = tuple(
        (path, f"{problem} (given: {value})")
        for path, value, problem in contradictions(sheet, catalogue.limit_bands, catalogue.parts)
    )
    if troubles:
        raise PlanUnreadable("The sheet contradicts itself.", troubles[:12])
    return sheet


def _plain(text: str) -> Any:
    """Return plain data; refuses references inside the file, which can make a small file huge, and
    deep nesting.

    The parser goes as deep as the text is nested, on a stack that ends the process when it is full:
    so depth is measured before it sees the text.
    """
    _refuse_brackets(text)
    depth = 0
    for token in yaml.scan(text, Loader=yaml.CSafeLoader):
        if isinstance(token, yaml.AliasToken | yaml.AnchorToken):
            raise yaml.scanner.ScannerError(
                None, None, "references (& and *) are not read", token.start_mark
            )
        depth += isinstance(token, _OPENS) - isinstance(token, _CLOSES)
        if depth > MAX_DEPTH:
            raise yaml.scanner.ScannerError(None, None, TOO_DEEP, token.start_mark)
    return yaml.load(text, Loader=yaml.CSafeLoader)


def _refuse_brackets(text: str) -> None:
    """Refuse what would already be slow to take apart: brackets in brackets, and one mark of a list
    after another.
    """
    depth = 0
    for line, written in enumerate(text.split("\n"), 1):
        if _MARKS.match(written):
            raise PlanUnreadable(
                UNREADABLE,
                ((f"line {line}", TOO_DEEP),),
            )
        for mark in _BRACKETS.findall(written):
            depth += 1 if mark in "[{" else -1
            if depth > MAX_DEPTH:
                place = (f"line {line}", TOO_DEEP)
                raise PlanUnreadable(UNREADABLE, (place,))
        depth = max(depth, 0)


def _place(error: yaml.MarkedYAMLError) -> tuple[str, str]:
    mark = error.problem_mark or error.context_mark
    where = (
        f"line {mark.line + 1}, column {mark.column + 1}" if mark is not None else "the whole file"
    )
    return where, str(error.problem or error.context or "cannot be read")


def write_sheet(sheet: HeaterSheet) -> str:
    """Return a sheet as YAML that `read_sheet` takes."""
    data = json.loads(sheet.model_dump_json(exclude_none=True, exclude_defaults=True))
    return yaml.safe_dump(data, sort_keys=False, allow_unicode=True, width=120)
