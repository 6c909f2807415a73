"""Which saw cuts a round hole."""

from __future__ import annotations

SAW_SIZES_MM = tuple(range(16, 181))


def saw_for(diameter_mm: float) -> str:
    """Return the saw for a hole: the next whole millimetre that is not smaller.

    >>> saw_for(60.5)
    'hole saw 61 mm'
    """
    size = next((size for size in SAW_SIZES_MM if size >= diameter_mm), None)
    if diameter_mm < SAW_SIZES_MM[0]:
        return "step drill"
    return f"hole saw {size} mm" if size is not None else "jigsaw to a scribed line"
