"""The data folder: where it is, whether it can be used at all, and the secrets kept in it."""

from __future__ import annotations

import hashlib
import os
import pwd
import secrets
import shutil
import stat
from pathlib import Path

from gale_nook.serve.trouble import StartTrouble

UNPRIVILEGED_USER = "postgres"
LEAST_FREE_BYTES = 64_000_000
OWNER_ONLY = 0o600


def data_folder(tree: Path) -> Path:
    """Return where the data belongs: `var` in the tree, or /var/lib where the unprivileged user
    cannot reach that.
    """
    wanted = tree / "var"
    if os.geteuid() != 0 or closed_folder(tree) is None:
        return wanted
    place = hashlib.sha256(str(tree.resolve()).encode()).hexdigest()[:8]
    return Path("/var/lib/gale-nook") / f"{tree.resolve().name}-{place}"


def closed_folder(folder: Path) -> Path | None:
    """Return the outermost folder on the way to `folder` that not every user may pass through; None
    when there is none.
    """
    upward = [folder.resolve(), *folder.resolve().parents]
    closed = [each for each in upward if each.exists() and not each.stat().st_mode & stat.S_IXOTH]
    return closed[-1] if closed else None


def owner() -> pwd.struct_passwd | None:
    """Return the user that the database runs as when this runs as root; None when it runs as
    whoever started it.
    """
    if os.geteuid() != 0:
        return None
    try:
        return pwd.getpwnam(UNPRIVILEGED_USER)
    except KeyError:
        raise StartTrouble(
            f"There is no user '{UNPRIVILEGED_USER}'. It comes with Debian's package postgresql."
        ) from None


def make_usable(folder: Path) -> None:
    """Make the data folder if need be.

    Raises:
        StartTrouble: something else has its name, it cannot be written, the database's user cannot
            enter it, or its disk is full.
    """
    in_the_way = next(
        (each for each in (folder, *folder.parents) if each.exists() and not each.is_dir()), None
    )
    if in_the_way is not None:
        raise StartTrouble(
            f"{in_the_way} is a file, not a folder. Move it away, or give another --data-dir."
        )
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise _unwritable(folder, error) from None
    free = shutil.disk_usage(folder).free
    if free < LEAST_FREE_BYTES:
        raise StartTrouble(
            f"The disk of {folder} is full: {free / 1e6:.0f} MB are free, "
            f"{LEAST_FREE_BYTES / 1e6:.0f} MB are needed. "
            "Make room, then start again; nothing was changed."
        )
    try:
        probe = folder / "writable"
        probe.write_bytes(b"?")
        probe.unlink()
    except OSError as error:
        raise _unwritable(folder, error) from None
    if owner() is not None:
        closed = closed_folder(folder.parent)
        if closed is not None:
            raise StartTrouble(
                f"The database's user '{UNPRIVILEGED_USER}' may not pass through {closed}, in "
                "which the data folder lies. "
                f"Allow it (chmod o+x {closed}), or give another --data-dir."
            )


def _unwritable(folder: Path, error: OSError) -> StartTrouble:
    return StartTrouble(
        f"Nothing can be written in {folder} ({error.strerror}). Make it writable, or give "
        "another "
        "--data-dir."
    )


def secret(folder: Path, name: str) -> str:
    """Return a secret of the folder, made when it is first asked for; only its owner can read its
    file.
    """
    path = folder / name
    if not path.exists() or not path.read_text().strip():
        fresh = path.with_name(f".{name}.new")
        fresh.unlink(missing_ok=True)
        fresh.touch(OWNER_ONLY)
        fresh.write_text(secrets.token_urlsafe(32))
        fresh.replace(path)  # whole or not at all, also when killed here
    path.chmod(OWNER_ONLY)
    return path.read_text().strip()
