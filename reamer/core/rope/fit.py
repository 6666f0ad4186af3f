"""Whether a knot or a rope goes through a ring."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from reamer.core.answer.findings import Says, once, say
from reamer.core.answer.say import Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, from_row
from reamer.core.model import Rig, Ring, RingLink, Rope
from reamer.core.rope.strands import Strand
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class Fit:
    """A knot against a ring's opening: how wide it is, that over the opening, and what the tables make of it.

    verdict: passes, may be forced, stopped; "" where it is not known, and ``why``; ``by``: who says how wide it is
    """

    width: Number | None
    ratio: Number | None
    verdict: str
    why: str
    by: str = ""


# From so many samples what a guide measured stands for the table's width; fewer only where they are worse: J, our
# judgement, as for pull tests.
ENOUGH = 5
Asks = Literal["stops", "passes"]


def fit(knot: str, rope: Rope, ring: Ring, key: str, book: Book, asks: Asks) -> Fit:
    """A knot's width over a ring's opening.

    w = k·d, or the narrowest that was measured where the ring is to stop it, the widest where it is to pass; ratio =
    w/opening; under 1 it passes, to 1.5 it may be forced through under load, above it is stopped

    knot: as the table names it; rope: the rope it is tied in; ring: what it bears on; key: the workings' prefix; book:
    where workings go; asks: whether the ring is to stop it, or it is to pass the ring
    returns: the fit [mm, -]
    Source: J, table of knots; or the guide's own measure.
    """
    d, opening = rope.diameter_mm.known, ring.opening_mm.known
    # Which of two ropes is the thinner is told by their diameters, whatever was measured of a knot.
    if d is None or opening is None:
        what = f"diameter of {rope.name}" if d is None else f"opening of {ring.name}"
        return Fit(None, None, "", f"the {what} is unknown")
    wide, own = row("knots", f"width.{knot}"), measured(knot, rope, asks)
    formula, value = "k*d", wide.low * d
    terms = [
        from_row("k", wide, wide.low, "ratio"),
        Term("d", f"diameter of {rope.name}", d, "diameter", "entered", typed=typed(rope, "diameter_mm")),
    ]
    by = "by our judgement"
    if own is not None and own.stands(value):
        by = f"the {own.told}"
        formula, value = "w", own.mm
        terms = [Term("w", own.told, value, "diameter", "entered", typed=typed(rope, "widths"))]
    elif own is not None:
        by += f": {own.count} measured in {rope.name} are too few"
    width = book.number(f"{key}.width", f"width of the {knot}", formula, terms, value, "diameter", "down")
    name = f"the {knot} over the opening of {ring.name}"
    terms = [
        *terms,
        Term("o", f"opening of {ring.name}", opening, "diameter", "entered", typed=typed(ring, "opening_mm")),
    ]
    ratio = book.number(f"{key}.ratio", name, f"{formula}/o", terms, width.value / opening, "ratio", "down")
    passes, stopped = row("knots", "fit.passes").low, row("knots", "fit.stopped").high
    if ratio.value < passes - 1e-9:
        return Fit(width, ratio, "passes", "", by)
    return Fit(width, ratio, "may be forced" if ratio.value <= stopped + 1e-9 else "stopped", "", by)


@dataclass(frozen=True, slots=True)
class Measured:
    """What a guide measured of a knot in a rope: the sample that is the worse for what is asked, how it is told, and of
    how many."""

    mm: float
    told: str
    count: int
    asks: Asks

    def stands(self, judged: float) -> bool:
        """Whether it stands for the table's width: of enough samples, or where it is worse [mm]."""
        return self.count >= ENOUGH or (self.mm < judged if self.asks == "stops" else self.mm > judged)


def measured(knot: str, rope: Rope, asks: Asks) -> Measured | None:
    """What was measured of a knot in a rope.

    knot: as the table names it; rope: it was tied in; asks: whether a ring is to stop it, or it is to pass one
    returns: the narrowest sample of a knot that is to be stopped, the widest of one that is to pass; None for none
    Source: the guide's own measure.
    """
    own = next((w for w in rope.widths if w.knot == knot and w.samples_mm), None)
    if own is None:
        return None
    mm, which = (min(own.samples_mm), "narrowest") if asks == "stops" else (max(own.samples_mm), "widest")
    return Measured(mm, f"{which} of {len(own.samples_mm)} measured in {rope.name}", len(own.samples_mm), asks)


def all_rings(rig: Rig, ring: Ring | None, rings: dict[str, Ring]) -> tuple[Ring, ...]:
    """Everything that a rope runs through at its anchor: the ring, and the connectors that are stacked beside it.

    rig: as tied; ring: that it names, None where that is no ring of the shed; rings: of the shed
    returns: the rings
    Source: none, look-ups.
    """
    if ring is None or rig.kind == "none":
        return ()
    beside = (rings.get(x.ring) for x in rig.links if isinstance(x, RingLink) and x.stacked)
    return (ring, *(r for r in beside if r is not None))


def narrowest(rings: tuple[Ring, ...]) -> Ring | None:
    """Of what a rope runs through, the one that a knot passes last; one of unknown opening before all others.

    rings: any
    returns: the ring, None where there is none
    Source: none, a minimum.
    """
    return min(rings, key=lambda r: -1.0 if r.opening_mm.kind == "unknown" else r.opening_mm.value, default=None)


def through_ring(strands: list[Strand], rings: tuple[Ring, ...], asks: bool) -> Says[None]:
    """Whether each rope goes through its ring at all, and through what is stacked beside it.

    strands: what hangs at the station; rings: what the rope runs through; asks: whether an unknown opening is to be
    said, and is not elsewhere
    returns: nothing
    Source: none, comparison.
    """
    ropes = {s.rope.id: s.rope for s in strands if s.role != "reserve"}.values()
    for ring in rings:
        opening = ring.opening_mm.known
        if opening is None:
            if asks and ropes:
                title, why = "Whether the rope goes through {ring} is not known", "Not checked: its opening is unknown."
                yield once(say("ring.opening", "Not checked", "ring", title, why, ring=ring.name))
            continue
        for rope in ropes:
            d = rope.diameter_mm.known
            if d is not None and d >= opening - 1e-9:
                yield say(
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
