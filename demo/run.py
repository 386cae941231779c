"""Starts the demo: its data, then the shop on 127.0.0.1, until it is stopped."""

import argparse
import os
import sys
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
    from django.conf import settings
    from shop.serving import claimed, mind

    from demo.fill import fill
    from horismos.errors import NotReady

    try:
        with claimed("127.0.0.1", args.port, settings.VAR):
            call_command("migrate", verbosity=0)
            fill()
            mind("127.0.0.1", args.port, 1, lambda: _greet(args.port))
    except NotReady as why:
        print(why, file=sys.stderr)
        return 1
    return 0


def _greet(port: int) -> None:
    """Say where it runs, now that it does."""
    from demo import NAME, PASSWORD

    address = f"http://127.0.0.1:{port}/"
    print(f"Horismos runs at {address}\nlog in as {NAME}, password {PASSWORD}\nCtrl-C stops it.", flush=True)


if __name__ == "__main__":
    sys.exit(main())
