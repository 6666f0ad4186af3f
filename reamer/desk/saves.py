"""Every save of a plan, its records and the shed: what it needs is worked out first, then it is written, all of it or
nothing, into the library that was asked about."""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable, Sequence

from reamer.core.answer.say import Sentence
from reamer.core.errors import PlanError
from reamer.core.log.taken import taken
from reamer.core.model import GearRecord, Plan, Shed, Shots
from reamer.core.onsite.survey import given_back, taken_in
from reamer.core.plan.log import Trip
from reamer.core.reading import Opened, read_plan
from reamer.core.second.check import Said, decided
from reamer.core.section.shooting import bearing_of, in_section, with_shot
from reamer.desk.desk import Desk
from reamer.desk.views import PlanView, keep_said, opened, view
from reamer.desk.worked import Worked
from reamer.devices.lines import Laser
from reamer.store.documents import Document
from reamer.store.log import LoggedTrip
from reamer.store.plans import StaleRevision, Step
from reamer.store.record import fits
from reamer.store.shed import ShedHead

# What else is saved with an edit, in the same transaction.
Also = Callable[[], None]


def nothing() -> None:
    """Nothing else is saved."""


def create(desk: Desk, plan: Plan, how: str, of: str = "", origin: str = "") -> PlanView:
    """A new plan; of: whose gear records come along; origin: the plan or demonstration whose places its drops are.
    Nothing is saved of which no answer can be given."""
    made = desk.as_if(of, plan).a
    with desk.writing():
        head = desk.plans.create(plan, how, origin)
        desk.gears.copy(of, head.id)
        keep_said(desk, head.id, 1, made)
    return view(desk, head)


def begun(desk: Desk, plan: Plan) -> PlanView:
    """A plan from nothing, with the schools that its owner keeps for all new plans."""
    try:
        with desk.reading():
            own = desk.sheds.head().shed.own_schools
    except PlanError:
        # A common shed that cannot be read is told of where it stands; a plan can still be begun.
        own = ()
    return create(desk, plan.model_copy(update={"shed": Shed(own_schools=own)}), "created")


def open_file(desk: Desk, file: Opened, of: str = "") -> PlanView:
    """A new plan from a file, with what was said of it and what its things have been through; of: the plan that it was
    before it was changed, where that is known."""
    fits(file.record.verdicts)
    made = desk.as_if("", file.plan).a
    with desk.writing():
        origin = desk.plans.origin(of) if of else desk.plans.origin_of(file.plan)
        head = desk.plans.create(file.plan, "opened from a file", origin)
        desk.records.add(head.id, file.record.verdicts)
        desk.gears.keep(head.id, file.gear)
        keep_said(desk, head.id, 1, made)
    return view(desk, head)


def copy(desk: Desk, of: str, make: Callable[[Plan], tuple[Plan, str]]) -> PlanView:
    """A new plan made from another, and how; the records that came with that come along."""
    plan, how = make(desk.head(of).plan)
    return create(desk, plan, how, of, desk.plans.origin(of) if plan.drops else "")


def once(desk: Desk, plan_id: str, key: str, make: Callable[[], PlanView]) -> PlanView:
    """What is asked for by a key, made unless it was: its answer may not have been heard, or it is asked twice at once.
    Else raises what making it raises."""

    def known() -> bool:
        with desk.reading():
            return desk.plans.made(plan_id, key)

    if not known():
        try:
            return make()
        except StaleRevision:
            # The other of two may have been saved since it was looked for.
            if not known():
                raise
    return opened(desk, plan_id)


def save(desk: Desk, plan_id: str, revision: int, plan: Plan, also: Also = nothing, key: str = "") -> PlanView:
    """An edit made from a revision, as a new one. Raises StaleRevision where that is not the newest."""
    was = desk.newest(plan_id, revision)
    made = desk.as_if(plan_id, plan).a
    with desk.writing():
        head = desk.plans.save(plan_id, revision, plan, key)
        if head.revision != revision:
            desk.gears.follow(was.plan.shed, plan.shed)
            keep_said(desk, plan_id, head.revision, made)
        also()
    return view(desk, head)


def rename(desk: Desk, plan_id: str, revision: int, title: str) -> PlanView:
    """Another title, as a new revision."""
    was = desk.newest(plan_id, revision)
    return save(desk, plan_id, revision, was.plan.model_copy(update={"title": title}))


def step(desk: Desk, plan_id: str, revision: int, kind: Step, key: str = "") -> PlanView:
    """One edit back or forward, as a new revision."""
    with desk.reading():
        to = desk.work(plan_id, *desk.plans.beside(plan_id, revision, kind))
    made = to.a
    with desk.writing():
        head = desk.plans.step(plan_id, revision, kind, key)
        keep_said(desk, plan_id, head.revision, made)
    return view(desk, head)


def unbin(desk: Desk, plan_id: str) -> PlanView:
    """A plan out of the bin."""
    with desk.writing():
        desk.plans.restore(plan_id)
        head = desk.plans.head(plan_id)
    return view(desk, head)


def put_in_bin(desk: Desk, plan_id: str) -> None:
    """A plan into the bin."""
    with desk.writing():
        desk.plans.bin(plan_id)


def archive(desk: Desk, plan_id: str, aside: bool) -> None:
    """A plan put aside, or taken up again."""
    with desk.writing():
        desk.plans.archive(plan_id, aside)


def take_shot(desk: Desk, plan_id: str, revision: int, drop_id: str, shots: Sequence[Laser]) -> PlanView:
    """The last of some shots put into the section of a drop; the others say which way the section looks."""
    plan = desk.newest(plan_id, revision).plan
    index = next((i for i, d in enumerate(plan.drops) if d.id == drop_id), None)
    if index is None:
        raise PlanError("drop", f"no drop {drop_id[:40]!r} in this plan")
    drop, last = plan.drops[index], shots[-1]
    if not isinstance(drop.section, Shots):
        raise PlanError("drop", f"{drop.name} is not surveyed in shots")
    bearing = bearing_of((s.incl_deg, s.azimuth_deg) for s in shots)
    incl = in_section(last.incl_deg, last.azimuth_deg, bearing)
    data = plan.model_dump(mode="json")
    section = with_shot(drop.section, last.slope_m, incl, desk.today)
    data["drops"][index]["section"] = section.model_dump(mode="json")
    return save(desk, plan_id, revision, read_plan(data))


def say(desk: Desk, plan_id: str, revision: int, by: str, said: Sequence[Said]) -> Worked:
    """What somebody says of items of the newest revision; the plan is not changed."""
    desk.newest(plan_id, revision)
    items = [x.item for x in desk.at(plan_id, revision).checked.looked]
    made = decided(items, by, dt.datetime.now(dt.UTC), revision, said)
    with desk.writing():
        # Somebody may have saved while it was worked out; what was said is of what was looked at.
        desk.newest(plan_id, revision)
        desk.records.add(plan_id, made)
    return desk.at(plan_id, revision)


def accept(desk: Desk, plan_id: str, handed_id: str, revision: int, take: Sequence[str]) -> PlanView:
    """A hand-back kept for the log, and chosen corrections of it taken into the survey."""
    came = desk.home.one(plan_id, handed_id)
    plan, into = taken_in(desk.newest(plan_id, revision).plan, came.handed, take)
    read = read_plan(plan.model_dump(mode="json"))
    return save(desk, plan_id, revision, read, lambda: desk.home.act(plan_id, handed_id, "accepted", into))


def refuse(desk: Desk, plan_id: str, handed_id: str) -> None:
    """A hand-back refused; it can be accepted later."""
    with desk.writing():
        if desk.home.one(plan_id, handed_id).state == "accepted":
            raise PlanError("", "it is accepted; undo that first")
        desk.home.act(plan_id, handed_id, "refused")


def give_back(desk: Desk, plan_id: str, handed_id: str, revision: int) -> tuple[PlanView, tuple[Sentence, ...]]:
    """The acceptance of a hand-back taken back; it waits again. What of it stays in the survey is told."""
    came = desk.home.one(plan_id, handed_id)
    if came.state != "accepted":
        raise PlanError("", "it is not accepted")
    was = desk.newest(plan_id, revision)
    undone = [t for c in desk.home.of(plan_id) for t in c.before]
    plan, left = given_back(was.plan, came.taken, undone)
    read = read_plan(plan.model_dump(mode="json"))
    return save(desk, plan_id, revision, read, lambda: desk.home.act(plan_id, handed_id, "undone")), tuple(left)


def log_trips(desk: Desk, plan_id: str, trips: Sequence[Trip]) -> list[LoggedTrip]:
    """Descents logged together, all or none; where one does not say what came along, it is what the plan has."""
    for t in trips:
        _had(desk, t)
    found = desk.now(plan_id)
    made = [t if t.used is not None else t.model_copy(update={"used": taken(found.plan, found.a)}) for t in trips]
    with desk.writing():
        return [desk.log.add(plan_id, t) for t in made]


def _had(desk: Desk, trip: Trip) -> None:
    # Somewhere it is tomorrow already.
    if trip.on > desk.today + dt.timedelta(days=1):
        raise PlanError("trip/on", f"{trip.on} is yet to come")


def unlog_trips(desk: Desk, plan_id: str, trips: dict[str, int]) -> list[LoggedTrip]:
    """Descents taken out of the log together, all or none, each with the revision it is taken out from."""
    with desk.writing():
        return [desk.log.save(plan_id, i, revision, None) for i, revision in trips.items()]


def log_trip(desk: Desk, plan_id: str, trip: Trip) -> LoggedTrip:
    """A descent logged. Raises PlanError where it is yet to come."""
    return log_trips(desk, plan_id, [trip])[0]


def save_trip(desk: Desk, plan_id: str, trip_id: str, revision: int, trip: Trip | None) -> LoggedTrip:
    """An edit of a descent's log, None to take it out, as a new revision. Raises PlanError where it is yet to come."""
    if trip is not None:
        _had(desk, trip)
    with desk.writing():
        return desk.log.save(plan_id, trip_id, revision, trip)


def undo_trip(desk: Desk, plan_id: str, trip_id: str, revision: int) -> LoggedTrip:
    """The last change of a descent's log taken back."""
    with desk.writing():
        return desk.log.take_back(plan_id, trip_id, revision)


def add_gear(desk: Desk, record: GearRecord) -> Document[GearRecord]:
    """A thing's record begun."""
    with desk.writing():
        return desk.gears.add(_possible(desk, record))


def save_gear(desk: Desk, gear_id: str, revision: int, record: GearRecord | None) -> Document[GearRecord]:
    """An edit of a thing's record, None to remove it, as a new revision."""
    with desk.writing():
        return desk.gears.save(gear_id, revision, _possible(desk, record) if record is not None else None)


def undo_gear(desk: Desk, gear_id: str, revision: int) -> Document[GearRecord]:
    """The last change of a thing's record taken back."""
    with desk.writing():
        return desk.gears.take_back(gear_id, revision)


def _possible(desk: Desk, record: GearRecord) -> GearRecord:
    """Refuse a record of what is yet to come."""
    last = desk.today + dt.timedelta(days=1)
    for field in ("made_on", "first_used"):
        if (day := getattr(record, field)) is not None and day > last:
            raise PlanError(f"record/{field}", f"{day} is yet to come")
    for i, e in enumerate(record.entries):
        if e.on > last:
            raise PlanError(f"record/entries/{i}/on", f"{e.on} is yet to come")
    return record


def save_shed(desk: Desk, revision: int, shed: Shed) -> ShedHead:
    """An edit of the common shed as a new revision; no plan is changed."""
    with desk.writing():
        return desk.sheds.save(revision, shed)


def undo_shed(desk: Desk, revision: int) -> ShedHead:
    """The last change of the common shed taken back, as a new revision."""
    with desk.writing():
        return desk.sheds.take_back(revision)
