"""Giving up root's rights in the processes that meet the network and those that work for them."""

from __future__ import annotations

import importlib
import os
import pkgutil
import pwd
from pathlib import Path

UNPRIVILEGED = "nobody"
RUN_AS = "GALE_NOOK_RUN_AS"


def may_drop(tree: Path) -> bool:
    """Return whether the unprivileged user could read the application's files (templates, styles, fonts)."""
    if os.geteuid() != 0:
        return False
    way = [tree.resolve(), *tree.resolve().parents]
    return all(folder.stat().st_mode & 0o001 for folder in way) and bool((tree / "gale_nook").stat().st_mode & 0o004)


def drop() -> None:
    """Become the unprivileged user named in the environment, for good; nothing where none is named.

    Everything is imported first: the interpreter's own library may lie where only root can read.
    """
    wanted = os.environ.pop(RUN_AS, "")
    if not wanted or os.geteuid() != 0:
        return
    _import_everything()
    user = pwd.getpwnam(wanted)
    os.setgroups([])
    os.setgid(user.pw_gid)
    os.setuid(user.pw_uid)
    os.environ["HOME"] = "/nonexistent"
    os.umask(0o077)


def _import_everything() -> None:
    import encodings

    import gale_nook

    for name in ("ascii", "latin_1", "cp1252", "utf_8_sig", "utf_16", "idna", "punycode"):
        importlib.import_module(f"{encodings.__name__}.{name}")
    for found in pkgutil.walk_packages(gale_nook.__path__, "gale_nook."):
        if not found.name.endswith(("__main__", ".env")) and ".migrations" not in found.name:
            importlib.import_module(found.name)
