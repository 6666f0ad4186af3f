"""Will it pull: check values, a general integrator of the capstan equation, limits and laws."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from reamer.core.answer.context import context
from reamer.core.answer.findings import told_of, value
from reamer.core.answer.look import look_at
from reamer.core.answer.say import Number, words
from reamer.core.answer.working import Book
from reamer.core.assess import assess
from reamer.core.reading import read_plan
from reamer.core.retrieval.capstan import Piece, Rub, _between, at_hand_n, clipped_in, down_n, hung, pieces, up_n
from reamer.core.retrieval.pull import band
from reamer.core.retrieval.retrieval import _join_under_pull
from reamer.core.rope.fit import fit
from reamer.core.rope.rigged import strands
from reamer.core.rope.weight import mass_kg_m
from reamer.core.section.polyline import taut_line
from reamer.core.station.drop import pull_curve
from tests import law
from tests.builders import doubled, known, plan_of, quick, rope, unknown, wrap
from tests.core.test_assess import JOINED, KIT, SAME, SINGLE, Workings, codes
from tests.core.test_codes import edited
from tests.outside import Outside

CAPSTAN = Outside("force of the pull, worked values", "handbook, capstan rule, from memory", unit="N")
INTEGRATED = Outside("tension along a strand over edges", "the capstan equation, integrated step by step", "scipy", "N")


RUB = Rub(0.40, 0.20, math.pi, 0.065, 0.065, face=False)
FREE = (Piece(40.0, 40.0, 0.0, 0.0),)
SECTION = ((0.0, 0.0), (3.0, -0.3), (3.6, -4.0), (5.0, -22.0), (5.0, -30.0))


def ways(ring=None, after=0):
    line = taut_line(SECTION, ring, after)
    return pieces(line.points, SECTION)


def pull(data):
    return assess(read_plan(data)).drops[0].pull


class CheckValues(unittest.TestCase):
    """Handbook, capstan rule: λ 0.065 kg/m, edges 0.40, ring 0.20, no face friction."""

    def test_free_hang_the_section_and_the_ring_extended(self):
        for way, want in (
            (FREE, (25.5, 47.8, 22.3)),
            (ways(), (33.4, 62.6, 93.0)),
            (ways((3.2, -0.9), 1), (19.1, 35.7, 18.6)),
        ):
            hand, below, over = at_hand_n(way, way, 100.0, 0.0, RUB)
            for got, wanted in zip((below, over, hand), want, strict=False):
                CAPSTAN.near(self, got, wanted, 0.05)

    def test_bark_instead_of_a_ring(self):
        """At 0.60 the 40 m free hang takes 142 N. Handbook."""
        CAPSTAN.near(self, at_hand_n(FREE, FREE, 40, 0, Rub(0.4, 0.60, math.pi, 0.065, 0.065, False))[0], 142, 0.5)

    def test_bands(self):
        """Our judgement: under 100 N easy, under 250 firm, up to 400 hard, above expect it stuck."""
        self.assertEqual(
            [band(x) for x in (0, 99.9, 100, 249.9, 250, 400, 400.1)],
            ["easy", "easy", "firm", "firm", "hard", "hard", "stuck"],
        )

    def test_free_hang_runs_by_itself_when_the_ride_side_is_short_enough(self):
        """Once L_ride·e^(μπ) < L_pull."""
        turn = 40 / math.exp(0.2 * math.pi)
        for drawn, runs in ((40 - turn - 0.1, False), (40 - turn + 0.1, True)):
            self.assertEqual(at_hand_n(FREE, FREE, 40, drawn, RUB)[0] == 0, runs)


class AgainstAnIntegrator(unittest.TestCase):
    @given(
        st.lists(st.tuples(st.floats(0.5, 20), st.floats(0.05, 0.9)), min_size=1, max_size=5),
        st.floats(0.02, 0.12),
        st.floats(0.1, 0.6),
        st.floats(0.1, 0.3),
    )
    @law(40)
    def test_the_tension_is_the_capstan_equation_integrated_along_the_rope(self, legs, mass, mu, ring):
        """dT/ds = λg·sin + μλg·cos on straight rock, dT/dθ = μT round each edge, which is the limit of a small
        radius."""
        angle, way = 0.1, []
        for i, (length, turn) in enumerate(legs):
            way.append(
                Piece(length, length * math.sin(angle), length * math.cos(angle), turn if i < len(legs) - 1 else 0.0)
            )
            angle = min(1.5, angle + turn)
        rub = Rub(mu, ring, math.pi, mass, mass)

        def along(start, piece):
            w = mass * 9.80665 / piece.length_m
            return solve_ivp(
                lambda s, t: [w * (piece.fall_m + mu * piece.rock_m)],
                (0, piece.length_m),
                [start],
                rtol=1e-9,
                atol=1e-9,
            ).y[0][-1]

        def round_(start, friction, turn):
            return (
                solve_ivp(lambda a, t: [friction * t[0]], (0, turn), [start], rtol=1e-9, atol=1e-9).y[0][-1]
                if turn
                else start
            )

        tension = 0.0
        for i in range(len(way) - 1, -1, -1):
            if i < len(way) - 1:
                tension = round_(tension, mu, way[i].turn_rad)
            tension = along(tension, way[i])
        INTEGRATED.near(self, up_n(tuple(way), 1e9, rub), tension, 5e-5)
        INTEGRATED.near(self, at_hand_n(tuple(way), tuple(way), 1e9, 0, rub)[2], round_(tension, ring, math.pi), 5e-5)


class Laws(unittest.TestCase):
    @given(st.floats(5, 60), st.floats(0.01, 0.2))
    def test_without_friction_the_two_sides_balance(self, height, mass):
        way = (Piece(height, height, 0, 0),)
        self.assertAlmostEqual(at_hand_n(way, way, height, 0, Rub(0, 0, math.pi, mass, mass))[0], 0, 9)

    @given(st.floats(0, 36), st.floats(0.05, 30), st.floats(0.05, 1.5))
    def test_a_way_that_is_cut_or_clipped_is_the_same_way(self, long, below, turn):
        way, line = ways(), taut_line(SECTION, None, 0).points
        whole = sum(p.length_m for p in way)

        def summed(some):
            return [sum(of(p) for p in some) for of in (lambda p: p.length_m, lambda p: p.fall_m, lambda p: p.rock_m)]

        def until(m):
            """Length, fall and level length on rock of the first metres, added up in small steps."""
            made, start = [0.0, 0.0, 0.0], 0.0
            for p in way:
                part = min(1.0, max(0.0, (m - start) / p.length_m))
                made = [x + part * y for x, y in zip(made, (p.length_m, p.fall_m, p.rock_m), strict=True)]
                start += p.length_m
            return made

        for got, want in zip(summed(hung(way, long)), until(min(long, whole)), strict=True):
            self.assertAlmostEqual(got, want, 9)
        clipped, points = clipped_in(way, line, ((below, turn),))
        for got, want in zip(summed(clipped), summed(way), strict=True):
            self.assertAlmostEqual(got, want, 9)
        at = next((i for i, p in enumerate(clipped) if p.clip_rad), None)
        self.assertEqual(at is None, below >= whole)
        if at is not None:
            for got, want in zip(summed(clipped[: at + 1]), until(below), strict=True):
                self.assertAlmostEqual(got, want, 9)
            walked = sum(math.dist(*points[i : i + 2]) for i in range(at + 1))
            self.assertAlmostEqual(walked, below, 9)

    @given(*[st.tuples(*[st.floats(-9, 9)] * 3).filter(lambda v: math.hypot(*v) > 0.1)] * 2)
    def test_the_turn_is_the_angle_between_two_directions(self, a, b):
        cosine = np.dot(a, b) / (np.linalg.norm(a) * np.linalg.norm(b))
        turn = _between(a, b)
        if a[1] == b[1] == 0:
            turn = min(turn, 2 * math.pi - turn)
        self.assertAlmostEqual(math.cos(turn), cosine, 9)

    @given(st.floats(0, 0.6), st.floats(0, 0.3), st.floats(0, 0.4), st.floats(0, 0.2))
    def test_more_friction_never_pulls_easier(self, edge, ring, more_edge, more_ring):
        less, more = (
            at_hand_n(ways(), ways(), 100, 0, Rub(e, r, math.pi, 0.065, 0.065))[0]
            for e, r in ((edge, ring), (edge + more_edge, ring + more_ring))
        )
        self.assertGreaterEqual(more, less - 1e-9)

    @given(st.floats(0, 2.9), st.floats(0.05, 0.6))
    def test_extending_the_ring_over_the_edge_never_increases_the_pull(self, reach, mu):
        rub = Rub(mu, 0.2, math.pi, 0.065, 0.065)
        back = (reach, -0.1 * reach)
        over = ways((3.2, -0.9), 1)
        self.assertGreaterEqual(
            at_hand_n(ways(back, 0), ways(back, 0), 100, 0, rub)[0], at_hand_n(over, over, 100, 0, rub)[0] - 1e-9
        )

    @given(st.floats(0, 40))
    def test_on_one_rope_the_start_is_the_worst(self, drawn):
        start, later = (at_hand_n(ways(), ways(), 40, d, RUB)[0] for d in (0, drawn))
        self.assertLessEqual(later, start + 1e-9)

    def test_down_never_pushes(self):
        self.assertEqual(down_n(1.0, FREE, 0, RUB), 0)


class InThePlan(unittest.TestCase):
    def test_the_curve_begins_where_the_assessment_says_and_no_rope_is_lost(self):
        # The last one's rope ends above the landing: only what there is hangs.
        for system, ropes in (
            (doubled(), None),
            (JOINED, KIT),
            (SINGLE, KIT),
            (SAME, KIT),
            (doubled(), [rope(length=22)]),
        ):
            p = read_plan(plan_of(system, ropes=ropes))
            seen = assess(p).drops[0].pull
            points = pull_curve(context(p), 0, p.drops[0]).moments
            self.assertEqual(len(points), 201)
            self.assertAlmostEqual(points[0].high_n, seen.high.value)
            self.assertAlmostEqual(points[0].low_n, seen.low.value)
            self.assertTrue(all(x.low_n <= x.high_n + 1e-9 for x in points))
            up = next(r for r in assess(p).drops[0].reach if f"{r.name} {r.end.upper()}" != seen.pulled)
            self.assertAlmostEqual(points[-1].pulled_m, up.high.value)  # all of the side that comes up, no more

    def test_every_working_is_right_for_every_system(self):
        for system, ropes in ((doubled(), None), (JOINED, KIT), (SINGLE, KIT), (SAME, KIT)):
            a = Workings("test_demo").check(read_plan(plan_of(system, ropes=ropes, wet="yes")))
            p = a.drops[0].pull
            self.assertIsNotNone(p.worst, p.why)
            self.assertLessEqual(p.low.value, p.high.value)

    def test_which_rope_comes_up_and_which_is_pulled(self):
        self.assertEqual(pull(plan_of(doubled(pulled="a"))).pulled, "r1 A")
        self.assertEqual(pull(plan_of(JOINED, ropes=KIT)).pulled, "r2 B")
        self.assertEqual(pull(plan_of(SINGLE, ropes=KIT)).pulled, "c1 B")
        self.assertEqual(pull(plan_of(SAME, ropes=KIT)).pulled, "r1 A")

    def test_a_heavy_wet_rope_over_an_edge_and_what_helps(self):
        data = plan_of(
            doubled(),
            section=quick(4, 0.2, 45, "tape", "rounded"),
            ropes=[rope(length=120, diameter=10.5, fibre="nylon")],
            wet="yes",
        )
        p = pull(data)
        self.assertIn(p.band, ("hard", "stuck"))
        self.assertLess(p.moved.value, p.worst.value)
        found = next(f for f in assess(read_plan(data)).drops[0].findings if f.code == "pull.hard")
        self.assertIsNotNone(found.fix)
        after = edited(data, (found.fix.edits[0].path, found.fix.edits[0].value))
        self.assertLess(pull(after).worst.value, p.worst.value)
        self.assertNotIn("pull.hard", codes(read_plan(after)))

    def test_back_from_a_coarse_edge_a_hard_pull_is_a_shortfall(self):
        # Chosen so that the pull is hard, not stuck.
        for height in range(20, 90, 2):
            data = plan_of(
                doubled(),
                section=quick(3, 0.2, height, "tape", "rounded"),
                ropes=[rope(length=200, fibre="polyester")],
                rig=wrap(0.6),
            )
            if pull(data).band == "hard":
                self.assertIn("pull.hard", codes(read_plan(data), "Caution"))
                data["drops"][0]["section"]["edge"] = "coarse"
                self.assertIn("pull.hard", codes(read_plan(data), "Shortfall"))
                return
        self.fail("no height made a hard pull")

    def test_what_is_pulled_rubs_as_the_rope_that_follows_it(self):
        """Nylon on rock rubs no less than HMPE (common practice, no source): what comes up follows over the edges."""
        long = quick(3, 0.3, 20, "tape", "rounded")

        def force(up, down):
            kinds = [rope(fibre=up, diameter=8, mass_kg_m=known(0.05)), rope("c1", 60, 6, "pull cord")]
            kinds[1] |= {"fibre": down, "mass_kg_m": known(0.03)}
            return pull(plan_of(SINGLE, section=long, ropes=kinds)).high.value

        self.assertLess(force("HMPE", "HMPE"), force("nylon", "HMPE"))
        self.assertLess(force("HMPE", "HMPE"), force("HMPE", "nylon"))
        self.assertGreater(force("nylon", "HMPE"), force("HMPE", "nylon"))

    def test_rough_edges_are_said_of_what_comes_down(self):
        for edge, rough in (("rounded", False), ("coarse", True), ("sharp", True)):
            data = plan_of(doubled(), section=quick(3, 0.3, 20, "tape", edge))
            told = [words(s) for s in assess(read_plan(data)).drops[0].retrieval.snags]
            self.assertEqual(any("coarse or sharp" in s for s in told), rough, (edge, told))

    def test_a_join_is_held_to_the_least_that_it_was_seen_to_slip_at(self):
        """A loop of HMPE cord closed with an overhand slipped from 1.2 kN on (common practice, no source)."""
        for fibre, force, short in (("HMPE", 1300, True), ("HMPE", 1100, False), ("nylon", 2900, False)):
            kinds = [rope(fibre=fibre), {**rope("c1", 60, 6, "pull cord"), "fibre": fibre}]
            p = read_plan(plan_of(SINGLE, ropes=kinds))
            look = look_at(context(p), 0, p.drops[0], 0)
            told = told_of(_join_under_pull(look, look.system, value(strands(look)), Number(force, "pull")), "d1")
            self.assertEqual([f.severity for f in told] == ["Shortfall"], short, (fibre, force))

    def test_rock_nobody_has_looked_at_is_taken_at_its_worst(self):
        data = plan_of(doubled())
        by = {}
        for rock in ("smooth", "coarse", "unknown"):
            data["drops"][0]["rock"] = rock
            by[rock] = pull(data)
        self.assertEqual(by["unknown"].high.value, by["coarse"].high.value)
        self.assertEqual(by["unknown"].low.value, by["smooth"].low.value)
        self.assertLess(by["smooth"].high.value, by["coarse"].high.value)

    def test_mass_of_a_rope(self):
        """0.0007·d² without a label, our judgement; wet nylon 1.3–1.5 times, handbook, from memory; polyester takes up
        nothing."""
        from reamer.core.model import Rope
        from reamer.core.reading import read_model

        dry = read_model(Rope, rope(diameter=10.0, fibre="nylon"))
        self.assertAlmostEqual(mass_kg_m(dry, "no")[0], 0.07)
        self.assertAlmostEqual(mass_kg_m(dry, "yes")[1], 0.105)
        self.assertEqual(
            mass_kg_m(read_model(Rope, rope(diameter=10.0, fibre="polyester")), "yes"),
            mass_kg_m(read_model(Rope, rope(diameter=10.0, fibre="polyester")), "no"),
        )
        self.assertEqual(mass_kg_m(read_model(Rope, rope(fibre="nylon", mass_kg_m=known(0.062))), "no"), (0.062, 0.062))
        self.assertIsNone(mass_kg_m(read_model(Rope, {**rope(), "diameter_mm": unknown("?")}), "no"))


class Blocks(unittest.TestCase):
    def test_classes_of_width_over_opening(self):
        """k·d over the opening: under 1 passes, to 1.5 inclusive forced, above stopped. Our judgement."""
        for opening, want in ((40, "passes"), (34.2, "may be forced"), (22.8, "may be forced"), (22.7, "stopped")):
            with self.subTest(opening):
                data = plan_of(SAME, ropes=KIT)
                r, ring = (
                    read_plan(data).shed.ropes[0],
                    read_plan(edited(data, (("shed", "rings", 0, "opening_mm"), known(opening)))).shed.rings[0],
                )
                self.assertEqual(fit("figure eight", r, ring, "b", Book(), "stops").verdict, want)  # 9 mm: 34.2 mm wide

    def test_an_ordinary_ring_lets_butterfly_and_eight_through_but_not_with_a_carabiner(self):
        """Pull tests, common practice, no source: both were drawn through an ordinary rappel ring, neither with a
        carabiner in the knot."""
        for block in ("butterfly", "figure eight", "overhand"):
            for carabiner in (False, True):
                data = plan_of({**SAME, "block": block, "carabiner": carabiner}, ropes=KIT)
                self.assertEqual("block.passes" in codes(read_plan(data), "Shortfall"), not carabiner)
        small = edited(
            plan_of({**SAME, "carabiner": False}, ropes=KIT), (("shed", "rings", 0, "opening_mm"), known(20))
        )
        self.assertNotIn("block.passes", codes(read_plan(small)))

    def test_a_block_holds_only_what_somebody_has_tested(self):
        self.assertIn("block.unchecked", codes(read_plan(plan_of(SAME, ropes=KIT)), "Not checked"))
        tested = plan_of(
            {**SAME, "block_holds": {"kind": "range", "low_kn": 9, "high_kn": 11, "source": "own pull tests"}},
            ropes=KIT,
        )
        self.assertNotIn("block.unchecked", codes(read_plan(tested)))
        self.assertIn("block", {p.key for p in assess(read_plan(tested)).drops[0].parts})
        Workings("test_demo").check(read_plan(tested))

    def test_unknown_opening_and_soft_rope(self):
        blank = edited(
            plan_of({**SAME, "carabiner": False}, ropes=KIT), (("shed", "rings", 0, "opening_mm"), unknown("?"))
        )
        self.assertIn("block.unchecked", codes(read_plan(blank), "Not checked"))
        soft = edited(
            plan_of({**SAME, "carabiner": False}, ropes=[rope(kind="dynamic half", diameter=8.5)]),
            (("shed", "rings", 0, "opening_mm"), known(20)),
        )
        self.assertIn("block.jams", codes(read_plan(soft), "Caution"))

    @given(st.lists(st.floats(5, 80), max_size=8), st.sampled_from(("stops", "passes")))
    def test_what_was_measured_stands_from_five_samples_and_before_only_where_it_is_worse(self, samples, asks):
        data = plan_of(SAME, ropes=KIT)
        data["shed"]["ropes"][0]["widths"] = [{"knot": "butterfly", "samples_mm": samples}]
        plan = read_plan(data)
        r, ring = plan.shed.ropes[0], plan.shed.rings[0]
        width = fit("butterfly", r, ring, "b", Book(), asks).width.value
        worst = min if asks == "stops" else max
        judged = 4.0 * 9
        want = worst(samples) if len(samples) >= 5 else worst([judged, *samples])
        self.assertAlmostEqual(width, want)
        # It is of this knot in this rope alone.
        bare = r.model_copy(update={"widths": ()})
        for knot in ("overhand", "figure eight"):
            self.assertEqual(fit(knot, r, ring, "b", Book(), asks), fit(knot, bare, ring, "b", Book(), asks))

    def test_a_block_is_judged_by_what_was_measured_and_its_finding_leads_there(self):
        for samples, passes, told in (
            ([], True, "by our judgement"),
            ([70] * 4, True, "by our judgement: 4 measured in r1 are too few"),
            ([70] * 5, False, ""),
            ([70] * 4 + [30], True, "narrowest of 5 measured"),
        ):
            data = plan_of({**SAME, "block": "butterfly", "carabiner": False}, ropes=KIT)
            data["shed"]["ropes"][0]["widths"] = [{"knot": "butterfly", "samples_mm": samples}]
            found = [f for f in assess(read_plan(data)).drops[0].findings if f.code == "block.passes"]
            self.assertEqual(bool(found), passes, samples)
            for f in found:
                self.assertEqual(f.field, f"shed/ropes/#{data['shed']['ropes'][0]['id']}/widths")
                self.assertIn(told, words(f.reason))
        data = plan_of({**SAME, "block": "clove hitch", "carabiner": False}, ropes=KIT)
        (bare,) = (f for f in assess(read_plan(data)).drops[0].findings if f.code == "block.passes")
        self.assertTrue(bare.field.endswith("system/block"))

    def test_a_thicker_rope_never_passes_more_easily(self):
        data = plan_of(SAME, ropes=KIT)
        ring = read_plan(data).shed.rings[0]
        ratios = [
            fit(
                "butterfly",
                read_plan(plan_of(SAME, ropes=[rope(diameter=d)])).shed.ropes[0],
                ring,
                "b",
                Book(),
                "stops",
            )
            for d in (8, 9, 10, 11)
        ]
        self.assertEqual([r.ratio.value for r in ratios], sorted(r.ratio.value for r in ratios))


if __name__ == "__main__":
    unittest.main()
