"""The close-up: floor section through the mount, to scale."""

from __future__ import annotations

from gale_nook.core.derived import Derived
from gale_nook.core.quantities.length import UnitSystem, format_length
from gale_nook.drawing.scene import Line, Node, Rect, Scene, Text

WIDTH = 300.0
MIDDLE = 84.0


def section(derived: Derived, system: UnitSystem) -> Scene | None:
    """Return the floor layers with the mount's collar let in, or None without a place and mount."""
    mount, spot = derived.mount, derived.plan.spot
    if mount is None or spot is None or not mount.holes:
        return None
    width_mm = max(hole.width_mm or hole.diameter_mm for hole in mount.holes)
    scale = min(0.9, 84 / width_mm, 120 / max(derived.finish_z_mm - derived.underside_z_mm + 90, 1))
    top = 34 + 30 * scale

    def v(z_mm: float) -> float:
        return top + (derived.finish_z_mm - z_mm) * scale

    half = width_mm / 2 * scale
    nodes: list[Node] = []
    z = derived.finish_z_mm
    labelled = -99.0
    for layer in derived.plan.vehicle.floor.layers:
        height = layer.thickness_mm * scale
        for low, high in ((4.0, MIDDLE - half), (MIDDLE + half, 2 * MIDDLE - 4)):
            nodes.append(Rect((low, v(z)), (high - low, max(height, 1.2)), f"layer layer-{layer.material}"))
        at = max(v(z) + height / 2 + 4, labelled + 13)
        labelled = at
        label = derived.catalogue.materials[layer.material].label
        nodes.append(
            Text(
                (2 * MIDDLE + 4, at),
                f"{format_length(layer.thickness_mm, system, unit=False)} {label}"[:26],
                "section-text",
            )
        )
        z -= layer.thickness_mm
    if derived.plan.vehicle.floor.corrugation_mm:
        rib = derived.plan.vehicle.floor.corrugation_mm * scale
        nodes.append(Line([(4, v(z) + rib), (2 * MIDDLE - 4, v(z) + rib)], "rib"))
    plane = v(derived.mount_plane_z_mm)
    reach = (mount.stack.maximum or 40.0) * scale
    if mount.place == "inside":
        nodes.append(Rect((MIDDLE - half - 12, plane - 4), (2 * half + 24, 4), "flange"))
        nodes.append(Rect((MIDDLE - half + 2, plane), (2 * half - 4, reach), "collar"))
        nodes.append(Line([(MIDDLE - half - 18, plane + reach), (MIDDLE + half + 18, plane + reach)], "collar-end"))
        nodes.append(
            Text(
                (MIDDLE, plane + reach + 13),
                f"collar reaches {format_length(mount.stack.maximum or 0, system)}",
                "section-text",
                "middle",
            )
        )
    advice = _advice(derived)
    if advice:
        nodes.append(Text((4, 28), advice, "section-text strong"))
    nodes.append(Text((4, 14), f"Section: {format_length(derived.stack_mm, system)} to pass", "section-title"))
    lowest = plane + reach if mount.place == "inside" else labelled
    bottom = max(v(derived.underside_z_mm), lowest) + 22
    return Scene("Section of the floor through the mount", (WIDTH, bottom), nodes, {"class": "drawing section"})


def _advice(derived: Derived) -> str:
    """What to pack or rebate so that the floor suits the mount; empty where it does."""
    mount, stack = derived.mount, derived.stack_mm
    if mount is None:
        return ""
    if mount.stack.maximum is not None and stack > mount.stack.maximum:
        return f"{stack - mount.stack.maximum:.0f} mm too thick: rebate, or take a longer collar"
    if mount.stack.minimum is not None and stack < mount.stack.minimum:
        return f"{mount.stack.minimum - stack:.0f} mm too thin: pack with a ring"
    return ""
