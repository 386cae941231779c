"""The shelf of perforation patterns: cuts and ties under the shop's own names."""

from dataclasses import dataclass, replace
from typing import Annotated

from django.http import HttpRequest
from jobs import models
from jobs.api.common import find
from jobs.store.decisions import may_edit_shelf
from ninja import Router, Schema
from pydantic import Field, StringConstraints

from horismos.cutting import DEFAULT_TOOLS
from horismos.errors import NotPermitted
from horismos.roles import LineRole

__all__ = ["router"]

router = Router()
Length = Annotated[float, Field(gt=0, le=100, allow_inf_nan=False)]


class PatternGiven(Schema):
    """A pattern under its name; one of that name is replaced."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]
    cut_mm: Length
    tie_mm: Length
    tie_force_gf: Annotated[float, Field(ge=0, le=2_000, allow_inf_nan=False)] = 0.0


@dataclass(frozen=True)
class PatternShown:
    """A perforation pattern; lengths in mm, the force in the ties in gf: 0 leaves them whole."""

    id: int
    name: str
    cut_mm: float
    tie_mm: float
    tie_force_gf: float
    who: str


def _all() -> list[PatternShown]:
    return [
        PatternShown(p.pk, p.name, p.cut_mm, p.tie_mm, p.tie_force_gf, p.who.get_username() if p.who else "")
        for p in models.PerforationPattern.objects.select_related("who")
    ]


def _permitted(request: HttpRequest) -> None:
    if not may_edit_shelf(request.user):
        raise NotPermitted("You may not change the Shelf.", "Set the tool for the job alone, in its Cut.")


@router.get("/shelf/patterns", response=list[PatternShown])
def patterns(request: HttpRequest) -> list[PatternShown]:
    """The patterns that the shop has named."""
    return _all()


@router.post("/shelf/patterns", response=list[PatternShown])
def save_pattern(request: HttpRequest, body: PatternGiven) -> list[PatternShown]:
    """Keep a pattern under its name, with the right to."""
    _permitted(request)
    # what no tool can have is refused here and not at the cut
    usual = DEFAULT_TOOLS[LineRole.PERFORATION]
    replace(usual, cut_mm=body.cut_mm, tie_mm=body.tie_mm, tie_force_gf=body.tie_force_gf)
    values = {**body.model_dump(exclude={"name"}), "who_id": request.user.pk}
    models.PerforationPattern.objects.update_or_create(name=body.name, defaults=values)
    return _all()


@router.delete("/shelf/patterns/{pattern_id}", response=list[PatternShown])
def remove_pattern(request: HttpRequest, pattern_id: int) -> list[PatternShown]:
    """Take a pattern off the Shelf; tools that were set by it stay as they are."""
    _permitted(request)
    find(models.PerforationPattern.objects.all(), pattern_id).delete()
    return _all()
