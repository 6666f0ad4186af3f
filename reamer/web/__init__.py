"""The web application: a list of parts."""

from __future__ import annotations

import mimetypes
from collections.abc import Callable

from flask import Flask, Response, abort, request, send_from_directory
from flask_compress import Compress
from werkzeug.exceptions import HTTPException
from werkzeug.routing import RequestRedirect

from reamer.desk.library import prepare

# Some parts only declare endpoints.
from reamer.web import (  # noqa: F401
    answers_api,
    base,
    card_api,
    devices_api,
    files_api,
    gear_api,
    guard,
    home_api,
    library_api,
    log_api,
    plans_api,
    problems,
    reference_api,
    rehearsal_api,
)
from reamer.web.endpoints import sent_to
from reamer.web.settings import Settings


def create_app(settings: Settings) -> Flask:
    """The application on one database. Importing builds nothing; this does."""
    app = Flask("reamer", static_folder=None)
    app.config["REAMER"] = settings
    app.config["MAX_CONTENT_LENGTH"] = settings.body_limit_bytes
    # Scripts, styles and pages; answers stay on this machine and would only be later for it.
    app.config["COMPRESS_MIMETYPES"] = ["text/html", "text/css", "text/javascript", "image/svg+xml"]
    app.config["COMPRESS_ALGORITHM"], app.config["COMPRESS_BR_LEVEL"] = ["br", "gzip"], 7
    Compress(app)
    prepare(settings.database)
    problems.init_app(app)
    guard.init_app(app, settings)
    base.init_app(app)
    card_api.init_app(app)
    devices_api.init_app(app)
    app.register_blueprint(base.bp)
    _front_end(app, settings)
    return app


def most_bytes(app: Flask) -> Callable[[str, str], int]:
    """By method and path, how many bytes a body may have: what the server before the application goes by."""
    urls, settings = app.url_map.bind("localhost"), app.config["REAMER"]

    def most(method: str, path: str) -> int:
        try:
            sent = sent_to(urls.match(path, method)[0])
        except (HTTPException, RequestRedirect):
            sent = None
        return int(sent.most if sent is not None else settings.body_limit_bytes)

    return most


def _front_end(app: Flask, settings: Settings) -> None:
    """The built front end; any path that is not the API's and not a file opens the application."""

    @app.get("/")
    @app.get("/<path:path>")
    def page(path: str = "index.html") -> Response:
        if path.startswith("api/"):
            abort(404, "There is no such resource.")
        # No file whose name begins with a dot, in whatever spelling, and none that is not below the folder.
        if any(part.startswith(".") for part in path.replace("\\", "/").split("/")) or len(path) > 400:
            abort(404, "No such file.")
        if "\0" not in path and (settings.static / path).is_file():
            return _whole(path, 31536000 if path.startswith("assets/") else 0)
        if path.startswith("assets/") or not (settings.static / "index.html").is_file():
            abort(404, "The front end is not built; run `make build`." if path == "index.html" else "No such file.")
        return _whole("index.html", 0)

    def _whole(path: str, max_age: int) -> Response:
        """A file at once: small as they are, none has to be sent piece by piece."""
        small = f"{path}.br"
        has_small = (settings.static / small).is_file()
        takes_it = has_small and request.accept_encodings.best_match(["br"]) == "br"
        kind = mimetypes.guess_type(path)[0]
        made = send_from_directory(settings.static, small if takes_it else path, mimetype=kind, max_age=max_age)
        if takes_it:
            made.headers["Content-Encoding"] = "br"
        if has_small:
            made.vary.add("Accept-Encoding")
        made.direct_passthrough = False
        made.make_sequence()
        return made
