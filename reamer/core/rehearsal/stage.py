"""What a rehearsal needs to know of each station and each person, gathered once from the plan and its assessment."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from reamer.core.answer.context import Context
from reamer.core.answer.say import Number
from reamer.core.answer.verdict import Verdict
from reamer.core.answer.working import Book
from reamer.core.descent.ledger import Hung, coming_down, threaded_of
from reamer.core.model import (
    ActEdit,
    Bights,
    BlockedCord,
    BlockedSame,
    Blocking,
    Doubled,
    Drop,
    ElasticRelease,
    EndRef,
    Joined,
    Lowered,
    NoSystem,
    Plan,
    Quick,
    Releasable,
    Ring,
    State,
    System,
    Unknown,
    able,
)
from reamer.core.people.attachment import Grip, gripped
from reamer.core.people.backups import Backup, backups_of
from reamer.core.plan.limits import limits_m
from reamer.core.plan.party import order_of
from reamer.core.plan.rigs import tied_to
from reamer.core.rehearsal.world import StrandRef
from reamer.core.rope.length import real_length
from reamer.core.rope.stops import THIN, block_at, join_alone, join_together
from reamer.core.rope.strands import ridden_end, ropes_of, tied_on
from reamer.core.station.state import DropAssessment
from reamer.core.tables import row

Stance = Literal["ground", "ledge", "hanging"]
Fixed = Literal["yes", "no", "unknown"]
Above = Literal["no", "may", "unknown"]
# How long a rope is taken to be where nobody knows: only where things lie on it is then shown.
GUESS_M = 60.0
# What is tied off holds; where nothing is tied the rope runs.
HELD, RUNS = Verdict("rehearse.strand", "yes"), Verdict("rehearse.strand", "no", "runs")


@dataclass(frozen=True, slots=True)
class EndFact:
    """One end that hangs at a station: whether it may hang above the landing, how far up at the most [m, None where not
    known], whether a stopper is planned in it, how far it reaches below the ring, low and high, and how much of it lies
    on the landing at the least [m]."""

    strand: StrandRef
    above: Above
    above_m: float | None
    planned: bool
    reach_m: tuple[float, float] | None = None
    spare_m: float | None = None


@dataclass(frozen=True, slots=True)
class RopeWay:
    """One state of a station as a rehearsal needs it. ``ride``: the strands that are ridden; ``pull``, ``up``: the one
    that is pulled, and the one that goes up through the ring; ``alone``: what holds a strand by itself, and whether it
    does; ``together``: whether both in one device hold; ``bare``: whether a
    block does without the carabiner it is planned with; ``knots``: what is tied at the station, by name; ``knotted``:
    the strands that another rope is tied on to, so that whoever rides them comes past a knot."""

    which: int
    system: System
    ride: tuple[StrandRef, ...]
    pull: StrandRef | None
    up: StrandRef | None
    ropes: tuple[str, ...]
    alone: dict[StrandRef, tuple[str, Verdict]]
    together: Verdict
    bare: Verdict | None
    ends: tuple[EndFact, ...]
    knots: tuple[str, ...]
    threaded: StrandRef | None
    thin: bool
    knotted: frozenset[StrandRef] = frozenset()

    @property
    def kind(self) -> str:
        """The rope system's kind."""
        return self.system.kind

    @property
    def strands(self) -> tuple[StrandRef, ...]:
        """All that hang down, those that are ridden first."""
        return tuple(dict.fromkeys((*self.ride, *((self.pull,) if self.pull else ()))))


@dataclass(frozen=True, slots=True)
class Stage:
    """A station and the drop below it. ``stance``: what one stands on at the station; ``below``: at the landing;
    ``walk``: a way lies between the landing and the next station; ``high_m``, ``low_m``: how far one falls from the
    ring, the survey's bounds, None where not known; ``screw``: a backup is clipped for all but the last; ``over``: the
    ring is carried over the edge for the last; ``unaccepted``, ``accepted``: single points of the anchor, those that
    nobody has accepted and those that somebody has; ``named``: what they are;
    ``grips``: everybody's third hand on the party's strands and on the last person's; ``climbed``: a single pitch, one
    person at its top and to be lowered from below; ``bight``: whether a bight of its rope fits through the ring;
    ``short``: the plan has found a shortfall here."""

    index: int
    drop: Drop
    number: int
    stance: Stance
    below: Stance
    walk: bool
    water: bool
    on_site: bool
    low_m: float | None
    high_m: float | None
    ways: tuple[RopeWay, ...]
    backups: tuple[Backup, ...]
    screw: bool
    over: bool
    textile: bool
    slab: Fixed
    cut_accepted: bool
    unaccepted: tuple[str, ...]
    accepted: tuple[str, ...]
    named: dict[str, str]
    grips: dict[str, tuple[Grip, ...]]
    room: int | None
    climbed: bool
    bight: Fixed
    short: bool

    @property
    def last(self) -> RopeWay:
        """The state in which the last person finds it."""
        return self.ways[-1]

    def way(self, which: int) -> RopeWay:
        """One state; the first where none is rigged yet."""
        return self.ways[which if 0 <= which < len(self.ways) else 0]


@dataclass(frozen=True, slots=True)
class Scene:
    """The whole descent as a rehearsal needs it."""

    ctx: Context
    stages: tuple[Stage, ...]
    lengths: dict[str, float]

    @property
    def plan(self) -> Plan:
        """The plan."""
        return self.ctx.plan

    def name(self, who: str) -> str:
        """A person's name."""
        for p in self.plan.party:
            if p.id == who:
                return p.name
        return "somebody who is not in the party"

    def rope(self, rope: str) -> str:
        """A rope's name."""
        return self.ctx.ropes[rope].name if rope in self.ctx.ropes else "a rope that is not in the shed"

    def able(self, who: str) -> bool:
        """Whether somebody may be alone."""
        return any(p.id == who and able(p) for p in self.plan.party)


def scene(ctx: Context, drops: tuple[DropAssessment, ...], kept: Scene | None = None) -> Scene:
    """Gather what a rehearsal needs.

    ctx: the plan's context; drops: as assessed; kept: another's of which nothing but the drops differs; what is alike
    is taken from it
    returns: the scene
    Source: none, look-ups.
    """
    lengths = {}
    for rope in ctx.plan.shed.ropes:
        long = real_length(rope, Book(keeps=False))
        lengths[rope.id] = GUESS_M if isinstance(long, Unknown) else long[0].value
    stages: list[Stage] = []
    arriving: tuple[EndRef, ...] = ()
    for k in range(len(ctx.plan.drops)):
        made = _stage(ctx, k, drops[k], stages[-1] if stages else None, arriving)
        old = kept.stages[k] if kept is not None and k < len(kept.stages) else None
        stages.append(old if old is not None and old == made else made)
        arriving = coming_down(made.last.system, _hanging(made.last))
    return Scene(ctx, tuple(stages), lengths)


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


def _hanging(way: RopeWay) -> list[Hung]:
    """The strands of one state as the ledger has them."""
    if isinstance(way.system, Joined):
        return [Hung(s.rope, s.end, "ride and pull", False) for s in way.ride]
    pulled = [s for s in way.strands if s not in way.ride]
    return [Hung(s.rope, s.end, "pull" if s in pulled else "ride", False) for s in way.strands]


STANDS: dict[str, Stance] = {
    "hanging stance": "hanging",
    "ledge": "ledge",
    "unknown": "hanging",
    "ground": "ground",
    "pool": "ground",
    "wading": "ground",
    "moving water": "ground",
}


def _stage(ctx: Context, k: int, a: DropAssessment, before: Stage | None, arriving: tuple[EndRef, ...]) -> Stage:
    drop, states = ctx.plan.drops[k], ctx.plan.drops[k].station.states
    told = [a, a.last or a][: len(states)]
    ways = tuple(_way(ctx, drop, n, told[n], arriving if n == 0 else ()) for n in range(len(states)))
    fall = _fall(a)
    findings = [f.code for f in a.findings]
    # Rope, device and knots are parts of a rehearsal by themselves.
    single = [p for x in told for p in x.parts if p.single and p.key.split(".")[0] not in ("rope", "device", "join")]
    loose = tuple(p.key for p in single if not p.accepted)
    good = tuple(p.key for p in single if p.accepted and p.key not in loose and p.key != "block")
    threads = [f for f in drop.station.features if f.kind == "ice thread" and f.id in tied_to(states[0].rig)]
    at_top: Stance = "ledge" if before is None or before.walk else before.below
    walk = bool(drop.onward)
    room = drop.landing.room.known
    return Stage(
        index=k,
        drop=drop,
        number=k + 1,
        stance=at_top,
        below=STANDS[drop.landing.kind],
        walk=walk,
        water=drop.landing.kind == "moving water",
        on_site=a.water is not None and a.water.on_site,
        low_m=fall[0],
        high_m=fall[1],
        ways=ways,
        backups=backups_of(ctx, drop),
        screw=any(t.backed_up.startswith("to the rope") for t in threads),
        over=len(states) == 2 and states[0].rig != states[1].rig,
        textile="pull.textile" in findings,
        slab=_slab(drop),
        cut_accepted=_cut_accepted(drop, ways),
        unaccepted=tuple(dict.fromkeys(loose)),
        accepted=tuple(dict.fromkeys(good)),
        named={p.key: p.name for p in single},
        grips={
            p.id: tuple(
                gripped(ctx, p, tuple(ctx.ropes[s.rope] for s in w.ride if s.rope in ctx.ropes), Book(keeps=False))
                for w in ways
            )
            for p in order_of(ctx.plan, drop)
        },
        room=int(room) if room is not None else None,
        climbed=_climbed(states),
        bight=_bight(ctx, states[0]),
        short=any(f.severity == "Shortfall" for f in a.findings),
    )


def _climbed(states: tuple[State, ...]) -> bool:
    """Whether a station is a single pitch to be lowered from its top."""
    system = states[0].system
    return len(states) == 1 and isinstance(system, Lowered) and system.from_top


def _bight(ctx: Context, state: State) -> Fixed:
    """Whether a bight of the rope fits through the ring: 2·d over its clear opening. Source: P, common practice, no
    source."""
    system, ring = state.system, _ring(ctx, state)
    rope = ctx.ropes.get(system.rope) if isinstance(system, Lowered) else None
    d = rope.diameter_mm.known if rope is not None else None
    opening = ring.opening_mm.known if ring is not None else None
    if d is None or opening is None:
        return "unknown"
    return "yes" if 2 * d <= opening + 1e-9 else "no"


def _fall(a: DropAssessment) -> tuple[float | None, float | None]:
    """How far it is from the ring to the landing at the survey's bounds [m]."""
    if a.taut is None or a.height is None:
        return None, None
    line = a.draped or a.taut
    more, less = line.high.value - line.nominal.value, line.nominal.value - line.low.value
    return max(0.0, a.height.value - less), a.height.value + more


def _slab(drop: Drop) -> Fixed:
    """Whether the ground below the station is so low-angled that a pre-rigged partner is pulled to the rock."""
    limit, section = row("people", "slab").high, drop.section
    if isinstance(section, Quick):
        at = section.face_deg.known
        return "unknown" if at is None else "yes" if at < limit else "no"
    down, out = 0.0, 0.0
    for shot in section.shots:
        long, incl = shot.slope_m.known, shot.incl_deg.known
        if long is None or incl is None:
            return "unknown"
        down, out = down - long * math.sin(math.radians(incl)), out + long * math.cos(math.radians(incl))
    return "yes" if math.degrees(math.atan2(down, max(out, 1e-9))) < limit else "no"


def _cut_accepted(drop: Drop, ways: tuple[RopeWay, ...]) -> bool:
    """Whether a cut strand is accepted: not at a sharp or unknown edge, nor at a coarse one where people swing or are
    lowered."""
    section = drop.section
    edges = [section.edge] if isinstance(section, Quick) else [s.edge for s in section.shots[:-1]]
    pads = [section.padded] if isinstance(section, Quick) else [s.padded for s in section.shots[:-1]]
    bare = [e for e, padded in zip(edges, pads, strict=True) if not padded]
    if any(e in ("sharp", "unknown") for e in bare):
        return False
    aside = drop.landing.aside_m.known
    moves = aside is None or aside > 0 or any(w.kind in ("lowered", "releasable") for w in ways)
    return not ("coarse" in bare and moves)


def _way(ctx: Context, drop: Drop, n: int, a: DropAssessment, arriving: tuple[EndRef, ...]) -> RopeWay:
    state = drop.station.states[n]
    system = state.system
    ride, pull, up = _strands(system)
    end = threaded_of(state, arriving) if system.kind != "none" else None
    alone, together, thin = _fixed(ctx, state)
    return RopeWay(
        which=n,
        system=system,
        ride=ride,
        pull=pull,
        up=up,
        ropes=tuple(dict.fromkeys(ropes_of(system))),
        alone=alone,
        together=together,
        bare=_bare(ctx, state),
        ends=tuple(_end(drop, state, a, s) for s in dict.fromkeys((*ride, *((pull,) if pull else ())))),
        knots=KNOTS[system.kind],
        threaded=StrandRef(end.rope, end.end) if end is not None else None,
        thin=thin,
        knotted=frozenset(ride if tied_on(system) is not None else ()),
    )


KNOTS: dict[str, tuple[str, ...]] = {
    "none": (),
    "doubled": (),
    "joined": ("join",),
    "blocked, same rope": ("block",),
    "blocked, pull cord": ("join", "block"),
    "releasable": ("tie-off",),
    "elastic-release device": ("device knot",),
    "alternating bights": ("bights",),
    "lowered": (),
}


def _other(s: StrandRef) -> StrandRef:
    return StrandRef(s.rope, "a" if s.end == "b" else "b")


def _strands(system: System) -> tuple[tuple[StrandRef, ...], StrandRef | None, StrandRef | None]:
    """What is ridden, what is pulled, what goes up through the ring."""
    match system:
        case Doubled():
            a, b = StrandRef(system.rope, "a"), StrandRef(system.rope, "b")
            pull = StrandRef(system.rope, system.pulled_end)
            return (a, b), pull, _other(pull)
        case Joined():
            one, two = StrandRef(system.through, system.through_end), StrandRef(system.other, system.other_end)
            return (one, two), (two, one)[system.pulled == "through"], (one, two)[system.pulled == "through"]
        case BlockedSame():
            hangs = _ridden(system)
            return (hangs,), _other(StrandRef(system.rope, system.ridden_end)), hangs
        case BlockedCord():
            hangs = _ridden(system)
            return (hangs,), StrandRef(system.cord, system.cord_end), hangs
        case Bights():
            s = StrandRef(system.rope, system.ridden_end)
            other = _other(s) if system.other is None else StrandRef(system.other, system.other_end)
            return (s,), other, None
        case Releasable() | ElasticRelease():
            return (_ridden(system),), None, None
        case Lowered():
            return (StrandRef(system.rope, system.end),), None, None
        case NoSystem():
            return (), None, None


def _ridden(system: BlockedSame | BlockedCord | Releasable | ElasticRelease) -> StrandRef:
    end = ridden_end(system)
    return StrandRef(end.rope, end.end)


def _end(drop: Drop, state: State, a: DropAssessment, s: StrandRef) -> EndFact:
    planned = any(ref.rope == s.rope and ref.end == s.end for ref in getattr(state.system, "stoppers", ()))
    reach = next((r for r in a.reach if r.rope == s.rope and r.end == s.end), None)
    if reach is None or reach.low is None or a.taut is None:
        return EndFact(s, "unknown", None, planned)
    long = (reach.low.value, (reach.high or reach.low).value)
    if reach.at_surface:
        return EndFact(s, "no", None, planned, long)
    far = max(line.high.value for line in (a.taut, a.draped) if line is not None)
    if drop.station.deviations and reach.need is not None:
        far = max(far, reach.need.value)
    above = far - reach.low.value
    return EndFact(s, "may" if above > 1e-9 else "no", max(0.0, above), planned, long, max(0.0, -above))


def _fixed(ctx: Context, state: State) -> tuple[dict[StrandRef, tuple[str, Verdict]], Verdict, bool]:
    """What holds each strand by itself, whether both together hold, and whether the thin rope runs through the ring.

    Source: P, the table of rope systems; J, table of knots for what a ring stops."""
    system, ring = state.system, _ring(ctx, state)
    ride, book = _strands(system)[0], Book(keeps=False)
    match system:
        case Joined():
            through, other = ctx.ropes.get(system.through), ctx.ropes.get(system.other)
            if through is None or other is None:
                gone = Verdict("join.passes", "unknown", "gone", why="a rope of this system is not in the shed")
                return {ride[0]: ("join", gone)}, gone, False
            both = join_together(system, (through, other), ring, book)
            return {ride[0]: ("join", join_alone(system, (through, other), ring, book))}, both, both.cause == THIN
        case BlockedSame() | BlockedCord():
            return {ride[0]: ("block", block_at(system, ctx.ropes.get(system.rope), ring, book))}, HELD, False
        case Releasable():
            return {ride[0]: ("tie-off", HELD)}, HELD, False
        case Bights():
            tied = HELD if system.last_on == "pull" else Verdict("bights.tied", "no", "ridden side")
            return {ride[0]: ("bights", tied)}, RUNS, False
        case ElasticRelease():
            return {ride[0]: ("device knot", HELD)}, HELD, False
        case Doubled():
            return {}, HELD, False
        case Lowered() | NoSystem():
            return {}, RUNS, False


def _bare(ctx: Context, state: State) -> Verdict | None:
    """Whether a block holds without the carabiner it is planned with, None where none is."""
    system = state.system
    if not isinstance(system, Blocking) or not system.carabiner:
        return None
    without = system.model_copy(update={"carabiner": False})
    return block_at(without, ctx.ropes.get(system.rope), _ring(ctx, state), Book(keeps=False))


def _ring(ctx: Context, state: State) -> Ring | None:
    """What the rope runs through, None where that is no ring of the shed."""
    ring = getattr(state.rig, "ring", None)
    return ctx.rings.get(ring) if ring else None


def fall_number(stage: Stage, depth_m: float = 0.0, high: bool = True) -> Number | None:
    """How far somebody falls who comes off so far below a station's ring.

    stage: the station; depth_m: below the ring [m]; high: the survey's upper bound
    returns: the height [m], None where the drop's is not known
    Source: none, a difference.
    """
    at = stage.high_m if high else stage.low_m
    return None if at is None else Number(max(0.0, at - depth_m), "length", "up" if high else "down")


def spread_m(drop: Drop) -> tuple[float, float] | None:
    """How far the next master point is from where one hangs, low and high [m].

    drop: whose landing it is
    returns: the limits, None where it is not measured
    Source: the survey.
    """
    away = drop.landing.next_m
    return limits_m(away) if away.kind == "known" else None
