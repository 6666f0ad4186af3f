"""The library as a whole over HTTP: backed up, looked at, put back."""

from __future__ import annotations

import time

from flask import Response, request

from reamer.desk.library import Offered, Restored, exchanged, offered, written
from reamer.store.backup import MOST_BYTES
from reamer.web.base import Body, bp, desk, download, settings
from reamer.web.endpoints import Sent, endpoint


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
