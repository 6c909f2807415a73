"""Giving up root's rights in the processes that meet the network and those that work for them."""

from __future__ import annotations

import os
import pwd
import stat
import sys
from pathlib import Path

from gale_nook.serve.folder import closed_folder

UNPRIVILEGED = "nobody"
RUN_AS = "GALE_NOOK_RUN_AS"


def may_drop(tree: Path) -> bool:
    """Return whether this runs as root and the unprivileged user could read the application and the
    Python that runs it.
    """
    if os.geteuid() != 0:
        return False
    return all(
        _all_may_read(folder)
        for folder in (tree / "gale_nook", Path(sys.prefix), Path(os.__file__).parent)
    )


def _all_may_read(folder: Path) -> bool:
    return bool(folder.stat().st_mode & stat.S_IROTH) and closed_folder(folder) is None


def drop() -> None:
    """Become the unprivileged user named in the environment, for good; nothing where
    none is named.
    """
    wanted = os.environ.pop(RUN_AS, "")
    if not wanted or os.geteuid() != 0:
        return
    user = pwd.getpwnam(wanted)
    os.setgroups([])
    os.setgid(user.pw_gid)
    os.setuid(user.pw_uid)
    os.environ["HOME"] = "/nonexistent"
    os.umask(0o077)
