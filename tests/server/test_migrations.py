"""A shop that has run before keeps what it had: what migrations do to what is kept."""

from collections.abc import Callable, Iterator

import pytest
from django.apps.registry import Apps
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.db.migrations.loader import MigrationLoader

from tests.breadth import breadth

pytestmark = pytest.mark.django_db(transaction=True)
To = Callable[[str], Apps]


@pytest.fixture()
def at() -> Iterator[To]:
    """Takes the database to a migration of jobs, and back to the newest one in the end."""

    def one_by_one() -> MigrationExecutor:
        executor = MigrationExecutor(connection)
        executor.loader = MigrationLoader(connection, replace_migrations=False)
        return executor

    def go(name: str) -> Apps:
        executor = one_by_one()
        executor.migrate([("jobs", name)])
        return executor.loader.project_state([("jobs", name)]).apps

    yield go
    executor = one_by_one()
    executor.migrate(executor.loader.graph.leaf_nodes())


def a_job(apps: Apps, **order: object):  # type: ignore[no-untyped-def]
    get = apps.get_model
    destination, _ = get("jobs", "Destination").objects.get_or_create(id="house", defaults={"title": "House"})
    material, _ = get("jobs", "Material").objects.get_or_create(
        id="film-1370", defaults={"title": "Film", "width_mm": 1370}
    )
    job = get("jobs", "Job").objects.create(name="Seals", destination=destination, material=material)
    get("jobs", "Order").objects.create(job=job, data=order)
    return job


@breadth(0.12, "long ones")
def test_a_limit_that_nobody_had_said_is_forgotten_and_any_other_kept(at: To) -> None:
    apps = at("0004_check")
    job = a_job(apps, quantity=4, bleed_mm=3.0, border_mm=2.0, tolerance_mm=0.5)
    apps.get_model("jobs", "Customer").objects.create(name="Dune Press", order={"bleed_mm": 5.0, "border_mm": 1.5})
    apps = at("0005_said_nothing")
    assert apps.get_model("jobs", "Order").objects.get(job_id=job.pk).data == {"quantity": 4, "border_mm": 2.0}
    assert apps.get_model("jobs", "Customer").objects.get().order == {"bleed_mm": 5.0}


@breadth(0.12, "long ones")
def test_decisions_and_findings_are_still_there_under_their_new_names(at: To) -> None:
    apps = at("0005_said_nothing")
    job = a_job(apps)
    apps.get_model("jobs", "Decision").objects.create(job=job, what="Took in seal.pdf")
    mend = {"kind": "rename", "label": "Rename to Kiss Cut", "says": "Writes.", "ink": "Kis Cut", "to": "Kiss Cut"}
    finding = {"id": "ink.near-name", "key": "k1", "message": "Near.", "mends": [mend]}
    apps.get_model("jobs", "Analysis").objects.create(job=job, key="k", report={"findings": [finding]})
    apps = at("0006_names")
    assert apps.get_model("jobs", "LogEntry").objects.get(job_id=job.pk).what == "Took in seal.pdf"
    row = apps.get_model("jobs", "Analysis").objects.get(job_id=job.pk)
    (card,), (kept,) = row.cards, row.report["findings"]
    assert card["mends"] == [{
        "kind": "rename", "label": "Rename to Kiss Cut", "says": "Writes.",
        "settings": {"ink": "Kis Cut", "to": "Kiss Cut"},
    }]
    assert kept == {"id": "ink.near-name", "key": "k1", "message": "Near.", "inks": ["Kis Cut"], "wanted": ["Kiss Cut"]}


@breadth(0.12, "long ones")
def test_the_newest_state_is_what_the_models_say(at: To) -> None:
    at("0004_check")
    ((_, newest),) = MigrationExecutor(connection).loader.graph.leaf_nodes("jobs")
    at(newest)
    executor = MigrationExecutor(connection)
    plan = executor.migration_plan(executor.loader.graph.leaf_nodes())
    assert not [one for one, _ in plan if one.app_label == "jobs"]


@breadth(0.12, "long ones")
def test_what_lay_on_the_shelf_before_there_were_things_is_there_with_its_versions(at: To) -> None:
    apps = at("0027_stamps")
    get = lambda name: apps.get_model("jobs", name).objects  # noqa: E731
    for kind, id in (("printer", "rip"), ("cutter", "cutter")):
        get("Machine").create(id=id, kind=kind, title=id.upper(), data={})
    house = get("Destination").create(
        id="house", title="House", names={"kiss-cut": "Half"}, printer_id="rip", cutter_id="cutter",
    )
    strata = [{"kind": "film", "thickness_um": 80}]
    film = get("Material").create(id="film", title="Film", width_mm=1370, data={"strata": strata}, price_m2=6.5)
    job = get("Job").create(name="Seals", destination=house, material=film)
    get("Media").create(material=film, title="Roll", width_mm=1370)
    for number, force in ((1, 90.0), (2, 80.0)):
        get("ShopTool").create(
            destination=house, material=film, role="kiss-cut", number=number, seen="right" if number == 2 else "",
            data={"number": 1, "force_gf": force, "speed_mm_s": 400.0}, confirmed=number == 1,
        )
    get("PerforationPattern").create(name="Stamp edge", cut_mm=2, tie_mm=0.4)
    recipe = get("Recipe").create(name="Thin lines")
    get("RecipeVersion").create(recipe=recipe, number=1, steps=[{"mend": "hairline"}], bound={"customers": ["Dune"]})
    sheet = get("CheckSheet").create(scope="material", subject="film")
    for number, limit in ((1, 2.0), (2, 2.5)):
        get("CheckSheetVersion").create(sheet=sheet, number=number, data={"limits": {"edge.bleed": limit}})
    get("LogEntry").create(job=job, what="Took in seals.pdf")
    apps = at("0028_shelf_items")
    items = {item.pk: item for item in apps.get_model("jobs", "ShelfItem").objects.all()}
    assert {(item.kind, id) for id, item in items.items()} == {
        ("printer", "rip"), ("cutter", "cutter"), ("destination", "house"), ("material", "film"),
        ("tool", "kiss-cut-film-house"), ("perforation", "stamp-edge"), ("recipe", "thin-lines"),
        ("check-sheet", "checks-film"),
    }
    assert items["house"].data["names"] == {"kiss-cut": "Half"} and items["film"].data["price_m2"] == 6.5
    tool, second = items["kiss-cut-film-house"], apps.get_model("jobs", "ShelfVersion").objects
    assert (tool.number, tool.data["force_gf"], tool.data["passed"]) == (2, 80.0, True)
    kept = second.filter(item=tool.pk).order_by("number")
    assert [(one.about["seen"], one.about["confirmed"]) for one in kept] == [("", True), ("right", False)]
    assert items["checks-film"].data["limits"] == {"edge.bleed": 2.5} and items["checks-film"].number == 2
    assert items["thin-lines"].data["customers"] == ["Dune"]
    job = apps.get_model("jobs", "Job").objects.get(pk=job.pk)
    assert (job.destination_id, job.material_id, job.material.title) == ("house", "film", "Film")
    entry = apps.get_model("jobs", "LogEntry").objects.get()
    assert (entry.topic, entry.about) == ("job", "Seals")
    assert apps.get_model("jobs", "Media").objects.get().material_id == "film"


@breadth(0.12, "long ones")
def test_jobs_lie_in_the_groups_that_theirs_are_called_now(at: To) -> None:
    apps = at("0028_shelf_items")
    item = apps.get_model("jobs", "ShelfItem").objects
    house, film = item.create(id="house", kind="destination"), item.create(id="film", kind="material")
    jobs = apps.get_model("jobs", "Job").objects
    for state in ("asks", "coming", "stopped", "to-look-at", "ready", "released"):
        jobs.create(name=state, destination=house, material=film, state=state)
    found = at("0029_pile").get_model("jobs", "Job").objects.order_by("pk").values_list("state", flat=True)
    assert list(found) == ["answer", "coming", "mend", "look", "ready", "released"]
