"""Will it pull: the force at the hand through the whole pull, where it comes from, and what would help."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from reamer.core.findings import Edit, Findings, Fix
from reamer.core.model import Drop, Rope, State, Station, System
from reamer.core.polyline import Line, Point
from reamer.core.say import Number, Sentence
from reamer.core.section import Lines, limits_m
from reamer.core.systems import CONVERTED, UNDONE, Strand
from reamer.core.tables import Row, row
from reamer.core.working import Book, Term, computed, from_row

CURVE_POINTS = 200
SAMPLES = 16


@dataclass(frozen=True, slots=True)
class Piece:
    """One piece of a rope's line, from the ring downward: its length, fall, level length on rock, and the turn at its lower end.

    length_m, fall_m: [m], the fall negative where it rises; rock_m: level length where it lies on rock, 0 where it hangs [m]
    turn_rad: at its lower end, 0 at the last [rad]; clip_rad: turn there in a carabiner left in, with the ring's friction [rad]
    padded: textile lies on that edge; face: the rock it lies on, "" as the drop's
    """

    length_m: float
    fall_m: float
    rock_m: float
    turn_rad: float
    clip_rad: float = 0.0
    padded: bool = False
    face: str = ""


@dataclass(frozen=True, slots=True)
class Rub:
    """What the rope rubs on: friction at edges and faces, at the ring and how far it wraps it, and the rope's weights.

    edge, ring: μ [-]; wrap_rad: of the ring [rad]; ride_kg_m, pull_kg_m: λ of what comes up and of what is pulled [kg/m]
    face: whether faces rub too; pad, smooth, coarse: μ on padded edges and on faces that are other than the drop's [-]
    below: the same for the side that is pulled, where its rope rubs otherwise
    """

    edge: float
    ring: float
    wrap_rad: float
    ride_kg_m: float
    pull_kg_m: float
    face: bool = True
    pad: float = 0.0
    smooth: float = 0.0
    coarse: float = 0.0
    below: Rub | None = None

    def turned(self, piece: Piece) -> float:
        """By how much friction at a piece's lower end multiplies the tension."""
        return math.exp((self.pad if piece.padded else self.edge) * piece.turn_rad + self.ring * piece.clip_rad)

    def on(self, piece: Piece) -> float:
        """The friction of the rock that a piece lies on."""
        return (self.smooth if piece.face == "smooth" else self.coarse if piece.face == "coarse" else self.edge) if self.face else 0.0

    def pulled(self) -> Rub:
        """The same for the side that is pulled."""
        return self.below or self


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

    dry: at the start with both ropes dry, most friction, None where they take up no water; band: easy, firm, hard or stuck, by the worst; runs_at: metres pulled after which it runs by itself, None if it never does
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
    dry: Number | None = None


@dataclass(frozen=True, slots=True)
class CurvePoint:
    """Force at the hand after so much rope is pulled [N], and at the high end the tension at the upper and the lower end of every
    piece of the strand that comes up and of the one that is pulled, from the ring downward [N]."""

    pulled_m: float
    low_n: float
    high_n: float
    up_n: tuple[float, ...]
    down_n: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Curve:
    """The whole pull: its moments, and the corners of both strands' lines that the tensions belong to [m].

    up, down: the strands, as rope-end; "" where the pull is not known
    """

    moments: tuple[CurvePoint, ...]
    up_line: tuple[Point, ...]
    down_line: tuple[Point, ...]
    up: str
    down: str


@lru_cache(maxsize=1024)
def pieces(points: tuple[Point, ...], terrain: tuple[Point, ...], aside_m: float = 0.0, pads: tuple[bool, ...] = (), faces: tuple[str, ...] = ()) -> tuple[Piece, ...]:
    """A line as pieces from the ring downward.

    points: of the line [m]; terrain: of the surface [m]; aside_m: how far its end is drawn off to the side [m]
    pads, faces: of the terrain's points, none where all is as the drop's
    returns: the pieces; one lies on rock if it joins consecutive points of the surface, or starts on such a piece
    Source: J, our judgement: a taut rope bridges the hollows between.
    """
    ways = [(b[0] - a[0], 0.0, b[1] - a[1]) for a, b in zip(points, points[1:])]
    if ways and aside_m:
        ways[-1] = (ways[-1][0], aside_m, ways[-1][2])
    made = []
    for i, way in enumerate(ways):
        turn = _between(way, ways[i + 1]) if i + 1 < len(ways) else 0.0
        level = math.hypot(way[0], way[1]) if _on_rock(points[i], points[i + 1], terrain) else 0.0
        n = next((k for k, p in enumerate(terrain) if math.dist(p, points[i + 1]) < 1e-6), None) if pads or faces else None
        made.append(Piece(math.hypot(*way), -way[2], level, turn, 0.0, bool(pads and n is not None and pads[n]), faces[n] if faces and n is not None and level else ""))
    return tuple(made)


def _between(a: tuple[float, float, float], b: tuple[float, float, float]) -> float:
    """The angle between two directions; in the plane of the section exact also where it is small."""
    if a[1] == b[1] == 0.0:
        return abs(math.atan2(a[0], -a[2]) - math.atan2(b[0], -b[2]))
    cross = math.hypot(a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])
    return math.atan2(cross, sum(x * y for x, y in zip(a, b)))


def clipped_in(way: tuple[Piece, ...], points: tuple[Point, ...], clips: tuple[tuple[float, float], ...]) -> tuple[tuple[Piece, ...], tuple[Point, ...]]:
    """A line with carabiners left in it.

    way, points: of the line; clips: how far down each is [m] and by how much it turns the rope [rad]
    returns: the pieces and the points, parted there; one that is past the line's end is left out
    Source: none, geometry.
    """
    for below, turn in sorted(clips):
        start = 0.0
        for i, piece in enumerate(way):
            if start <= below < start + piece.length_m:
                f = (below - start) / piece.length_m
                first = Piece(piece.length_m * f, piece.fall_m * f, piece.rock_m * f, 0.0, turn, False, piece.face)
                second = replace(piece, length_m=piece.length_m * (1 - f), fall_m=piece.fall_m * (1 - f), rock_m=piece.rock_m * (1 - f))
                (x0, z0), (x1, z1) = points[i], points[i + 1]
                way = (*way[:i], first, second, *way[i + 1:])
                points = (*points[:i + 1], (x0 + f * (x1 - x0), z0 + f * (z1 - z0)), *points[i + 1:])
                break
            start += piece.length_m
    return way, points


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
        made.append(piece if part == 1.0 else Piece(piece.length_m * part, piece.fall_m * part, piece.rock_m * part, 0.0, 0.0, False, piece.face))
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
            tension *= rub.turned(piece)
        tension = max(0.0, tension + weight * (piece.fall_m + rub.on(piece) * piece.rock_m))
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
    g, below, rub = row("loads", "g").low, drawn_m, rub.pulled()
    for i, piece in enumerate(way):
        new = min(1.0, max(0.0, below / piece.length_m)) if piece.length_m > 0 else 0.0
        below -= piece.length_m
        weight = g * (new * rub.ride_kg_m + (1 - new) * rub.pull_kg_m)
        tension_n = max(0.0, tension_n - weight * piece.fall_m + rub.on(piece) * weight * piece.rock_m)
        if i < len(way) - 1:
            tension_n *= rub.turned(piece)
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
    if wet == "no" or rope.fibre not in ABSORBS:
        return dry, dry
    factor = row("ropes", "mass.wet")
    return dry * (factor.low if wet == "yes" and rope.fibre == "nylon" else 1.0), dry * factor.high


# Of unknown fibre a rope may.
ABSORBS = ("nylon", "unknown")


def slippery(low: Row, high: Row, *ropes: Rope) -> tuple[Row, Row]:
    """Friction of ropes on something: the rows for the low and the high end. HMPE is slippery on everything, and what is of unknown
    fibre may be HMPE at the low end.

    low, high: of other rope on it; ropes: that run over it, one after the other
    returns: the rows
    Source: HB, friction tables.
    """
    own = row("friction", "HMPE")
    if not ropes:
        return low, high
    return (own if any(r.fibre in ("HMPE", "unknown") for r in ropes) and own.low < low.low else low), (own if all(r.fibre == "HMPE" for r in ropes) else high)


def rock_friction(drop: Drop, *ropes: Rope) -> tuple[Row, Row]:
    """Friction of rope on this drop's rock, the rows for its low and its high end; unknown rock is taken at its worst.

    drop: the drop; ropes: that run over it, none for any but HMPE
    returns: the rows
    Source: HB, friction tables.
    """
    smooth, coarse = row("friction", "smooth rock"), row("friction", "coarse rock")
    return slippery(coarse if drop.rock == "coarse" else smooth, smooth if drop.rock == "smooth" else coarse, *ropes)


def _face_friction(face: str, *ropes: Rope) -> tuple[Row, Row]:
    own = row("friction", "pad" if face == "pad" else f"{face} rock")
    return slippery(own, own, *ropes)


@dataclass(frozen=True, slots=True)
class Sides:
    """The two sides of a pull: which rope comes up and which is pulled, their ways from the ring, and friction low and high."""

    up: Strand
    down: Strand
    ride: tuple[Piece, ...]
    pull: tuple[Piece, ...]
    up_points: tuple[Point, ...]
    points: tuple[Point, ...]
    low: Rub
    high: Rub


def pulled_strand(system: System, hanging: list[Strand]) -> Strand | None:
    """Which strand is pulled.

    system: as rigged; hanging: its strands
    returns: the strand, None where none is or it is not there
    Source: P, common practice, no source.
    """
    if len(hanging) != 2 or system.kind in CONVERTED:
        return None
    if system.kind == "doubled":
        return next((s for s in hanging if s.end == system.pulled_end), None)
    if system.kind == "joined":
        return hanging[1] if system.pulled == "other" else hanging[0]
    return next((s for s in hanging if s.role == "pull"), None)


# What has a shortfall of its own and needs no force.
JAMS = "the join is drawn into the ring"
BLOCKED = "the block lies on the ridden side and stops the pull"


def sides(drop: Drop, station: Station, state: State, hanging: list[Strand], by_bound: Lines) -> Sides | str:
    """What a pull is worked out from.

    drop, station, state: where and how it is rigged; hanging: the strands; by_bound: the nominal lines
    returns: the sides, or what is not known
    Source: see the functions it calls.
    """
    system = state.system
    if system.kind in CONVERTED:
        return "nothing is pulled before it is converted for the last person"
    if system.kind in UNDONE:
        return "it is undone from below, and what that takes is not worked out"
    if system.kind == "joined" and system.pulled == "through":
        return JAMS
    if getattr(system, "block_on", "pull") == "ride":
        return BLOCKED
    if len(hanging) != 2:
        return "no rope system is chosen" if system.kind == "none" else "a strand of the system is not there"
    down = pulled_strand(system, hanging)
    up = next((s for s in hanging if s is not down), None)
    if up is None or down is None:
        return "which strand is pulled is not known"
    ring = ring_friction(drop, station, state, up.rope)
    if isinstance(ring, str):
        return ring
    masses = mass_kg_m(up.rope, station.wet), mass_kg_m(down.rope, station.wet)
    if None in masses:
        return f"the mass of {(up if masses[0] is None else down).rope.name} is unknown: enter its label's figure or its diameter"
    if up.high is None:
        return up.why
    if drop.landing.aside_m.kind == "unknown":
        return "how far the landing lies off to the side is unknown"
    left_in = [d for d in station.deviations if d.left_in]
    if any(d.below_m.kind == "unknown" or d.turn_deg.kind == "unknown" for d in left_in):
        return "where a deviation that stays in is, or how much it turns the rope, is unknown"
    clips = tuple((d.below_m.value, math.radians(d.turn_deg.value)) for d in left_in)
    taut: Line = by_bound.taut
    past = next((d.name for d in left_in if d.below_m.value >= sum(taut.pieces_m)), "")
    if past:
        return f"{past}, which stays in, lies past the end of the line"
    ground = by_bound.terrain
    terrain, on = ground.points, (ground.pads if any(ground.pads) else (), ground.faces if any(ground.faces) else ())
    ride, up_points = clipped_in(pieces(taut.points, terrain, 0.0, *on), taut.points, clips)
    to_hand = taut.points
    if taut.recess_m > 0:
        # Where the landing lies back under the last lip, the hand is at the landing, not under the lip.
        to_hand = (*taut.points[:-1], terrain[-1])
    pull, points = clipped_in(pieces(to_hand, terrain, limits_m(drop.landing.aside_m)[1], *on), to_hand, clips)
    # What comes up follows what is pulled over its edges.
    both = (up.rope,) if up.rope.fibre == down.rope.fibre else (up.rope, down.rope)
    over, under = ([rock_friction(drop, *r), *(_face_friction(f, *r) for f in ("pad", "smooth", "coarse"))] for r in ((up.rope,), both))
    made = []
    for i, end in enumerate(("low", "high")):
        mu = [[getattr(rows[i], end) for rows in side] for side in (over, under)]
        rest = (getattr(ring[i], end), math.pi, masses[0][i], masses[1][i], True)
        made.append(Rub(mu[0][0], *rest, *mu[0][1:], None if mu[0] == mu[1] else Rub(mu[1][0], *rest, *mu[1][1:])))
    low, high = made
    return Sides(up, down, ride, pull, up_points, points, low, high)


def ring_friction(drop: Drop, station: Station, state: State, *ropes: Rope) -> tuple[Row, Row] | str:
    """What the rope runs over at the station: friction rows for its low and high end, or what is not known.

    drop, station, state: where and how it is rigged; ropes: that run over it
    returns: the rows, or what is not known
    Source: HB and J, table of friction.
    """
    rig = state.rig
    if rig.kind == "none":
        return "no anchor is chosen"
    if rig.ring is not None:
        return slippery(row("friction", "ring"), row("friction", "ring"), *ropes)
    over = next((f for f in station.features if f.id == rig.anchor), None)
    if over is not None and over.kind == "post":
        return slippery(row("friction", "bark"), row("friction", "bark"), *ropes) if over.surface == "bark" else rock_friction(drop, *ropes)
    if over is not None and over.kind == "ice thread":
        return slippery(row("friction", "textile"), row("friction", "textile"), *ropes) if over.cord else "how the rope rubs in ice is unknown"
    if over is not None and over.what in ("textile", "thread"):
        return slippery(row("friction", "textile"), row("friction", "textile"), *ropes)
    return "what the rope runs over without a ring is unknown"


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
    drawn = np.linspace(0.0, rope_m, SAMPLES, endpoint=False)
    hand = _at_hand(got, got.high, drawn)[2]
    most = int(hand.argmax())
    worst_n, worst_m = (float(hand[most]), float(drawn[most])) if hand[most] > high.value + 1e-9 else (high.value, 0.0)
    runs = _runs_at(got, drawn, hand) if book.keeps else None
    moved_n = None
    if moved is not None:
        other = sides(drop, station, state, hanging, moved)
        if not isinstance(other, str):
            moved_n = Number(at_hand_n(other.ride, other.pull, rope_m, 0.0, other.high)[0], "pull", "up")
    worst = high if worst_m == 0 else Number(worst_n, "pull", "up")
    return Pull(f"{got.down.rope.name} {got.down.end.upper()}", low, high, worst, Number(worst_m, "length", "near"), band(worst_n), steps,
                None if runs is None else Number(runs, "length", "up"), Number(rope_m + got.down.high.value, "length", "up") if got.down.high else None, moved_n,
                Number(moved_gain_m, "fine length", "up") if moved_n and moved_gain_m is not None else None, "",
                tuple(Number(row("loads", f"pull.{k}").low, "pull") for k in ("easy", "firm", "hard")), _dry(got, rope_m))


def _runs_at(s: Sides, drawn: np.ndarray, hand: np.ndarray) -> float | None:
    """After how many metres it runs by itself: where the force at the hand comes down to nothing, found between two samples."""
    free = np.flatnonzero(hand[1:] <= 0)
    if not len(free):
        return None
    low, high = float(drawn[free[0]]), float(drawn[free[0] + 1])
    for _ in range(2):
        between = np.linspace(low, high, 65)
        first = int(np.flatnonzero(_at_hand(s, s.high, between)[2][1:] <= 0)[0])
        low, high = float(between[first]), float(between[first + 1])
    return high


def _dry(s: Sides, rope_m: float) -> Number | None:
    """The start with dry ropes, where water makes a difference."""
    up, down = mass_kg_m(s.up.rope, "no")[0], mass_kg_m(s.down.rope, "no")[0]
    if (up, down) == (s.high.ride_kg_m, s.high.pull_kg_m):
        return None
    dry = {"ride_kg_m": up, "pull_kg_m": down}
    rub = replace(s.high, **dry, below=replace(s.high.below, **dry) if s.high.below else None)
    return Number(at_hand_n(s.ride, s.pull, rope_m, 0.0, rub)[0], "pull", "up")


def _steps(drop: Drop, station: Station, state: State, s: Sides, book: Book) -> tuple[tuple[Step, ...], Number]:
    """The start of the pull step by step, each with its working, at the high end of friction."""
    g, ring = row("loads", "g"), ring_friction(drop, station, state, s.up.rope)[1]
    made: list[Step] = []
    number = Number(0.0, "pull")
    ride_mass, pull_mass = (_mass(key, strand.rope, station.wet, value, book) for key, strand, value in (
        ("up", s.up, s.high.ride_kg_m), ("down", s.down, s.high.pull_kg_m)))
    way, rub = hung(s.ride, s.up.high.value), s.high

    def rubs(piece: Piece, ropes: tuple[Rope, ...], low: bool) -> Term:
        """The friction at a piece's lower end, or of the rock it lies on."""
        own = "pad" if low and piece.padded else "" if low else piece.face
        return from_row("mu" if low else "muf", (_face_friction(own, *ropes) if own else rock_friction(drop, *ropes))[1], (_face_friction(own, *ropes) if own else rock_friction(drop, *ropes))[1].high, "share")

    weight_terms = [from_row("g", g, g.low, "share")]
    for i in range(len(way) - 1, -1, -1):
        piece = way[i]
        before = number
        terms = [computed("l", f"mass of {s.up.rope.name}, high end", ride_mass), *weight_terms,
                 Term("z", "fall of the piece", piece.fall_m, "fine length", "section"), Term("x", "level length on rock", piece.rock_m, "fine length", "section"),
                 rubs(piece, (s.up.rope,), False)]
        grown, formula = 0.0, "max(0, l*g*(z + muf*x))"
        if i < len(way) - 1:
            terms += [computed("T", "tension below", before), Term("theta", "turn at the edge below", piece.turn_rad, "angle", "section"), rubs(piece, (s.up.rope,), True)]
            grown, formula = before.value * rub.turned(piece), "max(0, T*exp(mu*theta) + l*g*(z + muf*x))"
            if piece.clip_rad:
                terms += [from_row("mur", ring, rub.ring, "share"), Term("delta", "turn at the deviation left in", piece.clip_rad, "angle", "entered")]
                formula = "max(0, T*exp(mu*theta + mur*delta) + l*g*(z + muf*x))"
        value = max(0.0, grown + rub.ride_kg_m * g.low * (piece.fall_m + rub.on(piece) * piece.rock_m))
        number = book.number(f"pull.up.{len(way) - i}", f"tension at the top of piece {i + 1}, coming up", formula, terms, value, "pull", "up")
        if i < len(way) - 1:
            x, z = s.up_points[i + 1]
            made.append(Step("deviation, coming up" if piece.clip_rad else "edge, coming up", x, z, before, Number(grown, "pull", "up")))
    over = book.number("pull.over", "tension past the ring", "T*exp(mu*theta)", [
        computed("T", "tension below the ring", number), from_row("mu", ring, rub.ring, "share"), Term("theta", "wrap of the ring", rub.wrap_rad, "angle", "HB: both strands hang down")],
        number.value * math.exp(rub.ring * rub.wrap_rad), "pull", "up")
    made.append(Step("ring" if state.rig.ring is not None else _runs_round(station, state), *s.points[0], number, over))
    number, rub, both = over, rub.pulled(), (s.up.rope, s.down.rope)
    for i, piece in enumerate(s.pull):
        before = number
        terms = [computed("T", "tension above", before), computed("l", f"mass of {s.down.rope.name}, high end", pull_mass),
                 *weight_terms, Term("z", "fall of the piece", piece.fall_m, "fine length", "section"), Term("x", "level length on rock", piece.rock_m, "fine length", "section"),
                 rubs(piece, both, False)]
        value, formula = max(0.0, before.value - rub.pull_kg_m * g.low * (piece.fall_m - rub.on(piece) * piece.rock_m)), "max(0, T - l*g*z + muf*l*g*x)"
        bare = value
        if i < len(s.pull) - 1:
            terms += [Term("theta", "turn at the edge", piece.turn_rad, "angle", "section"), rubs(piece, both, True)]
            value, formula = value * rub.turned(piece), f"({formula})*exp(mu*theta)" if not piece.clip_rad else f"({formula})*exp(mu*theta + mur*delta)"
            if piece.clip_rad:
                terms += [from_row("mur", ring, rub.ring, "share"), Term("delta", "turn at the deviation left in", piece.clip_rad, "angle", "entered")]
        number = book.number(f"pull.down.{i + 1}", "force at the hand" if i == len(s.pull) - 1 else f"tension past piece {i + 1}, going down", formula, terms, value, "pull", "up")
        if i < len(s.pull) - 1:
            made.append(Step("deviation, going down" if piece.clip_rad else "edge, going down", *s.points[i + 1], Number(bare, "pull", "up"), number))
    return tuple(made), number


def _runs_round(station: Station, state: State) -> str:
    """What the rope runs round where there is no ring, in a word."""
    over = next((f for f in station.features if f.id == state.rig.anchor), None)
    return "tree" if over is not None and over.kind == "post" and over.surface == "bark" else "rock it runs round" if over is not None and over.kind == "post" else "textile"


def _mass(key: str, rope: Rope, wet: str, value: float, book: Book) -> Number:
    """A rope's mass per metre at the high end, with its working."""
    absorbs = wet != "no" and rope.fibre in ABSORBS
    factor = row("ropes", "mass.wet")
    terms, formula = ([Term("l", f"mass of {rope.name} on its label", rope.mass_kg_m.value, "line mass", "label")], "l") if rope.mass_kg_m.kind == "known" else (
        [from_row("r", row("ropes", "mass.rule"), row("ropes", "mass.rule").low, "ratio"), Term("d", f"diameter of {rope.name}", rope.diameter_mm.value, "diameter", "entered")], "r*d**2")
    if absorbs:
        terms.append(from_row("f", factor, factor.high, "ratio"))
        formula += "*f"
    return book.number(f"pull.mass.{key}", f"mass of {rope.name}, high end", formula, terms, value, "line mass", "up")


def tensions(way: tuple[Piece, ...], rub: Rub, rope_m: np.ndarray) -> np.ndarray:
    """Tension at both ends of every piece of the side that comes up.

    way: from the ring downward; rub: friction and weights; rope_m: on that side, one for each moment [m]
    returns: moments × pieces × (upper end, lower end) [N]
    Source: HB, capstan rule and statics, as ``up_n``.
    """
    weight, tension = rub.ride_kg_m * row("loads", "g").low, np.zeros_like(rope_m)
    starts = np.cumsum([0.0, *(p.length_m for p in way)])
    made = np.zeros((len(rope_m), len(way), 2))
    for i in range(len(way) - 1, -1, -1):
        piece = way[i]
        on = np.clip((rope_m - starts[i]) / piece.length_m, 0.0, 1.0) if piece.length_m > 0 else np.ones_like(rope_m)
        low = tension * rub.turned(piece) if i < len(way) - 1 else tension
        tension = np.maximum(0.0, low + weight * on * (piece.fall_m + rub.on(piece) * piece.rock_m))
        made[:, i, 0], made[:, i, 1] = tension, low
    return made


def tensions_down(way: tuple[Piece, ...], rub: Rub, start_n: np.ndarray, drawn_m: np.ndarray) -> np.ndarray:
    """Tension at both ends of every piece of the side that is pulled.

    way: from the ring downward to the hand; rub: friction and weights; start_n: past the ring [N]; drawn_m: rope come over [m]
    returns: moments × pieces × (upper end, lower end) [N]
    Source: HB, capstan rule and statics, as ``down_n``.
    """
    g, below, tension, rub = row("loads", "g").low, drawn_m.copy(), start_n, rub.pulled()
    made = np.zeros((len(drawn_m), len(way), 2))
    for i, piece in enumerate(way):
        new = np.clip(below / piece.length_m, 0.0, 1.0) if piece.length_m > 0 else np.ones_like(below)
        below = below - piece.length_m
        weight = g * (new * rub.ride_kg_m + (1 - new) * rub.pull_kg_m)
        low = np.maximum(0.0, tension - weight * piece.fall_m + rub.on(piece) * weight * piece.rock_m)
        made[:, i, 0], made[:, i, 1] = tension, low
        tension = low * rub.turned(piece) if i < len(way) - 1 else low
    return made


def _at_hand(s: Sides, rub: Rub, drawn: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Tensions on both sides and the force at the hand, for each length drawn."""
    up = tensions(s.ride, rub, np.minimum(s.up.high.value - drawn, sum(p.length_m for p in s.ride)))
    down = tensions_down(s.pull, rub, up[:, 0, 0] * math.exp(rub.ring * rub.wrap_rad), drawn)
    return up, down, down[:, -1, 1]


def curve(drop: Drop, station: Station, state: State, hanging: list[Strand], nominal: Lines | None) -> Curve:
    """The whole pull: force at the hand and tension along both strands against rope pulled.

    drop, station, state: where and how it is rigged; hanging: the strands; nominal: its lines
    returns: moments from the start to the end that comes up passing the ring, none if it is not known
    Source: HB, capstan rule and statics.
    """
    got = "" if nominal is None else sides(drop, station, state, hanging, nominal)
    if isinstance(got, str):
        return Curve((), (), (), "", "")
    rope_m = got.up.high.value
    drawn = np.linspace(0.0, rope_m, CURVE_POINTS + 1)
    low, (up, down, hand) = _at_hand(got, got.low, drawn)[2], _at_hand(got, got.high, drawn)
    moments = zip(drawn.tolist(), low.tolist(), hand.tolist(), up.reshape(len(drawn), -1).round(1).tolist(), down.reshape(len(drawn), -1).round(1).tolist())
    return Curve(tuple(CurvePoint(d, a, b, tuple(u), tuple(v)) for d, a, b, u, v in moments), got.up_points, got.points,
                 f"{got.up.rope.id}-{got.up.end}", f"{got.down.rope.id}-{got.down.end}")


def pull_findings(pull: Pull, drop: Drop, state: State, coarse_edge: bool, found: Findings, at: tuple[str | int, ...]) -> None:
    """What is to be said of a pull.

    pull: as computed; drop, state: where and how it is rigged; coarse_edge: whether the ring is left back from a coarse or sharp edge
    found: where findings go; at: path of the rig in the plan, for fixes
    returns: nothing
    Source: J, table of loads; P for a ring left back from a coarse edge.
    """
    if state.system.kind in CONVERTED:
        return
    if state.system.kind in UNDONE:
        found.add("pull.undone", "Not checked", "pull", "Whether it lets go from below is not checked", "No force is worked out for it: try it where you can still walk away.")
        return
    if drop.landing.kind == "moving water":
        found.add("pull.current", "Not checked", "pull", "Rope in a current is not checked", "What the water adds to the pull is not worked out. Keep both strands out of it.")
    if pull.why in (JAMS, BLOCKED):
        return
    if pull.worst is None:
        found.add("pull.unknown", "Not checked", "pull", "Whether the rope will pull is not known", "Not checked: {why}.", words={"why": pull.why})
        return
    if pull.band not in ("hard", "stuck"):
        return
    severity = "Shortfall" if pull.band == "stuck" or coarse_edge else "Caution"
    better = pull.moved if pull.moved and pull.moved.value < pull.worst.value and band(pull.moved.value) in ("easy", "firm") else None
    rig, fix = state.rig, None
    if better and pull.moved_gain and rig.kind in ("wrap", "direct") and rig.gain_m.kind == "known" and rig.gain_m.value + pull.moved_gain.value <= 60 and not rig.links and not (rig.kind == "wrap" and rig.pattern == "re-threaded overhand"):
        fix = Fix(Sentence("Let the ring hang over the edge"), (Edit((*at, "gain_m"), {"kind": "known", "value": round(rig.gain_m.value + pull.moved_gain.value, 2), "method": "given"}),))
    numbers = {"force": pull.worst, "low": pull.low, **({"better": better} if better else {})}
    found.add("pull.hard", severity, "pull", "A hard pull: {force} at the hand" if pull.band == "hard" else "Expect the rope to stick: {force} at the hand",
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
