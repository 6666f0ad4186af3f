"""What a station's knots, its middle and its join take of a rope."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.findings import Fix, Says, once, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Quantity, Sentence
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.model import Bights, Blocking, Doubled, Joining, Rope, RopeEnd, Unknown, sure
from reamer.core.plan.edits import PLAN
from reamer.core.plan.limits import limits_m
from reamer.core.rope.length import real_length, shrinks, sound_piece, to_mark
from reamer.core.tables import row

Length = tuple[Number, Number] | Unknown


@dataclass(frozen=True, slots=True)
class Knot:
    """A knot of the station: its name, the row that says what it takes, its tail [m] and who says how long that is."""

    name: str
    key: str
    tail_m: float = 0.0
    source: str = "none"


def whole_length(look: Look, rope: Rope) -> Says[Length]:
    """A rope's real length, with what is to be said of it.

    look: the station; rope: the rope
    returns: low and high, or why it is unknown [m]
    Source: see real_length.
    """
    length = look.ctx.once(("length", rope.id), (rope,), look.book, lambda own: real_length(rope, own))
    if isinstance(length, Unknown):
        yield say(
            "rope.length",
            "Not checked",
            f"rope.{rope.id}",
            "The length of {rope} is unknown",
            "Whether it reaches is not checked.",
            rope=rope.name,
        )
    elif rope.measured_m.kind == "unknown":
        yield say(
            "rope.nominal",
            "Caution",
            f"rope.{rope.id}",
            "{rope} was never measured",
            "Its label's length less shrinkage is counted, {low} at the least. Measure it.",
            low=length[0],
            rope=rope.name,
            working=length[0],
        )
    else:
        yield from _feet(look, rope)
    return length


def _feet(look: Look, rope: Rope) -> Says[None]:
    """A measured length that looks as if it were the label's in feet, or the label's as if it were. Source: J, our
    judgement."""
    measured, label = rope.measured_m.known, rope.nominal_m.known
    if rope.length_confirmed or not measured or not label:
        return
    feet, metres = row("ropes", "feet.in metres"), row("ropes", "metres.in feet")
    if not any(r.low <= measured / label <= r.high for r in (feet, metres)):
        return
    at = next(i for i, r in enumerate(look.plan.shed.ropes) if r.id == rope.id)
    edit = PLAN.at(lambda plan: plan.shed.ropes[at].length_confirmed).set(True)
    yield once(
        say(
            "rope.feet",
            "Not checked",
            f"rope.{rope.id}",
            "{rope} was measured at {measured}, and its label says {label}: feet?",
            "One of the two looks as if it were in feet. Put it right, or say that it is right as it is.",
            rope=rope.name,
            measured=Number(measured, "length"),
            label=Number(label, "length"),
            fix=Fix(Sentence("It is right as entered"), (edit,), allows="Shortfall"),
        )
    )


def cord_ridden(rope: Rope) -> Says[None]:
    """Say that a pull cord would be ridden.

    rope: that is ridden
    returns: nothing
    Source: P, common practice, no source.
    """
    if rope.kind == "pull cord":
        yield say(
            "system.cord-ridden",
            "Shortfall",
            "system",
            "{rope} is a pull cord and would be ridden",
            "A pull cord cannot hold a person.",
            rope=rope.name,
        )


def _mark_lost(rope: Rope) -> str:
    """Why the middle mark is of no use, "" if it is."""
    piece, off = sound_piece(rope), rope.middle_off_m
    base = rope.measured_m if rope.measured_m.kind == "known" else rope.nominal_m
    if not rope.middle_mark:
        return "it has no middle mark"
    if off.kind == "unknown":
        return "how far its middle mark is off is unknown"
    if base.kind == "unknown":
        return ""
    (short, long), most = limits_m(base), limits_m(off)[1]
    # A place measured in the rope as it is now lies further along it by its label.
    kept = 1.0 if piece.start is None or piece.start.as_now == "no" else 1 - shrinks(rope)[0]
    before = piece.start is not None and limits_m(sure(piece.start.at_m))[1] / kept >= short / 2 - most
    after = piece.stop is not None and limits_m(sure(piece.stop.at_m))[0] <= long / 2 + most
    return "its middle mark lies past its damage" if before or after else ""


def middle_lost(look: Look, rope: Rope, system: Doubled | Bights) -> Says[str]:
    """Whether the middle of a rope can be found.

    look: the station; rope: the rope; system: how its middle is to be found
    returns: why not, "" if it can
    Source: P, common practice, no source.
    """
    has = _mark_lost(rope) if system.middle_by == "mark" else ""
    if not has:
        return ""
    place = look.place.at(lambda state: state.system).of(Doubled).at(lambda s: s.middle_by)
    yield say(
        "system.middle",
        "Not checked",
        f"rope.{rope.id}",
        "The middle of {rope} is not certain",
        "The rope is to be centred by its mark, but {has}.",
        rope=rope.name,
        has=has,
        fix=Fix(Sentence("Run both ends out together"), (place.set("ends run together"),)),
    )
    return f"{rope.name}: {has}"


def half(rope: Rope, end: RopeEnd, by: str, whole: tuple[Number, Number], book: Book) -> tuple[Number, Number]:
    """One side of a rope from its middle: from its mark, or half of what is left between its ends.

    rope, end: whose side; by: how the middle is found; whole: its real length [m]; book: how numbers are made
    returns: low and high [m]
    Source: none, a half; see to_mark.
    """
    sides = to_mark(rope, end, book) if by == "mark" else None
    assert not isinstance(sides, Unknown), "whether the mark is of use is asked before"

    def one(i: int, side: str) -> Number:
        key = f"strand.{rope.id}-{end}.{side}"
        if sides is not None:
            n, name = sides[i], f"{rope.name} {end.upper()}, {side} end"
            return book.number(key, name, "H", [computed("H", "from the middle mark", n)], n.value, "length", n.toward)
        w, name = whole[i], f"{rope.name}, half, {side} end"
        terms = [computed("R", f"real length, {side} end", w)]
        return book.number(key, name, "R/2", terms, w.value / 2, "length", w.toward)

    return one(0, "low"), one(1, "high")


def less_knots(
    rope: Rope, whole: Length, knots: list[Knot], end: RopeEnd, book: Book
) -> tuple[Number | None, Number | None, str]:
    """A rope's strand after what the station's knots take.

    rope: the rope; whole: its real length [m]; knots: of the station, in it; end: the strand's; book: how numbers are
    made
    returns: low and high [m], or why they are unknown
    Source: J, table of knots.
    """
    if isinstance(whole, Unknown):
        return None, None, whole.why
    d = rope.diameter_mm.known
    if d is None:
        return None, None, f"the diameter of {rope.name} is unknown, so what its knots take is too"
    terms, formula, taken = [], "R", 0.0
    for i, knot in enumerate(knots, 1):
        used = row("knots", knot.key)
        by_diameter = used.unit == "d"
        unit: Quantity = "count" if by_diameter else "fine length"
        terms.append(from_row(f"n{i}", used, used.high, unit))
        formula += f" - n{i}*d/1000" if by_diameter else f" - n{i}"
        taken += used.high * d / 1000 if by_diameter else used.high
        if knot.tail_m:
            terms.append(
                Term(
                    f"t{i}",
                    f"tail of the {knot.name}",
                    knot.tail_m,
                    "fine length",
                    knot.source,
                    typed=("{system}/tails_m",),
                )
            )
            formula += f" - t{i}"
            taken += knot.tail_m
    terms.append(Term("d", f"diameter of {rope.name}", d, "diameter", "entered", typed=typed(rope, "diameter_mm")))

    def one(i: int, side: str) -> Number:
        return book.number(
            f"strand.{rope.id}-{end}.{side}",
            f"{rope.name} past the station's knots, {side} end",
            formula,
            [computed("R", f"real length, {side} end", whole[i]), *terms],
            whole[i].value - taken,
            "length",
            "down" if side == "low" else "up",
        )

    return one(0, "low"), one(1, "high"), ""


def join_knots(system: Joining) -> list[Knot]:
    """What a join takes of each of its ropes, its tails as decided or as long as practice wants them.

    system: that joins two ropes
    returns: the knots
    Source: J, table of knots.
    """
    if system.tails_m.kind == "known":
        return knots_of(system.knot, system.tails_m.value, "decided")
    tail = row("knots", "tail.join")
    return knots_of(system.knot, tail.high, tail.cited)


def knots_of(knot: str, tail_m: float = 0.0, source: str = "") -> list[Knot]:
    """What a join takes of each of its ropes: its knots and one tail.

    knot: that joins them; tail_m: how long each is left [m]; source: who says so
    returns: the knots
    Source: J, table of knots.
    """
    own = knot if knot in ("opposed overhand", "flat figure eight") else "flat overhand"
    made = [Knot("join", f"rope used.{own}", tail_m, source)]
    second = knot == "flat overhand, second behind"
    return [*made, Knot("second overhand", "rope used.second overhand")] if second else made


def block_knots(system: Blocking) -> list[Knot]:
    """What a block takes of the rope.

    system: that is blocked
    returns: the knots
    Source: J, table of knots.
    """
    return [Knot("block", f"rope used.{system.block}")]


def joined_length(
    key: str,
    name: str,
    parts: tuple[tuple[str, Number], tuple[str, Number]],
    ropes: tuple[Rope, Rope],
    knots: list[Knot],
    tail: Term,
    book: Book,
) -> Number:
    """Two lengths of rope joined into one.

    K + R − Σn·(d₁ + d₂)/1000 − 2·t

    key, name: the working's; parts: each length and what it is [m]; ropes: theirs, of known diameter; knots: of the
    join; tail: each of its two [m]; book: how numbers are made
    returns: the whole length, rounded as the parts are [m]
    Source: J, table of knots.
    """
    rows = [row("knots", k.key) for k in knots]
    d1, d2 = (r.diameter_mm.known or 0.0 for r in ropes)
    takes = sum(k.high for k in rows) * (d1 + d2) / 1000 + 2 * tail.value
    symbols = " + ".join(f"n{i}" for i in range(1, len(rows) + 1))
    (first, one), (second, two) = parts
    terms = [
        computed("K", first, one),
        computed("R", second, two),
        *(from_row(f"n{i}", k, k.high, "count") for i, k in enumerate(rows, 1)),
        Term("d1", f"diameter of {ropes[0].name}", d1, "diameter", "entered", typed=typed(ropes[0], "diameter_mm")),
        Term("d2", f"diameter of {ropes[1].name}", d2, "diameter", "entered", typed=typed(ropes[1], "diameter_mm")),
        tail,
    ]
    formula = f"K + R - ({symbols})*(d1 + d2)/1000 - 2*t"
    return book.number(key, name, formula, terms, one.value + two.value - takes, "length", one.toward)
