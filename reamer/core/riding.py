"""What a rider and a belayer find on the strand: knots to be passed, the device against the rope, tie-offs, hitches, lowering."""

from __future__ import annotations

import math

from reamer.core.blocks import fit
from reamer.core.context import Context
from reamer.core.findings import Edit, Findings, Fix
from reamer.core.model import Drop, Ring, State, System, TiedOn
from reamer.core.pull import pulled_strand
from reamer.core.reach import last_system
from reamer.core.rope import shrinks, sound_piece
from reamer.core.say import Number, Sentence
from reamer.core.section import limits_m
from reamer.core.systems import CONVERTED, Strand, ropes_of
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
    _passed(ctx, drop, state.system, hanging, ring, lengths, found, book)
    _devices(ctx, state.system, hanging, found)
    _fit_for_it(ctx, drop, which, found)
    _joined_by(ctx, state.system, found, (*at, "system"))
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


def _fit_for_it(ctx: Context, drop: Drop, which: int, found: Findings) -> None:
    """Whether each thing that a system names is of a kind that can do that job. Source: P, common practice, no source."""
    state, states = drop.station.states[which], drop.station.states
    system = state.system
    by_id = {d.id: d for d in ctx.plan.shed.devices}
    if system.kind == "elastic-release device" and system.device in by_id and by_id[system.device].use != "elastic release":
        found.add("device.kind", "Shortfall", "system", "{device} is no elastic-release device", "A device to ride on does not let go from below. Choose one that is made for it.", words={"device": by_id[system.device].name})
    for used in sorted({p.device for p in ctx.plan.party if p.device in by_id and by_id[p.device].use == "elastic release"}):
        found.add("device.kind", "Shortfall", f"device.{used}", "{who} would ride on {device}", "It lets go when it is unloaded: it is not made to be ridden on.",
                  words={"device": by_id[used].name, "who": next(p.name for p in ctx.plan.party if p.device == used)}, once=True)
    if len(ctx.plan.party) == 1 and (system.kind == "releasable" or (system.kind == "lowered")) and state.serves != "last":
        found.add("system.alone", "Shortfall", "system", "This wants somebody besides the rider, and the party is one", "Nobody is there to let the rope out. Choose a way that one person can ride and pull.")
    traverse = drop.station.traverse
    if traverse is not None and traverse.rope in ropes_of(system):
        found.add("system.twice", "Shortfall", "system", "{rope} is the traverse line and would be ridden", "It cannot be at two places at once.", words={"rope": ctx.ropes[traverse.rope].name if traverse.rope in ctx.ropes else "A rope"})
    if which == 0 and len(states) == 2 and states[1].system.kind != "none":
        for rope in dict.fromkeys(r for r in ropes_of(system) if r in ctx.ropes and r not in ropes_of(states[1].system)):
            found.add("release.left", "Caution", f"rope.{rope}", "Nothing in the last person's rig brings {rope} down", "They send it down before they go, or it stays up there.", words={"rope": ctx.ropes[rope].name})


def _joined_by(ctx: Context, system: System | TiedOn, found: Findings, at: tuple) -> None:
    """The knot that joins two ropes, or a rope and its pull cord: its tails, and a knot that is advised against. Source: P, common
    practice, no source; J for what is drawn through."""
    more = getattr(system, "tied_on", None)
    if more is not None:
        _joined_by(ctx, more, found, (*at, "tied_on"))
    knot = getattr(system, "knot", None) or (system.reserve_knot if getattr(system, "reserve_rope", None) is not None else None)
    if knot is None:
        return
    field = "knot" if hasattr(system, "knot") else "reserve_knot"
    if knot == "flat figure eight":
        seen = row("pull_tests", "flat eight")
        better = ctx.plan.policies.join if ctx.plan.policies.join != "flat figure eight" else "flat overhand, second behind"
        found.add("join.advised", "Caution", "join", "A flat figure eight is advised against", "It rolls at about {seen}, less than a flat overhand, and each roll takes from its tails.", numbers={"seen": Number(seen.low, "force", "down")},
                  fix=Fix(Sentence("Tie a flat overhand" if better.startswith("flat") else "Tie an opposed bend"), (Edit((*at, field), better),)))
    tails, most, cut = getattr(system, "tails_m", None), row("knots", "tail.join"), row("knots", "tail.cut")
    if tails is None:
        return
    if tails.kind == "unknown":
        found.add("join.tails", "Not checked", "join", "How long the join's tails are is not decided", "A flat overhand may roll: each is at least {least}.", numbers={"least": Number(most.high, "fine length", "up")})
    elif limits_m(tails)[0] < most.high - 1e-9:
        found.add("join.tails", "Shortfall" if limits_m(tails)[0] < cut.low - 1e-9 else "Caution", "join", "The join's tails are short",
                  "{tails} is planned; " + ("a knot that rolls or slips at all runs out of them." if limits_m(tails)[0] < cut.low - 1e-9 else "a flat overhand may roll.") + " Each tail is at least {least}.",
                  numbers={"tails": Number(tails.value, "fine length"), "least": Number(most.high, "fine length", "up")},
                  fix=Fix(Sentence("Leave tails of {least}", {"least": Number(most.high, "fine length", "up")}), (Edit((*at, "tails_m"), {"kind": "known", "value": most.high, "method": "given"}),)))


def _tied_on(ctx: Context, system: System, hanging: list[Strand], down: Strand | None, ring: Ring | None, path: float | None, found: Findings, book: Book) -> None:
    """A second rope tied to the ride strand: everyone passes the join, and it must pass the ring. Source: P, common practice, no source."""
    more, s = getattr(system, "tied_on", None), next((h for h in hanging if h.role == "ride"), None)
    if more is None or s is None or more.rope not in ctx.ropes:
        return
    other = ctx.ropes[more.rope]
    words = {"rope": s.rope.name, "more": other.name}
    if s.join_at is not None and (path is None or s.join_at.value <= path):
        found.add("rope.passed", "Caution", f"rope.{s.rope.id}", "Everyone must pass the join of {rope} and {more}, {below} below the ring", "It takes a tether, a second friction hitch and practice on the flat. One longer rope has no join.",
                  numbers={"below": s.join_at}, words=words)
    if down is None or ring is None:
        return
    thick = max((s.rope, other), key=lambda r: r.diameter_mm.value if r.diameter_mm.kind == "known" else math.inf)
    made = fit("flat figure eight" if more.knot == "flat figure eight" else "flat overhand", thick, ring, "tied.fit", book)
    if made.ratio is None or made.verdict != "passes":
        found.add("rope.passed", "Not checked" if made.ratio is None else "Shortfall", f"rope.{s.rope.id}", "The join of {rope} and {more} goes up to {ring} and may not pass it", "Not checked: {why}." if made.ratio is None else
                  "It is {ratio} the opening: the rope would not come down. Use one longer rope, or a wider ring.", numbers={"ratio": made.ratio} if made.ratio else {}, words={**words, "ring": ring.name, "why": made.why},
                  working=made.ratio.working if made.ratio else "")


def _passed(ctx: Context, drop: Drop, system: System, hanging: list[Strand], ring: Ring | None, lengths: dict, found: Findings, book: Book) -> None:
    """Knots that isolate damage, and joins inside a ride strand: which strand they are in, how far down, and whether they pass the ring."""
    down, path = pulled_strand(system, hanging), lengths["taut"].high.value if lengths else None
    _tied_on(ctx, system, hanging, down, ring, path, found, book)
    for s in hanging:
        piece = sound_piece(s.rope)
        for n, d in enumerate(s.rope.damage):
            if d.use != "knot passed" or s.low is None or s.high is None:
                continue
            words = {"rope": s.rope.name, "end": s.end.upper()}
            key = f"rope.{s.rope.id}"
            if d.at_m.kind == "unknown":
                found.add("rope.passed", "Not checked", key, "Where {rope} is damaged is unknown", "Whether its knot must be passed by a rider or through the ring is not checked.", words=words)
                continue
            if (piece.start and d.at_m.value <= piece.start.at_m.value) or (piece.stop and d.at_m.value >= piece.stop.at_m.value):
                continue
            base = s.rope.measured_m if s.rope.measured_m.kind == "known" else s.rope.nominal_m
            # As near the hanging end as it may be, and as far: where it hangs is known no better.
            least, most = limits_m(d.at_m)
            kept = [1 - x for x in shrinks(s.rope)]
            near, far = (least * kept[0], most * kept[1]) if s.end == "a" else (max(0.0, limits_m(base)[0] - most) * kept[0], max(0.0, limits_m(base)[1] - least) * kept[1])
            if near >= s.high.value:
                continue
            below = Number(max(0.0, s.low.value - far), "length", "near")
            if s.role == "reserve":
                found.add("rope.passed", "Caution", key, "A knot in the reserve of {rope} must pass the tie-off", "A lower stops there. Use the rope only as its longest sound piece, or put that end on the ride side.", words=words)
                continue
            if s.load_share and (path is None or below.value <= path):
                found.add("rope.passed", "Caution", key, "Everyone must pass a knot {below} below the ring in {rope} {end}",
                          "It takes a tether, a second friction hitch and practice on the flat. Use another rope, or only its longest sound piece.", numbers={"below": below}, words=words)
            if down is not None and s is not down and ring is not None:
                made = fit("butterfly", s.rope, ring, f"passed.{s.rope.id}.{n}", book)
                if made.ratio is None or made.verdict != "passes":
                    found.add("rope.passed", "Not checked" if made.ratio is None else "Shortfall", key, "The knot in {rope} {end} goes up to {ring} and may not pass it",
                              "Not checked: {why}." if made.ratio is None else "It is {ratio} the opening: the rope would not come down. Use another rope, or put that end on the side that is pulled.",
                              numbers={"ratio": made.ratio} if made.ratio else {}, words={**words, "ring": ring.name, "why": made.why}, working=made.ratio.working if made.ratio else "")


def _devices(ctx: Context, system: System, hanging: list[Strand], found: Findings) -> None:
    """Each device in use against the ropes it rides here. What is unknown of a device is said once for the whole plan."""
    ridden = [s for s in hanging if s.role in ("ride", "ride and pull") and s.load_share]
    if not ridden:
        return
    count = len(ridden)
    thin = row("ropes", "single.thin")
    used = {p.device for p in ctx.plan.party if p.device}
    tied = [ctx.ropes[more.rope]] if (more := getattr(system, "tied_on", None)) is not None and more.rope in ctx.ropes else []
    for device in ctx.plan.shed.devices:
        if device.id not in used:
            continue
        for rope in {r.id: r for r in (*(s.rope for s in ridden), *tied)}.values():
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
    if not system.clipped and state.serves != "last":
        found.add("bights.tied", "Shortfall", "system", "No carabiner holds the last bight for the party", "For all but the last it is clipped to the ride strand; the last person takes it off.",
                  fix=Fix(Sentence("Clip the last bight"), (Edit((*at, "system", "clipped"), True),)))


def _textile(drop: Drop, state: State, found: Findings) -> None:
    """Rope over textile: never under a load that moves; unloaded only over what this party has tied. Source: P."""
    rig = state.rig
    if rig.kind != "direct" or rig.ring is not None:
        return
    over = next((f for f in drop.station.features if f.id == rig.anchor), None)
    textile = over is not None and (over.kind == "ice thread" and over.cord is not None or over.kind == "rated" and over.what in ("textile", "thread"))
    if not textile:
        return
    if state.system.kind in CONVERTED:
        found.add("pull.textile", "Shortfall", "anchor", "A loaded rope would run over {name}", "Moving under body weight it melts through textile in a few metres. Put a metal link between.", words={"name": over.name})
    elif over.in_place != "no":
        found.add("pull.textile", "Caution", "anchor", "The rope is pulled over textile found in place", "That textile is spent for whoever comes next. Practice allows it only on a new cord or new webbing of this party; else a metal link.")
    else:
        found.add("pull.textile", "Note", "anchor", "The rope is pulled over {name}: it is spent after that", "Nobody may hang on it again.", words={"name": over.name}, once=True)


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
    if ctx.plan.policies.releasable == "always" or (ctx.plan.policies.releasable == "for novices" and novices):
        why = "The choice made for this plan is a releasable strand for all but the last." if ctx.plan.policies.releasable == "always" else \
            "The choice made for this plan is a releasable strand wherever there are novices."
        found.add("release.school", "Note", "system", "Nobody could be lowered", why + " Where it is not, somebody who is stuck must be climbed to.", once=True)
