"""The start of a pull step by step, each with its working."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.answer.look import Look
from reamer.core.answer.say import Number
from reamer.core.answer.typed import of_section, typed
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.model import Rope, sure
from reamer.core.retrieval.capstan import Piece, hung
from reamer.core.retrieval.sides import Sides, heavy
from reamer.core.rope.friction import face_friction, rock_friction
from reamer.core.rope.weight import ABSORBS
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class Step:
    """One place on the way of the pull and the tension on either side of it, at the high end of friction, at the
    start."""

    name: str
    x_m: float
    z_m: float
    before: Number
    after: Number


def steps_of(look: Look, s: Sides) -> tuple[tuple[Step, ...], Number]:
    """The start of the pull step by step, each with its working, at the high end of friction.

    look: the station; s: the sides of the pull
    returns: the steps, and the force at the hand [N]
    Source: HB, capstan rule and statics.
    """
    coming, below = _coming_up(look, s)
    rub = s.high
    terms = [
        computed("T", "tension below the ring", below),
        from_row("mu", s.ring, rub.ring, "share"),
        Term("theta", "wrap of the ring", rub.wrap_rad, "angle", "HB: both strands hang down"),
    ]
    value = below.value * math.exp(rub.ring * rub.wrap_rad)
    over = look.book.number("pull.over", "tension past the ring", "T*exp(mu*theta)", terms, value, "pull", "up")
    ring = Step(_runs_over(look), *s.points[0], below, over)
    going, hand = _going_down(look, s, over)
    return (*coming, ring, *going), hand


def _rubs(look: Look, piece: Piece, ropes: tuple[Rope, ...], low: bool) -> Term:
    """The friction at a piece's lower end, or of the rock it lies on."""
    own = "pad" if low and piece.padded else "" if low else piece.face
    rows = face_friction(own, *ropes) if own else rock_friction(look.drop, *ropes)
    return from_row("mu" if low else "muf", rows[1], rows[1].high, "share")


def _clip(piece: Piece, s: Sides) -> list[Term]:
    """The turn at a deviation left in, where there is one."""
    if not piece.clip_rad:
        return []
    delta = Term(
        "delta", "turn at the deviation left in", piece.clip_rad, "angle", "entered", typed=("{station}/deviations",)
    )
    return [from_row("mur", s.ring, s.high.ring, "share"), delta]


def _lie(piece: Piece) -> list[Term]:
    """How a piece falls and lies."""
    return [of_section("z", "fall of the piece", piece.fall_m), of_section("x", "level length on rock", piece.rock_m)]


def _coming_up(look: Look, s: Sides) -> tuple[list[Step], Number]:
    """The side that comes up, from its lower end, and the tension below the ring."""
    g, rub, way, rope = row("loads", "g"), s.high, hung(s.ride, s.rope_m), s.up.ropes
    heaviest = heavy(s.up, look.kit_wet)
    mass, made, number = _mass("up", heaviest, look.kit_wet, rub.ride_kg_m, look.book), [], Number(0.0, "pull")
    own = [computed("l", f"mass of {heaviest.name}, high end", mass), from_row("g", g, g.low, "share")]
    for i in range(len(way) - 1, -1, -1):
        piece, before, last = way[i], number, i == len(way) - 1
        terms = [*own, *_lie(piece), _rubs(look, piece, rope, False)]
        grown, formula = 0.0, "max(0, l*g*(z + muf*x))"
        if not last:
            turn = of_section("theta", "turn at the edge below", piece.turn_rad, "angle")
            terms += [computed("T", "tension below", before), turn, _rubs(look, piece, rope, True), *_clip(piece, s)]
            more = " + mur*delta" if piece.clip_rad else ""
            grown, formula = before.value * rub.turned(piece), f"max(0, T*exp(mu*theta{more}) + l*g*(z + muf*x))"
        value = max(0.0, grown + rub.ride_kg_m * g.low * (piece.fall_m + rub.on(piece) * piece.rock_m))
        key, name = f"pull.up.{len(way) - i}", f"tension at the top of piece {i + 1}, coming up"
        number = look.book.number(key, name, formula, terms, value, "pull", "up")
        if not last:
            name = "deviation, coming up" if piece.clip_rad else "edge, coming up"
            made.append(Step(name, *s.up_points[i + 1], before, Number(grown, "pull", "up")))
    return made, number


def _going_down(look: Look, s: Sides, over: Number) -> tuple[list[Step], Number]:
    """The side that is pulled, from the ring down, and the force at the hand."""
    g, rub, number, heaviest = row("loads", "g"), s.high.pulled(), over, heavy(s.down, look.kit_wet)
    ropes = (*s.up.ropes, *s.down.ropes)
    mass, made = _mass("down", heaviest, look.kit_wet, s.high.pull_kg_m, look.book), []
    own = [computed("l", f"mass of {heaviest.name}, high end", mass), from_row("g", g, g.low, "share")]
    for i, piece in enumerate(s.pull):
        before, last = number, i == len(s.pull) - 1
        terms = [computed("T", "tension above", before), *own, *_lie(piece), _rubs(look, piece, ropes, False)]
        bare = max(0.0, before.value - rub.pull_kg_m * g.low * (piece.fall_m - rub.on(piece) * piece.rock_m))
        value, formula = bare, "max(0, T - l*g*z + muf*l*g*x)"
        if not last:
            turn = of_section("theta", "turn at the edge", piece.turn_rad, "angle")
            terms += [turn, _rubs(look, piece, ropes, True), *_clip(piece, s)]
            more = " + mur*delta" if piece.clip_rad else ""
            value, formula = bare * rub.turned(piece), f"({formula})*exp(mu*theta{more})"
        name = "force at the hand" if last else f"tension past piece {i + 1}, going down"
        number = look.book.number(f"pull.down.{i + 1}", name, formula, terms, value, "pull", "up")
        if not last:
            name = "deviation, going down" if piece.clip_rad else "edge, going down"
            made.append(Step(name, *s.points[i + 1], Number(bare, "pull", "up"), number))
    return made, number


def _runs_over(look: Look) -> str:
    """What the rope runs over, in a word: its ring, or what stands in its place."""
    rig = look.rig
    if rig.kind != "direct" or rig.ring is not None:
        return "ring"
    over = look.feature(rig.anchor)
    if over is None or over.kind != "post":
        return "textile"
    return "tree" if over.surface == "bark" else "rock it runs round"


def _mass(key: str, rope: Rope, wet: str, value: float, book: Book) -> Number:
    """A rope's mass per metre at the high end, with its working."""
    factor, rule, name = row("ropes", "mass.wet"), row("ropes", "mass.rule"), f"mass of {rope.name}, high end"
    if rope.mass_kg_m.kind == "known":
        terms, formula = (
            [
                Term(
                    "l",
                    f"mass of {rope.name} on its label",
                    rope.mass_kg_m.value,
                    "line mass",
                    "label",
                    typed=typed(rope, "mass_kg_m"),
                )
            ],
            "l",
        )
    else:
        d = Term(
            "d",
            f"diameter of {rope.name}",
            sure(rope.diameter_mm).value,
            "diameter",
            "entered",
            typed=typed(rope, "diameter_mm"),
        )
        terms, formula = [from_row("r", rule, rule.low, "ratio"), d], "r*d**2"
    if wet != "no" and rope.fibre in ABSORBS:
        terms.append(from_row("f", factor, factor.high, "ratio"))
        formula += "*f"
    return book.number(f"pull.mass.{key}", name, formula, terms, value, "line mass", "up")
