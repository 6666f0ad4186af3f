"""One asker's desk: one connection, one library, one day. Whatever is read and saved together is of one moment."""

from __future__ import annotations

import datetime as dt
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path

from reamer.core.answer.context import fingerprint
from reamer.core.model import Gear, Plan, Record
from reamer.desk.memory import Been, Going, Memory, always, been
from reamer.desk.worked import Worked, basis
from reamer.store.backup import generation
from reamer.store.database import StoreError, connect, snapshot, transaction
from reamer.store.gear import Gears
from reamer.store.handed import Homecomings
from reamer.store.log import Log
from reamer.store.plans import Head, Plans, StaleRevision
from reamer.store.record import Records
from reamer.store.said import Sayings
from reamer.store.shed import Sheds


def today() -> dt.date:
    """The day, by this machine's clock."""
    return dt.date.today()


class OtherLibrary(StoreError):
    """A backup was put in the library's place since it was asked about."""


class Desk:
    """What is stored in one library, and what is worked out of it."""

    def __init__(self, database: Path, memory: Memory, library: str = "", going: Going = always) -> None:
        """database: the file; memory: what this process keeps; library: the one that is asked about, by its name, ""
        for the one that is there; going: whether what is asked is still wanted."""
        self.conn: sqlite3.Connection = connect(database)
        self.memory, self.library, self.there, self.going = memory, library, "", going
        # One day for everything that is asked at once.
        self.today = today()
        self.plans = Plans(self.conn, memory.plan, memory.text)
        self.gears, self.records, self.sayings = Gears(self.conn), Records(self.conn), Sayings(self.conn)
        self.home, self.log, self.sheds = Homecomings(self.conn), Log(self.conn), Sheds(self.conn)

    def close(self) -> None:
        """Leave the library."""
        self.conn.close()

    @contextmanager
    def reading(self) -> Iterator[None]:
        """All that is read within is of one moment and of this desk's library. Raises OtherLibrary."""
        with snapshot(self.conn):
            self._same()
            yield

    @contextmanager
    def writing(self) -> Iterator[None]:
        """All that is saved within, or nothing of it, into this desk's library. Raises OtherLibrary."""
        with transaction(self.conn):
            self._same()
            yield

    def _same(self) -> None:
        self.there = generation(self.conn)
        if self.library not in ("", self.there):
            raise OtherLibrary("a backup was put in the library's place meanwhile; nothing was saved")
        self.library = self.there

    def head(self, plan_id: str) -> Head:
        """A plan as it stands."""
        with self.reading():
            return self.plans.head(plan_id)

    def newest(self, plan_id: str, revision: int) -> Head:
        """A plan as it stands, which must be this revision. Raises StaleRevision with what was saved since."""
        with self.reading():
            head = self.plans.head(plan_id)
            if head.revision != revision:
                since = [r for r in self.plans.history(plan_id) if r.number > revision]
                raise StaleRevision(revision, head.revision, since)
            return head

    def at(self, plan_id: str, revision: int) -> Worked:
        """What can be worked out of a revision. Raises NoSuchRevision where there is none of this number."""
        with self.reading():
            plan, text = self.plans.at(plan_id, revision)
            return self.work(plan_id, plan, text)

    def then(self, plan_id: str, revision: int) -> Worked:
        """What can be worked out of an older revision by itself: with no records of what its things went through."""
        with self.reading():
            plan, text = self.plans.at(plan_id, revision)
        return Worked(basis(plan, text, Been()), self.memory, self.going)

    def now(self, plan_id: str) -> Worked:
        """What can be worked out of a plan as it stands."""
        with self.reading():
            head = self.plans.head(plan_id)
            return self.work(plan_id, head.plan, head.text)

    def work(self, plan_id: str, plan: Plan, text: str) -> Worked:
        """What can be worked out of a plan's content with its records as they are; text: as it is stored."""
        with self.reading():
            through, state = self._been(plan_id), self.records.state(plan_id)
            said = (self.library, plan_id, *state)
            record = self.memory.records.of(said, lambda: self.records.of(plan_id) if state[0] else Record())
        return Worked(basis(plan, text, through, record, repr(said)), self.memory, self.going)

    def as_if(self, plan_id: str, plan: Plan) -> Worked:
        """What could be worked out of a plan if it stood as this one, which is saved nowhere."""
        text = self.memory.text(plan)
        self.memory.plans.put(fingerprint(text), plan)
        with self.reading():
            through = self._been(plan_id)
        return Worked(basis(plan, text, through), self.memory, self.going)

    def gear(self, plan_id: str) -> Gear:
        """What things have been through, as of today, with what came with a plan's file."""
        with self.reading():
            return self._been(plan_id).gear

    def _been(self, plan_id: str) -> Been:
        gears = self.memory.gears
        state = (self.library, self.today, *self.gears.state())
        whole = gears.of(state, lambda: been(self.gears.gear(self.today)))
        came = self.gears.came(plan_id)
        if not (came.records or came.unread):
            return whole
        both = replace(
            whole.gear, records=(*whole.gear.records, *came.records), unread=(*whole.gear.unread, *came.unread)
        )
        return gears.of((*state, plan_id), lambda: been(both))
