"""Gale Nook plans the fitting of a diesel heater into a vehicle."""

__version__ = "0.1.0"
