"""A broker and workers of several machines, each in a process of its own."""

import os
import signal
import socket
import subprocess
import sys
from pathlib import Path

from tests.running import ROOT, wait_until

__all__ = ["Broker", "Elsewhere", "free_port"]


def free_port() -> int:
    """A port on which nobody listens."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return int(free.getsockname()[1])


class Broker:
    """Redis, which keeps nothing: what it held is gone once it is stopped."""

    def __init__(self, folder: Path) -> None:
        self.port, self._folder = free_port(), folder
        self.address = f"redis://127.0.0.1:{self.port}/0"
        self.start()

    def start(self) -> None:
        """Start it, for the first time or again."""
        self._process = subprocess.Popen(
            ["redis-server", "--port", str(self.port), "--bind", "127.0.0.1", "--save", "", "--appendonly", "no"],
            cwd=self._folder, stdout=subprocess.DEVNULL,
        )
        assert wait_until(self._answers, 30), "redis-server does not answer"

    def _answers(self) -> bool:
        try:
            socket.create_connection(("127.0.0.1", self.port), 1).close()
        except OSError:
            return False
        return True

    def stop(self) -> None:
        """Stop it."""
        self._process.terminate()
        self._process.wait(30)


class Elsewhere:
    """A worker of another machine: it has the broker and the store, and nothing else of the shop."""

    def __init__(self, broker: str, store: str, folder: Path, *more: str, **environment: str) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self.log = folder / "log"
        kept = {name: value for name, value in os.environ.items() if not name.startswith(("HORISMOS_", "DJANGO_"))}
        with self.log.open("wb") as log:
            self._process = subprocess.Popen(
                [sys.executable, "-m", "remote", "--broker", broker, "--store", store, "--cache", str(folder / "cache"),
                 "--slots", "1", *more],
                env={**kept, "PYTHONPATH": str(ROOT / "server"), **environment}, stdout=log, stderr=log, cwd=folder,
            )

    def kill(self) -> None:
        """End it as a loss of power does."""
        self._process.send_signal(signal.SIGKILL)
        self._process.wait(30)

    def stop(self) -> None:
        """End it."""
        self._process.terminate()
        try:
            self._process.wait(30)
        except subprocess.TimeoutExpired:
            self.kill()

    def ready(self) -> bool:
        """Whether it hears."""
        return b" ready." in self.log.read_bytes()
