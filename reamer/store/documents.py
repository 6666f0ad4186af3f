"""Documents beside the plans, each with its revisions. Every save adds one; none is changed or removed."""

from __future__ import annotations

import secrets
import sqlite3
from contextlib import suppress
from typing import Generic, NamedTuple, TypeVar

from reamer.core.errors import PlanError
from reamer.core.plan.figures import M
from reamer.store.database import StoreError, transaction
from reamer.store.plans import NothingToUndo, now
from reamer.store.unread import read_text


class NoSuchDocument(StoreError):
    """No document has this id."""


class StaleDocument(StoreError):
    """The edit was made from a revision of a document that is no longer the newest."""

    def __init__(self, what: str, base: int, newest: int):
        super().__init__(f"made from revision {base} of {what}, but the newest is {newest}")
        self.what, self.base, self.newest = what, base, newest


D = TypeVar("D", bound=M)


class Document(NamedTuple, Generic[D]):
    """A document as it stands; ``body``: None where it was removed."""

    id: str
    revision: int
    saved_at: str
    body: D | None


class Documents(Generic[D]):
    """The documents of one kind, in the table ``name`` and its revisions beside it."""

    def __init__(self, conn: sqlite3.Connection, name: str, kind: type[D], what: str):
        """name: of the table; kind: of the documents; what: one is called."""
        self.conn, self.name, self.kind, self.what = conn, name, kind, what

    def every(self, where: str = "", values: tuple[str, ...] = ()) -> list[Document[D]]:
        """Those that are there; where: what is asked of the table besides."""
        rows = self.conn.execute(
            f"""
            SELECT d.id, r.number, r.saved_at, r.body FROM {self.name} d JOIN {self.name}_revision r
              ON r.{self.name}_id = d.id
            WHERE r.number = (SELECT max(number) FROM {self.name}_revision WHERE {self.name}_id = d.id)
              AND r.body IS NOT NULL {where}
            ORDER BY d.rowid
            """,
            values,
        )
        made = []
        for r in rows.fetchall():
            # One that cannot be read keeps none of the others away; it is told by itself.
            with suppress(PlanError):
                made.append(self._read(r))
        return made

    def unread(self) -> list[tuple[str, str | None, str]]:
        """Those that cannot be read: id, text, None where there is none, and why."""
        rows = self.conn.execute(
            f"""
            SELECT d.id, r.number, r.saved_at, r.body FROM {self.name} d LEFT JOIN {self.name}_revision r
              ON r.{self.name}_id = d.id
              AND r.number = (SELECT max(number) FROM {self.name}_revision WHERE {self.name}_id = d.id)
            WHERE r.number IS NULL OR r.body IS NOT NULL ORDER BY d.rowid
            """
        )
        made = list[tuple[str, str | None, str]]()
        for r in rows.fetchall():
            try:
                read_text(self.kind, r["body"])
            except PlanError as e:
                made.append((r["id"], r["body"], str(e)))
        return made

    def _read(self, r: sqlite3.Row) -> Document[D]:
        body = read_text(self.kind, r["body"]) if r["body"] is not None else None
        return Document(r["id"], r["number"], r["saved_at"], body)

    def one(self, made: str) -> Document[D]:
        """One of them, also a removed one. Raises NoSuchDocument."""
        row = self.conn.execute(
            f"SELECT {self.name}_id AS id, number, saved_at, body FROM {self.name}_revision WHERE {self.name}_id = ?"
            " ORDER BY number DESC LIMIT 1",
            (made,),
        ).fetchone()
        if row is None:
            raise NoSuchDocument(made)
        return self._read(row)

    def add(self, body: D, **of: str) -> Document[D]:
        """A new one; of: the table's other columns."""
        made, columns = secrets.token_hex(6), ("id", *of)
        with transaction(self.conn):
            self.conn.execute(
                f"INSERT INTO {self.name} ({', '.join(columns)}) VALUES ({', '.join('?' for _ in columns)})",
                (made, *of.values()),
            )
            self._insert(made, 1, body.model_dump_json())
        return self.one(made)

    def save(self, made: str, base: int, body: D | None) -> Document[D]:
        """Save an edit made from revision ``base``, None to remove it. Raises StaleDocument if that is not the newest.

        A save that changes nothing adds no revision."""
        with transaction(self.conn):
            had = self._at(made, base)
            if body != had.body:
                self._insert(made, base + 1, body.model_dump_json() if body is not None else None)
        return self.one(made)

    def take_back(self, made: str, base: int) -> Document[D]:
        """Take the last change back, a removal too, as a new revision. Raises NothingToUndo."""
        with transaction(self.conn):
            self._at(made, base)
            before = self.conn.execute(
                f"SELECT body FROM {self.name}_revision WHERE {self.name}_id = ? AND number = ?", (made, base - 1)
            ).fetchone()
            if before is None:
                raise NothingToUndo(f"there is nothing to undo in {self.what}")
            self._insert(made, base + 1, before["body"])
        return self.one(made)

    def _at(self, made: str, base: int) -> Document[D]:
        had = self.one(made)
        if had.revision != base:
            raise StaleDocument(self.what, base, had.revision)
        return had

    def _insert(self, made: str, number: int, body: str | None) -> None:
        self.conn.execute(
            f"INSERT INTO {self.name}_revision ({self.name}_id, number, saved_at, body) VALUES (?, ?, ?, ?)",
            (made, number, now(), body),
        )
