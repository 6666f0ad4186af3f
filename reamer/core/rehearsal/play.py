"""The whole descent gone through: every station's order with the guide's changes, and the state after each act."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property

from reamer.core.answer.say import Sentence
from reamer.core.rehearsal.acts import Act, Refused, do
from reamer.core.rehearsal.changed import Draft, changed
from reamer.core.rehearsal.hazards import Hazard, Seen, hazards, seen
from reamer.core.rehearsal.orders import Order, begin, order
from reamer.core.rehearsal.stage import Scene, Stage
from reamer.core.rehearsal.world import World


@dataclass(frozen=True, slots=True)
class Played:
    """One station gone through. ``refused``: why an act cannot be done, None where it is; then the state is the one
    before it; ``before``: the state in which it begins; ``barred``: why the party does not get here with its ropes;
    ``sights``: what is hazardous in each state, once it was asked."""

    k: int
    before: World
    acts: tuple[Act, ...]
    refused: tuple[Sentence | None, ...]
    states: tuple[World, ...]
    drafts: tuple[Draft, ...]
    why: tuple[Sentence, ...]
    generated: Order
    barred: Sentence | None = None
    sights: list[tuple[Seen, ...]] = field(default_factory=list, compare=False, repr=False)

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

    def sights(self, k: int) -> list[tuple[Seen, ...]]:
        """What is hazardous in each state of a station, from 0."""
        p = self.stations[k]
        if len(p.sights) != len(p.states):
            p.sights[:] = [tuple(seen(self.scene, world)) for world in p.states]
        return p.sights

    def place(self, n: int) -> tuple[int, int]:
        """The station and the act in it, from 0, of a place in the whole order."""
        for p in self.stations:
            if n < len(p.acts):
                return p.k, n
            n -= len(p.acts)
        return len(self.stations) - 1, len(self.stations[-1].acts) - 1 if self.stations else 0


def play(scene: Scene, kept: Play | None = None) -> Play:
    """Go through the whole descent.

    scene: the descent; kept: the same descent with another plan for some stations: what is alike is taken from it
    returns: every station
    Source: see the functions it calls.
    """
    made: list[Played] = []
    world = rule = begin(scene)
    for k in range(len(scene.stages)):
        old = kept.stations[k] if kept is not None and _alike(scene.stages, kept.scene.stages, k) else None
        if old is not None and kept is not None and old.before == world and old.generated.before == rule:
            # What is hazardous may lie in how an earlier station is gone through.
            same = all(a is b for a, b in zip(scene.stages[:k], kept.scene.stages, strict=False))
            made.append(old if same else replace(old, sights=[]))
        else:
            by_rule = order(scene, k, rule)
            made.append(_barred(scene, k, world, by_rule, made) or _through(scene, k, world, by_rule))
        world, rule = made[-1].after, made[-1].generated.after
    return Play(scene, tuple(made))


def _alike(new: tuple[Stage, ...], old: tuple[Stage, ...], k: int) -> bool:
    """Whether the acts of a station rest on the same: itself, the next, which is prepared there, and the ropes of those
    before."""
    here = all(j < len(old) and new[j] is old[j] for j in range(k, min(k + 2, len(new))))
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
    return None if why is None else Played(k, world, (), (), (), (), (), by_rule, why)


def _through(scene: Scene, k: int, world: World, by_rule: Order) -> Played:
    edits = scene.stages[k].drop.station.through.edits
    before = world
    if not edits and world == by_rule.before:
        none = (None,) * len(by_rule.acts)
        return Played(k, before, by_rule.acts, none, by_rule.states, (), by_rule.why, by_rule)
    acts, drafts = changed(by_rule.acts, edits, k)
    refused, states = list[Sentence | None](), list[World]()
    for act in acts:
        try:
            world, why = do(scene, world, act), None
        except Refused as e:
            # What cannot be done stays as a draft; nothing after it is judged as if it had been.
            world, why = replace(world, busy=""), e.why
        refused.append(why)
        states.append(world)
    return Played(k, before, acts, tuple(refused), tuple(states), drafts, by_rule.why, by_rule)
