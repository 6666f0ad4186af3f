"""Ropes to carry: the lightest set, why it is that one, what more would buy, and where another fails."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from reamer.core.answer.findings import Fix
from reamer.core.answer.say import Number, Sentence
from reamer.core.descent.field import Field, place_name
from reamer.core.descent.sets import Answers, Option, Weighed, answers, best, binding, chain, lightest, weigh
from reamer.core.descent.stations import Asked
from reamer.core.model import State
from reamer.core.plan.edits import PLAN, Edit
from reamer.core.rope.strands import SYSTEM_NAMES
from reamer.core.station.comparison import Rank
from reamer.core.station.serves import Serving, ranked

NAMES = {
    "lost": "any one rope lost",
    "stuck": "the rope stuck anywhere",
    "lower": "a lower from anywhere",
    "spare": "the longest drop without one of its ropes",
    "two_sets": "two sets going by turns",
}


@dataclass(frozen=True, slots=True)
class SetView:
    """A set of ropes: their ids, what they weigh, how many of them nobody has weighed; what is to be said of it."""

    ropes: tuple[str, ...]
    kg: Number
    unweighed: int
    said: tuple[Sentence, ...] = ()


@dataclass(frozen=True, slots=True)
class RopeChoice:
    """Which ropes to carry. ``chosen``: the lightest set, None where none does, and then ``none`` says why;
    ``binding``: the stations that bind it, in words; ``next_best``; ``buys``: what each contingency more would cost;
    ``why``: the metre that would let a lighter one serve; ``carried``: the set that is carried, and ``fails`` where it
    does not do; ``left_out``: ropes that are not chosen among because there are too many."""

    chosen: SetView | None
    none: tuple[Sentence, ...]
    binding: tuple[Sentence, ...]
    next_best: tuple[SetView, ...]
    buys: tuple[Sentence, ...]
    why: tuple[Sentence, ...]
    carried: SetView
    fails: tuple[Sentence, ...]
    left_out: tuple[str, ...]


def _view(asked: Asked, some: Weighed, *said: Sentence) -> SetView:
    return SetView(asked.ids(some.ropes), Number(some.kg, "weight", "up"), some.unknown, said)


def choice(field: Field, asked: Asked, going: Callable[[], bool] = lambda: True) -> RopeChoice:
    """Which ropes to carry, and why.

    field: the descent; asked: its question; going: whether the answer is still wanted
    returns: the choice
    raises: Cancelled if it is no longer wanted
    Source: none, set algebra over the ways of the comparison.
    """
    question, got = asked.question, answers(asked.question, going)
    found = best(question, got, 4, going)
    own = asked.bits(field.carried)
    carried = _view(asked, weigh(question, own))
    fails = tuple(_fails(field, asked, got, own))
    if not found:
        none = tuple(_none(field, asked, got))
        return RopeChoice(None, none, (), (), (), (), carried, fails, asked.left_out)
    top = found[0]
    return RopeChoice(
        _view(asked, top),
        (),
        tuple(_binding(field, asked, got, top, going)),
        tuple(_next(asked, top, w) for w in found[1:]),
        tuple(_buys(field, asked, top, going)),
        tuple(_why(field, asked, top, going)),
        carried,
        fails,
        asked.left_out,
    )


def _next(asked: Asked, top: Weighed, w: Weighed) -> SetView:
    """A next-best set: how much heavier, and what it meets besides."""
    q = asked.question
    said = [Sentence("{kg} more", {"kg": Number(w.kg - top.kg, "weight", "up")})]
    if w.unknown:
        said = [Sentence("{n} of them nobody has weighed", {"n": Number(w.unknown, "count")})]
    for name in ("lost", "stuck", "spare", "two_sets"):
        if not getattr(q, name):
            more = replace(q, **{name: True})  # type: ignore[arg-type]
            also = answers(more)
            if also.fits[w.ropes] and chain(more, also, w.ropes) is not None and not also.fits[top.ropes]:
                said.append(Sentence("that buys {what}", {}, {"what": NAMES[name]}))
    return _view(asked, w, *said)


def _binding(field: Field, asked: Asked, got: Answers, top: Weighed, going: Callable[[], bool]) -> list[Sentence]:
    """The stations that make the set as heavy as it is."""
    some = binding(asked.question, got, top, going)
    if not some:
        return [Sentence("More than three stations bind it together, or none does.")]
    told = []
    for stations in some[:6]:
        where = " and ".join(place_name(field.plan, k) for k in stations)
        verb = "binds" if len(stations) == 1 else "bind"
        told.append(Sentence("{where} {verb} it.", {}, {"where": where, "verb": verb}))
    return told


def _buys(field: Field, asked: Asked, top: Weighed, going: Callable[[], bool]) -> list[Sentence]:
    """What each contingency that is off would cost."""
    q, told = asked.question, []
    for name in ("lost", "stuck", "spare", "two_sets"):
        if getattr(q, name):
            continue
        more = lightest(replace(q, **{name: True}), going)  # type: ignore[arg-type]
        words = {"what": NAMES[name]}
        if more is None:
            told.append(Sentence("No ropes of this shed would buy {what}.", {}, words))
        elif more.kg <= top.kg + 1e-9:
            told.append(Sentence("It meets {what} too.", {}, words))
        else:
            numbers = {"kg": Number(more.kg - top.kg, "weight", "up")}
            words["ropes"] = field.names(frozenset(asked.ids(more.ropes)))
            told.append(Sentence("{kg} more buys {what}: {ropes}.", numbers, words))
    return told


def _why(field: Field, asked: Asked, top: Weighed, going: Callable[[], bool]) -> list[Sentence]:
    """The station, the rope and the metre that would let a lighter set serve."""
    q, made = asked.question, []
    near = sorted(
        {(m.short[0][0], m.short[0][1]) for s in field.served for m in s.misses if len(m.short) == 1},
        key=lambda n: n[1],
    )
    tried: dict[str, int] = {}
    for rope, short in near:
        tried[rope] = tried.get(rope, 0) + 1
        if tried[rope] > 6:
            continue
        ways, where = list(q.ways), []
        for k, s in enumerate(field.served):
            more = [
                Option(asked.bits(m.ropes), asked.bits(m.ropes))
                for m in s.misses
                if len(m.short) == 1 and m.short[0][0] == rope and m.short[0][1] <= short + 1e-9
                if m.ropes <= set(asked.ropes)
            ]
            if more:
                ways[k] = (*ways[k], *more)
                where.append(k)
        lighter = lightest(replace(q, ways=tuple(ways)), going)
        if lighter is not None and lighter.kg < top.kg - 1e-9:
            made.append((top.kg - lighter.kg, short, rope, where[-1]))
    told, seen = [], set[str]()
    for saves, short, rope, k in sorted(made, key=lambda m: (-round(m[0], 6), m[1])):
        if rope not in seen:
            seen.add(rope)
            numbers = {"m": Number(short, "length", "up"), "kg": Number(saves, "weight", "down")}
            words = {"rope": field.name(rope), "where": place_name(field.plan, k)}
            told.append(Sentence("{m} more on {rope}, at {where}, saves {kg}.", numbers, words))
    return told[:3]


def _missing(field: Field, k: int, ropes: frozenset[str], of: str) -> Sentence:
    """A station that some ropes do not serve, with the nearest miss; ``of``: which ropes they are."""
    where = {"where": place_name(field.plan, k)}
    if field.served[k].why:
        why = {"why": field.served[k].why}
        return Sentence("Whether {where} can be served is not known: {why}.", {}, {**where, **why})
    near = field.nearest(k, ropes)
    if near is None:
        return Sentence("Nothing {of} is known to serve {where}.", {}, {**where, "of": of})
    rope, short = max(near.short, key=lambda s: s[1])
    words = {**where, "rope": field.name(rope), "how": SYSTEM_NAMES[near.kind], "of": of}
    said = "Nothing {of} is known to serve {where}; the nearest is {how}, where {rope} is {m} too short."
    return Sentence(said, {"m": Number(short, "length", "up")}, words)


def _none(field: Field, asked: Asked, got: Answers) -> list[Sentence]:
    """Why no set of the shed does."""
    q, every = asked.question, (1 << asked.question.count) - 1
    unserved = [k for k, one in enumerate(got.serves) if not one[every]]
    if unserved:
        of = "that is chosen among" if asked.left_out else "in the shed"
        return [_missing(field, k, frozenset(asked.ropes), of) for k in unserved]
    told = []
    for name in NAMES:
        if getattr(q, name):
            bare = replace(q, lost=False, stuck=False, lower=False, spare=False, two_sets=False)
            alone = replace(bare, **{name: True})  # type: ignore[arg-type]
            one = answers(alone)
            if not (one.fits[every] and chain(alone, one, every) is not None):
                where = [k for k in range(len(q.ways)) if not any(one.may(k, w, every) for w in alone.taken(k))]
                at = f", at {', '.join(place_name(field.plan, k) for k in where[:4])}" if where else ""
                words = {"what": NAMES[name], "at": at}
                told.append(Sentence("Nothing in the shed meets {what}{at}.", {}, words))
    return told or [Sentence("No set of ropes meets all that is asked of it together.")]


def _fails(field: Field, asked: Asked, got: Answers, own: int) -> list[Sentence]:
    """Where the set that is carried does not do."""
    q = asked.question
    told = [_missing(field, k, field.carried, "that is carried") for k, one in enumerate(got.serves) if not one[own]]
    if told or (got.fits[own] and chain(q, got, own) is not None):
        return told
    for name in NAMES:
        if getattr(q, name):
            bare = replace(q, lost=False, stuck=False, lower=False, spare=False, two_sets=False)
            alone = replace(bare, **{name: True})  # type: ignore[arg-type]
            one = answers(alone)
            if not (one.fits[own] and chain(alone, one, own) is not None):
                words = {"what": NAMES[name]}
                told.append(Sentence("It does not meet {what}.", {}, words))
    return told or [Sentence("It does not meet all that is asked of it together.")]


@dataclass(frozen=True, slots=True)
class Taken:
    """The way that a station takes with a set of ropes, and whether it is another than now."""

    drop: str
    number: int
    system: str
    ropes: str
    changed: bool


@dataclass(frozen=True, slots=True)
class Adoption:
    """What adopting a set of ropes does: the way each station takes, and the act; no act where it cannot be."""

    stations: tuple[Taken, ...]
    fix: Fix | None
    why: Sentence | None


def adoption(field: Field, asked: Asked, ropes: frozenset[str]) -> Adoption:
    """Carry a set of ropes, each station rigged by the first way in the comparison's order with which the set still
    meets every contingency.

    field: the descent; asked: its question; ropes: ids of the set
    returns: what it does
    Source: as for compare_systems and sets.
    """
    q, got, own = asked.question, answers(asked.question), asked.bits(ropes)
    every: list[list[tuple[Serving, Rank]]] = []
    for k, drop in enumerate(field.plan.drops):
        some = ranked(field.ctx, k, drop, ropes)
        every.append([(w, rank) for w, rank in some if _may(got, asked, (k, w), own)])
        if not every[-1]:
            return Adoption((), None, _missing(field, k, ropes, "of these ropes"))
    good: list[list[Serving]] = [[] for _ in every]
    for k in reversed(range(len(every))):
        good[k] = [
            w
            for w, _ in every[k]
            if not q.two_sets or k == len(every) - 1 or any(not w.ropes & v.ropes for v in good[k + 1])
        ]
        if not good[k]:
            return Adoption((), None, Sentence("Two sets cannot go by turns with these ropes."))
    taken: list[Serving] = []
    for some_ways in good:
        before = taken[-1].ropes if q.two_sets and taken else frozenset[str]()
        taken.append(next(w for w in some_ways if not w.ropes & before))
    edits: list[Edit] = [PLAN.at(lambda p: p.carry.ropes).set(tuple(r for r in field.ctx.ropes if r in ropes))]
    stations = []
    for k, (w, drop) in enumerate(zip(taken, field.plan.drops, strict=True)):
        changed = _plain(w.states) != drop.station.states
        if changed:
            edits.append(PLAN.at(lambda p, k=k: p.drops[k].station.states).set(_plain(w.states)))  # type: ignore[misc]
        system = SYSTEM_NAMES[w.system.kind]
        stations.append(Taken(drop.id, k + 1, system, field.names(w.ropes), changed))
    label = Sentence("Carry {ropes}, each station its way", {}, {"ropes": field.names(ropes)})
    return Adoption(tuple(stations), Fix(label, tuple(edits)), None)


def _plain(states: tuple[State, ...]) -> tuple[State, ...]:
    """A station's states without what the plan said of how another rope was threaded there."""
    return tuple(s.model_copy(update={"threaded": None, "run_through": False}) for s in states)


def _may(got: Answers, asked: Asked, at: tuple[int, Serving], own: int) -> bool:
    """Whether a way may be taken at a station with a set of ropes, by what the contingencies ask of it."""
    k, w = at
    if got.asked.lower and not w.lowers:
        return False
    return got.may(k, Option(asked.bits(w.ropes), asked.bits(w.ridden)), own)
