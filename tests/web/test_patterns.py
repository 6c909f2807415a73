"""The pattern page shows every component that the application has."""

from __future__ import annotations

import re

import pytest

from gale_nook.core.findings.finding import Verdict
from gale_nook.web.context import STATIONS_FOLDER, environment
from gale_nook.web.patterns import COLOURS
from tests.web.conftest import Page

STYLES = STATIONS_FOLDER.parent / "static" / "gale-nook.css"


def test_a_finding_of_every_verdict_and_one_of_a_question(page: Page) -> None:
    text = page.get("/patterns").text
    for verdict in Verdict:
        assert f'class="finding verdict-{verdict.value}' in text
    assert "asked for: yes" in text
    assert "Accepted by Isa Marel" in text


def test_every_macro_of_the_fields_is_shown(page: Page) -> None:
    """A component that is added has to be shown here too."""
    source, *_ = environment.loader.get_source(environment, "fields.html")  # type: ignore[union-attr]
    shown, *_ = environment.loader.get_source(environment, "patterns.html")  # type: ignore[union-attr]
    macros = set(re.findall(r"macro (\w+)\(", source))
    assert macros >= {"field", "cell", "choice", "tick", "command", "slide"}
    for name in macros:
        assert re.search(rf"\{{\{{ {name}\(page", shown), name
    assert page.get("/patterns").status_code == 200


def test_every_colour_is_shown_and_has_a_dark_one() -> None:
    root = STYLES.read_text().split(":root {", 1)[1].split("}", 1)[0]
    named = set(re.findall(r"--([a-z-]+): #", root))
    assert named == set(COLOURS)
    dark = (STYLES.parent / "dark.css").read_text().split(":root {", 1)[1].split("}", 1)[0]
    assert named - set(re.findall(r"--([a-z-]+): #", dark)) == {"brass"}


@pytest.mark.parametrize("theme", ["blue", "", "light/dark"])
def test_another_theme_is_refused_with_what_there_is(page: Page, theme: str) -> None:
    answer = page.get(f"/patterns?theme={theme}")
    assert answer.status_code == 422
    assert "&#39;light&#39; or &#39;dark&#39;" in answer.text
