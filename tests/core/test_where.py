"""Every open finding leads to a field that is there, and every chain of workings to what was typed."""

import re
import unittest

from pydantic import BaseModel

from reamer.core.answer.entered import with_entered
from reamer.core.answer.say import words
from reamer.core.answer.where import named, settled_by, thing_at
from reamer.core.assess import assess
from reamer.core.plan.labels import LABELS, label_of
from reamer.core.reading import read_plan
from reamer.demos import DEMOS
from tests.builders import doubled, plan_of, quick, two_drops
from tests.core.test_codes import AHEAD, RECORDS, THROUGH, WAYS, ahead, gone, had

# What no field settles: it has an act for each thing, or is said of what nobody can enter.
WITHOUT = {"kit.typical"}
# Counted, chosen or worked out without a working of its own: nothing was typed.
NOT_TYPED = {"the longer of the taut and the draped line, nominal", "fall factor", "threads"}


class Where(unittest.TestCase):
    def test_what_is_open_without_an_act_leads_to_a_place_of_the_plan(self):
        """Of every code, whoever says it: the stations, what lies ahead, the acts, the records of things."""
        for code, found, plan in self.everything():
            for f in found:
                if f.fix or f.others or f.severity not in ("Shortfall", "Not checked") or f.code in WITHOUT:
                    continue
                with self.subTest(code=f.code, of=code):
                    self.assertTrue(f.field)
                    self.assertTrue(f.field_name)
                    if f.field == "shed/unread":  # it lies beside the plan, under each thing of the shed
                        continue
                    before, _, key = f.field.split("/*")[0].rpartition("/")
                    holder = thing_at(plan, before) if before else plan
                    there = key in type(holder).model_fields if isinstance(holder, BaseModel) else holder is not None
                    self.assertTrue(there, f.field)

    def everything(self):
        """Each code's plan, and what is said of it."""
        for code, (_, data) in WAYS.items():
            plan = read_plan(data)
            done = assess(plan)
            yield code, (*done.findings, *(f for d in done.drops for f in d.findings)), plan
        for code, (_, data) in AHEAD.items():
            yield code, ahead(data), read_plan(data)
        for code, (_, data) in THROUGH.items():
            yield code, gone(data), read_plan(data)
        for code, (_, data, record) in RECORDS.items():
            plan = read_plan(data)
            done = assess(plan, gear=had(record))
            yield code, (*done.findings, *(f for d in done.drops for f in d.findings)), plan

    def test_it_leads_to_what_the_words_are_about(self):
        late = plan_of(doubled(), on="2026-07-01", start=None)
        for data, said, place in (
            (plan_of(doubled(), on=None, start=None), "the plan has no start time", "start"),
            (late, "the plan has no start time", "start"),
            ({**late, "start": "09:00", "party": []}, "nobody is in the party", "party"),
            (two_drops(doubled(), {"kind": "none"}, start="09:00"), "no rope system", "drops/#d2/station/states/0/sys"),
        ):
            (f,) = [f for f in assess(read_plan(data)).findings if f.code == "time.unknown"]
            self.assertIn(said, words(f.reason))
            self.assertTrue(f.field.startswith(place), f.field)
        alone = plan_of(doubled())
        alone["party"] = alone["party"][:1]
        alone["drops"][0]["station"]["together"] = "one strand"
        (f,) = [f for f in assess(read_plan(alone)).drops[0].findings if f.code == "load.hanging"]
        self.assertTrue(f.field.endswith("station/together"), f.field)
        # Rock under a sling that nobody has looked at: the post's, or where only the edge is not known, the edge.
        rock = plan_of(doubled())
        rock["drops"][0]["station"]["features"][0] |= {"surface": "rock", "sharpness": "unknown", "what": "boulder"}
        (f,) = [f for f in assess(read_plan(rock)).drops[0].findings if f.code == "webbing.surface"]
        self.assertRegex(f.field, "/features/#.*/sharpness$")
        rock["drops"][0]["station"]["features"][0]["sharpness"] = "rounded"
        rock["drops"][0]["section"] = quick(0.4, 0.2, 15, "tape", "unknown")
        (f,) = [f for f in assess(read_plan(rock)).drops[0].findings if f.code == "webbing.surface"]
        self.assertEqual(f.field, "drops/#d1/section/*edge")

    def test_a_place_is_called_by_the_last_of_its_names(self):
        for key, label in LABELS.items():
            self.assertEqual(label_of(key), label)
        self.assertEqual(label_of("drops/#d1/section/*edge"), "the edge is")
        self.assertEqual(label_of("nowhere/some_thing"), "some thing")

    def test_what_no_working_computed_and_no_table_holds_was_typed_somewhere(self):
        for make in DEMOS.values():
            plan = make()
            for subject, workings in assess(plan).workings.items():
                drop = next((d for d in plan.drops if d.id == subject), None)
                for working in with_entered(plan, drop, workings):
                    for term in working.terms:
                        with self.subTest(plan=plan.title, key=working.key, term=term.name):
                            tabled = re.match(r"(STD|HB|P|J)\b", term.source) or term.name in NOT_TYPED
                            # What the plan was told with a source of its own is both.
                            self.assertTrue(term.entered or term.working or tabled)
                            self.assertFalse(term.entered and term.working)
                            for e in term.entered:
                                self.assertIsNotNone(thing_at(plan, e.field, drop))
                                self.assertEqual(e.name, named(plan, e.field, drop))
                                self.assertNotRegex(words(e.said), r"[{}]|None")

    def test_of_two_alike_each_leads_to_its_own(self):
        seen = set()
        for make in DEMOS.values():
            plan = make()
            for subject, workings in assess(plan).workings.items():
                drop = next((d for d in plan.drops if d.id == subject), None)
                for w in with_entered(plan, drop, workings):
                    band = w.key.rpartition("two.band")[2] if "two.band" in w.key else ""
                    for t in w.terms if band else ():
                        if t.symbol == "x":
                            seen.add(band)
                            self.assertIn({"1": "first", "2": "second"}[band], t.entered[0].field)
        self.assertEqual(seen, {"1", "2"})

    def test_what_was_typed_is_said_with_its_method_and_its_error(self):
        plan = DEMOS["canyon"]()
        drop = plan.drops[0]
        said = {
            e.field.rpartition("/")[2]: words(e.said).replace("\u00a0", " ")
            for w in with_entered(plan, drop, assess(plan).workings[drop.id])
            for t in w.terms
            for e in t.entered
        }
        height = drop.section.height_m
        self.assertRegex(said["height_m"], rf"^{height.value} m, by {height.method}, ± \d")
        self.assertRegex(said["strength_kn"], r"^\d+\.\d kN: .")

    def test_a_thing_that_is_gone_leads_to_where_another_is_chosen(self):
        plan = read_plan(WAYS["anchor.missing"][1])
        found = next(f for f in assess(plan).drops[0].findings if f.code == "anchor.missing")
        self.assertEqual(settled_by(plan, found), "drops/#d1/station/states/0/rig/kind")


if __name__ == "__main__":
    unittest.main()
