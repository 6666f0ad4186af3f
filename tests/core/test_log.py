"""The log: begun from what came home, laid beside the plan, and what it teaches."""

import datetime as dt
import math
import statistics
import unittest
from itertools import permutations

from hypothesis import assume, given
from hypothesis import strategies as st

from reamer.core.assess import assess
from reamer.core.errors import PlanError
from reamer.core.log.compared import compared
from reamer.core.log.learnt import ENOUGH, WILKS, learnt
from reamer.core.log.places import Logged, places
from reamer.core.log.trips import HARDER, blank, from_cards
from reamer.core.model import Known, OwnFigure, Position
from reamer.core.plan.log import LoggedStation, Trip
from reamer.core.reading import read_model, read_plan
from reamer.core.tables import row
from tests.core.test_onsite import PLAN, notes, read
from tests.outside import Outside

MEDIAN = Outside("what times the log teaches", "the standard library's statistics")
LIMIT = Outside("from how many days a range is drawn in", "Wilks 1941, distribution-free limits, from memory")


ANSWER = assess(PLAN, fixes=False)
DAY = dt.date(2026, 5, 2)


def clock(minutes):
    return f"{minutes // 60 % 24:02d}:{minutes % 60:02d}"


def trip(rig=5, ride=20, down=7, onward=6, on=DAY, **more):
    """A descent on which every station took the same."""
    made, at = blank(PLAN, ANSWER, on), 9 * 60
    stations = []
    for s in made.stations:
        times = {}
        for name, took in (("arrived", rig), ("rigged", ride), ("down", down), ("gone", onward)):
            times[name], at = clock(at), at + took
        stations.append(s.model_copy(update={**times, **more}))
    return made.model_copy(update={"stations": tuple(stations)})


def days(n):
    return [DAY + dt.timedelta(days=i) for i in range(n)]


def logged(*trips):
    return [Logged(f"{n:012x}", "plan", "A plan", t) for n, t in enumerate(trips)]


def lesson(lessons, name):
    return next(x for x in lessons if x.name.startswith(name))


class FromCards(unittest.TestCase):
    @given(st.lists(notes(), min_size=2, max_size=3))
    def test_the_worst_stands_in_whatever_order_it_came(self, some):
        cards = [(f"{n:016x}", read(c, device=f"{n:016x}", by=f"P{n}")) for n, c in enumerate(some)]
        made = [from_cards(PLAN, ANSWER, order) for order in permutations(cards)]
        for s in zip(*(m.stations for m in made), strict=True):
            for field in ("reached", "pull", "incident", "by_m"):
                self.assertEqual(len({getattr(x, field) for x in s}), 1, field)
            self.assertEqual(len({x.height.known for x in s}), 1)
            felt = [c.felt for _, h in cards for c in h.corrections if c.what == "pull" and c.drop == s[0].drop]
            self.assertEqual(s[0].pull, max(["unknown", *felt], key=HARDER.index))
            high = [c.m for _, h in cards for c in h.corrections if c.what == "height" and c.drop == s[0].drop]
            self.assertEqual(s[0].height.known, max(high, default=None))

    def test_of_a_station_that_is_gone_nothing_is_lost(self):
        note = {"drop": "gone", "station": "Old Ledge", "what": "incident", "near": True, "words": "slipped"}
        made = from_cards(PLAN, ANSWER, [("a" * 16, read([note]))])
        self.assertEqual((made.stations[-1].station, made.stations[-1].incident), ("Old Ledge", "near miss"))
        self.assertIn("slipped", made.stations[-1].words)
        self.assertEqual(compared(PLAN, made)[-1].number, 0)
        self.assertEqual(read_model(Trip, made.model_dump(mode="json")), made)


class BesideThePlan(unittest.TestCase):
    def test_how_far_it_was_off_and_the_act_that_corrects_the_survey(self):
        said = ANSWER.descent.times.stations[0]
        height = Known(kind="known", value=18.0, method="rangefinder")
        made = trip(rig=round(said.rig[1].value) + 3, height=height, pull="stuck", reached="no", by_m=2.0)
        rows = {r.what: r for r in compared(PLAN, made)[0].rows}
        self.assertEqual(rows["height"].off.numbers["m"].value, 3.0)
        self.assertTrue(all(rows[k].worse for k in ("height", "reach", "pull", "rigging")))
        spare = made.stations[0].said.spare_m
        reaches = (("yes", spare + 1, False), ("yes", spare - 0.1, True), ("yes", 0.0, True), ("no", None, True))
        for reached, by, worse in reaches:
            row = {r.what: r for r in compared(PLAN, trip(reached=reached, by_m=by))[0].rows}["reach"]
            self.assertEqual(row.worse, worse, (reached, by))
        (edit,) = rows["height"].fix.edits
        self.assertEqual(edit.path[:3], ("drops", 0, "section"))
        self.assertEqual((edit.value["value"], edit.value["on"]), (18.0, "2026-05-02"))
        # A drop that is surveyed in shots has no one height to set.
        self.assertIsNone({r.what: r for r in compared(PLAN, made)[2].rows}["height"].fix)

    def test_what_cannot_be_is_refused_by_its_field(self):
        at = {"drop": "d1", "station": "Lintel"}
        for more, field in (
            ({"arrived": "10:00", "rigged": "09:50"}, "rigged"),
            ({"arrived": "9:00"}, "arrived"),
            ({"incident": "incident", "words": " "}, "words"),
            ({"by_m": -1}, "by_m"),
            ({"height": {"kind": "known", "value": 0, "method": "tape"}}, "height/value"),
        ):
            with self.assertRaises(PlanError) as caught:
                read_model(LoggedStation, {**at, **more})
            self.assertTrue(caught.exception.field.startswith(field.split("/")[0]), caught.exception.field)
        over = read_model(LoggedStation, {**at, "arrived": "23:50", "rigged": "00:05"})
        self.assertEqual(over.rigged, "00:05")


class Learning(unittest.TestCase):
    def test_nothing_from_fewer_than_five_days(self):
        # Each descent rigs a doubled rope at three places; a day saved again and again is that day.
        for trips, cases, of in (([trip()], 3, 1), ([trip()] * 9, 3, 1), ([trip(on=d) for d in days(4)], 12, 4)):
            one = lesson(learnt(logged(*trips)), "rigging")
            self.assertEqual((len(one.cases), one.days, one.places, one.middle, one.offers), (cases, of, 3, None, ()))
            self.assertIn("fewer than 5 days", one.why)
        some = lesson(learnt(logged(*(trip(rig=30 + d.day, on=d) for d in days(ENOUGH)))), "rigging")
        self.assertEqual((some.why, some.middle.value), ("", 34.0))
        (offer,) = some.offers
        # The end that would be drawn in stays the table's.
        self.assertEqual((offer.key, offer.low, offer.high), ("rig.doubled", row("times", "rig.doubled").low, 36.0))
        self.assertIn("own log, 15 cases, 5 days at 3 places", offer.reason)
        self.assertIn("drawn in only from 59 days", offer.reason)

    @given(st.lists(st.integers(0, 90), min_size=ENOUGH, max_size=9))
    def test_from_few_days_no_time_becomes_shorter_than_the_tables(self, took):
        some = [trip(rig=t, ride=t, down=t, onward=t, on=d) for t, d in zip(took, days(9), strict=False)]
        for x in learnt(logged(*some)):
            for o in x.offers:
                self.assertLessEqual(o.low, o.was_low, o.key)
                self.assertGreaterEqual(o.high, o.was_high, o.key)

    def test_an_end_is_drawn_in_from_so_many_days_as_make_it_a_limit(self):
        # Wilks 1941, from memory: one-sided, 95 % of all, 95 times in 100.
        LIMIT.same(self, WILKS, next(n for n in range(1, 200) if 0.95**n < 0.05))
        table = row("times", "rig.doubled")
        low, high = table.low + 1, table.high - 1
        for n, drawn in ((WILKS - 1, False), (WILKS, True)):
            some = [trip(rig=int(high if i % 2 else low), on=d) for i, d in enumerate(days(n))]
            offers = lesson(learnt(logged(*some)), "rigging").offers
            self.assertEqual([(o.low, o.high) for o in offers], [(low, high)] if drawn else [])
        # So many cases of fewer days are none.
        few = [Logged(f"{n}", f"p{n}", "", trip(rig=int(high), on=days(9)[n % 9])) for n in range(2 * WILKS)]
        self.assertEqual(lesson(learnt(few), "rigging").offers, ())

    @given(st.lists(st.integers(1, 60), min_size=ENOUGH, max_size=8), st.randoms())
    def test_median_and_range_are_those_of_a_statistics_library_in_any_order(self, rigs, shuffled):
        some = [trip(rig=r, on=d) for r, d in zip(rigs, days(8), strict=False)]
        made = lesson(learnt(logged(*some)), "rigging")
        shuffled.shuffle(some)
        again = lesson(learnt(logged(*some)), "rigging")
        every = [r for r in rigs for _ in range(3)]
        got = (made.middle.value, made.least.value, made.most.value)
        MEDIAN.same(self, got, (statistics.median(every), min(every), max(every)))
        self.assertEqual(got, (again.middle.value, again.least.value, again.most.value))

    def test_what_is_adopted_is_what_the_plan_then_reckons_with(self):
        some = [trip(rig=11 + 10 * (d.day % 2), down=20 + d.day, on=d) for d in days(WILKS)]
        offers = [o for x in learnt(logged(*some)) for o in x.offers]
        own = [
            OwnFigure(id=f"o{n}", table=o.table, key=o.key, low=o.low, high=o.high, reason=o.reason)
            for n, o in enumerate(offers)
        ]
        self.assertLessEqual({"rig.doubled", "pull", "stack"}, {o.key for o in own})
        data = PLAN.model_copy(update={"own_figures": tuple(own)}).model_dump(mode="json")
        times = assess(read_plan(data), fixes=False).descent.times.stations[0]
        self.assertEqual((times.rig[0].value, times.rig[1].value), (11.0, 21.0))
        least, most = (20 + f(t.on.day for t in some) for f in (min, max))
        self.assertAlmostEqual(times.down[0].value, least, delta=0.05)
        self.assertAlmostEqual(times.down[1].value, most, delta=0.05)

    def test_the_log_lowers_a_limit_of_the_pull_and_never_raises_one(self):
        for felt, n, offered in (("easy", 5, False), ("hard", 4, False), ("hard", 5, True)):
            lessons = learnt(logged(*(trip(pull=felt, on=d) for d in days(n))))
            limits = [o for x in lessons for o in x.offers if o.table == "loads"]
            self.assertEqual(bool(limits), offered)
            self.assertTrue(all(o.high < row("loads", o.key).low for o in limits))
        # Of one day at one place the hardest felt counts, in whatever order it was saved.
        for order in permutations(("easy", "hard", "firm")):
            counts = lesson(learnt(logged(*(trip(pull=felt) for felt in order))), "the pull").counts
            self.assertEqual({x.rpartition(" ")[2] for x in counts}, {"hard"})
            self.assertEqual(sum(counts.values()), 3)

    def measured(self, off, method="eye", n=1, on=DAY, **said):
        """Descents of as many plans, at each station of which the height was off by a share; each has its own name."""
        out = []
        for k in range(n):
            t = trip(height=Known(kind="known", value=15 * (1 + off), method="rangefinder"), on=on)
            stations = [
                s.model_copy(
                    update={
                        "station": f"{s.station} {k}",
                        "said": s.said.model_copy(update={"method": method, "height_m": 15.0, **said}),
                    }
                )
                for s in t.stations
            ]
            out.append(Logged(f"t{k}", f"p{k}", "A plan", t.model_copy(update={"stations": tuple(stations)})))
        return out

    def test_how_far_heights_were_off_one_case_a_place(self):
        wide = lesson(learnt(self.measured(0.3, n=2)), "how far heights by eye")
        self.assertEqual((wide.offers[0].high, wide.most.value), (0.3, 30.0))
        # The same drops again and again are no more cases; and a narrower limit asks for many.
        again = [Logged(x.id, "p", "A plan", x.trip) for x in self.measured(0.3, n=4)]
        self.assertEqual(len(lesson(learnt(again), "how far").cases), 3)
        self.assertEqual(lesson(learnt(self.measured(0.05, n=4)), "how far").offers, ())
        self.assertEqual(lesson(learnt(self.measured(0.05, n=WILKS // 3 + 1)), "how far").offers[0].high, 0.05)
        # What was measured no better says nothing of the error.
        self.assertFalse([x for x in learnt(self.measured(0.3, "tape", 3)) if x.about == "height"])

    def test_copies_of_one_plan_are_one_place_each_and_the_farthest_off_counts(self):
        many = self.measured(0.05, n=WILKS)
        copies = [Logged(x.id, x.plan_id, "", x.trip, "p0" if n else "") for n, x in enumerate(many)]
        self.assertEqual(len(set(places(copies).values())), 3)
        self.assertEqual(lesson(learnt(copies), "how far").offers, ())
        # The same in a file that was brought in, where names and heights are the same and no origin is known.
        one = [Logged(x.id, f"q{n}", "", many[0].trip) for n, x in enumerate(many)]
        self.assertEqual(len(set(places(one).values())), 3)
        # Other plans' drops of the same ids are other places, and so are a copy's that are another in all.
        other = [Logged(x.id, x.plan_id, "", x.trip) for x in many]
        self.assertEqual(len(set(places(other).values())), 3 * WILKS)
        moved = [*self.measured(0.05), *(Logged("t", "r", "", t.trip, "p0") for t in self.measured(0.1, height_m=9.0))]
        moved[1] = self.renamed(moved[1], "elsewhere")
        self.assertEqual(len(set(places(moved).values())), 6)
        some = [
            Logged("a", "a", "", self.measured(0.05)[0].trip, "p"),
            Logged("b", "b", "", self.measured(0.3)[0].trip, "p"),
        ]
        for order in (some, some[::-1]):
            self.assertEqual(lesson(learnt(order), "how far").cases[0].was.value, 19.5)

    def renamed(self, t, to):
        stations = tuple(s.model_copy(update={"station": f"{s.station} {to}"}) for s in t.trip.stations)
        return Logged(t.id, t.plan_id, t.plan, t.trip.model_copy(update={"stations": stations}), t.origin)

    @given(st.integers(0, 60), st.integers(-60, 60), st.floats(-80, 80))
    def test_stations_of_two_plans_that_lie_together_are_one_place(self, north, east, latitude):
        def at(plan_id, n, e):
            lon = e / (111_195 * math.cos(math.radians(latitude)))
            position = Position(latitude_deg=latitude + n / 111_195, longitude_deg=20 + lon)
            (t,) = self.measured(0.1, position=position)
            only = t.trip.model_copy(update={"stations": t.trip.stations[:1]})
            return self.renamed(Logged(plan_id, plan_id, "", only), plan_id)

        away = math.hypot(north, east)
        assume(abs(away - 30) > 0.5)
        two = [at("a", 0, 0), at("b", north, east)]
        self.assertEqual(len(set(places(two).values())), 1 if away < 30 else 2)
        # Of one plan no two stations are one place, however near.
        self.assertEqual(
            len(set(places(self.measured(0.1, position=two[0].trip.stations[0].said.position)).values())), 3
        )


if __name__ == "__main__":
    unittest.main()
