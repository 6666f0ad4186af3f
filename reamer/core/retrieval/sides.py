"""The two sides of a pull: what comes up, what is pulled, and what both rub on."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from reamer.core.answer.look import Look
from reamer.core.model import Joined, Rope
from reamer.core.plan.limits import limits_m
from reamer.core.retrieval.capstan import Array, Piece, Rub, clipped_in, pieces, tensions, tensions_down
from reamer.core.rope.friction import face_friction, ring_friction, rock_friction
from reamer.core.rope.stops import on_ridden_side
from reamer.core.rope.strands import CONVERTED, UNDONE, Strand, pulled_strand
from reamer.core.rope.weight import mass_kg_m
from reamer.core.section.lines import Lines
from reamer.core.section.polyline import Line, Point
from reamer.core.tables import ENDS, Row


@dataclass(frozen=True, slots=True)
class Sides:
    """The two sides of a pull: which rope comes up and which is pulled, their ways from the ring, friction low and
    high, the rope on the side that comes up [m], and the ring's friction at its high end."""

    up: Strand
    down: Strand
    ride: tuple[Piece, ...]
    pull: tuple[Piece, ...]
    up_points: tuple[Point, ...]
    points: tuple[Point, ...]
    low: Rub
    high: Rub
    rope_m: float
    ring: Row


# What a piece may lie on other than the drop's own rock.
FACES = ("pad", "smooth", "coarse")
# What has a shortfall of its own and needs no force.
JAMS = "the join is drawn into the ring"
BLOCKED = "the block lies on the ride strand and stops the pull"


def _nothing(look: Look, hanging: list[Strand]) -> str:
    """Why nothing is pulled at a station, "" if something is."""
    system = look.system
    if system.kind in CONVERTED:
        return "nothing is pulled before it is converted for the last person"
    if system.kind in UNDONE:
        return "it is undone from below, and what that takes is not worked out"
    if isinstance(system, Joined) and system.pulled == "through":
        return JAMS
    if on_ridden_side(system):
        return BLOCKED
    if len(hanging) != 2:
        return "no rope system is chosen" if system.kind == "none" else "a strand of the system is not there"
    return ""


def _left_in(look: Look, line: Line) -> tuple[tuple[float, float], ...] | str:
    """Deviations that stay in: how far down each is [m], by how much it turns the rope [rad]; or what is unknown."""
    clips = []
    for d in look.station.deviations:
        if not d.left_in:
            continue
        if d.below_m.kind == "unknown" or d.turn_deg.kind == "unknown":
            return "where a deviation that stays in is, or how much it turns the rope, is unknown"
        clips.append((d.below_m.value, math.radians(d.turn_deg.value), d.name))
    past = next((name for below, _, name in clips if below >= sum(line.pieces_m)), "")
    if past:
        return f"{past}, which stays in, lies past the end of the line"
    return tuple((below, turn) for below, turn, _ in clips)


def sides(look: Look, hanging: list[Strand], nominal: Lines) -> Sides | str:
    """What a pull is worked out from.

    look: the station; hanging: its strands; nominal: the nominal lines
    returns: the sides, or what is not known
    Source: see the functions it calls.
    """
    why, down, aside = _nothing(look, hanging), pulled_strand(look.system, hanging), look.drop.landing.aside_m
    if why:
        return why
    up = next((s for s in hanging if s is not down), None)
    if up is None or down is None:
        return "which strand is pulled is not known"
    ring = ring_friction(look, *up.ropes)
    if isinstance(ring, str):
        return ring
    blank = next((r for r in (*up.ropes, *down.ropes) if mass_kg_m(r, look.kit_wet) is None), None)
    rises, falls = mass_kg_m(heavy(up, look.kit_wet), look.kit_wet), mass_kg_m(heavy(down, look.kit_wet), look.kit_wet)
    if blank is not None or rises is None or falls is None:
        name = blank.name if blank is not None else up.rope.name
        return f"the mass of {name} is unknown: enter its label's figure or its diameter"
    if up.high is None:
        return up.why
    if aside.kind == "unknown":
        return "how far the landing lies off to the side is unknown"
    taut, ground = nominal.taut, nominal.terrain
    clips = _left_in(look, taut)
    if isinstance(clips, str):
        return clips
    on = (ground.pads if any(ground.pads) else (), ground.faces if any(ground.faces) else ())
    ride, up_points = clipped_in(pieces(taut.points, ground.points, 0.0, *on), taut.points, clips)
    to_hand = taut.points
    if taut.recess_m > 0:
        # Where the landing lies back under the last lip, the hand is at the landing, not under the lip.
        to_hand = (*taut.points[:-1], ground.points[-1])
    pull, points = clipped_in(pieces(to_hand, ground.points, limits_m(aside)[1], *on), to_hand, clips)
    low, high = (
        _rub(look, (up.ropes, down.ropes), i, (ring[i].at(end), math.pi, rises[i], falls[i], True), any(map(any, on)))
        for i, end in enumerate(ENDS)
    )
    return Sides(up, down, ride, pull, up_points, points, low, high, up.high.value, ring[1])


def heavy(s: Strand, wet: str) -> Rope:
    """The rope of a strand of which a metre weighs most: all of the strand is counted as if it were of that.

    s: the strand; wet: yes, no or unknown
    returns: the rope, its first where a mass is unknown
    Source: J, our judgement.
    """
    if not s.joints:
        return s.rope
    return max(s.ropes, key=lambda r: (mass_kg_m(r, wet) or (0.0, 0.0))[1])


def _rub(
    look: Look,
    ropes: tuple[tuple[Rope, ...], tuple[Rope, ...]],
    i: int,
    rest: tuple[float, float, float, float, bool],
    faces: bool,
) -> Rub:
    """What both sides rub on at one end of friction: what comes up follows what is pulled over its edges."""
    up, down = ropes
    both = up if {r.fibre for r in up} == {r.fibre for r in down} else (*up, *down)

    def mu(*over: Rope) -> tuple[float, float, float, float]:
        # Only where somebody has said of a face, or laid a pad, is it asked what it is.
        pad, smooth, coarse = (face_friction(f, *over)[i].at(ENDS[i]) if faces else 0.0 for f in FACES)
        return rock_friction(look.drop, *over)[i].at(ENDS[i]), pad, smooth, coarse

    over, under = mu(*up), mu(*both)
    below = None if over == under else Rub(under[0], *rest, *under[1:])
    return Rub(over[0], *rest, *over[1:], below)


def all_at_hand(s: Sides, rub: Rub, drawn: Array) -> tuple[Array, Array, Array]:
    """Tensions on both sides and the force at the hand, for each length drawn.

    s: the sides; rub: friction and weights; drawn: lengths [m]
    returns: tensions on the side that comes up, on the side that is pulled, and the force at the hand [N]
    Source: HB, capstan rule and statics.
    """
    up = tensions(s.ride, rub, np.minimum(s.rope_m - drawn, sum(p.length_m for p in s.ride)))
    down = tensions_down(s.pull, rub, up[:, 0, 0] * math.exp(rub.ring * rub.wrap_rad), drawn)
    return up, down, down[:, -1, 1]
