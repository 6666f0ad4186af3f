"""What differs between two values of one shape, by field and by thing: how edits travel to a plan. A thing is what has
an id in a list; it travels whole."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field, StringConstraints

from reamer.core.errors import PlanError
from reamer.core.plan.figures import M
from reamer.core.plan.plan import Plan

Key = Annotated[str, StringConstraints(max_length=120)]
At = Annotated[tuple[Key, ...], Field(max_length=12)]


class SetTo(M):
    """A new value, with the keys that lead to it."""

    at: At
    value: Any


class Things(M):
    """Of a list of things those that are new or other, and the ids of all where they are not the same ones in the same
    order."""

    at: At
    put: Annotated[tuple[dict[str, Any], ...], Field(max_length=200)]
    order: Annotated[tuple[Key, ...], Field(max_length=200)] | None


class Changes(M):
    """What changed from one value to another."""

    set: Annotated[tuple[SetTo, ...], Field(max_length=500)] = ()
    lists: Annotated[tuple[Things, ...], Field(max_length=100)] = ()


def changed(plan: Plan, changes: Changes) -> dict[str, Any]:
    """A plan with changes put into it, not validated yet.

    plan: what they were made from; changes: values and things
    returns: its fields: plain data where something changed, what the plan has where nothing did
    raises: PlanError naming the change that fits nowhere
    Source: none, plain replacement.
    """
    whole: dict[str, Any] = {name: getattr(plan, name) for name in type(plan).model_fields}
    plain: set[str] = set()
    made: list[tuple[str, SetTo | Things]] = [(f"changes/set/{i}", c) for i, c in enumerate(changes.set)]
    made += [(f"changes/lists/{i}", c) for i, c in enumerate(changes.lists)]
    for where, change in made:
        top = change.at[0] if change.at else ""
        if top not in whole:
            raise PlanError(f"{where}/at", f"a plan has no {top[:40]!r}")
        if isinstance(change, Things) and change.at == ("drops",):
            whole["drops"] = _listed(list(whole["drops"]), change, where)
            continue
        if top not in plain:
            plain.add(top)
            whole[top] = _plain(whole[top])
        _put(whole, change, where)
    return whole


def _plain(value: Any) -> Any:
    if isinstance(value, M):
        return value.model_dump(mode="json")
    return [_plain(v) for v in value] if isinstance(value, tuple) else value


def _put(into: dict[str, Any], change: SetTo | Things, where: str) -> None:
    here: Any = into
    for key in change.at[:-1]:
        here = here.get(key, {}) if isinstance(here, dict) else {}
    last = change.at[-1]
    if not isinstance(here, dict) or last not in here:
        raise PlanError(f"{where}/at", f"nothing is at {'/'.join(change.at)[:80]!r}")
    here[last] = change.value if isinstance(change, SetTo) else _listed(here[last], change, where)


def _listed(had: Any, change: Things, where: str) -> list[Any]:
    """A list of things with some of them put anew."""
    if not isinstance(had, list) or not all(map(_id, (*had, *change.put))):
        raise PlanError(f"{where}/at", "it is no list of things that have an id")
    by: dict[str, Any] = {_id(t): t for t in (*had, *change.put)}
    order = list(by) if change.order is None else change.order
    gone = next((i for i in order if i not in by), None)
    if gone is not None:
        raise PlanError(f"{where}/order", f"nothing is called {gone[:40]!r}")
    return [by[i] for i in order]


def _id(thing: Any) -> str:
    found = thing.get("id") if isinstance(thing, dict) else getattr(thing, "id", None)
    return found if isinstance(found, str) else ""
