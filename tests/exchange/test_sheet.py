"""The build sheet on paper."""

from __future__ import annotations

import io

import pytest
from pypdf import PdfReader

from gale_nook.core.build.lists import holes_to_cut, steps
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.demo.load import demo_plan
from gale_nook.exchange.finding_cards import finding_cards
from gale_nook.exchange.sheet_pdf import build_pdf


def _text(plan: Plan, catalogue: Catalogue, system: UnitSystem = UnitSystem.METRIC) -> str:
    reader = PdfReader(io.BytesIO(build_pdf(plan, catalogue, system)))
    width, height = reader.pages[0].mediabox.width, reader.pages[0].mediabox.height
    assert (round(float(width) / 72 * 25.4), round(float(height) / 72 * 25.4)) == (210, 297)
    return " ".join(" ".join(page.extract_text() for page in reader.pages).split())


def test_the_pdf_carries_findings_parts_and_cautions(heron: Plan, catalogue: Catalogue) -> None:
    text = _text(heron, catalogue)
    assert "Turret hole to brake pipe to the rear axle: tight" in text
    assert "Accepted by Ina of Skerry Lane" in text
    assert "hole saw 127 mm" in text
    assert "A CO alarm is required." in text
    assert "CO alarm for vehicles" in text
    assert "2760 mm behind the rear edge of the sliding door's front pillar" in text


def test_the_pdf_in_inches(heron: Plan, catalogue: Catalogue) -> None:
    text = _text(heron, catalogue, UnitSystem.IMPERIAL)
    assert '108 11/16"' in text
    assert "2760 mm" not in text


@pytest.mark.parametrize("name", ["quarto", "wren", "blank"])
def test_every_job_can_be_printed(name: str, catalogue: Catalogue) -> None:
    assert demo_plan(name).name in _text(demo_plan(name), catalogue)


def test_hostile_text_is_printed_as_text(heron: Plan, catalogue: Catalogue) -> None:
    plan = heron.model_copy(update={"note": '<img src="file:///etc/passwd"><script>x</script>'})
    text = _text(plan, catalogue)
    assert "<img src=" in text
    assert "<script>x</script>" in text


def test_nothing_on_it_says_safe(any_demo: Plan, catalogue: Catalogue) -> None:
    text = _text(any_demo, catalogue).lower()
    for word in (" safe ", "safely", "approved"):
        assert word not in text


def test_cards_carry_owner_and_source_of_each_limit(any_demo: Plan, catalogue: Catalogue) -> None:
    for card in finding_cards(check(any_demo, catalogue).findings, UnitSystem.METRIC):
        assert card.whose
        assert "\ue000" not in card.sentence + card.title + card.limit


@pytest.mark.parametrize("name", ["heron", "quarto", "wren"])
def test_two_pages_are_taken_along_and_the_rest_is_behind(name: str, catalogue: Catalogue) -> None:
    """One with the drawings, one with every step's title and every hole; cautions come behind."""
    plan = demo_plan(name)
    reader = PdfReader(io.BytesIO(build_pdf(plan, catalogue)))
    first, second, third = (" ".join(reader.pages[n].extract_text().split()) for n in range(3))
    assert "drawings" in first
    job = Job(plan, catalogue)
    for step in steps(job):
        assert step.title in second
    for hole in holes_to_cut(job):
        assert hole.name in second
    assert "Before you start" in third


def test_what_is_clear_is_a_line_each_and_what_is_not_has_its_card(
    heron: Plan, catalogue: Catalogue
) -> None:
    done = check(heron, catalogue)
    open_ones, listed = _text(heron, catalogue).split("What was checked and is clear")
    for card in finding_cards(done.findings, UnitSystem.METRIC):
        assert card.title in (listed if card.verdict == "clear" else open_ones)
    assert "Limit sheet Bothy 40" not in listed


def test_each_page_says_which_edit_it_is(heron: Plan, catalogue: Catalogue) -> None:
    reader = PdfReader(io.BytesIO(build_pdf(heron, catalogue, edit=12)))
    assert all("Heron, edit 12" in page.extract_text() for page in reader.pages)
    alone = PdfReader(io.BytesIO(build_pdf(heron, catalogue)))
    assert "edit" not in alone.pages[1].extract_text().split("Gale Nook build sheet")[1]
