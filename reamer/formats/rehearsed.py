"""A rehearsal as plain text: what to say aloud first, then every station act by act with who is held by what."""

from __future__ import annotations

from collections.abc import Sequence

from reamer.core.answer.say import UnitSystem, listed, spoken, words
from reamer.core.model import Plan
from reamer.core.rehearsal.moves import Move
from reamer.core.rehearsal.rehearsal import ActStep, HazardView, Rehearsal, StationRun
from reamer.core.rehearsal.schools import SchoolHere
from reamer.formats.report import CAUTION, tally_words


def _hazard(h: HazardView, units: UnitSystem, numbers: dict[str, int]) -> list[str]:
    far = f" ({spoken(h.high, units)})" if h.high is not None and h.happens == "falls" else ""
    where = f"drop {numbers[h.drop]}, act {h.begin_number}"
    if h.end:
        where += (
            f" to {h.end_number}" if h.end_drop == h.drop else f" to drop {numbers[h.end_drop]}, act {h.end_number}"
        )
    lines = [f"  {h.severity.upper()}  {words(h.title, units)}{far}  –  {where}", f"    {words(h.story, units)}"]
    return lines + [f"    Fix: {words(f.label, units)}" for f in h.fixes]


def _step(s: ActStep, who: str, units: UnitSystem) -> list[str]:
    mark = "+" if s.added else " "
    if s.refused is not None:
        return [f"{mark} {s.number:3}  DRAFT  {words(s.words, units)}  Cannot be done: {words(s.refused, units)}"]
    lines = [f"{mark} {s.number:3}  {words(s.words, units)}"]
    shown = [h for h in s.held if (h.exposed or h.paths) and (not who or h.who == who)]
    for h in shown:
        lines.append(f"         {words(h.said, units)}")
    if s.pause is not None:
        lines.append("         Everybody stops; somebody else looks." + (f" {s.pause.at}" if s.pause.at else ""))
    return lines


def _move(m: Move, units: UnitSystem) -> list[str]:
    made = [f"  {words(m.title, units)[:1].upper()}{words(m.title, units)[1:]}"]
    made += [f"      {words(x, units)}." for x in m.otherwise]
    return made + [f"      BEFORE IT  {words(n.said, units)}" for n in m.needs if not n.met]


def _school(s: SchoolHere, names: dict[str, str]) -> str:
    whom = listed([names[i] for i in s.people if i in names])
    return f"{s.name}{', not here' if not s.here else f', {whom}' if whom else ''}"


def _by_rule(r: StationRun, units: UnitSystem) -> list[str]:
    return [line for m in r.moves for line in (*_move(m, units), *(f"      {words(x, units)}" for x in m.lines))]


def rehearsed(
    plan: Plan, got: Rehearsal, runs: Sequence[StationRun], units: UnitSystem = "metric", who: str = ""
) -> str:
    """A rehearsal as text.

    plan: the plan; got: its rehearsal; runs: the stations to be told act by act; units: of the figures; who: only this
    person's holds, by id
    returns: the text
    Source: none, text only.
    """
    numbers = {d.id: n for n, d in enumerate(plan.drops, 1)}
    lines = [f"{plan.title}: {len(plan.drops)} drops, {len(plan.party)} people  –  {tally_words(got.tally)}"]
    here = {r.drop for r in runs}
    shown = [h for h in got.hazards if h.drop in here and (not who or h.who in ("", who))]
    if shown:
        lines += ["", "Say aloud first"]
        first = [got.hazards[n] for n in got.first if got.hazards[n] in shown]
        for h in first or shown[:5]:
            lines += _hazard(h, units, numbers)
    names = {p.id: p.name for p in plan.party}
    for r in runs:
        backups = "; ".join(f"{names[i]}: {by}{f' by {names[of]}' if of else ''}" for i, by, of in r.backups)
        lines += ["", f"{r.number}  {r.name}", f"  {backups}"]
        lines += [f"  Of one's own: {_school(s, names)}" for s in r.schools if s.place or not s.here]
        previous: dict[str, str] = {}
        if r.barred is not None:
            lines += [f"  Not reached: {words(r.barred, units)} By rule:", *_by_rule(r, units)]
        begins = {m.begin: m for m in r.moves} if r.barred is None else {}
        for s in r.steps:
            if s.number in begins:
                lines += _move(begins[s.number], units)
            for line in _step(s, who, units):
                # Who is held as before is not said again.
                key = line.split(" is held by ")[0] if " is held by " in line else ""
                if key and previous.get(key) == line:
                    continue
                if key:
                    previous[key] = line
                lines.append(line)
        lines += [f"  DRAFT  {words(d.why, units)}" for d in r.drafts]
    rest = [h for h in shown if h not in [got.hazards[n] for n in got.first]]
    if rest:
        lines += ["", "And"]
        for h in rest:
            lines += _hazard(h, units, numbers)
    others = [
        f for f in got.findings if f.code.split(".")[0] != "rehearse" or f.code in ("rehearse.draft", "rehearse.none")
    ]
    if others:
        lines += ["", "People and drafts"]
        lines += [f"  {f.severity.upper()}  {words(f.title, units)}\n    {words(f.reason, units)}" for f in others]
    if not any(f.severity == "Shortfall" for f in got.findings) and not any(
        h.severity == "Shortfall" for h in got.hazards
    ):
        lines += ["", "No hazard found in what was rehearsed."]
    lines += ["", CAUTION]
    return "\n".join(lines)
