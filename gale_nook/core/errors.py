"""The errors of the core, one tree. A broken rule of the job is a finding, never an error."""

from __future__ import annotations

import traceback


class GaleNookError(Exception):
    """Root of every error that Gale Nook raises on purpose; its text may be shown to the user."""


class BadInput(GaleNookError):
    """A value that cannot be taken: names the value, what is wrong with it and what would be
    accepted.

    Attributes:
        name: what the value is for, in the user's words or as a plan address.
        value: the text or number as it was given.
        problem: one plain sentence.
    """

    def __init__(self, name: str, value: object, problem: str) -> None:
        self.name = name
        self.value = value
        self.problem = problem
        super().__init__(f"{name}: {problem}" if name else problem)


class Gone(BadInput):
    """Something that was there when the page was shown, and has been taken out since."""

    def __init__(self, name: str, value: object) -> None:
        super().__init__(name, value, f"This {name} is not there any more.")


class OtherKind(BadInput):
    """One of several things that should all be of one kind."""

    def __init__(self, name: str, value: object, kind: str) -> None:
        super().__init__(name, value, f"Each of these should be a {kind}.")


class TooLong(BadInput):
    """A text with more characters than can be kept."""

    def __init__(self, name: str, value: str, most: int) -> None:
        super().__init__(name, value, f"The text is longer than {most} characters.")


class PlanUnreadable(GaleNookError):
    """A plan file that cannot be read, with the places in it and what is wrong there.

    Attributes:
        places: pairs of (place in the file, problem there).
    """

    def __init__(self, summary: str, places: tuple[tuple[str, str], ...] = ()) -> None:
        self.summary = summary
        self.places = places
        detail = "; ".join(f"{place}: {problem}" for place, problem in places)
        super().__init__(f"{summary} {detail}".strip())


class UnknownEntry(GaleNookError):
    """Something asked for by id that is not in the catalogue or the plan."""

    def __init__(self, sort: str, entry_id: str) -> None:
        self.sort = sort
        self.entry_id = entry_id
        super().__init__(f"There is no {sort} '{entry_id}'.")


class NotConverged(GaleNookError):
    """A search that did not come to rest: what it was for, its steps, and what was left over."""

    def __init__(self, what: str, steps: int, left_over: float) -> None:
        self.what = what
        self.steps = steps
        self.left_over = left_over
        super().__init__(
            f"The {what} was not found in {steps} steps; {left_over:.3g} was left over."
        )


def places(error: BaseException, most: int = 6) -> list[str]:
    """Return where an error came from: our own files and lines, innermost last, and never what it
    says.
    """
    frames = [f for f in traceback.extract_tb(error.__traceback__) if "/gale_nook/" in f.filename]
    return [f"{frame.filename.rsplit('/gale_nook/', 1)[1]}:{frame.lineno}" for frame in frames][
        -most:
    ]
