"""Tables as CSV, out and in: shots, shed, party, log, pull tests. A head of a column says its unit."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from pydantic import BaseModel

from reamer.core.answer.say import UnitSystem
from reamer.core.errors import PlanError
from reamer.core.model import Device, Loop, Person, Plan, PullTest, Ring, Rope, Shot, Shots, Sling, Tether, Webbing
from reamer.core.plan.log import LoggedStation, Trip
from reamer.core.section.shooting import as_shots
from reamer.formats.flat import Row, as_text, flat, parted, unflat, unit_of, validated
from reamer.formats.sheets import Decimal, Sheet

Kind = Literal["shots", "shed", "party", "log", "pull tests"]
MOST_ROWS, MOST_COLUMNS = 60_000, 400
LONGEST_HEAD = 200
ITEMS: dict[str, type[BaseModel]] = {
    "ropes": Rope,
    "webbing": Webbing,
    "slings": Sling,
    "rings": Ring,
    "devices": Device,
    "tethers": Tether,
    "loops": Loop,
}
TRIP = ("on", "conditions", "flow", "party", "people", "words")


def _written(rows: Iterable[dict[str, str]]) -> str:
    some = list(rows)
    heads = list(dict.fromkeys(h for r in some for h in r))
    out = io.StringIO()
    # Sheets know a file for UTF-8 by its mark.
    out.write("\ufeff")
    written = csv.DictWriter(out, heads, restval="", lineterminator="\r\n")
    written.writeheader()
    written.writerows(some)
    return out.getvalue()


def write(kind: Kind, plan: Plan, trips: Sequence[Trip] = (), system: UnitSystem = "metric") -> str:
    """A table of a plan.

    kind: which; plan: the plan; trips: its log; system: of the figures
    returns: the file
    Source: RFC 4180, by way of the standard library.
    """
    match kind:
        case "shots":
            return _written(
                {"table": kind, "drop": as_text(d.name), "first edge": section.first_edge, **flat(s, system)}
                for d in plan.drops
                for section in [d.section if isinstance(d.section, Shots) else as_shots(d.section)]
                for s in section.shots
            )
        case "shed":
            return _written({"table": name, **flat(x, system)} for name in ITEMS for x in getattr(plan.shed, name))
        case "party":
            return _written({"table": kind, **flat(p, system)} for p in plan.party)
        case "pull tests":
            _, unit, factor = unit_of("sample_kn", system)
            force = f"sample ({unit})"
            return _written(
                {
                    "table": kind,
                    **{k: v for k, v in flat(t, system).items() if not k.startswith("samples") and k != "broke"},
                    force: f"{x * factor:.15g}",
                    "broke": as_text(t.broke[n]) if n < len(t.broke) else "",
                }
                for t in plan.shed.pull_tests
                for n, x in enumerate(t.samples_kn)
            )
        case "log":
            return _written(_trips(trips, system))


def _trips(trips: Sequence[Trip], system: UnitSystem) -> Iterable[dict[str, str]]:
    for n, t in enumerate(trips, 1):
        whole = {f"descent {k}": v for k, v in flat(t, system).items() if k in TRIP}
        for s in t.stations:
            yield {"table": "log", "descent": str(n), **whole, **flat(s, system)}


@dataclass(frozen=True, slots=True)
class Read:
    """What a table holds, by its kind: shots by drop, kit by list, people, pull tests, descents. ``unknown``: heads of
    columns that mean nothing."""

    kind: Kind
    shots: dict[str, Shots]
    shed: dict[str, tuple[BaseModel, ...]]
    party: tuple[Person, ...]
    tests: tuple[PullTest, ...]
    trips: tuple[Trip, ...]
    unknown: tuple[str, ...]


def read(data: bytes, decimal: Decimal = "") -> Read:
    """What a table holds.

    data: the file; decimal: the sign before decimals where the file's own numbers leave it open
    returns: its content
    raises: PlanError naming the row and the column
    Source: RFC 4180, by way of the standard library.
    """
    rows, heads = _rows(data, decimal)
    table = rows[0].text("table").casefold() if rows[0].has("table") else ""
    kinds = {**dict.fromkeys(ITEMS, "shed"), "shots": "shots", "party": "party", "log": "log"}
    kind: Any = {**kinds, "pull tests": "pull tests"}.get(table) or _guessed(rows[0])
    made: dict[str, Any] = {"shots": {}, "shed": {}, "party": (), "tests": (), "trips": ()}
    if kind == "shots":
        made["shots"] = _shots(rows)
    elif kind == "shed":
        made["shed"] = _shed(rows)
    elif kind == "party":
        made["party"] = tuple(_thing(Person, r, n) for n, r in enumerate(rows))
    elif kind == "pull tests":
        made["tests"] = _tests(rows)
    else:
        made["trips"] = _logged(rows)
    used = rows[0].used | {"table"}
    known = {name for name in rows[0].cells if name in used or name.rpartition(" ")[2] in ("on", "by", "why", "error")}
    unknown = tuple(h for h in heads if parted(h)[0] not in known)
    return Read(kind=kind, **made, unknown=unknown)


def _rows(data: bytes, decimal: Decimal) -> tuple[list[Row], list[str]]:
    sheet = Sheet(data, decimal)
    heads = sheet.heads
    if not any(heads) or len(heads) > MOST_COLUMNS:
        raise PlanError("file", "its first line names no columns")
    if any(len(h) > LONGEST_HEAD for h in heads):
        raise PlanError("file", f"the name of a column is longer than {LONGEST_HEAD} characters")
    named = [h.casefold() for h in heads if h]
    twice = next((h for h in named if named.count(h) > 1), None)
    if twice is not None:
        raise PlanError("file", f"two columns are called {twice[:40]!r}")
    rows, columns, used = list[Row](), [parted(h) for h in heads], set[str]()
    nameless: dict[int, list[str]] = {i: [] for i, h in enumerate(heads) if not h}
    for n, cells in sheet.rows():
        if n > MOST_ROWS + 1:
            raise PlanError("file", f"it has more than {MOST_ROWS:,} rows")
        if len(cells) > len(heads) and any(cells[len(heads) :]):
            raise PlanError(f"row {n}", f"it has {len(cells)} cells, and there are {len(heads)} columns")
        if any(c.strip() for c in cells):
            rows.append(Row(columns, cells, f"row {n}", used, sheet.decimal))
            for i, some in nameless.items():
                some.append(cells[i].strip() if i < len(cells) else "")
    if not rows:
        raise PlanError("file", "it has no rows")
    # A program's own count of its rows says nothing; anything else that has no name is told.
    told = [f"column {i + 1}, which has no name" for i, some in nameless.items() if any(some) and not _counts(some)]
    return rows, [*(h for h in heads if h), *told]


def _counts(cells: list[str]) -> bool:
    """Whether the cells of a column only count the rows, from nought or one."""
    return any(cells == [str(first + i) for i in range(len(cells))] for first in (0, 1))


def _guessed(row: Row) -> Kind:
    """Which table it is, by its columns."""
    marks: dict[str, Kind] = {"slope": "shots", "sample": "pull tests", "role": "party", "arrived": "log"}
    for head, kind in marks.items():
        if row.has(head):
            return kind
    raise PlanError("file", f"no column says which table it is: {', '.join(marks)}, or table")


def _thing(kind: type[BaseModel], row: Row, n: int) -> Any:
    data = unflat(kind, row)
    if not data.get("id"):
        data["id"] = f"x{n + 1}"
    return validated(kind, data, row)


def _shots(rows: list[Row]) -> dict[str, Shots]:
    made: dict[str, tuple[Row, list[Shot]]] = {}
    for r in rows:
        name = r.text("drop").strip()
        if not name:
            raise r.refuse("drop", "it names no drop")
        first, some = made.setdefault(name, (r, []))
        if r.text("first edge") not in ("", first.text("first edge")):
            raise r.refuse("first edge", f"{name[:40]} has another in its first row")
        some.append(_thing(Shot, r, len(some)))
        if len(some) > 100:
            raise r.refuse("drop", f"{name[:40]} has more than 100 shots")
    return {k: _section(first, some) for k, (first, some) in made.items()}


def _section(row: Row, shots: list[Shot]) -> Shots:
    edge = {"first_edge": row.text("first edge")} if row.text("first edge") else {}
    return validated(Shots, {"kind": "shots", "shots": shots, **edge}, row)  # type: ignore[no-any-return]


def _shed(rows: list[Row]) -> dict[str, tuple[BaseModel, ...]]:
    made: dict[str, list[BaseModel]] = {}
    for n, r in enumerate(rows):
        name = r.text("table").casefold()
        if name not in ITEMS:
            raise r.refuse("table", f"{name[:20]!r} is no list of the shed; {', '.join(ITEMS)} are")
        made.setdefault(name, []).append(_thing(ITEMS[name], r, n))
    return {k: tuple(v) for k, v in made.items()}


def _tests(rows: list[Row]) -> tuple[PullTest, ...]:
    made: dict[str, tuple[Row, dict[str, Any]]] = {}
    for n, r in enumerate(rows):
        name = r.text("name")
        if name not in made:
            data = unflat(PullTest, r, ("samples_kn", "broke"))
            made[name] = r, {**data, "id": data.get("id") or f"x{n + 1}", "samples_kn": [], "broke": []}
        value = r.number("sample", "sample_kn")
        if value is None:
            raise r.refuse("sample", "it has no figure")
        made[name][1]["samples_kn"].append(value)
        made[name][1]["broke"].append(r.text("broke"))
    for _, data in made.values():
        if not any(data["broke"]):
            data["broke"] = []
    return tuple(validated(PullTest, data, r) for r, data in made.values())


def _logged(rows: list[Row]) -> tuple[Trip, ...]:
    made: dict[str, tuple[Row, dict[str, Any], list[LoggedStation]]] = {}
    for r in rows:
        key = r.text("descent") or r.text("descent on")
        if key not in made:
            said = {k: r.date("descent on") if k == "on" else r.text(f"descent {k}") for k in TRIP}
            data: dict[str, Any] = {k: v for k, v in said.items() if v}
            if "people" in data:
                data["people"] = int(r.number("descent people", "people") or 0)
            made[key] = r, data, []
        station = unflat(LoggedStation, r)
        if not station.get("drop"):
            station["drop"] = f"x{len(made[key][2]) + 1}"
        made[key][2].append(validated(LoggedStation, station, r))
    return tuple(validated(Trip, {**data, "stations": some}, r) for r, data, some in made.values())
