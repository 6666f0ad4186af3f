"""Webbing to be cut for the whole descent, out of the pieces in the shed."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from reamer.core.answer.findings import Says, say
from reamer.core.answer.say import Number
from reamer.core.model import Plan, Webbing


@dataclass(frozen=True, slots=True)
class Cut:
    """A length one station takes, and from which piece: its place in the list from 1, 0 if from none."""

    drop: str
    number: int
    name: str
    length: Number
    piece: int


@dataclass(frozen=True, slots=True)
class WebbingAssessment:
    """What the descent takes of one webbing. ``unknown``: stations whose length is not known; ``left``: of each piece
    that is measured, in their order; ``proved``: whether there is no better way to cut."""

    id: str
    stock: Number | None
    total: Number
    cuts: tuple[Cut, ...]
    unknown: int
    left: tuple[Number, ...] = ()
    proved: bool = True


@dataclass(frozen=True, slots=True)
class Fitted:
    """For each length the place of the piece it is cut from, from 0, None where it is not cut; what is then left of
    every piece [m]; ``proved``: there is no better way, or none at all where some length is not cut."""

    places: tuple[int | None, ...]
    left: tuple[float, ...]
    proved: bool


# More cuts than these are made longest first, and nothing is proved.
MOST_CUTS = 24
# So many steps are looked at before it is given up to prove that there is no better way.
STEPS = 20_000
# Lengths that differ by less are alike: a tenth of a millimetre.
ALIKE = 1e-4


class _Search:
    """Every way to cut, the longest length first, without those that cannot be better than the best so far."""

    def __init__(self, pieces: list[float], lengths: list[float]) -> None:
        self.pieces = pieces
        self.order = sorted(range(len(lengths)), key=lambda i: -lengths[i])
        self.lengths = [lengths[i] for i in self.order]
        self.rest = [sum(self.lengths[i:]) for i in range(len(lengths) + 1)]
        self.best: tuple[tuple[int, float], list[int]] | None = None
        self.seen: set[tuple[int, tuple[tuple[float, int], ...]]] = set()
        self.steps = 0
        # No way is better than one that cuts into so few pieces and leaves one so long.
        long, total = sorted(pieces, reverse=True), sum(lengths)
        few = next((n for n in range(len(long) + 1) if sum(long[:n]) >= total - ALIKE), len(long) + 1)
        self.least = (few, -min(long[0] if long else 0.0, sum(long) - total))
        self.done = False

    def go(self, i: int, left: list[float], cut: int, at: list[int]) -> None:
        """The i-th length and all after it, with what is left of the pieces, those cut into as bits, and where the
        lengths before it went."""
        self.steps += 1
        slack = sum(left) - self.rest[i]
        # Nothing better can come of it: no fewer pieces cut into, and no longer one left than there is rope to spare.
        most = (cut.bit_count(), -min(max(left, default=0.0), slack))
        if self.done or self.steps > STEPS or slack < -ALIKE or (self.best and most >= self.best[0]):
            return
        if i == len(self.lengths):
            self.best = most, list(at)
            self.done = most <= self.least
            return
        # Pieces of which the same is left are alike.
        key = (i, tuple(sorted((round(x, 4), cut >> p & 1) for p, x in enumerate(left))))
        if key in self.seen:
            return
        self.seen.add(key)
        tried: set[tuple[float, bool]] = set()
        # Into those already cut first, and there where the least is left.
        for p in sorted(range(len(left)), key=lambda p: (not cut >> p & 1, left[p])):
            like = (round(left[p], 4), bool(cut >> p & 1))
            if left[p] < self.lengths[i] - ALIKE or like in tried:
                continue
            tried.add(like)
            left[p] -= self.lengths[i]
            at.append(p)
            self.go(i + 1, left, cut | 1 << p, at)
            at.pop()
            left[p] += self.lengths[i]


def fit(pieces: list[float], lengths: list[float]) -> Fitted:
    """Which piece each length is cut from: all of them if that can be at all, cutting into the fewest pieces, then
    leaving the longest piece.

    pieces: their lengths [m]; lengths: what is to be cut [m]
    returns: the way to cut; where all cannot be, each of the longest first from where it leaves least, as far as it
        goes
    Source: HB, exhaustive search of the cutting-stock problem; longest-first best fit alone is not always the best.

    >>> fit([12.0, 8.0], [5.0, 4.5, 4.0, 4.0, 2.0]).places
    (0, 0, 1, 1, 0)
    """
    return _fit(tuple(pieces), tuple(lengths))


@lru_cache(maxsize=500)
def _fit(pieces: tuple[float, ...], lengths: tuple[float, ...]) -> Fitted:
    """The same, worked out once."""
    search = _Search(list(pieces), list(lengths))
    if len(lengths) <= MOST_CUTS:
        search.go(0, list(pieces), 0, [])
    proved = len(lengths) <= MOST_CUTS and search.steps <= STEPS
    if search.best is not None:
        made: list[int | None] = [None] * len(lengths)
        left = list(pieces)
        for i, p in zip(search.order, search.best[1], strict=True):
            made[i] = p
            left[p] -= lengths[i]
        return Fitted(tuple(made), tuple(left), proved)
    left, made = list(pieces), [None] * len(lengths)
    for i in search.order:
        fits = [p for p in range(len(left)) if left[p] >= lengths[i] - ALIKE]
        if fits:
            most = min(fits, key=lambda p: left[p])
            made[i] = most
            left[most] -= lengths[i]
    return Fitted(tuple(made), tuple(left), proved)


def webbing_assessments(
    plan: Plan, cuts: dict[str, tuple[tuple[str, Number | None], ...]]
) -> Says[tuple[WebbingAssessment, ...]]:
    """What every station takes of each webbing, and whether there is enough.

    plan: the plan; cuts: by drop id, webbing ids with what is cut of each, None where unknown
    returns: one a webbing [m]
    Source: see fit.
    """
    made = []
    for w in plan.shed.webbing:
        takes = [
            (i, d, cut) for i, d in enumerate(plan.drops, 1) for webbing, cut in cuts.get(d.id, ()) if webbing == w.id
        ]
        known = [(i, d, cut) for i, d, cut in takes if cut]
        total = Number(sum(c.value for _, _, c in known), "fine length", "up")
        pieces = [p.length_m.value for p in w.pieces if p.length_m.kind == "known"]
        whole = len(pieces) == len(w.pieces) and bool(pieces)
        stock = Number(sum(pieces), "fine length", "down") if whole else None
        cutting = fit(pieces, [c.value for _, _, c in known])
        places = list(cutting.places)
        made.append(
            WebbingAssessment(
                w.id,
                stock,
                total,
                tuple(
                    Cut(d.id, i, d.name, c, 0 if p is None else p + 1)
                    for (i, d, c), p in zip(known, places, strict=True)
                ),
                len(takes) - len(known),
                tuple(Number(max(0.0, x), "fine length", "down") for x in cutting.left),
                cutting.proved,
            )
        )
        yield from _say(w, (stock, total), cutting, len(takes) - len(known))
    return tuple(made)


def _say(w: Webbing, amount: tuple[Number | None, Number], cutting: Fitted, unknown: int) -> Says[None]:
    key, (stock, total), places = f"webbing.{w.id}", amount, cutting.places
    if not places and not unknown:
        return
    if None not in places and not (stock is None and unknown):
        if unknown:
            yield say(
                "webbing.stock",
                "Not checked",
                key,
                "Whether there is enough {webbing} is not known",
                "What {n} of the stations take is unknown.",
                n=Number(unknown, "count"),
                webbing=w.name,
            )
        return
    if stock is None:
        yield say(
            "webbing.stock",
            "Not checked",
            key,
            "Whether there is enough {webbing} is not known",
            "All stations together take {total}; not every piece in the shed is measured.",
            total=total,
            webbing=w.name,
        )
    elif stock.value < total.value:
        yield say(
            "webbing.stock",
            "Shortfall",
            key,
            "Too little {webbing} for the whole descent",
            "All stations together take {total}; there is {stock}.",
            total=total,
            stock=stock,
            webbing=w.name,
        )
    elif cutting.proved:
        title = "{webbing} cannot be cut for every station"
        why = "All stations together take {total} of {stock}, but no way of cutting the pieces as they are gives it."
        yield say("webbing.stock", "Shortfall", key, title, why, total=total, stock=stock, webbing=w.name)
    else:
        title = "Whether {webbing} can be cut for every station is not known"
        why = "All stations together take {total} of {stock}; no way to cut it was found, and not all were tried."
        yield say("webbing.stock", "Not checked", key, title, why, total=total, stock=stock, webbing=w.name)


def piece_finding(webbing: Webbing, cut: Number) -> Says[None]:
    """Whether a piece of webbing is long enough for one station.

    webbing: as it lies in the shed; cut: what the station takes in one piece [m]
    returns: nothing
    Source: none, comparison.
    """
    known = [p.length_m.value for p in webbing.pieces if p.length_m.kind == "known"]
    if len(known) < len(webbing.pieces) or not webbing.pieces:
        if max(known, default=0) < cut.value:
            yield say(
                "webbing.cut",
                "Not checked",
                "webbing",
                "How much {webbing} there is is unknown",
                "This station takes {cut} in one piece.",
                cut=cut,
                webbing=webbing.name,
            )
    elif max(known) < cut.value:
        yield say(
            "webbing.cut",
            "Shortfall",
            "webbing",
            "No piece of {webbing} is long enough: {short} short",
            "This station takes {cut} in one piece; the longest is {stock}.",
            short=Number(cut.value - max(known), "fine length", "up"),
            cut=cut,
            stock=Number(max(known), "fine length", "down"),
            webbing=webbing.name,
            working=cut,
        )
