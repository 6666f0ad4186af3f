"""One drop assessed, in one state or two; and what is asked about one station alone."""

from __future__ import annotations

from dataclasses import replace

from reamer.core.anchor.inspection import inspect
from reamer.core.anchor.patterns import PatternRow, Tie, compare
from reamer.core.anchor.typical import typical_findings
from reamer.core.answer.context import Context, figured
from reamer.core.answer.findings import Finding, Heard, value, worst_first
from reamer.core.answer.look import Look, look_at
from reamer.core.answer.say import words
from reamer.core.answer.where import placed
from reamer.core.answer.working import Book
from reamer.core.load.anchors import bar
from reamer.core.model import Drop
from reamer.core.retrieval.curve import Curve, curve
from reamer.core.rope.rigged import strands
from reamer.core.station.lie import lie_of
from reamer.core.station.state import VERDICT, DropAssessment, assess_state, tally_of
from reamer.core.station.undecided import decided


@figured
def assess_drop(ctx: Context, index: int, drop: Drop, fixes: bool = True, fields: bool = True) -> DropAssessment:
    """One drop of a plan.

    ctx: the plan's context; index: the drop's place in the plan, from 0; drop: the drop, which may be a draft
    fixes: whether to look for fixes that have to be tried out, and to keep workings; without, all else is the same;
    fields: whether each finding is to name the field that settles it
    returns: the assessment, its numbers with their workings where fixes are looked for
    Source: see the functions it calls.
    """
    states, seen = drop.station.states, Heard(drop.id)
    look = Look(ctx, index, drop, 0, states[0], Book(keeps=fixes), fixes)
    seen.of(inspect(look))
    seen.of(typical_findings(look))
    party = decided(look, assess_state(look, tuple(seen.findings)))
    if len(states) == 1:
        return replace(party, findings=placed(ctx.plan, party.findings, drop)) if fields else party
    there = Look(ctx, index, drop, 1, states[1], Book("last.", fixes), fixes)
    last = decided(there, assess_state(there))
    both = _of_both(party, last)
    findings = placed(ctx.plan, both, drop) if fields else both
    tally = tally_of(findings, (*party.wide, *last.wide))
    verdict = VERDICT if party.verdict and last.verdict else ""
    return replace(party, last=last, findings=findings, tally=tally, verdict=verdict)


def _of_both(party: DropAssessment, last: DropAssessment) -> tuple[Finding, ...]:
    """The findings of both states; what holds for both is said once, of the station."""
    ours, theirs = (
        {(f.code, f.subject.part, words(f.title), words(f.reason)): f for f in d.findings} for d in (party, last)
    )
    both = [_for_both(f, theirs[k]) if k in theirs else f for k, f in ours.items()]
    return worst_first([*both, *(f for k, f in theirs.items() if k not in ours)])


def _for_both(ours: Finding, theirs: Finding) -> Finding:
    """One finding for both states, with one act for both; where one act cannot settle both, it says for whom it is."""
    made = replace(ours, subject=replace(ours.subject, state=""))
    fixes = [f for f in (ours.fix, theirs.fix) if f is not None]
    if not fixes or (len(fixes) == 2 and fixes[0].edits == fixes[1].edits):
        return made
    if len(fixes) == 2 and words(fixes[0].label) == words(fixes[1].label):
        paths = [e.path for fix in fixes for e in fix.edits]
        if all(a[: len(b)] != b for n, a in enumerate(paths) for m, b in enumerate(paths) if n != m):
            return replace(made, fix=replace(fixes[0], edits=(*fixes[0].edits, *fixes[1].edits)))
    who = [w for f, w in ((ours.fix, "the party"), (theirs.fix, "the last person")) if f is not None]
    told = [
        replace(f, label=replace(f.label, template=f"{f.label.template}, for {w}"))
        for f, w in zip(fixes, who, strict=True)
    ]
    return replace(made, fix=told[0], others=(*told[1:], *made.others))


@figured
def pull_curve(ctx: Context, index: int, drop: Drop, which: int = 0) -> Curve:
    """The whole pull of one drop: force at the hand against rope pulled.

    ctx: the plan's context; index: the drop's place, from 0; drop: the drop; which: of its station's states, from 0
    returns: points from the start to the end passing the ring, none if it is not known [N, m]
    Source: as for pull.curve.
    """
    look = look_at(ctx, index, drop, which)
    return curve(look, value(strands(look)), value(lie_of(look)).nominal)


@figured
def compare_patterns(ctx: Context, drop: Drop, which: int = 0) -> tuple[PatternRow, ...]:
    """Every pattern for the post, webbing, ring and focal point of one drop's tie.

    ctx: the plan's context; drop: the drop; which: of its station's states, from 0
    returns: one row a pattern, none if the station is not tied round a post with webbing that is there
    Source: as for patterns.wrapped.
    """
    look = look_at(ctx, 0, drop, which)
    rig = look.rig
    webbing = (ctx.webbing.get(rig.webbing) or ctx.slings.get(rig.webbing)) if rig.kind == "wrap" else None
    post = look.feature(rig.post) if rig.kind == "wrap" else None
    if rig.kind != "wrap" or webbing is None or post is None or post.kind != "post":
        return ()
    return compare(rig, Tie(post, webbing, bar(rig, ctx), look.wet, look.policies.retention))
