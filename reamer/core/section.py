"""From what was surveyed to the terrain, with its lower and upper bound.

A terrain starts at (0, 0): the near face of what the station is tied to, at the height of the tie. It ends at
the landing (a pool: the water's surface).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING, Literal

from reamer.core.errors import GeometryError
from reamer.core.polyline import Line, Point, crossing, draped_line, point_at, taut_line
from reamer.core.tables import row

if TYPE_CHECKING:
    from reamer.core.model import Figure, Known, Quick, Shots

Bound = Literal["low", "nominal", "high"]
DEEPEST_M = 1000.0
# Contacts that turn less are not shown either: a rope lies over them rather than bends.
LEAST_TURN_RAD = math.radians(2)


@dataclass(frozen=True, slots=True)
class Terrain:
    """Terrain points, what each is, how sharp it is, and which figures are still missing.

    kinds: anchor, edge, shot or landing, for each point. edges: rounded, coarse, sharp or unknown.
    missing: names of the figures that are unknown; the points then stop where they do.
    pads: whether textile lies there under the rope, for each point. faces: the rock of the piece that ends there, "" as the drop's.
    """

    points: tuple[Point, ...]
    kinds: tuple[str, ...]
    edges: tuple[str, ...]
    missing: tuple[str, ...]
    pads: tuple[bool, ...] = ()
    faces: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Lines:
    """The tie from the anchor to the ring and both lines from there, for one bound of the survey."""

    terrain: Terrain
    tie: tuple[Point, ...]
    taut: Line
    draped: Line

    @property
    def ring(self) -> Point:
        """Where the ring hangs."""
        return self.tie[-1]


def limits_m(figure: Known) -> tuple[float, float]:
    """A measured length at its two limits.

    low, high = value × (1 ∓ e) for a share e, or value ∓ e for a length

    figure: a known length [m]
    returns: low and high, low never under 0 [m]
    Source: J, the table of methods, or the figure's own error.
    """
    if figure.error is not None:
        share = figure.error.value if figure.error.kind == "share" else 0.0
        length = figure.error.value if figure.error.kind == "length" else 0.0
    else:
        method = row("methods", figure.method)
        share = method.high if method.unit == "share" else 0.0
        length = method.high if method.unit == "m" else 0.0
    by = abs(figure.value) * share + length
    low = figure.value - by
    return (max(0.0, low) if figure.value >= 0 else low), figure.value + by


def at_bound(figure: Figure, bound: Bound) -> float | None:
    """A figure's value at a bound of its error; None where it is unknown.

    figure: a length [m]; bound: low, nominal or high
    returns: the length, or None [m]
    Source: J, the table of methods.
    """
    if figure.kind == "unknown":
        return None
    if bound == "nominal":
        return figure.value
    low, high = limits_m(figure)
    return low if bound == "low" else high


def terrain(section: Quick | Shots, bound: Bound = "nominal") -> Terrain:
    """The terrain of a section with every length at one bound of its error, inclinations exact.

    section: quick entry or shots; bound: low, nominal or high
    returns: points [m]; where a figure is unknown they stop and it is named
    Source: HB, polar shots to coordinates.
    """
    return _from_quick(section, bound) if section.kind == "quick" else _from_shots(section, bound)


def _from_quick(s: Quick, bound: Bound) -> Terrain:
    setback, fall, height, recess = (at_bound(f, bound) for f in (s.setback_m, s.edge_fall_m, s.height_m, s.recess_m))
    face = None if s.face_deg.kind == "unknown" else math.radians(s.face_deg.value)
    missing = tuple(name for name, v in (("set-back", setback), ("fall to the edge", fall), ("height", height),
                                         ("face angle", face), ("recess of the landing", recess)) if v is None)
    points: list[Point] = [(0.0, 0.0)]
    kinds, edges, pads, faces = ["anchor"], ["rounded"], [False], [""]
    if setback is None or fall is None:
        return Terrain(tuple(points), tuple(kinds), tuple(edges), missing, tuple(pads), tuple(faces))
    if setback > 0 or fall != 0:
        points.append((setback, -fall))
        kinds.append("edge")
        edges.append(s.edge)
        pads.append(s.padded)
        faces.append("")
    if height is not None and face is not None and recess is not None:
        out = 0.0 if s.face_deg.value == 90 else height / math.tan(face)
        points.append((setback + out - recess, -fall - height))
        kinds.append("landing")
        edges.append("rounded")
        pads.append(False)
        faces.append("" if s.face == "as the drop" else s.face)
    return Terrain(tuple(points), tuple(kinds), tuple(edges), missing, tuple(pads), tuple(faces))


def _from_shots(s: Shots, bound: Bound) -> Terrain:
    points: list[Point] = [(0.0, 0.0)]
    kinds, edges, missing, pads, faces = ["anchor"], ["rounded"], [], [False], [""]
    for i, shot in enumerate(s.shots, 1):
        slope = at_bound(shot.slope_m, bound)
        incl = None if shot.incl_deg.kind == "unknown" else math.radians(shot.incl_deg.value)
        if slope is None or incl is None:
            missing.append(f"shot {i}")
        if not missing:
            x, z = points[-1]
            points.append((x + slope * math.cos(incl), z + slope * math.sin(incl)))
            kinds.append("landing" if i == len(s.shots) else "shot")
            edges.append(shot.edge)
            pads.append(shot.padded)
            faces.append("" if shot.face == "as the drop" else shot.face)
    return Terrain(tuple(points), tuple(kinds), tuple(edges), tuple(missing), tuple(pads), tuple(faces))


def check(section: Quick | Shots) -> None:
    """Refuse a section that has no meaning.

    section: quick entry or shots
    returns: nothing
    raises: GeometryError if it crosses itself, does not end below its start, or is absurdly deep
    Source: J, our judgement of what is a slip of the pen.
    """
    if section.kind == "quick" and section.face_deg.kind == "known" and section.recess_m.kind == "known" \
            and section.face_deg.value < 90 and section.recess_m.value > 0:
        raise GeometryError("a landing set back under its edge goes with a plumb face (90°); enter the section "
                            "as shots to have both a slope and an overhang")
    for bound in ("nominal", "low", "high"):
        made = terrain(section, bound)
        if bound == "nominal" or not made.missing:
            crossed = crossing(made.points)
            if crossed and section.kind == "shots":
                raise GeometryError(f"shots {crossed[0] + 1} and {crossed[1] + 1} cross or touch each other"
                                    + ("" if bound == "nominal" else f" at the {bound} limit of their error"))
            if crossed:
                raise GeometryError("the section crosses itself")
        if bound == "nominal" and not made.missing:
            down = -made.points[-1][1]
            if down <= 0:
                raise GeometryError(f"the landing lies {-down:.1f} m above the ring's level; it must lie below it")
            if down > DEEPEST_M:
                raise GeometryError(f"the landing lies {down:.0f} m down; a drop of more than "
                                    f"{DEEPEST_M:.0f} m is taken for a slip")


@lru_cache(maxsize=1024)
def lines(made: Terrain, gain_m: float, level_m: float = -math.inf) -> Lines | None:
    """Both lines from a ring that hangs some way along the taut line from the anchor.

    Under load the tie pulls straight toward where the rope goes, so the ring lies on the anchor's own taut
    line at the tie's reach, round the edge if it is long enough.

    made: a whole terrain; gain_m: from the post's near face to the ring [m]
    level_m: that several points hold the ring at, over the tie's level; it counts where it is above that line [m]
    returns: the lines, or None if the ring would hang at or below the landing
    Source: HB, statics of a weightless tie.
    """
    whole = taut_line(made.points)
    if gain_m >= sum(whole.pieces_m):
        return None
    ring, piece = point_at(whole.points, gain_m)
    starts = [0, *(c.index for c in whole.contacts)]
    after = starts[piece]
    ends_at = whole.points[piece + 1]
    # On the surface where it hangs on a piece that joins consecutive points of it, or has not left its point yet.
    on_surface = after + 1 < len(made.points) and (ends_at == made.points[after + 1] or math.dist(ring, made.points[after]) < 1e-9)
    if level_m > ring[1]:
        ring, on_surface = (ring[0], level_m), False
    return Lines(made, (*whole.points[:piece + 1], ring), taut_line(made.points, ring, after),
                 draped_line(made.points, ring, after, on_surface))


@lru_cache(maxsize=1024)
def height_m(made: Terrain) -> float:
    """Height of a drop: from the edge to landing level.

    height = z(edge) − z(landing); the edge is the contact at which the taut line turns most

    made: a whole terrain [m]
    returns: the height [m]
    Source: P, common practice, no source.
    """
    line = taut_line(made.points)
    edge = max(line.contacts, key=lambda c: c.turn_rad).z_m if line.contacts else made.points[0][1]
    return edge - made.points[-1][1]
