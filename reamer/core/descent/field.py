"""The descent with what serves each station and what is carried, and what is left of it when ropes are gone."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

from reamer.core.answer.context import Context
from reamer.core.answer.findings import Fix
from reamer.core.answer.say import Number, Sentence, listed
from reamer.core.descent.ledger import carried
from reamer.core.descent.stations import rope_weight
from reamer.core.model import Drop, Plan
from reamer.core.plan.edits import PLAN
from reamer.core.rope.strands import ropes_at
from reamer.core.station.serves import Miss, Served, Serving, nearest
from reamer.core.station.state import DropAssessment

Event = Literal["stuck", "lost", "anchor", "longer", "wet", "heavier", "hurt", "one short", "dark"]
EVENTS: tuple[Event, ...] = ("stuck", "lost", "anchor", "longer", "wet", "heavier", "hurt", "one short", "dark")
Mark = Literal["works", "other way", "way off", "strands", "fails", "not checked", "figure"]


@dataclass(frozen=True, slots=True)
class Cell:
    """What one event at one station leaves: a mark and a word, a number where that says it better; the story behind it,
    sentence by sentence; acts that mend it; ``at``: the number of the station that nobody gets past, 0 for none;
    ``because``: of the story what decides."""

    event: Event
    mark: Mark
    word: str
    number: Number | None
    story: tuple[Sentence, ...]
    fixes: tuple[Fix, ...] = ()
    at: int = 0
    because: tuple[Sentence, ...] = ()


@dataclass(frozen=True, slots=True)
class StationEvents:
    """Every event at one station."""

    drop: str
    number: int
    cells: tuple[Cell, ...]


@dataclass(frozen=True, slots=True)
class Left:
    """What is left of the descent below a station with some ropes: the first station, by its place from 0, that nothing
    serves, None where each is; those that another way than the plan's serves; ``unknown``: of the first whether it can
    be served at all nobody knows; ``off``: the landing, by its station's place, of a way off before it."""

    stops: int | None
    others: tuple[int, ...]
    unknown: bool
    off: int | None


class Field:
    """The descent with what serves each of its stations and what is carried."""

    def __init__(self, ctx: Context, served_by: tuple[Served, ...], drops: tuple[DropAssessment, ...]) -> None:
        self.ctx, self.plan, self.served = ctx, ctx.plan, served_by
        self.drops = drops
        self.carried = frozenset(carried(ctx.plan))
        self._nearest: dict[tuple[int, frozenset[str]], Miss | None] = {}
        self.own = [ropes_at(d) for d in ctx.plan.drops]

    def name(self, rope: str) -> str:
        """A rope's name."""
        return self.ctx.ropes[rope].name if rope in self.ctx.ropes else "a rope that is not in the shed"

    def names(self, ropes: frozenset[str]) -> str:
        """Ropes by their names, in the order of the shed."""
        some = [self.name(r) for r in self.ctx.ropes if r in ropes]
        return listed(some) or "nothing"

    def way(self, k: int, ropes: frozenset[str]) -> Serving | None:
        """A way at a station that takes no more than some ropes; the plan's own where it may."""
        ways = [w for w in self.served[k].ways if w.ropes <= ropes]
        return next((w for w in ways if w.in_use), ways[0] if ways else None)

    def stands(self, k: int) -> bool:
        """Whether a station serves as it is rigged."""
        return any(w.in_use for w in self.served[k].ways) or any(
            w.ropes == self.own[k] and w.states[0].system.kind == self.plan.drops[k].station.states[0].system.kind
            for w in self.served[k].ways
        )

    def serves(self, k: int, ropes: frozenset[str]) -> bool:
        """Whether some ropes serve a station, as it is rigged or in another way."""
        return (self.own[k] <= ropes and self.stands(k)) or self.way(k, ropes) is not None

    def nearest(self, k: int, ropes: frozenset[str]) -> Miss | None:
        """The way at a station that nothing of some ropes serves which is too short by the least."""
        some = [m for m in self.served[k].misses if m.ropes <= ropes]
        if some:
            return min(some, key=lambda m: sum(s for _, s in m.short))
        key = (k, ropes)
        if key not in self._nearest:
            self._nearest[key] = nearest(self.ctx, k, self.plan.drops[k], ropes)
        return self._nearest[key]

    def left(self, after: int, ropes: frozenset[str]) -> Left:
        """What is left below a station with some ropes."""
        others, off = [], None
        for k in range(after, len(self.plan.drops)):
            if k > after:
                if self.own[k] <= ropes and self.stands(k):
                    pass
                elif self.way(k, ropes) is not None:
                    others.append(k)
                else:
                    return Left(k, tuple(others), bool(self.served[k].why), off)
            if off is None and goes(self.plan.drops[k]):
                off = k
        return Left(None, tuple(others), False, off)

    def more(self, does: Callable[[frozenset[str]], bool]) -> frozenset[str] | None:
        """The lightest ropes of the shed that besides those carried make something do: one, or two."""
        rest = [r for r in self.ctx.ropes if r not in self.carried]
        kg = {r: _kg(self.ctx, r) for r in rest}
        for size in (1, 2):
            some = sorted(combinations(rest, size), key=lambda s: sum(kg[r] for r in s))
            for add in some:
                if does(self.carried | set(add)):
                    return frozenset(add)
        return None

    def carry(self, add: frozenset[str]) -> Fix:
        """The act that carries more ropes."""
        ropes = tuple(r for r in self.ctx.ropes if r in self.carried | add)
        label = Sentence("Carry {ropes} too", {}, {"ropes": self.names(add)})
        return Fix(label, (PLAN.at(lambda p: p.carry.ropes).set(ropes),))


def _kg(ctx: Context, rope: str) -> float:
    made = rope_weight(ctx, rope)
    return math.inf if made is None else made


def goes(drop: Drop) -> bool:
    """Whether there is a way off at a drop's landing that is known to go.

    drop: the drop
    returns: whether there is
    Source: the guide.
    """
    return drop.escape is not None and drop.escape.goes == "yes"


def place_name(plan: Plan, k: int) -> str:
    """A station in words.

    plan: the plan; k: its place, from 0
    returns: its number and name
    Source: none, text only.
    """
    return f"{k + 1} ({plan.drops[k].name})"
