"""Reading a plan from text that cannot be trusted: a plan, or one sentence that names the field."""

from __future__ import annotations

import json
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from reamer.core.errors import PlanError
from reamer.core.model import FORMAT, Plan

T = TypeVar("T", bound=BaseModel)
MOST_BYTES = 2_000_000


def field_of(loc: tuple[str | int, ...], data: Any) -> str:
    """The path of an error in the words of the data itself, without the names of variants.

    loc: pydantic's location; data: what was read
    returns: for example ``drops/0/section/height_m``
    Source: none, text only.
    """
    path: list[str] = []
    here = data
    for n, part in enumerate(loc):
        if isinstance(here, dict) and part in here:
            here = here[part]
        elif isinstance(here, (list, tuple)) and isinstance(part, int) and part < len(here):
            here = here[part]
        elif n != len(loc) - 1 or not isinstance(here, dict) or here.get("kind") == part:
            continue
        path.append(str(part))
    return "/".join(path)


def first_error(e: ValidationError, data: Any) -> PlanError:
    """The first thing wrong, as one sentence with its field.

    e: pydantic's error; data: what was read
    returns: the error to raise
    Source: none, text only.
    """
    return all_errors(e, data)[0]


def all_errors(e: ValidationError, data: Any) -> list[PlanError]:
    """Everything wrong, each as one sentence with its field.

    e: pydantic's error; data: what was read
    returns: the errors, at least one
    Source: none, text only.
    """
    def field(x: Any) -> str:
        # A rule over a whole says in its context which part of it is meant.
        return "/".join(filter(None, (field_of(x["loc"], data), x.get("ctx", {}).get("where"))))

    return [PlanError(field(x), x["msg"]) for x in e.errors(include_url=False, include_input=False)]


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


def parse(text: bytes) -> Any:
    """JSON text as plain data, NaN and infinities refused.

    text: UTF-8 bytes
    returns: the data
    raises: PlanError if it is too large, not UTF-8 or not JSON
    Source: none, text only.
    """
    if len(text) > MOST_BYTES:
        raise PlanError("", f"the file has {len(text):,} bytes; a plan has at most {MOST_BYTES:,}")

    def refuse(word: str) -> None:
        raise PlanError("", f"{word} is not a number a plan can hold")

    try:
        return json.loads(text.decode("utf-8"), parse_constant=refuse)
    except UnicodeDecodeError:
        raise PlanError("", "the file is not UTF-8 text") from None
    except PlanError:
        raise
    except (ValueError, RecursionError) as e:
        raise PlanError("", f"the file is not JSON: {e}") from None


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
    return read_model(Plan, data)
