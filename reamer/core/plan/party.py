"""Who goes first, who goes last, who may be alone."""

from __future__ import annotations

from collections.abc import Iterable

from reamer.core.plan.people import Person, able
from reamer.core.plan.plan import Plan
from reamer.core.plan.station import Drop

# Who is last by rule, and who is first: the most experienced leave the anchor and find the next one.
LAST = ("guide", "second guide", "able", "novice")
FIRST = ("second guide", "able", "guide", "novice")


def proposed_order(party: Iterable[Person]) -> tuple[Person, ...]:
    """The order in which a party goes: able first, novices between, able last.

    party: everybody
    returns: the order; with one able person they go first and the others are pre-rigged behind them
    Source: P, common practice, no source.
    """
    people = list(party)
    if len(people) < 2:
        return tuple(people)
    can = [p for p in people if able(p)]
    if len(can) < 2:
        return (*can, *(p for p in people if p not in can))
    last = min(can, key=lambda p: LAST.index(p.role))
    first = min((p for p in can if p is not last), key=lambda p: FIRST.index(p.role))
    rest = [p for p in people if p is not first and p is not last]
    return (first, *(p for p in rest if not able(p)), *(p for p in rest if able(p)), last)


def order_of(plan: Plan, drop: Drop) -> tuple[Person, ...]:
    """Who goes first to last at a station.

    plan: the plan; drop: the station's
    returns: the guide's order, who is missing from it put before the last; the rule's where there is none
    Source: as for proposed_order.
    """
    named = drop.station.through.order
    rule = proposed_order(plan.party)
    if not named:
        return rule
    by = {p.id: p for p in plan.party}
    own = [by[i] for i in named if i in by]
    missing = [p for p in rule if p.id not in named]
    return (*own[:-1], *missing, *own[-1:]) if own else rule


def unavoidable(party: Iterable[Person]) -> bool:
    """Whether some group is without an able person whatever the order.

    party: everybody
    returns: true with fewer than two able people, unless nobody needs one
    Source: P, common practice, no source.
    """
    people = list(party)
    return sum(able(p) for p in people) < 2 and any(not able(p) for p in people)
