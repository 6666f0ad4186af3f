"""A guide's own school is the same changes of the acts, made wherever whoever does the same does it: nothing else."""

import re
import unittest

from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from reamer.core.acts.own import EACH
from reamer.core.answer.context import context
from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.model import ActAdded, ActDropped, ActMoved, ActReworded, OwnSchool, Pause, Plan
from reamer.core.plan.parts import parts_of
from reamer.core.reading import read_plan
from reamer.core.rehearsal.rehearsal import mended, rehearsal, station_run
from reamer.core.rehearsal.schools import as_followed, kept_changes, school_over, schools_here
from reamer.core.second.rests import Basis
from reamer.demos import DEMOS
from reamer.formats.rehearsed import rehearsed
from reamer.formats.report import report
from tests import law
from tests.rehearsing import LANDINGS, SYSTEMS, backed, descent_of, party, run_of

WATCH = "turn:another:take fireman's belay:<they>"


def school(*edits, name="ours", whom="each", **more):
    return {"id": "s1", "name": name, "whom": whom, "edits": list(edits), **more}


def drop_(act):
    return {"kind": "drop", "act": act}


def with_schools(plan: Plan, *schools) -> Plan:
    return read_plan({**plan.model_dump(mode="json"), "shed": {**plan.shed.model_dump(), "own_schools": list(schools)}})


def through(plan: Plan, k: int, **change) -> Plan:
    drop = plan.drops[k]
    made = drop.station.through.model_copy(update=change)
    drop = drop.model_copy(update={"station": drop.station.model_copy(update={"through": made})})
    return plan.model_copy(update={"drops": (*plan.drops[:k], drop, *plan.drops[k + 1 :])})


def descent(system="blocked", n=5, landing="ledge", by="fireman's belay", drops=2) -> Plan:
    return read_plan(backed(descent_of(system, party(n), landing, drops), by))


def dangers(run):
    return [(h.seen.key, h.seen.severity, h.begin, h.end) for h in run.hazards]


def does(acts, who):
    """What somebody does, and what is done for them, by itself."""
    return [(a.do, "they" if a.what == who else a.what if a.who == who else "") for a in acts if who in (a.who, a.what)]


# One change of any act by rule: its kind, which act, where to.
CHANGES = st.tuples(
    st.sampled_from(("drop", "move", "add", "reword")), st.integers(0, 400), st.integers(1, 4), st.booleans()
)


def change(acts, made, n):
    """A change of one act; moved and put in among those around it."""
    kind, at, far, helped = made
    at %= len(acts)
    act, after = acts[at], acts[min(at + far, len(acts) - 1)]
    match kind:
        case "drop":
            return ActDropped(kind="drop", act=act.key)
        case "move":
            return ActMoved(kind="move", act=act.key, after=after.key)
        case "reword":
            return ActReworded(kind="reword", act=act.key, words=f"said otherwise {n}")
        case _:
            who = act.who or ""
            add = {"do": "check", "what": "station"} if helped else {"do": "call", "what": "slack"}
            return ActAdded(kind="add", id=f"a{n}", after=act.key, who=who, **add)


class Same(unittest.TestCase):
    @law(24)
    @given(
        st.sampled_from(sorted(SYSTEMS)),
        st.sampled_from(LANDINGS),
        st.sampled_from(("fireman's belay", "third hand", "stacked", "lowered")),
        st.integers(2, 6),
        CHANGES,
    )
    def test_what_is_kept_of_a_station_makes_that_station_again_and_each_alike(self, system, landing, by, n, made):
        plan = descent(system, n, landing, by)
        acts = run_of(plan).stations[0].generated.acts
        one = through(plan, 0, edits=(change(acts, made, 0),))
        (kept,) = kept_changes(run_of(one), 0)
        if kept.kept is None:
            self.assertTrue(words(kept.why))
            return
        run = run_of(with_schools(plan, school(kept.kept.model_dump())))
        here, (told,) = run.stations[0], schools_here(run, 0)
        self.assertTrue(told.place)
        # Whose it was has just what was changed; whoever does the same there has the same.
        edit = one.drops[0].station.through.edits[0]
        whose = next(
            (f for f in here.schools[0].people if f and f in (edit.act if edit.kind != "add" else edit.after)), None
        )
        alike = [a for a in run_of(one).stations[0].acts if a.move not in EACH]
        self.assertEqual(
            [(a.do, a.who, a.what, a.own) for a in alike],
            [(a.do, a.who, a.what, a.own) for a in here.acts if a.move not in EACH],
        )
        if whose is not None:
            self.assertEqual(does(run_of(one).stations[0].acts, whose), does(here.acts, whose))
        if len(told.people) == 1 or kept.move not in EACH:
            self.assertEqual(
                [(a.do, a.who, a.what) for a in run_of(one).stations[0].acts],
                [(a.do, a.who, a.what) for a in here.acts],
            )

    @law(24)
    @given(st.sampled_from(sorted(SYSTEMS)), st.sampled_from(LANDINGS), st.lists(CHANGES, min_size=2, max_size=5))
    def test_changes_of_several_moves_are_each_made_by_whose_they_are(self, system, landing, made):
        plan = descent(system, 4, landing, "tandem" if made[0][3] else "none")
        acts = [a for a in run_of(plan).stations[1].generated.acts if a.move not in EACH]
        edits = tuple(change(acts, m, n) for n, m in enumerate(made))
        can = {k.edit for k in kept_changes(run_of(through(plan, 1, edits=edits)), 1) if k.kept and k.move not in EACH}
        one = through(plan, 1, edits=tuple(e for n, e in enumerate(edits) if n in can))
        kept = [k.kept.model_dump() for k in kept_changes(run_of(one), 1)]
        if not can:
            return
        on = run_of(through(with_schools(plan, school(*kept)), 0, without=("s1",)))
        self.assertTrue(schools_here(on, 1)[0].place)
        told = [[(a.do, a.who, a.what, a.own) for a in r.stations[1].acts] for r in (run_of(one), on)]
        self.assertEqual(*told)

    @law(12)
    @given(st.sampled_from(sorted(DEMOS)), st.lists(CHANGES, min_size=1, max_size=3), st.integers(0, 8))
    def test_it_is_no_second_engine(self, demo, made, at):
        """The same acts, states, hazards and loads as where each station has those changes written into it."""
        plan = DEMOS[demo]()
        k = at % len(plan.drops)
        plain = run_of(plan)
        plan_one = through(
            plan, k, edits=tuple(change(plain.stations[k].generated.acts, m, n) for n, m in enumerate(made))
        )
        kept = [c.kept.model_dump() for c in kept_changes(run_of(plan_one), k) if c.kept is not None]
        if not kept:
            return
        follows = with_schools(plan, school(*kept))
        run, written = run_of(follows), plan
        for p in run.stations:
            mine = [e for f in p.schools for e in f.edits]
            ids = {e.id: f"w{n}" for n, e in enumerate(mine) if e.kind == "add"}

            def renamed(e, ids=ids):
                to = {
                    f: re.sub(r"^own:(.+)$", lambda m: f"own:{ids[m[1]]}", v)
                    for f in ("act", "after")
                    if (v := getattr(e, f, None)) is not None
                }
                return e.model_copy(update={**to, **({"id": ids[e.id]} if e.kind == "add" else {})})

            own = written.drops[p.k].station.through.edits
            written = through(written, p.k, edits=(*(renamed(e) for e in mine), *own))
        other = run_of(read_plan(written.model_dump(mode="json")))
        self.assertEqual([p.states for p in run.stations], [p.states for p in other.stations])
        self.assertEqual(dangers(run), dangers(other))
        a, b = assess(follows, fixes=False), assess(written, fixes=False)
        self.assertEqual([d.parts for d in a.drops], [d.parts for d in b.drops])

    def test_everybody_hangs_where_a_school_lets_them(self):
        """What asks more of an anchor asks it whether it was changed there or by a school."""
        plan = descent("doubled", by="none")
        follows = with_schools(plan, school(drop_("turn:they:arrive:")))
        run = run_of(follows)
        written = plan
        for p in run.stations:
            written = through(written, p.k, edits=tuple(e for f in p.schools for e in f.edits))
        loads = [[(p.key, p.required) for p in d.parts] for d in assess(follows, fixes=False).drops]
        self.assertEqual(loads, [[(p.key, p.required) for p in d.parts] for d in assess(written, fixes=False).drops])
        self.assertNotEqual(loads, [[(p.key, p.required) for p in d.parts] for d in assess(plan, fixes=False).drops])


class Followed(unittest.TestCase):
    def test_a_guests_school_is_for_guests_and_everybodys_for_the_first_and_the_last_too(self):
        plan = descent(by="none")
        act = "turn:they:test:"
        whom = {
            w: schools_here(run_of(with_schools(plan, school(drop_(act), whom=w))), 0)[0].people
            for w in ("each", "guests", "everybody")
        }
        able = {p.id for p in plan.party if p.role != "novice"}
        order = [b.who for b in run_of(plan).scene.stages[0].backups]
        self.assertEqual(set(whom["each"]), set(order[1:-1]))
        self.assertEqual(set(whom["guests"]), set(order[1:-1]) - able)
        self.assertEqual(set(whom["everybody"]), set(order))

    def test_off_here_or_in_the_plan_it_is_as_if_it_were_not(self):
        plan = descent()
        plain = run_of(plan)
        on = with_schools(plan, school(drop_(WATCH)))
        self.assertNotEqual(run_of(on).stations, plain.stations)
        off = run_of(as_followed(on, "s1", False))
        self.assertEqual([p.states for p in off.stations], [p.states for p in plain.stations])
        here = run_of(through(on, 0, without=("s1",)))
        self.assertEqual(here.stations[0].states, plain.stations[0].states)
        self.assertNotEqual(here.stations[1].acts, plain.stations[1].acts)
        self.assertEqual([schools_here(here, k)[0].here for k in (0, 1)], [False, True])

    def test_all_of_it_or_nothing_of_it_is_done_for_somebody(self):
        plan = descent()
        whole = school(drop_(WATCH), drop_("turn:they:tie third hand:"))
        # Guests on a fireman's belay tie no third hand; who ties one has no fireman's belay.
        run = run_of(with_schools(plan, whole))
        self.assertEqual([p.acts for p in run.stations], [p.acts for p in run_of(plan).stations])
        self.assertFalse(schools_here(run, 0)[0].place)

    def test_what_it_brings_is_said_at_every_station_and_can_be_ended_there(self):
        plan = descent(drops=3)
        on = with_schools(plan, school(drop_(WATCH), name="nobody watches"))
        ctx = context(on)
        follows, by_rule = run_of(on), run_of(plan)
        counts = [rehearsal(context(p), r, mend=False).tally for p, r in ((on, follows), (plan, by_rule))]
        over = school_over(ctx, "s1", (follows, by_rule), tuple(counts))
        self.assertEqual({h.number for h in over.brings}, {1, 2, 3})
        self.assertEqual(over.ends, ())
        self.assertLess(over.by_rule["Shortfall"], over.followed["Shortfall"])
        brought = next(h for h in follows.hazards if h.seen.key not in {x.seen.key for x in by_rule.hazards})
        self.assertIn(
            "Do not follow “nobody watches” here", [words(f.label) for f in mended(ctx, follows, brought.seen.key)]
        )
        with self.assertRaises(KeyError):
            school_over(ctx, "s9", (follows, by_rule), tuple(counts))

    def test_a_halt_whose_act_a_school_takes_away_is_said_to_be_gone(self):
        plan = descent(by="none")
        act = next(a for a in run_of(plan).stations[1].generated.acts if a.move == "turn" and a.do == "test")
        halted = through(plan, 1, pauses=(Pause(act=act.key),))
        title = "Nobody stops where everybody was to stop"
        for lost, p in ((False, halted), (True, with_schools(halted, school(drop_("turn:they:test:"))))):
            found = rehearsal(context(p), run_of(p), mend=False).findings
            drafts = [f.subject.drop for f in found if words(f.title) == title]
            self.assertEqual(drafts, ["d2"] if lost else [])

    def test_two_that_do_not_go_together_say_so(self):
        plan = descent()
        one = school(drop_(WATCH), name="nobody watches")
        two = {**school({"kind": "move", "act": WATCH, "after": "turn:they:test:"}, name="watched early"), "id": "s2"}
        on = with_schools(plan, one, two)
        found = rehearsal(context(on), run_of(on), mend=False).findings
        told = [words(f.title) for f in found if f.code == "rehearse.draft"]
        self.assertIn("“watched early” is not followed whole here", told)

    def test_it_names_whoever_it_is_of_in_its_words(self):
        plan = descent(by="none")
        acts = run_of(plan).stations[0].generated.acts
        mine = next(a for a in acts if a.move == "turn" and a.do == "descend")
        name = next(p.name for p in plan.party if p.id == mine.who)
        one = through(plan, 0, edits=(ActReworded(kind="reword", act=mine.key, words=f"{name} goes, {name} looks."),))
        (kept,) = kept_changes(run_of(one), 0)
        run = run_of(with_schools(plan, school(kept.kept.model_dump())))
        for a in run.stations[1].acts:
            if a.move == "turn" and a.do == "descend":
                who = run.scene.name(a.who)
                self.assertEqual(a.own, f"{who} goes, {who} looks.")

    def test_what_names_somebody_who_is_nobody_in_particular_stays_here(self):
        plan = descent(n=6, by="none")
        run = run_of(plan)
        turn = [a for a in run.stations[0].generated.acts if a.move == "turn"]
        one, other = list(dict.fromkeys(a.who for a in turn))[:2]
        after = next(a.key for a in turn if a.who == one and a.do == "test")
        edits = (
            ActAdded(kind="add", id="a1", after=after, do="check", who=other, what=one),
            ActReworded(kind="reword", act=after, words=f"as {run.scene.name(other)} did"),
            ActAdded(kind="add", id="a2", after="", do="call", who=one, what="slack"),
        )
        for k in kept_changes(run_of(through(plan, 0, edits=edits)), 0):
            self.assertIsNone(k.kept, words(k.said))
            self.assertTrue(words(k.why))

    def test_what_fits_nowhere_does_nothing_and_says_so(self):
        plan = descent()
        odd = (
            drop_("d1:p1:descend:"),
            drop_("turn:they:descend"),
            {"kind": "move", "act": "turn:they:descend:", "after": "start:nowhere"},
            {"kind": "move", "act": "start:turn", "after": "start:turn"},
            {"kind": "add", "id": "a1", "after": "turn:they:descend:", "do": "call", "who": "nobody", "what": "slack"},
            {"kind": "add", "id": "a1", "after": "turn:they:descend:", "do": "check", "who": "they", "what": "<wrong>"},
            {"kind": "add", "id": "a1", "after": "own:a1", "do": "call", "who": "they", "what": "slack"},
            {"kind": "add", "id": "a1", "after": "", "do": "call", "who": "first", "what": "slack"},
        )
        plain = run_of(plan)
        for edit in odd:
            run = run_of(with_schools(plan, school(edit)))
            self.assertEqual([p.acts for p in run.stations], [p.acts for p in plain.stations], edit)
            self.assertFalse(schools_here(run, 0)[0].place, edit)


class Told(unittest.TestCase):
    def test_it_is_told_on_paper_and_by_the_command_line(self):
        on = with_schools(descent(), school(drop_(WATCH), name="nobody watches"))
        run, ctx = run_of(on), context(on)
        text = rehearsed(on, rehearsal(ctx, run, mend=False), [station_run(ctx, run, k) for k in range(2)])
        self.assertIn("Of one's own: nobody watches, ", text)
        self.assertIn("Of one's own: nobody watches.", report(on, assess(on)))

    def test_an_agreement_rests_on_what_a_school_changes_and_not_on_its_name(self):
        plan = descent()
        one, named, other = (
            Basis(p).of_drop("d1")["changes of the acts"]
            for p in (plan, *(with_schools(plan, school(drop_(WATCH), name=n)) for n in ("one", "two")))
        )
        self.assertNotEqual(one, named)
        self.assertEqual(named, other)
        off = as_followed(with_schools(plan, school(drop_(WATCH))), "s1", False)
        self.assertEqual(Basis(off).of_drop("d1")["changes of the acts"], one)

    def test_it_goes_along_where_the_choices_do(self):
        on = with_schools(descent(), school(drop_(WATCH)))
        for parts in ((), ("drops",), ("kit",), ("party", "kit", "drops")):
            self.assertEqual([s.id for s in parts_of(on, "again", parts).shed.own_schools], ["s1"], parts)

    def test_what_is_wrong_names_its_field(self):
        plan = descent()
        for wrong, where in (
            ([school()], "edits"),
            ([school(drop_(WATCH)), school(drop_(WATCH), name="other")], "own_schools"),
            ([school(drop_(WATCH)), {**school(drop_(WATCH), name="OURS"), "id": "s2"}], "own_schools"),
            ([school(drop_(WATCH), whom="some")], "whom"),
        ):
            with self.assertRaises((ValidationError, Exception)) as e:
                with_schools(plan, *wrong)
            self.assertIn(where, str(e.exception), wrong)
        self.assertRaises(ValidationError, OwnSchool, id="s1", name="x", edits=())
