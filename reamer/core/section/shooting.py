"""A rangefinder's shots as legs of a section, and a section in five figures as the shots it is."""

from __future__ import annotations

import datetime as dt
import math
from collections.abc import Iterable

from reamer.core.model import Error, Figure, Known, Quick, Shot, Shots, Unknown
from reamer.core.plan.figures import sure
from reamer.core.plan.limits import limits_m
from reamer.core.section.terrain import first_edge

# Steeper than this an azimuth says little: whoever shoots straight down turns as they please.
STEEP_DEG = 80.0


def bearing_of(shots: Iterable[tuple[float, float | None]]) -> float | None:
    """Which way a section runs: the azimuth of its first shot that is not steep.

    shots: inclination and azimuth of each, in order [°]
    returns: the azimuth, None where no shot tells it [°]
    Source: J, our judgement.
    """
    return next((a for i, a in shots if a is not None and abs(i) < STEEP_DEG), None)


def in_section(incl_deg: float, azimuth_deg: float | None, bearing_deg: float | None) -> float:
    """A shot's inclination in its section: one that runs back against it leans under the rock. Its slope distance stays
    as it is, whatever way it turns, so that no line becomes shorter by it.

    i, or −180 − i where the azimuth is turned by more than 90°

    incl_deg: i, as measured, down below 0 [°]; azimuth_deg: of the shot [°]; bearing_deg: of the section [°]
    returns: the inclination, past −90 for an overhang [°]
    Source: HB, geometry.

    >>> in_section(-84, 34, 214), in_section(-84, 220, 214), in_section(-84, None, 214)
    (-96, -84, -84)
    """
    if azimuth_deg is None or bearing_deg is None or incl_deg > 0:
        return incl_deg
    turned = abs((azimuth_deg - bearing_deg + 180) % 360 - 180)
    return -180 - incl_deg if turned > 90 else incl_deg


def with_shot(section: Shots, slope_m: float, incl_deg: float, on: dt.date) -> Shots:
    """A section with one more shot: in the place of the first that nobody has measured, or else at its end. What edge
    lies there nobody has said.

    section: in shots; slope_m, incl_deg: of the shot in the section [m, °]; on: the day
    returns: the section
    Source: none.
    """
    slope = Known(kind="known", value=round(slope_m, 3), method="rangefinder", on=on)
    incl = Known(kind="known", value=round(incl_deg, 2), method="given", on=on)
    for i, s in enumerate(section.shots):
        if s.slope_m.kind == "unknown" and s.incl_deg.kind == "unknown":
            made = s.model_copy(update={"slope_m": slope, "incl_deg": incl})
            return section.model_copy(update={"shots": (*section.shots[:i], made, *section.shots[i + 1 :])})
    ids = {s.id for s in section.shots}
    fresh = next(f"s{n}" for n in range(1, len(ids) + 2) if f"s{n}" not in ids)
    return section.model_copy(update={"shots": (*section.shots, Shot(id=fresh, slope_m=slope, incl_deg=incl))})


# What a shot's slope distance and an error in metres may be.
SHORTEST_M, LONGEST_M, LONGEST_ERROR_M = 0.05, 600.0, 100.0


def as_shots(s: Quick) -> Shots:
    """A section in five figures as shots: to the edge, and from there to the landing.

    s: the section; what nobody knows of it leaves the shot unknown that rests on it
    returns: the same terrain, none of its points nearer than at the limits of the five figures. A pad where the tie
    itself is the edge has no place in shots
    Source: HB, geometry.
    """
    legs: list[tuple[Figure, Figure, dict[str, object]]] = []
    if not _nothing(s.setback_m) or not _nothing(s.edge_fall_m):
        legs.append((*_leg(s.setback_m, s.edge_fall_m), {"edge": s.edge, "padded": s.padded}))
    slope, incl = _wall(s)
    # A gentle wall may be longer than a shot can be.
    parts = math.ceil((slope.known or 0) / LONGEST_M) or 1
    legs += [(_part(slope, parts), incl, {"edge": "rounded", "face": s.face})] * parts
    shots = [Shot(id=f"s{n}", slope_m=m, incl_deg=i).model_copy(update=more) for n, (m, i, more) in enumerate(legs, 1)]
    return Shots(kind="shots", first_edge=first_edge(s), shots=tuple(shots))


def _part(slope: Figure, parts: int) -> Figure:
    if parts == 1 or not isinstance(slope, Known):
        return slope
    error = slope.error
    if error is not None and error.kind == "length":
        error = Error(kind="length", value=error.value / parts)
    return slope.model_copy(update={"value": slope.value / parts, "error": error})


def _nothing(figure: Figure) -> bool:
    return isinstance(figure, Known) and figure.value == 0 and limits_m(figure)[1] == 0


def _unknown(*figures: tuple[str, Figure]) -> tuple[Unknown, Unknown] | None:
    """Both figures of a shot that rests on some that nobody knows."""
    bare = [what for what, f in figures if f.kind == "unknown"]
    if not bare:
        return None
    none = Unknown(kind="unknown", why=f"not known: {' and '.join(bare)}")
    return none, none


def _leg(setback: Figure, fall: Figure) -> tuple[Figure, Figure]:
    if none := _unknown(("set-back", setback), ("fall to the edge", fall)):
        return none
    x, z = sure(setback), sure(fall)
    by = math.hypot(limits_m(x)[1] - x.value, limits_m(z)[1] - z.value)
    return _shot(x.value, -z.value, by, x if abs(x.value) > abs(z.value) else z)


def _wall(s: Quick) -> tuple[Figure, Figure]:
    if none := _unknown(("height", s.height_m), ("face angle", s.face_deg), ("recess", s.recess_m)):
        return none
    height, face, recess = sure(s.height_m), sure(s.face_deg).value, sure(s.recess_m)
    if face == 90 and _nothing(recess):
        return height, Known(kind="known", value=-90.0, method="given")
    h, more = height.value, limits_m(height)[1] - height.value
    slant = 1 / math.sin(math.radians(face))
    out = 0.0 if face == 90 else h / math.tan(math.radians(face))
    x = out - recess.value
    # Neither the way down the wall nor the landing's depth is less at the shot's far limit than at the figures'.
    by = max(math.hypot(more * slant, limits_m(recess)[1] - recess.value), more * math.hypot(x, h) / h)
    return _shot(x, -h, by, height)


def _shot(x: float, z: float, by: float, told: Known) -> tuple[Figure, Figure]:
    """A leg by its two sides, its length as ``told`` was measured."""
    value = max(SHORTEST_M, math.hypot(x, z))
    error = Error(kind="length", value=by) if by <= LONGEST_ERROR_M else Error(kind="share", value=by / value)
    slope = told.model_copy(update={"value": value, "error": error})
    return slope, Known(kind="known", value=math.degrees(math.atan2(z, x)), method="given")
