"""Figures for a monitor, in the text format of Prometheus, and whether the shop is there and ready.

Names follow its conventions: base units, and _total for what only grows (prometheus.io/docs/practices/naming).
"""

import hmac
import math
from collections import defaultdict
from collections.abc import Callable, Iterator

from django.conf import settings
from django.db import DatabaseError
from django.db.models import Q
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from jobs import models
from jobs.store.workers import BOUNDS_S, version, workers
from people.address import of as address_of
from prometheus_client import CollectorRegistry, generate_latest
from prometheus_client.core import CounterMetricFamily, GaugeMetricFamily, HistogramMetricFamily, Metric

from shop.running import is_ready, store_size, waiting

__all__ = ["Monitored"]

NEAR = ("127.0.0.1", "::1")
KIND = "text/plain; version=0.0.4; charset=utf-8"


class _Shop:
    """What the rows say at the moment."""

    def collect(self) -> Iterator[Metric]:
        """Each metric."""
        built = GaugeMetricFamily("horismos_build_info", "Which code runs.", labels=["version"])
        built.add_metric([version()], 1)
        yield built
        yield from _queue()
        yield from _leases()
        yield from _workers()
        yield from _steps()
        size = store_size()
        yield GaugeMetricFamily("horismos_store_files", "Files of the store.", value=size.files)
        yield GaugeMetricFamily("horismos_store_bytes", "What the files of the store hold.", value=size.bytes)
        if size.free_bytes is not None:
            yield GaugeMetricFamily("horismos_store_free_bytes", "What its disk has left.", value=size.free_bytes)


def _queue() -> Iterator[Metric]:
    length = GaugeMetricFamily("horismos_queue_length", "Pieces of work.", labels=["weight", "state"])
    oldest = GaugeMetricFamily("horismos_queue_oldest_seconds", "How long the oldest waits.", labels=["weight"])
    for one in waiting():
        length.add_metric([one.weight, "waiting"], one.waiting)
        length.add_metric([one.weight, "running"], one.running)
        oldest.add_metric([one.weight], one.oldest_s if one.waiting else 0.0)
    yield from (length, oldest)


def _leases() -> Iterator[Metric]:
    running = models.Work.objects.filter(state=models.WorkState.RUNNING)
    leases = GaugeMetricFamily("horismos_leases", "Work that is held, and that its worker has left.", labels=["state"])
    left = running.filter(Q(leased_until__lt=timezone.now()) | Q(leased_until=None)).count()
    leases.add_metric(["held"], running.count() - left)
    leases.add_metric(["lapsed"], left)
    yield leases


def _workers() -> Iterator[Metric]:
    found = workers()
    there = GaugeMetricFamily("horismos_workers", "Workers that were heard of.", labels=["version", "remote"])
    count: dict[tuple[str, bool], int] = defaultdict(int)
    for one in found:
        count[one.version, one.remote] += 1
    for (which, remote), many in sorted(count.items()):
        there.add_metric([which, str(remote).lower()], many)
    slots = sum(one.slots for one in found)
    yield there
    yield GaugeMetricFamily("horismos_worker_slots", "Steps that they do at a time.", value=slots)


def _steps() -> Iterator[Metric]:
    """Buckets add up, as the format has them."""
    taken = HistogramMetricFamily("horismos_step_seconds", "How long steps take.", labels=["step", "weight"])
    failed = CounterMetricFamily("horismos_steps_failed", "Steps in vain.", labels=["step", "weight"])
    rows: dict[tuple[str, str], list[models.StepTime]] = defaultdict(list)
    for row in models.StepTime.objects.order_by("step", "weight", "below_s"):
        rows[row.step, row.weight].append(row)
    for labels, found in rows.items():
        buckets = []
        for bound in BOUNDS_S:
            so_far = sum(row.count for row in found if row.below_s <= bound)
            buckets.append(("+Inf" if bound == math.inf else str(bound), float(so_far)))
        taken.add_metric(list(labels), buckets, sum_value=sum(row.seconds for row in found))
        failed.add_metric(list(labels), sum(row.failed for row in found))
    yield from (taken, failed)


_registry = CollectorRegistry(auto_describe=False)
_registry.register(_Shop())


def metrics(request: HttpRequest) -> HttpResponse:
    """The figures; for this machine, and for whoever has the token of the setting."""
    said = request.headers.get("Authorization", "")
    token = settings.METRICS_TOKEN
    known = bool(token) and hmac.compare_digest(said.encode(), f"Bearer {token}".encode())
    if not known and (token or address_of(request) not in NEAR):
        return HttpResponse("Say the token of HORISMOS_METRICS_TOKEN.\n", status=401, content_type="text/plain")
    return HttpResponse(generate_latest(_registry), content_type=KIND)


def healthz(request: HttpRequest) -> HttpResponse:
    """That the web answers."""
    return HttpResponse("ok\n", content_type="text/plain")


def readyz(request: HttpRequest) -> HttpResponse:
    """Whether the shop can take work in: it has its database, its data folder, and somebody who works."""
    try:
        why = is_ready()
    except DatabaseError:
        why = "the database does not answer"
    return HttpResponse(f"{why or 'ready'}\n", status=503 if why else 200, content_type="text/plain")


ADDRESSES = {"/metrics": metrics, "/healthz": healthz, "/readyz": readyz}


class Monitored:
    """Answers a monitor, whatever it calls this machine, and by plain http: it asks from beside, not through the proxy.
    """

    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer."""
        return ADDRESSES.get(request.path, self._answer)(request)
