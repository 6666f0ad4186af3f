"""What is offered was tried out: it settles what it is offered for and makes nothing worse."""

import unittest
from collections import Counter

from hypothesis import HealthCheck, given

from reamer.core.answer.codes import SEVERITIES
from reamer.core.answer.context import context
from reamer.core.answer.say import words
from reamer.core.answer.wanted import while_wanted
from reamer.core.assess import Kept, assess
from reamer.core.errors import Cancelled
from reamer.core.offers import offers, with_offers
from reamer.core.plan.edits import apply
from reamer.core.reading import read_plan
from reamer.demos import buttress, canyon, gully
from tests import law
from tests.builders import capacity, doubled, plan_of, quick, rope
from tests.core.test_any_plan import plans


def met(a, *severities):
    """What is said of a plan at each drop, as often as it is said in the state where it is most: what was said of all
    may be said of the party and of the last person after an act."""
    by = Counter()
    states = {d.id: (("party", "last") if d.last else (d.state,)) for d in a.drops}
    for f in [*a.findings, *(f for d in a.drops for f in d.findings)]:
        for drop in f.drops or (f.subject.drop,):
            for state in (f.subject.state,) if f.subject.state else states.get(f.subject.drop, ("",)):
                by[f.code, drop, f.subject.part, state] += f.severity in severities
    made = Counter()
    for (*place, _), n in by.items():
        made[tuple(place)] = max(made[tuple(place)], n)
    return +made


class Offered(unittest.TestCase):
    def holds(self, plan):
        """Each act settles its finding and adds no shortfall and nothing unchecked, unless it only says what is so or
        rigs what was not there; what it brings is named."""
        before = assess(plan)
        by = {f.key: f for f in [*before.findings, *(f for d in before.drops for f in d.findings)]}
        for offer in offers(context(plan), Kept()):
            f = by[offer.finding]
            for fix in offer.fixes:
                after = assess(apply(plan, fix.edits))
                said, place = (f.code, words(fix.label)), self.about(f)
                for n, some in enumerate((("Shortfall",), ("Shortfall", "Not checked"))):
                    if SEVERITIES.index(fix.allows) > n:
                        self.assertFalse(met(after, *some) - met(before, *some), said)
                worst = SEVERITIES[: SEVERITIES.index(f.severity) + 1]
                if not fix.partly:
                    self.assertLess(met(after, *worst)[place], met(before, *worst)[place], said)
                some = ("Shortfall", "Not checked", "Caution")
                titles = {words(x.title) for x in [*after.findings, *(x for d in after.drops for x in d.findings)]}
                brought = any(met(after, *some[:n]) - met(before, *some[:n]) for n in (1, 2, 3))
                self.assertEqual(brought, bool(fix.brings), said)
                self.assertTrue({words(b.title) for b in fix.brings} <= titles, said)

    def about(self, f):
        """One of the places of a finding."""
        return f.code, f.drops[0] if f.drops else f.subject.drop, f.subject.part

    def test_of_the_demonstrations(self):
        for make in (canyon, buttress, gully):
            self.holds(make())

    @law(25, suppress_health_check=[HealthCheck.too_slow])
    @given(plans())
    def test_of_any_plan(self, data):
        self.holds(read_plan(data))

    def test_saying_what_is_so_may_show_what_is_short(self):
        """A usual kit whose figures are put right one by one: each is offered, and the last settles it."""
        data = plan_of(doubled(), ropes=[rope(typical=True)], mass=80)
        data["party"][0]["typical"] = True
        plan = read_plan(data)
        [offer] = [o for o in offers(context(plan), Kept()) if o.finding.startswith("kit.typical")]
        self.assertEqual([f.partly for f in offer.fixes], [True, True, False])
        self.holds(plan)
        left = apply(apply(plan, offer.fixes[0].edits), offer.fixes[1].edits)
        self.assertNotIn("kit.typical", {f.code for f in assess(left).findings})

    def test_limiting_knots_that_overload_a_point_are_not_offered(self):
        plan = buttress()
        a = assess(plan)
        drop = next(f for d in a.drops for f in d.findings if f.code == "legs.drop" and f.fix)
        self.assertEqual(words(drop.fix.label), "Tie limiting knots")
        self.assertNotIn(drop.key, {o.finding for o in offers(context(plan), Kept())})
        told = with_offers(a, offers(context(plan), Kept()))
        self.assertIsNone(next(f for d in told.drops for f in d.findings if f.key == drop.key).fix)

    def test_the_next_rope_is_offered_where_the_shortest_that_reaches_is_too_weak(self):
        old = rope("old", 50, strength_kn=capacity(4, 4, "label"), name="Old")
        plan = read_plan(plan_of(doubled(), ropes=[rope("r1", 30), old, rope("r3", 70, name="Long")]))
        [found] = [f for f in assess(plan).drops[0].findings if f.code == "reach.short"]
        self.assertEqual(words(found.fix.label), "Use Old instead")
        [offer] = [o for o in offers(context(plan), Kept()) if o.finding == found.key]
        self.assertEqual([words(f.label) for f in offer.fixes], ["Use Long instead"])

    def test_another_way_is_offered_where_a_rope_is_short_and_not_while_an_answer_is_open(self):
        two = [rope("r1", 45), rope("r2", 45)]
        open_ = [rope(length=40, wet_since_measured="unknown")]
        joined = "Rig this instead: two ropes joined, r1 and r2"
        for ropes, height, labels, carried in (
            (two, 25, [joined], None),
            (two, 25, [joined], ["r1", "r2"]),
            (two, 25, [], ["r1"]),  # what does not go along is not offered
            (open_, 15, [], None),
        ):
            section = quick(2, 0.2, height, "tape", "rounded")
            plan = read_plan(plan_of(doubled(), ropes=ropes, section=section, carry={"ropes": carried}))
            found = {f.key for f in assess(plan).drops[0].findings if f.code == "reach.short"}
            self.assertTrue(found)
            made = [o for o in offers(context(plan), Kept()) if o.finding in found]
            self.assertEqual([words(f.label) for o in made for f in o.fixes], labels)


if __name__ == "__main__":
    unittest.main()


class Wanted(unittest.TestCase):
    """What takes long ends where nobody waits for it any more, and what was kept by then is as it would be."""

    def test_what_is_no_longer_wanted_ends_early_and_leaves_nothing_half(self):
        ctx = context(canyon())
        for ask in (lambda kept: offers(ctx, kept), lambda kept: kept.comparison(ctx, 2, ctx.plan.drops[2], 0)):
            asked, kept = [], Kept()

            def going():
                asked.append(1)
                return len(asked) < 4

            with self.assertRaises(Cancelled), while_wanted(going):
                ask(kept)
            self.assertEqual(len(asked), 4)
            self.assertEqual(ask(kept), ask(Kept()))
