"""Whether what is being worked out is still wanted: whoever asked may have gone on."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from reamer.core.errors import Cancelled


def _always() -> bool:
    return True


_WANTED: ContextVar[Callable[[], bool]] = ContextVar("wanted", default=_always)


@contextmanager
def while_wanted(going: Callable[[], bool]) -> Iterator[None]:
    """What is worked out within ends where it is no longer wanted.

    going: whether it still is; asked often, so it must be quick
    returns: a context
    raises: Cancelled where it is not
    Source: none.
    """
    token = _WANTED.set(going)
    try:
        yield
    finally:
        _WANTED.reset(token)


def go_on() -> None:
    """Asked between the parts of what takes long.

    returns: nothing
    raises: Cancelled where it is no longer wanted
    Source: none.
    """
    if not _WANTED.get()():
        raise Cancelled
