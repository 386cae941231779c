"""Fills the demo shop: made-up customers, orders and artwork."""

from datetime import date, timedelta

from django.contrib.auth import get_user_model
from django.db import transaction
from jobs import models
from jobs.files import keep
from jobs.tasks import begin

from demo import draw

NAME, PASSWORD = "demo", "tern-and-tideway"
CUSTOMER = "Saltmarsh Trust"

JOBS = (
    ("Wader trail", draw.wader_trail, "floor-1370", 1,
     {"width_mm": 309, "height_mm": 309, "quantity": 8,
      "roles": ["kiss-cut", "through-cut"], "edge": "bleed"}),
    ("Seed packet seals", draw.seed_seals, "film-610", 3,
     {"width_mm": 118, "height_mm": 82, "quantity": 40,
      "roles": ["kiss-cut", "perforation"], "edge": "bleed"}),
    ("Tern door stickers", draw.tern_stickers, "film-1370", 2,
     {"width_mm": 102, "height_mm": 102, "quantity": 24,
      "roles": ["kiss-cut", "through-cut"], "edge": "bleed"}),
)


@transaction.atomic
def fill() -> None:
    """Write the demo user and jobs, once."""
    users = get_user_model().objects
    if not users.filter(username=NAME).exists():
        users.create_user(NAME, password=PASSWORD)
    if models.Job.objects.exists():
        return
    for name, artwork, material, days, order in JOBS:
        job = models.Job.objects.create(
            name=name, customer=CUSTOMER, due=date.today() + timedelta(days=days),
            destination=models.Destination.objects.get(pk="house"),
            material=models.Material.objects.get(pk=material),
        )
        models.Order.objects.create(job=job, data=order)
        job.revision = models.Revision.objects.create(
            job=job, number=1, sha256=keep(artwork()), file_name=f"{name.lower().replace(' ', '-')}.pdf"
        )
        job.save()
        begin(job, "analyse")
