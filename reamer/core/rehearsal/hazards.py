"""Hazards: stretches of acts in which one likely fault leads to a fall, a lost rope, or a rope that does not come."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from reamer.core.acts.holding import PULLED, Held, HoldPath, fixings, held, sure
from reamer.core.acts.rigging import FOR_THE_ABLE, MOVED, ON_PEOPLE, why_stuck
from reamer.core.acts.stage import Scene, Stage
from reamer.core.acts.world import BELAYED, Link, StationNow, StrandRef, World
from reamer.core.answer.codes import Severity
from reamer.core.answer.say import Number, Sentence, listed
from reamer.core.model import Bights, ElasticRelease
from reamer.core.people.attachment import HOLDS_NOTHING
from reamer.core.plan.party import unavoidable
from reamer.core.reach.riding import may_let_go
from reamer.core.rehearsal.faults import Happens, checked, exposed, fall, loose, open_ends, untold
from reamer.core.rope.strands import UNDONE


@dataclass(frozen=True, slots=True)
class Seen:
    """A hazard as it stands in one state. ``of``: what tells it from others of its kind; ``said``: the plan's own
    findings say it already; ``victims``: whom it threatens in this state, where they are named as {names}; ``once``:
    one of its kind is said for the whole descent."""

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
    victims: tuple[str, ...] = ()
    once: bool = False

    @property
    def key(self) -> str:
        """What stays the same from act to act."""
        return f"{self.code}:{'' if self.once else self.k}:{self.who}:{self.of}"

    def naming(self, victims: tuple[str, ...]) -> Seen:
        """The same with everybody named whom it threatens."""
        named = {"names": listed(list(victims))}
        return replace(self, victims=victims, title=replace(self.title, words={**self.title.words, **named}))


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
            first, at = begun.setdefault(s.key, (s, n))
            if not set(s.victims) <= set(first.victims):
                # One mistake is said once, with everybody whom it threatens.
                begun[s.key] = first.naming(tuple(dict.fromkeys((*first.victims, *s.victims)))), at
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
        made += _tasks(scene, world, stage, now)
        made += _before_the_last(scene, world, stage, now)
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
    return made + (_slack(scene, world, who, known or found, one) or _fault(scene, world, who, (found, critical), one))


def _fault(
    scene: Scene, world: World, who: str, by: tuple[tuple[HoldPath, ...], HoldPath], one: Callable[..., Seen]
) -> list[Seen]:
    """The one likely fault that drops somebody. ``by``: their paths, and the parts that every path has."""
    found, critical = by
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
    return _unseen(scene, world, device or tied, found, one)


def _slack(scene: Scene, world: World, who: str, found: tuple[HoldPath, ...], one: Callable[..., Seen]) -> list[Seen]:
    """Slack in the one belay that somebody is held by: they fall through it, and onto a hand."""
    for link in world.people[who].links:
        parts = {f"hand.{link.to}", f"hitch.{link.to}", f"tied.{who}"}
        if link.kind in BELAYED and link.slack_m > 0 and all(p & parts for p in found):
            far = Number(link.slack_m, "length", "up")
            named = {"name": scene.name(who), "whose": f"{scene.name(link.to)}’s"}
            story = Sentence("They come off: {name} falls {far} through it, onto {whose} hand.", {"far": far}, named)
            made: Seen = one("rehearse.slack", "", "{name} is on a belay that is slack", "")
            return [replace(made, story=story, high=far)]
    return []


def _unseen(
    scene: Scene, world: World, on: Link | None, found: tuple[HoldPath, ...], one: Callable[..., Seen]
) -> list[Seen]:
    """A join or a tie-off that nobody has looked at, where there is somebody to look."""
    if on is None or len(world.people) < 2:
        return []
    now = world.stations[on.k]
    parts = {x for p in found for x in p}
    knots = [x for x in ("join", "tie-off", "ride line") if f"{x}.{on.k}" in parts and x in now.done]
    if not knots or f"check station {on.k}" in world.said:
        return []
    if checked(scene, world, on.k, knots[0]):
        # Nobody able but its tyer is there, and they have weighted it.
        return [_by_one(scene, world, on.k, knots[0])]
    title, story = "{name} hangs on a {what} that nobody has checked", "It is not dressed, or not that knot."
    return [one("rehearse.untested", "check", title, story, what=knots[0])]


def _by_one(scene: Scene, world: World, k: int, what: str) -> Seen:
    """A knot that nobody able but its tyer could look at: said once for the whole descent."""
    maker = dict(world.stations[k].maker).get(what, "")
    named = {"what": what, "name": scene.name(maker)}
    title = Sentence("The {what} is checked by nobody else", {}, named)
    story = Sentence("Nobody able is there besides {name}, who ties it: they weight it with the tether in.", {}, named)
    return Seen("rehearse.check", k, "", "", "Caution", "falls", title, story, once=True)


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
    if now.done & PULLED:
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
    above, below = world.top(k), world.below(k)
    out: list[StrandRef] = []
    if below and not stage.water and "thrown" in now.done and not now.done & CLOSED:
        out = [s for s in way.ride if s in planned and not world.stopper(s)]
    if out and (above or world.riding(k)):
        # A knot that was in and is out too early is one mistake, whoever comes past its end.
        who = [*world.riding(k), *above][0]
        high, falls = _falls(scene, world, who)
        still = tuple(scene.name(i) for i in [*world.riding(k), *above])
        words = {"ends": listed([_end_words(scene, s) for s in out]), "what": "knots are" if out[1:] else "knot is"}
        title = Sentence("The {what} out of {ends} with {names} still to come down", {}, words)
        told = "No isolating knot closes the rope. Somebody gets on it and rides past the end."
        story = _told(told, falls, {})
        made.append(
            Seen("rehearse.end", k, "", "out", "Shortfall", "falls", title, story, high, victims=still).naming(still)
        )
    for who in world.riding(k):
        link = world.people[who].link("device")
        if link is None or not by[who]:
            continue
        ends = [(s, why) for s, why in open_ends(scene, world, k, link.strands) if s not in out]
        for why in dict.fromkeys(why for _, why in ends):
            some = [s for s, w in ends if w == why]
            high, falls = _falls(scene, world, who)
            words = {
                "ends": listed([_end_words(scene, s) for s in some]),
                "why": why,
                "are": "are" if some[1:] else "is",
            }
            title = Sentence("{names} rides a rope of which {ends} {are} open {why}", {}, words)
            said = not any(s in planned for s in some) and "seen" not in why and "nobody" not in why
            story = _told("They do not stop before it.", falls, {})
            name = (scene.name(who),)
            one = Seen(
                "rehearse.end", k, "", "+".join(s.key for s in some), "Shortfall", "falls", title, story, high, said
            )
            made.append(replace(one, victims=name).naming(name))
    return made


CLOSED = {"isolating overhand", "overhand below"}


def _end_words(scene: Scene, s: StrandRef) -> str:
    return f"end {s.end.upper()} of {scene.rope(s.rope)}"


LEFT = {
    "conversion": "The rope is not converted for the last person",
    "backup screw": "The backup screw is left in the ice",
    "bights' carabiner": "The carabiner is left in the bights",
    "courtesy carabiner": "The courtesy carabiner is left at the anchor",
    "isolating knot": "An isolating knot is left in the rope",
    "knot below": "An isolating knot is left in the rope",
    "ride line": "The ride line is left tied off",
}


# What is said as left in as soon as the last person goes.
HELD_BACK = tuple(what for what in LEFT if what not in ("isolating knot", "knot below"))


def _left(scene: Scene, world: World, stage: Stage, now: StationNow) -> list[Seen]:
    """What was left in, and a rope that does not come or is lost."""
    k, made = stage.index, list[Seen]()

    def one(code: str, of: str, title: Sentence, story: Sentence, happens: Happens = "cannot be pulled") -> None:
        made.append(Seen(code, k, "", of, "Shortfall", happens, title, story))

    if now.which >= 0 and not world.top(k) and (world.below(k) or world.riding(k)) and "pulled" not in now.done:
        stuck = why_stuck(scene, world, k, None)
        if stuck is not None and stuck[0] in HELD_BACK:
            one("rehearse.left", stuck[0], Sentence(LEFT[stuck[0]]), stuck[1])
        elif "backup screw" in now.done:
            one("rehearse.left", "backup screw", Sentence(LEFT["backup screw"]), Sentence("Nobody comes back for it."))
        if stage.over and "over" not in now.done:
            title = Sentence("The courtesy rig is left: the ring hangs back from the edge")
            one("rehearse.left", "over", title, Sentence("The rope runs over the edge as it is pulled, and may stick."))
        for dev in stage.drop.station.deviations:
            if f"deviation {dev.id}" in now.done and not dev.left_in and not world.riding(k):
                title = Sentence("The deviation {name} is left in", {}, {"name": dev.name})
                one(
                    "rehearse.left", f"deviation {dev.id}", title, Sentence("The rope runs through it as it is pulled.")
                )
        if "line below" in now.done and not world.riding(k):
            title = Sentence("The second rope is left at the station")
            one("rehearse.left", "line", title, Sentence("Its end is below, and nobody has pulled it up."))
        if "traverse line" in now.done:
            title = Sentence("The traverse line is left behind")
            one("rehearse.left", "traverse line", title, Sentence("Its rope hangs across where nobody can reach it."))
    return made + _pulled(scene, world, stage, now)


def _pulled(scene: Scene, world: World, stage: Stage, now: StationNow) -> list[Seen]:
    """A rope that does not come, is pulled too early, can be let go of, or comes down on people."""
    k, made = stage.index, list[Seen]()

    def one(code: str, of: str, title: Sentence, story: Sentence, happens: Happens = "cannot be pulled") -> None:
        made.append(Seen(code, k, "", of, "Shortfall", happens, title, story))

    other = untold(scene, world, k)
    if other is not None:
        stuck = why_stuck(scene, world, k, other)
        why = stuck[1] if stuck is not None else Sentence("The other is pulled, and it sticks.")
        one("rehearse.pull", "untold", Sentence("Nobody has said which strand is pulled"), why)
    for done in sorted(now.done):
        if done.startswith("stuck: "):
            what = done.removeprefix("stuck: ")
            stuck = why_stuck(scene, world, k, None)
            why = (
                stuck[1]
                if stuck is not None
                else Sentence("The wrong strand was pulled, and what is tied is drawn into the ring.")
            )
            if what in ("stopper", "strand", "isolating knot", "knot below"):
                titles = {
                    "stopper": "A stopper is left in the strand that goes up",
                    "strand": "The wrong strand is pulled",
                }
                one("rehearse.pull", what, Sentence(titles.get(what, LEFT["isolating knot"])), why)
    top = world.top(k)
    if now.done & PULLED and top:
        names = listed([scene.name(i) for i in top])
        title = Sentence("The rope is pulled with {names} still at the station", {}, {"names": names})
        one("rehearse.pull", "above", title, Sentence("Nobody up there has a rope to come down on."), "stranded")
    if loose(scene, world, k):
        ropes = listed([scene.rope(r) for r in stage.way(now.which).ropes])
        title = Sentence("Nothing secures {ropes} after the pull", {}, {"ropes": ropes})
        if stage.climbed and world.top(k):
            title = Sentence("Nobody is tied in to {ropes}, and nothing secures it", {}, {"ropes": ropes})
        story = Sentence("Let go of, it is lost: the party stands without it.")
        one("rehearse.dropped", "", title, story, "rope lost")
    if ON_PEOPLE in now.done:
        names = listed([scene.name(i) for i in world.foot(k, stage.walk)])
        title = Sentence("Rope comes down on {names}", {}, {"names": names})
        one("rehearse.thrown", "", title, Sentence("Nobody below has answered that they stand clear."), "held")
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
        what = {"screw clip": "backup screw"}.get(gone[0], gone[0])
        title = Sentence("The {what} is out before the last person", {}, {"what": what})
        story = _told("What it backs up fails.", falls, {"what": what})
        made.append(Seen("rehearse.backup", k, "", gone[0], "Shortfall", "falls", title, story, high))
    made += _screw(stage, now, len(alone)) + _released(scene, stage, now)
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
    return [("screw clip", stage.screw and len(world.people) > 1), ("bights' carabiner", pinned)]


def _released(scene: Scene, stage: Stage, now: StationNow) -> list[Seen]:
    """An elastic release that is unloaded more often than the plan has asked it for, and may have let go.

    Source: J, as the plan has it; all test weightings count but one."""
    system, riders = stage.way(now.which).system, len(stage.backups)
    if not isinstance(system, ElasticRelease) or now.unloaded - 1 <= 2 * riders - 1 or "pulled" in now.done:
        return []
    times = now.unloaded - 1
    device = next((d for d in scene.plan.shed.devices if d.id == system.device), None)
    may = may_let_go(device.lets_go_after, times) if device is not None else "unknown"
    if may == "no":
        return []
    known = device.lets_go_after.known if device is not None else None
    words = {"n": str(times), "after": "nobody knows how many" if known is None else f"{known:.0f}"}
    title = Sentence("The elastic release has been unloaded {n} times with somebody still to ride it", {}, words)
    story = Sentence("It lets go after {after} unloadings.", {}, words)
    severity: Severity = "Not checked" if may == "unknown" else "Shortfall"
    return [Seen("rehearse.release", stage.index, "", "", severity, "falls", title, story)]


def _screw(stage: Stage, now: StationNow, above: int) -> list[Seen]:
    """A backup screw that takes the load, so that nothing is tried, or that the rope would first fall onto."""
    made = []
    for what, title, story in (
        (
            "loaded",
            "The backup screw takes the load",
            "The thread is tried by nobody before the last person hangs on it.",
        ),
        ("slack", "The backup screw is clipped with slack", "If the thread fails, whoever rides drops onto the screw."),
    ):
        if f"backup screw, {what}" in now.done and above > 0:
            told = Sentence(title), Sentence(story)
            made.append(Seen("rehearse.backup", stage.index, "", what, "Shortfall", "falls", *told))
    return made


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
        title = Sentence("{n} people at a landing where {room} can stand", {}, words)
        story = Sentence("Somebody stands where there is no room, or waits on the rope.")
        made.append(Seen("rehearse.full", k, "", "", "Shortfall", "stranded", title, story))
    return made


def _tasks(scene: Scene, world: World, stage: Stage, now: StationNow) -> list[Seen]:
    """What only somebody able ties, or watches as fireman, done by a novice whom nobody able watched."""
    k, made = stage.index, list[Seen]()
    maker = dict(now.maker)
    severity: Severity = "Caution" if unavoidable(scene.plan.party) else "Shortfall"

    def one(what: str, title: str, name: str) -> None:
        told = Sentence(title, {}, {"name": scene.name(name), "what": what})
        story = Sentence("Nobody able ties it, or stands by.", {}, {})
        if what == "watch":
            story = Sentence("They have not learnt to hold a rider from below.")
        made.append(Seen("rehearse.novice", k, "", what, severity, "falls", told, story))

    for what in FOR_THE_ABLE:
        if f"unwatched {what}" in now.done and what in now.done:
            one(what, "{name} has tied the {what}, and nobody able was there", maker.get(what, ""))
    for by, of, _ in now.fireman:
        rides = world.people[of].link("device")
        if not scene.able(by) and rides is not None and world.people[of].link("third hand") is None:
            able = [i for i in world.foot(k, stage.walk) if scene.able(i)]
            if not able:
                one("watch", "{name} gives the belay from below, and nobody able is there", by)
    return made


def _before_the_last(scene: Scene, world: World, stage: Stage, now: StationNow) -> list[Seen]:
    """The last person on the way down a rope that nobody has tried to pull, or that they alone have turned."""
    k, made = stage.index, list[Seen]()
    way, riding = stage.way(now.which), world.riding(k)
    if not riding or world.top(k) or "pulled" in now.done or now.which < 0:
        return []
    name = {"name": scene.name(riding[0])}
    untried = way.pull is not None and way.kind not in UNDONE and "test-pulled" not in now.done
    turned = len(stage.ways) > 1 and now.which > 0 and stage.ways[0].kind != way.kind
    looked = f"check station {k}" in world.said
    stuck = why_stuck(scene, world, k, None)
    # What is left in holds the rope, and is said as that.
    if untried and world.foot(k, stage.walk) and (stuck is None or stuck[0] not in HELD_BACK):
        title = Sentence("{name} leaves, and nobody has tried whether the rope moves", {}, name)
        story = Sentence("What it catches on cannot be put right from below.", {}, {})
        if now.met:
            title = Sentence("{name} leaves, and the test-pull did not move the rope", {}, name)
        severity: Severity = "Shortfall" if now.met or (turned and not looked) else "Caution"
        made.append(Seen("rehearse.untried", k, "", "", severity, "cannot be pulled", title, story))
    knots = [x for x in way.knots if x not in now.tested]
    if turned and not looked and knots:
        high, falls = _falls(scene, world, riding[0])
        title = Sentence(
            "{name} has turned the station alone, and rides a {what} that nobody has weighted",
            {},
            {**name, "what": knots[0]},
        )
        story = _told("It was not weighted with the tether in.", falls, {})
        made.append(Seen("rehearse.untested", k, "", "turned", "Shortfall", "falls", title, story, high))
    moved = now.done & set(MOVED)
    if moved and len(way.ride) == 2:
        title = Sentence("The rope hangs a metre over since the test-pull, and {name} rides it", {}, name)
        story = Sentence("One end hangs a metre higher than was seen.", {}, {})
        made.append(Seen("rehearse.drawn", k, "", "shifted", "Caution", "falls", title, story))
    return made


def _stacked(scene: Scene, world: World, stage: Stage, now: StationNow) -> list[Seen]:
    """Somebody who is pre-rigged on low-angled ground and pulled to the rock by the first rider."""
    k = stage.index
    pulls = [x for i in world.riding(k) if (x := world.people[i].link("device")) and not world.people[i].resting]
    if stage.slab == "no" or "isolating clove" in now.done or not pulls:
        return []
    # Whoever has a device on a strand that is weighted below it, whatever backs them up.
    devices = {i: x for i in world.top(k) if (x := world.people[i].link("device"))}
    on = [i for i, x in devices.items() if any(x.strands & p.strands for p in pulls)]
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
        if way.kind == "releasable" and not now.attendant and not lowered:
            title = Sentence("Nobody is at the reserve, and {name} rides over moving water", {}, words)
            story = Sentence("Whoever is held in the current is let down by nobody.")
            if stage.on_site:
                story = Sentence("The length is set on a signal: the rope ends in the current or short of it.")
            # For the last person nobody can be: said, once.
            last = not world.top(k)
            severity: Severity = "Note" if last else "Shortfall"
            of = "alone" if last else "reserve"
            made.append(Seen("rehearse.water", k, "", of, severity, "stranded", title, story, once=last))
    if stage.textile and any(world.people[i].link("lowering") for i in riding):
        title = Sentence("{name} is lowered on rope that runs over textile", {}, words)
        story = _told("The moving rope melts through it.", falls, words)
        made.append(Seen("rehearse.textile", k, "", "", "Shortfall", "falls", title, story, high))
    return made
