"""The twelve patterns round one post: worked values, the table's own promises, and laws."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.anchor.patterns import Tie, compare, wrapped
from reamer.core.anchor.post import band_m, leg_angle_rad, radius_m, wrap_strength_kn, wrapped_rad
from reamer.core.answer.context import context
from reamer.core.answer.working import Book
from reamer.core.assess import assess
from reamer.core.errors import PlanError
from reamer.core.model import PatternName, Post, Ring, Webbing, Wrap
from reamer.core.reading import read_model, read_plan
from reamer.core.rope.knots import retention
from reamer.core.station.drop import compare_patterns
from reamer.core.tables import patterns, row
from tests import law
from tests.builders import capacity, doubled, known, plan_of, unknown, wrap
from tests.core.test_assess import Workings, codes

LABEL_KN = 17.793


def parts(
    pattern="simple wrap", gain=0.6, girth=1.2, fibre="nylon", bend="back", extension=None, surface="rock", bar=10.0
):
    rig = {**wrap(gain, bend), "pattern": pattern, "extension_m": known(extension) if extension else unknown("none")}
    return (
        read_model(Wrap, rig),
        read_model(
            Post,
            {
                "kind": "post",
                "id": "post",
                "name": "post",
                "what": "boulder",
                "surface": surface,
                "holds": unknown("?"),
                "girth_m": {**known(girth, "tape"), "error": {"kind": "share", "value": 0}},
            },
        ),
        read_model(
            Webbing,
            {
                "id": "w",
                "name": "web",
                "fibre": fibre,
                "thickness_mm": known(3),
                "stock_m": known(50, "tape"),
                "strength_kn": capacity(LABEL_KN, LABEL_KN, "label"),
            },
        ),
        read_model(
            Ring,
            {
                "id": "r",
                "name": "ring",
                "thickness_mm": known(bar),
                "opening_mm": known(36),
                "rating_kn": capacity(25, 25, "stamped"),
            },
        ),
    )


def tied(pattern="simple wrap", wet="no", school="graded", **more):
    rig, post, webbing, ring = parts(pattern, **more)
    return wrapped(rig, Tie(post, webbing, ring, wet, school), Book())


class CheckValues(unittest.TestCase):
    """Common practice, no source, unless named. Post of 1.20 m girth, focal point 0.60 m out, 25 mm webbing of 4,000
    lbf."""

    def test_what_a_full_turn_leaves_for_the_bend(self):
        angle = leg_angle_rad(radius_m(1.2), 0.6)
        self.assertAlmostEqual(math.exp(-0.20 * wrapped_rad("front", angle)), 0.37, 2)
        self.assertAlmostEqual(math.exp(-0.05 * wrapped_rad("front", angle)), 0.78, 2)

    def test_wrap_two_pull_one_is_capped_at_the_plain_strand(self):
        angle = leg_angle_rad(radius_m(1.2), 0.6)
        front = ((2 / 3, wrapped_rad("front", angle)),)
        self.assertAlmostEqual(wrap_strength_kn(LABEL_KN, angle, 1, 1, front, 0.2), 34.5, 1)
        self.assertAlmostEqual(tied("wrap two, pull one", surface="bark").low.value, 25.1, 1)

    def test_webbing_to_cut(self):
        """Precise sums of bands, girths, knots and tails."""
        band, girth, gain = band_m(radius_m(1.2), 0.6), 1.2, 0.6
        wants = {
            "simple wrap": band + 0.25 + 0.2,
            "simple wrap, overhand": band + 0.25 + 0.2 + 0.2,
            "frost knot": band + 0.2 + 0.2,
            "wrap two, pull one": girth + band + 0.45,
            "wrap three, pull two": girth + 2 * band + 0.45,
            "redundant wrap two, pull one": 2 * (girth + band + 0.45),
            "redundant wrap, quick tie": 2 * (girth + band) + 0.4 + 0.2,
            "basket": 2 * band + 0.45,
            "redundant basket": 2 * band + 0.4 + 0.2,
            "girth hitch": 2 * (girth + gain) + 0.45,
            "threaded eye": girth + gain + 0.5 + 0.4,
        }
        for key, want in wants.items():
            with self.subTest(key):
                self.assertAlmostEqual(tied(key).cut.value, want, 9)
        self.assertAlmostEqual(tied("re-threaded overhand", extension=2.0).cut.value, band + 2 + 0.6 + 0.2, 9)

    def test_low_ends_by_hand(self):
        """Low retention, low friction; half of knotted strands or separately tied loops carry at the low end."""
        half = math.cos(leg_angle_rad(radius_m(1.2), 0.6) / 2)
        bar = 1 - 0.5 / math.sqrt(10 / 3)
        wants = {
            "simple wrap, overhand": 1 * half * LABEL_KN * 0.5,
            "frost knot": 1 * half * LABEL_KN * 0.5,
            "wrap three, pull two": 4 * half * LABEL_KN * bar,
            "redundant wrap two, pull one": 2 * half * LABEL_KN * bar,
            "redundant wrap, quick tie": 2 * half * LABEL_KN * 0.5,
            "redundant basket": 2 * half * LABEL_KN * 0.5,
            "girth hitch": 2 * LABEL_KN * 0.5,
            "threaded eye": LABEL_KN * 0.5,
        }
        for key, want in wants.items():
            with self.subTest(key):
                self.assertAlmostEqual(tied(key).low.value, want, 6)
        # The single strand that extends it takes no cosine; here the band with one strand carrying is the weaker.
        self.assertAlmostEqual(tied("re-threaded overhand", extension=2.0).low.value, half * LABEL_KN * 0.5, 6)
        self.assertAlmostEqual(tied("re-threaded overhand", extension=2.0).high.value, LABEL_KN * 0.65, 6)


class Table(unittest.TestCase):
    def test_the_model_and_the_table_name_the_same_patterns(self):
        self.assertEqual(list(PatternName.__args__), list(patterns()))
        self.assertEqual(len(patterns()), 12)

    def test_every_row_is_sourced_and_its_knots_are_in_the_knot_table(self):
        for key, p in patterns().items():
            with self.subTest(key):
                self.assertEqual((p.tag, p.source), ("P", "common practice, no source"))
                for knot, place in p.weak_points:
                    self.assertTrue(row("knots", f"retention.{knot}.nylon"))
                    wrapped_rad("leg" if place == "chosen" else place, 0.5)
                # A knot at the focal point and a strand bent over the ring exclude each other, but for the hitch on the
                # post.
                self.assertEqual(p.bends_over_ring, ("overhand", "focal") not in p.weak_points)

    def test_every_working_of_every_pattern_is_right(self):
        check = Workings("test_demo")
        for key in patterns():
            for fibre in ("nylon", "polyester", "HMPE"):
                data = plan_of(doubled())
                data["drops"][0]["station"]["states"][0]["rig"].update(pattern=key, extension_m=known(1.0))
                data["shed"]["webbing"][0]["fibre"] = fibre
                with self.subTest(key, fibre=fibre):
                    check.check(read_plan(data))


class Schools(unittest.TestCase):
    def test_flat_half_counts_every_knot_at_half(self):
        self.assertEqual(
            (retention("ring bend", "nylon", "flat half").low, retention("overhand", "HMPE", "flat half").low),
            (0.5, 0.3),
        )
        graded, flat = tied("simple wrap", bend="leg"), tied("simple wrap", bend="leg", school="flat half")
        self.assertAlmostEqual(flat.low.value / graded.low.value, 0.5 / 0.6, 9)

    def test_no_school_makes_a_forbidden_knot_hold(self):
        for school in ("graded", "flat half"):
            got = tied("simple wrap", fibre="HMPE", school=school)
            self.assertTrue(got.forbidden and got.low is None)
            # A loop of HMPE that an overhand closes slips: pull tests, common practice, no source.
            for pattern in (
                "frost knot",
                "re-threaded overhand",
                "redundant basket",
                "redundant wrap, quick tie",
                "threaded eye",
            ):
                slipping = tied(pattern, fibre="HMPE", school=school)
                self.assertEqual((slipping.forbidden, slipping.low), ("overhand", None), pattern)

    def test_the_policy_reaches_the_load_path(self):
        def webbing(school):
            data = plan_of(doubled(), policies={"retention": school})
            data["drops"][0]["station"]["states"][0]["rig"]["pattern"] = "frost knot"
            return next(p for p in assess(read_plan(data)).drops[0].parts if p.key == "webbing").high.value

        self.assertAlmostEqual(webbing("flat half") / webbing("graded"), 0.5 / 0.65, 9)


class Laws(unittest.TestCase):
    @given(st.sampled_from(list(patterns())), st.floats(0.1, 6), st.floats(0.05, 8), st.floats(0.01, 3))
    @law(80)
    def test_low_below_high_below_the_plain_strands_and_further_out_is_no_weaker(self, key, girth, gain, more):
        near, far = (
            tied(key, girth=girth, gain=gain, extension=1),
            tied(key, girth=girth, gain=gain + more, extension=1),
        )
        self.assertLessEqual(near.low.value, near.high.value + 1e-9)
        self.assertLessEqual(near.high.value, patterns()[key].carry_high * LABEL_KN + 1e-9)
        # Narrower legs wrap less post, so a bend behind it may carry a little more: only the patterns without one must
        # gain.
        if patterns()[key].spread and not any(p in ("chosen", "front") for _, p in patterns()[key].weak_points):
            self.assertGreaterEqual(far.low.value, near.low.value - 1e-9)
        self.assertGreater(far.cut.value, near.cut.value)

    @given(st.sampled_from(list(patterns())), st.floats(0.1, 6), st.floats(0.05, 8))
    @law(60)
    def test_the_view_from_above_is_the_geometry_of_the_numbers(self, key, girth, gain):
        w = tied(key, girth=girth, gain=gain, extension=1)
        b = w.bench
        self.assertAlmostEqual(math.hypot(b.touch_x_m, b.touch_y_m), b.radius_m)
        leg = (b.reach_m - b.touch_x_m, -b.touch_y_m)
        self.assertAlmostEqual(leg[0] * b.touch_x_m + leg[1] * b.touch_y_m, 0, 6)  # a leg leaves the post at a tangent
        self.assertAlmostEqual(2 * math.atan2(b.touch_y_m, leg[0]), w.angle.value)
        arc = b.radius_m * (math.pi + w.angle.value)
        self.assertAlmostEqual(2 * math.hypot(*leg) + arc, w.band.value)
        self.assertEqual(len(b.knots), len(patterns()[key].weak_points))

    def test_wet_never_strengthens(self):
        for key in patterns():
            self.assertLess(tied(key, wet="yes", extension=1).low.value, tied(key, extension=1).low.value)


class Compared(unittest.TestCase):
    def test_each_row_is_what_adopting_that_pattern_gives(self):
        data = plan_of(doubled())
        for r in compare_patterns(context(read_plan(data)), read_plan(data).drops[0]):
            data["drops"][0]["station"]["states"][0]["rig"]["pattern"] = r.key
            d = assess(read_plan(data)).drops[0]
            part = next(p for p in d.parts if p.key == "webbing")
            self.assertEqual((part.low, part.why, d.cut), (r.low, r.why, r.cut))

    def test_nothing_to_compare_without_post_or_webbing(self):
        data = plan_of(doubled())
        data["shed"]["webbing"] = []
        self.assertEqual(compare_patterns(context(read_plan(data)), read_plan(data).drops[0]), ())

    def test_unknowns_stay_unknown_in_every_row(self):
        rig, post, web, ring = parts()
        bare = web.model_copy(
            update={
                "strength_kn": (
                    read_model(Webbing, {**web.model_dump(mode="json"), "strength_kn": unknown("?")}).strength_kn
                )
            }
        )
        self.assertEqual({r.low for r in compare(rig, Tie(post, bare, ring, "no", "graded"))}, {None})

    def test_an_extension_moves_the_ring_and_is_asked_for(self):
        data = plan_of(doubled())
        rig = data["drops"][0]["station"]["states"][0]["rig"]
        rig.update(pattern="re-threaded overhand")
        self.assertIn("section.unknown", codes(read_plan(data), "Not checked"))
        rig.update(extension_m=known(1.0))
        self.assertAlmostEqual(assess(read_plan(data)).drops[0].geometry.ring[0], 1.6 * math.cos(math.atan2(0.2, 2)))

    def test_a_strange_pattern_is_refused(self):
        data = plan_of(doubled())
        data["drops"][0]["station"]["states"][0]["rig"]["pattern"] = "granny"
        with self.assertRaisesRegex(PlanError, "rig/pattern: Input should be 'simple wrap'"):
            read_plan(data)
