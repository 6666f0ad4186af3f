"""From what was surveyed to the terrain, with its lower and upper bound.

A terrain starts at (0, 0): the near face of what the station is tied to, at the height of the tie. It ends at
the landing (a pool: the water's surface)."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.model import Quick, Sharpness, Shots
from reamer.core.plan.limits import Bound, at_bound
from reamer.core.section.polyline import Point

# Where the survey starts, rock that falls away by less than this is no edge.
STEEP_RAD = math.radians(30)


@dataclass(frozen=True, slots=True)
class Terrain:
    """Terrain points, what each is, how sharp it is, and which figures are still missing.

    kinds: anchor, edge, shot or landing, for each point. edges: rounded, coarse, sharp or unknown.
    missing: names of the figures that are unknown; the points then stop where they do.
    pads: whether textile lies there under the rope, for each point. faces: the rock of the piece that ends there, "" as
    the drop's.
    """

    points: tuple[Point, ...]
    kinds: tuple[str, ...]
    edges: tuple[str, ...]
    missing: tuple[str, ...]
    pads: tuple[bool, ...] = ()
    faces: tuple[str, ...] = ()


def terrain(section: Quick | Shots, bound: Bound = "nominal") -> Terrain:
    """The terrain of a section with every length at one bound of its error, inclinations exact.

    section: quick entry or shots; bound: low, nominal or high
    returns: points [m]; where a figure is unknown they stop and it is named
    Source: HB, polar shots to coordinates.
    """
    return _from_quick(section, bound) if section.kind == "quick" else _from_shots(section, bound)


def first_edge(s: Quick) -> Sharpness:
    """How sharp the rock is where a section in five figures starts.

    s: the section
    returns: rounded where no edge is
    Source: J, our judgement of where an edge begins.
    """
    setback, fall = s.setback_m.known, s.edge_fall_m.known
    return s.edge if setback is None or fall is None or _edge_at_the_tie(setback, fall) else "rounded"


def _edge_at_the_tie(setback: float, fall: float) -> bool:
    """Whether the rock falls away where the tie is: there the edge begins."""
    return fall > setback * math.tan(STEEP_RAD) or setback == fall == 0


def _from_quick(s: Quick, bound: Bound) -> Terrain:
    setback, fall, height, recess = (at_bound(f, bound) for f in (s.setback_m, s.edge_fall_m, s.height_m, s.recess_m))
    face = None if s.face_deg.kind == "unknown" else math.radians(s.face_deg.value)
    missing = tuple(
        name
        for name, v in (
            ("set-back", setback),
            ("fall to the edge", fall),
            ("height", height),
            ("face angle", face),
            ("recess of the landing", recess),
        )
        if v is None
    )
    points: list[Point] = [(0.0, 0.0)]
    kinds, edges, pads, faces = ["anchor"], ["rounded"], [False], [""]
    if setback is None or fall is None:
        return Terrain(tuple(points), tuple(kinds), tuple(edges), missing, tuple(pads), tuple(faces))
    if _edge_at_the_tie(setback, fall):
        edges, pads = [s.edge], [s.padded]
    if setback > 0 or fall != 0:
        points.append((setback, -fall))
        kinds.append("edge")
        edges.append(s.edge)
        pads.append(s.padded)
        faces.append("")
    if height is not None and face is not None and recess is not None:
        out = 0.0 if s.face_deg.known == 90 else height / math.tan(face)
        points.append((setback + out - recess, -fall - height))
        kinds.append("landing")
        edges.append("rounded")
        pads.append(False)
        faces.append("" if s.face == "as the drop" else s.face)
    return Terrain(tuple(points), tuple(kinds), tuple(edges), missing, tuple(pads), tuple(faces))


def _from_shots(s: Shots, bound: Bound) -> Terrain:
    points: list[Point] = [(0.0, 0.0)]
    kinds, edges, missing, pads, faces = ["anchor"], [str(s.first_edge)], [], [False], [""]
    for i, shot in enumerate(s.shots, 1):
        slope = at_bound(shot.slope_m, bound)
        incl = None if shot.incl_deg.kind == "unknown" else math.radians(shot.incl_deg.value)
        if slope is None or incl is None:
            missing.append(f"shot {i}")
        elif not missing:
            x, z = points[-1]
            points.append((x + slope * math.cos(incl), z + slope * math.sin(incl)))
            kinds.append("landing" if i == len(s.shots) else "shot")
            edges.append(shot.edge)
            pads.append(shot.padded)
            faces.append("" if shot.face == "as the drop" else shot.face)
    return Terrain(tuple(points), tuple(kinds), tuple(edges), tuple(missing), tuple(pads), tuple(faces))
