"""What the job needs: parts against the heater's kit, holes and lengths to cut, the order of work;
each station brings its own.
"""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.station import CutLine, HoleLine, Step
from gale_nook.core.stations import STATIONS


@dataclass(frozen=True, slots=True)
class PartLine:
    """One line of the parts list; quantities are pieces, or mm for what is cut.

    Attributes:
        in_stock: that the user has; price: of a piece or a metre, None where nobody said it.
        shop: kind of shop that sells it.
    """

    part: str
    label: str
    unit: str
    needed: float
    in_kit: float
    use: str
    in_stock: float = 0.0
    price: float | None = None
    shop: str = ""

    @property
    def to_buy(self) -> float:
        return max(self.needed - self.in_kit - self.in_stock, 0.0)

    @property
    def cost(self) -> float | None:
        """What is to be bought costs; None where its price is not known."""
        if self.price is None:
            return 0.0 if self.to_buy == 0 else None
        return self.price * (self.to_buy / 1000 if self.unit == "mm" else self.to_buy)


def parts_list(job: Job) -> tuple[PartLine, ...]:
    """Return what is needed for the stations done so far, what the kit holds of it, and what must
    be bought.
    """
    sheet, needed = heater_sheet(job), dict[str, float]()
    for station in STATIONS:
        for part_id, quantity in station.parts(job).items():
            needed[part_id] = needed.get(part_id, 0.0) + quantity
    kit: dict[str, float] = {}
    for item in sheet.kit if sheet is not None else ():
        kit[item.part] = kit.get(item.part, 0.0) + item.quantity
    lines = []
    for part_id, quantity in needed.items():
        part, stock = job.catalogue.parts[part_id], job.plan.build.stock_of(part_id)
        lines.append(
            PartLine(
                part_id,
                part.label,
                part.unit,
                quantity,
                kit.get(part_id, 0.0),
                part.use,
                stock.have if stock is not None else 0.0,
                _price(job, part_id),
                part.shop,
            )
        )
    return tuple(lines)


def _price(job: Job, part_id: str) -> float | None:
    """What the user paid, else what the workshop's book says; None where neither does."""
    stock = job.plan.build.stock_of(part_id)
    paid = stock.price if stock is not None else None
    return paid if paid is not None else job.plan.book.price_of(part_id)


def holes_to_cut(job: Job) -> tuple[HoleLine, ...]:
    """Return every hole with the next whole-millimetre saw that is not smaller."""
    return tuple(hole for station in STATIONS for hole in station.holes(job))


def cuts(job: Job) -> tuple[CutLine, ...]:
    """Return the lengths to cut."""
    return tuple(cut for station in STATIONS for cut in station.cuts(job))


def steps(job: Job) -> tuple[Step, ...]:
    """Return the steps that the plan can already tell, in order of work; of one kind, as their
    station tells them.
    """
    order = {kind.id: number for number, kind in enumerate(job.catalogue.work.kinds)}
    found = (step for station in STATIONS for step in station.steps(job))
    return tuple(sorted(found, key=lambda step: order[step.kind]))
