"""The library as a whole over HTTP: backed up, looked at, put back."""

from __future__ import annotations

import time

from flask import Response, request

from reamer.desk.library import Offered, Restored, exchanged, offered, put_away, unread, unread_text, written
from reamer.store.backup import MOST_BYTES
from reamer.store.unread import Unread, UnreadKind
from reamer.web.base import Body, bp, desk, download, file_name, settings
from reamer.web.endpoints import Sent, endpoint


class PutAwayBody(Body):
    """What is put away, by kind and id, or had back."""

    kind: UnreadKind
    id: str
    away: bool


class RestoreBody(Body):
    """Which backup is put in the library's place, by its token."""

    token: str


@bp.get("/backup")
def backup_file() -> Response:
    """The whole library as one file."""
    return download(written(desk()), "application/vnd.sqlite3", f"reamer-{time.strftime('%Y-%m-%d')}.sqlite3")


@endpoint(bp, "POST", "/restore/look", Offered, sent=Sent("application/vnd.sqlite3", MOST_BYTES))
def look_at_backup() -> Offered:
    """Look at a backup; its file is the body. Nothing is changed by it."""
    return offered(desk(), settings().database, request.stream)


@endpoint(bp, "POST", "/restore", Restored, RestoreBody)
def restore(body: RestoreBody) -> Restored:
    """Put a backup in the library's place. What was there is kept a day, and had back by its own token."""
    return exchanged(desk(), settings().database, body.token)


@endpoint(bp, "GET", "/unreadable", list[Unread])
def list_unreadable() -> list[Unread]:
    """Everything stored that cannot be read, but for plans, which are told in their list."""
    return unread(desk())


@endpoint(bp, "POST", "/unreadable", list[Unread], PutAwayBody)
def put_away_unreadable(body: PutAwayBody) -> list[Unread]:
    """Put away what cannot be read, or have it back; it stays stored as it is."""
    put_away(desk(), body.kind, body.id, body.away)
    return list_unreadable()


@bp.get("/unreadable/file")
def unreadable_file() -> Response:
    """The text of something that cannot be read as it is stored, by ``?kind=`` and ``&id=``."""
    kind, made = request.args.get("kind", ""), request.args.get("id", "")
    return download(unread_text(desk(), kind, made), "text/plain; charset=utf-8", file_name(f"{kind} {made}", "txt"))
