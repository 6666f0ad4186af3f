"""What was said of each revision when it was saved, and by which rules."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass

from reamer.store.database import transaction
from reamer.store.plans import now


@dataclass(frozen=True, slots=True)
class Said:
    """What was said of a revision: its number, and the keys of the findings."""

    number: int
    keys: tuple[str, ...]


class Sayings:
    """What was said, of one database."""

    def __init__(self, conn: sqlite3.Connection):
        self.conn = conn

    def keep(self, plan_id: str, number: int, rules: str, keys: tuple[str, ...]) -> None:
        """Keep what is said of a revision that is there; what was kept of it before stays."""
        with transaction(self.conn):
            self.conn.execute(
                "INSERT INTO said (plan_id, number, rules, at, keys) SELECT plan_id, number, ?, ?, ? FROM revision"
                " WHERE plan_id = ? AND number = ? ON CONFLICT DO NOTHING",
                (rules, now(), json.dumps(keys), plan_id, number),
            )

    def other(self, plan_id: str, rules: str) -> Said | None:
        """The newest revision that other rules than these judged, None where there is none or its news was read."""
        row = self.conn.execute(
            "SELECT number, keys FROM said WHERE plan_id = ? AND rules <> ?"
            " AND NOT EXISTS (SELECT 1 FROM ruled_read r WHERE r.plan_id = said.plan_id AND r.rules = ?)"
            " ORDER BY number DESC, at DESC LIMIT 1",
            (plan_id, rules, rules),
        ).fetchone()
        return Said(row["number"], tuple(json.loads(row["keys"]))) if row else None

    def has(self, plan_id: str, number: int) -> bool:
        """Whether it is kept what was said of a revision."""
        row = self.conn.execute("SELECT 1 FROM said WHERE plan_id = ? AND number = ?", (plan_id, number)).fetchone()
        return row is not None

    def read(self, plan_id: str, number: int, rules: str, keys: tuple[str, ...]) -> None:
        """Somebody has read what these rules say anew of a plan, at a revision; what they say of it is kept."""
        with transaction(self.conn):
            self.keep(plan_id, number, rules, keys)
            self.conn.execute(
                "INSERT INTO ruled_read (plan_id, rules, at) SELECT id, ?, ? FROM plan WHERE id = ?"
                " ON CONFLICT DO NOTHING",
                (rules, now(), plan_id),
            )
