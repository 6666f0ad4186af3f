"""What if somebody hangs on the rope, one is missing, it gets dark, or an anchor is gone."""

from __future__ import annotations

import math
from dataclasses import replace

from reamer.core.anchor.cutting import WebbingAssessment
from reamer.core.answer.say import Number, Sentence
from reamer.core.descent.field import Cell, Field, goes, place_name
from reamer.core.descent.harder import holds, short_parts
from reamer.core.descent.times import Times
from reamer.core.plan.rigs import tied_to
from reamer.core.station.drop import assess_drop
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
    if system.kind == "lowered":
        return Cell("hurt", "works", "lowered", None, (Sentence("They hang on the belayer's rope."), NOBODY_YET))
    if system.kind == "releasable" and highest is not None and highest.value <= 0:
        return Cell("hurt", "works", "lower", None, (Sentence("A lower reaches from anywhere."), NOBODY_YET))
    told: list[Sentence] = []
    if system.kind == "releasable" and highest is not None:
        told.append(Sentence("A lower reaches from {m} below the ring and lower down.", {"m": highest}))
    elif system.kind == "releasable":
        return Cell("hurt", "not checked", "not checked", None, (Sentence("How far a lower reaches is not known."),))
    together = drop.model_copy(update={"station": drop.station.model_copy(update={"together": "one strand"})})
    two = assess_drop(field.ctx, k, together, False)[0]
    weak = short_parts(two)
    if weak:
        return Cell(
            "hurt", "fails", "too heavy", None, (*told, Sentence("With two on one strand:"), *weak.values(), NOBODY_YET)
        )
    said = Sentence("Two on one strand ask no part for more than it holds.")
    cell = holds("hurt", two, said)
    if cell.mark == "works":
        word = "lower, part" if told else "climb"
        return replace(
            cell, mark="other way", word=word, story=(*told, said, NOBODY_YET), number=highest if told else None
        )
    return replace(cell, story=(*told, *cell.story, NOBODY_YET))


def one_short(field: Field, k: int) -> Cell:
    """The heaviest able person is missing.

    field: the descent; k: the station's place, from 0
    returns: whether each group still has somebody able
    Source: P, common practice, no source: in every state each group, above and below, has an able person.
    """
    able = [p for p in field.plan.party if p.role != "novice"]
    if not able:
        return Cell("one short", "fails", "nobody able", None, (Sentence("There is nobody able in the party now."),))
    weights = [(p.mass_kg.known if p.mass_kg.known is not None else math.inf, p) for p in able]
    gone = max(weights, key=lambda w: w[0])[1]
    rest = [p for p in field.plan.party if p.id != gone.id]
    left = [p for p in rest if p.role != "novice"]
    told = [
        Sentence(
            "Without {who}, the heaviest who is able: {n} left.", {"n": Number(len(rest), "count")}, {"who": gone.name}
        )
    ]
    system = field.plan.drops[k].station.states[0].system
    if not rest:
        return Cell("one short", "fails", "nobody left", None, (*told, Sentence("The party is one.")))
    if len(rest) > 1 and len(left) < 2 and any(p.role == "novice" for p in rest):
        told.append(Sentence("Above or below, novices are alone: each group wants somebody able."))
        return Cell("one short", "fails", "novices alone", None, tuple(told))
    if len(rest) == 1 and system.kind in ("releasable", "lowered"):
        told.append(Sentence("The rope here wants somebody besides the rider."))
        return Cell("one short", "fails", "nobody on top", None, tuple(told))
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
        name = {a.id: a for a in webbing}
        lefts = [(max((n.value for n in a.left), default=0.0), a.id) for a in name.values()]
    else:
        need = max((length for _, length in cuts), key=lambda n: n.value)
        lefts = [(max((n.value for n in a.left), default=0.0), a.id) for a, _ in cuts]
    most, which = max(lefts, default=(0.0, ""))
    names = {w.id: w.name for w in plan.shed.webbing}
    numbers = {"need": need, "has": Number(max(0.0, most), "fine length", "down")}
    told.append(
        Sentence(
            "Tied again it takes {need} in one piece; {has} of {what} is left when all is cut.",
            numbers,
            {"what": names.get(which, "webbing")},
        )
    )
    if most < need.value - 1e-9:
        return Cell("anchor", "fails", "webbing short", None, tuple(told))
    if rings is None:
        told.append(Sentence("How many spare rings are carried nobody has said."))
        return Cell("anchor", "not checked", "ring?", None, tuple(told))
    if rings < 1:
        return Cell("anchor", "fails", "no spare ring", None, (*told, Sentence("No spare ring is carried.")))
    told.append(Sentence("A spare ring is carried. What it would be tied to is judged there."))
    return Cell("anchor", "other way", "tie again", None, tuple(told))
