"""Points of no return: pulls after which some event strands the party before the next way off."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from reamer.core.answer.say import Sentence, listed
from reamer.core.descent.field import Event, StationEvents, goes, place_name
from reamer.core.model import Plan


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


def stations(numbers: Iterable[int], last: str = "or") -> str:
    """Stations in words: 1, 2 or 5 to 8.

    numbers: of the stations, from 1; last: what stands before the last
    returns: the words
    Source: none, text only.
    """
    runs: list[list[int]] = []
    for n in sorted(set(numbers)):
        if runs and n == runs[-1][-1] + 1:
            runs[-1].append(n)
        else:
            runs.append([n])
    return listed([t for r in runs for t in ([f"{r[0]} to {r[-1]}"] if len(r) > 2 else map(str, r))], last)


def what_if(events: Iterable[tuple[Event, int]]) -> str:
    """What may happen to a rope, with the stations.

    events: each with the station's number
    returns: in words, as in "if the rope sticks at 1 or 2, or one is lost after 2"
    Source: none, text only.
    """
    by: dict[Event, set[int]] = {}
    for event, at in events:
        by.setdefault(event, set()).add(at)
    stuck, gone = by.get("stuck", set()), by.get("lost", set())
    if stuck == gone:
        return f"if the rope sticks, or one is lost, at {stations(stuck)}"
    if not stuck:
        return f"with one rope lost after {stations(gone)}"
    return f"if the rope sticks at {stations(stuck)}" + (f", or one is lost after {stations(gone)}" if gone else "")


def _return(plan: Plan, start: int, until: int, events: tuple[tuple[Event, int, int], ...]) -> Return:
    ends = until == len(plan.drops) - 1 and not goes(plan.drops[until])
    off = "the end" if ends else f"the foot of {place_name(plan, until)}"
    tops, what = stations({stops for _, _, stops in events}), what_if((e, at) for e, at, _ in events)
    words = {"n": str(start + 1), "off": off, "what": what[0].upper() + what[1:], "tops": tops}
    text = "After the pull at {n} there is no way up, and no way out before {off}. {what}, you cannot leave {tops}."
    said = Sentence(text, {}, words)
    return Return(plan.drops[start].id, start + 1, until + 1, ends, events, said)
