"""The ring, the ridden strands, the block and the join as parts of the load path."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import cast

from reamer.core.anchor.holding import Holding, Holds, Named, given, unheld, whole
from reamer.core.anchor.holding import decided as decided_of
from reamer.core.answer.findings import Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import TOWARD, Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.load.asked import Load, Weight, asked, load_of, ring_load_kn
from reamer.core.load.features import THREAD, At
from reamer.core.load.hardware import connector_part
from reamer.core.load.joins import join_part
from reamer.core.load.part import Part, part
from reamer.core.model import (
    Bights,
    BlockedCord,
    BlockedSame,
    ElasticRelease,
    Figure,
    Releasable,
    Rig,
    Ring,
    Rope,
    Unknown,
    sure,
)
from reamer.core.rope.bend import bent, thin_bar
from reamer.core.rope.damage import knot_hangs
from reamer.core.rope.friction import slippery
from reamer.core.rope.knots import TIE_OFFS, retention, station_knot
from reamer.core.rope.strands import ISOLATES, Joint, Piece, Strand, at_ring
from reamer.core.rope.wet import wet_term
from reamer.core.tables import ENDS, RangeEnd, Row, row


def lowering(look: Look, load: Load, ropes: list[Rope]) -> Load:
    """With the belayer at the landing the rope runs over the ring, or what stands in its place, which then carries both
    its strands.

    look: the station; load: the rider's; ropes: that are ridden
    returns: the load on the ring [kN]
    Source: HB, capstan rule and the sum of two forces.
    """
    system, rig, rider = look.system, look.rig, load.known
    if system.kind != "lowered" or system.belayer != "below" or rider is None:
        return load
    over = look.feature(rig.anchor) if rig.kind == "direct" and rig.ring is None else None
    key = "ring" if over is None else "textile"
    if over is not None and over.kind == "post":
        key = "bark" if over.surface == "bark" else "smooth rock"
    own = row("friction", key)
    mu = slippery(own, own, *ropes)[0]

    def one(key: str, what: str, n: Number) -> Number:
        terms = [
            computed("T", what, n),
            from_row("mu", mu, mu.low, "share"),
            Term("theta", "wrap of the ring", math.pi, "angle", "HB: both strands hang down"),
        ]
        name, value = f"{what}, lowered over the ring from below", ring_load_kn(n.value, mu.low, math.pi)
        formula = "T*sqrt(1 + exp(-mu*theta)**2 - 2*exp(-mu*theta)*cos(theta))"
        return look.book.number(f"load.lower.{key}", name, formula, terms, value, "force", "up")

    static = one("static", "the rider's weight", rider.static)
    return Load(Weight(static, one("peak", "peak of one rider", rider.peak)))


def rope_parts(rig: Rig, ring: Ring | None, strands: list[Strand], load: Load, here: At) -> Says[list[Part]]:
    """The ring the rope runs through, the ridden strands and their join.

    rig: how it is tied; ring: that it names, if it is there; strands: that hang there; load: the rider's; here: the
    station
    returns: the parts [kN]
    Source: see the functions it calls.
    """
    look, system = here.look, here.look.system
    if rig.kind == "none":
        return []
    if ring is None and rig.ring is not None:
        yield from here.missing(
            "ring", "The ring is not in the shed", "The rig names a ring that was removed; choose another."
        )
        return []
    parts, margin, ridden = [], look.policies.margin, [s for s in strands if s.load_share]
    if ring is not None:
        of = Named("ring", ring.name)
        want = asked(of, lowering(look, load, here.ridden), 1.0, margin, look.book)
        parts.append((yield from connector_part(look, of, ring, rig.ring_loaded, want)))
        for rope in {s.rope.id: s.rope for s in ridden}.values():
            yield from thin_bar(ring, rope.name, rope.diameter_mm)
    parts += _block_part(look, load)
    over = ring or _thread_bar(rig, look)
    for s in ridden:
        made = _rope_part(look, s, over, _strand_load(look, load, s.load_share))
        parts.append(made)
        counted = s.rope.fibre == "unknown" and made.low is not None
        if counted and ((s.load_share == 1.0 and station_knot(system)) or knot_hangs(s.single[0])):
            yield from _fibre_unknown(look, s.rope)
    if system.kind == "joined" and len(strands) == 2:
        joint, top = at_ring(system, strands[1].rope), strands[0].rope
        parts.append((yield from join_part(look, top, joint, 0.5, _strand_load(look, load, 0.5))))
    for s in strands:
        for joint, above, piece in zip(s.joints, s.pieces, s.pieces[1:], strict=False):
            parts += yield from _joint_parts(look, s, (joint, above, piece), _strand_load(look, load, 1.0))
    return parts


def _joint_parts(look: Look, s: Strand, of: tuple[Joint, Piece, Piece], load: Load) -> Says[list[Part]]:
    """A rope in which a strand goes on, and the knot that joins it: whoever rides or is lowered that far hangs on them.

    s: the strand; of: the joint, the rope above and the rope below it
    """
    joint, above, _ = of
    reserve = s.role == "reserve"
    made = [(yield from join_part(look, above.rope, joint, 1.0, load)), (yield from _piece_part(look, s, of, load))]
    return [replace(p, where="in reserve") for p in made] if reserve else made


def _piece_part(look: Look, s: Strand, of: tuple[Joint, Piece, Piece], load: Load) -> Says[Part]:
    """A rope that hangs in knots alone: of those that are there, the one that keeps least."""
    (joint, _, piece), school, rope = of, look.policies.retention, of[2].rope
    reserve = s.role == "reserve"
    end, how = (joint.tied_end, "in reserve") if reserve else (piece.end, "tied on")
    named = Named(f"rope.{rope.id}-{end}", f"{rope.name} {end.upper()}, {how}")
    # A reserve that is let out so far comes to hang in the tie-off.
    tied = (*piece.knots, look.system.tie_off) if isinstance(look.system, Releasable) and reserve else piece.knots
    alone = replace(s, rope=rope, end=piece.end, joints=())
    knots = (*tied, ISOLATES) if knot_hangs(alone) else tied
    want = asked(named, load, 1.0, look.policies.margin, look.book)
    why = (
        "" if rope.strength_kn.kind == "range" or by_rule(rope) else f"the breaking strength of {rope.name} is unknown"
    )
    strange = next((k for k in knots if _knot_retention(k, rope, school) is None), None)
    if not why and strange is not None:
        fibre = "of unknown fibre" if rope.fibre == "unknown" else f"of {rope.fibre}"
        why = f"the tables have no strength for a rope {fibre} in a {strange}"
    if why:
        return part(named, want, unheld(why), look.book)
    if rope.fibre == "unknown":
        yield from _fibre_unknown(look, rope)
    points = decided_of([_in_knot(look, named.key, rope, knot) for knot in knots])
    return part(named, want, Holds(*whole(named, points, look.book)), look.book, points if len(points) > 1 else ())


def _in_knot(look: Look, key: str, rope: Rope, knot: str) -> Holding:
    """What a rope holds in one knot."""
    kept = _knot_retention(knot, rope, look.policies.retention)
    assert kept is not None, "a knot without a row is said before it is used"

    def one(end: RangeEnd) -> Number:
        label, term = unknotted(rope, key, end, look.book)
        wet, rho = wet_term(rope.fibre, look.kit_wet, end), kept.at(end)
        terms, value = [term, wet, from_row("rho", kept, rho, "share")], label * wet.value * rho
        what = f"{rope.name} in the {knot}, {end} end"
        return look.book.number(f"{key}.{knot}.{end}", what, "S*w*rho", terms, value, "force", TOWARD[end])

    return Holding(knot, knot, one("low"), one("high"))


def _fibre_unknown(look: Look, rope: Rope) -> Says[None]:
    title = "What {rope} is made of is unknown"
    why = "Its knot is counted as in nylon; in HMPE it would keep far less."
    yield say("rope.unknown", "Not checked", f"rope.{rope.id}", title, why, rope=rope.name)


def _strand_load(look: Look, load: Load, share: float) -> Load:
    """What a strand gets that is asked for a share of the load, where two ride at once, each on their own: all of the
    heavier one."""
    if look.state.serves == "last" or look.station.together != "own strands" or look.ctx.heaviest is None:
        return load
    alone = load_of(look.ctx.heaviest, "load.alone", look.book)
    if share == 1.0:
        return Load(alone)

    def twice(key: str, what: str, n: Number) -> Number:
        name, terms = f"{what}, on a strand of their own", [computed("X", what, n)]
        return look.book.number(f"load.strand.{key}", name, "2*X", terms, 2 * n.value, "force", "up")

    # Strands are asked for half of it each.
    static = twice("static", "the heavier rider's weight", alone.static)
    return Load(Weight(static, twice("peak", "the heavier rider's peak", alone.peak)))


def _block_part(look: Look, load: Load) -> list[Part]:
    """The block, the chain of bights or the device at the station, where somebody says what it holds."""
    match look.system:
        case BlockedSame() | BlockedCord():
            name, holds = f"{look.system.block} block on its ring", look.system.block_holds
            at: tuple[str, ...] = ("{system}/block_holds",)
        case Bights():
            name, holds, at = "chain of bights", look.system.block_holds, ("{system}/block_holds",)
        case ElasticRelease():
            device = look.device(look.system.device)
            if device is None:
                return []
            name, holds, at = "the device", device.rating_kn, typed(device, "rating_kn")
        case _:
            return []
    if holds.kind == "unknown":
        return []
    of = Named("block", name)
    return [part(of, asked(of, load, 1.0, look.policies.margin, look.book), given(of, holds, at, look.book), look.book)]


def _thread_bar(rig: Rig, look: Look) -> Ring:
    """What a rope bends over where there is no ring: a tree, the thread's cord as a bar of its thickness, or ice, of
    which nothing is known."""
    feature, blank = look.feature(rig.anchor) if rig.kind == "direct" else None, Unknown(kind="unknown")
    name, thick = "the thread", cast(Figure, Unknown(kind="unknown", why="the rope runs through ice or rock"))
    if feature is not None and feature.kind == "post":
        name, thick = feature.name, feature.girth_m
        if thick.kind == "known":
            # A post is far thicker than any bar in the table; counted as one of 60 mm, the thickest that can be.
            thick = thick.model_copy(update={"value": min(60.0, thick.value / math.pi * 1000)})
    cord = look.ctx.ropes.get(feature.cord or "") if feature is not None and feature.kind == "ice thread" else None
    if cord is not None:
        name, thick = cord.name, cord.diameter_mm
    return Ring(id=THREAD, name=name, thickness_mm=thick, opening_mm=blank, rating_kn=blank)


def _bar_at(look: Look) -> tuple[str, ...]:
    """Where the thickness of what stands in a ring's place was typed: the girth of a post, the diameter of a cord."""
    feature = look.feature(look.rig.anchor) if look.rig.kind == "direct" else None
    if feature is None or feature.kind == "rated":
        return ()
    cord = look.ctx.ropes.get(feature.cord or "") if feature.kind == "ice thread" else None
    return typed(feature, "girth_m") if cord is None else typed(cord, "diameter_mm")


HELD = {
    "releasable": "tied off at",
    "elastic-release device": "held at",
    "alternating bights": "tied at",
    "lowered": "running at",
}


def _rope_part(look: Look, s: Strand, ring: Ring, load: Load) -> Part:
    """A ride strand: where it bends in the ring and, if it is blocked, in its block's knot."""
    system, blocked, school = look.system, s.load_share == 1.0, look.policies.retention
    # A hitch that the tables know nothing of is judged by its own pull tests, as the block.
    knot = station_knot(system) if blocked else ""
    knot = "" if knot == "stone hitch" else knot
    held = HELD.get(system.kind, "blocked at") if blocked else "bent in"
    where = "thread" if ring.id == THREAD else "ring"
    of = Named(f"rope.{s.key}", f"{s.rope.name} {s.end.upper()}, {held} the {where}")
    want = asked(of, load, s.load_share, look.policies.margin, look.book)
    why = "the tables have no strength for a rope in a chain of bights" if system.kind == "alternating bights" else ""
    why = why or _rope_unknown(s.rope, ring, knot, school)
    knots = [*s.pieces[0].knots, *([ISOLATES] if knot_hangs(s.single[0]) else [])]
    strange = next((k for k in knots if _knot_retention(k, s.rope, school) is None), None)
    if not why and strange is not None:
        why = f"the tables have no strength for a rope of {s.rope.fibre} in a {strange}"
    if why:
        return part(of, want, unheld(why), look.book)
    low, high = (_places_at(end, look, s, ring, knot) for end in ENDS)
    each = [Holding(k, n, a, b) for (k, n, a), (_, _, b) in zip(low, high, strict=True)]
    points = decided_of([*each, *(_in_knot(look, of.key, s.rope, k) for k in knots)])
    return part(of, want, Holds(*whole(of, points, look.book)), look.book, points if len(points) > 1 else ())


def _places_at(end: RangeEnd, look: Look, s: Strand, ring: Ring, knot: str) -> list[tuple[str, str, Number]]:
    """The places in a ride strand at one end of their range: key, name, what each holds."""
    rope, key, book = s.rope, f"rope.{s.key}", look.book
    d, (label, label_term) = sure(rope.diameter_mm).value, unknotted(rope, key, end, book)
    wet = wet_term(rope.fibre, look.kit_wet, end)
    share, bend_formula, bend_terms = bent(ring, rope, d, end, _bar_at(look) if ring.id == THREAD else None)
    base, name = [label_term, wet], f"bent over {ring.name}"
    what, value = f"{rope.name} {name}, {end} end", label * wet.value * share
    formula, terms = f"S*w*({bend_formula})", [*base, *bend_terms]
    bend = book.number(f"{key}.bend.{end}", what, formula, terms, value, "force", TOWARD[end])
    made = [("bend", name, bend)]
    kept = _knot_retention(knot, rope, look.policies.retention) if knot else None
    if kept is None:
        return made
    rho = kept.at(end)
    terms, formula, value = [*base, from_row("rho", kept, rho, "share")], "S*w*rho", label * wet.value * rho
    if knot in ("figure eight", *TIE_OFFS) and rope.kind == "low-stretch" and 8 <= d <= 10:
        most, diameter = (
            row("ropes", "eight.low-stretch"),
            Term("d", f"diameter of {rope.name}", d, "diameter", "entered", typed=typed(rope, "diameter_mm")),
        )
        terms += [from_row("q", most, most.high, "ratio"), diameter]
        value, formula = min(value, most.high * d), "min(S*w*rho, q*d)"
        if rope.strength_kn.kind == "unknown":
            q = most.at(end)
            terms, value, formula = [wet, from_row("q", most, q, "ratio"), diameter], q * d * wet.value, "q*d*w"
    at = {"elastic-release device": " at the device", "lowered": " at the tie-in"}.get(
        look.system.kind, " of the block"
    )
    name = knot if knot in TIE_OFFS else f"{knot}{at}"
    what = f"{rope.name} in the {name}, {end} end"
    return [*made, ("knot", name, book.number(f"{key}.knot.{end}", what, formula, terms, value, "force", TOWARD[end]))]


def by_rule(rope: Rope) -> bool:
    """Whether a rope without a label is counted by the rule for low-stretch canyon ropes.

    rope: any
    returns: true where it is
    Source: P, table of ropes.
    """
    d = rope.diameter_mm.known
    return (
        rope.kind == "low-stretch"
        and rope.strength_kn.kind == "unknown"
        and d is not None
        and 8 <= d <= 10
        and rope.fibre in ("nylon", "polyester", "polypropylene")
    )


def unknotted(rope: Rope, key: str, end: RangeEnd, book: Book) -> tuple[float, Term]:
    """A rope's unknotted strength: its label's, or what it must have to hold at a figure eight what ropes of its kind
    are known to.

    rope: of known strength, or by the rule; key: the workings' prefix; end: of the range; book: how numbers are made
    returns: the strength [kN], and as a term
    Source: P, table of ropes.
    """
    own, name = rope.strength_kn, f"{rope.name}, unknotted"
    if own.kind == "range":
        return own.at(end), Term("S", name, own.at(end), "force", own.source, typed=typed(rope, "strength_kn"))
    rule, eight = row("ropes", "eight.low-stretch"), row("knots", "retention.figure eight.nylon")
    d, (q, rho) = sure(rope.diameter_mm).value, (rule.low, eight.high) if end == "low" else (rule.high, eight.low)
    terms = [
        from_row("q", rule, q, "ratio"),
        Term("d", f"diameter of {rope.name}", d, "diameter", "entered", typed=typed(rope, "diameter_mm")),
        from_row("rho", eight, rho, "share"),
    ]
    value, what = q * d / rho, f"{name}, from what its kind holds at a figure eight, {end} end"
    number = book.number(f"{key}.unknotted.{end}", what, "q*d/rho", terms, value, "force", TOWARD[end])
    return value, computed("S", name, number)


def _rope_unknown(rope: Rope, ring: Ring, knot: str, school: str) -> str:
    """What is not known of a rope at its ring, "" if nothing."""
    if ring.id == THREAD and ring.thickness_mm.kind == "unknown":
        return "how the rope bends in ice or rock is unknown"
    for blank, what in (
        (rope.strength_kn.kind == "unknown" and not by_rule(rope), f"breaking strength of {rope.name}"),
        (rope.diameter_mm.kind == "unknown", f"diameter of {rope.name}"),
        (ring.thickness_mm.kind == "unknown", f"thickness of {ring.name}"),
    ):
        if blank:
            return f"the {what} is unknown"
    if knot and not _knot_retention(knot, rope, school):
        fibre = "of unknown fibre" if rope.fibre == "unknown" else f"of {rope.fibre}"
        return f"the tables have no strength for a rope {fibre} in a {knot}"
    return ""


def _knot_retention(knot: str, rope: Rope, school: str) -> Row | None:
    """The table's row for a knot in a rope; one of unknown fibre is counted as nylon, and that is said."""
    return retention(knot, rope.fibre if rope.fibre != "unknown" else "nylon", school)
