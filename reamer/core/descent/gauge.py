"""A gauge's readings against a guide's own limits of water and weather."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from reamer.core.answer.say import Number, Quantity, Sentence, run_on
from reamer.core.model import Watch
from reamer.core.tables import row

Stands = Literal["go", "decide there", "not known", "turn back"]
ORDER: tuple[Stands, ...] = ("go", "decide there", "not known", "turn back")
MOST_POINTS = 60


@dataclass(frozen=True, slots=True)
class Reading:
    """What a gauge read: when, the level over its zero [m], rain [mm/h]; None for what it does not say."""

    at: dt.datetime
    level_m: float | None
    rain_mm_h: float | None


@dataclass(frozen=True, slots=True)
class Flow:
    """What a gauge says now: the level and rain that count, the highest of the last three readings; the rate of rise
    [m/h], how fast it may be at the most; None where it is not known; how old the last reading is [min]."""

    level: Number | None
    rain: Number | None
    rise: Number | None
    most_rise: Number | None
    age_min: Number | None
    why: str


@dataclass(frozen=True, slots=True)
class Limited:
    """How the water stands against one station's limits, and in words why."""

    drop: str
    stands: Stands
    said: Sentence


def flow_now(readings: Sequence[Reading], now: dt.datetime) -> Flow:
    """What a gauge says now.

    readings: in any order; now: the time
    returns: the flow, unknown where the last reading is too old or of a time yet to come
    Source: J, table of times; the slope by Theil and Sen with its limits, 95 times in 100, of the package scipy: one
        wild reading does not turn it. A sudden rise is not hidden by the calm before it: the fastest of the whole
        window, its last part and its last minutes counts.
    """
    some = sorted(readings, key=lambda r: r.at)
    old = row("times", "gauge.old").low
    last = [r for r in some if r.at <= now + dt.timedelta(minutes=1)][-3:]
    if not last:
        return Flow(None, None, None, None, None, "no reading")
    age = max(0.0, (now - last[-1].at).total_seconds() / 60)
    told = Number(age, "minutes", "up")
    if age > old:
        return Flow(None, None, None, None, told, "the last reading is too old")
    fresh = [r for r in last if (now - r.at).total_seconds() <= 60 * old]
    levels, rains = ([getattr(r, k) for r in fresh] for k in ("level_m", "rain_mm_h"))
    # The last of the three must say something: what it no longer measures is not known.
    level = Number(max(x for x in levels if x is not None), "fine length", "up") if levels[-1] is not None else None
    rain = Number(max(x for x in rains if x is not None), "rain", "up") if rains[-1] is not None else None
    slope = _slope([r for r in some if r.at <= last[-1].at and r.level_m is not None]) if level is not None else None
    if slope is None:
        return Flow(level, rain, None, None, told, "")
    return Flow(level, rain, Number(slope[0], "rise"), Number(slope[1], "rise", "up"), told, "")


def _slope(readings: Sequence[Reading]) -> tuple[float, float] | None:
    """The rate of rise and its high limit [m/h]; None where the readings span too little."""
    window = row("times", "gauge.window")
    if not readings:
        return None
    end = readings[-1].at
    inside = [r for r in readings if (end - r.at).total_seconds() <= 60 * window.high]
    if (end - inside[0].at).total_seconds() < 60 * window.low or len(inside) < 5:
        return None
    whole = _fitted(inside)
    sudden = row("times", "gauge.sudden").low
    parts = [[r for r in inside if (end - r.at).total_seconds() <= 60 * m] for m in (window.low, sudden)]
    fastest = max([whole[0], *(_fitted(p)[0] for p in parts if len(p) >= 4)])
    return fastest, max(whole[1], fastest)


def _fitted(readings: Sequence[Reading]) -> tuple[float, float]:
    """A slope and its high limit [m/h]."""
    # Loaded when a gauge is heard: it takes its time.
    from scipy.stats import theilslopes

    step = max(1, len(readings) // MOST_POINTS)
    thin = readings[::-step][::-1]
    hours = [(r.at - thin[-1].at).total_seconds() / 3600 for r in thin]
    fitted = theilslopes([r.level_m for r in thin], hours)
    return float(fitted.slope), float(fitted.high_slope)


def limited(drop: str, watch: Watch, flow: Flow) -> Limited:
    """How the water stands against one station's limits: the worst of what each limit says.

    drop: its id; watch: the limits; flow: what the gauge says
    returns: go, decide there, not known, or turn back; a limit that is reached counts
    Source: the guide's own limits.
    """
    told: list[tuple[Stands, Sentence]] = []

    def add(stands: Stands, words: str, **numbers: Number | None) -> None:
        told.append((stands, Sentence(words, {k: n for k, n in numbers.items() if n is not None})))

    back, go = watch.turn_back_m, watch.go_below_m
    if back is not None or go is not None:
        most = Number(back, "fine length") if back is not None else None
        least = Number(go, "fine length") if go is not None else None
        if flow.level is None:
            add("not known", "The level is not known.")
        elif back is not None and flow.level.value >= back:
            add("turn back", "Level {level}: turned back from {most}.", level=flow.level, most=most)
        elif go is not None and flow.level.value < go:
            add("go", "Level {level}, below {least}.", level=flow.level, least=least)
        elif go is not None:
            add("decide there", "Level {level}: gone on only below {least}.", level=flow.level, least=least)
        else:
            add("go", "Level {level}: turned back from {most}.", level=flow.level, most=most)
    for limit, now, words in (
        (
            watch.turn_back_rise_m_h,
            flow.most_rise,
            ("rate of rise", "Rising {now} at the most: turned back from {most}."),
        ),
        (watch.turn_back_rain_mm_h, flow.rain, ("rain", "Rain {now}: turned back from {most}.")),
    ):
        if limit is None:
            continue
        if now is None:
            add("not known", f"The {words[0]} is not known.")
        else:
            add("turn back" if now.value >= limit else "go", words[1], now=now, most=Number(limit, now.quantity))
    if not told:
        return Limited(drop, "not known", Sentence("No limits are set."))
    worst_first = sorted(told, key=lambda t: -ORDER.index(t[0]))
    return Limited(drop, worst_first[0][0], run_on(s for _, s in worst_first))


def said_of(watch: Watch) -> Sentence:
    """A station's limits in words, as a card has them.

    watch: the limits
    returns: the sentence
    Source: the guide's own limits.
    """
    parts: tuple[tuple[str, float | None, Quantity], ...] = (
        ("go below {a} at the gauge", watch.go_below_m, "fine length"),
        ("turn back from {b}", watch.turn_back_m, "fine length"),
        ("turn back rising {c}", watch.turn_back_rise_m_h, "rise"),
        ("turn back in rain of {d}", watch.turn_back_rain_mm_h, "rain"),
    )
    made = [(t, key, Number(v, q)) for (t, v, q), key in zip(parts, "abcd", strict=True) if v is not None]
    return Sentence(", ".join(t for t, _, _ in made), {key: n for _, key, n in made})
