"""Usual kits: whole, of figures that are only typical, and not checked until somebody says that they are theirs."""

import unittest

from reamer.core.answer.context import context
from reamer.core.answer.say import words
from reamer.core.assess import Kept, assess
from reamer.core.gear.findings import named_in
from reamer.core.gear.typical import typical_findings
from reamer.core.model import Plan
from reamer.core.offers import offers
from reamer.core.plan.edits import apply
from reamer.core.plan.gear import GEAR_LISTS
from reamer.core.reading import read_plan
from reamer.core.tables import row, table
from reamer.demos import DEMOS
from reamer.kits import usual_kits
from tests.builders import rated, two_bolts, unknown


def typical(plan):
    return next(iter(typical_findings(context(plan))), None)


class Kits(unittest.TestCase):
    def test_nothing_of_a_kit_passes_for_ones_own(self):
        for kit in usual_kits():
            things = [x for where in GEAR_LISTS for x in getattr(kit.shed, where)]
            self.assertTrue(all(x.typical for x in (*things, *kit.party)), kit.key)
            self.assertTrue(2 <= len(kit.party) <= 4 and len(kit.shed.ropes) >= 2)
            for thing in things:
                for figure in (getattr(thing, n, None) for n in ("strength_kn", "rating_kn")):
                    if figure is not None:
                        self.assertTrue(figure.source.startswith("typical: "), thing.name)
            # Whoever goes has what is needed to go.
            self.assertEqual({p.device for p in kit.party}, {kit.shed.devices[0].id})
            self.assertEqual({p.tether for p in kit.party}, {kit.shed.tethers[0].id})
            plan = Plan(format=1, title="New", shed=kit.shed, party=kit.party)
            found = assess(plan, fixes=False).findings
            self.assertEqual([f.severity for f in found if f.code == "kit.typical"], ["Not checked"], kit.key)

    def test_its_figures_are_those_of_the_tables_where_there_are_some(self):
        """Standards from memory: EN 566, EN 564, EN 12275, as the table of standards has them."""
        standards = table("standards").rows
        cord = standards["EN 564.factor"].low
        for kit in usual_kits():
            for sling in kit.shed.slings:
                self.assertEqual(sling.rating_kn.low_kn, standards["EN 566.sling"].low)
            for rope in kit.shed.ropes:
                if rope.kind == "pull cord":
                    self.assertAlmostEqual(rope.strength_kn.low_kn, cord * rope.diameter_mm.value**2, places=6)
            for web in kit.shed.webbing:
                self.assertEqual(web.strength_kn.low_kn, row("materials", "webbing.25 mm tubular nylon").low)
            links = [r for r in kit.shed.rings if r.kind == "link"]
            self.assertEqual({r.rating_kn.low_kn for r in links}, {standards["EN 12275.link"].low})

    def test_each_is_said_once_until_it_was_looked_at(self):
        data = DEMOS["canyon"]().model_dump(mode="json")
        for where in GEAR_LISTS:
            for x in data["shed"][where]:
                x["typical"] = True
        plan = Plan.model_validate(data)
        used = [x for where in GEAR_LISTS for x in getattr(plan.shed, where) if x.id in named_in(plan)]
        count = 0
        while (f := typical(plan)) is not None:
            self.assertEqual(f.severity, "Not checked")
            self.assertIn(used[count].name, words(f.reason))
            plan, count = apply(plan, f.others[0].edits), count + 1
        self.assertEqual(count, len(used))
        # All at once is one act too; whoever is not used is not asked for.
        whole = Plan.model_validate(data)
        whole = apply(whole, typical(whole).others[-1].edits)
        self.assertIsNone(typical(whole))
        self.assertTrue(any(x.typical for where in GEAR_LISTS for x in getattr(whole.shed, where)))

    def test_it_changes_no_number(self):
        plan = DEMOS["gully"]()
        people = tuple(p.model_copy(update={"typical": True}) for p in plan.party)
        bare, told = (assess(p, fixes=False) for p in (plan, plan.model_copy(update={"party": people})))
        self.assertEqual(bare.drops, told.drops)
        self.assertEqual([f.code for f in told.findings if f not in bare.findings], ["kit.typical"])


class Bolts(unittest.TestCase):
    """What a bolt found in place holds: EN 959, from memory, by its product in test material; never by itself known."""

    def bolts(self, **more):
        data = two_bolts()
        data["drops"][0]["station"]["features"] = [rated(n, in_place="yes", **more) for n in "ab"]
        return read_plan(data)

    def said(self, plan, *codes):
        return [f for f in assess(plan, fixes=False).drops[0].findings if f.code in codes]

    def fixes(self, plan, code):
        found = assess(plan, fixes=False).drops[0].findings
        keys = [f.key for f in found if f.code == code]
        return {o.finding: o.fixes for o in offers(context(plan), Kept()) if o.finding in keys}

    def test_a_typical_figure_is_taken_for_every_bolt_of_which_nothing_is_known_and_is_not_checked(self):
        plan = self.bolts(holds=unknown("not tested, not inspected"))
        self.assertEqual(len(self.said(plan, "anchor.unknown")), 2)
        offered = self.fixes(plan, "anchor.unknown")
        self.assertEqual(len(offered), 2)
        took = apply(plan, next(iter(offered.values()))[0].edits)
        for f in took.drops[0].station.features:
            self.assertEqual((f.holds.low_kn, f.holds.high_kn, f.typical), (15, 25, True))
            self.assertIn("EN 959", f.holds.source)
        (told,) = self.said(took, "anchor.typical")
        self.assertEqual((told.severity, self.said(took, "anchor.unknown")), ("Not checked", []))
        self.assertIn("bolt a and bolt b", words(told.reason))
        # One may be known and the other not: each is settled by itself, or both at once.
        (acts,) = self.fixes(took, "anchor.typical").values()
        self.assertEqual(len(acts), 3)
        one = apply(took, acts[1].edits)
        (left,) = self.said(one, "anchor.typical")
        self.assertNotIn("bolt a", words(left.reason))
        self.assertEqual(self.said(apply(took, acts[0].edits), "anchor.typical"), [])

    def test_it_changes_no_number_and_is_said_of_what_is_used_alone(self):
        bare, told = self.bolts(), self.bolts(typical=True)
        one, other = (assess(p, fixes=False).drops[0] for p in (bare, told))
        self.assertEqual(one.parts, other.parts)
        self.assertEqual([f.code for f in other.findings if f not in one.findings], ["anchor.typical"])
        data = two_bolts()
        data["drops"][0]["station"]["features"].append(rated("spare", typical=True))
        self.assertEqual(self.said(read_plan(data), "anchor.typical"), [])

    def test_of_nothing_but_a_bolt_anything_is_typical(self):
        for what in ("piton", "placed piece", "chain", "other", "thread"):
            plan = self.bolts(holds=unknown("nobody has judged it"), what=what)
            self.assertEqual(self.fixes(plan, "anchor.unknown"), {}, what)
