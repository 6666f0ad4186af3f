"""Small plans to test with, and the generators of sections that property tests share."""

from __future__ import annotations

import functools
import json
import math
import pickle
import zlib
from typing import Any

from hypothesis import strategies as st

from reamer.core.model import Plan
from reamer.core.reading import read_plan
from reamer.demos import canyon


def known(value: float, method: str = "given") -> dict[str, Any]:
    return {"kind": "known", "value": value, "method": method}


def unknown(why: str) -> dict[str, Any]:
    return {"kind": "unknown", "why": why}


def capacity(low: float, high: float, source: str) -> dict[str, Any]:
    return {"kind": "range", "low_kn": low, "high_kn": high, "source": source}


def quick(
    setback: float, fall: float, height: float, method: str, edge: str, face: float = 90, recess: float = 0
) -> dict:
    return {
        "kind": "quick",
        "setback_m": known(setback, "tape"),
        "edge_fall_m": known(fall, "tape"),
        "height_m": known(height, method),
        "face_deg": known(face),
        "recess_m": known(recess, "eye"),
        "edge": edge,
    }


def post(name: str, what: str, girth: float, low: float, high: float, why: str) -> dict:
    return {
        "kind": "post",
        "id": "post",
        "name": name,
        "what": what,
        "girth_m": known(girth, "tape"),
        "surface": "bark" if what == "tree" else "rock",
        "sharpness": "rounded",
        "holds": capacity(low, high, why),
        "sound": "yes" if what == "tree" else "unknown",
    }


def wrap(gain: float, bend: str = "back", pattern: str = "simple wrap") -> dict:
    return {
        "kind": "wrap",
        "post": "post",
        "pattern": pattern,
        "webbing": "web-25",
        "ring": "ring-steel",
        "gain_m": known(gain),
        "bend_at": bend,
    }


def canyon_doubled(pulled: str = "b") -> dict:
    return {
        "kind": "doubled",
        "rope": "rope-blue",
        "middle_by": "mark",
        "pulled_end": pulled,
        "stoppers": [{"rope": "rope-blue", "end": "a"}, {"rope": "rope-blue", "end": "b"}],
    }


def drop(
    n: int, name: str, section: dict, landing: str, feature: dict, rig: dict, system: dict, notes: str = ""
) -> dict:
    single = [("anchor", "one solid post, tried"), ("webbing", "on rounded rock, looked at all round")]
    if system["kind"].startswith("blocked"):
        single.append(("ring", "rated, new"))
    return {
        "id": f"d{n}",
        "name": name,
        "section": section,
        "landing": {"kind": landing},
        "notes": notes,
        "cracks": "no",
        "station": {
            "features": [feature],
            "wet": "yes",
            "strands_hang": "side by side",
            "states": [
                {
                    "id": "main",
                    "serves": "all",
                    "rig": rig,
                    "system": system,
                    "pulled_lies": "left",
                    "accepted": [
                        {"part": p, "reason": r} for p, r in single if feature["kind"] == "post" or p == "ring"
                    ],
                }
            ],
        },
    }


def rope_item(
    rope_id: str,
    name: str,
    kind: str,
    nominal: float,
    measured: dict,
    wet: str,
    d: float,
    strength: dict,
    elongation: float,
    colour: str,
    stripe: str,
    middle: dict | None = None,
    fibre: str = "polyester",
) -> dict:
    return {
        "id": rope_id,
        "name": name,
        "kind": kind,
        "nominal_m": known(nominal),
        "measured_m": measured,
        "wet_since_measured": wet,
        "diameter_mm": known(d),
        "fibre": fibre,
        "strength_kn": strength,
        "elongation_pct": known(elongation),
        "middle_mark": middle is not None,
        "middle_off_m": middle or unknown("no mark"),
        "colour": colour,
        "stripe": stripe,
    }


def rope(
    rope_id: str = "r1", length: float = 60.0, diameter: float = 9.0, kind: str = "low-stretch", **more: Any
) -> dict:
    made = rope_item(
        rope_id,
        more.pop("name", rope_id),
        kind,
        length,
        known(length, "tape"),
        "no",
        diameter,
        capacity(20, 20, "label"),
        3.0,
        "#336699",
        "plain",
        known(0.0, "tape"),
    )
    return {**made, **more}


@functools.cache
def _base() -> bytes:
    """The demonstration as plain data, which each plan gets a copy of."""
    return pickle.dumps(canyon().model_dump(mode="json"))


def plan_of(
    system: dict,
    *,
    section: dict | None = None,
    rig: dict | None = None,
    landing: str = "ground",
    ropes: list[dict] | None = None,
    mass: float | None = 90.0,
    wet: str = "no",
    **more: Any,
) -> dict:
    """A plan with one drop, as plain data."""
    one = drop(
        1,
        "One",
        section or quick(2, 0.2, 15, "tape", "rounded"),
        landing,
        post("block", "boulder", 1.2, 12, 20, "judged"),
        rig or wrap(0.6),
        system,
    )
    one["station"]["wet"] = wet
    base: dict[str, Any] = pickle.loads(_base())
    base.update(
        drops=[one],
        title="Test",
        carry={},
        contingencies={},
        party=(
            []
            if mass is None
            else [
                {
                    "id": "p1",
                    "name": "P",
                    "role": "guide",
                    "mass_kg": known(mass),
                    "device": "eight",
                    "tether": "rope",
                    "hitch": {"loop": "loop-60", "wraps": known(4), "clipped_m": known(-0.1)},
                    "attachment": {"way": "double-length nylon sling", "device_m": known(0.45, "tape")},
                }
            ]
        ),
    )
    base.update(more)
    base["shed"]["ropes"] = ropes if ropes is not None else [rope()]
    return base


def doubled(rope_id: str = "r1", pulled: str = "b", middle: str = "mark", stoppers: str = "ab") -> dict:
    return {
        "kind": "doubled",
        "rope": rope_id,
        "middle_by": middle,
        "pulled_end": pulled,
        "stoppers": [{"rope": rope_id, "end": e} for e in stoppers],
    }


def plan(system: dict | None = None, **more: Any) -> Plan:
    return read_plan(plan_of(system or doubled(), **more))


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


def rated(feature_id: str, low: float = 20, high: float = 25, **more: Any) -> dict:
    return {
        "kind": "rated",
        "id": feature_id,
        "name": f"bolt {feature_id}",
        "what": "bolt",
        "in_place": "no",
        "holds": capacity(low, high, "placed and tested"),
        **more,
    }


def leg(anchor: str, out: float, aside: float, up: float = 0.0, of: str = "web-25") -> dict:
    return {
        "id": f"l-{anchor}",
        "anchor": anchor,
        "of": of,
        "out_m": known(out, "tape"),
        "aside_m": known(aside, "tape"),
        "up_m": known(up, "tape"),
    }


def several(
    *legs: dict,
    focal: str = "knotted",
    out: float = 0.6,
    aside: float = 0.0,
    up: float = 0.0,
    down: float | None = 0.0,
    swing: float = 15,
    **more: Any,
) -> dict:
    return {
        "kind": "several",
        "legs": list(legs),
        "focal": focal,
        "knot": "overhand",
        "out_m": known(out),
        "aside_m": known(aside),
        "up_m": known(up),
        "down_deg": known(down) if down is not None else unknown("as the rope runs"),
        "swing_deg": known(swing),
        "ring": "ring-steel",
        **more,
    }


def anchored(rig: dict, *features: dict, system: dict | None = None, **more: Any) -> dict:
    """A plan with one drop whose station is rigged so, as plain data."""
    data = plan_of(system or doubled(), rig=rig, **more)
    data["drops"][0]["station"]["features"] = list(features)
    return data


TWO_BOLTS = (rated("a"), rated("b"))


def two_bolts(focal: str = "knotted", half: float = 0.2, **more: Any) -> dict:
    """Two bolts side by side, the focal point 0.6 m out between them."""
    keep = {
        k: more.pop(k) for k in list(more) if k in ("of", "out", "aside", "swing", "slack_m", "knot", "links", "down")
    }
    of = keep.pop("of", "web-25")
    return anchored(
        several(leg("a", 0, half, of=of), leg("b", 0, -half, of=of), focal=focal, **keep), *TWO_BOLTS, **more
    )


def ice(**more: Any) -> dict:
    return {
        "kind": "ice thread",
        "id": "post",
        "name": "thread",
        "screw_m": known(0.21),
        "spacing_m": known(0.20, "tape"),
        "first_deg": known(60),
        "second_deg": known(60),
        "ice": "solid",
        "wet_cold": "no",
        "cord": "c7",
        "in_place": "no",
        "seen_whole": "yes",
        "backed_up": "to the rope",
        **more,
    }


def mass(**more: Any) -> dict:
    return {
        "kind": "mass",
        "long_m": known(1.2, "tape"),
        "wide_m": known(1.0, "tape"),
        "high_m": known(0.8, "tape"),
        "bed": "dry rock",
        "slope_deg": known(0),
        "under_water": "no",
        "height_m": known(0.2, "tape"),
        "depth_m": known(1.0, "tape"),
        **more,
    }


def iced(**more: Any) -> dict:
    data = anchored({"kind": "direct", "anchor": "post", "ring": None, "gain_m": known(0.1)}, ice(**more))
    data["shed"]["ropes"] = [
        rope(),
        rope(
            "c7", 5, 7, "pull cord", name="cord 7", fibre="nylon", strength_kn=capacity(9.8, 9.8, "EN 564, from memory")
        ),
    ]
    return data


def courtesy(**more: Any) -> dict:
    """The ring at the tree for the party, over the edge for the last person."""
    data = plan_of(doubled(), **more)
    station = data["drops"][0]["station"]
    party = station["states"][0]
    last = {
        **party,
        "id": "last",
        "serves": "last",
        "rig": {
            **party["rig"],
            "links": [{"kind": "webbing", "id": "ext", "webbing": "web-25", "same": False, "reach_m": known(1.8)}],
        },
    }
    station["states"] = [{**party, "serves": "party"}, last]
    return data


def releasable(ride: float, **more: Any) -> dict:
    """A rope tied off releasable, as plain data."""
    return {
        "kind": "releasable",
        "rope": "r1",
        "ridden_end": "b",
        "ride_m": known(ride, "tape"),
        "tie_off": "munter-mule-overhand",
        "stoppers": [{"rope": "r1", "end": "b"}],
        **more,
    }


def bights(**more: Any) -> dict:
    """A chain of alternating bights in the middle of one rope, as plain data."""
    return {
        "kind": "alternating bights",
        "rope": "r1",
        "ridden_end": "b",
        "bights": known(5),
        "last_m": known(0.4),
        "stoppers": [{"rope": "r1", "end": "b"}],
        **more,
    }


def water(system: dict, height: float = 8, **more: Any) -> dict:
    """One drop into moving water, low enough to be set at home; the last person rides a block at the same length."""
    data = plan_of(
        {**system, "stoppers": []}, section=quick(0, 0, height, "tape", "rounded"), landing="moving water", **more
    )
    states = data["drops"][0]["station"]["states"]
    if system["kind"] == "releasable":
        last = {
            "kind": "blocked, same rope",
            "rope": system["rope"],
            "ridden_end": system["ridden_end"],
            "ride_m": known(height - 0.75, "tape"),
            "block": "stone hitch",
            "carabiner": True,
        }
        data["drops"][0]["station"]["states"] = [
            {**states[0], "serves": "party"},
            {**states[0], "id": "last", "serves": "last", "system": last},
        ]
    return data


def two_drops(first: dict, second: dict, **more: Any) -> dict:
    """Two drops alike, each with its system; ``threaded`` and ``run_through`` of a system are put into its state."""
    data = plan_of(first, **more)
    states = data["drops"][0]["station"]["states"]
    system = dict(second)
    after = {**states[0], **{k: system.pop(k) for k in ("threaded", "run_through") if k in system}, "system": system}
    station = {**data["drops"][0]["station"], "states": [after]}
    data["drops"].append({**data["drops"][0], "id": "d2", "name": "Two", "station": station})
    data["drops"][0] = {**data["drops"][0], "onward": []}
    return data


NOVICES: dict[str, Any] = {
    "party": [
        {"id": f"p{i}", "name": f"P{i}", "role": role, "mass_kg": known(80), "device": "eight", "tether": "rope"}
        for i, role in enumerate(("guide", "able", "novice"))
    ]
}


def alternating() -> dict:
    """Two drops on two joined ropes of different diameter: what is pulled first is not what the next station
    threads."""
    joined = {
        "kind": "joined",
        "through": "r1",
        "through_end": "b",
        "other": "r2",
        "other_end": "b",
        "tails_m": known(0.3),
        "stoppers": [],
    }
    return two_drops(joined, joined, ropes=[rope(), rope("r2", diameter=8.0)])


def handed_back(corrections: list[dict[str, Any]], sealed: bool = True, **more: Any) -> str:
    """What a phone hands back, as it writes it."""
    of = {"card": "a" * 16, "plan": "", "revision": 1, "title": "A plan", "version": "b" * 8, "device": "c" * 16}
    of |= {"by": "Wren", "on": "2026-05-02", **more}
    text = json.dumps({"format": 1, "kind": "corrections", **of, "corrections": corrections}, separators=(",", ":"))
    return f'{text[:-1]},"crc":"{zlib.crc32(text.encode()):08x}"}}' if sealed else text
