"""One place in a part and what it holds; a capacity that somebody gives."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.say import TOWARD, Number
from reamer.core.answer.working import Book, Term, computed
from reamer.core.model import Capacity
from reamer.core.tables import RangeEnd


@dataclass(frozen=True, slots=True)
class Holding:
    """One place in a part, and what the part would hold if only that place could fail: a knot, a bend, the plain
    strand."""

    key: str
    name: str
    low: Number
    high: Number
    decides: bool = False


@dataclass(frozen=True, slots=True)
class Named:
    """What a part is called: its key in the load path, and its name; ``textile``: whether rock may cut it."""

    key: str
    name: str
    textile: bool = False


@dataclass(frozen=True, slots=True)
class Holds:
    """What something holds, low and high [kN]; None where that is unknown, and why."""

    low: Number | None
    high: Number | None
    why: str = ""


def unheld(why: str) -> Holds:
    """Nothing is known of what something holds.

    why: so
    returns: as much
    Source: none.
    """
    return Holds(None, None, why)


def given(of: Named, capacity: Capacity, at: tuple[str, ...], book: Book) -> Holds:
    """A capacity that somebody gives.

    of: the part; capacity: as entered; at: the places of the fields it was typed into; book: how numbers are made
    returns: low, high [kN] and, where unknown, why
    Source: whoever gives it; the working names them.
    """
    if capacity.kind == "unknown":
        return unheld(capacity.why or "nobody has said")

    def one(end: RangeEnd) -> Number:
        value = capacity.at(end)
        terms = [Term("C", of.name, value, "force", capacity.source, typed=at)]
        return book.number(f"{of.key}.{end}", f"{of.name}, {end} end", "C", terms, value, "force", TOWARD[end])

    return Holds(one("low"), one("high"))


def decided(points: list[Holding]) -> tuple[Holding, ...]:
    """The places of a part, the one that is lowest at its low end marked.

    points: at least one
    returns: the same in the same order
    Source: none, a minimum.
    """
    least = min(p.low.value for p in points)
    first = next(p for p in points if p.low.value == least)
    return tuple(Holding(p.key, p.name, p.low, p.high, p is first) for p in points)


def whole(of: Named, points: tuple[Holding, ...], book: Book) -> tuple[Number, Number]:
    """What a part holds: the least of its places, at each end of the range.

    of: the part; points: its places; book: how numbers are made
    returns: low and high [kN]
    Source: none, a minimum: weak points at different places do not add up.
    """

    def one(end: RangeEnd) -> Number:
        each = [p.low if end == "low" else p.high for p in points]
        symbols = [f"P{i}" for i in range(1, len(each) + 1)]
        formula = f"min({', '.join(symbols)})" if len(each) > 1 else symbols[0]
        terms = [computed(s, p.name, n) for s, p, n in zip(symbols, points, each, strict=True)]
        least = min(n.value for n in each)
        return book.number(f"{of.key}.{end}", f"{of.name}, {end} end", formula, terms, least, "force", TOWARD[end])

    return one("low"), one("high")
