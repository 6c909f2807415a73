"""The tie of a process to the one that started it."""

from __future__ import annotations

import ctypes
import os
import signal

PR_SET_PDEATHSIG = 1  # linux/prctl.h


def end_with_parent(parent: int) -> None:
    """Let the kernel end this process when the one that started it is gone, however it went; now,
    if it is gone already.

    Args:
        parent: number of the process that started this one.
    """
    ctypes.CDLL(None, use_errno=True).prctl(PR_SET_PDEATHSIG, signal.SIGKILL, 0, 0, 0)
    if os.getppid() != parent:
        os._exit(0)
