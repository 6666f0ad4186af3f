"""Courtesy rigs: the ring near the anchor for the party, over the edge for the last person. Ways to make one, and
back."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.anchor.patterns import EXTENDED
from reamer.core.answer.context import Context, figured
from reamer.core.model import Drop, Known, State, WebbingLink, Wrap
from reamer.core.plan.edits import PLAN, Edit
from reamer.core.section.lines import edge_of
from reamer.core.section.terrain import terrain
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class CourtesyWay:
    """One way, why it is chosen, and the edits that adopt it; ``why_not``: why it cannot be rigged here, then no
    edits."""

    key: str
    name: str
    why: str
    edits: tuple[Edit, ...]
    why_not: str


@figured
def courtesy_ways(ctx: Context, index: int, drop: Drop) -> tuple[CourtesyWay, ...]:
    """The ways to give one drop's station two states, and the way back to one.

    ctx: the plan's context; index: the drop's place in the plan, from 0; drop: the drop
    returns: the ways that apply, with the edits that adopt each
    Source: P, common practice, no source.
    """
    at, states = PLAN.at(lambda plan: plan.drops[index].station.states), drop.station.states
    if len(states) == 2:
        back = at.set((states[0].model_copy(update={"serves": "all"}),))
        why = "The party's state is kept; the last person's is dropped."
        return (CourtesyWay("one", "one state for everyone", why, (back,), ""),)
    rig, over, why_not = states[0].rig, row("loads", "courtesy.over").high, ""
    edge, further = edge_of(terrain(drop.section, "nominal")), 0.0
    if not isinstance(rig, Wrap) or rig.webbing not in ctx.webbing or rig.gain_m.kind == "unknown":
        why_not = "it starts from webbing round a post whose reach is known"
    elif edge is None:
        why_not = "where the edge lies is not known"
    else:
        further = edge[0] + over - rig.gain_m.value
        why_not = "the edge lies further out than an extension can be entered" if further > 20 else ""
    made = []
    for key, name, why in WAYS:
        edits: tuple[Edit, ...] = ()
        if not why_not and isinstance(rig, Wrap):
            edits = (at.set(_states(key, states[0], rig, max(over, round(further, 2)))),)
        made.append(CourtesyWay(key, name, why, edits, why_not))
    return tuple(made)


WAYS = (
    (
        "frost",
        "frost knot and a second webbing",
        "A frost knot with a clip loop for the party; a second webbing re-threaded through it, doubled between two"
        " overhands, carries the ring over the edge.",
    ),
    (
        "one webbing",
        "re-threaded frost knot in one long webbing",
        "The same in one piece: nothing more to tie on, but it is cut long.",
    ),
    (
        "basket",
        "single strand extended, and a basket for the party",
        "A re-threaded overhand with one long strand for the last person; a separate basket sling holds the ring near"
        " for the party.",
    ),
)


def _states(key: str, state: State, rig: Wrap, further_m: float) -> tuple[State, State]:
    """The party's and the last person's state."""
    figure = Known(kind="known", value=further_m, method="given")
    if key == "basket":
        party = rig.model_copy(update={"pattern": "basket"})
        last = rig.model_copy(update={"pattern": EXTENDED, "extension_m": figure})
    else:
        party = rig.model_copy(update={"pattern": "frost knot"})
        same = key == "one webbing"
        link = WebbingLink(kind="webbing", id="over", webbing=rig.webbing, same=same, reach_m=figure)
        last = party.model_copy(update={"links": (*rig.links, link)})
    new_id = "last" if state.id != "last" else "over"
    return (
        state.model_copy(update={"serves": "party", "rig": party}),
        state.model_copy(update={"id": new_id, "serves": "last", "rig": last}),
    )
