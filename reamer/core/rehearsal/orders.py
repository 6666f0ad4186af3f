"""The order of acts at each station, as the chosen system, party and backups have it."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.say import Sentence, words
from reamer.core.model import ActName, Bights
from reamer.core.people.backups import STACKED, Backup
from reamer.core.rehearsal.acts import Act, Refused, do
from reamer.core.rehearsal.stage import RopeWay, Scene, Stage
from reamer.core.rehearsal.world import Body, Link, RopeNow, StationNow, StrandRef, World, strands_key
from reamer.core.rope.strands import UNDONE


def begin(scene: Scene) -> World:
    """The state before the first act: everybody at the first station, every rope carried.

    scene: the descent
    returns: the state
    Source: none.
    """
    people = {p.id: Body(0) for p in scene.plan.party}
    if scene.stages and scene.stages[0].climbed and people:
        # One has climbed it, tied in to the rope's end; the others are at its foot, one of them belays.
        stage = scene.stages[0]
        up, foot = stage.backups[-1].who, [b.who for b in stage.backups[:-1]]
        people = {i: Body(0, "landing") for i in people}
        by = next((i for i in foot if scene.able(i)), foot[0] if foot else "")
        tied = Link("lowering", 0, by, frozenset(stage.ways[0].ride), tested=True, hand=bool(by))
        people[up] = Body(0, "station", True, (tied,))
    ropes = {r: RopeNow(long) for r, long in scene.lengths.items()}
    first = [StationNow(which=0 if stage.climbed and n == 0 else -1) for n, stage in enumerate(scene.stages)]
    return World(people, ropes, tuple(first))


def next_end(scene: Scene, k: int) -> StrandRef | None:
    """The end that is threaded through the next station while its rope still hangs from this one.

    scene: the descent; k: the station, from 0
    returns: the end, None where the next station takes another rope, or a way lies between
    Source: P, common practice, no source.
    """
    if k + 1 >= len(scene.stages) or scene.stages[k].walk:
        return None
    here, state = scene.stages[k].last, scene.stages[k + 1].drop.station.states[0]
    s = scene.stages[k + 1].ways[0].threaded
    return s if s is not None and not state.run_through and s == here.pull else None


class _Order:
    """The acts of one station as they are written, each done as it is added."""

    def __init__(self, scene: Scene, k: int, world: World) -> None:
        self.scene, self.k, self.world = scene, k, world
        self.stage: Stage = scene.stages[k]
        self.acts: list[Act] = []
        self.states: list[World] = []
        self.why: list[Sentence] = []
        self.backups = self.stage.backups
        self.people = [b.who for b in self.backups]
        self.seen: dict[str, int] = {}

    def add(self, do_: ActName, who: str = "", what: str = "") -> bool:
        """Add an act; one that cannot be done is left out, and why is kept."""
        base = ":".join((self.stage.drop.id, who, do_, what))
        self.seen[base] = self.seen.get(base, 0) + 1
        n = self.seen[base]
        act = Act(base if n == 1 else f"{base}#{n}", self.k, do_, who, what)
        try:
            self.world = do(self.scene, self.world, act)
        except Refused as e:
            self.why.append(e.why)
            return False
        self.acts.append(act)
        self.states.append(self.world)
        return True

    @property
    def way(self) -> RopeWay:
        return self.stage.way(self.world.stations[self.k].which)

    def able(self, of: list[str]) -> list[str]:
        return [i for i in of if self.scene.able(i)]

    @property
    def rigger(self) -> str:
        """Who rigs: the last of those who are able."""
        return (self.able(self.people) or self.people)[-1]

    @property
    def checker(self) -> str:
        """Who looks at it: another able person who is still there."""
        top = self.world.top(self.k)
        others = [i for i in self.people if i in top and i != self.rigger]
        return (self.able(others) or others or [""])[0]

    def tether(self, who: str) -> None:
        """Clipped in, and loaded, before anything else."""
        body = self.world.people[who]
        if body.link("tether") is None:
            self.add("clip tether", who, "master")
        link = self.world.people[who].link("tether")
        if link is not None and not link.tested:
            self.add("load tether", who)

    def to_edge(self, who: str) -> None:
        self.tether(who)
        if self.stage.stance != "hanging" and not self.world.people[who].edge:
            self.add("go to the edge", who)

    def has(self, what: str) -> bool:
        return what in self.world.stations[self.k].done

    # Rigging.

    def rig(self) -> None:
        way, who = self.stage.ways[0], self.rigger
        if way.kind == "none":
            return
        self.to_edge(who)
        self.put_up(way, who)
        self.ends(way, who)
        if self.checker:
            self.add("check", self.checker, "station")
        if not self.has("thrown"):
            self.add("call", who, "rope")
            self.add("throw the rope", who)
        if not self.stage.water and any(not self.world.stopper(s) for s in way.ride) and not self.has("seen"):
            self.add("see the ends down", who)
        if way.kind == "releasable" and len(self.people) > 1:
            self.add("attend the reserve", who)

    def put_up(self, way: RopeWay, who: str) -> None:
        """The rope on the anchor, with the knots that the system needs."""
        if not self.has("threaded") and way.threaded is None and way.ride:
            self.open_end(way.ride[0], who)
            self.add("thread", who, way.ride[0].key)
        elif not self.has("threaded") and way.threaded is not None:
            self.open_end(way.threaded, who)
            self.add("thread", who, way.threaded.key)
        if self.stage.screw and not self.has("backup screw"):
            self.add("put in", who, "backup screw")
        one_rope = len(way.ropes) == 1 or isinstance(way.system, Bights)
        if way.kind in ("doubled", "alternating bights") and one_rope:
            self.add("pull to the middle", who)
        for knot in way.knots:
            self.add("tie", who, knot)
        if way.kind.startswith("blocked") and getattr(way.system, "carabiner", False):
            self.add("put in", who, "block carabiner")
        if isinstance(way.system, Bights) and way.system.clipped and len(self.people) > 1:
            self.add("put in", who, "bights' carabiner")
        if self.stage.stance == "hanging" and len(way.ride) == 2:
            self.add("tie", who, "isolating overhand")

    def open_end(self, s: StrandRef, who: str) -> None:
        """An end that is to go through the ring has no stopper in it."""
        if self.world.stopper(s):
            self.add("untie", who, f"stopper {s.key}")

    def ends(self, way: RopeWay, who: str) -> None:
        """The stoppers that the plan has, and none where it has none."""
        want = {e.strand for e in way.ends if e.planned}
        below = [i for i in self.people if i in self.world.below(self.k)]
        if self.has("thrown"):
            who = (self.able(below) or below or [who])[0]
        for s in way.strands:
            if s in want and not self.world.stopper(s):
                self.add("tie", who, f"stopper {s.key}")
            elif s not in want and self.world.stopper(s):
                self.add("untie", who, f"stopper {s.key}")

    # Riding.

    def ride(self) -> None:
        for b in self.backups:
            if b.by in STACKED:
                self.pre_rig(b)
        for n, b in enumerate(self.backups):
            top = self.world.top(self.k)
            if b.who not in top:
                continue
            rider, passenger = self.pair_of(b)
            last = set(top) <= {rider, passenger}
            if last:
                self.for_the_last(rider)
            if passenger:
                self.pair(rider, passenger, last)
            else:
                self.go(b, n == 0, last)
            if n == 0:
                self.thread_next()
        if self.world.stations[self.k].done & {"overhand below"}:
            self.add("untie", self.low(), "overhand below")

    def pair_of(self, b: Backup) -> tuple[str, str]:
        """Who rides and who is their passenger, "" where they ride alone."""
        there = self.world.top(self.k)
        if b.by == "tandem" and b.helper in there:
            return b.helper, b.who
        return b.who, next(
            (x.who for x in self.backups if x.by == "tandem" and x.helper == b.who and x.who in there), ""
        )

    def pre_rig(self, b: Backup) -> None:
        """On the rope before the first goes, checked by somebody else."""
        self.to_edge(b.who)
        self.add("load device", b.who, strands_key(self.way.ride))
        self.add("test", b.who)
        self.add("check", b.helper or self.people[0], b.who)
        if b.by == "stacked, isolating clove" and not self.has("isolating clove"):
            self.add("tie", b.who, "isolating clove")

    def go(self, b: Backup, first: bool, last: bool) -> None:
        """One person down, by themselves."""
        who = b.who
        if not self.world.people[who].link("device"):
            self.to_edge(who)
        if self.has("isolating clove") and self.world.below(self.k):
            self.add("untie", who, "isolating clove")
        if b.by == "lowered":
            self.lowered(b)
            return
        if last and isinstance(self.way.system, Bights) and self.has("bights' carabiner"):
            self.add("take out", who, "bights' carabiner")
        if not self.world.people[who].link("device"):
            self.add("load device", who, strands_key(self.way.ride))
        if b.by in ("third hand", "tandem"):
            self.add("tie third hand", who)
        if b.by == "top line" and b.helper:
            self.add("take top belay", b.helper, who)
        if not self.world.people[who].link("device") or not self.tested(who):
            self.add("test", who)
        watcher = b.helper or (self.people[0] if self.people[0] != who else "")
        below = self.world.foot(self.k, self.stage.walk)
        if b.by in ("fireman's belay", *STACKED) and below:
            self.add("take fireman's belay", watcher if watcher in below else below[0], who)
        if self.has("isolating overhand"):
            self.add("untie", who, "isolating overhand")
        if last and self.has("backup screw"):
            self.add("take out", who, "backup screw")
        self.off(who)
        self.add("descend", who)
        if first and self.stage.drop.station.through.stowed:
            self.stowed(who)
        self.land(who)
        if b.by == "top line" and b.helper:
            self.add("leave top belay", b.helper, who)

    def stowed(self, first: str) -> None:
        """Those who are pre-rigged without a tether are held from below before the first's weight comes off."""
        for b in self.backups:
            if b.by in STACKED and b.who in self.world.top(self.k):
                self.add("take fireman's belay", first, b.who)
                return

    def tested(self, who: str) -> bool:
        return all(x.tested for x in self.world.people[who].links if x.kind in ("device", "third hand", "top line"))

    def off(self, who: str) -> None:
        """The tether off; with stowed ones those who are pre-rigged take theirs off too, before the first goes."""
        if self.stage.drop.station.through.stowed and not self.world.below(self.k):
            for b in self.backups:
                if b.by in STACKED and self.world.people[b.who].link("tether") and b.who != who:
                    self.add("unclip tether", b.who)
        if self.world.people[who].link("tether"):
            self.add("unclip tether", who)

    def land(self, who: str) -> None:
        """Down, held by the next station where that is needed, off the rope, and the call."""
        self.add("arrive", who)
        body = self.world.people[who]
        if self.stage.below == "hanging":
            self.tether(who)
        for by, of in self.world.stations[self.k].fireman:
            if of == who:
                self.add("leave fireman's belay", by)
        if body.link("device"):
            self.add("take off device", who)
        if body.link("third hand"):
            self.add("take off third hand", who)
        self.add("call", who, "off rope")

    def lowered(self, b: Backup) -> None:
        """Let down by somebody at the anchor, whose brake strand has a hitch."""
        who, by = b.who, b.helper or self.rigger
        self.tether(by)
        self.add("tie in", who, by)
        self.add("take lowering belay", by, who)
        if not self.has("belayer's hitch"):
            self.add("put in", by, "belayer's hitch")
        self.add("test", who)
        self.off(who)
        self.add("be lowered", who)
        self.add("arrive", who)
        if self.stage.below == "hanging":
            self.tether(who)
        self.add("untie from the rope", who)
        self.add("call", who, "off rope")

    def pair(self, rider: str, passenger: str, last: bool) -> None:
        """Two on one device, each with a tether kept for below."""
        for who in (rider, passenger):
            self.to_edge(who)
        if not self.world.people[rider].link("device"):
            self.add("load device", rider, strands_key(self.way.ride))
        self.add("clip passenger", passenger, rider)
        self.add("tie third hand", rider)
        if last and self.has("bights' carabiner"):
            self.add("take out", rider, "bights' carabiner")
        self.add("test", rider)
        self.add("test", passenger)
        if self.has("isolating overhand"):
            self.add("untie", rider, "isolating overhand")
        if last and self.has("backup screw"):
            self.add("take out", rider, "backup screw")
        for who in (passenger, rider):
            self.add("unclip tether", who)
        self.add("descend", rider)
        self.add("arrive", rider)
        if self.stage.below == "hanging":
            self.tether(rider)
            self.tether(passenger)
        self.add("unclip passenger", passenger)
        self.add("take off device", rider)
        self.add("take off third hand", rider)
        self.add("call", rider, "off rope")

    def for_the_last(self, who: str) -> None:
        """Conversion, test-pull, the ring over the edge, and which strand is pulled, said aloud."""
        self.to_edge(who)
        if len(self.stage.ways) == 2 and self.stage.ways[0].kind != self.stage.last.kind:
            if self.has("belayer's hitch"):
                self.add("take out", who, "belayer's hitch")
            if self.world.stations[self.k].attendant:
                self.add("leave the reserve", self.world.stations[self.k].attendant)
            self.add("convert", who)
            self.ends(self.stage.last, who)
            self.add("call", who, "rope")
            self.add("throw the rope", who)
            if not self.stage.water and any(not self.world.stopper(s) for s in self.stage.last.ride):
                self.add("see the ends down", who)
            if self.checker and self.checker != who:
                self.add("check", self.checker, "station")
        if self.stage.over:
            self.add("set over the edge", who)
        below = self.world.below(self.k)
        way = self.stage.way(self.world.stations[self.k].which)
        if below and way.pull is not None and way.kind not in UNDONE:
            self.add("test-pull", self.low())
            if self.has("drawn"):
                self.add("pull back", who)
        if way.pull is not None:
            self.add("call", who, f"pull {way.pull.key}")

    def from_top(self) -> None:
        """Threading at the top of a single pitch and being lowered, never leaving the belay."""
        up = next((i for i in self.world.top(self.k) if self.world.people[i].link("lowering")), "")
        if not up:
            self.why.append(Sentence("Nobody is at the top of the pitch on a belay from below."))
            return
        link = self.world.people[up].link("lowering")
        by = link.to if link is not None else ""
        self.tether(up)
        through = getattr(self.way.system, "top", "") == "bight through"
        if through and self.stage.bight == "no":
            self.why.append(Sentence("A bight does not fit through the ring: the end is untied and tied again."))
        if through and self.stage.bight != "no":
            self.add("pass the bight through", up)
            self.add("tie in to the bight", up)
            self.add("check", up, "knots")
            self.add("untie the end", up)
        else:
            self.add("tie in to the bight", up)
            self.add("untie the end", up)
            self.add("pass the end through", up)
            self.add("tie the end again", up)
            self.add("check", up, "knots")
            self.add("untie the bight", up)
        if by:
            self.add("take lowering belay", by, up)
            self.add("put in", by, "belayer's hitch")
        self.add("test", up)
        self.add("unclip tether", up)
        self.add("be lowered", up)
        self.add("arrive", up)
        self.add("untie from the rope", up)
        self.bring_down(self.low(), "")

    # Below.

    def low(self) -> str:
        """An able person who is down, or whoever is."""
        below = [i for i in self.people if i in self.world.below(self.k)]
        return (self.able(below) or below or [self.people[0]])[0]

    def thread_next(self) -> None:
        """The end that is pulled goes through the next station while others are still above."""
        s = next_end(self.scene, self.k)
        if s is None or self.stage.below == "ground":
            return
        who = self.low()
        if who not in self.world.below(self.k) or self.world.people[who].spot != "station":
            return
        above = len(self.world.top(self.k)) > 0
        body = self.world.people[who]
        if body.link("tether") is None and self.stage.below != "hanging":
            self.add("clip tether", who, "master")
            self.add("load tether", who)
        self.add("look up", who)
        self.add("pull up the end", who, s.key)
        if above:
            self.add("tie", who, "overhand below")
        if self.world.stopper(s):
            self.add("untie", who, f"stopper {s.key}")
        self.across(who, s)
        self.add("tie", who, f"stopper {s.key}")

    def across(self, who: str, s: StrandRef) -> None:
        """Thread an end through the next station: an act of that station, done here."""
        k, self.k = self.k, self.k + 1
        self.add("thread", who, s.key)
        self.k = k

    def retrieve(self) -> None:
        way = self.stage.way(self.world.stations[self.k].which)
        if way.kind == "none" or not self.people:
            return
        who = self.low()
        if way.up is not None and self.world.stopper(way.up):
            self.add("untie", who, f"stopper {way.up.key}")
        ahead = next_end(self.scene, self.k)
        if ahead is not None and not self.threaded_next():
            self.thread_next_now(who, ahead)
        self.bring_down(who, way.pull.key if way.pull is not None else "")

    def bring_down(self, who: str, pulled: str) -> None:
        """The rope pulled by somebody below, secured first where it would be lost if it were let go of."""
        if not self.threaded_next() and (self.stage.below != "ground" or self.stage.water):
            self.add("secure the rope", who, "clipped")
        self.add("hold clear")
        self.add("pull", who, pulled)
        self.add("stack", who)
        if self.stage.walk and self.k + 1 < len(self.scene.stages):
            self.add("walk on")

    def threaded_next(self) -> bool:
        k = self.k + 1
        return k < len(self.scene.stages) and "threaded" in self.world.stations[k].done

    def thread_next_now(self, who: str, s: StrandRef) -> None:
        if self.world.people[who].spot != "station" or self.world.people[who].at != self.k + 1:
            return
        if self.stage.below == "ledge" and self.world.people[who].link("tether") is None:
            self.add("clip tether", who, "master")
            self.add("load tether", who)
        self.add("pull up the end", who, s.key)
        if self.world.stopper(s):
            self.add("untie", who, f"stopper {s.key}")
        self.across(who, s)
        self.add("tie", who, f"stopper {s.key}")


@dataclass(frozen=True, slots=True)
class Order:
    """The acts of one station, the state before and after each, and why some of what a rule asks for cannot be done."""

    before: World
    acts: tuple[Act, ...]
    states: tuple[World, ...]
    after: World
    why: tuple[Sentence, ...]


def order(scene: Scene, k: int, world: World) -> Order:
    """The acts of one station, from everybody at it to everybody below with the rope.

    scene: the descent; k: the station, from 0; world: the state in which the station before it was left
    returns: the order
    Source: P, common practice, no source.
    """
    made = _Order(scene, k, world)
    if made.people and made.stage.climbed:
        made.from_top()
    elif made.people:
        made.rig()
        if made.stage.ways[0].kind != "none":
            made.ride()
            made.retrieve()
    return Order(
        world,
        tuple(made.acts),
        tuple(made.states),
        made.world,
        tuple(Sentence(t) for t in dict.fromkeys(words(y) for y in made.why)),
    )
