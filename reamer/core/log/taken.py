"""What came along on a descent and what it went through, as the plan has it: what the log books for each thing."""

from __future__ import annotations

from collections import Counter

from reamer.core.assess import Assessment
from reamer.core.descent.ledger import carried, used
from reamer.core.log.said import stations_of
from reamer.core.model import Plan
from reamer.core.plan.log import UsedThing
from reamer.core.rope.strands import ropes_of


def taken(plan: Plan, a: Assessment) -> tuple[UsedThing, ...]:
    """Ropes with the metres that everyone rides on them, and what people have on with the metres they ride. What is
    left behind at stations is not among it.

    plan: that is followed; a: its assessment
    returns: the things; metres are None where a line's length is not known [m]
    Source: none, sums: people × the line, for every rope that is ridden at a station.
    """
    people, lines = len(plan.party), {s.drop: s.said.line_m for s in stations_of(plan, a)}
    ridden = dict[str, float | None]()
    for drop in plan.drops:
        line = lines.get(drop.id)
        for rope in {r for s in drop.station.states for r in ropes_of(s.system)}:
            pulled = {getattr(s.system, "cord", None) for s in drop.station.states}
            had = ridden.get(rope, 0.0)
            ridden[rope] = had if rope in pulled else None if line is None or had is None else had + people * line
        across = drop.station.traverse
        if across is not None:
            # Everyone goes along the traverse line, tethered to it.
            had, span = ridden.get(across.rope, 0.0), across.span_m.known
            ridden[across.rope] = None if span is None or had is None else had + people * span
    each = None if None in lines.values() else sum(n for n in lines.values() if n is not None)
    along = {*used(plan), *carried(plan)}
    made = [
        UsedThing(list="ropes", name=r.name, metres=_tenth(ridden.get(r.id, 0.0)))
        for r in plan.shed.ropes
        if r.id in along
    ]
    worn: tuple[tuple[str, Counter[str | None]], ...] = (
        ("devices", Counter(p.device for p in plan.party)),
        ("tethers", Counter(p.tether for p in plan.party)),
        ("loops", Counter(p.hitch.loop for p in plan.party if p.hitch is not None)),
    )
    for where, count in worn:
        for thing in getattr(plan.shed, where):
            if count[thing.id]:
                metres = _tenth(each) if where != "tethers" else 0.0
                made.append(UsedThing(list=where, name=thing.name, metres=metres))  # type: ignore[arg-type]
    return tuple(made)


def _tenth(metres: float | None) -> float | None:
    return None if metres is None else round(metres, 1)
