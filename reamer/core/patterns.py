"""The patterns round one post: what each holds, what webbing it takes, and where its knots stand."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.anchor import band_m, leg_angle_rad, radius_m, wet_share, wrap_strength_kn, wrapped_rad
from reamer.core.bend import bent
from reamer.core.model import Direct, Post, Ring, Several, Sling, TwoPosts, Webbing, Wrap
from reamer.core.part import Holding, decided, whole
from reamer.core.say import Number
from reamer.core.section import limits_m
from reamer.core.tables import Pattern, Row, patterns, row, table
from reamer.core.working import Book, Term, computed, from_row

EXTENDED = "re-threaded overhand"
# A sewn loop cannot be cut or tied: what can be rigged with one.
SEWN = ("basket", "girth hitch")
PLACES = {"leg": "in a leg", "side": "at the side", "back": "at the back", "front": "at the front, under a full turn",
          "focal": "at the focal point"}


@dataclass(frozen=True, slots=True)
class Spot:
    """A knot in the view from above: which, and where it stands, from the post's centre [m]."""

    what: str
    x_m: float
    y_m: float


@dataclass(frozen=True, slots=True)
class Bench:
    """The tie seen from above: post at the origin, focal point at (reach, 0), legs touching the post at ±(x, y).

    strands: at the focal point; turns: whole turns round the post besides the wrap; ring_m: where the ring hangs [m]
    """

    radius_m: float
    reach_m: float
    touch_x_m: float
    touch_y_m: float
    strands: int
    turns: int
    ring_m: float
    knots: tuple[Spot, ...]


@dataclass(frozen=True, slots=True)
class Wrapped:
    """A tie round one post as computed. What is unknown is None and ``why`` says so.

    cut: webbing to cut, or how long a sewn sling must be, laid; points: every place in it that may fail
    forbidden: the knot in it that does not hold in this webbing, "" if none
    """

    pattern: Pattern
    angle: Number | None
    band: Number | None
    cut: Number | None
    low: Number | None
    high: Number | None
    why: str
    bench: Bench | None
    forbidden: str = ""
    points: tuple[Holding, ...] = ()


def family(fibre: str) -> str:
    """Which rows of the knot table a fibre takes.

    fibre: the material
    returns: nylon (and polyester) or HMPE (and aramid)
    Source: P, common practice, no source.
    """
    return "HMPE" if fibre in ("HMPE", "aramid") else "nylon"


def retention_graded(knot: str, fibre: str) -> Row | None:
    """The share a knot keeps, by knot and fibre.

    knot: as the table names it; fibre: the material
    returns: the table's row, None where it has none: the knot is not to be used in that fibre
    Source: HB and P, knot table.
    """
    key = f"retention.{knot}.{family(fibre)}"
    return row("knots", key) if key in table("knots").rows else None


def retention_general(fibre: str) -> Row:
    """The share any knot keeps, by the rule that a knot halves it.

    fibre: the material
    returns: the table's row
    Source: P, common practice, no source.
    """
    return row("knots", f"retention.general.{family(fibre)}")


def retention(knot: str, fibre: str, school: str) -> Row | None:
    """The share a knot keeps, by the school the plan follows.

    knot, fibre: as for retention_graded; school: graded or flat half
    returns: the table's row, None where the knot is not to be used in that fibre, whatever the school
    Source: HB and P, knot table.
    """
    graded = retention_graded(knot, fibre)
    return graded if graded is None or school == "graded" else retention_general(fibre)


def slips_in(pattern: Pattern, fibre: str) -> str:
    """The knot of a pattern that closes its loop and slips in a fibre.

    pattern: the pattern; fibre: the webbing's
    returns: the knot, "" if none does
    Source: P, table of pull tests: HMPE closed by an overhand or a ring bend slips.
    """
    closing = [knot for knot, _ in pattern.weak_points if knot in ("overhand", "ring bend")]
    return closing[0] if fibre == "HMPE" and closing else ""


def reach_m(rig: Wrap | Direct | Several | TwoPosts) -> float | None:
    """From the post's near face, or the anchor, or the first of several points' origin, out to the ring.

    rig: the tie
    returns: gain, the extension of a pattern that has one, and the links [m]; None while any is unknown
    Source: none, a sum.
    """
    own = rig.out_m if rig.kind == "several" else rig.first_gain_m if rig.kind == "two posts" else rig.gain_m
    figures = [own, *(link.reach_m for link in rig.links if not getattr(link, "stacked", False))]
    if rig.kind == "wrap" and rig.pattern == EXTENDED:
        figures.append(rig.extension_m)
    return None if any(f.kind == "unknown" for f in figures) else sum(f.value for f in figures)


def _spots(pattern: Pattern, bend_at: str, r: float, reach: float, touch: tuple[float, float]) -> tuple[Spot, ...]:
    """Where each knot stands, seen from above."""
    places = {"focal": (reach, 0.0), "leg": ((reach + touch[0]) / 2, touch[1] / 2), "side": (0.0, r), "back": (-r, 0.0),
              "front": (r, 0.0)}
    made = []
    for knot, place in pattern.weak_points:
        x, y = places[bend_at if place == "chosen" else place]
        if knot == "girth hitch":
            x, y = r, 0.0
        made.append(Spot(knot, x, y))
    return tuple(made)


def _laid(pattern: Pattern, girth: Term, gain: Term, band: Number, book: Book) -> Number | None:
    """How long a sewn sling must be, laid, to be rigged so."""
    if pattern.key == "basket":
        return book.number("wrap.cut", "sling wanted, laid length", "band", [computed("band", "band round the post and out to the focal point", band)],
                           band.value, "fine length", "up")
    if pattern.key == "girth hitch":
        return book.number("wrap.cut", "sling wanted, laid length", "C + x", [girth, gain], girth.value + gain.value, "fine length", "up")
    return None


def _cut(pattern: Pattern, rig: Wrap, girth: Term, gain: Term, band: Number, book: Book) -> Number | None:
    """Webbing to cut: bands, turns, knots and tails."""
    terms, formula, value = [], [], 0.0
    tail = row("knots", "tail.webbing")
    if "C" in pattern.own or pattern.turns:
        terms.append(girth)
    if pattern.own and pattern.own != "ext":
        terms.append(gain)
        formula.append(pattern.own)
        value += (2 if pattern.own.startswith("2*") else 1) * (girth.value + gain.value)
    if pattern.own == "ext":
        if rig.extension_m.kind == "unknown":
            return None
        terms.append(Term("ext", "extension, focal point to ring", rig.extension_m.value, "fine length", "decided"))
        formula.append("ext")
        value += rig.extension_m.value
    if pattern.bands:
        terms.append(computed("band", "band round the post and out to the focal point", band))
        formula.append(f"{pattern.bands}*band")
        value += pattern.bands * band.value
    if pattern.turns:
        formula.append(f"{pattern.turns}*C")
        value += pattern.turns * girth.value
    for i, (knot, count) in enumerate(pattern.knots.items(), 1):
        used = row("knots", "rope used.ring bend" if knot == "ring bend" else f"rope used.{knot} in webbing")
        terms.append(from_row(f"k{i}", used, used.high, "fine length"))
        formula.append(f"{count}*k{i}")
        value += count * used.high
    if pattern.tails:
        terms.append(from_row("t", tail, tail.high, "fine length"))
        formula.append(f"{pattern.tails}*t")
        value += pattern.tails * tail.high
    return book.number("wrap.cut", "webbing to cut", " + ".join(formula), terms, value, "fine length", "up")


def _unknown(pattern: Pattern, rows: list[Row | None], webbing: Webbing | Sling, ring: Ring | None) -> str:
    if isinstance(webbing, Sling):
        if pattern.key not in SEWN:
            return f"a sewn sling cannot be tied in a {pattern.name}: use a basket or a girth hitch, or webbing"
        return f"the fibre of {webbing.name} is unknown" if webbing.fibre == "unknown" else \
            f"the rating of {webbing.name} is unknown" if webbing.rating_kn.kind == "unknown" else ""
    if webbing.fibre == "unknown":
        return f"the fibre of {webbing.name} is unknown"
    slipping = slips_in(pattern, webbing.fibre)
    if slipping or None in rows:
        knot = slipping or pattern.weak_points[rows.index(None)][0]
        return f"a {knot} is not to be used in {webbing.fibre} webbing"
    if webbing.strength_kn.kind == "unknown":
        return f"the strength of {webbing.name} is unknown"
    if pattern.bends_over_ring and webbing.thickness_mm.kind == "unknown":
        return f"the thickness of {webbing.name} is unknown"
    if pattern.bends_over_ring and (ring is None or ring.thickness_mm.kind == "unknown"):
        return "what it bends over is no connector: hang one between" if ring is None else f"the thickness of {ring.name} is unknown"
    return ""


def wrapped(rig: Wrap, post: Post, webbing: Webbing | Sling, ring: Ring | None, wet: str, school: str, book: Book) -> Wrapped:
    """A tie round one post: angle, webbing to cut, what it holds low to high, and how it looks from above.

    rig, post: the parts; webbing: or a sewn sling; ring: the connector it bends over, None if that is none
    wet: yes, no or unknown; school: of retention; book: where workings go
    returns: the tie as computed [m, rad, kN]; the thickest girth its error allows is used throughout
    Source: HB, P; see the functions it calls and the table of patterns.
    """
    pattern, sewn = patterns()[rig.pattern], isinstance(webbing, Sling)
    if post.girth_m.kind == "unknown" or rig.gain_m.kind == "unknown":
        what = f"girth of {post.name}" if post.girth_m.kind == "unknown" else "reach of the tie"
        return Wrapped(pattern, None, None, None, None, None, f"the {what} is unknown", None)
    girth, x = limits_m(post.girth_m)[1], rig.gain_m.value
    r = radius_m(girth)
    girth_term = Term("C", f"girth of {post.name}, high end", girth, "fine length", f"entered: {post.girth_m.method}")
    gain_term = Term("x", "from the near face to the focal point", x, "fine length", "decided")
    angle = book.number("wrap.angle", "angle between the legs", "2*asin((C/(2*pi))/((C/(2*pi)) + x))",
                        [girth_term, gain_term], leg_angle_rad(r, x), "angle", "up")
    band = book.number("wrap.band", "band round the post and out to the focal point",
                       "2*sqrt(((C/(2*pi)) + x)**2 - (C/(2*pi))**2) + (C/(2*pi))*(pi + theta)",
                       [girth_term, gain_term, computed("theta", "angle between the legs", angle)],
                       band_m(r, x), "fine length", "up")
    cut = _laid(pattern, girth_term, gain_term, band, book) if sewn else _cut(pattern, rig, girth_term, gain_term, band, book)
    touch = (r * math.sin(angle.value / 2), r * math.cos(angle.value / 2))
    ring_at = reach_m(rig)
    spots = tuple(s for s in _spots(pattern, rig.bend_at, r, r + x, touch) if not sewn or s.what == "girth hitch")
    bench = Bench(r, r + x, *touch, pattern.strands, pattern.turns, r + (ring_at if ring_at is not None else x), spots)
    rows = [retention(knot, webbing.fibre, school) for knot, _ in pattern.weak_points]
    why = _unknown(pattern, rows, webbing, ring)
    if not why and cut is None:
        why = "how far the single strand extends is unknown"
    if why:
        slipping = "" if sewn else slips_in(pattern, webbing.fibre) or (pattern.weak_points[rows.index(None)][0] if None in rows and webbing.fibre != "unknown" else "")
        return Wrapped(pattern, angle, band, cut, None, None, why, bench, slipping)
    points = decided(_points(pattern, rig, post, webbing, ring, wet, angle, rows, book))
    low, high = whole("wrap.holds", f"what {webbing.name} round {post.name} holds", points, book)
    return Wrapped(pattern, angle, band, cut, low, high, "", bench, "", points)


def _strand(webbing: Webbing | Sling, end: str, book: Book) -> tuple[float, Term]:
    """One strand's strength: webbing's own, or half a sewn loop's rating."""
    if isinstance(webbing, Sling):
        rating = webbing.rating_kn.low_kn if end == "low" else webbing.rating_kn.high_kn
        half = book.number(f"wrap.strand.{end}", f"one of the two strands of {webbing.name}, {end} end", "R/2",
                           [Term("R", f"rating of {webbing.name}, the whole loop", rating, "force", webbing.rating_kn.source)], rating / 2, "force")
        return rating / 2, computed("S", f"one strand of {webbing.name}", half)
    strand = webbing.strength_kn.low_kn if end == "low" else webbing.strength_kn.high_kn
    return strand, Term("S", f"one strand of {webbing.name}, unknotted", strand, "force", webbing.strength_kn.source)


def _points(pattern: Pattern, rig: Wrap, post: Post, webbing: Webbing | Sling, ring: Ring | None, wet: str, angle: Number,
            rows: list[Row], book: Book) -> list[Holding]:
    """Every place where the tie may fail, and what it would hold if only that place could."""
    sewn = isinstance(webbing, Sling)
    friction = row("friction", "HMPE" if family(webbing.fibre) == "HMPE" else "webbing " + post.surface)
    wet_row, wet_kept = row("materials", "wet." + webbing.fibre), wet_share(webbing.fibre, wet)
    spread = angle.value if pattern.spread else 0.0
    ends: dict[str, list[tuple[str, str, Number]]] = {"low": [], "high": []}
    for i, end in enumerate(("low", "high")):
        strand, strand_term = _strand(webbing, end, book)
        carry = pattern.carry_low if end == "low" else pattern.carry_high
        mu = friction.low if end == "low" else friction.high
        base = [Term("n", f"strands that carry, {pattern.name}", carry, "count", pattern.cited), strand_term,
                Term("w", f"{wet_row.name}; gets wet: {wet}", wet_kept[i], "share", wet_row.cited)]
        if pattern.spread:
            base.append(computed("theta", "angle between the legs", angle))
        plain = f"n*{'cos(theta/2)*' if pattern.spread else ''}S*w"

        def put(key: str, name: str, formula: str, terms: list[Term], value: float, end: str = end) -> None:
            number = book.number(f"wrap.{key}.{end}", f"{name}, {end} end", formula, terms, value, "force", "down" if end == "low" else "up")
            ends[end].append((key, name, number))

        put("strands", f"{webbing.name}, plain strands", plain, base, wrap_strength_kn(strand, spread, wet_kept[i], 1.0, (), mu, carry))
        # A sewn loop has no bend that joins it.
        knots = [(w, r) for w, r in zip(pattern.weak_points, rows, strict=True) if not sewn or w[0] == "girth hitch"]
        for k, ((knot, place), kept_row) in enumerate(knots, 1):
            place = rig.bend_at if place == "chosen" else place
            phi = wrapped_rad(place, angle.value)
            rho = kept_row.low if end == "low" else kept_row.high
            name = knot if knot == "girth hitch" else f"{knot} {PLACES[place]}"
            terms, formula = [*base, from_row("rho", kept_row, rho, "share")], f"{plain}*min(1, rho)"
            if phi:
                formula = f"{plain}*min(1, rho/exp(-mu*phi))"
                terms += [Term("phi", f"post between the leg and the {knot}, {PLACES[place]}", phi, "angle", "HB: geometry"),
                          from_row("mu", friction, mu, "share")]
            put(f"knot{k}", name, formula, terms, wrap_strength_kn(strand, spread, wet_kept[i], 1.0, ((rho, phi),), mu, carry))
        if pattern.key == EXTENDED:
            # The band and the single strand that extends it are two parts; no cosine on the strand.
            rho = rows[0].low if end == "low" else rows[0].high
            put("single", f"{pattern.weak_points[0][0]} in the single strand to the ring", "S*w*rho",
                [strand_term, base[2], from_row("rho", rows[0], rho, "share")], strand * wet_kept[i] * rho)
        if pattern.bends_over_ring and not sewn:
            over = _over_ring(ring, webbing, end, book)
            put("bend", f"bent over {ring.name}", f"{plain}*b", [*base, computed("b", "share kept over the ring", over)],
                wrap_strength_kn(strand, spread, wet_kept[i], over.value, (), mu, carry))
    return [Holding(key, name, low, high) for (key, name, low), (_, _, high) in zip(ends["low"], ends["high"], strict=True)]


def _over_ring(ring: Ring, webbing: Webbing, end: str, book: Book) -> Number:
    value, formula, terms = bent(ring, webbing.name, webbing.thickness_mm.value, end)
    return book.number(f"wrap.over.{end}", f"share kept where the webbing bends over {ring.name}, {end} end", formula, terms, value, "share")


@dataclass(frozen=True, slots=True)
class PatternRow:
    """One pattern tied round this post with this webbing: what it holds and takes, or why that is not checked."""

    key: str
    name: str
    low: Number | None
    high: Number | None
    cut: Number | None
    why: str
    redundant: str
    cinches: str
    equalises: str
    notes: str
    source: str


def compare(rig: Wrap, post: Post, webbing: Webbing | Sling, ring: Ring | None, wet: str, school: str) -> tuple[PatternRow, ...]:
    """Every pattern with the same post, webbing, ring and focal point, in the table's order.

    rig: the tie as it is; post, webbing, ring, wet, school: as for wrapped
    returns: one row a pattern [kN, m]
    Source: as for wrapped.
    """
    made = []
    for key, pattern in patterns().items():
        w = wrapped(rig.model_copy(update={"pattern": key}), post, webbing, ring, wet, school, Book())
        made.append(PatternRow(key, pattern.name, w.low, w.high, w.cut, w.why, pattern.redundant, pattern.cinches,
                               pattern.equalises, pattern.notes, pattern.cited))
    return tuple(made)
