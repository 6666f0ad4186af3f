"""The rope systems: which strands hang from the ring, who rides what, what is pulled, how long each is."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from reamer.core.context import Context
from reamer.core.findings import Edit, Findings, Fix
from reamer.core.model import EndRef, Rope, System, Unknown
from reamer.core.rope import error_term, real_length, sound_piece, stopper_m, to_mark
from reamer.core.say import Number, Sentence
from reamer.core.section import limits_m
from reamer.core.tables import row
from reamer.core.working import Book, Term, computed, from_row

Role = Literal["ride", "pull", "ride and pull", "reserve", "lower"]
SYSTEM_NAMES = {
    "none": "no system", "doubled": "doubled rope", "joined": "two ropes joined",
    "blocked, same rope": "single strand, block on the same rope",
    "blocked, pull cord": "single strand with pull cord",
    "releasable": "releasable single strand",
    "elastic-release device": "elastic-release device",
    "alternating bights": "alternating bights",
    "lowered": "lowered by a belayer",
}
# Systems that nobody can pull: they serve the party, and are converted for the last person.
CONVERTED = ("releasable", "lowered")
# In these nothing runs over the ring as they come down.
UNDONE = ("elastic-release device", "alternating bights")


def ropes_of(system: System) -> tuple[str, ...]:
    """The ropes a system names, in order, as ids.

    system: any
    returns: ids, each as often as it is named
    Source: none, a look-up.
    """
    named = tuple(i for n in ("rope", "through", "other", "cord", "reserve_rope") if (i := getattr(system, n, None)) is not None)
    more = getattr(system, "tied_on", None)
    return named if more is None else (*named, more.rope)


@dataclass(frozen=True, slots=True)
class Strand:
    """What hangs from the ring to one permanent end, or lies in reserve: its role, share of the rider, length low and high [m].
    ``join_at``: how far along it a second rope is joined on: of a reserve, what can be let out before that knot; of a ride strand, how far
    below the ring [m]."""

    rope: Rope
    end: str
    role: Role
    load_share: float
    low: Number | None
    high: Number | None
    why: str
    knotted: bool
    join_at: Number | None = None


def strands(system: System, ctx: Context, found: Findings, book: Book, at: tuple[str | int, ...]) -> list[Strand]:
    """The strands of a rope system, with findings about the system itself.

    system: as rigged; ctx: the plan's context; found, book: where findings and workings go
    at: path of the system in the plan, for fixes
    returns: the strands, none if the system cannot be read off the shed
    Source: P, common practice, no source.
    """
    if system.kind == "none":
        found.add("system.none", "Not checked", "system", "No rope system is chosen",
                  "Reach and the rope's load are not checked until one is.")
        return []
    named = ropes_of(system)
    missing = [n for n in named if n not in ctx.ropes]
    if missing:
        found.add("system.missing", "Not checked", "system", "A rope of this system is not in the shed",
                  "The system names a rope that was removed; choose another.")
        return []
    if len(set(named)) < len(named):
        found.add("system.twice", "Shortfall", "system", "{rope} is used twice at once",
                  "A system of two ropes needs two.", words={"rope": ctx.ropes[named[0]].name})
        return []
    if system.kind == "elastic-release device" and not any(d.id == system.device for d in ctx.plan.shed.devices):
        found.add("system.missing", "Not checked", "system", "The device of this system is not in the shed", "The system names a device that was removed; choose another.")
    made = {"doubled": _doubled, "joined": _joined, "blocked, same rope": _blocked_same, "blocked, pull cord": _blocked_cord,
            "releasable": _releasable, "elastic-release device": _elastic, "alternating bights": _bights,
            "lowered": _lowered}[system.kind](system, ctx, found, book, at)
    more = getattr(system, "tied_on", None)
    if more is not None and made:
        made = [_lengthened(s, system, ctx, found, book) if s.role == "ride" else s for s in made]
    _outside(made, found)
    _shortest(made, found)
    hanging = {(s.rope.id, s.end) for s in made if s.role != "reserve"} | ({(more.rope, more.end)} if more is not None else set())
    for ref in system.stoppers:
        if (ref.rope, ref.end) not in hanging:
            found.add("system.ends", "Caution", "system", "A stopper is planned in an end that does not hang here",
                      "End {end} of {rope} is not one of this station's strands.",
                      words={"end": ref.end.upper(), "rope": ctx.ropes[ref.rope].name if ref.rope in ctx.ropes
                             else "a rope that is not in the shed"})
    return made


def _lengthened(s: Strand, system: System, ctx: Context, found: Findings, book: Book) -> Strand:
    """A ride strand with a second rope tied to its lower end."""
    more, rope = system.tied_on, ctx.ropes[system.tied_on.rope]
    _cord_ridden(rope, found)
    whole, knotted = _whole(rope, ctx, found, book), EndRef(rope=more.rope, end=more.end) in system.stoppers
    blank = next((r.name for r in (s.rope, rope) if r.diameter_mm.kind == "unknown"), "")
    why = s.why or (whole.why if isinstance(whole, Unknown) else f"the diameter of {blank} is unknown, so what the join takes is too" if blank else
                    "how long the join's tails are is not decided" if more.tails_m.kind == "unknown" else "")
    if why or s.low is None:
        return replace(s, low=None, high=None, why=why, knotted=knotted)
    knots = [row("knots", key) for _, key, _, _ in _knots_of(more.knot, 0.0, "")]
    symbols, tail = " + ".join(f"n{i}" for i in range(1, len(knots) + 1)), more.tails_m.value
    takes = sum(k.high for k in knots) * (s.rope.diameter_mm.value + rope.diameter_mm.value) / 1000 + 2 * tail
    both = [book.number(f"strand.{s.rope.id}-{s.end}.tied.{side}", f"{s.rope.name} with {rope.name} tied on, {side} end", f"K + R - ({symbols})*(d1 + d2)/1000 - 2*t", [
        computed("K", f"{s.rope.name} {s.end.upper()}", one), computed("R", f"real length of {rope.name}", two), *(from_row(f"n{i}", k, k.high, "count") for i, k in enumerate(knots, 1)),
        Term("d1", f"diameter of {s.rope.name}", s.rope.diameter_mm.value, "diameter", "entered"), Term("d2", f"diameter of {rope.name}", rope.diameter_mm.value, "diameter", "entered"),
        Term("t", "tail of the join", tail, "fine length", "decided")], one.value + two.value - takes, "length", toward) for side, one, two, toward in (("low", s.low, whole[0], "down"), ("high", s.high, whole[1], "up"))]
    return replace(s, low=both[0], high=both[1], knotted=knotted, join_at=s.low)


def _outside(made: list[Strand], found: Findings) -> None:
    """A ridden or pulled end that lies past the rope's damage: rope that is not to be used hangs there, and a rider may come onto it."""
    for s in made:
        piece = sound_piece(s.rope)
        at = piece.start if s.end == "a" else piece.stop
        if s.role != "reserve" and not piece.has(s.end):
            found.add("rope.outside", "Shortfall", f"rope.{s.rope.id}", "End {end} of {rope} lies past its damage", "What hangs below the damage at {at} is not to be used, and a stopper in that end is too far down. "
                      "Cut the rope there, hang it by its sound end, or isolate the damage with a knot that everyone passes.", words={"rope": s.rope.name, "end": s.end.upper()},
                      numbers={"at": Number(at.at_m.value, "length")})


def _shortest(made: list[Strand], found: Findings) -> None:
    """A strand that its own end knot, or the station's knots, use up."""
    for s in made:
        if s.low is None or s.role == "reserve":
            continue
        takes = stopper_m(s.rope.diameter_mm.value) if s.knotted and s.rope.diameter_mm.kind == "known" else 0.0
        if s.low.value <= takes:
            found.add("rope.too-short", "Shortfall", f"rope.{s.rope.id}", "{rope} {end} is shorter than its own knots",
                      "What is left of it hangs {low} from the station; its end knot takes {takes}.", words={"rope": s.rope.name, "end": s.end.upper()},
                      numbers={"low": Number(max(0.0, s.low.value), "length", "down", s.low.working), "takes": Number(takes, "fine length", "up")}, working=s.low.working)


def _other(end: str) -> str:
    return "b" if end == "a" else "a"


def _knotted(system: System, rope: Rope, end: str) -> bool:
    return EndRef(rope=rope.id, end=end) in system.stoppers


def _whole(rope: Rope, ctx: Context, found: Findings, book: Book) -> tuple[Number, Number] | Unknown:
    length = ctx.once(("length", rope.id), (rope,), book, lambda own: real_length(rope, own))
    if isinstance(length, Unknown):
        found.add("rope.length", "Not checked", f"rope.{rope.id}", "The length of {rope} is unknown",
                  "Whether it reaches is not checked.", words={"rope": rope.name})
    elif rope.measured_m.kind == "unknown":
        found.add("rope.nominal", "Caution", f"rope.{rope.id}", "{rope} was never measured",
                  "Its label's length less shrinkage is counted, {low} at the least. Measure it.",
                  numbers={"low": length[0]}, words={"rope": rope.name}, working=length[0].working)
    return length


def _cord_ridden(rope: Rope, found: Findings) -> None:
    if rope.kind == "pull cord":
        found.add("system.cord-ridden", "Shortfall", "system", "{rope} is a pull cord and would be ridden",
                  "A pull cord cannot hold a person.", words={"rope": rope.name})


def _middle(rope: Rope, by: str, found: Findings, at: tuple) -> str:
    """Whether the middle of a rope can be found; why not, "" if it can."""
    if by != "mark":
        return ""
    piece = sound_piece(rope)
    base = rope.measured_m if rope.measured_m.kind == "known" else rope.nominal_m
    if not rope.middle_mark or rope.middle_off_m.kind == "unknown":
        has = "how far its middle mark is off is unknown" if rope.middle_mark else "it has no middle mark"
    elif base.kind == "known" and ((piece.start and limits_m(piece.start.at_m)[1] >= limits_m(base)[0] / 2 - limits_m(rope.middle_off_m)[1])
                                   or (piece.stop and limits_m(piece.stop.at_m)[0] <= limits_m(base)[1] / 2 + limits_m(rope.middle_off_m)[1])):
        has = "its middle mark lies past its damage"
    else:
        return ""
    found.add("system.middle", "Not checked", f"rope.{rope.id}", "The middle of {rope} is not certain",
              "The rope is to be centred by its mark, but {has}.", words={"rope": rope.name, "has": has},
              fix=Fix(Sentence("Run both ends out together"), (Edit((*at, "middle_by"), "ends run together"),)))
    return f"{rope.name}: {has}"


def _half(rope: Rope, end: str, by: str, whole: tuple[Number, Number], book: Book) -> tuple[Number, Number]:
    """One side of a rope from its middle: from its mark, or half of what is left between its ends."""
    if by == "mark":
        sides = to_mark(rope, end, book)
        return tuple(book.number(f"strand.{rope.id}-{end}.{side}", f"{rope.name} {end.upper()}, {side} end", "H", [computed("H", "from the middle mark", n)],
                                 n.value, "length", n.toward) for side, n in zip(("low", "high"), sides))
    return tuple(book.number(f"strand.{rope.id}-{end}.{side}", f"{rope.name}, half, {side} end", "R/2", [computed("R", f"real length, {side} end", w)], w.value / 2, "length", w.toward)
                 for side, w in zip(("low", "high"), whole))


def _doubled(system: System, ctx: Context, found: Findings, book: Book, at: tuple) -> list[Strand]:
    rope = ctx.ropes[system.rope]
    _cord_ridden(rope, found)
    whole = _whole(rope, ctx, found, book)
    why = whole.why if isinstance(whole, Unknown) else _middle(rope, system.middle_by, found, at)
    made = []
    for end in ("a", "b"):
        low, high = (None, None) if why else _half(rope, end, system.middle_by, whole, book)
        # Until the pull, either side may be the one that travels: each must be long enough for both.
        made.append(Strand(rope, end, "ride and pull", 0.5, low, high, why, _knotted(system, rope, end)))
    return sorted(made, key=lambda s: s.end == system.pulled_end)


def _less_knots(rope: Rope, whole: tuple[Number, Number] | Unknown, knots: list[tuple[str, str, float, str]],
                end: str, book: Book) -> tuple[Number | None, Number | None, str]:
    """A rope's strand after what the station's knots take: low and high, or why unknown."""
    if isinstance(whole, Unknown):
        return None, None, whole.why
    if rope.diameter_mm.kind == "unknown":
        return None, None, f"the diameter of {rope.name} is unknown, so what its knots take is too"
    d = rope.diameter_mm.value
    terms, formula, taken = [], "R", 0.0
    for i, (name, key, tail, source) in enumerate(knots, 1):
        used = row("knots", key)
        by_diameter = used.unit == "d"
        terms.append(from_row(f"n{i}", used, used.high, "count" if by_diameter else "fine length"))
        formula += f" - n{i}*d/1000" if by_diameter else f" - n{i}"
        taken += used.high * d / 1000 if by_diameter else used.high
        if tail:
            terms.append(Term(f"t{i}", f"tail of the {name}", tail, "fine length", source))
            formula += f" - t{i}"
            taken += tail
    terms.append(Term("d", f"diameter of {rope.name}", d, "diameter", "entered"))
    numbers = []
    for i, side in enumerate(("low", "high")):
        numbers.append(book.number(
            f"strand.{rope.id}-{end}.{side}", f"{rope.name} past the station's knots, {side} end", formula,
            [computed("R", f"real length, {side} end", whole[i]), *terms], whole[i].value - taken, "length",
            "down" if side == "low" else "up"))
    return numbers[0], numbers[1], ""


def _join_knot(system: System) -> list[tuple[str, str, float, str]]:
    tail, source = (system.tails_m.value, "decided") if system.tails_m.kind == "known" else (
        row("knots", "tail.join").high, row("knots", "tail.join").cited)
    return _knots_of(system.knot, tail, source)


def _knots_of(knot: str, tail: float, source: str) -> list[tuple[str, str, float, str]]:
    """What a join takes of each of its ropes: its knots and one tail."""
    made = [("join", {"opposed overhand": "rope used.opposed overhand", "flat figure eight": "rope used.flat figure eight"}.get(knot, "rope used.flat overhand"), tail, source)]
    return made + ([("second overhand", "rope used.second overhand", 0.0, "none")] if knot == "flat overhand, second behind" else [])


def _block_knot(system: System) -> list[tuple[str, str, float, str]]:
    return [("block", f"rope used.{system.block}", 0.0, "none")]


def _joined(system: System, ctx: Context, found: Findings, book: Book, at: tuple) -> list[Strand]:
    through, other = ctx.ropes[system.through], ctx.ropes[system.other]
    for rope in (through, other):
        _cord_ridden(rope, found)
    _thin_through(system, through, other, found, at)
    made = []
    roles = ("ride", "ride and pull") if system.pulled == "other" else ("ride and pull", "ride")
    for rope, end, role in ((through, system.through_end, roles[0]), (other, system.other_end, roles[1])):
        low, high, why = _less_knots(rope, _whole(rope, ctx, found, book), _join_knot(system), end, book)
        made.append(Strand(rope, end, role, 0.5, low, high, why, _knotted(system, rope, end)))
    return made


def _thin_through(system: System, through: Rope, other: Rope, found: Findings, at: tuple) -> None:
    if through.diameter_mm.kind == "unknown" or other.diameter_mm.kind == "unknown":
        found.add("system.thin-through", "Not checked", "system", "Which of the two ropes is the thicker is unknown", "The thicker goes through the ring. Not checked: the diameter of {rope} is unknown.",
                  words={"rope": (through if through.diameter_mm.kind == "unknown" else other).name})
        return
    by = other.diameter_mm.value - through.diameter_mm.value
    if by <= 1e-9:
        return
    swap = Fix(Sentence("Put {rope} through the ring", {}, {"rope": other.name}), (
        Edit((*at, "through"), other.id), Edit((*at, "through_end"), system.other_end),
        Edit((*at, "other"), through.id), Edit((*at, "other_end"), system.through_end)))
    found.add("system.thin-through", "Shortfall" if by >= row("knots", "thin.through").low - 1e-9 else "Note", "system", "The thinner rope runs through the ring",
              "{thin} is {d1}, {thick} is {d2}. The thick strand grips more in the device and creeps down, the "
              "join travels with the rider and the thin end is drawn up. The thicker goes through the ring.",
              numbers={"d1": Number(through.diameter_mm.value, "diameter"), "d2": Number(other.diameter_mm.value, "diameter")},
              words={"thin": through.name, "thick": other.name}, fix=swap)


def _given(rope: Rope, system: System, ridden: str, low: Number, high: Number, book: Book) -> list[Number]:
    """What is given to the ride strand: low and high, the ride figure at its limits."""
    made = []
    for side, limit, most in zip(("low", "high"), limits_m(system.ride_m), (low, high)):
        # Nobody can give a strand more rope than there is past the station's knots.
        made.append(book.number(
            f"strand.{rope.id}-{ridden}.{side}", f"{rope.name} given to the ride strand, {side} end", "min(l + e, K)",
            [Term("l", "rope given to the ride strand", system.ride_m.value, "length", f"decided: {system.ride_m.method}"),
             error_term("e", system.ride_m, limit),
             computed("K", "rope past the station's knots", most)],
            min(limit, most.value), "length", "down" if side == "low" else "up"))
    return made


def _rest(rope: Rope, system: System, end: str, what: str, low: Number, high: Number, book: Book) -> list[Number]:
    """What the ride strand leaves: at its longest it takes most, so the rest is at its shortest."""
    made = []
    for side, part, other in (("low", low, limits_m(system.ride_m)[1]), ("high", high, limits_m(system.ride_m)[0])):
        made.append(book.number(
            f"strand.{rope.id}-{end}.rest.{side}", f"{rope.name} {what}, {side} end", "K - (l + e)",
            [computed("K", "rope past the station's knots", part),
             Term("l", "rope given to the ride strand", system.ride_m.value, "length", f"decided: {system.ride_m.method}"),
             error_term("e", system.ride_m, other)],
            part.value - other, "length", "down" if side == "low" else "up"))
    return made


def _split(system: System, rope: Rope, knots: list, what: str, role: Role, ctx: Context, found: Findings, book: Book) -> list[Strand]:
    """One rope parted at the station: a ride strand of a given length, and the rest."""
    ridden, rest = system.ridden_end, _other(system.ridden_end)
    whole = _whole(rope, ctx, found, book)
    low = high = None
    if system.ride_m.kind == "unknown":
        why = "how much rope the ride strand gets is unknown"
    else:
        low, high, why = _less_knots(rope, whole, knots, rest, book)
    ride = left = [None, None]
    if not why:
        ride, left = _given(rope, system, ridden, low, high, book), _rest(rope, system, rest, what, low, high, book)
    return [Strand(rope, ridden, "ride", 1.0, ride[0], ride[1], why, _knotted(system, rope, ridden)),
            Strand(rope, rest, role, 0.0, left[0], left[1], why, _knotted(system, rope, rest))]


def _blocked_same(system: System, ctx: Context, found: Findings, book: Book, at: tuple) -> list[Strand]:
    rope = ctx.ropes[system.rope]
    _cord_ridden(rope, found)
    return _split(system, rope, _block_knot(system), "left for the pull strand", "pull", ctx, found, book)


def _releasable(system: System, ctx: Context, found: Findings, book: Book, at: tuple) -> list[Strand]:
    rope = ctx.ropes[system.rope]
    _cord_ridden(rope, found)
    made = _split(system, rope, [("tie-off", f"rope used.{system.tie_off}", 0.0, "none")], "in reserve past the tie-off", "reserve", ctx, found, book)
    if system.reserve_rope is None or made[1].low is None:
        return made
    more = ctx.ropes[system.reserve_rope]
    _cord_ridden(more, found)
    whole = _whole(more, ctx, found, book)
    if isinstance(whole, Unknown) or more.diameter_mm.kind == "unknown" or rope.diameter_mm.kind == "unknown":
        why = whole.why if isinstance(whole, Unknown) else f"the diameter of {(more if more.diameter_mm.kind == 'unknown' else rope).name} is unknown"
        return [made[0], replace(made[1], low=None, high=None, why=why)]
    tail, knots = row("knots", "tail.join"), [row("knots", key) for _, key, _, _ in _knots_of(system.reserve_knot, 0.0, "")]
    takes = sum(k.high for k in knots) * (rope.diameter_mm.value + more.diameter_mm.value) / 1000 + 2 * tail.high
    symbols = " + ".join(f"n{i}" for i in range(1, len(knots) + 1))
    both = [book.number(f"strand.{rope.id}-{made[1].end}.joined.{side}", f"reserve with {more.name} joined on, {side} end", f"K + R - ({symbols})*(d1 + d2)/1000 - 2*t", [
        computed("K", f"{rope.name} in reserve", one), computed("R", f"real length of {more.name}", two), *(from_row(f"n{i}", k, k.high, "count") for i, k in enumerate(knots, 1)),
        Term("d1", f"diameter of {rope.name}", rope.diameter_mm.value, "diameter", "entered"), Term("d2", f"diameter of {more.name}", more.diameter_mm.value, "diameter", "entered"),
        from_row("t", tail, tail.high, "fine length")], one.value + two.value - takes, "length", "down" if side == "low" else "up")
        for side, one, two in (("low", made[1].low, whole[0]), ("high", made[1].high, whole[1]))]
    return [made[0], replace(made[1], low=both[0], high=both[1], join_at=made[1].low)]


def _single(system: System, rope: Rope, end: str, role: Role, knots: list, ctx: Context, found: Findings, book: Book) -> Strand:
    """One strand of a whole rope, past the station's knots."""
    low, high, why = _less_knots(rope, _whole(rope, ctx, found, book), knots, end, book)
    return Strand(rope, end, role, 1.0 if role in ("ride", "lower") else 0.0, low, high, why, _knotted(system, rope, end))


def _elastic(system: System, ctx: Context, found: Findings, book: Book, at: tuple) -> list[Strand]:
    rope = ctx.ropes[system.rope]
    _cord_ridden(rope, found)
    return [_single(system, rope, system.ridden_end, "ride", [("knot at the device", "rope used.figure eight", 0.0, "none")], ctx, found, book)]


def _bights(system: System, ctx: Context, found: Findings, book: Book, at: tuple) -> list[Strand]:
    """The chain takes the same of either side; of one rope, tied at its middle."""
    rope = ctx.ropes[system.rope]
    _cord_ridden(rope, found)
    pulled = (ctx.ropes[system.other], system.other_end) if system.other is not None else (rope, _other(system.ridden_end))
    used, made = row("knots", "rope used.bight"), []
    lost = "" if system.other is not None else _middle(rope, system.middle_by, found, at)
    for r, end, role in ((rope, system.ridden_end, "ride"), (*pulled, "pull")):
        whole = _whole(r, ctx, found, book)
        why = whole.why if isinstance(whole, Unknown) else lost or ("how many bights there are is unknown" if system.bights.kind == "unknown" else "")
        ends: list[Number | None] = [None, None]
        if not why:
            sides = whole if system.other is not None else _half(r, end, system.middle_by, whole, book)
            ends = [book.number(f"strand.{r.id}-{end}.past.{side}", f"{r.name} {end.upper()} past the bights, {side} end", "R - n*u", [
                computed("R", f"its side, {side} end", w), Term("n", "bights", system.bights.value, "count", f"decided: {system.bights.method}"),
                from_row("u", used, used.high, "fine length")], w.value - system.bights.value * used.high, "length", "down" if side == "low" else "up")
                for side, w in zip(("low", "high"), sides)]
        made.append(Strand(r, end, role, 1.0 if role == "ride" else 0.0, ends[0], ends[1], why, _knotted(system, r, end)))
    return made


def _lowered(system: System, ctx: Context, found: Findings, book: Book, at: tuple) -> list[Strand]:
    rope = ctx.ropes[system.rope]
    _cord_ridden(rope, found)
    return [_single(system, rope, system.end, "lower", [("tie-in", "rope used.figure eight", 0.0, "none")], ctx, found, book)]


def _blocked_cord(system: System, ctx: Context, found: Findings, book: Book, at: tuple) -> list[Strand]:
    rope, cord = ctx.ropes[system.rope], ctx.ropes[system.cord]
    _cord_ridden(rope, found)
    low, high, why = _less_knots(rope, _whole(rope, ctx, found, book), _block_knot(system) + _join_knot(system),
                                 system.ridden_end, book)
    clow, chigh, cwhy = _less_knots(cord, _whole(cord, ctx, found, book), _join_knot(system), system.cord_end, book)
    return [Strand(rope, system.ridden_end, "ride", 1.0, low, high, why, _knotted(system, rope, system.ridden_end)),
            Strand(cord, system.cord_end, "pull", 0.0, clow, chigh, cwhy, _knotted(system, cord, system.cord_end))]

