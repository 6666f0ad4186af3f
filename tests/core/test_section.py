"""Terrain from either entry, its bounds, the ring's place, and what is refused."""

import math
import unittest

from hypothesis import assume, given
from hypothesis import strategies as st

from reamer.core.assess import assess
from reamer.core.errors import GeometryError, PlanError
from reamer.core.model import Error, Known, Quick, Shots
from reamer.core.plan.limits import limits_m
from reamer.core.reading import read_model, read_plan
from reamer.core.section.lines import height_m, lines
from reamer.core.section.meaning import check
from reamer.core.section.shooting import as_shots
from reamer.core.section.terrain import terrain
from tests import law
from tests.builders import TWO_BOLTS, anchored, known, leg, plan, quick, several, unknown


def shots(*legs):
    return read_model(
        Shots,
        {
            "kind": "shots",
            "shots": [
                {"id": f"s{i}", "slope_m": known(s, "tape"), "incl_deg": known(a), "edge": "rounded"}
                for i, (s, a) in enumerate(legs)
            ],
        },
    )


class Entry(unittest.TestCase):
    def test_both_entries_of_one_drop_give_one_terrain(self):
        made = terrain(read_model(Quick, quick(3, 0.5, 20, "tape", "sharp", 80)))
        out = 20 / math.tan(math.radians(80))
        other = terrain(shots((math.hypot(3, 0.5), -math.degrees(math.atan2(0.5, 3))), (math.hypot(out, 20), -80)))
        for a, b in zip(made.points, other.points, strict=True):
            self.assertAlmostEqual(math.dist(a, b), 0, 9)
        self.assertEqual(made.kinds, ("anchor", "edge", "landing"))

    def test_height_runs_from_the_edge_to_landing_level(self):
        """The section of common practice, no source: 29.7 m high though 32.82 m of rope."""
        legs = [(3, -0.3), (0.6, -3.7), (1.4, -18), (0, -8)]
        made = terrain(shots(*((math.hypot(x, z), math.degrees(math.atan2(z, x))) for x, z in legs)))
        self.assertAlmostEqual(height_m(made), 29.7, 6)

    def test_unknown_figures_are_named_and_stop_the_terrain(self):
        made = terrain(read_model(Quick, {**quick(3, 0, 20, "tape", "sharp"), "height_m": unknown("not seen")}))
        self.assertEqual((made.missing, len(made.points)), (("height",), 2))


class Bounds(unittest.TestCase):
    def test_methods(self):
        """Limits of error: our judgement."""
        for method, low, high in (
            ("tape", 29.7, 30.3),
            ("rangefinder", 29.7, 30.3),
            ("known rope", 29.1, 30.9),
            ("guidebook", 27, 33),
            ("eye", 24, 36),
            ("given", 30, 30),
        ):
            with self.subTest(method):
                got = limits_m(Known(kind="known", value=30, method=method))
                self.assertAlmostEqual(got[0], low)
                self.assertAlmostEqual(got[1], high)

    def test_own_error_stands_instead_of_the_methods(self):
        self.assertEqual(
            limits_m(Known(kind="known", value=20, method="eye", error=Error(kind="length", value=2))), (18, 22)
        )

    def test_every_length_goes_to_its_own_limit_at_once(self):
        high = terrain(read_model(Quick, quick(3, 0.5, 20, "guidebook", "sharp")), "high").points
        self.assertAlmostEqual(high[1][0], 3.03)
        self.assertAlmostEqual(high[2][1], -0.505 - 22)

    @given(st.floats(0.1, 20), st.floats(0.5, 200), st.floats(20, 90))
    @law(100)
    def test_lower_bound_is_never_longer_than_upper(self, setback, height, face):
        s = read_model(Quick, quick(setback, 0.1, height, "eye", "sharp", face))
        lengths = [lines(terrain(s, b), 0.0).taut.length_m for b in ("low", "nominal", "high")]
        self.assertEqual(lengths, sorted(lengths))


class FiveFiguresAsShots(unittest.TestCase):
    @given(
        st.floats(0, 20),
        st.floats(-5, 20),
        st.floats(0.5, 200),
        st.sampled_from(("tape", "rangefinder", "guidebook", "eye")),
        st.just(90.0) | st.floats(15, 90),
        st.floats(0, 8),
    )
    @law(200)
    def test_they_are_the_same_terrain_and_no_nearer_at_their_limits(self, setback, fall, height, method, face, recess):
        data = quick(setback, fall, height, method, "sharp", face, 0 if face < 90 else min(recess, height))
        data["setback_m"]["method"] = method
        section = read_model(Quick, data)
        made = as_shots(section)
        was, now = terrain(section), terrain(made)
        tie = math.hypot(setback, fall)
        assume(tie == 0 or tie >= 0.05)
        top = len(now.points) - 1 - math.ceil(math.dist(*was.points[-2:]) / 600)
        for a, b in zip(was.points[-2:], (now.points[top], now.points[-1]), strict=True):
            self.assertAlmostEqual(math.dist(a, b), 0, delta=0.051 if tie == 0 else 1e-9)
        sharp = [e for e, k in zip(was.edges, was.kinds, strict=True) if k != "landing"]
        self.assertEqual(list(now.edges[: top + 1])[-len(sharp) :], sharp)
        least, most = (terrain(section, b).points for b in ("low", "high"))
        near, far = (terrain(made, b).points for b in ("low", "high"))
        tops = ((near, top), (least, -2), (most, -2), (far, top))
        walls = [math.dist(p[n], p[-1]) for p, n in tops]
        depths = [p[n][1] - p[-1][1] for p, n in tops]
        for some in (walls, depths):
            self.assertLessEqual(some[0], some[1] + 1e-9)
            self.assertGreaterEqual(some[3], some[2] - 1e-9)

    def test_what_nobody_knows_is_known_of_no_shot(self):
        for field in ("setback_m", "edge_fall_m", "height_m", "face_deg", "recess_m"):
            data = {**quick(2, 0.5, 20, "tape", "sharp"), field: unknown("not seen")}
            self.assertTrue(terrain(as_shots(read_model(Quick, data))).missing, field)


class RingPlace(unittest.TestCase):
    def test_ring_lies_on_the_taut_line_at_the_ties_reach(self):
        made = terrain(read_model(Quick, quick(2, 0, 20, "tape", "sharp")))
        self.assertEqual(lines(made, 0.5).ring, (0.5, 0.0))
        over = lines(made, 3.0)
        self.assertAlmostEqual(math.dist(over.ring, (2, -1)), 0)
        self.assertEqual(over.tie, ((0.0, 0.0), (2.0, 0.0), over.ring))
        self.assertEqual(len(over.taut.contacts), 0)

    @given(st.floats(0.01, 17))
    @law(60)
    def test_tie_and_line_together_keep_their_length(self, gain):
        made = terrain(shots((2, -5), (4, -80), (3, -100), (2, -30), (9, -85)))
        whole = lines(made, 0.0).taut.length_m
        self.assertAlmostEqual(lines(made, gain).taut.length_m + gain, whole, 6)

    def test_a_tie_past_the_landing_has_no_line(self):
        self.assertIsNone(lines(terrain(read_model(Quick, quick(2, 0, 4, "tape", "sharp"))), 7.0))


class Refusals(unittest.TestCase):
    def test_sections_without_meaning(self):
        cases = [
            (shots((5, 0), (5, -90), (3, -170), (6, 89.0)), "cross"),
            (shots((5, 20)), "above the ring"),
            (shots((600, -89), (600, -89)), "taken for a slip"),
            (read_model(Quick, quick(1, -20, 10, "tape", "sharp")), "above the ring"),
            (read_model(Quick, quick(1, 0, 10, "tape", "sharp", 80, 1.0)), "plumb face"),
        ]
        for section, words in cases:
            with self.subTest(words), self.assertRaisesRegex(GeometryError, words):
                check(section)

    def test_a_plan_with_such_a_section_names_the_drop(self):
        with self.assertRaisesRegex(PlanError, r"^drops/0/section: .*above the ring"):
            plan(section=quick(1, -20, 10, "tape", "sharp"))

    def test_shots_cannot_be_none_and_figures_not_absurd(self):
        for section, words in (
            ({"kind": "shots", "shots": []}, "section/shots: .*at least 1"),
            (quick(1, 0, 5000, "tape", "sharp"), "section/height_m: .*0.5 to 600 m, not 5000"),
            (quick(-1, 0, 20, "tape", "sharp"), "section/setback_m: .*not -1"),
            (quick(1, 0, 20, "given", "sharp"), "section/height_m: .*needs the method"),
        ):
            with self.subTest(words), self.assertRaisesRegex(PlanError, words):
                plan(section=section)


class RingHeldHigh(unittest.TestCase):
    """Several points may hold the ring above the ground: the rope's line starts there."""

    SECTION = terrain(read_model(Quick, quick(2, 0.2, 15, "tape", "rounded")))

    @given(st.floats(0.05, 1.9), st.floats(0.0, 3.0))
    def test_a_higher_ring_never_needs_less_rope_and_turns_it_less_at_the_edge(self, out, up):
        low, high = lines(self.SECTION, out), lines(self.SECTION, out, up)
        self.assertGreaterEqual(high.draped.length_m, low.draped.length_m - 1e-9)
        self.assertGreaterEqual(high.taut.length_m, low.taut.length_m - 1e-9)
        self.assertLessEqual(high.taut.contacts[0].turn_rad, low.taut.contacts[0].turn_rad + 1e-9)
        if up > low.ring[1]:
            self.assertAlmostEqual(high.taut.length_m, math.dist((low.ring[0], up), (2, -0.2)) + 15, 9)

    def test_a_level_below_the_line_changes_nothing(self):
        self.assertEqual(lines(self.SECTION, 1.0, -5.0), lines(self.SECTION, 1.0))

    def test_in_a_plan_bolts_at_chest_height_count(self):
        need = {}
        for up in (0.0, 1.2):
            data = anchored(several(leg("a", 0, 0.2, up), leg("b", 0, -0.2, up), up=up), *TWO_BOLTS)
            d = assess(read_plan(data)).drops[0]
            need[up] = d.reach[0].need.value
            self.assertAlmostEqual(d.geometry.ring[1], up, 6)
        self.assertGreater(need[1.2], need[0.0] + 0.2)
