"""Knots and joins that a rider or the ring must pass."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.answer.codes import Severity
from reamer.core.answer.findings import Fix, Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.model import (
    BlockedCord,
    BlockedSame,
    Damage,
    Figure,
    Joined,
    JoinKnot,
    Known,
    Releasable,
    Ring,
    Rope,
    TiedOn,
    Unknown,
)
from reamer.core.plan.edits import Place
from reamer.core.plan.limits import limits_m
from reamer.core.rope.damage import below, from_end
from reamer.core.rope.fit import Fit, all_rings, fit, narrowest
from reamer.core.rope.strands import ISOLATES, Joint, Strand, pulled_strand, tied_on
from reamer.core.rope.takes import whole_length
from reamer.core.section.lengths import Lengths
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class _Join:
    """A knot that joins two ropes: which, its place in the plan, its tails and theirs, None where none are asked."""

    knot: JoinKnot
    place: Place[JoinKnot]
    tails: Figure | None = None
    tails_place: Place[Figure] | None = None


def _joins(look: Look) -> list[_Join]:
    """Every knot that joins two ropes at a station."""
    system, made = look.system, []
    more = tied_on(system)
    if more is not None:
        place = look.system_as(BlockedSame).at(lambda s: s.tied_on).of(TiedOn)
        made.append(_Join(more.knot, place.at(lambda t: t.knot), more.tails_m, place.at(lambda t: t.tails_m)))
    if isinstance(system, (Joined, BlockedCord)):
        own = look.system_as(Joined)
        made.append(_Join(system.knot, own.at(lambda s: s.knot), system.tails_m, own.at(lambda s: s.tails_m)))
    if isinstance(system, Releasable) and system.reserve_rope is not None:
        made.append(_Join(system.reserve_knot, look.system_as(Releasable).at(lambda s: s.reserve_knot)))
    return made


def join_findings(look: Look) -> Says[None]:
    """The knots that join two ropes, or a rope and its pull cord: their tails, and a knot that is advised against.

    look: the station
    returns: nothing
    Source: P, common practice, no source; J for what is drawn through.
    """
    most, cut = row("knots", "tail.join"), row("knots", "tail.cut")
    least = Number(most.high, "fine length", "up")
    for join in _joins(look):
        if join.knot == "flat figure eight":
            own = look.policies.join
            better = own if own != "flat figure eight" else "flat overhand, second behind"
            label = "Tie a flat overhand" if better.startswith("flat") else "Tie an opposed bend"
            why = "It rolls at about {seen}, less than a flat overhand, and each roll takes from its tails."
            seen, title = (
                Number(row("pull_tests", "flat eight").low, "force", "down"),
                "A flat figure eight is advised against",
            )
            fix = Fix(Sentence(label), (join.place.set(better),))
            yield say("join.advised", "Caution", "join", title, why, seen=seen, fix=fix)
        tails = join.tails
        if tails is None or join.tails_place is None:
            continue
        if tails.kind == "unknown":
            title, why = (
                "How long the join's tails are is not decided",
                "A flat overhand may roll: each is at least {least}.",
            )
            yield say("join.tails", "Not checked", "join", title, why, least=least)
        elif limits_m(tails)[0] < most.high - 1e-9:
            runs_out = limits_m(tails)[0] < cut.low - 1e-9
            said = "a knot that rolls or slips at all runs out of them." if runs_out else "a flat overhand may roll."
            edit = join.tails_place.set(Known(kind="known", value=most.high, method="given"))
            yield say(
                "join.tails",
                "Shortfall" if runs_out else "Caution",
                "join",
                "The join's tails are short",
                f"{{tails}} is planned; {said} Each tail is at least {{least}}.",
                tails=Number(tails.value, "fine length"),
                least=least,
                fix=Fix(Sentence("Leave tails of {least}", {"least": least}), (edit,)),
            )


def _up_to_ring(look: Look, key: str, made: Fit, title: str, why: str, **words: str) -> Says[None]:
    """A knot that goes up to the ring and may not pass it."""
    if made.ratio is not None and made.verdict == "passes":
        return
    severity: Severity = "Not checked"
    if made.ratio is not None:
        severity, why = "Shortfall", "It is {ratio} the opening: the rope would not come down. " + why
    else:
        why = "Not checked: {why}."
    more, end, name = words.get("more"), words.get("end"), words["rope"]
    yield say(
        "rope.passed",
        severity,
        key,
        title,
        why,
        rope=name,
        more=more,
        end=end,
        ring=words["ring"],
        why=made.why,
        ratio=made.ratio,
        working=made.ratio,
    )


def _tied_on(look: Look, hanging: list[Strand], ring: Ring | None, path: float | None) -> Says[None]:
    """A second rope tied to the ride strand: everyone passes the join, and it must pass the ring. Source: P, common
    practice, no source."""
    for s in (h for h in hanging if h.role == "ride"):
        for joint, above in zip(s.joints, s.pieces, strict=False):
            yield from _joint(look, s, joint, above.rope, path)
            if pulled_strand(look.system, hanging) is not None and ring is not None:
                thick = max(
                    (above.rope, joint.rope),
                    key=lambda r: math.inf if r.diameter_mm.known is None else r.diameter_mm.known,
                )
                knot = "flat figure eight" if joint.knot == "flat figure eight" else "flat overhand"
                made = fit(knot, thick, ring, "tied.fit", look.book, "passes")
                title = "The join of {rope} and {more} goes up to {ring} and may not pass it"
                why, said = "Use one longer rope, or a wider ring.", {"rope": above.rope.name, "more": joint.rope.name}
                yield from _up_to_ring(look, f"rope.{s.rope.id}", made, title, why, **said, ring=ring.name)


def _joint(look: Look, s: Strand, joint: Joint, above: Rope, path: float | None) -> Says[None]:
    """A join in rope that is ridden: everyone passes it."""
    if joint.at is not None and (path is None or joint.at.value <= path):
        title = "Everyone must pass the join of {rope} and {more}, {below} below the ring"
        why = "It takes a tether, a second friction hitch and practice on the flat. One longer rope has no join."
        key, more = f"rope.{s.rope.id}", joint.rope.name
        yield say("rope.passed", "Caution", key, title, why, below=joint.at, rope=above.name, more=more)


def passed(look: Look, hanging: list[Strand], ring: Ring | None, lengths: Lengths) -> Says[None]:
    """Knots that isolate damage, and joins inside a ride strand: which strand they are in, how far down, and whether
    they pass the ring.

    look: the station; hanging: its strands; ring: what the rope runs through; lengths: of the lines [m]
    returns: nothing
    Source: P, common practice, no source.
    """
    path = lengths["taut"].high.value if lengths else None
    ring = narrowest(all_rings(look.rig, ring, look.ctx.rings))
    yield from _tied_on(look, hanging, ring, path)
    down = pulled_strand(look.system, hanging)
    for hung in hanging:
        for s in hung.single:
            for n, d in enumerate(s.rope.damage):
                if d.use == "knot passed" and s.low is not None and s.high is not None:
                    goes_up = down is not None and hung is not down
                    yield from _knot_in(look, s, d, lengths, (f"passed.{s.rope.id}.{n}", ring if goes_up else None))


def _knot_in(look: Look, s: Strand, d: Damage, lengths: Lengths, up: tuple[str, Ring | None]) -> Says[None]:
    """A knot that isolates damage in a strand, with the ring that it goes up to, None where it does not."""
    rope, end, key = s.rope.name, s.end.upper(), f"rope.{s.rope.id}"
    path, longest = (
        lengths["taut"].high.value if lengths else None,
        max((n.high.value for n in lengths.values()), default=None),
    )
    if d.at_m.kind == "unknown":
        title = "Where {rope} is damaged is unknown"
        why = "Whether its knot must be passed by a rider or through the ring is not checked."
        yield say("rope.passed", "Not checked", key, title, why, rope=rope, end=end)
        return
    span = from_end(s, d, d.at_m)
    if span is None or s.low is None:
        return
    if s.role == "lower":
        yield from _let_out(look, s, span[0] - (yield from _taken_m(look, s)), longest, "the belay")
        return
    if s.role == "reserve":
        yield from _let_out(look, s, s.low.value - span[1], longest, "the tie-off")
        return
    at = below(s, span)
    if s.load_share and (path is None or at.value <= path):
        title = "Everyone must pass a knot {below} below the ring in {rope} {end}"
        why = "It takes a tether, a second friction hitch and practice on the flat. Use another rope, or only its"
        yield say("rope.passed", "Caution", key, title, why + " longest sound piece.", below=at, rope=rope, end=end)
    ring = up[1]
    if ring is not None:
        made, title = (
            fit(ISOLATES, s.rope, ring, up[0], look.book, "passes"),
            "The knot in {rope} {end} goes up to {ring} and may",
        )
        why = "Use another rope, or put that end on the side that is pulled."
        yield from _up_to_ring(look, key, made, title + " not pass it", why, rope=rope, end=end, ring=ring.name)


def knots_threaded(look: Look, s: Strand, ring: Ring | None) -> Says[None]:
    """Knots that isolate damage in a strand that is put through the ring from its end: each must pass the ring.

    look: the station; s: the strand; ring: what the rope runs through
    returns: nothing
    Source: P, common practice, no source.
    """
    ring = narrowest(all_rings(look.rig, ring, look.ctx.rings))
    for n, d in enumerate(s.rope.damage if ring is not None else ()):
        if d.use != "knot passed" or d.at_m.kind == "unknown" or from_end(s, d, d.at_m) is None or ring is None:
            continue
        made = fit(ISOLATES, s.rope, ring, f"threaded.{s.rope.id}.{n}", look.book, "passes")
        if made.ratio is not None and made.verdict == "passes":
            continue
        yield say(
            "ledger.knot",
            "Shortfall" if made.ratio is not None else "Not checked",
            "ledger",
            "The knot in {rope} {end} is threaded through {ring} and may not pass it",
            "It is {ratio} the opening. Thread the other end, or use another rope."
            if made.ratio is not None
            else "Not checked: {why}.",
            rope=s.rope.name,
            end=s.end.upper(),
            ring=ring.name,
            ratio=made.ratio,
            why=made.why,
        )


def _taken_m(look: Look, s: Strand) -> Says[float]:
    """What the station's own knots take of a strand that is lowered on [m]."""
    whole = yield from whole_length(look, s.rope)
    return 0.0 if isinstance(whole, Unknown) or s.high is None else max(0.0, whole[1].value - s.high.value)


def _let_out(look: Look, s: Strand, out_m: float, path: float | None, to: str) -> Says[None]:
    """A knot in rope that is let out with somebody hanging on it: it comes to where the rope is held once so much is
    out. From below the rope runs over the ring, and the knot meets ring or belay."""
    rope, end, key = s.rope.name, s.end.upper(), f"rope.{s.rope.id}"
    if path is None:
        title, why = "Whether the knot in {rope} {end} comes to {to} is not checked", "The path is not known."
        yield say("rope.passed", "Not checked", key, title, why, rope=rope, end=end, to=to)
        return
    twice = look.system.kind == "lowered" and look.system.belayer == "below"
    if out_m > (2 * path if twice else path):
        return
    hangs = out_m if out_m <= path else out_m - path
    title = "The knot in {rope} {end} comes to {to} with somebody hanging on it"
    why = (
        "It does so when they hang {out} down, and stops there. Use another rope, only its longest sound piece, or its"
    )
    out, to = Number(max(0.0, hangs), "length", "near"), "ring or belay" if twice else to
    yield say("rope.passed", "Shortfall", key, title, why + " other end.", rope=rope, end=end, to=to, out=out)
