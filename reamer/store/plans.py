"""Plans and their revisions. Every save, undo and redo adds a revision; none is changed or removed."""

from __future__ import annotations

import datetime as dt
import json
import secrets
import sqlite3
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from reamer.core.errors import PlanError
from reamer.core.model import Plan
from reamer.core.plan.changes import describe_change
from reamer.core.reading import MOST_BYTES, read_plan
from reamer.store.database import StoreError, snapshot, transaction


class NoSuchPlan(StoreError):
    """No plan has this id."""


class NothingToUndo(StoreError):
    """There is no edit to undo or redo from here."""


class StaleRevision(StoreError):
    """The edit was made from a revision that is no longer the newest."""

    def __init__(self, base: int, newest: int, since: list[RevisionRow]):
        super().__init__(f"made from revision {base}, but the newest is {newest}")
        self.base, self.newest, self.since = base, newest, since


class NoSuchRevision(StoreError):
    """A revision that is asked about is not the newest, and no longer at hand."""

    def __init__(self, revision: int, newest: int):
        super().__init__(f"revision {revision} is no longer at hand; the newest is {newest}")
        self.newest = newest


@dataclass(frozen=True, slots=True)
class Head:
    """A plan as it stands: newest revision, when and what it changed, whether undo and redo have anywhere to go;
    ``text``: its content as it is stored."""

    id: str
    revision: int
    saved_at: str
    what: str
    can_undo: bool
    can_redo: bool
    plan: Plan
    text: str


@dataclass(frozen=True, slots=True)
class RevisionRow:
    """One revision in the history."""

    number: int
    kind: str
    saved_at: str
    what: str


@dataclass(frozen=True, slots=True)
class Listed:
    """A plan in the list or in the bin."""

    id: str
    title: str
    revision: int
    saved_at: str
    what: str
    deleted_at: str | None
    archived_at: str | None = None


Step = Literal["undo", "redo"]
LISTED = ("id", "title", "number", "saved_at", "what", "deleted_at", "archived_at")


def now() -> str:
    """This moment as it is stored."""
    return dt.datetime.now(dt.UTC).isoformat(timespec="milliseconds").replace("+00:00", "Z")


def plan_of(text: str) -> Plan:
    """A plan by its text as it is stored. Raises PlanError, whatever is wrong with it."""
    try:
        return read_plan(json.loads(text))
    except (json.JSONDecodeError, RecursionError):
        raise PlanError("", "it is not JSON") from None


class Plans:
    """The plans of one database."""

    def __init__(
        self,
        conn: sqlite3.Connection,
        read: Callable[[str], Plan] = plan_of,
        write: Callable[[Plan], str] = Plan.model_dump_json,
    ):
        """read: a plan by its text as it is stored; write: that text."""
        self.conn, self.read, self.write = conn, read, write

    def listed(self, deleted: bool = False) -> list[Listed]:
        """Plans in use, or those in the bin; newest save first."""
        rows = self.conn.execute(
            """
            SELECT plan.id, plan.deleted_at, plan.archived_at, coalesce(r.title, 'a plan without a title') AS title,
              coalesce(r.number, 0) AS number, coalesce(r.saved_at, plan.created_at) AS saved_at,
              coalesce(r.what, '') AS what
            FROM plan LEFT JOIN revision r ON r.plan_id = plan.id
              AND r.number = (SELECT max(number) FROM revision WHERE plan_id = plan.id)
            WHERE (plan.deleted_at IS NOT NULL) = ?
            ORDER BY 6 DESC, plan.id
            """,
            (deleted,),
        )
        return [Listed(*(r[k] for k in LISTED)) for r in rows]

    def create(self, plan: Plan, what: str = "created", origin: str = "") -> Head:
        """A new plan with its first revision; origin: what it was copied from, as origin() tells it."""
        plan_id = secrets.token_hex(6)
        with transaction(self.conn):
            self.conn.execute("INSERT INTO plan (id, created_at, origin) VALUES (?, ?, ?)", (plan_id, now(), origin))
            self._insert(plan_id, RevisionRow(1, "edit", now(), what), (1, None), plan.title, self.write(plan))
            return self._head(plan_id, plan)

    def same_as(self, plan: Plan) -> tuple[str, str] | None:
        """The id and title of a plan in use that is, or once was, just this one; None where there is none."""
        row = self.conn.execute(
            "SELECT plan.id, r.title "
            "FROM revision r JOIN plan ON plan.id = r.plan_id "
            "WHERE plan.deleted_at IS NULL AND r.title = ? AND r.body = ? ORDER BY r.saved_at DESC LIMIT 1",
            (plan.title, self.write(plan)),
        ).fetchone()
        return (row["id"], row["title"]) if row else None

    def origin(self, plan_id: str) -> str:
        """What a plan was copied from, however often: a plan's id or a demonstration; itself where it is no copy."""
        row = self.conn.execute("SELECT origin FROM plan WHERE id = ?", (plan_id,)).fetchone()
        return (row["origin"] or plan_id) if row else ""

    def origin_of(self, plan: Plan) -> str:
        """The origin of a plan that is, or once was, just this one, in the bin too; "" where there is none."""
        row = self.conn.execute(
            "SELECT plan_id FROM revision WHERE title = ? AND body = ? ORDER BY saved_at LIMIT 1",
            (plan.title, self.write(plan)),
        ).fetchone()
        return self.origin(row["plan_id"]) if row else ""

    def head(self, plan_id: str) -> Head:
        """The plan as it stands. Raises NoSuchPlan, also for one in the bin."""
        return self._head(plan_id, None)

    def _head(self, plan_id: str, plan: Plan | None) -> Head:
        """The plan as it stands; plan: its content, if it is at hand."""
        with snapshot(self.conn):
            row = self._head_row(plan_id)
            position = row["position"]
            body = self.conn.execute(
                "SELECT body, parent FROM revision WHERE plan_id = ? AND number = ?", (plan_id, position)
            ).fetchone()
            if body is None or body["body"] is None:
                raise PlanError("", f"the edit that it stands at, {position}, is not there")
            can_redo = self._child(plan_id, position) is not None
        return Head(
            plan_id,
            row["number"],
            row["saved_at"],
            row["what"],
            body["parent"] is not None,
            can_redo,
            plan or self.read(body["body"]),
            body["body"],
        )

    def at(self, plan_id: str, number: int) -> tuple[Plan, str]:
        """What a revision shows, and its text. Raises NoSuchRevision, and PlanError where it cannot be read."""
        with snapshot(self.conn):
            newest = self._head_row(plan_id)["number"]
            row = self.conn.execute(
                "SELECT body FROM revision WHERE plan_id = ? AND number ="
                " (SELECT position FROM revision WHERE plan_id = ? AND number = ?)",
                (plan_id, plan_id, number),
            ).fetchone()
        if row is None or row["body"] is None:
            raise NoSuchRevision(number, newest)
        return self.read(row["body"]), row["body"]

    def text(self, plan_id: str) -> tuple[str, str]:
        """The plan's title and its text as stored, whether or not it can still be read."""
        with snapshot(self.conn):
            row = self._head_row(plan_id)
            body = self.conn.execute(
                "SELECT body FROM revision WHERE plan_id = ? AND number = ?", (plan_id, row["position"])
            ).fetchone()
        return row["title"], body["body"]

    def history(self, plan_id: str, limit: int = 100) -> list[RevisionRow]:
        """Revisions, newest first."""
        self._head_row(plan_id)
        rows = self.conn.execute(
            "SELECT number, kind, saved_at, what FROM revision WHERE plan_id = ? ORDER BY number DESC LIMIT ?",
            (plan_id, limit),
        )
        return [RevisionRow(r["number"], r["kind"], r["saved_at"], r["what"]) for r in rows]

    def said_at(self, plan_id: str, number: int) -> str:
        """A revision in words, with the day it was saved."""
        sql = "SELECT saved_at FROM revision WHERE plan_id = ? AND number = ?"
        row = self.conn.execute(sql, (plan_id, number)).fetchone()
        return f"revision {number}, {row['saved_at'][:10] if row else ''}"

    def made(self, plan_id: str, key: str) -> bool:
        """Whether an edit or a step that was asked for by a key was made already."""
        sql = "SELECT 1 FROM revision WHERE plan_id = ? AND key = ?"
        return bool(key) and self.conn.execute(sql, (plan_id, key)).fetchone() is not None

    def save(self, plan_id: str, base: int, plan: Plan, key: str = "") -> Head:
        """Save an edit made from revision ``base``. Raises StaleRevision if that is not the newest.

        A save that changes nothing adds no revision. key: by which it is known that it was made."""
        with transaction(self.conn):
            head = self._at_base(plan_id, base)
            if plan != head.plan:
                position = self._head_row(plan_id)["position"]
                new = head.revision + 1
                row = RevisionRow(new, "edit", now(), describe_change(head.plan, plan))
                self._insert(plan_id, row, (new, position), plan.title, self.write(plan), key)
            return self._head(plan_id, plan)

    def step(self, plan_id: str, base: int, kind: Step, key: str = "") -> Head:
        """Step back to what the newest edit was made from, or forward to the newest edit made from here, as a new
        revision; key: by which it is known that it was made. Raises StaleRevision, NothingToUndo."""
        # What stands now is not read: a plan that cannot be read any more can still be stepped back from.
        with transaction(self.conn):
            target, title, what, body = self._beside(plan_id, base, kind)
            new = RevisionRow(base + 1, kind, now(), f"{kind}: {what}"[:300])
            self._insert(plan_id, new, (target, None), title, None, key)
            return self._head(plan_id, self.read(body))

    def beside(self, plan_id: str, base: int, kind: Step) -> tuple[Plan, str]:
        """What a step would lead to, and its text; nothing is saved. Raises as ``step`` does."""
        with snapshot(self.conn):
            body = self._beside(plan_id, base, kind)[3]
        return self.read(body), body

    def bin(self, plan_id: str) -> None:
        """Put a plan in the bin, also one that cannot be read."""
        self._there(plan_id)
        with transaction(self.conn):
            self.conn.execute("UPDATE plan SET deleted_at = ? WHERE id = ?", (now(), plan_id))

    def archive(self, plan_id: str, aside: bool) -> None:
        """Put a plan aside, or take it up again."""
        self._there(plan_id)
        with transaction(self.conn):
            self.conn.execute("UPDATE plan SET archived_at = ? WHERE id = ?", (now() if aside else None, plan_id))

    def restore(self, plan_id: str) -> None:
        """Take a plan out of the bin."""
        with transaction(self.conn):
            done = self.conn.execute(
                "UPDATE plan SET deleted_at = NULL WHERE id = ? AND deleted_at IS NOT NULL", (plan_id,)
            )
            if done.rowcount == 0:
                raise NoSuchPlan(plan_id)

    def _beside(self, plan_id: str, base: int, kind: Step) -> tuple[int, str, str, str]:
        """Which edit a step leads to: its number, the title, what is undone or done again, and the text."""
        row = self._head_row(plan_id)
        number, position = row["number"], row["position"]
        if number != base:
            raise StaleRevision(base, number, [r for r in self.history(plan_id) if r.number > base])
        sql = "SELECT title, parent, what, body FROM revision WHERE plan_id = ? AND number = ?"
        here = self.conn.execute(sql, (plan_id, position)).fetchone()
        target = here["parent"] if kind == "undo" else self._child(plan_id, position)
        if target is None:
            raise NothingToUndo(f"there is nothing to {kind}")
        to = self.conn.execute(sql, (plan_id, target)).fetchone()
        return target, to["title"], (here if kind == "undo" else to)["what"], to["body"]

    def _at_base(self, plan_id: str, base: int) -> Head:
        head = self._head(plan_id, None)
        if head.revision != base:
            raise StaleRevision(base, head.revision, [r for r in self.history(plan_id) if r.number > base])
        return head

    def _head_row(self, plan_id: str) -> sqlite3.Row:
        row: sqlite3.Row | None = self.conn.execute(
            "SELECT r.* FROM revision r JOIN plan ON plan.id = r.plan_id "
            "WHERE plan.id = ? AND plan.deleted_at IS NULL ORDER BY r.number DESC LIMIT 1",
            (plan_id,),
        ).fetchone()
        if row is None:
            self._there(plan_id)
            raise PlanError("", "it has no revision")
        return row

    def _there(self, plan_id: str) -> None:
        if not self.conn.execute("SELECT 1 FROM plan WHERE id = ? AND deleted_at IS NULL", (plan_id,)).fetchone():
            raise NoSuchPlan(plan_id)

    def _child(self, plan_id: str, position: int) -> int | None:
        found: int | None = self.conn.execute(
            "SELECT max(number) FROM revision WHERE plan_id = ? AND parent = ?", (plan_id, position)
        ).fetchone()[0]
        return found

    def _insert(
        self, plan_id: str, row: RevisionRow, at: tuple[int, int | None], title: str, body: str | None, key: str = ""
    ) -> None:
        """Add a revision; at: the edit it stands at, and the one that was made from; key: what it was asked for by."""
        if body is not None and len(body.encode()) > MOST_BYTES:
            size = len(body.encode())
            raise PlanError("", f"the plan would have {size:,} bytes; a plan has at most {MOST_BYTES:,}")
        self.conn.execute(
            "INSERT INTO revision (plan_id, number, kind, position, parent, saved_at, what, title, body, key) "
            "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            (plan_id, row.number, row.kind, *at, row.saved_at, row.what, title, body, key or None),
        )
