"""The line protocol: one JSON object a line. docs/devices.md says how a real instrument speaks it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AwareDatetime, Field, StringConstraints, TypeAdapter, ValidationError

from reamer.core.errors import PlanError
from reamer.core.plan.figures import Flag, Line, M, Num

Kind = Literal["rangefinder", "load cell", "gauge"]
PORTS: dict[Kind, int] = {"rangefinder": 8431, "load cell": 8432, "gauge": 8433}
PROTOCOL, MOST_LINE = 1, 400
Why = Annotated[Line, StringConstraints(max_length=120)]


class Hello(M):
    """The first line: what it is, and whether it only simulates one."""

    line: Literal["hello"]
    protocol: Literal[1]
    device: Kind
    name: Annotated[Line, StringConstraints(max_length=60)] = ""
    simulated: Flag = False


class Alive(M):
    """Nothing to say; at least every two seconds, unless something else is said."""

    line: Literal["alive"]


class Laser(M):
    """A shot of a rangefinder: slope distance [m], inclination, down below 0 [°], azimuth [°]."""

    line: Literal["shot"]
    slope_m: Annotated[Num, Field(ge=0.05, le=600)]
    incl_deg: Annotated[Num, Field(ge=-90, le=90)]
    azimuth_deg: Annotated[Num, Field(ge=0, lt=360)] | None = None


class Lost(M):
    """A shot that gave nothing, and why."""

    line: Literal["lost"]
    why: Why = ""


class Force(M):
    """A sample of a load cell: since the pull was started [s], force [kN]."""

    line: Literal["force"]
    t_s: Annotated[Num, Field(ge=0, le=1_000_000)]
    kn: Annotated[Num, Field(ge=-1000, le=1000)]


class Water(M):
    """A reading of a gauge: when, the level over its own zero [m], rain [mm/h]; None for what it does not measure."""

    line: Literal["water"]
    at: AwareDatetime
    level_m: Annotated[Num, Field(ge=-20, le=100)] | None = None
    rain_mm_h: Annotated[Num, Field(ge=0, le=500)] | None = None


Said = Annotated[Hello | Alive | Laser | Lost | Force | Water, Field(discriminator="line")]
SPOKEN: dict[Kind, tuple[str, ...]] = {"rangefinder": ("shot", "lost"), "load cell": ("force",), "gauge": ("water",)}
Asked = Literal["shoot", "start", "stop"]
ASKED: dict[Kind, tuple[Asked, ...]] = {"rangefinder": ("shoot",), "load cell": ("start", "stop"), "gauge": ()}


class Ask(M):
    """What an instrument is asked to do."""

    do: Asked


_SAID: TypeAdapter[Said] = TypeAdapter(Said)


def read_line(text: bytes) -> Said:
    """One line of an instrument's.

    text: without its end
    returns: what it says
    raises: PlanError naming the field that is wrong
    """
    try:
        return _SAID.validate_json(text)
    except ValidationError as e:
        first = e.errors(include_url=False, include_input=False)[0]
        field = "/".join(str(p) for p in first["loc"][1:]) or "line"
        raise PlanError(field, first["msg"]) from None


def written(line: M) -> bytes:
    """A line as it is sent.

    line: any
    returns: its bytes, with its end
    """
    return line.model_dump_json(exclude_none=True).encode() + b"\n"
