"""The taut and the draped line from the ring, the height of a drop, and where its edge is."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

from reamer.core.section.polyline import Line, Point, draped_line, point_at, taut_line
from reamer.core.section.terrain import Terrain


def edge_of(made: Terrain) -> tuple[float, str] | None:
    """From the anchor along its taut line to the edge that turns the rope most, and how sharp it is.

    made: a terrain
    returns: length [m] and sharpness, None if the section is not whole or the rope meets no edge
    Source: none, geometry.
    """
    at = None if made.missing else lines(made, 0.0)
    if at is None or not at.taut.contacts:
        return None
    most = max(at.taut.contacts, key=lambda c: c.turn_rad)
    along, here = 0.0, None
    for p in at.taut.points:
        along += 0.0 if here is None else math.dist(here, p)
        here = p
        if abs(p[0] - most.x_m) < 1e-9 and abs(p[1] - most.z_m) < 1e-9:
            return along, made.edges[most.index]
    return None


# Contacts that turn less are not shown either: a rope lies over them rather than bends.
LEAST_TURN_RAD = math.radians(2)


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
    on_surface = after + 1 < len(made.points) and (
        ends_at == made.points[after + 1] or math.dist(ring, made.points[after]) < 1e-9
    )
    if level_m > ring[1]:
        ring, on_surface = (ring[0], level_m), False
    return Lines(
        made,
        (*whole.points[: piece + 1], ring),
        taut_line(made.points, ring, after),
        draped_line(made.points, ring, after, on_surface),
    )


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
