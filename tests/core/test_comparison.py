"""Every rope system the kit allows, side by side: each row is what adopting it gives."""

import unittest

from reamer.core.answer.context import context
from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.plan.edits import apply
from reamer.core.reading import read_plan
from reamer.core.schools import schools
from reamer.core.station.comparison import compare_systems
from reamer.demos import canyon
from tests.builders import doubled, known, plan_of, quick, rope
from tests.core.test_assess import JOINED, KIT, SAME, SINGLE


def ways(data):
    p = read_plan(data)
    return p, compare_systems(context(p), 0, p.drops[0]).ways


class Comparison(unittest.TestCase):
    def test_each_row_is_what_adopting_it_gives(self):
        for system in (doubled(), JOINED, SAME, SINGLE):
            p, rows = ways(plan_of(system, ropes=KIT))
            self.assertEqual([w.in_use for w in rows].count(True), 1)
            for w in rows:
                with self.subTest(w.key):
                    d = assess(apply(p, w.edits)).drops[0]
                    self.assertEqual((d.tally["Shortfall"], d.tally["Not checked"]), (w.shortfalls, w.not_checked))
                    pulled = (d.last or d).pull  # what is converted is pulled as the last person leaves it
                    self.assertEqual(pulled.worst and pulled.worst.value, w.pull and w.pull.value)
                    self.assertEqual(min(r.spare.value for r in d.reach if r.role != "reserve"), w.spare.value)
                    self.assertEqual(
                        next((r.low.value for r in d.reach if r.role == "reserve"), None), w.reserve and w.reserve.value
                    )

    def test_all_that_the_kit_allows_and_nothing_it_forbids(self):
        _, rows = ways(plan_of(doubled(), ropes=KIT))
        each = (
            "doubled rope",
            "single strand, block on the same rope",
            "single strand with pull cord",
            "single strand with pull cord",
            "releasable single strand",
            "alternating bights",
            "lowered by a belayer",
            "lowered by a belayer, from below",
        )
        self.assertEqual(sorted(w.kind for w in rows), sorted([*each, *each, "two ropes joined", "alternating bights"]))
        # No cord is ridden, and the thicker rope goes through the ring.
        p, rows = ways(plan_of(doubled(), ropes=KIT))
        for w in rows:
            codes = {f.code for f in assess(apply(p, w.edits)).drops[0].findings}
            self.assertFalse(codes & {"system.cord-ridden", "system.thin-through", "system.twice"})

    def test_the_best_comes_first_and_the_ruled_out_stays_with_its_reason(self):
        _, rows = ways(plan_of(doubled(), ropes=[rope(length=20), rope("r2", length=60)]))
        short = [w.spare is not None and w.spare.value < 0 for w in rows]
        self.assertEqual(short, sorted(short))  # nothing that does not reach stands above what does
        self.assertTrue(any(short))
        self.assertTrue(all(w.ruled_out for w, s in zip(rows, short, strict=False) if s))

    def test_ways_that_are_usual_are_among_them(self):
        """A second full rope as pull line, bights of two ropes, a reserve joined on, the belayer below: common
        practice, no source."""
        p = canyon()
        rows = {w.key for w in compare_systems(context(p), 8, p.drops[8]).ways}
        for key in (
            "single strand with pull cord|Blue 60|Slate 50",
            "alternating bights|Slate 50|Blue 60",
            "lowered by a belayer, from below|Blue 60",
        ):
            self.assertIn(key, rows)
        self.assertTrue(any(k.startswith("releasable single strand, a second joined on|Slate 50") for k in rows))
        # The last person may come down on two ropes joined where neither reaches doubled.
        one = plan_of(
            {
                "kind": "releasable",
                "rope": "r1",
                "ridden_end": "b",
                "ride_m": known(41),
                "tie_off": "munter-mule-overhand",
                "stoppers": [{"rope": "r1", "end": "b"}],
            },
            section=quick(2, 0.2, 36, "tape", "rounded"),
            ropes=[rope(length=60), rope("r2", length=60)],
        )
        found = next(f for f in assess(read_plan(one)).drops[0].findings if f.code == "release.convert")
        self.assertEqual(assess(apply(read_plan(one), found.fix.edits)).drops[0].last.system, "two ropes joined")

    def test_the_guides_own_order_decides_between_what_is_as_good(self):
        for policies, first in (
            ({"strands": "doubled", "releasable": "not wanted"}, "doubled rope"),
            ({"strands": "single", "releasable": "always"}, "releasable single strand"),
        ):
            data = plan_of(doubled(), ropes=[rope()], policies=policies)
            data["party"].append({**data["party"][0], "id": "p2", "name": "Q"})
            good = [w for w in ways(data)[1] if w.ruled_out is None]
            self.assertIn(first, [w.kind for w in good[:2]], policies)

    def test_a_way_whose_only_fault_one_act_settles_stands_with_that_act(self):
        data = plan_of(
            {
                **SAME,
                "carabiner": False,
                "block_holds": {"kind": "range", "low_kn": 9, "high_kn": 10, "source": "own pull tests"},
            },
            ropes=[rope()],
        )
        p, rows = ways(data)
        own = next(w for w in rows if w.in_use)
        self.assertEqual((words(own.fix), own.ruled_out), ("Clip a carabiner in it", None))
        self.assertEqual(assess(apply(p, own.edits)).drops[0].tally["Shortfall"], own.shortfalls)

    def test_a_large_kit_is_bounded_and_says_so(self):
        data = plan_of(doubled(), ropes=[rope(f"r{n}", length=10 + n, name=f"Rope {n}") for n in range(60)])
        p = read_plan(data)
        made = compare_systems(context(p), 0, p.drops[0])
        self.assertLess(len(made.ways), 150)
        self.assertTrue(any("of the kit" in x.name for x in made.excluded))
        self.assertTrue(any(w.ruled_out is None for w in made.ways))

    def test_a_trial_beyond_what_can_be_entered_is_left_out_with_its_reason(self):
        data = plan_of(
            {"kind": "none"},
            section={
                "kind": "shots",
                "shots": [
                    {"id": f"s{n}", "slope_m": known(200, "tape"), "incl_deg": known(-89), "edge": "rounded"}
                    for n in range(3)
                ],
            },
            ropes=[rope(length=600)],
        )
        p = read_plan(data)
        made = compare_systems(context(p), 0, p.drops[0])
        self.assertTrue(made.ways)
        self.assertTrue(schools(context(p), assess(p)))
        for w in made.ways:
            apply(p, w.edits)

    def test_own_figures_hold_in_it(self):
        """Ring friction 0.05: two unblocked strands run from e^(0.05π) = 1.17 on; capstan rule."""
        data = plan_of(doubled())
        data["own_figures"] = [
            {"id": "o", "table": "friction", "key": "ring", "low": 0.05, "high": 0.05, "reason": "polished"}
        ]
        p = read_plan(data)
        limit = compare_systems(context(p), 0, p.drops[0]).excluded[0].why.numbers["limit"].value
        self.assertAlmostEqual(limit, 1.17, 2)

    def test_whatever_is_asked_from_outside_holds_to_own_figures(self):
        from reamer.core.answer.context import FIGURED
        from reamer.desk import worked
        from reamer.web import answers_api

        asked = ("assess_drop", "compare_patterns", "courtesy_ways", "pull_curve", "schools", "workings_of")
        for where, names in ((answers_api, asked), (worked, ("assess_by_parts", "prospect", "gone_through"))):
            for name in names:
                self.assertIn(getattr(where, name), FIGURED, name)
        self.assertIn(compare_systems, FIGURED)

    def test_where_there_is_a_tree_the_rope_may_go_straight_round_it(self):
        p = canyon()
        rows = {w.key: w for w in compare_systems(context(p), 0, p.drops[0]).ways}
        ring, tree = rows["doubled rope|Blue 60"], rows["doubled rope straight round alder|Blue 60"]
        self.assertEqual((ring.left, tree.left), ("webbing, steel ring 10 mm", "nothing"))
        self.assertGreater(tree.pull.value, ring.pull.value)
        after = apply(p, tree.edits)
        self.assertIsNone(after.drops[0].station.states[0].rig.ring)
        self.assertEqual(assess(after).drops[0].pull.worst.value, tree.pull.value)
        self.assertFalse([w for w in compare_systems(context(after), 0, after.drops[0]).ways if "straight" in w.kind])
        self.assertFalse([w for w in compare_systems(context(p), 2, p.drops[2]).ways if "straight" in w.kind])

    def test_a_blocked_ropes_ride_strand_gets_what_it_needs(self):
        p, rows = ways(plan_of(doubled(), ropes=[rope(length=80)]))
        same = next(w for w in rows if w.kind == "single strand, block on the same rope")
        d = assess(apply(p, same.edits)).drops[0]
        ride = next(r for r in d.reach if r.role == "ride")
        self.assertTrue(0 <= ride.spare.value < 2)

    def test_in_the_canyon_something_reaches_where_the_planned_rope_does_not(self):
        p = canyon()
        rows = compare_systems(context(p), 2, p.drops[2]).ways
        self.assertTrue(next(w for w in rows if w.in_use).ruled_out)
        self.assertIsNone(rows[0].ruled_out)

    def test_whatever_is_unknown_the_comparison_stands(self):
        from tests.core.test_codes import WAYS

        for code, (_, data) in WAYS.items():
            with self.subTest(code):
                p = read_plan(data)
                for i, drop in enumerate(p.drops):
                    for which in range(len(drop.station.states)):
                        rows = compare_systems(context(p), i, drop, which).ways
                        self.assertLessEqual([w.in_use for w in rows].count(True), 1)

    def test_an_empty_shed_has_nothing_to_compare(self):
        data = plan_of({"kind": "none"}, ropes=[])
        self.assertEqual(ways(data)[1], ())


if __name__ == "__main__":
    unittest.main()
