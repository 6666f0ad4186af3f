"""Every finding the assessment can make is made by some plan here, with the severity the rules give it, and can be
said."""

import copy
import datetime as dt
import unittest

from reamer.core.answer.codes import CODES
from reamer.core.answer.context import context
from reamer.core.answer.say import spoken, words
from reamer.core.assess import assess
from reamer.core.descent.prospect import Known, prospect
from reamer.core.descent.stations import Stations
from reamer.core.model import NO_GEAR, Gear, GearRecord
from reamer.core.plan.gear import NotRead
from reamer.core.reading import read_model, read_plan
from reamer.core.rehearsal.rehearsal import rehearsal
from tests.builders import (
    NOVICES,
    alternating,
    bights,
    capacity,
    doubled,
    iced,
    known,
    plan_of,
    post,
    quick,
    releasable,
    rope,
    two_bolts,
    two_drops,
    unknown,
    water,
    wrap,
)
from tests.core.test_assess import JOINED, KIT, SAME, SINGLE
from tests.rehearsing import LOWERED, backed, descent_of, party, person, run_of

DROP, STATION, STATE = ("drops", 0), ("drops", 0, "station"), ("drops", 0, "station", "states", 0)
SHORT = [rope(length=20)]


def edited(data, *changes):
    """A plan's data with values set at paths."""
    data = copy.deepcopy(data)
    for path, value in changes:
        here = data
        for key in path[:-1]:
            here = here[key]
        here[path[-1]] = value
    return data


def direct(*records, name="two bolts"):
    """A station on an anchor found in place, with inspection records of it."""
    anchor = {"kind": "rated", "id": "bolts", "name": name, "in_place": "yes", "holds": capacity(15, 25, "tested")}
    return edited(
        plan_of(doubled()),
        ((*STATION, "features"), [anchor]),
        ((*STATE, "rig"), {"kind": "direct", "anchor": "bolts", "ring": "ring-steel", "gain_m": known(0.3)}),
        ((*STATION, "inspections"), [{"id": f"i{n}", "item": name, **r} for n, r in enumerate(records)]),
    )


def linked(use="straight", fibre="nylon", rating=None, angle=None, **more):
    """A station whose ring hangs on a sewn sling below the focal point."""
    data = plan_of(doubled(), **more)
    rig = data["drops"][0]["station"]["states"][0]["rig"]
    rig["links"] = [
        {"kind": "connector", "id": "c", "ring": "ring-steel", "reach_m": known(0)},
        {
            "kind": "sling",
            "id": "s",
            "sling": "sling-120",
            "use": use,
            "reach_m": known(0.3),
            "angle_deg": known(angle) if angle is not None else unknown("?"),
        },
    ]
    sling = data["shed"]["slings"][0]
    sling.update(fibre=fibre, **({"rating_kn": rating} if rating else {}))
    return data


BASE = plan_of(doubled())
TREE = edited(BASE, ((*STATION, "features", 0), {**post("pine", "tree", 1.2, 12, 20, "judged"), "sound": "yes"}))
WATER = plan_of(doubled(stoppers=""), landing="moving water")
DAMAGED = {"at_m": known(45, "tape"), "takes_m": known(0.6, "tape")}
TWO = edited(BASE, (("party",), [*BASE["party"], {**BASE["party"][0], "id": "p2", "name": "Q", "role": "able"}]))
DEVIATION = {
    "id": "dev",
    "name": "sling on a horn",
    "below_m": known(6),
    "turn_deg": known(40, "eye"),
    "holds": capacity(22, 22, "label"),
    "hung": "sling",
    "sling": "sling-120",
    "ring": "ring-steel",
    "by": "p1",
}
TRAVERSE = {
    "rope": "r2",
    "span_m": known(8, "tape"),
    "sag_m": known(0.8, "tape"),
    "near": capacity(25, 25, "tested"),
    "far": capacity(25, 25, "tested"),
}
HANGING = edited(
    BASE,
    ((*DROP, "landing"), {"kind": "hanging stance", "next_m": known(1.6, "tape")}),
    (("shed", "tethers", 1, "length_m"), known(0.9, "tape")),
)
TEXTILE = edited(
    direct(),
    ((*STATION, "features", 0, "what"), "textile"),
    ((*STATION, "features", 0, "good_strands"), known(3, "eye")),
    ((*STATE, "rig", "ring"), None),
)
WAYS = {
    "kit.typical": ("Not checked", edited(BASE, (("shed", "ropes", 0, "typical"), True))),
    "section.unknown": ("Not checked", edited(BASE, ((*DROP, "section", "height_m"), unknown("?")))),
    "section.recess": ("Note", edited(BASE, ((*DROP, "section"), quick(2, 0, 15, "tape", "rounded", 90, 2)))),
    "edge.unknown": ("Not checked", edited(BASE, ((*DROP, "section", "edge"), "unknown"))),
    "ring.beyond": ("Shortfall", edited(BASE, ((*STATE, "rig"), wrap(40)))),
    "anchor.none": ("Not checked", edited(BASE, ((*STATE, "rig"), {"kind": "none"}))),
    "anchor.missing": ("Not checked", edited(BASE, ((*STATION, "features"), []))),
    "anchor.unknown": ("Not checked", edited(BASE, ((*STATION, "features", 0, "holds"), unknown("?")))),
    "anchor.typical": ("Not checked", edited(direct(), ((*STATION, "features", 0, "typical"), True))),
    "anchor.weak": ("Shortfall", edited(BASE, ((*STATION, "features", 0, "holds"), capacity(3, 9, "guess")))),
    "legs.unknown": ("Not checked", two_bolts(half=0.001)),
    "legs.angle": ("Shortfall", two_bolts(half=1.2)),
    "legs.removal": ("Not checked", edited(two_bolts(), (("shed", "ropes", 0, "elongation_pct"), unknown("?")))),
    "legs.cascade": (
        "Shortfall",
        edited(two_bolts("sliding", half=0.9, out=1.2), ((*STATION, "features", 0, "holds"), capacity(9, 9, "tested"))),
    ),
    "legs.drop": ("Caution", two_bolts("sliding")),
    "load.hanging": ("Not checked", edited(BASE, ((*STATION, "hanging"), ["nobody"]))),
    "tree.thin": ("Shortfall", edited(TREE, ((*STATION, "features", 0, "girth_m"), known(0.4, "tape")))),
    "tree.sound": ("Not checked", edited(TREE, ((*STATION, "features", 0, "sound"), "unknown"))),
    "post.high": (
        "Caution",
        edited(
            BASE,
            ((*STATION, "features", 0, "holds"), capacity(9, 20, "judged")),
            ((*STATION, "features", 0, "webbing_at"), "high"),
        ),
    ),
    "post.low": (
        "Note",
        edited(
            BASE,
            ((*STATION, "features", 0, "holds"), capacity(40, 60, "judged")),
            ((*STATION, "features", 0, "webbing_at"), "low"),
        ),
    ),
    "ice.strength": ("Not checked", iced()),
    "ice.meets": ("Shortfall", iced(screw_m=known(0.17))),
    "ice.kind": ("Shortfall", iced(ice="white, aerated")),
    "ice.freezes": ("Shortfall", iced(cord=None, wet_cold="yes")),
    "ice.found": ("Shortfall", iced(in_place="yes", seen_whole="no")),
    "ice.backup": ("Shortfall", iced(backed_up="to the cord")),
    "inspection.answer": (
        "Shortfall",
        edited(
            direct({"condition": "good", "decision": "use", "answers": {"bolt-moves": "yes"}}),
            ((*STATION, "features", 0, "what"), "bolt"),
        ),
    ),
    "inspection.none": ("Not checked", direct()),
    "inspection.open": ("Not checked", direct({"condition": "worn"})),
    "inspection.bad": ("Shortfall", direct({"condition": "bad", "decision": "use"})),
    "inspection.backup": ("Caution", direct({"condition": "worn", "decision": "back up"})),
    "webbing.unknown": ("Not checked", edited(BASE, (("shed", "webbing", 0, "strength_kn"), unknown("?")))),
    "webbing.weak": ("Shortfall", edited(BASE, (("shed", "webbing", 0, "strength_kn"), capacity(4, 4, "label")))),
    "webbing.wet": (
        "Not checked",
        edited(
            two_drops(doubled(), doubled(), landing="pool"),
            (("drops", 1, "station", "wet"), "unknown"),
            (("shed", "webbing", 0, "fibre"), "nylon"),
        ),
    ),
    "webbing.angle": ("Shortfall", edited(BASE, ((*STATE, "rig"), wrap(0.02)))),
    "webbing.cut": (
        "Shortfall",
        edited(BASE, (("shed", "webbing", 0, "pieces"), [{"id": "p1", "length_m": known(1, "tape")}])),
    ),
    "webbing.stock": (
        "Shortfall",
        edited(BASE, (("shed", "webbing", 0, "pieces"), [{"id": "p1", "length_m": known(1, "tape")}])),
    ),
    "connector.lie": (
        "Caution",
        edited(
            BASE,
            (("shed", "rings", 0, "kind"), "carabiner"),
            ((*STATE, "rig", "ring_loaded"), "cross"),
            (("shed", "rings", 0, "cross_kn"), capacity(9, 9, "stamped")),
        ),
    ),
    "link.unknown": ("Not checked", linked(rating=unknown("?"))),
    "link.weak": ("Shortfall", linked(rating=capacity(6, 6, "label"))),
    "device.none": ("Not checked", edited(BASE, (("party", 0, "device"), None))),
    "device.unknown": ("Not checked", edited(BASE, (("shed", "devices", 0, "rating_kn"), unknown("no mark")))),
    "device.weak": ("Shortfall", edited(BASE, (("shed", "devices", 0, "rating_kn"), capacity(5, 5, "stamped")))),
    "tether.none": ("Not checked", edited(BASE, (("party", 0, "tether"), None))),
    "tether.unknown": ("Not checked", edited(BASE, (("shed", "tethers", 1, "strength_kn"), unknown("no label")))),
    "tether.weak": ("Shortfall", edited(BASE, (("shed", "tethers", 1, "strength_kn"), capacity(12, 12, "label")))),
    "tether.fall": ("Caution", edited(BASE, (("party", 0, "tether"), "nylon"))),
    "webbing.knot": ("Shortfall", edited(BASE, (("shed", "webbing", 0, "fibre"), "HMPE"))),
    "webbing.overhand": ("Caution", edited(BASE, ((*STATE, "rig", "pattern"), "simple wrap, overhand"))),
    "webbing.girth": ("Caution", edited(BASE, ((*STATE, "rig", "pattern"), "girth hitch"))),
    "webbing.bend": ("Note", edited(BASE, ((*STATE, "rig", "bend_at"), "leg"))),
    "webbing.abrades": ("Shortfall", edited(BASE, ((*STATION, "features", 0, "sharpness"), "coarse"))),
    "webbing.surface": ("Not checked", edited(BASE, ((*STATION, "features", 0, "sharpness"), "unknown"))),
    "part.single": ("Caution", edited(BASE, ((*STATE, "accepted"), []))),
    "ring.unknown": ("Not checked", edited(BASE, (("shed", "rings", 0, "rating_kn"), unknown("?")))),
    "ring.weak": ("Shortfall", edited(BASE, (("shed", "rings", 0, "rating_kn"), capacity(5, 5, "stamped")))),
    "ring.thin": ("Caution", edited(BASE, (("shed", "rings", 0, "thickness_mm"), known(4)))),
    "rope.unknown": (
        "Not checked",
        edited(
            BASE, (("shed", "ropes", 0, "strength_kn"), unknown("?")), (("shed", "ropes", 0, "kind"), "dynamic single")
        ),
    ),
    "rope.weak": ("Shortfall", edited(BASE, (("shed", "ropes", 0, "strength_kn"), capacity(5, 5, "label")))),
    "rope.nominal": ("Caution", edited(BASE, (("shed", "ropes", 0, "measured_m"), unknown("?")))),
    "rope.length": (
        "Not checked",
        edited(
            BASE, (("shed", "ropes", 0, "measured_m"), unknown("?")), (("shed", "ropes", 0, "nominal_m"), unknown("?"))
        ),
    ),
    "block.unchecked": ("Not checked", plan_of(SAME, ropes=KIT)),
    "block.passes": ("Shortfall", plan_of({**SAME, "carabiner": False}, ropes=KIT)),
    "block.jams": ("Caution", plan_of({**SAME, "block": "clove hitch"}, ropes=KIT)),
    "block.weak": ("Shortfall", plan_of({**SAME, "block_holds": capacity(5, 6, "own pull tests")}, ropes=KIT)),
    "join.passes": (
        "Shortfall",
        edited(
            plan_of(JOINED, ropes=[rope(), rope("r2", diameter=7.0)]), (("shed", "rings", 0, "opening_mm"), known(36))
        ),
    ),
    "join.unchecked": ("Not checked", plan_of(JOINED, ropes=KIT)),
    "join.slips": ("Caution", plan_of({**JOINED, "slips_kn": capacity(1.9, 3, "own pull tests")}, ropes=KIT)),
    "join.tails": ("Caution", plan_of({**JOINED, "tails_m": known(0.2)}, ropes=KIT)),
    "join.weak": (
        "Shortfall",
        plan_of(
            {**JOINED, "knot": "opposed overhand"},
            ropes=[rope(strength_kn=capacity(7, 7, "label")), rope("r2")],
            wet="yes",
        ),
    ),
    "join.pull": ("Shortfall", plan_of({**SINGLE, "slips_kn": capacity(0.01, 0.02, "own pull tests")}, ropes=KIT)),
    "pull.side": (
        "Caution",
        edited(BASE, ((*STATION, "strands_hang"), "one behind"), ((*STATE, "pulled_lies"), "outside")),
    ),
    "pull.join-side": ("Shortfall", plan_of({**JOINED, "pulled": "through"}, ropes=KIT)),
    "pull.cracks": ("Caution", edited(BASE, ((*DROP, "cracks"), "yes"))),
    "pull.current": ("Not checked", WATER),
    "pull.textile": ("Caution", TEXTILE),
    "pull.undone": ("Not checked", plan_of(bights())),
    "release.convert": ("Shortfall", plan_of(releasable(20))),
    "join.stretch": ("Caution", plan_of(JOINED, ropes=[rope(), rope("r2", elongation_pct=known(7))])),
    "link.reach": ("Shortfall", edited(linked(), ((*STATE, "rig", "links", 1, "reach_m"), known(3.0)))),
    "release.cycles": (
        "Not checked",
        edited(
            plan_of(
                {"kind": "elastic-release device", "rope": "r1", "ridden_end": "b", "device": "eight", "stoppers": []}
            ),
            (("party",), [{**BASE["party"][0], "id": f"p{n}", "name": f"P{n}"} for n in range(6)]),
        ),
    ),
    "release.jams": ("Note", plan_of({**releasable(20), "tie_off": "figure-eight device mule"})),
    "release.school": ("Note", edited(BASE, (("policies", "releasable"), "always"))),
    "release.reserve": ("Shortfall", plan_of(releasable(30), ropes=[rope(length=45), rope("r2", length=80)])),
    "bights.tied": ("Shortfall", plan_of(bights(last_m=known(0.1)))),
    "system.advanced": ("Caution", plan_of(bights())),
    "lower.open": ("Shortfall", plan_of({"kind": "lowered", "rope": "r1", "end": "b"})),
    "rope.too-short": ("Shortfall", plan_of(doubled(), ropes=[rope(length=2)])),
    "rope.passed": ("Caution", plan_of(doubled(), ropes=[rope(damage=[DAMAGED])])),
    "device.range": ("Shortfall", edited(BASE, (("shed", "devices", 0, "thinnest_mm"), known(9.5)))),
    "device.thin": ("Caution", plan_of({**SAME, "rope": "r2", "stoppers": []}, ropes=KIT)),
    "block.side": ("Shortfall", plan_of({**SAME, "block_on": "ride"}, ropes=KIT)),
    "pull.unknown": ("Not checked", edited(BASE, (("shed", "ropes", 0, "diameter_mm"), unknown("?")))),
    "pull.hard": (
        "Shortfall",
        edited(
            BASE,
            ((*DROP, "section"), quick(6, 0.2, 60, "tape", "rounded")),
            ((*STATION, "wet"), "yes"),
            (("shed", "ropes", 0), rope(length=150, diameter=11, fibre="nylon")),
        ),
    ),
    "system.none": ("Not checked", plan_of({"kind": "none"})),
    "system.missing": ("Not checked", plan_of(doubled("gone"))),
    "system.twice": ("Shortfall", plan_of({**JOINED, "other": "r1"}, ropes=KIT)),
    "system.cord-ridden": ("Shortfall", plan_of(doubled("c1"), ropes=KIT)),
    "system.thin-through": ("Shortfall", plan_of({**JOINED, "through": "r2", "other": "r1"}, ropes=KIT)),
    "system.middle": ("Not checked", plan_of(doubled(), ropes=[rope(middle_mark=False)])),
    "system.ends": ("Caution", plan_of({**SINGLE, "stoppers": [{"rope": "r2", "end": "a"}]}, ropes=KIT)),
    "reach.short": ("Shortfall", plan_of(doubled(), ropes=SHORT)),
    "reach.unknown": ("Not checked", plan_of({**SAME, "ride_m": unknown("?")}, ropes=KIT)),
    "reach.water": ("Shortfall", water(releasable(19), height=8)),
    "reach.water-fixed": ("Shortfall", WATER),
    "reach.on-site": ("Not checked", water(releasable(39.5), height=40)),
    "reach.stance": ("Shortfall", HANGING),
    "reach.aside": ("Caution", edited(BASE, ((*DROP, "landing", "aside_m"), known(3, "tape")))),
    "deviation.unknown": (
        "Not checked",
        edited(BASE, ((*STATION, "deviations"), [{**DEVIATION, "holds": unknown("?")}])),
    ),
    "deviation.weak": (
        "Shortfall",
        edited(BASE, ((*STATION, "deviations"), [{**DEVIATION, "holds": capacity(3, 4, "guess")}])),
    ),
    "deviation.unsaid": ("Not checked", edited(BASE, ((*STATION, "deviations"), [{**DEVIATION, "by": None}]))),
    "deviation.early": ("Not checked", edited(TWO, ((*STATION, "deviations"), [{**DEVIATION, "by": "p2"}]))),
    "deviation.remove": ("Note", edited(BASE, ((*STATION, "deviations"), [DEVIATION]))),
    "traverse.unknown": (
        "Not checked",
        edited(plan_of(doubled(), ropes=KIT), ((*STATION, "traverse"), {**TRAVERSE, "sag_m": unknown("?")})),
    ),
    "traverse.weak": (
        "Shortfall",
        edited(
            plan_of(doubled(), ropes=KIT), ((*STATION, "traverse"), {**TRAVERSE, "far": capacity(15, 15, "tested")})
        ),
    ),
    "traverse.short": (
        "Shortfall",
        edited(
            plan_of(doubled(), ropes=KIT),
            ((*STATION, "traverse"), {**TRAVERSE, "span_m": known(31, "tape"), "sag_m": known(5, "tape")}),
        ),
    ),
    "end.open": ("Shortfall", plan_of(doubled(stoppers=""), ropes=SHORT)),
    "end.water": ("Shortfall", plan_of(doubled(), landing="moving water")),
    "edge.sharp": ("Caution", edited(BASE, ((*DROP, "section", "edge"), "sharp"))),
    "anchor.kind": (
        "Shortfall",
        edited(
            BASE,
            (
                (*STATION, "features"),
                [
                    {
                        "kind": "rated",
                        "id": "post",
                        "name": "bolt",
                        "holds": capacity(20, 25, "tested"),
                        "in_place": "no",
                    }
                ],
            ),
        ),
    ),
    "legs.mixed": ("Shortfall", edited(two_bolts("sliding"), ((*STATE, "rig", "legs", 0, "of"), "sling-120"))),
    "inspection.worn": ("Caution", direct({"condition": "worn", "decision": "use", "on": "2027-06-01"})),
    "inspection.old": ("Caution", direct({"condition": "good", "decision": "use", "on": "2025-06-01"})),
    "rope.feet": ("Not checked", plan_of(doubled(), ropes=[rope(nominal_m=known(18.3))])),
    "ring.opening": ("Not checked", edited(BASE, (("shed", "rings", 0, "opening_mm"), unknown("?")))),
    "ring.small": ("Shortfall", edited(BASE, (("shed", "rings", 0, "opening_mm"), known(9)))),
    "rope.outside": (
        "Shortfall",
        plan_of(
            doubled(),
            ropes=[rope(damage=[{"at_m": known(15, "tape"), "takes_m": known(0), "use": "longest sound piece"}])],
        ),
    ),
    "device.kind": (
        "Shortfall",
        plan_of(
            {
                "kind": "elastic-release device",
                "rope": "r1",
                "ridden_end": "b",
                "device": "eight",
                "stoppers": [{"rope": "r1", "end": "b"}],
            }
        ),
    ),
    "release.join": ("Caution", plan_of({**releasable(20), "reserve_rope": "r2"}, ropes=KIT)),
    "release.left": (
        "Caution",
        edited(water(releasable(7.25), ropes=KIT), ((*STATION, "states", 1, "system", "rope"), "r2")),
    ),
    "system.together": (
        "Caution",
        edited(
            BASE,
            ((*STATION, "together"), "own strands"),
            (("party",), [*BASE["party"], {**BASE["party"][0], "id": "p2", "name": "Q"}]),
        ),
    ),
    "system.alone": ("Shortfall", plan_of(releasable(20))),
    "deviation.catches": (
        "Shortfall",
        edited(plan_of(JOINED, ropes=KIT), ((*STATION, "deviations"), [{**DEVIATION, "left_in": True}])),
    ),
    "end.seen": ("Caution", edited(plan_of(doubled(stoppers="")), (("policies", "ends"), "unless seen down"))),
    "end.dips": (
        "Caution",
        edited(
            water(releasable(39.5), height=40, ropes=[rope(length=90, kind="dynamic single", elongation_pct=known(9))])
        ),
    ),
    "reach.pull-out": (
        "Shortfall",
        edited(
            water(releasable(39), height=40, ropes=[rope(length=70)]),
            ((*STATION, "states", 1, "system"), doubled(stoppers="")),
        ),
    ),
    "figure.bold": (
        "Caution",
        {
            **BASE,
            "own_figures": [
                {"id": "o1", "table": "loads", "key": "peak.least", "low": 3, "high": 3, "reason": "calm people"}
            ],
        },
    ),
    "margin.low": (
        "Caution",
        edited(BASE, (("policies", "margin"), {"kind": "own", "times": 1.5, "reason": "own pull tests of everything"})),
    ),
    "join.advised": ("Caution", plan_of({**JOINED, "knot": "flat figure eight"}, ropes=KIT)),
    "end.stretch": ("Not checked", edited(BASE, (("shed", "ropes", 0, "elongation_pct"), unknown("?")))),
    "load.unknown": ("Not checked", plan_of(doubled(), mass=None)),
    "person.unknown": ("Not checked", edited(BASE, (("party", 0, "mass_kg"), unknown("?")))),
    "party.none": ("Not checked", plan_of(doubled(), mass=None)),
    "figure.own": (
        "Note",
        {
            **BASE,
            "own_figures": [
                {"id": "o1", "table": "loads", "key": "peak.least", "low": 5, "high": 5, "reason": "bouncy novices"}
            ],
        },
    ),
    "plan.empty": ("Not checked", {"format": 1, "title": "Empty"}),
    "ledger.end-above": ("Shortfall", two_drops(doubled(), {**doubled(), "threaded": {"rope": "r1", "end": "a"}})),
    "ledger.end": ("Shortfall", edited(BASE, ((*STATE, "threaded"), {"rope": "r9", "end": "a"}))),
    "ledger.knot": (
        "Shortfall",
        edited(
            plan_of({**doubled(pulled="a")}, ropes=[rope(damage=[{**DAMAGED, "at_m": known(10, "tape")}])]),
            (("shed", "rings", 0, "opening_mm"), known(14)),
            ((*STATE, "rig", "ring"), "ring-steel"),
        ),
    ),
    "ledger.alternates": ("Caution", alternating()),
    "ledger.two-places": ("Shortfall", two_drops(doubled(), doubled(), contingencies={"two_sets": True})),
    "ledger.not-carried": ("Shortfall", plan_of(doubled(), carry={"ropes": []})),
    "kit.cord": ("Shortfall", edited(iced(), (("shed", "ropes", 1, "measured_m"), known(1, "tape")))),
    "kit.nobody": ("Caution", plan_of(doubled(), carry={"borne": [{"what": "rope.gone", "by": "p1"}]})),
    "time.unknown": ("Not checked", plan_of(doubled(), start=None)),
    "time.onward": ("Not checked", edited(two_drops(doubled(), doubled()), (("drops", 0, "onward"), None))),
    "time.early": ("Shortfall", plan_of(doubled(), start="03:00")),
    "time.late": ("Shortfall", plan_of(doubled(), start="21:15")),
}
# Said of what lies ahead, which takes longer to work out.
TODAY = dt.date(2027, 6, 1)


def held(*entries, **more):
    """The base plan's rope with a record of it."""
    some = [{"id": f"e{i}", "on": "2027-05-01", **e} for i, e in enumerate(entries)]
    name = BASE["shed"]["ropes"][0]["name"]
    return read_model(GearRecord, {"list": "ropes", "names": [name], "entries": some, **more})


DRY = edited(BASE, (("shed", "ropes", 0, "wet_since_measured"), "no"))
# What the record of a rope has against it.
RECORDS = {
    "gear.out": ("Shortfall", BASE, held({"kind": "retired", "words": "core shot"})),
    "gear.rule": ("Not checked", BASE, held(rules={"days": 9})),
    "gear.look": ("Not checked", BASE, held(rules={"inspect_days": 9})),
    "gear.unread": ("Not checked", BASE, NotRead("a gear record", None, False)),
    "gear.damage": ("Not checked", BASE, held({"kind": "damaged", "words": "stone on it"})),
    "gear.worn": ("Caution", BASE, held({"kind": "inspected", "found": "worn", "words": "sheath"})),
    "gear.length": ("Shortfall", BASE, held({"kind": "measured", "length_m": 12.0, "method": "tape"})),
    "gear.wet": ("Not checked", DRY, held({"kind": "used", "wet": "yes"})),
}
AHEAD = {
    "event.strands": ("Shortfall", two_drops(doubled(), doubled())),
    "event.lower": ("Shortfall", plan_of(doubled(), contingencies={"lower": True}, **NOVICES)),
    "event.spare": ("Shortfall", plan_of(doubled(), contingencies={"spare": True})),
    "event.none": ("Not checked", two_drops(doubled(), doubled())),
    "event.off": ("Note", two_drops(doubled(), doubled(), contingencies={"lost": False, "stuck": False})),
}


def edits(data, *made, drop=0, **more):
    """The same with changes to the acts of one station; whom it backs up how stays as it was chosen."""
    station = data["drops"][drop]["station"]
    through = {**station.get("through", {}), "edits": list(made), **more}
    data["drops"][drop]["station"] = {**station, "through": through}
    return data


def without(data, *acts, drop=0):
    return edits(data, *({"kind": "drop", "act": a} for a in acts), drop=drop)


def textile_lowered():
    data = edited(TEXTILE, (("party",), party(3)))
    states = data["drops"][0]["station"]["states"]
    rope_id = data["shed"]["ropes"][0]["id"]
    lowered = {**states[0], "serves": "party", "system": {**LOWERED, "rope": rope_id}}
    states[:] = [lowered, {**states[0], "id": "last", "serves": "last"}]
    return data


def own_act(do, who, what, after):
    """An act put in by the guide."""
    return {"kind": "add", "id": "x", "after": after, "do": do, "who": who, "what": what}


# Said of what going through it act by act finds.
THROUGH = {
    "rehearse.unclipped": ("Shortfall", without(descent_of("doubled", party(3)), "d1:p0:clip tether:master")),
    "rehearse.untested": ("Shortfall", without(descent_of("doubled", party(3)), "d1:p1:test:")),
    "rehearse.hand": ("Shortfall", backed(descent_of("doubled", party(3)), "none", ["p2"])),
    "rehearse.hitch": (
        "Shortfall",
        edited(descent_of("doubled", party(3)), (("party", 1, "attachment", "device_m"), known(0.1))),
    ),
    "rehearse.strand": (
        "Shortfall",
        edits(
            descent_of("blocked", party(3)),
            {"kind": "drop", "act": "d1:p1:load device:r1:b"},
            {
                "kind": "add",
                "id": "x",
                "after": "d1:p1:go to the edge:",
                "do": "load device",
                "who": "p1",
                "what": "r1:a",
            },
        ),
    ),
    "rehearse.end": ("Shortfall", without(descent_of("doubled", party(3)), "d1:p1:tie:overhand below")),
    "rehearse.left": ("Shortfall", without(descent_of("releasable", party(3)), "d1:p0:convert:")),
    "rehearse.pull": ("Shortfall", without(descent_of("doubled", party(3)), "d1:p1:untie:stopper r1:a")),
    "rehearse.dropped": (
        "Shortfall",
        without(descent_of("doubled", party(3)), "d2:p1:secure the rope:clipped", drop=1),
    ),
    "rehearse.backup": (
        "Shortfall",
        edits(
            descent_of("bights", party(3)),
            {"kind": "move", "act": "d1:p0:take out:bights' carabiner", "after": "d1:p1:call:off rope"},
        ),
    ),
    "rehearse.drawn": ("Shortfall", without(descent_of("blocked", party(3)), "d1:p0:pull back:")),
    "rehearse.group": ("Shortfall", edits(descent_of("doubled", party(3)), order=["p0", "p1", "p2"])),
    "rehearse.full": (
        "Shortfall",
        edited(descent_of("doubled", party(3)), (("drops", 0, "landing", "room"), known(2))),
    ),
    "rehearse.two": (
        "Shortfall",
        edits(descent_of("doubled", party(3)), {"kind": "move", "act": "d1:p1:arrive:", "after": "d1:p2:descend:"}),
    ),
    "rehearse.slab": (
        "Shortfall",
        edited(
            backed(descent_of("doubled", party(3)), "stacked", ["p2"]),
            (("drops", 0, "section", "face_deg"), known(45)),
            (("drops", 1, "section", "face_deg"), known(45)),
        ),
    ),
    "rehearse.water": (
        "Shortfall",
        edits(
            descent_of("releasable", party(3), "moving water", drops=1),
            {"kind": "add", "id": "x", "after": "d1:p0:tie:tie-off", "do": "tie", "who": "p0", "what": "stopper r1:b"},
        ),
    ),
    "rehearse.textile": ("Shortfall", textile_lowered()),
    "rehearse.check": ("Caution", descent_of("joined", [person(0, "guide"), person(1, "novice")])),
    "rehearse.novice": (
        "Shortfall",
        edits(
            descent_of("doubled", party(3)),
            own_act("tie", "p2", "isolating clove", "d1:p0:call:off rope"),
            order=["p1", "p0", "p2"],
        ),
    ),
    "rehearse.release": (
        "Not checked",
        edits(
            descent_of("elastic", party(2), "ledge", 1),
            *({**own_act("test", "p1", "", "d1:p1:test:"), "id": f"t{n}"} for n in range(7)),
        ),
    ),
    "rehearse.slack": (
        "Shortfall",
        edits(descent_of("lowered", party(3)), own_act("give slack", "p0", "p2,3", "d1:p0:take lowering belay:p2")),
    ),
    "rehearse.thrown": ("Shortfall", without(descent_of("releasable", party(3)), "d1:p1:call:clear")),
    "rehearse.untried": ("Caution", without(descent_of("doubled", party(3)), "d1:p1:test-pull:")),
    "rehearse.doubt": (
        "Not checked",
        edited(descent_of("blocked", party(3)), (("shed", "rings", 0, "opening_mm"), unknown("?"))),
    ),
    "rehearse.draft": ("Not checked", without(descent_of("doubled", party(3)), "d1:nobody")),
    "rehearse.none": ("Not checked", edited(BASE, ((*STATE, "system"), {"kind": "none"}))),
    "hitch.unknown": ("Not checked", edited(BASE, (("party", 0, "hitch"), None))),
    "hitch.grips": ("Caution", edited(BASE, (("shed", "loops", 0, "diameter_mm"), known(3)))),
    "attachment.knot": (
        "Caution",
        edited(
            BASE,
            (("party", 0, "tether"), "nylon"),
            (("shed", "tethers", 0, "length_m"), known(0.8)),
            (("party", 0, "attachment", "device_m"), known(0.6)),
        ),
    ),
}


def gone(data):
    """What is said of a plan that is gone through act by act."""
    plan = read_plan(data)
    return rehearsal(context(plan), run_of(plan)).findings


def ahead(data):
    """What is said of what lies ahead of a plan."""
    plan = read_plan(data)
    a = assess(plan)
    known_ = Known(a.drops, a.webbing, a.descent.times)
    return prospect(context(plan), Stations(), known_).findings


def had(record):
    return Gear(TODAY, unread=(record,)) if isinstance(record, NotRead) else Gear(TODAY, (record,))


class Codes(unittest.TestCase):
    def test_every_code_has_its_plan_and_severity(self):
        self.assertEqual({*WAYS, *AHEAD, *THROUGH, *RECORDS}, set(CODES))
        bare = [(c, *x, None) for c, x in (*WAYS.items(), *AHEAD.items(), *THROUGH.items())]
        for code, severity, data, record in (*bare, *((c, *x) for c, x in RECORDS.items())):
            with self.subTest(code):
                a = assess(read_plan(data), gear=NO_GEAR if record is None else had(record))
                found = [f for f in [*a.findings, *(f for d in a.drops for f in d.findings)] if f.code == code]
                found += [f for f in ahead(data) if f.code == code] if code in AHEAD else []
                found += [f for f in gone(data) if f.code == code] if code in THROUGH else []
                self.assertEqual({f.severity for f in found}, {severity})
                for f in found:
                    for units in ("metric", "us"):
                        for sentence in (f.title, f.reason, *([f.fix.label] if f.fix else [])):
                            text = words(sentence, units)
                            self.assertNotRegex(text, r"[{}]|None|nan")
                            self.assertTrue(
                                all(
                                    spoken(n, units) in text
                                    for k, n in sentence.numbers.items()
                                    if f"{{{k}}}" in sentence.template
                                )
                            )

    def test_the_plan_they_all_come_from_has_none_of_them(self):
        a = assess(read_plan(BASE))
        self.assertEqual([f.code for f in (*a.drops[0].findings, *a.findings)], [])

    def test_every_fix_offered_settles_what_it_is_offered_for(self):
        from tests.core.test_assess import fixed

        fixes = 0
        for code, (severity, data) in WAYS.items():
            p = read_plan(data)
            offered = [f for d in assess(p).drops for f in d.findings if f.code == code and f.fix]
            if offered:
                with self.subTest(code):
                    fixes += 1
                    after = assess(fixed(p, code))
                    self.assertFalse(
                        [f for d in after.drops for f in d.findings if f.code == code and f.severity == severity]
                    )
        self.assertGreaterEqual(fixes, 4)


class Inspections(unittest.TestCase):
    def codes(self, *records):
        return {
            f.code for f in assess(read_plan(direct(*records))).drops[0].findings if f.code.startswith("inspection")
        }

    def test_the_newest_record_counts_whatever_its_place_in_the_list(self):
        bad = {"on": "2026-05-01", "condition": "bad", "decision": "replace"}
        good = {"on": "2027-05-01", "condition": "good", "decision": "use", "item": "Two Bolts"}
        self.assertEqual(self.codes(bad, good), set())
        self.assertEqual(self.codes(good, bad), set())
        self.assertEqual(self.codes(good, {**bad, "on": "2027-06-01"}), {"inspection.bad"})

    def test_looking_never_makes_an_unknown_strength_known(self):
        data = direct({"condition": "good", "decision": "use"})
        data["drops"][0]["station"]["features"][0]["holds"] = unknown("not tested")
        self.assertIn("anchor.unknown", {f.code for f in assess(read_plan(data)).drops[0].findings})

    def test_what_this_party_placed_needs_no_record(self):
        data = edited(direct(), ((*STATION, "features", 0, "in_place"), "no"))
        self.assertNotIn("inspection.none", {f.code for f in assess(read_plan(data)).drops[0].findings})
