"""Demonstration plans: invented descents, people and kit. None of it is any real place or product."""

from __future__ import annotations

from typing import Any

from reamer.core.model import POLICY_SETS, Plan
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
            "surface": "bark" if what == "tree" else "rock", "sharpness": "rounded", "holds": _range(low, high, why),
            "sound": "yes" if what == "tree" else "unknown"}


def _rated(feature_id: str, name: str, what: str, holds: dict, in_place: str = "yes", strands: dict | None = None) -> dict:
    return {"kind": "rated", "id": feature_id, "name": name, "what": what, "holds": holds, "in_place": in_place,
            "good_strands": strands or _unknown("nobody has counted")}


def _leg(leg_id: str, anchor: str, of: str, out: float, aside: float, up: float) -> dict:
    return {"id": leg_id, "anchor": anchor, "of": of, "out_m": _known(out, "tape"), "aside_m": _known(aside, "tape"), "up_m": _known(up, "tape")}


def _several(legs: list[dict], ring: str, focal: str = "knotted", out: float = 0.5, up: float = 0.0, slack: float | None = None, knot: str = "overhand") -> dict:
    return {"kind": "several", "legs": legs, "focal": focal, "knot": knot, "out_m": _known(out), "aside_m": _known(0), "up_m": _known(up), "ring": ring,
            "slack_m": _known(slack) if slack is not None else _unknown("no limiting knots"), "ring_loaded": "long axis"}


def _looked(item: str, found: str, answers: dict[str, str], condition: str = "good", decision: str = "use") -> dict:
    return {"id": f"i{len(item)}", "on": "2027-05-30", "item": item, "found": found, "condition": condition, "decision": decision, "answers": answers}


BOLT_ANSWERS = {"bolt-moves": "no", "bolt-rust": "no", "bolt-rock": "yes"}


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
    return {"id": f"d{n}", "name": name, "section": section, "landing": {"kind": landing}, "notes": notes, "cracks": "no",
            "station": {"features": [feature], "wet": "yes", "strands_hang": "side by side",
                        "states": [{"id": "main", "serves": "all", "rig": rig, "system": system, "pulled_lies": "left",
                                    "accepted": [{"part": p, "reason": r} for p, r in single if feature["kind"] == "post" or p == "ring"]}]}}


def _rope(rope_id: str, name: str, kind: str, nominal: float, measured: dict, wet: str, d: float, strength: dict,
          elongation: float, colour: str, stripe: str, middle: dict | None = None, fibre: str = "polyester") -> dict:
    return {"id": rope_id, "name": name, "kind": kind, "nominal_m": _known(nominal), "measured_m": measured,
            "wet_since_measured": wet, "diameter_mm": _known(d), "fibre": fibre, "strength_kn": strength,
            "elongation_pct": _known(elongation), "middle_mark": middle is not None,
            "middle_off_m": middle or _unknown("no mark"), "colour": colour, "stripe": stripe}


def canyon() -> Plan:
    """A wet slot with nine drops for two guides and four guests, with faults planted for the tool to find.

    returns: the plan; its faults are a stopper planned into moving water on drop 2, a rope too short on drop 3 once the height's
        error is counted, that rope's length taken from its label, a needless overhand that weakens the wrap on drop 4, a
        wide-angled wrap on drop 5, a reserve too short to lower on drop 6, an anchor nobody has looked at on drop 7, a block
        smaller than its ring on drop 8 and a ring left back from a coarse edge on drop 9
    Source: invented.
    """
    tape = {"rope": "rope-slate", "ridden_end": "b"}
    water = [{"kind": "releasable", "rope": "rope-blue", "ridden_end": "b", "ride_m": _known(13.05, "tape"), "tie_off": "munter-mule-overhand", "stoppers": [{"rope": "rope-blue", "end": "b"}]},
             {"kind": "blocked, same rope", "rope": "rope-blue", "ridden_end": "b", "ride_m": _known(13.05, "tape"), "block": "figure eight", "carabiner": True, "block_holds": _range(9, 11, "own pull tests"), "stoppers": []}]
    cellar = [{"kind": "releasable", **tape, "ride_m": _known(29.0, "tape"), "tie_off": "munter-mule-overhand", "stoppers": [{"rope": "rope-slate", "end": "b"}]},
              {"kind": "blocked, pull cord", **tape, "cord": "cord-orange", "cord_end": "b", "knot": "flat overhand, second behind", "tails_m": _known(0.3), "block": "figure eight", "carabiner": True,
               "block_holds": _range(9, 11, "own pull tests"), "stoppers": [{"rope": "rope-slate", "end": "b"}]}]
    far = {"kind": "joined", "through": "rope-slate", "through_end": "a", "other": "rope-blue", "other_end": "a", "knot": "flat overhand, second behind", "tails_m": _known(0.4),
           "slips_kn": _range(5, 6, "own pull tests"), "stoppers": [{"rope": "rope-slate", "end": "a"}, {"rope": "rope-blue", "end": "a"}]}
    ferns = {"kind": "blocked, same rope", "rope": "rope-blue", "ridden_end": "b", "ride_m": _known(18.5, "tape"), "block": "overhand", "carabiner": False, "block_holds": _range(9, 11, "own pull tests"),
             "stoppers": [{"rope": "rope-blue", "end": "b"}]}
    single = {"kind": "blocked, pull cord", "rope": "rope-green", "ridden_end": "b", "cord": "cord-orange",
              "cord_end": "b", "tails_m": _known(0.3), "block": "figure eight", "carabiner": True,
              "stoppers": [{"rope": "rope-green", "end": "b"}]}
    drops = [
        _drop(1, "Lintel", _quick(1.2, 0.1, 8, "tape", "rounded"), "pool",
              _post("alder", "tree", 0.9, 9, 14, "alive, rooted in soil, 0.29 m thick"), _wrap(0.5), _doubled()),
        _two(_drop(2, "Churn", _shots("tape", (1.8, -8, "rounded"), (5.2, -76, "rounded"), (6.9, -88, "rounded")), "moving water",
                   _post("jammed block", "boulder", 1.6, 10, 16, "wedged on three sides, tried with a bar"),
                   _wrap(0.7, pattern="wrap two, pull one"), water[0]), water[1]),
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
        _two(_drop(6, "Cellar", _shots("tape", (1.5, -10, "rounded"), (7.5, -86, "rounded"), (5.0, -118, "rounded"),
                                  (3.0, -20, "rounded"), (11.0, -89, "rounded")), "ground",
              _post("twin-stem oak", "tree", 1.25, 11, 18, "alive, two stems from one root"), _wrap(0.6), cellar[0]), cellar[1]),
        _drop(7, "Step Nine", _quick(0.3, 0.0, 9, "tape", "rounded", 84), "ledge",
              {"kind": "rated", "id": "post", "name": "two bolts found in place", "what": "bolt", "in_place": "yes", "pieces": 2,
               "holds": _unknown("not tested, not inspected")},
              {"kind": "direct", "anchor": "post", "ring": RING, "gain_m": _known(0.2), "links": [
                  {"kind": "connector", "id": "link", "ring": "link-8", "loaded": "long axis", "reach_m": _known(0.05)}]}, _doubled()),
        _drop(8, "Under the Ferns", _quick(1.7, 0.3, 14, "tape", "rounded", 90, 1.2), "pool",
              _post("chockstone", "boulder", 1.9, 11, 17, "jammed between both walls"),
              _wrap(0.8, pattern="redundant wrap two, pull one"), ferns),
        _drop(9, "Way Out", _quick(3.5, -0.9, 26, "rangefinder", "coarse"), "ground",
              _post("ash", "tree", 1.05, 10, 15, "alive, straight, 0.33 m thick"), _wrap(0.55, pattern="redundant basket"), far),
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
        "devices": [{"id": "eight", "name": "figure-eight device", "rating_kn": _range(25, 25, "stamped"), "thinnest_mm": _known(8), "thickest_mm": _known(12), "strands": "one or two"}],
        "tethers": [{"id": "nylon", "name": "120 cm nylon tether, bight knot", "made_of": "sewn sling", "fibre": "nylon",
                     "strength_kn": _range(22, 22, "label, EN 566"), "knot": "overhand"},
                    {"id": "rope", "name": "dynamic rope tether", "made_of": "dynamic rope", "fibre": "nylon",
                     "strength_kn": _range(20, 20, "maker's test sheet"), "knot": "figure eight", "impact_kn": _known(8.6), "rated": "single"}],
    }
    party = [("lead", "Maren", "guide", 84, "rope"), ("second", "Tove", "second guide", 78, "rope"), ("g1", "Ilya", "able", 92, "nylon"),
             ("g2", "Noor", "novice", 66, "nylon"), ("g3", "Pim", "novice", 71, "nylon"), ("g4", "Wren", "novice", 58, "nylon")]
    return read_plan({
        "format": 1, "title": "Fernlid Slot", "policies": POLICY_SETS["canyon"].model_dump(mode="json"), "place": "an invented canyon", "on": "2027-06-12", "drops": drops, "shed": shed,
        "party": [{"id": i, "name": n, "role": r, "mass_kg": _known(m), "device": "eight", "tether": t}
                  for i, n, r, m, t in party],
    })


def _two(drop: dict, last: dict) -> dict:
    """A station whose party rides one system and whose last person another."""
    state = drop["station"]["states"][0]
    ring = {"part": "ring", "reason": "rated, new"}
    accepted = [*state["accepted"], *([] if ring in state["accepted"] else [ring])]
    drop["station"]["states"] = [{**state, "serves": "party", "accepted": accepted}, {**state, "id": "last", "serves": "last", "system": last, "accepted": accepted}]
    return drop


def _joined(**more: object) -> dict:
    return {"kind": "joined", "through": "rope-red", "through_end": "b", "other": "rope-teal", "other_end": "b", "tails_m": _known(0.4), "knot": "flat overhand, second behind", **more,
            "slips_kn": _unknown("no pull test of the party's own"),
            "stoppers": [{"rope": "rope-red", "end": "b"}, {"rope": "rope-teal", "end": "b"}]}


def _stand(drop: dict, *features: dict, hanging: tuple[str, ...] = (), wet: str = "no", accepted: tuple[tuple[str, str], ...] = (),
           inspections: tuple[dict, ...] = (), swing_states: list[dict] | None = None) -> dict:
    """A drop with its station's features, who hangs there, what is accepted and what was looked at."""
    station = {**drop["station"], "features": list(features), "hanging": list(hanging), "wet": wet, "inspections": list(inspections)}
    state = {**station["states"][0], "accepted": [{"part": p, "reason": r} for p, r in accepted]}
    station["states"] = swing_states or [state]
    return {**drop, "station": station}


def buttress() -> Plan:
    """Seven rappels down a granite buttress for a guide and two clients, on two ropes of different diameter.

    returns: the plan; its faults are the thinner rope through the ring on drop 2, two bolts drawn together far too wide on drop 3,
        three placed pieces on one sliding loop on drop 4 whose ring falls far if one of them fails, and joined ropes pulled from
        the wrong side on drop 5; the slings found on drop 6 have burn marks
    Source: invented.
    """
    joined = _joined()
    rig = {"kind": "none"}
    hang = ("c1",)
    one = ("the party's own pieces, placed and looked at today")
    bolts = (_rated("a", "left bolt", "bolt", _range(18, 25, "placed by this party, EN 959")), _rated("b", "right bolt", "bolt", _range(18, 25, "placed by this party, EN 959")))
    new = tuple({**b, "in_place": "no"} for b in bolts)
    drops = []

    def add(n: int, name: str, section: dict, landing: str, tie: dict, *features: dict, system: dict = joined, **more: object) -> None:
        drops.append(_stand(_drop(n, name, section, landing, features[0], tie, system), *features, **more))

    add(1, "Brow", _quick(1.1, 0.2, 26, "rangefinder", "rounded", 82), "ledge",
        _several([_leg("l1", "a", "web-25", 0, 0.18, 0.35), _leg("l2", "b", "web-25", -0.05, -0.2, 0.3)], "ring-steel", out=0.55, up=-0.1, knot="bowline on a bight"), *new, hanging=hang,
        accepted=(("ring", one),))
    add(2, "Saddle Horn", _quick(0.9, 0.3, 24, "rangefinder", "rounded", 80), "ledge", {**_wrap(0.6), "webbing": "web-25"},
        _post("granite horn", "horn", 1.3, 14, 22, "solid, cannot lift off"), hanging=hang, system=_joined(through="rope-teal", other="rope-red"),
        accepted=(("anchor", "one bombproof horn"), ("webbing", "padded, on rounded rock"), ("ring", one)))
    add(3, "Grey Slab", _shots("rangefinder", (1.0, -20, "rounded"), (9.0, -62, "rounded"), (16.0, -78, "rounded")), "ledge",
        _several([_leg("l1", "a", "web-25", 0, 0.55, 0), _leg("l2", "b", "web-25", 0, -0.55, 0)], "ring-steel", out=0.22), *bolts, hanging=hang,
        inspections=(_looked("left bolt", "new hanger, no rust", BOLT_ANSWERS), _looked("right bolt", "as the left one", BOLT_ANSWERS)), accepted=(("ring", one),))
    pieces = tuple(_rated(i, n, "placed piece", _range(low, high, "label, less for the placement"), "no")
                   for i, n, low, high in (("a", "hand-size cam", 8, 12), ("b", "nut, left crack", 6, 10), ("c", "nut, high", 6, 10)))
    add(4, "Split Block", _quick(0.6, 0.1, 22, "rangefinder", "rounded", 84), "ledge",
        _several([_leg("l1", "a", "web-25", 0, 0.3, 0.4), _leg("l2", "b", "web-25", -0.1, -0.35, 0.5), _leg("l3", "c", "web-25", -0.05, 0.05, 0.8)], "ring-steel", "sliding", out=0.5, up=-0.3),
        *pieces, hanging=hang, accepted=(("loop", "looked at all round"), ("ring", one)))
    add(5, "Two Teeth", _quick(1.4, 0.2, 25, "rangefinder", "rounded", 81), "ledge",
        {"kind": "two posts", "first": "left", "second": "right", "webbing": "web-25", "ring": "ring-steel", "first_gain_m": _known(0.7), "second_gain_m": _known(0.75), "angle_deg": _known(38, "eye"), "ring_loaded": "long axis"},
        {**_post("left tooth", "pillar", 1.5, 9, 15, "solid, tried"), "id": "left"}, {**_post("right tooth", "pillar", 1.2, 9, 14, "solid, tried"), "id": "right"}, hanging=hang, system=_joined(pulled="through"),
        accepted=(("webbing", "one loop, tied fresh, looked at"), ("ring", one)))
    tat = _rated("tat", "slings left round a block", "textile", _range(9, 14, "one strand, faded: half of new"), "yes", _known(2, "eye"))
    tat.update(fibre="nylon", knot="ring bend")
    add(6, "Old Slings", _quick(0.8, 0.1, 23, "rangefinder", "rounded", 83), "ledge", {"kind": "direct", "anchor": "tat", "ring": "link-8", "gain_m": _known(0.3), "ring_loaded": "long axis"}, tat, hanging=hang,
        inspections=(_looked("slings left round a block", "five strands, two good; glazed where a rope ran", {"textile-back": "yes", "textile-burn": "yes", "textile-metal": "yes"}, "worn", "back up"),))
    pine = _post("pine on the ledge", "tree", 1.0, 12, 18, "alive, 0.32 m thick, roots in a crack")
    near = {**_wrap(0.5, pattern="frost knot")}
    over = {**near, "links": [{"kind": "webbing", "id": "over", "webbing": "web-25", "same": False, "reach_m": _known(2.3)}]}
    accepted = [{"part": p, "reason": r} for p, r in (("anchor", "one big living tree"), ("webbing", "on bark, fresh"), ("ring", one), ("link.over", "doubled, on a rounded edge, padded"))]
    add(7, "Pine Ledge", _quick(2.5, 0.4, 21, "rangefinder", "rounded", 85), "ground", rig, pine,
        swing_states=[{"id": "main", "serves": "party", "rig": near, "system": joined, "pulled_lies": "left", "accepted": accepted[:3]}, {"id": "last", "serves": "last", "rig": over, "system": joined, "pulled_lies": "left", "accepted": accepted}])
    shed = canyon().shed.model_dump(mode="json")
    shed["ropes"] = [
        _rope("rope-red", "Red 60", "dynamic single", 60, _known(59.2, "tape"), "no", 9.8, _range(20, 20, "maker's test sheet"), 8.2, "#a33a2c", "plain", _known(0.1, "tape"), "nylon"),
        _rope("rope-teal", "Teal 60", "dynamic half", 60, _known(59.6, "tape"), "no", 8.0, _range(15, 15, "maker's test sheet"), 9.5, "#2a8a86", "twin line", _known(0.1, "tape"), "nylon"),
        _rope("cord-7", "7 mm cord", "pull cord", 12, _known(11.8, "tape"), "no", 7.0, _range(9.8, 9.8, "EN 564, from memory"), 10, "#6b4fa0", "dots", None, "nylon"),
    ]
    party = [("lead", "Sunniva", "guide", 79, "rope"), ("c1", "Bram", "able", 88, "rope"), ("c2", "Lotte", "novice", 64, "rope")]
    return read_plan({"format": 1, "title": "Grey Buttress", "policies": POLICY_SETS["multi-pitch"].model_dump(mode="json"), "place": "an invented buttress", "on": "2027-08-03", "drops": drops, "shed": shed,
                      "party": [{"id": i, "name": n, "role": r, "mass_kg": _known(m), "device": "eight", "tether": t} for i, n, r, m, t in party]})


def gully() -> Plan:
    """A winter gully of four rappels, from a block and from threads drilled in ice.

    returns: the plan; its faults are a screw too short for the holes of drop 4 to meet, and a rope straight through wet, cold ice
        on drop 3
    Source: invented.
    """
    doubled = {"kind": "doubled", "rope": "rope-white", "middle_by": "mark", "pulled_end": "b",
               "stoppers": [{"rope": "rope-white", "end": "a"}, {"rope": "rope-white", "end": "b"}]}

    def thread(screw: float, spacing: float, **more: object) -> dict:
        return {"kind": "ice thread", "id": "ice", "name": "ice thread", "screw_m": _known(screw), "spacing_m": _known(spacing, "tape"), "first_deg": _known(60), "second_deg": _known(60),
                "ice": "solid", "wet_cold": "no", "cord": "cord-7", "in_place": "no", "seen_whole": "yes", "backed_up": "to the rope", **more}

    block = {**_post("frozen-in block", "boulder", 3.2, 1, 1, ""), "holds": {
        "kind": "mass", "long_m": _known(1.6, "tape"), "wide_m": _known(1.3, "tape"), "high_m": _known(1.1, "tape"), "bed": "dry rock", "slope_deg": _known(4), "under_water": "no",
        "height_m": _known(0.3, "tape"), "depth_m": _known(1.5, "tape")}}
    ice = {"kind": "direct", "anchor": "ice", "ring": None, "gain_m": _known(0.15)}
    drops = [
        _stand(_drop(1, "Top of the Fan", _quick(2.0, 0.3, 22, "rangefinder", "rounded", 75), "ledge", block, _wrap(0.9), doubled), block,
               accepted=(("anchor", "looked at all round, does not rock"), ("webbing", "on ice and rounded rock"))),
        _stand(_drop(2, "Blue Step", _quick(0.6, 0.1, 24, "rangefinder", "rounded", 85), "ledge", block, ice, doubled), thread(0.21, 0.2), accepted=(("anchor", "backed up for all but the last"), ("webbing", "new cord, one use"))),
        _stand(_drop(3, "The Organ", _quick(0.5, 0.1, 24, "rangefinder", "rounded"), "ledge", block, ice, doubled), thread(0.21, 0.2, cord=None, wet_cold="yes"), accepted=(("anchor", "backed up for all but the last"),)),
        _stand(_drop(4, "Runout", _quick(0.7, 0.2, 20, "rangefinder", "rounded", 78), "ground", block, ice, doubled), thread(0.16, 0.2), accepted=(("anchor", "backed up for all but the last"), ("webbing", "new cord, one use"))),
    ]
    shed = canyon().shed.model_dump(mode="json")
    shed["ropes"] = [
        _rope("rope-white", "Ice 60", "dynamic half", 60, _known(59.3, "tape"), "no", 8.5, _range(16, 16, "maker's test sheet"), 9.0, "#7f9aa8", "dashes", _known(0.1, "tape"), "nylon"),
        _rope("cord-7", "7 mm cord", "pull cord", 10, _known(9.9, "tape"), "no", 7.0, _range(9.8, 9.8, "EN 564, from memory"), 10, "#6b4fa0", "dots", None, "nylon"),
    ]
    party = [("lead", "Eskil", "guide", 81), ("c1", "Runa", "able", 69)]
    return read_plan({"format": 1, "title": "Winter Fan", "policies": POLICY_SETS["multi-pitch"].model_dump(mode="json"), "place": "an invented gully", "on": "2027-02-14", "drops": drops, "shed": shed,
                      "party": [{"id": i, "name": n, "role": r, "mass_kg": _known(m), "device": "eight", "tether": "rope"} for i, n, r, m in party]})


DEMOS = {"canyon": canyon, "buttress": buttress, "gully": gully}
