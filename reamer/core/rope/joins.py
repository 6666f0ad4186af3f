"""What is to be said of the join of two ridden ropes at its ring."""

from __future__ import annotations

from reamer.core.answer.codes import Severity
from reamer.core.answer.findings import Fix, Says, once, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.verdict import Verdict
from reamer.core.answer.working import Book
from reamer.core.model import Joined, Loaded, Ring, Rope, Wrap
from reamer.core.rope.length import at_100_kg_pct
from reamer.core.rope.stops import join_alone, join_creeps
from reamer.core.tables import row


def join_at_ring(look: Look, system: Joined, ropes: tuple[Rope, Rope], ring: Ring | None, over: str) -> Says[bool]:
    """Whether the ring stops the join of two ridden ropes, of which the thicker creeps and draws the join toward it
    from the pull strand.

    look: the station; system: joined; ropes: the one through the ring and the other; ring: what the rope runs through,
    None where that is no ring; over: its name
    returns: whether something has to be known first, and was asked for
    Source: J, table of knots: the thinner strand decides whether it is stopped.
    """
    (through, other), (a, b) = ropes, (r.diameter_mm.known for r in ropes)
    yield from _unlike_stretch(look, ropes)
    if a is None or b is None:
        return False  # which is the thicker is unknown, and that is said
    made = join_creeps(system, ropes, ring, look.book)
    thin, thick = (through, other) if a < b else (other, through)
    if made.holds == "unknown":
        title = "Whether {ring} stops the join is not known"
        why = "Not checked: {why}. {thick} grips more in the device and creeps, and draws the join toward the ring."
        yield say("join.passes", "Not checked", "join", title, why, ring=over, thick=thick.name, why=made.why)
    elif made.cause:
        fix = None if ring is None else _smaller_ring(look, system, ropes)
        yield from _may_pass(look, made, abs(a - b), (over, thick.name, thin.name), fix)
    return made.holds == "unknown"


def _unlike_stretch(look: Look, ropes: tuple[Rope, Rope]) -> Says[None]:
    """Two ridden ropes of which one stretches more: it creeps like a thicker one; said once for the plan. Source: J."""
    one, two = (at_100_kg_pct(r) for r in ropes)
    (a, b), least = (r.diameter_mm.known for r in ropes), row("ropes", "stretch.unlike").low
    one_name, other_name = (r.name for r in ropes)
    if one is None or two is None:
        if a is None or b is None or abs(a - b) > 1e-9:
            title, why = (
                "Whether {one} and {other} stretch alike is not known",
                "Their elongations are not both entered.",
            )
            yield once(say("join.stretch", "Not checked", "join", title, why, one=one_name, other=other_name))
    elif abs(one - two) >= least - 1e-9:
        yield once(
            say(
                "join.stretch",
                "Caution",
                "join",
                "{one} and {other} stretch unlike each other",
                "At 100 kg one lengthens by {p}, the other by {q}: ridden together, the one that stretches more creeps"
                " through the device and draws the join toward the ring, as a thicker rope does.",
                p=Number(one, "percent"),
                q=Number(two, "percent"),
                one=one_name,
                other=other_name,
            )
        )


def _may_pass(look: Look, made: Verdict, by: float, names: tuple[str, str, str], fix: Fix | None) -> Says[None]:
    """A join that what the rope runs over may not stop; by how much the ropes differ [mm]; what it runs over, the
    thicker and the thinner rope."""
    over, thick, thin = names
    ratio, far = made.ratio, made.cause not in ("unlike", "a little")
    why = (
        "The ropes differ by {by}"
        + ("; the join is {ratio} the opening. " if ratio else ". ")
        + "{thick} grips more in the device, creeps down as people ride, and draws the join up the pull strand into"
        " {ring}. A smaller ring, a block, or another way."
    )
    severity: Severity = "Note" if made.cause == "a little" else "Caution"
    title = "The ring does not stop the join of unlike ropes"
    if far:
        severity = "Shortfall" if made.holds == "no" else "Caution"
        title = f"{{ring}} {'does' if made.holds == 'no' else 'may'} not stop the join"
    # What matters little at one station is said once for the plan.
    told = say(
        "join.passes",
        severity,
        "join",
        title,
        why,
        by=Number(by, "diameter"),
        ratio=ratio,
        ring=over,
        thick=thick,
        thin=thin,
        working=ratio if far else None,
        fix=fix,
    )
    yield told if far else once(told)


def _smaller_ring(look: Look, system: Joined, ropes: tuple[Rope, Rope]) -> Fix | None:
    """The widest ring of the shed that the thicker rope goes through and the join does not."""
    rated = [
        (o, r) for r in look.plan.shed.rings if (o := r.opening_mm.known) is not None and r.rating_kn.kind == "range"
    ]
    thick_mm = max(r.diameter_mm.known or 0.0 for r in ropes)
    for opening, ring in sorted(rated, key=lambda r: -r[0]):
        if opening > thick_mm and join_alone(system, ropes, ring, Book(keeps=False)).holds == "yes":
            place = look.rig_as(Wrap)
            lies: Loaded = "long axis" if ring.kind == "ring" else "unknown"
            edits = place.at(lambda r: r.ring).set(ring.id), place.at(lambda r: r.ring_loaded).set(lies)
            return Fix(Sentence("Hang {ring}", {}, {"ring": ring.name}), edits)
    return None
