"""The library as a whole: backed up, looked at, put back. Backups wait beside it, on the same disk."""

from __future__ import annotations

import os
import re
import secrets
import tempfile
import time
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from reamer.core.errors import PlanError
from reamer.desk.desk import Desk
from reamer.store.backup import Content, back_up, content, generation, look, put_back, unread_in
from reamer.store.database import StoreError, connect, migrate
from reamer.store.plans import now
from reamer.store.unread import NothingUnread, PutAway, Unread

KEPT_HOURS = 24


class Source(Protocol):
    """What a backup is read from, piece by piece."""

    def read(self, size: int, /) -> bytes:
        """The next bytes, none at the end."""
        ...


@dataclass(frozen=True, slots=True)
class Offered:
    """A backup that was looked at and waits to be put in the library's place: by which token, what it holds, and what
    the library holds now."""

    token: str
    holds: Content
    now: Content


@dataclass(frozen=True, slots=True)
class Restored:
    """What the library holds now; ``before``: the token by which what it held before is had back."""

    holds: Content
    before: str


def prepare(database: Path) -> None:
    """Bring a library up to date, or begin one; its folder is made. Raises MigrationError, StoreError."""
    try:
        database.parent.mkdir(parents=True, exist_ok=True)
    except OSError as e:
        raise StoreError(f"its folder cannot be made: {e.strerror}") from None
    with closing(connect(database)) as conn:
        migrate(conn)


def folder(database: Path) -> Path:
    """Where backups wait; only its owner reads them, and they go after a day."""
    made = database.resolve().parent / "restores"
    made.mkdir(mode=0o700, exist_ok=True)
    for old in made.glob("*.sqlite3*"):
        if old.stat().st_mtime < time.time() - KEPT_HOURS * 3600:
            old.unlink(missing_ok=True)
    return made


def waiting(database: Path, token: str) -> Path:
    """A backup that waits. Raises PlanError where it does no longer."""
    path = folder(database) / f"{token}.sqlite3"
    if not re.fullmatch(r"[0-9a-f]{16}", token) or not path.is_file():
        raise PlanError("token", "this backup is no longer at hand; choose its file again")
    return path


def back_up_to(desk: Desk, out: Path) -> Content:
    """The whole library written as one file; what it holds."""
    back_up(desk.conn, out)
    return content(desk.conn)


def written(desk: Desk) -> bytes:
    """The whole library as one file."""
    with tempfile.TemporaryDirectory() as made:
        back_up(desk.conn, Path(made) / "reamer.sqlite3")
        return (Path(made) / "reamer.sqlite3").read_bytes()


def offered(desk: Desk, database: Path, source: Source) -> Offered:
    """A backup taken in and looked at; the library is not changed by it. Raises PlanError where it is none."""
    token = secrets.token_hex(8)
    path = folder(database) / f"{token}.sqlite3"
    with _whole(path):
        with path.open("xb") as out:
            os.chmod(path, 0o600)
            while piece := source.read(1_000_000):
                out.write(piece)
        holds = look(path)
    with desk.reading():
        return Offered(token, holds, content(desk.conn))


@contextmanager
def _whole(path: Path) -> Iterator[None]:
    """A file that is written whole, or is not there."""
    try:
        yield
    except BaseException as e:
        for left in (path, *path.parent.glob(f"{path.name}-*")):
            left.unlink(missing_ok=True)
        if isinstance(e, OSError):
            raise PlanError("file", f"it cannot be kept beside the library: {e.strerror or e}") from None
        raise


def restore(desk: Desk, path: Path, before: Path) -> Content:
    """A backup that was looked at put in the library's place; what was there is kept in the same act. The desk then
    stands at the new library."""
    # Whoever asks has seen the library that goes.
    with desk.reading():
        pass
    put_back(desk.conn, path, before)
    desk.library = desk.there = generation(desk.conn)
    return content(desk.conn)


def unread(desk: Desk) -> list[Unread]:
    """What cannot be read, but for plans, which are told in their list."""
    with desk.reading():
        return unread_in(desk.conn)


def unread_text(desk: Desk, kind: str, made: str) -> str:
    """The text of something that cannot be read, as it is stored. Raises NothingUnread."""
    for u in unread(desk):
        if (u.kind, u.id) == (kind, made):
            return u.text
    raise NothingUnread(made)


def put_away(desk: Desk, kind: str, made: str, away: bool) -> None:
    """Put something that cannot be read away, so that it is neither told nor counted, or have it back. It stays where
    it is. Raises NothingUnread."""
    with desk.writing():
        if away:
            PutAway(desk.conn).put(unread_in(desk.conn), kind, made, now())
        else:
            PutAway(desk.conn).back(kind, made)


def exchanged(desk: Desk, database: Path, token: str) -> Restored:
    """A backup that waits put in the library's place; what was there is kept a day, and had back by its own token."""
    path = waiting(database, token)
    look(path)
    before = secrets.token_hex(8)
    return Restored(restore(desk, path, folder(database) / f"{before}.sqlite3"), before)
