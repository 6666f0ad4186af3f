"""Demonstration plans: invented descents, people and kit. None of it is any real place or product.

Each is a plan file beside this one, in the form that every plan has."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache, partial
from pathlib import Path

from reamer.core.model import Plan
from reamer.core.reading import parse, read_plan


@cache
def demo(name: str) -> Plan:
    """A demonstration plan by its name; read once, as nobody can change it.

    name: canyon, buttress or gully
    returns: the plan
    raises: OSError if there is none of this name
    Source: invented.
    """
    return read_plan(parse((Path(__file__).parent / f"{name}.json").read_bytes()))


canyon, buttress, gully = (partial(demo, name) for name in ("canyon", "buttress", "gully"))
DEMOS: dict[str, Callable[[], Plan]] = {"canyon": canyon, "buttress": buttress, "gully": gully}
