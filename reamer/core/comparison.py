"""Every way to rig one station's rope that the kit allows, side by side: what each does, and what rules the others out."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from reamer.core.assess import DropAssessment, assess_drop
from reamer.core.context import Context
from reamer.core.findings import Edit
from reamer.core.model import BlockedCord, BlockedSame, Doubled, Drop, Joined, Known, Rope, System
from reamer.core.reading import read_model
from reamer.core.say import Number, Sentence
from reamer.core.tables import row

TEXTS = {
    "doubled": ("no", "both strands are ridden; nothing is blocked"),
    "joined": ("no", "the join must pass every edge on the side that is pulled"),
    "blocked, same rope": ("no", "everyone on the right strand; the block stays on its side"),
    "blocked, pull cord": ("no", "the cord cannot hold a person; the block stays on its side"),
}


@dataclass(frozen=True, slots=True)
class Way:
    """One way to rig the rope here.

    spare: least rope to spare of its strands; pull: worst force at the hand; weakest: part with the least margin on the rope's side
    and the whole tie; times: that margin over what is asked; ropes: kit used
    lowers: whether it can lower a stuck person; needs: what makes or breaks it
    shortfalls, not_checked: counted over the station; ruled_out: the first shortfall that this way itself has, None if none
    """

    key: str
    kind: str
    ropes: tuple[str, ...]
    in_use: bool
    spare: Number | None
    pull: Number | None
    band: str
    weakest: str
    times: Number | None
    lowers: str
    needs: str
    shortfalls: int
    not_checked: int
    ruled_out: Sentence | None
    open: Sentence | None
    edits: tuple[Edit, ...]


def _end(rope: str, end: str) -> dict[str, str]:
    return {"rope": rope, "end": end}


def _systems(ctx: Context, old: System) -> list[dict[str, Any]]:
    """Every system the kit allows; what the guide has decided in the one in use is kept."""
    ropes = [r for r in ctx.plan.shed.ropes if r.kind != "pull cord"]
    cords = [r for r in ctx.plan.shed.ropes if r.kind == "pull cord"]
    tails = old.tails_m.model_dump(mode="json") if hasattr(old, "tails_m") else {
        "kind": "known", "value": row("knots", "tail.join").high, "method": "given"}
    block = {"block": getattr(old, "block", "figure eight"), "carabiner": getattr(old, "carabiner", True)}
    if hasattr(old, "block_holds"):
        block["block_holds"] = old.block_holds.model_dump(mode="json")
    made: list[dict[str, Any]] = []
    for r in ropes:
        by = old.middle_by if old.kind == "doubled" and old.rope == r.id else "mark" if r.middle_mark and r.middle_off_m.kind == "known" else "ends run together"
        made.append({"kind": "doubled", "rope": r.id, "middle_by": by, "pulled_end": getattr(old, "pulled_end", "b"), "stoppers": [_end(r.id, "a"), _end(r.id, "b")]})
    for i, a in enumerate(ropes):
        for b in ropes[:i]:
            # The thicker rope goes through the ring; of unknown ones the first in the shed.
            through, other = (a, b) if _thick(a) > _thick(b) else (b, a)
            made.append({"kind": "joined", "through": through.id, "through_end": "b", "other": other.id, "other_end": "b", "tails_m": tails,
                         "stoppers": [_end(through.id, "b"), _end(other.id, "b")]})
    for r in ropes:
        made.append({"kind": "blocked, same rope", "rope": r.id, "ridden_end": "b", "ride_m": {"kind": "unknown", "why": "not decided"}, "stoppers": [_end(r.id, "b")], **block})
        for c in cords:
            made.append({"kind": "blocked, pull cord", "rope": r.id, "ridden_end": "b", "cord": c.id, "cord_end": "b", "tails_m": tails, "stoppers": [_end(r.id, "b")], **block})
    return made


def _thick(rope: Rope) -> float:
    return rope.diameter_mm.value if rope.diameter_mm.kind == "known" else 0.0


def _with(drop: Drop, which: int, system: System) -> Drop:
    states = tuple(s.model_copy(update={"system": system, "serves": "all"}) for i, s in enumerate(drop.station.states) if i == which)
    return drop.model_copy(update={"station": drop.station.model_copy(update={"states": states})})


def compare_systems(ctx: Context, index: int, drop: Drop, which: int = 0) -> tuple[Way, ...]:
    """Every system for one station that the kit of the plan allows, the best first.

    ctx: the plan's context; index: the drop's place in the plan, from 0; drop: the drop; which: of its station's states, from 0
    returns: the ways, fewest shortfalls first, then fewest unchecked, then the easiest pull
    Source: P, common practice, no source; see the functions it calls.
    """
    old = drop.station.states[which].system
    made: list[Way] = []
    seen_in_use = False
    for data in _systems(ctx, old):
        system = _read(data)
        if system.kind == "blocked, same rope":
            system = _long_enough(ctx, index, drop, which, system, old)
        in_use = _same(system, old)
        if in_use:
            system, seen_in_use = old, True
        made.append(_way(ctx, index, _with(drop, which, system), which, system, in_use))
    if not seen_in_use and old.kind != "none":
        made.append(_way(ctx, index, _with(drop, which, old), which, old, True))
    return tuple(sorted(made, key=lambda w: (w.shortfalls, w.not_checked, w.pull.value if w.pull else math.inf)))


def _read(data: dict[str, Any]) -> System:
    return read_model({"doubled": Doubled, "joined": Joined, "blocked, same rope": BlockedSame, "blocked, pull cord": BlockedCord}[data["kind"]], data)


def _same(a: System, b: System) -> bool:
    """Whether two systems are the same way with the same ropes, whatever their details."""
    names = ("rope", "through", "other", "cord")
    return a.kind == b.kind and {getattr(a, n, None) for n in names} == {getattr(b, n, None) for n in names}


def _long_enough(ctx: Context, index: int, drop: Drop, which: int, system: System, old: System) -> System:
    """A blocked rope whose ride strand gets just what it needs, or what the guide has given it."""
    if old.kind == system.kind and old.rope == system.rope:
        return old
    need = next((r.need for r in assess_drop(ctx, index, _with(drop, which, system))[0].reach if r.role == "ride" and r.need), None)
    if need is None:
        return system
    more = row("ropes", "ride.more").high
    return system.model_copy(update={"ride_m": Known(kind="known", value=math.ceil(need.value) + more, method="tape")})


def _way(ctx: Context, index: int, drop: Drop, which: int, system: System, in_use: bool) -> Way:
    a: DropAssessment = assess_drop(ctx, index, drop)[0]
    spares = [r.spare for r in a.reach]
    own = [f for f in a.findings if f.subject.part.split(".")[0] not in ("anchor", "webbing", "point", "leg", "link", "loop", "section", "edge")]
    weakest = next((p for p in a.parts if p.weakest), None)
    ropes = tuple(ctx.ropes[i].name for i in dict.fromkeys(getattr(system, n) for n in ("rope", "through", "other", "cord") if hasattr(system, n)) if i in ctx.ropes)
    lowers, needs = TEXTS[system.kind]
    first = next((f.title for f in own if f.severity == "Shortfall"), None)
    blank = next((f.title for f in own if f.severity == "Not checked"), None)
    at = ("drops", index, "station", "states", which, "system")
    return Way("|".join((system.kind, *ropes)), a.system, ropes, in_use, None if None in spares or not spares else min(spares, key=lambda n: n.value), a.pull.worst, a.pull.band,
               weakest.name if weakest else "", weakest.times if weakest else None, lowers, needs, a.tally["Shortfall"], a.tally["Not checked"], first, blank,
               () if in_use else (Edit(at, system.model_dump(mode="json")),))
