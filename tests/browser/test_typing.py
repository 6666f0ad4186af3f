"""Numbers as people write them, in both systems, and what is refused in the units in view."""

from tests.browser.harness import Browsing

# Each as it is typed, in which units are in view, and what it is in metres. 1 ft = 0.3048 m, 1 in = 25.4 mm, exactly
# (international yard and pound, from memory).
LENGTHS = (
    ("18,5 m", "metric", 18.5),
    ("19.5", "metric", 19.5),
    ("41'6\"", "us", 41.5 * 0.3048),
    ("42 ft 6 in", "us", 42.5 * 0.3048),
    ("43' 6", "us", 43.5 * 0.3048),
    ("41ft 6 1/2in", "us", (41 + 6.5 / 12) * 0.3048),
    ("44½", "us", 44.5 * 0.3048),
    ("18 m", "us", 18),
    ("60′", "metric", 60 * 0.3048),
    ("1 m 20 cm", "metric", 1.2),
    ("1250 cm", "metric", 12.5),
)
WIDTHS = (
    ("3/8 in", 9.525),
    ('1/2"', 12.7),
    ('1 1/2"', 38.1),
    ("1-1/4 in", 31.75),
    ("⅜ in", 9.525),
    ("10 mm", 10),
    ("0,4", 10.16),
)
NONE = ("1,200", "6 in 41 ft", "41'6\"2", "1/0", "five", "1..2", "3 kg", "12 ft m", "1/2/3", "--3")


class Typing(Browsing):
    def put(self, page, label, text):
        field = page.get_by_label(label, exact=True)
        field.fill(text)
        field.press("Enter")
        return field

    def until(self, value, was):
        for _ in range(100):
            if value() != was:
                return value()
            self.page.wait_for_timeout(30)
        raise AssertionError(f"it stayed {was}")

    def test_lengths_and_widths_are_read_as_they_are_written(self):
        height = lambda: self.server.plan(self.id).drops[3].section.height_m.value  # noqa: E731
        for units in ("metric", "us"):
            page = self.page_of(units=units)
            self.go(f"plans/{self.id}/survey/d4", page)
            for text, _, metres in (x for x in LENGTHS if x[1] == units):
                before = height()
                self.put(page, "height, edge to landing", text)
                self.assertAlmostEqual(self.until(height, before), metres, places=6, msg=text)
        self.go(f"plans/{self.id}/shed", page)
        page.get_by_role("button", name="steel ring").click()
        ring = lambda: self.server.plan(self.id).shed.rings[0].opening_mm.value  # noqa: E731
        for text, mm in WIDTHS:
            before = ring()
            self.put(page, "opening", text)
            self.assertAlmostEqual(self.until(ring, before), mm, places=6, msg=text)

    def test_an_error_of_ones_own_and_what_is_no_number(self):
        page = self.page
        self.go(f"plans/{self.id}/survey/d4", page)
        self.put(page, "height, edge to landing", "18±0.5")
        self.saved(2)
        figure = self.server.plan(self.id).drops[3].section.height_m
        self.assertEqual((figure.value, figure.error.kind, figure.error.value), (18, "length", 0.5))
        for text in NONE:
            self.put(page, "height, edge to landing", text)
            alert = page.get_by_role("alert").filter(has_text=text[:3])
            alert.first.wait_for()
            self.assertIn("write one" if text == "1,200" else "is not a number", alert.first.inner_text(), text)
        self.assertEqual(self.server.plan(self.id).drops[3].section.height_m, figure)

    def test_a_range_is_told_in_the_units_in_view_and_a_stated_figure_as_one(self):
        page = self.page_of(units="us")
        self.go(f"plans/{self.id}/survey/d4", page)
        self.put(page, "height, edge to landing", "9000")
        page.get_by_role("alert").filter(has_text="must lie from 1.64 to 1969 ft, not 9000").first.wait_for()
        self.go(f"plans/{self.id}/rig/d4", page)
        ring = page.locator('[data-part="ring"]')
        ring.wait_for()
        # A ring stated for 25 kN holds 5620 lbf, not 5620 to 5621.
        self.assertIn("5620", ring.inner_text())
        self.assertNotIn("5621", ring.inner_text())
