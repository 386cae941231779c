"""Steps that a worker elsewhere carries out: what they give, how they are refused, stopped, and given up on."""

import os
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from content.folder import FolderStore
from content.opening import store_at
from moto.server import ThreadedMotoServer
from remote.dispatch import Dispatch

from horismos.destinations import DEFAULT
from horismos.errors import Cancelled, CannotRead, LimitExceeded, SetAside
from horismos.workflow.steps.stored import Content, StoredCase
from horismos.workflow.take_in import Arrival
from tests import hostile
from tests.breadth import breadth
from tests.core.test_sandbox import alive
from tests.machines import Broker, Elsewhere, free_port
from tests.running import ROOT, wait_until
from tests.shapes import Drawing, circle, line_in, write

pytestmark = breadth(0.17, "several machines")
FILE = write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40)), inks={"K": "Kis Cut"}))


@pytest.fixture(scope="module")
def broker(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Broker]:
    made = Broker(tmp_path_factory.mktemp("broker"))
    yield made
    made.stop()


@pytest.fixture(scope="module")
def store(tmp_path_factory: pytest.TempPathFactory) -> FolderStore:
    return FolderStore(tmp_path_factory.mktemp("store"))


@pytest.fixture(scope="module")
def dispatch(broker: Broker, store: FolderStore) -> Iterator[Dispatch]:
    made = Dispatch(broker.address, store.path_of, store.size)
    made.start()
    assert wait_until(lambda: made.hears, 20)
    yield made
    made.close()


@pytest.fixture(scope="module")
def worker(
    broker: Broker, store: FolderStore, dispatch: Dispatch, tmp_path_factory: pytest.TempPathFactory
) -> Iterator[Elsewhere]:
    made = Elsewhere(broker.address, str(store.root), tmp_path_factory.mktemp("worker"), "--slots", "2")
    assert wait_until(lambda: dispatch.slots() == 2, 60), made.log.read_text()
    yield made
    made.stop()


def kept(store: FolderStore, data: bytes) -> Content:
    sha256 = store.put(data)
    return Content(store.path_of(sha256), sha256)


def asked(dispatch: Dispatch, step: str, *arguments: Any, seconds: float = 60, **more: Any) -> Any:
    return dispatch.run_step(step, *arguments, key=str(arguments[:1]), seconds=seconds, what="The step", **more)


def test_a_step_gives_what_it_gives_here_and_what_is_long_lies_in_the_store(
    dispatch: Dispatch, store: FolderStore, worker: Elsewhere
) -> None:
    told: list[tuple[Any, ...]] = []
    case = StoredCase(content=kept(store, FILE), destination=DEFAULT)
    found = asked(dispatch, "job:look", case, None, None, tell=lambda *said: told.append(said))
    assert isinstance(found["art"], Content) and store.has(found["art"].sha256)
    assert found["art"].read().startswith(b"%PDF")
    assert "ink.near-name" in {finding["id"] for finding in found["report"]["findings"]}
    assert told and all(0 <= share <= 1 and words for share, words in told)
    (seen,) = dispatch.seen()
    assert (seen.slots, seen.weights) == (2, ("small", "usual", "large")) and len(seen.version) == 12
    arrival = Arrival(data=b"", name="seal.pdf", destination=DEFAULT)
    assert asked(dispatch, "job:take_in", case.content, arrival, 1)["kind"] == "pdf"


def test_what_a_worker_refuses_is_refused_in_the_same_words(
    dispatch: Dispatch, store: FolderStore, worker: Elsewhere
) -> None:
    with pytest.raises(CannotRead, match="archive or an office document"):
        asked(dispatch, "job:kind", kept(store, b"PK\x03\x04 an archive"), "a.docx")
    gone = Content(store.path_of("ab" * 32), "ab" * 32)
    with pytest.raises(CannotRead, match="missing in the store"):
        asked(dispatch, "job:kind", gone, "a.pdf")
    other = kept(store, b"%PDF-1.4 of before")
    other.path.chmod(0o600)
    other.path.write_bytes(b"%PDF-1.4 of after!")
    with pytest.raises(CannotRead, match="has changed in the store"):
        asked(dispatch, "job:kind", other, "a.pdf")
    with pytest.raises(LimitExceeded, match="The step took longer than 0 s"):
        asked(dispatch, "job:look", StoredCase(content=kept(store, FILE)), None, None, seconds=0.01)


def test_a_step_that_runs_is_stopped_with_its_child(
    dispatch: Dispatch, store: FolderStore, worker: Elsewhere
) -> None:
    content = kept(store, hostile.LOOP)
    over = threading.Event()
    arrival = Arrival(data=b"", name="loop.eps", destination=DEFAULT)

    def loops() -> list[int]:
        found = []
        for path in Path("/proc").glob("[0-9]*"):
            try:
                command = (path / "cmdline").read_bytes()
            except OSError:
                continue
            if b"in.ps" in command and b"pdfwrite" in command and alive(int(path.name)):
                found.append(int(path.name))
        return found

    def stop_soon() -> None:
        wait_until(lambda: bool(loops()), 60)
        over.set()

    before = loops()
    assert not before, "no other test runs one now"
    threading.Thread(target=stop_soon).start()
    with pytest.raises(Cancelled):
        asked(dispatch, "job:take_in", content, arrival, 1, seconds=200, cancelled=over.is_set)
    assert wait_until(lambda: not loops(), 10), "the child and all that it started are gone"
    assert asked(dispatch, "job:kind", kept(store, FILE), "a.pdf") == "pdf", "the worker goes on"


def test_what_a_step_has_so_far_is_heard(dispatch: Dispatch, store: FolderStore, worker: Elsewhere) -> None:
    outline = [[0.0, 0.0], [30.0, 0.0], [0.0, 20.0], [0.0, 0.0]]
    wanted = {
        "outlines": [outline], "counts": [12], "turns": ["free"], "origin": [0, 0], "placed_of": "x", "beside_mm": 0.0,
        "room": {"width_mm": 100.0, "length_mm": None, "gap_mm": 2.0}, "rows_mm": None,
    }
    heard: list[Any] = []
    found = asked(dispatch, "nest:nest", wanted, 2.0, tell=lambda share, words, *so_far: heard.extend(so_far))
    assert len(found["placed"]) == 12 and found["length_mm"] > 40
    assert heard and all(len(one["placed"]) == 12 for one in heard)


POISONED = """
import os, sys
from horismos.sandbox.pool import Pool
plain = Pool.answer
def answer(self, call, *more):
    if call.function.endswith("job:kind") and call.arguments[1] == "poison.pdf":
        os._exit(9)
    return plain(self, call, *more)
Pool.answer = answer
from remote.__main__ import main
main(sys.argv[1:])
"""
"""A worker that one file kills, as one does that asks for more memory than there is."""


def test_a_file_that_ends_three_workers_is_set_aside_and_the_next_is_done(
    broker: Broker, store: FolderStore, tmp_path: Path
) -> None:
    dispatch = Dispatch(f"{broker.address[:-1]}5", store.path_of, store.size)
    dispatch.start()
    ends = threading.Event()
    deaths = []

    def minded() -> None:
        while not ends.is_set():
            process = subprocess.Popen(
                [sys.executable, "-c", POISONED, "--broker", f"{broker.address[:-1]}5", "--store", str(store.root),
                 "--slots", "1"], env={**os.environ, "PYTHONPATH": str(ROOT / "server")}, cwd=tmp_path,
                stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
            )
            while process.poll() is None and not ends.wait(0.1):
                pass
            if process.poll() is None:
                process.terminate()
                process.wait(30)
            else:
                deaths.append(process.returncode)

    thread = threading.Thread(target=minded)
    thread.start()
    try:
        with pytest.raises(SetAside, match="Three workers ended while they handled the file"):
            asked(dispatch, "job:kind", kept(store, FILE), "poison.pdf")
        assert deaths[:3] == [9, 9, 9]
        assert asked(dispatch, "job:kind", kept(store, FILE), "sound.pdf") == "pdf"
    finally:
        ends.set()
        thread.join()
        dispatch.close()


def test_workers_share_a_bucket_and_keep_no_more_than_they_may(
    broker: Broker, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The bucket is moto's, a server of this machine that speaks S3."""
    import boto3

    keys = {"AWS_ACCESS_KEY_ID": "a", "AWS_SECRET_ACCESS_KEY": "b", "AWS_DEFAULT_REGION": "us-east-1"}
    for name, value in keys.items():
        monkeypatch.setenv(name, value)
    port = free_port()
    server = ThreadedMotoServer(ip_address="127.0.0.1", port=port, verbose=False)
    server.start()
    endpoint = f"http://127.0.0.1:{port}"
    bucket = boto3.client("s3", endpoint_url=endpoint)
    bucket.create_bucket(Bucket="shop-files")
    address = f"s3://shop-files/content?endpoint={endpoint}"
    here = store_at(address, tmp_path / "here", 1_000_000)
    dispatch = Dispatch(f"{broker.address[:-1]}6", here.path_of, here.size)
    dispatch.start()
    worker = Elsewhere(f"{broker.address[:-1]}6", address, tmp_path / "w", "--cache-mb", "0.05", **keys)
    try:
        content = Content(here.path_of(sha := here.put(FILE)), sha)
        found = asked(dispatch, "job:look", StoredCase(content=content, destination=DEFAULT), None, None)
        assert here.local(found["art"].sha256).read_bytes().startswith(b"%PDF"), "the answer lies in the bucket"
        bucket.put_object(Bucket="shop-files", Key=f"content/{sha[:2]}/{sha}", Body=FILE + b" ")
        fresh = store_at(address, tmp_path / "fresh", 1_000_000)
        with pytest.raises(CannotRead, match="has changed in the store"):
            fresh.local(sha)
    finally:
        worker.stop()
        dispatch.close()
        server.stop()


def test_a_cache_keeps_what_was_asked_for_last(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from content import cache
    from content.whole import beside, write

    monkeypatch.setattr(cache, "HELD_S", 0.0)
    held = cache.Cache(tmp_path, 2_500)
    for i in range(4):
        with beside(tmp_path) as (handle, part):
            write(handle, bytes(1_000))
            held.take(handle, part, f"{i}" * 64)
        os.utime(held.path_of(f"{i}" * 64), (time.time() - 100 + i,) * 2)
        if i == 1:
            assert held.found("0" * 64) is not None, "it counts as used now"
    assert held.found("0" * 64) and held.found("3" * 64)
    assert held.found("1" * 64) is None and held.found("2" * 64) is None


def test_without_a_broker_nothing_of_it_is_imported() -> None:
    code = (
        "import os, sys; os.environ['DJANGO_SETTINGS_MODULE'] = 'shop.settings'; import django; django.setup();"
        "import shop.wsgi, shop.urls, worker.loop, worker.kinds, shop.serving, shop.watching;"
        "print([name for name in ('celery', 'kombu', 'redis', 'cattrs', 'boto3', 'remote') if name in sys.modules])"
    )
    done = subprocess.run(
        [sys.executable, "-c", code], cwd=ROOT, env={**os.environ, "PYTHONPATH": "server"}, capture_output=True,
        text=True, check=True,
    )
    assert done.stdout.strip() == "[]"
