"""The rope systems: which strands hang from the ring, who rides what, what is pulled, how long each is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from reamer.core.context import Context
from reamer.core.findings import Edit, Findings, Fix
from reamer.core.model import EndRef, Rope, System, Unknown
from reamer.core.rope import real_length
from reamer.core.say import Number, Sentence
from reamer.core.section import limits_m
from reamer.core.tables import row
from reamer.core.working import Book, Term, computed, from_row

Role = Literal["ride", "pull", "ride and pull"]
SYSTEM_NAMES = {
    "none": "no system", "doubled": "doubled rope", "joined": "two ropes joined",
    "blocked, same rope": "single strand, block on the same rope",
    "blocked, pull cord": "single strand with pull cord",
}


@dataclass(frozen=True, slots=True)
class Strand:
    """What hangs from the ring to one permanent end: its role, share of the rider, length low and high [m]."""

    rope: Rope
    end: str
    role: Role
    load_share: float
    low: Number | None
    high: Number | None
    why: str
    knotted: bool


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
    named = [system.rope] if system.kind in ("doubled", "blocked, same rope") else \
        [system.through, system.other] if system.kind == "joined" else [system.rope, system.cord]
    missing = [n for n in named if n not in ctx.ropes]
    if missing:
        found.add("system.missing", "Not checked", "system", "A rope of this system is not in the shed",
                  "The system names a rope that was removed; choose another.")
        return []
    if len(set(named)) < len(named):
        found.add("system.twice", "Shortfall", "system", "{rope} is used twice at once",
                  "A system of two ropes needs two.", words={"rope": ctx.ropes[named[0]].name})
        return []
    made = {"doubled": _doubled, "joined": _joined, "blocked, same rope": _blocked_same,
            "blocked, pull cord": _blocked_cord}[system.kind](system, ctx, found, book, at)
    hanging = {(s.rope.id, s.end) for s in made}
    for ref in system.stoppers:
        if (ref.rope, ref.end) not in hanging:
            found.add("system.ends", "Caution", "system", "A stopper is planned in an end that does not hang here",
                      "End {end} of {rope} is not one of this station's strands.",
                      words={"end": ref.end.upper(), "rope": ctx.ropes[ref.rope].name if ref.rope in ctx.ropes
                             else "a rope that is not in the shed"})
    return made


def _other(end: str) -> str:
    return "b" if end == "a" else "a"


def _knotted(system: System, rope: Rope, end: str) -> bool:
    return EndRef(rope=rope.id, end=end) in system.stoppers


def _whole(rope: Rope, found: Findings, book: Book) -> tuple[Number, Number] | Unknown:
    length = real_length(rope, book)
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


def _doubled(system: System, ctx: Context, found: Findings, book: Book, at: tuple) -> list[Strand]:
    rope = ctx.ropes[system.rope]
    _cord_ridden(rope, found)
    whole, why, off = _whole(rope, found, book), "", 0.0
    source = "both ends run out together"
    if system.middle_by == "mark":
        if not rope.middle_mark or rope.middle_off_m.kind == "unknown":
            has = "how far its middle mark is off is unknown" if rope.middle_mark else "it has no middle mark"
            why = f"{rope.name}: {has}"
            found.add("system.middle", "Not checked", f"rope.{rope.id}", "The middle of {rope} is not certain",
                      "The rope is to be centred by its mark, but {has}.", words={"rope": rope.name, "has": has},
                      fix=Fix(Sentence("Run both ends out together"), (Edit((*at, "middle_by"), "ends run together"),)))
        else:
            off, source = limits_m(rope.middle_off_m)[1], "entered"
    if isinstance(whole, Unknown):
        why = whole.why
    made = []
    for end in ("a", "b"):
        low = high = None
        if not why:
            terms = [Term("e", "how far the middle is off", off, "fine length", source)]
            low = book.number(f"strand.{rope.id}-{end}.low", f"{rope.name}, half, low end", "R/2 - e",
                              [computed("R", "real length, low end", whole[0]), *terms],
                              whole[0].value / 2 - off, "length", "down")
            high = book.number(f"strand.{rope.id}-{end}.high", f"{rope.name}, half, high end", "R/2 + e",
                               [computed("R", "real length, high end", whole[1]), *terms],
                               whole[1].value / 2 + off, "length", "up")
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
        terms += [from_row(f"n{i}", used, used.high, "count"), Term(f"t{i}", f"tail of the {name}", tail, "fine length", source)]
        formula += f" - n{i}*d/1000 - t{i}"
        taken += used.high * d / 1000 + tail
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
    return [("join", "rope used.flat overhand", tail, source)]


def _block_knot(system: System) -> list[tuple[str, str, float, str]]:
    return [("block", f"rope used.{system.block}", 0.0, "none")]


def _joined(system: System, ctx: Context, found: Findings, book: Book, at: tuple) -> list[Strand]:
    through, other = ctx.ropes[system.through], ctx.ropes[system.other]
    for rope in (through, other):
        _cord_ridden(rope, found)
    _thin_through(system, through, other, found, at)
    made = []
    for rope, end, role in ((through, system.through_end, "ride"), (other, system.other_end, "ride and pull")):
        low, high, why = _less_knots(rope, _whole(rope, found, book), _join_knot(system), end, book)
        made.append(Strand(rope, end, role, 0.5, low, high, why, _knotted(system, rope, end)))
    return made


def _thin_through(system: System, through: Rope, other: Rope, found: Findings, at: tuple) -> None:
    if through.diameter_mm.kind == "unknown" or other.diameter_mm.kind == "unknown" \
            or through.diameter_mm.value >= other.diameter_mm.value:
        return
    swap = Fix(Sentence("Put {rope} through the ring", {}, {"rope": other.name}), (
        Edit((*at, "through"), other.id), Edit((*at, "through_end"), system.other_end),
        Edit((*at, "other"), through.id), Edit((*at, "other_end"), system.through_end)))
    found.add("system.thin-through", "Shortfall", "system", "The thinner rope runs through the ring",
              "{thin} is {d1}, {thick} is {d2}. The thick strand grips more in the device and creeps down, the "
              "join travels with the rider and the thin end is drawn up. The thicker goes through the ring.",
              numbers={"d1": Number(through.diameter_mm.value, "diameter"), "d2": Number(other.diameter_mm.value, "diameter")},
              words={"thin": through.name, "thick": other.name}, fix=swap)


def _blocked_same(system: System, ctx: Context, found: Findings, book: Book, at: tuple) -> list[Strand]:
    rope = ctx.ropes[system.rope]
    _cord_ridden(rope, found)
    whole, ridden, pulled = _whole(rope, found, book), system.ridden_end, _other(system.ridden_end)
    if system.ride_m.kind == "unknown":
        why = "how much rope the ride strand gets is unknown"
        return [Strand(rope, ridden, "ride", 1.0, None, None, why, _knotted(system, rope, ridden)),
                Strand(rope, pulled, "pull", 0.0, None, None, why, _knotted(system, rope, pulled))]
    method = row("methods", system.ride_m.method)
    low, high, why = _less_knots(rope, whole, _block_knot(system), pulled, book)
    if why:
        return [Strand(rope, ridden, "ride", 1.0, None, None, why, _knotted(system, rope, ridden)),
                Strand(rope, pulled, "pull", 0.0, None, None, why, _knotted(system, rope, pulled))]
    ride: list[Number] = []
    for side, limit, most in zip(("low", "high"), limits_m(system.ride_m), (low, high)):
        # Nobody can give a strand more rope than there is past the block.
        ride.append(book.number(
            f"strand.{rope.id}-{ridden}.{side}", f"{rope.name} given to the ride strand, {side} end", "min(l + e, K)",
            [Term("l", "rope given to the ride strand", system.ride_m.value, "length", f"decided: {system.ride_m.method}"),
             Term("e", f"limit of error of {system.ride_m.method}", limit - system.ride_m.value, "fine length", method.cited),
             computed("K", "rope past the block's knot", most)],
            min(limit, most.value), "length", "down" if side == "low" else "up"))
    # What the ride strand takes at its longest is what the pull strand lacks at its shortest.
    rest = []
    for side, part, other in (("low", low, limits_m(system.ride_m)[1]), ("high", high, limits_m(system.ride_m)[0])):
        rest.append(book.number(
            f"strand.{rope.id}-{pulled}.rest.{side}", f"{rope.name} left for the pull strand, {side} end", "K - (l + e)",
            [computed("K", "rope past the block's knot", part),
             Term("l", "rope given to the ride strand", system.ride_m.value, "length", f"decided: {system.ride_m.method}"),
             Term("e", f"limit of error of {system.ride_m.method}", other - system.ride_m.value, "fine length", method.cited)],
            part.value - other, "length", "down" if side == "low" else "up"))
    low, high = rest
    return [Strand(rope, ridden, "ride", 1.0, ride[0], ride[1], "", _knotted(system, rope, ridden)),
            Strand(rope, pulled, "pull", 0.0, low, high, "", _knotted(system, rope, pulled))]


def _blocked_cord(system: System, ctx: Context, found: Findings, book: Book, at: tuple) -> list[Strand]:
    rope, cord = ctx.ropes[system.rope], ctx.ropes[system.cord]
    _cord_ridden(rope, found)
    low, high, why = _less_knots(rope, _whole(rope, found, book), _block_knot(system) + _join_knot(system),
                                 system.ridden_end, book)
    clow, chigh, cwhy = _less_knots(cord, _whole(cord, found, book), _join_knot(system), system.cord_end, book)
    return [Strand(rope, system.ridden_end, "ride", 1.0, low, high, why, _knotted(system, rope, system.ridden_end)),
            Strand(cord, system.cord_end, "pull", 0.0, clow, chigh, cwhy, _knotted(system, cord, system.cord_end))]


def answer(system: System, ctx: Context) -> Sentence:
    """The one sentence a rider needs first: what to ride, what to pull.

    system: as rigged; ctx: the plan's context
    returns: the sentence
    Source: none, text only.
    """
    def name(rope_id: str) -> str:
        return ctx.ropes[rope_id].name if rope_id in ctx.ropes else "a missing rope"

    if system.kind == "doubled":
        return Sentence("Ride both strands of {rope}. Pull end {end}.", {},
                        {"rope": name(system.rope), "end": system.pulled_end.upper()})
    if system.kind == "joined":
        return Sentence("Ride both strands. Pull {pull}, the side the join is on.", {}, {"pull": name(system.other)})
    if system.kind == "blocked, same rope":
        return Sentence("Ride end {ride} of {rope} alone. Pull end {pull}.", {}, {
            "rope": name(system.rope), "ride": system.ridden_end.upper(), "pull": _other(system.ridden_end).upper()})
    if system.kind == "blocked, pull cord":
        return Sentence("Ride {rope} alone. Pull {cord}.", {}, {"rope": name(system.rope), "cord": name(system.cord)})
    return Sentence("No rope system chosen yet.")
