"""Points of no return: pulls after which some event strands the party before the next way off."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.say import Sentence
from reamer.core.descent.field import Event, StationEvents, goes, place_name
from reamer.core.model import Plan

SAID = {"stuck": "a rope that sticks at", "lost": "a rope lost after"}


@dataclass(frozen=True, slots=True)
class Return:
    """A pull after which there is no way back: its station; the landing of the next way off, or the end; the events
    that would strand the party before that, each by the station where it happens and the one that nobody gets past."""

    drop: str
    number: int
    until: int
    ends: bool
    events: tuple[tuple[Event, int, int], ...]
    said: Sentence


def returns(plan: Plan, rows: tuple[StationEvents, ...]) -> tuple[Return, ...]:
    """The points of no return of a descent.

    plan: the plan; rows: what each event leaves at each station
    returns: the first pull of every stretch without a way off in which an event that is switched on strands somebody
    Source: P, common practice, no source: before that pull the last way off can still be reached.
    """
    on = [e for e, asked in (("stuck", plan.contingencies.stuck), ("lost", plan.contingencies.lost)) if asked]
    made, start = [], 0
    for k, drop in enumerate(plan.drops):
        if not goes(drop) and k < len(plan.drops) - 1:
            continue
        events: list[tuple[Event, int, int]] = [
            (c.event, i + 1, c.at)
            for i in range(start, k + 1)
            for c in rows[i].cells
            if c.event in on and c.mark == "strands"
        ]
        if events:
            made.append(_return(plan, start, k, tuple(events)))
        start = k + 1
    return tuple(made)


def _return(plan: Plan, start: int, until: int, events: tuple[tuple[Event, int, int], ...]) -> Return:
    by: dict[Event, list[tuple[int, int]]] = {}
    for event, at, stops in events:
        by.setdefault(event, []).append((at, stops))
    told = []
    for event, where in by.items():
        stations = ", ".join(str(at) for at, _ in where)
        tops = ", ".join(str(s) for s in sorted({stops for _, stops in where}))
        told.append(f"{SAID[event]} {stations} strands you at the top of {tops}")
    ends = until == len(plan.drops) - 1 and not goes(plan.drops[until])
    off = "the end" if ends else f"the foot of {place_name(plan, until)}"
    words = {"n": str(start + 1), "off": off, "events": "; ".join(told)}
    said = Sentence("After the pull at {n} there is no way off until {off}: {events}.", {}, words)
    return Return(plan.drops[start].id, start + 1, until + 1, ends, events, said)
