"""Kit and people whose figures are typical of their kind, until their owner has looked at their own."""

from __future__ import annotations

from dataclasses import replace

from reamer.core.answer.context import Context
from reamer.core.answer.findings import Finding, Fix, say
from reamer.core.answer.say import Sentence
from reamer.core.gear.findings import named_in
from reamer.core.model import Plan
from reamer.core.plan.edits import Edit
from reamer.core.plan.gear import GEAR_LISTS

MOST_NAMED = 8


def typical_findings(ctx: Context) -> tuple[Finding, ...]:
    """What the plan uses of which the figures are only typical: said once, with an act for each and one for all.

    ctx: the plan's context
    returns: one finding, or none
    Source: J, our judgement: a figure of somebody else's is not checked for one's own.
    """
    found = _typical(ctx.plan)
    if not found:
        return ()
    names = [name for name, _ in found]
    told = ", ".join(names[:MOST_NAMED]) + (f" and {len(names) - MOST_NAMED} more" if len(names) > MOST_NAMED else "")
    label = "{name} is as it says"
    each = tuple(
        Fix(Sentence(label, {}, {"name": name}), (edit,), allows="Shortfall", partly=True) for name, edit in found
    )
    said = say(
        "kit.typical",
        "Not checked",
        "shed",
        "Figures that are typical, not yours",
        "{told}. Put your own in under Shed, or say that they are as yours.",
        told=told,
    )
    every = Fix(Sentence("All of them are as they say", {}, {}), tuple(edit for _, edit in found), allows="Shortfall")
    return (replace(said.finding(), others=(*each[:MOST_NAMED], every)),)


def _typical(plan: Plan) -> list[tuple[str, Edit]]:
    """Things that are used, and people, by name, each with the edit that says that it was looked at."""
    things = [x for where in GEAR_LISTS for x in getattr(plan.shed, where)]
    named = named_in(plan) if any(x.typical for x in things) else frozenset()
    made = [
        (thing.name, Edit(("shed", where, n, "typical"), False))
        for where in GEAR_LISTS
        for n, thing in enumerate(getattr(plan.shed, where))
        if thing.typical and thing.id in named
    ]
    made += [(p.name, Edit(("party", n, "typical"), False)) for n, p in enumerate(plan.party) if p.typical]
    return made
