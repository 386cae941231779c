"""Every address of the API, and the right that it wants: asked of somebody with each right alone, and with none."""

import re

import pytest
from django.test import Client
from jobs.store.rights import ROLES, Right
from shop.api import api

from tests.breadth import breadth
from tests.server.conftest import Person, person

pytestmark = pytest.mark.django_db
JSON = "application/json"
OPEN, ANYBODY = "open", "logged in"
WANTED = {
    OPEN: """
        GET /join; POST /join; POST /login
    """,
    ANYBODY: """
        DELETE /me/log-ins/{log_in_id}; GET /me; GET /me/log-ins; GET /shop; PATCH /me; POST /logout; POST
        /me/password;
        POST /me/second-step; POST /me/second-step/confirm; POST /me/second-step/off
    """,
    "see": """
        GET /bench; GET /bench/{release_id}/bed; GET /bench/{release_id}/files/{name}; GET
        /bench/{release_id}/plates/{sha256}; GET /bench/{release_id}/play; GET /bench/{release_id}/printed; GET
        /bench/{release_id}/sheet; GET /bench/{release_id}/sights/{sha256}; GET /bench/{release_id}/stick; GET
        /bench/{release_id}/test-cut/{role}; GET /bench/{release_id}/under; GET /customers; GET /jobs; GET
        /jobs/counts;
        GET /alike; GET /alike/group; GET /customers/all; GET /customers/page; GET /figures; GET /figures/{which}.csv;
        GET /jobs/{job_id}/proof.pdf; GET /letters; GET /letters/{letter_id}/files/{name}; GET
        /letters/{letter_id}/message.eml;
        GET /jobs/{job_id}; GET /jobs/{job_id}/amounts; GET /jobs/{job_id}/apart; GET /jobs/{job_id}/at; GET
        /jobs/{job_id}/edges; GET /jobs/{job_id}/evidence/{key}; GET /jobs/{job_id}/fits; GET
        /jobs/{job_id}/glance; GET
        /jobs/{job_id}/landing; GET /jobs/{job_id}/letter.pdf; GET /jobs/{job_id}/pages/{number}; GET
        /jobs/{job_id}/picture; GET /jobs/{job_id}/plates; GET /jobs/{job_id}/rehearsal/worst; GET
        /jobs/{job_id}/report.pdf; GET /jobs/{job_id}/section; GET /jobs/{job_id}/stack/drawn; GET /people; GET
        /at-the-cutter/{code}; GET /at-the-cutter/package/{release_id}; GET /queues; GET /recipes; GET
        /recipes/{recipe_id}/export; GET /running; GET /shared-sheets; GET
        /shared-sheets/{sheet_id}; GET
        /shared-sheets/{sheet_id}/fits; GET /shared-sheets/{sheet_id}/rehearsal/worst; GET /sheets; GET
        /sheets/export;
        GET /shelf; GET /shelf/examples; GET /shelf/kinds; GET /shelf/things; GET /shelf/things/{thing_id}; GET
        /shelf/tools; GET /stacks; GET /stacks/{stack_id}; GET /stacks/{stack_id}/files/{name}; GET
        /stacks/{stack_id}/sewn; GET /stacks/{stack_id}/stick; GET /threads; GET /works; GET /works/{work_id}; POST
        /jobs/{job_id}/here; POST /jobs/{job_id}/letter; POST /jobs/{job_id}/making; POST /jobs/{job_id}/making/check;
        POST /jobs/{job_id}/making/section; POST /jobs/{job_id}/stack/section; POST /jobs/{job_id}/stack/shown
    """,
    "take-in": """
        POST /alike/answer; POST /jobs; POST /jobs/{job_id}/answers; POST /jobs/{job_id}/file; POST
        /jobs/{job_id}/like; POST /jobs/{job_id}/repeat; POST /queues/cutter/{id}/cut-again
    """,
    "work": """
        DELETE /jobs/{job_id}/decisions/{key}; DELETE /shared-sheets/{sheet_id}; PATCH /shared-sheets/{sheet_id}; POST
        /bench/{release_id}/dry; POST /bench/{release_id}/hand-over; POST /bench/{release_id}/load; POST
        /bench/{release_id}/mark; POST /bench/{release_id}/origin; POST /bench/{release_id}/pointer; POST
        /bench/{release_id}/marks-said; POST /bench/{release_id}/begin; POST /bench/{release_id}/known; POST
        /bench/{release_id}/off; POST
        /queues/{which}/{id}/move; POST /queues/{which}/{id}/hold; POST /queues/{which}/{id}/cancel; POST
        /queues/rip/{id}/again; POST /queues/cutter/{id}/early; POST /queues/cutter/{id}/laminated; POST
        /queues/cutter/{id}/spoilt; POST
        /bench/{release_id}/rip; POST /bench/{release_id}/scan; POST /bench/{release_id}/stood; POST
        /bench/{release_id}/test-cut; POST /jobs/{job_id}/decisions; POST /jobs/{job_id}/mends; POST
        /jobs/{job_id}/mends/as-before; POST /jobs/{job_id}/mends/safe; POST /jobs/{job_id}/nest; POST
        /jobs/{job_id}/previews; POST /jobs/{job_id}/rehearse; POST /jobs/{job_id}/revisions/{number}/take; POST
        /jobs/{job_id}/shelf; POST /jobs/{job_id}/stack; POST /jobs/{job_id}/stack/test; POST
        /jobs/{job_id}/stack/test/file; POST /jobs/{job_id}/undo; POST /recipes/{recipe_id}/run; POST
        /alike/accept; POST /alike/lines; POST /alike/mend; POST /alike/printed; POST
        /jobs/{job_id}/letters; POST /jobs/{job_id}/proofs; POST /jobs/{job_id}/redo; POST
        /letters/{letter_id}/answer;
        POST /shared-sheets;
        POST /shared-sheets/{sheet_id}/nest; POST /shared-sheets/{sheet_id}/rehearse; POST /sheets/try; POST
        /shelf/letter/try; POST /shelf/media/{media_id}/load; POST /shelf/names/try; POST /shelf/cutter/try; POST
        /shelf/try; POST
        /shelf/tools/seen; POST /stacks/{stack_id}/anew; POST /stacks/{stack_id}/cut; POST /stacks/{stack_id}/origin
    """,
    "take-in or work": """
        PATCH /jobs/{job_id}; POST /works/{work_id}/cancel
    """,
    "release": """
        POST /jobs/{job_id}/release; POST /jobs/{job_id}/stack/write; POST /shared-sheets/{sheet_id}/release
    """,
    "edit-shelf": """
        DELETE /recipes/{recipe_id}; DELETE /shelf/media/{media_id}; DELETE /shelf/things/{thing_id}; GET
        /shelf/export;
        PATCH /shop; POST /customers/always; POST /customers/drop; POST
        /jobs/{job_id}/always; POST /recipes; POST /recipes/import; POST /sheets; POST /sheets/import;
        POST /shelf/examples; POST
        /shelf/import; POST /shelf/import/look; POST /shelf/media; POST /shelf/names-in-file; POST /shelf/things; POST
        /shelf/things/{thing_id}/retire; POST /shelf/things/{thing_id}/usual; POST /shelf/tools; PUT
        /shelf/things/{thing_id}
    """,
    "manage-people": """
        DELETE /invites/{invite_id}; DELETE /roles/{role_id}; DELETE /staff/{person_id}/log-ins; DELETE
        /staff/{person_id}/second-step; GET /staff; PATCH /staff/{person_id}; POST /invites; POST /roles; PUT
        /roles/{role_id}
    """,
    "manage-people or edit-shelf": """
        GET /log; GET /log/export
    """,
}
"""By what is wanted; “or” where one of two is enough."""
ADDRESSES = {
    f"{way} {path}": wanted
    for wanted, text in WANTED.items() for way, path in re.findall(r"([A-Z]+)\s+(/[^\s;]+)", text)
}


def declared() -> set[str]:
    """Every address, as the document of the API has it."""
    paths = api.get_openapi_schema()["paths"]
    return {f"{way.upper()} {path.removeprefix('/api')}" for path, ways in paths.items() for way in ways}


def asked(client: Client, address: str) -> int:
    """What comes of asking, about things that are not there and without a body."""
    way, path = address.split(" ")
    at = re.sub(r"\{\w+\}", "99999", f"/api{path}")
    return int(client.generic(way, at, b"{}", JSON).status_code)


def suffices(wanted: str, rights: tuple[Right, ...]) -> bool:
    return wanted in (OPEN, ANYBODY) or any(right in rights for right in wanted.split(" or "))


def test_the_table_names_every_address_and_no_other() -> None:
    assert declared() == set(ADDRESSES), declared() ^ set(ADDRESSES)


@breadth(1.0)
@pytest.mark.parametrize("rights", [(), *ROLES.values()], ids=lambda one: "+".join(one))
def test_every_address_lets_in_who_has_the_right_and_nobody_else(shop: Person, rights: tuple[Right, ...]) -> None:
    lets_in(rights)


@breadth(0.12, "long ones")
@pytest.mark.parametrize("right", Right)
def test_a_right_alone_is_enough_where_it_is_wanted_and_nowhere_else(shop: Person, right: Right) -> None:
    lets_in((right,))


def lets_in(rights: tuple[Right, ...]) -> None:
    somebody = person("somebody", rights=rights)
    somebody.works = False
    for address, wanted in ADDRESSES.items():
        if address in ("POST /logout", "POST /shelf/examples", "POST /join"):
            continue  # what they change would change what is asked next
        status = asked(somebody, address)
        if suffices(wanted, rights):
            assert status not in (401, 403) or wanted == OPEN, (address, status)
        else:
            assert status == 403, (address, status)


def test_nobody_who_is_not_logged_in_is_let_in(shop: Person) -> None:
    stranger = Client()
    for address, wanted in ADDRESSES.items():
        if wanted != OPEN:
            assert asked(stranger, address) == 401, address


@breadth(0.12, "long ones")
def test_of_a_job_who_takes_in_says_the_order_and_who_works_the_rest(shop: Person) -> None:
    from tests.server.conftest import take_in
    from tests.shapes import Drawing, circle, line_in, write

    job = take_in(shop, write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40)))))
    desk = person("desk", rights=ROLES["Front desk"])
    at = f"/api/jobs/{job['id']}"
    said = desk.patch(at, {"order": {"quantity": 9}, "version": job["version"]}, content_type=JSON)
    assert said.status_code == 200 and said.json()["order"]["quantity"] == 9
    refused = desk.patch(at, {"material": "film-610", "version": said.json()["version"]}, content_type=JSON)
    assert refused.status_code == 403 and "may not mend" in refused.json()["message"]
    assert desk.get(at).json()["material_id"] == "film-1370"
