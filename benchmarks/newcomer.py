"""How many actions a newcomer's whole job takes, as `tests/browser/test_newcomer.py` counts them: a
click, a key or a filled field each. It was 156 before the measuring round, 61 % of it survey.
"""

from __future__ import annotations

MOST_ACTIONS = 100
BEFORE, BEFORE_SURVEY = 156, 95


def told(actions: int, survey: int) -> str:
    """Return the figure beside what it was before.

    >>> told(78, 39)
    "a newcomer's whole job: 78 actions (before: 156), 39 of them survey (before: 95)"
    """
    return (
        f"a newcomer's whole job: {actions} actions (before: {BEFORE}), {survey} of them survey "
        f"(before: {BEFORE_SURVEY})"
    )
