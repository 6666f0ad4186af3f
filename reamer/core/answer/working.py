"""Workings: for every number shown, the formula, its inputs with units, and where each came from."""

from __future__ import annotations

from dataclasses import dataclass, field, fields, is_dataclass
from typing import Annotated, Any

from pydantic import Field as Excluded

from reamer.core.answer.say import Number, Quantity, Sentence, Toward
from reamer.core.tables import Row


@dataclass(slots=True)
class Entered:
    """A field of the plan that a term was typed into: its place, what the screen calls it, and what was typed."""

    field: str
    name: str
    said: Sentence


# Terms, workings and numbers are made by the thousand: frozen dataclasses take three times as long to make.
@dataclass(slots=True)
class Term:
    """One input of a formula: its symbol, what it is, its value in the quantity's base unit, and its source.

    source: a table row's tag and source, how a figure was entered, or "" for a computed one, in which case
    ``working`` is the key of the working that computed it, ``behind`` that working. ``typed``: the places of the
    fields that it was typed into, those of the station's rig, system and so on in braces; ``entered``: the same with
    what was typed there, once looked up.
    """

    symbol: str
    name: str
    value: float
    quantity: Quantity
    source: str = ""
    working: str = ""
    entered: tuple[Entered, ...] = ()
    behind: Annotated[Any, Excluded(exclude=True)] = field(default=None, compare=False, repr=False)
    typed: Annotated[tuple[str, ...], Excluded(exclude=True)] = ()


@dataclass(slots=True)
class Working:
    """A number's derivation. The formula is written so that it can be evaluated again from the terms alone:
    ``+ - * / **``, ``sqrt sin cos asin atan2 exp min max``, ``pi`` and the terms' symbols; base units, angles in rad.
    """

    key: str
    name: str
    formula: str
    terms: tuple[Term, ...]
    value: float
    quantity: Quantity


@dataclass(frozen=True, slots=True)
class Book:
    """How numbers are made: each carries its own working. ``prefix``: put before every key, so that two states of one
    station do not share keys; ``keeps``: whether workings are wanted."""

    prefix: str = ""
    keeps: bool = True

    def number(
        self,
        key: str,
        name: str,
        formula: str,
        terms: list[Term],
        value: float,
        quantity: Quantity,
        toward: Toward = "near",
    ) -> Number:
        """A number with its working."""
        key = self.prefix + key
        made = Working(key, name, formula, tuple(terms), value, quantity) if self.keeps else None
        return Number(value, quantity, toward, key, made)


def workings_in(thing: object, apart_from: object = ()) -> tuple[Working, ...]:
    """Every working that something rests on, each once.

    thing: made of dataclasses, tuples, lists and dicts, with numbers somewhere in it; apart_from: alike, what rests on
    which is left out
    returns: the workings of those numbers and of the numbers that they are computed from
    Source: none, a walk.
    """
    seen = set[int]()
    _walked(apart_from, seen)
    return tuple(_walked(thing, seen).values())


def _walked(whole: object, seen: set[int]) -> dict[str, Working]:
    """The workings below something, by key; what was seen before is passed by."""
    found: dict[str, Working] = {}
    rest: list[object] = [whole]
    while rest:
        thing = rest.pop()
        if thing is None or isinstance(thing, (str, int, float)) or id(thing) in seen:
            continue
        seen.add(id(thing))
        if isinstance(thing, (tuple, list)):
            rest += thing
        elif isinstance(thing, dict):
            rest += thing.values()
        elif isinstance(thing, (Number, Term)):
            rest.append(thing.behind)
        elif isinstance(thing, Working):
            found.setdefault(thing.key, thing)
            rest += thing.terms
        elif is_dataclass(thing):
            rest += [getattr(thing, f.name) for f in fields(thing)]
    return found


def from_row(symbol: str, row: Row, value: float, quantity: Quantity) -> Term:
    """A term taken from a table row, with the row's name and source.

    symbol: as in the formula; row: the row; value: the end of its range that is used [quantity's base unit]
    quantity: what it is
    returns: the term
    Source: the row names its own.
    """
    return Term(symbol, row.name, value, quantity, row.cited)


def computed(symbol: str, name: str, number: Number) -> Term:
    """A term that another working computed.

    symbol: as in the formula; name: what it is; number: the computed number [its quantity's base unit]
    returns: the term, leading to that working
    Source: the other working.
    """
    return Term(symbol, name, number.value, number.quantity, "", number.working, (), number.behind)
