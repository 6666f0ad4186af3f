"""Webbing to be cut for the whole descent, out of the pieces in the shed."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.findings import Findings
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
    """What the descent takes of one webbing. ``unknown``: stations whose length is not known."""

    id: str
    stock: Number | None
    total: Number
    cuts: tuple[Cut, ...]
    unknown: int


def fit(pieces: list[float], lengths: list[float]) -> list[int | None]:
    """Which piece each length is cut from, longest first, each from the piece it leaves least of.

    pieces: their lengths [m]; lengths: what is to be cut [m]
    returns: for each length the piece's place from 0, None if none was found; what is found can be cut
    Source: HB, best fit decreasing; not always the best there is.

    >>> fit([5.0, 3.0], [3.0, 4.5])
    [1, 0]
    """
    left = list(pieces)
    made: list[int | None] = [None] * len(lengths)
    for i in sorted(range(len(lengths)), key=lambda i: -lengths[i]):
        fits = [p for p in range(len(left)) if left[p] >= lengths[i] - 1e-9]
        if fits:
            best = min(fits, key=lambda p: left[p])
            made[i] = best
            left[best] -= lengths[i]
    return made


def webbing_assessments(
    plan: Plan, cuts: dict[str, tuple[tuple[str, Number | None], ...]], found: Findings
) -> tuple[WebbingAssessment, ...]:
    """What every station takes of each webbing, and whether there is enough.

    plan: the plan; cuts: by drop id, webbing ids with what is cut of each, None where unknown; found: where findings go
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
        places = fit(pieces, [c.value for _, _, c in known])
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
            )
        )
        _say(w, stock, total, places, len(takes) - len(known), found)
    return tuple(made)


def _say(
    w: Webbing, stock: Number | None, total: Number, places: list[int | None], unknown: int, found: Findings
) -> None:
    key = f"webbing.{w.id}"
    if not places and not unknown:
        return
    if None not in places and not (stock is None and unknown):
        if unknown:
            found.add(
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
        found.add(
            "webbing.stock",
            "Not checked",
            key,
            "Whether there is enough {webbing} is not known",
            "All stations together take {total}; not every piece in the shed is measured.",
            total=total,
            webbing=w.name,
        )
    elif stock.value < total.value:
        found.add(
            "webbing.stock",
            "Shortfall",
            key,
            "Too little {webbing} for the whole descent",
            "All stations together take {total}; there is {stock}.",
            total=total,
            stock=stock,
            webbing=w.name,
        )
    else:
        found.add(
            "webbing.stock",
            "Caution",
            key,
            "No way was found to cut {webbing} for every station",
            "All stations together take {total} of {stock}, but not out of the pieces as they are.",
            total=total,
            stock=stock,
            webbing=w.name,
        )


def piece_finding(webbing: Webbing, cut: Number, found: Findings) -> None:
    """Whether a piece of webbing is long enough for one station.

    webbing: as it lies in the shed; cut: what the station takes in one piece [m]; found: where the finding goes
    returns: nothing
    Source: none, comparison.
    """
    known = [p.length_m.value for p in webbing.pieces if p.length_m.kind == "known"]
    if len(known) < len(webbing.pieces) or not webbing.pieces:
        if max(known, default=0) < cut.value:
            found.add(
                "webbing.cut",
                "Not checked",
                "webbing",
                "How much {webbing} there is is unknown",
                "This station takes {cut} in one piece.",
                cut=cut,
                webbing=webbing.name,
            )
    elif max(known) < cut.value:
        found.add(
            "webbing.cut",
            "Shortfall",
            "webbing",
            "No piece of {webbing} is long enough",
            "This station takes {cut} in one piece; the longest is {stock}.",
            cut=cut,
            stock=Number(max(known), "fine length", "down"),
            webbing=webbing.name,
            working=cut.working,
        )
