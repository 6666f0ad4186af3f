"""An edit of a plan: a value at a place. Places are found by naming fields, so that a type checker sees each name."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any, Generic, TypeVar, cast

from pydantic import BaseModel

from reamer.core.plan.plan import Plan
from reamer.core.plan.station import State

T = TypeVar("T")
V = TypeVar("V")
Path = tuple[str | int, ...]


@dataclass(frozen=True, slots=True)
class Edit:
    """One value to set in the plan: the path from its root, and the value as plain data."""

    path: Path
    value: Any


class _Trail:
    """Stands in a thing's place and remembers what is asked of it."""

    def __init__(self, path: Path) -> None:
        self._path = path

    def __getattr__(self, name: str) -> _Trail:
        return _Trail((*self._path, name))

    def __getitem__(self, index: int) -> _Trail:
        return _Trail((*self._path, index))


@dataclass(frozen=True, slots=True)
class Place(Generic[T]):
    """A place in a plan that holds a T. ``PLAN`` is the plan's own; from there the way goes by fields."""

    path: Path

    def at(self, way: Callable[[T], V]) -> Place[V]:
        """The place that a chain of fields leads to from here.

        way: names the fields, as in ``lambda state: state.system``; nothing else may be done in it
        returns: the place
        Source: none, text only.

        >>> PLAN.at(lambda plan: plan.drops[2].station.states).path
        ('drops', 2, 'station', 'states')
        """
        trail = cast(_Trail, way(cast(T, _Trail(()))))
        return Place((*self.path, *trail._path))

    def of(self, kind: type[V]) -> Place[V]:
        """The same place, where it is known of which kind the thing there is.

        kind: one of the kinds that may stand here
        returns: the place
        Source: none, types only.
        """
        return Place(self.path)

    def set(self, value: T) -> Edit:
        """The edit that puts a value here.

        value: models, or plain values
        returns: the edit
        Source: none, text only.
        """
        return Edit(self.path, plain(value))


PLAN: Place[Plan] = Place(())


def plain(value: Any) -> Any:
    """A value as plain data, as JSON has it; of a model only what was said.

    value: a model, a list or tuple of such, or a plain value
    returns: dicts, lists, text and numbers
    Source: none, text only.
    """
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json")
    return [plain(v) for v in value] if isinstance(value, (tuple, list)) else value


def apply(plan: Plan, edits: Iterable[Edit]) -> Plan:
    """A plan with edits made.

    plan: the plan; edits: values to set at paths
    returns: the edited plan
    raises: ValidationError if a value does not fit its place
    Source: none, plain replacement.
    """
    data: Any = plan.model_dump(mode="json")
    for edit in edits:
        here = data
        for key in edit.path[:-1]:
            here = here[key]
        here[edit.path[-1]] = edit.value
    return Plan.model_validate(data)


def states_after(
    states: tuple[State, ...], at: Place[tuple[State, ...]], edits: Iterable[Edit]
) -> tuple[State, ...] | None:
    """A station's states with edits made.

    states: as they are; at: their place; edits: values to set
    returns: the edited states, None where an edit lies elsewhere
    raises: ValidationError if a value does not fit its place
    Source: none, plain replacement.
    """
    data: Any = [s.model_dump(mode="json") for s in states]
    for edit in edits:
        if edit.path[: len(at.path)] != at.path:
            return None
        here, way = data, edit.path[len(at.path) :]
        if not way:
            data = edit.value
            continue
        for key in way[:-1]:
            here = here[key]
        here[way[-1]] = edit.value
    return tuple(State.model_validate(s) for s in data)
