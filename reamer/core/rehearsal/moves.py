"""A station told in moves: runs of acts with one purpose, those who do the same told together."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence, Set
from dataclasses import dataclass
from itertools import groupby

from reamer.core.acts.act import Act, MoveName
from reamer.core.acts.own import assigned
from reamer.core.acts.stage import Scene, Stage
from reamer.core.acts.world import World, strand, strands_key
from reamer.core.answer.say import Sentence, listed
from reamer.core.model import ActName
from reamer.core.rehearsal.words import thing

# What must be out before the rope is pulled.
BEFORE_THE_PULL = (
    "isolating overhand",
    "overhand below",
    "isolating clove",
    "backup screw",
    "bights' carabiner",
    "courtesy carabiner",
)


@dataclass(frozen=True, slots=True)
class Need:
    """What must be true before a move, and whether it is."""

    said: Sentence
    met: bool


@dataclass(frozen=True, slots=True)
class Move:
    """One move. ``kind``: what its acts are done for; ``begin``, ``end``: its acts, from 1; ``people``: whom it is told
    of, in their order; ``does``: who does something in it; ``lines``: what is done, once for those who do the same;
    ``otherwise``: what one of them does otherwise; ``needs``: what must be true before; ``after``: what is true then;
    ``hazards``: by their keys, those that begin in it."""

    kind: MoveName
    title: Sentence
    begin: int
    end: int
    people: tuple[str, ...]
    does: tuple[str, ...]
    lines: tuple[Sentence, ...]
    otherwise: tuple[Sentence, ...]
    needs: tuple[Need, ...]
    after: Sentence
    hazards: tuple[str, ...]


# Acts as one says them to whoever does them; {what} and {by} where they name something.
SHORT: dict[ActName, str] = {
    "go to the edge": "to the edge",
    "come back from the edge": "back from the edge",
    "clip tether": "clip in",
    "load tether": "lean back on it",
    "unclip tether": "tether off",
    "clip second tether": "a second tether to {what}",
    "unclip second tether": "second tether off",
    "thread": "{what} through the ring",
    "pull to the middle": "to the middle",
    "tie": "tie {what}",
    "untie": "untie {what}",
    "put in": "put in {what}",
    "take out": "{what} out",
    "set over the edge": "the ring over the edge",
    "set back": "the ring back from the edge",
    "call": "call “{what}”",
    "throw the rope": "rope down, ends first",
    "see the ends down": "see the ends down",
    "check": "check {what}",
    "look up": "look up: do the strands cross?",
    "load device": "device on",
    "take off device": "device off",
    "tie third hand": "hitch on",
    "take off third hand": "hitch off",
    "add a wrap": "a wrap more",
    "test": "weight it, tether still in",
    "take fireman's belay": "watched from below by {by}",
    "leave fireman's belay": "the watch ends",
    "take top belay": "belayed from above by {by}",
    "leave top belay": "off belay",
    "tie in": "tie in to {what}",
    "untie from the rope": "untie from {what}",
    "take lowering belay": "taken tight by {by}",
    "clip passenger": "clip into the other’s device",
    "unclip passenger": "unclip from it",
    "attend the reserve": "the reserve in hand",
    "leave the reserve": "leave the reserve",
    "unlock the tie-off": "unlock the tie-off",
    "lock the tie-off": "lock the tie-off",
    "convert": "convert it",
    "load the block": "load the block",
    "test-pull": "test-pull a metre from below",
    "pull back": "pull it back",
    "descend": "ride",
    "be lowered": "let down",
    "pull up the end": "{what} up",
    "secure the rope": "the rope secured",
    "hold clear": "everybody clear",
    "pull": "pull {what}",
    "stop pulling": "stop short of the ring",
    "pull through": "pull it through",
    "run the rope through": "run it through the fingers",
    "stack": "stack it",
    "walk on": "on to the next",
    "pass": "pass {what}",
    "fix the traverse line": "fix the traverse line",
    "reel in the traverse line": "reel in the traverse line",
    "pass the bight through": "a bight through the ring",
    "tie in to the bight": "tie in to a bight",
    "untie the bight": "untie the bight",
    "untie the end": "untie the end",
    "pass the end through": "the end through the ring",
    "tie the end again": "tie in to the end again",
}
# What is no news to whoever is told the rest: it goes with the act before it.
UNSAID = ("arrive", "load tether", "leave fireman's belay")
UNCHECKED = "checked by nobody"
# Words that are said in one breath, at the most (our judgement).
BREATH = 24
# A block that is tied, closed and loaded in one go.
BLOCK_ON = [("tie", "block"), ("put in", "block carabiner"), ("load the block", "")]
# How one gets down: by which acts, and what else goes with it.
RIDES: Set[ActName] = {"load device", "descend", "take off device"}
LOWERED: Set[ActName] = {"tie in", "take lowering belay", "be lowered", "untie from the rope"}
WITH_LOWERED: Set[ActName] = {"pull up the end", "unlock the tie-off", "lock the tie-off"}


def moves(
    scene: Scene,
    k: int,
    before: World,
    acts: Sequence[Act],
    states: Sequence[World],
    begun: Sequence[tuple[str, int]] = (),
    drafts: Set[int] = frozenset(),
) -> tuple[Move, ...]:
    """The acts of a station as moves, in order: each act is in one.

    scene: the descent; k: the station, from 0; before: the state in which it begins; acts, states: as gone through;
    begun: every hazard's key and the act that it begins with, from 1; drafts: acts that cannot be done, from 1: they
    are in a move, and are not told as done
    returns: the moves; by rule at most 12
    Source: P, common practice, no source: how a station is told.
    """
    made, n = [], 0
    for kind, run in groupby(acts, key=lambda a: a.move):
        some = list(run)
        began, ended = (states[n - 1] if n else before), states[n + len(some) - 1]
        people = _people(scene, k, kind, some, began, ended)
        done = [a for m, a in enumerate(some, n + 1) if m not in drafts]
        lines, otherwise = _told(scene, done, people, began)
        made.append(
            Move(
                kind,
                _title(scene, k, kind, some, people),
                n + 1,
                n + len(some),
                people,
                tuple(dict.fromkeys(a.who for a in some if a.who)),
                lines,
                otherwise,
                _needs(scene, k, some, people, began),
                _after(scene, k, began if n else None, ended),
                tuple(key for key, at in begun if n < at <= n + len(some)),
            )
        )
        n += len(some)
    return tuple(made)


def _people(scene: Scene, k: int, kind: MoveName, acts: Sequence[Act], began: World, ended: World) -> tuple[str, ...]:
    """Whom a move is told of: who gets down in it or onto the rope; else who does most of it."""
    order = [b.who for b in scene.stages[k].backups]
    if kind == "onto":
        return tuple(i for i in order if ended.people[i].link("device") and not began.people[i].link("device"))
    if kind in ("first", "turn", "last", "down"):
        gone = set(ended.below(k)) - set(began.below(k))
        whom = {a.who for a in acts if a.do in ("descend", "be lowered")} | gone
        return tuple(i for i in order if i in whom)
    most = Counter(a.who for a in acts if a.who).most_common(1)
    return (most[0][0],) if most else ()


def _title(scene: Scene, k: int, kind: MoveName, acts: Sequence[Act], people: Sequence[str]) -> Sentence:
    everybody = len(people) > 1 and len(people) == len(scene.plan.party)
    names = "everybody" if everybody else listed([scene.name(i) for i in people])
    does = {a.do for a in acts}
    tests = "test-pull" in does
    text = {
        "rig": "{names} rigs",
        "check": "{names} checks",
        "rope": "rope down" if "throw the rope" in does else "{names} stays at the rope",
        "onto": "{names} onto the rope",
        "first": "{names} first",
        "ahead": "{names} threads station {next}",
        "turn": "{names} in turn" if len(people) > 1 else "{names}",
        "before": "",
        "last": "{names} last",
        "pull": "pull and stack" if "stack" in does else "pull",
        "top": "{names} threads the ring",
        "down": "{names} is let down",
    }[kind]
    if kind == "before":
        converts = any(a.part_of.endswith(":convert:") or a.do == "convert" for a in acts)
        text = "{names} converts" if converts else "the ring over the edge" if "set over the edge" in does else ""
        text += ", test-pull" if text and tests else "test-pull" if tests else "" if text else "which strand is pulled"
    if kind in ("first", "turn", "last") and not people:
        text = "nobody gets down"
    if kind == "first" and "be lowered" in does:
        text += ", let down"
    named = {"names": names, "next": str(k + 2)}
    return Sentence(text, {}, {key: w for key, w in named.items() if f"{{{key}}}" in text})


def phrase(scene: Scene, act: Act, of: str) -> str:
    """An act as a phrase.

    scene: the descent; act: the act; of: whom it is told of, whose own acts need no name
    returns: the phrase
    Source: P, common practice, no source: how a station is told.
    """
    if act.own:
        return act.own.rstrip(".")
    what = "" if act.what == of else thing(scene, act.what, act.do, act.k)
    by = scene.name(act.who) if act.who else ""
    if act.do == "check" and act.what == of:
        return f"{by} checks"
    text = _short(scene, act)
    named = "{by}" in text
    text = text.replace("{what}", what).replace("{by}", by).strip()
    return text if named else text + _named(scene, act, of)


def _short(scene: Scene, act: Act) -> str:
    """An act's short words, with what is not as everybody would take it."""
    text = SHORT.get(act.do, act.do)
    ridden = {strands_key(w.ride) for w in scene.stages[act.k].ways} if 0 <= act.k < len(scene.stages) else set()
    other = (
        (act.do == "load device" and act.what and act.what not in ridden)
        or (act.do == "clip tether" and act.what != "master")
        or (act.do == "take fireman's belay" and "," in act.what)
    )
    if not other:
        return text
    return {"load device": "device on {what}", "clip tether": "clip in to {what}"}.get(act.do, f"{text}, {{what}}")


def _spoken(scene: Scene, acts: Sequence[Act], of: str) -> list[str]:
    """Acts as phrases, one after the other: what is done in one go is one of them, and at a station of one rope its
    name is said once."""
    made, n = list[str](), 0
    while n < len(acts):
        joined = next((j for j in (_joined(scene, acts[n : n + m], of) for m in (3, 2)) if j), None)
        text, took = joined or (phrase(scene, acts[n], of), 1)
        made.append(text)
        n += took
    ropes = {r for a in acts if 0 <= a.k < len(scene.stages) for w in scene.stages[a.k].ways for r in w.ropes}
    name = f" of {scene.rope(ropes.pop())}" if len(ropes) == 1 else ""
    at = next((m for m, p in enumerate(made) if name in p), 0)
    # What is called across a drop is called whole.
    return [p.replace(name, "") if name and m > at and "“" not in p else p for m, p in enumerate(made)]


def _joined(scene: Scene, acts: Sequence[Act], of: str) -> tuple[str, int] | None:
    """The words of acts that are done in one go, and how many they are; None where they are not."""
    first, then = acts[0], acts[-1]
    if len(acts) < 2 or any(a.own for a in acts):
        return None
    by, same = scene.name(first.who) if first.who else "", first.who == then.who
    does = tuple(a.do for a in acts)
    if does == ("unlock the tie-off", "be lowered", "lock the tie-off") and same and of in (acts[1].who, acts[1].what):
        return f"let down by {by}", 3
    if does == ("test", "unclip tether") and same and first.who == of:
        return "weight it, then tether off", 2
    if does == ("untie from the rope", "call") and same and first.who == of and "off rope" in then.what:
        return f"untie, {phrase(scene, then, of)}", 2
    if does == ("check", "take lowering belay") and same and first.what == then.what == of:
        return f"checked and taken tight by {by}", 2
    if [(a.do, a.what) for a in acts] == BLOCK_ON and same:
        return f"tie, clip and load {thing(scene, 'block', 'tie', first.k)}" + _named(scene, first, of), 3
    if does == ("call", "call") and not same and then.who != of:
        return f"{phrase(scene, first, of)}, {scene.name(then.who)} “{thing(scene, then.what, 'call', then.k)}”", 2
    if does in (("tie", "tie"), ("untie", "untie")) and _stoppers(first, then):
        ends = [thing(scene, x.what.removeprefix("stopper "), x.do, x.k) for x in acts]
        where = "both ends" if _one_rope(first, then) else listed(ends)
        return f"a stopper in {where}" if first.do == "tie" else f"the stoppers out of {where}", 2
    both = [thing(scene, a.what, a.do, a.k) for a in acts]
    if does in (("tie", "tie"), ("untie", "untie")) and same and not any("," in x for x in both):
        return f"{first.do} {listed(both)}" + _named(scene, first, of), 2
    return None


def _named(scene: Scene, act: Act, of: str) -> str:
    """Who does it, where it is told of somebody else."""
    return f" ({scene.name(act.who)})" if of and act.who and act.who != of else ""


def _stoppers(a: Act, b: Act) -> bool:
    return (a.do, a.who) == (b.do, b.who) and all(x.what.startswith("stopper ") for x in (a, b))


def _one_rope(a: Act, b: Act) -> bool:
    first, then = (strand(x.what.removeprefix("stopper ")) for x in (a, b))
    return first is not None and then is not None and first.rope == then.rope


def _stretches(acts: Sequence[Act], people: Sequence[str]) -> dict[str, list[Act]]:
    """Which acts of a move are told of whom."""
    whose = assigned(acts, people)
    made = {i: list[Act]() for i in people}
    for a, w in zip(acts, whose, strict=True):
        if w:
            made[w].append(a)
    return made


def _told(
    scene: Scene, acts: Sequence[Act], people: Sequence[str], began: World
) -> tuple[tuple[Sentence, ...], tuple[Sentence, ...]]:
    """What is done, in few phrases: once where several do the same, and what some do otherwise."""
    said = [a for a in acts if a.do not in UNSAID or a.own]
    if len(people) < 2:
        return _lines(_spoken(scene, said, people[0] if people else "")), ()
    whose = _stretches(said, people)
    each = {i: [phrase(scene, a, i) for a in some] for i, some in whose.items()}
    # What most do is told; of several ways as common the first.
    usual = max(each, key=lambda i: sum(w == each[i] for w in each.values()))
    common = each[usual]
    others = dict[str, list[str]]()
    for i, way in each.items():
        told = _differs(scene, (whose[usual], common), (whose[i], way), usual, i, began) if way != common else []
        if told or (way != common and sorted(way) == sorted(common)):
            others.setdefault("; ".join(told) or "the same in another order", []).append(scene.name(i))
    otherwise = [Sentence("{names}: {told}", {}, {"names": listed(who), "told": told}) for told, who in others.items()]
    return _lines(_spoken(scene, whose[usual], usual)), tuple(otherwise)


def _differs(
    scene: Scene,
    usual: tuple[Sequence[Act], list[str]],
    mine: tuple[Sequence[Act], list[str]],
    of: str,
    who: str,
    began: World,
) -> list[str]:
    """What one does otherwise than most, in phrases."""
    (acts, common), (own, way) = usual, mine
    how, implied, away = _way_down(acts, own)
    if not how and 2 * len(set(way) & set(common)) < len(way):
        # What has little in common is told by itself.
        return [", ".join(_spoken(scene, own, who))]
    body = began.people[who]
    ready = {"clip in": body.link("tether") is not None, "to the edge": body.edge}
    without = {p: _without(a, of) for p, a in zip(common, acts, strict=True) if a.do not in away}
    less = [
        said
        for p, said in without.items()
        if p not in way and not ready.get(p) and not any(x.startswith(f"{p} ") for x in way)
    ]
    # Who is able is checked by nobody by rule; a third hand is told once.
    less = [x for x in less if x != UNCHECKED or not scene.able(who)]
    kept = [p for p, a in zip(way, own, strict=True) if a.own or a.do not in implied or p != SHORT.get(a.do)]
    more = ["on a third hand" if p == "hitch on" else p for p in dict.fromkeys(kept) if p not in common]
    more = [p for p in more if p != "hitch off" or "on a third hand" not in more]
    return [x for x in (how, *more, *dict.fromkeys(less)) if x]


def _way_down(usual: Sequence[Act], own: Sequence[Act]) -> tuple[str, Set[ActName], Set[ActName]]:
    """Whether one rides where the others are let down: in words, by which acts, and which of the others' it leaves
    out."""
    theirs, mine = {a.do for a in usual}, {a.do for a in own}
    lowered = LOWERED | WITH_LOWERED
    if theirs >= LOWERED and mine >= RIDES and not mine & lowered:
        return "rides", RIDES, lowered
    return "", set(), set()


def _without(act: Act, of: str) -> str:
    """What is said of somebody who does without an act that the others do."""
    if act.do == "check" and act.what == of:
        return UNCHECKED
    if act.do in ("tie third hand", "take off third hand"):
        return "no third hand"
    if act.do == "take fireman's belay":
        return "not watched from below"
    return f"not: {SHORT.get(act.do, act.do).replace('{what}', '').replace('{by}', '').strip()}"


def _lines(phrases: Sequence[str]) -> tuple[Sentence, ...]:
    """Phrases, four on a line, fewer where they are long: what is said in one breath."""
    made = list[list[str]]()
    for p in phrases:
        if not made or len(made[-1]) == 4 or len(" ".join([*made[-1], p]).split()) > BREATH:
            made.append([])
        made[-1].append(p)
    said = (", ".join(some) for some in made)
    return tuple(Sentence("{said}.", {}, {"said": text[:1].upper() + text[1:]}) for text in said)


def _needs(scene: Scene, k: int, acts: Sequence[Act], people: Sequence[str], world: World) -> tuple[Need, ...]:
    """What must be true before a move. Source: P, common practice, no source."""
    done, kind, asked = world.stations[k].done, acts[0].move, list[Need]()

    def ask(text: str, met: bool, **named: str) -> None:
        asked.append(Need(Sentence(text, {}, named), met))

    if kind in ("check", "rope", "onto", "first", "turn", "last"):
        ask("the rope is through the ring", "threaded" in done)
    # When the last one goes, nobody is left to look.
    if kind in ("onto", "first", "turn") and len(scene.plan.party) > 1:
        ask("somebody else has checked the station", f"check station {k}" in world.said)
    if kind in ("turn", "last", "before"):
        on = listed([scene.name(i) for i in world.riding(k)])
        ask("nobody is on the rope" if not on else "{on} off the rope", not on, **({"on": on} if on else {}))
    if kind in ("last", "pull"):
        left = [i for i in (*world.top(k), *world.riding(k)) if kind == "pull" or i not in people]
        names = {"names": listed([scene.name(i) for i in left])} if left else {}
        rest = "everybody else is down" if kind == "last" else "everybody is down"
        ask("{names} down first" if left else rest, not left, **names)
    if kind == "pull":
        taken = {a.what for a in acts if a.do in ("untie", "take out")}
        left = [thing(scene, d, "untie", k) for d in _left_in(scene, world, k) if d not in taken]
        what = {"what": listed(left)} if left else {}
        ask("{what} out" if left else "nothing is left in that must come out before the pull", not left, **what)
    return tuple(asked)


def _after(scene: Scene, k: int, began: World | None, world: World) -> Sentence:
    """What is true once a move is done: who is down and who above, where that or nothing else is new; what somebody
    holds; of the rope what is new, and always an open end."""
    stage, now, told = scene.stages[k], world.stations[k], []
    order = [b.who for b in stage.backups]
    groups = {where: some for where, there in _stand(world, k).items() if (some := [i for i in order if i in there])}
    most, stood = max(groups, key=lambda w: len(groups[w]), default=""), list[str]()
    for where, some in sorted(groups.items(), key=lambda x: x[0] == most):
        others = where == most and len(groups) > 1 and len(some) > 2
        who = "the others" if others else "everybody" if len(some) == len(order) > 1 else ""
        are = "is" if len(some) == 1 or who == "everybody" else "are"
        stood.append(f"{who or listed([scene.name(i) for i in some])} {are} {where}")
    for w in now.fireman:
        told.append(f"{scene.name(w.by)} watches {scene.name(w.of)}")
    if now.attendant and (began is None or began.stations[k].attendant != now.attendant):
        told.append(f"{scene.name(now.attendant)} has the reserve in hand")
    for who, body in world.people.items():
        for link in body.links:
            if link.kind in ("top line", "lowering", "bight") and link.hand and link.k == k:
                told.append(f"{scene.name(link.to)} has {scene.name(who)} on belay")
    rope = _rope(stage, world, k)
    if rope and (began is None or rope != _rope(stage, began, k) or rope.endswith("open")):
        told.append(rope)
    if not told or began is None or _stand(began, k) != _stand(world, k):
        told = [*stood, *told]
    return Sentence("{told}.", {}, {"told": "; ".join(told)[:1].upper() + "; ".join(told)[1:]})


def _stand(world: World, k: int) -> dict[str, Sequence[str]]:
    return {"down": world.below(k), "on the rope": world.riding(k), "above": world.top(k)}


def _rope(stage: Stage, world: World, k: int) -> str:
    """How the rope of a station stands, "" where it is not there yet."""
    now = world.stations[k]
    if "pulled" in now.done:
        return "the rope is down"
    if "thrown" in now.done:
        open_ = [s for s in stage.way(now.which).ride if not world.stopper(s)]
        return "the rope hangs" + (", an end open" if open_ else "")
    return "the rope is through the ring" if "threaded" in now.done else ""


def to_untie(scene: Scene, world: World, k: int) -> tuple[str, ...]:
    """What must still come out before the pull.

    scene: the descent; world: the state; k: the station, from 0
    returns: in words
    Source: P, common practice, no source.
    """
    return tuple(thing(scene, what, "untie", k) for what in _left_in(scene, world, k))


def _left_in(scene: Scene, world: World, k: int) -> list[str]:
    """What must still come out before the pull, as acts name it."""
    way, done = scene.stages[k].way(world.stations[k].which), world.stations[k].done
    if "threaded" not in done or "pulled" in done:
        return []
    up = [f"stopper {s.key}" for s in (way.up,) if s and world.stopper(s)]
    return [*up, *(d for d in BEFORE_THE_PULL if d in done)]
