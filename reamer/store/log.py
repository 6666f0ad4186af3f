"""The log: descents as they were. Every save adds a revision; none is changed or removed."""

from __future__ import annotations

import json
import secrets
import sqlite3
from dataclasses import dataclass

from reamer.core.errors import PlanError
from reamer.core.plan.log import MOST_TRIPS, Trip
from reamer.core.reading import read_model
from reamer.store.database import StoreError, transaction
from reamer.store.plans import NothingToUndo, now


class NoSuchTrip(StoreError):
    """No descent in this plan's log has this id."""


class StaleTrip(StoreError):
    """The edit was made from a revision of a descent's log that is no longer the newest."""

    def __init__(self, base: int, newest: int):
        super().__init__(f"made from revision {base} of this descent's log, but the newest is {newest}")
        self.base, self.newest = base, newest


@dataclass(frozen=True, slots=True)
class LoggedTrip:
    """A descent as it stands in the log; ``trip``: None where it was removed."""

    id: str
    plan_id: str
    plan_title: str
    revision: int
    saved_at: str
    trip: Trip | None


class Log:
    """The log of one database."""

    def __init__(self, conn: sqlite3.Connection):
        self.conn = conn

    def of(self, plan_id: str) -> list[LoggedTrip]:
        """The descents of one plan, newest first."""
        return self._some("AND t.plan_id = ?", (plan_id,))

    def every(self) -> list[LoggedTrip]:
        """Every descent in the library, of plans in the bin too: what happened, happened."""
        return self._some("", ())

    def _some(self, where: str, values: tuple[str, ...]) -> list[LoggedTrip]:
        rows = self.conn.execute(
            f"""
            SELECT t.id, t.plan_id, r.number, r.saved_at, r.body,
              (SELECT title FROM revision p WHERE p.plan_id = t.plan_id ORDER BY p.number DESC LIMIT 1) AS title
            FROM trip t JOIN trip_revision r ON r.trip_id = t.id
            WHERE r.number = (SELECT max(number) FROM trip_revision WHERE trip_id = t.id)
              AND r.body IS NOT NULL {where}
            """,
            values,
        ).fetchall()
        made = [self._read(r) for r in rows]
        return sorted(made, key=lambda t: (t.trip.on.isoformat() if t.trip else "", t.id), reverse=True)

    def _read(self, r: sqlite3.Row) -> LoggedTrip:
        trip = read_model(Trip, json.loads(r["body"])) if r["body"] is not None else None
        return LoggedTrip(r["id"], r["plan_id"], r["title"], r["number"], r["saved_at"], trip)

    def one(self, plan_id: str, trip_id: str) -> LoggedTrip:
        """One descent of a plan, also a removed one. Raises NoSuchTrip."""
        row = self.conn.execute(
            """
            SELECT t.id, t.plan_id, r.number, r.saved_at, r.body, '' AS title
            FROM trip t JOIN trip_revision r ON r.trip_id = t.id
            WHERE t.id = ? AND t.plan_id = ? ORDER BY r.number DESC LIMIT 1
            """,
            (trip_id, plan_id),
        ).fetchone()
        if row is None:
            raise NoSuchTrip(trip_id)
        return self._read(row)

    def add(self, plan_id: str, trip: Trip) -> LoggedTrip:
        """Log a descent. Raises PlanError where there are too many."""
        made = secrets.token_hex(6)
        with transaction(self.conn):
            count = self.conn.execute("SELECT count(*) FROM trip WHERE plan_id = ?", (plan_id,)).fetchone()[0]
            if count >= MOST_TRIPS:
                raise PlanError("", f"a plan's log holds {MOST_TRIPS} descents at the most")
            self.conn.execute("INSERT INTO trip (id, plan_id) VALUES (?, ?)", (made, plan_id))
            self._insert(made, 1, trip.model_dump_json())
        return self.one(plan_id, made)

    def save(self, plan_id: str, trip_id: str, base: int, trip: Trip | None) -> LoggedTrip:
        """Save an edit made from revision ``base``, None to remove it. Raises StaleTrip if that is not the newest."""
        with transaction(self.conn):
            had = self.one(plan_id, trip_id)
            if had.revision != base:
                raise StaleTrip(base, had.revision)
            if trip != had.trip:
                self._insert(trip_id, base + 1, trip.model_dump_json() if trip is not None else None)
        return self.one(plan_id, trip_id)

    def take_back(self, plan_id: str, trip_id: str, base: int) -> LoggedTrip:
        """Take the last change back, a removal too, as a new revision. Raises NothingToUndo."""
        with transaction(self.conn):
            had = self.one(plan_id, trip_id)
            if had.revision != base:
                raise StaleTrip(base, had.revision)
            before = self.conn.execute(
                "SELECT body FROM trip_revision WHERE trip_id = ? AND number = ?", (trip_id, base - 1)
            ).fetchone()
            if before is None:
                raise NothingToUndo("there is nothing to undo in this descent's log")
            self._insert(trip_id, base + 1, before["body"])
        return self.one(plan_id, trip_id)

    def _insert(self, trip_id: str, number: int, body: str | None) -> None:
        self.conn.execute(
            "INSERT INTO trip_revision (trip_id, number, saved_at, body) VALUES (?, ?, ?, ?)",
            (trip_id, number, now(), body),
        )
