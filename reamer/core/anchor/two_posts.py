"""One band round two posts: shares, webbing, strength, and what happens when one post fails."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.anchor.equilibrium import two_legs
from reamer.core.anchor.legs import stiffness
from reamer.core.anchor.post import band_m, radius_m
from reamer.core.anchor.removal import Catch, Removal, fall_peak
from reamer.core.answer.look import Look
from reamer.core.answer.say import TOWARD, Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.model import Post, TwoPosts, Webbing, sure
from reamer.core.plan.limits import limits_m
from reamer.core.rope.knots import rating_of, retention
from reamer.core.rope.wet import wet_share
from reamer.core.tables import ENDS, RangeEnd, Row, row


@dataclass(frozen=True, slots=True)
class PostView:
    """One of two posts from above: its centre from the focal point, out and aside, and its radius [m]."""

    name: str
    out_m: float
    aside_m: float
    radius_m: float


@dataclass(frozen=True, slots=True)
class TwoPostsView:
    """Two posts with one loop as computed: where they stand, each one's share, webbing to cut, what it holds."""

    posts: tuple[PostView, PostView]
    removals: tuple[Removal, ...]
    angle: Number
    first: Number
    second: Number
    cut: Number
    low: Number | None
    high: Number | None
    why: str


def swing_down_m(reach_m: float, half_angle_rad: float) -> float:
    """How far the focal point falls when one of two posts fails and it swings in line under the other.

    h = D·(1 − cos(θ/2))

    reach_m: D, from the other post's centre to the focal point [m]; half_angle_rad: θ/2 between its line and the load
    [rad]
    returns: h [m]
    Source: HB, geometry.

    >>> round(swing_down_m(1.0, math.radians(60)), 3)
    0.5
    """
    return reach_m * (1 - math.cos(half_angle_rad))


@dataclass(frozen=True, slots=True)
class _Pair:
    """Two posts whose girths and reaches are known, and the angle between their lines [rad]; ``keys``: theirs."""

    rig: TwoPosts
    posts: tuple[Post, Post]
    webbing: Webbing
    angle: float
    theta: Term
    keys: tuple[str, str] = ("first", "second")


def _post_removals(pair: _Pair, views: tuple[PostView, PostView], catch: Catch, book: Book) -> tuple[Removal, ...]:
    """What happens when one of two posts fails: the other carries all, after the focal point has swung in line."""
    made = []
    for i, name in enumerate(pair.keys):
        other, gone = views[1 - i], pair.posts[i].name
        reach = math.hypot(other.out_m, other.aside_m)
        fall, key = swing_down_m(reach, pair.angle / 2), f"two.{name}.gone"
        terms = [
            Term(
                "D",
                f"from the centre of {other.name} to the focal point",
                reach,
                "fine length",
                "entered",
                typed=typed(pair.posts[1 - i], "girth_m"),
            ),
            pair.theta,
        ]
        what = f"fall of the focal point when {gone} fails"
        drop = book.number(f"{key}.drop", what, "D*(1 - cos(theta/2))", terms, fall, "fine length", "up")
        at = (other.out_m + reach, other.aside_m, 0.0)
        shares = tuple(Number(1.0 if j != i else 0.0, "part", "up") for j in range(2))
        ea = stiffness(pair.webbing, "least")
        if catch.why or ea is None:
            why = catch.why or f"the fibre or strength of {pair.webbing.name} is unknown"
            made.append(Removal(name, gone, at, shares, drop, None, (), why))
            continue
        legs = "stiffness of the two strands to the other post, least stretch [kN/m]"
        peak = fall_peak(key, gone, catch, drop, Term("kl", legs, ea / reach, "count", "HB: EA/L"), book)
        pulls = tuple(peak if j != i else Number(0.0, "force", "up") for j in range(2))
        made.append(Removal(name, gone, at, shares, drop, peak, pulls, ""))
    return tuple(made)


def _swung(angle_rad: float, swing_rad: float) -> tuple[float, float] | None:
    """The greatest share of two tied legs while the load swings, and the swing it comes at; None where the legs lie
    together.
    Source: HB, statics of three forces."""
    if angle_rad < 1e-6:
        return None
    at = min(swing_rad, angle_rad / 2, max(0.0, (math.pi - angle_rad) / 2))
    return two_legs(angle_rad / 2 - at, angle_rad / 2 + at)[0], at


def two_posts(
    look: Look, rig: TwoPosts, posts: tuple[Post, Post], webbing: Webbing, catch: Catch
) -> TwoPostsView | str:
    """One band round two posts, the inner strand drawn to the focal point, four strands tied in one overhand.

    F = n·cos(θ/2)·S·w·ρ, half of the four strands at the low end

    look: the station; rig: its reaches and the angle θ between the posts' lines; posts, webbing: the parts
    catch: everyone who hangs on it, and the rope
    returns: shares, webbing to cut [m], low and high [kN]; or what is unknown
    Source: P, common practice, no source; HB, statics of a symmetric pair. The legs' own angle at each post is left
        out.
    """
    gains = (rig.first_gain_m, rig.second_gain_m)
    if (
        rig.angle_deg.kind == "unknown"
        or any(g.kind == "unknown" for g in gains)
        or any(p.girth_m.kind == "unknown" for p in posts)
    ):
        return "a girth, a reach or the angle between the posts is unknown"
    if rig.swing_deg.kind == "unknown":
        return "how far the load swings is unknown"
    angle, book = math.radians(rig.angle_deg.value), look.book
    theta = Term(
        "theta",
        "angle between the two posts' lines",
        angle,
        "angle",
        f"entered: {rig.angle_deg.method}",
        typed=("{rig}/angle_deg",),
    )
    pair = _Pair(rig, posts, webbing, angle, theta)
    shares = _shares(pair, math.radians(rig.swing_deg.value), book)
    views, cut = _cut(pair, book)
    removals = _post_removals(pair, views, catch, book)
    seen = (views, removals, Number(angle, "angle", "up"), *shares, cut)
    if webbing.fibre == "unknown" or webbing.strength_kn.kind == "unknown":
        what = "fibre" if webbing.fibre == "unknown" else "strength"
        return TwoPostsView(*seen, None, None, f"the {what} of {webbing.name} is unknown")
    rows = [retention(knot, webbing.fibre, look.policies.retention) for knot in ("overhand", "ring bend")]
    kept = [r for r in rows if r is not None]
    if len(kept) < len(rows):
        return TwoPostsView(*seen, None, None, f"a ring bend is not to be used in {webbing.fibre} webbing")
    low, high = (_holds(end, pair, look, kept) for end in ENDS)
    return TwoPostsView(*seen, low, high, "")


def _shares(pair: _Pair, swing: float, book: Book) -> tuple[Number, Number]:
    """What each post gets of the load: straight down half, by 6.1; swung, as two tied legs share it, and past a leg's
    line that leg has all."""
    straight, side = 1 / (2 * math.cos(pair.angle / 2)), _swung(pair.angle, swing)

    def each(more: str, formula: str, terms: list[Term], value: float) -> tuple[Number, Number]:
        first, second = (
            book.number(f"two.{n}", f"share of the load on {p.name}{more}", formula, terms, value, "part", "up")
            for n, p in zip(pair.keys, pair.posts, strict=True)
        )
        return first, second

    if side is None and swing > 1e-9:
        what = "legs that lie together: the swing decides which of them takes all"
        return each("", "n", [Term("n", what, 1.0, "share", "J: our judgement")], 1.0)
    if side is None or side[0] <= straight:
        return each("", "1/(2*cos(theta/2))", [pair.theta], straight)
    terms = [
        pair.theta,
        Term("beta", "swing at which it has most", side[1], "angle", "decided", typed=("{rig}/swing_deg",)),
    ]
    return each(", swung to its side", "sin(theta/2 + beta)/sin(theta)", terms, side[0])


def _cut(pair: _Pair, book: Book) -> tuple[tuple[PostView, PostView], Number]:
    """The posts from above, and the webbing that goes round both."""
    terms: list[Term] = []
    seen, value = [], 0.0
    for i, (p, gain) in enumerate(zip(pair.posts, (pair.rig.first_gain_m, pair.rig.second_gain_m), strict=True), 1):
        girth, x = sure(p.girth_m), sure(gain).value
        round_m = limits_m(girth)[1]
        r, aside = radius_m(round_m), pair.angle / 2 if i == 1 else -pair.angle / 2
        seen.append(PostView(p.name, -(r + x) * math.cos(aside), (r + x) * math.sin(aside), r))
        name, formula = (
            f"band round {p.name} and out to the focal point",
            "2*sqrt(((C/(2*pi)) + x)**2 - (C/(2*pi))**2) + (C/(2*pi))*(pi + 2*asin((C/(2*pi))/((C/(2*pi)) + x)))",
        )
        gain_at = "{rig}/first_gain_m" if i == 1 else "{rig}/second_gain_m"
        own = [
            Term(
                "C",
                f"girth of {p.name}, high end",
                round_m,
                "fine length",
                f"entered: {girth.method}",
                typed=typed(p, "girth_m"),
            ),
            Term("x", "from its near face to the focal point", x, "fine length", "decided", typed=(gain_at,)),
        ]
        band = book.number(f"two.band{i}", name, formula, own, band_m(r, x), "fine length", "up")
        terms.append(computed(f"b{i}", f"band round {p.name}", band))
        value += band.value
    bend, knot, tail = (
        row("knots", k) for k in ("rope used.ring bend", "rope used.four-strand overhand", "tail.webbing")
    )
    terms += [from_row(s, r, r.high, "fine length") for s, r in (("k1", bend), ("k2", knot), ("t", tail))]
    value += bend.high + knot.high + 2 * tail.high
    cut = book.number("wrap.cut", "webbing to cut", "b1 + b2 + k1 + k2 + 2*t", terms, value, "fine length", "up")
    return (seen[0], seen[1]), cut


def _holds(end: RangeEnd, pair: _Pair, look: Look, rows: list[Row]) -> Number:
    """What the band holds at one end of its range: of the two knots in it the lesser decides."""
    webbing, own = pair.webbing, rating_of(pair.webbing)
    n, wet_row = 2 if end == "low" else 4, row("materials", f"wet.{webbing.fibre}")
    kept = wet_share(webbing.fibre, look.wet)[ENDS.index(end)]
    rho = min(r.at(end) for r in rows)
    lesser = next((r for r in rows if rho in (r.low, r.high)), rows[-1])
    terms = [
        Term("n", "strands of four that carry", n, "count", "P: common practice, no source"),
        pair.theta,
        Term(
            "S",
            f"one strand of {webbing.name}, unknotted",
            own.at(end),
            "force",
            own.source,
            typed=typed(webbing, "strength_kn"),
        ),
        Term("w", f"{wet_row.name}; gets wet: {look.wet}", kept, "share", wet_row.cited),
        from_row("rho", lesser, rho, "share"),
    ]
    name, value = (
        f"what {webbing.name} round both posts holds, {end} end",
        n * math.cos(pair.angle / 2) * own.at(end) * kept * rho,
    )
    return look.book.number(f"two.{end}", name, "n*cos(theta/2)*S*w*rho", terms, value, "force", TOWARD[end])
