"""What if a rope sticks, or is lost: what is left of the descent."""

from __future__ import annotations

from dataclasses import replace

from reamer.core.answer.findings import Fix
from reamer.core.answer.say import Number, Sentence
from reamer.core.descent.field import Cell, Field, Left, Mark, place_name
from reamer.core.plan.edits import PLAN
from reamer.core.rope.strands import SYSTEM_NAMES


def _story(field: Field, k: int, gone: frozenset[str], left: Left, rest: frozenset[str]) -> list[Sentence]:
    """What is left with, which stations go on, which does not, and why."""
    told = [Sentence("{gone} gone; {rest} left.", {}, {"gone": field.names(gone), "rest": field.names(rest)})]
    for j in left.others:
        way = field.way(j, rest)
        if way is not None:
            words = {"where": place_name(field.plan, j), "how": SYSTEM_NAMES[way.system.kind]}
            told.append(Sentence("At {where}: {how}, {ropes}.", {}, {**words, "ropes": field.names(way.ropes)}))
    if left.stops is not None:
        j = left.stops
        words = {"where": place_name(field.plan, j)}
        if left.unknown:
            told.append(
                Sentence(
                    "Whether {where} can be served is not known: {why}.", {}, {**words, "why": field.served[j].why}
                )
            )
        else:
            told.append(Sentence("Nothing that is left serves {where}.", {}, words))
            told += _nearest(field, j, rest)
    if left.off is not None:
        escape = field.plan.drops[left.off].escape
        minutes = escape.minutes.known if escape is not None else None
        words = {"to": escape.to if escape is not None else "", "where": place_name(field.plan, left.off)}
        if minutes is None:
            told.append(
                Sentence("There is a way off at the foot of {where}: {to}. How long it takes is unknown.", {}, words)
            )
        else:
            t = {"t": Number(minutes, "minutes", "up")}
            told.append(Sentence("There is a way off at the foot of {where}: {to}, {t}.", t, words))
    return told


def _nearest(field: Field, j: int, rest: frozenset[str]) -> list[Sentence]:
    """The way at a station that fails by reach alone, and by the least, with some ropes."""
    near = field.nearest(j, rest)
    if near is None:
        return []
    rope, short = max(near.short, key=lambda s: s[1])
    words = {"rope": field.name(rope), "how": SYSTEM_NAMES[near.kind]}
    return [Sentence("Nearest: {how}, where {rope} is {m} too short.", {"m": Number(short, "length", "up")}, words)]


def _word(field: Field, left: Left) -> tuple[Mark, str]:
    """The mark and the word of what is left of the descent."""
    if left.stops is None:
        return ("other way", "another way") if left.others else ("works", "all works")
    if left.unknown:
        return "not checked", "not checked"
    if left.off is not None:
        return "way off", f"off at {left.off + 1}"
    return "strands", f"cannot leave {left.stops + 1}"


def stuck(field: Field, k: int) -> Cell:
    """Every rope in use at a station stays there, once the last is down.

    field: the descent; k: the station's place, from 0
    returns: what is left
    Source: P, common practice, no source.
    """
    gone = field.own[k]
    rest = field.carried - gone
    if any(s.system.kind == "none" for s in field.plan.drops[k].station.states):
        return Cell("stuck", "not checked", "not checked", None, (Sentence("No rope system is chosen here."),))
    if k == len(field.plan.drops) - 1:
        return Cell("stuck", "works", "last drop", None, (Sentence("Everybody is down; the rope stays."),))
    left = field.left(k, rest)
    mark, word = _word(field, left)
    story = _story(field, k, gone & field.carried, left, rest)
    story.append(
        Sentence(
            "A stuck rope is climbed only with both strands in hand and fixed together. A single strand of which nobody"
            " knows what holds it is never a way up."
        )
    )
    fixes: list[Fix] = []
    if left.stops is not None and not left.unknown:
        add = field.more(lambda some: field.left(k, some - gone).stops is None)
        fixes += [field.carry(add)] if add else []
        other = next(
            (
                w
                for w in field.served[k].ways
                if w.ropes <= field.carried and w.ropes != gone and field.left(k, field.carried - w.ropes).stops is None
            ),
            None,
        )
        if other is not None:
            words = {"n": str(k + 1), "how": SYSTEM_NAMES[other.system.kind], "ropes": field.names(other.ropes)}
            edit = PLAN.at(lambda p: p.drops[k].station.states).set(other.states)
            fixes.append(Fix(Sentence("Rig {n} with {ropes}: {how}", {}, words), (edit,)))
    because = tuple(_story(field, k, gone & field.carried, replace(left, others=()), rest))
    return Cell("stuck", mark, word, None, tuple(story), tuple(fixes), _at(left, mark), because)


WORST: tuple[Mark, ...] = ("strands", "not checked", "way off", "other way", "works")


def lost(field: Field, k: int) -> Cell:
    """Any one rope that is carried is lost or cut, once the last is down at a station.

    field: the descent; k: the station's place, from 0
    returns: what is left after the loss that leaves least
    Source: P, common practice, no source.
    """
    if k == len(field.plan.drops) - 1:
        return Cell("lost", "works", "last drop", None, (Sentence("Everybody is down."),))
    every = []
    for rope in sorted(field.carried, key=lambda r: list(field.ctx.ropes).index(r) if r in field.ctx.ropes else -1):
        rest = field.carried - {rope}
        left = field.left(k, rest)
        every.append((*_word(field, left), rope, rest, left))
    if not every:
        return Cell("lost", "not checked", "no rope", None, (Sentence("No rope is carried."),))
    mark, word, rope, rest, left = min(every, key=lambda e: (WORST.index(e[0]), e[4].stops or 0))
    story: list[Sentence] = []
    for m, w, r, has, what in every:
        if m == mark and (r == rope or m in ("strands", "way off", "not checked")):
            story += _story(field, k, frozenset({r}), what, has)
        else:
            story.append(Sentence("Without {rope}: {word}.", {}, {"rope": field.name(r), "word": w}))
    fixes: tuple[Fix, ...] = ()
    if left.stops is not None and not left.unknown:
        add = field.more(lambda some: all(field.left(k, some - {r}).stops is None for r in some))
        fixes = (field.carry(add),) if add else ()
    because = tuple(_story(field, k, frozenset({rope}), replace(left, others=()), rest))
    return Cell("lost", mark, word, None, tuple(story), fixes, _at(left, mark), because)


def _at(left: Left, mark: Mark) -> int:
    return 0 if left.stops is None or mark not in ("strands", "way off") else left.stops + 1
