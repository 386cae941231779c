"""The cut follows its print: written anew for where that lies, with what the checks find at the scale that it has."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import pikepdf

from horismos.artwork.edit import save
from horismos.artwork.read import open_pdf, read_bytes
from horismos.checking import CheckInputs, CheckSheet, check_whole
from horismos.orders import Order
from horismos.paths.box import placed
from horismos.paths.matrix import multiply, scale
from horismos.release.following import Followed, Released, RipReport, follow
from horismos.release.following.landing import landing_of
from horismos.release.following.one_piece import one_piece
from horismos.sheet.layout import Makes
from horismos.units import MM_PER_POINT, user_unit_for

__all__ = ["FollowedChecked", "as_it_came", "followed", "found_at"]

Progress = Callable[[float, str], None]


@dataclass(frozen=True, eq=False)
class FollowedChecked:
    """A cut that follows its print, and the ids of the checks that find something at its scale and did not before."""

    followed: Followed
    findings: tuple[str, ...]

    def to_json(self) -> dict[str, Any]:
        """What came of it, as plain values."""
        report = self.followed.report
        return {
            "files": [
                {"name": one.name, "repeat": one.repeat, "contours": one.contours} for one in self.followed.files
            ],
            "turn_deg": report.turn_deg, "scale": report.scale_said, "refused": None,
            "findings": list(self.findings), "worst_off_mm": round(self.followed.worst_off_mm, 4),
        }


def followed(
    released: Released, report: RipReport, progress: Progress = lambda share, what: None
) -> FollowedChecked:
    """The cut that follows what a RIP reports, checked at the scale that was printed. Raises as ``follow``."""
    made = follow(released, report, lambda share, what: progress(share * 0.6, what))
    progress(0.6, "checking what was printed")
    return FollowedChecked(made, found_at(released, report.scale))


def as_it_came(released: Released, report: RipReport, repeat: int) -> bytes:
    """The print PDF of a repeat as it lies on the media: what the simulated machines print, look at and cut."""
    size = float(released.ticket["sheet"]["width_mm"]), float(released.ticket["sheet"]["length_mm"])
    landing = landing_of(report, size)
    high = placed((0.0, 0.0, *size), landing.of(repeat))[3]
    media = max(float(released.material.width_mm), 1.0), max(high, 1.0)
    with open_pdf(released.print_pdf) as pdf:
        page: Any = pdf.pages[0].obj
        k = 1 / (MM_PER_POINT * float(page.get("/UserUnit", 1)))
        unit = user_unit_for(max(media))
        in_mm = (1 / k, 0.0, 0.0, 1 / k, 0.0, 0.0)
        on_page = multiply(multiply(in_mm, landing.of(repeat)), scale(1 / (MM_PER_POINT * unit)))
        contents = page.Contents
        listed = list(contents) if isinstance(contents, pikepdf.Array) else [contents]
        begin = pdf.make_stream(f"q {' '.join(f'{v:.9f}' for v in on_page)} cm\n".encode())
        page.Contents = pikepdf.Array([begin, *listed, pdf.make_stream(b"\nQ")])
        box = pikepdf.Array([0, 0, *(side / (MM_PER_POINT * unit) for side in media)])
        page.MediaBox = page.BleedBox = page.TrimBox = box
        page.UserUnit = unit
        return save(pdf)


def found_at(released: Released, scale: tuple[float, float]) -> tuple[str, ...]:
    """The ids of the checks that find something at a scale, and nothing at that of the order; none at 100 %.

    Each piece is checked as the order asks for it, once as it was released and once as it was printed.
    """
    if scale == (1.0, 1.0) or not Makes(released.ticket["makes"]).prints:
        return ()
    jobs: dict[str, Mapping[str, Any]] = {job["job"]: job for job in released.ticket["jobs"]}
    first = next(iter(jobs.values()), {})
    places = [placement["piece"] for placement in released.ticket["placements"]]
    known, new = set(released.ticket["looks"]), dict[str, None]()
    for number, piece in enumerate(released.ticket["pieces"]):
        if number not in places:
            continue
        said = jobs.get(piece["job"], first)
        terms = CheckInputs(
            Order.from_json(said["order"]), released.destination, CheckSheet.from_json(said["check_sheet"]),
            released.material,
        )
        size = float(piece["size_mm"][0]), float(piece["size_mm"][1])
        before, after = (
            _found(one_piece(released.print_pdf, places.index(number), number, size, at), terms)
            for at in ((1.0, 1.0), scale)
        )
        new |= dict.fromkeys(id for id in after if id not in before and id not in known)
    return tuple(new)


def _found(pdf: bytes, terms: CheckInputs) -> list[str]:
    return [finding.id for finding in check_whole(read_bytes(pdf), terms).report.findings]
