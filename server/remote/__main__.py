"""A worker on this machine: ``./horismos work --broker redis://host --store /folder``."""

import argparse
import os
import sys
import tempfile
from pathlib import Path

from content.opening import store_at

from horismos.errors import HorismosError
from horismos.sandbox.jail import offered
from horismos.workflow.weights import Weight
from remote.worker import Hired, work

__all__ = ["main"]


def main(said: list[str]) -> int:
    """Work until SIGTERM. What is not said comes from the environment, as docs/scaling.md lists it."""
    of = os.environ.get
    parser = argparse.ArgumentParser(prog="horismos work", description=__doc__)
    parser.add_argument("--broker", default=of("HORISMOS_BROKER"), help="redis://host:port or amqp://host")
    parser.add_argument("--store", default=of("HORISMOS_STORE"), help="a folder, or s3://bucket?endpoint=…")
    parser.add_argument("--slots", type=int, default=len(os.sched_getaffinity(0)), help="steps at a time; one a core")
    parser.add_argument("--name", default="worker", help="how it is called beside its machine")
    parser.add_argument("--weights", default=",".join(Weight), help="which it takes, of small,usual,large")
    parser.add_argument("--cache", default=of("HORISMOS_CACHE", str(Path(tempfile.gettempdir()) / "horismos-cache")),
                        help="where files of a store elsewhere are kept")
    parser.add_argument("--cache-mb", type=float, default=float(of("HORISMOS_CACHE_MB", "4000")))
    given = parser.parse_args(said)
    if not given.broker or not given.store:
        parser.error("say --broker and --store, or set HORISMOS_BROKER and HORISMOS_STORE")
    weights = [part.strip() for part in given.weights.split(",")]
    if given.slots < 1 or not weights or set(weights) - set(Weight):
        parser.error("--slots is 1 or more, --weights some of small,usual,large")
    jail = {"on": True, "off": False}.get(of("HORISMOS_JAIL", ""), offered())
    os.umask(0o077)
    cache = Path(given.cache)
    try:
        work(Hired(
            given.broker, store_at(given.store, cache, int(given.cache_mb * 1e6)), given.name, given.slots,
            tuple(Weight(one) for one in weights), cache / "scratch" if jail else None,
        ))
    except HorismosError as error:
        print(error, file=sys.stderr)
        return 2
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
