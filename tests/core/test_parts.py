"""A plan made of parts of another: nothing comes along that was not asked for, and nothing is milder for it."""

import unittest

from reamer.core.assess import assess
from reamer.core.plan.parts import parts_of
from reamer.core.reading import read_plan
from reamer.demos import DEMOS


class Parts(unittest.TestCase):
    def test_each_part_by_itself_and_all_together(self):
        for name, demo in DEMOS.items():
            plan = demo()
            for parts in (("drops",), ("kit",), ("party",), ("drops", "kit"), ("drops", "party"), ("kit", "party")):
                made = parts_of(plan, "New", parts)
                self.assertEqual(read_plan(made.model_dump(mode="json")), made, (name, parts))
                self.assertEqual(made.policies, plan.policies)
                self.assertEqual(len(made.drops), len(plan.drops) if "drops" in parts else 0)
                self.assertEqual(made.shed, plan.shed if "kit" in parts else type(plan.shed)())
                self.assertEqual(made.party, plan.party if "party" in parts else ())
                self.assertIsNone(made.on)
            whole = parts_of(plan, plan.title, ("drops", "kit", "party"))
            self.assertEqual((whole.drops, whole.shed, whole.party), (plan.drops, plan.shed, plan.party))

    def test_drops_without_kit_are_never_held_to_be_good(self):
        for demo in DEMOS.values():
            plan = demo()
            for parts in (("drops",), ("drops", "party")):
                got = assess(parts_of(plan, "New", parts), fixes=False)
                for d in got.drops:
                    self.assertGreater(d.tally["Shortfall"] + d.tally["Not checked"], 0, d.name)

    def test_who_hangs_stays_to_be_reckoned_with(self):
        plan = DEMOS["buttress"]()
        drop = plan.drops[0]
        hanging = drop.station.model_copy(update={"hanging": (plan.party[1].id,)})
        plan = plan.model_copy(update={"drops": (drop.model_copy(update={"station": hanging}), *plan.drops[1:])})
        got = assess(parts_of(plan, "New", ("drops", "kit")), fixes=False)
        self.assertIn("load.hanging", [f.code for f in got.drops[0].findings])


if __name__ == "__main__":
    unittest.main()
