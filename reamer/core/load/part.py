"""A part of the load path: what is asked of it, what it holds, and the places in it that decide."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.anchor.holding import Holding, Holds, Named
from reamer.core.answer.say import Number
from reamer.core.answer.working import Book, computed
from reamer.core.load.asked import Asked


@dataclass(frozen=True, slots=True)
class Part:
    """One part of the load path: what it must hold, what it holds low to high, and how often the demand that is.

    ``low`` and ``high`` are None where unknown, and ``why`` says so. ``required`` is what the margin policy asks.
    ``where``: in the way from rock to rider, or clipped in beside it. ``points``: the places in it, if more than one.
    ``single``: its loss alone drops the rider; ``accepted``: why that is accepted, "" if it is not. ``said``: that it
    is not checked has a finding of its own.
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


def part(of: Named, want: Asked, holds: Holds, book: Book, points: tuple[Holding, ...] = ()) -> Part:
    """A part with its verdict.

    of: which; want: what is asked of it; holds: what it holds; book: how numbers are made; points: the places in it
    returns: the part, in the way from rock to rider [kN]
    Source: J, our judgement: the low end decides.
    """
    times, low = None, holds.low
    idle = want.demand is not None and want.demand.value <= 0
    if low is not None and want.demand is not None and not idle:
        terms = [computed("C", "low-end capacity", low), computed("D", "peak", want.demand)]
        name, value = f"low end of {of.name} over its peak", low.value / want.demand.value
        times = book.number(f"{of.key}.times", name, "C/D", terms, value, "ratio", "down")
    if low is None or want.required is None:
        verdict = "Not checked"
    else:
        verdict = "Shortfall" if low.value < want.required.value else ""
    why = holds.why or (IDLE if idle else "")
    known = (want.demand, want.required, low, holds.high, times)
    return Part(of.key, of.name, *known, why, verdict, points=points, textile=of.textile)
