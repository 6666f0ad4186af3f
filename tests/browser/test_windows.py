"""Windows from a large one to a phone's: no text is cut without a way to read it, drawers by pointer and keys, axe."""

import itertools
import re

import pypdfium2 as pdfium
from playwright.sync_api import expect

from reamer.demos import canyon
from tests.browser.harness import Browsing
from tests.core.test_words import MOST

SIZES = ((1280, 800), (1024, 700), (800, 600), (390, 844))
SCREENS = ("survey/d1", "survey/d3", "shed", "rig/d1", "rig/d3", "descent", "rehearse/d2", "card", "log")
# Every element whose content is wider than itself and hidden, but for those that say it whole as a title; and text
# that stands outside of the window and cannot be moved into it.
CUT = r"""() => {
  const told = [];
  const seen = (el) => { const r = el.getBoundingClientRect(); return r.width > 0 && r.height > 0; };
  const up = function* (el) { for (let e = el; e; e = e.parentElement) yield e; };
  const readable = (el) => [...up(el)].some((e) => e.title || e.getAttribute('aria-hidden') === 'true');
  const moves = (el) => [...up(el.parentElement)].some((e) => /auto|scroll/.test(getComputedStyle(e).overflowX));
  const text = (el) => (el.innerText ?? '').trim().slice(0, 50);
  for (const el of document.querySelectorAll('body *')) {
    if (!(el instanceof HTMLElement) || !seen(el) || el.closest('.sr-only')) continue;
    const s = getComputedStyle(el);
    const wide = el.scrollWidth > el.clientWidth + 1;
    if (wide && /hidden|clip/.test(s.overflowX) && s.display !== 'inline' && !readable(el) && text(el))
      told.push(['cut', text(el)]);
    if (wide && el.tagName === 'INPUT' && el.type === 'text' && el.value && !el.title)
      told.push(['input', el.getAttribute('aria-label'), el.value]);
    const r = el.getBoundingClientRect();
    if (!el.children.length && text(el) && (r.right > innerWidth + 1 || r.left < -1) && !moves(el))
      told.push(['outside', text(el)]);
  }
  if (document.documentElement.scrollWidth > innerWidth) told.push(['the page itself is wider than the window']);
  return told;
}"""

# What stands in every paragraph, label and button that can be seen.
TEXT = """() => [...document.querySelectorAll('p, label, dt, dd, h1, h2, h3, button, legend, summary, li')]
  .filter((el) => el.getClientRects().length && !el.closest('.sr-only') && !el.querySelector('p, li, div, table'))
  .map((el) => el.innerText)"""


class Windows(Browsing):
    def there(self, page):
        page.get_by_role("navigation", name="steps").wait_for()
        self.settled(page)

    def test_no_text_is_cut_without_a_way_to_read_it(self):
        page = self.page
        self.addCleanup(page.set_viewport_size, {"width": 1280, "height": 800})
        for n, place in enumerate((*(f"plans/{self.id}/{screen}" for screen in SCREENS), "", "reference")):
            self.go(place, page)
            # From large to small and back at the next: a window is made larger, too.
            for width, height in SIZES[:: 1 - n % 2 * 2]:
                page.set_viewport_size({"width": width, "height": height})
                self.settled(page)
                self.assertEqual(page.evaluate(CUT), [], (width, place))

    def test_strip_and_findings_fold_into_drawers_with_their_tallies_in_sight(self):
        page = self.page_of(width=800, height=600)
        self.go(f"plans/{self.id}/rig/d3", page)
        drops = page.get_by_role("button", name="9 drops")
        found = page.get_by_role("button", name="Drop 3")
        expect(drops).to_contain_text("9 shortfalls · 5 not checked")
        expect(found).to_contain_text("1 shortfall · 1 not checked")
        expect(page.get_by_role("navigation", name="drops")).to_have_count(0)
        # By keys alone: opened, gone through, closed, and the focus is where it was.
        found.focus()
        page.keyboard.press("Enter")
        drawer = page.get_by_role("dialog", name="findings")
        expect(drawer).to_be_focused()
        self.accessible(page, "findings in a drawer")
        page.keyboard.press("Escape")
        drawer.wait_for(state="detached")
        expect(found).to_be_focused()
        drops.click()
        page.get_by_role("dialog", name="drops").locator('[data-stop="d5"]').click()
        page.wait_for_url("**/rig/d5")
        page.get_by_role("dialog", name="drops").wait_for(state="detached")
        # A number's working opens among the findings.
        page.get_by_role("region", name="rock to rider").get_by_title("Show the working").first.click()
        page.get_by_role("dialog", name="findings").get_by_text("source", exact=False).first.wait_for()

    def test_a_row_of_tabs_moves_by_arrow_keys_and_names_its_panel(self):
        page = self.page
        self.go(f"plans/{self.id}/rig/d3", page)
        first = page.get_by_role("tab", name="Rock to rider")
        first.focus()
        for key, name in (
            ("ArrowRight", "Tied to"),
            ("End", "Courtesy"),
            ("ArrowRight", "Rock to rider"),
            ("ArrowLeft", "Courtesy"),
            ("Home", "Rock to rider"),
        ):
            page.keyboard.press(key)
            tab = page.get_by_role("tab", name=name)
            expect(tab).to_be_focused()
            expect(tab).to_have_attribute("aria-selected", "true")
            expect(page.get_by_role("tabpanel", name=name)).to_be_visible()
        # Whoever points goes on with the keys of the screen.
        page.get_by_role("tab", name="Pull").click()
        page.keyboard.press("j")
        page.wait_for_url("**/rig/d4")

    def test_a_screen_is_printed_whole_and_without_what_surrounds_it(self):
        for width, screen, told in (
            (1280, "rig/d3", ("Long Quiet", "dynamic rope tether", "Green 35 does not reach", "contact")),
            (1280, "shed", ("nominal length", "Its record", "End B of Blue 60 is still above")),
            (800, "survey/d3", ("slope distance", "Ride Green 35 alone", "What the block holds")),
        ):
            page = self.page_of(theme="headlamp", width=width)
            self.go(f"plans/{self.id}/{screen}", page)
            self.there(page)
            pdf = pdfium.PdfDocument(page.pdf(format="A4"))
            text = re.sub(r"\s+", " ", " ".join(p.get_textpage().get_text_range() for p in pdf))
            pdf.close()
            for words in ("Fernlid Slot", *told):
                self.assertIn(words, text, (screen, words))
            for words in ("Whole descent Rehearse", "Add a drop", "m kN kg"):
                self.assertNotIn(words, text, (screen, words))

    def test_the_list_of_plans_has_each_descent_in_miniature(self):
        page = self.page
        self.go("", page)
        row = page.get_by_role("list", name="plans").locator("li").first
        drawn = row.locator("svg.outline-mini path").last.get_attribute("d")
        points = [tuple(map(float, p.split())) for p in re.findall(r"[ML]([\d.]+ [\d.]+)", drawn)]
        heights = [y for _, y in points]
        self.assertGreater(max(heights) - min(heights), 30)
        # It goes down, but for a step up on the way that a survey may have.
        self.assertGreaterEqual(sum(b >= a - 0.5 for a, b in itertools.pairwise(heights)), len(heights) - 4)

    def looked_over(self, page, where, **how):
        """Hold that axe finds nothing, and that no sentence is too long for somebody whose second language it is."""
        self.accessible(page, where, **how)
        parts = {p for text in page.evaluate(TEXT) for p in re.split(r"(?<=[.!?;:])\s+|\n+|·", text)}
        self.assertEqual([p for p in sorted(parts) if len(p.split()) > MOST], [], where)

    def test_any_screen_can_be_read_in_either_theme_and_on_a_phone(self):
        """A phone differs in the width of what stands there first: there, what is behind tabs is left out. Four drops
        have all that nine have."""
        self.addCleanup(self.page.set_viewport_size, {"width": 1280, "height": 800})
        whole = canyon()
        few = self.server.add(whole.model_copy(update={"drops": whole.drops[:4]}))
        for width, height in ((1280, 800), (390, 844)):
            page, large = self.page, width > 390
            page.set_viewport_size({"width": width, "height": height})
            for screen in (s for s in SCREENS if not s.endswith("/d1")):
                self.go(f"plans/{few}/{screen}", page)
                self.there(page)
                self.looked_over(page, (width, screen), themes=large)
                tabs = page.get_by_role("tab")
                for n in range(1, tabs.count() if large and screen.startswith(("rig/d3", "descent")) else 0):
                    tabs.nth(n).click()
                    self.looked_over(page, (width, screen, n), themes=large, within="[role=tabpanel]")
            page.keyboard.press("?")
            page.get_by_role("dialog").wait_for()
            self.looked_over(page, (width, "help"), themes=large)
            page.keyboard.press("Escape")
