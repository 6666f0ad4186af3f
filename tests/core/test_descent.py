"""The whole descent: the rope ledger's laws, times and daylight, kit."""

import datetime as dt
import itertools
import math
import re
import unittest
from itertools import pairwise
from zoneinfo import ZoneInfo

import ephem
from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.descent.daylight import clock, daylight, from_clock
from reamer.core.descent.times import person_minutes
from reamer.core.model import Plan, Whereabouts
from reamer.core.plan.edits import apply
from reamer.core.reading import read_plan
from reamer.demos import buttress, canyon, gully
from reamer.formats.calendar import nothing_to_say
from tests import law
from tests.builders import NOVICES, doubled, iced, known, plan_of, quick, releasable, rope, two_drops, unknown
from tests.core.test_assess import JOINED, KIT, SAME, SINGLE
from tests.outside import Outside

ALMANAC = Outside("sunrise and sunset at Greenwich", "the almanac's published tables, from memory", unit="min")
SUN_UP = Outside("whether the sun is up, 60° to 70° north and south", "an astronomical library", "ephem")
HEIGHT = Outside("the sun's height at sunrise, sunset and civil twilight", "an astronomical library", "ephem", "°")


def codes(plan, prefix=""):
    return [f.code for f in assess(plan).findings if f.code.startswith(prefix)]


def said(plan, code):
    return next(f for f in assess(plan).findings if f.code == code)


SYSTEMS = (
    doubled("r1", "a"),
    doubled("r1", "b"),
    doubled("r2", "a"),
    {**SAME, "rope": "r1"},
    {**SAME, "rope": "r2", "ridden_end": "a", "stoppers": []},
    {**JOINED, "through": "r1", "other": "r2"},
    {**JOINED, "through": "r2", "other": "r1", "through_end": "a", "other_end": "a", "stoppers": []},
    {**SINGLE, "rope": "r1", "cord": "r2"},
    {"kind": "none"},
)


@st.composite
def descents(draw, most=6):
    """A chain of stations with any systems on two ropes."""
    first = plan_of(doubled(), ropes=[rope(), rope("r2")])
    one = first["drops"][0]
    drops = []
    for i in range(draw(st.integers(1, most))):
        system = draw(st.sampled_from(SYSTEMS))
        state = {**one["station"]["states"][0], "system": system, "run_through": draw(st.booleans())}
        if draw(st.booleans()):
            state["threaded"] = {"rope": draw(st.sampled_from(["r1", "r2"])), "end": draw(st.sampled_from(["a", "b"]))}
        drops.append({**one, "id": f"d{i}", "station": {**one["station"], "states": [state]}, "onward": []})
    return read_plan({**first, "drops": drops, "contingencies": {"two_sets": draw(st.booleans())}})


class Ledger(unittest.TestCase):
    @law(60)
    @given(descents())
    def test_its_laws(self, plan):
        """Every rope is at one place; what is pulled is at the next landing; both ends come down, in an order; what is
        threaded without a fault is in hand or in a bag."""
        a = assess(plan)
        entries = a.descent.ledger.entries
        faulty = {d for f in a.findings if f.code in ("ledger.end-above", "ledger.end") for d in f.drops}
        soft = {d for f in a.findings if f.code == "ledger.alternates" for d in f.drops}
        above: list[tuple[str, str]] = []
        for e in entries:
            (state,) = e.states
            hung = [(s.rope, s.end) for s in state.strands]
            self.assertEqual(len(hung), len(set(hung)), "one end of a rope hangs once")
            in_use = {r for r, place in e.places.items() if place == "in use"}
            self.assertEqual({r for r, _ in hung} <= in_use, True)
            if state.first is not None:
                self.assertIn((state.first.rope, state.first.end), hung)
                self.assertIn(state.last.rope, in_use)
                self.assertNotEqual(state.first, state.last)
            t = state.threaded
            if t is not None and e.drop not in faulty | soft and not state.run_through:
                coming = [x for x in above if x[0] == t.rope]
                # Of a rope that comes down the first end is threaded; another rope is in a bag.
                joined_anew = state.system == "two ropes joined"
                self.assertTrue(not coming or coming[0] == (t.rope, t.end) or joined_anew, (t, coming))
            order = []
            if state.first is not None:
                first, last = (state.first.rope, state.first.end), (state.last.rope, state.last.end)
                other = {"a": "b", "b": "a"}
                order = [first, (first[0], other[first[1]])]
                if last[0] != first[0]:
                    order += [(last[0], other[last[1]]), last]
                self.assertEqual(order[-1], last)
            above = order
        if plan.contingencies.two_sets:
            used = [{r for r, p in e.places.items() if p == "in use"} for e in entries]
            shared = {e.drop for e, (a_, b_) in zip(entries[1:], pairwise(used), strict=True) if a_ & b_}
            self.assertEqual({d for f in a.findings if f.code == "ledger.two-places" for d in f.drops}, shared)

    @law(30)
    @given(descents())
    def test_every_act_offered_settles_what_it_is_offered_for(self, plan):
        for f in assess(plan).findings:
            for fix in (*([f.fix] if f.fix else []), *f.others) if f.code.startswith("ledger.") else ():
                after = assess(apply(plan, fix.edits))
                same = [x for x in after.findings if (x.code, x.subject, x.drops) == (f.code, f.subject, f.drops)]
                self.assertFalse(same, f.code)

    def test_what_is_pulled_is_threaded_next(self):
        """Two ropes joined, alike: what hung on the side of the join runs through the next ring, and so in turn."""
        other = {**JOINED, "through": "r2", "other": "r1"}
        plan = read_plan(two_drops(JOINED, other, ropes=[rope(), rope("r2")]))
        self.assertEqual(codes(plan, "ledger"), [])
        same = read_plan(two_drops(JOINED, JOINED, ropes=[rope(), rope("r2")]))
        self.assertEqual(codes(same, "ledger"), ["ledger.end-above"])
        # Of unlike ropes the thin one would lie in the ring: until it is said where they are run through, a caution.
        unlike = read_plan(two_drops(JOINED, JOINED, ropes=[rope(diameter=9.8), rope("r2", diameter=8.0)]))
        self.assertEqual(codes(unlike, "ledger"), ["ledger.alternates"])
        mended = apply(unlike, said(unlike, "ledger.alternates").fix.edits)
        self.assertEqual(codes(mended, "ledger"), [])
        cost = assess(mended).descent.ledger.extra_min
        self.assertEqual([n.value for n in cost], [3, 6])

    def test_a_run_through_rope_must_be_run_through_again(self):
        three = two_drops(JOINED, {**JOINED, "run_through": True}, ropes=[rope(diameter=9.8), rope("r2", diameter=8.0)])
        third = {**three["drops"][0], "id": "d3"}
        plan = read_plan({**three, "drops": [*three["drops"], third]})
        self.assertEqual(said(plan, "ledger.alternates").drops, ("d3",))

    def test_a_pull_cords_join_passes_the_ring_or_is_untied(self):
        for opening, word in ((50, "passes"), (20, "untie")):
            data = two_drops(SINGLE, SINGLE, ropes=KIT)
            data["shed"]["rings"][0]["opening_mm"] = known(opening)
            entry = assess(read_plan(data)).descent.ledger.entries[1]
            self.assertIn(word, " ".join(words(s) for s in entry.states[0].said))

    def test_what_comes_out_of_a_bag_may_be_threaded_by_any_end(self):
        for end in "ab":
            second = {**doubled("r2"), "threaded": {"rope": "r2", "end": end}}
            plan = two_drops(doubled("r1"), second, ropes=[rope(), rope("r2")])
            self.assertEqual(codes(read_plan(plan), "ledger"), [])

    @law(30)
    @given(descents())
    def test_what_is_said_is_in_the_order_of_the_work(self, plan):
        """Thread, knot, untie, pull; what goes up knotted is untied before the pull, the end that is pulled never."""
        for e in assess(plan).descent.ledger.entries:
            (state,) = e.states
            told = [words(s) for s in state.said]
            steps = ("hread|^The join", "Knot", "Untie", "Pull", "ull")
            order = [next(i for i, w in enumerate(steps) if re.search(w, t)) for t in told]
            self.assertEqual(order, sorted(order), told)
            untied = [t for t in told if t.startswith("Untie")]
            if state.first is not None and len({s.end for s in state.strands if s.role != "reserve"}) == 2:
                up = [s for s in state.strands if s.knotted and (s.rope, s.end) != (state.first.rope, state.first.end)]
                self.assertEqual(len(untied), len(up), told)
                self.assertFalse([t for t in untied if f"end {state.first.end.upper()} of {state.first.rope} " in t])

    def test_the_acts_for_an_end_that_is_still_above(self):
        """The other end here, the other side there, or the rope run through: each of them settles it."""
        plan = read_plan(two_drops(doubled(), {**doubled(), "threaded": {"rope": "r1", "end": "a"}}))
        f = said(plan, "ledger.end-above")
        acts = ["Thread end B of r1 here", "Pull the other side at drop 1", "Run r1 through first"]
        self.assertEqual([words(x.label) for x in (f.fix, *f.others)], acts)
        station = plan.drops[1].station
        for change in ({"threaded": None}, {"run_through": True}):
            state = station.states[0].model_copy(update=change)
            there = station.model_copy(update={"states": (state,)})
            drops = (plan.drops[0], plan.drops[1].model_copy(update={"station": there}))
            self.assertEqual(codes(plan.model_copy(update={"drops": drops}), "ledger"), [])
        flipped = two_drops(doubled(pulled="a"), {**doubled(), "threaded": {"rope": "r1", "end": "a"}})
        self.assertEqual(codes(read_plan(flipped), "ledger"), [])

    def test_a_traverse_line_is_in_use_and_what_nobody_carries_is_said_with_its_stations(self):
        data = two_drops(doubled("r1"), doubled("r1"), ropes=[rope(), rope("r2")], carry={"ropes": ["r1"]})
        line = {"rope": "r2", "span_m": known(4, "tape"), "sag_m": known(0.4, "tape")}
        holds = {"kind": "range", "low_kn": 20, "high_kn": 25, "source": "tested"}
        data["drops"][1]["station"]["traverse"] = {**line, "near": holds, "far": holds}
        plan = read_plan(data)
        self.assertEqual(assess(plan).descent.ledger.entries[1].places, {"r1": "in use", "r2": "in use"})
        f = said(plan, "ledger.not-carried")
        self.assertEqual(f.drops, ("d2",))
        self.assertEqual(codes(apply(plan, f.fix.edits), "ledger"), [])


PLACE = {"latitude_deg": 46.0, "longitude_deg": 7.5, "zone": "Europe/Zurich"}


class Times(unittest.TestCase):
    def day(self, **more):
        return assess(read_plan(plan_of(doubled(), **more))).descent.times

    def test_a_station_by_hand(self):
        """Rig + n·(clip + path/speed + unclip + call) + pull + stack."""
        a = assess(read_plan(plan_of(doubled(), start="09:00", **NOVICES)))
        (s,) = a.descent.times.stations
        path = max(a.drops[0].taut.nominal.value, a.drops[0].draped.nominal.value)
        low = 4 + 3 * (1 + path / 15 + 0.5 + 0.2) + 3 + 2
        high = 6 + 3 * (2 + path / 8 + 1 + 0.5) + 6 + 4
        self.assertAlmostEqual(s.out[0].value, low)
        self.assertAlmostEqual(s.out[1].value, high)
        self.assertEqual(s.arrive_at, ("09:00", "09:00"))
        self.assertEqual(a.descent.times.out_at, (clock(540 + low), clock(540 + high)))

    @given(st.floats(1, 100))
    def test_a_longer_rope_takes_longer(self, path):
        self.assertLess(person_minutes(path, "low"), person_minutes(path, "high"))
        self.assertLess(person_minutes(path, "high"), person_minutes(path + 1, "high"))

    def two(self, **more):
        return two_drops(doubled("r1"), doubled("r2"), ropes=[rope(), rope("r2")], **more)

    def test_two_sets_hide_the_rigging_and_a_party_of_one_hides_nothing(self):
        alone = self.two(contingencies={"two_sets": True})
        self.assertIsNone(assess(read_plan(alone)).descent.times.stations[1].hidden)
        many = read_plan(self.two(contingencies={"two_sets": True}, **NOVICES))
        hidden = assess(many).descent.times.stations[1].hidden
        self.assertEqual([n.value for n in hidden], [4, 6])
        self.assertIsNone(assess(many).descent.times.stations[0].hidden)
        # One rope for both stations cannot be at two places.
        shared = read_plan(two_drops(doubled(), doubled(), contingencies={"two_sets": True}, **NOVICES))
        self.assertIsNone(assess(shared).descent.times.stations[1].hidden)
        novice = {"party": [{**p, "role": "novice"} if p["id"] == "p1" else p for p in NOVICES["party"]]}
        led = read_plan(self.two(contingencies={"two_sets": True}, **novice))
        self.assertIsNone(assess(led).descent.times.stations[1].hidden)

    def test_ways_between_take_their_time(self):
        """By the clock where it was timed, else by length over speed; a halt by the clock alone; of several the sum."""
        walk = {"id": "w1", "kind": "walk", "length_m": known(100, "tape")}
        for legs, low, high in (
            ([], 0, 0),
            ([walk], 2, 4),
            ([{**walk, "minutes": known(7)}], 7, 7),
            ([walk, {"id": "w2", "kind": "swim", "length_m": known(40, "eye")}], 4, 8),
            ([walk, {"id": "w3", "kind": "halt", "minutes": known(30)}], 32, 34),
        ):
            data = self.two(**NOVICES)
            data["drops"][0]["onward"] = legs
            first, second = assess(read_plan(data)).descent.times.stations
            self.assertEqual([n.value for n in first.onward], [low, high])
            for end in (0, 1):
                self.assertAlmostEqual(second.arrive[end].value, first.out[end].value)
                down = first.pull[end].value + first.down[end].value + first.onward[end].value
                self.assertAlmostEqual(first.out[end].value, down)

    def test_more_people_and_longer_drops_are_never_quicker(self):
        def total(n, height):
            party = [{**NOVICES["party"][0], "id": f"p{i}", "name": f"P{i}"} for i in range(n)]
            section = quick(2, 0.2, height, "tape", "rounded")
            return [x.value for x in self.day(party=party, section=section).total]

        for n, height in ((1, 10), (3, 10), (3, 20), (8, 20)):
            for more in (total(n + 1, height), total(n, height + 5)):
                self.assertTrue(all(a < b for a, b in zip(total(n, height), more, strict=True)))

    def test_own_times_stand_in_place_of_the_assumptions(self):
        own = [{"id": "o", "table": "times", "key": "pull", "low": 10, "high": 20, "reason": "our log"}]
        before, after = self.day(**NOVICES), self.day(own_figures=own, **NOVICES)
        self.assertEqual([b.value - a.value for a, b in zip(before.total, after.total, strict=True)], [7, 14])

    def test_a_last_light_after_midnight_and_one_after_sunset(self):
        between = self.day(start="20:00", last_light="21:50", spot=PLACE)
        self.assertEqual((between.last_light_is, between.last_light_at[:5]), ("sunset", "21:21"))
        bare = self.day(start="20:00", last_light="01:00", spot=None)
        self.assertEqual(bare.last_light_at, "01:00 the day after")
        # What cannot be is said, and nothing of the dark is taken to be checked.
        for start, own, spot, why in (
            ("20:00", "01:00", PLACE, "after civil dusk at 21:59"),
            ("10:00", "09:00", PLACE, "after civil dusk at 21:59"),
            ("10:00", "09:00", None, "before the start"),
            (
                "20:00",
                "05:00",
                {"latitude_deg": 63.5, "longitude_deg": 18, "zone": "Europe/Stockholm"},
                "the day after",
            ),
            ("10:00", "18:00", {**PLACE, "longitude_deg": 75}, "Europe/Zurich is not that of a place at 75° east"),
            ("10:00", None, {**PLACE, "longitude_deg": -60}, "Europe/Zurich is not that of a place at 60° west"),
        ):
            with self.subTest(start, own=own, why=why):
                plan = read_plan(self.two(start=start, last_light=own, spot=spot, **NOVICES))
                got = assess(plan).descent.times
                # Where the sun is known, it counts in place of an own last light that cannot be.
                known_sun = got.contradicts[1] == "last_light" and got.light.kind == "day"
                self.assertEqual(got.last_light, got.light.last if known_sun else None)
                self.assertEqual(got.last_light_is, "sunset" if known_sun else "")
                self.assertEqual(codes(plan, "time"), ["time.unknown"])
                self.assertIn(why, words(said(plan, "time.unknown").reason))

    def test_an_own_last_light_in_the_dark_makes_nothing_milder(self):
        polar = {"latitude_deg": 69.65, "longitude_deg": 18.96, "zone": "Europe/Oslo"}
        for start, own, spot, on in (
            ("21:05", "23:30", PLACE, "2027-06-21"),
            ("21:20", "23:30", PLACE, "2027-06-21"),
            ("22:30", "23:59", PLACE, "2027-06-21"),
            ("10:00", "20:00", polar, "2027-12-21"),
            ("15:00", "20:00", polar, "2027-12-21"),
        ):
            with self.subTest(start, on=on):
                data = self.two(start=start, spot=spot, on=on, **NOVICES)
                late = [assess(read_plan({**data, "last_light": x})).findings for x in (None, own)]
                without, with_it = (
                    [(f.code, f.severity) for f in some if f.code in ("time.late", "time.early")] for some in late
                )
                self.assertTrue(without)
                self.assertEqual(with_it, without)

    def test_stations_far_from_the_place_of_the_day(self):
        data = self.two(start="09:00", spot=PLACE, **NOVICES)
        lat, lon = PLACE["latitude_deg"], PLACE["longitude_deg"]
        # A degree of latitude is 111 km.
        for off, want in ((0.88, []), (0.92, ["time.unknown"]), (-90, ["time.unknown"])):
            data["drops"][1]["position"] = {"latitude_deg": lat + off, "longitude_deg": lon}
            self.assertEqual(codes(read_plan(data), "time"), want)

    def test_the_zone_and_the_first_stations_place_are_proposed(self):
        """The clock of the place, to be confirmed; with no place of the day, the first station's."""
        bare = {"latitude_deg": 46.0, "longitude_deg": 7.5}
        at = {"latitude_deg": 46.1, "longitude_deg": 7.6}
        for spot, position, want in (
            (bare, None, "Take the clock of Europe/Zurich"),
            ({**bare, "zone": "Asia/Tokyo"}, None, "Take the clock of Europe/Zurich"),
            (None, at, "Take the place of Lip, by the clock of Europe/Zurich"),
            ({"latitude_deg": -46.0, "longitude_deg": 7.5, "zone": "Europe/Zurich"}, at, "Take the place of Lip"),
            (None, None, None),
            ({"zone": "Europe/Zurich"}, None, None),
        ):
            with self.subTest(spot, position=position):
                data = self.two(start="09:00", spot=spot, **NOVICES)
                data["drops"][0] |= {"name": "Lip", "position": position}
                plan = read_plan(data)
                fix = said(plan, "time.unknown").fix
                self.assertEqual(fix is not None, want is not None)
                if fix is not None:
                    self.assertIn(want, words(fix.label))
                    made = apply(plan, fix.edits)
                    self.assertEqual(codes(made, "time"), [])
                    self.assertEqual(made.spot.zone, "Europe/Zurich")

    def test_a_sunset_after_midnight_is_this_evenings(self):
        """65.6° N in a zone an hour ahead of the sun, 6 June: the sun sets at four past midnight."""
        far = {"latitude_deg": 65.6, "longitude_deg": 12.5, "zone": "Europe/Oslo"}
        for start, severity in (("18:00", []), ("23:40", ["Shortfall"])):
            plan = read_plan(self.two(start=start, spot=far, on="2027-06-06", **NOVICES))
            self.assertEqual(assess(plan).descent.times.last_light_at, "00:04 the day after")
            self.assertEqual([f.severity for f in assess(plan).findings if f.code == "time.late"], severity)

    def test_what_is_done_before_first_light_is_done_in_the_dark(self):
        first = assess(read_plan(self.two(start="09:00", spot=PLACE, **NOVICES))).descent.times.light.first
        rig = self.day(**NOVICES).stations[0].rig[1].value
        for at, severity in ((first - rig - 2, "Shortfall"), (first - rig + 2, "Caution"), (first + 1, None)):
            plan = read_plan(self.two(start=clock(math.floor(at)), spot=PLACE, **NOVICES))
            early = [f for f in assess(plan).findings if f.code == "time.early"]
            self.assertEqual([f.severity for f in early], [severity] if severity else [])
            for f in early:
                self.assertNotIn("time.early", codes(apply(plan, f.fix.edits)))

    def test_turning_round_where_the_rest_ends_at_last_light(self):
        plan = read_plan(self.two(start="09:00", spot=PLACE, last_light="18:00", **NOVICES))
        t = assess(plan).descent.times
        self.assertEqual(t.last_light_is, "the plan's own last light")
        for s in t.stations:
            rest = t.total[1].value - s.pull[1].value
            self.assertAlmostEqual(s.turn_round.value + rest, 18 * 60)
        self.assertAlmostEqual(from_clock(t.latest_start_at), round(18 * 60 - t.total[1].value))

    def test_late_by_its_ends(self):
        t = assess(read_plan(self.two(start="09:00", spot=PLACE, **NOVICES))).descent.times
        low, high = (n.value for n in t.total)
        last = t.last_light
        ends = ((last - high - 1, None), (last - (low + high) / 2, "Caution"), (last - low + 1, "Shortfall"))
        for at, severity in ends:
            plan = read_plan(self.two(start=clock(math.floor(at)), spot=PLACE, **NOVICES))
            late = [f for f in assess(plan).findings if f.code == "time.late"]
            self.assertEqual([f.severity for f in late], [severity] if severity else [])
            for f in late:
                self.assertNotIn("time.late", codes(apply(plan, f.fix.edits)))

    def test_what_is_not_known_is_said_once(self):
        base = self.two(start="09:00", spot=PLACE, **NOVICES)
        self.assertEqual(codes(read_plan(base), "time"), [])
        blanks = (("start", None), ("spot", None), ("on", None), ("spot", {**PLACE, "zone": ""}), ("party", []))
        for key, value in blanks:
            with self.subTest(key, value=value):
                self.assertEqual(codes(read_plan({**base, key: value}), "time"), ["time.unknown"])
        leg = {"id": "w", "kind": "halt"}
        base["drops"][0]["onward"] = [leg]
        self.assertEqual(codes(read_plan(base), "time"), ["time.unknown"])
        base["drops"][0]["onward"] = [{**leg, "minutes": known(20)}]
        self.assertEqual(codes(read_plan(base), "time"), [])
        base["drops"][0]["section"]["height_m"] = unknown("?")
        self.assertEqual(codes(read_plan(base), "time"), ["time.unknown"])


def altitude(lat, lon, when):
    """How high the sun's centre stands, without refraction [°], by the package ephem."""
    at = ephem.Observer()
    at.lat, at.lon, at.pressure, at.date = str(lat), str(lon), 0, when.replace(tzinfo=None)
    return math.degrees(ephem.Sun(at).alt)


class Light(unittest.TestCase):
    """Against the almanac's published tables, from memory, to two minutes; and against the definition."""

    def at(self, lat, lon, zone, on):
        return daylight(Whereabouts(latitude_deg=lat, longitude_deg=lon, zone=zone), on)

    def test_published_times(self):
        # Greenwich, the longest and the shortest day: 04:43 to 21:21 by summer time, 08:04 to 15:53.
        for on, first, last in ((dt.date(2027, 6, 21), "04:43", "21:21"), (dt.date(2027, 12, 21), "08:04", "15:53")):
            day = self.at(51.4779, 0.0, "Europe/London", on)
            ALMANAC.near(self, day.first, from_clock(first), 2)
            ALMANAC.near(self, day.last, from_clock(last), 2)

    def test_a_second_library_has_the_sun_up_when_it_is_said_to_be(self):
        """By the package ephem, every ten minutes of a day and a night after a start: at 60 to 70° north and south,
        where the sun sets after midnight or not at all, on days through the year, in three zones."""
        compared = 0
        places = ((12.5, "Europe/Oslo"), (-150.0, "America/Anchorage"), (170.0, "Pacific/Auckland"))
        latitudes = (-69.5, -65.6, 60.5, 65.6, 67.2)
        for (n, lat), (lon, zone), days in itertools.product(enumerate(latitudes), places, range(0, 365, 20)):
            # Every tenth day of the year, one half of them here and the other there.
            days += 10 * (n % 2)
            on, start = dt.date(2027, 1, 1) + dt.timedelta(days), (100 * days) % 1440
            got = daylight(Whereabouts(latitude_deg=lat, longitude_deg=lon, zone=zone), on, start)
            midnight = dt.datetime.combine(on, dt.time(), ZoneInfo(zone))
            for m in range(start, start + 1440, 10):
                there = (midnight.replace(tzinfo=None) + dt.timedelta(minutes=m)).replace(tzinfo=midnight.tzinfo)
                over = altitude(lat, lon, there.astimezone(dt.UTC)) + 0.833
                up = any(x is not None and x <= m for x in (got.first, got.next_first))
                down = got.last is not None and got.last <= m and not (got.next_first and got.next_first <= m)
                said = got.kind == "sun does not set" and not down if got.first is None else up and not down
                # A hundredth of a degree is a minute or less, but where the sun only grazes the horizon.
                if abs(over) > 0.02:
                    compared += 1
                    SUN_UP.same(self, said, over > 0, f"{lat} {lon} {on} {m} {got}")
            for m, height in ((got.civil_first, -6), (got.civil_last, -6), (got.first, -0.833), (got.last, -0.833)):
                if m is not None and start - 1440 < m < start + 1440:
                    there = (midnight.replace(tzinfo=None) + dt.timedelta(minutes=m)).replace(tzinfo=midnight.tzinfo)
                    HEIGHT.near(self, height, altitude(lat, lon, there.astimezone(dt.UTC)), 0.02)
        self.assertGreater(compared, 30_000)

    def test_polar_day_and_night_and_white_nights(self):
        self.assertEqual(self.at(69.65, 18.96, "Europe/Oslo", dt.date(2027, 6, 21)).kind, "sun does not set")
        self.assertEqual(self.at(69.65, 18.96, "Europe/Oslo", dt.date(2027, 12, 21)).kind, "sun does not rise")
        white = self.at(63.5, 18.0, "Europe/Stockholm", dt.date(2027, 6, 21))
        self.assertIsNotNone(white.last)
        self.assertIsNone(white.civil_last)
        far = {"latitude_deg": 69.65, "longitude_deg": 18.96, "zone": "Europe/Oslo"}
        night = read_plan(plan_of(doubled(), spot=far, on="2027-12-21"))
        self.assertEqual(codes(night, "time"), ["time.late"])
        self.assertEqual(said(night, "time.late").severity, "Shortfall")
        self.assertIn("Civil twilight from 09:31 to 13:53", words(said(night, "time.late").reason))
        own = night.model_copy(update={"last_light": "13:00", "start": "09:40"})
        self.assertEqual(said(own, "time.late").severity, "Caution")
        light = night.model_copy(update={"on": dt.date(2027, 6, 21)})
        self.assertEqual(codes(light, "time"), [])

    def test_of_a_year_far_off_nothing_is_said(self):
        for on in (dt.date.min, dt.date(1899, 12, 31), dt.date(2101, 1, 1), dt.date.max):
            got = self.at(65.6, 12.5, "Europe/Oslo", on)
            self.assertEqual((got.kind, got.why), ("unknown", f"nobody knows the light of the year {on.year}"))
            data = plan_of(doubled(), spot=PLACE, on=str(on), start="18:00", last_light="17:00")
            plan = read_plan(data)
            self.assertEqual(codes(plan, "time"), ["time.unknown"])
            self.assertIn(str(on.year), nothing_to_say(plan, assess(plan)))

    def test_no_such_zone_is_said(self):
        got = self.at(46, 7, "Europe/Nowhere", dt.date(2027, 6, 21))
        self.assertEqual(got.kind, "unknown")
        self.assertIn("Europe/Nowhere", got.why)


class Kit(unittest.TestCase):
    def test_the_weight_of_the_ropes_is_their_sum(self):
        plan = canyon()
        k = assess(plan).descent.kit
        own = [i for i in k.items if i.kind == "rope"]
        self.assertAlmostEqual(k.ropes_kg.value, sum(i.kg.value for i in own))
        self.assertEqual(k.unweighed, 0)
        self.assertEqual({b.person for b in k.borne}, {p.id for p in plan.party})
        self.assertAlmostEqual(sum(b.kg.value for b in k.borne), k.ropes_kg.value)

    def test_what_is_carried_is_left_or_comes_home(self):
        k = assess(canyon()).descent.kit
        self.assertTrue(all(i.home == "yes" for i in k.items if i.kind == "rope"))
        self.assertEqual(sum("steel ring" in words(t) for left in k.left for t in left.things), 9)
        self.assertIn("9 × steel ring 10 mm", [words(t) for t in k.left_in_all])

    def test_cord_for_the_threads(self):
        for metres, want in ((1.7, ["kit.cord"]), (1.85, [])):
            data = iced()
            data["shed"]["ropes"][1]["measured_m"] = known(metres)
            self.assertEqual(codes(read_plan(data), "kit"), want)
        found = iced(in_place="yes")
        found["shed"]["ropes"][1]["measured_m"] = known(1.0)
        self.assertEqual(codes(read_plan(found), "kit"), [], "what was found there is not cut from ours")
        asked = iced(in_place="unknown")
        asked["shed"]["ropes"][1]["measured_m"] = known(1.0)
        self.assertEqual(codes(read_plan(asked), "kit"), ["kit.cord"], "nobody has said that it is there")
        whole = iced()
        other = {**SINGLE, "rope": "r1", "cord": "c7"}
        whole["drops"].append(two_drops(other, other)["drops"][1])
        self.assertIn("c7", {r.id for r in read_plan(whole).shed.ropes})
        self.assertIn("kit.cord", codes(read_plan(whole), "kit"), "a cord that is pulled cannot be cut")
        data = iced()
        data["shed"]["ropes"][1].update(measured_m=unknown("?"), nominal_m=unknown("?"))
        self.assertEqual(said(read_plan(data), "kit.cord").severity, "Not checked")

    def test_the_planted_mistakes_are_settled_by_their_acts(self):
        planted = (
            (canyon, "ledger.end-above"),
            (canyon, "time.late"),
            (buttress, "ledger.alternates"),
            (gully, "kit.cord"),
        )
        for make, code in planted:
            plan = make()
            f = said(plan, code)
            after = apply(plan, f.fix.edits)
            self.assertNotIn(code, codes(after))
            before, now = assess(plan).tally, assess(after).tally
            self.assertLessEqual(now["Shortfall"], before["Shortfall"])


class Read(unittest.TestCase):
    def test_older_files_open(self):
        for make in (canyon, buttress, gully):
            data = make().model_dump(mode="json")
            for key in ("spot", "start", "last_light", "contingencies", "carry"):
                del data[key]
            for d in data["drops"]:
                del d["onward"], d["escape"]
                for s in d["station"]["states"]:
                    del s["threaded"], s["run_through"]
            plan = read_plan(data)
            self.assertIsInstance(plan, Plan)
            self.assertTrue(plan.contingencies.lost and plan.contingencies.stuck)

    def test_bad_input_names_its_field(self):
        from reamer.core.errors import PlanError

        base = plan_of(doubled())
        for key, value, field in (
            ("start", "25:00", "start"),
            ("start", "9:00", "start"),
            ("spot", {"latitude_deg": 95, "longitude_deg": 0}, "spot/latitude_deg"),
            ("carry", {"ropes": ["r1", "r1"]}, "carry/ropes/1/rope"),
            ("carry", {"rings": known(1.5)}, "carry/rings"),
            ("contingencies", {"lost": 1}, "contingencies/lost"),
        ):
            with self.subTest(key, value=value), self.assertRaises(PlanError) as e:
                read_plan({**base, key: value})
            self.assertEqual(e.exception.field, field)

    def test_a_releasable_rope_is_in_the_ledger_in_both_its_states(self):
        data = plan_of(releasable(20))
        (entry,) = assess(read_plan(data)).descent.ledger.entries
        self.assertEqual([s.role for s in entry.states[0].strands], ["ride", "reserve"])


if __name__ == "__main__":
    unittest.main()
