"""Odd values in addresses: each is answered or refused in words, and none is a fault of the server."""

import json

import pytest
from jobs import models

from tests.breadth import breadth
from tests.server.conftest import Person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.2)]
CLEAN = write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40))))
ODD = [
    "", "nan", "inf", "-inf", "1e400", "-1", "0", "99999999999999999999", "\u00b2", "%ff%00", "a" * 5_000, "null", "[]",
    "..%2f..%2fsecret", "%ed%a0%80",
]
ASKED = [
    "/api/jobs/{odd}", "/api/jobs/{job}/picture?x0={odd}&y0=0&x1=9&y1=9&ppi=9", "/api/jobs?search={odd}",
    "/api/jobs/{job}/picture?x0=0&y0=0&x1={odd}&y1=9&ppi=9", "/api/jobs?offset={odd}", "/api/jobs?group={odd}",
    "/api/jobs/{job}/picture?x0=0&y0=0&x1=9&y1=9&ppi={odd}", "/api/jobs?limit={odd}", "/api/works/{odd}",
    "/api/jobs/{job}/picture?x0=0&y0=0&x1=9&y1=9&ppi=9&view={odd}", "/api/bench/{odd}/play",
    "/api/jobs/{job}/picture?x0=0&y0=0&x1=9&y1=9&ppi=9&revision={odd}", "/api/jobs/{job}/pages/{odd}",
    "/api/jobs/{job}/plates?inks={odd}", "/api/jobs/{job}/plates?mode={odd}", "/api/jobs/{job}/amounts?x={odd}&y=1",
    "/api/jobs/{job}/section?x0={odd}&y0=0&x1=9&y1=9", "/api/jobs/{job}/landing?dx={odd}",
    "/api/jobs/{job}/landing?turn={odd}", "/api/jobs/{job}/evidence/{odd}", "/api/jobs/{job}/letter.pdf?chosen={odd}",
    "/api/sheets/export?scope={odd}", "/api/sheets/export?scope=customer&subject={odd}", "/api/{odd}",
]


@pytest.fixture()
def job(shop: Person) -> int:
    return int(take_in(shop, CLEAN)["id"])


@pytest.mark.parametrize("address", ASKED)
def test_no_odd_value_in_an_address_is_a_fault_of_the_server(shop: Person, job: int, address: str) -> None:
    for odd in ODD:
        answer = shop.get(address.format(odd=odd, job=job))
        assert answer.status_code < 500, (address, odd, answer.content[:200])
        if answer.status_code >= 400 and answer["Content-Type"].startswith("application/json"):
            assert answer.json()["message"], (address, odd)


def test_a_thin_picture_is_measured_in_whole_pixels(shop: Person, job: int) -> None:
    thin = "x0=0&y0=0&x1=190000&y1=0.0001&ppi=9000"
    answer = shop.get(f"/api/jobs/{job}/picture?{thin}")
    assert answer.status_code == 400 and "too large" in answer.json()["message"]


@pytest.mark.parametrize("body", ["", "null", "[]", "7", "{", "\ud800", json.dumps({"kind": 1}), "[" * 10_000])
@pytest.mark.parametrize("path", ["mends", "undo", "release", "answers", "decisions", "letter"])
def test_no_odd_body_is_a_fault_of_the_server(shop: Person, job: int, path: str, body: str) -> None:
    shop.works = False
    data = body.encode("utf-8", "surrogatepass")
    answer = super(Person, shop).generic("POST", f"/api/jobs/{job}/{path}", data, "application/json")
    assert 400 <= answer.status_code < 500 and answer.json()["message"]
    assert models.Work.objects.filter(state="waiting").count() == 0
