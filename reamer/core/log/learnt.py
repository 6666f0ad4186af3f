"""What the log teaches: times by kind of drop, the felt pull against the predicted band, how far heights were off."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from statistics import median
from typing import Literal

from reamer.core.answer.say import Number, Quantity
from reamer.core.log.compared import BANDS, taken
from reamer.core.model import Known
from reamer.core.plan.log import LoggedStation, Trip
from reamer.core.tables import Row, replaceable, row

# Fewer are told, and nothing is learnt from them.
ENOUGH = 5
# The least n with 0.95**n < 0.05: HB, distribution-free tolerance limits after Wilks, from memory.
WILKS = 59
# Which way of measuring a height is better than another: J, our judgement; what is not named is no measure of others.
BETTER = {"tape": 3, "rangefinder": 3, "known rope": 2}
About = Literal["time", "pull", "height"]


@dataclass(frozen=True, slots=True)
class Case:
    """One case: of which descent and station, what was said, low to high, and what was."""

    trip: str
    on: str
    plan: str
    station: str
    low: Number | None
    high: Number | None
    was: Number
    words: str = ""


@dataclass(frozen=True, slots=True)
class Offer:
    """A figure of the guide's own, with the log as its reason, and the table's figures that it would replace."""

    table: str
    key: str
    name: str
    unit: str
    low: float
    high: float
    was_low: float
    was_high: float
    reason: str


@dataclass(frozen=True, slots=True)
class Lesson:
    """What some cases of one kind teach. ``middle``, ``least``, ``most``: of what was, None where there are too few to
    learn from, and ``why``; ``counts``: of a pull, how often it was felt how."""

    about: About
    name: str
    cases: tuple[Case, ...]
    middle: Number | None
    least: Number | None
    most: Number | None
    counts: dict[str, int]
    offers: tuple[Offer, ...]
    why: str


@dataclass(frozen=True, slots=True)
class Logged:
    """A descent in the library: its id, its plan's id and title, and the log."""

    id: str
    plan_id: str
    plan: str
    trip: Trip


def learnt(trips: Iterable[Logged]) -> tuple[Lesson, ...]:
    """What all descents teach.

    trips: every descent that was logged
    returns: the lessons, those with cases enough first
    Source: P, common practice, no source: the median of like cases; J for what is offered.
    """
    some = list(trips)
    made = [*_times(some), *_pulls(some), *_heights(some)]
    return tuple(sorted(made, key=lambda x: (x.middle is None and not x.offers and bool(x.why), x.about, x.name)))


def _stations(trips: list[Logged]) -> Iterable[tuple[Logged, LoggedStation, LoggedStation | None]]:
    for t in trips:
        for i, s in enumerate(t.trip.stations):
            yield t, s, t.trip.stations[i + 1] if i + 1 < len(t.trip.stations) else None


def _case(t: Logged, s: LoggedStation, span: tuple[float, float] | None, was: float, q: Quantity) -> Case:
    low, high = (Number(span[0], q, "down"), Number(span[1], q, "up")) if span is not None else (None, None)
    return Case(t.id, t.trip.on.isoformat(), t.plan, s.station, low, high, Number(was, q))


def _too_few(n: int) -> str:
    return f"{n} {'case' if n == 1 else 'cases'}; nothing is learnt from fewer than {ENOUGH}" if n < ENOUGH else ""


def _lesson(
    about: About, name: str, cases: list[Case], offers: Iterable[Offer] = (), of: Sequence[Number] = ()
) -> Lesson:
    """A lesson from what was, or ``of`` other figures of the same cases."""
    figures = of or [c.was for c in cases]
    values, q = sorted(n.value for n in figures), figures[0].quantity
    why = _too_few(len(cases))
    some = None if why else (Number(median(values), q), Number(values[0], q, "down"), Number(values[-1], q, "up"))
    middle, least, most = some or (None, None, None)
    return Lesson(about, name, tuple(cases), middle, least, most, {}, () if why else tuple(offers), why)


def _offer(table: str, key: str, low: float, high: float, cases: list[Case], what: str) -> list[Offer]:
    was = row(table, key)
    # One limit is rounded to the careful side: a band ends sooner, an error is wider.
    low, high = (_down(low), _up(high)) if low < high else 2 * (_up(low) if table == "methods" else _down(low),)
    if not replaceable(table, key) or (low, high) == (was.low, was.high) or not _allowed(was, low, high):
        return []
    first, last = min(c.on for c in cases), max(c.on for c in cases)
    reason = f"own log, {len(cases)} cases, {first} to {last}: {what}"
    return [Offer(table, key, was.name, was.unit, low, high, was.low, was.high, reason)]


def _allowed(was: Row, low: float, high: float) -> bool:
    return low > 0 and high < 1000 and not (was.unit == "share" and high > 1)


def _down(x: float) -> float:
    return math.floor(x * 100 + 1e-9) / 100


def _up(x: float) -> float:
    return math.ceil(x * 100 - 1e-9) / 100


def _times(trips: list[Logged]) -> list[Lesson]:
    """Times by kind of drop. What a range is learnt from is its least and its most, never its middle alone."""
    by: dict[tuple[str, str], list[tuple[Case, LoggedStation, int]]] = {}
    for t, s, then in _stations(trips):
        people = t.trip.people or s.said.people
        system = s.system or s.said.system
        kinds = {"rig": system, "ride": system, "down": "", "onward": s.said.way}
        for piece, m in taken(s, then).items():
            kind = kinds[piece]
            if kind or piece == "down":
                same = not s.system or s.system == s.said.system
                span: tuple[float, float] | None = getattr(s.said, piece) if same or piece != "rig" else None
                by.setdefault((piece, kind), []).append((_case(t, s, span, m, "minutes"), s, people))
    made = []
    for (piece, kind), some in by.items():
        cases = [c for c, _, _ in some]
        least, most = min(c.was.value for c in cases), max(c.was.value for c in cases)
        offers: list[Offer] = []
        if piece == "rig" and _has("times", f"rig.{kind}"):
            offers = _offer("times", f"rig.{kind}", least, most, cases, "least and most")
        elif piece == "down":
            pull, stack = row("times", "pull"), row("times", "stack")
            for r, other in ((pull, stack), (stack, pull)):
                low, high = least * r.low / (r.low + other.low), most * r.high / (r.high + other.high)
                offers += _offer("times", r.key, low, high, cases, "pull and stack as one, shared out as in the table")
        elif piece == "onward":
            speeds = [s.said.way_m / c.was.value for c, s, _ in some if s.said.way_m and c.was.value]
            if len(speeds) >= ENOUGH and _has("times", f"way.{kind}"):
                offers = _offer("times", f"way.{kind}", min(speeds), max(speeds), cases, "slowest and fastest")
        else:
            offers = _speeds(some, cases)
        names = {"rig": "rigging", "ride": "all down", "down": "pull and stack", "onward": "the way on"}
        made.append(_lesson("time", names[piece] + (f", {kind}" if kind else ""), cases, offers))
    return made


def _speeds(some: list[tuple[Case, LoggedStation, int]], cases: list[Case]) -> list[Offer]:
    """How fast riders go, once getting on and off the rope and the call are taken off, as the table has them."""
    rest = [sum(row("times", f"ride.{k}").at(end) for k in ("clip", "unclip", "call")) for end in ("low", "high")]
    speeds = []
    for c, s, people in some:
        if s.said.line_m and people:
            each = c.was.value / people - sum(rest) / 2
            if each <= 0:
                # Quicker than the table lets anybody get on and off: no speed can be told from it.
                return []
            speeds.append(s.said.line_m / each)
    if len(speeds) < ENOUGH:
        return []
    return _offer(
        "times", "ride.speed", min(speeds), max(speeds), cases, "slowest and fastest, getting on and off taken off"
    )


def _has(table: str, key: str) -> bool:
    try:
        row(table, key)
    except ValueError:
        return False
    return True


def _pulls(trips: list[Logged]) -> list[Lesson]:
    """How the pull was felt against the band it was said to be in, by rock; and the bands' limits from all of them."""
    by: dict[str, list[tuple[Case, str]]] = {}
    for t, s, _ in _stations(trips):
        if s.pull != "unknown" and s.said.pull_n is not None and (not s.system or s.system == s.said.system):
            case = _case(t, s, None, s.said.pull_n, "pull")
            case = Case(
                case.trip, case.on, case.plan, case.station, None, None, case.was, f"{s.said.band}, felt {s.pull}"
            )
            by.setdefault(s.said.rock or "unknown", []).append((case, s.pull))
    made = []
    for rock, some in by.items():
        cases = [c for c, _ in some]
        why = _too_few(len(cases))
        counts = dict(Counter(c.words for c in cases))
        name = f"the pull over {rock} rock" if rock != "unknown" else "the pull over rock nobody has named"
        made.append(Lesson("pull", name, tuple(cases), None, None, None, counts, (), why))
    every = [x for some in by.values() for x in some]
    if len(every) >= ENOUGH:
        made += _limits(every)
    return made


def _limits(every: list[tuple[Case, str]]) -> list[Lesson]:
    """A band ends where a pull of that force was first felt harder. The log lowers a limit; it never raises one."""
    offers = []
    cases = [c for c, _ in every]
    for n, band in enumerate(BANDS[:-1]):
        harder = [c.was.value for c, felt in every if BANDS.index(felt) > n]
        if len(harder) >= ENOUGH:
            least = min(harder)
            if least >= row("loads", f"pull.{band}").low:
                continue
            offers += _offer("loads", f"pull.{band}", least, least, cases, f"the least pull felt harder than {band}")
    if not offers:
        return []
    return [Lesson("pull", "where a pull is felt harder", tuple(cases), None, None, None, {}, tuple(offers), "")]


def _heights(trips: list[Logged]) -> list[Lesson]:
    """How far heights of one method were off, where they were measured better later. One drop that was measured again
    and again is one case, its last."""
    by: dict[str, dict[tuple[str, str], tuple[Case, float]]] = {}
    for t, s, _ in sorted(_stations(trips), key=lambda x: x[0].trip.on):
        if isinstance(s.height, Known) and s.said.height_m and s.said.method:
            if BETTER.get(s.height.method, 0) <= BETTER.get(s.said.method, 0):
                continue
            off = abs(s.height.value - s.said.height_m) / s.said.height_m
            case = _case(t, s, (s.said.height_m, s.said.height_m), s.height.value, "length")
            told = replace(case, words=f"by {s.height.method}")
            by.setdefault(s.said.method, {})[t.plan_id, s.drop] = told, off
    made = []
    for method, drops in by.items():
        some = list(drops.values())
        cases, offers, most = [c for c, _ in some], list[Offer](), max(off for _, off in some)
        limit = row("methods", method)
        # A wider limit is learnt from few; a narrower one only from so many that the farthest off of them is a limit
        # for 95 % of all, 95 times in 100.
        if limit.unit == "share" and (most > limit.high or len(cases) >= WILKS):
            offers = _offer("methods", method, most, most, cases, "the farthest off")
        errors = [Number(off * 100, "percent", "up") for _, off in some]
        made.append(_lesson("height", f"how far heights by {method} were off", cases, offers, errors))
    return made
