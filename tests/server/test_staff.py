"""People: invited by a link that is used once, given roles, switched off; and the second step of a log-in."""

import base64
import hashlib
import hmac
import struct
import time
from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.contrib.auth.models import Group
from django.core.management import call_command
from django.test import Client
from django.utils import timezone
from jobs import models
from jobs.store.rights import Right
from people.inviting import first_link
from people.models import Invite

from tests.breadth import breadth
from tests.server.conftest import PASSWORD, Person, person
from tests.server.test_people import JSON, log_in

pytestmark = pytest.mark.django_db(transaction=True)
NEW = "a longer spell of weather"


@pytest.fixture()
def boss(shop: Person) -> Person:
    """Somebody who manages people, by a role as the shop has it."""
    found = person("boss", rights=())
    get_user_model().objects.get(username="boss").groups.add(Group.objects.get(name="Owner"))
    return found


def role(boss: Person, name: str) -> int:
    return next(int(one["id"]) for one in boss.get("/api/staff").json()["roles"] if one["name"] == name)


def one(boss: Person, name: str) -> dict[str, Any]:
    return next(dict(one) for one in boss.get("/api/staff").json()["people"] if one["name"] == name)


def joined(client: Client, token: str, name: str, password: str = NEW) -> int:
    body = {"token": token, "name": name, "password": password}
    return int(client.post("/api/join", body, content_type=JSON).status_code)


def invited(boss: Person, roles: list[int]) -> str:
    made = boss.post("/api/invites", {"roles": roles, "note": "Cleo"}, content_type=JSON).json()
    return str(made["path"]).removeprefix("/join/")


def test_somebody_joins_by_a_link_that_is_used_once(boss: Person) -> None:
    token = invited(boss, [role(boss, "Front desk")])
    assert token not in str(list(Invite.objects.values())), "what is kept cannot be turned into a link"
    client = Client()
    assert client.get(f"/api/join?token={token}").json() == {"shop": "", "first": False}
    assert joined(client, token, "no good name") == 400 and joined(client, token, "boss") == 400
    assert joined(client, token, "cleo", "short") == 400, "and the link stands"
    assert joined(client, token, "cleo") == 200
    assert client.get("/api/me").json()["rights"] == ["see", "take-in"]
    assert joined(Client(), token, "dora") == 404 and Client().get(f"/api/join?token={token}").status_code == 404
    assert boss.get("/api/staff").json()["invites"] == []
    said = [entry.what for entry in models.LogEntry.objects.filter(person__username="cleo")]
    assert "Joined as Front desk" in said


@breadth(0.12, "long ones")
def test_a_link_ends_by_itself_and_when_it_is_withdrawn(boss: Person) -> None:
    tokens = [invited(boss, [role(boss, "Guest")]) for _ in range(2)]
    first, second = Invite.objects.order_by("pk")
    Invite.objects.filter(pk=first.pk).update(ends=timezone.now() - timedelta(seconds=1))
    assert boss.delete(f"/api/invites/{second.pk}").status_code == 200
    assert [joined(Client(), token, "cleo") for token in tokens] == [404, 404]


@breadth(0.12, "long ones")
def test_the_first_person_of_a_shop_owns_it_and_older_links_lead_nowhere(shop: Person) -> None:
    get_user_model().objects.all().delete()
    stale, link = (first_link("http://shop").rpartition("/")[2] for _ in range(2))
    assert Client().get(f"/api/join?token={stale}").status_code == 404
    client = Client()
    early = get_user_model().objects.create_user("early", password=PASSWORD)
    assert joined(client, link, "ada") == 404, "somebody was made on the command line meanwhile"
    early.delete()
    assert client.get(f"/api/join?token={link}").json()["first"] and joined(client, link, "ada") == 200
    assert set(client.get("/api/me").json()["rights"]) == set(Right)


def test_whoever_leaves_is_switched_off_and_the_log_keeps_the_name(boss: Person) -> None:
    token, client = invited(boss, [role(boss, "Lead technician")]), Client()
    joined(client, token, "cleo")
    assert client.patch("/api/shop", {"name": "Quay"}, content_type=JSON).status_code == 200
    thread = {"kind": "thread", "title": "Rust", "data": {"colour": "#AA5522"}}
    assert client.post("/api/shelf/things", thread, content_type=JSON).status_code == 200
    gone = boss.patch(f"/api/staff/{one(boss, 'cleo')['id']}", {"active": False}, content_type=JSON)
    assert gone.status_code == 200 and not one(boss, "cleo")["active"]
    assert client.get("/api/me").status_code == 401, "at once"
    assert log_in(Client(), "cleo", NEW) == 401
    entry = models.LogEntry.objects.get(topic="shelf", about="Rust")
    assert entry.who_name == "cleo"
    boss.patch(f"/api/staff/{one(boss, 'cleo')['id']}", {"active": True}, content_type=JSON)
    assert log_in(Client(), "cleo", NEW) == 200


def test_somebody_always_manages_people(boss: Person) -> None:
    mine = one(boss, "boss")
    for body in ({"roles": []}, {"active": False}):
        refused = boss.patch(f"/api/staff/{mine['id']}", body, content_type=JSON)
        assert refused.status_code in (400, 409), body
    owner = role(boss, "Owner")
    refused = boss.put(f"/api/roles/{owner}", {"name": "Owner", "rights": ["see"]}, content_type=JSON)
    assert refused.status_code == 409 and "Nobody would be left" in refused.json()["message"]
    assert boss.delete(f"/api/roles/{owner}").status_code == 409
    assert boss.get("/api/me").json()["rights"] == list(Right)


@breadth(0.12, "long ones")
def test_roles_are_made_of_rights_for_all_who_have_them(boss: Person) -> None:
    made = boss.post("/api/roles", {"name": "Night shift", "rights": ["see", "work"]}, content_type=JSON)
    assert made.status_code == 200
    assert boss.post("/api/roles", {"name": "night shift", "rights": []}, content_type=JSON).status_code == 400
    client = Client()
    joined(client, invited(boss, [role(boss, "Night shift")]), "cleo")
    assert client.get("/api/me").json()["rights"] == ["see", "work"]
    body = {"name": "Night shift", "rights": ["see", "release"]}
    boss.put(f"/api/roles/{role(boss, 'Night shift')}", body, content_type=JSON)
    assert client.get("/api/me").json()["rights"] == ["see", "release"]


@breadth(0.12, "long ones")
def test_somebody_is_logged_out_everywhere(boss: Person) -> None:
    get_user_model().objects.create_user("cleo", password=PASSWORD)
    clients = [Client(), Client()]
    assert [log_in(client, "cleo") for client in clients] == [200, 200]
    assert boss.delete(f"/api/staff/{one(boss, 'cleo')['id']}/log-ins").status_code == 200
    assert [client.get("/api/me").status_code for client in clients] == [401, 401]


# -- the second step -------------------------------------------------------------------------------------------------


def code_of(secret: str, steps: int = 0) -> str:
    """What an authenticator shows: RFC 6238 with 30 s, HMAC-SHA-1 and six digits, written from the standard.

    [standard] RFC 6238, section 4; RFC 4226, section 5.3.
    """
    key = base64.b32decode(secret + "=" * (-len(secret) % 8))
    mac = hmac.new(key, struct.pack(">Q", int(time.time()) // 30 + steps), hashlib.sha1).digest()
    at = mac[-1] & 15
    return f"{(struct.unpack('>I', mac[at:at + 4])[0] & 0x7FFFFFFF) % 10**6:06d}"


def test_the_codes_are_those_of_the_standard(monkeypatch: pytest.MonkeyPatch) -> None:
    """[standard] RFC 6238, appendix B: at 59 s the code of eight digits is 94287082, of which six are the last."""
    monkeypatch.setattr(time, "time", lambda: 59.0)
    assert code_of(base64.b32encode(b"12345678901234567890").decode()) == "287082"


def logged_in(client: Client, code: str) -> tuple[int, str]:
    body = {"name": "ada", "password": PASSWORD, "code": code}
    answer = client.post("/api/login", body, content_type=JSON)
    return answer.status_code, answer.json().get("code", "")


def test_a_second_step_is_asked_for_once_it_is_proved_and_put_off_with_the_password(shop: Person) -> None:
    begun = shop.post("/api/me/second-step").json()
    assert begun["picture"].startswith("data:image/svg+xml;base64,")
    assert logged_in(Client(), "")[0] == 200, "it counts when a code of it was given"
    wrong = shop.post("/api/me/second-step/confirm", {"code": "000000"}, content_type=JSON)
    assert wrong.status_code == 400
    from django_otp.plugins.otp_totp.models import TOTPDevice

    TOTPDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    right = shop.post("/api/me/second-step/confirm", {"code": code_of(begun["secret"])}, content_type=JSON)
    assert right.status_code == 200 and len(right.json()["codes"]) == 10
    assert shop.get("/api/me").json()["second_step"]
    assert logged_in(Client(), "") == (401, "wants-code")
    assert logged_in(Client(), code_of(begun["secret"])) == (401, "wants-code"), "a code counts once"
    TOTPDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    assert logged_in(Client(), code_of(begun["secret"], 1))[0] == 200
    spare = right.json()["codes"][0]
    assert logged_in(Client(), spare)[0] == 200
    assert logged_in(Client(), spare) == (401, "wants-code"), "one that was written down counts once too"
    off = "/api/me/second-step/off"
    assert shop.post(off, {"password": "wrong one, this"}, content_type=JSON).status_code == 403
    assert shop.post(off, {"password": PASSWORD}, content_type=JSON).status_code == 200
    assert logged_in(Client(), "")[0] == 200


@breadth(0.12, "long ones")
def test_a_lost_authenticator_is_put_off_by_whoever_manages_people_or_the_machine(boss: Person) -> None:
    for way in ("screen", "command"):
        client = Client()
        assert log_in(client) == 200
        begun = client.post("/api/me/second-step").json()
        code = {"code": code_of(begun["secret"])}
        assert client.post("/api/me/second-step/confirm", code, content_type=JSON).status_code == 200
        assert logged_in(Client(), "")[0] == 401
        if way == "screen":
            assert boss.delete(f"/api/staff/{one(boss, 'ada')['id']}/second-step").status_code == 200
        else:
            call_command("user", "one-step", "ada")
        assert logged_in(Client(), "")[0] == 200, way
