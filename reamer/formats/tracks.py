"""Places: GPX 1.1 out and in, GeoJSON out."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass

import geojson
import gpxpy
import gpxpy.gpx
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import ParseError, fromstring

from reamer.core.errors import PlanError
from reamer.core.model import Plan, Position
from reamer.core.plan.descent import MOST_TRACK

Point = gpxpy.gpx.GPXTrackPoint | gpxpy.gpx.GPXRoutePoint
MOST_POINTS = 100_000
# As a place has them [m].
LOWEST, HIGHEST = -500, 9000


@dataclass(frozen=True, slots=True)
class Track:
    """What a GPX file holds: named places in order, the points of its tracks, and what was not taken, in words."""

    places: tuple[tuple[str, Position], ...]
    points: tuple[Position, ...]
    left: tuple[str, ...]


def gpx(plan: Plan) -> str:
    """A plan's places as GPX 1.1: stations as waypoints, the approach as a track.

    plan: the plan; stations without a position are left out
    returns: the file
    Source: GPX 1.1, by way of gpxpy.
    """
    made = gpxpy.gpx.GPX()
    made.creator = "Reamer"
    made.name = plan.title
    for n, d in enumerate(plan.drops, 1):
        if d.position is not None:
            made.waypoints.append(
                gpxpy.gpx.GPXWaypoint(
                    d.position.latitude_deg,
                    d.position.longitude_deg,
                    d.position.elevation_m,
                    name=d.name,
                    description=f"station {n}",
                    type="station",
                )
            )
    if plan.approach:
        track = gpxpy.gpx.GPXTrack(name="approach")
        segment = gpxpy.gpx.GPXTrackSegment()
        segment.points = [
            gpxpy.gpx.GPXTrackPoint(p.latitude_deg, p.longitude_deg, p.elevation_m) for p in plan.approach
        ]
        track.segments.append(segment)
        made.tracks.append(track)
    return made.to_xml(version="1.1")


def read_gpx(text: bytes) -> Track:
    """What a GPX file holds.

    text: the file
    returns: its places and points
    raises: PlanError where it is not GPX, declares entities, or holds too much
    Source: GPX 1.1, by way of gpxpy; entities are refused by way of defusedxml.
    """
    try:
        if text[:2] in (b"\xff\xfe", b"\xfe\xff"):
            # What says in it how it is encoded would no longer be so.
            text = re.sub(r"^<\?xml[^>]*\?>", "", text.decode("utf-16")).encode()
        root = fromstring(text, forbid_dtd=True)
        if not str(root.tag).endswith("gpx"):
            raise ValueError("its outermost element is another")
        made = gpxpy.parse(text)
    except DefusedXmlException:
        raise PlanError("file", "it declares entities or a document type, which no track needs") from None
    except (ParseError, gpxpy.gpx.GPXException, ValueError, LookupError) as e:
        raise PlanError("file", f"it is not GPX: {str(e)[:100]}") from None
    if made.get_points_no() + len(made.waypoints) > MOST_POINTS:
        raise PlanError("file", f"it has more than {MOST_POINTS:,} points")
    left: list[str] = []
    points: list[Point] = [p for t in made.tracks for s in t.segments for p in s.points]
    routed: list[Point] = [p for r in made.routes for p in r.points]
    if points and routed:
        left.append(f"its routes, {len(routed):,} points, are not taken beside its track")
    points = points or routed
    every: list[Point | gpxpy.gpx.GPXWaypoint] = [*made.waypoints, *points]
    high = sum(p.elevation is not None and _height(p) is None for p in every)
    if high:
        left.append(f"{high:,} elevations outside of {LOWEST} to {HIGHEST:,} m are not taken")
    if any(str(e.tag).endswith("extensions") for e in root.iter()):
        left.append("what other programs added to it, its extensions, is not kept")
    segments = sum(len(t.segments) for t in made.tracks)
    if segments > 1:
        left.append(f"its {segments} stretches of track are put together into one")
    if len(points) > MOST_TRACK:
        step = -(-len(points) // (MOST_TRACK - 1))
        left.append(f"of {len(points):,} points of track every {step}th is kept, and the last")
        points = [*points[:-1:step], points[-1]]
    named = [(_named(w.name, n), _at(w)) for n, w in enumerate(made.waypoints, 1)]
    count = Counter(name.casefold() for name, _ in named)
    twice = dict.fromkeys(name for name, _ in named if count[name.casefold()] > 1)
    left += [f"more than one place of it is called {name}; none of them is taken" for name in twice]
    places = tuple(x for x in named if count[x[0].casefold()] == 1)
    if any(getattr(p, "time", None) for p in points):
        left.append("times of its points are not kept")
    return Track(places, tuple(_at(p) for p in points), tuple(left))


def _named(name: str | None, n: int) -> str:
    plain = "".join(c for c in (name or "") if c.isprintable()).strip()[:80]
    return plain or f"Place {n}"


def _height(p: Point | gpxpy.gpx.GPXWaypoint) -> float | None:
    return None if p.elevation is None or not LOWEST <= p.elevation <= HIGHEST else round(p.elevation, 2)


def _at(p: Point | gpxpy.gpx.GPXWaypoint) -> Position:
    # Decimals past a millimetre are noise.
    height = _height(p)
    if not (-90 <= p.latitude <= 90 and -180 <= p.longitude <= 180):
        raise PlanError("file", f"a point lies at {p.latitude:g}, {p.longitude:g}, which is nowhere")
    return Position(latitude_deg=round(p.latitude, 8), longitude_deg=round(p.longitude, 8), elevation_m=height)


def maps(plan: Plan) -> str:
    """A plan's places as GeoJSON: stations as points, the approach as a line.

    plan: the plan; stations without a position are left out
    returns: the file
    Source: RFC 7946, by way of geojson.
    """

    every = [*(d.position for d in plan.drops if d.position is not None), *plan.approach]
    # Some programs take the first for all: either each has a height, or none has, and what is known stands beside it.
    high = all(p.elevation_m is not None for p in every)

    def at(p: Position) -> tuple[float, ...]:
        flat = (p.longitude_deg, p.latitude_deg)
        return (*flat, p.elevation_m) if high and p.elevation_m is not None else flat

    features = [
        geojson.Feature(
            id=d.id,
            geometry=geojson.Point(at(d.position), precision=8),
            properties={"name": d.name, "station": n, "elevation_m": d.position.elevation_m},
        )
        for n, d in enumerate(plan.drops, 1)
        if d.position is not None
    ]
    if len(plan.approach) > 1:
        line = geojson.LineString([at(p) for p in plan.approach], precision=8)
        features.append(geojson.Feature(id="approach", geometry=line, properties={"name": "approach"}))
    return str(geojson.dumps(geojson.FeatureCollection(features), ensure_ascii=False, indent=1))
