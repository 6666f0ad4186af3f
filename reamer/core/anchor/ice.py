"""Threads in ice: their geometry, and what is to be said of ice."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.answer.findings import Says, once, say
from reamer.core.answer.say import Number, Quantity
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, computed
from reamer.core.model import IceThread, Known
from reamer.core.plan.limits import limits_m


@dataclass(frozen=True, slots=True)
class Ice:
    """An ice thread's geometry: how long each hole is and how deep they meet. ``meets`` is false where they do not;
    ``just``: only if the spacing is no wider than it should be."""

    first: Number | None
    second: Number | None
    depth: Number | None
    meets: bool
    why: str
    just: bool = False


def holes_m(spacing_m: float, first_rad: float, second_rad: float) -> tuple[float, float, float]:
    """Lengths of two holes drilled to meet in ice, and the depth at which they do.

    a = b·sin β/sin(α + β), c = b·sin α/sin(α + β), depth = a·sin α

    spacing_m: b between the holes [m]; first_rad, second_rad: α, β to the surface, α + β < π [rad]
    returns: a, c and the depth [m]
    Source: HB, law of sines.

    >>> [round(x, 3) for x in holes_m(0.21, math.radians(50), math.radians(60))]
    [0.194, 0.171, 0.148]
    """
    both = math.sin(first_rad + second_rad)
    a = spacing_m * math.sin(second_rad) / both
    return a, spacing_m * math.sin(first_rad) / both, a * math.sin(first_rad)


def ice_geometry(thread: IceThread, book: Book) -> Ice:
    """Whether an ice thread's two holes meet within the screw's length.

    thread: its spacing and angles; book: how numbers are made
    returns: the geometry [m]
    Source: HB, law of sines.
    """
    length, apart, one, two = thread.screw_m, thread.spacing_m, thread.first_deg, thread.second_deg
    each = (("the screw's length", length), ("the spacing", apart), ("an angle", one), ("an angle", two))
    blank = [what for what, f in each if f.kind == "unknown"]
    if length.kind == "unknown" or apart.kind == "unknown" or one.kind == "unknown" or two.kind == "unknown":
        return Ice(None, None, None, False, f"{blank[0]} is unknown")
    alpha, beta = math.radians(one.value), math.radians(two.value)
    if alpha + beta >= math.pi - 1e-9:
        return Ice(None, None, None, False, "the holes lean away from each other and never meet")
    screw, spacing = length.value, limits_m(apart)[1]
    a, c, depth = holes_m(spacing, alpha, beta)
    given: tuple[tuple[str, str, float, Quantity, Known, str], ...] = (
        ("b", "spacing of the holes, high end", spacing, "fine length", apart, "spacing_m"),
        ("alpha", "first hole to the surface", alpha, "angle", one, "first_deg"),
        ("beta", "second hole to the surface", beta, "angle", two, "second_deg"),
    )
    terms = [
        Term(symbol, name, value, unit, f"entered: {figure.method}", typed=typed(thread, at))
        for symbol, name, value, unit, figure, at in given
    ]
    first = book.number(
        "ice.first", "length of the first hole", "b*sin(beta)/sin(alpha + beta)", terms, a, "fine length", "up"
    )
    second = book.number(
        "ice.second", "length of the second hole", "b*sin(alpha)/sin(alpha + beta)", terms, c, "fine length", "up"
    )
    at = book.number(
        "ice.depth",
        "depth at which they meet",
        "a*sin(alpha)",
        [computed("a", "length of the first hole", first), terms[1]],
        depth,
        "fine length",
        "down",
    )
    meets = max(a, c) <= screw + 1e-9
    exact = holes_m(apart.value, alpha, beta)
    # Holes that meet when the spacing is exact meet: its error is no more than a reason to drill a little closer.
    just = not meets and max(exact[:2]) <= screw + 1e-9
    return Ice(
        first, second, at, meets or just, "" if meets or just else "the screw is too short for them to meet", just
    )


def ice_findings(thread: IceThread, ice: Ice) -> Says[None]:
    """What is to be said of an ice thread. Its strength is never computed.

    thread: as drilled; ice: its geometry
    returns: nothing
    Source: P, common practice, no source.
    """
    yield once(
        say(
            "ice.strength",
            "Not checked",
            "anchor",
            "The strength of ice is not computed",
            "Nobody can say it from a plan: drill in solid, even-coloured ice, back it up for all but the last, look at"
            " it each time.",
        )
    )
    if not ice.meets:
        yield say(
            "ice.meets",
            "Not checked" if ice.first is None and "never" not in ice.why else "Shortfall",
            "anchor",
            "The two holes do not meet" if "unknown" not in ice.why else "Whether the two holes meet is not known",
            "So drilled, {why}.",
            why=ice.why,
        )
    if ice.just:
        yield say(
            "ice.meets",
            "Caution",
            "anchor",
            "The two holes only just meet",
            "A little wider apart, and the screw is too short. Drill them a little closer.",
        )
    yield from _ice_findings(thread)


def _ice_findings(thread: IceThread) -> Says[None]:
    """What the ice is like, what freezes in, what was found in place, and the backup."""
    if thread.ice != "solid":
        yield say(
            "ice.kind",
            "Shortfall" if thread.ice == "white, aerated" else "Not checked",
            "anchor",
            "White, aerated ice is not used" if thread.ice == "white, aerated" else "What the ice is like is unknown",
            "Solid ice of one colour, a slight bulge; clear away what is loose.",
        )
    if thread.cord is None and thread.wet_cold != "no":
        yield say(
            "ice.freezes",
            "Shortfall" if thread.wet_cold == "yes" else "Not checked",
            "anchor",
            "A rope straight through ice freezes in when it is wet and cold",
            "Leave a cord, or be sure that the ice is dry or the cold slight.",
        )
    if thread.in_place != "no" and thread.seen_whole != "yes":
        yield say(
            "ice.found",
            "Shortfall" if thread.seen_whole == "no" else "Not checked",
            "anchor",
            "A thread found in place is used only when all of it can be seen",
            "Without wear or burn marks along its whole length; otherwise drill another.",
        )
    if thread.backed_up != "to the rope":
        title = {
            "to the cord": "The backup is clipped to the cord",
            "to the rope, slack": "The backup is slack",
            "to the rope, drawn tight": "The backup is drawn tight",
            "no": "The thread has no backup",
            "unknown": "Whether the thread is backed up is unknown",
        }[thread.backed_up]
        yield say(
            "ice.backup",
            "Not checked" if thread.backed_up == "unknown" else "Shortfall",
            "anchor",
            title,
            "A screw is clipped to the rope, without slack and without load, so that everyone but the last tests the"
            " thread; the last person takes it out."
            if thread.backed_up != "to the rope, drawn tight"
            else "It takes the load, so nobody tests the thread that the last person rides alone. Clip it without slack"
            " and without load.",
        )
