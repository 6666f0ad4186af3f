"""Tension along a rope over edges, by the capstan rule."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from reamer.core.section.polyline import Point
from reamer.core.tables import row

Array = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Piece:
    """One piece of a rope's line, from the ring downward: its length, fall, level length on rock, and the turn at its
    lower end.

    length_m, fall_m: [m], the fall negative where it rises; rock_m: level length where it lies on rock, 0 where it
    hangs [m]
    turn_rad: at its lower end, 0 at the last [rad]; clip_rad: turn there in a carabiner left in, with the ring's
    friction [rad]
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

    edge, ring: μ [-]; wrap_rad: of the ring [rad]; ride_kg_m, pull_kg_m: λ of what comes up and of what is pulled
    [kg/m]
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
        return (
            (self.smooth if piece.face == "smooth" else self.coarse if piece.face == "coarse" else self.edge)
            if self.face
            else 0.0
        )

    def pulled(self) -> Rub:
        """The same for the side that is pulled."""
        return self.below or self


@lru_cache(maxsize=1024)
def pieces(
    points: tuple[Point, ...],
    terrain: tuple[Point, ...],
    aside_m: float = 0.0,
    pads: tuple[bool, ...] = (),
    faces: tuple[str, ...] = (),
) -> tuple[Piece, ...]:
    """A line as pieces from the ring downward.

    points: of the line [m]; terrain: of the surface [m]; aside_m: how far its end is drawn off to the side [m]
    pads, faces: of the terrain's points, none where all is as the drop's
    returns: the pieces; one lies on rock if it joins consecutive points of the surface, or starts on such a piece
    Source: J, our judgement: a taut rope bridges the hollows between.
    """
    ways = [(b[0] - a[0], 0.0, b[1] - a[1]) for a, b in itertools.pairwise(points)]
    if ways and aside_m:
        ways[-1] = (ways[-1][0], aside_m, ways[-1][2])
    made = []
    for i, way in enumerate(ways):
        turn = _between(way, ways[i + 1]) if i + 1 < len(ways) else 0.0
        level = math.hypot(way[0], way[1]) if _on_rock(points[i], points[i + 1], terrain) else 0.0
        n = (
            next((k for k, p in enumerate(terrain) if math.dist(p, points[i + 1]) < 1e-6), None)
            if pads or faces
            else None
        )
        made.append(
            Piece(
                math.hypot(*way),
                -way[2],
                level,
                turn,
                0.0,
                bool(pads and n is not None and pads[n]),
                faces[n] if faces and n is not None and level else "",
            )
        )
    return tuple(made)


def _between(a: tuple[float, float, float], b: tuple[float, float, float]) -> float:
    """The angle between two directions; in the plane of the section exact also where it is small."""
    if a[1] == b[1] == 0.0:
        return abs(math.atan2(a[0], -a[2]) - math.atan2(b[0], -b[2]))
    cross = math.hypot(a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])
    return math.atan2(cross, sum(x * y for x, y in zip(a, b, strict=False)))


def clipped_in(
    way: tuple[Piece, ...], points: tuple[Point, ...], clips: tuple[tuple[float, float], ...]
) -> tuple[tuple[Piece, ...], tuple[Point, ...]]:
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
                second = replace(
                    piece,
                    length_m=piece.length_m * (1 - f),
                    fall_m=piece.fall_m * (1 - f),
                    rock_m=piece.rock_m * (1 - f),
                )
                (x0, z0), (x1, z1) = points[i], points[i + 1]
                way = (*way[:i], first, second, *way[i + 1 :])
                points = (*points[: i + 1], (x0 + f * (x1 - x0), z0 + f * (z1 - z0)), *points[i + 1 :])
                break
            start += piece.length_m
    return way, points


def _on_rock(a: Point, b: Point, terrain: tuple[Point, ...]) -> bool:
    for p, q in itertools.pairwise(terrain):
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
        made.append(
            piece
            if part == 1.0
            else Piece(piece.length_m * part, piece.fall_m * part, piece.rock_m * part, 0.0, 0.0, False, piece.face)
        )
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

    tension_n: T past the ring [N]; way: from the ring downward to the hand; drawn_m: rope that has come over the ring
    [m]
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


def at_hand_n(
    ride: tuple[Piece, ...], pull: tuple[Piece, ...], rope_m: float, drawn_m: float, rub: Rub
) -> tuple[float, float, float]:
    """Force at the hand after so much rope is pulled.

    ride, pull: the two sides from the ring downward; rope_m: on the side that comes up, at the start [m]
    drawn_m: pulled so far [m]; rub: friction and weights
    returns: at the hand, below the ring on the side that comes up, past the ring [N]
    Source: HB, capstan rule and statics; what lies on the landing weighs nothing.
    """
    below = up_n(ride, min(rope_m - drawn_m, sum(p.length_m for p in ride)), rub)
    over = below * math.exp(rub.ring * rub.wrap_rad)
    return down_n(over, pull, drawn_m, rub), below, over


def tensions(way: tuple[Piece, ...], rub: Rub, rope_m: Array) -> Array:
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


def tensions_down(way: tuple[Piece, ...], rub: Rub, start_n: Array, drawn_m: Array) -> Array:
    """Tension at both ends of every piece of the side that is pulled.

    way: from the ring downward to the hand; rub: friction and weights; start_n: past the ring [N]; drawn_m: rope come
    over [m]
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
