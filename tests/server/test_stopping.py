"""Work that a person stops: nothing of it counts, and nothing that stood is lost."""

from collections.abc import Callable

import pytest
from django.test import Client
from jobs import models
from jobs.store.apart import ask
from worker import said

from horismos.errors import Cancelled
from tests.server.conftest import take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = pytest.mark.django_db(transaction=True)
SHORT = f"1 0 0 0 k {circle(50, 50, 42)} f " + line_in(circle(50, 50, 40))


@pytest.fixture()
def stopped_in_the_check(monkeypatch: pytest.MonkeyPatch) -> Callable[[], None]:
    """From the call on, whatever is checked is stopped by a person while it is."""

    def begin() -> None:
        def halted(step: str, *arguments: object, cancelled: Callable[[], bool], **more: object) -> object:
            if step == "way:look":
                models.Work.objects.filter(state="running").update(cancel=True)
                assert cancelled()
                raise Cancelled
            return ask(step, *arguments, cancelled=cancelled, **more)

        monkeypatch.setattr(said, "ask", halted)

    return begin


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
