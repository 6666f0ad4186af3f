"""What if somebody hangs on the rope, one is missing, it gets dark, or an anchor is gone."""

from __future__ import annotations

import math
from dataclasses import replace

from reamer.core.anchor.cutting import WebbingAssessment, fit
from reamer.core.answer.context import context
from reamer.core.answer.say import Number, Sentence
from reamer.core.descent.field import Cell, Field, goes, place_name
from reamer.core.descent.harder import brought, held, titles_of
from reamer.core.descent.times import Times
from reamer.core.model import System
from reamer.core.plan.people import able
from reamer.core.plan.rigs import tied_to
from reamer.core.rope.strands import ropes_of
from reamer.core.station.drop import assess_drop
from reamer.core.station.state import DropAssessment
from reamer.core.tables import row

NOBODY_YET = Sentence("Who does it, and held by what, is not rehearsed.")


def hurt(field: Field, k: int) -> Cell:
    """A rider stuck or hurt on the rope: whether they can be lowered, and whether two on one strand hold.

    field: the descent; k: the station's place, from 0
    returns: what ropes and loads decide; who does it is not rehearsed
    Source: P, common practice, no source; loads J.
    """
    drop, a = field.plan.drops[k], field.drops[k]
    system = drop.station.states[0].system
    if system.kind == "none":
        return Cell("hurt", "not checked", "not checked", None, (Sentence("No rope system is chosen."),))
    if len(field.plan.party) < 2:
        return Cell(
            "hurt", "strands", "nobody comes", None, (Sentence("Nobody is there to lower or to climb to them."),)
        )
    highest = next((r.highest for r in a.reach if r.role == "reserve"), None)
    short, open_ = _about_the_rope(a, system)
    if system.kind == "lowered" and short:
        story = (Sentence("They hang on the belayer's rope:"), *short, NOBODY_YET)
        return Cell("hurt", "fails", "stops", None, story)
    if system.kind == "lowered":
        story = (Sentence("They hang on the belayer's rope."), *open_, NOBODY_YET)
        return Cell("hurt", "not checked" if open_ else "works", "not checked" if open_ else "lowered", None, story)
    told: list[Sentence] = []
    if system.kind == "releasable":
        if highest is None:
            story = (Sentence("How far a lower reaches is not known."),)
            return Cell("hurt", "not checked", "not checked", None, story)
        if short:
            told += [Sentence("A lower is not to be counted on:"), *short]
        elif open_:
            return Cell("hurt", "not checked", "not checked", None, (*open_, NOBODY_YET))
        elif highest.value <= 0:
            return Cell("hurt", "works", "lower", None, (Sentence("A lower reaches from anywhere."), NOBODY_YET))
        else:
            told.append(Sentence("A lower reaches from {m} below the ring and lower down.", {"m": highest}))
    together = drop.model_copy(update={"station": drop.station.model_copy(update={"together": "one strand"})})
    two = assess_drop(field.ctx, k, together, False)
    said = Sentence("Two on one strand ask no part for more than it holds.")
    cell = held("hurt", a, two, said)
    if cell.mark == "fails":
        story = (*told, Sentence("With two on one strand:"), *cell.story, NOBODY_YET)
        return replace(cell, word="too heavy", story=story)
    if cell.mark == "works":
        part = bool(told) and not short
        word, number = "lower, part" if part else "climb", highest if part else None
        return replace(cell, mark="other way", word=word, story=(*told, said, NOBODY_YET), number=number)
    return replace(cell, story=(*told, *cell.story, NOBODY_YET))


def _about_the_rope(a: DropAssessment, system: System) -> tuple[list[Sentence], list[Sentence]]:
    """What is short, and what is not checked, of the ropes that somebody would be lowered on: their strength, what
    joins them, and what comes to the tie-off or the belay."""
    # A finding is of a rope, or of one of its ends.
    ropes = {key for r in ropes_of(system) for key in (r, f"{r}-a", f"{r}-b")}
    about = [
        f
        for f in a.findings
        if f.subject.part.split(".")[-1] in ropes or f.subject.part.startswith("join.") or f.code == "system.missing"
    ]
    return (
        titles_of([f for f in about if f.severity == "Shortfall" and f.code != "release.reserve"]),
        titles_of([f for f in about if f.severity == "Not checked"]),
    )


def one_short(field: Field, k: int) -> Cell:
    """The heaviest able person is missing.

    field: the descent; k: the station's place, from 0
    returns: whether each group still has somebody able
    Source: P, common practice, no source: in every state each group, above and below, has an able person.
    """
    may = [p for p in field.plan.party if able(p)]
    if not may:
        return Cell("one short", "fails", "nobody able", None, (Sentence("There is nobody able in the party now."),))
    weights = [(p.mass_kg.known if p.mass_kg.known is not None else math.inf, p) for p in may]
    gone = max(weights, key=lambda w: w[0])[1]
    rest = [p for p in field.plan.party if p.id != gone.id]
    left = [p for p in rest if able(p)]
    told = [
        Sentence(
            "Without {who}, the heaviest who is able: {n} left.", {"n": Number(len(rest), "count")}, {"who": gone.name}
        )
    ]
    system = field.plan.drops[k].station.states[0].system
    if not rest:
        return Cell("one short", "fails", "nobody left", None, (*told, Sentence("The party is one.")))
    if len(rest) > 1 and len(left) < 2 and any(not able(p) for p in rest):
        told.append(Sentence("Above or below nobody able is left: each group wants somebody able."))
        return Cell("one short", "fails", "nobody able", None, tuple(told))
    if len(rest) == 1 and system.kind in ("releasable", "lowered"):
        told.append(Sentence("The rope here wants somebody besides the rider."))
        return Cell("one short", "fails", "nobody on top", None, tuple(told))
    fewer = context(field.plan.model_copy(update={"party": tuple(rest)}), field.ctx.gear)
    after = assess_drop(fewer, k, field.plan.drops[k], False)
    new = brought(field.drops[k], after)
    if new:
        fails = new[0].severity == "Shortfall"
        only = [f for f in new if f.severity == new[0].severity]
        word = "short" if fails else "not checked"
        return Cell("one short", "fails" if fails else "not checked", word, None, (*told, *titles_of(only)))
    told.append(Sentence("Somebody able is above and below at each moment; their loads are shared anew."))
    return Cell("one short", "works", "goes on", None, tuple(told))


def dark(field: Field, k: int, times: Times) -> Cell:
    """Dark or the weather comes: how far it is to the next way out from here.

    field: the descent; k: the station's place, from 0; times: of the descent
    returns: the time from the top of this station
    Source: as for times.
    """
    plan, here = field.plan, times.stations[k]
    out = next((i for i in range(k, len(plan.drops)) if goes(plan.drops[i])), None)
    to = len(plan.drops) - 1 if out is None else out
    last = times.stations[to]
    if here.arrive is None or last.out is None or last.pull is None or last.down is None:
        why = next((s.why for s in times.stations[k:] if s.why), "a time is not known")
        return Cell("dark", "not checked", "not checked", None, (Sentence("Not checked: {why}.", {}, {"why": why}),))
    ends = [last.out[e].value - here.arrive[e].value for e in (0, 1)]
    where = {"where": place_name(plan, to)}
    if out is not None:
        ends = [last.pull[e].value + last.down[e].value - here.arrive[e].value for e in (0, 1)]
        escape = plan.drops[out].escape
        more = escape.minutes.known if escape is not None else None
        if more is None:
            story = Sentence("The next way off is at the foot of {where}; how long it takes is unknown.", {}, where)
            return Cell("dark", "not checked", "not checked", None, (story,))
        ends = [e + more for e in ends]
    low, high = Number(ends[0], "minutes", "down"), Number(ends[1], "minutes", "up")
    said = "From the top of this drop it is {low} to {high} to the way off at the foot of {where}."
    if out is None:
        said = "From the top of this drop it is {low} to {high} to the end; there is no way off before it."
    return Cell("dark", "figure", "", high, (Sentence(said, {"low": low, "high": high}, where),))


def anchor(field: Field, k: int, webbing: tuple[WebbingAssessment, ...]) -> Cell:
    """What a station is tied with is missing or condemned: whether the spare makes another.

    field: the descent; k: the station's place, from 0; webbing: what is cut of each, and what is left
    returns: whether it can be rigged again
    Source: P, common practice, no source.
    """
    drop, plan = field.plan.drops[k], field.plan
    rig = drop.station.states[-1].rig
    if rig.kind == "none":
        return Cell("anchor", "not checked", "not checked", None, (Sentence("No anchor is chosen."),))
    told: list[Sentence] = []
    rings = plan.carry.rings.known
    if any(a.unknown for a in webbing):
        why = "What some stations take of the webbing is unknown, and so what is left of it."
        return Cell("anchor", "not checked", "not checked", None, (Sentence(why),))
    cuts = [(a, c.length) for a in webbing for c in a.cuts if c.drop == drop.id]
    if not cuts:
        posts = [f.name for f in drop.station.features if f.kind == "post" and f.id not in tied_to(rig)]
        if not posts:
            why = (
                "Nothing else to tie to is written down here, and it is not tied with webbing that could be tied again."
            )
            return Cell("anchor", "not checked", "not checked", None, (Sentence(why),))
        told.append(Sentence("There is {what} to go round.", {}, {"what": posts[0]}))
        girth = next(f.girth_m.known for f in drop.station.features if f.kind == "post" and f.name == posts[0])
        if girth is None:
            return Cell("anchor", "not checked", "not checked", None, (*told, Sentence("How thick it is is unknown.")))
        # Round the post and out as far as the tie reaches now, and back, with its knot.
        gain = getattr(rig, "gain_m", None)
        out = gain.known if gain is not None else None
        bend = row("knots", "rope used.ring bend").high
        need = Number(girth + 2 * (out if out is not None else 1.0) + bend, "fine length", "up")
        wanted: list[tuple[WebbingAssessment | None, list[Number]]] = [
            (max(webbing, key=_longest, default=None), [need])
        ]
    else:
        ids = dict.fromkeys(a.id for a, _ in cuts)
        wanted = [(next(a for a in webbing if a.id == i), [n for a, n in cuts if a.id == i]) for i in ids]
    enough, tied = _tied_again(field, wanted)
    told += tied
    if not enough:
        return Cell("anchor", "fails", "webbing short", None, tuple(told))
    if rings is None:
        told.append(Sentence("How many spare rings are carried nobody has said."))
        return Cell("anchor", "not checked", "ring?", None, tuple(told))
    # An anchor for the party and another for the last person take a ring each.
    take = max(1, len({s.rig for s in drop.station.states if s.rig.kind != "none" and s.rig.ring is not None}))
    if rings < take:
        word, short = "no spare ring", Sentence("No spare ring is carried.")
        if rings >= 1:
            word, short = "rings short", Sentence("It takes {n} rings.", {"n": Number(take, "count")})
        return Cell("anchor", "fails", word, None, (*told, short))
    told.append(Sentence("A spare ring is carried. What it would be tied to is judged there."))
    return Cell("anchor", "other way", "tie again", None, tuple(told))


def _longest(of: WebbingAssessment | None) -> float:
    """The longest piece that is left of a webbing when all is cut [m]."""
    return max((n.value for n in of.left), default=0.0) if of is not None else 0.0


def _tied_again(
    field: Field, wanted: list[tuple[WebbingAssessment | None, list[Number]]]
) -> tuple[bool, list[Sentence]]:
    """Whether what is left of each webbing gives all the pieces that are wanted of it at once, and how much that is."""
    told, enough = list[Sentence](), True
    names = {w.id: w.name for w in field.plan.shed.webbing}
    for of, needs in wanted:
        numbers = {
            "need": max(needs, key=lambda n: n.value),
            "n": Number(len(needs), "count"),
            "has": Number(_longest(of), "fine length", "down"),
        }
        takes = "{need} in one piece" if len(needs) == 1 else "{n} pieces, {need} the longest"
        said = f"Tied again it takes {takes}; {{has}} of {{what}} is left in one when all is cut."
        told.append(Sentence(said, numbers, {"what": names[of.id] if of else "webbing"}))
        # All of them at once, from what is left of the pieces.
        left = [n.value for n in of.left] if of else []
        enough = enough and None not in fit(left, [n.value for n in needs]).places
    return enough, told
