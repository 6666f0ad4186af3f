"""Nothing typed is lost, a file that is here already is told, the guide opens inside, colours have names."""

import json
import tempfile
from pathlib import Path

from playwright.sync_api import expect

from reamer.demos import canyon
from tests.browser.harness import GO, Browsing, Server

HOLDS = "what the post itself holds: your own judgement, low and high, and why"


class Kept(Browsing):
    def test_what_is_half_typed_stays_over_tabs_a_reload_and_back(self):
        page = self.page
        self.open("rig", "d1")
        page.get_by_role("tab", name="Tied to").click()
        low, says = page.get_by_label(f"{HOLDS}, low"), page.get_by_label(f"{HOLDS}, who says so")
        says.fill("")
        low.fill("9")
        low.press("Tab")
        expect(page.get_by_text("say who judged it, or why")).to_be_visible()
        girth = page.get_by_label("girth", exact=True)
        girth.fill("1.2.3")
        girth.press("Enter")
        page.get_by_role("tab", name="Rope system").click()
        page.get_by_role("tab", name="Tied to").click()
        for again in (lambda: None, page.reload, lambda: (self.go("", page), page.go_back())):
            again()
            page.get_by_role("tab", name="Tied to").click()
            expect(low).to_have_value("9")
            expect(girth).to_have_value("1.2.3")
        # In the middle of a word, without leaving the field.
        page.get_by_label("called").fill("half a na")
        page.reload()
        page.get_by_role("tab", name="Tied to").click()
        # A figure that is only typed says so.
        expect(page.get_by_text("typed and not saved yet: Enter saves it", exact=True)).to_be_visible()
        expect(page.get_by_label("called")).to_have_value("half a na")
        self.assertEqual(self.server.plan(self.id), canyon())
        # Once it is whole it is saved, and nothing of it is left over.
        girth.fill("1.3")
        girth.press("Enter")
        says.fill("tried with a bar")
        says.press("Enter")
        page.get_by_label("called").press("Escape")
        page.get_by_text("· revision 3", exact=False).wait_for()
        self.assertEqual(page.evaluate("localStorage.getItem('typed')"), "{}")
        holds = self.server.plan(self.id).drops[0].station.features[0].holds
        self.assertEqual((holds.low_kn, holds.source), (9, "tried with a bar"))

    def test_what_is_typed_while_the_server_is_gone_is_saved_once_it_is_back(self):
        own = Server()
        self.addCleanup(own.close)
        plan = own.add(canyon())
        page = self.page
        page.goto(f"{own.address}/plans/{plan}/survey/d1")
        height = page.get_by_label("height, edge to landing", exact=True)
        height.press_sequentially("1")
        own.stop()
        height.fill("17.5")
        height.press("Enter")
        page.get_by_role("status").get_by_text("not saved").wait_for()
        # Coming back to the window asks for the plan anew: what is on the screen stays.
        with page.expect_event("requestfailed", lambda r: r.method == "GET" and f"/api/plans/{plan}?" in r.url):
            page.evaluate("window.dispatchEvent(new Event('visibilitychange'))")
        expect(height).to_have_value("17.5")
        page.get_by_label("name of the drop").fill("Typed in the dark")
        page.get_by_label("name of the drop").press("Enter")
        own.start()
        page.get_by_role("status").get_by_text("saved", exact=False).filter(has_not_text="not").wait_for()
        drop = own.plan(plan).drops[0]
        self.assertEqual((drop.section.height_m.value, drop.name), (17.5, "Typed in the dark"))

    def test_what_could_not_be_asked_anew_is_said_to_be_behind(self):
        own = Server()
        self.addCleanup(own.close)
        page, plan = self.page, own.add(canyon())
        page.goto(f"{own.address}/plans/{plan}/survey/d1")
        page.get_by_role("status").get_by_text("saved", exact=False).wait_for()
        own.stop()
        page.evaluate("window.dispatchEvent(new Event('visibilitychange'))")
        old = page.get_by_role("button", name="what is shown may be old")
        old.wait_for()
        self.accessible(page, "behind")
        own.start()
        old.click()
        old.wait_for(state="detached")
        own.stop()
        # A screen that was not fetched yet: it is said, the page stays, and it is there once it can be asked for.
        page.evaluate(GO, "/reference")
        page.get_by_role("heading", name="This part could not be fetched").wait_for()
        again = page.get_by_role("button", name="Ask for it again")
        with page.expect_event("requestfailed", lambda r: r.method == "HEAD"):
            again.click()
        self.accessible(page, "not fetched", "color-contrast")
        own.start()
        again.click()
        page.get_by_role("heading", name="This part could not be fetched").wait_for(state="detached")
        page.get_by_role("heading", name="figures and their sources").wait_for()

    def test_a_file_that_is_here_already_and_one_that_is_no_plan(self):
        page = self.page
        with tempfile.TemporaryDirectory() as folder:
            own = json.loads(canyon().model_dump_json())
            own["title"] = "A descent of its own"
            good, bad = Path(folder) / "own.json", Path(folder) / "track.gpx"
            good.write_text(json.dumps(own))
            bad.write_text("<gpx/>")
            self.go("", page)
            choose = page.get_by_label("plan file")
            choose.set_input_files(bad)
            expect(page.get_by_role("alert")).to_contain_text("A plan file is what “Save as file” writes")
            choose.set_input_files(good)
            page.wait_for_url("**/plans/*/rig*")
            first = page.url.split("/plans/")[1].split("/")[0]
            page.get_by_test_id("answer").wait_for()
            self.go("", page)
            choose.set_input_files(good)
            expect(page.get_by_role("alert")).to_contain_text("This file is here already, as A descent of its own")
            page.get_by_role("button", name="Open A descent of its own").click()
            page.wait_for_url(f"**/plans/{first}/rig*")
            page.get_by_test_id("answer").wait_for()
            self.go("", page)
            choose.set_input_files(good)
            page.get_by_role("button", name="Open the file as another plan").click()
            page.wait_for_url("**/plans/*/rig*")
            self.assertNotIn(first, page.url)

    def test_the_guide_opens_inside_and_leads_back(self):
        page = self.page
        self.open("rig", "d1")
        page.keyboard.press("?")
        page.get_by_role("dialog").get_by_role("link", name="The guide").click()
        expect(page.get_by_role("heading", name="From nothing")).to_be_visible()
        expect(page.get_by_role("cell", name="3 Long Quiet")).to_be_visible()
        self.accessible(page, "guide")
        page.get_by_role("button", name="Back to where you were").click()
        page.get_by_test_id("answer").wait_for()
        self.go("reference", page)
        page.get_by_role("link", name="What was checked against what").click()
        expect(page.get_by_role("cell", name="the taut line over any section")).to_be_visible()
        self.accessible(page, "checks")

    def test_a_colour_is_chosen_by_its_name(self):
        self.open("shed")
        self.page.get_by_label("colour", exact=True).select_option(label="teal")
        self.saved(2)
        self.assertEqual(self.server.plan(self.id).shed.ropes[0].colour, "#2f8a86")
