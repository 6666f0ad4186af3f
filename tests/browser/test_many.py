"""Acts for many: one thing said, accepted or taken over for several at once; each stands as its own record."""

import re
import unittest

from reamer.demos import buttress, canyon
from tests.browser.harness import Browsing


class Many(Browsing):
    def plan(self):
        return self.server.plan(self.id)

    def open_other(self, plan, step, drop=""):
        self.id = self.server.add(plan)
        self.open(step, drop, plan=self.id)

    def test_one_answer_is_said_at_the_stations_that_were_chosen(self):
        self.open("descent")
        self.page.get_by_role("tab", name="Several at once").click()
        self.page.get_by_label("what is said or taken over").select_option("rock under the rope")
        self.page.get_by_label("it is").select_option(label="smooth, water-worn")
        set_ = self.page.get_by_role("button", name=re.compile("^Set at"))
        self.assertTrue(set_.is_disabled())
        for name in ("Lintel", "Sill"):
            self.page.get_by_role("checkbox", name=re.compile(name)).check()
        self.accessible(self.page, "several at once")
        set_.click()
        self.saved(2)
        self.assertEqual({d.name for d in self.plan().drops if d.rock == "smooth"}, {"Lintel", "Sill"})
        # Those where it is open are chosen by one act; what is said elsewhere stays.
        self.page.get_by_label("it is").select_option(label="coarse: sandstone, granite")
        self.page.get_by_role("button", name="Those where it is open").click()
        set_.click()
        self.saved(3)
        self.assertEqual([d.rock for d in self.plan().drops].count("smooth"), 2)
        self.assertEqual([d.rock for d in self.plan().drops].count("coarse"), 7)

    def test_an_anchor_and_a_way_are_taken_over_and_what_was_seen_there_is_not(self):
        self.open_other(buttress(), "descent")
        brow, horn = self.plan().drops[:2]
        self.page.get_by_role("tab", name="Several at once").click()
        self.page.get_by_label("what is said or taken over").select_option("same anchor as at another station")
        self.page.get_by_label("it is").select_option(label="as at 1 · Brow")
        self.assertTrue(self.page.get_by_role("checkbox", name=re.compile("Brow")).is_disabled())
        for name in ("Saddle Horn", "Grey Slab"):
            self.page.get_by_role("checkbox", name=re.compile(name)).check()
        self.page.get_by_role("button", name="Set at 2 stations").click()
        self.saved(2)
        for now in self.plan().drops[1:3]:
            self.assertEqual([f.name for f in now.station.features], ["left bolt", "right bolt"])
            for made, there in zip(now.station.features, brow.station.features, strict=True):
                self.assertEqual((made.what, made.holds.low_kn), (there.what, there.holds.low_kn))
                self.assertIn("as at Brow", made.holds.source)
                self.assertEqual((made.in_place, made.typical), ("unknown", True))
            self.assertEqual(now.station.inspections, ())
            self.assertEqual({leg.out_m.kind for leg in now.station.states[0].rig.legs}, {"unknown"})
        # It is roped as it was.
        self.assertEqual(self.plan().drops[1].station.states[0].system, horn.station.states[0].system)
        self.page.keyboard.press("Control+z")
        self.saved(3)
        self.assertEqual(self.plan().drops[1], horn)

    def test_points_are_looked_at_together_and_each_keeps_its_own_record(self):
        self.open_other(buttress(), "rig", "d3")
        self.page.get_by_role("tab", name="Found in place").click()
        had = len(self.plan().drops[2].station.inspections)
        self.page.get_by_role("button", name="I looked at left bolt and right bolt together").click()
        self.saved(2)
        new = self.plan().drops[2].station.inspections[had:]
        self.assertEqual([r.item for r in new], ["left bolt", "right bolt"])
        self.page.get_by_label("its state").last.select_option("good")
        self.saved(3)
        self.page.get_by_label("what was seen").last.fill("bright, tight")
        self.page.get_by_label("what was seen").last.press("Enter")
        self.saved(4)
        self.page.get_by_role("button", name="I looked for all 3: no, no, yes").last.click()
        self.saved(5)
        for r in self.plan().drops[2].station.inspections[had:]:
            self.assertEqual((r.condition, r.decision, r.found), ("good", "use", "bright, tight"))
            self.assertEqual(sorted(r.answers.values()), ["no", "no", "yes"])
        # From here on each by itself.
        self.page.get_by_role("button", name="Each by itself").click()
        self.page.get_by_label("its state").last.select_option("worn")
        self.saved(6)
        self.assertEqual([r.condition for r in self.plan().drops[2].station.inspections[had:]], ["good", "worn"])

    def test_what_was_answered_of_one_by_itself_stays_where_all_are_answered(self):
        data = buttress().model_dump(mode="json")
        for d in data["drops"]:
            d["station"]["inspections"] = []
        self.open_other(type(buttress()).model_validate(data), "rig", "d3")
        self.page.get_by_role("tab", name="Found in place").click()
        self.page.get_by_role("button", name="I looked at left bolt and right bolt together").click()
        self.saved(2)
        together = self.page.get_by_role("button", name="Each by itself")
        # Rust is seen on one, by itself; then both are answered at once.
        together.click()
        rust = self.page.get_by_role("group", name="Is there rust, or a crack, or a nut that is loose?")
        rust.first.get_by_label("yes", exact=True).check()
        self.saved(3)
        for name in ("left bolt", "right bolt"):
            self.page.get_by_role("checkbox", name=f"{name} together with others").check()
        self.page.get_by_role("button", name="I looked for all 3: no, no, yes").click()
        self.saved(4)
        left, right = self.plan().drops[2].station.inspections
        self.assertEqual((left.answers["bolt-rust"], right.answers["bolt-rust"]), ("yes", "no"))
        self.assertEqual((left.answers["bolt-moves"], right.answers["bolt-moves"]), ("no", "no"))

    def test_a_reason_that_is_half_typed_for_one_state_is_not_the_others(self):
        data = canyon().model_dump(mode="json")
        for d in data["drops"]:
            for state in d["station"]["states"]:
                state["accepted"] = []
        self.open_other(type(canyon()).model_validate(data), "rig", "d2")
        row = self.page.locator('[data-part="anchor"]')
        row.get_by_role("button", name=re.compile("^accept")).click()
        row.get_by_role("textbox").fill("as large as a house")
        self.page.get_by_role("button", name="last person").click()
        row.get_by_role("button", name=re.compile("^accept")).wait_for()
        self.assertEqual(row.get_by_role("textbox").count(), 0)

    def test_another_bolt_takes_what_it_is_and_its_rating_and_never_what_was_seen(self):
        self.open_other(buttress(), "rig", "d1")
        records = self.plan().drops[0].station.inspections
        self.page.get_by_role("tab", name="Tied to").click()
        self.page.get_by_role("button", name=re.compile("^what right bolt holds")).click()
        self.page.get_by_role("button", name="As left bolt").click()
        self.saved(2)
        left, right = self.plan().drops[0].station.features
        self.assertEqual((right.what, right.holds.low_kn), (left.what, left.holds.low_kn))
        self.assertIn("as left bolt", right.holds.source)
        self.assertEqual(self.plan().drops[0].station.inspections, records)

    def test_single_points_are_accepted_for_one_reason_each_at_its_place(self):
        data = canyon().model_dump(mode="json")
        for d in data["drops"]:
            for state in d["station"]["states"]:
                state["accepted"] = []
        self.open_other(type(canyon()).model_validate(data), "rig", "d3")
        row = self.page.locator('[data-part="anchor"]')
        row.get_by_role("button", name=re.compile("^accept")).click()
        others = row.get_by_role("checkbox")
        self.assertGreater(others.count(), 2)
        others.first.check()
        row.get_by_role("textbox").fill("as large as a house")
        self.page.keyboard.press("Enter")
        self.saved(2)
        kept = [x.reason for d in self.plan().drops for s in d.station.states for x in s.accepted]
        self.assertEqual(kept.count("as large as a house"), 2)

    def test_things_of_a_usual_kit_are_said_to_be_ones_own_several_at_once(self):
        data = canyon().model_dump(mode="json")
        for x in (*data["shed"]["ropes"], *data["shed"]["slings"]):
            x["typical"] = True
        self.open_other(type(canyon()).model_validate(data), "shed")
        self.page.get_by_role("button", name=re.compile("^Blue 60")).first.click()
        self.page.get_by_text("others have typical figures too").click()
        for name in ("Green 35", "Red 70"):
            self.page.get_by_role("checkbox", name=name).check()
        self.page.get_by_role("button", name="These 3 are as mine").click()
        self.saved(2)
        still = {x.name for x in (*self.plan().shed.ropes, *self.plan().shed.slings) if x.typical}
        self.assertEqual(still & {"Blue 60", "Green 35", "Red 70"}, set())
        self.assertIn("Slate 50", still)

    def test_findings_are_accepted_for_one_reason_and_each_opens_again_by_itself(self):
        self.open("card", "d3")
        self.page.get_by_label("Who checks").fill("Tove")
        self.page.get_by_role("tab", name="All that is open").click()
        self.page.get_by_role("button", name=re.compile("that may be accepted")).click()
        bar = self.page.get_by_role("region", name="several at once")
        self.accessible(self.page, "several chosen")
        bar.get_by_role("button", name="Accept", exact=True).click()
        bar.get_by_label("Why may it be accepted?").fill("seen by both of us")
        bar.get_by_role("button", name=re.compile("as Tove$")).click()
        stands = self.page.get_by_role("region", name="how the check stands")
        stands.get_by_text(re.compile("0 not checked.*accepted by name")).first.wait_for()
        # A shortfall is never among them.
        self.assertIn("shortfalls", stands.get_by_test_id("standing-stations").inner_text())
        self.open("survey", "d4")
        height = self.page.get_by_label("height, edge to landing", exact=True)
        height.fill("6.4")
        height.press("Enter")
        self.saved(2)
        self.open("card", "d4")
        again = stands.get_by_role("region", name="Open again, because something changed")
        again.wait_for()
        self.assertGreater(stands.get_by_text("accepted by name").count(), 0)


if __name__ == "__main__":
    unittest.main()
