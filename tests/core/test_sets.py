"""The choice of ropes against brute force, against an integer program, and by its laws."""

import math
import unittest
from itertools import combinations, pairwise, product

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import Bounds, LinearConstraint, milp

from reamer.core.descent.sets import (
    Option,
    Question,
    answers,
    any_gone,
    best,
    binding,
    bits,
    chain,
    least_of,
    lightest,
    supersets,
    weigh,
    with_more,
    without,
)
from reamer.core.errors import Cancelled
from tests import law
from tests.outside import Outside

PROGRAM = Outside("the lightest set of ropes for a descent", "an integer program, solved by HiGHS", "scipy", "kg")


@st.composite
def questions(draw, ropes=6, stations=5):
    n = draw(st.integers(1, ropes))
    weights = tuple(draw(st.lists(st.sampled_from([1.1, 2.0, 2.7, 3.4, 4.1, 5.2]), min_size=n, max_size=n)))

    def options():
        some = []
        for _ in range(draw(st.integers(0, 4))):
            of = draw(st.sets(st.integers(0, n - 1), min_size=1, max_size=min(3, n)))
            ridden = draw(st.sets(st.sampled_from(sorted(of)), min_size=1))
            some.append(Option(sum(1 << i for i in of), sum(1 << i for i in ridden)))
        return tuple(some)

    count = draw(st.integers(1, stations))
    ways = tuple(options() for _ in range(count))
    lowering = tuple(tuple(w for w in here if draw(st.booleans())) for here in ways)
    flags = {k: draw(st.booleans()) for k in ("lost", "stuck", "lower", "spare", "two_sets")}
    return Question(weights, ways, lowering, draw(st.integers(0, count - 1)), **flags)


def does(q, ropes):
    """Whether a set meets everything, told from the words of the plan alone, one assignment of ways after another."""

    def served(k, left):
        return any(w.ropes & ~left == 0 for w in q.ways[k])

    count = len(q.ways)
    if q.lost and not all(served(j, ropes & ~(1 << r)) for r in bits(ropes) for j in range(1, count)):
        return False
    for taken in product(*(q.lowering if q.lower else q.ways)):
        if any(w.ropes & ~ropes for w in taken):
            continue
        if q.stuck and not all(served(j, ropes & ~w.ropes) for k, w in enumerate(taken) for j in range(k + 1, count)):
            continue
        long = taken[q.longest]
        if q.spare and not all(served(q.longest, ropes & ~(1 << r)) for r in bits(long.ridden)):
            continue
        if q.two_sets and any(a.ropes & b.ropes for a, b in pairwise(taken)):
            continue
        return True
    return False


class Brute(unittest.TestCase):
    @law(250)
    @given(questions())
    def test_every_set_is_judged_as_by_trying_every_assignment(self, q):
        got = answers(q)
        for ropes in range(1 << q.count):
            ours = bool(got.fits[ropes]) and chain(q, got, ropes) is not None
            self.assertEqual(ours, does(q, ropes), bin(ropes))

    @law(150)
    @given(questions())
    def test_the_best_are_the_lightest_and_contain_no_lighter_one(self, q):
        doing = [s for s in range(1 << q.count) if does(q, s)]
        found = best(q, answers(q), 99)
        least = [s for s in doing if not any(t != s and t & ~s == 0 for t in doing)]
        self.assertEqual(sorted(w.ropes for w in found), sorted(least))
        self.assertEqual([w.kg for w in found], sorted(w.kg for w in found))
        if doing:
            self.assertAlmostEqual(found[0].kg, min(weigh(q, s).kg for s in doing))

    @law(60)
    @given(questions(stations=4))
    def test_what_binds_is_as_heavy_alone(self, q):
        """Held to the words: only these stations demanded, the events of all stations kept."""
        top = lightest(q)
        if top is None or q.two_sets:
            return
        count = len(q.ways)

        def does_for(some, ropes):
            def served(k, left):
                return any(w.ropes & ~left == 0 for w in q.ways[k])

            after = [[j for j in range(k + 1, count) if j in some] for k in range(count)]
            if q.lost and not all(served(j, ropes & ~(1 << r)) for r in bits(ropes) for j in after[0]):
                return False
            for k in range(count):
                demanded, spare = k in some, q.spare and k == q.longest and k in some
                ways = (q.lowering if q.lower else q.ways)[k]
                if not demanded and not q.stuck:
                    continue
                if not any(
                    (not demanded or w.ropes & ~ropes == 0)
                    and (not q.stuck or all(served(j, ropes & ~w.ropes) for j in after[k]))
                    and (not spare or all(served(k, ropes & ~(1 << r)) for r in bits(w.ridden)))
                    for w in ways
                ):
                    return False
            return True

        found = binding(q, answers(q), top)
        for some in found:
            alone = [weigh(q, s).kg for s in range(1 << q.count) if does_for(some, s)]
            self.assertGreaterEqual(min(alone), top.kg - 1e-9)
            for fewer in combinations(some, len(some) - 1):
                alone = [weigh(q, s).kg for s in range(1 << q.count) if does_for(fewer, s)]
                self.assertTrue(any(kg < top.kg - 1e-9 for kg in alone))


class Twelve(unittest.TestCase):
    @law(12)
    @given(questions(ropes=12, stations=4))
    def test_up_to_twelve_ropes_by_trying_the_sets_from_the_lightest(self, q):
        top = lightest(q)
        order = sorted(range(1 << q.count), key=lambda s: weigh(q, s).kg)
        first = next((s for s in order if does(q, s)), None)
        self.assertEqual(top is None, first is None)
        if top is not None:
            self.assertAlmostEqual(top.kg, weigh(q, first).kg)
            self.assertTrue(does(q, top.ropes))

    @law(80)
    @given(st.integers(0, 9), st.data())
    def test_families_by_their_definition(self, n, data):
        least = data.draw(st.lists(st.integers(0, (1 << n) - 1), max_size=6))
        closed = supersets(n, least)
        for s in range(1 << n):
            self.assertEqual(bool(closed[s]), any(m & ~s == 0 for m in least))
        kept = {m for m in least if not any(o != m and o & ~m == 0 for o in least)}
        self.assertEqual({int(m) for m in least_of(n, closed)}, kept)
        gone = data.draw(st.integers(0, (1 << n) - 1))
        left, any_one = without(n, gone, closed), any_gone(n, gone, closed)
        for s in range(1 << n):
            self.assertEqual(bool(left[s]), gone & ~s == 0 and bool(closed[s & ~gone]))
            one = all(closed[s & ~(1 << r)] for r in bits(gone) if s >> r & 1)
            self.assertEqual(bool(any_one[s]), one)

    def test_it_stops_when_it_is_no_longer_asked(self):
        way = (Option(1, 1),)
        q = Question((1.0,), (way,), (way,), 0)
        for ask in (lambda: answers(q, lambda: False), lambda: best(q, answers(q), 3, lambda: False)):
            with self.assertRaises(Cancelled):
                ask()


class Laws(unittest.TestCase):
    @law(100)
    @given(questions(), st.sampled_from(["lost", "stuck", "lower", "spare", "two_sets"]))
    def test_a_contingency_less_is_never_heavier(self, q, name):
        on, off = lightest(with_more(q, **{name: True})), lightest(with_more(q, **{name: False}))
        if on is not None:
            self.assertLessEqual(off.kg, on.kg + 1e-9)

    @law(100)
    @given(questions(ropes=5), st.data())
    def test_a_rope_more_in_the_shed_is_never_heavier(self, q, data):
        ways = []
        for here in q.ways:
            of = data.draw(st.sets(st.integers(0, q.count), min_size=1, max_size=2))
            bit = sum(1 << i for i in of)
            ways.append((*here, Option(bit, bit)) if bit >> q.count & 1 else here)
        more = Question(
            (*q.weights, 2.2), tuple(ways), q.lowering, q.longest, q.lost, q.stuck, q.lower, q.spare, q.two_sets
        )
        before, after = lightest(q), lightest(more)
        if before is not None:
            self.assertLessEqual(after.kg, before.kg + 1e-9)

    @law(100)
    @given(questions())
    def test_a_rope_more_carried_never_makes_an_event_worse(self, q):
        got = answers(q)
        for ropes in range(1 << q.count):
            for r in range(q.count):
                if got.fits[ropes] and chain(q, got, ropes) is not None:
                    self.assertIsNotNone(chain(q, got, ropes | 1 << r))

    def test_a_rope_of_unknown_weight_comes_last(self):
        one = (Option(0b01, 0b01), Option(0b10, 0b10))
        q = Question((None, 9.0), (one,), (one,), 0)
        found = best(q, answers(q))
        self.assertEqual([w.ropes for w in found], [0b10, 0b01])
        self.assertEqual([w.unknown for w in found], [0, 1])


class IntegerProgram(unittest.TestCase):
    """Against HiGHS by way of scipy's milp: one variable a rope, one a way taken, one a way that stands in after each
    event."""

    def program(self, q):
        n, count = q.count, len(q.ways)
        names: dict[tuple, int] = {("rope", r): r for r in range(n)}

        def var(*key):
            return names.setdefault(key, len(names))

        rows: list[tuple[dict[int, float], float]] = []  # sum of coefficients × variables at least this

        def stands_in(tag, j, gone):
            """Some way at j with what is left: a variable each; those with a rope that is gone are none."""
            some = [(i, w) for i, w in enumerate(q.ways[j]) if not w.ropes & gone]
            for i, w in some:
                for r in bits(w.ropes):
                    rows.append(({r: 1, var(tag, j, i): -1}, 0))
            return {var(tag, j, i): 1.0 for i, _ in some}

        for k in range(count):
            ways = (q.lowering if q.lower else q.ways)[k]
            rows.append(({var("way", k, i): 1.0 for i in range(len(ways))}, 1))
            for i, w in enumerate(ways):
                take = var("way", k, i)
                for r in bits(w.ropes):
                    rows.append(({r: 1, take: -1}, 0))
                if q.stuck:
                    for j in range(k + 1, count):
                        rows.append(({**stands_in(("stuck", k, i), j, w.ropes), take: -1}, 0))
                if q.spare and k == q.longest:
                    for r in bits(w.ridden):
                        rows.append(({**stands_in(("spare", i, r), k, 1 << r), take: -1}, 0))
                if q.two_sets and k + 1 < count:
                    for j, v in enumerate((q.lowering if q.lower else q.ways)[k + 1]):
                        if v.ropes & w.ropes:
                            rows.append(({take: -1, var("way", k + 1, j): -1}, -1))
        if q.lost:
            for r in range(n):
                for j in range(1, count):
                    rows.append(({**stands_in(("lost", r), j, 1 << r), r: -1}, 0))
        size = len(names)
        matrix = np.zeros((len(rows), size))
        for at, (of, _) in enumerate(rows):
            for v, c in of.items():
                matrix[at, v] = c
        cost = np.zeros(size)
        cost[:n] = q.weights
        done = milp(
            cost,
            constraints=LinearConstraint(matrix, [low for _, low in rows], math.inf) if rows else None,
            integrality=np.ones(size),
            bounds=Bounds(0, 1),
        )
        return done.fun if done.success else None

    @law(60)
    @given(questions(ropes=9, stations=6))
    def test_the_weight_is_the_programs(self, q):
        ours = lightest(q)
        theirs = self.program(q)
        if ours is None or theirs is None:
            PROGRAM.same(self, ours, theirs)
        else:
            PROGRAM.near(self, ours.kg, theirs, 5e-7)


if __name__ == "__main__":
    unittest.main()
