"""Fills the demo shop: made-up customers, orders and artwork."""

from datetime import date, timedelta

from django.contrib.auth import get_user_model
from django.contrib.auth.models import Group
from django.db import transaction
from django.utils import timezone
from jobs import models
from jobs.store.files import keep
from jobs.store.queue import begin
from jobs.store.shelf_changes import keep_item

from demo import NAME, PASSWORD, draw
from horismos.shelf import Kind

CUSTOMER = "Saltmarsh Trust"

PRICES = {"film-1370": 6.4, "film-610": 6.9, "floor-1370": 11.8, "clear-1067": 8.2, "twill-1500": 9.5}
"""Made up, a square metre."""
MEDIA = (
    ("film-1370", "White film", 1370, 24_500, True, ""),
    ("film-1370", "Offcut 1370 × 640 mm", 1370, 640, False, "the sheet of “Autumn opening hours”"),
    ("clear-1067", "Clear film", 1067, 8_200, True, ""),
)
"""Made up: rolls that are in use, and what is left of a sheet."""

JOBS = (
    ("Wader trail", draw.wader_trail, "pdf", "floor-1370", 1,
     {"width_mm": 309, "height_mm": 309, "quantity": 8,
      "roles": ["kiss-cut", "through-cut"], "edge": "bleed"}),
    ("Tide clock", draw.tide_clock, "pdf", "clear-1067", 4,
     {"width_mm": 224, "height_mm": 224, "quantity": 3, "roles": ["through-cut"], "edge": "border",
      "border_mm": 6, "seen": "through", "white": True}),
    ("Seed packet seals", draw.seed_seals, "pdf", "film-610", 3,
     {"width_mm": 118, "height_mm": 82, "quantity": 40,
      "roles": ["kiss-cut", "perforation"], "edge": "bleed"}),
    ("Tern door stickers", draw.tern_stickers, "pdf", "film-1370", 2,
     {"width_mm": 102, "height_mm": 102, "quantity": 24,
      "roles": ["kiss-cut", "through-cut"], "edge": "bleed"}),
    ("Young warden badges", draw.warden_badge, "png", "film-1370", 5,
     {"width_mm": 58, "height_mm": 58, "quantity": 120, "roles": ["kiss-cut"], "edge": "border"}),
    ("Boardwalk panels", draw.boardwalk_panel, "pdf", "film-1370", 9,
     {"width_mm": 2400, "height_mm": 700, "quantity": 2, "roles": ["through-cut", "back-cut"], "edge": "bleed"}),
    ("Volunteer tabards", draw.tabard_emblem, "pdf", "twill-1500", 12,
     {"width_mm": 190, "height_mm": 140, "quantity": 30, "roles": ["kiss-cut"], "edge": "border"}),
)


def _stock() -> None:
    """Prices, rolls and an offcut on the Shelf."""
    for material, price in PRICES.items():
        item = models.ShelfItem.objects.get(pk=material)
        keep_item(Kind.MATERIAL, material, item.title, {**item.data, "price_m2": price}, None, "What it costs")
    for material, title, width, length, roll, left_by in MEDIA:
        models.Media.objects.get_or_create(
            material_id=material, title=title, width_mm=width, length_mm=length, roll=roll, left_by=left_by
        )


def _habits() -> None:
    """How the shop makes a line that is missing, and where letters to its customer go."""
    keep_item(Kind.LINES, None, "Kiss cut, 2 mm round the art", {"lines": [{"role": "kiss-cut", "offset_mm": 2}]}, None,
              "As it is made most often")
    keep_item(Kind.CUSTOMER, None, CUSTOMER, {"write_to": "art@saltmarsh-trust.example"}, None, "Said on the phone")


@transaction.atomic
def fill() -> bool:
    """Write the demo user and jobs, once; whether that was now."""
    users = get_user_model().objects
    if not users.filter(username=NAME).exists():
        users.create_user(NAME, password=PASSWORD).groups.set(Group.objects.filter(name="Owner"))
    if models.Job.objects.exists():
        return False
    _stock()
    _habits()
    for name, artwork, suffix, material, days, order in JOBS:
        file_name = f"{name.lower().replace(' ', '-')}.{suffix}"
        job = models.Job.objects.create(
            name=name, customer=CUSTOMER, due=date.today() + timedelta(days=days),
            original=keep(artwork()), original_name=file_name, intake={"order_kept": True},
            destination_id="house", material_id=material,
        )
        models.Order.objects.create(job=job, data=order)
        models.Job.objects.filter(pk=job.pk).update(created=timezone.now() - timedelta(hours=2))
        begin(job, models.WorkKind.TAKE_IN)
    return True
