"""What lies ahead: the choice of ropes for whole plans, what if, points of no return, and what adopting a set does."""

import copy
import unittest
from dataclasses import replace
from functools import cache
from itertools import combinations_with_replacement

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.context import context
from reamer.core.answer.say import Number, words
from reamer.core.assess import assess
from reamer.core.descent.bought import Cut, ToBuy, bought, to_buy
from reamer.core.descent.field import EVENTS, Field
from reamer.core.descent.harder import longer_section
from reamer.core.descent.prospect import Known, adopted, prospect
from reamer.core.descent.sets import answers, chain
from reamer.core.descent.stations import Stations, asked
from reamer.core.errors import Cancelled
from reamer.core.plan.edits import apply
from reamer.core.reading import read_plan
from reamer.core.rope.strands import ropes_of
from reamer.demos import buttress, canyon, gully
from tests import law
from tests.builders import (
    NOVICES,
    capacity,
    courtesy,
    doubled,
    known,
    plan_of,
    quick,
    releasable,
    rope,
    two_bolts,
    two_drops,
    unknown,
    water,
)
from tests.core.test_assess import JOINED
from tests.core.test_codes import TRAVERSE

KEPT = Stations()


def look_ahead(plan, going=lambda: True):
    a = assess(plan)
    return prospect(context(plan), KEPT, Known(a.drops, a.webbing, a.descent.times), going)


@cache
def demo(make):
    return look_ahead(make())


LOWERED = {"kind": "lowered", "rope": "r1", "end": "b", "far_end_closed": True}


def cell(got, number, event):
    return next(c for c in got.rows[number - 1].cells if c.event == event)


def in_a_row(*systems, ropes, heights=None, **more):
    """A chain of stations alike, each with its system and height."""
    data = plan_of(systems[0], ropes=ropes, **more)
    one = data["drops"][0]
    heights = heights or [15] * len(systems)
    data["drops"] = [
        {
            **one,
            "id": f"d{i}",
            "section": quick(2, 0.2, h, "tape", "rounded"),
            "station": {**one["station"], "states": [{**one["station"]["states"][0], "system": s}]},
            "onward": [],
        }
        for i, (s, h) in enumerate(zip(systems, heights, strict=True))
    ]
    return read_plan(data)


def left_by_words(plan, k, rest):
    """The first station below that no way can serve with some ropes, told station by station."""
    for j in range(k + 1, len(plan.drops)):
        if not any(w.ropes <= rest for w in KEPT.of(context(plan), j).ways):
            return j + 1
    return 0


class Events(unittest.TestCase):
    @law(15)
    @given(st.data())
    def test_stuck_and_lost_are_what_the_families_say(self, data):
        ropes = [rope(f"r{i}", data.draw(st.sampled_from([30.0, 45.0, 60.0]))) for i in range(3)]
        systems = data.draw(st.lists(st.sampled_from([doubled(f"r{i}") for i in range(3)]), min_size=2, max_size=4))
        heights = [data.draw(st.sampled_from([10.0, 19.0, 26.0])) for _ in systems]
        plan = in_a_row(*systems, ropes=ropes, heights=heights)
        got = look_ahead(plan)
        carried = {r for d in plan.drops for s in d.station.states for r in ropes_of(s.system)}
        for k, drop in enumerate(plan.drops[:-1]):
            own = {r for s in drop.station.states for r in ropes_of(s.system)}
            self.assertEqual(cell(got, k + 1, "stuck").at, left_by_words(plan, k, carried - own))
            worst = [left_by_words(plan, k, carried - {r}) for r in carried]
            mark = cell(got, k + 1, "lost")
            self.assertEqual(mark.mark == "strands", any(worst))
            if any(worst):
                self.assertEqual(mark.at, min(w for w in worst if w))

    @law(10)
    @given(st.data())
    def test_a_rope_more_carried_never_makes_an_event_worse(self, data):
        ropes = [rope(f"r{i}", data.draw(st.sampled_from([30.0, 45.0, 60.0]))) for i in range(4)]
        systems = [doubled(f"r{data.draw(st.integers(0, 1))}") for _ in range(3)]
        heights = [data.draw(st.sampled_from([10.0, 19.0, 26.0])) for _ in systems]
        order = ("strands", "not checked", "way off", "other way", "works")
        few = in_a_row(*systems, ropes=ropes, heights=heights, carry={"ropes": ["r0", "r1"]})
        more = few.model_copy(update={"carry": few.carry.model_copy(update={"ropes": ("r0", "r1", "r2")})})
        a, b = look_ahead(few), look_ahead(more)
        for k in range(3):
            one, two = cell(a, k + 1, "stuck"), cell(b, k + 1, "stuck")
            self.assertGreaterEqual(order.index(two.mark), order.index(one.mark))
            # A rope more may itself be lost: never with less left than before.
            one, two = cell(a, k + 1, "lost"), cell(b, k + 1, "lost")
            self.assertGreaterEqual(order.index(two.mark), order.index(one.mark))

    def test_every_stranding_act_mends_it(self):
        for make in (canyon, buttress, gully):
            plan = make()
            for f in demo(make).findings:
                if f.code == "event.strands" and f.fix:
                    with self.subTest(plan.title, said=words(f.title)):
                        after = look_ahead(apply(plan, f.fix.edits))
                        self.assertNotIn(words(f.title), [words(x.title) for x in after.findings])
                        before, now = (
                            sum(x.severity == "Shortfall" for x in some.findings) for some in (demo(make), after)
                        )
                        self.assertLessEqual(now, before)

    def test_the_planted_ones(self):
        got = demo(canyon)
        self.assertEqual(cell(got, 5, "stuck").mark, "strands")
        self.assertEqual((cell(got, 5, "stuck").at, cell(got, 2, "stuck").word), (9, "off at 4"))
        self.assertEqual([r.number for r in got.returns], [5])
        lost = [c.at for r in demo(buttress).rows for c in r.cells if c.event == "lost" and c.mark == "strands"]
        self.assertEqual(set(lost), {3})

    def test_an_escape_that_nobody_knows_goes_is_none(self):
        plan = canyon()
        for goes, numbers in (("unknown", [1]), ("no", [1]), ("yes", [5])):
            drop = plan.drops[3]
            escape = drop.escape.model_copy(update={"goes": goes})
            drops = (*plan.drops[:3], drop.model_copy(update={"escape": escape}), *plan.drops[4:])
            got = look_ahead(plan.model_copy(update={"drops": drops}))
            self.assertEqual([r.number for r in got.returns], numbers)

    def test_a_way_off_at_every_landing_leaves_no_point_of_no_return(self):
        plan = canyon()
        escape = plan.drops[3].escape
        drops = tuple(d.model_copy(update={"escape": escape}) for d in plan.drops)
        self.assertEqual(look_ahead(plan.model_copy(update={"drops": drops})).returns, ())

    def test_what_nobody_measured_is_not_checked_and_never_works(self):
        data = two_drops(doubled("r1"), doubled("r2"), ropes=[rope(), rope("r2")])
        data["drops"][1]["section"] = {**data["drops"][1]["section"], "height_m": unknown("?")}
        got = look_ahead(read_plan(data))
        self.assertEqual({cell(got, 1, e).mark for e in ("stuck", "lost")}, {"not checked"})
        self.assertEqual(cell(got, 2, "longer").mark, "not checked")
        self.assertIn("Not checked", [f.severity for f in got.findings if f.code == "event.strands"])

    def test_longer_is_where_it_no_longer_reaches(self):
        for section in (quick(2, 0.2, 15, "guidebook", "rounded"), quick(1, 0, 20, "rangefinder", "rounded")):
            plan = read_plan(plan_of(doubled(), section=section))
            by = cell(look_ahead(plan), 1, "longer").number.value
            for more, short in ((by, False), (by + 0.1, True)):
                drop = plan.drops[0]
                taller = drop.model_copy(update={"section": longer_section(drop, more, None)})
                a = assess(plan.model_copy(update={"drops": (taller,)}))
                self.assertEqual("reach.short" in [f.code for f in a.drops[0].findings], short)

    def test_over_moving_water_the_last_persons_own_length_counts(self):
        """Rope enough in the bag for the party says nothing of the last person, whose strand is as long as it is."""
        plan = read_plan(water(releasable(7.25), height=8, ropes=[rope(length=60.0)]))
        got = cell(look_ahead(plan), 1, "longer")
        self.assertLess(got.number.value if got.number else 0.0, 1.0)

    def test_no_system_webbing_unknown_and_reserve_unknown_are_not_checked(self):
        data = two_drops(doubled("r1"), doubled("r1"))
        data["drops"][0]["station"]["states"][0]["system"] = {"kind": "none"}
        self.assertEqual(cell(look_ahead(read_plan(data)), 1, "stuck").mark, "not checked")
        data = two_drops(doubled("r1"), doubled("r1"), carry={"rings": known(2)})
        data["shed"]["webbing"][0]["pieces"] = [{"id": "p", "length_m": known(20, "tape")}]
        self.assertEqual(cell(look_ahead(read_plan(data)), 1, "anchor").word, "tie again")
        post = data["drops"][1]["station"]["features"][0]
        data["drops"][1]["station"]["features"] = [{**post, "girth_m": unknown("?")}]
        self.assertEqual(cell(look_ahead(read_plan(data)), 1, "anchor").mark, "not checked")

    def test_of_shots_the_longest_below_the_edge_is_lengthened(self):
        shot = {"edge": "rounded"}
        shots = [
            {"id": f"s{i}", "slope_m": known(long, "tape"), "incl_deg": known(incl), **shot}
            for i, (long, incl) in enumerate(((9, -5), (4, -88), (8, -89), (2, -80)))
        ]
        plan = read_plan(plan_of(doubled(), section={"kind": "shots", "shots": shots}))
        drop = longer_section(plan.drops[0], 1.0, 0)
        self.assertEqual([s.slope_m.value for s in drop.shots], [9, 4, 9, 2])

    def test_heavier_people_never_make_it_milder(self):
        for kg, marks in ((60, {"works"}), (70, {"fails"})):
            plan = read_plan(plan_of(doubled(), mass=kg, policies={"margin": {"kind": "static ratio"}}))
            station = plan.drops[0].station
            weak = station.features[0].model_copy(
                update={"holds": station.features[0].holds.model_copy(update={"low_kn": 8.5, "high_kn": 9})}
            )
            drop = plan.drops[0].model_copy(update={"station": station.model_copy(update={"features": (weak,)})})
            got = look_ahead(plan.model_copy(update={"drops": (drop,)}))
            self.assertEqual({cell(got, 1, "heavier").mark}, marks)

    def test_a_party_of_one(self):
        got = look_ahead(read_plan(plan_of(doubled())))
        self.assertEqual(cell(got, 1, "hurt").word, "nobody comes")
        self.assertEqual(cell(got, 1, "one short").mark, "fails")

    def test_who_can_be_lowered(self):
        for ride, word in ((20, "lower"), (50, "lower, part")):
            data = plan_of(releasable(ride), **NOVICES)
            station = data["drops"][0]["station"]
            first = station["states"][0]
            last = {**first, "id": "l", "serves": "last", "system": doubled()}
            station["states"] = [{**first, "serves": "party"}, last]
            self.assertEqual(cell(look_ahead(read_plan(data)), 1, "hurt").word, word)

    def test_a_knot_in_the_reserve_stops_a_lower(self):
        """The tie-off is 40 m from end A, the knot 5 m behind it; or 10 m from whoever is lowered by end B: somebody
        hurt comes to hang there."""
        for system, word, at in ((releasable(20), "lower", 35), (LOWERED, "lowered", 50)):
            damage = [{"at_m": known(at, "tape"), "takes_m": known(0.5, "tape"), "use": "knot passed"}]
            for ropes, as_it_was in (([rope()], True), ([rope(damage=damage)], False)):
                got = cell(look_ahead(read_plan(plan_of(system, ropes=ropes, **NOVICES))), 1, "hurt")
                self.assertEqual(got.word == word, as_it_was, (system["kind"], got))
                said = " ".join(words(x) for x in got.story)
                self.assertEqual("with somebody hanging on it" in said, not as_it_was, said)

    def test_a_rope_that_is_named_like_an_end_is_asked_all_the_same(self):
        damage = [{"at_m": known(35, "tape"), "takes_m": known(0.5, "tape"), "use": "knot passed"}]
        system = {**releasable(20), "rope": "long-a", "stoppers": []}
        got = cell(look_ahead(read_plan(plan_of(system, ropes=[rope("long-a", damage=damage)], **NOVICES))), 1, "hurt")
        self.assertNotEqual(got.word, "lower")

    def test_heavier_asks_what_one_point_alone_then_catches(self):
        data = two_bolts("sliding", half=0.9, out=1.2, mass=60)
        whole = assess(read_plan(data)).drops[0].several
        peak = max(g.peak.value for g in whole.removals)
        for f in data["drops"][0]["station"]["features"]:
            f["holds"] = capacity(peak * 1.01, peak * 1.01, "tested")
        plan = read_plan(data)
        said = [f.code for f in assess(plan).drops[0].findings if f.severity == "Shortfall"]
        self.assertEqual(cell(look_ahead(plan), 1, "heavier").mark, "fails", said)

    def test_wet_asks_what_then_holds_less(self):
        """Webbing of nylon, just strong enough dry, keeps less wet (material table)."""
        plan = plan_of(doubled(), **NOVICES)
        plan["drops"][0]["station"]["features"][0]["holds"] = capacity(200, 200, "tested")

        def short(kn, wet):
            for w in plan["shed"]["webbing"]:
                w.update(strength_kn=capacity(kn, kn, "label"), fibre="nylon")
            plan["drops"][0]["station"]["wet"] = wet
            return {f.code for f in assess(read_plan(plan)).drops[0].findings if f.severity == "Shortfall"}

        kn = next(k / 10 for k in range(20, 300) if "webbing.weak" not in short(k / 10, "no"))
        self.assertIn("webbing.weak", short(kn, "yes") - short(kn, "no"))
        self.assertEqual(cell(look_ahead(read_plan(plan)), 1, "wet").mark, "fails")
        short(300, "no")
        self.assertEqual(cell(look_ahead(read_plan(plan)), 1, "wet").mark, "works")

    def test_who_may_not_be_alone_is_a_persons(self):
        """Two who are able by role, one of whom may not be alone: without the other each group has nobody."""
        party = [{**NOVICES["party"][i], "mass_kg": known(80 - i)} for i in (0, 1, 2)]
        for alone, mark in (("by role", "fails"), ("yes", "works"), ("no", "fails")):
            party[2] = {**party[2], "alone": alone}
            got = cell(look_ahead(read_plan(plan_of(doubled(), party=party))), 1, "one short")
            self.assertEqual(got.mark, mark, (alone, got))
        party[1] = {**party[1], "alone": "no"}
        self.assertEqual(cell(look_ahead(read_plan(plan_of(doubled(), party=party))), 1, "one short").mark, "fails")

    def test_a_station_of_two_anchors_is_tied_again_twice(self):
        data = courtesy(carry={"rings": known(5)})
        cuts = [c for d in assess(read_plan(data)).webbing if d.id == "web-25" for c in d.cuts]
        most = max(c.length.value for c in cuts)
        total = sum(c.length.value for c in cuts)
        self.assertGreater(total, most + 1)
        for left, mark in ((most + 0.1, "fails"), (total + 0.1, "other way")):
            spare = copy.deepcopy(data)
            for w in spare["shed"]["webbing"]:
                w["pieces"] = [{"id": "p", "length_m": known(total + left, "tape")}]
            self.assertEqual(cell(look_ahead(read_plan(spare)), 1, "anchor").mark, mark)

    def test_a_rope_that_still_hangs_as_traverse_line_is_in_use(self):
        """Two sets: the rope of the traverse line above is wanted here."""
        data = two_drops(doubled("r1"), doubled("r2"), ropes=[rope("r1"), rope("r2")], contingencies={"two_sets": True})
        self.assertNotIn("ledger.two-places", [f.code for f in assess(read_plan(data)).findings])
        data["drops"][0] = copy.deepcopy(data["drops"][0])
        data["drops"][0]["station"]["traverse"] = TRAVERSE
        self.assertIn("ledger.two-places", [f.code for f in assess(read_plan(data)).findings])

    def test_each_cell_is_said(self):
        for make in (canyon, buttress, gully):
            for row in demo(make).rows:
                self.assertEqual(tuple(c.event for c in row.cells), EVENTS)
                for c in row.cells:
                    self.assertTrue(c.story)
                    self.assertTrue(c.word or c.number)
                    for s in c.story:
                        for system in ("metric", "us"):
                            self.assertNotRegex(words(s, system), r"[{}]|None|nan|\bsafe\b")


class Choice(unittest.TestCase):
    def test_the_chosen_set_does_once_it_is_adopted(self):
        for make in (canyon, buttress, gully):
            plan = make()
            with self.subTest(plan.title):
                chosen = demo(make).choice.chosen
                done = adopted(context(plan), KEPT, frozenset(chosen.ropes))
                after = apply(plan, done.fix.edits)
                self.assertEqual(after.carry.ropes, chosen.ropes)
                got = look_ahead(after)
                self.assertEqual(got.choice.fails, ())
                self.assertFalse([f for f in got.findings if f.severity == "Shortfall"])
                ours = {f.code for f in assess(after).findings if f.severity == "Shortfall"}
                self.assertFalse({c for c in ours if c.startswith(("ledger.not", "ledger.two", "ledger.end"))})
                # Nothing that the stations take is left at home.
                for d in after.drops:
                    for s in d.station.states:
                        self.assertLessEqual(set(ropes_of(s.system)), set(chosen.ropes))

    def test_no_lighter_set_of_the_shed_does(self):
        """Every set, judged by what each event at each station leaves: none that is lighter strands nobody."""
        plan = buttress()
        a, chosen = assess(plan), demo(buttress).choice.chosen
        ids = [r.id for r in plan.shed.ropes]
        served = tuple(KEPT.of(context(plan), k) for k in range(len(plan.drops)))

        def does(ropes):
            carry = plan.carry.model_copy(update={"ropes": tuple(ropes)})
            field = Field(context(plan.model_copy(update={"carry": carry})), served, a.drops)
            return all(field.way(k, frozenset(ropes)) for k in range(len(served))) and all(
                field.left(k, frozenset(ropes) - {r}).stops is None for k in range(len(served)) for r in ropes
            )

        from reamer.core.descent.stations import rope_weight

        def kg(ropes):
            return sum(rope_weight(context(plan), r) or 99 for r in ropes)

        sets = [[r for i, r in enumerate(ids) if bits >> i & 1] for bits in range(1 << len(ids))]
        best = min((s for s in sets if does(s)), key=kg)
        self.assertAlmostEqual(kg(best), chosen.kg.value)

    def test_no_set_names_the_station_and_the_nearest_miss(self):
        plan = in_a_row(doubled("r1"), doubled("r1"), ropes=[rope(length=36.0)], heights=[8, 15])
        got = look_ahead(plan).choice
        self.assertIsNone(got.chosen)
        said = " ".join(words(s) for s in got.none)
        self.assertIn("Nothing in the shed is known to serve 2 (One)", said)
        self.assertIn("r1 is 3.0 m too short", said)

    def test_the_nearest_miss_is_named_however_far_it_is(self):
        for height in (40, 90, 200):
            plan = in_a_row(doubled("r1"), ropes=[rope("r1", 20.0)], heights=[height])
            told = " ".join(words(s) for s in look_ahead(plan).choice.none)
            self.assertRegex(told, r"the nearest is .* where r1 is [\d.]+ m too short")

    def test_the_metre_that_would_let_a_lighter_set_serve(self):
        ropes = [rope("r1", 36.0), rope("r2", 70.0, 10.5)]
        plan = in_a_row(doubled("r2"), ropes=ropes, heights=[15], contingencies={"lost": False, "stuck": False})
        got = look_ahead(plan).choice
        self.assertEqual(got.chosen.ropes, ("r2",))
        self.assertIn("3.0 m more on r1, at 1 (One), saves", words(got.why[0]))

    def test_a_lower_from_anywhere_and_a_spare(self):
        base = plan_of(doubled(), contingencies={"lower": True, "lost": False, "stuck": False}, **NOVICES)
        got = look_ahead(read_plan(base))
        self.assertIn("event.lower", [f.code for f in got.findings])
        done = adopted(context(read_plan(base)), KEPT, frozenset(got.choice.chosen.ropes))
        after = apply(read_plan(base), done.fix.edits)
        self.assertEqual(after.drops[0].station.states[0].system.kind, "releasable")
        self.assertNotIn("event.lower", [f.code for f in look_ahead(after).findings])
        spare = plan_of(doubled("r1"), ropes=[rope("r1"), rope("r2")], contingencies={"spare": True})
        got = look_ahead(read_plan(spare))
        self.assertEqual(got.choice.chosen.ropes, ("r1", "r2"))
        mended = apply(read_plan(spare), next(f for f in got.findings if f.code == "event.spare").fix.edits)
        self.assertNotIn("event.spare", [f.code for f in look_ahead(mended).findings])

    def test_two_sets_take_turns(self):
        plan = in_a_row(
            doubled("r1"),
            doubled("r1"),
            doubled("r1"),
            ropes=[rope("r1"), rope("r2")],
            contingencies={"two_sets": True, "lost": False, "stuck": False},
        )
        got = look_ahead(plan)
        self.assertEqual(got.choice.chosen.ropes, ("r1", "r2"))
        after = apply(plan, adopted(context(plan), KEPT, frozenset(("r1", "r2"))).fix.edits)
        used = [ropes_of(d.station.states[0].system) for d in after.drops]
        self.assertFalse(set(used[0]) & set(used[1]) or set(used[1]) & set(used[2]))
        self.assertNotIn("ledger.two-places", [f.code for f in assess(after).findings])

    def test_a_rope_of_unknown_weight_comes_last(self):
        blank = rope("r2", 60.0, diameter_mm=unknown("?"), mass_kg_m=unknown("?"))
        plan = in_a_row(doubled("r1"), ropes=[rope("r1"), blank], contingencies={"lost": False, "stuck": False})
        self.assertEqual(look_ahead(plan).choice.chosen.ropes, ("r1",))

    def test_it_can_be_cancelled(self):
        with self.assertRaises(Cancelled):
            look_ahead(canyon(), lambda: False)

    def test_nothing_to_ask(self):
        for data in ({"format": 1, "title": "Empty"}, plan_of({"kind": "none"}, ropes=[])):
            got = look_ahead(read_plan(data))
            self.assertEqual(got.returns, ())

    def test_joined_ropes_need_both(self):
        plan = in_a_row(JOINED, ropes=[rope("r1", 40.0), rope("r2", 40.0)], heights=[28], contingencies={"lost": False})
        self.assertEqual(look_ahead(plan).choice.chosen.ropes, ("r1", "r2"))


class Bought(unittest.TestCase):
    """Each answer is tried in a shed that holds nothing else; a step less anywhere no longer does."""

    def does(self, plan, made):
        here = bought(plan, made)
        served = tuple(Stations().of(context(here), k) for k in range(len(here.drops)))
        got = asked(context(here), served)
        every = (1 << len(here.shed.ropes)) - 1
        found = answers(got.question)
        return bool(found.fits[every]) and chain(got.question, found, every) is not None

    def check(self, plan):
        for made in to_buy(context(plan)):
            if made.total is None:
                self.assertTrue(words(made.why))
                continue
            with self.subTest(plan.title, count=made.count):
                self.assertTrue(self.does(plan, made))
                self.assertAlmostEqual(made.total.value, sum(c.length.value for c in made.ropes))
                for i, c in enumerate(made.ropes):
                    less = replace(c, length=replace(c.length, value=c.length.value - 5))
                    if less.length.value > 0:
                        fewer = replace(made, ropes=(*made.ropes[:i], less, *made.ropes[i + 1 :]))
                        self.assertFalse(self.does(plan, fewer), (i, made.ropes))

    def test_of_the_demonstrations(self):
        self.check(gully())

    def test_against_every_length_of_one_and_two_ropes(self):
        plan = in_a_row(doubled("r1"), doubled("r1"), ropes=[rope("r1")], heights=[8, 14])
        for flags in ({"lost": False, "stuck": False}, {"lost": True, "stuck": False}, {"two_sets": True}):
            with self.subTest(flags):
                want = plan.contingencies.model_copy(update={"lost": True, "stuck": True, **flags})
                here = plan.model_copy(update={"contingencies": want})
                one, two, _ = to_buy(context(here))
                for made, count in ((one, 1), (two, 2)):
                    tried = []
                    for some in combinations_with_replacement(range(10, 55, 5), count):
                        cuts = tuple(Cut("r1", "r1", Number(float(x), "length")) for x in some)
                        if self.does(here, ToBuy(count, cuts, None, None)):
                            tried.append((sum(some), max(some)))
                    best = min(tried, default=None)
                    ours = made.total and (made.total.value, max(c.length.value for c in made.ropes))
                    self.assertEqual(ours, best)

    def test_it_can_be_cancelled(self):
        with self.assertRaises(Cancelled):
            to_buy(context(canyon()), lambda: False)


if __name__ == "__main__":
    unittest.main()
