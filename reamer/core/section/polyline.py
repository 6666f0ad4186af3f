"""Polylines in a vertical plane: the rope over the rock, as plain geometry.

A point is ``(x, z)`` in metres, x out from the anchor, z up. A terrain is a list of points from the anchor
to the landing; rock lies below and behind it, air above and in front. The last point is the landing."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

Point = tuple[float, float]
EPS_M = 1e-9


@dataclass(frozen=True, slots=True)
class Contact:
    """Where a line bears on rock: the point, which terrain point it is, and how far the line turns there."""

    x_m: float
    z_m: float
    index: int
    turn_rad: float


@dataclass(frozen=True, slots=True)
class Line:
    """A rope's line from the ring to the landing.

    points: as drawn; where the rope leaves the last lip it runs plumb to landing level.
    pieces_m: lengths of the pieces [m], in order.
    recess_m: how far the landing lies behind the plumb line, 0 if it does not [m].
    extra_m: what the recess adds to the length [m].
    round_m: the pieces of the way from that lip to a landing that rock hides from it [m]; empty where it is straight.
    length_m: sum of the pieces and the extra [m].
    """

    points: tuple[Point, ...]
    pieces_m: tuple[float, ...]
    recess_m: float
    extra_m: float
    length_m: float
    contacts: tuple[Contact, ...]
    round_m: tuple[float, ...] = ()


def angle_from_plumb_rad(a: Point, b: Point) -> float:
    """Direction of the piece from a to b, measured outward from plumb.

    θ = atan2(Δx, −Δz)

    a, b: points [m]
    returns: 0 straight down, π/2 level and outward, negative leaning back under the start [rad]
    Source: HB, plane trigonometry.

    >>> round(math.degrees(angle_from_plumb_rad((0, 0), (3, -0.3))), 2)
    84.29
    """
    return math.atan2(b[0] - a[0], a[1] - b[1])


def length_m(points: Sequence[Point]) -> float:
    """Length of a polyline.

    L = Σ √(Δx² + Δz²)

    points: the polyline [m]
    returns: its length [m]
    Source: HB, Pythagoras.

    >>> length_m([(0, 0), (3, -4)])
    5.0
    """
    return sum(math.dist(a, b) for a, b in itertools.pairwise(points))


def recess_extra_m(h_m: float, o_m: float) -> float:
    """Rope that a landing set back under its lip adds to the plumb line.

    extra = √(h² + o²) − h

    h_m: height from the lip to landing level [m]
    o_m: how far the landing lies behind the plumb line [m]
    returns: added length [m]
    Source: HB, Pythagoras.

    >>> recess_extra_m(4.0, 3.0)
    1.0
    """
    return math.hypot(h_m, o_m) - h_m


def crossing(points: Sequence[Point]) -> tuple[int, int] | None:
    """The first two pieces of a polyline that cross or touch, if any.

    points: the polyline [m]
    returns: indices of the two pieces' first points, or None
    Source: HB, orientation test for segments.

    >>> crossing([(0, 0), (2, 0), (2, -2), (1, 1)])
    (0, 2)
    """

    def side(a: Point, b: Point, c: Point) -> float:
        return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])

    def within(a: Point, b: Point, c: Point) -> bool:
        return (
            min(a[0], b[0]) - EPS_M <= c[0] <= max(a[0], b[0]) + EPS_M
            and min(a[1], b[1]) - EPS_M <= c[1] <= max(a[1], b[1]) + EPS_M
        )

    pieces = list(itertools.pairwise(points))
    for i, (a, b) in enumerate(pieces):
        if i and abs(side(pieces[i - 1][0], a, b)) < EPS_M:
            p = pieces[i - 1][0]
            if (a[0] - p[0]) * (b[0] - a[0]) + (a[1] - p[1]) * (b[1] - a[1]) < 0:
                return i - 1, i  # doubles back on itself
        for j in range(i + 2, len(pieces)):
            c, d = pieces[j]
            s1, s2, s3, s4 = side(a, b, c), side(a, b, d), side(c, d, a), side(c, d, b)
            if s1 * s2 < 0 and s3 * s4 < 0:
                return i, j
            for s, (p, q), r in ((s1, (a, b), c), (s2, (a, b), d), (s3, (c, d), a), (s4, (c, d), b)):
                if abs(s) < EPS_M and within(p, q, r):
                    return i, j
    return None


def _line(
    points: list[Point], indices: list[int], recess_m: float, extra_m: float, round_m: tuple[float, ...] = ()
) -> Line:
    pieces = tuple(math.dist(a, b) for a, b in itertools.pairwise(points))
    contacts = tuple(
        Contact(b[0], b[1], i, angle_from_plumb_rad(a, b) - angle_from_plumb_rad(b, c))
        for a, b, c, i in zip(points, points[1:], points[2:], indices[1:], strict=False)
        if i >= 0
    )
    return Line(tuple(points), pieces, recess_m, extra_m, sum(pieces) + extra_m, contacts, round_m)


def _furthest_out(terrain: Sequence[Point], here: Point, at: int) -> tuple[int, float, float]:
    """The later terrain point that stands furthest out of a rope's way: which, its direction from plumb [rad], and how
    far it is [m]; of those in one direction the furthest, and one that the rope is at already before all."""
    best, best_angle, best_far = -1, -math.inf, 0.0
    for i in range(at + 1, len(terrain)):
        far = math.dist(here, terrain[i])
        if far < EPS_M:
            best, best_angle, best_far = i, math.inf, far
            continue
        angle = angle_from_plumb_rad(here, terrain[i])
        if angle > best_angle + 1e-12 or (angle > best_angle - 1e-12 and far > best_far):
            best, best_angle, best_far = i, angle, far
    return best, best_angle, best_far


def _round(terrain: Sequence[Point], here: Point, at: int) -> tuple[float, ...]:
    """The pieces of the shortest way from a lip round the rock to the landing [m]."""
    pieces = []
    while at < len(terrain) - 1:
        at, _, far = _furthest_out(terrain, here, at)
        here = terrain[at]
        pieces += [far] if far >= EPS_M else []
    return tuple(pieces)


def taut_line(terrain: Sequence[Point], ring: Point | None = None, after: int = 0) -> Line:
    """The line of a taut rope from the ring to the landing, on the air side of the rock.

    From each point the rope goes to the later terrain point that stands furthest out of its way (the convex
    chain); where even that one leans back past vertical the rope leaves the rock and drops plumb to landing
    level, and a landing set back by o behind it adds √(h² + o²) − h, or, where rock lies between, the way round it − h.

    terrain: points from the anchor to the landing [m]
    ring: where the rope starts; the terrain's first point if not given [m]
    after: terrain points up to this index lie behind the ring
    returns: the line; contacts carry their turning [rad]
    Source: HB, shortest path round obstacles (convex chain).

    >>> line = taut_line([(0, 0), (3, -0.3), (3.6, -4), (5, -22), (5, -30)])
    >>> round(line.length_m, 2), [round(math.degrees(c.turn_rad), 1) for c in line.contacts]
    (32.82, [75.1, 4.8, 4.4])
    """
    last = len(terrain) - 1
    points, indices = [ring if ring is not None else terrain[0]], [after]
    at = after
    while at < last:
        here = points[-1]
        best, best_angle, best_far = _furthest_out(terrain, here, at)
        if best_angle < -1e-12:
            foot = (here[0], terrain[last][1])
            h, o = here[1] - foot[1], here[0] - terrain[last][0]
            way = _round(terrain, here, at)
            if len(way) > 1:
                return _line([*points, foot], [*indices, -1], o, sum(way) - h, way)
            return _line([*points, foot], [*indices, -1], o, recess_extra_m(h, o))
        if best_far < EPS_M:
            at = best
            continue
        points.append(terrain[best])
        indices.append(best)
        at = best
    return _line(points, indices, 0.0, 0.0)


def plumb_to_surface(terrain: Sequence[Point], start: Point, after: int) -> tuple[Point, int] | None:
    """Where a plumb line from a point first meets the terrain below it.

    terrain: points [m]; start: where the line begins [m]; after: only pieces from this index on count
    returns: the point met and the index of the piece's first point, or None if nothing is met
    Source: HB, intersection of a vertical with segments.
    """
    found: tuple[Point, int] | None = None
    for i in range(after, len(terrain) - 1):
        (x1, z1), (x2, z2) = terrain[i], terrain[i + 1]
        if not (min(x1, x2) - EPS_M <= start[0] <= max(x1, x2) + EPS_M):
            continue
        z = max(z1, z2) if abs(x2 - x1) < EPS_M else z1 + (z2 - z1) * (start[0] - x1) / (x2 - x1)
        if z < start[1] - EPS_M and (found is None or z > found[0][1]):
            found = (start[0], z), i
    return found


def draped_line(terrain: Sequence[Point], ring: Point | None = None, after: int = 0, on_surface: bool = True) -> Line:
    """The line of a rope that lies on the rock, free only below lips.

    It follows the surface; at a lip (the next point is further in) it drops plumb until the surface is met
    again, or to landing level, and a landing set back behind that adds √(h² + o²) − h. From a ring off the
    surface it first drops plumb to it.

    terrain, ring, after: as for taut_line [m]
    on_surface: whether the ring lies on the terrain piece that starts at ``after``
    returns: the line; its contacts are not used [m]
    Source: P, common practice, no source.

    >>> round(draped_line([(0, 0), (1, -.2), (1.5, -12), (6, -13), (6.5, -28)]).length_m, 2)
    32.45
    """
    last = len(terrain) - 1
    land = terrain[last]
    points = [ring if ring is not None else terrain[0]]
    at = after

    def fall(i: int) -> Line | int:
        met = plumb_to_surface(terrain, points[-1], i)
        if met is None:
            foot = (points[-1][0], land[1])
            h, o = points[-1][1] - land[1], abs(points[-1][0] - land[0])
            return _line([*points, foot], [-1] * (len(points) + 1), o, recess_extra_m(h, o))
        points.append(met[0])
        return met[1]

    if not on_surface:
        fell = fall(after)
        if isinstance(fell, Line):
            return fell
        at = fell
    while at < last:
        points.append(terrain[at + 1])
        at += 1
        if at < last and terrain[at + 1][0] < terrain[at][0] - EPS_M:
            fell = fall(at + 1)
            if isinstance(fell, Line):
                return fell
            at = fell
    return _line(points, [-1] * len(points), 0.0, 0.0)


def away_m(points: Sequence[Point], at: Point) -> float:
    """How far a point is from a polyline.

    points: the polyline, at least one point [m]; at: the point [m]
    returns: the distance [m]
    Source: HB, plane geometry.

    >>> away_m([(0, 0), (3, 0), (3, -4)], (4, -2)), away_m([(0, 0), (3, 0)], (-3, 4))
    (1.0, 5.0)
    """

    def piece(a: Point, b: Point) -> float:
        long = math.dist(a, b) ** 2
        t = 0.0 if long == 0 else ((at[0] - a[0]) * (b[0] - a[0]) + (at[1] - a[1]) * (b[1] - a[1])) / long
        t = min(1.0, max(0.0, t))
        return math.dist(at, (a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])))

    return min((piece(a, b) for a, b in itertools.pairwise(points)), default=math.dist(points[0], at))


def point_at(points: Sequence[Point], along_m: float) -> tuple[Point, int]:
    """The point at a distance along a polyline, and the index of the piece it lies on.

    points: the polyline [m]; along_m: distance from its first point [m], clamped to its length
    returns: the point [m] and the piece's index
    Source: HB, linear interpolation.

    >>> point_at([(0, 0), (3, 0), (3, -10)], 5.0)
    ((3.0, -2.0), 1)
    """
    left = max(0.0, along_m)
    for i, (a, b) in enumerate(itertools.pairwise(points)):
        far = math.dist(a, b)
        if left <= far and far > 0:
            t = left / far
            return (a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])), i
        left -= far
    return points[-1], max(0, len(points) - 2)
