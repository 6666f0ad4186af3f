"""The figures of a plan: a number somebody measured, or one nobody knows; and text that can be shown."""

from __future__ import annotations

import datetime as dt
import unicodedata
from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field, StringConstraints, model_validator
from pydantic_core import PydanticCustomError

from reamer.core.tables import RangeEnd


class M(BaseModel):
    """Base of all: nothing unknown slips in, nothing changes after it is made, no NaN or infinity."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


def _readable(allowed: str) -> AfterValidator:
    """A validator that holds text to characters that can be shown: no control characters, and none that turn the
    direction of writing."""

    def check(text: str) -> str:
        if text.isprintable():
            return text
        bad = next(
            (c for c in text if c not in allowed and (unicodedata.category(c) in ("Cc", "Cs") or c in TURNS)), None
        )
        if bad is not None:
            raise PydanticCustomError(
                "text", "it holds the character U+{code}, which cannot be shown", {"code": f"{ord(bad):04X}"}
            )
        return text

    return AfterValidator(check)


def _written(value: object) -> object:
    if not isinstance(value, (str, dt.date)):
        raise PydanticCustomError("date", "a date is written as 2027-06-12")
    return value


TURNS = "\u200e\u200f\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069"


# A number is a number and a yes is a yes: nothing is guessed from text, and 0 is no date.
Num = Annotated[float, Field(strict=True)]
Flag = Annotated[bool, Field(strict=True)]
Date = Annotated[dt.date, BeforeValidator(_written)]
Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80), _readable("")]
Text = Annotated[str, StringConstraints(max_length=4000), _readable("\n\r\t")]
Line = Annotated[str, StringConstraints(strip_whitespace=True, max_length=300), _readable("")]
Tri = Literal["yes", "no", "unknown"]
Method = Literal["tape", "rangefinder", "known rope", "guidebook", "eye", "given"]
Sharpness = Literal["rounded", "coarse", "sharp", "unknown"]


class Error(M):
    """A figure's own limit of error, instead of its method's: a share of the value, or a length in metres."""

    kind: Literal["share", "length"]
    value: Annotated[Num, Field(ge=0, le=100)]

    @model_validator(mode="after")
    def _at_most_all(self) -> Error:
        if self.kind == "share" and self.value > 1:
            raise PydanticCustomError(
                "out_of_range",
                "a figure's error is at most 100 % of it, not {value} %",
                {"where": "value", "value": f"{self.value * 100:g}"},
            )
        return self


class Known(M):
    """A number somebody measured, was given or decided; when, and by whom, where that was noted."""

    kind: Literal["known"]
    value: Num
    method: Method
    error: Error | None = None
    on: Date | None = None
    by: Annotated[Line, StringConstraints(max_length=80)] = ""

    @property
    def known(self) -> float | None:
        """The value."""
        return self.value


class Unknown(M):
    """A number nobody knows yet, and why."""

    kind: Literal["unknown"]
    why: Annotated[Line, StringConstraints(max_length=200)] = ""

    @property
    def known(self) -> float | None:
        """Nothing: it is not known."""
        return None


Figure = Annotated[Known | Unknown, Field(discriminator="kind")]


def decided(value: float) -> Known:
    """A length that is decided, to the centimetre.

    value: the length [m]
    returns: the figure
    Source: none.
    """
    return Known(kind="known", value=round(value, 2), method="given")


def sure(figure: Known | Unknown) -> Known:
    """A figure of which it was asked before whether it is known.

    figure: one that is known
    returns: the same
    Source: none.
    """
    assert figure.kind == "known", "an unknown figure is said before it is used"
    return figure


def whole_count(figure: Known | Unknown) -> Known | Unknown:
    """Refuse a count that is no whole number.

    figure: the count
    returns: the same
    raises: PydanticCustomError if it is not whole
    Source: none.
    """
    if figure.kind == "known" and figure.value != int(figure.value):
        raise PydanticCustomError("whole", "a count is a whole number, not {value}", {"value": f"{figure.value:g}"})
    return figure


def within(low: float, high: float, unit: str, what: str, surveyed: bool = False) -> AfterValidator:
    """A validator that holds a figure inside the range a person could mean.

    low, high: the range; unit: for the message; what: is measured; surveyed: whether it needs a method of its own
    returns: the validator
    Source: J, our judgement of what is a slip of the pen.
    """

    def check(figure: Known | Unknown) -> Known | Unknown:
        if figure.kind == "known":
            if not low <= figure.value <= high:
                raise PydanticCustomError(
                    "out_of_range",
                    "{what} must lie from {low} to {high}{unit}, not {value}",
                    {
                        "what": what,
                        "low": f"{low:g}",
                        "high": f"{high:g}",
                        "unit": f" {unit}" if unit else "",
                        "value": f"{figure.value:g}",
                    },
                )
            if surveyed and figure.method == "given":
                raise PydanticCustomError(
                    "no_method",
                    "{what} needs the method it was measured by: tape, rangefinder, known rope, guidebook or eye",
                    {"what": what},
                )
        return figure

    return AfterValidator(check)


Setback = Annotated[Figure, within(0, 200, "m", "a set-back", True)]
EdgeFall = Annotated[Figure, within(-20, 100, "m", "the fall to the edge", True)]
Height = Annotated[Figure, within(0.5, 600, "m", "a drop's height", True)]
Recess = Annotated[Figure, within(0, 100, "m", "a recess", True)]
Slope = Annotated[Figure, within(0.05, 600, "m", "a slope distance", True)]
Girth = Annotated[Figure, within(0.05, 40, "m", "a girth", True)]
Fibre = Literal["nylon", "polyester", "HMPE", "aramid", "polypropylene", "unknown"]
FaceAngle = Annotated[Figure, within(15, 90, "°", "a face angle")]
Inclination = Annotated[Figure, within(-170, 90, "°", "an inclination")]
Gain = Annotated[Figure, within(0.01, 60, "m", "the reach of the tie")]
Extension = Annotated[Figure, within(0.05, 60, "m", "the extension")]
RopeLength = Annotated[Figure, within(1, 600, "m", "a rope's length")]
Diameter = Annotated[Figure, within(4, 16, "mm", "a rope's diameter")]
Elongation = Annotated[Figure, within(0.1, 60, "%", "an elongation")]
MiddleOff = Annotated[Figure, within(0, 50, "m", "how far the middle mark is off")]
RideLength = Annotated[Figure, within(0.5, 600, "m", "the ride strand's length")]
BodyMass = Annotated[Figure, within(15, 250, "kg", "a person's weight with kit")]
Thickness = Annotated[Figure, within(0.5, 60, "mm", "a thickness")]
Opening = Annotated[Figure, within(5, 200, "mm", "an opening")]
Stock = Annotated[Figure, within(0, 1000, "m", "a piece of webbing")]
ConnectorLength = Annotated[Figure, within(0.02, 1, "m", "a connector's length")]
LaidLength = Annotated[Figure, within(0.1, 10, "m", "a sling's laid length")]
LinkReach = Annotated[Figure, within(0, 20, "m", "how much further a link takes the ring")]
LegAngle = Annotated[Figure, within(0, 170, "°", "an angle between legs")]
RopeMass = Annotated[Figure, within(0.01, 0.3, "kg/m", "a rope's mass")]
ItemMass = Annotated[Figure, within(0.001, 20, "kg", "what it weighs")]
BoxSide = Annotated[Figure, within(0, 20, "m", "a block's measure")]
Offset = Annotated[Figure, within(-30, 30, "m", "a place")]
Impact = Annotated[Figure, within(2, 20, "kN", "an impact force")]
Aside = Annotated[Figure, within(0, 60, "m", "how far it lies off to the side", True)]
TetherLength = Annotated[Figure, within(0.1, 10, "m", "a tether's length")]


class Range(M):
    """What something holds, low to high, and who says so or why."""

    kind: Literal["range"]
    low_kn: Annotated[Num, Field(gt=0, le=1000)]
    high_kn: Annotated[Num, Field(gt=0, le=1000)]
    source: Annotated[Line, StringConstraints(min_length=1)]

    def at(self, end: RangeEnd) -> float:
        """What it holds at one end of the range [kN]."""
        return self.low_kn if end == "low" else self.high_kn

    @model_validator(mode="after")
    def _ordered(self) -> Range:
        if self.low_kn > self.high_kn:
            raise PydanticCustomError(
                "range",
                "the low end {low} kN lies above the high end {high} kN",
                {"low": f"{self.low_kn:g}", "high": f"{self.high_kn:g}"},
            )
        return self


Capacity = Annotated[Range | Unknown, Field(discriminator="kind")]


def unique(values: Iterable[str], where: str, what: str) -> None:
    """Refuse a value that is given twice.

    values: of one list; where: the list's path; what: the value is called, and its field
    returns: nothing
    raises: PydanticCustomError that names the second
    Source: none, comparison.
    """
    seen: set[str] = set()
    for i, value in enumerate(values):
        if value in seen:
            raise PydanticCustomError(
                "twice",
                "the {what} “{value}” is taken; each needs its own",
                {"where": f"{where}/{i}/{what}", "what": what, "value": value},
            )
        seen.add(value)
