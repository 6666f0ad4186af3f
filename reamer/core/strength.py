"""The load path from rock to rider: what is asked of each part, what it holds, which is weakest."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from reamer.core.anchor import bend_share, equal_leg_share, wet_share
from reamer.core.context import Context
from reamer.core.findings import Edit, Findings, Fix
from reamer.core.model import Capacity, Figure, Margin, Policies, Post, Ring, Rope, State, Station, Webbing, Wrap
from reamer.core.patterns import Wrapped, retention, wrapped
from reamer.core.redundancy import RIDER, ROCK, by_practice, load_edges, single_points
from reamer.core.say import Number, Sentence
from reamer.core.systems import Strand
from reamer.core.tables import Row, row
from reamer.core.working import Book, Term, computed, from_row


@dataclass(frozen=True, slots=True)
class Part:
    """One part of the load path: what it must hold, what it holds low to high, and how often the demand that is.

    ``low`` and ``high`` are None where unknown, and ``why`` says so. ``required`` is what the margin policy asks.
    ``single``: its loss alone drops the rider; ``accepted``: why that is accepted, "" if it is not.
    """

    key: str
    name: str
    demand: Number | None
    required: Number | None
    low: Number | None
    high: Number | None
    times: Number | None
    why: str
    verdict: str
    weakest: bool = False
    single: bool = False
    accepted: str = ""


@dataclass(frozen=True, slots=True)
class Load:
    """The rider's static weight and peak, or why they are unknown."""

    static: Number | None
    peak: Number | None
    why: str


def static_kn(mass_kg: float) -> float:
    """A person's weight.

    W = m·g/1000

    mass_kg: m, with clothes, kit and a wet pack [kg]
    returns: W [kN]
    Source: HB, weight.

    >>> round(static_kn(100), 3)
    0.981
    """
    return mass_kg * row("loads", "g").low / 1000


def peak_kn(static_kn: float) -> float:
    """The peak load a careful rappel may reach.

    peak = max(2·W, 4.0 kN)

    static_kn: W of everyone on that strand [kN]
    returns: the peak [kN]
    Source: P and J, table of loads.

    >>> peak_kn(0.9)
    4.0
    """
    return max(row("loads", "peak.share").high * static_kn, row("loads", "peak.least").high)


def rider_load(ctx: Context, found: Findings, book: Book) -> Load:
    """Static weight and peak of the heaviest rider.

    ctx: the plan's context; found, book: where findings and workings go
    returns: the load [kN], or why it is unknown
    Source: P and J, table of loads.
    """
    if ctx.heaviest is None:
        found.add("load.unknown", "Not checked", "load", "The load is unknown",
                  "Strength is not checked: {why}.", words={"why": ctx.weight_unknown})
        return Load(None, None, ctx.weight_unknown)
    g, mass = row("loads", "g"), ctx.heaviest.mass_kg
    static = book.number("load.static", f"weight of {ctx.heaviest.name}, the heaviest", "m*g/1000",
                         [Term("m", f"mass of {ctx.heaviest.name} with kit", mass.value, "mass", f"entered: {mass.method}"),
                          from_row("g", g, g.low, "share")], static_kn(mass.value), "force", "up")
    share, least = row("loads", "peak.share"), row("loads", "peak.least")
    peak = book.number("load.peak", "peak load of one rider", "max(p*W, P0)",
                       [from_row("p", share, share.high, "ratio"), computed("W", "the rider's weight", static),
                        from_row("P0", least, least.high, "force")], peak_kn(static.value), "force", "up")
    return Load(static, peak, "")


def _asked(key: str, name: str, load: Load, share: float, margin: Margin, book: Book) -> tuple[Number | None, Number | None]:
    """Demand on a part and what the policy asks of it."""
    if load.peak is None or load.static is None:
        return None, None
    share_term = Term("s", f"share of the rider on {name}", share, "share", "HB: statics")
    demand = book.number(f"{key}.demand", f"peak on {name}", "s*P",
                         [share_term, computed("P", "peak of one rider", load.peak)], share * load.peak.value, "force", "up")
    if margin.kind == "static ratio":
        ratio = row("loads", "margin.static")
        required = book.number(f"{key}.required", f"asked of {name}", "N*s*W",
                               [from_row("N", ratio, ratio.high, "ratio"), share_term,
                                computed("W", "weight of one rider", load.static)],
                               ratio.high * share * load.static.value, "force", "up")
    else:
        times = row("loads", "margin.peak")
        term = from_row("N", times, times.high, "ratio") if margin.kind == "peak" else \
            Term("N", "the guide's own margin", margin.times, "ratio", "decided")
        required = book.number(f"{key}.required", f"asked of {name}", "N*D",
                               [term, computed("D", f"peak on {name}", demand)], term.value * demand.value, "force", "up")
    return demand, required


def _part(key: str, name: str, asked: tuple[Number | None, Number | None], low: Number | None, high: Number | None,
          why: str, book: Book) -> Part:
    demand, required = asked
    times = None
    if low is not None and demand is not None:
        times = book.number(f"{key}.times", f"low end of {name} over its peak", "C/D",
                            [computed("C", "low-end capacity", low), computed("D", "peak", demand)],
                            low.value / demand.value, "ratio", "down")
    verdict = "Not checked" if low is None or required is None else \
        "Shortfall" if low.value < required.value else ""
    return Part(key, name, demand, required, low, high, times, why, verdict)


def _given(key: str, name: str, capacity: Capacity, book: Book) -> tuple[Number | None, Number | None, str]:
    if capacity.kind == "unknown":
        return None, None, capacity.why or "nobody has said"
    low = book.number(f"{key}.low", f"{name}, low end", "C", [Term("C", name, capacity.low_kn, "force", capacity.source)],
                      capacity.low_kn, "force", "down")
    high = book.number(f"{key}.high", f"{name}, high end", "C", [Term("C", name, capacity.high_kn, "force", capacity.source)],
                       capacity.high_kn, "force", "up")
    return low, high, ""


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
    asked = _asked("anchor", feature.name, load, 1.0, margin, book)
    parts = [_part("anchor", feature.name, asked, *_given("anchor", feature.name, feature.holds, book), book)]
    wrap = None
    if rig.kind == "wrap":
        webbing = ctx.webbing.get(rig.webbing)
        if webbing is None:
            found.add("anchor.missing", "Not checked", "webbing", "The webbing is not in the shed",
                      "The rig names webbing that was removed; choose another.")
        else:
            wrap = wrapped(rig, feature, webbing, ring, station.wet, ctx.plan.policies.retention, book)
            _wrap_findings(wrap, rig, webbing, found, at)
            parts.append(_part("webbing", f"{webbing.name}, {wrap.pattern.key}", asked, wrap.low, wrap.high, wrap.why, book))
    if ring is None:
        found.add("anchor.missing", "Not checked", "ring", "The ring is not in the shed",
                  "The rig names a ring that was removed; choose another.")
    else:
        parts.append(_part("ring", ring.name, asked, *_given("ring", ring.name, ring.rating_kn, book), book))
        if rig.kind == "wrap" and rig.webbing in ctx.webbing:
            web = ctx.webbing[rig.webbing]
            _thin_bar(ring, web.name, web.thickness_mm, found)
        for rope in {s.rope.id: s.rope for s in hanging if s.load_share}.values():
            _thin_bar(ring, rope.name, rope.diameter_mm, found)
        parts += [_rope_part(s, ring, station.wet, state.system, load, ctx.plan.policies, book) for s in hanging if s.load_share]
    _part_findings(parts, found)
    parts = _single(parts, state, found)
    if wrap is not None:
        _abrasion(parts, feature, tie_edges, found)
    return LoadPath(_weakest(parts), wrap, ring)


def _single(parts: list[Part], state: State, found: Findings) -> list[Part]:
    """Mark the single points, accepted or not, and say which nobody has accepted."""
    single = single_points(load_edges(state.rig, [p.key for p in parts]), ROCK, RIDER)
    own = {a.part: a.reason for a in state.accepted}
    made = []
    for p in parts:
        reason = own.get(p.key) or by_practice(p.key, state)
        made.append(replace(p, single=p.key in single, accepted=reason if p.key in single else ""))
        if p.key in single and not reason:
            found.add("part.single", "Caution", p.key, "{part} is a single point",
                      "If it alone fails the rider falls. Accept it with a reason, or rig a second beside it.", words={"part": p.name})
    return made


def _abrasion(parts: list[Part], post: Post, tie_edges: tuple[str, ...], found: Findings) -> None:
    """Textile that is a single point on coarse or sharp rock. Source: P, common practice, no source."""
    where = [*([("the post", post.sharpness)] if post.surface == "rock" else []), *(("an edge it crosses", e) for e in tie_edges)]
    webbing = next((p for p in parts if p.key == "webbing"), None)
    if webbing is None or not webbing.single:
        return
    for place, sharpness in where:
        if sharpness in ("coarse", "sharp"):
            found.add("webbing.abrades", "Shortfall", "webbing", "The webbing lies on {sharpness} rock with nothing beside it",
                      "At {place} it may be cut or worn through, and it alone holds the rider. Tie a redundant pattern, or pad and move it.",
                      words={"sharpness": sharpness, "place": place})
            return
    if any(sharpness == "unknown" for _, sharpness in where):
        found.add("webbing.surface", "Not checked", "webbing", "How sharp the rock is under the webbing is unknown",
                  "Whether it may be worn through is not checked.")


def _rope_part(s: Strand, ring: Ring, wet: str, system: object, load: Load, policies: Policies, book: Book) -> Part:
    """A ridden strand where it bends in the ring and, if it is blocked, in its block's knot: the lower of the two."""
    key = f"rope.{s.rope.id}-{s.end}"
    blocked = s.load_share == 1.0
    name = f"{s.rope.name} {s.end.upper()}, {'blocked at' if blocked else 'bent in'} the ring"
    asked = _asked(key, name, load, s.load_share, policies.margin, book)
    if s.rope.strength_kn.kind == "unknown" or s.rope.diameter_mm.kind == "unknown" or ring.thickness_mm.kind == "unknown":
        what = f"breaking strength of {s.rope.name}" if s.rope.strength_kn.kind == "unknown" else \
            f"diameter of {s.rope.name}" if s.rope.diameter_mm.kind == "unknown" else f"thickness of {ring.name}"
        return _part(key, name, asked, None, None, f"the {what} is unknown", book)
    knot = getattr(system, "block", "") if blocked else ""
    if knot and not (_knot_retention(knot, s.rope, "low", policies.retention)
                     and _knot_retention(knot, s.rope, "high", policies.retention)):
        fibre = "of unknown fibre" if s.rope.fibre == "unknown" else f"of {s.rope.fibre}"
        return _part(key, name, asked, None, None, f"the tables have no strength for a rope {fibre} in a {knot}", book)
    kept = wet_share(s.rope.fibre, wet)
    wet_row = row("materials", "wet." + ("nylon" if s.rope.fibre == "unknown" else s.rope.fibre))
    share = bend_share(ring.thickness_mm.value, s.rope.diameter_mm.value)
    thin = ring.thickness_mm.value < s.rope.diameter_mm.value
    bend_row = row("materials", "bend.thin" if thin else "bend.rule")
    ends = []
    for i, end in enumerate(("low", "high")):
        label = s.rope.strength_kn.low_kn if end == "low" else s.rope.strength_kn.high_kn
        terms = [Term("S", f"{s.rope.name}, unknotted", label, "force", s.rope.strength_kn.source),
                 Term("w", f"{wet_row.name}; gets wet: {wet}", kept[i], "share", wet_row.cited)]
        if thin:
            formula = "S*w*b0"
            terms.append(from_row("b0", bend_row, share[i], "share"))
        else:
            formula = "S*w*(1 - c/sqrt(D/d))"
            terms += [from_row("c", bend_row, bend_row.low, "share"),
                      Term("D", f"thickness of {ring.name}", ring.thickness_mm.value, "diameter", "entered"),
                      Term("d", f"diameter of {s.rope.name}", s.rope.diameter_mm.value, "diameter", "entered")]
        value = label * kept[i] * share[i]
        if knot:
            kept_row = _knot_retention(knot, s.rope, end, policies.retention)
            rho = kept_row.low if end == "low" else kept_row.high
            terms.append(from_row("rho", kept_row, rho, "share"))
            in_knot, knot_formula = label * kept[i] * rho, "S*w*rho"
            if knot == "figure eight" and s.rope.kind == "low-stretch" and 8 <= s.rope.diameter_mm.value <= 10:
                most = row("ropes", "eight.low-stretch")
                terms.append(from_row("q", most, most.high, "ratio"))
                if thin:
                    terms.append(Term("d", f"diameter of {s.rope.name}", s.rope.diameter_mm.value, "diameter", "entered"))
                in_knot, knot_formula = min(in_knot, most.high * s.rope.diameter_mm.value), "min(S*w*rho, q*d)"
            value, formula = min(value, in_knot), f"min({formula}, {knot_formula})"
        ends.append(book.number(f"{key}.{end}", f"{name}, {end} end", formula, terms, value, "force",
                                "down" if end == "low" else "up"))
    return _part(key, name, asked, ends[0], ends[1], "", book)


def _wrap_findings(wrap: Wrapped, rig: Wrap, webbing: Webbing, found: Findings, at: tuple) -> None:
    if wrap.forbidden:
        slip = row("knots", "slip.ring bend.HMPE")
        found.add("webbing.knot", "Shortfall", "webbing", "A ring bend does not hold in {webbing}",
                  "HMPE is too slippery for it: a loop so tied slips at {low} to {high}. Use nylon webbing.",
                  numbers={"low": Number(slip.low, "force", "down"), "high": Number(slip.high, "force", "up")},
                  words={"webbing": webbing.name})
    _advice(wrap, rig, found, at)
    if wrap.angle is None or wrap.cut is None:
        return
    if wrap.pattern.spread:
        _angle_finding(wrap, found, at)
    if webbing.stock_m.kind == "unknown":
        found.add("webbing.cut", "Not checked", "webbing", "How much {webbing} there is is unknown",
                  "This station takes {cut}.", numbers={"cut": wrap.cut}, words={"webbing": webbing.name})
    elif webbing.stock_m.value < wrap.cut.value:
        found.add("webbing.cut", "Shortfall", "webbing", "Too little {webbing} in the shed",
                  "This station takes {cut}; there is {stock}.", working=wrap.cut.working,
                  numbers={"cut": wrap.cut, "stock": Number(webbing.stock_m.value, "fine length", "down")},
                  words={"webbing": webbing.name})


def _advice(wrap: Wrapped, rig: Wrap, found: Findings, at: tuple) -> None:
    """What costs strength here for nothing. Source: P, common practice, no source."""
    if rig.pattern == "simple wrap, overhand":
        found.add("webbing.overhand", "Caution", "webbing", "The overhand at the focal point is needless",
                  "It adds a weak point, and the webbing can no longer slide at the ring and saws on the post.",
                  fix=Fix(Sentence("Leave the overhand out"), (Edit((*at, "pattern"), "simple wrap"),)))
    elif rig.pattern == "girth hitch":
        found.add("webbing.girth", "Caution", "webbing", "A girth hitch gives strength away",
                  "Wrapping two and pulling one takes seconds more and keeps it.",
                  fix=Fix(Sentence("Wrap two, pull one"), (Edit((*at, "pattern"), "wrap two, pull one"),)))
    if any(place == "chosen" for _, place in wrap.pattern.weak_points) and rig.bend_at != "back":
        found.add("webbing.bend", "Note", "webbing", "The bend would keep more at the back of the post",
                  "There the post has taken most of the pull before the knot; in view it is easier to look at.",
                  fix=Fix(Sentence("Put the bend at the back"), (Edit((*at, "bend_at"), "back"),)))


def _thin_bar(ring: Ring, over: str, thickness: Figure, found: Findings) -> None:
    if ring.thickness_mm.kind == "unknown" or thickness.kind == "unknown" or ring.thickness_mm.value >= thickness.value:
        return
    kept = row("materials", "bend.thin")
    found.add("ring.thin", "Caution", "ring", "{ring} is thinner than {over}",
              "A bar of {bar} under {thick}: the bending rule does not reach there; {low} to {high} of its strength is counted.",
              numbers={"low": Number(kept.low, "share", "down"), "high": Number(kept.high, "share", "up"), "bar": Number(ring.thickness_mm.value, "diameter"), "thick": Number(thickness.value, "diameter")},
              words={"ring": ring.name, "over": over})


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
    for part in parts:
        family = part.key.split(".")[0]
        if part.low is None:
            if part.key == "webbing" and "HMPE" in part.why:
                continue
            found.add(f"{family}.unknown", "Not checked", part.key, "What {part} holds is unknown",
                      "Not checked: {why}.", words={"part": part.name, "why": part.why})
        elif part.required is not None and part.low.value < part.required.value:
            found.add(f"{family}.weak", "Shortfall", part.key, "{part} holds {low}, needs {required}",
                      "Its low end is {times} its peak of {demand}.", working=part.low.working,
                      numbers={"low": part.low, "required": part.required, "times": part.times, "demand": part.demand},
                      words={"part": part.name})


def _weakest(parts: list[Part]) -> tuple[Part, ...]:
    known = [p for p in parts if p.low is not None and p.required]
    if not known or len(known) < 2:
        return tuple(parts)
    least = min(p.low.value / p.required.value for p in known)
    first = next(p for p in known if p.low.value / p.required.value == least)
    return tuple(replace(p, weakest=p is first) for p in parts)
