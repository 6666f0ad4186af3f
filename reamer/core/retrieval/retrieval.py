"""Getting the rope down: which strand to pull, what must be undone first, what may catch."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.findings import Fix, Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.working import Term, computed, from_row
from reamer.core.model import BlockedCord, BlockedSame, Doubled, Joined, RopeEnd
from reamer.core.plan.edits import Edit
from reamer.core.reach.ends import DOWN, runs_over
from reamer.core.retrieval.pull import Pull
from reamer.core.retrieval.side import PLACES, Side, side_of
from reamer.core.retrieval.snags import snags
from reamer.core.rope.stops import on_ridden_side
from reamer.core.rope.strands import CONVERTED, UNDONE, Strand, pulled_strand
from reamer.core.section.lines import Lines
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class Retrieval:
    """The side to pull, what to do before, in order, and what may catch on the way."""

    side: Side
    before: tuple[Sentence, ...]
    snags: tuple[Sentence, ...]


def retrieval(look: Look, hanging: list[Strand], pull: Pull, nominal: Lines | None) -> Retrieval:
    """Everything about getting one station's rope down but the force.

    look: the station; hanging: its strands; pull: as computed; nominal: its lines
    returns: the side, what comes before, what may catch
    Source: P, common practice, no source.
    """
    side = side_of(look, hanging)
    return Retrieval(side, tuple(_before(look, hanging, side, pull)), tuple(snags(look, nominal)))


def _before(look: Look, hanging: list[Strand], side: Side, pull: Pull) -> list[Sentence]:
    """What is to be done before the pull, in order."""
    system, made = look.system, []
    if system.kind == "none":
        return []
    if system.kind in CONVERTED:
        off = (
            ", and load it before the tie-off is undone."
            if system.kind == "releasable"
            else (" and load it before the belay is taken off.")
        )
        return [Sentence(f"Convert it for the last person: block or double the rope{off}")]
    if system.kind == "alternating bights" and system.clipped:
        made.append(Sentence("The last person takes the carabiner off the last bight, and then has no redundancy."))
    for d in look.station.deviations:
        if not d.left_in:
            who = next((p.name for p in look.plan.party if p.id == d.by), "The last person")
            said = "{who} takes {name} out; the line changes as they do."
            made.append(Sentence(said, {}, {"who": who, "name": d.name}))
    for s in hanging:
        if s.knotted and s.key != side.strand:
            said = (
                "Take the stopper out of end {end} of {rope} once it is seen at {down}: it goes up through the {over}."
            )
            words = {"rope": s.foot.rope.name, "end": s.foot.end.upper()}
            words |= {"over": runs_over(look.state), "down": DOWN[look.drop.landing.kind]}
            made.append(Sentence(said, {}, words))
    if len(hanging) == 2:
        made.append(Sentence("Part the strands at the bottom and look up for twists."))
    if system.kind == "elastic-release device":
        made.append(Sentence("On the way down nobody unloads it fully and again. No test-pull: it would let go."))
    elif system.kind in UNDONE:
        made.append(Sentence("No test-pull: it would undo them."))
    else:
        made.append(Sentence("Pull a metre from below and let it back, with somebody still at the top."))
    falls = {"falls": pull.falls} if pull.falls else {}
    more = ": {falls} of it comes down to the foot of the drop." if falls else "."
    made.append(Sentence("Hold the rope or clip it before it falls, and stand clear" + more, falls))
    return made


def block_side(look: Look, hanging: list[Strand]) -> Says[None]:
    """Whether the block lies on the side of the ring from which it holds the rider.

    look: the station; hanging: its strands
    returns: nothing
    Source: P, common practice, no source.
    """
    if on_ridden_side(look.system) and hanging:
        title = "The block lies on the ride strand"
        why = "There it stops the pull and not the rider, whose weight draws the rope through."
        edit = look.system_as(BlockedSame).at(lambda s: s.block_on).set("pull")
        fix = Fix(Sentence("Put the block on the side that is pulled"), (edit,))
        yield say("block.side", "Shortfall", "block", title, why, fix=fix)


def retrieval_findings(look: Look, hanging: list[Strand], pull: Pull) -> Says[None]:
    """What is to be said of the side that is pulled, the join under the pull, and what may catch.

    look: the station; hanging: its strands; pull: as computed
    returns: nothing
    Source: P, common practice, no source; pull tests P.
    """
    system, down = look.system, pulled_strand(look.system, hanging)
    if system.kind == "joined" and system.pulled == "through" and hanging:
        title = "Pulled from the wrong side: the join is drawn into the ring"
        why = "{through} runs through the ring and the join lies on the other side. Pulled there, the join comes up"
        why += " against the ring and stops or jams."
        label = Sentence("Pull {rope}", {}, {"rope": look.ctx.ropes[system.other].name})
        fix = Fix(label, (look.system_as(Joined).at(lambda s: s.pulled).set("other"),))
        name = look.ctx.ropes[system.through].name
        yield say("pull.join-side", "Shortfall", "pull", title, why, through=name, fix=fix)
    if down is not None and len(hanging) == 2:
        yield from _hang(look)
    if system.kind not in ("none", *CONVERTED) and look.drop.cracks == "yes":
        title = "Cracks or flakes under the line may catch the rope"
        yield say(
            "pull.cracks", "Caution", "pull", title, "Keep the ends and the join out of them; pull away from the wall."
        )
    elif system.kind not in ("none", *CONVERTED) and look.drop.cracks == "unknown":
        title = "Nobody has said whether cracks or flakes lie under the line"
        yield say("pull.cracks", "Not checked", "pull", title, "What may catch the rope there is not checked.")
    if isinstance(system, BlockedCord) and pull.worst is not None:
        yield from _join_under_pull(look, system, hanging, pull.worst)


def _hang(look: Look) -> Says[None]:
    """Two strands on rock: the moving one lies against it, so that the other does not pin it. Source: P, from
    memory."""
    hang, lies, system = look.station.strands_hang, look.state.pulled_lies, look.system
    if hang == "unknown":
        title = "How the strands hang below the ring is unknown"
        why = "Side by side, or one between the other and the rock: until somebody has looked it is not checked whether"
        yield say("pull.side", "Not checked", "pull", title, why + " the strand that is pulled is pinned.")
    elif hang == "one behind" and lies not in PLACES["one behind"]:
        title = "Which strand lies against the rock is unknown"
        why = (
            "One strand hangs behind the other. The one that is pulled belongs against the rock; thread it so, and say"
        )
        yield say("pull.side", "Not checked", "pull", title, why + " so here.")
    elif hang == "one behind" and lies == "outside":
        edits: tuple[Edit, ...] = (look.place.at(lambda state: state.pulled_lies).set("against the rock"),)
        label = "Thread it so that the pull strand lies against the rock"
        if isinstance(system, Doubled):
            end: RopeEnd = "a" if system.pulled_end == "b" else "b"
            edits = (look.system_as(Doubled).at(lambda s: s.pulled_end).set(end), *edits)
            label = "Pull the other end"
        title = "The strand that is pulled lies outside the other"
        why = "It presses the other against the rock and is held by it. The strand against the rock is the one to pull."
        yield say("pull.side", "Caution", "pull", title, why, fix=Fix(Sentence(label), edits))


def _join_under_pull(look: Look, system: BlockedCord, hanging: list[Strand], worst: Number) -> Says[None]:
    """A join slips at so much; the pull is less, or it comes apart on the way."""
    own, eight = system.slips_kn, system.knot == "flat figure eight"
    slippery = any(
        s.rope.fibre == "HMPE" or (s.rope.fibre == "unknown" and not s.rope.kind.startswith("dynamic")) for s in hanging
    )
    if own.kind == "range":
        term = Term("S", "the join slips at, low end", own.low_kn, "force", own.source, typed=("{system}/slips_kn",))
    elif system.knot == "opposed overhand":
        if slippery:
            title = "Whether the join of the pull cord slips is not checked"
            why = "The tables have no test of this bend in HMPE, and cord of unknown fibre may be HMPE. Test yours and"
            yield say("join.unchecked", "Not checked", "join", title, why + " enter it.")
        return
    else:
        seen = row("pull_tests", "HMPE overhand" if slippery else "flat eight" if eight else "flat overhand cord")
        term = from_row("S", seen, seen.low, "force")
    name, value = "low end of the join's slip over the worst pull", term.value * 1000 / max(1.0, worst.value)
    terms = [term, computed("F", "worst pull", worst)]
    times = look.book.number("join.pull", name, "S*1000/max(1, F)", terms, value, "ratio", "down")
    if value < 1:
        yield say(
            "join.pull",
            "Shortfall",
            "join",
            "The join slips at {slips}, less than the pull of {force}",
            "It would come apart with the rope half down. Tie one that holds, or make the pull easier.",
            slips=Number(term.value, "force", "down"),
            force=worst,
            working=times,
        )
