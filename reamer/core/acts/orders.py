"""The order of acts at each station, as the chosen system, party and backups have it."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.acts.act import Act, MoveName, Refused
from reamer.core.acts.acts import do
from reamer.core.acts.rigging import HALVED, MOVED
from reamer.core.acts.stage import RopeWay, Scene, Stage
from reamer.core.acts.world import BELAYED, Body, Link, RopeNow, StationNow, StrandRef, World, strands_key
from reamer.core.answer.say import Sentence, words
from reamer.core.model import ActName, Bights
from reamer.core.people.backups import STACKED, Backup
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
        self.move: MoveName = "rig"

    def add(self, do_: ActName, who: str = "", what: str = "", part_of: str = "") -> bool:
        """Add an act; one that cannot be done is left out, and why is kept."""
        base = ":".join((self.stage.drop.id, who, do_, what))
        self.seen[base] = self.seen.get(base, 0) + 1
        n = self.seen[base]
        act = Act(base if n == 1 else f"{base}#{n}", self.k, do_, who, what, part_of=part_of, move=self.move)
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

    @property
    def foot(self) -> list[str]:
        """Who is below, in the order in which they came."""
        below = self.world.foot(self.k, self.stage.walk)
        return [i for i in self.people if i in below]

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
        self.across_to_it(who)
        self.to_edge(who)
        self.put_up(way, who)
        self.ends(way, who)
        belayer = next((b.helper for b in self.backups if b.by == "top line" and b.helper), "")
        if belayer and len(way.ride) == 2:
            # What the guests ride is tied off, so that it can be let out.
            self.to_edge(belayer)
            self.add("tie", belayer, "ride line")
        if self.checker:
            self.move = "check"
            self.to_edge(self.checker)
            self.add("check", self.checker, "station")
        self.move = "rope"
        if self.backups[0].by != "lowered" or self.pair_of(self.backups[0])[1]:
            self.let_down(way, who)
            self.attend()

    def across_to_it(self, who: str) -> None:
        """The traverse line fixed by whoever rigs, passed by the others, and reeled in by the last across."""
        if self.stage.drop.station.traverse is None or (self.k == 0 and len(self.people) == 0):
            return
        if not self.add("fix the traverse line", who):
            return
        others = sorted((i for i in self.people if i != who), key=self.scene.able)
        for i in others[:-1]:
            self.add("pass", i, "traverse line")
        self.add("reel in the traverse line", others[-1] if others else who)

    def let_down(self, way: RopeWay, who: str) -> None:
        """The rope down, called and answered first; its open ends seen."""
        if not self.has("thrown"):
            self.add("call", who, "rope")
            if self.foot:
                self.add("call", (self.able(self.foot) or self.foot)[0], "clear")
            self.add("throw the rope", who)
        if not self.stage.water and any(not self.world.stopper(s) for s in way.ride) and not self.has("seen"):
            self.add("see the ends down", who)

    def attend(self, riders: tuple[str, ...] = ()) -> None:
        """Somebody at the reserve while others ride: who rigs, or whoever able is free of other tasks."""
        top = self.world.top(self.k)
        wanted = self.way.kind == "releasable" and self.has("tie-off") and not self.world.stations[self.k].attendant
        belays = {x.to for b in self.world.people.values() for x in b.links if x.kind in BELAYED and x.hand}
        free = [i for i in (self.rigger, *reversed(self.able(self.people))) if i in top and i not in (*belays, *riders)]
        if wanted and len(top) > 1 and free:
            self.to_edge(free[0])
            whole = ":".join((self.stage.drop.id, free[0], "attend the reserve", ""))
            self.add("attend the reserve", free[0], "", whole)

    def attend_for(self, *riders: str) -> None:
        """Somebody at the reserve who stays above."""
        if self.world.stations[self.k].attendant in riders:
            self.add("leave the reserve", self.world.stations[self.k].attendant)
        if set(self.world.top(self.k)) - set(riders):
            self.attend(riders)

    def put_up(self, way: RopeWay, who: str) -> None:
        """The rope on the anchor, with the knots that the system needs."""
        if not self.has("threaded") and way.threaded is None and way.ride:
            self.open_end(way.ride[0], who)
            self.add("thread", who, way.ride[0].key)
        elif not self.has("threaded") and way.threaded is not None:
            self.open_end(way.threaded, who)
            self.add("thread", who, way.threaded.key)
        one_rope = len(way.ropes) == 1 or isinstance(way.system, Bights)
        if way.kind in ("doubled", "alternating bights") and one_rope:
            self.add("pull to the middle", who)
        if self.stage.screw and not self.has("backup screw"):
            # Clipped to the rope where it will hang: it no longer runs.
            self.add("put in", who, "backup screw")
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
        if self.has("thrown"):
            who = (self.able(self.foot) or self.foot or [who])[0]
        for s in way.strands:
            if self.world.stopper(s) != (s in want):
                rope = self.world.ropes.get(s.rope)
                if rope is not None and rope.ends[s.end == "b"] == f"hangs below station {self.k + 1}":
                    self.add("pull up the end", who, s.key)
                self.add("tie" if s in want else "untie", who, f"stopper {s.key}")

    # Riding.

    def ride(self) -> None:
        self.move = "onto"
        self.pre_rig()
        for n, b in enumerate(self.backups):
            top = self.world.top(self.k)
            if b.who not in top:
                continue
            rider, passenger = self.pair_of(b)
            last = set(top) <= {rider, passenger}
            if last:
                self.move = "before"
                self.for_the_last(rider)
            self.move = "last" if last else "turn" if self.world.below(self.k) else "first"
            if passenger:
                self.pair(rider, passenger, last)
            else:
                self.go(b, n == 0, last)
            if n == 0:
                self.move = "ahead"
                self.thread_next()
        self.move = "pull"
        if self.has("overhand below"):
            self.add("untie", self.low(), "overhand below")

    def pair_of(self, b: Backup) -> tuple[str, str]:
        """Who rides and who is their passenger, "" where they ride alone."""
        there = self.world.top(self.k)
        if b.by == "tandem" and b.helper in there:
            return b.helper, b.who
        return b.who, next(
            (x.who for x in self.backups if x.by == "tandem" and x.helper == b.who and x.who in there), ""
        )

    def pre_rig(self) -> None:
        """Everybody on the rope, in the order in which they go, up to the last who is stacked: whoever goes first has
        the lowest device."""
        upto = max((n for n, b in enumerate(self.backups) if b.by in STACKED), default=-1)
        clove = any(b.by == "stacked, isolating clove" for b in self.backups)
        for n, b in enumerate(self.backups[: upto + 1]):
            if b.by not in ("lowered", "top line") and not self.pair_of(b)[1]:
                self.onto(b)
            if n == 0 and clove:
                self.add("tie", (self.able(self.people) or [b.who])[0], "isolating clove")

    def onto(self, b: Backup) -> None:
        """Onto the rope: third hand, device, weighted with the tether in; a guest is looked at by somebody able."""
        who = b.who
        if b.by == "top line" and b.helper:
            self.tether(b.helper)
            self.tether(who)
            if self.has("line below"):
                self.add("pull up the end", b.helper, "line")
            self.add("tie in", who, "line")
        self.to_edge(who)
        if b.by in ("third hand", "tandem"):
            self.add("tie third hand", who)
        self.add("load device", who, strands_key(self.way.ride))
        self.look_at(who, b.helper)
        if b.by == "top line" and b.helper:
            self.add("take top belay", b.helper, who)
        self.add("test", who)

    def look_at(self, who: str, by: str) -> bool:
        """A guest checked while they are clipped, by somebody able who is beside them; whether they were."""
        if self.scene.able(who):
            return False
        here = [i for i in self.able(self.people) if i in self.world.top(self.k) and i != who]
        busy = self.world.stations[self.k].attendant
        free = [i for i in here if i != busy] or here
        if free:
            self.add("check", by if by in here and (by != busy or free == here) else free[0], who)
        if busy and not self.world.stations[self.k].attendant:
            self.attend()
        return bool(free)

    def go(self, b: Backup, first: bool, last: bool) -> None:
        """One person down, by themselves."""
        who = b.who
        if self.has("isolating clove") and self.world.below(self.k):
            here = [i for i in self.able(self.people) if i in self.world.top(self.k)]
            self.add("untie", who if who in here or not here else here[0], "isolating clove")
        if b.by == "lowered":
            self.lowered(b)
            return
        if last and isinstance(self.way.system, Bights) and self.has("bights' carabiner"):
            self.to_edge(who)
            self.add("take out", who, "bights' carabiner")
        if not self.world.people[who].link("device"):
            self.onto(b)
        self.attend_for(who)
        watcher = b.helper or (self.people[0] if self.people[0] != who else "")
        if b.by in ("fireman's belay", *STACKED) and self.foot:
            self.add("take fireman's belay", watcher if watcher in self.foot else self.foot[0], who)
        if self.has("isolating overhand"):
            self.add("untie", who, "isolating overhand")
        self.off(who)
        if last and self.has("backup screw"):
            self.add("take out", who, "backup screw")
        self.add("descend", who)
        self.past(who, last)
        if first and self.stage.drop.station.through.stowed:
            self.stowed(who)
        self.land(who)

    def past(self, who: str, last: bool) -> None:
        """The deviations: put in by the first, passed, and taken out by the last."""
        for d in self.stage.drop.station.deviations:
            key = f"deviation {d.id}"
            if not self.has(key):
                self.add("put in", who, key)
            elif last and not d.left_in:
                self.add("take out", who, key)
            else:
                self.add("pass", who, key)

    def stowed(self, first: str) -> None:
        """Those who are pre-rigged without a tether are held from below before the first's weight comes off."""
        for b in self.backups:
            if b.by in STACKED and b.who in self.world.top(self.k):
                self.add("take fireman's belay", first, b.who)
                return

    def off(self, who: str) -> None:
        """The tether off; with stowed ones those who are pre-rigged take theirs off too, before the first goes."""
        if self.world.people[who].link("tether"):
            self.add("unclip tether", who)
        if self.world.people[who].link("second tether"):
            self.add("unclip second tether", who)
        if self.stage.drop.station.through.stowed and not self.world.below(self.k):
            for b in self.backups:
                if b.by in STACKED and self.world.people[b.who].link("tether") and b.who != who:
                    self.add("unclip tether", b.who)

    def land(self, who: str) -> None:
        """Down, held by the next station where that is needed, off the rope, and the call."""
        if self.world.people[who].spot == "rope":
            self.add("arrive", who)
        body = self.world.people[who]
        if self.stage.below == "hanging":
            self.tether(who)
        if body.link("device"):
            self.add("take off device", who)
        if body.link("third hand"):
            self.add("take off third hand", who)
        for w in self.world.stations[self.k].fireman:
            if w.of == who:
                self.add("leave fireman's belay", w.by)
        if body.link("top line"):
            self.add("untie from the rope", who, "line")
        if body.link("lowering"):
            self.add("untie from the rope", who)
        self.add("call", who, "off rope")

    def lowered(self, b: Backup) -> None:
        """Let down by somebody at the anchor, whose brake strand has a hitch."""
        who, by = b.who, b.helper or self.rigger
        self.to_edge(who)
        self.tether(by)
        if self.has("thrown"):
            # It went down with whoever was lowered before.
            for s in self.way.ride:
                self.add("pull up the end", by, s.key)
        self.add("tie in", who, by)
        if not self.look_at(who, by) and by in self.able(self.people):
            self.add("check", by, who)
        if not self.has("belayer's hitch"):
            self.add("put in", by, "belayer's hitch")
        self.add("take lowering belay", by, who)
        self.add("test", who)
        self.off(who)
        if self.has("tie-off"):
            self.add("unlock the tie-off", by)
        self.add("be lowered", who)
        self.past(who, False)
        self.add("arrive", who)
        if self.has("unlocked"):
            self.add("lock the tie-off", by)
        self.land(who)

    def pair(self, rider: str, passenger: str, last: bool) -> None:
        """Two on one device, each with a tether kept for below."""
        for who in (rider, passenger):
            self.to_edge(who)
        if not self.world.people[rider].link("device"):
            self.add("tie third hand", rider)
            self.add("load device", rider, strands_key(self.way.ride))
        self.add("clip passenger", passenger, rider)
        if last and self.has("bights' carabiner"):
            self.add("take out", rider, "bights' carabiner")
        self.look_at(passenger, rider)
        self.add("test", rider)
        self.add("test", passenger)
        if self.has("isolating overhand"):
            self.add("untie", rider, "isolating overhand")
        self.attend_for(rider, passenger)
        for who in (passenger, rider):
            self.off(who)
        if last and self.has("backup screw"):
            self.add("take out", rider, "backup screw")
        self.add("descend", rider)
        self.past(rider, last)
        self.add("arrive", rider)
        if self.stage.below == "hanging":
            self.tether(rider)
            self.tether(passenger)
        self.add("unclip passenger", passenger)
        self.add("take off device", rider)
        self.add("take off third hand", rider)
        self.add("call", rider, "off rope")

    def for_the_last(self, who: str) -> None:
        """Conversion, the ring over the edge, test-pull, and which strand is pulled, said aloud."""
        self.to_edge(who)
        if self.has("ride line"):
            self.add("untie", who, "ride line")
        if self.has("line below"):
            self.add("pull up the end", who, "line")
        if len(self.stage.ways) == 2 and self.stage.ways[0].kind != self.stage.last.kind:
            self.turn(who)
        if self.stage.over:
            self.add("set over the edge", who)
        if self.has("screw clip"):
            # The screw stays in as the last person's second tether; the rope must run for the test-pull.
            self.add("clip second tether", who, "backup")
            self.add("load tether", who)
            self.add("take out", who, "screw clip", ":".join((self.stage.drop.id, who, "take out", "backup screw")))
        way = self.stage.way(self.world.stations[self.k].which)
        if self.foot and way.pull is not None and way.kind not in UNDONE:
            self.add("test-pull", self.low())
            if self.world.stations[self.k].done & set(MOVED):
                self.add("pull back", who)
        if way.pull is not None:
            self.add("call", who, f"pull {way.pull.key}")

    def turn(self, who: str) -> None:
        """A station turned for the last person: what will hold is tied and loaded before what holds is undone."""
        first, last = self.stage.ways[0], self.stage.last
        whole = ":".join((self.stage.drop.id, who, "convert", ""))
        if self.has("belayer's hitch"):
            self.add("take out", who, "belayer's hitch")
        if self.world.stations[self.k].attendant:
            self.add("leave the reserve", self.world.stations[self.k].attendant)
        if first.kind == "lowered" and self.has("thrown"):
            for s in first.ride:
                self.add("pull up the end", who, s.key)
        for knot in last.knots:
            if not self.has(knot):
                self.add("tie", who, knot, whole)
        if last.kind.startswith("blocked"):
            if getattr(last.system, "carabiner", False):
                self.add("put in", who, "block carabiner", whole)
            self.add("load the block", who, "", whole)
        if self.has("tie-off"):
            self.add("untie", who, "tie-off", whole)
        else:
            self.add("convert", who, "", whole)
        if last.kind in HALVED and not self.has("middle"):
            self.add("pull to the middle", who, "", whole)
        self.ends(last, who)
        self.let_down(last, who)
        if self.checker and self.checker != who:
            self.add("check", self.checker, "station")

    def from_top(self) -> None:
        """Threading at the top of a single pitch and being lowered, never leaving the belay."""
        up = next((i for i in self.world.top(self.k) if self.world.people[i].link("lowering")), "")
        self.move = "top"
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
        self.move = "down"
        if by:
            self.add("put in", by, "belayer's hitch")
            self.add("take lowering belay", by, up)
        self.add("test", up)
        self.add("unclip tether", up)
        self.add("be lowered", up)
        self.add("arrive", up)
        self.add("untie from the rope", up)
        self.move = "pull"
        self.bring_down(self.low(), "", self.low())

    # Below.

    def low(self) -> str:
        """An able person who is down, or whoever is."""
        return (self.able(self.foot) or self.foot or [self.people[0]])[0]

    def thread_next(self) -> None:
        """The end that is pulled goes through the next station while others are still above."""
        s = next_end(self.scene, self.k)
        who = self.low()
        if s is not None and self.stage.below != "ground" and who in self.foot:
            self.thread_now(who, s)

    def thread_now(self, who: str, s: StrandRef) -> None:
        """Look up, the end up, the rope closed below for those above, the stopper out, through, the stopper in, and
        the rope stacked with slack for them."""
        if self.world.people[who].spot != "station" or self.world.people[who].at != self.k + 1:
            return
        above = len(self.world.top(self.k)) > 0
        if self.world.people[who].link("tether") is None and self.stage.below == "ledge":
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
        if above:
            self.add("stack", who, "slack")

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
        self.move = "pull"
        other = next((i for i in reversed(self.foot) if i != who), who)
        if self.stage.below == "ground":
            self.free(way, who, other)
        ahead = next_end(self.scene, self.k)
        if ahead is not None and not self.threaded_next():
            self.move = "ahead"
            self.thread_now(who, ahead)
            self.move = "pull"
        self.bring_down(who, way.pull.key if way.pull is not None else "", other)

    def free(self, way: RopeWay, who: str, other: str) -> None:
        """The stopper out of the strand that goes up, by whoever has it in hand, not by the one who pulls."""
        if way.up is not None and self.world.stopper(way.up):
            was = ":".join((self.stage.drop.id, who, "untie", f"stopper {way.up.key}"))
            self.add("untie", other, f"stopper {way.up.key}", was)

    def bring_down(self, who: str, pulled: str, other: str) -> None:
        """The rope pulled by somebody below until its end or middle is at the ring; then, with everybody clear and
        the rope secured where it would be lost, its end through."""
        whole = ":".join((self.stage.drop.id, who, "pull", pulled))
        # What an elastic release lets go of comes down at once.
        at_once = self.way.kind == "elastic-release device"
        if not at_once:
            self.add("pull", who, pulled)
            # At a stance the end hangs below, and comes by as the other strand is pulled.
            self.free(self.way, who, other)
            if self.threaded_next():
                self.add("run the rope through", who)
            self.add("stop pulling", who)
        if not self.threaded_next() and (self.stage.below != "ground" or self.stage.water):
            self.add("secure the rope", who, "clipped")
        self.add("hold clear")
        if at_once:
            self.add("pull", who, pulled)
        self.add("pull through", who, "", whole)
        self.add("stack", who)
        if self.stage.walk and self.k + 1 < len(self.scene.stages):
            self.add("walk on")

    def threaded_next(self) -> bool:
        k = self.k + 1
        return k < len(self.scene.stages) and "threaded" in self.world.stations[k].done


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
