"""What comes home from phones: kept from the first, looked at beside the plan."""

from __future__ import annotations

import datetime as dt

from reamer.core.errors import PlanError
from reamer.core.onsite.home import Homecoming, homecoming, of_this_plan
from reamer.core.plan.correction import Handed
from reamer.desk.desk import Desk
from reamer.store.handed import Came, HandedBy


def keep(desk: Desk, plan_id: str, handed: Handed, way: HandedBy, sealed: bool) -> Came:
    """Keep what was handed back of a plan; it waits until it is accepted. Raises PlanError where it is of another plan,
    or of a day that is yet to come."""
    head = desk.head(plan_id)
    of_this_plan(plan_id, head.plan, head.revision, handed)
    # A day ahead of this clock may be today elsewhere.
    if handed.on > desk.today + dt.timedelta(days=1):
        raise PlanError("on", f"{handed.on} is yet to come: is the phone's clock right?")
    with desk.writing():
        return desk.home.one(plan_id, desk.home.add(plan_id, handed, way, sealed))


def beside_plan(desk: Desk, plan_id: str, handed_id: str) -> Homecoming:
    """One hand-back beside what its card said and what the plan says now."""
    with desk.reading():
        came, found = desk.home.one(plan_id, handed_id), desk.now(plan_id)
        every = desk.home.of(plan_id)
    others = [(c.handed, c.state == "accepted") for c in every if c.state in ("accepted", "waiting")]
    return homecoming(plan_id, found.plan, found.a, came.handed, others)
