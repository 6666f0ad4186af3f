"""What the log teaches: times by kind of drop, the felt pull against the predicted band, how far heights were off."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from statistics import median
from typing import Generic, Literal, TypeVar

from reamer.core.answer.say import Number, Quantity
from reamer.core.log.compared import BANDS, taken
from reamer.core.log.places import Key, Logged, places
from reamer.core.model import Known
from reamer.core.plan.log import LoggedStation
from reamer.core.tables import Row, replaceable, row

# Nothing is learnt from fewer: days for times and pulls, places for heights. What one day has in common, its party, its
# water and its weather, and what one place has, is no second case of it: J, our judgement.
ENOUGH = 5
# The least n with 0.95**n < 0.05: HB, distribution-free tolerance limits after Wilks, from memory. A limit is drawn in
# only from so many that the farthest of them is a limit for 95 % of all, 95 times in 100; a wider one comes of few.
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
    """What some cases of one kind teach, of how many ``days`` and ``places``. ``middle``, ``least``, ``most``: of
    what was, None where there are too few to learn from, and ``why``; ``counts``: of a pull, how often it was felt
    how."""

    about: About
    name: str
    cases: tuple[Case, ...]
    days: int
    places: int
    middle: Number | None
    least: Number | None
    most: Number | None
    counts: dict[str, int]
    offers: tuple[Offer, ...]
    why: str


def learnt(trips: Iterable[Logged]) -> tuple[Lesson, ...]:
    """What all descents teach.

    trips: every descent that was logged
    returns: the lessons, those with cases enough first
    Source: P, common practice, no source: the median of like cases; J for what is offered.
    """
    some = list(trips)
    at = places(some)
    made = [*_times(some, at), *_pulls(some, at), *_heights(some, at)]
    return tuple(sorted(made, key=lambda x: (x.middle is None and not x.offers and bool(x.why), x.about, x.name)))


def _stations(trips: list[Logged]) -> Iterable[tuple[Logged, LoggedStation, LoggedStation | None]]:
    for t in trips:
        for i, s in enumerate(t.trip.stations):
            yield t, s, t.trip.stations[i + 1] if i + 1 < len(t.trip.stations) else None


T = TypeVar("T")


class _Cases(Generic[T]):
    """Cases of one kind, each with something of its own: of one day at one place the worst."""

    def __init__(self) -> None:
        self.by: dict[tuple[str, Key], tuple[float, Case, T]] = {}

    def add(self, where: Key, worst: float, case: Case, more: T) -> None:
        had = self.by.get((case.on, where))
        if had is None or worst > had[0]:
            self.by[case.on, where] = worst, case, more

    @property
    def cases(self) -> list[Case]:
        return [c for _, c, _ in self.by.values()]

    @property
    def more(self) -> list[tuple[Case, T]]:
        return [(c, m) for _, c, m in self.by.values()]

    def only(self, keep: Callable[[Case, T], bool]) -> _Cases[T]:
        made = _Cases[T]()
        made.by = {k: v for k, v in self.by.items() if keep(*v[1:])}
        return made

    @property
    def days(self) -> int:
        return len({on for on, _ in self.by})

    @property
    def places(self) -> int:
        return len({at for _, at in self.by})

    def reason(self, what: str) -> str:
        on = [c.on for c in self.cases]
        span = f"{_many(self.days, 'day')} at {_many(self.places, 'place')}, {min(on)} to {max(on)}"
        return f"own log, {_many(len(on), 'case')}, {span}: {what}"

    def lesson(
        self, about: About, name: str, offers: Iterable[Offer] = (), of: Sequence[Number] = (), told: bool = True
    ) -> Lesson:
        """A lesson from what was, or ``of`` other figures of the same cases."""
        cases = self.cases
        figures = of or [c.was for c in cases]
        values, q = sorted(n.value for n in figures), figures[0].quantity
        count, unit = (self.places, "place") if about == "height" else (self.days, "day")
        why = ""
        if count < ENOUGH:
            had = f"{_many(len(cases), 'case')} of {_many(count, unit)}"
            why = f"{had}; nothing is learnt from fewer than {ENOUGH} {unit}s"
        some = None
        if told and not why:
            some = Number(median(values), q), Number(values[0], q, "down"), Number(values[-1], q, "up")
        middle, least, most = some or (None, None, None)
        made = () if why else tuple(offers)
        return Lesson(about, name, tuple(cases), self.days, self.places, middle, least, most, {}, made, why)


def _many(n: int, what: str) -> str:
    return f"{n} {what}" if n == 1 else f"{n} {what}s"


def _case(t: Logged, s: LoggedStation, span: tuple[float, float] | None, was: float, q: Quantity) -> Case:
    low, high = (Number(span[0], q, "down"), Number(span[1], q, "up")) if span is not None else (None, None)
    return Case(t.id, t.trip.on.isoformat(), t.plan, s.station, low, high, Number(was, q))


def _offer(table: str, key: str, low: float, high: float, cases: _Cases[T], what: str) -> list[Offer]:
    was = row(table, key)
    # One limit is rounded to the careful side: a band ends sooner, an error is wider.
    low, high = (_down(low), _up(high)) if low < high else 2 * (_up(low) if table == "methods" else _down(low),)
    if table == "times":
        # What was noted as taking no time tells no end.
        low = low if low > 0 else was.low
        if cases.days < WILKS and (low > was.low or high < was.high):
            what += f"; an end is drawn in only from {WILKS} days"
            low, high = min(low, was.low), max(high, was.high)
    if not replaceable(table, key) or (low, high) == (was.low, was.high) or not _allowed(was, low, high):
        return []
    return [Offer(table, key, was.name, was.unit, low, high, was.low, was.high, cases.reason(what))]


def _allowed(was: Row, low: float, high: float) -> bool:
    return low > 0 and high < 1000 and not (was.unit == "share" and high > 1)


def _down(x: float) -> float:
    return math.floor(x * 100 + 1e-9) / 100


def _up(x: float) -> float:
    return math.ceil(x * 100 - 1e-9) / 100


def _times(trips: list[Logged], at: dict[Key, Key]) -> list[Lesson]:
    """Times by kind of drop. What a range is learnt from is its least and its most, never its middle alone."""
    by: dict[tuple[str, str], _Cases[tuple[LoggedStation, int]]] = {}
    for t, s, then in _stations(trips):
        people = t.trip.people or s.said.people
        system = s.system or s.said.system
        kinds = {"rig": system, "ride": system, "down": "", "onward": s.said.way}
        for piece, m in taken(s, then).items():
            kind = kinds[piece]
            if kind or piece == "down":
                same = not s.system or s.system == s.said.system
                span: tuple[float, float] | None = getattr(s.said, piece) if same or piece != "rig" else None
                case = _case(t, s, span, m, "minutes")
                by.setdefault((piece, kind), _Cases()).add(at[t.plan_id, s.drop], m, case, (s, people))
    made = []
    for (piece, kind), some in by.items():
        least, most = min(c.was.value for c in some.cases), max(c.was.value for c in some.cases)
        offers: list[Offer] = []
        if piece == "rig" and _has("times", f"rig.{kind}"):
            offers = _offer("times", f"rig.{kind}", least, most, some, "least and most")
        elif piece == "down":
            pull, stack = row("times", "pull"), row("times", "stack")
            for r, other in ((pull, stack), (stack, pull)):
                low, high = least * r.low / (r.low + other.low), most * r.high / (r.high + other.high)
                offers += _offer("times", r.key, low, high, some, "pull and stack as one, shared out as in the table")
        elif piece == "onward":
            told = some.only(lambda c, m: bool(m[0].said.way_m and c.was.value))
            speeds = [(s.said.way_m or 0) / c.was.value for c, (s, _) in told.more]
            if told.days >= ENOUGH and _has("times", f"way.{kind}"):
                offers = _offer("times", f"way.{kind}", min(speeds), max(speeds), told, "slowest and fastest")
        else:
            offers = _speeds(some)
        names = {"rig": "rigging", "ride": "all down", "down": "pull and stack", "onward": "the way on"}
        made.append(some.lesson("time", names[piece] + (f", {kind}" if kind else ""), offers))
    return made


def _speeds(some: _Cases[tuple[LoggedStation, int]]) -> list[Offer]:
    """How fast riders go, once getting on and off the rope and the call are taken off, as the table has them."""
    rest = [sum(row("times", f"ride.{k}").at(end) for k in ("clip", "unclip", "call")) for end in ("low", "high")]
    told = some.only(lambda c, m: bool(m[0].said.line_m and m[1]))
    each = [(s.said.line_m or 0, c.was.value / people - sum(rest) / 2) for c, (s, people) in told.more]
    # Quicker than the table lets anybody get on and off, no speed can be told.
    if told.days < ENOUGH or any(minutes <= 0 for _, minutes in each):
        return []
    speeds = [line / minutes for line, minutes in each]
    what = "slowest and fastest, getting on and off taken off"
    return _offer("times", "ride.speed", min(speeds), max(speeds), told, what)


def _has(table: str, key: str) -> bool:
    try:
        row(table, key)
    except ValueError:
        return False
    return True


def _pulls(trips: list[Logged], at: dict[Key, Key]) -> list[Lesson]:
    """How the pull was felt against the band it was said to be in, by rock; and the bands' limits from all of them."""
    by: dict[str, _Cases[str]] = {}
    every = _Cases[str]()
    for t, s, _ in _stations(trips):
        if s.pull != "unknown" and s.said.pull_n is not None and (not s.system or s.system == s.said.system):
            case = replace(_case(t, s, None, s.said.pull_n, "pull"), words=f"{s.said.band}, felt {s.pull}")
            # The hardest felt, and of those the one that was said to be the least.
            worst = BANDS.index(s.pull) - s.said.pull_n / (s.said.pull_n + 1)
            for some in (by.setdefault(s.said.rock or "unknown", _Cases()), every):
                some.add(at[t.plan_id, s.drop], worst, case, s.pull)
    made = []
    for rock, some in by.items():
        name = f"the pull over {rock} rock" if rock != "unknown" else "the pull over rock nobody has named"
        counts = dict(Counter(c.words for c in some.cases))
        made.append(replace(some.lesson("pull", name, told=False), counts=counts))
    return made + (_limits(every) if every.days >= ENOUGH else [])


def _limits(every: _Cases[str]) -> list[Lesson]:
    """A band ends where a pull of that force was first felt harder. The log lowers a limit; it never raises one."""
    offers = []
    for n, band in enumerate(BANDS[:-1]):
        harder = [c for c, felt in every.more if BANDS.index(felt) > n]
        if len({c.on for c in harder}) >= ENOUGH:
            least = min(c.was.value for c in harder)
            if least >= row("loads", f"pull.{band}").low:
                continue
            offers += _offer("loads", f"pull.{band}", least, least, every, f"the least pull felt harder than {band}")
    return [every.lesson("pull", "where a pull is felt harder", offers, told=False)] if offers else []


def _heights(trips: list[Logged], at: dict[Key, Key]) -> list[Lesson]:
    """How far heights of one method were off, where they were measured better later. One place is one case however
    often it was measured: of each plan the last, of those the farthest off."""
    last: dict[str, dict[Key, tuple[Case, float]]] = {}
    for t, s, _ in sorted(_stations(trips), key=lambda x: x[0].trip.on):
        if isinstance(s.height, Known) and s.said.height_m and s.said.method:
            if BETTER.get(s.height.method, 0) <= BETTER.get(s.said.method, 0):
                continue
            off = abs(s.height.value - s.said.height_m) / s.said.height_m
            case = _case(t, s, (s.said.height_m, s.said.height_m), s.height.value, "length")
            told = replace(case, words=f"by {s.height.method}")
            last.setdefault(s.said.method, {})[t.plan_id, s.drop] = told, off
    made = []
    for method, drops in last.items():
        by: dict[Key, tuple[Case, float]] = {}
        for key, (case, off) in drops.items():
            had = by.get(at[key])
            if had is None or off > had[1]:
                by[at[key]] = case, off
        some = _Cases[float]()
        for where, (case, off) in by.items():
            some.add(where, off, case, off)
        offers, most = list[Offer](), max(off for _, off in some.more)
        limit = row("methods", method)
        if limit.unit == "share" and (most > limit.high or some.places >= WILKS):
            offers = _offer("methods", method, most, most, some, "the farthest off")
        errors = [Number(off * 100, "percent", "up") for _, off in some.more]
        made.append(some.lesson("height", f"how far heights by {method} were off", offers, errors))
    return made
