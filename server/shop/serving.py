"""A shop that runs: one process that answers, as many that work as there are cores, and one that minds them."""

import fcntl
import logging
import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from pathlib import Path
from types import FrameType

from horismos.errors import NotReady
from horismos.sandbox.limits import die_with_parent
from horismos.sandbox.memory import held, tree_of

__all__ = ["claimed", "memory_bytes", "runs", "supervise", "web", "workers_wanted"]

log = logging.getLogger("horismos.serving")
MANAGE = Path(__file__).resolve().parents[1] / "manage.py"
THREADS = 12
CONNECTIONS = 1_000
IDLE_S = 60
"""A connection on which nothing comes for so long is closed."""
PAUSE_S, LONGEST_PAUSE_S = 0.2, 3.0
STEADY_S = 10.0
"""What has run for so long is started again at once."""
GRACE_S = 6.0
"""[ours] what is under way may end within so long; then it is ended, and what it did waits for the next start."""
WEIGHS_EVERY_S = 1.0
AHEAD_S = 60.0
"""[ours] for so long at most the web has the machine to itself at first: somebody waits for it to answer."""
MEMORY_SHARE = 0.75


def workers_wanted() -> int:
    """One for each core."""
    return max(1, len(os.sched_getaffinity(0)))


def web(host: str, port: int) -> None:
    """Answer requests until SIGTERM.

    Bodies are taken off the wire by one thread that waits for nobody, and handed on when they are whole: whoever
    sends slowly keeps no thread. Of whoever is not logged in nothing large is kept at all.
    """
    from django.conf import settings
    from django.core.wsgi import get_wsgi_application
    from django.urls import get_resolver
    from jobs.store.children import POOL
    from waitress.server import create_server

    from shop.bodies import Channel

    tempfile.tempdir = str(settings.FILE_UPLOAD_TEMP_DIR)
    POOL.begin()  # what children import comes beside what is imported here
    application = get_wsgi_application()
    assert get_resolver().url_patterns, "imported before anybody asks for one"
    POOL.start()
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    server = create_server(
        application, host=host, port=port, threads=THREADS, connection_limit=CONNECTIONS, channel_timeout=IDLE_S,
        max_request_body_size=settings.MOST_UPLOAD_BYTES + 1_000_000, max_request_header_size=64_000, ident=None,
        clear_untrusted_proxy_headers=False, asyncore_use_poll=True,
    )
    server.channel_class = Channel
    server.run()


@dataclass
class _Minded:
    """A process that is started again when it ends by itself."""

    name: str
    arguments: Sequence[str]
    process: subprocess.Popen[bytes] | None = None
    pause: float = PAUSE_S
    since: float = field(default_factory=time.monotonic)

    def look(self) -> None:
        """Start it where it does not run; one that keeps ending is given time."""
        if self.process is not None:
            code = self.process.poll()
            if code is None:
                return
            log.error("%s ended with %s; it is started again in %.1f s", self.name, code, self.pause)
            self.pause = PAUSE_S if time.monotonic() - self.since > STEADY_S else min(
                self.pause * 2, LONGEST_PAUSE_S
            )
            self.process, self.since = None, time.monotonic() + self.pause
        elif time.monotonic() >= self.since or self.pause == PAUSE_S:
            parent = os.getpid()
            self.process = subprocess.Popen(
                [sys.executable, str(MANAGE), *self.arguments], preexec_fn=lambda: die_with_parent(parent)
            )
            self.since = time.monotonic()


@contextmanager
def claimed(host: str, port: int, data: Path) -> Iterator[None]:
    """The address and the data for this shop alone, from before anything is made ready until it ends.

    Raises NotReady where something listens there already, or another shop works on the same data.
    """
    data.mkdir(parents=True, exist_ok=True)
    with (data / "serving.lock").open("a+") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            lock.seek(0)
            raise NotReady(
                f"Another Horismos works on the data in {data} ({lock.read().strip() or 'where is not known'}).",
                "Stop that one, or give this one a folder of its own: HORISMOS_VAR=…",
            ) from None
        family = socket.AF_INET6 if ":" in host else socket.AF_INET
        with socket.socket(family) as there:
            there.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                there.bind((host, port))
            except OSError:
                raise NotReady(f"Port {port} of {host} is taken.", "Choose another one: --port …") from None
        lock.truncate(0)
        lock.write(f"process {os.getpid()}, port {port}")
        lock.flush()
        yield


def runs(data: Path) -> bool:
    """Whether a shop works on the data now."""
    try:
        with (data / "serving.lock").open() as lock:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except FileNotFoundError:
        return False
    except OSError:
        return True
    return False


def memory_bytes() -> int:
    """How much memory the shop may hold as a whole: what the setting says, else most of what the machine has."""
    from django.conf import settings

    said = float(settings.MEMORY_MB) * 1_000_000
    return int(said or MEMORY_SHARE * os.sysconf("SC_PHYS_PAGES") * os.sysconf("SC_PAGE_SIZE"))


def _relieve(most: int) -> None:
    """Where the shop holds more than it may, end what holds most of all that handle customers' files."""
    everybody = tree_of(os.getpid())
    if held(everybody, most) <= most:
        return
    children = [number for number in everybody if _handles_files(number)]
    weights = {number: held(tree_of(number), 0) for number in children}
    if weights:
        largest = max(weights, key=lambda number: weights[number])
        log.error(
            "the shop holds more than %.0f MB; process %d with %.0f MB is ended", most / 1e6, largest,
            weights[largest] / 1e6,
        )
        with suppress(ProcessLookupError):
            os.killpg(largest, signal.SIGKILL)


def _handles_files(number: int) -> bool:
    """Whether a process is a child of a template: leader of a group of its own, below one that looks like it.

    A jail is two processes that look alike as well, and holds all children: it is none.
    """
    try:
        parent = int(Path(f"/proc/{number}/stat").read_text().rsplit(")", 1)[1].split()[1])
        alike = [Path(f"/proc/{one}/cmdline").read_bytes() for one in (number, parent)]
        forked = alike[0] == alike[1] and alike[0].startswith(sys.executable.encode() + b"\0-m\0horismos.sandbox")
        return forked and os.getpgid(number) == number
    except (OSError, IndexError, ValueError):
        return False


def _answers(host: str, port: int) -> bool:
    try:
        socket.create_connection((host, port), 0.2).close()
    except OSError:
        return False
    return True


def supervise(host: str, port: int, workers: int, runs: Callable[[], None], afar: bool = False) -> None:
    """Run the web, then the workers, until SIGTERM or SIGINT; ``runs`` is called once, as soon as the web answers.

    With workers ``afar`` none is started here: one process sends steps to them.
    """
    waits, began = True, time.monotonic()
    minded = [_Minded("the web", ["web", "--host", host, "--port", str(port)])]
    minded += [_Minded("the dispatch", ["dispatch"])] if afar else [
        _Minded(f"worker {i + 1}", ["work"]) for i in range(workers)
    ]
    os.environ["HORISMOS_SLOTS"] = str(max(workers, 1))
    minded.append(_Minded("the watch of folders", ["watch"]))
    told: list[int] = []
    weighed, most = 0.0, memory_bytes()

    def end(number: int, frame: FrameType | None) -> None:
        told.append(number)

    signal.signal(signal.SIGTERM, end)
    signal.signal(signal.SIGINT, end)
    while not told:
        for one in minded[:1] if waits and time.monotonic() - began < AHEAD_S else minded:
            one.look()
        if time.monotonic() - weighed > WEIGHS_EVERY_S:
            weighed = time.monotonic()
            _relieve(most)
        if waits and _answers("127.0.0.1" if host == "0.0.0.0" else host, port):
            waits = False
            runs()
        time.sleep(0.1)
    running = [one.process for one in minded if one.process is not None]
    for process in running:
        process.terminate()
    ends = time.monotonic() + GRACE_S
    for process in running:
        try:
            process.wait(max(0.1, ends - time.monotonic()))
        except subprocess.TimeoutExpired:
            process.kill()
