"""What was read and worked out, by all that it was read or worked out from, so that nothing kept can be out of date."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any, Generic, TypeVar

from reamer.core.answer.context import Context, fingerprint
from reamer.core.assess import Assessment, Kept
from reamer.core.descent.in_hand import InHand
from reamer.core.descent.prospect import Prospect
from reamer.core.descent.stations import Stations
from reamer.core.errors import Cancelled
from reamer.core.model import NO_GEAR, Drop, Gear, Plan, Record
from reamer.core.offers import OfferedActs
from reamer.core.rehearsal.play import Play
from reamer.core.rehearsal.rehearsal import Rehearsal
from reamer.store.plans import plan_of

T = TypeVar("T")
Going = Callable[[], bool]
# How often somebody who waits for another's answer asks whether theirs is still wanted.
PATIENCE_S = 0.1


_FIELDS = list(Plan.model_fields)
AFTER_DROPS = f',"{_FIELDS[_FIELDS.index("drops") + 1]}":'


def always() -> bool:
    """An answer that is wanted whatever happens."""
    return True


class Shelf(Generic[T]):
    """Answers by all that they rest on. One asker makes an answer, others who want the same wait for it; those asked
    for longest ago go when there are too many."""

    def __init__(self, most: int, weigh: Callable[[T], int] = lambda _: 1) -> None:
        """most: how much is kept, but for the newest; weigh: how much one counts."""
        self.most, self.weigh = most, weigh
        self._held: OrderedDict[object, T] = OrderedDict()
        self._turns: dict[object, threading.Lock] = {}
        self._weight = 0
        self._lock = threading.Lock()

    def get(self, key: object) -> T | None:
        """What is kept under a key."""
        with self._lock:
            if key in self._held:
                self._held.move_to_end(key)
            return self._held.get(key)

    def of(self, key: object, make: Callable[[], T], going: Going = always) -> T:
        """What is kept under a key, or else made. Raises Cancelled where it is no longer wanted."""
        while True:
            found = self.get(key)
            if found is not None:
                return found
            with self._lock:
                turn = self._turns.setdefault(key, threading.Lock())
            if turn.acquire(timeout=PATIENCE_S):
                break
            if not going():
                raise Cancelled
        try:
            found = self.get(key)
            return found if found is not None else self.put(key, make())
        finally:
            turn.release()
            with self._lock:
                self._turns.pop(key, None)

    def put(self, key: object, made: T) -> T:
        """Keep an answer."""
        with self._lock:
            if key in self._held:
                self._weight -= self.weigh(self._held.pop(key))
            self._held[key] = made
            self._weight += self.weigh(made)
            while len(self._held) > 1 and self._weight > self.most:
                self._weight -= self.weigh(self._held.popitem(last=False)[1])
        return made

    def last(self, which: Callable[[T], bool]) -> T | None:
        """The last that was kept of some."""
        with self._lock:
            held = list(reversed(self._held.values()))
        return next(filter(which, held), None)

    def clear(self) -> None:
        """Keep nothing."""
        with self._lock:
            self._held.clear()
            self._weight = 0


class Written(Generic[T]):
    """Things that never change as they are written, for as long as they are the very same things."""

    def __init__(self, most: int) -> None:
        self.most = most
        self._held: OrderedDict[int, tuple[object, T]] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, thing: object, write: Callable[[], T]) -> T:
        """A thing as it was written, or else is."""
        with self._lock:
            found = self._held.get(id(thing))
            if found is not None and found[0] is thing:
                self._held.move_to_end(id(thing))
                return found[1]
        made = write()
        with self._lock:
            self._held[id(thing)] = (thing, made)
            while len(self._held) > self.most:
                self._held.popitem(last=False)
        return made


@dataclass(frozen=True, slots=True)
class Been:
    """What things have been through, and a key of it, alike for what is alike."""

    gear: Gear = NO_GEAR
    key: str = ""


def been(gear: Gear) -> Been:
    """What things have been through, with its key."""
    return Been(gear, fingerprint(repr(gear)))


@dataclass(frozen=True, slots=True)
class Assessed:
    """A plan in its context and its assessment, without workings and acts."""

    ctx: Context
    a: Assessment


def _drops(found: Assessed | Plan) -> int:
    plan = found if isinstance(found, Plan) else found.ctx.plan
    return 1 + len(plan.drops)


@dataclass(frozen=True, slots=True)
class UnderWay:
    """How far something is that takes long: what is being done, and of how many stations."""

    what: str
    done: int
    of: int


class Memory:
    """What one process keeps. Everything is by content; of a library's records, which only grow, by the library and how
    many there are."""

    MOST_DROPS, MOST_RUNS = 400, 6

    def __init__(self, parts: Kept | None = None, stations: Stations | None = None) -> None:
        self.parts, self.stations = parts or Kept(), stations or Stations()
        self.plans: Shelf[Plan] = Shelf(2 * self.MOST_DROPS, _drops)
        self.gears: Shelf[Been] = Shelf(20)
        self.records: Shelf[Record] = Shelf(100)
        self.assessed: Shelf[Assessed] = Shelf(self.MOST_DROPS, _drops)
        self.hands: Shelf[InHand] = Shelf(self.MOST_DROPS)
        self.offered: Shelf[tuple[OfferedActs, ...]] = Shelf(self.MOST_DROPS)
        self.ahead: Shelf[Prospect] = Shelf(10 * self.MOST_RUNS)
        self.runs: Shelf[Play] = Shelf(self.MOST_RUNS)
        self.rehearsed: Shelf[Rehearsal] = Shelf(self.MOST_RUNS)
        self.papers: Shelf[bytes] = Shelf(4)
        # Views that somebody may still have on a screen, by their stamps; and their drops as they were written.
        self.views: Shelf[Any] = Shelf(self.MOST_DROPS, lambda v: 1 + len(v.plan.drops))
        self.written: Written[bytes] = Written(2 * self.MOST_DROPS)
        self.texts: Written[str] = Written(4)
        self.working: dict[str, UnderWay] = {}
        self._asked: dict[str, object] = {}

    def plan(self, text: str) -> Plan:
        """A plan by its text as it is stored. Raises PlanError where it cannot be read."""
        return self.plans.of(fingerprint(text), lambda: plan_of(text))

    def text(self, plan: Plan) -> str:
        """A plan's text as it is stored; of what is the very same as before nothing is written again."""

        def write() -> str:
            rest = plan.model_dump_json(exclude={"drops"})
            # No text within has a quote that is not escaped.
            at = rest.index(AFTER_DROPS)
            drops = b",".join(self.written.of(d, partial(_encoded, d)) for d in plan.drops)
            return f'{rest[:at]},"drops":[{drops.decode()}]{rest[at:]}'

        return self.texts.of(plan, write)

    def newest(self, what: str) -> Going:
        """Whether what is asked now is still the last that was asked of something."""
        mine = self._asked[what] = object()
        return lambda: self._asked.get(what) is mine

    def end(self, what: str) -> None:
        """Nothing is asked of something any more."""
        self._asked.pop(what, None)


def _encoded(drop: Drop) -> bytes:
    return drop.model_dump_json().encode()
