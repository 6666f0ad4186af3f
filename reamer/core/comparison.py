"""Every way to rig one station's rope that the kit allows, side by side: what each does, and what rules the others out."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from reamer.core.assess import DropAssessment, assess_drop, path_lengths
from reamer.core.context import Context, figured
from reamer.core.findings import Edit, Finding, Fix
from reamer.core.loads import runs_by_itself, static_kn
from reamer.core.model import Direct, Drop, Feature, Known, Rig, Rope, State, System, Unknown, read_system
from reamer.core.reach import last_system, ride_wanted_m
from reamer.core.rope import real_length
from reamer.core.say import Number, Sentence
from reamer.core.systems import CONVERTED, SYSTEM_NAMES, ropes_of
from reamer.core.tables import row
from reamer.core.working import Book

# Whether it lowers a stuck person, what makes or breaks it, and what the last person is exposed to.
TEXTS = {
    "doubled": ("no", "Both strands are ridden; nothing is blocked", "as everyone"),
    "joined": ("no", "The join must pass every edge on the side that is pulled", "as everyone"),
    "blocked, same rope": ("no", "Everyone on the right strand; the block stays on its side", "as everyone: one strand on a block"),
    "blocked, pull cord": ("no", "The cord cannot hold a person; the block stays on its side", "as everyone: one strand on a block"),
    "releasable": ("yes", "The reserve stays in the bag at the top, with somebody at it", "converts alone, then rides as the last state says"),
    "elastic-release device": ("no", "Never unload it fully and again on the way down; it snags on edges", "as everyone: one strand on the device"),
    "alternating bights": ("no", "The last bight on the pull strand, clipped for all but the last", "the bights unclipped: no redundancy"),
    "lowered": ("yes", "The belayer's end closed; never over textile", "converts alone, then rides as the last state says"),
}


@dataclass(frozen=True, slots=True)
class Way:
    """One way to rig the rope here.

    spare: least rope to spare of its strands; reserve: past the tie-off; pull: worst force at the hand; weakest: part with the least
    margin on the rope's side and the whole tie; times: that over its demand; ropes: kit used; left: what stays behind
    single: single points nobody has accepted, counted; last: what the last person is exposed to; minutes: to rig, low and high
    lowers: whether it can lower a stuck person; needs: what makes or breaks it; preferred: by the guide's choice of strands
    shortfalls, not_checked: counted over the station; ruled_out: the first shortfall that this way itself has, None if none
    fix: the one act that settles its only fault and that it stands with here
    """

    key: str
    kind: str
    ropes: tuple[str, ...]
    in_use: bool
    spare: Number | None
    reserve: Number | None
    pull: Number | None
    band: str
    weakest: str
    times: Number | None
    left: str
    single: int
    last: str
    minutes: tuple[Number, Number]
    lowers: str
    needs: str
    preferred: bool
    shortfalls: int
    not_checked: int
    ruled_out: Sentence | None
    open: Sentence | None
    edits: tuple[Edit, ...]
    fix: Sentence | None = None


@dataclass(frozen=True, slots=True)
class Excluded:
    """A way that is not offered at all, and why."""

    name: str
    why: Sentence


@dataclass(frozen=True, slots=True)
class Comparison:
    """Every way the kit allows, the best first, and those that are never offered."""

    ways: tuple[Way, ...]
    excluded: tuple[Excluded, ...]


def _end(rope: str, end: str) -> dict[str, str]:
    return {"rope": rope, "end": end}


def _candidates(ctx: Context, old: System, water: bool, path_m: float, ropes: list[Rope], cords: list[Rope]) -> Iterator[dict[str, Any]]:
    """Every system the kit allows; what the guide has decided in the one in use is kept."""
    tails = old.tails_m.model_dump(mode="json") if hasattr(old, "tails_m") else {
        "kind": "known", "value": row("knots", "tail.join").high, "method": "given"}
    join = {"tails_m": tails, "knot": getattr(old, "knot", ctx.plan.policies.join)}
    block = {"block": getattr(old, "block", "figure eight"), "carabiner": getattr(old, "carabiner", True)}
    if hasattr(old, "block") and hasattr(old, "block_holds"):
        block["block_holds"] = old.block_holds.model_dump(mode="json")
    open_figure = {"kind": "unknown", "why": "not decided"}

    def stopped(*ends: dict[str, str]) -> list[dict[str, str]]:
        return [] if water else list(ends)

    for r in ropes:
        by = old.middle_by if old.kind == "doubled" and old.rope == r.id else "mark" if r.middle_mark and r.middle_off_m.kind == "known" else "ends run together"
        yield {"kind": "doubled", "rope": r.id, "middle_by": by, "pulled_end": getattr(old, "pulled_end", "b"), "stoppers": stopped(_end(r.id, "a"), _end(r.id, "b"))}
    bights = {"bights": {"kind": "known", "value": (row("knots", "bights.least").low + row("knots", "bights.most").high) // 2, "method": "given"},
              "last_m": {"kind": "known", "value": row("knots", "bights.last").high, "method": "given"}}
    for i, a in enumerate(ropes):
        for b in ropes[:i]:
            # The thicker rope goes through the ring; of unknown ones the first in the shed.
            through, other = (a, b) if _thick(a) > _thick(b) else (b, a)
            yield {"kind": "joined", "through": through.id, "through_end": "b", "other": other.id, "other_end": "b", **join,
                   "stoppers": stopped(_end(through.id, "b"), _end(other.id, "b"))}
            yield {"kind": "alternating bights", "rope": through.id, "ridden_end": "b", "other": other.id, "other_end": "b", **bights, "stoppers": stopped(_end(through.id, "b"))}
    for r in ropes:
        one = {"rope": r.id, "ridden_end": "b", "stoppers": stopped(_end(r.id, "b"))}
        yield {"kind": "blocked, same rope", **one, "ride_m": open_figure, **block}
        for c in (*cords, *(c for c in ropes if c is not r)):
            # A second full rope is the usual pull line of a long drop.
            yield {"kind": "blocked, pull cord", **one, "cord": c.id, "cord_end": "b", **join, **block}
        yield {"kind": "releasable", **one, "ride_m": open_figure, "tie_off": "munter-mule-overhand"}
        # Where its own reserve is too short, the shortest rope that makes it long enough is joined on.
        more = min((m for m in ropes if m is not r and _low(ctx, m) + _low(ctx, r) > 2 * path_m > _low(ctx, r) > path_m), key=lambda m: _low(ctx, m), default=None)
        if more is not None:
            yield {"kind": "releasable", **one, "ride_m": open_figure, "tie_off": "munter-mule-overhand", "reserve_rope": more.id}
        for where in ("above", "below"):
            yield {"kind": "lowered", "rope": r.id, "end": "b", "belayer": where, "far_end_closed": True}
        by = "mark" if r.middle_mark and r.middle_off_m.kind == "known" else "ends run together"
        yield {"kind": "alternating bights", **one, "middle_by": by, **bights}
        for d in ctx.plan.shed.devices:
            if d.use == "elastic release":
                yield {"kind": "elastic-release device", **one, "device": d.id}


# Of a kit with more ropes only those are compared that may reach, the shortest first.
MANY = 5
# So many of the ways with a fault are tried with the act that settles it.
TRIED = 6


def _low(ctx: Context, rope: Rope) -> float:
    """The least length a rope has, 0 where it is not known [m]."""
    length = ctx.once(("length", rope.id), (rope,), Book(), lambda own: real_length(rope, own))
    return 0.0 if isinstance(length, Unknown) else length[0].value


def _in_view(ctx: Context, old: System, path_m: float) -> tuple[list[Rope], list[Rope], int]:
    """The ropes and the cords to compare, and how many of the kit are left out."""
    every, named = ctx.plan.shed.ropes, ropes_of(old)
    made: list[list[Rope]] = []
    for some in ([r for r in every if r.kind != "pull cord"], [r for r in every if r.kind == "pull cord"]):
        if len(some) > MANY:
            long = sorted((r for r in some if _low(ctx, r) >= path_m / 2), key=lambda r: _low(ctx, r))
            enough = [r for r in long if _low(ctx, r) >= path_m]
            kept = {r.id for r in (*[r for r in long if r not in enough][-2:], *enough[:MANY - 2], *enough[-1:])} | set(named)
            some = [r for r in some if r.id in kept]
        made.append(some)
    return made[0], made[1], len(every) - len(made[0]) - len(made[1])


def _thick(rope: Rope) -> float:
    return rope.diameter_mm.value if rope.diameter_mm.kind == "known" else 0.0


def _with(drop: Drop, states: tuple[State, ...]) -> Drop:
    return drop.model_copy(update={"station": drop.station.model_copy(update={"states": states})})


@figured
def compare_systems(ctx: Context, index: int, drop: Drop, which: int = 0) -> Comparison:
    """Every system for one station that the kit of the plan allows, the best first.

    ctx: the plan's context; index: the drop's place in the plan, from 0; drop: the drop; which: of its station's states, from 0
    returns: the ways: first whether it reaches and comes down again, then what holds, then what remains unchecked, then the guide's own
        order, then the effort; and what is never offered
    Source: P, common practice, no source; see the functions it calls.
    """
    old = drop.station.states[which].system
    made: list[tuple[tuple, Way, tuple[State, ...], System, list[Finding]]] = []
    seen_in_use = False
    lengths = path_lengths(ctx, drop, which)
    path_m = max((b.high.value for b in lengths.values()), default=0.0)
    ropes, cords, left_out = _in_view(ctx, old, path_m)
    refused: list[Excluded] = []

    def put(*args: object) -> None:
        way = _way(ctx, index, drop, which, *args)
        if way is not None:
            made.append(way)

    for data in _candidates(ctx, old, drop.landing.kind == "moving water", path_m, ropes, cords):
        system = read_system(data)
        in_use = _same(system, old)
        if in_use:
            system, seen_in_use = old, True
        elif hasattr(system, "ride_m"):
            system = _long_enough(ctx, drop, which, system)
            if system is None:
                refused.append(Excluded(f"{SYSTEM_NAMES[data['kind']]}, {ctx.ropes[data['rope']].name}", Sentence("Its ride strand would be longer than any rope that can be entered.")))
                continue
        put(system, in_use)
        if system.kind == "doubled":
            for rig in _round_a_tree(drop, which):
                put(system, False, rig)
    if not seen_in_use and old.kind != "none":
        put(old, True)
    made.sort(key=lambda m: m[0])
    # The best of those that have but one fault, and the one in use, are tried with the one act that settles it.
    tried = [m for m in made if m[0][1] == 2 or m[0][2] == 2][:TRIED] + [m for m in made if m[1].in_use]
    for m in tried:
        better = _mended_way(ctx, index, drop, which, m)
        if better is not None and m in made:
            made[made.index(m)] = better
    ways = tuple(m[1] for m in sorted(made, key=lambda m: m[0]))
    if left_out:
        refused.append(Excluded(f"{left_out} ropes and cords more of the kit", Sentence("Too short for this drop, or longer than the shortest that reach; rig one by hand to see it.")))
    return Comparison(ways, (*_excluded(ctx), *refused) if made else ())


def _same(a: System, b: System) -> bool:
    """Whether two systems are the same way with the same ropes, whatever their details."""
    if a.kind == b.kind == "releasable":
        return (a.rope, a.reserve_rope) == (b.rope, b.reserve_rope)
    if a.kind == b.kind == "lowered" and a.belayer != b.belayer:
        return False
    if a.kind == b.kind == "blocked, pull cord":
        return (a.rope, a.cord) == (b.rope, b.cord)
    return a.kind == b.kind and set(ropes_of(a)) == set(ropes_of(b))


def _long_enough(ctx: Context, drop: Drop, which: int, system: System) -> System | None:
    """A parted rope whose ride strand gets just what it needs; None where no plan can hold such a length."""
    need = ride_wanted_m(ctx, _with(drop, (drop.station.states[which].model_copy(update={"system": system, "serves": "all"}),)), path_lengths(ctx, drop, which))
    if need is None:
        return system
    try:
        return read_system({**system.model_dump(mode="json"), "ride_m": {"kind": "known", "value": need, "method": "tape"}})
    except ValidationError:
        return None


def _states(ctx: Context, index: int, drop: Drop, which: int, system: System, in_use: bool) -> tuple[State, ...] | None:
    """The station with this system in one of its states; one that must be converted gets a state for the last person."""
    states = drop.station.states
    state = states[which].model_copy(update={"system": system})
    if in_use or system.kind not in CONVERTED:
        return tuple(state if i == which else s for i, s in enumerate(states))
    if len(states) == 2:
        return (state, states[1]) if which == 0 else None
    only = _with(drop, (state.model_copy(update={"serves": "all"}),))
    last = last_system(ctx, path_lengths(ctx, drop, which), only, ("drops", index, "station", "states", which, "system"))
    if last is None:
        return (state,)
    new_id = "last" if state.id != "last" else "then"
    return (state.model_copy(update={"serves": "party"}), state.model_copy(update={"id": new_id, "serves": "last", "system": read_system(last)}))


def _round_a_tree(drop: Drop, which: int) -> list[Direct]:
    """The rope straight round a tree of the station, where it runs through a ring now."""
    rig = drop.station.states[which].rig
    if rig.kind == "none" or rig.ring is None:
        return []
    tree = next((f for f in drop.station.features if f.kind == "post" and f.what == "tree"), None)
    return [] if tree is None else [Direct(kind="direct", anchor=tree.id, ring=None, gain_m=Known(kind="known", value=row("ropes", "round.reach").high, method="given"))]


# Findings about whether a way reaches, and whether it comes down again.
REACHES = ("reach", "system", "end", "device")
REACH_CODES = ("rope.too-short", "rope.outside", "rope.length", "release.reserve", "ring.small")
COMES_DOWN = ("pull", "deviation")
DOWN_CODES = ("release.convert", "rope.passed", "block.side", "join.pull")


def _rank(own: list[Finding], way: Way, ctx: Context) -> tuple:
    """How good a way is: it reaches and comes down again; strength; what remains unchecked, and what to look at again; the guide's own
    order; effort."""
    def at(code: str) -> bool:
        return code.split(".")[0] in (*REACHES, *COMES_DOWN) or code in (*REACH_CODES, *DOWN_CODES)

    def grade(some: list[Finding]) -> int:
        short = sum(1 for f in some if f.severity == "Shortfall")
        return 2 * short if short else 1 if any(f.severity == "Not checked" for f in some) else 0

    doubled = way.kind.startswith(("doubled", "two ropes"))
    wanted = ctx.plan.policies.releasable == "always" or (ctx.plan.policies.releasable == "for novices" and any(p.role == "novice" for p in ctx.plan.party))
    let_out = way.kind.startswith("releasable")
    against = (wanted and not let_out) + ((ctx.plan.policies.strands == "doubled") != doubled and not (wanted and let_out))
    short = way.spare is not None and way.spare.value < 0
    return (short, grade([f for f in own if at(f.code)]), grade([f for f in own if not at(f.code)]), sum(1 for f in own if f.severity == "Not checked"), sum(1 for f in own if f.severity == "Caution"), against,
            way.minutes[1].value, way.pull.value if way.pull else math.inf)


def _mended(ctx: Context, index: int, drop: Drop, states: tuple[State, ...], own: list[Finding]) -> tuple[Fix, tuple[State, ...]] | None:
    """The one act that settles a way's only fault, and the states after it."""
    short = [f for f in own if f.severity == "Shortfall"]
    if len(short) != 1 or short[0].fix is None or any(e.path[:4] != ("drops", index, "station", "states") for e in short[0].fix.edits):
        return None
    data = [s.model_dump(mode="json") for s in states]
    for edit in short[0].fix.edits:
        here: Any = data
        for key in edit.path[4:-1]:
            here = here[key]
        if len(edit.path) == 4:
            data = edit.value
        else:
            here[edit.path[-1]] = edit.value
    return short[0].fix, tuple(State.model_validate(s) for s in data)


def _own(whole: DropAssessment, serves: str, system: System) -> list[Finding]:
    """Findings of a way itself, not of what it is tied to. What is converted for the last person is not better than what they then have."""
    serving = {"", serves} | ({"last"} if system.kind in CONVERTED else set())
    return [f for f in whole.findings if f.subject.state in serving and f.subject.part.split(".")[0] not in ("anchor", "webbing", "point", "leg", "link", "loop", "section", "edge")]


def _mended_way(ctx: Context, index: int, drop: Drop, which: int, tried: tuple) -> tuple | None:
    """A way with the one act that settles its only fault; None where there is none."""
    _, way, states, system, own = tried
    better = _mended(ctx, index, drop, states, own)
    return None if better is None else _row(ctx, index, drop, which, better[1], system, way.in_use, next((f.id for f in drop.station.features if way.kind.endswith(f" straight round {f.name}")), ""), better[0].label)


def _way(ctx: Context, index: int, drop: Drop, which: int, system: System, in_use: bool, rig: Direct | None = None) -> tuple | None:
    states = _states(ctx, index, drop, which, system, in_use)
    if states is None:
        return None
    if rig is not None:
        states = tuple(s.model_copy(update={"rig": rig}) if i == which else s for i, s in enumerate(states))
    return _row(ctx, index, drop, which, states, system, in_use, rig.anchor if rig is not None else "", None)


def _row(ctx: Context, index: int, drop: Drop, which: int, states: tuple[State, ...], system: System, in_use: bool, tree: str, fix: Sentence | None) -> tuple:
    """One way as it stands: its rank, its row, and what it was made from."""
    round_tree = next((f.name for f in drop.station.features if tree and f.id == tree), "")
    whole: DropAssessment = assess_drop(ctx, index, _with(drop, states), fixes=False)[0]
    own = _own(whole, states[which].serves, system)
    a = whole.last if which == 1 and whole.last else whole
    hung = [r for r in a.reach if r.role != "reserve"]
    spares = [r.spare for r in hung]
    reserve = next((r.low for r in a.reach if r.role == "reserve"), None)
    weakest = next((p for p in a.parts if p.weakest), None)
    ropes = tuple(ctx.ropes[i].name for i in ropes_of(system) if i in ctx.ropes)
    lowers, needs, last = TEXTS[system.kind]
    times = [row("times", f"rig.{system.kind}")] + ([row("times", "convert")] if system.kind in CONVERTED else [])
    at = ("drops", index, "station", "states")
    edits: tuple[Edit, ...] = ()
    if not in_use or fix is not None:
        edits = (Edit(at, [s.model_dump(mode="json") for s in states]),) if fix is not None or len(states) != len(drop.station.states) else (
            Edit((*at, which, "system"), system.model_dump(mode="json")), *([Edit((*at, which, "rig"), states[which].rig.model_dump(mode="json"))] if round_tree else []))
    pull = whole.last.pull if system.kind in CONVERTED and whole.last else a.pull
    name = f"{SYSTEM_NAMES[system.kind]} straight round {round_tree}" if round_tree else SYSTEM_NAMES[system.kind]
    if system.kind == "lowered" and system.belayer == "below":
        name += ", from below"
    if getattr(system, "reserve_rope", None) is not None:
        name += ", a second joined on"
    if round_tree:
        needs = "It rubs far more than a ring, and the bark suffers"
    way = Way("|".join((name, *ropes)), name, ropes, in_use, None if None in spares or not spares else min(spares, key=lambda n: n.value),
               reserve, pull.worst, pull.band, weakest.name if weakest else "", weakest.times if weakest else None, _left(ctx, drop.station.features, states[which].rig),
               sum(1 for p in a.parts if p.single and not p.accepted), last,
               (Number(sum(t.low for t in times), "minutes", "down"), Number(sum(t.high for t in times), "minutes", "up")), lowers, needs,
               (system.kind in ("doubled", "joined")) == (ctx.plan.policies.strands == "doubled"), whole.tally["Shortfall"], whole.tally["Not checked"],
               next((f.title for f in own if f.severity == "Shortfall"), None), next((f.title for f in own if f.severity == "Not checked"), None), edits, fix)
    return _rank(own, way, ctx), way, states, system, own


def _left(ctx: Context, features: tuple[Feature, ...], rig: Rig) -> str:
    """What of the tie stays behind: none of these systems leaves more than the tie."""
    if rig.kind == "none":
        return "nothing is tied yet"
    feature = next((f for f in features if f.id == getattr(rig, "anchor", "")), None)
    things = ["webbing"] if rig.kind in ("wrap", "two posts") else ["what joins the points"] if rig.kind == "several" else \
        ["the cord in the thread"] if feature is not None and feature.kind == "ice thread" and feature.cord else []
    ring = ctx.rings.get(rig.ring or "")
    if ring is not None:
        things.append(ring.name)
    things += [{"sling": "a sling", "connector": "a connector", "webbing": "webbing"}[link.kind] for link in rig.links]
    return ", ".join(dict.fromkeys(things)) or "nothing"


def _excluded(ctx: Context) -> tuple[Excluded, ...]:
    """Ways that are never offered. Source: P, common practice, no source."""
    weights = [static_kn(p.mass_kg.value) for p in ctx.plan.party if p.mass_kg.kind == "known"]
    mu = row("friction", "ring").low
    limit = Number(math.exp(mu * math.pi), "ratio", "down")
    numbers = {"limit": limit}
    text = "On two unblocked strands the rope runs as soon as one side carries {limit} the other's weight, and at once when one unclips. Only with both tethered, or the rope blocked, at every moment."
    if len(weights) > 1:
        numbers["ours"] = Number(max(weights) / min(weights), "ratio", "up")
        text += " In this party the heaviest is {ours} the lightest" + (": it would run." if runs_by_itself(max(weights), min(weights), mu) else ".")
    return (
        Excluded("counterbalance, or lowering on two unblocked strands", Sentence(text, numbers)),
        Excluded("rebelay", Sentence("A rope tied off again on the way down cannot be had back from below.")),
        Excluded("stacked or pre-rigged", Sentence("Not a system of its own: riders' devices are put on whichever rope is rigged, before the first goes. It is planned with the people.")),
    )
