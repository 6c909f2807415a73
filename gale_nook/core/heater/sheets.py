"""Heaters of one's own beside the catalogue's, and what a limit sheet must not contradict."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.limit import Limit, LimitBand
from gale_nook.core.catalogue.items import CatalogueItem
from gale_nook.core.physics.diesel_heat import output_w

# numbers that a sheet may leave out
LEFT_OPEN = frozenset(
    {
        *("minimum", "maximum", "noise_db", "inlet_mm", "speed_at_minimum"),
        *("share_at_minimum", "share_at_maximum", "outlet_limit_c", "bend_counts_mm"),
    }
)
FUEL_RATE_TOLERANCE = 0.03  # sheets round their fuel rates
NOT_A_PART = "is not in the parts list"


def contradictions(
    sheet: HeaterSheet, bands: Mapping[str, LimitBand], parts: Mapping[str, CatalogueItem]
) -> Iterator[tuple[str, Any, str]]:
    """Yield (path, value, problem) wherever a sheet contradicts itself, physics, or the bands of
    its limits.
    """
    yield from limit_troubles("limits", sheet.limits, bands)
    for number, mount in enumerate(sheet.mounts):
        yield from limit_troubles(f"mounts.{number}.limits", mount.limits, bands)
    for number, item in enumerate(sheet.kit):
        if item.part not in parts:
            yield f"kit.{number}.part", item.part, NOT_A_PART
    output = sheet.output
    for end, stated_w, fuel_l_h in (
        ("minimum", output.minimum_w, output.fuel_l_h_minimum),
        ("maximum", output.maximum_w, output.fuel_l_h_maximum),
    ):
        burnt_w = output_w(fuel_l_h, output.efficiency)
        if abs(burnt_w / stated_w - 1) > FUEL_RATE_TOLERANCE:
            problem = (
                f"burns to {burnt_w:.0f} W at the stated efficiency, not to the stated "
                f"{stated_w:.0f} W"
            )
            yield f"output.fuel_l_h_{end}", fuel_l_h, problem
    known = sheet_paths(sheet)
    for path in sheet.sources:
        if path not in known:
            yield f"sources.{path}", path, "names no value of this sheet"


def limit_troubles(
    place: str, limits: Mapping[str, Limit], bands: Mapping[str, LimitBand]
) -> Iterator[tuple[str, Any, str]]:
    """Yield (path, value, problem) for limits of an unknown name, and for ends that are not
    believable.
    """
    for name, limit in limits.items():
        band = bands.get(name)
        if band is None:
            yield f"{place}.{name}", name, "is not a limit that is known here"
            continue
        for end, value in (("minimum", limit.minimum), ("maximum", limit.maximum)):
            if value is not None and not band.lowest <= value <= band.highest:
                believable = f"{band.lowest:g} to {band.highest:g} {band.unit}"
                yield (
                    f"{place}.{name}.{end}",
                    value,
                    f"is not believable for {band.label}; {believable} are taken",
                )


def sheet_paths(sheet: HeaterSheet) -> frozenset[str]:
    """Return the path of every number of a sheet."""
    return frozenset(
        path for path, _ in numbers_of(sheet.model_dump(mode="json", exclude={"sources"}))
    )


def numbers_of(data: Any, prefix: str = "") -> Iterator[tuple[str, float | None]]:
    """Yield (path, value) of every number in plain data, and of those that are left open."""
    if isinstance(data, dict | list):
        pairs = data.items() if isinstance(data, dict) else enumerate(data)
        for key, value in pairs:
            yield from numbers_of(value, f"{prefix}.{key}" if prefix else str(key))
    elif isinstance(data, int | float) and not isinstance(data, bool):
        yield prefix, data
    elif data is None and prefix.rsplit(".", 1)[-1] in LEFT_OPEN:
        yield prefix, None
