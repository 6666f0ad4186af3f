"""One state as it is drawn at one station: who is where, what joins them to what, how each strand hangs."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from reamer.core.acts.holding import HoldPath, independent
from reamer.core.acts.stage import Scene
from reamer.core.acts.world import Body, StrandRef, World
from reamer.core.answer.say import Sentence, listed
from reamer.core.rehearsal.faults import exposed
from reamer.core.rehearsal.words import grouped, thing

Zone = Literal["above", "station", "rope", "landing", "gone"]
Hangs = Literal["bag", "station", "down", "landing", "gone"]


@dataclass(frozen=True, slots=True)
class LinkShown:
    """What joins a person to something. ``here``: at the station in view, else at the next one."""

    kind: str
    here: bool
    to: str
    tested: bool
    hand: bool


@dataclass(frozen=True, slots=True)
class PersonShown:
    """A person in view. ``lit``: what holds them, path by path as far as they share nothing, each as its parts;
    ``by``: the same in words; ``watches``: whom they hold from below or lower."""

    who: str
    place: Zone
    edge: bool
    exposed: bool
    paths: int
    links: tuple[LinkShown, ...]
    lit: tuple[tuple[str, ...], ...]
    by: str
    watches: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class StrandShown:
    """A strand of the station in view. ``hangs``: in the bag, gathered at the station, down, on the landing after the
    pull, or on to a later station; ``hand``: who has its end in hand."""

    key: str
    rope: str
    end: str
    hangs: Hangs
    stopper: bool
    planned: bool
    pulled: bool
    hand: str


@dataclass(frozen=True, slots=True)
class Picture:
    """One state at one station. ``ring``: what is done at the ring, in words; ``tied``: by name; ``below``: how the
    rope is secured at the landing."""

    people: tuple[PersonShown, ...]
    strands: tuple[StrandShown, ...]
    ring: Sentence
    tied: tuple[str, ...]
    below: Sentence | None


def apart(found: tuple[HoldPath, ...]) -> tuple[HoldPath, ...]:
    """Paths that share no part whose loss counts, as many as a short search finds, the shortest first.

    found: paths
    returns: some of them; never more than are independent
    Source: none, a choice for the drawing.

    >>> [sorted(p) for p in apart((frozenset({"tether.a"}), frozenset({"device.a", "hand.a"})))]
    [['tether.a'], ['device.a', 'hand.a']]
    """
    best: tuple[HoldPath, ...] = ()
    for first in found:
        made: tuple[HoldPath, ...] = (first,)
        for p in found:
            if independent((*made, p)) > independent(made) and all(independent((q, p)) == 2 for q in made):
                made = (*made, p)
        if len(made) > len(best):
            best = made
    return best


def picture(
    scene: Scene,
    world: World,
    k: int,
    held: dict[str, tuple[HoldPath, ...]],
    memo: dict[object, PersonShown] | None = None,
) -> Picture:
    """One state as it is drawn at one station.

    scene: the descent; world: the state; k: the station, from 0; held: everybody's paths in it; memo: people as they
    were drawn in other states at this station
    returns: the picture
    Source: none, looked up.
    """
    stage, now = scene.stages[k], world.stations[k]
    way = stage.way(now.which)
    strands = tuple(_strand(scene, world, k, s) for s in way.strands if s.rope in world.ropes)
    tied = tuple(
        d for d in (*way.knots, "isolating overhand", "overhand below", "isolating clove", *PUT) if d in now.done
    )
    words = [thing(scene, d, "untie").removeprefix("the ").partition(",")[0] for d in tied]
    if "over" in now.done:
        words.append("set over the edge")
    if "unlocked" in now.done:
        words.append("tie-off unlocked")
    if "drawn" in now.done:
        words.append("drawn off the ring")
    through = [s for s in strands if s.hangs in ("down", "station")]
    if "pulled" in now.done:
        said = Sentence("nothing is left here")
    elif not through:
        said = Sentence("no rope through it yet")
    else:
        said = Sentence("{what}", {}, {"what": listed(words) if words else "nothing is tied"})
    return Picture(
        tuple(_person(scene, world, k, i, held[i], memo if memo is not None else {}) for i in world.people),
        strands,
        said,
        tied,
        _secured(scene, world, k),
    )


def _strand(scene: Scene, world: World, k: int, s: StrandRef) -> StrandShown:
    """A strand as it hangs at a station."""
    now, rope = world.stations[k], world.ropes[s.rope]
    way = scene.stages[k].way(now.which)
    end = rope.ends[s.end == "b"]
    hangs: Hangs = "bag"
    if "pulled" in now.done:
        hangs = "landing" if f"stack {k}" not in world.said and rope.place == f"landing {k + 1}" else "gone"
    elif rope.has(f"ring {k}") or any(x in now.done for x in way.knots):
        hangs = "down" if "thrown" in now.done or _below(end, k) else "station"
    hand = next((i for i in world.people if end == f"in {scene.name(i)}’s hand"), "")
    planned = next((e.planned for e in way.ends if e.strand == s), False)
    stopper = rope.has(f"stopper {s.end}")
    return StrandShown(s.key, s.rope, s.end, hangs, stopper, planned, s == way.pull, hand)


PUT = ("backup screw", "bights' carabiner", "courtesy carabiner", "belayer's hitch")


def _below(end: str, k: int) -> bool:
    return end == f"hangs below station {k + 1}" or end.startswith("in ")


def _secured(scene: Scene, world: World, k: int) -> Sentence | None:
    """How the rope is secured at the landing, in words."""
    done = world.stations[k].done
    if "secured tied" in done or "secured clipped" in done:
        return Sentence("the rope is {how}", {}, {"how": "tied in" if "secured tied" in done else "clipped"})
    holding = [scene.name(i) for i in world.people if f"secured in hand {i}" in done]
    return Sentence("{names} has the rope in hand", {}, {"names": listed(holding)}) if holding else None


def _place(scene: Scene, body: Body, k: int) -> Zone:
    if body.at < k:
        return "above"
    if body.at == k:
        return body.spot
    return "landing" if body.at == k + 1 and body.spot == "station" and not scene.stages[k].walk else "gone"


def _person(
    scene: Scene, world: World, k: int, who: str, found: tuple[HoldPath, ...], memo: dict[object, PersonShown]
) -> PersonShown:
    body = world.people[who]
    watches = _watched(world, k, who)
    if (who, body, found, watches) in memo:
        return memo[who, body, found, watches]
    links = [LinkShown(x.kind, x.k == k, x.to, x.tested, x.hand) for x in body.links]
    made = PersonShown(
        who,
        _place(scene, body, k),
        body.edge,
        exposed(scene, world, who),
        independent(found),
        tuple(links),
        tuple(tuple(sorted(p)) for p in apart(found)),
        listed(grouped(scene, who, found)),
        watches,
    )
    memo[who, body, found, watches] = made
    return made


def _watched(world: World, k: int, who: str) -> tuple[str, ...]:
    """Whom somebody holds from below, on a top line, or lowers."""
    watched = [w.of for w in world.stations[k].fireman if w.by == who]
    for i, b in world.people.items():
        if any(x.kind in ("lowering", "top line", "bight") and x.to == who for x in b.links):
            watched.append(i)
    return tuple(watched)
