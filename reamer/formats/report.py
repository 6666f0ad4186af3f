"""An assessment as plain text, in the words and figures of the screen."""

from __future__ import annotations

from reamer.core.answer.codes import SETTLED, SEVERITIES, Severity
from reamer.core.answer.findings import Finding
from reamer.core.answer.say import UnitSystem, ranged, spoken, words
from reamer.core.assess import WHO_IS_HELD, Assessment
from reamer.core.descent.field import Cell
from reamer.core.descent.prospect import Prospect
from reamer.core.model import Plan
from reamer.core.rehearsal.rehearsal import Rehearsal
from reamer.core.schools import CHOICES
from reamer.core.second.check import Checked, Count, Counted, Looked, Mark, Tally, tally_of
from reamer.core.station.state import DropAssessment

CAUTION = (
    "This is arithmetic on what was entered. Rigging can kill: figures are typical values, real parts vary, age, "
    "abrade and are mis-tied. Practise under a qualified instructor; local rules, makers' instructions and "
    "licensed guides' practice come first; the person at the anchor decides."
)


def tally_words(tally: dict[Severity, int]) -> str:
    """A tally as it is spoken: shortfalls and not checked always, the rest where there are any."""

    def count(n: int, word: str) -> str:
        return f"{n} {word}{'' if n == 1 or word == 'not checked' else 's'}"

    said = [count(tally["Shortfall"], "shortfall"), count(tally["Not checked"], "not checked")]
    said += [count(tally[s], s.lower()) for s in SEVERITIES[2:] if tally[s]]
    return " · ".join(said)


def count_words(count: Count) -> str:
    """How findings stand as it is spoken: what is open as a tally; accepted, overruled and objected to apart."""
    said = [tally_words(count.open)]
    accepted = sum(count.accepted.values())
    said += [f"{accepted} accepted by name"] if accepted else []
    said += [f"{count.overruled} of the shortfalls overruled"] if count.overruled else []
    said += [f"{count.objections} objection{'' if count.objections == 1 else 's'}"] if count.objections else []
    return " · ".join(said)


def part_words(part: Counted, yet: str) -> str:
    """One figure of a tally: never 0 while it is not known."""
    told = count_words(part.count)
    if not part.pending:
        return told
    some = [x for x in told.split(" · ") if not x.startswith("0 ")]
    return f"{' · '.join(some)} so far, {yet}" if some else yet


def whole_words(tally: Tally) -> str:
    """How a plan stands, in three figures side by side."""
    return "; ".join(f"{name}: {part_words(part, yet)}" for name, part, yet in tally.named)


SAID = {"objected": "objected to"}


def mark_words(mark: Mark) -> str:
    """What somebody said, when, and whether it still holds."""
    told = f"{SAID.get(mark.verdict, mark.verdict)} by {mark.by}, {mark.at:%Y-%m-%d}"
    told += f": {mark.remark}" if mark.remark else ""
    since = f" Changed since: {', '.join(mark.changed)}." if mark.changed else ""
    return told[0].upper() + told[1:] + since + ("" if mark.holds else " It no longer holds.")


PLACES = {"at home": "to settle at home", "at the edge": "to settle at the edge", "from below": "only from below"}


By = dict[str, Looked]


def _finding(f: Finding, units: UnitSystem, drops: dict[str, int], by: By) -> list[str]:
    last = "last person: " if f.subject.state == "last" else ""
    lines = [f"  {f.severity.upper()}  {last}{words(f.title, units)}", f"    {words(f.reason, units)}"]
    if f.drops:
        lines.append("    At drops " + ", ".join(str(drops[i]) for i in f.drops))
    for fix in (*([f.fix] if f.fix else []), *f.others):
        brings = "".join(f"; brings {b.severity.lower()}: {words(b.title, units)}" for b in fix.brings)
        lines.append(f"    Fix: {words(fix.label, units)}{brings}")
    return [*lines, *_marks(by.get(f"finding:{f.key}"))]


def _marks(looked: Looked | None) -> list[str]:
    return [f"    {mark_words(m)}" for m in (looked.marks if looked is not None else ())]


def _state(d: DropAssessment, units: UnitSystem) -> list[str]:
    lines = [f"  {words(d.answer, units)}"]
    for r in d.reach:
        spare = (
            f"spare {spoken(r.spare, units)}, need {spoken(r.need, units)}"
            if r.spare and r.need
            else r.why
            if r.at_surface
            else f"not checked: {r.why}"
        )
        lines.append(f"  {r.name} {r.end.upper()} ({r.role}): {spare}")
        if r.highest:
            lines.append(
                f"  A lower reaches the landing from {spoken(r.highest, units)} below the ring and lower down"
                if r.highest.value > 0
                else "  A lower reaches the landing from anywhere"
            )
    if d.water:
        bag = f"; {spoken(d.water.reserve, units)} stays in the bag at the station" if d.water.reserve else ""
        lines.append(f"  {'Begin with' if d.water.on_site else 'Pay out'} {spoken(d.water.out, units)}{bag}")
    if d.pull.worst and d.pull.low:
        lines.append(
            f"  Pull on {d.pull.pulled}: {spoken(d.pull.low, units)} to {spoken(d.pull.worst, units)} at the hand,"
            f" {d.pull.band}"
        )
    else:
        lines.append(f"  Pull: {'not checked: ' if d.retrieval.side.strand else ''}{d.pull.why}")
    lines += [f"  Before the pull: {words(s, units)}" for s in d.retrieval.before]
    lines += [f"  May catch: {words(s, units)}" for s in d.retrieval.snags]
    if d.several:
        for leg in d.several.legs:
            lines.append(
                f"  {leg.name}: {spoken(leg.tied, units)} of the load as tied, {spoken(leg.worst, units)} at worst"
            )
    for p in d.parts:
        if p.low and p.high and p.required and p.times:
            lines.append(
                f"  {p.name}: {ranged(p.low, p.high, units)}, needs {spoken(p.required, units)}, "
                f"{spoken(p.times, units)} its peak{', weakest' if p.weakest else ''}"
            )
        else:
            lines.append(
                f"  {p.name}: {p.why}"
                if p.verdict != "Not checked"
                else f"  {p.name}: not checked{': ' + p.why if p.why else ''}"
            )
    accepted = [f"{p.name} ({p.accepted})" for p in d.parts if p.single and p.accepted and p.where == "riding"]
    if accepted:
        lines.append("  Single points accepted: " + "; ".join(accepted))
    return lines


def _grouped(findings: tuple[Finding, ...], units: UnitSystem, drops: dict[str, int], by: By) -> list[str]:
    """Findings by who can settle them, the place with the worst first; what is accepted by name apart."""
    accepted = [f for f in findings if f"finding:{f.key}" in by and by[f"finding:{f.key}"].state == "accepted"]
    places = [
        (min(SEVERITIES.index(f.severity) for f in some), SETTLED.index(place), PLACES[place], some)
        for place in SETTLED
        if (some := [f for f in findings if f.settled == place and f not in accepted])
    ]
    places = [*sorted(places, key=lambda p: p[:2]), *([(9, 9, "accepted by name", accepted)] if accepted else [])]
    return [
        line
        for *_, place, some in places
        for line in (f"  -- {place}", *(x for f in some for x in _finding(f, units, drops, by)))
    ]


def _choices(plan: Plan) -> list[str]:
    """The margin and the schools that the answers rest on."""
    chosen = plan.policies
    margin = chosen.margin
    own = [s.name for s in plan.shed.own_schools if s.followed]
    asked = (
        f"{margin.times:g} × peak, the guide's own"
        if margin.kind == "own"
        else {"peak": "2.0 × peak", "static ratio": "10 × static"}[margin.kind]
    )
    return [
        "",
        f"Margin: {asked}.",
        "Schools: "
        + "; ".join(
            f"{name[0].lower()}{name[1:].rstrip('?')}:"
            f" {next((title for key_, title, _ in options if key_ == getattr(chosen, key)), getattr(chosen, key))}"
            for key, name, options in CHOICES
            if key != "margin"
        )
        + ".",
        *([f"Of one's own: {'; '.join(own)}."] if own else []),
    ]


def _drop(d: DropAssessment, units: UnitSystem, by: By, checked: Checked | None) -> list[str]:
    height = spoken(d.height, units) if d.height else "height unknown"
    told = count_words(checked.counts[d.id]) if checked is not None else tally_words(d.tally)
    lines = ["", f"{d.number}  {d.name}  {height}  –  {told}", *_state(d, units)]
    if d.last:
        lines += ["  For the last person:", *_state(d.last, units)]
    return lines + _grouped(d.findings, units, {}, by)


def _descent(a: Assessment, units: UnitSystem) -> list[str]:
    """The rope ledger, the times, what stays."""
    lines = ["", "The whole descent"]
    for e, t in zip(a.descent.ledger.entries, a.descent.times.stations, strict=True):
        when = f", {' to '.join(dict.fromkeys(t.arrive_at))}" if t.arrive_at else ""
        lines.append(f"  {e.number}  {e.name}{when}")
        for state in e.states:
            lines += [f"    {words(s, units)}" for s in state.said]
        if t.turn_round_at:
            lines.append(f"    The pull here begins by {t.turn_round_at} at the latest.")
    out = a.descent.times.out_at
    lines += [f"  Out {' to '.join(out)}."] if out else []
    lines += [f"  {said}" for said in a.descent.times.words]
    kit = a.descent.kit
    lines.append("  Left behind: " + (", ".join(words(s, units) for s in kit.left_in_all) or "nothing") + ".")
    lines.append("  Spare: " + (", ".join(words(s, units) for s in kit.spare) or "nothing") + ".")
    return lines


def _cell(c: Cell, units: UnitSystem) -> str:
    number = f"{spoken(c.number, units)} " if c.number is not None else ""
    return f"{c.event}: {number}{c.word}".rstrip()


def _prospect(ahead: Prospect, a: Assessment, plan: Plan, units: UnitSystem, by: By) -> list[str]:
    """Ropes to carry, what if, points of no return."""
    names, got = {r.id: r.name for r in plan.shed.ropes}, ahead.choice
    own = ", ".join(names[r] for r in got.carried.ropes) or "nothing"
    lines = [f"  Carried: {own}, {spoken(got.carried.kg, units)}."]
    lines += [f"    {words(s, units)}" for s in got.fails]
    if got.chosen is not None:
        best = ", ".join(names[r] for r in got.chosen.ropes)
        lines.append(f"  Lightest that does: {best}, {spoken(got.chosen.kg, units)}.")
        lines += [f"    {words(s, units)}" for s in (*got.binding, *got.why, *got.buys)]
    lines += [f"  {words(s, units)}" for s in got.none]
    lines += [f"  {r.number}  " + "; ".join(_cell(c, units) for c in r.cells) for r in ahead.rows]
    lines += [f"  {words(r.said, units)}" for r in ahead.returns]
    return lines + _grouped(ahead.findings, units, {d.id: d.number for d in a.drops}, by)


def _rehearsed(got: Rehearsal, a: Assessment, units: UnitSystem, by: By) -> list[str]:
    """What was found in going through it act by act, by station."""
    lines = ["", "Gone through act by act"]
    numbers = {d.id: d.number for d in a.drops}
    for f in got.findings:
        where = f"{numbers[f.subject.drop]}  " if f.subject.drop else ""
        lines += [
            line.replace("  ", f"  {where}", 1) if i == 0 else line
            for i, line in enumerate(_finding(f, units, numbers, by))
        ]
    return [*lines, "  No hazard found in what was rehearsed."] if not got.hazards and not got.findings else lines


def _second(checked: Checked) -> list[str]:
    """Who looked at it, what they said of stations and acts, and what is open again."""
    if not any(x.marks for x in checked.looked):
        return ["", "No second person has looked at it."]
    lines = ["", "Second check: " + (", ".join(checked.people) or "nothing that was said still holds")]
    stations = [x for x in checked.looked if x.item.kind == "station"]
    agreed = sum(x.state == "agreed" for x in stations)
    lines.append(f"  {agreed} of {len(stations)} stations agreed")
    for x in checked.looked:
        told = [m for m in x.marks if x.item.kind == "gone" or m.verdict == "objected" or not m.holds]
        if x.item.kind != "finding" and told:
            gone = ", which is no longer there" if x.item.kind == "gone" else ""
            lines.append(f"  {words(x.item.title)}{gone}")
            lines += [f"    {mark_words(m)}" for m in told]
    if checked.reopened:
        lines.append(f"  {checked.reopened} open again, because something changed")
    return lines


def report(
    plan: Plan,
    a: Assessment,
    units: UnitSystem = "metric",
    ahead: Prospect | None = None,
    through: Rehearsal | None = None,
    checked: Checked | None = None,
) -> str:
    """The whole assessment as text, with what lies ahead, what going through it found and what a second person said of
    it, where that was asked."""
    if checked is not None:
        tally = checked.tally
    else:
        found = (ahead.findings if ahead is not None else None, through.findings if through is not None else None)
        tally = tally_of(plan, a, *found, ())
    by = {x.item.key: x for x in checked.looked if x.marks} if checked is not None else {}
    lines = [f"{plan.title}: {spoken(a.total_height, units)} in {len(a.drops)} drop{'' if len(a.drops) == 1 else 's'}"]
    lines += [f"  {name}: {part_words(part, yet)}" for name, part, yet in tally.named]
    for d in a.drops:
        lines += _drop(d, units, by, checked)
    if a.drops:
        lines += _descent(a, units)
    if ahead is not None and a.drops:
        lines += _prospect(ahead, a, plan, units, by)
    if through is not None and a.drops:
        lines += _rehearsed(through, a, units, by)
    if a.findings:
        lines += ["", "The plan as a whole"]
        lines += _grouped(a.findings, units, {d.id: d.number for d in a.drops}, by)
    lines += _second(checked) if checked is not None and a.drops else []
    lines += [*_choices(plan), ""]
    more = [*(ahead.findings if ahead is not None else ()), *(through.findings if through is not None else ())]
    objected = checked is not None and checked.tally.objections
    if a.verdict and not objected and not any(f.severity == "Shortfall" for f in more):
        lines.append(a.verdict)
    if through is None and a.drops:
        lines.append("Not rehearsed.")
    not_covered = [x for x in a.not_covered if through is None or x != WHO_IS_HELD]
    lines.append("Not looked at: " + "; ".join(not_covered) + ".")
    lines.append(CAUTION)
    return "\n".join(lines)
