"""Every rope system that a kit allows at a station."""

from __future__ import annotations

from collections.abc import Iterator

from reamer.core.answer.context import Context
from reamer.core.answer.look import Look
from reamer.core.answer.working import Book
from reamer.core.model import (
    Bights,
    BlockedCord,
    BlockedSame,
    Capacity,
    Doubled,
    ElasticRelease,
    EndRef,
    Figure,
    Joined,
    Known,
    Lowered,
    Releasable,
    Rope,
    RopeEnd,
    System,
    Unknown,
)
from reamer.core.rope.length import real_length
from reamer.core.rope.strands import ropes_of
from reamer.core.tables import row

# Of a kit with more ropes only those are compared that may reach, the shortest first.
MANY = 5
OPEN = Unknown(kind="unknown", why="not decided")


def candidates(look: Look, path_m: float, ropes: list[Rope], cords: list[Rope]) -> Iterator[System]:
    """Every system the kit allows; what the guide has decided in the one in use is kept.

    look: the station; path_m: the longest line [m]; ropes, cords: to compare
    returns: the systems
    Source: P, common practice, no source.
    """
    yield from (_doubled(look, r) for r in ropes)
    for i, a in enumerate(ropes):
        for b in ropes[:i]:
            # The thicker rope goes through the ring; of unknown ones the first in the shed.
            through, other = (a, b) if _thick(a) > _thick(b) else (b, a)
            yield _joined(look, through, other)
            yield _bights(look, through, other)
    for r in ropes:
        yield from _single(look, path_m, r, ropes, cords)


def _stopped(look: Look, *ends: tuple[Rope, RopeEnd]) -> tuple[EndRef, ...]:
    """Stoppers in these ends; over moving water none."""
    water = look.drop.landing.kind == "moving water"
    return () if water else tuple(EndRef(rope=r.id, end=e) for r, e in ends)


def _decided(value: float) -> Known:
    return Known(kind="known", value=value, method="given")


def _tails(old: System) -> Figure:
    kept = old.tails_m if isinstance(old, (Joined, BlockedCord)) else None
    return kept or _decided(row("knots", "tail.join").high)


def _by_mark(rope: Rope) -> bool:
    return rope.middle_mark and rope.middle_off_m.kind == "known"


def _doubled(look: Look, r: Rope) -> Doubled:
    old = look.system if isinstance(look.system, Doubled) else None
    return Doubled(
        kind="doubled",
        rope=r.id,
        middle_by=old.middle_by if old and old.rope == r.id else "mark" if _by_mark(r) else "ends run together",
        pulled_end=old.pulled_end if old else "b",
        stoppers=_stopped(look, (r, "a"), (r, "b")),
    )


def _joined(look: Look, through: Rope, other: Rope) -> Joined:
    old = look.system
    return Joined(
        kind="joined",
        through=through.id,
        through_end="b",
        other=other.id,
        other_end="b",
        tails_m=_tails(old),
        knot=old.knot if isinstance(old, (Joined, BlockedCord)) else look.policies.join,
        stoppers=_stopped(look, (through, "b"), (other, "b")),
    )


def _bights(look: Look, r: Rope, other: Rope | None) -> Bights:
    least, most, last = (row("knots", f"bights.{k}") for k in ("least", "most", "last"))
    return Bights(
        kind="alternating bights",
        rope=r.id,
        ridden_end="b",
        other=other.id if other else None,
        other_end="b",
        middle_by="mark" if other or _by_mark(r) else "ends run together",
        bights=_decided((least.low + most.high) // 2),
        last_m=_decided(last.high),
        stoppers=_stopped(look, (r, "b")),
    )


def _single(look: Look, path_m: float, r: Rope, ropes: list[Rope], cords: list[Rope]) -> Iterator[System]:
    """Every way to ride one rope on one strand."""
    old, stoppers, ctx = look.system, _stopped(look, (r, "b")), look.ctx
    block = old if isinstance(old, (BlockedSame, BlockedCord)) else None
    holds: Capacity = block.block_holds if block else Unknown(kind="unknown", why="not tested")
    same = BlockedSame(
        kind="blocked, same rope",
        rope=r.id,
        ridden_end="b",
        ride_m=OPEN,
        block=block.block if block else "figure eight",
        carabiner=block.carabiner if block else True,
        block_holds=holds,
        stoppers=stoppers,
    )
    yield same
    for c in (*cords, *(c for c in ropes if c is not r)):
        # A second full rope is the usual pull line of a long drop.
        yield BlockedCord(
            kind="blocked, pull cord",
            rope=r.id,
            ridden_end="b",
            cord=c.id,
            cord_end="b",
            tails_m=_tails(old),
            knot=old.knot if isinstance(old, (Joined, BlockedCord)) else look.policies.join,
            block=same.block,
            carabiner=same.carabiner,
            block_holds=holds,
            stoppers=stoppers,
        )
    alone = Releasable(
        kind="releasable", rope=r.id, ridden_end="b", ride_m=OPEN, tie_off="munter-mule-overhand", stoppers=stoppers
    )
    yield alone
    # Where its own reserve is too short, the shortest rope that makes it long enough is joined on.
    own = least_m(ctx, r)
    longer = [m for m in ropes if m is not r and least_m(ctx, m) + own > 2 * path_m > own > path_m]
    if longer:
        yield alone.model_copy(update={"reserve_rope": min(longer, key=lambda m: least_m(ctx, m)).id})
    yield Lowered(kind="lowered", rope=r.id, end="b", belayer="above", far_end_closed=True)
    yield Lowered(kind="lowered", rope=r.id, end="b", belayer="below", far_end_closed=True)
    yield _bights(look, r, None)
    for d in look.plan.shed.devices:
        if d.use == "elastic release":
            yield ElasticRelease(
                kind="elastic-release device", rope=r.id, ridden_end="b", device=d.id, stoppers=stoppers
            )


def least_m(ctx: Context, rope: Rope) -> float:
    """The least length a rope has.

    ctx: the plan's context; rope: the rope
    returns: its real length at the low end, 0 where it is not known [m]
    Source: see real_length.
    """
    length = ctx.once(("length", rope.id), (rope,), Book(keeps=False), lambda own: real_length(rope, own))
    return 0.0 if isinstance(length, Unknown) else length[0].value


def in_view(look: Look, path_m: float) -> tuple[list[Rope], list[Rope], int]:
    """The ropes and the cords to compare.

    look: the station; path_m: the longest line [m]
    returns: ropes, cords, and how many of the kit are left out
    Source: J, our judgement.
    """
    ctx, every, named = look.ctx, look.plan.shed.ropes, ropes_of(look.system)
    made: list[list[Rope]] = []
    for some in ([r for r in every if r.kind != "pull cord"], [r for r in every if r.kind == "pull cord"]):
        if len(some) > MANY:
            long = sorted((r for r in some if least_m(ctx, r) >= path_m / 2), key=lambda r: least_m(ctx, r))
            enough = [r for r in long if least_m(ctx, r) >= path_m]
            short = [r for r in long if r not in enough][-2:]
            kept = {r.id for r in (*short, *enough[: MANY - 2], *enough[-1:])} | set(named)
            some = [r for r in some if r.id in kept]
        made.append(some)
    return made[0], made[1], len(every) - len(made[0]) - len(made[1])


def _thick(rope: Rope) -> float:
    return rope.diameter_mm.known or 0.0
