"""Small plans to test with, and the generators of sections that property tests share."""

from __future__ import annotations

import math
from typing import Any

from hypothesis import strategies as st

from reamer.core.model import Plan
from reamer.core.reading import read_plan
from reamer.demos import _doubled, _drop, _known, _post, _quick, _range, _rope, _unknown, _wrap, canyon

known, unknown, capacity = _known, _unknown, _range


def rope(rope_id: str = "r1", length: float = 60.0, diameter: float = 9.0, kind: str = "low-stretch", **more: Any) -> dict:
    made = _rope(rope_id, more.pop("name", rope_id), kind, length, _known(length, "tape"), "no", diameter,
                 _range(20, 20, "label"), 3.0, "#336699", "plain", _known(0.0, "tape"))
    return {**made, **more}


def plan_of(system: dict, *, section: dict | None = None, rig: dict | None = None, landing: str = "ground",
            ropes: list[dict] | None = None, mass: float | None = 90.0, wet: str = "no", **more: Any) -> dict:
    """A plan with one drop, as plain data."""
    drop = _drop(1, "One", section or _quick(2, 0.2, 15, "tape", "rounded"), landing,
                 _post("block", "boulder", 1.2, 12, 20, "judged"), rig or _wrap(0.6), system)
    drop["station"]["wet"] = wet
    base = canyon().model_dump(mode="json")
    base.update(drops=[drop], title="Test", party=[] if mass is None else [
        {"id": "p1", "name": "P", "role": "guide", "mass_kg": _known(mass), "device": "eight", "tether": "rope"}], **more)
    base["shed"]["ropes"] = ropes if ropes is not None else [rope()]
    return base


def doubled(rope_id: str = "r1", pulled: str = "b", middle: str = "mark", stoppers: str = "ab") -> dict:
    return {"kind": "doubled", "rope": rope_id, "middle_by": middle, "pulled_end": pulled,
            "stoppers": [{"rope": rope_id, "end": e} for e in stoppers]}


def plan(system: dict | None = None, **more: Any) -> Plan:
    return read_plan(plan_of(system or doubled(), **more))


quick, wrap, post, canyon_doubled = _quick, _wrap, _post, _doubled


@st.composite
def descents(draw: st.DrawFn, overhangs: bool = True) -> list[tuple[float, float]]:
    """Terrain points going down from (0, 0), with ledges, slabs and, if wanted, overhangs."""
    points = [(0.0, 0.0)]
    for _ in range(draw(st.integers(1, 7))):
        length = draw(st.floats(0.3, 15.0))
        steepest = -125.0 if overhangs else -88.0
        angle = math.radians(draw(st.floats(steepest, -2.0)))
        x, z = points[-1]
        points.append((x + length * math.cos(angle), z + length * math.sin(angle)))
    return points
