"""Coming home: what was found on site beside what the card said and what the plan says now."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from reamer.core.answer.say import Sentence, words
from reamer.core.assess import Assessment
from reamer.core.errors import PlanError
from reamer.core.model import Plan
from reamer.core.onsite.figures import on_card
from reamer.core.onsite.noted import about, card_said, found_on_site, id_of, plan_says, title_of
from reamer.core.onsite.survey import careful, is_taken, taking
from reamer.core.plan.correction import Correction, Handed


@dataclass(frozen=True, slots=True)
class Came:
    """One correction. ``id``: by its content; ``number``: of the station in the plan, 0 where it is gone; ``found``: on
    site; ``card``: what the card said, ``plan``: what the plan says now, None where neither says anything; ``moved``:
    the plan no longer says what the card said; ``had``: accepted before; ``others``: what else was noted of the same;
    ``take``: what taking it into the survey would do, None where there is nothing to take, and ``why``; ``careful``:
    taking it asks for more care, never for less; ``taken``: it is in the survey; ``called``: the station's name on the
    card, where it is another."""

    id: str
    drop: str
    number: int
    station: str
    what: str
    title: Sentence
    found: Sentence
    card: Sentence | None
    plan: Sentence | None
    moved: bool
    had: bool
    others: tuple[Sentence, ...]
    take: Sentence | None
    why: str
    careful: bool
    taken: bool
    called: str


@dataclass(frozen=True, slots=True)
class Homecoming:
    """What one phone hands back, laid beside the plan. ``elsewhere``: the card was made from another copy of the plan,
    or from a file."""

    title: str
    by: str
    on: str
    revision: int
    elsewhere: bool
    came: tuple[Came, ...]


def of_this_plan(plan_id: str, plan: Plan, revision: int, handed: Handed) -> None:
    """Refuse what was handed back of another plan: by its id, or where the card was made from a file or another copy,
    by its stations; and of a revision that never was.

    plan_id, plan, revision: on the desk; handed: what came
    returns: nothing
    raises: PlanError
    Source: J, our judgement: an id that is the same on a station of another name is another station.
    """
    if handed.plan == plan_id:
        if not 1 <= handed.revision <= revision:
            was = f"its card was made from revision {handed.revision}, and this plan has {revision}"
            raise PlanError("revision", f"{was}: is it of another library?")
        return
    here = {d.id: d.name for d in plan.drops}
    strange = next((c.station for c in handed.corrections if here.get(c.drop) != c.station), None)
    if strange is not None:
        raise PlanError("plan", f"it is of another plan, “{handed.title}”: this one has no such station “{strange}”")


def homecoming(
    plan_id: str, plan: Plan, a: Assessment, handed: Handed, others: Iterable[tuple[Handed, bool]] = ()
) -> Homecoming:
    """What one phone hands back, laid beside the plan as it is now.

    plan_id, plan, a: as they are now; handed: what came; others: everything else that came, and whether it is accepted
    returns: every correction, in the order of the stations
    Source: none, comparison.
    """
    now = {s.drop: s for s in on_card(plan, a)}
    order = [d.id for d in plan.drops]
    drops = {d.id: d for d in plan.drops}
    accepted: set[str] = set()
    same: dict[tuple[str, ...], dict[str, tuple[Handed, Correction]]] = {}
    for other, kept in others:
        for c in other.corrections:
            other_id = id_of(other, c)
            accepted |= {other_id} if kept else set()
            same.setdefault(about(c), {})[other_id] = (other, c)
    made = []
    for c in handed.corrections:
        mine = id_of(handed, c)
        drop, says = drops.get(c.drop), now.get(c.drop)
        card, here = card_said(c), plan_says(c, says)
        take, why = taking(c, handed, drop)
        made.append(
            Came(
                id=mine,
                drop=c.drop,
                number=order.index(c.drop) + 1 if c.drop in drops else 0,
                station=drop.name if drop else c.station,
                what=c.what,
                title=title_of(c),
                found=found_on_site(c),
                card=card,
                plan=here,
                moved=drop is not None and _told(card) != _told(here),
                had=mine in accepted,
                others=tuple(_other(*x, c) for i, x in same.get(about(c), {}).items() if i != mine),
                take=take,
                why=why,
                careful=drop is not None and take is not None and careful(c, handed, drop),
                taken=drop is not None and is_taken(drop, c, handed),
                called=c.station if drop is not None and drop.name != c.station else "",
            )
        )
    made.sort(key=lambda x: (x.number == 0, x.number))
    elsewhere = handed.plan != plan_id
    return Homecoming(handed.title, handed.by, handed.on.isoformat(), handed.revision, elsewhere, tuple(made))


def _other(other: Handed, theirs: Correction, mine: Correction) -> Sentence:
    """What somebody else noted of the same."""
    found = found_on_site(theirs)
    told = {"by": other.by, "on": other.on.isoformat()}
    if words(found) == words(found_on_site(mine)):
        return Sentence("{by}, {on}: the same", {}, told)
    return Sentence("{by}, {on}: " + found.template, found.numbers, {**told, **found.words})


def _told(s: Sentence | None) -> str:
    return words(s) if s is not None else ""
