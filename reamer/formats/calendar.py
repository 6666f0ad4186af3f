"""When to turn round, for a calendar."""

from __future__ import annotations

import datetime as dt
import hashlib
from dataclasses import dataclass

from icalendar import Calendar, Event

from reamer.core.assess import Assessment
from reamer.core.descent.daylight import far_off, zone_of
from reamer.core.errors import PlanError
from reamer.core.model import Plan
from reamer.core.second.check import Tally
from reamer.formats.report import whole_words


@dataclass(frozen=True, slots=True)
class Written:
    """Which plan a calendar is of, and which of its revisions: a later one takes the place of the one before."""

    plan: str
    revision: int


def nothing_to_say(plan: Plan, a: Assessment) -> str:
    """Why a plan has nothing to write in a calendar.

    plan, a: the plan and its assessment
    returns: in words, "" where it has
    Source: none.
    """
    times = a.descent.times
    if plan.on is None:
        return "the plan has no date"
    if far_off(plan.on):
        return f"the year {plan.on.year} is too far off"
    if times.last_light is not None or any(s.turn_round is not None for s in times.stations):
        return ""
    why = times.contradicts[0] or times.light.why or "say where and when the descent is"
    return f"no time to turn round is known: {why}"


def calendar(plan: Plan, a: Assessment, tally: Tally, made: dt.datetime, of: Written | None = None) -> bytes:
    """The latest moments at which each pull may begin, and the last light, as iCalendar, with how the plan stood.

    plan, a: the plan and its assessment; tally: how it stands, what is not worked out said; made: now; of: the plan in
    a library, None for one from a file, which is told by its title and dated by when this is written
    returns: the file
    raises: PlanError where the plan has no day, or no time to turn round is known
    Source: RFC 5545, by way of icalendar.
    """
    why = nothing_to_say(plan, a)
    if why or plan.on is None:
        raise PlanError("on" if plan.on is None else "", why)
    on = plan.on
    zone = zone_of(plan.spot.zone) if plan.spot is not None else None
    by = f"By the clock of {plan.spot.zone}." if plan.spot is not None and zone else "By the clock there."
    of = of or Written(hashlib.sha256(plan.title.encode()).hexdigest()[:12], int(made.timestamp()) // 60)
    out = Calendar()
    out.add("prodid", "-//Reamer//Reamer//EN")
    out.add("version", "2.0")
    out.add("method", "PUBLISH")
    times, people = a.descent.times, len(plan.party)
    whom = f"the party of {people}, the last person included," if people > 1 else "who goes alone"
    stood = f"{plan.title} when this was written: {whole_words(tally)}."

    def add(key: str, minutes: float, what: str, why: str) -> None:
        # By the clock: what is past midnight is on the day after.
        at = dt.datetime.combine(on, dt.time()) + dt.timedelta(minutes=round(minutes))
        at = at.replace(tzinfo=zone)
        event = Event()
        event.add("uid", f"{key}-{of.plan}@reamer")
        event.add("sequence", of.revision)
        event.add("dtstamp", made)
        event.add("dtstart", at)
        event.add("dtend", at + dt.timedelta(minutes=5))
        event.add("summary", what)
        event.add("description", " ".join(x for x in (why, by, stood) if x))
        out.add_component(event)

    for s in times.stations:
        if s.turn_round is not None:
            name = plan.drops[s.number - 1].name
            why = f"Past this moment, once the rope is pulled, {whom} may not be out by the last light."
            add(f"turn-{s.drop}", s.turn_round.value, f"Turn round at {s.number} · {name}", why)
    if times.last_light is not None:
        add("light", times.last_light, f"{plan.title}: {times.last_light_is}", "")
    # Whoever reads it need not know the zone by its name.
    out.add_missing_timezones(on - dt.timedelta(366), on + dt.timedelta(366))
    return bytes(out.to_ical())
