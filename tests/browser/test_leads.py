"""From what is open to the field that settles it, from a number to what was typed, and what an act did read out."""

import re
import unittest
from contextlib import closing

from reamer.core.assess import assess
from reamer.core.reading import read_plan
from reamer.core.second.ruled import said_of
from reamer.demos import canyon
from reamer.store.database import connect
from reamer.store.said import Sayings
from tests.browser.harness import Browsing
from tests.builders import doubled, plan_of, quick, rope
from tests.core.test_codes import THROUGH, WAYS

# One for each kind of screen and tab: the finding's code, and the place that takes the focus.
LEADS = {
    "section.unknown": r"drops/0/section/",
    "edge.unknown": r"drops/0/section/edge",
    "anchor.none": r"drops/0/station/states/0/rig/kind",
    "anchor.unknown": r"drops/0/station/features/0/holds",
    "legs.removal": r"drops/0/station/features/[01]/holds",
    "inspection.none": r"drops/0/station/inspections",
    "webbing.unknown": r"shed/webbing/0/strength_kn",
    "block.unchecked": r"drops/0/station/states/0/system/block_holds",
    "system.none": r"drops/0/station/states/0/system/kind",
    "deviation.weak": r"drops/0/station/deviations/0/holds",
    "device.none": r"party/0/device",
    "person.unknown": r"party/0/mass_kg",
    "reach.stance": r"drops/0/landing/next_m",
    "rope.length": r"shed/ropes/0/nominal_m",
    "time.onward": r"drops/0/onward",
    "time.unknown": r"start",
    "ledger.knot": r"drops/0/station/states/0/threaded",
    "load.hanging": r"drops/0/station/hanging",
    "link.unknown": r"shed/slings/0/rating_kn",
    "rope.outside": r"shed/ropes/0/damage/0/",
    "traverse.unknown": r"drops/0/station/traverse/",
    "webbing.wet": r"drops/1/station/wet",
    "webbing.surface": r"drops/0/(station/features/0/sharpness|section/.*edge)",
    "party.none": r"party",
    "plan.empty": r"drops",
}
SAID_ON = {"shed": ("device.", "person.", "time.", "party.", "webbing.wet"), "descent": ("ledger.",)}
FOCUS = "document.activeElement?.closest('[data-path]')?.dataset.path ?? ''"


def eventually(page, script, pattern):
    """Wait until what a script says reads so."""
    for _ in range(400):
        said = page.evaluate(script)
        if re.match(pattern, said):
            return
        page.wait_for_timeout(50)
    raise AssertionError(f"{said!r} never became {pattern!r}")


class Leads(Browsing):
    def test_each_open_finding_goes_to_the_field_that_settles_it(self):
        for code, place in LEADS.items():
            with self.subTest(code):
                plan = read_plan(WAYS[code][1])
                known = self.server.add(plan)
                drop = plan.drops[0].id if plan.drops else ""
                step = next((step for step, of in SAID_ON.items() if code.startswith(of)), "rig")
                self.go(f"plans/{known}/{step}/{drop}")
                go = self.page.locator(f'li[data-code="{code}"] .go').first
                go.wait_for()
                self.settled()
                go.click()
                eventually(self.page, FOCUS, place)

    def test_what_going_through_leaves_open_leads_on_from_the_second_check(self):
        for code, place in (
            ("hitch.unknown", r"party/0/hitch/"),
            ("rehearse.full", r"drops/0/landing/room"),
            ("rehearse.draft", r"drops/0/station/through"),
        ):
            with self.subTest(code):
                plan = read_plan(THROUGH[code][1])
                self.go(f"plans/{self.server.add(plan)}/card/{plan.drops[0].id}")
                self.page.get_by_role("tab", name="All that is open").click()
                self.page.get_by_test_id("items").locator(".go").first.click()
                eventually(self.page, FOCUS, place)

    def test_the_first_steps_lead_to_what_is_open_from_any_tab(self):
        data = plan_of({"kind": "none"}, section=quick(2, 0.2, 25, "tape", "rounded"))
        self.go(f"plans/{self.server.add(read_plan(data))}/rig/d1")
        for tab in ("Found in place", "Pull"):
            self.page.get_by_role("tab", name=tab).click()
            self.page.get_by_label("first steps").get_by_role("link", name="rope").click()
            eventually(self.page, FOCUS, r"drops/0/station/states/0/system/kind")

    def test_what_is_new_by_rule_is_told_until_it_is_read(self):
        plan = canyon()
        known, said = self.server.add(plan), said_of(assess(plan))
        with closing(connect(self.server.database)) as conn:
            # As kept by an older program, which did not know one of them.
            new = next(k for k in said if k.startswith("d9"))
            Sayings(conn).keep(known, 1, "older", tuple(k for k in said if k != new))
        self.go(f"plans/{known}/rig/d1")
        news = self.page.get_by_label("new by rule")
        self.assertIn("New by rule: 1", news.inner_text())
        news.get_by_role("link").click()
        self.page.wait_for_url("**/rig/d9")
        news.get_by_role("button", name="I have read it").click()
        news.wait_for(state="detached")
        self.page.reload()
        self.page.get_by_test_id("answer").first.wait_for()
        self.assertEqual(news.count(), 0)

    def test_a_working_ends_at_what_was_typed_and_goes_there(self):
        self.go(f"plans/{self.server.add(canyon())}/rig/d3")
        number = self.page.get_by_label("reach", exact=True).get_by_role("button").nth(1)
        number.click()
        working = self.page.get_by_label("Working", exact=True)
        self.assertTrue(working.evaluate("e => e.contains(document.activeElement)"))
        while not working.locator(".entered").count():
            working.locator("dd button.num").first.click()
        self.page.keyboard.press("Escape")
        eventually(self.page, "document.activeElement?.title ?? ''", "Show the working")
        number.click()
        while not working.locator(".entered").count():
            working.locator("dd button.num").first.click()
        first = working.locator(".entered").first
        name, _, said = first.inner_text().partition(": ")
        first.click()
        eventually(self.page, FOCUS, ".")
        field = self.page.locator(":focus")
        self.assertTrue((field.get_attribute("aria-label") or "").startswith(name.split(",")[0]))
        self.assertTrue(said.startswith(field.input_value().split(" ")[0]), said)

    def test_what_an_act_settled_is_said_and_takes_the_focus(self):
        self.go(f"plans/{self.server.add(canyon())}/rig/d3")
        self.page.get_by_role("button", name="Use Slate 50 instead").click()
        said = self.page.get_by_test_id("changed")
        self.page.get_by_role("list", name="what is said otherwise").get_by_text("Green 35 does not reach").wait_for()
        said.filter(has_text="fewer").wait_for()
        eventually(self.page, "document.activeElement?.dataset.testid ?? ''", "changed")
        self.assertEqual(said.get_attribute("role"), "status")

    def test_a_shortfall_with_another_figure_is_never_said_to_be_gone(self):
        self.go(f"plans/{self.server.add(canyon())}/survey/d3")
        self.page.get_by_label("shot 3, slope distance", exact=True).fill("24")
        self.page.get_by_label("shot 3, slope distance", exact=True).press("Enter")
        rows = self.page.get_by_role("list", name="what is said otherwise").get_by_role("listitem")
        rows.filter(has_text="Green 35 does not reach").wait_for()
        (row,) = rows.filter(has_text="Green 35 does not reach").all_inner_texts()
        self.assertIn("Still open", row)
        self.assertRegex(row, r"was:[\s\S]*m short")

    def test_where_another_way_has_no_shortfall_the_reach_offers_it(self):
        joined = plan_of(
            doubled("r1"), section=quick(2, 0.2, 25, "tape", "rounded"), ropes=[rope("r1", 45), rope("r2", 45)]
        )
        plan = read_plan(joined)
        self.go(f"plans/{self.server.add(plan)}/rig/{plan.drops[0].id}")
        short = self.page.locator('li[data-code="reach.short"]')
        short.get_by_role("button", name="Rig this instead").click()
        self.page.get_by_test_id("changed").filter(has_text="Gone").wait_for()
        self.assertEqual(short.count(), 0)


if __name__ == "__main__":
    unittest.main()
