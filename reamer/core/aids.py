"""What holds a rope or a person off the plumb line: deviations, traverse lines, landings off to the side, hanging stances."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.context import Context
from reamer.core.findings import Findings
from reamer.core.loads import Load
from reamer.core.model import Capacity, Drop, Margin, State, Traverse
from reamer.core.part import given
from reamer.core.pull import pulled_strand
from reamer.core.rope import real_length
from reamer.core.say import Number
from reamer.core.section import limits_m
from reamer.core.systems import Strand
from reamer.core.tables import row
from reamer.core.working import Book, Term, computed, from_row


@dataclass(frozen=True, slots=True)
class AidLoad:
    """What a deviation or a traverse line puts on an anchor of its own: at the still weight and at the peak, and what it holds."""

    key: str
    name: str
    static: Number
    peak: Number
    low: Number | None


@dataclass(frozen=True, slots=True)
class Aside:
    """A landing off to the side: the force that holds a rider there, and what they get if let go."""

    hold: Number
    let_go: Number


def traverse_tension_kn(weight_kn: float, sag: float) -> float:
    """Tension at each end of a line loaded at its middle.

    T = W·√(1 + 4s²)/(4s)

    weight_kn: W [kN]; sag: s, sag over span [-]
    returns: T [kN]
    Source: HB, equilibrium of a loaded line.

    >>> round(traverse_tension_kn(1.0, 0.10), 2)
    2.55
    """
    return weight_kn * math.sqrt(1 + 4 * sag**2) / (4 * sag)


def deviation_kn(tension_kn: float, turn_rad: float) -> float:
    """What a deviation puts on its anchor.

    F = 2·T·sin(δ/2)

    tension_kn: T in the rope [kN]; turn_rad: δ, by how much it turns the rope [rad]
    returns: F [kN]
    Source: HB, sum of two forces.

    >>> round(deviation_kn(1.0, math.pi / 3), 3)
    1.0
    """
    return 2 * tension_kn * math.sin(turn_rad / 2)


def swing_kn(weight_kn: float, height_m: float, aside_m: float) -> float:
    """What a rope gets when a rider held off to the side is let go.

    F = W·(3 − 2·cos α), α = atan(y/h)

    weight_kn: W [kN]; height_m: h [m]; aside_m: y [m]
    returns: F at the bottom of the swing [kN]
    Source: HB, a pendulum's energy.

    >>> round(swing_kn(1.0, 10.0, 0.0), 3), round(swing_kn(1.0, 10.0, 10.0), 3)
    (1.0, 1.586)
    """
    return weight_kn * (3 - 2 * math.cos(math.atan2(aside_m, height_m)))


def aids(ctx: Context, drop: Drop, load: Load, height: Number | None, found: Findings, book: Book) -> tuple[tuple[AidLoad, ...], Aside | None]:
    """Everything that holds rope or rider off the plumb line at one drop, with the findings about it.

    ctx: the plan's context; drop: the drop; load: the heaviest rider; height: of the drop; found, book: where findings and workings go
    returns: loads on the aids' own anchors, and what holds a rider to a landing off to the side
    Source: HB, statics; margins J and P.
    """
    made: list[AidLoad] = []
    margin = ctx.plan.policies.margin
    for n, d in enumerate(drop.station.deviations):
        key = f"deviation.{d.id}"
        if d.turn_deg.kind == "unknown" or load.static is None:
            found.add("deviation.unknown", "Not checked", key, "What {name} must hold is unknown", "Not checked: {why}.",
                      words={"name": d.name, "why": load.why if load.static is None else "by how much it turns the rope is unknown"})
        else:
            turn = Term("delta", f"turn at {d.name}", math.radians(d.turn_deg.value), "angle", f"entered: {d.turn_deg.method}")
            made.append(_aid(key, d.name, "2*T*sin(delta/2)", [turn], lambda t, d=d: deviation_kn(t, math.radians(d.turn_deg.value)), d.holds, load, margin, "deviation", found, book))
        if d.below_m.kind == "unknown":
            found.add("deviation.unknown", "Not checked", key, "How far down {name} is is unknown", "Reach and pull are not checked.", words={"name": d.name})
        if d.left_in:
            found.add("deviation.remove", "Caution", key, "{name} stays in and is pulled through", "The pull is worked out with it; it is not to be had back.", words={"name": d.name})
        else:
            found.add("deviation.remove", "Note", key, "The last person takes {name} out", "Their line and the pull are worked out without it; the rope swings to its own line as they do.", words={"name": d.name})
    if drop.station.traverse is not None:
        made += _traverse(ctx, drop.station.traverse, load, found, book)
    _stance(ctx, drop, found)
    return tuple(made), _aside(drop, load, height, found, book)


def _aid(key: str, name: str, formula: str, terms: list[Term], force: object, holds: Capacity, load: Load, margin: Margin, family: str, found: Findings, book: Book) -> AidLoad:
    """An aid's own anchor: its load at the still weight and at the peak, judged as any part is."""
    static = book.number(f"{key}.static", f"still load on {name}", formula, [computed("T", "the rider's weight", load.static), *terms], force(load.static.value), "force", "up")
    peak = book.number(f"{key}.peak", f"peak on {name}", formula, [computed("T", "peak of one rider", load.peak), *terms], force(load.peak.value), "force", "up")
    low, _, why = given(key, name, holds, book)
    if low is None:
        found.add(f"{family}.unknown", "Not checked", key, "What {name} holds is unknown", "It must hold a peak of {peak}; not checked: {why}.", numbers={"peak": peak}, words={"name": name, "why": why})
        return AidLoad(key, name, static, peak, None)
    required = _required(key, name, static, peak, margin, book)
    if low.value < required.value:
        found.add(f"{family}.weak", "Shortfall", key, "{name} holds {low}, needs {required}", "Its peak is {peak}.", numbers={"low": low, "required": required, "peak": peak}, words={"name": name}, working=required.working)
    return AidLoad(key, name, static, peak, low)


def _required(key: str, name: str, static: Number, peak: Number, margin: Margin, book: Book) -> Number:
    if margin.kind == "static ratio":
        times, of = row("loads", "margin.static"), static
        term = from_row("N", times, times.high, "ratio")
    else:
        times, of = row("loads", "margin.peak"), peak
        term = from_row("N", times, times.high, "ratio") if margin.kind == "peak" else Term("N", "the guide's own margin", margin.times, "ratio", "decided")
    return book.number(f"{key}.required", f"asked of {name}", "N*F", [term, computed("F", f"load on {name}", of)], term.value * of.value, "force", "up")


def _traverse(ctx: Context, line: Traverse, load: Load, found: Findings, book: Book) -> list[AidLoad]:
    made: list[AidLoad] = []
    if line.span_m.kind == "unknown" or line.sag_m.kind == "unknown" or load.static is None:
        found.add("traverse.unknown", "Not checked", "traverse", "What the traverse line puts on its anchors is unknown", "Not checked: {why}.",
                  words={"why": load.why if load.static is None else "its span or its sag is not measured"})
    else:
        # A line that sags less pulls more: the least sag over the longest span.
        sag, span = limits_m(line.sag_m)[0], limits_m(line.span_m)[1]
        terms = [Term("v", "sag, low end", sag, "fine length", f"entered: {line.sag_m.method}"), Term("b", "span, high end", span, "fine length", f"entered: {line.span_m.method}")]
        for end, holds in (("near", line.near), ("far", line.far)):
            made.append(_aid(f"traverse.{end}", f"traverse line, {end} anchor", "T*sqrt(1 + 4*(v/b)**2)/(4*(v/b))", terms,
                             lambda t, s=sag / span: traverse_tension_kn(t, s), holds, load, ctx.plan.policies.margin, "traverse", found, book))
    rope = ctx.ropes.get(line.rope)
    if rope is not None and rope.kind == "pull cord":
        found.add("system.cord-ridden", "Shortfall", "traverse", "{rope} is a pull cord and people would hang on it", "A pull cord cannot hold a person.", words={"rope": rope.name})
    whole = real_length(rope, Book()) if rope else None
    if rope is None or not isinstance(whole, tuple) or line.span_m.kind == "unknown":
        found.add("traverse.short", "Not checked", "traverse", "Whether the traverse line's rope is long enough is not checked", "Retrieved doubled it takes twice the span; not checked: {why}.",
                  words={"why": "its rope is not in the shed" if rope is None else whole.why if not isinstance(whole, tuple) else "its span is not measured"})
    else:
        low = real_length(rope, book)[0]
        span = limits_m(line.span_m)[1]
        spare = book.number("traverse.spare", "rope to spare on the traverse line, retrieved doubled", "L - 2*b", [
            computed("L", f"real length of {rope.name}, low end", low), Term("b", "span, high end", span, "fine length", f"entered: {line.span_m.method}")], low.value - 2 * span, "length", "down")
        if spare.value < 0:
            found.add("traverse.short", "Shortfall", "traverse", "{rope} is {short} too short to have the traverse line back", "Doubled it takes twice the span; knots come on top.",
                      numbers={"short": Number(-spare.value, "length", "up", spare.working)}, words={"rope": rope.name}, working=spare.working)
    return made


def _aside(drop: Drop, load: Load, height: Number | None, found: Findings, book: Book) -> Aside | None:
    aside = drop.landing.aside_m
    if aside.kind == "unknown":
        found.add("reach.aside", "Not checked", "reach", "How far the landing lies off to the side is unknown", "Reach and pull are not checked.")
        return None
    if aside.value == 0 or height is None:
        return None
    if load.static is None:
        found.add("reach.aside", "Not checked", "reach", "What holds a rider to a landing off to the side is unknown", "Not checked: {why}.", words={"why": load.why})
        return None
    high = limits_m(aside)[1]
    terms = [computed("W", "the rider's weight", load.static), Term("y", "off to the side, high end", high, "fine length", f"entered: {aside.method}"), computed("h", "height of the drop", height)]
    hold = book.number("aside.hold", "force that holds a rider to the landing", "W*y/h", terms, load.static.value * high / height.value, "force", "up")
    let_go = book.number("aside.swing", "on the rope if they are let go", "W*(3 - 2*cos(atan2(y, h)))", terms, swing_kn(load.static.value, height.value, high), "force", "up")
    found.add("reach.aside", "Caution", "reach", "The landing lies {y} off to the side", "It takes {hold} to hold a rider there; let go, they swing and the rope gets {swing}. The rope wears sideways on the edge.",
              numbers={"y": Number(high, "length", "up"), "hold": hold, "swing": let_go}, working=let_go.working)
    return Aside(hold, let_go)


def caught(drop: Drop, state: State, hanging: list[Strand], found: Findings) -> None:
    """What must pass a deviation that stays in as the rope is pulled: a join, a block, a knot that isolates damage.

    drop, state: where and how it is rigged; hanging: its strands; found: where findings go
    returns: nothing
    Source: P, common practice, no source: a knot or a carabiner does not run through a carabiner.
    """
    down = pulled_strand(state.system, hanging)
    if down is None:
        return
    what = "the join" if state.system.kind in ("joined", "blocked, pull cord") else f"the block{' and its carabiner' if state.system.carabiner else ''}" if state.system.kind == "blocked, same rope" else ""
    if not what and any(d.use == "knot passed" for s in hanging if s is not down for d in s.rope.damage):
        what = "the knot that isolates damage"
    for d in drop.station.deviations:
        if d.left_in and what:
            found.add("deviation.catches", "Shortfall", f"deviation.{d.id}", "{what} must pass {name}, which stays in", "It does not run through: the rope sticks there. Take the deviation out, or rig without a knot on the way.",
                      words={"what": what.capitalize(), "name": d.name})


def _stance(ctx: Context, drop: Drop, found: Findings) -> None:
    """At a hanging stance the next station is clipped before the rope is left."""
    if drop.landing.kind != "hanging stance":
        return
    used = {p.tether for p in ctx.plan.party if p.tether}
    tethers = [t for t in ctx.plan.shed.tethers if t.id in used]
    blank = next((t.name for t in tethers if t.length_m.kind == "unknown"), None)
    if drop.landing.next_m.kind == "unknown" or blank or not tethers:
        why = "how far it is is not measured" if drop.landing.next_m.kind == "unknown" else f"the length of {blank} is unknown" if blank else "nobody has a tether"
        found.add("reach.stance", "Not checked", "reach", "Whether the next station is within a tether's reach is not checked", "Not checked: {why}.", words={"why": why})
        return
    shortest = min(tethers, key=lambda t: t.length_m.value)
    away = limits_m(drop.landing.next_m)[1]
    if away > shortest.length_m.value:
        found.add("reach.stance", "Shortfall", "reach", "The next station is out of reach of {tether}", "It is up to {away} from where one hangs; the tether is {length} long.",
                  numbers={"away": Number(away, "fine length", "up"), "length": Number(shortest.length_m.value, "fine length", "down")}, words={"tether": shortest.name})
