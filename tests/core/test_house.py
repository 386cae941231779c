"""How the code is built, where no tool holds it: values of many fields by keyword, and quick commands load little."""

import ast
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.shapes import Drawing, circle, line_in, write

ROOT = Path(__file__).resolve().parents[2]
MANY = 12
LEADING = 1
"""So many fields may stand before the others without a name: what a thing says, or what it is of."""


def dataclasses() -> Iterator[tuple[str, list[ast.AnnAssign], bool]]:
    for path in [*(ROOT / "src").rglob("*.py"), *(ROOT / "server").rglob("*.py")]:
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ClassDef):
                for mark in node.decorator_list:
                    called = mark.func if isinstance(mark, ast.Call) else mark
                    if isinstance(called, ast.Name) and called.id == "dataclass":
                        options = mark.keywords if isinstance(mark, ast.Call) else []
                        fields = [one for one in node.body if isinstance(one, ast.AnnAssign)]
                        yield node.name, fields, any(one.arg == "kw_only" for one in options)


def test_values_of_many_fields_are_built_by_keyword_only() -> None:
    counted = 0
    for name, fields, by_keyword in dataclasses():
        kinds = [ast.unparse(one.annotation) for one in fields]
        if len(kinds) - ("KW_ONLY" in kinds) < MANY:
            continue
        counted += 1
        assert by_keyword or ("KW_ONLY" in kinds and kinds.index("KW_ONLY") <= LEADING), name
    assert counted > 20


SMALL = {"horismos", "numpy", "pikepdf", "shapely", "cython_runtime"}
"""What looking into a file takes."""
LOOKS = {"PIL", "imagecodecs", "pathops", "pypdfium2", "pypdfium2_cfg", "pypdfium2_raw", "scipy"}
"""What checking takes beside that: who renders, who joins outlines, and the name of scipy."""
WHOLE_SCIPY = {"spatial", "sparse", "ndimage", "optimize", "interpolate", "signal", "stats", "linalg"}
"""Rooms of scipy that take longer to load than a small file to be checked."""
LOADED = """
import contextlib, io, sys
from horismos.cli.main import main
with contextlib.redirect_stdout(io.StringIO()):
    main(sys.argv[1:])
print("\\n".join(sys.modules))
"""


@pytest.mark.parametrize(("command", "may"), [("inspect", SMALL), ("check", SMALL | LOOKS)])
def test_a_quick_command_loads_what_it_needs_and_no_more(command: str, may: set[str], tmp_path: Path) -> None:
    path = tmp_path / "plain.pdf"
    path.write_bytes(write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40)))))
    said = subprocess.run([sys.executable, "-c", LOADED, command, path], capture_output=True, text=True, check=True)
    loaded = set(said.stdout.split())
    others = {name.split(".")[0] for name in loaded if not name.startswith("_")} - set(sys.stdlib_module_names)
    assert "horismos" in others and others <= may, others - may
    assert not {f"scipy.{room}" for room in WHOLE_SCIPY} & loaded
