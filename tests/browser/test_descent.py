"""The whole descent as a guide meets it: what to carry first, the figure, what if, what one act changes. The core's own
answers are the measure."""

import math
import re
import unittest

from reamer.core.answer.context import context
from reamer.core.answer.say import spoken, words
from reamer.core.assess import assess
from reamer.core.descent.prospect import Known, hand, prospect
from reamer.core.descent.stations import Stations
from reamer.demos import buttress, canyon, gully
from tests.browser.harness import Browsing


def ahead(plan):
    a = assess(plan)
    return prospect(context(plan), Stations(), Known(a.drops, a.webbing, a.descent.times))


class Descent(Browsing):
    def open(self, step="descent", drop="", page=None, plan=""):
        page = page or self.page
        self.go(f"plans/{plan or self.id}/{step}/{drop}", page)
        page.get_by_test_id("carried").wait_for()
        self.done(page)

    def done(self, page=None):
        """What lies ahead is worked out for the revision that is shown."""
        (page or self.page).get_by_role("button", name="Stop", exact=True).wait_for(state="detached")

    def view(self, name):
        self.page.get_by_role("tab", name=name, exact=True).click()

    def test_the_answer_the_matrix_and_its_stories_are_the_cores(self):
        for make, units in ((canyon, "metric"), (buttress, "us"), (gully, "metric")):
            plan = make()
            got, page = ahead(plan), self.page_of(units=units)
            plan_id = self.server.add(plan)
            self.open(page=page, plan=plan_id)
            self.assertIn(spoken(got.choice.carried.kg, units), page.get_by_test_id("carried").inner_text())
            answer = page.get_by_test_id("answer").inner_text()
            for said in got.choice.fails:
                self.assertIn(words(said, units), answer)
            cells = page.locator("button.event-cell")
            self.assertEqual(cells.count(), 9 * len(plan.drops))
            shown = [re.sub(r"\s+", " ", t).strip() for t in cells.all_text_contents()]
            for n, (number, c) in enumerate((row.number, c) for row in got.rows for c in row.cells):
                self.assertIn(f"at {number}: ", shown[n])
                self.assertTrue(shown[n].endswith(c.word), (shown[n], c.word))
                if c.number is not None and c.event == "dark":
                    self.assertIn(f"{round(c.number.value) // 60}:{round(c.number.value) % 60:02d}", shown[n])
                elif c.number is not None and (c.mark == "figure" or c.event == "longer"):
                    self.assertIn(spoken(c.number, units), shown[n])
            first = next(n for n, c in enumerate(c for r in got.rows for c in r.cells) if c.mark == "strands")
            cells.nth(first).click()
            story = re.sub(r"\s+", " ", page.get_by_test_id("story").inner_text())
            cell = [c for r in got.rows for c in r.cells][first]
            for said in cell.story:
                self.assertIn(words(said, units), story)
            page.get_by_role("button", name="back to the descent").click()
            for f in got.findings:
                page.get_by_text(words(f.title, units), exact=True).first.wait_for()

    def test_a_rope_that_sticks_says_what_is_in_hand_along_the_pull(self):
        page, plan = self.page, canyon()
        a = assess(plan)
        got = hand(context(plan), Stations(), Known(a.drops, a.webbing, a.descent.times), 0)
        self.go(f"plans/{self.id}/rig/{plan.drops[0].id}")
        self.view("Pull")
        told = page.get_by_role("region", name="if the rope sticks")
        for s in got.stretches:
            told.get_by_text(words(s.said, "metric")).wait_for()
        self.assertEqual(page.locator("rect[data-leaves]").count(), len(got.stretches))
        self.assertIn("Until", told.locator("[aria-current]").inner_text())
        page.get_by_role("slider", name="rope pulled").press("End")
        self.assertIn("From", told.locator("[aria-current]").inner_text())
        long = got.pieces[0].corners[-1].metres
        in_hand = page.get_by_test_id("in-hand").inner_text()
        self.assertIn(f"{math.floor(long * 10) / 10} m of Blue 60", in_hand)
        self.open()
        page.locator("button.event-cell").filter(has_text="rope stuck at 1").click()
        for s in got.stretches:
            page.get_by_test_id("story").get_by_text(words(s.said, "metric")).wait_for()

    def test_rows_stand_at_the_stops_of_the_strip(self):
        self.open()
        stops = self.page.locator("[data-stop]").evaluate_all("all => all.map(e => e.getBoundingClientRect().top)")
        cells = self.page.locator("button.event-cell").filter(has_text="rope stuck")
        rows = cells.evaluate_all("all => all.map(e => e.getBoundingClientRect().top)")
        self.assertEqual(len(rows), 9)
        for stop, row in zip(stops, rows, strict=True):
            self.assertAlmostEqual(stop, row, delta=3)

    def test_a_rope_is_lit_everywhere(self):
        self.open()
        self.page.get_by_title("light this rope everywhere").first.click()
        self.page.locator('.lit[data-ribbon="rope-blue"]').first.wait_for()
        self.assertEqual(self.page.locator(".lit[data-ribbon]").count(), 7)

    def test_one_act_adopts_a_set_and_one_takes_it_back(self):
        chosen = ahead(canyon()).choice.chosen
        self.open()
        self.page.get_by_role("button", name="What it changes").first.click()
        self.page.get_by_label("what it changes").first.wait_for()
        self.page.get_by_role("button", name="Carry these, each station its way").first.click()
        self.saved(2)
        self.done()
        self.assertEqual(self.server.plan(self.id).carry.ropes, chosen.ropes)
        self.page.get_by_text("the lightest that does", exact=True).wait_for()
        self.page.keyboard.press("Control+z")
        self.saved(3)
        self.assertEqual(self.server.plan(self.id), canyon())

    def test_each_fix_settles_its_own(self):
        self.open()
        for n, name in enumerate(("Carry Red 70 too", "Thread end A of Blue 60 here", "Start at 12:15"), 2):
            self.page.get_by_role("button", name=name).first.click()
            self.saved(n)
            self.done()
            self.page.get_by_role("button", name=name).wait_for(state="detached")
        left = self.page.get_by_role("list", name="findings").all_inner_texts()
        self.assertNotIn("SHORTFALL", " ".join(left).upper())

    def test_what_is_asked_changes_what_is_answered(self):
        self.open()
        self.view("Date and demands")
        self.page.get_by_label(re.compile("^the rope stuck")).uncheck()
        self.saved(2)
        self.page.get_by_label(re.compile("^any one rope lost")).uncheck()
        self.saved(3)
        self.done()
        self.page.get_by_text(re.compile("^You have not asked for it: if ")).wait_for()
        self.page.get_by_label("start, at the first station").fill("06:30")
        self.page.get_by_label("start, at the first station").blur()
        self.saved(4)
        self.page.get_by_test_id("out").get_by_text(re.compile("to 15:34")).wait_for()
        self.page.get_by_label("latitude", exact=True).fill("hill")
        self.page.get_by_label("latitude", exact=True).blur()
        self.page.get_by_role("alert").first.wait_for()
        self.assertEqual(self.server.plan(self.id).spot.latitude_deg, 46.0)

    def test_what_nobody_has_said_of_the_place_stays_unknown(self):
        self.id = self.server.add(canyon().model_copy(update={"spot": None}))
        self.open()
        self.view("Date and demands")
        for n, (label, text, unsaid) in enumerate(
            (
                ("latitude", "46.2", "the longitude and the time zone of its place"),
                ("longitude", "7,5", "the time zone of its place"),
                ("time zone", "America/Denver", "the clock of America/Denver is not that of a place at 7.5° east"),
            ),
            2,
        ):
            field = self.page.get_by_label(label, exact=True)
            field.fill(text)
            field.blur()
            self.saved(n)
            finding = self.page.locator('[data-code="time.unknown"]')
            finding.get_by_text(re.compile(re.escape(unsaid))).first.wait_for()
        # The clock of the place is proposed, and taken with one act.
        finding.get_by_role("button", name="Take the clock of Europe/Zurich").click()
        self.saved(5)
        finding.wait_for(state="detached")
        self.page.get_by_test_id("out").get_by_text("By the clock of Europe/Zurich.", exact=False).wait_for()
        self.page.keyboard.press("Control+z")
        self.saved(6)
        spot = self.server.plan(self.id).spot
        self.assertEqual((spot.latitude_deg, spot.longitude_deg, spot.zone), (46.2, 7.5, "America/Denver"))
        for n, label in enumerate(("latitude", "longitude", "time zone"), 7):
            self.page.get_by_label(label, exact=True).fill("")
            self.page.get_by_label(label, exact=True).blur()
            self.saved(n)
        self.assertIsNone(self.server.plan(self.id).spot)

    def test_a_way_off_and_a_stretch_are_entered(self):
        self.open()
        self.view("Date and demands")
        below = self.page.locator('[data-below="d6"]')
        below.get_by_role("button", name="a way off").click()
        self.saved(2)
        below.get_by_label("known to go").select_option("yes")
        self.saved(3)
        self.done()
        self.page.get_by_text(re.compile("you go out below 6")).wait_for()
        self.page.locator('[data-below="d7"]').get_by_role("button", name="a stretch").click()
        self.saved(4)
        self.page.get_by_text(re.compile("how long the walk after Step Nine takes is unknown")).first.wait_for()

    def test_who_carries_what(self):
        self.open()
        self.view("Carry and leave")
        self.page.get_by_label("who carries Blue 60").select_option("")
        self.saved(2)
        self.page.get_by_text("Nobody carries Blue 60", exact=True).wait_for()
        self.page.get_by_label("who carries Blue 60").select_option(label="Wren")
        self.saved(3)
        self.page.get_by_text("Nobody carries Blue 60", exact=True).wait_for(state="detached")

    def test_it_can_be_stopped_and_taken_up_again(self):
        page = self.page
        held = []
        page.route("**/serving/d9", lambda route: route.continue_() if held else held.append(route))
        self.go(f"plans/{self.id}/descent/", page)
        page.get_by_text("Which ropes serve each station: 8 of 9").wait_for()
        page.get_by_role("button", name="Stop", exact=True).click()
        page.get_by_text(re.compile("^Stopped:")).wait_for()
        page.get_by_role("button", name="Work it out").click()
        page.get_by_test_id("carried").wait_for()

    def test_new_ropes(self):
        plan_id = self.server.add(gully())
        self.open(plan=plan_id)
        self.page.get_by_role("button", name="Find the least length").click()
        self.page.get_by_text(re.compile("two new ropes")).wait_for()

    def test_every_view_in_both_themes_is_whole_and_readable(self):
        """Nothing is wider than its place without a way to scroll, and axe's rules that matter most hold: every control
        has a name, and text is dark enough against what it stands on."""
        for theme in ("day", "headlamp"):
            page = self.page_of(theme=theme)
            self.open(page=page)
            for name in ("At a glance", "Ropes", "Carry and leave", "Times", "Date and demands", "One sheet"):
                page.get_by_role("tab", name=name, exact=True).click()
                self.settled(page)
                nameless = page.locator("main button, main select, main input").evaluate_all(
                    "all => all.filter(e => !(e.ariaLabel || e.innerText || e.closest('label'))).length"
                )
                self.assertEqual(nameless, 0, name)
                over = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
                self.assertLessEqual(over, 0)

    def test_the_sheet_is_drawn_by_the_core(self):
        self.open()
        self.view("One sheet")
        sheet = self.page.locator("img[alt*='points of no return']")
        sheet.wait_for()
        sheet.evaluate("img => img.decode()")
        self.assertEqual(sheet.evaluate("img => img.naturalWidth"), 1280)
        for form, magic in (("svg", b"<svg"), ("png", b"\x89PNG")):
            got = self.page.request.get(f"{self.server.address}/api/plans/{self.id}/revisions/1/overview.{form}")
            self.assertTrue(got.body().startswith(magic))


if __name__ == "__main__":
    unittest.main()
