"""Getting the rope down: which strand to pull, what must be undone first, what may catch."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.context import Context
from reamer.core.findings import Edit, Findings, Fix
from reamer.core.model import Drop, Rope, State, Station, System
from reamer.core.pull import Pull, pulled_strand
from reamer.core.reach import DOWN, runs_over
from reamer.core.say import Number, Sentence
from reamer.core.section import LEAST_TURN_RAD, Lines
from reamer.core.systems import CONVERTED, Strand
from reamer.core.tables import row
from reamer.core.working import Book, Term, computed, from_row

FACING = {"left": ", on the left as you face the rock", "right": ", on the right as you face the rock",
          "against the rock": ", the one against the rock", "outside": ", the outer one", "unknown": ""}
OPPOSITE = {"left": "right", "right": "left", "against the rock": "outside", "outside": "against the rock", "unknown": "unknown"}
# The places a strand can have where the strands hang so.
PLACES = {"side by side": ("left", "right"), "one behind": ("against the rock", "outside"), "unknown": ()}


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


@dataclass(frozen=True, slots=True)
class Retrieval:
    """The side to pull, what to do before, in order, and what may catch on the way."""

    side: Side
    before: tuple[Sentence, ...]
    snags: tuple[Sentence, ...]


def _named(rope: Rope, end: str, hanging: list[Strand], system: System) -> str:
    """The pulled strand by its rope, its end where both are of one rope, and by what tells it from the other."""
    others = [s.rope for s in hanging if s.rope.id != rope.id]
    if not others:
        return f"end {end.upper()}"
    a, b = rope.diameter_mm, others[0].diameter_mm
    if system.kind == "joined" and a.kind == b.kind == "known" and a.value != b.value:
        return f"{rope.name}, the {'thinner' if a.value < b.value else 'thicker'}"
    return rope.name


def _why(system: System) -> tuple[Sentence, ...]:
    return {
        "doubled": (Sentence("Nothing holds one side of a doubled rope: either end may be pulled."),),
        "joined": (Sentence("The join must move away from the ring: the side it lies on is pulled."),),
        "blocked, same rope": (Sentence("The block holds the ridden strand only: the side it lies on is pulled."),),
        "blocked, pull cord": (Sentence("The block holds the ridden strand only, and the cord cannot hold a person: the cord is pulled."),),
        "alternating bights": (Sentence("The last bight is undone first, from the strand it is made of; then the strands in turn."),),
    }.get(system.kind, ())


def side_of(ctx: Context, drop: Drop, state: State, hanging: list[Strand], at: tuple[str | int, ...]) -> Side:
    """Which strand to pull.

    ctx: the plan's context; drop, state: where and how it is rigged; hanging: its strands; at: path of the state, for edits
    returns: the side, in words
    Source: P, common practice, no source; the strand against the rock P, from memory.
    """
    system, station = state.system, drop.station
    down = pulled_strand(system, hanging)
    if down is None:
        return Side("", Sentence("Nothing is pulled."), (), (), Sentence("Nothing is pulled."))
    lies = state.pulled_lies if state.pulled_lies in PLACES[station.strands_hang] else "unknown"
    on = ", the side the join is on" if system.kind == "joined" and system.pulled == "other" else ", though the join is on the other side" if system.kind == "joined" else ""
    said = Sentence("Pull {what}{lies}{on}.", {}, {"what": _named(down.rope, down.end, hanging, system), "lies": FACING[lies], "on": on})
    flip, refused = _flip(system, ctx, station, lies, at)
    reasons = list(_why(system))
    if lies == "against the rock":
        reasons.append(Sentence("It lies against the rock: the moving strand is not pinned by the other."))
    elif lies == "outside":
        reasons.append(Sentence("It lies outside the other, which is pressed between it and the rock."))
    return Side(f"{down.rope.id}-{down.end}", said, tuple(reasons), flip, refused)


def _flip(system: System, ctx: Context, station: Station, lies: str, at: tuple) -> tuple[tuple[Edit, ...], Sentence | None]:
    """Edits that pull the other side, or why not."""
    if system.kind == "doubled":
        if lies == "against the rock":
            return (), Sentence("The other strand lies outside this one: pulled, it would be pinned against the rock.")
        return (Edit((*at, "system", "pulled_end"), "a" if system.pulled_end == "b" else "b"), Edit((*at, "pulled_lies"), OPPOSITE[lies])), None
    if system.kind == "joined":
        through, other = ctx.ropes[system.through], ctx.ropes[system.other]
        if system.pulled == "through":
            return (Edit((*at, "system", "pulled"), "other"), Edit((*at, "pulled_lies"), OPPOSITE[lies])), None
        if through.diameter_mm.kind == "unknown" or other.diameter_mm.kind == "unknown":
            return (), Sentence("Which rope is the thicker is unknown, and the thicker goes through the ring.")
        if other.diameter_mm.value < through.diameter_mm.value:
            return (), Sentence("It would put the thinner rope, {rope}, through the ring.", {}, {"rope": other.name})
        return tuple(Edit((*at, "system", a), getattr(system, b)) for a, b in (
            ("through", "other"), ("other", "through"), ("through_end", "other_end"), ("other_end", "through_end"))), None
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

    kind = system.kind
    if kind == "doubled":
        return Sentence("Ride both strands of {rope}.", {}, {"rope": name(system.rope)})
    if kind == "joined":
        return Sentence("Ride both strands.")
    if kind == "blocked, same rope" or kind == "alternating bights":
        return Sentence("Ride end {end} of {rope} alone.", {}, {"rope": name(system.rope), "end": system.ridden_end.upper()})
    if kind in ("blocked, pull cord", "elastic-release device", "releasable"):
        return Sentence("Ride {rope} alone.", {}, {"rope": name(system.rope)})
    if kind == "lowered":
        return Sentence("Lower each on {rope}, the belayer {where}.", {}, {"rope": name(system.rope), "where": "at the anchor" if system.belayer == "above" else "at the landing"})
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


def retrieval(ctx: Context, index: int, drop: Drop, which: int, hanging: list[Strand], pull: Pull, nominal: Lines | None) -> Retrieval:
    """Everything about getting one station's rope down but the force.

    ctx: the plan's context; index: the drop's place, from 0; drop: the drop; which: of its states, from 0; hanging: its strands
    pull: as computed; nominal: its lines
    returns: the side, what comes before, what may catch
    Source: P, common practice, no source.
    """
    state = drop.station.states[which]
    at = ("drops", index, "station", "states", which)
    side = side_of(ctx, drop, state, hanging, at)
    return Retrieval(side, tuple(_before(drop, state, hanging, side, pull)), tuple(_snags(drop, state, hanging, nominal)))


def _before(drop: Drop, state: State, hanging: list[Strand], side: Side, pull: Pull) -> list[Sentence]:
    system, made = state.system, []
    if system.kind == "none":
        return made
    if system.kind in CONVERTED:
        return [Sentence("Convert it for the last person: block or double the rope, and load it before the tie-off is undone." if system.kind == "releasable" else
                         "Convert it for the last person: block or double the rope and load it before the belay is taken off.")]
    if system.kind == "alternating bights" and system.clipped:
        made.append(Sentence("The last person takes the carabiner off the last bight, and then has no redundancy."))
    for d in drop.station.deviations:
        if not d.left_in:
            made.append(Sentence("The last person takes {name} out; the line changes as they do.", {}, {"name": d.name}))
    for s in hanging:
        if s.knotted and f"{s.rope.id}-{s.end}" != side.strand:
            made.append(Sentence("Take the stopper out of end {end} of {rope} once it is seen at {down}: it goes up through the {over}.", {}, {"rope": s.rope.name, "end": s.end.upper(), "over": runs_over(state), "down": DOWN[drop.landing.kind]}))
    if len(hanging) == 2:
        made.append(Sentence("Part the strands at the bottom and look up for twists."))
    if system.kind == "elastic-release device":
        made.append(Sentence("Try from below that it lets go a little, with somebody still at the top. On the way down nobody may unload it fully and again."))
    else:
        made.append(Sentence("Pull a metre from below and let it back, with somebody still at the top."))
    falls = {"falls": pull.falls} if pull.falls else {}
    made.append(Sentence("Hold the rope or clip it before it falls, and stand clear" + (": {falls} of it comes down to the foot of the drop." if falls else "."), falls))
    return made


def _snags(drop: Drop, state: State, hanging: list[Strand], nominal: Lines | None) -> list[Sentence]:
    system, made = state.system, []
    if system.kind == "none" or nominal is None:
        return made
    bent = [c for c in nominal.taut.contacts if c.turn_rad > LEAST_TURN_RAD]
    rough = [c for c in bent if nominal.terrain.edges[c.index] in ("coarse", "sharp")]
    edges = Number(len(bent), "count")
    passed = "each of {n} edges" if len(bent) != 1 else "the edge"
    if system.kind in ("joined", "blocked, pull cord") and bent:
        bend = "Its tails stand opposite: it catches where a flat join would tip over." if system.knot == "opposed overhand" else "A flat join tips over an edge best; keep it dressed and its tails together."
        made.append(Sentence(f"The join passes {passed} on the side that is pulled. {bend}", {"n": edges}))
    if system.kind == "blocked, same rope" and bent:
        made.append(Sentence("The block" + (" and its carabiner pass" if system.carabiner else " passes") + f" {passed} on the side that is pulled.", {"n": edges}))
    if system.kind == "elastic-release device":
        made.append(Sentence("The device falls with the rope's end and catches on edges and cracks."))
    if system.kind == "alternating bights":
        made.append(Sentence("A bight that falls open may catch."))
    if rough:
        made.append(Sentence("The rope runs over {n} coarse or sharp edges." if len(rough) != 1 else "The rope runs over a coarse or sharp edge.", {"n": Number(len(rough), "count")}))
    if drop.cracks == "yes":
        made.append(Sentence("Cracks or flakes under the line: the end that comes down may swing into them."))
    if drop.station.strands_hang == "one behind" and state.pulled_lies == "outside":
        made.append(Sentence("The strand that is pulled presses the other against the rock."))
    if nominal.taut.recess_m > 0:
        made.append(Sentence("Pulled from back under the lip, the rope turns more at it."))
    return made


def retrieval_findings(ctx: Context, index: int, drop: Drop, which: int, hanging: list[Strand], pull: Pull, found: Findings, pulled: Findings, book: Book) -> None:
    """What is to be said of the side that is pulled, the join under the pull, and what may catch.

    ctx, index, drop, which: as for ``retrieval``; hanging: its strands; pull: as computed; found, book: where findings and workings go
    pulled: where those go that are about the pull alone
    returns: nothing
    Source: P, common practice, no source; pull tests P.
    """
    state = drop.station.states[which]
    system, at = state.system, ("drops", index, "station", "states", which)
    down = pulled_strand(system, hanging)
    if system.kind == "joined" and system.pulled == "through" and hanging:
        pulled.add("pull.join-side", "Shortfall", "pull", "Pulled from the wrong side: the join is drawn into the ring",
                  "{through} runs through the ring and the join lies on the other side. Pulled there, the join comes up against the ring and stops or jams.",
                  words={"through": ctx.ropes[system.through].name},
                  fix=Fix(Sentence("Pull {rope}", {}, {"rope": ctx.ropes[system.other].name}), (Edit((*at, "system", "pulled"), "other"),)))
    if getattr(system, "block_on", "pull") == "ride" and hanging:
        found.add("block.side", "Shortfall", "block", "The block lies on the ridden side of the ring",
                  "There it stops the pull and not the rider, whose weight draws the rope through.",
                  fix=Fix(Sentence("Put the block on the side that is pulled"), (Edit((*at, "system", "block_on"), "pull"),)))
    if down is not None and len(hanging) == 2:
        _hang(drop.station, state, system, ctx, pulled, at)
        _next(ctx, index, down, bool(side_of(ctx, drop, state, hanging, at).flip), pulled)
    if system.kind not in ("none", *CONVERTED):
        if drop.cracks == "yes":
            pulled.add("pull.cracks", "Caution", "pull", "Cracks or flakes under the line may catch the rope", "Keep the ends and the join out of them; pull away from the wall.")
        elif drop.cracks == "unknown":
            pulled.add("pull.cracks", "Not checked", "pull", "Nobody has said whether cracks or flakes lie under the line", "What may catch the rope there is not checked.")
    if system.kind == "blocked, pull cord" and pull.worst is not None:
        _join_under_pull(system, hanging, pull, pulled, book)


def _hang(station: Station, state: State, system: System, ctx: Context, found: Findings, at: tuple) -> None:
    """Two strands on rock: the moving one lies against it, so that the other does not pin it. Source: P, from memory."""
    if station.strands_hang == "unknown":
        found.add("pull.side", "Not checked", "pull", "How the strands hang below the ring is unknown",
                  "Side by side, or one between the other and the rock: until somebody has looked it is not checked whether the strand that is pulled is pinned.")
    elif station.strands_hang == "one behind" and state.pulled_lies not in PLACES["one behind"]:
        found.add("pull.side", "Not checked", "pull", "Which strand lies against the rock is unknown",
                  "One strand hangs behind the other. The one that is pulled belongs against the rock; thread it so, and say so here.")
    elif station.strands_hang == "one behind" and state.pulled_lies == "outside":
        edits, label = (Edit((*at, "pulled_lies"), "against the rock"),), "Thread it so that the pulled strand lies against the rock"
        if system.kind == "doubled":
            edits, label = (Edit((*at, "system", "pulled_end"), "a" if system.pulled_end == "b" else "b"), *edits), "Pull the other end"
        found.add("pull.side", "Caution", "pull", "The strand that is pulled lies outside the other",
                  "It presses the other against the rock and is held by it. The strand against the rock is the one to pull.", fix=Fix(Sentence(label), edits))


def _next(ctx: Context, index: int, down: Strand, flips: bool, found: Findings) -> None:
    """Whether the end that is pulled is the one the next station threads."""
    if index + 1 >= len(ctx.plan.drops):
        return
    after = ctx.plan.drops[index + 1].station.states[0].system
    if after.kind != "joined" or {after.through, after.other} != {s for s in (after.through, after.other) if s in ctx.ropes} or down.rope.id != after.other:
        return
    a, b = ctx.ropes[after.through].diameter_mm, ctx.ropes[after.other].diameter_mm
    thick = a.kind == b.kind == "known" and a.value > b.value
    found.add("pull.next", "Note", "pull", "{rope} comes down first, but the next station threads {next}",
              ("It is the thicker, which goes through the ring: " if thick else "") + "thread {next} there once it is down" + (", or pull the other side here." if flips else "."),
              words={"rope": down.rope.name, "next": ctx.ropes[after.through].name}, once=True)


def _join_under_pull(system: System, hanging: list[Strand], pull: Pull, found: Findings, book: Book) -> None:
    """A join slips at so much; the pull is less, or it comes apart on the way."""
    own = system.slips_kn
    slippery = any(s.rope.fibre == "HMPE" or (s.rope.fibre == "unknown" and not s.rope.kind.startswith("dynamic")) for s in hanging)
    seen = row("pull_tests", "HMPE overhand" if slippery else "flat eight" if system.knot == "flat figure eight" else "flat overhand cord")
    if own.kind == "range":
        term = Term("S", "the join slips at, low end", own.low_kn, "force", own.source)
    elif system.knot == "opposed overhand":
        if slippery:
            found.add("join.unchecked", "Not checked", "join", "Whether the join of the pull cord slips is not checked", "The tables have no test of this bend in HMPE, and cord of unknown fibre may be HMPE. Test yours and enter it.")
        return
    else:
        term = from_row("S", seen, seen.low, "force")
    times = book.number("join.pull", "low end of the join's slip over the worst pull", "S*1000/max(1, F)", [term, computed("F", "worst pull", pull.worst)],
                        term.value * 1000 / max(1.0, pull.worst.value), "ratio", "down")
    if times.value < 1:
        found.add("join.pull", "Shortfall", "join", "The join slips at {slips}, less than the pull of {force}",
                  "It would come apart with the rope half down. Tie one that holds, or make the pull easier.", working=times.working,
                  numbers={"slips": Number(term.value, "force", "down"), "force": pull.worst})


