"""Files in open formats over HTTP, taken in and written; and words looked for in the whole library."""

from __future__ import annotations

import datetime as dt
from typing import cast

from flask import Response, request
from pydantic import BaseModel, Field

from reamer.core.errors import PlanError
from reamer.core.model import Plan
from reamer.core.plan.log import Trip
from reamer.desk import saves
from reamer.formats.calendar import Written, calendar
from reamer.formats.importing import look as look_in
from reamer.formats.outgoing import NAMES, Outgoing, outgoing, written
from reamer.formats.sheets import MOST_BYTES, SIGNS, Decimal
from reamer.formats.tables import Kind, write
from reamer.formats.traces import Trace, read_trace
from reamer.formats.tracks import gpx, maps
from reamer.store.search import Hit, Search
from reamer.web.base import Body, bp, desk, download, file_name, in_units
from reamer.web.endpoints import Sent, endpoint

KINDS = {
    "gpx": "application/gpx+xml",
    "geojson": "application/geo+json",
    "ics": "text/calendar; charset=utf-8",
    "csv": "text/csv; charset=utf-8",
}


def _logged(plan_id: str) -> tuple[list[Trip], int]:
    """The descents of a plan, and how many of them cannot be read."""
    log = desk().log
    return [t.trip for t in log.of(plan_id) if t.trip is not None], sum(u.plan_id == plan_id for u in log.unread())


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/exports", list[Outgoing])
def list_exports(plan_id: str, revision: int) -> list[Outgoing]:
    """What each file out would leave out, and of which there is nothing to write."""
    found = desk().at(plan_id, revision)
    return list(outgoing(found.plan, found.a, *_logged(plan_id)))


@bp.get("/plans/<plan_id>/revisions/<int:revision>/export/<name>")
def export(plan_id: str, revision: int, name: str) -> Response:
    """A plan's places, times or tables in an open format; ``?units=us`` for US units."""
    if name not in NAMES:
        raise PlanError("name", f"what can be written is {', '.join(NAMES)}")
    found, ending = desk().at(plan_id, revision), name.rpartition(".")[2]
    trips, unread = _logged(plan_id)
    written(name, found.plan, found.a, trips, unread)
    plan, what = found.plan, name.rpartition(".")[0].replace("-", " ")
    data: str | bytes
    if ending == "gpx":
        data = gpx(plan)
    elif ending == "geojson":
        data = maps(plan)
    elif ending == "ics":
        data = calendar(plan, found.a, found.standing.tally, dt.datetime.now(dt.UTC), Written(plan_id, revision))
    else:
        data = write(cast(Kind, what), plan, trips, in_units())
    return download(data, KINDS[ending], f"{file_name(plan.title, what.replace(' ', '-'))}.{ending}")


FILE = Sent("application/octet-stream", MOST_BYTES)


def _sign() -> Decimal:
    said = request.args.get("decimal", "")
    if said not in ("", *SIGNS):
        raise PlanError("decimal", f"{said[:10]!r} is neither a point nor a comma")
    return cast(Decimal, said)


class ImportView(BaseModel):
    """What a file would change, before anything is: in words, what is not taken, the plan as it would be, and descents
    that would be logged."""

    kind: str
    changes: list[str]
    left: list[str]
    plan: Plan
    trips: list[Trip]


@endpoint(bp, "POST", "/plans/<plan_id>/import", ImportView, sent=FILE)
def look_at_file(plan_id: str) -> ImportView:
    """What a file, which is the body, would change in a plan; ``?name=`` is its name, ``?decimal=`` the sign before
    decimals, asked for where its own numbers leave that open. Nothing is saved."""
    made = look_in(desk().head(plan_id).plan, request.args.get("name", ""), request.get_data(), _sign())
    return ImportView.model_construct(
        kind=made.kind, changes=list(made.changes), left=list(made.left), plan=made.plan, trips=list(made.trips)
    )


@endpoint(bp, "POST", "/traces", Trace, sent=FILE)
def look_at_trace() -> Trace:
    """What a load cell's trace holds, as CSV, which is the body; ``?decimal=`` as for a table. Nothing is saved."""
    return read_trace(request.get_data(), _sign())


class TripsBody(Body):
    """Descents to be logged together."""

    trips: list[Trip] = Field(min_length=1, max_length=200)


class Together(BaseModel):
    """Descents that were logged or taken out together, by their ids and revisions."""

    trips: dict[str, int]


@endpoint(bp, "POST", "/plans/<plan_id>/log/together", Together, TripsBody)
def add_trips(plan_id: str, body: TripsBody) -> Together:
    """Log descents together, all or none."""
    return Together(trips={t.id: t.revision for t in saves.log_trips(desk(), plan_id, body.trips)})


@endpoint(bp, "POST", "/plans/<plan_id>/log/apart", Together, Together)
def remove_trips(plan_id: str, body: Together) -> Together:
    """Take descents out of the log together, all or none."""
    return Together(trips={t.id: t.revision for t in saves.unlog_trips(desk(), plan_id, body.trips)})


class Found(BaseModel):
    """What was found."""

    hits: list[Hit]


@endpoint(bp, "GET", "/search", Found)
def search() -> Found:
    """What holds every word of ``?q=`` or a word that begins so: plans, stations, people, kit, descents, reference."""
    return Found(hits=Search(desk().conn).find(request.args.get("q", "")[:200]))
