"""The plan document: one immutable value for the whole job, and the open file format."""

from __future__ import annotations

import json
import math
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, ValidationError

from gale_nook.core.base.models import Frozen, Name, Note, schema_of, unique_ids
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.plan.air import Air
from gale_nook.core.plan.book import PlanBook
from gale_nook.core.plan.build import Build
from gale_nook.core.plan.coolant import Coolant
from gale_nook.core.plan.firing import Firing
from gale_nook.core.plan.fuel import Fuel
from gale_nook.core.plan.heat import HeatNeed
from gale_nook.core.plan.heater import HeaterChoice
from gale_nook.core.plan.pipes import Pipes
from gale_nook.core.plan.power import Power
from gale_nook.core.plan.settings import Acceptance, Settings
from gale_nook.core.plan.spot import Candidate, Pilot, Spot
from gale_nook.core.plan.vehicle import Vehicle
from gale_nook.core.plan.wishes import Wishes
from gale_nook.core.quantities.measures import format_number, quantity_of
from gale_nook.core.quantities.sentences import q
from gale_nook.core.text import read_text

FORMAT = "gale-nook-plan"
VERSION = 1
MAX_FILE_BYTES = 2_300_000  # a plan that can be kept always fits, spread over lines or not


class Plan(Frozen):
    """A job from vehicle to pipes. Every length in it is in mm, every temperature in °C.

    Attributes:
        book: what it takes from the workshop's own book, so that the plan alone tells each verdict.
    """

    format: Literal["gale-nook-plan"] = "gale-nook-plan"
    version: Literal[1] = 1
    name: Name
    note: Note = ""
    vehicle: Vehicle
    heat: HeatNeed
    heater: HeaterChoice = HeaterChoice()
    spot: Spot | None = None
    candidates: Annotated[
        tuple[Candidate, ...], Field(max_length=40), AfterValidator(unique_ids)
    ] = ()
    pilots: Annotated[tuple[Pilot, ...], Field(max_length=60), AfterValidator(unique_ids)] = ()
    pipes: Pipes = Pipes()
    fuel: Fuel = Fuel()
    air: Air = Air()
    coolant: Coolant = Coolant()
    power: Power = Power()
    build: Build = Build()
    firing: Firing = Firing()
    wishes: Wishes = Wishes()
    book: PlanBook = PlanBook()
    settings: Settings = Settings()
    acceptances: Annotated[
        tuple[Acceptance, ...], Field(max_length=200), AfterValidator(unique_ids)
    ] = ()

    @property
    def pictures(self) -> tuple[str, ...]:
        """The files of all pictures that are kept beside the plan."""
        of_cards = (photo.file for photo in self.build.photos)
        return tuple(dict.fromkeys((*self.vehicle.pictures, *of_cards)))


def plan_schema() -> dict[str, Any]:
    """Return the JSON Schema (2020-12) of the plan file."""
    return schema_of(Plan, f"Gale Nook plan, version {VERSION}")


def read_plan(raw: bytes) -> Plan:
    """Return the plan in a plan file's bytes.

    Raises:
        PlanUnreadable: too large, not text, not JSON, not a plan, of a later version, or with
            values that a plan cannot hold; names each place in the file.
    """
    text = read_text(raw, MAX_FILE_BYTES, "plan files")
    document = _json_object(text)
    if document.get("format") != FORMAT:
        raise PlanUnreadable(
            "This is not a Gale Nook plan.", (("format", f'should read "{FORMAT}"'),)
        )
    version = document.get("version")
    if version != VERSION:
        raise PlanUnreadable(
            "This plan cannot be read here.",
            (("version", f"is {_short(version)}; version {VERSION} is read here"),),
        )
    try:
        return Plan.model_validate_json(text)
    except ValidationError as error:
        raise PlanUnreadable(
            "The plan holds values that cannot be taken.", places_of(error)
        ) from None
    except (OverflowError, ValueError):
        raise PlanUnreadable("The plan holds a number that is too long.") from None


def _json_object(text: str) -> dict[str, Any]:
    try:
        document = json.loads(text)
    except json.JSONDecodeError as error:
        place = f"line {error.lineno}, column {error.colno}"
        raise PlanUnreadable("The file is not JSON.", ((place, error.msg.lower()),)) from None
    except (RecursionError, ValueError):
        raise PlanUnreadable(
            "The file is not a plan: it is nested too deeply or holds a number too long."
        ) from None
    if not isinstance(document, dict):
        raise PlanUnreadable("The file is JSON, but not a plan: a plan is an object in { }.")
    return document


def compact(plan: Plan) -> str:
    """Return the plan as JSON without spaces, as it is kept; `kept_plan` reads it."""
    return plan.model_dump_json()


def kept_plan(text: str) -> Plan:
    """Return the plan of a text that `compact` or `write_plan` made."""
    return Plan.model_validate_json(text)


def write_plan(plan: Plan) -> str:
    """Return the plan as the text of a plan file that `read_plan` takes: spread over lines unless
    that makes it too large.
    """
    text = json.dumps(plan.model_dump(mode="json"), ensure_ascii=False, indent=2) + "\n"
    return text if len(text.encode()) <= MAX_FILE_BYTES else compact(plan) + "\n"


def places_of(error: ValidationError, limit: int = 12) -> tuple[tuple[str, str], ...]:
    """Return (place, problem) pairs from a validation error, in plain words, at most `limit`."""
    result = error.errors(include_url=False, include_context=True)
    places = tuple((_place(item["loc"]), problem_of(item)) for item in result[:limit])
    more = len(result) - limit
    return (*places, ("…", f"and {more} more")) if more > 0 else places


def _place(location: tuple[int | str, ...]) -> str:
    text = ""
    for part in location:
        text += f"[{part}]" if isinstance(part, int) else (f".{part}" if text else str(part))
    return text or "the whole plan"


_PLAIN_WORDS = {
    "missing": "it is missing",
    "extra_forbidden": "a plan has no such field",
    "finite_number": "it is not a number that can be used",
    **dict.fromkeys(("float_type", "float_parsing"), "it is not a number"),
    **dict.fromkeys(("int_type", "int_parsing", "int_from_float"), "it is not a whole number"),
    **dict.fromkeys(("bool_type", "bool_parsing"), "it has to be yes or no"),
    "string_type": "it has to be a text",
}
_LIMITS = {
    "greater_than": ("too little", "more than", "gt"),
    "greater_than_equal": ("too little", "at least", "ge"),
    "less_than": ("too much", "less than", "lt"),
    "less_than_equal": ("too much", "at most", "le"),
}
_LENGTHS = {
    "string_too_long": "{actual} characters are too many; up to {most} are kept",
    "string_too_short": "{actual} characters are too few; it has to be {least} or more",
    "too_long": "there are {actual} of them; up to {most} are kept",
    "too_short": "there are {actual} of them; it has to be {least} or more",
}


def problem_of(item: Any) -> str:
    """Return what is wrong with a value, and what would be taken, from one of a validation's
    errors: in plain words, with quantities marked for `say`.
    """
    sort, context, given = item["type"], item.get("ctx", {}), item.get("input")
    if sort in _PLAIN_WORDS:
        return _PLAIN_WORDS[sort]
    if sort in _LIMITS:
        return _limit_words(item["loc"], sort, context, given)
    if sort in _LENGTHS:
        actual = context.get("actual_length", len(given) if isinstance(given, str | list) else 0)
        least, most = context.get("min_length"), context.get("max_length")
        return _LENGTHS[sort].format(actual=actual, least=least, most=most)
    if sort in {"literal_error", "enum"}:
        return f"{_short(given)} is none of these: {context.get('expected', '')}"
    if sort == "string_pattern_mismatch":
        return f"{_short(given)} is not written as it has to be: {_PATTERN_WORDS}"
    message = str(item["msg"]).removeprefix("Value error, ")
    message = message.replace("Input should be", "it has to be")
    known = isinstance(given, int | float | str | bool) and str(given).strip() != ""
    return f"{message} (given: {_short(given)})" if known else message


_PATTERN_WORDS = "small letters, digits and hyphens, a letter first"


def _limit_words(where: tuple[Any, ...], sort: str, context: Any, given: object) -> str:
    """Of a number beyond a limit: what it is, and what would be taken."""
    wrong, bound, name = _LIMITS[sort]
    leaf = next((str(part) for part in reversed(where) if isinstance(part, str)), "")
    kind = quantity_of(leaf)

    def told(value: object) -> str:
        if not isinstance(value, int | float) or isinstance(value, bool):
            return str(value)
        if not math.isfinite(value):
            return "endless"
        return q(value, kind) if kind != "text" else format_number(value, 6)

    return f"{told(given)} is {wrong}; it has to be {bound} {told(context.get(name))}"


def _short(value: object) -> str:
    try:
        text = json.dumps(value, ensure_ascii=True, default=str)
    except ValueError:  # thousands of digits
        return "a very long number"
    return text if len(text) <= 60 else text[:57] + "…"
