"""Sort a folder of customers' files by what each needs from a person; the originals stay as they are."""

import argparse
import hashlib
import json
import os
import stat
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from horismos.cli.file import OK, STOP, plain_json, print_json
from horismos.errors import BadValue, CannotRead, CannotWrite, HorismosError
from horismos.sandbox.pool import Call, Fault, Pool

if TYPE_CHECKING:
    from horismos.workflow.pile import PileShop

__all__ = ["CONFINED", "options", "run"]

CONFINED = False
"""Its children handle the files, each under limits of its own."""
SECONDS = 240.0
UNREADABLE_STATE = "unreadable"
MOST_WORKERS, MOST_FILES, MOST_STEM = 64, 100_000, 220
WRITTEN = ".pile.json"
"""What a run has written, so that the next one replaces that and nothing else."""
STEPS = (
    "horismos.workflow.steps.pile", "horismos.artwork.programs", "horismos.intake.svg", "horismos.intake.drawings",
    "horismos.intake.picture_pdf", "horismos.intake.postscript", "resvg_py", "scipy.ndimage",
    "scipy.sparse.csgraph", "scipy.spatial.distance",
)


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command."""
    parser.add_argument("folder", type=Path, metavar="DIR", help="files, and folders of them by customer")
    parser.add_argument("--shop", type=Path, help="a JSON file; see docs/pile.md")
    parser.add_argument("--out", type=Path, required=True, help="the folder that mended files are written to")
    parser.add_argument("--workers", default=str(min(os.cpu_count() or 2, 6)), help="how many files at a time")
    parser.add_argument("--json", action="store_true")


@dataclass(frozen=True)
class _File:
    """A file below the folder: its name there, the customer's folder, and why it is none that can be read."""

    path: Path
    name: str
    folder: str | None
    odd: str = ""
    sha256: str = ""


@dataclass(frozen=True)
class _Row:
    """What came out of a file, as it is told, and the file as far as it was mended."""

    said: Mapping[str, Any]
    pdf: bytes | None = None
    reason: str = ""


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives 0 where all files are ready, else 1."""
    began = time.monotonic()
    workers = _workers(args.workers)
    pool = Pool(STEPS, most=workers, ready=workers)
    threading.Thread(target=pool.start, daemon=True).start()  # while this process still imports what it needs
    try:
        return _run(args, workers, pool, began)
    finally:
        pool.close()


def _run(args: argparse.Namespace, workers: int, pool: Pool, began: float) -> int:
    from horismos.workflow.pile import PileShop, State

    shop = PileShop() if args.shop is None else PileShop.from_json(plain_json(args.shop))
    if not args.folder.is_dir():
        raise CannotRead(f"{args.folder} is no folder.", "Name the folder that the files lie in.")
    out = args.out.resolve()
    if out == args.folder.resolve():
        raise BadValue("What is written would lie among the originals.", "Give --out another folder.")
    files = [_hashed(file) for file in _listed(args.folder, out)]
    try:
        out.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise CannotWrite(f"{args.out} cannot be made: {error.strerror}.", "Give --out another folder.") from None
    rows = _sorted(files, shop, workers, pool, _Written(out), told=not args.json)
    states = Counter(str(row.said["state"]) for row in rows)
    if args.json:
        print_json({
            "files": [dict(row.said) for row in rows],
            "states": {state.value: states[state.value] for state in reversed(State)},
            "seconds": round(time.monotonic() - began, 3),
        })
    else:
        counts = [f"{states[state.value]} {state}" for state in reversed(State) if states[state.value]]
        print(", ".join(counts) or f"{args.folder} is empty.")
    return OK if states[State.READY.value] == len(rows) else STOP


def _workers(said: str) -> int:
    if not said.isascii() or not said.isdigit() or not 1 <= int(said) <= MOST_WORKERS:
        raise BadValue(f"“{said}” is no number of workers.", f"Give 1 to {MOST_WORKERS}.")
    return int(said)


# -- the files -----------------------------------------------------------------------------------------------------


def _listed(folder: Path, out: Path) -> list[_File]:
    """The files of a folder and of those in it, in the order of their names; of links and pipes it is said why not."""
    found: list[_File] = []
    for entry in _entries(folder):
        if entry.is_dir(follow_symlinks=False):
            if Path(entry.path).resolve() != out:
                found += [_one(inner, entry.name) for inner in _entries(Path(entry.path)) if not inner.is_dir()]
        elif not entry.is_dir():
            found.append(_one(entry, None))
    if len(found) > MOST_FILES:
        raise BadValue(f"{folder} holds more than {MOST_FILES:,} files.", "Sort them in parts.")
    return sorted(found, key=lambda file: file.name)


def _entries(folder: Path) -> Iterator[os.DirEntry[str]]:
    try:
        with os.scandir(folder) as entries:
            yield from (entry for entry in entries if not entry.name.startswith("."))
    except OSError as error:
        raise CannotRead(f"{folder} cannot be opened: {error.strerror}.") from None


def _one(entry: os.DirEntry[str], folder: str | None) -> _File:
    name = f"{folder}/{entry.name}" if folder is not None else entry.name
    try:
        regular = stat.S_ISREG(entry.stat(follow_symlinks=False).st_mode)
        odd = "" if regular else "It is no file but a link or a device."
    except OSError as error:  # it went away meanwhile
        odd = f"It cannot be opened: {error.strerror}."
    return _File(Path(entry.path), _printable(name), folder and _printable(folder), odd)


def _printable(name: str) -> str:
    """A name that can be printed, whatever bytes it has on the disk."""
    return os.fsencode(name).decode("utf-8", "replace")


def _hashed(file: _File) -> _File:
    """A file with the hash of its bytes, none where it cannot be read."""
    if file.odd:
        return file
    try:
        with open(os.open(file.path, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK), "rb") as data:
            return replace(file, sha256=hashlib.file_digest(data, "sha256").hexdigest())
    except OSError as error:
        return replace(file, odd=f"It cannot be opened: {error.strerror}.")


# -- sorting -------------------------------------------------------------------------------------------------------


def _sorted(
    files: Sequence[_File], shop: "PileShop", workers: int, pool: Pool, written: "_Written", told: bool
) -> list[_Row]:
    """What becomes of each file, in their order; what is written is written as soon as it is known."""
    first: dict[str, _File] = {}
    for file in files:
        if file.sha256:
            first.setdefault(file.sha256, file)
    names = written.begin([file.name for file in files])
    rows: dict[str, _Row] = {}

    def carry_out(file: _File) -> _Row:
        row = _row(file, shop, pool)
        if row.pdf is not None:
            written.put(names[file.name], row.pdf)
            row = _Row({**row.said, "written": names[file.name]}, None, row.reason)
        return row

    with ThreadPoolExecutor(workers) as threads:
        alone = [file for file in files if not file.sha256 or first[file.sha256] is file]
        for count, (file, row) in enumerate(zip(alone, threads.map(carry_out, alone), strict=True), 1):
            rows[file.name] = row
            _tell(file, row, f"{count}/{len(alone)}", told)
    for file in files:
        if file.name not in rows:
            rows[file.name] = _same(file, shop, rows[first[file.sha256].name])
    written.end({str(row.said["written"]) for row in rows.values() if row.said["written"]})
    return [rows[file.name] for file in files]


def _row(file: _File, shop: "PileShop", pool: Pool) -> _Row:
    """What came out of one file."""
    began = time.monotonic()
    about = shop.about(Path(file.name).name, file.folder)
    said: dict[str, Any] = {
        "file": file.name, "customer": about.customer, "order": about.order.to_json(), "state": UNREADABLE_STATE,
        "why": [], "did": [], "refused": [], "written": None, "same_as": None, "seconds": 0.0,
    }
    pdf, reason = None, file.odd
    if not reason:
        from horismos.workflow.steps.stored import Content

        call = Call(
            "horismos.workflow.steps.pile:sorted_file",
            (Content(file.path, file.sha256), Path(file.name).name, about, shop), seconds=SECONDS,
        )
        try:
            found = pool.run(call)
            pdf = found.pop("pdf")
            said |= found
        except HorismosError as error:
            reason = str(error)
        except Fault as fault:
            reason = f"Sorting it failed: {str(fault).strip().splitlines()[-1]}"
    return _Row({**said, "seconds": round(time.monotonic() - began, 3)}, pdf, reason)


def _same(file: _File, shop: "PileShop", earlier: _Row) -> _Row:
    """A file that holds the same bytes as an earlier one."""
    about = shop.about(Path(file.name).name, file.folder)
    readable = earlier.said["state"] != UNREADABLE_STATE
    return _Row({
        "file": file.name, "customer": about.customer, "order": about.order.to_json(),
        "state": "same" if readable else UNREADABLE_STATE, "why": [], "did": [], "refused": [],
        "written": None, "same_as": earlier.said["file"] if readable else None, "seconds": 0.0,
    })


def _tell(file: _File, row: _Row, count: str, told: bool) -> None:
    """Say how a file came out, while others are still under way; why one cannot be used always."""
    if told:
        said = row.said
        words = [*said["why"], *(f"{one['mend']}: done" for one in said["did"])]
        print(f"{count}  {said['state']:10}  {file.name}  {', '.join(words)}".rstrip(), flush=True)
    if row.reason:
        print(f"{file.name}: {row.reason}", file=sys.stderr)


# -- writing -------------------------------------------------------------------------------------------------------


class _Written:
    """The files that runs have written to a folder: the next run replaces these, and nothing else that lies there."""

    def __init__(self, out: Path) -> None:
        self._out = out
        self._note = out / WRITTEN
        self._before = self._noted()

    def _noted(self) -> set[str]:
        try:
            said = json.loads(self._note.read_text(encoding="utf-8"))
        except (OSError, ValueError):
            return set()
        listed = said if isinstance(said, list) else []
        return {one for one in listed if isinstance(one, str) and one == Path(one).name and not one.startswith(".")}

    def begin(self, files: Sequence[str]) -> dict[str, str]:
        """The names that files are written under: of their own, without those that somebody else has there."""
        taken = {one.name.casefold() for one in self._out.iterdir()} - {one.casefold() for one in self._before}
        names: dict[str, str] = {}
        for file in files:
            stem = (Path(file).name.rpartition(".")[0] or Path(file).name)
            stem = stem.encode()[:MOST_STEM].decode("utf-8", "ignore")
            name, number = f"{stem}.pdf", 1
            while name.casefold() in taken:
                number += 1
                name = f"{stem}-{number}.pdf"
            taken.add(name.casefold())
            names[file] = name
        self._keep(self._before | set(names.values()))
        return names

    def put(self, name: str, data: bytes) -> None:
        """Write a file whole, or not at all."""
        handle, path = tempfile.mkstemp(dir=self._out, prefix=".", suffix=".part")
        try:
            with os.fdopen(handle, "wb") as file:
                file.write(data)
            os.chmod(path, 0o644)
            os.replace(path, self._out / name)
        except OSError as error:
            Path(path).unlink(missing_ok=True)
            raise CannotWrite(f"{name} cannot be written: {error.strerror}.", "Make room, or give --out another folder."
                              ) from None

    def end(self, written: set[str]) -> None:
        """Take away what an earlier run wrote and this one did not."""
        for name in self._before - written:
            (self._out / name).unlink(missing_ok=True)
        self._keep(written)

    def _keep(self, names: set[str]) -> None:
        self.put(WRITTEN, (json.dumps(sorted(names), ensure_ascii=False) + "\n").encode())
