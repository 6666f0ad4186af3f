"""Every rope system the kit allows, side by side: each row is what adopting it gives."""

import unittest

from reamer.core.assess import assess
from reamer.core.comparison import compare_systems
from reamer.core.context import context
from reamer.core.reading import read_plan
from reamer.core.schools import apply
from reamer.demos import canyon
from tests.builders import doubled, plan_of, rope
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
                    self.assertEqual(next((r.low.value for r in d.reach if r.role == "reserve"), None), w.reserve and w.reserve.value)

    def test_all_that_the_kit_allows_and_nothing_it_forbids(self):
        _, rows = ways(plan_of(doubled(), ropes=KIT))
        each = ("doubled rope", "single strand, block on the same rope", "single strand with pull cord", "single strand with pull cord", "releasable single strand", "alternating bights",
                "lowered by a belayer", "lowered by a belayer, from below")
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
        self.assertTrue(all(w.ruled_out for w, s in zip(rows, short) if s))

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
