"""What each strand needs."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.answer.look import Look
from reamer.core.answer.say import Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Term, computed, from_row
from reamer.core.model import BlockedSame, Releasable, System
from reamer.core.plan.limits import limits_m
from reamer.core.rope.length import stopper_m
from reamer.core.rope.strands import Strand, ridden_end
from reamer.core.section.lengths import Lengths
from reamer.core.tables import row

SURFACE = "its end is to be set at the water's surface"


@dataclass(frozen=True, slots=True)
class Longer:
    """What the deviations that stay make a line longer by: while the party rides, for the last person and the pull.
    None where it is not known, and ``why``."""

    party: Number | None
    last: Number | None
    why: str = ""

    def of(self, serves: str) -> Number | None:
        """What counts for whom a state serves: whoever of them has the longest line."""
        return self.last if serves == "last" else self.party


def around_m(path_m: float, below_m: float, turn_rad: float) -> float | None:
    """What a deviation makes a line longer by.

    a + b − c, b = −a·cos δ + √(c² − a²·sin² δ)

    path_m: c, the straight path [m]; below_m: a, down to the deviation [m]; turn_rad: δ, by how much it turns the rope
    [rad]
    returns: the lengthening [m]; None where no such triangle is there
    Source: HB, law of cosines.

    >>> round(around_m(26.26, 13.13, math.pi / 3), 2)
    3.98
    """
    under = path_m**2 - (below_m * math.sin(turn_rad)) ** 2
    if under < 0:
        return None
    return below_m - below_m * math.cos(turn_rad) + math.sqrt(under) - path_m


def longest_m(lengths: Lengths) -> Number:
    """The longest line that the rope may take.

    lengths: of the lines
    returns: the longer of the taut and the draped line, at the upper bound [m]
    Source: none, a maximum.
    """
    return max(lengths.values(), key=lambda b: b.high.value).high


def deviations_longer(look: Look, lengths: Lengths) -> Longer:
    """What a station's deviations make the line longer by.

    look: the station; lengths: of its lines [m]
    returns: the lengthening for the party, with all of them, and for the last person, with those that stay in [m]
    Source: HB, law of cosines; of several J, our judgement: each for itself, added.
    """
    path, book = longest_m(lengths), look.book
    each: list[tuple[bool, Number]] = []
    for d in look.station.deviations:
        if d.below_m.kind == "unknown" or d.turn_deg.kind == "unknown":
            return Longer(None, None, f"where {d.name} is, or how much it turns the rope, is unknown")
        turn, (least, most) = math.radians(d.turn_deg.value), limits_m(d.below_m)
        # Longest where it parts the line evenly, or as near to that as it may be.
        below = min(max(least, path.value / (2 * math.cos(turn / 2))), most)
        by = around_m(path.value, below, turn)
        if least >= path.value:
            return Longer(None, None, f"{d.name} lies past the end of the line")
        if by is None:
            return Longer(None, None, f"so far down {d.name} cannot turn the rope by so much")
        where, how = f"down to {d.name}, where it makes the line longest", f"entered: {d.turn_deg.method}"
        terms = [
            Term("a", where, below, "fine length", f"entered: {d.below_m.method}", typed=typed(d, "below_m")),
            Term("delta", f"turn at {d.name}", turn, "angle", how, typed=typed(d, "turn_deg")),
            computed("c", "the longer of the taut and the draped line, upper bound", path),
        ]
        name, formula = (
            f"what {d.name} makes the line longer by",
            "a - a*cos(delta) + sqrt(c**2 - (a*sin(delta))**2) - c",
        )
        n = book.number(f"deviation.{d.id}.longer", name, formula, terms, by, "fine length", "up")
        each.append((d.left_in, n))

    def together(key: str, what: str, some: list[Number]) -> Number:
        symbols = [f"x{i}" for i in range(1, len(some) + 1)]
        terms = [computed(x, "one of them", n) for x, n in zip(symbols, some, strict=True)]
        name, total = f"what deviations make the line longer by {what}", sum(n.value for n in some)
        formula = " + ".join(symbols) or "0"
        return book.number(f"deviations.{key}", name, formula, terms, total, "fine length", "up")

    party = together("party", "while the party rides", [n for _, n in each])
    return Longer(party, together("last", "for the last person and the pull", [n for stays, n in each if stays]))


@dataclass(frozen=True, slots=True)
class _Sum:
    """A length as it is put together: its terms, their formula, and its value [m]."""

    terms: list[Term]
    formula: str
    value: float

    def more(self, formula: str, value: float, *terms: Term) -> _Sum:
        """The same and more."""
        return _Sum([*self.terms, *terms], f"{self.formula} + {formula}", self.value + value)


def need_of(look: Look, s: Strand, lengths: Lengths) -> tuple[Number | None, str]:
    """What a strand needs.

    look: the station; s: the strand; lengths: of the lines [m]
    returns: the need [m]; None where it is not known, and why
    Source: P, common practice, no source; allowances J.
    """
    key, path = f"need.{s.key}", longest_m(lengths)
    around = deviations_longer(look, lengths) if look.station.deviations else None
    if around is not None and around.party is None:
        return None, around.why
    line = _Sum([computed("path", "the longer of the taut and the draped line, upper bound", path)], "path", path.value)
    by = around.of(look.state.serves) if around is not None else None
    if by is not None and by.value:
        line = line.more("dev", by.value, computed("dev", "what deviations add", by))

    def made(what: str, name: str, of: _Sum) -> Number:
        return look.book.number(
            f"{key}.{what}", f"{s.rope.name}, {name}", of.formula, of.terms, of.value, "length", "up"
        )

    if s.role == "reserve":
        return made("reserve", "reserve needed to lower from anywhere", line), ""
    choices = []
    if s.role == "lower" or "ride" in s.role:
        ride = _to_ride(look, s, line, lengths)
        if isinstance(ride, str):
            return None, ride
        choices.append(made("ride", f"needed to {'lower' if s.role == 'lower' else 'ride'}", ride))
    if "pull" in s.role or s.load_share == 0.5:  # of two ridden strands either may be the one pulled
        choices.append(made("pull", "needed to pull", _to_pull(lengths, around)))
    return max(choices, key=lambda n: n.value), ""


def _to_ride(look: Look, s: Strand, line: _Sum, lengths: Lengths) -> _Sum | str:
    """What is needed to ride or to lower; why that is not known."""
    system, landing = look.system, look.drop.landing.kind
    if landing == "moving water" and s.role != "lower":
        return line if system.kind == "releasable" else SURFACE
    if landing == "unknown":
        return "what the landing is is unknown"
    allow = row("landings", landing)
    least = max(0.0, allow.high)
    made = line.more("a", least, from_row("a", allow, least, "fine length"))
    if system.kind == "elastic-release device":
        more = row("ropes", "elastic.more")
        made = made.more("m", more.high, from_row("m", more, more.high, "fine length"))
    if system.kind == "lowered" and system.belayer == "below":
        taut, hand = lengths["taut"].high, row("ropes", "pull.reach")
        back = computed("back", "taut line back to the belayer, upper bound", taut)
        made = made.more("back", taut.value, back).more("h", hand.high, from_row("h", hand, hand.high, "fine length"))
    if not s.knotted:
        return made
    d, knot, tail = s.rope.diameter_mm.known, row("knots", "rope used.stopper"), row("ropes", "stopper.tail")
    if d is None:
        return f"the diameter of {s.rope.name} is unknown, so what its stopper takes is too"
    return made.more(
        "n*d/1000 + t",
        stopper_m(d),
        from_row("n", knot, knot.high, "count"),
        Term("d", f"diameter of {s.rope.name}", d, "diameter", "entered", typed=typed(s.rope, "diameter_mm")),
        from_row("t", tail, tail.high, "fine length"),
    )


def _to_pull(lengths: Lengths, around: Longer | None) -> _Sum:
    """What is needed to pull from the landing, with the deviations that stay in."""
    taut, hand = lengths["taut"].high, row("ropes", "pull.reach")
    line = _Sum([computed("path", "taut line to the puller, upper bound", taut)], "path", taut.value)
    made = line.more("h", hand.high, from_row("h", hand, hand.high, "fine length"))
    if around is None or around.last is None or not around.last.value:
        return made
    return made.more("dev", around.last.value, computed("dev", "what deviations left in add", around.last))


# No strand of a plan is shorter, and none longer.
LEAST_M, LONGEST_M = 0.5, 600.0


# Lengths to be let out are given in whole centimetres.
HALF_CM = 0.005


def let_out(system: System, low_m: float, high_m: float) -> tuple[float, float]:
    """What hangs of a strand over moving water: what is given to it, as it is measured out and as far as there is rope.

    system: as rigged; low_m, high_m: the strand's length [m]
    returns: least and most [m]
    Source: none, the lesser of the two.
    """
    ride = system.ride_m if isinstance(system, (BlockedSame, Releasable)) else None
    if ride is None or ride.kind == "unknown":
        return low_m, high_m
    least, most = limits_m(ride)
    return min(least, low_m), min(most, high_m)


def water_window(lengths: Lengths) -> tuple[float, float]:
    """What may hang over moving water whatever line within the bounds the rope takes.

    lengths: of the lines [m]
    returns: least and most; where least is the greater there is no such length [m]
    Source: P, common practice, no source; J for the 0.3 m.
    """
    return longest_m(lengths).value + row("landings", "moving water").low, min(b.low.value for b in lengths.values())


# What a hand pays out goes by so much.
STEP_M = 0.1


def paid_out_m(least_m: float, most_m: float) -> tuple[float, bool]:
    """What to pay out over moving water, in steps of a hand.

    x serves where x·(1 - e) >= least and x·(1 + e) <= most, e the error of paying out

    least_m, most_m: what may hang whatever line the rope takes, or the longest begin of what is set on site [m]
    returns: of the steps that serve the one nearest to the middle; where none does the largest below them, to begin
        with; whether it serves [m]
    Source: J, our judgement.
    """
    e, first = row("methods", "tape").high, math.floor(least_m / STEP_M + 1e-6)
    steps = (round(k * STEP_M, 1) for k in range(first, math.floor(most_m / STEP_M + 1e-6) + 1))
    serve = [x for x in steps if x * (1 - e) >= least_m - 1e-9 and x * (1 + e) <= most_m + 1e-9]
    if serve:
        return min(serve, key=lambda x: abs(x - (least_m + most_m) / 2)), True
    return round(first * STEP_M, 1), False


def to_set_m(lengths: Lengths) -> float:
    """What to give a strand over moving water: what serves, or, to be set on site, what cannot be too long.

    lengths: of the lines [m]
    returns: the length [m]
    Source: J, our judgement.
    """
    least, most = water_window(lengths)
    return paid_out_m(least, most)[0] if least <= most else begin_m(most)


def begin_m(shortest_m: float) -> float:
    """What to begin with where no length is right for every line: it cannot be too long for the shortest.

    shortest_m: that line [m]
    returns: in steps of a hand [m]
    Source: J, our judgement.
    """
    return paid_out_m(shortest_m + row("landings", "moving water").low, -1.0)[0]


def ride_wanted_m(look: Look, lengths: Lengths) -> float | None:
    """What to give the ride strand of a rope that is parted at the station.

    look: the station, with such a system; lengths: of its lines [m]
    returns: over moving water the middle of what may hang, elsewhere what is needed and a little more, in whole metres
        [m]; None where the need is not known
    Source: J, table of ropes.
    """
    system = look.system
    if not isinstance(system, (BlockedSame, Releasable)):
        return None
    rope = look.ctx.ropes.get(system.rope)
    if rope is None or not lengths:
        return None
    if look.drop.landing.kind == "moving water":
        return to_set_m(lengths)
    knotted = ridden_end(system) in system.stoppers
    need, _ = need_of(look, Strand(rope, system.ridden_end, "ride", 1.0, None, None, "", knotted), lengths)
    if need is None:
        return None
    wanted = math.ceil(need.value / (1 - row("methods", "tape").high)) + row("ropes", "ride.more").high - 1
    return None if wanted > LONGEST_M else wanted
