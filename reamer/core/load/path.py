"""The load path from rock to rider: what is asked of each part, what it holds, which is weakest."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from reamer.core.acts.hanging import most_at_once
from reamer.core.anchor.typical import typical_fix
from reamer.core.answer.findings import Says, once, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number
from reamer.core.answer.where import tied
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.load.abrasion import abrasion, over_rock
from reamer.core.load.anchors import LoadPath, anchor_parts, link_parts
from reamer.core.load.asked import Load, hanging, last_alone, load_of, riders
from reamer.core.load.features import At
from reamer.core.load.part import Part
from reamer.core.load.redundancy import RIDER, ROCK, by_practice, load_edges, single_points
from reamer.core.load.removal import removal_findings
from reamer.core.load.rider import rider_parts
from reamer.core.load.ropes import lowering, rope_parts
from reamer.core.model import Direct, Known, Rig, Ring, Several, TwoPosts, WebbingLink, Wrap, sure, thing_of
from reamer.core.plan.limits import limits_m
from reamer.core.rope.strands import Strand
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class Ground:
    """How the tie and the rope lie on the rock: each edge that the tie itself crosses, how far along it is [m] and how
    sharp; the rope's first piece, out and up, None if unknown; and the drop's height [m], None if unknown."""

    edges: tuple[tuple[float, str], ...] = ()
    runs: tuple[float, float] | None = None
    height_m: float | None = None


def load_path(look: Look, strands: list[Strand], load: Load, ground: Ground) -> Says[LoadPath]:
    """Every part from rock to rider with demand and capacity, and the findings about them.

    look: the station; strands: that hang there; load: the rider; ground: how tie and rope lie on the rock
    returns: the load path, its weakest part marked [kN]
    Source: see the functions it calls; margins J and P.
    """
    rig, rings = _swinging(look, ground), look.ctx.rings
    if rig.kind == "none":
        why = "Strength is not checked until one is."
        yield say("anchor.none", "Not checked", "anchor", "No anchor is chosen", why)
        return LoadPath(())
    ridden = [s.rope for s in strands if s.load_share]
    rider, on_ring = load, lowering(look, load, ridden)
    here = At(
        look, on_ring if look.state.serves == "last" else (yield from _with_others(look, on_ring)), ground.runs, ridden
    )
    made = yield from anchor_parts(rig, here)
    if made is None:
        return LoadPath((), ring=rings.get(rig.ring or ""))
    parts = [
        *made.parts,
        *(yield from link_parts(rig.links, here)),
        *(yield from rope_parts(rig, made.ring, strands, rider, here)),
    ]
    parts += rider_parts(look.ctx, look.kit_wet, look.station.two_on_one and not last_alone(look), look.book)
    view = made.several or made.two
    if view is not None and isinstance(rig, (Several, TwoPosts)):
        yield from removal_findings(view, rig, parts, rider, here)
    yield from _part_findings(look, parts)
    parts = yield from _single(look, parts)
    yield from abrasion(look, parts, ground.edges)
    yield from _own_nylon(look, rig)
    yield from over_rock(look)
    return replace(made, parts=_weakest(parts), cuts=_cuts(look, made, rig))


def _swinging(look: Look, ground: Ground) -> Rig:
    """The rig with the load swinging at least as far as the landing lies aside: atan of aside over height."""
    rig, aside = look.rig, look.drop.landing.aside_m
    if not isinstance(rig, (Several, TwoPosts)) or aside.kind == "unknown" or not ground.height_m:
        return rig
    swing = math.degrees(math.atan2(limits_m(aside)[1], ground.height_m))
    given = rig.swing_deg.known
    if aside.value == 0 or given is None or swing <= given:
        return rig
    return rig.model_copy(update={"swing_deg": Known(kind="known", value=swing, method="given")})


def _own_nylon(look: Look, rig: Wrap | Direct | Several | TwoPosts) -> Says[None]:
    """Ask of a station that is reached by a swim whether its own nylon gets wet; it is counted wet till then."""
    if look.wet != "unknown" or look.ctx.swum_to[look.index] != "yes":
        return
    tied = [*_tied_with(rig), *(getattr(x, "sling", "") or getattr(x, "webbing", "") for x in rig.links)]
    kit = [look.ctx.webbing.get(i) or look.ctx.slings.get(i) for i in tied]
    if any(thing is not None and thing.fibre in ("nylon", "unknown") for thing in kit):
        title = "Whether the nylon at a station that is reached by a swim gets wet nobody has said"
        yield once(say("webbing.wet", "Not checked", "webbing", title, "Until then it is counted as wet."))


def _tied_with(rig: Wrap | Direct | Several | TwoPosts) -> list[str]:
    """The webbing or slings that an anchor is tied with, as ids."""
    if isinstance(rig, (Wrap, TwoPosts)):
        return [rig.webbing]
    return list(dict.fromkeys(leg.of for leg in rig.legs)) if isinstance(rig, Several) else []


def rope_faults(look: Look, strands: list[Strand], load: Load, ring: Ring | None) -> Says[None]:
    """What is to be said of the rope's own parts alone, from the ring to the rider, as ``load_path`` says it.

    look: the station; strands: that hang there; load: the rider; ring: what the rope runs through
    returns: nothing
    Source: as for load_path.
    """
    ridden = [s.rope for s in strands if s.load_share]
    here = At(look, lowering(look, load, ridden), None, ridden)
    yield from _part_findings(look, (yield from rope_parts(look.rig, ring, strands, load, here)))


def _cuts(look: Look, made: LoadPath, rig: Wrap | Direct | Several | TwoPosts) -> tuple[tuple[str, Number | None], ...]:
    """What this anchor takes of each webbing."""
    own = made.wrap.cut if made.wrap else made.several.cut if made.several else made.two.cut if made.two else None
    # Legs of several materials: how much of each is not worked out, and so it is unknown.
    used_of = _tied_with(rig)
    cuts = [(of, own) for of in used_of if of in look.ctx.webbing]
    for link in rig.links:
        if link.kind != "webbing" or link.webbing not in look.ctx.webbing:
            continue
        if link.reach_m.kind == "known" and link.same and own is not None and used_of == [link.webbing]:
            # The tie's own webbing goes on as its extension: one piece.
            own = _extension(look, link, link.reach_m.value, own)
            cuts = [(link.webbing, own) if c[0] == link.webbing else c for c in cuts]
        else:
            more = None if link.reach_m.kind == "unknown" else _extension(look, link, link.reach_m.value, None)
            cuts.append((link.webbing, more))
    return tuple(cuts)


def _extension(look: Look, link: WebbingLink, reach: float, tie: Number | None) -> Number:
    """Webbing for an extension, with that for the tie where it is all of one piece."""
    knot, tail = row("knots", "rope used.overhand in webbing"), row("knots", "tail.webbing")
    terms = [
        Term("x", "how much further it takes the ring", reach, "fine length", "decided", typed=("{rig}/links",)),
        from_row("k", knot, knot.high, "fine length"),
    ]
    name, formula, value = "webbing for the extension", "2*x + 2*k", 2 * reach + 2 * knot.high
    if not link.same:
        terms.append(from_row("t", tail, tail.high, "fine length"))
        formula, value = formula + " + 2*t", value + 2 * tail.high
    if tie is not None:
        terms.insert(0, computed("w", "webbing for the tie", tie))
        name, formula = "webbing for the tie and its extension, in one piece", f"w + {formula}"
        value = tie.value + 2 * reach + 2 * knot.high
    return look.book.number(f"link.{link.id}.cut", name, formula, terms, value, "fine length", "up")


def _with_others(look: Look, load: Load) -> Says[Load]:
    """The load on the anchor: the rider's, and the weight of those who hang at the station."""
    station, heaviest, party = look.station, look.ctx.heaviest, look.plan.party
    people = {p.id: p for p in party}
    there = [people[i] for i in dict.fromkeys(station.hanging) if i in people]
    if len(there) < len(set(station.hanging)):
        title = "Somebody who is to hang here is not in the party"
        yield say("load.hanging", "Not checked", "load", title, "Their weight is not counted.")
    by_acts, ride = most_at_once(look.ctx, look.index, look.state.serves == "last").who, riders(look)
    if by_acts and ride:
        # A typed list can only add to whom the acts hang there.
        others = [p for p in party if p not in ride and (p.id in by_acts or p in there)]
        if not any(p.id in by_acts for p in ride):
            # The heaviest of those rides, and is counted as the heaviest of all.
            others.remove(max((p for p in others if p.id in by_acts), key=lambda p: sure(p.mass_kg).value))
        return hanging(load, others, look.book)
    if not there:
        return load
    heavy = [p.name for p in there if p.mass_kg.kind == "unknown"]
    if heavy:
        return Load(None, f"the weight of {heavy[0]} is unknown")
    if heaviest is None or heaviest.id not in station.hanging or station.together != "no":
        return hanging(load, there, look.book)
    # Whoever rides does not hang there: either the heaviest rides and the others hang, or the heaviest of the rest
    # rides.
    riding = hanging(load, [p for p in there if p.id != heaviest.id], look.book)
    rest = [p for p in party if p.id not in station.hanging]
    if not rest or load.known is None:
        return riding
    other = Load(load_of(max(rest, key=lambda p: sure(p.mass_kg).value), "load.rest", look.book))
    beside = hanging(other, there, Book(look.book.prefix, False))
    lighter = riding.peak is not None and beside.peak is not None and riding.peak.value >= beside.peak.value
    return riding if lighter else hanging(other, there, look.book)


def _single(look: Look, parts: list[Part]) -> Says[list[Part]]:
    """Mark the single points, accepted or not, and say which nobody has accepted. What was accepted of another thing is
    not of this."""
    state, features = look.state, look.station.features
    at = look.feature(look.rig.anchor) if look.rig.kind == "direct" else None
    doubled = at is not None and at.kind == "rated" and at.pieces > 1
    single = single_points(load_edges(look.rig, [p.key for p in parts if p.where == "riding"], doubled), ROCK, RIDER)
    own = {
        a.part: a.reason
        for a in state.accepted
        if a.part in single and (not a.of or a.of == thing_of(a.part, state, features))
    }
    made = []
    for p in parts:
        if p.key not in single:
            made.append(p)
            continue
        reason = own.get(p.key) or by_practice(p.key, state)
        made.append(replace(p, single=True, accepted=reason))
        if not reason:
            why = "If it alone fails the rider falls. Accept it with a reason, or rig a second beside it."
            why += " It was accepted as something else." if any(a.part == p.key for a in state.accepted) else ""
            yield say("part.single", "Caution", p.key, "{part} is a single point", why, part=p.name)
    return made


def _decides(p: Part) -> str:
    """What takes most from a part of textile, by its working: the strands that are counted, and the least share that is
    kept."""
    working = p.low.behind if p.low else None
    if working is None or not p.textile:
        return ""
    count = next((t for t in working.terms if t.symbol == "n"), None)
    kept = [
        t
        for t in working.terms
        if t.symbol.startswith(("rho", "k", "b")) and t.quantity in ("share", "ratio") and t.value < 1
    ]
    said = [f"{'one strand' if count.value == 1 else f'{count.value:g} strands'} counted"] if count else []
    if kept:
        least = min(kept, key=lambda t: t.value)
        said.append(f"{least.name}, × {least.value:.2f}")
    return ", ".join(said)


def _part_findings(look: Look, parts: list[Part]) -> Says[None]:
    blank: set[str] = set()
    for p in parts:
        family = {"point": "anchor", "leg": "link", "loop": "link"}.get(p.key.split(".")[0], p.key.split(".")[0])
        if family in ("device", "tether", "join"):
            continue  # said once for the whole plan; a join's slip is not a margin
        if p.low is None:
            # Of two strands of which the same is not known it is said once.
            rope = f"{p.key.rsplit('-', 1)[0]} {p.why}" if family == "rope" else ""
            if p.said or rope in blank:
                continue
            blank |= {rope} if rope else set()
            title, why = "What {part} holds is unknown", "Not checked: {why}."
            bolt = look.feature(tied(look.state, p.key.partition(".")[2])) if family == "anchor" else None
            fix = typical_fix(look, bolt)
            yield say(f"{family}.unknown", "Not checked", p.key, title, why, part=p.name, why=p.why, fix=fix)
        elif p.required is not None and p.low.value < p.required.value:
            decides = next((h.name for h in p.points if h.decides), None) or _decides(p)
            yield say(
                f"{family}.weak",
                "Shortfall",
                p.key,
                "{part} holds {low}, needs {required}",
                "Its low end is {times} its peak of {demand}." + (" What decides: {decides}." if decides else ""),
                low=p.low,
                required=p.required,
                times=p.times,
                demand=p.demand,
                part=p.name,
                decides=decides,
                working=p.low,
            )


def _weakest(parts: list[Part]) -> tuple[Part, ...]:
    """The part with the least margin marked, where there are two that can be compared."""
    margins = [
        (p.low.value / p.required.value, i)
        for i, p in enumerate(parts)
        if p.low is not None
        and p.required is not None
        and p.required.value > 0
        and p.where == "riding"
        and p.key != "join"
    ]
    if len(margins) < 2:
        return tuple(parts)
    first = min(margins)[1]
    return tuple(replace(p, weakest=True) if i == first else p for i, p in enumerate(parts))
