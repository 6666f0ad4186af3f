"""A load cell's trace as CSV: seconds and force, with units in the heads of its columns."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from reamer.core.errors import PlanError
from reamer.core.load.trace import Peak, peak_of
from reamer.formats.sheets import LONGEST_NUMBER, NUMBER, Decimal, Sheet, number

MOST_SAMPLES, MOST_SHOWN = 500_000, 600
# What one of a unit is in kN; lbf and kgf by definition.
UNITS = {"kn": 1.0, "n": 0.001, "lbf": 0.0044482216152605, "kgf": 0.00980665, "dan": 0.01}
TIMES = {"s": 1.0, "ms": 0.001}
HEAD = re.compile(r"^\s*(time|t|force|load|f)\s*[(\[]\s*([a-z]+)\s*[)\]]\s*$", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Trace:
    """A pull as it was recorded: how many samples over how many seconds, its peak, and points to draw [s, kN], those
    of the most and the least force among them."""

    samples: int
    seconds: float
    peak: Peak | None
    points: tuple[tuple[float, float], ...]


def read_trace(data: bytes, decimal: Decimal = "") -> Trace:
    """A trace.

    data: a CSV file: one row of heads, such as ``time (s)`` and ``force (kN)``, then a sample a row; decimal: the sign
    before decimals where the file's own numbers leave it open
    returns: the trace
    raises: PlanError naming row and column
    """
    sheet = Sheet(data, decimal)
    time_at, time_unit, force_at, force_unit = _heads(sheet.heads)
    times, forces = list[float](), list[float]()
    for n, row in sheet.rows():
        if not row:
            continue
        if len(times) >= MOST_SAMPLES:
            raise PlanError("file", f"it has more than {MOST_SAMPLES:,} samples")
        times.append(_number(row, time_at, f"row {n}, time", sheet.decimal) * time_unit)
        forces.append(_number(row, force_at, f"row {n}, force", sheet.decimal) * force_unit)
        if len(times) > 1 and times[-1] < times[-2]:
            raise PlanError(f"row {n}, time", "its clock runs backwards")
        if abs(forces[-1]) > 1000:
            raise PlanError(f"row {n}, force", f"{forces[-1]:g} kN is more than anything here holds")
    if not times:
        raise PlanError("file", "it holds no samples")
    return Trace(len(times), times[-1] - times[0], peak_of(forces), _thin(times, forces))


def _heads(row: list[str]) -> tuple[int, float, int, float]:
    found: dict[str, tuple[int, float]] = {}
    for i, head in enumerate(row):
        match = HEAD.match(head)
        if match is None:
            continue
        what = "time" if match[1].lower() in ("time", "t") else "force"
        unit = (TIMES if what == "time" else UNITS).get(match[2].lower())
        if unit is None:
            raise PlanError(f"row 1, {head.strip()[:40]}", f"no unit {match[2][:10]!r} of {what} is known here")
        if what in found:
            raise PlanError(f"row 1, {head.strip()[:40]}", f"there are two columns of {what}")
        found[what] = (i, unit)
    for what, how in (("time", "time (s)"), ("force", "force (kN)")):
        if what not in found:
            raise PlanError("row 1", f"no column is headed {how}")
    return (*found["time"], *found["force"])


def _number(row: list[str], at: int, where: str, decimal: Decimal) -> float:
    text = row[at].strip() if at < len(row) else ""
    found = NUMBER.fullmatch(text) if len(text) <= LONGEST_NUMBER else None
    if found is None or found[2]:
        raise PlanError(where, f"{text[:20]!r} is not a number")
    value = number(found[1], decimal, where)
    if not math.isfinite(value):
        raise PlanError(where, f"{text[:20]!r} is not a number")
    return value


def _thin(times: list[float], forces: list[float]) -> tuple[tuple[float, float], ...]:
    """Few points to draw: of every stretch its least and its most."""
    step = max(1, math.ceil(2 * len(times) / MOST_SHOWN))
    keep = set[int]()
    for start in range(0, len(times), step):
        some = range(start, min(start + step, len(times)))
        keep |= {min(some, key=forces.__getitem__), max(some, key=forces.__getitem__)}
    return tuple((times[i], forces[i]) for i in sorted(keep))
