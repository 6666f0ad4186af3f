"""Whether a knot or a rope goes through a ring."""

from __future__ import annotations

from dataclasses import dataclass

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
    terms = [
        from_row("k", wide, wide.low, "ratio"),
        Term("d", f"diameter of {rope.name}", d, "diameter", "entered", typed=typed(rope, "diameter_mm")),
    ]
    width = book.number(f"{key}.width", f"width of the {knot}", "k*d", terms, wide.low * d, "diameter", "down")
    name = f"the {knot} over the opening of {ring.name}"
    terms = [
        *terms,
        Term("o", f"opening of {ring.name}", opening, "diameter", "entered", typed=typed(ring, "opening_mm")),
    ]
    ratio = book.number(f"{key}.ratio", name, "k*d/o", terms, width.value / opening, "ratio", "down")
    passes, stopped = row("knots", "fit.passes").low, row("knots", "fit.stopped").high
    if ratio.value < passes - 1e-9:
        return Fit(width, ratio, "passes", "")
    return Fit(width, ratio, "may be forced" if ratio.value <= stopped + 1e-9 else "stopped", "")


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
