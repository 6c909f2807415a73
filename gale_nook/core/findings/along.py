"""What is said of anything that lies along a way: leads, hoses."""

from __future__ import annotations

from gale_nook.core.quantities.sentences import q


def hangs(name: str, free_mm: float) -> str:
    """Return how far something hangs free between its clips."""
    return f"The {name} hangs free over {q(round(free_mm))} at most."


def edge_of_hole(name: str, lining: str) -> str:
    """Return what the hole of something is lined with; with an empty text for nothing."""
    return f"The hole of the {name} has {lining or 'a bare edge'}."


def new_hole(diameter_mm: float) -> str:
    """Return the remedy where something leads outside without a hole."""
    return f"Put a hole of {q(diameter_mm)} in, with its grommet."


def without_sleeve(name: str, outside_mm: float, bare_mm: float) -> str:
    """Return how much of what lies outside has no sleeve."""
    bare = q(round(bare_mm))
    return f"Of {q(round(outside_mm))} outside, {bare} of the {name} lie without a sleeve."


def sleeved(length_mm: float) -> str:
    """Return the remedy where something lies outside without a sleeve."""
    return f"Draw a sleeve over the {q(length_mm)} outside."


def follows(longest_mm: float, has_mm: float, flexes: bool) -> str:
    """Return how long something has to be at a slide-out's edge, and how long it is."""
    needs = f"It needs {q(round(longest_mm))} with the slide-out out or in, and has"
    bare = "" if flexes else " It has no flexible stretch there."
    return f"{needs} {q(round(has_mm))}.{bare}"


def more_slack(slack_mm: float) -> str:
    """Return the remedy where a flexible stretch is too short."""
    return f"Give it {q(slack_mm)} of slack."


def let_flex(slack_mm: float) -> str:
    """Return the remedy where nothing flexes."""
    return f"Let it flex there, with {q(slack_mm)} of slack."
