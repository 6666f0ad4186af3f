"""When to turn round, for a calendar."""

from __future__ import annotations

import datetime as dt
from zoneinfo import ZoneInfo

from icalendar import Calendar, Event

from reamer.core.assess import Assessment
from reamer.core.errors import PlanError
from reamer.core.model import Plan
from reamer.core.second.check import Tally
from reamer.formats.report import whole_words


def calendar(plan: Plan, a: Assessment, tally: Tally, made: dt.datetime) -> bytes:
    """The latest moments at which each pull may begin, and the last light, as iCalendar, with how the plan stood.

    plan, a: the plan and its assessment; tally: how it stands, what is not worked out said; made: now
    returns: the file
    raises: PlanError where the plan has no day, or no time to turn round is known
    Source: RFC 5545, by way of icalendar.
    """
    if plan.on is None:
        raise PlanError("on", "the plan has no date")
    zone = ZoneInfo(plan.spot.zone) if plan.spot is not None and plan.spot.zone else None
    out = Calendar()
    out.add("prodid", "-//Reamer//Reamer//EN")
    out.add("version", "2.0")
    times, people = a.descent.times, len(plan.party)
    whom = f"the party of {people}, the last person included," if people > 1 else "who goes alone"
    stood = f"{plan.title} when this was written: {whole_words(tally)}."

    def add(key: str, clock: str, what: str, why: str) -> None:
        at = dt.datetime.combine(plan.on or made.date(), dt.time.fromisoformat(clock), tzinfo=zone)
        event = Event()
        event.add("uid", f"{key}-{plan.on}@reamer")
        event.add("dtstamp", made)
        event.add("dtstart", at)
        event.add("dtend", at + dt.timedelta(minutes=5))
        event.add("summary", what)
        event.add("description", f"{why} {stood}".strip())
        out.add_component(event)

    for s in times.stations:
        if s.turn_round_at:
            name = plan.drops[s.number - 1].name
            why = f"Past this moment, once the rope is pulled, {whom} may not be out by the last light."
            add(f"turn-{s.drop}", s.turn_round_at[:5], f"Turn round at {s.number} · {name}", why)
    if times.last_light_at:
        add("light", times.last_light_at[:5], f"{plan.title}: {times.last_light_is}", "")
    if not out.subcomponents:
        raise PlanError("", "no time to turn round is known: say where and when the descent is")
    return bytes(out.to_ical())
