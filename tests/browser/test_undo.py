"""Undo says what it took back and goes there; what is removed says who uses it; a server that is gone is waited for."""

import re

from playwright.sync_api import expect

from tests.browser.harness import Browsing, Server


class Undo(Browsing):
    def said(self):
        return self.page.get_by_role("status").filter(has=self.page.get_by_role("button", name="Close"))

    def test_it_says_what_it_took_back_and_goes_there(self):
        page = self.page
        self.go(f"plans/{self.id}/survey/d4", page)
        page.get_by_label("height, edge to landing", exact=True).fill("7.5")
        page.get_by_label("height, edge to landing", exact=True).press("Enter")
        self.saved(2)
        self.go(f"plans/{self.id}/rig/d1", page)
        page.get_by_role("region", name="rock to rider").wait_for()
        page.keyboard.press("Control+z")
        page.wait_for_url("**/survey/d4")
        expect(self.said()).to_contain_text("Undone: drop Sill: height, edge to landing 6 m → 7.5 m")
        self.accessible(page, "said")
        self.said().get_by_role("button", name="Redo").click()
        expect(self.said()).to_contain_text("Done again: drop Sill")
        self.saved(4)
        self.assertEqual(self.server.plan(self.id).drops[3].section.height_m.value, 7.5)
        # Whoever looks at the whole is not taken away from it, but shown the way.
        self.open("descent")
        page.keyboard.press("Control+z")
        expect(self.said()).to_contain_text("Undone: drop Sill")
        self.assertIn("/descent", page.url)
        self.said().get_by_role("button", name="Show it").click()
        page.wait_for_url("**/survey/d4")

    def test_it_is_the_plans_after_any_control_and_a_text_fields_own_until_that_is_left(self):
        page = self.page
        self.go(f"plans/{self.id}/survey/d4", page)
        before = self.server.plan(self.id)
        rock = page.get_by_label("rock under the rope", exact=True)
        was = rock.input_value()
        rock.select_option(rock.evaluate("s => [...s.options].map((o) => o.value).find((v) => v !== s.value)"))
        self.saved(2)
        rock.focus()
        page.keyboard.press("Control+z")
        self.saved(3)
        expect(rock).to_have_value(was)
        pad = page.get_by_label("a pad lies on the edge under the rope")
        pad.click()
        self.saved(4)
        page.keyboard.press("Control+z")
        self.saved(5)
        self.assertEqual(self.server.plan(self.id), before)
        name = page.get_by_label("name of the drop", exact=True)
        name.fill("Lip")
        name.press("Enter")
        self.saved(6)
        name.press_sequentially("s")
        page.keyboard.press("Control+z")
        expect(name).not_to_have_value("Lips")
        # What was typed and taken back was the field's; the plan stands as it was saved.
        name.press("Escape")
        self.assertEqual(self.server.plan(self.id).drops[3].name, "Lip")
        name.blur()
        page.keyboard.press("Control+z")
        self.saved(7)
        self.assertEqual(self.server.plan(self.id), before)

    def test_an_undo_while_a_save_is_on_its_way_is_made_once_it_is_there(self):
        page = self.page
        held = []
        page.route("**/api/plans/*/edits", lambda r: r.continue_() if held else held.append(r))
        self.open("shed")
        before = self.server.plan(self.id)
        page.get_by_role("button", name="steel ring").click()
        page.get_by_role("button", name="Remove", exact=True).first.click()
        self.said().get_by_role("button", name="Undo").click()
        held[0].continue_()
        expect(self.said()).to_contain_text("Undone")
        self.saved(3)
        self.assertEqual(self.server.plan(self.id), before)

    def test_what_is_removed_says_who_uses_it_and_is_had_back(self):
        page = self.page
        self.open("shed")
        before = self.server.plan(self.id)
        for name, users in (
            ("steel ring", "used by drops 1, 2"),
            ("figure-eight device", "used by Maren, Tove"),
            ("Pim novice", ""),
        ):
            page.get_by_role("button", name=name).first.click()
            page.get_by_role("button", name="Remove", exact=True).first.click()
            expect(self.said()).to_contain_text("removed")
            expect(self.said()).to_contain_text(users)
            self.said().get_by_role("button", name="Undo").click()
            expect(self.said()).to_contain_text("Undone")
            self.assertEqual(self.server.plan(self.id), before)
        page.keyboard.press("a")
        page.wait_for_url("**/survey/d10")
        expect(self.said()).to_contain_text("Drop 10 added, number 2")


class Gone(Browsing):
    """A server of its own, that is stopped while somebody types."""

    def test_what_is_typed_while_the_server_is_gone_is_saved_when_it_is_back(self):
        server = Server()
        self.addCleanup(lambda: server.close())
        plan = server.add(self.server.plan(self.id))
        page = self.page_of()
        page.goto(f"{server.address}/plans/{plan}/survey/d4")
        height = page.get_by_label("height, edge to landing", exact=True)
        height.fill("7.5")
        server.stop()
        height.press("Enter")
        status = page.get_by_role("banner")
        expect(status).to_contain_text("not saved: Reamer's server does not answer")
        # Typed on: nothing is lost, and what was typed stays where it was typed.
        name = page.get_by_label("name of the drop", exact=True)
        name.fill("Sill again")
        name.press("Enter")
        expect(height).to_have_value("7.5")
        expect(name).to_have_value("Sill again")
        server.start()
        expect(status).to_contain_text(re.compile(r"saved \d"))
        drop = server.plan(plan).drops[3]
        self.assertEqual((drop.section.height_m.value, drop.name), (7.5, "Sill again"))
