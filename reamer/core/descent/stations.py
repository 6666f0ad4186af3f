"""Which ropes serve each station, kept until the station or the shed changes."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Iterable
from dataclasses import dataclass, replace

from reamer.core.answer.context import Context, fingerprint, on_the_way, shared_by
from reamer.core.descent.ledger import carried, used
from reamer.core.descent.sets import MOST_ROPES, Option, Question
from reamer.core.rope.weight import mass_kg_m
from reamer.core.station.serves import Served, Serving, ridden_apart, served


class Stations:
    """What serves a station, by all that it rests on. Those asked for longest ago go when there are too many."""

    MOST = 500

    def __init__(self) -> None:
        self._held: OrderedDict[tuple[str, ...], Served] = OrderedDict()
        self._lock = threading.Lock()

    def key(self, ctx: Context, index: int) -> tuple[str, ...]:
        """All that a station's answer rests on.

        ctx: the plan's context; index: the drop's place, from 0
        returns: texts and fingerprints, alike for what is alike
        Source: none, text only.
        """
        lower = str(wants_lower(ctx))
        return (
            shared_by(ctx.plan),
            str(index),
            on_the_way(ctx, index),
            fingerprint(ctx.plan.drops[index].model_dump_json()),
            lower,
        )

    def known(self, ctx: Context, index: int) -> bool:
        """Whether a station was asked before.

        ctx: the plan's context; index: the drop's place, from 0
        returns: whether its answer is kept
        Source: none, a look-up.
        """
        with self._lock:
            return self.key(ctx, index) in self._held

    def of(self, ctx: Context, index: int) -> Served:
        """What serves a station.

        ctx: the plan's context; index: the drop's place, from 0
        returns: the sets of ropes
        Source: as for served.
        """
        key = self.key(ctx, index)
        with self._lock:
            if key in self._held:
                self._held.move_to_end(key)
                return self._held[key]
        return self._put(key, served(ctx, index, ctx.plan.drops[index], wants_lower(ctx), True))

    def with_ridden(self, ctx: Context, index: int) -> Served:
        """What serves a station, told apart by what is ridden too.

        ctx: the plan's context; index: the drop's place, from 0
        returns: the ways
        Source: as for ridden_apart.
        """
        key = (*self.key(ctx, index), "ridden apart")
        with self._lock:
            found = self._held.get(key)
        if found is not None:
            return found
        ways = ridden_apart(ctx, index, ctx.plan.drops[index])
        made = replace(self.of(ctx, index), ways=ways, lowering=tuple(w for w in ways if w.lowers))
        return self._put(key, made)

    def _put(self, key: tuple[str, ...], made: Served) -> Served:
        with self._lock:
            self._held[key] = made
            while len(self._held) > self.MOST:
                self._held.popitem(last=False)
        return made


def wants_lower(ctx: Context) -> bool:
    """Whether a lower from anywhere is asked for: it is switched on, and novices ride.

    ctx: the plan's context
    returns: whether it is
    Source: the guide's choice.
    """
    return ctx.plan.contingencies.lower and any(p.role == "novice" for p in ctx.plan.party)


@dataclass(frozen=True, slots=True)
class Asked:
    """The question which ropes to carry, with the ropes' ids by their bits; ``left_out``: ropes of the shed that are
    not chosen among, because there are too many."""

    question: Question
    ropes: tuple[str, ...]
    left_out: tuple[str, ...]

    def bits(self, ids: Iterable[str]) -> int:
        """A set of ropes as bits; what is not among them is left out.

        ids: of ropes
        returns: the bits
        Source: none.
        """
        wanted = set(ids)
        return sum(1 << i for i, r in enumerate(self.ropes) if r in wanted)

    def ids(self, bits: int) -> tuple[str, ...]:
        """A set of ropes by their ids.

        bits: the set
        returns: ids in the order of the shed
        Source: none.
        """
        return tuple(r for i, r in enumerate(self.ropes) if bits >> i & 1)


def rope_weight(ctx: Context, rope_id: str) -> float | None:
    """What a rope weighs, dry, at the high end.

    ctx: the plan's context; rope_id: the rope's
    returns: its weight [kg], None where it is not known
    Source: as for kit.rope_kg.
    """
    rope = ctx.ropes[rope_id]
    mass, long = mass_kg_m(rope, "no"), rope.measured_m.known or rope.nominal_m.known
    return None if mass is None or long is None else mass[1] * long


def asked(ctx: Context, served_by: tuple[Served, ...]) -> Asked:
    """The plan's question: which ropes to carry.

    ctx: the plan's context; served_by: what serves each of its stations
    returns: the question
    Source: none, a translation.
    """
    plan, want = ctx.plan, ctx.plan.contingencies
    # Of too many ropes those that the plan names come first, then those that serve most.
    count = {r.id: sum(r.id in w.ropes for s in served_by for w in s.ways) for r in plan.shed.ropes}
    named = {*used(plan), *carried(plan)}
    order = sorted(plan.shed.ropes, key=lambda r: (r.id not in named, -count[r.id]))
    taken = {r.id for r in order[:MOST_ROPES]}
    ropes = tuple(r.id for r in plan.shed.ropes if r.id in taken)
    left_out = tuple(r.id for r in plan.shed.ropes if r.id not in taken)
    made = Asked(Question((), (), (), 0), ropes, left_out)

    def options(ways: tuple[Serving, ...]) -> tuple[Option, ...]:
        return tuple(Option(made.bits(w.ropes), made.bits(w.ridden)) for w in ways if w.ropes <= taken)

    question = Question(
        tuple(rope_weight(ctx, r) for r in ropes),
        tuple(options(s.ways) for s in served_by),
        tuple(options(s.lowering) for s in served_by),
        longest(served_by),
        lost=want.lost,
        stuck=want.stuck,
        lower=wants_lower(ctx),
        spare=want.spare,
        two_sets=want.two_sets,
    )
    return Asked(question, ropes, left_out)


def longest(served_by: tuple[Served, ...]) -> int:
    """The station with the longest line.

    served_by: what serves each
    returns: its place, from 0
    Source: none, a maximum.
    """
    return max(range(len(served_by)), key=lambda i: served_by[i].path_m, default=0)
