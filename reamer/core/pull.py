"""Will it pull: the force at the hand through the whole pull, where it comes from, and what would help."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.findings import Edit, Findings, Fix
from reamer.core.model import Drop, Rope, State, Station
from reamer.core.polyline import Line, Point
from reamer.core.say import Number, Sentence
from reamer.core.section import Lines
from reamer.core.systems import Strand
from reamer.core.tables import Row, row
from reamer.core.working import Book, Term, computed, from_row

CURVE_POINTS = 200
SAMPLES = 16


@dataclass(frozen=True, slots=True)
class Piece:
    """One piece of a rope's line, from the ring downward: its length, fall, level length on rock, and the turn at its lower end.

    length_m, fall_m: [m], the fall negative where it rises; rock_m: level length where it lies on rock, 0 where it hangs [m]
    turn_rad: at its lower end, 0 at the last [rad]
    """

    length_m: float
    fall_m: float
    rock_m: float
    turn_rad: float


@dataclass(frozen=True, slots=True)
class Rub:
    """What the rope rubs on: friction at edges and faces, at the ring and how far it wraps it, and the rope's weights.

    edge, ring: μ [-]; wrap_rad: of the ring [rad]; ride_kg_m, pull_kg_m: λ of what comes up and of what is pulled [kg/m]
    face: whether faces rub too
    """

    edge: float
    ring: float
    wrap_rad: float
    ride_kg_m: float
    pull_kg_m: float
    face: bool = True


@dataclass(frozen=True, slots=True)
class Step:
    """One place on the way of the pull and the tension on either side of it, at the high end of friction, at the start."""

    name: str
    x_m: float
    z_m: float
    before: Number
    after: Number


@dataclass(frozen=True, slots=True)
class Pull:
    """Whether the rope comes down: force at the hand at the start, low to high, the worst of the whole pull and where it is.

    band: easy, firm, hard or stuck, by the worst; runs_at: metres pulled after which it runs by itself, None if it never does
    falls: rope that comes down in the end; moved: force with the ring over the edge, None if it is there already; moved_gain: how
    much further the tie then reaches; bands: upper limits of easy, firm and hard [N]
    """

    pulled: str
    low: Number | None
    high: Number | None
    worst: Number | None
    worst_at: Number | None
    band: str
    steps: tuple[Step, ...]
    runs_at: Number | None
    falls: Number | None
    moved: Number | None
    moved_gain: Number | None
    why: str
    bands: tuple[Number, ...] = ()


@dataclass(frozen=True, slots=True)
class CurvePoint:
    """Force at the hand after so much rope is pulled [N], and the tension on the ring's two sides at the high end [N]."""

    pulled_m: float
    low_n: float
    high_n: float
    ride_n: float
    over_n: float


def pieces(points: tuple[Point, ...], terrain: tuple[Point, ...]) -> tuple[Piece, ...]:
    """A line as pieces from the ring downward.

    points: of the line [m]; terrain: of the surface [m]
    returns: the pieces; one lies on rock if it joins consecutive points of the surface, or starts on such a piece
    Source: J, our judgement: a taut rope bridges the hollows between.
    """
    made = []
    for i, (a, b) in enumerate(zip(points, points[1:])):
        turn = 0.0
        if i + 2 < len(points):
            c = points[i + 2]
            turn = abs(math.atan2(b[0] - a[0], a[1] - b[1]) - math.atan2(c[0] - b[0], b[1] - c[1]))
        made.append(Piece(math.dist(a, b), a[1] - b[1], abs(b[0] - a[0]) if _on_rock(a, b, terrain) else 0.0, turn))
    return tuple(made)


def _on_rock(a: Point, b: Point, terrain: tuple[Point, ...]) -> bool:
    for p, q in zip(terrain, terrain[1:]):
        if math.dist(b, q) < 1e-6:
            cross = (q[0] - p[0]) * (a[1] - p[1]) - (q[1] - p[1]) * (a[0] - p[0])
            along = (q[0] - p[0]) * (a[0] - p[0]) + (q[1] - p[1]) * (a[1] - p[1])
            if abs(cross) <= 1e-6 * max(1.0, math.dist(p, q)) and along >= -1e-6:
                return True
    return False


def hung(way: tuple[Piece, ...], hangs_m: float) -> tuple[Piece, ...]:
    """The part of a way that has rope on it.

    way: from the ring downward; hangs_m: rope on that side [m]
    returns: the pieces, the last one cut where the rope ends
    Source: none, geometry.
    """
    made, left = [], hangs_m
    for piece in way:
        if left <= 0:
            break
        part = min(1.0, left / piece.length_m) if piece.length_m > 0 else 1.0
        made.append(piece if part == 1.0 else Piece(piece.length_m * part, piece.fall_m * part, piece.rock_m * part, 0.0))
        left -= piece.length_m
    return tuple(made)


def up_n(way: tuple[Piece, ...], hangs_m: float, rub: Rub) -> float:
    """Tension just below the ring on the side that comes up.

    T gains λ·g per fall and μ·λ·g per level length on rock, and e^(μθ) at each edge

    way: from the ring downward; hangs_m: rope on that side, at most the whole way [m]; rub: friction and weights
    returns: T [N]
    Source: HB, capstan rule and statics, from the rope's lower end upward.

    >>> free = (Piece(40, 40, 0, 0),)
    >>> round(up_n(free, 40, Rub(.4, .2, math.pi, .065, .065)), 1)
    25.5
    """
    used = hung(way, hangs_m)
    weight, tension = rub.ride_kg_m * row("loads", "g").low, 0.0
    for i in range(len(used) - 1, -1, -1):
        piece = used[i]
        if i < len(used) - 1:
            tension *= math.exp(rub.edge * piece.turn_rad)
        tension = max(0.0, tension + weight * (piece.fall_m + (rub.edge * piece.rock_m if rub.face else 0.0)))
    return tension


def down_n(tension_n: float, way: tuple[Piece, ...], drawn_m: float, rub: Rub) -> float:
    """Force left at the hand, from the tension just past the ring.

    per piece T ← max(0, T − λ·g·Δz + μ·λ·g·Δx where it lies on rock), then × e^(μΔθ) at the edge

    tension_n: T past the ring [N]; way: from the ring downward to the hand; drawn_m: rope that has come over the ring [m]
    rub: friction and weights; what has come over weighs as the side that comes up
    returns: the force [N]
    Source: HB, capstan rule and statics.

    >>> free = (Piece(40, 40, 0, 0),)
    >>> round(down_n(47.8, free, 0, Rub(.4, .2, math.pi, .065, .065)), 1)
    22.3
    """
    g, below = row("loads", "g").low, drawn_m
    for i, piece in enumerate(way):
        new = min(1.0, max(0.0, below / piece.length_m)) if piece.length_m > 0 else 0.0
        below -= piece.length_m
        weight = g * (new * rub.ride_kg_m + (1 - new) * rub.pull_kg_m)
        tension_n = max(0.0, tension_n - weight * piece.fall_m + (rub.edge * weight * piece.rock_m if rub.face else 0.0))
        if i < len(way) - 1:
            tension_n *= math.exp(rub.edge * piece.turn_rad)
    return tension_n


def at_hand_n(ride: tuple[Piece, ...], pull: tuple[Piece, ...], rope_m: float, drawn_m: float, rub: Rub) -> tuple[float, float, float]:
    """Force at the hand after so much rope is pulled.

    ride, pull: the two sides from the ring downward; rope_m: on the side that comes up, at the start [m]
    drawn_m: pulled so far [m]; rub: friction and weights
    returns: at the hand, below the ring on the side that comes up, past the ring [N]
    Source: HB, capstan rule and statics; what lies on the landing weighs nothing.
    """
    below = up_n(ride, min(rope_m - drawn_m, sum(p.length_m for p in ride)), rub)
    over = below * math.exp(rub.ring * rub.wrap_rad)
    return down_n(over, pull, drawn_m, rub), below, over


def band(force_n: float) -> str:
    """How hard a pull is.

    force_n: at the hand [N]
    returns: easy, firm, hard or stuck
    Source: J, table of loads.

    >>> band(99), band(100), band(400), band(401)
    ('easy', 'firm', 'hard', 'stuck')
    """
    easy, firm, hard = (row("loads", f"pull.{k}").low for k in ("easy", "firm", "hard"))
    return "easy" if force_n < easy else "firm" if force_n < firm else "hard" if force_n <= hard else "stuck"


def mass_kg_m(rope: Rope, wet: str) -> tuple[float, float] | None:
    """A rope's mass per metre, low and high, wet where it may be.

    λ = 0.0007·d² where the label does not say; wet × 1.3 to 1.5 where its fibre absorbs

    rope: the rope; wet: yes, no or unknown
    returns: low and high [kg/m], None if neither label nor diameter is known
    Source: the label; else J, table of ropes; HB for wet rope.
    """
    if rope.mass_kg_m.kind == "known":
        dry = rope.mass_kg_m.value
    elif rope.diameter_mm.kind == "known":
        dry = row("ropes", "mass.rule").low * rope.diameter_mm.value**2
    else:
        return None
    if wet == "no" or rope.fibre in ("polyester", "HMPE", "aramid"):
        return dry, dry
    factor = row("ropes", "mass.wet")
    return dry * (factor.low if wet == "yes" and rope.fibre == "nylon" else 1.0), dry * factor.high


def rock_friction(drop: Drop) -> tuple[Row, Row]:
    """Friction of rope on this drop's rock, the rows for its low and its high end; unknown rock is taken at its worst.

    drop: the drop
    returns: the rows
    Source: HB, friction tables.
    """
    smooth, coarse = row("friction", "smooth rock"), row("friction", "coarse rock")
    return (smooth, smooth) if drop.rock == "smooth" else (coarse, coarse) if drop.rock == "coarse" else (smooth, coarse)


@dataclass(frozen=True, slots=True)
class Sides:
    """The two sides of a pull: which rope comes up and which is pulled, their ways from the ring, and friction low and high."""

    up: Strand
    down: Strand
    ride: tuple[Piece, ...]
    pull: tuple[Piece, ...]
    points: tuple[Point, ...]
    low: Rub
    high: Rub


def sides(drop: Drop, station: Station, state: State, hanging: list[Strand], by_bound: Lines) -> Sides | str:
    """What a pull is worked out from.

    drop, station, state: where and how it is rigged; hanging: the strands; by_bound: the nominal lines
    returns: the sides, or what is not known
    Source: see the functions it calls.
    """
    if len(hanging) != 2:
        return "no rope system is chosen" if state.system.kind == "none" else "a strand of the system is not there"
    system = state.system
    pulled_end = getattr(system, "pulled_end", None)
    down = next((s for s in hanging if s.end == pulled_end), None) if system.kind == "doubled" else hanging[1]
    if system.kind == "blocked, same rope":
        down = next((s for s in hanging if s.role == "pull"), None)
    up = next((s for s in hanging if s is not down), None)
    if up is None or down is None:
        return "which strand is pulled is not known"
    ring = _ring_friction(station, state)
    if isinstance(ring, str):
        return ring
    masses = mass_kg_m(up.rope, station.wet), mass_kg_m(down.rope, station.wet)
    if None in masses:
        return f"the mass of {(up if masses[0] is None else down).rope.name} is unknown: enter its label's figure or its diameter"
    if up.high is None:
        return up.why
    taut: Line = by_bound.taut
    ride = pieces(taut.points, by_bound.terrain.points)
    to_hand = taut.points
    if taut.recess_m > 0:
        # Where the landing lies back under the last lip, the hand is at the landing, not under the lip.
        to_hand = (*taut.points[:-1], by_bound.terrain.points[-1])
    edges = rock_friction(drop)
    low = Rub(edges[0].low, ring.low, math.pi, masses[0][0], masses[1][0])
    high = Rub(edges[1].high, ring.high, math.pi, masses[0][1], masses[1][1])
    return Sides(up, down, ride, pieces(to_hand, by_bound.terrain.points), to_hand, low, high)


def _ring_friction(station: Station, state: State) -> Row | str:
    rig = state.rig
    if rig.kind == "none":
        return "no anchor is chosen"
    if rig.ring is not None:
        return row("friction", "ring")
    thread = next((f for f in station.features if f.id == rig.anchor), None)
    return row("friction", "textile") if thread is not None and thread.kind == "ice thread" and thread.cord else "how the rope rubs in ice is unknown"


def pull_of(drop: Drop, station: Station, state: State, hanging: list[Strand], nominal: Lines | None, moved: Lines | None, moved_gain_m: float | None,
            book: Book) -> Pull:
    """Whether the rope of one station comes down.

    drop, station, state: where and how it is rigged; hanging: the strands; nominal: its lines, None if the section is not whole
    moved: its lines with the ring over the edge, None if it is there or there is no edge; moved_gain_m: the reach that takes it there
    book: where workings go
    returns: the pull [N, m]
    Source: HB, capstan rule and statics; bands J.
    """
    got = "the section is not whole" if nominal is None else sides(drop, station, state, hanging, nominal)
    if isinstance(got, str):
        return Pull("", None, None, None, None, "", (), None, None, None, None, got)
    rope_m = got.up.high.value
    low_n = at_hand_n(got.ride, got.pull, rope_m, 0.0, got.low)[0]
    steps, high = _steps(drop, station, state, got, book)
    low = Number(low_n, "pull", "up")
    worst_n, worst_m, runs = high.value, 0.0, None
    for i in range(1, SAMPLES):
        drawn = rope_m * i / SAMPLES
        force = at_hand_n(got.ride, got.pull, rope_m, drawn, got.high)[0]
        if force > worst_n + 1e-9:
            worst_n, worst_m = force, drawn
        if runs is None and force <= 0:
            runs = drawn
    moved_n = None
    if moved is not None:
        other = sides(drop, station, state, hanging, moved)
        if not isinstance(other, str):
            moved_n = Number(at_hand_n(other.ride, other.pull, rope_m, 0.0, other.high)[0], "pull", "up")
    worst = high if worst_m == 0 else Number(worst_n, "pull", "up")
    return Pull(f"{got.down.rope.name} {got.down.end.upper()}", low, high, worst, Number(worst_m, "length", "near"), band(worst_n), steps,
                None if runs is None else Number(runs, "length", "up"), Number(rope_m + got.down.high.value, "length", "up") if got.down.high else None, moved_n,
                Number(moved_gain_m, "fine length", "up") if moved_n and moved_gain_m is not None else None, "",
                tuple(Number(row("loads", f"pull.{k}").low, "pull") for k in ("easy", "firm", "hard")))


def _steps(drop: Drop, station: Station, state: State, s: Sides, book: Book) -> tuple[tuple[Step, ...], Number]:
    """The start of the pull step by step, each with its working, at the high end of friction."""
    g, edge, ring = row("loads", "g"), rock_friction(drop)[1], _ring_friction(station, state)
    made: list[Step] = []
    number = Number(0.0, "pull")
    ride_mass, pull_mass = (_mass(key, strand.rope, station.wet, value, book) for key, strand, value in (
        ("up", s.up, s.high.ride_kg_m), ("down", s.down, s.high.pull_kg_m)))
    way, rub = hung(s.ride, s.up.high.value), s.high
    weight_terms = [from_row("g", g, g.low, "share")]
    for i in range(len(way) - 1, -1, -1):
        piece = way[i]
        before = number
        terms = [computed("l", f"mass of {s.up.rope.name}, high end", ride_mass), *weight_terms,
                 Term("z", "fall of the piece", piece.fall_m, "fine length", "section"), Term("x", "level length on rock", piece.rock_m, "fine length", "section"),
                 from_row("mu", edge, rub.edge, "share")]
        grown, formula = 0.0, "max(0, l*g*(z + mu*x))"
        if i < len(way) - 1:
            terms += [computed("T", "tension below", before), Term("theta", "turn at the edge below", piece.turn_rad, "angle", "section")]
            grown, formula = before.value * math.exp(rub.edge * piece.turn_rad), "max(0, T*exp(mu*theta) + l*g*(z + mu*x))"
        value = max(0.0, grown + rub.ride_kg_m * g.low * (piece.fall_m + rub.edge * piece.rock_m))
        number = book.number(f"pull.up.{len(way) - i}", f"tension at the top of piece {i + 1}, coming up", formula, terms, value, "pull", "up")
        if i < len(way) - 1:
            x, z = s.points[i + 1]
            made.append(Step("edge, coming up", x, z, before, Number(grown, "pull", "up")))
    over = book.number("pull.over", "tension past the ring", "T*exp(mu*theta)", [
        computed("T", "tension below the ring", number), from_row("mu", ring, rub.ring, "share"), Term("theta", "wrap of the ring", rub.wrap_rad, "angle", "HB: both strands hang down")],
        number.value * math.exp(rub.ring * rub.wrap_rad), "pull", "up")
    made.append(Step("ring", *s.points[0], number, over))
    number = over
    for i, piece in enumerate(s.pull):
        before = number
        terms = [computed("T", "tension above", before), computed("l", f"mass of {s.down.rope.name}, high end", pull_mass),
                 *weight_terms, Term("z", "fall of the piece", piece.fall_m, "fine length", "section"), Term("x", "level length on rock", piece.rock_m, "fine length", "section"),
                 from_row("mu", edge, rub.edge, "share")]
        value, formula = max(0.0, before.value - rub.pull_kg_m * g.low * (piece.fall_m - rub.edge * piece.rock_m)), "max(0, T - l*g*z + mu*l*g*x)"
        bare = value
        if i < len(s.pull) - 1:
            terms.append(Term("theta", "turn at the edge", piece.turn_rad, "angle", "section"))
            value, formula = value * math.exp(rub.edge * piece.turn_rad), f"{formula}*exp(mu*theta)"
        number = book.number(f"pull.down.{i + 1}", "force at the hand" if i == len(s.pull) - 1 else f"tension past piece {i + 1}, going down", formula, terms, value, "pull", "up")
        if i < len(s.pull) - 1:
            made.append(Step("edge, going down", *s.points[i + 1], Number(bare, "pull", "up"), number))
    return tuple(made), number


def _mass(key: str, rope: Rope, wet: str, value: float, book: Book) -> Number:
    """A rope's mass per metre at the high end, with its working."""
    absorbs = wet != "no" and rope.fibre not in ("polyester", "HMPE", "aramid")
    factor = row("ropes", "mass.wet")
    terms, formula = ([Term("l", f"mass of {rope.name} on its label", rope.mass_kg_m.value, "line mass", "label")], "l") if rope.mass_kg_m.kind == "known" else (
        [from_row("r", row("ropes", "mass.rule"), row("ropes", "mass.rule").low, "ratio"), Term("d", f"diameter of {rope.name}", rope.diameter_mm.value, "diameter", "entered")], "r*d**2")
    if absorbs:
        terms.append(from_row("f", factor, factor.high, "ratio"))
        formula += "*f"
    return book.number(f"pull.mass.{key}", f"mass of {rope.name}, high end", formula, terms, value, "line mass", "up")


def curve(drop: Drop, station: Station, state: State, hanging: list[Strand], nominal: Lines | None) -> tuple[CurvePoint, ...]:
    """The whole pull: force at the hand against rope pulled.

    drop, station, state: where and how it is rigged; hanging: the strands; nominal: its lines
    returns: points from the start to the end that comes up passing the ring, none if it is not known
    Source: HB, capstan rule and statics.
    """
    got = "" if nominal is None else sides(drop, station, state, hanging, nominal)
    if isinstance(got, str):
        return ()
    rope_m, made = got.up.high.value, []
    for i in range(CURVE_POINTS + 1):
        drawn = rope_m * i / CURVE_POINTS
        high, below, over = at_hand_n(got.ride, got.pull, rope_m, drawn, got.high)
        made.append(CurvePoint(drawn, at_hand_n(got.ride, got.pull, rope_m, drawn, got.low)[0], high, below, over))
    return tuple(made)


def pull_findings(pull: Pull, drop: Drop, state: State, coarse_edge: bool, found: Findings, at: tuple[str | int, ...]) -> None:
    """What is to be said of a pull.

    pull: as computed; drop, state: where and how it is rigged; coarse_edge: whether the ring is left back from a coarse or sharp edge
    found: where findings go; at: path of the rig in the plan, for fixes
    returns: nothing
    Source: J, table of loads; P for a ring left back from a coarse edge.
    """
    if pull.worst is None:
        found.add("pull.unknown", "Not checked", "pull", "Whether the rope will pull is not known", "Not checked: {why}.", words={"why": pull.why})
        return
    if pull.band not in ("hard", "stuck"):
        return
    severity = "Shortfall" if pull.band == "stuck" or coarse_edge else "Caution"
    better = pull.moved if pull.moved and pull.moved.value < pull.worst.value and band(pull.moved.value) in ("easy", "firm") else None
    rig, fix = state.rig, None
    if better and pull.moved_gain and rig.kind in ("wrap", "direct") and rig.gain_m.kind == "known" and not rig.links and not (rig.kind == "wrap" and rig.pattern == "re-threaded overhand"):
        fix = Fix(Sentence("Let the ring hang over the edge"), (Edit((*at, "gain_m"), {"kind": "known", "value": round(rig.gain_m.value + pull.moved_gain.value, 2), "method": "given"}),))
    numbers = {"force": pull.worst, "low": pull.low, **({"better": better} if better else {})}
    found.add("pull.hard", severity, "pull", "The rope is to be pulled with {force}" if pull.band == "hard" else "Expect the rope to stick: {force} at the hand",
              ("The ring is left back from a coarse edge. " if coarse_edge else "") + "At the least friction it takes {low}."
              + (" With the ring over the edge it takes {better}." if better else " Another system, or another anchor, turns it less."),
              numbers=numbers, working=pull.worst.working, fix=fix)


def over_edge(nominal: Lines | None, lines_at: object, edge: float | None, reach: float | None, past_m: float) -> tuple[Lines | None, float | None]:
    """The lines with the ring just over the edge, if it is not there yet.

    nominal: the lines as rigged; lines_at: gives the lines for a reach; edge: along the anchor's line to the edge [m]
    reach: of the tie now [m]; past_m: how far past the edge [m]
    returns: the lines and the further reach [m], None where there is no edge or the ring is past it
    Source: none, geometry.
    """
    if nominal is None or edge is None or reach is None or reach >= edge:
        return None, None
    further = edge + past_m
    moved = lines_at(further)
    return (moved, further - reach) if moved is not None else (None, None)
