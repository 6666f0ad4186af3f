"""Whatever a chain runs through that somebody rides or is lowered on has a verdict, with their weight on it."""

import copy
import unittest

from hypothesis import HealthCheck, given
from hypothesis import strategies as st

from reamer.core.answer.context import context
from reamer.core.answer.findings import value
from reamer.core.answer.look import look_at
from reamer.core.assess import assess
from reamer.core.load.asked import static_kn
from reamer.core.reading import read_plan
from reamer.core.rope.rigged import strands
from reamer.core.rope.strands import tied_on
from tests import law
from tests.builders import capacity, doubled, known, plan_of, releasable, rope, unknown
from tests.core.test_any_plan import LEVELS, capacities, figures, plans
from tests.core.test_assess import SAME, SINGLE

DAMAGE = {"at_m": known(55, "tape"), "takes_m": known(0.5, "tape"), "use": "knot passed"}


@st.composite
def chains(draw):
    """A plan with second ropes, a traverse line, two on a device, and damage said in every way."""
    data = draw(plans())
    station = data["drops"][0]["station"]
    for r in data["shed"]["ropes"]:
        for d in r["damage"]:
            d.update(
                use=draw(st.sampled_from(["knot passed", "longest sound piece", "cut off"])),
                as_now=draw(st.sampled_from(["yes", "no", "unknown"])),
            )
    if draw(st.booleans()):
        station["traverse"] = {
            "rope": draw(st.sampled_from(["r2", "r3"])),
            "span_m": draw(figures(1, 40)),
            "sag_m": draw(figures(0.1, 4)),
            "slope_deg": draw(figures(0, 40)),
            "near": draw(capacities()),
            "far": draw(capacities()),
        }
    station["together"] = draw(st.sampled_from(["no", "one strand", "own strands"]))
    return data


def carried(plan, which):
    """Keys of the parts that a state's chains run through, with the share of the rider that is on each."""
    look = look_at(context(plan), 0, plan.drops[0], which)
    hanging, system, made = value(strands(look)), look.system, {}
    for s in hanging:
        for piece in s.single if s.load_share else ():
            made[f"rope.{piece.rope.id}-{piece.end}"] = s.load_share
    if hanging and tied_on(system) is not None:
        made["join"] = 1.0
    if hanging and system.kind == "joined" and len(hanging) == 2:
        made["join"] = 0.5
    more = getattr(system, "reserve_rope", None)
    if hanging and more in look.ctx.ropes:
        made |= {f"rope.{more}-{system.reserve_end}": 1.0, "join.reserve": 1.0}
    return made


class Chain(unittest.TestCase):
    @law(60, suppress_health_check=[HealthCheck.too_slow])
    @given(chains())
    def test_every_piece_and_knot_has_a_verdict_with_the_weight_on_it(self, data):
        p = read_plan(data)
        made = assess(p).drops[0]
        kg = max((x.mass_kg.known for x in p.party if x.mass_kg.known is not None), default=None)
        if any(x.mass_kg.known is None for x in p.party):
            kg = None
        for which, state in enumerate((made, made.last) if made.last else (made,)):
            rig = p.drops[0].station.states[which].rig
            if rig.kind == "none" or not state.parts:
                continue
            gone = any(f.code == "anchor.missing" for f in made.findings)
            parts = {q.key: q for q in state.parts}
            for key, share in {} if gone else carried(p, which).items():
                part = parts.get(key)
                self.assertIsNotNone(part, (key, list(parts)))
                self.assertEqual(part.demand is None, kg is None, key)
                if kg is not None:
                    self.assertGreaterEqual(part.demand.value, share * static_kn(kg) - 1e-9, key)
                if part.low is None:
                    self.assertEqual(part.verdict, "Not checked", key)

    def low(self, system, *, fibre="nylon", damage=(), which="rope.r1-b", **more):
        ropes = [rope(fibre=fibre, damage=list(damage), **more), rope("r2", fibre=fibre, damage=list(damage))]
        data = plan_of(system, ropes=[*ropes, rope("c1", 60, 6, "pull cord")])
        return next(q for q in assess(read_plan(data)).drops[0].parts if q.key == which)

    def test_a_knot_that_isolates_damage_takes_of_the_strand_it_hangs_in(self):
        """An alpine butterfly keeps 0.60 of nylon and 0.35 of HMPE at the low end (knot tables, from memory)."""
        for fibre, kept in (("nylon", 0.6), ("HMPE", 0.35)):
            whole, hurt = (self.low(doubled(), fibre=fibre, damage=d) for d in ((), (DAMAGE,)))
            points = {h.key: h.low.value for h in hurt.points}
            self.assertAlmostEqual(points["butterfly"], kept * 20, 6)
            self.assertAlmostEqual(hurt.low.value, min(whole.low.value, kept * 20), 6)
            # It hangs in the half that ends at B, 5 m from it; the other holds as before.
            other = [self.low(doubled(), fibre=fibre, damage=d, which="rope.r1-a") for d in ((), (DAMAGE,))]
            self.assertEqual(other[0].low, other[1].low)
        tied = {**SAME, "tied_on": {"rope": "r2", "end": "b"}}
        for system, key in ((tied, "rope.r2-b"), ({**releasable(20), "reserve_rope": "r2"}, "rope.r2-a")):
            self.assertIn("butterfly", {h.key for h in self.low(system, damage=(DAMAGE,), which=key).points})
        blank = {**DAMAGE, "at_m": unknown("?")}
        self.assertIn("butterfly", {h.key for h in self.low(SINGLE, damage=(blank,)).points})

    def tied(self, **below):
        """A short ride strand with a long rope tied to it, which is pulled up with it."""
        system = {**SAME, "tied_on": {"rope": "r2", "end": "b", "tails_m": known(0.3)}}
        kinds = [rope(length=24, diameter=8), rope("r2", 50, **{"diameter": 8, **below})]
        return assess(read_plan(plan_of(system, ropes=kinds))).drops[0]

    def test_what_lies_in_a_chain_is_where_its_pieces_end(self):
        made = self.tied(damage=[{**DAMAGE, "at_m": known(6, "tape")}])
        ride = next(r for r in made.reach if r.role == "ride")
        self.assertEqual([x.what for x in ride.lies], ["join", "isolating knot"])
        join, knot = ride.lies
        # The join hangs where the upper rope ends; the knot up to 6 m further, less the errors of both figures and
        # what the join and its tails take: as near the ring as it may be.
        self.assertLess(join.below.value, 24)
        self.assertTrue(2 < knot.below.value - join.below.value < 6)

    def test_the_pull_rubs_and_weighs_as_the_worse_of_its_pieces(self):
        light = self.tied().pull
        for more in ({"diameter": 11}, {"mass_kg_m": known(0.12)}, {"fibre": "nylon", "mass_kg_m": known(0.09)}):
            heavier = self.tied(**more).pull
            self.assertGreater(heavier.worst.value, light.worst.value, more)
        slippery = self.tied(fibre="HMPE").pull
        self.assertAlmostEqual(slippery.high.value, light.high.value, 6)
        self.assertLess(slippery.low.value, light.low.value)
        blank = self.tied(diameter=9, mass_kg_m=unknown("?"))
        self.assertIsNotNone(blank.pull.worst)

    @law(40, suppress_health_check=[HealthCheck.too_slow])
    @given(st.data(), chains())
    def test_a_weaker_or_unknown_second_rope_is_never_milder(self, source, data):
        """Strength, fibre, damage and elongation of every rope that somebody may hang on."""
        after = copy.deepcopy(data)
        one = source.draw(st.sampled_from(after["shed"]["ropes"]))

        def half():
            if one["strength_kn"]["kind"] == "range":
                one["strength_kn"] = capacity(one["strength_kn"]["low_kn"] / 2, one["strength_kn"]["high_kn"], "label")

        steps = {
            "half": half,
            "strength unknown": lambda: one.update(strength_kn=unknown("?")),
            "of HMPE": lambda: one.update(fibre="HMPE"),
        }
        name = source.draw(st.sampled_from(sorted(steps)))
        steps[name]()
        was, now = (assess(read_plan(d)).drops[0] for d in (data, after))
        for s, t in ((was, now), (was.last, now.last)):
            if s is None or t is None:
                continue
            old = {q.key: q for q in s.parts}
            for q in t.parts:
                before = old.get(q.key)
                if before is not None and before.low is not None and q.low is not None:
                    self.assertLessEqual(q.low.value, before.low.value + 1e-9, (name, q.key))
        worst = [max((LEVELS[f.severity] for f in d.findings), default=0) for d in (was, now)]
        if name == "half":
            self.assertGreaterEqual(worst[1], worst[0])


if __name__ == "__main__":
    unittest.main()
