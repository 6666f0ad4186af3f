"""What was found on site and noted on a card, as it comes home: beside the plan until somebody accepts it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from reamer.core.plan.descent import Clock
from reamer.core.plan.figures import Date, Figure, Flag, Id, Line, M, Name, Num
from reamer.core.plan.record import Digest

MOST_CORRECTIONS = 2000
# How a height can be felt on site.
OnSite = Literal["known rope", "rangefinder", "tape", "eye"]
Felt = Literal["easy", "firm", "hard", "stuck"]
Condition = Literal["good", "worn", "bad", "gone"]
Metres = Annotated[Num, Field(ge=0, le=600)]
# What the card said, where it said anything.
WasMetres = Annotated[Num, Field(ge=-1000, le=1000)] | None
WasWords = Annotated[Line, StringConstraints(max_length=120)]


class _AtStation(M):
    """Base of all: the station by its id and by its name on the card."""

    drop: Id
    station: Name


class HeightFelt(_AtStation):
    """How high the drop was, and how that was found. ``was_m``: what the card said."""

    what: Literal["height"]
    m: Annotated[Num, Field(ge=0.5, le=600)]
    method: OnSite
    was_m: WasMetres = None


class Reached(_AtStation):
    """Whether one rope end reached, and by how much it did or did not, None where that was not told. ``end``: as the
    card names it; ``was_m``: the spare that the card told."""

    what: Literal["reach"]
    end: Annotated[Line, StringConstraints(min_length=1, max_length=120)]
    reached: Flag
    by_m: Metres | None = None
    was_m: WasMetres = None


class AnchorFound(_AtStation):
    """One thing of the anchor as it was found. ``was``: as the card had it."""

    what: Literal["anchor"]
    item: Name
    state: Condition
    words: Annotated[Line, StringConstraints(max_length=300)] = ""
    was: WasWords = ""


class PullFelt(_AtStation):
    """How hard the rope came. ``was``: the band that the card told."""

    what: Literal["pull"]
    felt: Felt
    was: WasWords = ""


class Passed(_AtStation):
    """When the party got to a station, the first one went, all were down, or it was left, on the clock there. ``was``:
    as the card had it."""

    what: Literal["time"]
    which: Literal["arrived", "rigged", "down", "left"]
    clock: Clock
    was: WasWords = ""


class Happened(_AtStation):
    """An incident, or what was nearly one, in words."""

    what: Literal["incident"]
    near: Flag
    words: Annotated[Line, StringConstraints(min_length=1, max_length=300)]


Correction = Annotated[HeightFelt | Reached | AnchorFound | PullFelt | Passed | Happened, Field(discriminator="what")]


class Handed(M):
    """What one phone hands back of one walk. ``card``: the card's id; ``plan``: the plan's id where it was made, "" for
    a card made from a file; ``version``: of the plan on the card; ``device``: tells phones apart; ``by``: who noted it,
    ``on``: the day."""

    format: Literal[1]
    kind: Literal["corrections"]
    card: Digest
    plan: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{0,40}$")] = ""
    title: Name
    revision: Annotated[int, Field(ge=0, le=10**9)] = 0
    version: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{8}$")]
    device: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{8,32}$")]
    by: Name
    on: Date
    corrections: Annotated[tuple[Correction, ...], Field(min_length=1, max_length=MOST_CORRECTIONS)]


class Taken(M):
    """A correction that was taken into the survey, and of a figure what stood there before and after."""

    id: Digest
    drop: Id
    before: Figure | None = None
    after: Figure | None = None
