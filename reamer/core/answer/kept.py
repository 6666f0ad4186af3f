"""What is made of things that never change is kept for as long as they are the very same things."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Any, TypeVar

T = TypeVar("T")


class ByThings:
    """What was made of things, found by the things themselves and not by what they hold; those asked for longest ago
    go when there are too many."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._held: OrderedDict[tuple[object, ...], tuple[tuple[object, ...], Any]] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, what: str, things: tuple[object, ...], given: tuple[object, ...], make: Callable[[], T]) -> T:
        """What is kept, or else made.

        what: what it is; things: what it is made of, none of which ever changes; given: what else it rests on, told
        apart by what it holds; make: makes it
        returns: what ``make`` returned
        Source: none, keeping.
        """
        key = (what, *map(id, things), *given)
        with self._lock:
            found = self._held.get(key)
            # The name of a thing that is gone may be another's by now.
            if found is not None and all(a is b for a, b in zip(found[0], things, strict=True)):
                self._held.move_to_end(key)
                kept: T = found[1]
                return kept
        made = make()
        with self._lock:
            self._held[key] = things, made
            while len(self._held) > self._most:
                self._held.popitem(last=False)
        return made


class Nothing(ByThings):
    """Keeps nothing."""

    def __init__(self) -> None:
        super().__init__(0)

    def of(self, what: str, things: tuple[object, ...], given: tuple[object, ...], make: Callable[[], T]) -> T:
        """Make it, each time."""
        return make()


NOTHING = Nothing()
