"""What a second person said of each plan. Every verdict is added; none is changed or removed."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence

from reamer.core.errors import PlanError
from reamer.core.model import MOST_VERDICTS, Record, Verdict
from reamer.core.reading import read_model
from reamer.store.database import transaction

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

    def number(self, plan_id: str) -> int:
        """How many verdicts there are on a plan."""
        found: int = self.conn.execute("SELECT count(*) FROM verdict WHERE plan_id = ?", (plan_id,)).fetchone()[0]
        return found

    def of(self, plan_id: str) -> Record:
        """Everything that was said of a plan, in order."""
        rows = self.conn.execute("SELECT body FROM verdict WHERE plan_id = ? ORDER BY number", (plan_id,))
        return Record(verdicts=tuple(read_model(Verdict, json.loads(r["body"])) for r in rows))

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
