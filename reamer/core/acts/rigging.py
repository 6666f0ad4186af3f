"""Acts on a station and its ropes: threading, knots, what is put in and taken out, letting down, converting, pulling.

Refused is only what cannot be done. What is merely unwise is done, and judged afterwards."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from reamer.core.acts.act import At, Refused, said_now
from reamer.core.acts.stage import RopeWay, Scene, Stage
from reamer.core.acts.world import StationNow, StrandRef, World, strand
from reamer.core.answer.say import Sentence
from reamer.core.rope.strands import UNDONE

# Systems that hang from the middle of their rope.
HALVED = ("doubled", "alternating bights")
KNOTS = ("join", "block", "tie-off", "bights", "device knot")
AT_THE_MASTER_POINT = ("isolating overhand", "isolating clove", "ride line")
SCREWS = ("backup screw", "backup screw, slack", "backup screw, loaded")
PUT = (
    *("block carabiner", "bights' carabiner", "courtesy carabiner", "belayer's hitch", "screw clip", "overhand clip"),
    *SCREWS,
)
# What only somebody able ties and undoes, or one who is watched by somebody able.
FOR_THE_ABLE = ("isolating clove", "tie-off")
# What joins somebody to the rope itself.
ON_IT = ("device", "third hand", "lowering", "bight", "passenger")
# Rope came down with somebody below who had not answered.
ON_PEOPLE = "thrown on people"
# A rope that a test-pull has moved and nobody has moved back: its block off the ring, or both strands a metre on.
MOVED = ("drawn", "shifted")


def thread(at: At) -> World:
    """An end through the station's ring: of a rope that is there, or the one that is to be pulled down from above.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
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
        if s not in at.scene.stages[j].last.strands:
            told = {"end": s.end.upper(), "rope": at.scene.rope(s.rope), "n": str(j + 1)}
            raise Refused("End {end} of {rope} is still above, at station {n}.", **told)
    if rope.has(f"stopper {s.end}"):
        raise Refused("There is a stopper in the end: it does not go through.")
    made = rope.put(0.0 if s.end == "a" else rope.length_m, f"ring {at.k}").end_at(s.end, f"threaded at {at.k + 1}")
    which = -1 if above else 0
    place = rope.place if above else f"station {at.k + 1}"
    world = at.world.rope(s.rope, replace(made, place=place))
    return world.station(at.k, replace(now.doing("threaded"), which=which))


def unthread(at: At) -> World:
    """The end out of the station's ring again.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    at.top()
    s = strand(at.act.what)
    if s is None or s.rope not in at.world.ropes or not at.world.ropes[s.rope].has(f"ring {at.k}"):
        raise Refused("It names no end that is threaded here.")
    if at.stands.done & {"pulled", *KNOTS} or _on_it(at):
        raise Refused("The rope is tied or ridden.")
    rope = at.world.ropes[s.rope].off(f"ring {at.k}").end_at(s.end, f"in {at.name()}’s hand")
    return at.world.rope(s.rope, rope).station(at.k, replace(at.stands.undone("threaded", "middle"), which=-1))


def middle(at: At) -> World:
    """The rope through the ring to its middle.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    at.top()
    if "threaded" not in at.stands.done or at.stands.which < 0:
        raise Refused("The rope does not run through the station’s ring yet.")
    rope_id = at.way.ropes[0]
    rope = at.world.ropes.get(rope_id)
    if rope is None:
        raise Refused("The rope is not there.")
    moved = rope.off(f"ring {at.k}").put(rope.length_m / 2, f"ring {at.k}")
    return at.world.rope(rope_id, moved).station(at.k, at.stands.doing("middle"))


def _stopper(at: At, tied: bool) -> World:
    s = strand(at.act.what.removeprefix("stopper "))
    if s is None or s.rope not in at.world.ropes:
        raise Refused("It names no end of a rope that is there.")
    rope = at.world.ropes[s.rope]
    k = at.k
    at_top = at.act.who in at.world.top(k)
    down = "thrown" in at.stands.done and s in at.way.strands and rope.has(f"ring {k}")
    fallen = rope.ends[s.end == "b"] == f"hangs below station {k + 1}"
    if (down or fallen) and at_top:
        raise Refused("The end hangs below: it is out of {name}’s reach.", name=at.name())
    what = f"stopper {s.end}"
    if tied == rope.has(what):
        raise Refused("There is a stopper in it already." if tied else "There is no stopper in it.")
    tail = min(1.0, rope.length_m / 4)
    place = tail if s.end == "a" else rope.length_m - tail
    return at.world.rope(s.rope, rope.put(place, what) if tied else rope.off(what))


def tie(at: At) -> World:
    """A knot: a stopper in an end, an isolating knot, or one that the system needs.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    what, stands = at.act.what, at.stands
    if what.startswith("stopper "):
        return _stopper(at, True)
    if what == "overhand below":
        at.low()
        if stands.which < 0 or "pulled" in stands.done:
            raise Refused("No rope hangs at the station.")
        return at.here(stands.doing(what))
    at.top()
    if what in AT_THE_MASTER_POINT:
        if "threaded" not in stands.done:
            raise Refused("No rope hangs at the station.")
        if what == "ride line":
            at = replace(at, world=at.world.unsaid(f"check station {at.k}"))
        return at.here(_made(at, stands.doing(what), what))
    if what not in KNOTS:
        raise Refused("There is no such knot here.")
    way = at.way if what in at.way.knots else at.stage.last
    if what not in way.knots:
        raise Refused("This station is not rigged with such a knot.")
    if "threaded" not in stands.done:
        raise Refused("The rope is not at the ring yet.")
    if what in stands.done:
        raise Refused("It is tied already.")
    rope_id = way.ropes[-1 if what == "join" and len(way.ropes) > 1 else 0]
    # What was looked at before it was tied has not been looked at.
    world = at.world.unsaid(f"check station {at.k}")
    if rope_id in world.ropes:
        rope = world.ropes[rope_id]
        near = next((o.at_m for o in rope.on if o.what == f"ring {at.k}"), 0.0)
        world = world.rope(rope_id, replace(rope.put(near, f"{what} {at.k}"), place=f"station {at.k + 1}"))
    return world.station(at.k, replace(_made(at, stands.doing(what), what), which=max(stands.which, 0)))


def _made(at: At, now: StationNow, what: str) -> StationNow:
    """Who has tied it, and whether somebody able did or stood by."""
    maker = tuple(m for m in now.maker if m[0] != what)
    made = replace(now, maker=(*maker, (what, at.act.who)), tested=now.tested - {what})
    return made.doing(f"unwatched {what}") if what in FOR_THE_ABLE and not at.able_here() else made


def untie(at: At) -> World:
    """A knot undone; the tie-off of a station that is set for the last person turns it.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    what = at.act.what
    if what.startswith("stopper "):
        return _stopper(at, False)
    if what == "overhand below":
        at.low()
    else:
        at.top()
    if what not in at.stands.done or what not in (*KNOTS, *AT_THE_MASTER_POINT, "overhand below"):
        raise Refused("It is not tied.")
    first, last = at.stage.ways[0], at.stage.last
    turns = len(at.stage.ways) > 1 and first.kind != last.kind and at.stands.which == 0
    if what == "tie-off" and turns and set(last.knots) - set(first.knots) <= at.stands.done:
        return _turned(at)
    if what in KNOTS:
        # What was looked at has been undone since.
        at = replace(at, world=at.world.unsaid(f"check station {at.k}"))
    left = tuple(m for m in at.stands.maker if m[0] != what)
    now = replace(at.stands, maker=left, tested=at.stands.tested - {what})
    world = at.here(now.undone(what, f"unwatched {what}", *_clips(what)))
    for rope_id in at.way.ropes:
        if rope_id in world.ropes:
            world = world.rope(rope_id, world.ropes[rope_id].off(f"{what} {at.k}"))
    return world


def _clips(what: str) -> tuple[str, ...]:
    """What is clipped into a knot and comes out with it."""
    return {"isolating overhand": ("overhand clip",), "block": ("block carabiner",)}.get(what, ())


def put(at: At) -> World:
    """A carabiner, a screw, a hitch, a deviation put in.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    what, stands = at.act.what, at.stands
    if what.startswith("deviation "):
        return _deviation(at, True)
    if what != "belayer's hitch":
        at.top()
    if what not in PUT:
        raise Refused("There is no such thing to put in.")
    if what in stands.done or (what in SCREWS and "backup screw" in stands.done):
        raise Refused("It is in already.")
    if what in SCREWS and not at.stage.screw:
        raise Refused("The plan has no backup here.")
    if what == "screw clip" and "backup screw" not in stands.done:
        raise Refused("There is no backup to clip to.")
    if what == "overhand clip" and "isolating overhand" not in stands.done:
        raise Refused("There is no isolating overhand to clip.")
    return at.here(stands.doing(what, *(("backup screw", "screw clip") if what in SCREWS else ())))


def take(at: At) -> World:
    """A carabiner, a screw, a hitch, a deviation taken out.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    what, stands = at.act.what, at.stands
    if what.startswith("deviation "):
        return _deviation(at, False)
    at.top()
    if what not in stands.done or what not in PUT:
        raise Refused("It is not in.")
    if what == "block carabiner":
        at = replace(at, world=at.world.unsaid(f"check station {at.k}"))
    return at.here(stands.undone(what, *((*SCREWS, "screw clip") if what in SCREWS else ())))


def _deviation(at: At, there: bool) -> World:
    """A deviation put in or taken out by somebody at the station or on its rope, on their way past."""
    key = at.act.what
    if key.removeprefix("deviation ") not in {d.id for d in at.stage.drop.station.deviations}:
        raise Refused("The plan has no such deviation here.")
    if at.act.who not in (*at.world.top(at.k), *at.world.riding(at.k)):
        raise Refused("{name} does not come past it.", name=at.name())
    if there == (key in at.stands.done):
        raise Refused("It is in already." if there else "It is not in.")
    return at.here(at.stands.doing(key) if there else at.stands.undone(key))


def traverse(fixed: bool) -> Callable[[At], World]:
    """The traverse line fixed, or reeled in.

    fixed: which
    returns: the act
    Source: P, common practice, no source.
    """

    def run(at: At) -> World:
        at.top()
        if at.stage.drop.station.traverse is None:
            raise Refused("The plan has no traverse line here.")
        if fixed == ("traverse line" in at.stands.done):
            raise Refused("It is fixed already." if fixed else "It is not fixed.")
        return at.here(at.stands.doing("traverse line") if fixed else at.stands.undone("traverse line"))

    return run


def over(at: At) -> World:
    """The ring carried over the edge for the last.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    at.top()
    if not at.stage.over:
        raise Refused("The ring hangs in one place here.")
    which = len(at.stage.ways) - 1 if _same(at.stage) else at.stands.which
    return at.here(replace(at.stands.doing("over"), which=which))


def _same(stage: Stage) -> bool:
    """Whether the last person finds the same rope system as the party."""
    return stage.ways[0].kind == stage.ways[-1].kind


def set_back(at: At) -> World:
    """The ring back from the edge.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    at.top()
    if "over" not in at.stands.done:
        raise Refused("The ring is not over the edge.")
    return at.here(at.stands.undone("over"))


def throw(at: At) -> World:
    """The rope let down.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    at.top()
    if "threaded" not in at.stands.done or at.stands.which < 0:
        raise Refused("No rope is rigged yet.")
    met = bool(at.world.foot(at.k, at.stage.walk)) and f"call clear {at.k}" not in at.world.said
    world = at.here(at.stands.doing("thrown", *((ON_PEOPLE,) if met else ())))
    for s in at.way.strands:
        if s.rope in world.ropes:
            world = world.rope(s.rope, world.ropes[s.rope].end_at(s.end, f"hangs below station {at.k + 1}"))
    # An answer holds for one throw.
    return world.unsaid(f"call clear {at.k}")


def see(at: At) -> World:
    """The ends seen down.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    if "thrown" not in at.stands.done:
        raise Refused("The ends are not down yet.")
    return at.here(at.stands.doing("seen"))


def pull_up(at: At) -> World:
    """An end pulled up to where somebody stands: to the station, or from below to the landing; the line's likewise.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    if at.act.what == "line":
        at.top()
        if "line below" not in at.stands.done:
            raise Refused("The line’s end is not below.")
        return at.here(at.stands.undone("line below"))
    s = strand(at.act.what)
    if s is None or s.rope not in at.world.ropes:
        raise Refused("It names no end of a rope that is there.")
    rope = at.world.ropes[s.rope].end_at(s.end, f"in {at.name()}’s hand")
    if at.act.who not in at.world.top(at.k):
        at.low()
        return at.world.rope(s.rope, rope)
    if at.world.riding(at.k):
        raise Refused("{name} is on the rope.", name=at.name(at.world.riding(at.k)[0]))
    hangs = at.stands.which >= 0 and s in at.way.strands
    now = at.stands.undone("thrown", "seen") if hangs else at.stands
    return at.world.rope(s.rope, rope).station(at.k, now)


def _on_it(at: At) -> list[str]:
    """Who has anything on this station's rope."""
    kinds = ("device", "third hand", "lowering")
    return [i for i, b in at.world.people.items() if any(x.kind in kinds and x.k == at.k for x in b.links)]


def load_block(at: At) -> World:
    """What is tied for the last person, set against the ring while the rope is still tied off.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    at.top()
    if "block" not in at.stands.done:
        raise Refused("There is no block.")
    return at.here(at.stands.doing("block set"))


def convert(at: At) -> World:
    """Everything that turns a station for the last person, as one act.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    at.top()
    if len(at.stage.ways) < 2:
        raise Refused("The plan has no other rigging for the last person here.")
    if at.stands.which < 0:
        raise Refused("Nothing is rigged yet.")
    last = at.stage.last
    done = {*last.knots, "middle"} | ({"block carabiner"} if last.kind.startswith("blocked") else set())
    made = tuple((knot, at.act.who) for knot in last.knots)
    return _turned(replace(at, world=at.here(replace(at.stands.doing(*done), maker=made))))


def _turned(at: At) -> World:
    """A station as the last person finds it: what held the party is undone, the rope is up again and let down anew."""
    if _on_it(at):
        raise Refused("{name} is on the rope.", name=at.name(_on_it(at)[0]))
    first, last = at.stage.ways[0], at.stage.last
    gone = (set(first.knots) - set(last.knots)) | {"unlocked", "belayer's hitch", "thrown", "seen"}
    done = (at.stands.done - gone) | {"threaded"}
    now = replace(at.stands, done=done, which=last.which, attendant="", tested=frozenset())
    world = at.here(now).unsaid(*(f"{x} {at.k}" for x in ("check station", "call rope", "call clear")))
    for rope_id in first.ropes:
        if rope_id in world.ropes:
            world = world.rope(rope_id, world.ropes[rope_id].off(*(f"{x} {at.k}" for x in first.knots)))
    for rope_id in last.ropes:
        if rope_id in world.ropes and not world.ropes[rope_id].has(f"ring {at.k}"):
            rope = world.ropes[rope_id].put(world.ropes[rope_id].length_m / 2, f"ring {at.k}")
            world = world.rope(rope_id, replace(rope, place=f"station {at.k + 1}"))
    return world


def test_pull(at: At) -> World:
    """A metre pulled from below with somebody still above: whether it moves, or what it meets.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    at.low()
    if at.way.kind in UNDONE:
        raise Refused("A test-pull would undo it: there is none with this system.")
    if at.stands.which < 0 or "pulled" in at.stands.done or at.way.pull is None:
        raise Refused("There is nothing to pull.")
    stuck = why_stuck(at.scene, at.world, at.k, None)
    # A stopper at the far end is not at the ring within a metre, and a knot below the next station goes along.
    if stuck is not None and stuck[0] not in ("stopper", "knot below"):
        return at.here(replace(at.stands, met=stuck[0]))
    moved = "drawn" if at.way.kind.startswith("blocked") else "shifted"
    return at.here(replace(at.stands.doing("test-pulled", moved), met=""))


def pull_back(at: At) -> World:
    """What the test-pull has moved, moved back.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    if at.stands.met:
        # It did not move: there is nothing to move back.
        return at.world
    if not at.stands.done & set(MOVED):
        raise Refused("Nothing is drawn off the ring.")
    return at.here(at.stands.undone(*MOVED))


def secure(at: At) -> World:
    """The rope clipped, tied or held, before it could be lost.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    at.low()
    how = at.act.what or "clipped"
    if how not in ("clipped", "tied", "in hand"):
        raise Refused("A rope is secured clipped, tied or in hand.")
    return at.here(at.stands.doing(f"secured {how} {at.act.who}" if how == "in hand" else f"secured {how}"))


def let_go(at: At) -> World:
    """The rope let go of, or unclipped.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
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
    for what, why in STUCK.items():
        if what in now.done and (what != "bights' carabiner" or way.kind == "alternating bights"):
            return ("backup screw" if what == "screw clip" else what), Sentence(why)
    if now.done & {"isolating overhand", "isolating clove"}:
        return "isolating knot", Sentence("An isolating knot is still in the strands.")
    if "overhand below" in now.done:
        return "knot below", Sentence("An isolating knot is still in the strands.")
    wrong = _wrong_strand(scene, world, k, way, pulled)
    if wrong is None and way.up is not None and world.stopper(way.up):
        words = {"end": way.up.end.upper(), "rope": scene.rope(way.up.rope)}
        return "stopper", Sentence("The stopper in end {end} of {rope} jams in the ring.", {}, words)
    return wrong


def _wrong_strand(
    scene: Scene, world: World, k: int, way: RopeWay, pulled: StrandRef | None
) -> tuple[str, Sentence] | None:
    """A strand that draws what is tied against the ring, or an end that is threaded ahead and would go up."""
    if pulled is not None and way.pull is not None and pulled != way.pull and way.kind != "doubled":
        what = {"what": {"joined": "join", "alternating bights": "last bight"}.get(way.kind, "block")}
        return "strand", Sentence("The wrong strand is pulled: the {what} is drawn against the ring.", {}, what)
    up = next((s for s in way.strands if pulled is not None and s != pulled), way.up)
    if way.kind == "doubled" and up is not None and _ahead(world, k, up):
        words = {"end": up.end.upper(), "rope": scene.rope(up.rope)}
        story = "End {end} of {rope} goes up, and it is threaded through the next station."
        return "strand", Sentence(story, {}, words)
    return None


def _ahead(world: World, k: int, s: StrandRef) -> bool:
    """Whether this very end is threaded through the next station."""
    rope = world.ropes.get(s.rope)
    return rope is not None and rope.ends[s.end == "b"] == f"threaded at {k + 2}"


STUCK = {
    "screw clip": "The backup screw is still clipped to the rope.",
    "bights' carabiner": "The carabiner still holds the last bight.",
    "courtesy carabiner": "The courtesy carabiner still holds the rope back.",
    "ride line": "The ride line is still tied off at the master point.",
}


def pull(at: At) -> World:
    """The rope pulled until its end, or its middle, is at the ring above.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    at.low()
    if at.stands.which < 0 or at.stands.done & {"pulled", "pulling"}:
        raise Refused("No rope hangs at the station.")
    named = strand(at.act.what) if at.act.what else at.way.pull
    if at.act.what and (named is None or named not in at.way.strands):
        raise Refused("That strand does not hang at the station.")
    still = [i for i in at.world.below(at.k) if any(x.k == at.k and x.kind in ON_IT for x in at.world.people[i].links)]
    if still:
        raise Refused("{name} is still on the rope.", name=at.name(still[0]))
    stuck = why_stuck(at.scene, at.world, at.k, named)
    # A stopper goes up with its end: it jams when it comes to the ring.
    if stuck is not None and stuck[0] != "stopper":
        return at.here(at.stands.doing("stuck", f"stuck: {stuck[0]}"))
    return at.here(at.stands.doing("pulling").undone("stuck"))


def pull_through(at: At) -> World:
    """The end through the ring above: it falls, and the rope is at the next station or on the landing.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    at.low()
    if "stuck" in at.stands.done:
        return at.world
    if "pulling" not in at.stands.done:
        raise Refused("Nobody has pulled it up to there.")
    if why_stuck(at.scene, at.world, at.k, None) is not None:
        return at.here(at.stands.doing("stuck", "stuck: stopper"))
    world = at.here(at.stands.doing("pulled").undone("pulling"))
    for rope_id in at.way.ropes:
        rope = world.ropes.get(rope_id)
        if rope is None:
            continue
        bare = rope.off(f"ring {at.k}", *(f"{x} {at.k}" for x in (*at.way.knots, "join")))
        on = next((j for j in range(len(world.stations)) if j != at.k and bare.has(f"ring {j}")), None)
        # What falls past a station where the rope is threaded hangs below it.
        where = "on the landing" if on is None else f"hangs below station {on + 1}"
        ends = tuple(e if e.startswith("threaded") else where for e in bare.ends)
        place = f"landing {at.k + 1}" if on is None else f"station {on + 1}"
        world = world.rope(rope_id, replace(bare, place=place, ends=(ends[0], ends[1])))
        if on is not None and world.stations[on].which < 0:
            world = world.station(on, replace(world.stations[on], which=0))
    return world


def bag(lowered: bool) -> Callable[[At], World]:
    """A bag let down to those below, or pulled up again.

    lowered: which
    returns: the act
    Source: P, common practice, no source.
    """

    def run(at: At) -> World:
        at.top()
        if lowered == ("bag below" in at.stands.done):
            raise Refused("It is below already." if lowered else "It is not below.")
        world = said_now(at)
        now = at.stands
        return world.station(at.k, now.doing("bag below") if lowered else now.undone("bag below"))

    return run
