"""A station told in moves: who does the same is told together, an edit shows as theirs, and no hazard is left out."""

import unittest

from reamer.core.answer.context import context
from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.reading import read_plan
from reamer.core.rehearsal.moves import SHORT
from reamer.core.rehearsal.rehearsal import gone_through, station_run
from reamer.core.rehearsal.words import SAID
from reamer.demos import DEMOS
from tests.rehearsing import backed, descent_of, party, person

# Of each demonstration how its stations are told, as a guide would say it (common practice, no source).
USUAL = "Maren rigs · Tove checks · rope down · Tove first · Noor, Pim, Wren and Ilya in turn · test-pull · Maren last"
PLAIN = "Sunniva rigs · Bram checks · rope down · Bram first · Lotte · test-pull · Sunniva last"
FAN = "Eskil rigs · Runa checks · rope down · Runa first · Runa threads station {} · test-pull · Eskil last"
TOLD = {
    "canyon": (
        "Ilya rigs · Tove checks · rope down · everybody onto the rope · Tove first ·"
        " Maren, Ilya, Noor and Pim in turn · test-pull · Wren last",
        "Maren rigs · Tove checks · Tove first, let down · Noor, Pim, Wren and Ilya in turn ·"
        " Maren converts, test-pull · Maren last",
        *[USUAL] * 4,
        USUAL.replace("first ·", "first · Tove threads station 8 ·"),
        *[USUAL] * 2,
    ),
    "buttress": (
        PLAIN.replace("first ·", "first · Bram threads station 2 ·"),
        *[PLAIN] * 5,
        PLAIN.replace("test-pull", "the ring over the edge, test-pull"),
    ),
    "gully": (
        FAN.format(2),
        FAN.replace("Runa threads station {} · ", ""),
        FAN.format(4),
        FAN.replace("Runa threads station {} · ", ""),
    ),
}


def told(plan):
    a, ctx = assess(plan, fixes=False), context(plan)
    run = gone_through(ctx, a.drops)
    return [station_run(ctx, run, k) for k in range(len(plan.drops))]


def of(data):
    return told(read_plan(data))


def novices(n):
    return [person(0, "guide"), *(person(i, "novice") for i in range(1, n - 1)), person(n - 1, "second guide")]


def turn(run):
    return next(m for m in run.moves if m.kind == "turn")


class Told(unittest.TestCase):
    def test_every_act_has_its_short_words(self):
        self.assertLessEqual(set(SHORT), set(SAID))

    def test_the_demonstrations_are_told_as_a_guide_tells_them(self):
        for name, want in TOLD.items():
            runs = told(DEMOS[name]())
            for r, line in zip(runs, want, strict=True):
                got = " · ".join(words(m.title) for m in r.moves)
                self.assertEqual(got, f"{line} · pull and stack", f"{name} {r.number}")
            for r in runs:
                # What is read aloud names every hazard that begins in it, once; those by rule are of no act here.
                begun = [s.key for s in r.spans if not s.earlier]
                self.assertEqual(sorted(k for m in r.moves for k in m.hazards), sorted(begun))
                self.assertEqual(r.moves[-1].end, len(r.steps) or r.moves[-1].end)

    def test_a_station_is_read_aloud_in_two_minutes(self):
        for name in TOLD:
            for r in told(DEMOS[name]()):
                said = [x for m in r.moves for x in (m.title, *m.lines, *m.otherwise, m.after)]
                # 150 words a minute: a usual pace of reading aloud (common practice, no source).
                self.assertLessEqual(sum(len(words(x).split()) for x in said), 300, f"{name} {r.number}")

    def test_where_most_are_let_down_whoever_rides_is_said_to_and_what_they_leave_out(self):
        ilya = "Ilya: "
        canyon = DEMOS["canyon"]().model_dump(mode="json")
        canyon["drops"] = canyon["drops"][:2]
        rider = next(p["id"] for p in canyon["party"] if p["name"] == "Ilya")

        def otherwise(*edits):
            canyon["drops"][1]["station"]["through"]["edits"] = list(edits)
            run = of(canyon)[1]
            return next(words(x) for x in turn(run).otherwise if words(x).startswith(ilya)), run

        plain, run = otherwise()
        self.assertTrue(plain.startswith(f"{ilya}rides; on a third hand"), plain)
        for s in [s for s in run.steps if s.who == rider and s.do in ("load device", "take off device", "test")]:
            told_, _ = otherwise({"kind": "drop", "act": s.key})
            self.assertNotEqual(told_, plain, s.do)
            self.assertTrue("rides;" not in told_ or "not: " in told_, told_)

    def test_a_station_that_is_not_reached_is_told_by_rule_and_says_so(self):
        runs = told(DEMOS["canyon"]())
        barred = [r for r in runs if r.barred is not None]
        self.assertTrue(barred)
        for r in barred:
            self.assertEqual((r.steps, len(r.moves) > 5), ((), True))

    def test_the_same_acts_by_several_are_one_move_and_nobody_does_otherwise(self):
        for n in (4, 6, 8):
            plan, one = (
                read_plan(backed(descent_of("doubled", novices(i), drops=1), "fireman's belay")) for i in (n, 3)
            )
            (run,), (alone_run,) = told(plan), told(one)
            move = turn(run)
            self.assertEqual((len(move.people), move.otherwise), (n - 2, ()))
            # It is told once, however many do it.
            first = run.order[0], alone_run.order[0]
            names = [next(p.name for p in plan.party if p.id == i) for i, plan in zip(first, (plan, one), strict=True)]
            lines = [words(x).replace(names[0], names[1]) for x in move.lines]
            self.assertEqual(lines, list(map(words, turn(alone_run).lines)))
            self.assertLess(sum(len(words(x)) for x in (move.title, *move.lines, move.after)), 400)

    def test_an_edit_of_one_persons_acts_shows_as_theirs(self):
        data = backed(descent_of("doubled", novices(6), drops=1), "fireman's belay")
        (plain,) = of(data)
        for do, says in (
            ("check", "checked by nobody"),
            ("test", "not: weight it"),
            ("unclip tether", "not: tether off"),
        ):
            step = next(s for s in plain.steps if s.do == do and "p3" in (s.who, s.what))
            through = data["drops"][0]["station"]["through"]
            data["drops"][0]["station"]["through"] = {**through, "edits": [{"kind": "drop", "act": step.key}]}
            (run,) = of(data)
            (one,) = turn(run).otherwise
            self.assertTrue(words(one).startswith("Dan: "), words(one))
            self.assertIn(says, words(one))
            # The others' acts are told as before, and acts keep their keys.
            self.assertEqual([words(x) for x in turn(run).lines], [words(x) for x in turn(plain).lines])
            self.assertEqual([s.key for s in run.steps], [s.key for s in plain.steps if s.key != step.key])
            data["drops"][0]["station"]["through"] = through

    def test_a_stopper_that_nobody_takes_out_is_said_before_the_pull(self):
        data = descent_of("doubled", party(3), drops=1)
        (plain,) = of(data)
        step = next(s for s in plain.steps if s.do == "untie" and s.what.startswith("stopper"))
        data["drops"][0]["station"]["through"] = {"edits": [{"kind": "drop", "act": step.key}]}
        (run,) = of(data)
        unmet = [words(n.said) for m in run.moves if m.kind == "pull" for n in m.needs if not n.met]
        self.assertEqual(unmet, ["the stopper in end A of r1 out"])

    def test_an_edit_splits_moves_and_joins_them_again(self):
        data = descent_of("doubled", party(4), drops=1)
        (plain,) = of(data)
        check = next(s for s in plain.steps if s.do == "check" and s.what == "station")
        ride = next(s for s in plain.steps if s.do == "descend")
        move = {"kind": "move", "act": check.key, "after": ride.key}
        data["drops"][0]["station"]["through"] = {"edits": [move]}
        (late,) = of(data)
        kinds = [m.kind for m in late.moves]
        self.assertEqual(kinds[:6], ["rig", "check", "rope", "first", "check", "first"])
        # What was to be true before the first goes is not, and that is said.
        first = next(m for m in late.moves if m.kind == "first")
        self.assertIn(False, [n.met for n in first.needs])
        self.assertTrue(all(n.met for m in plain.moves for n in m.needs))
        own = {"kind": "add", "id": "w", "after": check.key, "do": "look up", "who": check.who, "what": ""}
        data["drops"][0]["station"]["through"] = {"edits": [own]}
        (more,) = of(data)
        self.assertEqual([m.kind for m in more.moves], [m.kind for m in plain.moves])
        self.assertEqual(sum(m.end - m.begin + 1 for m in more.moves), len(plain.steps) + 1)


if __name__ == "__main__":
    unittest.main()
