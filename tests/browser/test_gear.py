"""A thing's record in a real browser: begun, noted in, held against own rules, retired, and said in the plan."""

from playwright.sync_api import expect

from tests.browser.harness import Browsing


class Record(Browsing):
    def test_a_rope_is_measured_again_held_to_its_rules_and_retired(self):
        page = self.page
        self.open("shed")
        page.get_by_role("button", name="Blue 60").first.click()
        record = page.get_by_role("region", name="record of Blue 60")
        record.get_by_role("button", name="Begin a record: it was used before").click()
        record.get_by_text("at least").first.wait_for()
        # A figure that cannot be is refused and said; what was there stays.
        record.get_by_label("wet days", exact=True).fill("sixty")
        record.get_by_label("wet days", exact=True).press("Tab")
        record.get_by_role("alert").wait_for()
        record.get_by_label("wet days", exact=True).fill("60")
        record.get_by_label("wet days", exact=True).press("Tab")
        expect(record.locator('[data-rule="wet_days"]')).to_contain_text("may be reached")
        findings = page.locator('[data-code="gear.rule"]')
        expect(findings).to_contain_text("Whether Blue 60 is to be retired is not known: wet days")
        record.get_by_label("before this record").select_option("use counted")
        record.get_by_label("wet days before").fill("61")
        record.get_by_label("wet days before").press("Tab")
        expect(findings).to_contain_text("Blue 60 is to be retired: wet days")
        record.get_by_role("button", name="Undo the last change").click()
        findings.wait_for(state="detached")
        # Measured shorter than the plan reckons: one act takes the length, and it is a revision of the plan.
        record.get_by_role("button", name="Measured").click()
        form = record.get_by_role("form", name="Measured")
        form.get_by_label("length, m").fill("54,2")
        form.get_by_role("button", name="Note it").click()
        record.get_by_role("img", name="lengths of Blue 60, 1 measured").wait_for()
        page.get_by_role("button", name="Take the length of").click()
        self.saved(2)
        rope = self.server.plan(self.id).shed.ropes[0]
        self.assertEqual((rope.measured_m.value, rope.measured_m.method), (54.2, "tape"))
        page.locator('[data-code="gear.length"]').wait_for(state="detached")
        record.get_by_role("button", name="Retire it").click()
        form = record.get_by_role("form", name="Retire it")
        form.get_by_label("in words").fill("worn sheath")
        form.get_by_role("button", name="Note it").click()
        expect(page.locator('[data-code="gear.out"]')).to_contain_text("worn sheath")
        expect(page.get_by_role("button", name="Blue 60 retired")).to_be_visible()
        record.get_by_role("button", name="Remove", exact=True).click()
        page.locator('[data-code="gear.out"]').wait_for(state="detached")
        record.get_by_role("button", name="Undo").click()
        page.locator('[data-code="gear.out"]').wait_for()
