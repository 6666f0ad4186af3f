"""Real length, need and stretch."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.working import Book
from reamer.core.load.asked import peak_kn, static_kn
from reamer.core.model import Rope
from reamer.core.reading import read_model
from reamer.core.rope.length import length_m, rating_kg, real_length, stopper_m, stretch_m
from tests.builders import known, rope, unknown


def length(**more):
    got = real_length(read_model(Rope, rope(**more)), Book())
    return (round(got[0].value, 3), round(got[1].value, 3)) if isinstance(got, tuple) else got.why


class CheckValues(unittest.TestCase):
    def test_stretch(self):
        """Common practice, no source: 40 m at 8 % under 80 kg, single and doubled."""
        w = static_kn(80)
        self.assertAlmostEqual(stretch_m(40, 0.08, w, w), 3.2)
        self.assertAlmostEqual(stretch_m(40, 0.08, w / 2, w), 1.6)

    def test_rating_masses(self):
        """EN 892 and EN 1891, from memory; a twin rope's rating is the pair's."""
        self.assertEqual(
            [rating_kg(k) for k in ("dynamic single", "dynamic half", "dynamic twin", "low-stretch")], [80, 80, 40, 100]
        )

    def test_stopper(self):
        """Our judgement: 25 d and a metre of tail."""
        self.assertAlmostEqual(stopper_m(10), 1.25)

    def test_peak(self):
        """Common practice, no source: twice body weight, at least 4 kN."""
        self.assertEqual(peak_kn(static_kn(80)), 4.0)
        self.assertAlmostEqual(peak_kn(2.5), 5.0)


class RealLength(unittest.TestCase):
    def test_measured_and_dry_since_loses_only_the_tapes_error(self):
        self.assertEqual(length(length=60), (59.4, 60.6))

    def test_nominal_and_wet_loses_the_most_at_the_low_end(self):
        """Shrinkage 5 to 10 per cent for low-stretch, 5 to 8 for dynamic rope: our judgement."""
        self.assertEqual(length(measured_m=unknown("no"), wet_since_measured="yes"), (54.0, 57.0))
        self.assertEqual(
            length(kind="dynamic single", measured_m=unknown("no"), wet_since_measured="yes"), (55.2, 57.0)
        )

    def test_not_known_to_be_dry_counts_as_wet_at_the_low_end_only(self):
        self.assertEqual(length(measured_m=unknown("no"), wet_since_measured="unknown"), (54.0, 60.0))

    def test_shrinkage_first_then_damage(self):
        hurt = [{"at_m": known(10, "tape"), "takes_m": known(1.0, "tape")}]
        self.assertEqual(length(measured_m=unknown("no"), wet_since_measured="yes", damage=hurt), (52.99, 56.01))

    def test_unknown_stays_unknown(self):
        self.assertIn("no length", length(measured_m=unknown("x"), nominal_m=unknown("x")))
        self.assertIn("damage", length(damage=[{"at_m": unknown("?"), "takes_m": unknown("?")}]))

    @given(st.floats(1, 600), st.floats(0, 0.3), st.floats(0, 20))
    def test_never_longer_than_its_base_nor_negative(self, base, shrinkage, damage):
        self.assertTrue(0 <= length_m(base, 0, shrinkage, damage) <= base)
