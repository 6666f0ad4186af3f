"""The gear record of one database: what things have been through, and what came with plans' files."""

from __future__ import annotations

import datetime as dt
import sqlite3

from reamer.core.errors import PlanError
from reamer.core.model import NO_GEAR, Gear, GearRecord, Shed
from reamer.core.plan.gear import GEAR_LISTS, MOST_NAMES, MOST_RECORDS, FromLog, GearFile, NotRead, plainly
from reamer.store.database import transaction
from reamer.store.documents import Document, Documents
from reamer.store.log import Log
from reamer.store.unread import PutAway, Unread, UnreadKind, plainly_in, read_text


class Gears:
    """The records of one database."""

    def __init__(self, conn: sqlite3.Connection):
        self.conn = conn
        self.records = Documents(conn, "gear", GearRecord, "this record")

    def state(self) -> tuple[object, ...]:
        """What changes whenever a record or a logged descent does."""
        counts = (
            "SELECT (SELECT count(*) FROM gear_revision), (SELECT count(*) FROM trip_revision),"
            " (SELECT coalesce(group_concat(kind || id), '') FROM put_away)"
        )
        return tuple(self.conn.execute(counts).fetchone())

    def gear(self, on: dt.date) -> Gear:
        """Everything that things are held against.

        on: today
        """
        records = tuple(r.body for r in self.records.every() if r.body is not None)
        trips = tuple(FromLog(t.id, t.trip) for t in Log(self.conn).every() if t.trip is not None and t.trip.used)
        unread = [
            NotRead(u.told, u.names, u.kind == "descent")
            for u in (*self.unread(), *Log(self.conn).unread())
            if not u.away and u.kind != "records of a file"
        ]
        return Gear(on, records, trips, tuple(unread))

    def came(self, plan_id: str) -> Gear:
        """The records that came with a plan's file, or with the plan that it is a copy of, and what of them cannot be
        read."""
        row = self.conn.execute("SELECT body FROM gear_came WHERE plan_id = ?", (plan_id,)).fetchone()
        if row is None:
            return NO_GEAR
        try:
            return Gear(records=read_text(GearFile, row["body"]).records)
        except PlanError:
            found = [u for u in self.unread() if (u.kind, u.id, u.away) == ("records of a file", plan_id, False)]
            return Gear(unread=tuple(NotRead(u.told, u.names, False) for u in found))

    def copy(self, of: str, to: str) -> None:
        """Let what came with a plan's file come along to a copy of it."""
        with transaction(self.conn):
            sql = "INSERT INTO gear_came SELECT ?, body FROM gear_came WHERE plan_id = ?"
            self.conn.execute(sql, (to, of))

    def unread(self) -> list[Unread]:
        """The records that cannot be read, those that came with files too."""
        away, made = PutAway(self.conn).every(), list[Unread]()

        def told(kind: UnreadKind, row: tuple[str, str | None, str], of: str, words: str, *path: str) -> None:
            names = plainly_in(row[1], *path)
            said = f"{words} of {', '.join(names)}" if names else words
            made.append(Unread(kind, row[0], of, said, row[2], (kind, row[0]) in away, names, row[1] or ""))

        for row in self.records.unread():
            told("gear record", row, "", "the gear record" if plainly_in(row[1], "names") else "a gear record", "names")
        for r in self.conn.execute("SELECT plan_id, body FROM gear_came ORDER BY plan_id").fetchall():
            try:
                read_text(GearFile, r["body"])
            except PlanError as e:
                words = "the gear records that came with the file"
                told("records of a file", (r["plan_id"], r["body"], str(e)), r["plan_id"], words, "records", "names")
        return made

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
