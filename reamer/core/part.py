"""A part of the load path: what is asked of it, what it holds, and the places in it that decide."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.loads import Asked
from reamer.core.model import Capacity
from reamer.core.say import Number
from reamer.core.working import Book, Term, computed


@dataclass(frozen=True, slots=True)
class Holding:
    """One place in a part, and what the part would hold if only that place could fail: a knot, a bend, the plain strand."""

    key: str
    name: str
    low: Number
    high: Number
    decides: bool = False


@dataclass(frozen=True, slots=True)
class Part:
    """One part of the load path: what it must hold, what it holds low to high, and how often the demand that is.

    ``low`` and ``high`` are None where unknown, and ``why`` says so. ``required`` is what the margin policy asks.
    ``where``: in the way from rock to rider, or clipped in beside it. ``points``: the places in it, if more than one.
    ``single``: its loss alone drops the rider; ``accepted``: why that is accepted, "" if it is not. ``said``: that it is not checked
    has a finding of its own.
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
    where: str = "riding"
    points: tuple[Holding, ...] = ()
    textile: bool = False
    weakest: bool = False
    single: bool = False
    accepted: str = ""
    said: bool = False


IDLE = "it takes nothing in this direction"


def part(key: str, name: str, want: Asked, low: Number | None, high: Number | None, why: str, book: Book,
         points: tuple[Holding, ...] = (), where: str = "riding", textile: bool = False) -> Part:
    """A part with its verdict.

    key, name: the part's; want: what is asked of it; low, high: what it holds, None where unknown; why: so
    book: where workings go; points: the places in it; where: riding or clipped in; textile: whether rock may cut it
    returns: the part [kN]
    Source: J, our judgement: the low end decides.
    """
    times = None
    idle = want.demand is not None and want.demand.value <= 0
    if low is not None and want.demand is not None and not idle:
        times = book.number(f"{key}.times", f"low end of {name} over its peak", "C/D",
                            [computed("C", "low-end capacity", low), computed("D", "peak", want.demand)],
                            low.value / want.demand.value, "ratio", "down")
    verdict = "Not checked" if low is None or want.required is None else \
        "Shortfall" if low.value < want.required.value else ""
    return Part(key, name, want.demand, want.required, low, high, times, why or (IDLE if idle else ""), verdict, where, points, textile)


def given(key: str, name: str, capacity: Capacity, book: Book) -> tuple[Number | None, Number | None, str]:
    """A capacity that somebody gives.

    key, name: the part's; capacity: as entered; book: where workings go
    returns: low, high [kN] and, where unknown, why
    Source: whoever gives it; the working names them.
    """
    if capacity.kind == "unknown":
        return None, None, capacity.why or "nobody has said"
    low = book.number(f"{key}.low", f"{name}, low end", "C", [Term("C", name, capacity.low_kn, "force", capacity.source)],
                      capacity.low_kn, "force", "down")
    high = book.number(f"{key}.high", f"{name}, high end", "C", [Term("C", name, capacity.high_kn, "force", capacity.source)],
                       capacity.high_kn, "force", "up")
    return low, high, ""


def decided(points: list[Holding]) -> tuple[Holding, ...]:
    """The places of a part, the one that is lowest at its low end marked.

    points: at least one
    returns: the same in the same order
    Source: none, a minimum.
    """
    least = min(p.low.value for p in points)
    first = next(p for p in points if p.low.value == least)
    return tuple(Holding(p.key, p.name, p.low, p.high, p is first) for p in points)


def whole(key: str, name: str, points: tuple[Holding, ...], book: Book) -> tuple[Number, Number]:
    """What a part holds: the least of its places, at each end of the range.

    key, name: the part's; points: its places; book: where workings go
    returns: low and high [kN]
    Source: none, a minimum: weak points at different places do not add up.
    """
    made = []
    for end in ("low", "high"):
        each = [p.low if end == "low" else p.high for p in points]
        symbols = [f"P{i}" for i in range(1, len(each) + 1)]
        made.append(book.number(
            f"{key}.{end}", f"{name}, {end} end", f"min({', '.join(symbols)})" if len(each) > 1 else symbols[0],
            [computed(s, p.name, n) for s, p, n in zip(symbols, points, each, strict=True)],
            min(n.value for n in each), "force", "down" if end == "low" else "up"))
    return made[0], made[1]
