"""The rope systems as a plan names them."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, TypeAdapter

from reamer.core.plan.figures import Capacity, Figure, Flag, Id, Known, M, RideLength, Unknown, whole_count, within

RopeEnd = Literal["a", "b"]


class EndRef(M):
    """A strand's name for the whole descent: its rope and that rope's end."""

    rope: Id
    end: RopeEnd


BlockKind = Literal["figure eight", "overhand", "butterfly", "clove hitch", "stone hitch"]
Stoppers = Annotated[tuple[EndRef, ...], Field(max_length=4)]
JoinKnot = Literal["flat overhand", "flat overhand, second behind", "flat figure eight", "opposed overhand"]
Tails = Annotated[Figure, within(0.02, 5, "m", "the join's tails")]


class Doubled(M):
    """One rope, its middle at the ring, both strands ridden."""

    kind: Literal["doubled"]
    rope: Id
    middle_by: Literal["mark", "ends run together"]
    pulled_end: RopeEnd
    stoppers: Stoppers = ()


class Joined(M):
    """Two ropes tied together at the ring, both ridden. ``through`` runs through the ring; the join lies on
    the side of ``other``. ``pulled``: which of them is to be pulled. ``through_end`` and ``other_end`` are the ends
    that hang down. ``slips_kn``: where the party has tested its own join."""

    kind: Literal["joined"]
    through: Id
    through_end: RopeEnd
    other: Id
    other_end: RopeEnd
    pulled: Literal["other", "through"] = "other"
    knot: JoinKnot = "flat overhand"
    tails_m: Tails
    slips_kn: Capacity = Unknown(kind="unknown", why="no pull test of the party's own")
    stoppers: Stoppers = ()


class TiedOn(M):
    """A second rope tied to the lower end of a ride strand: everyone passes the join. ``end``: of the second rope, the
    one that hangs down."""

    rope: Id
    end: RopeEnd = "b"
    knot: JoinKnot = "flat overhand, second behind"
    tails_m: Tails = Known(kind="known", value=0.3, method="given")
    slips_kn: Capacity = Unknown(kind="unknown", why="no pull test of the party's own")


class BlockedSame(M):
    """One rope: a block against the ring, one strand ridden, the rest of the same rope pulled. ``block_on``: the side
    of the ring that the block lies on; it holds a rider only from the pull strand."""

    kind: Literal["blocked, same rope"]
    rope: Id
    ridden_end: RopeEnd
    ride_m: RideLength
    block: BlockKind
    block_on: Literal["pull", "ride"] = "pull"
    carabiner: Flag
    block_holds: Capacity = Unknown(kind="unknown", why="not tested")
    tied_on: TiedOn | None = None
    stoppers: Stoppers = ()


class BlockedCord(M):
    """A rope blocked at the ring and ridden single, a cord joined above the block to pull it."""

    kind: Literal["blocked, pull cord"]
    rope: Id
    ridden_end: RopeEnd
    cord: Id
    cord_end: RopeEnd
    knot: JoinKnot = "flat overhand"
    tails_m: Tails
    slips_kn: Capacity = Unknown(kind="unknown", why="no pull test of the party's own")
    block: BlockKind
    block_on: Literal["pull", "ride"] = "pull"
    carabiner: Flag
    block_holds: Capacity = Unknown(kind="unknown", why="not tested")
    tied_on: TiedOn | None = None
    stoppers: Stoppers = ()


TieOff = Literal["munter-mule-overhand", "figure-eight device mule"]


class Releasable(M):
    """A rope tied off so that it can be let out under load, one strand ridden, the rest in reserve at the top; it
    serves the party and is converted for the last person. ``reserve_rope``: a second rope joined on behind the reserve,
    by which end and knot.
    """

    kind: Literal["releasable"]
    rope: Id
    ridden_end: RopeEnd
    ride_m: RideLength
    tie_off: TieOff
    reserve_rope: Id | None = None
    reserve_end: RopeEnd = "a"
    reserve_knot: JoinKnot = "opposed overhand"
    tied_on: TiedOn | None = None
    stoppers: Stoppers = ()


class ElasticRelease(M):
    """A rope tied to a device that lets go after it is loaded and unloaded often enough; one strand ridden, nothing
    pulled."""

    kind: Literal["elastic-release device"]
    rope: Id
    ridden_end: RopeEnd
    device: Id
    stoppers: Stoppers = ()


class Bights(M):
    """A chain of alternating bights at the anchor, of one rope's two strands or of two ropes: one strand is ridden, the
    other undoes the bights in turn. ``middle_by``: how the middle of one rope is found. ``clipped``: a carabiner holds
    the last bight to the ride strand for all but the last.
    """

    kind: Literal["alternating bights"]
    rope: Id
    ridden_end: RopeEnd
    other: Id | None = None
    other_end: RopeEnd = "b"
    middle_by: Literal["mark", "ends run together"] = "mark"
    bights: Annotated[Figure, within(1, 20, "", "a count of bights"), AfterValidator(whole_count)]
    last_on: Literal["pull", "ride"] = "pull"
    last_m: Annotated[Figure, within(0.02, 3, "m", "the last bight")]
    clipped: Flag = True
    block_holds: Capacity = Unknown(kind="unknown", why="not tested")
    stoppers: Stoppers = ()


class Lowered(M):
    """People are lowered on a rope by a belayer, who stands at the anchor or at the landing; it serves the party and is
    converted for the last person. ``far_end_closed``: the belayer's end is knotted or tied in. ``top``: whoever is up
    there has climbed on this rope, threads it through the ring and is lowered from below, and nobody is left: with a
    bight passed through, or with the end untied, passed through and tied again."""

    kind: Literal["lowered"]
    rope: Id
    end: RopeEnd
    belayer: Literal["above", "below"] = "above"
    far_end_closed: Flag = False
    top: Literal["no", "bight through", "end re-tied"] = "no"
    stoppers: Stoppers = ()

    @property
    def from_top(self) -> bool:
        """Whether it is a single pitch to be lowered from its top."""
        return self.top != "no" and self.belayer == "below"


class NoSystem(M):
    """No rope system chosen yet."""

    kind: Literal["none"]


System = Annotated[
    Doubled | Joined | BlockedSame | BlockedCord | Releasable | ElasticRelease | Bights | Lowered | NoSystem,
    Field(discriminator="kind"),
]
# All but the one that is not chosen yet; those that join two ropes by a knot; those with a block.
Rigged = Doubled | Joined | BlockedSame | BlockedCord | Releasable | ElasticRelease | Bights | Lowered
Joining = Joined | BlockedCord | TiedOn
Blocking = BlockedSame | BlockedCord
_SYSTEM: TypeAdapter[System] = TypeAdapter(System)


def read_system(data: dict[str, Any]) -> System:
    """A rope system from plain data.

    data: as in a plan's file
    returns: the system
    raises: ValidationError if it is none
    Source: none, reading.
    """
    return _SYSTEM.validate_python(data)
