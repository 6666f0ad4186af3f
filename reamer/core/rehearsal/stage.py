"""What a rehearsal needs to know of each station and each person, gathered once from the plan and its assessment."""

from __future__ import annotations

from dataclasses import replace

from reamer.core.acts.stage import EndFact, RopeWay, Scene, Stage, scene_of
from reamer.core.answer.context import Context
from reamer.core.answer.working import Book
from reamer.core.model import ActEdit, Drop, Plan
from reamer.core.people.attachment import gripped
from reamer.core.plan.party import order_of
from reamer.core.station.state import DropAssessment

# How far above moving water an open end may hang [m]: common practice, no source.
ABOVE_WATER_M = 0.3


def scene(ctx: Context, drops: tuple[DropAssessment, ...], kept: Scene | None = None) -> Scene:
    """Gather what a rehearsal needs.

    ctx: the plan's context; drops: as assessed; kept: another's of which nothing but the drops differs; what is alike
    is taken from it
    returns: the scene
    Source: none, look-ups.
    """
    plain = scene_of(ctx)
    stages: list[Stage] = []
    for k, planned in enumerate(plain.stages):
        made = _assessed(ctx, planned, drops[k])
        old = kept.stages[k] if kept is not None and k < len(kept.stages) else None
        stages.append(old if old is not None and old == made else made)
    return replace(plain, stages=tuple(stages))


def alike(one: Stage, other: Stage) -> bool:
    """Whether two stages differ in the guide's edits of acts at most.

    one, other: the stages
    returns: true where everything else is the same
    Source: none, comparison.
    """
    return one is other or one == replace(other, drop=_edited(other.drop, one.drop.station.through.edits))


def _edited(drop: Drop, edits: tuple[ActEdit, ...]) -> Drop:
    through = drop.station.through.model_copy(update={"edits": edits})
    return drop.model_copy(update={"station": drop.station.model_copy(update={"through": through})})


def same_but_drops(one: Plan, other: Plan) -> bool:
    """Whether nothing differs but the drops.

    one, other: the plans
    returns: true where party, shed and all else are the same
    Source: none, comparison.
    """
    return one.model_copy(update={"drops": ()}) == other.model_copy(update={"drops": ()})


def _assessed(ctx: Context, planned: Stage, a: DropAssessment) -> Stage:
    """A station with what its assessment has found."""
    drop, states = planned.drop, planned.drop.station.states
    told = [a, a.last or a][: len(states)]
    low, high = _fall(a)
    # Rope, device and knots are parts of a rehearsal by themselves.
    single = [p for x in told for p in x.parts if p.single and p.key.split(".")[0] not in ("rope", "device", "join")]
    loose = tuple(p.key for p in single if not p.accepted)
    good = tuple(p.key for p in single if p.accepted and p.key not in loose and p.key != "block")
    return replace(
        planned,
        ways=tuple(_reached(drop, way, told[n]) for n, way in enumerate(planned.ways)),
        on_site=a.water is not None and a.water.on_site,
        low_m=low,
        high_m=high,
        textile="pull.textile" in [f.code for f in a.findings],
        unaccepted=tuple(dict.fromkeys(loose)),
        accepted=tuple(dict.fromkeys(good)),
        named={p.key: p.name for p in single},
        grips={
            p.id: tuple(
                gripped(ctx, p, tuple(ctx.ropes[s.rope] for s in w.ride if s.rope in ctx.ropes), Book(keeps=False))
                for w in planned.ways
            )
            for p in order_of(ctx.plan, drop)
        },
        short=any(f.severity == "Shortfall" for f in a.findings),
    )


def _reached(drop: Drop, way: RopeWay, a: DropAssessment) -> RopeWay:
    """One state of a station with how far its ends reach."""
    return replace(way, ends=tuple(_end(drop, e, a) for e in way.ends))


def _fall(a: DropAssessment) -> tuple[float | None, float | None]:
    """How far it is from the ring to the landing at the survey's bounds [m]."""
    if a.taut is None or a.height is None:
        return None, None
    line = a.draped or a.taut
    more, less = line.high.value - line.nominal.value, line.nominal.value - line.low.value
    return max(0.0, a.height.value - less), a.height.value + more


def _end(drop: Drop, planned: EndFact, a: DropAssessment) -> EndFact:
    s = planned.strand
    reach = next((r for r in a.reach if r.rope == s.rope and r.end == s.end), None)
    if reach is None or reach.low is None or a.taut is None:
        return planned
    long = (reach.low.value, (reach.high or reach.low).value)
    far = max(line.high.value for line in (a.taut, a.draped) if line is not None)
    if drop.station.deviations and reach.need is not None:
        far = max(far, reach.need.value)
    above = far - reach.low.value
    if reach.at_surface:
        # Set to hang just above the surface.
        high = above > ABOVE_WATER_M
        return EndFact(s, "may" if high else "no", max(0.0, above), planned.planned, long, max(0.0, -above))
    return EndFact(s, "may" if above > 1e-9 else "no", max(0.0, above), planned.planned, long, max(0.0, -above))
