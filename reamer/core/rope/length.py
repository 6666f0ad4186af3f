"""What length a rope really has, what a strand needs, how far it stretches."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.say import Number, Toward
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, from_row
from reamer.core.model import Damage, Known, Rope, RopeEnd, Unknown, sure
from reamer.core.plan.limits import limits_m
from reamer.core.tables import ENDS, RangeEnd, row

G = row("loads", "g").low
# Damage past which a rope is not used.
PIECE = ("longest sound piece", "cut off")


def shrink_family(kind: str) -> str:
    """Which row of the shrinkage table a kind of rope takes.

    kind: the rope's kind
    returns: the row's key
    Source: J, our judgement for pull cord.
    """
    return "shrinkage." + ("cord" if kind == "pull cord" else "low-stretch" if kind == "low-stretch" else "dynamic")


def length_m(base_m: float, error_m: float, shrinkage: float, damage_m: float) -> float:
    """The length a rope really has at one end of its range.

    L = (base + error)·(1 − shrinkage) − damage

    base_m: measured or nominal length [m]; error_m: limit of error, negative at the low end [m]
    shrinkage: share lost since first wet [-]; damage_m: tied out of use [m]
    returns: real length, not under 0 [m]
    Source: P, common practice, no source; shrinkage first, then damage.

    >>> length_m(35.0, 0.0, 0.10, 0.0)
    31.5
    """
    return max(0.0, (base_m + error_m) * (1 - shrinkage) - damage_m)


@dataclass(frozen=True, slots=True)
class Piece:
    """The longest sound piece of a rope that is used no further than its damage: the damaged places at its ends, None
    where it ends with the rope itself. ``start``: nearer end A."""

    start: Damage | None
    stop: Damage | None

    def past(self, end: str) -> Damage | None:
        """The damage that lies between it and one of the rope's ends, None where there is none, or the rope is cut
        there."""
        at = self.start if end == "a" else self.stop
        return at if at is not None and at.use != "cut off" else None


def sound_piece(rope: Rope) -> Piece:
    """The longest piece of a rope between its ends and the places it is not used past.

    rope: the rope, its length and those places known
    returns: the piece, the whole rope where there is no such place
    Source: P, common practice, no source.
    """
    known = [(far, d) for d in rope.damage if d.use in PIECE and (far := d.at_m.known) is not None]
    cuts = [d for _, d in sorted(known, key=lambda k: k[0])]
    base = rope.measured_m if rope.measured_m.kind == "known" else rope.nominal_m
    if not cuts or base.kind == "unknown":
        return Piece(None, None)
    places = [sure(d.at_m).value for d in cuts]
    at = [0.0, *places, max(base.value, places[-1])]
    longest = max(range(len(at) - 1), key=lambda i: at[i + 1] - at[i])
    return Piece(None if longest == 0 else cuts[longest - 1], None if longest == len(cuts) else cuts[longest])


def shrinks(rope: Rope) -> tuple[float, float]:
    """The share of its length that a rope may have lost since that was taken: at its low end of length, at its high
    end.

    rope: the rope
    returns: shares [-]
    Source: J, table of ropes.
    """
    shrink = row("ropes", shrink_family(rope.kind))
    return 0.0 if rope.wet_since_measured == "no" else shrink.high, (
        shrink.low if rope.wet_since_measured == "yes" else 0.0
    )


def unmeasured(rope: Rope) -> str:
    """What keeps a rope's real length from being known.

    rope: the rope
    returns: the reason in words, "" if nothing does
    Source: none, look-ups.
    """
    if rope.measured_m.kind == rope.nominal_m.kind == "unknown":
        return f"{rope.name} has no length"
    if any(d.takes_m.kind == "unknown" for d in rope.damage):
        return f"how much of {rope.name} its damage takes is unknown"
    if any(d.at_m.kind == "unknown" for d in rope.damage if d.use in PIECE):
        return f"where {rope.name} is damaged is unknown"
    return ""


def real_length(rope: Rope, book: Book) -> tuple[Number, Number] | Unknown:
    """Low and high end of a rope's real length: of its longest sound piece, less all that its damage takes.

    rope: the rope; book: how numbers are made
    returns: low and high [m], or why it is unknown
    Source: P, common practice, no source; shrinkage J.
    """
    return span_m(rope, f"rope.{rope.id}", f"{rope.name}, real length", sound_piece(rope), None, book)


def to_mark(rope: Rope, end: RopeEnd, book: Book) -> tuple[Number, Number] | Unknown:
    """From a rope's middle mark to its end, or to the end of its longest sound piece.

    rope: the rope, whose mark and how far it is off are known; end: a or b; book: how numbers are made
    returns: low and high [m]; 0 where the mark lies past the piece, or why it is unknown
    Source: P, common practice, no source; shrinkage J. A knot that isolates damage takes rope from the side it is on.
    """
    return span_m(
        rope, f"rope.{rope.id}.{end}", f"{rope.name} {end.upper()}, from its mark", sound_piece(rope), end, book
    )


def span_m(
    rope: Rope, key: str, name: str, piece: Piece, side: RopeEnd | None, book: Book
) -> tuple[Number, Number] | Unknown:
    """A rope between two places: between the ends of a piece, or from the middle mark to one of them.

    L = (to − from)·(1 − s) − damage, each place at its own limit and none past the rope's end

    rope: the rope; key, name: of the workings; piece: of it; side: the end that the mark is measured to, None for the
    whole piece
    book: how numbers are made
    returns: low and high [m], or why it is unknown
    Source: P, common practice, no source; shrinkage J: a place shrinks with its rope.
    """
    why = unmeasured(rope)
    if why:
        return Unknown(kind="unknown", why=why)
    low, high = (_span(rope, piece, side, end) for end in ENDS)
    numbers = []
    for end, (formula, terms, value) in zip(ENDS, (low, high), strict=True):
        toward: Toward = "down" if end == "low" else "up"
        numbers.append(book.number(f"{key}.{end}", f"{name}, {end} end", formula, terms, value, "length", toward))
    return numbers[0], numbers[1]


def _base(rope: Rope) -> Known:
    """A rope's length as it was measured, or on its label; one of them is known."""
    return rope.measured_m if rope.measured_m.kind == "known" else sure(rope.nominal_m)


def _span(rope: Rope, piece: Piece, side: RopeEnd | None, end: RangeEnd) -> tuple[str, list[Term], float]:
    """Formula, terms and value of a span at one end of its range."""
    base, shrink, i = _base(rope), row("ropes", shrink_family(rope.kind)), ENDS.index(end)
    limit, share = limits_m(base)[i], shrinks(rope)[i]
    none = "shrinkage: not wet since" if end == "low" else "shrinkage: none at the high end"
    terms = [
        Term(
            "L0",
            f"{'measured' if rope.measured_m.kind == 'known' else 'nominal'} length of {rope.name}",
            base.value,
            "length",
            f"entered: {base.method}",
            typed=typed(rope, "measured_m" if base is rope.measured_m else "nominal_m"),
        ),
        error_term("e", base, limit),
        from_row("s", shrink, share, "share")
        if share
        else Term("s", none, 0.0, "share", "entered", typed=typed(rope, "wet_since_measured")),
    ]
    low, high = (
        _place(rope, d, symbol, end, (limit, share), terms) for d, symbol in ((piece.start, "p"), (piece.stop, "q"))
    )
    if side is not None:
        mark = _mark(rope, piece, side, end, terms)
        low, high = (low, mark) if side == "a" else (mark, high)
    taken = sum(limits_m(sure(d.takes_m))[1 - i] for d in rope.damage if _lies_in(d, piece, rope, side, end))
    terms.append(
        Term(
            "dmg",
            "rope tied out of use at damaged places",
            taken,
            "fine length",
            "entered",
            typed=typed(rope, "damage"),
        )
    )
    start = "" if low[0] == "0" else f" - ({low[0]})"
    return f"max(0, ({high[0]}{start})*(1 - s) - dmg)", terms, max(0.0, (high[1] - low[1]) * (1 - share) - taken)


def asked_of_places(rope: Rope) -> list[int]:
    """Which damaged places of a rope it is not known of whether they were measured in the rope as it is now, where that
    makes its sound piece longer or shorter.

    rope: any
    returns: their places among its damage, from 0
    Source: J, our judgement.
    """
    if not shrinks(rope)[0]:
        return []
    piece = sound_piece(rope)
    return [n for n, d in enumerate(rope.damage) if d.as_now == "unknown" and (d is piece.start or d is piece.stop)]


def _place(
    rope: Rope, damage: Damage | None, symbol: str, end: RangeEnd, of: tuple[float, float], terms: list[Term]
) -> tuple[str, float]:
    """An end of the piece, p or q, as a formula and a value: at the high end where it makes it longer; of: the rope's
    length at that end of its range [m], and the share that it has shrunk by."""
    limit, share = of
    if damage is None:
        return ("L0 + e", limit) if symbol == "q" else ("0", 0.0)
    figure = sure(damage.at_m)
    at = limits_m(figure)[1 if (end == "high") == (symbol == "q") else 0]
    name = "damaged place, from end A, at its limit of error"
    terms.append(Term(symbol, name, at, "length", f"entered: {figure.method}", typed=typed(rope, "damage")))
    # What was measured in the rope as it is now has shrunk already; where nobody has said, each end takes the reading
    # that serves it.
    now = damage.as_now == "yes" or (damage.as_now == "unknown" and (end == "low") == (symbol == "p"))
    if share and now:
        return f"min({symbol}/(1 - s), L0 + e)", min(at / (1 - share), limit)
    return f"min({symbol}, L0 + e)", min(at, limit)


def _mark(rope: Rope, piece: Piece, side: RopeEnd, end: RangeEnd, terms: list[Term]) -> tuple[str, float]:
    """Where the middle mark lies, as a formula and a value."""
    base, figure, i = _base(rope), sure(rope.middle_off_m), ENDS.index(end)
    off, limit = limits_m(figure), limits_m(base)[i]
    # A mark that is off leaves less on the side it lies nearer to; on either, where nobody has said.
    shorter = rope.middle_nearer in (side, "unknown") if end == "low" else rope.middle_nearer == side
    by = (off[1] if shorter == (end == "low") else off[0]) * (-1 if shorter else 1)
    if rope.middle_nearer == "unknown":
        by = off[1] * (-1 if end == "low" else 1)
    name = f"how far the mark is off, toward {'the other' if by >= 0 else 'this'} end"
    terms.append(Term("m", name, by, "fine length", f"entered: {figure.method}", typed=typed(rope, "middle_off_m")))
    # Counted from end A, the mark lies half the rope out, and further the longer this side's rope on A is.
    half, whole = "(L0 + e)/2", limit
    if side == "b" and piece.stop is not None:
        # The shorter the rope, the further its mark is from a place on that side of it.
        half, whole = "(L0 + f)/2", limits_m(base)[1 - i]
        source = terms[1].source
        terms.append(Term("f", "the rope's error at its other limit", whole - base.value, "fine length", source))
    return (f"{half} + m", whole / 2 + by) if side == "a" else (f"{half} - m", whole / 2 - by)


def _lies_in(damage: Damage, piece: Piece, rope: Rope, side: RopeEnd | None, end: RangeEnd) -> bool:
    """Whether what a damaged place takes is to be taken off here: at the low end wherever it might be, at the high end
    where it must be."""
    if damage.at_m.kind == "unknown":
        return end == "low" or side is None
    if damage is piece.start or damage is piece.stop:
        return True
    base = _base(rope)
    first = sure(piece.start.at_m).value if piece.start else 0.0
    last = sure(piece.stop.at_m).value if piece.stop else base.value
    if not first <= damage.at_m.value <= last:
        return False
    if side is None:
        return True
    low, high = limits_m(damage.at_m)
    off = limits_m(sure(rope.middle_off_m))[1]
    least, most = limits_m(base)[0] / 2 - off, limits_m(base)[1] / 2 + off
    return (
        (low <= most if end == "low" else high < least)
        if side == "a"
        else (high >= least if end == "low" else low > most)
    )


def error_term(symbol: str, figure: Known, limit_m: float) -> Term:
    """How far a figure may be off, as a term: its method's limit, or its own.

    symbol: as in the formula; figure: a known length [m]; limit_m: the figure at its limit [m]
    returns: the term
    Source: J, the table of methods, or whoever entered the figure's own error.
    """
    if figure.error is not None:
        return Term(symbol, "limit of error entered with the figure", limit_m - figure.value, "fine length", "entered")
    return Term(
        symbol,
        f"limit of error of {figure.method}",
        limit_m - figure.value,
        "fine length",
        row("methods", figure.method).cited,
    )


def stopper_m(diameter_mm: float) -> float:
    """Rope that a stopper and its tail take.

    s = 25·d/1000 + tail

    diameter_mm: d, the rope's diameter [mm]
    returns: length [m]
    Source: J, knot table; tail P.

    >>> stopper_m(9.2)
    1.23
    """
    return row("knots", "rope used.stopper").high * diameter_mm / 1000 + row("ropes", "stopper.tail").high


def stretch_m(length_m: float, elongation: float, force_kn: float, rating_kn: float) -> float:
    """How much a loaded strand lengthens.

    ΔL = L·ε·F/F_ref

    length_m: L, loaded length [m]; elongation: ε at the rating's load, as a share [-]
    force_kn: F on the strand [kN]; rating_kn: F_ref, the rating's load on one strand [kN]
    returns: lengthening [m]
    Source: HB, linear stretch, from memory.
    Holds for: loads near the rating's.

    >>> round(stretch_m(40, 0.08, 80 * G / 1000, 80 * G / 1000), 2)
    3.2
    """
    return length_m * elongation * force_kn / rating_kn


def at_100_kg_pct(rope: Rope) -> float | None:
    """A rope's elongation with 100 kg on one strand.

    rope: any
    returns: the elongation, linear from its rating's load [%]; None where it is unknown
    Source: HB, linear stretch; STD, EN 892 and EN 1891, from memory.
    """
    return None if rope.elongation_pct.kind == "unknown" else rope.elongation_pct.value * 100 / rating_kg(rope.kind)


def rating_kg(kind: str) -> float:
    """The mass on one strand at which a rope's elongation is stated.

    kind: the rope's kind
    returns: mass [kg]; of a twin rope half the pair's
    Source: STD, EN 892 and EN 1891, from memory.

    >>> rating_kg("dynamic twin")
    40.0
    """
    if kind.startswith("dynamic"):
        return row("ropes", "mass.dynamic").low / (2 if kind == "dynamic twin" else 1)
    return row("ropes", "mass.low-stretch").low
