"""Which ropes serve a station: every way of the comparison decided by reach, strength, block and pull, without a
sentence, a working or a fix."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from itertools import combinations
from typing import TypeVar

from reamer.core.answer.context import Context, figured
from reamer.core.answer.findings import Finding, Fix, Say, Says, listened, value
from reamer.core.answer.look import Look, look_at
from reamer.core.answer.working import Book
from reamer.core.load.aids import aids
from reamer.core.load.asked import Load, rider_load, two_riders
from reamer.core.load.path import rope_faults
from reamer.core.model import BlockedSame, Drop, EndRef, Known, Lowered, Releasable, Rig, Rope, State, System
from reamer.core.plan.edits import states_after
from reamer.core.plan.station import for_two, with_states
from reamer.core.reach.ends import Reach
from reamer.core.reach.last import candidates_for_last
from reamer.core.reach.need import LEAST_M, LONGEST_M, longest_m, ride_wanted_m
from reamer.core.reach.reach import reach
from reamer.core.reach.riding import riding_findings
from reamer.core.reach.water import water_findings
from reamer.core.retrieval.snags import caught
from reamer.core.rope.rigged import strands
from reamer.core.rope.strands import Strand, ropes_of, tied_on
from reamer.core.section.lengths import ByBound, Lengths
from reamer.core.station.comparison import Rank, rank_of
from reamer.core.station.lie import Lie, lie_of
from reamer.core.station.state import comes_down, fits
from reamer.core.station.ways import OPEN as UNSET
from reamer.core.station.ways import candidates, least_m
from reamer.core.tables import row

T = TypeVar("T")
# Findings about what is tied to are no fault of the way in which the rope is rigged.
TIE = ("anchor", "webbing", "point", "leg", "link", "loop", "section", "edge")
# Where one of these is open, nobody knows whether it reaches: such a way does not serve.
OPEN = ("reach.unknown", "section.unknown", "system.missing", "system.none", "rope.length", "ring.beyond")


@dataclass(frozen=True, slots=True)
class Serving:
    """A way that serves a station: all ropes it takes, those that are ridden, its states; ``lowers``: somebody stuck
    may be lowered from anywhere; ``on_site``: its length over moving water is found there; ``in_use``: as it is rigged
    in the plan."""

    ropes: frozenset[str]
    ridden: frozenset[str]
    states: tuple[State, ...]
    lowers: bool
    on_site: bool
    in_use: bool

    @property
    def system(self) -> System:
        """The system that the party rides."""
        return self.states[0].system


@dataclass(frozen=True, slots=True)
class Miss:
    """A way that fails by reach alone: its ropes, and by how much which of them is too short [m]; more than one where
    each is."""

    ropes: frozenset[str]
    short: tuple[tuple[str, float], ...]
    kind: str


@dataclass(frozen=True, slots=True)
class Served:
    """What serves one station: ways of which none takes all the ropes of another, and of those that lower somebody the
    like; the ways that only just do not reach; ``why``: nothing can be said of it, "" where it can; ``path_m``: the
    longest line that the rope may take there."""

    drop: str
    ways: tuple[Serving, ...]
    lowering: tuple[Serving, ...]
    misses: tuple[Miss, ...]
    why: str = ""
    path_m: float = 0.0


@dataclass(frozen=True, slots=True)
class _Fault:
    """The way has a fault of its own, with the act that would settle it, if there is one."""

    fix: Fix | None


# What is no fault of a rope that stays: nobody pulls it, so that it runs over nothing.
STAYS = ("release.convert", "pull.textile")
# By how much a strand is too short is measured, not only said.
MEASURED = ("reach.short", "release.reserve")


def _listened(question: Says[T], codes: set[str], but: tuple[str, ...] = ()) -> T | _Fault:
    """What a question works out, with the codes of what it says; the asking ends at the first fault of the way itself,
    and what is said once for the plan is none. ``but``: codes that are no fault of this way."""

    def hear(said: Say | Finding) -> _Fault | None:
        if isinstance(said, Finding) or said.once or said.code in but:
            return None
        short = said.severity == "Shortfall" and said.code not in MEASURED and said.part.split(".")[0] not in TIE
        if short or said.code in OPEN:
            return _Fault(said.fix)
        codes.add(said.code)
        return None

    return listened(question, hear)


@dataclass(frozen=True, slots=True)
class Stands:
    """How one state of a station stands: codes of what is said of it, and by how much ropes are too short [m]."""

    codes: frozenset[str]
    short: dict[str, float]


def stands(look: Look, lie: Lie, near: float, rest: Rest) -> Stands | Fix | None:
    """Whether one state of a station stands as it is rigged, asked as ``assess_state`` asks, what rules most out first.

    look: the state; lie: how rope and tie lie there; near: how much too short a rope may be and be asked on
    [m]; rest: the questions that follow reach
    returns: what is said of it; where it has a fault other than a rope that is a little too short the act that would
        settle that, None where there is none
    Source: see the functions it calls; a test holds the answers to those of assess_state.
    """
    if lie.by_bound is None or not lie.lengths:
        return None
    look, codes = replace(look, book=Book(keeps=False), fixes=False), set[str]()
    made = _listened(_reached(look, lie.by_bound, lie.lengths), codes)
    if made is None or isinstance(made, _Fault):
        return None if made is None else made.fix
    (hanging, load, reached), short = made, dict[str, float]()
    for r in reached:
        if r.spare is not None and r.spare.value < 0:
            short[r.rope] = max(short.get(r.rope, 0.0), -r.spare.value * _times(look.system))
    if short and max(short.values()) > near:
        return None
    water = _listened(water_findings(look, reached, lie.lengths), codes)
    if isinstance(water, _Fault):
        return water.fix
    asked = rest(look, hanging, lie, load)
    return Stands(asked | codes, short) if isinstance(asked, frozenset) else asked


def _reached(
    look: Look, by_bound: ByBound, lengths: Lengths
) -> Says[tuple[list[Strand], Load, tuple[Reach, ...]] | None]:
    """What hangs, what comes on it and whether it reaches; None where nothing hangs."""
    hanging = yield from strands(look)
    if not hanging:
        return None
    load = yield from two_riders(look, (yield from rider_load(look)))
    return hanging, load, (yield from reach(look, hanging, by_bound, lengths, load))


# The questions that follow reach: codes of what is said, or the fault's act, None where there is none.
Rest = Callable[[Look, list[Strand], Lie, Load], frozenset[str] | Fix | None]


def past_reach(look: Look, hanging: list[Strand], lie: Lie, load: Load) -> frozenset[str] | Fix | None:
    """The questions of ``assess_state`` that follow reach and that hang on what the ropes are, not on how long.

    look: the state; hanging: its strands; lie: how they lie; load: the rider
    returns: codes of what is said; where there is a fault the act that settles it, None where there is none
    Source: see the functions it calls.
    """
    codes = set[str]()
    made = _listened(_past_reach(look, hanging, lie, load), codes)
    return made.fix if isinstance(made, _Fault) else frozenset(codes)


def _past_reach(look: Look, hanging: list[Strand], lie: Lie, load: Load) -> Says[None]:
    ring = look.ctx.rings.get("" if look.rig.kind == "none" else look.rig.ring or "")
    yield from fits(look, hanging, ring)
    yield from comes_down(look, hanging, lie.nominal)
    yield from aids(look, load, lie.height)
    yield from caught(look, hanging)
    yield from rope_faults(look, hanging, load, ring)
    yield from riding_findings(look, hanging, ring, lie.lengths)


def _left_there(look: Look, by_bound: ByBound, lie: Lie) -> Says[bool]:
    """Whether what is ridden of a rope that stays reaches; that it holds is said on the way."""
    made = yield from _reached(look, by_bound, lie.lengths)
    if made is None:
        return False
    hanging, load, reached = made
    ring = look.ctx.rings.get("" if look.rig.kind == "none" else look.rig.ring or "")
    yield from fits(look, hanging, ring)
    yield from aids(look, load, lie.height)
    yield from rope_faults(look, hanging, load, ring)
    yield from riding_findings(look, hanging, ring, lie.lengths)
    ridden = [r for r in reached if r.role == "ride"]
    return bool(ridden) and all(r.spare is not None and r.spare.value >= 0 for r in ridden)


def _times(system: System) -> float:
    """How much longer a rope must be for a strand of it to be a metre longer."""
    return 2.0 if system.kind == "doubled" or (system.kind == "lowered" and system.belayer == "below") else 1.0


def ridden_of(system: System) -> frozenset[str]:
    """The ropes of a system that people ride or are lowered on.

    system: any
    returns: their ids
    Source: none, a look-up.
    """
    named = set(ropes_of(system))
    spare = {getattr(system, "cord", None), getattr(system, "reserve_rope", None)}
    more = tied_on(system)
    return frozenset(named - spare) | ({more.rope} if more is not None else frozenset())


class Tried:
    """One station as its ways are tried: how it lies in each of its states, what was tried before. Its context is its
    own."""

    def __init__(self, ctx: Context, index: int, drop: Drop, near: float = 0.0) -> None:
        self.near = near
        self.kinds = {r.id: kind_of(r) for r in ctx.plan.shed.ropes}
        self.after: dict[tuple[object, ...], list[tuple[System, frozenset[str]]]] = {}
        self.judged: dict[tuple[object, ...], frozenset[str] | Fix | None] = {}
        self.look = look_at(ctx, index, drop)
        self.ctx, self.drop = ctx, drop
        self.lies = [value(lie_of(look_at(ctx, index, drop, n))) for n in range(len(drop.station.states))]
        self.other_lies: dict[Rig, Lie] = {}
        self.asked: dict[tuple[int, int, int], tuple[State, Stands | Fix | None]] = {}
        self.path_m = longest_m(self.lies[0].lengths).value if self.lies[0].lengths else 0.0
        traverse = drop.station.traverse
        self.always = frozenset({traverse.rope}) if traverse is not None else frozenset[str]()
        self.misses: dict[tuple[frozenset[str], str], Miss] = {}

    def lie(self, which: int, state: State) -> Lie:
        """How rope and tie lie in a state."""
        own = min(which, len(self.lies) - 1)
        if state.rig is self.drop.station.states[own].rig:
            return self.lies[own]
        if state.rig not in self.other_lies:
            self.other_lies[state.rig] = value(lie_of(replace(self.look, state=state)))
        return self.other_lies[state.rig]

    def put(self, rope: Rope) -> None:
        """Another rope in the place of one of the same id that differs from it by its length alone."""
        self.ctx.ropes[rope.id] = rope
        self.asked.clear()

    def stands(self, look: Look) -> Stands | Fix | None:
        """How a state stands; the party's is asked once for all that may follow it for the last person."""
        state = look.state
        key = (look.which, id(state.system), id(state.rig))
        found = self.asked.get(key)
        if found is None or found[0].system is not state.system or found[0].rig is not state.rig:
            made = stands(look, self.lie(look.which, state), self.near, self.past_reach)
            found = self.asked[key] = (state, made)
        return found[1]

    def past_reach(self, look: Look, hanging: list[Strand], lie: Lie, load: Load) -> frozenset[str] | Fix | None:
        """As ``past_reach``, asked once for all ropes that are alike but for their length."""
        state, ids = look.state, ropes_of(look.system)
        text = look.system.model_dump_json(exclude={"ride_m"})
        for i in ids:
            text = text.replace(f'"{i}"', f'"{self.kinds[i]}"')
        # The last person's rope decides what of the party's is left.
        after = ids if look.which == 0 and len(look.station.states) == 2 else ()
        key = (look.which, state.serves, id(state.rig), text, len(set(ids)), bool(after))
        if key in self.judged:
            return self.judged[key]
        made = past_reach(look, hanging, lie, load)
        if not isinstance(made, Fix) or not any(f"'{i}'" in str(e.value) for i in ids for e in made.edits):
            self.judged[key] = made
        return made

    def tried(self, states: tuple[State, ...], mend: bool = True) -> Serving | None:
        """The station rigged so, in all its states, or so and with the one act that settles its only fault; None where
        it does not serve, noting by how little."""
        drop, codes, short = with_states(self.drop, *states), set[str](), dict[str, float]()
        for n, state in enumerate(states):
            got = self.stands(replace(self.look, drop=drop, which=n, state=state))
            if isinstance(got, Fix):
                after = states_after(states, self.look.states_place, got.edits) if mend else None
                return None if after is None else self.tried(after, False)
            if got is None:
                return None
            codes |= got.codes if n == 0 else set()
            short = {r: max(short.get(r, 0.0), got.short.get(r, 0.0)) for r in {*short, *got.short}}
        ropes = frozenset(r for s in states for r in ropes_of(s.system)) | self.always
        if short:
            key = (ropes, states[0].system.kind)
            self.misses.setdefault(key, Miss(ropes, tuple(sorted(short.items())), states[0].system.kind))
            return None
        lowers = states[0].system.kind == "releasable" and "release.reserve" not in codes
        ridden = frozenset(r for s in states for r in ridden_of(s.system))
        return Serving(ropes, ridden, states, lowers, "reach.on-site" in codes, False)

    def left_there(self, rope: Rope) -> bool:
        """Whether a rope may be tied off here, ridden single by everybody and left: it reaches and holds, and everybody
        can ride it. Not over moving water, where what hangs would have to be set."""
        if rope.kind == "pull cord" or self.drop.landing.kind == "moving water" or self.drop.station.together != "no":
            return False
        stopper = EndRef(rope=rope.id, end="b")
        tied = Releasable(
            kind="releasable",
            rope=rope.id,
            ridden_end="b",
            ride_m=UNSET,
            tie_off="munter-mule-overhand",
            stoppers=(stopper,),
        )
        fitting = self.long_enough(tied, "party")
        if fitting is None:
            return False
        for n, own in enumerate(self.drop.station.states):
            state = own.model_copy(update={"system": fitting})
            states = (*self.drop.station.states[:n], state, *self.drop.station.states[n + 1 :])
            look = replace(self.look, drop=with_states(self.drop, *states), which=n, state=state)
            look, lie = replace(look, book=Book(keeps=False), fixes=False), self.lie(n, state)
            if lie.by_bound is None or not lie.lengths:
                return False
            made = _listened(_left_there(look, lie.by_bound, lie), set(), STAYS)
            if isinstance(made, _Fault) or not made:
                return False
        return True

    def long_enough(self, system: System, serves: str) -> System | None:
        """A parted rope whose ride strand gets just what it needs; None where no plan can hold such a length."""
        if not isinstance(system, (BlockedSame, Releasable)):
            return system
        which = 1 if serves == "last" and len(self.lies) == 2 else 0
        there = replace(self.look, which=which, state=self.drop.station.states[which]).trying(system)
        state = there.state.model_copy(update={"serves": serves})
        need = ride_wanted_m(replace(there, state=state), self.lies[which].lengths)
        if need is None or not LEAST_M <= need <= LONGEST_M:
            return None
        return system.model_copy(update={"ride_m": Known(kind="known", value=need, method="tape")})

    def states(self, system: System, last: System | None) -> tuple[State, ...]:
        """The station with this system for everyone, or for the party and another for the last person."""
        states = self.drop.station.states
        if len(states) == 1:
            if last is None:
                return (states[0].model_copy(update={"system": system}),)
            return for_two(states[0], system, last)
        return (
            states[0].model_copy(update={"system": system}),
            states[1].model_copy(update={"system": last or system}),
        )

    def may_reach(self, system: System) -> bool:
        """Whether the ropes of a system may be long enough, or only just not; a quick look that rules out no more than
        what cannot."""
        # Over moving water the end hangs so much short of the line.
        path, ropes, most = self.path_m, self.ctx.ropes, self.near - row("landings", "moving water").low
        long = [least_m(self.ctx, ropes[r]) for r in ropes_of(system)]
        if system.kind in ("doubled", "blocked, same rope") or (system.kind == "alternating bights" and len(long) == 1):
            return long[0] >= 2 * (path - most)
        if system.kind == "releasable":
            return sum(long) >= path - most
        return min(long) >= path - most

    def ways(self, some: tuple[Rope, ...], converted: bool) -> Iterator[Serving]:
        """Every way that takes just these ropes and that serves; converted: also those that must be converted for the
        last person."""
        names = frozenset(r.id for r in some)
        ropes, cords = [r for r in some if r.kind != "pull cord"], [r for r in some if r.kind == "pull cord"]
        for system in candidates(self.look, self.path_m, ropes, cords):
            changes = isinstance(system, (Releasable, Lowered))
            if (changes and not converted) or not self.may_reach(system):
                continue
            if not changes and names != set(ropes_of(system)):
                continue
            fitting = self.long_enough(system, "party" if changes or len(self.lies) == 2 else "all")
            for states in self.conversions(fitting, names) if fitting is not None else ():
                way = self.tried(states)
                if way is not None:
                    yield way
                    break

    def conversions(self, system: System, names: frozenset[str]) -> Iterator[tuple[State, ...]]:
        """The states that a system gives the station, taking just these ropes: one that nobody can pull has another for
        the last person."""
        if not isinstance(system, (Releasable, Lowered)):
            yield self.states(system, None)
            return
        for last, ropes in self.lasts(system):
            if names == ropes and self.may_reach(last):
                yield self.states(system, last)

    def lasts(self, system: Releasable | Lowered) -> list[tuple[System, frozenset[str]]]:
        """What the last person could ride after a system, each with all ropes of both; made once for each rope."""
        rope, end = self.ctx.ropes[system.rope], system.end if isinstance(system, Lowered) else system.ridden_end
        ride = system.ride_m.known if isinstance(system, Releasable) else None
        own = frozenset(ropes_of(system))
        key = (system.kind, rope.id, end, own, ride)
        if key not in self.after:
            which = len(self.lies) - 1
            there = replace(self.look, which=which, state=self.drop.station.states[which]).trying(system)
            made = candidates_for_last(there, self.lies[which].lengths, rope, end)
            self.after[key] = [(last, own | set(ropes_of(last))) for last in made]
        return self.after[key]


def kind_of(rope: Rope) -> str:
    """What a rope is but for its name, its looks and its length: alike for ropes that do the same.

    rope: the rope
    returns: a text; a damaged rope has one of its own
    Source: none, text only.
    """
    own = {"id", "name", "nominal_m", "measured_m", "wet_since_measured", "colour", "stripe"}
    return rope.id if rope.damage else "=" + rope.model_dump_json(exclude=own).replace('"', "'")


def _least(ways: Iterable[Serving]) -> tuple[Serving, ...]:
    """Of ways those of which none takes all the ropes of another."""
    kept: list[Serving] = []
    for way in sorted(ways, key=lambda w: (len(w.ropes), not w.in_use)):
        if not any(k.ropes <= way.ropes for k in kept):
            kept.append(way)
    return tuple(kept)


@figured
def ranked(ctx: Context, index: int, drop: Drop, ropes: frozenset[str]) -> tuple[tuple[Serving, Rank], ...]:
    """Every way that serves one station with some ropes, in the order of the comparison.

    ctx: the plan's context; index: the drop's place, from 0; drop: the drop; ropes: ids of those that there are
    returns: the ways with their ranks, the first in the comparison's order first
    Source: as for compare_systems.
    """
    at = Tried(ctx, index, drop)
    if any(not lie.lengths for lie in at.lies):
        return ()
    made: list[Serving] = []
    if {r for s in drop.station.states for r in ropes_of(s.system)} <= ropes:
        own = at.tried(drop.station.states) if all(s.system.kind != "none" for s in drop.station.states) else None
        made += [replace(own, in_use=True)] if own is not None else []
    some = [r for r in ctx.plan.shed.ropes if r.id in ropes]
    seen = {(way.system.kind, ropes_of(way.system)) for way in made}
    for size in (1, 2, 3):
        for names in combinations(some, size):
            for way in at.ways(names, True):
                # As the comparison does: one way to convert a system, that with the fewest ropes.
                key = (way.system.kind, ropes_of(way.system))
                if key not in seen:
                    made.append(way)
                    seen.add(key)
    look = look_at(ctx, index, drop)
    order = [(way, rank_of(look, way.states, way.in_use)) for way in made]
    return tuple(sorted(order, key=lambda o: o[1]))


@figured
def ridden_apart(ctx: Context, index: int, drop: Drop) -> tuple[Serving, ...]:
    """Every way that serves one station, of which none takes and has people ride all the ropes of another.

    ctx: the plan's context; index: the drop's place, from 0; drop: the drop
    returns: the ways, of two or three ropes at most
    Source: as for served.
    """
    at = Tried(ctx, index, drop)
    if any(not lie.lengths for lie in at.lies):
        return ()
    made: list[Serving] = []
    for size in (1, 2, 3) if len(at.lies) == 2 or drop.landing.kind == "moving water" else (1, 2):
        for some in combinations(ctx.plan.shed.ropes, size):
            made += at.ways(some, True)
    kept: list[Serving] = []
    for way in sorted(made, key=lambda w: (len(w.ropes), len(w.ridden))):
        if not any(k.ropes <= way.ropes and k.ridden <= way.ridden and k.lowers >= way.lowers for k in kept):
            kept.append(way)
    return tuple(kept)


@figured
def served(ctx: Context, index: int, drop: Drop, lowers: bool = False, misses: bool = False) -> Served:
    """Which sets of ropes of the whole shed serve one station.

    ctx: the plan's context; index: the drop's place, from 0; drop: the drop; lowers: whether those ways are wanted too
    by which somebody stuck could be lowered; misses: and those that only just do not reach
    returns: the ways, none with more ropes than it must have
    Source: as for compare_systems, whose ways and questions these are.
    """
    at = Tried(ctx, index, drop, row("ropes", "miss.most").high if misses else 0.0)
    if not at.lies[0].lengths or any(not lie.lengths for lie in at.lies):
        return Served(drop.id, (), (), (), "its section is not whole, or where its ring hangs is unknown")
    plain: list[Serving] = []
    lowering: list[Serving] = []

    def covered(some: frozenset[str], of: list[Serving]) -> bool:
        return any(w.ropes - at.always <= some for w in of)

    own = at.tried(drop.station.states) if all(s.system.kind != "none" for s in drop.station.states) else None
    if own is not None:
        plain.append(replace(own, in_use=True))
        lowering += [replace(own, in_use=True)] if own.lowers else []
    # Where one rig serves all and the last rides as everyone, what only the last person can ride serves nobody.
    alike = len(at.lies) == 1 and drop.station.together == "no" and drop.landing.kind != "moving water"
    converted = lowers or not alike
    for size in (1, 2, 3) if converted else (1, 2):
        for some in combinations(ctx.plan.shed.ropes, size):
            names = frozenset(r.id for r in some)
            if covered(names, plain) and (not lowers or covered(names, lowering)):
                continue
            for way in at.ways(some, converted):
                if way.lowers and not covered(way.ropes - at.always, lowering):
                    lowering.append(way)
                if not covered(way.ropes - at.always, plain):
                    plain.append(way)
                if covered(names, plain) and (not lowers or covered(names, lowering)):
                    break
    near = [m for m in at.misses.values() if not any(w.ropes <= m.ropes for w in plain)]
    return Served(drop.id, _least(plain), _least(lowering), tuple(near), path_m=at.path_m)


@figured
def nearest(ctx: Context, index: int, drop: Drop, ropes: frozenset[str]) -> Miss | None:
    """The way at a station that fails by reach alone and by the least, with some ropes.

    ctx: the plan's context; index: the drop's place, from 0; drop: the drop; ropes: ids of those that there are
    returns: the way, however far it is off; None where none fails by reach alone
    Source: as for served.
    """
    some = [r for r in ctx.plan.shed.ropes if r.id in ropes]
    near = row("ropes", "miss.most").high
    while near < 2 * LONGEST_M:
        at = Tried(ctx, index, drop, near)
        if any(not lie.lengths for lie in at.lies):
            return None
        for size in (1, 2, 3):
            for names in combinations(some, size):
                for _ in at.ways(names, True):
                    pass
        if at.misses:
            return min(at.misses.values(), key=lambda m: (sum(s for _, s in m.short), m.kind))
        near *= 2
    return None
