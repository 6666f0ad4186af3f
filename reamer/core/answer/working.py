"""Workings: for every number shown, the formula, its inputs with units, and where each came from."""

from __future__ import annotations

from dataclasses import dataclass

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
    ``working`` is the key of the working that computed it. ``entered``: the fields it was typed into, once looked up.
    """

    symbol: str
    name: str
    value: float
    quantity: Quantity
    source: str = ""
    working: str = ""
    entered: tuple[Entered, ...] = ()


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


class Book:
    """Where one drop's workings are gathered while it is assessed."""

    __slots__ = ("keeps", "prefix", "workings")

    def __init__(self, prefix: str = "", keeps: bool = True) -> None:
        """prefix: put before every key, so that two states of one station do not share keys; keeps: whether workings
        are wanted."""
        self.keeps = keeps
        self.prefix = prefix
        self.workings: dict[str, Working] = {}

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
        """Record a working and return its number."""
        key = self.prefix + key
        if self.keeps:
            self.workings[key] = Working(key, name, formula, tuple(terms), value, quantity)
        return Number(value, quantity, toward, key)


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
    return Term(symbol, name, number.value, number.quantity, "", number.working)
