"""Every page under the checker of accessibility: nothing found, of any level, in both themes, on a
desk, a phone and a wall, and in print. Large targets on the phone; a focus that is seen.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect
from sqlalchemy.orm import Session

from gale_nook.demo.load import demo_book
from gale_nook.store import books
from tests.browser.conftest import Jobs
from tests.web.test_photos import raw_photo

pytestmark = pytest.mark.browser
STATIONS = ("vehicle", "heat", "heater", "spot", "pipes", "fuel", "air", "build", "firing", "log")
PAGES = (
    "/",
    "/patterns",
    "/jobs/999999/heat",
    *(f"/jobs/{{wren}}/{word}" for word in STATIONS),
    "/jobs/{wren}/vehicle?item=bench",
    "/jobs/{heron}/vehicle",
    "/jobs/{heron}/spot",
    "/jobs/{heron}/air",
    "/jobs/{heron}/spot/card",
    "/jobs/{quarto}/coolant",
    "/jobs/{heron}/build",
    "/jobs/{heron}/build/phone",
    "/jobs/{heron}/firing",
    "/jobs/{heron}/firing/record",
    "/jobs/{heron}/log/fault?seen=no-start",
    "/jobs/{heron}/log/phone",
    "/fleet",
    "/jobs/{heron}/history",
    "/jobs/{heron}/customer",
    "/jobs/{heron}/handover",
    "/jobs/{heron}/book",
    "/book",
    "/book/effect",
    "/practice",
    "/practice/heater?seed=12&level=2&looked=ticks&named=snow",
    "/practice/plan?seed=4&level=2&looked=fuel.pump&marked=fuel.pump",
    "/jobs/{blank}/vehicle/round",
    "/jobs/{heron}/vehicle/photos/photo-1",
)
PRINTED = (
    "/jobs/{heron}/build",
    "/jobs/{heron}/fuel/dip-stick",
    "/jobs/{heron}/firing/record",
    "/jobs/{blank}/vehicle/round?paper=yes",
)
Scheme = Literal["light", "dark"]
# on a phone no target is smaller, but for links within a sentence
SMALL = """() => [...document.querySelectorAll("button, a, input, select, textarea, summary")]
  .filter((one) => {
    const box = one.getBoundingClientRect();
    const inText = one.tagName === "A" && one.closest("p, li, .build-sheet");
    return box.height > 0 && box.height < 44 && !inText && !one.closest(".skip, svg");
  })
  .map((one) => `${one.outerHTML.slice(0, 90)} ${one.getBoundingClientRect().height}`)"""
RING = """() => {
  const rgb = (text) => text.match(/[\\d.]+/g).map(Number);
  const linear = (v) => v <= 0.03928 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
  const light = (c) =>
    0.2126 * linear(c[0] / 255) + 0.7152 * linear(c[1] / 255) + 0.0722 * linear(c[2] / 255);
  const one = document.activeElement;
  let behind = one.parentElement;
  const fill = (element) => rgb(getComputedStyle(element).backgroundColor);
  while (behind && (fill(behind)[3] ?? 1) === 0) behind = behind.parentElement;
  const style = getComputedStyle(one);
  if (parseFloat(style.outlineWidth) < 2 || style.outlineStyle === "none") return 0;
  const [a, b] = [rgb(style.outlineColor), fill(behind ?? document.body)].map(light);
  return (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);
}"""


def found(tab: Page) -> list[str]:
    violations = Axe().run(tab).response["violations"]
    return [f"{v['id']}: {v['nodes'][0]['html'][:140]}" for v in violations]


@pytest.fixture
def demo(jobs: Jobs) -> dict[str, int]:
    """Jobs of the demo plans."""
    return {name: jobs.new(name) for name in ("wren", "heron", "quarto", "blank")}


def with_photo(tab: Page, job: int) -> None:
    tab.goto(f"/jobs/{job}/vehicle")
    picture = {"name": "floor.jpg", "mimeType": "image/jpeg", "buffer": raw_photo()}
    tab.set_input_files("#photo-file", picture)
    tab.get_by_role("button", name="Add the photo").click()
    expect(tab.get_by_role("heading", level=1)).to_contain_text("photo 1")


@pytest.fixture
def full_book(jobs: Jobs) -> Iterator[None]:
    """The demo's book waits to be kept."""
    with Session(jobs.engine) as db, db.begin():
        books.change(db, lambda _: demo_book(), "")
    yield
    with Session(jobs.engine) as db, db.begin():
        books.forget(db)


@pytest.mark.usefixtures("full_book")
@pytest.mark.parametrize(("scheme", "width"), [("light", 1280), ("light", 390), ("dark", 1920)])
def test_nothing_is_found(tab: Page, demo: dict[str, int], scheme: Scheme, width: int) -> None:
    tab.emulate_media(color_scheme=scheme)
    tab.set_viewport_size({"width": width, "height": 844})
    with_photo(tab, demo["heron"])
    for url in PAGES if scheme == "light" else PAGES[::3]:  # in the dark colours differ, no more
        tab.goto(url.format(**demo))
        assert found(tab) == [], url
        if width == 390:
            assert tab.evaluate(SMALL) == [], url
            assert tab.evaluate("document.documentElement.scrollWidth") <= 390, url


def test_nothing_is_found_in_print(tab: Page, demo: dict[str, int]) -> None:
    tab.emulate_media(media="print")
    for url in PRINTED:
        tab.goto(url.format(**demo))
        assert found(tab) == [], url


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_the_focus_is_seen(tab: Page, demo: dict[str, int], scheme: Scheme) -> None:
    """3 to 1 against what is round it (WCAG 2.2, 1.4.11 and 2.4.13), on the first thirty stops."""
    tab.emulate_media(color_scheme=scheme)
    tab.goto(f"/jobs/{demo['wren']}/heat")
    for _ in range(30):
        tab.keyboard.press("Tab")
        tag = tab.evaluate("document.activeElement.outerHTML.slice(0, 120)")
        assert tab.evaluate(RING) >= 3.0, tag


def test_the_station_is_in_sight_on_a_phone(tab: Page, demo: dict[str, int]) -> None:
    """Fuel is the sixth of the line: it is scrolled to; the fields come before the drawing."""
    tab.set_viewport_size({"width": 390, "height": 844})
    tab.goto(f"/jobs/{demo['wren']}/fuel")
    here = tab.locator("#line [aria-current]").bounding_box()
    assert here is not None
    assert 0 <= here["x"] <= 390 - here["width"]
    panel, board = tab.locator("#panel").bounding_box(), tab.locator("#board").bounding_box()
    assert panel is not None
    assert board is not None
    assert panel["y"] < board["y"]
