"""Every failure leaves as one shape: RFC 9457 problem details, with the fields that are wrong."""

from __future__ import annotations

import json
import logging
import sqlite3
from dataclasses import asdict, dataclass
from http import HTTPStatus
from pathlib import Path

from flask import Flask, Response, request
from pydantic import BaseModel
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge

from reamer.core.errors import Cancelled, PlanError
from reamer.desk.desk import OtherLibrary
from reamer.formats.sheets import TwoReadings
from reamer.store.database import StoreError, trouble
from reamer.store.documents import NoSuchDocument, StaleDocument
from reamer.store.handed import NothingHanded
from reamer.store.plans import NoSuchPlan, NoSuchRevision, NothingToUndo, StaleRevision
from reamer.store.shed import StaleShed
from reamer.store.unread import NothingUnread


class FieldError(BaseModel):
    """One field that is wrong, by its path in the plan, and what is wrong with it. ``readings``: what a number may be,
    by the sign before decimals."""

    field: str
    message: str
    readings: dict[str, str] = {}


class SinceRow(BaseModel):
    """A revision saved since the one an edit was made from."""

    number: int
    kind: str
    saved_at: str
    what: str


class Problem(BaseModel):
    """RFC 9457 problem details. ``errors`` name fields; a conflict adds the newest revision and what was saved
    since."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    errors: list[FieldError] = []
    revision: int | None = None
    since: list[SinceRow] = []


class Invalid(Exception):
    """A request body in which one or more fields are wrong."""

    def __init__(self, errors: list[PlanError]):
        super().__init__(str(errors[0]))
        self.errors = errors


@dataclass(frozen=True, slots=True)
class Newer:
    """What a conflict adds: the newest revision, and what was saved since the one that was edited."""

    revision: int | None = None
    since: tuple[SinceRow, ...] = ()


# The type of a problem with the library itself: what is on the screen was of another one.
OTHER = "urn:reamer:other-library"


def problem(
    status: int,
    detail: str,
    errors: list[PlanError] | None = None,
    newer: Newer | None = None,
    kind: str = "about:blank",
) -> Response:
    """A problem response."""
    newer = newer or Newer()
    body = Problem(
        type=kind,
        title=HTTPStatus(status).phrase,
        status=status,
        detail=detail,
        errors=[
            FieldError(field=e.field, message=e.message, readings=e.readings if isinstance(e, TwoReadings) else {})
            for e in errors or []
        ],
        revision=newer.revision,
        since=list(newer.since),
    )
    return Response(json.dumps(body.model_dump()), status, content_type="application/problem+json")


def too_large(most: int) -> str:
    """What is said of a body that is too large."""
    return f"It is too large: at most {most:,} bytes are taken here."


MISSING: dict[type[StoreError], str] = {
    NoSuchPlan: "There is no such plan; it may be in the bin.",
    NothingHanded: "Nothing that was handed back has this id.",
    NoSuchDocument: "Nothing in this log or record has this id.",
    NothingUnread: "Nothing that cannot be read has this id.",
}


def _conflicts(app: Flask) -> None:
    """What was saved meanwhile, and what is no longer there."""

    @app.errorhandler(StaleDocument)
    def stale_document(e: StaleDocument) -> Response:
        detail = f"{e.what} was changed meanwhile: its newest revision is {e.newest}."
        return problem(409, detail[0].upper() + detail[1:], newer=Newer(e.newest))

    @app.errorhandler(NoSuchRevision)
    def gone(e: NoSuchRevision) -> Response:
        return problem(410, f"{e}.".capitalize(), newer=Newer(e.newest))

    @app.errorhandler(OtherLibrary)
    def other(e: OtherLibrary) -> Response:
        return problem(409, f"{e}.".capitalize(), kind=OTHER)

    @app.errorhandler(NothingToUndo)
    def nothing(e: NothingToUndo) -> Response:
        return problem(409, f"{e}.".capitalize())

    @app.errorhandler(StaleRevision)
    def stale(e: StaleRevision) -> Response:
        return problem(
            409,
            f"This edit was made from revision {e.base}; the newest is {e.newest}.",
            newer=Newer(e.newest, tuple(SinceRow(**asdict(r)) for r in e.since)),
        )

    @app.errorhandler(StaleShed)
    def stale_shed(e: StaleShed) -> Response:
        detail = f"The common shed was changed meanwhile: its newest revision is {e.newest}."
        return problem(409, detail, newer=Newer(e.newest))


def init_app(app: Flask) -> None:
    """Register one handler for each kind of failure."""
    _conflicts(app)

    @app.errorhandler(Invalid)
    def invalid(e: Invalid) -> Response:
        return problem(422, str(e.errors[0]), e.errors)

    @app.errorhandler(PlanError)
    def plan_error(e: PlanError) -> Response:
        return problem(422, str(e), [e])

    @app.errorhandler(NoSuchPlan)
    @app.errorhandler(NothingHanded)
    @app.errorhandler(NoSuchDocument)
    @app.errorhandler(NothingUnread)
    def missing(e: StoreError) -> Response:
        return problem(404, MISSING[type(e)])

    @app.errorhandler(Cancelled)
    def cancelled(_: Cancelled) -> Response:
        return problem(422, "The question was asked anew or taken back.")

    @app.errorhandler(sqlite3.Error)
    def database(e: sqlite3.Error) -> Response:
        return problem(503, f"Nothing was saved: {trouble(e)}")

    @app.errorhandler(OSError)
    def file(e: OSError) -> Response:
        name = Path(str(e.filename)).name if e.filename else "a file"
        logging.getLogger("reamer").warning("%s: %s", e.filename, e.strerror)
        return problem(503, f"Nothing was saved: {name} cannot be read or written: {e.strerror or e}.")

    @app.errorhandler(RequestEntityTooLarge)
    def large(_: RequestEntityTooLarge) -> Response:
        return problem(413, too_large(request.max_content_length or 0))

    @app.errorhandler(HTTPException)
    def http(e: HTTPException) -> Response:
        return problem(e.code or 500, e.description or "")

    @app.errorhandler(Exception)
    def unexpected(e: Exception) -> Response:
        logging.getLogger("reamer").exception("unexpected failure", exc_info=e)
        return problem(500, "Something failed inside Reamer. Nothing was saved.")
