"""Does it reach: what each strand needs, what it has, where its end comes to lie."""

from __future__ import annotations

import math
from dataclasses import dataclass

from pydantic import ValidationError

from reamer.core.context import Context
from reamer.core.findings import Edit, Findings, Fix
from reamer.core.loads import Load, static_kn
from reamer.core.model import Drop, EndRef, Known, Rope, State, Station, System, read_system
from reamer.core.polyline import Line, Point, point_at
from reamer.core.rope import rating_kg, real_length, stopper_m, stretch_m
from reamer.core.say import Number, Sentence
from reamer.core.section import Lines, at_bound, height_m, limits_m
from reamer.core.systems import Strand, ropes_of, strands
from reamer.core.tables import row
from reamer.core.working import Book, Term, computed, from_row


@dataclass(frozen=True, slots=True)
class Bounded:
    """A line's length at the survey's bounds."""

    low: Number
    nominal: Number
    high: Number


@dataclass(frozen=True, slots=True)
class End:
    """Where a strand's end is: the point in the section [m], and its height above the landing along the rope
    (negative: so much lies on the landing)."""

    x_m: float
    z_m: float
    above: Number


@dataclass(frozen=True, slots=True)
class Reach:
    """One strand's reach: what it has and needs, what is to spare at worst, and its end with and without a rider.

    at_surface: its end is set over moving water, not by what it needs; highest: of a reserve, how far below the ring somebody may be stuck at the least for a lower to reach the landing [m]
    """

    key: str
    rope: str
    end: str
    name: str
    role: str
    knotted: bool
    low: Number | None
    high: Number | None
    need: Number | None
    spare: Number | None
    why: str
    free: End | None
    ridden: End | None
    points: tuple[Point, ...]
    highest: Number | None = None
    at_surface: bool = False


@dataclass(frozen=True, slots=True)
class Water:
    """How to set a strand over moving water: what to pay out from the ring, low to high, whether that is to be found on site, and
    the reserve that stays in the bag at the station."""

    low: Number
    high: Number
    on_site: bool
    reserve: Number | None


def paths(by_bound: dict[str, Lines], aside: Known, book: Book) -> dict[str, Bounded]:
    """Lengths of the taut and the draped line at each bound of the survey.

    by_bound: lines for low, nominal and high; aside: how far off to the side the landing lies [m]; book: where the workings go
    returns: "taut" and "draped", each low, nominal and high, never past the nominal one on the wrong side; and, where the landing lies off
        to the side, "plumb": the taut line of a rope that nobody draws there [m]
    Source: HB, polyline length; the bounds J.
    """
    made = {}
    for kind in ("taut", "draped", *(("plumb",) if aside.value else ())):
        numbers = {}
        lines: dict[str, Line] = {b: getattr(by_bound[b], "taut" if kind == "plumb" else kind) for b in by_bound}
        more = {b: _sideways(by_bound[b], aside, b) for b in by_bound} if aside.value and kind != "plumb" else {}
        longs = {b: lines[b].length_m + (more[b][2] if more else 0.0) for b in lines}
        order = sorted(lines, key=longs.__getitem__)
        chosen = {"low": order[0], "nominal": "nominal", "high": order[-1]}
        for bound, b in chosen.items():
            line = lines[b]
            terms = [Term(f"l{i}", f"piece {i}", piece, "fine length", "section") for i, piece in enumerate(line.pieces_m, 1)]
            formula = " + ".join(t.symbol for t in terms) or "0"
            if line.extra_m:
                terms.append(Term("o", "landing set back behind the plumb line", line.recess_m, "fine length", "section"))
                last = terms[-2].symbol
                formula += f" + sqrt({last}**2 + o**2) - {last}"
            if more:
                terms += [Term("h", "height, edge to landing level", more[b][0], "fine length", "section"), Term("y", "landing off to the side", more[b][1], "fine length", f"entered: {aside.method}")]
                formula += " + sqrt(h**2 + y**2) - h"
            numbers[bound] = book.number(f"path.{kind}.{bound}", f"{kind} line, {bound} bound", formula, terms,
                                         longs[b], "length", "down" if bound == "low" else "up" if bound == "high" else "near")
        made[kind] = Bounded(**numbers)
    return made


def _sideways(at: Lines, aside: Known, bound: str) -> tuple[float, float, float]:
    """Height, distance to the side and what it adds to a path, at one bound."""
    h, y = height_m(at.terrain), at_bound(aside, bound)
    return h, y, math.hypot(h, y) - h


SURFACE = "its end is to be set at the water's surface"


@dataclass(frozen=True, slots=True)
class Longer:
    """What the deviations that stay make a line longer by: while the party rides, for the last person and the pull. None where it is
    not known, and ``why``."""

    party: Number | None
    last: Number | None
    why: str = ""

    def of(self, serves: str) -> Number | None:
        """What counts for whom a state serves: whoever of them has the longest line."""
        return self.last if serves == "last" else self.party


def around_m(path_m: float, below_m: float, turn_rad: float) -> float | None:
    """What a deviation makes a line longer by.

    a + b − c, b = −a·cos δ + √(c² − a²·sin² δ)

    path_m: c, the straight path [m]; below_m: a, down to the deviation [m]; turn_rad: δ, by how much it turns the rope [rad]
    returns: the lengthening [m]; None where no such triangle is there
    Source: HB, law of cosines.

    >>> round(around_m(26.26, 13.13, math.pi / 3), 2)
    3.98
    """
    under = path_m**2 - (below_m * math.sin(turn_rad))**2
    if under < 0:
        return None
    return below_m - below_m * math.cos(turn_rad) + math.sqrt(under) - path_m


def deviations_longer(station: Station, lengths: dict[str, Bounded], book: Book) -> Longer:
    """What a station's deviations make the line longer by.

    station: its deviations; lengths: of its lines [m]; book: where workings go
    returns: the lengthening for the party, with all of them, and for the last person, with those that stay in [m]
    Source: HB, law of cosines; of several J, our judgement: each for itself, added.
    """
    path = max(lengths.values(), key=lambda b: b.high.value).high
    each: list[tuple[bool, Number]] = []
    for d in station.deviations:
        if d.below_m.kind == "unknown" or d.turn_deg.kind == "unknown":
            return Longer(None, None, f"where {d.name} is, or how much it turns the rope, is unknown")
        turn, (least, most) = math.radians(d.turn_deg.value), limits_m(d.below_m)
        # Longest where it parts the line evenly, or as near to that as it may be.
        below = min(max(least, path.value / (2 * math.cos(turn / 2))), most)
        by = around_m(path.value, below, turn)
        if by is None or least >= path.value:
            return Longer(None, None, f"{d.name} lies past the end of the line" if least >= path.value else f"so far down {d.name} cannot turn the rope by so much")
        each.append((d.left_in, book.number(f"deviation.{d.id}.longer", f"what {d.name} makes the line longer by", "a - a*cos(delta) + sqrt(c**2 - (a*sin(delta))**2) - c", [
            Term("a", f"down to {d.name}, where it makes the line longest", below, "fine length", f"entered: {d.below_m.method}"), Term("delta", f"turn at {d.name}", turn, "angle", f"entered: {d.turn_deg.method}"),
            computed("c", "the longer of the taut and the draped line, upper bound", path)], by, "fine length", "up")))

    def together(key: str, what: str, some: list[Number]) -> Number:
        symbols = [f"x{i}" for i in range(1, len(some) + 1)]
        return book.number(f"deviations.{key}", f"what deviations make the line longer by {what}", " + ".join(symbols) or "0", [computed(x, "one of them", n) for x, n in zip(symbols, some)],
                           sum(n.value for n in some), "fine length", "up")

    return Longer(together("party", "while the party rides", [n for _, n in each]), together("last", "for the last person and the pull", [n for stays, n in each if stays]))


def _need(s: Strand, drop: Drop, lengths: dict[str, Bounded], book: Book) -> tuple[Number | None, str]:
    key = f"need.{s.rope.id}-{s.end}"
    choices: list[Number] = []
    state = drop.station.states[0]
    system = state.system
    longer = max(lengths.values(), key=lambda b: b.high.value).high
    around = deviations_longer(drop.station, lengths, book) if drop.station.deviations else None
    if around is not None and around.party is None:
        return None, around.why
    path_terms, path_formula, path_value = [computed("path", "the longer of the taut and the draped line, upper bound", longer)], "path", longer.value
    if around is not None and around.of(state.serves).value:
        path_terms.append(computed("dev", "what deviations add", around.of(state.serves)))
        path_formula, path_value = "path + dev", path_value + around.of(state.serves).value
    if s.role == "reserve":
        return book.number(f"{key}.reserve", f"{s.rope.name}, reserve needed to lower from anywhere", path_formula, path_terms, path_value, "length", "up"), ""
    if "ride" in s.role and drop.landing.kind == "moving water":
        if system.kind != "releasable":
            return None, SURFACE
        choices.append(book.number(f"{key}.ride", f"{s.rope.name}, needed to ride", path_formula, path_terms, path_value, "length", "up"))
    elif s.role == "lower" or "ride" in s.role:
        if drop.landing.kind == "unknown":
            return None, "what the landing is is unknown"
        allow = row("landings", drop.landing.kind)
        terms = [*path_terms, from_row("a", allow, max(0.0, allow.high), "fine length")]
        formula, value = path_formula + " + a", path_value + max(0.0, allow.high)
        if system.kind == "elastic-release device":
            more = row("ropes", "elastic.more")
            terms.append(from_row("m", more, more.high, "fine length"))
            formula, value = formula + " + m", value + more.high
        if system.kind == "lowered" and system.belayer == "below":
            taut, hand = lengths["taut"].high, row("ropes", "pull.reach")
            terms += [computed("back", "taut line back to the belayer, upper bound", taut), from_row("h", hand, hand.high, "fine length")]
            formula, value = formula + " + back + h", value + taut.value + hand.high
        if s.knotted:
            if s.rope.diameter_mm.kind == "unknown":
                return None, f"the diameter of {s.rope.name} is unknown, so what its stopper takes is too"
            d, knot, tail = s.rope.diameter_mm.value, row("knots", "rope used.stopper"), row("ropes", "stopper.tail")
            terms += [from_row("n", knot, knot.high, "count"), Term("d", f"diameter of {s.rope.name}", d, "diameter", "entered"),
                      from_row("t", tail, tail.high, "fine length")]
            formula, value = formula + " + n*d/1000 + t", value + stopper_m(d)
        choices.append(book.number(f"{key}.ride", f"{s.rope.name}, needed to {'lower' if s.role == 'lower' else 'ride'}", formula, terms, value, "length", "up"))
    if "pull" in s.role or s.load_share == 0.5:  # of two ridden strands either may be the one pulled
        taut, hand = lengths["taut"].high, row("ropes", "pull.reach")
        terms, formula, value = [computed("path", "taut line to the puller, upper bound", taut), from_row("h", hand, hand.high, "fine length")], "path + h", taut.value + hand.high
        if around is not None and around.last.value:
            terms, formula, value = [*terms, computed("dev", "what deviations left in add", around.last)], "path + h + dev", value + around.last.value
        choices.append(book.number(f"{key}.pull", f"{s.rope.name}, needed to pull", formula, terms, value, "length", "up"))
    return max(choices, key=lambda n: n.value), ""


def _end(s: Strand, line: Line, length: float, key: str, what: str, terms: list[Term], formula: str, book: Book,
         path: Number) -> End:
    at, _ = point_at(line.points, length)
    above = book.number(key, what, f"path - ({formula})", [computed("path", "taut line", path), *terms],
                        path.value - length, "length", "up")
    return End(at[0], at[1], above)


def _ends(s: Strand, line: Line, path: Number, load: Load, book: Book) -> tuple[End | None, End | None]:
    """The end of a strand at its low length, unloaded and with the rider at the bottom."""
    if s.low is None:
        return None, None
    key, length = f"end.{s.rope.id}-{s.end}", computed("L", "the strand, low end", s.low)
    free = _end(s, line, s.low.value, f"{key}.free", f"end of {s.rope.name} above the landing, no rider", [length], "L",
                book, path)
    if not s.load_share or load.static is None or s.rope.elongation_pct.kind == "unknown":
        return free, None
    loaded, rating = min(s.low.value, path.value), rating_kg(s.rope.kind)
    elongation = s.rope.elongation_pct.value / 100
    grows = stretch_m(loaded, elongation, s.load_share * load.static.value, static_kn(rating))
    g = row("loads", "g")
    terms = [length, Term("q", "share of the rider on this strand", s.load_share, "share", "HB: statics"),
             Term("eps", f"elongation of {s.rope.name}, as a share", elongation, "share", "entered"),
             computed("W", "the rider's weight", load.static),
             Term("M", "mass of the rope's rating on one strand", rating, "mass", "STD: EN 892, EN 1891, from memory"),
             from_row("g", g, g.low, "share")]
    return free, _end(s, line, s.low.value + grows, f"{key}.ridden", f"end of {s.rope.name} above the landing, rider at the bottom",
                      terms, "L + min(L, path)*eps*q*W/(M*g/1000)", book, path)


def reach(drop: Drop, hanging: list[Strand], by_bound: dict[str, Lines], lengths: dict[str, Bounded], load: Load,
          ctx: Context, found: Findings, book: Book, at: tuple[str | int, ...]) -> tuple[Reach, ...]:
    """Every strand's reach, with the findings about it.

    drop: the drop; hanging: its strands; by_bound: lines for low, nominal and high; lengths: theirs [m]; load: the rider
    ctx: the plan's context; found, book: where findings and workings go; at: path of the system, for fixes
    returns: one Reach a strand [m]
    Source: P, common practice, no source; allowances J.
    """
    water = drop.landing.kind == "moving water"
    made = []
    for s in hanging:
        if s.load_share and s.rope.elongation_pct.kind == "unknown":
            found.add("end.stretch", "Not checked", f"end.{s.rope.id}-{s.end}", "How far {rope} {end} stretches is unknown",
                      "Where its end hangs with a rider on it is not checked.", words={"rope": s.rope.name, "end": s.end.upper()})
        need, why = _need(s, drop, lengths, book)
        has, what = s.low, "the strand, low end"
        if water and s.role == "ride" and drop.station.states[0].system.kind == "releasable" and s.low is not None and hanging[1].low is not None:
            # What is let out is set on the spot: all of the rope past the tie-off counts.
            has, what = book.number(f"strand.{s.rope.id}-{s.end}.all", f"{s.rope.name} past the tie-off, let out and in reserve", "l + r", [
                computed("l", "let out", s.low), computed("r", "in reserve", hanging[1].low)], s.low.value + hanging[1].low.value, "length", "down"), "let out and in reserve"
        if s.low is None:
            why = s.why
        free, ridden = _ends(s, by_bound["nominal"].taut, lengths["taut"].nominal, load, book) if s.role not in ("reserve", "lower") else (None, None)
        spare = highest = None
        if need is not None and has is not None:
            spare = book.number(f"spare.{s.rope.id}-{s.end}", f"{s.rope.name}, to spare", "L - need",
                                [computed("L", what, has), computed("need", "needed", need)],
                                has.value - need.value, "length", "down")
            if s.role == "reserve":
                highest = book.number(f"highest.{s.rope.id}-{s.end}", "highest point from which a lower still reaches, below the ring", "max(0, path - max(0, R))",
                                      [computed("path", "path, upper bound", need), computed("R", "reserve, low end", has)],
                                      max(0.0, need.value - max(0.0, has.value)), "length", "up")
        item = Reach(f"reach.{s.rope.id}-{s.end}", s.rope.id, s.end, s.rope.name, s.role, s.knotted, s.low, s.high, need,
                     spare, why, free, ridden, by_bound["nominal"].taut.points, highest, why == SURFACE)
        made.append(item)
        if s.role == "reserve":
            _reserve_findings(item, s, ctx, lengths, found, at, drop)
            continue
        if not item.at_surface:
            _reach_findings(item, s, hanging, ctx, lengths, found, at, drop)
        if not water:
            _end_findings(item, s, lengths, drop, hanging, ctx, found, at, book)
    return tuple(made)


def how_much_longer(reached: tuple[Reach, ...], drop: Drop, book: Book) -> Number | None:
    """How much longer the drop could be before it no longer reaches.

    reached: every strand; drop: the drop, one state; book: where workings go
    returns: the least to spare, less where it counts twice [m]; None while one is not known, or nothing hangs
    Source: none, a minimum.
    """
    asked = [r for r in reached if r.role != "reserve" and not r.at_surface]
    if not asked or any(r.spare is None for r in asked):
        return None
    system = drop.station.states[0].system
    twice = 2.0 if system.kind == "lowered" and system.belayer == "below" else 1.0
    symbols = [f"s{i}" for i in range(1, len(asked) + 1)]
    value = min(r.spare.value for r in asked) / twice
    return book.number("longer", "how much longer the drop could be", (f"min({', '.join(symbols)})" if len(symbols) > 1 else symbols[0]) + ("/2" if twice == 2 else ""),
                       [computed(s, f"{r.name} {r.end.upper()}, to spare", r.spare) for s, r in zip(symbols, asked, strict=True)], value, "length", "down")


def water_findings(ctx: Context, reached: tuple[Reach, ...], drop: Drop, lengths: dict[str, Bounded], found: Findings, book: Book,
                   at: tuple[str | int, ...]) -> Water | None:
    """What is to be said of the end of a strand over moving water, and how to set it.

    ctx: the plan's context; reached: every strand; drop: the drop, one state; lengths: of the lines [m]
    found, book: where findings and workings go; at: path of the system, for fixes
    returns: what to pay out; None elsewhere
    Source: P, common practice, no source: a knotted rider drowns; J for the 0.3 m.
    """
    if drop.landing.kind != "moving water" or not reached:
        return None
    state, allow = drop.station.states[0], row("landings", "moving water")
    system = state.system
    long, short = max(lengths.values(), key=lambda b: b.high.value).high, min(lengths.values(), key=lambda b: b.low.value).low
    around = deviations_longer(drop.station, lengths, book) if drop.station.deviations else None
    if around is not None and around.party is not None and around.of(state.serves).value > 0:
        # Whoever takes one out shortens the line again: the shortest stays the one without.
        long = book.number("water.around", "the longest line there may be, round what deviations stay", "path + dev", [computed("path", "the longest line without them", long), computed("dev", "what they add", around.of(state.serves))],
                           long.value + around.of(state.serves).value, "fine length", "up")
    low = book.number("water.low", "pay out at the least", "path + a", [computed("path", "the longest line there may be", long), from_row("a", allow, allow.low, "fine length")],
                      long.value + allow.low, "fine length", "up")
    high = book.number("water.high", "pay out at the most", "path", [computed("path", "the shortest line there may be", short)], short.value, "fine length", "down")
    on_site = low.value > high.value
    if on_site:
        # No length is right for every line within the bounds: begin where it cannot be too long.
        low = book.number("water.start", "begin with", "path + a", [computed("path", "the shortest line there may be", short), from_row("a", allow, allow.low, "fine length")],
                          short.value + allow.low, "fine length", "down")
        high = book.number("water.end", "the longest line there may be", "path", [computed("path", "the longest line there may be", long)], long.value, "fine length", "up")
    knotted = [r for r in reached if r.knotted and r.role != "reserve"]
    if knotted:
        found.add("end.water", "Shortfall", f"end.{knotted[0].rope}-{knotted[0].end}", "A knot in an end over moving water",
                  "A rider held at a knot in the current drowns. Take the stopper out of {rope}.", words={"rope": " and ".join(dict.fromkeys(r.name for r in knotted))},
                  fix=Fix(Sentence("Take the stoppers out"), (Edit((*at, "stoppers"), []),)))
    rides = [r for r in reached if "ride" in r.role]
    held = system.kind in ("releasable", "lowered")
    if not held and state.serves != "last":
        found.add("reach.water-fixed", "Shortfall", "reach", "Over moving water this strand cannot be set from the top",
                  "Its end belongs 0 to {above} over the surface and must be let out or taken in while somebody is on it: a releasable single "
                  "strand, or lowered.", numbers={"above": Number(-allow.low, "fine length")}, fix=_releasable_fix(rides[0] if rides else None, state, low, high, on_site, at))
    reserve = next((r.low for r in reached if r.role == "reserve"), None)
    if system.kind != "lowered":
        halves = len(rides) == 2 and system.kind == "doubled" and None not in (rides[0].low, rides[1].low) and abs(rides[0].low.value - rides[1].low.value) < HALF_CM
        for ride in rides[-1:] if halves else rides:  # two halves that are alike are said once
            if ride.low is None:
                found.add("reach.unknown", "Not checked", ride.key, "Whether {rope} reaches is not checked", "Not checked: {why}.", words={"rope": ride.name, "why": ride.why})
            else:
                on_site |= _hung(ride, state, low, high, on_site, found, at)
                _dips(ride, ctx.ropes[ride.rope].kind.startswith("dynamic"), found)
        down = next((r for r in rides if "pull" in r.role), None)
        if down is not None and down.low is not None and long.value - down.low.value > -allow.low + HALF_CM:
            found.add("reach.pull-out", "Shortfall", down.key, "The end of {rope} to be pulled may hang out of reach", "It ends up to {above} above the water: nobody below can take hold of it.",
                      numbers={"above": Number(long.value - down.low.value, "fine length", "up")}, words={"rope": f"{down.name} {down.end.upper()}"})
    return Water(low, high, on_site, reserve)


def _dips(ride: Reach, dynamic: bool, found: Findings) -> None:
    """Stretch that draws a ridden end under water while somebody is near its foot; of a rope that hardly stretches only what is much.
    Source: J, table of ropes."""
    if ride.ridden is None or ride.free is None:
        return
    by, most = ride.free.above.value - ride.ridden.above.value, 0.0 if dynamic else row("ropes", "end.dips").high
    if ride.ridden.above.value < -most - HALF_CM and ride.free.above.value >= ride.ridden.above.value + HALF_CM:
        found.add("end.dips", "Caution", ride.key, "With a rider at its foot the end of {rope} is drawn {by} down, into the water", "It stretches by {stretch}. Hang it so much higher, or use a rope that stretches less.",
                  numbers={"by": Number(-ride.ridden.above.value, "fine length", "up"), "stretch": Number(by, "fine length", "up")}, words={"rope": ride.name}, working=ride.ridden.above.working)


def _hung(ride: Reach, state: object, low: Number, high: Number, on_site: bool, found: Findings, at: tuple) -> bool:
    """What hangs over moving water against what may; returns whether it can only be set on site. Past either bound no line within
    the survey's limits is right for it."""
    system = state.system
    least, most = _let_out(system, ride.low.value, ride.high.value)
    given, fix, settable = (least + most) / 2, None, hasattr(system, "ride_m")
    if settable:
        wanted = round(low.value if on_site else (low.value + high.value) / 2, 2)
        fix = Fix(Sentence("Let out {m}", {"m": Number(wanted, "fine length")}), (Edit((*at, "ride_m"), {"kind": "known", "value": wanted, "method": "tape"}),))
    name = f"{ride.name} {ride.end.upper()}"
    inside = low.value - HALF_CM <= given <= high.value + HALF_CM
    # A length that cannot be measured out as narrowly as the end may hang is right only by watching.
    blunt = most - least > high.value - low.value + 2 * HALF_CM
    if not inside or (not settable and (on_site or blunt or least < low.value - HALF_CM or most > high.value + HALF_CM)):
        found.add("reach.water", "Shortfall", ride.key, "The end of {rope} would hang in the current" if given > high.value else "The end of {rope} would hang too far above the water" if given < low.value else
                  "The end of {rope} must be set on site, and cannot be", "{given} is let out; {low} to {high} leaves the end just above the surface.",
                  numbers={"given": Number(given, "fine length"), "low": low, "high": high}, words={"rope": name}, working=low.working, fix=fix)
    elif on_site or blunt or least < low.value - HALF_CM or most > high.value + HALF_CM:
        found.add("reach.on-site", "Not checked", ride.key, "The length of {rope} is to be set on site",
                  ("The lines that it may take lie further apart than the end may hang over the water. " if on_site else "It cannot be measured out as narrowly as the end may hang over the water. ")
                  + "Start with {low} and let out, watching or by signal, until the end is just above the surface; the first is lowered or belayed.", numbers={"low": low}, words={"rope": name}, working=low.working,
                  fix=None if on_site or blunt else fix)
        return True
    return False


# No strand of a plan is longer.
LONGEST_M = 600.0
# Lengths to be let out are given in whole centimetres.
HALF_CM = 0.005


def _let_out(system: System, low_m: float, high_m: float) -> tuple[float, float]:
    """What hangs of a strand over moving water, least and most: what is given to it, as it is measured out and as far as there is rope."""
    ride = getattr(system, "ride_m", None)
    if ride is None or ride.kind == "unknown":
        return low_m, high_m
    least, most = limits_m(ride)
    return min(least, low_m), min(most, high_m)


def water_window(lengths: dict[str, Bounded]) -> tuple[float, float]:
    """What may hang over moving water whatever line within the bounds the rope takes.

    lengths: of the lines [m]
    returns: least and most; where least is the greater there is no such length [m]
    Source: P, common practice, no source; J for the 0.3 m.
    """
    return max(b.high.value for b in lengths.values()) + row("landings", "moving water").low, min(b.low.value for b in lengths.values())


def to_set_m(lengths: dict[str, Bounded]) -> float:
    """What to give a strand over moving water: the middle of what may hang, or, to be set on site, what cannot be too long.

    lengths: of the lines [m]
    returns: the length [m]
    Source: J, our judgement.
    """
    least, most = water_window(lengths)
    return round((least + most) / 2 if least <= most else most + row("landings", "moving water").low, 2)


def _releasable_fix(ride: Reach | None, state: object, low: Number, high: Number, on_site: bool, at: tuple) -> Fix | None:
    """The same rope, tied off releasable for the party; what is rigged now stays for the last person."""
    if ride is None or state.serves != "all":
        return None
    length = round(low.value if on_site else (low.value + high.value) / 2, 2)
    system = {"kind": "releasable", "rope": ride.rope, "ridden_end": ride.end, "ride_m": {"kind": "known", "value": length, "method": "tape"}, "tie_off": "munter-mule-overhand", "stoppers": []}
    last = state.system.model_dump(mode="json")
    last["stoppers"] = []
    if "ride_m" in last:
        last["ride_m"] = system["ride_m"]
    old = state.model_dump(mode="json")
    return Fix(Sentence("Tie {rope} off releasable for the party", {}, {"rope": ride.name}),
               (Edit(at[:-2], [{**old, "serves": "party", "system": system}, {**old, "id": "last" if old["id"] != "last" else "then", "serves": "last", "system": last}]),))


DOWN = {"ledge": "the ledge", "ground": "the ground", "pool": "the water", "wading": "the water", "moving water": "the water", "hanging stance": "the stance", "unknown": "the landing"}


def _reserve_findings(item: Reach, s: Strand, ctx: Context, lengths: dict[str, Bounded], found: Findings, at: tuple, drop: Drop) -> None:
    words = {"down": DOWN[drop.landing.kind]}
    if item.spare is None:
        found.add("release.reserve", "Not checked", item.key, "Whether the reserve is enough to lower is not checked", "Not checked: {why}.", words={"why": item.why})
    elif item.spare.value < 0:
        found.add("release.reserve", "Shortfall", item.key, "The reserve is {short} too short to lower from anywhere",
                  "{low} is in reserve. Only somebody stuck {highest} or more below the ring would reach {down}.", working=item.highest.working, words=words,
                  numbers={"short": Number(-item.spare.value, "length", "up", item.spare.working), "low": Number(max(0.0, item.low.value), "length", "down", item.low.working), "highest": item.highest},
                  fix=_more_reserve(ctx, lengths, drop, at) if found.fixes else None)
    if s.join_at is not None:
        found.add("release.join", "Caution", item.key, "The knot that joins {more} to the reserve must pass the tie-off with somebody hanging on it",
                  "It comes after {far} is let out. It takes a second tie-off and practice; a longer rope has no such knot.", words={"more": ctx.ropes[drop.station.states[0].system.reserve_rope].name},
                  numbers={"far": Number(max(0.0, s.join_at.value), "length", "down", s.join_at.working)}, working=s.join_at.working)


def _more_reserve(ctx: Context, lengths: dict[str, Bounded], drop: Drop, at: tuple) -> Fix | None:
    """The shortest rope of the shed after which a lower reaches from anywhere: instead of the ridden one, for the last person too, or
    else joined on behind."""
    system, fits = drop.station.states[0].system, []
    taken = set(ropes_of(system))
    index, which = at[1], at[4]
    others = [(i, s) for i, s in enumerate(ctx.plan.drops[index].station.states) if i != which and system.rope in ropes_of(s.system)]
    for rope in ctx.ropes.values():
        if rope.id in taken or rope.kind == "pull cord":
            continue
        length = real_length(rope, Book())
        if not isinstance(length, tuple):
            continue
        swapped = _swap(system, system.rope, rope.id)
        beside = [(i, s, _swap(s.system, system.rope, rope.id)) for i, s in others]
        if _all_reach(swapped, ctx, lengths, drop, at) and all(_all_reach(new, ctx, lengths, _state_of(ctx, index, s), at) for _, s, new in beside):
            edits = [Edit(at, swapped.model_dump(mode="json"))] + [Edit((*at[:4], i, *at[5:]), new.model_dump(mode="json")) for i, _, new in beside]
            fits.append((0, length[0].value, rope.id, Fix(Sentence("Use {rope} instead" + (", for the last person too" if beside else ""), {}, {"rope": rope.name}), tuple(edits))))
        if _all_reach(system.model_copy(update={"reserve_rope": rope.id}), ctx, lengths, drop, at):
            fits.append((1, length[0].value, rope.id, Fix(Sentence("Join {rope} on behind the reserve", {}, {"rope": rope.name}), (Edit((*at, "reserve_rope"), rope.id),))))
    return min(fits, key=lambda f: f[:3])[3] if fits else None


def _swap(system: System, old: str, new: str) -> System:
    """A system with another rope in one's place, and that one's stoppers in it."""
    fields = {k: new for k in ("rope", "through", "other", "cord", "reserve_rope") if getattr(system, k, None) == old}
    return system.model_copy(update={**fields, "stoppers": tuple(EndRef(rope=new, end=r.end) if r.rope == old else r for r in system.stoppers)})


def _state_of(ctx: Context, index: int, state: State) -> Drop:
    """A drop of the plan with one of its states alone."""
    drop = ctx.plan.drops[index]
    return drop.model_copy(update={"station": drop.station.model_copy(update={"states": (state,)})})


def ride_wanted_m(ctx: Context, drop: Drop, lengths: dict[str, Bounded]) -> float | None:
    """What to give the ride strand of a rope that is parted at the station.

    ctx: the plan's context; drop: the drop, one state, of such a system; lengths: of its lines [m]
    returns: over moving water the middle of what may hang, elsewhere what is needed and a little more, in whole metres [m]; None where
        the need is not known
    Source: J, table of ropes.
    """
    system = drop.station.states[0].system
    rope = ctx.ropes.get(system.rope)
    if rope is None or not lengths:
        return None
    if drop.landing.kind == "moving water":
        return to_set_m(lengths)
    knotted = EndRef(rope=rope.id, end=system.ridden_end) in system.stoppers
    need, _ = _need(Strand(rope, system.ridden_end, "ride", 1.0, None, None, "", knotted), drop, lengths, Book())
    wanted = None if need is None else math.ceil(need.value / (1 - row("methods", "tape").high)) + row("ropes", "ride.more").high - 1
    return None if wanted is None or wanted > LONGEST_M else wanted


def _all_reach(candidate: System, ctx: Context, lengths: dict[str, Bounded], drop: Drop, at: tuple) -> bool:
    """Whether every strand of a system reaches, and nothing else rules it out."""
    trial, there = Findings(drop.id), drop.model_copy(update={"station": drop.station.model_copy(update={
        "states": (drop.station.states[0].model_copy(update={"system": candidate}),)})})
    hanging = strands(candidate, ctx, trial, Book(), at)
    if not hanging or any(f.severity == "Shortfall" or f.code == "system.middle" for f in trial.found):
        return False
    least, most = water_window(lengths)
    if least > most:
        least, most = most + row("landings", "moving water").low, least - row("landings", "moving water").low
    for strand in hanging:
        need, why = _need(strand, there, lengths, Book())
        if why == SURFACE and strand.low is not None:
            out = _let_out(candidate, strand.low.value, strand.high.value)
            if not least - HALF_CM <= sum(out) / 2 <= most + HALF_CM or ("pull" in strand.role and max(b.high.value for b in lengths.values()) - strand.low.value > -row("landings", "moving water").low):
                return False
            continue
        if need is None or strand.low is None or strand.low.value < need.value:
            return False
    return True


def last_system(ctx: Context, lengths: dict[str, Bounded], drop: Drop, at: tuple[str | int, ...]) -> dict | None:
    """A system for the last person with the rope that the party's state uses: the first of doubled, pull cord and block on the same
    rope of which every strand reaches.

    ctx: the plan's context; lengths: of the lines [m]; drop: the drop, one state, of a system that must be converted; at: its path
    returns: the system as plain data, None if none reaches
    Source: P, common practice, no source.
    """
    old = drop.station.states[0].system
    rope, end, water = ctx.ropes.get(old.rope), getattr(old, "ridden_end", None) or old.end, drop.landing.kind == "moving water"
    if rope is None or not lengths:
        return None
    stoppers = [] if water else [{"rope": rope.id, "end": end}]
    tails = {"kind": "known", "value": row("knots", "tail.join").high, "method": "given"}
    by_mark = rope.middle_mark and rope.middle_off_m.kind == "known"
    candidates = [{"kind": "doubled", "rope": rope.id, "middle_by": "mark" if by_mark else "ends run together", "pulled_end": "a" if end == "b" else "b",
                   "stoppers": [] if water else [{"rope": rope.id, "end": e} for e in "ab"]}]
    for cord in ctx.ropes.values():
        if cord.kind == "pull cord":
            candidates.append({"kind": "blocked, pull cord", "rope": rope.id, "ridden_end": end, "cord": cord.id, "cord_end": "b", "knot": ctx.plan.policies.join, "tails_m": tails,
                               "block": "figure eight", "carabiner": True, "stoppers": stoppers})
    same = {"kind": "blocked, same rope", "rope": rope.id, "ridden_end": end, "ride_m": {"kind": "unknown", "why": "not decided"}, "block": "figure eight", "carabiner": True, "stoppers": stoppers}
    if getattr(old, "ride_m", None) is not None and old.ride_m.kind == "known":
        ride = old.ride_m.value
    else:
        state = drop.station.states[0].model_copy(update={"system": read_system(same)})
        ride = ride_wanted_m(ctx, drop.model_copy(update={"station": drop.station.model_copy(update={"states": (state,)})}), lengths)
    if ride is not None:
        candidates.append({**same, "ride_m": {"kind": "known", "value": ride, "method": "tape"}})
    others = sorted((r for r in ctx.ropes.values() if r.id != rope.id and r.kind != "pull cord" and r.id != getattr(old, "reserve_rope", None)), key=lambda r: r.id)
    for more in others:
        through, other = (rope, more) if _thickness(rope) >= _thickness(more) else (more, rope)
        candidates.append({"kind": "joined", "through": through.id, "through_end": end, "other": other.id, "other_end": end, "knot": ctx.plan.policies.join, "tails_m": tails,
                           "stoppers": [] if water else [{"rope": r.id, "end": end} for r in (through, other)]})
        candidates.append({"kind": "blocked, pull cord", "rope": rope.id, "ridden_end": end, "cord": more.id, "cord_end": "b", "knot": ctx.plan.policies.join, "tails_m": tails,
                           "block": "figure eight", "carabiner": True, "stoppers": stoppers})
    for data in candidates:
        try:
            system = read_system(data)
        except ValidationError:
            continue
        if _all_reach(system, ctx, lengths, drop, at):
            return data
    return None


def _thickness(rope: Rope) -> float:
    return rope.diameter_mm.value if rope.diameter_mm.kind == "known" else 0.0


def _reach_findings(item: Reach, s: Strand, hanging: list[Strand], ctx: Context, lengths: dict[str, Bounded], found: Findings, at: tuple,
                    drop: Drop) -> None:
    system = drop.station.states[0].system
    twins, other = system.kind == "doubled", next((h for h in hanging if h is not s), None)
    # Both halves of a doubled rope that are equally long at worst are said once, for the side that is pulled.
    alike = twins and other is not None and s.low is not None and other.low is not None and abs(s.low.value - other.low.value) < 0.005
    if alike and s.end != system.pulled_end and item.spare is not None:
        return
    name = f"Half of {item.name}" if alike else f"{item.name} {item.end.upper()}" if twins or len({h.rope.id for h in hanging}) < len(hanging) else item.name
    if item.spare is None:
        found.add("reach.unknown", "Not checked", item.key, "Whether {rope} reaches is not checked",
                  "Not checked: {why}.", words={"rope": name, "why": item.why}, fix=_decide_ride(ctx, drop, lengths, at))
    elif item.spare.value < 0:
        used = s.rope.measured_m if s.rope.measured_m.kind == "known" else s.rope.nominal_m
        basis = f"measured by {used.method}" if s.rope.measured_m.kind == "known" else "from its label, less shrinkage"
        role = ", the strand that is pulled," if s.role == "pull" else ""
        found.add("reach.short", "Shortfall", item.key, "{rope}{role} does not reach: {short} short",
                  "It needs {need} at the upper bound of the survey; it has {low} at its low end, {basis}.",
                  numbers={"short": Number(-item.spare.value, "length", "up", item.spare.working), "need": item.need,
                           "low": item.low}, words={"rope": name, "basis": basis, "role": role},
                  working=item.spare.working, fix=_longer_rope(s, ctx, lengths, drop, at) if found.fixes else None)


def _decide_ride(ctx: Context, drop: Drop, lengths: dict[str, Bounded], at: tuple) -> Fix | None:
    """What to give a ride strand of which nobody has decided the length."""
    system = drop.station.states[0].system
    if getattr(system, "ride_m", None) is None or system.ride_m.kind == "known":
        return None
    wanted = ride_wanted_m(ctx, drop, lengths)
    return None if wanted is None else Fix(Sentence("Give the ride strand {ride}", {"ride": Number(wanted, "length", "up")}), (
        Edit((*at, "ride_m"), {"kind": "known", "value": wanted, "method": "tape"}),))


def _longer_rope(s: Strand, ctx: Context, lengths: dict[str, Bounded], drop: Drop, at: tuple) -> Fix | None:
    """The change of this system after which every strand reaches: more rope to the ride strand, or the shortest
    other rope of the shed. Each candidate is worked out like the plan's own system before it is offered."""
    system = drop.station.states[0].system

    def reaches(candidate: System) -> bool:
        return _all_reach(candidate, ctx, lengths, drop, at)

    if system.kind in ("blocked, same rope", "releasable") and s.role == "ride":
        need, _ = _need(s, drop, lengths, Book())
        if need is not None and system.ride_m.kind == "known":
            wanted = min(LONGEST_M, math.ceil(need.value / (1 - row("methods", "tape").high) * 10) / 10)
            ride = Known(kind="known", value=wanted, method="tape")
            if reaches(system.model_copy(update={"ride_m": ride})):
                return Fix(Sentence("Give the ride strand {ride}", {"ride": Number(wanted, "length", "up")}),
                           (Edit((*at, "ride_m"), ride.model_dump(mode="json")),))
    field = next(k for k in ("rope", "through", "other", "cord") if getattr(system, k, None) == s.rope.id)
    taken = set(ropes_of(system))
    fits: list[tuple[float, str, Fix]] = []
    for rope in ctx.ropes.values():
        if rope.id in taken or (rope.kind == "pull cord") != (field == "cord"):
            continue
        stoppers = tuple(EndRef(rope=rope.id, end=r.end) if r.rope == s.rope.id else r for r in system.stoppers)
        length = real_length(rope, Book())
        if isinstance(length, tuple) and reaches(system.model_copy(update={field: rope.id, "stoppers": stoppers})):
            edits = [Edit((*at, field), rope.id)]
            if stoppers != system.stoppers:
                edits.append(Edit((*at, "stoppers"), [r.model_dump(mode="json") for r in stoppers]))
            fits.append((length[0].value, rope.id, Fix(Sentence("Use {rope} instead", {}, {"rope": rope.name}), tuple(edits))))
    return min(fits, key=lambda f: f[:2])[2] if fits else None


def _end_findings(item: Reach, s: Strand, lengths: dict[str, Bounded], drop: Drop, hanging: list[Strand],
                  ctx: Context, found: Findings, at: tuple, book: Book) -> None:
    """Open ends that are ridden. Source: P, common practice, no source."""
    if s.knotted or "ride" not in s.role or item.low is None:
        return
    key, state = f"end.{s.rope.id}-{s.end}", drop.station.states[0]
    around = deviations_longer(drop.station, lengths, book) if drop.station.deviations else None
    further = around.of(state.serves).value if around is not None and around.party is not None else 0.0
    longest, stance = max(b.high.value for b in lengths.values()) + further, drop.landing.kind == "hanging stance"
    refs = [r.model_dump(mode="json") for r in state.system.stoppers]
    refs += [{"rope": h.rope.id, "end": h.end} for h in hanging if "ride" in h.role and not h.knotted]
    words = {"rope": s.rope.name, "end": s.end.upper(), "down": DOWN[drop.landing.kind]}
    fix = Fix(Sentence("Plan a stopper in every open end that is ridden"), (Edit((*at, "stoppers"), refs),))
    lies = item.low.value >= longest and (around is None or around.party is not None)
    if stance:
        found.add("end.open", "Shortfall", key, "End {end} of {rope} is open below a hanging stance", "Nothing stops who rides past it. Knot it.", words=words, fix=fix)
    elif not lies:
        found.add("end.open", "Shortfall", key, "End {end} of {rope} is open and may hang above {down}", "It has {low}; the path may be {path}. Knot it.",
                  numbers={"low": item.low, "path": Number(longest, "length", "up")}, words=words, fix=fix)
    elif ctx.plan.policies.ends == "always":
        found.add("end.open", "Shortfall", key, "End {end} of {rope} is open and nobody has seen it down", "It should reach {down}, but a rope that hangs up on the way ends where it likes. Knot it until it is seen down.", words=words, fix=fix)
    else:
        found.add("end.seen", "Caution", key, "See end {end} of {rope} down before anybody rides", "It is open. It should reach {down}; the choice made for this plan leaves it open only where it is seen there.", words=words)


def runs_over(state: State) -> str:
    """What the rope runs through at the station, in a word: its ring, or what stands in its place.

    state: how it is rigged
    returns: ring or anchor
    Source: none, text only.
    """
    return "anchor" if state.rig.kind == "direct" and state.rig.ring is None else "ring"
