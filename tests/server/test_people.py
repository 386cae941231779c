"""Who gets in, what browsers are told, what is noted, and what of all that a stranger learns."""

import io
import logging
from pathlib import Path

import pytest
from django.contrib.auth import get_user_model
from django.core.management import CommandError, call_command
from django.test import Client
from jobs import models

from tests.breadth import breadth
from tests.server.conftest import PASSWORD, Person, person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = pytest.mark.django_db(transaction=True)
JSON = "application/json"
NEW = "a longer spell of weather"
CLEAN = write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40))))


def log_in(client: Client, name: str = "ada", password: str = PASSWORD, **more: str) -> int:
    body = {"name": name, "password": password}
    return int(client.post("/api/login", body, content_type=JSON, **more).status_code)


# -- logging in -----------------------------------------------------------------------------------------


def test_guessing_stops_one_name_at_one_address_and_nobody_else(shop: Person) -> None:
    get_user_model().objects.create_user("ben", password=PASSWORD)
    guesser, honest = Client(REMOTE_ADDR="10.0.0.9"), Client(REMOTE_ADDR="10.0.0.9")
    codes = [log_in(guesser, "ada", f"guess {i}") for i in range(10)]
    assert codes[:8] == [401] * 8 and codes[-1] == 429
    assert log_in(guesser, "ada", PASSWORD) == 429, "the right one does not help now"
    assert log_in(Client(REMOTE_ADDR="10.0.0.9"), "ada") == 429, "it is kept in the database, not in one process"
    assert log_in(honest, "ben") == 200, "somebody else at the same address"
    assert log_in(Client(REMOTE_ADDR="10.0.0.10"), "ada") == 200, "herself from somewhere else"


def test_behind_a_trusted_proxy_the_address_is_the_one_that_it_says(shop: Person, settings) -> None:  # type: ignore[no-untyped-def]
    settings.TRUSTED_PROXIES = ["10.0.0.1"]
    for i in range(10):
        log_in(Client(REMOTE_ADDR="10.0.0.1"), "ada", f"guess {i}", HTTP_X_FORWARDED_FOR="9.9.9.9, 192.0.2.7")
    proxied = Client(REMOTE_ADDR="10.0.0.1")
    assert log_in(proxied, "ada", HTTP_X_FORWARDED_FOR="1.2.3.4, 192.0.2.7") == 429, "what the client claims is nothing"
    assert log_in(proxied, "ada", HTTP_X_FORWARDED_FOR="192.0.2.8") == 200
    settings.TRUSTED_PROXIES = []
    assert log_in(Client(REMOTE_ADDR="10.0.0.1"), "ada", HTTP_X_FORWARDED_FOR="192.0.2.7") == 200, "no proxy is trusted"


def test_logging_in_needs_the_token_of_the_page(shop: Person) -> None:
    strict = Client(enforce_csrf_checks=True)
    assert log_in(strict) == 403
    strict.get("/")
    token = strict.cookies["csrftoken"].value
    assert log_in(strict, HTTP_X_CSRFTOKEN="x" * 64) == 403
    assert log_in(strict, HTTP_X_CSRFTOKEN=token) == 200


def test_a_password_is_changed_and_ends_every_other_log_in(shop: Person) -> None:
    elsewhere = Client()
    assert log_in(elsewhere) == 200 and elsewhere.get("/api/me").status_code == 200

    def change(present: str, new: str) -> tuple[int, str]:
        answer = shop.post("/api/me/password", {"present": present, "new": new}, content_type=JSON)
        return answer.status_code, answer.json().get("message", "")

    assert change("wrong one, this", NEW) == (403, "That is not your present password. Type it again.")
    for weak, said in (("short", "too short"), ("314159265358979", "entirely numeric")):
        status, message = change(PASSWORD, weak)
        assert status == 400 and said in message, (weak, message)
    assert elsewhere.get("/api/me").status_code == 200, "nothing has changed yet"
    assert change(PASSWORD, NEW)[0] == 200
    assert shop.get("/api/me").json()["name"] == "ada", "who changed it stays"
    assert elsewhere.get("/api/me").status_code == 401
    assert log_in(Client()) == 401 and log_in(Client(), password=NEW) == 200


def test_a_session_ends(shop: Person, settings) -> None:  # type: ignore[no-untyped-def]
    assert settings.SESSION_COOKIE_AGE == 12 * 3600
    client = Client()
    assert log_in(client) == 200
    cookie = client.cookies["sessionid"]
    assert cookie["max-age"] == 12 * 3600 and cookie["httponly"] and cookie["samesite"] == "Lax"
    assert client.post("/api/logout").status_code == 200
    assert client.get("/api/jobs").status_code == 401


# -- what browsers are told ---------------------------------------------------------------------------------


@pytest.mark.parametrize("path", ["/", "/shelf", "/jobs/1/check", "/api/me", "/api/nothing", "/index.html"])
def test_every_answer_says_what_a_browser_may_do_with_it(shop: Person, path: str) -> None:
    answer = shop.get(path)
    policy = answer["Content-Security-Policy"]
    assert "default-src 'none'" in policy and "frame-ancestors 'none'" in policy and "unsafe" not in policy
    assert answer["X-Frame-Options"] == "DENY" and answer["X-Content-Type-Options"] == "nosniff"
    assert answer["Referrer-Policy"] == "same-origin" and "camera=()" in answer["Permissions-Policy"]
    assert len(answer["X-Request-Id"]) == 12
    if path.startswith("/api/"):
        assert answer["Cache-Control"] == "no-store"


def test_the_page_names_the_number_that_its_styles_need(shop: Person) -> None:
    one, other = shop.get("/"), shop.get("/")
    assert "__nonce__" not in one.content.decode() and one.content != other.content
    nonce = one["Content-Security-Policy"].partition("nonce-")[2].partition("'")[0]
    assert f'content="{nonce}"' in one.content.decode()


def test_a_stranger_learns_nothing(shop: Person) -> None:
    job = take_in(shop, CLEAN)
    stranger = Client()
    for path in ("/api/jobs", f"/api/jobs/{job['id']}", "/api/works", "/api/shelf", "/api/sheets", "/api/bench",
                 f"/api/jobs/{job['id']}/picture?x0=0&y0=0&x1=9&y1=9&ppi=9", "/api/customers", "/api/jobs/counts"):
        assert stranger.get(path).status_code == 401, path
    assert stranger.get("/api/openapi.json").status_code == 404 and shop.get("/api/openapi.json").status_code == 404


# -- uploads ---------------------------------------------------------------------------------------------------


def test_an_upload_is_refused_by_its_length_before_it_is_read(shop: Person, settings) -> None:  # type: ignore[no-untyped-def]
    class Untouched(io.RawIOBase):
        def read(self, size: int = -1) -> bytes:
            raise AssertionError("It was read.")

    def send(client: Client, length: int) -> int:
        return int(client.generic(
            "POST", "/api/jobs", b"", "multipart/form-data; boundary=x", CONTENT_LENGTH=length,
            **{"wsgi.input": Untouched()},
        ).status_code)

    assert send(shop, settings.MOST_UPLOAD_BYTES + 1) == 413
    assert send(Client(), 2_000_000) == 401, "of strangers nothing large is read at all"
    assert not models.Job.objects.exists()


def test_an_upload_does_not_lie_in_memory(shop: Person, tmp_path: Path, settings) -> None:  # type: ignore[no-untyped-def]
    import tracemalloc

    from django.http import HttpRequest
    from django.http.multipartparser import MultiPartParser
    from jobs.store.files import path_of
    from jobs.store.uploads import StoringHandler, kept

    head = b'--x\r\nContent-Disposition: form-data; name="file"; filename="big.pdf"\r\n\r\n'
    body = tmp_path / "body"
    with body.open("wb") as file:
        file.write(head)
        for _ in range(60):
            file.write(bytes(1_000_000))
        file.write(b"\r\n--x--\r\n")
    request = HttpRequest()
    request.META = {"CONTENT_TYPE": "multipart/form-data; boundary=x", "CONTENT_LENGTH": str(body.stat().st_size)}
    with body.open("rb") as file:
        tracemalloc.start()
        _, files = MultiPartParser(request.META, file, [StoringHandler(request)]).parse()
        sha256 = kept(files["file"])
        peak = tracemalloc.get_traced_memory()[1]
        tracemalloc.stop()
    assert path_of(sha256).stat().st_size == 60_000_000 and peak < 5_000_000


# -- what is noted ------------------------------------------------------------------------------------------------


def test_log_ins_refusals_and_faults_are_noted_with_the_number_of_the_request(
    shop: Person, caplog: pytest.LogCaptureFixture, monkeypatch: pytest.MonkeyPatch
) -> None:
    caplog.set_level(logging.INFO, "horismos")
    log_in(Client(), password="not this one")
    log_in(Client())
    assert "log-in failed for 'ada'" in caplog.text and "ada logged in from" in caplog.text
    assert "not this one" not in caplog.text and PASSWORD not in caplog.text
    person("ben").post("/api/sheets", {"scope": "shop"}, content_type=JSON)
    assert "POST /api/sheets -> 403, person" in caplog.text

    def faulty(*_: object, **__: object) -> None:
        raise ZeroDivisionError("on purpose")

    monkeypatch.setattr("jobs.api.jobs.job_rows", faulty)
    caplog.clear()
    answer = shop.get("/api/jobs")
    assert answer.status_code == 500 and answer.json()["code"] == "fault"
    assert answer["X-Request-Id"] in answer.json()["message"], "who is told of it can name it"
    assert "on purpose" not in answer.json()["message"] and "ZeroDivisionError: on purpose" in caplog.text


# -- people on the command line --------------------------------------------------------------------------------------


def typed(monkeypatch: pytest.MonkeyPatch, *arguments: str, password: str = "") -> str:
    out = io.StringIO()
    monkeypatch.setattr("sys.stdin", io.StringIO(password + "\n"))
    call_command("user", *arguments, stdout=out)
    return out.getvalue()


@breadth(0.12, "long ones")
def test_the_first_person_is_made_on_the_command_line(shop: Person, monkeypatch: pytest.MonkeyPatch) -> None:
    assert typed(monkeypatch, "add", "cleo", "--all-rights", password=NEW) == "cleo: Owner\n"
    client = Client()
    assert log_in(client, "cleo", NEW) == 200 and "waive" in client.get("/api/me").json()["rights"]
    assert typed(monkeypatch, "roles", "cleo", "--role", "Technician") == "cleo: Technician\n"
    assert "waive" not in client.get("/api/me").json()["rights"]
    typed(monkeypatch, "password", "cleo", password=PASSWORD + " indeed")
    assert client.get("/api/me").status_code == 401, "her log-ins end"
    assert typed(monkeypatch, "off", "cleo") == "cleo: Technician, off\n"
    assert log_in(Client(), "cleo", PASSWORD + " indeed") == 401
    assert typed(monkeypatch, "list") == "ada: no role\ncleo: Technician, off\n"
    with pytest.raises(CommandError, match="too short"):
        typed(monkeypatch, "add", "dora", password="short")
    with pytest.raises(CommandError, match="is there already"):
        typed(monkeypatch, "add", "ada", password=NEW)
    with pytest.raises(CommandError, match="nobody called"):
        typed(monkeypatch, "on", "nemo")


def test_a_person_sees_lengths_in_their_own_unit_on_every_screen(shop: Client) -> None:
    assert shop.get("/api/me").json()["unit"] == "mm"
    assert shop.patch("/api/me", {"unit": "in"}, content_type=JSON).json()["unit"] == "in"
    assert shop.patch("/api/me", {"unit": "ell"}, content_type=JSON).status_code == 422
    elsewhere = Client()
    log_in(elsewhere)
    assert elsewhere.get("/api/me").json()["unit"] == "in", "wherever that person logs in"
    get_user_model().objects.create_user("bea", password=PASSWORD)
    other = Client()
    log_in(other, "bea")
    assert other.get("/api/me").json()["unit"] == "mm", "and nobody else"


def test_a_shop_behind_tls_wants_its_proxy_named(settings) -> None:  # type: ignore[no-untyped-def]
    settings.TLS, settings.TRUSTED_PROXIES = True, []
    with pytest.raises(CommandError, match="HORISMOS_PROXIES"):
        call_command("serve", "--port", "0")


def test_everybody_sees_who_may_do_what_and_who_was_here(shop: Person) -> None:
    people = get_user_model().objects
    call_command("user", "roles", "ada", "--role", "Lead technician")
    people.create_user("ben", password=PASSWORD)
    people.create_user("old", password=PASSWORD, is_active=False)
    assert log_in(Client(), "ben") == 200 and log_in(Client(), "ben") == 200
    listed = {one["name"]: one for one in shop.get("/api/people").json()}
    assert "old" not in listed, "who was switched off is nobody to ask"
    assert listed["ben"]["browsers"] == 2 and listed["ben"]["seen"]
    assert not listed["ben"]["rights"] and "waive" in listed["ada"]["rights"]
    assert "manage-people" not in listed["ada"]["rights"]
