"""What a rider and a belayer find on the strand: knots to be passed, the device against the rope, tie-offs, hitches,
lowering."""

from __future__ import annotations

from typing import Literal

from reamer.core.answer.codes import Severity
from reamer.core.answer.findings import Fix, Says, once, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.model import (
    Bights,
    BlockedCord,
    BlockedSame,
    Device,
    Doubled,
    ElasticRelease,
    Figure,
    Joined,
    Known,
    Lowered,
    Releasable,
    Ring,
    Rope,
)
from reamer.core.plan.limits import limits_m
from reamer.core.plan.station import for_two
from reamer.core.reach.last import last_system
from reamer.core.reach.passed import join_findings, passed
from reamer.core.rope.strands import CONVERTED, Strand, ropes_of, tied_on
from reamer.core.section.lengths import Lengths
from reamer.core.tables import row

PRACTISED = "This is a system for those who have practised it"
ADVANCED = {
    "elastic-release device": (
        "Never unload it fully and again on the way down: every cycle lets it go a little. It is for those who have"
        " practised it with the maker's instructions at hand."
    ),
    "alternating bights": (
        "The last person hangs on the bights alone, and a mistake in their order drops them. It is for those who have"
        " practised it on the flat and under load."
    ),
}


def riding_findings(look: Look, hanging: list[Strand], ring: Ring | None, lengths: Lengths) -> Says[None]:
    """What is to be said of a system's ridden strands besides reach and strength.

    look: the station; hanging: its strands; ring: what the rope runs through; lengths: of the lines [m]
    returns: nothing
    Source: P, common practice, no source; thin strands and widths J.
    """
    system = look.system
    if system.kind == "none" or not hanging:
        return
    yield from passed(look, hanging, ring, lengths)
    yield from _devices(look, hanging)
    yield from _fit_for_it(look)
    yield from join_findings(look)
    if system.kind in ADVANCED:
        yield say("system.advanced", "Caution", "system", PRACTISED, ADVANCED[system.kind])
    if isinstance(system, ElasticRelease):
        yield from _cycles(look, system)
    if system.kind in CONVERTED and look.state.serves != "party" and not getattr(system, "from_top", False):
        yield from _convert(look, lengths)
    match system:
        case Releasable():
            yield from _jams(look, system)
        case Lowered():
            yield from _open(look, system)
        case Bights():
            yield from _bights(look, system)
        case Doubled() | Joined() | BlockedSame() | BlockedCord() | ElasticRelease():
            pass
    yield from _textile(look)
    yield from _straight(look)
    yield from _school(look)


def may_let_go(after: Figure, times: int) -> Literal["yes", "no", "unknown"]:
    """Whether an elastic release may let go under somebody.

    after: after how many unloadings it does; times: how often it is unloaded
    returns: from half of that number on; unknown where the number is
    Source: J, our judgement.
    """
    if after.kind == "unknown":
        return "unknown"
    return "yes" if 2 * times >= limits_m(after)[0] else "no"


def _cycles(look: Look, system: ElasticRelease) -> Says[None]:
    """How often an elastic release is unloaded before the last is down: at every arrival, and by every test weighting
    but one, one a rider. Source: J, half of what lets it go."""
    riders, device = len(look.plan.party) - (look.state.serves == "party"), look.device(system.device)
    if device is None or look.state.serves == "last" or riders < 2:
        return
    times, after = 2 * riders - 1, device.lets_go_after
    may = may_let_go(after, times)
    if may == "unknown":
        title = "After how many unloadings {device} lets go is not known"
        why = "{n} riders who weight it once and arrive unload it {times} times. Ask its maker, or try it."
        severity: Severity = "Not checked"
    elif may == "yes":
        title, severity = "{device} may let go under the party", "Shortfall"
        why = "It lets go after {after} unloadings; {n} riders who weight it once and arrive unload it {times} times."
    else:
        return
    yield say(
        "release.cycles",
        severity,
        "system",
        title,
        why,
        device=device.name,
        n=Number(riders, "count"),
        times=Number(times, "count"),
        after=Number(after.value, "count") if after.kind == "known" else None,
    )


def _jams(look: Look, system: Releasable) -> Says[None]:
    """A tie-off that cannot be let out after an extreme load."""
    if system.tie_off == "figure-eight device mule":
        title = "A mule-tied figure-eight device may not let go after an extreme load"
        edit = look.system_as(Releasable).at(lambda s: s.tie_off).set("munter-mule-overhand")
        fix = Fix(Sentence("Tie a munter-mule-overhand"), (edit,))
        why = "A munter-mule-overhand on a carabiner still does."
        yield say("release.jams", "Note", "system", title, why, fix=fix)


def _open(look: Look, system: Lowered) -> Says[None]:
    """The belayer's end of a lowering rope."""
    if not system.far_end_closed:
        edit = look.system_as(Lowered).at(lambda s: s.far_end_closed).set(True)
        fix = Fix(Sentence("Close the belayer's end"), (edit,))
        why = "Too short a rope runs out through the belay and the person falls. Knot it or tie it in."
        yield say("lower.open", "Shortfall", "system", "The belayer's end of the rope is open", why, fix=fix)


def _fit_for_it(look: Look) -> Says[None]:
    """Whether each thing that a system names is of a kind that can do that job. Source: P, common practice, no
    source."""
    system, states, party = look.system, look.station.states, look.plan.party
    device = look.device(system.device) if isinstance(system, ElasticRelease) else None
    if device is not None and device.use != "elastic release":
        title = "{device} is no elastic-release device"
        why = "A device to ride on does not let go from below. Choose one that is made for it."
        yield say("device.kind", "Shortfall", "system", title, why, device=device.name)
    elastic = {d.id: d.name for d in look.plan.shed.devices if d.use == "elastic release"}
    for used in sorted({p.device for p in party if p.device is not None and p.device in elastic}):
        title, why = "{who} would ride on {device}", "It lets go when it is unloaded: it is not made to be ridden on."
        who = next(p.name for p in party if p.device == used)
        yield once(say("device.kind", "Shortfall", f"device.{used}", title, why, device=elastic[used], who=who))
    if len(party) == 1 and system.kind in CONVERTED and look.state.serves != "last":
        title = "This wants somebody besides the rider, and the party is one"
        why = "Nobody is there to let the rope out. Choose a way that one person can ride and pull."
        yield say("system.alone", "Shortfall", "system", title, why)
    traverse, ropes = look.station.traverse, look.ctx.ropes
    if traverse is not None and traverse.rope in ropes_of(system):
        name = ropes[traverse.rope].name if traverse.rope in ropes else "A rope"
        title, why = "{rope} is the traverse line and would be ridden", "It cannot be at two places at once."
        yield say("system.twice", "Shortfall", "system", title, why, rope=name)
    if look.which == 0 and len(states) == 2 and states[1].system.kind != "none":
        after = ropes_of(states[1].system)
        for rope in dict.fromkeys(r for r in ropes_of(system) if r in ropes and r not in after):
            title = "Nothing in the last person's rig brings {rope} down"
            why = "They send it down before they go, or it stays up there."
            yield say("release.left", "Caution", f"rope.{rope}", title, why, rope=ropes[rope].name)


def _devices(look: Look, hanging: list[Strand]) -> Says[None]:
    """Each device in use against the ropes it rides here. What is unknown of a device is said once for the whole
    plan."""
    ridden = [s for s in hanging if s.role in ("ride", "ride and pull") and s.load_share]
    if not ridden:
        return
    more, count = tied_on(look.system), len(ridden)
    tied = [look.ctx.ropes[more.rope]] if more is not None and more.rope in look.ctx.ropes else []
    used = {p.device for p in look.plan.party if p.device}
    for device in look.plan.shed.devices:
        if device.id not in used:
            continue
        for rope in {r.id: r for r in (*(s.rope for s in ridden), *tied)}.values():
            yield from _range(look, device, rope)
        if (device.strands, count) in (("one", 2), ("two", 1)):
            strands = "one strand" if device.strands == "one" else "two strands"
            n = "two strands are" if count == 2 else "one strand is"
            title, key = "{device} is stated for {strands} only", f"device.{device.id}"
            yield say(
                "device.range", "Shortfall", key, title, "Here {n} ridden.", device=device.name, strands=strands, n=n
            )
    d, thin = ridden[0].rope.diameter_mm.known, row("ropes", "single.thin")
    if count == 1 and d is not None and d < thin.low:
        title = "A single strand of {d} grips little in a device"
        why, least = "Under {thin} add friction: another carabiner, or a wrap.", Number(thin.low, "diameter")
        yield say("device.thin", "Caution", "device", title, why, d=Number(d, "diameter"), thin=least)


def _range(look: Look, device: Device, rope: Rope) -> Says[None]:
    """Whether a device is stated for a rope as thick as this."""
    key, d = f"device.{device.id}", rope.diameter_mm.known
    if d is None:
        title, why = "Whether {device} is stated for {rope} is not known", "The diameter of {rope} is unknown."
        yield say("device.range", "Not checked", key, title, why, device=device.name, rope=rope.name)
        return
    for limit, off, what in ((device.thinnest_mm, -1, "thinner"), (device.thickest_mm, 1, "thicker")):
        if limit.kind == "known" and (d - limit.value) * off > 1e-9:
            yield say(
                "device.range",
                "Shortfall",
                key,
                f"{{rope}} is {what} than {{device}} is stated for",
                "It is {d}; the maker's limit is {limit}.",
                d=Number(d, "diameter"),
                limit=Number(limit.value, "diameter"),
                device=device.name,
                rope=rope.name,
            )


def _convert(look: Look, lengths: Lengths) -> Says[None]:
    """A system that nobody can pull needs a second state for the last person."""
    last, fix = last_system(look, lengths) if lengths and look.fixes else None, None
    if last is not None and look.state.serves == "all":
        states = for_two(look.state, look.system, last)
        label = Sentence("Convert it for the last person")
        fix = Fix(label, (look.states_place.set(states),), allows="Not checked")
    why = "It serves all but the last; for the last person it is converted to a block, a doubled rope or a pull cord."
    if fix is None and look.state.serves != "last":
        why += " With this rope none of them reaches."
    title = "Nobody can pull this rope once the last is down"
    yield say("release.convert", "Shortfall", "system", title, why, fix=fix)


def _bights(look: Look, system: Bights) -> Says[None]:
    """How a chain of alternating bights is tied. Source: P, common practice, no source."""
    place = look.system_as(Bights)
    least, most, last = (row("knots", f"bights.{k}") for k in ("least", "most", "last"))
    if system.bights.kind == "unknown" or system.last_m.kind == "unknown":
        why = "How many there are and how long the last one is decides whether they hold."
        yield say("bights.tied", "Not checked", "system", "How the bights are tied is not known", why)
    elif not least.low <= system.bights.value <= most.high:
        yield say(
            "bights.tied",
            "Shortfall",
            "system",
            "{n} bights are not {least} to {most}",
            "Fewer may slip, more may not come undone.",
            n=Number(system.bights.value, "count"),
            least=Number(least.low, "count"),
            most=Number(most.high, "count"),
        )
    elif limits_m(system.last_m)[0] < last.low - 1e-9:
        length = Number(last.low, "fine length", "up")
        edit = place.at(lambda s: s.last_m).set(Known(kind="known", value=last.low, method="given"))
        fix = Fix(Sentence("Leave {last}", {"last": length}), (edit,))
        title, why = "The last bight is shorter than {last}", "A short one may slip out by itself."
        yield say("bights.tied", "Shortfall", "system", title, why, last=length, fix=fix)
    if system.last_on == "ride":
        title = "The last bight is made of the ride strand"
        why = "The rider's weight pulls it out. It belongs to the pull strand."
        fix = Fix(Sentence("Make the last bight of the pull strand"), (place.at(lambda s: s.last_on).set("pull"),))
        yield say("bights.tied", "Shortfall", "system", title, why, fix=fix)
    if not system.clipped and look.state.serves != "last":
        title = "No carabiner holds the last bight for the party"
        why = "For all but the last it is clipped to the ride strand; the last person takes it off."
        fix = Fix(Sentence("Clip the last bight"), (place.at(lambda s: s.clipped).set(True),))
        yield say("bights.tied", "Shortfall", "system", title, why, fix=fix)


def _textile(look: Look) -> Says[None]:
    """Rope over textile: never under a load that moves; unloaded only over what this party has tied. Source: P."""
    rig = look.rig
    over = look.feature(rig.anchor) if rig.kind == "direct" and rig.ring is None else None
    if over is None or over.kind == "post":
        return
    if over.cord is None if over.kind == "ice thread" else over.what not in ("textile", "thread"):
        return
    if look.system.kind in CONVERTED:
        title = "A loaded rope would run over {name}"
        why = "Moving under body weight it melts through textile in a few metres. Put a metal link between."
        yield say("pull.textile", "Shortfall", "anchor", title, why, name=over.name)
    elif over.in_place != "no":
        title = "The rope is pulled over textile found in place"
        why = (
            "That textile is spent for whoever comes next. Practice allows it only on a new cord or new webbing of this"
        )
        yield say("pull.textile", "Caution", "anchor", title, why + " party; else a metal link.")
    else:
        title, why = "The rope is pulled over {name}: it is spent after that", "Nobody may hang on it again."
        yield once(say("pull.textile", "Note", "anchor", title, why, name=over.name))


def _straight(look: Look) -> Says[None]:
    """A rope straight through ice has its own notice."""
    rig = look.rig
    over = look.feature(rig.anchor) if rig.kind == "direct" and rig.ring is None else None
    if over is not None and over.kind == "ice thread" and over.cord is None:
        why = "A rope straight through ice leaves nothing behind and nothing to look at."
        why += " Drill it, and test it with a backup on the rope. Do not use it where it may freeze in."
        yield say("system.advanced", "Caution", "system", PRACTISED, why)


def _school(look: Look) -> Says[None]:
    """The guide's choice of a releasable strand for everyone, or for novices."""
    wanted = look.policies.releasable
    if look.state.serves == "last" or look.system.kind in CONVERTED:
        return
    novices = any(p.role == "novice" for p in look.plan.party)
    if wanted == "always" or (wanted == "for novices" and novices):
        where = "for all but the last" if wanted == "always" else "wherever there are novices"
        why = f"The choice made for this plan is a releasable strand {where}."
        why += " Where it is not, somebody who is stuck must be climbed to."
        yield once(say("release.school", "Note", "system", "Nobody could be lowered", why))
