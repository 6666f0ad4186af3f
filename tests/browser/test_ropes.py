"""Rope systems as a guide meets them: what is said first, what is drawn, what one act changes. The core's own answers
are the measure."""

import json
import re
import unittest

from reamer.core.answer.context import context
from reamer.core.answer.say import spoken, words
from reamer.core.assess import assess
from reamer.core.descent.harder import longer
from reamer.core.plan.edits import apply
from reamer.core.reading import read_plan
from reamer.core.station.drop import pull_curve
from reamer.demos import buttress, canyon
from tests import LONG
from tests.browser.harness import Browsing
from tests.builders import known, unknown
from tests.core.test_codes import DEVIATION, TRAVERSE


def of(plan, index=0):
    return assess(plan).drops[index]


class SaidFirst(Browsing):
    def test_what_is_said_first_is_the_cores_answer(self):
        """The system, what to ride and pull, what the pull takes, the next best way; in both units."""
        # What is said first at every station of the canyon is held to the command line's (`test_app`).
        for make, units, stations in ((canyon, "metric", slice(1, 9, 3)), (buttress, "us", slice(None))):
            plan, a = make(), assess(make())
            page, plan_id = self.page_of(units=units), self.server.add(make())
            for d in a.drops[stations]:
                self.open("rig", d.id, page, plan_id)
                page.get_by_role("heading", name=re.compile(rf"· {d.name}")).wait_for()
                self.assertEqual(page.get_by_test_id("answer").inner_text(), words(d.answer, units))
                page.get_by_text(re.compile("Next best here|Best here|Every other way has")).wait_for()
                pulling = page.get_by_test_id("pulling").inner_text()
                if d.pull.worst:
                    self.assertIn(f"{spoken(d.pull.low, units)} to {spoken(d.pull.worst, units)}", pulling)
                margins = page.get_by_test_id("margins")
                # The one figure for how much longer it may be, as what if has it.
                by = longer(context(plan), d.number - 1, d)
                if by.mark == "figure":
                    margins.get_by_text(spoken(by.number, units)).first.wait_for()
                if d.water:
                    self.assertIn(spoken(d.water.out, units), margins.inner_text())

    def test_labels_are_held_apart_while_a_rope_is_pulled_and_beside_a_reserve(self):
        """Labels are held apart while a rope is pulled, with a deviation in it and a landing off to the side, and
        beside a reserve."""
        data = json.loads(buttress().model_dump_json())
        data["drops"][0]["station"]["deviations"] = [{**DEVIATION, "left_in": True}]
        data["drops"][0]["landing"]["aside_m"] = known(4, "eye")
        aside = self.server.add(read_plan(data))
        for plan_id, drop in ((aside, "d1"), (self.id, "d2"), (self.id, "d3"), (self.id, "d6"), (self.id, "d9")):
            self.open("rig", drop, plan=plan_id)
            self.apart(self.page)
            self.page.keyboard.press("l")
            self.settled()
            if self.page.get_by_role("slider", name="rope pulled").count():
                self.page.locator("[data-label=hand]").wait_for()
                self.assertTrue(self.page.get_by_label("tension along the strand").count() >= 2)
            self.apart(self.page)


class Pulling(Browsing):
    def test_numbers_at_the_contacts_are_the_cores(self):
        """The numbers at the contacts are the core's, at the start and further on; the mark that was at the ring
        travels."""
        curve = pull_curve(context(canyon()), 8, canyon().drops[8])
        self.open("rig", "d9")
        self.page.keyboard.press("l")
        ring = self.page.locator("[data-label=ring]")
        slider = self.page.get_by_role("slider", name="rope pulled")
        slider.wait_for()

        def said(n):
            return f"{int(-(-round(n, 6) // 1))} N"

        first = curve.moments[0]
        self.assertIn(f"{said(first.up_n[0])} → {said(first.down_n[0])}", ring.inner_text())
        self.assertIn(f"{said(first.high_n)} at the hand", self.page.locator("[data-label=hand]").inner_text())
        self.assertEqual(self.page.get_by_label("what was at the ring").count(), 0)
        slider.fill(str(curve.moments[100].pulled_m))
        self.page.get_by_label("what was at the ring").first.wait_for()
        late = curve.moments[100]
        # The slider has its own steps: within a newton of the moment asked for.
        shown = int(re.search(r"(\d+) N at the hand", self.page.locator("[data-label=hand]").inner_text())[1])
        self.assertAlmostEqual(shown, late.high_n, delta=3)
        self.assertEqual(self.server.plan(self.id), canyon())

    def test_what_comes_before_what_may_catch_and_why_not_the_other_side(self):
        """What comes before and what may catch are the core's, and the other side is pulled or refused with the
        reason."""
        for plan, index in ((canyon(), 7), (buttress(), 0)):
            d, plan_id = of(plan, index), self.server.add(plan)
            self.open("rig", plan.drops[index].id, plan=plan_id)
            self.page.keyboard.press("l")
            self.page.get_by_label("Before you pull").wait_for()
            for title, lines in (("Before you pull", d.retrieval.before), ("What may catch", d.retrieval.snags)):
                self.assertEqual(
                    self.page.get_by_label(title).locator("li").all_inner_texts(), [words(s) for s in lines]
                )
            side = self.page.get_by_test_id("pull-side").inner_text()
            self.assertIn(words(d.retrieval.side.said), side)
            self.assertIn(words(d.retrieval.side.refused), side)


class Fixes(Browsing):
    def test_each_planted_fault_is_settled_by_its_button_and_brought_back_by_undo(self):
        """One planted fault of each demonstration is settled by the button beside it and brought back by undo; that
        each has such an act is the core's, in the long run each is pressed."""
        every = (
            (canyon, 1, "Take the stoppers out", "end.water"),
            (buttress, 4, "Pull Teal 60", "pull.join-side"),
            (canyon, 5, "Use Blue 60 instead, for the last person too", "release.reserve"),
            (canyon, 7, "Clip a carabiner in it", "block.passes"),
            (canyon, 8, "Let the ring hang over the edge", "pull.hard"),
            (buttress, 1, "Put Red 60 through the ring", "system.thin-through"),
        )
        for make, drop, button, code in every if LONG else every[:2]:
            with self.subTest(code):
                plan_id = self.server.add(make())
                self.open("rig", make().drops[drop].id, plan=plan_id)
                self.page.get_by_role("button", name=button, exact=True).click()
                self.saved(2)
                fix = next(f.fix for f in of(make(), drop).findings if f.code == code)
                self.assertEqual(self.server.plan(plan_id), apply(make(), fix.edits))
                self.assertNotIn(
                    code, {f.code for f in of(self.server.plan(plan_id), drop).findings if f.severity == "Shortfall"}
                )
                self.page.keyboard.press("Control+z")
                self.saved(3)
                self.assertEqual(self.server.plan(plan_id), make())

    def test_how_the_strands_hang_is_asked_for_and_bad_figures_change_nothing(self):
        """How the strands hang is asked for, not guessed; a landing to the side and a hanging stance have their
        figures."""
        data = json.loads(canyon().model_dump_json())
        data["drops"][0]["station"].update(strands_hang="unknown", traverse={**TRAVERSE, "rope": "rope-blue"})
        data["drops"][0]["landing"]["next_m"] = unknown("not measured")
        plan_id = self.server.add(read_plan(data))
        self.open("survey", "d1", plan=plan_id)
        page = self.page
        page.get_by_text("How the strands hang below the ring is unknown").wait_for()
        page.get_by_label("strands hang below the ring").select_option("one behind")
        self.saved(2)
        page.locator("li").get_by_text("Which strand lies against the rock is unknown").wait_for()
        page.get_by_role("button", name="Rig", exact=False).first.click()
        page.get_by_role("tab", name="Rope system").click()
        page.get_by_label("pull strand lies, facing the rock").select_option("outside")
        self.saved(3)
        page.get_by_role("button", name="Pull the other end").click()
        self.saved(4)
        self.assertIn("the one against the rock", page.get_by_test_id("answer").inner_text())
        page.get_by_role("button", name="Survey", exact=False).first.click()
        page.get_by_label("landing", exact=True).select_option("hanging stance")
        self.saved(5)
        page.get_by_label("next station, from where one hangs", exact=True).fill("0.9")
        page.get_by_label("next station, from where one hangs", exact=True).press("Enter")
        self.saved(6)
        for bad, why in (("far", "number"), ("90", "must lie from 0 to 60")):
            field = page.get_by_label("landing off to the side", exact=True)
            field.fill(bad)
            field.press("Enter")
            page.get_by_role("alert").filter(has_text=why).first.wait_for()
        self.assertEqual(self.server.plan(plan_id).drops[0].landing.aside_m.value, 0)


class OwnError(Browsing):
    def test_a_figures_own_error_is_typed_after_it_and_counts_instead_of_its_methods(self):
        self.open("survey", "d5")
        field = self.page.get_by_label("height, edge to landing", exact=True)
        for n, (typed, shown, want) in enumerate(
            (("18 ± 0.5", "18 ± 0.5", ("length", 0.5)), ("18 +- 2%", "18 ± 2 %", ("share", 0.02)), ("18", "18", None)),
            2,
        ):
            field.fill(typed)
            field.press("Enter")
            self.saved(n)
            error = self.server.plan(self.id).drops[4].section.height_m.error
            self.assertEqual(error and (error.kind, error.value), want)
            self.assertEqual(field.input_value(), shown)
        field.fill("18 ± much")
        field.press("Enter")
        self.page.get_by_role("alert").filter(has_text="is no error").first.wait_for()
        self.assertIsNone(self.server.plan(self.id).drops[4].section.height_m.error)


if __name__ == "__main__":
    unittest.main()
