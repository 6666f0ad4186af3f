"""The whole descent: the rope ledger, the times, what is carried and left."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.anchor.cutting import WebbingAssessment
from reamer.core.answer.context import Context
from reamer.core.answer.findings import Finding, told_of
from reamer.core.answer.kept import NOTHING, ByThings
from reamer.core.answer.working import Book
from reamer.core.descent.kit import Kit, kit
from reamer.core.descent.ledger import Ledger, ledger
from reamer.core.descent.times import Times, time_findings, times
from reamer.core.station.state import DropAssessment


@dataclass(frozen=True, slots=True)
class Descent:
    """The plan as one descent: which rope is where, when the party is where, what is carried and stays."""

    ledger: Ledger
    times: Times
    kit: Kit


def descent(
    ctx: Context,
    drops: tuple[DropAssessment, ...],
    webbing: tuple[WebbingAssessment, ...],
    book: Book,
    made: ByThings = NOTHING,
) -> tuple[Descent, tuple[Finding, ...]]:
    """The plan as one descent, with what is wrong with it.

    ctx: the plan's context; drops: their assessments; webbing: what the stations take of it; book: how numbers are
    made; made: what of it was made before, where no workings are kept
    returns: the descent and its findings
    Source: see the functions it calls.
    """
    ropes, follow = ledger(ctx, drops, made)
    when = times(ctx, drops, ropes, book, made)
    late = told_of(time_findings(ctx.plan, when))
    carry, short = kit(ctx, webbing, book)
    return Descent(ropes, when, carry), (*follow, *late, *short)
