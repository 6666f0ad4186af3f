"""How rope and tie lie on the rock of a drop: terrain, lines, lengths, height, and how sharp the rock is."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.anchor.reaches import Reaches, reaches
from reamer.core.answer.codes import Severity
from reamer.core.answer.findings import Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number
from reamer.core.answer.typed import of_section
from reamer.core.answer.working import Book
from reamer.core.load.path import Ground
from reamer.core.model import Rig
from reamer.core.plan.limits import Bound
from reamer.core.section.lengths import ByBound, Lengths, paths
from reamer.core.section.lines import LEAST_TURN_RAD, Lines, height_m, lines
from reamer.core.section.polyline import angle_from_plumb_rad, away_m
from reamer.core.section.terrain import STEEP_RAD, Terrain, terrain
from reamer.core.tables import row

BOUNDS: tuple[Bound, ...] = ("low", "nominal", "high")


@dataclass(frozen=True, slots=True)
class Lie:
    """The terrain at each bound of the survey; the lines there, None where they are not known; the drop's height, None
    where its section is not whole; the lines' lengths, none where they are not known."""

    terrains: dict[Bound, Terrain]
    by_bound: ByBound | None
    height: Number | None
    lengths: Lengths

    @property
    def terrain(self) -> Terrain:
        """The nominal terrain."""
        return self.terrains["nominal"]

    @property
    def nominal(self) -> Lines | None:
        """The nominal lines."""
        return self.by_bound["nominal"] if self.by_bound else None

    @property
    def ground(self) -> Ground:
        """How the tie lies on the rock, and where the rope goes from the ring."""
        at, height = self.nominal, self.height.value if self.height is not None else None
        if at is None:
            return Ground()
        edges, along = [], 0.0
        for before, p in zip(at.tie, at.tie[1:-1], strict=False):
            along += math.dist(before, p)
            n = at.terrain.points.index(p)
            edges.append((along, "rounded" if at.terrain.pads and at.terrain.pads[n] else at.terrain.edges[n]))
        if len(at.taut.points) < 2:
            return Ground(tuple(edges), None, height)
        (x0, z0), (x1, z1) = at.taut.points[:2]
        return Ground(tuple(edges), (x1 - x0, z1 - z0), height)


def lie_of(look: Look) -> Says[Lie]:
    """How rope and tie lie at a station, and what is to be said of it.

    look: the station
    returns: the lie
    Source: see the functions it calls.
    """
    made = _terrains(look)
    nominal = made["nominal"]
    by_bound = yield from _lines(look, made)
    if by_bound is not None:
        yield from _edge_findings(look, by_bound)
    height = None if nominal.missing else look.once(("height",), (nominal,), lambda own: _height(nominal, own))
    return Lie(made, by_bound, height, lengths_of(look, by_bound))


def lengths_of(look: Look, by_bound: ByBound | None) -> Lengths:
    """How long the lines are.

    look: the station; by_bound: its lines
    returns: their lengths, none where they or how far the landing lies aside are not known [m]
    Source: see paths.
    """
    aside = look.drop.landing.aside_m
    if by_bound is None or aside.kind == "unknown":
        return {}
    return look.once(("paths",), (*by_bound.values(), aside), lambda own: paths(by_bound, aside, own))


def _height(made: Terrain, book: Book) -> Number:
    """The height of a drop, with its working."""
    value, low = height_m(made), made.points[-1][1]
    terms = [of_section("z1", "the edge's level", value + low), of_section("z0", "the landing's level", low)]
    return book.number("height", "height, edge to landing level", "z1 - z0", terms, value, "length")


def _terrains(look: Look) -> dict[Bound, Terrain]:
    """The drop's terrain at each bound, worked out once for all that is compared on one section."""
    section = look.drop.section

    def make(_: Book) -> dict[Bound, Terrain]:
        return {b: terrain(section, b) for b in BOUNDS}

    # Alike for both states of the station.
    return look.ctx.once(("section", look.drop.id), (section,), Book(keeps=False), make)


def _lines(look: Look, made: dict[Bound, Terrain]) -> Says[ByBound | None]:
    """The lines at each bound, None where they are not known."""
    missing, rig, gain = made["nominal"].missing, look.rig, 0.0
    if missing:
        why, names = "Not measured: {missing}. Reach is not checked.", ", ".join(missing)
        yield say("section.unknown", "Not checked", "section", "The section is not whole", why, missing=names)
        return None
    if rig.kind != "none":
        made_of = reaches(rig, look.ctx)
        out = made_of.out_m
        yield from _reach_findings(look, made_of)
        if out is None or (rig.kind == "several" and rig.up_m.kind == "unknown"):
            title, why = "Where the ring hangs is unknown", "The reach of the tie is not entered. Reach is not checked."
            yield say("section.unknown", "Not checked", "section", title, why)
            return None
        gain = out
    by_bound = {}
    for bound, t in made.items():
        got = lines(t, gain, _level(rig))
        if got is None:
            title, why = (
                "The ring would hang at or below the landing",
                "The tie reaches {gain}; the whole path from the",
            )
            yield say(
                "ring.beyond", "Shortfall", "ring", title, why + " anchor is shorter.", gain=Number(gain, "fine length")
            )
            return None
        by_bound[bound] = got
    recess = by_bound["nominal"].taut.recess_m
    if recess > 0:
        title = "The landing lies {o} back under the last lip"
        why = "The rope hangs free below the lip; riders must be drawn in, and the rope counted is longer."
        yield say("section.recess", "Note", "section", title, why, o=Number(recess, "length", "up"))
    return by_bound


def _reach_findings(look: Look, made: Reaches) -> Says[None]:
    """Joinings that are to carry the ring further than they reach. Source: none, comparison; J for one anchor's own."""
    for o in made.over:
        wanted = Number(o.wanted_m, "fine length", "up")
        if o.key == "anchor":
            title, why = (
                "What holds the ring {wanted} from its anchor is not said",
                "One anchor reaches {most} by itself.",
            )
            why += " Enter what is between as a link."
            yield say(
                "link.reach",
                "Not checked",
                o.key,
                title,
                why,
                wanted=wanted,
                most=Number(o.most_m or 0.0, "fine length"),
            )
        elif o.most_m is None:
            title, why = (
                "Whether {name} carries the ring {wanted} is not checked",
                "Not checked: its length is unknown.",
            )
            yield say("link.reach", "Not checked", o.key, title, why, name=o.name, wanted=wanted)
        else:
            title, why = (
                "{name} does not carry the ring {wanted}",
                "As it is rigged it reaches {most}; reach, need and pull",
            )
            why += " are reckoned with that."
            most = Number(o.most_m, "fine length", "down")
            yield say("link.reach", "Shortfall", o.key, title, why, name=o.name, wanted=wanted, most=most)


def _level(rig: Rig) -> float:
    """The height that several points hold the ring at, its links hanging down from the focal point; of other rigs none
    of its own."""
    if rig.kind != "several" or rig.up_m.kind == "unknown":
        return -math.inf
    return rig.up_m.value - sum(link.reach_m.known or 0.0 for link in rig.links)


def _edges(by_bound: ByBound) -> tuple[list[int], list[int]]:
    """Convex edges that a rope bears on, by the taut or the draped line at any bound of the survey; and those that
    either passes so closely that it may. Source: J, our judgement."""
    bent, near = set[int](), set[int]()
    reach = row("ropes", "edge.near").high
    for at in by_bound.values():
        bent |= {c.index for c in at.taut.contacts if c.turn_rad > LEAST_TURN_RAD}
        points = at.terrain.points
        for i in range(len(points) - 1):
            before = angle_from_plumb_rad(points[i - 1], points[i]) if i else math.pi / 2
            turn = before - angle_from_plumb_rad(points[i], points[i + 1])
            if turn <= (LEAST_TURN_RAD if i else STEEP_RAD):
                continue
            if i and points[i] in at.draped.points[1:]:
                bent.add(i)
            elif min(away_m(line.points, points[i]) for line in (at.taut, at.draped)) <= reach:
                near.add(i)
    return sorted(bent), sorted(near - bent)


def _edge_findings(look: Look, by_bound: ByBound) -> Says[None]:
    """How sharp the rock is where a loaded rope bears. Source: J, our judgement: a single strand that moves under load
    is cut soonest."""
    system, made = look.system, by_bound["nominal"].terrain
    bent, near = _edges(by_bound)
    padded = [i for i in bent if made.pads and made.pads[i]]
    sharp = sum(1 for i in bent if made.edges[i] == "sharp" and i not in padded)
    aside = (look.drop.landing.aside_m.known or 0.0) > 0
    moves = system.kind in ("lowered", "releasable") or aside or bool(look.station.deviations)
    if sharp and system.kind != "none":
        severity: Severity = "Caution"
        title = "The rope bears on {n} sharp edges" if sharp > 1 else "The rope bears on a sharp edge"
        why = "Loaded, it may be cut. "
        if moves and system.kind not in ("doubled", "joined"):
            severity = "Shortfall"
            why = "A single strand that is let out or swings over it under load may be cut through. "
        why += "Pad it, move the ring past it, or hang the rope elsewhere."
        yield say("edge.sharp", severity, "edge", title, why, n=Number(sharp, "count"))
    bare = [i for i in near if not (made.pads and made.pads[i])]
    if not sharp and any(made.edges[i] == "sharp" for i in bare) and system.kind != "none":
        title, why = "The rope may touch a sharp edge", "It passes within {near}. Look, and pad it or move the ring."
        yield say(
            "edge.sharp", "Caution", "edge", title, why, near=Number(row("ropes", "edge.near").high, "fine length")
        )
    if padded and system.kind != "none":
        why = "Tie it so that it stays there, and say who brings it down: it does not come with the rope."
        yield say("edge.sharp", "Note", "edge", "A pad lies under the rope", why)
    unknown = sum(1 for i in {*bent, *bare} if made.edges[i] == "unknown")
    if unknown:
        title, why = (
            "How sharp the rock is where the rope bears is unknown",
            "{n} of the contacts nobody has looked at.",
        )
        yield say("edge.unknown", "Not checked", "edge", title, why, n=Number(unknown, "count"))
