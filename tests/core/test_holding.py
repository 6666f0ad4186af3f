"""The table of what is fixed at the ring, what a fault does, and the laws of single acts."""

import itertools
import unittest
from dataclasses import replace
from typing import get_args

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.acts.acts import ACTS, Act, Refused, do
from reamer.core.acts.changed import changed
from reamer.core.acts.holding import fixings, independent, minimal, paths
from reamer.core.acts.world import Link, StrandRef, strand
from reamer.core.answer.context import context
from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.model import ActAdded, ActDropped, ActMoved, ActName, ActReworded
from reamer.core.reading import read_plan
from reamer.core.rehearsal.faults import faults
from reamer.core.rehearsal.rehearsal import rehearsal, station_run
from reamer.core.rehearsal.words import SAID, UNDO, said, undone_by
from tests import law
from tests.builders import known, unknown
from tests.core.test_rehearsal import add, drop, every_state
from tests.rehearsing import LANDINGS, SYSTEMS, backed, descent_of, party, run, run_of

A, B, CORD, OTHER = StrandRef("r1", "a"), StrandRef("r1", "b"), StrandRef("c1", "b"), StrandRef("r2", "b")


KNOTS = (("joined", "join"), ("blocked", "block"), ("releasable", "tie-off"), ("bights", "bights"))


def rigged(system, size=3, **more):
    """A station just before the first one rides: the descent and the state."""
    data = descent_of(system, party(size), **more)
    play = run(data)
    p = play.stations[0]
    n = next(i for i, a in enumerate(p.acts) if a.do in ("load device", "tie in"))
    return play.scene, p.states[n - 1]


def fixed(system, strands, change=None, **more):
    """Whether strands are fixed at the ring, by which parts."""
    scene, world = rigged(system, **more)
    now = world.stations[0]
    if change is not None:
        now = change(now)
        world = world.station(0, now)
    got = fixings(world, scene.stages[0], now, frozenset(strands), "p1")
    some = {p.split(".")[0] for path in got for p in path} - {"rope", "point"}
    return sorted(some) if got else None


class Fixed(unittest.TestCase):
    """Common practice, no source; what a ring stops: our judgement."""

    def test_doubled_only_both_together_unless_a_knot_isolates(self):
        self.assertEqual(fixed("doubled", [A, B]), [])
        self.assertIsNone(fixed("doubled", [A]))
        self.assertIsNone(fixed("doubled", [B]))
        for knot in ("isolating overhand", "overhand below"):
            self.assertEqual(fixed("doubled", [A], lambda now, k=knot: now.doing(k)), [])

    def test_two_joined_the_through_strand_is_held_by_a_join_that_cannot_pass(self):
        self.assertEqual(fixed("joined", [B, OTHER]), ["join"])
        self.assertEqual(fixed("joined", [B]), ["join"])
        self.assertIsNone(fixed("joined", [OTHER]))

    def test_a_block_holds_the_ride_strand_only(self):
        for system, pull in (("blocked", A), ("pull cord", CORD)):
            self.assertEqual(fixed(system, [B]), ["block"])
            self.assertIsNone(fixed(system, [pull]))

    def test_a_tie_off_holds_while_it_is_locked_then_only_a_hand(self):
        self.assertEqual(fixed("releasable", [B]), ["hand", "tie-off"])
        self.assertEqual(fixed("releasable", [B], lambda now: now.doing("unlocked")), ["hand"])
        self.assertIsNone(fixed("releasable", [B], lambda now: replace(now.doing("unlocked"), attendant="")))

    def test_bights_and_the_elastic_release_hold_the_ride_strand(self):
        self.assertEqual(fixed("bights", [B]), ["bights"])
        self.assertIsNone(fixed("bights", [A]))
        self.assertEqual(fixed("elastic", [B]), ["device knot"])

    def test_nothing_is_fixed_that_is_not_tied_or_is_pulled(self):
        for system, knots in (
            ("joined", "join"),
            ("blocked", "block"),
            ("releasable", "tie-off"),
            ("bights", "bights"),
        ):
            self.assertIsNone(fixed(system, [B], lambda now, k=knots: replace(now.undone(k), attendant="")), system)
        for system in SYSTEMS:
            self.assertIsNone(fixed(system, [A, B], lambda now: now.doing("pulled")), system)

    def test_an_isolating_clove_holds_whatever_happens_below_it(self):
        self.assertEqual(fixed("doubled", [A, B], lambda now: now.doing("isolating clove").undone("threaded")), [])

    def test_what_a_ring_stops_and_what_nobody_knows(self):
        def ring(opening, system="blocked", **more):
            data = descent_of(system, party(3), **more)
            data["shed"]["rings"][0]["opening_mm"] = opening
            return run(data).scene.stages[0].ways[0].alone[B][1].holds

        # A block with a carabiner in it passes what the carabiner passes.
        self.assertEqual([ring(known(o)) for o in (20, 90)], ["yes", "no"])
        self.assertEqual(ring(unknown("?")), "unknown")
        self.assertEqual([ring(known(o), "joined") for o in (12, 25, 90)], ["yes", "no", "no"])
        self.assertEqual(ring(unknown("?"), "joined"), "unknown")

    def test_rig_and_rehearsal_judge_a_join_and_a_block_alike(self):
        """What the plan calls not checked counts for no path, and is not checked here too; what it calls a shortfall
        is one; all else is a path."""
        for system, code in (("joined", "join.passes"), ("blocked", "block.passes")):
            for opening in (known(12), known(20), known(36), known(90), unknown("?")):
                for d in (9.0, 8.0, 7.0):
                    data = descent_of(system, party(3))
                    data["shed"]["rings"][0]["opening_mm"] = opening
                    data["shed"]["ropes"][1]["diameter_mm"] = known(d)
                    p = read_plan(data)
                    said = {f.severity for f in assess(p).drops[0].findings if f.code == code}
                    play = run_of(p)
                    both = play.scene.stages[0].ways[0]
                    verdict = both.together if system == "joined" else both.alone[B][1]
                    want = "no" if "Shortfall" in said else "unknown" if "Not checked" in said else "yes"
                    self.assertEqual(verdict.holds, want, (system, opening, d))
                    hazards = {h.seen.code for h in play.hazards if h.seen.k == 0}
                    self.assertEqual("rehearse.doubt" in hazards, want == "unknown", (system, opening, d))
                    self.assertEqual("rehearse.strand" in hazards, want == "no", (system, opening, d))

    def test_the_thin_rope_through_the_ring_does_not_hold_even_both(self):
        data = descent_of("joined", party(3))
        data["shed"]["ropes"][0]["diameter_mm"] = known(8.4)
        play = run(data)
        self.assertIn(("rehearse.strand", True), {(h.seen.code, h.seen.said) for h in play.hazards})


class Paths(unittest.TestCase):
    @given(st.lists(st.frozensets(st.sampled_from("abcdef"), min_size=1), max_size=6))
    def test_the_number_of_paths_is_a_least_hitting_set(self, sets):
        named = [frozenset(f"hand.{x}" for x in s) for s in sets]
        n = independent(minimal(named))
        every = {x for s in named for x in s}
        hits = [
            k
            for k in range(len(every) + 1)
            for some in itertools.combinations(every, k)
            if all(s & set(some) for s in named)
        ]
        self.assertEqual(n, min(hits) if named else 0)
        self.assertTrue(all(not a < b for a in minimal(named) for b in minimal(named)))

    @law(40)
    @given(st.data())
    def test_a_link_more_never_makes_it_worse(self, draw):
        system, landing = draw.draw(st.sampled_from(list(SYSTEMS))), draw.draw(st.sampled_from(LANDINGS))
        play = run(descent_of(system, party(draw.draw(st.sampled_from([2, 3]))), landing))
        states = [w for _, _, w in every_state(play)]
        world = draw.draw(st.sampled_from(states))
        who = draw.draw(st.sampled_from(sorted(world.people)))
        body = world.people[who]
        before = independent(paths(play.scene, world, who))
        for link in body.links:
            less = world.body(who, body.without(link.kind))
            self.assertLessEqual(independent(paths(play.scene, less, who)), before)
        if body.spot == "station" and not body.link("tether"):
            more = world.body(who, body.having(Link("tether", body.at, "master")))
            self.assertGreater(independent(paths(play.scene, more, who)), before)

    def test_single_points_of_the_anchor_count_where_nobody_accepted_them(self):
        data = descent_of("doubled", party(3))
        accepted = run(data)
        for d in data["drops"]:
            d["station"]["states"][0]["accepted"] = []
        bare = run(data)
        self.assertTrue(bare.scene.stages[0].unaccepted)
        most = [max(independent(paths(p.scene, w, "p1")) for _, _, w in every_state(p)) for p in (accepted, bare)]
        self.assertEqual(most, [3, 1], "tether and rope hang from one thing that nobody has accepted")


class Outcomes(unittest.TestCase):
    def outcome(self, data, key, do_, fault):
        play = run(data)
        n = next(i for i, a in enumerate(play.stations[0].acts) if a.who == key and a.do == do_)
        made = {f.key: f for f in faults(play.scene, play.stations[0].states[n])}
        return made[fault].worst

    def test_who_faints_is_held_and_by_whom_let_down(self):
        for system, landing, want in (
            ("releasable", "ledge", "let down by Ada"),
            ("doubled", "ledge", "nobody can let them down; Ada can come down to them"),
        ):
            got = self.outcome(descent_of(system, party(3), landing), "p1", "descend", "faint.p1")
            self.assertIn(want, words(got.story))
        guest = self.outcome(descent_of("doubled", party(3)), "p2", "descend", "faint.p2")
        self.assertIn("let down by Bo", words(guest.story), "without a third hand the belay from below lowers them")
        alone = self.outcome(descent_of("doubled", party(1)), "p0", "descend", "faint.p0")
        self.assertIn("nobody can come to them", words(alone.story))
        self.assertEqual(alone.happens, "stranded")

    def test_how_far_somebody_falls(self):
        ledge = self.outcome(descent_of("blocked", party(2)), "p1", "descend", "block.0")
        self.assertTrue(ledge.accepted)
        self.assertAlmostEqual(ledge.high.value, 15, delta=1)
        self.assertLessEqual(ledge.low.value, ledge.high.value)
        under = self.outcome(descent_of("blocked", party(2), "hanging stance", 2), "p1", "descend", "block.0")
        self.assertAlmostEqual(under.high.value, 2 * ledge.high.value, 3)
        pool = descent_of("blocked", party(2), "pool")
        self.assertIn("into a pool", words(self.outcome(pool, "p1", "descend", "block.0").story))
        pool["drops"][0]["section"]["height_m"] = unknown("?")
        blind = self.outcome(pool, "p1", "descend", "block.0")
        self.assertIsNone(blind.high)
        self.assertIn("how far is not known", words(blind.story))

    def test_a_stopper_stops_who_slides_only_where_it_hangs_above_the_landing(self):
        data = backed(descent_of("doubled", party(3)), "none", ["p2"])
        self.assertEqual(
            self.outcome(data, "p2", "descend", "hand.p2").happens, "falls", "the knots lie on the landing"
        )
        data["shed"]["ropes"][0]["measured_m"] = known(26, "tape")
        self.assertEqual(self.outcome(data, "p2", "descend", "hand.p2").happens, "slides to a stopper")

    def test_a_test_with_the_tether_in_shows_the_wrong_strand(self):
        got = self.outcome(descent_of("blocked", party(3)), "p1", "load device", "strand.p1")
        self.assertEqual(got.happens, "held")


TAKEN_BACK = ("go to the edge", "tie", "put in", "set over the edge", "attend the reserve")
WHATS = ("", "master", "backup", "p0", "p2", "r1:a", "r1:b", "stopper r1:b", "block", "tie-off", "nothing", "in hand")


class Acts(unittest.TestCase):
    def test_every_act_has_words_and_does_something(self):
        names = set(get_args(ActName))
        self.assertEqual(set(ACTS), names)
        self.assertEqual(set(SAID), names)
        self.assertLessEqual(set(UNDO) | {u for u in UNDO.values() if u}, names)

    def test_an_act_taken_back_leaves_the_state_as_it_was(self):
        undone = 0
        for system in SYSTEMS:
            play = run(descent_of(system, party(3), "hanging stance"))
            for p in play.stations:
                before = p.before
                for act, after in zip(p.acts, p.states, strict=True):
                    back = UNDO.get(act.do)
                    if back and act.do in (
                        "go to the edge",
                        "tie",
                        "put in",
                        "set over the edge",
                        "attend the reserve",
                    ):
                        got = do(play.scene, after, Act("x", act.k, back, act.who, act.what))
                        same = got
                        if act.what not in ("join", "block", "tie-off", "bights", "device knot"):
                            undone += 1
                            self.assertEqual(replace(same, people=before.people), before, act.key)
                    before = after
        self.assertGreater(undone, 40)

    def test_what_can_no_longer_be_taken_back_says_so(self):
        play = run(descent_of("doubled", party(2)))
        final = {a.do for p in play.stations for a, w in zip(p.acts, p.states, strict=True) if not undone_by(a, w)}
        self.assertTrue({"descend", "arrive", "pull"} <= final)
        self.assertNotIn("load device", final)

    def test_nothing_raises_whoever_does_whatever(self):
        play = run(descent_of("releasable", party(3), "hanging stance"))
        states = [w for _, _, w in every_state(play)][::7]
        tried = 0
        for world, name, who, what in itertools.product(states, get_args(ActName), ("p0", "p2", "", "gone"), WHATS):
            try:
                after = do(play.scene, world, Act("x", 0, name, who, what))
                self.assertEqual(set(after.people), set(world.people))
            except Refused as e:
                self.assertTrue(words(e.why).endswith("."))
            tried += 1
        self.assertGreater(tried, 10000)

    def test_the_words_of_every_act_can_be_said(self):
        for system, by in itertools.product(SYSTEMS, ("third hand", "top line", "tandem", "stacked, isolating clove")):
            play = run(backed(descent_of(system, party(3), "hanging stance"), by, ["p2"]))
            for _, act, _ in every_state(play):
                text = words(said(play.scene, act))
                self.assertRegex(text, r"^[A-Z“].*[.:?]$|”\.$")
                self.assertNotRegex(text, r"r1:|p\d|[{}]")

    def test_a_strands_name(self):
        self.assertEqual(strand("rope:with:colons:a"), StrandRef("rope:with:colons", "a"))
        self.assertIsNone(strand("stopper"))


class Hands(unittest.TestCase):
    """A hand holds from its place alone: top line and tie-off at the station, a lowering belay where its friction is,
    the fireman at that drop's landing (common practice, no source)."""

    def states(self):
        for by in ("top line", "fireman's belay", "lowered"):
            system = "lowered" if by == "lowered" else "releasable" if by == "fireman's belay" else "doubled"
            for data in (descent_of(system, party(4)), backed(descent_of(system, party(4)), by, ["p2"])):
                play = run(data)
                for _, _, world in every_state(play):
                    yield by, play.scene, world

    def test_it_holds_nobody_from_anywhere_else(self):
        seen = set()
        for by, scene, world in self.states():
            for who, found in ((i, paths(scene, world, i)) for i in world.people):
                for part in {x for path in found for x in path if x.split(".")[0] in ("hand", "watch")}:
                    kind, owner = part.split(".", 1)
                    if owner == who:
                        continue
                    seen.add((by, kind))
                    k, here = world.people[who].at, world.people[owner]
                    for spot, at in itertools.product(("station", "rope", "landing"), (k, k + 1)):
                        same = {(spot, at), (here.spot, here.at)}
                        if len(same) == 1 or (same == {("landing", k), ("station", k + 1)}):
                            continue  # there is no walk between them
                        moved = world.body(owner, replace(here, spot=spot, at=at))
                        left = {x for path in paths(scene, moved, who) for x in path}
                        self.assertNotIn(part, left, (by, who, part, spot, at))
        self.assertLessEqual({("top line", "hand"), ("fireman's belay", "watch"), ("lowered", "hand")}, seen)

    def test_a_top_line_hangs_where_everything_hangs(self):
        """On one bolt that nobody accepted, a line from it is no second way."""
        scene, world = next(
            (s, w)
            for by, s, w in self.states()
            if by == "top line" and any((x := b.link("top line")) and x.hand for b in w.people.values())
        )
        who = next(i for i, b in world.people.items() if b.link("top line"))
        weak = replace(scene, stages=(replace(scene.stages[0], unaccepted=("bolt",), accepted=()), *scene.stages[1:]))
        held_by = paths(weak, world, who)
        self.assertTrue(any(x.startswith("line.") for path in held_by for x in path))
        self.assertTrue(all("part.bolt.0" in path for path in held_by))
        self.assertEqual(independent(held_by), 1)


class Changed(unittest.TestCase):
    ACTS = tuple(Act(k, 0, "call", "p0") for k in "abc")

    def keys(self, *edits):
        acts, drafts = changed(self.ACTS, edits, 0)
        return "".join(a.key.removeprefix("own:") for a in acts), len(drafts)

    def test_each_kind_of_change(self):
        new = ActAdded(kind="add", id="x", after="a", do="look up", who="p0")
        for edits, want in (
            ((), ("abc", 0)),
            ((new,), ("axbc", 0)),
            ((new.model_copy(update={"after": ""}),), ("xabc", 0)),
            ((new, ActMoved(kind="move", act="own:x", after="c")), ("abcx", 0)),
            ((ActDropped(kind="drop", act="b"),), ("ac", 0)),
            ((ActDropped(kind="drop", act="b"), ActDropped(kind="drop", act="b")), ("ac", 1)),
            ((ActMoved(kind="move", act="c"),), ("cab", 0)),
            ((ActMoved(kind="move", act="a", after="gone"),), ("abc", 1)),
            ((ActMoved(kind="move", act="a", after="a"),), ("abc", 1)),
            ((new.model_copy(update={"after": "gone"}),), ("abc", 1)),
            ((ActReworded(kind="reword", act="b", words="Look!"),), ("abc", 0)),
            ((ActReworded(kind="reword", act="", words="Look!"),), ("abc", 1)),
        ):
            with self.subTest(str(edits)):
                self.assertEqual(self.keys(*edits), want)

    def test_pauses_stand_at_their_act(self):
        data = descent_of("doubled", party(3))
        for d in data["drops"]:
            d["station"]["through"] = {"pauses": [{"act": "d1:p0:throw the rope:", "looks": "p1", "at": "the ends"}]}
        play = run(data)
        steps = station_run(context(play.scene.plan), play, 0).steps
        self.assertEqual([s.key for s in steps if s.pause], ["d1:p0:throw the rope:"])

    def test_what_stands_first_is_the_highest_fall_for_the_longest(self):
        data = descent_of("doubled", party(3))
        made = [*drop("d1:p1:test:"), add("pull up the end", "p1", "r1:b", "d1:p2:descend:")]
        data["drops"][0]["station"]["through"] = {"edits": made, "order": ["p0", "p1", "p2"]}
        plan = read_plan(data)
        play = run(data)
        got = rehearsal(context(plan), play, mend=False)
        weights = [play.hazards[n].weight for n in got.first]
        self.assertEqual(weights, sorted(weights, reverse=True))
        self.assertLessEqual(len(got.first), 5)


if __name__ == "__main__":
    unittest.main()
