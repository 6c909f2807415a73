"""Which saw cuts a round hole."""

from __future__ import annotations

from gale_nook.core.quantities.sentences import q

# hole saws as a shop has them: metric and inch sizes of bimetal saws
SAW_SIZES_MM = (
    *(16, 17, 19, 20, 21, 22, 24, 25, 27, 29, 30, 32, 33, 35, 37, 38, 40, 41, 43, 44, 46, 48),
    *(51, 52, 54, 57, 59, 60, 64, 65, 67, 68, 70, 73, 76, 79, 83, 86, 89, 92, 95, 98, 102),
    *(105, 108, 111, 114, 121, 127, 133, 140, 146, 152, 160, 168, 177),
)


def saw_for(diameter_mm: float) -> str:
    """Return the saw for a hole: the next that a shop has and that is not smaller.

    >>> from gale_nook.core.quantities.sentences import say
    >>> say(saw_for(60.5))
    'hole saw 64 mm'
    """
    size = next((size for size in SAW_SIZES_MM if size >= diameter_mm), None)
    if diameter_mm < SAW_SIZES_MM[0]:
        return "step drill"
    return f"hole saw {q(size)}" if size is not None else "jigsaw to a scribed line"


def saw_over(diameter_mm: float) -> float:
    """Return the size of the hole that the next saw cuts which is not smaller; the size itself
    where no saw is so large.

    >>> saw_over(60.5)
    64.0
    """
    return float(next((size for size in SAW_SIZES_MM if size >= diameter_mm), diameter_mm))
