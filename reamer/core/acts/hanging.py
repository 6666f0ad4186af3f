"""Who hangs at a station: the most at once, by its acts.

To hang is to have one's weight on the station at a hanging stance, on its rope, or while being lowered. A tether that
is clipped, leaned on or tried on a ledge, on the ground or in water does not count."""

from __future__ import annotations

import math
from contextlib import suppress
from dataclasses import dataclass, replace

from reamer.core.acts.act import Refused
from reamer.core.acts.acts import do
from reamer.core.acts.changed import as_changed
from reamer.core.acts.orders import begin, order
from reamer.core.acts.own import schools_of
from reamer.core.acts.stage import Scene, Stance, lengths_of, stage_of
from reamer.core.acts.world import Link, World
from reamer.core.answer.context import Context
from reamer.core.model import ActAdded, ActDropped, ActMoved, ActName


@dataclass(frozen=True, slots=True)
class Hangs:
    """Who hangs at a station at once, by id, where that is more than whoever rides; ``act``: after which of its acts,
    by its number from 1, 0 from the start."""

    who: tuple[str, ...] = ()
    act: int = 0


ALONE = Hangs()


def most_at_once(ctx: Context, k: int, last: bool) -> Hangs:
    """The heaviest set of people who hang at a station at once.

    ctx: the plan's context; k: the station, from 0; last: as the last person finds it, or the party
    returns: nobody where whoever rides hangs alone
    Source: P, common practice, no source.
    """
    drop = ctx.plan.drops[k]
    schools = schools_of(ctx.plan, drop.station.through.without)
    edits = (*(e for s in schools for e in s.edits), *drop.station.through.edits)
    changed_ = [e for e in edits if e.kind != "reword"]
    # Whoever is kept from going by a change is still there when the station is turned for the last.
    if any(map(_moves_somebody, changed_)) or (changed_ and last and ctx.hung_to[k]):
        return _by_acts(ctx, k, last)
    # By rule nobody goes before all are there, one rides after the other, and the last is left alone: the laws of the
    # orders hold that against the acts themselves.
    if not ctx.hung_to[k] or last:
        return ALONE
    return Hangs(tuple(p.id for p in ctx.plan.party))


# Acts that bring somebody's weight onto a station or off it.
MOVING: tuple[ActName, ...] = ("descend", "be lowered", "arrive", "walk on")


def _moves_somebody(edit: ActAdded | ActDropped | ActMoved) -> bool:
    """Whether a change of the acts can have more people hang at once than the rule has. Whatever else is changed can
    only keep somebody from going."""
    if edit.kind == "add":
        return edit.do in MOVING
    # A key names drop, person, act and what of it; an added act's key says none of them.
    return edit.act.startswith("own:") or any(f":{do}:" in edit.act for do in MOVING)


def _by_acts(ctx: Context, k: int, last: bool) -> Hangs:
    """As the acts of the station have it, with the guide's changes."""
    best, most = ALONE, 0.0
    masses = {p.id: p.mass_kg.known for p in ctx.plan.party}
    for n, (which, who) in enumerate(after_each_act(ctx, k)):
        if (which > 0) != last:
            continue
        # Of whom nobody knows the weight, the more hang the worse.
        weigh = math.fsum(1e3 if (m := masses.get(i)) is None else m for i in who)
        if len(who) > 1 and weigh > most + 1e-9:
            best, most = Hangs(who, n), weigh
    return best


def after_each_act(ctx: Context, k: int) -> list[tuple[int, tuple[str, ...]]]:
    """Who hangs at a station, as everybody comes to it and after each of its acts.

    ctx: the plan's context; k: the station, from 0
    returns: which of its states is rigged, from 0, -1 none, and who hangs
    Source: P, common practice, no source.
    """
    # What a drop is asked for rests on itself alone: not on what the others use, nor on what is carried for them.
    carry = ctx.plan.carry.model_copy(update={"ropes": tuple(r.id for r in ctx.plan.shed.ropes)})
    alone = replace(ctx, plan=ctx.plan.model_copy(update={"drops": (ctx.plan.drops[k],), "carry": carry}))
    at_top: Stance = "hanging" if ctx.hung_to[k] else "ledge"
    stage = replace(stage_of(alone, 0, None, ()), stance=at_top)
    scene = Scene(alone, (stage,), lengths_of(alone))
    world = begin(scene)
    if at_top == "hanging":
        for i, body in world.people.items():
            world = world.body(i, body.having(Link("tether", 0, "master", tested=True)))
    made = [(-1, _hang(world, at_top == "hanging"))]
    for act in as_changed(scene, 0, order(scene, 0, world).acts).acts:
        with suppress(Refused):
            world = do(scene, world, act)
        made.append((world.stations[0].which, _hang(world, at_top == "hanging")))
    return made


def _hang(world: World, stance: bool) -> tuple[str, ...]:
    """Who hangs at the one station: on its rope, and at a hanging stance whoever stands there."""
    return tuple(
        i for i, b in world.people.items() if b.at == 0 and (b.spot == "rope" or (stance and b.spot == "station"))
    )
