"""Anchors of several points: shares by elastic balance, what each leg holds, and what happens when one piece is gone."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.anchor import band_m, radius_m, wet_share
from reamer.core.bend import bent
from reamer.core.context import Context
from reamer.core.equilibrium import Member, Rest, drop_force_kn, rest, sliding_high, swings, two_legs
from reamer.core.model import Figure, Leg, Post, Ring, Rope, Several, Sling, TwoPosts, Webbing
from reamer.core.patterns import retention
from reamer.core.rope import rating_kg
from reamer.core.say import Number
from reamer.core.section import limits_m
from reamer.core.tables import row
from reamer.core.working import Book, Term, computed, from_row

Point3 = tuple[float, float, float]


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
class Removal:
    """What happens when one point fails: where the ring comes to rest, what each point then carries of the load, how far the
    focal point falls, the peak force of that fall and each point's share of it. ``drop`` and ``peak`` are None where unknown."""

    id: str
    name: str
    at: Point3
    shares: tuple[Number, ...]
    drop: Number
    peak: Number | None
    pulls: tuple[Number, ...]
    why: str


@dataclass(frozen=True, slots=True)
class SeveralView:
    """An anchor of several points as computed, in metres from the station's origin: out, aside, up. ``moves``: how far the ring
    goes from its rest when the load swings."""

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


@dataclass(frozen=True, slots=True)
class Holds:
    """What a leg holds, low and high, or why it is unknown."""

    low: Number | None
    high: Number | None
    why: str


def place(x: object, y: object, z: object) -> Point3 | None:
    """Three figures as a place.

    x, y, z: out, aside, up
    returns: the place [m], None if one is unknown
    Source: none.
    """
    return None if any(f.kind == "unknown" for f in (x, y, z)) else (x.value, y.value, z.value)


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


def material(of: str, ctx: Context) -> Webbing | Sling | Rope | Ring | None:
    """What a leg is made of.

    of: an id; ctx: the plan's context
    returns: webbing, a sewn sling, a rope or cord, or a connector that stands for a chain; None if it is gone
    Source: none, a look-up.
    """
    return ctx.webbing.get(of) or ctx.slings.get(of) or ctx.ropes.get(of) or ctx.rings.get(of)


def _strand(thing: Webbing | Sling | Rope, end: str) -> float | None:
    c = thing.rating_kn if isinstance(thing, Sling) else thing.strength_kn
    if c.kind == "unknown":
        return None
    value = c.low_kn if end == "low" else c.high_kn
    return value / 2 if isinstance(thing, Sling) else value


def joining_knot(thing: Webbing | Sling | Rope, closed_by: str = "usual") -> str | None:
    """The knot that closes a loop of it.

    thing: what the loop is of; closed_by: as entered, or the usual one
    returns: as the knot table names it, "" for a sewn one, None where none goes without saying: cord of HMPE or aramid
    Source: P, common practice, no source.
    """
    if isinstance(thing, Sling):
        return ""
    if closed_by != "usual":
        return closed_by
    return "ring bend" if isinstance(thing, Webbing) else None if thing.fibre in ("HMPE", "aramid") else "double fisherman's"


def slips_closed(thing: Webbing | Sling | Rope, closed_by: str) -> str:
    """The knot that closes a loop of HMPE and does not hold, "" if there is none.

    thing: what the loop is of; closed_by: as entered
    returns: the knot
    Source: P, table of pull tests: of these only a triple fisherman's holds.
    """
    knot = joining_knot(thing, closed_by)
    return knot if knot and thing.fibre == "HMPE" and knot != "triple fisherman's" else ""


def stiffness(thing: Webbing | Sling | Rope | Ring, stretched: str) -> float | None:
    """EA of a leg of two strands, or of a chain.

    EA = 2·S/ε

    thing: what it is of; stretched: ``most`` takes the highest elongation at break, as for shares, ``least`` the lowest
    returns: EA [kN], None if its fibre or strength is unknown
    Source: HB, fibre tables; J for a chain.
    """
    if isinstance(thing, Ring):
        return row("loads", "legs.chain").low
    if thing.fibre == "unknown":
        return None
    strand = _strand(thing, "high")
    if strand is None:
        return None
    stretch = row("fibres", f"elongation.{thing.fibre}")
    return 2 * strand / ((stretch.high if stretched == "most" else stretch.low) / 100)


def leg_holds(thing: Webbing | Sling | Rope, leg: Leg, rig: Several, ring: Ring | None, round_post: bool, wet: str, school: str, key: str, book: Book) -> Holds:
    """What one leg of two strands holds.

    C = n·S·w·min(ρ at the focal point, ρ of the closing knot, share kept over the ring)

    thing: what it is of; leg: how its loop is closed; rig: how its focal point is made; ring: what the strands slide over
    round_post: friction keeps its strands apart; wet: yes, no or unknown; school: of retention; key: the workings' prefix; book: where workings go
    returns: low and high [kN]; round a post one strand counts at the low end, elsewhere both slide there and carry
    Source: HB and P, tables of knots and materials; a triple fisherman's in HMPE P, table of pull tests.
    """
    if thing.fibre == "unknown" or _strand(thing, "low") is None:
        return Holds(None, None, f"the {'fibre' if thing.fibre == 'unknown' else 'strength'} of {thing.name} is unknown")
    slides = rig.focal in ("sliding", "clipped")
    closing = joining_knot(thing, leg.closed_by)
    if closing is None:
        return Holds(None, None, f"which knot closes the loop of {thing.name} is unknown")
    knots = [k for k in ("" if slides else rig.knot, closing) if k]
    rows = [(k, retention(k, thing.fibre, school)) for k in knots]
    for k, r in rows:
        if r is None or k == slips_closed(thing, leg.closed_by):
            return Holds(None, None, f"a {k} is not to be used in {thing.fibre}")
    thick = getattr(thing, "thickness_mm", None) or getattr(thing, "diameter_mm", None)
    bends = slides and not isinstance(thing, Sling)
    if bends and (ring is None or ring.thickness_mm.kind == "unknown" or thick.kind == "unknown"):
        return Holds(None, None, "the thickness of the strand or of the ring is unknown")
    wet_row, kept = row("materials", f"wet.{thing.fibre}"), wet_share(thing.fibre, wet)
    made = []
    for i, end in enumerate(("low", "high")):
        n, strand = (1 if round_post and not slides and end == "low" else 2), _strand(thing, end)
        terms = [Term("n", "strands that carry", n, "count", "P: common practice, no source"),
                 Term("S", f"one strand of {thing.name}", strand, "force", (thing.rating_kn if isinstance(thing, Sling) else thing.strength_kn).source),
                 Term("w", f"{wet_row.name}; gets wet: {wet}", kept[i], "share", wet_row.cited)]
        least, value = [], 1.0
        for j, (_, r) in enumerate(rows, 1):
            rho = r.low if end == "low" else r.high
            terms.append(from_row(f"rho{j}", r, rho, "share"))
            least.append(f"rho{j}")
            value = min(value, rho)
        if bends:
            share, formula, parts = bent(ring, thing.name, thick.value, end)
            terms += parts
            least.append(f"({formula})")
            value = min(value, share)
        whole, capped = n * strand * kept[i] * value, f"n*S*w*min(1{''.join(', ' + x for x in least)})"
        if thing.fibre == "HMPE" and closing == "triple fisherman's":
            most = row("pull_tests", "HMPE triple fisherman")
            terms.append(from_row("h", most, most.low, "force"))
            whole, capped = min(whole, n * most.low / 2), f"min({capped}, n*h/2)"
        made.append(book.number(f"{key}.{end}", f"leg of {thing.name}, {end} end", capped, terms, whole, "force", "down" if end == "low" else "up"))
    return Holds(made[0], made[1], "")


@dataclass(frozen=True, slots=True)
class Solved:
    """The balance of an anchor of several points: as computed, or why it is not."""

    view: SeveralView | None
    why: str


def _members(rig: Several, points: list[Point3], focal: Point3, things: list, stretched: str) -> list[Member] | str:
    lengths = [math.dist(p, focal) for p in points]
    stiff = [stiffness(t, stretched) for t in things]
    if None in stiff:
        return f"the fibre or strength of {things[stiff.index(None)].name} is unknown"
    if rig.focal in ("knotted", "clipped"):
        return [Member((i,), length, ea / length) for i, (length, ea) in enumerate(zip(lengths, stiff, strict=True))]
    # One loop through all points: its whole length gives under the tension that is alike in every part of it.
    whole = [Member(tuple(range(len(points))), sum(lengths), min(stiff) / sum(lengths))]
    if rig.focal == "limited":
        if rig.slack_m.kind == "unknown":
            return "how far the limiting knots let it slide is unknown"
        whole += [Member((i,), length + rig.slack_m.value, ea / (length + rig.slack_m.value)) for i, (length, ea) in enumerate(zip(lengths, stiff, strict=True))]
    return whole


def solve(rig: Several, names: dict[str, str], posts: list[Post], runs: tuple[float, float] | None, static_kn: float | None, rope_kn: float | None,
          ctx: Context, book: Book) -> Solved:
    """The balance of an anchor of several points, as tied, swung, and with each point gone.

    rig: the anchor; names: of its features by id; posts: those of them that webbing goes round; runs: the rope's first piece, out and up; static_kn: everyone who hangs on it
    rope_kn: EA of the rope that catches, None if unknown; ctx: the plan's context; book: where workings go
    returns: the anchor as computed, or why it is not
    Source: HB, least potential energy; see the functions it calls.
    """
    places = [place(leg.out_m, leg.aside_m, leg.up_m) for leg in rig.legs]
    focal = place(rig.out_m, rig.aside_m, rig.up_m)
    if focal is None or None in places:
        return Solved(None, "a place is not entered")
    things = [material(leg.of, ctx) for leg in rig.legs]
    if None in things:
        return Solved(None, "what a leg is made of is not in the shed")
    if mixed(rig):
        return Solved(None, "one loop through every point is of one material, and its legs name several")
    why = _misplaced(rig, places, focal, things, names)
    if why:
        return Solved(None, why)
    direction = direction_of(rig, runs)
    if direction is None:
        return Solved(None, "which way the load pulls is not known")
    if rig.swing_deg.kind == "unknown":
        return Solved(None, "how far the load swings is unknown")
    if all(sum((f - p) * d for f, p, d in zip(focal, at, direction, strict=True)) <= 1e-9 for at in places):
        return Solved(None, "the load pulls toward the points: every leg would be slack")
    soft, hard = _members(rig, places, focal, things, "most"), _members(rig, places, focal, things, "least")
    if isinstance(soft, str):
        return Solved(None, soft)
    load = static_kn or 1.0
    ways = swings(direction, math.radians(rig.swing_deg.value), places, focal)
    loads = [tuple(load * c for c in w) for w in ways]
    count = len(rig.legs)
    got = rest(places, soft, focal, [*loads, *[loads[0]] * count], [*[None] * len(ways), *range(count)])
    if not all(r.settled for r in got):
        return Solved(None, "no balance was found")
    tied, gone = got[:len(ways)], got[len(ways):]
    legs = _legs(rig, places, focal, names, tied, load, ways, book)
    removals = tuple(_removal(rig, i, names, gone[i], got[0], load, static_kn, rope_kn, soft, hard, direction, book) for i in range(count))
    girths = {i: p.girth_m for p in posts for i, leg in enumerate(rig.legs) if leg.anchor == p.id}
    return Solved(SeveralView(legs, focal, got[0].at, tuple(r.at for r in tied[1:]), direction, rig.swing_deg.value,
                              _angle(places, max((focal, got[0].at), key=lambda at: widest_rad(places, at)), book), _moves(tied, book), removals, _cut(rig, places, focal, things, girths, book)), "")


def mixed(rig: Several) -> bool:
    """Whether one loop that runs through every point is said to be of several materials, or closed in several ways.

    rig: the anchor
    returns: whether it is
    Source: none, comparison.
    """
    return rig.focal in ("sliding", "limited") and len({(leg.of, leg.closed_by) for leg in rig.legs}) > 1


def _misplaced(rig: Several, places: list[Point3], focal: Point3, things: list, names: dict[str, str]) -> str:
    for i, a in enumerate(places):
        for j in range(i):
            if math.dist(a, places[j]) < 0.005:
                return f"{names[rig.legs[j].anchor]} and {names[rig.legs[i].anchor]} are in one place"
        if math.dist(a, focal) < 0.01:
            return f"the focal point lies on {names[rig.legs[i].anchor]}"
        thing = things[i]
        if isinstance(thing, Sling):
            # A sling through a point and the focal point: laid, it must span the distance.
            if thing.length_m.kind == "unknown":
                return f"how long {thing.name} is is unknown"
            if thing.length_m.value < math.dist(a, focal) - 1e-9:
                return f"{thing.name} is shorter than {names[rig.legs[i].anchor]} and the focal point are apart"
    if rig.focal in ("sliding", "limited") and isinstance(things[0], Sling):
        # One loop takes the sum of its legs.
        whole = sum(math.dist(a, focal) for a in places)
        if things[0].length_m.value < whole - 1e-9:
            return f"{things[0].name} is too short to run through every point and the focal point"
    if len(places) == 2:
        u, v = ([f - p for f, p in zip(focal, at, strict=True)] for at in places)
        if _between(u, v) > math.radians(179):
            return "the two legs stand opposite each other: no load can be balanced"
    return ""


def _between(u: list[float], v: list[float]) -> float:
    dot = sum(a * b for a, b in zip(u, v, strict=True))
    return math.acos(max(-1.0, min(1.0, dot / (math.hypot(*u) * math.hypot(*v)))))


def _moves(tied: list[Rest], book: Book) -> Number:
    """How far the ring goes from its rest when the load swings."""
    far = max((math.dist(tied[0].at, r.at) for r in tied[1:]), default=0.0)
    return book.number("legs.moves", "movement of the focal point when the load swings", "m", [
        Term("m", "from its rest as tied to the furthest rest of the swing", far, "fine length", "HB: least energy of the elastic legs, solved numerically")], far, "fine length", "up")


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
    return book.number("legs.angle", "widest angle between two legs, as tied or loaded, whichever is wider", "2*asin(sqrt((1 - d/s)/2))", [
        Term("d", "scalar product of the two legs", dot, "count", "section: places entered"),
        Term("s", "product of their lengths", size, "count", "section: places entered")], _between(u, v), "angle", "up")


def _legs(rig: Several, places: list[Point3], focal: Point3, names: dict[str, str], tied: list[Rest], load: float,
          ways: list[Point3], book: Book) -> tuple[LegView, ...]:
    friction = row("friction", "ring")
    made = []
    for i, leg in enumerate(rig.legs):
        key, name = f"leg.{leg.id}", names[leg.anchor]
        source = f"HB: least energy of the elastic legs, solved numerically, the worst of {len(ways)} directions"
        pulls = [r.pull_kn[i] for r in tied]
        mean = book.number(f"{key}.tied", f"share of the load on {name}, as tied", "p/F", [
            Term("p", "pull on it where the energy is least", pulls[0], "force", "HB: least energy of the elastic legs, solved numerically"),
            Term("F", "load on the focal point", load, "force", "section: everyone who hangs")], pulls[0] / load, "part", "up")
        if rig.focal in ("knotted", "clipped") or len(places) < 2:
            worst = book.number(f"{key}.worst", f"share of the load on {name}, at worst", "p/F", [
                Term("p", "pull on it where the energy is least", max(pulls), "force", source),
                Term("F", "load on the focal point", load, "force", "section: everyone who hangs")], max(pulls) / load, "part", "up")
        else:
            worst = _slid(key, name, i, places, tied, load, friction, source, book)
            if rig.focal == "limited" and max(pulls) / load > worst.value:
                # At the limiting knots it is held as if it were knotted there.
                worst = book.number(f"{key}.worst", f"share of the load on {name}, at worst", "p/F", [
                    Term("p", "pull on it where the energy is least, held by a limiting knot", max(pulls), "force", source),
                    Term("F", "load on the focal point", load, "force", "section: everyone who hangs")], max(pulls) / load, "part", "up")
        length = book.number(f"{key}.length", f"length of the leg to {name}", "L", [Term("L", "from its place to the focal point", math.dist(places[i], focal), "fine length", "section: places entered")],
                             math.dist(places[i], focal), "fine length", "up")
        made.append(LegView(leg.id, name, places[i], mean, worst, length))
    return tuple(made)


def _slid(key: str, name: str, i: int, places: list[Point3], tied: list[Rest], load: float, friction: object, source: str, book: Book) -> Number:
    """The share that friction at the ring may leave on one strand, at the worst direction. Source: HB, capstan rule; for more than two
    legs J, our judgement: one strand high, all others low."""
    best = None
    for r in tied:
        ways = [[a - b for a, b in zip(r.at, q, strict=True)] for q in places]
        angle = min(_between(ways[i], w) for j, w in enumerate(ways) if j != i)
        k = math.exp(friction.high * (math.pi - angle))
        n = len(places)
        high = sliding_high(load, angle, friction.high)[0] if n == 2 else sum(r.pull_kn) * k / (k + n - 1)
        if best is None or high > best[0]:
            best = (high, angle, r)
    high, angle, r = best
    terms = [from_row("mu", friction, friction.high, "share"), Term("theta", "angle between the strands at the ring", angle, "angle", source)]
    if len(places) == 2:
        k = "exp(mu*(pi - theta))"
        return book.number(f"{key}.worst", f"share of the load on {name}, at worst", f"{k}/sqrt(1 + {k}**2 + 2*{k}*cos(theta))", terms, high / load, "part", "up")
    terms += [Term("n", "strands", len(places), "count", "section: legs"), Term("T", "sum of the pulls", sum(r.pull_kn), "force", source),
              Term("F", "load on the focal point", load, "force", "section: everyone who hangs")]
    return book.number(f"{key}.worst", f"share of the load on {name}, at worst", "T*exp(mu*(pi - theta))/(exp(mu*(pi - theta)) + n - 1)/F", terms, high / load, "part", "up")


def _removal(rig: Several, i: int, names: dict[str, str], after: Rest, before: Rest, load: float, static_kn: float | None, rope_kn: float | None,
             soft: list[Member], hard: list[Member], direction: Point3, book: Book) -> Removal:
    leg = rig.legs[i]
    key, name = f"leg.{leg.id}.gone", names[leg.anchor]
    fall = max(0.0, sum((a - b) * d for a, b, d in zip(after.at, before.at, direction, strict=True)))
    drop = book.number(f"{key}.drop", f"fall of the focal point when {name} fails", "h", [
        Term("h", "from its rest with all points to its rest without", fall, "fine length", "HB: least energy of the elastic legs, solved numerically")],
        fall, "fine length", "up")
    shares = tuple(Number(p / load, "part", "up") for p in after.pull_kn)
    if static_kn is None or rope_kn is None:
        why = "the load is unknown" if static_kn is None else "how the rope stretches is unknown"
        return Removal(leg.id, name, after.at, shares, drop, None, (), why)
    # The legs that are taut after, at their least stretch, in series with the shortest rope that can be out.
    ratio = max(h.stiffness_kn_m / s.stiffness_kn_m for h, s in zip(hard, soft, strict=True))
    legs_k, length = after.along_kn_m * ratio, row("loads", "legs.rope")
    k = 1 / (1 / legs_k + length.low / rope_kn)
    peak = book.number(f"{key}.peak", f"peak force when {name} fails", "W + sqrt(W**2 + 2*W*h/(1/kl + L/EA))", [
        Term("W", "everyone who hangs on it", static_kn, "force", "HB: weight"), computed("h", "fall of the focal point", drop),
        Term("kl", "stiffness of the legs that are taut after, along the load [kN/m]", legs_k, "count", "HB: Σ EA/L·cos²γ, least stretch"),
        from_row("L", length, length.low, "fine length"), Term("EA", "stiffness of the rope", rope_kn, "force", "its label's elongation")],
        drop_force_kn(static_kn, fall, k), "force", "up")
    pulls = tuple(Number(p / load * peak.value, "force", "up") for p in after.pull_kn)
    return Removal(leg.id, name, after.at, shares, drop, peak, pulls, "")


def rope_stiffness_kn(ropes: list[Rope]) -> float | None:
    """EA of the rope that is ridden.

    EA = n·m·g/ε

    ropes: one a ridden strand, with the elongation of its rating
    returns: EA [kN], None if one's elongation is unknown or there is none
    Source: HB, linear spring from the label's elongation.
    """
    if not ropes or any(r.elongation_pct.kind == "unknown" for r in ropes):
        return None
    g = row("loads", "g").low
    return sum(rating_kg(r.kind) * g / 1000 / (r.elongation_pct.value / 100) for r in ropes)


def _cut(rig: Several, places: list[Point3], focal: Point3, things: list, girths: dict[int, Figure], book: Book) -> Number | None:
    """Webbing or cord for one loop through all points, or one a leg where each is clipped: twice every leg, the knots that close and
    tie it, two tails each."""
    thing = things[0]
    if isinstance(thing, (Sling, Ring)) or any(t is not thing for t in things):
        return None
    rope = isinstance(thing, Rope)
    if (rope and thing.diameter_mm.kind == "unknown") or any(g.kind == "unknown" for g in girths.values()) or joining_knot(thing, rig.legs[0].closed_by) is None:
        return None
    total = sum(2 * math.dist(p, focal) for p in places)
    terms, formula, value = [Term("l", "both strands of every leg", total, "fine length", "section: places entered")], "l", total
    for i, girth in girths.items():
        # Round a post each strand takes no more than its girth besides.
        terms.append(Term(f"g{i}", "girth that it goes round, high end", limits_m(girth)[1], "fine length", f"entered: {girth.method}"))
        formula, value = formula + f" + g{i}", value + limits_m(girth)[1]
    d, loops = thing.diameter_mm.value / 1000 if rope else 0.0, len(rig.legs) if rig.focal == "clipped" else 1
    if rope:
        terms.append(Term("d", f"diameter of {thing.name}", thing.diameter_mm.value, "diameter", "entered"))
    for i, (key, count) in enumerate((("rope used.triple fisherman's" if rope and joining_knot(thing, rig.legs[0].closed_by) == "triple fisherman's" else "rope used.double fisherman's" if rope else "rope used.ring bend", 2 if rope else 1),
                                      *(() if rig.focal in ("sliding", "clipped") else (("rope used.figure eight" if rope else "rope used.four-strand overhand", 1),))), 1):
        used = row("knots", key)
        terms.append(from_row(f"k{i}", used, used.high, "count" if rope else "fine length"))
        formula += f" + {loops * count}*k{i}" + ("*d/1000" if rope else "")
        value += loops * count * used.high * (d if rope else 1)
    tail = row("knots", "tail.webbing")
    terms.append(from_row("t", tail, tail.high, "fine length"))
    what = f"{thing.name} to cut for one loop" if loops == 1 else f"{thing.name} to cut for {loops} loops"
    return book.number("wrap.cut", what, f"{formula} + {2 * loops}*t", terms, value + 2 * loops * tail.high, "fine length", "up")


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

    reach_m: D, from the other post's centre to the focal point [m]; half_angle_rad: θ/2 between its line and the load [rad]
    returns: h [m]
    Source: HB, geometry.

    >>> round(swing_down_m(1.0, math.radians(60)), 3)
    0.5
    """
    return reach_m * (1 - math.cos(half_angle_rad))


def _post_removals(rig: TwoPosts, posts: tuple[Post, Post], views: tuple[PostView, PostView], webbing: Webbing, angle: float, static_kn: float | None,
                   rope_kn: float | None, book: Book) -> tuple[Removal, ...]:
    """What happens when one of two posts fails: the other carries all, after the focal point has swung in line."""
    made = []
    for i, name in enumerate(("first", "second")):
        other = views[1 - i]
        reach = math.hypot(other.out_m, other.aside_m)
        fall = swing_down_m(reach, angle / 2)
        key = f"two.{name}.gone"
        drop = book.number(f"{key}.drop", f"fall of the focal point when {posts[i].name} fails", "D*(1 - cos(theta/2))", [
            Term("D", f"from the centre of {other.name} to the focal point", reach, "fine length", "section: entered"),
            Term("theta", "angle between the two posts' lines", angle, "angle", f"entered: {rig.angle_deg.method}")], fall, "fine length", "up")
        at = (other.out_m + reach, other.aside_m, 0.0)
        shares = tuple(Number(1.0 if j != i else 0.0, "part", "up") for j in range(2))
        ea = stiffness(webbing, "least")
        if static_kn is None or rope_kn is None or ea is None:
            why = "the load is unknown" if static_kn is None else "how the rope stretches is unknown" if rope_kn is None else f"the fibre or strength of {webbing.name} is unknown"
            made.append(Removal(name, posts[i].name, at, shares, drop, None, (), why))
            continue
        length, legs = row("loads", "legs.rope"), ea / reach
        peak = book.number(f"{key}.peak", f"peak force when {posts[i].name} fails", "W + sqrt(W**2 + 2*W*h/(1/kl + L/EA))", [
            Term("W", "everyone who hangs on it", static_kn, "force", "HB: weight"), computed("h", "fall of the focal point", drop),
            Term("kl", "stiffness of the two strands to the other post, least stretch [kN/m]", legs, "count", "HB: EA/L"),
            from_row("L", length, length.low, "fine length"), Term("EA", "stiffness of the rope", rope_kn, "force", "its label's elongation")],
            drop_force_kn(static_kn, fall, 1 / (1 / legs + length.low / rope_kn)), "force", "up")
        made.append(Removal(name, posts[i].name, at, shares, drop, peak, tuple(peak if j != i else Number(0.0, "force", "up") for j in range(2)), ""))
    return tuple(made)


def _swung(angle_rad: float, swing_rad: float) -> tuple[float, float] | None:
    """The greatest share of two tied legs while the load swings, and the swing it comes at; None where the legs lie together.
    Source: HB, statics of three forces."""
    if angle_rad < 1e-6:
        return None
    at = min(swing_rad, angle_rad / 2, max(0.0, (math.pi - angle_rad) / 2))
    return two_legs(angle_rad / 2 - at, angle_rad / 2 + at)[0], at


def two_posts(rig: TwoPosts, posts: tuple[Post, Post], webbing: Webbing, wet: str, school: str, book: Book, static_kn: float | None = None,
              rope_kn: float | None = None) -> TwoPostsView | str:
    """One band round two posts, the inner strand drawn to the focal point, four strands tied in one overhand.

    F = n·cos(θ/2)·S·w·ρ, half of the four strands at the low end

    rig: its reaches and the angle θ between the posts' lines; posts, webbing: the parts; wet, school: as for wrapped; book: where workings go
    static_kn: everyone who hangs on it; rope_kn: EA of the rope that catches, None where unknown
    returns: shares, webbing to cut [m], low and high [kN]; or what is unknown
    Source: P, common practice, no source; HB, statics of a symmetric pair. The legs' own angle at each post is left out.
    """
    gains = (rig.first_gain_m, rig.second_gain_m)
    if rig.angle_deg.kind == "unknown" or any(g.kind == "unknown" for g in gains) or any(p.girth_m.kind == "unknown" for p in posts):
        return "a girth, a reach or the angle between the posts is unknown"
    angle = math.radians(rig.angle_deg.value)
    theta = Term("theta", "angle between the two posts' lines", angle, "angle", f"entered: {rig.angle_deg.method}")
    if rig.swing_deg.kind == "unknown":
        return "how far the load swings is unknown"
    # Straight down each post has half, by 6.1; swung, the legs share as two tied legs do, and past a leg's line that leg has all.
    swing = math.radians(rig.swing_deg.value)
    straight, side = 1 / (2 * math.cos(angle / 2)), _swung(angle, swing)
    if side is None and swing > 1e-9:
        all_ = Term("n", "legs that lie together: the swing decides which of them takes all", 1.0, "share", "J: our judgement")
        shares = tuple(book.number(f"two.{n}", f"share of the load on {p.name}", "n", [all_], 1.0, "part", "up") for n, p in zip(("first", "second"), posts, strict=True))
    elif side is None or side[0] <= straight:
        shares = tuple(book.number(f"two.{n}", f"share of the load on {p.name}", "1/(2*cos(theta/2))", [theta], straight, "part", "up") for n, p in zip(("first", "second"), posts, strict=True))
    else:
        terms = [theta, Term("beta", "swing at which it has most", side[1], "angle", "decided")]
        shares = tuple(book.number(f"two.{n}", f"share of the load on {p.name}, swung to its side", "sin(theta/2 + beta)/sin(theta)", terms, side[0], "part", "up")
                       for n, p in zip(("first", "second"), posts, strict=True))
    terms, formula, value, seen = [], [], 0.0, []
    for i, (p, g) in enumerate(zip(posts, gains, strict=True), 1):
        r = radius_m(limits_m(p.girth_m)[1])
        aside = angle / 2 if i == 1 else -angle / 2
        seen.append(PostView(p.name, -(r + g.value) * math.cos(aside), (r + g.value) * math.sin(aside), r))
        band = book.number(f"two.band{i}", f"band round {p.name} and out to the focal point",
                           "2*sqrt(((C/(2*pi)) + x)**2 - (C/(2*pi))**2) + (C/(2*pi))*(pi + 2*asin((C/(2*pi))/((C/(2*pi)) + x)))",
                           [Term("C", f"girth of {p.name}, high end", limits_m(p.girth_m)[1], "fine length", f"entered: {p.girth_m.method}"),
                            Term("x", "from its near face to the focal point", g.value, "fine length", "decided")], band_m(r, g.value), "fine length", "up")
        terms.append(computed(f"b{i}", f"band round {p.name}", band))
        formula.append(f"b{i}")
        value += band.value
    bend, knot, tail = row("knots", "rope used.ring bend"), row("knots", "rope used.four-strand overhand"), row("knots", "tail.webbing")
    terms += [from_row("k1", bend, bend.high, "fine length"), from_row("k2", knot, knot.high, "fine length"), from_row("t", tail, tail.high, "fine length")]
    cut = book.number("wrap.cut", "webbing to cut", " + ".join(formula) + " + k1 + k2 + 2*t", terms, value + bend.high + knot.high + 2 * tail.high, "fine length", "up")
    views = (seen[0], seen[1])
    removals = _post_removals(rig, posts, views, webbing, angle, static_kn, rope_kn, book)
    rho_row, join_row = retention("overhand", webbing.fibre, school), retention("ring bend", webbing.fibre, school)
    if webbing.fibre == "unknown" or webbing.strength_kn.kind == "unknown":
        return TwoPostsView(views, removals, Number(angle, "angle", "up"), *shares, cut, None, None, f"the {'fibre' if webbing.fibre == 'unknown' else 'strength'} of {webbing.name} is unknown")
    if rho_row is None or join_row is None:
        return TwoPostsView(views, removals, Number(angle, "angle", "up"), *shares, cut, None, None, f"a ring bend is not to be used in {webbing.fibre} webbing")
    wet_row, kept = row("materials", f"wet.{webbing.fibre}"), wet_share(webbing.fibre, wet)
    made = []
    for i, end in enumerate(("low", "high")):
        strand, n = (webbing.strength_kn.low_kn, 2) if end == "low" else (webbing.strength_kn.high_kn, 4)
        rho = min(rho_row.low, join_row.low) if end == "low" else min(rho_row.high, join_row.high)
        lesser = rho_row if rho in (rho_row.low, rho_row.high) else join_row
        made.append(book.number(f"two.{end}", f"what {webbing.name} round both posts holds, {end} end", "n*cos(theta/2)*S*w*rho", [
            Term("n", "strands of four that carry", n, "count", "P: common practice, no source"), theta,
            Term("S", f"one strand of {webbing.name}, unknotted", strand, "force", webbing.strength_kn.source),
            Term("w", f"{wet_row.name}; gets wet: {wet}", kept[i], "share", wet_row.cited), from_row("rho", lesser, rho, "share")],
            n * math.cos(angle / 2) * strand * kept[i] * rho, "force", "down" if end == "low" else "up"))
    return TwoPostsView(views, removals, Number(angle, "angle", "up"), *shares, cut, made[0], made[1], "")


def tied_by(leg: Leg, ctx: Context) -> str:
    """What a leg is made of, in words.

    leg: the leg; ctx: the plan's context
    returns: its name, or that it is missing
    Source: none, text only.
    """
    thing = material(leg.of, ctx)
    return thing.name if thing else "something that is not in the shed"
