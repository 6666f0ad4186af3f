"""Damaged places of a rope in the strands that hang of it: where each lies, and which are isolated by a knot."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from reamer.core.answer.say import Number
from reamer.core.model import Damage, Known, Rope, sure
from reamer.core.plan.limits import limits_m
from reamer.core.rope.length import shrinks, sound_piece
from reamer.core.rope.strands import Strand


def from_end(s: Strand, damage: Damage, at: Known) -> tuple[float, float] | None:
    """How far from a strand's end a damaged place may be.

    s: the strand, of one rope; damage: a place in it; at: where it is, from end A [m]
    returns: at the least and at the most; None where it does not hang in it [m]
    Source: J, our judgement: where nobody has said how it was measured each end takes the reading that serves it.
    """
    if s.high is None:
        return None
    piece = sound_piece(s.rope)
    if piece.start and at.value <= sure(piece.start.at_m).value:
        return None
    if piece.stop and at.value >= sure(piece.stop.at_m).value:
        return None
    base = sure(s.rope.measured_m if s.rope.measured_m.kind == "known" else s.rope.nominal_m)
    # As near the hanging end as it may be, and as far: where it hangs is known no better.
    least, most = limits_m(at)
    kept = [1 - x for x in shrinks(s.rope)]
    by_label, now = damage.as_now != "yes", damage.as_now != "no"
    near, far = least * (kept[0] if by_label else 1.0), most * (1.0 if now else kept[1])
    if s.end == "b":
        short, long = (x * k for x, k in zip(limits_m(base), kept, strict=True))
        near = max(0.0, short - most * (1.0 if now else kept[0]))
        far = max(0.0, long - least * (kept[1] if by_label else 1.0))
    return None if near >= s.high.value else (near, far)


@dataclass(frozen=True, slots=True)
class Lies:
    """What lies in a strand on its way: a join or a knot that isolates damage, in which rope, joined to which other, ""
    where none is, and how far below the ring, or the tie-off of a reserve [m]."""

    what: Literal["join", "isolating knot"]
    rope: str
    other: str
    below: Number


def lies_in(s: Strand) -> tuple[Lies, ...]:
    """What lies in a strand on its way, from above.

    s: the strand
    returns: its joins and the knots that isolate damage, of those that are known where they lie, as near the ring as
    each may be
    Source: P, common practice, no source.
    """
    made = [Lies("join", p.rope.name, j.rope.name, j.at) for j, p in zip(s.joints, s.pieces, strict=False) if j.at]
    for alone in s.single:
        for d in alone.rope.damage:
            span = from_end(alone, d, d.at_m) if d.use == "knot passed" and d.at_m.kind == "known" else None
            if span is not None and alone.low is not None:
                made.append(Lies("isolating knot", alone.rope.name, "", below(alone, span)))
    return tuple(sorted(made, key=lambda x: x.below.value))


def below(s: Strand, span: tuple[float, float]) -> Number:
    """How far below the ring a damaged place is at the least.

    s: the strand, of one rope, its length known; span: how far from its end that may be [m]
    returns: the distance [m]
    Source: none, a difference.
    """
    return Number(max(0.0, (s.low.value if s.low is not None else 0.0) - span[1]), "length", "near")


def knotted(rope: Rope) -> bool:
    """Whether a knot that isolates damage lies somewhere in a rope.

    rope: any
    returns: whether one does
    Source: P, common practice, no source.
    """
    return any(d.use == "knot passed" for d in rope.damage)


def knot_hangs(s: Strand) -> bool:
    """Whether a knot that isolates damage hangs in a strand of one rope, or may.

    s: the strand, of one rope
    returns: whether one does; where nobody knows where the damage or the strand's end is, it may
    Source: P, common practice, no source.
    """
    return any(
        d.use == "knot passed" and (d.at_m.kind == "unknown" or s.high is None or from_end(s, d, d.at_m) is not None)
        for d in s.rope.damage
    )
