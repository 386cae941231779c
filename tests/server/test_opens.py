"""A file is opened once in a task, and its lines are looked for once. The figures of a task are printed with -s."""

from collections import Counter
from collections.abc import Iterator

import pikepdf
import pypdfium2
import pytest
from django.test import Client
from jobs import models
from jobs.store import cases
from worker.tasks import carry_out

from horismos.artwork import lines
from tests.server.conftest import take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = pytest.mark.django_db(transaction=True)
MISS = write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40)), inks={"K": "Kis Cut"}))


@pytest.fixture()
def counted(monkeypatch: pytest.MonkeyPatch) -> Iterator[Counter[str]]:
    """How often a PDF was opened, by whom, and how often the lines of a page were looked for."""
    counts: Counter[str] = Counter()
    opened, drawn, found = pikepdf.open, pypdfium2.PdfDocument.__init__, lines._found

    def count(what: str, call):  # type: ignore[no-untyped-def]
        def counting(*args, **options):  # type: ignore[no-untyped-def]
            counts[what] += 1
            return call(*args, **options)

        return counting

    monkeypatch.setattr(pikepdf, "open", count("opened to be read", opened))
    monkeypatch.setattr(pypdfium2.PdfDocument, "__init__", count("opened to be drawn", drawn))
    monkeypatch.setattr(lines, "_found", count("passes over lines", found))
    cases._artworks.clear()
    yield counts
    print(dict(counts))


def test_taking_a_file_in_opens_it_once_to_read_it(shop: Client, counted: Counter[str]) -> None:
    job = take_in(shop, MISS)
    assert job["stops"] == 1
    assert counted["passes over lines"] == 1
    assert counted["opened to be read"] == 3, "to be read, to part art from lines, for the colours of its inks"
    assert counted["opened to be drawn"] <= 3, "art for the order, art for the check, the colours of the inks"


def test_looking_at_it_again_opens_nothing_to_read(shop: Client, counted: Counter[str]) -> None:
    job = take_in(shop, MISS)
    counted.clear()
    work = models.Work.objects.create(job_id=job["id"], kind="analyse")
    carry_out.func(work.pk)
    assert counted["passes over lines"] == 0 and counted["opened to be read"] == 0


def test_a_mend_reads_the_new_file_once_and_the_old_one_not_again(shop: Client, counted: Counter[str]) -> None:
    job = take_in(shop, MISS)
    counted.clear()
    mend = job["findings"][0]["mends"][0]
    shop.post(f"/api/jobs/{job['id']}/mends", mend, content_type="application/json")
    assert shop.get(f"/api/jobs/{job['id']}").json()["stops"] == 0
    assert counted["passes over lines"] == 1
    assert counted["opened to be read"] <= 6, "to write the new one; it, its art, its inks; the pixels of both"
