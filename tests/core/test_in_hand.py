"""Rope in hand when a rope sticks: the arithmetic against worked values, the stretches against trying every length."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.context import context
from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.descent.in_hand import BEST, PIECES, Lay
from reamer.core.descent.prospect import Known, hand
from reamer.core.descent.stations import Stations
from reamer.core.model import Damage, Unknown
from reamer.core.model import Known as Figure
from reamer.core.rope.strands import ropes_at
from reamer.core.station.serves import served
from reamer.demos import buttress, canyon
from tests import LONG, law
from tests.outside import Outside

HELD = Outside("rope in hand, 60 m doubled at 25 m to the hand", "common practice, no source", unit="m")
metres = st.floats(0.5, 100)


def asked(plan, k):
    """What is in hand at one station of a plan, from 0."""
    a = assess(plan)
    return hand(context(plan), Stations(), Known(a.drops, a.webbing, a.descent.times), k)


def carrying(plan, *names):
    """A plan in which just these ropes are carried, by name."""
    some = tuple(r.id for r in plan.shed.ropes if r.name in names)
    return plan.model_copy(update={"carry": plan.carry.model_copy(update={"ropes": some})})


def at(got, p):
    """The stretch in which so much is pulled."""
    return next(s for s in got.stretches if s.begin.value <= p <= s.end.value)


def reshod(plan, name, **update):
    """A plan with one rope otherwise, by name."""
    ropes = tuple(r.model_copy(update=update) if r.name == name else r for r in plan.shed.ropes)
    return plan.model_copy(update={"shed": plan.shed.model_copy(update={"ropes": ropes})})


class Lies(unittest.TestCase):
    def test_worked_values_of_a_free_hang(self):
        """60 m doubled, 25 m from ring to hand: 5 + p in the hand, of which 1 m is lost where it is cut; 24 m from
        p = 20. The other strand is in hand as long as half a metre of it can be tied. Common practice, no source."""
        lay = Lay(30.0, 30.0, 25.0)
        for p in (0.0, 5.0, 20.0, 30.0):
            HELD.near(self, lay.pieces(p)["pulled"], 5.0 + p - 1.0, 1e-9)
        HELD.near(self, lay.until_m, 4.5, 1e-9)
        self.assertEqual(lay.pieces(4.5)["end"], 0.0)
        self.assertEqual(Lay(30.0, 40.0, 25.0).pieces(3.0)["end"], 40 - 3 - 25 - 1)
        self.assertIsNone(Lay(30.0, 25.0, 25.0).until_m)
        self.assertGreaterEqual(lay.pieces(20.0)["pulled"], 24.0)
        self.assertLess(lay.pieces(19.9)["pulled"], 24.0)

    def test_of_two_ropes_the_pulled_one_is_whole_once_its_join_is_at_the_hand(self):
        lay = Lay(48.0, 50.0, 20.0, 49.5)
        self.assertEqual(lay.pieces(19.0), {"pulled": 46.0, "beyond": 0.0, "end": 10.0})
        self.assertEqual(lay.pieces(20.0), {"pulled": 49.5, "beyond": 0.0, "end": 9.0})
        self.assertEqual(lay.pieces(30.0), {"pulled": 49.5, "beyond": 9.0, "end": 0.0})

    @law(200)
    @given(metres, metres, metres, st.floats(0, 1), st.floats(0, 1))
    def test_more_pulled_is_never_less_in_hand_and_never_more_than_there_is(self, a, b, h, one, two):
        whole = a + 1.0
        for lay, all_of_it in ((Lay(a, b, h), a + b), (Lay(a, b, h, whole), whole + b)):
            less, more = sorted((one * b, two * b))
            before, after = lay.pieces(less), lay.pieces(more)
            for piece in ("pulled", "beyond"):
                # A rope whose hanging part is longer than its whole is none.
                if lay.whole_m is None or less >= h or more < h or piece == "beyond" or a + less - h - 1 <= whole:
                    self.assertGreaterEqual(after[piece], before[piece] - 1e-9)
            self.assertLessEqual(after["end"], before["end"] + 1e-9)
            self.assertLessEqual(sum(after.values()), all_of_it + 1e-9)
            self.assertEqual(set(after), set(PIECES))


class Descents(unittest.TestCase):
    def cut(self, plan, k, got, p):
        """Whether all that follows is served by what is left and the pieces as long as they then are: a plan in whose
        shed they lie is asked anew."""
        carried = set(plan.carry.ropes) - ropes_at(plan.drops[k])
        made = []
        for n, run in enumerate(got.pieces):
            corners = [(c.pulled_m, c.metres) for c in run.corners]
            before = max((c for c in corners if c[0] <= p), default=corners[0])
            after = min((c for c in corners if c[0] >= p), default=corners[-1])
            wide = after[0] - before[0]
            long = before[1] if wide < 1e-4 else before[1] + (p - before[0]) / wide * (after[1] - before[1])
            if long >= 2:
                of = next(r for r in plan.shed.ropes if r.id == run.rope)
                size = Figure(kind="known", value=long, method="tape")
                own = {"id": f"cut-{n}", "name": f"cut {n}", "nominal_m": size, "measured_m": size}
                made.append(of.model_copy(update={**own, "wet_since_measured": "no", "middle_mark": False}))
        shed = plan.shed.model_copy(update={"ropes": (*plan.shed.ropes, *made)})
        there = plan.model_copy(update={"shed": shed})
        ctx, some = context(there), carried | {r.id for r in made}
        return all(
            any(w.ropes <= some for w in served(ctx, j, there.drops[j]).ways) for j in range(k + 1, len(plan.drops))
        )

    def test_stretches_are_what_trying_every_length_tells(self):
        tried = 0
        for plan, k in (
            (carrying(canyon(), "Blue 60", "Green 35"), 3),
            (carrying(canyon(), "Blue 60", "Orange cord 42"), 3),
            (buttress(), 1),
        ):
            got = asked(plan, k)
            edges = [x.value for s in got.stretches for x in (s.begin, s.end)]
            most, until = max(edges), got.until.value if got.until else -1.0
            steps = range(1, int(most * 10), 1 if LONG else 7)
            for p in (n / 10 for n in steps):
                if p <= until or min(abs(p - e) for e in edges) < 0.02:
                    continue
                s = at(got, p)
                again = s.leaves == "go on" and "stays" not in words(s.said)
                self.assertEqual(again, self.cut(plan, k, got, p), (plan.title, k, p, words(s.said)))
                tried += 1
        self.assertGreater(tried, 40)

    def test_stretches_follow_one_another_over_the_whole_pull(self):
        for plan in (canyon(), buttress()):
            for k in range(len(plan.drops)):
                got = asked(plan, k)
                for s, t in zip(got.stretches, got.stretches[1:], strict=False):
                    self.assertEqual(s.end.value, t.begin.value)
                    self.assertEqual(s.end.toward, t.begin.toward)
                    later = BEST.index(t.leaves) < BEST.index(s.leaves)
                    self.assertEqual(s.end.toward, "up" if later else "down")
                self.assertEqual(bool(got.why), not got.stretches)

    def test_the_last_drop_can_be_left_on_a_piece_that_stays(self):
        """Never long enough to be doubled; once it is as long as the drop and its knots ridden single, and left."""
        plan = carrying(canyon(), "Blue 60")
        plan = plan.model_copy(update={"drops": (plan.drops[4], plan.drops[5])})
        told = [(s.leaves, "stays" in words(s.said)) for s in asked(plan, 0).stretches]
        self.assertEqual(told, [("not checked", False), ("stranded", False), ("go on", True)])

    def test_worse_is_never_milder(self):
        plan = carrying(canyon(), "Blue 60", "Green 35")
        got = asked(plan, 3)
        self.assertIn("go on", [s.leaves for s in got.stretches])
        one = Figure(kind="known", value=1, method="tape")
        damage = Damage(at_m=one, takes_m=one)
        hurt = asked(reshod(plan, "Blue 60", damage=(damage,)), 3)
        self.assertNotIn("go on", [s.leaves for s in hurt.stretches if s.begin.value > hurt.until.value])
        blank = Unknown(kind="unknown", why="nobody measured it")
        unknown = asked(reshod(plan, "Blue 60", nominal_m=blank, measured_m=blank), 3)
        self.assertTrue(unknown.why)
        # What may not hold is not called climbable: a rope of unknown strength, a damaged one, an anchor that is short.
        self.assertEqual(asked(carrying(canyon()), 0).stretches[0].leaves, "climb")
        for worse in (
            reshod(canyon(), "Blue 60", strength_kn=blank, diameter_mm=blank),
            reshod(canyon(), "Blue 60", damage=(damage,)),
        ):
            self.assertNotIn("climb", [s.leaves for s in asked(carrying(worse), 0).stretches])
        self.assertNotIn("climb", [s.leaves for s in asked(carrying(canyon()), 4).stretches])
        # A pull cord is never climbed, however much of it is in hand.
        cord = asked(canyon(), 5)
        self.assertNotIn("climb", [s.leaves for s in cord.stretches])
        # No section of what follows: nobody knows.
        drops = list(plan.drops)
        state = drops[8].station.states[0]
        rig = state.rig.model_copy(update={"gain_m": blank})
        station = drops[8].station.model_copy(update={"states": (state.model_copy(update={"rig": rig}),)})
        drops[8] = drops[8].model_copy(update={"station": station})
        open_ = asked(plan.model_copy(update={"drops": tuple(drops)}), 3)
        self.assertIn("not checked", [s.leaves for s in open_.stretches])
        self.assertNotIn("go on", [s.leaves for s in open_.stretches])


if __name__ == "__main__":
    unittest.main()
