"""What one thing has been through: days, descents, metres, falls, wet days; its lengths and what was found of it."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass

from reamer.core.answer.say import Number
from reamer.core.model import Gear, GearRecord, Tri
from reamer.core.plan.gear import Damaged, Inspected, Measured, Retired, Used
from reamer.core.plan.limits import limits_m
from reamer.core.plan.log import Trip, UsedThing


@dataclass(frozen=True, slots=True)
class UseOf:
    """One descent of a thing: when, metres ridden on it, None where nobody knows, falls, whether it got wet."""

    on: dt.date
    descents: int
    metres: float | None
    falls: int
    wet: Tri


@dataclass(frozen=True, slots=True)
class Total:
    """A count, low to high; ``high``: None where nobody knows how much more it is."""

    low: Number
    high: Number | None


@dataclass(frozen=True, slots=True)
class Length:
    """A rope's length as it was measured one day, at its limits [m]."""

    on: dt.date
    low: Number
    high: Number


@dataclass(frozen=True, slots=True)
class Totals:
    """What a thing has been through; when it was first and last used, as far as is known; its lengths by day; the
    last time it was looked over; damage and falls that nobody has looked at since; since when it is retired or
    condemned, and why."""

    days: Total
    descents: Total
    metres: Total
    falls: Total
    wet_days: Total
    first: dt.date | None
    last: dt.date | None
    lengths: tuple[Length, ...]
    inspected: Inspected | None
    damage: tuple[Damaged, ...]
    fallen: tuple[dt.date, ...]
    out: Retired | Inspected | None


def uses_of(record: GearRecord, gear: Gear) -> tuple[UseOf, ...]:
    """Every use of one thing, of the log and of its own record, in order; what came with a file and is of a descent
    that this log has counts once.

    record: the thing's; gear: the log
    returns: the uses
    Source: none, gathering.
    """
    here = {t.id for t in gear.log}
    own = [
        UseOf(e.on, e.descents, e.metres, e.falls, e.wet)
        for e in record.entries
        if isinstance(e, Used) and e.log not in here
    ]
    logged = [
        UseOf(t.trip.on, 1, u.metres, u.falls, wet_of(t.trip, u))
        for t in gear.log
        for u in t.trip.used or ()
        if record.is_of(u.list, u.name)
    ]
    return tuple(sorted([*own, *logged], key=lambda u: u.on))


def wet_of(trip: Trip, used: UsedThing) -> Tri:
    """Whether a thing got wet on a descent.

    trip: the descent; used: the thing
    returns: as it was told, or else by the flow
    Source: J, our judgement: where water runs everything gets wet.
    """
    if used.wet != "by flow":
        return used.wet
    return {"unknown": "unknown", "dry": "no"}.get(trip.flow, "yes")  # type: ignore[return-value]


def totals(record: GearRecord, gear: Gear, on: dt.date) -> Totals:
    """What one thing has been through.

    record: the thing's; gear: the log; on: the day on which it is asked
    returns: the totals; nobody has looked it over, or measured it, on a day that is yet to come
    Source: none, counting: days are counted once, however many descents they have.
    """
    uses, b = uses_of(record, gear), record.before
    days = {u.on for u in uses}
    wet, maybe = {u.on for u in uses if u.wet == "yes"}, {u.on for u in uses if u.wet != "no"}
    metres = [u.metres for u in uses]
    descents, falls = sum(u.descents for u in uses), sum(u.falls for u in uses)

    def total(low: float, high: float, before: float) -> Total:
        return Total(Number(low + before, "count"), Number(high + before, "count") if b is not None else None)

    first = [record.first_used] if record.first_used is not None else []
    if b is not None and b.descents == b.days == 0:
        first += [u.on for u in uses[:1]]
    entries = sorted(record.entries, key=lambda e: e.on)
    # The day of a descent may lie ahead; what was seen was seen until today.
    today = min(on, gear.on) if gear.on is not None else on
    seen = [e for e in entries if isinstance(e, Inspected) and e.on <= today]
    looked = max((e.on for e in seen), default=None)
    return Totals(
        days=total(len(days), len(days), b.days if b else 0),
        descents=total(descents, descents, b.descents if b else 0),
        metres=_metres(metres, record),
        falls=total(falls, falls, b.falls if b else 0),
        wet_days=total(len(wet), len(maybe), b.wet_days if b else 0),
        first=min(first, default=None),
        last=max(days, default=None),
        lengths=tuple(_length(e) for e in entries if isinstance(e, Measured) and e.on <= today),
        inspected=max(seen, key=lambda e: (e.on, WORSE.index(e.found)), default=None),
        damage=_open(entries, looked),
        fallen=tuple(u.on for u in uses if u.falls and (looked is None or u.on >= looked)),
        out=_out(entries),
    )


def _metres(each: list[float | None], record: GearRecord) -> Total:
    low = sum(m for m in each if m is not None) + (record.before.metres if record.before else 0.0)
    sure = record.before is not None and None not in each
    return Total(Number(low, "length", "up"), Number(low, "length", "up") if sure else None)


def _length(e: Measured) -> Length:
    low, high = limits_m(e.figure)
    return Length(e.on, Number(low, "length", "down"), Number(high, "length", "up"))


# Of two that looked on one day the worse counts.
WORSE = ("good", "worn", "condemned")


def _open(entries: Iterable[object], last: dt.date | None) -> tuple[Damaged, ...]:
    """Damage that nobody has looked at since; whoever looked on the same day may have done so before it."""
    return tuple(e for e in entries if isinstance(e, Damaged) and (last is None or e.on >= last))


def _out(entries: Iterable[object]) -> Retired | Inspected | None:
    """What took it out of use first; what was found good later does not bring it back."""
    return next(
        (e for e in entries if isinstance(e, Retired) or (isinstance(e, Inspected) and e.found == "condemned")), None
    )
