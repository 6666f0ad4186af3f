"""The load path from rock to rider: what is asked of each part, what it holds, which is weakest."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from reamer.core.anchor import bend_share, equal_leg_share, wet_share
from reamer.core.context import Context
from reamer.core.findings import Edit, Findings, Fix
from reamer.core.hardware import connector_part, sling_part, thin_bar
from reamer.core.loads import Load, asked
from reamer.core.model import Direct, Policies, Post, Ring, Rope, Sling, State, Station, Webbing, Wrap
from reamer.core.part import Holding, Part, decided, given, part, whole
from reamer.core.patterns import Wrapped, retention, wrapped
from reamer.core.redundancy import RIDER, ROCK, by_practice, load_edges, single_points
from reamer.core.rider import rider_parts
from reamer.core.say import Number, Sentence
from reamer.core.systems import Strand
from reamer.core.tables import Row, row
from reamer.core.working import Book, Term, computed, from_row


@dataclass(frozen=True, slots=True)
class LoadPath:
    """The parts in order from rock to rider, and the wrap as computed where there is one."""

    parts: tuple[Part, ...]
    wrap: Wrapped | None
    ring: Ring | None


def load_path(station: Station, hanging: list[Strand], load: Load, ctx: Context, found: Findings, book: Book,
              at: tuple[str | int, ...], tie_edges: tuple[str, ...] = ()) -> LoadPath:
    """Every part from rock to rider with demand and capacity, and the findings about them.

    station: features and state; hanging: its strands; load: the rider; ctx: the plan's context
    found, book: where findings and workings go; at: path of the rig in the plan, for fixes
    tie_edges: how sharp each edge is that the tie itself crosses
    returns: the load path, its weakest part marked [kN]
    Source: see the functions it calls; margins J and P.
    """
    state = station.states[0]
    rig, margin = state.rig, ctx.plan.policies.margin
    if rig.kind == "none":
        found.add("anchor.none", "Not checked", "anchor", "No anchor is chosen", "Strength is not checked until one is.")
        return LoadPath((), None, None)
    features = {f.id: f for f in station.features}
    feature = features.get(rig.post if rig.kind == "wrap" else rig.anchor)
    if feature is None or feature.kind != ("post" if rig.kind == "wrap" else "rated"):
        found.add("anchor.missing", "Not checked", "anchor", "The rig names an anchor that is not there",
                  "Choose what the station is tied to.")
        return LoadPath((), None, ctx.rings.get(rig.ring))
    ring = ctx.rings.get(rig.ring)
    want = asked("anchor", feature.name, load, 1.0, margin, book)
    parts = [part("anchor", feature.name, want, *given("anchor", feature.name, feature.holds, book), book)]
    wrap = None
    if rig.kind == "wrap":
        webbing = ctx.webbing.get(rig.webbing) or ctx.slings.get(rig.webbing)
        if webbing is None:
            found.add("anchor.missing", "Not checked", "webbing", "The webbing is not in the shed",
                      "The rig names webbing that was removed; choose another.")
        else:
            over = bar(rig, ctx)
            wrap = wrapped(rig, feature, webbing, over, station.wet, ctx.plan.policies.retention, book)
            _wrap_findings(wrap, rig, webbing, ctx, found, at)
            if over is not None and isinstance(webbing, Webbing):
                thin_bar(over, webbing.name, webbing.thickness_mm, found)
            parts.append(part("webbing", f"{webbing.name}, {wrap.pattern.key}", want, wrap.low, wrap.high, wrap.why, book, wrap.points, textile=True))
    parts += _links(rig, station.wet, want, ctx, found, book)
    if ring is None:
        found.add("anchor.missing", "Not checked", "ring", "The ring is not in the shed",
                  "The rig names a ring that was removed; choose another.")
    else:
        parts.append(connector_part("ring", ring, rig.ring_loaded, want, found, book))
        for rope in {s.rope.id: s.rope for s in hanging if s.load_share}.values():
            thin_bar(ring, rope.name, rope.diameter_mm, found)
        parts += [_rope_part(s, ring, station.wet, state.system, load, ctx.plan.policies, book) for s in hanging if s.load_share]
        if state.system.kind == "joined" and len(hanging) == 2:
            parts.append(_join_part(state.system, hanging, load, ctx, found, book, at))
    parts += rider_parts(ctx, station.wet, book)
    _part_findings(parts, found)
    parts = _single(parts, state, found)
    _abrasion(parts, feature, tie_edges, found)
    return LoadPath(_weakest(parts), wrap, ring)


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
        thing = ctx.slings.get(link.sling) if link.kind == "sling" else ctx.rings.get(link.ring)
        if thing is None:
            found.add("anchor.missing", "Not checked", key, "A link of this anchor is not in the shed",
                      "The rig names a sling or connector that was removed; choose another.")
        elif link.kind == "sling":
            made.append(sling_part(key, thing, link, wet, want, book))
        else:
            made.append(connector_part(key, thing, link.loaded, want, found, book))
    return made


def _single(parts: list[Part], state: State, found: Findings) -> list[Part]:
    """Mark the single points, accepted or not, and say which nobody has accepted."""
    single = single_points(load_edges(state.rig, [p.key for p in parts if p.where == "riding"]), ROCK, RIDER)
    own = {a.part: a.reason for a in state.accepted}
    made = []
    for p in parts:
        reason = own.get(p.key) or by_practice(p.key, state)
        made.append(replace(p, single=p.key in single, accepted=reason if p.key in single else ""))
        if p.key in single and not reason:
            found.add("part.single", "Caution", p.key, "{part} is a single point",
                      "If it alone fails the rider falls. Accept it with a reason, or rig a second beside it.", words={"part": p.name})
    return made


def _abrasion(parts: list[Part], feature: object, tie_edges: tuple[str, ...], found: Findings) -> None:
    """Textile that is a single point on coarse or sharp rock. Source: P, common practice, no source."""
    rock = isinstance(feature, Post) and feature.surface == "rock"
    for p in parts:

        if not p.single or not p.textile:
            continue
        where = [*([("the post", feature.sharpness)] if rock and p.key == "webbing" else []), *(("an edge it crosses", e) for e in tie_edges)]
        worn = next(((place, e) for place, e in where if e in ("coarse", "sharp")), None)
        if worn:
            found.add("webbing.abrades", "Shortfall", p.key, "{part} lies on {sharpness} rock with nothing beside it",
                      "At {place} it may be cut or worn through, and it alone holds the rider. Tie a redundant pattern, or pad and move it.",
                      words={"part": p.name, "sharpness": worn[1], "place": worn[0]})
        elif any(e == "unknown" for _, e in where):
            found.add("webbing.surface", "Not checked", p.key, "How sharp the rock is under {part} is unknown",
                      "Whether it may be worn through is not checked.", words={"part": p.name})


def _rope_part(s: Strand, ring: Ring, wet: str, system: object, load: Load, policies: Policies, book: Book) -> Part:
    """A ridden strand: where it bends in the ring and, if it is blocked, in its block's knot."""
    key = f"rope.{s.rope.id}-{s.end}"
    blocked = s.load_share == 1.0
    name = f"{s.rope.name} {s.end.upper()}, {'blocked at' if blocked else 'bent in'} the ring"
    want = asked(key, name, load, s.load_share, policies.margin, book)
    knot = getattr(system, "block", "") if blocked else ""
    why = _rope_unknown(s.rope, ring, knot, policies.retention)
    if why:
        return part(key, name, want, None, None, why, book)
    ends: dict[str, list[tuple[str, str, Number]]] = {"low": [], "high": []}
    wet_row = row("materials", "wet." + ("nylon" if s.rope.fibre == "unknown" else s.rope.fibre))
    thin = ring.thickness_mm.value < s.rope.diameter_mm.value
    bend_row = row("materials", "bend.thin" if thin else "bend.rule")
    diameter = Term("d", f"diameter of {s.rope.name}", s.rope.diameter_mm.value, "diameter", "entered")
    for i, end in enumerate(("low", "high")):
        toward = "down" if end == "low" else "up"
        label = s.rope.strength_kn.low_kn if end == "low" else s.rope.strength_kn.high_kn
        kept = wet_share(s.rope.fibre, wet)[i]
        share = bend_share(ring.thickness_mm.value, s.rope.diameter_mm.value)[i]
        base = [Term("S", f"{s.rope.name}, unknotted", label, "force", s.rope.strength_kn.source),
                Term("w", f"{wet_row.name}; gets wet: {wet}", kept, "share", wet_row.cited)]
        bent = [from_row("b0", bend_row, share, "share")] if thin else [
            from_row("c", bend_row, bend_row.low, "share"), Term("D", f"thickness of {ring.name}", ring.thickness_mm.value, "diameter", "entered"), diameter]
        bend_name = f"bent over {ring.name}"
        ends[end].append(("bend", bend_name, book.number(
            f"{key}.bend.{end}", f"{s.rope.name} {bend_name}, {end} end", "S*w*b0" if thin else "S*w*(1 - c/sqrt(D/d))", [*base, *bent],
            label * kept * share, "force", toward)))
        if knot:
            kept_row = _knot_retention(knot, s.rope, end, policies.retention)
            rho = kept_row.low if end == "low" else kept_row.high
            terms, formula, value = [*base, from_row("rho", kept_row, rho, "share")], "S*w*rho", label * kept * rho
            if knot == "figure eight" and s.rope.kind == "low-stretch" and 8 <= s.rope.diameter_mm.value <= 10:
                most = row("ropes", "eight.low-stretch")
                terms += [from_row("q", most, most.high, "ratio"), diameter]
                value, formula = min(value, most.high * s.rope.diameter_mm.value), "min(S*w*rho, q*d)"
            ends[end].append(("knot", f"{knot} of the block", book.number(
                f"{key}.knot.{end}", f"{s.rope.name} in the {knot} of the block, {end} end", formula, terms, value, "force", toward)))
    points = decided([Holding(k, n, low, high) for (k, n, low), (_, _, high) in zip(ends["low"], ends["high"], strict=True)])
    low, high = whole(key, name, points, book)
    return part(key, name, want, low, high, "", book, points if len(points) > 1 else ())


def _rope_unknown(rope: Rope, ring: Ring, knot: str, school: str) -> str:
    """What is not known of a rope at its ring, "" if nothing."""
    for blank, what in ((rope.strength_kn.kind, f"breaking strength of {rope.name}"), (rope.diameter_mm.kind, f"diameter of {rope.name}"),
                        (ring.thickness_mm.kind, f"thickness of {ring.name}")):
        if blank == "unknown":
            return f"the {what} is unknown"
    if knot and not (_knot_retention(knot, rope, "low", school) and _knot_retention(knot, rope, "high", school)):
        fibre = "of unknown fibre" if rope.fibre == "unknown" else f"of {rope.fibre}"
        return f"the tables have no strength for a rope {fibre} in a {knot}"
    return ""


def _join_part(system: object, hanging: list[Strand], load: Load, ctx: Context, found: Findings, book: Book, at: tuple) -> Part:
    """The flat overhand that joins two ropes: where it slips, against its own demand without a margin.
    Source: P, table of pull tests; slip is compared once, not with the margin."""
    through, other = (s.rope for s in hanging)
    name = f"flat overhand joining {through.name} and {other.name}, slips"
    want = asked("join", name, load, 0.5, ctx.plan.policies.margin, book)
    want = replace(want, required=want.demand)
    tails = row("knots", "tail.join")
    if system.tails_m.kind == "known" and system.tails_m.value < tails.high:
        found.add("join.tails", "Caution", "join", "The join's tails are short",
                  "{tails} is planned; a flat overhand may roll, so each tail is at least {least}.",
                  numbers={"tails": Number(system.tails_m.value, "fine length"), "least": Number(tails.high, "fine length", "up")},
                  fix=Fix(Sentence("Leave tails of {least}", {"least": Number(tails.high, "fine length", "up")}),
                          (Edit((*at[:-1], "system", "tails_m"), {"kind": "known", "value": tails.high, "method": "given"}),)))
    seen = row("pull_tests", "flat overhand dynamic")
    if system.slips_kn.kind == "range":
        low, high, why = given("join", name, system.slips_kn, book)
    elif through.kind.startswith("dynamic") and other.kind.startswith("dynamic"):
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
        slip = row("pull_tests", "HMPE ring bend")
        found.add("webbing.knot", "Shortfall", "webbing", "A ring bend does not hold in {webbing}",
                  "HMPE is too slippery for it: a loop so tied slips at {low} to {high}. Use nylon webbing.",
                  numbers={"low": Number(slip.low, "force", "down"), "high": Number(slip.high, "force", "up")},
                  words={"webbing": webbing.name})
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
    known = [p.length_m.value for p in webbing.pieces if p.length_m.kind == "known"]
    if len(known) < len(webbing.pieces) or not webbing.pieces:
        if max(known, default=0) < wrap.cut.value:
            found.add("webbing.cut", "Not checked", "webbing", "How much {webbing} there is is unknown",
                      "This station takes {cut} in one piece.", numbers={"cut": wrap.cut}, words={"webbing": webbing.name})
    elif max(known) < wrap.cut.value:
        found.add("webbing.cut", "Shortfall", "webbing", "No piece of {webbing} is long enough",
                  "This station takes {cut} in one piece; the longest is {stock}.", working=wrap.cut.working,
                  numbers={"cut": wrap.cut, "stock": Number(max(known), "fine length", "down")}, words={"webbing": webbing.name})


def _advice(wrap: Wrapped, rig: Wrap, sewn: bool, policies: Policies, found: Findings, at: tuple) -> None:
    """What costs strength here for nothing. Source: P, common practice, no source."""
    if rig.pattern == "simple wrap, overhand" and not sewn:
        found.add("webbing.overhand", "Caution" if policies.focal == "free" else "Note", "webbing", "The overhand at the focal point is needless",
                  "It adds a weak point, and the webbing can no longer slide at the ring and saws on the post.",
                  fix=Fix(Sentence("Leave the overhand out"), (Edit((*at, "pattern"), "simple wrap"),)))
    elif rig.pattern == "girth hitch":
        better = ("Rig it as a basket", "basket") if sewn else ("Wrap two, pull one", "wrap two, pull one")
        found.add("webbing.girth", "Caution", "webbing", "A girth hitch gives strength away",
                  "A basket of the same sling keeps it." if sewn else "Wrapping two and pulling one takes seconds more and keeps it.",
                  fix=Fix(Sentence(better[0]), (Edit((*at, "pattern"), better[1]),)))
    if any(place == "chosen" for _, place in wrap.pattern.weak_points) and rig.bend_at != "back" and not sewn and policies.bend == "back":
        found.add("webbing.bend", "Note", "webbing", "The bend would keep more at the back of the post",
                  "There the post has taken most of the pull before the knot; in view it is easier to look at.",
                  fix=Fix(Sentence("Put the bend at the back"), (Edit((*at, "bend_at"), "back"),)))


def _knot_retention(knot: str, rope: Rope, end: str, school: str) -> Row | None:
    """The table's row for a knot in a rope, for one end of the range; an unknown fibre is taken at its worst."""
    fibre = rope.fibre if rope.fibre != "unknown" else "HMPE" if end == "low" else "nylon"
    return retention(knot, fibre, school)


def _angle_finding(wrap: Wrapped, found: Findings, at: tuple) -> None:
    degrees = math.degrees(wrap.angle.value)
    note, caution, short = (row("loads", f"angle.{k}").low for k in ("note", "caution", "shortfall"))
    if degrees < note:
        return
    severity = "Shortfall" if degrees >= short else "Caution" if degrees > caution else "Note"
    # At x = r the legs stand at 60°: r/(r + r) is the sine of half the angle. Round up to the centimetre.
    gain = math.ceil(wrap.bench.radius_m * 100) / 100
    fix = None if severity == "Note" else Fix(
        Sentence("Lengthen the tie to {gain}", {"gain": Number(gain, "fine length", "up")}),
        (Edit((*at, "gain_m"), {"kind": "known", "value": gain, "method": "given"}),))
    found.add("webbing.angle", severity, "webbing", "The legs stand at {angle}",
              "Each leg carries {share} of the load. Under {note} is good, over {caution} a caution, {short} or more a "
              "shortfall of practice; a longer tie narrows the angle.",
              numbers={"note": Number(note, "degrees"), "caution": Number(caution, "degrees"), "short": Number(short, "degrees"),
                       "angle": wrap.angle, "share": Number(equal_leg_share(wrap.angle.value), "share", "up")},
              working=wrap.angle.working, fix=fix)


def _part_findings(parts: list[Part], found: Findings) -> None:
    for p in parts:
        family = p.key.split(".")[0]
        if family in ("device", "tether", "join"):
            continue  # said once for the whole plan; a join's slip is not a margin
        if p.low is None:
            if p.key == "webbing" and "HMPE" in p.why:
                continue
            found.add(f"{family}.unknown", "Not checked", p.key, "What {part} holds is unknown",
                      "Not checked: {why}.", words={"part": p.name, "why": p.why})
        elif p.required is not None and p.low.value < p.required.value:
            decides = next((h for h in p.points if h.decides), None)
            found.add(f"{family}.weak", "Shortfall", p.key, "{part} holds {low}, needs {required}",
                      "Its low end is {times} its peak of {demand}." + (" What decides: {decides}." if decides else ""), working=p.low.working,
                      numbers={"low": p.low, "required": p.required, "times": p.times, "demand": p.demand},
                      words={"part": p.name, "decides": decides.name if decides else ""})


def _weakest(parts: list[Part]) -> tuple[Part, ...]:
    known = [p for p in parts if p.low is not None and p.required and p.where == "riding" and p.key != "join"]
    if len(known) < 2:
        return tuple(parts)
    least = min(p.low.value / p.required.value for p in known)
    first = next(p for p in known if p.low.value / p.required.value == least)
    return tuple(replace(p, weakest=p is first) for p in parts)
