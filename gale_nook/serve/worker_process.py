"""One worker process: takes long work from the queue, and goes when its parent is gone.

On another host: `GALE_NOOK_DATABASE_URL=… python -m gale_nook.serve.worker_process`.
"""

from __future__ import annotations

import os
import sys

from gale_nook.serve import rights
from gale_nook.worker.ties import end_with_parent

NICE = 10  # whoever is editing goes first


def main() -> None:
    """Work until told to stop. Arguments: file number of the parent's pipe, and the parent; none
    for a worker by itself.
    """
    pipe, parent = (
        (int(argument) for argument in sys.argv[1:3]) if len(sys.argv) > 2 else (None, None)
    )
    if parent is not None:
        end_with_parent(parent)
    from gale_nook.worker.nursery import Nursery  # noqa: PLC0415 - it is tied to its parent first
    from gale_nook.worker.run import run_worker  # noqa: PLC0415 - as above

    rights.drop()
    if parent is not None:
        end_with_parent(parent)  # a change of user unties it
    os.nice(NICE)
    nursery = (
        Nursery()
    )  # before any thread or connection is there: it copies itself for each piece of work
    run_worker(os.environ["GALE_NOOK_DATABASE_URL"], nursery, pipe)


if __name__ == "__main__":
    main()
