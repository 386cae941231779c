"""How the code is built, where no tool holds it: values of many fields are built by keyword only."""

import ast
from collections.abc import Iterator
from pathlib import Path

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
