"""A plan made of parts of another."""

from __future__ import annotations

from collections.abc import Collection

from reamer.core.plan.plan import Plan
from reamer.core.plan.rehearsal import GoThrough
from reamer.core.plan.shed import Shed
from reamer.core.plan.station import Drop


def parts_of(plan: Plan, title: str, parts: Collection[str]) -> Plan:
    """A plan with some of another's drops, kit and party, and its choices. Who goes when, backed up
    how, is left out where the party does not come along; what else names people or kit that do not is not checked
    until there are some.

    plan: the other; title: the new one's; parts: drops, kit, party
    returns: the new plan
    Source: none.
    """
    drops, kit, party = (p in parts for p in ("drops", "kit", "party"))
    made = Plan(format=1, title=title, policies=plan.policies)
    update: dict[str, object] = {}
    if drops:
        update |= {"place": plan.place, "spot": plan.spot}
        update["drops"] = plan.drops if party else tuple(_alone(d) for d in plan.drops)
    if kit:
        update |= {"shed": plan.shed, "own_figures": plan.own_figures}
    else:
        # Its choices come along, those of the owner's own with them.
        update["shed"] = Shed(own_schools=plan.shed.own_schools)
    if party:
        update["party"] = plan.party
    return made.model_copy(update=update)


def _alone(drop: Drop) -> Drop:
    """A drop that nobody goes through yet. Who hangs from its anchor stays: nothing asks less of it unseen."""
    return drop.model_copy(update={"station": drop.station.model_copy(update={"through": GoThrough()})})
