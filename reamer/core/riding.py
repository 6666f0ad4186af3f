"""What a rider and a belayer find on the strand: knots to be passed, the device against the rope, tie-offs, hitches, lowering."""

from __future__ import annotations

from reamer.core.blocks import fit
from reamer.core.context import Context
from reamer.core.findings import Edit, Findings, Fix
from reamer.core.model import Drop, Ring, State, System
from reamer.core.pull import pulled_strand
from reamer.core.reach import last_system
from reamer.core.say import Number, Sentence
from reamer.core.section import limits_m
from reamer.core.systems import CONVERTED, Strand
from reamer.core.tables import row
from reamer.core.working import Book

ADVANCED = {
    "elastic-release device": "Never unload it fully and again on the way down: every cycle lets it go a little. It is for those who have practised it with the maker's instructions at hand.",
    "alternating bights": "The last person hangs on the bights alone, and a mistake in their order drops them. It is for those who have practised it on the flat and under load.",
}


def riding_findings(ctx: Context, index: int, drop: Drop, which: int, hanging: list[Strand], ring: Ring | None, lengths: dict, found: Findings, book: Book) -> None:
    """What is to be said of a system's ridden strands besides reach and strength.

    ctx: the plan's context; index: the drop's place, from 0; drop: the drop; which: of its states, from 0; hanging: its strands
    ring: what the rope runs through; lengths: of the lines; found, book: where findings and workings go
    returns: nothing
    Source: P, common practice, no source; thin strands and widths J.
    """
    state = drop.station.states[which]
    at = ("drops", index, "station", "states", which)
    if state.system.kind == "none" or not hanging:
        return
    _passed(state.system, hanging, ring, found, book)
    _devices(ctx, hanging, found)
    if state.system.kind in ADVANCED:
        found.add("system.advanced", "Caution", "system", "This is a system for those who have practised it", ADVANCED[state.system.kind])
    if state.system.kind in CONVERTED and state.serves != "party":
        _convert(ctx, drop, state, lengths, found, at)
    if state.system.kind == "releasable" and state.system.tie_off == "figure-eight device mule":
        found.add("release.jams", "Note", "system", "A mule-tied figure-eight device may not let go after an extreme load", "A munter-mule-overhand on a carabiner still does.",
                  fix=Fix(Sentence("Tie a munter-mule-overhand"), (Edit((*at, "system", "tie_off"), "munter-mule-overhand"),)))
    if state.system.kind == "lowered" and not state.system.far_end_closed:
        found.add("lower.open", "Shortfall", "system", "The belayer's end of the rope is open", "Too short a rope runs out through the belay and the person falls. Knot it or tie it in.",
                  fix=Fix(Sentence("Close the belayer's end"), (Edit((*at, "system", "far_end_closed"), True),)))
    if state.system.kind == "alternating bights":
        _bights(state, found, at)
    _textile(drop, state, found)
    _straight(drop, state, found)
    _school(ctx, state, found)


def _passed(system: System, hanging: list[Strand], ring: Ring | None, found: Findings, book: Book) -> None:
    """Knots that isolate damage: which strand they are in, how far down, and whether they pass the ring."""
    down = pulled_strand(system, hanging)
    for s in hanging:
        for n, d in enumerate(s.rope.damage):
            if d.use != "knot passed" or s.low is None or s.high is None:
                continue
            words = {"rope": s.rope.name, "end": s.end.upper()}
            key = f"rope.{s.rope.id}"
            if d.at_m.kind == "unknown":
                found.add("rope.passed", "Not checked", key, "Where {rope} is damaged is unknown", "Whether its knot must be passed by a rider or through the ring is not checked.", words=words)
                continue
            base = s.rope.measured_m if s.rope.measured_m.kind == "known" else s.rope.nominal_m
            from_end = d.at_m.value if s.end == "a" else max(0.0, base.value - d.at_m.value)
            if from_end >= s.high.value:
                continue
            below = Number(max(0.0, s.low.value - from_end), "length", "near")
            if s.role == "reserve":
                found.add("rope.passed", "Caution", key, "A knot in the reserve of {rope} must pass the tie-off", "A lower stops there. Use the rope only as its longest sound piece, or put that end on the ride side.", words=words)
                continue
            if s.load_share:
                found.add("rope.passed", "Caution", key, "Everyone must pass a knot {below} below the ring in {rope} {end}",
                          "It takes a tether, a second friction hitch and practice on the flat. Use another rope, or only its longest sound piece.", numbers={"below": below}, words=words)
            if down is not None and s is not down and ring is not None:
                made = fit("butterfly", s.rope, ring, f"passed.{s.rope.id}.{n}", book)
                if made.ratio is None or made.verdict != "passes":
                    found.add("rope.passed", "Not checked" if made.ratio is None else "Shortfall", key, "The knot in {rope} {end} goes up to {ring} and may not pass it",
                              "Not checked: {why}." if made.ratio is None else "It is {ratio} the opening: the rope would not come down. Use another rope, or put that end on the side that is pulled.",
                              numbers={"ratio": made.ratio} if made.ratio else {}, words={**words, "ring": ring.name, "why": made.why}, working=made.ratio.working if made.ratio else "")


def _devices(ctx: Context, hanging: list[Strand], found: Findings) -> None:
    """Each device in use against the ropes it rides here. What is unknown of a device is said once for the whole plan."""
    ridden = [s for s in hanging if s.role in ("ride", "ride and pull") and s.load_share]
    if not ridden:
        return
    count = len(ridden)
    thin = row("ropes", "single.thin")
    used = {p.device for p in ctx.plan.party if p.device}
    for device in ctx.plan.shed.devices:
        if device.id not in used:
            continue
        for rope in {s.rope.id: s.rope for s in ridden}.values():
            if rope.diameter_mm.kind == "unknown":
                found.add("device.range", "Not checked", f"device.{device.id}", "Whether {device} is stated for {rope} is not known", "The diameter of {rope} is unknown.",
                          words={"device": device.name, "rope": rope.name})
                continue
            d, words = Number(rope.diameter_mm.value, "diameter"), {"device": device.name, "rope": rope.name}
            for limit, off, what in ((device.thinnest_mm, -1, "thinner"), (device.thickest_mm, 1, "thicker")):
                if limit.kind == "known" and (d.value - limit.value) * off > 1e-9:
                    found.add("device.range", "Shortfall", f"device.{device.id}", "{rope} is " + what + " than {device} is stated for",
                              "It is {d}; the maker's limit is {limit}.", numbers={"d": d, "limit": Number(limit.value, "diameter")}, words=words)
        if (device.strands, count) in (("one", 2), ("two", 1)):
            found.add("device.range", "Shortfall", f"device.{device.id}", "{device} is stated for {strands} only", "Here {n} ridden.",
                      words={"device": device.name, "strands": "one strand" if device.strands == "one" else "two strands", "n": "two strands are" if count == 2 else "one strand is"})
    rope = ridden[0].rope
    if count == 1 and rope.diameter_mm.kind == "known" and rope.diameter_mm.value < thin.low:
        found.add("device.thin", "Caution", "device", "A single strand of {d} grips little in a device", "Under {thin} add friction: another carabiner, or a wrap.",
                  numbers={"d": Number(rope.diameter_mm.value, "diameter"), "thin": Number(thin.low, "diameter")})


def _convert(ctx: Context, drop: Drop, state: State, lengths: dict, found: Findings, at: tuple) -> None:
    """A system that nobody can pull needs a second state for the last person."""
    only = drop.model_copy(update={"station": drop.station.model_copy(update={"states": (state,)})})
    last = last_system(ctx, lengths, only, (*at, "system")) if lengths and found.fixes else None
    fix = None
    if last is not None and state.serves == "all":
        old = state.model_dump(mode="json")
        fix = Fix(Sentence("Convert it for the last person"), (Edit(at[:-1], [
            {**old, "serves": "party"}, {**old, "id": "last" if old["id"] != "last" else "then", "serves": "last", "system": last}]),))
    found.add("release.convert", "Shortfall", "system", "Nobody can pull this rope once the last is down",
              "It serves all but the last; for the last person it is converted to a block, a doubled rope or a pull cord." + ("" if fix or state.serves == "last" else " With this rope none of them reaches."), fix=fix)


def _bights(state: State, found: Findings, at: tuple) -> None:
    system = state.system
    least, most, last = row("knots", "bights.least"), row("knots", "bights.most"), row("knots", "bights.last")
    if system.bights.kind == "unknown" or system.last_m.kind == "unknown":
        found.add("bights.tied", "Not checked", "system", "How the bights are tied is not known", "How many there are and how long the last one is decides whether they hold.")
    elif not least.low <= system.bights.value <= most.high:
        found.add("bights.tied", "Shortfall", "system", "{n} bights are not {least} to {most}", "Fewer may slip, more may not come undone.", numbers={
            "n": Number(system.bights.value, "count"), "least": Number(least.low, "count"), "most": Number(most.high, "count")})
    elif limits_m(system.last_m)[0] < last.low - 1e-9:
        found.add("bights.tied", "Shortfall", "system", "The last bight is shorter than {last}", "A short one may slip out by itself.", numbers={"last": Number(last.low, "fine length", "up")},
                  fix=Fix(Sentence("Leave {last}", {"last": Number(last.low, "fine length", "up")}), (Edit((*at, "system", "last_m"), {"kind": "known", "value": last.low, "method": "given"}),)))
    if system.last_on == "ride":
        found.add("bights.tied", "Shortfall", "system", "The last bight is made of the ridden strand", "The rider's weight pulls it out. It belongs to the pull strand.",
                  fix=Fix(Sentence("Make the last bight of the pull strand"), (Edit((*at, "system", "last_on"), "pull"),)))
    if not system.clipped and state.serves == "party":
        found.add("bights.tied", "Shortfall", "system", "No carabiner holds the last bight for the party", "For all but the last it is clipped to the ride strand.",
                  fix=Fix(Sentence("Clip the last bight"), (Edit((*at, "system", "clipped"), True),)))


def _textile(drop: Drop, state: State, found: Findings) -> None:
    """Rope over textile: never under a load that moves; unloaded only over what this party has tied. Source: P."""
    rig = state.rig
    if rig.kind != "direct" or rig.ring is not None:
        return
    over = next((f for f in drop.station.features if f.id == rig.anchor), None)
    textile = over is not None and (over.kind == "ice thread" and over.cord is not None or over.kind == "rated" and over.what == "textile")
    if not textile:
        return
    if state.system.kind in CONVERTED:
        found.add("pull.textile", "Shortfall", "anchor", "A loaded rope would run over {name}", "Moving under body weight it melts through textile in a few metres. Put a metal link between.", words={"name": over.name})
    elif over.in_place != "no":
        found.add("pull.textile", "Caution", "anchor", "The rope is pulled over textile found in place", "That textile is spent for whoever comes next. Practice allows it only on a new cord or new webbing of this party; else a metal link.")
    else:
        found.add("pull.textile", "Note", "anchor", "The rope is pulled over {name}: it is spent after that", "Nobody may hang on it again.", words={"name": over.name})


def _straight(drop: Drop, state: State, found: Findings) -> None:
    """A rope straight through ice has its own notice."""
    rig = state.rig
    over = next((f for f in drop.station.features if rig.kind == "direct" and rig.ring is None and f.id == rig.anchor), None)
    if over is not None and over.kind == "ice thread" and over.cord is None:
        found.add("system.advanced", "Caution", "system", "This is a system for those who have practised it",
                  "A rope straight through ice leaves nothing behind and nothing to look at: drill it, test it with a backup on the rope, and do not use it where it may freeze in.")


def _school(ctx: Context, state: State, found: Findings) -> None:
    """The guide's choice of a releasable strand for everyone, or for novices."""
    if state.serves == "last" or state.system.kind in CONVERTED:
        return
    novices = [p.name for p in ctx.plan.party if p.role == "novice"]
    if ctx.plan.policies.releasable == "always" or novices:
        why = "The choice made for this plan is a releasable strand for all but the last." if ctx.plan.policies.releasable == "always" else \
            "The choice made for this plan is a releasable strand wherever there are novices."
        found.add("release.school", "Note", "system", "Nobody could be lowered here", why + " On this system somebody who is stuck must be climbed to.")
