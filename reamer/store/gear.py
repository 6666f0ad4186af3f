"""The gear record of one database: what things have been through, and what came with plans' files."""

from __future__ import annotations

import datetime as dt
import json
import sqlite3

from reamer.core.errors import PlanError
from reamer.core.model import Gear, GearRecord
from reamer.core.plan.gear import MOST_RECORDS, FromLog, GearFile
from reamer.core.reading import read_model
from reamer.store.database import transaction
from reamer.store.documents import Document, Documents
from reamer.store.log import Log


class Gears:
    """The records of one database."""

    def __init__(self, conn: sqlite3.Connection):
        self.conn = conn
        self.records = Documents(conn, "gear", GearRecord, "this record")

    def state(self, plan_id: str) -> tuple[int, ...]:
        """What changes whenever a record or a logged descent does, or what came with a plan."""
        row = self.conn.execute(
            """
            SELECT (SELECT count(*) FROM gear_revision), (SELECT count(*) FROM trip_revision),
              (SELECT count(*) FROM gear_came WHERE plan_id = ?)
            """,
            (plan_id,),
        ).fetchone()
        return tuple(row)

    def gear(self, plan_id: str, on: dt.date) -> Gear:
        """Everything that a plan's things are held against.

        plan_id: the plan; on: today
        """
        records = tuple(r.body for r in self.records.every() if r.body is not None)
        trips = tuple(FromLog(t.id, t.trip) for t in Log(self.conn).every() if t.trip is not None)
        return Gear(on, (*records, *self.came(plan_id)), trips)

    def came(self, plan_id: str) -> tuple[GearRecord, ...]:
        """The records that came with a plan's file."""
        row = self.conn.execute("SELECT body FROM gear_came WHERE plan_id = ?", (plan_id,)).fetchone()
        return read_model(GearFile, json.loads(row["body"])).records if row is not None else ()

    def keep(self, plan_id: str, gear: GearFile) -> None:
        """Keep the records that came with a plan's file, or with the plan that it is a copy of."""
        if gear.records:
            with transaction(self.conn):
                self.conn.execute("INSERT INTO gear_came VALUES (?, ?)", (plan_id, gear.model_dump_json()))

    def add(self, record: GearRecord) -> Document[GearRecord]:
        """Begin a record. Raises PlanError where another is of a thing of this name."""
        with transaction(self.conn):
            self._apart(record, "")
            if self.conn.execute("SELECT count(*) FROM gear").fetchone()[0] >= MOST_RECORDS:
                raise PlanError("", f"there are {MOST_RECORDS} records at the most")
            return self.records.add(record)

    def save(self, made: str, base: int, record: GearRecord | None) -> Document[GearRecord]:
        """Save an edit made from revision ``base``, None to remove it."""
        with transaction(self.conn):
            self.records.one(made)
            if record is not None:
                self._apart(record, made)
            return self.records.save(made, base, record)

    def take_back(self, made: str, base: int) -> Document[GearRecord]:
        """Take the last change back, a removal too, as a new revision."""
        with transaction(self.conn):
            back = self.records.take_back(made, base)
            if back.body is not None:
                self._apart(back.body, made)
            return back

    def _apart(self, record: GearRecord, made: str) -> None:
        for other in self.records.every():
            if other.id == made or other.body is None:
                continue
            for i, name in enumerate(record.names):
                if other.body.is_of(record.list, name):
                    raise PlanError(f"record/names/{i}", f"there is a record of {name} already")
