"""The whole descent gone through: every station's order with the guide's changes, and the state after each act."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property

from reamer.core.acts.act import Act, Refused
from reamer.core.acts.acts import do
from reamer.core.acts.changed import Draft, as_changed
from reamer.core.acts.holding import Held, held
from reamer.core.acts.orders import Order, begin, order
from reamer.core.acts.own import Followed, followed
from reamer.core.acts.stage import Scene, Stage
from reamer.core.acts.world import World
from reamer.core.answer.say import Sentence
from reamer.core.rehearsal.hazards import Hazard, Seen, hazards, seen
from reamer.core.rehearsal.picture import PersonShown, Picture, picture
from reamer.core.rehearsal.stage import alike


@dataclass(slots=True)
class Glance:
    """What was asked of one state so far: who is held by what, what is hazardous, how it is drawn."""

    held: Held | None = None
    seen: tuple[Seen, ...] | None = None
    picture: Picture | None = None


@dataclass(frozen=True, slots=True)
class Played:
    """One station gone through. ``refused``: why an act cannot be done, None where it is; then the state is the one
    before it; ``before``: the state in which it begins; ``barred``: why the party does not get here with its ropes;
    ``looks``: what was asked of each state; ``schools``: the own ones that are followed here."""

    k: int
    before: World
    acts: tuple[Act, ...]
    refused: tuple[Sentence | None, ...]
    states: tuple[World, ...]
    drafts: tuple[Draft, ...]
    why: tuple[Sentence, ...]
    generated: Order
    barred: Sentence | None = None
    looks: tuple[Glance, ...] = field(default=(), compare=False, repr=False)
    schools: tuple[Followed, ...] = ()

    @property
    def after(self) -> World:
        """The state in which it is left."""
        return self.states[-1] if self.states else self.before


@dataclass(frozen=True)
class Play:
    """Every station gone through; places in the whole order count from 0 over all acts."""

    scene: Scene
    stations: tuple[Played, ...]

    @cached_property
    def hazards(self) -> tuple[Hazard, ...]:
        """Every hazard of the whole order; asked where the plan's own figures are in force."""
        return hazards([s for k in range(len(self.stations)) for s in self.sights(k)])

    def held(self, k: int, n: int) -> Held:
        """Who is held by what after an act of a station, both from 0."""
        p = self.stations[k]
        look = p.looks[n]
        if look.held is None:
            look.held = held(self.scene, p.states[n])
        return look.held

    def sights(self, k: int) -> list[tuple[Seen, ...]]:
        """What is hazardous in each state of a station, from 0."""
        p = self.stations[k]
        for n, look in enumerate(p.looks):
            if look.seen is None:
                look.seen = tuple(seen(self.scene, p.states[n], self.held(k, n)))
        return [look.seen or () for look in p.looks]

    def pictures(self, k: int) -> list[Picture]:
        """Each state of a station, from 0, as it is drawn there."""
        p, memo, made = self.stations[k], dict[object, PersonShown](), list[Picture]()
        for n, look in enumerate(p.looks):
            if look.picture is None:
                look.picture = picture(self.scene, p.states[n], k, self.held(k, n), memo)
            made.append(look.picture)
        return made

    def place(self, n: int) -> tuple[int, int]:
        """The station and the act in it, from 0, of a place in the whole order."""
        for p in self.stations:
            if n < len(p.acts):
                return p.k, n
            n -= len(p.acts)
        return len(self.stations) - 1, len(self.stations[-1].acts) - 1 if self.stations else 0


def play(scene: Scene, kept: Play | None = None, before_each: Callable[[int], None] = lambda _: None) -> Play:
    """Go through the whole descent.

    scene: the descent; kept: the same descent with another plan for some stations: what is alike is taken from it;
    before_each: called with each station's place, from 0, before it is gone through; what it raises ends it
    returns: every station
    Source: see the functions it calls.
    """
    made: list[Played] = []
    world = rule = begin(scene)
    # What is asked of a state may lie in how any station is rigged; it is kept where only acts were edited.
    before = kept.scene.stages if kept is not None else ()
    same = len(before) == len(scene.stages) and all(map(alike, scene.stages, before))
    for k in range(len(scene.stages)):
        before_each(k)
        old = kept.stations[k] if kept is not None and k < len(before) else None
        if old is not None and (old.generated.before != rule or not (same or _alike(scene.stages, before, k))):
            old = None
        if old is not None and old.before == world and scene.stages[k] == before[k]:
            made.append(old if same else replace(old, looks=tuple(Glance() for _ in old.states)))
        else:
            by_rule = old.generated if old is not None else order(scene, k, rule)
            known = old if same else None
            made.append(_barred(scene, k, world, by_rule, made) or _through(scene, k, world, by_rule, known))
        world, rule = made[-1].after, made[-1].generated.after
    return Play(scene, tuple(made))


def _alike(new: tuple[Stage, ...], old: tuple[Stage, ...], k: int) -> bool:
    """Whether the acts of a station by rule rest on the same: itself, the next, which is prepared there, and the ropes
    of those before."""
    here = all((new[j] is old[j]) if j < len(old) else False for j in range(k, min(k + 2, len(new))))
    return here and all(a.ways == b.ways for a, b in zip(new[:k], old, strict=False))


def _barred(scene: Scene, k: int, world: World, by_rule: Order, before: list[Played]) -> Played | None:
    """A station that is not reached: a rope that it wants is still above, or an earlier one is not reached."""
    why = next((p.barred for p in before if p.barred is not None), None)
    if why is None:
        wanted = {r for w in scene.stages[k].ways for r in w.ropes if r in world.ropes}
        for r in sorted(wanted):
            above = [j for j in range(k) if world.ropes[r].has(f"ring {j}")]
            if above:
                words = {"rope": scene.rope(r), "n": str(above[0] + 1)}
                why = Sentence("{rope} is still at station {n}.", {}, words)
                break
    if why is None:
        return None
    return Played(k, world, (), (), (), (), (), by_rule, why, schools=followed(scene, k, by_rule.acts))


def _through(scene: Scene, k: int, world: World, by_rule: Order, known: Played | None) -> Played:
    """``known``: the same station in a descent that differs in edits of acts at most."""
    before = world
    order_ = as_changed(scene, k, by_rule.acts)
    acts = order_.acts
    refused, states, looks = list[Sentence | None](), list[World](), list[Glance]()
    was = {a.key: n for n, a in enumerate(known.acts)} if known is not None else {}
    plain = acts == by_rule.acts and world == by_rule.before
    for n, act in enumerate(acts):
        if plain:
            world, why = by_rule.states[n], None
        else:
            try:
                world, why = do(scene, world, act), None
            except Refused as e:
                # What cannot be done stays as a draft; nothing after it is judged as if it had been.
                why = e.why
        m = was.get(act.key)
        if known is not None and m is not None and known.states[m] == world:
            world = known.states[m]
            looks.append(known.looks[m])
        else:
            looks.append(Glance())
        refused.append(why)
        states.append(world)
    drafts, every = order_.drafts, tuple(looks)
    return Played(
        k, before, acts, tuple(refused), tuple(states), drafts, by_rule.why, by_rule, None, every, order_.schools
    )
