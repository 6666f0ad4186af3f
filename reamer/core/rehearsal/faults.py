"""One thing goes wrong in one state: what happens to whom."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from reamer.core.acts.holding import HoldPath, fixings, held, paths
from reamer.core.acts.rigging import why_stuck
from reamer.core.acts.stage import EndFact, RopeWay, Scene, Stage
from reamer.core.acts.world import StationNow, StrandRef, World
from reamer.core.answer.say import Number, Sentence, listed
from reamer.core.rehearsal.stage import ABOVE_WATER_M

Happens = Literal["falls", "slides to a stopper", "rope lost", "cannot be pulled", "stranded", "held"]
HAPPENS: tuple[Happens, ...] = ("falls", "slides to a stopper", "rope lost", "cannot be pulled", "stranded", "held")
LIKELY = ("hand", "watch")


@dataclass(frozen=True, slots=True)
class Outcome:
    """What one fault does to one person. ``low``, ``high``: how far they fall or slide [m], None where it is not known
    or nobody does; ``accepted``: its only victim is a part that is accepted as a single point."""

    happens: Happens
    who: str
    low: Number | None
    high: Number | None
    story: Sentence
    accepted: bool


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing that can go wrong in a state. ``key``: the part and what becomes of it; ``likely``: a hand, a look
    away, an untested link, an open end, a wrong strand, a rope let go of."""

    key: str
    title: Sentence
    likely: bool
    outcomes: tuple[Outcome, ...]

    @property
    def worst(self) -> Outcome | None:
        """The worst of what happens."""
        return min(self.outcomes, key=lambda o: (o.accepted, HAPPENS.index(o.happens)), default=None)


def exposed(scene: Scene, world: World, who: str) -> bool:
    """Whether a slip from where somebody is would be a fall.

    scene: the descent; world: the state; who: the person
    returns: on a rope and at a hanging stance always, elsewhere at the edge
    Source: P, common practice, no source.
    """
    body = world.people[who]
    if body.spot == "rope" or body.edge:
        return True
    if body.spot == "landing":
        return scene.stages[body.at].below == "hanging"
    return scene.stages[body.at].stance == "hanging"


def fall(scene: Scene, world: World, who: str) -> tuple[Number | None, Number | None, Stage]:
    """How far somebody would fall from where they are: at a station the drop below it, on the rope as much at the most.

    scene: the descent; world: the state; who: the person
    returns: low, high [m], None where the drop's height is not known; the drop they fall down
    Source: the survey's bounds; under a hanging stance the next drop is added.
    """
    body = world.people[who]
    # Whoever has come down one drop falls down the next.
    at = body.at + (body.spot == "landing")
    k = min(at, len(scene.stages) - 1)
    low, high = 0.0, 0.0
    known = at < len(scene.stages)
    for stage in scene.stages[k:]:
        if stage.low_m is None or stage.high_m is None:
            known = False
            break
        low, high = low + stage.low_m, high + stage.high_m
        if stage.below != "hanging":
            break
    if not known:
        return None, None, scene.stages[k]
    return Number(low, "length", "down"), Number(high, "length", "up"), scene.stages[k]


def title_of(scene: Scene, part: str) -> Sentence:
    """What it means that a part does not hold.

    scene: the descent; part: as paths name it
    returns: the fault in words
    Source: none, text only.
    """
    family, _, of = part.partition(".")
    name = scene.name(of)
    said = {
        "hand": "{name}’s hand lets go",
        "watch": "{name} is not watching",
        "hitch": "{name}’s third hand slips",
        "tether": "{name}’s tether fails or was not clipped",
        "second tether": "{name}’s second tether fails or was not clipped",
        "tied": "the tie-off of {name}’s belay comes undone",
        "ride line": "the tie-off of the ride line comes undone",
        "knot": "the knot of the rope that is tied on fails",
        "device": "{name}’s device comes off or was not closed",
        "passenger": "{name}’s link to the other’s device fails",
        "line": "{name}’s top line fails",
        "weight": "{name}’s weight comes off the rope",
        "screw": "the backup screw fails",
        "block": "the block passes the ring",
        "join": "the join passes the ring or slips",
        "tie-off": "the tie-off comes undone",
        "bights": "the bights come undone",
        "device knot": "the elastic-release device lets go",
        "part": "a part of the anchor that nobody has accepted fails",
        "doubt": "what nobody has checked does not hold",
    }
    if family == "rope":
        s = of.rpartition(":")
        words = {"rope": scene.rope(s[0]), "end": s[2].upper()}
        return Sentence("strand {end} of {rope} is cut at an edge", {}, words)
    if family in ("part", "point"):
        key, _, k = of.rpartition(".")
        stage = scene.stages[int(k)]
        words = {"name": stage.named.get(key, key), "n": str(stage.number)}
        plain = "{name} at station {n} fails"
        return Sentence(
            plain if family == "point" else plain + ", which nobody has accepted as a single point", {}, words
        )
    return Sentence(said.get(family, "{name} fails"), {}, {"name": name})


def loses(scene: Scene, world: World, who: str, lost: HoldPath, found: tuple[HoldPath, ...]) -> Outcome:
    """What happens to one person when parts no longer hold.

    scene: the descent; world: the state; who: the person; lost: the parts; found: the paths that hold them now
    returns: the outcome
    Source: P, common practice, no source.
    """
    left = [p for p in found if not p & lost]
    name = scene.name(who)
    accepted = bool(lost) and all(is_accepted(scene, world, part) for part in lost)
    if left:
        by = listed(list(dict.fromkeys(what_holds(scene, p) for p in left[:3])))
        return Outcome(
            "held", who, None, None, Sentence("{name} is held by {by}.", {}, {"name": name, "by": by}), accepted
        )
    if not exposed(scene, world, who):
        return Outcome("held", who, None, None, Sentence("{name} stands.", {}, {"name": name}), accepted)
    low, high, stage = fall(scene, world, who)
    slide = slides(scene, world, who, lost)
    if slide is not None:
        return _slides(scene, who, slide, stage, accepted)
    into = ", into a pool" if stage.drop.landing.kind == "pool" else ""
    if high is None or low is None:
        story = Sentence("{name} falls; how far is not known{into}.", {}, {"name": name, "into": into})
    else:
        numbers = {"low": low, "high": high}
        story = Sentence("{name} falls {low} to {high}{into}.", numbers, {"name": name, "into": into})
        if high.value - low.value < 0.05:
            story = Sentence("{name} falls {high}{into}.", numbers, {"name": name, "into": into})
    return Outcome("falls", who, low, high, story, accepted)


def _slides(scene: Scene, who: str, end: EndFact, stage: Stage, accepted: bool) -> Outcome:
    """Somebody whose rope runs through their device as far as the stopper in an end."""
    named = {"name": scene.name(who), "end": end.strand.end.upper(), "rope": scene.rope(end.strand.rope)}
    reach, above = end.reach_m, end.above_m
    if reach is None or above is None:
        story = Sentence("{name} slides to the stopper in end {end} of {rope}.", {}, named)
        return Outcome("slides to a stopper", who, None, None, story, accepted)
    far = Number(max(0.0, min(reach[1], stage.high_m if stage.high_m is not None else reach[1])), "length", "up")
    high = Number(max(0.0, above), "length", "up")
    story = Sentence(
        "{name} slides to the stopper in end {end} of {rope}, {far} at the most, up to {high} above the landing.",
        {"far": far, "high": high},
        named,
    )
    return Outcome("slides to a stopper", who, Number(0.0, "length", "down"), far, story, accepted)


def slides(scene: Scene, world: World, who: str, lost: HoldPath) -> EndFact | None:
    """The knotted end that stops somebody whose rope runs through their device.

    scene: the descent; world: the state; who: the person; lost: what no longer holds
    returns: the end where the strands still hold above and a stopper above the landing is in each, or in one that is
    held by itself; None where nothing stops them
    Source: P, common practice, no source: a stopper below landing level stops nobody.
    """
    body = world.people[who]
    link = body.link("device")
    gone = ("device.", "part.", "point.", "rope.", "block", "join", "tie-off", "doubt", "knot.", "bights", "ride line")
    if link is None or any(p.startswith(gone) for p in lost):
        return None
    stage, now = scene.stages[link.k], world.stations[link.k]
    way = stage.way(now.which)
    caught = [e for e in way.ends if e.strand in link.strands and world.stopper(e.strand) and e.above == "may"]
    if caught and len(caught) == len(link.strands):
        return max(caught, key=lambda e: e.reach_m[1] if e.reach_m is not None else math.inf)
    alone = [e for e in caught if fixings(world, stage, now, frozenset({e.strand}), who)]
    return alone[0] if alone else None


def what_holds(scene: Scene, path: HoldPath) -> str:
    """The link that a path ends in, in words.

    scene: the descent; path: the parts
    returns: for example “Wren’s third hand”
    Source: none, text only.
    """
    parts = {p.partition(".")[0]: p.partition(".")[2] for p in sorted(path)}
    if "second tether" in parts:
        return f"{scene.name(parts['second tether'])}’s second tether"
    if "tether" in parts:
        return ("the backup screw, by " if "screw" in parts else "") + f"{scene.name(parts['tether'])}’s tether"
    if "passenger" in parts and "device" in parts:
        return f"{scene.name(parts['device'])}’s device"
    if "device" in parts:
        rider = parts["device"]
        stop = (
            f", braked by {scene.name(rider)}’s hand"
            if f"hand.{rider}" in path
            else f", stopped by {scene.name(rider)}’s third hand"
            if f"hitch.{rider}" in path
            else f", braked from below by {scene.name(parts['watch'])}"
            if "watch" in parts
            else f", locked by {scene.name(parts['weight'])}’s weight"
            if "weight" in parts
            else ", stopped by a knot"
        )
        return f"{scene.name(parts['device'])}’s device{stop}"
    if "tied" in parts:
        return f"{scene.name(parts['tied'])}’s belay, tied off"
    if "line" in parts:
        return f"the top line in {scene.name(parts['hand'])}’s hand" if "hand" in parts else "the top line, tied off"
    if "hitch" in parts:
        return f"{scene.name(parts['hitch'])}’s third hand"
    return f"{scene.name(parts['hand'])}’s belay" if "hand" in parts else "the rope"


def is_accepted(scene: Scene, world: World, part: str) -> bool:
    """Whether a part is accepted as a single point in a rehearsal: listed apart, never hidden.

    scene: the descent; world: the state; part: its name
    returns: true for tested devices and loaded tethers, rope, block, join and tie-off as they are tested and checked
    Source: P, common practice, no source.
    """
    family, _, of = part.partition(".")
    if family in ("device", "tether", "second tether", "passenger"):
        body = world.people.get(of)
        link = body.link(family) if body is not None else None  # type: ignore[arg-type]
        return link is not None and link.tested
    if family == "line":
        body = world.people.get(of)
        link = body.link("top line") if body is not None else None
        return link is not None and link.tested
    if family in ("point", "tied"):
        return True
    if family == "rope":
        rope = of.rpartition(":")[0]
        stages = [s for s in scene.stages if any(rope in w.ropes for w in s.ways) and not s.cut_accepted]
        at = [s for s in stages if world.ropes[rope].has(f"ring {s.index}")] if rope in world.ropes else []
        return not at
    if family == "knot":
        return all(f"check station {s.index}" in world.said for s in scene.stages if _hangs(s, world, of))
    if family in ("join", "tie-off", "ride line") and of.isdigit():
        return checked(scene, world, int(of), family)
    if family in ("block", "bights", "device knot") and of.isdigit():
        return family in world.stations[int(of)].tested
    return family == "screw"


def _hangs(stage: Stage, world: World, key: str) -> bool:
    """Whether a strand hangs at a station now."""
    now = world.stations[stage.index]
    return now.which >= 0 and "pulled" not in now.done and key in {s.key for s in stage.way(now.which).strands}


def checked(scene: Scene, world: World, k: int, what: str) -> bool:
    """Whether a knot is accepted: looked at by somebody able who has not tied it; where nobody else able was there, its
    tyer has weighted it with the tether in.

    scene: the descent; world: the state; k: the station, from 0; what: the knot
    returns: true where one of the two was done
    Source: P, common practice, no source.
    """
    return f"check station {k}" in world.said or (
        what in world.stations[k].tested and alone_able(scene, world, k, what)
    )


def alone_able(scene: Scene, world: World, k: int, what: str) -> bool:
    """Whether nobody able but its tyer is or was there to look at a knot before people went down on it.

    scene: the descent; world: the state; k: the station, from 0; what: the knot
    returns: true where the party has nobody else who could
    Source: P, common practice, no source.
    """
    maker = dict(world.stations[k].maker).get(what, "")
    by = {b.who for b in scene.stages[k].backups}
    return not any(scene.able(i) for i in by if i != maker)


def faults(scene: Scene, world: World) -> tuple[Fault, ...]:
    """Every single fault that can happen in a state, worst first.

    scene: the descent; world: the state
    returns: the faults with what happens to whom
    Source: P, common practice, no source.
    """
    by = held(scene, world)
    parts = sorted({p for found in by.values() for path in found for p in path})
    made = []
    for part in parts:
        hit = [who for who, found in by.items() if any(part in p for p in found)]
        lost = _with(part)
        outcomes = tuple(loses(scene, world, who, lost, by[who]) for who in hit if exposed(scene, world, who))
        if outcomes:
            likely = part.split(".")[0] in LIKELY or _untested(world, part)
            made.append(Fault(part, title_of(scene, part), likely, outcomes))
    made += _ends(scene, world) + _let_go(scene, world) + _faint(scene, world) + _wrong(scene, world)
    return tuple(sorted(made, key=_rank))


def _with(part: str) -> HoldPath:
    return frozenset({part})


def _rank(fault: Fault) -> tuple[bool, int, float, str]:
    worst = fault.worst
    if worst is None:
        return True, len(HAPPENS), 0.0, fault.key
    far = worst.high.value if worst.high is not None else 1e9
    down = falls(worst)
    return worst.accepted, 0 if down else HAPPENS.index(worst.happens), -far if down else 0.0, fault.key


# A longer slide counts with the falls [m]: our judgement.
LONG_SLIDE_M = 3.0


def falls(out: Outcome) -> bool:
    """Whether somebody falls, or slides so far that it counts with the falls.

    out: what happens
    returns: a slide of unknown length counts
    Source: J, our judgement.
    """
    far = out.high.value if out.high is not None else math.inf
    return out.happens == "falls" or (out.happens == "slides to a stopper" and far > LONG_SLIDE_M)


def _untested(world: World, part: str) -> bool:
    family, _, who = part.partition(".")
    if family not in ("device", "tether", "second tether", "passenger") or who not in world.people:
        return False
    link = world.people[who].link(family)  # type: ignore[arg-type]
    return link is not None and not link.tested


def open_ends(scene: Scene, world: World, k: int, strands: frozenset[StrandRef]) -> list[tuple[StrandRef, str]]:
    """Ends that somebody on these strands could ride off, and why.

    scene: the descent; world: the state; k: the station, from 0; strands: in their device
    returns: the ends
    Source: P, common practice, no source.
    """
    stage, now = scene.stages[k], world.stations[k]
    way = stage.way(now.which)
    if now.done & {"isolating overhand", "overhand below"}:
        return []
    made: list[tuple[StrandRef, str]] = []
    middle = way.kind != "doubled" or "middle" in now.done
    for e in way.ends:
        if e.strand not in strands or world.stopper(e.strand) or _held_below(world, k, e.strand):
            continue
        if stage.water:
            if why := _over_water(stage, now, e):
                made.append((e.strand, why))
        elif stage.below == "hanging":
            made.append((e.strand, "below a hanging stance"))
        elif e.above == "may" or not middle or _drawn_up(way, now, e):
            made.append((e.strand, "and may hang above the landing"))
        elif "seen" not in now.done:
            made.append((e.strand, "and nobody has seen it down"))
        elif e.above == "unknown":
            made.append((e.strand, "and whether it reaches is not known"))
    return made


def _over_water(stage: Stage, now: StationNow, e: EndFact) -> str:
    """Why an end over moving water can be ridden off, "" where it cannot.

    Source: P, common practice, no source."""
    first, way = stage.ways[0], stage.way(now.which)
    kept = getattr(way.system, "ride_m", None) == getattr(first.system, "ride_m", None)
    if stage.on_site and first.kind == "releasable" and kept:
        # Whoever is at the reserve sets it on a signal, and so it stays for the last; nothing else is set on site.
        unset = way.kind == "releasable" and not now.attendant
        return "over moving water, its length to be set with nobody at the reserve" if unset else ""
    if e.above == "may" and e.above_m is not None and e.above_m > ABOVE_WATER_M:
        return "high above moving water"
    return "over moving water, and how far above it is not known" if e.above == "unknown" else ""


def _drawn_up(way: RopeWay, now: StationNow, e: EndFact) -> bool:
    """Whether a test-pull has drawn an end up that lay on the landing by less than a metre."""
    up = "shifted" in now.done and e.strand == way.up
    return up and e.above == "no" and (e.spare_m is None or e.spare_m < 1.0)


def _held_below(world: World, k: int, s: StrandRef) -> bool:
    """Whether an end is threaded through the next station with a stopper in it."""
    rope = world.ropes.get(s.rope)
    ahead = rope is not None and k + 1 < len(world.stations) and rope.ends[s.end == "b"] == f"threaded at {k + 2}"
    return ahead and world.stopper(s)


def _ends(scene: Scene, world: World) -> list[Fault]:
    """Riding off an open end."""
    made = []
    for who, body in world.people.items():
        link = body.link("device")
        if body.spot != "rope" or link is None:
            continue
        for s, why in open_ends(scene, world, link.k, link.strands)[:1]:
            low, high, _ = fall(scene, world, who)
            words = {"name": scene.name(who), "end": s.end.upper(), "rope": scene.rope(s.rope), "why": why}
            story = Sentence("{name} rides off end {end} of {rope}, which is open {why}.", {}, words)
            title = Sentence("{name} does not stop before the end", {}, words)
            made.append(Fault(f"end.{s.key}.{who}", title, True, (Outcome("falls", who, low, high, story, False),)))
    return made


def loose(scene: Scene, world: World, k: int) -> bool:
    """Whether a rope that is through the upper ring would be lost if it were let go of.

    scene: the descent; world: the state; k: the station that it was pulled from, from 0
    returns: true from the pull until it is stacked, at a stance from which it falls, unless it is tied, clipped,
    threaded through the next ring with a knot in it, or two people hold it
    Source: P, common practice, no source.
    """
    stage, now = scene.stages[k], world.stations[k]
    if stage.climbed and "pulled" not in now.done:
        # Whoever has climbed here on the rope's end stands without it once it is let go of.
        top = [world.people[i] for i in world.top(k)]
        return bool(top) and not any(b.link("lowering") or b.link("bight") for b in top) and not now.done & SECURED
    if "pulled" not in now.done or f"stack {k}" in world.said or (stage.below == "ground" and not stage.water):
        return False
    if now.done & SECURED:
        return False
    if sum(d.startswith("secured in hand") for d in now.done) > 1:
        return False
    way = stage.way(now.which)
    for r in way.ropes:
        rope = world.ropes.get(r)
        if rope is None or k + 1 >= len(scene.stages):
            return True
        ahead = rope.has(f"ring {k + 1}")
        knotted = rope.has("stopper a") or rope.has("stopper b") or "isolating overhand" in world.stations[k + 1].done
        if ahead and knotted:
            return False
    return True


SECURED = {"secured clipped", "secured tied"}


def _let_go(scene: Scene, world: World) -> list[Fault]:
    """A rope that is let go of."""
    made = []
    for k in range(len(scene.stages)):
        if loose(scene, world, k):
            ropes = listed([scene.rope(r) for r in scene.stages[k].way(world.stations[k].which).ropes])
            story = Sentence("The party stands below drop {n} without {ropes}.", {}, {"ropes": ropes, "n": str(k + 1)})
            title = Sentence("Somebody lets go of {ropes}", {}, {"ropes": ropes})
            who = next(iter(world.below(k)), "")
            if scene.stages[k].climbed and world.top(k):
                who = world.top(k)[0]
                named = {"ropes": ropes, "name": scene.name(who)}
                story = Sentence("{name} stands at the top of the pitch without {ropes}.", {}, named)
            made.append(Fault(f"drop.{k}", title, True, (Outcome("rope lost", who, None, None, story, False),)))
    return made


def _faint(scene: Scene, world: World) -> list[Fault]:
    """A rider who faints or is stuck: held or not, and whether anybody can let them down."""
    made = []
    for who, body in world.people.items():
        if body.spot != "rope":
            continue
        found = paths(scene, world, who)
        out = loses(scene, world, who, frozenset({f"hand.{who}"}), found)
        name = scene.name(who)
        if out.happens == "held":
            helper = _lets_down(scene, world, who)
            if helper:
                story = Sentence("{name} hangs and is let down by {by}.", {}, {"name": name, "by": helper})
                out = Outcome("held", who, None, None, story, False)
            else:
                up = [scene.name(i) for i in world.top(body.at) if scene.able(i)]
                low = [scene.name(i) for i in world.below(body.at) if scene.able(i)]
                by = (
                    f"; {up[0]} can come down to them"
                    if up
                    else f"; {low[0]} can climb to them"
                    if low
                    else "; nobody can come to them"
                )
                story = Sentence("{name} hangs, and nobody can let them down{by}.", {}, {"name": name, "by": by})
                out = Outcome("stranded", who, None, None, story, False)
        made.append(Fault(f"faint.{who}", Sentence("{name} faints or is stuck", {}, {"name": name}), False, (out,)))
    return made


def _lets_down(scene: Scene, world: World, who: str) -> str:
    """Who could let a rider down as they hang, "" nobody."""
    body = world.people[who]
    now = world.stations[body.at]
    way: RopeWay = scene.stages[body.at].way(now.which)
    lowering = body.link("lowering")
    if lowering is not None and (lowering.hand or lowering.tied):
        return scene.name(lowering.to)
    line = body.link("top line")
    if line is not None and now.done & {"tie-off", "ride line"} and line.to in world.top(body.at):
        return scene.name(line.to)
    if way.kind == "releasable" and now.attendant:
        return scene.name(now.attendant)
    if body.link("third hand") is None:
        return next((scene.name(w.by) for w in now.fireman if w.of == who), "")
    return ""


def untold(scene: Scene, world: World, k: int) -> StrandRef | None:
    """The strand that could be pulled by mistake and would stick, where nobody has said or tried which one comes.

    scene: the descent; world: the state; k: the station, from 0
    returns: the strand, None where there is none, or somebody is still above
    Source: P, common practice, no source.
    """
    now = world.stations[k]
    way = scene.stages[k].way(now.which)
    if world.top(k) or world.riding(k) or not world.below(k) or way.pull is None or now.which < 0:
        return None
    told = f"call pull {way.pull.key} {k}" in world.said or "test-pulled" in now.done
    if told or now.done & {"pulled", "pulling", "stuck"} or "threaded" not in now.done:
        return None
    other = next((s for s in way.strands if s != way.pull), None)
    stuck = why_stuck(scene, world, k, other) if other is not None else None
    return other if stuck is not None and stuck[0] == "strand" else None


def _wrong(scene: Scene, world: World) -> list[Fault]:
    """The wrong strand is taken: by whoever is about to be weighted, and by whoever pulls."""
    made = []
    for k, now in enumerate(world.stations):
        if now.which < 0 or "pulled" in now.done or "threaded" not in now.done:
            continue
        way = scene.stages[k].way(now.which)
        for who in world.top(k):
            link = world.people[who].link("device")
            if link is None or link.tested or way.pull is None or len(way.ride) > 1:
                continue
            lost = frozenset({f"device.{who}"})
            out = loses(scene, world, who, lost, paths(scene, world, who))
            words = {"name": scene.name(who), "end": way.pull.end.upper(), "rope": scene.rope(way.pull.rope)}
            title = Sentence("{name} has loaded end {end} of {rope}, which nothing holds", {}, words)
            made.append(Fault(f"strand.{who}", title, True, (out,)))
        other = untold(scene, world, k)
        if other is not None:
            stuck = why_stuck(scene, world, k, other)
            if stuck is not None:
                story = stuck[1]
                out = Outcome("cannot be pulled", world.below(k)[0], None, None, story, False)
                made.append(Fault(f"pull.{k}", Sentence("The wrong strand is pulled"), True, (out,)))
    return made
