"""Instruments in a real browser: a section shot, a pull drawn as it is pulled, a gauge against the limits; ones that
misbehave."""

import json

from playwright.sync_api import expect

from reamer.demos import canyon
from tests.browser.harness import Browsing
from tests.test_devices import HELLO, SHOT, instrument, lines, simulated

DROP = next(d for d in canyon().drops if d.section.kind == "shots")


class Instruments(Browsing):
    def connect(self, kind, port, where=None):
        at = where or self.page
        at.get_by_label(f"port of the {kind}").fill(str(port))
        at.get_by_role("button", name="Connect").click()
        return at.get_by_test_id("instrument")

    def survey(self):
        self.go(f"plans/{self.id}/survey/{DROP.id}")
        self.page.get_by_text("Shoot it with a rangefinder").click()

    def shots(self):
        drop = next(d for d in self.server.plan(self.id).drops if d.id == DROP.id)
        return drop.section.shots

    def left(self):
        """The instrument is left: there is one server for all tests."""
        leave = self.page.get_by_role("button", name="Leave it")
        if leave.count():
            leave.click()
        expect(self.page.get_by_test_id("instrument")).to_contain_text("Not connected")

    def test_a_section_grows_shot_by_shot(self):
        page = self.page
        port = self.enterContext(simulated("rangefinder", seed=1))
        self.survey()
        expect(self.connect("rangefinder", port)).to_contain_text("simulated rangefinder connected")
        page.get_by_role("button", name="Begin the section anew").click()
        self.saved(2)
        taken = 0
        while taken < 4:
            before = page.get_by_role("list", name="shots heard").inner_text()
            page.get_by_role("button", name="Shoot", exact=True).click()
            page.wait_for_function(
                "b => document.querySelector('[aria-label=\"shots heard\"]').innerText !== b", arg=before
            )
            heard = page.get_by_role("list", name="shots heard").locator("li").first.inner_text()
            taken += "Lost" not in heard
            expect(page.get_by_label("slope distance", exact=False)).to_have_count(max(1, taken) * 2)
        self.saved(2 + taken)
        shots = self.shots()
        self.assertEqual([s.slope_m.method for s in shots], ["rangefinder"] * 4)
        for shot, (slope, incl) in zip(shots, ((2.4, -6), (7.8, -83), (1.1, -41), (11.6, -88)), strict=True):
            self.assertAlmostEqual(shot.slope_m.value, slope, delta=0.1)
            self.assertAlmostEqual(shot.incl_deg.value, incl, delta=1)
        # The section on screen is the one that was shot.
        expect(page.get_by_text("19.9 m").or_(page.get_by_text("20.")).first).to_be_visible()
        self.accessible(page, "shooting")
        self.left()

    def test_what_misbehaves_is_said_and_no_shot_is_lost_or_made_up(self):
        page = self.page
        self.survey()
        status = page.get_by_test_id("instrument")
        self.connect("rangefinder", 1)
        expect(status).to_contain_text("nothing answers on port 1")
        before = len(self.shots())
        gone = self.enterContext(instrument(lines(HELLO, {**SHOT, "slope_m": 4.0}), lines(SHOT)[:-9], hold=False))
        self.connect("rangefinder", gone)
        expect(status).to_contain_text("it hung up in the middle of a line; that line was not taken")
        self.saved(2)
        self.assertEqual([s.slope_m.known for s in self.shots()[before:]], [4.0])
        babbles = self.enterContext(instrument(lines(HELLO, {**SHOT, "slope_m": -4}), b"@#!\n" * 40))
        self.connect("rangefinder", babbles)
        expect(status).to_contain_text("it sends too much that is no line of a rangefinder")
        expect(page.get_by_role("list", name="shots heard")).to_have_count(0)
        self.assertEqual(len(self.shots()), before + 1)
        other = self.enterContext(instrument(lines({**HELLO, "device": "gauge"})))
        self.connect("rangefinder", other)
        expect(status).to_contain_text("it is a gauge, not a rangefinder")

    def test_a_pull_is_drawn_as_it_is_pulled_and_its_peak_goes_among_the_samples(self):
        page = self.page
        port = self.enterContext(simulated("load cell", seed=3))
        self.open("shed")
        page.get_by_role("button", name="add to Own pull tests").click()
        page.get_by_text("Pull it on a load cell").click()
        expect(self.connect("load cell", port)).to_contain_text("connected")
        page.get_by_role("button", name="Start a pull").click()
        page.get_by_role("img", name="force in kN").wait_for()
        page.wait_for_function("() => /[1-9]\\d{2,} samples/.test(document.body.innerText.replace(/\\s/g, ' '))")
        painted = """() => {
          const c = document.querySelector('canvas'), d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
          let n = 0; for (let i = 3; i < d.length; i += 4) n += d[i] > 0; return n; }"""
        self.assertGreater(page.evaluate(painted), 500)
        page.wait_for_function("() => /[7-9]\\d\\d samples|\\d{4,} samples/.test(document.body.innerText)")
        page.get_by_role("button", name="Stop", exact=True).click()
        page.get_by_role("button", name="among the samples").click()
        self.saved(3)
        (sample,) = self.server.plan(self.id).shed.pull_tests[-1].samples_kn
        self.assertTrue(11 < sample < 17, sample)
        self.accessible(page, "load cell")
        self.left()
        # A trace from a file: refused by its row, then read, one wild sample told and not taken.
        take = page.get_by_label("Read a trace")
        rows = [(0, 0.1), (0.1, 5), (0.2, 9.876), (0.3, 9.9), (0.4, 60), (0.5, 9.88), (0.6, 0.1)]
        text = "time (s),force (kN)\n" + "".join(f"{t},{f}\n" for t, f in rows)
        take.set_input_files({"name": "t.csv", "mimeType": "", "buffer": text.replace("9.9", "=1").encode()})
        page.get_by_role("alert").filter(has_text="row 5").wait_for()
        take.set_input_files({"name": "t.csv", "mimeType": "", "buffer": text.encode()})
        page.get_by_text("stands alone").wait_for()
        page.get_by_role("button", name="among the samples").last.click()
        self.saved(4)
        self.assertEqual(self.server.plan(self.id).shed.pull_tests[-1].samples_kn[1:], (9.9,))

    def test_a_gauge_says_where_to_turn_back(self):
        page = self.page
        self.go(f"plans/{self.id}/survey/d1", page)
        limit = page.get_by_label("turn back from")
        limit.fill("deep")
        limit.press("Tab")
        page.get_by_role("alert").first.wait_for()
        limit.fill("35 cm")
        limit.press("Tab")
        self.saved(2)
        self.assertAlmostEqual(self.server.plan(self.id).drops[0].watch.turn_back_m, 0.35)
        self.open("descent")
        page.get_by_role("tab", name="Water").click()
        water = page.get_by_test_id("water")
        expect(water).to_contain_text("Not known at station 1")
        port = self.enterContext(simulated("gauge", seed=5))
        expect(self.connect("gauge", port)).to_contain_text("connected")
        expect(water).to_contain_text("Turn back at station 1")
        self.accessible(page, "water")
        self.left()
        expect(water).to_contain_text("Not known at station 1")
        self.assertEqual(
            json.loads(page.request.get(f"{self.server.address}/api/devices/gauge").text())["state"], "none"
        )
