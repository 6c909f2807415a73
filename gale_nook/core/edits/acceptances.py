"""Accepting a finding that is over, and withdrawing that."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from gale_nook.core.base.models import Name
from gale_nook.core.edits.command import Command, Data, fresh_id
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.settings import Acceptance, RunName


class Accept(Command):
    """Accept a finding that is over, with reason and name."""

    op: Literal["accept"] = "accept"
    acceptance: Acceptance

    def change(self, data: Data, before: Job) -> None:
        accepted = self.acceptance
        gone = Withdraw(rule=accepted.rule, run=accepted.run, subject=accepted.subject)
        gone.change(data, before)
        data["acceptances"].append(accepted.model_dump(mode="json"))

    def words(self, before: Job) -> str:
        del before
        return "accepted a deviation"

    def rebased(self, seen: Plan, now: Plan) -> Command:
        """Return it with another id, where somebody else took its id in the meantime."""
        known = {accepted.id for accepted in seen.acceptances}
        taken = {accepted.id for accepted in now.acceptances}
        if self.acceptance.id in known or self.acceptance.id not in taken:
            return self
        new = fresh_id(now.acceptances, "a")
        return Accept(acceptance=self.acceptance.model_copy(update={"id": new}))


class Withdraw(Command):
    """Withdraw an acceptance."""

    op: Literal["withdraw"] = "withdraw"
    rule: Name
    run: RunName = ""
    subject: Annotated[str, Field(max_length=120)]

    def change(self, data: Data, before: Job) -> None:
        del before
        gone = (self.rule, self.run, self.subject)
        data["acceptances"] = [
            a for a in data["acceptances"] if (a["rule"], a["run"], a["subject"]) != gone
        ]

    def words(self, before: Job) -> str:
        del before
        return "withdrew an acceptance"
