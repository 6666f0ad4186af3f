"""The lightest set of ropes that serves every station and meets every contingency, exactly.

A set of ropes is a bit pattern. What serves a station is a family of least sets; a set serves if it contains one of
them. Every question is then one array over all sets, put together by slices: nothing is searched for, and nothing is
missed."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field, replace
from itertools import combinations
from typing import Any

import numpy as np
from numpy.typing import NDArray

from reamer.core.errors import Cancelled

Sets = NDArray[np.bool_]


# More ropes than this are not chosen among: the arrays would hold more than a million sets.
MOST_ROPES = 20


@dataclass(frozen=True, slots=True)
class Option:
    """A way at a station: the bits of all its ropes, and of those that are ridden."""

    ropes: int
    ridden: int


@dataclass(frozen=True, slots=True)
class Question:
    """Which sets of ropes do.

    weights: of each rope [kg], None where it is unknown; ways: by station those that serve it; lowering: those of them
    by which somebody can be lowered; longest: the station with the longest drop
    lost, stuck, lower, spare, two_sets: the contingencies that are switched on
    """

    weights: tuple[float | None, ...]
    ways: tuple[tuple[Option, ...], ...]
    lowering: tuple[tuple[Option, ...], ...]
    longest: int
    lost: bool = False
    stuck: bool = False
    lower: bool = False
    spare: bool = False
    two_sets: bool = False

    @property
    def count(self) -> int:
        """How many ropes there are to choose among."""
        return len(self.weights)

    def taken(self, k: int) -> tuple[Option, ...]:
        """The ways that the undisturbed descent may take at a station."""
        return self.lowering[k] if self.lower else self.ways[k]


@dataclass(frozen=True, slots=True)
class Answers:
    """Which sets meet everything but what two sets of ropes ask of neighbouring stations together, and the arrays that
    it was put together from: by station the sets that serve it, and those that serve all after it."""

    asked: Question = field(repr=False)
    fits: Sets
    serves: tuple[Sets, ...]
    after: tuple[Sets, ...]

    def may(self, k: int, way: Option, ropes: int) -> bool:
        """Whether a way may be taken at a station with a set of ropes, by what is asked of that way there.

        k: the station; way: the way; ropes: the set
        returns: whether it may
        Source: as for answers.
        """
        q = self.asked
        if way.ropes & ~ropes or (q.stuck and not self.after[k][ropes & ~way.ropes]):
            return False
        return not (q.spare and k == q.longest) or all(self.serves[k][ropes & ~(1 << r)] for r in bits(way.ridden))


def bits(of: int) -> Iterator[int]:
    """The ropes of a set.

    of: its bits
    returns: their places, from 0
    Source: none, counting.

    >>> list(bits(0b101))
    [0, 2]
    """
    place = 0
    while of:
        if of & 1:
            yield place
        of >>= 1
        place += 1


def _part(n: int, some: int, value: int) -> tuple[Any, ...]:
    """The slice of the array of all sets of n ropes in which each of some ropes is there (1) or not (0)."""
    return tuple(value if some >> (n - 1 - axis) & 1 else slice(None) for axis in range(n))


def supersets(n: int, least: Iterable[int]) -> Sets:
    """Which sets contain one of some least sets.

    n: how many ropes there are; least: the sets
    returns: one truth a set, by its bits
    Source: HB, the superset closure of set algebra, one rope after another.

    >>> [int(i) for i in np.flatnonzero(supersets(2, [0b01]))]
    [1, 3]
    """
    made: Sets = np.zeros(1 << n, dtype=bool)
    made[list(least)] = True
    words = _packed(made)
    for r in range(n):
        _raise(words, words, r)
    return _unpacked(words, 1 << n)


# Of 64 sets in one word those without a certain one of the first six ropes.
LOW = tuple(np.uint64(sum(1 << i for i in range(64) if not i >> r & 1)) for r in range(6))
Words = NDArray[np.uint64]


def _packed(of: Sets) -> Words:
    """A family, one bit a set, 64 to a word."""
    padded: Sets = np.zeros(max(64, len(of)), dtype=bool)
    padded[: len(of)] = of
    return np.packbits(padded, bitorder="little").view(np.uint64)


def _unpacked(words: Words, count: int) -> Sets:
    return np.unpackbits(words.view(np.uint8), count=count, bitorder="little").astype(bool)


def _raise(into: Words, of: Words, r: int) -> None:
    """Put into a family each set of another with one more rope."""
    if r < 6:
        into |= (of & LOW[r]) << np.uint64(1 << r)
        return
    up, low = into.reshape(-1, 2, 1 << (r - 6)), of.reshape(-1, 2, 1 << (r - 6))
    up[:, 1, :] |= low[:, 0, :]


def least_of(n: int, closed: Sets) -> NDArray[np.int64]:
    """The sets of a family that contain no other of it.

    n: how many ropes there are; closed: a family that holds every superset of each of its sets
    returns: the sets
    Source: none, set algebra.

    >>> [int(i) for i in least_of(2, supersets(2, [0b01]))]
    [1]
    """
    words = _packed(closed)
    more = np.zeros_like(words)
    for r in range(n):
        _raise(more, words, r)
    return np.flatnonzero(closed & ~_unpacked(more, 1 << n))


def apart(first: NDArray[np.int64], second: NDArray[np.int64]) -> NDArray[np.int64]:
    """The unions of every two sets, one of each kind, that share no rope.

    first, second: the sets
    returns: each union once
    Source: none, set algebra.
    """
    a, b = first[:, None], second[None, :]
    return np.unique((a | b)[(a & b) == 0])


def without(n: int, some: int, of: Sets) -> Sets:
    """Which sets contain all of some ropes and still are among others once those are gone.

    n: how many ropes there are; some: those that go; of: the others
    returns: one truth a set, by its bits
    Source: none, set algebra.
    """
    made: Sets = np.zeros(1 << n, dtype=bool)
    if n == 0:
        return of.copy()
    made.reshape((2,) * n)[_part(n, some, 1)] = of.reshape((2,) * n)[_part(n, some, 0)]
    return made


def any_gone(n: int, some: int, of: Sets) -> Sets:
    """Which sets still are among others whichever one of some ropes is gone; one that is not there cannot go.

    n: how many ropes there are; some: of which one goes; of: the others
    returns: one truth a set, by its bits
    Source: none, set algebra.
    """
    made: Sets = np.ones(1 << n, dtype=bool)
    for r in bits(some):
        made &= without(n, 1 << r, of) | ~supersets(n, [1 << r])
    return made


def _ropes(ways: tuple[Option, ...]) -> NDArray[np.int64]:
    return np.array([w.ropes for w in ways], dtype=np.int64)


def _taken(asked: Question, k: int, serves: Sets, after: Sets) -> Sets:
    """Which sets have a way to take at a station, with what is asked of it there."""
    n = asked.count
    if asked.spare and k == asked.longest:
        made: Sets = np.zeros(1 << n, dtype=bool)
        for w in asked.taken(k):
            may = without(n, w.ropes, after) if asked.stuck else supersets(n, [w.ropes])
            made |= may & any_gone(n, w.ridden, serves)
        return made
    if not asked.stuck:
        return supersets(n, [w.ropes for w in asked.taken(k)])
    # What is left without the way's ropes holds a least set of those that serve all after it.
    return supersets(n, (int(u) for u in apart(_ropes(asked.taken(k)), least_of(n, after))))


def answers(asked: Question, going: Callable[[], bool] = lambda: True) -> Answers:
    """Everything about every set of ropes, but what two sets of ropes ask of neighbouring stations together.

    asked: the question; going: whether it is still asked
    returns: the answers
    raises: Cancelled if it is no longer asked
    Source: the readings of a rope lost or stuck, of a lower from anywhere and of a spare are the field's; see the plan.
    """
    n, every = asked.count, (1 << asked.count) - 1
    serves = tuple(supersets(n, [w.ropes for w in ways]) for ways in asked.ways)
    after: list[Sets] = []
    rest: Sets = np.ones(1 << n, dtype=bool)
    for one in reversed(serves):
        after.insert(0, rest)
        rest = rest & one
    fits: Sets = np.ones(1 << n, dtype=bool)
    if asked.lost and after:
        # What is lost first is lost for the most stations.
        fits &= any_gone(n, every, after[0])
    for k in range(len(asked.ways)):
        if not going():
            raise Cancelled
        fits &= _taken(asked, k, serves[k], after[k])
        if asked.two_sets and k:
            pairs = apart(_ropes(asked.taken(k - 1)), _ropes(asked.taken(k)))
            fits &= supersets(n, (int(u) for u in pairs))
    return Answers(asked, fits, serves, tuple(after))


def chain(asked: Question, got: Answers, ropes: int) -> tuple[int, ...] | None:
    """A way for each station with which a set of ropes meets everything, the first of its ways where there is a choice.

    asked: the question; got: its answers; ropes: the set
    returns: by station the way's place among those that may be taken; None where there is none
    Source: none, walking back from the last station.
    """
    may = [[i for i, w in enumerate(asked.taken(k)) if got.may(k, w, ropes)] for k in range(len(asked.ways))]
    if not asked.two_sets:
        return tuple(here[0] for here in may) if all(may) else None
    # Of each station those ways from which the rest can be gone on with.
    good: list[list[int]] = [[] for _ in may]
    for k in reversed(range(len(may))):
        for i in may[k]:
            own = asked.taken(k)[i].ropes
            if k == len(may) - 1 or any(not own & asked.taken(k + 1)[j].ropes for j in good[k + 1]):
                good[k].append(i)
    if not all(good):
        return None
    made: list[int] = []
    for k, here in enumerate(good):
        before = asked.taken(k - 1)[made[-1]].ropes if made else 0
        made.append(next(i for i in here if not before & asked.taken(k)[i].ropes))
    return tuple(made)


@dataclass(frozen=True, slots=True)
class Weighed:
    """A set of ropes and its weight; ``unknown``: how many of them nobody has weighed."""

    ropes: int
    kg: float
    unknown: int


def weigh(asked: Question, ropes: int) -> Weighed:
    """What a set of ropes weighs.

    asked: the question; ropes: the set
    returns: its weight [kg], and how many are not in it for want of a figure
    Source: none, a sum.
    """
    known = [kg for i in bits(ropes) if (kg := asked.weights[i]) is not None]
    return Weighed(ropes, math.fsum(known), ropes.bit_count() - len(known))


def best(asked: Question, got: Answers, most: int = 5, going: Callable[[], bool] = lambda: True) -> tuple[Weighed, ...]:
    """The lightest set that meets everything, and the next-best: those that contain no lighter one.

    asked: the question; got: its answers; most: how many are wanted; going: whether it is still asked
    returns: the lightest first; a set with ropes of unknown weight comes after all others; of equals the fewest ropes,
        then those that stand first in the shed
    raises: Cancelled if it is no longer asked
    Source: none, set algebra.
    """
    n, light = asked.count, np.zeros(1 << asked.count)
    blank, many = np.zeros(1 << n, dtype=np.int64), np.zeros(1 << n, dtype=np.int64)
    for i, kg in enumerate(asked.weights):
        for array, value in ((light, kg or 0.0), (blank, int(kg is None)), (many, 1)):
            cube = array.reshape((2,) * n)
            cube[_part(n, 1 << i, 1)] += value
    left = got.fits.copy()
    found: list[Weighed] = []
    places = np.flatnonzero(left)
    order = places[np.lexsort((places, many[places], np.round(light[places], 9), blank[places]))]
    for turn, some in enumerate(order):
        if turn % 512 == 0 and not going():
            raise Cancelled
        ropes = int(some)
        if not left[ropes] or chain(asked, got, ropes) is None:
            continue
        found.append(weigh(asked, ropes))
        if len(found) == most:
            break
        left &= ~supersets(n, [ropes])
    return tuple(found)


def lightest(asked: Question, going: Callable[[], bool] = lambda: True) -> Weighed | None:
    """The lightest set that meets everything.

    asked: the question; going: whether it is still asked
    returns: the set, None where none does
    raises: Cancelled if it is no longer asked
    Source: as for best.
    """
    return next(iter(best(asked, answers(asked, going), 1, going)), None)


def _fit_to(asked: Question, got: Answers, stations: frozenset[int], some: NDArray[np.int64]) -> NDArray[np.int64]:
    """Of sets those that serve only these stations, with the events of all."""

    def among(of: Sets, sets: NDArray[np.int64]) -> NDArray[np.int64]:
        return sets[of[sets]]

    n, count = asked.count, len(asked.ways)
    for k in sorted(stations):
        some = among(got.serves[k] if not asked.lower else supersets(n, [w.ropes for w in asked.lowering[k]]), some)
    after: list[Sets] = []
    rest: Sets = np.ones(1 << n, dtype=bool)
    for k in reversed(range(count)):
        after.insert(0, rest)
        if k in stations:
            rest = rest & got.serves[k]
    if asked.lost and count:
        some = among(any_gone(n, (1 << n) - 1, after[0]), some)
    for k in range(count):
        if not len(some):
            break
        spare = asked.spare and k == asked.longest and k in stations
        if not (asked.stuck or spare):
            continue
        keep = np.zeros(len(some), dtype=bool)
        for w in asked.taken(k):
            one = after[k][some & ~w.ropes] if asked.stuck else np.ones(len(some), dtype=bool)
            if k in stations:
                one = one & ((some & w.ropes) == w.ropes)
            if spare:
                one = one & any_gone(n, w.ridden, got.serves[k])[some]
            keep |= one
        some = some[keep]
    if asked.two_sets:
        for k in range(count - 1):
            if k in stations and k + 1 in stations and len(some):
                pairs = apart(_ropes(asked.taken(k)), _ropes(asked.taken(k + 1)))
                some = among(supersets(n, (int(u) for u in pairs)), some)
    return some


def binding(
    asked: Question, got: Answers, chosen: Weighed, going: Callable[[], bool] = lambda: True
) -> tuple[tuple[int, ...], ...]:
    """The fewest stations such that demanding only them, with the events of all, makes the lightest set as heavy.

    asked: the question; got: its answers; chosen: the lightest set; going: whether it is still asked
    returns: every such choice of stations; none where more than three bind together, or none does
    raises: Cancelled if it is no longer asked
    Source: none, set algebra.
    """
    light = np.zeros(1 << asked.count)
    for i, kg in enumerate(asked.weights):
        light.reshape((2,) * asked.count)[_part(asked.count, 1 << i, 1)] += math.inf if kg is None else kg
    lighter = np.flatnonzero(light < chosen.kg - 1e-9)
    for size in (0, 1, 2, 3):
        made = []
        for some in combinations(range(len(asked.ways)), size):
            if not going():
                raise Cancelled
            if not len(_fit_to(asked, got, frozenset(some), lighter)):
                made.append(some)
        if made:
            return tuple(made) if size else ()
    return ()


def with_more(asked: Question, **switched: bool) -> Question:
    """The same question with contingencies switched on or off.

    asked: the question; switched: by name
    returns: the question
    Source: none.
    """
    return replace(asked, **switched)  # type: ignore[arg-type]
