"""Takes a file in inside a child process, so that no file can bring the rest down.

Time and memory are limited; a crash of a codec ends the child alone.
"""

import json
import sys
import tempfile
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path
from typing import Any

from horismos.artwork.kinds import Kind
from horismos.destinations import HOUSE, SHIPPED, Destination
from horismos.errors import Asks, CannotRead, HorismosError, LimitExceeded, by_code
from horismos.intake.answers import Answers
from horismos.intake.take import Note, Taken, take_in
from horismos.orders import Order
from horismos.questions import Choice, Question
from horismos.rendering.child import run_limited

__all__ = ["take_in_within"]

TIME_S = 180.0


def take_in_within(
    data: bytes, name: str = "", answers: Answers | None = None, order: Order | None = None,
    destination: Destination = HOUSE, tell: Callable[[float, str], None] = lambda share, what: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Taken:
    """``take_in`` in a child process under limits. Raises as it does, and LimitExceeded."""
    answers, order = answers or Answers(), order or Order()
    with tempfile.TemporaryDirectory() as folder:
        here = Path(folder)
        (here / "in").write_bytes(data)
        asked = {
            "name": name, "answers": {**answers.to_json(), "password": answers.password}, "order": order.to_json(),
            "destination": destination.id,
        }
        (here / "asked.json").write_text(json.dumps(asked))

        def watch() -> bool:
            said = here / "told.json"
            if said.exists():
                share, what = json.loads(said.read_text() or "[0, \"reading\"]")
                tell(share, what)
            return cancelled()

        try:
            run_limited([sys.executable, "-m", "horismos.intake.within", "."], here, TIME_S, watch)
        except LimitExceeded:
            raise LimitExceeded("Taking the file in took longer than it may.", "Ask for a simpler file.") from None
        except CannotRead:
            raise CannotRead(
                "The file made its reader end, or asks for more memory than a file may.",
                "Ask for it to be written again.",
            ) from None
        return _answer(here)


def _answer(here: Path) -> Taken:
    got: dict[str, Any] = json.loads((here / "got.json").read_text())
    if "questions" in got:
        raise Asks(*(
            Question(q["id"], q["words"], tuple(Choice(**c) for c in q["choices"])) for q in got["questions"]
        ))
    if "error" in got:
        raise by_code(got["error"], got["message"], got["next_step"])
    return Taken(
        Kind(got["kind"]), (here / "out.pdf").read_bytes(), tuple(Note(**n) for n in got["notes"]),
        tuple(Choice(**c) for c in got["choices"]), got["pages"],
    )


def main(folder: Path) -> None:
    """The child's side: read what is asked, write what came of it."""
    asked = json.loads((folder / "asked.json").read_text())

    def tell(share: float, what: str) -> None:
        (folder / "told.new").write_text(json.dumps([share, what]))
        (folder / "told.new").replace(folder / "told.json")

    got: dict[str, Any]
    try:
        taken = take_in(
            (folder / "in").read_bytes(), asked["name"], Answers.from_json(asked["answers"]),
            Order.from_json(asked["order"]), SHIPPED[asked["destination"]], tell,
        )
        (folder / "out.pdf").write_bytes(taken.pdf)
        got = {
            "kind": taken.kind.value, "notes": [asdict(n) for n in taken.notes],
            "choices": [asdict(c) for c in taken.choices], "pages": taken.pages,
        }
    except Asks as asks:
        got = {"questions": [asdict(q) for q in asks.questions]}
    except HorismosError as error:
        got = {"error": error.code, "message": error.message, "next_step": error.next_step}
    except (MemoryError, RecursionError):
        got = {
            "error": LimitExceeded.code, "message": "The file asks for more memory or nesting than a file may.",
            "next_step": "Ask for a simpler one.",
        }
    (folder / "got.json").write_text(json.dumps(got))


if __name__ == "__main__":
    main(Path(sys.argv[1]))
