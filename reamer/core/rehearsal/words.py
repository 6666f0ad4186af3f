"""Acts in the words in which they are said aloud, and what holds whom in one sentence."""

from __future__ import annotations

from collections.abc import Sequence

from reamer.core.answer.say import Sentence, listed
from reamer.core.model import ActName
from reamer.core.rehearsal.acts import Act
from reamer.core.rehearsal.faults import exposed
from reamer.core.rehearsal.holding import HoldPath, independent
from reamer.core.rehearsal.stage import Scene
from reamer.core.rehearsal.world import World, strand

SAID: dict[ActName, str] = {
    "go to the edge": "{name} goes to the edge.",
    "come back from the edge": "{name} comes back from the edge.",
    "clip tether": "{name} clips the tether to {what}.",
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
    "call": "{name} calls “{what}”.",
    "throw the rope": "{name} lets the rope down, ends first.",
    "see the ends down": "{name} sees the ends down.",
    "check": "{name} checks {what} from rock to harness.",
    "look up": "{name} looks up: do the strands cross?",
    "load device": "{name} puts the device on {what}.",
    "take off device": "{name} takes the device off the rope.",
    "hand on the brake": "{name} takes the brake strand in hand.",
    "hand off the brake": "{name} lets go of the brake strand.",
    "tie third hand": "{name} ties the third hand below the device.",
    "take off third hand": "{name} takes the third hand off.",
    "add a wrap": "{name} adds a wrap to the third hand.",
    "test": "{name} weights it all with the tether still in, and looks at every link.",
    "take fireman's belay": "{name} takes the strands in hand below and watches {what}.",
    "leave fireman's belay": "{name} lets go of the strands: the belay from below ends.",
    "take top belay": "{name} takes {what} on belay on the second rope.",
    "leave top belay": "{name} takes {what} off belay.",
    "tie in": "{name} ties in to the rope’s end.",
    "untie from the rope": "{name} unties from the rope.",
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
    "convert": "{name} converts the station for the last person.",
    "test-pull": "{name} test-pulls from below: it moves.",
    "pull back": "{name} pulls it back until it sits at the ring.",
    "descend": "{name} goes over the edge and rides down.",
    "be lowered": "{name} is lowered.",
    "arrive": "{name} arrives.",
    "walk on": "Everybody goes on to the next station.",
    "pull up the end": "{name} pulls up {what}.",
    "secure the rope": "{name} secures the rope: {what}.",
    "let go of the rope": "{name} lets go of the rope.",
    "hold clear": "Everybody stands clear of the fall line.",
    "pull": "{name} pulls {what}.",
    "stack": "{name} stacks the rope.",
}
# What must be true before an act, as it is asked aloud (common practice, no source).
NEEDS: dict[ActName, str] = {
    "go to the edge": "A tether is in, loaded and looked at.",
    "unclip tether": "Device and backup have held body weight with the tether still in; it is slack.",
    "thread": "Nobody is on this rope, and no stopper is in the end that goes through.",
    "untie": "Nobody above still needs it.",
    "take out": "The last person has tested the rest without it.",
    "throw the rope": "Stoppers are in, and nobody is below.",
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
}
FINAL: frozenset[ActName] = frozenset({"descend", "be lowered", "arrive", "walk on", "pull"})


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


def thing(scene: Scene, what: str, do: str) -> str:
    """What an act names, in words: strands, a knot, a person.

    scene: the descent; what: as the act has it; do: the act
    returns: the words
    Source: none, text only.
    """
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
        "": "the rope down" if do == "pull" else "it",
        "master": "the master point",
        "backup": "the backup",
        "station": "the station",
        "overhand below": "an isolating overhand below the station",
        "isolating overhand": "the isolating overhand",
        "isolating clove": "the isolating clove",
        "join": "the join, dressed and set",
        "block": "the block at the ring",
        "tie-off": "the tie-off, the reserve in its bag",
        "bights": "the bights",
        "device knot": "the rope to the elastic-release device",
        "belayer's hitch": "a hitch on the brake strand",
        "backup screw": "the backup screw" + (", clipped to the rope without load" if do == "put in" else ""),
    }
    if what in known:
        return known[what]
    return what if do in ("call", "secure the rope") else f"the {what}"


def said(scene: Scene, act: Act) -> Sentence:
    """An act in words.

    scene: the descent; act: the act
    returns: the guide's own words where there are some
    Source: none, text only.
    """
    if act.own:
        return Sentence("{own}", {}, {"own": act.own})
    name = scene.name(act.who) if act.who else "Everybody"
    return Sentence(SAID[act.do], {}, {"name": name, "what": thing(scene, act.what, act.do)})


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
        parts = {x.partition(".")[0]: x.partition(".")[2] for x in p}

        def whose(of: str, own: str) -> str:
            return own if of == who else f"{scene.name(of)}’s {own.removeprefix('the ').removeprefix('their own ')}"

        if "tether" in parts:
            link, stop = whose(parts["tether"], "the tether"), "to the backup screw" if "screw" in parts else ""
        elif "device" in parts:
            link = whose(parts["device"], "the device")
            stop = next((f"{whose(parts[f], own)}" for f, own in STOPS.items() if f in parts), "a knot below it")
        elif "line" in parts:
            link, stop = (
                "the top line",
                whose(parts.get("hand", ""), "their own hand") if "hand" in parts else "tied off",
            )
        elif "hitch" in parts and parts["hitch"] == who:
            link, stop = "the third hand", ""
        else:
            link = "the lowering rope"
            stop = f"{scene.name(parts['hand'])}’s hand" if "hand" in parts else "the hitch on the brake strand"
        stops.setdefault(link, [])
        if stop and stop not in stops[link]:
            stops[link].append(stop)
    return [f"{link} ({', '.join(some)})" if some else link for link, some in stops.items()]


STOPS = {"hand": "their own hand", "hitch": "the third hand", "watch": "the belay from below", "weight": "the weight"}
