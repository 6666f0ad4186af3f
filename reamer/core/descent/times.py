"""How long the descent takes, station by station, and whether it is out of the dark."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import partial

from reamer.core.answer.codes import Severity
from reamer.core.answer.context import Context
from reamer.core.answer.findings import Fix, Says, say
from reamer.core.answer.kept import NOTHING, ByThings
from reamer.core.answer.say import TOWARD, Number, Sentence
from reamer.core.answer.working import Book, Term, from_row
from reamer.core.descent.daylight import (
    DAY,
    Daylight,
    clock,
    contradiction,
    daylight,
    from_clock,
    own_last_light,
    zone_at,
)
from reamer.core.descent.ledger import Ledger
from reamer.core.model import Drop, Onward, Plan, Whereabouts
from reamer.core.plan.edits import PLAN
from reamer.core.plan.people import able
from reamer.core.rope.strands import CONVERTED, ropes_at
from reamer.core.station.comparison import minutes_to_rig
from reamer.core.station.state import DropAssessment
from reamer.core.tables import RangeEnd, row

Span = tuple[Number, Number]


@dataclass(frozen=True, slots=True)
class StationTime:
    """When the party is where, low to high. All in minutes: ``arrive`` at the station, ``pull`` begun and ``out`` at
    the next station (or out of the descent) from the start; ``rig``, of which ``hidden`` is done while the one above is
    still in use, ``ride``, ``down`` (pull and stack) and ``onward`` by themselves; None from where one is not known,
    and ``why``, with the ``field`` that would settle it. ``turn_round``: the latest minute from midnight at which the
    pull may begin, None where there is none.
    """

    drop: str
    number: int
    arrive: Span | None
    rig: Span | None
    hidden: Span | None
    ride: Span | None
    down: Span | None
    onward: Span | None
    pull: Span | None
    out: Span | None
    turn_round: Number | None
    turn_round_at: str
    arrive_at: tuple[str, str] | None
    why: str = ""
    field: str = ""


@dataclass(frozen=True, slots=True)
class Times:
    """The whole day: every station, the light, when it begins and ends, the latest start; minutes from midnight by the
    clock there, and in words. ``contradicts``: what of place, clock and last light cannot be, and which field
    settles it; of the dark then only what sunset says, of a place that cannot be nothing."""

    stations: tuple[StationTime, ...]
    light: Daylight
    start: float | None
    last_light: float | None
    last_light_at: str
    last_light_is: str
    total: Span | None
    out_at: tuple[str, str] | None
    latest_start_at: str
    words: tuple[str, ...]
    contradicts: tuple[str, str] = ("", "")


@dataclass(frozen=True, slots=True)
class _Piece:
    """A length of time at both ends [min]."""

    low: float
    high: float

    def __add__(self, more: _Piece) -> _Piece:
        return _Piece(self.low + more.low, self.high + more.high)

    def __sub__(self, less: _Piece) -> _Piece:
        return _Piece(self.low - less.low, self.high - less.high)


def _of(key: str) -> _Piece:
    made = row("times", key)
    return _Piece(made.low, made.high)


ZERO = _Piece(0.0, 0.0)


def _span(piece: _Piece | None) -> Span | None:
    if piece is None:
        return None
    return Number(piece.low, "minutes", "down"), Number(piece.high, "minutes", "up")


def person_minutes(path_m: float, end: RangeEnd) -> float:
    """What one rider takes from the one before being off to being off.

    clip + path/speed + unclip + call

    path_m: of the rope, nominal [m]; end: low, the quickest, or high
    returns: the time [min]
    Source: P for the speed, J for the rest: table of times.

    >>> round(person_minutes(24, "low"), 2), round(person_minutes(24, "high"), 2)
    (3.3, 6.5)
    """
    speed = row("times", "ride.speed")
    rest = sum(row("times", f"ride.{k}").at(end) for k in ("clip", "unclip", "call"))
    return rest + path_m / (speed.high if end == "low" else speed.low)


def leg_minutes(leg: Onward) -> tuple[float, float] | None:
    """What a stretch between two stations takes.

    leg: as it was timed, or by its length
    returns: low and high [min]; None where neither is known
    Source: J, table of times.
    """
    if leg.minutes.kind == "known":
        return leg.minutes.value, leg.minutes.value
    if leg.kind == "halt" or leg.length_m.kind == "unknown":
        return None
    speed = row("times", f"way.{leg.kind}")
    return leg.length_m.value / speed.high, leg.length_m.value / speed.low


def _ride(n: int, a: DropAssessment, book: Book) -> Span | None:
    """What all of the party take on one rope, one after the other."""
    path = max((b.nominal for b in (a.taut, a.draped) if b is not None), key=lambda b: b.value, default=None)
    if path is None or n == 0:
        return None

    def one(end: RangeEnd) -> Number:
        speed = row("times", "ride.speed")
        terms = [
            Term("n", "people", n, "count", "the party", typed=("party",)),
            Term("path", "the longer of the taut and the draped line, nominal", path.value, "length", "computed"),
            from_row("v", speed, speed.high if end == "low" else speed.low, "ratio"),
            *(
                from_row(s, row("times", f"ride.{k}"), row("times", f"ride.{k}").at(end), "minutes")
                for s, k in (("c", "clip"), ("u", "unclip"), ("o", "call"))
            ),
        ]
        value = n * person_minutes(path.value, end)
        name, formula = f"all {n} down, {end} end", "n*(c + path/v + u + o)"
        key = f"time.{a.id}.ride.{end}"
        return book.number(key, name, formula, terms, value, "minutes", TOWARD[end])

    return one("low"), one("high")


def _way(drop: Drop) -> tuple[_Piece | None, str]:
    """The way to the next station; None where a stretch of it is not known, and why."""
    total = ZERO
    for leg in drop.onward or ():
        got = leg_minutes(leg)
        if got is None:
            return None, f"how long the {leg.kind} after {drop.name} takes is unknown"
        total = total + _Piece(*got)
    return total, ""


def _hidden(plan: Plan, k: int, per: tuple[float, float], down: _Piece) -> _Piece:
    """How much of the rigging at k can be done while the station above is in use."""
    n, may = len(plan.party), sum(1 for p in plan.party if able(p))
    if not plan.contingencies.two_sets or n < 2 or may < 2 or ropes_at(plan.drops[k - 1]) & ropes_at(plan.drops[k]):
        return ZERO
    # Whoever goes down first may give the others a fireman's belay, and then does not rig.
    return _Piece((n - 1) * per[0] + down.low, max(0, n - 2) * per[1] + down.high)


@dataclass(frozen=True, slots=True)
class _Walked:
    """A station's own pieces of time, None where one is not known, why, and the field that would settle it."""

    rig: _Piece | None
    ride: Span | None
    down: _Piece
    onward: _Piece | None
    why: str
    field: str


def _pieces(ctx: Context, book: Ledger, a: DropAssessment, index: int, own: Book) -> _Walked:
    plan, drop = ctx.plan, ctx.plan.drops[index]
    system, last = drop.station.states[0].system, drop.station.states[-1].system
    ride, (onward, why) = _ride(len(plan.party), a, own), _way(drop)
    rig, extra, field = None, book.entries[index].extra_min, f"drops/#{drop.id}/onward"
    if system.kind != "none":
        low, high = minutes_to_rig(system)
        rig = _Piece(low.value, high.value)
        if extra is not None:
            rig = rig + _Piece(extra[0].value, extra[1].value)
    elif not why:
        why, field = f"no rope system is chosen at {drop.name}", f"drops/#{drop.id}/station/states/0/system/kind"
    if ride is None:
        why, field = f"how long the line at {drop.name} is is unknown", f"drops/#{drop.id}/section"
        if not plan.party:
            why, field = "nobody is in the party", "party"
    down = ZERO if last.kind in (*CONVERTED, "none") else _of("pull") + _of("stack")
    return _Walked(rig, ride, down, onward, why, field if why else "")


def times(ctx: Context, drops: tuple[DropAssessment, ...], book: Ledger, own: Book, kept: ByThings = NOTHING) -> Times:
    """How long everything takes, and when the party is where.

    ctx: the plan's context; drops: their assessments; book: the rope ledger; own: where workings go; kept: what
    was made before of single drops
    returns: the times
    Source: P and J, table of times; daylight by astral.
    """
    plan = ctx.plan
    start = from_clock(plan.start)
    light = daylight(plan.spot, plan.on, start)
    odd = contradiction(plan, light, start)
    # An own last light in the dark does not count, and sunset does.
    last = (None, "") if odd[0] and (odd[1] == "spot" or light.last is None) else _last_light(plan, light, start)
    walked = [
        kept.of("time", (plan.drops[i], a, book.entries[i]), (len(plan.party),), partial(_pieces, ctx, book, a, i, own))
        for i, a in enumerate(drops)
    ]
    made: list[StationTime] = []
    at: _Piece | None = ZERO
    why = field = ""
    for k, (a, w) in enumerate(zip(drops, walked, strict=True)):
        if not why:
            why, field = w.why, w.field
        hidden = ZERO
        before = walked[k - 1] if k else None
        if before is not None and before.ride is not None and w.rig is not None:
            n = max(1, len(plan.party))
            per = before.ride[0].value / n, before.ride[1].value / n
            most = _hidden(plan, k, per, before.down)
            hidden = _Piece(min(w.rig.low, most.low), min(w.rig.high, most.high))
        whole = not w.why and w.rig is not None and w.ride is not None and w.onward is not None and at is not None
        pull = out = None
        if whole and at is not None and w.rig is not None and w.ride is not None and w.onward is not None:
            pull = at + w.rig - hidden + _Piece(w.ride[0].value, w.ride[1].value)
            out = pull + w.down + w.onward
        words = None
        if at is not None and start is not None:
            words = clock(start + at.low), clock(start + at.high)
        made.append(
            StationTime(
                a.id,
                a.number,
                _span(at),
                _span(w.rig),
                _span(hidden) if hidden.high else None,
                w.ride,
                _span(w.down),
                _span(w.onward),
                _span(pull),
                _span(out),
                None,
                "",
                words,
                why,
                field,
            )
        )
        at = out
    return replace(_day(plan, made, light, start, last, at if drops else None), contradicts=odd)


def _last_light(plan: Plan, light: Daylight, start: float | None) -> tuple[float | None, str]:
    """When the party must be out, and what that is."""
    given, sunset = own_last_light(plan, start), light.last
    if given is not None and (sunset is None or given <= sunset):
        return given, "the plan's own last light"
    return (sunset, "sunset") if sunset is not None else (None, "")


def _day(
    plan: Plan,
    made: list[StationTime],
    light: Daylight,
    start: float | None,
    last: tuple[float | None, str],
    total: _Piece | None,
) -> Times:
    """The day as a whole, and for each pull the latest minute at which it may begin."""
    until, what = last
    stations = []
    for s in made:
        turn = None
        if until is not None and total is not None and s.pull is not None:
            # All after it takes what is left of the whole at the high end.
            turn = until - (total.high - s.pull[1].value)
        stations.append(
            replace(
                s,
                turn_round=None if turn is None else Number(turn, "minutes", "down"),
                turn_round_at="" if turn is None else clock(turn),
            )
        )
    out = None
    if start is not None and total is not None:
        out = clock(start + total.low), clock(start + total.high)
    return Times(
        tuple(stations),
        light,
        start,
        until,
        "" if until is None else clock(until),
        what,
        _span(total),
        out,
        clock(until - total.high) if until is not None and total is not None else "",
        _light_in_words(plan, light),
    )


def _light_in_words(plan: Plan, light: Daylight) -> tuple[str, ...]:
    """The light, and by which clock all times are."""
    zone = plan.spot.zone if plan.spot is not None else ""
    by = f", by the clock of {zone}" if zone else ""
    twilight = ""
    if light.civil_first is not None and light.civil_last is not None:
        twilight = f"Civil twilight from {clock(light.civil_first)} to {clock(light.civil_last)}."
    if light.kind == "unknown":
        return (f"All times are by the clock of {zone}.",) if zone else ()
    if light.kind == "sun does not rise":
        return f"The sun does not rise{by}.", twilight or "There is no civil twilight."
    if light.kind == "sun does not set" or light.last is None:
        until = f" before {clock(light.last)}" if light.last is not None else ""
        return (f"The sun does not set{until}{by}.",)
    rise = f"Sunrise {clock(light.first)}, sunset" if light.first is not None else "Sunset"
    return f"{rise} {clock(light.last)}{by}.", twilight or "Civil twilight lasts all night."


def time_findings(plan: Plan, got: Times) -> Says[None]:
    """Whether the party is out before the light goes.

    plan: the plan; got: its times
    returns: nothing
    Source: J, our judgement: late at the high end is a caution, at the low end a shortfall.
    """
    if not plan.drops:
        return
    why, field = next(((s.why, s.field) for s in got.stations if s.why), ("", ""))
    unsaid = [d.name for d in plan.drops[:-1] if d.onward is None]
    part = f"time.{field}" if field else "time"
    own = not why and got.start is not None and got.contradicts[1] == "last_light"
    if got.start is None:
        if not why:
            why, part = "the plan has no start time", "time.start"
    elif got.contradicts[0] and not why:
        why, part = got.contradicts[0], f"time.{got.contradicts[1]}"
    elif got.last_light is None and got.light.kind == "unknown":
        why = why or got.light.why
    if why:
        title = "Whether you are out before dark is not checked"
        if own and got.light.kind != "unknown":
            title = "The plan's own last light does not count"
        fix = _place(plan, got) if why in (got.light.why, got.contradicts[0]) else None
        yield say("time.unknown", "Not checked", part, title, "Not checked: {why}.", why=why, fix=fix)
        # Worse never speaks milder: what the sun says still stands beside a last light that cannot be.
        if not own or got.light.kind == "unknown":
            return
    if unsaid:
        title, text = (
            "How far it is to {n} of the stations nobody has said",
            "The times count nothing for it. Say it under Whole descent: after {where}.",
        )
        where = ", ".join(unsaid[:4]) + (f" and {len(unsaid) - 4} more" if len(unsaid) > 4 else "")
        yield say("time.onward", "Not checked", "time", title, text, n=Number(len(unsaid), "count"), where=where)
    yield from _before_light(plan, got)
    yield from _late(got)


def _place(plan: Plan, got: Times) -> Fix | None:
    """What is proposed for the place of the day: the zone in which it lies, or the first station's place."""
    spot, on = plan.spot or Whereabouts(), PLAN.at(lambda p: p.spot)
    lat, lon = spot.latitude_deg, spot.longitude_deg
    here = next((d for d in plan.drops if d.position is not None), None)
    if lat is not None and lon is not None and (here is None or got.contradicts[1] != "spot"):
        zone = zone_at(lat, lon)
        if not zone or zone == spot.zone:
            return None
        told = Sentence("Take the clock of {zone}", {}, {"zone": zone})
        return Fix(told, (on.set(spot.model_copy(update={"zone": zone})),), allows="Shortfall", partly=True)
    if here is None or here.position is None:
        return None
    lat, lon = here.position.latitude_deg, here.position.longitude_deg
    zone = zone_at(lat, lon)
    told = Sentence("Take the place of {drop}, by the clock of {zone}", {}, {"drop": here.name, "zone": zone})
    return Fix(
        told, (on.set(Whereabouts(latitude_deg=lat, longitude_deg=lon, zone=zone)),), allows="Shortfall", partly=True
    )


def _before_light(plan: Plan, got: Times) -> Says[None]:
    """What is done before there is light: as what is done after it."""
    if got.start is None:
        return
    first, twilight = got.light.first, got.words[-1] if got.words else ""
    if got.light.kind == "sun does not rise":
        title, text = "The sun does not rise on this day", "All of it is done in twilight or by headlamp. {twilight}"
        dawn = got.light.civil_first
        dark = dawn is None or got.start < dawn
        severity: Severity = "Shortfall" if dark or got.last_light is None else "Caution"
        yield say("time.late", severity, "time", title, text, twilight=twilight)
    elif first is not None and got.start < first:
        # Whoever goes down as soon as it is rigged, at the late end, still goes in the dark.
        rig = got.stations[0].rig
        surely = rig is not None and got.start + rig[1].value < first
        title, text = "It begins in the dark", "The start is {start}; sunrise is {first}."
        by, fix = math.ceil(first / 5) * 5, None
        if by < DAY:
            fix = Fix(Sentence("Start at {by}", {}, {"by": clock(by)}), (PLAN.at(lambda p: p.start).set(clock(by)),))
        severity = "Shortfall" if surely else "Caution"
        yield say("time.early", severity, "time", title, text, start=plan.start or "", first=clock(first), fix=fix)


def _late(got: Times) -> Says[None]:
    """Out after last light."""
    if got.last_light is None or got.start is None or got.total is None or got.out_at is None:
        return
    low, high = (got.start + t.value for t in got.total)
    if high <= got.last_light + 1e-9:
        return
    surely = low > got.last_light + 1e-9
    title = "You are out after dark" if surely else "At the late end you are out after dark"
    text = "Out between {low} and {high}; {what} is {last}. Start by {by} to be out before it even so."
    by, fix = math.floor((got.last_light - got.total[1].value) / 5) * 5, None
    if by >= 0 and (got.light.first is None or by >= got.light.first):
        fix = Fix(Sentence("Start at {by}", {}, {"by": clock(by)}), (PLAN.at(lambda p: p.start).set(clock(by)),))
    yield say(
        "time.late",
        "Shortfall" if surely else "Caution",
        "time",
        title,
        text,
        low=got.out_at[0],
        high=got.out_at[1],
        what=got.last_light_is,
        last=got.last_light_at,
        by=got.latest_start_at,
        fix=fix,
    )
