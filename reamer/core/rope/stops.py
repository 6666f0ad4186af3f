"""Whether what is tied in a rope stops it at its ring: a block, a join. Decided here and nowhere else."""

from __future__ import annotations

from dataclasses import replace

from reamer.core.answer.verdict import Verdict
from reamer.core.answer.working import Book
from reamer.core.model import Blocking, Joined, Ring, Rope, System, sure
from reamer.core.rope.fit import fit
from reamer.core.tables import row

# Hitches that are tied on a carabiner, and are no knot without it.
ON_CARABINER = ("clove hitch", "stone hitch")
# The cause of a verdict: the thinner of two ropes runs through the ring.
THIN = "thin through"


def on_ridden_side(system: System) -> bool:
    """Whether a block lies where it stops the pull and not the rider.

    system: as rigged
    returns: true where it does
    Source: P, the table of rope systems.
    """
    return isinstance(system, Blocking) and system.block_on == "ride"


def block_at(system: Blocking, rope: Rope | None, ring: Ring | None, book: Book) -> Verdict:
    """Whether a block holds the ride strand at its ring.

    system: blocked; rope: the one it is tied in, None where that is gone; ring: what it bears on, None where that is no
    ring of the shed; book: how numbers are made
    returns: the verdict; cause: ``ride strand``, ``no ring``, ``bare hitch``, ``carabiner`` or ``knot``
    Source: P, the table of rope systems; J, table of knots.
    """
    stops = stopped(system, rope, ring, book)
    return Verdict("block.side", "no", "ride strand") if on_ridden_side(system) else stops


def stopped(system: Blocking, rope: Rope | None, ring: Ring | None, book: Book) -> Verdict:
    """Whether a ring stops a block, on whichever side it lies.

    system, rope, ring, book: as for ``block_at``
    returns: the verdict
    Source: J, table of knots.
    """
    code = "block.passes"
    if ring is None or rope is None:
        return Verdict(code, "unknown", "no ring", why="what it bears on is not a ring of the shed")
    if system.carabiner:
        opening = ring.opening_mm.known
        if opening is None:
            return Verdict(code, "unknown", "carabiner", why="its opening is unknown")
        return Verdict(code, "yes" if opening < row("knots", "carabiner.wide").low - 1e-9 else "no", "carabiner")
    if system.block in ON_CARABINER:
        return Verdict(code, "no", "bare hitch")
    made = fit(system.block, rope, ring, "block", book, "stops")
    if made.ratio is None:
        return Verdict(code, "unknown", "knot", why=made.why)
    return Verdict(code, "yes" if made.verdict == "stopped" else "no", made.verdict, made.width, made.ratio, by=made.by)


def join_alone(system: Joined, ropes: tuple[Rope, Rope], ring: Ring | None, book: Book) -> Verdict:
    """Whether the join of two ropes holds whoever rides the one that runs through the ring, by itself.

    system: joined; ropes: the one through the ring and the other; ring: what it runs through, None where that is no
    ring of the shed; book: how numbers are made
    returns: the verdict; cause: ``no ring``, ``unknown``, or what the ring makes of the knot
    Source: J, table of knots: the thinner strand decides.
    """
    code = "join.passes"
    if ring is None:
        return Verdict(code, "no", "no ring")
    made = fit(join_width(system), _thinner(ropes), ring, "join.fit", book, "stops")
    if made.ratio is None:
        return Verdict(code, "unknown", "unknown", why=made.why)
    return Verdict(code, "yes" if made.verdict == "stopped" else "no", made.verdict, made.width, made.ratio)


def join_together(system: Joined, ropes: tuple[Rope, Rope], ring: Ring | None, book: Book) -> Verdict:
    """Whether the join of two ropes holds whoever rides both.

    system, ropes, ring, book: as for ``join_alone``
    returns: the verdict; cause: ``diameters`` (one is unknown), ``thin through``, or as for ``join_creeps``
    Source: J, table of knots.
    """
    code, (through, other) = "system.thin-through", ropes
    a, b = through.diameter_mm.known, other.diameter_mm.known
    if a is None or b is None:
        blank = through if a is None else other
        return Verdict(code, "unknown", "diameters", why=f"the diameter of {blank.name} is unknown")
    if b - a >= row("knots", "thin.through").low - 1e-9:
        return Verdict(code, "no", THIN)
    return join_creeps(system, ropes, ring, book)


def join_creeps(system: Joined, ropes: tuple[Rope, Rope], ring: Ring | None, book: Book) -> Verdict:
    """Whether the ring stops the join of two ridden ropes, of which the thicker grips more in the device, creeps, and
    draws the join toward it.

    system, ring, book: as for ``join_alone``; ropes: of known diameters
    returns: the verdict; cause: ``unknown`` (the fit is), ``passes``, ``no ring`` or ``may be forced`` (of ropes so
    unlike that the ring must stop it), ``unlike`` or ``a little``, "" where the ring stops it or nothing creeps
    Source: J, table of knots: from how much on ropes are unlike.
    """
    code, (a, b) = "join.passes", (sure(r.diameter_mm).value for r in ropes)
    by = abs(a - b)
    if by <= 1e-9:
        return Verdict(code, "yes")
    unlike, far = (by >= row("knots", f"fit.{k}").low - 1e-9 for k in ("unlike", "unequal"))
    alone = join_alone(system, ropes, ring, book)
    if alone.holds == "yes" or (alone.holds == "unknown" and not unlike):
        return replace(alone, holds="yes", cause="")
    if alone.holds == "unknown":
        return alone
    if not far:
        return replace(alone, holds="yes", cause="unlike" if unlike else "a little")
    return replace(alone, holds="yes" if alone.cause == "may be forced" else "no")


def join_width(system: Joined) -> str:
    """What the knot of a join is called in the table of widths.

    system: joined
    returns: the name
    Source: J, table of knots: an opposed bend counts as a flat overhand.
    """
    return "flat figure eight" if system.knot == "flat figure eight" else "flat overhand"


def _thinner(ropes: tuple[Rope, Rope]) -> Rope:
    """The thinner of two ropes; one whose diameter is unknown, as its fit is then too."""
    blank = next((r for r in ropes if r.diameter_mm.known is None), None)
    return blank if blank is not None else min(ropes, key=lambda r: r.diameter_mm.known or 0.0)
