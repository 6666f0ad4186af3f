"""The rider's end of the load path: the device ridden on, and the tether clipped in by, of the heaviest who uses
each."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from reamer.core.anchor.holding import Holds, Named, given, unheld
from reamer.core.answer.context import Context
from reamer.core.answer.findings import Says, say
from reamer.core.answer.say import TOWARD, Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.load.asked import (
    Asked,
    Load,
    Weight,
    asked,
    load_of,
    pair_load,
    rope_modulus_kn,
    static_kn,
    tether_fall_kn,
)
from reamer.core.load.part import Part, part
from reamer.core.model import Device, Person, Tether
from reamer.core.rope.knots import retention
from reamer.core.rope.wet import wet_term
from reamer.core.tables import RangeEnd, row

FALL_FACTORS = (0.25, 0.5, 1.0)


@dataclass(frozen=True, slots=True)
class Fall:
    """A fall onto a tether: how far for its length, and the peak force."""

    factor: Number
    force: Number


@dataclass(frozen=True, slots=True)
class TetherAssessment:
    """A tether: what it holds, and what a fall of its heaviest user would put on it. ``why``: what is unknown."""

    id: str
    user: str
    low: Number | None
    high: Number | None
    falls: tuple[Fall, ...]
    why: str


def wettest(ctx: Context) -> str:
    """Whether the party's own kit gets wet at any station of the plan.

    ctx: the plan's context
    returns: yes, unknown or no
    Source: none, the worst of the stations and of the ways to them.
    """
    at = {*(d.station.wet for d in ctx.plan.drops), *ctx.carried_wet}
    return "yes" if "yes" in at else "unknown" if "unknown" in at else "no"


def _users(ctx: Context, what: str) -> dict[str, list[Person]]:
    made: dict[str, list[Person]] = {}
    for p in ctx.plan.party:
        if getattr(p, what):
            made.setdefault(getattr(p, what), []).append(p)
    return made


def _heaviest(people: list[Person]) -> Person | None:
    weights = [(p.mass_kg.known, p) for p in people]
    known = [(kg, p) for kg, p in weights if kg is not None]
    return max(known, key=lambda k: k[0])[1] if known and len(known) == len(weights) else None


def tether_holds(tether: Tether, wet: str, school: str, book: Book) -> Holds:
    """What a tether holds with the knot in it.

    C = S·w·ρ

    tether: its strength S of the whole sling or rope; wet: yes, no or unknown
    school: of retention; book: how numbers are made
    returns: low, high [kN] and, where unknown, why
    Source: HB and P, knot table.
    """
    own, of = tether.strength_kn, Named(f"tether.{tether.id}", tether.name)
    if own.kind == "unknown":
        return unheld(f"the strength of {tether.name} is unknown")
    if tether.knot == "none" and wet == "no":
        return given(of, own, typed(tether, "strength_kn"), book)
    if tether.fibre == "unknown":
        return unheld(f"the fibre of {tether.name} is unknown")
    knot = retention(tether.knot, tether.fibre, school) if tether.knot != "none" else None
    if tether.knot != "none" and knot is None:
        return unheld(f"a {tether.knot} is not to be used in {tether.fibre}")

    def one(end: RangeEnd) -> Number:
        strength, wet_ = own.at(end), wet_term(tether.fibre, wet, end)
        terms = [
            Term("S", f"strength of {tether.name}", strength, "force", own.source, typed=typed(tether, "strength_kn")),
            wet_,
        ]
        value, formula = strength * wet_.value, "S*w"
        if knot is not None:
            terms.append(from_row("rho", knot, knot.at(end), "share"))
            value, formula = value * knot.at(end), "S*w*rho"
        return book.number(f"{of.key}.{end}", f"{of.name}, {end} end", formula, terms, value, "force", TOWARD[end])

    return Holds(one("low"), one("high"))


def _modulus(tether: Tether, book: Book) -> Number | str:
    """The stiffest the tether can be: lowest elongation, highest strength; a rope by its rated impact force."""
    key, name, impact, own = (
        f"tether.{tether.id}.modulus",
        f"stiffness of {tether.name}, EA",
        tether.impact_kn,
        tether.strength_kn,
    )
    if tether.made_of == "dynamic rope":
        if impact.kind == "unknown":
            return "its rated impact force is unknown"
        mass, rated, g = row("loads", f"fall.mass.{tether.rated}"), row("loads", "fall.rated"), row("loads", "g")
        w0 = static_kn(mass.low)
        if impact.value <= 2 * w0:
            return "its rated impact force lies below twice the weight it is rated with"
        terms = [
            Term(
                "F0",
                "rated impact force",
                impact.value,
                "force",
                f"entered: {impact.method}",
                typed=typed(tether, "impact_kn"),
            ),
            from_row("m0", mass, mass.low, "mass"),
            from_row("g", g, g.low, "share"),
            from_row("f0", rated, rated.low, "ratio"),
        ]
        formula = "F0*(F0 - 2*m0*g/1000)/(2*m0*g/1000*f0)"
        return book.number(key, name, formula, terms, rope_modulus_kn(impact.value, w0), "force", "up")
    if tether.fibre == "unknown":
        return "its fibre is unknown"
    if own.kind == "unknown":
        return "its strength is unknown"
    stretch = row("fibres", f"elongation.{tether.fibre}")
    terms = [
        Term(
            "S",
            f"strength of {tether.name}, high end",
            own.high_kn,
            "force",
            own.source,
            typed=typed(tether, "strength_kn"),
        ),
        from_row("e", stretch, stretch.low, "percent"),
    ]
    return book.number(key, name, "S/(e/100)", terms, own.high_kn / (stretch.low / 100), "force", "up")


def tether_assessments(ctx: Context, book: Book) -> tuple[TetherAssessment, ...]:
    """Every tether of the shed that somebody uses or could: what it holds, wet if any station is, and what falls would
    put on it.

    ctx: the plan's context; book: how numbers are made
    returns: one a tether [kN]
    Source: HB, energy of a fall in a linear spring; the highest demand of the range.
    """
    users, made = _users(ctx, "tether"), []
    for tether in ctx.plan.shed.tethers:
        holds = tether_holds(tether, wettest(ctx), ctx.plan.policies.retention, book)
        people = users.get(tether.id) or list(ctx.plan.party)
        person, why = _heaviest(people), holds.why
        modulus = _modulus(tether, book)
        falls: tuple[Fall, ...] = ()
        if isinstance(modulus, str):
            why = why or modulus
        elif person is None:
            why = why or ("a user's weight is unknown" if people else "nobody is in the party")
        else:
            falls = _falls(tether, person, modulus, book)
        user = person.name if person and users.get(tether.id) else ""
        made.append(TetherAssessment(tether.id, user, holds.low, holds.high, falls, why))
    return tuple(made)


def _falls(tether: Tether, person: Person, modulus: Number, book: Book) -> tuple[Fall, ...]:
    """What falls of somebody onto a tether would put on it."""
    key, made = f"tether.{tether.id}", []
    weight = load_of(person, key, book).static
    for f in FALL_FACTORS:
        terms = [
            computed("W", f"weight of {person.name}", weight),
            Term("f", "fall factor", f, "ratio", "chosen"),
            computed("EA", f"stiffness of {tether.name}", modulus),
        ]
        name, value = (
            f"fall of factor {f:g} by {person.name} onto {tether.name}",
            tether_fall_kn(weight.value, f, modulus.value),
        )
        force = book.number(f"{key}.fall.{f:g}", name, "W + sqrt(W**2 + 2*W*f*EA)", terms, value, "force", "up")
        made.append(Fall(Number(f, "ratio"), force))
    return tuple(made)


def rider_parts(ctx: Context, wet: str, two: bool, book: Book) -> list[Part]:
    """Devices and tethers as parts of the load path, each asked for its own heaviest user.

    ctx: the plan's context; wet: whether the station gets wet; two: whether two hang on one device; book: where
    workings go
    returns: the parts; what nobody has named is a part that is not checked [kN]
    Source: P and J, table of loads.
    """

    def make(own: Book) -> list[Part]:
        return [*_parts_of(ctx, "device", wet, two, own), *_parts_of(ctx, "tether", wet, False, own)]

    return list(ctx.once(("rider", wet, two), (), book, make))


def _with_heaviest(ctx: Context, person: Person, one: Weight, key: str, book: Book) -> Load:
    """What a device gets of its user and the heaviest of the others."""
    others = [p for p in ctx.plan.party if p.id != person.id]
    second = _heaviest(others)
    if others and second is None:
        return Load(None, "the weight of who hangs on it too is unknown")
    return Load(one if second is None else pair_load(one, second, key, book))


def _parts_of(ctx: Context, what: Literal["device", "tether"], wet: str, two: bool, book: Book) -> list[Part]:
    """The devices, or the tethers, that somebody uses; and who uses none."""
    shed, users, made = ctx.plan.shed, _users(ctx, what), []
    by_id: dict[str, Device | Tether] = {t.id: t for t in (shed.devices if what == "device" else shed.tethers)}
    without = [p.name for p in ctx.plan.party if getattr(p, what) not in by_id]
    for thing_id, people in users.items():
        thing = by_id.get(thing_id)
        if thing is None:
            continue
        key, person = f"{what}.{thing_id}", _heaviest(people)
        load = Load(load_of(person, key, book)) if person else Load(None, "a user's weight is unknown")
        if two and person is not None and load.known is not None:
            load = _with_heaviest(ctx, person, load.known, key, book)
        name = thing.name
        if len(users) > 1 or without:
            name += f" ({person.name if person else people[0].name}{' and others' if len(people) > 1 else ''})"
        of = Named(key, name)
        want = asked(of, load, 1.0, ctx.plan.policies.margin, book)
        if isinstance(thing, Device):
            holds = given(of, thing.rating_kn, typed(thing, "rating_kn"), book)
        else:
            holds = tether_holds(thing, wet, ctx.plan.policies.retention, book)
        made.append(part(of, want, holds, book))
    if without or not ctx.plan.party:
        who = " and ".join(without[:2]) + (f" and {len(without) - 2} more" if len(without) > 2 else "")
        none = Named(f"{what}.none", f"{what} of {who or 'the rider'}")
        made.append(part(none, Asked(None, None), unheld("nobody has said"), book))
    return [replace(p, where="clipped in") for p in made] if what == "tether" else made


def rider_findings(ctx: Context, tethers: tuple[TetherAssessment, ...], book: Book) -> Says[None]:
    """What is to be said of devices and tethers, once for the whole plan.

    ctx: the plan's context; tethers: as computed; found, book: where findings and workings go
    returns: nothing
    Source: HB and P; see the functions it calls.
    """
    two = any(d.station.two_on_one for d in ctx.plan.drops)
    for p in rider_parts(ctx, wettest(ctx), two, book) if ctx.plan.party else ():
        what = p.key.split(".")[0]
        if p.key.endswith(".none"):
            why = "Choose one for each person under Shed; until then it is not part of what was checked."
            yield say(f"{what}.none", "Not checked", p.key, "The {part} is not entered", why, part=p.name)
        elif p.low is None:
            title, why = "What {part} holds is unknown", "Not checked: {why}."
            yield say(f"{what}.unknown", "Not checked", p.key, title, why, part=p.name, why=p.why)
        elif p.required is not None and p.low.value < p.required.value:
            yield say(
                f"{what}.weak",
                "Shortfall",
                p.key,
                "{part} holds {low}, needs {required}",
                "Its low end is {times} its peak of {demand}.",
                part=p.name,
                low=p.low,
                required=p.required,
                times=p.times,
                demand=p.demand,
                working=p.low,
            )
    yield from _stated(ctx)
    for t in tethers:
        yield from _fall_finding(ctx, t)


def _stated(ctx: Context) -> Says[None]:
    """Devices in use of which nobody has said for what ropes they are stated."""
    used = {p.device for p in ctx.plan.party if p.device}
    for d in ctx.plan.shed.devices:
        blank = ["how thin or thick a rope"] if "unknown" in (d.thinnest_mm.kind, d.thickest_mm.kind) else []
        blank += ["one strand or two"] if d.strands == "unknown" else []
        if d.id in used and blank:
            title, why = (
                "For which ropes {device} is stated is unknown",
                "Not checked: {why}. Its maker's sheet says so.",
            )
            key = f"device.{d.id}"
            yield say("device.range", "Not checked", key, title, why, device=d.name, why=" and ".join(blank))


def _fall_finding(ctx: Context, t: TetherAssessment) -> Says[None]:
    """A fall onto a tether that somebody uses, against what it holds."""
    tether = next(x for x in ctx.plan.shed.tethers if x.id == t.id)
    worst, key = t.falls[-1] if t.falls else None, f"tether.{t.id}"
    if not t.user:
        return
    if worst is None:
        title, why = "What a fall onto {tether} would do is unknown", "Not checked: {why}."
        yield say("tether.fall", "Not checked", key, title, why, tether=tether.name, why=t.why)
    elif t.low and worst.force.value > t.low.value and tether.kept != "tight, below the point":
        # With slack it is a fall to be reckoned with; where nobody has said how it is kept, it is the rule to keep it
        # tight.
        yield say(
            "tether.fall",
            "Shortfall" if tether.kept == "with slack" else "Caution",
            key,
            "{tether} may break in a fall onto it",
            "A fall of its own length by {user} puts {force} on it; it holds {low}. Keep it tight, and stay below"
            " what it is clipped to.",
            force=worst.force,
            low=t.low,
            tether=tether.name,
            user=t.user,
            working=worst.force,
        )
