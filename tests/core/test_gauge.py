"""A gauge against a guide's own limits, a rangefinder's shots in their section, and the peak of a pull."""

import datetime as dt
import math
import random
import unittest

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.say import words
from reamer.core.descent.gauge import ORDER, Reading, flow_now, limited, said_of
from reamer.core.errors import PlanError
from reamer.core.load.trace import peak_of
from reamer.core.model import Shots, Watch
from reamer.core.reading import read_model
from reamer.core.section.shooting import bearing_of, in_section, with_shot

NOW = dt.datetime(2027, 6, 12, 6, 0, tzinfo=dt.UTC)
WATCH = Watch(go_below_m=0.4, turn_back_m=0.6, turn_back_rise_m_h=0.1, turn_back_rain_mm_h=5)


def readings(level=lambda minute: 0.3, rain=1.0, minutes=range(40, -1, -1)):
    return [Reading(NOW - dt.timedelta(minutes=m), level(-m), rain) for m in minutes]


def stands(some, watch=WATCH, now=NOW):
    return limited("d", watch, flow_now(some, now)).stands


class Limits(unittest.TestCase):
    def test_the_worst_of_what_each_limit_says(self):
        for some, want in (
            (readings(), "go"),
            (readings(lambda _: 0.399), "go"),
            (readings(lambda _: 0.4), "decide there"),
            (readings(lambda _: 0.599), "decide there"),
            (readings(lambda _: 0.6), "turn back"),
            (readings(lambda m: 0.3 + 0.11 * m / 60), "turn back"),
            (readings(lambda m: 0.3 + 0.05 * m / 60), "go"),
            (readings(lambda m: 0.3 - 0.5 * m / 60), "go"),
            (readings(rain=5.0), "turn back"),
            (readings(rain=None), "not known"),
            (readings(lambda _: None), "not known"),
            (readings(lambda _: 0.7, rain=None), "turn back"),
            # Too short for a rate of rise.
            (readings(minutes=range(9, -1, -1)), "not known"),
            ([], "not known"),
        ):
            self.assertEqual(stands(some), want, [r.level_m for r in some[-3:]])
        self.assertEqual(stands(readings(), Watch()), "not known")
        self.assertEqual(stands(readings(minutes=range(2, -1, -1)), Watch(turn_back_m=0.6)), "go")

    def test_an_old_reading_or_one_of_tomorrow_says_nothing(self):
        for minutes, known in ((14.9, True), (15.1, False), (-0.5, True), (-60, False)):
            flow = flow_now([Reading(NOW - dt.timedelta(minutes=minutes), 0.1, 0.0)], NOW)
            self.assertEqual(flow.level is not None, known, minutes)
        # One that stopped to measure the level knows it no more, however fresh it is.
        some = [*readings(minutes=range(40, 0, -1)), Reading(NOW, None, 0.0)]
        self.assertIsNone(flow_now(some, NOW).level)

    def test_one_wild_reading_makes_no_flood_of_a_slope_and_hides_none(self):
        rng = random.Random(3)
        calm = readings(lambda m: 0.3 + rng.gauss(0, 0.002))
        spiked = [*calm[:20], Reading(calm[20].at, 0.9, 1.0), *calm[21:]]
        for some in (calm, spiked):
            self.assertLess(flow_now(some, NOW).most_rise.value, 0.05)
        rising = readings(lambda m: 0.3 + 0.3 * m / 60 + rng.gauss(0, 0.002))
        flow = flow_now([*rising[:-1], Reading(NOW, 0.05, 1.0)], NOW)
        self.assertAlmostEqual(flow.rise.value, 0.3, delta=0.05)
        self.assertGreaterEqual(flow.most_rise.value, flow.rise.value)
        # A last reading that fell is not believed by itself: the highest of the last three counts.
        self.assertAlmostEqual(flow.level.value, 0.295, delta=0.01)

    def test_a_sudden_rise_is_not_hidden_by_the_calm_before_it(self):
        watch = Watch(turn_back_rise_m_h=0.3)
        for minutes in (3, 5, 6, 8, 12, 20):
            some = readings(lambda m, n=minutes: 0.3 + 0.02 * max(0, m + n))
            self.assertEqual(stands(some, watch), "turn back", minutes)
        # Nor is one that fell before; calm with noise is no rise.
        self.assertEqual(stands(readings(lambda m: 0.6 + 0.01 * abs(m + 6) - 0.06), watch), "turn back")
        rng = random.Random(5)
        self.assertEqual(stands(readings(lambda _: 0.3 + rng.gauss(0, 0.002)), watch), "go")

    @given(st.floats(0, 1), st.floats(0, 0.5), st.floats(0, 8), st.floats(0, 0.5))
    def test_more_water_is_never_milder(self, level, slope, rain, more):
        def at(up, faster, wetter):
            return ORDER.index(stands(readings(lambda m: level + up + (slope + faster) * m / 60, rain + wetter)))

        self.assertLessEqual(at(0, 0, 0), at(more, 0, 0))
        self.assertLessEqual(at(0, 0, 0), at(0, 0, 10 * more))
        # Of one level now, the faster rise.
        now = ORDER.index(stands(readings(lambda m: level + slope * m / 60)))
        self.assertLessEqual(now, ORDER.index(stands(readings(lambda m: level + (slope + more) * m / 60))))

    def test_limits_that_cannot_be_are_refused_and_those_that_can_are_said(self):
        for bad in ({"go_below_m": 0.7, "turn_back_m": 0.6}, {"turn_back_rise_m_h": 0}, {"turn_back_rain_mm_h": -1}):
            with self.assertRaises(PlanError):
                read_model(Watch, bad)
        self.assertEqual(
            words(said_of(WATCH), "us"),
            "go below 1.31 ft at the gauge, turn back from 1.97 ft, turn back rising 0.33 ft/h,"
            " turn back in rain of 0.20 in/h",
        )


def shots(*unknown):
    blank = {"kind": "unknown", "why": ""}
    known = {"kind": "known", "value": 3.0, "method": "tape"}
    some = [{"id": f"s{i}", "slope_m": known if k else blank, "incl_deg": blank} for i, k in enumerate(unknown, 1)]
    return read_model(Shots, {"kind": "shots", "shots": some})


class Shooting(unittest.TestCase):
    @given(st.floats(-180, 0), st.floats(0.1, 100), st.floats(0, 359))
    def test_an_overhang_is_told_by_its_azimuth_and_keeps_its_length(self, incl, slope, bearing):
        # As an instrument has it: down at most plumb, turned round where it leans under.
        under = incl < -90
        seen, azimuth = (-180 - incl, (bearing + 180) % 360) if under else (incl, bearing)
        made = in_section(seen, azimuth, bearing)
        self.assertAlmostEqual(made, incl if abs(incl + 180) > 1e-9 else made, places=9)
        x, z = (slope * f(math.radians(seen)) for f in (math.cos, math.sin))
        self.assertAlmostEqual(slope * math.sin(math.radians(made)), z, places=6)
        self.assertAlmostEqual(abs(slope * math.cos(math.radians(made))), abs(x), places=6)
        self.assertEqual(in_section(seen, None, bearing), seen)
        self.assertEqual(in_section(seen, azimuth, None), seen)

    def test_a_steep_shot_tells_no_bearing(self):
        self.assertIsNone(bearing_of([(-88, 10.0), (-5, None)]))
        self.assertEqual(bearing_of([(-88, 10.0), (-41, 200.0), (-5, 20.0)]), 200.0)

    def test_a_shot_fills_what_nobody_measured_and_then_goes_on(self):
        day = dt.date(2027, 6, 1)
        made = with_shot(shots(True, False), 7.8, -83.0, day)
        self.assertEqual([s.slope_m.known for s in made.shots], [3.0, 7.8])
        self.assertEqual((made.shots[1].slope_m.method, made.shots[1].slope_m.on), ("rangefinder", day))
        made = with_shot(made, 1.1, -41.0, day)
        self.assertEqual([(s.id, s.slope_m.known, s.edge) for s in made.shots][2:], [("s3", 1.1, "unknown")])
        self.assertEqual(read_model(Shots, made.model_dump(mode="json")), made)


class Peaks(unittest.TestCase):
    @given(st.lists(st.floats(0.1, 30), min_size=3, max_size=40), st.integers(0, 39), st.floats(31, 500))
    def test_no_single_sample_makes_one(self, forces, at, wild):
        before = peak_of(forces)
        self.assertLessEqual(before.kn, max(forces))
        spoilt = [*forces]
        spoilt.insert(at % len(forces), wild)
        after = peak_of(spoilt)
        self.assertLessEqual(after.kn, max(forces))
        self.assertEqual(after.alone, wild if wild > 1.05 * after.kn else None)
        # What is held for three samples is a peak.
        self.assertEqual(peak_of([*forces, wild, wild, wild]).kn, wild)

    def test_nothing_pulled_is_no_peak(self):
        for forces in ([], [1, 2], [0, 0, 0], [-1, -2, -1]):
            self.assertIsNone(peak_of(forces))
