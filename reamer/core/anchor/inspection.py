"""What was found in place, and whether somebody has looked at it."""

from __future__ import annotations

from reamer.core.answer.findings import Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number
from reamer.core.model import Feature, Inspection, Rated, Station
from reamer.core.plan.rigs import tied_to
from reamer.core.tables import questions, row


def newest(inspections: tuple[Inspection, ...]) -> dict[str, Inspection]:
    """The newest record of each item looked at; of two on one day, or without a date, the later in the list.

    inspections: the station's records
    returns: item, in small letters, -> record
    Source: none, ordering.
    """
    made: dict[str, Inspection] = {}
    for i in sorted(inspections, key=lambda i: i.on.toordinal() if i.on else 0):
        made[i.item.casefold()] = i
    return made


def inspect(look: Look) -> Says[None]:
    """Findings about what hangs on things found in place.

    look: the station; how old a record is counts at the plan's day
    returns: nothing
    Source: P, common practice, no source: count only what somebody has looked at; months J, table of materials.
    """
    records, in_use = newest(look.station.inspections), used(look.station)
    known = {f.name.casefold() for f in look.station.features}
    kit = look.plan.shed
    parts = {x.name.casefold() for some in (kit.rings, kit.slings, kit.webbing, kit.ropes) for x in some}
    named = {f.name.casefold() for f in in_use}
    for record in records.values():
        # A record of something that is there and that this rig does not use is kept, and not held against it.
        item = record.item.casefold()
        if item in named or item in parts:
            yield from _record(look, record)
        elif item not in known:
            title, why = "A record here is of {item}, and nothing here is called so", "Name the thing that it is of."
            yield say("inspection.open", "Not checked", "anchor", title, why, item=record.item)
    twice: set[str] = set()
    for anchor in in_use:
        if anchor.kind == "post" or anchor.in_place == "no":
            continue
        name = anchor.name.casefold()
        own = records.get(name)
        if own is not None and sum(f.name.casefold() == name for f in in_use) > 1:
            if name not in twice:
                title, why = "Two things here are called {anchor}", "A record cannot tell which of them was looked at: "
                why += "give each its own name."
                yield say("inspection.open", "Not checked", "anchor", title, why, anchor=anchor.name)
            twice.add(name)
        elif own is None:
            title, why = "Nobody has looked at {anchor}", "A thing found in place is unknown until somebody has; "
            why += "record what was seen."
            yield say("inspection.none", "Not checked", "anchor", title, why, anchor=anchor.name)
        elif anchor.kind == "rated":
            yield from _answers(anchor, own)


def _record(look: Look, record: Inspection) -> Says[None]:
    """What one record says: state, decision and age."""
    item, on = record.item, look.plan.on
    found = f" {record.found.strip()}" if record.found.strip() else ""
    if record.condition == "bad" or record.decision == "replace":
        title, why = "{item} was found bad or is to be replaced", "Record the replacement, or rig without it.{found}"
        yield say("inspection.bad", "Shortfall", "anchor", title, why, item=item, found=found)
        return
    if record.condition == "unknown" or record.decision == "undecided":
        title, why = "What to do about {item} is open", "Its state or the decision is not recorded.{found}"
        yield say("inspection.open", "Not checked", "anchor", title, why, item=item, found=found)
    elif record.decision == "back up":
        title, why = "{item} is to be backed up", "The backup is not part of what was checked.{found}"
        yield say("inspection.backup", "Caution", "anchor", title, why, item=item, found=found)
    elif record.condition == "worn":
        title, why = (
            "{item} was found worn and is to be used",
            "Back it up or replace it, or say why it is good enough.",
        )
        yield say("inspection.worn", "Caution", "anchor", title, why + "{found}", item=item, found=found)
    months = row("materials", "inspection.old").low
    if record.on is None:
        title, why = "The record of {item} has no date", "Nobody can tell how old it is."
        yield say("inspection.old", "Caution", "anchor", title, why, item=item, found=found)
    elif on is not None and (on - record.on).days > months * 365.25 / 12:
        old, most = Number(int((on - record.on).days / 30.44), "count"), Number(months, "count")
        title, why = "The record of {item} is {months} months old at the plan's date", "More than {most}: look again."
        yield say("inspection.old", "Caution", "anchor", title, why, item=item, found=found, months=old, most=most)


def used(station: Station) -> list[Feature]:
    """What a station is tied to, in any of its states.

    station: its features and states
    returns: the features, in their order
    Source: none, a look-up.
    """
    named = {feature for state in station.states for feature in tied_to(state.rig)}
    return [f for f in station.features if f.id in named]


def _answers(anchor: Rated, record: Inspection) -> Says[None]:
    """The questions of its kind: an answer that is not the good one, and one that is missing."""
    asked = [q for q in questions() if q.what == anchor.what]
    for q in asked:
        answer = record.answers.get(q.key, "unknown")
        if answer not in ("unknown", q.good):
            yield say(
                "inspection.answer",
                "Shortfall",
                "anchor",
                "{anchor}: {question} {answer}",
                "It is not used as it is: replace it or rig without it.",
                anchor=anchor.name,
                question=q.question,
                answer=answer.capitalize() + ".",
            )
    blank = [q.question for q in asked if record.answers.get(q.key, "unknown") == "unknown"]
    if blank:
        yield say(
            "inspection.open",
            "Not checked",
            "anchor",
            "{n} of the questions about {anchor} are open",
            "{first}",
            anchor=anchor.name,
            first=blank[0],
            n=Number(len(blank), "count"),
        )
