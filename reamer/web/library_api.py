"""Files in open formats over HTTP: a plan's, and the library as a whole."""

from __future__ import annotations

import base64
import datetime as dt
import os
import re
import secrets
import tempfile
import time
from pathlib import Path
from typing import cast

from flask import Response, current_app, request
from pydantic import BaseModel, Field

from reamer.core.answer.say import UnitSystem
from reamer.core.errors import PlanError
from reamer.core.model import Plan
from reamer.core.plan.log import Trip
from reamer.formats.calendar import calendar
from reamer.formats.importing import look as look_in
from reamer.formats.tables import Kind, write
from reamer.formats.traces import Trace, read_trace
from reamer.formats.tracks import gpx, maps
from reamer.store.backup import MOST_BYTES, Content, back_up, content, look, put_back
from reamer.store.database import transaction
from reamer.store.log import Log
from reamer.store.search import Hit, Search
from reamer.web.endpoints import endpoint
from reamer.web.log_api import with_used
from reamer.web.plans_api import Body, answered, bp, file_name, plans, renewed, stands

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
    put_back(plans().conn, path, _folder() / f"{before}.sqlite3")
    renewed()
    return Restored.model_construct(holds=content(plans().conn), before=before)


EXPORTS: dict[str, tuple[str, str]] = {
    "places.gpx": ("application/gpx+xml", "gpx"),
    "places.geojson": ("application/geo+json", "geojson"),
    "times.ics": ("text/calendar; charset=utf-8", "ics"),
    "shots.csv": ("text/csv; charset=utf-8", "csv"),
    "shed.csv": ("text/csv; charset=utf-8", "csv"),
    "party.csv": ("text/csv; charset=utf-8", "csv"),
    "log.csv": ("text/csv; charset=utf-8", "csv"),
    "pull-tests.csv": ("text/csv; charset=utf-8", "csv"),
}


@bp.get("/plans/<plan_id>/revisions/<int:revision>/export/<name>")
def export(plan_id: str, revision: int, name: str) -> Response:
    """A plan's places, times or tables in an open format; ``?units=us`` for US units."""
    if name not in EXPORTS:
        raise PlanError("name", f"what can be written is {', '.join(EXPORTS)}")
    kind, ending = EXPORTS[name]
    found = answered(plan_id, revision)
    ctx, a = found.ctx, found.assessment
    what = name.rpartition(".")[0].replace("-", " ")
    data: str | bytes
    if ending == "gpx":
        data = gpx(ctx.plan)
    elif ending == "geojson":
        data = maps(ctx.plan)
    elif ending == "ics":
        data = calendar(ctx.plan, a, stands(plan_id, revision, found).tally, dt.datetime.now(dt.UTC))
    else:
        trips = [t.trip for t in Log(plans().conn).of(plan_id) if t.trip is not None]
        units: UnitSystem = "us" if request.args.get("units") == "us" else "metric"
        data = write(cast(Kind, what), ctx.plan, trips, units)
    named = {
        "Content-Disposition": f'attachment; filename="{file_name(ctx.plan.title, what.replace(" ", "-"))}.{ending}"'
    }
    return Response(data, content_type=kind, headers=named)


class ImportBody(Body):
    """A file, as base64, and its name."""

    name: str = Field(max_length=300)
    data: str


def _bytes(body: ImportBody) -> bytes:
    try:
        return base64.b64decode(body.data, validate=True)
    except ValueError:
        raise PlanError("data", "it is not base64") from None


class ImportView(BaseModel):
    """What a file would change, before anything is: in words, what is not taken, the plan as it would be, and descents
    that would be logged."""

    kind: str
    changes: list[str]
    left: list[str]
    plan: Plan
    trips: list[Trip]


@endpoint(bp, "POST", "/plans/<plan_id>/import", ImportView, ImportBody)
def look_at_file(plan_id: str, body: ImportBody) -> ImportView:
    """What a file would change in a plan; nothing is saved."""
    made = look_in(plans().head(plan_id).plan, body.name, _bytes(body))
    return ImportView.model_construct(
        kind=made.kind, changes=list(made.changes), left=list(made.left), plan=made.plan, trips=list(made.trips)
    )


@endpoint(bp, "POST", "/traces", Trace, ImportBody)
def look_at_trace(body: ImportBody) -> Trace:
    """What a load cell's trace holds, as CSV; nothing is saved."""
    return read_trace(_bytes(body))


class TripsBody(Body):
    """Descents to be logged together."""

    trips: list[Trip] = Field(min_length=1, max_length=200)


class Together(BaseModel):
    """Descents that were logged or taken out together, by their ids and revisions."""

    trips: dict[str, int]


@endpoint(bp, "POST", "/plans/<plan_id>/log/together", Together, TripsBody)
def add_trips(plan_id: str, body: TripsBody) -> Together:
    """Log descents together, all or none."""
    revision = plans().head(plan_id).revision
    trips = [with_used(plan_id, revision, t) for t in body.trips]
    with transaction(plans().conn):
        made = [Log(plans().conn).add(plan_id, t) for t in trips]
    return Together(trips={t.id: t.revision for t in made})


@endpoint(bp, "POST", "/plans/<plan_id>/log/apart", Together, Together)
def remove_trips(plan_id: str, body: Together) -> Together:
    """Take descents out of the log together, all or none."""
    with transaction(plans().conn):
        made = [Log(plans().conn).save(plan_id, i, revision, None) for i, revision in body.trips.items()]
    return Together(trips={t.id: t.revision for t in made})


class Found(BaseModel):
    """What was found."""

    hits: list[Hit]


@endpoint(bp, "GET", "/search", Found)
def search() -> Found:
    """What holds every word of ``?q=`` or a word that begins so: plans, stations, people, kit, descents, reference."""
    return Found(hits=Search(plans().conn).find(request.args.get("q", "")[:200]))
