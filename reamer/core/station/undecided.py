"""One open answer that decides: what is short under one answer and not under another is not checked, and asked."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import product
from typing import Literal

from reamer.core.answer.findings import Finding, worst_first
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.working import Book
from reamer.core.load.part import Part
from reamer.core.model import Rope
from reamer.core.rope.length import asked_of_places, shrinks
from reamer.core.rope.strands import ropes_of
from reamer.core.station.state import DropAssessment, assess_state, tally_of, verdict_of


@dataclass(frozen=True, slots=True)
class Answer:
    """What an open question may turn out to be: of which rope, "" for the station itself, its field, what it would be,
    and the case that it is in words."""

    rope: str
    field: str
    value: Literal["yes", "no"]
    case: str


DECIDES = "an open answer decides whether it is enough"


def _answers(rope: Rope) -> Iterator[tuple[Answer, ...]]:
    """The answers that each open question about a rope may get, where it makes a difference."""
    if rope.wet_since_measured == "unknown" and shrinks(rope)[0] > 0:
        since = "since it was measured" if rope.measured_m.kind == "known" else "since it was new"
        yield (Answer(rope.id, "wet_since_measured", "no", f"{rope.name} has not been wet {since}"),)
    for n in asked_of_places(rope):
        field = f"damage/{n}/as_now"
        place = f"the damage in {rope.name} was measured"
        yield (
            Answer(rope.id, field, "yes", f"{place} in the rope as it is now"),
            Answer(rope.id, field, "no", f"{place} before the rope got wet"),
        )


def _open(look: Look) -> list[tuple[Answer, ...]]:
    """The open questions at a station, each with the answers it may get."""
    used = dict.fromkeys(r for r in ropes_of(look.system) if r in look.ctx.ropes)
    asked = [answers for r in used for answers in _answers(look.ctx.ropes[r])]
    if look.wet == "unknown":
        asked.append((Answer("", "wet", "no", f"what is tied at {look.drop.name} stays dry"),))
    return asked


def _answered(rope: Rope, answer: Answer) -> Rope:
    """A rope of which one more thing is known."""
    if answer.field == "wet_since_measured":
        return rope.model_copy(update={"wet_since_measured": answer.value})
    at = int(answer.field.split("/")[1])
    told = [d.model_copy(update={"as_now": answer.value}) if n == at else d for n, d in enumerate(rope.damage)]
    return rope.model_copy(update={"damage": tuple(told)})


def _so(look: Look, answers: tuple[Answer, ...]) -> DropAssessment:
    """The station if that is how it is."""
    ropes, drop = dict(look.ctx.ropes), look.drop
    for answer in answers:
        if answer.rope:
            ropes[answer.rope] = _answered(ropes[answer.rope], answer)
        else:
            drop = drop.model_copy(update={"station": drop.station.model_copy(update={answer.field: answer.value})})
    ctx = replace(look.ctx, ropes=ropes, kept={})
    return assess_state(replace(look, ctx=ctx, drop=drop, book=Book(keeps=False), fixes=False))


def decided(look: Look, made: DropAssessment) -> DropAssessment:
    """A station's assessment in which a shortfall that one open answer decides is not checked, names the question and
    gives both results; a shortfall is short under every answer.

    look: the station; made: as it was assessed, each open answer taken at its worst
    returns: the assessment
    Source: J, our judgement: what nobody has answered is neither good nor bad.
    """
    if not any(f.severity == "Shortfall" for f in made.findings):
        return made
    asked = _open(look)
    findings = {id(f): f for f in made.findings}
    # One answer at a time, then all of them: the fewest that decide are named.
    cases: list[tuple[Answer, ...]] = [(a,) for answers in asked for a in answers]
    cases += [c for c in product(*asked) if len(c) > 1]
    for case in cases:
        open_still = [f for f in made.findings if findings[id(f)].severity == "Shortfall"]
        if not open_still:
            break
        so = _so(look, case)
        short = {(f.code, f.subject.part) for f in so.findings if f.severity == "Shortfall"}
        for f in open_still:
            if (f.code, f.subject.part) not in short:
                findings[id(f)] = _asked(look, f, case, so)
    if all(f.severity != "Shortfall" for f in findings.values()) and _always_short(look, made, asked):
        return made
    told = worst_first(findings[id(f)] for f in made.findings)
    parts = _parts(made, told)
    return replace(
        made, findings=told, parts=parts, tally=tally_of(told, made.wide), verdict=verdict_of(told, made.reach, parts)
    )


def _parts(made: DropAssessment, told: tuple[Finding, ...]) -> tuple[Part, ...]:
    """The parts, each judged as the findings about it are: not checked where an open answer decides."""
    was = {f.subject.part for f in made.findings if f.severity == "Shortfall"}
    still = {f.subject.part for f in told if f.severity == "Shortfall"}
    turned = {f.subject.part for f in told if f.severity == "Not checked"} & (was - still)
    return tuple(
        replace(p, verdict="Not checked", why=DECIDES) if p.verdict == "Shortfall" and p.key in turned else p
        for p in made.parts
    )


def _always_short(look: Look, made: DropAssessment, asked: list[tuple[Answer, ...]]) -> bool:
    """Whether something of what is short is short whatever the answers are: now this, now that."""
    short = {(f.code, f.subject.part) for f in made.findings if f.severity == "Shortfall"}
    return all(
        short & {(f.code, f.subject.part) for f in _so(look, case).findings if f.severity == "Shortfall"}
        for case in product(*asked)
    )


def _asked(look: Look, f: Finding, case: tuple[Answer, ...], so: DropAssessment) -> Finding:
    """A shortfall that is none in some case."""
    said, numbers = "and ".join(f"{a.case} " for a in case).strip(), f.reason.numbers
    other = next((r.spare for r in so.reach if r.key == f.subject.part and r.spare is not None), None)
    then = "that is not so"
    if other is not None and f.code == "reach.short":
        numbers, then = {**numbers, "then": Number(other.value, "length", "down")}, "it has {then} to spare"
    title = replace(f.title, template=f"{f.title.template}, unless {{case}}", words={**f.title.words, "case": said})
    why = Sentence(f"{f.reason.template} If {{case}}, {then}.", numbers, {**f.reason.words, "case": said})
    place = f"shed/ropes/#{case[0].rope}" if case[0].rope else f"drops/#{look.drop.id}/station"
    field = f"{place}/{case[0].field}"
    return replace(f, severity="Not checked", title=title, reason=why, field=field)
