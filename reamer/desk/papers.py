"""What is printed, drawn and shown of a revision: the card on paper and as a page, its pages as pictures, figures."""

from __future__ import annotations

import io
import threading
from contextlib import closing
from dataclasses import dataclass

from pypdfium2 import PdfDocument

from reamer.core.answer.say import UnitSystem
from reamer.core.errors import PlanError
from reamer.desk.desk import Desk
from reamer.desk.worked import Worked
from reamer.figures.overview import overview
from reamer.formats.card import Card, Made, card
from reamer.formats.pdf import PAPERS, pdf

# The library that draws pages is not made for several threads.
DRAWING = threading.Lock()


@dataclass(frozen=True, slots=True)
class Wanted:
    """What of a card is wanted: in which units, on which paper, which drops' pages, none for all, and whose acts, ""
    for everybody's."""

    units: UnitSystem = "metric"
    paper: str = "a5"
    drops: tuple[str, ...] = ()
    who: str = ""


def card_of(desk: Desk, plan_id: str, revision: int, units: UnitSystem) -> Card:
    """A revision's card."""
    return _card(desk, plan_id, revision, desk.at(plan_id, revision), units)


def _card(desk: Desk, plan_id: str, revision: int, got: Worked, units: UnitSystem) -> Card:
    return card(got.answers, units, Made(desk.plans.said_at(plan_id, revision), plan_id, revision))


def paper(desk: Desk, plan_id: str, revision: int, wanted: Wanted) -> bytes:
    """A revision's card as PDF; the last few that were made are kept, as their pages are looked at one by one."""
    if wanted.paper not in PAPERS:
        raise PlanError("paper", f"a card is printed on {' or '.join(PAPERS)}, not {wanted.paper[:20]!r}")
    got = desk.at(plan_id, revision)
    for d in wanted.drops:
        got.drop(d, "drops")
    person = (wanted.who, got.person(wanted.who)) if wanted.who else None

    def make() -> bytes:
        return pdf(_card(desk, plan_id, revision, got, wanted.units), wanted.paper, wanted.drops, person)

    # It names the plan and the revision, and prints all that rests on either.
    return desk.memory.papers.of((plan_id, revision, got.of.key, got.of.said, wanted), make, desk.going)


def count_pages(made: bytes) -> int:
    """How many pages a PDF has."""
    with DRAWING, closing(PdfDocument(made)) as pages:
        return len(pages)


def page(made: bytes, n: int) -> bytes:
    """One page of a PDF, from 1, as a PNG picture. Raises PlanError where there is none of this number."""
    with DRAWING, closing(PdfDocument(made)) as pages:
        if not 1 <= n <= len(pages):
            raise PlanError("n", f"the card has pages 1 to {len(pages)}, not {n}")
        out = io.BytesIO()
        pages[n - 1].render(scale=2).to_pil().save(out, "PNG")
    return out.getvalue()


def sheet(got: Worked, units: UnitSystem) -> str:
    """The whole descent on one sheet, as SVG."""
    return overview(got.plan, got.a, got.ahead(), units, got.of.record)
