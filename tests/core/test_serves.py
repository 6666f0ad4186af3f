"""Which ropes serve a station: the quick answer held to the comparison's, and its laws."""

import unittest
from itertools import combinations
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.context import context
from reamer.core.reading import read_plan
from reamer.core.rope.strands import ropes_of
from reamer.core.station import comparison, serves
from reamer.core.station.comparison import compare_systems
from reamer.core.station.serves import OPEN, ranked, served
from reamer.demos import buttress, canyon, gully
from tests import law
from tests.builders import doubled, plan_of, quick, rope, unknown

KINDS = ("low-stretch", "dynamic single", "dynamic half", "pull cord")


@st.composite
def sheds(draw):
    """One drop, and ropes of which few are alike."""
    ropes = [
        rope(
            f"r{i}",
            draw(st.sampled_from([18.0, 25.0, 32.0, 40.0, 55.0, 70.0])),
            draw(st.sampled_from([8.0, 9.0, 9.8])) if kind != "pull cord" else 6.0,
            kind,
            fibre=draw(st.sampled_from(["nylon", "polyester", "unknown"])),
        )
        for i, kind in enumerate(draw(st.lists(st.sampled_from(KINDS), min_size=1, max_size=4)))
    ]
    landing = draw(st.sampled_from(["ground", "pool", "moving water", "hanging stance"]))
    height = draw(st.sampled_from([6.0, 14.0, 24.0, 33.0]))
    return read_plan(
        plan_of(doubled("r0"), ropes=ropes, landing=landing, section=quick(2, 0.2, height, "tape", "coarse"))
    )


def all_tried(plan, k=0):
    """Every way that the comparison tries at a station, but straight round a tree, with its states and own faults."""
    seen = []

    def spy(look, states, system, in_use, tree="", fix=None):
        made = real(look, states, system, in_use, tree, fix)
        if not tree:
            seen.append((states, made))
        return made

    real = comparison._tried
    with mock.patch.object(comparison, "_tried", spy):
        compare_systems(context(plan), k, plan.drops[k])
    return seen


class Held(unittest.TestCase):
    def check(self, plan, k=0):
        at = serves.Tried(context(plan), k, plan.drops[k])
        for states, tried in all_tried(plan, k):
            fails = [f.code for f in tried.own if f.severity == "Shortfall" or f.code in OPEN]
            self.assertEqual(at.tried(states, False) is None, bool(fails), (tried.way.key, fails))

    def test_each_way_of_the_demonstrations_is_decided_as_the_comparison_does(self):
        for make in (canyon, buttress, gully):
            plan = make()
            for k in range(len(plan.drops)):
                with self.subTest(plan.title, drop=k + 1):
                    self.check(plan, k)

    @law(12)
    @given(sheds())
    def test_and_of_any_shed(self, plan):
        self.check(plan)

    @law(12)
    @given(sheds())
    def test_what_the_comparison_offers_is_served_and_what_is_served_stands(self, plan):
        ctx, drop = context(plan), plan.drops[0]
        got = served(ctx, 0, drop, True)
        offered = [
            frozenset(r for s in states for r in ropes_of(s.system))
            for states, tried in all_tried(plan)
            if not any(f.severity == "Shortfall" or f.code in OPEN for f in tried.own)
        ]
        for ropes in offered:
            self.assertTrue(any(w.ropes <= ropes for w in got.ways), sorted(ropes))
        for way in (*got.ways, *got.lowering):
            with self.subTest(sorted(way.ropes)):
                here = plan.model_copy(update={"drops": (serves.with_states(drop, *way.states),)})
                own = comparison._tried(
                    serves.look_at(context(here), 0, here.drops[0]), way.states, way.system, True
                ).own
                self.assertFalse([f.code for f in own if f.severity == "Shortfall" or f.code in OPEN])
        for a, b in combinations(got.ways, 2):
            self.assertFalse(a.ropes <= b.ropes or b.ropes <= a.ropes)

    @law(10)
    @given(sheds(), st.sampled_from(KINDS), st.sampled_from([20.0, 45.0, 80.0]))
    def test_a_rope_more_in_the_shed_never_takes_a_way_away(self, plan, kind, length):
        before = served(context(plan), 0, plan.drops[0])
        data = plan.model_dump(mode="json")
        data["shed"]["ropes"].append(rope("more", length, 9.0 if kind != "pull cord" else 6.0, kind))
        more = read_plan(data)
        after = served(context(more), 0, more.drops[0])
        for way in before.ways:
            self.assertTrue(any(w.ropes <= way.ropes for w in after.ways))

    def test_the_ways_within_a_set_stand_in_the_comparisons_order(self):
        plan = canyon()
        for k in (0, 4):
            some = ranked(context(plan), k, plan.drops[k], frozenset({"rope-blue", "rope-slate"}))
            ranks = [rank for _, rank in some]
            self.assertEqual(ranks, sorted(ranks))
            kit = plan.shed.model_copy(
                update={"ropes": tuple(r for r in plan.shed.ropes if r.id in ("rope-blue", "rope-slate"))}
            )
            alone = plan.model_copy(update={"shed": kit})
            best = next(w for w in compare_systems(context(alone), k, plan.drops[k]).ways if w.ruled_out is None)
            first = some[0][0]
            self.assertEqual({r.name for r in plan.shed.ropes if r.id in first.ropes}, set(best.ropes))

    def test_what_nobody_knows_serves_nobody(self):
        blank = rope(measured_m=unknown("?"), nominal_m=unknown("?"))
        low = plan_of(doubled(), section=quick(2, 0.2, 15, "tape", "rounded"))
        low["drops"][0]["section"]["height_m"] = unknown("?")
        for data in (plan_of(doubled(), ropes=[blank]), low):
            plan = read_plan(data)
            got = served(context(plan), 0, plan.drops[0])
            self.assertEqual(got.ways, ())
        self.assertTrue(got.why)

    def test_the_nearest_miss_is_the_comparisons_shortage(self):
        section = quick(2, 0.2, 15, "tape", "rounded")
        plan = read_plan(plan_of(doubled(), ropes=[rope(length=36.0)], section=section))
        near = next(m for m in served(context(plan), 0, plan.drops[0], misses=True).misses if m.kind == "doubled")
        row = next(w for w in compare_systems(context(plan), 0, plan.drops[0]).ways if w.kind == "doubled rope")
        # Of a doubled rope each half is short by the half of it.
        self.assertAlmostEqual(near.short[0][1], -2 * row.spare.value, 6)
        for more, want in ((-0.02, set()), (0.02, {"doubled"})):
            longer = rope(length=36.0 + near.short[0][1] / 0.99 + more)
            mended = read_plan(plan_of(doubled(), ropes=[longer], section=section))
            self.assertEqual({w.system.kind for w in served(context(mended), 0, mended.drops[0]).ways}, want)


if __name__ == "__main__":
    unittest.main()
