"""What the rehearsal's screen is drawn and asked from: pictures, spans, the quiz, one station tried otherwise, and what
is kept from one revision to the next."""

import itertools
import json
import unittest
from typing import ClassVar

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.acts.acts import Act, Refused, do
from reamer.core.acts.holding import independent, paths
from reamer.core.answer.context import context
from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.model import ActDropped
from reamer.core.plan.edits import PLAN, apply
from reamer.core.reading import read_plan
from reamer.core.rehearsal.hazards import hazards, seen
from reamer.core.rehearsal.moves import moves
from reamer.core.rehearsal.picture import apart
from reamer.core.rehearsal.rehearsal import (
    broken_at,
    gone_through,
    grip_as,
    mended,
    quiz_of,
    rehearsal,
    state_of,
    station_run,
)
from reamer.demos import DEMOS, buttress, canyon
from tests import law
from tests.builders import iced, known, rope
from tests.core.taught import ORDERS
from tests.core.test_codes import DEVIATION, TRAVERSE, edits, without
from tests.rehearsing import LANDINGS, SYSTEMS, backed, descent_of, party, person, run, run_of


def gone(data):
    plan = read_plan(data)
    ctx = context(plan)
    return ctx, gone_through(ctx, assess(plan, fixes=False).drops)


def apart_(data):
    """The same with nothing shared: drops made alike can be changed one by one."""
    return json.loads(json.dumps(data))


class Pictures(unittest.TestCase):
    def test_what_is_drawn_is_what_holds(self):
        """Everybody is drawn once, where they are, with as many paths apart as hold them, each a path of theirs."""
        for system, landing in itertools.product(SYSTEMS, LANDINGS):
            ctx, play = gone(descent_of(system, party(3), landing, 2))
            for k, p in enumerate(play.stations):
                got = station_run(ctx, play, k)
                self.assertEqual(len(got.steps), len(p.acts))
                for step, world in zip(got.steps, p.states, strict=True):
                    self.assertEqual([q.who for q in step.shows.people], list(world.people))
                    for q in step.shows.people:
                        found = paths(play.scene, world, q.who)
                        self.assertEqual(q.paths, independent(found))
                        self.assertEqual(len(q.lit), q.paths)
                        self.assertTrue(all(frozenset(one) in found for one in q.lit))
                        body = world.people[q.who]
                        self.assertEqual(q.place == "rope", body.spot == "rope" and body.at == k)
                        self.assertEqual(q.place == "above", body.at < k)
                        self.assertEqual(bool(q.links), bool(body.links))
                        self.assertEqual(bool(q.by), bool(found))
                    for s in step.shows.strands:
                        rope = world.ropes[s.rope]
                        self.assertEqual(s.stopper, rope.has(f"stopper {s.end}"))
                        self.assertEqual(s.hangs in ("landing", "gone"), "pulled" in world.stations[k].done)
                    state = state_of(ctx, play, k, step.number - 1)
                    self.assertEqual(state.to_untie, step.to_untie)
                    self.assertEqual(state.held, step.held)

    @given(st.lists(st.frozensets(st.sampled_from([f"hand.{x}" for x in "abcdef"]), min_size=1), max_size=5))
    def test_paths_apart_share_nothing_that_counts_and_are_never_too_many(self, sets):
        found = tuple(dict.fromkeys(sets))
        some = apart(found)
        self.assertLessEqual(len(some), independent(found))
        self.assertTrue(all(independent(pair) == 2 for pair in itertools.combinations(some, 2)))
        self.assertEqual(bool(some), bool(found) and independent(found) > 0)

    def test_spans_are_the_hazards_as_far_as_they_stand_here(self):
        for data in (
            without(descent_of("doubled", party(3)), "d1:p1:test:"),
            without(descent_of("joined", party(2), "hanging stance"), "d1:p0:tie:stopper r1:b"),
        ):
            ctx, play = gone(data)
            whole = {h.key: h for h in rehearsal(ctx, play, mend=False).hazards}
            for k, p in enumerate(play.stations):
                for s in station_run(ctx, play, k).spans:
                    h = whole[s.key]
                    if h.drop == play.scene.stages[k].drop.id:
                        self.assertEqual((s.begin, s.earlier), (h.begin_number, False))
                    self.assertIn(s.key, {x.key for x in seen(play.scene, p.states[s.begin - 1])})
                    if s.end:
                        self.assertNotIn(s.key, {x.key for x in seen(play.scene, p.states[s.end - 1])})
                    else:
                        self.assertIn(s.key, {x.key for x in seen(play.scene, p.states[-1])})

    def test_what_has_changed_is_said_of_whom_it_has_changed_for(self):
        ctx, play = gone(descent_of("doubled", party(2), "ledge", 1))
        steps = station_run(ctx, play, 0).steps
        before = {h.who: 0 for h in steps[0].held}
        for step in steps:
            now = {h.who: h.paths for h in step.held}
            changed = [who for who in now if now[who] != before[who]]
            self.assertEqual(len(step.changes), len(changed))
            before = now
        self.assertEqual(words(steps[0].changes[0]), "Ada: no path before, one path now.")


def climbed(top, opening):
    data = descent_of("doubled", party(2), "ground", 1)
    system = {"kind": "lowered", "rope": "r1", "end": "b", "belayer": "below", "far_end_closed": True, "top": top}
    data["drops"][0]["station"]["states"][0]["system"] = system
    data["shed"]["rings"][0]["opening_mm"] = known(opening)
    return data


def novices(*numbers):
    return [person(n, "novice") for n in numbers]


def crossed():
    """A traverse line on the way to a station, and a deviation below it."""
    data = descent_of("doubled", party(3), "ledge", 1)
    data["shed"]["ropes"].append(rope("line"))
    data["carry"]["ropes"].append("line")
    data["drops"][0]["station"]["traverse"] = {**TRAVERSE, "rope": "line"}
    data["drops"][0]["station"]["deviations"] = [DEVIATION]
    return data


EDITS = PLAN.at(lambda plan: plan.drops[0].station.through.edits)


class Whole(unittest.TestCase):
    """Whole orders, line by line, as they are taught."""

    PLANS: ClassVar = {
        "releasable, a novice watched from below": lambda: descent_of("releasable", party(3), "ledge", 1),
        "stacked, with an isolating clove": lambda: backed(
            descent_of("doubled", party(3), "ledge", 1), "stacked, isolating clove", ["p2"]
        ),
        "a top line": lambda: backed(descent_of("doubled", party(3), "ledge", 1), "top line", ["p2"]),
        "tandem": lambda: backed(descent_of("doubled", party(3), "ledge", 1), "tandem", ["p2"]),
        "lowered, converted for the last": lambda: descent_of("lowered", party(3), "ledge", 1),
        "blocked on the same rope": lambda: descent_of("blocked", party(2), "ledge", 1),
        "alternating bights": lambda: descent_of("bights", party(2), "ledge", 1),
        "an elastic-release device": lambda: descent_of("elastic", party(2), "ledge", 1),
        "courtesy rig": lambda: descent_of("doubled", party(2), "ledge", 1, True),
        "two ropes joined, hanging": lambda: descent_of("joined", party(2), "hanging stance", 1),
        "lowered from the top, a bight passed through": lambda: climbed("bight through", 40),
        "lowered from the top, the end tied again": lambda: climbed("end re-tied", 12),
        "two people change at a hanging stance": lambda: descent_of("doubled", party(2), "hanging stance", 2),
        "three change at hanging stances on two ropes": lambda: descent_of("joined", party(3), "hanging stance", 2),
        "moving water, a guide, a second and two novices": lambda: descent_of(
            "releasable", [person(0, "guide"), person(1, "second guide"), *novices(2, 3)], "moving water", 1
        ),
        "one guide and two novices, stacked": lambda: descent_of(
            "doubled", [person(0, "guide"), *novices(1, 2)], "ledge", 1
        ),
        "stacked with the tethers stowed": lambda: backed(
            descent_of("doubled", [person(0, "guide"), *novices(1, 2)], "ledge", 1),
            "stacked",
            ["p1", "p2"],
            stowed=True,
        ),
        "an ice thread with its screw": lambda: {**iced(backed_up="to the rope"), "party": party(3)},
        "a blocked pull cord": lambda: descent_of("pull cord", party(2), "ground", 1),
        "a traverse line and a deviation": lambda: crossed(),
    }
    # Nothing else can be done with one able person, and in that school.
    STANDS: ClassVar = {
        "one guide and two novices, stacked": {"rehearse.group"},
        "stacked with the tethers stowed": {"rehearse.group", "rehearse.hand"},
    }

    def test_each_is_generated_as_it_is_taught_without_a_hazard(self):
        self.assertEqual(set(self.PLANS), set(ORDERS))
        for name, want in ORDERS.items():
            with self.subTest(name):
                ctx, play = gone(self.PLANS[name]())
                got = [words(s.words) for k in range(len(play.stations)) for s in station_run(ctx, play, k).steps]
                self.assertEqual(got, want.strip().splitlines())
                self.assertEqual({h.seen.code for h in play.hazards}, self.STANDS.get(name, set()))

    # Acts of which nothing is said when one alone is left out, and why.
    SILENT: ClassVar = {
        "call off rope": "who is above sees the rope slack",
        "call rope": "nobody is known to be below",
        "call pull": "the test-pull has shown which strand comes",
        "check knots": "whoever ties in at the top of a pitch is alone there",
        "check p1": "who is weighted with the tether in has tried it",
        "check p2": "who is weighted with the tether in has tried it",
        "check p3": "who is weighted with the tether in has tried it",
        "check station": "no join and no tie-off is in it",
        "go to the edge": "whoever handles the rope at the ring is there",
        "hold clear": "whoever pulls looks up",
        "leave fireman's belay": "the next thing they do ends it",
        "leave the reserve": "the next thing they do ends it",
        "load tether": "another link is tested",
        "load the block": "it is weighted with the tether in",
        "lock the tie-off": "a belay holds whoever is lowered",
        "unlock the tie-off": "a belay holds whoever is lowered",
        "pull up the end": "the conversion takes the rope up",
        "look up": "the test-pull has shown whether the strands cross",
        "pass": "they come past it all the same",
        "run the rope through": "the pull shows a kink",
        "stack": "a rope on the landing is not lost",
        "stop pulling": "the rope is secured before its end falls",
        "take fireman's belay": "it is taken again before they go",
        "take lowering belay": "they have been on belay since they left the ground",
        "take out belayer's hitch": "it goes with what is converted",
        "test": "device and top line are two paths",
        "untie the bight": "the end holds them besides",
        "untie the end": "the bight holds them besides",
    }

    def test_taking_any_act_out_is_said_or_nothing_for_a_reason(self):
        silent: set[str] = set()
        for name, make in self.PLANS.items():
            plan = read_plan(make())
            ctx, whole = context(plan), assess(plan, fixes=False).drops
            by_rule = gone_through(ctx, whole)
            had = {f.code for f in rehearsal(ctx, by_rule, mend=False).findings}
            for act in by_rule.stations[0].acts:
                with self.subTest(name, act=act.key):
                    out = ActDropped(kind="drop", act=act.key)
                    ctx = context(apply(plan, (EDITS.set((out,)),)))
                    got = rehearsal(ctx, gone_through(ctx, whole, by_rule), mend=False)
                    if {f.code for f in got.findings} <= had:
                        what = act.what if act.do in ("call", "check", "take out") else ""
                        key = f"{act.do} {what}".strip()
                        silent.add("call pull" if key.startswith("call pull") else key)
        self.assertEqual(silent, set(self.SILENT))


class LeftOut(unittest.TestCase):
    """What an order says where one act of it is missing: common practice, no source."""

    CASES: ClassVar = (
        # Order, the act that is left out, the code that says so, and words of it.
        ("doubled", "d1:p0:throw the rope:", "rehearse.draft", "The rope is not down yet."),
        ("doubled", "d1:p0:pull to the middle:", "rehearse.draft", "one strand is too short"),
        ("bights", "d1:p0:pull to the middle:", "rehearse.draft", "one strand is too short"),
        ("doubled", "d1:p2:take off device:", "rehearse.draft", "Cleo is still on the rope."),
        ("doubled", "d1:p1:take off third hand:", "rehearse.draft", "Bo is still on the rope."),
        ("lowered", "d1:p1:untie from the rope:", "rehearse.draft", "Bo is on the rope."),
        ("lowered", "d1:p0:take lowering belay:p1", "rehearse.draft", "Nobody has Bo on belay."),
        ("lowered", "d1:p2:test:", "rehearse.untested", "Cleo hangs on a knot that nobody has tested"),
        ("joined", "d1:p1:check:station", "rehearse.untested", "hangs on a join that nobody has checked"),
        ("releasable", "d1:p1:check:station", "rehearse.untested", "hangs on a tie-off that nobody has checked"),
        ("blocked", "d1:p0:put in:block carabiner", "rehearse.doubt", "Whether the block holds"),
        ("pull cord", "d1:p0:put in:block carabiner", "rehearse.doubt", "Whether the block holds"),
        ("doubled", "d1:p1:pull:r1:b", "rehearse.pull", "Nobody pulls the rope of station 1"),
        ("joined", "d1:p1:pull:r2:b", "rehearse.pull", "Nobody pulls the rope of station 1"),
    )

    def test_it_is_said(self):
        for system, key, code, told in self.CASES:
            with self.subTest(system=system, key=key):
                data = descent_of(system, party(3), "ledge", 1)
                self.assertIn(key, [a.key for a in run(data).stations[0].acts])
                before = rehearsal(*gone(data), mend=False)
                self.assertEqual([f.code for f in before.findings], [])
                got = rehearsal(*gone(without(data, key)), mend=False)
                found = [f for f in got.findings if f.code == code]
                self.assertTrue(found, [f.code for f in got.findings])
                self.assertTrue(
                    any(told in f"{words(f.title)} {words(f.reason)}" for f in found), words(found[0].reason)
                )

    def test_one_person_alone_has_nobody_to_check_and_is_not_blamed_for_it(self):
        for system in ("joined", "blocked", "doubled"):
            got = rehearsal(*gone(descent_of(system, party(1), "ledge", 1)), mend=False)
            self.assertEqual([f.code for f in got.findings], [])

    def test_what_is_undone_under_a_rider_is_said_by_the_rehearsal_itself(self):
        """The plan is good: no finding of its own can stand for what a change of the acts has done."""
        after = "d1:p2:descend:"
        for system, do_, what, told in (
            ("blocked", "untie", "block", "Cleo rides with the block undone"),
            ("joined", "untie", "join", "Cleo rides with the join undone"),
            ("releasable", "untie", "tie-off", "Cleo rides with the tie-off undone"),
            ("bights", "untie", "bights", "Cleo rides with the bights undone"),
            ("elastic", "untie", "device knot", "Cleo rides with the device knot undone"),
            ("releasable", "unlock the tie-off", "", "Cleo rides with the tie-off undone"),
        ):
            with self.subTest(system=system, do=do_):
                data = descent_of(system, party(3), "ledge", 1)
                act = {"kind": "add", "id": "x", "after": after, "do": do_, "who": "p0", "what": what}
                gone_ = [{"kind": "drop", "act": "d1:p0:attend the reserve:"}] if do_.startswith("unlock") else []
                got = rehearsal(*gone(edits(data, *gone_, act)), mend=False)
                found = [words(f.title) for f in got.findings if f.severity == "Shortfall"]
                self.assertIn(told, found)
                self.assertFalse(any(h.said for h in got.hazards))

    def test_whoever_rides_what_runs_is_told_so_whatever_else_holds_them(self):
        data = descent_of("doubled", party(3), "ledge", 1)
        off = {"kind": "add", "id": "a", "after": "d1:p1:test:", "do": "take off device", "who": "p1"}
        on = {"kind": "add", "id": "b", "after": "own:a", "do": "load device", "who": "p1", "what": "r1:a"}
        got = rehearsal(*gone(edits(data, off, on)), mend=False)
        self.assertIn("Bo rides end A of r1, which nothing holds", [words(f.title) for f in got.findings])

    def test_what_was_looked_at_before_it_was_tied_was_not_looked_at(self):
        for system, knot in (("joined", "join"), ("releasable", "tie-off")):
            data = descent_of(system, party(3), "ledge", 1)
            early = {"kind": "move", "act": "d1:p1:check:station", "after": ""}
            got = rehearsal(*gone(edits(data, early)), mend=False)
            self.assertTrue(any(f"a {knot} that nobody has checked" in words(f.title) for f in got.findings))

    def test_a_check_that_was_made_at_another_station_is_none_here(self):
        data = descent_of("joined", party(2), "ledge", 2)
        got = rehearsal(*gone(without(data, "d2:p1:check:station", drop=1)), mend=False)
        self.assertEqual({(h.code, h.drop) for h in got.hazards}, {("rehearse.untested", "d2")})

    def test_a_rope_that_stays_is_said_where_it_stays(self):
        data = descent_of("pull cord", party(2), "ledge", 2)
        for n, drop in enumerate(data["drops"]):
            with self.subTest(drop["id"]):
                key = next(a.key for a in run(data).stations[n].acts if a.do == "pull")
                got = rehearsal(*gone(without(apart_(data), key, drop=n)), mend=False)
                said_ = [words(f.title) for f in got.findings if f.code == "rehearse.pull"]
                self.assertIn(f"Nobody pulls the rope of station {n + 1}", said_)

    def test_a_belay_that_is_left_holds_nobody_by_its_hitch(self):
        data = descent_of("lowered", party(2), "ledge", 1)
        keys = [a.key for a in run(data).stations[0].acts]
        leave = {"kind": "add", "id": "x", "after": "d1:p1:be lowered:", "do": "leave lowering belay", "who": "p0"}
        _, play = gone(edits(data, {**leave, "what": "p1"}))
        n = keys.index("d1:p1:be lowered:")
        self.assertEqual(independent(paths(play.scene, play.stations[0].states[n], "p1")), 2)
        self.assertEqual(paths(play.scene, play.stations[0].states[n + 1], "p1"), ())
        self.assertTrue(any(h.seen.who == "p1" and h.seen.happens == "falls" for h in play.hazards))


class Asked(unittest.TestCase):
    def test_one_answer_is_right_and_the_others_are_wrong_for_the_reason_that_is_given(self):
        kinds = set()
        for system, landing, by in itertools.product(SYSTEMS, ("ledge", "hanging stance"), ("third hand", "stacked")):
            ctx, play = gone(backed(descent_of(system, party(3), landing, 2), by, ["p2"]))
            for k, p in enumerate(play.stations):
                for q in quiz_of(ctx, play, k):
                    kinds.add(q.kind)
                    self.assertEqual(sum(o.right for o in q.options), 1)
                    self.assertEqual(len({words(o.words) for o in q.options}), len(q.options))
                    if q.kind != "next move":
                        continue
                    world = p.states[q.after - 1] if q.after else p.before
                    had = {s.key for s in seen(play.scene, world)}
                    for o in q.options:
                        if not o.right:
                            self.assertTrue(words(o.why).startswith("It cannot be done yet.") or "." in words(o.why))
                            self.assertTrue(self.wrong(play, p, world, words(o.words), had), words(o.words))
        self.assertEqual(kinds, {"next move", "to come out", "pull side", "held by"})

    def wrong(self, play, p, world, told, had):
        """Whether the move that is called so can not be done now without a hazard coming."""
        move = next(
            m
            for m in moves(play.scene, p.k, p.before, p.acts, p.states)
            if words(m.title).casefold() == told.casefold()
        )
        for act in p.acts[move.begin - 1 : move.end]:
            try:
                world = do(play.scene, world, act)
            except Refused:
                if act.do in ("clip tether", "load tether", "go to the edge"):
                    continue
                return True
            if not {s.key for s in seen(play.scene, world) if s.severity == "Shortfall"} <= had:
                return True
        return False

    def test_what_must_come_out_before_the_pull_is_asked_and_what_may_stay_is_told(self):
        ctx, play = gone(descent_of("doubled", party(2), "ledge", 1))
        (q,) = [q for q in quiz_of(ctx, play, 0) if q.kind == "to come out"]
        told = {words(o.words): o for o in q.options}
        (right,) = (o for o in q.options if o.right)
        # Of the two stoppers the one that goes up comes out; the other comes down with its end.
        self.assertEqual(words(right.words), "The stopper in end A of r1")
        self.assertIn("may stay", words(told["The stopper in end B of r1"].why))
        self.assertIn("Nothing", told)
        # A knot is told by its own station.
        demo = canyon()
        ctx = context(demo)
        play = gone_through(ctx, assess(demo, fixes=False).drops)
        (q,) = [q for q in quiz_of(ctx, play, 6) if q.kind == "to come out"]
        self.assertTrue(any("the isolating overhand below station 8" in words(o.words) for o in q.options))

    def test_the_pull_side_is_asked_where_the_other_would_not_come(self):
        ctx, play = gone(descent_of("joined", party(2), "ledge", 1))
        (q,) = [q for q in quiz_of(ctx, play, 0) if q.kind == "pull side"]
        right, other = sorted(q.options, key=lambda o: not o.right)
        self.assertIn("comes down with it", words(right.why))
        self.assertIn("is drawn against the ring", words(other.why))


class Tried(unittest.TestCase):
    def test_a_third_hand_with_another_loop_or_device(self):
        ctx, play = gone(descent_of("doubled", party(2), "ledge", 1))
        far = grip_as(ctx, play, 0, "p1", 0.5, 0.6)
        near = grip_as(ctx, play, 0, "p1", 0.1, 0.6)
        self.assertEqual((far.stand, near.stand), ("fits", "reaches"))
        self.assertEqual(far, play.scene.stages[0].grips["p1"][-1])
        self.assertGreater(grip_as(ctx, play, 0, "p1", 0.5, 0.8).top.value, far.top.value)
        self.assertIsNone(grip_as(ctx, play, 0, "nobody", 0.5, 0.6))
        with self.assertRaises(ValueError):
            grip_as(ctx, play, 0, "p1", 7.0, 0.6)

    def test_what_ends_one_hazard_is_what_the_whole_says(self):
        ctx, plan = context(buttress()), buttress()
        play = run_of(plan)
        for h in rehearsal(ctx, play).hazards[:3]:
            self.assertEqual(mended(ctx, play, h.key) or (), h.fixes)
        self.assertIsNone(mended(ctx, play, "rehearse.end:0:nobody:x"))

    def test_every_fault_is_in_its_state(self):
        ctx, play = gone(descent_of("blocked", party(2), "ledge", 1))
        for n, broken in enumerate(broken_at(ctx, play, 0)):
            state = state_of(ctx, play, 0, n)
            self.assertEqual((broken.faults, broken.accepted), (state.faults, state.accepted))


def asked(play):
    return [station_run(play.scene.ctx, play, k) for k in range(len(play.stations))]


class Low(unittest.TestCase):
    def test_a_drop_lower_than_any_ride_strand_is_answered(self):
        for height in (0.5, 1.0, 1.6):
            for landing in LANDINGS:
                data = descent_of("doubled", party(2), landing, 1)
                data["drops"][0]["section"]["height_m"] = known(height, "tape")
                data["drops"][0]["section"]["setback_m"] = known(0, "tape")
                (d,) = assess(read_plan(data)).drops
                self.assertTrue(d.answer.template)


class Kept(unittest.TestCase):
    """From one revision to the next only what could have changed is gone through again; the answer is the same."""

    CHANGES = (
        lambda d: d["drops"][1]["station"].update(through={"edits": [{"kind": "drop", "act": "d2:p1:test:"}]}),
        lambda d: d["drops"][0]["station"].update(through={"order": ["p1", "p0", "p2"]}),
        lambda d: d["drops"][2]["landing"].update(kind="hanging stance"),
        lambda d: d["drops"][0]["section"].update(edge="sharp"),
        lambda d: d["party"][2].update(name="Zoe"),
        lambda d: d["party"][1].update(hitch=None),
        lambda d: d["shed"]["rings"][0].update(opening_mm=known(90)),
        lambda d: d["drops"].pop(1),
        lambda d: d["drops"].reverse(),
        lambda d: d["drops"][1]["station"].update(wet="yes"),
        lambda d: d["drops"][0]["landing"].update(room=known(1)),
        lambda d: d["drops"][2]["section"].update(height_m=known(31, "tape")),
        lambda d: d["drops"][1]["station"].update(
            through={"edits": [{"kind": "move", "act": "d2:p1:test:", "after": "d2:p0:go to the edge:"}]}
        ),
    )

    @law(15)
    @given(st.sampled_from(sorted(SYSTEMS)), st.sampled_from(LANDINGS), st.lists(st.integers(0, 12), max_size=3))
    def test_the_same_as_from_the_beginning(self, system, landing, chosen):
        data = apart_(descent_of(system, party(3), landing, 3))
        _, last = gone(data)
        asked(last)  # what was asked is kept with it
        for i in chosen:
            if len(data["drops"]) < 3 and i in (2, 7, 11):
                continue
            self.CHANGES[i](data)
            plan = read_plan(data)
            ctx, drops = context(plan), assess(plan, fixes=False).drops
            kept, afresh = gone_through(ctx, drops, last), gone_through(ctx, drops)
            self.assertEqual([p.acts for p in kept.stations], [p.acts for p in afresh.stations])
            self.assertEqual([p.states for p in kept.stations], [p.states for p in afresh.stations])
            self.assertEqual(kept.hazards, afresh.hazards)
            self.assertEqual(kept.hazards, hazards([s for k in range(len(kept.stations)) for s in afresh.sights(k)]))
            self.assertEqual(asked(kept), asked(afresh))
            last = kept

    def test_an_edit_of_one_station_leaves_those_before_it_as_they_were(self):
        data = apart_(descent_of("doubled", party(3), "ledge", 3))
        _, first = gone(data)
        data["drops"][2]["station"]["through"] = {"edits": [{"kind": "drop", "act": "d3:p1:test:"}]}
        plan = read_plan(data)
        then = gone_through(context(plan), assess(plan, fixes=False).drops, first)
        self.assertIs(then.stations[0], first.stations[0])
        self.assertIsNot(then.stations[2], first.stations[2])

    def test_where_an_order_is_as_before_again_nothing_is_asked_twice(self):
        data = apart_(descent_of("doubled", party(3), "ledge", 3))
        _, first = gone(data)
        asked(first)
        keys = [a.key for a in first.stations[1].acts]
        data["drops"][1]["station"]["through"] = {"edits": [{"kind": "move", "act": keys[3], "after": keys[4]}]}
        plan = read_plan(data)
        then = gone_through(context(plan), assess(plan, fixes=False).drops, first)
        looks = then.stations[1].looks
        self.assertTrue(all(a is b for a, b in zip(looks[5:], first.stations[1].looks[5:], strict=True)))
        self.assertIsNone(looks[3].seen)
        self.assertEqual(then.stations[2].looks, first.stations[2].looks)
        self.assertIsNotNone(then.stations[2].looks[0].picture)

    def test_fixes_are_the_same_whatever_is_kept(self):
        for demo in DEMOS.values():
            plan = demo()
            play = run_of(plan)
            todo = next((h for h in rehearsal(context(plan), play).hazards if h.fixes), None)
            self.assertIsNotNone(todo)
            mended_ = apply(plan, todo.fixes[0].edits)
            after = gone_through(context(mended_), assess(mended_, fixes=False).drops, play)
            self.assertEqual(after.hazards, run_of(mended_).hazards)
            self.assertNotIn(todo.key, [h.seen.key for h in after.hazards])

    def test_an_act_that_is_added_and_one_that_is_dropped_leave_the_acts_in_their_place(self):
        data = descent_of("doubled", party(2), "ledge", 1)
        keys = [a.key for a in run(data).stations[0].acts]
        added = {"kind": "add", "id": "a1", "after": keys[2], "do": "check", "who": "p1", "what": "station"}
        data = edits(data, added, {"kind": "drop", "act": keys[4]})
        got = [a.key for a in run(data).stations[0].acts]
        self.assertEqual(got, [*keys[:3], "own:a1", keys[3], *keys[5:]])
        self.assertIsInstance(run(data).stations[0].acts[3], Act)


if __name__ == "__main__":
    unittest.main()
