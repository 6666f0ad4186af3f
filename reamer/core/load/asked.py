"""What a rider puts on the parts: weight, peak, what the margin policy asks, and a fall on a tether."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.anchor.holding import Named
from reamer.core.answer.findings import Fix, Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.model import Margin, OwnMargin, PeakMargin, Person, sure
from reamer.core.people.backups import last_riders
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class Weight:
    """Static weight and peak of somebody of known weight [kN]."""

    static: Number
    peak: Number


@dataclass(frozen=True, slots=True)
class Load:
    """A static weight and a peak [kN]; None where they are unknown, and why."""

    known: Weight | None
    why: str = ""

    @property
    def static(self) -> Number | None:
        """The static weight."""
        return self.known.static if self.known else None

    @property
    def peak(self) -> Number | None:
        """The peak."""
        return self.known.peak if self.known else None


@dataclass(frozen=True, slots=True)
class Asked:
    """What is asked of a part: the demand on it, and that times the margin. None while the load is unknown."""

    demand: Number | None
    required: Number | None


def static_kn(mass_kg: float) -> float:
    """A person's weight.

    W = m·g/1000

    mass_kg: m, with clothes, kit and a wet pack [kg]
    returns: W [kN]
    Source: HB, weight.

    >>> round(static_kn(100), 3)
    0.981
    """
    return mass_kg * row("loads", "g").low / 1000


def peak_kn(static_kn: float) -> float:
    """The peak load a careful rappel may reach.

    peak = max(2·W, 4.0 kN)

    static_kn: W of everyone on that strand [kN]
    returns: the peak [kN]
    Source: P and J, table of loads.

    >>> peak_kn(0.9)
    4.0
    """
    return max(row("loads", "peak.share").high * static_kn, row("loads", "peak.least").high)


def ring_load_kn(tension_kn: float, friction: float, wrap_rad: float, raising: bool = False) -> float:
    """What a rope that runs puts on its ring.

    R = T·√(1 + k² − 2k·cos θ), k = e^(−μθ) lowering, e^(+μθ) raising

    tension_kn: T on the loaded strand [kN]; friction: μ, its low end for lowering, its high end for raising [-]
    wrap_rad: θ, how far the rope wraps the ring [rad]; raising: or lowering
    returns: R [kN]
    Source: HB, capstan rule and the sum of two forces.

    >>> round(ring_load_kn(1.0, 0.0, math.pi), 2), round(ring_load_kn(1.0, 0.15, math.pi), 2)
    (2.0, 1.62)
    """
    k = math.exp((friction if raising else -friction) * wrap_rad)
    return tension_kn * math.sqrt(1 + k**2 - 2 * k * math.cos(wrap_rad))


def runs_by_itself(first_kn: float, second_kn: float, friction: float) -> bool:
    """Whether an unblocked rope with a person on each strand runs.

    W₁/W₂ > e^(μπ)

    first_kn, second_kn: their weights [kN]; friction: μ of the ring, its low end [-]
    returns: whether it runs
    Source: HB, capstan rule.

    >>> runs_by_itself(0.9, 0.5, 0.15), runs_by_itself(0.7, 0.6, 0.15)
    (True, False)
    """
    return max(first_kn, second_kn) / min(first_kn, second_kn) > math.exp(friction * math.pi)


def tether_fall_kn(static_kn: float, fall_factor: float, modulus_kn: float) -> float:
    """The peak force of a fall onto a tether.

    F = W + √(W² + 2·W·f·EA)

    static_kn: W, the person's weight [kN]; fall_factor: f, height fallen over the tether's length [-]
    modulus_kn: EA of the tether [kN]
    returns: F [kN]
    Source: HB, energy of a fall in a linear spring.

    >>> round(tether_fall_kn(static_kn(80), 1, 22 / 0.035), 0)
    32.0
    """
    return static_kn + math.sqrt(static_kn**2 + 2 * static_kn * fall_factor * modulus_kn)


def rope_modulus_kn(impact_kn: float, rated_static_kn: float) -> float:
    """A dynamic rope's modulus from its rated impact force.

    EA = F₀·(F₀ − 2·W₀)/(2·W₀·1.77)

    impact_kn: F₀ on the label [kN]; rated_static_kn: W₀ of the rating's mass [kN]
    returns: EA [kN]
    Source: HB, energy of a fall in a linear spring; EN 892's fall factor, from memory.

    >>> round(rope_modulus_kn(9, static_kn(80)), 1)
    24.1
    """
    return impact_kn * (impact_kn - 2 * rated_static_kn) / (2 * rated_static_kn * row("loads", "fall.rated").low)


def load_of(person: Person, key: str, book: Book) -> Weight:
    """Static weight and peak of one person.

    person: somebody whose weight is known; key: the workings' prefix; book: how numbers are made
    returns: the load [kN]
    Source: P and J, table of loads.
    """
    g, mass = row("loads", "g"), sure(person.mass_kg)
    terms = [
        Term(
            "m",
            f"mass of {person.name} with kit",
            mass.value,
            "mass",
            f"entered: {mass.method}",
            typed=typed(person, "mass_kg"),
        ),
        from_row("g", g, g.low, "share"),
    ]
    kn = static_kn(mass.value)
    static = book.number(f"{key}.static", f"weight of {person.name}", "m*g/1000", terms, kn, "force", "up")
    return Weight(static, _peak(f"{key}.peak", f"peak load of {person.name}", ("the rider's weight", static), book))


def _peak(key: str, name: str, of: tuple[str, Number], book: Book) -> Number:
    """The peak that a weight may reach."""
    share, least = row("loads", "peak.share"), row("loads", "peak.least")
    terms = [from_row("p", share, share.high, "ratio"), computed("W", *of), from_row("P0", least, least.high, "force")]
    return book.number(key, name, "max(p*W, P0)", terms, peak_kn(of[1].value), "force", "up")


def pair_load(one: Weight, other: Person, key: str, book: Book) -> Weight:
    """Static weight and peak of two on one device or strand: both as one.

    one: the first's; other: somebody whose weight is known; key: the workings' prefix; book: how numbers are made
    returns: the load [kN]
    Source: P and J, table of loads.
    """
    second = load_of(other, f"{key}.second", book)
    terms = [
        computed("W1", "weight of the first", one.static),
        computed("W2", f"weight of {other.name}", second.static),
    ]
    weight = one.static.value + second.static.value
    static = book.number(f"{key}.two.static", "weight of two riders", "W1 + W2", terms, weight, "force", "up")
    return Weight(static, _peak(f"{key}.two.peak", "peak of two riders", ("weight of two riders", static), book))


def rider_load(look: Look) -> Says[Load]:
    """Static weight and peak of the heaviest rider.

    look: the station
    returns: the load [kN], or why it is unknown
    Source: P and J, table of loads.
    """
    ctx = look.ctx
    if ctx.heaviest is None:
        title, why = "The load is unknown", "Strength is not checked: {why}."
        yield say("load.unknown", "Not checked", "load", title, why, why=ctx.weight_unknown)
        return Load(None, ctx.weight_unknown)
    return Load(load_of(ctx.heaviest, "load", look.book))


def last_alone(look: Look) -> bool:
    """Whether this is how the last person finds the station, and nobody rides with them.

    look: the station
    returns: false where the last two go on one device
    Source: P, common practice, no source.
    """
    if look.state.serves != "last":
        return False
    tandem = any(b.by == "tandem" for b in look.station.through.backups)
    return not tandem or len(last_riders(look.ctx, look.drop)) < 2


def riders(look: Look) -> tuple[Person, ...]:
    """Who rides at once where that asks most: the heaviest, and with them the next heaviest where two do.

    look: the station
    returns: one or two of the party; none where somebody's weight is not known
    Source: P, common practice, no source; the last person rides alone.
    """
    heaviest = look.ctx.heaviest
    if heaviest is None:
        return ()
    alone = look.station.together == "no" and not look.station.two_on_one
    others = [p for p in look.plan.party if p.id != heaviest.id]
    if last_alone(look) or alone or not others:
        return (heaviest,)
    return heaviest, max(others, key=lambda p: sure(p.mass_kg).value)


def two_riders(look: Look, load: Load) -> Says[Load]:
    """The load of two who ride at once, the heaviest of the party; the last person rides alone.

    look: the station, and whether they ride on a strand each or both on one; load: the heaviest rider's
    returns: the load on the station [kN]
    Source: P and J, table of loads: on strands of their own the peak of the heavier and the weight of the lighter; on
        one, both as one.
    """
    who, first, book = riders(look), load.known, look.book
    alone = look.station.together == "no" and not look.station.two_on_one
    if last_alone(look) or alone or first is None or not who:
        return load
    if len(who) < 2:
        title = "Two are to ride at once, and the party is one"
        yield say("load.hanging", "Not checked", "load", title, "Their weight is not counted.")
        return load
    heaviest, second = who
    if look.station.two_on_one:
        return Load(pair_load(first, second, "load", book))
    own = load_of(second, "load.second", book)
    terms = [
        computed("W1", f"weight of {heaviest.name}", first.static),
        computed("W2", f"weight of {second.name}", own.static),
    ]
    weight = first.static.value + own.static.value
    static = book.number("load.two.static", "weight of two riders", "W1 + W2", terms, weight, "force", "up")
    yield from _together(look, first.static.value / own.static.value)
    name, value = "peak of the heavier rider and weight of the lighter", first.peak.value + own.static.value
    terms = [computed("P", "peak of the heavier", first.peak), terms[1]]
    return Load(Weight(static, book.number("load.two.peak", name, "P + W2", terms, value, "force", "up")))


def _together(look: Look, ours: float) -> Says[None]:
    """Two on strands that nothing blocks, the one so many times as heavy as the other. Source: HB, capstan rule."""
    if look.system.kind not in ("doubled", "joined"):
        if look.system.kind != "none":
            yield from _one_strand(look)
        return
    limit = math.exp(row("friction", "ring").low * math.pi)
    yield say(
        "system.together",
        "Shortfall" if ours > limit else "Caution",
        "system",
        "Two ride at once on strands that nothing blocks",
        "The rope runs as soon as one side carries {limit} the other's weight, and at once when one unclips; here"
        " it is {ours}. Block it, or both stay clipped to something else.",
        limit=Number(limit, "ratio", "down"),
        ours=Number(ours, "ratio", "up"),
    )


def _one_strand(look: Look) -> Says[None]:
    """Two who are to ride a strand each where there is one to ride. Source: P, the table of rope systems."""
    system, ropes = look.system, look.ctx.ropes
    cord = ropes.get(system.cord) if system.kind == "blocked, pull cord" else None
    why = "The second has no strand of their own to ride."
    if cord is not None:
        why = "The second would ride {cord}, the strand that is pulled: nothing holds it at the ring."
        why += " A pull cord cannot hold a person." if cord.kind == "pull cord" else ""
    elif system.kind in ("blocked, same rope", "alternating bights"):
        why = "The second would ride the strand that is pulled: nothing holds it at the ring."
    edit = look.station_place.at(lambda station: station.together).set("no")
    fix = Fix(Sentence("Let them ride one after the other"), (edit,))
    title, name = "Two are to ride a strand each, and one is ridden", cord.name if cord is not None else None
    yield say("system.together", "Shortfall", "system", title, why, cord=name, fix=fix)


def hanging(load: Load, people: list[Person], book: Book) -> Load:
    """The load on the anchor when others hang from it besides the rider: the rider's peak and their still weight.

    load: the rider's; people: who hangs, their weights known; book: how numbers are made
    returns: the load on the anchor [kN]
    Source: P, common practice, no source: not everyone's peak comes at once.
    """
    rider = load.known
    if not people or rider is None:
        return load
    each = [(f"W{i}", p, load_of(p, f"load.{p.id}", book).static) for i, p in enumerate(people, 1)]
    others = [computed(symbol, f"weight of {p.name}", n) for symbol, p, n in each]
    symbols, weight = " + ".join(t.symbol for t in others), sum(t.value for t in others)
    name = "weight of the rider and of those who hang at the station"
    terms = [computed("W", "the rider's weight", rider.static)]
    value = rider.static.value + weight
    static = book.number("load.all.static", name, f"W + {symbols}", [*terms, *others], value, "force", "up")
    name = "peak of the rider and weight of those who hang at the station"
    terms = [computed("P", "peak of one rider", rider.peak)]
    value = rider.peak.value + weight
    peak = book.number("load.all.peak", name, f"P + {symbols}", [*terms, *others], value, "force", "up")
    return Load(Weight(static, peak))


def asked(of: Named, load: Load, share: float | Number, margin: Margin, book: Book) -> Asked:
    """Demand on a part and what the policy asks of it.

    of: the part; load: the rider; share: of the load on this part, or as computed [-]; margin: the plan's policy
    book: how numbers are made
    returns: demand and requirement [kN]
    Source: J and P, table of loads.
    """
    key, name, rider = of.key, of.name, load.known
    if rider is None:
        return Asked(None, None)
    what = f"share of the load on {name}"
    term = computed("s", what, share) if isinstance(share, Number) else Term("s", what, share, "share", "HB: statics")
    peak = computed("P", "peak of one rider", rider.peak)
    value = term.value * rider.peak.value
    demand = book.number(f"{key}.demand", f"peak on {name}", "s*P", [term, peak], value, "force", "up")
    if margin.kind == "static ratio":
        ratio, weight = row("loads", "margin.static"), rider.static
        terms = [from_row("N", ratio, ratio.high, "ratio"), term, computed("W", "weight of one rider", weight)]
        formula, value = "N*s*W", ratio.high * term.value * weight.value
    else:
        times = margin_term(margin)
        formula, value, terms = "N*D", times.value * demand.value, [times, computed("D", f"peak on {name}", demand)]
    return Asked(demand, book.number(f"{key}.required", f"asked of {name}", formula, terms, value, "force", "up"))


@dataclass(frozen=True, slots=True)
class MarginSaid:
    """What a plan's margin asks, in words, and the least number of a guide's own that needs no reason."""

    asks: Sentence
    least: Number


def margin_said(margin: Margin) -> MarginSaid:
    """What a plan's margin asks of every part.

    margin: the plan's policy
    returns: in words, and the least
    Source: J and P, table of loads, or the guide's own.
    """
    least = Number(row("loads", "margin.peak").high, "ratio", "up")
    if margin.kind == "static ratio":
        return MarginSaid(
            Sentence("{n} its static load", {"n": Number(row("loads", "margin.static").high, "ratio")}), least
        )
    return MarginSaid(Sentence("{n} its peak", {"n": Number(margin_term(margin).value, "ratio")}), least)


def margin_term(margin: PeakMargin | OwnMargin) -> Term:
    """How many times the peak a part must hold, as a term N.

    margin: the plan's policy
    returns: the term
    Source: J and P, table of loads, or the guide's own.
    """
    if margin.kind == "own":
        return Term("N", "the guide's own margin", margin.times, "ratio", "decided", typed=("policies/margin",))
    times = row("loads", "margin.peak")
    return from_row("N", times, times.high, "ratio")
