"""What a change did: every difference is told once, and nothing that became unknown is called better."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.codes import SEVERITIES
from reamer.core.answer.context import context
from reamer.core.answer.did import OPEN, did
from reamer.core.answer.findings import Finding, Subject
from reamer.core.answer.say import Number, Sentence, words
from reamer.core.assess import assess
from reamer.core.plan.edits import PLAN, apply
from reamer.core.plan.record import Record
from reamer.core.second.check import more_of, standing
from reamer.demos import DEMOS, canyon
from tests import law


def finding(code, severity, drop, metres):
    title = Sentence("{m} short", {"m": Number(metres, "length")})
    return Finding(code, severity, Subject(drop, "rope.r1", ""), title, Sentence("because"))


FINDINGS = st.lists(
    st.builds(
        finding,
        st.sampled_from(("reach.short", "reach.unknown", "pull.hard", "rope.weak")),
        st.sampled_from(SEVERITIES),
        st.sampled_from(("d1", "d2", "d3")),
        st.sampled_from((1.0, 2.0)),
    ),
    max_size=8,
)


def told(before, after, plan=None):
    plan = plan or canyon()
    return did((plan, before), (plan, after), {})


def all_of(plan):
    a = assess(plan, fixes=False)
    return a, [*a.findings, *(f for d in a.drops for f in d.findings)]


class Paired(unittest.TestCase):
    @law(60)
    @given(FINDINGS, FINDINGS)
    def test_each_finding_is_in_one_pair_and_back_again_it_is_the_other_way_round(self, before, after):
        rows, back = told(before, after).rows, told(after, before).rows
        count = {b: sum(r.became == b for r in rows) for b in ("new", "gone")}
        self.assertEqual(len(after) - len(before), count["new"] - count["gone"])
        self.assertEqual(count["new"], sum(r.became == "gone" for r in back))
        self.assertEqual(sum(r.became == "better" for r in rows) > 0, any(self._milder(r) for r in rows))
        for r in rows:
            # What is not known is no better than what is short.
            if r.became == "better":
                self.assertFalse(r.severity in OPEN and r.was in OPEN, r)
                self.assertGreater(SEVERITIES.index(r.severity), SEVERITIES.index(r.was))

    def _milder(self, r):
        return (
            r.was is not None
            and r.after is not None
            and SEVERITIES.index(r.severity) > SEVERITIES.index(r.was)
            and not (r.severity in OPEN and r.was in OPEN)
        )

    @law(30)
    @given(FINDINGS)
    def test_what_is_said_as_before_is_not_told(self, some):
        self.assertEqual(told(some, list(reversed(some))).rows, ())
        self.assertEqual(words(told(some, some).said), "Nothing else changed.")

    def test_another_figure_is_still_open_and_told_with_both(self):
        short = [[finding("reach.short", "Shortfall", "d1", m)] for m in (1.0, 2.0)]
        (row,) = told(*short).rows
        said = row.became, words(row.before), words(row.after)
        self.assertEqual(said, ("still open", "1.0 m short", "2.0 m short"))

    def test_what_becomes_unknown_is_still_open(self):
        (row,) = told(
            [finding("reach.short", "Shortfall", "d1", 1.0)], [finding("reach.unknown", "Not checked", "d1", 1.0)]
        ).rows
        self.assertEqual(row.became, "still open")

    def test_what_wants_a_look_comes_first(self):
        rows = told(
            [finding("pull.hard", "Caution", "d1", 1.0), finding("rope.weak", "Shortfall", "d3", 1.0)],
            [finding("pull.hard", "Shortfall", "d1", 1.0), finding("reach.short", "Note", "d2", 1.0)],
        ).rows
        self.assertEqual([r.became for r in rows], ["new", "worse", "gone"])


class OfAPlan(unittest.TestCase):
    def test_a_rope_that_was_cut_tells_every_station_and_agrees_with_the_tally(self):
        plan = canyon()
        n = next(i for i, r in enumerate(plan.shed.ropes) if r.id == "rope-blue")
        length = plan.shed.ropes[n].measured_m.model_copy(update={"value": 22.0})
        cut = apply(plan, [PLAN.at(lambda p: p.shed.ropes[n].measured_m).set(length)])
        (a, before), (b, after) = all_of(plan), all_of(cut)
        one, other = (standing(context(p), x, Record()).tally for p, x in ((plan, a), (cut, b)))
        made = did((plan, before), (cut, after), more_of(one, other))
        stations = {i for r in made.rows for i in ((r.drop,) if r.drop else r.drops) if r.became in ("new", "worse")}
        used = {d.id for d in plan.drops if "rope-blue" in d.station.model_dump_json()}
        self.assertTrue(stations and stations <= used | {"d9"}, stations)
        self.assertGreater(made.more["stations"]["Shortfall"], 0)
        self.assertIsNone(made.more["acts"])
        self.assertIn("Blue 60", made.what)
        self.assertIn(f"{made.more['stations']['Shortfall']} shortfall", words(made.said))
        # Undone, it is told the other way round.
        back = did((cut, after), (plan, before), more_of(other, one))
        self.assertEqual({s: -n for s, n in made.more["stations"].items()}, back.more["stations"])

    def test_nothing_is_left_out_between_any_two_of_a_plans_findings(self):
        """What is there and is not told was there as it is."""
        for demo in DEMOS.values():
            plan = demo()
            _, before = all_of(plan)
            for k in range(len(plan.drops)):
                short = plan.model_copy(update={"drops": (*plan.drops[:k], *plan.drops[k + 1 :])})
                _, after = all_of(short)
                made = did((plan, before), (short, after), {})
                were = {(f.key, f.severity, words(f.title), words(f.reason)) for f in before}
                told_ = {words(r.after) for r in made.rows if r.after is not None}
                for f in after:
                    if (f.key, f.severity, words(f.title), words(f.reason)) not in were:
                        self.assertIn(words(f.title), told_)
