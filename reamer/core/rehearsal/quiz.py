"""Questions to the second guide: the next act, the strand to pull, who is held by what, each with the reason."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Literal

from reamer.core.acts.act import Act, Refused
from reamer.core.acts.acts import do
from reamer.core.acts.holding import independent, paths
from reamer.core.acts.rigging import why_stuck
from reamer.core.acts.world import World
from reamer.core.answer.say import Sentence, words
from reamer.core.model import ActName
from reamer.core.rehearsal.faults import exposed
from reamer.core.rehearsal.hazards import seen
from reamer.core.rehearsal.play import Play
from reamer.core.rehearsal.words import COUNT, held_words, said, thing

# Acts at whose place in the order something hangs (common practice, no source).
ASKED: frozenset[ActName] = frozenset(
    {
        "test",
        "unclip tether",
        "tie third hand",
        "load device",
        "descend",
        "be lowered",
        "take fireman's belay",
        "take out",
        "untie",
        "thread",
        "convert",
        "take off device",
        "secure the rope",
        "pull",
    }
)
HELD: frozenset[ActName] = frozenset({"load device", "test", "unclip tether", "arrive", "clip tether"})
# How far ahead an act is looked for that would be wrong now, and how often the same is asked at a station.
FAR, AGAIN = 14, 2


@dataclass(frozen=True, slots=True)
class QuizOption:
    """One answer, whether it is right, and the reason."""

    words: Sentence
    right: bool
    why: Sentence


@dataclass(frozen=True, slots=True)
class QuizQuestion:
    """A question about the state after one act, from 1; 0: before the first. The right answer stands anywhere."""

    kind: Literal["next act", "pull side", "held by"]
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
    for n, act in enumerate(p.acts):
        if p.refused[n] is not None:
            continue
        if act.do == "pull" and (found := _side(run, k, n)) is not None:
            made.append(found)
        if act.do in ASKED and asked[act.do] < AGAIN and (found := _next(run, k, n)) is not None:
            made.append(found)
            asked[act.do] += 1
        if act.do in HELD and asked[f"held {act.do}"] < AGAIN:
            made.append(_held(run, k, n))
            asked[f"held {act.do}"] += 1
    return tuple(made)


def _turned(options: list[QuizOption], n: int) -> tuple[QuizOption, ...]:
    """The options in an order that does not tell which is right."""
    ordered = sorted(options, key=lambda o: words(o.words))
    by = n % len(ordered)
    return tuple(ordered[by:] + ordered[:by])


def _next(run: Play, k: int, n: int) -> QuizQuestion | None:
    """Which act comes next, among those that come later and would be wrong now."""
    scene, p = run.scene, run.stations[k]
    world = p.states[n - 1] if n else p.before
    right, wrong = p.acts[n], list[QuizOption]()
    for later in p.acts[n + 1 : n + FAR]:
        if later.do == right.do or len(wrong) == 2:
            continue
        why = _wrong(run, world, later)
        if why is not None and words(said(scene, later)) not in [words(o.words) for o in wrong]:
            wrong.append(QuizOption(said(scene, later), False, why))
    if not wrong:
        return None
    good = QuizOption(said(scene, right), True, Sentence("That is the next act."))
    return QuizQuestion("next act", n, Sentence("What comes next?"), _turned([good, *wrong], n))


def _wrong(run: Play, world: World, act: Act) -> Sentence | None:
    """Why an act would be wrong in a state: it cannot be done, or a hazard begins; None where neither is so."""
    try:
        after = do(run.scene, world, act)
    except Refused as e:
        return Sentence("It cannot be done yet. " + e.why.template, e.why.numbers, e.why.words)
    before = {s.key for s in seen(run.scene, world)}
    new = [s for s in seen(run.scene, after) if s.key not in before and s.severity == "Shortfall"]
    if not new:
        return None
    first = new[0]
    return Sentence("{title}. {story}", {}, {"title": words(first.title), "story": words(first.story)})


def _side(run: Play, k: int, n: int) -> QuizQuestion | None:
    """Which strand is pulled, where pulling another would not bring the rope down."""
    scene, p = run.scene, run.stations[k]
    world = p.states[n - 1] if n else p.before
    way = scene.stages[k].way(world.stations[k].which)
    if way.pull is None:
        return None
    options = []
    for s in way.strands:
        stuck = why_stuck(scene, world, k, s)
        if s == way.pull:
            why = Sentence("It runs: what sits at the ring comes down with it.")
            options.append(QuizOption(Sentence(thing(scene, s.key, "pull")), True, why))
        elif stuck is not None:
            options.append(QuizOption(Sentence(thing(scene, s.key, "pull")), False, stuck[1]))
    return (
        QuizQuestion("pull side", n, Sentence("Which end is pulled?"), _turned(options, n))
        if len(options) > 1
        else None
    )


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
