"""The demo as a newcomer starts it, and a browser that is logged in."""

import os
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect, sync_playwright

expect.set_options(timeout=90_000)  # the one worker may have other jobs to do first
ROOT = Path(__file__).resolve().parents[2]
CHROMIUM = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[str, Path]]:
    """The demo as a newcomer starts it, with data of its own."""
    var = tmp_path_factory.mktemp("var")
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    child = subprocess.Popen(
        [sys.executable, ROOT / "demo" / "run.py", "--port", str(port)],
        env={**os.environ, "HORISMOS_VAR": str(var)},
    )
    url = f"http://127.0.0.1:{port}/"
    for _ in range(200):
        try:
            urllib.request.urlopen(url, timeout=1).close()
            break
        except OSError:
            time.sleep(0.2)
    yield url, var
    child.terminate()
    child.wait(30)


@pytest.fixture()
def page(demo: tuple[str, Path]) -> Iterator[Page]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.set_default_timeout(90_000)
        page.goto(demo[0])
        page.get_by_label("Name").fill("demo")
        page.get_by_label("Password").fill("tern-and-tideway")
        page.get_by_role("button", name="Log in").click()
        page.get_by_role("heading", name="Desk").wait_for()
        yield page
        browser.close()
