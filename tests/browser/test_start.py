"""From nothing: a usual kit whose figures are only typical, first steps that tick themselves off, twins of things."""

import re

from playwright.sync_api import expect

from tests.browser.harness import Browsing


class Start(Browsing):
    """A server of its own: what the common shed holds is offered first."""

    def setUp(self):
        self.begun()

    def new(self):
        page = self.page
        self.go("", page)
        page.get_by_label("title of a new plan").fill("From nothing")
        page.get_by_label("title of a new plan").press("Enter")
        page.wait_for_url("**/plans/*/**")
        return page.url.split("/plans/")[1].split("/")[0]

    def test_a_usual_kit_is_not_checked_until_it_is_confirmed(self):
        page, plan = self.page, self.new()
        self.go(f"plans/{plan}/shed", page)
        steps = page.get_by_role("navigation", name="first steps")
        expect(steps.get_by_role("link", name="kit and people")).to_have_class("font-bold underline")
        start = page.get_by_role("region", name="what to start with")
        self.accessible(page, "what to start with")
        start.get_by_role("button", name="A usual kit: Canyon").click()
        self.saved(2)
        expect(steps.get_by_role("link", name=re.compile("kit and people.*done"))).to_be_visible()
        found = page.locator('[data-code="kit.typical"]')
        expect(found).to_contain_text("figure-eight device, sewn dynamic rope tether, Guide, Second, Third, Fourth")
        # One by its own form, one by its act, the rest at once.
        page.get_by_role("region", name="Devices").get_by_role("button", name="figure-eight device").click()
        page.get_by_role("button", name="They are as mine").click()
        expect(found).not_to_contain_text("figure-eight device")
        found.get_by_role("button", name="Third is as it says").click()
        expect(found).not_to_contain_text("Third")
        found.get_by_role("button", name="All of them are as they say").click()
        found.wait_for(state="detached")
        self.saved(5)
        kit = self.server.plan(plan)
        self.assertFalse(any(p.typical for p in kit.party))
        # What nobody uses yet is still typical, and is told so once it is used.
        self.assertTrue(kit.shed.ropes[0].typical)

    def test_twins_and_people_with_the_only_device(self):
        page, plan = self.page, self.new()
        self.go(f"plans/{plan}/shed", page)
        page.get_by_role("button", name="A usual kit: Multi-pitch").click()
        self.saved(2)
        page.get_by_role("region", name="Slings").get_by_role("button", name="120 cm nylon sling").click()
        page.get_by_role("button", name="Duplicate").click()
        self.saved(3)
        page.get_by_role("button", name="add to People").click()
        self.saved(4)
        kit = self.server.plan(plan)
        twin = kit.shed.slings[-1]
        self.assertEqual((twin.name, twin.rating_kn), ("120 cm nylon sling 1", kit.shed.slings[0].rating_kn))
        self.assertEqual((kit.party[-1].device, kit.party[-1].tether), ("device-1", "tether-1"))
