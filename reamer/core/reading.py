"""Reading a plan from text that cannot be trusted: a plan, or one sentence that names the field."""

from __future__ import annotations

import json
import math
import re
from typing import Any, NamedTuple, TypeVar

from pydantic import BaseModel, TypeAdapter, ValidationError

from reamer.core.answer.say import Quantity, UnitSystem
from reamer.core.errors import PlanError
from reamer.core.model import FORMAT, MOST_VERDICTS, Plan, Record
from reamer.core.plan.correction import MOST_CORRECTIONS
from reamer.core.plan.descent import MOST_TRACK
from reamer.core.plan.gear import MOST_ENTRIES, MOST_RECORDS, GearFile
from reamer.core.section.meaning import MeaningfulPlan
from reamer.core.tables import units

T = TypeVar("T", bound=BaseModel)


class PlanFile(Plan):
    """A plan as a file, and beside it what a second person said of it and what its things have been through."""

    record: Record = Record()
    gear: GearFile = GearFile()


class Opened(NamedTuple):
    """What a plan file holds: the plan, what a second person said of it, what its things have been through."""

    plan: Plan
    record: Record = Record()
    gear: GearFile = GearFile()


def beside(record: Record, gear: GearFile) -> dict[str, Any]:
    """What lies beside a plan in its file.

    record: what a second person said of it; gear: what its things have been through
    returns: as plain data, without what says nothing
    Source: none.
    """
    made = {"record": record.model_dump(mode="json")} if record.verdicts else {}
    return made | ({"gear": gear.model_dump(mode="json")} if gear.records else {})


BESIDE: dict[str, type[Record] | type[GearFile]] = {"record": Record, "gear": GearFile}


_PLAN: TypeAdapter[Plan] = TypeAdapter(MeaningfulPlan)
MOST_BYTES = 2_500_000
HALF = re.compile("[\ud800-\udfff]")
MOST_VALUES, MOST_LIST, MOST_DEEP = 300_000, 200, 24
MOST_NAMED = {"verdicts": MOST_VERDICTS, "corrections": MOST_CORRECTIONS, "approach": MOST_TRACK}
MOST_NAMED |= {"entries": MOST_ENTRIES, "records": MOST_RECORDS}


def field_of(loc: tuple[str | int, ...], data: Any) -> str:
    """The path of an error in the words of the data itself, without the names of variants.

    loc: pydantic's location; data: what was read
    returns: for example ``drops/0/section/height_m``
    Source: none, text only.
    """
    path: list[str] = []
    here = data
    for n, part in enumerate(loc):
        if _holds(here, part):
            here = here[part]
        elif n != len(loc) - 1 or not isinstance(here, dict) or here.get("kind") == part:
            continue
        path.append(str(part))
    return "/".join(path)


def _holds(here: Any, part: str | int) -> bool:
    if isinstance(here, dict):
        return part in here
    return isinstance(here, (list, tuple)) and isinstance(part, int) and part < len(here)


def first_error(e: ValidationError, data: Any) -> PlanError:
    """The first thing wrong, as one sentence with its field.

    e: pydantic's error; data: what was read
    returns: the error to raise
    Source: none, text only.
    """
    return all_errors(e, data, 1)[0]


# The quantity of each unit that a refusal may name.
SAID_IN: dict[str, Quantity] = {"m": "length", "mm": "diameter", "kg": "mass", "kg/m": "line mass"}


def all_errors(e: ValidationError, data: Any, most: int = 50, system: UnitSystem = "metric") -> list[PlanError]:
    """What is wrong, each as one sentence with its field.

    e: pydantic's error; data: what was read; most: how many are wanted; system: in which units ranges are told
    returns: the first errors, at least one
    Source: none, text only.
    """

    def field(x: Any) -> str:
        # A rule over a whole says in its context which part of it is meant.
        return "/".join(filter(None, (field_of(x["loc"], data), x.get("ctx", {}).get("where"))))

    def told(x: Any) -> str:
        ctx = x.get("ctx", {})
        quantity = SAID_IN.get(str(ctx.get("unit", "")).strip())
        if x["type"] != "out_of_range" or quantity is None or system == "metric":
            return str(x["msg"])
        shown = units()[quantity][system]
        low, high, value = (f"{float(ctx[k]) * shown['factor']:.4g}" for k in ("low", "high", "value"))
        return f"{ctx['what']} must lie from {low} to {high} {shown['unit']}, not {value}"

    return [PlanError(field(x), told(x)) for x in e.errors(include_url=False, include_input=False)[:most]]


def read_model(kind: type[T], data: Any) -> T:
    """A model from plain data.

    kind: the model's class; data: dicts, lists, text and numbers
    returns: the model
    raises: PlanError naming the first field that is wrong
    Source: none, text only.
    """
    try:
        return kind.model_validate(data)
    except ValidationError as e:
        raise first_error(e, data) from None


def parse(text: bytes, most: int = MOST_BYTES) -> Any:
    """JSON text as plain data, bounded before anything of it is believed.

    text: bytes, UTF-8, UTF-16 or UTF-32, with a byte order mark or without; most: how many there may be
    returns: the data
    raises: PlanError if it is too large or too deep, not text, not JSON, names a key twice, or holds NaN, an infinity
        or half a character
    Source: J, our judgement of what no plan needs.
    """
    if len(text) > most:
        raise PlanError("", f"the file has {len(text):,} bytes; a plan has at most {MOST_BYTES:,}")
    try:
        written = text.decode(json.detect_encoding(text))
    except UnicodeDecodeError:
        raise PlanError("", "the file is not UTF-8 or UTF-16 text") from None

    def once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        made = dict(pairs)
        if len(made) < len(pairs):
            keys = [k for k, _ in pairs]
            raise PlanError(
                "", f"the key {next(k for k in keys if keys.count(k) > 1)[:40]!r} is given twice in one object"
            )
        return made

    try:
        data = json.loads(written.removeprefix("\ufeff"), object_pairs_hook=once)
    except PlanError:
        raise
    except (ValueError, RecursionError) as e:
        raise PlanError("", f"the file is not JSON: {e}") from None
    bounded(data)
    return data


def bounded(data: Any) -> None:
    """Refuse data that is larger or deeper than any plan, before it is validated.

    data: what JSON gave
    returns: nothing
    raises: PlanError naming the field
    Source: J, our judgement of what no plan needs.
    """
    path: list[str | int] = []
    count = 0

    def refuse(why: str, *key: str | int) -> None:
        raise PlanError("/".join(str(p)[:40] for p in (*path, *key)), why)

    def walk(here: dict[str, Any] | list[Any]) -> None:
        nonlocal count
        count += len(here)
        most = MOST_NAMED.get(str(path[-1]) if path else "", MOST_LIST)
        if len(here) > most:
            refuse(f"it has {len(here):,} entries; it may have {most} at the most")
        if count > MOST_VALUES:
            raise PlanError("", f"the file has more than {MOST_VALUES:,} values")
        if here and len(path) >= MOST_DEEP:
            refuse(f"it lies deeper than the {MOST_DEEP} levels that a plan has")
        named = isinstance(here, dict)
        for key, value in here.items() if isinstance(here, dict) else enumerate(here):
            if named and (not str(key).isprintable() or len(str(key)) > 100):
                refuse("it has a key that is no name")
            if isinstance(value, (dict, list)):
                path.append(key)
                walk(value)
                path.pop()
            elif why := _no_value(value):
                refuse(why, key)

    if isinstance(data, (dict, list)):
        walk(data)
    elif why := _no_value(data):
        refuse(why)


def _no_value(value: Any) -> str:
    """Why a plan cannot hold a single value, "" if it can."""
    if isinstance(value, str):
        return "" if value.isascii() or not HALF.search(value) else "it holds half a character"
    if isinstance(value, float) and not math.isfinite(value):
        what = "NaN" if math.isnan(value) else "Infinity" if value > 0 else "-Infinity"
        return f"{what} is not a number a plan can hold: it must be finite"
    if isinstance(value, int) and abs(value) > 10**15:
        return "it is a number with more digits than a plan can hold"
    return ""


def read_file(data: Any) -> Opened:
    """What a plan file holds: the plan, and beside it, under ``record``, what a second person said of it, and, under
    ``gear``, what its things have been through.

    data: what JSON gave
    returns: plan, record and gear, empty ones where there are none
    raises: PlanError naming the first field that is wrong
    Source: none, text only.
    """
    aside: dict[str, Any] = {k: data[k] for k in BESIDE if k in data} if isinstance(data, dict) else {}
    plan = read_plan({k: v for k, v in data.items() if k not in aside} if aside else data)
    made: dict[str, Any] = {}
    for key, kind in BESIDE.items():
        try:
            made[key] = kind.model_validate(aside[key]) if key in aside else kind()
        except ValidationError as e:
            where = first_error(e, aside[key])
            raise PlanError(f"{key}/{where.field}".rstrip("/"), where.message) from None
    return Opened(plan, made["record"], made["gear"])


def read_plan(data: Any) -> Plan:
    """A plan from plain data.

    data: what JSON gave
    returns: the plan
    raises: PlanError naming the first field that is wrong
    Source: none, text only.
    """
    if not isinstance(data, dict):
        raise PlanError("", "a plan is a JSON object")
    version = data.get("format")
    if version != FORMAT or isinstance(version, bool):
        raise PlanError("format", f"this file has format {str(version)[:40]!r}; this program reads format {FORMAT}")
    try:
        return _PLAN.validate_python(data)
    except ValidationError as e:
        raise first_error(e, data) from None
