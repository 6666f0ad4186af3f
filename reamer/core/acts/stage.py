"""What acts need to know of each station, gathered from the plan: how it is rigged, who goes when and backed up how.

What only an assessment knows, and an act does not rest on, is filled in where it is there."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Literal

from reamer.core.acts.threading import Hung, coming_down, threaded_of
from reamer.core.acts.world import StrandRef
from reamer.core.answer.context import Context
from reamer.core.answer.verdict import Verdict
from reamer.core.answer.working import Book
from reamer.core.model import (
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
from reamer.core.people.attachment import Grip
from reamer.core.people.backups import Backup, backups_of
from reamer.core.plan.rigs import tied_to
from reamer.core.rope.length import real_length
from reamer.core.rope.stops import THIN, block_at, join_alone, join_together
from reamer.core.rope.strands import ridden_end, ropes_of, tied_on
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
    ways: tuple[RopeWay, ...]
    backups: tuple[Backup, ...]
    screw: bool
    over: bool
    slab: Fixed
    cut_accepted: bool
    room: int | None
    climbed: bool
    bight: Fixed
    on_site: bool = False
    low_m: float | None = None
    high_m: float | None = None
    textile: bool = False
    unaccepted: tuple[str, ...] = ()
    accepted: tuple[str, ...] = ()
    named: dict[str, str] = field(default_factory=dict)
    grips: dict[str, tuple[Grip, ...]] = field(default_factory=dict)
    short: bool = False

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


def scene_of(ctx: Context) -> Scene:
    """Every station as it is planned, with nothing of an assessment.

    ctx: the plan's context
    returns: the scene
    Source: none, look-ups.
    """
    stages: list[Stage] = []
    arriving: tuple[EndRef, ...] = ()
    for k in range(len(ctx.plan.drops)):
        stages.append(stage_of(ctx, k, stages[-1] if stages else None, arriving))
        arriving = coming_down(stages[-1].last.system, _hanging(stages[-1].last))
    return Scene(ctx, tuple(stages), lengths_of(ctx))


def lengths_of(ctx: Context) -> dict[str, float]:
    """How long each rope is, as it is drawn and threaded [m].

    ctx: the plan's context
    returns: by rope id; a guess where nobody knows
    Source: J, our judgement.
    """
    made = {}
    for rope in ctx.plan.shed.ropes:
        long = real_length(rope, Book(keeps=False))
        made[rope.id] = GUESS_M if isinstance(long, Unknown) else long[0].value
    return made


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


def stage_of(ctx: Context, k: int, before: Stage | None, arriving: tuple[EndRef, ...]) -> Stage:
    """One station as it is planned.

    ctx: the plan's context; k: the station, from 0; before: the one above, None at the first; arriving: the ends that
    come down to it, in order
    returns: the station
    Source: none, look-ups.
    """
    drop, states = ctx.plan.drops[k], ctx.plan.drops[k].station.states
    ways = tuple(_way(ctx, drop, n, arriving if n == 0 else ()) for n in range(len(states)))
    threads = [f for f in drop.station.features if f.kind == "ice thread" and f.id in tied_to(states[0].rig)]
    at_top: Stance = "ledge" if before is None or before.walk else before.below
    room = drop.landing.room.known
    return Stage(
        index=k,
        drop=drop,
        number=k + 1,
        stance=at_top,
        below=STANDS[drop.landing.kind],
        walk=bool(drop.onward),
        water=drop.landing.kind == "moving water",
        ways=ways,
        backups=backups_of(ctx, drop),
        screw=any(t.backed_up.startswith("to the rope") for t in threads),
        over=len(states) == 2 and states[0].rig != states[1].rig,
        slab=_slab(drop),
        cut_accepted=_cut_accepted(drop, ways),
        room=int(room) if room is not None else None,
        climbed=_climbed(states),
        bight=_bight(ctx, states[0]),
    )


def _way(ctx: Context, drop: Drop, n: int, arriving: tuple[EndRef, ...]) -> RopeWay:
    state = drop.station.states[n]
    system = state.system
    ride, pull, up = _strands(system)
    end = threaded_of(state, arriving) if system.kind != "none" else None
    alone, together, thin = _fixed(ctx, state)
    stoppers = getattr(system, "stoppers", ())
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
        ends=tuple(
            EndFact(s, "unknown", None, any(ref.rope == s.rope and ref.end == s.end for ref in stoppers))
            for s in dict.fromkeys((*ride, *((pull,) if pull else ())))
        ),
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
            tied = HELD if system.last_on == "pull" else Verdict("bights.tied", "no", "ride strand")
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
