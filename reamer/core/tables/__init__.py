"""Figures of the trade as data: one JSON file a table, every row with its range and its source.

A row is ``{key, name, low, high, unit, tag, source, note?}``. ``tag`` is STD, HB, P or J. The loader refuses
a row without them. A look-up that misses raises TableError with the name asked for, never the nearest row.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, replace
from functools import cache
from pathlib import Path
from typing import Any, Literal

from reamer.core.errors import TableError

RangeEnd = Literal["low", "high"]
ENDS: tuple[RangeEnd, RangeEnd] = ("low", "high")
TAGS = {"STD": "published standard", "HB": "handbook", "P": "common practice", "J": "our judgement"}
NAMES = (
    "methods",
    "landings",
    "ropes",
    "knots",
    "materials",
    "loads",
    "fibres",
    "friction",
    "standards",
    "slings",
    "pull_tests",
    "times",
    "people",
)


# Tables that are there to be read: nothing is computed from them, so no plan may put its own figure in their place.
TO_BE_READ = ("standards",)
NOT_USED = {
    ("knots", "bights.most"),
    ("knots", "bights.least"),
    ("times", "gauge.old"),
    ("times", "gauge.window"),
    ("times", "gauge.sudden"),
    # A thing's own record has a rule of its owner's for it.
    ("ropes", "textile.years"),
}
# What is so by definition, or by a standard's wording: nobody can have a figure of their own for it.
DEFINED = {
    ("loads", k) for k in ("g", "fall.rated", "fall.mass.single", "fall.mass.half", "fall.mass.twin", "tests.spreads")
} | {("ropes", "mass.dynamic"), ("ropes", "mass.low-stretch")}
PARTLY_USED: dict[str, tuple[str, ...]] = {
    # What the rehearsal stands on is not part of an assessment.
    "people": (),
    "friction": (
        "webbing bark",
        "webbing rock",
        "ring",
        "bark",
        "textile",
        "smooth rock",
        "coarse rock",
        "HMPE",
        "pad",
    ),
    "pull_tests": (
        "flat overhand dynamic",
        "flat overhand cord",
        "HMPE ring bend",
        "HMPE overhand",
        "HMPE single fisherman",
        "HMPE triple fisherman",
        "flat eight",
    ),
    "fibres": ("elongation.nylon", "elongation.polyester", "elongation.HMPE", "elongation.aramid"),
    "slings": ("straight", "overhand", "basket", "basket double", "shortened", "girth"),
}


@dataclass(frozen=True, slots=True)
class Row:
    """One value of a table: low to high in ``unit``, with its tag and source; ``cited`` is both as a working shows
    them."""

    key: str
    name: str
    low: float
    high: float
    unit: str
    tag: str
    source: str
    note: str = ""
    cited: str = ""

    def at(self, end: RangeEnd) -> float:
        """The value at one end of its range."""
        return self.low if end == "low" else self.high


@dataclass(frozen=True, slots=True)
class Pattern:
    """One way to tie webbing round one post.

    carry_low, carry_high: strands that carry at each end of the range; spread: whether the legs' angle counts
    bends_over_ring: whether a strand bends over the ring without a knot there
    weak_points: pairs of knot and place (chosen, leg, side, back, front, focal)
    bands, turns, knots, tails, own: what is cut
    """

    key: str
    name: str
    strands: int
    carry_low: int
    carry_high: int
    spread: bool
    bends_over_ring: bool
    weak_points: tuple[tuple[str, str], ...]
    redundant: str
    cinches: str
    equalises: str
    bands: int
    turns: int
    knots: dict[str, int]
    tails: int
    own: str
    notes: str
    tag: str
    source: str

    @property
    def cited(self) -> str:
        """Tag and source as a working shows them."""
        return f"{self.tag}: {self.source}"


@dataclass(frozen=True, slots=True)
class KnotGuide:
    """What a knot is for, whether it unties after load, and what to look for. ``retention``: its name in the rows of
    the knot table, "" where there is no figure."""

    key: str
    name: str
    use: str
    unties: str
    retention: str
    dressing: str
    tag: str
    source: str


@dataclass(frozen=True, slots=True)
class Table:
    """A table: its title, what it is about, and its rows by key."""

    name: str
    title: str
    about: str
    rows: dict[str, Row]


@cache
def table(name: str) -> Table:
    """One table by its name.

    name: file name without ending
    returns: the table
    raises: TableError if there is no such table or one of its rows breaks the rules
    Source: the file itself; each row names its own.
    """
    if name not in NAMES:
        raise TableError(f"no table {name!r}")
    data = json.loads((Path(__file__).parent / f"{name}.json").read_text(encoding="utf-8"))
    rows: dict[str, Row] = {}
    for raw in data["rows"]:
        try:
            made = Row(**raw, cited=f"{raw.get('tag')}: {raw.get('source')}")
        except TypeError as e:
            raise TableError(f"{name}: row {raw.get('key')!r}: {e}") from None
        if made.tag not in TAGS or not made.source or made.low > made.high or made.key in rows:
            raise TableError(f"{name}: row {made.key!r} has a bad tag, source, range or a key used twice")
        rows[made.key] = made
    return Table(name, data["title"], data["about"], rows)


def replaceable(name: str, key: str) -> bool:
    """Whether a plan's own figure in this row's place would change anything.

    name, key: the table's and the row's names
    returns: false for what is only there to be read
    Source: none, what the core looks up.
    """
    return (
        name not in TO_BE_READ
        and (name, key) not in NOT_USED | DEFINED
        and (name not in PARTLY_USED or key in PARTLY_USED[name])
    )


_OWN: ContextVar[dict[tuple[str, str], Row] | None] = ContextVar("own figures", default=None)


@contextmanager
def own_figures(figures: Iterable[tuple[str, str, float, float, str]]) -> Iterator[None]:
    """Within this, ``row`` gives a plan's own figures in place of the tables'.

    figures: table, key, low, high and the guide's reason, for each
    returns: a context; outside it the tables stand as they are
    Source: the guide; each row then names the reason instead of its source.
    """
    own = {}
    for name, key, low, high, reason in figures:
        was = _tabled(name, key)
        cited = f"own figure, in place of {was.low:g} to {was.high:g}: {reason}"
        own[name, key] = replace(was, low=low, high=high, source=reason, cited=cited)
    token = _OWN.set(own)
    try:
        yield
    finally:
        _OWN.reset(token)


def row(name: str, key: str) -> Row:
    """One row of one table, or the plan's own figure in its place.

    name, key: the table's and the row's names
    returns: the row
    raises: TableError with the name asked for, if it is not there
    Source: the row names its own.

    >>> row("knots", "retention.ring bend.nylon").low
    0.6
    """
    own = _OWN.get()
    return own[name, key] if own and (name, key) in own else _tabled(name, key)


@cache
def _tabled(name: str, key: str) -> Row:
    """One row of one table as it stands there.

    name, key: the table's and the row's names
    returns: the row
    raises: TableError with the name asked for, if it is not there
    Source: the row names its own.
    """
    rows = table(name).rows
    if key not in rows:
        raise TableError(f"table {name} has no row {key!r}")
    return rows[key]


@cache
def patterns() -> dict[str, Pattern]:
    """Every pattern round one post, by key.

    returns: key -> pattern
    raises: TableError if a row breaks the rules
    Source: patterns.json; each row names its own.
    """
    data = json.loads((Path(__file__).parent / "patterns.json").read_text(encoding="utf-8"))
    made: dict[str, Pattern] = {}
    for raw in data["rows"]:
        pattern = Pattern(**{**raw, "weak_points": tuple(tuple(w) for w in raw["weak_points"])})
        if (
            pattern.tag not in TAGS
            or not pattern.source
            or pattern.carry_low > pattern.carry_high
            or pattern.key in made
        ):
            raise TableError(f"patterns: row {pattern.key!r} has a bad tag, source, range or a key used twice")
        made[pattern.key] = pattern
    return made


@cache
def knot_guide() -> tuple[KnotGuide, ...]:
    """Uses, untying and dressing of every knot.

    returns: one entry a knot
    raises: TableError if a row breaks the rules
    Source: knot_guide.json; each row names its own.
    """
    data = json.loads((Path(__file__).parent / "knot_guide.json").read_text(encoding="utf-8"))
    made = tuple(KnotGuide(**raw) for raw in data["rows"])
    for knot in made:
        if knot.tag not in TAGS or not knot.source or not (knot.use and knot.unties and knot.dressing):
            raise TableError(f"knot guide: row {knot.key!r} has a bad tag or says nothing")
    return made


@dataclass(frozen=True, slots=True)
class Question:
    """A question to something found in place: its key, of what kind of thing, in words, and the answer that is good."""

    key: str
    what: str
    question: str
    good: str
    tag: str
    source: str


@cache
def questions() -> tuple[Question, ...]:
    """What to ask of a thing found in place.

    returns: the questions, in the order they are asked
    raises: TableError if a row breaks the rules
    Source: questions.json; each row names its own.
    """
    data = json.loads((Path(__file__).parent / "questions.json").read_text(encoding="utf-8"))
    made = tuple(Question(**raw) for raw in data["rows"])
    for q in made:
        if q.tag not in TAGS or q.good not in ("yes", "no") or not q.source:
            raise TableError(f"questions: row {q.key!r} has a bad tag, answer or source")
    return made


@cache
def units() -> dict[str, dict[str, Any]]:
    """How each quantity is shown: unit, factor and digits, metric and US.

    returns: quantity -> {"si", "metric", "us"}
    Source: units.json, exact definitions.
    """
    data = json.loads((Path(__file__).parent / "units.json").read_text(encoding="utf-8"))
    return {k: v for k, v in data.items() if isinstance(v, dict)}
