"""The people of the party."""

from __future__ import annotations

from typing import Literal

from reamer.core.plan.figures import BodyMass, Id, M, Name


class Person(M):
    """Somebody in the party; weight with clothes, kit and a wet pack."""

    id: Id
    name: Name
    role: Literal["guide", "second guide", "able", "novice"]
    mass_kg: BodyMass
    device: Id | None = None
    tether: Id | None = None
