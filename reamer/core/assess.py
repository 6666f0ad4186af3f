"""The one front door: a plan in, everything there is to say about it out. Pure and deterministic."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from reamer.core.aids import AidLoad, Aside, aids, caught
from reamer.core.blocks import block_findings, join_at_ring, through_ring
from reamer.core.context import Context, context, figured
from reamer.core.courtesy import edge_of
from reamer.core.cutting import WebbingAssessment, webbing_assessments
from reamer.core.findings import Finding, Findings, Severity, said_once, tally
from reamer.core.inspection import inspect, used
from reamer.core.loads import rider_load, two_riders
from reamer.core.mass import Ice
from reamer.core.model import Drop, Plan, Rig, Ring, State
from reamer.core.part import Part
from reamer.core.patterns import Bench, PatternRow, compare, reach_m
from reamer.core.polyline import Point
from reamer.core.pull import Curve, Pull, curve, over_edge, pull_findings, pull_of
from reamer.core.pull_tests import PullTestAssessment, pull_test
from reamer.core.reach import Bounded, Reach, Water, how_much_longer, paths, reach, water_findings
from reamer.core.retrieval import Retrieval, answer, retrieval, retrieval_findings
from reamer.core.rider import TetherAssessment, rider_findings, tether_assessments
from reamer.core.riding import riding_findings
from reamer.core.rope import real_length
from reamer.core.say import Number, Sentence, words
from reamer.core.section import LEAST_TURN_RAD, Lines, Terrain, height_m, lines, terrain
from reamer.core.several import SeveralView, TwoPostsView
from reamer.core.strength import LoadPath, bar, load_path
from reamer.core.systems import SYSTEM_NAMES, Strand, strands
from reamer.core.tables import row
from reamer.core.working import Book, Term, Working

NOT_COVERED = (
    "rope in a current",
    "harnesses, and how each knot is tied and dressed",
    "backups and who is held by what",
    "rope wear over edges, rock fall, weather and flow",
)
VERDICT = "No shortfall found in what was checked."


@dataclass(frozen=True, slots=True)
class TerrainPoint:
    """One point of the section and what it is: anchor, edge, shot or landing."""

    x_m: float
    z_m: float
    kind: str
    edge: str


@dataclass(frozen=True, slots=True)
class ContactView:
    """Where the taut line bears on rock, how far it turns there and how sharp it is; the edge is where it turns most."""

    x_m: float
    z_m: float
    kind: Literal["edge", "contact"]
    turn: Number
    edge: str
    index: int


@dataclass(frozen=True, slots=True)
class Geometry:
    """What there is to draw, in metres. ``missing`` names the figures without which it is not whole."""

    terrain: tuple[TerrainPoint, ...]
    missing: tuple[str, ...]
    low: tuple[Point, ...]
    high: tuple[Point, ...]
    landing: str
    post_radius_m: float | None
    post_name: str
    tie: tuple[Point, ...]
    ring: Point | None
    taut: tuple[Point, ...]
    draped: tuple[Point, ...]
    contacts: tuple[ContactView, ...]
    recess: Number | None
    edge_z_m: float | None
    height: Number | None


@dataclass(frozen=True, slots=True)
class DropAssessment:
    """One drop: what to draw, what to say first, reach and load path, findings worst first.

    verdict: the most that may be said of it, "" where there is a shortfall or nothing could be checked.
    pull: whether the rope comes down; retrieval: the side to pull, what comes first, what may catch; longer: how much longer the
    drop could be and still be reached; water: what to pay out over moving water; aids: loads on deviations and traverse lines;
    aside: what holds a rider to a landing off to the side; several, two, ice: the anchor as computed, of several points, of two posts, or of ice
    cuts: by webbing id what this state takes, None where unknown; wide: what is said once for the plan and holds here too
    state: whom it serves; last: the same drop as the last person finds it, where the station has two states. Findings, tally
    and verdict are then those of both.
    """

    id: str
    name: str
    number: int
    height: Number | None
    system: str
    answer: Sentence
    taut: Bounded | None
    draped: Bounded | None
    reach: tuple[Reach, ...]
    parts: tuple[Part, ...]
    angle: Number | None
    cut: Number | None
    bench: Bench | None
    several: SeveralView | None
    two: TwoPostsView | None
    ice: Ice | None
    pull: Pull
    retrieval: Retrieval
    longer: Number | None
    water: Water | None
    aids: tuple[AidLoad, ...]
    aside: Aside | None
    geometry: Geometry
    findings: tuple[Finding, ...]
    tally: dict[Severity, int]
    verdict: str
    state: str
    cuts: tuple[tuple[str, Number | None], ...] = ()
    wide: tuple[Finding, ...] = ()
    last: DropAssessment | None = None


@dataclass(frozen=True, slots=True)
class RopeAssessment:
    """A rope of the shed: its real length, low and high, or why it is unknown."""

    id: str
    low: Number | None
    high: Number | None
    why: str


@dataclass(frozen=True, slots=True)
class Assessment:
    """The whole plan: its drops, its shed, findings about the whole, the tally of all, and what was not covered.

    ``workings`` are by subject: a drop's id, or "" for the shed. They are left out where the caller asks for less.
    """

    drops: tuple[DropAssessment, ...]
    ropes: tuple[RopeAssessment, ...]
    webbing: tuple[WebbingAssessment, ...]
    tethers: tuple[TetherAssessment, ...]
    pull_tests: tuple[PullTestAssessment, ...]
    findings: tuple[Finding, ...]
    tally: dict[Severity, int]
    total_height: Number
    heights_unknown: int
    verdict: str
    not_covered: tuple[str, ...]
    workings: dict[str, tuple[Working, ...]]


def _geometry(made: dict[str, Terrain], by_bound: dict[str, Lines] | None, path: LoadPath | None, drop: Drop, state: State,
              height: Number | None, book: Book) -> Geometry:
    nominal = made["nominal"]
    points = tuple(TerrainPoint(x, z, k, e) for (x, z), k, e in zip(nominal.points, nominal.kinds, nominal.edges))
    bench = path.wrap.bench if path and path.wrap else None
    post = bench.radius_m if bench else None
    features = used(_only(drop, state).station)
    name = features[0].name if len(features) == 1 else f"{len(features)} points" if features else ""
    both = () if nominal.missing else (made["low"].points, made["high"].points)
    low, high = both if both else ((), ())
    if by_bound is None:
        return Geometry(points, nominal.missing, low, high, drop.landing.kind, post, name, (), None, (), (), (), None,
                        None, height)
    at = by_bound["nominal"]
    contacts = []
    most = max((c.turn_rad for c in at.taut.contacts), default=0.0)
    for i, c in enumerate(at.taut.contacts):
        turn = _turn(at.taut.points[i:i + 3], c.turn_rad, i + 1, book)
        contacts.append(ContactView(c.x_m, c.z_m, "edge" if c.turn_rad == most else "contact", turn, nominal.edges[c.index], c.index))
    recess = Number(at.taut.recess_m, "length", "up") if at.taut.recess_m > 0 else None
    return Geometry(points, nominal.missing, low, high, drop.landing.kind, post, name,
                    at.tie, at.ring, at.taut.points, at.draped.points, tuple(contacts),
                    recess, nominal.points[-1][1] + height.value if height else None, height)


def _verdict(findings: tuple[Finding, ...], reached: tuple[Reach, ...], parts: tuple[Part, ...]) -> str:
    """The most that may be said: nothing where there is a shortfall, or where nothing could be checked."""
    checked = any(r.spare for r in reached) or any(p.verdict != "Not checked" for p in parts)
    return "" if not checked or any(f.severity == "Shortfall" for f in findings) else VERDICT


def _tie_edges(by_bound: dict[str, Lines] | None) -> tuple[tuple[float, str], ...]:
    """Each terrain point that the tie bears on before the ring: how far along it is, and how sharp."""
    if by_bound is None:
        return ()
    at, made, along = by_bound["nominal"], [], 0.0
    for before, p in zip(at.tie, at.tie[1:-1]):
        along += math.dist(before, p)
        n = at.terrain.points.index(p)
        made.append((along, "rounded" if at.terrain.pads and at.terrain.pads[n] else at.terrain.edges[n]))
    return tuple(made)


def _turn(points: tuple[Point, ...], value: float, n: int, book: Book) -> Number:
    (x0, z0), (x1, z1), (x2, z2) = points
    terms = [Term(symbol, name, length, "fine length", "section") for symbol, name, length in (
        ("x1", "out, piece before", x1 - x0), ("y1", "down, piece before", z0 - z1),
        ("x2", "out, piece after", x2 - x1), ("y2", "down, piece after", z1 - z2))]
    return book.number(f"turn.{n}", f"turn at contact {n}", "atan2(x1, y1) - atan2(x2, y2)", terms, value, "angle")


@figured
def assess_drop(ctx: Context, index: int, drop: Drop, fixes: bool = True) -> tuple[DropAssessment, Book]:
    """One drop of a plan.

    ctx: the plan's context; index: the drop's place in the plan, from 0; drop: the drop, which may be a draft
    fixes: whether to look for fixes that have to be tried out, and to keep workings; without, all else is the same
    returns: the assessment and its workings
    Source: see the functions it calls.
    """
    book, found = Book(keeps=fixes), Findings(drop.id, fixes=fixes)
    states = drop.station.states
    inspect(drop.station, ctx.plan.on, found)
    if len(states) > 1:
        found.state = states[0].serves
    first = _assess_state(ctx, index, drop, 0, found, book)
    if len(states) == 1:
        return first, book
    other, more = Book("last.", fixes), Findings(drop.id, "last", fixes=fixes)
    last = _assess_state(ctx, index, drop, 1, more, other)
    book.workings.update(other.workings)
    # What holds for both states is said once, of the station.
    ours, theirs = ({(f.code, f.subject.part, words(f.title), words(f.reason)): f for f in d.findings} for d in (first, last))
    both = [replace(f, subject=replace(f.subject, state="")) if k in theirs else f for k, f in ours.items()]
    findings = Findings(drop.id, found=[*both, *(f for k, f in theirs.items() if k not in ours)]).worst_first()
    # The party's rope is no use where the last person's no longer reaches.
    longer = None if first.longer is None or last.longer is None else min(first.longer, last.longer, key=lambda n: n.value)
    return replace(first, last=last, longer=longer, findings=findings, tally=_tally(findings, (*first.wide, *last.wide)),
                   verdict=VERDICT if first.verdict and last.verdict else ""), book


def _tally(findings: tuple[Finding, ...], wide: tuple[Finding, ...] | list[Finding]) -> dict[Severity, int]:
    """A drop's own tally: what is not checked or short here counts here too where it is said once for the plan."""
    here = {(f.code, words(f.title)): f for f in wide if f.severity in ("Shortfall", "Not checked")}
    return tally([*findings, *here.values()])


def _assess_state(ctx: Context, index: int, drop: Drop, which: int, found: Findings, book: Book) -> DropAssessment:
    state = drop.station.states[which]
    at = ("drops", index, "station", "states", which)
    made = _terrains(ctx, drop)
    by_bound = _lines(made, state, found)
    _edge_findings(made["nominal"], by_bound, drop, state, found)
    height = None
    if not made["nominal"].missing:
        height = ctx.once(("height", drop.id), (made["nominal"],), book, lambda own: _height(made["nominal"], own))
    load = rider_load(ctx, found, book)
    if state.serves != "last":
        load = two_riders(ctx, drop.station, load, found, book)
    hanging = strands(state.system, ctx, found, book, (*at, "system"))
    path = load_path(drop.station, state, hanging, load, ctx, found, book, (*at, "rig"), _tie_edges(by_bound), _runs(by_bound))
    reached: tuple[Reach, ...] = ()
    lengths: dict[str, Bounded] = {}
    only = _only(drop, state)
    held, aside = aids(ctx, drop, load, height, found, book)
    caught(drop, state, hanging, found)
    water = None
    if by_bound is not None and drop.landing.aside_m.kind == "known":
        lengths = ctx.once(("paths", drop.id), (*by_bound.values(), drop.landing.aside_m), book, lambda own: paths(by_bound, drop.landing.aside_m, own))
        reached = reach(only, hanging, by_bound, lengths, load, ctx, found, book, (*at, "system"))
        water = water_findings(ctx, reached, only, lengths, found, book, (*at, "system"))
    riding_findings(ctx, index, drop, which, hanging, path.ring, lengths, found, book)
    _blocks(ctx, drop, state, path.ring, hanging, found, book, at)
    # The pull is judged in the state of whoever goes last.
    pulled = found if state.serves != "party" else Findings(drop.id, found.state, False)
    pull = _pull(drop, state, hanging, by_bound, pulled, book, (*at, "rig"))
    retrieval_findings(ctx, index, drop, which, hanging, pull, found, pulled, book)
    down = retrieval(ctx, index, drop, which, hanging, pull, by_bound["nominal"] if by_bound else None)
    geometry = ctx.once(("geometry", drop.id), (made["nominal"], by_bound and by_bound["nominal"], path.wrap, drop.landing, drop.station.features, state.rig, height), book,
                        lambda own: _geometry(made, by_bound, path, drop, state, height, own))
    findings = found.worst_first()
    wrap = path.wrap
    cut = wrap.cut if wrap else path.several.cut if path.several else path.two.cut if path.two else None
    return DropAssessment(
        drop.id, drop.name, index + 1, height, SYSTEM_NAMES[state.system.kind], answer(state.system, down.side, ctx),
        lengths.get("taut"), lengths.get("draped"), reached, path.parts, wrap.angle if wrap else path.several.angle if path.several else None,
        cut, wrap.bench if wrap else None, path.several, path.two, path.ice, pull, down,
        how_much_longer(reached, only, book), water, held, aside, geometry,
        findings, _tally(findings, found.wide), _verdict(findings, reached, path.parts), state.serves, path.cuts, tuple(found.wide))


def _blocks(ctx: Context, drop: Drop, state: State, ring: Ring | None, hanging: list[Strand], found: Findings, book: Book, at: tuple[str | int, ...]) -> None:
    """Whether the block, or the join, fits the ring."""
    through_ring(hanging, ring, found)
    if state.system.kind.startswith("blocked") and hanging:
        block_findings(state.system, hanging[0].rope, ring, found, book, (*at, "system"))
    elif state.system.kind == "alternating bights" and state.system.block_holds.kind == "unknown":
        found.add("block.unchecked", "Not checked", "block", "What the chain of bights holds is not known", "The tables have nothing for it. Enter what you have pulled yourselves.")
    elif state.system.kind == "elastic-release device" and hanging:
        device = next((d for d in ctx.plan.shed.devices if d.id == state.system.device), None)
        if device is not None and device.rating_kn.kind == "unknown":
            found.add("block.unchecked", "Not checked", "block", "What {device} holds is not known", "Everyone hangs on it. Enter its rating under Shed.", words={"device": device.name})
    elif state.system.kind == "joined" and len(hanging) == 2 and state.rig.kind != "none" and (ring is not None or state.rig.ring is None):
        over = ring.name if ring is not None else next((f.name for f in drop.station.features if f.id == state.rig.anchor), "what it runs round")
        join_at_ring(state.system, hanging[0].rope, hanging[1].rope, ring, over, ctx.plan.shed.rings, found, book, at)


def _pull(drop: Drop, state: State, hanging: list[Strand], by_bound: dict[str, Lines] | None, found: Findings,
          book: Book, at: tuple[str | int, ...]) -> Pull:
    """Whether the rope comes down, and what would help."""
    nominal = by_bound["nominal"] if by_bound else None
    edge = edge_of(nominal.terrain) if nominal else None
    reach = reach_m(state.rig) if state.rig.kind != "none" else None
    pull = pull_of(drop, drop.station, state, hanging, nominal, None, None, book) if not found.fixes else None
    if pull is None or pull.band in ("hard", "stuck"):
        moved = over_edge(nominal, lambda gain: lines(nominal.terrain, gain), edge[0] if edge else None, reach, row("loads", "courtesy.over").high) if getattr(state.rig, "ring", None) is not None else (None, None)
        pull = pull_of(drop, drop.station, state, hanging, nominal, *moved, book)
    if state.system.kind != "none" and state.rig.kind != "none" and nominal is not None:
        back = edge is not None and reach is not None and reach < edge[0] and edge[1] in ("coarse", "sharp")
        pull_findings(pull, drop, state, back, found, at)
    return pull


def _only(drop: Drop, state: State) -> Drop:
    """The drop with one state of its station."""
    return drop.model_copy(update={"station": drop.station.model_copy(update={"states": (state,)})})


def _runs(by_bound: dict[str, Lines] | None) -> tuple[float, float] | None:
    """The rope's first piece below the ring, out and up."""
    if by_bound is None or len(by_bound["nominal"].taut.points) < 2:
        return None
    (x0, z0), (x1, z1) = by_bound["nominal"].taut.points[:2]
    return x1 - x0, z1 - z0


def _height(made: Terrain, book: Book) -> Number:
    value = height_m(made)
    low = made.points[-1][1]
    return book.number("height", "height, edge to landing level", "z1 - z0",
                       [Term("z1", "the edge's level", value + low, "fine length", "section"),
                        Term("z0", "the landing's level", low, "fine length", "section")], value, "length")


def _terrains(ctx: Context, drop: Drop) -> dict[str, Terrain]:
    """The drop's terrain at each bound, worked out once for all that is compared on one section."""
    key = ("section", drop.id)
    if key not in ctx.kept or ctx.kept[key][0] is not drop.section:
        ctx.kept[key] = drop.section, {b: terrain(drop.section, b) for b in ("low", "nominal", "high")}
    return ctx.kept[key][1]


@figured
def path_lengths(ctx: Context, drop: Drop, which: int = 0) -> dict[str, Bounded]:
    """Lengths of both lines of one drop as it is rigged.

    ctx: the plan's context; drop: the drop; which: of its states, from 0
    returns: as for ``paths``, empty where they are not known [m]
    Source: as for ``paths``.
    """
    by_bound = _lines(_terrains(ctx, drop), drop.station.states[which], Findings(drop.id))
    return paths(by_bound, drop.landing.aside_m, Book()) if by_bound is not None and drop.landing.aside_m.kind == "known" else {}


def _lines(made: dict[str, Terrain], state: State, found: Findings) -> dict[str, Lines] | None:
    missing = made["nominal"].missing
    if missing:
        found.add("section.unknown", "Not checked", "section", "The section is not whole",
                  "Not measured: {missing}. Reach is not checked.", words={"missing": ", ".join(missing)})
        return None
    rig = state.rig
    gain = 0.0
    if rig.kind != "none":
        out = reach_m(rig)
        if out is None or (rig.kind == "several" and rig.up_m.kind == "unknown"):
            found.add("section.unknown", "Not checked", "section", "Where the ring hangs is unknown",
                      "The reach of the tie is not entered. Reach is not checked.")
            return None
        gain = out
    level = _level(rig)
    by_bound = {}
    for bound, t in made.items():
        got = lines(t, gain, level)
        if got is None:
            found.add("ring.beyond", "Shortfall", "ring", "The ring would hang at or below the landing",
                      "The tie reaches {gain}; the whole path from the anchor is shorter.",
                      numbers={"gain": Number(gain, "fine length")})
            return None
        by_bound[bound] = got
    recess = by_bound["nominal"].taut.recess_m
    if recess > 0:
        found.add("section.recess", "Note", "section", "The landing lies {o} back under the last lip",
                  "The rope hangs free below the lip; riders must be drawn in, and the rope counted is longer.",
                  numbers={"o": Number(recess, "length", "up")})
    return by_bound


def _level(rig: Rig) -> float:
    """The height that several points hold the ring at, its links hanging down from the focal point; of other rigs none of its own."""
    if rig.kind != "several" or rig.up_m.kind == "unknown":
        return -math.inf
    return rig.up_m.value - sum(link.reach_m.value for link in rig.links if link.reach_m.kind == "known")


def _edge_findings(nominal: Terrain, by_bound: dict[str, Lines] | None, drop: Drop, state: State, found: Findings) -> None:
    """How sharp the rock is where a loaded rope bears. Source: J, our judgement: a single strand that moves under load is cut soonest."""
    if by_bound is None:
        return
    bent = [c for c in by_bound["nominal"].taut.contacts if c.turn_rad > LEAST_TURN_RAD]
    sharp = [c for c in bent if nominal.edges[c.index] == "sharp" and not (nominal.pads and nominal.pads[c.index])]
    padded = [c for c in bent if nominal.pads and nominal.pads[c.index]]
    moves = state.system.kind in ("lowered", "releasable") or (drop.landing.aside_m.kind == "known" and drop.landing.aside_m.value > 0) or bool(drop.station.deviations)
    single = state.system.kind not in ("doubled", "joined", "none")
    if sharp and state.system.kind != "none":
        worse = single and moves
        found.add("edge.sharp", "Shortfall" if worse else "Caution", "edge", "The rope bears on {n} sharp edges" if len(sharp) > 1 else "The rope bears on a sharp edge",
                  ("A single strand that is let out or swings over it under load may be cut through. " if worse else "Loaded, it may be cut. ") + "Pad it, move the ring past it, or hang the rope elsewhere.", numbers={"n": Number(len(sharp), "count")})
    if padded and state.system.kind != "none":
        found.add("edge.sharp", "Note", "edge", "A pad lies under the rope", "Tie it so that it stays there, and say who brings it down: it does not come with the rope.")
    unknown = [c for c in bent if nominal.edges[c.index] == "unknown"]
    if unknown:
        found.add("edge.unknown", "Not checked", "edge", "How sharp the rock is where the rope bears is unknown",
                  "{n} of the contacts nobody has looked at.", numbers={"n": Number(len(unknown), "count")})


@figured
def pull_curve(ctx: Context, index: int, drop: Drop, which: int = 0) -> Curve:
    """The whole pull of one drop: force at the hand against rope pulled.

    ctx: the plan's context; index: the drop's place, from 0; drop: the drop; which: of its station's states, from 0
    returns: points from the start to the end passing the ring, none if it is not known [N, m]
    Source: as for pull.curve.
    """
    state, aside = drop.station.states[which], Findings(drop.id)
    by_bound = _lines(_terrains(ctx, drop), state, aside)
    hanging = strands(state.system, ctx, aside, Book(), ("drops", index))
    return curve(drop, drop.station, state, hanging, by_bound["nominal"] if by_bound else None)


@figured
def compare_patterns(ctx: Context, drop: Drop, which: int = 0) -> tuple[PatternRow, ...]:
    """Every pattern for the post, webbing, ring and focal point of one drop's tie.

    ctx: the plan's context; drop: the drop; which: of its station's states, from 0
    returns: one row a pattern, none if the station is not tied round a post with webbing that is there
    Source: as for patterns.wrapped.
    """
    rig = drop.station.states[which].rig
    webbing = (ctx.webbing.get(rig.webbing) or ctx.slings.get(rig.webbing)) if rig.kind == "wrap" else None
    if webbing is None:
        return ()
    post = next((f for f in drop.station.features if f.id == rig.post and f.kind == "post"), None)
    if post is None:
        return ()
    return compare(rig, post, webbing, bar(rig, ctx), drop.station.wet, ctx.plan.policies.retention)


@figured
def assess(plan: Plan, fixes: bool = True) -> Assessment:
    """Everything there is to say about a plan.

    plan: the plan; fixes: whether to look for fixes that have to be tried out, and to keep workings
    returns: the assessment, the same for the same plan
    Source: see the functions it calls.
    """
    ctx = context(plan)
    drops, workings = [], {}
    for i, drop in enumerate(plan.drops):
        done, book = assess_drop(ctx, i, drop, fixes)
        drops.append(done)
        workings[drop.id] = tuple(book.workings.values())
    shed, findings, shed_book = _whole(ctx, drops, {d.id: _cuts(d) for d in drops})
    workings[""] = tuple(shed_book.workings.values())
    heights = [d.height.value for d in drops if d.height]
    wide = said_once([f for d in drops for s in (d, d.last) if s for f in s.wide])
    findings = Findings("", found=[*findings, *wide]).worst_first()
    all_findings = [f for d in drops for f in d.findings] + list(findings)
    return Assessment(tuple(drops), *shed, findings, tally(all_findings), Number(sum(heights), "length"),
                      len(drops) - len(heights),
                      VERDICT if drops and all(d.verdict for d in drops) else "", NOT_COVERED, workings)


@figured
def workings_of(ctx: Context, done: Assessment, index: int | None) -> tuple[Working, ...]:
    """The workings behind one drop's numbers, or the shed's, made anew.

    ctx: the plan's context; done: its assessment; index: the drop's place, from 0, None for the shed
    returns: the workings
    Source: as for ``assess``.
    """
    if index is not None:
        return tuple(assess_drop(ctx, index, ctx.plan.drops[index])[1].workings.values())
    return tuple(_whole(ctx, list(done.drops), {d.id: _cuts(d) for d in done.drops})[2].workings.values())


def _cuts(d: DropAssessment) -> tuple[tuple[str, Number | None], ...]:
    """What a station takes of each webbing: of two states the last person's piece only where it is another."""
    if d.last is None:
        return d.cuts
    seen = {(w, c.value if c else None) for w, c in d.cuts}
    return d.cuts + tuple((w, c) for w, c in d.last.cuts if (w, c.value if c else None) not in seen)


def _bold_figures(ctx: Context, done: list[DropAssessment], found: Findings) -> None:
    """Own figures against the tables': one caution for the plan where they raise what a part holds, or lower what is asked of it."""
    plan = ctx.plan
    if not (plan.own_figures or plan.shed.own_figures):
        return
    bare = context(plan.model_copy(update={"own_figures": (), "shed": plan.shed.model_copy(update={"own_figures": ()})}))
    touched = []
    for i, (drop, ours) in enumerate(zip(plan.drops, done, strict=True)):
        theirs = assess_drop(bare, i, drop, fixes=False)[0]
        if any(_milder(a, b) for a, b in zip((ours, ours.last), (theirs, theirs.last)) if a is not None and b is not None):
            touched.append(drop)
    if touched:
        names = ", ".join(f"{n} {d.name}" for n, d in ((plan.drops.index(t) + 1, t) for t in touched[:6])) + (f" and {len(touched) - 6} more" if len(touched) > 6 else "")
        found.add("figure.bold", "Caution", "figures", "Own figures raise what parts hold, or lower what is asked of them", "They do so at {drops}. Nobody but you stands for them.", words={"drops": names})


def _milder(ours: DropAssessment, theirs: DropAssessment) -> bool:
    """Whether own figures make anything of one drop look better than the tables do."""
    def better(a: Number | None, b: Number | None, sign: float) -> bool:
        return a is not None and b is not None and sign * (a.value - b.value) > 1e-9

    was = {p.key: p for p in theirs.parts}
    return any(better(p.low, was[p.key].low, 1) or better(p.required, was[p.key].required, -1) for p in ours.parts if p.key in was) \
        or any(better(r.low, s.low, 1) or better(r.need, s.need, -1) for r, s in zip(ours.reach, theirs.reach)) or better(ours.pull.worst, theirs.pull.worst, -1)


def _whole(ctx: Context, done: list[DropAssessment], cuts: dict[str, tuple[tuple[str, Number | None], ...]]) -> tuple[tuple[tuple, ...], tuple[Finding, ...], Book]:
    """What is to be said of the plan as a whole: its shed and its party. The shed's ropes, webbing, tethers and tests."""
    plan, book, found, ropes = ctx.plan, Book(), Findings(""), []
    if not plan.drops:
        found.add("plan.empty", "Not checked", "plan", "The plan has no drops", "Add the first one.")
    for own in (*plan.shed.own_figures, *plan.own_figures):
        # The table's own row may be in another unit than a quantity shown: the words carry the plain figures.
        found.add("figure.own", "Note", "figures", "Own figure for {name}: {low} to {high}", "{reason}", words={
            "name": row(own.table, own.key).name, "low": f"{own.low:g}", "high": f"{own.high:g}", "reason": own.reason})
    _bold_figures(ctx, done, found)
    margin, least = plan.policies.margin, row("loads", "margin.peak")
    if margin.kind == "own" and margin.times < least.high:
        found.add("margin.low", "Caution" if margin.reason else "Shortfall", "plan", "The margin of this plan is {ours} instead of {least}",
                  "{why}", numbers={"ours": Number(margin.times, "ratio", "down"), "least": Number(least.high, "ratio", "up")}, words={"why": margin.reason or "No reason is given for it: say why, or follow the table."})
    if plan.on is None and any(i.on is not None for d in plan.drops for i in d.station.inspections):
        found.add("inspection.old", "Not checked", "plan", "How old the records of what was found in place are is not checked", "The plan has no date.")
    for rope in plan.shed.ropes:
        length = real_length(rope, book)
        if isinstance(length, tuple):
            ropes.append(RopeAssessment(rope.id, length[0], length[1], ""))
        else:
            ropes.append(RopeAssessment(rope.id, None, None, length.why))
    if not plan.party:
        found.add("party.none", "Not checked", "party", "Nobody is in the party", "Loads are not checked.")
    for person in plan.party:
        if person.mass_kg.kind == "unknown":
            found.add("person.unknown", "Not checked", f"person.{person.id}", "The weight of {name} is unknown",
                      "Loads are not checked until it is entered.", words={"name": person.name})
    webbing = webbing_assessments(plan, cuts, found)
    tethers = tether_assessments(ctx, book)
    rider_findings(ctx, tethers, found, book)
    tests = tuple(pull_test(t, book) for t in plan.shed.pull_tests)
    return (tuple(ropes), webbing, tethers, tests), found.worst_first(), book
