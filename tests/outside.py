"""Checks of the main job against something outside the project: a published standard or handbook, or a library that
knows nothing of this one. What they came to stands in docs/checks.md, which ``make checks`` writes."""

from __future__ import annotations

import json
import os
from dataclasses import dataclass
from typing import Any
from unittest import TestCase


@dataclass(frozen=True, slots=True)
class Outside:
    """One check. ``what`` is checked against which ``source``; ``package``: the library's name, "" where it is none;
    ``unit``: of a deviation, % for one of the value itself, "" where things are the same or not."""

    what: str
    source: str
    package: str = ""
    unit: str = ""

    def near(self, test: TestCase, got: float, want: float, within: float, of: str = "") -> None:
        """Whether a figure is within so much of what is had outside, and how far off it is."""
        off = abs(got - want)
        if self.unit == "%":
            off = 100 * off / abs(want) if want else (0.0 if got == want else float("inf"))
        self._noted(test, off, within)
        test.assertLessEqual(off, within, f"{self.what}{of and ', '}{of}: {got} against {want}")

    def same(self, test: TestCase, got: Any, want: Any, of: str = "") -> None:
        """Whether something is what is had outside."""
        self._noted(test, None, None)
        test.assertEqual(got, want, f"{self.what}{of and ', '}{of}")

    def _noted(self, test: TestCase, off: float | None, within: float | None) -> None:
        if path := os.environ.get("REAMER_CHECKS"):
            line = {"what": self.what, "source": self.source, "off": off, "within": within, "test": test.id()}
            with open(path, "a", encoding="utf-8") as f:
                f.write(json.dumps(line) + "\n")
