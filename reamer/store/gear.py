"""The gear record of one database: what things have been through, and what came with plans' files."""

from __future__ import annotations

import datetime as dt
import json
import sqlite3

from reamer.core.errors import PlanError
from reamer.core.model import Gear, GearRecord, Shed
from reamer.core.plan.gear import GEAR_LISTS, MOST_NAMES, MOST_RECORDS, FromLog, GearFile, plainly
from reamer.core.reading import read_model
from reamer.store.database import transaction
from reamer.store.documents import Document, Documents
from reamer.store.log import Log


class Gears:
    """The records of one database."""

    def __init__(self, conn: sqlite3.Connection):
        self.conn = conn
        self.records = Documents(conn, "gear", GearRecord, "this record")

    def state(self) -> tuple[int, ...]:
        """What changes whenever a record or a logged descent does."""
        counts = "SELECT (SELECT count(*) FROM gear_revision), (SELECT count(*) FROM trip_revision)"
        return tuple(self.conn.execute(counts).fetchone())

    def gear(self, on: dt.date) -> Gear:
        """Everything that things are held against.

        on: today
        """
        records = tuple(r.body for r in self.records.every() if r.body is not None)
        trips = tuple(FromLog(t.id, t.trip) for t in Log(self.conn).every() if t.trip is not None and t.trip.used)
        return Gear(on, records, trips)

    def came(self, plan_id: str) -> tuple[GearRecord, ...]:
        """The records that came with a plan's file, or with the plan that it is a copy of."""
        row = self.conn.execute("SELECT body FROM gear_came WHERE plan_id = ?", (plan_id,)).fetchone()
        return read_model(GearFile, json.loads(row["body"])).records if row is not None else ()

    def follow(self, was: Shed, now: Shed) -> None:
        """A thing that is given another name keeps its record, where that name has none of its own.

        was, now: a plan's shed before and after
        """
        for where in GEAR_LISTS:
            before = {x.id: x.name for x in getattr(was, where)}
            for thing in getattr(now, where):
                old = before.get(thing.id, thing.name)
                if plainly(old) == plainly(thing.name):
                    continue
                records = [r for r in self.records.every() if r.body is not None]
                if any(r.body.is_of(where, thing.name) for r in records if r.body):
                    continue
                for r in records:
                    if r.body is not None and r.body.is_of(where, old) and len(r.body.names) < MOST_NAMES:
                        named = r.body.model_copy(update={"names": (*r.body.names, thing.name)})
                        self.records.save(r.id, r.revision, named)

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
