"""One worker process: takes long work from the queue, and goes when its parent is gone.

On another host: `GALE_NOOK_DATABASE_URL=… python -m gale_nook.serve.worker_process`.
"""

from __future__ import annotations

import os
import sys

from gale_nook.serve import rights
from gale_nook.worker.nursery import Nursery
from gale_nook.worker.run import run_worker

NICE = 10  # whoever is editing goes first


def main() -> None:
    """Work until told to stop. Argument: the parent pipe's file number; none for a worker without a parent."""
    rights.drop()
    os.nice(NICE)
    nursery = Nursery()  # before any thread or connection is there: it copies itself for each piece of work
    run_worker(os.environ["GALE_NOOK_DATABASE_URL"], nursery, int(sys.argv[1]) if len(sys.argv) > 1 else None)


if __name__ == "__main__":
    main()
