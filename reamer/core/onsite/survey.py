"""What was found on site into the survey, item by item, and out of it again."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

from reamer.core.anchor.inspection import newest
from reamer.core.answer.say import Sentence, words
from reamer.core.errors import PlanError
from reamer.core.model import Drop, Figure, Inspection, Known, Plan, Quick, Unknown
from reamer.core.onsite.noted import found_on_site, id_of, length
from reamer.core.plan.correction import AnchorFound, Correction, Handed, Happened, HeightFelt, PullFelt, Reached, Taken
from reamer.core.plan.limits import limits_m
from reamer.core.tables import row

MOST_RECORDS = 100
WORSE = ("good", "worn", "unknown", "bad")


def _known(c: HeightFelt, handed: Handed) -> Known:
    return Known(kind="known", value=c.m, method=c.method, on=handed.on, by=handed.by)


def _record(c: Correction, handed: Handed, drop: Drop) -> Inspection | None:
    """A correction as a record of the station, None where the survey has no use for it. What is found good is used,
    unless it was found less than good before; a rope that reached by less than the card told says that the drop is
    higher; what is open is decided at the desk. What two people felt are two records: of one
    thing only the newest is told."""
    found, item, open_ = found_on_site(c), "", True
    match c:
        case HeightFelt():
            item = f"the height, by {handed.by}"
        case Reached() if not c.reached or _less(c):
            item = f"the reach of {c.end}, by {handed.by}"
        case PullFelt() if c.felt in ("hard", "stuck"):
            item = f"the pull, by {handed.by}"
        case AnchorFound():
            item, open_ = c.item, c.state != "good" or _doubted(drop, c.item)
        case Happened():
            item = f"{'near miss' if c.near else 'incident'}: {c.words}"
        case _:
            return None
    text = f"{words(found)[:1].upper()}{words(found)[1:]}."
    state: Literal["good", "worn", "bad", "unknown"] = "unknown"
    if isinstance(c, AnchorFound):
        state = "bad" if c.state == "gone" else c.state
    return Inspection(
        id=f"c-{id_of(handed, c)}",
        on=handed.on,
        item=item[:80].strip(),
        found=text,
        condition=state,
        decision="undecided" if open_ else "use",
    )


def taking(c: Correction, handed: Handed, drop: Drop | None) -> tuple[Sentence | None, str]:
    """What taking a correction into the survey would do.

    c: the correction; handed: what it came with; drop: its station in the plan, None where it is gone
    returns: what it would do; or None, and why not
    Source: J, our judgement.
    """
    if drop is None:
        return None, "the station is gone from the plan; it is kept for the log"
    if isinstance(c, HeightFelt) and isinstance(drop.section, Quick):
        had = drop.section.height_m
        new = {"m": length(c.m)}
        if isinstance(had, Unknown):
            return Sentence("The height becomes {m} by {how}.", new, {"how": str(c.method)}), ""
        told = {"how": str(c.method), "was": str(had.method)}
        said = "The height becomes {m} by {how}, in place of {had} by {was}."
        if c.m < had.value and _error(c.method) > _error(had.method):
            said += " It is shorter, and felt less exactly: the longer one asks for more rope."
        if had.on is not None:
            said = said.replace("{had} by {was}", "{had} by {was} of {day}")
            told["day"] = str(had.on)
        if _older(handed, had):
            said += " It is the older one: it was measured on {felt}."
            told["felt"] = str(handed.on)
        return Sentence(said, {**new, "had": length(had.value)}, told), ""
    record = _record(c, handed, drop)
    if record is None:
        return None, "it is kept for the log; the survey has no figure for it"
    bad = _condemned(drop, record.item)
    if isinstance(c, AnchorFound) and c.state != "gone" and bad is not None and (bad.on or handed.on) >= handed.on:
        return None, "a record that is as new finds it bad: settle it there"
    other, milder = _now(drop, record), _milder(drop, record)
    later = str(other.on) if other is not None and other.on is not None and other.on > handed.on else ""
    said = "A record that {item} was found good." if record.decision == "use" else "A record of {item}, to be decided"
    said += "" if record.decision == "use" else " at the desk."
    said = f"The drop is surveyed in shots, which stay. {said}" if c.what == "height" else said
    said += " The one of {later} is newer, and counts." if later else ""
    told = {"item": record.item, "later": later}
    if milder is not None:
        said += " It takes the place of one that counts now: {state}" + (", “{found}”" if milder.found else "")
        said += ", of {day}." if milder.on else "."
        state = "to be replaced" if milder.decision == "replace" else str(milder.condition)
        told |= {"state": state, "found": milder.found[:100].rstrip("."), "day": str(milder.on)}
    return Sentence(said, {}, told), ""


def _older(handed: Handed, had: Known) -> bool:
    """Whether what was felt is of a day before the figure that it would replace."""
    return had.on is not None and handed.on < had.on


def _now(drop: Drop, record: Inspection) -> Inspection | None:
    """The record of a thing that counts now, other than this one."""
    others = tuple(i for i in drop.station.inspections if i.id != record.id)
    return newest(others).get(record.item.casefold())


def _milder(drop: Drop, record: Inspection) -> Inspection | None:
    """The record that a milder one would take the place of: it counts now, and would not any more."""
    had = _now(drop, record)
    if had is None or (had.on is not None and record.on is not None and had.on > record.on):
        return None
    if _from_card(had) and had.on == record.on:
        # Of what two phones found on one day the worse is told.
        return None
    replaced = had.decision == "replace" and record.decision != "replace"
    return had if replaced or WORSE.index(record.condition) < WORSE.index(had.condition) else None


def _from_card(record: Inspection) -> bool:
    return record.id.startswith("c-")


def _condemned(drop: Drop, item: str) -> Inspection | None:
    """The newest record that is not from a card, where it finds a thing bad or says to replace it."""
    own = newest(tuple(i for i in drop.station.inspections if not _from_card(i))).get(item.casefold())
    return own if own is not None and (own.condition == "bad" or own.decision == "replace") else None


def _doubted(drop: Drop, item: str) -> bool:
    """Whether the newest record that is not from a card says less than that a thing is good and used."""
    own = newest(tuple(i for i in drop.station.inspections if not _from_card(i))).get(item.casefold())
    return own is not None and (own.condition, own.decision) != ("good", "use")


def _less(c: Reached) -> bool:
    """Whether a rope that reached had less to spare than the card told at worst."""
    return c.by_m is not None and c.was_m is not None and c.by_m < c.was_m


def _error(method: str) -> float:
    return row("methods", method).high


def careful(c: Correction, handed: Handed, drop: Drop) -> bool:
    """Whether taking a correction asks for more care, and never for less.

    c: the correction; handed: what it came with; drop: its station in the plan
    returns: whether it is bad news: a longer drop, or a record that is to be decided; never what is older than the
    figure that it would replace, nor what would take the place of a worse record
    Source: J, our judgement.
    """
    if isinstance(c, HeightFelt) and isinstance(drop.section, Quick):
        had, new = drop.section.height_m, _known(c, handed)
        longer = isinstance(had, Known) and new.value >= had.value and limits_m(new)[1] >= limits_m(had)[1]
        return longer and isinstance(had, Known) and not _older(handed, had)
    record = _record(c, handed, drop)
    return record is not None and record.decision == "undecided" and _milder(drop, record) is None


def is_taken(drop: Drop, c: Correction, handed: Handed) -> bool:
    """Whether a correction is in the survey.

    drop: its station in the plan; c: the correction; handed: what it came with
    returns: whether it is
    Source: none, comparison.
    """
    if isinstance(c, HeightFelt) and isinstance(drop.section, Quick):
        return drop.section.height_m == _known(c, handed)
    return any(i.id == f"c-{id_of(handed, c)}" for i in drop.station.inspections)


def _with(plan: Plan, drop: Drop) -> Plan:
    return plan.model_copy(update={"drops": tuple(drop if d.id == drop.id else d for d in plan.drops)})


def _height_as(drop: Drop, figure: Known | Unknown) -> Drop:
    return drop.model_copy(update={"section": drop.section.model_copy(update={"height_m": figure})})


def _records_as(drop: Drop, records: Iterable[Inspection]) -> Drop:
    # Those from cards last, by day, and of one day the worst last: the order in which they came does not count, and
    # the newest is the one that is told.
    records = list(records)
    own = [i for i in records if not _from_card(i)]
    came = sorted(filter(_from_card, records), key=lambda i: (str(i.on), WORSE.index(i.condition), i.id))
    some = [*own, *came]
    if len(some) > MOST_RECORDS:
        raise PlanError("take", f"{drop.name} has {len(some)} records; a station holds {MOST_RECORDS}")
    station = drop.station.model_copy(update={"inspections": tuple(some)})
    return drop.model_copy(update={"station": station})


def taken_in(plan: Plan, handed: Handed, ids: Sequence[str]) -> tuple[Plan, tuple[Taken, ...]]:
    """Corrections into the survey, item by item.

    plan: as it is now; handed: what came; ids: of the corrections that are taken
    returns: the plan, and what was taken, each with what stood there before
    raises: PlanError for one that is not there or cannot be taken, two heights of one drop, or too many records
    Source: J, our judgement.
    """
    known = {id_of(handed, c): c for c in handed.corrections}
    made: list[Taken] = []
    heights: set[str] = set()
    for n, i in enumerate(ids):
        c = known.get(i)
        drop = next((d for d in plan.drops if c is not None and d.id == c.drop), None)
        if c is None or drop is None or taking(c, handed, drop)[0] is None:
            raise PlanError(f"take/{n}", "it is not among what can be taken into the survey")
        if is_taken(drop, c, handed):
            continue
        if isinstance(c, HeightFelt) and isinstance(drop.section, Quick):
            if drop.id in heights:
                raise PlanError(f"take/{n}", f"two heights of {drop.name}: take one")
            heights.add(drop.id)
            made.append(Taken(id=i, drop=drop.id, before=drop.section.height_m, after=_known(c, handed)))
            plan = _with(plan, _height_as(drop, _known(c, handed)))
            continue
        record = _record(c, handed, drop)
        assert record is not None
        made.append(Taken(id=i, drop=drop.id))
        plan = _with(plan, _records_as(drop, (*drop.station.inspections, record)))
    return plan, tuple(made)


def given_back(plan: Plan, taken: Sequence[Taken], undone: Sequence[Taken] = ()) -> tuple[Plan, tuple[Sentence, ...]]:
    """What was taken into the survey out of it again; what somebody changed since stays as it is.

    plan: as it is now; taken: what was taken; undone: what was taken back before, so that no height comes back with it
    returns: the plan, and what stays, in words
    Source: J, our judgement.
    """
    left: list[Sentence] = []
    for t in reversed(taken):
        drop = next((d for d in plan.drops if d.id == t.drop), None)
        if drop is None:
            continue
        if t.before is None:
            plan = _with(plan, _records_as(drop, (i for i in drop.station.inspections if i.id != f"c-{t.id}")))
            continue
        if not isinstance(drop.section, Quick) or drop.section.height_m != t.after:
            left.append(Sentence("The height of {name} was changed since: it stays.", {}, {"name": drop.name}))
            continue
        before: Figure = t.before
        again = list(undone)
        while x := next((u for u in again if u.drop == t.drop and u.after == before), None):
            again.remove(x)
            before = x.before or before
        plan = _with(plan, _height_as(drop, before))
    return plan, tuple(left)
