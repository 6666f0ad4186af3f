"""A sheet as CSV: what parts its cells, which sign parts its decimals, and numbers as they are written in it."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Iterator
from typing import Literal

from reamer.core.errors import PlanError

MOST_BYTES = 20_000_000
# The sign before decimals; "" where the file's own numbers do not settle it.
Decimal = Literal[".", ",", ""]
SIGNS: tuple[Decimal, Decimal] = (".", ",")
# A number, and a unit after it. Nothing in it can be matched in two ways, and what is longer is no number.
NUMBER = re.compile(r"([+\-−]?[\d.,]+(?:[eE][+\-]?\d+)?)\s*([^\d.,][^\d]*)?")
LONGEST_NUMBER = 60
# Thousands in threes; a group that begins with nought is none.
GROUPED = re.compile(r"[1-9]\d{0,2}(?:([.,])\d{3})(?:\1\d{3})*")
PLAIN = re.compile(r"\d+|\d+[.,]\d+|[.,]\d+")


class TwoReadings(PlanError):
    """A number that may be two, and nothing in its file says which. ``readings``: what it is, by the sign before
    decimals."""

    def __init__(self, field: str, text: str):
        made: dict[str, float] = {s: _read(text, s) for s in SIGNS}
        self.readings = {s: f"{made[s]:.15g}" for s in sorted(made, key=lambda s: abs(made[s]))}
        super().__init__(
            field, f"{text!r} may be {' or '.join(self.readings.values())}; which sign is before decimals?"
        )


def decoded(data: bytes) -> str:
    """A file's text.

    data: UTF-8, with a mark or without, or UTF-16 with one
    returns: the text
    raises: PlanError where it is too large or another encoding
    Source: none.
    """
    if len(data) > MOST_BYTES:
        raise PlanError("file", f"it has {len(data):,} bytes; a table has at most {MOST_BYTES:,}")
    try:
        return data.decode("utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig")
    except UnicodeDecodeError:
        raise PlanError("file", "it is not UTF-8 text; save it as CSV in UTF-8") from None


class Sheet:
    """A sheet as it is read: ``heads``, its first row; ``decimal``: the sign before decimals in it."""

    def __init__(self, data: bytes, decimal: Decimal = "") -> None:
        """data: the file; decimal: the sign before decimals where its own numbers leave it open. Raises PlanError where
        it is no CSV."""
        text = decoded(data)
        if "\0" in text:
            raise PlanError("file", "it is not text")
        # Some programs say first what parts the cells.
        said = re.match(r"sep=([,;\t|])\r?\n", text, re.IGNORECASE)
        self._text = text[said.end() :] if said else text
        first = self._text.split("\n", 1)[0]
        # Where a comma is the decimal sign, sheets write semicolons.
        self._parts = said[1] if said else max(",;\t", key=first.count)
        rows = self._read()
        self.heads = [h.strip() for h in next(rows, (0, []))[1]]
        # Only figures tell: a name or a remark may be written otherwise. Their columns have a unit.
        told = [i for i, h in enumerate(self.heads) if re.search(r"[(\[][^()\[\]]*[)\]]$", h)]
        figures = ([cells[i] for i in told if i < len(cells)] for _, cells in rows)
        self.decimal: Decimal = "." if self._parts == "," else _decimal(figures) or decimal

    def _read(self) -> Iterator[tuple[int, list[str]]]:
        try:
            read = csv.reader(io.StringIO(self._text, newline=""), delimiter=self._parts, strict=True)
            yield from enumerate(read, 1)
        except csv.Error as e:
            raise PlanError("file", f"it is not CSV: {e}") from None

    def rows(self) -> Iterator[tuple[int, list[str]]]:
        """Every row after the heads, by its number."""
        every = self._read()
        next(every, None)
        return every


def _decimal(rows: Iterable[list[str]]) -> Decimal:
    """The sign before decimals, from the first number that can have no other."""
    for cells in rows:
        for cell in cells:
            text = cell.strip()
            found = NUMBER.fullmatch(text) if len(text) <= LONGEST_NUMBER else None
            sure = _sure(found[1]) if found is not None else ""
            if sure:
                return sure
    return ""


def _body(text: str) -> tuple[str, str, str]:
    """A number's sign, digits with their signs between them, and exponent."""
    found = re.fullmatch(r"([+\-−]?)([\d.,]+)((?:[eE][+\-]?\d+)?)", text)
    assert found is not None, "it was matched as a number"
    return found[1].replace("−", "-"), found[2], found[3]


def _sure(text: str) -> Decimal:
    """The sign before decimals where a number by itself leaves no doubt of it; a date has none."""
    _, digits, _ = _body(text)
    here = [s for s in SIGNS if s in digits]
    if len(here) == 2:
        last = max(SIGNS, key=digits.rindex)
        return last if GROUPED.fullmatch(digits.partition(last)[0]) else ""
    if not here or GROUPED.fullmatch(digits) is None:
        return here[0] if here and PLAIN.fullmatch(digits) else ""
    # Twice the same sign is one of thousands.
    return "" if digits.count(here[0]) == 1 else "." if here[0] == "," else ","


def number(text: str, decimal: Decimal, where: str = "") -> float:
    """A number as it is written in a sheet.

    text: the number alone, as NUMBER finds it; decimal: the sign before decimals there, "" where that is not settled;
    where: it stands
    returns: the number
    raises: PlanError with the reason where it is none, TwoReadings where it may be two
    Source: none.

    >>> number("4,12", ""), number("4,120", "."), number("1.234,5", ",")
    (4.12, 4120.0, 1234.5)
    """
    _, digits, _ = _body(text)
    use: Decimal = decimal or _sure(text)
    if not use and PLAIN.fullmatch(digits) and any(s in digits for s in SIGNS):
        raise TwoReadings(where, text)
    try:
        return _read(text, use or ".")
    except ValueError as e:
        raise PlanError(where, str(e)) from None


def _read(text: str, use: Decimal) -> float:
    sign, digits, exponent = _body(text)
    whole, found, rest = digits.partition(use)
    group = "," if use == "." else "."
    if group in rest or use in rest or (group in whole and not GROUPED.fullmatch(whole)):
        raise ValueError(f"{text!r} is not a number where {use!r} stands before decimals")
    plain = whole.replace(group, "") + (f".{rest}" if found else "")
    if not re.fullmatch(r"\d+\.?\d*|\.\d+", plain) or (found and not rest):
        raise ValueError(f"{text!r} is not a number")
    return float(f"{sign}{plain}{exponent}")
