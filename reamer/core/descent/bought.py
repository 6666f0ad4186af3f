"""If ropes were bought or cut for this descent: the least total length of one, two and three ropes."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from itertools import combinations_with_replacement, permutations

import numpy as np
from numpy.typing import NDArray

from reamer.core.answer.context import Context, context, figured
from reamer.core.answer.say import Number, Sentence
from reamer.core.descent.stations import wants_lower
from reamer.core.errors import Cancelled
from reamer.core.model import Known, Plan, Rope
from reamer.core.station.serves import Serving, Tried, kind_of

Grid = NDArray[np.bool_]
STEP_M = 5
# No more kinds of rope than this are tried: each pair of them is tried at each station.
MOST_KINDS = 4
MOST_ROPES = 3
LONGEST_M = 200


@dataclass(frozen=True, slots=True)
class Cut:
    """A rope to be bought or cut: like which of the shed's, and how long [m]."""

    like: str
    name: str
    length: Number


@dataclass(frozen=True, slots=True)
class ToBuy:
    """So many ropes and what they come to; none where no such number does, and ``why``."""

    count: int
    ropes: tuple[Cut, ...]
    total: Number | None
    why: Sentence | None


@dataclass(frozen=True, slots=True)
class _Way:
    """A way by the kinds of its ropes, in order: how long each must be, which are ridden, whether it lowers."""

    kinds: tuple[int, ...]
    lengths: tuple[int, ...]
    ridden: tuple[bool, ...]
    lowers: bool


def _new(like: Rope, rope_id: str, length_m: float) -> Rope:
    """A new rope, measured by tape and never wet since."""
    known = Known(kind="known", value=length_m, method="tape")
    return like.model_copy(
        update={
            "id": rope_id,
            "nominal_m": known,
            "measured_m": known,
            "wet_since_measured": "no",
            "damage": (),
            "widths": (),
        }
    )


def kinds_of(plan: Plan) -> tuple[Rope, ...]:
    """The kinds of rope in a shed, each by one of its ropes.

    plan: the plan
    returns: the first of each kind, in the order of the shed
    Source: none, grouping.
    """
    found: dict[str, Rope] = {}
    for r in plan.shed.ropes:
        found.setdefault(kind_of(r.model_copy(update={"damage": (), "widths": ()})), r)
    return tuple(found.values())[:MOST_KINDS]


def _shed(plan: Plan, ropes: tuple[Rope, ...]) -> Context:
    shed = plan.shed.model_copy(update={"ropes": (*plan.shed.ropes, *ropes)})
    return context(plan.model_copy(update={"shed": shed}))


def _least(at: Tried, way: Serving, rope: Rope, most: int) -> int:
    """The shortest on the grid that a rope of a way may be, the others as long as can be."""
    low, high = 0, most // STEP_M
    while high - low > 1:
        mid = (low + high) // 2
        at.put(_new(rope, rope.id, mid * STEP_M))
        low, high = (low, mid) if at.tried(way.states, False) is not None else (mid, high)
    at.put(rope)
    return high * STEP_M


def _ways(plan: Plan, k: int, kinds: tuple[Rope, ...], most: int) -> list[_Way]:
    """Every way of one station with one or two new ropes of these kinds, with the least lengths."""
    made: list[_Way] = []
    firsts = tuple(_new(r, f"new-{i}-a", most) for i, r in enumerate(kinds))
    seconds = tuple(_new(r, f"new-{i}-b", most) for i, r in enumerate(kinds))
    ctx = _shed(plan, (*firsts, *seconds))
    drop = plan.drops[k]
    # What the plan rigs with its own ropes is no way of new ones.
    at = Tried(ctx, k, drop)
    if any(not lie.lengths for lie in at.lies):
        return []
    singles = [((i,), (firsts[i],)) for i in range(len(kinds))]
    pairs = [((i, j), (firsts[i], seconds[j])) for i in range(len(kinds)) for j in range(i, len(kinds))]
    for names, ropes in (*singles, *pairs):
        for way in at.ways(ropes, True):
            least = tuple(_least(at, way, r, most) for r in ropes)
            ridden = tuple(r.id in way.ridden for r in ropes)
            made.append(_Way(names, least, ridden, way.lowers))
    return made


@dataclass(frozen=True, slots=True)
class _Option:
    """A way among members of a set of new ropes: their bits, those ridden, and with which lengths it stands."""

    bits: int
    ridden: int
    fits: Grid
    lowers: bool


def _options(ways: list[_Way], members: tuple[int, ...], grids: list[NDArray[np.int64]]) -> list[_Option]:
    made = []
    for w in ways:
        for some in permutations(range(len(members)), len(w.kinds)):
            if tuple(members[m] for m in some) != w.kinds:
                continue
            fits: Grid = np.ones(grids[0].shape, dtype=bool)
            for m, least in zip(some, w.lengths, strict=True):
                fits = fits & (grids[m] >= least)
            bits = sum(1 << m for m in some)
            ridden = sum(1 << m for m, rides in zip(some, w.ridden, strict=True) if rides)
            made.append(_Option(bits, ridden, fits, w.lowers))
    return made


def _serves(options: list[_Option], mask: int, shape: tuple[int, ...]) -> Grid:
    made: Grid = np.zeros(shape, dtype=bool)
    for o in options:
        if o.bits & ~mask == 0:
            made = made | o.fits
    return made


def _does(plan: Plan, every: list[list[_Option]], size: tuple[int, int, bool], shape: tuple[int, ...]) -> Grid:
    """With which lengths a set of so many new ropes meets all that is asked of it."""
    count, longest, lower = size
    want, whole = plan.contingencies, (1 << count) - 1
    serves = [{mask: _serves(o, mask, shape) for mask in range(1 << count)} for o in every]
    after: list[dict[int, Grid]] = []
    rest = {mask: np.ones(shape, dtype=bool) for mask in range(1 << count)}
    for one in reversed(serves):
        after.insert(0, rest)
        rest = {mask: rest[mask] & one[mask] for mask in rest}
    ok: Grid = np.ones(shape, dtype=bool)
    if want.lost and after:
        for r in range(count):
            ok = ok & after[0][whole & ~(1 << r)]
    good: list[list[Grid]] = []
    for k, options in enumerate(every):
        here = []
        for o in options:
            may = o.fits & (after[k][whole & ~o.bits] if want.stuck else True)
            if lower and not o.lowers:
                may = np.zeros(shape, dtype=bool)
            if want.spare and k == longest:
                for r in range(count):
                    if o.ridden >> r & 1:
                        may = may & serves[k][whole & ~(1 << r)]
            here.append(may)
        good.append(here)
    for k in range(len(every) - 2, -1, -1):
        if want.two_sets:
            for i, o in enumerate(every[k]):
                then: Grid = np.zeros(shape, dtype=bool)
                for p, following in zip(every[k + 1], good[k + 1], strict=True):
                    if not o.bits & p.bits:
                        then = then | following
                good[k][i] = good[k][i] & then
    for here in good:
        ok = ok & (np.logical_or.reduce(here) if here else np.zeros(shape, dtype=bool))
    return ok


def _best(
    plan: Plan, ways: list[list[_Way]], members: tuple[int, ...], most: int, longest: int, lower: bool
) -> tuple[int, int, tuple[int, ...]] | None:
    """The least total of a set of new ropes of these kinds, its longest, and each length."""
    axis = np.arange(STEP_M, most + 1, STEP_M, dtype=np.int64)
    grids = list(np.meshgrid(*[axis] * len(members), indexing="ij"))
    every = [_options(w, members, grids) for w in ways]
    ok = _does(plan, every, (len(members), longest, lower), grids[0].shape)
    if not ok.any():
        return None
    total, long = sum(g for g in grids), np.maximum.reduce(grids)
    places = np.flatnonzero(ok.ravel())
    key = np.lexsort((long.ravel()[places], np.asarray(total).ravel()[places]))
    at = places[key[0]]
    lengths = tuple(int(g.ravel()[at]) for g in grids)
    return sum(lengths), max(lengths), lengths


@figured
def to_buy(ctx: Context, going: Callable[[], bool] = lambda: True) -> tuple[ToBuy, ...]:
    """The least total length of one, two and three new ropes of the shed's kinds that meets all that is asked of the
    ropes, on a grid of 5 m; of equal totals the shorter longest rope.

    ctx: the plan's context; going: whether the answer is still wanted
    returns: one answer for each number of ropes
    raises: Cancelled if it is no longer wanted
    Source: none, every length on the grid; each way as the comparison has it.
    """
    plan, kinds = ctx.plan, kinds_of(ctx.plan)
    lines = [Tried(context(plan), k, d).path_m for k, d in enumerate(plan.drops)]
    most = min(LONGEST_M, STEP_M * math.ceil((2 * max(lines, default=0.0) + 12) / STEP_M))
    ways: list[list[_Way]] = []
    for k in range(len(plan.drops)):
        if not going():
            raise Cancelled
        ways.append(_ways(plan, k, kinds, most))
    longest = max(range(len(lines)), key=lambda k: lines[k], default=0)
    return tuple(_number(plan, ways, kinds, (n, most, longest), wants_lower(ctx)) for n in range(1, MOST_ROPES + 1))


def _number(
    plan: Plan, ways: list[list[_Way]], kinds: tuple[Rope, ...], size: tuple[int, int, int], lower: bool
) -> ToBuy:
    """The best of one number of ropes."""
    count, most, longest = size
    found = [
        (best, members)
        for members in combinations_with_replacement(range(len(kinds)), count)
        if (best := _best(plan, ways, members, most, longest, lower)) is not None
    ]
    if not found:
        none = next((d.name for d, w in zip(plan.drops, ways, strict=True) if not w), "")
        why = "No rope of these kinds serves {where}." if none else "So many do not meet all that is asked of them."
        return ToBuy(count, (), None, Sentence(why, {}, {"where": none}))
    (total, _, lengths), members = min(found, key=lambda f: f[0])
    cuts = sorted(zip(members, lengths, strict=True), key=lambda c: (-c[1], c[0]))
    made = tuple(Cut(kinds[m].id, kinds[m].name, Number(float(long), "length")) for m, long in cuts)
    return ToBuy(count, made, Number(float(total), "length"), None)


def bought(plan: Plan, made: ToBuy) -> Plan:
    """A plan whose shed has nothing but the ropes that would be bought, to try them in.

    plan: the plan; made: what would be bought
    returns: the plan
    Source: none.
    """
    like = {r.id: r for r in plan.shed.ropes}
    ropes = tuple(
        _new(like[c.like], f"bought-{i}", c.length.value).model_copy(update={"name": f"New {i}"})
        for i, c in enumerate(made.ropes, 1)
    )
    shed = plan.shed.model_copy(update={"ropes": ropes})
    return plan.model_copy(update={"shed": shed, "carry": plan.carry.model_copy(update={"ropes": None})})
