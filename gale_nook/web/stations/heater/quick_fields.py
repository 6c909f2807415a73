"""The values of a heater of one's own that decide first."""

from __future__ import annotations

# name, words, kind of quantity: as the form asks for them
QUICK = (
    ("maximum_w", "most output", "w"),
    ("minimum_w", "least output", "w"),
    ("length_mm", "body, length", "mm"),
    ("width_mm", "body, width", "mm"),
    ("height_mm", "body, height", "mm"),
    ("hole_mm", "hole in the floor, diameter", "mm"),
    ("exhaust_mm", "exhaust pipe, diameter outside", "mm"),
    ("exhaust_x_mm", "exhaust from the mount's middle, towards the warm end", "mm"),
    ("exhaust_y_mm", "exhaust from the mount's middle, to its right", "mm"),
    ("intake_mm", "combustion-air pipe, diameter outside", "mm"),
    ("exhaust_longest_mm", "longest exhaust that its sheet allows", "mm"),
    ("voltage_v", "supply, V", "number"),
    ("glow_current_a", "current to start, A", "number"),
)
