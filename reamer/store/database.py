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
    """A migration that failed, nothing of which was kept; or a database that cannot be opened or is of a newer
    version."""


def trouble(e: sqlite3.Error) -> str:
    """What is wrong with the database, in one sentence.

    e: what SQLite raised
    returns: the sentence
    """
    text = str(e).lower()
    for part, said in (
        ("full", "the disk is full."),
        ("locked", "the database is in use by another program; try again."),
        ("readonly", "the database may only be read, not written."),
        ("read-only", "the database may only be read, not written."),
        ("not a database", "the file is not a database of Reamer's."),
        ("malformed", "the database file is damaged."),
        ("unable to open", "the database file cannot be opened; its folder may be missing or closed to you."),
        ("disk i/o", "the disk cannot be read or written."),
    ):
        if part in text:
            return said
    return f"the database says: {e}."


def connect(path: str | Path) -> sqlite3.Connection:
    """A connection with foreign keys on; transactions are ours to open. Nothing is written by opening."""
    conn = sqlite3.connect(path, isolation_level=None, timeout=10)
    try:
        conn.row_factory = sqlite3.Row
        # A text that is damaged keeps no other row from being read.
        conn.text_factory = lambda text: text.decode(errors="replace")
        conn.execute("PRAGMA foreign_keys = ON")
        conn.execute("PRAGMA synchronous = FULL")
    except sqlite3.Error:
        conn.close()
        raise
    return conn


@contextmanager
def transaction(conn: sqlite3.Connection) -> Iterator[None]:
    """All of it or none of it; within another, it is part of that one."""
    if conn.in_transaction:
        yield
        return
    conn.execute("BEGIN IMMEDIATE")
    try:
        yield
        conn.execute("COMMIT")
    except BaseException:
        if conn.in_transaction:
            conn.execute("ROLLBACK")
        raise


@contextmanager
def snapshot(conn: sqlite3.Connection) -> Iterator[None]:
    """All that is read within is of one moment, whatever is saved or put back meanwhile."""
    if conn.in_transaction:
        yield
        return
    conn.execute("BEGIN")
    try:
        yield
    finally:
        if conn.in_transaction:
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
    steps = sorted(folder.glob("[0-9][0-9][0-9][0-9]_*.sql"))
    try:
        there = (
            [r[0] for r in conn.execute("SELECT name FROM migration ORDER BY name")]
            if conn.execute("SELECT 1 FROM sqlite_master WHERE name = 'migration'").fetchone()
            else []
        )
        strange = [name for name in there if name not in {s.name for s in steps}]
        if strange:
            raise MigrationError(
                f"the database is of version {max(there)[:4]}, this program knows up to"
                f" {steps[-1].name[:4] if steps else 'none'} (unknown: {strange[0]}); use the newer program. Nothing"
                " was written."
            )
        if (
            not there
            and not strange
            and conn.execute(
                "SELECT 1 FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' AND name <> 'migration'"
            ).fetchone()
        ):
            raise MigrationError("the file is a database of something else. Nothing was written.")
        # A write-ahead log, which stays with the file: readers never wait for a save.
        if conn.execute("PRAGMA journal_mode").fetchone()[0] != "wal":
            conn.execute("PRAGMA journal_mode = WAL")
        conn.execute("CREATE TABLE IF NOT EXISTS migration (name TEXT PRIMARY KEY, applied_at TEXT NOT NULL) STRICT")
    except sqlite3.Error as e:
        raise MigrationError(trouble(e)) from e
    applied = []
    for step in steps:
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
