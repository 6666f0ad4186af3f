"""What every resource stands on: the one blueprint, the request's own desk, what bodies have in common."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import Blueprint, Flask, Response, current_app, g, request
from pydantic import BaseModel, ConfigDict

from reamer.core.answer.say import UnitSystem
from reamer.core.errors import PlanError
from reamer.desk.desk import Desk
from reamer.desk.memory import Memory
from reamer.figures.svg import png
from reamer.web.settings import Settings

bp = Blueprint("api", __name__, url_prefix="/api")
# By which library is asked about, and was answered from.
LIBRARY = "X-Library"


class Body(BaseModel):
    """Base of request bodies."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class StepBody(Body):
    """The revision to step from."""

    revision: int


def init_app(app: Flask) -> None:
    """One memory for the process; one desk a request, left when it is answered."""
    app.extensions["memory"] = Memory()

    @app.teardown_appcontext
    def close(_: BaseException | None) -> None:
        had = g.pop("desk", None)
        if had is not None:
            had.close()

    @app.after_request
    def named(response: Response) -> Response:
        if "desk" in g and g.desk.there:
            response.headers[LIBRARY] = g.desk.there
        return response


def settings() -> Settings:
    """How this server was started."""
    found: Settings = current_app.config["REAMER"]
    return found


def memory() -> Memory:
    """What this process keeps."""
    found: Memory = current_app.extensions["memory"]
    return found


def desk() -> Desk:
    """This request's own desk, at the library that it asks about."""
    if "desk" not in g:
        gone: Callable[[], bool] = request.environ.get("waitress.client_disconnected", lambda: False)
        g.desk = Desk(settings().database, memory(), request.headers.get(LIBRARY, ""), lambda: not gone())
    found: Desk = g.desk
    return found


def in_units() -> UnitSystem:
    """The units that are asked for, ``?units=us`` or metric."""
    return "us" if request.args.get("units") == "us" else "metric"


def whole(name: str) -> int:
    """A whole number of the query, 0 where it is not given. Raises PlanError naming it."""
    try:
        return max(0, int(request.args.get(name, "0")[:12]))
    except ValueError:
        raise PlanError(name, "it is a whole number") from None


def figure(form: str, make: Callable[[], str]) -> Response:
    """A figure in SVG or PNG. Raises PlanError where another form is asked for."""
    if form not in ("svg", "png"):
        raise PlanError("form", "a figure is written as svg or png")
    svg = make()
    if form == "svg":
        return Response(svg, content_type="image/svg+xml")
    return Response(png(svg), content_type="image/png")


def file_name(title: str, kind: str) -> str:
    """A plan's title as a file's name."""
    return ("".join(c if c.isascii() and c.isalnum() else "-" for c in title.lower()).strip("-") or "plan") + f".{kind}"


def download(data: Any, kind: str, name: str) -> Response:
    """A file to be kept under a name."""
    named = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(data, content_type=kind, headers=named)
