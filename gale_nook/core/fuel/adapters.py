"""Where the bore changes along the fuel's way, each with the adapter that takes it up."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.fuel.line import FuelRun
from gale_nook.core.job import Job

SAME_MM = 0.3  # a joiner takes up so much


@dataclass(frozen=True, slots=True)
class Adapter:
    """A change of bore.

    Attributes:
        at_mm: from the take-off; from_mm, to_mm: the nearest bores that adapters are bought for.
    """

    at_mm: float
    from_mm: float
    to_mm: float

    @property
    def words(self) -> str:
        """Its sizes, the tank's side first."""
        return f"{self.from_mm:g} to {self.to_mm:g} mm"

    @property
    def part(self) -> str:
        """The parts list's id: the wider bore first, whichever way it is put in."""
        wide, narrow = max(self.from_mm, self.to_mm), min(self.from_mm, self.to_mm)
        return f"fuel-adapter-{wide:g}-{narrow:g}"


def adapters(job: Job, run: FuelRun) -> tuple[Adapter, ...]:
    """Return every change of bore from the take-off to the heater's stub."""
    bores = job.catalogue.fuel_equipment.bores_mm
    chain = [(0.0, take_off_bore_mm(job)), (0.0, run.suction.bore_mm)]
    chain += [(run.suction_mm, run.pressure.bore_mm)]
    results = []
    before: float | None = None
    for at_mm, bore in chain:
        if bore is None:
            continue
        if before is not None and abs(bore - before) > SAME_MM:
            one, other = (min(bores, key=lambda each: abs(each - b)) for b in (before, bore))
            if one != other:
                results.append(Adapter(at_mm, one, other))
        before = bore
    return tuple(results)


def take_off_bore_mm(job: Job) -> float | None:
    """Return the bore of what the line is joined to; None where nobody has measured it."""
    fuel = job.plan.fuel
    if fuel.source == "tee-auxiliary":
        return fuel.second.shared_bore_mm
    kind = job.catalogue.fuel_equipment.take_off(fuel.take_off)
    return kind.bore_mm if kind is not None and fuel.source == "take-off" else None
