"""What is stored and cannot be read: told in its own place, kept as it is, put away and had back. It harms nothing
else."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Annotated, Any, Literal, TypeVar

from pydantic import Field as Excluded
from pydantic import ValidationError

from reamer.core.errors import PlanError
from reamer.core.plan.figures import M
from reamer.core.reading import read_model
from reamer.store.database import StoreError, transaction

UnreadKind = Literal["gear record", "descent", "verdict", "hand-back", "common shed", "records of a file"]
T = TypeVar("T", bound=M)


class NothingUnread(StoreError):
    """Nothing that cannot be read has this id."""


@dataclass(frozen=True, slots=True)
class Unread:
    """Something that cannot be read. ``plan_id``: of which plan it is, "" for none; ``told``: what it is, in words;
    ``why``: why it cannot be read; ``away``: whether it was put away; ``names``: the things it is of, None where that
    cannot be read either; ``text``: as it is stored. Those two are not told to the screen."""

    kind: UnreadKind
    id: str
    plan_id: str
    told: str
    why: str
    away: bool
    names: Annotated[tuple[str, ...] | None, Excluded(exclude=True)]
    text: Annotated[str, Excluded(exclude=True)]


def read_text(kind: type[T], text: str | None) -> T:
    """A stored document.

    kind: its class; text: as it is stored, None where there is none
    returns: the document
    raises: PlanError, whatever is wrong with it
    """
    if text is None:
        raise PlanError("", "it has no revision")
    try:
        return read_model(kind, json.loads(text))
    except (json.JSONDecodeError, RecursionError):
        raise PlanError("", "it is not JSON") from None
    except ValidationError as e:
        raise PlanError("", str(e.errors()[0]["msg"])) from None


def plainly_in(text: str | None, *path: str) -> tuple[str, ...] | None:
    """Texts that stand under a path in a document that cannot be read; None where there is nothing of the kind."""
    try:
        here: Any = [json.loads(text or "")]
        for key in path:
            here = [x for part in here for x in (part[key] if isinstance(part[key], list) else [part[key]])]
    except (ValueError, KeyError, TypeError, RecursionError):
        return None
    return tuple(here) if here and all(isinstance(x, str) for x in here) else None


class PutAway:
    """What was put away in one database."""

    def __init__(self, conn: sqlite3.Connection):
        self.conn = conn

    def every(self) -> set[tuple[str, str]]:
        """What was put away, by kind and id."""
        return {(r["kind"], r["id"]) for r in self.conn.execute("SELECT kind, id FROM put_away")}

    def put(self, found: Iterable[Unread], kind: str, made: str, at: str) -> None:
        """Put one of those that were found away. Raises NothingUnread."""
        if all((u.kind, u.id) != (kind, made) for u in found):
            raise NothingUnread(made)
        with transaction(self.conn):
            self.conn.execute("INSERT INTO put_away VALUES (?, ?, ?) ON CONFLICT DO NOTHING", (kind, made, at))

    def back(self, kind: str, made: str) -> None:
        """Have one back."""
        with transaction(self.conn):
            self.conn.execute("DELETE FROM put_away WHERE kind = ? AND id = ?", (kind, made))
