"""Starts the demo: data, server and task worker on 127.0.0.1; ends both when it is stopped."""

import argparse
import os
import signal
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]


def main() -> int:
    """Fill the demo shop, start server and worker, wait until stopped."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8040)
    args = parser.parse_args()
    os.environ["DJANGO_SETTINGS_MODULE"] = "shop.settings"
    os.environ["PYTHONPATH"] = os.pathsep.join([str(ROOT / "server"), str(ROOT)])
    sys.path[:0] = [str(ROOT / "server"), str(ROOT)]
    import django
    from django.core.management import call_command

    django.setup()
    call_command("migrate", verbosity=0)
    from demo import NAME, PASSWORD
    from demo.fill import fill

    fill()
    address = f"127.0.0.1:{args.port}"
    children = [
        subprocess.Popen([sys.executable, "-m", "gunicorn", "shop.wsgi", "--bind", address,
                          "--workers", "2", "--threads", "4", "--timeout", "120", "--log-level", "warning"]),
        subprocess.Popen([sys.executable, str(ROOT / "server" / "manage.py"), "db_worker",
                          "--interval", "0.2", "--verbosity", "0"]),
    ]
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    try:
        _wait(f"http://{address}/", children)
        print(f"Horismos runs at http://{address}/\nlog in as {NAME}, password {PASSWORD}")
        print("Ctrl-C stops it.", flush=True)
        while all(child.poll() is None for child in children):
            time.sleep(0.5)
        print("A part of the demo ended by itself; see above.", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        return 0
    finally:
        for child in children:
            child.terminate()
        for child in children:
            child.wait(20)


def _wait(url: str, children: list[subprocess.Popen[bytes]]) -> None:
    for _ in range(150):
        if any(child.poll() is not None for child in children):
            raise SystemExit("The server or the worker could not start. Is the port taken? Try --port.")
        try:
            urllib.request.urlopen(url, timeout=2).close()
            return
        except OSError:
            time.sleep(0.2)
    raise SystemExit(f"The server does not answer at {url}.")


if __name__ == "__main__":
    sys.exit(main())
