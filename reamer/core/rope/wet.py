"""What water takes of a fibre's strength."""

from __future__ import annotations

from reamer.core.answer.working import Term
from reamer.core.tables import ENDS, RangeEnd, row


def wet_share(fibre: str, wet: str) -> tuple[float, float]:
    """Share of strength kept at a place that may be wet, low and high.

    fibre: the material, or unknown; wet: yes, no or unknown
    returns: low and high [-]; an unknown is taken at its worst at the low end
    Source: HB, fibre tables, from memory.

    >>> wet_share("nylon", "unknown")
    (0.8, 1.0)
    """
    if wet == "no":
        return 1.0, 1.0
    kept = row("materials", "wet." + ("nylon" if fibre == "unknown" else fibre))
    return kept.low, (1.0 if wet == "unknown" or fibre == "unknown" else kept.high)


def wet_term(fibre: str, wet: str, end: RangeEnd) -> Term:
    """The share of strength kept at a place that may be wet, as a term w.

    fibre: the material, or unknown, which may be one that water weakens; wet: yes, no or unknown; end: of the range
    returns: the term [-]
    Source: HB, fibre tables, from memory.
    """
    own = row("materials", "wet." + ("nylon" if fibre == "unknown" else fibre))
    return Term("w", f"{own.name}; gets wet: {wet}", wet_share(fibre, wet)[ENDS.index(end)], "share", own.cited)
