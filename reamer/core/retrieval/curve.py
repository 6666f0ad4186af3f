"""The whole pull: force at the hand against rope pulled."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from reamer.core.answer.look import Look
from reamer.core.retrieval.capstan import Array
from reamer.core.retrieval.sides import all_at_hand, sides
from reamer.core.rope.strands import Strand
from reamer.core.section.lines import Lines
from reamer.core.section.polyline import Point

CURVE_POINTS = 200


@dataclass(frozen=True, slots=True)
class CurvePoint:
    """Force at the hand after so much rope is pulled [N], and at the high end the tension at the upper and the lower
    end of every piece of the strand that comes up and of the one that is pulled, from the ring downward [N]."""

    pulled_m: float
    low_n: float
    high_n: float
    up_n: tuple[float, ...]
    down_n: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Curve:
    """The whole pull: its moments, and the corners of both strands' lines that the tensions belong to [m].

    up, down: the strands, as rope-end; "" where the pull is not known
    """

    moments: tuple[CurvePoint, ...]
    up_line: tuple[Point, ...]
    down_line: tuple[Point, ...]
    up: str
    down: str


def curve(look: Look, hanging: list[Strand], nominal: Lines | None) -> Curve:
    """The whole pull: force at the hand and tension along both strands against rope pulled.

    look: the station; hanging: its strands; nominal: its lines
    returns: moments from the start to the end that comes up passing the ring, none if it is not known
    Source: HB, capstan rule and statics.
    """
    got = "" if nominal is None else sides(look, hanging, nominal)
    if isinstance(got, str):
        return Curve((), (), (), "", "")
    drawn: Array = np.linspace(0.0, got.rope_m, CURVE_POINTS + 1)
    low, (up, down, hand) = all_at_hand(got, got.low, drawn)[2], all_at_hand(got, got.high, drawn)
    ways = (up.reshape(len(drawn), -1).round(1).tolist(), down.reshape(len(drawn), -1).round(1).tolist())
    moments = zip(drawn.tolist(), low.tolist(), hand.tolist(), *ways, strict=True)
    points = tuple(CurvePoint(d, a, b, tuple(u), tuple(v)) for d, a, b, u, v in moments)
    return Curve(points, got.up_points, got.points, got.up.key, got.down.key)
