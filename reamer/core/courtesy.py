"""Courtesy rigs: the ring near the anchor for the party, over the edge for the last person. Ways to make one, and back."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from reamer.core.context import Context, figured
from reamer.core.findings import Edit
from reamer.core.model import Drop, Wrap
from reamer.core.section import Terrain, lines, terrain
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class CourtesyWay:
    """One way, why it is chosen, and the edits that adopt it; ``why_not``: why it cannot be rigged here, then no edits."""

    key: str
    name: str
    why: str
    edits: tuple[Edit, ...]
    why_not: str


def edge_of(made: Terrain) -> tuple[float, str] | None:
    """From the anchor along its taut line to the edge that turns the rope most, and how sharp it is.

    made: a terrain
    returns: length [m] and sharpness, None if the section is not whole or the rope meets no edge
    Source: none, geometry.
    """
    at = None if made.missing else lines(made, 0.0)
    if at is None or not at.taut.contacts:
        return None
    most = max(at.taut.contacts, key=lambda c: c.turn_rad)
    along, here = 0.0, None
    for p in at.taut.points:
        along += 0.0 if here is None else math.dist(here, p)
        here = p
        if abs(p[0] - most.x_m) < 1e-9 and abs(p[1] - most.z_m) < 1e-9:
            return along, made.edges[most.index]
    return None


@figured
def courtesy_ways(ctx: Context, index: int, drop: Drop) -> tuple[CourtesyWay, ...]:
    """The ways to give one drop's station two states, and the way back to one.

    ctx: the plan's context; index: the drop's place in the plan, from 0; drop: the drop
    returns: the ways that apply, with the edits that adopt each
    Source: P, common practice, no source.
    """
    at = ("drops", index, "station", "states")
    states = [s.model_dump(mode="json") for s in drop.station.states]
    if len(states) == 2:
        return (CourtesyWay("one", "one state for everyone", "The party's state is kept; the last person's is dropped.",
                            (Edit(at, [{**states[0], "serves": "all"}]),), ""),)
    rig = drop.station.states[0].rig
    why_not = "" if isinstance(rig, Wrap) and rig.webbing in ctx.webbing and rig.gain_m.kind == "known" else \
        "it starts from webbing round a post whose reach is known"
    edge = edge_of(terrain(drop.section, "nominal"))
    if not why_not and edge is None:
        why_not = "where the edge lies is not known"
    made = []
    over = row("loads", "courtesy.over").high
    if not why_not and edge[0] + over - rig.gain_m.value > 20:
        why_not = "the edge lies further out than an extension can be entered"
    for key, name, why in (
        ("frost", "frost knot and a second webbing", "A frost knot with a clip loop for the party; a second webbing re-threaded through it, doubled between two overhands, carries the ring over the edge."),
        ("one webbing", "re-threaded frost knot in one long webbing", "The same in one piece: nothing more to tie on, but it is cut long."),
        ("basket", "single strand extended, and a basket for the party", "A re-threaded overhand with one long strand for the last person; a separate basket sling holds the ring near for the party."),
    ):
        edits = () if why_not else (Edit(at, _states(key, states[0], rig, max(over, round(edge[0] + over - rig.gain_m.value, 2)))),)
        made.append(CourtesyWay(key, name, why, edits, why_not))
    return tuple(made)


def _states(key: str, state: dict[str, Any], rig: Wrap, further_m: float) -> list[dict[str, Any]]:
    """The party's and the last person's state."""
    figure = {"kind": "known", "value": further_m, "method": "given"}
    tie = rig.model_dump(mode="json")
    if key == "basket":
        party, last = {**tie, "pattern": "basket"}, {**tie, "pattern": "re-threaded overhand", "extension_m": figure}
    else:
        near = {**tie, "pattern": "frost knot"}
        link = {"kind": "webbing", "id": "over", "webbing": rig.webbing, "same": key == "one webbing", "reach_m": figure}
        party, last = near, {**near, "links": [*tie["links"], link]}
    return [{**state, "serves": "party", "rig": party}, {**state, "id": "last" if state["id"] != "last" else "over", "serves": "last", "rig": last}]
