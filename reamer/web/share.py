"""Cards shown to phones in the room: a second listener that serves chosen cards, read-only, and nothing else."""

from __future__ import annotations

import datetime as dt
import hashlib
import re
import secrets
import socket
import threading
from dataclasses import dataclass

from flask import Flask, Response, request

from reamer.core.errors import PlanError
from reamer.web.guard import HEADERS

MOST = 20
MINUTES = (5, 120)
SCRIPT = re.compile(r"script-src ('sha256-[A-Za-z0-9+/=]+')")


@dataclass(frozen=True, slots=True)
class Shown:
    """A card that is shown. ``id``: to end it by; the link holds a secret of its own."""

    id: str
    plan: str
    title: str
    revision: int
    until: dt.datetime
    page: bytes


class Shared:
    """The cards that are shown now, by a digest of their link's secret; kept in memory only."""

    def __init__(self, address: str = "") -> None:
        """address: host and port of the second listener, "" where there is none"""
        self.address = address
        self.held: dict[str, Shown] = {}
        self.lock = threading.Lock()

    def show(self, plan: str, title: str, revision: int, minutes: int, page: str) -> tuple[Shown, str]:
        """Show a card for some minutes; the card and its link. Raises PlanError where that cannot be."""
        if not self.address:
            raise PlanError("", "nothing is shared: start it with `reamer serve --share`")
        if not MINUTES[0] <= minutes <= MINUTES[1]:
            raise PlanError("minutes", f"a card is shown for {MINUTES[0]} to {MINUTES[1]} minutes")
        secret = secrets.token_urlsafe(24)
        until = _now() + dt.timedelta(minutes=minutes)
        made = Shown(secrets.token_hex(6), plan, title, revision, until, page.encode())
        with self.lock:
            self._clear()
            if len(self.held) >= MOST:
                raise PlanError("", f"{MOST} cards are shown already; end one first")
            self.held[_key(secret)] = made
        return made, f"http://{self.address}/{secret}"

    def find(self, secret: str) -> Shown | None:
        """The card of a link; None where it was never shown, has ended or has expired."""
        with self.lock:
            self._clear()
            return self.held.get(_key(secret))

    def shown(self) -> list[Shown]:
        """Every card that is shown now."""
        with self.lock:
            self._clear()
            return list(self.held.values())

    def end(self, shown_id: str) -> None:
        """Show a card no longer."""
        with self.lock:
            self.held = {k: s for k, s in self.held.items() if s.id != shown_id}

    def _clear(self) -> None:
        now = _now()
        self.held = {k: s for k, s in self.held.items() if s.until > now}


def _now() -> dt.datetime:
    return dt.datetime.now(dt.UTC)


def _key(secret: str) -> str:
    # Looked up by its digest, so that nothing of the secret can be told from how long that takes.
    return hashlib.sha256(secret.encode()).hexdigest()


def create_share_app(shared: Shared) -> Flask:
    """The application of the second listener."""
    app = Flask("reamer-share", static_folder=None)
    app.config["MAX_CONTENT_LENGTH"] = 1000

    @app.before_request
    def check() -> Response | None:
        if request.host != shared.address:
            return _said(400, "Nothing is served under this name.")
        if request.method not in ("GET", "HEAD"):
            return _said(405, "Cards are only shown here.")
        if request.headers.get("Origin") not in (None, f"http://{shared.address}"):
            return _said(403, "Requests from other pages are refused.")
        return None

    @app.get("/<secret>")
    def card(secret: str) -> Response:
        found = shared.find(secret)
        if found is None:
            return _said(404, "This link shows nothing: it is mistyped, was ended, or has expired. Ask for a new one.")
        return Response(found.page, content_type="text/html; charset=utf-8")

    @app.errorhandler(Exception)
    def nothing(_: Exception) -> Response:
        return _said(404, "There is nothing here.")

    @app.after_request
    def headers(response: Response) -> Response:
        response.headers.update(HEADERS)
        found = SCRIPT.search(response.get_data(as_text=True)[:2000]) if response.status_code == 200 else None
        script = found[1] if found else "'none'"
        response.headers["Content-Security-Policy"] = (
            f"default-src 'none'; style-src 'unsafe-inline'; font-src data:; script-src {script}; base-uri 'none'; "
            "form-action 'none'; frame-ancestors 'none'"
        )
        response.headers["Cache-Control"] = "no-store"
        return response

    return app


def _said(status: int, words: str) -> Response:
    return Response(words + "\n", status, content_type="text/plain; charset=utf-8")


def own_address() -> str:
    """This machine's address in the room, as far as it can be told; nothing is sent to find it."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as s:
        try:
            s.connect(("192.0.2.1", 9))
            return str(s.getsockname()[0])
        except OSError:
            return "127.0.0.1"
