"""What holds a person: the paths from rock to harness, each a set of parts of which every one must hold.

A path's parts are named ``family.of``: single points of the anchor, ``part.<key>.<station>`` where nobody has accepted
them and ``point.<key>.<station>`` where somebody has, ``tether``, ``device``, ``hand``, ``hitch``, ``watch``, ``line``,
``weight``, and what is accepted in a rehearsal: ``rope``, ``join``, ``block``, ``tie-off``, ``tied`` (a belay that is
tied off), ``knot`` (one in a ride strand), ``bights``, ``device knot``. ``doubt.<what>`` stands for what nobody knows
to hold: such a path does not count, and what else is to be said is said as if it did. ``bare.block``: a block without
its carabiner.

A hand is held too: a path through another's hand has in it what holds that person, where a pull could take them off."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache
from itertools import combinations, product

from reamer.core.acts.stage import RopeWay, Scene, Stage
from reamer.core.acts.world import Body, Link, StationNow, StrandRef, World, strands_key
from reamer.core.answer.verdict import Verdict
from reamer.core.model import Lowered
from reamer.core.people.attachment import HOLDS_NOTHING

HoldPath = frozenset[str]
Held = dict[str, tuple[HoldPath, ...]]
# Families whose loss is counted, and so the number of paths: whatever a rehearsal does not accept.
COUNTED = (
    *("tether", "second tether", "device", "hand", "hitch", "watch", "line", "weight"),
    *("part", "bare", "screw", "passenger"),
)


# From the first pull on the rope runs.
PULLED = frozenset({"pulling", "pulled"})


def counted(part: str) -> bool:
    """Whether the loss of a part counts against the number of paths.

    part: its name
    returns: false for what a rehearsal accepts whatever the plan
    Source: P, common practice, no source.
    """
    return part.split(".", 1)[0] in COUNTED


def on_rope(s: StrandRef) -> str:
    """The part that a strand is.

    s: the strand
    returns: its name
    Source: none.
    """
    return f"rope.{s.key}"


def paths(scene: Scene, world: World, who: str, asking: frozenset[str] = frozenset()) -> tuple[HoldPath, ...]:
    """Every way in which somebody is held now, none of them containing another.

    scene: the descent; world: the state; who: the person's id; asking: those whose own hold rests on the answer
    returns: sets of parts
    Source: P, the table of what is fixed.
    """
    body = world.people[who]
    found: set[HoldPath] = set()
    for link in body.links:
        found |= set(_link(scene, world, who, link, asking | {who}))
    return minimal(found)


def held(scene: Scene, world: World) -> Held:
    """Every way in which everybody is held now.

    scene: the descent; world: the state
    returns: the paths by person
    Source: see paths.
    """
    return {who: paths(scene, world, who) for who in world.people}


def minimal(found: Iterable[HoldPath]) -> tuple[HoldPath, ...]:
    """Sets of which none contains another.

    found: any sets
    returns: the least ones, in a settled order
    Source: none, comparison.
    """
    made: list[HoldPath] = []
    for p in sorted(set(found), key=lambda p: (len(p), sorted(p))):
        if not any(q <= p for q in made):
            made.append(p)
    return tuple(made)


def sure(found: Iterable[HoldPath]) -> tuple[HoldPath, ...]:
    """The paths of which everything is known to hold.

    found: paths
    returns: those without a doubt
    Source: P, common practice, no source.
    """
    return tuple(p for p in found if not any(x.startswith("doubt.") for x in p))


def independent(found: Iterable[HoldPath]) -> int:
    """The least number of counted parts whose loss leaves nothing.

    found: paths
    returns: 0 without a path that is known to hold
    Source: HB, a least hitting set.
    """
    return _least(sure(found))


@lru_cache(maxsize=8192)
def _least(found: tuple[HoldPath, ...]) -> int:
    sets = [frozenset(p for p in path if counted(p)) for path in found]
    if not sets:
        return 0
    parts = sorted(frozenset[str]().union(*sets))
    for n in range(1, len(parts)):
        if any(all(s & set(some) for s in sets) for some in combinations(parts, n)):
            return n
    return len(parts)


def anchor_of(stage: Stage, rope: bool) -> HoldPath:
    """The single points of the anchor that a rope or a tether at a station shares.

    stage: the station; rope: whether it runs through the ring
    returns: the parts, those that nobody has accepted and those that somebody has
    Source: the load path.
    """
    return _points(stage.index, stage.unaccepted, stage.accepted, rope)


@lru_cache(maxsize=1024)
def _points(k: int, unaccepted: tuple[str, ...], accepted: tuple[str, ...], rope: bool) -> HoldPath:
    return frozenset(
        f"{family}.{key}.{k}"
        for family, keys in (("part", unaccepted), ("point", accepted))
        for key in keys
        if rope or not key.startswith(("ring", "tie", "block", "bights", "release"))
    )


def _link(scene: Scene, world: World, who: str, link: Link, asking: frozenset[str]) -> list[HoldPath]:
    """The paths that one link makes. ``asking``: those whose own hold rests on the answer."""
    k, stage, now, body = link.k, scene.stages[link.k], world.stations[link.k], world.people[who]
    if link.kind in ("tether", "second tether"):
        if link.to == "backup":
            return [frozenset({f"screw.{k}", f"{link.kind}.{who}"})] if "backup screw" in now.done else []
        if link.to == "landing":
            return [frozenset({f"{link.kind}.{who}"})]
        return [anchor_of(stage, False) | {f"{link.kind}.{who}"}]
    if link.kind == "passenger":
        other = world.people.get(link.to)
        device = other.link("device") if other else None
        if other is None or device is None:
            return []
        held = _link(scene, world, link.to, device, asking)
        third = other.link("third hand")
        held += _link(scene, world, link.to, third, asking) if third else []
        return [p | {f"passenger.{who}"} for p in held]
    if link.kind == "top line":
        # The plan names no second point for it: it hangs where everything hangs.
        by = [frozenset({f"tied.{who}"})] if link.tied else []
        if link.hand and link.to in world.top(k):
            by += [h | {f"hand.{link.to}"} for h in _holds_its_owner(scene, world, stage, link.to, asking)]
        return [anchor_of(stage, False) | {f"line.{who}"} | p for p in by]
    if link.kind in ("lowering", "bight"):
        return _lowered(scene, world, who, link, asking)
    fixed = [
        f | h
        for f in fixings(world, stage, now, link.strands, who)
        for h in _attended(scene, world, stage, f, who, asking)
    ]
    if body.spot == "rope" and stage.way(now.which).knotted & link.strands:
        # Whoever rides past the knot of a rope that is tied on hangs on it.
        fixed = [f | {f"knot.{strands_key(stage.way(now.which).knotted & link.strands)}"} for f in fixed]
    if link.kind == "third hand":
        return [f | {f"hitch.{who}"} for f in fixed] if link.tested and _grips(stage, now, who) else []
    stops = _stops(scene, world, who, link, asking)
    return [f | s | {f"device.{who}"} for f, s in product(fixed, stops)]


def _lowered(scene: Scene, world: World, who: str, link: Link, asking: frozenset[str]) -> list[HoldPath]:
    """The paths of somebody who is tied in to the rope that a belayer lets out."""
    stage, now = scene.stages[link.k], world.stations[link.k]
    made = [frozenset({f"tied.{who}"})] if link.tied else []
    if link.to in _belays(world, stage, now):
        owner = _holds_its_owner(scene, world, stage, link.to, asking)
        made += [h | {f"hand.{link.to}"} for h in owner if link.hand]
        made += [frozenset({f"hitch.{link.to}"})] if "belayer's hitch" in now.done and link.tested and link.hand else []
    return [anchor_of(stage, True) | p | {on_rope(s) for s in link.strands} for p in made]


def _holds_its_owner(scene: Scene, world: World, stage: Stage, by: str, asking: frozenset[str]) -> list[HoldPath]:
    """What must hold besides somebody's hand: whatever holds them, where a pull could take them off an edge.

    Source: P, common practice, no source: on the ground, and below where the pull is upwards, nothing is needed."""
    body = world.people[by]
    below = body.spot == "landing" or body.at > stage.index
    stands = stage.below == "hanging" if below else stage.stance != "ground"
    if not stands:
        return [frozenset()]
    return [] if by in asking else list(paths(scene, world, by, asking))


def _attended(
    scene: Scene, world: World, stage: Stage, fixed: HoldPath, who: str, asking: frozenset[str]
) -> list[HoldPath]:
    """What must hold besides a fixing that is an attendant's hand on the reserve."""
    by = world.stations[stage.index].attendant
    if f"hand.{by}" not in fixed or by == who:
        return [frozenset()]
    return _holds_its_owner(scene, world, stage, by, asking)


def _belays(world: World, stage: Stage, now: StationNow) -> list[str]:
    """Who is where a lowering belay can be held."""
    system = stage.way(max(now.which, 0)).system
    if isinstance(system, Lowered) and system.belayer == "above":
        return world.top(stage.index)
    return [*world.foot(stage.index, stage.walk), *(() if isinstance(system, Lowered) else world.top(stage.index))]


def _grips(stage: Stage, now: StationNow, who: str) -> bool:
    """Whether somebody's third hand grips: what is not known is said by itself and taken as it should be."""
    some = stage.grips.get(who, ())
    grip = some[min(max(now.which, 0), len(some) - 1)] if some else None
    return grip is None or grip.stand not in HOLDS_NOTHING


def fixings(world: World, stage: Stage, now: StationNow, strands: frozenset[StrandRef], who: str) -> list[HoldPath]:
    """The ways in which strands in one device or hitch are fixed above it.

    world: the state; stage, now: the station; strands: in the device; who: hangs on it, and attends no reserve for
    themselves
    returns: sets of parts; none where they run
    Source: P, the table of what is fixed; J, table of knots.
    """
    if now.which < 0 or now.done & PULLED or not strands:
        return []
    way, base = stage.way(now.which), anchor_of(stage, True)
    ropes = frozenset(on_rope(s) for s in strands)
    creeps = way.thin and set(way.ride) <= strands
    single = [] if creeps else sorted(strands)
    made = [base | {on_rope(s)} | more for s in single for more in _alone(world, stage, now, s, who)]
    both = set(way.ride) <= strands and len(way.ride) == 2 and _rigged(way, now)
    joined = frozenset({f"join.{stage.index}"} if way.kind == "joined" else set())
    # A screw that is clipped to both strands is a second ring for them.
    bases = [base, *([frozenset({f"screw.{stage.index}"})] if "screw clip" in now.done else [])]
    if both and way.together.holds != "no":
        # Both strands in one device: nothing runs, unless what creeps draws the join through.
        made += [b | ropes | joined | _doubt(way.together, "join", stage) for b in bases]
    if now.done & {"isolating overhand", "overhand below"} and set(way.strands) & strands:
        # The loop ring – knot – ring is closed: above the knot on either strand.
        made += [b | ropes | joined for b in (bases if len(way.ride) == 2 else [base])]
    clipped = {"isolating overhand", "overhand clip"} <= now.done
    if ("isolating clove" in now.done or clipped) and set(way.ride) & strands:
        made.append(anchor_of(stage, False) | ropes)
    if "ride line" in now.done and set(way.ride) & strands:
        made += [anchor_of(stage, False) | {on_rope(s), f"ride line.{stage.index}"} for s in strands & set(way.ride)]
    return list(minimal(made))


def _rigged(way: RopeWay, now: StationNow) -> bool:
    """Whether everything that the system needs to hold is tied."""
    return "threaded" in now.done and all(k in now.done for k in way.knots)


def _alone(world: World, stage: Stage, now: StationNow, s: StrandRef, who: str) -> list[HoldPath]:
    """The ways in which one strand is fixed by itself."""
    way = stage.way(now.which)
    if s not in way.alone or not _rigged(way, now):
        return []
    what, verdict = way.alone[s]
    part = frozenset({f"{what}.{stage.index}"})
    if way.bare is not None and "block carabiner" not in now.done:
        # The block was judged with the carabiner that is clipped into it.
        verdict, part = way.bare, part | {f"bare.block.{stage.index}"}
    if verdict.holds == "no":
        return []
    part |= _doubt(verdict, what, stage)
    if what != "tie-off":
        return [part]
    made = [part] if "unlocked" not in now.done else []
    there = now.attendant in world.top(stage.index) and now.attendant != who
    return [*made, frozenset({f"hand.{now.attendant}"})] if there else made


def _doubt(verdict: Verdict, what: str, stage: Stage) -> HoldPath:
    """The part that stands for what nobody knows to hold."""
    return frozenset({f"doubt.{what}.{stage.index}"} if verdict.holds == "unknown" else set())


def _stops(scene: Scene, world: World, who: str, link: Link, asking: frozenset[str]) -> list[HoldPath]:
    """What stops the rope from running through a device."""
    k, made, body = link.k, list[HoldPath](), world.people[who]
    now, stage = world.stations[k], scene.stages[k]
    if link.hand:
        made.append(frozenset({f"hand.{who}"}))
    third = body.link("third hand")
    if third is not None and third.tested and third.strands >= link.strands and _grips(stage, now, who):
        made.append(frozenset({f"hitch.{who}"}))
    for by, _, strands in now.fireman:
        # Watched is one, but strands that are held taut hold every device on them.
        if by != who and link.strands <= strands and by in world.foot(k, stage.walk):
            made += [h | {f"watch.{by}"} for h in _holds_its_owner(scene, world, stage, by, asking)]
    if body.spot == "station" and body.at == k:
        before = now.stack[: now.stack.index(who)] if who in now.stack else ()
        if "isolating clove" not in now.done:
            made += [
                frozenset({f"weight.{i}"})
                for i, b in world.people.items()
                if i != who
                and b.at == k
                and (_rides(b) or (i in before and _leans(b)))
                and (d := b.link("device")) is not None
                and d.strands >= link.strands
            ]
        if "isolating clove" in now.done or "isolating overhand" in now.done:
            made.append(frozenset())
    return made


def _rides(body: Body) -> bool:
    """Whether somebody's weight is on the rope on the way down."""
    return body.spot == "rope" and not body.resting


def _leans(body: Body) -> bool:
    """Whether somebody's weight is on their tested device at the station: without a tether."""
    device = body.link("device")
    tethered = any(x.kind in ("tether", "second tether", "top line") for x in body.links)
    return body.spot == "station" and body.edge and device is not None and device.tested and not tethered


def closed(world: World, now: StationNow, way: RopeWay) -> bool:
    """Whether nobody can ride off an end: a stopper in every ride strand, or an isolating overhand.

    world: the state; now: the station; way: as it is rigged
    returns: true where it is closed
    Source: P, common practice, no source.
    """
    return bool(now.done & {"isolating overhand", "overhand below"}) or all(world.stopper(s) for s in way.ride)
