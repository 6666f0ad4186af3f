"""The people of the party: how each is attached, and what grips the rope below their device."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator

from reamer.core.plan.figures import BodyMass, Figure, Flag, Id, Known, M, Name, Tri, Unknown, whole_count, within


class ThirdHand(M):
    """A loop of cord that grips the rope below the device. ``clipped_m``: where it is clipped, above the belay loop
    (below it: negative); ``carabiner_m``: the length of the carabiner that it hangs in."""

    loop: Id
    knot: Literal["autoblock", "klemheist"] = "autoblock"
    wraps: Annotated[Figure, within(1, 12, "", "a count of wraps"), AfterValidator(whole_count)] = Unknown(
        kind="unknown", why="not counted"
    )
    clipped_m: Annotated[Figure, within(-0.6, 1.5, "m", "where the third hand is clipped")] = Unknown(
        kind="unknown", why="not measured"
    )
    carabiner_m: Annotated[Figure, within(0.02, 0.3, "m", "a carabiner's length")] = Known(
        kind="known", value=0.10, method="given"
    )


AttachmentWay = Literal[
    "unknown",
    "climbing rope, clove hitch",
    "double-length nylon sling",
    "long HMPE sling, doubled",
    "sewn chain",
    "adjustable dynamic lanyard",
]


class Attachment(M):
    """How a person hangs from a station and where their device sits. ``device_m``: from the belay loop up to the
    device's lower edge, 0 at the belay loop; ``join_near``: the sewn join lies near the harness, out of the knot."""

    way: AttachmentWay = "unknown"
    device_m: Annotated[Figure, within(0, 2, "m", "how far up the device sits")] = Unknown(
        kind="unknown", why="not measured"
    )
    join_near: Tri = "unknown"


class Person(M):
    """Somebody in the party; weight with clothes, kit and a wet pack. ``hitch``: their third hand, None where they
    have none; ``alone``: whether they may be alone at a station or on the way, by their role unless somebody says;
    ``typical``: nobody has asked what they weigh."""

    id: Id
    name: Name
    role: Literal["guide", "second guide", "able", "novice"]
    mass_kg: BodyMass
    device: Id | None = None
    tether: Id | None = None
    hitch: ThirdHand | None = None
    attachment: Attachment = Attachment()
    alone: Literal["by role", "yes", "no"] = "by role"
    typical: Flag = False


def able(person: Person) -> bool:
    """Whether somebody may be first, last or alone.

    person: of the party
    returns: as somebody said, else everybody but a novice
    Source: P, common practice, no source.
    """
    return person.role != "novice" if person.alone == "by role" else person.alone == "yes"
