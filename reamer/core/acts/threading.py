"""Which end of a rope comes down first, and which is threaded next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from reamer.core.model import BlockedCord, BlockedSame, Blocking, Doubled, EndRef, Joined, RopeEnd, State, System
from reamer.core.rope.strands import Role, pulled_strand, ropes_of


@dataclass(frozen=True, slots=True)
class Hung:
    """A strand as it hangs at a station: the end that hangs, what it is for, whether that end is knotted; the rope
    at the ring, where what hangs is tied on to another."""

    rope: str
    end: RopeEnd
    role: Role
    knotted: bool
    top: str = ""


def other_end(of: EndRef) -> EndRef:
    """A rope's other end.

    of: one end
    returns: the other
    Source: none.
    """
    return EndRef(rope=of.rope, end="a" if of.end == "b" else "b")


def coming_down(system: System, hanging: Sequence[Hung]) -> tuple[EndRef, ...]:
    """The ends of a system's ropes in the order in which they are in hand at the landing.

    system: as rigged for whoever goes last; hanging: its strands
    returns: the ends, none where nothing is pulled
    Source: P, common practice, no source: the end that is pulled comes first, the one that goes up through the ring
        last.
    """
    down = pulled_strand(system, hanging)
    if system.kind == "elastic-release device" and hanging:
        own = EndRef(rope=hanging[0].rope, end=hanging[0].end)
        return own, other_end(own)
    if down is None:
        return ()
    first = EndRef(rope=down.rope, end=down.end)
    up = next((s for s in hanging if s is not down), None)
    if up is None:
        return first, other_end(first)
    last = at_ring = EndRef(rope=up.rope, end=up.end)
    rest: tuple[EndRef, ...] = ()
    if isinstance(system, Blocking) and system.tied_on is not None:
        # What runs through the ring is tied to the rope whose end hangs.
        at_ring = EndRef(rope=system.rope, end=system.ridden_end)
        rest = (at_ring, other_end(last))
    rest = rest if at_ring.rope == first.rope else (other_end(first), other_end(at_ring), *rest)
    return first, *rest, last


def threaded_of(state: State, arriving: tuple[EndRef, ...]) -> EndRef | None:
    """The end that a state puts through its ring: the one it names; of two ropes joined an end of the one that runs
    through; else the one that arrives first.

    state: as rigged; arriving: the ends of the rope above, in the order in which they come
    returns: the end, None where none is put through anything
    Source: P, common practice, no source.
    """
    system = state.system
    if state.threaded is not None:
        return state.threaded
    if isinstance(system, Joined):
        return EndRef(rope=system.through, end=system.through_end)
    if not isinstance(system, (Doubled, BlockedSame, BlockedCord)):
        return None
    own = ropes_of(system)
    return next((e for e in arriving if e.rope in own), EndRef(rope=own[0], end="a"))
