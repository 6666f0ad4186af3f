"""Anchors of several points: shares by elastic balance, what each leg holds, and what happens when one piece is
gone."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.anchor.equilibrium import Member, Rest, rest, sliding_high, swings
from reamer.core.anchor.legs import Material, material, mixed, stiffness
from reamer.core.anchor.removal import Catch, Point3, Removal, fall_peak
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, from_row
from reamer.core.model import Figure, Ring, Rope, Several, Sling, sure
from reamer.core.plan.limits import limits_m
from reamer.core.rope.knots import joining_knot
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class LegView:
    """One leg as computed: where its point is, what of the load it carries as tied and at worst, how long it is."""

    id: str
    name: str
    at: Point3
    tied: Number
    worst: Number
    length: Number


@dataclass(frozen=True, slots=True)
class SeveralView:
    """An anchor of several points as computed, in metres from the station's origin: out, aside, up. ``moves``: how far
    the ring goes from its rest when the load swings."""

    legs: tuple[LegView, ...]
    focal: Point3
    rest: Point3
    swung: tuple[Point3, ...]
    direction: Point3
    swing_deg: float
    angle: Number
    moves: Number
    removals: tuple[Removal, ...]
    cut: Number | None


def place(x: Figure, y: Figure, z: Figure) -> Point3 | None:
    """Three figures as a place.

    x, y, z: out, aside, up
    returns: the place [m], None if one is unknown
    Source: none.
    """
    a, b, c = x.known, y.known, z.known
    return None if a is None or b is None or c is None else (a, b, c)


def direction_of(rig: Several, runs: tuple[float, float] | None) -> Point3 | None:
    """Which way the load pulls the focal point.

    rig: its angles, where decided; runs: out and up, the first piece of the rope's line, None if unknown
    returns: a unit vector, None if it is not known
    Source: none, geometry.
    """
    if rig.aside_deg.kind == "unknown":
        return None
    if rig.down_deg.kind == "known":
        down = math.radians(rig.down_deg.value)
    elif runs:
        down = math.atan2(-runs[1], runs[0])
    else:
        return None
    aside = math.radians(rig.aside_deg.value)
    return math.cos(down) * math.cos(aside), math.cos(down) * math.sin(aside), -math.sin(down)


@dataclass(frozen=True, slots=True)
class Solved:
    """The balance of an anchor of several points: as computed, or why it is not."""

    view: SeveralView | None
    why: str
    short: Number | None = None


@dataclass(frozen=True, slots=True)
class _Stand:
    """Where everything stands: the points and the focal point [m], what each leg is of, and the features' names."""

    rig: Several
    points: list[Point3]
    focal: Point3
    things: list[Material]
    names: list[str]


@dataclass(frozen=True, slots=True)
class _Balance:
    """The rests of the focal point: as tied and swung, with each point gone, under a load [kN] in its directions."""

    load: float
    ways: list[Point3]
    tied: list[Rest]
    gone: list[Rest]


def _members(stand: _Stand, stretched: str) -> list[Member] | str:
    """The elastic members of an anchor, or what is not known of them."""
    rig, points = stand.rig, stand.points
    lengths = [math.dist(p, stand.focal) for p in points]
    stiff = []
    for thing in stand.things:
        ea = stiffness(thing, stretched)
        if ea is None:
            return f"the fibre or strength of {thing.name} is unknown"
        stiff.append(ea)
    each = list(enumerate(zip(lengths, stiff, strict=True)))
    if rig.focal in ("knotted", "clipped"):
        return [Member((i,), length, ea / length) for i, (length, ea) in each]
    # One loop through all points: its whole length gives under the tension that is alike in every part of it.
    whole = [Member(tuple(range(len(points))), sum(lengths), min(stiff) / sum(lengths))]
    if rig.focal == "limited":
        slack = rig.slack_m.known
        if slack is None:
            return "how far the limiting knots let it slide is unknown"
        whole += [Member((i,), length + slack, ea / (length + slack)) for i, (length, ea) in each]
    return whole


def solve(look: Look, rig: Several, runs: tuple[float, float] | None, catch: Catch) -> Solved:
    """The balance of an anchor of several points, as tied, swung, and with each point gone.

    look: the station, whose features the legs name; rig: the anchor; runs: the rope's first piece, out and up
    catch: everyone who hangs on it, and the rope
    returns: the anchor as computed, or why it is not
    Source: HB, least potential energy; see the functions it calls.
    """
    places = [place(leg.out_m, leg.aside_m, leg.up_m) for leg in rig.legs]
    focal, points = place(rig.out_m, rig.aside_m, rig.up_m), [p for p in places if p is not None]
    if focal is None or len(points) < len(places):
        return Solved(None, "a place is not entered")
    things = [t for leg in rig.legs if (t := material(leg.of, look.ctx)) is not None]
    if len(things) < len(places):
        return Solved(None, "what a leg is made of is not in the shed")
    if mixed(rig):
        return Solved(None, "one loop through every point is of one material, and its legs name several")
    features = [look.feature(leg.anchor) for leg in rig.legs]
    stand = _Stand(rig, points, focal, things, [f.name for f in features if f is not None])
    (why, short), direction = _misplaced(stand), direction_of(rig, runs)
    if why:
        return Solved(None, why, Number(short, "fine length", "up") if short else None)
    if direction is None:
        return Solved(None, "which way the load pulls is not known")
    swing = rig.swing_deg.known
    if swing is None:
        return Solved(None, "how far the load swings is unknown")
    if all(sum((f - p) * d for f, p, d in zip(focal, at, direction, strict=True)) <= 1e-9 for at in points):
        return Solved(None, "the load pulls toward the points: every leg would be slack")
    soft, hard = _members(stand, "most"), _members(stand, "least")
    if isinstance(soft, str) or isinstance(hard, str):
        return Solved(None, soft if isinstance(soft, str) else "")
    b = _balance(stand, soft, catch.static_kn or 1.0, swings(direction, math.radians(swing), points, focal))
    if b is None:
        return Solved(None, "no balance was found")
    book, first = look.book, b.tied[0]
    girths = {i: f.girth_m for i, f in enumerate(features) if f is not None and f.kind == "post"}
    ratio = max(h.stiffness_kn_m / s.stiffness_kn_m for h, s in zip(hard, soft, strict=True))
    legs = _legs(stand, b, book)
    removals = tuple(_removal(stand, i, b, (catch, direction, ratio), book) for i in range(len(points)))
    widest = _angle(points, max((focal, first.at), key=lambda at: widest_rad(points, at)), book)
    moves, cut = _moves(b.tied, book), _cut(stand, girths, book)
    swung = tuple(r.at for r in b.tied[1:])
    return Solved(SeveralView(legs, focal, first.at, swung, direction, swing, widest, moves, removals, cut), "")


def _balance(stand: _Stand, members: list[Member], load: float, ways: list[Point3]) -> _Balance | None:
    """All rests at once; None where one was not found."""
    loads = [(load * x, load * y, load * z) for x, y, z in ways]
    count = len(stand.points)
    without = [*[None] * len(ways), *range(count)]
    got = rest(stand.points, members, stand.focal, [*loads, *[loads[0]] * count], without)
    settled = all(r.settled for r in got)
    return _Balance(load, ways, got[: len(ways)], got[len(ways) :]) if settled else None


def _misplaced(stand: _Stand) -> tuple[str, float]:
    """Why nothing can stand so, "" if it can, and how much sling is lacking [m]."""
    points, focal, things, names = stand.points, stand.focal, stand.things, stand.names
    for i, a in enumerate(points):
        for j in range(i):
            if math.dist(a, points[j]) < 0.005:
                return f"{names[j]} and {names[i]} are in one place", 0.0
        if math.dist(a, focal) < 0.01:
            return f"the focal point lies on {names[i]}", 0.0
        thing = things[i]
        if isinstance(thing, Sling):
            # A sling through a point and the focal point: laid, it must span the distance.
            if thing.length_m.kind == "unknown":
                return f"how long {thing.name} is is unknown", 0.0
            short = math.dist(a, focal) - thing.length_m.value
            if short > 1e-9:
                return f"{thing.name} is shorter than {names[i]} and the focal point are apart", short
    first = things[0]
    if stand.rig.focal in ("sliding", "limited") and isinstance(first, Sling):
        # One loop takes the sum of its legs.
        short = sum(math.dist(a, focal) for a in points) - (first.length_m.known or 0.0)
        if short > 1e-9:
            return f"{first.name} is too short to run through every point and the focal point", short
    if len(points) == 2:
        u, v = ([f - p for f, p in zip(focal, at, strict=True)] for at in points)
        if _between(u, v) > math.radians(179):
            return "the two legs stand opposite each other: no load can be balanced", 0.0
    return "", 0.0


def _between(u: list[float], v: list[float]) -> float:
    dot = sum(a * b for a, b in zip(u, v, strict=True))
    return math.acos(max(-1.0, min(1.0, dot / (math.hypot(*u) * math.hypot(*v)))))


SOLVED = "HB: least energy of the elastic legs, solved numerically"


def _moves(tied: list[Rest], book: Book) -> Number:
    """How far the ring goes from its rest when the load swings."""
    far = max((math.dist(tied[0].at, r.at) for r in tied[1:]), default=0.0)
    terms = [Term("m", "from its rest as tied to the furthest rest of the swing", far, "fine length", SOLVED)]
    name = "movement of the focal point when the load swings"
    return book.number("legs.moves", name, "m", terms, far, "fine length", "up")


def widest_rad(places: list[Point3], at: Point3) -> float:
    """The widest angle between two legs.

    places: of the points [m]; at: of the ring [m]
    returns: angle [rad]
    Source: HB, geometry.
    """
    ways = [[f - p for f, p in zip(at, q, strict=True)] for q in places]
    return max(_between(a, b) for i, a in enumerate(ways) for b in ways[:i])


def _angle(places: list[Point3], at: Point3, book: Book) -> Number:
    """The widest angle between two legs."""
    ways = [[f - p for f, p in zip(at, q, strict=True)] for q in places]
    u, v = max(((a, b) for i, a in enumerate(ways) for b in ways[:i]), key=lambda pair: _between(*pair))
    dot, size = sum(a * b for a, b in zip(u, v, strict=True)), math.hypot(*u) * math.hypot(*v)
    terms = [
        Term("d", "scalar product of the two legs", dot, "count", "places entered", typed=("{rig}/legs",)),
        Term("s", "product of their lengths", size, "count", "places entered", typed=("{rig}/legs",)),
    ]
    name, formula = "widest angle between two legs, as tied or loaded, whichever is wider", "2*asin(sqrt((1 - d/s)/2))"
    return book.number("legs.angle", name, formula, terms, _between(u, v), "angle", "up")


def _legs(stand: _Stand, b: _Balance, book: Book) -> tuple[LegView, ...]:
    made = []
    for i, leg in enumerate(stand.rig.legs):
        key, name = f"leg.{leg.id}", stand.names[i]
        pulls = [r.pull_kn[i] for r in b.tied]
        load = Term("F", "load on the focal point", b.load, "force", "everyone who hangs", typed=("{station}/hanging",))
        pull = Term("p", "pull on it where the energy is least", pulls[0], "force", SOLVED)
        what = f"share of the load on {name}"
        mean = book.number(f"{key}.tied", f"{what}, as tied", "p/F", [pull, load], pulls[0] / b.load, "part", "up")
        worst = _worst(stand, i, b, book)
        far = math.dist(stand.points[i], stand.focal)
        terms = [
            Term("L", "from its place to the focal point", far, "fine length", "places entered", typed=("{rig}/legs",))
        ]
        length = book.number(f"{key}.length", f"length of the leg to {name}", "L", terms, far, "fine length", "up")
        made.append(LegView(leg.id, name, stand.points[i], mean, worst, length))
    return tuple(made)


def _worst(stand: _Stand, i: int, b: _Balance, book: Book) -> Number:
    """The most of the load that a leg gets."""
    key, most = f"leg.{stand.rig.legs[i].id}", max(r.pull_kn[i] for r in b.tied)
    what, source = (
        f"share of the load on {stand.names[i]}, at worst",
        f"{SOLVED}, the worst of {len(b.ways)} directions",
    )
    load = Term("F", "load on the focal point", b.load, "force", "everyone who hangs", typed=("{station}/hanging",))
    fixed = stand.rig.focal in ("knotted", "clipped") or len(stand.points) < 2
    if not fixed:
        worst = _slid(stand, i, b, source, book)
        if stand.rig.focal != "limited" or most / b.load <= worst.value:
            return worst
    # At the limiting knots it is held as if it were knotted there.
    held = "" if fixed else ", held by a limiting knot"
    pull = Term("p", f"pull on it where the energy is least{held}", most, "force", source)
    return book.number(f"{key}.worst", what, "p/F", [pull, load], most / b.load, "part", "up")


def _slid(stand: _Stand, i: int, b: _Balance, source: str, book: Book) -> Number:
    """The share that friction at the ring may leave on one strand, at the worst direction. Source: HB, capstan rule;
    for more than two legs J, our judgement: one strand high, all others low."""
    friction, n = row("friction", "ring"), len(stand.points)

    def at(r: Rest) -> tuple[float, float, Rest]:
        ways = [[a - b for a, b in zip(r.at, q, strict=True)] for q in stand.points]
        angle = min(_between(ways[i], w) for j, w in enumerate(ways) if j != i)
        k = math.exp(friction.high * (math.pi - angle))
        two = n == 2
        return sliding_high(b.load, angle, friction.high)[0] if two else sum(r.pull_kn) * k / (k + n - 1), angle, r

    high, angle, r = max((at(r) for r in b.tied), key=lambda a: a[0])
    key, name = f"leg.{stand.rig.legs[i].id}.worst", f"share of the load on {stand.names[i]}, at worst"
    terms = [
        from_row("mu", friction, friction.high, "share"),
        Term("theta", "angle between the strands at the ring", angle, "angle", source),
    ]
    k = "exp(mu*(pi - theta))"
    if n == 2:
        formula = f"{k}/sqrt(1 + {k}**2 + 2*{k}*cos(theta))"
        return book.number(key, name, formula, terms, high / b.load, "part", "up")
    terms += [
        Term("n", "strands", n, "count", "legs", typed=("{rig}/legs",)),
        Term("T", "sum of the pulls", sum(r.pull_kn), "force", source),
        Term("F", "load on the focal point", b.load, "force", "everyone who hangs", typed=("{station}/hanging",)),
    ]
    return book.number(key, name, f"T*{k}/({k} + n - 1)/F", terms, high / b.load, "part", "up")


def _removal(stand: _Stand, i: int, b: _Balance, falls: tuple[Catch, Point3, float], book: Book) -> Removal:
    """One point gone: who falls, which way the load pulls, and how much stiffer the legs are at their least stretch."""
    (catch, direction, ratio), leg, name = falls, stand.rig.legs[i], stand.names[i]
    after, before, key = b.gone[i], b.tied[0], f"leg.{leg.id}.gone"
    fall = max(0.0, sum((x - y) * d for x, y, d in zip(after.at, before.at, direction, strict=True)))
    terms = [Term("h", "from its rest with all points to its rest without", fall, "fine length", SOLVED)]
    what = f"fall of the focal point when {name} fails"
    drop = book.number(f"{key}.drop", what, "h", terms, fall, "fine length", "up")
    shares = tuple(Number(p / b.load, "part", "up") for p in after.pull_kn)
    if catch.why:
        return Removal(leg.id, name, after.at, shares, drop, None, (), catch.why)
    legs = "stiffness of the legs that are taut after, along the load [kN/m]"
    kl = Term("kl", legs, after.along_kn_m * ratio, "count", "HB: Σ EA/L·cos²γ, least stretch")
    peak = fall_peak(key, name, catch, drop, kl, book)
    pulls = tuple(Number(p / b.load * peak.value, "force", "up") for p in after.pull_kn)
    return Removal(leg.id, name, after.at, shares, drop, peak, pulls, "")


def _cut(stand: _Stand, girths: dict[int, Figure], book: Book) -> Number | None:
    """Webbing or cord for one loop through all points, or one a leg where each is clipped: twice every leg, the knots
    that close and tie it, two tails each."""
    thing, rig = stand.things[0], stand.rig
    if isinstance(thing, (Sling, Ring)) or any(t is not thing for t in stand.things):
        return None
    rope, d = isinstance(thing, Rope), thing.diameter_mm.known if isinstance(thing, Rope) else None
    closing = joining_knot(thing, rig.legs[0].closed_by)
    if (rope and d is None) or any(g.kind == "unknown" for g in girths.values()) or closing is None:
        return None
    value = sum(2 * math.dist(p, stand.focal) for p in stand.points)
    terms, formula = (
        [Term("l", "both strands of every leg", value, "fine length", "places entered", typed=("{rig}/legs",))],
        "l",
    )
    for i, girth in girths.items():
        # Round a post each strand takes no more than its girth besides.
        known = sure(girth)
        most, source = limits_m(known)[1], f"entered: {known.method}"
        terms.append(Term(f"g{i}", "girth that it goes round, high end", most, "fine length", source))
        formula, value = formula + f" + g{i}", value + most
    loops = len(rig.legs) if rig.focal == "clipped" else 1
    if d is not None:
        terms.append(
            Term("d", f"diameter of {thing.name}", d, "diameter", "entered", typed=typed(thing, "diameter_mm"))
        )
    for i, (key, count) in enumerate(_knots(rope, closing, rig), 1):
        used = row("knots", key)
        terms.append(from_row(f"k{i}", used, used.high, "count" if rope else "fine length"))
        formula += f" + {loops * count}*k{i}" + ("*d/1000" if rope else "")
        value += loops * count * used.high * (d / 1000 if d is not None else 1)
    tail = row("knots", "tail.webbing")
    terms.append(from_row("t", tail, tail.high, "fine length"))
    what = f"{thing.name} to cut for {'one loop' if loops == 1 else f'{loops} loops'}"
    whole = value + 2 * loops * tail.high
    return book.number("wrap.cut", what, f"{formula} + {2 * loops}*t", terms, whole, "fine length", "up")


def _knots(rope: bool, closing: str, rig: Several) -> list[tuple[str, int]]:
    """The knots that close a loop and tie its focal point, and how often each is there."""
    close = ("triple fisherman's" if closing == "triple fisherman's" else "double fisherman's") if rope else "ring bend"
    made = [(f"rope used.{close}", 2 if rope else 1)]
    if rig.focal in ("sliding", "clipped"):
        return made
    return [*made, ("rope used.figure eight" if rope else "rope used.four-strand overhand", 1)]
