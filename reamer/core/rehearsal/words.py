"""Acts in the words in which they are said aloud, and what holds whom in one sentence."""

from __future__ import annotations

from collections.abc import Sequence

from reamer.core.acts.act import Act
from reamer.core.acts.holding import HoldPath, independent
from reamer.core.acts.rigging import HALVED
from reamer.core.acts.stage import Scene, Stage
from reamer.core.acts.world import World, strand
from reamer.core.answer.say import Sentence, listed
from reamer.core.model import ActName
from reamer.core.people.backups import STACKED
from reamer.core.rehearsal.faults import exposed

SAID: dict[ActName, str] = {
    "go to the edge": "{name} goes to the edge.",
    "come back from the edge": "{name} comes back from the edge.",
    "clip tether": "{name} clips the tether to {what}.",
    "clip second tether": "{name} clips a second tether to {what}.",
    "unclip second tether": "{name} unclips the second tether.",
    "unthread": "{name} takes {what} out of the ring.",
    "run the rope through": "{name} runs it through the fingers: a kink that a knot has left jams.",
    "load the block": "{name} loads the block: it sits at the ring before anything is undone.",
    "give slack": "{name} gives slack: {what}.",
    "take tight": "{name} takes {what} tight.",
    "tie off the belay": "{name} ties off {what}’s belay, and has both hands free.",
    "undo the belay": "{name} undoes the tie-off of {what}’s belay, hand on the brake.",
    "stop at": "{name} stops at {what}.",
    "weight off": "{name} stands there, the weight off the rope.",
    "weight on": "{name} weights the rope again.",
    "pass": "{name} passes {what}.",
    "fix the traverse line": "{name} crosses on belay and fixes the traverse line.",
    "reel in the traverse line": "{name} comes across last and reels in the traverse line.",
    "lower the bag": "{name} lowers the bag.",
    "pull up the bag": "{name} pulls up the bag again.",
    "stop pulling": "{name} stops before the end comes to the ring above.",
    "pull through": "{name} pulls {through}.",
    "load tether": "{name} leans back on the tether: it is loaded and looked at.",
    "unclip tether": "{name} unclips the tether and stows it on the harness.",
    "thread": "{name} threads {what} through the ring.",
    "pull to the middle": "{name} pulls the rope through to its middle.",
    "tie": "{name} ties {what}.",
    "untie": "{name} unties {what}.",
    "put in": "{name} puts in {what}.",
    "take out": "{name} takes out {what}.",
    "set over the edge": "{name} sets the ring over the edge.",
    "set back": "{name} sets the ring back from the edge.",
    "call": "{name} calls “{what}”{waits}.",
    "throw the rope": "{name} lets the rope down, ends first.",
    "see the ends down": "{name} sees the ends down.",
    "check": "{name} checks {what}{whole}.",
    "look up": "{name} looks up: do the strands cross?",
    "load device": "{name} puts the device on {what}{above}.",
    "take off device": "{name} takes the device off the rope.",
    "hand on the brake": "{name} takes the brake strand in hand.",
    "hand off the brake": "{name} lets go of the brake strand.",
    "tie third hand": "{name} ties the third hand{wraps}, clear of where the device will sit.",
    "take off third hand": "{name} takes the third hand off.",
    "add a wrap": "{name} adds a wrap to the third hand.",
    "test": "{name} weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.",
    "take fireman's belay": "{name} takes the strands in hand below and watches {what}.",
    "leave fireman's belay": "{name} lets go of the strands: the belay from below ends.",
    "take top belay": "{name} takes {what} on belay on the second rope at the master point, brake hand on.",
    "leave top belay": "{name} takes {what} off belay.",
    "tie in": "{name} ties in to {what}.",
    "untie from the rope": "{name} unties from {what}.",
    "pass the bight through": "{name} passes a bight of the rope through the ring, still on belay.",
    "tie in to the bight": "{name} ties a figure eight in a bight and clips it to the belay loop.",
    "untie the bight": "{name} unties the bight.",
    "untie the end": "{name} unties from the rope’s end.",
    "pass the end through": "{name} passes the end through the ring.",
    "tie the end again": "{name} ties in to the end again.",
    "take lowering belay": "{name} takes {what} tight, brake hand on.",
    "leave lowering belay": "{name} lets go of the lowering rope.",
    "clip passenger": "{name} clips the longer tether into {what}’s device.",
    "unclip passenger": "{name} unclips from the other’s device.",
    "attend the reserve": "{name} stays at the tie-off, reserve in hand.",
    "leave the reserve": "{name} leaves the tie-off.",
    "unlock the tie-off": "{name} unlocks the tie-off, hand on the rope.",
    "lock the tie-off": "{name} locks the tie-off.",
    "convert": "{name} converts the station for the last person{how}.",
    "test-pull": "{name} test-pulls a metre from below.",
    "pull back": "{name} pulls it back until it sits at the ring.",
    "descend": "{name} takes the brake strand in the hand, goes over the edge and rides down.",
    "be lowered": "{name} is lowered.",
    "arrive": "{name} arrives.",
    "walk on": "Everybody goes on to the next station.",
    "pull up the end": "{name} pulls {what} up.",
    "secure the rope": "{name} secures the rope: {what}.",
    "let go of the rope": "{name} lets go of the rope.",
    "hold clear": "Everybody stands clear {where}.",
    "pull": "{name} {pulls} {what}{watched}.",
    "stack": "{name} stacks the rope{slack}.",
}
# What must be true before an act, as it is asked aloud (common practice, no source).
NEEDS: dict[ActName, str] = {
    "go to the edge": "A tether is in, loaded and looked at.",
    "unclip tether": "Device and backup have held body weight with the tether still in; it is slack.",
    "thread": "Nobody is on this rope, and no stopper is in the end that goes through.",
    "untie": "Nobody above still needs it.",
    "take out": "The last person has tested the rest without it.",
    "throw the rope": "Stoppers are in; nobody is below, or those below have answered.",
    "check": "A second person looks, from rock to harness.",
    "load device": "The tether is in, and the strands that are to be ridden are named.",
    "take off device": "A tether is in, or the ground is flat.",
    "hand off the brake": "Something else holds: a third hand that was tested, or a belay from below.",
    "test": "The tether is still in.",
    "leave fireman's belay": "The rider is down and off the rope.",
    "leave top belay": "They are down, or clipped in.",
    "descend": "Tested; tether off and stowed; the hand is on the brake.",
    "be lowered": "Tied in, the belayer’s hand is on the brake.",
    "unlock the tie-off": "The attendant’s hand is on the rope.",
    "leave the reserve": "Nobody is on the rope.",
    "convert": "Nobody is on the rope, and only the last person is left to come.",
    "test-pull": "Whoever is still above is tethered.",
    "pull": "Everybody is down; stoppers and isolating knots are out; the strand is named; somebody has looked up.",
    "let go of the rope": "Something else secures it.",
    "clip passenger": "The device is on, and it takes two.",
    "untie the end": "Another link holds: tether, or bight.",
    "unclip second tether": "Something else holds that was tested.",
    "give slack": "Another link holds: tether, or both feet on flat ground.",
    "weight off": "What one stands on holds, and the device is held.",
    "pull through": "Everybody is clear, and the rope is secured.",
    "reel in the traverse line": "Everybody is across.",
}


def system_words(scene: Scene, world: World, k: int, shut: bool | None) -> Sentence:
    """How the rope of a station stands, in two words or three.

    scene: the descent; world: the state; k: the station, from 0; shut: whether it is closed, None where none hangs
    returns: the words
    Source: none, text only.
    """
    now = world.stations[k]
    if shut is None:
        return Sentence("pulled" if "pulled" in now.done else "not down yet")
    if shut:
        return Sentence("closed")
    open_ = [s for s in scene.stages[k].way(now.which).ride if not world.stopper(s)]
    return Sentence("open at {ends}", {}, {"ends": listed([f"{s.end.upper()} of {scene.rope(s.rope)}" for s in open_])})


def changes(
    scene: Scene, before: dict[str, tuple[HoldPath, ...]], after: dict[str, tuple[HoldPath, ...]]
) -> tuple[Sentence, ...]:
    """Whom an act leaves held by more or fewer paths.

    scene: the descent; before, after: everybody's paths in both states
    returns: a sentence a person
    Source: none, text only.
    """
    made = []
    for who in after:
        if before[who] == after[who]:
            continue
        had, has = independent(before[who]), independent(after[who])
        if had != has:
            numbers = {"name": scene.name(who), "had": COUNT.get(had, str(had)), "has": COUNT.get(has, str(has))}
            made.append(Sentence("{name}: {had} before, {has} now.", {}, numbers))
    return tuple(made)


COUNT = {0: "no path", 1: "one path", 2: "two paths", 3: "three paths"}
# The act that takes an act back, "" where nothing does.
UNDO: dict[ActName, ActName | None] = {
    "go to the edge": "come back from the edge",
    "come back from the edge": "go to the edge",
    "clip tether": "unclip tether",
    "unclip tether": "clip tether",
    "tie": "untie",
    "untie": "tie",
    "put in": "take out",
    "take out": "put in",
    "set over the edge": "set back",
    "set back": "set over the edge",
    "load device": "take off device",
    "take off device": "load device",
    "hand on the brake": "hand off the brake",
    "hand off the brake": "hand on the brake",
    "tie third hand": "take off third hand",
    "take off third hand": "tie third hand",
    "take fireman's belay": "leave fireman's belay",
    "leave fireman's belay": "take fireman's belay",
    "take top belay": "leave top belay",
    "leave top belay": "take top belay",
    "tie in": "untie from the rope",
    "untie from the rope": "tie in",
    "take lowering belay": "leave lowering belay",
    "leave lowering belay": "take lowering belay",
    "clip passenger": "unclip passenger",
    "unclip passenger": "clip passenger",
    "attend the reserve": "leave the reserve",
    "leave the reserve": "attend the reserve",
    "unlock the tie-off": "lock the tie-off",
    "lock the tie-off": "unlock the tie-off",
    "test-pull": "pull back",
    "secure the rope": "let go of the rope",
    "let go of the rope": "secure the rope",
    "clip second tether": "unclip second tether",
    "unclip second tether": "clip second tether",
    "thread": "unthread",
    "unthread": "thread",
    "give slack": "take tight",
    "take tight": "give slack",
    "tie off the belay": "undo the belay",
    "undo the belay": "tie off the belay",
    "weight off": "weight on",
    "weight on": "weight off",
    "fix the traverse line": "reel in the traverse line",
    "reel in the traverse line": "fix the traverse line",
    "lower the bag": "pull up the bag",
    "pull up the bag": "lower the bag",
}
FINAL: frozenset[ActName] = frozenset({"descend", "be lowered", "arrive", "walk on", "pull", "pull through"})


def undone_by(act: Act, world: World) -> str:
    """How an act can still be taken back from the state after it.

    act: the act; world: the state after it
    returns: the act that does, “as it was done” where it is done again the other way, "" where nothing does
    Source: P, common practice, no source.
    """
    if act.do in FINAL:
        return ""
    # A rope that hangs and bears somebody is not taken apart above them.
    if act.do in ("tie", "put in", "thread", "convert") and world.riding(act.k):
        return ""
    return UNDO.get(act.do) or "as it was done"


def thing(scene: Scene, what: str, do: str, k: int = 0) -> str:
    """What an act names, in words: strands, a knot, a person.

    scene: the descent; what: as the act has it; do: the act; k: the station, from 0
    returns: the words
    Source: none, text only.
    """
    if what.startswith("deviation "):
        devs = scene.stages[k].drop.station.deviations
        name = next((d.name for d in devs if d.id == what.removeprefix("deviation ")), "")
        return f"the deviation {name}".rstrip()
    if do == "tie in" and scene.plan.party and what != "line":
        return "the rope’s end"
    if do in ("take fireman's belay", "give slack") and "," in what:
        who, _, rest = what.partition(",")
        return f"{thing(scene, who, do, k)}, {thing(scene, rest, do, k)}"
    if what.startswith("stopper "):
        return f"{'a' if do == 'tie' else 'the'} stopper in {thing(scene, what.removeprefix('stopper '), do)}"
    if what.startswith("pull ") and strand(what.removeprefix("pull ")) is not None:
        return f"pull {thing(scene, what.removeprefix('pull '), do)}"
    strands = [s for t in what.split(",") if (s := strand(t)) is not None]
    if strands:
        ropes = {s.rope for s in strands}
        if len(strands) == 2 and len(ropes) == 1:
            return f"both strands of {scene.rope(strands[0].rope)}"
        if len(strands) == 2:
            return f"both strands, {scene.rope(strands[0].rope)} and {scene.rope(strands[1].rope)}"
        return f"end {strands[0].end.upper()} of {scene.rope(strands[0].rope)}"
    if any(p.id == what for p in scene.plan.party):
        return scene.name(what)
    known = {
        "": {"pull": "the rope down", "untie from the rope": "the rope", "stop at": "a stance"}.get(do, "it"),
        "master": _master(scene, k),
        "line": "the line’s end" if do == "pull up the end" else "the top line",
        "backup": "the backup",
        "station": "the station",
        "overhand below": _overhand(scene, k + 2, do),
        "isolating overhand": _overhand(scene, k + 1, do),
        "ride line": "the ride line off at the master point, releasable" if do == "tie" else "the ride line’s tie-off",
        "screw clip": "the backup screw’s clip on the rope",
        "traverse line": "the traverse line",
        "join": "the join, dressed and set",
        "block": "the block at the ring",
        "tie-off": "the tie-off" + (", the reserve in its bag" if do == "tie" else ""),
        "isolating clove": "an isolating clove at the master point" if do == "tie" else "the isolating clove",
        "bights": "the bights",
        "bights' carabiner": "the bights’ carabiner",
        "knots": "the knots, gates and strands",
        "device knot": "the rope to the elastic-release device",
        "belayer's hitch": "a hitch on the brake strand" if do == "put in" else "the hitch on the brake strand",
        "backup screw": "the backup screw" + (", clipped to the rope without load" if do == "put in" else ""),
    }
    if what in known:
        return known[what]
    return what if do in ("call", "secure the rope") else f"the {what}"


def said(scene: Scene, act: Act, after: World | None = None) -> Sentence:
    """An act in words.

    scene: the descent; act: the act; after: the state after it, which says where it was done
    returns: the guide's own words where there are some
    Source: none, text only.
    """
    if act.own:
        return Sentence("{own}", {}, {"own": act.own})
    name = scene.name(act.who) if act.who else "Everybody"
    body = after.people.get(act.who) if after is not None else None
    at = body.at if body is not None and act.do in ("clip tether", "clip second tether") else act.k
    named = {"name": name, "what": thing(scene, act.what, act.do, at), **_told(scene, act)}
    return Sentence(SAID[act.do], {}, {key: text for key, text in named.items() if f"{{{key}}}" in SAID[act.do]})


def _master(scene: Scene, k: int) -> str:
    """Where a tether goes: clear of what the rope will run through."""
    hanging = scene.stages[k].stance == "hanging" if 0 <= k < len(scene.stages) else scene.stages[-1].below == "hanging"
    return "the master point, short, on its outer strands, clear of the ring" if hanging else "the master point"


def _overhand(scene: Scene, number: int, do: str) -> str:
    """An isolating overhand: below which station, and how low. Source: common practice, no source."""
    if do != "tie":
        return f"the isolating overhand below station {number}"
    low = "at mid-thigh" if len(scene.plan.party) == 2 else "at knee height"
    return f"an isolating overhand below station {number}, {low}"


def _told(scene: Scene, act: Act) -> dict[str, str]:
    """What a guide says with an act: how many wraps, above whose device, where to stand, who watches the other end."""
    made = dict.fromkeys(("wraps", "above", "where", "watched", "slack", "waits", "how"), "")
    made["whole"] = "" if act.what == "knots" else " from rock to harness"
    made["pulls"], made["through"] = "pulls", "the end through: it falls"
    if not 0 <= act.k < len(scene.stages):
        return made
    stage, person = scene.stages[act.k], next((p for p in scene.plan.party if p.id == act.who), None)
    if act.do == "tie third hand" and person is not None and person.hitch is not None:
        wraps = person.hitch.wraps.known
        made["wraps"] = f", {wraps:.0f} wraps" if wraps else ""
    if act.do == "load device":
        lower = _stacked_before(stage, act.who)
        made["above"] = f", above {scene.name(lower)}’s" if lower else ""
    made["where"] = "of the fall line"
    if stage.below == "hanging":
        made["where"] = "of the fall line: leaned out to one side on the tether, helmet to the wall"
    others = [b.who for b in stage.backups if b.who != act.who]
    if act.do == "pull" and others and len(stage.last.strands) > 1:
        made["watched"] = f"; {scene.name(others[-1])} watches the other strand"
    if stage.last.kind == "elastic-release device":
        made["pulls"], made["through"] = "weights and lets go in turn until the device opens:", "it down: it falls"
    if stage.ways[0].kind == "lowered" and stage.last.kind in HALVED:
        made["how"] = ": the belay off the rope, the rope at its middle"
    made["slack"] = ", with slack for whoever is still above" if act.what == "slack" else ""
    made["waits"] = " and waits" if act.what == "rope" else ""
    return made


def _stacked_before(stage: Stage, who: str) -> str:
    """Whose device is next below somebody’s who is pre-rigged, "" nobody’s."""
    upto = max((n for n, b in enumerate(stage.backups) if b.by in STACKED), default=-1)
    order = [b.who for b in stage.backups[: upto + 1]]
    return order[order.index(who) - 1] if who in order[1:] else ""


def met(world: World, k: int) -> Sentence:
    """What a test-pull has met.

    world: the state after it; k: the station, from 0
    returns: that it moves, or what holds it
    Source: none, text only.
    """
    what = world.stations[k].met
    if not what:
        return Sentence("It moves.")
    named = {"conversion": "the tie-off", "strand": "the strand"}.get(what, f"the {what}")
    return Sentence("It does not move: {what} holds it.", {}, {"what": named})


def held_words(scene: Scene, world: World, who: str, found: Sequence[HoldPath]) -> Sentence:
    """What holds somebody, in one sentence.

    scene: the descent; world: the state; who: the person; found: their paths
    returns: the sentence
    Source: none, text only.
    """
    name = {"name": scene.name(who)}
    if not found:
        return Sentence("{name} is held by nothing." if exposed(scene, world, who) else "{name} stands.", {}, name)
    n = independent(found)
    links = grouped(scene, who, found)
    by = listed(links)
    count = "one path" if n == 1 else f"{n} independent paths"
    return Sentence("{name} is held by {by}: {count}.", {}, {**name, "by": by, "count": count})


def grouped(scene: Scene, who: str, found: Sequence[HoldPath]) -> list[str]:
    """The links that hold somebody, each once, a device with everything that brakes it.

    scene: the descent; who: the person; found: their paths
    returns: in words
    Source: none, text only.
    """
    stops: dict[str, list[str]] = {}
    for p in found:
        parts = {x.partition(".")[0]: x.partition(".")[2] for x in sorted(p)}

        def whose(of: str, own: str) -> str:
            return own if of == who else f"{scene.name(of)}’s {own.removeprefix('the ').removeprefix('their own ')}"

        if "tether" in parts or "second tether" in parts:
            kind = "tether" if "tether" in parts else "second tether"
            link, stop = whose(parts[kind], f"the {kind}"), "to the backup screw" if "screw" in parts else ""
        elif "device" in parts:
            link = whose(parts["device"], "the device")
            # Hand and hitch are the rider's own; another's hand in the path is on the reserve.
            mine = {f: parts["device"] for f in ("hand", "hitch") if f"{f}.{parts['device']}" in p}
            mine |= {f: parts[f] for f in ("watch", "weight") if f in parts}
            stop = next((f"{whose(mine[f], own)}" for f, own in STOPS.items() if f in mine), "a knot below it")
        elif "line" in parts:
            link, stop = ("the top line", f"{scene.name(parts['hand'])}’s hand" if "hand" in parts else "tied off")
        elif "hitch" in parts and parts["hitch"] == who:
            link, stop = "the third hand", ""
        else:
            link = "the lowering rope"
            stop = f"{scene.name(parts['hand'])}’s hand" if "hand" in parts else "the hitch on the brake strand"
            stop = "tied off" if "tied" in parts else stop
        stops.setdefault(link, [])
        if stop and stop not in stops[link]:
            stops[link].append(stop)
    return [f"{link} ({', '.join(some)})" if some else link for link, some in stops.items()]


STOPS = {"hand": "their own hand", "hitch": "the third hand", "watch": "the belay from below", "weight": "the weight"}
