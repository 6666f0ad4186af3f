"""What a knot that joins two ropes holds, and where it slips."""

from __future__ import annotations

from dataclasses import replace

from reamer.core.anchor.holding import Holds, Named, given, unheld
from reamer.core.answer.findings import Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import TOWARD, Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, from_row
from reamer.core.load.asked import Load, asked
from reamer.core.load.part import Part, part
from reamer.core.model import Rope
from reamer.core.rope.knots import rating_of
from reamer.core.rope.strands import Joint
from reamer.core.rope.wet import wet_term
from reamer.core.tables import ENDS, RangeEnd, Row, row


def _opposed(look: Look, ropes: tuple[Rope, Rope], share: float, load: Load, key: str) -> Says[Part]:
    """A bend whose tails stand opposite does not slip: it breaks, and is judged as any knot is."""
    (a, b), kept = ropes, row("knots", "retention.overhand bend.nylon")
    of = Named(key, f"overhand bend joining {a.name} and {b.name}")
    want, known = asked(of, load, share, look.policies.margin, look.book), []
    blank = strange = ""
    for r in ropes:
        if r.strength_kn.kind == "unknown":
            blank = blank or f"the breaking strength of {r.name} is unknown"
        else:
            known.append((r.strength_kn.low_kn, r))
        if r.fibre not in ("nylon", "polyester"):
            strange = strange or f"the tables have no strength for this bend in {r.fibre}"
    if blank or strange:
        title, why = "What the join holds is not checked", "Not checked: {why}."
        yield say("join.unchecked", "Not checked", key, title, why, why=blank or strange)
        return part(of, want, unheld(blank or strange), look.book)
    weak = min(known, key=lambda k: k[0])[1]
    own = rating_of(weak)

    def one(end: RangeEnd) -> Number:
        strength, rho, wet = own.at(end), kept.at(end), wet_term(weak.fibre, look.kit_wet, end)
        terms = [
            Term(
                "S",
                f"{weak.name}, unknotted, the weaker",
                strength,
                "force",
                own.source,
                typed=typed(weak, "strength_kn"),
            ),
            wet,
            from_row("rho", kept, rho, "share"),
        ]
        name, value = f"{of.name}, {end} end", strength * wet.value * rho
        return look.book.number(f"{key}.{end}", name, "S*w*rho", terms, value, "force", TOWARD[end])

    low = one("low")
    made = part(of, want, Holds(low, one("high")), look.book)
    if made.verdict == "Shortfall":
        yield say(
            "join.weak",
            "Shortfall",
            key,
            "The join holds {low}, needs {required}",
            "A bend with its tails opposite keeps part of the weaker rope.",
            low=low,
            required=made.required,
            working=low,
        )
    return made


def join_part(look: Look, above: Rope, joint: Joint, share: float, load: Load) -> Says[Part]:
    """The flat knot that joins two ropes: where it slips, against its own demand without a margin.

    look: the station; above: the rope that it is tied to; joint: the knot and the rope that it ties; share: of the
    load that is asked of it; load: the rider's
    returns: the part [kN]
    Source: P, table of pull tests; slip is compared once, not with the margin.
    """
    through, other, key, eight, tails = (
        above,
        joint.rope,
        joint.part,
        joint.knot == "flat figure eight",
        row("knots", "tail.join"),
    )
    name = f"flat {'figure eight' if eight else 'overhand'} joining {through.name} and {other.name}, slips"
    of = Named(key, name)
    if joint.knot == "opposed overhand":
        return (yield from _opposed(look, (above, joint.rope), share, load, key))
    want = asked(of, load, share, look.policies.margin, look.book)
    hmpe = "HMPE" in (through.fibre, other.fibre)
    seen = row("pull_tests", "HMPE overhand" if hmpe else "flat eight" if eight else "flat overhand dynamic")
    if joint.slips_kn.kind == "range":
        holds = given(of, joint.slips_kn, joint.slips_at, look.book)
    elif hmpe or (through.kind.startswith("dynamic") and other.kind.startswith("dynamic")):
        low, high = (_seen(end, seen, of, look.book) for end in ENDS)
        holds = Holds(low, high)
    else:
        holds = unheld("the tables have a pull test of this join in two dynamic ropes only")
        yield say(
            "join.unchecked",
            "Not checked",
            key,
            "Whether the join slips is not checked",
            "The tables have a pull test of a flat overhand in two dynamic ropes only. Test your own two and enter it."
            " Tails at least {tail}, a second overhand snug behind.",
            tail=Number(tails.high, "fine length", "up"),
        )
    made = part(of, replace(want, required=want.demand), holds, look.book)
    if made.verdict == "Shortfall" and holds.low is not None:
        yield say(
            "join.slips",
            "Caution",
            key,
            "The join may roll: it slips at {low}, and {demand} comes on it",
            "Slip is not breakage. Tails at least {tail} each, and a second overhand snug behind the first.",
            low=holds.low,
            demand=want.demand,
            tail=Number(tails.high, "fine length", "up"),
            working=holds.low,
        )
        made = replace(made, verdict="May roll")
    return made


def _seen(end: RangeEnd, seen: Row, of: Named, book: Book) -> Number:
    """What a join was seen to slip at."""
    value = seen.at(end)
    terms = [from_row("F", seen, value, "force")]
    return book.number(f"{of.key}.{end}", f"{of.name}, {end} end", "F", terms, value, "force", TOWARD[end])
