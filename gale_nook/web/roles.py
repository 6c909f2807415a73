"""What each role may do, by address: in one place, so that nothing is left open by being
forgotten.

Looking is for everybody who is signed in, and every change for fitters, unless it is said here.
"""

from __future__ import annotations

import re

from gale_nook.store.people import Role

READS = {"GET", "HEAD", "OPTIONS"}
# what whoever is not signed in may ask for
OPEN = re.compile(r"/(static/.*|health|ready|sign-in|join|c/[^/]+(/.*)?|pair|gale-nook\.crt)")
OWN = re.compile(r"/(sign-out|account(/.*)?|units)")  # everybody's own
OWNERS = re.compile(r"/(people(/.*)?|devices(/.*)?|metrics|book/keep|jobs/\d+/delete)")
# cards, the first fire and the log; what is typed at the first fire may change nothing else
HELPERS = re.compile(
    r"/jobs/\d+/(build/(tick|built|cut|photo|phone)"
    r"|firing/(set|command|readings|simulate|live/(begin|lines|keep|drop))"
    r"|log/(entry|remove|done|csv|weather|photo|fault|phone))"
)
FIRST_FIRE = re.compile(r"/jobs/\d+/firing/(set|command)")
ONLY_FIRST_FIRE = frozenset({"firing"})


def is_open(path: str) -> bool:
    """Return whether an address is there for whoever is not signed in."""
    return OPEN.fullmatch(path) is not None


def least_role(method: str, path: str) -> Role:
    """Return the least role that a request needs."""
    if OWN.fullmatch(path):
        return "viewer"
    if OWNERS.fullmatch(path):
        return "owner"
    if method in READS:
        return "viewer"
    return "helper" if HELPERS.fullmatch(path) else "fitter"


def may_change(role: Role, path: str) -> frozenset[str] | None:
    """Return the parts of a plan that a role may change at an address; None for all."""
    if role == "helper" and FIRST_FIRE.fullmatch(path):
        return ONLY_FIRST_FIRE
    return None
