"""What is needed is stated: what runs apart from what develops, and every pin for a reason."""

import ast
import re
import sys
import tomllib
from collections.abc import Iterable
from importlib.metadata import PackageNotFoundError, packages_distributions, requires, version
from pathlib import Path

FILES = ("requirements.txt", "requirements-machines.txt", "requirements-dev.txt")
ROOT = Path(__file__).resolve().parents[2]
PROJECT = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
BY_NAME = {"whitenoise", "boto3", "redis"}
"""Named by settings, and imported by Django, its storages or the broker's engine."""
PICTURES = ROOT / "demo" / "pictures.py"
"""Takes the pictures of the README, which no shop does."""


def plain(name: str) -> str:
    return re.sub(r"[-_.]+", "-", name).lower()


def named(wanted: Iterable[str]) -> set[str]:
    return {plain(re.split(r"[<>=!~ \[;]", one, maxsplit=1)[0]) for one in wanted}


def imported(*folders: str) -> set[str]:
    """The distributions that sources import at their top."""
    own = {path.stem for path in (ROOT / "server").iterdir()} | {"horismos", "demo"}
    tops = set()
    for path in (path for folder in folders for path in (ROOT / folder).rglob("*.py") if path != PICTURES):
        for node in ast.walk(ast.parse(path.read_text())):
            names = [a.name for a in node.names] if isinstance(node, ast.Import) else []
            if isinstance(node, ast.ImportFrom) and node.module and not node.level:
                names = [node.module]
            tops |= {name.partition(".")[0] for name in names}
    known = packages_distributions()
    return {plain(known[top][0]) for top in tops - own - set(sys.stdlib_module_names)}


def closure(names: set[str]) -> set[str]:
    """The distributions, and those that they need."""
    found: set[str] = set()
    left = list(names)
    while left:
        name = left.pop()
        if name in found:
            continue
        found.add(name)
        for one in named(line for line in requires(name) or [] if "extra ==" not in line):
            try:
                version(one)
            except PackageNotFoundError:
                continue  # for another system
            left.append(one)
    return found


def pinned(name: str) -> dict[str, str]:
    lines = [line for line in (ROOT / name).read_text().splitlines() if line and line[0] not in "#-"]
    return {plain(line.split("==")[0]): line.split("==")[1] for line in lines}


CORE, SHOP = named(PROJECT["dependencies"]), named(PROJECT["optional-dependencies"]["shop"])
MACHINES = named(PROJECT["optional-dependencies"]["machines"])
"""What several machines need, and one does not."""


def test_the_project_names_what_it_imports_and_nothing_else() -> None:
    assert imported("src") - CORE <= MACHINES
    assert imported("server", "demo") - CORE - MACHINES == SHOP - BY_NAME
    assert imported("src", "server") >= MACHINES - BY_NAME


def test_what_runs_is_pinned_and_what_only_develops_is_not_in_it() -> None:
    runs, many, develops = map(pinned, FILES)
    assert set(runs) == closure(CORE | SHOP)
    assert set(many) == closure(MACHINES) - set(runs)
    assert set(develops) == closure(named(PROJECT["optional-dependencies"]["dev"])) - set(runs) - set(many)


def test_what_is_pinned_is_what_these_tests_run_with() -> None:
    for name, at in {name: at for file in FILES for name, at in pinned(file).items()}.items():
        assert version(name) == at, name
