"""A plan as it stands, written: whole, or what changed since a view that the asker has."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import fields
from functools import cache
from typing import Any, get_type_hints

from pydantic import TypeAdapter

from reamer.core.assess import Assessment
from reamer.core.descent.descent import Descent
from reamer.core.model import Drop, Plan
from reamer.core.station.state import DropAssessment
from reamer.desk.memory import Memory
from reamer.desk.views import PlanView


def written(memory: Memory, view: PlanView) -> bytes:
    """The whole view as JSON."""
    return b"{%s}" % b",".join(_named(name, _parts(memory, name, value)) for name, value in _of(view))


def written_since(memory: Memory, seen: PlanView, view: PlanView) -> bytes:
    """What changed since a view that was seen, as JSON; see ``Changes``."""
    made, lists = list[bytes](), list[bytes]()

    def walk(had: Any, has: Any, at: tuple[str, ...]) -> None:
        for name, was, now in ((n, v, getattr(has, n)) for n, v in _of(had)):
            if was is now:
                continue
            if name == "drops":
                lists.extend(_listed(memory, at, was, now))
            elif isinstance(now, WALKED):
                walk(was, now, (*at, name))
            elif was != now:
                made.append(_set((*at, name), _json(type(has), name, now)))

    walk(seen, view, ())
    return b'{"set":[%s],"lists":[%s]}' % (b",".join(made), b",".join(lists))


def _listed(memory: Memory, at: tuple[str, ...], had: Iterable[Any], has: Iterable[Any]) -> list[bytes]:
    """The drops that are not the very same as before, and their order where that changed."""
    by = {d.id: d for d in had}
    put = [d for d in has if by.get(d.id) is not d and by.get(d.id) != d]
    ids = [d.id for d in has]
    order = _text_list(ids) if ids != list(by) else b"null"
    if not put and order == b"null":
        return []
    things = b",".join(_drop(memory, d) for d in put)
    return [b'{"at":%s,"put":[%s],"order":%s}' % (_text_list((*at, "drops")), things, order)]


def _set(at: tuple[str, ...], value: bytes) -> bytes:
    return b'{"at":%s,"value":%s}' % (_text_list(at), value)


def _parts(memory: Memory, name: str, value: Any) -> bytes:
    """A field of the view; the plan's and the assessment's drops are written once for as long as they are the same."""
    if name not in ("plan", "assessment"):
        return _json(PlanView, name, value)

    def field(of: str, v: Any) -> bytes:
        return b"[%s]" % b",".join(_drop(memory, d) for d in v) if of == "drops" else _json(type(value), of, v)

    return b"{%s}" % b",".join(_named(of, field(of, v)) for of, v in _of(value))


def _drop(memory: Memory, drop: Drop | DropAssessment) -> bytes:
    return memory.written.of(drop, lambda: _WHOLE[type(drop)].dump_json(drop))


_WHOLE: dict[type, TypeAdapter[Any]] = {kind: TypeAdapter(kind) for kind in (Drop, DropAssessment)}
# What is looked into for what changed of it.
WALKED = (Plan, Assessment, Descent)
_TEXTS = TypeAdapter(tuple[str, ...])


def _of(value: PlanView | Plan | Assessment | Descent) -> Iterable[tuple[str, Any]]:
    names = type(value).model_fields if isinstance(value, Plan) else [f.name for f in fields(value)]
    return [(name, getattr(value, name)) for name in names]


@cache
def _writer(kind: type, name: str) -> Callable[[Any], bytes]:
    return TypeAdapter(get_type_hints(kind, include_extras=True)[name]).dump_json


def _json(kind: type, name: str, value: Any) -> bytes:
    return _writer(kind, name)(value)


def _named(name: str, value: bytes) -> bytes:
    return b'"%s":%s' % (name.encode(), value)


def _text_list(values: Iterable[str]) -> bytes:
    return _TEXTS.dump_json(tuple(values))
