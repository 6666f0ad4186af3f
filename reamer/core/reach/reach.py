"""Does it reach: what each strand needs, what it has, where its end comes to lie."""

from __future__ import annotations

from reamer.core.answer.findings import Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number
from reamer.core.answer.working import computed
from reamer.core.load.asked import Load
from reamer.core.model import System, Unknown
from reamer.core.reach.better import decide_ride, longer_rope, more_reserve
from reamer.core.reach.ends import DOWN, Reach, end_findings, ends_of
from reamer.core.reach.need import SURFACE, need_of
from reamer.core.rope.damage import lies_in
from reamer.core.rope.length import real_length
from reamer.core.rope.strands import Strand
from reamer.core.section.lengths import ByBound, Lengths


def reach(
    look: Look, hanging: list[Strand], by_bound: ByBound, lengths: Lengths, load: Load
) -> Says[tuple[Reach, ...]]:
    """Every strand's reach, with the findings about it.

    look: the station; hanging: its strands; by_bound: lines for low, nominal and high; lengths: theirs [m]; load: the
    rider
    returns: one Reach a strand [m]
    Source: P, common practice, no source; allowances J.
    """
    made, taut = [], by_bound["nominal"].taut
    for s in hanging:
        blank = next((r for r in s.ropes if r.elongation_pct.kind == "unknown"), None)
        if s.load_share and blank is not None:
            title = (
                "How far {rope} {end} stretches is unknown"
                if blank is s.foot.rope
                else "How far {rope} stretches is unknown"
            )
            why = "Where its end hangs with a rider on it is not checked."
            end = s.foot.end.upper() if blank is s.foot.rope else None
            yield say("end.stretch", "Not checked", f"end.{s.key}", title, why, rope=blank.name, end=end)
        free, ridden = None, None
        need, has, why = _balance(look, s, hanging, lengths)
        if s.role not in ("reserve", "lower"):
            free, ridden = ends_of(s, taut, lengths["taut"].nominal, load, look.book)
        spare, highest = _spare(look, s, need, has)
        foot = s.foot
        about = (f"reach.{s.key}", foot.rope.id, foot.end, foot.rope.name, s.role, s.knotted, s.low, s.high)
        way = (taut.points, highest, why == SURFACE, lies_in(s), s.rope.id)
        item = Reach(*about, need, spare, why, free, ridden, *way)
        made.append(item)
        if s.role == "reserve":
            yield from _reserve_findings(look, item, s, lengths)
            continue
        if not item.at_surface:
            yield from _reach_findings(look, made, s, hanging, lengths)
        if look.drop.landing.kind != "moving water":
            yield from end_findings(look, item, s, lengths, hanging)
    return tuple(made)


def _balance(
    look: Look, s: Strand, hanging: list[Strand], lengths: Lengths
) -> tuple[Number | None, tuple[str, Number] | None, str]:
    """What a strand needs, what it has and what that is, and why either is unknown."""
    need, why = need_of(look, s, lengths)
    if s.low is None:
        return need, None, s.why
    let_out = look.drop.landing.kind == "moving water" and s.role == "ride" and look.system.kind == "releasable"
    reserve = hanging[1].low if let_out else None
    if reserve is None:
        return need, ("the strand, low end", s.low), why
    # What is let out is set on the spot: all of the rope past the tie-off counts.
    terms = [computed("l", "let out", s.low), computed("r", "in reserve", reserve)]
    name, value = f"{s.rope.name} past the tie-off, let out and in reserve", s.low.value + reserve.value
    has = look.book.number(f"strand.{s.key}.all", name, "l + r", terms, value, "length", "down")
    return need, ("let out and in reserve", has), why


def _spare(
    look: Look, s: Strand, need: Number | None, has: tuple[str, Number] | None
) -> tuple[Number | None, Number | None]:
    """What is to spare; of a reserve, how far below the ring somebody may be stuck for a lower to reach."""
    if need is None or has is None:
        return None, None
    terms = [computed("L", *has), computed("need", "needed", need)]
    value = has[1].value - need.value
    spare = look.book.number(f"spare.{s.key}", f"{s.rope.name}, to spare", "L - need", terms, value, "length", "down")
    if s.role != "reserve":
        return spare, None
    terms = [computed("path", "path, upper bound", need), computed("R", "reserve, low end", has[1])]
    name, formula = "highest point from which a lower still reaches, below the ring", "max(0, path - max(0, R))"
    value = max(0.0, need.value - max(0.0, has[1].value))
    return spare, look.book.number(f"highest.{s.key}", name, formula, terms, value, "length", "up")


def least_spare_m(system: System, reached: tuple[Reach, ...]) -> float | None:
    """The least that a station's strands have to spare, less where it counts twice.

    system: as rigged; reached: every strand
    returns: what is to spare, negative where one is short [m]; None while one is not known, or nothing hangs
    Source: none, a minimum.
    """
    asked = [r.spare for r in reached if r.role != "reserve" and not r.at_surface]
    known = [n.value for n in asked if n is not None]
    if not asked or len(known) < len(asked):
        return None
    return min(known) / (2.0 if system.kind == "lowered" and system.belayer == "below" else 1.0)


def _reserve_findings(look: Look, item: Reach, s: Strand, lengths: Lengths) -> Says[None]:
    """Whether a reserve is enough to lower, and the knot in it that must pass the tie-off."""
    low, highest = item.low, item.highest
    if item.spare is None:
        title, why = "Whether the reserve is enough to lower is not checked", "Not checked: {why}."
        yield say("release.reserve", "Not checked", item.key, title, why, why=item.why)
    elif item.spare.value < 0 and low is not None and highest is not None:
        yield say(
            "release.reserve",
            "Shortfall",
            item.key,
            "The reserve is {short} too short to lower from anywhere",
            "{low} is in reserve. Only somebody stuck {highest} or more below the ring would reach {down}.",
            short=Number(-item.spare.value, "length", "up", item.spare.working, item.spare.behind),
            low=Number(max(0.0, low.value), "length", "down", low.working, low.behind),
            highest=highest,
            down=DOWN[look.drop.landing.kind],
            working=highest,
            fix=more_reserve(look, lengths) if look.fixes else None,
        )
    for joint in s.joints:
        if joint.at is None:
            continue
        yield say(
            "release.join",
            "Caution",
            item.key,
            "The knot that joins {more} to the reserve must pass the tie-off with somebody hanging on it",
            "It comes after {far} is let out. It takes a second tie-off and practice; a longer rope has no such knot.",
            more=joint.rope.name,
            far=Number(max(0.0, joint.at.value), "length", "down", joint.at.working, joint.at.behind),
            working=joint.at,
        )


def _reach_findings(look: Look, made: list[Reach], s: Strand, hanging: list[Strand], lengths: Lengths) -> Says[None]:
    """Whether a strand reaches: the last one made."""
    *before, item = made
    system, other, name = look.system, next((h for h in hanging if h is not s), None), item.name
    # Both halves of a doubled rope that are equally long at worst are said once, for the side that is pulled.
    alike = False
    if system.kind == "doubled" and other is not None and s.low is not None and other.low is not None:
        alike = abs(s.low.value - other.low.value) < 0.005
        if alike and s.end != system.pulled_end and item.spare is not None:
            return
    if alike:
        name = f"Half of {item.name}"
    elif system.kind == "doubled" or len({h.rope.id for h in hanging}) < len(hanging):
        name = f"{item.name} {item.end.upper()}"
    if item.spare is None:
        title, why, fix = "Whether {rope} reaches is not checked", "Not checked: {why}.", decide_ride(look, lengths)
        if alike and any(r.spare is None and not r.at_surface and r.why == item.why for r in before):
            return
        yield say("reach.unknown", "Not checked", item.key, title, why, rope=name, why=item.why, fix=fix)
    elif item.spare.value < 0:
        measured = s.rope.measured_m
        basis = f"measured by {measured.method}" if measured.kind == "known" else "from its label, less shrinkage"
        whole = look.ctx.once(("length", s.rope.id), (s.rope,), look.book, lambda own: real_length(s.rope, own))
        yield say(
            "reach.short",
            "Shortfall",
            item.key,
            "{rope}{role} does not reach: {short} short",
            "It needs {need} at the upper bound of the survey. Of the rope's {whole}, {basis}, {low} hang there.",
            short=Number(-item.spare.value, "length", "up", item.spare.working, item.spare.behind),
            need=item.need,
            low=item.low,
            whole=None if isinstance(whole, Unknown) else whole[0],
            rope=name,
            basis=basis,
            role=", the strand that is pulled," if s.role == "pull" else "",
            working=item.spare,
            fix=longer_rope(look, s, lengths) if look.fixes else None,
        )
