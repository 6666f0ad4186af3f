"""What phones hand back of a plan's cards: kept from the first, accepted or refused at the desk. Nothing is removed."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from typing import Literal

from pydantic import TypeAdapter, ValidationError

from reamer.core.errors import PlanError
from reamer.core.plan.correction import Handed, Taken
from reamer.core.second.rests import digest
from reamer.store.database import StoreError, transaction
from reamer.store.plans import now
from reamer.store.unread import PutAway, Unread, read_text

HandedBy = Literal["file", "codes", "room"]
Act = Literal["accepted", "refused", "undone"]
HandedState = Literal["waiting", "accepted", "refused", "undone"]
MOST_WAITING, MOST = 50, 500
_TAKEN = TypeAdapter(tuple[Taken, ...])


class NothingHanded(StoreError):
    """Nothing that was handed back has this id."""


@dataclass(frozen=True, slots=True)
class Came:
    """One hand-back: when and how it came, whether its text was as the phone wrote it, and how it stands. ``taken``:
    what of it is in the survey by its acceptance; ``before``: all that was ever taken of it and given back."""

    id: str
    at: str
    way: HandedBy
    sealed: bool
    handed: Handed
    state: HandedState
    taken: tuple[Taken, ...]
    before: tuple[Taken, ...]


class Homecomings:
    """What came home, of one database."""

    def __init__(self, conn: sqlite3.Connection):
        self.conn = conn

    def add(self, plan_id: str, handed: Handed, way: HandedBy, sealed: bool) -> str:
        """Keep what was handed back; the same content is kept once.

        returns: its id
        raises: PlanError where too much waits already
        """
        body = handed.model_dump_json()
        made = digest(json.loads(body))
        with transaction(self.conn):
            # One more than can wait at the desk is refused, not an older one pushed out.
            total, waiting = self.conn.execute(
                "SELECT count(*), count(*) FILTER (WHERE NOT EXISTS (SELECT 1 FROM handed_act a"
                " WHERE a.plan_id = handed.plan_id AND a.id = handed.id)) FROM handed WHERE plan_id = ? AND id != ?",
                (plan_id, made),
            ).fetchone()
            if waiting >= MOST_WAITING or total >= MOST:
                raise PlanError("", "too much waits at the desk already; accept or refuse some of it first")
            self.conn.execute(
                "INSERT INTO handed (plan_id, id, at, way, sealed, body) VALUES (?, ?, ?, ?, ?, ?)"
                " ON CONFLICT DO NOTHING",
                (plan_id, made, now(), way, sealed, body),
            )
        return made

    def of(self, plan_id: str) -> list[Came]:
        """Everything that was handed back of a plan, newest first."""
        rows = self.conn.execute("SELECT * FROM handed WHERE plan_id = ? ORDER BY at DESC, id", (plan_id,)).fetchall()
        made = []
        for r in rows:
            with suppress(PlanError):
                made.append(self._came(plan_id, r))
        return made

    def unread(self) -> list[Unread]:
        """Hand-backs that cannot be read."""
        away, made = PutAway(self.conn).every(), list[Unread]()
        for r in self.conn.execute("SELECT * FROM handed ORDER BY at, id").fetchall():
            try:
                self._came(r["plan_id"], r)
            except PlanError as e:
                i, told = f"{r['plan_id']} {r['id']}", f"what a phone handed back on {r['at'][:10]}"
                why, gone = str(e), ("hand-back", i) in away
                made.append(Unread("hand-back", i, r["plan_id"], told, why, gone, None, r["body"]))
        return made

    def one(self, plan_id: str, handed_id: str) -> Came:
        """One hand-back. Raises NothingHanded."""
        found = self.conn.execute("SELECT * FROM handed WHERE plan_id = ? AND id = ?", (plan_id, handed_id)).fetchone()
        if found is None:
            raise NothingHanded(handed_id)
        return self._came(plan_id, found)

    def act(self, plan_id: str, handed_id: str, kind: Act, taken: Sequence[Taken] = ()) -> None:
        """Write down what the desk did with it."""
        with transaction(self.conn):
            self.conn.execute(
                "INSERT INTO handed_act (plan_id, id, number, at, kind, taken) SELECT ?, ?,"
                " coalesce((SELECT max(number) FROM handed_act WHERE plan_id = ? AND id = ?), 0) + 1, ?, ?, ?",
                (plan_id, handed_id, plan_id, handed_id, now(), kind, _TAKEN.dump_json(tuple(taken)).decode()),
            )

    def _came(self, plan_id: str, row: sqlite3.Row) -> Came:
        acts = self.conn.execute(
            "SELECT kind, taken FROM handed_act WHERE plan_id = ? AND id = ? ORDER BY number", (plan_id, row["id"])
        ).fetchall()
        taken: tuple[Taken, ...] = ()
        before: tuple[Taken, ...] = ()
        for a in acts:
            if a["kind"] == "undone":
                taken, before = (), (*before, *taken)
            else:
                try:
                    taken = (*taken, *_TAKEN.validate_json(a["taken"]))
                except ValidationError as e:
                    raise PlanError("", f"what was taken of it: {e.errors()[0]['msg']}") from None
        state: HandedState = acts[-1]["kind"] if acts else "waiting"
        handed = read_text(Handed, row["body"])
        return Came(row["id"], row["at"], row["way"], bool(row["sealed"]), handed, state, taken, before)
