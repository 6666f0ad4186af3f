"""Plans as they are opened and listed."""

from __future__ import annotations

import logging
import sqlite3
from contextlib import suppress
from dataclasses import dataclass

from reamer.core.answer.context import fingerprint
from reamer.core.answer.say import Number
from reamer.core.assess import Assessment
from reamer.core.errors import PlanError
from reamer.core.model import Plan
from reamer.core.second.check import Standing, Tally
from reamer.core.second.ruled import Ruled, by_rule, rules, said_of
from reamer.desk.desk import Desk
from reamer.desk.worked import Worked
from reamer.store.plans import Head, Listed

UNKNOWN_M, WALK_M = 6.0, 2.0


@dataclass(frozen=True, slots=True)
class PlanView:
    """A plan as it stands, with its assessment, without acts: those are tried out when they are asked for.
    ``standing``: how it stands, and its findings of which a second person said something; ``ruled``: what the rules
    say anew of it, until that is read; ``rests``: alike as long as every answer is that does not
    tell what somebody said; ``stamp``: alike for what is alike in all of it."""

    id: str
    revision: int
    saved_at: str
    what: str
    can_undo: bool
    can_redo: bool
    plan: Plan
    assessment: Assessment
    standing: Standing
    ruled: tuple[Ruled, ...]
    rests: str
    stamp: str


@dataclass(frozen=True, slots=True)
class ListedPlan:
    """A plan in the list or the bin. ``outline``: the rock of all its drops from the first tie down [m], a drop without
    a section as a plumb line; ``tally``: how it stands, None in the bin; ``trouble``: why it cannot be opened, "" if
    it can."""

    id: str
    title: str
    revision: int
    saved_at: str
    what: str
    deleted_at: str | None
    archived_at: str | None
    place: str
    on: str | None
    drops: int
    total_height: Number
    outline: tuple[tuple[float, float], ...]
    tally: Tally | None
    trouble: str


def view(desk: Desk, head: Head) -> PlanView:
    """A plan as it stands."""
    found = desk.work(head.id, head.plan, head.text)
    of = (head.id, head.revision, head.saved_at, head.what, head.can_undo, head.can_redo)
    standing, ruled = found.standing, _ruled(desk, head, found)
    stamp = fingerprint(repr((of, found.rests, standing, ruled)))[:16]
    made = PlanView(*of, head.plan, found.a, standing, ruled, found.rests, stamp)
    kept: PlanView = desk.memory.views.of((desk.library, stamp), lambda: made)
    return kept


def seen(desk: Desk, plan_id: str, stamp: str) -> PlanView | None:
    """The view of a plan that somebody has, None where it is no longer at hand."""
    found: PlanView | None = desk.memory.views.get((desk.library, stamp))
    return found if found is not None and found.id == plan_id else None


def opened(desk: Desk, plan_id: str) -> PlanView:
    """A plan as it stands. Raises NoSuchPlan."""
    return view(desk, desk.head(plan_id))


def _ruled(desk: Desk, head: Head, found: Worked) -> tuple[Ruled, ...]:
    """What the rules say anew of a plan since it was last saved under others, until somebody has read it."""
    sayings = desk.sayings
    with desk.reading():
        had, before = sayings.has(head.id, head.revision), sayings.other(head.id, rules())
    if not had:
        # A plan opens on a disk that is full, too.
        with suppress(sqlite3.OperationalError), desk.writing():
            keep_said(desk, head.id, head.revision, found.a)
    if before is None:
        return ()
    try:
        then = desk.then(head.id, before.number)
    except PlanError:
        return ()
    made = by_rule(before.keys, then.a, found.a)
    if not made:
        with suppress(sqlite3.OperationalError), desk.writing():
            sayings.read(head.id, head.revision, rules(), said_of(found.a))
    return tuple(made)


def keep_said(desk: Desk, plan_id: str, revision: int, a: Assessment) -> None:
    """Keep what is said of a revision that is being saved."""
    desk.sayings.keep(plan_id, revision, rules(), said_of(a))


def read_ruled(desk: Desk, plan_id: str) -> None:
    """Somebody has read what the rules say anew of a plan."""
    head = desk.head(plan_id)
    found = desk.work(plan_id, head.plan, head.text)
    with desk.writing():
        desk.sayings.read(plan_id, head.revision, rules(), said_of(found.a))


def listed(desk: Desk, deleted: bool = False) -> list[ListedPlan]:
    """Plans in use, or those in the bin; newest save first."""
    with desk.reading():
        rows = desk.plans.listed(deleted)
    return [_bare(row) if deleted else _listed(desk, row) for row in rows]


def _bare(row: Listed, trouble: str = "") -> ListedPlan:
    return ListedPlan(*_of(row), "", None, 0, Number(0, "length"), (), None, trouble)


def _of(row: Listed) -> tuple[str, str, int, str, str, str | None, str | None]:
    return row.id, row.title, row.revision, row.saved_at, row.what, row.deleted_at, row.archived_at


def _listed(desk: Desk, row: Listed) -> ListedPlan:
    try:
        found = desk.at(row.id, row.revision)
        a, plan, tally = found.a, found.plan, found.standing.tally
    except PlanError as e:
        return _bare(row, f"It cannot be read: {e}.")
    except Exception as e:
        # No plan may keep the others from being listed.
        logging.getLogger("reamer").exception("a plan cannot be assessed", exc_info=e)
        return _bare(row, "It cannot be worked out: something failed inside Reamer.")
    on = str(plan.on) if plan.on else None
    return ListedPlan(*_of(row), plan.place, on, len(a.drops), a.total_height, _outline(a), tally, "")


def _outline(a: Assessment) -> tuple[tuple[float, float], ...]:
    """The rock of all drops one after another, with a short walk between."""
    x, z, made = 0.0, 0.0, [(0.0, 0.0)]
    for d in a.drops:
        some = [] if d.geometry.missing else [(p.x_m, p.z_m) for p in d.geometry.terrain]
        some = some or [(0.0, -UNKNOWN_M)]
        made += [(round(x + px, 1), round(z + pz, 1)) for px, pz in some]
        x, z = x + some[-1][0] + WALK_M, z + some[-1][1]
        made.append((round(x, 1), round(z, 1)))
    return tuple(made)
