"""Every way to rig one station's rope that the kit allows, side by side: what each does, and what rules the others
out."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from reamer.core.answer.context import Context, figured
from reamer.core.answer.findings import Finding, value
from reamer.core.answer.look import Look, look_at
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.wanted import go_on
from reamer.core.load.asked import runs_by_itself, static_kn
from reamer.core.model import BlockedCord, BlockedSame, Direct, Drop, Known, Lowered, Releasable, Rig, State, System
from reamer.core.plan.edits import Edit, states_after
from reamer.core.plan.station import for_two, with_states
from reamer.core.reach.last import last_system
from reamer.core.reach.need import LEAST_M, LONGEST_M, ride_wanted_m
from reamer.core.rope.strands import CONVERTED, SYSTEM_NAMES, ropes_of
from reamer.core.section.lengths import Lengths
from reamer.core.station.drop import assess_drop
from reamer.core.station.lie import lengths_of, lie_of
from reamer.core.station.state import DropAssessment
from reamer.core.station.ways import candidates, in_view
from reamer.core.tables import row

# Whether it lowers a stuck person, what makes or breaks it, and what the last person is exposed to.
TEXTS = {
    "doubled": ("no", "Both strands are ridden; nothing is blocked", "as everyone"),
    "joined": ("no", "The join must pass every edge on the side that is pulled", "as everyone"),
    "blocked, same rope": (
        "no",
        "Everyone on the right strand; the block stays on its side",
        "as everyone: one strand on a block",
    ),
    "blocked, pull cord": (
        "no",
        "The cord cannot hold a person; the block stays on its side",
        "as everyone: one strand on a block",
    ),
    "releasable": (
        "yes",
        "The reserve stays in the bag at the top, with somebody at it",
        "converts alone, then rides as the last state says",
    ),
    "elastic-release device": (
        "no",
        "Never unload it fully and again on the way down; it snags on edges",
        "as everyone: one strand on the device",
    ),
    "alternating bights": (
        "no",
        "The last bight on the pull strand, clipped for all but the last",
        "the bights unclipped: no redundancy",
    ),
    "lowered": (
        "yes",
        "The belayer's end closed; never over textile",
        "converts alone, then rides as the last state says",
    ),
}


@dataclass(frozen=True, slots=True)
class ComparedWay:
    """One way to rig the rope here.

    spare: least rope to spare of its strands; reserve: past the tie-off; pull: worst force at the hand; weakest: part
    with the least margin on the rope's side and the whole tie; times: that over its demand; ropes: kit used; left: what
    stays behind
    single: single points nobody has accepted, counted; last: what the last person is exposed to; minutes: to rig, low
    and high
    lowers: whether it can lower a stuck person; needs: what makes or breaks it; preferred: by the guide's choice of
    strands
    shortfalls, not_checked: counted over the station; ruled_out: the first shortfall that this way itself has, None if
    none
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

    ways: tuple[ComparedWay, ...]
    excluded: tuple[Excluded, ...]


# So many of the ways with a fault are tried with the act that settles it.
TRIED = 6


Rank = tuple[bool, int, int, int, int, int, float, float]


@dataclass(frozen=True, slots=True)
class _Tried:
    """A way as it was tried: its row and rank, the states and the system it was made of, its own findings, and the tree
    that the rope runs straight round, "" where it does not."""

    way: ComparedWay
    rank: Rank
    states: tuple[State, ...]
    system: System
    own: list[Finding]
    tree: str


@figured
def compare_systems(ctx: Context, index: int, drop: Drop, which: int = 0) -> Comparison:
    """Every system for one station that the kit of the plan allows, the best first.

    ctx: the plan's context; index: the drop's place in the plan, from 0; drop: the drop; which: of its station's
    states, from 0
    returns: the ways: first whether it reaches and comes down again, then what holds, then what remains unchecked, then
        the guide's own order, then the effort; and what is never offered
    Source: P, common practice, no source; see the functions it calls.
    """
    look = look_at(ctx, index, drop, which)
    lengths = lengths_of(look, value(lie_of(look)).by_bound)
    path_m = max((b.high.value for b in lengths.values()), default=0.0)
    ropes, cords, left_out = in_view(look, path_m)
    made: list[_Tried] = []
    refused: list[Excluded] = []
    seen_in_use = look.system.kind == "none"
    for system in candidates(look, path_m, ropes, cords):
        in_use = _same(system, look.system)
        seen_in_use |= in_use
        fitting = look.system if in_use else _long_enough(look, system, lengths)
        if fitting is None:
            name = f"{SYSTEM_NAMES[system.kind]}, {ctx.ropes[ropes_of(system)[0]].name}"
            why = "Its ride strand would be longer than any rope that can be entered."
            refused.append(Excluded(name, Sentence(why)))
            continue
        made += _ways(look, fitting, lengths, in_use)
    if not seen_in_use:
        made += _ways(look, look.system, lengths, True)[:1]
    made.sort(key=lambda m: m.rank)
    # The best of those that have but one fault, and the one in use, are tried with the one act that settles it.
    faulty = [m for m in made if m.rank[1] == 2 or m.rank[2] == 2][:TRIED]
    for m in (*faulty, *(m for m in made if m.way.in_use)):
        better = _mended(look, m)
        if better is not None and m in made:
            made[made.index(m)] = better
    if left_out:
        why = "Too short for this drop, or longer than the shortest that reach; rig one by hand to see it."
        refused.append(Excluded(f"{left_out} ropes and cords more of the kit", Sentence(why)))
    ways = tuple(m.way for m in sorted(made, key=lambda m: m.rank))
    return Comparison(ways, (*_excluded(ctx), *refused) if made else ())


def _same(a: System, b: System) -> bool:
    """Whether two systems are the same way with the same ropes, whatever their details."""
    if isinstance(a, Releasable) and isinstance(b, Releasable):
        return (a.rope, a.reserve_rope) == (b.rope, b.reserve_rope)
    if isinstance(a, Lowered) and isinstance(b, Lowered) and a.belayer != b.belayer:
        return False
    if isinstance(a, BlockedCord) and isinstance(b, BlockedCord):
        return (a.rope, a.cord) == (b.rope, b.cord)
    return a.kind == b.kind and set(ropes_of(a)) == set(ropes_of(b))


def _alone(look: Look, system: System) -> Look:
    """The station with a system that serves everyone."""
    there = look.trying(system)
    return replace(there, state=there.state.model_copy(update={"serves": "all"}))


def _long_enough(look: Look, system: System, lengths: Lengths) -> System | None:
    """A parted rope whose ride strand gets just what it needs; None where no plan can hold such a length."""
    if not isinstance(system, (BlockedSame, Releasable)):
        return system
    need = ride_wanted_m(_alone(look, system), lengths)
    if need is None:
        return system
    if not LEAST_M <= need <= LONGEST_M:
        return None
    return system.model_copy(update={"ride_m": Known(kind="known", value=need, method="tape")})


def _ways(look: Look, system: System, lengths: Lengths, in_use: bool) -> list[_Tried]:
    """A system tried here; a doubled rope also straight round a tree."""
    states = _states(look, system, lengths, in_use)
    if states is None:
        return []
    made = [_tried(look, states, system, in_use)]
    rig = _round_a_tree(look) if system.kind == "doubled" else None
    if rig is not None:
        there = tuple(s.model_copy(update={"rig": rig}) if i == look.which else s for i, s in enumerate(states))
        made.append(_tried(look, there, system, False, rig.anchor))
    return made


def _states(look: Look, system: System, lengths: Lengths, in_use: bool) -> tuple[State, ...] | None:
    """The station with this system in one of its states; one that must be converted gets a state for the last
    person."""
    states = look.station.states
    state = states[look.which].model_copy(update={"system": system})
    if in_use or system.kind not in CONVERTED:
        return tuple(state if i == look.which else s for i, s in enumerate(states))
    if len(states) == 2:
        return (state, states[1]) if look.which == 0 else None
    last = last_system(_alone(look, system), lengths)
    return (state,) if last is None else for_two(state, system, last)


def _round_a_tree(look: Look) -> Direct | None:
    """The rope straight round a tree of the station, where it runs through a ring now."""
    rig = look.rig
    tree = next((f.id for f in look.station.features if f.kind == "post" and f.what == "tree"), None)
    if rig.kind == "none" or rig.ring is None or tree is None:
        return None
    gain = Known(kind="known", value=row("ropes", "round.reach").high, method="given")
    return Direct(kind="direct", anchor=tree, ring=None, gain_m=gain)


# Findings about whether a way reaches, and whether it comes down again.
REACHES = ("reach", "system", "end", "device")
REACH_CODES = ("rope.too-short", "rope.outside", "rope.length", "release.reserve", "ring.small")
COMES_DOWN = ("pull", "deviation")
DOWN_CODES = ("release.convert", "rope.passed", "block.side", "join.pull")


def _rank(own: list[Finding], way: ComparedWay, look: Look) -> Rank:
    """How good a way is: it reaches and comes down again; strength; what remains unchecked, and what to look at again;
    the guide's own order; effort."""

    def at(code: str) -> bool:
        return code.split(".")[0] in (*REACHES, *COMES_DOWN) or code in (*REACH_CODES, *DOWN_CODES)

    def grade(some: list[Finding]) -> int:
        short = sum(1 for f in some if f.severity == "Shortfall")
        return 2 * short if short else 1 if any(f.severity == "Not checked" for f in some) else 0

    policies, novices = look.policies, any(p.role == "novice" for p in look.plan.party)
    doubled, let_out = way.kind.startswith(("doubled", "two ropes")), way.kind.startswith("releasable")
    wanted = policies.releasable == "always" or (policies.releasable == "for novices" and novices)
    other = (policies.strands == "doubled") != doubled and not (wanted and let_out)
    return (
        way.spare is not None and way.spare.value < 0,
        grade([f for f in own if at(f.code)]),
        grade([f for f in own if not at(f.code)]),
        sum(1 for f in own if f.severity == "Not checked"),
        sum(1 for f in own if f.severity == "Caution"),
        int(wanted and not let_out) + int(other),
        way.minutes[1].value,
        way.pull.value if way.pull else math.inf,
    )


def _mended(look: Look, tried: _Tried) -> _Tried | None:
    """A way with the one act that settles its only fault; None where there is none."""
    short = [f for f in tried.own if f.severity == "Shortfall"]
    if len(short) != 1 or short[0].fix is None:
        return None
    states = states_after(tried.states, look.states_place, short[0].fix.edits)
    if states is None:
        return None
    return _tried(look, states, tried.system, tried.way.in_use, tried.tree, short[0].fix.label)


def _own(whole: DropAssessment, serves: str, system: System) -> list[Finding]:
    """Findings of a way itself, not of what it is tied to. What is converted for the last person is not better than
    what they then have."""
    serving = {"", serves} | ({"last"} if system.kind in CONVERTED else set())
    tie = ("anchor", "webbing", "point", "leg", "link", "loop", "section", "edge")
    return [f for f in whole.findings if f.subject.state in serving and f.subject.part.split(".")[0] not in tie]


def _tried(
    look: Look, states: tuple[State, ...], system: System, in_use: bool, tree: str = "", fix: Sentence | None = None
) -> _Tried:
    """One way as it stands: its rank, its row, and what it was made from."""
    go_on()
    whole = assess_drop(look.ctx, look.index, with_states(look.drop, *states), fixes=False, fields=False)
    own, a = _own(whole, states[look.which].serves, system), whole.last if look.which == 1 and whole.last else whole
    spares = [r.spare for r in a.reach if r.role != "reserve"]
    known = [s for s in spares if s is not None]
    weakest = next((p for p in a.parts if p.weakest), None)
    ropes, (lowers, needs, last) = (
        tuple(look.ctx.ropes[i].name for i in ropes_of(system) if i in look.ctx.ropes),
        TEXTS[system.kind],
    )
    pull = whole.last.pull if system.kind in CONVERTED and whole.last else a.pull
    name = _name(look, system, tree)
    way = ComparedWay(
        key="|".join((name, *ropes)),
        kind=name,
        ropes=ropes,
        in_use=in_use,
        spare=min(known, key=lambda n: n.value) if known and len(known) == len(spares) else None,
        reserve=next((r.low for r in a.reach if r.role == "reserve"), None),
        pull=pull.worst,
        band=pull.band,
        weakest=weakest.name if weakest else "",
        times=weakest.times if weakest else None,
        left=_left(look, states[look.which].rig),
        single=sum(1 for p in a.parts if p.single and not p.accepted),
        last=last,
        minutes=minutes_to_rig(system),
        lowers=lowers,
        needs="It rubs far more than a ring, and the bark suffers" if tree else needs,
        preferred=(system.kind in ("doubled", "joined")) == (look.policies.strands == "doubled"),
        shortfalls=whole.tally["Shortfall"],
        not_checked=whole.tally["Not checked"],
        ruled_out=next((f.title for f in own if f.severity == "Shortfall"), None),
        open=next((f.title for f in own if f.severity == "Not checked"), None),
        edits=_edits(look, states, tree) if not in_use or fix is not None else (),
        fix=fix,
    )
    if fix is not None:
        way = replace(way, edits=(look.states_place.set(states),))
    return _Tried(way, _rank(own, way, look), states, system, own, tree)


def rank_of(look: Look, states: tuple[State, ...], in_use: bool) -> Rank:
    """Where a way stands in the order of the comparison.

    look: the station's first state; states: as they would be; in_use: as they are
    returns: its rank, the less the better
    Source: see _rank.
    """
    return _tried(look, states, states[0].system, in_use).rank


def _name(look: Look, system: System, tree: str) -> str:
    """What a way is called."""
    name = SYSTEM_NAMES[system.kind]
    feature = look.feature(tree) if tree else None
    if feature is not None:
        name += f" straight round {feature.name}"
    if isinstance(system, Lowered) and system.belayer == "below":
        name += ", from below"
    if isinstance(system, Releasable) and system.reserve_rope is not None:
        name += ", a second joined on"
    return name


def minutes_to_rig(system: System) -> tuple[Number, Number]:
    """How long it takes to rig, with the conversion for the last person.

    system: any but none
    returns: low and high [min]
    Source: J, table of times.
    """
    times = [row("times", f"rig.{system.kind}")] + ([row("times", "convert")] if system.kind in CONVERTED else [])
    low, high = sum(t.low for t in times), sum(t.high for t in times)
    return Number(low, "minutes", "down"), Number(high, "minutes", "up")


def _edits(look: Look, states: tuple[State, ...], tree: str) -> tuple[Edit, ...]:
    """What adopts a way: its system, and its tie where that is another; or both states, where there is one more."""
    if len(states) != len(look.station.states):
        return (look.states_place.set(states),)
    state = states[look.which]
    system = look.place.at(lambda s: s.system).set(state.system)
    return (system, look.place.at(lambda s: s.rig).set(state.rig)) if tree else (system,)


def _left(look: Look, rig: Rig) -> str:
    """What of the tie stays behind: none of these systems leaves more than the tie."""
    if rig.kind == "none":
        return "nothing is tied yet"
    things, feature = [], look.feature(rig.anchor) if rig.kind == "direct" else None
    if rig.kind in ("wrap", "two posts"):
        things = ["webbing"]
    elif rig.kind == "several":
        things = ["what joins the points"]
    elif feature is not None and feature.kind == "ice thread" and feature.cord:
        things = ["the cord in the thread"]
    ring = look.ctx.rings.get(rig.ring or "")
    if ring is not None:
        things.append(ring.name)
    things += [{"sling": "a sling", "connector": "a connector", "webbing": "webbing"}[link.kind] for link in rig.links]
    return ", ".join(dict.fromkeys(things)) or "nothing"


def _excluded(ctx: Context) -> tuple[Excluded, ...]:
    """Ways that are never offered. Source: P, common practice, no source."""
    weights = [static_kn(kg) for p in ctx.plan.party if (kg := p.mass_kg.known) is not None]
    mu = row("friction", "ring").low
    numbers = {"limit": Number(math.exp(mu * math.pi), "ratio", "down")}
    text = (
        "On two unblocked strands the rope runs as soon as one side carries {limit} the other's weight, and at once"
        " when one unclips. Only with both tethered, or the rope blocked, at every moment."
    )
    if len(weights) > 1:
        numbers["ours"] = Number(max(weights) / min(weights), "ratio", "up")
        runs = runs_by_itself(max(weights), min(weights), mu)
        text += " In this party the heaviest is {ours} the lightest" + (": it would run." if runs else ".")
    stacked = (
        "Not a system of its own: riders' devices are put on whichever rope is rigged, before the first goes."
        " It is planned with the people."
    )
    return (
        Excluded("counterbalance, or lowering on two unblocked strands", Sentence(text, numbers)),
        Excluded("rebelay", Sentence("A rope tied off again on the way down cannot be had back from below.")),
        Excluded("stacked or pre-rigged", Sentence(stacked)),
    )
