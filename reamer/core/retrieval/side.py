"""Which strand is pulled, in words, and whether the other could be."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.context import Context
from reamer.core.answer.look import Look
from reamer.core.answer.say import Sentence
from reamer.core.model import (
    Bights,
    BlockedCord,
    BlockedSame,
    Doubled,
    ElasticRelease,
    Joined,
    Lies,
    Lowered,
    NoSystem,
    Releasable,
    RopeEnd,
    System,
)
from reamer.core.plan.edits import Edit
from reamer.core.rope.strands import CONVERTED, Strand, pulled_strand

FACING: dict[Lies, str] = {
    "left": ", on the left as you face the rock",
    "right": ", on the right as you face the rock",
    "against the rock": ", the one against the rock",
    "outside": ", the outer one",
    "unknown": "",
}
OPPOSITE: dict[Lies, Lies] = {
    "left": "right",
    "right": "left",
    "against the rock": "outside",
    "outside": "against the rock",
    "unknown": "unknown",
}


# The places a strand can have where the strands hang so.
PLACES: dict[str, tuple[Lies, ...]] = {
    "side by side": ("left", "right"),
    "one behind": ("against the rock", "outside"),
    "unknown": (),
}


@dataclass(frozen=True, slots=True)
class Side:
    """Which strand is pulled, in words and with the reasons; the edits that pull the other, or why that is refused.

    strand: its key among the strands, "" where none is pulled; flip: edits, none where it is refused
    """

    strand: str
    said: Sentence
    reasons: tuple[Sentence, ...]
    flip: tuple[Edit, ...]
    refused: Sentence | None


def _named(down: Strand, hanging: list[Strand], system: System) -> str:
    """The pull strand by its rope, its end where both are of one rope, and by what tells it from the other."""
    rope, others = down.rope, [s.rope for s in hanging if s.rope.id != down.rope.id]
    if not others:
        return f"end {down.end.upper()}"
    a, b = rope.diameter_mm.known, others[0].diameter_mm.known
    if system.kind == "joined" and a is not None and b is not None and a != b:
        return f"{rope.name}, the {'thinner' if a < b else 'thicker'}"
    return rope.name


def _why(system: System) -> tuple[Sentence, ...]:
    """Why that side is pulled."""
    return {
        "doubled": (Sentence("Nothing holds one side of a doubled rope: either end may be pulled."),),
        "joined": (Sentence("The join must move away from the ring: the side it lies on is pulled."),),
        "blocked, same rope": (Sentence("The block holds the ride strand only: the side it lies on is pulled."),),
        "blocked, pull cord": (
            Sentence("The block holds the ride strand only, and the cord cannot hold a person: the cord is pulled."),
        ),
        "alternating bights": (
            Sentence("The last bight is undone first, from the strand it is made of; then the strands in turn."),
        ),
    }.get(system.kind, ())


def side_of(look: Look, hanging: list[Strand]) -> Side:
    """Which strand to pull.

    look: the station; hanging: its strands
    returns: the side, in words
    Source: P, common practice, no source; the strand against the rock P, from memory.
    """
    system, down, on = look.system, pulled_strand(look.system, hanging), ""
    if down is None:
        return Side("", Sentence("Nothing is pulled."), (), (), Sentence("Nothing is pulled."))
    lies: Lies = look.state.pulled_lies
    if lies not in PLACES[look.station.strands_hang]:
        lies = "unknown"
    if system.kind == "joined":
        on = ", the side the join is on" if system.pulled == "other" else ", though the join is on the other side"
    words = {"what": _named(down, hanging, system), "lies": FACING[lies], "on": on}
    flip, refused = _flip(look, lies)
    reasons = list(_why(system))
    if lies == "against the rock":
        reasons.append(Sentence("It lies against the rock: the moving strand is not pinned by the other."))
    elif lies == "outside":
        reasons.append(Sentence("It lies outside the other, which is pressed between it and the rock."))
    return Side(down.key, Sentence("Pull {what}{lies}{on}.", {}, words), tuple(reasons), flip, refused)


def _flip(look: Look, lies: Lies) -> tuple[tuple[Edit, ...], Sentence | None]:
    """Edits that pull the other side, or why not."""
    system, turned = look.system, look.place.at(lambda state: state.pulled_lies).set(OPPOSITE[lies])
    if isinstance(system, Doubled):
        if lies == "against the rock":
            return (), Sentence("The other strand lies outside this one: pulled, it would be pinned against the rock.")
        end: RopeEnd = "a" if system.pulled_end == "b" else "b"
        return (look.system_as(Doubled).at(lambda s: s.pulled_end).set(end), turned), None
    if isinstance(system, Joined):
        place, through, other = look.system_as(Joined), look.ctx.ropes[system.through], look.ctx.ropes[system.other]
        if system.pulled == "through":
            return (place.at(lambda s: s.pulled).set("other"), turned), None
        thick, thin = through.diameter_mm.known, other.diameter_mm.known
        if thick is None or thin is None:
            return (), Sentence("Which rope is the thicker is unknown, and the thicker goes through the ring.")
        if thin < thick:
            return (), Sentence("It would put the thinner rope, {rope}, through the ring.", {}, {"rope": other.name})
        return (
            place.at(lambda s: s.through).set(system.other),
            place.at(lambda s: s.other).set(system.through),
            place.at(lambda s: s.through_end).set(system.other_end),
            place.at(lambda s: s.other_end).set(system.through_end),
        ), None
    if system.kind == "blocked, pull cord":
        return (), Sentence("The other strand is the one ridden: the block stops it, and a cord cannot hold a person.")
    return (), Sentence("The other strand is the one ridden: nothing but re-rigging moves the block to its side.")


def ride_words(system: System, ctx: Context) -> Sentence:
    """What to ride, in a sentence of its own.

    system: as rigged; ctx: the plan's context
    returns: the sentence
    Source: none, text only.
    """

    def name(rope_id: str) -> str:
        return ctx.ropes[rope_id].name if rope_id in ctx.ropes else "a missing rope"

    match system:
        case Doubled():
            return Sentence("Ride both strands of {rope}.", {}, {"rope": name(system.rope)})
        case Joined():
            return Sentence("Ride both strands.")
        case BlockedSame() | BlockedCord() | Releasable() if system.tied_on is not None:
            words = {"rope": name(system.rope), "more": name(system.tied_on.rope)}
            return Sentence("Ride {rope} and {more} tied to it, past the join.", {}, words)
        case BlockedSame() | Bights():
            words = {"rope": name(system.rope), "end": system.ridden_end.upper()}
            return Sentence("Ride end {end} of {rope} alone.", {}, words)
        case BlockedCord() | ElasticRelease() | Releasable():
            return Sentence("Ride {rope} alone.", {}, {"rope": name(system.rope)})
        case Lowered():
            where = "at the anchor" if system.belayer == "above" else "at the landing"
            words = {"rope": name(system.rope), "where": where}
            return Sentence("Lower each on {rope}, the belayer {where}.", {}, words)
        case NoSystem():
            return Sentence("No rope system chosen yet.")


def answer(system: System, side: Side, ctx: Context) -> Sentence:
    """The one sentence a rider needs first: what to ride, what to pull.

    system: as rigged; side: to pull; ctx: the plan's context
    returns: the sentence
    Source: none, text only.
    """
    ride = ride_words(system, ctx)
    if system.kind in CONVERTED:
        return Sentence(f"{ride.template} Convert for the last person.", {}, ride.words)
    if system.kind == "elastic-release device":
        return Sentence(f"{ride.template} Load and unload it from below until it lets go.", {}, ride.words)
    if not side.strand:
        return ride
    more = " Then the strands in turn." if system.kind == "alternating bights" else ""
    return Sentence(f"{ride.template} {side.said.template}{more}", {}, {**ride.words, **side.said.words})
