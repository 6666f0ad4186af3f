"""What there is to draw of a drop."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from reamer.core.anchor.inspection import used
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number
from reamer.core.answer.typed import of_section
from reamer.core.answer.working import Book
from reamer.core.load.anchors import LoadPath
from reamer.core.plan.station import with_states
from reamer.core.section.polyline import Point
from reamer.core.station.lie import Lie


@dataclass(frozen=True, slots=True)
class TerrainPoint:
    """One point of the section and what it is: anchor, edge, shot or landing."""

    x_m: float
    z_m: float
    kind: str
    edge: str


@dataclass(frozen=True, slots=True)
class ContactView:
    """Where the taut line bears on rock, how far it turns there and how sharp it is; the edge is where it turns
    most."""

    x_m: float
    z_m: float
    kind: Literal["edge", "contact"]
    turn: Number
    edge: str
    index: int


@dataclass(frozen=True, slots=True)
class Geometry:
    """What there is to draw, in metres. ``missing`` names the figures without which it is not whole."""

    terrain: tuple[TerrainPoint, ...]
    missing: tuple[str, ...]
    low: tuple[Point, ...]
    high: tuple[Point, ...]
    landing: str
    post_radius_m: float | None
    post_name: str
    tie: tuple[Point, ...]
    ring: Point | None
    taut: tuple[Point, ...]
    draped: tuple[Point, ...]
    contacts: tuple[ContactView, ...]
    recess: Number | None
    edge_z_m: float | None
    height: Number | None


def geometry_of(look: Look, lie: Lie, path: LoadPath, book: Book) -> Geometry:
    """What there is to draw of a drop in one of its states.

    look: the station; lie: how rope and tie lie; path: the load path; book: how numbers are made
    returns: the geometry [m, rad]
    Source: none, gathering.
    """
    made, at, height = lie.terrain, lie.nominal, lie.height
    kinds = zip(made.points, made.kinds, made.edges, strict=True)
    points = tuple(TerrainPoint(x, z, k, e) for (x, z), k, e in kinds)
    tied = used(with_states(look.drop, look.state).station)
    name = tied[0].name if len(tied) == 1 else f"{len(tied)} points" if tied else ""
    low, high = () if made.missing else lie.terrains["low"].points, () if made.missing else lie.terrains["high"].points
    post = path.wrap.bench.radius_m if path.wrap and path.wrap.bench else None
    bare = (points, made.missing, low, high, look.drop.landing.kind, post, name)
    if at is None:
        return Geometry(*bare, (), None, (), (), (), None, None, height)
    most, contacts = max((c.turn_rad for c in at.taut.contacts), default=0.0), []
    for i, c in enumerate(at.taut.contacts):
        turn = _turn(at.taut.points[i : i + 3], c.turn_rad, i + 1, book)
        kind: Literal["edge", "contact"] = "edge" if c.turn_rad == most else "contact"
        contacts.append(ContactView(c.x_m, c.z_m, kind, turn, made.edges[c.index], c.index))
    recess = Number(at.taut.recess_m, "length", "up") if at.taut.recess_m > 0 else None
    edge = made.points[-1][1] + height.value if height else None
    drawn = (at.tie, at.ring, at.taut.points, at.draped.points, tuple(contacts))
    return Geometry(*bare, *drawn, recess, edge, height)


def _turn(points: tuple[Point, ...], value: float, n: int, book: Book) -> Number:
    """How far a line turns at a contact, with its working."""
    (x0, z0), (x1, z1), (x2, z2) = points
    terms = [
        of_section(symbol, name, length)
        for symbol, name, length in (
            ("x1", "out, piece before", x1 - x0),
            ("y1", "down, piece before", z0 - z1),
            ("x2", "out, piece after", x2 - x1),
            ("y2", "down, piece after", z1 - z2),
        )
    ]
    return book.number(f"turn.{n}", f"turn at contact {n}", "atan2(x1, y1) - atan2(x2, y2)", terms, value, "angle")
