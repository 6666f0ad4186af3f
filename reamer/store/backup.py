"""The whole library as one file, and back, by SQLite's own backup."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from contextlib import closing, suppress
from dataclasses import dataclass
from pathlib import Path

from reamer.core.errors import PlanError
from reamer.store.database import MIGRATIONS, connect, migrate, transaction, trouble
from reamer.store.gear import Gears
from reamer.store.handed import Homecomings
from reamer.store.log import Log
from reamer.store.plans import plan_of
from reamer.store.record import Records
from reamer.store.shed import Sheds
from reamer.store.unread import Unread

MOST_BYTES = 500_000_000
WHOLE = ("plan", "revision", "shed_revision", "verdict", "handed", "trip", "gear")


@dataclass(frozen=True, slots=True)
class Content:
    """What a library holds. ``unreadable``: what of it cannot be read with this program: titles of plans, and other
    documents in words."""

    plans: int
    revisions: int
    shed_revisions: int
    verdicts: int
    handed: int
    descents: int
    gear: int
    newest: str
    unreadable: tuple[str, ...]


def unread_in(conn: sqlite3.Connection) -> list[Unread]:
    """What of a library cannot be read, but for its plans, which are told in their list.

    conn: the library
    returns: what was put away too
    """
    stores = (Sheds(conn), Gears(conn), Log(conn), Records(conn), Homecomings(conn))
    return [u for store in stores for u in store.unread()]


def back_up(conn: sqlite3.Connection, out: Path) -> None:
    """Write the library as one file, whole even while it is being written to.

    conn: the library; out: the file, replaced if it is there
    raises: PlanError naming the file where it cannot be written; then nothing of it is left
    """
    made = out.with_name(f"{out.name}.part")
    try:
        made.unlink(missing_ok=True)
        with closing(sqlite3.connect(made)) as target:
            conn.backup(target)
            # One file, with no log beside it.
            target.execute("PRAGMA journal_mode = DELETE")
        made.replace(out)
    except (sqlite3.Error, OSError) as e:
        why = trouble(e) if isinstance(e, sqlite3.Error) else f"{e.strerror}."
        raise PlanError("", f"the backup {out.name} cannot be written: {why}") from None
    finally:
        # Half of one is none.
        for left in (made, made.with_name(f"{made.name}-journal")):
            with suppress(OSError):
                left.unlink(missing_ok=True)


def look(path: Path) -> Content:
    """What a backup holds.

    path: the file; it is brought up to date where it was written by an older program
    returns: its content
    raises: PlanError where it is none of Reamer's, damaged, or of a newer program
    """
    if path.stat().st_size > MOST_BYTES:
        raise PlanError("file", f"it is larger than {MOST_BYTES // 10**6:,} MB")
    with path.open("rb") as file:
        head = file.read(16)
    if head != b"SQLite format 3\0":
        raise PlanError("file", "it is no backup of Reamer's")
    try:
        conn = connect(path)
    except sqlite3.Error as e:
        raise PlanError("file", f"it is damaged: {e}") from None
    try:
        # No code of the file's own is run: it may hold nothing but tables and their indexes.
        conn.execute("PRAGMA trusted_schema = OFF")
        strange = conn.execute("SELECT name FROM sqlite_master WHERE type NOT IN ('table', 'index')").fetchone()
        if strange is not None:
            raise PlanError("file", "it holds triggers or views, which no backup of Reamer's does")
        if conn.execute("PRAGMA integrity_check(1)").fetchone()[0] != "ok":
            raise PlanError("file", "it is damaged")
        _same_tables(conn)
        migrate(conn)
        if conn.execute("PRAGMA foreign_key_check").fetchone() is not None:
            raise PlanError("file", "it is damaged: a revision belongs to no plan")
        made = content(conn)
        conn.execute("PRAGMA journal_mode = DELETE")
        return made
    except sqlite3.Error as e:
        raise PlanError("file", f"it is damaged: {e}") from None
    finally:
        conn.close()


def _same_tables(conn: sqlite3.Connection) -> None:
    """Refuse tables that are not as this program makes them."""
    had = [r[0] for r in conn.execute("SELECT name FROM migration ORDER BY name")] if _has(conn, "migration") else []
    own = sqlite3.connect(":memory:", isolation_level=None)
    try:
        own.row_factory = sqlite3.Row
        own.execute("CREATE TABLE migration (name TEXT PRIMARY KEY, applied_at TEXT NOT NULL) STRICT")
        for name in had:
            step = MIGRATIONS / Path(name).name
            if not step.is_file():
                raise PlanError("file", "it was written by a newer program; use that one")
            own.executescript(step.read_text(encoding="utf-8"))
        # Keys and checks stand in what a table was made by; how it is spaced says nothing.
        schema = "SELECT type, name, tbl_name, sql FROM sqlite_master WHERE name NOT LIKE 'sqlite_%' ORDER BY name"
        columns = (
            "SELECT m.name, c.name, c.type FROM sqlite_master m, pragma_table_info(m.name) c WHERE m.type = 'table'"
        )
        for asked in (schema, f"{columns} AND m.name NOT LIKE 'sqlite_%' ORDER BY 1, c.cid"):
            if _spaced(conn.execute(asked)) != _spaced(own.execute(asked)):
                raise PlanError("file", "it is no backup of Reamer's")
        if conn.execute("PRAGMA page_size").fetchone()[0] != own.execute("PRAGMA page_size").fetchone()[0]:
            raise PlanError("file", "it is laid out in pages of another size than Reamer's")
    finally:
        own.close()


def _spaced(rows: Iterable[sqlite3.Row]) -> list[tuple[str, ...]]:
    return [tuple(" ".join(str(x).split()) for x in r) for r in rows]


def _has(conn: sqlite3.Connection, table: str) -> bool:
    return conn.execute("SELECT 1 FROM sqlite_master WHERE name = ?", (table,)).fetchone() is not None


def content(conn: sqlite3.Connection) -> Content:
    """What a library holds.

    conn: the library
    returns: its content
    """
    plans, revisions, sheds, verdicts, handed, descents, gear = (
        conn.execute(f"SELECT count(*) FROM {t}").fetchone()[0] for t in WHOLE
    )
    newest = conn.execute("SELECT coalesce(max(saved_at), '') FROM revision").fetchone()[0]
    rows = conn.execute(
        """
        SELECT r.title, b.body FROM revision r JOIN revision b ON b.plan_id = r.plan_id AND b.number = r.position
        WHERE r.number = (SELECT max(number) FROM revision WHERE plan_id = r.plan_id)
        """
    )
    unreadable = []
    for r in rows:
        try:
            plan_of(r["body"])
        except PlanError:
            unreadable.append(r["title"])
    unreadable += [u.told for u in unread_in(conn) if not u.away]
    return Content(plans, revisions, sheds, verdicts, handed, descents, gear, newest, tuple(unreadable))


# What is not put back: the library's own history, its name, and what is made anew from the rest.
OWN = ("migration", "library", "found", "found_of")


def put_back(conn: sqlite3.Connection, path: Path, before: Path | None = None) -> None:
    """Put a backup in the library's place, all of it or nothing; what was there is kept in the same act, so that a save
    that was acknowledged is in the one or in the other.

    conn: the library, in no transaction; path: a file that was looked at; before: where what was there goes
    """
    own = conn.execute("SELECT file FROM pragma_database_list WHERE name = 'main'").fetchone()[0]
    conn.execute("ATTACH DATABASE ? AS other", (str(path),))
    try:
        with transaction(conn):
            # Nobody else writes from here on; what a second connection reads is what is about to be replaced.
            if before is not None:
                with closing(connect(own)) as reads:
                    back_up(reads, before)
            _exchange(conn)
    finally:
        conn.execute("DETACH DATABASE other")


def _exchange(conn: sqlite3.Connection) -> None:
    """Every row of the library out, every row of the other in."""
    conn.execute("PRAGMA defer_foreign_keys = ON")
    named = conn.execute("SELECT name FROM main.sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'")
    tables = [r[0] for r in named if r[0] not in OWN and not r[0].startswith("found_")]
    for table in tables:
        conn.execute(f'DELETE FROM main."{table}"')
    for table in tables:
        columns = ", ".join(f'"{r[0]}"' for r in conn.execute("SELECT name FROM pragma_table_info(?)", (table,)))
        conn.execute(f'INSERT INTO main."{table}" ({columns}) SELECT {columns} FROM other."{table}"')
    # Words are found anew from what they stand for.
    conn.execute("DELETE FROM main.found")
    conn.execute("DELETE FROM main.found_of")
    conn.execute("UPDATE main.library SET generation = lower(hex(randomblob(8)))")


def generation(conn: sqlite3.Connection) -> str:
    """Which library this is: another after every restore.

    conn: the library
    returns: its name
    """
    return str(conn.execute("SELECT generation FROM library").fetchone()[0])
