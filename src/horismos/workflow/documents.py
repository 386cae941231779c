"""The papers of a job: the letter to the customer and the preflight report."""

import hashlib
from collections.abc import Sequence
from dataclasses import replace

from horismos.artwork.lines import lines_by_role
from horismos.artwork.sorting import colour_on_white
from horismos.checking import Report
from horismos.checking.engine.decisions import settled
from horismos.cutting.depth import tools_for
from horismos.errors import BadValue
from horismos.paths.box import common, grow
from horismos.rendering.composite import MAX_PIXELS, PageView
from horismos.reporting.evidence import Evidence
from horismos.reporting.letter import Letter, write_letter
from horismos.reporting.proof import PROOF_PPI, Proof, proof_pdf
from horismos.reporting.proof_texts import say as say_of_proof
from horismos.reporting.report import About, by_keys, letter_pdf, report_pdf
from horismos.roles import LineRole
from horismos.units import in_inches
from horismos.workflow.case import Case

__all__ = ["evidence_of", "letter_of", "letter_pdf_of", "preflight_pdf", "proof_of", "proof_words"]


def evidence_of(case: Case, page_number: int | None = None) -> Evidence:
    """The pictures of findings on a page of a case, the case's own where none is named; to be closed by the caller."""
    page = case.page if page_number is None else case.artwork.pages[page_number - 1]
    return Evidence(case.artwork, page, case.destination)


def letter_of(case: Case, report: Report, keys: Sequence[str], inches: bool = False) -> Letter:
    """The letter from chosen findings, lengths in mm or inches. Raises BadValue where none of them is there."""
    findings = by_keys(report, keys)
    if not findings:
        raise BadValue("Choose at least one finding for the letter.")
    facts = case.facts
    letter = write_letter(findings, facts.name, facts.file_name, facts.customer, facts.shop, facts.texts)
    if not inches:
        return letter
    items = (replace(item, wrong=in_inches(item.wrong), change=in_inches(item.change)) for item in letter.items)
    return replace(letter, items=tuple(items))


def letter_pdf_of(case: Case, report: Report, keys: Sequence[str], inches: bool = False) -> bytes:
    """The same as PDF, with pictures."""
    written = letter_of(case, report, keys, inches)
    with evidence_of(case) as pictures:
        return letter_pdf(written, pictures)


def preflight_pdf(case: Case, report: Report) -> bytes:
    """The preflight report as PDF: every finding, and every decision on it."""
    facts = case.facts
    about = About(
        job=facts.name, customer=facts.customer, file_name=facts.file_name, original_sha256=facts.original_sha256,
        sha256=hashlib.sha256(case.artwork.data).hexdigest(), revision=facts.revision, size_mm=case.page.size_mm,
        order=case.order, material=case.material.title if case.material else "not said",
        destination=case.destination.title, checked=facts.when, shop=facts.shop
    )
    with evidence_of(case) as pictures:
        return report_pdf(about, report, settled(report, case.decisions), pictures)


ROUND_MM = 3.0
"""[ours] of the paper round a finished piece, so that its bleed is seen."""


def proof_of(case: Case, changed: Sequence[str]) -> bytes:
    """A proof to sign, as PDF; ``changed`` is what was done to the file, in sentences."""
    page, lines, facts = case.page, case.lines, case.facts
    trim = page.boxes.trim
    area = common(grow(trim, max(ROUND_MM, case.terms.edge.bleed)), page.boxes.media) or trim
    ppi = min(PROOF_PPI, PageView.overview_ppi(replace(page.boxes, media=area), MAX_PIXELS // 8))
    with PageView.of_art(colour_on_white(case.artwork, page, lines, case.destination), page) as view:
        art = view.render(area, ppi)
    tool = {**tools_for(case.media), **case.shop_tools, **case.tools}[LineRole.PERFORATION]
    ordered = case.order.roles or ()
    return proof_pdf(Proof(
        job=facts.name, customer=facts.customer, file_name=facts.file_name, revision=facts.revision,
        sha256=hashlib.sha256(case.artwork.data).hexdigest(), size_mm=page.size_mm, quantity=case.order.quantity,
        material=case.material.title if case.material else "not said",
        seen=say_of_proof(f"seen from {case.order.seen}"), art=art, area=area, trim_mm=trim,
        lines=lines, missing=tuple(role for role in ordered if role not in lines_by_role(lines)),
        changed=changed, ties=(tool.cut_mm, tool.tie_mm) if tool.cut_mm and tool.tie_mm else None,
    ))


def proof_words(case: Case) -> tuple[str, str]:
    """Subject and text of the letter that a proof goes with."""
    facts = case.facts
    texts = facts.texts
    greeting = texts.say("greeting", customer=facts.customer) if facts.customer else texts.say("greeting_unnamed")
    return say_of_proof("letter subject", job=facts.name), say_of_proof(
        "letter", greeting=greeting, job=facts.name, regards=texts.say("regards", shop=facts.shop)
    )
