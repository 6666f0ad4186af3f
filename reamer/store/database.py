"""Opening the database and bringing it up to date."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

MIGRATIONS = Path(__file__).parent / "migrations"


class StoreError(Exception):
    """Base of the errors the store raises."""


class MigrationError(StoreError):
    """A migration that failed; nothing of it was kept."""


def connect(path: str | Path) -> sqlite3.Connection:
    """A connection with foreign keys on and a write-ahead log; transactions are ours to open."""
    conn = sqlite3.connect(path, isolation_level=None, timeout=10)
    conn.row_factory = sqlite3.Row
    conn.execute("PRAGMA foreign_keys = ON")
    conn.execute("PRAGMA journal_mode = WAL")
    conn.execute("PRAGMA synchronous = FULL")
    return conn


@contextmanager
def transaction(conn: sqlite3.Connection) -> Iterator[None]:
    """All of it or none of it."""
    conn.execute("BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        conn.execute("ROLLBACK")
        raise
    conn.execute("COMMIT")


def statements(sql: str) -> Iterator[str]:
    """The statements of a script, one at a time (``executescript`` would commit what is open)."""
    buffer = ""
    for line in sql.splitlines(keepends=True):
        buffer += line
        if sqlite3.complete_statement(buffer):
            yield buffer
            buffer = ""
    if any(line.strip() and not line.strip().startswith("--") for line in buffer.splitlines()):
        yield buffer


def migrate(conn: sqlite3.Connection, folder: Path = MIGRATIONS) -> list[str]:
    """Apply the numbered migrations that have not been applied yet, each with its record in one transaction.

    returns: names of those applied now
    raises: MigrationError; earlier ones stay, the failing one leaves nothing behind
    """
    conn.execute("CREATE TABLE IF NOT EXISTS migration (name TEXT PRIMARY KEY, applied_at TEXT NOT NULL) STRICT")
    applied = []
    for step in sorted(folder.glob("[0-9][0-9][0-9][0-9]_*.sql")):
        try:
            with transaction(conn):
                # Asked inside the transaction: another process may have been faster.
                if conn.execute("SELECT 1 FROM migration WHERE name = ?", (step.name,)).fetchone():
                    continue
                for statement in statements(step.read_text(encoding="utf-8")):
                    conn.execute(statement)
                conn.execute("INSERT INTO migration (name, applied_at) VALUES (?, datetime('now'))", (step.name,))
        except sqlite3.Error as e:
            raise MigrationError(f"{step.name}: {e}") from e
        applied.append(step.name)
    return applied
