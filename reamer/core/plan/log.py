"""What happened on a descent, and what the plan had said: beside the plan, one document a descent."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator
from pydantic_core import PydanticCustomError

from reamer.core.plan.correction import Condition, Felt
from reamer.core.plan.descent import Clock, Position
from reamer.core.plan.figures import Date, Figure, Id, Line, M, Name, Num, Text, Tri, Unknown, unique, within

MOST_TRIPS, MOST_STATIONS = 500, 200
CLOCKS = ("arrived", "rigged", "down", "gone")
Span = Annotated[tuple[Num, Num], Field()] | None
Counted = Annotated[int, Field(ge=0, le=1_000_000, strict=True)]
Amount = Annotated[Num, Field(ge=0, le=10_000_000)]
TripId = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{12}$")]
LoggedHeight = Annotated[Figure, within(0.5, 600, "m", "a drop's height", True)]


class Said(M):
    """What the plan said of a station when it was logged; None and "" where it said nothing. ``pull_n``: the pull at
    worst; ``line_m``: what is ridden; ``rig``, ``ride``, ``down``, ``onward``: minutes, low and high; ``way``,
    ``way_m``: the way on, where it is one stretch of known length; ``position``: where it lies."""

    height_m: Num | None = None
    method: Annotated[Line, StringConstraints(max_length=40)] = ""
    pull_n: Num | None = None
    band: Annotated[Line, StringConstraints(max_length=40)] = ""
    system: Annotated[Line, StringConstraints(max_length=60)] = ""
    rock: Annotated[Line, StringConstraints(max_length=40)] = ""
    people: Annotated[int, Field(ge=0, le=60)] = 0
    line_m: Num | None = None
    spare_m: Num | None = None
    rig: Span = None
    ride: Span = None
    down: Span = None
    onward: Span = None
    way: Annotated[Line, StringConstraints(max_length=40)] = ""
    way_m: Num | None = None
    position: Position | None = None


class FoundThing(M):
    """One thing of the anchor as it was found."""

    item: Name
    state: Condition
    words: Annotated[Line, StringConstraints(max_length=300)] = ""


class LoggedStation(M):
    """One station as it was. ``said``: what the plan said of it then; ``system``: what was used, "" as planned;
    ``reached``: whether every end did, ``by_m``: over or short by; ``left``: what stayed there; ``arrived``, ``rigged``
    (the first goes), ``down`` (all are down) and ``gone``: on the clock there."""

    drop: Id
    station: Name
    said: Said = Said()
    height: LoggedHeight = Unknown(kind="unknown", why="not measured")
    reached: Tri = "unknown"
    by_m: Annotated[Num, Field(ge=0, le=600)] | None = None
    system: Annotated[Line, StringConstraints(max_length=60)] = ""
    pull: Felt | Literal["unknown"] = "unknown"
    found: Annotated[tuple[FoundThing, ...], Field(max_length=20)] = ()
    left: Annotated[Line, StringConstraints(max_length=300)] = ""
    arrived: Clock | None = None
    rigged: Clock | None = None
    down: Clock | None = None
    gone: Clock | None = None
    incident: Literal["none", "near miss", "incident"] = "none"
    words: Text = ""

    @model_validator(mode="after")
    def _in_order(self) -> LoggedStation:
        before, last = None, ""
        for name in CLOCKS:
            clock = getattr(self, name)
            if clock is None:
                continue
            if before is not None and minutes_between(before, clock) > HALF_DAY:
                raise PydanticCustomError(
                    "clock",
                    "{name} at {clock}, before {last} at {before}",
                    {"where": name, "name": name, "clock": clock, "last": last, "before": before},
                )
            before, last = clock, name
        if self.incident != "none" and not self.words.strip():
            raise PydanticCustomError("words", "say in words what happened", {"where": "words"})
        return self


class UsedThing(M):
    """A thing of the shed that came along, by its list and name. ``metres``: ridden or lowered on it, None where nobody
    knows; ``wet``: by the descent's flow, unless it is told otherwise."""

    list: Literal["ropes", "webbing", "slings", "rings", "devices", "tethers", "loops"]
    name: Name
    metres: Amount | None = None
    falls: Counted = 0
    wet: Literal["by flow", "yes", "no", "unknown"] = "by flow"


HALF_DAY = 720


def minutes_between(first: str, then: str) -> int:
    """How long from one time of day to another, over midnight where that comes later.

    first, then: as 09:30
    returns: the time [min]
    Source: none.

    >>> minutes_between("09:30", "10:05"), minutes_between("23:50", "00:10")
    (35, 20)
    """
    a, b = (int(t[:2]) * 60 + int(t[3:]) for t in (first, then))
    return (b - a) % (2 * HALF_DAY)


class Trip(M):
    """One descent as it was. ``party``: who went; ``people``: how many; ``cards``: what came home of it; ``used``: what
    came along, None where nobody has said."""

    on: Date
    conditions: Annotated[Line, StringConstraints(max_length=300)] = ""
    flow: Literal["unknown", "dry", "low", "usual", "high", "flood"] = "unknown"
    party: Annotated[Line, StringConstraints(max_length=300)] = ""
    people: Annotated[int, Field(ge=0, le=60)] = 0
    words: Text = ""
    cards: Annotated[
        tuple[Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{16}$")], ...], Field(max_length=60)
    ] = ()
    stations: Annotated[tuple[LoggedStation, ...], Field(max_length=MOST_STATIONS)] = ()
    used: Annotated[tuple[UsedThing, ...], Field(max_length=200)] | None = None

    @model_validator(mode="after")
    def _apart(self) -> Trip:
        unique((s.drop for s in self.stations), "stations", "drop")
        unique((f"{u.list}: {u.name.casefold()}" for u in self.used or ()), "used", "name")
        return self
