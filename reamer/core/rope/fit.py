"""Whether a knot or a rope goes through a ring."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.findings import Findings
from reamer.core.answer.say import Number
from reamer.core.answer.working import Book, Term, from_row
from reamer.core.model import Ring, Rope
from reamer.core.rope.strands import Strand
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class Fit:
    """A knot against a ring's opening: how wide it is, that over the opening, and what the tables make of it.

    verdict: passes, may be forced, stopped; "" where it is not known, and ``why``
    """

    width: Number | None
    ratio: Number | None
    verdict: str
    why: str


def fit(knot: str, rope: Rope, ring: Ring, key: str, book: Book) -> Fit:
    """A knot's width over a ring's opening.

    w = k·d, ratio = w/opening; under 1 it passes, to 1.5 it may be forced through under load, above it is stopped

    knot: as the table names it; rope: the rope it is tied in; ring: what it bears on; key: the workings' prefix; book:
    where workings go
    returns: the fit [mm, -]
    Source: J, table of knots.
    """
    d, opening = rope.diameter_mm.known, ring.opening_mm.known
    if d is None or opening is None:
        what = f"diameter of {rope.name}" if d is None else f"opening of {ring.name}"
        return Fit(None, None, "", f"the {what} is unknown")
    wide = row("knots", f"width.{knot}")
    terms = [from_row("k", wide, wide.low, "ratio"), Term("d", f"diameter of {rope.name}", d, "diameter", "entered")]
    width = book.number(f"{key}.width", f"width of the {knot}", "k*d", terms, wide.low * d, "diameter", "down")
    name = f"the {knot} over the opening of {ring.name}"
    terms = [*terms, Term("o", f"opening of {ring.name}", opening, "diameter", "entered")]
    ratio = book.number(f"{key}.ratio", name, "k*d/o", terms, width.value / opening, "ratio", "down")
    passes, stopped = row("knots", "fit.passes").low, row("knots", "fit.stopped").high
    if ratio.value < passes - 1e-9:
        return Fit(width, ratio, "passes", "")
    return Fit(width, ratio, "may be forced" if ratio.value <= stopped + 1e-9 else "stopped", "")


def through_ring(strands: list[Strand], ring: Ring | None, found: Findings) -> None:
    """Whether each rope goes through the ring at all.

    strands: what hangs at the station; ring: what the rope runs through; found: where findings go
    returns: nothing
    Source: none, comparison.
    """
    opening = ring.opening_mm.known if ring is not None else None
    if ring is None or opening is None:
        return
    for rope in {s.rope.id: s.rope for s in strands if s.role != "reserve"}.values():
        d = rope.diameter_mm.known
        if d is not None and d >= opening - 1e-9:
            found.add(
                "ring.small",
                "Shortfall",
                "ring",
                "{rope} does not go through {ring}",
                "It is {d} thick; the opening is {open}.",
                rope=rope.name,
                ring=ring.name,
                d=Number(d, "diameter"),
                open=Number(opening, "diameter"),
            )
