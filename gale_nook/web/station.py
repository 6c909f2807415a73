"""What a station brings to the web: one object, by which everything else finds it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from pathlib import Path

from fastapi import APIRouter

from gale_nook.core.station import Station
from gale_nook.store.job_store import JobStore
from gale_nook.web.page import StationPage


@dataclass(frozen=True)
class WebStation:
    """A station's pages.

    Attributes:
        folder: with its templates and its style.
        live: what a preview replaces besides board and findings: templates by the id of their
            element.
        fill: gives a page what it shows besides the plan.
    """

    station: Station
    page: type[StationPage]
    router: APIRouter
    folder: Path
    live: Mapping[str, str] = field(default_factory=dict)
    fill: Callable[[StationPage, JobStore], None] | None = None

    @property
    def word(self) -> str:
        return self.station.word

    @property
    def templates(self) -> Path:
        return self.folder / "templates"

    @property
    def style(self) -> str:
        """Its style sheet; empty where it has none."""
        path = self.folder / "style.css"
        return path.read_text("utf-8") if path.exists() else ""
