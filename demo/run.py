"""Starts the demo: its data, then the shop on 127.0.0.1, until it is stopped."""

import argparse
import os
import sys
import threading
import time
import urllib.request
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]


def main() -> int:
    """Fill the demo shop and run it."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8040)
    args = parser.parse_args()
    os.environ["DJANGO_SETTINGS_MODULE"] = "shop.settings"
    os.environ["PYTHONPATH"] = os.pathsep.join([str(ROOT / "server"), str(ROOT)])
    os.environ.setdefault("HORISMOS_LOG", "WARNING")
    sys.path[:0] = [str(ROOT / "server"), str(ROOT)]
    import django
    from django.core.management import call_command

    django.setup()
    call_command("migrate", verbosity=0)
    from shop.serving import mind

    from demo.fill import fill

    fill()
    address = f"http://127.0.0.1:{args.port}/"
    threading.Thread(target=_greet, args=[address], daemon=True).start()
    mind("127.0.0.1", args.port, 1)
    return 0


def _greet(address: str) -> None:
    """Say where it runs as soon as it answers."""
    from demo import NAME, PASSWORD

    for _ in range(300):
        try:
            urllib.request.urlopen(address, timeout=2).close()
        except OSError:
            time.sleep(0.1)
            continue
        print(f"Horismos runs at {address}\nlog in as {NAME}, password {PASSWORD}\nCtrl-C stops it.", flush=True)
        return
    print(f"The server does not answer at {address}. Is the port taken? Try --port.", file=sys.stderr)


if __name__ == "__main__":
    sys.exit(main())
