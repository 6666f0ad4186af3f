"""Demonstration plans: invented descents, people and kit. None of it is any real place or product."""

from __future__ import annotations

from typing import Any

from reamer.core.model import Plan
from reamer.core.reading import read_plan

RING = "ring-steel"


def _known(value: float, method: str = "given") -> dict[str, Any]:
    return {"kind": "known", "value": value, "method": method}


def _unknown(why: str) -> dict[str, Any]:
    return {"kind": "unknown", "why": why}


def _range(low: float, high: float, source: str) -> dict[str, Any]:
    return {"kind": "range", "low_kn": low, "high_kn": high, "source": source}


def _quick(setback: float, fall: float, height: float, method: str, edge: str, face: float = 90, recess: float = 0) -> dict:
    return {"kind": "quick", "setback_m": _known(setback, "tape"), "edge_fall_m": _known(fall, "tape"),
            "height_m": _known(height, method), "face_deg": _known(face), "recess_m": _known(recess, "eye"), "edge": edge}


def _shots(method: str, *legs: tuple[float, float, str]) -> dict:
    return {"kind": "shots", "shots": [
        {"id": f"s{i}", "slope_m": _known(slope, method), "incl_deg": _known(incl), "edge": edge}
        for i, (slope, incl, edge) in enumerate(legs, 1)]}


def _post(name: str, what: str, girth: float, low: float, high: float, why: str) -> dict:
    return {"kind": "post", "id": "post", "name": name, "what": what, "girth_m": _known(girth, "tape"),
            "surface": "bark" if what == "tree" else "rock", "sharpness": "rounded", "holds": _range(low, high, why)}


def _wrap(gain: float, bend: str = "back", pattern: str = "simple wrap") -> dict:
    return {"kind": "wrap", "post": "post", "pattern": pattern, "webbing": "web-25", "ring": RING,
            "gain_m": _known(gain), "bend_at": bend}


def _doubled(pulled: str = "b") -> dict:
    return {"kind": "doubled", "rope": "rope-blue", "middle_by": "mark", "pulled_end": pulled,
            "stoppers": [{"rope": "rope-blue", "end": "a"}, {"rope": "rope-blue", "end": "b"}]}


def _drop(n: int, name: str, section: dict, landing: str, feature: dict, rig: dict, system: dict, notes: str = "") -> dict:
    single = [("anchor", "one solid post, tried"), ("webbing", "on rounded rock, looked at all round")]
    if system["kind"].startswith("blocked"):
        single.append(("ring", "rated, new"))
    return {"id": f"d{n}", "name": name, "section": section, "landing": {"kind": landing}, "notes": notes,
            "station": {"features": [feature], "wet": "yes",
                        "states": [{"id": "main", "serves": "all", "rig": rig, "system": system,
                                    "accepted": [{"part": p, "reason": r} for p, r in single if feature["kind"] == "post" or p == "ring"]}]}}


def _rope(rope_id: str, name: str, kind: str, nominal: float, measured: dict, wet: str, d: float, strength: dict,
          elongation: float, colour: str, stripe: str, middle: dict | None = None, fibre: str = "polyester") -> dict:
    return {"id": rope_id, "name": name, "kind": kind, "nominal_m": _known(nominal), "measured_m": measured,
            "wet_since_measured": wet, "diameter_mm": _known(d), "fibre": fibre, "strength_kn": strength,
            "elongation_pct": _known(elongation), "middle_mark": middle is not None,
            "middle_off_m": middle or _unknown("no mark"), "colour": colour, "stripe": stripe}


def canyon() -> Plan:
    """A wet slot with nine drops for two guides and four guests, with faults planted for the tool to find.

    returns: the plan; its faults are a rope too short on drop 3 once the height's error is counted, that rope's
        length taken from its label, a needless overhand that weakens the wrap on drop 4, a wide-angled wrap on
        drop 5 and an anchor nobody has looked at on drop 7
    Source: invented.
    """
    single = {"kind": "blocked, pull cord", "rope": "rope-green", "ridden_end": "b", "cord": "cord-orange",
              "cord_end": "b", "tails_m": _known(0.3), "block": "figure eight", "carabiner": True,
              "stoppers": [{"rope": "rope-green", "end": "b"}]}
    drops = [
        _drop(1, "Lintel", _quick(1.2, 0.1, 8, "tape", "rounded"), "pool",
              _post("alder", "tree", 0.9, 9, 14, "alive, rooted in soil, 0.29 m thick"), _wrap(0.5), _doubled()),
        _drop(2, "Churn", _shots("tape", (1.8, -8, "rounded"), (5.2, -76, "rounded"), (6.9, -88, "rounded")), "pool",
              _post("jammed block", "boulder", 1.6, 10, 16, "wedged on three sides, tried with a bar"),
              _wrap(0.7, pattern="wrap two, pull one"), _doubled()),
        _drop(3, "Long Quiet", _shots("guidebook", (1.6, -4, "rounded"), (2.3, -8, "coarse"), (3.6, -81, "rounded"),
                                      (3.2, -97, "rounded"), (2.9, -79, "rounded"), (13.0, -87, "rounded"),
                                      (7.2, -90, "rounded")), "pool",
              _post("flat boulder", "boulder", 2.4, 9.5, 15, "2.1 t, bedded, does not rock"), _wrap(0.85), single,
              "Height from a printed description; nobody in the party has measured it."),
        _drop(4, "Sill", _quick(0.9, 0.2, 6, "tape", "rounded", 78), "wading",
              _post("horn", "horn", 1.1, 12, 20, "solid, sounds dull, rope cannot lift off"),
              _wrap(0.45, pattern="simple wrap, overhand"), _doubled("a")),
        _drop(5, "Bolt of Cloth", _quick(2.2, 0.4, 18, "rangefinder", "coarse"), "pool",
              _post("broad boulder", "boulder", 3.4, 14, 22, "about 4 t, bedded in gravel"), _wrap(0.06, "leg"), _doubled()),
        _drop(6, "Cellar", _shots("tape", (1.5, -10, "rounded"), (7.5, -86, "rounded"), (5.0, -118, "rounded"),
                                  (3.0, -20, "rounded"), (11.0, -89, "rounded")), "ground",
              _post("twin-stem oak", "tree", 1.25, 11, 18, "alive, two stems from one root"), _wrap(0.6), _doubled("a")),
        _drop(7, "Step Nine", _quick(0.3, 0.0, 9, "tape", "rounded", 84), "ledge",
              {"kind": "rated", "id": "post", "name": "two bolts found in place", "in_place": "yes",
               "holds": _unknown("not tested, not inspected")},
              {"kind": "direct", "anchor": "post", "ring": RING, "gain_m": _known(0.2), "links": [
                  {"kind": "connector", "id": "link", "ring": "link-8", "loaded": "long axis", "reach_m": _known(0.05)}]}, _doubled()),
        _drop(8, "Under the Ferns", _quick(1.7, 0.3, 14, "tape", "rounded", 90, 1.2), "pool",
              _post("chockstone", "boulder", 1.9, 11, 17, "jammed between both walls"),
              _wrap(0.8, pattern="redundant wrap two, pull one"), _doubled("a")),
        _drop(9, "Way Out", _quick(2.8, 0.5, 21, "rangefinder", "coarse", 86), "ground",
              _post("ash", "tree", 1.05, 10, 15, "alive, straight, 0.33 m thick"), _wrap(0.55, pattern="basket"), _doubled()),
    ]
    shed = {
        "ropes": [
            _rope("rope-blue", "Blue 60", "low-stretch", 60, _known(59.4, "tape"), "no", 9.0,
                  _range(19.5, 19.5, "label"), 3.2, "#2f6f9f", "dashes", _known(0.1, "tape")),
            _rope("rope-green", "Green 35", "low-stretch", 35, _unknown("never measured"), "yes", 9.2,
                  _range(20, 20, "label"), 3.5, "#3f7d4e", "long dash"),
            _rope("rope-slate", "Slate 50", "low-stretch", 50, _known(48.7, "tape"), "no", 9.2,
                  _range(20, 20, "label"), 3.5, "#6b7280", "bars"),
            _rope("cord-orange", "Orange cord 60", "pull cord", 60, _known(58.0, "tape"), "no", 6.0,
                  _range(7.2, 7.2, "EN 564, from memory"), 5.0, "#d0742a", "dots"),
        ],
        "webbing": [{"id": "web-25", "name": "25 mm tubular nylon", "fibre": "nylon", "thickness_mm": _known(3.0),
                     "strength_kn": _range(17.8, 17.8, "P: common practice, about 4,000 lbf"),
                     "pieces": [{"id": f"p{i}", "length_m": _known(m, "tape")} for i, m in enumerate((20, 18, 12.5), 1)]}],
        "slings": [{"id": "sling-120", "name": "120 cm nylon sling", "fibre": "nylon", "rating_kn": _range(22, 22, "label, EN 566"),
                    "length_m": _known(1.2, "tape")}],
        "rings": [{"id": RING, "name": "steel ring 10 mm", "kind": "ring", "thickness_mm": _known(10), "opening_mm": _known(36),
                   "rating_kn": _range(25, 25, "stamped")},
                  {"id": "link-8", "name": "screw link 8 mm", "kind": "link", "thickness_mm": _known(8), "opening_mm": _known(17),
                   "rating_kn": _range(25, 25, "stamped, EN 12275 Q"), "cross_kn": _range(10, 10, "stamped, EN 12275 Q")}],
        "devices": [{"id": "eight", "name": "figure-eight device", "rating_kn": _range(25, 25, "stamped")}],
        "tethers": [{"id": "nylon", "name": "120 cm nylon tether, bight knot", "made_of": "sewn sling", "fibre": "nylon",
                     "strength_kn": _range(22, 22, "label, EN 566"), "knot": "overhand"},
                    {"id": "rope", "name": "dynamic rope tether", "made_of": "dynamic rope", "fibre": "nylon",
                     "strength_kn": _range(20, 20, "maker's test sheet"), "knot": "figure eight", "impact_kn": _known(8.6), "rated": "single"}],
    }
    party = [("lead", "Maren", "guide", 84, "rope"), ("second", "Tove", "second guide", 78, "rope"), ("g1", "Ilya", "able", 92, "nylon"),
             ("g2", "Noor", "novice", 66, "nylon"), ("g3", "Pim", "novice", 71, "nylon"), ("g4", "Wren", "novice", 58, "nylon")]
    return read_plan({
        "format": 1, "title": "Fernlid Slot", "place": "an invented canyon", "on": "2027-06-12", "drops": drops, "shed": shed,
        "party": [{"id": i, "name": n, "role": r, "mass_kg": _known(m), "device": "eight", "tether": t}
                  for i, n, r, m, t in party],
    })


DEMOS = {"canyon": canyon}
