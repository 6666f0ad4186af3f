"""The patterns round one post: what each holds, what webbing it takes, and where its knots stand."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.anchor.holding import Holding, Named, decided, whole
from reamer.core.anchor.post import band_m, leg_angle_rad, radius_m, wrap_strength_kn, wrapped_rad
from reamer.core.answer.say import TOWARD, Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.model import Direct, Post, Ring, Several, Sling, Tri, TwoPosts, Webbing, Wrap, sure
from reamer.core.plan.limits import limits_m
from reamer.core.rope.bend import bent
from reamer.core.rope.knots import family, rating_of, retention
from reamer.core.rope.wet import wet_share
from reamer.core.tables import ENDS, Pattern, RangeEnd, Row, patterns, row

BAND = "band round the post and out to the focal point"
EXTENDED = "re-threaded overhand"


# A sewn loop cannot be cut or tied: what can be rigged with one.
SEWN = ("basket", "girth hitch")
PLACES = {
    "leg": "in a leg",
    "side": "at the side",
    "back": "at the back",
    "front": "at the front, under a full turn",
    "focal": "at the focal point",
}


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
    figures = [own, *(link.reach_m for link in rig.links if not (link.kind == "connector" and link.stacked))]
    if rig.kind == "wrap" and rig.pattern == EXTENDED:
        figures.append(rig.extension_m)
    known = [f.known for f in figures]
    return None if None in known else sum(k for k in known if k is not None)


def _spots(pattern: Pattern, bend_at: str, r: float, reach: float, touch: tuple[float, float]) -> tuple[Spot, ...]:
    """Where each knot stands, seen from above."""
    places = {
        "focal": (reach, 0.0),
        "leg": ((reach + touch[0]) / 2, touch[1] / 2),
        "side": (0.0, r),
        "back": (-r, 0.0),
        "front": (r, 0.0),
    }
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
        return book.number(
            "wrap.cut",
            "sling wanted, laid length",
            "band",
            [computed("band", BAND, band)],
            band.value,
            "fine length",
            "up",
        )
    if pattern.key == "girth hitch":
        return book.number(
            "wrap.cut",
            "sling wanted, laid length",
            "C + x",
            [girth, gain],
            girth.value + gain.value,
            "fine length",
            "up",
        )
    return None


def _cut(pattern: Pattern, rig: Wrap, girth: Term, gain: Term, band: Number, book: Book) -> Number | None:
    """Webbing to cut: bands, turns, knots and tails."""
    terms: list[Term] = []
    formula: list[str] = []
    value, tail = 0.0, row("knots", "tail.webbing")
    if "C" in pattern.own or pattern.turns:
        terms.append(girth)
    if pattern.own and pattern.own != "ext":
        terms.append(gain)
        formula.append(pattern.own)
        value += (2 if pattern.own.startswith("2*") else 1) * (girth.value + gain.value)
    if pattern.own == "ext":
        further = rig.extension_m.known
        if further is None:
            return None
        terms.append(
            Term(
                "ext", "extension, focal point to ring", further, "fine length", "decided", typed=("{rig}/extension_m",)
            )
        )
        formula.append("ext")
        value += further
    if pattern.bands:
        terms.append(computed("band", BAND, band))
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


@dataclass(frozen=True, slots=True)
class Tie:
    """What is tied round what: the post, webbing or a sewn sling, the connector that it bends over, None if it is none;
    whether it gets wet: yes, no or unknown; and the school of retention."""

    post: Post
    webbing: Webbing | Sling
    ring: Ring | None
    wet: Tri
    school: str

    @property
    def sewn(self) -> bool:
        """Whether it is a sewn loop, that cannot be cut or tied."""
        return isinstance(self.webbing, Sling)


def _unknown(pattern: Pattern, rows: list[Row | None], tie: Tie) -> str:
    """What is not known of a tie, or why it cannot be tied so; "" if nothing."""
    webbing, ring = tie.webbing, tie.ring
    if isinstance(webbing, Sling):
        if pattern.key not in SEWN:
            return f"a sewn sling cannot be tied in a {pattern.name}: use a basket or a girth hitch, or webbing"
        if webbing.fibre == "unknown":
            return f"the fibre of {webbing.name} is unknown"
        return f"the rating of {webbing.name} is unknown" if webbing.rating_kn.kind == "unknown" else ""
    if webbing.fibre == "unknown":
        return f"the fibre of {webbing.name} is unknown"
    slipping = slips_in(pattern, webbing.fibre)
    if slipping or None in rows:
        knot = slipping or pattern.weak_points[rows.index(None)][0]
        return f"a {knot} is not to be used in {webbing.fibre} webbing"
    if webbing.strength_kn.kind == "unknown":
        return f"the strength of {webbing.name} is unknown"
    if not pattern.bends_over_ring:
        return ""
    if webbing.thickness_mm.kind == "unknown":
        return f"the thickness of {webbing.name} is unknown"
    if ring is None:
        return "what it bends over is no connector: hang one between"
    return f"the thickness of {ring.name} is unknown" if ring.thickness_mm.kind == "unknown" else ""


def wrapped(rig: Wrap, tie: Tie, book: Book) -> Wrapped:
    """A tie round one post: angle, webbing to cut, what it holds low to high, and how it looks from above.

    rig: its pattern and its reach; tie: the parts; book: how numbers are made
    returns: the tie as computed [m, rad, kN]; the thickest girth its error allows is used throughout
    Source: HB, P; see the functions it calls and the table of patterns.
    """
    pattern, post, gain = patterns()[rig.pattern], tie.post, rig.gain_m
    if post.girth_m.kind == "unknown" or gain.kind == "unknown":
        what = f"girth of {post.name}" if post.girth_m.kind == "unknown" else "reach of the tie"
        return Wrapped(pattern, None, None, None, None, None, f"the {what} is unknown", None)
    girth, x = limits_m(post.girth_m)[1], gain.value
    r = radius_m(girth)
    girth_term = Term(
        "C",
        f"girth of {post.name}, high end",
        girth,
        "fine length",
        f"entered: {post.girth_m.method}",
        typed=typed(post, "girth_m"),
    )
    gain_term = Term("x", "from the near face to the focal point", x, "fine length", "decided", typed=("{rig}/gain_m",))
    formula = "2*asin((C/(2*pi))/((C/(2*pi)) + x))"
    terms = [girth_term, gain_term]
    angle = book.number("wrap.angle", "angle between the legs", formula, terms, leg_angle_rad(r, x), "angle", "up")
    name, formula = BAND, "2*sqrt(((C/(2*pi)) + x)**2 - (C/(2*pi))**2) + (C/(2*pi))*(pi + theta)"
    terms = [*terms, computed("theta", "angle between the legs", angle)]
    band = book.number("wrap.band", name, formula, terms, band_m(r, x), "fine length", "up")
    if tie.sewn:
        cut = _laid(pattern, girth_term, gain_term, band, book)
    else:
        cut = _cut(pattern, rig, girth_term, gain_term, band, book)
    bench = _bench(pattern, rig, tie, r, angle.value)
    rows = [retention(knot, tie.webbing.fibre, tie.school) for knot, _ in pattern.weak_points]
    why = _unknown(pattern, rows, tie)
    if not why and cut is None:
        why = "how far the single strand extends is unknown"
    if why:
        return Wrapped(pattern, angle, band, cut, None, None, why, bench, _forbidden(pattern, rows, tie))
    points = decided(_points(pattern, rig, tie, angle, book))
    low, high = whole(Named("wrap.holds", f"what {tie.webbing.name} round {post.name} holds"), points, book)
    return Wrapped(pattern, angle, band, cut, low, high, "", bench, "", points)


def _forbidden(pattern: Pattern, rows: list[Row | None], tie: Tie) -> str:
    """The knot of a pattern that does not hold in this webbing, "" if there is none."""
    slipping = "" if tie.sewn else slips_in(pattern, tie.webbing.fibre)
    if slipping or tie.sewn or tie.webbing.fibre == "unknown" or None not in rows:
        return slipping
    return pattern.weak_points[rows.index(None)][0]


def _bench(pattern: Pattern, rig: Wrap, tie: Tie, r: float, angle: float) -> Bench:
    """The tie seen from above."""
    x, ring_at = sure(rig.gain_m).value, reach_m(rig)
    touch = (r * math.sin(angle / 2), r * math.cos(angle / 2))
    spots = _spots(pattern, rig.bend_at, r, r + x, touch)
    seen = tuple(s for s in spots if not tie.sewn or s.what == "girth hitch")
    return Bench(r, r + x, *touch, pattern.strands, pattern.turns, r + (x if ring_at is None else ring_at), seen)


def _strand(webbing: Webbing | Sling, end: RangeEnd, book: Book) -> tuple[float, Term]:
    """One strand's strength: webbing's own, or half a sewn loop's rating."""
    if isinstance(webbing, Sling):
        rated = rating_of(webbing)
        rating, name = rated.at(end), f"one of the two strands of {webbing.name}, {end} end"
        terms = [
            Term(
                "R",
                f"rating of {webbing.name}, the whole loop",
                rating,
                "force",
                rated.source,
                typed=typed(webbing, "rating_kn"),
            )
        ]
        half = book.number(f"wrap.strand.{end}", name, "R/2", terms, rating / 2, "force")
        return rating / 2, computed("S", f"one strand of {webbing.name}", half)
    own = rating_of(webbing)
    return own.at(end), Term(
        "S",
        f"one strand of {webbing.name}, unknotted",
        own.at(end),
        "force",
        own.source,
        typed=typed(webbing, "strength_kn"),
    )


def _points(pattern: Pattern, rig: Wrap, tie: Tie, angle: Number, book: Book) -> list[Holding]:
    """Every place where the tie may fail, and what it would hold if only that place could."""
    low, high = (_points_at(end, pattern, rig, tie, angle, book) for end in ENDS)
    return [Holding(key, name, a, b) for (key, name, a), (_, _, b) in zip(low, high, strict=True)]


def _points_at(
    end: RangeEnd, pattern: Pattern, rig: Wrap, tie: Tie, angle: Number, book: Book
) -> list[tuple[str, str, Number]]:
    """The places at one end of their range: key, name, what each holds."""
    webbing, made = tie.webbing, []
    friction = row("friction", "HMPE" if family(webbing.fibre) == "HMPE" else "webbing " + tie.post.surface)
    wet_row, wet = row("materials", "wet." + webbing.fibre), wet_share(webbing.fibre, tie.wet)[ENDS.index(end)]
    spread, mu = angle.value if pattern.spread else 0.0, friction.at(end)
    strand, strand_term = _strand(webbing, end, book)
    carry = pattern.carry_low if end == "low" else pattern.carry_high
    base = [
        Term("n", f"strands that carry, {pattern.name}", carry, "count", pattern.cited),
        strand_term,
        Term("w", f"{wet_row.name}; gets wet: {tie.wet}", wet, "share", wet_row.cited),
    ]
    if pattern.spread:
        base.append(computed("theta", "angle between the legs", angle))
    plain = f"n*{'cos(theta/2)*' if pattern.spread else ''}S*w"

    def put(key: str, name: str, formula: str, terms: list[Term], value: float) -> None:
        number = book.number(f"wrap.{key}.{end}", f"{name}, {end} end", formula, terms, value, "force", TOWARD[end])
        made.append((key, name, number))

    def holds(bend: float = 1.0, weak: tuple[tuple[float, float], ...] = ()) -> float:
        return wrap_strength_kn(strand, spread, wet, bend, weak, mu, carry)

    put("strands", f"{webbing.name}, plain strands", plain, base, holds())
    rows = [retention(knot, webbing.fibre, tie.school) for knot, _ in pattern.weak_points]
    # A sewn loop has no bend that joins it.
    knots = [(w, r) for w, r in zip(pattern.weak_points, rows, strict=True) if not tie.sewn or w[0] == "girth hitch"]
    for k, ((knot, at), kept) in enumerate(knots, 1):
        assert kept is not None, "a knot without a row is said before"
        place = rig.bend_at if at == "chosen" else at
        phi, rho = wrapped_rad(place, angle.value), kept.at(end)
        name = knot if knot == "girth hitch" else f"{knot} {PLACES[place]}"
        terms, formula = [*base, from_row("rho", kept, rho, "share")], f"{plain}*min(1, rho)"
        if phi:
            formula = f"{plain}*min(1, rho/exp(-mu*phi))"
            lies = f"post between the leg and the {knot}, {PLACES[place]}"
            terms += [Term("phi", lies, phi, "angle", "HB: geometry"), from_row("mu", friction, mu, "share")]
        put(f"knot{k}", name, formula, terms, holds(weak=((rho, phi),)))
    if pattern.key == EXTENDED and rows[0] is not None:
        # The band and the single strand that extends it are two parts; no cosine on the strand.
        rho, name = rows[0].at(end), f"{pattern.weak_points[0][0]} in the single strand to the ring"
        put("single", name, "S*w*rho", [*base[1:3], from_row("rho", rows[0], rho, "share")], strand * wet * rho)
    if pattern.bends_over_ring and isinstance(webbing, Webbing) and tie.ring is not None:
        over = _over_ring(tie.ring, webbing, end, book)
        terms = [*base, computed("b", "share kept over the ring", over)]
        put("bend", f"bent over {tie.ring.name}", f"{plain}*b", terms, holds(over.value))
    return made


def _over_ring(ring: Ring, webbing: Webbing, end: RangeEnd, book: Book) -> Number:
    value, formula, terms = bent(ring, webbing, sure(webbing.thickness_mm).value, end)
    name = f"share kept where the webbing bends over {ring.name}, {end} end"
    return book.number(f"wrap.over.{end}", name, formula, terms, value, "share")


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
    bench: Bench | None


def compare(rig: Wrap, tie: Tie) -> tuple[PatternRow, ...]:
    """Every pattern with the same post, webbing, ring and focal point, in the table's order.

    rig: as it is tied now; tie: the parts
    returns: one row a pattern [kN, m]
    Source: as for wrapped.
    """
    made = []
    for key, p in patterns().items():
        w = wrapped(rig.model_copy(update={"pattern": key}), tie, Book())
        made.append(
            PatternRow(
                key, p.name, w.low, w.high, w.cut, w.why, p.redundant, p.cinches, p.equalises, p.notes, p.cited, w.bench
            )
        )
    return tuple(made)
