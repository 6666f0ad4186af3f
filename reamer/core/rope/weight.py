"""What a metre of rope weighs, dry and wet."""

from __future__ import annotations

from reamer.core.model import Rope
from reamer.core.tables import row


def mass_kg_m(rope: Rope, wet: str) -> tuple[float, float] | None:
    """A rope's mass per metre, low and high, wet where it may be.

    λ = 0.0007·d² where the label does not say; wet × 1.3 to 1.5 where its fibre absorbs

    rope: the rope; wet: yes, no or unknown
    returns: low and high [kg/m], None if neither label nor diameter is known
    Source: the label; else J, table of ropes; HB for wet rope.
    """
    if rope.mass_kg_m.kind == "known":
        dry = rope.mass_kg_m.value
    elif rope.diameter_mm.kind == "known":
        dry = row("ropes", "mass.rule").low * rope.diameter_mm.value**2
    else:
        return None
    if wet == "no" or rope.fibre not in ABSORBS:
        return dry, dry
    factor = row("ropes", "mass.wet")
    return dry * (factor.low if wet == "yes" and rope.fibre == "nylon" else 1.0), dry * factor.high


# Of unknown fibre a rope may.
ABSORBS = ("nylon", "unknown")
