"""What is there to tie to: posts, rated anchors, ice threads."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator
from pydantic_core import PydanticCustomError

from reamer.core.plan.figures import (
    BoxSide,
    Capacity,
    Fibre,
    Figure,
    Flag,
    Girth,
    Id,
    M,
    Name,
    Range,
    Sharpness,
    Tri,
    Unknown,
    whole_count,
    within,
)


class Mass(M):
    """What a block, chockstone or dead-man holds by its weight alone: its box, its bed, and where the webbing pulls.
    ``slope_deg``: of its bed down toward the edge. ``height_m``: of the webbing above the base; ``depth_m``: of the
    base along the pull. Without these two it is not known whether it topples."""

    kind: Literal["mass"]
    long_m: BoxSide
    wide_m: BoxSide
    high_m: BoxSide
    bed: Literal["dry rock", "wet or loose", "ice or snow", "unknown"] = "unknown"
    slope_deg: Annotated[Figure, within(-30, 60, "°", "the slope of the bed")]
    under_water: Tri = "unknown"
    height_m: BoxSide
    depth_m: BoxSide

    @model_validator(mode="after")
    def _base_in_box(self) -> Mass:
        depth, long, wide = self.depth_m.known, self.long_m.known, self.wide_m.known
        if depth is None or long is None or wide is None or self.high_m.kind == "unknown":
            return self
        if depth > max(long, wide) + 1e-9:
            raise PydanticCustomError(
                "out_of_range",
                "its base cannot be {depth} m deep: its box is {long} by {wide} m",
                {"where": "depth_m", "depth": f"{depth:g}", "long": f"{long:g}", "wide": f"{wide:g}"},
            )
        return self


Holds = Annotated[Range | Unknown | Mass, Field(discriminator="kind")]


class Post(M):
    """A tree, boulder, horn or pillar that webbing goes round. What it holds is the guide's own judgement, or a block's
    weight on its bed. ``sharpness``: of its surface where the webbing sits. ``sound``: of a tree, alive, well rooted
    and its crown healthy. ``webbing_at``: high on it or low."""

    kind: Literal["post"]
    id: Id
    name: Name
    what: Literal["tree", "boulder", "horn", "pillar"]
    girth_m: Girth
    surface: Literal["bark", "rock"]
    sharpness: Sharpness = "unknown"
    holds: Holds
    sound: Tri = "unknown"
    webbing_at: Literal["low", "high", "unknown"] = "unknown"


class Rated(M):
    """An anchor whose strength is given, in kN, by somebody. ``in_place``: found there, not placed by this party.
    ``good_strands``: of textile found in place, or a thread, how many strands were looked at all round and found good;
    then ``holds`` is one strand's, unknotted and dry, of ``fibre`` and closed by ``knot``; of a thread of which nobody
    has counted them it is that of the whole. ``pieces``: side by side, joined
    so that ``holds`` is what is left with any one of them gone. ``typical``: ``holds`` is typical of its kind, and
    nobody has said that it is so of this one."""

    kind: Literal["rated"]
    id: Id
    name: Name
    what: Literal["bolt", "piton", "placed piece", "chain", "textile", "thread", "other"] = "other"
    holds: Capacity
    in_place: Tri = "unknown"
    good_strands: Annotated[Figure, within(0, 20, "", "a count of strands"), AfterValidator(whole_count)] = Unknown(
        kind="unknown", why="nobody has counted"
    )
    pieces: Annotated[int, Field(strict=True, ge=1, le=6)] = 1
    fibre: Fibre = "unknown"
    knot: Literal["sewn", "ring bend", "double fisherman's", "triple fisherman's", "overhand", "unknown"] = "unknown"
    typical: Flag = False


# The usual one is a ring bend in webbing and a double fisherman's in cord; in HMPE and aramid there is none that goes
# without saying.
ClosedBy = Literal["usual", "ring bend", "double fisherman's", "triple fisherman's", "overhand"]


class IceThread(M):
    """Two holes drilled to meet in ice, and what goes through them. ``cord``: a rope of the shed, tied in a loop; none
    for a rope-direct thread. The angles are those of the holes to the surface."""

    kind: Literal["ice thread"]
    id: Id
    name: Name
    screw_m: Annotated[Figure, within(0.05, 0.6, "m", "a screw's usable length")]
    spacing_m: Annotated[Figure, within(0.02, 1, "m", "the spacing of the holes")]
    first_deg: Annotated[Figure, within(5, 175, "°", "a hole's angle")]
    second_deg: Annotated[Figure, within(5, 175, "°", "a hole's angle")]
    ice: Literal["solid", "white, aerated", "unknown"] = "unknown"
    wet_cold: Tri = "unknown"
    cord: Id | None = None
    closed_by: ClosedBy = "usual"
    in_place: Tri = "no"
    seen_whole: Tri = "unknown"
    backed_up: Literal[
        "to the rope", "to the rope, slack", "to the rope, drawn tight", "to the cord", "no", "unknown"
    ] = "unknown"


Feature = Annotated[Post | Rated | IceThread, Field(discriminator="kind")]
