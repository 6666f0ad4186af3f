"""The second check: an acceptance holds for what it was given for, an objection until it is taken back."""

import datetime as dt
import json
import random
import unittest
from collections import Counter
from dataclasses import replace
from functools import lru_cache

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.context import context
from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.descent.prospect import Known, prospect
from reamer.core.errors import PlanError
from reamer.core.model import Record
from reamer.core.reading import parse, read_file, read_plan
from reamer.core.rehearsal.rehearsal import gone_through, rehearsal, station_run
from reamer.core.second.check import (
    ACCEPTABLE,
    Said,
    act_items,
    decided,
    finding_items,
    may_be,
    second_check,
    standing,
    station_items,
)
from reamer.core.second.rests import BY_FIGURES, LATER, Basis
from reamer.demos import DEMOS, canyon
from reamer.formats.card import Answers, card
from tests import law
from tests.builders import known, unknown
from tests.kept import STATIONS
from tests.rehearsing import descent_of, party


def leaves(data, path=()):
    """Every plain value of a plan, with where it stands."""
    some = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else None
    if some is None:
        yield path, data
    for key, value in some or ():
        yield from leaves(value, (*path, key))


def put(data, path):
    """Another value in the place of one, which need not make a plan."""
    *way, last = path
    for key in way:
        data = data[key]
    was = data.get(last) if isinstance(data, dict) else data[last]
    if isinstance(was, bool):
        data[last] = not was
    elif isinstance(was, (int, float)):
        data[last] = round(was * 1.1 + 0.1, 2)
    else:
        data[last] = f"{was or ''} x".strip()


NOW = dt.datetime(2026, 5, 1, 20, 0, tzinfo=dt.UTC)


@lru_cache(maxsize=4)
def worked_out(text):
    """All that is checked of a plan, given as JSON: the same whatever is said of it."""
    plan = read_plan(json.loads(text))
    ctx, a = context(plan), assess(plan, fixes=False)
    run = gone_through(ctx, a.drops)
    ahead = prospect(ctx, STATIONS, Known(a.drops, a.webbing, a.descent.times))
    runs = [station_run(ctx, run, k) for k in range(len(plan.drops))]
    return ctx, a, ahead, runs, rehearsal(ctx, run, mend=False)


def check(data, record=Record()):  # noqa: B008  it does not change
    return second_check(*worked_out(json.dumps(data)), record)


def stood(data, record):
    ctx, a, *_ = worked_out(json.dumps(data))
    return standing(ctx, a, record)


def say(checked, record, by, verdict, *items, remark="seen on Tuesday"):
    said = [Said(i, verdict, remark) for i in items]
    made = decided([x.item for x in checked.looked], by, NOW, 1, said)
    return Record(verdicts=(*record.verdicts, *made))


def everything(checked, by="Ada"):
    """A record in which one person has the last word on all that the tool found, and agrees with the rest."""
    record = Record()
    for x in checked.looked:
        verdict = next((v for v in ("accepted", "overruled", "agreed") if v in x.may), None)
        if verdict is None:
            continue
        record = say(checked, record, by, verdict, x.item.key)
    return record


def demo():
    return json.loads(canyon().model_dump_json())


def small():
    """A descent of three drops at which something is found of every kind."""
    data = descent_of("doubled", party(2), "ledge", 3)
    data["drops"] = [{**json.loads(json.dumps(d)), "id": f"d{n}"} for n, d in enumerate(data["drops"], 1)]
    data["drops"][1]["cracks"] = "unknown"
    data["shed"]["ropes"][0]["measured_m"] = unknown("never")
    data["drops"][2]["section"]["height_m"] = known(80, "tape")
    return data


CHANGES = (
    lambda d: d["drops"][1]["section"].update(height_m=known(17, "eye")),
    lambda d: d["drops"][2]["section"].update(edge="sharp"),
    lambda d: d["drops"][0]["landing"].update(kind="pool"),
    lambda d: d["drops"][1]["station"].update(wet="yes"),
    lambda d: d["party"][1].update(hitch=None),
    lambda d: d["party"][0].update(mass_kg=unknown("not weighed")),
    lambda d: d["shed"]["ropes"][0].update(diameter_mm=known(8.1)),
    lambda d: d["shed"]["rings"][0].update(opening_mm=unknown("not measured")),
    lambda d: d["drops"][1].update(cracks="yes"),
    lambda d: d["drops"][0].update(name="Another name"),
    lambda d: d.update(title="Another title"),
    lambda d: d["drops"].reverse(),
    lambda d: d["drops"].pop(1),
    lambda d: d["drops"][0]["station"].update(through={"edits": [{"kind": "drop", "act": "d1:p1:test:"}]}),
)


class Check(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.data = small()
        cls.before = check(cls.data)
        cls.record = everything(cls.before)

    def test_what_may_be_said(self):
        kinds = {x.item.severity for x in self.before.looked}
        self.assertLessEqual({"Shortfall", "Not checked", "Caution"}, kinds)
        for x in self.before.looked:
            self.assertEqual("accepted" in x.may, x.item.severity in ACCEPTABLE, x.item.key)
            self.assertEqual("overruled" in x.may, x.item.severity == "Shortfall", x.item.key)
        self.assertEqual(len({x.item.key for x in self.before.looked}), len(self.before.looked))

    def test_all_accepted_and_overruled_is_still_a_shortfall(self):
        after = check(self.data, self.record)
        self.assertEqual({x.state for x in after.looked}, {"accepted", "overruled", "agreed"})
        for was, now in zip(self.before.tally.parts, after.tally.parts, strict=True):
            self.assertFalse(was.pending or now.pending)
            was, now = was.count, now.count
            self.assertEqual(now.open["Shortfall"], was.open["Shortfall"])
            self.assertEqual((now.open["Not checked"], now.overruled), (0, was.open["Shortfall"]))
            self.assertEqual(now.accepted["Not checked"], was.open["Not checked"])
        self.assertFalse(after.tally.clear)
        # The assessment by itself, as a save gives it, says the same of its own findings, and of the rest that it is
        # not worked out: nothing of it counts as clear.
        alone = stood(self.data, self.record)
        self.assertEqual(alone.tally.stations, after.tally.stations)
        self.assertEqual([p.pending for p in alone.tally.parts], [False, True, True])
        self.assertFalse(stood(self.data, Record()).tally.clear)
        self.assertEqual(alone.counts, after.counts)
        states = {x.item.key: x.state for x in after.looked}
        self.assertTrue(alone.findings)
        for key, x in alone.findings.items():
            self.assertEqual(x.state, states[f"finding:{key}"])

    def test_every_finding_counts_in_one_of_the_three_figures(self):
        told = [x.item.key for x in self.before.looked if x.item.kind == "finding"]
        counted = sum(sum(p.count.open.values()) for p in self.before.tally.parts)
        self.assertEqual(counted, len(told))

    @law(12)
    @given(st.lists(st.integers(0, len(CHANGES) - 1), min_size=1, max_size=3, unique=True))
    def test_what_holds_after_a_change_rests_on_what_it_rested_on(self, chosen):
        data = json.loads(json.dumps(self.data))
        for i in chosen:
            if len(data["drops"]) == 3 or i in (0, 3, 4, 5, 6, 7, 8, 10):
                CHANGES[i](data)
        was = {x.item.key: x.item for x in self.before.looked}
        after = check(data, self.record)
        for x in after.looked:
            if x.state != "open":
                self.assertEqual(x.item.rests, was[x.item.key].rests)
                self.assertEqual(x.item.severity, was[x.item.key].severity)
                if x.item.severity:
                    self.assertEqual(words(x.item.reason), words(was[x.item.key].reason))
            elif x.item.key in was:
                self.assertTrue(x.marks and all(m.changed for m in x.marks), x.item.key)
            else:
                self.assertEqual(x.marks, ())
        # Undone, everything holds again.
        self.assertEqual(check(self.data, self.record).reopened, 0)

    def test_a_change_reopens_what_it_touches_and_says_what_changed(self):
        data = json.loads(json.dumps(self.data))
        data["drops"][1]["rock"] = "coarse"
        after = check(data, self.record)
        again = [x for x in after.looked if x.marks and x.state == "open"]
        self.assertIn("station:d2", [x.item.key for x in again])
        self.assertEqual({x.item.drop for x in again} - {""}, {"d2"})
        self.assertIn("the rock", next(x for x in again if x.item.key == "station:d2").marks[0].changed)
        renamed = json.loads(json.dumps(self.data))
        renamed["title"], renamed["notes"] = "Another", "Call the hut."
        self.assertEqual(check(renamed, self.record).reopened, 0)
        rope = json.loads(json.dumps(self.data))
        rope["shed"]["ropes"][0]["diameter_mm"] = known(8.3)
        name = rope["shed"]["ropes"][0]["name"]
        changed = next(x for x in check(rope, self.record).looked if x.item.key == "station:d1").marks[0].changed
        self.assertIn(name, changed)

    def reworded(self, data, reword):
        """All that is checked of a plan, its sentences as another program has them."""
        ctx, a, ahead, runs, got = worked_out(json.dumps(data))

        def said(x, *fields):
            return replace(x, **{f: reword(getattr(x, f)) for f in fields if getattr(x, f) is not None})

        def found(findings):
            return tuple(said(f, "title", "reason") for f in findings)

        def station(d):
            return d and replace(said(d, "answer"), last=station(d.last), findings=found(d.findings))

        def run(r):
            steps = [replace(said(s, "words", "refused"), held=tuple(said(h, "said") for h in s.held)) for s in r.steps]
            return replace(r, steps=tuple(steps), spans=tuple(said(s, "title", "story") for s in r.spans))

        a = replace(a, drops=tuple(map(station, a.drops)), findings=found(a.findings))
        ahead, got = (replace(x, findings=found(x.findings)) for x in (ahead, got))
        return ctx, a, ahead, [run(r) for r in runs], got

    def test_what_is_only_worded_otherwise_opens_nothing(self):
        def other(s):
            return replace(s, template=f"In other words: {s.template}!")

        after = second_check(*self.reworded(self.data, other), self.record)
        opened = [x.item.key for x in after.looked if x.state == "open" and x.may != ("withdrawn",)]
        several = [k for k in opened if not k.startswith("finding:")]
        self.assertEqual((after.reopened, several), (0, []))
        # Of two of one code about the same nobody knows which is which.
        about = Counter(k.partition("In other words")[0] for k in opened)
        self.assertEqual([k for k, n in about.items() if n < 2], [])

        def more(s):
            return replace(s, numbers={k: replace(n, value=n.value * 1.2) for k, n in s.numbers.items()})

        self.assertGreater(second_check(*self.reworded(self.data, more), self.record).reopened, 5)

    def test_verdicts_that_rest_on_words_stay_while_the_words_do(self):
        """Those that were given before it was told by codes and figures."""
        ctx, a, ahead, runs, got = worked_out(json.dumps(self.data))
        basis = Basis(ctx.plan, [x.item.key for x in self.before.looked])
        items = station_items(basis, a)
        findings = [*(f for d in a.drops for f in d.findings), *a.findings, *ahead.findings, *got.findings]
        items += finding_items(basis, findings) + [i for r in runs for i in act_items(basis, r)]
        worded = basis.in_words
        old = [
            v.model_copy(
                update={
                    "rests": {p: of for p, of in v.rests.items() if p not in (*BY_FIGURES, *LATER)} | worded[v.item]
                }
            )
            for v in self.record.verdicts
        ]
        self.assertEqual({i.key for i in items} - set(worded), set())
        record = Record(verdicts=tuple(old))
        self.assertEqual(check(self.data, record).reopened, 0)
        for change in CHANGES[:9]:
            data = json.loads(json.dumps(self.data))
            change(data)
            opened = [{x.item.key for x in check(data, r).looked if x.state == "open"} for r in (record, self.record)]
            # What words would have opened, figures and keys do.
            self.assertLessEqual(*opened)

    def test_whatever_is_printed_of_a_station_opens_it_again(self):
        """A change of every kind of field of a station, of its kit, of who goes: where its page says something else,
        something that is looked at there is open; where it is a station's own, nothing at others with the same page."""
        data = json.loads(canyon().model_dump_json())
        data["drops"] = data["drops"][1:4]
        data["drops"][1]["watch"] = {"go_below_m": 0.4, "turn_back_m": 0.8}
        before, pages = check(data), self.pages(data)
        record = everything(before)
        paths = [p for p, v in leaves(data["drops"][1]) if p[-1] not in ("id", "kind")]
        rng = random.Random(1)
        kinds = {tuple(x for x in p if isinstance(x, str)): p for p in rng.sample(paths, len(paths))}
        chosen = [("drops", 1, *p) for p in rng.sample(list(kinds.values()), 12)]
        chosen += [
            ("drops", 1, "name"),
            ("shed", "ropes", 0, "name"),
            ("party", 0, "name"),
            ("drops", 1, "watch", "turn_back_m"),
        ]
        pause = {"act": self.an_act(data), "looks": None, "at": "the knots"}
        for path in (*chosen, pause):
            other = json.loads(json.dumps(data))
            if path is pause:
                other["drops"][1]["station"]["through"]["pauses"] = [pause]
            else:
                put(other, path)
            try:
                read_plan(other)
            except PlanError:
                continue
            with self.subTest(path):
                now, after = self.pages(other), check(other, record)
                opened = {x.item.drop for x in after.looked if x.state == "open"}
                # Whoever agreed to it looks at just that again.
                named = {("drops", 1, "name"): "station:d3", ("drops", 1, "watch", "turn_back_m"): "station:d3"}
                key = f"act:d3:{pause['act']}" if path is pause else named.get(path)
                if key is not None:
                    self.assertIn(key, [x.item.key for x in after.looked if x.state == "open"])
                of = {d for f in after.looked if f.state == "open" for d in self.told_of(f, other)}
                for drop, page in now.items():
                    if page != pages[drop]:
                        self.assertTrue({drop, ""} & (opened | of), drop)
                    elif drop != "d3" and (path is pause or path[0] == "drops"):
                        self.assertEqual(self.own(after, drop), [], drop)

    def own(self, after, drop):
        """The station and its acts, where they are open again."""
        kinds = ("station", "acts", "act")
        return [x.item.key for x in after.looked if (x.item.drop, x.state) == (drop, "open") and x.item.kind in kinds]

    def told_of(self, looked, data):
        key = looked.item.key.removeprefix("finding:")
        _, a, ahead, _, got = worked_out(json.dumps(data))
        some = [*(f for d in a.drops for f in d.findings), *a.findings, *ahead.findings, *got.findings]
        return {d for f in some if f.key == key for d in f.drops}

    def an_act(self, data):
        return worked_out(json.dumps(data))[3][1].steps[2].key

    def pages(self, data):
        ctx, a, ahead, runs, got = worked_out(json.dumps(data))
        return {s.drop: s for s in card(Answers(ctx.plan, a, ahead, got, tuple(runs), check(data))).stations}

    def test_two_on_one_strand_reopen_what_was_accepted_for_one(self):
        data = demo()
        found = check(data)
        short = ("finding:anchor.unknown:d7", "finding:part.single:d7", "finding:inspection.none:d7")
        keys = [x.item.key for x in found.looked if x.item.key.startswith(short)]
        self.assertEqual(len(keys), 3)
        record = say(found, Record(), "Ada", "accepted", *keys)
        novice, guide = data["party"][3]["id"], data["party"][0]["id"]
        backup = {"who": novice, "by": "tandem", "helper": guide}
        data["drops"][6]["station"]["through"] = {"backups": [backup]}
        after = {x.item.key: x for x in check(data, record).looked}
        self.assertLessEqual(set(keys), set(after))
        for key in keys:
            self.assertEqual(after[key].state, "open", key)
            self.assertIn("order and backups", after[key].marks[0].changed)
        # Whatever the acts are, the anchor is asked for the same.
        data["drops"][6]["station"]["through"] = {"edits": [{"kind": "drop", "act": "d7:lead:call:rope"}]}
        after = {x.item.key: x.state for x in check(data, record).looked}
        self.assertEqual({after[k] for k in keys}, {"accepted"})

    def test_an_order_is_open_again_where_a_fall_is_higher(self):
        data = json.loads(DEMOS["buttress"]().model_dump_json())
        found = check(data)
        acts = [x.item.key for x in found.looked if x.item.key.startswith(("acts:d1", "act:d1:"))]
        record = say(found, Record(), "Ada", "agreed", *acts)
        data["drops"][0]["section"]["height_m"]["value"] += 9
        after = {x.item.key: x for x in check(data, record).looked}
        self.assertEqual((after["acts:d1"].state, after["acts:d1"].marks[0].changed), ("open", ("hazards here",)))
        again = [k for k in acts if k.startswith("act:d1:") and after[k].state == "open"]
        self.assertTrue(0 < len(again) < len(acts) - 1)

    def test_moving_an_act_reopens_it_and_its_neighbours(self):
        data = json.loads(json.dumps(self.data))
        acts = [x.item.key.split(":", 2)[2] for x in self.before.looked if x.item.key.startswith("act:d1:")]
        data["drops"][0]["station"]["through"] = {"edits": [{"kind": "move", "act": acts[5], "after": acts[6]}]}
        after = {x.item.key: x.state for x in check(data, self.record).looked}
        self.assertEqual({after[f"act:d1:{acts[n]}"] for n in (5, 6, 7)}, {"open"})
        self.assertEqual(after["acts:d1"], "open")
        self.assertEqual({s for k, s in after.items() if k.startswith(("act:d2", "acts:d2", "station:d3"))}, {"agreed"})

    def test_an_objection_holds_whatever_changes_until_it_is_taken_back(self):
        keys = [x.item.key for x in self.before.looked]
        gone = json.loads(json.dumps(self.data))
        gone["drops"].pop(2)
        for n, key in enumerate((*keys[:12], next(k for k in keys if k.startswith("act:d3")))):
            record = say(self.before, self.record, "Wren", "objected", key)
            for data in (self.data, gone):
                found = check(data, record)
                self.assertEqual(found.tally.objections, 1, key)
                self.assertFalse(found.tally.clear)
                self.assertEqual(stood(data, record).counts[""].objections, 1)
            # Nobody else takes it back, and its own maker by any writing of the name.
            other = say(check(gone, record), record, "Ada", "withdrawn", key) if n == 12 else record
            self.assertEqual(check(gone, other).tally.objections, 1)
            back = say(check(self.data, record), record, "WREN", "withdrawn", key)
            self.assertEqual(check(self.data, back).tally.objections, 0)

    def test_clear_needs_every_not_checked_accepted_by_name(self):
        data = json.loads(json.dumps(self.data))
        data["drops"].pop(2)
        found = check(data)
        bad = [x.item for x in found.looked if x.item.severity == "Shortfall"]
        self.assertEqual(bad, [])
        blank = [x.item.key for x in found.looked if x.item.severity == "Not checked"]
        self.assertTrue(blank)
        record = say(found, Record(), "Ada", "accepted", *blank[1:])
        self.assertFalse(check(data, record).tally.clear)
        record = say(found, record, "Ada", "accepted", blank[0])
        self.assertTrue(check(data, record).tally.clear)
        self.assertFalse(check(data, say(found, record, "Bo", "objected", blank[0])).tally.clear)
        self.assertFalse(check(data, say(found, record, "Ada", "agreed", blank[0])).tally.clear)

    def test_a_record_cannot_say_what_nobody_may(self):
        short = next(x.item for x in self.before.looked if x.item.severity == "Shortfall")
        bad = decided([short], "Ada", NOW, 1, [Said(short.key, "overruled", "it will do")])[0]
        forged = Record(verdicts=(bad.model_copy(update={"verdict": "accepted"}),))
        found = next(x for x in check(self.data, forged).looked if x.item.key == short.key)
        self.assertEqual(found.state, "open")

    def test_refused_by_field(self):
        items = [x.item for x in self.before.looked]
        short = next(i for i in items if i.severity == "Shortfall").key
        blank = next(i for i in items if i.severity == "Not checked").key
        note = next((i for i in items if i.severity == "Note"), items[0])
        for said, field in (
            (Said("finding:nothing", "agreed", ""), "verdicts/0/item"),
            (Said(short, "accepted", "fine"), "verdicts/0/verdict"),
            (Said(blank, "overruled", "fine"), "verdicts/0/verdict"),
            (Said(note.key, "accepted", "fine"), "verdicts/0/verdict"),
            (Said(blank, "accepted", " \n"), "verdicts/0/remark"),
            (Said(items[0].key, "objected", ""), "verdicts/0/remark"),
        ):
            with self.subTest(said), self.assertRaises(PlanError) as caught:
                decided(items, "Ada", NOW, 1, [said])
            self.assertEqual(caught.exception.field, field)
        self.assertEqual(may_be(replace(items[0], kind="gone")), ("withdrawn",))

    def test_it_travels_beside_the_plan(self):
        text = json.dumps({**self.data, "record": self.record.model_dump(mode="json")}).encode()
        plan, record, _ = read_file(parse(text))
        self.assertEqual((plan, record), (read_plan(self.data), self.record))
        bad = json.loads(text)
        for change, field in (
            (lambda v: v.update(by=" "), "record/verdicts/0/by"),
            (lambda v: v.update(at="yesterday"), "record/verdicts/0/at"),
            (lambda v: v.update(verdict="fine"), "record/verdicts/0/verdict"),
            (lambda v: v.update(verdict="objected", remark=""), "record/verdicts/0/remark"),
            (lambda v: v.update(rests={"what is said": "zz"}), "record/verdicts/0/rests/what is said"),
            (lambda v: v.update(more=1), "record/verdicts/0/more"),
        ):
            data = json.loads(json.dumps(bad))
            change(data["record"]["verdicts"][0])
            with self.subTest(field), self.assertRaises(PlanError) as caught:
                read_file(data)
            self.assertEqual(caught.exception.field, field)
        with self.assertRaises(PlanError):
            read_plan(bad)

    def test_the_demonstration(self):
        found = check(demo())
        self.assertGreater(len(found.looked), 500)
        # Nobody gets to the last station with its rope: there is no order there to agree with.
        barred = next(x for x in found.looked if x.item.key == "acts:d9")
        self.assertEqual(barred.may, ("objected", "withdrawn"))
        self.assertIn("is not gone through: Slate 50 is still at station 6", words(barred.item.title))
        after = check(demo(), everything(found))
        self.assertEqual(after.reopened, 0)
        self.assertEqual({x.item.key for x in after.looked if x.state == "open"}, {"acts:d9"})


if __name__ == "__main__":
    unittest.main()
