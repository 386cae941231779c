"""The stage in Chromium: frame times while panning 20,000 nodes, and how soon it is sharp after a zoom.

Starts a shop of its own on this machine, takes in a page with a kiss cut of 20,000 nodes over art, and
moves the hand on it. Needs what ``./horismos test`` sets up. Frames are compared with those of an empty
page panned the same way in the same run, since headless Chromium draws without a graphics card.
"""

import math
import os
import socket
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))
NODES = 20_000
CHROMIUM = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]
FRAMES = """() => { window.__frames = []; let last = performance.now();
  const tick = (now) => { window.__frames.push(now - last); last = now; window.__raf = requestAnimationFrame(tick); };
  window.__raf = requestAnimationFrame(tick); }"""
HAND = """() => { performance.setResourceTimingBufferSize(5000);
  addEventListener('keydown', () => { window.__hand = performance.now(); }, true); }"""
SHARP = """() => new Promise((done) => { const look = () => {
    const made = performance.getEntriesByType('resource').filter((e) => e.name.includes('/picture?'));
    const ends = made.map((e) => e.responseEnd);
    const last = Math.max(window.__hand, ...ends);
    if (performance.now() - last > 400) done(last - window.__hand); else setTimeout(look, 20); };
  setTimeout(look, 30); })"""
"""How long after the last key the last picture came in; a picture is on screen a frame later."""


def line_of_nodes() -> bytes:
    """A page of art with a kiss cut as tracing leaves it: wavy, a little rough, of many nodes."""
    from tests.shapes import Drawing, circle, write

    points = []
    for i in range(NODES):
        angle = 2 * math.pi * i / NODES
        r = 70 + 2.5 * math.sin(37 * angle) + math.sin(997 * angle) * 0.03
        points.append(f"{100 + r * math.cos(angle):.3f} {100 + r * math.sin(angle):.3f} {'l' if i else 'm'}")
    content = "".join(
        f"{i % 7 / 8:.2f} {i % 5 / 6:.2f} 0.1 0 k {circle(30 + i % 20 * 7, 30 + i // 20 * 7, 3)} f " for i in range(400)
    )
    content += "/Over gs /K CS 1 SCN 0.05 w " + " ".join(points) + " h S"
    return write(Drawing(content, size=(200, 200), trim=(10, 10, 190, 190), bleed=(5, 5, 195, 195)))


def pan(page: Page) -> list[float]:
    """Drag the stage about for a second and a half; the times between frames in ms."""
    box = page.locator("[data-stage]").bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.evaluate(FRAMES)
    for i in range(90):
        page.mouse.move(x + 120 * math.sin(i / 9), y + 90 * math.cos(i / 7) - 90)
        page.wait_for_timeout(8)
    frames = page.evaluate("() => { cancelAnimationFrame(window.__raf); return window.__frames; }")
    page.mouse.up()
    return sorted(frames[3:])


def said(name: str, frames: list[float]) -> str:
    late = sum(f > 33.4 for f in frames) / len(frames)
    return (
        f"{name:>26}: {len(frames)} frames, median {statistics.median(frames):5.1f} ms, "
        f"95 % within {frames[int(len(frames) * 0.95)]:5.1f} ms, {late * 100:4.1f} % over 33 ms"
    )


def main() -> None:
    """Print frame times and the time until sharp."""
    with tempfile.TemporaryDirectory() as var, socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
        free.close()
        env = {**os.environ, "HORISMOS_VAR": var}
        demo = subprocess.Popen([sys.executable, ROOT / "demo" / "run.py", "--port", str(port)], env=env)
        try:
            url = f"http://127.0.0.1:{port}/"
            for _ in range(300):
                try:
                    urllib.request.urlopen(url, timeout=1).close()
                    break
                except OSError:
                    time.sleep(0.2)
            source = Path(var) / "nodes.pdf"
            source.write_bytes(line_of_nodes())
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
                page = browser.new_page(viewport={"width": 1280, "height": 800})
                page.set_default_timeout(90_000)
                page.goto(url)
                page.get_by_label("Name").fill("demo")
                page.get_by_label("Password").fill("tern-and-tideway")
                page.get_by_role("button", name="Log in").click()
                page.get_by_test_id("files").set_input_files(source)
                page.get_by_text("nodes", exact=True).click()
                page.locator("[data-role=kiss-cut]").first.wait_for(state="attached")
                page.locator('[role="status"]').wait_for(state="detached")
                page.wait_for_timeout(1500)
                print(said("20,000 nodes over art", pan(page)))
                address = page.url
                page.goto(address + "?lines=none&show=layers")
                page.wait_for_timeout(1500)
                print(said("art without lines", pan(page)))
                page.goto(address)
                page.wait_for_timeout(1500)
                page.evaluate(HAND)
                for target in (100, 200, 400, 800, 1600, 6400):
                    page.locator("[data-stage]").focus()
                    page.evaluate("() => performance.clearResourceTimings()")
                    for _ in range(40):
                        zoom = page.get_by_role("button", name="zoom").inner_text()
                        if float(zoom.replace("%", "").strip()) >= target:
                            break
                        page.keyboard.press("+")
                    print(f"{target:>6} %: sharp {page.evaluate(SHARP):5.0f} ms after the hand stopped")
                browser.close()
        finally:
            demo.terminate()
            demo.wait(20)


if __name__ == "__main__":
    main()
