"""The strands of a rope system: what hangs from the ring, who rides what, which is pulled."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Literal, Protocol, TypeVar

from reamer.core.answer.say import Number
from reamer.core.model import (
    Bights,
    BlockedCord,
    BlockedSame,
    Capacity,
    Drop,
    ElasticRelease,
    EndRef,
    Joined,
    JoinKnot,
    Lowered,
    Releasable,
    Rope,
    RopeEnd,
    System,
    TiedOn,
)

Role = Literal["ride", "pull", "ride and pull", "reserve", "lower"]
SYSTEM_NAMES = {
    "none": "no system",
    "doubled": "doubled rope",
    "joined": "two ropes joined",
    "blocked, same rope": "single strand, block on the same rope",
    "blocked, pull cord": "single strand with pull cord",
    "releasable": "releasable single strand",
    "elastic-release device": "elastic-release device",
    "alternating bights": "alternating bights",
    "lowered": "lowered by a belayer",
}
# Systems that nobody can pull: they serve the party, and are converted for the last person.
CONVERTED = ("releasable", "lowered")
# In these nothing runs over the ring as they come down.
UNDONE = ("elastic-release device", "alternating bights")


# The knot that isolates a damaged place.
ISOLATES = "butterfly"
# What the knot of a join is called in the table of what knots keep.
JOINED_BY: dict[JoinKnot, str] = {
    "flat overhand": "overhand bend",
    "flat overhand, second behind": "overhand bend",
    "opposed overhand": "overhand bend",
    "flat figure eight": "figure eight",
}


@dataclass(frozen=True, slots=True)
class Joint:
    """Where a strand goes on in another rope: how far along it, None where that is unknown [m]; the part that judges
    it; its knot, what the party's own was tested to slip at, and the place of that; the rope, and the end by which it
    is tied."""

    at: Number | None
    part: str
    knot: JoinKnot
    slips_kn: Capacity
    slips_at: tuple[str, ...]
    rope: Rope
    tied_end: RopeEnd


@dataclass(frozen=True, slots=True)
class Piece:
    """One rope of a strand: its lower, or furthest, end, how far along the strand it begins, None where that is unknown
    [m], and what the knots that tie it to its neighbours are called in the table of what knots keep."""

    rope: Rope
    end: RopeEnd
    start: float | None
    knots: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Strand:
    """A chain: what hangs from the ring to one permanent end, or lies in reserve; its first rope and that rope's end,
    its role, share of the rider, length low and high [m]; ``joints``: where it goes on in other ropes, the nearest
    first: of a reserve so much can be let out before each knot, of a ride strand it is so far below the ring."""

    rope: Rope
    end: RopeEnd
    role: Role
    load_share: float
    low: Number | None
    high: Number | None
    why: str
    knotted: bool
    joints: tuple[Joint, ...] = ()

    @property
    def ropes(self) -> tuple[Rope, ...]:
        """The ropes that it is made of, from the ring down."""
        return (self.rope, *(j.rope for j in self.joints)) if self.joints else (self.rope,)

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """Its ropes with where each begins and what ties it, from the ring down."""
        if not self.joints:
            return (Piece(self.rope, self.end, 0.0, ()),)
        tied = [(JOINED_BY[j.knot],) for j in self.joints]
        above, below = [(), *tied], [*tied, ()]
        whole = [(self.rope, self.end, 0.0), *((j.rope, other_end(j.tied_end), _at(j)) for j in self.joints)]
        return tuple(Piece(r, e, at, (*a, *b)) for (r, e, at), a, b in zip(whole, above, below, strict=True))

    @property
    def single(self) -> tuple[Strand, ...]:
        """Each of its ropes as if it hung alone: what lies in it is so far from its own lower end; where it is not
        known how far along a joint is, the first of them alone."""
        if not self.joints:
            return (self,)
        ends = (*(j.at for j in self.joints), self.low)
        if any(j.at is None for j in self.joints):
            return (replace(self, joints=()),)
        return tuple(
            replace(self, rope=p.rope, end=p.end, low=low, joints=()) for p, low in zip(self.pieces, ends, strict=True)
        )

    @property
    def foot(self) -> Piece:
        """The rope whose end hangs, and that end: of a reserve, the rope with which it begins."""
        return self.pieces[0 if self.role == "reserve" else -1]

    @property
    def key(self) -> str:
        """Its rope and that rope's end: its name for the whole descent."""
        return f"{self.rope.id}-{self.end}"


def other_end(end: RopeEnd) -> RopeEnd:
    """The end of a rope that is not this one.

    end: a or b
    returns: the other
    Source: none.
    """
    return "b" if end == "a" else "a"


def at_ring(system: Joined, other: Rope) -> Joint:
    """The join of two ropes at the ring.

    system: joined; other: the rope that is tied to the one through the ring
    returns: the joint, as far along either as the ring
    Source: none, a look-up.
    """
    at = ("{system}/slips_kn",)
    return Joint(None, "join", system.knot, system.slips_kn, at, other, other_end(system.other_end))


def _at(joint: Joint) -> float | None:
    return None if joint.at is None else joint.at.value


@cache
def _fields(kind: type[System]) -> tuple[str, ...]:
    """The fields of a kind of system that name a rope."""
    return tuple(n for n in ("rope", "through", "other", "cord", "reserve_rope") if n in kind.model_fields)


def ropes_of(system: System) -> tuple[str, ...]:
    """The ropes a system names, in order, as ids.

    system: any
    returns: ids, each as often as it is named
    Source: none, a look-up.
    """
    named = tuple(i for n in _fields(type(system)) if (i := getattr(system, n)) is not None)
    more = tied_on(system)
    return named if more is None else (*named, more.rope)


def ropes_at(drop: Drop) -> frozenset[str]:
    """Every rope that is in use at a station until it has been taken down: of all its states, and its traverse line's.

    drop: the drop
    returns: ids
    Source: P, common practice, no source.
    """
    line = drop.station.traverse
    ropes = {r for s in drop.station.states for r in ropes_of(s.system)}
    return frozenset(ropes if line is None else {*ropes, line.rope})


def tied_ends(system: System) -> tuple[tuple[EndRef, str], ...]:
    """The ends by which a system's ropes are tied: to each other, to the anchor, or so that they do not run out.

    system: any
    returns: each end, and how in words
    Source: P, the table of rope systems.
    """

    def of(rope: str, end: RopeEnd, how: str) -> tuple[EndRef, str]:
        return EndRef(rope=rope, end=end), how

    more = tied_on(system)
    made = [] if more is None else [of(more.rope, other_end(more.end), "tied on")]
    match system:
        case Joined():
            made += [
                of(system.through, other_end(system.through_end), "joined"),
                of(system.other, other_end(system.other_end), "joined"),
            ]
        case BlockedCord():
            made += [
                of(system.rope, other_end(system.ridden_end), "joined"),
                of(system.cord, other_end(system.cord_end), "joined"),
            ]
        case ElasticRelease():
            made.append(of(system.rope, other_end(system.ridden_end), "tied to the device"))
        case Bights() if system.other is not None:
            made += [
                of(system.rope, other_end(system.ridden_end), "tied in bights"),
                of(system.other, other_end(system.other_end), "tied in bights"),
            ]
        case Releasable() if system.reserve_rope is not None:
            made += [
                of(system.rope, other_end(system.ridden_end), "joined to the reserve"),
                of(system.reserve_rope, system.reserve_end, "joined to the reserve"),
            ]
        case Lowered() if system.far_end_closed:
            made.append(of(system.rope, other_end(system.end), "closed for the lower"))
        case _:
            pass
    return tuple(made)


def tied_on(system: System) -> TiedOn | None:
    """The second rope that is tied to a system's ride strand.

    system: any
    returns: the rope and its knot, None where there is none
    Source: none, a look-up.
    """
    return system.tied_on if isinstance(system, (BlockedSame, BlockedCord, Releasable)) else None


def ridden_end(system: BlockedSame | BlockedCord | Releasable | Bights | ElasticRelease) -> EndRef:
    """The end that a rider on a single strand comes to: of what is tied on, where something is.

    system: as rigged
    returns: the end
    Source: none, a look-up.
    """
    more = tied_on(system)
    if more is None:
        return EndRef(rope=system.rope, end=system.ridden_end)
    return EndRef(rope=more.rope, end=more.end)


class Hangs(Protocol):
    """Whatever knows a strand's end and its role."""

    @property
    def end(self) -> RopeEnd:
        """Its permanent end."""

    @property
    def role(self) -> Role:
        """What it is for."""


H = TypeVar("H", bound=Hangs)


def pulled_strand(system: System, hanging: Sequence[H]) -> H | None:
    """Which strand is pulled.

    system: as rigged; hanging: its strands
    returns: the strand, None where none is or it is not there
    Source: P, common practice, no source.
    """
    if len(hanging) != 2 or system.kind in CONVERTED:
        return None
    if system.kind == "doubled":
        return next((s for s in hanging if s.end == system.pulled_end), None)
    if system.kind == "joined":
        return hanging[1] if system.pulled == "other" else hanging[0]
    return next((s for s in hanging if s.role == "pull"), None)
