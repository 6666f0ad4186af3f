"""What was found in place, and whether somebody has looked at it."""

from __future__ import annotations

from reamer.core.findings import Findings
from reamer.core.model import Inspection, Station


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


def inspect(station: Station, found: Findings) -> None:
    """Findings about what hangs on things found in place.

    station: its features, its rig and its records; found: where findings go
    returns: nothing
    Source: P, common practice, no source: count only what somebody has looked at.
    """
    rig = station.states[0].rig
    records = newest(station.inspections)
    for record in records.values():
        words = {"item": record.item, "found": f" {record.found.strip()}" if record.found.strip() else ""}
        if record.condition == "bad" or record.decision == "replace":
            found.add("inspection.bad", "Shortfall", "anchor", "{item} was found bad or is to be replaced",
                      "Record the replacement, or rig without it.{found}", words=words)
        elif record.condition == "unknown" or record.decision == "undecided":
            found.add("inspection.open", "Not checked", "anchor", "What to do about {item} is open",
                      "Its state or the decision is not recorded.{found}", words=words)
        elif record.decision == "back up":
            found.add("inspection.backup", "Caution", "anchor", "{item} is to be backed up",
                      "The backup is not part of what was checked.{found}", words=words)
    if rig.kind == "direct":
        anchor = next((f for f in station.features if f.id == rig.anchor), None)
        if anchor is not None and anchor.kind == "rated" and anchor.in_place != "no" and anchor.name.casefold() not in records:
            found.add("inspection.none", "Not checked", "anchor", "Nobody has looked at {anchor}",
                      "A thing found in place is unknown until somebody has; record what was seen.", words={"anchor": anchor.name})
