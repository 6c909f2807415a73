"""The plan's part for the warm air; its ducts and outlets will stand here."""

from __future__ import annotations

from gale_nook.core.base.models import Frozen


class Air(Frozen):
    """Everything about the warm air."""
