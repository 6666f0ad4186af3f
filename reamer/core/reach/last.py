"""A system for the last person with the rope that the party used."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from reamer.core.answer.findings import Heard
from reamer.core.answer.look import Look
from reamer.core.model import (
    BlockedCord,
    BlockedSame,
    Doubled,
    EndRef,
    Joined,
    Known,
    Lowered,
    Releasable,
    Rope,
    RopeEnd,
    System,
    Unknown,
)
from reamer.core.reach.need import (
    HALF_CM,
    LEAST_M,
    LONGEST_M,
    SURFACE,
    let_out,
    longest_m,
    need_of,
    paid_out_m,
    ride_wanted_m,
    water_window,
)
from reamer.core.rope.rigged import strands
from reamer.core.rope.strands import Strand
from reamer.core.section.lengths import Lengths
from reamer.core.tables import row


def all_reach(look: Look, candidate: System, lengths: Lengths) -> bool:
    """Whether every strand of a system reaches, and nothing else rules it out.

    look: the station; candidate: the system; lengths: of the lines [m]
    returns: whether it does
    Source: see need_of.
    """
    trial = look.trying(candidate)
    heard = Heard(look.drop.id)
    hanging = heard.of(strands(trial))
    if not hanging or any(f.severity == "Shortfall" or f.code == "system.middle" for f in heard.findings):
        return False
    return all(_reaches(trial, s, lengths) for s in hanging)


def _reaches(look: Look, s: Strand, lengths: Lengths) -> bool:
    """Whether one strand has what it needs; over moving water, whether its end hangs as it may."""
    need, why = need_of(look, s, lengths)
    if why != SURFACE or s.low is None or s.high is None:
        return need is not None and s.low is not None and s.low.value >= need.value
    allow = row("landings", "moving water").low
    least, most = water_window(lengths)
    if least > most:
        least, most = most + allow, least - allow
    if isinstance(look.system, (BlockedSame, Releasable)):
        least = min(least, paid_out_m(least, most)[0])  # what is begun with is let out on site
    out = let_out(look.system, s.low.value, s.high.value)
    if not least - HALF_CM <= sum(out) / 2 <= most + HALF_CM:
        return False
    return "pull" not in s.role or longest_m(lengths).value - s.low.value <= -allow


def last_system(look: Look, lengths: Lengths) -> System | None:
    """A system for the last person with the rope that the party's state uses: the first of doubled, pull cord and block
    on the same rope of which every strand reaches.

    look: the station, with a system that must be converted; lengths: of the lines [m]
    returns: the system, None if none reaches
    Source: P, common practice, no source.
    """
    old = look.system
    if not isinstance(old, (Releasable, Lowered)):
        return None
    rope = look.ctx.ropes.get(old.rope)
    if rope is None or not lengths:
        return None
    end = old.end if isinstance(old, Lowered) else old.ridden_end
    return next((s for s in candidates_for_last(look, lengths, rope, end) if all_reach(look, s, lengths)), None)


def candidates_for_last(look: Look, lengths: Lengths, rope: Rope, end: RopeEnd) -> Iterator[System]:
    """Every system that the last person could ride on the party's rope, the simplest first.

    look: the station, with the party's system; lengths: of the lines [m]; rope, end: of it, and the end that is ridden
    returns: the systems
    Source: P, common practice, no source.
    """
    old, ropes, water = look.system, look.ctx.ropes, look.drop.landing.kind == "moving water"
    tails = Known(kind="known", value=row("knots", "tail.join").high, method="given")

    def stopped(*ends: tuple[Rope, RopeEnd]) -> tuple[EndRef, ...]:
        return () if water else tuple(EndRef(rope=r.id, end=e) for r, e in ends)

    def corded(cord: Rope) -> BlockedCord:
        return BlockedCord(
            kind="blocked, pull cord",
            rope=rope.id,
            ridden_end=end,
            cord=cord.id,
            cord_end="b",
            knot=look.policies.join,
            tails_m=tails,
            block="figure eight",
            carabiner=True,
            stoppers=stopped((rope, end)),
        )

    both, pulled = stopped((rope, "a"), (rope, "b")), _other(end)
    yield Doubled(kind="doubled", rope=rope.id, middle_by=_middle_by(rope), pulled_end=pulled, stoppers=both)
    yield from (corded(cord) for cord in ropes.values() if cord.kind == "pull cord")
    same = BlockedSame(
        kind="blocked, same rope",
        rope=rope.id,
        ridden_end=end,
        ride_m=Unknown(kind="unknown", why="not decided"),
        block="figure eight",
        carabiner=True,
        stoppers=stopped((rope, end)),
    )
    ride = old.ride_m.known if isinstance(old, Releasable) else None
    if ride is None:
        ride = ride_wanted_m(look.trying(same), lengths)
    if ride is not None and LEAST_M <= ride <= LONGEST_M:
        yield same.model_copy(update={"ride_m": Known(kind="known", value=ride, method="tape")})
    taken = (rope.id, old.reserve_rope if isinstance(old, Releasable) else None)
    for more in sorted((r for r in ropes.values() if r.kind != "pull cord"), key=lambda r: r.id):
        if more.id not in taken:
            through, other = (rope, more) if _thickness(rope) >= _thickness(more) else (more, rope)
            yield Joined(
                kind="joined",
                through=through.id,
                through_end=end,
                other=other.id,
                other_end=end,
                knot=look.policies.join,
                tails_m=tails,
                stoppers=stopped((through, end), (other, end)),
            )
            yield corded(more)


def _middle_by(rope: Rope) -> Literal["mark", "ends run together"]:
    return "mark" if rope.middle_mark and rope.middle_off_m.kind == "known" else "ends run together"


def _other(end: RopeEnd) -> RopeEnd:
    return "a" if end == "b" else "b"


def _thickness(rope: Rope) -> float:
    return rope.diameter_mm.known or 0.0
