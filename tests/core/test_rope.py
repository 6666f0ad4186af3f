"""Real length, need and stretch."""

import itertools
import unittest

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.context import context
from reamer.core.answer.findings import value
from reamer.core.answer.look import look_at
from reamer.core.answer.working import Book
from reamer.core.load.asked import peak_kn, static_kn
from reamer.core.model import Rope
from reamer.core.reading import read_model, read_plan
from reamer.core.rope.damage import from_end
from reamer.core.rope.length import length_m, rating_kg, real_length, stopper_m, stretch_m
from reamer.core.rope.rigged import strands
from reamer.core.rope.stops import join_alone
from reamer.core.tables import row
from tests.builders import bights, doubled, known, plan_of, releasable, rope, unknown
from tests.core.test_assess import JOINED


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


class Hanging(unittest.TestCase):
    """What hangs of each system, from either side of what is known of it."""

    def strands(self, system, *ropes, **more):
        plan = read_plan(plan_of(system, ropes=list(ropes) or [rope(), rope("r2")], **more))
        return value(strands(look_at(context(plan), 0, plan.drops[0])))

    def test_each_half_of_a_doubled_rope_has_a_low_and_a_high_end(self):
        for s in self.strands(doubled()):
            self.assertEqual((round(s.low.value, 2), round(s.high.value, 2)), (29.7, 30.3))

    def test_a_damaged_place_is_within_what_is_said_of_it(self):
        """60 m by tape, dry: the place at 45 m is 45 m from A and 15 m from B, give or take the tape."""
        for now, end, true in itertools.product(("yes", "no", "unknown"), "ab", (45.0,)):
            hurt = {"at_m": known(true, "tape"), "takes_m": known(0, "tape"), "use": "knot passed", "as_now": now}
            whole = {"kind": "releasable", "rope": "r1", "ridden_end": end, "ride_m": known(59, "tape")}
            s = self.strands({**releasable(59), **whole}, rope(damage=[hurt]))[0]
            near, far = from_end(s, s.rope.damage[0], s.rope.damage[0].at_m)
            far_from = true if end == "a" else 60 - true
            self.assertTrue(far_from - 1.5 <= near <= far_from <= far <= far_from + 1.5, (now, end, near, far))

    def test_a_damaged_place_near_the_middle_is_taken_off_both_halves(self):
        """The mark is off by up to a metre: a knot at 30.8 m from A may hang in either half, one at 33 m in one."""
        for at, in_a in ((30.8, True), (33, False), (29.2, True)):
            hurt = {"at_m": known(at, "tape"), "takes_m": known(2, "tape"), "use": "knot passed"}
            bare, with_it = (
                {s.end: s.low.value for s in self.strands(doubled(), rope(middle_off_m=known(1, "tape"), damage=d))}
                for d in ([], [hurt])
            )
            lost = {end: bare[end] - with_it[end] > 1.9 for end in "ab"}
            self.assertEqual(lost, {"a": in_a, "b": True}, at)

    def test_a_chain_of_bights_is_ridden_on_one_side_whatever_is_known(self):
        for count, why in ((known(5), False), (unknown("?"), True)):
            ride, pull = self.strands(bights(bights=count))
            self.assertEqual((ride.role, ride.load_share, pull.role, pull.load_share), ("ride", 1.0, "pull", 0.0))
            self.assertEqual((ride.low is None, "how many bights" in ride.why), (why, why))

    def test_what_is_unknown_of_a_rope_behind_the_reserve_is_said(self):
        system = {**releasable(20), "reserve_rope": "r2"}
        for blank, why in (
            ({"nominal_m": unknown("?"), "measured_m": unknown("?")}, "length"),
            ({"diameter_mm": unknown("?")}, "diameter"),
        ):
            reserve = self.strands(system, rope(), rope("r2", **blank))[1]
            self.assertIsNone(reserve.low)
            self.assertIn(why, reserve.why)
            self.assertEqual([j.rope.id for j in reserve.joints], ["r2"])

    def test_a_join_is_as_wide_as_its_own_knot(self):
        """Widths in diameters by the table of knots, our judgement."""
        for knot, key in (("flat overhand", "flat overhand"), ("flat figure eight", "flat figure eight")):
            plan = read_plan(plan_of({**JOINED, "knot": knot}, ropes=[rope(), rope("r2")]))
            ropes, system = plan.shed.ropes, plan.drops[0].station.states[0].system
            made = join_alone(system, (ropes[0], ropes[1]), plan.shed.rings[0], Book())
            self.assertAlmostEqual(made.width.value, row("knots", f"width.{key}").low * 9)


if __name__ == "__main__":
    unittest.main()
