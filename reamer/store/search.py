"""Looking for plans, stations, people, kit, descents and figures by words, in SQLite's full-text index."""

from __future__ import annotations

import json
import re
import sqlite3
from collections.abc import Callable, Iterable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from reamer import __version__
from reamer.core.model import SHED_LISTS
from reamer.core.tables import NAMES, knot_guide, patterns, table
from reamer.store.database import transaction

MOST_FOUND, MOST_WORDS = 40, 12
# Marks within a text round what was looked for; no text of a plan can hold them.
BEGIN, END = "\x02", "\x03"
LOG = ("conditions", "party", "words", "left", "station", "item", "incident", "pull")
KIT = ("kind", "fibre", "note", "material", "knot")
KINDS = ("plan", "station", "person", "kit", "log", "reference")


@dataclass(frozen=True, slots=True)
class Hit:
    """One thing that was found. ``told``: its title, ``text``: where the words stand in it, both with marks round them;
    ``place``: where on the screen it is, "" for the common shed."""

    kind: str
    told: str
    text: str
    place: str


@dataclass(frozen=True, slots=True)
class _Entry:
    kind: str
    title: str
    body: str
    place: str


class Search:
    """The index of one database."""

    def __init__(self, conn: sqlite3.Connection):
        self.conn = conn

    def find(self, text: str) -> list[Hit]:
        """What holds every word of a text, or a word that begins so; the best first."""
        words = re.findall(r"\w+", text)[:MOST_WORDS]
        if not words:
            return []
        # Where nothing can be written, what was put in before is still found.
        with suppress(sqlite3.OperationalError):
            self.refresh()
        asked = " ".join(f'"{w}"*' for w in words)
        rows = self.conn.execute(
            f"""
            SELECT kind, highlight(found, 1, ?, ?) AS told, snippet(found, 2, ?, ?, '…', 12) AS text, place
            FROM found WHERE found MATCH ? ORDER BY bm25(found, 1, 6, 1) LIMIT {MOST_FOUND}
            """,
            (BEGIN, END, BEGIN, END, asked),
        )
        return [Hit(r["kind"], r["told"], r["text"], r["place"]) for r in rows]

    def refresh(self) -> None:
        """Put in what was saved since it was last looked for, and take out what is in the bin."""
        wanted = {of: (version, make) for of, version, make in self._all()}
        had = dict(self.conn.execute("SELECT of, version FROM found_of").fetchall())
        stale = [of for of in had if of not in wanted]
        fresh = [of for of, (version, _) in wanted.items() if had.get(of) != version]
        if not stale and not fresh:
            return
        with transaction(self.conn):
            for of in (*stale, *fresh):
                self.conn.execute("DELETE FROM found WHERE of = ?", (of,))
                self.conn.execute("DELETE FROM found_of WHERE of = ?", (of,))
            for of in fresh:
                version, make = wanted[of]
                self.conn.executemany(
                    "INSERT INTO found (kind, title, body, of, place) VALUES (?, ?, ?, ?, ?)",
                    [(e.kind, e.title, e.body, of, e.place) for e in _made(make)],
                )
                self.conn.execute("INSERT INTO found_of (of, version) VALUES (?, ?)", (of, version))

    def _all(self) -> Iterator[tuple[str, str, Callable[[], Iterable[_Entry]]]]:
        """Everything that can be looked for: what it is of, as it stands, and what makes its words."""
        rows = self.conn.execute(
            """
            SELECT r.plan_id, r.number, r.position FROM revision r JOIN plan ON plan.id = r.plan_id
            WHERE plan.deleted_at IS NULL
              AND r.number = (SELECT max(number) FROM revision WHERE plan_id = r.plan_id)
            """
        ).fetchall()
        for r in rows:
            yield f"plan {r['plan_id']}", str(r["number"]), self._plan(r["plan_id"], r["position"])
        trips = self.conn.execute(
            """
            SELECT t.id, t.plan_id, r.number FROM trip t JOIN plan ON plan.id = t.plan_id
            JOIN trip_revision r ON r.trip_id = t.id
            WHERE plan.deleted_at IS NULL AND r.body IS NOT NULL
              AND r.number = (SELECT max(number) FROM trip_revision WHERE trip_id = t.id)
            """
        ).fetchall()
        for r in trips:
            yield f"log {r['id']} {r['plan_id']}", str(r["number"]), self._trip(r["id"], r["number"])
        shed = self.conn.execute("SELECT max(number) AS n FROM shed_revision").fetchone()["n"]
        if shed is not None:
            yield "shed", str(shed), self._shed(shed)
        yield "reference", __version__, _reference

    def _plan(self, plan_id: str, position: int) -> Callable[[], list[_Entry]]:
        def made() -> list[_Entry]:
            sql = "SELECT body FROM revision WHERE plan_id = ? AND number = ?"
            data = json.loads(self.conn.execute(sql, (plan_id, position)).fetchone()["body"])
            title, at = _said(data, "title"), f"/plans/{plan_id}"
            out = [_Entry("plan", title, _said(data, "place", "on", "notes"), f"{at}/survey")]
            for d in data.get("drops") or ():
                body = " ".join(_texts(d, ("found", "item", "notes", "to")))
                out.append(_Entry("station", _said(d, "name"), f"{title} · {body}", f"{at}/survey/{_said(d, 'id')}"))
            for p in data.get("party") or ():
                out.append(_Entry("person", _said(p, "name"), f"{title} · {_said(p, 'role')}", f"{at}/shed"))
            return [*out, *_kit(data.get("shed") or {}, f"{at}/shed", f"{title} · ")]

        return made

    def _trip(self, trip_id: str, number: int) -> Callable[[], list[_Entry]]:
        def made() -> list[_Entry]:
            sql = """
                SELECT r.body, t.plan_id, (SELECT title FROM revision p WHERE p.plan_id = t.plan_id
                  ORDER BY number DESC LIMIT 1) AS title
                FROM trip_revision r JOIN trip t ON t.id = r.trip_id WHERE r.trip_id = ? AND r.number = ?
            """
            row = self.conn.execute(sql, (trip_id, number)).fetchone()
            data = json.loads(row["body"])
            body = " ".join(_texts(data, LOG))
            return [_Entry("log", f"{row['title']}, {_said(data, 'on')}", body, f"/plans/{row['plan_id']}/log")]

        return made

    def _shed(self, number: int) -> Callable[[], list[_Entry]]:
        def made() -> list[_Entry]:
            row = self.conn.execute("SELECT body FROM shed_revision WHERE number = ?", (number,)).fetchone()
            return _kit(json.loads(row["body"]), "", "the common shed · ")

        return made


def _made(make: Callable[[], Iterable[_Entry]]) -> list[_Entry]:
    """What there is to find of one thing: nothing, where it cannot be read."""
    try:
        return list(make())
    except (ValueError, LookupError, TypeError, AttributeError, RecursionError):
        return []


def _said(data: dict[str, Any], *keys: str) -> str:
    return " ".join(str(data[k]) for k in keys if data.get(k))


def _texts(data: Any, keys: tuple[str, ...]) -> Iterator[str]:
    """What stands under some keys, anywhere in plain data."""
    if isinstance(data, dict):
        for key, value in data.items():
            if isinstance(value, str) and key in keys:
                yield value
            else:
                yield from _texts(value, keys)
    elif isinstance(data, list):
        for value in data:
            yield from _texts(value, keys)


def _kit(shed: dict[str, Any], place: str, where: str) -> list[_Entry]:
    return [
        _Entry("kit", _said(x, "name"), f"{where}{name.replace('_', ' ')} {_said(x, *KIT)}", place)
        for name in SHED_LISTS
        for x in shed.get(name) or ()
    ]


def _reference() -> list[_Entry]:
    rows = [
        _Entry("reference", r.name, f"{t.title} {r.source} {r.note}", "/reference")
        for name in NAMES
        for t in [table(name)]
        for r in t.rows.values()
    ]
    rows += [_Entry("reference", p.name, f"pattern {p.notes} {p.source}", "/reference") for p in patterns().values()]
    return rows + [_Entry("reference", k.name, f"knot {k.use} {k.unties}", "/reference") for k in knot_guide()]
