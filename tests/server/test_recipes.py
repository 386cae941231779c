"""Recipes on the Shelf: kept in versions, offered where they fit, run over many jobs, exported and imported."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from jobs import models

from horismos.mending import Recipe
from tests.breadth import breadth
from tests.server.conftest import Person, person, take_in
from tests.server.test_mending import GROUND, JSON, address
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.12, "the shop at work")]
WIDE = [write(Drawing(GROUND + line_in(circle(50, 50, r), width=0.6))) for r in (40, 39)]
CLEAN = write(Drawing(GROUND + line_in(circle(50, 50, 38))))
STEPS = [{"kind": "hairline", "settings": {"role": "kiss-cut"}}, {"kind": "smooth", "settings": {"tolerance_mm": 0.1}}]


def save(shop: Person, **more: object) -> dict:  # type: ignore[type-arg]
    answer = shop.post("/api/recipes", {"name": "Thin lines", "steps": STEPS, **more}, content_type=JSON)
    assert answer.status_code == 200, answer.content
    (recipe,) = answer.json()["recipes"]
    return dict(recipe)


def test_a_recipe_is_kept_in_versions_and_leaves_as_json_and_comes_back(shop: Person) -> None:
    assert save(shop)["version"] == 1
    again = save(shop, steps=STEPS[:1], note="enough so")
    assert again["version"] == 2 and [len(v["steps"]) for v in again["versions"]] == [1, 2]
    assert again["versions"][0]["note"] == "enough so" and again["versions"][0]["who"] == "ada"
    out = shop.get(f"/api/recipes/{again['id']}/export")
    assert "thin-lines" in out["Content-Disposition"]
    assert Recipe.from_json(json.loads(out.content)).to_json() == {
        "name": "Thin lines", "version": 2, "steps": [{"mend": "hairline", "role": "kiss-cut"}],
    }
    read = shop.post("/api/recipes/import", {"file": SimpleUploadedFile("r.json", out.content)}).json()
    assert read["name"] == "Thin lines" and read["steps"][0]["label"] == "Make the kiss cut a hairline"
    bad = shop.post("/api/recipes/import", {"file": SimpleUploadedFile("r.json", b'{"name": "x", "steps": [{}]}')})
    assert bad.status_code == 400 and "no mend" in bad.json()["message"]


def test_a_recipe_that_cannot_be_meant_is_refused_and_who_may_not_may_not(shop: Person) -> None:
    for draft, said in (
        ({"name": "A", "steps": [{"kind": "polish"}]}, "no mend"), ({"name": "A", "steps": []}, "steps"),
        ({"name": "A", "steps": STEPS, "findings": ["line.odd"]}, "no check"),
        ({"name": "A", "steps": [{"kind": "smooth", "settings": {"tolerance_mm": 99}}]}, "0.001 to 2 mm"),
    ):
        answer = shop.post("/api/recipes", draft, content_type=JSON)
        assert answer.status_code in (400, 422) and said in answer.json()["message"]
    other = person("ben")
    assert other.post("/api/recipes", {"name": "A", "steps": STEPS}, content_type=JSON).status_code == 403
    recipe = save(shop)
    assert other.delete(f"/api/recipes/{recipe['id']}").status_code == 403
    assert shop.delete(f"/api/recipes/{recipe['id']}").json()["recipes"] == []
    assert shop.delete(f"/api/recipes/{recipe['id']}").status_code == 409, "it is retired already"
    assert shop.delete("/api/recipes/nothing").status_code == 404


def test_a_recipe_is_offered_where_all_that_it_is_bound_to_fits(shop: Person) -> None:
    wide, clean = take_in(shop, WIDE[0], "a.pdf"), take_in(shop, CLEAN, "b.pdf")
    save(shop, findings=["line.wide"])
    assert [r["name"] for r in shop.get(address(wide)).json()["recipes"]] == ["Thin lines"]
    assert shop.get(address(clean)).json()["recipes"] == []
    save(shop, findings=["line.wide"], customers=["Tern & Tide"])
    assert shop.get(address(wide)).json()["recipes"] == []
    shop.patch(address(wide), {"customer": "Tern & Tide"}, content_type=JSON)
    assert len(shop.get(address(wide)).json()["recipes"]) == 1
    save(shop)  # bound to nothing: it is run, not offered
    assert shop.get(address(wide)).json()["recipes"] == []


def test_a_recipe_runs_over_many_jobs_and_one_does_not_hold_up_the_others(shop: Person) -> None:
    jobs = [take_in(shop, data, f"{i}.pdf") for i, data in enumerate([*WIDE, CLEAN])]
    recipe = save(shop)
    seen = [{"id": job["id"], "version": job["version"]} for job in jobs]
    seen[1]["version"] += 7
    body = {"jobs": [*seen, {"id": 999, "version": 1}]}
    answer = shop.post(f"/api/recipes/{recipe['id']}/run", body, content_type=JSON)
    said = answer.json()
    assert [bool(one["work"]) for one in said] == [True, False, True, False]
    assert "changed after you had looked" in said[1]["why"] and "no job 999" in said[3]["why"]
    first, second, third = (shop.get(address(job)).json() for job in jobs)
    assert first["revision"] == 2 and first["revisions"][1]["said"].startswith("Recipe “Thin lines”, version 1: ")
    assert [s["kind"] for s in first["revisions"][1]["steps"]] == ["hairline"]
    (skipped,) = models.Work.objects.get(pk=said[0]["work"]["id"]).result["skipped"]
    assert "Smooth" in skipped["label"]
    assert second["revision"] == 1 and third["revision"] == 1
    assert "changed nothing" in models.Work.objects.get(pk=said[2]["work"]["id"]).error
    assert not any(f["id"] == "line.wide" for f in first["findings"])
