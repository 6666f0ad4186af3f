"""The rider's end of the load path: the device ridden on, and the tether clipped in by, of the heaviest who uses each."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.anchor import wet_share
from reamer.core.context import Context
from reamer.core.findings import Findings
from reamer.core.loads import Asked, Load, asked, load_of, rope_modulus_kn, static_kn, tether_fall_kn
from reamer.core.model import Person, Tether
from reamer.core.part import Part, given, part
from reamer.core.patterns import retention
from reamer.core.say import Number
from reamer.core.tables import row
from reamer.core.working import Book, Term, computed, from_row

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
    Source: none, the worst of the stations.
    """
    at = {d.station.wet for d in ctx.plan.drops}
    return "yes" if "yes" in at else "unknown" if "unknown" in at else "no"


def _users(ctx: Context, what: str) -> dict[str, list[Person]]:
    made: dict[str, list[Person]] = {}
    for p in ctx.plan.party:
        if getattr(p, what):
            made.setdefault(getattr(p, what), []).append(p)
    return made


def _heaviest(people: list[Person]) -> Person | None:
    return None if any(p.mass_kg.kind == "unknown" for p in people) else max(people, key=lambda p: p.mass_kg.value)


def tether_holds(tether: Tether, key: str, wet: str, school: str, book: Book) -> tuple[Number | None, Number | None, str]:
    """What a tether holds with the knot in it.

    C = S·w·ρ

    tether: its strength S of the whole sling or rope; key: the workings' prefix; wet: yes, no or unknown
    school: of retention; book: where workings go
    returns: low, high [kN] and, where unknown, why
    Source: HB and P, knot table.
    """
    if tether.strength_kn.kind == "unknown":
        return None, None, f"the strength of {tether.name} is unknown"
    if tether.knot == "none" and wet == "no":
        return given(key, tether.name, tether.strength_kn, book)
    if tether.fibre == "unknown":
        return None, None, f"the fibre of {tether.name} is unknown"
    wet_row, kept = row("materials", f"wet.{tether.fibre}"), wet_share(tether.fibre, wet)
    ends = []
    for i, end in enumerate(("low", "high")):
        strength = tether.strength_kn.low_kn if end == "low" else tether.strength_kn.high_kn
        terms = [Term("S", f"strength of {tether.name}", strength, "force", tether.strength_kn.source),
                 Term("w", f"{wet_row.name}; gets wet: {wet}", kept[i], "share", wet_row.cited)]
        value, formula = strength * kept[i], "S*w"
        if tether.knot != "none":
            knot = retention(tether.knot, tether.fibre, school)
            if knot is None:
                return None, None, f"a {tether.knot} is not to be used in {tether.fibre}"
            rho = knot.low if end == "low" else knot.high
            terms.append(from_row("rho", knot, rho, "share"))
            value, formula = value * rho, formula + "*rho"
        ends.append(book.number(f"{key}.{end}", f"{tether.name}, {end} end", formula, terms, value, "force",
                                "down" if end == "low" else "up"))
    return ends[0], ends[1], ""


def _modulus(tether: Tether, key: str, book: Book) -> Number | str:
    """The stiffest the tether can be: lowest elongation, highest strength; a rope by its rated impact force."""
    if tether.made_of == "dynamic rope":
        if tether.impact_kn.kind == "unknown":
            return "its rated impact force is unknown"
        mass, rated = row("loads", f"fall.mass.{tether.rated}"), row("loads", "fall.rated")
        g = row("loads", "g")
        w0 = static_kn(mass.low)
        if tether.impact_kn.value <= 2 * w0:
            return "its rated impact force lies below twice the weight it is rated with"
        return book.number(f"{key}.modulus", f"stiffness of {tether.name}, EA", "F0*(F0 - 2*m0*g/1000)/(2*m0*g/1000*f0)", [
            Term("F0", "rated impact force", tether.impact_kn.value, "force", f"entered: {tether.impact_kn.method}"),
            from_row("m0", mass, mass.low, "mass"), from_row("g", g, g.low, "share"), from_row("f0", rated, rated.low, "ratio")],
            rope_modulus_kn(tether.impact_kn.value, w0), "force", "up")
    if tether.fibre == "unknown":
        return "its fibre is unknown"
    if tether.strength_kn.kind == "unknown":
        return "its strength is unknown"
    stretch = row("fibres", f"elongation.{tether.fibre}")
    return book.number(f"{key}.modulus", f"stiffness of {tether.name}, EA", "S/(e/100)", [
        Term("S", f"strength of {tether.name}, high end", tether.strength_kn.high_kn, "force", tether.strength_kn.source),
        from_row("e", stretch, stretch.low, "percent")], tether.strength_kn.high_kn / (stretch.low / 100), "force", "up")


def tether_assessments(ctx: Context, book: Book) -> tuple[TetherAssessment, ...]:
    """Every tether of the shed that somebody uses or could: what it holds, wet if any station is, and what falls would put on it.

    ctx: the plan's context; book: where workings go
    returns: one a tether [kN]
    Source: HB, energy of a fall in a linear spring; the highest demand of the range.
    """
    users, made = _users(ctx, "tether"), []
    for tether in ctx.plan.shed.tethers:
        key = f"tether.{tether.id}"
        low, high, why = tether_holds(tether, key, wettest(ctx), ctx.plan.policies.retention, book)
        people = users.get(tether.id) or list(ctx.plan.party)
        person = _heaviest(people) if people else None
        modulus = _modulus(tether, key, book)
        falls: list[Fall] = []
        if isinstance(modulus, str):
            why = why or modulus
        elif person is None:
            why = why or ("a user's weight is unknown" if people else "nobody is in the party")
        else:
            load = load_of(person, key, book)
            for f in FALL_FACTORS:
                force = book.number(f"{key}.fall.{f:g}", f"fall of factor {f:g} by {person.name} onto {tether.name}",
                                    "W + sqrt(W**2 + 2*W*f*EA)",
                                    [computed("W", f"weight of {person.name}", load.static), Term("f", "fall factor", f, "ratio", "chosen"),
                                     computed("EA", f"stiffness of {tether.name}", modulus)],
                                    tether_fall_kn(load.static.value, f, modulus.value), "force", "up")
                falls.append(Fall(Number(f, "ratio"), force))
        made.append(TetherAssessment(tether.id, person.name if person and users.get(tether.id) else "", low, high, tuple(falls), why))
    return tuple(made)


def rider_parts(ctx: Context, wet: str, book: Book) -> list[Part]:
    """Devices and tethers as parts of the load path, each asked for its own heaviest user.

    ctx: the plan's context; wet: whether the station gets wet; book: where workings go
    returns: the parts; what nobody has named is a part that is not checked [kN]
    Source: P and J, table of loads.
    """
    return list(ctx.once(("rider", wet), (), book, lambda own: _rider_parts(ctx, wet, own)))


def _rider_parts(ctx: Context, wet: str, book: Book) -> list[Part]:
    made = []
    for what, where, things in (("device", "riding", ctx.plan.shed.devices), ("tether", "clipped in", ctx.plan.shed.tethers)):
        by_id = {t.id: t for t in things}
        users = _users(ctx, what)
        without = [p.name for p in ctx.plan.party if getattr(p, what) not in by_id]
        for thing_id, people in users.items():
            if thing_id not in by_id:
                continue
            thing, key = by_id[thing_id], f"{what}.{thing_id}"
            person = _heaviest(people)
            load = load_of(person, key, book) if person else Load(None, None, "a user's weight is unknown")
            name = thing.name if len(users) == 1 and not without else f"{thing.name} ({person.name if person else people[0].name}{' and others' if len(people) > 1 else ''})"
            want = asked(key, name, load, 1.0, ctx.plan.policies.margin, book)
            holds = given(key, name, thing.rating_kn, book) if what == "device" else \
                tether_holds(thing, key, wet, ctx.plan.policies.retention, book)
            made.append(part(key, name, want, *holds, book, where=where))
        if without or not ctx.plan.party:
            who = " and ".join(without[:2]) + (f" and {len(without) - 2} more" if len(without) > 2 else "")
            made.append(part(f"{what}.none", f"{what} of {who or 'the rider'}", Asked(None, None), None, None, "nobody has said", book, where=where))
    return made


def rider_findings(ctx: Context, tethers: tuple[TetherAssessment, ...], found: Findings, book: Book) -> None:
    """What is to be said of devices and tethers, once for the whole plan.

    ctx: the plan's context; tethers: as computed; found, book: where findings and workings go
    returns: nothing
    Source: HB and P; see the functions it calls.
    """
    for p in rider_parts(ctx, wettest(ctx), book) if ctx.plan.party else ():
        what = p.key.split(".")[0]
        if p.key.endswith(".none"):
            found.add(f"{what}.none", "Not checked", p.key, "The {part} is not entered",
                      "Choose one for each person under Shed; until then it is not part of what was checked.", words={"part": p.name})
        elif p.low is None:
            found.add(f"{what}.unknown", "Not checked", p.key, "What {part} holds is unknown", "Not checked: {why}.",
                      words={"part": p.name, "why": p.why})
        elif p.required is not None and p.low.value < p.required.value:
            found.add(f"{what}.weak", "Shortfall", p.key, "{part} holds {low}, needs {required}",
                      "Its low end is {times} its peak of {demand}.", working=p.low.working, words={"part": p.name},
                      numbers={"low": p.low, "required": p.required, "times": p.times, "demand": p.demand})
    used = {p.device for p in ctx.plan.party if p.device}
    for d in ctx.plan.shed.devices:
        blank = [what for unknown, what in ((d.thinnest_mm.kind == "unknown" or d.thickest_mm.kind == "unknown", "how thin or thick a rope"), (d.strands == "unknown", "one strand or two")) if unknown]
        if d.id in used and blank:
            found.add("device.range", "Not checked", f"device.{d.id}", "For which ropes {device} is stated is unknown", "Not checked: {why}. Its maker's sheet says so.", words={"device": d.name, "why": " and ".join(blank)})
    names, kept = ({t.id: t.name for t in ctx.plan.shed.tethers}, {t.id: t.kept for t in ctx.plan.shed.tethers})
    for t in tethers:
        worst = t.falls[-1] if t.falls else None
        if t.user and worst and t.low and worst.force.value > t.low.value and kept[t.id] != "tight, below the point":
            # With slack it is a fall to be reckoned with; where nobody has said how it is kept, it is the rule to keep it tight.
            found.add("tether.fall", "Shortfall" if kept[t.id] == "with slack" else "Caution", f"tether.{t.id}", "{tether} may break in a fall onto it",
                      "A fall of its own length by {user} puts {force} on it; it holds {low}. Keep it tight, and stay below what it is clipped to.",
                      numbers={"force": worst.force, "low": t.low}, words={"tether": names[t.id], "user": t.user}, working=worst.force.working)
        elif t.user and not t.falls:
            found.add("tether.fall", "Not checked", f"tether.{t.id}", "What a fall onto {tether} would do is unknown", "Not checked: {why}.",
                      words={"tether": names[t.id], "why": t.why})
