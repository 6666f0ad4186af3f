"""Which parts would drop the rider if they alone failed."""

from __future__ import annotations

from collections.abc import Iterable

from reamer.core.model import State, Wrap
from reamer.core.tables import patterns

ROCK, RIDER = "rock", "rider"


def single_points(edges: Iterable[tuple[str, str]], start: str, end: str) -> set[str]:
    """Parts without which there is no way from one end of a load path to the other.

    edges: pairs of parts that hang together; start, end: the two ends
    returns: the parts, the ends left out; empty if the ends do not hang together at all
    Source: HB, removal of each vertex in turn.

    >>> path = [("rock", "a"), ("rock", "b"), ("a", "ring"), ("b", "ring"), ("ring", "rider")]
    >>> sorted(single_points(path, "rock", "rider"))
    ['ring']
    """
    near: dict[str, set[str]] = {}
    for a, b in edges:
        near.setdefault(a, set()).add(b)
        near.setdefault(b, set()).add(a)

    def joined(without: str) -> bool:
        seen, queue = {start, without}, [start]
        while queue:
            for part in near.get(queue.pop(), ()):
                if part == end:
                    return True
                if part not in seen:
                    seen.add(part)
                    queue.append(part)
        return False

    if not joined(""):
        return set()
    return {part for part in near if part not in (start, end) and not joined(part)}


def load_edges(rig: object, keys: list[str], pieces: bool = False) -> list[tuple[str, str]]:
    """The load path as pairs of parts, from rock to rider.

    rig: how the station is tied; keys: the parts in order, as the load path names them; pieces: the one anchor is of
    several pieces
    returns: the pairs; two separately tied loops stand side by side, all other parts in a row
    Source: P, table of patterns for which are redundant. Both ridden strands of one rope must hold: a row.
    """
    redundant = patterns()[rig.pattern].redundant if isinstance(rig, Wrap) else "no"
    edges: list[tuple[str, str]] = []
    last = [ROCK]
    points = [k for k in keys if k.startswith("point.")]
    if points:
        # Points stand side by side, each with its own leg where a knot holds the legs apart.
        edges += [(ROCK, p) for p in points]
        own = [(p, p.replace("point.", "leg.", 1)) for p in points if p.replace("point.", "leg.", 1) in keys]
        edges += own
        last = [leg for _, leg in own] or points
    stacked = (
        [
            f"link.{link.id}"
            for link in getattr(rig, "links", ())
            if link.kind == "connector" and link.stacked and f"link.{link.id}" in keys
        ]
        if "ring" in keys
        else []
    )
    for key in keys:
        if key.startswith(("point.", "leg.")) or key in stacked:
            continue
        if key == "ring" and stacked:
            # The rope runs through all of them: either alone holds.
            edges += [(a, b) for a in last for b in (key, *stacked)]
            last = [key, *stacked]
            continue
        if key == "anchor" and pieces:
            last = ["anchor, one piece", "anchor, another"]
            edges += [(ROCK, p) for p in last]
            continue
        if key == "webbing" and redundant != "no":
            loops = ["webbing, first loop", "webbing, second loop"]
            edges += [(a, loop) for a in last for loop in loops]
            last = loops
            if redundant == "yes":
                continue
        edges += [(a, key) for a in last]
        last = [key]
    return edges + [(a, RIDER) for a in last]


def by_practice(key: str, state: State) -> str:
    """Why practice accepts a part as a single point, "" if it does not.

    key: the part's key; state: how the station is rigged
    returns: the reason in words
    Source: P, common practice, no source.
    """
    if key in ("join", "block") or key.startswith("rope."):
        return "the rope, by common practice"
    if key.startswith("device."):
        return "the rider's own device and harness, by common practice"
    if key == "ring" and state.system.kind in ("doubled", "joined"):
        return "one ring with two strands, by common practice"
    return ""
