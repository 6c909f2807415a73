"""The pictures of a job: kept by what is in them, so that one is kept once."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from gale_nook.store.tables import Picture

MOST_KEPT = 200  # of a job; undo reaches back to pictures that the plan does not name any more


def keep(session: Session, job_id: int, pictures: Mapping[str, bytes]) -> None:
    """Keep pictures of a job by their file name; the oldest of too many go."""
    for file, data in pictures.items():
        new = insert(Picture).values(job_id=job_id, file=file, data=data)
        kept = new.on_conflict_do_update(
            index_elements=["job_id", "file"], set_={"kept_at": func.clock_timestamp()}
        )
        session.execute(kept)
    of_job = select(Picture.file).where(Picture.job_id == job_id)
    old = of_job.order_by(Picture.kept_at.desc(), Picture.file).offset(MOST_KEPT)
    session.execute(delete(Picture).where(Picture.job_id == job_id, Picture.file.in_(old)))


def picture(session: Session, job_id: int, file: str) -> bytes | None:
    """Return a picture of a job; None where it is not kept."""
    wanted = select(Picture.data).where(Picture.job_id == job_id, Picture.file == file)
    return session.scalar(wanted)


def pictures(session: Session, job_id: int, files: Iterable[str]) -> dict[str, bytes]:
    """Return those of some pictures that are kept."""
    wanted = select(Picture.file, Picture.data).where(
        Picture.job_id == job_id, Picture.file.in_(list(files))
    )
    return {file: data for file, data in session.execute(wanted)}
