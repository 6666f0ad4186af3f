"""The records that go along with a plan's file, so that whoever opens it knows what its things have been through."""

from __future__ import annotations

from reamer.core.gear.findings import recorded
from reamer.core.gear.totals import wet_of
from reamer.core.model import Gear, GearRecord, Plan
from reamer.core.plan.gear import MOST_ENTRIES, GearEntry, GearFile, Used


def going_along(plan: Plan, gear: Gear) -> GearFile:
    """The records of a plan's things, each with its use out of the log.

    plan: the plan; gear: the records and the log
    returns: the records; where one has grown past what a file holds the oldest use is left out, and what was before is
        then not known
    Source: none, gathering.
    """
    records = {id(r.record): r.record for r in recorded(plan, gear)}
    return GearFile(records=tuple(_whole(r, gear) for r in records.values()))


def _whole(record: GearRecord, gear: Gear) -> GearRecord:
    logged = [
        Used(
            kind="used",
            id=f"log-{t.id}-{n}",
            on=t.trip.on,
            metres=u.metres,
            falls=u.falls,
            wet=wet_of(t.trip, u),
            log=t.id,
        )
        for t in gear.log
        for n, u in enumerate(t.trip.used or ())
        if record.is_of(u.list, u.name)
    ]
    had = {t.log for t in logged}
    own = [e for e in record.entries if not (isinstance(e, Used) and e.log in had)]
    told: list[GearEntry] = [e for e in own if not isinstance(e, Used)]
    uses = sorted([*(e for e in own if isinstance(e, Used)), *logged], key=lambda u: u.on)
    room = max(0, MOST_ENTRIES - len(told))
    before = record.before if len(uses) <= room else None
    return record.model_copy(update={"entries": (*told, *uses[max(0, len(uses) - room) :]), "before": before})
