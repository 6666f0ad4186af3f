"""A thing's own rules held against what it has been through."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass, replace
from typing import Literal

from reamer.core.answer.say import Number, Sentence
from reamer.core.gear.totals import Length, Total, Totals, totals
from reamer.core.model import Gear, GearRecord
from reamer.core.plan.gear import GearList
from reamer.core.tables import row

TEXTILE: tuple[GearList, ...] = ("ropes", "webbing", "slings", "tethers", "loops")
Standing = Literal["reached", "may be reached", "not reached"]
YEAR = 365.25


@dataclass(frozen=True, slots=True)
class Rule:
    """One of its owner's rules: what it counts, how it stands, in words what was counted and where the limit lies."""

    key: str
    stands: Standing
    said: Sentence


@dataclass(frozen=True, slots=True)
class Status:
    """How a thing stands on a day: what it has been through, its rules, and whether it is time to look it over; the
    share that a rope has shrunk by, low to high [%], None where it is not known."""

    on: dt.date
    totals: Totals
    rules: tuple[Rule, ...]
    inspection: Rule | None
    shrunk: tuple[Number, Number] | None


def status(record: GearRecord, gear: Gear, on: dt.date) -> Status:
    """How a thing stands on a day.

    record: the thing's; gear: the log; on: the day
    returns: totals, rules, what is due
    Source: the owner's own rules; a limit that is reached counts.
    """
    t, r = totals(record, gear, on), record.rules
    counted = (
        ("days", r.days, t.days, "{n} days of use; own rule: {most}"),
        ("descents", r.descents, t.descents, "{n} descents; own rule: {most}"),
        ("metres", r.metres, t.metres, "{n} ridden on it; own rule: {most}"),
        ("falls", r.falls, t.falls, "{n} falls; own rule: {most}"),
        ("wet_days", r.wet_days, t.wet_days, "{n} wet days; own rule: {most}"),
    )
    rules = [_counted(key, limit, total, words) for key, limit, total, words in counted if limit is not None]
    ages = (
        ("years_made", r.years_made, record.made_on, "Made", "When it was made nobody knows; own rule: {most} years"),
        (
            "years_used",
            r.years_used,
            t.first,
            "first used",
            "Since when it is used nobody knows; own rule: {most} years",
        ),
    )
    rules += [_age(key, limit, since, on, words) for key, limit, since, *words in ages if limit is not None]
    if r.years_made is None:
        rules += _old(record, t, on)
    shrunk = _shrunk(record, t.lengths)
    if r.shrunk_pct is not None:
        rules.append(_shrinkage(r.shrunk_pct, shrunk))
    return Status(on, t, tuple(rules), _to_look_over(record, t, on), shrunk)


def _stands(low: float, high: float | None, limit: float) -> Standing:
    if low >= limit:
        return "reached"
    return "may be reached" if high is None or high >= limit else "not reached"


def _counted(key: str, limit: float, of: Total, words: str) -> Rule:
    most = Number(limit, of.low.quantity)
    if of.high is None:
        words = words.replace("{n}", "At least {n}")
    elif of.high.value != of.low.value:
        words = words.replace("{n}", "{n} to {high}")
    numbers = {"n": of.low, "most": most, **({"high": of.high} if of.high is not None else {})}
    return Rule(key, _stands(of.low.value, of.high.value if of.high else None, limit), Sentence(words, numbers))


def _old(record: GearRecord, t: Totals, on: dt.date) -> list[Rule]:
    """Textile past the age that common practice has, where its owner has no rule of that kind; since when it is there
    follows from the earliest that is known of it."""
    known = [day for day in (record.made_on, t.first) if day is not None]
    if record.list not in TEXTILE or not known:
        return []
    years = row("ropes", "textile.years").low
    rule = _age("old", years, min(known), on, ["There since", ""])
    told = rule.said.template.replace("own rule", "common practice")
    return [replace(rule, said=replace(rule.said, template=told))] if rule.stands == "reached" else []


def _age(key: str, limit: float, since: dt.date | None, on: dt.date, words: list[str]) -> Rule:
    most = f"{limit:g}"
    if since is None:
        return Rule(key, "may be reached", Sentence(words[1], {}, {"most": most}))
    years = (on - since).days / YEAR
    told = "{what} {since}, {n} years before; own rule: {most}"
    named = {"what": words[0], "since": str(since), "n": f"{years:.1f}", "most": most}
    return Rule(key, _stands(years, years, limit), Sentence(told, {}, named))


def _shrunk(record: GearRecord, lengths: tuple[Length, ...]) -> tuple[Number, Number] | None:
    """Of its label, or else of the first time it was measured."""
    if not lengths or (record.label_m is None and len(lengths) < 2):
        return None
    now = newest(lengths)
    was = (
        (record.label_m, record.label_m)
        if record.label_m is not None
        else (lengths[0].low.value, lengths[0].high.value)
    )
    low, high = (max(0.0, 100 * (1 - n / w)) for n, w in ((now.high.value, was[0]), (now.low.value, was[1])))
    return Number(low, "percent", "down"), Number(high, "percent", "up")


def newest(lengths: tuple[Length, ...]) -> Length:
    """The last measured length, of two on one day the shorter.

    lengths: at least one
    returns: the length
    Source: none.
    """
    return max(lengths, key=lambda x: (x.on, -x.low.value))


def _shrinkage(limit: float, shrunk: tuple[Number, Number] | None) -> Rule:
    most = Number(limit, "percent")
    if shrunk is None:
        return Rule("shrunk_pct", "may be reached", Sentence("Never measured again; own rule: {most}", {"most": most}))
    low, high = shrunk
    words = Sentence("Shrunk by {n} to {high}; own rule: {most}", {"n": low, "high": high, "most": most})
    return Rule("shrunk_pct", _stands(low.value, high.value, limit), words)


def _to_look_over(record: GearRecord, t: Totals, on: dt.date) -> Rule | None:
    """Whether it is time to look it over, by its owner's rule."""
    every = record.rules.inspect_days
    if every is None:
        return None
    most, last = Number(every, "count"), t.inspected
    if last is None:
        return Rule(
            "inspect_days", "reached", Sentence("Never looked over; own rule: every {most} days", {"most": most})
        )
    days = (on - last.on).days
    words = f"Last looked over {last.on}, {{n}} days before; own rule: every {{most}} days"
    stands: Standing = "reached" if days > every else "not reached"
    return Rule("inspect_days", stands, Sentence(words, {"n": Number(days, "count"), "most": most}))
