"""The demo as a newcomer starts it, and a browser that is logged in."""

import os
import shutil
import socket
import sqlite3
import subprocess
import sys
import urllib.request
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Literal

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, StorageState, expect, sync_playwright

from tests.breadth import WHOLE
from tests.running import wait_until

expect.set_options(timeout=90_000)  # the one worker may have other jobs to do first
ROOT = Path(__file__).resolve().parents[2]
CHROMIUM = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]


def _of_one_shop(fixture_name: str, config: pytest.Config) -> Literal["module", "session"]:
    """A whole run has a fresh shop for each file of tests; the few tests of a quick one meet in one shop."""
    return "module" if WHOLE else "session"


@pytest.fixture(scope="session")
def morning(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The data of the demo once its files are taken in, to begin shops with."""
    var = tmp_path_factory.mktemp("morning")
    with _open_at(var):
        assert wait_until(lambda: _rests(var), 600, 1)
    return var


@pytest.fixture(scope=_of_one_shop)
def demo(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[str, Path]]:
    """The demo as a newcomer starts it, with data of its own."""
    var = tmp_path_factory.mktemp("var")
    if WHOLE:
        shutil.copytree(request.getfixturevalue("morning"), var, dirs_exist_ok=True)
    with _open_at(var) as url:
        yield url, var


@contextmanager
def _open_at(var: Path) -> Iterator[str]:
    """The address of a shop while it is open."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    child = subprocess.Popen(
        [sys.executable, ROOT / "demo" / "run.py", "--morning", "--port", str(port)],
        env={**os.environ, "HORISMOS_VAR": str(var)},
    )
    url = f"http://127.0.0.1:{port}/"
    assert wait_until(lambda: _answers(url), 300)
    yield url
    child.terminate()
    child.wait(120)


def _rests(var: Path) -> bool:
    """Whether nothing waits or runs in a shop."""
    with closing(sqlite3.connect(var / "horismos.sqlite3", timeout=30)) as rows:
        (left,) = rows.execute("SELECT count(*) FROM jobs_work WHERE state IN ('waiting', 'running')").fetchone()
    return not left


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


@pytest.fixture(scope=_of_one_shop)
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
