"""A plan's kit against the common shed: what differs, thing by thing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from reamer.core.plan.changes import changes_between
from reamer.core.plan.shed import SHED_LISTS, OwnFigure, Shed


@dataclass(frozen=True, slots=True)
class Difference:
    """One thing that is not the same in a plan and in the common shed, by its list and id.

    what: in words, what the shed has otherwise
    """

    list: str
    id: str
    name: str
    kind: Literal["only in the plan", "only in the shed", "differs"]
    what: str


def differences(plan: Shed, shed: Shed) -> tuple[Difference, ...]:
    """What a plan's kit and the common shed do not have alike.

    plan: the plan's own copy; shed: the common shed
    returns: one entry a thing, in the order of the lists
    Source: none, comparison.
    """
    made = []
    for where in (*SHED_LISTS, "own_figures", "own_schools"):
        ours, theirs = ({t.id: t for t in getattr(s, where)} for s in (plan, shed))
        for i, thing in ours.items():
            if i not in theirs:
                made.append(Difference(where, i, _name(thing), "only in the plan", ""))
            elif thing != theirs[i]:
                what = changes_between(thing.model_dump(mode="json"), theirs[i].model_dump(mode="json"))
                made.append(Difference(where, i, _name(thing), "differs", what))
        made += [Difference(where, i, _name(t), "only in the shed", "") for i, t in theirs.items() if i not in ours]
    return tuple(made)


def _name(thing: object) -> str:
    return f"own figure {thing.table}: {thing.key}" if isinstance(thing, OwnFigure) else str(getattr(thing, "name", ""))
