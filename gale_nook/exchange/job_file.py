"""A job as one file: its plan as JSON; with photos a ZIP of the plan and the pictures.

In the ZIP the plan is `plan.json`, as it is without photos; its photos name their pictures, which
are JPEG files called `pictures/<SHA-256>.jpg`.
"""

from __future__ import annotations

import io
import zipfile
import zlib
from collections.abc import Mapping, Sequence

from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.log.entries import LogEntry
from gale_nook.core.plan.document import MAX_FILE_BYTES, Plan, read_plan, write_plan
from gale_nook.exchange.log_csv import MAX_LOG_BYTES, read_log, write_log
from gale_nook.exchange.photos import MOST_BYTES, KeptPicture, kept_picture

PLAN_NAME = "plan.json"
LOG_NAME = "log.csv"
MOST_ENTRIES = 200
UNREADABLE = "This ZIP file cannot be read. Was it copied whole, and has it no password?"
# what an entry raises that is cut off or damaged, encrypted, or packed in a way of its own
BROKEN = (zipfile.BadZipFile, zlib.error, EOFError, RuntimeError)
ZIP_START = b"PK\x03\x04"


def job_file(plan: Plan, pictures: Mapping[str, bytes], log: Sequence[LogEntry] = ()) -> bytes:
    """Return the ZIP of a plan with its pictures, by their file name, and its log."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(PLAN_NAME, write_plan(plan))
        if log:
            archive.writestr(LOG_NAME, write_log(log))
        for file, data in sorted(pictures.items()):
            archive.writestr(_entry(file), data, zipfile.ZIP_STORED)
    return out.getvalue()


def read_job_log(raw: bytes) -> tuple[LogEntry, ...]:
    """Return the log in a file that `read_job_file` has read; none where there is none in it.

    Raises:
        PlanUnreadable: it cannot be read; names the line.
    """
    if not raw.startswith(ZIP_START):
        return ()
    with zipfile.ZipFile(io.BytesIO(raw)) as archive:
        if LOG_NAME not in archive.namelist():
            return ()
        return read_log(_read(archive, LOG_NAME, MAX_LOG_BYTES))


def read_job_file(raw: bytes) -> tuple[Plan, dict[str, bytes]]:
    """Return the plan of a file, and its pictures as they are kept: taken apart and written anew.

    Raises:
        PlanUnreadable: it is neither a plan nor a ZIP with one.
        BadInput: one of its pictures is none.
    """
    if not raw.startswith(ZIP_START):
        return read_plan(raw), {}
    try:
        archive = zipfile.ZipFile(io.BytesIO(raw))
    except zipfile.BadZipFile:
        raise PlanUnreadable(UNREADABLE) from None
    with archive:
        return _from_archive(archive)


def _from_archive(archive: zipfile.ZipFile) -> tuple[Plan, dict[str, bytes]]:
    names = set(archive.namelist())
    if len(archive.namelist()) > MOST_ENTRIES or PLAN_NAME not in names:
        raise PlanUnreadable(
            f"This ZIP file is no job that was exported from here: there is no {PLAN_NAME} in it, "
            f"or more than {MOST_ENTRIES} files."
        )
    plan = read_plan(_read(archive, PLAN_NAME, MAX_FILE_BYTES))
    renamed, pictures = {"": ""}, {}
    for file in plan.pictures:
        if _entry(file) in names:
            kept = kept_picture(_read(archive, _entry(file), MOST_BYTES))
            _check_size(plan, file, kept)
            pictures[kept.file], renamed[file] = kept.data, kept.file
    return _with_names(plan, renamed), pictures


def _check_size(plan: Plan, file: str, kept: KeptPicture) -> None:
    """A photo's points are pixels of the picture as the plan knows it."""
    for photo in plan.vehicle.photos:
        size = (photo.width_px, photo.height_px)
        if photo.file == file and size != (kept.width_px, kept.height_px):
            problem = f"The picture of {photo.name} has another size than the plan says."
            raise BadInput("photo", photo.name, problem)


def _with_names(plan: Plan, renamed: Mapping[str, str]) -> Plan:
    """The plan with its pictures called as they are kept."""
    photos = tuple(
        photo.model_copy(update={"file": renamed.get(photo.file, photo.file)})
        for photo in plan.vehicle.photos
    )
    solids = tuple(
        solid.model_copy(update={"picture": renamed.get(solid.picture, solid.picture)})
        for solid in plan.vehicle.solids
    )
    vehicle = plan.vehicle.model_copy(update={"photos": photos, "solids": solids})
    of_cards = tuple(
        photo.model_copy(update={"file": renamed.get(photo.file, photo.file)})
        for photo in plan.build.photos
    )
    build = plan.build.model_copy(update={"photos": of_cards})
    return plan.model_copy(update={"vehicle": vehicle, "build": build})


def _entry(file: str) -> str:
    return f"pictures/{file}.jpg"


def _read(archive: zipfile.ZipFile, name: str, most_bytes: int) -> bytes:
    """What an entry holds; no more of it is unpacked than may be in it."""
    try:
        with archive.open(name) as entry:
            data = entry.read(most_bytes + 1)
    except BROKEN:
        raise PlanUnreadable(UNREADABLE) from None
    if len(data) > most_bytes:
        problem = f"{name} in this ZIP file is larger than {most_bytes / 1e6:.1f} MB."
        raise PlanUnreadable(problem)
    return data
