"""One post and what goes round it: angles, lengths, and what the simple wrap holds."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.model import Post, Ring, Unknown, Webbing, Wrap
from reamer.core.say import Number
from reamer.core.section import limits_m
from reamer.core.tables import row
from reamer.core.working import Book, Term, computed, from_row


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

    φ = 0 in a leg, θ/2 at the side, (π + θ)/2 at the back

    bend_at: leg, side or back; angle_rad: θ between the legs [rad]
    returns: φ [rad]
    Source: HB, geometry of the wrap.

    >>> round(wrapped_rad("back", 0.0), 4)
    1.5708
    """
    return {"leg": 0.0, "side": angle_rad / 2, "back": (math.pi + angle_rad) / 2}[bend_at]


def bend_share(bar_mm: float, thickness_mm: float) -> tuple[float, float]:
    """Share of a strand's strength kept where it bends over a bar, low and high.

    share = 1 − 0.5/√(D/d); under D/d = 1 the range of the table

    bar_mm: D, the bar's thickness [mm]; thickness_mm: d, the strand's thickness [mm]
    returns: low and high [-]
    Source: HB, wire rope bending rule, from memory, used as an estimate.

    >>> [round(bend_share(d, 1)[0], 2) for d in (1, 2, 4)]
    [0.5, 0.65, 0.75]
    """
    if bar_mm < thickness_mm:
        thin = row("materials", "bend.thin")
        return thin.low, thin.high
    share = 1 - row("materials", "bend.rule").low / math.sqrt(bar_mm / thickness_mm)
    return share, share


def wrap_strength_kn(strand_kn: float, angle_rad: float, wet: float, bend_share: float, retention: float,
                     friction: float, wrapped_rad: float, strands: float = 2) -> float:
    """What a wrap holds at its focal point.

    F = n·cos(θ/2)·S·w·min(1, b, ρ/e^(−μφ))

    strand_kn: S, one strand unknotted [kN]; angle_rad: θ between the legs [rad]
    wet: w, share kept when wet [-]; bend_share: b, share kept over the ring [-]
    retention: ρ of the knot [-]; friction: μ of webbing on the post [-]
    wrapped_rad: φ of post between leg and knot [rad]; strands: n that carry [-]
    returns: F [kN]
    Source: HB, capstan rule and statics; the knot bears only the tension the post leaves it.

    >>> round(wrap_strength_kn(17.793, leg_angle_rad(radius_m(1.2), .6), 1, 1, 2/3, .2, 0), 1)
    23.0
    """
    return strands * math.cos(angle_rad / 2) * strand_kn * wet * min(
        1.0, bend_share, retention / math.exp(-friction * wrapped_rad))


def wet_share(fibre: str, wet: str) -> tuple[float, float]:
    """Share of strength kept at a place that may be wet, low and high.

    fibre: the material, or unknown; wet: yes, no or unknown
    returns: low and high [-]; an unknown is taken at its worst at the low end
    Source: HB, fibre tables, from memory.

    >>> wet_share("nylon", "unknown")
    (0.8, 1.0)
    """
    if wet == "no":
        return 1.0, 1.0
    kept = row("materials", "wet." + ("nylon" if fibre == "unknown" else fibre))
    return kept.low, (1.0 if wet == "unknown" or fibre == "unknown" else kept.high)


@dataclass(frozen=True, slots=True)
class Wrapped:
    """A wrap as computed. Unknown parts are None and named in ``why``."""

    radius_m: float | None
    angle: Number | None
    band: Number | None
    cut: Number | None
    low: Number | None
    high: Number | None
    why: str = ""


def simple_wrap(rig: Wrap, post: Post, webbing: Webbing, ring: Ring | None, wet: str, book: Book) -> Wrapped:
    """The simple wrap with a free ring: angle, webbing to cut, and what it holds, low to high.

    rig, post, webbing, ring: the parts; wet: yes, no or unknown; book: where the workings go
    returns: the wrap as computed [m, rad, kN]; the angle and the strength use the thickest girth its error
        allows, the webbing to cut too
    Source: HB, P; see the functions it calls.
    """
    if post.girth_m.kind == "unknown" or rig.gain_m.kind == "unknown":
        what = f"girth of {post.name}" if post.girth_m.kind == "unknown" else "reach of the tie"
        return Wrapped(None, None, None, None, None, None, f"the {what} is unknown")
    girth, x = limits_m(post.girth_m)[1], rig.gain_m.value
    r = radius_m(girth)
    girth_term = Term("C", f"girth of {post.name}, high end", girth, "fine length", f"entered: {post.girth_m.method}")
    gain_term = Term("x", "from the near face to the ring", x, "fine length", "decided")
    angle = book.number("wrap.angle", "angle between the legs", "2*asin((C/(2*pi))/((C/(2*pi)) + x))",
                        [girth_term, gain_term], leg_angle_rad(r, x), "angle", "up")
    band = book.number("wrap.band", "band round the post and out to the ring",
                       "2*sqrt(((C/(2*pi)) + x)**2 - (C/(2*pi))**2) + (C/(2*pi))*(pi + theta)",
                       [girth_term, gain_term, computed("theta", "angle between the legs", angle)],
                       band_m(r, x), "fine length", "up")
    knot, tail = row("knots", "rope used.ring bend"), row("knots", "tail.webbing")
    cut = book.number("wrap.cut", "webbing to cut", "band + k + 2*t",
                      [computed("band", "band", band), from_row("k", knot, knot.high, "fine length"),
                       from_row("t", tail, tail.high, "fine length")],
                      band.value + knot.high + 2 * tail.high, "fine length", "up")
    why = _strength_unknown(webbing, ring)
    if why:
        return Wrapped(r, angle, band, cut, None, None, why)
    retention = row("knots", "retention.ring bend.nylon")
    friction = row("materials", "friction." + post.surface)
    kept = wet_share(webbing.fibre, wet)
    wet_row = row("materials", "wet." + webbing.fibre)
    over_ring = bend_share(ring.thickness_mm.value, webbing.thickness_mm.value)
    bend_row = row("materials", "bend.rule" if ring.thickness_mm.value >= webbing.thickness_mm.value else "bend.thin")
    phi = wrapped_rad(rig.bend_at, angle.value)
    ends = []
    for i, end in enumerate(("low", "high")):
        bend = book.number(
            f"wrap.bend.{end}", f"share kept where the webbing bends over {ring.name}, {end} end",
            "1 - c/sqrt(D/d)" if bend_row.key == "bend.rule" else "b0",
            [from_row("c", bend_row, bend_row.low, "share"),
             Term("D", f"thickness of {ring.name}", ring.thickness_mm.value, "diameter", "entered"),
             Term("d", f"thickness of {webbing.name}", webbing.thickness_mm.value, "diameter", "entered")]
            if bend_row.key == "bend.rule" else [from_row("b0", bend_row, over_ring[i], "share")],
            over_ring[i], "share")
        strand = webbing.strength_kn.low_kn if end == "low" else webbing.strength_kn.high_kn
        rho, mu = (retention.low, friction.low) if end == "low" else (retention.high, friction.high)
        ends.append(book.number(
            f"wrap.holds.{end}", f"what {webbing.name} round {post.name} holds, {end} end",
            "n*cos(theta/2)*S*w*min(1, b, rho/exp(-mu*phi))",
            [Term("n", "strands that carry", 2, "count", "J: simple wrap, ring free"),
             computed("theta", "angle between the legs", angle),
             Term("S", f"one strand of {webbing.name}, unknotted", strand, "force", webbing.strength_kn.source),
             Term("w", f"share kept when wet ({wet})", kept[i], "share", wet_row.cited),
             computed("b", "share kept over the ring", bend),
             from_row("rho", retention, rho, "share"), from_row("mu", friction, mu, "share"),
             Term("phi", f"post between leg and bend, bend at the {rig.bend_at}", phi, "angle", "HB: geometry")],
            wrap_strength_kn(strand, angle.value, kept[i], over_ring[i], rho, mu, phi), "force",
            "down" if end == "low" else "up"))
    return Wrapped(r, angle, band, cut, ends[0], ends[1])


def _strength_unknown(webbing: Webbing, ring: Ring | None) -> str:
    if webbing.fibre == "HMPE":
        return "a ring bend does not hold in HMPE webbing"
    if webbing.fibre == "unknown":
        return f"the fibre of {webbing.name} is unknown"
    if webbing.strength_kn.kind == "unknown":
        return f"the strength of {webbing.name} is unknown"
    if webbing.thickness_mm.kind == "unknown":
        return f"the thickness of {webbing.name} is unknown"
    if ring is None or ring.thickness_mm.kind == "unknown":
        return "the thickness of the ring is unknown"
    return ""
