"""The parts of each kind of anchor, from the rock to the ring."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from reamer.core.anchor.angle import angle_finding
from reamer.core.anchor.cutting import piece_finding
from reamer.core.anchor.holding import Holds, Named, unheld
from reamer.core.anchor.ice import Ice, ice_findings, ice_geometry
from reamer.core.anchor.legs import leg_holds, material, mixed, tied_by
from reamer.core.anchor.patterns import SEWN, Tie, Wrapped, wrapped
from reamer.core.anchor.several import SeveralView, Solved, solve, widest_rad
from reamer.core.anchor.two_posts import TwoPostsView, two_posts
from reamer.core.answer.codes import Severity
from reamer.core.answer.context import Context
from reamer.core.answer.findings import Fix, Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.load.asked import Asked
from reamer.core.load.features import At, feature_part, thread_cord
from reamer.core.load.hardware import connector_part, sling_part, webbing_part
from reamer.core.load.part import Part, part
from reamer.core.model import Direct, Link, Ring, Several, Sling, TwoPosts, Webbing, Wrap, decided
from reamer.core.rope.bend import thin_bar
from reamer.core.rope.knots import slip_finding, slips_closed
from reamer.core.tables import row


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


NO_ANCHOR = "The rig names an anchor that is not there", "Choose what the station is tied to."
NO_WEBBING = "The webbing is not in the shed", "The rig names webbing that was removed; choose another."


def anchor_parts(rig: Wrap | Direct | Several | TwoPosts, here: At) -> Says[LoadPath | None]:
    """The parts from the rock to what the links hang on, and what is to be said of them.

    rig: how it is tied; here: the station
    returns: the parts, None if something that is named is gone, or of a kind that cannot be rigged so
    Source: see the functions it calls.
    """
    match rig:
        case Wrap():
            return (yield from _wrap_parts(rig, here))
        case Direct():
            return (yield from _direct_parts(rig, here))
        case Several():
            return (yield from _several_parts(rig, here))
        case TwoPosts():
            return (yield from _two_parts(rig, here))


def _wrap_parts(rig: Wrap, here: At) -> Says[LoadPath | None]:
    look, post = here.look, here.look.feature(rig.post)
    if post is None:
        yield from here.missing("anchor", *NO_ANCHOR)
        return None
    if post.kind != "post":
        yield from here.unfit(
            "anchor", post.name, "Webbing goes round a tree, block, horn or pillar; to this it is clipped."
        )
        return None
    want = here.asked(Named("anchor", post.name))
    parts, ring = [(yield from feature_part("anchor", post, want, here))], look.ctx.rings.get(rig.ring)
    webbing = look.ctx.webbing.get(rig.webbing) or look.ctx.slings.get(rig.webbing)
    if webbing is None:
        yield from here.missing("webbing", *NO_WEBBING)
        return LoadPath(tuple(parts), None, ring)
    over = bar(rig, look.ctx)
    tie = Tie(post, webbing, over, look.wet, look.policies.retention)
    given = (rig, post, webbing, over)
    wrap = look.ctx.once(("wrap", look.wet), given, look.book, lambda own: wrapped(rig, tie, own))
    yield from _wrap_findings(look, wrap, rig, webbing)
    untied = isinstance(webbing, Sling) and rig.pattern not in SEWN
    if untied:
        yield from here.unfit(
            "webbing", webbing.name, "A sewn sling cannot be tied: use a basket or a girth hitch, or webbing."
        )
    if over is not None and isinstance(webbing, Webbing):
        yield from thin_bar(over, webbing.name, webbing.thickness_mm)
    of = Named("webbing", f"{webbing.name}, {wrap.pattern.key}", textile=True)
    made = part(of, want, Holds(wrap.low, wrap.high, wrap.why), look.book, wrap.points)
    return LoadPath((*parts, replace(made, said=bool(wrap.forbidden) or untied)), wrap, ring)


def _direct_parts(rig: Direct, here: At) -> Says[LoadPath | None]:
    look, feature = here.look, here.look.feature(rig.anchor)
    if feature is None:
        yield from here.missing("anchor", *NO_ANCHOR)
        return None
    if feature.kind == "post" and rig.ring is not None:
        yield from here.unfit("anchor", feature.name, "A ring does not hang on it by itself: tie webbing round it.")
        return None
    if feature.kind == "rated" and rig.ring is None and feature.what not in ("textile", "thread"):
        why = "Without a ring the rope would run through the metal itself: hang a ring or link in it."
        yield from here.unfit("anchor", feature.name, why)
    want = here.asked(Named("anchor", feature.name))
    made, ring = (yield from feature_part("anchor", feature, want, here)), look.ctx.rings.get(rig.ring or "")
    if feature.kind != "ice thread":
        return LoadPath((made,), ring=ring)
    ice = ice_geometry(feature, look.book)
    yield from ice_findings(feature, ice)
    cord = look.ctx.ropes.get(feature.cord) if feature.cord is not None else None
    if feature.cord is not None and cord is None:
        why = "The thread names a cord that was removed; choose another."
        yield from here.missing("webbing", "The thread's cord is not in the shed", why)
    parts = (made,) if cord is None else (made, (yield from thread_cord(cord, feature.closed_by, want, here)))
    return LoadPath(parts, ring=ring, ice=ice)


def _several_parts(rig: Several, here: At) -> Says[LoadPath | None]:
    look = here.look
    features = [f for leg in rig.legs if (f := look.feature(leg.anchor)) is not None]
    if len(features) < len(rig.legs):
        yield from here.missing("anchor", "A leg names an anchor that is not there", "Choose what each leg is tied to.")
        return None
    solved = solve(look, rig, here.runs, here.catch)
    view = solved.view
    yield from _loop_findings(look, rig, solved)
    points, legs = [], []
    for i, (leg, feature) in enumerate(zip(rig.legs, features, strict=True)):
        share, key = view.legs[i].worst if view else None, f"point.{leg.id}"

        def want(of: Named, share: Number | None = share) -> Asked:
            return Asked(None, None) if share is None else here.asked(of, share)

        points.append((yield from feature_part(key, feature, want(Named(key, feature.name)), here)))
        if feature.kind == "ice thread":
            yield from ice_findings(feature, ice_geometry(feature, look.book))
        thing = material(leg.of, look.ctx)
        of = Named(f"leg.{leg.id}", f"{tied_by(leg, look.ctx)} to {feature.name}", textile=True)
        if isinstance(thing, Ring):
            made = yield from connector_part(look, Named(of.key, thing.name), thing, leg.lies, want(of))
            legs.append(replace(made, name=of.name))
            continue
        made = part(of, want(of), leg_holds(look, leg, rig, of.key), look.book)
        legs.append(replace(made, said=thing is not None and bool(slips_closed(thing, leg.closed_by))))
    if view:
        yield from angle_finding(view.angle, "anchor", "legs.angle", _longer(look, view), shares=True)
        webbing = look.ctx.webbing.get(rig.legs[0].of)
        if view.cut is not None and webbing is not None:
            yield from piece_finding(webbing, view.cut)
    if rig.focal == "sliding":
        # One loop through every point: cut anywhere it is gone, so it is one part, asked for its most loaded leg.
        worst = max(legs, key=lambda p: p.demand.value if p.demand else 0.0)
        legs = [replace(worst, key="loop", name=f"{tied_by(rig.legs[0], look.ctx)}, one loop through every point")]
    return LoadPath((*points, *legs), ring=look.ctx.rings.get(rig.ring), several=view)


def _loop_findings(look: Look, rig: Several, solved: Solved) -> Says[None]:
    """A loop of several materials, a balance that is not known, and knots that slip."""
    if mixed(rig):
        title = "One loop runs through every point, and its legs are of different materials"
        why = "A sliding loop is of one piece and closed by one knot. Choose one, or tie each leg for itself."
        yield say("legs.mixed", "Shortfall", "anchor", title, why)
    elif solved.view is None:
        title, why = "How the points share the load is not known", "Not checked: {why}."
        if solved.short is not None:
            title = "The anchor's sling is {short} too short"
        yield say("legs.unknown", "Not checked", "anchor", title, why, why=solved.why, short=solved.short)
    slipping: dict[tuple[str, str], None] = {}
    for leg in rig.legs:
        thing = material(leg.of, look.ctx)
        if thing is not None and not isinstance(thing, Ring):
            slipping[slips_closed(thing, leg.closed_by), thing.name] = None
    for knot, name in slipping:
        if knot:
            yield from slip_finding(name, knot, "webbing")


def _longer(look: Look, view: SeveralView) -> Fix | None:
    """The focal point further along the load until the legs stand well, if that can be found within five metres."""
    good, place = math.radians(row("loads", "angle.note").low), look.rig_as(Several)
    for step in range(1, 51):
        x, y, z = (f + step / 10 * d for f, d in zip(view.focal, view.direction, strict=True))
        if widest_rad([leg.at for leg in view.legs], (x, y, z)) < good and max(abs(x), abs(y), abs(z)) <= 30:
            edits = (
                place.at(lambda rig: rig.out_m).set(decided(x)),
                place.at(lambda rig: rig.aside_m).set(decided(y)),
                place.at(lambda rig: rig.up_m).set(decided(z)),
            )
            by = Number(step / 10, "fine length")
            return Fix(Sentence("Put the focal point {by} further out", {"by": by}), edits)
    return None


def _two_parts(rig: TwoPosts, here: At) -> Says[LoadPath | None]:
    look, first, second = here.look, here.look.feature(rig.first), here.look.feature(rig.second)
    webbing = look.ctx.webbing.get(rig.webbing)
    if first is None or second is None or rig.first == rig.second:
        yield from here.missing("anchor", "Two posts are wanted", "Choose two different posts of this station.")
        return None
    if first.kind != "post" or second.kind != "post":
        strange = first if first.kind != "post" else second
        yield from here.unfit("anchor", strange.name, "One band goes round two trees, blocks, horns or pillars.")
        return None
    if webbing is None and rig.webbing in look.ctx.slings:
        name = look.ctx.slings[rig.webbing].name
        yield from here.unfit("webbing", name, "One band round two posts is tied of webbing.")
        return None
    if webbing is None:
        yield from here.missing("webbing", *NO_WEBBING)
        return None
    view = two_posts(look, rig, (first, second), webbing, here.catch)
    want = here.asked(Named("webbing", webbing.name))
    of = Named("webbing", f"{webbing.name}, one loop round both posts", textile=True)
    slipping = webbing.fibre == "HMPE"
    if slipping:
        yield from slip_finding(webbing.name, "ring bend", "webbing")
    each = (("point.first", first), ("point.second", second))
    ring = look.ctx.rings.get(rig.ring)
    if isinstance(view, str):
        title, why = "How the posts share the load is not known", "Not checked: {why}."
        yield say("legs.unknown", "Not checked", "anchor", title, why, why=view)
        shares: tuple[Number | None, Number | None] = (None, None)
    else:
        shares = (view.first, view.second)
    posts: list[Part] = []
    for (key, p), share in zip(each, shares, strict=True):
        own = Asked(None, None) if share is None else here.asked(Named(key, p.name), share)
        posts.append((yield from feature_part(key, p, own, here)))
    if isinstance(view, str):
        return LoadPath((*posts, part(of, want, unheld(view), look.book)), ring=ring)
    yield from piece_finding(webbing, view.cut)
    yield from angle_finding(view.angle, "anchor", "legs.angle", None, shares=True)
    band = replace(part(of, want, Holds(view.low, view.high, view.why), look.book), said=slipping)
    return LoadPath((*posts, band), ring=ring, two=view)


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


def link_parts(links: tuple[Link, ...], here: At) -> Says[list[Part]]:
    """What hangs between the anchor and the ring, in order.

    links: of the rig; here: the station
    returns: the parts [kN]
    Source: see the functions it calls.
    """
    look, made = here.look, []
    want = here.asked(Named("links", "what hangs between the anchor and the ring"))
    for link in links:
        key = f"link.{link.id}"
        if link.kind == "webbing" and (webbing := look.ctx.webbing.get(link.webbing)) is not None:
            if webbing.fibre == "HMPE":
                yield from slip_finding(webbing.name, "overhand", key)
            made.append(webbing_part(look, key, webbing, want))
        elif link.kind == "sling" and (sling := look.ctx.slings.get(link.sling)) is not None:
            made.append(sling_part(look, key, sling, link, want))
            if link.use.startswith("basket") and link.angle_deg.kind == "known":
                angle = Number(math.radians(link.angle_deg.value), "angle", "up")
                yield from angle_finding(angle, key, "legs.angle", None)
        elif link.kind == "connector" and (ring := look.ctx.rings.get(link.ring)) is not None:
            made.append((yield from connector_part(look, Named(key, ring.name), ring, link.loaded, want)))
        else:
            why = "The rig names a sling or connector that was removed; choose another."
            yield from here.missing(key, "A link of this anchor is not in the shed", why)
    return made


def _wrap_findings(look: Look, wrap: Wrapped, rig: Wrap, webbing: Webbing | Sling) -> Says[None]:
    """What is to be said of a tie round a post: its knot, its angle, and whether there is enough for it."""
    cut = wrap.cut
    if wrap.forbidden:
        yield from slip_finding(webbing.name, wrap.forbidden, "webbing")
    yield from _advice(look, wrap, rig, isinstance(webbing, Sling))
    if wrap.angle is None or cut is None:
        return
    if wrap.pattern.spread and wrap.bench is not None:
        # At x = r the legs stand at 60°: r/(r + r) is the sine of half the angle. Round up to the centimetre.
        gain = math.ceil(wrap.bench.radius_m * 100) / 100
        edit = look.rig_as(Wrap).at(lambda r: r.gain_m).set(decided(gain))
        fix = Fix(Sentence("Lengthen the tie to {gain}", {"gain": Number(gain, "fine length", "up")}), (edit,))
        yield from angle_finding(wrap.angle, "webbing", "webbing.angle", fix)
    if isinstance(webbing, Webbing):
        yield from piece_finding(webbing, cut)
    elif webbing.length_m.kind == "unknown":
        title, why = "How long {sling} is is unknown", "This tie wants {cut}, laid."
        yield say("webbing.cut", "Not checked", "webbing", title, why, cut=cut, sling=webbing.name)
    elif webbing.length_m.value < cut.value:
        yield say(
            "webbing.cut",
            "Shortfall",
            "webbing",
            "{sling} is {short} too short for this tie",
            "It wants {cut}, laid; the sling is {laid}.",
            sling=webbing.name,
            short=Number(cut.value - webbing.length_m.value, "fine length", "up"),
            cut=cut,
            laid=Number(webbing.length_m.value, "fine length", "down"),
            working=cut,
        )


def _advice(look: Look, wrap: Wrapped, rig: Wrap, sewn: bool) -> Says[None]:
    """What costs strength here for nothing. Source: P, common practice, no source."""
    place = look.rig_as(Wrap)
    pattern = place.at(lambda r: r.pattern)
    if rig.pattern == "simple wrap, overhand" and not sewn:
        title = "The overhand at the focal point is needless"
        why = "It adds a weak point, and the webbing can no longer slide at the ring and saws on the post."
        fix = Fix(Sentence("Leave the overhand out"), (pattern.set("simple wrap"),))
        severity: Severity = "Caution" if look.policies.focal == "free" else "Note"
        yield say("webbing.overhand", severity, "webbing", title, why, fix=fix)
    elif rig.pattern == "girth hitch":
        why = "A basket of the same sling keeps it."
        fix = Fix(Sentence("Rig it as a basket"), (pattern.set("basket"),))
        if not sewn:
            why = "Wrapping two and pulling one takes seconds more and keeps it. Pulled to an acute cinch it loses"
            why += " more, nobody can say how much."
            fix = Fix(Sentence("Wrap two, pull one"), (pattern.set("wrap two, pull one"),))
        yield say("webbing.girth", "Caution", "webbing", "A girth hitch gives strength away", why, fix=fix)
    chosen = any(at == "chosen" for _, at in wrap.pattern.weak_points)
    if chosen and rig.bend_at != "back" and not sewn and look.policies.bend == "back":
        title = "The bend would keep more at the back of the post"
        why = "There the post has taken most of the pull before the knot; in view it is easier to look at."
        fix = Fix(Sentence("Put the bend at the back"), (place.at(lambda r: r.bend_at).set("back"),))
        yield say("webbing.bend", "Note", "webbing", title, why, fix=fix)
