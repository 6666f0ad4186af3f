"""One leg of several: what it is of, how stiff it is, what it holds."""

from __future__ import annotations

from reamer.core.anchor.holding import Holds, unheld
from reamer.core.answer.context import Context
from reamer.core.answer.look import Look
from reamer.core.answer.say import TOWARD, Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Term, from_row
from reamer.core.model import Leg, Ring, Rope, Several, Sling, Webbing
from reamer.core.rope.bend import bent
from reamer.core.rope.knots import joining_knot, rating_of, retention, slips_closed
from reamer.core.rope.length import rating_kg
from reamer.core.rope.wet import wet_share
from reamer.core.tables import ENDS, RangeEnd, Row, row

# What a leg can be of: webbing, a sewn sling, a rope or cord, or a connector that stands for a chain.
Material = Webbing | Sling | Rope | Ring


def material(of: str, ctx: Context) -> Material | None:
    """What a leg is made of.

    of: an id; ctx: the plan's context
    returns: webbing, a sewn sling, a rope or cord, or a connector that stands for a chain; None if it is gone
    Source: none, a look-up.
    """
    return ctx.webbing.get(of) or ctx.slings.get(of) or ctx.ropes.get(of) or ctx.rings.get(of)


def strand_kn(thing: Webbing | Sling | Rope, end: RangeEnd) -> float | None:
    """What one strand holds, of a sewn loop half.

    thing: what it is of; end: of the range
    returns: strength [kN], None if it is unknown
    Source: whoever gives it.
    """
    own = thing.rating_kn if isinstance(thing, Sling) else thing.strength_kn
    if own.kind == "unknown":
        return None
    return own.at(end) / 2 if isinstance(thing, Sling) else own.at(end)


def stiffness(thing: Material, stretched: str) -> float | None:
    """EA of a leg of two strands, or of a chain.

    EA = 2·S/ε

    thing: what it is of; stretched: ``most`` takes the highest elongation at break, as for shares, ``least`` the lowest
    returns: EA [kN], None if its fibre or strength is unknown
    Source: HB, fibre tables; J for a chain.
    """
    if isinstance(thing, Ring):
        return row("loads", "legs.chain").low
    if thing.fibre == "unknown":
        return None
    strand = strand_kn(thing, "high")
    if strand is None:
        return None
    stretch = row("fibres", f"elongation.{thing.fibre}")
    return 2 * strand / ((stretch.high if stretched == "most" else stretch.low) / 100)


def leg_holds(look: Look, leg: Leg, rig: Several, key: str) -> Holds:
    """What one leg of two strands holds.

    C = n·S·w·min(ρ at the focal point, ρ of the closing knot, share kept over the ring)

    look: the station; leg: what it is of, and how its loop is closed; rig: how its focal point is made
    key: the workings' prefix
    returns: low and high [kN]; round a post one strand counts at the low end, elsewhere both slide there and carry
    Source: HB and P, tables of knots and materials; a triple fisherman's in HMPE P, table of pull tests.
    """
    thing = material(leg.of, look.ctx)
    if thing is None or isinstance(thing, Ring):
        return unheld("it is not in the shed")
    if thing.fibre == "unknown" or strand_kn(thing, "low") is None:
        what = "fibre" if thing.fibre == "unknown" else "strength"
        return unheld(f"the {what} of {thing.name} is unknown")
    slides, closing = rig.focal in ("sliding", "clipped"), joining_knot(thing, leg.closed_by)
    if closing is None:
        return unheld(f"which knot closes the loop of {thing.name} is unknown")
    rows = []
    for knot in ("" if slides else rig.knot, closing):
        kept = retention(knot, thing.fibre, look.policies.retention) if knot else None
        if knot and (kept is None or knot == slips_closed(thing, leg.closed_by)):
            return unheld(f"a {knot} is not to be used in {thing.fibre}")
        rows += [kept] if kept is not None else []
    ring = look.ctx.rings.get(rig.ring)
    thick = None if isinstance(thing, Sling) else thing.diameter_mm if isinstance(thing, Rope) else thing.thickness_mm
    over = None
    if slides and thick is not None:
        if ring is None or ring.thickness_mm.kind == "unknown" or thick.kind == "unknown":
            return unheld("the thickness of the strand or of the ring is unknown")
        over = (ring, thick.value)
    feature = look.feature(leg.anchor)
    one = feature is not None and feature.kind == "post" and not slides
    low, high = (_leg_at(end, look, (thing, closing, one, over), rows, key) for end in ENDS)
    return Holds(low, high)


def _leg_at(
    end: RangeEnd,
    look: Look,
    leg: tuple[Webbing | Sling | Rope, str, bool, tuple[Ring, float] | None],
    rows: list[Row],
    key: str,
) -> Number:
    """A leg at one end of its range: what it is of, the knot that closes it, whether friction leaves one strand at the
    low end, and the ring it slides over with the strand's thickness."""
    thing, closing, one, over = leg
    n, strand = 1 if one and end == "low" else 2, strand_kn(thing, end) or 0.0
    wet_row, kept = row("materials", f"wet.{thing.fibre}"), wet_share(thing.fibre, look.wet)[ENDS.index(end)]
    terms = [
        Term("n", "strands that carry", n, "count", "P: common practice, no source"),
        Term(
            "S",
            f"one strand of {thing.name}",
            strand,
            "force",
            rating_of(thing).source,
            typed=typed(thing, "rating_kn", "strength_kn"),
        ),
        Term("w", f"{wet_row.name}; gets wet: {look.wet}", kept, "share", wet_row.cited),
    ]
    least, value = [], 1.0
    for j, r in enumerate(rows, 1):
        terms.append(from_row(f"rho{j}", r, r.at(end), "share"))
        least.append(f"rho{j}")
        value = min(value, r.at(end))
    if over is not None:
        share, formula, parts = bent(over[0], thing, over[1], end)
        terms += parts
        least.append(f"({formula})")
        value = min(value, share)
    whole, capped = n * strand * kept * value, f"n*S*w*min(1{''.join(', ' + x for x in least)})"
    if thing.fibre == "HMPE" and closing == "triple fisherman's":
        most = row("pull_tests", "HMPE triple fisherman")
        terms.append(from_row("h", most, most.low, "force"))
        whole, capped = min(whole, n * most.low / 2), f"min({capped}, n*h/2)"
    name = f"leg of {thing.name}, {end} end"
    return look.book.number(f"{key}.{end}", name, capped, terms, whole, "force", TOWARD[end])


def mixed(rig: Several) -> bool:
    """Whether one loop that runs through every point is said to be of several materials, or closed in several ways.

    rig: the anchor
    returns: whether it is
    Source: none, comparison.
    """
    return rig.focal in ("sliding", "limited") and len({(leg.of, leg.closed_by) for leg in rig.legs}) > 1


def rope_stiffness_kn(ropes: list[Rope]) -> float | None:
    """EA of the rope that is ridden.

    EA = n·m·g/ε

    ropes: one a ride strand, with the elongation of its rating
    returns: EA [kN], None if one's elongation is unknown or there is none
    Source: HB, linear spring from the label's elongation.
    """
    g, whole = row("loads", "g").low, 0.0
    for r in ropes:
        if r.elongation_pct.kind == "unknown":
            return None
        whole += rating_kg(r.kind) * g / 1000 / (r.elongation_pct.value / 100)
    return whole if ropes else None


def tied_by(leg: Leg, ctx: Context) -> str:
    """What a leg is made of, in words.

    leg: the leg; ctx: the plan's context
    returns: its name, or that it is missing
    Source: none, text only.
    """
    thing = material(leg.of, ctx)
    return thing.name if thing else "something that is not in the shed"
