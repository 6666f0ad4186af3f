"""The people of the party, how they hang and grip, and whether the descent has been gone through."""

import unittest

from reamer.core.model import Plan
from reamer.core.plan.systems import Lowered
from reamer.demos import canyon, gully
from tests.browser.harness import Browsing
from tests.builders import plan_of


class People(Browsing):
    def plan(self, plan_id: str = "") -> Plan:
        return self.server.plan(plan_id or self.id)

    def pick(self, name):
        self.page.get_by_label("shed", exact=True).get_by_role("button", name=name).first.click()

    def measure(self, label, value):
        field = self.page.get_by_label(label, exact=True)
        field.fill(value)
        field.press("Enter")

    def test_a_third_hand_is_made_of_a_loop_and_given_to_somebody(self):
        self.open("shed")
        before = len(self.plan().shed.loops)
        self.page.get_by_role("button", name="add to Loops for third hands").click()
        self.saved(2)
        self.page.get_by_label("fibre", exact=True).select_option("aramid")
        self.saved(3)
        self.measure("diameter of the cord", "7")
        self.saved(4)
        self.measure("laid length, half of it round", "0.35")
        self.saved(5)
        loop = self.plan().shed.loops[before]
        self.assertEqual((loop.fibre, loop.diameter_mm.value, loop.length_m.value), ("aramid", 7, 0.35))
        self.pick("Wren")
        self.page.get_by_label("third hand", exact=True).select_option(loop.id)
        self.saved(6)
        self.page.get_by_label("tied as").select_option("klemheist")
        self.saved(7)
        self.measure("wraps", "4")
        self.saved(8)
        self.measure("clipped, above the belay loop (below: negative)", "-0.05")
        self.saved(9)
        self.page.get_by_label("attached by").select_option("sewn chain")
        self.saved(10)
        self.measure("device, its lower edge above the belay loop", "0.35")
        self.saved(11)
        self.page.get_by_label("may be alone").select_option("yes")
        self.saved(12)
        wren = next(p for p in self.plan().party if p.name == "Wren")
        self.assertEqual((wren.hitch.loop, wren.hitch.knot, wren.hitch.wraps.value), (loop.id, "klemheist", 4))
        self.assertAlmostEqual(wren.hitch.clipped_m.value, -0.05)
        self.assertEqual((wren.attachment.way, wren.attachment.device_m.value, wren.alone), ("sewn chain", 0.35, "yes"))
        self.page.get_by_label("third hand", exact=True).select_option("")
        self.saved(13)
        self.page.get_by_label("tied as").wait_for(state="detached")
        self.assertIsNone(next(p for p in self.plan().party if p.name == "Wren").hitch)

    def test_a_loop_that_is_gone_leaves_the_grip_unchecked(self):
        plan = self.server.add(gully())
        self.open("shed", plan=plan)
        self.pick(self.plan(plan).shed.loops[0].name)
        self.page.get_by_role("button", name="Remove").click()
        self.saved(2)
        got = self.page.request.get(f"{self.server.address}/api/plans/{plan}/revisions/2/rehearsal").json()
        said = [str(f["title"]) for f in got["findings"] if f["code"] == "hitch.unknown"]
        self.assertEqual(len(said), 1)
        self.assertIn("Eskil", said[0])

    def test_a_figure_that_is_none_is_refused_and_nothing_is_lost(self):
        plan = self.server.add(gully())
        self.open("shed", plan=plan)
        self.pick("Runa")
        for label, value in (("wraps", "-1"), ("device, its lower edge above the belay loop", "long")):
            with self.subTest(label):
                self.measure(label, value)
                self.page.get_by_role("alert").first.wait_for()
                self.assertEqual(self.plan(plan), gully())

    def test_the_strip_says_not_rehearsed_until_it_was(self):
        # What was gone through once is known wherever it stands again: a plan of its own.
        self.id = self.server.add(canyon().model_copy(update={"title": "Nobody went through it"}))
        self.open("survey", "d1")
        said = self.page.get_by_test_id("standing-acts")
        self.assertEqual(said.inner_text(), "not gone through yet")
        got = self.page.request.get(f"{self.server.address}/api/plans/{self.id}/revisions/1/rehearsal").json()
        self.page.reload()
        said.filter(has_text=f"{got['tally']['Shortfall']} shortfalls").wait_for()
        self.measure("people who can stand at the landing", "4")
        self.saved(2)
        # What was said of another revision is not said of this one.
        said.filter(has_text="not gone through yet").wait_for()
        self.assertEqual(self.plan().drops[0].landing.room.value, 4)

    def test_whoever_climbed_it_is_lowered_from_its_top(self):
        lowered = {"kind": "lowered", "rope": "r1", "end": "b", "belayer": "below", "far_end_closed": True}
        plan = self.server.add(Plan.model_validate(plan_of(lowered)))
        self.open("rig", "d1", plan=plan)
        self.page.get_by_role("tab", name="Rope system").click()
        self.page.get_by_label("whoever is up there").select_option("bight through")
        self.saved(2)
        system = self.plan(plan).drops[0].station.states[0].system
        self.assertIsInstance(system, Lowered)
        self.assertTrue(system.from_top)
        got = self.page.request.get(f"{self.server.address}/api/plans/{plan}/revisions/2/rehearsal/d1").json()
        self.assertIn("bight", str([s["words"] for s in got["steps"]]))


if __name__ == "__main__":
    unittest.main()
