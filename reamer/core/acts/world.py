"""One state of a rehearsal: where everybody is, what holds them, what is on each rope, how each station stands."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal, NamedTuple

from reamer.core.model import RopeEnd


class StrandRef(NamedTuple):
    """A strand by its rope and that rope's permanent end."""

    rope: str
    end: RopeEnd

    @property
    def key(self) -> str:
        """As acts name it."""
        return f"{self.rope}:{self.end}"


def strand(key: str) -> StrandRef | None:
    """A strand from its name.

    key: as acts name it
    returns: the strand, None where that is no strand's name
    Source: none, text only.

    >>> strand("blue:a")
    StrandRef(rope='blue', end='a')
    """
    rope, _, end = key.rpartition(":")
    return StrandRef(rope, "a" if end == "a" else "b") if rope and end in ("a", "b") else None


LinkKind = Literal["tether", "second tether", "device", "third hand", "top line", "lowering", "bight", "passenger"]
# What somebody else holds with their hands.
BELAYED: tuple[LinkKind, ...] = ("top line", "lowering", "bight")
Spot = Literal["station", "rope", "landing"]


class Link(NamedTuple):
    """What joins a person to something. ``k``: at which station, from 0; ``to``: of a tether master or backup; of a top
    line or a lowering rope who belays; of a passenger whose device; ``hand``: on the brake; ``tested``: it has held
    body weight; ``tied``: a belay that is tied off; ``slack_m``: what a belay has out [m]."""

    kind: LinkKind
    k: int
    to: str = ""
    strands: frozenset[StrandRef] = frozenset()
    tested: bool = False
    hand: bool = False
    tied: bool = False
    slack_m: float = 0.0


@dataclass(frozen=True, slots=True)
class Body:
    """Where somebody is, and what joins them to what. ``at``: the station's place from 0; a landing without a way to
    walk is the next station. ``edge``: they have gone to the edge; ``resting``: on the way down, with their weight off
    the rope."""

    at: int
    spot: Spot = "station"
    edge: bool = False
    links: tuple[Link, ...] = ()
    resting: bool = False

    def link(self, kind: LinkKind) -> Link | None:
        """Their link of a kind."""
        for x in self.links:
            if x.kind == kind:
                return x
        return None

    def without(self, *kinds: LinkKind) -> Body:
        """The same without links of these kinds."""
        return Body(self.at, self.spot, self.edge, tuple(x for x in self.links if x.kind not in kinds), self.resting)

    def having(self, link: Link) -> Body:
        """The same with a link, in place of one of its kind."""
        links = (*(x for x in self.links if x.kind != link.kind), link)
        return Body(self.at, self.spot, self.edge, links, self.resting)


class On(NamedTuple):
    """A thing on a rope, so many metres from its end A."""

    at_m: float
    what: str


@dataclass(frozen=True, slots=True)
class RopeNow:
    """A rope: its length [m], what is on it from end A to end B, where it is, and where its ends are."""

    length_m: float
    on: tuple[On, ...] = ()
    place: str = "carried"
    ends: tuple[str, str] = ("in the bag", "in the bag")

    def has(self, what: str) -> bool:
        """Whether a thing is on it."""
        return any(o.what == what for o in self.on)

    def put(self, at_m: float, what: str) -> RopeNow:
        """The same with a thing on it."""
        made = On(min(max(at_m, 0.0), self.length_m), what)
        return replace(self, on=tuple(sorted((*self.on, made))))

    def off(self, *what: str) -> RopeNow:
        """The same without things."""
        return replace(self, on=tuple(o for o in self.on if o.what not in what))

    def end_at(self, end: RopeEnd, where: str) -> RopeNow:
        """The same with one end elsewhere."""
        return replace(self, ends=(where, self.ends[1]) if end == "a" else (self.ends[0], where))

    @property
    def pieces_m(self) -> tuple[float, ...]:
        """The lengths between what is on it [m]; their sum is its length."""
        at = [0.0, *(o.at_m for o in self.on), self.length_m]
        return tuple(b - a for a, b in pairwise(at))


class Watch(NamedTuple):
    """A belay from below: by whom, of whom, and the strands that are held taut."""

    by: str
    of: str
    strands: frozenset[StrandRef]


@dataclass(frozen=True, slots=True)
class StationNow:
    """How a station stands: what is done there, by name; which of its states is rigged, -1 none; who attends the
    reserve; who holds whom from below; what has held body weight; who has tied which knot; how often a weight has come
    off the rope; what a test-pull has met, "" nothing; whose devices came onto the strands, the lowest first."""

    done: frozenset[str] = frozenset()
    which: int = -1
    attendant: str = ""
    fireman: tuple[Watch, ...] = ()
    tested: frozenset[str] = frozenset()
    maker: tuple[tuple[str, str], ...] = ()
    unloaded: int = 0
    met: str = ""
    stack: tuple[str, ...] = ()

    def doing(self, *done: str) -> StationNow:
        """The same with things done."""
        return replace(self, done=self.done | set(done))

    def undone(self, *done: str) -> StationNow:
        """The same with things undone."""
        return replace(self, done=self.done - set(done))


@dataclass(frozen=True, slots=True)
class World:
    """One state. ``said``: calls and checks that were made."""

    people: dict[str, Body]
    ropes: dict[str, RopeNow]
    stations: tuple[StationNow, ...]
    said: frozenset[str] = frozenset()

    def body(self, who: str, body: Body) -> World:
        """The same with one person otherwise."""
        return World({**self.people, who: body}, self.ropes, self.stations, self.said)

    def rope(self, rope: str, now: RopeNow) -> World:
        """The same with one rope otherwise."""
        return World(self.people, {**self.ropes, rope: now}, self.stations, self.said)

    def station(self, k: int, now: StationNow) -> World:
        """The same with one station otherwise."""
        made = (*self.stations[:k], now, *self.stations[k + 1 :])
        return World(self.people, self.ropes, made, self.said)

    def saying(self, *calls: str) -> World:
        """The same with calls and checks made."""
        return World(self.people, self.ropes, self.stations, self.said | set(calls))

    def unsaid(self, *calls: str) -> World:
        """The same without calls and checks that no longer hold."""
        return replace(self, said=self.said - set(calls)) if self.said & set(calls) else self

    def stopper(self, s: StrandRef) -> bool:
        """Whether there is a stopper in a strand's end."""
        return s.rope in self.ropes and self.ropes[s.rope].has(f"stopper {s.end}")

    def top(self, k: int) -> list[str]:
        """Who is at a station."""
        return [i for i, b in self.people.items() if b.at == k and b.spot == "station"]

    def riding(self, k: int) -> list[str]:
        """Who is on the way down from a station."""
        return [i for i, b in self.people.items() if b.at == k and b.spot == "rope"]

    def foot(self, k: int, walk: bool) -> list[str]:
        """Who is at the landing below a station: at the next one, where no walk lies between."""
        at = (k, "landing") if walk else (k + 1, "station")
        return [i for i, b in self.people.items() if (b.at, b.spot) in (at, (k, "landing"))]

    def below(self, k: int) -> list[str]:
        """Who has come down from a station."""
        return [i for i, b in self.people.items() if b.at > k or (b.at == k and b.spot == "landing")]


def strands_key(strands: Iterable[StrandRef]) -> str:
    """Strands as an act names them.

    strands: any
    returns: their names in order
    Source: none, text only.
    """
    return ",".join(sorted(s.key for s in strands))
