"""Reading what forms send: typed quantities by address, the base revision, commands as JSON."""

from __future__ import annotations

import re
from typing import Annotated

from fastapi import UploadFile
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, TypeAdapter, ValidationError
from starlette.datastructures import UploadFile as StarletteUpload

from gale_nook.core.base.models import printable
from gale_nook.core.commands import COMMAND
from gale_nook.core.edits.command import Command, Value
from gale_nook.core.edits.values import Change, SetValues
from gale_nook.core.errors import BadInput, TooLong
from gale_nook.core.job import Job
from gale_nook.core.plan.document import places_of, problem_of
from gale_nook.core.plan.words import field_words
from gale_nook.core.quantities.area import parse_area_mm2
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import parse_quantity, quantity_of
from gale_nook.core.quantities.sentences import capital
from gale_nook.core.vehicle.heights import over_floor_mm
from gale_nook.web.from_features import from_feature
from gale_nook.web.view_state import ViewState

PREFIX = "set:"
YES_NO = {"covered", "opens", "drain", "raised", "below_mirrored", "shown"}
MAY_BE_EMPTY = re.compile(
    r"heat\.(cab_c|cab_loss_w_k|leakage|warm_up_h|night\.start_c|ribs\.(pitch_mm|length_m))"
    r"|heat\.night\.timers\.[^.]+\.set_c"
    r"|vehicle\.floor\.pitch_mm|vehicle\.shell\.firewall(_x)?_mm"
    r"|vehicle\.features\.[^.]+\.(diameter|length|width)_mm"
    r"|spot\.(packing|stands_on)"
    r"|pilots\.[^.]+\.(rearward|right)_mm"  # until somebody has looked
    r"|pipes\.mouth_(from|to)_mm"
    r"|fuel\.tap_[xyz]_mm"
    r"|power\.battery\.(open_v|resistance_mohm)|power\.leads\.[a-z]+\.one_way_mm"
    r"|power\.controller\.sensor_[xyz]_mm"
    r"|air\.zones\.[^.]+\.(low_z_mm|high_z_mm|set_c)"
    r"|air\.ducts\.[^.]+\.outlet\.share_percent"
    r"|air\.wanted\.[^.]+\.(blows|kind)"
    r"|coolant\.frost_c"
    r"|firing\.(rest_v|long_run_min)|firing\.readings\.[^.]+\.(began_s|voltage_v|current_a|pump_hz|outlet_c)"
    r"|firing\.places\.[^.]+\.after_(5|20)_c|firing\.co\.[^.]+\.co_ppm"
)
WHOLE = re.compile(
    r"spot\.yaw_deg|heat\.sleepers|heat\.ribs\.stringers|coolant\.parts\.[^.]+\.yaw_deg"
    r"|power\.(battery\.nominal_v|bundle|insulation_c)|build\.people"
)
MAX_REVISION = 2**31 - 1
MAX_COMMAND = 1_000_000  # a whole survey fits


def clean(value: object) -> object:
    """A text without what cannot be kept; a file in its place counts as empty."""
    if not isinstance(value, str):
        return ""
    printable(value.replace("\r\n", "\n").replace("\t", " "))
    return value


def _file(value: object) -> object:
    """A file that was chosen; a text in its place, or a file without a name, counts as none."""
    return value if isinstance(value, StarletteUpload) and value.filename else None


Text = Annotated[str, BeforeValidator(clean), Field(max_length=2000)]
Upload = Annotated[UploadFile | None, BeforeValidator(_file)]
ShortText = Annotated[str, BeforeValidator(clean), Field(max_length=80)]


class PageForm(BaseModel):
    """What every form of a job's page sends: the revision that it was filled in on, and the view.

    The view is read leniently (`ViewState.of`): what is not understood falls back.
    """

    model_config = ConfigDict(frozen=True, extra="ignore")

    base: Annotated[str, BeforeValidator(clean), Field(max_length=12)] = ""
    plan: Text = ""
    side: Text = ""
    frame: Text = ""
    item: Text = ""
    floor: Text = ""
    tube: Text = ""

    @property
    def revision(self) -> int:
        """The revision that the form was filled in on."""
        text = self.base
        if not (text.isascii() and text.isdigit()) or int(text) > MAX_REVISION:
            problem = "The form does not say which revision it was filled in on. Reload the page."
            raise BadInput("base", text, problem)
        return int(text)

    @property
    def view(self) -> ViewState:
        """How the user looks at the job."""
        return ViewState.of(self.model_dump(include=set(PageForm.model_fields)))


class CommandForm(PageForm):
    """A command as JSON."""

    command: Annotated[str, BeforeValidator(clean), Field(max_length=MAX_COMMAND)] = ""

    @property
    def parsed(self) -> Command:
        return parse_command(self.command)


class SetForm(PageForm):
    """Typed values: fields named `set:<address>`, in the user's units or from a named feature."""

    model_config = ConfigDict(frozen=True, extra="allow")

    @property
    def typed(self) -> dict[str, str]:
        """What was typed, by address."""
        return {
            name.removeprefix(PREFIX): _checked(name, value)
            for name, value in (self.model_extra or {}).items()
            if name.startswith(PREFIX)
        }


def _checked(name: str, value: object) -> str:
    """The text of a field that no model names."""
    try:
        return _ANY_TEXT.validate_python(value)
    except ValidationError as error:
        problem = problem_of(error.errors()[0])
        raise BadInput(name, str(value)[:60], f"{capital(problem)}.") from None


_ANY_TEXT: TypeAdapter[str] = TypeAdapter(Text)


def extra_text(form: BaseModel, name: str, most: int) -> str:
    """Return a text of a form that takes more fields than it names; empty where it is not there.

    Raises:
        BadInput: it is longer than `most`, or holds what cannot be kept.
    """
    text = _checked(name, (form.model_extra or {}).get(name, ""))
    if len(text) > most:
        raise TooLong(name, text[:60], most)
    return text


def parse_command(text: str) -> Command:
    """Return the command that JSON describes; raises BadInput."""
    try:
        return COMMAND.validate_json(text)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(place, None, problem) from None


def typed_values(form: SetForm, system: UnitSystem, job: Job) -> SetValues:
    """Return the command for every value that was typed."""
    typed = form.typed.items()
    if not typed:
        raise BadInput("form", None, "Nothing was typed.")
    return SetValues(changes=tuple(_change(a, text, system, job) for a, text in typed))


def _change(address: str, text: str, system: UnitSystem, job: Job) -> Change:
    words = field_words(address)
    measured = from_feature(text, address, job.plan.vehicle, system, words)
    if measured is not None:
        return Change(address=address, value=measured)
    try:
        value = _value(address, text, system, job)
        if isinstance(value, float):
            value = over_floor_mm(job, address, value)
        return Change(address=address, value=value)
    except ValidationError as error:
        raise BadInput(words, text, places_of(error)[0][1]) from None


def _standard_mm2(job: Job) -> list[float]:
    return [cable.area_mm2 for cable in job.catalogue.power_equipment.cables]


def _value(address: str, text: str, system: UnitSystem, job: Job) -> Value:
    leaf = address.rsplit(".", 1)[-1]
    kind = quantity_of(address)
    if leaf in YES_NO:
        return text == "yes"
    if not text.strip() and MAY_BE_EMPTY.fullmatch(address):
        return None
    if kind == "text":
        return text.replace("\r\n", "\n")
    if leaf == "area_mm2":
        return parse_area_mm2(text, field_words(address), _standard_mm2(job))
    number = parse_quantity(text, kind, system, field_words(address))
    return int(number) if WHOLE.fullmatch(address) and float(number).is_integer() else number
