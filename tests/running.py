"""A shop that really runs, in processes of its own, and somebody logged in to it."""

import http.client
import http.cookiejar
import json
import os
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any

__all__ = ["Browser", "Shop", "wait_until"]

ROOT = Path(__file__).resolve().parents[1]
PASSWORD = "a spell of dry weather"


def wait_until(fact: Callable[[], bool], seconds: float = 60.0, every: float = 0.1) -> bool:
    """Whether something comes about; the limit only tells late from never. Who asks too often holds it up."""
    ends = time.monotonic() + seconds
    while not fact() and time.monotonic() < ends:
        time.sleep(every)
    return fact()


class Browser:
    """Somebody who is logged in to a shop, with cookies of its own."""

    def __init__(self, port: int) -> None:
        self.port = port
        self._jar = http.cookiejar.CookieJar()
        self._open = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self._jar)).open

    def logged_in(self) -> bool:
        """Log in; False where the shop does not answer yet, or too many try."""
        try:
            self._open(f"http://127.0.0.1:{self.port}/", timeout=60).close()
            self.ask("POST", "/api/login", json.dumps({"name": "ada", "password": PASSWORD}).encode())
        except OSError:
            return False
        return True

    def ask(self, method: str, path: str, data: bytes | None = None, kind: str = "application/json") -> Any:
        """What the server answers to one question. Raises OSError where it does not."""
        token = next((c.value for c in self._jar if c.name == "csrftoken"), "")
        address, headers = f"http://127.0.0.1:{self.port}{path}", {"Content-Type": kind, "X-CSRFToken": token or ""}
        request = urllib.request.Request(address, data, headers, method=method)
        with self._open(request, timeout=60) as answer:
            return json.loads(answer.read())

    def fetch(self, path: str) -> bytes:
        """What lies at an address."""
        with self._open(f"http://127.0.0.1:{self.port}{path}", timeout=60) as answer:
            data: bytes = answer.read()
            return data

MANAGE = [sys.executable, str(ROOT / "server" / "manage.py")]


class Shop(Browser):
    """A shop that runs, and somebody logged in to it. It is asked again where it was killed in the middle."""

    def __init__(self, var: Path, workers: int = 2, **more: str) -> None:
        self.var = var
        self.environment = {
            **os.environ, "HORISMOS_VAR": str(var), "HORISMOS_LOG": "ERROR", "HORISMOS_EXAMPLES": "1", **more,
        }
        made = self.manage("user", "add", "ada", "--all-rights", input=PASSWORD + "\n")
        assert made.returncode == 0, made.stderr
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self._workers = workers
        self.start()
        super().__init__(self.port)
        assert wait_until(self.logged_in, 240)

    def start(self) -> None:
        """Start its processes, for the first time or after ``close``."""
        self.process = subprocess.Popen(
            [*MANAGE, "serve", "--port", str(self.port), "--workers", str(self._workers)], env=self.environment,
            stdout=subprocess.DEVNULL,
        )

    def manage(self, *arguments: str, **more: Any) -> subprocess.CompletedProcess[str]:
        """Run a command of the shop."""
        return subprocess.run(
            [*MANAGE, *arguments], env=self.environment,
            capture_output=True, text=True, check=False, **more,
        )

    def browser(self) -> Browser:
        """Another one, logged in too."""
        made = Browser(self.port)
        assert wait_until(made.logged_in, 240)
        return made

    def close(self) -> None:
        """End the shop."""
        self.process.terminate()
        self.process.wait(120)

    def surely(self, *question: Any, seconds: float = 240) -> Any:
        """The same, asked until it is answered."""
        ends = time.monotonic() + seconds
        while True:
            try:
                return self.ask(*question)
            except urllib.error.HTTPError:
                raise
            except (OSError, ValueError, http.client.HTTPException):
                if time.monotonic() > ends:
                    raise
                time.sleep(0.1)

    def send(self, name: str, data: bytes) -> int:
        """Drop a file; gives the number of its job."""
        body = (
            f'--zz\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n'
            "Content-Type: application/octet-stream\r\n\r\n"
        ).encode() + data + b"\r\n--zz--\r\n"
        return int(self.surely("POST", "/api/jobs", body, "multipart/form-data; boundary=zz")["job"]["id"])

    def children(self, words: str) -> list[int]:
        """The numbers of the processes below the shop whose command holds words."""
        found = []
        for path in Path("/proc").glob("[0-9]*"):
            try:
                parent = int((path / "stat").read_text().rsplit(")", 1)[1].split()[1])
                command = (path / "cmdline").read_bytes().replace(b"\0", b" ").decode()
            except (OSError, IndexError):
                continue
            if parent == self.process.pid and words in command:
                found.append(int(path.name))
        return found
