"""What is taken over from another drop or thing is what was decided, never what was measured, seen or judged there."""

from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.model import Known
from reamer.demos import buttress
from tests.browser.harness import Browsing


def measured(model):
    """Every figure below a model that somebody measured, wherever it stands."""
    if isinstance(model, Known):
        return [model] if model.method != "given" else []
    if isinstance(model, (tuple, list)):
        return [f for x in model for f in measured(x)]
    return [f for k in type(model).model_fields for f in measured(getattr(model, k))] if hasattr(model, "kind") else []


class Taken(Browsing):
    def setUp(self):
        super().setUp()
        self.id = self.server.add(buttress())

    def drops(self):
        return self.server.plan(self.id).drops

    def test_a_station_rigged_as_above_is_unknown_in_all_that_was_seen_there(self):
        for above, kind in (("d1", "several"), ("d2", "wrap"), ("d5", "two posts"), ("d6", "direct")):
            with self.subTest(kind):
                self.id = self.server.add(buttress())
                self.open("survey", above)
                self.page.get_by_role("button", name="Add a drop after this one").click()
                self.saved(2)
                self.page.get_by_role("button", name="Rig").first.click()
                self.page.get_by_role("button", name="Rig as above").click()
                self.saved(3)
                n = [d.id for d in self.drops()].index(above)
                old, new = self.drops()[n : n + 2]
                state = new.station.states[0]
                self.assertEqual((state.rig.kind, state.system.kind), (kind, old.station.states[0].system.kind))
                self.assertEqual(measured(new.station.features), [])
                # A bolt's rating comes along, and is not checked here.
                rated = [f for f in new.station.features if f.holds.kind != "unknown"]
                self.assertTrue(all(f.kind == "rated" and f.what == "bolt" and f.typical for f in rated))
                self.assertEqual(bool(rated), kind == "several")
                self.assertEqual((new.station.inspections, state.accepted, state.pulled_lies), ((), (), "unknown"))
                a = assess(self.server.plan(self.id)).drops[n + 1]
                told = {f.code for f in a.findings if f.severity == "Not checked"}
                unknown = all(p.low is None for p in a.parts if p.key.startswith(("anchor", "point")))
                self.assertTrue(unknown or {"anchor.typical", "inspection.none"} <= told)

    def test_ground_as_before_fills_what_nobody_said_and_leaves_what_was_seen(self):
        self.open("survey", "d2")
        self.page.get_by_role("button", name="Add a drop after this one").click()
        self.saved(2)
        self.page.get_by_label("the edge is").select_option("sharp")
        self.page.get_by_label("cracks or flakes under the line").select_option("yes")
        self.saved(4)
        self.page.get_by_role("button", name="Ground as before").click()
        self.saved(5)
        old, new = self.drops()[1:3]
        self.assertEqual((new.section.edge, new.cracks), ("sharp", "yes"))
        self.assertEqual((new.rock, new.station.strands_hang), (old.rock, old.station.strands_hang))

    def test_a_drop_twice_counts_its_lengths_as_by_eye_and_nothing_as_seen(self):
        self.open("survey", "d2")
        self.page.get_by_role("button", name="Duplicate").click()
        self.saved(2)
        old, new = self.drops()[1:3]
        self.page.wait_for_url(f"**/survey/{new.id}")
        self.assertNotEqual((new.id, new.name), (old.id, old.name))
        lengths = measured(new.section.shots if new.section.kind == "shots" else new.section)
        self.assertTrue(lengths)
        self.assertEqual({f.method for f in lengths}, {"eye"})
        self.assertEqual((new.landing.kind, new.cracks, new.station.inspections), ("unknown", "unknown", ()))
        self.assertEqual({f.holds.kind for f in new.station.features}, {"unknown"})
        self.assertEqual((new.rock, new.station.wet), ("unknown", "unknown"))

    def test_one_point_as_another_keeps_what_was_found_of_it_before(self):
        self.open("rig", "d1")
        self.page.get_by_role("tab", name="Tied to").click()
        first, second = self.drops()[0].station.features[:2]
        self.page.get_by_label("called").or_(self.page.get_by_label("point", exact=True)).first.wait_for()
        self.page.get_by_role("button", name=f"what {second.name} holds…").click()
        self.page.get_by_label("what the anchor holds, and by whom it is given, low").fill("3")
        self.page.get_by_label("what the anchor holds, and by whom it is given, low").press("Enter")
        self.saved(2)
        self.page.get_by_role("button", name=f"As {first.name}").click()
        self.saved(3)
        now = self.drops()[0].station.features[1]
        self.assertEqual((now.id, now.name, now.holds.low_kn), (second.id, second.name, first.holds.low_kn))
        self.assertEqual(now.holds.source, f"{first.holds.source}, as {first.name}")

    def test_a_twin_of_a_thing_is_typical_until_somebody_looks(self):
        self.open("shed")
        self.page.get_by_role("button", name="Duplicate").click()
        self.saved(2)
        plan = self.server.plan(self.id)
        self.assertTrue(plan.shed.ropes[-1].typical)
        data = plan.model_dump(mode="json")
        used = data["drops"][0]["station"]["states"][0]["system"]
        used[next(k for k in ("rope", "through") if k in used)] = plan.shed.ropes[-1].id
        told = [words(f.reason) for f in assess(type(plan).model_validate(data)).findings if f.code == "kit.typical"]
        self.assertIn(plan.shed.ropes[-1].name, told[0])
