"""The rope systems: which strands hang from the ring, and how long each is."""

from __future__ import annotations

from dataclasses import replace

from reamer.core.answer.findings import Fix, Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.working import Term, computed, from_row
from reamer.core.model import (
    Bights,
    BlockedCord,
    BlockedSame,
    Doubled,
    ElasticRelease,
    EndRef,
    Joined,
    Lowered,
    NoSystem,
    Releasable,
    Rigged,
    Rope,
    RopeEnd,
    TiedOn,
    Unknown,
)
from reamer.core.plan.limits import limits_m
from reamer.core.rope.length import error_term, sound_piece, stopper_m
from reamer.core.rope.strands import Joint, Role, Strand, other_end, ropes_of, tied_ends, tied_on
from reamer.core.rope.takes import (
    Knot,
    block_knots,
    cord_ridden,
    half,
    join_knots,
    joined_length,
    knots_of,
    less_knots,
    middle_lost,
    whole_length,
)
from reamer.core.tables import row


def strands(look: Look) -> Says[list[Strand]]:
    """The strands of a station's rope system, with findings about the system itself.

    look: the station
    returns: the strands, none if the system cannot be read off the shed
    Source: P, common practice, no source.
    """
    system = look.system
    if isinstance(system, NoSystem):
        why = "Reach and the rope's load are not checked until one is."
        yield say("system.none", "Not checked", "system", "No rope system is chosen", why)
        return []
    if not (yield from _there(look, system)):
        return []
    made = yield from _strands_of(look, system)
    more = tied_on(system)
    if more is not None and made:
        lengthened: list[Strand] = []
        for s in made:
            lengthened.append((yield from _lengthened(look, s, system, more)) if s.role == "ride" else s)
        made = lengthened
    yield from _outside(look, made)
    yield from _shortest(made)
    yield from _stoppers(look, system, {(s.foot.rope.id, s.foot.end) for s in made if s.role != "reserve"})
    return made


def _there(look: Look, system: Rigged) -> Says[bool]:
    """Whether every rope that a system names is there, once; a device that is gone is said too."""
    named, ropes = ropes_of(system), look.ctx.ropes
    if any(n not in ropes for n in named):
        said = "The system names a rope that was removed; choose another."
        yield say("system.missing", "Not checked", "system", "A rope of this system is not in the shed", said)
        return False
    if len(set(named)) < len(named):
        title, why = "{rope} is used twice at once", "A system of two ropes needs two."
        yield say("system.twice", "Shortfall", "system", title, why, rope=ropes[named[0]].name)
        return False
    if isinstance(system, ElasticRelease) and look.device(system.device) is None:
        said = "The system names a device that was removed; choose another."
        yield say("system.missing", "Not checked", "system", "The device of this system is not in the shed", said)
    return True


def _strands_of(look: Look, system: Rigged) -> Says[list[Strand]]:
    match system:
        case Doubled():
            return (yield from _doubled(look, system))
        case Joined():
            return (yield from _joined(look, system))
        case BlockedSame():
            rope = yield from _ridden(look, system.rope)
            return (yield from _split(look, system, rope, block_knots(system), ("left for the pull strand", "pull")))
        case BlockedCord():
            return (yield from _blocked_cord(look, system))
        case Releasable():
            return (yield from _releasable(look, system))
        case ElasticRelease():
            knot = Knot("knot at the device", "rope used.figure eight")
            rope = yield from _ridden(look, system.rope)
            return [(yield from _single(look, system, rope, (system.ridden_end, "ride"), [knot]))]
        case Bights():
            return (yield from _bights(look, system))
        case Lowered():
            knot = Knot("tie-in", "rope used.figure eight")
            rope = yield from _ridden(look, system.rope)
            return [(yield from _single(look, system, rope, (system.end, "lower"), [knot]))]


def _stoppers(look: Look, system: Rigged, hanging: set[tuple[str, RopeEnd]]) -> Says[None]:
    """Stoppers that are planned in ends which do not hang here."""
    for ref in system.stoppers:
        if (ref.rope, ref.end) not in hanging:
            rope = look.ctx.ropes.get(ref.rope)
            yield say(
                "system.ends",
                "Caution",
                "system",
                "A stopper is planned in an end that does not hang here",
                "End {end} of {rope} is not one of this station's strands.",
                end=ref.end.upper(),
                rope=rope.name if rope else "a rope that is not in the shed",
            )


def _lengthened(look: Look, s: Strand, system: Rigged, more: TiedOn) -> Says[Strand]:
    """A ride strand with a second rope tied to its lower end."""
    rope, tails = look.ctx.ropes[more.rope], more.tails_m
    yield from cord_ridden(rope)
    whole, knotted = (yield from whole_length(look, rope)), EndRef(rope=more.rope, end=more.end) in system.stoppers
    blank = next((r.name for r in (s.rope, rope) if r.diameter_mm.kind == "unknown"), "")
    why = s.why

    def joint(at: Number | None) -> Joint:
        slips = more.slips_kn, ("{system}/tied_on/slips_kn",)
        return Joint(at, "join", more.knot, *slips, rope, other_end(more.end))

    if not why and isinstance(whole, Unknown):
        why = whole.why
    elif not why and blank:
        why = f"the diameter of {blank} is unknown, so what the join takes is too"
    elif not why and tails.kind == "unknown":
        why = "how long the join's tails are is not decided"
    if why or s.low is None or s.high is None or isinstance(whole, Unknown) or tails.kind == "unknown":
        return replace(s, low=None, high=None, why=why, knotted=knotted, joints=(joint(None),))
    tail = Term("t", "tail of the join", tails.value, "fine length", "decided", typed=("{system}/tied_on/tails_m",))

    def both(side: str, one: Number, two: Number) -> Number:
        return joined_length(
            f"strand.{s.key}.tied.{side}",
            f"{s.rope.name} with {rope.name} tied on, {side} end",
            ((f"{s.rope.name} {s.end.upper()}", one), (f"real length of {rope.name}", two)),
            (s.rope, rope),
            knots_of(more.knot),
            tail,
            look.book,
        )

    low, high = both("low", s.low, whole[0]), both("high", s.high, whole[1])
    return replace(s, low=low, high=high, knotted=knotted, joints=(joint(s.low),))


def _outside(look: Look, made: list[Strand]) -> Says[None]:
    """An end that hangs or is tied past the rope's damage: rope that is not to be used hangs there, and riders come
    onto it or ride over the damage."""
    hanging = [(s.rope, s.end, "") for s in made if s.role != "reserve"]
    hanging += [(p.rope, p.end, "") for s in made if s.role != "reserve" for p in s.pieces[1:]]
    ropes = look.ctx.ropes
    tied = [(ropes[e.rope], e.end, how) for e, how in tied_ends(look.system) if e.rope in ropes]
    for rope, end, how in {(rope.id, end): (rope, end, how) for rope, end, how in [*tied, *hanging]}.values():
        at = sound_piece(rope).past(end)
        if at is None or at.at_m.kind == "unknown":
            continue
        title, why = (
            "End {end} of {rope} lies past its damage",
            "What hangs below the damage at {at} is not to be used, and a stopper in that end is too far down. "
            "Cut the rope there, hang it by its sound end, or isolate the damage with a knot that everyone passes.",
        )
        if how:
            title = f"{{rope}} is {how} by end {{end}}, past its damage"
            why = (
                "The damage at {at} lies between that knot and what is counted of the rope. Tie it by its sound end,"
                " cut it there and say so, or isolate the damage with a knot that everyone passes."
            )
        place = Number(at.at_m.value, "length")
        yield say("rope.outside", "Shortfall", f"rope.{rope.id}", title, why, rope=rope.name, end=end.upper(), at=place)


def _shortest(made: list[Strand]) -> Says[None]:
    """A strand that its own end knot, or the station's knots, use up."""
    for s in made:
        if s.low is None or s.role == "reserve":
            continue
        d = s.rope.diameter_mm.known
        takes = stopper_m(d) if s.knotted and d is not None else 0.0
        if s.low.value <= takes:
            yield say(
                "rope.too-short",
                "Shortfall",
                f"rope.{s.rope.id}",
                "{rope} {end} is shorter than its own knots",
                "What is left of it hangs {low} from the station; its end knot takes {takes}.",
                rope=s.rope.name,
                end=s.end.upper(),
                low=Number(max(0.0, s.low.value), "length", "down", s.low.working, s.low.behind),
                takes=Number(takes, "fine length", "up"),
                working=s.low,
            )


def _knotted(system: Rigged, rope: Rope, end: RopeEnd) -> bool:
    return EndRef(rope=rope.id, end=end) in system.stoppers


def _ridden(look: Look, rope_id: str) -> Says[Rope]:
    """A rope that is ridden: a pull cord is not."""
    rope = look.ctx.ropes[rope_id]
    yield from cord_ridden(rope)
    return rope


def _doubled(look: Look, system: Doubled) -> Says[list[Strand]]:
    rope = yield from _ridden(look, system.rope)
    whole = yield from whole_length(look, rope)
    why = whole.why if isinstance(whole, Unknown) else (yield from middle_lost(look, rope, system))
    made = []
    ends: tuple[RopeEnd, RopeEnd] = ("a", "b")
    for end in ends:
        low = high = None
        if not why and not isinstance(whole, Unknown):
            low, high = half(rope, end, system.middle_by, whole, look.book)
        # Until the pull, either side may be the one that travels: each must be long enough for both.
        made.append(Strand(rope, end, "ride and pull", 0.5, low, high, why, _knotted(system, rope, end)))
    return sorted(made, key=lambda s: s.end == system.pulled_end)


def _joined(look: Look, system: Joined) -> Says[list[Strand]]:
    through, other = (yield from _ridden(look, system.through)), (yield from _ridden(look, system.other))
    yield from _thin_through(look, system, through, other)

    def one(rope: Rope, end: RopeEnd, role: Role) -> Says[Strand]:
        whole = yield from whole_length(look, rope)
        low, high, why = less_knots(rope, whole, join_knots(system), end, look.book)
        return Strand(rope, end, role, 0.5, low, high, why, _knotted(system, rope, end))

    pulled = system.pulled == "other"
    return [
        (yield from one(through, system.through_end, "ride" if pulled else "ride and pull")),
        (yield from one(other, system.other_end, "ride and pull" if pulled else "ride")),
    ]


def _thin_through(look: Look, system: Joined, through: Rope, other: Rope) -> Says[None]:
    """The thicker rope goes through the ring. Source: P, common practice, no source; from how much on J."""
    thin, thick = through.diameter_mm.known, other.diameter_mm.known
    if thin is None or thick is None:
        yield say(
            "system.thin-through",
            "Not checked",
            "system",
            "Which of the two ropes is the thicker is unknown",
            "The thicker goes through the ring. Not checked: the diameter of {rope} is unknown.",
            rope=(through if thin is None else other).name,
        )
        return
    if thick - thin <= 1e-9:
        return
    place = look.system_as(Joined)
    swap = Fix(
        Sentence("Put {rope} through the ring", {}, {"rope": other.name}),
        (
            place.at(lambda s: s.through).set(other.id),
            place.at(lambda s: s.through_end).set(system.other_end),
            place.at(lambda s: s.other).set(through.id),
            place.at(lambda s: s.other_end).set(system.through_end),
        ),
    )
    yield say(
        "system.thin-through",
        "Shortfall" if thick - thin >= row("knots", "thin.through").low - 1e-9 else "Note",
        "system",
        "The thinner rope runs through the ring",
        "{thin} is {d1}, {thick} is {d2}. The thick strand grips more in the device and creeps down, the "
        "join travels with the rider and the thin end is drawn up. The thicker goes through the ring.",
        d1=Number(thin, "diameter"),
        d2=Number(thick, "diameter"),
        thin=through.name,
        thick=other.name,
        fix=swap,
    )


def _split(
    look: Look, system: BlockedSame | Releasable, rope: Rope, knots: list[Knot], left: tuple[str, Role]
) -> Says[list[Strand]]:
    """One rope parted at the station: a ride strand of a given length, and the rest, which is so called and has that
    role."""
    ridden, rest, given = system.ridden_end, other_end(system.ridden_end), system.ride_m
    whole = yield from whole_length(look, rope)
    why = "how much rope the ride strand gets is unknown"
    ride: list[Number | None] = [None, None]
    over: list[Number | None] = [None, None]
    if given.kind == "known":
        low, high, why = less_knots(rope, whole, knots, rest, look.book)
        term = Term(
            "l",
            "rope given to the ride strand",
            given.value,
            "length",
            f"decided: {given.method}",
            typed=("{system}/ride_m",),
        )
        least, most = limits_m(given)
        for i, (side, part, limit, other) in enumerate((("low", low, least, most), ("high", high, most, least))):
            if part is None:
                continue
            past, toward = computed("K", "rope past the station's knots", part), part.toward
            # Nobody can give a strand more rope than there is past the station's knots.
            ride[i] = look.book.number(
                f"strand.{rope.id}-{ridden}.{side}",
                f"{rope.name} given to the ride strand, {side} end",
                "min(l + e, K)",
                [term, error_term("e", given, limit), past],
                min(limit, part.value),
                "length",
                toward,
            )
            # At its longest the ride strand takes most, so the rest is at its shortest.
            over[i] = look.book.number(
                f"strand.{rope.id}-{rest}.rest.{side}",
                f"{rope.name} {left[0]}, {side} end",
                "K - (l + e)",
                [past, term, error_term("e", given, other)],
                part.value - other,
                "length",
                toward,
            )
    return [
        Strand(rope, ridden, "ride", 1.0, ride[0], ride[1], why, _knotted(system, rope, ridden)),
        Strand(rope, rest, left[1], 0.0, over[0], over[1], why, _knotted(system, rope, rest)),
    ]


def _releasable(look: Look, system: Releasable) -> Says[list[Strand]]:
    rope = yield from _ridden(look, system.rope)
    tie_off = Knot("tie-off", f"rope used.{system.tie_off}")
    ride, reserve = yield from _split(look, system, rope, [tie_off], ("in reserve past the tie-off", "reserve"))
    if system.reserve_rope is None:
        return [ride, reserve]

    def joint(at: Number | None) -> Joint:
        slips = Unknown(kind="unknown", why="no pull test of the party's own")
        return Joint(at, "join.reserve", system.reserve_knot, slips, (), more, system.reserve_end)

    more = yield from _ridden(look, system.reserve_rope)
    if reserve.low is None or reserve.high is None:
        return [ride, replace(reserve, joints=(joint(None),))]
    whole = yield from whole_length(look, more)
    blank = next((r for r in (more, rope) if r.diameter_mm.kind == "unknown"), None)
    if isinstance(whole, Unknown) or blank is not None:
        why = whole.why if isinstance(whole, Unknown) else f"the diameter of {blank.name if blank else ''} is unknown"
        return [ride, replace(reserve, low=None, high=None, why=why, joints=(joint(None),))]
    tail = row("knots", "tail.join")

    def both(side: str, one: Number, two: Number) -> Number:
        return joined_length(
            f"strand.{reserve.key}.joined.{side}",
            f"reserve with {more.name} joined on, {side} end",
            ((f"{rope.name} in reserve", one), (f"real length of {more.name}", two)),
            (rope, more),
            knots_of(system.reserve_knot),
            from_row("t", tail, tail.high, "fine length"),
            look.book,
        )

    low, high = both("low", reserve.low, whole[0]), both("high", reserve.high, whole[1])
    return [ride, replace(reserve, low=low, high=high, joints=(joint(reserve.low),))]


def _single(look: Look, system: Rigged, rope: Rope, as_: tuple[RopeEnd, Role], knots: list[Knot]) -> Says[Strand]:
    """One strand of a whole rope, past the station's knots; its end, and its role."""
    end, role = as_
    low, high, why = less_knots(rope, (yield from whole_length(look, rope)), knots, end, look.book)
    share = 1.0 if role in ("ride", "lower") else 0.0
    return Strand(rope, end, role, share, low, high, why, _knotted(system, rope, end))


def _bights(look: Look, system: Bights) -> Says[list[Strand]]:
    """The chain takes the same of either side; of one rope, tied at its middle."""
    rope = yield from _ridden(look, system.rope)
    two = system.other is not None
    pulled, pulled_end = rope, other_end(system.ridden_end)
    if system.other is not None:
        pulled, pulled_end = look.ctx.ropes[system.other], system.other_end
    lost = "" if two else (yield from middle_lost(look, rope, system))
    used = row("knots", "rope used.bight")

    def past(r: Rope, end: RopeEnd, role: Role) -> Says[Strand]:
        whole, count = (yield from whole_length(look, r)), system.bights
        share = 1.0 if role == "ride" else 0.0
        why = whole.why if isinstance(whole, Unknown) else lost
        if not why and count.kind == "unknown":
            why = "how many bights there are is unknown"
        if why or isinstance(whole, Unknown) or count.kind == "unknown":
            return Strand(r, end, role, share, None, None, why, _knotted(system, r, end))
        sides = whole if two else half(r, end, system.middle_by, whole, look.book)
        ends = [
            look.book.number(
                f"strand.{r.id}-{end}.past.{side}",
                f"{r.name} {end.upper()} past the bights, {side} end",
                "R - n*u",
                [
                    computed("R", f"its side, {side} end", w),
                    Term("n", "bights", count.value, "count", f"decided: {count.method}", typed=("{system}/bights",)),
                    from_row("u", used, used.high, "fine length"),
                ],
                w.value - count.value * used.high,
                "length",
                "down" if side == "low" else "up",
            )
            for side, w in zip(("low", "high"), sides, strict=True)
        ]
        return Strand(r, end, role, share, ends[0], ends[1], why, _knotted(system, r, end))

    return [(yield from past(rope, system.ridden_end, "ride")), (yield from past(pulled, pulled_end, "pull"))]


def _blocked_cord(look: Look, system: BlockedCord) -> Says[list[Strand]]:
    rope, cord, join = (yield from _ridden(look, system.rope)), look.ctx.ropes[system.cord], join_knots(system)
    ride = yield from _single(look, system, rope, (system.ridden_end, "ride"), [*block_knots(system), *join])
    return [ride, (yield from _single(look, system, cord, (system.cord_end, "pull"), join))]
