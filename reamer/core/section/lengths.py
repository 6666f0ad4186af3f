"""How long the lines of a drop are at the bounds of its survey."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.answer.say import Number
from reamer.core.answer.typed import of_section
from reamer.core.answer.working import Book, Term
from reamer.core.model import Known
from reamer.core.plan.limits import Bound, at_bound
from reamer.core.section.lines import Lines, height_m
from reamer.core.section.polyline import Line


@dataclass(frozen=True, slots=True)
class Bounded:
    """A line's length at the survey's bounds."""

    low: Number
    nominal: Number
    high: Number


# The lines at each bound of the survey.
ByBound = dict[Bound, Lines]
# The lengths of the taut and the draped line, and of the plumb one where the landing lies off to the side.
Lengths = dict[str, Bounded]


def paths(by_bound: ByBound, aside: Known, book: Book) -> Lengths:
    """Lengths of the taut and the draped line at each bound of the survey.

    by_bound: lines for low, nominal and high; aside: how far off to the side the landing lies [m]; book: where the
    workings go
    returns: "taut" and "draped", each low, nominal and high, never past the nominal one on the wrong side; and, where
        the landing lies off to the side, "plumb": the taut line of a rope that nobody draws there [m]
    Source: HB, polyline length; the bounds J.
    """
    made = {}
    for kind in ("taut", "draped", *(("plumb",) if aside.value else ())):
        numbers = {}
        lines: dict[Bound, Line] = {b: getattr(by_bound[b], "taut" if kind == "plumb" else kind) for b in by_bound}
        more = {b: _sideways(by_bound[b], aside, b) for b in by_bound} if aside.value and kind != "plumb" else {}
        longs = {b: lines[b].length_m + (more[b][2] if more else 0.0) for b in lines}
        order = sorted(lines, key=longs.__getitem__)
        chosen: dict[Bound, Bound] = {"low": order[0], "nominal": "nominal", "high": order[-1]}
        for bound, b in chosen.items():
            line = lines[b]
            terms = [of_section(f"l{i}", f"piece {i}", piece) for i, piece in enumerate(line.pieces_m, 1)]
            formula = " + ".join(t.symbol for t in terms) or "0"
            if line.round_m:
                ways = [
                    of_section(f"r{i}", "way round the rock below the lip", piece)
                    for i, piece in enumerate(line.round_m, 1)
                ]
                formula += f" + {' + '.join(t.symbol for t in ways)} - {terms[-1].symbol}"
                terms += ways
            elif line.extra_m:
                terms.append(of_section("o", "landing set back behind the plumb line", line.recess_m))
                last = terms[-2].symbol
                formula += f" + sqrt({last}**2 + o**2) - {last}"
            if more:
                terms += [
                    of_section("h", "height, edge to landing level", more[b][0]),
                    Term(
                        "y",
                        "landing off to the side",
                        more[b][1],
                        "fine length",
                        f"entered: {aside.method}",
                        typed=("{drop}/landing/aside_m",),
                    ),
                ]
                formula += " + sqrt(h**2 + y**2) - h"
            numbers[bound] = book.number(
                f"path.{kind}.{bound}",
                f"{kind} line, {bound} bound",
                formula,
                terms,
                longs[b],
                "length",
                "down" if bound == "low" else "up" if bound == "high" else "near",
            )
        made[kind] = Bounded(**numbers)
    return made


def _sideways(at: Lines, aside: Known, bound: Bound) -> tuple[float, float, float]:
    """Height, distance to the side and what it adds to a path, at one bound."""
    h, y = height_m(at.terrain), at_bound(aside, bound) or 0.0
    return h, y, math.hypot(h, y) - h
