"""What the drawings' style sheet says of a thing that is drawn, for renderers that do not know CSS.

The sheet keeps to what this reads: a rule a line, hex colours, selectors of classes and of
descendants.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from gale_nook.drawing.svg import styles

Chain = tuple[frozenset[str], ...]  # classes of a thing and of all that it lies in, outermost first
_RULE = re.compile(r"([^{}]+)\{([^{}]*)\}")


@dataclass(frozen=True, slots=True)
class Rule:
    """One selector with what it sets; the last step of `steps` is the thing itself."""

    steps: tuple[frozenset[str], ...]
    sets: Mapping[str, str]

    @property
    def weight(self) -> int:
        return sum(len(step) for step in self.steps)

    def fits(self, chain: Chain) -> bool:
        """Return whether the selector is about a thing."""
        *outer, own = self.steps
        if not own <= chain[-1]:
            return False
        around = iter(chain[:-1])
        return all(any(step <= classes for classes in around) for step in outer)


@lru_cache(maxsize=1)
def rules() -> tuple[Rule, ...]:
    """Return the rules of the style sheet, the weightier and later ones last."""
    results = []
    for selectors, body in _RULE.findall(styles()):
        sets = dict(part.split(":", 1) for part in body.split(";") if ":" in part)
        clean = {name.strip(): value.strip() for name, value in sets.items()}
        for selector in selectors.split(","):
            # an element's name counts as a class that things of its kind have
            steps = tuple(
                frozenset(part for part in step.split(".") if part) for step in selector.split()
            )
            results.append(Rule(steps, clean))
    return tuple(sorted(results, key=lambda rule: rule.weight))


@lru_cache(maxsize=2048)
def style_of(chain: Chain) -> Mapping[str, str]:
    """Return what holds for a thing.

    >>> style_of((frozenset({"drawing"}), frozenset({"hole"})))["stroke-width"]
    '1.2'
    """
    set_by: dict[str, str] = {}
    for rule in rules():
        if rule.fits(chain):
            set_by.update(rule.sets)
    return set_by
