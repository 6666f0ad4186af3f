"""A line strung between two anchors and loaded between them: what each piece of it pulls."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

from reamer.core.anchor.equilibrium import Member, rest

# Where on a line somebody is looked at first, as shares of its length.
PLACES = tuple(0.02 + 0.12 * n for n in range(9))


@dataclass(frozen=True, slots=True)
class Strung:
    """A line as it hangs: its chord [m], by how much that falls from near to far [rad], its own length before any load
    [m], its stiffness EA [kN], None where it is taken not to stretch."""

    chord_m: float
    slope_rad: float
    length_m: float
    modulus_kn: float | None


@dataclass(frozen=True, slots=True)
class Pulls:
    """What a line's near and far piece pull [kN], and by how much each falls toward the rider [rad]."""

    near_kn: float
    far_kn: float
    near_rad: float
    far_rad: float


def balance(load_kn: float, near_rad: float, far_rad: float) -> tuple[float, float]:
    """What two straight pieces pull that hold a load between them.

    T1 = P·cos β2/sin(β1 + β2), T2 = P·cos β1/sin(β1 + β2)

    load_kn: P, plumb [kN]; near_rad, far_rad: β1, β2, by how much each falls toward the load [rad]
    returns: T1, T2 [kN]
    Source: HB, balance of three forces.

    >>> round(balance(1.0, math.atan(0.2), math.atan(0.2))[0], 2)
    2.55
    """
    both = math.sin(near_rad + far_rad)
    return load_kn * math.cos(far_rad) / both, load_kn * math.cos(near_rad) / both


def strung(chord_m: float, sag_m: float, slope_rad: float, weight_kn: float, modulus_kn: float | None) -> Strung:
    """A line of which the sag under somebody at its middle is known.

    chord_m: between its anchors [m]; sag_m: plumb below the chord's middle under them [m]; slope_rad: by how much the
    chord falls from near to far [rad]; weight_kn: theirs [kN]; modulus_kn: EA [kN], None where it does not stretch
    returns: the line
    Source: HB, balance of three forces and linear stretch.
    """
    far = (chord_m * math.cos(slope_rad), -chord_m * math.sin(slope_rad))
    at = (far[0] / 2, far[1] / 2 - sag_m)
    a, b = math.hypot(*at), math.dist(at, far)
    if modulus_kn is None:
        return Strung(chord_m, slope_rad, a + b, None)
    pulls = _held(far, at, weight_kn)
    return Strung(
        chord_m, slope_rad, a / (1 + pulls.near_kn / modulus_kn) + b / (1 + pulls.far_kn / modulus_kn), modulus_kn
    )


def _held(far: tuple[float, float], at: tuple[float, float], load_kn: float) -> Pulls:
    """Two straight pieces from (0, 0) and ``far`` that meet at a place below both, or beside one of them."""
    near_rad, far_rad = math.atan2(-at[1], at[0]), math.atan2(far[1] - at[1], far[0] - at[0])
    if near_rad >= math.pi / 2 or far_rad >= math.pi / 2:
        # Plumb below an anchor or past it the other piece is slack.
        over = near_rad >= math.pi / 2
        return Pulls(*((load_kn, 0.0) if over else (0.0, load_kn)), near_rad, far_rad)
    return Pulls(*balance(load_kn, near_rad, far_rad), near_rad, far_rad)


@lru_cache(maxsize=512)
def worst(line: Strung, load_kn: float) -> tuple[Pulls, Pulls]:
    """What a line pulls with a load at the place that is worst for its near piece, and at that for its far piece.

    line: as strung; load_kn: plumb [kN]
    returns: the pulls at either place
    Source: HB, balance of three forces; linear stretch, each piece by what it pulls; the place by search.
    """
    # Loaded when a line is strung: it takes its time.
    from scipy.optimize import minimize_scalar

    places = [_loaded(line, load_kn, share) for share in PLACES]

    def most(kn: Callable[[Pulls], float]) -> Pulls:
        n = max(range(len(PLACES)), key=lambda i: kn(places[i]))
        around = PLACES[max(0, n - 1)], PLACES[min(n + 1, len(PLACES) - 1)]
        found = minimize_scalar(
            lambda share: -kn(_loaded(line, load_kn, share)), bounds=around, method="bounded", options={"xatol": 5e-3}
        )
        return max(places[n], _loaded(line, load_kn, float(found.x)), key=kn)

    return most(lambda p: p.near_kn), most(lambda p: p.far_kn)


def _loaded(line: Strung, load_kn: float, share: float) -> Pulls:
    """A load held where so much of the line's own length is on its near side."""
    far = (line.chord_m * math.cos(line.slope_rad), -line.chord_m * math.sin(line.slope_rad))
    a, b = share * line.length_m, (1 - share) * line.length_m
    # Above the chord's own line it cannot hang: where the line is shorter than its chord, it is drawn straight.
    u = (line.chord_m**2 + a**2 - b**2) / (2 * line.chord_m)
    h = math.sqrt(max(0.0, a**2 - u**2))
    cos, sin = math.cos(line.slope_rad), math.sin(line.slope_rad)
    at = (u * cos - h * sin, -u * sin - h * cos)
    if line.modulus_kn is None:
        return _held(far, at, load_kn)
    members = [Member((0,), a, line.modulus_kn / a), Member((1,), b, line.modulus_kn / b)]
    found = rest([(0.0, 0.0, 0.0), (far[0], 0.0, far[1])], members, (at[0], 0.0, at[1]), [(0.0, 0.0, -load_kn)])[0]
    return _held(far, (found.at[0], found.at[2]), load_kn)
