"""What makes drops one descent: where and when, the ways between them and off them, what is to be met, who carries
what."""

from __future__ import annotations

import math
import re
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, StringConstraints, model_validator
from pydantic_core import PydanticCustomError

from reamer.core.plan.figures import Figure, Flag, Id, Line, M, Name, Num, Tri, Unknown, whole_count, within


def _clock(text: str) -> str:
    if not re.fullmatch(r"([01]\d|2[0-3]):[0-5]\d", text):
        raise PydanticCustomError("clock", "a time of day is written as 09:30")
    return text


Clock = Annotated[str, StringConstraints(max_length=5), AfterValidator(_clock)]
Minutes = Annotated[Figure, within(0, 1440, "min", "a time")]


class Whereabouts(M):
    """Where the descent is, for its daylight; None for what nobody has said. ``zone``: the IANA name of its time zone,
    "" if nobody has said."""

    latitude_deg: Annotated[Num, Field(ge=-90, le=90)] | None = None
    longitude_deg: Annotated[Num, Field(ge=-180, le=180)] | None = None
    zone: Annotated[Line, StringConstraints(max_length=60, pattern=r"^[A-Za-z0-9_+\-/]*$")] = ""


class Position(M):
    """A place on the earth, WGS 84; ``elevation_m``: above the sea, None where it was not noted."""

    latitude_deg: Annotated[Num, Field(ge=-90, le=90)]
    longitude_deg: Annotated[Num, Field(ge=-180, le=180)]
    elevation_m: Annotated[Num, Field(ge=-500, le=9000)] | None = None

    def km_to(self, latitude_deg: float, longitude_deg: float) -> float:
        """How far another place is over a globe of 6,371 km, by the haversine [km]."""
        up, along = math.radians(latitude_deg - self.latitude_deg), math.radians(longitude_deg - self.longitude_deg)
        cos = math.cos(math.radians(self.latitude_deg)) * math.cos(math.radians(latitude_deg))
        share = math.sin(up / 2) ** 2 + cos * math.sin(along / 2) ** 2
        return 2 * 6371 * math.asin(min(1.0, math.sqrt(share)))


MOST_TRACK = 1000


class Onward(M):
    """A stretch from a landing to the next station, or a halt on it. ``minutes``: as it takes the whole party; unknown
    means by its length. ``helped_by``: who helps the others on it."""

    id: Id
    kind: Literal["walk", "scramble", "wade", "swim", "halt"]
    length_m: Annotated[Figure, within(0, 20000, "m", "the way to the next station")] = Unknown(
        kind="unknown", why="not measured"
    )
    minutes: Minutes = Unknown(kind="unknown", why="not timed")
    helped_by: Id | None = None


class Escape(M):
    """A way off the descent at a landing: where to, how long it takes, and whether it is known to go."""

    to: Name
    minutes: Minutes = Unknown(kind="unknown", why="not timed")
    goes: Tri = "unknown"


class Contingencies(M):
    """What the ropes that are carried must meet besides the descent itself. ``lost``: any one rope is gone once the
    last is down somewhere; ``stuck``: every rope in use there is; ``lower``: a lower from anywhere where a novice
    rides; ``spare``: the longest drop without any one of its ridden ropes; ``two_sets``: one station is rigged while
    the one above is still in use."""

    lost: Flag = True
    stuck: Flag = True
    lower: Flag = False
    spare: Flag = False
    two_sets: Flag = False


class Watch(M):
    """A guide's own limits of water and weather for one station, at a gauge: the level below which it is gone on, the
    level, rate of rise and rain from which it is turned back; None: no such limit."""

    go_below_m: Annotated[Num, Field(ge=-20, le=100)] | None = None
    turn_back_m: Annotated[Num, Field(ge=-20, le=100)] | None = None
    turn_back_rise_m_h: Annotated[Num, Field(gt=0, le=20)] | None = None
    turn_back_rain_mm_h: Annotated[Num, Field(ge=0, le=500)] | None = None

    @model_validator(mode="after")
    def _ordered(self) -> Watch:
        if self.go_below_m is not None and self.turn_back_m is not None and self.go_below_m > self.turn_back_m:
            raise PydanticCustomError(
                "range",
                "it is gone on below {low} m, which lies above {high} m, from where it is turned back",
                {"where": "go_below_m", "low": f"{self.go_below_m:g}", "high": f"{self.turn_back_m:g}"},
            )
        return self


class Borne(M):
    """Who carries one thing. ``what``: its key in the list of what is carried."""

    what: Annotated[Line, StringConstraints(min_length=1, max_length=80)]
    by: Id


class Carry(M):
    """What is carried. ``ropes``: their ids, None means those that the stations use; ``rings``: connectors to leave
    behind that come besides those of the stations, ``cord_m``: likewise of cord; ``borne``: who carries what."""

    ropes: Annotated[tuple[Id, ...], Field(max_length=60)] | None = None
    rings: Annotated[Figure, within(0, 50, "", "a count of rings"), AfterValidator(whole_count)] = Unknown(
        kind="unknown", why="not counted"
    )
    cord_m: Annotated[Figure, within(0, 200, "m", "spare cord")] = Unknown(kind="unknown", why="not measured")
    borne: Annotated[tuple[Borne, ...], Field(max_length=200)] = ()
