"""What holds a rope or a person off the plumb line: deviations, traverse lines, landings off to the side, hanging
stances."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from reamer.core.anchor.holding import Holds, Named, given, unheld
from reamer.core.answer.findings import Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import TOWARD, Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.load.asked import Load, Weight, margin_term
from reamer.core.load.hardware import sling_holds
from reamer.core.load.line import strung, worst
from reamer.core.load.ropes import by_rule, unknotted
from reamer.core.model import Deviation, Rope, Traverse, Unknown, sure
from reamer.core.plan.limits import limits_m
from reamer.core.plan.party import order_of
from reamer.core.rope.knots import retention_general
from reamer.core.rope.length import real_length, sound_piece
from reamer.core.rope.wet import wet_term
from reamer.core.tables import RangeEnd, row


@dataclass(frozen=True, slots=True)
class AidLoad:
    """What a deviation or a traverse line puts on an anchor of its own, or on its rope: at the still weight and at the
    peak, and what it holds."""

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


def aids(look: Look, load: Load, height: Number | None) -> Says[tuple[tuple[AidLoad, ...], Aside | None]]:
    """Everything that holds rope or rider off the plumb line at one drop, with the findings about it.

    look: the station; load: the heaviest rider; height: of the drop
    returns: loads on the aids' own anchors, and what holds a rider to a landing off to the side
    Source: HB, statics; margins J and P.
    """
    made: list[AidLoad] = []
    for d in look.station.deviations:
        made += yield from _deviation(look, d, load)
    if look.station.traverse is not None:
        made += yield from _traverse(look, look.station.traverse, load)
        yield from _traverse_rope(look, look.station.traverse)
    yield from _stance(look)
    return tuple(made), (yield from _aside(look, load, height))


def _deviation(look: Look, d: Deviation, load: Load) -> Says[list[AidLoad]]:
    """One deviation: its own anchor, and what becomes of it."""
    key, turn = f"deviation.{d.id}", d.turn_deg
    made: list[AidLoad] = []
    if turn.kind == "unknown" or load.known is None:
        why = load.why if load.known is None else "by how much it turns the rope is unknown"
        title = "What {name} must hold is unknown"
        yield say("deviation.unknown", "Not checked", key, title, "Not checked: {why}.", name=d.name, why=why)
    else:
        delta, of, weight = math.radians(turn.value), Named(key, d.name), load.known
        term = Term("delta", f"turn at {d.name}", delta, "angle", f"entered: {turn.method}", typed=typed(d, "turn_deg"))

        def one(end: str, what: str, whose: str, n: Number) -> Number:
            terms, value = [computed("T", whose, n), term], deviation_kn(n.value, delta)
            name = f"{what} on {d.name}"
            return look.book.number(f"{key}.{end}", name, "2*T*sin(delta/2)", terms, value, "force", "up")

        loads = (
            one("static", "still load", "the rider's weight", weight.static),
            one("peak", "peak", "peak of one rider", weight.peak),
        )
        made.append((yield from _aid(look, of, loads, given(of, d.holds, typed(d, "holds"), look.book))))
        for of, holds in _hangs(look, d):
            made.append((yield from _aid(look, of, loads, holds, key)))
    if d.below_m.kind == "unknown":
        title, why = "How far down {name} is is unknown", "Reach and pull are not checked."
        yield say("deviation.unknown", "Not checked", key, title, why, name=d.name)
    yield from _unsaid(look, d)
    yield from _removed(look, d)
    return made


def _hangs(look: Look, d: Deviation) -> list[tuple[Named, Holds]]:
    """What hangs a deviation on its anchor, and what that holds."""
    sling, ring = look.ctx.slings.get(d.sling or ""), look.ctx.rings.get(d.ring or "")
    key, made = f"deviation.{d.id}", []
    if d.hung == "sling" and sling is not None:
        of = Named(f"{key}.sling", f"{d.name}: {sling.name}")
        made.append((of, sling_holds(look, of, sling, ("straight", Unknown(kind="unknown")))))
    if ring is not None:
        of = Named(f"{key}.ring", f"{d.name}: {ring.name}")
        # Nobody says how it lies there: what opens or may turn is counted by the least of its ratings.
        ways = {"rating_kn": ring.rating_kn}
        if ring.kind not in ("ring", "plate"):
            ways |= {"cross_kn": ring.cross_kn} | ({} if ring.kind == "link" else {"open_kn": ring.open_kn})
        blank = any(c.kind == "unknown" for c in ways.values())
        at, least = min(ways.items(), key=lambda w: w[1].low_kn if w[1].kind == "range" else 0.0)
        holds = unheld("how it lies is not said, and not every rating of it is known") if blank else None
        made.append((of, holds or given(of, least, typed(ring, at), look.book)))
    return made


def _unsaid(look: Look, d: Deviation) -> Says[None]:
    """What nobody has said of a deviation: what hangs it, and who takes it out."""
    people = {p.id for p in look.plan.party}
    unsaid = [
        what
        for missing, what in (
            (d.hung == "unknown" or (d.hung == "sling" and d.sling not in look.ctx.slings), "what hangs it"),
            (d.ring not in look.ctx.rings, "which connector the rope runs through"),
            (not d.left_in and d.by not in people, "who takes it out"),
        )
        if missing
    ]
    if unsaid:
        title, why = "{name}: nobody has said {what}", "It carries what its anchor does"
        why += "." if d.left_in else "; left in by mistake, it turns the pull."
        what = " and ".join(", ".join(unsaid).rsplit(", ", 1))
        yield say("deviation.unsaid", "Not checked", f"deviation.{d.id}", title, why, name=d.name, what=what)


def _removed(look: Look, d: Deviation) -> Says[None]:
    """What becomes of a deviation, and who rides after it is gone."""
    key, order = f"deviation.{d.id}", [p.id for p in order_of(look.plan, look.drop)]
    after = len(order) - 1 - order.index(d.by) if d.by in order and not d.left_in else 0
    who = next((p.name for p in look.plan.party if p.id == d.by), "")
    if d.left_in:
        title = "{name} stays in and is pulled through"
        why = "The pull is worked out with it; it is not to be had back."
        yield say("deviation.remove", "Caution", key, title, why, name=d.name)
    elif after:
        title = "{who} takes {name} out, and {n} ride after"
        why = "They ride on the line without it, which nobody has checked for them. The last person takes it out."
        n = Number(after, "count")
        yield say("deviation.early", "Not checked", key, title, why, name=d.name, who=who, n=n)
    elif d.by in order:
        title = "{who} takes {name} out"
        why = "Their line and the pull are worked out without it; the rope swings to its own line as they do."
        yield say("deviation.remove", "Note", key, title, why, name=d.name, who=who)


def _aid(look: Look, of: Named, loads: tuple[Number, Number], has: Holds, about: str = "") -> Says[AidLoad]:
    """An aid's own anchor or rope, with its load at the still weight and at the peak, judged as any part is; about:
    what it is a part of, where it is not all of the aid."""
    key, name, family, book = of.key, of.name, of.key.split(".")[0], look.book
    about = about or key
    static, peak = loads
    if has.low is None:
        title, why = "What {name} holds is unknown", "It must hold a peak of {peak}; not checked: {why}."
        yield say(f"{family}.unknown", "Not checked", about, title, why, peak=peak, name=name, why=has.why)
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
        yield say(
            f"{family}.weak",
            "Shortfall",
            about,
            "{name} holds {low}, needs {required}",
            "Its peak is {peak}." + (" A line that sags more pulls less." if family == "traverse" else ""),
            low=has.low,
            required=required,
            peak=peak,
            name=name,
            working=required,
        )
    return AidLoad(key, name, static, peak, has.low)


def _traverse(look: Look, line: Traverse, load: Load) -> Says[list[AidLoad]]:
    """The two anchors of a traverse line, and its rope."""
    blank = next((f for f in (line.span_m, line.sag_m, line.slope_deg) if f.kind == "unknown"), None)
    if blank is not None or load.known is None:
        why = load.why if load.known is None else "its span, its sag or its slope is not measured"
        title = "What the traverse line puts on its anchors is unknown"
        yield say("traverse.unknown", "Not checked", "traverse", title, "Not checked: {why}.", why=why)
        return []
    rope, book = look.ctx.ropes.get(line.rope), look.book
    still, peak = (_pulls(look, line, load.known, of) for of in ("static", "peak"))
    made: list[AidLoad] = []
    for end, holds in (("near", line.near), ("far", line.far)):
        of = Named(f"traverse.{end}", f"traverse line, {end} anchor")
        made.append(
            (
                yield from _aid(
                    look, of, (still[end], peak[end]), given(of, holds, (f"{{station}}/traverse/{end}",), book)
                )
            )
        )
    if rope is not None:
        most = max(("near", "far"), key=lambda end: peak[end].value)
        of = Named("traverse.rope", f"traverse line, {rope.name}")
        made.append((yield from _aid(look, of, (still[most], peak[most]), strung_holds(look, of, rope))))
    return made


def _pulls(look: Look, line: Traverse, load: Weight, at: Literal["static", "peak"]) -> dict[str, Number]:
    """What either end of a traverse line gets, with somebody at the place that is worst for it [kN]."""
    # A line that sags less pulls more: the least sag over the longest span.
    sag, span = limits_m(sure(line.sag_m))[0], limits_m(sure(line.span_m))[1]
    rope, slope = look.ctx.ropes.get(line.rope), math.radians(sure(line.slope_deg).value)
    stiff = modulus(rope, look.book) if rope is not None else None
    own = strung(span, sag, slope, load.static.value, stiff.value if stiff is not None else None)
    weight = load.static if at == "static" else load.peak
    long = _hung(look, line, (span, sag, slope))
    what, made = "the rider's weight" if at == "static" else "peak of one rider", {}
    for end, pulls in zip(("near", "far"), worst(own, weight.value), strict=True):
        told = "HB: balance with the rider at the worst place"
        told += ", the rope taken not to stretch" if stiff is None else ""
        terms = [
            computed("P", what, weight),
            Term("b1", "fall of the near piece", pulls.near_rad, "angle", told),
            Term("b2", "fall of the far piece", pulls.far_rad, "angle", told),
            computed("L", "what they follow from: the line under the rider's weight", long),
            *([computed("EA", "and its stiffness", stiff)] if stiff is not None else []),
        ]
        value, other = (pulls.near_kn, "b2") if end == "near" else (pulls.far_kn, "b1")
        name = f"{'still load' if at == 'static' else 'peak'} on the traverse line, {end} end"
        slack = value == weight.value
        formula = "P" if slack else f"P*cos({other})/sin(b1 + b2)"
        key = f"traverse.{end}.{at}"
        made[end] = look.book.number(key, name, formula, terms[:1] if slack else terms, value, "force", "up")
    return made


def _hung(look: Look, line: Traverse, of: tuple[float, float, float]) -> Number:
    """How long a traverse line is under somebody at its middle: of its span and sag [m], and its fall [rad]."""
    span, sag, slope = of
    terms = [
        Term(
            "b",
            "span, high end",
            span,
            "length",
            f"entered: {sure(line.span_m).method}",
            typed=("{station}/traverse/span_m",),
        ),
        Term(
            "v",
            "sag, low end",
            sag,
            "fine length",
            f"entered: {sure(line.sag_m).method}",
            typed=("{station}/traverse/sag_m",),
        ),
        Term(
            "s",
            "fall of the line",
            slope,
            "angle",
            f"entered: {sure(line.slope_deg).method}",
            typed=("{station}/traverse/slope_deg",),
        ),
    ]
    near, far = "sqrt((b*cos(s)/2)**2 + (v + b*sin(s)/2)**2)", "sqrt((b*cos(s)/2)**2 + (v - b*sin(s)/2)**2)"
    out, down = span * math.cos(slope) / 2, span * math.sin(slope) / 2
    value = math.hypot(out, sag + down) + math.hypot(out, sag - down)
    name = "length of the traverse line under the rider's weight"
    return look.book.number("traverse.length", name, f"{near} + {far}", terms, value, "length", "down")


def modulus(rope: Rope, book: Book) -> Number | None:
    """The stiffest that a rope can be as it is strung.

    EA = S/e, S its unknotted strength at its high end, e its lowest elongation at break

    rope: any; book: how numbers are made
    returns: EA [kN], None where its strength is unknown: it is then taken not to stretch
    Source: J, table of ropes; HB, table of fibres where that is less.
    """
    own = rope.strength_kn
    if own.kind == "unknown":
        return None
    kind = row("ropes", "break.dynamic" if rope.kind.startswith("dynamic") else "break.low-stretch")
    fibre = row("fibres", f"elongation.{rope.fibre}") if rope.fibre not in ("nylon", "unknown") else None
    term, e, formula = from_row("e", kind, kind.low, "share"), kind.low, "S/e"
    if fibre is not None and fibre.low / 100 < e:
        term, e, formula = from_row("e", fibre, fibre.low, "percent"), fibre.low / 100, "S/(e/100)"
    terms = [
        Term(
            "S",
            f"strength of {rope.name}, high end",
            own.high_kn,
            "force",
            own.source,
            typed=typed(rope, "strength_kn"),
        ),
        term,
    ]
    name = f"stiffness of {rope.name}, EA"
    return book.number("traverse.modulus", name, formula, terms, own.high_kn / e, "force", "up")


def strung_holds(look: Look, of: Named, rope: Rope) -> Holds:
    """What a rope holds that is strung by a knot at either end, whichever.

    look: the station; of: the part; rope: any
    returns: low, high [kN] and, where unknown, why
    Source: P, the rule that a knot halves it.
    """
    if rope.strength_kn.kind == "unknown" and not by_rule(rope):
        return unheld(f"the breaking strength of {rope.name} is unknown")
    kept = retention_general(rope.fibre if rope.fibre != "unknown" else "HMPE")

    def one(end: RangeEnd) -> Number:
        strength, label = unknotted(rope, of.key, end, look.book)
        wet = wet_term(rope.fibre, look.kit_wet, end)
        value, terms = strength * wet.value * kept.at(end), [label, wet, from_row("rho", kept, kept.at(end), "share")]
        what = f"{of.name}, knotted, {end} end"
        return look.book.number(f"{of.key}.{end}", what, "S*w*rho", terms, value, "force", TOWARD[end])

    return Holds(one("low"), one("high"))


def _traverse_rope(look: Look, line: Traverse) -> Says[None]:
    """Whether the traverse line's rope may be hung on, and whether it can be had back."""
    rope, span, book = look.ctx.ropes.get(line.rope), line.span_m, look.book
    if rope is not None and rope.kind == "pull cord":
        title, why = "{rope} is a pull cord and people would hang on it", "A pull cord cannot hold a person."
        yield say("system.cord-ridden", "Shortfall", "traverse", title, why, rope=rope.name)
    past = next((d for end in ("a", "b") if rope and (d := sound_piece(rope).past(end)) is not None), None)
    if rope is not None and past is not None and past.at_m.kind == "known":
        title, why = "{rope} is strung past its damage", "At {at}. Cut it there and say so, or use another rope."
        place = Number(past.at_m.value, "length")
        yield say("rope.outside", "Shortfall", f"rope.{rope.id}", title, why, rope=rope.name, at=place)
    whole = real_length(rope, book) if rope else None
    if rope is None or whole is None or isinstance(whole, Unknown) or span.kind == "unknown":
        why = "its span is not measured"
        if rope is None:
            why = "its rope is not in the shed"
        elif isinstance(whole, Unknown):
            why = whole.why
        title = "Whether the traverse line's rope is long enough is not checked"
        said = "Retrieved doubled it takes twice the span; not checked: {why}."
        yield say("traverse.short", "Not checked", "traverse", title, said, why=why)
        return
    most = limits_m(span)[1]
    terms = [
        computed("L", f"real length of {rope.name}, low end", whole[0]),
        Term(
            "b", "span, high end", most, "fine length", f"entered: {span.method}", typed=("{station}/traverse/span_m",)
        ),
    ]
    name, value = "rope to spare on the traverse line, retrieved doubled", whole[0].value - 2 * most
    spare = book.number("traverse.spare", name, "L - 2*b", terms, value, "length", "down")
    if value < 0:
        title, why = "{rope} is {short} too short to have the traverse line back", "Doubled it takes twice the span; "
        short = Number(-value, "length", "up", spare.working, spare.behind)
        yield say(
            "traverse.short",
            "Shortfall",
            "traverse",
            title,
            why + "knots come on top.",
            short=short,
            rope=rope.name,
            working=spare,
        )


def _aside(look: Look, load: Load, height: Number | None) -> Says[Aside | None]:
    """What holds a rider to a landing off to the side, and what comes on the rope if they are let go."""
    aside, rider = look.drop.landing.aside_m, load.known
    if aside.kind == "unknown":
        title, why = "How far the landing lies off to the side is unknown", "Reach and pull are not checked."
        yield say("reach.aside", "Not checked", "reach", title, why)
        return None
    if aside.value == 0 or height is None:
        return None
    if rider is None:
        title = "What holds a rider to a landing off to the side is unknown"
        yield say("reach.aside", "Not checked", "reach", title, "Not checked: {why}.", why=load.why)
        return None
    high, w = limits_m(aside)[1], rider.static.value
    terms = [
        computed("W", "the rider's weight", rider.static),
        Term(
            "y",
            "off to the side, high end",
            high,
            "fine length",
            f"entered: {aside.method}",
            typed=("{drop}/landing/aside_m",),
        ),
        computed("h", "height of the drop", height),
    ]
    name, value = "force that holds a rider to the landing", w * high / height.value
    hold = look.book.number("aside.hold", name, "W*y/h", terms, value, "force", "up")
    formula, value = "W*(3 - 2*cos(atan2(y, h)))", swing_kn(w, height.value, high)
    let_go = look.book.number("aside.swing", "on the rope if they are let go", formula, terms, value, "force", "up")
    yield say(
        "reach.aside",
        "Caution",
        "reach",
        "The landing lies {y} off to the side",
        "It takes {hold} to hold a rider there; let go, they swing and the rope gets {swing}. The rope wears sideways"
        " on the edge.",
        y=Number(high, "length", "up"),
        hold=hold,
        swing=let_go,
        working=let_go,
    )
    return Aside(hold, let_go)


def _stance(look: Look) -> Says[None]:
    """At a hanging stance the next station is clipped before the rope is left."""
    landing = look.drop.landing
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
        yield say("reach.stance", "Not checked", "reach", title, "Not checked: {why}.", why=why)
        return
    length, tether = min(known, key=lambda k: k[0])
    away = limits_m(landing.next_m)[1]
    if away > length:
        yield say(
            "reach.stance",
            "Shortfall",
            "reach",
            "The next station is out of reach of {tether}",
            "It is up to {away} from where one hangs; the tether is {length} long.",
            away=Number(away, "fine length", "up"),
            length=Number(length, "fine length", "down"),
            tether=tether.name,
        )
