"""Addresses: how an edit names a value of the plan, items of lists by their id.

`vehicle.solids.tank.x_mm`, `pipes.exhaust.nodes.n2.z_mm`, `vehicle.solids.pipe.points.0.2`.
They work on the plan as plain data (`Plan.model_dump(mode="json")`).
"""

from __future__ import annotations

from typing import Any

from gale_nook.core.errors import BadInput

MAX_ADDRESS = 160


def find(data: Any, address: str) -> Any:
    """Return what stands at an address; raises BadInput when there is nothing there."""
    for part in _parts(address):
        data = _step(data, part, address)
    return data


def put(data: Any, address: str, value: Any) -> None:
    """Replace an existing value at an address in place."""
    *path, leaf = _parts(address)
    for part in path:
        data = _step(data, part, address)
    _step(data, leaf, address)  # only what exists can be set
    if isinstance(data, list):
        data[_index(data, leaf, address)] = value
    else:
        data[leaf] = value


def _parts(address: str) -> list[str]:
    if not address or len(address) > MAX_ADDRESS:
        raise BadInput("address", address[:60], "is not an address in a plan")
    return address.split(".")


def _step(data: Any, part: str, address: str) -> Any:
    if isinstance(data, dict) and part in data:
        return data[part]
    if isinstance(data, list):
        return data[_index(data, part, address)]
    raise _nothing(address)


def _index(items: list[Any], part: str, address: str) -> int:
    for index, item in enumerate(items):
        if isinstance(item, dict) and item.get("id") == part:
            return index
    if part.isascii() and part.isdigit() and len(part) < 6 and int(part) < len(items):
        return int(part)
    raise _nothing(address)


def _nothing(address: str) -> BadInput:
    return BadInput(address, address, "There is nothing of that name in the plan any more.")


ORDER = "<follows>"
ORDERED = ("nodes", "layers", "timers")  # lists in which the order means something
SETS = ("pencilled", "has_none", "ticked")  # lists of texts, each of which is there or not


def leaves(data: Any, prefix: str = "") -> dict[str, Any]:
    """Return every plain value of the data by its address.

    Empty lists and objects count as values; in lists of which the order means something, so does
    which item each one follows. Of a set, each text that is in it is a value.
    """
    leaf = prefix.rsplit(".", 1)[-1]
    if leaf in SETS:
        return {f"{prefix}.{text}": True for text in data}
    if isinstance(data, dict) and data:
        pairs = [(str(key), value) for key, value in data.items()]
    elif isinstance(data, list) and data:
        pairs = [(str(_name(item, index)), item) for index, item in enumerate(data)]
    else:
        return {prefix: data}
    results: dict[str, Any] = {}
    follows, ordered = "", leaf in ORDERED
    for key, value in pairs:
        place = f"{prefix}.{key}" if prefix else key
        results.update(leaves(value, place))
        if ordered:
            results[f"{place}.{ORDER}"], follows = follows, key
    return results


def _name(item: Any, index: int) -> Any:
    if not isinstance(item, dict):
        return index
    return item.get("id", item.get("address", index))
