"""What may catch on the way of the pull."""

from __future__ import annotations

import math

from reamer.core.answer.findings import Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.model import BlockedCord, BlockedSame, Deviation, Joined, System
from reamer.core.plan.limits import limits_m
from reamer.core.rope.damage import lies_in
from reamer.core.rope.strands import Strand, pulled_strand
from reamer.core.section.lines import LEAST_TURN_RAD, Lines


def caught(look: Look, hanging: list[Strand]) -> Says[None]:
    """What must pass a deviation that stays in as the rope comes down: a join, a block, an elastic release, a
    knot that isolates damage.

    look: the station; hanging: its strands
    returns: nothing
    Source: P, common practice, no source: a knot or a carabiner does not run through a carabiner.
    """
    system, down = look.system, pulled_strand(look.system, hanging)
    for d in look.station.deviations:
        what = _must_pass(system, hanging, down, d) if d.left_in else ""
        if what:
            title = "{what} must pass {name}, which stays in"
            why = "It does not run through: the rope sticks there. Take the deviation out, or rig without a knot on the"
            key, name = f"deviation.{d.id}", d.name
            yield say("deviation.catches", "Shortfall", key, title, why + " way.", what=what.capitalize(), name=name)


def _must_pass(system: System, hanging: list[Strand], down: Strand | None, d: Deviation) -> str:
    """What must pass a deviation as the rope comes down, "" if nothing: what is at the ring, what lies in the strand
    that goes up, and what lies above the deviation in the strand that is pulled."""
    if system.kind == "elastic-release device" and hanging:
        return "the device"
    if down is None:
        return ""
    if system.kind in ("joined", "blocked, pull cord"):
        return "the join"
    if isinstance(system, BlockedSame):
        return "the block and its carabiner" if system.carabiner else "the block"
    at = limits_m(d.below_m)[1] if d.below_m.kind == "known" else math.inf
    lies = [x for s in hanging for x in lies_in(s) if s is not down or x.below.value <= at]
    if lies:
        return "the join" if lies[0].what == "join" else "the knot that isolates damage"
    # Where a strand's end or a damaged place is unknown, its knot may be on the way.
    knots = [(s, x) for s in hanging for r in s.ropes for x in r.damage if x.use == "knot passed"]
    unplaced = any(s.low is None or x.at_m.kind == "unknown" for s, x in knots)
    return "the knot that isolates damage" if unplaced else ""


def snags(look: Look, nominal: Lines | None) -> list[Sentence]:
    """What may catch as the rope comes down.

    look: the station; nominal: its lines
    returns: each thing in a sentence
    Source: P, common practice, no source.
    """
    system, made = look.system, []
    if system.kind == "none" or nominal is None:
        return []
    bent = [c for c in nominal.taut.contacts if c.turn_rad > LEAST_TURN_RAD]
    rough = sum(1 for c in bent if nominal.terrain.edges[c.index] in ("coarse", "sharp"))
    edges, passed = Number(len(bent), "count"), "each of {n} edges" if len(bent) != 1 else "the edge"
    if isinstance(system, (Joined, BlockedCord)) and bent:
        bend = "A flat join tips over an edge best; keep it dressed and its tails together."
        if system.knot == "opposed overhand":
            bend = "Its tails stand opposite: it catches where a flat join would tip over."
        made.append(Sentence(f"The join passes {passed} on the side that is pulled. {bend}", {"n": edges}))
    if isinstance(system, BlockedSame) and bent:
        what = "The block and its carabiner pass" if system.carabiner else "The block passes"
        made.append(Sentence(f"{what} {passed} on the side that is pulled.", {"n": edges}))
    if system.kind == "elastic-release device":
        made.append(Sentence("The device falls with the rope's end and catches on edges and cracks."))
    if system.kind == "alternating bights":
        made.append(Sentence("A bight that falls open may catch."))
    if rough:
        what = "{n} coarse or sharp edges" if rough != 1 else "a coarse or sharp edge"
        made.append(Sentence(f"The rope runs over {what}.", {"n": Number(rough, "count")}))
    if look.drop.cracks == "yes":
        made.append(Sentence("Cracks or flakes under the line: the end that comes down may swing into them."))
    if look.station.strands_hang == "one behind" and look.state.pulled_lies == "outside":
        made.append(Sentence("The strand that is pulled presses the other against the rock."))
    if nominal.taut.recess_m > 0:
        made.append(Sentence("Pulled from back under the lip, the rope turns more at it."))
    return made
