"""What things have been through: counted, held against own rules, and said in every plan that uses them."""

import datetime as dt
import unittest

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.answer.codes import SEVERITIES
from reamer.core.answer.context import context
from reamer.core.answer.say import words
from reamer.core.assess import assess
from reamer.core.errors import PlanError
from reamer.core.gear.along import going_along
from reamer.core.gear.due import status
from reamer.core.gear.findings import gear_findings, named_in
from reamer.core.log.taken import taken
from reamer.core.log.trips import blank
from reamer.core.model import Gear, GearRecord, Record
from reamer.core.plan.edits import apply
from reamer.core.plan.gear import GEAR_LISTS, MOST_ENTRIES, Before, FromLog
from reamer.core.reading import beside, read_file, read_model
from reamer.demos import DEMOS
from tests.builders import known
from tests.core.test_codes import TRAVERSE

PLAN = DEMOS["canyon"]().model_copy(update={"on": None})
ROPE = next(r for r in PLAN.shed.ropes if r.id in named_in(PLAN) and r.kind != "pull cord")
TODAY = dt.date(2027, 6, 1)
BEFORE = {"days": 0, "descents": 0, "metres": 0, "falls": 0, "wet_days": 0}


def record(*entries, name=ROPE.name, where="ropes", new=True, **more):
    made = [{"id": f"e{i}", **e} for i, e in enumerate(entries)]
    return read_model(
        GearRecord, {"list": where, "names": [name], "entries": made, "before": BEFORE if new else None, **more}
    )


def used(on="2027-05-01", **more):
    return {"kind": "used", "on": on, "metres": 100.0, "wet": "yes", **more}


def looked(found="good", on="2027-05-01"):
    return {"kind": "inspected", "on": on, "found": found, "words": "by hand"}


def measured(m, on="2027-05-01", method="tape"):
    return {"kind": "measured", "on": on, "length_m": m, "method": method}


def said(*records, plan=PLAN, log=(), on=TODAY):
    return list(gear_findings(context(plan, Gear(on, records, log))))


def codes(*records, **more):
    return [(f.code, f.severity) for f in said(*records, **more)]


def stands(made, log=(), on=TODAY):
    return status(made, Gear(on, (made,), log), on)


class Counting(unittest.TestCase):
    def test_days_are_counted_once_and_unknown_never_passes_for_nothing(self):
        made = record(used(), used(wet="unknown"), used("2027-05-02", metres=None, wet="unknown", falls=1, descents=3))
        t = stands(made).totals
        self.assertEqual([x.low.value for x in (t.days, t.descents, t.falls, t.metres)], [2, 5, 1, 200])
        self.assertEqual((t.wet_days.low.value, t.wet_days.high.value), (1, 2))
        self.assertIsNone(t.metres.high)
        self.assertEqual((t.first, t.last), (dt.date(2027, 5, 1), dt.date(2027, 5, 2)))
        unknown = stands(record(used(), new=False)).totals
        self.assertTrue(all(x.high is None for x in (unknown.days, unknown.descents, unknown.falls, unknown.wet_days)))
        self.assertIsNone(unknown.first)

    def test_the_log_books_use_once_wherever_it_comes_from(self):
        trip = blank(PLAN, assess(PLAN, fixes=False), dt.date(2027, 5, 3)).model_copy(update={"flow": "high"})
        made, log = record(name=f"  {ROPE.name.upper()} "), (FromLog("a" * 12, trip),)
        booked = next(u for u in taken(PLAN, assess(PLAN, fixes=False)) if u.name == ROPE.name)
        t = stands(made, log).totals
        self.assertEqual((t.descents.low.value, t.wet_days.low.value, t.metres.low.value), (1, 1, booked.metres))
        # Along with the file it is the same, there and where the log itself has it.
        along = going_along(PLAN, Gear(TODAY, (made,), log)).records[0]
        for back in (stands(along).totals, stands(along, log).totals):
            self.assertEqual((back.descents, back.metres, back.wet_days), (t.descents, t.metres, t.wet_days))
        more = beside(Record(), going_along(PLAN, Gear(TODAY, (made,), log)))
        self.assertEqual(read_file({**PLAN.model_dump(mode="json"), **more}).gear.records, (along,))

    @given(st.integers(0, 50), st.integers(0, 50), st.sampled_from(["yes", "no", "unknown"]))
    def test_what_was_before_adds_to_what_is_recorded(self, days, wet, got_wet):
        before = BEFORE | {"days": days, "descents": days, "wet_days": wet, "metres": 10.5 * days}
        made = record(used(wet=got_wet)).model_copy(update={"before": Before(**before)})
        t = stands(made).totals
        self.assertEqual((t.days.low.value, t.descents.high.value), (days + 1, days + 1))
        self.assertEqual(t.metres.low.value, 100 + 10.5 * days)
        self.assertEqual(t.wet_days.low.value, wet + (got_wet == "yes"))
        self.assertEqual(t.wet_days.high.value, wet + (got_wet != "no"))
        # Whoever counted use before it says nothing of when it began.
        self.assertEqual(t.first is None, days > 0)

    def test_a_record_that_grew_past_a_file_says_that_it_is_not_whole(self):
        trip = blank(PLAN, assess(PLAN, fixes=False), dt.date(2027, 5, 3))
        log = tuple(
            FromLog(f"{n:012x}", trip.model_copy(update={"on": trip.on - dt.timedelta(days=n)}))
            for n in range(MOST_ENTRIES)
        )
        made = record(looked("condemned", "2026-01-01"), {"kind": "damaged", "on": "2026-01-02", "words": "cut"})
        along = going_along(PLAN, Gear(TODAY, (made,), log)).records[0]
        self.assertEqual(len(along.entries), MOST_ENTRIES)
        whole, part = stands(made, log).totals, stands(along).totals
        # What matters most stays, the newest use stays, and no count passes for the whole.
        self.assertEqual((part.out, part.damage, part.last), (whole.out, whole.damage, whole.last))
        self.assertLess(part.days.low.value, whole.days.low.value)
        self.assertIsNone(part.days.high)
        self.assertEqual(read_model(GearRecord, along.model_dump(mode="json")), along)

    def test_what_a_descent_takes_of_each_thing(self):
        a = assess(PLAN, fixes=False)
        booked = {(u.list, u.name): u.metres for u in taken(PLAN, a)}
        lines = [max(b.nominal.value for b in (d.taut, d.draped) if b) for d in a.drops]
        for device in {p.device for p in PLAN.party}:
            name = next(d.name for d in PLAN.shed.devices if d.id == device)
            self.assertAlmostEqual(booked["devices", name], sum(lines), delta=0.1)
        cords = [r.name for r in PLAN.shed.ropes if r.kind == "pull cord" and ("ropes", r.name) in booked]
        self.assertTrue(all(booked["ropes", c] == 0 for c in cords))
        across = PLAN.model_dump(mode="json")
        rope = next(r for r in across["shed"]["ropes"] if booked.get(("ropes", r["name"])))
        across["drops"][0]["station"]["traverse"] = {**TRAVERSE, "rope": rope["id"], "span_m": known(8, "tape")}
        longer = read_file(across).plan
        worn = {(u.list, u.name): u.metres for u in taken(longer, assess(longer, fixes=False))}
        name = ("ropes", rope["name"])
        self.assertAlmostEqual(worn[name] - booked[name], 8 * len(PLAN.party), delta=0.1)
        no_height = PLAN.model_dump(mode="json")
        for d in no_height["drops"]:
            if d["section"]["kind"] == "quick":
                d["section"]["height_m"] = {"kind": "unknown", "why": ""}
        plan = read_file(no_height).plan
        self.assertIn(None, [u.metres for u in taken(plan, assess(plan, fixes=False))])


class Rules(unittest.TestCase):
    @given(st.integers(1, 12), st.integers(0, 12), st.booleans())
    def test_a_limit_that_is_reached_counts_and_what_is_unknown_is_not_passed(self, limit, n, new):
        made = record(*(used(f"2027-04-{i + 1:02d}") for i in range(n)), new=new, rules={"days": limit})
        (rule,) = stands(made).rules
        self.assertEqual(rule.stands, "reached" if n >= limit else "not reached" if new else "may be reached")
        want = {"reached": ("gear.rule", "Shortfall"), "may be reached": ("gear.rule", "Not checked")}.get(rule.stands)
        self.assertEqual([c for c in codes(made) if c[0] == "gear.rule"], [want] if want else [])

    def test_every_rule_is_held(self):
        entries = [used(falls=2), measured(45.0, "2027-04-01")]
        for rules, reached in (
            ({"descents": 1}, True),
            ({"metres": 100}, True),
            ({"metres": 100.1}, False),
            ({"falls": 2}, True),
            ({"wet_days": 1}, True),
            ({"wet_days": 2}, False),
            ({"years_made": 9}, True),
            ({"years_made": 9.2}, False),
            ({"years_used": 0.08}, True),
            ({"shrunk_pct": 5}, True),
            ({"shrunk_pct": 12}, False),
        ):
            made = record(*entries, rules=rules, made_on="2018-05-31", label_m=50.0)
            self.assertEqual([r.stands == "reached" for r in stands(made).rules], [reached], rules)
        for rules in ({"years_made": 5}, {"years_used": 5}, {"shrunk_pct": 5}):
            (rule,) = stands(record(rules=rules)).rules
            self.assertEqual(rule.stands, "may be reached", rules)
        # The descent's own day counts, where it is later than today.
        plan = PLAN.model_copy(update={"on": dt.date(2028, 6, 1)})
        made = record(rules={"years_made": 10}, made_on="2018-05-01")
        self.assertEqual((codes(made), len(codes(made, plan=plan))), ([], 1))

    def test_old_textile_is_told_where_its_owner_has_no_rule(self):
        for more, want in (
            ({"made_on": "2017-05-30"}, [("gear.rule", "Caution")]),
            ({"first_used": "2017-05-30"}, [("gear.rule", "Caution")]),
            ({"made_on": "2017-06-30"}, []),
            ({"made_on": "2017-05-30", "rules": {"years_made": 12}}, []),
            ({"made_on": "2017-05-30", "rules": {"years_made": 8}}, [("gear.rule", "Shortfall")]),
        ):
            self.assertEqual(codes(record(**more)), want, more)
        self.assertEqual(stands(record(where="rings", made_on="1999-01-01")).rules, ())

    def test_to_be_looked_over_again(self):
        for entries, due in (
            ([], True),
            ([looked(on="2027-05-02")], False),
            ([looked(on="2027-05-01")], True),
            # Nobody has looked on a day that is yet to come.
            ([looked(on="2029-05-02")], True),
        ):
            made = record(*entries, rules={"inspect_days": 30})
            self.assertEqual(("gear.look", "Not checked") in codes(made), due, entries)


class InEveryPlan(unittest.TestCase):
    def test_what_is_retired_or_condemned_is_a_shortfall_and_stays_one(self):
        for entry, title in (
            ({"kind": "retired", "on": "2027-05-01", "words": "core shot"}, "is retired"),
            (looked("condemned"), "was condemned"),
        ):
            (f,) = said(record(entry, looked("good", "2027-05-20"), rules={"days": 1, "inspect_days": 1}))
            self.assertEqual((f.code, f.severity, f.subject.part), ("gear.out", "Shortfall", f"rope.{ROPE.id}"))
            self.assertIn(title, words(f.title))
        (f,) = said(record(entry))
        self.assertEqual(codes(record(entry, name="another rope")), [])
        self.assertEqual(codes(record(entry, where="slings")), [])
        idle = next(r for r in PLAN.shed.ropes if r.id not in named_in(PLAN))
        self.assertEqual(codes(record(entry, name=idle.name)), [])
        self.assertEqual(len(codes(record(entry), record(entry))), 1)
        kept = assess(PLAN, fixes=False, gear=Gear(TODAY, (record(entry),))).findings
        self.assertIn((f.key, f.severity), [(k.key, k.severity) for k in kept])

    def test_damage_is_open_until_somebody_looks(self):
        damage = {"kind": "damaged", "on": "2027-05-10", "words": "stone on it"}
        for entries, want in (
            ([damage], [("gear.damage", "Not checked")]),
            ([looked(on="2027-05-09"), damage], [("gear.damage", "Not checked")]),
            ([damage, looked(on="2027-05-10")], [("gear.damage", "Not checked")]),
            ([damage, looked(on="2027-05-11")], []),
            ([damage, looked("worn", "2027-05-11")], [("gear.worn", "Caution")]),
            ([looked("worn", "2027-05-11"), looked("good", "2027-05-11")], [("gear.worn", "Caution")]),
        ):
            self.assertEqual(codes(record(*entries)), want, entries)

    def test_a_fall_is_open_until_somebody_looks(self):
        for entries, open_ in (
            ([used(falls=1)], True),
            ([looked(on="2027-04-30"), used(falls=1)], True),
            ([used(falls=1), looked(on="2027-05-01")], True),
            ([used(falls=1), looked(on="2027-05-02")], False),
            ([used(falls=0)], False),
        ):
            self.assertEqual(("gear.damage", "Not checked") in codes(record(*entries)), open_, entries)

    def test_what_is_dated_ahead_was_neither_seen_nor_measured(self):
        """Also where the descent itself lies later than that day."""
        plan = PLAN.model_copy(update={"on": dt.date(2029, 1, 1)})
        damage = {"kind": "damaged", "on": "2027-05-10", "words": "stone on it"}
        ahead = looked(on="2028-01-01")
        self.assertIn(("gear.damage", "Not checked"), codes(record(damage, ahead), plan=plan))
        short, long = measured(40.0, "2027-05-01"), measured(70.0, "2028-01-01")
        self.assertIn(("gear.length", "Shortfall"), codes(record(short, long), plan=plan))
        # What takes it out of use does so whatever day is on it.
        self.assertEqual(codes(record({"kind": "retired", "on": "2030-01-01"})), [("gear.out", "Shortfall")])

    def test_a_rope_is_not_reckoned_longer_than_it_was_last_measured(self):
        held = ROPE.measured_m.value if ROPE.measured_m.kind == "known" else ROPE.nominal_m.value
        made = record(measured(held - 4, "2027-05-20"), used("2027-05-25"))
        (f,) = (x for x in said(made) if x.code == "gear.length")
        self.assertEqual(f.severity, "Shortfall")
        mended = apply(PLAN, f.fix.edits)
        rope = next(r for r in mended.shed.ropes if r.id == ROPE.id)
        self.assertEqual((rope.measured_m.value, rope.wet_since_measured), (held - 4, "yes"))
        self.assertEqual(codes(made, plan=mended), [])
        self.assertNotIn("gear.length", [c for c, _ in codes(record(measured(held + 4, "2027-05-20")))])

    def test_a_rope_that_got_wet_is_not_taken_for_dry(self):
        place = next(i for i, r in enumerate(PLAN.shed.ropes) if r.id == ROPE.id)
        data = PLAN.model_dump(mode="json")
        data["shed"]["ropes"][place]["wet_since_measured"] = "no"
        for on, severity in (("2027-05-01", "Shortfall"), ("2027-04-30", "Not checked"), ("2027-04-29", None)):
            data["shed"]["ropes"][place]["measured_m"] = {
                "kind": "known",
                "value": 50.0,
                "method": "tape",
                "on": "2027-04-30",
            }
            got = [f for f in said(record(used(on)), plan=read_file(data).plan) if f.code == "gear.wet"]
            self.assertEqual([f.severity for f in got], [severity] if severity else [], on)
        for wet, severity in (("unknown", "Not checked"), ("no", None)):
            got = [f for f in said(record(used(wet=wet)), plan=read_file(data).plan) if f.code == "gear.wet"]
            self.assertEqual([f.severity for f in got], [severity] if severity else [], wet)
        plan = apply(read_file(data).plan, said(record(used()), plan=read_file(data).plan)[0].fix.edits)
        self.assertNotIn("gear.wet", [c for c, _ in codes(record(used()), plan=plan)])

    def test_whatever_names_a_thing_uses_it(self):
        """A thing retired is told wherever a plan has it: carried only, on a person, on a rig, as a second rope."""
        gone = {"kind": "retired", "on": "2027-05-01"}
        for where in GEAR_LISTS:
            for thing in getattr(PLAN.shed, where):
                out = f'"{thing.id}"' in "".join(
                    x.model_dump_json() for x in (*(d.station for d in PLAN.drops), *PLAN.party, PLAN.carry)
                )
                got = codes(record(gone, name=thing.name.upper(), where=where))
                self.assertEqual(got, [("gear.out", "Shortfall")] if out else [], thing.name)
        spare = next(r for r in PLAN.shed.ropes if r.id not in named_in(PLAN))
        carry = PLAN.carry.model_copy(update={"ropes": tuple(r.id for r in PLAN.shed.ropes)})
        plan = PLAN.model_copy(update={"carry": carry})
        self.assertEqual(codes(record(gone, name=spare.name), plan=plan), [("gear.out", "Shortfall")])

    @given(st.lists(st.sampled_from(["used", "looked", "worn", "condemned", "damage", "retired"]), max_size=6))
    def test_more_that_is_bad_is_never_milder(self, kinds):
        make = {
            "used": used(),
            "looked": looked(on="2027-05-05"),
            "worn": looked("worn", "2027-05-06"),
            "condemned": looked("condemned", "2027-05-04"),
            "damage": {"kind": "damaged", "on": "2027-05-07", "words": "cut"},
            "retired": {"kind": "retired", "on": "2027-05-02"},
        }
        entries = [make[k] for k in kinds]

        def worst(*more):
            got = [s for _, s in codes(record(*entries, *more, rules={"descents": 3}))]
            return min([SEVERITIES.index(s) for s in got], default=len(SEVERITIES))

        for bad in ("used", "condemned", "damage", "retired"):
            self.assertLessEqual(worst({**make[bad]}), worst(), (kinds, bad))

    def test_without_a_day_or_a_record_nothing_is_said(self):
        self.assertEqual(codes(), [])
        self.assertEqual(codes(record(looked("condemned")), on=None), [])


class Refused(unittest.TestCase):
    def test_what_cannot_be_names_its_field(self):
        good = {"list": "ropes", "names": ["A"]}
        for more, field in (
            ({"names": []}, "names"),
            ({"names": ["A", " a "]}, "names/1"),
            ({"list": "boats"}, "list"),
            ({"entries": [used() | {"id": "e", "falls": -1}]}, "entries/0/falls"),
            ({"entries": [used() | {"id": "e", "on": "soon"}]}, "entries/0/on"),
            ({"entries": [measured(0) | {"id": "e"}]}, "entries/0/length_m"),
            ({"list": "slings", "entries": [measured(9) | {"id": "e"}]}, "entries/0/kind"),
            ({"rules": {"days": 0}}, "rules/days"),
            ({"made_on": "2027-01-01", "first_used": "2026-01-01"}, "first_used"),
        ):
            with self.assertRaises(PlanError) as caught:
                read_model(GearRecord, {**good, **more})
            self.assertTrue(caught.exception.field.startswith(field), caught.exception.field)
        with self.assertRaises(PlanError) as caught:
            read_file({**PLAN.model_dump(mode="json"), "gear": {"records": [{"list": "ropes", "names": []}]}})
        self.assertEqual(caught.exception.field, "gear/records/0/names")
