"""What stands before every request and on every response: Host, Origin and content policy."""

from __future__ import annotations

from flask import Flask, Response, request

from reamer.web.endpoints import sent_to
from reamer.web.problems import problem
from reamer.web.settings import Settings

POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; "
    "connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "camera=(), microphone=(), geolocation=()",
}


def init_app(app: Flask, settings: Settings) -> None:
    """Refuse foreign hosts and origins, and bodies that are not JSON; add the security headers."""
    hosts = settings.allowed_hosts
    origins = {f"http://{host}" for host in hosts}

    @app.before_request
    def check() -> Response | None:
        if request.host not in hosts:
            return problem(400, f"Host: {request.host!r} is not served here; use {hosts[0]}.")
        origin = request.headers.get("Origin")
        # Whoever follows a link from another page gets the page, and no more: it reads nothing of ours.
        followed = (
            request.method == "GET"
            and request.headers.get("Sec-Fetch-Mode") == "navigate"
            and not request.path.startswith("/api/")
        )
        # Another port of this machine is the same site, and another page.
        foreign = request.headers.get("Sec-Fetch-Site") in ("cross-site", "same-site")
        if (origin is not None and origin not in origins) or (foreign and not followed):
            return problem(403, "Origin: requests from other pages are refused.")
        # A file is no JSON; neither kind can be sent from another page unasked.
        sent = sent_to(request.endpoint)
        wanted = sent.kind if sent is not None else "application/json"
        request.max_content_length = sent.most if sent is not None else settings.body_limit_bytes
        if request.method in ("POST", "PUT", "PATCH") and request.mimetype != wanted:
            return problem(415, f"Content-Type: a body must be {wanted}.")
        return None

    @app.after_request
    def headers(response: Response) -> Response:
        for name, value in HEADERS.items():
            response.headers[name] = value
        if request.path.startswith("/api/"):
            response.headers["Cache-Control"] = "no-store"
        return response
