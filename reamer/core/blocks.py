"""Whether a block stays on its side of the ring, and whether it comes loose again."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.findings import Edit, Findings, Fix
from reamer.core.model import Ring, Rope, System
from reamer.core.say import Number, Sentence
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
    _capacity(system, found, at)


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


def join_at_ring(rope: Rope, ring: Ring | None, found: Findings, book: Book) -> None:
    """Whether a flat overhand joining two ropes is stopped by the ring on the side that is not pulled.

    rope: the thinner of the two; ring: what the rope runs through; found, book: where findings and workings go
    returns: nothing
    Source: J, table of knots: the thinner strand decides whether it is stopped.
    """
    if ring is None:
        return
    made = fit("flat overhand", rope, ring, "join.fit", book)
    if made.ratio is not None and made.verdict != "stopped":
        found.add("join.passes", "Note", "join", "The join is {ratio} the opening of {ring}", "It must lie on the side that is pulled: on the other it may be drawn into the ring.",
                  numbers={"ratio": made.ratio}, words={"ring": ring.name}, working=made.ratio.working)
