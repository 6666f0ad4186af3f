"""What a file out would hold, before it is written: what is left out of it, and where there is nothing to write."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from reamer.core.assess import Assessment
from reamer.core.errors import PlanError
from reamer.core.model import Plan, Quick
from reamer.core.plan.log import Trip
from reamer.core.section.shooting import as_shots
from reamer.formats.calendar import nothing_to_say

NAMES = ("places.gpx", "places.geojson", "times.ics", "shots.csv", "shed.csv", "party.csv", "pull-tests.csv", "log.csv")


@dataclass(frozen=True, slots=True)
class Outgoing:
    """One file out: ``left``: what it leaves out, in words; ``why`` there is nothing to write, "" where there is."""

    name: str
    left: tuple[str, ...] = ()
    why: str = ""


def outgoing(plan: Plan, a: Assessment, trips: Sequence[Trip], unread: int = 0) -> tuple[Outgoing, ...]:
    """Every file that a plan can be written to.

    plan, a: the plan and its assessment; trips: its log; unread: how many
    descents of it cannot be read
    returns: one each, by NAMES
    Source: none.
    """
    return tuple(_one(name, plan, a, trips, unread) for name in NAMES)


def written(name: str, plan: Plan, a: Assessment, trips: Sequence[Trip], unread: int = 0) -> tuple[str, ...]:
    """What a file leaves out.

    name: of NAMES; plan, a: the plan and its assessment; trips: its log; unread: how many
    descents of it cannot be read
    returns: in words
    raises: PlanError with the reason where there is nothing to write
    Source: none.
    """
    one = _one(name, plan, a, trips, unread)
    if one.why:
        raise PlanError("", f"there is nothing to write: {one.why}")
    return one.left


def _one(name: str, plan: Plan, a: Assessment, trips: Sequence[Trip], unread: int = 0) -> Outgoing:
    what = name.rpartition(".")[0]
    if what == "places":
        return _places(name, plan)
    if what == "shots":
        return _shots(name, plan)
    shed = plan.shed
    kit = (shed.ropes, shed.webbing, shed.slings, shed.rings, shed.devices, shed.tethers, shed.loops)
    empty = {
        "times": nothing_to_say(plan, a),
        "shed": "" if any(kit) else "the shed is empty",
        "party": "" if plan.party else "nobody is in the party",
        "pull-tests": "" if any(t.samples_kn for t in shed.pull_tests) else "there is no pull test with a sample",
        "log": "" if any(t.stations for t in trips) else "no descent is logged",
    }
    bare = [t.name for t in shed.pull_tests if not t.samples_kn]
    left = ""
    if what == "pull-tests" and bare:
        left = f"without a sample, and left out: {', '.join(bare)}"
    if what == "log" and unread:
        left = f"{unread} of {len(trips) + unread} descents cannot be read, and are left out"
        empty["log"] = empty["log"] and left
    return Outgoing(name, (left,) if left else (), empty[what])


def _places(name: str, plan: Plan) -> Outgoing:
    at = [d.position for d in plan.drops if d.position is not None]
    if not at and not plan.approach:
        return Outgoing(name, why="no station has a position, and there is no approach")
    left = []
    if len(at) < len(plan.drops):
        left.append(f"{len(plan.drops) - len(at)} of {len(plan.drops)} stations have no position, and are left out")
    flat = [p for p in (*at, *plan.approach) if p.elevation_m is None]
    if name.endswith("geojson") and 0 < len(flat) < len(at) + len(plan.approach):
        left.append(f"{len(flat)} points have no height: none has one on the map, those of stations stand beside them")
    return Outgoing(name, tuple(left))


def _shots(name: str, plan: Plan) -> Outgoing:
    padded = [
        d.name
        for d in plan.drops
        if isinstance(d.section, Quick) and d.section.padded and len(as_shots(d.section).shots) == 1
    ]
    told = f"what pads the edge at the tie has no place in shots, and is left out: {', '.join(padded)}"
    return Outgoing(name, (told,) if padded else (), "" if plan.drops else "the plan has no drops")
