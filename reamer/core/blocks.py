"""Whether a block stays on its side of the ring, and whether it comes loose again."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.findings import Edit, Findings, Fix
from reamer.core.model import Ring, Rope, System
from reamer.core.say import Number, Sentence
from reamer.core.systems import Strand
from reamer.core.tables import row
from reamer.core.working import Book, Term, from_row

ON_CARABINER = ("clove hitch", "stone hitch")


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

    knot: as the table names it; rope: the rope it is tied in; ring: what it bears on; key: the workings' prefix; book: where workings go
    returns: the fit [mm, -]
    Source: J, table of knots.
    """
    for figure, what in ((rope.diameter_mm, f"diameter of {rope.name}"), (ring.opening_mm, f"opening of {ring.name}")):
        if figure.kind == "unknown":
            return Fit(None, None, "", f"the {what} is unknown")
    wide = row("knots", f"width.{knot}")
    terms = [from_row("k", wide, wide.low, "ratio"), Term("d", f"diameter of {rope.name}", rope.diameter_mm.value, "diameter", "entered")]
    width = book.number(f"{key}.width", f"width of the {knot}", "k*d", terms, wide.low * rope.diameter_mm.value, "diameter", "down")
    ratio = book.number(f"{key}.ratio", f"the {knot} over the opening of {ring.name}", "k*d/o", [
        *terms, Term("o", f"opening of {ring.name}", ring.opening_mm.value, "diameter", "entered")], width.value / ring.opening_mm.value, "ratio", "down")
    passes, stopped = row("knots", "fit.passes").low, row("knots", "fit.stopped").high
    return Fit(width, ratio, "passes" if ratio.value < passes - 1e-9 else "may be forced" if ratio.value <= stopped + 1e-9 else "stopped", "")


def block_findings(system: System, rope: Rope, ring: Ring | None, found: Findings, book: Book, at: tuple[str | int, ...]) -> None:
    """What is to be said of a block on its ring.

    system: blocked; rope: the one the block is tied in; ring: what it bears on; found, book: where findings and workings go
    at: path of the system, for fixes
    returns: nothing
    Source: J, table of knots; P, common practice, no source, for how blocks let go and jam.
    """
    if ring is None:
        found.add("block.unchecked", "Not checked", "block", "The block is not checked", "Not checked: what it bears on is not a ring of the shed.")
        return
    if system.block in ON_CARABINER:
        if not system.carabiner:
            found.add("block.passes", "Shortfall", "block", "A {block} is no block without a carabiner", "It is tied on a carabiner that the ring cannot pass.",
                      words={"block": system.block}, fix=Fix(Sentence("Clip a carabiner in it"), (Edit((*at, "carabiner"), True),)))
        elif system.block == "clove hitch":
            found.add("block.jams", "Caution", "block", "A clove hitch moves before it grips, and jams after load",
                      "Set it hard by hand, above all in stiff or slippery rope. A stone hitch on the carabiner does neither.",
                      fix=Fix(Sentence("Tie a stone hitch"), (Edit((*at, "block"), "stone hitch"),)))
    else:
        _knot_block(system, rope, ring, found, book, at)
    if system.carabiner:
        _carabiner(ring, found)
    _capacity(system, found, at)


def _carabiner(ring: Ring, found: Findings) -> None:
    """Whether the carabiner that stops a block passes what it is to be stopped by. Source: J, table of knots."""
    wide = row("knots", "carabiner.wide")
    if ring.opening_mm.kind == "unknown":
        found.add("block.passes", "Not checked", "block", "Whether a carabiner passes {ring} is not known", "Not checked: its opening is unknown.", words={"ring": ring.name})
    elif ring.opening_mm.value >= wide.low - 1e-9:
        found.add("block.passes", "Shortfall", "block", "A carabiner passes {ring}", "Its opening is {open}; a carabiner on its narrow side passes {wide}. Nothing stops the block: hang a smaller ring.",
                  numbers={"open": Number(ring.opening_mm.value, "diameter"), "wide": Number(wide.low, "diameter")}, words={"ring": ring.name})


def through_ring(strands: list[Strand], ring: Ring | None, found: Findings) -> None:
    """Whether each rope goes through the ring at all.

    strands: what hangs at the station; ring: what the rope runs through; found: where findings go
    returns: nothing
    Source: none, comparison.
    """
    if ring is None or ring.opening_mm.kind == "unknown":
        return
    for rope in {s.rope.id: s.rope for s in strands if s.role != "reserve"}.values():
        if rope.diameter_mm.kind == "known" and rope.diameter_mm.value >= ring.opening_mm.value - 1e-9:
            found.add("ring.small", "Shortfall", "ring", "{rope} does not go through {ring}", "It is {d} thick; the opening is {open}.", words={"rope": rope.name, "ring": ring.name},
                      numbers={"d": Number(rope.diameter_mm.value, "diameter"), "open": Number(ring.opening_mm.value, "diameter")})


def _knot_block(system: System, rope: Rope, ring: Ring, found: Findings, book: Book, at: tuple[str | int, ...]) -> None:
    made = fit(system.block, rope, ring, "block", book)
    words = {"block": system.block, "ring": ring.name, "rope": rope.name, "why": made.why}
    if made.ratio is None:
        if not system.carabiner:
            found.add("block.unchecked", "Not checked", "block", "Whether the {block} passes {ring} is not known", "Not checked: {why}.", words=words)
        return
    if not system.carabiner and made.verdict != "stopped":
        how = "passes" if made.verdict == "passes" else "may be forced through"
        found.add("block.passes", "Shortfall", "block", f"The {{block}} {how} {{ring}}", "It is {width} wide, {ratio} the opening. A knot that bears on a ring needs a carabiner clipped through it.",
                  numbers={"width": made.width, "ratio": made.ratio}, words=words, working=made.ratio.working,
                  fix=Fix(Sentence("Clip a carabiner in it"), (Edit((*at, "carabiner"), True),)))
    elif not system.carabiner and system.block == "figure eight" and rope.kind.startswith("dynamic"):
        found.add("block.jams", "Caution", "block", "A figure eight in soft rope may jam into {ring}", "In thin dynamic rope it was seen to set so hard that it would not have come down. A carabiner left in it keeps it from welding.",
                  words=words, fix=Fix(Sentence("Clip a carabiner in it"), (Edit((*at, "carabiner"), True),)))


def _capacity(system: System, found: Findings, at: tuple[str | int, ...]) -> None:
    """A block's own hold: only what somebody has tested."""
    seen = row("loads", "block.sees")
    if system.block_holds.kind == "unknown":
        found.add("block.unchecked", "Not checked", "block", "What the block holds on its ring is not known",
                  "In the field a block sees up to {seen}; each needs its own tested capacity. Enter yours when you have pulled it.", numbers={"seen": Number(seen.high, "force", "up")})


def join_at_ring(system: System, through: Rope, other: Rope, ring: Ring | None, over: str, rings: tuple[Ring, ...], found: Findings, book: Book, at: tuple[str | int, ...]) -> None:
    """Whether the ring stops the join of two ridden ropes, of which the thicker creeps and draws the join toward it from the pulled side.

    system: joined; through, other: its ropes; ring: what the rope runs through, None where that is no ring; over: its name
    rings: of the shed, for a smaller one; found, book: where findings and workings go; at: path of the state, for fixes
    returns: nothing
    Source: J, table of knots: the thinner strand decides whether it is stopped.
    """
    a, b = through.diameter_mm, other.diameter_mm
    if a.kind == "unknown" or b.kind == "unknown":
        return  # which is the thicker is unknown, and that is said
    by = abs(a.value - b.value)
    unequal, unlike = row("knots", "fit.unequal").low, row("knots", "fit.unlike").low
    if by <= 1e-9:
        return
    thin, thick = (through, other) if a.value < b.value else (other, through)
    knot = {"opposed overhand": "flat overhand", "flat overhand, second behind": "flat overhand"}.get(system.knot, system.knot)
    made = None if ring is None else fit(knot, thin, ring, "join.fit", book)
    words = {"ring": over, "thick": thick.name, "thin": thin.name}
    if made is not None and made.ratio is None:
        if by >= unlike - 1e-9:
            found.add("join.passes", "Not checked", "join", "Whether {ring} stops the join is not known", "Not checked: {why}. {thick} grips more in the device and creeps, and draws the join toward the ring.",
                      words={**words, "why": made.why})
        return
    if made is not None and made.verdict == "stopped":
        return
    smaller = next((r for r in sorted((r for r in rings if r.opening_mm.kind == "known" and r.rating_kn.kind == "range"), key=lambda r: -r.opening_mm.value)
                    if r.opening_mm.value > thick.diameter_mm.value and fit(knot, thin, r, "join.try", Book()).verdict == "stopped"), None)
    fix = None if smaller is None or ring is None else Fix(Sentence("Hang {ring}", {}, {"ring": smaller.name}), (Edit((*at, "rig", "ring"), smaller.id), Edit((*at, "rig", "ring_loaded"), "long axis" if smaller.kind == "ring" else "unknown")))
    passes = made is None or made.verdict == "passes"
    numbers = {"by": Number(by, "diameter"), **({"ratio": made.ratio} if made else {})}
    how = "does not stop" if passes else "may not stop"
    reason = ("The ropes differ by {by}" + ("; the join is {ratio} the opening. " if made else ". ") + "{thick} grips more in the device, creeps down as people ride, and draws the join up the pulled side into {ring}. "
              "A smaller ring, a block, or another way.")
    if by >= unequal - 1e-9:
        found.add("join.passes", "Shortfall" if passes else "Caution", "join", "{ring} " + how + " the join", reason, numbers=numbers, words=words, working=made.ratio.working if made else "", fix=fix)
    else:
        found.add("join.passes", "Caution" if by >= unlike - 1e-9 else "Note", "join", "The ring does not stop the join of unlike ropes", reason, numbers=numbers, words=words, fix=fix, once=True)
