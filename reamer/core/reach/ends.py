"""Where a strand's end comes to lie, and open ends that are ridden."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.codes import Severity
from reamer.core.answer.findings import Fix, Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.load.asked import Load, static_kn
from reamer.core.model import EndRef, Rope, RopeEnd, State
from reamer.core.reach.need import deviations_longer, longest_m
from reamer.core.rope.damage import Lies
from reamer.core.rope.length import rating_kg, stretch_m
from reamer.core.rope.strands import Role, Strand
from reamer.core.section.lengths import Lengths
from reamer.core.section.polyline import Line, Point, point_at
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class End:
    """Where a strand's end is: the point in the section [m], and its height above the landing along the rope
    (negative: so much lies on the landing)."""

    x_m: float
    z_m: float
    above: Number


@dataclass(frozen=True, slots=True)
class Reach:
    """One strand's reach: what it has and needs, what is to spare at worst, and its end with and without a rider.

    rope, end, name: whose end hangs; top: the rope that is at the ring
    at_surface: its end is set over moving water, not by what it needs; highest: of a reserve, how far below the ring
    somebody may be stuck at the least for a lower to reach the landing [m]; lies: what lies in it on its way
    """

    key: str
    rope: str
    end: RopeEnd
    name: str
    role: Role
    knotted: bool
    low: Number | None
    high: Number | None
    need: Number | None
    spare: Number | None
    why: str
    free: End | None
    ridden: End | None
    points: tuple[Point, ...]
    highest: Number | None = None
    at_surface: bool = False
    lies: tuple[Lies, ...] = ()
    top: str = ""


def ends_of(s: Strand, line: Line, path: Number, load: Load, book: Book) -> tuple[End | None, End | None]:
    """The end of a strand at its low length, unloaded and with the rider at the bottom.

    s: the strand; line, path: the taut line and its length [m]; load: the rider; book: how numbers are made
    returns: both ends; None where its length, the load or its stretch is unknown
    Source: HB, linear stretch from the label's elongation.
    """
    if s.low is None:
        return None, None
    low, length, taut = s.low.value, computed("L", "the strand, low end", s.low), computed("path", "taut line", path)

    def end(what: str, name: str, long_m: float, terms: list[Term], formula: str) -> End:
        at, _ = point_at(line.points, long_m)
        key, what_ = f"end.{s.key}.{what}", f"end of {s.foot.rope.name} above the landing, {name}"
        above = path.value - long_m
        n = book.number(key, what_, f"path - ({formula})", [taut, *terms], above, "length", "up")
        return End(at[0], at[1], n)

    free, rider = end("free", "no rider", low, [length], "L"), load.known
    if not s.load_share or rider is None or any(r.elongation_pct.kind == "unknown" for r in s.ropes):
        return free, None
    g, share = row("loads", "g"), s.load_share
    terms = [
        length,
        Term("q", "share of the rider on this strand", share, "share", "HB: statics"),
        computed("W", "the rider's weight", rider.static),
        from_row("g", g, g.low, "share"),
    ]
    for n, joint in enumerate(s.joints, 1):
        if joint.at is not None:
            terms.append(computed(_symbol("J", n, s), "from the ring to the join", joint.at))
    formula, grows = "L", 0.0
    for n, (rope, long, pieces) in enumerate(_loaded(s, low, path.value)):
        rating, i = rating_kg(rope.kind), str(n + 1) if s.joints else ""
        elongation = (rope.elongation_pct.known or 0.0) / 100
        grows += stretch_m(long, elongation, share * rider.static.value, static_kn(rating))
        terms += [
            Term(
                f"eps{i}",
                f"elongation of {rope.name}, as a share",
                elongation,
                "share",
                "entered",
                typed=typed(rope, "elongation_pct"),
            ),
            Term(
                f"M{i}", "mass of the rope's rating on one strand", rating, "mass", "STD: EN 892, EN 1891, from memory"
            ),
        ]
        formula += f" + {pieces}*eps{i}*q*W/(M{i}*g/1000)"
    return free, end("ridden", "rider at the bottom", low + grows, terms, formula)


def _loaded(s: Strand, low: float, path: float) -> list[tuple[Rope, float, str]]:
    """Each piece of a strand, how much of it a rider at the bottom stretches [m], and that as a formula."""
    ends = [(p.start or 0.0, f"min({_symbol('J', n, s)}, path)") for n, p in enumerate(s.pieces) if n]
    made, (top, above) = [], (0.0, "")
    for piece, (to, said) in zip(s.pieces, [*ends, (low, "min(L, path)")], strict=True):
        to = min(to, path)
        made.append((piece.rope, max(0.0, to - top), f"max(0, {said} - {above})" if above else said))
        top, above = to, said
    return made


def _symbol(letter: str, n: int, s: Strand) -> str:
    """A letter for the n-th joint of a strand, counted from 1; alone where there is one."""
    return letter if len(s.joints) == 1 else f"{letter}{n}"


DOWN = {
    "ledge": "the ledge",
    "ground": "the ground",
    "pool": "the water",
    "wading": "the water",
    "moving water": "the water",
    "hanging stance": "the stance",
    "unknown": "the landing",
}


def end_findings(look: Look, item: Reach, s: Strand, lengths: Lengths, hanging: list[Strand]) -> Says[None]:
    """Open ends that are ridden.

    look: the station; item: the strand's reach; s: the strand; lengths: of the lines [m]; hanging: all strands
    returns: nothing
    Source: P, common practice, no source.
    """
    system = look.system
    if s.knotted or "ride" not in s.role or item.low is None or system.kind == "none":
        return
    around = deviations_longer(look, lengths) if look.station.deviations else None
    further = around.of(look.state.serves) if around is not None and around.party is not None else None
    longest = longest_m(lengths).value + (further.value if further is not None else 0.0)
    feet = [h.foot for h in hanging if "ride" in h.role and not h.knotted]
    open_ends = [EndRef(rope=foot.rope.id, end=foot.end) for foot in feet]
    edit = look.stoppers_place.set((*system.stoppers, *open_ends))
    fix = Fix(Sentence("Plan a stopper in every open end that is ridden"), (edit,))
    key, down, low, path = f"end.{s.key}", DOWN[look.drop.landing.kind], item.low, Number(longest, "length", "up")
    severity: Severity = "Shortfall"
    if look.drop.landing.kind == "hanging stance":
        title, why = "End {end} of {rope} is open below a hanging stance", "Nothing stops who rides past it. Knot it."
    elif low.value < longest or (around is not None and around.party is None):
        title = "End {end} of {rope} is open and may hang above {down}"
        why = "It has {low}; the path may be {path}. Knot it."
    elif look.policies.ends == "always":
        title = "End {end} of {rope} is open and nobody has seen it down"
        why = (
            "It should reach {down}, but a rope that hangs up on the way ends where it likes. Knot it until it is seen"
        )
        why += " down."
    else:
        title, severity = "See end {end} of {rope} down before anybody rides", "Caution"
        why = "It is open. It should reach {down}; the choice made for this plan leaves it open only where it is seen"
        why += " there."
    code, said = ("end.seen", None) if severity == "Caution" else ("end.open", fix)
    seen = "{low}" in why
    yield say(
        code,
        severity,
        key,
        title,
        why,
        rope=s.foot.rope.name,
        end=s.foot.end.upper(),
        down=down,
        low=low if seen else None,
        path=path if seen else None,
        fix=said,
    )


def runs_over(state: State) -> str:
    """What the rope runs through at the station, in a word: its ring, or what stands in its place.

    state: how it is rigged
    returns: ring or anchor
    Source: none, text only.
    """
    return "anchor" if state.rig.kind == "direct" and state.rig.ring is None else "ring"
