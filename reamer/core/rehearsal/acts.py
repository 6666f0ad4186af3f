"""The acts: each a function from one state to the next, or a refusal with its reason.

Refused is only what cannot be done. What is merely unwise is done, and judged afterwards."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from reamer.core.answer.say import Sentence
from reamer.core.model import ActName
from reamer.core.rehearsal.holding import fixings
from reamer.core.rehearsal.stage import RopeWay, Scene, Stage
from reamer.core.rehearsal.world import Body, Link, StationNow, StrandRef, World, strand
from reamer.core.rope.strands import UNDONE


@dataclass(frozen=True, slots=True)
class Act:
    """One act. ``key``: stable from one time to the next; ``k``: the station it belongs to, from 0; ``what``: a strand,
    a knot, a person, as the act needs; ``own``: the guide's words, "" the usual ones; ``added``: by the guide."""

    key: str
    k: int
    do: ActName
    who: str = ""
    what: str = ""
    own: str = ""
    added: bool = False


class Refused(Exception):
    """An act that cannot be done in its state, and why."""

    def __init__(self, why: str, **words: str) -> None:
        super().__init__(why)
        self.why = Sentence(why, {}, words)


# Doing these leaves the eyes on the rider.
WATCHFUL = frozenset({"take fireman's belay", "call", "descend", "arrive", "be lowered", "hold clear"})
AT_THE_EDGE = frozenset(
    {"throw the rope", "load device", "set over the edge", "attend the reserve", "tie in", "convert"}
)
# Systems that hang from the middle of their rope.
HALVED = ("doubled", "alternating bights")
KNOTS = ("join", "block", "tie-off", "bights", "device knot")
PUT = ("block carabiner", "bights' carabiner", "backup screw", "courtesy carabiner", "belayer's hitch")


def do(scene: Scene, world: World, act: Act) -> World:
    """One act done.

    scene: the descent; world: the state before; act: the act
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    if not 0 <= act.k < len(scene.stages):
        raise Refused("There is no such station.")
    if act.who and act.who not in world.people:
        raise Refused("Whoever is to do it is not in the party.")
    if not act.who and act.do not in ANYBODY:
        raise Refused("Nobody is named to do it.")
    after = ACTS[act.do](_At(scene, world, act))
    body = after.people.get(act.who)
    if act.do in AT_THE_EDGE and body is not None and body.spot == "station" and body.at == act.k:
        # Whoever handles the rope at the ring is at the edge, whether or not somebody has said so.
        after = after.body(act.who, replace(body, edge=True))
    return replace(after, busy="" if act.do in WATCHFUL else act.who)


ANYBODY = ("walk on", "call", "look up", "hold clear", "stack")


@dataclass(frozen=True, slots=True)
class _At:
    """An act about to be done in a state."""

    scene: Scene
    world: World
    act: Act

    @property
    def k(self) -> int:
        return self.act.k

    @property
    def stage(self) -> Stage:
        return self.scene.stages[self.act.k]

    @property
    def stands(self) -> StationNow:
        return self.world.stations[self.act.k]

    @property
    def way(self) -> RopeWay:
        return self.stage.way(self.stands.which)

    @property
    def body(self) -> Body:
        return self.world.people[self.act.who]

    def name(self, who: str = "") -> str:
        return self.scene.name(who or self.act.who)

    def here(self, now: StationNow) -> World:
        return self.world.station(self.act.k, now)

    def me(self, body: Body) -> World:
        return self.world.body(self.act.who, body)

    def top(self) -> None:
        """Refuse whoever is not at the station."""
        if self.act.who not in self.world.top(self.k):
            raise Refused("{name} is not at the station.", name=self.name())

    def low(self) -> None:
        """Refuse whoever has not come down."""
        if self.act.who not in self.world.below(self.k):
            raise Refused("{name} has not come down yet.", name=self.name())

    def other(self) -> str:
        """The other person an act names."""
        if self.act.what not in self.world.people or self.act.what == self.act.who:
            raise Refused("It names nobody else of the party.")
        return self.act.what

    def strands(self) -> frozenset[StrandRef]:
        """The strands that an act names, those that hang here; the ridden ones where it names none."""
        if self.stands.which < 0 or "pulled" in self.stands.done:
            raise Refused("No rope hangs at the station.")
        named = frozenset(s for t in self.act.what.split(",") if (s := strand(t)) is not None)
        made = named or frozenset(self.way.ride)
        if not made or not made <= set(self.way.strands):
            raise Refused("That strand does not hang at the station.")
        return made


def _edge(at: _At) -> World:
    at.top()
    return at.me(replace(at.body, edge=True))


def _back(at: _At) -> World:
    at.top()
    return at.me(replace(at.body, edge=False))


def _clip(at: _At) -> World:
    body, to = at.body, at.act.what or "master"
    if body.spot == "landing" and at.scene.stages[body.at].below == "hanging" and not body.link("tether"):
        # Where the descent ends hanging, what is there to clip to is not part of the plan.
        return at.me(body.having(Link("tether", body.at, "landing")))
    if body.spot != "station":
        raise Refused("{name} is not within reach of a master point.", name=at.name())
    if to not in ("master", "backup"):
        raise Refused("A tether is clipped to the master point or to the backup.")
    if to == "backup" and "backup screw" not in at.world.stations[body.at].done:
        raise Refused("There is no backup to clip to.")
    if body.link("tether"):
        raise Refused("{name}’s tether is clipped already.", name=at.name())
    return at.me(body.having(Link("tether", body.at, to)))


def _load_tether(at: _At) -> World:
    link = at.body.link("tether")
    if link is None:
        raise Refused("{name} has no tether clipped.", name=at.name())
    return at.me(at.body.having(link._replace(tested=True)))


def _unclip(at: _At) -> World:
    if at.body.link("tether") is None:
        raise Refused("{name} has no tether clipped.", name=at.name())
    return at.me(at.body.without("tether"))


def _thread(at: _At) -> World:
    at.top()
    s, now = strand(at.act.what), at.stands
    if s is None or s.rope not in at.world.ropes:
        raise Refused("It names no end of a rope that is there.")
    if s.rope not in {r for w in at.stage.ways for r in w.ropes}:
        raise Refused("{rope} is not used at this station.", rope=at.scene.rope(s.rope))
    if "threaded" in now.done:
        raise Refused("Something is threaded already.")
    rope = at.world.ropes[s.rope]
    above = [j for j, n in enumerate(at.world.stations) if j != at.k and rope.has(f"ring {j}")]
    for j in above:
        way = at.scene.stages[j].last
        if s not in way.strands:
            raise Refused(
                "End {end} of {rope} is still above, at station {n}.",
                end=s.end.upper(),
                rope=at.scene.rope(s.rope),
                n=str(j + 1),
            )
    if rope.has(f"stopper {s.end}"):
        raise Refused("There is a stopper in the end: it does not go through.")
    made = rope.put(0.0 if s.end == "a" else rope.length_m, f"ring {at.k}").end_at(s.end, f"threaded at {at.k + 1}")
    which = -1 if above else 0
    place = rope.place if above else f"station {at.k + 1}"
    world = at.world.rope(s.rope, replace(made, place=place))
    return world.station(at.k, replace(now.doing("threaded"), which=which))


def _middle(at: _At) -> World:
    at.top()
    if "threaded" not in at.stands.done or at.stands.which < 0:
        raise Refused("The rope does not run through the station’s ring yet.")
    rope_id = at.way.ropes[0]
    rope = at.world.ropes.get(rope_id)
    if rope is None:
        raise Refused("The rope is not there.")
    moved = rope.off(f"ring {at.k}").put(rope.length_m / 2, f"ring {at.k}")
    return at.world.rope(rope_id, moved).station(at.k, at.stands.doing("middle"))


def _stopper(at: _At, tied: bool) -> World:
    s = strand(at.act.what.removeprefix("stopper "))
    if s is None or s.rope not in at.world.ropes:
        raise Refused("It names no end of a rope that is there.")
    rope = at.world.ropes[s.rope]
    k = at.k
    down = "thrown" in at.stands.done and s in at.way.strands and rope.has(f"ring {k}")
    if down and at.act.who in at.world.top(k) and at.world.people[at.act.who].at == k:
        raise Refused("The end hangs below: it is out of {name}’s reach.", name=at.name())
    what = f"stopper {s.end}"
    if tied == rope.has(what):
        raise Refused("There is a stopper in it already." if tied else "There is no stopper in it.")
    tail = min(1.0, rope.length_m / 4)
    place = tail if s.end == "a" else rope.length_m - tail
    return at.world.rope(s.rope, rope.put(place, what) if tied else rope.off(what))


def _tie(at: _At) -> World:
    what = at.act.what
    if what.startswith("stopper "):
        return _stopper(at, True)
    if what == "overhand below":
        at.low()
        if at.stands.which < 0 or "pulled" in at.stands.done:
            raise Refused("No rope hangs at the station.")
        return at.here(at.stands.doing(what))
    at.top()
    if what in ("isolating overhand", "isolating clove"):
        if "threaded" not in at.stands.done:
            raise Refused("No rope hangs at the station.")
        return at.here(at.stands.doing(what))
    if what not in KNOTS:
        raise Refused("There is no such knot here.")
    if what not in at.way.knots:
        raise Refused("This station is not rigged with such a knot.")
    if "threaded" not in at.stands.done:
        raise Refused("The rope is not at the ring yet.")
    if what in at.stands.done:
        raise Refused("It is tied already.")
    rope_id = at.way.ropes[-1 if what == "join" and len(at.way.ropes) > 1 else 0]
    world = at.world
    if rope_id in world.ropes:
        rope = world.ropes[rope_id]
        near = next((o.at_m for o in rope.on if o.what == f"ring {at.k}"), 0.0)
        world = world.rope(rope_id, replace(rope.put(near, f"{what} {at.k}"), place=f"station {at.k + 1}"))
    # What was looked at before it was tied has not been looked at.
    world = replace(world, said=world.said - {f"check station {at.k}"})
    return world.station(at.k, replace(at.stands.doing(what), which=max(at.stands.which, 0)))


def _untie(at: _At) -> World:
    what = at.act.what
    if what.startswith("stopper "):
        return _stopper(at, False)
    if what == "overhand below":
        at.low()
    else:
        at.top()
    if what not in at.stands.done or what in ("threaded", "pulled"):
        raise Refused("It is not tied.")
    world = at.here(at.stands.undone(what))
    for rope_id in at.way.ropes:
        if rope_id in world.ropes:
            world = world.rope(rope_id, world.ropes[rope_id].off(f"{what} {at.k}"))
    return world


def _put(at: _At) -> World:
    if at.act.what != "belayer's hitch":
        at.top()
    if at.act.what not in PUT:
        raise Refused("There is no such thing to put in.")
    if at.act.what in at.stands.done:
        raise Refused("It is in already.")
    if at.act.what == "backup screw" and not at.stage.screw:
        raise Refused("The plan has no backup here.")
    return at.here(at.stands.doing(at.act.what))


def _take(at: _At) -> World:
    at.top()
    if at.act.what not in at.stands.done or at.act.what not in PUT:
        raise Refused("It is not in.")
    return at.here(at.stands.undone(at.act.what))


def _over(at: _At) -> World:
    at.top()
    if not at.stage.over:
        raise Refused("The ring hangs in one place here.")
    return at.here(
        replace(at.stands.doing("over"), which=len(at.stage.ways) - 1 if _same(at.stage) else at.stands.which)
    )


def _same(stage: Stage) -> bool:
    """Whether the last person finds the same rope system as the party."""
    return stage.ways[0].kind == stage.ways[-1].kind


def _set_back(at: _At) -> World:
    at.top()
    if "over" not in at.stands.done:
        raise Refused("The ring is not over the edge.")
    return at.here(at.stands.undone("over"))


def _said(at: _At) -> World:
    return replace(at.world, said=at.world.said | {f"{at.act.do} {at.act.what} {at.k}".replace("  ", " ")})


def _check(at: _At) -> World:
    if at.act.what in at.world.people and at.act.what == at.act.who:
        raise Refused("Nobody checks themselves.")
    return _said(at)


def _throw(at: _At) -> World:
    at.top()
    if "threaded" not in at.stands.done or at.stands.which < 0:
        raise Refused("No rope is rigged yet.")
    world = at.here(at.stands.doing("thrown"))
    for s in at.way.strands:
        if s.rope in world.ropes:
            world = world.rope(s.rope, world.ropes[s.rope].end_at(s.end, f"hangs below station {at.k + 1}"))
    return world


def _seen(at: _At) -> World:
    if "thrown" not in at.stands.done:
        raise Refused("The ends are not down yet.")
    return at.here(at.stands.doing("seen"))


def _load_device(at: _At) -> World:
    at.top()
    strands = at.strands()
    if at.body.link("device"):
        raise Refused("{name}’s device is on a rope already.", name=at.name())
    if at.body.link("passenger"):
        raise Refused("{name} rides on somebody else’s device.", name=at.name())
    if at.way.kind in HALVED and "threaded" in at.stands.done and "middle" not in at.stands.done:
        raise Refused("The rope does not lie at its middle: one strand is too short to take.")
    return at.me(at.body.having(Link("device", at.k, "", strands, hand=True)))


def _device_off(at: _At) -> World:
    if at.body.link("device") is None:
        raise Refused("{name} has no device on a rope.", name=at.name())
    return at.me(at.body.without("device"))


def _hand(on: bool) -> Callable[[_At], World]:
    def run(at: _At) -> World:
        link = at.body.link("device")
        if link is None:
            raise Refused("{name} has no device on a rope.", name=at.name())
        return at.me(at.body.having(link._replace(hand=on)))

    return run


def _third(at: _At) -> World:
    device = at.body.link("device")
    strands = at.strands() if device is None or at.act.what else device.strands
    if at.body.link("third hand"):
        raise Refused("{name}’s third hand is on a rope already.", name=at.name())
    return at.me(at.body.having(Link("third hand", at.k if device is None else device.k, "", strands)))


def _third_off(at: _At) -> World:
    if at.body.link("third hand") is None:
        raise Refused("{name} has no third hand on a rope.", name=at.name())
    return at.me(at.body.without("third hand"))


def _wrap(at: _At) -> World:
    if at.body.link("third hand") is None:
        raise Refused("{name} has no third hand on a rope.", name=at.name())
    return at.world


def _test(at: _At) -> World:
    """Body weight on device, third hand and belay, with the tether still in."""
    body = at.body
    if body.link("tether") is None:
        raise Refused("It is tested with the tether still in, and {name}’s is not.", name=at.name())
    tried = [x for x in body.links if x.kind != "tether"]
    if not tried:
        raise Refused("{name} has nothing to test.", name=at.name())
    for link in tried:
        if link.strands and link.kind in ("device", "third hand"):
            way = fixings(at.world, at.scene.stages[link.k], at.world.stations[link.k], link.strands, at.act.who)
            if not way:
                raise Refused("The rope runs: nothing holds the strand that {name} weights.", name=at.name())
        if link.kind == "passenger" and at.world.people[link.to].link("device") is None:
            raise Refused("The device that {name} hangs on is on no rope.", name=at.name())
    links = tuple(x if x.kind == "tether" else x._replace(tested=True) for x in body.links)
    world = at.me(replace(body, links=links))
    if "isolating clove" in at.stands.done:
        return world
    return world.station(at.k, replace(at.stands, tested=at.stands.tested | {"ring", *at.way.knots}))


def _fireman(at: _At) -> World:
    rider = at.other()
    if at.act.who not in at.world.below(at.k) and at.act.who not in at.world.riding(at.k):
        raise Refused("{name} has not come down yet.", name=at.name())
    if at.stands.which < 0 or "pulled" in at.stands.done:
        raise Refused("No rope hangs at the station.")
    kept = tuple(f for f in at.stands.fireman if f[0] != at.act.who and f[1] != rider)
    return at.here(replace(at.stands, fireman=(*kept, (at.act.who, rider))))


def _fireman_off(at: _At) -> World:
    kept = tuple(f for f in at.stands.fireman if f[0] != at.act.who)
    if len(kept) == len(at.stands.fireman):
        raise Refused("{name} holds nobody.", name=at.name())
    return at.here(replace(at.stands, fireman=kept))


def _top_line(at: _At) -> World:
    at.top()
    rider = at.other()
    if rider not in at.world.top(at.k):
        raise Refused("{name} is not at the station.", name=at.name(rider))
    return at.world.body(rider, at.world.people[rider].having(Link("top line", at.k, at.act.who, hand=True)))


def _top_line_off(at: _At) -> World:
    rider = at.other()
    if at.world.people[rider].link("top line") is None:
        raise Refused("{name} is on no top line.", name=at.name(rider))
    return at.world.body(rider, at.world.people[rider].without("top line"))


def _tie_in(at: _At) -> World:
    at.top()
    return at.me(at.body.having(Link("lowering", at.k, at.act.what, at_ride(at))))


def at_ride(at: _At) -> frozenset[StrandRef]:
    """The strand that somebody is lowered on.

    at: the act
    returns: the ridden strands
    raises: Refused where no rope is there
    Source: none, a look-up.
    """
    if at.stands.which < 0 or "threaded" not in at.stands.done or "pulled" in at.stands.done:
        raise Refused("No rope is rigged to lower on.")
    return frozenset(at.way.ride)


def _untie_in(at: _At) -> World:
    if at.body.link("lowering") is None and at.body.link("bight") is None:
        raise Refused("{name} is not tied in.", name=at.name())
    return at.me(at.body.without("lowering", *(() if at.act.do == "untie the end" else ("bight",))))


def _pass(what: str) -> Callable[[_At], World]:
    """A bight, or the end, through the ring at the top of a pitch."""

    def run(at: _At) -> World:
        at.top()
        if not at.stage.climbed:
            raise Refused("Nobody has climbed here on this rope.")
        if what == "bight":
            if at.stage.bight == "no":
                raise Refused("A bight of the rope does not fit through the ring.")
            if "bight" in at.stands.done:
                raise Refused("It is through already.")
            return at.here(at.stands.doing("bight", "threaded"))
        if at.body.link("lowering") is not None:
            raise Refused("{name} is still tied in to the end.", name=at.name())
        return at.here(at.stands.doing("end through", "threaded"))

    return run


def _to_bight(at: _At) -> World:
    at.top()
    old = at.body.link("lowering")
    if not at.stage.climbed or old is None:
        raise Refused("{name} is on no rope that a bight could be tied in.", name=at.name())
    return at.me(at.body.having(Link("bight", at.k, old.to, old.strands, hand=old.hand)))


def _bight_off(at: _At) -> World:
    if at.body.link("bight") is None:
        raise Refused("{name} is tied in to no bight.", name=at.name())
    return at.me(at.body.without("bight"))


def _end_again(at: _At) -> World:
    at.top()
    bight = at.body.link("bight")
    if at.body.link("lowering") is not None:
        raise Refused("{name} is tied in to the end already.", name=at.name())
    by = bight.to if bight is not None else at.act.what
    if by not in at.world.people:
        raise Refused("Nobody belays.")
    hand = bight.hand if bight is not None else True
    return at.me(at.body.having(Link("lowering", at.k, by, frozenset(at.way.ride), hand=hand)))


def _belay(on: bool) -> Callable[[_At], World]:
    def run(at: _At) -> World:
        rider = at.other()
        body = at.world.people[rider]
        tied = [x for x in body.links if x.kind in ("lowering", "bight")]
        if not tied:
            raise Refused("{name} is not tied in.", name=at.name(rider))
        for link in tied:
            body = body.having(link._replace(to=at.act.who, hand=on))
        return at.world.body(rider, body)

    return run


def _passenger(at: _At) -> World:
    other = at.other()
    if at.world.people[other].link("device") is None:
        raise Refused("{name} has no device on the rope to hang on.", name=at.name(other))
    if at.body.link("device"):
        raise Refused("{name}’s own device is on the rope.", name=at.name())
    if any((x := b.link("passenger")) and x.to == other for i, b in at.world.people.items() if i != at.act.who):
        raise Refused("Somebody hangs on that device already.")
    return at.me(at.body.having(Link("passenger", at.k, other)))


def _passenger_off(at: _At) -> World:
    if at.body.link("passenger") is None:
        raise Refused("{name} is nobody’s passenger.", name=at.name())
    return at.me(at.body.without("passenger"))


def _attend(at: _At) -> World:
    at.top()
    if "tie-off" not in at.stands.done:
        raise Refused("There is no tie-off to attend.")
    return at.here(replace(at.stands, attendant=at.act.who))


def _attend_off(at: _At) -> World:
    if at.stands.attendant != at.act.who:
        raise Refused("{name} attends nothing.", name=at.name())
    return at.here(replace(at.stands, attendant=""))


def _lock(locked: bool) -> Callable[[_At], World]:
    def run(at: _At) -> World:
        at.top()
        if "tie-off" not in at.stands.done:
            raise Refused("There is no tie-off.")
        return at.here(at.stands.undone("unlocked") if locked else at.stands.doing("unlocked"))

    return run


def _on_it(at: _At) -> list[str]:
    """Who has anything on this station's rope."""
    kinds = ("device", "third hand", "lowering")
    return [i for i, b in at.world.people.items() if any(x.kind in kinds and x.k == at.k for x in b.links)]


def _convert(at: _At) -> World:
    at.top()
    if len(at.stage.ways) < 2:
        raise Refused("The plan has no other rigging for the last person here.")
    if _on_it(at):
        raise Refused("{name} is on the rope.", name=at.name(_on_it(at)[0]))
    if at.stands.which < 0:
        raise Refused("Nothing is rigged yet.")
    last = at.stage.last
    first = at.stage.ways[0]
    done = (
        (at.stands.done - set(first.knots) - {"unlocked", "belayer's hitch"}) | set(last.knots) | {"threaded", "middle"}
    )
    if last.kind.startswith("blocked"):
        done |= {"block carabiner"}
    # The rope is up again: its ends are set and let down anew.
    done -= {"thrown", "seen"}
    now = replace(at.stands, done=frozenset(done), which=last.which, attendant="", tested=frozenset())
    world = at.here(now)
    for rope_id in first.ropes:
        if rope_id in world.ropes:
            world = world.rope(rope_id, world.ropes[rope_id].off(*(f"{x} {at.k}" for x in first.knots)))
    for rope_id in last.ropes:
        if rope_id in world.ropes and not world.ropes[rope_id].has(f"ring {at.k}"):
            rope = world.ropes[rope_id].put(world.ropes[rope_id].length_m / 2, f"ring {at.k}")
            world = world.rope(rope_id, replace(rope, place=f"station {at.k + 1}"))
    return world


def _test_pull(at: _At) -> World:
    at.low()
    if at.way.kind in UNDONE:
        raise Refused("A test-pull would undo it: there is none with this system.")
    if at.stands.which < 0 or "pulled" in at.stands.done or at.way.pull is None:
        raise Refused("There is nothing to pull.")
    drawn = ("drawn",) if at.way.kind.startswith("blocked") else ()
    return at.here(at.stands.doing("test-pulled", *drawn))


def _pull_back(at: _At) -> World:
    if "drawn" not in at.stands.done:
        raise Refused("Nothing is drawn off the ring.")
    return at.here(at.stands.undone("drawn"))


def _leaves(at: _At, kind: str) -> list[str]:
    """Everybody who goes down with this act, refused where somebody is still tethered."""
    going = [at.act.who]
    going += [
        i for i, b in at.world.people.items() if (x := b.link("passenger")) and x.to == at.act.who and x.k == at.k
    ]
    for i in going:
        if at.world.people[i].link("tether"):
            raise Refused("{name}’s tether is still in.", name=at.name(i))
    if kind == "device" and "isolating overhand" in at.stands.done:
        raise Refused("The isolating overhand is still in, below the device.")
    if "isolating clove" in at.stands.done and at.world.below(at.k):
        raise Refused("The isolating clove is still in.")
    return going


def _descend(at: _At) -> World:
    at.top()
    link = at.body.link("device")
    if link is None or link.k != at.k:
        raise Refused("{name} has no device on the rope.", name=at.name())
    if "thrown" not in at.stands.done:
        raise Refused("The rope is not down yet.")
    world = at.world
    for i in _leaves(at, "device"):
        world = world.body(i, replace(world.people[i], spot="rope", edge=True))
    return world


def _lower(at: _At) -> World:
    at.top()
    tied = at.body.link("lowering") or at.body.link("bight")
    if at.stage.climbed and tied is not None and "threaded" not in at.stands.done:
        raise Refused("The rope does not run through the ring: nothing of it could be had back.")
    if tied is None:
        raise Refused("{name} is not tied in.", name=at.name())
    if not tied.hand:
        raise Refused("Nobody has {name} on belay.", name=at.name())
    _leaves(at, "rope")
    return at.me(replace(at.body, spot="rope", edge=True))


def _arrive(at: _At) -> World:
    if at.act.who not in at.world.riding(at.k):
        raise Refused("{name} is not on the rope.", name=at.name())
    going = [at.act.who]
    going += [
        i for i, b in at.world.people.items() if (x := b.link("passenger")) and x.to == at.act.who and b.spot == "rope"
    ]
    world = at.world
    same = not at.stage.walk and at.k + 1 < len(at.scene.stages)
    for i in going:
        body = replace(world.people[i], edge=False)
        world = world.body(i, replace(body, at=at.k + 1, spot="station") if same else replace(body, spot="landing"))
    return world


def _walk(at: _At) -> World:
    going = [at.act.who] if at.act.who else at.world.below(at.k)
    here = [i for i in going if at.world.people[i].at == at.k and at.world.people[i].spot == "landing"]
    if not here or at.k + 1 >= len(at.scene.stages):
        raise Refused("Nobody is at the landing, or there is nowhere to go on to.")
    world = at.world
    for i in here:
        if any(x.k == at.k for x in world.people[i].links):
            raise Refused("{name} is still on the rope.", name=at.name(i))
        world = world.body(i, replace(world.people[i], at=at.k + 1, spot="station"))
    return world


def _secure(at: _At) -> World:
    at.low()
    how = at.act.what or "clipped"
    if how not in ("clipped", "tied", "in hand"):
        raise Refused("A rope is secured clipped, tied or in hand.")
    return at.here(at.stands.doing(f"secured {how} {at.act.who}" if how == "in hand" else f"secured {how}"))


def _let_go(at: _At) -> World:
    held = [d for d in at.stands.done if d.startswith("secured")]
    if not held:
        raise Refused("Nobody holds it.")
    return at.here(at.stands.undone(*held))


def why_stuck(scene: Scene, world: World, k: int, pulled: StrandRef | None) -> tuple[str, Sentence] | None:
    """Why a rope does not come down when it is pulled.

    scene: the descent; world: the state; k: the station; pulled: the strand, None the one that is to be
    returns: what it is and why in words, None where it comes
    Source: P, common practice, no source.
    """
    now = world.stations[k]
    way = scene.stages[k].way(now.which)
    if way.kind in ("releasable", "lowered") and not scene.stages[k].climbed:
        return "conversion", Sentence("The rope is still tied off at the anchor.")
    if "backup screw" in now.done:
        return "backup screw", Sentence("The backup screw is still clipped to the rope.")
    if "bights' carabiner" in now.done and way.kind == "alternating bights":
        return "bights' carabiner", Sentence("The carabiner still holds the last bight.")
    if "courtesy carabiner" in now.done:
        return "courtesy carabiner", Sentence("The courtesy carabiner still holds the rope back.")
    if "overhand below" in now.done or "isolating overhand" in now.done or "isolating clove" in now.done:
        return "isolating knot", Sentence("An isolating knot is still in the strands.")
    if way.up is not None and world.stopper(way.up):
        words = {"end": way.up.end.upper(), "rope": scene.rope(way.up.rope)}
        return "stopper", Sentence("The stopper in end {end} of {rope} jams in the ring.", {}, words)
    if pulled is not None and way.pull is not None and pulled != way.pull and way.kind != "doubled":
        what = "join" if way.kind == "joined" else "block"
        return "strand", Sentence(
            "The wrong strand is pulled: the {what} is drawn against the ring.", {}, {"what": what}
        )
    return None


# What joins somebody to the rope itself.
ON_IT = ("device", "third hand", "lowering", "bight", "passenger")


def _pull(at: _At) -> World:
    at.low()
    if at.stands.which < 0 or "pulled" in at.stands.done:
        raise Refused("No rope hangs at the station.")
    named = strand(at.act.what) if at.act.what else at.way.pull
    if at.act.what and (named is None or named not in at.way.strands):
        raise Refused("That strand does not hang at the station.")
    still = [i for i in at.world.below(at.k) if any(x.k == at.k and x.kind in ON_IT for x in at.world.people[i].links)]
    if still:
        raise Refused("{name} is still on the rope.", name=at.name(still[0]))
    stuck = why_stuck(at.scene, at.world, at.k, named)
    if stuck is not None:
        return at.here(at.stands.doing("stuck", f"stuck: {stuck[0]}"))
    world = at.here(at.stands.doing("pulled").undone("stuck"))
    for rope_id in at.way.ropes:
        rope = world.ropes.get(rope_id)
        if rope is None:
            continue
        bare = rope.off(f"ring {at.k}", *(f"{x} {at.k}" for x in (*at.way.knots, "join")))
        on = next((j for j in range(len(world.stations)) if j != at.k and bare.has(f"ring {j}")), None)
        where = "on the landing" if on is None else f"at station {on + 1}"
        ends = tuple(e if e.startswith("threaded") else where for e in bare.ends)
        place = f"landing {at.k + 1}" if on is None else f"station {on + 1}"
        world = world.rope(rope_id, replace(bare, place=place, ends=(ends[0], ends[1])))
        if on is not None and world.stations[on].which < 0:
            world = world.station(on, replace(world.stations[on], which=0))
    return world


def _up(at: _At) -> World:
    s = strand(at.act.what)
    if s is None or s.rope not in at.world.ropes:
        raise Refused("It names no end of a rope that is there.")
    at.low()
    return at.world.rope(s.rope, at.world.ropes[s.rope].end_at(s.end, f"in {at.name()}’s hand"))


ACTS: dict[ActName, Callable[[_At], World]] = {
    "go to the edge": _edge,
    "come back from the edge": _back,
    "clip tether": _clip,
    "load tether": _load_tether,
    "unclip tether": _unclip,
    "thread": _thread,
    "pull to the middle": _middle,
    "tie": _tie,
    "untie": _untie,
    "put in": _put,
    "take out": _take,
    "set over the edge": _over,
    "set back": _set_back,
    "call": _said,
    "throw the rope": _throw,
    "see the ends down": _seen,
    "check": _check,
    "look up": _said,
    "load device": _load_device,
    "take off device": _device_off,
    "hand on the brake": _hand(True),
    "hand off the brake": _hand(False),
    "tie third hand": _third,
    "take off third hand": _third_off,
    "add a wrap": _wrap,
    "test": _test,
    "take fireman's belay": _fireman,
    "leave fireman's belay": _fireman_off,
    "take top belay": _top_line,
    "leave top belay": _top_line_off,
    "tie in": _tie_in,
    "untie from the rope": _untie_in,
    "pass the bight through": _pass("bight"),
    "tie in to the bight": _to_bight,
    "untie the bight": _bight_off,
    "untie the end": _untie_in,
    "pass the end through": _pass("end"),
    "tie the end again": _end_again,
    "take lowering belay": _belay(True),
    "leave lowering belay": _belay(False),
    "clip passenger": _passenger,
    "unclip passenger": _passenger_off,
    "attend the reserve": _attend,
    "leave the reserve": _attend_off,
    "unlock the tie-off": _lock(False),
    "lock the tie-off": _lock(True),
    "convert": _convert,
    "test-pull": _test_pull,
    "pull back": _pull_back,
    "descend": _descend,
    "be lowered": _lower,
    "arrive": _arrive,
    "walk on": _walk,
    "pull up the end": _up,
    "secure the rope": _secure,
    "let go of the rope": _let_go,
    "hold clear": _said,
    "pull": _pull,
    "stack": _said,
}
