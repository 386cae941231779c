"""Letters and proofs: sent through the simulated mail service, remembered, answered; a check sheet asks for a yes."""

from email import message_from_bytes, policy
from io import BytesIO
from pathlib import Path
from typing import Any

import pikepdf
import pypdfium2
import pytest
from django.conf import settings

from tests.breadth import breadth
from tests.server.conftest import Person, send_another, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.4, "customers and letters")]
JSON = "application/json"
GROUND = "1 0 0 0 k 5 5 90 90 re f\n"


def seal(radius: float = 40, ink: str = "Kiss Cut") -> bytes:
    return write(Drawing(GROUND + line_in(circle(50, 50, radius)), inks={"K": ink}))


def outbox() -> list[Path]:
    return sorted((Path(settings.VAR) / "outbox").glob("*.eml"))


def read(path: Path) -> tuple[Any, dict[str, bytes]]:
    found = message_from_bytes(path.read_bytes(), policy=policy.default)
    return found, {part.get_filename(): part.get_content() for part in found.iter_attachments()}


def again(shop: Person, job: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = shop.get(f"/api/jobs/{job['id']}").json()
    return found


def test_a_letter_goes_to_the_outbox_with_its_pictures_and_is_remembered(shop: Person) -> None:
    customer = {"kind": "customer", "title": "Saltmarsh Trust", "data": {"write_to": "art@saltmarsh.example"}}
    assert shop.post("/api/shelf/things", customer, content_type=JSON).status_code == 200
    job = take_in(shop, seal(ink="Kiss-Cut"), customer="Saltmarsh Trust")
    assert job["write_to"] == "art@saltmarsh.example"
    keys = [finding["key"] for finding in job["findings"] if finding["id"] == "ink.near-name"]
    body = {"keys": keys, "to": job["write_to"]}
    sent = shop.post(f"/api/jobs/{job['id']}/letters", body, content_type=JSON).json()
    (letter,) = sent["letters"]
    assert (letter["kind"], letter["answer"], letter["checks"]) == ("points", "open", ["ink.near-name"])
    (path,) = outbox()
    message, parts = read(path)
    assert message["To"] == "art@saltmarsh.example" and "Your artwork" in message["Subject"]
    assert "Kiss Cut" in message.get_body(("plain",)).get_content()
    (name,) = parts
    with pikepdf.open(BytesIO(parts[name])) as pdf:
        assert any(page.get_images() for page in pdf.pages), "with its pictures"
    assert shop.get(f"/api/letters/{letter['id']}/files/{name}").content == parts[name]
    assert shop.get(f"/api/letters/{letter['id']}/message.eml").content == path.read_bytes()
    assert [one["id"] for one in shop.get("/api/letters", {"customer": "Saltmarsh Trust"}).json()] == [letter["id"]]
    assert shop.get("/api/letters", {"customer": "Nobody"}).json() == []


def test_what_a_person_has_written_is_what_is_sent(shop: Person) -> None:
    job = take_in(shop, seal(ink="Kiss-Cut"))
    body = {"keys": [job["findings"][0]["key"]], "to": "", "text": "Please call us."}
    assert shop.post(f"/api/jobs/{job['id']}/letters", body, content_type=JSON).status_code == 200
    message, _ = read(outbox()[0])
    assert message.get_body(("plain",)).get_content().strip() == "Please call us." and message["To"] is None


@pytest.mark.parametrize("to", ["nobody", "a b@c.example", "x@y@z", "line\nBcc: x@y.example"])
def test_an_address_that_is_none_is_refused(shop: Person, to: str) -> None:
    job = take_in(shop, seal(ink="Kiss-Cut"))
    body = {"keys": [job["findings"][0]["key"]], "to": to}
    assert shop.post(f"/api/jobs/{job['id']}/letters", body, content_type=JSON).status_code == 422
    assert outbox() == []


def test_a_reply_with_a_file_answers_the_letters_that_wait(shop: Person) -> None:
    job = take_in(shop, seal(ink="Kiss-Cut"))
    body = {"keys": [job["findings"][0]["key"]], "to": "a@b.example"}
    assert shop.post(f"/api/jobs/{job['id']}/letters", body, content_type=JSON).status_code == 200
    assert send_another(shop, again(shop, job), seal(39), "seal-2.pdf").status_code == 200
    (letter,) = again(shop, job)["letters"]
    assert (letter["answer"], letter["note"]) == ("file", "seal-2.pdf")


def asks_for_proof(shop: Person) -> None:
    sheet = {"scope": "shop", "subject": "", "limits": {}, "severities": {"file.proof": "stop"}, "note": "signed"}
    assert shop.post("/api/sheets", sheet, content_type=JSON).status_code == 200


def send_proof(shop: Person, job: dict[str, Any]) -> dict[str, Any]:
    sent = shop.post(f"/api/jobs/{job['id']}/proofs", {"to": "a@b.example"}, content_type=JSON)
    assert sent.status_code == 200, sent.json()
    found: dict[str, Any] = sent.json()["letters"][0]
    return found


def give(shop: Person, job: dict[str, Any], letter: dict[str, Any], answer: str, **more: str) -> Any:
    body = {"version": again(shop, job)["version"], "answer": answer, "signed_by": "R. Marram", **more}
    return shop.post(f"/api/letters/{letter['id']}/answer", body, content_type=JSON)


def test_a_check_sheet_asks_for_a_signed_proof_before_release(shop: Person) -> None:
    asks_for_proof(shop)
    job = take_in(shop, seal())
    assert [finding["id"] for finding in job["findings"] if finding["severity"] == "stop"] == ["file.proof"]
    assert job["state"] == "letter", "only the customer can put it right"
    assert shop.post(f"/api/jobs/{job['id']}/release", {}, content_type=JSON).status_code == 409
    letter = send_proof(shop, job)
    assert again(shop, job)["state"] == "letter"
    assert give(shop, job, letter, "approved", signed_on="2026-11-30").status_code == 200
    now = again(shop, job)
    assert now["state"] == "ready" and now["stops"] == 0
    (kept,) = now["letters"]
    assert (kept["signed_by"], kept["signed_on"], kept["holds"]) == ("R. Marram", "2026-11-30", True)
    assert any("Proof approved by R. Marram" in entry["what"] for entry in now["log"])
    assert give(shop, job, letter, "approved").status_code == 409, "once"


def test_a_yes_goes_for_the_artwork_that_it_was_given_for(shop: Person) -> None:
    asks_for_proof(shop)
    job = take_in(shop, seal())
    give(shop, job, send_proof(shop, job), "approved")
    step = {"kind": "scale", "settings": {"ratio": 1.01}}
    mended = shop.post(f"/api/jobs/{job['id']}/mends", step, content_type=JSON)
    assert mended.status_code == 200, mended.json()
    now = again(shop, job)
    assert now["revision"] == 2, now["work"]
    assert now["stops"] == 1 and now["letters"][0]["holds"] is False
    shop.post(f"/api/jobs/{job['id']}/undo", {}, content_type=JSON)
    left = [one["id"] for one in again(shop, job)["findings"] if one["severity"] == "stop"]
    assert left == [], "what was signed is there again"


def test_a_no_says_what_has_to_be_changed_and_stops(shop: Person) -> None:
    asks_for_proof(shop)
    job = take_in(shop, seal())
    letter = send_proof(shop, job)
    assert give(shop, job, letter, "refused").status_code == 400, "say what"
    assert give(shop, job, letter, "open").status_code == 400
    assert give(shop, job, letter, "refused", note="larger, please").status_code == 200
    now = again(shop, job)
    assert now["stops"] == 1 and now["letters"][0]["note"] == "larger, please"


def test_without_the_sheet_nobody_asks_for_a_proof(shop: Person) -> None:
    job = take_in(shop, seal())
    assert job["state"] == "ready" and not [one for one in job["findings"] if one["id"] == "file.proof"]
    assert send_proof(shop, job)["answer"] == "open" and again(shop, job)["state"] == "ready"


def test_the_proof_names_lines_sizes_and_what_was_changed(shop: Person) -> None:
    job = take_in(shop, seal(ink="Kiss-Cut"), customer="Saltmarsh Trust")
    shop.post(f"/api/jobs/{job['id']}/mends/safe", {"revision": 1}, content_type=JSON)
    pdf = shop.get(f"/api/jobs/{job['id']}/proof.pdf").content
    text = "".join(page.get_textpage().get_text_bounded() for page in pypdfium2.PdfDocument(pdf))
    for words in ("Saltmarsh Trust", "eighty millimetres wide", "Kiss cut, ink “Kiss Cut”", "the piece peels off",
                  "What we changed", "Signature"):
        assert words in text, (words, text)
