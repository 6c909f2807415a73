"""The heat loss in figures, for the command line and other programs."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from gale_nook.core.heat.loss import design_loss
from gale_nook.core.job import Job


def heat_report(job: Job) -> dict[str, Any]:
    """Return the loss on the coldest night, element by element, as plain data."""
    plan, loss = job.plan, design_loss(job)
    elements = [
        {
            "id": element.id,
            "name": element.name,
            "area_m2": element.area_m2,
            "u_w_m2k": element.u_w_m2k,
            "conductance_w_k": element.conductance_w_k,
            "difference_k": element.difference_k,
            "loss_w": element.loss_w,
        }
        for element in loss.elements
    ]
    return {
        "plan": plan.name,
        "inside_c": plan.heat.inside_c,
        "outside_c": loss.outside_c,
        "elements": elements,
        "ventilation_w": loss.ventilation_w,
        "design_loss_w": loss.design_loss_w,
        "margin_percent": plan.heat.margin_percent,
        "need_w": loss.need_w,
    }


def heat_lines(report: dict[str, Any]) -> Iterator[str]:
    """Yield the report as lines of text."""
    for element in report["elements"]:
        size = ""
        if element["area_m2"] is not None and element["u_w_m2k"] is not None:
            size = f"{element['area_m2']:6.2f} m²  U {element['u_w_m2k']:5.2f}"
        yield f"{element['name']:28} {size:20} {element['loss_w']:7.0f} W"
    for name, key in (
        ("Air change", "ventilation_w"),
        ("Design loss", "design_loss_w"),
        ("Need with margin", "need_w"),
    ):
        yield f"{name:28} {'':20} {report[key]:7.0f} W"
