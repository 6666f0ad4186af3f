"""One open answer that decides: not checked, with the question and both results; a shortfall is short under every
answer."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.reading import read_plan
from tests import law
from tests.builders import capacity, doubled, known, plan_of, quick, rope
from tests.core.test_assess import SINGLE

ANSWERS = ("yes", "no", "unknown")


def drop_of(wet, length=40.0, height=15, **more):
    data = plan_of(
        doubled(),
        ropes=[rope(length=length, wet_since_measured=wet, **more)],
        section=quick(2, 0.2, height, "tape", "rounded"),
    )
    return assess(read_plan(data)).drops[0]


def of(drop, code):
    return [f for f in drop.findings if f.code == code]


def damaged(at, use="longest sound piece", as_now="unknown"):
    return [{"at_m": known(at, "tape"), "takes_m": known(0.0, "given"), "use": use, "as_now": as_now}]


class Undecided(unittest.TestCase):
    def test_it_asks_whether_the_rope_got_wet_and_gives_both_results(self):
        """40 m doubled over 17 m and its knots: enough dry, too short by a tenth of shrinkage."""
        dry, wet, asked = (drop_of(w) for w in ("no", "yes", "unknown"))
        self.assertEqual(of(dry, "reach.short"), [])
        self.assertEqual([f.severity for f in of(wet, "reach.short")], ["Shortfall"])
        [found] = of(asked, "reach.short")
        self.assertEqual(found.severity, "Not checked")
        self.assertEqual(found.field, "shed/ropes/#r1/wet_since_measured")
        self.assertIn("unless r1 has not been wet since it was measured", words(found.title))
        spare = dry.reach[0].spare.value
        self.assertAlmostEqual(found.reason.numbers["then"].value, spare, 6)
        self.assertAlmostEqual(
            -found.title.numbers["short"].value, of(wet, "reach.short")[0].title.numbers["short"].value * -1, 6
        )
        self.assertEqual(asked.tally["Shortfall"], wet.tally["Shortfall"] - 1)

    def test_two_open_answers_that_only_together_decide_are_both_named(self):
        """What hangs is both ropes' length: 36 m and 32 m of it reach where neither has shrunk."""
        system = {**SINGLE, "tied_on": {"rope": "r2", "end": "b"}, "stoppers": [{"rope": "r2", "end": "b"}]}

        def short(height, *wet):
            ropes = [rope(f"r{n}", 22.0, wet_since_measured=w) for n, w in enumerate(wet, 1)]
            ropes.append(rope("c1", 80, 6, "pull cord"))
            data = plan_of(system, ropes=ropes, section=quick(2, 0.2, height, "tape", "rounded"))
            return of(assess(read_plan(data)).drops[0], "reach.short")

        # Where one of them shrunk is enough to be short, and neither shrunk is not.
        height = next(h / 10 for h in range(300, 420) if short(h / 10, "no", "yes"))
        self.assertEqual(short(height, "no", "no"), [])
        [found] = short(height, "unknown", "unknown")
        self.assertEqual(found.severity, "Not checked")
        for name in ("r1", "r2"):
            self.assertIn(f"{name} has not been wet", words(found.title))

    def test_a_part_is_judged_as_what_is_said_of_it(self):
        """Nylon that may get wet: enough dry, too weak wet; nobody has said which."""

        def webbing(wet, kn):
            data = plan_of(doubled(), wet=wet)
            data["shed"]["webbing"][0]["strength_kn"] = capacity(kn, kn, "label")
            drop = assess(read_plan(data)).drops[0]
            part = next(p for p in drop.parts if p.key == "webbing")
            return part, {
                f.severity for f in drop.findings if f.subject.part == "webbing" and "holds" in words(f.title)
            }

        kn = next(k / 10 for k in range(20, 300) if webbing("yes", k / 10)[1] and not webbing("no", k / 10)[1])
        for wet, verdict, said in (
            ("no", "", set()),
            ("unknown", "Not checked", {"Not checked"}),
            ("yes", "Shortfall", {"Shortfall"}),
        ):
            part, told = webbing(wet, kn)
            self.assertEqual((part.verdict, told), (verdict, said), wet)
            self.assertIsNotNone(part.low)

    @law(60)
    @given(st.sampled_from(ANSWERS), st.floats(30, 46), st.sampled_from((None, 3.0, 36.0)), st.sampled_from(ANSWERS))
    def test_short_is_short_under_every_answer(self, wet, length, at, as_now):
        damage = {} if at is None else {"damage": damaged(min(at, length), as_now=as_now)}
        cases = []
        for w in ANSWERS[:2] if wet == "unknown" else (wet,):
            for n in ANSWERS[:2] if at is not None and as_now == "unknown" else (as_now,):
                told = {} if at is None else {"damage": damaged(min(at, length), as_now=n)}
                cases.append({f.subject.part for f in of(drop_of(w, length, **told), "reach.short")})
        found = {f.subject.part: f.severity for f in of(drop_of(wet, length, **damage), "reach.short")}
        always, ever = set.intersection(*cases), set.union(*cases)
        self.assertEqual(found, {p: "Shortfall" if p in always else "Not checked" for p in ever})

    @law(30)
    @given(st.sampled_from(("ground", "moving water", "pool")), st.floats(14, 60), st.sampled_from((3.0, 20.0, 36.0)))
    def test_what_is_short_whatever_the_answers_are_stays_short(self, landing, length, at):
        """Now this strand, now that one: a station with a shortfall under each answer has one while they are open."""

        def short(wet, as_now):
            ropes = [rope(length=length, wet_since_measured=wet, damage=damaged(min(at, length), as_now=as_now))]
            data = plan_of(doubled(), ropes=ropes, landing=landing, section=quick(2, 0.2, 8, "tape", "rounded"))
            return any(f.severity == "Shortfall" for f in assess(read_plan(data)).drops[0].findings)

        if all(short(w, n) for w in ANSWERS[:2] for n in ANSWERS[:2]):
            self.assertTrue(short("unknown", "unknown"))


if __name__ == "__main__":
    unittest.main()
