"""Own pull tests: against published tables of tolerance factors and of Grubbs' limits, and a second reckoning of what
knots keep."""

import math
import unittest

import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.stats import t as student

from reamer.core.answer.working import Book
from reamer.core.assess import assess
from reamer.core.load.pull_tests import kept, mean_and_sd, outlier, pull_test, tolerance_k
from reamer.core.model import PullTest
from reamer.core.reading import read_plan
from tests.builders import doubled, plan_of
from tests.outside import Outside

FACTORS = Outside(
    "one-sided tolerance factors, 95 % and 95 %", "ISO 16269-6 and handbooks, from memory", unit="spreads"
)
GRUBBS = Outside("which sample lies too far off", "Grubbs' table, two-sided at 5 %, from memory")
WELCH = Outside("strength kept at a knot, its interval", "Welch's interval of two samples", "scipy", "%")


SAMPLES = st.lists(st.integers(50, 400), min_size=5, max_size=30).map(lambda xs: tuple(x / 10 for x in xs))


def judged(samples):
    return pull_test(PullTest(id="t", name="t", samples_kn=samples), Book())


class Statistics(unittest.TestCase):
    def test_tolerance_factors_are_those_of_the_handbooks(self):
        # One-sided, 95 % of the population with 95 % confidence: ISO 16269-6 and the usual handbooks, from memory.
        for n, k in ((3, 7.656), (5, 4.203), (6, 3.708), (10, 2.911), (20, 2.396), (50, 2.065), (100, 1.927)):
            FACTORS.near(self, tolerance_k(n), k, 0.002)

    def test_the_farthest_sample_is_odd_past_grubbs_limit(self):
        # Two-sided at 5 %: limits of Grubbs' table, from memory.
        for n, limit in ((4, 1.481), (6, 1.887), (8, 2.126), (10, 2.290), (20, 2.709)):
            for off, odd in ((-0.01, None), (0.01, n - 1)):
                GRUBBS.same(self, outlier(self.with_farthest(n, limit + off)), odd, f"{n} {off}")
        self.assertIsNone(outlier((5.0, 5.0, 5.0, 5.0)))
        self.assertIsNone(outlier((5.0, 9.0)))

    def with_farthest(self, n, g):
        """Samples of which the last lies g spreads from the mean."""
        low, high = 0.0, 1e6
        for _ in range(200):
            far = (low + high) / 2
            some = (*(10 + 0.1 * (-1) ** i * (1 + i // 2) / n for i in range(n - 1)), 10 + far)
            mean, sd = mean_and_sd(some)
            low, high = (far, high) if (some[-1] - mean) / sd < g else (low, far)
        return some

    @given(SAMPLES, SAMPLES)
    def test_what_is_kept_lies_in_welchs_interval(self, knotted, plain):
        assume(len(set(knotted)) > 1 and len(set(plain)) > 1)
        middle, low, high = kept(knotted, plain)
        a, b = np.log(knotted), np.log(plain)
        va, vb = a.var(ddof=1) / len(a), b.var(ddof=1) / len(b)
        df = (va + vb) ** 2 / (va**2 / (len(a) - 1) + vb**2 / (len(b) - 1))
        half = student.ppf(0.975, df) * math.sqrt(va + vb)
        for got, want in ((middle, 0.0), (low, -half), (high, half)):
            WELCH.near(self, got, math.exp(a.mean() - b.mean() + want), 5e-6)
        self.assertTrue(low <= middle <= high)
        self.assertEqual(kept((5.0,), plain)[1:], (None, None))


class Judged(unittest.TestCase):
    @given(SAMPLES)
    def test_what_may_be_used_is_the_lower_of_the_two_and_never_above_a_sample_by_much(self, samples):
        got = judged(samples)
        mean, sd = mean_and_sd(samples)
        low = min(mean - 3 * sd, mean - tolerance_k(len(samples)) * sd)
        if low <= 0:
            self.assertIsNone(got.use)
            self.assertIn("nothing is left", got.why)
            return
        self.assertLessEqual(got.use.low_kn, low + 1e-9)
        self.assertGreater(got.use.low_kn, low - 0.002)
        self.assertLessEqual(got.use.low_kn, min(samples) + 1e-9)
        self.assertIn(f"{len(samples)} samples", got.use.source)

    @given(SAMPLES, st.integers(1, 100))
    def test_a_weaker_sample_never_gives_more(self, samples, less):
        weaker = (*samples, min(samples) * less / 200)
        was, now = judged(samples).use, judged(weaker).use
        if was is not None and now is not None:
            self.assertLess(now.low_kn, was.low_kn)

    def test_an_odd_sample_is_told_and_stays_in(self):
        got = judged((12.0, 12.1, 11.9, 12.0, 12.1, 4.0))
        self.assertEqual(got.odd, (6,))
        self.assertEqual(got.count.value, 6)
        self.assertIsNone(got.use)

    def test_knotted_beside_unknotted_of_the_same_material_and_configuration(self):
        data = plan_of(doubled())
        loop = {"material": "6 mm nylon", "configuration": "straight"}
        data["shed"]["pull_tests"] = [
            {"id": "a", "name": "bare", "samples_kn": [8.0, 8.2, 8.1, 7.9, 8.0], "knot": "None", **loop},
            {"id": "b", "name": "eight", "samples_kn": [5.6, 5.8, 5.5, 5.7, 5.6], "knot": "figure eight", **loop},
            {
                "id": "c",
                "name": "ring",
                "samples_kn": [9, 9],
                "knot": "overhand",
                **loop,
                "configuration": "over a ring",
            },
            {"id": "d", "name": "who knows", "samples_kn": [5, 5], **loop},
            {"id": "e", "name": "nameless", "samples_kn": [5, 5], "knot": "overhand"},
        ]
        made = {x.id: x for x in assess(read_plan(data), fixes=False).pull_tests}
        got = made["b"].retention
        self.assertEqual(got.of, "bare")
        self.assertAlmostEqual(got.kept.value, 0.7, delta=0.01)
        self.assertTrue(got.low.value < got.kept.value < got.high.value)
        self.assertEqual([made[i].retention for i in "acde"], [None] * 4)


if __name__ == "__main__":
    unittest.main()
