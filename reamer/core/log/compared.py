"""A descent's log beside what the plan said then, with the act that corrects the survey."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.findings import Fix
from reamer.core.answer.say import Number, Sentence
from reamer.core.model import Known, Plan, Quick
from reamer.core.plan.edits import PLAN
from reamer.core.plan.log import LoggedStation, Trip, minutes_between

BANDS = ("easy", "firm", "hard", "stuck")


@dataclass(frozen=True, slots=True)
class Beside:
    """One figure of a station. ``off``: how far it was off, None where one side is not known; ``worse``: it was worse
    than planned; ``fix``: the act that corrects the survey."""

    what: str
    said: Sentence | None
    was: Sentence | None
    off: Sentence | None
    worse: bool
    fix: Fix | None = None


@dataclass(frozen=True, slots=True)
class StationBeside:
    """A station as it was beside what the plan said. ``number``: in the plan now, 0 where it is gone."""

    drop: str
    number: int
    station: str
    rows: tuple[Beside, ...]


def compared(plan: Plan, trip: Trip) -> tuple[StationBeside, ...]:
    """A descent's log beside what the plan said.

    plan: as it is now, for the acts that correct it; trip: the log
    returns: every station of which something was noted, in order
    Source: none, comparison.
    """
    made = []
    order = [d.id for d in plan.drops]
    after = {s.drop: t for s, t in zip(trip.stations, trip.stations[1:], strict=False)}
    for s in trip.stations:
        number = order.index(s.drop) + 1 if s.drop in order else 0
        rows = [r for r in (_height(plan, number, s, trip), _reach(s), _pull(s), *_times(s, after.get(s.drop))) if r]
        if rows or s.found or s.words.strip() or s.incident != "none":
            made.append(StationBeside(s.drop, number, s.station, tuple(rows)))
    return tuple(made)


def _height(plan: Plan, number: int, s: LoggedStation, trip: Trip) -> Beside | None:
    if not isinstance(s.height, Known):
        return None
    was, said = s.height.value, s.said.height_m
    fix = None
    figure = s.height.model_copy(update={"on": s.height.on or trip.on})
    if number:
        section = plan.drops[number - 1].section
        if isinstance(section, Quick) and section.height_m != figure:
            place = PLAN.at(lambda p: p.drops[number - 1].section).of(Quick).at(lambda q: q.height_m)
            label = Sentence("Take {m} into the survey", {"m": Number(was, "length")})
            fix = Fix(label, (place.set(figure),))
    told = Sentence("{m} by {how}", {"m": Number(was, "length")}, {"how": s.height.method})
    off, worse = None, False
    planned = None
    if said is not None:
        planned = Sentence("{m}", {"m": Number(said, "length")})
        worse = was > said
        off = Sentence("{m} longer" if worse else "{m} shorter", {"m": Number(abs(was - said), "length")})
        off = off if was != said else Sentence("the same")
    return Beside("height", planned, told, off, worse, fix)


def _reach(s: LoggedStation) -> Beside | None:
    if s.reached == "unknown":
        return None
    said = None
    if s.said.spare_m is not None:
        over = s.said.spare_m >= 0
        spare = Number(abs(s.said.spare_m), "length", "down" if over else "up")
        said = Sentence("{m} to spare" if over else "{m} short", {"m": spare})
    by = "" if s.by_m is None else ", {m} over" if s.reached == "yes" else ", {m} short"
    was = Sentence(
        ("reached" if s.reached == "yes" else "did not reach") + by,
        {} if s.by_m is None else {"m": Number(s.by_m, "length")},
    )
    if s.reached == "no":
        worse = s.said.spare_m is None or s.said.spare_m >= 0 or (s.by_m or 0) > -s.said.spare_m
    else:
        # What the plan told is the least there could be: less says that the drop is higher.
        worse = s.said.spare_m is not None and s.by_m is not None and s.by_m < s.said.spare_m
    return Beside("reach", said, was, None, worse)


def _pull(s: LoggedStation) -> Beside | None:
    if s.pull == "unknown":
        return None
    said = None
    if s.said.pull_n is not None:
        said = Sentence("{n}, {band}", {"n": Number(s.said.pull_n, "pull", "up")}, {"band": s.said.band})
    worse = s.said.band in BANDS and BANDS.index(s.pull) > BANDS.index(s.said.band)
    off = None
    if s.said.band in BANDS:
        off = Sentence("as planned" if s.pull == s.said.band else "harder" if worse else "easier")
    return Beside("pull", said, Sentence("{felt}", {}, {"felt": s.pull}), off, worse)


def taken(s: LoggedStation, then: LoggedStation | None) -> dict[str, int]:
    """What a station took, by its pieces, where its clocks tell.

    s: the station; then: the next one
    returns: minutes by piece: rig, ride, down, onward
    Source: none.
    """
    pairs = {
        "rig": (s.arrived, s.rigged),
        "ride": (s.rigged, s.down),
        "down": (s.down, s.gone),
        "onward": (s.gone, then.arrived if then is not None else None),
    }
    return {k: minutes_between(a, b) for k, (a, b) in pairs.items() if a is not None and b is not None}


PIECES = {"rig": "rigging", "ride": "all down", "down": "pull and stack", "onward": "the way on"}


def _times(s: LoggedStation, then: LoggedStation | None) -> list[Beside]:
    made = []
    for piece, m in taken(s, then).items():
        span: tuple[float, float] | None = getattr(s.said, piece)
        said = None
        if span is not None:
            said = Sentence(
                "{low} to {high}", {"low": Number(span[0], "minutes", "down"), "high": Number(span[1], "minutes", "up")}
            )
        worse = span is not None and m > span[1]
        off = None
        if span is not None:
            off = Sentence("within" if span[0] <= m <= span[1] else "longer" if worse else "shorter")
        made.append(Beside(PIECES[piece], said, Sentence("{m}", {"m": Number(m, "minutes")}), off, worse))
    return made
