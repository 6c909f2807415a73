"""The jobs as the web sees them: each call is one short transaction, and none is open while
something is computed.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager

from sqlalchemy import Engine
from sqlalchemy.orm import Session

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.command import Command
from gale_nook.core.errors import GaleNookError
from gale_nook.core.log.entries import LogEntry
from gale_nook.core.plan.document import Plan
from gale_nook.store import books, history, jobs, live_runs, logs, pictures, prints
from gale_nook.store.books import HeldBook
from gale_nook.store.editing import Edit
from gale_nook.store.history import EditLine
from gale_nook.store.jobs import JobHead, JobLine
from gale_nook.store.live_runs import Batch, Shown
from gale_nook.store.logs import Version

TRIES = 8  # of laying an edit on a head that others keep moving


class NotYours(GaleNookError):
    """An edit of what somebody's role does not let them change."""

    def __init__(self) -> None:
        super().__init__("Helpers tick cards, answer at the first fire and write the log only.")


class JobStore:
    """Jobs and revisions in one database.

    Attributes:
        by: who makes the edits; empty where nobody signs in.
        only: the parts of a plan that may be changed; None for all.
    """

    def __init__(self, engine: Engine, by: str = "", only: frozenset[str] | None = None) -> None:
        self.engine = engine
        self.by, self.only = by, only

    def made_by(self, name: str, only: frozenset[str] | None = None) -> JobStore:
        """Return the same jobs, as somebody edits them."""
        return JobStore(self.engine, name, only)

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """A session that is committed at the end, or rolled back."""
        with Session(self.engine) as session, session.begin():
            yield session

    def head(self, job_id: int) -> JobHead:
        """Return a job as it stands; raises NoSuchJob."""
        with self.transaction() as session:
            return jobs.head_of(session, job_id)

    def page(self, number: int = 1) -> tuple[list[JobLine], bool]:
        """Return one page of jobs, last changed first, and whether there are more."""
        with self.transaction() as session:
            return jobs.list_jobs(session, number)

    def named(self, name: str) -> Plan | None:
        """Return the plan of the job of a name; None where there is none."""
        with self.transaction() as session:
            return jobs.plan_named(session, name)

    def is_named(self, name: str) -> bool:
        """Return whether a job is called so."""
        with self.transaction() as session:
            return jobs.is_named(session, name)

    def create(
        self,
        plan: Plan,
        summary: str,
        kept: Mapping[str, bytes] | None = None,
        log: Iterable[LogEntry] = (),
    ) -> int:
        """Add a job, with its pictures by their file name and its log; returns its id."""
        with self.transaction() as session:
            job_id = jobs.create_job(session, plan, summary, self.by)
            pictures.keep(session, job_id, kept or {})
            logs.write(session, job_id, log, self.by)
            return job_id

    def keep_pictures(self, job_id: int, kept: Mapping[str, bytes]) -> None:
        """Keep pictures of a job by their file name; raises NoSuchJob."""
        with self.transaction() as session:
            jobs.locked_job(session, job_id)
            pictures.keep(session, job_id, kept)

    def held_book(self) -> HeldBook:
        """Return the workshop's own book that holds."""
        with self.transaction() as session:
            return books.held(session)

    def picture(self, job_id: int, file: str) -> bytes | None:
        """Return a picture of a job; None where it is not kept."""
        with self.transaction() as session:
            return pictures.picture(session, job_id, file)

    def pictures(self, job_id: int, plan: Plan) -> dict[str, bytes]:
        """Return the pictures that a plan names, as far as they are kept."""
        files = plan.pictures
        if not files:
            return {}
        with self.transaction() as session:
            return pictures.pictures(session, job_id, files)

    def all_pictures(self, job_id: int, plan: Plan) -> dict[str, bytes]:
        """Return the pictures that a plan names and those of its log, as far as they are kept."""
        of_log = {entry.photo for entry in self.log(job_id) if entry.photo}
        with self.transaction() as session:
            return pictures.pictures(session, job_id, {*plan.pictures, *of_log})

    def job_ids(self) -> list[int]:
        """Return every job's id, the oldest first."""
        with self.transaction() as session:
            return jobs.job_ids(session)

    def begin_live(self, job_id: int, source: str, batches: Iterable[Batch] = ()) -> None:
        """Begin a run of readings that come one after another; raises NoSuchJob."""
        with self.transaction() as session:
            live_runs.begin(session, job_id, source)
            live_runs.add(session, job_id, batches)

    def add_live(self, job_id: int, batch: Batch) -> None:
        """Add lines to the run of a job; raises BadInput where none was begun, or it is full."""
        with self.transaction() as session:
            live_runs.add(session, job_id, (batch,))

    def live(self, job_id: int, *, whole: bool = False) -> Shown | None:
        """Return the run of a job as far as its time has come; None where there is none."""
        with self.transaction() as session:
            return live_runs.shown(session, job_id, whole=whole)

    def drop_live(self, job_id: int) -> None:
        """Forget the run of a job."""
        with self.transaction() as session:
            live_runs.drop(session, job_id)

    def note_print(self, job_id: int, number: int) -> None:
        """Note that a revision was printed."""
        with self.transaction() as session:
            prints.note(session, job_id, number)

    def printed_before(self, job_id: int, number: int) -> tuple[int, Plan] | None:
        """Return the last revision that was printed, other than one, with its plan."""
        with self.transaction() as session:
            return prints.last_before(session, job_id, number)

    def log_stamp(self, job_id: int) -> int:
        """Return a number that changes with every change of a job's log."""
        with self.transaction() as session:
            return logs.stamp(session, job_id)

    def logged_jobs(self, most: int) -> list[int]:
        """Return the jobs that have a log, by their ids."""
        with self.transaction() as session:
            return logs.logged_jobs(session, most)

    def log_count(self, job_id: int) -> int:
        """Return how many versions of entries a job's log has."""
        with self.transaction() as session:
            return logs.count(session, job_id)

    def log(self, job_id: int) -> tuple[LogEntry, ...]:
        """Return the entries of a job's log, the oldest first."""
        with self.transaction() as session:
            return logs.entries(session, job_id)

    def log_versions(self, job_id: int, entry_id: str) -> list[Version]:
        """Return every version of an entry, the newest first."""
        with self.transaction() as session:
            return logs.versions(session, job_id, entry_id)

    def write_log(self, job_id: int, entries: Iterable[LogEntry]) -> None:
        """Write entries down; raises NoSuchJob."""
        with self.transaction() as session:
            logs.write(session, job_id, entries, self.by)

    def take_out_of_log(self, job_id: int, entry_id: str) -> None:
        """Take an entry out; raises NoSuchJob."""
        with self.transaction() as session:
            logs.take_out(session, job_id, entry_id, self.by)

    def delete(self, job_id: int) -> None:
        """Take a job out with all its revisions; raises NoSuchJob."""
        with self.transaction() as session:
            jobs.delete_job(session, job_id)

    def undo(self, job_id: int, base: int) -> str | None:
        """Show the revision before the head; returns what was undone."""
        with self.transaction() as session:
            return jobs.undo(session, job_id, base)

    def redo(self, job_id: int, base: int) -> str | None:
        """Show the revision that was last undone; returns what was redone."""
        with self.transaction() as session:
            return jobs.redo(session, job_id, base)

    def save(self, job_id: int, base: int, command: Command, catalogue: Catalogue) -> int:
        """Apply and keep a command; returns the new revision's number.

        The command is worked out with no transaction open, then kept if the job still stands as it
        was read; where somebody was quicker it is worked out again.

        Args:
            base: number of the revision that the user saw.

        Raises:
            Collision: what the command writes was written by another edit since then.
            BadInput: the command cannot be carried out.
            MovedOn: others keep changing the job.
        """
        for _ in range(TRIES):
            with self.transaction() as session:
                head = jobs.head_of(session, job_id)
                seen = jobs.plan_at(session, job_id, base) if base != head.number else head.plan
            edit = Edit.of(command, base, seen, head, catalogue)
            if edit.plan == head.plan:
                return head.number
            self._allowed(head.plan, edit.plan)
            with self.transaction() as session:
                job = jobs.locked_job(session, job_id)
                if job.head == head.number:
                    return jobs.append(session, job, edit.plan, edit.summary, self.by)
        raise jobs.MovedOn

    def _allowed(self, before: Plan, after: Plan) -> None:
        if self.only is None:
            return
        for name in type(before).model_fields:
            if name not in self.only and getattr(before, name) != getattr(after, name):
                raise NotYours

    def edits(
        self, job_id: int, before: int | None = None
    ) -> tuple[list[EditLine], list[EditLine]]:
        """Return a page of a job's edits, the newest first, and all that have a name."""
        with self.transaction() as session:
            jobs.head_of(session, job_id)
            return history.edits(session, job_id, before)

    def plan_after(self, job_id: int, number: int) -> Plan:
        """Return the plan as it stood after an edit; raises BadInput where it is not kept."""
        with self.transaction() as session:
            jobs.head_of(session, job_id)
            return history.plan_of(session, job_id, number)

    def name_edit(self, job_id: int, number: int, label: str) -> None:
        """Give an edit a name, with which it is kept for good."""
        with self.transaction() as session:
            history.name_edit(session, job_id, number, label)

    def go_back(self, job_id: int, base: int, number: int) -> int:
        """Show the plan of an earlier edit again, as an edit of its own; returns its number.

        Raises:
            BadInput: that edit is not kept any more.
            MovedOn: the job was changed in the meantime.
        """
        with self.transaction() as session:
            job = jobs.locked_job(session, job_id)
            if job.head != base:
                raise jobs.MovedOn
            plan = history.plan_of(session, job_id, number)
            return jobs.append(session, job, plan, f"Went back to edit {number}", self.by)
