"""A station, the states it is rigged in, and the drop below it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator
from pydantic_core import PydanticCustomError

from reamer.core.plan.descent import Escape, Onward, Position, Watch
from reamer.core.plan.features import Feature
from reamer.core.plan.figures import Capacity, Date, Figure, Flag, Id, Known, Line, M, Name, Text, Tri, unique, within
from reamer.core.plan.rehearsal import GoThrough
from reamer.core.plan.rigs import Rig
from reamer.core.plan.survey import Landing, Section
from reamer.core.plan.systems import EndRef, System


class Inspection(M):
    """What somebody saw of a thing found in place, and what was decided. Nothing is known until someone looks.
    ``answers``: to the questions of its kind, by their key."""

    id: Id
    on: Date | None = None
    item: Name
    found: Text = ""
    condition: Literal["good", "worn", "bad", "unknown"] = "unknown"
    answers: Annotated[dict[Id, Tri], Field(max_length=30)] = {}
    decision: Literal["use", "back up", "replace", "undecided"] = "undecided"


class Accepted(M):
    """A single point that the guide accepts, and why. ``part``: its key in the load path. ``of``: what it was when it
    was accepted; entered by the program, and no longer accepted once the part is another thing."""

    part: Annotated[Line, StringConstraints(min_length=1, max_length=60)]
    reason: Annotated[Line, StringConstraints(min_length=1, max_length=200)]
    of: Annotated[Line, StringConstraints(max_length=300)] = ""


# Where the strand that is pulled hangs, as one faces the rock.
Lies = Literal["left", "right", "against the rock", "outside", "unknown"]


class State(M):
    """One way the station is rigged, and whom it serves. ``pulled_lies``: where the strand that is pulled hangs, as one
    faces the rock; settled when it is threaded. ``threaded``: the end that is put through the ring, None means the one
    that arrives first; ``run_through``: the rope is first pulled down whole and run through, so that any end may be."""

    id: Id
    serves: Literal["all", "party", "last"]
    rig: Rig
    system: System
    pulled_lies: Lies = "unknown"
    threaded: EndRef | None = None
    run_through: Flag = False
    accepted: Annotated[tuple[Accepted, ...], Field(max_length=20)] = ()


class Deviation(M):
    """A redirect that holds the rope off its line: how far down the rope it is, by how much it turns it, what its
    anchor holds, and what hangs on that: a connector for the rope, ``ring``, straight or in a sling.
    ``left_in``: nobody removes it before the pull; ``by``: who does."""

    id: Id
    name: Name
    below_m: Annotated[Figure, within(0, 600, "m", "how far down the deviation is")]
    turn_deg: Annotated[Figure, within(0, 170, "°", "a deviation's turn")]
    holds: Capacity
    hung: Literal["unknown", "straight", "sling"] = "unknown"
    sling: Id | None = None
    ring: Id | None = None
    left_in: Flag = False
    by: Id | None = None


class Traverse(M):
    """A line to clip to on the way to the station: its span, its sag under somebody at its middle, by how much it
    falls from near to far, the rope it is made of, retrieved doubled, and what its two anchors hold."""

    rope: Id
    span_m: Annotated[Figure, within(0.5, 200, "m", "a traverse line's span", True)]
    sag_m: Annotated[Figure, within(0.01, 100, "m", "a traverse line's sag", True)]
    slope_deg: Annotated[Figure, within(-70, 70, "°", "a traverse line's slope")] = Known(
        kind="known", value=0, method="given"
    )
    near: Capacity
    far: Capacity


class Station(M):
    """What is there to tie to, how it is rigged, and whether what is tied gets wet. One state serves all; or one serves
    the party and another the last person. ``hanging``: who hangs from the anchor besides the rider. ``together``: two
    people ride at once, each on a strand of their own or both on one. ``strands_hang``: as surveyed below the ring,
    beside each other or one between the other and the rock. ``through``: how it is gone through, act by act."""

    features: Annotated[tuple[Feature, ...], Field(max_length=20)] = ()
    states: Annotated[tuple[State, ...], Field(min_length=1, max_length=2)]
    wet: Tri = "unknown"
    hanging: Annotated[tuple[Id, ...], Field(max_length=10)] = ()
    together: Literal["no", "own strands", "one strand"] = "no"
    strands_hang: Literal["side by side", "one behind", "unknown"] = "unknown"
    deviations: Annotated[tuple[Deviation, ...], Field(max_length=5)] = ()
    traverse: Traverse | None = None
    inspections: Annotated[tuple[Inspection, ...], Field(max_length=100)] = ()
    notes: Text = ""
    through: GoThrough = GoThrough()

    @property
    def two_on_one(self) -> bool:
        """Whether two ride on one strand or one device."""
        return self.together == "one strand" or any(b.by == "tandem" for b in self.through.backups)


def thing_of(part: str, state: State, features: tuple[Feature, ...]) -> str:
    """What a part of a station is, as far as accepting it as a single point goes: another thing, material or pattern
    gives another text.

    part: its key in the load path; state: how the station is rigged; features: of the station
    returns: what it is; "" where there is nothing to tell it by
    Source: none, text only.
    """
    rig, names = state.rig, {f.id: f for f in features}
    if rig.kind == "none":
        return ""
    family, _, name = part.partition(".")

    def feature(feature_id: str) -> str:
        f = names.get(feature_id)
        told = (
            (
                f.kind,
                f.id,
                getattr(f, "what", ""),
                getattr(f, "surface", ""),
                getattr(f, "in_place", ""),
                getattr(f, "cord", "") or "",
            )
            if f
            else ("gone",)
        )
        return " ".join(filter(None, told))

    if family == "anchor":
        return feature(getattr(rig, "post", "") or getattr(rig, "anchor", ""))
    if family == "webbing":
        at = (
            (rig.first, rig.second)
            if rig.kind == "two posts"
            else (getattr(rig, "post", "") or getattr(rig, "anchor", ""),)
        )
        return " ".join((*map(feature, at), getattr(rig, "webbing", ""), getattr(rig, "pattern", rig.kind)))
    if family == "ring":
        return rig.ring or ""
    if family == "link":
        link = next((x for x in rig.links if x.id == name), None)
        return (
            ""
            if link is None
            else " ".join(
                filter(None, (link.kind, *(getattr(link, k, "") for k in ("sling", "ring", "webbing", "use"))))
            )
        )
    if rig.kind == "two posts" and family == "point":
        return feature(rig.first if name == "first" else rig.second)
    legs = [leg for leg in getattr(rig, "legs", ()) if family == "loop" or leg.id == name]
    return (
        " ".join((*(f"{feature(leg.anchor)} {leg.of} {leg.closed_by}" for leg in legs), getattr(rig, "focal", "")))[
            :300
        ]
        if legs
        else part
    )


class Drop(M):
    """One drop, from its station to its landing. ``rock``: smooth and water-worn, or coarse as sandstone and granite;
    ``cracks``: whether cracks or flakes under the line may catch a rope; ``onward``: the way to the next station, None
    if nobody has said; ``escape``: a way off at the landing; ``position``: of the station; ``watch``: own limits of
    water and weather, None if there are none."""

    id: Id
    name: Name
    section: Section
    landing: Landing
    rock: Literal["smooth", "coarse", "unknown"] = "unknown"
    cracks: Tri = "unknown"
    station: Station
    onward: Annotated[tuple[Onward, ...], Field(max_length=20)] | None = None
    escape: Escape | None = None
    position: Position | None = None
    watch: Watch | None = None
    notes: Text = ""

    @model_validator(mode="after")
    def _meaningful(self) -> Drop:
        unique((f.id for f in self.station.features), "station/features", "id")
        unique((i.id for i in self.station.inspections), "station/inspections", "id")
        unique((d.id for d in self.station.deviations), "station/deviations", "id")
        unique((leg.id for leg in self.onward or ()), "onward", "id")
        unique(self.station.through.order or (), "station/through/order", "who")
        unique((b.who for b in self.station.through.backups), "station/through/backups", "who")
        unique((e.id for e in self.station.through.edits if e.kind == "add"), "station/through/edits", "id")
        unique(self.station.through.without, "station/through/without", "school")
        serves = [s.serves for s in self.station.states]
        if serves not in (["all"], ["party", "last"]):
            raise PydanticCustomError(
                "states",
                "one state serves all, or the first the party and the second the last person",
                {"where": "station/states"},
            )
        for n, state in enumerate(self.station.states):
            if state.rig.kind != "none":
                unique((link.id for link in state.rig.links), f"station/states/{n}/rig/links", "id")
        return self._bound()

    def _bound(self) -> Drop:
        """The drop with every acceptance bound to what its part is now, unless it is bound already."""
        if all(a.of for s in self.station.states for a in s.accepted):
            return self
        states = tuple(
            s.model_copy(
                update={
                    "accepted": tuple(
                        a if a.of else a.model_copy(update={"of": thing_of(a.part, s, self.station.features)})
                        for a in s.accepted
                    )
                }
            )
            for s in self.station.states
        )
        return self.model_copy(update={"station": self.station.model_copy(update={"states": states})})


def with_states(drop: Drop, *states: State) -> Drop:
    """A drop with other states of its station.

    drop: the drop; states: in place of its own
    returns: the drop
    Source: none.
    """
    return drop.model_copy(update={"station": drop.station.model_copy(update={"states": states})})


def for_two(state: State, party: System, last: System) -> tuple[State, State]:
    """One state made two: the party's, and the last person's.

    state: that served all; party, last: their rope systems
    returns: both states
    Source: none.
    """
    new_id = "last" if state.id != "last" else "then"
    return (
        state.model_copy(update={"serves": "party", "system": party}),
        state.model_copy(update={"id": new_id, "serves": "last", "system": last}),
    )
