"""Edits that come of the log: what was learned is taken over, or given up."""

from __future__ import annotations

from typing import Literal

from gale_nook.core.edits.command import Command, Data
from gale_nook.core.job import Job
from gale_nook.core.plan.heat import Learned


class TakeLearned(Command):
    """Take over what the nights have taught; plain factors give it up."""

    op: Literal["take-learned"] = "take-learned"
    learned: Learned

    def change(self, data: Data, before: Job) -> None:
        del before
        data["heat"]["learned"] = self.learned.model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        if self.learned == Learned():
            return "went back to survey and sheet"
        return f"took over what {self.learned.nights} nights taught"


COMMANDS: tuple[type[Command], ...] = (TakeLearned,)
