"""Questions to the second guide: the next move, what must come out, the strand to pull, who is held by what, each with
the reason."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from reamer.core.acts.act import Act, Refused
from reamer.core.acts.acts import do
from reamer.core.acts.holding import independent, paths
from reamer.core.acts.rigging import why_stuck
from reamer.core.acts.world import World
from reamer.core.answer.say import Sentence, listed, words
from reamer.core.model import ActName
from reamer.core.rehearsal.faults import exposed
from reamer.core.rehearsal.hazards import seen
from reamer.core.rehearsal.moves import Move, moves, to_untie
from reamer.core.rehearsal.play import Play
from reamer.core.rehearsal.words import COUNT, held_words, said, thing

HELD: frozenset[ActName] = frozenset({"load device", "test", "unclip tether", "arrive", "clip tether"})
PREPARES: frozenset[ActName] = frozenset({"clip tether", "load tether", "go to the edge"})
# How far a later move is tried; how often the same is asked at a station.
FAR, AGAIN = 16, 2


@dataclass(frozen=True, slots=True)
class QuizOption:
    """One answer, whether it is right, and the reason."""

    words: Sentence
    right: bool
    why: Sentence


@dataclass(frozen=True, slots=True)
class QuizQuestion:
    """A question about the state after one act, from 1; 0: before the first. The right answer stands anywhere."""

    kind: Literal["next move", "to come out", "pull side", "held by"]
    after: int
    asks: Sentence
    options: tuple[QuizOption, ...]


def quiz(run: Play, k: int) -> tuple[QuizQuestion, ...]:
    """The questions of one station, in the order of its acts. What is asked has one right answer: whatever could be
    done as well is not among the others.

    run: gone through; k: the station, from 0
    returns: the questions
    Source: P, common practice, no source.
    """
    p, made = run.stations[k], list[QuizQuestion]()
    asked: Counter[str] = Counter()
    told = moves(run.scene, k, p.before, p.acts, p.states)
    begins = {m.begin - 1: n for n, m in enumerate(told)}
    for n, act in enumerate(p.acts):
        if n in begins:
            made += _next(run, k, told, begins[n])
        if p.refused[n] is not None:
            continue
        if act.do == "pull":
            made += _out(run, k, n)
            made += _side(run, k, n)
        if act.do in HELD and asked[f"held {act.do}"] < AGAIN:
            made.append(_held(run, k, n))
            asked[f"held {act.do}"] += 1
    return tuple(made)


def _turned(options: list[QuizOption], n: int) -> tuple[QuizOption, ...]:
    """The options in an order that does not tell which is right."""
    ordered = sorted(options, key=lambda o: words(o.words))
    by = n % len(ordered)
    return tuple(ordered[by:] + ordered[:by])


def _capital(s: Sentence) -> Sentence:
    text = words(s)
    return Sentence("{said}", {}, {"said": text[:1].upper() + text[1:]})


def _next(run: Play, k: int, told: Sequence[Move], at: int) -> list[QuizQuestion]:
    """Which move comes next, among those that come later and would be wrong now."""
    p, right, wrong = run.stations[k], told[at], list[QuizOption]()
    n = right.begin - 1
    world = p.states[n - 1] if n else p.before
    for later in told[at + 1 :]:
        if len(wrong) == 2 or words(later.title) in (words(right.title), *(words(o.words) for o in wrong)):
            continue
        why = _wrong(run, world, p.acts[later.begin - 1 : later.end])
        if why is not None:
            wrong.append(QuizOption(_capital(later.title), False, why))
    if not wrong:
        return []
    good = QuizOption(_capital(right.title), True, Sentence("That is the next move."))
    return [QuizQuestion("next move", n, Sentence("What comes next?"), _turned([good, *wrong], n))]


def _out(run: Play, k: int, n: int) -> list[QuizQuestion]:
    """What is still to come out before the pull, among what is not in, or stays in."""
    scene, p = run.scene, run.stations[k]
    world = p.states[n - 1] if n else p.before
    # What is taken out as the pull begins is asked of the state before the station is left to it.
    first = next((m for m in range(n, -1, -1) if p.acts[m].move != "pull"), None)
    world = p.states[first] if first is not None else world
    left = to_untie(scene, world, k)
    way = scene.stages[k].way(world.stations[k].which)
    stays = [thing(scene, f"stopper {s.key}", "untie") for s in (way.pull,) if s and world.stopper(s)]
    why = _capital(Sentence("{what} would come to a ring, and stop the rope.", {}, {"what": listed(list(left))}))
    right = Sentence("{what}", {}, {"what": listed(list(left)) if left else "nothing"})
    fine = Sentence("Nothing that would stop it is in the rope that goes up.")
    options = [QuizOption(_capital(right), True, why if left else fine)]
    if left:
        options.append(QuizOption(Sentence("Nothing"), False, why))
    for x in stays:
        comes = Sentence("It comes down with the end that is pulled: it may stay.")
        options.append(QuizOption(_capital(Sentence("{what}", {}, {"what": x})), False, comes))
    if len(options) < 2:
        return []
    asks = Sentence("What is still to come out before the pull?")
    return [QuizQuestion("to come out", (first if first is not None else n - 1) + 1, asks, _turned(options, n))]


def _wrong(run: Play, world: World, acts: Sequence[Act]) -> Sentence | None:
    """Why a move would be wrong in a state: it cannot be done, or a hazard begins in it; None where neither is so."""
    before = {s.key for s in seen(run.scene, world)}
    for act in acts[:FAR]:
        try:
            world = do(run.scene, world, act)
        except Refused as e:
            # Who is clipped in already need not be again.
            if act.do in PREPARES:
                continue
            return Sentence("It cannot be done yet. " + e.why.template, e.why.numbers, e.why.words)
        new = [s for s in seen(run.scene, world) if s.key not in before and s.severity == "Shortfall"]
        if new:
            return Sentence("{title}. {story}", {}, {"title": words(new[0].title), "story": words(new[0].story)})
    return None


def _side(run: Play, k: int, n: int) -> list[QuizQuestion]:
    """Which strand is pulled, where pulling another would not bring the rope down."""
    scene, p = run.scene, run.stations[k]
    world = p.states[n - 1] if n else p.before
    way = scene.stages[k].way(world.stations[k].which)
    if way.pull is None:
        return []
    options = []
    for s in way.strands:
        stuck = why_stuck(scene, world, k, s)
        if s == way.pull:
            why = Sentence("It runs: what sits at the ring comes down with it.")
            options.append(QuizOption(Sentence(thing(scene, s.key, "pull")), True, why))
        elif stuck is not None:
            options.append(QuizOption(Sentence(thing(scene, s.key, "pull")), False, stuck[1]))
    if len(options) < 2:
        return []
    return [QuizQuestion("pull side", n, Sentence("Which end is pulled?"), _turned(options, n))]


def _held(run: Play, k: int, n: int) -> QuizQuestion:
    """By how many independent paths whoever acted is held now."""
    scene, act, world = run.scene, run.stations[k].acts[n], run.stations[k].states[n]
    found = paths(scene, world, act.who)
    count = independent(found)
    told = held_words(scene, world, act.who, found)
    if count == 0 and not exposed(scene, world, act.who):
        told = Sentence("{told} A slip there is no fall.", {}, {"told": words(told)})
    asks = Sentence(
        "{done} By how many independent paths is {name} held now?",
        {},
        {"done": words(said(scene, act)), "name": scene.name(act.who)},
    )
    options = [QuizOption(Sentence(said_), m == count, told) for m, said_ in COUNT.items()]
    return QuizQuestion("held by", n + 1, asks, tuple(options))
