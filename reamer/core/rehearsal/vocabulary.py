"""Everything that can be entered by hand at a station: each act, and what it can name there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import get_args

from reamer.core.acts.rigging import AT_THE_MASTER_POINT, PUT, SCREWS
from reamer.core.acts.stage import Scene, Stage
from reamer.core.model import ActName
from reamer.core.rehearsal.words import thing

# Acts that name somebody else.
SOMEBODY: tuple[ActName, ...] = (
    *("take fireman's belay", "take top belay", "leave top belay", "take lowering belay", "leave lowering belay"),
    *("clip passenger", "give slack", "take tight", "tie off the belay", "undo the belay", "tie the end again"),
)
# How much slack is offered [m]: our judgement; any can be written in a plan.
SLACK_M = (1, 2, 5)


@dataclass(frozen=True, slots=True)
class What:
    """Something that an act can name: as the plan has it, and in words."""

    value: str
    label: str


@dataclass(frozen=True, slots=True)
class Vocable:
    """An act, and what it can name at a station; where it names nothing there is nothing to choose."""

    do: ActName
    whats: tuple[What, ...]


def vocabulary(scene: Scene, k: int) -> tuple[Vocable, ...]:
    """Everything that can be entered by hand at a station.

    scene: the descent; k: the station, from 0
    returns: every act, with what it can name there
    Source: none, the acts there are.
    """
    return tuple(Vocable(do, tuple(_whats(scene, k, do))) for do in get_args(ActName))


def _whats(scene: Scene, k: int, do: ActName) -> list[What]:
    stage, people = scene.stages[k], [(p.id, p.name) for p in scene.plan.party]
    strands = list(dict.fromkeys(s for way in stage.ways for s in way.strands))

    def some(*values: str) -> list[What]:
        return [What(v, _first(thing(scene, v, do, k))) for v in values]

    if do == "check":
        return [*some("station", "knots"), *(What(i, name) for i, name in people)]
    if do == "tie in":
        return [What("line", "the top line"), *(What(i, f"the rope’s end, {name} belays") for i, name in people)]
    if do in SOMEBODY:
        whom = [What(i, name) for i, name in people]
        if do == "give slack":
            return [What(f"{w.value},{m}", f"{w.label}, {m} m") for w in whom for m in SLACK_M]
        if do == "take fireman's belay":
            whom += [
                What(f"{w.value},{s.key}", f"{w.label}, {_first(thing(scene, s.key, do, k))} alone")
                for w in whom
                for s in strands
            ]
        return whom
    rides = [",".join(sorted(s.key for s in way.ride)) for way in stage.ways if way.ride]
    named: dict[ActName, tuple[str, ...]] = {
        "load device": (*dict.fromkeys(rides), *(s.key for s in strands)),
        "tie third hand": (*dict.fromkeys(rides), *(s.key for s in strands)),
        "untie from the rope": ("", "line"),
        "pull": tuple(s.key for s in strands),
        "thread": _ends(scene, k),
        "unthread": _ends(scene, k),
        "pull up the end": ("line", *_ends(scene, k)),
        "tie": (*(f"stopper {key}" for key in _ends(scene, k)), *_knots(stage)),
        "untie": (*(f"stopper {key}" for key in _ends(scene, k)), *_knots(stage)),
        "clip tether": ("master", "backup"),
        "clip second tether": ("master", "backup"),
        "put in": _put(stage),
        "take out": _put(stage),
        "pass": (*(f"deviation {d.id}" for d in stage.drop.station.deviations), "traverse line"),
        "secure the rope": ("clipped", "tied", "in hand"),
        "call": ("off rope", "rope", "clear", "slack", *(f"pull {s.key}" for s in strands)),
        "stack": ("", "slack"),
        "stop at": ("", "a ledge", "the knot", "the next station"),
    }
    return some(*dict.fromkeys(named.get(do, ())))


def _first(text: str) -> str:
    return text.split(", reserve in")[0]


def _ends(scene: Scene, k: int) -> tuple[str, ...]:
    """Every end of the ropes that are used at a station."""
    ropes = dict.fromkeys(r for way in scene.stages[k].ways for r in way.ropes)
    return tuple(f"{r}:{end}" for r in ropes for end in ("a", "b"))


def _knots(stage: Stage) -> tuple[str, ...]:
    knots = dict.fromkeys(knot for way in stage.ways for knot in way.knots)
    return (*knots, "overhand below", *AT_THE_MASTER_POINT)


def _put(stage: Stage) -> tuple[str, ...]:
    things = [x for x in PUT if stage.screw or x not in (*SCREWS, "screw clip")]
    return (*things, *(f"deviation {d.id}" for d in stage.drop.station.deviations))
