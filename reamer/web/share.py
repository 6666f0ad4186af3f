"""Cards shown to phones in the room: a second listener that serves chosen cards, read-only, and nothing else."""

from __future__ import annotations

import datetime as dt
import hashlib
import re
import secrets
import socket
import threading
from collections.abc import Callable
from dataclasses import dataclass

from flask import Flask, Response, request
from werkzeug.exceptions import RequestEntityTooLarge

from reamer.core.errors import PlanError
from reamer.core.onsite.handed import MOST_BYTES, read_handed
from reamer.core.plan.correction import Handed
from reamer.formats.card import Card
from reamer.web.guard import HEADERS

MOST, MOST_HANDED = 20, 40
MINUTES = (5, 120)
SCRIPT = re.compile(r"script-src ('sha256-[A-Za-z0-9+/=]+')")


@dataclass(slots=True)
class Shown:
    """A card that is shown. ``id``: to end it by; the link holds a secret of its own. ``card``: the card's own id;
    ``handed``: how often something was handed back over its link."""

    id: str
    plan: str
    title: str
    revision: int
    card: str
    until: dt.datetime
    page: bytes
    handed: int = 0


Keep = Callable[[Shown, Handed, bool], None]


class Shared:
    """The cards that are shown now, by a digest of their link's secret; kept in memory only."""

    def __init__(self, address: str = "", keep: Keep = lambda *_: None) -> None:
        """address: host and port of the second listener, "" where there is none; keep: given what is handed back over a
        card's link, and whether its text is as the phone wrote it"""
        self.address = address
        self.keep = keep
        self.held: dict[str, Shown] = {}
        self.lock = threading.Lock()

    def show(self, of: Card, minutes: int, page: str) -> tuple[Shown, str]:
        """Show a card for some minutes; the card and its link. Raises PlanError where that cannot be."""
        if not self.address:
            raise PlanError("", "nothing is shared: start it with `reamer serve --share`")
        if not MINUTES[0] <= minutes <= MINUTES[1]:
            raise PlanError("minutes", f"a card is shown for {MINUTES[0]} to {MINUTES[1]} minutes")
        secret = secrets.token_urlsafe(24)
        until = _now() + dt.timedelta(minutes=minutes)
        made = Shown(secrets.token_hex(6), of.of.plan, of.title, of.of.revision, of.id, until, page.encode())
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

    def hand_back(self, shown: Shown, text: bytes) -> None:
        """Take what a phone hands back of a card. Raises PlanError where it is not that card's, or too much."""
        handed, sealed = read_handed(text)
        if (handed.card, handed.plan) != (shown.card, shown.plan):
            raise PlanError("card", "these corrections are of another card")
        with self.lock:
            if shown.handed >= MOST_HANDED:
                raise PlanError("", "too much was handed back over this link; download the file instead")
            shown.handed += 1
        self.keep(shown, handed, sealed)

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
    app.config["MAX_CONTENT_LENGTH"] = MOST_BYTES

    @app.before_request
    def check() -> Response | None:
        if request.host != shared.address:
            return _said(400, "Nothing is served under this name.")
        if request.method not in ("GET", "HEAD", "POST"):
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

    @app.post("/<secret>")
    def corrections(secret: str) -> Response:
        found = shared.find(secret)
        if found is None:
            return _said(404, "This link has ended or expired. Download the file instead, and hand it to the desk.")
        if request.mimetype != "application/json":
            return _said(415, "Corrections are sent as JSON.")
        try:
            shared.hand_back(found, request.get_data())
        except PlanError as e:
            return _said(422, f"Not taken: {e.message}.")
        return _said(200, "It waits at the desk until somebody there accepts it.")

    @app.errorhandler(RequestEntityTooLarge)
    def large(_: RequestEntityTooLarge) -> Response:
        return _said(413, f"Corrections have at most {MOST_BYTES:,} bytes.")

    @app.errorhandler(Exception)
    def nothing(_: Exception) -> Response:
        return _said(404, "There is nothing here.")

    @app.after_request
    def headers(response: Response) -> Response:
        response.headers.update(HEADERS)
        found = SCRIPT.search(response.get_data(as_text=True)[:2000]) if response.status_code == 200 else None
        script = found[1] if found else "'none'"
        response.headers["Content-Security-Policy"] = (
            f"default-src 'none'; style-src 'unsafe-inline'; font-src data:; img-src data:; script-src {script}; "
            "base-uri 'none'; connect-src 'self'; "
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
