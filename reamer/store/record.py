"""What a second person said of each plan. Every verdict is added; none is changed or removed."""

from __future__ import annotations

import datetime as dt
import sqlite3
from collections.abc import Sequence

from reamer.core.errors import PlanError
from reamer.core.model import MOST_VERDICTS, Record, Verdict
from reamer.store.database import transaction
from reamer.store.unread import PutAway, Unread, plainly_in, read_text

# A record goes along in the plan's file, which has its own bound.
MOST_BYTES = 1_000_000


def fits(verdicts: Sequence[Verdict], number: int = 0, size: int = 0) -> None:
    """Whether verdicts can be added to a record.

    verdicts: to be added; number, size: how many there are, and their bytes
    raises: PlanError where the record would grow past what a plan's file can hold
    """
    if number + len(verdicts) > MOST_VERDICTS:
        raise PlanError("verdicts", f"a plan's record holds {MOST_VERDICTS:,} verdicts at the most")
    if size + sum(len(v.model_dump_json().encode()) for v in verdicts) > MOST_BYTES:
        raise PlanError("verdicts", f"a plan's record holds {MOST_BYTES:,} bytes at the most")


class Records:
    """The records of one database."""

    def __init__(self, conn: sqlite3.Connection):
        self.conn = conn

    def state(self, plan_id: str) -> tuple[object, ...]:
        """What changes whenever the record of a plan does; its first part is how many verdicts there are."""
        sql = (
            "SELECT (SELECT count(*) FROM verdict WHERE plan_id = ?),"
            " (SELECT group_concat(id) FROM put_away WHERE kind = 'verdict')"
        )
        return tuple(self.conn.execute(sql, (plan_id,)).fetchone())

    def of(self, plan_id: str) -> Record:
        """Everything that was said of a plan, in order."""
        made, away = list[Verdict](), PutAway(self.conn).every()
        for number, text in self._rows(plan_id):
            try:
                made.append(read_text(Verdict, text))
            except PlanError as e:
                if ("verdict", f"{plan_id} {number}") not in away:
                    made.append(_as_objection(number, e))
        return Record(verdicts=tuple(made))

    def unread(self) -> list[Unread]:
        """Verdicts that cannot be read."""
        away, made = PutAway(self.conn).every(), list[Unread]()
        for (plan_id,) in self.conn.execute("SELECT DISTINCT plan_id FROM verdict").fetchall():
            for number, text in self._rows(plan_id):
                try:
                    read_text(Verdict, text)
                except PlanError as e:
                    i, by = f"{plan_id} {number}", plainly_in(text, "by")
                    told = f"what {by[0]} said in the second check" if by else "a verdict of the second check"
                    made.append(Unread("verdict", i, plan_id, told, str(e), ("verdict", i) in away, None, text))
        return made

    def _rows(self, plan_id: str) -> list[tuple[int, str]]:
        sql = "SELECT number, body FROM verdict WHERE plan_id = ? ORDER BY number"
        return [tuple(r) for r in self.conn.execute(sql, (plan_id,))]

    def add(self, plan_id: str, verdicts: Sequence[Verdict]) -> None:
        """Add verdicts, all or none. Raises PlanError where there would be too many."""
        with transaction(self.conn):
            row = self.conn.execute(
                "SELECT coalesce(max(number), 0) AS n, coalesce(sum(length(CAST(body AS BLOB))), 0) AS bytes"
                " FROM verdict WHERE plan_id = ?",
                (plan_id,),
            ).fetchone()
            fits(verdicts, row["n"], row["bytes"])
            self.conn.executemany(
                "INSERT INTO verdict (plan_id, number, body) VALUES (?, ?, ?)",
                [(plan_id, row["n"] + n, v.model_dump_json()) for n, v in enumerate(verdicts, 1)],
            )


def _as_objection(number: int, e: PlanError) -> Verdict:
    """A verdict that cannot be read counts as an objection, which it may be, until it is put away."""
    return Verdict(
        item=f"unread:{number}",
        by="nobody known",
        at=dt.datetime(2000, 1, 1, tzinfo=dt.UTC),
        verdict="objected",
        remark=f"It cannot be read: {e}"[:1000],
        revision=1,
        said="A verdict that cannot be read",
    )
