"""The front door: planted faults, fixes that work, unknowns that show, and laws of the whole."""

import copy
import json
import math
import unittest

import sympy
from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.codes import CODES, SEVERITIES
from reamer.core.assess import assess
from reamer.core.errors import PlanError
from reamer.core.reading import read_plan
from reamer.demos import canyon
from tests import law
from tests.builders import capacity, doubled, known, plan, plan_of, quick, rope, unknown, wrap
from tests.outside import Outside

FORMULAS = Outside("every number that is shown, by its own formula", "a computer algebra system", "sympy", "%")


SINGLE = {
    "kind": "blocked, pull cord",
    "rope": "r1",
    "ridden_end": "b",
    "cord": "c1",
    "cord_end": "b",
    "tails_m": known(0.3),
    "block": "figure eight",
    "carabiner": True,
    "stoppers": [{"rope": "r1", "end": "b"}],
}
JOINED = {
    "kind": "joined",
    "through": "r1",
    "through_end": "b",
    "other": "r2",
    "other_end": "b",
    "tails_m": known(0.3),
    "stoppers": [{"rope": "r1", "end": "b"}, {"rope": "r2", "end": "b"}],
}
SAME = {
    "kind": "blocked, same rope",
    "rope": "r1",
    "ridden_end": "b",
    "ride_m": known(22, "tape"),
    "block": "figure eight",
    "carabiner": True,
    "stoppers": [{"rope": "r1", "end": "b"}],
}
KIT = [rope(), rope("r2", diameter=8.0), rope("c1", diameter=6.0, kind="pull cord")]


def codes(p, severity=None):
    a = assess(p)
    return {f.code for f in [*a.drops[0].findings, *a.findings] if severity in (None, f.severity)}


def fixed(p, code):
    """The plan after the first fix offered for a finding, as the screen applies it."""
    found = next(f for d in assess(p).drops for f in d.findings if f.code == code and f.fix)
    data = json.loads(p.model_dump_json())
    for edit in found.fix.edits:
        at = data
        for key in edit.path[:-1]:
            at = at[key]
        at[edit.path[-1]] = edit.value
    return read_plan(data)


class Demo(unittest.TestCase):
    def test_planted_faults_are_found_and_nothing_else_is_short(self):
        a = assess(canyon())
        short = {(d.number, f.code) for d in a.drops for f in d.findings if f.severity == "Shortfall"}
        self.assertEqual(
            short,
            {
                (2, "end.water"),
                (3, "reach.short"),
                (4, "webbing.weak"),
                (5, "webbing.angle"),
                (5, "webbing.weak"),
                (6, "release.reserve"),
                (8, "block.passes"),
                (9, "pull.hard"),
            },
        )
        self.assertIn("rope.nominal", {f.code for f in a.drops[2].findings})
        self.assertEqual(
            [f.code for f in a.drops[6].findings if f.severity == "Not checked"], ["inspection.none", "anchor.unknown"]
        )

    def test_the_short_rope_is_short_only_because_its_error_is_counted(self):
        data = json.loads(canyon().model_dump_json())
        for shot in data["drops"][2]["section"]["shots"]:
            shot["slope_m"]["error"] = {"kind": "share", "value": 0}
        data["shed"]["ropes"][1].update(nominal_m=known(37), measured_m=known(37, "tape"), wet_since_measured="no")
        self.assertNotIn("reach.short", {f.code for f in assess(read_plan(data)).drops[2].findings})

    def test_each_fix_offered_settles_its_finding(self):
        p = canyon()
        for code in ("reach.short", "webbing.angle", "webbing.overhand"):
            with self.subTest(code):
                after = fixed(p, code)
                self.assertNotIn(
                    code, {f.code for d in assess(after).drops for f in d.findings if f.severity == "Shortfall"}
                )

    def test_leaving_the_needless_overhand_out_settles_the_weak_wrap(self):
        after = assess(fixed(canyon(), "webbing.overhand")).drops[3]
        self.assertEqual(after.tally["Shortfall"], 0)

    def test_at_least_four_patterns_are_shown(self):
        rigs = [d.station.states[0].rig for d in canyon().drops]
        self.assertGreaterEqual(len({r.pattern for r in rigs if r.kind == "wrap"}), 4)

    def test_deterministic(self):
        self.assertEqual(assess(canyon()), assess(canyon()))


class Workings(unittest.TestCase):
    """Every number is what its own formula gives for its own listed inputs, evaluated by a computer algebra system."""

    NAMES = {
        "min": sympy.Min,
        "max": sympy.Max,
        "sqrt": sympy.sqrt,
        "sin": sympy.sin,
        "cos": sympy.cos,
        "asin": sympy.asin,
        "atan2": sympy.atan2,
        "exp": sympy.exp,
        "pi": sympy.pi,
    }

    def check(self, p, least=10):
        a, seen = assess(p), 0
        for subject, workings in a.workings.items():
            by_key = {w.key: w for w in workings}
            for w in workings:
                values = {t.symbol: sympy.Float(t.value, 20) for t in w.terms}
                self.assertEqual(len(values), len(w.terms), f"{w.key}: one symbol twice")
                got = float(sympy.sympify(w.formula, locals={**self.NAMES, **values}))
                if max(abs(got), abs(w.value)) > 1e-9:
                    FORMULAS.near(self, w.value, got, 1e-7, f"{subject} {w.key}")
                for t in w.terms:
                    self.assertTrue(t.source or t.working, f"{w.key}: {t.symbol} has no source")
                    if t.working:
                        self.assertEqual(
                            by_key[t.working].value, t.value, f"{w.key}: {t.symbol} is not its working's value"
                        )
                seen += 1
        self.assertGreater(seen, least)
        return a

    def test_demo(self):
        a = self.check(canyon())
        for d in a.drops:
            keys = {w.key for w in a.workings[d.id]}
            shown = [
                n
                for r in d.reach
                for n in (r.low, r.high, r.need, r.spare, r.free and r.free.above, r.ridden and r.ridden.above)
            ]
            shown += [n for part in d.parts for n in (part.demand, part.required, part.low, part.high, part.times)]
            shown += [d.height, d.angle, d.cut, d.taut.high, d.draped.high, *(c.turn for c in d.geometry.contacts)]
            for n in filter(None, shown):
                self.assertIn(n.working, keys)

    def test_every_system_margin_and_ring(self):
        for margin in ({"kind": "peak"}, {"kind": "static ratio"}, {"kind": "own", "times": 3}):
            for system in (doubled(), SINGLE, JOINED, SAME):
                with self.subTest(system=system["kind"], margin=margin["kind"]):
                    data = plan_of(system, ropes=KIT, wet="unknown", policies={"margin": margin})
                    data["shed"]["rings"][0]["thickness_mm"] = known(2.0 if margin["kind"] == "own" else 10.0)
                    self.check(read_plan(data))


class Systems(unittest.TestCase):
    def reach(self, system, **more):
        return {(r.rope, r.end): r for r in assess(plan(system, ropes=KIT, **more)).drops[0].reach}

    def test_who_is_ridden_and_pulled(self):
        roles = {k: v.role for k, v in self.reach(SINGLE).items()}
        self.assertEqual(roles, {("r1", "b"): "ride", ("c1", "b"): "pull"})
        self.assertEqual({v.role for v in self.reach(doubled()).values()}, {"ride and pull"})

    def test_lengths_by_hand(self):
        """60 m by tape: 59.4 at least. Figure eight 45 d, flat overhand 30 d and its tail: our judgement."""
        self.assertAlmostEqual(self.reach(doubled())["r1", "a"].low.value, 29.7)
        self.assertAlmostEqual(self.reach(JOINED)["r1", "b"].low.value, 59.4 - 0.27 - 0.3)
        self.assertAlmostEqual(self.reach(SINGLE)["r1", "b"].low.value, 59.4 - 0.405 - 0.27 - 0.3)
        same = self.reach(SAME)
        self.assertAlmostEqual(same["r1", "b"].low.value, 22 * 0.99)
        self.assertAlmostEqual(same["r1", "a"].low.value, 59.4 - 0.405 - 22 * 1.01)

    def test_a_ride_strand_is_never_longer_than_the_rope(self):
        got = self.reach({**SAME, "ride_m": known(90, "tape")})
        self.assertAlmostEqual(got["r1", "b"].low.value, 59.4 - 0.405)
        self.assertLess(got["r1", "a"].spare.value, 0)

    def test_need_by_hand(self):
        """Path of the upper bound, 1.5 m on the ground, 25 d and a metre for the stopper; a pull strand path and 1.5
        m."""
        section = quick(2, 0, 15, "tape", "rounded")
        up = 1.01 * 17 - 0.6
        got = self.reach(SINGLE, section=section)
        self.assertAlmostEqual(got["r1", "b"].need.value, up + 1.5 + 1.225)
        self.assertAlmostEqual(got["c1", "b"].need.value, up + 1.5)

    def test_end_positions_with_and_without_a_rider(self):
        short = [rope("r1", length=16.0), rope("c1", length=60, kind="pull cord")]
        r = next(
            r
            for r in assess(plan(SINGLE, ropes=short, section=quick(2, 0, 30, "tape", "rounded"))).drops[0].reach
            if r.rope == "r1"
        )
        path, length = 2 + 30 - 0.6, 16 * 0.99 - 0.405 - 0.27 - 0.3
        self.assertAlmostEqual(r.free.above.value, path - length)
        self.assertAlmostEqual(r.free.z_m, -(length - 1.4))
        self.assertAlmostEqual(r.ridden.above.value, path - length * (1 + 0.03 * 90 / 100))

    def test_faults_of_the_system(self):
        cases = [
            ({**doubled(), "rope": "gone"}, "system.missing", "Not checked"),
            ({**JOINED, "other": "r1"}, "system.twice", "Shortfall"),
            ({**SINGLE, "rope": "c1", "cord": "r1", "stoppers": []}, "system.cord-ridden", "Shortfall"),
            ({**JOINED, "through": "r2", "other": "r1"}, "system.thin-through", "Shortfall"),
            ({**doubled(), "stoppers": []}, "end.open", "Shortfall"),
            ({"kind": "none"}, "system.none", "Not checked"),
            ({**SAME, "ride_m": unknown("later")}, "reach.unknown", "Not checked"),
        ]
        for system, code, severity in cases:
            with self.subTest(code):
                got = codes(plan(system, ropes=KIT), severity)
                self.assertIn(code, got)

    def test_thin_through_the_ring_is_settled_by_its_fix(self):
        p = plan({**JOINED, "through": "r2", "other": "r1"}, ropes=KIT)
        self.assertNotIn("system.thin-through", codes(fixed(p, "system.thin-through")))

    def test_an_unknown_middle_is_not_checked_until_both_ends_are_run(self):
        p = plan(ropes=[rope(middle_off_m=unknown("never checked"))])
        self.assertTrue({"system.middle", "reach.unknown"} <= codes(p, "Not checked"))
        self.assertFalse({"system.middle", "reach.unknown"} & codes(fixed(p, "system.middle")))

    def test_open_end_above_the_landing(self):
        p = plan(doubled(stoppers=""), ropes=[rope(length=30)])
        self.assertIn("end.open", codes(p, "Shortfall"))
        self.assertNotIn("end.open", codes(fixed(p, "end.open")))

    def test_over_moving_water_a_knot_and_a_strand_that_cannot_be_set_are_shortfalls(self):
        p = plan(landing="moving water")
        self.assertLessEqual({"end.water", "reach.water-fixed", "reach.water"}, codes(p, "Shortfall"))


class Unknowns(unittest.TestCase):
    def test_each_unknown_shows_as_not_checked(self):
        def at(data, *path, value):
            here = data
            for key in path[:-1]:
                here = here[key]
            here[path[-1]] = value
            return data

        drop = ("drops", 0)
        cases = [
            ((*drop, "section", "height_m"), "section.unknown"),
            ((*drop, "section", "setback_m"), "section.unknown"),
            ((*drop, "section", "edge"), "edge.unknown"),
            ((*drop, "station", "features", 0, "holds"), "anchor.unknown"),
            ((*drop, "station", "features", 0, "girth_m"), "webbing.unknown"),
            ((*drop, "station", "states", 0, "rig", "gain_m"), "section.unknown"),
            (("shed", "webbing", 0, "strength_kn"), "webbing.unknown"),
            (("shed", "webbing", 0, "pieces"), "webbing.cut"),
            (("shed", "rings", 0, "rating_kn"), "ring.unknown"),
            (("shed", "ropes", 0, "diameter_mm"), "rope.unknown"),
            (("party", 0, "mass_kg"), "load.unknown"),
        ]
        self.assertFalse(codes(read_plan(plan_of(doubled())), "Not checked"))
        self.assertIn(
            "rope.unknown",
            codes(plan(ropes=[rope(kind="dynamic single", strength_kn=unknown("no label"))]), "Not checked"),
        )
        for path, code in cases:
            with self.subTest(path):
                value = (
                    "unknown"
                    if path[-1] in ("edge", "kind", "fibre")
                    else []
                    if path[-1] == "pieces"
                    else unknown("test")
                )
                self.assertIn(code, codes(read_plan(at(plan_of(doubled()), *path, value=value)), "Not checked"))

    def test_a_plan_in_which_nothing_could_be_checked_gets_no_verdict(self):
        data = plan_of({"kind": "none"}, mass=None)
        self.assertEqual(
            (assess(read_plan(data)).verdict, assess(read_plan({"format": 1, "title": "x"})).verdict), ("", "")
        )
        self.assertEqual(assess(plan()).verdict, "No shortfall found in what was checked.")

    def test_no_party_no_load(self):
        p = read_plan(plan_of(doubled(), mass=None))
        self.assertTrue({"load.unknown", "party.none"} <= codes(p, "Not checked"))
        self.assertEqual({part.verdict for part in assess(p).drops[0].parts}, {"Not checked"})

    def test_hmpe_webbing_with_a_ring_bend_is_a_shortfall(self):
        data = plan_of(doubled())
        data["shed"]["webbing"][0]["fibre"] = "HMPE"
        self.assertIn("webbing.knot", codes(read_plan(data), "Shortfall"))

    def test_removed_parts_leave_the_station_not_checked(self):
        for kind in ("webbing", "rings"):
            data = plan_of(doubled())
            data["shed"][kind] = []
            self.assertIn("anchor.missing", codes(read_plan(data), "Not checked"))

    def test_too_little_webbing(self):
        data = plan_of(doubled())
        data["shed"]["webbing"][0]["pieces"] = [{"id": "p1", "length_m": known(2.0, "tape")}] * 1
        self.assertIn("webbing.cut", codes(read_plan(data), "Shortfall"))


class Strength(unittest.TestCase):
    def part(self, key, **more):
        return next(p for p in assess(plan(more.pop("system", None), **more)).drops[0].parts if p.key.startswith(key))

    def test_demand_is_per_part(self):
        """Common practice, no source: the anchor takes the peak, each of two ridden strands half, a blocked one all."""
        self.assertEqual(self.part("anchor").demand.value, 4.0)
        self.assertEqual(self.part("rope").demand.value, 2.0)
        self.assertEqual(self.part("rope", system=SINGLE, ropes=KIT).demand.value, 4.0)

    def test_policies(self):
        for margin, wanted in (
            ({"kind": "peak"}, 8.0),
            ({"kind": "static ratio"}, 10 * 90 * 9.80665 / 1000),
            ({"kind": "own", "times": 3}, 12.0),
        ):
            self.assertAlmostEqual(self.part("anchor", policies={"margin": margin}).required.value, wanted)

    def test_rope_at_a_figure_eight_is_capped(self):
        """Common practice, no source: 8 to 10 mm low-stretch at most 1.2 kN a millimetre at a figure eight."""
        strong = [rope(strength_kn=capacity(60, 60, "label")), KIT[2]]
        self.assertAlmostEqual(self.part("rope", system=SINGLE, ropes=strong).high.value, 1.2 * 9.0)

    def test_a_fibre_nobody_knows_is_counted_as_nylon_and_said_to_be_unknown(self):
        """Figure eight 0.55–0.80 in nylon or polyester, 0.30–0.50 in HMPE or aramid: handbook and common practice, from
        memory."""

        def holds(fibre):
            p = self.part("rope", system=SINGLE, ropes=[rope(fibre=fibre, kind="dynamic single"), KIT[2]])
            return p.low.value

        self.assertAlmostEqual(holds("HMPE"), 20 * 0.30)
        self.assertEqual(holds("unknown"), holds("nylon"))
        self.assertEqual(holds("polypropylene"), holds("polyester"))
        unsaid, said = (
            codes(plan(SINGLE, ropes=[rope(fibre=f, kind="dynamic single"), KIT[2]]), "Not checked")
            for f in ("nylon", "unknown")
        )
        self.assertEqual(said - unsaid, {"rope.unknown"})
        clove = {**SINGLE, "block": "clove hitch"}
        self.assertIn(
            "no strength for a rope of HMPE in a clove hitch",
            self.part("rope", system=clove, ropes=[rope(fibre="HMPE"), KIT[2]]).why,
        )

    def test_a_bar_thinner_than_what_bends_over_it_is_a_caution(self):
        data = plan_of(doubled())
        for thick, kind, said in ((8, "ring", False), (4, "ring", True), (8, "plate", True)):
            data["shed"]["rings"][0].update(thickness_mm=known(thick), kind=kind)
            self.assertEqual("ring.thin" in codes(read_plan(data), "Caution"), said, (thick, kind))

    def test_angle_classes(self):
        """Our judgement at 60°, common practice at 90° and 120°; both ends of the caution are exclusive."""
        r = 1.212 / (2 * math.pi)
        for degrees, severity in ((55, None), (65, "Note"), (100, "Caution"), (125, "Shortfall")):
            gain = r / math.sin(math.radians(degrees / 2)) - r
            found = [f.severity for f in assess(plan(rig=wrap(gain))).drops[0].findings if f.code == "webbing.angle"]
            self.assertEqual(found, [severity] if severity else [])

    def test_low_stretch_rope_without_a_label_is_counted_by_its_kind(self):
        """8–10 mm low-stretch canyon rope holds about 1 to 1.2 kN a mm at a figure eight: common practice, no
        source."""
        p = self.part("rope", system=SAME, ropes=[rope(strength_kn=unknown("no label")), *KIT[1:]])
        knot = next(h for h in p.points if h.key == "knot")
        self.assertAlmostEqual(knot.low.value, 9.0)
        self.assertAlmostEqual(knot.high.value, 1.2 * 9.0)
        self.assertIsNone(
            self.part("rope", system=SAME, ropes=[rope(strength_kn=unknown("no label"), diameter=10.5), *KIT[1:]]).low
        )
        Workings("test_demo").check(plan(SAME, ropes=[rope(strength_kn=unknown("no label")), *KIT[1:]]))

    def test_a_weak_post_is_found_and_named_weakest(self):
        data = plan_of(doubled())
        data["drops"][0]["station"]["features"][0]["holds"] = capacity(7.6, 12, "2.1 t on a slope")
        p = read_plan(data)
        self.assertIn("anchor.weak", codes(p, "Shortfall"))
        self.assertEqual([x.key for x in assess(p).drops[0].parts if x.weakest], ["anchor"])


class Laws(unittest.TestCase):
    @given(st.floats(10, 100), st.floats(0, 50), st.sampled_from([doubled(), SINGLE, JOINED, SAME]))
    @law(60)
    def test_a_longer_rope_never_adds_a_shortfall_of_reach(self, length, more, system):
        def short(length):
            return assess(plan(system, ropes=[rope(length=length), *KIT[1:]])).drops[0].tally["Shortfall"]

        self.assertLessEqual(short(length + more), short(length))

    @given(st.floats(5, 60), st.floats(20, 80))
    @law(40)
    def test_swapping_the_strands_of_a_doubled_rope_changes_nothing_but_the_end_pulled(self, height, length):
        def seen(pulled):
            d = assess(
                plan(doubled(pulled=pulled), ropes=[rope(length=length)], section=quick(2, 0, height, "eye", "rounded"))
            ).drops[0]
            return (
                sorted((r.low.value, r.need.value, r.spare.value) for r in d.reach),
                d.tally,
                sorted((p.low.value, p.demand.value) for p in d.parts),
            )

        self.assertEqual(seen("a"), seen("b"))

    @given(st.floats(40, 120), st.floats(0, 60))
    @law(40)
    def test_a_heavier_rider_never_raises_a_margin(self, mass, more):
        def times(m):
            return [p.times.value for p in assess(plan(mass=m)).drops[0].parts]

        for light, heavy in zip(times(mass), times(mass + more), strict=True):
            self.assertLessEqual(heavy, light)

    @given(st.sampled_from(["tape", "rangefinder", "known rope", "guidebook", "eye"]), st.floats(4, 60))
    @law(40)
    def test_a_worse_method_never_gives_more_to_spare(self, method, height):
        def spare(m):
            return min(r.spare.value for r in assess(plan(section=quick(2, 0, height, m, "rounded"))).drops[0].reach)

        self.assertLessEqual(spare("eye"), spare(method) + (0.3 if method == "rangefinder" else 0))

    def test_findings_have_known_codes_and_come_worst_first(self):
        for d in assess(canyon()).drops:
            order = [SEVERITIES.index(f.severity) for f in d.findings]
            self.assertEqual(order, sorted(order))
            self.assertTrue({f.code for f in d.findings} <= set(CODES))


class Names(unittest.TestCase):
    def test_two_things_of_one_name_or_id_are_refused(self):
        data = plan_of(doubled(), ropes=[rope(), rope("r2", name="R1")])
        with self.assertRaisesRegex(PlanError, "shed/ropes/1/name: the name “r1” is taken"):
            read_plan(data)
        two = copy.deepcopy(plan_of(doubled()))
        two["drops"].append(two["drops"][0])
        with self.assertRaisesRegex(PlanError, "drops/1/id: the id “d1” is taken"):
            read_plan(two)
