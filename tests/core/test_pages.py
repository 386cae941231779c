"""The pages: examples are run, commands are there, links lead somewhere, and the README stays short."""

import json
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from remote.__main__ import main as work

from horismos.cli.main import COMMANDS, main
from horismos.making import Make
from horismos.orders import Order
from horismos.stitching.stack import Stack
from tests.breadth import breadth
from tests.shapes import Drawing, circle, line_in, write

ROOT = Path(__file__).resolve().parents[2]
PAGES = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *sorted((ROOT / "docs").glob("*.md"))]
MOST_LINES = 150
ART = write(Drawing(f"1 0 0 0 k {circle(50, 50, 46)} f " + line_in(circle(50, 50, 40))))


def examples(page: str) -> list[Any]:
    return [json.loads(text) for text in re.findall(r"```json\n(.*?)```", (ROOT / "docs" / page).read_text(), re.S)]


def test_the_readme_says_what_it_is_and_leads_on() -> None:
    readme = (ROOT / "README.md").read_text()
    assert len(readme.splitlines()) <= MOST_LINES
    assert "./horismos demo" in readme and "./horismos test" in readme
    for page in (ROOT / "docs").glob("*.md"):
        assert f"docs/{page.name}" in readme, page.name


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.name)
def test_every_link_leads_somewhere(page: Path) -> None:
    links = re.findall(r"\]\(([^)#]+)(?:#[^)]*)?\)", page.read_text())
    for link in links:
        assert "://" not in link and (page.parent / link).exists(), link


@pytest.mark.parametrize(("page", "read"), [
    ("lines.md", Make.from_json), ("stacks.md", Stack.from_json), ("orders.md", Order.from_json),
])
def test_the_first_example_of_a_page_is_read_and_says_the_same_back(page: str, read: Callable[[Any], Any]) -> None:
    given = examples(page)[0]
    assert read(read(given).to_json()) == read(given)


@breadth(0.12, "long ones")
def test_the_layouts_of_their_page_are_laid_out_and_planned(tmp_path: Path) -> None:
    for name in ("badge.pdf", "seal.pdf"):
        (tmp_path / name).write_bytes(ART)
    (tmp_path / "badge.json").write_text(json.dumps(examples("orders.md")[0]))
    sheets, cut = examples("layouts.md")
    (tmp_path / "sheets.json").write_text(json.dumps({**sheets, "seconds": 1}))
    assert main(["layout", str(tmp_path / "sheets.json"), "--out", str(tmp_path / "sheets.pdf")]) == 0
    (tmp_path / "cut.json").write_text(json.dumps(cut))
    assert main(["plan", str(tmp_path / "cut.json"), "--out", str(tmp_path / "cut")]) == 0
    assert list((tmp_path / "cut").glob("*.plt"))


def test_the_shop_of_its_page_is_taken_and_its_names_are_the_wanted_ones(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    shop = examples("orders.md")[1]
    (tmp_path / "shop.json").write_text(json.dumps(shop))
    (tmp_path / "seal.pdf").write_bytes(ART)
    main(["check", str(tmp_path / "seal.pdf"), "--destination", str(tmp_path / "shop.json"), "--json"])
    (wanted,) = shop["names"].values()
    assert wanted in capsys.readouterr().out


def test_every_command_on_the_pages_is_there(capsys: pytest.CaptureFixture[str]) -> None:
    known = (ROOT / "horismos").read_text()
    text = (ROOT / "docs" / "command-line.md").read_text() + (ROOT / "docs" / "running.md").read_text()
    named = set(re.findall(r"^\./horismos (\w+)", text, re.M))
    assert named >= {"check", "mend", "lines", "layout", "plan", "release", "rehearse", "stack", "serve", "user"}
    for command in named:
        assert re.search(rf"[\s|(]{command}[|)]", known), command
    options = set(re.findall(r"--[a-z][a-z-]+", (ROOT / "docs" / "command-line.md").read_text()))
    for command in COMMANDS:
        with pytest.raises(SystemExit):
            main([command, "--help"])
    with pytest.raises(SystemExit):
        work(["--help"])
    told = capsys.readouterr().out
    assert {option for option in options if option not in told} == set()
