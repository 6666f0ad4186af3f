"""First and last light at a place and date, by the clock of its time zone."""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache, lru_cache
from itertools import pairwise
from typing import Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from astral import Observer
from astral.sun import elevation

from reamer.core.model import Plan, Whereabouts

DAY = 24 * 60.0
NOON = 12 * 60.0
# The sun's upper rim at the horizon, with the refraction there; civil twilight. HB, from memory.
RIM_DEG, CIVIL_DEG = -0.833, -6.0
# How far from the date's midnight is looked, and how often [min].
LOOKED, EVERY = (-36 * 60, 84 * 60), 20
# No night is taken to last longer after a start where nothing is known of the light [min].
MOST_NIGHT = 12 * 60.0
# The almanac's formulas hold for about so long.
YEARS = (1900, 2100)
# A clock so far from the sun [h], and a station so far from the day's place [km], is a slip.
MOST_OFF_H, MOST_AWAY_KM = 3.5, 100.0


@dataclass(frozen=True, slots=True)
class Daylight:
    """The light round a start, in minutes from the date's midnight by the clock there; a time after midnight is past
    1440.

    kind: an ordinary day, one on which the sun does not set, or one on which it does not rise; ``why`` it is unknown
    first: the sunrise before the start, or after it where it is dark then; last: the first sunset after the start;
    next_first: the sunrise after that; civil_first, civil_last: civil dawn and dusk, None where the night stays light,
    of a night without end what twilight there is
    """

    kind: Literal["day", "sun does not set", "sun does not rise", "unknown"]
    first: float | None = None
    last: float | None = None
    next_first: float | None = None
    civil_first: float | None = None
    civil_last: float | None = None
    why: str = ""


@dataclass(frozen=True, slots=True)
class Crossings:
    """When the sun comes up over a height and goes down below it, in minutes by the clock; ``above``: where it is
    before all of them."""

    above: bool
    at: tuple[float, ...]

    def up(self, m: float) -> bool:
        """Whether the sun is above it at a moment."""
        return self.above != bool(sum(x <= m for x in self.at) % 2)

    def _of(self, rising: bool) -> tuple[float, ...]:
        return self.at[(self.above == rising) :: 2]

    def after(self, m: float, rising: bool) -> float | None:
        """The first time after a moment that it comes up, or goes down."""
        return next((x for x in self._of(rising) if x > m), None)

    def before(self, m: float, rising: bool) -> float | None:
        """The last time that it came up, or went down, up to a moment."""
        return next((x for x in reversed(self._of(rising)) if x <= m), None)


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


def far_off(on: dt.date) -> bool:
    """Whether a date is too far off for anything to be said of its light.

    on: the date
    returns: whether it is
    Source: J, our judgement.
    """
    return not YEARS[0] <= on.year <= YEARS[1]


def zone_at(latitude_deg: float, longitude_deg: float) -> str:
    """The time zone in which a place lies, to be proposed: along a border the other may be meant.

    latitude_deg, longitude_deg: of the place, WGS 84
    returns: its IANA name, "" where none is known
    Source: the boundaries of the package timezonefinder.
    """
    # Loaded when a place has no zone yet: its boundaries are large.
    from timezonefinder import timezone_at

    return str(timezone_at(lat=latitude_deg, lng=longitude_deg) or "")


def daylight(spot: Whereabouts | None, on: dt.date | None, start: float | None = None) -> Daylight:
    """Sunrise and sunset, the sun's upper rim at the horizon (its centre at −0.833°), and civil twilight (−6°), round
    a start, whatever date they fall on.

    spot: latitude and longitude [°], time zone; on: the date there; start: by the clock there [min], noon where unknown
    returns: the light, or why it is not known
    Source: HB, the astronomical almanac's definitions, from memory; the sun's height by the package astral.
    """
    if spot is None or on is None:
        return Daylight("unknown", why="the plan has no date" if on is None else "the plan has no place on the map")
    if far_off(on):
        return Daylight("unknown", why=f"nobody knows the light of the year {on.year}")
    zone, lat, lon = zone_of(spot.zone), spot.latitude_deg, spot.longitude_deg
    if zone is None or lat is None or lon is None:
        blank = [
            k for k, said in (("latitude", lat), ("longitude", lon), ("time zone", spot.zone or None)) if said is None
        ]
        told = f"nobody has said the {' and the '.join(blank)} of its place" if blank else ""
        return Daylight("unknown", why=told or f"there is no time zone “{spot.zone}”")
    rim, civil = _crossings(lat, lon, zone, on)
    at = NOON if start is None else start
    return _dark(civil, at) if _stays_down(rim, at) else _light(rim, civil, at)


def _stays_down(rim: Crossings, at: float) -> bool:
    up = rim.after(at, True)
    return not rim.up(at) and (up is None or up > at + DAY)


def _light(rim: Crossings, civil: Crossings, at: float) -> Daylight:
    """The light where the sun is up, or comes up within a day."""
    first = rim.before(at, True) if rim.up(at) else rim.after(at, True)
    last = rim.after(at, False)
    stays = rim.up(at) and (last is None or last > at + DAY)
    then = None if last is None else rim.after(last, True)
    dawn = None if first is None else civil.before(first, True)
    set_before = None if first is None else rim.before(first - 1e-6, False)
    if dawn is not None and set_before is not None and dawn < set_before:
        dawn = None
    dusk = None if last is None else civil.after(last, False)
    if dusk is not None and then is not None and dusk > then:
        dusk = None
    return Daylight("sun does not set" if stays else "day", first, last, then, dawn, dusk)


def _dark(civil: Crossings, at: float) -> Daylight:
    """What twilight there is within a day where the sun stays down."""
    dawn = civil.before(at, True) if civil.up(at) else civil.after(at, True)
    if dawn is None or dawn > at + DAY:
        return Daylight("sun does not rise")
    return Daylight("sun does not rise", civil_first=dawn, civil_last=civil.after(max(dawn, at), False))


@lru_cache(maxsize=200)
def _crossings(latitude_deg: float, longitude_deg: float, zone: ZoneInfo, on: dt.date) -> tuple[Crossings, Crossings]:
    """When the sun crosses the horizon and the height of civil twilight round a date, worked out once. The package's
    own sunrise and sunset are asked by date: an evening whose sunset falls after midnight has none of its own."""
    observer = Observer(latitude_deg, longitude_deg)
    midnight = dt.datetime.combine(on, dt.time(), zone)
    since = midnight.astimezone(dt.UTC)

    @cache
    def high(m: float) -> float:
        return elevation(observer, since + dt.timedelta(minutes=m), with_refraction=False)

    def by_clock(m: float) -> float:
        there = (since + dt.timedelta(minutes=m)).astimezone(zone)
        return (there.replace(tzinfo=None) - midnight.replace(tzinfo=None)).total_seconds() / 60

    def crossed(height_deg: float) -> Crossings:
        above, at = _crossed(lambda m: high(m) - height_deg)
        return Crossings(above, tuple(map(by_clock, at)))

    return crossed(RIM_DEG), crossed(CIVIL_DEG)


def _crossed(over: Callable[[float], float]) -> tuple[bool, list[float]]:
    """Whether something is above nought to begin with, and when it changes its sign [min]."""
    looked = [float(m) for m in range(LOOKED[0], LOOKED[1] + 1, EVERY)]
    # Where it is highest or lowest it may come over the height, or below it, between two looks.
    turns = (
        _turn(over, a, c)
        for a, b, c in zip(looked, looked[1:], looked[2:], strict=False)
        if abs(over(b)) < 1 and (over(b) - over(a)) * (over(b) - over(c)) >= 0
    )
    every = sorted({*looked, *turns})
    return over(every[0]) > 0, [_between(over, a, b) for a, b in pairwise(every) if (over(a) > 0) != (over(b) > 0)]


def _turn(over: Callable[[float], float], low: float, high: float) -> float:
    """Where something that turns once between two moments is highest or lowest, to a second."""
    sign = 1 if over((low + high) / 2) > over(low) else -1
    while high - low > 1 / 60:
        a, b = low + (high - low) / 3, high - (high - low) / 3
        low, high = (a, high) if sign * over(a) < sign * over(b) else (low, b)
    return (low + high) / 2


def _between(over: Callable[[float], float], low: float, high: float) -> float:
    """Where something that changes its sign between two moments does so, to a second."""
    while high - low > 1 / 60:
        middle = (low + high) / 2
        low, high = (middle, high) if (over(middle) > 0) == (over(low) > 0) else (low, middle)
    return (low + high) / 2


def contradiction(plan: Plan, light: Daylight, start: float | None) -> tuple[str, str]:
    """What of the day's own figures cannot be: a clock far from the sun, stations far away, a last light in the dark.

    plan: the plan; light: of its day; start: its start [min]
    returns: why not, and which field settles it; both "" where nothing is
    Source: J, our judgement.
    """
    spot = plan.spot or Whereabouts()
    zone, lat, lon = zone_of(spot.zone), spot.latitude_deg, spot.longitude_deg
    if zone is not None and lon is not None and plan.on is not None:
        noon = dt.datetime.combine(plan.on, dt.time(12), zone)
        standard = ((noon.utcoffset() or dt.timedelta()) - (noon.dst() or dt.timedelta())).total_seconds() / 3600
        off = abs(standard - lon / 15) % 24
        if min(off, 24 - off) > MOST_OFF_H:
            along = f"{abs(lon):g}° {'east' if lon >= 0 else 'west'}"
            return f"the clock of {spot.zone} is not that of a place at {along}", "spot"
    if lat is not None and lon is not None:
        for drop in plan.drops:
            if drop.position is not None and (away := drop.position.km_to(lat, lon)) > MOST_AWAY_KM:
                return f"{drop.name} lies {away:.0f} km from the place of the day", "spot"
    own = _own(plan, light, start)
    return own, "last_light" if own else ""


def _own(plan: Plan, light: Daylight, start: float | None) -> str:
    """Why the plan's own last light cannot be one."""
    given = own_last_light(plan, start)
    if given is None:
        return ""
    own = f"the plan's own last light, {plan.last_light},"
    if light.kind == "unknown":
        late = start is not None and given - start > MOST_NIGHT and given >= DAY
        return f"{own} is before the start, and past the night after it" if late else ""
    if light.civil_last is not None and given > light.civil_last:
        return f"{own} is after civil dusk at {clock(light.civil_last)}"
    if light.next_first is not None and given > light.next_first:
        return f"{own} is after the sunrise of the day after"
    return ""


def own_last_light(plan: Plan, start: float | None) -> float | None:
    """The plan's own last light; one before the start is read as past midnight.

    plan: the plan; start: its start [min]
    returns: from the date's midnight [min], None where it has none
    Source: J, our judgement.
    """
    given = from_clock(plan.last_light)
    return given if given is None or start is None or given >= start else given + DAY


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
