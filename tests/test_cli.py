"""The command line on plan files: what it prints, and its exit codes."""

from __future__ import annotations

import json
from pathlib import Path

import jsonschema
import pytest
from typer.testing import CliRunner

from gale_nook.cli import app
from gale_nook.core.book.document import write_book
from gale_nook.core.plan.document import write_plan
from gale_nook.demo.load import PLANS, demo_book, demo_plan
from tests.vans import small_van

RUN = CliRunner()
FINDING_FIELDS = {"rule", "station", "subject", "verdict", "measured", "limit", "unit", "margin"}


@pytest.mark.parametrize(("name", "code"), [("heron", 0), ("quarto", 1), ("blank", 0), ("wren", 1)])
def test_check_tells_by_its_exit_code(name: str, code: int) -> None:
    done = RUN.invoke(app, ["check", str(PLANS / f"{name}.json")])
    assert done.exit_code == code
    assert f"{demo_plan(name).name}:" in done.output


def test_check_as_json() -> None:
    done = RUN.invoke(app, ["check", str(PLANS / "wren.json"), "--format", "json"])
    told = json.loads(done.output)
    assert all(set(finding) >= FINDING_FIELDS for finding in told["findings"])
    for verdict, count in told["tally"].items():
        assert sum(f["verdict"] == verdict for f in told["findings"]) == count
    assert "\ue000" not in done.output


def test_heat_as_json() -> None:
    done = RUN.invoke(app, ["heat", str(PLANS / "heron.json"), "--format", "json"])
    told = json.loads(done.output)
    faces = [element for element in told["elements"] if element["area_m2"] is not None]
    for element in faces:
        assert element["loss_w"] == pytest.approx(
            element["area_m2"] * element["u_w_m2k"] * element["difference_k"]
        )
    total = sum(element["loss_w"] for element in told["elements"]) + told["ventilation_w"]
    assert told["design_loss_w"] == pytest.approx(total)


def test_heat_as_text_adds_up_to_the_need() -> None:
    done = RUN.invoke(app, ["heat", str(PLANS / "heron.json")])
    assert done.exit_code == 0
    assert "Need with margin" in done.output


def test_the_night_as_json_and_text() -> None:
    told = json.loads(
        RUN.invoke(app, ["night", str(PLANS / "heron.json"), "--format", "json"]).output
    )
    assert told["heater"] == "bothy-40"
    assert told["fuel_l"] == pytest.approx(told["heat_j"] / (0.84 * 42.6e6 * 0.79), rel=0.01)
    assert told["samples"][0]["air_c"] == -14
    text = RUN.invoke(app, ["night", str(PLANS / "heron.json"), "--heater", "croft-90"]).output
    assert "Heron with the Croft 90, 14 h from 18 h" in text


def test_a_night_needs_a_heater() -> None:
    for arguments in (
        [str(PLANS / "blank.json")],
        [str(PLANS / "heron.json"), "--heater", "kettle"],
    ):
        done = RUN.invoke(app, ["night", *arguments])
        assert done.exit_code == 2
        assert "choose one with --heater: bothy-22" in done.output


def test_schema_describes_the_demo() -> None:
    schema = json.loads(RUN.invoke(app, ["schema"]).output)
    jsonschema.validate(json.loads((PLANS / "heron.json").read_text()), schema)


def test_export_writes_a_pdf(tmp_path: Path) -> None:
    out = tmp_path / "sheet.pdf"
    assert RUN.invoke(app, ["export", str(PLANS / "heron.json"), "--pdf", str(out)]).exit_code == 0
    assert out.read_bytes().startswith(b"%PDF")


def test_export_to_nowhere_is_told(tmp_path: Path) -> None:
    done = RUN.invoke(
        app, ["export", str(PLANS / "heron.json"), "--pdf", str(tmp_path / "no" / "sheet.pdf")]
    )
    assert done.exit_code == 2
    assert "No such file" in done.output


@pytest.mark.parametrize("command", ["check", "heat", "export"])
@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("{", "line 1"),
        ('{"format": "gale-nook-plan", "version": 1}', "name: it is missing"),
        (None, "No such file"),
    ],
)
def test_what_cannot_be_read_ends_with_two(
    tmp_path: Path, command: str, text: str | None, said: str
) -> None:
    path = tmp_path / "plan.json"
    if text is not None:
        path.write_text(text)
    extra = ["--pdf", str(tmp_path / "x.pdf")] if command == "export" else []
    done = RUN.invoke(app, [command, str(path), *extra])
    assert done.exit_code == 2
    assert said in done.output


def test_a_plan_can_come_by_standard_input() -> None:
    done = RUN.invoke(app, ["check", "-"], input=write_plan(demo_plan("heron")))
    assert done.exit_code == 0


def test_pipes_prints_falls_pressure_and_temperatures() -> None:
    done = RUN.invoke(app, ["pipes", str(PLANS / "heron.json"), "--format", "json"])
    data = json.loads(done.stdout)
    assert done.exit_code == 0
    run = data["exhaust"]
    assert run["pressure_pa"] == pytest.approx(sum(piece["drop_pa"] for piece in run["pieces"]))
    assert [fall["straight"] for fall in run["falls"]] == [1, 2, 3]
    assert all(
        fall["worst_fall_deg"] <= min(fall["parked_deg"].values()) + 1e-9 for fall in run["falls"]
    )
    assert data["intake"]["length_mm"] < 400
    assert run["along"][0]["gas_c"] > run["along"][-1]["gas_c"]
    two = json.loads(
        RUN.invoke(
            app,
            ["pipes", str(PLANS / "heron.json"), "--at", "100", "--at", "900", "--format", "json"],
        ).stdout
    )
    assert [place["distance_mm"] for place in two["exhaust"]["along"]] == pytest.approx(
        [100, 900], abs=50
    )
    assert "bend 2" in RUN.invoke(app, ["pipes", str(PLANS / "heron.json")]).stdout
    assert RUN.invoke(app, ["pipes", str(PLANS / "blank.json")]).exit_code == 1


def test_ways_are_printed_for_either_pipe_and_what_stops_them() -> None:
    for tube in ("exhaust", "intake"):
        done = RUN.invoke(
            app, ["route", str(PLANS / "heron.json"), "--tube", tube, "--format", "json"]
        )
        assert done.exit_code == 0
        ways = json.loads(done.stdout)["ways"]
        assert [way["tube"] for way in ways] == [tube] * 3
        assert all(way["length_mm"] > 150 and way["route"]["nodes"] for way in ways)
    stopped = RUN.invoke(app, ["route", str(PLANS / "wren.json")])
    assert stopped.exit_code == 1
    assert "ends 4 mm inside the floor" in stopped.stdout
    assert RUN.invoke(app, ["route", str(PLANS / "blank.json")]).exit_code == 1


def test_drill_writes_a_sheet(tmp_path: Path) -> None:
    out = tmp_path / "drill.pdf"
    assert RUN.invoke(app, ["drill", str(PLANS / "heron.json"), "--pdf", str(out)]).exit_code == 0
    assert out.read_bytes().startswith(b"%PDF")
    assert RUN.invoke(app, ["drill", str(PLANS / "blank.json"), "--pdf", str(out)]).exit_code == 1
    assert "output" in json.loads(RUN.invoke(app, ["schema", "--sheet"]).stdout)["properties"]


def test_air_prints_what_arrives_and_agrees_with_its_json() -> None:
    """What the outlets blow adds up, by mass, to what the heater draws in less the joints' leaks;
    the text tells the same.
    """
    heron = str(PLANS / "heron.json")
    told = json.loads(RUN.invoke(app, ["air", heron, "--format", "json"]).stdout)
    text = RUN.invoke(app, ["air", heron]).stdout
    assert f"{told['usable_w']:.0f} W of {told['most_w']:.0f} W" in text
    density = 101325 / (287.05 * (273.15 + told["inlet_c"]))
    drawn_kg_s = told["total_flow_m3_h"] / 3600 * density
    blown_kg_s = sum(row["flow_kg_s"] for row in told["outlets"])
    assert 0.85 * drawn_kg_s < blown_kg_s <= drawn_kg_s
    assert all(row["name"] in text for row in told["outlets"])
    assert "it needs an air heater" in RUN.invoke(app, ["air", str(PLANS / "blank.json")]).stdout
    assert RUN.invoke(app, ["air", str(PLANS / "wren.json")]).exit_code == 1


def test_the_job_in_hand_as_json_and_text() -> None:
    told = json.loads(
        RUN.invoke(app, ["build", str(PLANS / "heron.json"), "--format", "json"]).output
    )
    assert sum(card["done"] for card in told["cards"]) == 10
    ids = [card["id"] for card in told["cards"] if not card["done"]]
    assert [card for day in told["days"] for card in day["cards"]] == ids
    assert {"id": "exhaust-1", "label": "exhaust pipe"}.items() <= told["cuts"][0].items()
    for line in told["parts"]:
        assert line["to_buy"] == max(line["needed"] - line["in_kit"] - line["in_stock"], 0)
    text = RUN.invoke(app, ["build", str(PLANS / "heron.json")]).output
    assert "10 of 26 cards done" in text
    assert "[x]  1 Make it ready" in text
    assert RUN.invoke(app, ["build", str(PLANS / "blank.json")]).exit_code == 0


def test_what_clears_is_printed_and_written(tmp_path: Path) -> None:
    plan = demo_plan("heron")
    line = plan.fuel.line
    assert line is not None
    turned = line.model_copy(update={"pump": line.pump.model_copy(update={"forwards": False})})
    wrong = plan.model_copy(update={"fuel": plan.fuel.model_copy(update={"line": turned})})
    path = tmp_path / "wrong.json"
    path.write_text(write_plan(wrong), encoding="utf-8")
    done = RUN.invoke(app, ["plan", str(path), "--clear", "--out", str(tmp_path / "out")])
    assert done.exit_code == 0
    assert "0 after 1 changes" in done.output
    again = RUN.invoke(app, ["check", str(tmp_path / "out" / "cleared.json")])
    assert again.exit_code == 0
    told = json.loads(RUN.invoke(app, ["plan", str(path), "--clear", "--format", "json"]).stdout)
    assert (told["before"], told["after"], len(told["changes"])) == (1, 0, 1)


@pytest.mark.slow
def test_layouts_are_written_as_plans(tmp_path: Path) -> None:
    plan, wishes = tmp_path / "van.json", tmp_path / "wishes.json"
    plan.write_text(write_plan(small_van(3)), encoding="utf-8")
    corner = {"from_x_mm": 1100, "to_x_mm": 2300, "left_y_mm": -900, "right_y_mm": -200}
    wishes.write_text(json.dumps({"areas": [{"id": "corner", **corner}]}), encoding="utf-8")
    options = ["--wishes", str(wishes), "--effort", "quick", "--out", str(tmp_path / "out")]
    done = RUN.invoke(app, ["plan", str(plan), *options, "--format", "json"])
    assert done.exit_code == 0
    told = json.loads(done.stdout)
    assert told["layouts"]
    for layout in told["layouts"]:
        file = tmp_path / "out" / f"layout-{layout['letter']}.json"
        tally = json.loads(RUN.invoke(app, ["check", str(file), "--format", "json"]).output)[
            "tally"
        ]
        assert tally == layout["tally"]
        assert tally["over"] == 0


@pytest.mark.parametrize(
    ("options", "words"),
    [
        (["--effort", "hard"], "quick, usual and thorough"),
        (["--wishes", "nowhere.json"], "nowhere.json"),
    ],
)
def test_a_search_that_cannot_begin_is_told(options: list[str], words: str) -> None:
    done = RUN.invoke(app, ["plan", str(PLANS / "heron.json"), *options])
    assert done.exit_code == 2
    assert words in done.output


def test_wishes_that_are_none_are_refused_by_name(tmp_path: Path) -> None:
    wishes = tmp_path / "wishes.json"
    wishes.write_text('{"side": "up"}', encoding="utf-8")
    done = RUN.invoke(app, ["plan", str(PLANS / "heron.json"), "--wishes", str(wishes)])
    assert done.exit_code == 2
    assert "side" in done.output


def test_taking_a_book_tells_what_changes_and_writes_the_plan(tmp_path: Path) -> None:
    heron, out = str(PLANS / "heron.json"), tmp_path / "taken.json"
    book = tmp_path / "book.json"
    book.write_text(write_book(demo_book()))
    done = RUN.invoke(app, ["take-book", heron, str(book), "--out", str(out)])
    assert done.exit_code == 1
    assert "Clips of the line: clear by +16 mm → over by −34 mm" in done.output
    taken = json.loads(RUN.invoke(app, ["check", str(out), "--format", "json"]).output)
    clips = next(each for each in taken["findings"] if each["rule"] == "fuel.clips")
    assert (clips["verdict"], clips["limit"]["maximum"]) == ("over", 250)
    again = RUN.invoke(app, ["take-book", str(out), str(book), "--format", "json"])
    assert (again.exit_code, json.loads(again.output)["findings"]) == (0, [])
    told = RUN.invoke(
        app, ["take-book", heron, str(book), "--school", "forest-tracks", "--format", "json"]
    )
    ground = [e for e in json.loads(told.output)["findings"] if "ground" in e["rule"]]
    assert ground[0]["after"]["margin"] == pytest.approx(ground[0]["before"]["margin"] - 110)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        (None, "No such file"),
        ("{", "no book"),
        ('{"prices": [{"id": "moon", "price": 1, "source": "x"}]}', "prices.moon"),
        ("{}", "no school 'x'"),
    ],
)
def test_a_book_that_cannot_be_taken_is_told(text: str | None, said: str, tmp_path: Path) -> None:
    book = tmp_path / "book.json"
    if text is not None:
        book.write_text(text)
    done = RUN.invoke(app, ["take-book", str(PLANS / "heron.json"), str(book), "--school", "x"])
    assert done.exit_code == 2
    assert said in done.output


def test_the_schema_of_a_book(tmp_path: Path) -> None:
    schema = json.loads(RUN.invoke(app, ["schema", "--book"]).output)
    jsonschema.validate(json.loads(write_book(demo_book())), schema)
