"""Customers: all of them, and each with a page of its own: open work, habits, letters, faults over time."""

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema
from ninja.params.functions import Query

from jobs import models
from jobs.api.bodies import Key, Words
from jobs.api.wants import EDIT_SHELF
from jobs.customer_showing import CustomerRow, CustomerShown, customer_rows, customer_shown
from jobs.store.recipes import drop_habit, say_always

__all__ = ["router"]

router = Router()


class CustomerNamed(Schema):
    """A customer by name."""

    name: Words


class HabitLearnt(CustomerNamed):
    """Whether what people have done alike is always to be done, or never to be offered again."""

    take: bool


class HabitDropped(CustomerNamed):
    """A habit to end: a recipe or line preset by its ``thing``, what a layer or ink is by its ``key``, or what was
    declined, which is offered again.
    """

    thing: Key = ""
    key: Key = ""
    declined: bool = False


@router.get("/customers", response=list[str])
def customers(request: HttpRequest) -> list[str]:
    """The names of all customers of jobs."""
    names = models.Job.objects.exclude(customer="").order_by("customer").values_list("customer", flat=True)
    return list(names.distinct())


@router.get("/customers/all", response=list[CustomerRow])
def overview(request: HttpRequest) -> list[CustomerRow]:
    """All customers with their figures, those with open work first."""
    return customer_rows()


@router.get("/customers/page", response=CustomerShown)
def page(request: HttpRequest, name: str = Query(..., min_length=1, max_length=200)) -> CustomerShown:
    """One customer."""
    return customer_shown(name)


@router.post("/customers/always", response=CustomerShown, auth=EDIT_SHELF)
def always(request: HttpRequest, body: HabitLearnt) -> CustomerShown:
    """Make a habit of what a customer's files were given alike, or decline it."""
    with transaction.atomic():
        say_always(body.name, body.take, request.user.pk)
    return customer_shown(body.name)


@router.post("/customers/drop", response=CustomerShown, auth=EDIT_SHELF)
def drop(request: HttpRequest, body: HabitDropped) -> CustomerShown:
    """End a habit; what it has done to jobs stays."""
    with transaction.atomic():
        drop_habit(body.name, body.thing, body.key, body.declined, request.user.pk)
    return customer_shown(body.name)
