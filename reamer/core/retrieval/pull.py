"""Will it pull: the force at the hand through the whole pull, where it comes from, and what would help."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from reamer.core.answer.findings import Fix, Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.model import Direct, Wrap, decided
from reamer.core.retrieval.capstan import Array, Rub, at_hand_n
from reamer.core.retrieval.sides import BLOCKED, JAMS, Sides, all_at_hand, heavy, sides
from reamer.core.retrieval.steps import Step, steps_of
from reamer.core.rope.strands import CONVERTED, UNDONE, Strand
from reamer.core.rope.weight import mass_kg_m
from reamer.core.section.lines import Lines, lines
from reamer.core.tables import row

SAMPLES = 16


@dataclass(frozen=True, slots=True)
class Pull:
    """Whether the rope comes down: force at the hand at the start, low to high, the worst of the whole pull and where
    it is.

    dry: at the start with both ropes dry, most friction, None where they take up no water; band: easy, firm, hard or
    stuck, by the worst; runs_at: metres pulled after which it runs by itself, None if it never does
    falls: rope that comes down in the end; moved: force with the ring over the edge, None if it is there already;
    moved_gain: how much further the tie then reaches; bands: upper limits of easy, firm and hard [N]
    """

    pulled: str
    low: Number | None
    high: Number | None
    worst: Number | None
    worst_at: Number | None
    band: str
    steps: tuple[Step, ...]
    runs_at: Number | None
    falls: Number | None
    moved: Number | None
    moved_gain: Number | None
    why: str
    bands: tuple[Number, ...] = ()
    dry: Number | None = None


def band(force_n: float) -> str:
    """How hard a pull is.

    force_n: at the hand [N]
    returns: easy, firm, hard or stuck
    Source: J, table of loads.

    >>> band(99), band(100), band(400), band(401)
    ('easy', 'firm', 'hard', 'stuck')
    """
    easy, firm, hard = (row("loads", f"pull.{k}").low for k in ("easy", "firm", "hard"))
    return "easy" if force_n < easy else "firm" if force_n < firm else "hard" if force_n <= hard else "stuck"


@dataclass(frozen=True, slots=True)
class Moved:
    """The lines with the ring just over the edge, and how much further the tie then reaches [m]; neither where there is
    no edge or the ring is past it."""

    lines: Lines | None = None
    further_m: float | None = None


def pull_of(look: Look, hanging: list[Strand], nominal: Lines | None, moved: Moved) -> Pull:
    """Whether the rope of one station comes down.

    look: the station; hanging: its strands; nominal: its lines, None if the section is not whole
    moved: with the ring over the edge
    returns: the pull [N, m]
    Source: HB, capstan rule and statics; bands J.
    """
    got = "the section is not whole" if nominal is None else sides(look, hanging, nominal)
    if isinstance(got, str):
        return Pull("", None, None, None, None, "", (), None, None, None, None, got)
    low = Number(at_hand_n(got.ride, got.pull, got.rope_m, 0.0, got.low)[0], "pull", "up")
    steps, high = steps_of(look, got)
    drawn: Array = np.linspace(0.0, got.rope_m, SAMPLES, endpoint=False)
    hand = all_at_hand(got, got.high, drawn)[2]
    most = int(hand.argmax())
    worst_n, worst_m = (float(hand[most]), float(drawn[most])) if hand[most] > high.value + 1e-9 else (high.value, 0.0)
    runs = _runs_at(got, drawn, hand) if look.book.keeps else None
    other = sides(look, hanging, moved.lines) if moved.lines is not None else ""
    there = None
    if not isinstance(other, str):
        there = Number(at_hand_n(other.ride, other.pull, got.rope_m, 0.0, other.high)[0], "pull", "up")
    further = moved.further_m if there and moved.further_m is not None else None
    return Pull(
        f"{got.down.rope.name} {got.down.end.upper()}",
        low,
        high,
        high if worst_m == 0 else Number(worst_n, "pull", "up"),
        Number(worst_m, "length", "near"),
        band(worst_n),
        steps,
        None if runs is None else Number(runs, "length", "up"),
        Number(got.rope_m + got.down.high.value, "length", "up") if got.down.high else None,
        there,
        None if further is None else Number(further, "fine length", "up"),
        "",
        tuple(Number(row("loads", f"pull.{k}").low, "pull") for k in ("easy", "firm", "hard")),
        _dry(got),
    )


def _runs_at(s: Sides, drawn: Array, hand: Array) -> float | None:
    """After how many metres it runs by itself: where the force at the hand comes down to nothing, found between two
    samples along the line through those before."""
    free = np.flatnonzero(hand[1:] <= 0)
    if not len(free):
        return None
    between: Array = np.linspace(float(drawn[free[0]]), float(drawn[free[0] + 1]), 65)
    at = all_at_hand(s, s.high, between)[2]
    first, step = int(np.flatnonzero(at[1:] <= 0)[0]), float(between[1] - between[0])
    falls = float(at[first - 1] - at[first]) if first else 0.0
    further = min(step, step * float(at[first]) / falls) if falls > 0 else step
    return float(between[first]) + further


def _dry(s: Sides) -> Number | None:
    """The start with dry ropes, where water makes a difference."""
    up, down = mass_kg_m(heavy(s.up, "no"), "no"), mass_kg_m(heavy(s.down, "no"), "no")
    if up is None or down is None or (up[0], down[0]) == (s.high.ride_kg_m, s.high.pull_kg_m):
        return None

    def dried(rub: Rub) -> Rub:
        return replace(rub, ride_kg_m=up[0], pull_kg_m=down[0])

    rub = replace(dried(s.high), below=dried(s.high.below) if s.high.below else None)
    return Number(at_hand_n(s.ride, s.pull, s.rope_m, 0.0, rub)[0], "pull", "up")


def pull_findings(look: Look, pull: Pull, coarse_edge: bool) -> Says[None]:
    """What is to be said of a pull.

    look: the station; pull: as computed; coarse_edge: whether the ring is left back from a coarse or sharp edge
    returns: nothing
    Source: J, table of loads; P for a ring left back from a coarse edge.
    """
    system = look.system
    if system.kind in CONVERTED:
        return
    if system.kind in UNDONE:
        title = "Whether it lets go from below is not checked"
        why = "No force is worked out for it: try it where you can still walk away."
        yield say("pull.undone", "Not checked", "pull", title, why)
        return
    if look.drop.landing.kind == "moving water":
        why = "What the water adds to the pull is not worked out. Keep both strands out of it."
        yield say("pull.current", "Not checked", "pull", "Rope in a current is not checked", why)
    if pull.why in (JAMS, BLOCKED):
        return
    if pull.worst is None:
        title, why = "Whether the rope will pull is not known", "Not checked: {why}."
        yield say("pull.unknown", "Not checked", "pull", title, why, why=pull.why)
    elif pull.band in ("hard", "stuck"):
        yield from _hard(look, pull, pull.worst, coarse_edge)


def _hard(look: Look, pull: Pull, worst: Number, coarse_edge: bool) -> Says[None]:
    """A pull that is hard or expected to stick, and whether the ring over the edge would make it easier."""
    moved, better = pull.moved, None
    if moved and moved.value < worst.value and band(moved.value) in ("easy", "firm"):
        better = moved
    why = "The ring is left back from a coarse edge. " if coarse_edge else ""
    why += "At the least friction it takes {low}."
    why += " With the ring over the edge it takes {better}." if better else ""
    why += "" if better else " Another system, or another anchor, turns it less."
    stuck = pull.band == "stuck"
    yield say(
        "pull.hard",
        "Shortfall" if stuck or coarse_edge else "Caution",
        "pull",
        "Expect the rope to stick: {force} at the hand" if stuck else "A hard pull: {force} at the hand",
        why,
        force=worst,
        low=pull.low,
        better=better,
        working=worst,
        fix=_over_edge_fix(look, pull) if better else None,
    )


def _over_edge_fix(look: Look, pull: Pull) -> Fix | None:
    """The ring let hang over the edge, where the tie can simply be made longer."""
    rig, further = look.rig, pull.moved_gain
    if not isinstance(rig, (Wrap, Direct)) or rig.gain_m.kind == "unknown" or further is None or rig.links:
        return None
    gain = rig.gain_m.value + further.value
    if gain > 60 or (isinstance(rig, Wrap) and rig.pattern == "re-threaded overhand"):
        return None
    edit = look.rig_as(Wrap).at(lambda r: r.gain_m).set(decided(gain))
    return Fix(Sentence("Let the ring hang over the edge"), (edit,))


def over_edge(nominal: Lines | None, edge_m: float | None, reach_m: float | None) -> Moved:
    """The lines with the ring just over the edge, if it is not there yet.

    nominal: the lines as rigged; edge_m: along the anchor's line to the edge [m]; reach_m: of the tie now [m]
    returns: the lines and the further reach
    Source: none, geometry; how far past the edge J.
    """
    if nominal is None or edge_m is None or reach_m is None or reach_m >= edge_m:
        return Moved()
    further = edge_m + row("loads", "courtesy.over").high
    moved = lines(nominal.terrain, further)
    return Moved() if moved is None else Moved(moved, further - reach_m)
