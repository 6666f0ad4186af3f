"""Which stations of which plans are one place: what is learnt of places counts each once."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

from reamer.core.plan.descent import Position
from reamer.core.plan.log import Trip

# Two stations of different plans that lie nearer are one place: J, our judgement of how far positions taken by
# different people lie apart.
APART_M = 30.0
METRES_A_DEGREE = 111_000.0


@dataclass(frozen=True, slots=True)
class Logged:
    """A descent in the library: its id, its plan's id and title, and the log; ``origin``: the plan or demonstration
    that its plan was copied from, however often, "" for none."""

    id: str
    plan_id: str
    plan: str
    trip: Trip
    origin: str = ""


Key = tuple[str, str]


@dataclass(slots=True)
class _Seen:
    """What the log tells of one station of one plan."""

    names: set[str] = field(default_factory=set)
    heights: set[tuple[float, str]] = field(default_factory=set)
    position: Position | None = None


class _Groups:
    """Stations put together; of one plan no two are one place."""

    def __init__(self, keys: Iterable[Key]):
        self.of = {k: k for k in keys}
        self.plans = {k: {k[0]} for k in self.of}

    def root(self, key: Key) -> Key:
        while self.of[key] != key:
            key = self.of[key]
        return key

    def join(self, a: Key, b: Key) -> None:
        a, b = sorted((self.root(a), self.root(b)))
        if a != b and not self.plans[a] & self.plans[b]:
            self.of[b] = a
            self.plans[a] |= self.plans.pop(b)


def places(some: Iterable[Logged]) -> dict[Key, Key]:
    """Which place each logged station is: a station of a plan and those of its copies, and those that lie where it
    lies.

    some: descents that were logged
    returns: the place, by plan id and drop id; stations of one place have the same
    Source: J, our judgement: what stands for one place is counted once rather than twice.
    """
    origins, seen = dict[str, str](), dict[Key, _Seen]()
    for t in some:
        origins[t.plan_id] = t.origin or t.plan_id
        for s in t.trip.stations:
            one = seen.setdefault((t.plan_id, s.drop), _Seen())
            one.names.add(s.station.strip().casefold())
            if s.said.height_m is not None:
                one.heights.add((s.said.height_m, s.said.method))
            one.position = s.said.position or one.position
    groups = _Groups(seen)
    by_drop = dict[str, list[Key]]()
    for key in sorted(seen):
        by_drop.setdefault(key[1], []).append(key)
    for keys in by_drop.values():
        for n, a in enumerate(keys):
            for b in keys[:n]:
                if _alike(seen[a], seen[b], origins[a[0]] == origins[b[0]]):
                    groups.join(a, b)
    for a, b in _near({k: s.position for k, s in seen.items() if s.position is not None}):
        groups.join(a, b)
    return {k: groups.root(k) for k in seen}


def _alike(a: _Seen, b: _Seen, copied: bool) -> bool:
    """Whether two stations of one drop id tell the same: of a copy its name or its height, of another plan both."""
    name, height = bool(a.names & b.names), bool(a.heights & b.heights)
    return (name or height) if copied else (name and height)


def _near(at: dict[Key, Position]) -> Iterator[tuple[Key, Key]]:
    """Pairs of stations that lie near each other, the nearest first."""
    order = sorted(at, key=lambda k: (at[k].latitude_deg, k))
    found = []
    for n, a in enumerate(order):
        for b in order[n + 1 :]:
            if (at[b].latitude_deg - at[a].latitude_deg) * METRES_A_DEGREE > APART_M:
                break
            metres = 1000 * at[a].km_to(at[b].latitude_deg, at[b].longitude_deg)
            if a[0] != b[0] and metres <= APART_M:
                found.append((metres, a, b))
    return ((a, b) for _, a, b in sorted(found))
