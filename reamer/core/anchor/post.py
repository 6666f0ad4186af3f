"""One post and what goes round it: angles, lengths, strength. The formulas; patterns.py puts them together."""

from __future__ import annotations

import math


def radius_m(girth_m: float) -> float:
    """Radius of a post from its girth.

    r = C/2π

    girth_m: C [m]
    returns: r [m]
    Source: HB, circle.

    >>> round(radius_m(1.20), 4)
    0.191
    """
    return girth_m / (2 * math.pi)


def leg_angle_rad(radius_m: float, gain_m: float) -> float:
    """Angle between the two legs of a wrap.

    θ = 2·asin(r/(r + x))

    radius_m: r of the post [m]; gain_m: x, from its near face to the focal point [m]
    returns: θ [rad]
    Source: HB, tangents from a point to a circle.

    >>> round(math.degrees(leg_angle_rad(radius_m(1.20), 0.60)), 2)
    27.94
    """
    return 2 * math.asin(radius_m / (radius_m + gain_m))


def band_m(radius_m: float, gain_m: float) -> float:
    """Length of a band round a post and out to the focal point.

    band = 2·√(D² − r²) + r·(π + θ), D = r + x

    radius_m: r [m]; gain_m: x [m]
    returns: length of the band [m]
    Source: HB, tangents from a point to a circle.

    >>> round(band_m(radius_m(2.00), 1.50), 3)
    4.692
    """
    d = radius_m + gain_m
    return 2 * math.sqrt(d * d - radius_m * radius_m) + radius_m * (math.pi + leg_angle_rad(radius_m, gain_m))


def equal_leg_share(angle_rad: float) -> float:
    """Part of the load that each of two equal legs carries.

    share = 1/(2·cos(θ/2))

    angle_rad: θ between the legs, 0 <= θ < π [rad]
    returns: share of the load in one leg [-]
    Source: HB, statics of a symmetric pair.
    Holds for: equal legs, load along the bisector.

    >>> round(equal_leg_share(math.radians(90)), 3)
    0.707
    """
    return 1 / (2 * math.cos(angle_rad / 2))


def wrapped_rad(bend_at: str, angle_rad: float) -> float:
    """How much post lies between a leg and the bend that joins the webbing.

    φ = 0 in a leg, θ/2 at the side, (π + θ)/2 at the back, 3π/2 + θ/2 at the front under a full turn

    bend_at: focal, leg, side, back or front; angle_rad: θ between the legs [rad]
    returns: φ [rad]
    Source: HB, geometry of the wrap.

    >>> round(wrapped_rad("back", 0.0), 4)
    1.5708
    """
    return {
        "focal": 0.0,
        "leg": 0.0,
        "side": angle_rad / 2,
        "back": (math.pi + angle_rad) / 2,
        "front": 1.5 * math.pi + angle_rad / 2,
    }[bend_at]


def wrap_strength_kn(
    strand_kn: float,
    angle_rad: float,
    wet: float,
    bend_share: float,
    weak_points: tuple[tuple[float, float], ...],
    friction: float,
    strands: float = 2,
) -> float:
    """What a tie round a post holds at its focal point.

    F = n·cos(θ/2)·S·w·min[1, b, ρᵢ/e^(−μφᵢ)]

    strand_kn: S, one strand unknotted [kN]; angle_rad: θ between the legs, 0 where it does not count [rad]
    wet: w, share kept when wet [-]; bend_share: b, share kept over the ring [-]
    weak_points: for each knot its retention ρ [-] and the post φ wrapped between it and the leg [rad]
    friction: μ of webbing on the post [-]; strands: n that carry [-]
    returns: F [kN]
    Source: HB, capstan rule and statics; a knot bears only the tension the post leaves it.

    >>> round(wrap_strength_kn(17.793, leg_angle_rad(radius_m(1.2), .6), 1, 1, ((2/3, 0.0),), .2), 1)
    23.0
    """
    return (
        strands
        * math.cos(angle_rad / 2)
        * strand_kn
        * wet
        * min(1.0, bend_share, *(rho / math.exp(-friction * phi) for rho, phi in weak_points))
    )
