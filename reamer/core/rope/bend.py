"""A strand bent over a connector: the share of its strength that it keeps, with the formula it comes from."""

from __future__ import annotations

import math

from reamer.core.answer.findings import Says, say
from reamer.core.answer.say import Number
from reamer.core.answer.typed import typed
from reamer.core.answer.working import Term, from_row
from reamer.core.model import Figure, Ring, Rope, Sling, Webbing
from reamer.core.tables import row


def bend_share(bar_mm: float, thickness_mm: float) -> tuple[float, float]:
    """Share of a strand's strength kept where it bends over a bar, low and high.

    share = 1 − 0.5/√(D/d); under D/d = 1 from one half down to the table's least at D/d = 0.5, in proportion

    bar_mm: D, the bar's thickness [mm]; thickness_mm: d, the strand's thickness [mm]
    returns: low and high [-]
    Source: HB, wire rope bending rule, from memory, used as an estimate; under D/d = 1 J.

    >>> [round(bend_share(d, 1)[0], 2) for d in (0.4, 0.5, 0.75, 1, 2, 4)]
    [0.25, 0.25, 0.38, 0.5, 0.65, 0.75]
    """
    if bar_mm < thickness_mm:
        least, rule = row("materials", "bend.least").low, 1 - row("materials", "bend.rule").low
        share = max(least, least + (rule - least) * (bar_mm / thickness_mm - 0.5) / 0.5)
        return share, share
    share = 1 - row("materials", "bend.rule").low / math.sqrt(bar_mm / thickness_mm)
    return share, share


def bent(
    ring: Ring, what: Webbing | Sling | Rope, thickness_mm: float, end: str, bar_at: tuple[str, ...] | None = None
) -> tuple[float, str, list[Term]]:
    """The share a strand keeps over a connector's bar, or over a plate's edge.

    share = 1 − c/√(D/d); over a bar thinner than the strand down to the table's least at half its thickness, in
    proportion

    ring: the connector, its thickness known [mm]; what: is bent over it; thickness_mm: the strand's [mm]; end: low or
    high; bar_at: where the connector's thickness was typed, where it is no connector of the shed
    returns: the share [-], its formula, the formula's terms
    Source: HB, wire rope bending rule, from memory; under D/d = 1 and over a plate J.
    """
    if ring.kind == "plate":
        plate = row("materials", "bend.thin")
        share = plate.low if end == "low" else plate.high
        return share, "b0", [from_row("b0", plate, share, "share")]
    rule, bar = row("materials", "bend.rule"), ring.thickness_mm.known
    assert bar is not None, "an unknown thickness is said before"
    terms = [
        from_row("c", rule, rule.low, "share"),
        Term(
            "D",
            f"thickness of {ring.name}",
            bar,
            "diameter",
            "entered",
            typed=typed(ring, "thickness_mm") if bar_at is None else bar_at,
        ),
        Term(
            "d",
            f"thickness of {what.name}",
            thickness_mm,
            "diameter",
            "entered",
            typed=typed(what, "diameter_mm", "thickness_mm"),
        ),
    ]
    share = bend_share(bar, thickness_mm)[0]
    if bar >= thickness_mm:
        return share, "1 - c/sqrt(D/d)", terms
    least = row("materials", "bend.least")
    return share, "max(b0, b0 + (1 - c - b0)*(2*D/d - 1))", [*terms, from_row("b0", least, least.low, "share")]


def thin_bar(ring: Ring, over: str, thickness: Figure) -> Says[None]:
    """Say that something bends over a plate's edge, or over a bar less than half as thick.

    ring: the connector; over: what bends over it; thickness: that one's [mm]
    returns: nothing
    Source: J, table of materials; P for a rope that cannot be pulled through a plate.
    """
    plate, least = row("materials", "bend.thin"), row("materials", "bend.least")
    if ring.kind == "plate":
        yield say(
            "ring.thin",
            "Caution",
            "ring",
            "{over} bends over the edge of {ring}",
            "Of its strength {low} to {high} is counted, and a rope through a plate may be impossible to pull. Hang a"
            " ring or link in it.",
            low=Number(plate.low, "part", "down"),
            high=Number(plate.high, "part", "up"),
            ring=ring.name,
            over=over,
        )
        return
    bar, thick = ring.thickness_mm.known, thickness.known
    if bar is not None and thick is not None and bar < thick / 2:
        yield say(
            "ring.thin",
            "Caution",
            "ring",
            "{ring} is less than half as thick as {over}",
            "A bar of {bar} under {thick}: the bending rule does not reach there; {low} of its strength is counted.",
            low=Number(least.low, "part", "down"),
            bar=Number(bar, "diameter"),
            thick=Number(thick, "diameter"),
            ring=ring.name,
            over=over,
        )
