"""What a thing of the shed has been through, and when its owner retires it: one document a thing, beside all plans."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator
from pydantic_core import PydanticCustomError

from reamer.core.plan.figures import Date, Id, Known, Line, M, Name, Num, Text, Tri, unique
from reamer.core.plan.log import Amount, Counted, Trip, TripId
from reamer.core.plan.shed import SHED_LISTS

GearList = Literal["ropes", "webbing", "slings", "rings", "devices", "tethers", "loops"]
GEAR_LISTS: tuple[GearList, ...] = ("ropes", "webbing", "slings", "rings", "devices", "tethers", "loops")
MOST_ENTRIES, MOST_RECORDS, MOST_NAMES = 1000, 400, 20
By = Annotated[Line, StringConstraints(max_length=80)]


class Used(M):
    """Use outside the log, or of another library's log (``log``: which descent there). ``metres``: ridden or lowered
    on it, None where nobody knows."""

    kind: Literal["used"]
    id: Id
    on: Date
    descents: Counted = 1
    metres: Amount | None = None
    falls: Counted = 0
    wet: Tri = "unknown"
    words: Text = ""
    log: TripId | Literal[""] = ""


class Measured(M):
    """A rope's length measured again."""

    kind: Literal["measured"]
    id: Id
    on: Date
    length_m: Annotated[Num, Field(ge=1, le=600)]
    method: Literal["tape", "rangefinder", "known rope", "eye"]
    by: By = ""
    words: Text = ""

    @property
    def figure(self) -> Known:
        """The length as a figure."""
        return Known(kind="known", value=self.length_m, method=self.method, on=self.on, by=self.by)


class Inspected(M):
    """Looked over, all of it: good, worn and still used, or condemned."""

    kind: Literal["inspected"]
    id: Id
    on: Date
    found: Literal["good", "worn", "condemned"]
    by: By = ""
    words: Text = ""


class Damaged(M):
    """Damage, or what may have done some: a fall on it, a stone, an acid."""

    kind: Literal["damaged"]
    id: Id
    on: Date
    words: Annotated[Text, StringConstraints(min_length=1)]
    by: By = ""


class Retired(M):
    """Taken out of use."""

    kind: Literal["retired"]
    id: Id
    on: Date
    words: Text = ""
    by: By = ""


GearEntry = Annotated[Used | Measured | Inspected | Damaged | Retired, Field(discriminator="kind")]
Limit = Annotated[Num, Field(gt=0, le=10_000_000)] | None


class Rules(M):
    """When its owner retires it: at so many years since it was made or first used, days, descents, metres, falls or
    wet days, or when it has shrunk by so many per cent; and after how many days it is to be looked over again. None: no
    such rule."""

    years_made: Limit = None
    years_used: Limit = None
    days: Limit = None
    descents: Limit = None
    metres: Limit = None
    falls: Limit = None
    wet_days: Limit = None
    shrunk_pct: Annotated[Num, Field(gt=0, le=60)] | None = None
    inspect_days: Limit = None


class Before(M):
    """What there was before the record was begun; all nothing for a new thing."""

    days: Counted = 0
    descents: Counted = 0
    metres: Amount = 0.0
    falls: Counted = 0
    wet_days: Counted = 0


class GearRecord(M):
    """One thing's record. ``names``: what plans call it, any of them; ``before``: None where nobody knows;
    ``label_m``: a rope's length on its label."""

    list: GearList
    names: Annotated[tuple[Name, ...], Field(min_length=1, max_length=MOST_NAMES)]
    made_on: Date | None = None
    first_used: Date | None = None
    label_m: Annotated[Num, Field(ge=1, le=600)] | None = None
    before: Before | None = None
    entries: Annotated[tuple[GearEntry, ...], Field(max_length=MOST_ENTRIES)] = ()
    rules: Rules = Rules()
    note: Text = ""

    @model_validator(mode="after")
    def _whole(self) -> GearRecord:
        unique((plainly(n) for n in self.names), "names", "name")
        unique((e.id for e in self.entries), "entries", "id")
        if self.list != "ropes":
            for i, e in enumerate(self.entries):
                if e.kind == "measured":
                    raise PydanticCustomError("kind", "only a rope is measured again", {"where": f"entries/{i}/kind"})
        if self.made_on is not None and self.first_used is not None and self.first_used < self.made_on:
            raise PydanticCustomError("date", "first used before it was made", {"where": "first_used"})
        return self

    def is_of(self, where: str, name: str) -> bool:
        """Whether a thing of a shed is the one that this is the record of.

        where: the shed's list; name: the thing's
        returns: whether it is; letter case and spaces do not tell things apart
        Source: none, comparison.
        """
        return where == self.list and plainly(name) in {plainly(n) for n in self.names}


class GearFile(M):
    """Records as they go along with a plan's file."""

    records: Annotated[tuple[GearRecord, ...], Field(max_length=MOST_RECORDS)] = ()


def plainly(name: str) -> str:
    """A name as things are told apart by it.

    name: as written
    returns: without regard to letter case and spaces
    Source: none, text only.
    """
    return " ".join(name.casefold().split())


@dataclass(frozen=True, slots=True)
class FromLog:
    """A logged descent, as records count it."""

    id: str
    trip: Trip


@dataclass(frozen=True, slots=True)
class NotRead:
    """A record that cannot be read, or a logged descent. ``told``: what it is, in words; ``names``: of which things,
    None where nobody knows; ``descent``: whether it is a descent."""

    told: str
    names: tuple[str, ...] | None
    descent: bool


@dataclass(frozen=True, slots=True)
class Gear:
    """All records and logged descents there are, and the day on which they are asked; None: nothing is asked.
    ``unread``: those of which nothing is known but that they are there."""

    on: dt.date | None = None
    records: tuple[GearRecord, ...] = ()
    log: tuple[FromLog, ...] = ()
    unread: tuple[NotRead, ...] = ()


NO_GEAR = Gear()
assert set(GEAR_LISTS) <= set(SHED_LISTS)
