"""The shed, the load path's links and the schools, as a guide uses them."""

import statistics
import unittest

from playwright.sync_api import expect

from reamer.core.answer.context import context
from reamer.core.assess import assess
from reamer.core.model import Plan
from reamer.core.schools import schools
from reamer.demos import canyon
from tests.browser.harness import Browsing


class Shed(Browsing):
    def plan(self):
        return self.server.plan(self.id)

    def pick(self, name):
        self.page.get_by_label("shed", exact=True).get_by_role("button", name=name).first.click()

    def test_a_sling_a_link_and_a_carabiner_take_their_place_between_anchor_and_rope(self):
        self.open("rig", "d1")
        self.page.keyboard.press("w")
        self.page.get_by_role("button", name="sling", exact=True).click()
        self.saved(2)
        self.page.locator('[data-link="l1"]').get_by_label("rigged").select_option("girth")
        self.saved(3)
        self.page.get_by_role("button", name="connector", exact=True).click()
        self.saved(4)
        self.page.locator('[data-link="l2"]').get_by_label("connector", exact=True).select_option("link-8")
        self.saved(5)
        self.page.locator('[data-code="connector.lie"]').get_by_text("How screw link 8 mm lies is unknown").wait_for()
        self.page.locator('[data-link="l2"]').get_by_label("loaded").select_option("cross")
        self.saved(6)
        self.page.keyboard.press("Escape")
        self.page.evaluate("document.activeElement.blur()")
        self.page.keyboard.press("r")
        link, sling = (self.page.locator(f'[data-part="link.l{i}"]').inner_text() for i in (2, 1))
        self.assertIn("cross-loaded", link)
        self.assertIn("10.0", link)
        self.assertIn("girth-hitched", sling)
        self.assertIn("8.8", sling)  # 22 kN, halved, wet nylon at 0.80
        rig = self.plan().drops[0].station.states[0].rig
        self.assertEqual([x.kind for x in rig.links], ["sling", "connector"])

    def test_pointing_at_a_part_lights_it_in_the_bench_and_the_cutaway(self):
        self.open("rig", "d1")
        figure = self.page.get_by_role("figure", name="the tie from above")
        figure.wait_for()
        self.assertEqual(figure.locator(".lit").count(), 0)
        self.page.locator('[data-part="webbing"]').hover()
        figure.locator(".lit").wait_for()
        self.assertEqual(self.page.get_by_test_id("cutaway").locator('svg > g .lit[aria-label="tie"]').count(), 1)

    def test_the_places_in_a_part_open_into_their_workings(self):
        self.open("rig", "d3")
        part = self.page.locator('[data-part="webbing"]')
        self.assertIn("bent over steel ring 10 mm", part.inner_text())
        self.assertIn("decides", part.inner_text())
        part.get_by_role("button", name="26.0 kN").click()
        self.assertIn("exp", self.page.get_by_test_id("working-formula").inner_text())

    def test_a_tether_and_a_device_are_chosen_and_a_fall_is_shown(self):
        self.open("shed")
        self.pick("Maren")
        self.page.get_by_label("clips in with").select_option("nylon")
        self.saved(2)
        self.page.get_by_label("rides on").select_option("")
        self.saved(3)
        self.page.locator('[data-code="device.none"]').get_by_text("device of Maren").wait_for()
        self.pick("120 cm nylon tether")
        table = self.page.get_by_role("table", name="falls onto the tether")
        self.assertEqual(table.locator("tbody tr").count(), 3)
        self.assertIn("17.2 kN", table.inner_text())
        self.page.get_by_label("fibre", exact=True).select_option("HMPE")
        self.saved(4)
        self.assertGreater(assess(self.plan()).tethers[0].falls[-1].force.value, 34)

    def test_own_pull_tests_are_read_judged_and_used(self):
        self.open("shed")
        self.page.get_by_role("button", name="add to Own pull tests").click()
        self.saved(2)
        samples = self.page.get_by_label("samples", exact=True)
        samples.fill("16.1 15.8 sixteen")
        samples.press("Enter")
        self.page.get_by_role("alert").filter(has_text="“sixteen” is not a number").wait_for()
        samples.fill("16.1 15.8 16.4 15.9")
        samples.press("Enter")
        self.page.get_by_text("4 samples are too few").wait_for()
        samples.fill("16.1  15.8  16.4  15.9  16.0")
        samples.press("Enter")
        self.page.get_by_label("use it in this plan", exact=False).select_option("webbing/web-25")
        self.page.get_by_label("what the check says").wait_for()
        self.page.wait_for_function("() => document.body.innerText.includes('revision 5')")
        strength = self.plan().shed.webbing[0].strength_kn
        values = (16.1, 15.8, 16.4, 15.9, 16.0)
        self.assertAlmostEqual(strength.low_kn, statistics.fmean(values) - 4.203 * statistics.stdev(values), 2)
        self.page.get_by_role("img", name="5 samples of").wait_for()
        samples.fill("16.1  15.8  16.4  15.9  16.0  4")
        samples.press("Enter")
        self.page.get_by_text("Sample 6 lies farther from the others").wait_for()
        self.accessible(self.page, "pull tests")
        self.assertIn("5 samples", strength.source)

    def test_webbing_lies_in_pieces_and_the_descent_is_cut_from_them(self):
        self.open("shed")
        self.pick("25 mm tubular nylon")
        cuts = self.page.get_by_role("table", name="webbing to cut")
        self.assertEqual(cuts.locator("tr").count(), 8)
        self.page.get_by_role("button", name="remove piece 1").click()
        self.saved(2)
        self.page.locator('[data-code="webbing.stock"]').get_by_text(
            "Too little 25 mm tubular nylon for the whole descent"
        ).wait_for()
        self.page.get_by_text("from no piece").first.wait_for()
        self.page.keyboard.press("Control+z")
        self.saved(3)
        self.page.locator('[data-code="webbing.stock"]').wait_for(state="detached")

    def test_following_a_school_does_what_it_said_and_is_undone_with_one_act(self):
        said = {s.key: {c.key: c for c in s.choices} for s in schools(context(canyon()), assess(canyon()))}["focal"][
            "knotted"
        ]
        self.open("shed")
        self.pick("Schools and margin")
        question = self.page.get_by_role("region", name="What holds the ring at the focal point?")
        self.assertIn(f"{said.tally['Shortfall']} shortfalls", question.inner_text())
        question.get_by_role("button", name="follow ring knotted").click()
        self.saved(2)
        plan = self.plan()
        self.assertEqual(plan.policies.focal, "knotted")
        self.assertEqual(assess(plan).tally, said.tally)
        self.page.keyboard.press("Control+z")
        self.saved(3)
        self.assertEqual(self.plan(), canyon())

    def test_the_common_shed_is_kept_differs_and_is_taken_over(self):
        self.open("shed")
        self.pick("The common shed")
        self.page.get_by_text("Nothing has been kept in it yet").wait_for()
        self.page.get_by_role("button", name="Keep all of this plan's in the shed").click()
        self.page.get_by_text("are alike").wait_for()
        other = self.server.add(Plan(format=1, title="New one"))
        self.open("shed", plan=other)
        self.pick("The common shed")
        self.page.get_by_role("button", name="Take all of the shed's into this plan").click()
        self.page.get_by_text("are alike").wait_for()
        self.assertEqual(self.server.plan(other).shed, canyon().shed)
        self.pick("Blue 60")
        length = self.page.get_by_label("measured length", exact=True)
        length.fill("58.1")
        length.press("Enter")
        self.saved(3)
        self.pick("The common shed")
        self.page.get_by_text("1 thing is not alike").wait_for()
        self.page.get_by_role("button", name="keep Blue 60 in the shed").click()
        self.page.get_by_text("are alike").wait_for()
        self.open("shed")
        self.pick("The common shed")
        row = self.page.get_by_role("table", name="differences from the common shed")
        expect(row).to_contain_text("58.1")
        self.page.get_by_role("button", name="take it back").click()
        self.page.get_by_text("are alike").wait_for()  # as it was kept first
        self.page.get_by_role("button", name="take it back").click()
        self.page.get_by_text("1 thing is not alike").wait_for()  # and the taking back taken back
        self.assertEqual(self.plan(), canyon())  # nothing of it touched the first plan

    def test_an_own_figure_for_the_shed(self):
        self.open("shed")
        self.pick("Own figures")
        self.page.get_by_label("figure to replace").fill("least peak load counted (4 kN)")
        self.page.get_by_label("own low").fill("5")
        self.page.get_by_label("own reason").fill("bouncy novices")
        self.page.get_by_label("own figure for").select_option(label="for the shed")
        self.page.get_by_role("button", name="Use it").click()
        self.saved(2)
        self.assertEqual(self.plan().shed.own_figures[0].low, 5)
        self.page.locator('[data-code="figure.own"]').wait_for()
        self.assertEqual(assess(self.plan()).drops[0].parts[0].demand.value, 5)

    def test_knots_are_looked_up(self):
        self.go("reference")
        self.page.get_by_label("search the tables").fill("stone hitch")
        self.page.get_by_text("very easily").wait_for()
        self.assertEqual(
            self.page.get_by_role("region", name="Knots: uses, untying, dressing").locator("tbody tr").count(), 1
        )


if __name__ == "__main__":
    unittest.main()
