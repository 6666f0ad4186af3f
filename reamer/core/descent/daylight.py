"""First and last light at a place and date, by the clock of its time zone."""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from astral import Observer
from astral.sun import dawn, dusk, elevation, noon, sunrise, sunset

from reamer.core.model import Whereabouts

DAY = 24 * 60.0


@dataclass(frozen=True, slots=True)
class Daylight:
    """The light of a day in minutes from midnight by the clock there; a time after midnight is past 1440.

    kind: an ordinary day, one on which the sun does not set, or one on which it does not rise; ``why`` it is unknown
    first, last: sunrise and sunset; civil_first, civil_last: civil dawn and dusk, None where the night stays light
    """

    kind: Literal["day", "sun does not set", "sun does not rise", "unknown"]
    first: float | None = None
    last: float | None = None
    civil_first: float | None = None
    civil_last: float | None = None
    why: str = ""


def zone_of(name: str) -> ZoneInfo | None:
    """A time zone by its IANA name.

    name: as in Europe/Oslo
    returns: the zone, None if there is none of this name
    Source: the IANA time zone database.
    """
    try:
        return ZoneInfo(name) if name else None
    except (ZoneInfoNotFoundError, ValueError, OSError):
        return None


def daylight(spot: Whereabouts | None, on: dt.date | None) -> Daylight:
    """Sunrise and sunset, the sun's upper rim at the horizon (its centre at −0.833°), and civil twilight (−6°).

    spot: latitude and longitude [°], time zone; on: the date there
    returns: the day's light, or why it is not known
    Source: HB, the astronomical almanac's definitions, from memory; worked out by the package astral.
    """
    if spot is None or on is None:
        return Daylight("unknown", why="the plan has no date" if on is None else "the plan has no place on the map")
    zone = zone_of(spot.zone)
    if zone is None:
        told = f"there is no time zone “{spot.zone}”" if spot.zone else "nobody has said in which time zone it is"
        return Daylight("unknown", why=told)
    return _light(spot.latitude_deg, spot.longitude_deg, zone, on)


@lru_cache(maxsize=200)
def _light(latitude_deg: float, longitude_deg: float, zone: ZoneInfo, on: dt.date) -> Daylight:
    """The same, worked out once."""
    at = Observer(latitude_deg, longitude_deg)

    def minutes(of: Callable[..., dt.datetime]) -> float | None:
        # Asked one by one: where the sun never sinks to −6° there is still a sunset.
        try:
            when = of(at, date=on, tzinfo=zone)
        except ValueError:
            return None
        midnight = dt.datetime.combine(on, dt.time(), zone)
        return (when - midnight).total_seconds() / 60

    first, last = minutes(sunrise), minutes(sunset)
    if first is None and last is None:
        high = elevation(at, noon(at, date=on, tzinfo=zone))
        return Daylight("sun does not set" if high > -0.833 else "sun does not rise")
    # A sunset after midnight belongs to this evening, a sunrise before it to this morning.
    if first is not None and last is not None and last < first:
        last += DAY
    before, then = minutes(dawn), minutes(dusk)
    if then is not None and last is not None and then < last:
        then += DAY
    if before is not None and first is not None and before > first:
        before -= DAY
    return Daylight("day", first, last, before, then)


def clock(minutes: float) -> str:
    """A time of day in words.

    minutes: from midnight
    returns: as 13:05, with the day after said
    Source: none, text only.

    >>> clock(785), clock(1475)
    ('13:05', '00:35 the day after')
    """
    whole = round(minutes)
    days, rest = divmod(whole, int(DAY))
    more = {0: "", 1: " the day after", -1: " the day before"}.get(days, f" {days} days on")
    return f"{rest // 60:02d}:{rest % 60:02d}{more}"


def from_clock(text: str | None) -> float | None:
    """Minutes from midnight of a time of day.

    text: as 09:30, or None
    returns: minutes, None for None
    Source: none, text only.
    """
    return None if text is None else int(text[:2]) * 60.0 + int(text[3:])
