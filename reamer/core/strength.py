"""The load path from rock to rider: what is asked of each part, what it holds, which is weakest."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from reamer.core.anchor import equal_leg_share, wet_share
from reamer.core.bend import bent, thin_bar
from reamer.core.context import Context
from reamer.core.findings import Edit, Findings, Fix
from reamer.core.hardware import connector_part, sling_part, slip_finding, webbing_part
from reamer.core.loads import Asked, Load, asked, hanging, load_of, ring_load_kn
from reamer.core.mass import Ice, ice_findings, ice_geometry, mass_holds, post_findings, topples_unknown
from reamer.core.model import (Capacity, Direct, Feature, Margin, Policies, Post, Rated, Ring, Rope, Several, Sling, State, Station, TwoPosts, Unknown,
                               Webbing, Wrap, thing_of)
from reamer.core.part import Holding, Part, decided, given, part, whole
from reamer.core.patterns import SEWN, Wrapped, family, retention, wrapped
from reamer.core.redundancy import RIDER, ROCK, by_practice, load_edges, single_points
from reamer.core.rider import rider_parts
from reamer.core.say import Number, Sentence
from reamer.core.pull import slippery
from reamer.core.several import (Holds, SeveralView, TwoPostsView, joining_knot, leg_holds, material, mixed, rope_stiffness_kn, slips_closed, solve,
                                 tied_by, two_posts, widest_rad)
from reamer.core.systems import Strand
from reamer.core.tables import Row, row
from reamer.core.working import Book, Term, computed, from_row


# Stands in a ring's place where the rope runs straight through a thread; no ring of the shed can have this id.
THREAD = "the-thread-itself-without-any-ring-on-it"


@dataclass(frozen=True, slots=True)
class LoadPath:
    """The parts in order from rock to rider; the wrap, the several points, the two posts or the ice thread as computed;
    by webbing id what is cut of it, None where unknown."""

    parts: tuple[Part, ...]
    wrap: Wrapped | None = None
    ring: Ring | None = None
    several: SeveralView | None = None
    two: TwoPostsView | None = None
    ice: Ice | None = None
    cuts: tuple[tuple[str, Number | None], ...] = ()


@dataclass(slots=True)
class _At:
    """What every kind of anchor's parts are worked out from."""

    station: Station
    state: State
    load: Load
    ctx: Context
    found: Findings
    book: Book
    path: tuple[str | int, ...]
    runs: tuple[float, float] | None
    ridden: list[Rope]

    @property
    def margin(self) -> Margin:
        return self.ctx.plan.policies.margin

    def feature(self, feature_id: str) -> Feature | None:
        return next((f for f in self.station.features if f.id == feature_id), None)

    def missing(self, key: str, title: str, reason: str) -> None:
        self.found.add("anchor.missing", "Not checked", key, title, reason)

    def unfit(self, key: str, feature: Feature, what: str) -> None:
        self.found.add("anchor.kind", "Shortfall", key, "{name} is not of a kind that can be rigged so", "{what}", words={"name": feature.name, "what": what})


def load_path(station: Station, state: State, hanging_strands: list[Strand], load: Load, ctx: Context, found: Findings, book: Book,
              at: tuple[str | int, ...], tie_edges: tuple[tuple[float, str], ...] = (), runs: tuple[float, float] | None = None) -> LoadPath:
    """Every part from rock to rider with demand and capacity, and the findings about them.

    station: its features; state: how it is rigged; hanging_strands: the strands that hang; load: the rider; ctx: the plan's context
    found, book: where findings and workings go; at: path of the rig in the plan, for fixes
    tie_edges: each edge that the tie itself crosses, how far along it is [m] and how sharp; runs: the rope's first piece, out and up, None if unknown
    returns: the load path, its weakest part marked [kN]
    Source: see the functions it calls; margins J and P.
    """
    rig = state.rig
    if rig.kind == "none":
        found.add("anchor.none", "Not checked", "anchor", "No anchor is chosen", "Strength is not checked until one is.")
        return LoadPath(())
    ridden = [s.rope for s in hanging_strands if s.load_share]
    rider, load = load, _lowering(station, state, load, ridden, book)
    on_anchor = load if state.serves == "last" else _with_others(station, load, ctx, found, book)
    here = _At(station, state, on_anchor, ctx, found, book, at, runs, ridden)
    made = {"wrap": _wrap_parts, "direct": _direct_parts, "several": _several_parts, "two posts": _two_parts}[rig.kind](rig, here)
    if made is None:
        return LoadPath((), ring=ctx.rings.get(rig.ring))
    parts = list(made.parts)
    parts += _links(rig, station.wet, asked("links", "what hangs between the anchor and the ring", on_anchor, 1.0, here.margin, book), ctx, found, book)
    parts += _rope_parts(rig, made.ring, hanging_strands, rider, here)
    parts += rider_parts(ctx, station.wet, book)
    view = made.several or made.two
    if view is not None:
        _removal_findings(view, rig, parts, rider, on_anchor, here)
    _part_findings(parts, found, book)
    parts = _single(parts, station, state, found)
    _abrasion(parts, state, {f.id: f for f in station.features}, tie_edges, found)
    _over_rock(rig, here)
    return replace(made, parts=_weakest(parts), cuts=_cuts(made, rig, ctx, book))


def _cuts(made: LoadPath, rig: object, ctx: Context, book: Book) -> tuple[tuple[str, Number | None], ...]:
    """What this anchor takes of each webbing."""
    own = made.wrap.cut if made.wrap else made.several.cut if made.several else made.two.cut if made.two else None
    # Legs of several materials: how much of each is not worked out, and so it is unknown.
    used_of = [rig.webbing] if rig.kind in ("wrap", "two posts") else list(dict.fromkeys(leg.of for leg in rig.legs)) if rig.kind == "several" else []
    cuts = [(of, own) for of in used_of if of in ctx.webbing]
    same = [link for link in rig.links if link.kind == "webbing" and link.same]
    knot, tail = row("knots", "rope used.overhand in webbing"), row("knots", "tail.webbing")
    for link in rig.links:
        if link.kind != "webbing" or link.webbing not in ctx.webbing:
            continue
        if link.reach_m.kind == "unknown":
            cuts.append((link.webbing, None))
            continue
        terms = [Term("x", "how much further it takes the ring", link.reach_m.value, "fine length", "decided"), from_row("k", knot, knot.high, "fine length")]
        if not link.same:
            terms.append(from_row("t", tail, tail.high, "fine length"))
        if link in same and own is not None and used_of == [link.webbing]:
            # The tie's own webbing goes on as its extension: one piece.
            taken = book.number(f"link.{link.id}.cut", "webbing for the tie and its extension, in one piece", "w + 2*x + 2*k", [computed("w", "webbing for the tie", own), *terms],
                                own.value + 2 * link.reach_m.value + 2 * knot.high, "fine length", "up")
            own, cuts = taken, [(link.webbing, taken) if c[0] == link.webbing else c for c in cuts]
            continue
        cuts.append((link.webbing, book.number(f"link.{link.id}.cut", "webbing for the extension", "2*x + 2*k" + ("" if link.same else " + 2*t"), terms,
                                               2 * link.reach_m.value + 2 * knot.high + (0.0 if link.same else 2 * tail.high), "fine length", "up")))
    return tuple(cuts)


def _lowering(station: Station, state: State, load: Load, ropes: list[Rope], book: Book) -> Load:
    """With the belayer at the landing the rope runs over the ring, or what stands in its place, which then carries both its strands."""
    if state.system.kind != "lowered" or state.system.belayer != "below" or load.static is None:
        return load
    over = next((f for f in station.features if state.rig.kind == "direct" and state.rig.ring is None and f.id == state.rig.anchor), None)
    own = row("friction", "ring" if over is None else "bark" if over.kind == "post" and over.surface == "bark" else "smooth rock" if over.kind == "post" else "textile")
    mu = slippery(own, own, *ropes)[0]
    ends = [book.number(f"load.lower.{key}", f"{what}, lowered over the ring from below", "T*sqrt(1 + exp(-mu*theta)**2 - 2*exp(-mu*theta)*cos(theta))", [
        computed("T", what, n), from_row("mu", mu, mu.low, "share"), Term("theta", "wrap of the ring", math.pi, "angle", "HB: both strands hang down")],
        ring_load_kn(n.value, mu.low, math.pi), "force", "up") for key, what, n in (("static", "the rider's weight", load.static), ("peak", "peak of one rider", load.peak))]
    return Load(ends[0], ends[1], "")


def _with_others(station: Station, load: Load, ctx: Context, found: Findings, book: Book) -> Load:
    """The load on the anchor: the rider's, and the weight of those who hang at the station."""
    if not station.hanging:
        return load
    people = {p.id: p for p in ctx.plan.party}
    there = [people[i] for i in dict.fromkeys(station.hanging) if i in people]
    if len(there) < len(set(station.hanging)):
        found.add("load.hanging", "Not checked", "load", "Somebody who is to hang here is not in the party", "Their weight is not counted.")
    heavy = [p.name for p in there if p.mass_kg.kind == "unknown"]
    if heavy:
        return Load(None, None, f"the weight of {heavy[0]} is unknown")
    if ctx.heaviest is None or ctx.heaviest.id not in station.hanging or station.together != "no":
        return hanging(load, there, book)
    # Whoever rides does not hang there: either the heaviest rides and the others hang, or the heaviest of the rest rides.
    riding = hanging(load, [p for p in there if p.id != ctx.heaviest.id], book)
    rest = [p for p in ctx.plan.party if p.id not in station.hanging]
    if not rest or load.peak is None:
        return riding
    other = load_of(max(rest, key=lambda p: p.mass_kg.value), "load.rest", book)
    beside = hanging(other, there, Book(book.prefix, False))
    return riding if riding.peak.value >= beside.peak.value else hanging(other, there, book)


def _wrap_parts(rig: Wrap, here: _At) -> LoadPath | None:
    post = here.feature(rig.post)
    if post is None:
        here.missing("anchor", "The rig names an anchor that is not there", "Choose what the station is tied to.")
        return None
    if post.kind != "post":
        here.unfit("anchor", post, "Webbing goes round a tree, block, horn or pillar; to this it is clipped.")
        return None
    ctx, found, book = here.ctx, here.found, here.book
    want = asked("anchor", post.name, here.load, 1.0, here.margin, book)
    parts = [_post_part("anchor", post, want, here)]
    webbing, wrap = ctx.webbing.get(rig.webbing) or ctx.slings.get(rig.webbing), None
    if webbing is None:
        here.missing("webbing", "The webbing is not in the shed", "The rig names webbing that was removed; choose another.")
    else:
        over = bar(rig, ctx)
        wrap = ctx.once(("wrap", here.station.wet), (rig, post, webbing, over), book,
                        lambda own: wrapped(rig, post, webbing, over, here.station.wet, ctx.plan.policies.retention, own))
        _wrap_findings(wrap, rig, webbing, ctx, found, here.path)
        untied = isinstance(webbing, Sling) and rig.pattern not in SEWN
        if untied:
            found.add("anchor.kind", "Shortfall", "webbing", "{name} is not of a kind that can be rigged so", "A sewn sling cannot be tied: use a basket or a girth hitch, or webbing.", words={"name": webbing.name})
        if over is not None and isinstance(webbing, Webbing):
            thin_bar(over, webbing.name, webbing.thickness_mm, found)
        parts.append(replace(part("webbing", f"{webbing.name}, {wrap.pattern.key}", want, wrap.low, wrap.high, wrap.why, book, wrap.points, textile=True), said=bool(wrap.forbidden) or untied))
    return LoadPath(tuple(parts), wrap, ctx.rings.get(rig.ring))


def _post_part(key: str, post: Post, want: Asked, here: _At) -> Part:
    made = part(key, post.name, want, *holds_of(post, key, here.station.wet, here.book), here.book)
    margin = made.low.value / want.required.value if made.low and want.required and want.required.value > 0 else None
    post_findings(post, margin, here.found)
    if post.holds.kind == "mass" and made.low is not None and topples_unknown(post.holds):
        here.found.add("anchor.unknown", "Not checked", key, "Whether {part} topples is unknown", "It is judged by sliding alone: the height of the webbing or the depth of its base is not entered.", words={"part": post.name})
    return made


def _found_textile(feature: Rated, key: str, wet: str, book: Book) -> tuple[Number | None, Number | None, str]:
    """Textile found in place: its good strands, wet where it may be, and the knot that closes each."""
    if feature.good_strands.kind == "unknown":
        return None, None, f"how many strands of {feature.name} are good is unknown"
    if feature.holds.kind == "unknown":
        return given(key, feature.name, feature.holds, book)
    count = feature.good_strands.value
    if count < 1:
        return None, None, f"no strand of {feature.name} was found good"
    # An unknown fibre may be one that water weakens; an unknown knot is counted as any knot.
    fibre = "nylon" if feature.fibre == "unknown" else feature.fibre
    wet_row, kept = row("materials", f"wet.{fibre}"), wet_share(feature.fibre, wet)
    # In HMPE only a triple fisherman's holds: an unknown knot is counted as that, and said to be unknown.
    tied = "triple fisherman's" if fibre == "HMPE" and feature.knot == "unknown" else feature.knot
    knot = None if tied == "sewn" else retention(tied, fibre, "graded") if tied != "unknown" else row("knots", f"retention.general.{family(fibre)}")
    if tied != "sewn" and (knot is None or (fibre == "HMPE" and tied != "triple fisherman's")):
        return None, None, f"a {tied} is not to be used in {fibre}"
    most = row("pull_tests", "HMPE triple fisherman") if fibre == "HMPE" and tied != "sewn" else None
    ends = []
    for i, (end, v, toward) in enumerate((("low", feature.holds.low_kn, "down"), ("high", feature.holds.high_kn, "up"))):
        rho = 1.0 if knot is None else knot.low if end == "low" else knot.high
        terms = [Term("n", "strands looked at all round and found good", count, "count", f"entered: {feature.good_strands.method}"), Term("C", "one of its strands", v, "force", feature.holds.source),
                 Term("w", f"{wet_row.name}; gets wet: {wet}", kept[i], "share", wet_row.cited), *([] if knot is None else [from_row("rho", knot, rho, "share")])]
        value, formula = count * v * kept[i] * rho, "n*C*w" + ("" if knot is None else "*rho")
        if most is not None:
            terms.append(from_row("h", most, most.low, "force"))
            value, formula = min(value, count * most.low / 2), f"min({formula}, n*h/2)"
        ends.append(book.number(f"{key}.{end}", f"good strands of {feature.name}, {end} end", formula, terms, value, "force", toward))
    return ends[0], ends[1], ""


def holds_of(feature: Feature, key: str, wet: str, book: Book) -> tuple[Number | None, Number | None, str]:
    """What a thing that is tied to holds by itself.

    feature: post, rated anchor or ice thread; key: the workings' prefix; wet: yes, no or unknown; book: where workings go
    returns: low, high [kN] and, where unknown, why
    Source: whoever gives it; a block's weight HB and J. Of ice it is never computed.
    """
    if feature.kind == "ice thread":
        return None, None, "the strength of ice is not computed"
    if feature.kind == "post" and feature.holds.kind == "mass":
        return mass_holds(feature.holds, feature.name, key, book)
    if feature.kind == "rated" and feature.what == "textile":
        return _found_textile(feature, key, wet, book)
    return given(key, feature.name, feature.holds, book)


def _direct_parts(rig: Direct, here: _At) -> LoadPath | None:
    feature = here.feature(rig.anchor)
    if feature is None:
        here.missing("anchor", "The rig names an anchor that is not there", "Choose what the station is tied to.")
        return None
    if feature.kind == "post" and rig.ring is not None:
        here.unfit("anchor", feature, "A ring does not hang on it by itself: tie webbing round it.")
        return None
    if feature.kind == "rated" and rig.ring is None and feature.what not in ("textile", "thread"):
        here.unfit("anchor", feature, "Without a ring the rope would run through the metal itself: hang a ring or link in it.")
    want = asked("anchor", feature.name, here.load, 1.0, here.margin, here.book)
    if feature.kind == "post":
        return LoadPath((_post_part("anchor", feature, want, here),))
    slips = _found_slips(feature, "anchor", here)
    parts, ice = [replace(part("anchor", feature.name, want, *holds_of(feature, "anchor", here.station.wet, here.book), here.book, textile=of_textile(feature)), said=feature.kind == "ice thread" or slips)], None
    if feature.kind == "ice thread":
        ice = ice_geometry(feature, here.book)
        ice_findings(feature, ice, here.found)
        if feature.cord is not None:
            cord = here.ctx.ropes.get(feature.cord)
            if cord is None:
                here.missing("webbing", "The thread's cord is not in the shed", "The thread names a cord that was removed; choose another.")
            else:
                parts.append(_thread_cord(cord, feature.closed_by, want, here))
    return LoadPath(tuple(parts), ring=here.ctx.rings.get(rig.ring or ""), ice=ice)


def _thread_cord(cord: Rope, closed_by: str, want: Asked, here: _At) -> Part:
    """A loop of cord through ice: two strands, joined by a double (in HMPE triple) fisherman's, the rope or a ring on it."""
    knot, name = joining_knot(cord, closed_by), f"{cord.name}, a loop through the ice"
    slipping = slips_closed(cord, closed_by)
    if slipping:
        slip_finding(cord.name, slipping, "webbing", here.found)
    rows = retention(knot, cord.fibre, here.ctx.plan.policies.retention) if cord.fibre != "unknown" and knot and not slipping else None
    if cord.strength_kn.kind == "unknown" or rows is None:
        why = f"a {slipping} is not to be used in HMPE" if slipping else f"the strength of {cord.name} is unknown" if cord.strength_kn.kind == "unknown" else \
            f"the fibre of {cord.name} is unknown" if cord.fibre == "unknown" else f"which knot closes the loop of {cord.name} is unknown" if knot is None else f"the tables have no strength for a {knot} in {cord.fibre}"
        return replace(part("webbing", name, want, None, None, why, here.book, textile=True), said=bool(slipping))
    wet_row, kept = row("materials", f"wet.{cord.fibre}"), wet_share(cord.fibre, here.station.wet)
    ends = []
    for i, end in enumerate(("low", "high")):
        strand = cord.strength_kn.low_kn if end == "low" else cord.strength_kn.high_kn
        rho = rows.low if end == "low" else rows.high
        terms = [Term("S", f"one strand of {cord.name}", strand, "force", cord.strength_kn.source),
                 Term("w", f"{wet_row.name}; gets wet: {here.station.wet}", kept[i], "share", wet_row.cited), from_row("rho", rows, rho, "share")]
        value, formula = 2 * strand * kept[i] * rho, "2*S*w*rho"
        if cord.fibre == "HMPE":
            most = row("pull_tests", "HMPE triple fisherman")
            terms.append(from_row("h", most, most.low, "force"))
            value, formula = min(value, most.low), "min(2*S*w*rho, h)"
        ends.append(here.book.number(f"webbing.{end}", f"{name}, {end} end", formula, terms, value, "force", "down" if end == "low" else "up"))
    return part("webbing", name, want, ends[0], ends[1], "", here.book, textile=True)


def _found_slips(feature: Feature, key: str, here: _At) -> bool:
    """Whether textile or a thread of HMPE is closed by a knot that slips in it; says so if it is, and of textile where it may be."""
    if not of_textile(feature) or feature.knot == "sewn":
        return False
    slips = feature.fibre == "HMPE" and feature.knot in ("ring bend", "overhand", "double fisherman's")
    if slips:
        slip_finding(feature.name, feature.knot, key, here.found)
    elif feature.what == "textile" and (feature.fibre == "unknown" or (feature.fibre == "HMPE" and feature.knot == "unknown")):
        here.found.add("anchor.unknown", "Not checked", key, "Whether the knot in {name} slips is not checked",
                       "Its fibre is unknown: it is counted as nylon, and in HMPE all but a triple fisherman's slip." if feature.fibre == "unknown" else
                       "In HMPE all but a triple fisherman's slip, and nobody has said which knot it is.", words={"name": feature.name})
    return slips


def of_textile(feature: Feature) -> bool:
    """Whether rock may cut a thing that is tied to.

    feature: post, rated anchor or ice thread
    returns: whether it is of textile
    Source: none, its kind.
    """
    return feature.kind == "rated" and feature.what in ("textile", "thread")


def _several_parts(rig: Several, here: _At) -> LoadPath | None:
    features = {leg.anchor: here.feature(leg.anchor) for leg in rig.legs}
    if None in features.values():
        here.missing("anchor", "A leg names an anchor that is not there", "Choose what each leg is tied to.")
        return None
    ctx, found, book = here.ctx, here.found, here.book
    ring, names = ctx.rings.get(rig.ring), {k: f.name for k, f in features.items()}
    posts = [f for f in features.values() if f.kind == "post"]
    solved = solve(rig, names, posts, here.runs, here.load.static.value if here.load.static else None, rope_stiffness_kn(here.ridden), ctx, book)
    view = solved.view
    if mixed(rig):
        found.add("legs.mixed", "Shortfall", "anchor", "One loop runs through every point, and its legs are of different materials", "A sliding loop is of one piece and closed by one knot. Choose one, or tie each leg for itself.")
    elif view is None:
        found.add("legs.unknown", "Not checked", "anchor", "How the points share the load is not known", "Not checked: {why}.", words={"why": solved.why})
    for slipping, thing in {(slips_closed(t, leg.closed_by), t.name) for leg in rig.legs if (t := material(leg.of, ctx)) is not None and not isinstance(t, Ring)}:
        if slipping:
            slip_finding(thing, slipping, "webbing", found)
    points, legs = [], []
    for i, leg in enumerate(rig.legs):
        feature, share = features[leg.anchor], view.legs[i].worst if view else None
        key = f"point.{leg.id}"
        want = asked(key, feature.name, here.load, share, here.margin, book) if share is not None else Asked(None, None)
        points.append(_post_part(key, feature, want, here) if feature.kind == "post" else
                      replace(part(key, feature.name, want, *holds_of(feature, key, here.station.wet, book), book, textile=of_textile(feature)), said=feature.kind == "ice thread" or _found_slips(feature, key, here)))
        if feature.kind == "ice thread":
            ice_findings(feature, ice_geometry(feature, book), found)
        thing, key = material(leg.of, ctx), f"leg.{leg.id}"
        name = f"{tied_by(leg, ctx)} to {feature.name}"
        want = asked(key, name, here.load, share, here.margin, book) if share is not None else Asked(None, None)
        if isinstance(thing, Ring):
            legs.append(replace(connector_part(key, thing, leg.lies, want, found, book), name=name))
            continue
        holds = leg_holds(thing, leg, rig, ring, feature.kind == "post", here.station.wet, ctx.plan.policies.retention, key, book) if thing else Holds(None, None, "it is not in the shed")
        legs.append(replace(part(key, name, want, holds.low, holds.high, holds.why, book, textile=True), said=thing is not None and bool(slips_closed(thing, leg.closed_by))))
    if view:
        angle_finding(view.angle, found, "anchor", "legs.angle", _longer(rig, view, here.path))
        _loop_cut(rig, view, ctx, found)
    if rig.focal == "sliding":
        # One loop through every point: cut anywhere it is gone, so it is one part, asked for its most loaded leg.
        worst = max(legs, key=lambda p: p.demand.value if p.demand else 0.0)
        legs = [replace(worst, key="loop", name=f"{tied_by(rig.legs[0], ctx)}, one loop through every point")]
    return LoadPath((*points, *legs), ring=ring, several=view)


def _longer(rig: Several, view: SeveralView, at: tuple) -> Fix | None:
    """The focal point further along the load until the legs stand well, if that can be found within five metres."""
    good = math.radians(row("loads", "angle.note").low)
    for step in range(1, 51):
        far = tuple(f + step / 10 * d for f, d in zip(view.focal, view.direction, strict=True))
        if widest_rad([leg.at for leg in view.legs], far) < good and max(map(abs, far)) <= 30:
            edits = tuple(Edit((*at, k), {"kind": "known", "value": round(v, 2), "method": "given"}) for k, v in zip(("out_m", "aside_m", "up_m"), far, strict=True))
            return Fix(Sentence("Put the focal point {by} further out", {"by": Number(step / 10, "fine length")}), edits)
    return None


def _removal_findings(view: SeveralView | TwoPostsView, rig: Several | TwoPosts, parts: list[Part], rider: Load, on_anchor: Load, here: _At) -> None:
    """What happens when one point fails: does all that then carries the fall hold it, and how far does it fall. Source: HB and J."""
    far, found, by_key = row("loads", "legs.drop"), here.found, {p.key: p for p in parts}
    names = [leg.id for leg in rig.legs] if rig.kind == "several" else ["first", "second"]
    slides = rig.kind == "several" and rig.focal == "sliding"
    own = rider.static.value / on_anchor.static.value if rider.static and on_anchor.static else 1.0
    worst: tuple[float, object, Part, Number] | None = None
    for gone in view.removals:
        key = f"point.{gone.id}"
        if gone.peak is None:
            found.add("legs.removal", "Not checked", key, "What happens if {point} fails is not known", "Not checked: {why}.", words={"point": gone.name, "why": gone.why})
            continue
        pulled: list[tuple[Part, float]] = []
        for name, pull in zip(names, gone.pulls, strict=True):
            if name != gone.id:
                pulled += [(by_key[k], pull.value) for k in (f"point.{name}", f"leg.{name}", "loop") if k in by_key]
        for p in parts:
            family = p.key.split(".")[0]
            # The peak is everyone's who hangs there; the rope and what is on it get the rider's part.
            share = 1.0 if family in ("link", "ring") or (family == "webbing" and rig.kind == "two posts") else own if family in ("block", "device") and p.where == "riding" else \
                own * (p.demand.value / rider.peak.value) if family == "rope" and p.demand and rider.peak else 0.0
            if share:
                pulled.append((p, gone.peak.value * share))
        for p, pull in pulled:
            if p.low is not None and pull > p.low.value and (worst is None or pull / p.low.value > worst[0]):
                worst = (pull / p.low.value, gone, p, Number(pull, "force", "up"))
    if worst:
        _, gone, p, pull = worst
        found.add("legs.cascade", "Shortfall", f"point.{gone.id}", "If {point} fails, {next} may follow", "The load falls {drop}, peaks at {peak}, and puts {pull} on a part that holds {low}.",
                  words={"point": gone.name, "next": p.name}, working=gone.peak.working, numbers={"drop": gone.drop, "peak": gone.peak, "pull": pull, "low": p.low})
    falls = [g for g in view.removals if g.peak is not None and g.drop.value >= far.low]
    if falls:
        most = max(falls, key=lambda g: g.drop.value)
        limit = Fix(Sentence("Tie limiting knots"), (Edit((*here.path, "focal"), "limited"), Edit((*here.path, "slack_m"), {"kind": "known", "value": row("loads", "legs.slack").high, "method": "given"})))
        advice = "Limiting knots, or a knotted focal point, shorten the fall." if slides else "Less slack between the limiting knots shortens it." if rig.kind == "several" and rig.focal == "limited" else "Points closer together, or a focal point further out, shorten it."
        found.add("legs.drop", "Caution", f"point.{most.id}", "If {point} fails, the focal point falls {drop}" + (", and not much less for another" if len(falls) > 1 else ""), "It peaks at {peak}. " + advice,
                  words={"point": most.name}, numbers={"drop": most.drop, "peak": most.peak}, working=most.drop.working, fix=limit if slides else None)


def _loop_cut(rig: Several, view: SeveralView, ctx: Context, found: Findings) -> None:
    webbing = ctx.webbing.get(rig.legs[0].of)
    if view.cut is not None and webbing is not None:
        piece_finding(webbing, view.cut, found)


def _two_parts(rig: TwoPosts, here: _At) -> LoadPath | None:
    posts = (here.feature(rig.first), here.feature(rig.second))
    webbing = here.ctx.webbing.get(rig.webbing)
    if any(p is None for p in posts) or rig.first == rig.second:
        here.missing("anchor", "Two posts are wanted", "Choose two different posts of this station.")
        return None
    strange = next((p for p in posts if p.kind != "post"), None)
    if strange is not None:
        here.unfit("anchor", strange, "One band goes round two trees, blocks, horns or pillars.")
        return None
    if webbing is None and rig.webbing in here.ctx.slings:
        here.found.add("anchor.kind", "Shortfall", "webbing", "{name} is not of a kind that can be rigged so", "One band round two posts is tied of webbing.", words={"name": here.ctx.slings[rig.webbing].name})
        return None
    if webbing is None:
        here.missing("webbing", "The webbing is not in the shed", "The rig names webbing that was removed; choose another.")
        return None
    book = here.book
    view = two_posts(rig, posts, webbing, here.station.wet, here.ctx.plan.policies.retention, book, here.load.static.value if here.load.static else None,
                     rope_stiffness_kn(here.ridden))
    ring = here.ctx.rings.get(rig.ring)
    want = asked("webbing", webbing.name, here.load, 1.0, here.margin, book)
    name = f"{webbing.name}, one loop round both posts"
    slipping = webbing.fibre == "HMPE"
    if slipping:
        slip_finding(webbing.name, "ring bend", "webbing", here.found)
    if isinstance(view, str):
        here.found.add("legs.unknown", "Not checked", "anchor", "How the posts share the load is not known", "Not checked: {why}.", words={"why": view})
        blank = Asked(None, None)
        return LoadPath((*(_post_part(f"point.{n}", p, blank, here) for n, p in zip(("first", "second"), posts, strict=True)),
                         part("webbing", name, want, None, None, view, book, textile=True)), ring=ring)
    shares = (view.first, view.second)
    points = [_post_part(f"point.{n}", p, asked(f"point.{n}", p.name, here.load, s, here.margin, book), here)
              for n, p, s in zip(("first", "second"), posts, shares, strict=True)]
    piece_finding(webbing, view.cut, here.found)
    angle_finding(view.angle, here.found, "anchor", "legs.angle", None)
    return LoadPath((*points, replace(part("webbing", name, want, view.low, view.high, view.why, book, textile=True), said=slipping)), ring=ring, two=view)


def _rope_parts(rig: object, ring: Ring | None, strands: list[Strand], load: Load, here: _At) -> list[Part]:
    """The ring the rope runs through, the ridden strands and their join."""
    if ring is None and rig.ring is not None:
        here.missing("ring", "The ring is not in the shed", "The rig names a ring that was removed; choose another.")
        return []
    ctx, book, parts = here.ctx, here.book, []
    if ring is not None:
        parts.append(connector_part("ring", ring, rig.ring_loaded, asked("ring", ring.name, _lowering(here.station, here.state, load, here.ridden, book), 1.0, here.margin, book), here.found, book))
        for rope in {s.rope.id: s.rope for s in strands if s.load_share}.values():
            thin_bar(ring, rope.name, rope.diameter_mm, here.found)
    over = ring or _thread_bar(rig, here)
    holds = _holds_at_ring(here)
    if holds is not None and holds.kind == "range":
        kind = here.state.system.kind
        name = f"{here.state.system.block} block on its ring" if kind.startswith("blocked") else "the device" if kind == "elastic-release device" else "chain of bights"
        parts.append(part("block", name, asked("block", name, load, 1.0, here.margin, book), *given("block", name, holds, book), book))
    own = _strand_load(here.station, load, ctx, book)
    for s in strands:
        if s.load_share:
            parts.append(_rope_part(s, over, here.station.wet, here.state.system, own, ctx.plan.policies, book))
            if s.load_share == 1.0 and s.rope.fibre == "unknown" and parts[-1].low is not None and station_knot(here.state.system):
                here.found.add("rope.unknown", "Not checked", f"rope.{s.rope.id}", "What {rope} is made of is unknown", "Its knot is counted as in nylon; in HMPE it would keep far less.", words={"rope": s.rope.name})
    if here.state.system.kind == "joined" and len(strands) == 2:
        parts.append(_join_part(here.state.system, strands[0].rope, strands[1].rope, 0.5, own, here.station.wet, ctx, here.found, book))
    more = getattr(here.state.system, "tied_on", None)
    if more is not None and strands and more.rope in ctx.ropes:
        parts.append(_join_part(more, strands[0].rope, ctx.ropes[more.rope], 1.0, own, here.station.wet, ctx, here.found, book))
    return parts


def _strand_load(station: Station, load: Load, ctx: Context, book: Book) -> Load:
    """What one strand gets of two who ride at once, each on their own: all of the heavier one."""
    if station.together != "own strands" or ctx.heaviest is None:
        return load
    alone = load_of(ctx.heaviest, "load.alone", book)
    double = [book.number(f"load.strand.{k}", f"{what}, on a strand of their own", "2*X", [computed("X", what, n)], 2 * n.value, "force", "up")
              for k, what, n in (("static", "the heavier rider's weight", alone.static), ("peak", "the heavier rider's peak", alone.peak))]
    # Strands are asked for half of it each.
    return Load(double[0], double[1], "")


def _holds_at_ring(here: _At) -> Capacity | None:
    """What the block, the chain of bights or the device at the station holds, None where there is none."""
    system = here.state.system
    if system.kind != "elastic-release device":
        return getattr(system, "block_holds", None)
    device = next((d for d in here.ctx.plan.shed.devices if d.id == system.device), None)
    return device.rating_kn if device else Unknown(kind="unknown", why="the device is not in the shed")


def _thread_bar(rig: Direct, here: _At) -> Ring:
    """What a rope bends over where there is no ring: a tree, the thread's cord as a bar of its thickness, or ice, of which nothing is
    known."""
    feature = here.feature(rig.anchor)
    if feature is not None and feature.kind == "post":
        # A post is far thicker than any bar in the table; counted as one of 60 mm, the thickest that may be entered.
        thick = feature.girth_m.model_copy(update={"value": min(60.0, feature.girth_m.value / math.pi * 1000)}) if feature.girth_m.kind == "known" else feature.girth_m
        return Ring(id=THREAD, name=feature.name, thickness_mm=thick, opening_mm=Unknown(kind="unknown"), rating_kn=Unknown(kind="unknown"))
    cord = here.ctx.ropes.get(feature.cord) if feature is not None and feature.kind == "ice thread" and feature.cord else None
    thickness = cord.diameter_mm if cord else Unknown(kind="unknown", why="the rope runs through ice or rock")
    return Ring(id=THREAD, name=cord.name if cord else "the thread", thickness_mm=thickness, opening_mm=Unknown(kind="unknown"), rating_kn=Unknown(kind="unknown"))


def bar(rig: Wrap, ctx: Context) -> Ring | None:
    """The connector that the webbing bends over.

    rig: the tie; ctx: the plan's context
    returns: the first link if there are links, else the ring; None where it is no connector, or not in the shed
    Source: none, a look-up.
    """
    if not rig.links:
        return ctx.rings.get(rig.ring)
    first = rig.links[0]
    return ctx.rings.get(first.ring) if first.kind == "connector" else None


def _links(rig: Wrap | Direct, wet: str, want: object, ctx: Context, found: Findings, book: Book) -> list[Part]:
    """What hangs between the anchor and the ring, in order."""
    made = []
    for link in rig.links:
        key = f"link.{link.id}"
        thing = ctx.slings.get(link.sling) if link.kind == "sling" else ctx.webbing.get(link.webbing) if link.kind == "webbing" else ctx.rings.get(link.ring)
        if thing is None:
            found.add("anchor.missing", "Not checked", key, "A link of this anchor is not in the shed",
                      "The rig names a sling or connector that was removed; choose another.")
        elif link.kind == "webbing":
            if thing.fibre == "HMPE":
                slip_finding(thing.name, "overhand", key, found)
            made.append(webbing_part(key, thing, wet, ctx.plan.policies.retention, want, book))
        elif link.kind == "sling":
            made.append(sling_part(key, thing, link, wet, want, book))
            if link.use.startswith("basket") and link.angle_deg.kind == "known":
                angle_finding(Number(math.radians(link.angle_deg.value), "angle", "up"), found, key, "legs.angle", None)
        else:
            made.append(connector_part(key, thing, link.loaded, want, found, book))
    return made


def _single(parts: list[Part], station: Station, state: State, found: Findings) -> list[Part]:
    """Mark the single points, accepted or not, and say which nobody has accepted. What was accepted of another thing is not of this."""
    at = next((f for f in station.features if state.rig.kind == "direct" and f.id == state.rig.anchor), None)
    doubled = at is not None and at.kind == "rated" and at.pieces > 1
    single = single_points(load_edges(state.rig, [p.key for p in parts if p.where == "riding"], doubled), ROCK, RIDER)
    own = {a.part: a.reason for a in state.accepted if a.part in single and (not a.of or a.of == thing_of(a.part, state, station.features))}
    made = []
    for p in parts:
        if p.key not in single:
            made.append(p)
            continue
        reason = own.get(p.key) or by_practice(p.key, state)
        made.append(replace(p, single=True, accepted=reason))
        if not reason:
            was = " It was accepted as something else." if any(a.part == p.key for a in state.accepted) else ""
            found.add("part.single", "Caution", p.key, "{part} is a single point",
                      "If it alone fails the rider falls. Accept it with a reason, or rig a second beside it." + was, words={"part": p.name})
    return made


def _abrasion(parts: list[Part], state: State, features: dict[str, Feature], tie_edges: tuple[tuple[float, str], ...], found: Findings) -> None:
    """Textile on coarse or sharp rock. Source: P, common practice, no source, for single points; J for the rest."""
    rig, worn, unknown = state.rig, [], []
    legs = {f"leg.{leg.id}": leg.anchor for leg in getattr(rig, "legs", ())}
    round_all = [rig.post] if rig.kind == "wrap" else [rig.first, rig.second] if rig.kind == "two posts" else list(legs.values())
    for p in parts:
        if not p.textile or p.where != "riding":
            continue
        at = [legs[p.key]] if p.key in legs else round_all if p.key in ("webbing", "loop") else []
        posts = [features[i] for i in at if i in features and features[i].kind == "post" and features[i].surface == "rock"]
        lies = _lies(p.key, rig)
        crossed = [e for along, e in tie_edges if lies is None or lies[0] - 1e-9 <= along <= lies[1] + 1e-9]
        # Webbing doubled between two overhands is redundant where it crosses an edge; its knots and ends are not.
        doubled = any(p.key == f"link.{link.id}" and link.kind == "webbing" for link in rig.links)
        single = p.single and not doubled
        where = [*((f.name, f.sharpness) for f in posts), *(("an edge it crosses", e) for e in crossed)]
        hurt = sorted(((e, place) for place, e in where if e in ("coarse", "sharp")), reverse=True)
        if hurt and (single or hurt[0][0] == "sharp"):
            worn.append((p, *hurt[0], single))
        elif any(e == "unknown" for _, e in where):
            unknown.append(p)
    for some, severity in (([w for w in worn if w[3]], "Shortfall"), ([w for w in worn if not w[3]], "Caution")):
        if some:
            p, sharp, place, _ = max(some, key=lambda w: w[1])
            names = " and ".join(dict.fromkeys(w[0].name for w in some))
            found.add("webbing.abrades", severity, p.key, "{part} lies on {sharpness} rock" + (" with nothing beside it" if severity == "Shortfall" else ""),
                      "At {place} it may be cut or worn through" + (", and it alone holds the rider. Tie a redundant pattern, or pad and move it." if severity == "Shortfall" else ", and both strands lie there. Pad or move it."),
                      words={"part": names, "sharpness": sharp, "place": place})
    # As bad as what it may turn out to be: where both strands would have to wear through, a caution.
    for some, severity in (([p for p in unknown if p.single], "Not checked"), ([p for p in unknown if not p.single], "Caution")):
        if some:
            found.add("webbing.surface", severity, some[0].key, "How sharp the rock is under {part} is unknown",
                      "Whether it may be worn through is not checked." if severity == "Not checked" else "Feel it before anybody hangs there; if it is sharp, pad or move what lies on it.",
                      words={"part": " and ".join(dict.fromkeys(p.name for p in some))})


def _lies(key: str, rig: object) -> tuple[float, float] | None:
    """From where to where along the tie a part lies [m]; None where that is not known: then it may lie anywhere."""
    own = rig.out_m if rig.kind == "several" else rig.first_gain_m if rig.kind == "two posts" else rig.gain_m
    if own.kind == "unknown":
        return None
    end = own.value
    if rig.kind == "wrap" and rig.pattern == "re-threaded overhand":
        if rig.extension_m.kind == "unknown":
            return None
        end += rig.extension_m.value
    if not key.startswith("link."):
        return 0.0, end
    for link in rig.links:
        if link.reach_m.kind == "unknown":
            return None
        if key == f"link.{link.id}":
            return end, end + link.reach_m.value
        end += 0.0 if getattr(link, "stacked", False) else link.reach_m.value
    return None


def _over_rock(rig: object, here: _At) -> None:
    """A rope straight round a post of rock. Source: J, our judgement: the loaded rope moves there."""
    post = here.feature(rig.anchor) if rig.kind == "direct" and rig.ring is None else None
    if post is None or post.kind != "post" or post.surface != "rock" or here.state.system.kind == "none":
        return
    if post.sharpness == "sharp":
        here.found.add("edge.sharp", "Shortfall", "anchor", "The rope runs straight round sharp rock", "{name} may cut it, loaded or pulled. Tie webbing with a ring round it.", words={"name": post.name})
    elif post.sharpness == "unknown":
        here.found.add("webbing.surface", "Not checked", "anchor", "How sharp {name} is under the rope is unknown", "Whether it may be cut is not checked.", words={"name": post.name})


def _rope_part(s: Strand, ring: Ring, wet: str, system: object, load: Load, policies: Policies, book: Book) -> Part:
    """A ridden strand: where it bends in the ring and, if it is blocked, in its block's knot."""
    key = f"rope.{s.rope.id}-{s.end}"
    blocked = s.load_share == 1.0
    # A hitch that the tables know nothing of is judged by its own pull tests, as the block.
    knot = station_knot(system) if blocked else ""
    knot = "" if knot == "stone hitch" else knot
    where = "thread" if ring.id == THREAD else "ring"
    held = {"releasable": "tied off at", "elastic-release device": "held at", "alternating bights": "tied at", "lowered": "running at"}.get(system.kind, "blocked at")
    name = f"{s.rope.name} {s.end.upper()}, {held if blocked else 'bent in'} the {where}"
    want = asked(key, name, load, s.load_share, policies.margin, book)
    why = "the tables have no strength for a rope in a chain of bights" if system.kind == "alternating bights" else ""
    why = why or _rope_unknown(s.rope, ring, knot, policies.retention)
    if why:
        return part(key, name, want, None, None, why, book)
    ends: dict[str, list[tuple[str, str, Number]]] = {"low": [], "high": []}
    wet_row = row("materials", "wet." + ("nylon" if s.rope.fibre == "unknown" else s.rope.fibre))
    diameter = Term("d", f"diameter of {s.rope.name}", s.rope.diameter_mm.value, "diameter", "entered")
    for i, end in enumerate(("low", "high")):
        toward = "down" if end == "low" else "up"
        label, label_term = _unknotted(s.rope, key, end, book)
        kept = wet_share(s.rope.fibre, wet)[i]
        share, bend_formula, bend_terms = bent(ring, s.rope.name, s.rope.diameter_mm.value, end)
        base = [label_term, Term("w", f"{wet_row.name}; gets wet: {wet}", kept, "share", wet_row.cited)]
        bend_name = f"bent over {ring.name}"
        ends[end].append(("bend", bend_name, book.number(
            f"{key}.bend.{end}", f"{s.rope.name} {bend_name}, {end} end", f"S*w*({bend_formula})", [*base, *bend_terms],
            label * kept * share, "force", toward)))
        if knot:
            kept_row = _knot_retention(knot, s.rope, policies.retention)
            rho = kept_row.low if end == "low" else kept_row.high
            terms, formula, value = [*base, from_row("rho", kept_row, rho, "share")], "S*w*rho", label * kept * rho
            if knot in ("figure eight", *TIE_OFFS) and s.rope.kind == "low-stretch" and 8 <= s.rope.diameter_mm.value <= 10:
                most = row("ropes", "eight.low-stretch")
                terms += [from_row("q", most, most.high, "ratio"), diameter]
                value, formula = min(value, most.high * s.rope.diameter_mm.value), "min(S*w*rho, q*d)"
                if s.rope.strength_kn.kind == "unknown":
                    q = most.low if end == "low" else most.high
                    terms, value, formula = [base[1], from_row("q", most, q, "ratio"), diameter], q * s.rope.diameter_mm.value * kept, "q*d*w"
            of = "" if knot in TIE_OFFS else " at the device" if system.kind == "elastic-release device" else " at the tie-in" if system.kind == "lowered" else " of the block"
            ends[end].append(("knot", f"{knot}{of}", book.number(
                f"{key}.knot.{end}", f"{s.rope.name} in the {knot}{of}, {end} end", formula, terms, value, "force", toward)))
    points = decided([Holding(k, n, low, high) for (k, n, low), (_, _, high) in zip(ends["low"], ends["high"], strict=True)])
    low, high = whole(key, name, points, book)
    return part(key, name, want, low, high, "", book, points if len(points) > 1 else ())


def _by_rule(rope: Rope) -> bool:
    """Whether a rope without a label is counted by the rule for low-stretch canyon ropes."""
    return rope.kind == "low-stretch" and rope.strength_kn.kind == "unknown" and rope.diameter_mm.kind == "known" and 8 <= rope.diameter_mm.value <= 10 and rope.fibre in ("nylon", "polyester", "polypropylene")


def _unknotted(rope: Rope, key: str, end: str, book: Book) -> tuple[float, Term]:
    """A rope's unknotted strength: its label's, or what it must have to hold at a figure eight what ropes of its kind are known to."""
    if rope.strength_kn.kind == "range":
        value = rope.strength_kn.low_kn if end == "low" else rope.strength_kn.high_kn
        return value, Term("S", f"{rope.name}, unknotted", value, "force", rope.strength_kn.source)
    rule, eight = row("ropes", "eight.low-stretch"), row("knots", "retention.figure eight.nylon")
    q, rho = (rule.low, eight.high) if end == "low" else (rule.high, eight.low)
    value = q * rope.diameter_mm.value / rho
    number = book.number(f"{key}.unknotted.{end}", f"{rope.name}, unknotted, from what its kind holds at a figure eight, {end} end", "q*d/rho", [
        from_row("q", rule, q, "ratio"), Term("d", f"diameter of {rope.name}", rope.diameter_mm.value, "diameter", "entered"), from_row("rho", eight, rho, "share")], value, "force", "down" if end == "low" else "up")
    return value, computed("S", f"{rope.name}, unknotted", number)


TIE_OFFS = ("munter-mule-overhand", "figure-eight device mule")


def station_knot(system: object) -> str:
    """The knot that a single ridden strand hangs in.

    system: as rigged
    returns: its name in the knot table, "" where there is none or no figure
    Source: P, common practice, no source.
    """
    if system.kind in ("elastic-release device", "lowered"):
        return "figure eight"
    return getattr(system, "block", None) or getattr(system, "tie_off", "")


def _rope_unknown(rope: Rope, ring: Ring, knot: str, school: str) -> str:
    """What is not known of a rope at its ring, "" if nothing."""
    if ring.id == THREAD and ring.thickness_mm.kind == "unknown":
        return "how the rope bends in ice or rock is unknown"
    for blank, what in (("known" if _by_rule(rope) else rope.strength_kn.kind, f"breaking strength of {rope.name}"), (rope.diameter_mm.kind, f"diameter of {rope.name}"),
                        (ring.thickness_mm.kind, f"thickness of {ring.name}")):
        if blank == "unknown":
            return f"the {what} is unknown"
    if knot and not _knot_retention(knot, rope, school):
        fibre = "of unknown fibre" if rope.fibre == "unknown" else f"of {rope.fibre}"
        return f"the tables have no strength for a rope {fibre} in a {knot}"
    return ""


def _opposed(a: Rope, b: Rope, share: float, load: Load, wet: str, ctx: Context, found: Findings, book: Book) -> Part:
    """A bend whose tails stand opposite does not slip: it breaks, and is judged as any knot is."""
    name, kept = f"overhand bend joining {a.name} and {b.name}", row("knots", "retention.overhand bend.nylon")
    want = asked("join", name, load, share, ctx.plan.policies.margin, book)
    blank = next((f"the breaking strength of {r.name} is unknown" for r in (a, b) if r.strength_kn.kind == "unknown"), "") or \
        next((f"the tables have no strength for this bend in {r.fibre}" for r in (a, b) if r.fibre not in ("nylon", "polyester")), "")
    if blank:
        found.add("join.unchecked", "Not checked", "join", "What the join holds is not checked", "Not checked: {why}.", words={"why": blank})
        return part("join", name, want, None, None, blank, book)
    weak = min((a, b), key=lambda r: r.strength_kn.low_kn)
    wet_row = row("materials", f"wet.{weak.fibre}")
    ends = []
    for i, end in enumerate(("low", "high")):
        strength, rho = (weak.strength_kn.low_kn, kept.low) if end == "low" else (weak.strength_kn.high_kn, kept.high)
        w = wet_share(weak.fibre, wet)[i]
        ends.append(book.number(f"join.{end}", f"{name}, {end} end", "S*w*rho", [Term("S", f"{weak.name}, unknotted, the weaker", strength, "force", weak.strength_kn.source),
                    Term("w", f"{wet_row.name}; gets wet: {wet}", w, "share", wet_row.cited), from_row("rho", kept, rho, "share")], strength * w * rho, "force", "down" if end == "low" else "up"))
    made = part("join", name, want, ends[0], ends[1], "", book)
    if made.verdict == "Shortfall":
        found.add("join.weak", "Shortfall", "join", "The join holds {low}, needs {required}", "A bend with its tails opposite keeps part of the weaker rope.", numbers={"low": made.low, "required": made.required}, working=made.low.working)
    return made


def _join_part(system: object, through: Rope, other: Rope, share: float, load: Load, wet: str, ctx: Context, found: Findings, book: Book) -> Part:
    """The flat knot that joins two ropes: where it slips, against its own demand without a margin.
    Source: P, table of pull tests; slip is compared once, not with the margin."""
    eight = system.knot == "flat figure eight"
    name = f"flat {'figure eight' if eight else 'overhand'} joining {through.name} and {other.name}, slips"
    want = asked("join", name, load, share, ctx.plan.policies.margin, book)
    want = replace(want, required=want.demand)
    tails = row("knots", "tail.join")
    if system.knot == "opposed overhand":
        return _opposed(through, other, share, load, wet, ctx, found, book)
    slippery_ = "HMPE" in (through.fibre, other.fibre)
    seen = row("pull_tests", "HMPE overhand" if slippery_ else "flat eight" if eight else "flat overhand dynamic")
    if system.slips_kn.kind == "range":
        low, high, why = given("join", name, system.slips_kn, book)
    elif slippery_ or (through.kind.startswith("dynamic") and other.kind.startswith("dynamic")):
        low, high = (book.number(f"join.{end}", f"{name}, {end} end", "F", [from_row("F", seen, value, "force")], value, "force", toward)
                     for end, value, toward in (("low", seen.low, "down"), ("high", seen.high, "up")))
        why = ""
    else:
        low = high = None
        why = "the tables have a pull test of this join in two dynamic ropes only"
        found.add("join.unchecked", "Not checked", "join", "Whether the join slips is not checked",
                  "The tables have a pull test of a flat overhand in two dynamic ropes only. Test your own two and enter it. Tails at "
                  "least {tail}, a second overhand snug behind.", numbers={"tail": Number(tails.high, "fine length", "up")})
    made = part("join", name, want, low, high, why, book)
    if made.verdict == "Shortfall":
        found.add("join.slips", "Caution", "join", "The join may roll: it slips at {low}, and {demand} comes on it",
                  "Slip is not breakage. Tails at least {tail} each, and a second overhand snug behind the first.", working=low.working,
                  numbers={"low": low, "demand": want.demand, "tail": Number(tails.high, "fine length", "up")})
        made = replace(made, verdict="May roll")
    return made


def _wrap_findings(wrap: Wrapped, rig: Wrap, webbing: Webbing | Sling, ctx: Context, found: Findings, at: tuple) -> None:
    if wrap.forbidden:
        slip_finding(webbing.name, wrap.forbidden, "webbing", found)
    _advice(wrap, rig, isinstance(webbing, Sling), ctx.plan.policies, found, at)
    if wrap.angle is None or wrap.cut is None:
        return
    if wrap.pattern.spread:
        _angle_finding(wrap, found, at)
    if isinstance(webbing, Sling):
        if webbing.length_m.kind == "unknown":
            found.add("webbing.cut", "Not checked", "webbing", "How long {sling} is is unknown", "This tie wants {cut}, laid.",
                      numbers={"cut": wrap.cut}, words={"sling": webbing.name})
        elif webbing.length_m.value < wrap.cut.value:
            found.add("webbing.cut", "Shortfall", "webbing", "{sling} is too short for this tie", "It wants {cut}, laid; the sling is {laid}.",
                      working=wrap.cut.working, words={"sling": webbing.name},
                      numbers={"cut": wrap.cut, "laid": Number(webbing.length_m.value, "fine length", "down")})
        return
    piece_finding(webbing, wrap.cut, found)


def piece_finding(webbing: Webbing, cut: Number, found: Findings) -> None:
    """Whether a piece of webbing is long enough for one station.

    webbing: as it lies in the shed; cut: what the station takes in one piece [m]; found: where the finding goes
    returns: nothing
    Source: none, comparison.
    """
    known = [p.length_m.value for p in webbing.pieces if p.length_m.kind == "known"]
    if len(known) < len(webbing.pieces) or not webbing.pieces:
        if max(known, default=0) < cut.value:
            found.add("webbing.cut", "Not checked", "webbing", "How much {webbing} there is is unknown",
                      "This station takes {cut} in one piece.", numbers={"cut": cut}, words={"webbing": webbing.name})
    elif max(known) < cut.value:
        found.add("webbing.cut", "Shortfall", "webbing", "No piece of {webbing} is long enough",
                  "This station takes {cut} in one piece; the longest is {stock}.", working=cut.working,
                  numbers={"cut": cut, "stock": Number(max(known), "fine length", "down")}, words={"webbing": webbing.name})


def _advice(wrap: Wrapped, rig: Wrap, sewn: bool, policies: Policies, found: Findings, at: tuple) -> None:
    """What costs strength here for nothing. Source: P, common practice, no source."""
    if rig.pattern == "simple wrap, overhand" and not sewn:
        found.add("webbing.overhand", "Caution" if policies.focal == "free" else "Note", "webbing", "The overhand at the focal point is needless",
                  "It adds a weak point, and the webbing can no longer slide at the ring and saws on the post.",
                  fix=Fix(Sentence("Leave the overhand out"), (Edit((*at, "pattern"), "simple wrap"),)))
    elif rig.pattern == "girth hitch":
        better = ("Rig it as a basket", "basket") if sewn else ("Wrap two, pull one", "wrap two, pull one")
        found.add("webbing.girth", "Caution", "webbing", "A girth hitch gives strength away",
                  "A basket of the same sling keeps it." if sewn else "Wrapping two and pulling one takes seconds more and keeps it. Pulled to an acute cinch it loses more, nobody can say how much.",
                  fix=Fix(Sentence(better[0]), (Edit((*at, "pattern"), better[1]),)))
    if any(place == "chosen" for _, place in wrap.pattern.weak_points) and rig.bend_at != "back" and not sewn and policies.bend == "back":
        found.add("webbing.bend", "Note", "webbing", "The bend would keep more at the back of the post",
                  "There the post has taken most of the pull before the knot; in view it is easier to look at.",
                  fix=Fix(Sentence("Put the bend at the back"), (Edit((*at, "bend_at"), "back"),)))


def _knot_retention(knot: str, rope: Rope, school: str) -> Row | None:
    """The table's row for a knot in a rope; one of unknown fibre is counted as nylon, and that is said."""
    return retention(knot, rope.fibre if rope.fibre != "unknown" else "nylon", school)


def _angle_finding(wrap: Wrapped, found: Findings, at: tuple) -> None:
    # At x = r the legs stand at 60°: r/(r + r) is the sine of half the angle. Round up to the centimetre.
    gain = math.ceil(wrap.bench.radius_m * 100) / 100
    angle_finding(wrap.angle, found, "webbing", "webbing.angle", Fix(
        Sentence("Lengthen the tie to {gain}", {"gain": Number(gain, "fine length", "up")}),
        (Edit((*at, "gain_m"), {"kind": "known", "value": gain, "method": "given"}),)))


def angle_finding(angle: Number, found: Findings, key: str, code: str, fix: Fix | None) -> None:
    """How wide two legs stand, by its class.

    angle: between them [rad]; found: where the finding goes; key: the part's; code: the finding's; fix: for a caution or worse
    returns: nothing
    Source: P and J, table of loads.
    """
    degrees = math.degrees(angle.value)
    note, caution, short = (row("loads", f"angle.{k}").low for k in ("note", "caution", "shortfall"))
    if degrees < note:
        return
    severity = "Shortfall" if degrees >= short else "Caution" if degrees > caution else "Note"
    found.add(code, severity, key, "The legs stand at {angle}",
              "Of two equal legs each carries {share} of the load. Under {note} is good, over {caution} a caution, {short} or more a "
              "shortfall of practice; a longer tie narrows the angle.",
              numbers={"note": Number(note, "degrees"), "caution": Number(caution, "degrees"), "short": Number(short, "degrees"),
                       "angle": angle, "share": Number(equal_leg_share(min(angle.value, math.pi - 1e-6)), "part", "up")},
              working=angle.working, fix=None if severity == "Note" else fix)


def _decides(p: Part, book: Book) -> str:
    """What takes most from a part of textile, by its working: the strands that are counted, and the least share that is kept."""
    working = book.workings.get(p.low.working) if p.low else None
    if working is None or not p.textile:
        return ""
    count = next((t for t in working.terms if t.symbol == "n"), None)
    kept = [t for t in working.terms if t.symbol.startswith(("rho", "k", "b")) and t.quantity in ("share", "ratio") and t.value < 1]
    said = [f"{'one strand' if count.value == 1 else f'{count.value:g} strands'} counted"] if count else []
    if kept:
        least = min(kept, key=lambda t: t.value)
        said.append(f"{least.name}, × {least.value:.2f}")
    return ", ".join(said)


def _part_findings(parts: list[Part], found: Findings, book: Book) -> None:
    blank: set[str] = set()
    for p in parts:
        family = {"point": "anchor", "leg": "link", "loop": "link"}.get(p.key.split(".")[0], p.key.split(".")[0])
        if family in ("device", "tether", "join"):
            continue  # said once for the whole plan; a join's slip is not a margin
        if p.low is None:
            # Of two strands of which the same is not known it is said once.
            rope = f"{p.key.rsplit('-', 1)[0]} {p.why}" if family == "rope" else ""
            if p.said or rope in blank:
                continue
            blank |= {rope} if rope else set()
            found.add(f"{family}.unknown", "Not checked", p.key, "What {part} holds is unknown",
                      "Not checked: {why}.", words={"part": p.name, "why": p.why})
        elif p.required is not None and p.low.value < p.required.value:
            decides = next((h.name for h in p.points if h.decides), None) or _decides(p, book)
            found.add(f"{family}.weak", "Shortfall", p.key, "{part} holds {low}, needs {required}",
                      "Its low end is {times} its peak of {demand}." + (" What decides: {decides}." if decides else ""), working=p.low.working,
                      numbers={"low": p.low, "required": p.required, "times": p.times, "demand": p.demand},
                      words={"part": p.name, "decides": decides})


def _weakest(parts: list[Part]) -> tuple[Part, ...]:
    known = [p for p in parts if p.low is not None and p.required and p.required.value > 0 and p.where == "riding" and p.key != "join"]
    if len(known) < 2:
        return tuple(parts)
    least = min(p.low.value / p.required.value for p in known)
    first = next(p for p in known if p.low.value / p.required.value == least)
    return tuple(replace(p, weakest=True) if p is first else p for p in parts)
