"""Connectors and sewn slings in the load path: how they are loaded, how they are rigged, what they then hold."""

from __future__ import annotations

import math
from dataclasses import replace

from reamer.core.anchor.holding import Holds, Named, given, unheld
from reamer.core.answer.findings import Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import TOWARD, Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Term, from_row
from reamer.core.load.asked import Asked
from reamer.core.load.part import Part, part
from reamer.core.model import Capacity, Figure, Loaded, Ring, Sling, SlingLink, SlingUse, Webbing
from reamer.core.rope.knots import retention, retention_graded, slips
from reamer.core.rope.wet import wet_term
from reamer.core.tables import RangeEnd, row

LOADED = {"long axis": "", "cross": ", cross-loaded", "gate open": ", gate open", "unknown": ", its lie unknown"}
# The field of each rating.
RATED: dict[str, str] = {"long axis": "rating_kn", "cross": "cross_kn", "gate open": "open_kn"}
RIGGED = {
    "straight": "straight",
    "overhand": "knotted with an overhand",
    "basket": "in a basket",
    "basket double": "in a double basket",
    "shortened": "wrapped to shorten it",
    "girth": "girth-hitched",
}


def connector_part(look: Look, of: Named, ring: Ring, loaded: Loaded, want: Asked) -> Says[Part]:
    """A connector by the way it is loaded; where nobody said, by the least of its ratings.

    look: the station; of: the part, to which the way is added; ring: the connector; loaded: a closed ring has one way
    only; want: what is asked of it
    returns: the part [kN]
    Source: whoever rates it; EN 12275 for what the ratings mean, from memory.
    """
    if ring.kind in ("ring", "plate"):
        loaded = "long axis"
    of, book = Named(of.key, of.name + LOADED[loaded]), look.book
    ways: dict[str, Capacity] = {"long axis": ring.rating_kn, "cross": ring.cross_kn, "gate open": ring.open_kn}
    if ring.kind == "link":
        del ways["gate open"]  # screwed shut
    if loaded != "long axis":
        yield say(
            "connector.lie",
            "Not checked" if loaded == "unknown" else "Caution",
            of.key,
            "How {ring} lies is unknown" if loaded == "unknown" else "{ring} is loaded {how}",
            "Only along its long axis does a connector hold its first rating. Turn it, or use a closed ring.",
            ring=ring.name,
            how="across" if loaded == "cross" else "with its gate open",
        )
    if loaded != "unknown":
        rating = ways.get(loaded)
        none = unheld("a link that screws shut has no gate to stand open")
        return part(of, want, none if rating is None else given(of, rating, typed(ring, RATED[loaded]), book), book)
    blank = next((c for c in ways.values() if c.kind == "unknown"), None)
    if blank is not None:
        why = f"how it lies is unknown, and not every rating of it is known: {blank.why}"
        return part(of, want, unheld(why), book)
    least = min((c for c in ways.values() if c.kind == "range"), key=lambda c: c.low_kn)
    return part(of, want, given(of, least, typed(ring, *RATED.values()), book), book)


def sling_part(look: Look, key: str, sling: Sling, link: SlingLink, want: Asked) -> Part:
    """A sewn sling in its configuration.

    C = k·R·w·cos(θ/2), the cosine for baskets only

    look: the station; key: the part's; sling: its rating R of the whole loop, straight; link: how it is rigged
    want: what is asked of it
    returns: the part [kN]
    Source: P, table of slings; in HMPE and aramid P and HB, table of knots.
    """
    of = Named(key, f"{sling.name}, {RIGGED[link.use]}", textile=True)
    return part(of, want, sling_holds(look, of, sling, (link.use, link.angle_deg)), look.book)


def sling_holds(look: Look, of: Named, sling: Sling, rigged: tuple[SlingUse, Figure]) -> Holds:
    """What a sewn sling holds as it is rigged.

    look: the station; of: the part; sling: its rating R of the whole loop, straight; rigged: how, and of a basket the
    angle between its legs [°]
    returns: low, high [kN] and, where unknown, why
    Source: as for ``sling_part``.
    """
    (use, legs), rating = rigged, sling.rating_kn
    if rating.kind == "unknown" or sling.fibre == "unknown":
        what = f"rating of {sling.name}" if rating.kind == "unknown" else f"fibre of {sling.name}"
        return unheld(f"the {what} is unknown")
    basket, factor = use.startswith("basket"), row("slings", use)
    if basket and legs.kind == "unknown":
        return unheld("the angle between the legs is unknown")
    if sling.fibre in ("HMPE", "aramid") and use in ("overhand", "girth"):
        kept = retention_graded("overhand" if use == "overhand" else "girth hitch", sling.fibre)
        factor = kept if kept is not None else factor

    def one(end: RangeEnd) -> Number:
        k, wet = factor.at(end), wet_term(sling.fibre, look.wet, end)
        whole = Term(
            "R",
            f"rating of {sling.name}, the whole loop",
            rating.at(end),
            "force",
            rating.source,
            typed=typed(sling, "rating_kn"),
        )
        terms, value, formula = [from_row("k", factor, k, "ratio"), whole, wet], k * rating.at(end) * wet.value, "k*R*w"
        if basket and legs.kind == "known":
            angle = math.radians(legs.value)
            terms.append(
                Term(
                    "theta", "angle between the legs", angle, "angle", f"entered: {legs.method}", typed=("{rig}/links",)
                )
            )
            value, formula = value * math.cos(angle / 2), formula + "*cos(theta/2)"
        return look.book.number(f"{of.key}.{end}", f"{of.name}, {end} end", formula, terms, value, "force", TOWARD[end])

    return Holds(one("low"), one("high"))


def webbing_part(look: Look, key: str, webbing: Webbing, want: Asked) -> Part:
    """Webbing doubled between two overhands.

    C = n·S·w·ρ, one of the two strands at the low end

    look: the station; key: the part's; webbing: as it lies in the shed; want: what is asked of it
    returns: the part [kN]
    Source: HB and P, table of knots; P for the strands that carry.
    """
    of, own = Named(key, f"{webbing.name}, doubled between two overhands", textile=True), webbing.strength_kn
    if own.kind == "unknown" or webbing.fibre == "unknown":
        what = f"strength of {webbing.name}" if own.kind == "unknown" else f"fibre of {webbing.name}"
        return part(of, want, unheld(f"the {what} is unknown"), look.book)
    knot = retention("overhand", webbing.fibre, look.policies.retention)
    if webbing.fibre == "HMPE" or knot is None:
        return replace(part(of, want, unheld(slips(webbing.name)), look.book), said=True)

    def one(end: RangeEnd) -> Number:
        n, wet, rho = 1 if end == "low" else 2, wet_term(webbing.fibre, look.wet, end), knot.at(end)
        terms = [
            Term("n", "strands of two that carry", n, "count", "P: common practice, no source"),
            Term(
                "S",
                f"one strand of {webbing.name}, unknotted",
                own.at(end),
                "force",
                own.source,
                typed=typed(webbing, "strength_kn"),
            ),
            wet,
            from_row("rho", knot, rho, "share"),
        ]
        value, name = n * own.at(end) * wet.value * rho, f"{of.name}, {end} end"
        return look.book.number(f"{key}.{end}", name, "n*S*w*rho", terms, value, "force", TOWARD[end])

    return part(of, want, Holds(one("low"), one("high")), look.book)
