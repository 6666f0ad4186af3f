"""Rope in hand: what is left to go on with if a rope sticks after so many metres of its pull."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from itertools import combinations, pairwise
from typing import Literal

from reamer.core.answer.context import Context, context, figured
from reamer.core.answer.findings import value
from reamer.core.answer.look import look_at
from reamer.core.answer.say import Number, Sentence, run_on
from reamer.core.answer.working import Book
from reamer.core.descent.field import Field, goes, place_name
from reamer.core.model import Known, Rope, State, Unknown
from reamer.core.reach.need import longest_m
from reamer.core.retrieval.sides import JAMS
from reamer.core.rope.length import real_length
from reamer.core.rope.rigged import strands
from reamer.core.rope.strands import CONVERTED, Strand, pulled_strand
from reamer.core.station.lie import lie_of
from reamer.core.station.serves import Tried
from reamer.core.tables import row

Piece = Literal["pulled", "beyond", "end"]
PIECES: tuple[Piece, ...] = ("pulled", "beyond", "end")
Leaves = Literal["climb", "go on", "way off", "stranded", "not checked"]
# How finely is searched over what is pulled [m].
STEP_M, FINE_M = 0.1, 0.005
# A piece shorter than this serves nothing and is not tried [m].
SHORT_M = 2.0


# What is said of these asks nothing of what holds a climber.
NO_LOAD = ("reach", "pull", "end", "release")


@dataclass(frozen=True, slots=True)
class Lay:
    """How the rope of a pull lies at its start: what hangs below the ring on the side that is pulled, and on the other;
    the line from the ring to the hand; of two ropes the whole length of the one that is pulled, None where it is one
    rope [m]."""

    pull_m: float
    other_m: float
    hand_m: float
    whole_m: float | None = None

    @property
    def until_m(self) -> float | None:
        """How much may be pulled with the other strand still in hand [m]; None where it never is.

        Source: J, table of ropes: so much of it must lie in the hand to be tied."""
        until = self.other_m - self.hand_m - row("ropes", "hand.tie").high
        return until if until >= 0 else None

    def pieces(self, pulled_m: float) -> dict[Piece, float]:
        """What is in hand once it is cut there, after so much is pulled [m]: on the side that is pulled; of the other
        rope what has come past the hand behind the join; the other end, while it is in hand.

        Source: J, table of ropes, for what is lost where it is cut; geometry."""
        lost, h, p = row("ropes", "hand.cut").high, self.hand_m, pulled_m
        if self.whole_m is not None and p >= h:
            made: dict[Piece, float] = {"pulled": self.whole_m, "beyond": p - h - lost}
        else:
            made = {"pulled": self.pull_m + p - h - lost, "beyond": 0.0}
        made["end"] = self.other_m - p - h - lost if p <= (self.until_m or -1.0) else 0.0
        return {k: max(0.0, m) for k, m in made.items()}


@dataclass(frozen=True, slots=True)
class Stretch:
    """A stretch of the pull: from and until [m]; what a rope that sticks there leaves, and in words; ``stops``: the
    number of the station that cannot be left, 0 for none."""

    begin: Number
    end: Number
    leaves: Leaves
    said: Sentence
    stops: int = 0


@dataclass(frozen=True, slots=True)
class Corner:
    """A piece's length after so much is pulled; between corners it changes evenly [m]."""

    pulled_m: float
    metres: float


@dataclass(frozen=True, slots=True)
class Run:
    """One piece in hand through the pull: its rope, and its corners."""

    rope: str
    piece: Piece
    name: str
    corners: tuple[Corner, ...]


@dataclass(frozen=True, slots=True)
class InHand:
    """What is in hand at one station if its rope sticks: stretches of the pull in order, and its pieces; ``until``: so
    long the other strand is in hand; ``always``: from there on the rest can always be gone on with; ``why``: it is not
    worked out."""

    drop: str
    number: int
    stretches: tuple[Stretch, ...]
    pieces: tuple[Run, ...]
    until: Number | None
    always: Number | None
    said: Sentence
    why: str = ""


@dataclass(frozen=True, slots=True)
class _Needs:
    """A station further down that the rest does not serve: the stretches of the pull [m] after which something that is
    pulled again does; those after which it can be left on a rope that stays; None where nobody knows."""

    j: int
    again: list[tuple[float, float]] | None
    stays: list[tuple[float, float]]

    @property
    def spans(self) -> list[tuple[float, float]]:
        """Both."""
        return [*(self.again or ()), *self.stays]


@dataclass(frozen=True, slots=True)
class _At:
    """A station whose rope sticks: how it lies, its ropes by what is left of them, whether both strands may be climbed,
    and whether something that would have to hold there is open."""

    k: int
    lay: Lay
    ropes: dict[Piece, Rope]
    holds: bool
    open: bool


def _lay(field: Field, k: int) -> _At | str:
    """How the rope lies at a station as it is pulled, or why nobody knows."""
    drop = field.plan.drops[k]
    which = len(drop.station.states) - 1
    look = look_at(field.ctx, k, drop, which)
    system, hanging, lengths = look.system, value(strands(look)), value(lie_of(look)).lengths
    if not hanging or system.kind == "none":
        return "no rope system is chosen, or a rope of it is not there"
    if system.kind in CONVERTED or system.kind == "alternating bights":
        return "what is pulled first, and how far, is not worked out for this system"
    if not lengths:
        return "its section is not whole, or where its ring hangs is unknown"
    if any(s.joints for s in hanging):
        return "a strand is of several ropes"
    h = max(0.0, longest_m(lengths).value - row("ropes", "hand.above").low)
    down: Strand | None = hanging[0] if system.kind == "elastic-release device" else pulled_strand(system, hanging)
    up = next((s for s in hanging if s is not down), None)
    if down is None or down.low is None or (up is not None and up.low is None):
        return down.why if down is not None and down.low is None else up.why if up is not None else "nothing is pulled"
    if system.kind == "joined" and system.pulled == "through":
        return JAMS
    two = up is not None and up.rope.id != down.rope.id
    real = real_length(down.rope, Book(keeps=False))
    if isinstance(real, Unknown):
        return real.why
    whole = real[0].value if two else None
    lay = Lay(down.low.value, up.low.value if up is not None and up.low else 0.0, h, whole)
    ropes: dict[Piece, Rope] = {"pulled": down.rope}
    if up is not None:
        ropes |= {"end": up.rope, **({"beyond": up.rope} if two else {})}
    holds = up is not None and all(r.kind != "pull cord" for r in ropes.values())
    said = [f.code for f in field.drops[k].findings if f.severity in ("Shortfall", "Not checked")]
    doubt = any(code.split(".")[0] not in NO_LOAD for code in said) or any(r.damage for r in ropes.values())
    return _At(k, lay, ropes, holds, doubt)


def _cut(of: Rope, piece: Piece, metres: float) -> Rope:
    """A piece as a rope of its own, of which is known how long it is."""
    known = Known(kind="known", value=max(0.1, round(metres, 3)), method="tape")
    own = {"id": f"hand-{piece}", "name": f"{of.name}, cut", "nominal_m": known, "measured_m": known}
    return of.model_copy(update={**own, "wet_since_measured": "no", "middle_mark": False})


# A way: the pieces that it takes, and whether it serves with them as they are.
_Try = tuple[frozenset[str], Callable[[], bool]]


class _Later:
    """A station further down and what serves it of the ropes that are left and of pieces in hand."""

    def __init__(self, field: Field, here: _At, j: int, rest: frozenset[str]) -> None:
        self.here, self.lay = here, here.lay
        most = {k: max(self.lay.pieces(p)[k] for p in self._ends()) for k in PIECES}
        # Of a damaged rope nobody can say where in it the damage is, once it is cut.
        usable = [k for k, r in here.ropes.items() if not r.damage and most[k] >= SHORT_M]
        self.pieces = {f"hand-{k}": k for k in usable}
        cut = tuple(_cut(here.ropes[k], k, most[k]) for k in usable)
        shed = field.plan.shed
        ctx = context(field.plan.model_copy(update={"shed": shed.model_copy(update={"ropes": (*shed.ropes, *cut)})}))
        drop = field.plan.drops[j]
        self.at = Tried(ctx, j, drop)
        left = [r for r in shed.ropes if r.id in rest]
        self.tries: list[_Try] = []
        self.leaving: list[_Try] = []
        if any(not lie.lengths for lie in self.at.lies):
            return
        alike = len(self.at.lies) == 1 and drop.station.together == "no" and drop.landing.kind != "moving water"
        for size in (1, 2) if alike else (1, 2, 3):
            for some in combinations((*cut, *left), size):
                used = frozenset(r.id for r in some) & self.pieces.keys()
                if used:
                    self.tries += [(used, self._does(way.states)) for way in self.at.ways(some, not alike)]
        below = range(j + 1, len(field.plan.drops))
        if self.at.always <= rest:
            for r in (*left, *cut):
                # What stays here is gone for what lies below.
                if all(field.serves(i, rest - {r.id}) for i in below):
                    self.leaving.append((frozenset({r.id}) & self.pieces.keys(), self._left(r.id)))

    def _ends(self) -> tuple[float, ...]:
        lay = self.lay
        inside = (0.0, lay.hand_m, (lay.until_m or 0.0), lay.other_m)
        return tuple(sorted({p for p in inside if 0 <= p <= lay.other_m}))

    def _does(self, states: tuple[State, ...]) -> Callable[[], bool]:
        return lambda: self.at.tried(states, False) is not None

    def _left(self, rope: str) -> Callable[[], bool]:
        return lambda: self.at.left_there(self.at.ctx.ropes[rope])

    def stands(self, at: dict[str, float], does: Callable[[], bool]) -> bool:
        """Whether a way serves with its pieces as long as each is after so much is pulled."""
        for u, p in at.items():
            metres = self.lay.pieces(p)[self.pieces[u]]
            if metres < SHORT_M:
                return False
            self.at.put(_cut(self.here.ropes[self.pieces[u]], self.pieces[u], metres))
        return does()

    def needs(self, j: int) -> _Needs:
        """After which stretches of the pull it is served."""
        again = self._spans(self.tries)
        return _Needs(j, again, self._spans(self.leaving))

    def _spans(self, tries: list[_Try]) -> list[tuple[float, float]]:
        made: list[tuple[float, float]] = []
        ends = self._ends()
        for used, does in tries:
            for a, b in pairwise(ends):
                low, high = a + 1e-6, b - 1e-6 if b < ends[-1] else b
                if not any(x <= low and high <= y for x, y in made):
                    made = _united([*made, *self._within(low, high, used, does)])
        return made

    def _within(self, a: float, b: float, used: frozenset[str], does: Callable[[], bool]) -> list[tuple[float, float]]:
        """Where one way serves between two corners, where each piece grows or shrinks throughout: what grows is asked
        from where on it is long enough, what shrinks until where, each with the other at its best."""
        grow, shrink = ({u for u in used if (self.pieces[u] == "end") == down} for down in (False, True))
        if not self.stands(dict.fromkeys(grow, b) | dict.fromkeys(shrink, a), does):
            return []
        low = self._edge(b, a, lambda p: self.stands(dict.fromkeys(grow, p) | dict.fromkeys(shrink, a), does))
        high = self._edge(a, b, lambda p: self.stands(dict.fromkeys(grow, b) | dict.fromkeys(shrink, p), does))
        if not grow or not shrink:
            return [(low if grow else a, high if shrink else b)]
        if low > high:
            return []
        # Where both ends serve so does what lies between: what a way asks is a sum of lengths.
        if all(self.stands(dict.fromkeys(used, p), does) for p in (low, high)):
            return [(low, high)]
        some = [low + n * STEP_M for n in range(math.floor((high - low) / STEP_M) + 1)]
        return _united([(p, p) for p in some if self.stands(dict.fromkeys(used, p), does)], STEP_M + 1e-6)

    def _edge(self, good: float, bad: float, stands: Callable[[float], bool]) -> float:
        """From a place that serves toward one that may not: the last found that does."""
        if stands(bad):
            return bad
        while abs(good - bad) > FINE_M:
            mid = (good + bad) / 2
            good, bad = (mid, bad) if stands(mid) else (good, mid)
        return good


def _united(spans: Iterable[tuple[float, float]], gap: float = 1e-4) -> list[tuple[float, float]]:
    """Stretches that touch as one."""
    made: list[tuple[float, float]] = []
    for a, b in sorted(spans):
        if made and a <= made[-1][1] + gap:
            made[-1] = (made[-1][0], max(made[-1][1], b))
        else:
            made.append((a, b))
    return made


def _in(p: float, spans: list[tuple[float, float]]) -> bool:
    return any(a - 1e-5 <= p <= b + 1e-5 for a, b in spans)


BEST: tuple[Leaves, ...] = ("climb", "go on", "way off", "not checked", "stranded")


def _cut_there(field: Field, here: _At, p: float, later: list[_Needs]) -> tuple[Leaves, int, Sentence]:
    """What is left once the rope is cut after so much is pulled: the first station below that nothing then serves."""
    stays = []
    for n in later:
        j = n.j
        if n.again is not None and _in(p, n.spans):
            stays += [] if _in(p, n.again) else [j]
            continue
        off = next((i for i in range(here.k, j) if goes(field.plan.drops[i])), None)
        where = {"where": place_name(field.plan, j)}
        if n.again is None:
            return "not checked", j + 1, Sentence("whether {where} can be served is not known.", {}, where)
        if off is None:
            return "stranded", j + 1, Sentence("you cannot leave {where}.", {}, where)
        where["off"] = place_name(field.plan, off)
        return "way off", j + 1, Sentence("you cannot leave {where}, and go out below {off}.", {}, where)
    if here.k == len(field.plan.drops) - 1:
        return "go on", 0, Sentence("everybody is down, and the rope stays.")
    if stays:
        told = "you can cut it and go on; at {where} a rope is ridden single, and stays."
        return "go on", 0, Sentence(told, {}, {"where": place_name(field.plan, stays[0])})
    return "go on", 0, Sentence("you can cut it and go on." if later else "you can go on without it.")


def _left(field: Field, here: _At, p: float, later: list[_Needs]) -> tuple[Leaves, int, Sentence]:
    """What a rope that sticks after so much is pulled leaves: to be climbed comes first."""
    leaves, stops, said = _cut_there(field, here, p, later)
    if not here.holds or here.lay.until_m is None or p > here.lay.until_m:
        return leaves, stops, said
    if here.open:
        told = "both strands are in hand; whether what is open here holds somebody who climbs is not checked."
        return (leaves, stops, said) if leaves == "go on" else ("not checked", 0, Sentence(told))
    up = "both strands can be tied together and climbed"
    return "climb", 0, Sentence(f"{up}, or you can go on without." if leaves == "go on" else f"{up}.")


def _stretches(field: Field, here: _At, later: list[_Needs]) -> list[Stretch]:
    """The pull in stretches of which the same is left, in order."""
    until, most = here.lay.until_m, here.lay.other_m
    marks = {0.0, most, *(x for n in later for s in n.spans for x in s)}
    marks |= {until} if until is not None and here.holds else set()
    ends = sorted(x for x in marks if 0 <= x <= most)
    found: list[tuple[float, float, Leaves, int, Sentence]] = []
    for a, b in pairwise(ends) if most > 0 else [(0.0, 0.0)]:
        if b - a < 1e-3 and most > 0:
            continue
        left = _left(field, here, (a + b) / 2, later)
        if found and found[-1][2:] == left:
            found[-1] = (found[-1][0], b, *left)
        else:
            found.append((a, b, *left))
    # Where the better begins is told late, where it ends is told early.
    good = [BEST.index(f[2]) for f in found]
    late = [n > 0 and good[n - 1] > good[n] for n in range(len(found))]
    return [
        Stretch(
            Number(a, "length", "up" if late[n] else "down"),
            Number(b, "length", "up" if n + 1 < len(found) and late[n + 1] else "down"),
            leaves,
            said,
            stops,
        )
        for n, (a, b, leaves, stops, said) in enumerate(found)
    ]


def _told(stretches: list[Stretch]) -> Sentence:
    """All stretches, one after another."""
    if len(stretches) == 1:
        return run_on((Sentence("Wherever it sticks:"), stretches[0].said))
    made = []
    for n, s in enumerate(stretches):
        at = "Until {b}:" if n == 0 else "From {a}:" if n == len(stretches) - 1 else "From {a} to {b}:"
        numbers = {k: v for k, v in (("a", s.begin), ("b", s.end)) if f"{{{k}}}" in at}
        made += [Sentence(at, numbers), s.said]
    return run_on(made)


@figured
def in_hand(ctx: Context, field: Field, k: int) -> InHand:
    """What is in hand at a station if its rope sticks, after whatever is pulled of it.

    ctx: the plan's context; field: its descent; k: the station's place, from 0
    returns: the stretches of the pull, each with what it leaves [m]
    Source: J, our judgement; exact against what serves each station.
    """
    drop, below = field.plan.drops[k], range(k + 1, len(field.plan.drops))
    here = _lay(field, k)
    if isinstance(here, str):
        return InHand(drop.id, k + 1, (), (), None, None, Sentence("Not worked out: {why}.", {}, {"why": here}), here)
    lay, rest = here.lay, field.carried - field.own[k]
    later: list[_Needs] = [
        _Needs(j, None, []) if field.served[j].why else _Later(field, here, j, rest).needs(j)
        for j in below
        if not field.serves(j, rest)
    ]
    stretches = _stretches(field, here, later)
    corners = sorted({p for p in (0.0, lay.hand_m, lay.until_m or 0.0, lay.other_m) if 0 <= p <= lay.other_m})
    runs = []
    for piece, rope in here.ropes.items():
        at = [p + d for p in corners for d in (-1e-6, 1e-6) if 0 <= p + d <= lay.other_m]
        runs.append(Run(rope.id, piece, rope.name, tuple(Corner(p, lay.pieces(p)[piece]) for p in at)))
    always = stretches[-1].begin if stretches[-1].leaves == "go on" else None
    until = None if lay.until_m is None else Number(lay.until_m, "length", "down")
    return InHand(drop.id, k + 1, tuple(stretches), tuple(runs), until, always, _told(stretches))
