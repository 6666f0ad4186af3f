"""The gear record over HTTP: what things have been through, and what their owner's rules make of it."""

from __future__ import annotations

import datetime as dt

from pydantic import BaseModel

from reamer.core.gear.due import Status, status
from reamer.core.gear.findings import asked_on
from reamer.core.model import Gear, GearRecord
from reamer.core.plan.gear import GEAR_LISTS, GearList
from reamer.desk import saves
from reamer.store.documents import Document
from reamer.web.base import Body, bp, desk
from reamer.web.endpoints import endpoint


class GearBody(Body):
    """A thing's record; ``revision``: which it was made from, 0 for a new one."""

    revision: int = 0
    record: GearRecord


class GearStep(Body):
    """The revision of a record to step from."""

    revision: int


class GearView(BaseModel):
    """A thing's record and how it stands; ``id``: "" for one that came with the plan's file. ``record`` and ``status``:
    None where it was removed."""

    id: str
    revision: int
    record: GearRecord | None
    status: Status | None


class ThingGear(BaseModel):
    """A thing of a plan's shed, by its list and id, and the places of its records."""

    list: GearList
    item: str
    records: tuple[int, ...]


class PlanGear(BaseModel):
    """All records, those that came with the plan's file after them; and which things of the plan's shed they are of."""

    records: list[GearView]
    things: list[ThingGear]


def _view(plan_id: str, made: Document[GearRecord]) -> GearView:
    with desk().reading():
        plan, gear = desk().head(plan_id).plan, desk().gears.gear(desk().today)
    return _told(made.id, made.revision, made.body, gear, asked_on(plan, gear))


def _told(made: str, revision: int, record: GearRecord | None, gear: Gear, on: dt.date | None) -> GearView:
    stands = status(record, gear, on) if record is not None and on is not None else None
    return GearView.model_construct(id=made, revision=revision, record=record, status=stands)


@endpoint(bp, "GET", "/plans/<plan_id>/gear", PlanGear)
def open_gear(plan_id: str) -> PlanGear:
    """Every record, and of which things of the plan's shed they are, as of the day of the descent or today."""
    with desk().reading():
        plan, gear = desk().head(plan_id).plan, desk().gears.gear(desk().today)
        records, came = desk().gears.records.every(), desk().gears.came(plan_id)
    on = asked_on(plan, gear)
    views = [_told(r.id, r.revision, r.body, gear, on) for r in records]
    views += [_told("", 0, r, gear, on) for r in came.records]
    things = [
        ThingGear(
            list=where,
            item=thing.id,
            records=tuple(i for i, v in enumerate(views) if v.record is not None and v.record.is_of(where, thing.name)),
        )
        for where in GEAR_LISTS
        for thing in getattr(plan.shed, where)
    ]
    return PlanGear.model_construct(records=views, things=things)


@endpoint(bp, "POST", "/plans/<plan_id>/gear", GearView, GearBody)
def add_gear(plan_id: str, body: GearBody) -> GearView:
    """Begin a thing's record; it counts in every plan that has a thing of its names."""
    desk().head(plan_id)
    return _view(plan_id, saves.add_gear(desk(), body.record))


@endpoint(bp, "PUT", "/plans/<plan_id>/gear/<gear_id>", GearView, GearBody)
def save_gear(plan_id: str, gear_id: str, body: GearBody) -> GearView:
    """Save an edit of a record as a new revision; 409 if it was made from an old one."""
    return _view(plan_id, saves.save_gear(desk(), gear_id, body.revision, body.record))


@endpoint(bp, "POST", "/plans/<plan_id>/gear/<gear_id>/remove", GearView, GearStep)
def remove_gear(plan_id: str, gear_id: str, body: GearStep) -> GearView:
    """Remove a record; it can be had back."""
    return _view(plan_id, saves.save_gear(desk(), gear_id, body.revision, None))


@endpoint(bp, "POST", "/plans/<plan_id>/gear/<gear_id>/undo", GearView, GearStep)
def undo_gear(plan_id: str, gear_id: str, body: GearStep) -> GearView:
    """Take the last change of a record back, its removal too."""
    return _view(plan_id, saves.undo_gear(desk(), gear_id, body.revision))
