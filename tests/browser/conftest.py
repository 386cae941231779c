"""The demo as a newcomer starts it, and a browser that is logged in."""

import os
import socket
import subprocess
import sys
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, StorageState, expect, sync_playwright

from tests.running import wait_until

expect.set_options(timeout=90_000)  # the one worker may have other jobs to do first
ROOT = Path(__file__).resolve().parents[2]
CHROMIUM = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[str, Path]]:
    """The demo as a newcomer starts it, with data of its own; one for each process that runs tests."""
    var = tmp_path_factory.mktemp("var")
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    child = subprocess.Popen(
        [sys.executable, ROOT / "demo" / "run.py", "--morning", "--port", str(port)],
        env={**os.environ, "HORISMOS_VAR": str(var)},
    )
    url = f"http://127.0.0.1:{port}/"
    assert wait_until(lambda: _answers(url), 300)
    yield url, var
    child.terminate()
    child.wait(120)


def _answers(url: str) -> bool:
    try:
        urllib.request.urlopen(url, timeout=60).close()
    except OSError:
        return False
    return True


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        yield browser
        browser.close()


@pytest.fixture(scope="session")
def logged_in(chromium: Browser, demo: tuple[str, Path]) -> StorageState:
    """The cookies of somebody who has logged in by the form."""
    page = chromium.new_page()
    page.goto(demo[0])
    page.get_by_label("Name").fill("demo")
    page.get_by_label("Password").fill("tern-and-tideway")
    page.get_by_role("button", name="Log in").click()
    page.get_by_role("heading", name="Desk").wait_for()
    state = page.context.storage_state()
    page.close()
    return state


@pytest.fixture(scope="session")
def window(chromium: Browser) -> Iterator[BrowserContext]:
    """One window for all tests, that knows the front end's files already."""
    context = chromium.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
    yield context
    context.close()


@pytest.fixture()
def page(window: BrowserContext, logged_in: StorageState, demo: tuple[str, Path]) -> Iterator[Page]:
    """The Desk, before somebody who is logged in and wants less motion; what one test leaves, no other finds."""
    window.clear_cookies()
    window.add_cookies(logged_in["cookies"])
    page = window.new_page()
    page.set_default_timeout(90_000)
    page.goto(demo[0])
    page.get_by_role("heading", name="Desk").wait_for()
    yield page
    page.unroute_all(behavior="ignoreErrors")
    page.evaluate("() => { localStorage.clear(); sessionStorage.clear(); }")
    for other in window.pages:
        other.close()
