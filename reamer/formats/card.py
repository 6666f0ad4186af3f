"""What a card says: every page's words and figures, the same on paper and on a phone. It works out nothing."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.findings import Finding
from reamer.core.answer.say import Number, UnitSystem, ranged, spoken, words
from reamer.core.assess import Assessment
from reamer.core.descent.gauge import said_of
from reamer.core.descent.ledger import Rigged
from reamer.core.descent.prospect import Prospect
from reamer.core.model import Drop, Known, Plan, Quick
from reamer.core.onsite.figures import OnCard, on_card
from reamer.core.rehearsal.rehearsal import ActStep, Rehearsal, StationRun
from reamer.core.second.check import Checked, Looked, counts_of
from reamer.core.second.rests import digest
from reamer.core.station.state import DropAssessment
from reamer.figures.station import cutaway, from_above, profile, spare_words
from reamer.formats.report import CAUTION, count_words, mark_words, whole_words

Row = tuple[str, str]
ADVANCED = {
    "bights": "Alternating bights are for those who have practised them under instruction.",
    "device knot": "An elastic-release device is for those who have practised it under instruction.",
    "stacked": "Being pre-rigged is for parties that have practised it under instruction.",
    "rope-direct": "A rope straight through ice is for those who have practised it under instruction.",
}
LEGEND: tuple[Row, ...] = (
    ("filled end", "a stopper knot is planned in it"),
    ("bar across the end", "the end is open"),
    ("ring", "the rope runs through it"),
    ("double line beside a rope", "each rope has a stripe of its own, whatever its colour"),
    ("square on a sling", "a knot"),
    ("SHORTFALL", "it is not enough, on what was entered"),
    ("NOT CHECKED", "nobody knows; it is not good until somebody looked"),
)


@dataclass(frozen=True, slots=True)
class Told:
    """A finding as it is printed, and what a second person said of it. ``state``: open, accepted, overruled, …"""

    severity: str
    title: str
    reason: str
    state: str
    marks: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class ActLine:
    """An act in the party's words. ``of``: who does it, by id, "" for everybody; ``pause``: everybody stops, and what
    to look at; ``draft``: why it is not done."""

    key: str
    number: int
    of: str
    said: str
    pause: str
    draft: str


@dataclass(frozen=True, slots=True)
class StateCard:
    """A station as the party, or as the last person, finds it. ``rows``: the few figures that matter, first to last."""

    title: str
    answer: str
    rows: tuple[Row, ...]
    rigging: tuple[str, ...]
    before: tuple[str, ...]
    catches: tuple[str, ...]
    cutaway: str
    above: str | None


@dataclass(frozen=True, slots=True)
class StationCard:
    """One station's page. ``strip``: what is cut out and hung on the harness; ``measured``: its deciding figure;
    ``water``: own limits of water and weather."""

    drop: str
    number: int
    name: str
    height: str
    count: str
    measured: str
    water: str
    states: tuple[StateCard, ...]
    told: tuple[Told, ...]
    order: tuple[str, ...]
    backups: tuple[str, ...]
    hazards: tuple[str, ...]
    acts: tuple[ActLine, ...]
    barred: str
    notes: tuple[str, ...]
    strip: tuple[Row, ...]


@dataclass(frozen=True, slots=True)
class Made:
    """What a card was made from: when and of which revision in words, and the plan's id and revision where it is kept
    in a library."""

    words: str = ""
    plan: str = ""
    revision: int = 0


@dataclass(frozen=True, slots=True)
class Card:
    """A whole card. ``version``: a digest of the plan it was made from; ``made``: when, in words; ``of``: from what;
    ``on_site``: what it says of all that can be corrected there."""

    title: str
    where: str
    version: str
    made: str
    height: str
    count: str
    check: tuple[str, ...]
    carry: tuple[str, ...]
    leave: str
    spare: str
    times: tuple[tuple[str, str, str], ...]
    day: tuple[str, ...]
    profile: str
    returns: tuple[str, ...]
    party: tuple[tuple[str, str, str], ...]
    told: tuple[Told, ...]
    stations: tuple[StationCard, ...]
    cautions: tuple[str, ...]
    of: Made
    units: UnitSystem
    on_site: tuple[OnCard, ...]
    legend: tuple[Row, ...] = LEGEND

    @property
    def id(self) -> str:
        """What tells this card from others."""
        return digest([self.version, self.made, self.title])


@dataclass(frozen=True, slots=True)
class Answers:
    """Everything that was worked out of a plan, as a card needs it."""

    plan: Plan
    a: Assessment
    ahead: Prospect
    got: Rehearsal
    runs: tuple[StationRun, ...]
    checked: Checked


def card(of: Answers, units: UnitSystem = "metric", made: Made = Made()) -> Card:
    """A plan's card.

    of: all that was worked out; units: of the figures; made: from what
    returns: the card
    Source: none, gathering.
    """
    plan, a, by = of.plan, of.a, {x.item.key: x for x in of.checked.looked}
    kit, chosen = a.descent.kit, of.ahead.choice.carried
    names = ", ".join(r.name for r in plan.shed.ropes if r.id in chosen.ropes) or "no rope"
    carry = [f"{names}: {spoken(chosen.kg, units)}"]
    carry += [words(s, units) for s in of.ahead.choice.fails]
    stations = tuple(_station(of, n, units, by) for n in range(len(plan.drops)))
    numbers = {d.id: d.number for d in a.drops}
    wide = [*of.a.findings, *of.ahead.findings, *(f for f in of.got.findings if not f.subject.drop)]
    advanced = sorted({said for s in stations for said in s.notes})
    return Card(
        title=plan.title,
        where=" · ".join(x for x in (plan.place, str(plan.on) if plan.on else "") if x),
        version=digest(plan.model_dump(mode="json"))[:8],
        made=made.words,
        of=made,
        units=units,
        on_site=on_card(plan, a),
        height=f"{spoken(a.total_height, units)} in {len(a.drops)} drops",
        count=whole_words(of.checked.tally),
        check=_check(of.checked),
        carry=tuple(carry),
        leave=", ".join(words(s, units) for s in kit.left_in_all) or "nothing",
        spare=", ".join(words(s, units) for s in kit.spare) or "nothing",
        times=_times(a),
        day=_day(a),
        profile=profile(a),
        returns=tuple(words(r.said, units) for r in of.ahead.returns),
        party=tuple((p.name, p.role, _carries(of, p.id, units)) for p in plan.party),
        told=tuple(_told(f, units, by, numbers) for f in wide if f.severity != "Note"),
        stations=stations,
        cautions=(CAUTION, "A tool that finds no shortfall has not found the anchor good.", *advanced),
    )


def _check(checked: Checked) -> tuple[str, ...]:
    if not checked.people:
        return ("No second person has looked at it.",)
    stations = [x for x in checked.looked if x.item.kind == "station"]
    lines = [
        f"Looked at by {', '.join(checked.people)}.",
        f"{sum(x.state == 'agreed' for x in stations)} of {len(stations)} stations agreed.",
    ]
    lines += [f"{checked.reopened} open again, because something changed."] if checked.reopened else []
    for x in checked.looked:
        if x.state == "objected" and x.item.kind != "finding":
            lines += [f"{words(x.item.title)}: {mark_words(m)}" for m in x.marks if m.verdict == "objected"]
    return tuple(lines)


def _times(a: Assessment) -> tuple[tuple[str, str, str], ...]:
    """By station when the party is there, early to late, and when its pull must begin."""
    made = []
    for s in a.descent.times.stations:
        there = " to ".join(dict.fromkeys(s.arrive_at)) if s.arrive_at else f"not checked: {s.why}" if s.why else ""
        made.append((f"{s.number}", there, s.turn_round_at))
    return tuple(made)


def _day(a: Assessment) -> tuple[str, ...]:
    t = a.descent.times
    out = [f"Out {' to '.join(dict.fromkeys(t.out_at))}."] if t.out_at else []
    light = [f"{t.last_light_is[0].upper()}{t.last_light_is[1:]} is {t.last_light_at}."] if t.last_light_at else []
    return (*out, *light, *t.words)


def _carries(of: Answers, who: str, units: UnitSystem) -> str:
    borne = next((b for b in of.a.descent.kit.borne if b.person == who), None)
    if borne is None or not (borne.kg.value or borne.unknown):
        return ""
    return spoken(borne.kg, units) + (f" and {borne.unknown} not weighed" if borne.unknown else "")


def _told(f: Finding, units: UnitSystem, by: dict[str, Looked], numbers: dict[str, int]) -> Told:
    looked = by.get(f"finding:{f.key}")
    marks = tuple(mark_words(m) for m in looked.marks) if looked is not None else ()
    last = "For the last person: " if f.subject.state == "last" else ""
    where = f" (drop{'s' * (len(f.drops) > 1)} {', '.join(str(numbers[i]) for i in f.drops)})" if f.drops else ""
    state = looked.state if looked is not None else "open"
    return Told(f.severity, f"{last}{words(f.title, units)}{where}", words(f.reason, units), state, marks)


def _station(of: Answers, n: int, units: UnitSystem, by: dict[str, Looked]) -> StationCard:
    d, drop, run, entry = of.a.drops[n], of.plan.drops[n], of.runs[n], of.a.descent.ledger.entries[n]
    names = {p.id: p.name for p in of.plan.party}
    states = [d, *([d.last] if d.last is not None else [])]
    pages = tuple(
        _state(of, s, entry.states[min(i, len(entry.states) - 1)], units, len(states)) for i, s in enumerate(states)
    )
    found = [*d.findings, *(f for f in of.got.findings if f.subject.drop == d.id)]
    # What is said once for the plan and holds here is told here too: a page may be carried by itself.
    wide = [f for f in (*of.a.findings, *of.ahead.findings, *of.got.findings) if not f.subject.drop and d.id in f.drops]
    numbers = {x.id: x.number for x in of.a.drops}
    backups = [
        f"{names.get(i, i)}: {kind}{f' by {names.get(helper, helper)}' if helper else ''}"
        for i, kind, helper in run.backups
    ]
    count = count_words(counts_of(of.plan, found, of.checked.looked)[d.id])
    last = pages[-1]
    strip: list[Row] = [("ride", pages[0].answer)]
    if last.answer != pages[0].answer:
        strip.append(("last person", last.answer))
    for state, page in zip(states, pages, strict=True):
        # A figure of one state is no use to whoever rides the other.
        who = "" if len(states) == 1 else ", last person" if state.state == "last" else ", party"
        strip += [(f"{name}{who}", value) for name, value in page.rows if name == "set length"]
        strip.append((f"spare{who}", _least(state, units)))
    strip.append(("longer by", _longer(of, n, units)))
    bad = [f for f in (*found, *wide) if f.severity in ("Shortfall", "Not checked")]
    strip += [("water", words(said_of(drop.watch), units))] if drop.watch is not None else []
    strip += [("found", "; ".join(f"{f.severity.upper()}: {words(f.title, units)}" for f in bad))] if bad else []
    strip += [("untie first", " ".join(last.before) or "nothing")]
    return StationCard(
        drop=d.id,
        number=d.number,
        name=d.name,
        height=spoken(d.height, units) if d.height is not None else "height not known",
        count=count,
        measured=_measured(drop),
        water=words(said_of(drop.watch), units) if drop.watch is not None else "",
        states=pages,
        told=tuple(_told(f, units, by, numbers) for f in (*found, *wide) if f.severity != "Note"),
        order=tuple(names.get(i, i) for i in run.order),
        backups=tuple(backups),
        hazards=tuple(
            f"{words(s.title, units)}: act {s.begin}{f' to {s.end}' if s.end else ' to the end'}"
            for s in run.spans
            if not s.said
        ),
        acts=tuple(_act(s, names, units) for s in run.steps),
        barred=words(run.barred, units) if run.barred is not None else "" if run.steps else "It was not gone through.",
        notes=tuple(said for key, said in ADVANCED.items() if _is(key, drop, run)),
        strip=tuple(strip),
    )


def _least(d: DropAssessment, units: UnitSystem) -> str:
    """What the ride strand that has least has to spare."""
    asked = [r for r in d.reach if r.role not in ("reserve", "pull")]
    if not asked:
        return "nothing hangs"
    if all(r.at_surface for r in asked):
        return "set at the surface"
    blank = next((r.why for r in asked if r.spare is None and not r.at_surface), "")
    known = [r.spare for r in asked if r.spare is not None]
    return f"not checked: {blank}" if blank or not known else spare_words(min(known, key=lambda n: n.value), units)


def _longer(of: Answers, n: int, units: UnitSystem) -> str:
    """How much longer the drop may be, as what if has it."""
    cell = next(c for c in of.ahead.rows[n].cells if c.event == "longer")
    told = cell.word or (spoken(cell.number, units) if cell.number is not None else "")
    if cell.mark == "fails" and cell.number is not None:
        told = f"{spoken(Number(-cell.number.value, 'length', 'up'), units)} too long for it"
    return told


def _is(key: str, drop: Drop, run: StationRun) -> bool:
    kinds = {s.system.kind for s in drop.station.states}
    if key == "stacked":
        return any(by.startswith("stacked") for _, by, _ in run.backups)
    if key == "bights":
        return "bights" in kinds
    if key == "device knot":
        return any(s.what == "device knot" for s in run.steps)
    return any(f.kind == "ice thread" and f.cord is None for f in drop.station.features)


def _act(s: ActStep, names: dict[str, str], units: UnitSystem) -> ActLine:
    pause = ""
    if s.pause is not None:
        looks = f"{names.get(s.pause.looks, s.pause.looks)} looks" if s.pause.looks else "somebody else looks"
        pause = f"Everybody stops; {looks}." + (f" {s.pause.at}" if s.pause.at else "")
    draft = words(s.refused, units) if s.refused is not None else ""
    return ActLine(s.key, s.number, s.who, words(s.words, units), pause, draft)


def _measured(drop: Drop) -> str:
    """The figure that decides whether the ropes reach: how and when it was last measured."""
    section = drop.section
    figures = [section.height_m] if isinstance(section, Quick) else [s.slope_m for s in section.shots]
    known = [f for f in figures if isinstance(f, Known)]
    if len(known) < len(figures):
        return "The height was not measured."
    how = ", ".join(dict.fromkeys(f.method for f in known))
    dates = [f.on for f in known if f.on is not None]
    last = [f for f in known if f.by and (not dates or f.on == max(dates))]
    if not dates and not last:
        return f"Height by {how}; nobody wrote down when or by whom."
    when = f"last on {max(dates)}" if dates else "nobody wrote down when"
    who = f"by {', '.join(dict.fromkeys(f.by for f in last))}" if last else "nobody wrote down by whom"
    return f"Height by {how}; {when}; {who}."


def _state(of: Answers, d: DropAssessment, rigged: Rigged, units: UnitSystem, count: int) -> StateCard:
    rows: list[Row] = []
    if d.water is not None:
        bag = f"; {spoken(d.water.reserve, units)} stays in the bag" if d.water.reserve else ""
        begin = "begin with" if d.water.on_site else "pay out"
        rows.append(("set length", f"{begin} {spoken(d.water.out, units)}{bag}"))
    for r in d.reach:
        if r.at_surface:
            said = r.why
        elif r.spare is not None and r.need is not None:
            said = f"{spare_words(r.spare, units)}; needs {spoken(r.need, units)}"
        else:
            said = f"not checked: {r.why}"
        knot = "stopper knot in it" if r.knotted else "open end"
        rows.append((f"{r.name} {r.end.upper()}, {r.role}", f"{knot}; {said}"))
        if r.highest is not None and r.highest.value > 0:
            rows.append(("a lower reaches", f"from {spoken(r.highest, units)} below the ring and lower down"))
    if d.pull.worst is not None and d.pull.low is not None:
        force = f"{spoken(d.pull.low, units)} to {spoken(d.pull.worst, units)} at the hand"
        rows.append(("pull", f"{d.pull.pulled}: {force}, {d.pull.band}"))
    else:
        rows.append(("pull", f"not checked: {d.pull.why}" if d.retrieval.side.strand else d.pull.why))
    weakest = next((p for p in d.parts if p.weakest), None)
    if weakest is not None and weakest.low and weakest.high and weakest.required:
        held = ranged(weakest.low, weakest.high, units)
        rows.append(("weakest", f"{weakest.name}: {held}, needs {spoken(weakest.required, units)}"))
    blank = [p.name for p in d.parts if p.verdict == "Not checked"]
    if blank:
        rows.append(("not checked", ", ".join(blank)))
    single = [f"{p.name} ({p.accepted})" for p in d.parts if p.single and p.accepted and p.where == "riding"]
    if single:
        rows.append(("single points", "; ".join(single)))
    title = "" if count == 1 else "For the last person" if d.state == "last" else "For the party"
    return StateCard(
        title=title,
        answer=words(d.answer, units),
        rows=tuple((k, v) for k, v in rows if v),
        rigging=tuple(words(s, units) for s in rigged.said),
        before=tuple(words(s, units) for s in d.retrieval.before),
        catches=tuple(words(s, units) for s in d.retrieval.snags),
        cutaway=cutaway(of.plan, d, units),
        above=from_above(d),
    )
