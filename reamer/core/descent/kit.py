"""What is carried and by whom, what stays behind at each station, and what comes home."""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import dataclass

from reamer.core.anchor.cutting import WebbingAssessment
from reamer.core.answer.context import Context
from reamer.core.answer.findings import Finding, Fix, Say, say
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.descent.ledger import carried, used
from reamer.core.model import Drop, Figure, IceThread, Plan, Rope, State, Unknown
from reamer.core.plan.edits import PLAN, Edit
from reamer.core.plan.rigs import tied_to
from reamer.core.rope.length import real_length
from reamer.core.rope.weight import mass_kg_m
from reamer.core.station.ways import least_m
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class Item:
    """A thing that is carried: its key, what it is, what it weighs [kg], None where nobody has weighed it; a rope's
    room in a bag [l]; who carries it, "" if nobody has said; whether it comes home, all of it or in part."""

    key: str
    kind: str
    name: str
    kg: Number | None
    why: str
    litres: tuple[Number, Number] | None
    by: str
    home: str


@dataclass(frozen=True, slots=True)
class BorneBy:
    """A person with what they carry: its weight, low to high, and how many things of it nobody has weighed."""

    person: str
    kg: Number
    unknown: int


@dataclass(frozen=True, slots=True)
class Left:
    """What stays at one station: things by name, each with how many or how much."""

    drop: str
    number: int
    things: tuple[Sentence, ...]


@dataclass(frozen=True, slots=True)
class Kit:
    """Everything that is carried; who carries how much; what stays behind where, and in all; webbing left whole after
    all is cut [m]; rings, cord and webbing that are spare; what comes home."""

    items: tuple[Item, ...]
    borne: tuple[BorneBy, ...]
    ropes_kg: Number
    unweighed: int
    left: tuple[Left, ...]
    left_in_all: tuple[Sentence, ...]
    spare: tuple[Sentence, ...]
    home: tuple[Sentence, ...]


def rope_kg(ctx: Context, rope: Rope, book: Book) -> Number | str:
    """What a rope weighs, dry.

    λ·L at its high end

    ctx: the plan's context; rope: the rope; book: how numbers are made
    returns: its weight [kg], or why it is not known
    Source: the label, or the rule for its mass per metre; J, table of ropes.
    """
    mass, length = mass_kg_m(rope, "no"), real_length(rope, Book(keeps=False))
    if mass is None:
        return f"neither the label nor the diameter of {rope.name} says what a metre weighs"
    if isinstance(length, Unknown):
        return length.why
    long = rope.measured_m if rope.measured_m.kind == "known" else rope.nominal_m
    metres = long.known or length[1].value
    terms = [
        Term(
            "lam",
            f"mass of a metre of {rope.name}",
            mass[1],
            "line mass",
            "the label, or the rule of its diameter",
            typed=typed(rope, "mass_kg_m", "diameter_mm"),
        ),
        Term(
            "L",
            f"length of {rope.name}",
            metres,
            "length",
            "entered",
            typed=typed(rope, "measured_m" if long is rope.measured_m else "nominal_m"),
        ),
    ]
    return book.number(
        f"kit.{rope.id}.kg", f"weight of {rope.name}, dry", "lam*L", terms, mass[1] * metres, "weight", "up"
    )


def _litres(rope: Rope) -> tuple[Number, Number] | None:
    """What room a rope takes in a bag."""
    d, long = rope.diameter_mm.known, rope.measured_m.known or rope.nominal_m.known
    if d is None or long is None:
        return None
    room = row("ropes", "bag.litres")
    return Number(room.low * d * d * long, "litres", "down"), Number(room.high * d * d * long, "litres", "up")


def last_state(drop: Drop) -> State:
    """The state in which a station is left.

    drop: the drop
    returns: whoever goes last leaves it so
    Source: none.
    """
    return drop.station.states[-1]


def threads_of(drop: Drop) -> list[IceThread]:
    """The ice threads that a station is tied to as it is left.

    drop: the drop
    returns: the threads
    Source: none, a look-up.
    """
    rig = last_state(drop).rig
    named = set(tied_to(rig))
    return [f for f in drop.station.features if f.kind == "ice thread" and f.id in named]


def rings_left(drop: Drop) -> Counter[str]:
    """Connectors of the shed that stay at a station.

    drop: the drop
    returns: by id how many
    Source: none, counting.
    """
    rig, made = last_state(drop).rig, Counter(d.ring for d in drop.station.deviations if d.left_in and d.ring)
    if rig.kind == "none":
        return made
    if rig.ring is not None:
        made[rig.ring] += 1
    for link in rig.links:
        if link.kind == "connector":
            made[link.ring] += 1
    return made


def _slings_left(ctx: Context, drop: Drop) -> Counter[str]:
    left = [d for d in drop.station.deviations if d.left_in and d.hung == "sling"]
    rig, made = last_state(drop).rig, Counter(d.sling for d in left if d.sling)
    if rig.kind == "none":
        return made
    made.update(link.sling for link in rig.links if link.kind == "sling")
    if rig.kind == "wrap" and rig.webbing in ctx.slings:
        made[rig.webbing] += 1
    if rig.kind == "several":
        made.update(leg.of for leg in rig.legs if leg.of in ctx.slings)
    return made


def new_threads(drop: Drop) -> list[IceThread]:
    """Ice threads that the party makes at a station and threads with cord, or may have to.

    drop: the drop
    returns: the threads, without those that are known to be in place
    Source: none, a look-up.
    """
    return [t for t in threads_of(drop) if t.cord is not None and t.in_place != "yes"]


def _loops(ctx: Context, drop: Drop) -> list[Rope]:
    """Cord or rope that legs of an anchor of several points are tied of, by the leg."""
    rig = last_state(drop).rig
    return [ctx.ropes[leg.of] for leg in rig.legs if leg.of in ctx.ropes] if rig.kind == "several" else []


def _weight(figure: Figure, what: str) -> tuple[Number | None, str]:
    known = figure.known
    return (Number(known, "weight", "up"), "") if known is not None else (None, f"nobody has weighed {what}")


def _items(ctx: Context, webbing: tuple[WebbingAssessment, ...], book: Book) -> list[Item]:
    """Everything there is to carry, but for what each person has on."""
    plan, by = ctx.plan, {b.what: b.by for b in ctx.plan.carry.borne}
    people = {p.id for p in plan.party}
    made: list[Item] = []

    def add(key: str, kind: str, name: str, kg: tuple[Number | None, str], home: str, rope: Rope | None = None) -> None:
        who = by.get(key, "")
        litres = _litres(rope) if rope is not None else None
        made.append(Item(key, kind, name, kg[0], kg[1], litres, who if who in people else "", home))

    cords = {t.cord for d in plan.drops for t in new_threads(d)}
    for rope in (ctx.ropes[i] for i in carried(plan) if i in ctx.ropes):
        got = rope_kg(ctx, rope, book)
        kg: tuple[Number | None, str] = (None, got) if isinstance(got, str) else (got, "")
        add(f"rope.{rope.id}", "rope", rope.name, kg, "yes", rope)
    for rope in (ctx.ropes[i] for i in sorted(c for c in cords if c in ctx.ropes and c not in carried(plan))):
        got = rope_kg(ctx, rope, book)
        kg = (None, got) if isinstance(got, str) else (got, "")
        add(f"cord.{rope.id}", "cord", f"{rope.name}, for threads", kg, "what is not left", rope)
    for w, a in zip(plan.shed.webbing, webbing, strict=True):
        if not a.cuts and not a.unknown:
            continue
        stock, mass = a.stock, w.mass_kg_m.known
        known = stock is not None and mass is not None
        kg = (
            (Number(stock.value * mass, "weight", "up"), "")
            if known and stock and mass
            else (None, f"nobody has weighed {w.name}")
        )
        add(f"webbing.{w.id}", "webbing", w.name, kg, "what is not cut", None)
    rings = sum((rings_left(d) for d in plan.drops), Counter[str]())
    for ring in plan.shed.rings:
        if (n := rings[ring.id]) > 0:
            one, why = _weight(ring.mass_kg, ring.name)
            total = Number(one.value * n, "weight", "up") if one is not None else None
            add(f"ring.{ring.id}", "ring", f"{n} × {ring.name}", (total, why), "no")
    loops = Counter(p.hitch.loop for p in plan.party if p.hitch is not None)
    for loop in plan.shed.loops:
        if (n := loops[loop.id]) > 0:
            one, why = _weight(loop.mass_kg, loop.name)
            total = Number(one.value * n, "weight", "up") if one is not None else None
            add(f"loop.{loop.id}", "loop", f"{n} × {loop.name}", (total, why), "yes")
    slings = sum((_slings_left(ctx, d) for d in plan.drops), Counter[str]())
    for sling in plan.shed.slings:
        if (n := slings[sling.id]) > 0:
            one, why = _weight(sling.mass_kg, sling.name)
            total = Number(one.value * n, "weight", "up") if one is not None else None
            add(f"sling.{sling.id}", "sling", f"{n} × {sling.name}", (total, why), "no")
    return made


def _borne(plan: Plan, items: list[Item]) -> tuple[BorneBy, ...]:
    made = []
    for p in plan.party:
        own = [i for i in items if i.by == p.id]
        total = math.fsum(i.kg.value for i in own if i.kg is not None)
        made.append(BorneBy(p.id, Number(total, "weight", "up"), sum(1 for i in own if i.kg is None)))
    return tuple(made)


def _left(ctx: Context, cuts: dict[str, list[tuple[str, Number]]]) -> tuple[list[Left], tuple[Sentence, ...]]:
    """What stays behind, by station and in all."""
    plan, made = ctx.plan, []
    metres, count = dict[str, float](), Counter[str]()
    for i, drop in enumerate(plan.drops, 1):
        things: list[Sentence] = []
        for name, long in cuts.get(drop.id, []):
            things.append(Sentence("{m} of {what}", {"m": long}, {"what": name}))
            metres[name] = metres.get(name, 0.0) + long.value
        named = {**{r.id: r.name for r in plan.shed.rings}, **{s.id: s.name for s in plan.shed.slings}}
        for key, n in (rings_left(drop) + _slings_left(ctx, drop)).items():
            if key in named:
                words = (
                    Sentence("{what}", {}, {"what": named[key]})
                    if n == 1
                    else Sentence("{n} × {what}", {"n": Number(n, "count")}, {"what": named[key]})
                )
                things.append(words)
                count[named[key]] += n
        for loop in _loops(ctx, drop):
            things.append(Sentence("a loop of {what}", {}, {"what": loop.name}))
            count[f"loop of {loop.name}"] += 1
        for thread in new_threads(drop):
            cord = ctx.ropes.get(thread.cord or "")
            if cord is not None:
                long = Number(row("ropes", "thread.cord").high, "fine length", "up")
                things.append(Sentence("{m} of {what}", {"m": long}, {"what": cord.name}))
                metres[cord.name] = metres.get(cord.name, 0.0) + long.value
        made.append(Left(drop.id, i, tuple(things)))
    total = [Sentence("{m} of {what}", {"m": Number(m, "fine length", "up")}, {"what": k}) for k, m in metres.items()]
    total += [Sentence("{n} × {what}", {"n": Number(n, "count")}, {"what": k}) for k, n in count.items()]
    return made, tuple(total)


def kit(ctx: Context, webbing: tuple[WebbingAssessment, ...], book: Book) -> tuple[Kit, tuple[Finding, ...]]:
    """What is carried, left behind and comes home.

    ctx: the plan's context; webbing: what the stations take of it; book: how numbers are made
    returns: the kit, and what is wrong with it
    Source: none, sums; J for what a thread takes, table of ropes.
    """
    plan, items = ctx.plan, _items(ctx, webbing, book)
    names = {w.id: w.name for w in plan.shed.webbing}
    cuts: dict[str, list[tuple[str, Number]]] = {}
    for a in webbing:
        for cut in a.cuts:
            cuts.setdefault(cut.drop, []).append((names[a.id], cut.length))
    left, total = _left(ctx, cuts)
    ropes = [i for i in items if i.kind == "rope"]
    terms = [computed(f"m{n}", i.name, i.kg) for n, i in enumerate((i for i in ropes if i.kg is not None), 1) if i.kg]
    weight = math.fsum(t.value for t in terms)
    formula = " + ".join(t.symbol for t in terms) or "0"
    ropes_kg = book.number("kit.ropes", "the ropes that are carried", formula, terms, weight, "weight", "up")
    made = Kit(
        tuple(items),
        _borne(plan, items),
        ropes_kg,
        sum(1 for i in ropes if i.kg is None),
        tuple(left),
        total,
        _spare(plan, webbing, names),
        tuple(Sentence("{what}", {}, {"what": i.name}) for i in items if i.home == "yes"),
    )
    return made, (*_cords(ctx, book), *_nobody(ctx, items))


def _spare(plan: Plan, webbing: tuple[WebbingAssessment, ...], names: dict[str, str]) -> tuple[Sentence, ...]:
    """What there is besides what the stations take."""
    made = []
    for a in webbing:
        long = max(a.left, key=lambda n: n.value, default=None)
        if long is not None and (a.cuts or a.unknown):
            made.append(Sentence("{m} of {what} in one piece", {"m": long}, {"what": names[a.id]}))
    rings, cord = plan.carry.rings.known, plan.carry.cord_m.known
    if rings:
        words = "a ring" if rings == 1 else "{n} rings"
        made.append(Sentence(words, {"n": Number(rings, "count")}))
    if cord:
        made.append(Sentence("{m} of cord", {"m": Number(cord, "fine length", "down")}))
    return tuple(made)


def _cords(ctx: Context, book: Book) -> list[Finding]:
    """Whether there is cord enough for the threads."""
    plan, takes, found = ctx.plan, row("ropes", "thread.cord"), []
    wanted = Counter(t.cord for d in plan.drops for t in new_threads(d) if t.cord is not None)
    for cord_id, n in wanted.items():
        cord, at = ctx.ropes.get(cord_id), []
        at = [(i, d) for i, d in enumerate(plan.drops) if any(t.cord == cord_id for t in new_threads(d))]
        if cord is None:
            continue
        told, drops, has = list[Say](), tuple(d.id for _, d in at), real_length(cord, Book(keeps=False))
        if cord_id in used(plan):
            title, why = "{cord} would be cut for the threads", "Stations are rigged with it, and want it whole."
            told.append(say("kit.cord", "Shortfall", f"rope.{cord.id}", title, why, cord=cord.name))
        if isinstance(has, Unknown):
            title, why = "Whether there is enough {cord} for the threads is not known", "Not checked: {why}."
            told.append(say("kit.cord", "Not checked", f"rope.{cord.id}", title, why, cord=cord.name, why=has.why))
        elif n * takes.high > has[0].value + 1e-9:
            terms = [Term("n", "threads", n, "count", "counted"), from_row("c", takes, takes.high, "fine length")]
            need = book.number(
                f"kit.cord.{cord.id}", f"{cord.name} for the threads", "n*c", terms, n * takes.high, "fine length", "up"
            )
            short = say(
                "kit.cord",
                "Shortfall",
                f"rope.{cord.id}",
                "Too little {cord} for the threads",
                "{n} threads take {need}; there is {has}." if n > 1 else "One thread takes {need}; there is {has}.",
                cord=cord.name,
                n=Number(n, "count") if n > 1 else None,
                need=need,
                has=Number(has[0].value, "fine length", "down"),
                working=need,
                fix=_other_cord(ctx, cord, at, has[0].value, wanted),
            )
            told.append(short)
        found += [said.finding(drops=drops) for said in told]
    return found


def _other_cord(ctx: Context, cord: Rope, at: list[tuple[int, Drop]], has_m: float, wanted: Counter[str]) -> Fix | None:
    """Another cord for the threads that there is not enough of this one for."""
    takes = row("ropes", "thread.cord").high
    too_many = at[int(has_m // takes) :]
    for other in ctx.ropes.values():
        room = least_m(ctx, other) - wanted[other.id] * takes
        if other.kind != "pull cord" or other.id == cord.id or room < len(too_many) * takes:
            continue
        if other.id in carried(ctx.plan) or other.diameter_mm.known is None or cord.diameter_mm.known is None:
            continue
        if other.diameter_mm.known < cord.diameter_mm.known:
            continue
        edits: list[Edit] = []
        for i, drop in too_many:
            for f, feature in enumerate(drop.station.features):
                if feature.kind == "ice thread" and feature.cord == cord.id:
                    place = PLAN.at(lambda p, i=i, f=f: p.drops[i].station.features[f])  # type: ignore[misc]
                    edits.append(place.of(IceThread).at(lambda t: t.cord).set(other.id))
        return Fix(Sentence("Thread {cord} there", {}, {"cord": other.name}), tuple(edits))
    return None


def _nobody(ctx: Context, items: list[Item]) -> list[Finding]:
    """Ropes that are carried and that nobody has, once it is said who carries what."""
    if not ctx.plan.carry.borne:
        return []
    title, why = "Nobody carries {rope}", "Others are given to somebody; this one is not."
    return [
        say("kit.nobody", "Caution", i.key, title, why, rope=i.name).finding()
        for i in items
        if i.kind == "rope" and not i.by
    ]
