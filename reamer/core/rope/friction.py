"""What a rope rubs on, and by how much."""

from __future__ import annotations

from reamer.core.answer.look import Look
from reamer.core.model import Drop, Rope
from reamer.core.tables import Row, row


def slippery(low: Row, high: Row, *ropes: Rope) -> tuple[Row, Row]:
    """Friction of ropes on something: the rows for the low and the high end. HMPE is slippery on everything, and what
    is of unknown fibre may be HMPE at the low end.

    low, high: of other rope on it; ropes: that run over it, one after the other
    returns: the rows
    Source: HB, friction tables.
    """
    own = row("friction", "HMPE")
    if not ropes:
        return low, high
    return (own if any(r.fibre in ("HMPE", "unknown") for r in ropes) and own.low < low.low else low), (
        own if all(r.fibre == "HMPE" for r in ropes) else high
    )


def rock_friction(drop: Drop, *ropes: Rope) -> tuple[Row, Row]:
    """Friction of rope on this drop's rock, the rows for its low and its high end; unknown rock is taken at its worst.

    drop: the drop; ropes: that run over it, none for any but HMPE
    returns: the rows
    Source: HB, friction tables.
    """
    smooth, coarse = row("friction", "smooth rock"), row("friction", "coarse rock")
    return slippery(coarse if drop.rock == "coarse" else smooth, smooth if drop.rock == "smooth" else coarse, *ropes)


def face_friction(face: str, *ropes: Rope) -> tuple[Row, Row]:
    """Friction of rope on a face that is other than the drop's, or on a pad.

    face: smooth, coarse, or pad; ropes: that run over it
    returns: the rows for the low and the high end
    Source: HB, friction tables.
    """
    own = row("friction", "pad" if face == "pad" else f"{face} rock")
    return slippery(own, own, *ropes)


def ring_friction(look: Look, *ropes: Rope) -> tuple[Row, Row] | str:
    """What the rope runs over at the station: friction rows for its low and high end, or what is not known.

    look: the station; ropes: that run over it
    returns: the rows, or what is not known
    Source: HB and J, table of friction.
    """
    rig = look.rig
    if rig.kind == "none":
        return "no anchor is chosen"

    def over(key: str) -> tuple[Row, Row]:
        return slippery(row("friction", key), row("friction", key), *ropes)

    if rig.kind != "direct" or rig.ring is not None:
        return over("ring")
    thing = look.feature(rig.anchor)
    if thing is not None and thing.kind == "post":
        return over("bark") if thing.surface == "bark" else rock_friction(look.drop, *ropes)
    if thing is not None and thing.kind == "ice thread":
        return over("textile") if thing.cord else "how the rope rubs in ice is unknown"
    if thing is not None and thing.what in ("textile", "thread"):
        return over("textile")
    return "what the rope runs over without a ring is unknown"
