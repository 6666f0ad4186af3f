"""Acts that settle findings, each tried out on the whole plan before it is offered."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, replace

from pydantic import ValidationError

from reamer.core.answer.codes import SEVERITIES
from reamer.core.answer.context import Context, context, figured
from reamer.core.answer.findings import Brought, Finding, Fix
from reamer.core.answer.say import Sentence, listed, words
from reamer.core.answer.wanted import go_on
from reamer.core.assess import Assessment, Kept, gathered
from reamer.core.model import Plan
from reamer.core.plan.edits import apply
from reamer.core.station.drop import assess_drop

# So many other ways are tried one after the other where a rope does not reach.
MOST_WAYS = 4
# What a finding is about: its code, drop, part and state, of one that holds at several each.
Key = tuple[str, str, str, str]


@dataclass(frozen=True, slots=True)
class OfferedActs:
    """The acts that settle one finding, told by its key."""

    finding: str
    fixes: tuple[Fix, ...]


def _keys(f: Finding, states: tuple[str, ...]) -> Iterator[Key]:
    """What a finding is about, once for each drop and state that it holds at."""
    for drop in f.drops or (f.subject.drop,):
        for state in (f.subject.state,) if f.subject.state else states:
            yield f.code, drop, f.subject.part, state


class _Said:
    """All that is said of a plan: how much of each severity or worse about each thing."""

    def __init__(self, a: Assessment) -> None:
        self.count = Counter[tuple[Key, int]]()
        self.by: dict[Key, Finding] = {}
        self.states = {d.id: ("party", "last") if d.last is not None else (d.state,) for d in a.drops}
        for f in (*a.findings, *(f for d in a.drops for f in d.findings)):
            for key in self.keys(f):
                self.by.setdefault(key, f)
                for level in range(SEVERITIES.index(f.severity), len(SEVERITIES)):
                    self.count[key, level] += 1

    def keys(self, f: Finding) -> list[Key]:
        return list(_keys(f, self.states.get(f.subject.drop, ("",))))

    def times(self, key: Key, level: int) -> int:
        """How often something is said; of a state that the station does not have, at the most of those that it has."""
        code, drop, part, state = key
        states = self.states.get(drop, ())
        if not state or not states or state in states:
            return self.count[key, level]
        return max(self.count[(code, drop, part, s), level] for s in states)


def _tried(plan_said: _Said, ctx: Context, kept: Kept, f: Finding, fix: Fix) -> Fix | None:
    """An act with what it brings; None where it does not settle its finding, brings worse than it may, or cannot be
    done."""
    go_on()
    try:
        after = gathered(context(_after(ctx.plan, fix), ctx.gear), kept)
    except (ValidationError, KeyError, IndexError, TypeError):
        return None
    now, level = _Said(after), SEVERITIES.index(f.severity)
    if all(now.times(key, level) >= plan_said.count[key, level] for key in plan_said.keys(f)):
        same = next((x for key in plan_said.keys(f) if (x := now.by.get(key)) is not None), f)
        if not fix.partly or words(same.reason) == words(f.reason):
            return None
    worst: dict[Key, int] = {}
    for (key, n), times in now.count.items():
        if times > plan_said.times(key, n) and n <= SEVERITIES.index("Caution"):
            worst[key] = min(n, worst.get(key, n))
    if any(n < SEVERITIES.index(fix.allows) for n in worst.values()):
        return None
    brings = {words(now.by[key].title): Brought(SEVERITIES[n], now.by[key].title) for key, n in worst.items()}
    order = sorted(brings.values(), key=lambda b: SEVERITIES.index(b.severity))
    return replace(fix, brings=tuple(order), instead=())


def _after(plan: Plan, fix: Fix) -> Plan:
    """A plan after an act; drops that it does not touch are the same ones, whose answers are kept."""
    made, paths = apply(plan, fix.edits), [e.path for e in fix.edits]
    if any(p[0] == "drops" and len(p) == 1 for p in paths):
        return made
    touched = {p[1] for p in paths if p[0] == "drops"}
    drops = tuple(new if i in touched else old for i, (old, new) in enumerate(zip(plan.drops, made.drops, strict=True)))
    return made.model_copy(update={"drops": drops})


def _offer(said: _Said, ctx: Context, kept: Kept, f: Finding) -> OfferedActs | None:
    """What may be offered for a finding."""
    made: list[Fix] = []
    for fix in (*((f.fix,) if f.fix is not None else ()), *f.others):
        # Of those that stand for one another the first that does.
        does = next((t for one in (fix, *fix.instead) if (t := _tried(said, ctx, kept, f, one)) is not None), None)
        if does is not None:
            made.append(does)
    return OfferedActs(f.key, tuple(made)) if made else None


def _or_otherwise(ctx: Context, kept: Kept, i: int, f: Finding) -> Finding:
    """A finding; where a rope does not reach, and no other rope in its place will do, with the best of the other ways
    that the comparison does not rule out."""
    # Where an answer is open it is asked first.
    if f.code != "reach.short" or f.severity != "Shortfall":
        return f
    drop = ctx.plan.drops[i]
    which = len(drop.station.states) - 1 if f.subject.state == "last" else 0
    label, fits = "Rig this instead: {way}, {ropes}", []
    for way in kept.comparison(ctx, i, drop, which).ways:
        if not way.in_use and way.ruled_out is None and way.fix is None:
            told = Sentence(label, {}, {"way": way.kind, "ropes": listed(way.ropes)})
            fits.append(Fix(told, way.edits, allows="Not checked"))
    some = [*((f.fix, *f.fix.instead) if f.fix is not None else ()), *fits[:MOST_WAYS]]
    return replace(f, fix=replace(some[0], instead=tuple(some[1:]))) if some else f


@figured
def offers(ctx: Context, kept: Kept, drop_id: str | None = None) -> tuple[OfferedActs, ...]:
    """The acts that settle what is said of a plan. Each was tried out: it clears its finding and adds no shortfall and
    nothing unchecked anywhere in the plan, unless it only says what is so, or rigs what was not there; what it brings
    is named with it.

    ctx: the plan's context; kept: what was assessed before, and from now on; drop_id: the drop whose own findings are
    asked with those of the whole plan, "" for those of the whole alone, None for all
    returns: an offer for each finding that has one
    Source: none, each is tried.
    """
    done = gathered(ctx, kept)
    said, findings = _Said(done), list(done.findings)
    for i, drop in enumerate(ctx.plan.drops):
        if drop_id is None or drop.id == drop_id:
            findings += [_or_otherwise(ctx, kept, i, f) for f in assess_drop(ctx, i, drop).findings]
    made = (_offer(said, ctx, kept, f) for f in findings if f.fix is not None or f.others)
    return tuple(o for o in made if o is not None)


def with_offers(a: Assessment, made: tuple[OfferedActs, ...]) -> Assessment:
    """An assessment whose findings have the acts that are offered, and no others.

    a: the assessment; made: offers for its findings
    returns: the same, each finding with its acts
    Source: none.
    """
    by = {o.finding: o.fixes for o in made}

    def put(findings: tuple[Finding, ...]) -> tuple[Finding, ...]:
        return tuple(
            replace(f, fix=next(iter(by.get(f.key, ())), None), others=by.get(f.key, ())[1:]) for f in findings
        )

    drops = tuple(replace(d, findings=put(d.findings)) for d in a.drops)
    return replace(a, findings=put(a.findings), drops=drops)
