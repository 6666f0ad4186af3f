"""The log: descents as they were. Every save adds a revision; none is changed or removed."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from reamer.core.errors import PlanError
from reamer.core.plan.log import MOST_TRIPS, Trip
from reamer.store.database import transaction
from reamer.store.documents import Document, Documents, NoSuchDocument
from reamer.store.unread import PutAway, Unread, plainly_in


@dataclass(frozen=True, slots=True)
class LoggedTrip:
    """A descent as it stands in the log; ``trip``: None where it was removed."""

    id: str
    plan_id: str
    plan_title: str
    origin: str
    revision: int
    saved_at: str
    trip: Trip | None


class Log:
    """The log of one database."""

    def __init__(self, conn: sqlite3.Connection):
        self.conn = conn
        self.trips = Documents(conn, "trip", Trip, "this descent's log")

    def of(self, plan_id: str) -> list[LoggedTrip]:
        """The descents of one plan, newest first."""
        return self._told(self.trips.every("AND d.plan_id = ?", (plan_id,)))

    def every(self) -> list[LoggedTrip]:
        """Every descent in the library, of plans in the bin too: what happened, happened."""
        return self._told(self.trips.every())

    def unread(self) -> list[Unread]:
        """Descents that cannot be read."""
        away = PutAway(self.conn).every()
        of = {r["id"]: r["plan_id"] for r in self.conn.execute("SELECT id, plan_id FROM trip")}
        made = []
        for i, text, why in self.trips.unread():
            on = plainly_in(text, "on")
            told = f"the descent of {on[0]} in the log" if on else "a descent in the log"
            names = plainly_in(text, "used", "name")
            made.append(Unread("descent", i, of[i], told, why, ("descent", i) in away, names, text or ""))
        return made

    def _told(self, some: list[Document[Trip]]) -> list[LoggedTrip]:
        rows = self.conn.execute(
            """
            SELECT t.id, t.plan_id, coalesce(r.title, '') AS title, coalesce(p.origin, '') AS origin
            FROM trip t LEFT JOIN plan p ON p.id = t.plan_id LEFT JOIN revision r
              ON r.plan_id = t.plan_id AND r.number = (SELECT max(number) FROM revision WHERE plan_id = t.plan_id)
            """
        )
        of = {r["id"]: (r["plan_id"], r["title"], r["origin"]) for r in rows}
        made = [LoggedTrip(t.id, *of[t.id], t.revision, t.saved_at, t.body) for t in some]
        return sorted(made, key=lambda t: (t.trip.on.isoformat() if t.trip else "", t.id), reverse=True)

    def one(self, plan_id: str, trip_id: str) -> LoggedTrip:
        """One descent of a plan, also a removed one. Raises NoSuchDocument."""
        row = self.conn.execute("SELECT 1 FROM trip WHERE id = ? AND plan_id = ?", (trip_id, plan_id)).fetchone()
        if row is None:
            raise NoSuchDocument(trip_id)
        return self._told([self.trips.one(trip_id)])[0]

    def add(self, plan_id: str, trip: Trip) -> LoggedTrip:
        """Log a descent. Raises PlanError where there are too many."""
        with transaction(self.conn):
            count = self.conn.execute("SELECT count(*) FROM trip WHERE plan_id = ?", (plan_id,)).fetchone()[0]
            if count >= MOST_TRIPS:
                raise PlanError("", f"a plan's log holds {MOST_TRIPS} descents at the most")
            made = self.trips.add(trip, plan_id=plan_id).id
        return self.one(plan_id, made)

    def save(self, plan_id: str, trip_id: str, base: int, trip: Trip | None) -> LoggedTrip:
        """Save an edit made from revision ``base``, None to remove it."""
        self.one(plan_id, trip_id)
        self.trips.save(trip_id, base, trip)
        return self.one(plan_id, trip_id)

    def take_back(self, plan_id: str, trip_id: str, base: int) -> LoggedTrip:
        """Take the last change back, a removal too, as a new revision."""
        self.one(plan_id, trip_id)
        self.trips.take_back(trip_id, base)
        return self.one(plan_id, trip_id)
