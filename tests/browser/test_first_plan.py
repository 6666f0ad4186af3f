"""From nothing to three drops: by pointer and visible names, counted; and by keys alone in a small window."""

import re
import unittest

from playwright.sync_api import Page
from pypdf import PdfReader

from reamer.core.assess import assess
from tests import LONG
from tests.browser.harness import SETTLED, Browsing

MOST_CLICKS, MOST_FIELDS, MOST_TO_CHECK = 25, 45, 15


class Guide:
    """Somebody with a mouse: every press is a click, every value typed or chosen a field."""

    def __init__(self, page: Page) -> None:
        self.page, self.clicks, self.fields = page, 0, 0

    def click(self, name: str, role: str = "button") -> None:
        at = self.page.get_by_role(role, name=name, exact=True)
        (at if at.count() else self.page.get_by_role(role, name=name)).first.click()
        self.clicks += 1

    def fill(self, label: str, value: str, nth: int = 0) -> None:
        at = self.page.get_by_label(label, exact=True).nth(nth)
        at.fill(value)
        at.press("Enter")
        self.fields += 1

    def choose(self, label: str, value: str, nth: int = 0) -> None:
        self.page.get_by_label(label, exact=True).nth(nth).select_option(label=value)
        self.fields += 1


class Keys(Guide):
    """Somebody without a mouse in a small window: Tab goes to what has the name, back where it lies behind, arrows
    along tabs, Enter does it; what is folded away is opened first."""

    OF = """(e) => (e?.getAttribute("aria-label") || e?.innerText || e?.title || "")
        .replace(/^\\d\\s*\\n?/, "").trim()"""
    NAME = f"({OF})(document.activeElement)"
    KEY = f"""([name, most]) => {{ const is = new RegExp(`^(?:${{name}})`);
        const all = [...document.querySelectorAll("a, button, input, select, textarea, summary")].filter(
          (e) => !e.disabled && e.tabIndex >= 0 && e.checkVisibility());
        const there = all.findIndex((e) => is.test(({OF})(e))), last = all.findLastIndex((e) => is.test(({OF})(e)));
        const on = (there - all.indexOf(document.activeElement) + all.length) % all.length;
        const back = there === last && on > all.length / 2;
        if (there < 0) return false;
        const way = back ? -1 : 1, far = Math.max(0, (back ? all.length - on : on) - most);
        if (far) all[(all.indexOf(document.activeElement) + way * far + all.length) % all.length].focus();
        return back ? "Shift+Tab" : "Tab"; }}"""
    FOLDED = {"Add a drop": r"drops?\b", "Convert": r"Drop \d", "All of them": r"The plan"}

    # The last so many of the way are gone by Tab; all of it in the long run.
    most = 400 if LONG else 4

    def at(self, name: str) -> None:
        key = self.page.wait_for_function(self.KEY, arg=[name, self.most]).json_value()
        for _ in range(400):
            if re.match(name, self.page.evaluate(self.NAME)):
                return
            self.page.keyboard.press(key)
        raise AssertionError(f"no Tab leads to {name!r}")

    def click(self, name: str, role: str = "button") -> None:
        keys = self.page.keyboard
        if role == "tab":
            while self.page.evaluate("document.activeElement?.getAttribute('role') ?? ''") != "tab":
                keys.press("Tab")
            while self.page.evaluate(self.NAME) != name:
                keys.press("ArrowRight")
            return
        drawer = next((d for start, d in self.FOLDED.items() if name.startswith(start)), None)
        if drawer:
            self.page.wait_for_function(SETTLED)
            self.at(drawer)
            keys.press("Enter")
            self.page.get_by_role("dialog").wait_for()
        self.at("Shed$" if name == "kit and people" else re.escape(name) + "$")
        keys.press("Enter")
        if drawer:
            self.page.wait_for_function(SETTLED)
            keys.press("Escape")
            self.page.get_by_role("dialog").wait_for(state="hidden")

    def fill(self, label: str, value: str, nth: int = 0) -> None:
        self.at(re.escape(label) + "$")
        self.page.keyboard.press("Control+a")
        self.page.keyboard.type(value)
        self.page.keyboard.press("Enter")

    def choose(self, label: str, value: str, nth: int = 0) -> None:
        self.at(re.escape(label) + "$")
        self.page.keyboard.press("Space")
        self.page.keyboard.type(value)
        self.page.keyboard.press("Enter")


class FirstPlan(Browsing):
    """An empty library, as nobody has a shed yet."""

    def setUp(self):
        self.begun()

    def build(self, g):
        g.page.goto(self.server.address)
        g.fill("title of a new plan", "Three drops")
        g.click("kit and people", "link")
        g.click("A usual kit: Canyon")
        # 18 m plumb from a tree 3 m back, doubled.
        g.click("Add a drop")
        g.fill("set-back, anchor to edge", "3")
        g.fill("height, edge to landing", "18")
        g.choose("landing", "ledge")
        g.choose("the edge is", "rounded")
        g.choose("the rig gets wet", "yes")
        g.choose("cracks or flakes under the line", "no")
        g.choose("strands hang below the ring", "side by side")
        g.click("Rig")
        g.choose("tied to", "a post")
        g.choose("kind of post", "tree")
        g.fill("girth", "1.1")
        g.choose("alive, well rooted, crown healthy", "yes")
        holds = "what the post itself holds: your own judgement, low and high, and why"
        g.fill(f"{holds}, low", "15")
        g.fill(f"{holds}, who says so", "0.35 m thick, rooted in soil")
        g.click("Rope system", "tab")
        g.choose("rope system", "doubled rope")
        g.choose("pull strand lies, facing the rock", "left")
        # 35 m with a ledge in between, on two bolts, two ropes joined.
        g.click("Add a drop after this one")
        g.choose("section entered", "as shots")
        g.page.get_by_label("shot 2, slope distance", exact=True).wait_for()
        g.click("Shot")
        g.click("Shot")
        for n, (slope, incl) in enumerate((("1", "0"), ("17", "-90"), ("2", "-10"), ("18", "-90")), 1):
            g.fill(f"shot {n}, slope distance", slope)
            g.fill(f"shot {n}, inclination", incl)
        g.choose("landing", "ledge")
        g.click("Ground as before")
        g.click("Rig")
        g.choose("tied to", "several points")
        g.click("Found in place", "tab")
        g.click("I looked at left point and right point together")
        given = "what it holds, and by whom it is given"
        g.fill(f"{given}, low", "15")
        g.fill(f"{given}, who says so", "by its mark")
        g.choose("its state", "good")
        g.click("I looked for all 3: no, no, yes")
        g.click("Rope system", "tab")
        g.choose("rope system", "two ropes joined")
        g.choose("pull strand lies, facing the rock", "left")
        # 12 m into moving water, releasable.
        g.click("Add a drop after this one")
        g.fill("set-back, anchor to edge", "1")
        g.fill("height, edge to landing", "12")
        g.choose("landing", "moving water")
        g.click("Ground as before")
        g.click("Rig")
        g.choose("tied to", "a rated anchor")
        given = "what the anchor holds, and by whom it is given"
        g.fill(f"{given}, low", "15")
        g.fill(f"{given}, who says so", "by its mark")
        g.choose("its state, as seen", "good")
        g.fill("looked at on", "2026-05-02")
        g.click("I looked for all 3: no, no, yes")
        g.click("Rope system", "tab")
        g.choose("rope system", "releasable single strand")
        g.click("Convert it for the last person")
        g.click("Shed")
        g.click("All of them are as they say")
        g.page.locator('[data-code="kit.typical"]').wait_for(state="detached")
        self.built(g.page.url.split("/plans/")[1].split("/")[0])

    def test_three_drops_from_nothing_to_the_printed_card_and_a_second_persons_check(self):
        guide, page = Guide(self.page), self.page
        self.build(guide)
        guide.click("Card")
        guide.click("What goes along", "tab")
        with page.expect_download() as got:
            guide.click("Write the PDF", "link")
        self.assertLessEqual(guide.clicks, MOST_CLICKS)
        self.assertLessEqual(guide.fields, MOST_FIELDS)
        paper = "".join(p.extract_text() for p in PdfReader(got.value.path()).pages)
        self.assertIn("Three drops", paper)
        self.assertNotIn("Looked at by", paper)
        # Somebody else looks at every station, order of acts and finding, and accepts with a reason what may be.
        other = Guide(page)
        other.fill("Who checks", "Fourth")
        other.click("All that is open", "tab")
        page.get_by_role("region", name="several at once").wait_for()
        other.click("that may be accepted")
        other.click("Accept")
        other.fill("Why may it be accepted?", "known to both of us, and looked at on site")
        other.click("as Fourth")
        page.get_by_role("button", name="that may be accepted").wait_for(state="detached")
        other.click("Choose all")
        other.click("Agree")
        stands = page.get_by_role("region", name="how the check stands")
        stands.get_by_text(re.compile(r"^3 of 3$")).nth(1).wait_for()
        self.assertEqual({a == b for a, b in re.findall(r"(\d+) of (\d+)", stands.inner_text())}, {True})
        # A shortfall that somebody agreed with is one all the same.
        self.assertRegex(stands.inner_text(), r"[1-9]\d* shortfall")
        self.assertNotRegex(stands.inner_text(), r"[1-9]\d* not checked")
        self.assertLessEqual(other.clicks + other.fields, MOST_TO_CHECK)

    def built(self, plan):
        """The three drops, whoever built them."""
        made = self.server.plan(plan)
        states = [[s.system.kind for s in d.station.states] for d in made.drops]
        self.assertEqual(states[:2], [["doubled"], ["joined"]])
        self.assertEqual((states[2][0], len(states[2])), ("releasable", 2))
        self.assertEqual([p.role for p in made.party].count("novice"), 2)
        heights = [round(d.height.value) for d in assess(made).drops if d.height]
        self.assertEqual(heights, [18, 35, 12])
        tree, bolts, _ = (d.station for d in made.drops)
        self.assertEqual((tree.features[0].what, tree.features[0].name), ("tree", "tree"))
        # What was said of one bolt is not asked for again, and the other is as it.
        self.assertEqual([f.holds.low_kn for f in bolts.features], [15, 15])
        self.assertEqual([r.condition for r in bolts.inspections], ["good", "good"])
        asked = [f.code for f in assess(made).drops[1].findings]
        self.assertNotIn("inspection.none", asked)

    def test_the_same_by_keys_alone_in_a_small_window(self):
        self.build(Keys(self.page_of(width=800, height=600)))


if __name__ == "__main__":
    unittest.main()
