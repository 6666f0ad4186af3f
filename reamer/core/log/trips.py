"""A descent's log begun: empty, or from what came home of it."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable, Sequence
from typing import Any

from reamer.core.answer.say import words
from reamer.core.assess import Assessment
from reamer.core.log.said import stations_of
from reamer.core.log.taken import taken
from reamer.core.model import Known, Plan
from reamer.core.onsite.noted import found_on_site, title_of
from reamer.core.plan.correction import AnchorFound, Correction, Handed, Happened, HeightFelt, Passed, PullFelt, Reached
from reamer.core.plan.log import FoundThing, LoggedStation, Trip

# The worst that was felt counts, the longest that was measured.
HARDER = ("unknown", "easy", "firm", "hard", "stuck")


def blank(plan: Plan, a: Assessment, on: dt.date) -> Trip:
    """A descent's log with nothing noted yet.

    plan: that was followed; a: its assessment; on: the day
    returns: the log
    Source: none.
    """
    party = ", ".join(p.name for p in plan.party)[:300]
    stations = stations_of(plan, a)
    return Trip(on=on, party=party, people=len(plan.party), stations=stations, used=taken(plan, a))


def from_cards(plan: Plan, a: Assessment, cards: Sequence[tuple[str, Handed]]) -> Trip:
    """A descent's log from what came home of one day. Of what phones differ in, the worse stands, and the other in
    words.

    plan: that was followed; a: its assessment; cards: what came home, with its id; at least one
    returns: the log
    Source: J, our judgement: worse input never gives a milder log.
    """
    made = blank(plan, a, cards[0][1].on)
    stations = {s.drop: s for s in made.stations}
    for _, handed in cards:
        for c in handed.corrections:
            had = stations.get(c.drop) or LoggedStation(drop=c.drop, station=c.station)
            stations[c.drop] = _noted(had, c, handed)
    ids = tuple(i for i, _ in cards)
    return made.model_copy(update={"stations": tuple(stations.values()), "cards": ids})


def _aside(s: LoggedStation, c: Correction, by: str) -> dict[str, Any]:
    """What does not stand, in words."""
    told = f"{words(title_of(c))}: {words(found_on_site(c))} ({by})"
    return {"words": "\n".join(filter(None, (s.words, told)))}


def _noted(s: LoggedStation, c: Correction, handed: Handed) -> LoggedStation:
    new: dict[str, Any]
    match c:
        case HeightFelt():
            figure = Known(kind="known", value=c.m, method=c.method, on=handed.on, by=handed.by)
            had = s.height.known
            new = {"height": figure} if had is None else _aside(s, c, handed.by)
            if had is not None and c.m > had:
                new = {"height": figure, **_before(s, "Height", f"{had:g} m")}
        case Reached():
            new = _aside(s, c, handed.by)
            if s.reached == "unknown" or (s.reached == "yes" and not c.reached):
                new |= {"reached": "yes" if c.reached else "no", "by_m": c.by_m}
            elif (s.reached == "yes") == c.reached and c.by_m is not None:
                least = min if c.reached else max
                new |= {"by_m": c.by_m if s.by_m is None else least(s.by_m, c.by_m)}
        case AnchorFound():
            new = {"found": (*s.found, FoundThing(item=c.item, state=c.state, words=c.words))[:20]}
        case PullFelt():
            worse = HARDER.index(c.felt) > HARDER.index(s.pull)
            new = {"pull": c.felt} if s.pull == "unknown" else _aside(s, c, handed.by)
            if s.pull != "unknown" and worse:
                new = {"pull": c.felt, **_before(s, "The pull", s.pull)}
        case Passed():
            field = "gone" if c.which == "left" else c.which
            new = {field: c.clock} if getattr(s, field) is None else _aside(s, c, handed.by)
        case Happened():
            kind = "near miss" if c.near and s.incident != "incident" else "incident"
            new = {"incident": kind, **_aside(s, c, handed.by)}
    return s.model_copy(update=new)


def _before(s: LoggedStation, what: str, had: str) -> dict[str, Any]:
    return {"words": "\n".join(filter(None, (s.words, f"{what}: {had} (another phone)")))}


def same_day(cards: Iterable[tuple[str, Handed]], on: dt.date) -> list[tuple[str, Handed]]:
    """What came home of one day.

    cards: all of it; on: the day
    returns: those of the day
    Source: none.
    """
    return [(i, h) for i, h in cards if h.on == on]
