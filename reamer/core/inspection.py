"""What was found in place, and whether somebody has looked at it."""

from __future__ import annotations

import datetime as dt

from reamer.core.findings import Findings
from reamer.core.model import Feature, Inspection, Rated, Station
from reamer.core.say import Number
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


def inspect(station: Station, on: dt.date | None, found: Findings) -> None:
    """Findings about what hangs on things found in place.

    station: its features, its rig and its records; on: the day of the plan, None if it has none; found: where findings go
    returns: nothing
    Source: P, common practice, no source: count only what somebody has looked at; months J, table of materials.
    """
    records = newest(station.inspections)
    in_use = used(station)
    known = {f.name.casefold() for f in station.features}
    named = {f.name.casefold(): f for f in in_use}
    months = row("materials", "inspection.old").low
    for record in records.values():
        # A record of something that is there and that this rig does not use is kept, and not held against it.
        if record.item.casefold() in known and record.item.casefold() not in named:
            continue
        words = {"item": record.item, "found": f" {record.found.strip()}" if record.found.strip() else ""}
        if record.condition == "bad" or record.decision == "replace":
            found.add("inspection.bad", "Shortfall", "anchor", "{item} was found bad or is to be replaced",
                      "Record the replacement, or rig without it.{found}", words=words)
            continue
        if record.condition == "unknown" or record.decision == "undecided":
            found.add("inspection.open", "Not checked", "anchor", "What to do about {item} is open",
                      "Its state or the decision is not recorded.{found}", words=words)
        elif record.decision == "back up":
            found.add("inspection.backup", "Caution", "anchor", "{item} is to be backed up",
                      "The backup is not part of what was checked.{found}", words=words)
        elif record.condition == "worn":
            found.add("inspection.worn", "Caution", "anchor", "{item} was found worn and is to be used", "Back it up or replace it, or say why it is good enough.{found}", words=words)
        if record.on is None:
            found.add("inspection.old", "Caution", "anchor", "The record of {item} has no date", "Nobody can tell how old it is.", words=words)
        elif on is not None and (on - record.on).days > months * 365.25 / 12:
            found.add("inspection.old", "Caution", "anchor", "The record of {item} is {months} months old at the plan's date", "More than {most}: look again.",
                      words=words, numbers={"months": Number(int((on - record.on).days / 30.44), "count"), "most": Number(months, "count")})
    twice: set[str] = set()
    for anchor in in_use:
        if anchor.kind not in ("rated", "ice thread") or anchor.in_place == "no":
            continue
        record = records.get(anchor.name.casefold())
        if record is not None and sum(f.name.casefold() == anchor.name.casefold() for f in in_use) > 1:
            if anchor.name.casefold() not in twice:
                found.add("inspection.open", "Not checked", "anchor", "Two things here are called {anchor}", "A record cannot tell which of them was looked at: give each its own name.", words={"anchor": anchor.name})
            twice.add(anchor.name.casefold())
        elif record is None:
            found.add("inspection.none", "Not checked", "anchor", "Nobody has looked at {anchor}",
                      "A thing found in place is unknown until somebody has; record what was seen.", words={"anchor": anchor.name})
        elif anchor.kind == "rated":
            _answers(anchor, record, found)


def used(station: Station) -> list[Feature]:
    """What a station is tied to, in any of its states.

    station: its features and states
    returns: the features, in their order
    Source: none, a look-up.
    """
    named: set[str] = set()
    for state in station.states:
        rig = state.rig
        named |= {rig.post} if rig.kind == "wrap" else {rig.anchor} if rig.kind == "direct" else {leg.anchor for leg in rig.legs} \
            if rig.kind == "several" else {rig.first, rig.second} if rig.kind == "two posts" else set()
    return [f for f in station.features if f.id in named]


def _answers(anchor: Rated, record: Inspection, found: Findings) -> None:
    """The questions of its kind: an answer that is not the good one, and one that is missing."""
    asked = [q for q in questions() if q.what == anchor.what]
    for q in asked:
        answer = record.answers.get(q.key, "unknown")
        if answer not in ("unknown", q.good):
            found.add("inspection.answer", "Shortfall", "anchor", "{anchor}: {question} {answer}", "It is not used as it is: replace it or rig without it.",
                      words={"anchor": anchor.name, "question": q.question, "answer": answer.capitalize() + "."})
    blank = [q.question for q in asked if record.answers.get(q.key, "unknown") == "unknown"]
    if blank:
        found.add("inspection.open", "Not checked", "anchor", "{n} of the questions about {anchor} are open", "{first}", words={"anchor": anchor.name, "first": blank[0]},
                  numbers={"n": Number(len(blank), "count")})
