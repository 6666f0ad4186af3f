"""How a station is tied: round a post, on one anchor, on several points, on two posts; and the links between."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from reamer.core.plan.features import ClosedBy
from reamer.core.plan.figures import (
    Extension,
    Figure,
    Flag,
    Gain,
    Id,
    Known,
    LegAngle,
    LinkReach,
    M,
    Offset,
    Unknown,
    unique,
    within,
)

PatternName = Literal[
    "simple wrap",
    "simple wrap, overhand",
    "frost knot",
    "wrap two, pull one",
    "wrap three, pull two",
    "redundant wrap two, pull one",
    "redundant wrap, quick tie",
    "basket",
    "redundant basket",
    "girth hitch",
    "threaded eye",
    "re-threaded overhand",
]
Loaded = Literal["long axis", "cross", "gate open", "unknown"]
SlingUse = Literal["straight", "overhand", "basket", "basket double", "shortened", "girth"]


class SlingLink(M):
    """A sewn sling between the anchor and the ring, and how it is rigged. ``angle_deg``: between a basket's legs."""

    kind: Literal["sling"]
    id: Id
    sling: Id
    use: SlingUse
    angle_deg: LegAngle = Unknown(kind="unknown", why="not measured")
    reach_m: LinkReach


class RingLink(M):
    """A connector between the anchor and the ring, and how it is loaded. ``stacked``: it hangs beside the ring and the
    rope runs through both, so that either alone holds."""

    kind: Literal["connector"]
    id: Id
    ring: Id
    loaded: Loaded = "unknown"
    stacked: Flag = False
    reach_m: LinkReach


class WebbingLink(M):
    """Webbing doubled between two overhands, to carry the ring further, as over an edge for the last person. ``same``:
    it is the wrap's own webbing, re-threaded and long enough, not a second piece."""

    kind: Literal["webbing"]
    id: Id
    webbing: Id
    same: Flag = False
    reach_m: LinkReach


Link = Annotated[SlingLink | RingLink | WebbingLink, Field(discriminator="kind")]
Links = Annotated[tuple[Link, ...], Field(max_length=6)]


class Wrap(M):
    """Webbing, or a sewn sling, round a post. ``gain_m``: from the post's near face to the focal point, where the ring
    hangs unless a single strand extends the tie by ``extension_m`` (re-threaded overhand) or links follow."""

    kind: Literal["wrap"]
    post: Id
    pattern: PatternName
    webbing: Id
    ring: Id
    gain_m: Gain
    bend_at: Literal["leg", "side", "back"]
    extension_m: Extension = Unknown(kind="unknown", why="no extension")
    links: Links = ()
    ring_loaded: Loaded = "unknown"


class Direct(M):
    """A ring on a rated anchor or an ice thread, with links between them or none. Without a ring the rope runs straight
    round a tree, or through a thread or textile."""

    kind: Literal["direct"]
    anchor: Id
    ring: Id | None
    gain_m: Gain
    links: Links = ()
    ring_loaded: Loaded = "unknown"


class Leg(M):
    """One point of an anchor of several and what joins it to the focal point: two strands of webbing, a sewn sling or
    cord, or a chain. Its place: out toward the edge, aside to the left as one looks out, up. ``closed_by``: the knot
    that closes its loop; ``lies``: how a carabiner or link in it is loaded."""

    id: Id
    anchor: Id
    of: Id
    closed_by: ClosedBy = "usual"
    lies: Loaded = "unknown"
    out_m: Offset
    aside_m: Offset
    up_m: Offset


class Several(M):
    """Several points drawn together to one focal point: tied there (knotted), each with a loop of its own, unknotted,
    clipped to the ring (clipped), sliding, or sliding between limiting knots that let it go ``slack_m`` further. The
    pull: ``down_deg`` below level and ``aside_deg`` to the left; unknown means as the rope runs."""

    kind: Literal["several"]
    legs: Annotated[tuple[Leg, ...], Field(min_length=2, max_length=8)]
    focal: Literal["knotted", "sliding", "limited", "clipped"] = "knotted"
    knot: Literal["overhand", "figure eight", "bowline on a bight"] = "overhand"
    slack_m: Annotated[Figure, within(0, 2, "m", "the limiting knots' slack")] = Unknown(
        kind="unknown", why="no limiting knots"
    )
    out_m: Annotated[Figure, within(0.02, 30, "m", "the focal point's place")]
    aside_m: Offset
    up_m: Offset
    down_deg: Annotated[Figure, within(-60, 90, "°", "the pull's angle")] = Unknown(
        kind="unknown", why="as the rope runs"
    )
    aside_deg: Annotated[Figure, within(-90, 90, "°", "the pull's angle")] = Known(
        kind="known", value=0, method="given"
    )
    swing_deg: Annotated[Figure, within(0, 60, "°", "the swing")] = Known(kind="known", value=15, method="given")
    ring: Id
    links: Links = ()
    ring_loaded: Loaded = "unknown"

    @model_validator(mode="after")
    def _apart(self) -> Several:
        unique((leg.id for leg in self.legs), "legs", "id")
        unique((leg.anchor for leg in self.legs), "legs", "anchor")
        return self


class TwoPosts(M):
    """One band round two posts, four strands tied in one overhand; each post is held by two strands.
    ``angle_deg``: between the two posts' lines at the focal point; ``first_gain_m``, ``second_gain_m``: from each
    post's near face to it."""

    kind: Literal["two posts"]
    first: Id
    second: Id
    webbing: Id
    ring: Id
    first_gain_m: Gain
    second_gain_m: Gain
    angle_deg: LegAngle
    swing_deg: Annotated[Figure, within(0, 60, "°", "the swing")] = Known(kind="known", value=15, method="given")
    links: Links = ()
    ring_loaded: Loaded = "unknown"


class NoRig(M):
    """No anchor chosen yet."""

    kind: Literal["none"]


Rig = Annotated[Wrap | Direct | Several | TwoPosts | NoRig, Field(discriminator="kind")]


def tied_to(rig: Rig) -> list[str]:
    """The features that a rig is tied to.

    rig: any
    returns: their ids, in order, each once
    Source: none, a look-up.
    """
    match rig:
        case Wrap():
            return [rig.post]
        case Direct():
            return [rig.anchor]
        case Several():
            return list(dict.fromkeys(leg.anchor for leg in rig.legs))
        case TwoPosts():
            return list(dict.fromkeys((rig.first, rig.second)))
        case NoRig():
            return []
