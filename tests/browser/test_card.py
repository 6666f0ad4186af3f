"""The Card step in a real browser: the second check."""

import json
import subprocess
import sys

from pypdf import PdfReader

from tests.browser.harness import Browsing


class SecondCheck(Browsing):
    def begin(self, drop="d3", page=None, by="Tove"):
        page = page or self.page
        self.open("card", drop, page)
        page.get_by_label("Who checks").fill(by)
        page.locator("[data-item]").first.wait_for()

    def row(self, words):
        return self.page.locator("[data-item]").filter(has_text=words).first

    def say(self, words, button, remark):
        self.row(words).get_by_role("button", name=button, exact=False).first.click()
        self.page.locator("textarea").fill(remark)
        self.page.locator("textarea").press("Control+Enter")
        self.page.locator("textarea").wait_for(state="detached")
        self.row(remark).wait_for()

    def test_said_by_key_and_pointer_and_counted_everywhere(self):
        page = self.page
        self.begin()
        before = page.get_by_test_id("count").inner_text()
        page.locator("main").click(position={"x": 300, "y": 50})
        page.keyboard.press("ArrowDown")
        page.keyboard.press("g")
        self.row("Agreed by Tove").wait_for()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("e")
        page.get_by_label("It stays a shortfall").fill("We carry the 50 too.")
        page.get_by_role("button", name="Overrule as Tove").click()
        self.row("Overruled by Tove").wait_for()
        self.say("What the block holds", "Accept", "Pulled it myself: <b>12</b> kN")
        self.say("The order of acts", "Object", "Pim is asked too much")
        self.assertEqual(page.locator("[data-item] b").count(), 0)
        count = page.get_by_test_id("count").inner_text()
        self.assertNotEqual(count, before)
        for told in ("1 accepted by name", "1 of the shortfalls overruled", "1 objection"):
            self.assertIn(told, count)
        self.assertEqual(count.split(" · ")[0], before.split(" · ")[0])
        # The same is said in the rig, in the strip, in the list, and on the command line.
        self.open("rig", "d3")
        self.assertIn("1 accepted by name · 1 of the shortfalls overruled · 1 objection", self.tally())
        apart = page.get_by_role("region", name="accepted by name")
        self.assertIn("Accepted by Tove", apart.inner_text())
        self.assertIn("1 objected", page.locator('[data-stop="d3"]').inner_text())
        file = page.request.get(f"{self.server.address}/api/plans/{self.id}/file").json()
        got = subprocess.run(
            [sys.executable, "-m", "reamer", "check", "-"], input=json.dumps(file), capture_output=True, text=True
        )
        self.assertEqual(got.returncode, 1)
        long_quiet = next(x for x in got.stdout.splitlines() if x.startswith("3  Long Quiet"))
        self.assertTrue(long_quiet.endswith(self.tally().replace("\n", "")), (long_quiet, self.tally()))
        self.assertIn("Objected to by Tove", got.stdout)
        page.goto(self.server.address)
        page.get_by_text("1 objection").first.wait_for()

    def test_a_change_opens_again_what_it_touches_and_undo_closes_it(self):
        page = self.page
        self.begin()
        self.say("Green 35 was never measured", "Accept", "Laid out on the road in May")
        page.locator('[data-item="station:d3"]').get_by_role("button", name="Agree").click()
        page.locator('[data-item="station:d3"]').get_by_text("Agreed by Tove").wait_for()
        page.locator('[data-stop="d4"]').click()
        page.locator('[data-item="station:d4"]').get_by_role("button", name="Agree").click()
        page.locator('[data-item="station:d4"]').get_by_text("Agreed by Tove").wait_for()
        plan = self.server.plan(self.id).model_dump(mode="json")
        plan["drops"][2]["rock"] = "smooth" if plan["drops"][2]["rock"] != "smooth" else "coarse"
        got = page.request.put(f"{self.server.address}/api/plans/{self.id}", data={"revision": 1, "plan": plan})
        self.assertEqual(got.status, 200, got.text())
        self.begin("d3")
        again = page.get_by_role("region", name="Open again, because something changed")
        self.assertIn("Changed since: the rock. It no longer holds.", again.inner_text())
        self.assertEqual(page.locator('[data-item="station:d3"]').get_attribute("data-state"), "open")
        page.locator('[data-stop="d4"]').click()
        page.locator('[data-item="station:d4"][data-state="agreed"]').wait_for()
        page.keyboard.press("Control+z")
        self.saved(3)
        page.locator('[data-stop="d3"]').click()
        page.locator('[data-item="station:d3"][data-state="agreed"]').wait_for()
        page.locator('[data-item="station:d3"]').get_by_role("button", name="Take back").click()
        page.locator('[data-item="station:d3"][data-state="open"]').wait_for()

    def test_nobody_says_nothing_and_refusals_are_told(self):
        page = self.page
        self.begin(by=" ")
        self.assertTrue(page.get_by_role("button", name="Agree").first.is_disabled())
        page.get_by_label("Who checks").fill("Tove")
        # Somebody saves in between.
        plan = self.server.plan(self.id).model_dump(mode="json")
        plan["title"] = "Another"
        page.request.put(f"{self.server.address}/api/plans/{self.id}", data={"revision": 1, "plan": plan})
        page.locator('[data-item="station:d3"]').get_by_role("button", name="Agree").click()
        page.get_by_role("alert").filter(has_text="Not kept").wait_for()

    def test_the_card_on_paper(self):
        page = self.page
        self.begin()
        page.get_by_role("tab", name="On paper").click()
        figure = page.get_by_role("img", name="Long Quiet, cut through")
        figure.wait_for()
        self.assertGreater(figure.evaluate("e => e.naturalWidth"), 100)
        page.get_by_label("A4").check()
        page.get_by_label("3 Long Quiet").check()
        with page.expect_download() as got:
            page.get_by_role("link", name="Write the PDF").click()
        self.assertEqual(got.value.suggested_filename, "fernlid-slot.card.pdf")
        made = PdfReader(got.value.path())
        self.assertEqual(round(made.pages[0].mediabox.width), 595)
        self.assertIn("Long Quiet", made.pages[0].extract_text())

    def test_axe_finds_nothing(self):
        for theme in ("day", "headlamp"):
            page = self.page_of(theme=theme)
            self.begin(page=page)
            for view in ("This station", "The plan as a whole", "All that is open", "On paper"):
                page.get_by_role("tab", name=view).click()
                page.wait_for_timeout(300)
                self.accessible(page, (theme, view))
