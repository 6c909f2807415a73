"""Plans that several tests share."""

from __future__ import annotations

from gale_nook.core.plan.air import Air
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.firing import Firing
from gale_nook.core.plan.pipes import Pipes
from gale_nook.core.plan.settings import Acceptance
from gale_nook.demo.load import demo_plan

BOOT_RACK_MM = 2387.0


def heron_blowing_free() -> Plan:
    """Heron without ducts: its warm end blows at the boot rack 110 mm off, and that is accepted."""
    heron = demo_plan("heron")
    solids = tuple(
        solid.model_copy(update={"x_mm": BOOT_RACK_MM}) if solid.id == "shoe-box" else solid
        for solid in heron.vehicle.solids
    )
    accepted = Acceptance(
        id="a-1",
        rule="spot.outlet",
        subject="outlet",
        reason="The warm end is ducted; the boot rack is open wire and lifts out.",
        by="Ina of Skerry Lane",
        on="2026-10-03",
        measured=110.0,
        about="wire boot rack",
        heater="bothy-40",
        mount="turret",
        at=(2760.0, -286.0, 180.0),
    )
    return heron.model_copy(
        update={
            "vehicle": heron.vehicle.model_copy(update={"solids": solids}),
            "air": Air(),
            "acceptances": (accepted,),
        }
    )


def example(name: str) -> Plan:
    """Return an example by its name; `quarto-bare` is Quarto before its burner's pipes are laid."""
    if name != "quarto-bare":
        return demo_plan(name)
    quarto = demo_plan("quarto")
    return quarto.model_copy(update={"pipes": Pipes(), "firing": Firing()})
