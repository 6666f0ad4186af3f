"""Anchors of several points against a structural library and a general minimiser, closed forms, laws; masses, ice, two
states."""

import json
import math
import unittest

import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st
from Pynite import FEModel3D
from scipy.optimize import minimize

from reamer.core.anchor.equilibrium import Member, drop_force_kn, rest, sliding_high, swings, two_legs
from reamer.core.anchor.ice import holes_m
from reamer.core.anchor.mass import slide_kn, topple_kn
from reamer.core.assess import assess
from reamer.core.errors import PlanError
from reamer.core.plan.edits import apply
from reamer.core.reading import read_plan
from reamer.core.tables import questions
from reamer.demos import buttress, gully
from tests import law
from tests.builders import (
    TWO_BOLTS,
    anchored,
    capacity,
    courtesy,
    doubled,
    iced,
    known,
    leg,
    mass,
    plan_of,
    post,
    rated,
    several,
    two_bolts,
    unknown,
)
from tests.core.test_assess import Workings, codes
from tests.core.test_codes import edited
from tests.core.test_redundancy import singles
from tests.outside import Outside

TRUSS = Outside("how several points share a load, in space", "the same as a truss", "pynitefea", "kN")
ENERGY = Outside("where the master point comes to rest", "a general minimiser of the energy", "scipy", "kN m")
PAIR = Outside("two equal legs, as several points", "statics of a symmetric pair, from memory", unit="share")
SINES = Outside("two unequal legs", "the sine rule", unit="share")
TRIANGLE = Outside("an ice thread's holes", "the law of sines, worked values, handbook", unit="m")


STATE = ("drops", 0, "station", "states", 0)

places = st.tuples(st.floats(-1.5, 0.1), st.floats(-1.5, 1.5), st.floats(-0.3, 0.6))
anchors = st.lists(places, min_size=2, max_size=5)


def apart(points, focal):
    assume(all(math.dist(a, b) > 0.15 for i, a in enumerate(points) for b in points[:i]))
    assume(all(math.dist(p, focal) > 0.15 for p in points))


def knotted(points, focal, stiff):
    return [
        Member((i,), math.dist(p, focal), k / math.dist(p, focal))
        for i, (p, k) in enumerate(zip(points, stiff, strict=False))
    ]


def part(data, key):
    return next(p for p in assess(read_plan(data)).drops[0].parts if p.key == key)


class AgainstAStructuralLibrary(unittest.TestCase):
    def truss(self, points, focal, stiff, load):
        """Member tensions of the same anchor as tension-only truss members; stiff legs, so that it hardly moves."""
        model = FEModel3D()
        model.add_material("m", 1.0, 0.5, 0.3, 1.0)
        model.add_node("f", *focal)
        for i, (p, k) in enumerate(zip(points, stiff, strict=False)):
            model.add_node(f"n{i}", *p)
            model.def_support(f"n{i}", True, True, True, True, True, True)
            model.add_section(f"s{i}", k, 1e-6, 1e-6, 1e-6)
            model.add_member(f"m{i}", f"n{i}", "f", "m", f"s{i}", tension_only=True)
            model.def_releases(f"m{i}", Rxi=False, Ryi=True, Rzi=True, Ryj=True, Rzj=True)
        model.def_support("f", False, False, False, True, True, True)
        for axis, f in zip(("FX", "FY", "FZ"), load, strict=False):
            model.add_node_load("f", axis, float(f))
        model.analyze(check_stability=False)
        return [
            max(0.0, -model.members[f"m{i}"].min_axial()) if model.members[f"m{i}"].active["Combo 1"] else 0.0
            for i in range(len(points))
        ]

    def test_three_legs_in_space(self):
        for points, stiff, load in (
            ([(-0.6, 0.5, 0.1), (-0.7, -0.4, 0.3), (-0.5, 0.05, 0.6)], (1e6, 2e6, 1.5e6), (2.0, 0.1, -1.0)),
            ([(-1.0, 0.8, 0.4), (-0.6, -0.7, 0.2), (-0.9, 0.0, -0.3)], (1e6, 1e6, 3e6), (3.0, -0.2, -0.2)),
            (
                [(-0.8, 0.6, 0.2), (-0.8, -0.6, 0.2), (-0.4, 0.0, 0.7), (-0.9, 0.1, -0.2)],
                (2e6, 1e6, 1e6, 1e6),
                (2.5, 0.4, -0.6),
            ),
        ):
            with self.subTest(points):
                ours = rest(points, knotted(points, (0, 0, 0), stiff), (0, 0, 0), [load])[0]
                self.assertTrue(ours.settled)
                for got, want in zip(ours.pull_kn, self.truss(points, (0, 0, 0), stiff, load), strict=True):
                    TRUSS.near(self, got, want, 0.01)

    @given(
        anchors,
        st.lists(st.floats(40, 800), min_size=5, max_size=5),
        st.sampled_from(["knotted", "sliding", "limited"]),
        st.floats(-0.5, 0.5),
        st.floats(-1, 0.2),
    )
    @law(30)
    def test_the_place_found_is_the_one_of_least_energy(self, points, stiff, focal, aside, up):
        """Against a general minimiser started elsewhere; the energy is convex, so there is one such place."""
        apart(points, (0, 0, 0))
        f = np.array((1.0, aside, up)) * 3
        members = knotted(points, (0, 0, 0), stiff)
        if focal != "knotted":
            total = sum(m.length_m for m in members)
            loop = Member(tuple(range(len(points))), total, stiff[0] / total)
            members = [loop] + (
                [Member(m.points, m.length_m + 0.1, m.stiffness_kn_m) for m in members] if focal == "limited" else []
            )

        def energy(x):
            made = -float(f @ x)
            for m in members:
                stretch = sum(math.dist(x, points[i]) for i in m.points) - m.length_m
                made += 0.5 * m.stiffness_kn_m * max(0.0, stretch) ** 2
            return made

        ours = rest(points, members, (0, 0, 0), [tuple(f)])[0]
        self.assertTrue(ours.settled)
        best = min(
            (
                minimize(energy, start, method="Nelder-Mead", options={"xatol": 1e-10, "fatol": 1e-13, "maxiter": 4000})
                for start in ((0.05, 0, 0), (0.3, 0.1, -0.1))
            ),
            key=lambda r: r.fun,
        )
        ENERGY.near(self, max(energy(ours.at), best.fun), best.fun, 1e-6)


class ClosedForms(unittest.TestCase):
    def test_two_equal_legs(self):
        """Statics of a symmetric pair: 0° 0.500, 30° 0.518, 60° 0.577, 90° 0.707, 120° 1.000, 150° 1.932. Handbook."""
        for degrees, want in ((0.001, 0.500), (30, 0.518), (60, 0.577), (90, 0.707), (120, 1.000), (150, 1.932)):
            a = math.radians(degrees) / 2
            PAIR.near(self, two_legs(a, a)[0], want, 5e-4)
            points = [(-math.cos(a), math.sin(a), 0), (-math.cos(a), -math.sin(a), 0)]
            if degrees > 1:
                got = rest(points, knotted(points, (0, 0, 0), (1e7, 1e7)), (0, 0, 0), [(1, 0, 0)])[0]
                for pull in got.pull_kn:
                    PAIR.near(self, pull, want, 2e-3)

    @given(st.floats(5, 80), st.floats(5, 80))
    @law(15)
    def test_two_unequal_legs_carry_what_the_sine_rule_says(self, alpha, beta):
        a, b = math.radians(alpha), math.radians(beta)
        points = [(-math.cos(a), math.sin(a), 0), (-math.cos(b), -math.sin(b), 0)]
        got = rest(points, knotted(points, (0, 0, 0), (1e7, 1e7)), (0, 0, 0), [(1, 0, 0)])[0]
        self.assertTrue(got.settled)
        for pull, share in zip(got.pull_kn, two_legs(a, b), strict=True):
            SINES.near(self, pull, share, 1e-4)
        self.assertAlmostEqual(sum(s * math.cos(x) for s, x in zip(two_legs(a, b), (a, b), strict=False)), 1)

    def test_a_sliding_ring_leaves_a_high_share(self):
        """k/(1+k) is 0.66 of the sum at 28° and μ 0.25; T₁ and T₂ balance the load. Handbook, capstan rule."""
        for degrees in (5, 28, 60, 100):
            t1, t2 = sliding_high(1.0, math.radians(degrees), 0.25)
            self.assertAlmostEqual(math.sqrt(t1 * t1 + t2 * t2 + 2 * t1 * t2 * math.cos(math.radians(degrees))), 1.0)
            self.assertAlmostEqual(t1 / t2, math.exp(0.25 * (math.pi - math.radians(degrees))))
        t1, t2 = sliding_high(1.0, math.radians(28), 0.25)
        self.assertAlmostEqual(t1 / (t1 + t2), 0.66, 2)

    @given(st.floats(0.2, 3), st.floats(0, 2), st.floats(1, 500))
    def test_the_force_of_a_fall_balances_its_energy(self, w, h, k):
        f = drop_force_kn(w, h, k)
        self.assertAlmostEqual(f * f / (2 * k), w * (h + f / k), 6)

    def test_swings_stay_at_their_angle_and_in_a_flat_anchors_plane(self):
        flat = [(-1, 0.5, 0), (-1, -0.5, 0)]
        made = swings((1, 0, 0), math.radians(15), flat, (0, 0, 0))
        self.assertEqual(len(made), 3)
        self.assertTrue(all(abs(w[2]) < 1e-12 for w in made))
        space = swings((1, 0, -1), math.radians(15), [*flat, (-0.5, 0, 0.8)], (0, 0, 0))
        self.assertEqual(len(space), 9)
        for w in space[1:]:
            self.assertAlmostEqual(sum(a * b for a, b in zip(w, space[0], strict=False)), math.cos(math.radians(15)))


class Laws(unittest.TestCase):
    @given(
        anchors,
        st.lists(st.floats(40, 800), min_size=5, max_size=5),
        st.integers(0, 4),
        st.floats(1.05, 5),
        st.floats(-0.4, 0.4),
    )
    @law(25)
    def test_shares_balance_no_leg_pushes_and_stiffening_a_leg_never_lowers_its_share(
        self, points, stiff, i, more, aside
    ):
        apart(points, (0, 0, 0))
        i %= len(points)
        load = (2.0, aside, -0.5)
        stiffer = [k * more if j == i else k for j, k in enumerate(stiff)]
        a, b = (rest(points, knotted(points, (0, 0, 0), s), (0, 0, 0), [load])[0] for s in (stiff, stiffer))
        for got in (a, b):
            self.assertTrue(all(t >= 0 for t in got.pull_kn))
            pull = sum(
                (np.array(got.at) - p) / np.linalg.norm(np.array(got.at) - p) * t
                for p, t in zip(np.array(points), got.pull_kn, strict=False)
            )
            np.testing.assert_allclose(pull, load, atol=1e-4)
        self.assertGreaterEqual(b.pull_kn[i], a.pull_kn[i] - 1e-6)

    @given(anchors, st.lists(st.floats(40, 800), min_size=5, max_size=5))
    @law(20)
    def test_without_a_point_the_ring_only_falls_and_the_gone_one_holds_nothing(self, points, stiff):
        """While it hardly moves: then less energy at every place means more give along the load."""
        points = [(x - 0.3, y, z) for x, y, z in points]
        apart(points, (0, 0, 0))
        d = (1.0, 0.0, 0.0)
        whole, *gone = rest(
            points,
            knotted(points, (0, 0, 0), [k * 1e4 for k in stiff]),
            (0, 0, 0),
            [d] * (len(points) + 1),
            [None, *range(len(points))],
        )
        for i, g in enumerate(gone):
            self.assertEqual(g.pull_kn[i], 0)
            if math.hypot(*g.at) < 1e-3:
                self.assertGreaterEqual(g.at[0], whole.at[0] - 1e-6)

    @given(st.floats(0, 40), st.floats(0, 10), st.floats(0.2, 0.6))
    def test_a_steeper_bed_holds_less(self, slope, more, mu):
        self.assertGreaterEqual(
            slide_kn(1000, mu, math.radians(slope)), slide_kn(1000, mu, math.radians(slope + more)) - 1e-12
        )
        self.assertEqual(slide_kn(1000, mu, math.radians(80)), 0)


class Masses(unittest.TestCase):
    def held(self, **more):
        data = plan_of(doubled())
        data["drops"][0]["station"]["features"][0]["holds"] = mass(**more)
        return data

    def test_by_hand(self):
        """Box of 1.2 × 1.0 × 0.8 m half filled with rock of 2,600 kg/m³ on dry rock, friction 0.4–0.6: handbook,
        statics."""
        low, high = (0.96 * (1 + s) ** 3 * 0.5 * 2600 for s in (-0.01, 0.01))
        got = part(self.held(), "anchor")
        self.assertAlmostEqual(got.low.value, 0.4 * low * 9.80665 / 1000, 6)
        self.assertAlmostEqual(got.high.value, 0.6 * high * 9.80665 / 1000, 6)
        water = part(self.held(under_water="yes"), "anchor")
        self.assertAlmostEqual(water.low.value / got.low.value, 1600 / 2600 * 0.25 / 0.4)  # and its bed is wet
        tall = part(self.held(height_m=known(2.0, "tape"), depth_m=known(0.5, "tape")), "anchor")
        self.assertLess(tall.low.value, got.low.value)
        self.assertAlmostEqual(topple_kn(1000, 0.5, 2.0), 1000 * 9.80665 * 0.5 / 4 / 1000)

    def test_what_it_refuses(self):
        for more, why in (({"bed": "unknown"}, "what it lies on"), ({"long_m": unknown("?")}, "its box")):
            got = part(self.held(**more), "anchor")
            self.assertIsNone(got.low)
            self.assertIn(why, got.why)
        self.assertIn(
            "anchor.weak", codes(read_plan(self.held(high_m=known(0, "tape"))), "Shortfall")
        )  # a box of no volume holds nothing
        for blank in ("height_m", "depth_m"):  # whether it slides is known all the same
            data = self.held(**{blank: unknown("?")})
            self.assertAlmostEqual(
                part(data, "anchor").low.value, part(self.held(height_m=known(0, "tape")), "anchor").low.value
            )
            self.assertIn("anchor.unknown", codes(read_plan(data), "Not checked"))
        with self.assertRaisesRegex(PlanError, "depth_m: its base cannot"):
            read_plan(self.held(depth_m=known(1.3, "tape")))
        self.assertEqual(part(self.held(slope_deg=known(45)), "anchor").low.value, 0)

    def test_workings(self):
        for more in (
            {},
            {"under_water": "yes"},
            {"height_m": known(0, "tape")},
            {"bed": "wet or loose", "slope_deg": known(10)},
        ):
            Workings("test_demo").check(read_plan(self.held(**more)))


class Ice(unittest.TestCase):
    def test_geometry(self):
        """Law of sines: both at 60° an equilateral triangle, depth 0.866 of a 0.21 m screw; 50° and 60° 0.194, 0.171,
        0.148. Handbook."""
        TRIANGLE.near(self, holes_m(0.21, math.radians(60), math.radians(60))[2], 0.182, 5e-4)
        for got, want in zip(holes_m(0.21, math.radians(50), math.radians(60)), (0.194, 0.171, 0.148), strict=False):
            TRIANGLE.near(self, got, want, 5e-4)

    @given(st.floats(0.05, 0.4), st.floats(20, 85), st.floats(20, 85))
    def test_the_holes_close_the_triangle(self, b, alpha, beta):
        a, c, depth = holes_m(b, math.radians(alpha), math.radians(beta))
        self.assertAlmostEqual(a * math.cos(math.radians(alpha)) + c * math.cos(math.radians(beta)), b)
        self.assertAlmostEqual(c * math.sin(math.radians(beta)), depth)

    def test_its_strength_is_never_computed_but_its_cords_is(self):
        """7 mm cord, EN 564, from memory, 9.8 kN; double fisherman's keeps 0.65; two strands. Dry here."""
        a = Workings("test_demo").check(read_plan(iced()))
        by = {p.key: p for p in a.drops[0].parts}
        self.assertIsNone(by["anchor"].low)
        self.assertAlmostEqual(by["webbing"].low.value, 2 * 9.8 * 0.65)
        self.assertEqual([f.severity for f in a.findings if f.code == "ice.strength"], ["Not checked"])
        self.assertEqual(a.drops[0].verdict, "No shortfall found in what was checked.")

    def test_refusals(self):
        self.assertIn("ice.meets", codes(read_plan(iced(screw_m=known(0.19))), "Shortfall"))
        self.assertIn("ice.meets", codes(read_plan(iced(first_deg=known(100), second_deg=known(85))), "Shortfall"))
        self.assertIn("ice.meets", codes(read_plan(iced(spacing_m=unknown("?"))), "Not checked"))
        self.assertNotIn("ice.meets", codes(read_plan(iced()), "Shortfall"))
        self.assertIn("rope.unknown", codes(read_plan(iced(cord=None)), "Not checked"))


class InThePlan(unittest.TestCase):
    def test_shares_reach_the_load_path_and_every_working_is_right(self):
        for data in (
            two_bolts(),
            two_bolts("sliding"),
            two_bolts("limited", slack_m=known(0.05)),
            two_bolts(of="ring-steel"),
            two_bolts(of="sling-120"),
            anchored(
                several(leg("a", 0, 0.4, 0.2), leg("b", -0.1, -0.3), leg("c", -0.2, 0.1, 0.5), down=None),
                *TWO_BOLTS,
                rated("c"),
            ),
            anchored(
                several(leg("a", 0, 0.4, 0.2), leg("b", -0.1, -0.3), leg("c", -0.2, 0.1, 0.5), focal="sliding"),
                *TWO_BOLTS,
                rated("c"),
            ),
            two_bolts(of="r1", knot="figure eight"),
        ):
            with self.subTest(json.dumps(data["drops"][0]["station"]["states"][0]["rig"])[:90]):
                a = Workings("test_demo").check(read_plan(data))
                d = a.drops[0]
                self.assertIsNotNone(d.several)
                for leg_view in d.several.legs:
                    got = next(p for p in d.parts if p.key == f"point.{leg_view.id}")
                    self.assertAlmostEqual(got.demand.value, leg_view.worst.value * 4.0, 6)
                    self.assertGreaterEqual(leg_view.worst.value, leg_view.tied.value - 1e-9)

    def test_a_knot_holds_the_legs_apart_and_a_loop_that_slides_is_one(self):
        self.assertFalse({"point.l-a", "point.l-b", "leg.l-a"} & set(singles(two_bolts())))
        self.assertIn("loop", singles(two_bolts("sliding")))
        self.assertNotIn("loop", singles(two_bolts("limited", slack_m=known(0.05))))

    def test_a_load_that_swings_asks_more_of_the_near_leg(self):
        calm, swung = (assess(read_plan(two_bolts(swing=s))).drops[0].several.legs[0].worst.value for s in (0, 25))
        self.assertGreater(swung, calm)

    def test_limiting_knots_shorten_the_fall(self):
        drops = [
            assess(read_plan(two_bolts(f, **({"slack_m": known(0.05)} if f == "limited" else {}))))
            .drops[0]
            .several.removals[0]
            for f in ("sliding", "limited", "knotted")
        ]
        self.assertGreater(drops[0].drop.value, drops[1].drop.value)
        self.assertGreater(drops[1].drop.value, drops[2].drop.value - 1e-6)
        self.assertGreater(drops[0].peak.value, drops[1].peak.value)

    def test_who_hangs_there_is_counted_once_with_their_weight(self):
        data = two_bolts()
        data["party"].append(
            {"id": "p2", "name": "Q", "role": "able", "mass_kg": known(100), "device": "eight", "tether": "rope"}
        )
        before = part(data, "ring").demand.value
        data["drops"][0]["station"]["hanging"] = ["p2"]
        data["party"][0]["mass_kg"] = known(100)
        share = assess(read_plan(data)).drops[0].several.legs[0].worst.value
        self.assertAlmostEqual(part(data, "point.l-a").demand.value, share * (4.0 + 0.980665), 6)
        self.assertEqual(part(data, "ring").demand.value, before)  # the ring carries the rider alone
        Workings("test_demo").check(read_plan(data))

    def test_webbing_whose_length_is_not_worked_out_is_not_taken_for_none(self):
        mixed = anchored(several(leg("a", 0, 0.2), leg("b", 0, -0.2, of="sling-120")), *TWO_BOLTS)
        for data in (mixed, edited(two_bolts(), ((*STATE, "rig", "out_m"), unknown("?")))):
            self.assertEqual(assess(read_plan(data)).webbing[0].unknown, 1)
            self.assertIn("webbing.stock", codes(read_plan(data), "Not checked"))

    def test_what_cannot_be_balanced_is_not_checked_in_words(self):
        cases = (
            (two_bolts(half=3.0, out=0.02, aside=0.0), "opposite each other"),
            (two_bolts(out=0.6, down=89.9, swing=0), ""),
            (
                anchored(several(leg("a", 1.2, 0.4), leg("b", 1.3, -0.4), out=0.6), *TWO_BOLTS),
                "pulls toward the points",
            ),
            (two_bolts(half=0.001), "in one place"),
            (two_bolts(of="sling-120", out=1.5), "shorter than"),
            (edited(two_bolts(), (("shed", "webbing", 0, "fibre"), "unknown")), "fibre"),
            (edited(two_bolts(), ((*STATE, "rig", "out_m"), unknown("?"))), "place is not entered"),
        )
        for data, why in cases:
            found = [f for f in assess(read_plan(data)).drops[0].findings if f.code == "legs.unknown"]
            with self.subTest(why):
                self.assertEqual(bool(found), bool(why))
                if why:
                    self.assertIn(why, found[0].reason.words["why"])
        with self.assertRaisesRegex(PlanError, "rig/legs.*at least 2"):
            read_plan(anchored(several(leg("a", 0, 0)), *TWO_BOLTS))
        with self.assertRaisesRegex(PlanError, "rig/legs/1/.*is taken"):
            read_plan(anchored(several(leg("a", 0, 0.2), leg("a", 0, -0.2)), *TWO_BOLTS))

    def test_found_textile_counts_only_its_good_strands(self):
        data = anchored(
            {"kind": "direct", "anchor": "tat", "ring": "ring-steel", "gain_m": known(0.3)},
            rated("tat", 8, 8, what="textile", in_place="yes", good_strands=known(2)),
        )
        self.assertAlmostEqual(part(data, "anchor").low.value, 16 * 0.5)  # closed by a knot that nobody has named
        feature = data["drops"][0]["station"]["features"][0]
        for fibre, knot, wet, kept in (
            ("nylon", "sewn", "no", 1.0),
            ("nylon", "ring bend", "yes", 0.6 * 0.8),
            ("polyester", "overhand", "yes", 0.5),
            ("unknown", "unknown", "yes", 0.5 * 0.8),
        ):
            feature.update(fibre=fibre, knot=knot)
            data["drops"][0]["station"]["wet"] = wet
            self.assertAlmostEqual(part(data, "anchor").low.value, 16 * kept)
        data["drops"][0]["station"]["features"][0]["good_strands"] = known(0)
        self.assertEqual(part(data, "anchor").low.value, 0)
        self.assertTrue(codes(read_plan(data), "Shortfall"))
        data["drops"][0]["station"]["features"][0]["good_strands"] = unknown("?")
        self.assertIn("anchor.unknown", codes(read_plan(data), "Not checked"))

    def test_every_kind_asks_its_own_questions(self):
        kinds = {q.what for q in questions()}
        self.assertEqual(kinds, {"bolt", "piton", "placed piece", "chain", "textile", "thread"})
        for kind in kinds:
            data = anchored(
                {"kind": "direct", "anchor": "x", "ring": "ring-steel", "gain_m": known(0.3)},
                rated("x", what=kind, in_place="yes", good_strands=known(2)),
            )
            answers = {q.key: q.good for q in questions() if q.what == kind}
            record = {"id": "i1", "item": "bolt x", "condition": "good", "decision": "use", "answers": answers}
            data["drops"][0]["station"]["inspections"] = [record]
            self.assertFalse(
                {
                    c
                    for c in codes(read_plan(data), "Not checked") | codes(read_plan(data), "Shortfall")
                    if c.startswith("inspection")
                }
            )
            first = next(iter(answers))
            for answer, code, severity in (
                ("unknown", "inspection.open", "Not checked"),
                ("no" if answers[first] == "yes" else "yes", "inspection.answer", "Shortfall"),
            ):
                data["drops"][0]["station"]["inspections"] = [{**record, "answers": {**answers, first: answer}}]
                self.assertIn(code, codes(read_plan(data), severity))


class TwoPosts(unittest.TestCase):
    def data(self, angle=0.0, strand=17.793, **more):
        posts = (
            {**post("left tree", "tree", 1.2, 30, 40, "judged"), "id": "p1", "sound": "yes"},
            {**post("right tree", "tree", 0.9, 30, 40, "judged"), "id": "p2", "sound": "yes"},
        )
        data = anchored(
            {
                "kind": "two posts",
                "first": "p1",
                "second": "p2",
                "webbing": "web-25",
                "ring": "ring-steel",
                "first_gain_m": known(0.6),
                "second_gain_m": known(0.25),
                "angle_deg": known(angle),
            },
            *posts,
            **more,
        )
        data["shed"]["webbing"][0]["strength_kn"] = capacity(strand, strand, "label")
        return data

    def test_knots_move_the_weak_point(self):
        """Strand 4,000 lbf: webbing 16,000 lbf × ½ × 0.50 × cos(θ/2) = 4,000 at the low end, less than the rope's 0.55
        × 7,600 = 4,180 lbf.
        Common practice, no source."""
        lbf = 0.0044482216152605
        got = part(self.data(strand=4000 * lbf), "webbing")
        self.assertAlmostEqual(got.low.value / lbf, 4000, 3)
        self.assertLess(got.low.value, 0.55 * 7600 * lbf)

    def test_webbing_shares_and_workings(self):
        a = Workings("test_demo").check(read_plan(self.data(40)))
        two = a.drops[0].two
        self.assertAlmostEqual(two.cut.value, 2.228 * 1 + 1.289 + 0.25 + 0.8 + 0.2, 1)
        self.assertAlmostEqual(
            two.first.value, math.sin(math.radians(20 + 15)) / math.sin(math.radians(40))
        )  # swung: as two tied legs
        self.assertFalse({"point.first", "point.second"} & set(singles(self.data(40))))
        self.assertIn("webbing", singles(self.data(40)))

    def test_without_one_post_the_ring_swings_in_line_under_the_other(self):
        two = assess(read_plan(self.data(60))).drops[0].two
        for i, gone in enumerate(two.removals):
            other = two.posts[1 - i]
            reach = math.hypot(other.out_m, other.aside_m)
            self.assertAlmostEqual(gone.drop.value, reach * (1 - math.cos(math.radians(30))))
            self.assertAlmostEqual(
                math.dist((other.out_m, other.aside_m, 0), gone.at), reach
            )  # the loop keeps its length
            self.assertAlmostEqual(gone.pulls[1 - i].value, gone.peak.value)
            self.assertGreaterEqual(gone.peak.value, 2 * 90 * 9.80665 / 1000 - 1e-9)
        weak = self.data(100)
        for f in weak["drops"][0]["station"]["features"]:
            f["holds"] = capacity(4, 4, "judged")
        self.assertIn("legs.cascade", codes(read_plan(weak), "Shortfall"))

    def test_unknowns(self):
        data = self.data()
        data["drops"][0]["station"]["states"][0]["rig"]["angle_deg"] = unknown("?")
        self.assertIn("legs.unknown", codes(read_plan(data), "Not checked"))
        data = self.data()
        data["drops"][0]["station"]["states"][0]["rig"]["second"] = "p1"
        self.assertIn("anchor.missing", codes(read_plan(data), "Not checked"))


class TwoStates(unittest.TestCase):
    def test_both_are_assessed_side_by_side(self):
        a = Workings("test_demo").check(read_plan(courtesy()))
        d = a.drops[0]
        self.assertEqual((d.state, d.last.state), ("party", "last"))
        self.assertGreater(math.dist(d.geometry.ring, d.last.geometry.ring), 1.4)
        self.assertEqual([p.key for p in d.last.parts][:3], ["anchor", "webbing", "link.ext"])
        self.assertEqual(d.tally["Caution"], sum(f.severity == "Caution" for f in d.findings))
        # The stoppers come out in both states. Webbing on webbing has no figure, and nobody has accepted the extension
        # alone.
        self.assertEqual(
            [(f.code, f.subject.state) for f in d.findings], [("webbing.unknown", "last"), ("part.single", "last")]
        )

    def test_the_extension_over_an_edge_is_found_for_the_last_person_only(self):
        data = courtesy()
        for edge, pattern, want in (
            ("coarse", "simple wrap", []),
            ("sharp", "simple wrap", [("Caution", "last")]),
            ("coarse", "re-threaded overhand", [("Shortfall", "last")]),
        ):
            # Doubled between two overhands it is redundant where it crosses; the single strand of a re-threaded
            # overhand is not.
            data["drops"][0]["section"]["edge"] = edge
            rig = data["drops"][0]["station"]["states"][1]["rig"]
            rig.update(pattern=pattern, extension_m=known(1.8), links=[] if pattern != "simple wrap" else rig["links"])
            worn = [f for f in assess(read_plan(data)).drops[0].findings if f.code == "webbing.abrades"]
            self.assertEqual([(f.severity, f.subject.state) for f in worn], want, edge)

    def test_what_holds_for_both_is_said_once(self):
        data = courtesy()
        data["drops"][0]["station"]["features"][0]["holds"] = unknown("?")
        found = [f for f in assess(read_plan(data)).drops[0].findings if f.code == "anchor.unknown"]
        self.assertEqual([f.subject.state for f in found], [""])

    def test_the_second_piece_is_counted_and_the_shared_one_once(self):
        cuts = assess(read_plan(courtesy())).webbing[0].cuts
        self.assertEqual(len(cuts), 2)
        self.assertAlmostEqual(min(c.length.value for c in cuts), 2.689, 2)
        self.assertAlmostEqual(max(c.length.value for c in cuts), 2 * 1.8 + 2 * 0.2 + 2 * 0.1)

    def test_states_come_alone_or_as_party_and_last(self):
        data = courtesy()
        data["drops"][0]["station"]["states"][1]["serves"] = "all"
        with self.assertRaisesRegex(PlanError, "drops/0/station/states: one state serves all"):
            read_plan(data)


class Demos(unittest.TestCase):
    def short(self, plan):
        a = Workings("test_demo").check(plan)
        return {(d.number, f.code) for d in a.drops for f in d.findings if f.severity == "Shortfall"}, a

    def test_the_buttress_has_its_planted_faults_and_no_others(self):
        short, a = self.short(buttress())
        self.assertEqual(
            short, {(2, "system.thin-through"), (3, "legs.angle"), (5, "pull.join-side"), (6, "inspection.answer")}
        )
        self.assertEqual({d.number for d in a.drops for f in d.findings if f.code == "legs.drop"}, {3, 4})
        self.assertEqual(a.tally["Not checked"], 0)

    def test_the_gully_has_its_planted_faults_and_no_others(self):
        short, a = self.short(gully())
        self.assertEqual(short, {(3, "ice.freezes"), (4, "ice.meets")})
        self.assertEqual({d.number for d in a.drops for f in d.findings if f.code == "ice.freezes"}, {3})
        self.assertEqual([f.drops for f in a.findings if f.code == "ice.strength"], [("d2", "d3", "d4")])

    def test_between_them_they_carry_many_kinds_of_anchor(self):
        kinds = {s.rig.kind for plan in (buttress(), gully()) for d in plan.drops for s in d.station.states}
        features = {f.kind for plan in (buttress(), gully()) for d in plan.drops for f in d.station.features}
        self.assertEqual(
            (kinds, features), ({"wrap", "direct", "several", "two posts"}, {"post", "rated", "ice thread"})
        )

    def test_every_fix_they_offer_settles_its_finding(self):
        for plan in (buttress(), gully()):
            for d in assess(plan).drops:
                for f in d.findings:
                    if f.fix:
                        after = assess(apply(plan, f.fix.edits)).drops[d.number - 1]
                        with self.subTest(d.name, code=f.code):
                            self.assertNotIn(
                                (f.code, f.severity, f.subject.part),
                                {(x.code, x.severity, x.subject.part) for x in after.findings},
                            )


if __name__ == "__main__":
    unittest.main()
