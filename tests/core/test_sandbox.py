"""Children under limits: they answer, they are stopped, they end with who started them, and meet one file only."""

import os
import signal
import subprocess
import sys
import threading
import time
import tracemalloc
import zlib
from collections.abc import Callable, Iterator
from contextlib import suppress
from hashlib import sha256
from pathlib import Path

import pikepdf
import pytest

from horismos.artwork import read_bytes
from horismos.artwork.unpack import FILTERS, stream_bytes, unpacked
from horismos.errors import Asks, Cancelled, CannotRead, LimitExceeded
from horismos.sandbox.limits import Limits
from horismos.sandbox.pool import Call, Fault, Pool
from horismos.sandbox.programs import run_limited
from horismos.sandbox.wire import plain, values
from horismos.workflow.steps.stored import Content
from horismos.workflow.take_in import Arrival
from tests import hostile
from tests.breadth import breadth
from tests.running import wait_until

STEPS = "horismos.workflow.steps"
HERE = "tests.core.childish"


@pytest.fixture(scope="module")
def pool() -> Iterator[Pool]:
    made = Pool([f"{STEPS}.job", f"{STEPS}.pictures", HERE], most=3, limits=Limits(memory_bytes=2_000_000_000))
    yield made
    made.close()


@pytest.fixture()
def kept(tmp_path: Path) -> Callable[[bytes], Content]:
    def keep(data: bytes) -> Content:
        content = Content(tmp_path / sha256(data).hexdigest(), sha256(data).hexdigest())
        content.path.write_bytes(data)
        return content

    return keep


def alive(number: int) -> bool:
    """Whether a process is there and no zombie."""
    try:
        return Path(f"/proc/{number}/stat").read_text().rsplit(")", 1)[1].split()[0] not in "ZX"
    except OSError:
        return False


# -- answers -------------------------------------------------------------------------------------------


def test_a_child_answers_as_the_function_does(pool: Pool, kept: Callable[[bytes], Content]) -> None:
    data = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 90 60"><rect width="90" height="60"/></svg>'
    content = kept(data)
    with pytest.raises(Asks) as asks:
        pool.run(Call(f"{STEPS}.job:take_in", (content, Arrival(b"", "seal.svg"), 1), content.sha256))
    assert asks.value.questions[0].id == "size"
    with pytest.raises(CannotRead, match="archive"):
        pool.run(Call(f"{STEPS}.job:kind", (kept(b"PK\x03\x04"), "a.zip")))
    told: list[tuple[float, str]] = []
    assert pool.run(Call(f"{HERE}:tells", (3,)), lambda share, what: told.append((share, what))) == 3
    assert told == [(0.0, "0"), (0.5, "1"), (1.0, "2")]


def test_a_fault_of_ours_is_no_fault_of_the_file(pool: Pool) -> None:
    with pytest.raises(Fault, match="ZeroDivisionError"):
        pool.run(Call(f"{HERE}:faulty"))


def test_content_that_is_not_what_it_was_is_refused(pool: Pool, kept: Callable[[bytes], Content]) -> None:
    content = kept(hostile.sound())
    content.path.write_bytes(hostile.sound()[:-1] + b" ")
    with pytest.raises(CannotRead, match="has changed in the store"):
        pool.run(Call(f"{STEPS}.job:kind", (content, "a.pdf")))
    content.path.unlink()
    with pytest.raises(CannotRead, match="is missing in the store"):
        pool.run(Call(f"{STEPS}.job:kind", (content, "a.pdf")))


def test_what_a_child_answers_is_plain_values_and_never_run() -> None:
    value = {"a": [1, 2.5, None, True, "é\ud800"], "b": b"\x00\xff"}
    assert values(plain(value)) == value
    for nonsense in (b"\xc1", b"", b"\x81", b"cos\nsystem\n(S'true'\ntR."):
        with suppress(ValueError):
            assert not isinstance(values(nonsense), dict)


def test_a_child_is_kept_for_its_file_and_never_given_another(pool: Pool) -> None:
    first = pool.run(Call(f"{HERE}:number", (), "one"))
    assert pool.run(Call(f"{HERE}:number", (), "one")) == first
    assert pool.run(Call(f"{HERE}:number", (), "two")) != first
    assert pool.run(Call(f"{HERE}:number")) not in (first, pool.run(Call(f"{HERE}:number")))


def test_many_threads_share_a_few_children(pool: Pool) -> None:
    found: list[int] = []
    threads = [
        threading.Thread(target=lambda i=i: found.append(pool.run(Call(f"{HERE}:tells", (i,), str(i % 5)))))
        for i in range(12)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(30)
    assert sorted(found) == list(range(12))


# -- limits ----------------------------------------------------------------------------------------------


def test_time_is_over_for_the_child_and_all_that_it_started(pool: Pool, tmp_path: Path) -> None:
    began = time.monotonic()
    with pytest.raises(LimitExceeded, match="took longer"):
        pool.run(Call(f"{HERE}:starts_and_hangs", (str(tmp_path / "numbers"),), seconds=1.0))
    assert time.monotonic() - began < 20
    numbers = [int(n) for n in (tmp_path / "numbers").read_text().split()]
    assert len(numbers) == 2 and wait_until(lambda: not any(map(alive, numbers)))


def test_stop_is_heard_at_once_though_the_child_tells_nothing(pool: Pool, tmp_path: Path) -> None:
    began = time.monotonic()
    with pytest.raises(Cancelled):
        pool.run(
            Call(f"{HERE}:starts_and_hangs", (str(tmp_path / "numbers"),)),
            cancelled=lambda: (tmp_path / "numbers").exists(),
        )
    assert time.monotonic() - began < 20
    assert wait_until(lambda: not any(map(alive, map(int, (tmp_path / "numbers").read_text().split()))))


def test_no_file_is_blamed_for_one_child_that_was_ended_from_outside(pool: Pool, tmp_path: Path) -> None:
    tally = str(tmp_path / "tally")
    assert pool.run(Call(f"{HERE}:ends_so_often", (tally, 1), "one")) == 2
    with pytest.raises(CannotRead, match="made its reader end"):
        pool.run(Call(f"{HERE}:ends_so_often", (str(tmp_path / "other"), 9), "two"))
    assert (tmp_path / "other").read_text() == "xx", "a file by which two have ended is not tried a third time"


def test_who_has_ended_at_rest_is_given_no_file(pool: Pool, tmp_path: Path) -> None:
    resting = pool.run(Call(f"{HERE}:number", (), "one"))
    os.kill(resting, signal.SIGKILL)
    assert wait_until(lambda: not alive(resting))
    assert pool.run(Call(f"{HERE}:ends_so_often", (str(tmp_path / "tally"), 1), "one")) == 2, "nor is a try lost by it"


def test_a_template_that_is_gone_takes_its_children_with_it_and_no_file_is_blamed(pool: Pool, tmp_path: Path) -> None:
    resting = pool.run(Call(f"{HERE}:number", (), "one"))
    template = int(Path(f"/proc/{resting}/stat").read_text().rsplit(")", 1)[1].split()[1])
    os.kill(template, signal.SIGKILL)
    assert wait_until(lambda: not alive(resting))
    assert pool.run(Call(f"{HERE}:tells", (2,), "one")) == 2 and pool.run(Call(f"{HERE}:number", (), "one")) != resting


def test_memory_is_limited_and_the_next_call_finds_a_new_child(pool: Pool) -> None:
    with pytest.raises(LimitExceeded, match="memory"):
        pool.run(Call(f"{HERE}:eats", (3_000_000_000,), "eater"))
    with pytest.raises(CannotRead, match="made its reader end"):
        pool.run(Call(f"{HERE}:crashes", (), "eater"))
    assert pool.run(Call(f"{HERE}:tells", (1,), "eater")) == 1


@pytest.mark.parametrize("which", [signal.SIGKILL, signal.SIGTERM])
def test_when_the_parent_is_killed_everything_below_it_ends(tmp_path: Path, which: signal.Signals) -> None:
    numbers = tmp_path / "numbers"
    program = (
        "from horismos.sandbox.pool import Call, Pool\n"
        f"Pool(['{HERE}']).run(Call('{HERE}:starts_and_hangs', ({str(numbers)!r},)))\n"
    )
    parent = subprocess.Popen([sys.executable, "-c", program], env={**os.environ, "PYTHONPATH": os.getcwd()})
    assert wait_until(lambda: numbers.exists() and len(numbers.read_text().split()) == 2)
    parent.send_signal(which)
    parent.wait()
    assert wait_until(lambda: not any(map(alive, map(int, numbers.read_text().split()))))


def test_a_program_ends_with_the_process_that_runs_it(tmp_path: Path) -> None:
    (tmp_path / "in.ps").write_bytes(hostile.LOOP)
    program = (
        "import os, pathlib; from horismos.sandbox.programs import ghostscript\n"
        "ghostscript(['-sDEVICE=nullpage', 'in.ps'], pathlib.Path('.'))\n"
    )
    parent = subprocess.Popen([sys.executable, "-c", program], cwd=tmp_path)

    def children() -> list[int]:
        try:
            return [int(n) for n in Path(f"/proc/{parent.pid}/task/{parent.pid}/children").read_text().split()]
        except OSError:
            return []

    assert wait_until(lambda: bool(children()))
    (number,) = children()
    parent.kill()
    parent.wait()
    assert wait_until(lambda: not alive(number))


def test_a_program_is_limited_in_time(tmp_path: Path) -> None:
    with pytest.raises(LimitExceeded, match="sleep took longer than 0 s"):
        run_limited(["sleep", "30"], tmp_path, 0.3)
    with pytest.raises(Cancelled):
        run_limited(["sleep", "30"], tmp_path, 30, lambda: True)


# -- attacks -----------------------------------------------------------------------------------------------


def test_comments_that_could_be_parted_in_many_ways_are_told_at_once(
    pool: Pool, kept: Callable[[bytes], Content]
) -> None:
    assert len(hostile.DXF_COMMENTS) == 241
    with pytest.raises(CannotRead):
        pool.run(Call(f"{STEPS}.job:kind", (kept(hostile.DXF_COMMENTS), "a.dxf"), seconds=5))


@breadth(0.12, "long ones")
@pytest.mark.parametrize("parms", [b"/DecodeParms [null null]", b"", b"/DecodeParms [<< /Predictor 1 >> null]"])
def test_what_was_packed_twice_is_refused_before_it_fills_the_memory(
    pool: Pool, kept: Callable[[bytes], Content], parms: bytes
) -> None:
    data = hostile.deflated_twice(parms=parms)
    assert len(data) < 30_000
    with pytest.raises(LimitExceeded, match="unpacks to more"):
        pool.run(Call(f"{STEPS}.job:take_in", (kept(data), Arrival(b"", "a.pdf"), 1), seconds=60))


def packed(data: bytes, names: tuple[str, ...]) -> bytes:
    """Bytes under filters, undone in the order of the names, as the library that reads PDF writes them or by hand."""
    for name in reversed(names):
        if name == "/FlateDecode":
            data = zlib.compress(data)
        elif name == "/ASCIIHexDecode":
            data = data.hex().encode() + b">"
        elif name == "/RunLengthDecode":
            data = b"".join(bytes([len(data[i : i + 128]) - 1]) + data[i : i + 128] for i in range(0, len(data), 128))
            data += b"\x80"
        elif name == "/ASCII85Decode":
            import base64

            data = base64.a85encode(data) + b"~>"
    return data


@pytest.mark.parametrize("names", [
    ("/FlateDecode",), ("/FlateDecode", "/FlateDecode"), ("/ASCII85Decode", "/FlateDecode"),
    ("/ASCIIHexDecode", "/RunLengthDecode"), ("/RunLengthDecode", "/FlateDecode", "/ASCIIHexDecode"),
])
def test_every_filter_is_undone_as_the_library_does_and_is_counted(names: tuple[str, ...]) -> None:
    plain_content = bytes(range(256)) * 300 + b"0 0 9 9 re f " * 2_000
    data = packed(plain_content, names)
    assert unpacked(data, names, len(plain_content)) == plain_content
    with pytest.raises(LimitExceeded):
        unpacked(data, names, len(plain_content) - 1)
    with pikepdf.new() as pdf:
        found = pdf.make_stream(data)
        found.Filter = pikepdf.Array([pikepdf.Name(name) for name in names])
        assert stream_bytes(found) == plain_content
        assert bytes(found.read_bytes(pikepdf.StreamDecodeLevel.specialized)) == plain_content


def test_lzw_is_undone_as_the_library_does() -> None:
    """The example of ISO 32000-1, 7.4.4.2: 45 45 45 45 45 65 45 45 45 66."""
    data = bytes([0x80, 0x0B, 0x60, 0x50, 0x22, 0x0C, 0x0C, 0x85, 0x01])
    assert unpacked(data, ["/LZWDecode"], 100) == bytes([45, 45, 45, 45, 45, 65, 45, 45, 45, 66])
    assert set(FILTERS) >= {"/LZW", "/LZWDecode"}


@breadth(0.12, "long ones")
def test_counting_does_not_hold_what_it_counts() -> None:
    inner = zlib.compress(bytes(200_000_000), 9)
    data = zlib.compress(inner, 9)
    tracemalloc.start()
    with pytest.raises(LimitExceeded):
        unpacked(data, ["/FlateDecode", "/FlateDecode"], 20_000_000)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert peak < 60_000_000


def test_a_page_packed_with_predictors_is_still_read() -> None:
    """ISO 32000-1, 7.4.4.4: rows of PNG's filter type 0 before deflating."""
    content = b"0 0 9 9 re f "
    rows = zlib.compress(b"".join(b"\0" + content for _ in range(20)))
    parms = b"/Filter /FlateDecode /DecodeParms << /Predictor 15 /Columns %d >>" % len(content)
    data = hostile.pdf_of([*hostile.HEAD, hostile.page(), hostile.stream(rows, parms)])
    assert len(read_bytes(data).pages[0].objects) == 20


@breadth(0.12, "long ones")
@pytest.mark.parametrize("made", [hostile.nested_forms, hostile.one_tiling], ids=["forms", "tiling"])
def test_drawing_has_a_deadline(pool: Pool, kept: Callable[[bytes], Content], made: Callable[[], bytes]) -> None:
    data = made()
    assert len(data) < 4_000
    view = kept(data)
    call = Call(f"{STEPS}.pictures:tile", (view.path, (0.0, 0.0, 100.0, 100.0), 72.0), view.sha256, 2.0)
    began = time.monotonic()
    with suppress(LimitExceeded):
        pool.run(call)
    assert time.monotonic() - began < 30
    good = kept(hostile.sound())
    fine = Call(f"{STEPS}.pictures:tile", (good.path, (0.0, 0.0, 100.0, 100.0), 72.0), good.sha256, 10.0)
    assert pool.run(fine).startswith(b"\x89PNG"), "the next one is drawn"


def test_a_child_that_is_kept_leaves_off_and_goes_on_with_the_next(pool: Pool) -> None:
    own = pool.run(Call(f"{HERE}:number", key="kept", kept=True))
    for _ in range(20):
        began = time.monotonic()
        with pytest.raises(Cancelled):
            pool.run(
                Call(f"{HERE}:tells_for_ever", key="kept", kept=True),
                cancelled=lambda began=began: time.monotonic() > began + 0.05,
            )
        assert time.monotonic() - began < 10
        assert pool.run(Call(f"{HERE}:number", key="kept", kept=True)) == own, "it was not ended, and answers rightly"


def test_calls_to_a_child_that_is_kept_wait_for_each_other_and_may_give_up_waiting(pool: Pool) -> None:
    busy, over = Call(f"{HERE}:tells_for_ever", key="queue", kept=True), threading.Event()
    first = threading.Thread(target=_leave, args=(pool, busy, over))
    first.start()
    wait_until(lambda: any(child.key == "queue" for child in pool._at_work), 10)
    with pytest.raises(Cancelled):
        pool.run(Call(f"{HERE}:number", key="queue", kept=True), cancelled=lambda: True)
    assert sum(child.key == "queue" for child in pool._at_work) == 1, "no second child was begun for it"
    over.set()
    first.join(10)
    assert isinstance(pool.run(Call(f"{HERE}:number", key="queue", kept=True)), int)


def _leave(pool: Pool, call: Call, over: threading.Event) -> None:
    with suppress(Cancelled):
        pool.run(call, cancelled=over.is_set)
