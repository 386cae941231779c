"""Starts the demo: its data, then the shop on 127.0.0.1, until it is stopped."""

import argparse
import os
import sys
import threading
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]


def main() -> int:
    """Fill the demo shop and run it."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8040)
    parser.add_argument("--morning", action="store_true", help="the jobs as they came in, nothing made of them yet")
    args = parser.parse_args()
    os.environ["DJANGO_SETTINGS_MODULE"] = "shop.settings"
    os.environ["PYTHONPATH"] = os.pathsep.join([str(ROOT / "server"), str(ROOT)])
    os.environ.setdefault("HORISMOS_LOG", "WARNING")
    os.environ.setdefault("HORISMOS_SHOP", "Tern & Tideway")
    os.environ.setdefault("HORISMOS_EXAMPLES", "1")
    sys.path[:0] = [str(ROOT / "server"), str(ROOT)]
    import django
    from django.core.management import call_command

    django.setup()
    from django.conf import settings
    from jobs.store.analyses import queue_outdated
    from jobs.store.log import seal
    from shop.serving import claimed, supervise, workers_wanted

    from demo.fill import fill
    from horismos.errors import NotReady

    try:
        with claimed("127.0.0.1", args.port, settings.VAR):
            call_command("migrate", verbosity=0)
            seal()
            queue_outdated()
            first = fill()
            supervise("127.0.0.1", args.port, workers_wanted(), lambda: _begin(args.port, first and not args.morning))
    except NotReady as why:
        print(why, file=sys.stderr)
        return 1
    return 0


def _begin(port: int, works: bool) -> None:
    """Say where it runs, now that it does; and where it runs for the first time, do a day's work there."""
    from demo import NAME, PASSWORD
    from demo.day import work

    address = f"http://127.0.0.1:{port}/"
    print(f"Horismos runs at {address}\nlog in as {NAME}, password {PASSWORD}\nCtrl-C stops it.", flush=True)
    if works:
        threading.Thread(target=work, args=(port,), daemon=True).start()


if __name__ == "__main__":
    sys.exit(main())
