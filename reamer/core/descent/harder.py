"""What if the drop is longer than written, the rope wet, everybody heavier."""

from __future__ import annotations

import math
from dataclasses import replace

from reamer.core.answer.context import Context, figured
from reamer.core.answer.findings import Finding, value
from reamer.core.answer.look import Look, look_at
from reamer.core.answer.say import Number, Sentence, words
from reamer.core.descent.field import Cell, Event, Field, Mark
from reamer.core.load.asked import rider_load
from reamer.core.model import Drop, Known, Quick, Section, Shots
from reamer.core.plan.limits import limits_m
from reamer.core.reach.need import longest_m
from reamer.core.reach.reach import least_spare_m, reach
from reamer.core.retrieval.pull import Moved, pull_of
from reamer.core.rope.rigged import strands
from reamer.core.section.lines import lines
from reamer.core.station.drop import assess_drop
from reamer.core.station.lie import lie_of
from reamer.core.station.state import DropAssessment
from reamer.core.tables import row


def longer_section(drop: Drop, by_m: float, edge: int | None) -> Section:
    """A drop's section with so much more below its edge, every method and error kept.

    drop: the drop; by_m: how much longer [m]; edge: the shot that ends at the edge, from 0, None where there is none
    returns: the section; of shots the longest one below the edge is longer, at its inclination
    Source: none, geometry.
    """
    section = drop.section
    if isinstance(section, Quick):
        h = section.height_m
        if h.kind == "unknown":
            return section
        return section.model_copy(update={"height_m": h.model_copy(update={"value": h.value + by_m})})
    below = [i for i in range(len(section.shots)) if edge is None or i > edge] or list(range(len(section.shots)))
    known = [(long, i) for i in below if (long := section.shots[i].slope_m.known) is not None]
    if not known:
        return section
    most = max(known)[1]
    shots = []
    for i, s in enumerate(section.shots):
        if i == most and isinstance(s.slope_m, Known):
            s = s.model_copy(update={"slope_m": s.slope_m.model_copy(update={"value": s.slope_m.value + by_m})})
        shots.append(s)
    return section.model_copy(update={"shots": tuple(shots)})


def _edge_shot(look: Look) -> int | None:
    """The shot that ends at the edge of a drop in shots."""
    if not isinstance(look.drop.section, Shots):
        return None
    made = value(lie_of(look)).terrain
    if made.missing:
        return None
    at = lines(made, 0.0)
    if at is None or not at.taut.contacts:
        return None
    most = max(at.taut.contacts, key=lambda c: c.turn_rad)
    return most.index - 1


def _still_reaches(ctx: Context, k: int, drop: Drop) -> bool | None:
    """Whether every strand that hangs at a drop reaches, as it is rigged; None where one is not known."""
    for which in range(len(drop.station.states)):
        look = look_at(ctx, k, drop, which)
        lie = value(lie_of(look))
        if lie.by_bound is None or not lie.lengths:
            return None
        hanging = value(strands(look))
        if not hanging:
            return None
        surface = longest_m(lie.lengths).value + row("landings", "moving water").low
        load = value(rider_load(look))
        for r in value(reach(look, hanging, lie.by_bound, lie.lengths, load)):
            if r.role == "reserve":
                continue
            # Over moving water the end may hang so much above the surface, and no more.
            short = surface - r.low.value if r.at_surface and r.low is not None else None
            if not r.at_surface and r.spare is not None:
                short = -r.spare.value
            if short is None:
                return None
            if short > 1e-9:
                return False
    return True


@figured
def longer(ctx: Context, k: int, a: DropAssessment, unserved: str = "") -> Cell:
    """How much longer a drop may be than it is written before its rope no longer reaches: the one figure for it.

    ctx: the plan's context; k: the drop's place, from 0; a: its assessment; unserved: why nothing can be said of what
    serves it, "" where it can
    returns: by how much, rounded down to 0.1 m
    Source: J, our judgement: in the written height, its method's error kept.
    """
    drop = ctx.plan.drops[k]
    edge = _edge_shot(look_at(ctx, k, drop))

    def reaches(tenths: int) -> bool | None:
        return _still_reaches(ctx, k, drop.model_copy(update={"section": longer_section(drop, tenths / 10, edge)}))

    first = reaches(0)
    if first is None:
        why = unserved or "whether it reaches as it is written is not known"
        return Cell("longer", "not checked", "not checked", None, (Sentence("Not checked: {why}.", {}, {"why": why}),))
    most = 600
    states = zip(drop.station.states, (a, a.last) if a.last is not None else (a,), strict=False)
    spares = [least_spare_m(state.system, of.reach) for state, of in states]
    # The party's rope is no use where the last person's no longer reaches.
    guess = None if None in spares else min(s for s in spares if s is not None)
    if not first and drop.landing.kind == "moving water":
        story = Sentence("Its length is set on site; how much longer it may be is not known before.")
        return Cell("longer", "not checked", "on site", None, (story,))
    if not first:
        short = Number(guess, "length", "down") if guess is not None else None
        story = Sentence("It does not reach as it is written.")
        return Cell("longer", "fails", "too short", short, (story,))
    low, high = 0, most
    if guess is not None:
        # Told by what is to spare; held to by trying.
        low_, high_ = _around(drop, guess)
        if reaches(low_):
            low = low_
            if not reaches(high_):
                high = high_
    while high - low > 1:
        mid = (low + high) // 2
        if reaches(mid):
            low = mid
        else:
            high = mid
    number = Number(low / 10, "length", "down")
    said = "It may be {m} longer than it is written, every measure with its error, and each strand still reaches."
    return Cell("longer", "figure", "", number, (Sentence(said, {"m": number}),))


def _around(drop: Drop, spare_m: float) -> tuple[int, int]:
    """Two lengths in tenths of a metre between which a drop no longer reaches, by what is to spare."""
    section, share = drop.section, 1.0
    if isinstance(section, Quick) and section.height_m.kind == "known" and section.height_m.value:
        share = limits_m(section.height_m)[1] / section.height_m.value
    tenths = max(0, math.floor(spare_m / max(share, 0.1) * 10 + 1e-6))
    return max(0, tenths - 1), tenths + 2


# How hard it pulls is told by its figure.
PULLED = ("pull.hard", "pull.unknown")


def wet(field: Field, k: int) -> Cell:
    """The pull with wet rope at its heaviest, and what then holds less.

    field: the descent; k: the station's place, from 0
    returns: how hard it then is, or what is then short
    Source: HB for wet rope, J for the bands.
    """
    drop = field.plan.drops[k]
    soaked = drop.model_copy(update={"station": drop.station.model_copy(update={"wet": "yes"})})
    look = look_at(field.ctx, k, soaked, len(drop.station.states) - 1)
    hanging, lie = value(strands(look)), value(lie_of(look))
    if look.system.kind == "none" or not hanging:
        return Cell("wet", "not checked", "not checked", None, (Sentence("No rope system is chosen."),))
    pull = pull_of(look, hanging, lie.nominal, Moved())
    if pull.worst is None:
        story = Sentence("Not checked: {why}.", {}, {"why": pull.why or "nothing is pulled"})
        return Cell("wet", "not checked", "not checked", None, (story,))
    new = [f for f in brought(field.drops[k], assess_drop(field.ctx, k, soaked, False)) if f.code not in PULLED]
    if new:
        short = [f for f in new if f.severity == "Shortfall"]
        if short:
            return Cell("wet", "fails", _word_of(short), pull.worst, tuple(titles_of(short)))
        return Cell("wet", "not checked", "not checked", pull.worst, tuple(titles_of(new)))
    marks: dict[str, Mark] = {"easy": "works", "firm": "works", "hard": "other way", "stuck": "fails"}
    mark = marks[pull.band]
    now = field.drops[k].last or field.drops[k]
    numbers = {"wet": pull.worst, **({"now": now.pull.worst} if now.pull.worst is not None else {})}
    said = "Wet, with the most friction, it takes {wet} at the hand" + (
        " instead of {now}." if len(numbers) > 1 else "."
    )
    return Cell("wet", mark, pull.band, pull.worst, (Sentence(said, numbers),))


# What holds less than is asked of it.
TOO_WEAK = (".weak", ".cascade", ".removal", ".fall", ".slips")


def trouble(a: DropAssessment) -> dict[tuple[str, str, str], Finding]:
    """What is short or not checked of a drop.

    a: its assessment
    returns: the findings by code, part and state, of one for both states under each
    Source: none, a look-up.
    """
    states = (a.state,) if a.last is None else (a.state, a.last.state)
    said = [*a.findings, *a.wide, *(a.last.wide if a.last is not None else ())]
    return {
        (f.code, f.subject.part, state): f
        for f in said
        if f.severity in ("Shortfall", "Not checked")
        for state in ((f.subject.state,) if f.subject.state else states)
    }


def brought(before: DropAssessment, after: DropAssessment) -> list[Finding]:
    """What an event brings: a shortfall that was none before, or what was checked before and is not now.

    before, after: the drop's assessments
    returns: the findings after, shortfalls first
    Source: J, our judgement: an event is held where it brings none.
    """
    was = trouble(before)
    new = {
        id(f): f
        for key, f in trouble(after).items()
        if key not in was or (f.severity == "Shortfall" and was[key].severity != "Shortfall")
    }
    return sorted(new.values(), key=lambda f: f.severity != "Shortfall")


def held(
    event: Event, before: DropAssessment, after: DropAssessment, said: Sentence, story: tuple[Sentence, ...] = ()
) -> Cell:
    """Whether a drop stands an event: it brings no new shortfall, and nothing that is not checked then.

    event: that is asked about; before, after: the drop's assessments; said: where it stands; story: told before it
    returns: the cell
    Source: J, our judgement.
    """
    new = brought(before, after)
    short = [f for f in new if f.severity == "Shortfall"]
    if short:
        return Cell(event, "fails", _word_of(short), None, (*story, *titles_of(short)))
    now = [f for f in trouble(before).values() if f.severity == "Shortfall" and f.code.endswith(TOO_WEAK)]
    if now:
        return Cell(event, "fails", "too weak now", None, (*story, *titles_of(now)))
    if new:
        return Cell(event, "not checked", "not checked", None, (*story, *titles_of(new)))
    made = holds(event, after, said)
    return replace(made, story=(*story, *made.story))


def _word_of(short: list[Finding]) -> str:
    """Shortfalls in a word or two."""
    return "too weak" if any(f.code.endswith(TOO_WEAK) for f in short) else "short"


def titles_of(findings: list[Finding]) -> list[Sentence]:
    """Findings by their titles, each once.

    findings: any
    returns: the titles
    Source: none.
    """
    return list({words(f.title): f.title for f in findings}.values())


def heavier(field: Field, k: int, heavy: Context) -> Cell:
    """Everybody heavier than was entered.

    field: the descent; k: the station's place, from 0; heavy: the plan with a heavier party
    returns: what then no longer holds
    Source: J, table of loads.
    """
    by = Number(row("loads", "heavier").high, "mass")
    if heavy.heaviest is None:
        story = Sentence("Not checked: {why}.", {}, {"why": heavy.weight_unknown})
        return Cell("heavier", "not checked", "not checked", None, (story,))
    after = assess_drop(heavy, k, field.plan.drops[k], False)
    said = Sentence("With everybody {by} heavier no part holds less than is asked of it.", {"by": by})
    return held("heavier", field.drops[k], after, said)


def holds(event: Event, a: DropAssessment, said: Sentence) -> Cell:
    """No part is too weak; what of some is not known is said as loudly.

    event: that is asked about; a: the drop's assessment then; said: where all is known
    returns: the cell
    Source: none.
    """
    unknown = [p.name for p in a.parts if p.verdict == "Not checked" and p.where == "riding"]
    if unknown:
        names = ", ".join(dict.fromkeys(unknown))
        story = (said, Sentence("Not checked: what {parts} holds.", {}, {"parts": names}))
        return Cell(event, "not checked", "not checked", None, story)
    if not a.parts:
        return Cell(event, "not checked", "not checked", None, (Sentence("Nothing is tied yet."),))
    return Cell(event, "works", "holds", None, (said,))
