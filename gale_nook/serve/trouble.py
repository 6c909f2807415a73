"""What can go wrong while starting, told in a plain sentence."""

from __future__ import annotations


class StartTrouble(Exception):
    """Starting did not work; the text says what to do."""
