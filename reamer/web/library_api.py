"""The library as a whole over HTTP: one file out, one file in."""

from __future__ import annotations

import os
import re
import secrets
import tempfile
import time
from pathlib import Path

from flask import Response, current_app, request
from pydantic import BaseModel

from reamer.core.errors import PlanError
from reamer.store.backup import MOST_BYTES, Content, back_up, content, look, put_back
from reamer.web.endpoints import endpoint
from reamer.web.plans_api import Body, bp, kept, plans

KEPT_HOURS = 24


class Offered(BaseModel):
    """A backup that was looked at and waits to be put in the library's place: by which token, what it holds, and what
    the library holds now."""

    token: str
    holds: Content
    now: Content


class RestoreBody(Body):
    """Which backup is put in the library's place, by its token."""

    token: str


class Restored(BaseModel):
    """What the library holds now; ``before``: the token by which what it held before is had back."""

    holds: Content
    before: str


def _folder() -> Path:
    """Where backups wait: beside the library, so that they are on the same disk, and only its owner reads them."""
    made: Path = current_app.config["REAMER"].database.resolve().parent / "restores"
    made.mkdir(mode=0o700, exist_ok=True)
    for old in made.glob("*.sqlite3*"):
        if old.stat().st_mtime < time.time() - KEPT_HOURS * 3600:
            old.unlink(missing_ok=True)
    return made


def _waiting(token: str) -> Path:
    path = _folder() / f"{token}.sqlite3"
    if not re.fullmatch(r"[0-9a-f]{16}", token) or not path.is_file():
        raise PlanError("token", "this backup is no longer at hand; choose its file again")
    return path


@bp.get("/backup")
def backup_file() -> Response:
    """The whole library as one file."""
    with tempfile.TemporaryDirectory() as folder:
        made = Path(folder) / "reamer.sqlite3"
        back_up(plans().conn, made)
        data = made.read_bytes()
    named = {"Content-Disposition": f'attachment; filename="reamer-{time.strftime("%Y-%m-%d")}.sqlite3"'}
    return Response(data, content_type="application/vnd.sqlite3", headers=named)


@endpoint(bp, "POST", "/restore/look", Offered)
def look_at_backup() -> Offered:
    """Look at a backup; its file is the body. Nothing is changed by it."""
    request.max_content_length = MOST_BYTES
    token = secrets.token_hex(8)
    path = _folder() / f"{token}.sqlite3"
    try:
        with path.open("xb") as out:
            os.chmod(path, 0o600)
            while piece := request.stream.read(1_000_000):
                out.write(piece)
        holds = look(path)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return Offered.model_construct(token=token, holds=holds, now=content(plans().conn))


@endpoint(bp, "POST", "/restore", Restored, RestoreBody)
def restore(body: RestoreBody) -> Restored:
    """Put a backup in the library's place. What was there is kept a day, and had back by its own token."""
    path = _waiting(body.token)
    look(path)
    before = secrets.token_hex(8)
    back_up(plans().conn, _folder() / f"{before}.sqlite3")
    put_back(plans().conn, path)
    kept().forget()
    return Restored.model_construct(holds=content(plans().conn), before=before)
