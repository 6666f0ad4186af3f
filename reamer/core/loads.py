"""What a rider puts on the parts: weight, peak, what the margin policy asks, and a fall on a tether."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.context import Context
from reamer.core.findings import Findings
from reamer.core.model import Margin, Person, Station
from reamer.core.say import Number
from reamer.core.tables import row
from reamer.core.working import Book, Term, computed, from_row


@dataclass(frozen=True, slots=True)
class Load:
    """A rider's static weight and peak, or why they are unknown."""

    static: Number | None
    peak: Number | None
    why: str


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


def load_of(person: Person, key: str, book: Book) -> Load:
    """Static weight and peak of one person.

    person: somebody whose weight is known; key: the workings' prefix; book: where workings go
    returns: the load [kN]
    Source: P and J, table of loads.
    """
    g, mass = row("loads", "g"), person.mass_kg
    static = book.number(f"{key}.static", f"weight of {person.name}", "m*g/1000",
                         [Term("m", f"mass of {person.name} with kit", mass.value, "mass", f"entered: {mass.method}"),
                          from_row("g", g, g.low, "share")], static_kn(mass.value), "force", "up")
    share, least = row("loads", "peak.share"), row("loads", "peak.least")
    peak = book.number(f"{key}.peak", f"peak load of {person.name}", "max(p*W, P0)",
                       [from_row("p", share, share.high, "ratio"), computed("W", "the rider's weight", static),
                        from_row("P0", least, least.high, "force")], peak_kn(static.value), "force", "up")
    return Load(static, peak, "")


def rider_load(ctx: Context, found: Findings, book: Book) -> Load:
    """Static weight and peak of the heaviest rider.

    ctx: the plan's context; found, book: where findings and workings go
    returns: the load [kN], or why it is unknown
    Source: P and J, table of loads.
    """
    if ctx.heaviest is None:
        found.add("load.unknown", "Not checked", "load", "The load is unknown",
                  "Strength is not checked: {why}.", words={"why": ctx.weight_unknown})
        return Load(None, None, ctx.weight_unknown)
    return load_of(ctx.heaviest, "load", book)


def two_riders(ctx: Context, station: Station, load: Load, found: Findings, book: Book) -> Load:
    """The load of two who ride at once, the heaviest of the party.

    ctx: the plan's context; station: whether they ride on a strand each or both on one; load: the heaviest rider's
    found, book: where findings and workings go
    returns: the load on the station [kN]
    Source: P and J, table of loads: on strands of their own the peak of the heavier and the weight of the lighter; on one, both as one.
    """
    if station.together == "no" or load.static is None or ctx.heaviest is None:
        return load
    others = [p for p in ctx.plan.party if p.id != ctx.heaviest.id]
    if not others:
        found.add("load.hanging", "Not checked", "load", "Two are to ride at once, and the party is one", "Their weight is not counted.")
        return load
    second = max(others, key=lambda p: p.mass_kg.value)
    own = load_of(second, "load.second", book)
    both = [computed("W1", f"weight of {ctx.heaviest.name}", load.static), computed("W2", f"weight of {second.name}", own.static)]
    static = book.number("load.two.static", "weight of two riders", "W1 + W2", both, load.static.value + own.static.value, "force", "up")
    if station.together == "own strands":
        limit, ours = math.exp(row("friction", "ring").low * math.pi), load.static.value / own.static.value
        found.add("system.together", "Shortfall" if ours > limit else "Caution", "system", "Two ride at once on strands that nothing blocks",
                  "The rope runs as soon as one side carries {limit} the other's weight, and at once when one unclips; here it is {ours}. Block it, or both stay clipped to something else.",
                  numbers={"limit": Number(limit, "ratio", "down"), "ours": Number(ours, "ratio", "up")})
        return Load(static, book.number("load.two.peak", "peak of the heavier rider and weight of the lighter", "P + W2", [computed("P", "peak of the heavier", load.peak), both[1]],
                                        load.peak.value + own.static.value, "force", "up"), "")
    share, least = row("loads", "peak.share"), row("loads", "peak.least")
    return Load(static, book.number("load.two.peak", "peak of two riders on one strand", "max(p*W, P0)", [
        from_row("p", share, share.high, "ratio"), computed("W", "weight of two riders", static), from_row("P0", least, least.high, "force")], peak_kn(static.value), "force", "up"), "")


def hanging(load: Load, people: list[Person], book: Book) -> Load:
    """The load on the anchor when others hang from it besides the rider: the rider's peak and their still weight.

    load: the rider's; people: who hangs, their weights known; book: where workings go
    returns: the load on the anchor [kN]
    Source: P, common practice, no source: not everyone's peak comes at once.
    """
    if not people or load.static is None or load.peak is None:
        return load
    others = [computed(f"W{i}", f"weight of {p.name}", load_of(p, f"load.{p.id}", book).static) for i, p in enumerate(people, 1)]
    symbols = " + ".join(t.symbol for t in others)
    weight = sum(t.value for t in others)
    static = book.number("load.all.static", "weight of the rider and of those who hang at the station", f"W + {symbols}",
                         [computed("W", "the rider's weight", load.static), *others], load.static.value + weight, "force", "up")
    peak = book.number("load.all.peak", "peak of the rider and weight of those who hang at the station", f"P + {symbols}",
                       [computed("P", "peak of one rider", load.peak), *others], load.peak.value + weight, "force", "up")
    return Load(static, peak, "")


def asked(key: str, name: str, load: Load, share: float | Number, margin: Margin, book: Book) -> Asked:
    """Demand on a part and what the policy asks of it.

    key, name: the part's; load: the rider; share: of the load on this part, or as computed [-]; margin: the plan's policy
    book: where workings go
    returns: demand and requirement [kN]
    Source: J and P, table of loads.
    """
    if load.peak is None or load.static is None:
        return Asked(None, None)
    share_term = computed("s", f"share of the load on {name}", share) if isinstance(share, Number) else \
        Term("s", f"share of the load on {name}", share, "share", "HB: statics")
    share = share.value if isinstance(share, Number) else share
    demand = book.number(f"{key}.demand", f"peak on {name}", "s*P",
                         [share_term, computed("P", "peak of one rider", load.peak)], share * load.peak.value, "force", "up")
    if margin.kind == "static ratio":
        ratio = row("loads", "margin.static")
        required = book.number(f"{key}.required", f"asked of {name}", "N*s*W",
                               [from_row("N", ratio, ratio.high, "ratio"), share_term,
                                computed("W", "weight of one rider", load.static)],
                               ratio.high * share * load.static.value, "force", "up")
    else:
        times = row("loads", "margin.peak")
        term = from_row("N", times, times.high, "ratio") if margin.kind == "peak" else \
            Term("N", "the guide's own margin", margin.times, "ratio", "decided")
        required = book.number(f"{key}.required", f"asked of {name}", "N*D",
                               [term, computed("D", f"peak on {name}", demand)], term.value * demand.value, "force", "up")
    return Asked(demand, required)
