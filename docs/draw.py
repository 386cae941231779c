"""Draws docs/architecture.svg from the imports, writes tables, pages and schemas from the code: docs/draw.py [--check].

A room stands on those below it. Only arrows that no longer way implies are drawn.
"""

import ast
import json
import sys
from collections.abc import Iterator
from html import escape
from pathlib import Path
from typing import Any

from horismos.cutting import tools
from horismos.destinations import OWN_CUTTER
from horismos.json_readers import object_schema
from horismos.making.spec import LINE_FIELDS, make_schema
from horismos.orders import order_schema
from horismos.sheet import marks
from horismos.stitching import stack
from horismos.workflow.schemas import PUBLISHED, SCHEMAS

ROOT = Path(__file__).resolve().parents[1]
SOURCES = {"horismos": ROOT / "src" / "horismos", "server": ROOT / "server"}
LEFT_OUT = {"__init__", "__main__", "manage", "migrations"}
WIDTH, ROW, HEIGHT, PAD = 1180, 66, 30, 14

Graph = dict[str, set[str]]


def _modules(folder: Path) -> Iterator[tuple[str, Path]]:
    """The rooms of a folder with their files: each package and each file in it."""
    for entry in sorted(folder.iterdir()):
        if entry.stem in LEFT_OUT or entry.name.startswith("__"):
            continue
        if entry.is_dir():
            yield from ((entry.name, path) for path in sorted(entry.rglob("*.py")) if "migrations" not in path.parts)
        elif entry.suffix == ".py":
            yield entry.stem, entry


def _imported(path: Path) -> Iterator[str]:
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.ImportFrom) and node.module and not node.level:
            yield node.module
            yield from (f"{node.module}.{alias.name}" for alias in node.names)
        elif isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)


def core() -> Graph:
    """Which room of the core imports which."""
    graph: Graph = {}
    for room, path in _modules(SOURCES["horismos"]):
        names = (name.split(".") for name in _imported(path) if name.startswith("horismos."))
        graph.setdefault(room, set()).update(parts[1] for parts in names if parts[1] != room)
    return {room: {other for other in others if other in graph} for room, others in graph.items()}


def server() -> Graph:
    """Which part of the server imports which, and the core as one; the API and the store of jobs apart."""
    folder, graph = SOURCES["server"], {"core": set[str]()}

    def part(name: str) -> str | None:
        parts = name.split(".")
        if parts[0] == "horismos":
            return "core"
        if not (folder / parts[0]).is_dir():
            return None
        return ".".join(parts[:2]) if parts[0] == "jobs" and len(parts) > 1 else parts[0]

    for _, path in _modules(folder):
        own = part(".".join(path.relative_to(folder).with_suffix("").parts))
        if own and "management" not in path.parts and path.stem not in LEFT_OUT | {"apps"}:
            graph.setdefault(own, set()).update(p for n in _imported(path) if (p := part(n)) and p != own)
    return {room: {o for o in others if o in graph} for room, others in graph.items()}


def heights(graph: Graph) -> dict[str, int]:
    """How many rooms lie below each, on the longest way down. Raises ValueError where rooms stand in a circle."""
    found: dict[str, int] = {}

    def height(room: str, above: tuple[str, ...]) -> int:
        if room in above:
            raise ValueError(f"A circle: {' → '.join([*above, room])}")
        if room not in found:
            found[room] = 1 + max((height(other, (*above, room)) for other in graph[room]), default=-1)
        return found[room]

    for room in graph:
        height(room, ())
    return found


def plain(graph: Graph) -> Graph:
    """The arrows that no longer way implies."""
    below: Graph = {}
    for room in sorted(graph, key=heights(graph).__getitem__):
        below[room] = graph[room].union(*(below[other] for other in graph[room]), set())
    return {room: {o for o in graph[room] if not any(o in below[p] for p in graph[room])} for room in graph}


def drawing(graph: Graph) -> str:
    """The rooms in rows by height, with their arrows, as SVG."""
    height, arrows = heights(graph), plain(graph)
    rows = [sorted(r for r in graph if height[r] == level) for level in range(max(height.values()) + 1)][::-1]
    place: dict[str, tuple[float, float, float]] = {}
    for i, row in enumerate(rows):
        widths = [len(room) * 8.2 + 2 * PAD for room in row]
        gap = (WIDTH - sum(widths)) / (len(row) + 1)
        x = gap
        for room, width in zip(row, widths, strict=True):
            place[room] = (x, PAD + i * ROW, width)
            x += width + gap
    lines = []
    for room, others in arrows.items():
        x, y, w = place[room]
        for other in sorted(others):
            ox, oy, ow = place[other]
            a, b, c, d = x + w / 2, y + HEIGHT, ox + ow / 2, oy
            lines.append(f'<path d="M{a:.0f} {b:.0f}C{a:.0f} {b + 24:.0f} {c:.0f} {d - 24:.0f} {c:.0f} {d:.0f}"/>')
    boxes = [
        f'<rect x="{x:.0f}" y="{y:.0f}" width="{w:.0f}" height="{HEIGHT}" rx="3"/>'
        f'<text x="{x + w / 2:.0f}" y="{y + 20:.0f}">{escape(room)}</text>'
        for room, (x, y, w) in sorted(place.items())
    ]
    tall = PAD * 2 + (len(rows) - 1) * ROW + HEIGHT
    style = (
        "path{fill:none;stroke:#8a8a8a}rect{fill:#fff;stroke:#0b5c63}"
        "text{font:14px sans-serif;text-anchor:middle;fill:#1a1a1a}"
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {tall}" width="{WIDTH}" height="{tall}">\n'
        f"<style>{style}</style>\n<rect width='100%' height='100%' style='fill:#f2f2f2;stroke:none'/>\n"
        + "\n".join(sorted(lines) + boxes) + "\n</svg>\n"
    )


def errors() -> str:
    """Every error code with what it means, as a page."""
    from horismos.errors import codes

    rows = "".join(f"| `{code}` | {means} |\n" for code, means in sorted(codes().items()))
    return (
        "# Error codes\n\nWritten by `docs/draw.py` from `horismos/errors.py`. An answer of the API holds `code`, for "
        "programs, and `message`, for people: what is wrong, and the next step. Codes never change.\n\n"
        "| code | what it means |\n|---|---|\n" + rows +
        "\nThe API has three more: `refused` (an address that wants something else), `not-understood` (what was sent "
        "has another shape), and, with the status 401 and no code, that nobody is logged in.\n\n"
        "The command line ends with 0 for clean or a look, 1 for a stop, 2 for an error.\n"
    )


def mends() -> str:
    """Every mend with what it answers and its settings, as a page."""
    from horismos.mending import Setting, registered

    def words(setting: Setting) -> str:
        if setting.options:
            range_words = " or ".join(setting.options)
        elif setting.kind == "number":
            range_words = setting.range_words
        else:
            range_words = {"role": "a line role", "name": "a name", "colour": "[c, m, y, k] or [r, g, b]",
                           "points": "[[x, y], …] in mm", "make": "what is made, see lines.md"}[setting.kind]
        left = f", else {setting.default:g}" if isinstance(setting.default, float) else (
            f", else {setting.default}" if setting.default else ", may be left out" if setting.optional else "")
        return f"`{setting.name}` {range_words}{left}"

    rows = "".join(
        f"| `{mend.id}` | {'yes' if mend.safe else 'asks'} | {', '.join(mend.answers)} | "
        f"{'; '.join(map(words, mend.settings)) or '–'} |\n"
        for mend in registered().values()
    )
    return (
        "# Mends\n\nWritten by `docs/draw.py` from the register, in the order in which they are done. A step is "
        '`{"mend": "smooth", "role": "kiss-cut", "tolerance_mm": 0.05}`; without `role` a mend takes the lines of all '
        "roles. Those that are safe are done by *Mend all that is safe* and by `--safe`. A recipe is "
        '`{"name": …, "version": 1, "steps": […]}`, as JSON Schema 2020-12: '
        "[recipe.schema.json](schemas/recipe.schema.json).\n\n"
        "| mend | safe | answers | settings |\n|---|---|---|---|\n" + rows
    )


END = "<!-- end of keys -->\n"


def tables() -> dict[str, str]:
    """The pages that hold tables of keys, with these as the code reads them."""
    known = {
        "order": order_schema(), "layout": SCHEMAS["layout"](), "marks": object_schema(marks.FIELDS, marks.MarkPlan()),
        "tool": object_schema(tools.FIELDS), "make": make_schema(), "line": object_schema(LINE_FIELDS, None, ("role",)),
        "stack": stack.stack_schema(), "layer": object_schema(stack.LAYER_FIELDS, stack.Layer("")),
        "stitches": object_schema(stack.SEWING_FIELDS, None, ("kind",)), "material": SCHEMAS["material"](),
        "destination": SCHEMAS["destination"](), "cutter": object_schema(OWN_CUTTER),
    }
    pages = {name: (ROOT / "docs" / name).read_text() for name in ("orders.md", "layouts.md", "lines.md", "stacks.md")}
    for name, schema in known.items():
        mark = f"<!-- keys: {name} -->\n"
        page = next(page for page, text in pages.items() if mark in text)
        before, _, rest = pages[page].partition(mark)
        pages[page] = before + mark + _table(schema) + END + rest.partition(END)[2]
    return pages


def _table(schema: dict[str, Any]) -> str:
    rows = ""
    for name, value in schema["properties"].items():
        default = value.get("default")
        left = "wanted" if name in schema.get("required", ()) else (
            "" if default in (None, "") or isinstance(default, dict | list)
            else f"`{json.dumps(default, ensure_ascii=False)}`")
        rows += f"| `{name}` | {value.get('description', '')} | {_values(value)} | {left} |\n"
    return "| key | what it is | values | left out |\n|---|---|---|---|\n" + rows


def _values(schema: dict[str, Any]) -> str:
    """What a schema takes, in words; that null is as left out is said once for all of them."""
    if schema.get("type") == "object":
        return "an object"
    if "anyOf" in schema:
        return " or ".join(dict.fromkeys(_values(one) for one in schema["anyOf"] if one != {"type": "null"}))
    if "enum" in schema:
        return ", ".join(f"`{one}`" for one in schema["enum"])
    if schema["type"] == "array":
        if "prefixItems" in schema:
            return f"a list of {schema['minItems']} numbers"
        several = schema["items"]
        if several.get("type") == "integer":
            return "a list of whole numbers"
        return f"a list of {_values(several)}" if "enum" in several else "a list"
    if "maximum" not in schema:
        return {"boolean": "`true`, `false`", "string": "text"}.get(schema["type"], "a number")
    least = f"above {schema['exclusiveMinimum']:g}, up" if "exclusiveMinimum" in schema else f"{schema['minimum']:,g}"
    whole = "a whole number, " if schema["type"] == "integer" else ""
    most = f"{schema['maximum']:,f}".rstrip("0").rstrip(".")
    return f"{whole}{least} to {most}"


def main() -> int:
    """Write the pages; with --check say whether they are as the code is."""
    pages = {
        "architecture.svg": drawing(core()), "server.svg": drawing(server()), "errors.md": errors(),
        "mends.md": mends(), **tables(),
        **{
            PUBLISHED[name]: json.dumps(schema(), indent=1, ensure_ascii=False) + "\n"
            for name, schema in SCHEMAS.items()
        },
    }
    old = [name for name, text in pages.items() if (p := ROOT / "docs" / name) and (
        not p.exists() or p.read_text() != text)]
    if "--check" in sys.argv[1:]:
        if old:
            print(f"docs/{', docs/'.join(old)}: not as the code is. Run docs/draw.py.")
        return bool(old)
    for name in old:
        path = ROOT / "docs" / name
        path.parent.mkdir(exist_ok=True)
        path.write_text(pages[name])
    return 0


if __name__ == "__main__":
    sys.exit(main())
