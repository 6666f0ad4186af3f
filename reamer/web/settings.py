"""Every setting of the server, each with its default and what it is for."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path

STATIC = Path(__file__).parent / "static"


@dataclass(frozen=True, slots=True)
class Settings:
    """database: the SQLite file. port: where it listens on 127.0.0.1. static: the built front end.
    body_limit_bytes: largest request body. hosts: Host headers answered, made from the port if not given."""

    database: Path
    port: int = 8420
    static: Path = STATIC
    body_limit_bytes: int = 2_600_000
    hosts: tuple[str, ...] = field(default=())

    @property
    def allowed_hosts(self) -> tuple[str, ...]:
        """Host headers that are answered."""
        return self.hosts or (f"127.0.0.1:{self.port}", f"localhost:{self.port}")
