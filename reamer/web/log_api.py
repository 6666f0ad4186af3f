"""The log over HTTP: descents as they were, beside the plan, and what all of them teach."""

from __future__ import annotations

import datetime as dt

from flask import request
from pydantic import BaseModel

from reamer.core.errors import PlanError
from reamer.core.log.compared import StationBeside, compared
from reamer.core.log.learnt import Lesson, learnt
from reamer.core.log.places import Logged
from reamer.core.log.trips import blank, from_cards, same_day
from reamer.core.plan.log import Trip
from reamer.desk import saves
from reamer.store.log import LoggedTrip
from reamer.web.base import Body, bp, desk
from reamer.web.endpoints import endpoint


class TripBody(Body):
    """A descent as it was; ``revision``: which it was made from, 0 for a new one."""

    revision: int = 0
    trip: Trip


class TripStep(Body):
    """The revision of a descent's log to step from."""

    revision: int


class TripView(BaseModel):
    """A descent in the log, beside what the plan said then. ``trip``: None where it was removed."""

    id: str
    revision: int
    saved_at: str
    trip: Trip | None
    beside: list[StationBeside]


class DayHome(BaseModel):
    """A day of which something came home and was accepted that no descent in the log has yet."""

    on: str
    by: list[str]
    corrections: int


class PlanLog(BaseModel):
    """A plan's log, newest descent first, and what came home that is not in it yet."""

    trips: list[TripView]
    days: list[DayHome]


def _view(plan_id: str, t: LoggedTrip) -> TripView:
    plan = desk().head(plan_id).plan
    beside = list(compared(plan, t.trip)) if t.trip is not None else []
    return TripView.model_construct(id=t.id, revision=t.revision, saved_at=t.saved_at, trip=t.trip, beside=beside)


@endpoint(bp, "GET", "/plans/<plan_id>/log", PlanLog)
def open_log(plan_id: str) -> PlanLog:
    """Every descent of a plan that was logged, and the days of which something came home that is not in the log yet."""
    trips = desk().log.of(plan_id)
    had = {c for t in trips if t.trip is not None for c in t.trip.cards}
    came = [c for c in desk().home.of(plan_id) if c.state == "accepted" and c.id not in had]
    days = [
        DayHome(
            on=on.isoformat(),
            by=sorted({c.handed.by for c in came if c.handed.on == on}),
            corrections=sum(len(c.handed.corrections) for c in came if c.handed.on == on),
        )
        for on in sorted({c.handed.on for c in came}, reverse=True)
    ]
    return PlanLog.model_construct(trips=[_view(plan_id, t) for t in trips], days=days)


@endpoint(bp, "GET", "/plans/<plan_id>/log/new", Trip)
def begin_trip(plan_id: str) -> Trip:
    """A descent's log begun, ``?on=`` the day: from what came home of it, or with nothing noted. Nothing is saved."""
    try:
        on = dt.date.fromisoformat(request.args.get("on", ""))
    except ValueError:
        raise PlanError("on", "a date is written as 2027-06-12") from None
    found = desk().now(plan_id)
    came = [(c.id, c.handed) for c in desk().home.of(plan_id) if c.state == "accepted"]
    of_day = same_day(came, on)
    return from_cards(found.plan, found.a, of_day) if of_day else blank(found.plan, found.a, on)


@endpoint(bp, "POST", "/plans/<plan_id>/log", TripView, TripBody)
def add_trip(plan_id: str, body: TripBody) -> TripView:
    """Log a descent; where it does not say what came along, it is what the plan has."""
    return _view(plan_id, saves.log_trip(desk(), plan_id, body.trip))


@endpoint(bp, "PUT", "/plans/<plan_id>/log/<trip_id>", TripView, TripBody)
def save_trip(plan_id: str, trip_id: str, body: TripBody) -> TripView:
    """Save an edit of a descent's log as a new revision; 409 if it was made from an old one."""
    return _view(plan_id, saves.save_trip(desk(), plan_id, trip_id, body.revision, body.trip))


@endpoint(bp, "POST", "/plans/<plan_id>/log/<trip_id>/remove", TripView, TripStep)
def remove_trip(plan_id: str, trip_id: str, body: TripStep) -> TripView:
    """Take a descent out of the log; it can be had back."""
    return _view(plan_id, saves.save_trip(desk(), plan_id, trip_id, body.revision, None))


@endpoint(bp, "POST", "/plans/<plan_id>/log/<trip_id>/undo", TripView, TripStep)
def undo_trip(plan_id: str, trip_id: str, body: TripStep) -> TripView:
    """Take the last change of a descent's log back, its removal too."""
    return _view(plan_id, saves.undo_trip(desk(), plan_id, trip_id, body.revision))


@endpoint(bp, "GET", "/learnt", list[Lesson])
def list_learnt() -> list[Lesson]:
    """What all descents in the library teach, each with its cases."""
    some = [t for t in desk().log.every() if t.trip is not None]
    return list(learnt(Logged(t.id, t.plan_id, t.plan_title, t.trip, t.origin) for t in some if t.trip is not None))
