"""What a change did, told for the whole plan wherever one stands: four changes of mind, by pointer and by keys."""

import re
import unittest

from reamer.demos import canyon
from tests.browser.harness import Browsing


class Did(Browsing):
    def rows(self):
        return self.page.get_by_role("list", name="what is said otherwise").get_by_role("listitem")

    def said(self, text: str | re.Pattern[str]) -> None:
        self.page.get_by_test_id("changed").filter(has_text=text).wait_for()

    def test_a_rope_is_cut_in_the_shed_and_every_station_is_told_until_the_next_edit(self):
        self.open("shed")
        self.page.get_by_role("button", name=re.compile("^Blue 60")).first.click()
        length = self.page.get_by_label("measured length", exact=True)
        length.fill("22")
        length.press("Enter")
        self.saved(2)
        self.said("Blue 60: measured length 59.4 m → 22 m")
        self.said(re.compile(r"\d stations: \d shortfalls more"))
        self.page.get_by_test_id("standing-stations").get_by_test_id("more").filter(has_text="+").wait_for()
        # It stays from step to step, and each row leads to its station.
        row = self.rows().filter(has_text="drop 5").first
        row.wait_for()
        self.open("survey", "d1")
        self.said("Blue 60")
        self.rows().filter(has_text="drop 5").first.get_by_role("button").press("Enter")
        self.page.wait_for_url(re.compile("/d5$|/shed$"))
        self.accessible(self.page, "did")
        self.page.keyboard.press("Control+z")
        self.saved(3)
        self.said(re.compile(r"shortfalls fewer"))
        self.rows().filter(has_text="Gone").first.wait_for()

    def test_a_drop_is_higher(self):
        self.open("survey", "d4")
        height = self.page.get_by_label("height, edge to landing", exact=True)
        height.fill("31")
        height.press("Enter")
        self.saved(2)
        self.said("Sill")
        self.rows().filter(has_text=re.compile("New[\\s\\S]*drop 4")).first.wait_for()

    def test_somebody_drops_out(self):
        self.open("shed")
        self.page.get_by_role("button", name=re.compile("^Ilya")).first.click()
        self.page.get_by_role("button", name="Remove").first.click()
        sure = self.page.get_by_role("alertdialog").or_(self.page.get_by_role("dialog"))
        self.settled()
        if sure.count():
            sure.get_by_role("button", name=re.compile("Remove")).click()
        self.saved(2)
        self.said("Ilya removed")
        self.rows().first.wait_for()

    def test_another_system_and_nothing_else_changed(self):
        self.open("rig", "d3")
        self.page.get_by_role("button", name="Use Slate 50 instead").click()
        self.saved(2)
        self.rows().filter(has_text="Gone").filter(has_text="Green 35").first.wait_for()
        self.open("shed")
        self.page.get_by_role("button", name=re.compile("^Title, place")).click()
        title = self.page.get_by_label("title", exact=True)
        title.fill("Fernlid, again")
        title.press("Enter")
        self.page.get_by_test_id("changed").filter(has_text="Nothing else changed.").wait_for()
        self.page.get_by_role("region", name="what the change did").get_by_role("button", name="Close").click()
        self.page.get_by_test_id("changed").wait_for(state="detached")

    def test_two_at_once_are_told_of_both_and_a_narrow_window_in_one_line(self):
        theirs = self.page_of(width=390, height=844)
        for page in (self.page, theirs):
            self.go(f"plans/{self.id}/survey/d4", page)
            page.get_by_label("name of the drop", exact=True).wait_for()
        for page, label, text in ((theirs, "height, edge to landing", "31"), (self.page, "name of the drop", "Step")):
            field = page.get_by_label(label, exact=True)
            field.fill(text)
            field.press("Enter")
            if page is theirs:
                self.saved(2, theirs)
        self.page.get_by_role("dialog").get_by_role("button", name="Make my edit").click()
        self.saved(3)
        self.said(re.compile("31"))
        self.said(re.compile("Step"))
        self.rows().filter(has_text=re.compile("New[\\s\\S]*drop 4")).first.wait_for()
        line = theirs.get_by_role("button", name=re.compile("Sill.*shortfall.* more"))
        line.focus()
        theirs.keyboard.press("Enter")
        theirs.get_by_role("dialog", name="findings").get_by_role("list", name="what is said otherwise").wait_for()
        self.accessible(theirs, "did, narrow", themes=True, within=".drawer")

    def test_it_is_of_the_plan_that_is_open(self):
        self.open("rig", "d3")
        self.page.get_by_role("button", name="Use Slate 50 instead").click()
        self.saved(2)
        self.rows().first.wait_for()
        self.open("rig", "d3", plan=self.server.add(canyon()))
        self.page.get_by_test_id("changed").wait_for(state="detached")


if __name__ == "__main__":
    unittest.main()
