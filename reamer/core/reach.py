"""Does it reach: what each strand needs, what it has, where its end comes to lie."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.context import Context
from reamer.core.findings import Edit, Findings, Fix
from reamer.core.loads import Load, static_kn
from reamer.core.model import Drop, EndRef, Known, System
from reamer.core.polyline import Line, Point, point_at
from reamer.core.rope import rating_kg, real_length, stopper_m, stretch_m
from reamer.core.say import Number, Sentence
from reamer.core.section import Lines
from reamer.core.systems import Strand, strands
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
    """One strand's reach: what it has and needs, what is to spare at worst, and its end with and without a rider."""

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


def paths(by_bound: dict[str, Lines], book: Book) -> dict[str, Bounded]:
    """Lengths of the taut and the draped line at each bound of the survey.

    by_bound: lines for low, nominal and high; book: where the workings go
    returns: "taut" and "draped", each low, nominal and high; never past the nominal one on the wrong side [m]
    Source: HB, polyline length; the bounds J.
    """
    made = {}
    for kind in ("taut", "draped"):
        numbers = {}
        lines: dict[str, Line] = {b: getattr(by_bound[b], kind) for b in by_bound}
        order = sorted(lines, key=lambda b: lines[b].length_m)
        chosen = {"low": order[0], "nominal": "nominal", "high": order[-1]}
        for bound, b in chosen.items():
            line = lines[b]
            terms = [Term(f"l{i}", f"piece {i}", piece, "fine length", "section") for i, piece in enumerate(line.pieces_m, 1)]
            formula = " + ".join(t.symbol for t in terms) or "0"
            if line.extra_m:
                terms.append(Term("o", "landing set back behind the plumb line", line.recess_m, "fine length", "section"))
                last = terms[-2].symbol
                formula += f" + sqrt({last}**2 + o**2) - {last}"
            numbers[bound] = book.number(f"path.{kind}.{bound}", f"{kind} line, {bound} bound", formula, terms,
                                         line.length_m, "length", "down" if bound == "low" else "up" if bound == "high" else "near")
        made[kind] = Bounded(**numbers)
    return made


def _need(s: Strand, drop: Drop, lengths: dict[str, Bounded], book: Book) -> tuple[Number | None, str]:
    key = f"need.{s.rope.id}-{s.end}"
    choices: list[Number] = []
    if "ride" in s.role:
        if drop.landing.kind == "unknown":
            return None, "what the landing is is unknown"
        longer = max(lengths.values(), key=lambda b: b.high.value).high
        allow = row("landings", drop.landing.kind)
        terms = [computed("path", "the longer of the taut and the draped line, upper bound", longer),
                 from_row("a", allow, allow.high, "fine length")]
        formula, value = "path + a", longer.value + allow.high
        if s.knotted:
            if s.rope.diameter_mm.kind == "unknown":
                return None, f"the diameter of {s.rope.name} is unknown, so what its stopper takes is too"
            d, knot, tail = s.rope.diameter_mm.value, row("knots", "rope used.stopper"), row("ropes", "stopper.tail")
            terms += [from_row("n", knot, knot.high, "count"), Term("d", f"diameter of {s.rope.name}", d, "diameter", "entered"),
                      from_row("t", tail, tail.high, "fine length")]
            formula, value = formula + " + n*d/1000 + t", value + stopper_m(d)
        choices.append(book.number(f"{key}.ride", f"{s.rope.name}, needed to ride", formula, terms, value, "length", "up"))
    if "pull" in s.role or s.load_share == 0.5:  # of two ridden strands either may be the one pulled
        taut, hand = lengths["taut"].high, row("ropes", "pull.reach")
        choices.append(book.number(f"{key}.pull", f"{s.rope.name}, needed to pull", "path + h",
                                   [computed("path", "taut line to the puller, upper bound", taut),
                                    from_row("h", hand, hand.high, "fine length")], taut.value + hand.high, "length", "up"))
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
    if water:
        found.add("reach.water", "Not checked", "reach", "Rope length over moving water is not checked",
                  "The end belongs at the surface or up to {above} over it, unknotted, on a releasable strand set on site; "
                  "releasable systems are not worked out yet.",
                  numbers={"above": Number(-row("landings", "moving water").low, "length")})
        for s in hanging:
            if s.knotted:
                found.add("end.open", "Shortfall", f"end.{s.rope.id}-{s.end}", "A knot in an end over moving water",
                          "A rider held at a knot in the current drowns. Take the stopper out of {rope}.",
                          words={"rope": s.rope.name})
    made = []
    for s in hanging:
        if s.load_share and s.rope.elongation_pct.kind == "unknown":
            found.add("end.stretch", "Not checked", f"end.{s.rope.id}-{s.end}", "How far {rope} {end} stretches is unknown",
                      "Where its end hangs with a rider on it is not checked.", words={"rope": s.rope.name, "end": s.end.upper()})
        need, why = (None, "moving water") if water else _need(s, drop, lengths, book)
        if s.low is None:
            why = s.why
        free, ridden = _ends(s, by_bound["nominal"].taut, lengths["taut"].nominal, load, book)
        spare = None
        if need is not None and s.low is not None:
            spare = book.number(f"spare.{s.rope.id}-{s.end}", f"{s.rope.name}, to spare", "L - need",
                                [computed("L", "the strand, low end", s.low), computed("need", "needed", need)],
                                s.low.value - need.value, "length", "down")
        item = Reach(f"reach.{s.rope.id}-{s.end}", s.rope.id, s.end, s.rope.name, s.role, s.knotted, s.low, s.high, need,
                     spare, why, free, ridden, by_bound["nominal"].taut.points)
        made.append(item)
        if not water:
            _reach_findings(item, s, ctx, lengths, found, at, drop)
            _end_findings(item, s, lengths, drop, hanging, found, at)
    return tuple(made)


def _reach_findings(item: Reach, s: Strand, ctx: Context, lengths: dict[str, Bounded], found: Findings, at: tuple,
                    drop: Drop) -> None:
    twins = drop.station.states[0].system.kind == "doubled"
    if twins and s.end != drop.station.states[0].system.pulled_end and item.spare is not None:
        return  # both halves of a doubled rope are equally long at worst: say it once, for the pulled side
    name = f"Half of {item.name}" if twins else item.name
    if item.spare is None:
        found.add("reach.unknown", "Not checked", item.key, "Whether {rope} reaches is not checked",
                  "Not checked: {why}.", words={"rope": name, "why": item.why})
    elif item.spare.value < 0:
        used = s.rope.measured_m if s.rope.measured_m.kind == "known" else s.rope.nominal_m
        basis = f"measured by {used.method}" if s.rope.measured_m.kind == "known" else "from its label, less shrinkage"
        found.add("reach.short", "Shortfall", item.key, "{rope} does not reach: {short} short",
                  "It needs {need} at the upper bound of the survey; it has {low} at its low end, {basis}.",
                  numbers={"short": Number(-item.spare.value, "length", "up", item.spare.working), "need": item.need,
                           "low": item.low}, words={"rope": name, "basis": basis},
                  working=item.spare.working, fix=_longer_rope(s, ctx, lengths, drop, at))


def _longer_rope(s: Strand, ctx: Context, lengths: dict[str, Bounded], drop: Drop, at: tuple) -> Fix | None:
    """The change of this system after which every strand reaches: more rope to the ride strand, or the shortest
    other rope of the shed. Each candidate is worked out like the plan's own system before it is offered."""
    system = drop.station.states[0].system

    def reaches(candidate: System) -> bool:
        trial = Findings(drop.id)
        hanging = strands(candidate, ctx, trial, Book(), at)
        if any(f.severity == "Shortfall" or f.code == "system.middle" for f in trial.found):
            return False
        for strand in hanging:
            need, _ = _need(strand, drop, lengths, Book())
            if need is None or strand.low is None or strand.low.value < need.value:
                return False
        return True

    if system.kind == "blocked, same rope" and s.role == "ride":
        need, _ = _need(s, drop, lengths, Book())
        if need is not None and system.ride_m.kind == "known":
            wanted = math.ceil(need.value / (1 - row("methods", "tape").high) * 10) / 10
            ride = Known(kind="known", value=wanted, method="tape")
            if reaches(system.model_copy(update={"ride_m": ride})):
                return Fix(Sentence("Give the ride strand {ride}", {"ride": Number(wanted, "length", "up")}),
                           (Edit((*at, "ride_m"), ride.model_dump(mode="json")),))
    field = next(k for k in ("rope", "through", "other", "cord") if getattr(system, k, None) == s.rope.id)
    taken = {getattr(system, k, None) for k in ("rope", "through", "other", "cord")}
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
                  found: Findings, at: tuple) -> None:
    key = f"end.{s.rope.id}-{s.end}"
    words = {"rope": s.rope.name, "end": s.end.upper()}
    stoppers = drop.station.states[0].system.stoppers
    if s.knotted:
        if "pull" not in s.role or _travels_up(s, drop):
            found.add("end.untie", "Note", key, "Untie end {end} of {rope} before the pull",
                      "It goes up through the ring. Take its stopper out once the ends are seen on the ground.", words=words)
        return
    if "ride" not in s.role or item.low is None:
        return
    longest = max(b.high.value for b in lengths.values())
    if item.low.value < longest:
        refs = [r.model_dump(mode="json") for r in stoppers]
        refs += [{"rope": h.rope.id, "end": h.end} for h in hanging if "ride" in h.role and not h.knotted]
        found.add("end.open", "Shortfall", key, "End {end} of {rope} is open and may hang above the landing",
                  "It has {low}; the path may be {path}. Knot it.",
                  numbers={"low": item.low, "path": Number(longest, "length", "up")}, words=words,
                  fix=Fix(Sentence("Plan a stopper in every open end that is ridden"), (Edit((*at, "stoppers"), refs),)))


def _travels_up(s: Strand, drop: Drop) -> bool:
    """Whether this strand's end goes up through the ring when the other side is pulled."""
    system = drop.station.states[0].system
    return system.kind == "doubled" and s.end != system.pulled_end
