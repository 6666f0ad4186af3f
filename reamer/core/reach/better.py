"""The change of a system after which every strand reaches."""

from __future__ import annotations

import math
from dataclasses import replace

from reamer.core.answer.findings import Fix
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.working import Book
from reamer.core.model import Bights, BlockedCord, BlockedSame, EndRef, Joined, Known, Releasable, Rigged, Rope, System
from reamer.core.plan.edits import Place
from reamer.core.reach.last import all_reach
from reamer.core.reach.need import LEAST_M, LONGEST_M, need_of, ride_wanted_m
from reamer.core.rope.length import real_length
from reamer.core.rope.strands import Strand, ropes_of
from reamer.core.section.lengths import Lengths
from reamer.core.tables import row

# So many ropes are tried one after the other before no act is offered.
MOST_TRIED = 4


def _least_m(look: Look, rope: Rope) -> float | None:
    """A rope's real length at its low end [m]."""
    length = look.ctx.once(("length", rope.id), (rope,), Book(), lambda own: real_length(rope, own))
    return length[0].value if isinstance(length, tuple) else None


def more_reserve(look: Look, lengths: Lengths) -> Fix | None:
    """The shortest rope of the shed after which a lower reaches from anywhere: instead of the ridden one, for the last
    person too, or else joined on behind.

    look: the station; lengths: of the lines [m]
    returns: the fix, None if no rope does
    Source: see need_of.
    """
    system = look.system
    if not isinstance(system, Releasable):
        return None
    fits: list[tuple[tuple[int, float, str], Fix]] = []
    beside = [
        (look.at(i), s.system)
        for i, s in enumerate(look.station.states)
        if i != look.which and s.system.kind != "none" and system.rope in ropes_of(s.system)
    ]
    for rope in look.ctx.ropes.values():
        length = _least_m(look, rope)
        if rope.id in ropes_of(system) or rope.kind == "pull cord" or length is None:
            continue
        new = _swap(system, system.rope, rope.id)
        others = [(there, _swap(s, system.rope, rope.id)) for there, s in beside]
        if all_reach(look, new, lengths) and all(all_reach(there, s, lengths) for there, s in others):
            edits = [at.place.at(lambda state: state.system).set(s) for at, s in [(look, new), *others]]
            label = "Use {rope} instead" + (", for the last person too" if beside else "")
            fits.append(((0, length, rope.id), Fix(Sentence(label, {}, {"rope": rope.name}), tuple(edits))))
        if all_reach(look, system.model_copy(update={"reserve_rope": rope.id}), lengths):
            edit = look.system_as(Releasable).at(lambda s: s.reserve_rope).set(rope.id)
            label = "Join {rope} on behind the reserve"
            fits.append(((1, length, rope.id), Fix(Sentence(label, {}, {"rope": rope.name}), (edit,))))
    return _best(fits)


def _best(fits: list[tuple[tuple[int, float, str], Fix]]) -> Fix | None:
    """The first in order, with the next few to be tried instead."""
    order = [fix for _, fix in sorted(fits, key=lambda f: f[0])[:MOST_TRIED]]
    return replace(order[0], instead=tuple(order[1:])) if order else None


def _swap(system: System, old: str, new: str) -> System:
    """A system with another rope in one's place, and that one's stoppers in it."""
    fields: dict[str, object] = {
        k: new for k in ("rope", "through", "other", "cord", "reserve_rope") if getattr(system, k, None) == old
    }
    if system.kind != "none":
        fields["stoppers"] = tuple(EndRef(rope=new, end=r.end) if r.rope == old else r for r in system.stoppers)
    return system.model_copy(update=fields)


def _give(look: Look, ride_m: float) -> Fix:
    """So much rope for the ride strand."""
    edit = look.system_as(BlockedSame).at(lambda s: s.ride_m).set(Known(kind="known", value=ride_m, method="tape"))
    return Fix(Sentence("Give the ride strand {ride}", {"ride": Number(ride_m, "length", "up")}), (edit,))


def decide_ride(look: Look, lengths: Lengths) -> Fix | None:
    """What to give a ride strand of which nobody has decided the length.

    look: the station; lengths: of the lines [m]
    returns: the fix, None where it is decided or cannot be
    Source: see ride_wanted_m.
    """
    system = look.system
    if not isinstance(system, (BlockedSame, Releasable)) or system.ride_m.kind == "known":
        return None
    wanted = ride_wanted_m(look, lengths)
    return _give(look, wanted) if wanted is not None and LEAST_M <= wanted <= LONGEST_M else None


def longer_rope(look: Look, s: Strand, lengths: Lengths) -> Fix | None:
    """The change of this system after which every strand reaches: more rope to the ride strand, or the shortest
    other rope of the shed. Each candidate is worked out like the plan's own system before it is offered.

    look: the station; s: the strand that does not reach; lengths: of the lines [m]
    returns: the fix, None if nothing does
    Source: see need_of.
    """
    system = look.system
    if system.kind == "none":
        return None
    if isinstance(system, (BlockedSame, Releasable)) and s.role == "ride" and system.ride_m.kind == "known":
        need, _ = need_of(look, s, lengths)
        if need is not None:
            wanted = min(LONGEST_M, math.ceil(need.value / (1 - row("methods", "tape").high) * 10) / 10)
            ride = Known(kind="known", value=wanted, method="tape")
            if all_reach(look, system.model_copy(update={"ride_m": ride}), lengths):
                return _give(look, wanted)
    name, place = _slot(look, system, s.rope.id)
    fits: list[tuple[tuple[int, float, str], Fix]] = []
    for rope in look.ctx.ropes.values():
        length = _least_m(look, rope)
        if rope.id in ropes_of(system) or (rope.kind == "pull cord") != (name == "cord") or length is None:
            continue
        stoppers = tuple(EndRef(rope=rope.id, end=r.end) if r.rope == s.rope.id else r for r in system.stoppers)
        if all_reach(look, system.model_copy(update={name: rope.id, "stoppers": stoppers}), lengths):
            edits = [place.set(rope.id)]
            if stoppers != system.stoppers:
                edits.append(look.stoppers_place.set(stoppers))
            fix = Fix(Sentence("Use {rope} instead", {}, {"rope": rope.name}), tuple(edits))
            fits.append(((0, length, rope.id), fix))
    return _best(fits)


def _slot(look: Look, system: Rigged, rope_id: str) -> tuple[str, Place[str]]:
    """The field of a system that names a rope, and its place."""
    if isinstance(system, Joined):
        place = look.system_as(Joined)
        through = system.through == rope_id
        return ("through", place.at(lambda s: s.through)) if through else ("other", place.at(lambda s: s.other))
    if isinstance(system, BlockedCord) and system.cord == rope_id:
        return "cord", look.system_as(BlockedCord).at(lambda s: s.cord)
    if isinstance(system, Bights) and system.other == rope_id:
        return "other", look.system_as(Joined).at(lambda s: s.other)
    return "rope", look.system_as(BlockedSame).at(lambda s: s.rope)
