"""A rangefinder's shots as legs of a section."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable

from reamer.core.model import Known, Shot, Shots

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
