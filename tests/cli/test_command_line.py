"""The command line on a recipe file, without a database."""

import json
import xml.etree.ElementTree as ET
from decimal import Decimal
from pathlib import Path
from typing import Any

import pytest

from mirvel.cli.__main__ import main
from mirvel.settings import PROJECT_ROOT

EXAMPLE = str(PROJECT_ROOT / "docs/examples/slipway-42.recipe.json")


def test_price_says_the_sums_and_keeps_its_keys(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["price", EXAMPLE, "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert Decimal(data["flower_money"]) - Decimal(data["spent"]) == Decimal(data["room_left"])
    assert data["true"] is True
    assert set(data) >= {"school", "fill", "built_prices", "stems", "left_over_value", "gross_margin"}
    assert main(["price", EXAMPLE]) == 0
    assert f"{data['flower_money']}" in capsys.readouterr().out


def test_cuts_list_every_piece(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["cuts", EXAMPLE, "--json"]) == 0
    pieces = json.loads(capsys.readouterr().out)["pieces"]
    assert main(["cuts", EXAMPLE]) == 0
    lines = capsys.readouterr().out
    document = json.loads(Path(EXAMPLE).read_text("utf-8"))
    for entry in document["entries"]:
        assert sum(piece["entry"] == entry["id"] for piece in pieces) == entry["pieces"]
        assert f"{entry['pieces']} × {entry['material']}" in lines


def test_checks_tell_what_is_wrong_and_what_could_hurt(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    document = json.loads(Path(EXAMPLE).read_text("utf-8"))
    (tmp_path / "dear.json").write_text(json.dumps({**document, "price_point": "12"}), "utf-8")
    assert main(["checks", str(tmp_path / "dear.json"), "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert data["checks"][0]["severity"] == "stop"
    assert data["cautions"]
    assert main(["checks", str(tmp_path / "dear.json")]) == 0
    assert data["checks"][0]["title"] in capsys.readouterr().out


@pytest.mark.parametrize("view", ["front", "plan"])
def test_draw_writes_the_view(tmp_path: Path, view: str, capsys: pytest.CaptureFixture[str]) -> None:
    output = tmp_path / "out of it.svg"
    assert main(["draw", EXAMPLE, "--view", view, "-o", str(output), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["bytes"] == output.stat().st_size
    assert ET.parse(output).getroot().get("role") == "img"


def test_a_file_that_cannot_be_used_is_told_without_a_traceback(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    cut_off = tmp_path / "cut.recipe.json"
    cut_off.write_text(Path(EXAMPLE).read_text("utf-8")[:500], "utf-8")
    for file, said in ((str(cut_off), "ends too early"), (str(tmp_path / "none.json"), "Check the path")):
        assert main(["price", file]) == 1
        told = capsys.readouterr().err
        assert said in told
        assert "Traceback" not in told


def test_fit_spends_the_money_of_a_price_and_says_what_clashes(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["fit", EXAMPLE, "--price", "58", "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    keys = {"counts", "spent", "flower_money", "room_left", "optimal", "bound", "points", "aim", "why_not_more"}
    assert keys <= set(data)
    assert data["optimal"] is data["true"] is True
    assert Decimal(0) <= Decimal(data["flower_money"]) - Decimal(data["spent"]) < Decimal("0.60")
    document = json.loads(Path(EXAMPLE).read_text("utf-8"))
    tight = [{**entry, "least": entry["pieces"]} for entry in document["entries"]]
    (tmp_path / "tight.json").write_text(json.dumps({**document, "entries": tight}), "utf-8")
    assert main(["fit", str(tmp_path / "tight.json"), "--price", "35"]) == 1
    assert "Raise the price point to" in capsys.readouterr().out
    assert main(["fit", EXAMPLE, "--price", "cheap"]) == 1
    assert "price" in capsys.readouterr().err


def test_ladder_fits_repair_and_substitute_answer_in_words_and_in_json(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    def ask(*words: str) -> dict[str, Any]:
        assert main([words[0], EXAMPLE, *words[1:]]) == 0
        assert capsys.readouterr().out.strip()
        assert main([words[0], EXAMPLE, *words[1:], "--json"]) == 0
        data: dict[str, Any] = json.loads(capsys.readouterr().out)
        return data

    ladder = ask("ladder", "--prices", "58,42")
    assert [rung["price_point"] for rung in ladder["rungs"]] == ["42.00", "58.00"]
    assert ladder["bound"] <= ladder["points"]
    assert {"changes", "cost", "room_left", "spare", "why"} <= set(ask("fits")["extras"][0])
    costs = tmp_path / "costs.json"
    costs.write_text('{"rose-standard": "0.80"}', "utf-8")
    repairs = ask("repair", "--costs", str(costs))["repairs"]
    assert all(repair["true"] and repair["edits"] for repair in repairs)
    substitutes = ask("substitute", "--entry", "e5")["substitutes"]
    assert {"material", "colour", "pieces", "colour_difference", "reasons"} <= set(substitutes[0])
    costs.write_text('{"no-such-rose": "0.80"}', "utf-8")
    assert main(["repair", EXAMPLE, "--costs", str(costs)]) == 1
    assert "no-such-rose" in capsys.readouterr().err
