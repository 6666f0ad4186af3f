"""The common shed and its revisions. Every save adds one; none is changed or removed."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from reamer.core.errors import PlanError
from reamer.core.model import Shed
from reamer.core.plan.kit import differences
from reamer.store.database import StoreError, transaction
from reamer.store.plans import now
from reamer.store.unread import PutAway, Unread, read_text


class StaleShed(StoreError):
    """The edit was made from a revision of the shed that is no longer the newest."""

    def __init__(self, base: int, newest: int):
        super().__init__(f"made from revision {base} of the shed, but the newest is {newest}")
        self.base, self.newest = base, newest


@dataclass(frozen=True, slots=True)
class ShedHead:
    """The common shed as it stands; revision 0 while nothing has been kept in it."""

    revision: int
    saved_at: str
    what: str
    shed: Shed


class Sheds:
    """The common shed of one database."""

    def __init__(self, conn: sqlite3.Connection):
        self.conn = conn

    def head(self) -> ShedHead:
        """The shed as it stands."""
        row = self.conn.execute("SELECT * FROM shed_revision ORDER BY number DESC LIMIT 1").fetchone()
        if row is None:
            return ShedHead(0, "", "", Shed())
        try:
            shed = read_text(Shed, row["body"])
        except PlanError as e:
            if ("common shed", str(row["number"])) not in PutAway(self.conn).every():
                raise PlanError("shed", f"the common shed cannot be read: {e}") from None
            shed = Shed()
        return ShedHead(row["number"], row["saved_at"], row["what"], shed)

    def unread(self) -> list[Unread]:
        """The common shed, where it cannot be read."""
        row = self.conn.execute("SELECT number, body FROM shed_revision ORDER BY number DESC LIMIT 1").fetchone()
        try:
            if row is not None:
                read_text(Shed, row["body"])
        except PlanError as e:
            i = str(row["number"])
            away = ("common shed", i) in PutAway(self.conn).every()
            return [Unread("common shed", i, "", "the common shed", str(e), away, None, row["body"])]
        return []

    def save(self, base: int, shed: Shed) -> ShedHead:
        """Save an edit made from revision ``base``. Raises StaleShed if that is not the newest.

        A save that changes nothing adds no revision."""
        with transaction(self.conn):
            head = self.head()
            if head.revision != base:
                raise StaleShed(base, head.revision)
            if shed != head.shed:
                said = [
                    {
                        "only in the plan": f"{d.name} put in",
                        "only in the shed": f"{d.name} taken out",
                        "differs": f"{d.name} changed",
                    }[d.kind]
                    for d in differences(shed, head.shed)
                ]
                self.conn.execute(
                    "INSERT INTO shed_revision (number, saved_at, what, body) VALUES (?, ?, ?, ?)",
                    (head.revision + 1, now(), "; ".join(said)[:300] or "put in another order", shed.model_dump_json()),
                )
        return self.head()

    def take_back(self, base: int) -> ShedHead:
        """The shed as it was before revision ``base``, as a new revision. Raises StaleShed if that is not the newest.

        Where nothing has been kept yet there is nothing to take back, and nothing is added."""
        with transaction(self.conn):
            head = self.head()
            if head.revision != base:
                raise StaleShed(base, head.revision)
            if base > 0:
                row = self.conn.execute("SELECT body FROM shed_revision WHERE number = ?", (base - 1,)).fetchone()
                body = row["body"] if row is not None else Shed().model_dump_json()
                self.conn.execute(
                    "INSERT INTO shed_revision (number, saved_at, what, body) VALUES (?, ?, ?, ?)",
                    (base + 1, now(), f"taken back: {head.what}"[:300], body),
                )
        return self.head()
