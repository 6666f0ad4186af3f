"""A thing of a plan as one row of a table, and back: a figure is its number, with its unit in the head of the column,
and beside it how it was measured."""

from __future__ import annotations

import json
import re
import typing
from collections.abc import Sequence
from functools import cache, lru_cache
from typing import Any, Literal

from pydantic import BaseModel, TypeAdapter, ValidationError

from reamer.core.answer.say import UnitSystem
from reamer.core.errors import PlanError
from reamer.core.model import Known, Range
from reamer.core.tables import units
from reamer.formats.sheets import LONGEST_NUMBER, NUMBER, Decimal, number

Shape = Literal["figure", "capacity", "flag", "whole", "number", "text", "maybe text", "other"]
# A field's unit by how its name ends, in both systems: unit, and what one of SI is in it.
ENDINGS = {"_kg_m": "line mass", "_mm": "diameter", "_kn": "force", "_kg": "mass", "_m": "length"}
PLAIN = {"_deg": "°", "_pct": "%"}
# What a sheet would take for a formula.
FORMULA = ("=", "+", "-", "@", "\t", "\r")
NOTES = ("method", "error", "on", "by", "why", "source")


@cache
def unit_of(field: str, system: UnitSystem) -> tuple[str, str, float]:
    """A field's name without its unit, the unit, and how many of it one of the field's own is.

    field: as the plan names it; system: metric or US
    returns: for example ``("nominal", "ft", 3.28…)`` for ``nominal_m``
    Source: units.json.
    """
    for end, quantity in ENDINGS.items():
        if field.endswith(end):
            shown = units()[quantity][system]
            return _words(field.removesuffix(end)), shown["unit"], shown["factor"]
    for end, unit in PLAIN.items():
        if field.endswith(end):
            return _words(field.removesuffix(end)), unit, 1.0
    return _words(field), "", 1.0


def _words(name: str) -> str:
    return SAID.get(name, name.replace("_", " "))


SAID = {"incl": "inclination"}


def _head(name: str, unit: str) -> str:
    return f"{name} ({unit})" if unit else name


def _shape(annotation: Any) -> Shape:
    """How a field stands in a row."""
    found: set[Any] = set()

    def walk(a: Any) -> None:
        origin = typing.get_origin(a)
        if origin is Literal:
            found.update(type(x) for x in typing.get_args(a))
        elif origin in (tuple, list, dict):
            found.add("other")
        elif typing.get_args(a):
            for x in typing.get_args(a):
                if isinstance(x, type) or typing.get_origin(x) is not None:
                    walk(x)
        else:
            found.add(a)

    walk(annotation)
    if Known in found:
        return "figure"
    if Range in found:
        return "capacity"
    if "other" in found or any(isinstance(x, type) and issubclass(x, BaseModel) for x in found):
        return "other"
    if bool in found:
        return "flag"
    if int in found:
        return "whole"
    if float in found:
        return "number"
    return "maybe text" if type(None) in found else "text"


@cache
def shapes(kind: type[BaseModel]) -> dict[str, Shape]:
    """How each field of a kind of thing stands in a row.

    kind: the model
    returns: by field
    Source: none.
    """
    return {name: _shape(f.annotation) for name, f in kind.model_fields.items()}


def as_text(text: str) -> str:
    """A text that no sheet takes for a formula: an apostrophe before what would be one.

    text: any
    returns: the text of the cell
    Source: none.

    >>> as_text("=1+1"), as_text("'quoted"), as_text("plain")
    ("'=1+1", "''quoted", 'plain')
    """
    return f"'{text}" if text.startswith((*FORMULA, "'")) else text


def as_written(cell: str) -> str:
    """What a cell's text stands for.

    cell: as it is in the file
    returns: the text
    Source: none.
    """
    return cell[1:] if cell.startswith("'") and cell[1:].startswith((*FORMULA, "'")) else cell


def flat(thing: BaseModel, system: UnitSystem) -> dict[str, str]:
    """A thing as one row.

    thing: any of a plan; system: of the figures
    returns: text by the head of its column
    Source: none.
    """
    row: dict[str, str] = {}
    for field, shape in shapes(type(thing)).items():
        value = getattr(thing, field)
        name, unit, factor = unit_of(field, system)
        if shape == "figure":
            _figure(row, name, unit, factor, value)
        elif shape == "capacity":
            _capacity(row, name, unit, factor, value)
        elif shape == "flag":
            row[name] = "yes" if value else "no"
        elif shape == "number" or shape == "whole":
            row[_head(name, unit)] = "" if value is None else _number(value * factor if shape == "number" else value)
        elif shape in ("text", "maybe text"):
            row[name] = "" if value is None else as_text(str(value))
        else:
            plain = json.loads(thing.model_dump_json(include={field}))[field]
            row[name] = "" if plain in (None, [], {}) else as_text(json.dumps(plain, ensure_ascii=False))
    return row


def _number(value: float) -> str:
    # More digits than anything is measured with, and few enough that a unit's factor leaves no trace once it is read.
    return f"{value:.15g}"


def _figure(row: dict[str, str], name: str, unit: str, factor: float, value: Any) -> None:
    known = isinstance(value, Known)
    row[_head(name, unit)] = _number(value.value * factor) if known else ""
    row[f"{name} method"] = value.method if known else ""
    error = value.error if known else None
    shown = ""
    if error is not None:
        shown = f"{_number(error.value * 100)} %" if error.kind == "share" else _number(error.value * factor)
    row[_head(f"{name} error", unit)] = shown
    row[f"{name} on"] = str(value.on) if known and value.on else ""
    row[f"{name} by"] = as_text(value.by) if known else ""
    row[f"{name} why"] = "" if known else as_text(value.why)


def _capacity(row: dict[str, str], name: str, unit: str, factor: float, value: Any) -> None:
    known = isinstance(value, Range)
    row[_head(f"{name} low", unit)] = _number(value.low_kn * factor) if known else ""
    row[_head(f"{name} high", unit)] = _number(value.high_kn * factor) if known else ""
    row[f"{name} source"] = as_text(value.source) if known else ""
    row[f"{name} why"] = as_text(getattr(value, "why", "")) if not known else ""


@cache
def _columns(kind: type[BaseModel]) -> tuple[tuple[str, Shape, str], ...]:
    return tuple((field, shape, unit_of(field, "metric")[0]) for field, shape in shapes(kind).items())


@lru_cache(maxsize=1000)
def parted(head: str) -> tuple[str, str]:
    """The head of a column as a name, in small letters, and a unit.

    head: as it is written
    returns: both, "" for no unit
    Source: none.

    >>> parted("Slope (m)"), parted("drop")
    (('slope', 'm'), ('drop', ''))
    """
    found = re.fullmatch(r"(.*?)\s*(?:\(([^()]*)\))?", head.strip())
    return (found[1].casefold(), found[2] or "") if found else (head.casefold(), "")


@cache
def _factors(field: str) -> dict[str, float]:
    """How many of each unit one of the field's own is."""
    return {unit_of(field, s)[1]: unit_of(field, s)[2] for s in ("metric", "us")}


DATES = ("on", "first_used")
# As sheets and programs write them.
FLAGS = {"": False, "yes": True, "no": False, "true": True, "false": False}


@cache
def _adapter(kind: type[BaseModel]) -> TypeAdapter[Any]:
    return TypeAdapter(kind)


class Row:
    """One row as it was read: cells by the head of their column, whatever its unit."""

    def __init__(
        self, heads: Sequence[tuple[str, str]], cells: Sequence[str], where: str, used: set[str], decimal: Decimal
    ) -> None:
        """heads: name and unit of each column; cells: as written; where: for errors; used: the table's own, into which
        goes what of it was asked for; decimal: the sign before decimals in it"""
        self.where, self.used, self.decimal = where, used, decimal
        self.cells: dict[str, tuple[str, str]] = {}
        for (name, unit), cell in zip(heads, cells, strict=False):
            plain = cell.strip()
            # A column without a name is told by the table.
            if not name:
                continue
            if name in self.cells:
                # Two columns of one name differ in their unit; a row may fill one of them.
                had = self.cells[name]
                if had[0] and plain:
                    raise PlanError(f"{where}/{name}", f"it is given in {had[1]!r} and in {unit!r}; which?")
                if not plain:
                    continue
            self.cells[name] = plain, unit

    def text(self, name: str) -> str:
        """A cell's text, "" where there is none."""
        self.used.add(name)
        found = self.cells.get(name)
        if found is None:
            return ""
        return as_written(found[0]) if found[0].startswith("'") else found[0]

    def date(self, name: str) -> str:
        """A date's text, as 2026-05-01 or 1.5.2026."""
        found = re.fullmatch(r"(\d{1,2})\.(\d{1,2})\.(\d{4})", self.text(name))
        return f"{found[3]}-{int(found[2]):02d}-{int(found[1]):02d}" if found else self.text(name)

    def has(self, name: str) -> bool:
        """Whether there is such a column."""
        return name in self.cells

    def refuse(self, name: str, why: str) -> PlanError:
        """An error that names the row and the column."""
        return PlanError(f"{self.where}/{name}", why)

    def number(self, name: str, field: str, cell: str | None = None) -> float | None:
        """A number in the field's own unit; None where the cell is empty. The unit is the column's, or the cell's."""
        text = self.text(name) if cell is None else cell
        if not text:
            return None
        column = self.cells.get(name, ("", ""))[1]
        found = NUMBER.fullmatch(text) if len(text) <= LONGEST_NUMBER else None
        if found is None:
            raise self.refuse(name, f"{text[:30]!r} is not a number")
        own = (found[2] or "").strip()
        if own and column and own != column:
            raise self.refuse(name, f"it is in {own[:10]!r}, and its column in {column!r}")
        unit = own or column
        factors = _factors(field)
        if unit not in factors:
            if not unit and "" not in factors:
                raise self.refuse(name, f"its column has no unit; write ({' or '.join(factors)})")
            raise self.refuse(name, f"{unit[:10]!r} is no unit of it; {' or '.join(factors)} are")
        value = number(found[1], self.decimal, f"{self.where}/{name}")
        return float(f"{value / factors[unit]:.12g}")


def unflat(kind: type[BaseModel], row: Row, but: tuple[str, ...] = ()) -> dict[str, Any]:
    """A row as a thing's plain data; what has no column is left out.

    kind: the thing's model; row: as it was read; but: fields that stand in it otherwise
    returns: the data, to be validated
    raises: PlanError naming row and column
    Source: none.
    """
    data: dict[str, Any] = {}
    for field, shape, name in _columns(kind):
        if field in but:
            continue
        if shape == "figure":
            if row.has(name):
                data[field] = _read_figure(row, name, field)
        elif shape == "capacity":
            if row.has(f"{name} low"):
                data[field] = _read_capacity(row, name, field)
        elif not row.has(name):
            continue
        elif shape == "flag":
            text = row.text(name).casefold()
            if text not in FLAGS:
                raise row.refuse(name, f"{text[:20]!r} is neither yes nor no")
            if text:
                data[field] = FLAGS[text]
        elif shape == "number" or shape == "whole":
            value = row.number(name, field)
            data[field] = int(value) if value is not None and shape == "whole" and value == int(value) else value
            if value is None and kind.model_fields[field].is_required() is False:
                del data[field]
        elif shape == "other":
            if text := row.text(name):
                try:
                    data[field] = json.loads(text)
                except (ValueError, RecursionError):
                    raise row.refuse(name, "it is not as it was written") from None
        else:
            text = row.date(name) if field in DATES else row.text(name)
            if text or kind.model_fields[field].is_required():
                data[field] = text
    return data


def _read_figure(row: Row, name: str, field: str) -> dict[str, Any]:
    value, why = row.number(name, field), row.text(f"{name} why")
    method, on, by = row.text(f"{name} method"), row.date(f"{name} on"), row.text(f"{name} by")
    # In a table made by hand one column may say it of all.
    method, on, by = method or row.text("method"), on or row.date("on"), by or row.text("by")
    error = row.text(f"{name} error")
    if value is None:
        return {"kind": "unknown", "why": why}
    made: dict[str, Any] = {"kind": "known", "value": value, "method": method or "given"}
    if error:
        share = error.endswith("%")
        size = row.number(f"{name} error", "x_pct", error) if share else row.number(f"{name} error", field, error)
        made["error"] = {"kind": "share" if share else "length", "value": (size or 0) / (100 if share else 1)}
    if on:
        made["on"] = on
    if by:
        made["by"] = by
    return made


def _read_capacity(row: Row, name: str, field: str) -> dict[str, Any]:
    low, high = row.number(f"{name} low", field), row.number(f"{name} high", field)
    source, why = row.text(f"{name} source"), row.text(f"{name} why")
    if low is None and high is None:
        return {"kind": "unknown", "why": why}
    if low is None or high is None:
        raise row.refuse(name, "a range has a low and a high end")
    return {"kind": "range", "low_kn": low, "high_kn": high, "source": source or "from a table"}


def validated(kind: type[BaseModel], data: dict[str, Any], row: Row) -> Any:
    """A thing from its plain data.

    kind: its model; data: as it was read; row: where it stands
    returns: the thing
    raises: PlanError naming row and column
    Source: none.
    """

    try:
        return _adapter(kind).validate_python(data)
    except ValidationError as e:
        wrong = e.errors(include_url=False, include_input=False)[0]
        field = unit_of(str(wrong["loc"][0]), "metric")[0] if wrong["loc"] else ""
        raise row.refuse(field, str(wrong["msg"])) from None
