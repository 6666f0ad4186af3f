"""The whole descent looked at ahead: ropes to carry, what if, points of no return. It asks what serves each station,
and so takes longer than an assessment."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from reamer.core.anchor.cutting import WebbingAssessment
from reamer.core.answer.codes import Severity, settled
from reamer.core.answer.context import Context, figured
from reamer.core.answer.findings import Finding, Fix, Says, Subject, say, told_of, worst_first
from reamer.core.answer.say import Sentence, run_on
from reamer.core.answer.where import placed
from reamer.core.descent.choice import Adoption, RopeChoice, adoption, choice
from reamer.core.descent.events import matrix
from reamer.core.descent.field import Cell, Event, Field, StationEvents, place_name
from reamer.core.descent.in_hand import InHand, in_hand
from reamer.core.descent.returns import Return, returns, stations, what_if
from reamer.core.descent.stations import Asked, Stations, asked, longest
from reamer.core.descent.times import Times
from reamer.core.station.serves import ridden_of
from reamer.core.station.state import DropAssessment


@dataclass(frozen=True, slots=True)
class Prospect:
    """What lies ahead: which ropes to carry, what each event at each station leaves, the points of no return, and the
    findings about them."""

    choice: RopeChoice
    rows: tuple[StationEvents, ...]
    returns: tuple[Return, ...]
    findings: tuple[Finding, ...]


@dataclass(frozen=True, slots=True)
class Known:
    """What an assessment has worked out that the prospect stands on: the drops, the webbing to cut, the times."""

    drops: tuple[DropAssessment, ...]
    webbing: tuple[WebbingAssessment, ...]
    times: Times


def _field(ctx: Context, kept: Stations, drops: tuple[DropAssessment, ...]) -> tuple[Field, Asked]:
    """The descent with what serves each station, and its question."""
    served = [kept.of(ctx, k) for k in range(len(ctx.plan.drops))]
    if ctx.plan.contingencies.spare and served:
        far = longest(tuple(served))
        served[far] = kept.with_ridden(ctx, far)
    every = tuple(served)
    return Field(ctx, every, drops), asked(ctx, every)


@figured
def prospect(ctx: Context, kept: Stations, known: Known, going: Callable[[], bool] = lambda: True) -> Prospect:
    """Which ropes to carry, what if, and where there is no way back.

    ctx: the plan's context; kept: what serves each station, from before and from now on; known: what the assessment
    worked out; going: whether the answer is still wanted
    returns: the prospect
    raises: Cancelled if it is no longer wanted
    Source: see the functions it calls.
    """
    field, question = _field(ctx, kept, known.drops)
    chosen = choice(field, question, going)
    rows = matrix(field, known.times, known.webbing)
    found = (*told_of(_events(field, rows)), *told_of(_asked_for(field, chosen)))
    return Prospect(chosen, rows, returns(ctx.plan, rows), placed(ctx.plan, worst_first(found)))


@figured
def adopted(ctx: Context, kept: Stations, ropes: frozenset[str]) -> Adoption:
    """What carrying a set of ropes does to every station, and the act that does it.

    ctx: the plan's context; kept: what serves each station; ropes: ids of the set
    returns: the way of each station, and the act
    Source: as for adoption.
    """
    field, question = _field(ctx, kept, ())
    return adoption(field, question, ropes)


@figured
def hand(ctx: Context, kept: Stations, known: Known, k: int) -> InHand:
    """What is in hand at one station if its rope sticks.

    ctx: the plan's context; kept: what serves each station; known: what the assessment worked out; k: the station's
    place, from 0
    returns: the stretches of its pull, with what each leaves
    Source: as for in_hand.
    """
    return in_hand(ctx, _field(ctx, kept, known.drops)[0], k)


Hit = tuple[Event, StationEvents, Cell]


def _if(hits: list[Hit]) -> str:
    return what_if((event, r.number) for event, r, _ in hits)


def _events(field: Field, rows: tuple[StationEvents, ...]) -> Says[None]:
    """What a rope that sticks or is lost leads to. Source: P, common practice, no source."""
    want, plan = field.plan.contingencies, field.plan
    on = {"stuck": want.stuck, "lost": want.lost}
    every: list[Hit] = [(c.event, r, c) for r in rows for c in r.cells if c.event in on]
    hits, off = [h for h in every if on[h[0]]], [h for h in every if not on[h[0]] and h[2].mark == "strands"]
    bad = [h for h in hits if h[2].mark == "strands"]
    # Those that one act mends are said together.
    for act in dict.fromkeys(repr(c.fixes[:1]) for _, _, c in bad):
        here = [h for h in bad if repr(h[2].fixes[:1]) == act]
        tops = {c.at for _, _, c in here}
        next_ = len(tops) > 1 and all(c.at == r.number + 1 for _, r, c in here)
        top = place_name(plan, min(tops) - 1) if len(tops) == 1 else "the next station" if next_ else stations(tops)
        short = all(event == "lost" for event, _, _ in here)
        title = "{happens}, the rest is not enough at {top}" if short else "{happens}, you cannot leave {top}"
        yield _say("Shortfall", title, here, {"top": top})
    for end in dict.fromkeys(c.word for _, _, c in hits if c.mark == "way off"):
        here = [h for h in hits if h[2].word == end and h[2].mark == "way off"]
        title = "{happens}, you go out below {off}"
        yield _say("Caution", title, here, {"off": end.removeprefix("off at ")})
    open_ = [h for h in hits if h[2].mark == "not checked"]
    if open_:
        yield _say("Not checked", "Whether you get on {happens} is not checked", open_, {})
    if off:
        title = "You have not asked for it: {what}, you cannot go on"
        why = "Switch it on under Whole descent to have the ropes chosen for it."
        yield say("event.off", "Note", "ropes", title, why, what=_if(off))


def _said(code: str, severity: Severity, title: Sentence, reason: Sentence, fix: Fix | None, *drops: str) -> Finding:
    """A finding of the plan, with the stations it holds at."""
    return Finding(code, severity, Subject("", "ropes"), title, reason, "", fix, settled(code), drops)


def _say(severity: Severity, title: str, hits: list[Hit], words: dict[str, str]) -> Finding:
    """One finding for all events of which the same comes; its reason is what decides the first."""
    first = hits[0][2]
    fix, happens = first.fixes[0] if first.fixes else None, _if(hits)
    if title.startswith("{happens}"):
        happens = happens[0].upper() + happens[1:]
    said = Sentence(title, {}, {**words, "happens": happens})
    drops = dict.fromkeys(r.drop for _, r, _ in hits)
    made = _said("event.strands", severity, said, run_on(first.because or first.story), fix, *drops)
    # An act at one of many stations would settle only its own.
    return replace(made, others=first.fixes[1:]) if len(hits) == 1 else made


def _asked_for(field: Field, chosen: RopeChoice) -> Says[None]:
    """Contingencies that the plan as it stands does not meet, and a shed that nothing can be chosen from."""
    plan, want = field.plan, field.plan.contingencies
    if not plan.drops:
        return
    if chosen.chosen is None:
        title = Sentence("No set of ropes in the shed serves all of it")
        yield _said("event.none", "Not checked", title, run_on(chosen.none), None)
    if want.lower and any(p.role == "novice" for p in plan.party):
        short = [
            k
            for k, a in enumerate(field.drops)
            if not any(r.role == "reserve" and r.highest is not None and r.highest.value <= 0 for r in a.reach)
        ]
        if short:
            title = Sentence(
                "Nobody could be lowered from anywhere at {n}", {}, {"n": ", ".join(str(k + 1) for k in short)}
            )
            why = "A lower from anywhere is asked for where novices ride: a releasable rope whose reserve is as long as"
            at = (plan.drops[k].id for k in short)
            yield _said("event.lower", "Shortfall", title, Sentence(why + " the path."), None, *at)
    if want.spare and field.served:
        yield from _spare(field)


def _spare(field: Field) -> Says[None]:
    """The longest drop once any one of its ridden ropes is gone."""
    k = longest(field.served)
    drop = field.plan.drops[k]
    ridden = frozenset(r for s in drop.station.states for r in ridden_of(s.system))
    bad = [r for r in sorted(ridden) if field.way(k, field.carried - {r}) is None]
    if not bad:
        return
    add = field.more(lambda some: all(field.way(k, some - {r}) is not None for r in ridden))
    words = {"where": place_name(field.plan, k), "rope": field.name(bad[0])}
    title = Sentence("{where}, the longest drop, cannot be done without {rope}", {}, words)
    why = Sentence("A spare for it is asked for: it is to be served with any one of its ridden ropes gone before it.")
    fix = field.carry(add) if add else None
    yield _said("event.spare", "Shortfall", title, why, fix, drop.id)
