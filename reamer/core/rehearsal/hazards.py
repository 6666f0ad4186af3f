"""Hazards: stretches of acts in which one likely fault leads to a fall, a lost rope, or a rope that does not come."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from reamer.core.answer.codes import Severity
from reamer.core.answer.say import Number, Sentence, listed
from reamer.core.model import Bights
from reamer.core.people.attachment import HOLDS_NOTHING
from reamer.core.people.backups import STACKED
from reamer.core.plan.party import unavoidable
from reamer.core.rehearsal.acts import why_stuck
from reamer.core.rehearsal.faults import Happens, exposed, fall, loose, open_ends
from reamer.core.rehearsal.holding import Held, HoldPath, fixings, held, sure
from reamer.core.rehearsal.stage import Scene, Stage
from reamer.core.rehearsal.world import Link, StationNow, StrandRef, World


@dataclass(frozen=True, slots=True)
class Seen:
    """A hazard as it stands in one state. ``of``: what tells it from others of its kind; ``said``: the plan's own
    findings say it already."""

    code: str
    k: int
    who: str
    of: str
    severity: Severity
    happens: Happens
    title: Sentence
    story: Sentence
    high: Number | None = None
    said: bool = False

    @property
    def key(self) -> str:
        """What stays the same from act to act."""
        return f"{self.code}:{self.k}:{self.who}:{self.of}"


@dataclass(frozen=True, slots=True)
class Hazard:
    """A hazard from the act where it begins to the one that ends it, by their places in the whole order from 0; ``end``
    is the first act after which it is gone, None where it never goes."""

    seen: Seen
    begin: int
    end: int | None

    @property
    def acts(self) -> int:
        """Over how many acts it stands, an open one counted as one more than it has been seen."""
        return (self.end - self.begin) if self.end is not None else 1

    @property
    def weight(self) -> float:
        """Height of fall times the number of acts; what is no fall counts as one metre."""
        metres = self.seen.high.value if self.seen.high is not None else 1.0
        return (100.0 if self.seen.happens == "falls" and self.seen.high is None else metres) * max(1, self.acts)


def hazards(states: Sequence[Sequence[Seen]]) -> tuple[Hazard, ...]:
    """Every hazard of an order, from where it begins to where it ends.

    states: what is hazardous after each act
    returns: the hazards, in the order in which they begin
    Source: P, common practice, no source.
    """
    begun: dict[str, tuple[Seen, int]] = {}
    last: dict[str, int] = {}
    for n, here in enumerate(states):
        for s in here:
            begun.setdefault(s.key, (s, n))
            last[s.key] = n
    # One that comes again, as with each rider, is one from the first to the last.
    ends = {key: n + 1 if n + 1 < len(states) else None for key, n in last.items()}
    made = [Hazard(first, begin, ends[key]) for key, (first, begin) in begun.items()]
    return tuple(sorted(made, key=lambda h: (h.begin, h.seen.key)))


def seen(scene: Scene, world: World, by: Held | None = None) -> list[Seen]:
    """Every hazard of one state.

    scene: the descent; world: the state; by: what holds everybody in it, where that was looked up
    returns: the hazards
    Source: P, common practice, no source.
    """
    made: list[Seen] = []
    by = held(scene, world) if by is None else by
    for who in world.people:
        if exposed(scene, world, who):
            made += _held(scene, world, who, by[who])
    for k, stage in enumerate(scene.stages):
        now = world.stations[k]
        if not now.done and not world.top(k):
            continue
        made += _ends(scene, world, stage, now, by)
        made += _left(scene, world, stage, now)
        made += _backup(scene, world, stage, now)
        made += _two(scene, world, stage)
        made += _groups(scene, world, stage)
        made += _stacked(scene, world, stage, now)
        made += _water(scene, world, stage, now)
    return made


def _falls(scene: Scene, world: World, who: str) -> tuple[Number | None, Sentence]:
    low, high, stage = fall(scene, world, who)
    name = {"name": scene.name(who)}
    into = " into a pool" if stage.drop.landing.kind == "pool" else ""
    if low is None or high is None:
        return None, Sentence(f"{{name}} falls{into}, nobody knows how far.", {}, name)
    if high.value - low.value < 0.1:
        return high, Sentence(f"{{name}} falls {{high}}{into}.", {"high": high}, name)
    return high, Sentence(f"{{name}} falls {{low}} to {{high}}{into}.", {"low": low, "high": high}, name)


def _told(first: str, then: Sentence, words: dict[str, str]) -> Sentence:
    return Sentence(f"{first} {then.template}", then.numbers, {**then.words, **words})


def _held(scene: Scene, world: World, who: str, found: tuple[HoldPath, ...]) -> list[Seen]:
    """What one likely fault does to somebody who is exposed. ``found``: what holds them."""
    high, falls = _falls(scene, world, who)
    body, name = world.people[who], {"name": scene.name(who)}
    k = min(body.at, len(scene.stages) - 1)

    def one(code: str, of: str, title: str, story: str, severity: Severity = "Shortfall", **words: str) -> Seen:
        every = {**name, **words}
        return Seen(code, k, who, of, severity, "falls", Sentence(title, {}, every), _told(story, falls, every), high)

    device = body.link("device")
    if not found or _on_what_runs(scene, world, who):
        return [_unheld(scene, world, who, one)]
    # Over what nobody knows to hold, what else is to be said is said as if it held.
    known, at = sure(found), device.k if device is not None else k
    critical = frozenset.intersection(*(known or found))
    unsure = sorted(p for p in critical if p.startswith(("doubt.", "bare.")))
    unsure = unsure or ([] if known else sorted(x for p in found for x in p if x.startswith("doubt.")))
    made = [_doubt(scene, world, who, at, unsure[0].split(".")[1])] if unsure else []
    return made + _fault(scene, world, who, critical, one)


def _fault(scene: Scene, world: World, who: str, critical: HoldPath, one: Callable[..., Seen]) -> list[Seen]:
    """The one likely fault that drops somebody, of the parts that every path has."""
    body = world.people[who]
    device = body.link("device")
    tied = body.link("lowering") or body.link("bight")
    alone = {x.kind for x in body.links} <= {"lowering", "bight"}
    if tied is not None and alone and not tied.tested:
        return [
            one("rehearse.untested", "", "{name} hangs on a knot that nobody has tested", "It was not tied through.")
        ]
    third, hands = body.link("third hand"), sorted(p for p in critical if p.startswith(("hand.", "watch.")))
    links = [
        ("device", device),
        ("tether", body.link("tether")),
        ("link to the other’s device", body.link("passenger")),
    ]
    blank = [what for what, link in links if link is not None and not link.tested]
    # Of what one stretch shows of one person, the one thing that mends it is said.
    if any(p.startswith(("device.", "tether.", "passenger.")) and not _tested(world, p) for p in critical):
        blank += ["third hand"] if third is not None and not third.tested else []
        title, what = "{name} hangs on a {what} that nobody has tested", " and a ".join(blank)
        return [one("rehearse.untested", "", title, "It is not as it seemed.", what=what)]
    if f"hand.{who}" in hands and third is not None and not third.tested:
        title = "{name} hangs on a third hand that nobody has tested"
        return [one("rehearse.untested", "", title, "It does not grip, and their hand lets go.")]
    if f"hand.{who}" in hands and third is not None and _stand(scene, world, who) in HOLDS_NOTHING:
        title, story = "{name}’s third hand reaches the device", "It cannot grip, and their hand lets go."
        if _stand(scene, world, who) == "too short":
            title = "The loop of {name}’s third hand is too short to wrap"
        elif _stand(scene, world, who) == "slips":
            title, story = "{name}’s third hand does not grip", "It slips, and their hand lets go."
        return [one("rehearse.hitch", "", title, story)]
    if hands:
        family, _, of = hands[0].partition(".")
        whose = f"{scene.name(of)}’s"
        if family == "watch":
            title = "Only {whose} belay from below holds {name}"
            return [one("rehearse.hand", "", title, "They look away.", whose=whose)]
        title = "Only {whose} hand holds {name}" if of != who else "Only {name}’s own hand holds them"
        return [one("rehearse.hand", "", title, "It lets go.", whose=whose)]
    if f"hitch.{who}" in critical and device is None:
        return [one("rehearse.hand", "third hand", "Only {name}’s third hand holds them", "It slips.")]
    return _unseen(scene, world, device or tied, one)


def _unseen(scene: Scene, world: World, on: Link | None, one: Callable[..., Seen]) -> list[Seen]:
    """A join or a tie-off that nobody has looked at, where there is somebody to look."""
    if on is None or len(world.people) < 2 or f"check station {on.k}" in world.said:
        return []
    now = world.stations[on.k]
    knots = [x for x in ("join", "tie-off") if x in now.done and x in scene.stages[on.k].way(now.which).knots]
    title, story = "{name} hangs on a {what} that nobody has checked", "It is not dressed, or not that knot."
    return [one("rehearse.untested", "check", title, story, what=x) for x in knots[:1]]


def _on_what_runs(scene: Scene, world: World, who: str) -> bool:
    """Whether somebody without a tether has a device on strands that nothing fixes, whatever else holds them."""
    device = world.people[who].link("device")
    if device is None or world.people[who].link("tether") is not None:
        return False
    return not fixings(world, scene.stages[device.k], world.stations[device.k], device.strands, who)


def _tested(world: World, part: str) -> bool:
    """Whether a link that is a part has held body weight."""
    family, _, of = part.partition(".")
    link = world.people[of].link(family) if of in world.people else None  # type: ignore[arg-type]
    return link is None or link.tested


def _stand(scene: Scene, world: World, who: str) -> str:
    """How somebody's third hand stands on the strands it grips."""
    link = world.people[who].link("third hand")
    grips = scene.stages[link.k].grips.get(who, ()) if link is not None else ()
    return grips[min(max(world.stations[link.k].which, 0), len(grips) - 1)].stand if grips and link is not None else ""


def _unheld(scene: Scene, world: World, who: str, one: Callable[..., Seen]) -> Seen:
    """Somebody who is exposed and held by nothing."""
    body = world.people[who]
    device = body.link("device")
    if device is None or body.spot == "station":
        where = "on the rope" if body.spot == "rope" else "at the edge" if body.edge else "at the hanging stance"
        if device is None:
            made: Seen = one(
                "rehearse.unclipped", where, "{name} is {where} with nothing clipped", "A slip:", where=where
            )
            return made
    k = device.k
    stage, now = scene.stages[k], world.stations[k]
    way = stage.way(now.which)
    fixed = fixings(world, stage, now, device.strands, who)
    if "pulled" in now.done:
        return one("rehearse.strand", "pulled", "The rope is pulled with {name} on it", "It runs through the ring.")
    if fixed:
        return one("rehearse.hand", "none", "Nothing stops {name}’s device", "No hand, no third hand, no belay.")
    loose = [x for x in way.knots if x not in now.done] + (["tie-off"] if "unlocked" in now.done else [])
    if set(way.ride) <= device.strands and loose:
        title, story = "{name} rides with the {what} undone", "Nothing else holds what runs through the ring."
        return one("rehearse.strand", "undone", title, story, what=loose[0])
    if way.bare is not None and way.bare.holds == "no" and "block carabiner" not in now.done:
        title, story = "{name} rides a block without its carabiner", "It passes the ring."
        return one("rehearse.strand", "bare", title, story)
    if set(way.ride) <= device.strands:
        return _by_plan(scene, world, who, device.k)
    named = listed([f"end {s.end.upper()} of {scene.rope(s.rope)}" for s in sorted(device.strands)])
    title_ = "{name} rides {strand}, which nothing holds"
    return one("rehearse.strand", "wrong", title_, "It runs through the ring.", strand=named)


def _doubt(scene: Scene, world: World, who: str, k: int, what: str) -> Seen:
    """Whether what is tied holds whoever rides is not known: said once for the station."""
    high, falls = _falls(scene, world, who)
    every = {"what": what}
    title = Sentence(f"Whether the {{what}} holds at station {k + 1} is not known", {}, every)
    story = _told("Nobody knows whether it fits its ring. If it passes:", falls, every)
    return Seen("rehearse.doubt", k, "", what, "Not checked", "falls", title, story, high)


def _by_plan(scene: Scene, world: World, who: str, k: int) -> Seen:
    """The plan's own rigging does not hold whoever rides it: said once for the station."""
    stage = scene.stages[k]
    way = stage.way(world.stations[k].which)
    high, falls = _falls(scene, world, who)
    first = next((what for s in way.ride if s in way.alone for what in (way.alone[s][0],)), "")
    words = {"what": first or "rope", "name": scene.name(who)}
    title = Sentence("Nothing holds those who ride here", {}, {})
    story = "The {what} does not hold the strand at the ring."
    if way.thin:
        story = "The thin rope runs through the ring: the thick one creeps and draws it up."
    told = _told(story, falls, words)
    return Seen("rehearse.strand", k, "", "plan", "Shortfall", "falls", title, told, high, stage.short)


def _ends(scene: Scene, world: World, stage: Stage, now: StationNow, by: Held) -> list[Seen]:
    """Ends that somebody above could ride off."""
    k, made = stage.index, list[Seen]()
    if now.which < 0 or "pulled" in now.done:
        return []
    way = stage.way(now.which)
    planned = {e.strand for e in way.ends if e.planned}
    for who in world.riding(k):
        link = world.people[who].link("device")
        if link is None or not by[who]:
            continue
        for s, why in open_ends(scene, world, k, link.strands):
            high, falls = _falls(scene, world, who)
            words = {"end": s.end.upper(), "rope": scene.rope(s.rope), "why": why, "name": scene.name(who)}
            title = Sentence("{name} rides a rope whose end {end} of {rope} is open {why}", {}, words)
            said = s not in planned and "seen" not in why
            story = _told("They do not stop before it.", falls, words)
            made.append(Seen("rehearse.end", k, who, s.key, "Shortfall", "falls", title, story, high, said))
    above, below = world.top(k), world.below(k)
    if above and below and not stage.water and "thrown" in now.done:
        for s in way.ride:
            if s in planned and not world.stopper(s) and not now.done & {"isolating overhand", "overhand below"}:
                who = above[0]
                high, falls = _falls(scene, world, who)
                words = {"end": s.end.upper(), "rope": scene.rope(s.rope), "name": scene.name(who)}
                title = Sentence("The knot is out of end {end} of {rope} with {name} still above", {}, words)
                story = _told(
                    "No isolating knot closes the rope. Somebody gets on it and rides past the end.", falls, words
                )
                made.append(Seen("rehearse.end", k, "", f"out {s.key}", "Shortfall", "falls", title, story, high))
    return made


LEFT = {
    "conversion": "The rope is not converted for the last person",
    "backup screw": "The backup screw is left in the ice",
    "bights' carabiner": "The carabiner is left in the bights",
    "courtesy carabiner": "The courtesy carabiner is left at the anchor",
    "isolating knot": "An isolating knot is left in the rope",
}


def _left(scene: Scene, world: World, stage: Stage, now: StationNow) -> list[Seen]:
    """What was left in, and a rope that does not come or is lost."""
    k, made = stage.index, list[Seen]()

    def one(code: str, of: str, title: Sentence, story: Sentence, happens: Happens = "cannot be pulled") -> None:
        made.append(Seen(code, k, "", of, "Shortfall", happens, title, story))

    if now.which >= 0 and not world.top(k) and (world.below(k) or world.riding(k)) and "pulled" not in now.done:
        stuck = why_stuck(scene, world, k, None)
        if stuck is not None and stuck[0] in LEFT and stuck[0] != "isolating knot":
            one("rehearse.left", stuck[0], Sentence(LEFT[stuck[0]]), stuck[1])
        if stage.over and "over" not in now.done:
            title = Sentence("The courtesy rig is left: the ring hangs back from the edge")
            one("rehearse.left", "over", title, Sentence("The rope runs over the edge as it is pulled, and may stick."))
        way = stage.way(now.which)
        if way.kind == "joined" and way.pull is not None and not world.riding(k):
            told = f"call pull {way.pull.key} {k}" in world.said or "test-pulled" in now.done
            if not told and "stuck" not in now.done:
                title = Sentence("Nobody has said which strand is pulled", {}, {})
                one(
                    "rehearse.pull",
                    "untold",
                    title,
                    Sentence("The other is pulled, and the join is drawn into the ring."),
                )
    for done in sorted(now.done):
        if done.startswith("stuck: "):
            what = done.removeprefix("stuck: ")
            stuck = why_stuck(scene, world, k, None)
            why = (
                stuck[1]
                if stuck is not None
                else Sentence("The wrong strand was pulled, and what is tied is drawn into the ring.")
            )
            if what in ("stopper", "strand", "isolating knot"):
                titles = {
                    "stopper": "A stopper is left in the strand that goes up",
                    "strand": "The wrong strand is pulled",
                }
                one("rehearse.pull", what, Sentence(titles.get(what, LEFT["isolating knot"])), why)
    top = world.top(k)
    if "pulled" in now.done and top:
        names = listed([scene.name(i) for i in top])
        title = Sentence("The rope is pulled with {names} still at the station", {}, {"names": names})
        one("rehearse.pull", "above", title, Sentence("Nobody up there has a rope to come down on."), "stranded")
    if loose(scene, world, k):
        ropes = listed([scene.rope(r) for r in stage.way(now.which).ropes])
        title = Sentence("Nothing secures {ropes} after the pull", {}, {"ropes": ropes})
        story = Sentence("Let go of, it is lost: the party stands without it.")
        one("rehearse.dropped", "", title, story, "rope lost")
    return made


def _backup(scene: Scene, world: World, stage: Stage, now: StationNow) -> list[Seen]:
    """A backup that is gone before the last, and a block that hangs off its ring."""
    k, made = stage.index, list[Seen]()
    above = [*world.top(k), *world.riding(k)]
    if now.which < 0 or "pulled" in now.done or not above:
        return []
    who = (world.riding(k) or above)[0]
    high, falls = _falls(scene, world, who)
    way = stage.way(now.which)
    gone = [w for w, planned in _backups(stage, world) if planned and w not in now.done]
    alone = [i for i in above if world.people[i].link("passenger") is None]
    if gone and len(alone) > 1 and "thrown" in now.done:
        title = Sentence("The {what} is out before the last person", {}, {"what": gone[0]})
        story = _told("What it backs up fails.", falls, {"what": gone[0]})
        made.append(Seen("rehearse.backup", k, "", gone[0], "Shortfall", "falls", title, story, high))
    riding = [i for i in world.riding(k) if world.people[i].link("device")]
    if "drawn" in now.done and riding and len(way.ride) == 1:
        name = {"name": scene.name(riding[0])}
        title = Sentence("The block hangs off its ring, and {name} is on the rope", {}, name)
        story = Sentence(
            "After the test-pull nobody pulled it back: they drop {far}, onto the ring.",
            {"far": Number(1.0, "length", "up")},
            name,
        )
        made.append(Seen("rehearse.drawn", k, "", "", "Shortfall", "falls", title, story, Number(1.0, "length", "up")))
    return made


def _two(scene: Scene, world: World, stage: Stage) -> list[Seen]:
    """Two who ride at once, each on a device of their own, where the plan does not load the station with two."""
    k = stage.index
    riding = [i for i in world.riding(k) if world.people[i].link("passenger") is None]
    if len(riding) < 2 or stage.drop.station.together != "no":
        return []
    names = listed([scene.name(i) for i in riding])
    high, falls = _falls(scene, world, riding[0])
    title = Sentence("{names} are on the rope at once", {}, {"names": names})
    story = _told("Rope and anchor are asked for one; two are on them.", falls, {"names": names})
    return [Seen("rehearse.two", k, "", "", "Shortfall", "falls", title, story, high)]


def _backups(stage: Stage, world: World) -> list[tuple[str, bool]]:
    system = stage.ways[0].system
    pinned = isinstance(system, Bights) and system.clipped and len(world.people) > 1
    return [("backup screw", stage.screw and len(world.people) > 1), ("bights' carabiner", pinned)]


def _groups(scene: Scene, world: World, stage: Stage) -> list[Seen]:
    """A group without an able person, and more people than fit."""
    k, made = stage.index, list[Seen]()
    top, below = world.top(k), world.below(k)
    here = [i for i in below if world.people[i].at in (k, k + 1)]
    split = bool(world.riding(k)) or bool(top and here)
    for some, where in ((top, "above"), (here, "below")):
        if split and some and not any(scene.able(i) for i in some):
            names = listed([scene.name(i) for i in some])
            title = Sentence("{names} stays {where} without an able person", {}, {"names": names, "where": where})
            if len(some) > 1:
                title = Sentence("{names} stay {where} without an able person", {}, {"names": names, "where": where})
            story = Sentence("Whatever goes wrong there, nobody there can put it right.")
            severity: Severity = "Caution" if unavoidable(scene.plan.party) else "Shortfall"
            made.append(Seen("rehearse.group", k, "", where, severity, "stranded", title, story))
    if stage.room is not None and len(here) > stage.room:
        words = {"n": str(len(here)), "room": str(stage.room)}
        title = Sentence("{n} people at a landing where {room} fit", {}, words)
        story = Sentence("Somebody stands where there is no room, or waits on the rope.")
        made.append(Seen("rehearse.full", k, "", "", "Shortfall", "stranded", title, story))
    return made


def _stacked(scene: Scene, world: World, stage: Stage, now: StationNow) -> list[Seen]:
    """Somebody who is pre-rigged on low-angled ground and pulled to the rock by the first rider."""
    k = stage.index
    kinds = {b.who: b.by for b in stage.backups}
    if stage.slab == "no" or "isolating clove" in now.done or not world.riding(k):
        return []
    on = [i for i in world.top(k) if world.people[i].link("device") and kinds.get(i) in STACKED]
    if not on:
        return []
    name = {"name": scene.name(on[0])}
    title = Sentence("{name} is pulled to the rock by the first rider’s weight", {}, name)
    story = Sentence(
        "The ground is low-angled: the loaded rope draws the pre-rigged device down. An isolating clove takes it."
    )
    severity: Severity = "Shortfall" if stage.slab == "yes" else "Not checked"
    return [Seen("rehearse.slab", k, "", "", severity, "stranded", title, story)]


def _water(scene: Scene, world: World, stage: Stage, now: StationNow) -> list[Seen]:
    """Moving water: a knot in a submerged end, nobody at the reserve; rope let out over textile."""
    k, made = stage.index, list[Seen]()
    riding = world.riding(k)
    if not riding or now.which < 0:
        return []
    way = stage.way(now.which)
    high, falls = _falls(scene, world, riding[0])
    words = {"name": scene.name(riding[0])}
    if stage.water:
        planned = {e.strand for e in way.ends if e.planned}
        knotted: list[StrandRef] = [s for s in way.ride if world.stopper(s)]
        if knotted:
            title = Sentence("There is a knot in an end that hangs in moving water, and {name} rides it", {}, words)
            story = Sentence("It catches, and holds {name} in the current.", {}, words)
            said = stage.short and all(s in planned for s in knotted)
            made.append(Seen("rehearse.water", k, "", "knot", "Shortfall", "stranded", title, story, said=said))
        lowered = any(world.people[i].link("lowering") for i in riding)
        if stage.on_site and way.kind == "releasable" and not now.attendant and not lowered:
            title = Sentence("Nobody is at the reserve, and {name} rides over moving water", {}, words)
            story = Sentence("The length is set on a signal: the rope ends in the current or short of it.")
            made.append(Seen("rehearse.water", k, "", "reserve", "Shortfall", "stranded", title, story))
    if stage.textile and any(world.people[i].link("lowering") for i in riding):
        title = Sentence("{name} is lowered on rope that runs over textile", {}, words)
        story = _told("The moving rope melts through it.", falls, words)
        made.append(Seen("rehearse.textile", k, "", "", "Shortfall", "falls", title, story, high))
    return made
