"""Work that a person stops: nothing of it counts, and nothing that stood is lost."""

import os
import threading
from collections.abc import Callable
from pathlib import Path

import pytest
from django.test import Client
from jobs import models
from jobs.store.children import run_step
from shop.serving import _relieve
from worker import task

from horismos.errors import Cancelled, CannotRead
from horismos.sandbox.jail import offered
from horismos.sandbox.memory import held, tree_of
from horismos.sandbox.pool import Call, Pool
from tests.breadth import breadth
from tests.server.conftest import take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = pytest.mark.django_db(transaction=True)
SHORT = f"1 0 0 0 k {circle(50, 50, 42)} f " + line_in(circle(50, 50, 40))


@pytest.fixture()
def stopped_in_the_check(monkeypatch: pytest.MonkeyPatch) -> Callable[[], None]:
    """From the call on, whatever is checked is stopped by a person while it is."""

    def begin() -> None:
        def halted(step: str, *arguments: object, cancelled: Callable[[], bool], **more: object) -> object:
            if step == "job:look":
                models.Work.objects.filter(state="running").update(cancel=True)
                assert cancelled()
                raise Cancelled
            return run_step(step, *arguments, cancelled=cancelled, **more)

        monkeypatch.setattr(task, "run_step", halted)

    return begin


@breadth(0.12, "long ones")
def test_a_check_that_was_stopped_does_not_make_old_findings_current(
    shop: Client, stopped_in_the_check: Callable[[], None]
) -> None:
    job = take_in(shop, write(Drawing(SHORT)))
    url = f"/api/jobs/{job['id']}"
    assert job["current"] and [f["id"] for f in job["findings"]] == ["edge.bleed"]
    stopped_in_the_check()
    order = {**job["order"], "bleed_mm": 1.0}
    shop.patch(url, {"order": order}, content_type="application/json")
    after = shop.get(url).json()
    assert after["work"]["state"] == "cancelled" and not after["work"]["error"]
    assert not after["current"], "the findings are those of the order before"
    assert not after["error"], "being stopped is no error"
    assert [f["id"] for f in after["findings"]] == ["edge.bleed"]


@breadth(0.12, "long ones")
def test_a_mend_that_was_stopped_in_its_check_stands_and_says_so(
    shop: Client, stopped_in_the_check: Callable[[], None]
) -> None:
    job = take_in(shop, write(Drawing(SHORT, inks={"K": "Kis Cut"})))
    url = f"/api/jobs/{job['id']}"
    mend = next(m for f in job["findings"] for m in f["mends"])
    stopped_in_the_check()
    shop.post(f"{url}/mends", mend, content_type="application/json")
    after = shop.get(url).json()
    assert after["work"]["state"] == "cancelled"
    assert after["revision"] == 2 and not after["current"] and not after["error"]


@breadth(0.12, "long ones")
@pytest.mark.parametrize("jail", [False, True])
def test_what_holds_most_is_ended_where_the_shop_holds_too_much(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, jail: bool
) -> None:
    """Of all that handle files the heaviest; nothing else of the shop."""
    if jail and not offered():
        pytest.skip("this machine offers no jail")
    monkeypatch.setattr("horismos.sandbox.pool.tree_bytes", lambda size: 10**12)
    pool = Pool(["tests.core.childish"], most=2, ready=0, scratch=tmp_path if jail else None)
    try:
        pool.run(Call("tests.core.childish:number", key="light", seconds=60))
        over = threading.Event()

        def relieves() -> None:
            _relieve(10**12)  # as long as it holds less than it may, nothing is ended
            while not over.wait(0.3):
                everybody = tree_of(os.getpid())
                if any(held([number], 0) > 600_000_000 for number in everybody[1:]):
                    _relieve(held(everybody, 0) // 2)  # again, where it is tried once more

        relieving = threading.Thread(target=relieves)
        relieving.start()
        try:
            with pytest.raises(CannotRead, match="made its reader end"):
                pool.run(Call("tests.core.childish:grows", key="heavy", seconds=60))
        finally:
            over.set()
            relieving.join()
        assert pool.run(Call("tests.core.childish:number", key="light", seconds=60)), "the light one stands"
    finally:
        pool.close()
