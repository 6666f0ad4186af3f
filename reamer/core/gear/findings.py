"""What the records have against the things that a plan uses."""

from __future__ import annotations

import datetime as dt
from typing import Any, NamedTuple, cast

from reamer.core.answer.codes import Severity
from reamer.core.answer.context import Context
from reamer.core.answer.findings import Finding, Fix, Heard, Say, Says, say
from reamer.core.answer.say import Number, Sentence, listed
from reamer.core.answer.working import Book
from reamer.core.descent.ledger import carried
from reamer.core.gear.due import Rule, Status, newest, status
from reamer.core.gear.totals import uses_of
from reamer.core.model import Gear, GearRecord, M, Plan, Rope, Tri, Unknown
from reamer.core.plan.edits import PLAN
from reamer.core.plan.gear import GEAR_LISTS, GearList, Measured, NotRead, Retired, plainly
from reamer.core.rope.length import real_length

PART: dict[GearList, str] = {
    "ropes": "rope",
    "webbing": "webbing",
    "slings": "sling",
    "rings": "ring",
    "devices": "device",
    "tethers": "tether",
    "loops": "loop",
}


# How many that cannot be read are told by name.
TOLD = 3


class InUse(NamedTuple):
    """A thing of the shed that a plan uses, with one of its records."""

    list: GearList
    id: str
    name: str
    record: GearRecord


def named_in(plan: Plan) -> frozenset[str]:
    """Every id that stations, people and the list of ropes name: what is named anywhere is used, so that nothing is
    missed.

    plan: the plan
    returns: the ids
    Source: none, a look-up.
    """

    named, rest = set(carried(plan)), cast(list[object], [*(d.station for d in plan.drops), *plan.party])
    while rest:
        thing = rest.pop()
        if isinstance(thing, str):
            named.add(thing)
        elif isinstance(thing, M):
            rest += thing.__dict__.values()
        elif isinstance(thing, dict):
            rest += thing.values()
        elif isinstance(thing, (list, tuple)):
            rest += thing
    return frozenset(named)


def recorded(plan: Plan, gear: Gear) -> tuple[InUse, ...]:
    """The things of a plan's shed that have a record, with each of theirs.

    plan: the plan; gear: the records
    returns: in the order of the shed
    Source: none, a look-up.
    """
    return tuple(
        InUse(where, thing.id, thing.name, record)
        for where in GEAR_LISTS
        for thing in getattr(plan.shed, where)
        for record in gear.records
        if record.is_of(where, thing.name)
    )


def not_read(plan: Plan, gear: Gear) -> tuple[NotRead, ...]:
    """What cannot be read of what a plan's things may have been through.

    plan: the plan; gear: the records
    returns: records that are, or may be, of a thing of its shed; logged descents on which a thing that has a record
        came along, or may have
    Source: J, our judgement: what cannot be read may say anything.
    """
    own = {plainly(thing.name) for where in GEAR_LISTS for thing in getattr(plan.shed, where)}
    kept = {plainly(thing.name) for thing in recorded(plan, gear)}

    def concerns(u: NotRead) -> bool:
        among = kept if u.descent else own
        return bool(among) if u.names is None else bool(among & {plainly(n) for n in u.names})

    return tuple(u for u in gear.unread if concerns(u))


def has_been(plan: Plan, gear: Gear) -> bool:
    """Whether anything is known, or should be, of what a plan's things have been through.

    plan: the plan; gear: the records
    returns: whether an answer rests on them
    Source: none, a look-up.
    """
    return bool(recorded(plan, gear) or not_read(plan, gear))


def _not_read(plan: Plan, gear: Gear) -> Says[None]:
    """What cannot be read of the records, said once."""
    found = not_read(plan, gear)
    if found:
        told = listed([u.told for u in found[:TOLD]]) + (f" and {len(found) - TOLD} more" if len(found) > TOLD else "")
        title, why = "What things have been through cannot all be read", "Not read: {told}. It counts for nothing here."
        yield say("gear.unread", "Not checked", "gear", title, why, told=told)


def asked_on(plan: Plan, gear: Gear) -> dt.date | None:
    """The day on which a plan's things are to be good: that of the descent, or today where that is later.

    plan: the plan; gear: today
    returns: the day, None where nothing is asked
    Source: none.
    """
    if gear.on is None or plan.on is None:
        return gear.on
    return max(gear.on, plan.on)


def gear_findings(ctx: Context) -> tuple[Finding, ...]:
    """What the records have against the things that a plan uses.

    ctx: the plan's context
    returns: findings about the plan, of two records that say the same one
    Source: the owner's own rules; J, our judgement, for what a record outweighs.
    """
    plan, gear, heard = ctx.plan, ctx.gear, Heard()
    on = asked_on(plan, gear)
    if on is None or not (gear.records or gear.unread):
        return ()
    heard.of(_not_read(plan, gear))
    named = named_in(plan)
    for thing in recorded(plan, gear):
        if thing.id not in named:
            continue
        stands = status(thing.record, gear, on)
        heard.of(_condition(thing, stands))
        heard.of(_rules(thing, stands))
        if thing.list == "ropes":
            heard.of(_length(ctx, thing, stands))
            heard.of(_wet(ctx, thing))
    return tuple({f.key: f for f in heard.findings}.values())


def _condition(thing: InUse, stands: Status) -> Says[None]:
    """Retired, condemned, damaged, worn."""
    t, part = stands.totals, f"{PART[thing.list]}.{thing.id}"
    if t.out is not None:
        title = "{name} is retired" if isinstance(t.out, Retired) else "{name} was condemned"
        why = t.out.words or "Its record gives no reason."
        yield say("gear.out", "Shortfall", part, title, "On {on}. {why}", name=thing.name, on=str(t.out.on), why=why)
        return
    for e in t.damage:
        title, words = "Damage to {name}, and nobody has looked it over since", "{on}: {what}"
        yield say("gear.damage", "Not checked", part, title, words, name=thing.name, on=str(e.on), what=e.words)
    if t.fallen:
        title, why = "A fall on {name}, and nobody has looked it over since", "On {on}."
        yield say("gear.damage", "Not checked", part, title, why, name=thing.name, on=str(t.fallen[-1]))
    if t.inspected is not None and t.inspected.found == "worn":
        seen, title, why = t.inspected, "{name} was found worn", "On {on}. {why}"
        yield say("gear.worn", "Caution", part, title, why, name=thing.name, on=str(seen.on), why=seen.words)


def _rules(thing: InUse, stands: Status) -> Says[None]:
    """Own rules that are reached, or may be."""
    part = f"{PART[thing.list]}.{thing.id}"

    def told(rule: Rule, title: str) -> Say:
        look = rule.key == "inspect_days"
        severity: Severity = "Not checked" if look or rule.stands == "may be reached" else "Shortfall"
        if rule.key == "old":
            severity = "Caution"
        code, why = "gear.look" if look else "gear.rule", f"{rule.said.template}."
        put: dict[str, Any] = {**rule.said.numbers, **rule.said.words}
        return say(code, severity, part, title, why, name=thing.name, **put)

    for rule in stands.rules if stands.totals.out is None else ():
        if rule.stands == "reached":
            yield told(rule, f"{{name}} is to be retired: {RULES[rule.key]}")
        elif rule.stands == "may be reached":
            yield told(rule, f"Whether {{name}} is to be retired is not known: {RULES[rule.key]}")
    if stands.inspection is not None and stands.inspection.stands == "reached" and stands.totals.out is None:
        yield told(stands.inspection, "{name} is to be looked over")


# What each rule is about, in words.
RULES = {
    "years_made": "years since it was made",
    "years_used": "years of use",
    "old": "its age",
    "days": "days of use",
    "descents": "descents",
    "metres": "metres ridden on it",
    "falls": "falls",
    "wet_days": "wet days",
    "shrunk_pct": "shrinkage",
}


def _rope(ctx: Context, thing: InUse) -> tuple[int, Rope]:
    return next((i, r) for i, r in enumerate(ctx.plan.shed.ropes) if r.id == thing.id)


def _length(ctx: Context, thing: InUse, stands: Status) -> Says[None]:
    """A rope that is reckoned longer than it was last measured."""
    at, rope = _rope(ctx, thing)
    lengths, ours = stands.totals.lengths, real_length(rope, Book(keeps=False))
    if not lengths or isinstance(ours, Unknown):
        return
    last, was = newest(lengths), rope.measured_m
    if was.kind == "known" and was.on is not None and was.on > last.on:
        return
    if ours[0].value <= last.low.value + 1e-9:
        return
    entries = [e for e in thing.record.entries if isinstance(e, Measured) and e.on == last.on]
    entry = min(entries, key=lambda e: e.figure.value)
    place = PLAN.at(lambda p: p.shed.ropes[at])
    edits = (place.at(lambda r: r.measured_m).set(entry.figure),)
    wet = place.at(lambda r: r.wet_since_measured).set(_wet_since(thing.record, ctx.gear, last.on))
    yield say(
        "gear.length",
        "Shortfall",
        f"rope.{rope.id}",
        "{name} is reckoned longer than it was last measured",
        "On {on} it was {low} at the least; the plan counts on {ours}.",
        name=rope.name,
        on=str(last.on),
        low=last.low,
        ours=Number(ours[0].value, "length", "down"),
        fix=Fix(Sentence("Take the length of {on}", {}, {"on": str(last.on)}), (*edits, wet), allows="Shortfall"),
    )


def _wet_since(record: GearRecord, gear: Gear, since: dt.date) -> Tri:
    """Whether a rope got wet on a day or later; on the day itself it may have been before."""
    wet = {u.wet for u in uses_of(record, gear) if u.on >= since}
    sure = {u.wet for u in uses_of(record, gear) if u.on > since}
    return "yes" if "yes" in sure else "unknown" if wet - {"no"} else "no"


def _wet(ctx: Context, thing: InUse) -> Says[None]:
    """A rope that the plan takes for dry since it was measured, and that got wet."""
    at, rope = _rope(ctx, thing)
    if rope.wet_since_measured != "no":
        return
    measured = rope.measured_m
    dated = measured.on if measured.kind == "known" else dt.date.min
    # What the plan says may be older than the use: a descent of which nobody noted the water is not a dry one.
    uses = [u for u in uses_of(thing.record, ctx.gear) if u.wet != "no" and (dated is None or u.on >= dated)]
    if not uses:
        return
    place = PLAN.at(lambda p: p.shed.ropes[at]).at(lambda r: r.wet_since_measured)
    surely = dated is not None and any(u.wet == "yes" and u.on > dated for u in uses)
    yield say(
        "gear.wet",
        "Shortfall" if surely else "Not checked",
        f"rope.{rope.id}",
        "{name} got wet since it was measured" if surely else "Whether {name} got wet since it was measured is open",
        "It was used on {on}; the plan counts no shrinkage.",
        name=rope.name,
        on=str(uses[-1].on),
        fix=Fix(Sentence("Count it as wet since", {}, {}), (place.set("yes"),), allows="Shortfall"),
    )
