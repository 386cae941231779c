"""Children in a jail: no network, no path to anything of the shop, and their own files come in open."""

import socket
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from horismos.sandbox.jail import jailed, offered
from horismos.sandbox.pool import Call, Pool

pytestmark = pytest.mark.skipif(not offered(), reason="this machine offers no jail")
LOOKS = "tests.core.childish:looks_around"


@pytest.fixture()
def scratch(tmp_path: Path) -> Path:
    return tmp_path / "scratch"


@pytest.fixture()
def jail(scratch: Path) -> Iterator[Pool]:
    pool = Pool(["tests.core.childish"], most=2, ready=0, scratch=scratch)
    yield pool
    pool.close()


def test_a_child_sees_the_files_of_its_call_and_nothing_else(jail: Pool, tmp_path: Path) -> None:
    own, other = tmp_path / "own.pdf", tmp_path / "other.pdf"
    own.write_bytes(b"%PDF of this job")
    other.write_bytes(b"%PDF of another")
    with socket.create_server(("127.0.0.1", 0)) as listening:
        port = listening.getsockname()[1]
        found = jail.run(Call(LOOKS, (own, str(other), port), key="one", seconds=30))
    assert found["own"] == b"%PDF of this job", "though its path leads nowhere in there"
    assert not found["secret"] and not found["network"] and not found["account"]
    assert found["processes"] < 6, "none of the shop's"


def test_a_child_finds_nothing_that_another_has_left(jail: Pool, scratch: Path, tmp_path: Path) -> None:
    own = tmp_path / "own.pdf"
    own.write_bytes(b"%PDF")

    def looks(key: str) -> bool:
        return bool(jail.run(Call(LOOKS, (own, "", 1), key=key, seconds=30))["left"])

    assert [looks("one"), looks("one"), looks("two")] == [False, True, False]
    jail.close()
    assert not list(scratch.iterdir()), "what children leave goes with them"


def test_children_of_two_jails_have_one_number_and_not_one_folder(scratch: Path, tmp_path: Path) -> None:
    """The web and each worker have a jail of their own; one took away the folder of another's child."""
    own = tmp_path / "own.pdf"
    own.write_bytes(b"%PDF")
    pools = [Pool(["tests.core.childish"], most=1, ready=0, scratch=scratch) for _ in range(2)]
    try:
        numbers = [pool.run(Call("tests.core.childish:number", key="one", seconds=30)) for pool in pools]
        assert numbers[0] == numbers[1]
        pools[0].run(Call("tests.core.childish:number", key="two", seconds=30))  # the first is ended, and forgotten
        pools[0].run(Call("tests.core.childish:number", key="three", seconds=30))
        assert pools[1].run(Call(LOOKS, (own, "", 1), key="one", seconds=30))["own"] == b"%PDF"
    finally:
        for pool in pools:
            pool.close()


def test_a_jail_stays_where_the_thread_that_asked_for_it_has_ended(jail: Pool, tmp_path: Path) -> None:
    """What ends with its parent ends with the thread that began it: to the kernel that is the parent."""
    own = tmp_path / "own.pdf"
    own.write_bytes(b"%PDF")
    left: list[bool] = []

    def ask() -> None:
        left.append(jail.run(Call(LOOKS, (own, "", 1), key="one", seconds=30))["left"])

    for _ in range(2):
        asking = threading.Thread(target=ask)
        asking.start()
        asking.join()
        time.sleep(0.3)
    assert left == [False, True], "the second found the child of the first"


def test_a_child_is_ended_from_outside_though_it_has_another_number_inside(jail: Pool, tmp_path: Path) -> None:
    from horismos.errors import LimitExceeded

    began = time.monotonic()
    with pytest.raises(LimitExceeded):
        jail.run(Call("tests.core.childish:starts_and_hangs", ("/tmp/numbers",), seconds=1.0))
    assert time.monotonic() - began < 20
    number = jail.run(Call("tests.core.childish:number", key="n", seconds=30))
    assert number < 100 < jail._idle[-1].number, "in there it is one of few"
    assert Path(f"/proc/{jail._idle[-1].number}/stat").exists()


def test_nothing_of_the_disk_may_be_written_but_the_scratch(scratch: Path) -> None:
    import subprocess

    scratch.mkdir()
    tried = jailed(["/bin/sh", "-c", "touch /tmp/here; touch /usr/there || echo refused"], scratch)
    done = subprocess.run(tried, capture_output=True, text=True, check=False, timeout=30)
    assert done.stdout == "refused\n" and (scratch / "here").is_file()
