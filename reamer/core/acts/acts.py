"""The acts: each a function from one state to the next, or a refusal with its reason.

Refused is only what cannot be done. What is merely unwise is done, and judged afterwards."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from reamer.core.acts import rigging
from reamer.core.acts.act import Act, At, Refused, said_now
from reamer.core.acts.holding import fixings
from reamer.core.acts.stage import Scene
from reamer.core.acts.world import BELAYED, Link, LinkKind, StrandRef, Watch, World, strand
from reamer.core.model import ActName
from reamer.core.people.backups import spare_rope

# Doing these leaves a belayer's hands on the rope and their eyes on the rider.
WATCHFUL: frozenset[ActName] = frozenset(
    {
        *("call", "hold clear", "arrive", "give slack", "take tight", "tie off the belay", "undo the belay"),
        *("unlock the tie-off", "lock the tie-off"),
        *("leave fireman's belay", "leave top belay", "leave lowering belay", "leave the reserve"),
    }
)

AT_THE_EDGE: frozenset[ActName] = frozenset(
    {"throw the rope", "load device", "set over the edge", "attend the reserve", "tie in", "convert"}
)


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
    world = _clear(world, act)
    # A hitch goes onto the brake strand with the brake hand on it.
    belays = act.do in WATCHFUL or act.what == "belayer's hitch"
    after = ACTS[act.do](At(scene, world if belays else hands_off(world, act.who), act))
    body = after.people.get(act.who)
    near = (act.do in AT_THE_EDGE and act.what != "line") or (act.do == "check" and act.what == "station")
    if near and body is not None and body.spot == "station" and body.at == act.k:
        # Whoever handles the rope at the ring, or looks at it, is at the edge, whether or not somebody has said so.
        after = after.body(act.who, replace(body, edge=True))
    return after


ANYBODY = ("walk on", "call", "look up", "hold clear", "stack", "stop pulling", "run the rope through")


def hands_off(world: World, who: str) -> World:
    """What somebody holds others with, let go of: they do something else.

    world: the state; who: the person
    returns: the state without their belays
    Source: P, common practice, no source: a belay wants hands and eyes.
    """
    rope = f"secured in hand {who}"
    for k, now in enumerate(world.stations):
        if rope in now.done:
            now = now.undone(rope)
            world = world.station(k, now)
        if not now.fireman and not now.attendant:
            continue
        left = tuple(w for w in now.fireman if w.by != who)
        if len(left) != len(now.fireman) or (who and now.attendant == who):
            attendant = "" if now.attendant == who else now.attendant
            world = world.station(k, replace(now, fireman=left, attendant=attendant))
    for other, body in world.people.items():
        for link in body.links:
            if link.kind in BELAYED and link.hand and link.to == who:
                body = body.having(link._replace(hand=False))
                world = world.body(other, body)
    return world


def _clear(world: World, act: Act) -> World:
    """What stood only for the act before: rope that came down on people."""
    now = world.stations[act.k]
    return world.station(act.k, now.undone(rigging.ON_PEOPLE)) if rigging.ON_PEOPLE in now.done else world


def _edge(at: At) -> World:
    at.top()
    return at.me(replace(at.body, edge=True))


def _back(at: At) -> World:
    at.top()
    return at.me(replace(at.body, edge=False))


def _clip(at: At) -> World:
    kind: LinkKind = "second tether" if at.act.do == "clip second tether" else "tether"
    body, to = at.body, at.act.what or "master"
    if body.spot == "landing" and at.scene.stages[body.at].below == "hanging" and not body.link(kind):
        # Where the descent ends hanging, what is there to clip to is not part of the plan.
        return at.me(body.having(Link(kind, body.at, "landing")))
    if body.spot != "station":
        raise Refused("{name} is not within reach of a master point.", name=at.name())
    if to not in ("master", "backup"):
        raise Refused("A tether is clipped to the master point or to the backup.")
    if to == "backup" and "backup screw" not in at.world.stations[body.at].done:
        raise Refused("There is no backup to clip to.")
    if body.link(kind):
        raise Refused("{name}’s tether is clipped already.", name=at.name())
    return at.me(body.having(Link(kind, body.at, to)))


def _load_tether(at: At) -> World:
    if not at.body.link("tether") and not at.body.link("second tether"):
        raise Refused("{name} has no tether clipped.", name=at.name())
    links = tuple(x._replace(tested=True) if x.kind in TETHERS else x for x in at.body.links)
    return at.me(replace(at.body, links=links))


TETHERS: tuple[LinkKind, ...] = ("tether", "second tether")


def _unclip(at: At) -> World:
    kind: LinkKind = "second tether" if at.act.do == "unclip second tether" else "tether"
    if at.body.link(kind) is None:
        raise Refused("{name} has no tether clipped.", name=at.name())
    return at.me(at.body.without(kind))


def _check(at: At) -> World:
    """A look at the station, or at a person before they go; it counts where somebody able looks who has not tied it."""
    who, what = at.act.who, at.act.what
    if what in at.world.people:
        if what == who:
            raise Refused("Nobody checks themselves.")
        one, other = at.world.people[what], at.body
        if one.spot != "station" or (one.at, one.spot) != (other.at, other.spot):
            raise Refused("{name} is not beside {other}.", name=at.name(), other=at.name(what))
    elif what == "station":
        at.top()
        made = {by for knot, by in at.stands.maker if knot in ("join", "tie-off") and knot in at.stands.done}
        if who in made:
            return at.world.saying(f"look station {at.k}")
    counts = at.scene.able(who) or what == "knots"
    return said_now(at) if counts else at.world.saying(f"look {what} {at.k}")


def _load_device(at: At) -> World:
    at.top()
    strands = at.strands()
    if at.body.link("device"):
        raise Refused("{name}’s device is on a rope already.", name=at.name())
    if at.body.link("passenger"):
        raise Refused("{name} rides on somebody else’s device.", name=at.name())
    if at.way.kind in rigging.HALVED and "threaded" in at.stands.done and "middle" not in at.stands.done:
        raise Refused("The rope does not lie at its middle: one strand is too short to take.")
    now = replace(at.stands, stack=(*(i for i in at.stands.stack if i != at.act.who), at.act.who))
    return at.me(at.body.having(Link("device", at.k, "", strands, hand=True))).station(at.k, now)


def _device_off(at: At) -> World:
    if at.body.link("device") is None:
        raise Refused("{name} has no device on a rope.", name=at.name())
    return at.me(at.body.without("device"))


def _hand(on: bool) -> Callable[[At], World]:
    def run(at: At) -> World:
        link = at.body.link("device")
        if link is None:
            raise Refused("{name} has no device on a rope.", name=at.name())
        return at.me(at.body.having(link._replace(hand=on)))

    return run


def _third(at: At) -> World:
    device = at.body.link("device")
    strands = at.strands() if device is None or at.act.what else device.strands
    if at.body.link("third hand"):
        raise Refused("{name}’s third hand is on a rope already.", name=at.name())
    return at.me(at.body.having(Link("third hand", at.k if device is None else device.k, "", strands)))


def _third_off(at: At) -> World:
    if at.body.link("third hand") is None:
        raise Refused("{name} has no third hand on a rope.", name=at.name())
    return at.me(at.body.without("third hand"))


def _wrap(at: At) -> World:
    if at.body.link("third hand") is None:
        raise Refused("{name} has no third hand on a rope.", name=at.name())
    return at.world


def _test(at: At) -> World:
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
    now = replace(at.stands, unloaded=at.stands.unloaded + 1)
    # What something else takes the load of is not tried: a clove, the ride line's tie-off, a screw that is drawn tight.
    if at.stands.done & {"isolating clove", "ride line", "backup screw, loaded"}:
        return world.station(at.k, now)
    return world.station(at.k, replace(now, tested=at.stands.tested | {"ring", *at.way.knots}))


def _fireman(at: At) -> World:
    rider = at.other()
    if at.act.who not in at.world.riding(at.k):
        at.low()
    if at.stands.which < 0 or "pulled" in at.stands.done:
        raise Refused("No rope hangs at the station.")
    named = frozenset(s for t in at.act.what.split(",") if (s := strand(t)) is not None)
    device = at.world.people[rider].link("device")
    held = named or (device.strands if device is not None and device.k == at.k else frozenset(at.way.ride))
    if not held <= set(at.way.strands):
        raise Refused("That strand does not hang at the station.")
    kept = tuple(w for w in at.stands.fireman if w.of != rider)
    return at.here(replace(at.stands, fireman=(*kept, Watch(at.act.who, rider, held))))


def _fireman_off(at: At) -> World:
    kept = tuple(w for w in at.stands.fireman if w.by != at.act.who)
    if len(kept) == len(at.stands.fireman):
        raise Refused("{name} holds nobody.", name=at.name())
    return at.here(replace(at.stands, fireman=kept))


def _top_line(at: At) -> World:
    at.top()
    rider = at.other()
    if rider not in at.world.top(at.k):
        raise Refused("{name} is not at the station.", name=at.name(rider))
    line = at.world.people[rider].link("top line")
    if line is None:
        raise Refused("{name} is not tied in to a line.", name=at.name(rider))
    return at.world.body(rider, at.world.people[rider].having(line._replace(to=at.act.who, hand=True, slack_m=0.0)))


def _top_line_off(at: At) -> World:
    rider = at.other()
    line = at.world.people[rider].link("top line")
    if line is None:
        raise Refused("{name} is on no top line.", name=at.name(rider))
    return at.world.body(rider, at.world.people[rider].having(line._replace(hand=False)))


def _tie_in(at: At) -> World:
    at.top()
    if at.act.what == "line":
        if not spare_rope(at.scene.ctx, at.stage.drop):
            raise Refused("No second rope is carried that is not in use here.")
        if "line below" in at.stands.done:
            raise Refused("The line’s end is still below.")
        if any((x := b.link("top line")) and x.k == at.k for b in at.world.people.values()):
            raise Refused("Somebody is tied in to it already.")
        return at.me(at.body.having(Link("top line", at.k)))
    if "thrown" in at.stands.done:
        raise Refused("The rope’s end is below: it is to be pulled up first.")
    return at.me(at.body.having(Link("lowering", at.k, at.act.what, at_ride(at))))


def at_ride(at: At) -> frozenset[StrandRef]:
    """The strand that somebody is lowered on.

    at: the act
    returns: the ridden strands
    raises: Refused where no rope is there
    Source: none, a look-up.
    """
    if at.stands.which < 0 or "threaded" not in at.stands.done or "pulled" in at.stands.done:
        raise Refused("No rope is rigged to lower on.")
    return frozenset(at.way.ride)


def _untie_in(at: At) -> World:
    if at.act.what == "line":
        line = at.body.link("top line")
        if line is None:
            raise Refused("{name} is not tied in.", name=at.name())
        went = (at.body.at, at.body.spot) != (line.k, "station")
        now = at.world.stations[line.k]
        return at.me(at.body.without("top line")).station(line.k, now.doing("line below") if went else now)
    if at.body.link("lowering") is None and at.body.link("bight") is None:
        raise Refused("{name} is not tied in.", name=at.name())
    return at.me(at.body.without("lowering", *(() if at.act.do == "untie the end" else ("bight",))))


def _pass(what: str) -> Callable[[At], World]:
    """A bight, or the end, through the ring at the top of a pitch."""

    def run(at: At) -> World:
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


def _to_bight(at: At) -> World:
    at.top()
    old = at.body.link("lowering")
    if not at.stage.climbed or old is None:
        raise Refused("{name} is on no rope that a bight could be tied in.", name=at.name())
    return at.me(at.body.having(Link("bight", at.k, old.to, old.strands, hand=old.hand)))


def _bight_off(at: At) -> World:
    if at.body.link("bight") is None:
        raise Refused("{name} is tied in to no bight.", name=at.name())
    return at.me(at.body.without("bight"))


def _end_again(at: At) -> World:
    at.top()
    bight = at.body.link("bight")
    if at.body.link("lowering") is not None:
        raise Refused("{name} is tied in to the end already.", name=at.name())
    by = bight.to if bight is not None else at.act.what
    if by not in at.world.people:
        raise Refused("Nobody belays.")
    hand = bight.hand if bight is not None else True
    return at.me(at.body.having(Link("lowering", at.k, by, frozenset(at.way.ride), hand=hand)))


def _belay(on: bool) -> Callable[[At], World]:
    def run(at: At) -> World:
        rider = at.other()
        body = at.world.people[rider]
        tied = [x for x in body.links if x.kind in ("lowering", "bight")]
        if not tied:
            raise Refused("{name} is not tied in.", name=at.name(rider))
        for link in tied:
            body = body.having(link._replace(to=at.act.who, hand=on, slack_m=0.0 if on else link.slack_m))
        return at.world.body(rider, body)

    return run


def _on_belay(at: At, change: Callable[[Link], Link]) -> World:
    """Whatever somebody else is belayed on by whoever does it, otherwise."""
    rider = at.other()
    body = at.world.people[rider]
    held = [x for x in body.links if x.kind in BELAYED and x.to == at.act.who]
    if not held:
        raise Refused("{name} does not belay {other}.", name=at.name(), other=at.name(rider))
    for link in held:
        body = body.having(change(link))
    return at.world.body(rider, body)


def _slack(at: At) -> World:
    """Slack given to whoever is on belay: 2 m where the act does not say how much."""
    text = at.act.what.partition(",")[2].strip().removesuffix("m").strip()
    try:
        out = float(text or 2)
    except ValueError:
        raise Refused("It does not say how many metres.") from None
    if not 0 <= out <= 200:
        raise Refused("Slack is 0 to 200 m.")
    return _on_belay(at, lambda x: x._replace(slack_m=out))


def _tight(at: At) -> World:
    return _on_belay(at, lambda x: x._replace(slack_m=0.0))


def _tied_off(tied: bool) -> Callable[[At], World]:
    return lambda at: _on_belay(at, lambda x: x._replace(tied=tied, hand=not tied))


def _weight(off: bool) -> Callable[[At], World]:
    """A stop on the way: the weight off the rope, and on again."""

    def run(at: At) -> World:
        if at.act.who not in at.world.riding(at.k):
            raise Refused("{name} is not on the rope.", name=at.name())
        if at.body.resting == off:
            raise Refused("It is so already.")
        now = replace(at.stands, unloaded=at.stands.unloaded + int(off))
        return at.me(replace(at.body, resting=off)).station(at.k, now)

    return run


def _stop(at: At) -> World:
    if at.act.who not in at.world.riding(at.k):
        raise Refused("{name} is not on the rope.", name=at.name())
    return said_now(at)


def _past(at: At) -> World:
    """A deviation passed, or the traverse line, by whoever comes along."""
    key = at.act.what
    if key == "traverse line":
        at.top()
        if "traverse line" not in at.stands.done:
            raise Refused("It is not fixed.")
        return said_now(at)
    if at.act.who not in at.world.riding(at.k):
        raise Refused("{name} is not on the rope.", name=at.name())
    if key not in at.stands.done:
        raise Refused("There is no such deviation in.")
    return said_now(at)


def _passenger(at: At) -> World:
    other = at.other()
    if at.world.people[other].link("device") is None:
        raise Refused("{name} has no device on the rope to hang on.", name=at.name(other))
    if at.body.link("device"):
        raise Refused("{name}’s own device is on the rope.", name=at.name())
    if any((x := b.link("passenger")) and x.to == other for i, b in at.world.people.items() if i != at.act.who):
        raise Refused("Somebody hangs on that device already.")
    return at.me(at.body.having(Link("passenger", at.k, other)))


def _passenger_off(at: At) -> World:
    if at.body.link("passenger") is None:
        raise Refused("{name} is nobody’s passenger.", name=at.name())
    return at.me(at.body.without("passenger"))


def _attend(at: At) -> World:
    at.top()
    if "tie-off" not in at.stands.done:
        raise Refused("There is no tie-off to attend.")
    return at.here(replace(at.stands, attendant=at.act.who))


def _attend_off(at: At) -> World:
    if at.stands.attendant != at.act.who:
        raise Refused("{name} attends nothing.", name=at.name())
    return at.here(replace(at.stands, attendant=""))


def _lock(locked: bool) -> Callable[[At], World]:
    def run(at: At) -> World:
        at.top()
        if "tie-off" not in at.stands.done:
            raise Refused("There is no tie-off.")
        return at.here(at.stands.undone("unlocked") if locked else at.stands.doing("unlocked"))

    return run


def _leaves(at: At, kind: str) -> list[str]:
    """Everybody who goes down with this act, refused where somebody is still tethered."""
    going = [at.act.who]
    going += [
        i for i, b in at.world.people.items() if (x := b.link("passenger")) and x.to == at.act.who and x.k == at.k
    ]
    for i in going:
        if at.world.people[i].link("tether"):
            raise Refused("{name}’s tether is still in.", name=at.name(i))
        if at.world.people[i].link("second tether"):
            raise Refused("{name}’s tether is still in.", name=at.name(i))
    if kind == "device" and "isolating overhand" in at.stands.done:
        raise Refused("The isolating overhand is still in, below the device.")
    if "isolating clove" in at.stands.done and at.world.below(at.k):
        raise Refused("The isolating clove is still in.")
    return going


def _descend(at: At) -> World:
    at.top()
    link = at.body.link("device")
    if link is None or link.k != at.k:
        raise Refused("{name} has no device on the rope.", name=at.name())
    if "thrown" not in at.stands.done:
        raise Refused("The rope is not down yet.")
    lower = _lower_down(at, link)
    if lower:
        raise Refused("{name}’s device is below on the strand: they go first.", name=at.name(lower))
    world = at.world
    for i in _leaves(at, "device"):
        world = world.body(i, replace(world.people[i], spot="rope", edge=True))
    return world


def _lower_down(at: At, link: Link) -> str:
    """Whose device is below on the same strands, still at the station."""
    for i in at.stands.stack:
        if i == at.act.who:
            return ""
        other = at.world.people[i].link("device") if i in at.world.people else None
        if i in at.world.top(at.k) and other is not None and other.k == at.k and other.strands & link.strands:
            return i
    return ""


def _lower(at: At) -> World:
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


def _arrive(at: At) -> World:
    if at.act.who not in at.world.riding(at.k):
        raise Refused("{name} is not on the rope.", name=at.name())
    going = [at.act.who]
    going += [
        i for i, b in at.world.people.items() if (x := b.link("passenger")) and x.to == at.act.who and b.spot == "rope"
    ]
    # Whoever has just come down has not answered yet.
    world = at.world.unsaid(f"call clear {at.k}")
    same = not at.stage.walk and at.k + 1 < len(at.scene.stages)
    if at.body.link("lowering") is not None and not at.stage.climbed:
        # The rope has come down with them.
        world = world.station(at.k, at.stands.doing("thrown", "seen"))
    if at.body.link("device") is not None and not at.body.resting:
        world = world.station(at.k, replace(world.stations[at.k], unloaded=at.stands.unloaded + 1))
    for i in going:
        body = replace(world.people[i], edge=False, resting=False)
        world = world.body(i, replace(body, at=at.k + 1, spot="station") if same else replace(body, spot="landing"))
    return world


def _walk(at: At) -> World:
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


ACTS: dict[ActName, Callable[[At], World]] = {
    "go to the edge": _edge,
    "come back from the edge": _back,
    "clip tether": _clip,
    "load tether": _load_tether,
    "unclip tether": _unclip,
    "thread": rigging.thread,
    "pull to the middle": rigging.middle,
    "tie": rigging.tie,
    "untie": rigging.untie,
    "put in": rigging.put,
    "take out": rigging.take,
    "set over the edge": rigging.over,
    "set back": rigging.set_back,
    "call": said_now,
    "throw the rope": rigging.throw,
    "see the ends down": rigging.see,
    "check": _check,
    "look up": said_now,
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
    "convert": rigging.convert,
    "test-pull": rigging.test_pull,
    "pull back": rigging.pull_back,
    "descend": _descend,
    "be lowered": _lower,
    "arrive": _arrive,
    "walk on": _walk,
    "pull up the end": rigging.pull_up,
    "secure the rope": rigging.secure,
    "let go of the rope": rigging.let_go,
    "hold clear": said_now,
    "pull": rigging.pull,
    "stack": said_now,
    "clip second tether": _clip,
    "unclip second tether": _unclip,
    "unthread": rigging.unthread,
    "run the rope through": said_now,
    "load the block": rigging.load_block,
    "give slack": _slack,
    "take tight": _tight,
    "tie off the belay": _tied_off(True),
    "undo the belay": _tied_off(False),
    "stop at": _stop,
    "weight off": _weight(True),
    "weight on": _weight(False),
    "pass": _past,
    "fix the traverse line": rigging.traverse(True),
    "reel in the traverse line": rigging.traverse(False),
    "lower the bag": rigging.bag(True),
    "pull up the bag": rigging.bag(False),
    "stop pulling": said_now,
    "pull through": rigging.pull_through,
}
