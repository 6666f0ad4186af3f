"""Every setting of the server, each with its default and what it is for."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path

from reamer.core.errors import PlanError

STATIC = Path(__file__).parent / "static"


@dataclass(frozen=True, slots=True)
class Settings:
    """database: the SQLite file. port: where it listens on 127.0.0.1. static: the built front end. body_limit_bytes:
    largest request body that is no file: a plan as large as one may be, and what stands round it. hosts: Host headers
    answered, made from the port if not given. share: host and port of the second listener that shows cards, "" for
    none."""

    database: Path
    port: int = 8420
    static: Path = STATIC
    body_limit_bytes: int = 2_510_000
    hosts: tuple[str, ...] = field(default=())
    share: str = ""

    @property
    def allowed_hosts(self) -> tuple[str, ...]:
        """Host headers that are answered."""
        return self.hosts or (f"127.0.0.1:{self.port}", f"localhost:{self.port}")


def card_parts(static: Path = STATIC) -> tuple[str, str]:
    """The script and the style of the card that goes along, as they were built.

    static: the built front end
    returns: script, style
    raises: PlanError where they are not built
    """
    try:
        return (static / "card/card.js").read_text(), (static / "card/card.css").read_text()
    except OSError:
        raise PlanError("", "the card's page is not built; run `make build`") from None
