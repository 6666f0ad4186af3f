"""What comes home from a card: laws of the merge on random corrections, and what is refused."""

import json
import unittest
from datetime import date
from itertools import product

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.errors import PlanError
from reamer.core.model import Known
from reamer.core.onsite.figures import on_card
from reamer.core.onsite.handed import MOST_BYTES, joined, read_handed
from reamer.core.onsite.home import homecoming, of_this_plan
from reamer.core.onsite.noted import about, id_of
from reamer.core.onsite.survey import careful, given_back, taken_in, taking
from reamer.core.reading import read_plan
from reamer.demos import canyon
from tests.builders import handed_back, known
from tests.rehearsing import descent_of, party


def plan_at_home():
    """Three drops alike, the last one surveyed in shots, the second with a record of its post."""
    data = json.loads(json.dumps(descent_of("doubled", party(3), "ledge", 3)))
    data["drops"][2]["section"] = {
        "kind": "shots",
        "shots": [{"id": "s1", "slope_m": known(12, "tape"), "incl_deg": known(-88, "tape"), "edge": "rounded"}],
    }
    post = data["drops"][1]["station"]["features"][0]["name"]
    record = {"id": "old", "on": "2026-03-01", "item": post, "found": "", "condition": "good", "decision": "use"}
    data["drops"][1]["station"]["inspections"] = [record]
    return read_plan(data)


PLAN = plan_at_home()
ANSWER = assess(PLAN, fixes=False)
CARD = on_card(PLAN, ANSWER)


def read(corrections, **more):
    return read_handed(handed_back(corrections, **more).encode())[0]


@st.composite
def notes(draw):
    """Some corrections of one phone, at most one of each thing."""
    made = {}
    for s in draw(st.lists(st.sampled_from(CARD), min_size=1, max_size=5)):
        at = {"drop": s.drop, "station": s.station}
        what = draw(st.sampled_from(("height", "reach", "anchor", "pull", "time", "incident")))
        one = {
            "height": lambda s=s: {
                "m": draw(st.integers(5, 4000)) / 10,
                "method": draw(st.sampled_from(("known rope", "rangefinder", "tape", "eye"))),
                "was_m": s.height_m,
            },
            "reach": lambda s=s: {
                "end": draw(st.sampled_from(s.ends)).end,
                "reached": draw(st.booleans()),
                "by_m": draw(st.none() | st.integers(0, 30).map(float)),
            },
            "anchor": lambda s=s: {
                "item": draw(st.sampled_from(s.anchors)).item,
                "state": draw(st.sampled_from(("good", "worn", "bad", "gone"))),
                "words": draw(st.sampled_from(("", "moss", "=1+1 <b>"))),
            },
            "pull": lambda: {"felt": draw(st.sampled_from(("easy", "firm", "hard", "stuck")))},
            "time": lambda: {"which": draw(st.sampled_from(("arrived", "left"))), "clock": "09:30"},
            "incident": lambda: {
                "near": draw(st.booleans()),
                "words": draw(st.sampled_from(("slipped", "dropped it"))),
            },
        }[what]()
        made.setdefault((s.drop, what), {**at, "what": what, **one})
    return list(made.values())


def of_two(draw_a, draw_b):
    return read(draw_a, device="a" * 16, by="Wren"), read(draw_b, device="b" * 16, by="Pim")


def takeable(plan, handed):
    drops = {d.id: d for d in plan.drops}
    return [id_of(handed, c) for c in handed.corrections if taking(c, handed, drops[c.drop])[0] is not None]


class Careful(unittest.TestCase):
    def test_a_height_is_bad_news_only_where_it_is_longer_and_so_is_its_upper_bound(self):
        """Against 15 m by a printed description, 16.5 m at most: by tape 1 % is added, by eye 20 %."""
        (drop, *_), told = PLAN.drops, known(15, "guidebook")
        section = drop.section.model_copy(update={"height_m": Known.model_validate(told)})
        drop = drop.model_copy(update={"section": section})
        for m, method, want in ((16.1, "tape", False), (16.4, "tape", True), (16.1, "eye", True), (14.0, "eye", False)):
            felt = {"what": "height", "drop": drop.id, "station": "1", "m": m, "method": method, "was_m": 15}
            a = read([felt])
            self.assertEqual(careful(a.corrections[0], a, drop), want, (m, method))
        # What is older than the figure it would replace is told, and not for anybody to take unasked.
        for on, old in (("2026-05-01", False), ("2026-05-02", False), ("2026-05-03", True), (None, False)):
            figure = Known.model_validate({**told, "on": on})
            dated = drop.model_copy(update={"section": section.model_copy(update={"height_m": figure})})
            a = read([{**felt, "m": 19.0, "method": "tape"}], on="2026-05-02")
            self.assertEqual(careful(a.corrections[0], a, dated), not old, on)
            sentence = words(taking(a.corrections[0], a, dated)[0])
            self.assertEqual("It is the older one: it was measured on 2026-05-02." in sentence, old)
            self.assertEqual(f"guidebook of {on}" in sentence, on is not None)


class Laws(unittest.TestCase):
    @given(notes(), notes())
    def test_the_order_in_which_two_phones_come_home_does_not_count(self, one, other):
        a, b = of_two(one, other)
        heights = {c.drop for c in a.corrections if c.what == "height"}
        mine, theirs = takeable(PLAN, a), takeable(PLAN, b)
        # Two heights of one drop are one item: the last that is taken stands.
        theirs = [
            i
            for i, c in ((id_of(b, c), c) for c in b.corrections)
            if i in theirs and not (c.what == "height" and c.drop in heights)
        ]
        ab = taken_in(taken_in(PLAN, a, mine)[0], b, theirs)[0]
        ba = taken_in(taken_in(PLAN, b, theirs)[0], a, mine)[0]
        self.assertEqual(ab, ba)
        self.assertEqual(read_plan(ab.model_dump(mode="json")), ab)

    @given(notes())
    def test_twice_the_same_is_harmless_and_one_act_takes_it_back(self, one):
        a = read(one)
        plan, taken = taken_in(PLAN, a, takeable(PLAN, a))
        again, none = taken_in(plan, a, takeable(plan, a))
        self.assertEqual((again, none), (plan, ()))
        self.assertEqual(given_back(plan, taken), (PLAN, ()))

    @given(notes(), notes())
    def test_nothing_is_lost_on_either_side(self, one, other):
        a, b = of_two(one, other)
        home = homecoming("", PLAN, ANSWER, a, [(b, True)])
        self.assertEqual({c.id for c in home.came}, {id_of(a, c) for c in a.corrections})
        for c in b.corrections:
            mine = [x for x in a.corrections if about(x) == about(c)]
            if mine:
                found = next(x for x in home.came if x.id == id_of(a, mine[0]))
                self.assertTrue(any(s.words["by"] == "Pim" for s in found.others))
        plan, _ = taken_in(PLAN, a, takeable(PLAN, a))
        for before, after in zip(PLAN.drops, plan.drops, strict=True):
            kept = [i for i in after.station.inspections if not i.id.startswith("c-")]
            self.assertEqual(kept, list(before.station.inspections))
            bare = [
                d.model_dump(exclude={"section": {"height_m"}, "station": {"inspections"}}) for d in (before, after)
            ]
            self.assertEqual(*bare)

    @given(notes())
    def test_what_is_bad_never_makes_the_answer_milder(self, one):
        a = read(one)
        bad = {c.id for c in homecoming("", PLAN, ANSWER, a).came if c.careful}
        worse = [c for c in a.corrections if c.what != "height" and getattr(c, "state", "") != "good"]
        self.assertLessEqual({id_of(a, c) for c in worse} & set(takeable(PLAN, a)), bad)
        plan, _ = taken_in(PLAN, a, sorted(bad))
        was, now = ANSWER.tally, assess(plan, fixes=False).tally
        self.assertGreaterEqual(now["Shortfall"], was["Shortfall"])
        self.assertGreaterEqual(now["Shortfall"] + now["Not checked"], was["Shortfall"] + was["Not checked"])


class Beside(unittest.TestCase):
    def home(self, corrections, plan=PLAN, others=(), **more):
        return homecoming("", plan, assess(plan, fixes=False), read(corrections, **more), others)

    def test_what_the_card_said_stays_beside_what_the_plan_says_now(self):
        d = PLAN.drops[0]
        note = {"drop": d.id, "station": d.name, "what": "height", "m": 18.5, "method": "known rope", "was_m": 15.0}
        (came,) = self.home([note]).came
        self.assertFalse(came.moved)
        self.assertEqual((came.card.numbers["m"].value, came.plan.numbers["m"].value), (15.0, 15.0))
        section = d.section.model_copy(update={"height_m": d.section.height_m.model_copy(update={"value": 17.0})})
        later = PLAN.model_copy(update={"drops": (d.model_copy(update={"section": section}), *PLAN.drops[1:])})
        (came,) = self.home([note], later).came
        self.assertTrue(came.moved)
        self.assertEqual((came.card.numbers["m"].value, came.plan.numbers["m"].value), (15.0, 17.0))
        # A station that is gone is told, and kept for the log.
        (came,) = self.home([note], PLAN.model_copy(update={"drops": PLAN.drops[1:]})).came
        self.assertEqual((came.number, came.take, came.station), (0, None, d.name))
        self.assertIn("gone", came.why)

    def test_a_shorter_height_felt_less_exactly_says_so(self):
        d = PLAN.drops[0]
        at = {"drop": d.id, "station": d.name, "what": "height", "was_m": None}
        (eye,) = self.home([{**at, "m": 9.0, "method": "eye"}]).came
        self.assertIn("felt less exactly", eye.take.template)
        (longer,) = self.home([{**at, "m": 19.0, "method": "eye"}]).came
        self.assertNotIn("felt less exactly", longer.take.template)

    def test_found_good_does_not_pardon_what_was_condemned(self):
        d = PLAN.drops[1]
        old = d.station.inspections[0]
        note = {"drop": d.id, "station": d.name, "what": "anchor", "item": old.item, "state": "good"}
        for more, may in (
            ({"condition": "bad", "on": date(2026, 5, 2)}, False),
            ({"condition": "bad", "on": None}, False),
            ({"decision": "replace", "on": date(2026, 5, 1)}, True),
            ({"condition": "worn", "decision": "back up", "on": date(2026, 5, 2)}, True),
            ({"on": date(2026, 5, 1)}, True),
        ):
            was = old.model_copy(update=more)
            station = d.station.model_copy(update={"inspections": (was,)})
            plan = PLAN.model_copy(update={"drops": (PLAN.drops[0], d.model_copy(update={"station": station}))})
            a = read([note])
            self.assertEqual(bool(takeable(plan, a)), may, more)
            later = read([note], on="2026-01-01")
            newer = [
                c.take.words["later"] for c in homecoming("", plan, assess(plan, fixes=False), later).came if c.take
            ]
            condemned = was.condition == "bad" or was.decision == "replace"
            self.assertEqual(newer, [] if condemned else [str(was.on)])
            if may:
                made = taken_in(plan, a, takeable(plan, a))[0].drops[1].station.inspections[-1]
                self.assertEqual(
                    made.decision, "undecided" if (was.condition, was.decision) != ("good", "use") else "use"
                )

    def test_what_is_found_better_later_names_the_worse_it_would_replace_and_waits_to_be_taken(self):
        d = PLAN.drops[0]
        item = d.station.features[0].name
        states = ("good", "worn", "bad", "gone")
        for first, then in product(states, states):
            note = {"drop": d.id, "station": d.name, "what": "anchor", "item": item}
            one = read([{**note, "state": first, "words": "a crack"}], by="Wren", on="2026-05-01")
            plan = taken_in(PLAN, one, takeable(PLAN, one))[0]
            for on in ("2026-04-30", "2026-05-01", "2026-05-02"):
                (came,) = self.home([{**note, "state": then}], plan, by="Pim", on=on).came
                better = states.index(then) < states.index(first) and {first, then} != {"bad", "gone"}
                names = better and on == "2026-05-02"
                self.assertEqual("takes the place of" in came.take.template, names, (first, then, on))
                if names:
                    self.assertFalse(came.careful)
                    self.assertIn("a crack", came.take.words["found"])
                    self.assertEqual(came.take.words["day"], "2026-05-01")
                elif then != "good":
                    self.assertTrue(came.careful)

    def test_a_rope_that_reached_by_less_than_was_told_is_bad_news(self):
        s = CARD[0]
        note = {"drop": s.drop, "station": s.station, "what": "reach", "end": s.ends[0].end, "reached": True}
        told = s.ends[0].spare_m
        for by, bad in ((told - 0.5, True), (0.0, True), (told, False), (told + 1, False), (None, False)):
            (came,) = self.home([{**note, "by_m": by, "was_m": told}]).came
            self.assertEqual((came.take is not None, came.careful), (bad, bad), by)
            a = read([{**note, "by_m": by, "was_m": told}])
            codes = [f.code for f in assess(taken_in(PLAN, a, takeable(PLAN, a))[0], fixes=False).drops[0].findings]
            self.assertEqual("inspection.open" in codes, bad)

    def test_of_two_records_of_one_day_the_worst_is_told(self):
        d = PLAN.drops[0]
        item = d.station.features[0].name
        note = {"drop": d.id, "station": d.name, "what": "anchor", "item": item}
        good, bad = read([{**note, "state": "good"}], by="Wren"), read([{**note, "state": "gone"}], by="Pim")
        for order in ((good, bad), (bad, good)):
            plan = PLAN
            for h in order:
                plan = taken_in(plan, h, takeable(plan, h))[0]
            codes = [f.code for f in assess(plan, fixes=False).drops[0].findings]
            self.assertIn("inspection.bad", codes)

    def test_what_was_changed_since_stays(self):
        d = PLAN.drops[0]
        note = {"drop": d.id, "station": d.name, "what": "height", "m": 18.5, "method": "known rope"}
        first, second = read([note], by="Wren"), read([{**note, "m": 19.0}], by="Pim")
        one, taken = taken_in(PLAN, first, takeable(PLAN, first))
        both, more = taken_in(one, second, takeable(one, second))
        same, left = given_back(both, taken)
        self.assertEqual((same, len(left)), (both, 1))
        # And once both are taken back, what stood there before either does.
        self.assertEqual(given_back(both, more, taken)[0], PLAN)

    def test_of_another_plan(self):
        d = PLAN.drops[0]
        note = {"drop": d.id, "station": d.name, "what": "pull", "felt": "easy"}
        of_this_plan("abc", PLAN, 1, read([note], plan="abc"))
        for revision, most in ((0, 3), (4, 3)):
            with self.assertRaisesRegex(PlanError, f"revision: .*revision {revision}, and this plan has 3"):
                of_this_plan("abc", PLAN, most, read([note], plan="abc", revision=revision))
        of_this_plan("abc", PLAN, 1, read([{**note, "station": "Renamed since"}], plan="abc"))
        of_this_plan("abc", PLAN, 1, read([note], plan="def"))
        with self.assertRaisesRegex(PlanError, "of another plan, “Elsewhere”"):
            of_this_plan("abc", PLAN, 1, read([{**note, "station": "Other"}], plan="def", title="Elsewhere"))
        with self.assertRaisesRegex(PlanError, "of another plan"):
            of_this_plan("abc", PLAN, 1, read([{**note, "drop": "d99"}], plan=""))
        for ids in (["0" * 16], ["x"]):
            with self.assertRaisesRegex(PlanError, "not among"):
                taken_in(PLAN, read([note]), ids)


class Reading(unittest.TestCase):
    NOTE = {"drop": "d1", "station": "Lintel", "what": "height", "m": 18.5, "method": "eye"}

    def test_cut_off_anywhere_it_is_refused_with_a_sentence(self):
        text = handed_back([self.NOTE]).encode()
        for n in range(len(text)):
            with self.assertRaises(PlanError) as caught:
                read_handed(text[:n])
            self.assertTrue(caught.exception.message)
        self.assertTrue(read_handed(text)[1])

    def test_what_was_changed_by_hand_is_told_or_refused_by_its_field(self):
        text = handed_back([self.NOTE])
        self.assertFalse(read_handed(text.replace("18.5", "8.5").encode())[1])
        self.assertFalse(read_handed(json.dumps(json.loads(text), indent=2).encode())[1])
        self.assertFalse(read_handed(handed_back([self.NOTE], sealed=False).encode())[1])
        for change, field in (
            ({"m": 0}, "corrections/0/m"),
            ({"m": "18"}, "corrections/0/m"),
            ({"m": 601}, "corrections/0/m"),
            ({"method": "given"}, "corrections/0/method"),
            ({"what": "depth"}, "corrections/0"),
            ({"drop": "../x"}, "corrections/0/drop"),
            ({"more": 1}, "corrections/0/more"),
        ):
            with self.assertRaises(PlanError) as caught:
                read([{**self.NOTE, **change}])
            self.assertEqual(caught.exception.field, field, change)
        for more, field in (
            ({"by": " "}, "by"),
            ({"on": 5}, "on"),
            ({"card": "x"}, "card"),
            ({"device": ""}, "device"),
        ):
            with self.assertRaises(PlanError) as caught:
                read([self.NOTE], **more)
            self.assertEqual(caught.exception.field, field)
        plan = json.dumps(canyon().model_dump(mode="json")).encode()
        for strange, why in ((plan[:-9], "cut off"), (plan + b" " * MOST_BYTES, "at most"), (b"[]", "not what")):
            with self.assertRaisesRegex(PlanError, why):
                read_handed(strange)

    def test_in_pieces(self):
        text = handed_back([self.NOTE] * 20)
        pieces = [f"reamer:1234abcd:{n + 1}/8:{text[n * 400 : (n + 1) * 400]}" for n in range(8)]
        self.assertLess(len(text), 3200)
        self.assertEqual(joined([*pieces[::-1], pieces[3]]), text.encode())
        self.assertEqual(joined([text]), text.encode())
        for some, why in (
            (pieces[:2] + pieces[4:], "missing: 3, 4"),
            ([*pieces, pieces[0].replace("1234abcd", "00000000")], "more than one"),
            ([], "nothing was read"),
            (["a", "b"], "none of it"),
        ):
            with self.assertRaisesRegex(PlanError, why):
                joined(some)


if __name__ == "__main__":
    unittest.main()
