"""What taking a book changes in a job: verdicts and margins, heat need, cost."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.apply import applied
from gale_nook.core.book.commands import TakeBook
from gale_nook.core.checking import checked
from gale_nook.core.findings.changes import Changed, changes
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.job import Job
from gale_nook.core.planner.measures import cost_money


@dataclass(frozen=True, slots=True)
class BookEffect:
    """A job before and after it takes a book.

    Attributes:
        changed: findings whose verdict or margin differs, the worst first.
        need_w: heat need on the design night, before and after.
        cost_money: what is to be bought costs, before and after.
    """

    changed: tuple[Changed, ...]
    need_w: tuple[float, float]
    cost_money: tuple[float, float]

    @property
    def worse(self) -> tuple[Changed, ...]:
        """Findings whose verdict gets worse."""
        return tuple(each for each in self.changed if each.worse and each.turned)

    @property
    def gets_over(self) -> tuple[Changed, ...]:
        """Findings that are over by it, and were not."""
        return tuple(e for e in self.worse if e.after and e.after.verdict is Verdict.OVER)

    @property
    def is_none(self) -> bool:
        """Whether nothing that is told changes."""
        (need, needs), (cost, costs) = self.need_w, self.cost_money
        return not self.changed and abs(needs - need) < 1 and abs(costs - cost) < 1


def book_effect(job: Job, command: TakeBook) -> BookEffect:
    """Return what a job's taking a book changes; raises BadInput where it cannot take it."""
    after = Job(applied(job, command), job.given_catalogue)
    return BookEffect(
        changes(checked(job).findings, checked(after).findings),
        (design_loss(job).need_w, design_loss(after).need_w),
        (cost_money(job), cost_money(after)),
    )
