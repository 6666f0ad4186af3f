"""What if: every event at every station."""

from __future__ import annotations

from reamer.core.anchor.cutting import WebbingAssessment
from reamer.core.answer.context import Context, context
from reamer.core.descent.field import Field, StationEvents
from reamer.core.descent.gone import lost, stuck
from reamer.core.descent.harder import heavier, longer, wet
from reamer.core.descent.helped import anchor, dark, hurt, one_short
from reamer.core.descent.times import Times
from reamer.core.model import Known, Plan
from reamer.core.tables import row


def heavy_context(plan: Plan) -> Context:
    """The plan with everybody heavier.

    plan: the plan
    returns: its context
    Source: J, table of loads.
    """
    by = row("loads", "heavier").high
    party = []
    for p in plan.party:
        kg = p.mass_kg
        if isinstance(kg, Known):
            p = p.model_copy(update={"mass_kg": kg.model_copy(update={"value": kg.value + by})})
        party.append(p)
    return context(plan.model_copy(update={"party": tuple(party)}))


def matrix(field: Field, times: Times, webbing: tuple[WebbingAssessment, ...]) -> tuple[StationEvents, ...]:
    """Every event at every station.

    field: the descent; times: of it; webbing: what is cut of each, and what is left
    returns: one row a station
    Source: see the functions it calls.
    """
    heavy, made = heavy_context(field.plan), []
    for k, drop in enumerate(field.plan.drops):
        cells = (
            stuck(field, k),
            lost(field, k),
            anchor(field, k, webbing),
            longer(field.ctx, k, field.drops[k], field.served[k].why),
            wet(field, k),
            heavier(field, k, heavy),
            hurt(field, k),
            one_short(field, k),
            dark(field, k, times),
        )
        made.append(StationEvents(drop.id, k + 1, cells))
    return tuple(made)
