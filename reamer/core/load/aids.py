"""What holds a rope or a person off the plumb line: deviations, traverse lines, landings off to the side, hanging
stances."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from reamer.core.anchor.holding import Named, given
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.load.asked import Load, Weight, margin_term
from reamer.core.model import Capacity, Deviation, Traverse, Unknown
from reamer.core.plan.limits import limits_m
from reamer.core.rope.length import real_length
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class AidLoad:
    """What a deviation or a traverse line puts on an anchor of its own: at the still weight and at the peak, and what
    it holds."""

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


def aids(look: Look, load: Load, height: Number | None) -> tuple[tuple[AidLoad, ...], Aside | None]:
    """Everything that holds rope or rider off the plumb line at one drop, with the findings about it.

    look: the station; load: the heaviest rider; height: of the drop
    returns: loads on the aids' own anchors, and what holds a rider to a landing off to the side
    Source: HB, statics; margins J and P.
    """
    made = [aid for d in look.station.deviations if (aid := _deviation(look, d, load)) is not None]
    if look.station.traverse is not None:
        made += _traverse(look, look.station.traverse, load)
        _traverse_rope(look, look.station.traverse)
    _stance(look)
    return tuple(made), _aside(look, load, height)


def _deviation(look: Look, d: Deviation, load: Load) -> AidLoad | None:
    """One deviation: its own anchor, and what becomes of it."""
    key, turn, add, made = f"deviation.{d.id}", d.turn_deg, look.found.add, None
    if turn.kind == "unknown" or load.known is None:
        why = load.why if load.known is None else "by how much it turns the rope is unknown"
        title = "What {name} must hold is unknown"
        add("deviation.unknown", "Not checked", key, title, "Not checked: {why}.", name=d.name, why=why)
    else:
        delta = math.radians(turn.value)
        terms = [Term("delta", f"turn at {d.name}", delta, "angle", f"entered: {turn.method}")]
        pull = _Pull("2*T*sin(delta/2)", terms, lambda tension: deviation_kn(tension, delta))
        made = _aid(look, Named(key, d.name), pull, d.holds, load.known)
    if d.below_m.kind == "unknown":
        title, why = "How far down {name} is is unknown", "Reach and pull are not checked."
        add("deviation.unknown", "Not checked", key, title, why, name=d.name)
    if d.left_in:
        title, why = (
            "{name} stays in and is pulled through",
            "The pull is worked out with it; it is not to be had back.",
        )
        add("deviation.remove", "Caution", key, title, why, name=d.name)
    else:
        title = "The last person takes {name} out"
        why = "Their line and the pull are worked out without it; the rope swings to its own line as they do."
        add("deviation.remove", "Note", key, title, why, name=d.name)
    return made


@dataclass(frozen=True, slots=True)
class _Pull:
    """What an aid's anchor gets of a tension T: its formula, the formula's other terms, and how it is computed."""

    formula: str
    terms: list[Term]
    of: Callable[[float], float]


def _aid(look: Look, of: Named, pull: _Pull, holds: Capacity, load: Weight) -> AidLoad:
    """An aid's own anchor: its load at the still weight and at the peak, judged as any part is."""
    key, name, family, book = of.key, of.name, of.key.split(".")[0], look.book

    def one(end: str, what: str, whose: str, n: Number) -> Number:
        terms = [computed("T", whose, n), *pull.terms]
        return book.number(f"{key}.{end}", f"{what} on {name}", pull.formula, terms, pull.of(n.value), "force", "up")

    static = one("static", "still load", "the rider's weight", load.static)
    peak, has = one("peak", "peak", "peak of one rider", load.peak), given(of, holds, book)
    if has.low is None:
        title, why = "What {name} holds is unknown", "It must hold a peak of {peak}; not checked: {why}."
        look.found.add(f"{family}.unknown", "Not checked", key, title, why, peak=peak, name=name, why=has.why)
        return AidLoad(key, name, static, peak, None)
    margin, load_on = look.policies.margin, peak
    if margin.kind == "static ratio":
        times, load_on = row("loads", "margin.static"), static
        term = from_row("N", times, times.high, "ratio")
    else:
        term = margin_term(margin)
    terms, value = [term, computed("F", f"load on {name}", load_on)], term.value * load_on.value
    required = book.number(f"{key}.required", f"asked of {name}", "N*F", terms, value, "force", "up")
    if has.low.value < required.value:
        look.found.add(
            f"{family}.weak",
            "Shortfall",
            key,
            "{name} holds {low}, needs {required}",
            "Its peak is {peak}.",
            low=has.low,
            required=required,
            peak=peak,
            name=name,
            working=required.working,
        )
    return AidLoad(key, name, static, peak, has.low)


def _traverse(look: Look, line: Traverse, load: Load) -> list[AidLoad]:
    """The two anchors of a traverse line."""
    if line.span_m.kind == "unknown" or line.sag_m.kind == "unknown" or load.known is None:
        why = load.why if load.known is None else "its span or its sag is not measured"
        title = "What the traverse line puts on its anchors is unknown"
        look.found.add("traverse.unknown", "Not checked", "traverse", title, "Not checked: {why}.", why=why)
        return []
    # A line that sags less pulls more: the least sag over the longest span.
    sag, span = limits_m(line.sag_m)[0], limits_m(line.span_m)[1]
    terms = [
        Term("v", "sag, low end", sag, "fine length", f"entered: {line.sag_m.method}"),
        Term("b", "span, high end", span, "fine length", f"entered: {line.span_m.method}"),
    ]
    pull = _Pull("T*sqrt(1 + 4*(v/b)**2)/(4*(v/b))", terms, lambda tension: traverse_tension_kn(tension, sag / span))
    return [
        _aid(look, Named(f"traverse.{end}", f"traverse line, {end} anchor"), pull, holds, load.known)
        for end, holds in (("near", line.near), ("far", line.far))
    ]


def _traverse_rope(look: Look, line: Traverse) -> None:
    """Whether the traverse line's rope may be hung on, and whether it can be had back."""
    rope, span, add, book = look.ctx.ropes.get(line.rope), line.span_m, look.found.add, look.book
    if rope is not None and rope.kind == "pull cord":
        title, why = "{rope} is a pull cord and people would hang on it", "A pull cord cannot hold a person."
        add("system.cord-ridden", "Shortfall", "traverse", title, why, rope=rope.name)
    # Its working is kept only where it is used.
    whole = real_length(rope, Book(book.prefix, False)) if rope else None
    if rope is None or whole is None or isinstance(whole, Unknown) or span.kind == "unknown":
        why = "its span is not measured"
        if rope is None:
            why = "its rope is not in the shed"
        elif isinstance(whole, Unknown):
            why = whole.why
        title = "Whether the traverse line's rope is long enough is not checked"
        said = "Retrieved doubled it takes twice the span; not checked: {why}."
        add("traverse.short", "Not checked", "traverse", title, said, why=why)
        return
    real_length(rope, book)
    most = limits_m(span)[1]
    terms = [
        computed("L", f"real length of {rope.name}, low end", whole[0]),
        Term("b", "span, high end", most, "fine length", f"entered: {span.method}"),
    ]
    name, value = "rope to spare on the traverse line, retrieved doubled", whole[0].value - 2 * most
    spare = book.number("traverse.spare", name, "L - 2*b", terms, value, "length", "down")
    if value < 0:
        title, why = "{rope} is {short} too short to have the traverse line back", "Doubled it takes twice the span; "
        short = Number(-value, "length", "up", spare.working)
        add(
            "traverse.short",
            "Shortfall",
            "traverse",
            title,
            why + "knots come on top.",
            short=short,
            rope=rope.name,
            working=spare.working,
        )


def _aside(look: Look, load: Load, height: Number | None) -> Aside | None:
    """What holds a rider to a landing off to the side, and what comes on the rope if they are let go."""
    aside, add, rider = look.drop.landing.aside_m, look.found.add, load.known
    if aside.kind == "unknown":
        title, why = "How far the landing lies off to the side is unknown", "Reach and pull are not checked."
        add("reach.aside", "Not checked", "reach", title, why)
        return None
    if aside.value == 0 or height is None:
        return None
    if rider is None:
        title = "What holds a rider to a landing off to the side is unknown"
        add("reach.aside", "Not checked", "reach", title, "Not checked: {why}.", why=load.why)
        return None
    high, w = limits_m(aside)[1], rider.static.value
    terms = [
        computed("W", "the rider's weight", rider.static),
        Term("y", "off to the side, high end", high, "fine length", f"entered: {aside.method}"),
        computed("h", "height of the drop", height),
    ]
    name, value = "force that holds a rider to the landing", w * high / height.value
    hold = look.book.number("aside.hold", name, "W*y/h", terms, value, "force", "up")
    formula, value = "W*(3 - 2*cos(atan2(y, h)))", swing_kn(w, height.value, high)
    let_go = look.book.number("aside.swing", "on the rope if they are let go", formula, terms, value, "force", "up")
    add(
        "reach.aside",
        "Caution",
        "reach",
        "The landing lies {y} off to the side",
        "It takes {hold} to hold a rider there; let go, they swing and the rope gets {swing}. The rope wears sideways"
        " on the edge.",
        y=Number(high, "length", "up"),
        hold=hold,
        swing=let_go,
        working=let_go.working,
    )
    return Aside(hold, let_go)


def _stance(look: Look) -> None:
    """At a hanging stance the next station is clipped before the rope is left."""
    landing, add = look.drop.landing, look.found.add
    if landing.kind != "hanging stance":
        return
    used = {p.tether for p in look.plan.party if p.tether}
    tethers = [(t.length_m.known, t) for t in look.plan.shed.tethers if t.id in used]
    blank = next((t.name for length, t in tethers if length is None), "")
    known = [(length, t) for length, t in tethers if length is not None]
    if landing.next_m.kind == "unknown" or blank or not known:
        why = f"the length of {blank} is unknown" if blank else "nobody has a tether"
        why = "how far it is is not measured" if landing.next_m.kind == "unknown" else why
        title = "Whether the next station is within a tether's reach is not checked"
        add("reach.stance", "Not checked", "reach", title, "Not checked: {why}.", why=why)
        return
    length, tether = min(known, key=lambda k: k[0])
    away = limits_m(landing.next_m)[1]
    if away > length:
        add(
            "reach.stance",
            "Shortfall",
            "reach",
            "The next station is out of reach of {tether}",
            "It is up to {away} from where one hangs; the tether is {length} long.",
            away=Number(away, "fine length", "up"),
            length=Number(length, "fine length", "down"),
            tether=tether.name,
        )
