"""Whether a knot, a join or a rope goes through a ring."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.codes import Severity
from reamer.core.answer.findings import Findings, Fix
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.working import Book, Term, from_row
from reamer.core.model import Joined, Loaded, Ring, Rope, Wrap
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


def join_at_ring(look: Look, system: Joined, ropes: tuple[Rope, Rope], ring: Ring | None, over: str) -> None:
    """Whether the ring stops the join of two ridden ropes, of which the thicker creeps and draws the join toward it
    from the pulled side.

    look: the station; system: joined; ropes: the one through the ring and the other; ring: what the rope runs through,
    None where that is no ring; over: its name
    returns: nothing
    Source: J, table of knots: the thinner strand decides whether it is stopped.
    """
    through, other = ropes
    a, b = through.diameter_mm.known, other.diameter_mm.known
    if a is None or b is None or abs(a - b) <= 1e-9:
        return  # which is the thicker is unknown, and that is said; or none is
    by, (thin, thick) = abs(a - b), (through, other) if a < b else (other, through)
    knot = "flat figure eight" if system.knot == "flat figure eight" else "flat overhand"
    made = None if ring is None else fit(knot, thin, ring, "join.fit", look.book)
    if made is not None and made.ratio is None and by >= row("knots", "fit.unlike").low - 1e-9:
        title = "Whether {ring} stops the join is not known"
        why = "Not checked: {why}. {thick} grips more in the device and creeps, and draws the join toward the ring."
        words = {"ring": over, "thick": thick.name, "thin": thin.name, "why": made.why}
        look.found.add("join.passes", "Not checked", "join", title, why, working="", fix=None, **words)
    elif made is None or (made.ratio is not None and made.verdict != "stopped"):
        fix = None if ring is None else _smaller_ring(look, knot, thin, max(a, b))
        _may_pass(look, (by, made), (over, thick.name, thin.name), fix)


def _may_pass(look: Look, how: tuple[float, Fit | None], names: tuple[str, str, str], fix: Fix | None) -> None:
    """A join that what the rope runs over may not stop: by how much the ropes differ, and its fit, None where there is
    no ring; what it runs over, the thicker and the thinner rope."""
    (by, made), (over, thick, thin) = how, names
    ratio, passes = made.ratio if made else None, made is None or made.verdict == "passes"
    far = by >= row("knots", "fit.unequal").low - 1e-9
    why = (
        "The ropes differ by {by}"
        + ("; the join is {ratio} the opening. " if made else ". ")
        + "{thick} grips more in the device, creeps down as people ride, and draws the join up the pulled side into"
        " {ring}. A smaller ring, a block, or another way."
    )
    severity: Severity = "Caution" if by >= row("knots", "fit.unlike").low - 1e-9 else "Note"
    title = "The ring does not stop the join of unlike ropes"
    if far:
        severity = "Shortfall" if passes else "Caution"
        title = f"{{ring}} {'does' if passes else 'may'} not stop the join"
    # What matters little at one station is said once for the plan.
    (look.found if far else look.found.once).add(
        "join.passes",
        severity,
        "join",
        title,
        why,
        by=Number(by, "diameter"),
        ratio=ratio,
        ring=over,
        thick=thick,
        thin=thin,
        working=ratio.working if ratio and far else "",
        fix=fix,
    )


def _smaller_ring(look: Look, knot: str, thin: Rope, thick_mm: float) -> Fix | None:
    """The widest ring of the shed that the thicker rope goes through and the join does not."""
    rated = [
        (o, r) for r in look.plan.shed.rings if (o := r.opening_mm.known) is not None and r.rating_kn.kind == "range"
    ]
    for opening, ring in sorted(rated, key=lambda r: -r[0]):
        if opening > thick_mm and fit(knot, thin, ring, "join.try", Book(keeps=False)).verdict == "stopped":
            place = look.rig_as(Wrap)
            lies: Loaded = "long axis" if ring.kind == "ring" else "unknown"
            edits = place.at(lambda r: r.ring).set(ring.id), place.at(lambda r: r.ring_loaded).set(lies)
            return Fix(Sentence("Hang {ring}", {}, {"ring": ring.name}), edits)
    return None
