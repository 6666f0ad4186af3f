"""The HTTP server before the application: what it refuses by itself, and how long it waits for whom."""

from __future__ import annotations

import copy
import json
from collections.abc import Callable
from typing import Any

from waitress.server import create_server
from waitress.task import ErrorTask

from reamer.web.guard import HEADERS
from reamer.web.problems import too_large

# Connections at once, and for how long one may say nothing while nothing is worked out for it.
CONNECTIONS, IDLE_S = 400, 20
# What is larger by this much is read, so that the application can tell why it is refused.
MORE = 100_000
SAID = {
    400: "It is not a request that can be read.",
    431: "Its headers are too long.",
    501: "It is sent in a way that is not read here.",
}


def listening(
    app: Any, host: str, port: int, most: Callable[[str, str], int], threads: int = 8, idle_s: int = IDLE_S
) -> Any:
    """A server that listens already.

    app: what answers; host, port: where, port 0 for any that is free; most: by method and path, how many bytes a body
    may have; threads: how many are answered at once; idle_s: how long a connection may be idle
    returns: the server; ``run`` answers until it is closed
    raises: OSError where the port cannot be used
    """
    server: Any = create_server(
        app,
        host=host,
        port=port,
        threads=threads,
        connection_limit=CONNECTIONS,
        channel_timeout=idle_s,
        cleanup_interval=max(1, idle_s // 4),
        # Who asks can be seen to have left while it is worked out.
        channel_request_lookahead=1,
        asyncore_use_poll=True,
    )

    class Refused(ErrorTask):
        """An answer to a request that never reaches the application."""

        def execute(self) -> None:
            asked: Any = self.request
            e, limit = asked.error, asked.adj.max_request_body_size - MORE - 1
            detail = too_large(limit) if e.code == 413 else SAID.get(e.code, "Something failed inside Reamer.")
            body = json.dumps({"type": "about:blank", "title": e.reason, "status": e.code, "detail": detail}).encode()
            self.status = f"{e.code} {e.reason}"
            self.response_headers = [("Content-Type", "application/problem+json"), *HEADERS.items()]
            self.set_close_on_finish()
            self.content_length = len(body)
            self.write(body)

    # The server is given at run time, so its types cannot be known.
    class Parser(server.channel_class.parser_class):  # type: ignore[misc]
        """A request, of which the body may be as large as its path allows."""

        def parse_header(self, header_plus: bytes) -> None:
            super().parse_header(header_plus)
            own: Any = copy.copy(server.adj)
            # A body of just so many bytes is taken.
            own.max_request_body_size = most(self.command, self.path) + MORE + 1
            self.adj = own

    class Channel(server.channel_class):  # type: ignore[misc]
        error_task_class, parser_class = Refused, Parser

    server.channel_class = Channel
    return server
