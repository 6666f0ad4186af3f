"""What has been carried through water by the time a station is reached."""

from __future__ import annotations

from reamer.core.plan.descent import Onward
from reamer.core.plan.figures import Tri
from reamer.core.plan.station import Drop

# Landings and ways that whoever passes them swims, and those that may wet what is carried.
SWUM, WADED = ("pool", "moving water"), ("wading", "unknown")


def swum_to(drop: Drop) -> Tri:
    """Whether who goes on from a drop has swum.

    drop: the drop, with its way to the next station
    returns: yes, no, or unknown where it is waded or nobody has said
    Source: P, common practice, no source.
    """
    legs: tuple[Onward, ...] = drop.onward or ()
    if drop.landing.kind in SWUM or any(leg.kind == "swim" for leg in legs):
        return "yes"
    return "unknown" if drop.landing.kind in WADED or any(leg.kind == "wade" for leg in legs) else "no"


def worse(one: Tri, other: Tri) -> Tri:
    """The wetter of two answers.

    one, other: whether something gets wet
    returns: yes before unknown before no
    Source: none.
    """
    return "yes" if "yes" in (one, other) else "unknown" if "unknown" in (one, other) else "no"


def carried_wet(drops: tuple[Drop, ...]) -> tuple[Tri, ...]:
    """Whether rope and kit have been carried through water when each station is reached.

    drops: in order
    returns: of each, what the way there has done to them
    Source: P, common practice, no source.
    """
    made: list[Tri] = []
    so_far: Tri = "no"
    for drop in drops:
        made.append(so_far)
        so_far = worse(so_far, swum_to(drop))
    return tuple(made)
