"""How far what joins a ring to its anchor reaches: never further than it is long."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.anchor.patterns import reach_m
from reamer.core.answer.context import Context
from reamer.core.model import Figure, Link, Rig, RingLink, SlingLink
from reamer.core.tables import row

# How much of a sling's laid length is left of it as it is rigged; what a shortened one loses is as entered.
LEFT = {"basket": 0.5, "basket double": 0.25}


@dataclass(frozen=True, slots=True)
class Over:
    """A joining that is to reach further than it can: the part's key, its name, how far it is to reach, and how far it
    does [m], None where that is not known."""

    key: str
    name: str
    wanted_m: float
    most_m: float | None


@dataclass(frozen=True, slots=True)
class Reaches:
    """How far out the ring hangs [m], None while any of it is unknown, reckoned with what the links reach; and what is
    to reach further than it does."""

    out_m: float | None
    over: tuple[Over, ...]


def reaches(rig: Rig, ctx: Context) -> Reaches:
    """How far out a ring hangs.

    rig: the tie; ctx: the plan's context
    returns: the reach, and what falls short of what was entered
    Source: J, table of materials, for connectors and for a single anchor's own gain; else a thing's own length.
    """
    if rig.kind == "none":
        return Reaches(None, ())
    out, over = reach_m(rig), list[Over]()
    if rig.kind == "direct":
        over += _over("anchor", "the anchor", rig.gain_m, row("materials", "gain.single").high)
    for link in rig.links:
        if isinstance(link, RingLink) and link.stacked:
            continue
        over += _over(f"link.{link.id}", *_most(link, ctx))
    # What holds a ring far out from one anchor nobody has said: there it hangs as entered, and it is not checked.
    less = sum(o.wanted_m - o.most_m for o in over if o.most_m is not None and o.key != "anchor")
    return Reaches(None if out is None else out - less, tuple(over))


def _over(key: str, name: str, wanted: Figure, most: float | None) -> list[Over]:
    if wanted.kind == "unknown" or (most is not None and wanted.value <= most + 1e-9):
        return []
    return [Over(key, name, wanted.value, most)]


def _most(link: Link, ctx: Context) -> tuple[str, Figure, float | None]:
    """A link's name, how far it is to reach, and how far it can [m]: infinitely where it is cut to what it takes."""
    if isinstance(link, SlingLink):
        sling = ctx.slings.get(link.sling)
        if sling is None or sling.length_m.kind == "unknown":
            return sling.name if sling else "the sling", link.reach_m, None if sling else float("inf")
        knot = row("knots", "rope used.overhand in webbing").high if link.use == "overhand" else 0.0
        return sling.name, link.reach_m, max(0.0, sling.length_m.value * LEFT.get(link.use, 1.0) - knot)
    if isinstance(link, RingLink):
        ring = ctx.rings.get(link.ring)
        own = ring.length_m.known if ring is not None else None
        most = own if own is not None else row("materials", "connector.length").high
        return ring.name if ring else "the connector", link.reach_m, most
    return "webbing", link.reach_m, float("inf")
