"""Documents beside the plans: whatever is done to one, every save stays, and one step takes one back."""

import datetime as dt
import sqlite3
import unittest

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.errors import PlanError
from reamer.core.model import GearRecord, Shed
from reamer.core.plan.gear import GearFile
from reamer.store.database import migrate
from reamer.store.documents import NoSuchDocument, StaleDocument
from reamer.store.gear import Gears
from reamer.store.plans import NothingToUndo, Plans
from tests.builders import plan

ACTS = ("save", "same", "remove", "undo", "stale")


def record(name="A", note=""):
    return GearRecord(list="ropes", names=(name,), note=note)


class Revisions(unittest.TestCase):
    def setUp(self):
        self.conn = sqlite3.connect(":memory:", isolation_level=None)
        self.addCleanup(self.conn.close)
        self.conn.row_factory = sqlite3.Row
        migrate(self.conn)
        self.gears = Gears(self.conn)

    @given(st.lists(st.sampled_from(ACTS), max_size=12))
    def test_every_save_stays_and_undo_is_one_step(self, acts):
        made = self.gears.records.add(record())
        stood = [made.body]
        for n, act in enumerate(acts):
            base, now = len(stood), stood[-1]
            if act == "stale":
                with self.assertRaises(StaleDocument):
                    self.gears.records.save(made.id, base - 1, record(note="lost"))
            elif act == "undo" and base == 1:
                with self.assertRaises(NothingToUndo):
                    self.gears.records.take_back(made.id, base)
            elif act == "undo":
                stood.append(stood[-2])
                self.gears.records.take_back(made.id, base)
            else:
                new = {"save": record(note=str(n)), "same": now, "remove": None}[act]
                stood += [new] if new != now else []
                self.gears.records.save(made.id, base, new)
            self.assertEqual(self.gears.records.one(made.id)[1::2], (len(stood), stood[-1]))
        sql = "SELECT body FROM gear_revision WHERE gear_id = ? ORDER BY number"
        kept = [r["body"] for r in self.conn.execute(sql, (made.id,))]
        self.assertEqual(kept, [b.model_dump_json() if b else None for b in stood])
        listed = [d.body for d in self.gears.records.every() if d.id == made.id]
        self.assertEqual(listed, [stood[-1]] if stood[-1] else [])

    def test_one_name_has_one_record_whichever_way_it_is_had_back(self):
        first = self.gears.add(record("Blue 60"))
        for name in ("blue  60", " BLUE 60"):
            with self.assertRaises(PlanError):
                self.gears.add(record(name.strip()))
        self.gears.save(first.id, 1, record("Blue 60", "kept"))
        self.gears.save(first.id, 2, None)
        second = self.gears.add(record("Blue 60"))
        with self.assertRaises(PlanError):
            self.gears.take_back(first.id, 3)
        self.assertEqual(self.gears.records.one(first.id).revision, 3)
        self.gears.save(second.id, 1, None)
        self.assertEqual(self.gears.take_back(first.id, 3).body.note, "kept")
        with self.assertRaises(NoSuchDocument):
            self.gears.save("0" * 12, 1, record("C"))

    def test_what_came_with_a_file_stays_with_its_plan(self):
        ids = [Plans(self.conn).create(plan()).id for _ in range(2)]
        self.gears.keep(ids[0], GearFile(records=(record("Came"),)))
        self.gears.keep(ids[1], GearFile())
        self.assertEqual([[r.names for r in self.gears.came(i).records] for i in ids], [[("Came",)], []])
        self.assertEqual(self.gears.gear(dt.date(2026, 5, 1)).records, ())

    def test_a_thing_that_is_renamed_keeps_its_record(self):
        def shed(*names):
            return Shed(
                ropes=tuple(
                    plan().shed.ropes[0].model_copy(update={"id": f"r{i}", "name": n}) for i, n in enumerate(names)
                )
            )

        made = self.gears.add(record("Blue 60"))
        names = lambda: self.gears.records.one(made.id).body.names  # noqa: E731
        for was, now, want in (
            (shed("Blue 60"), shed("blue  60"), ("Blue 60",)),
            (shed("Blue 60"), shed("Blue 60", "Red"), ("Blue 60",)),
            (shed("Blue 60"), shed("Old blue"), ("Blue 60", "Old blue")),
            (shed("Old blue"), shed("Blue 60"), ("Blue 60", "Old blue")),
            (shed("Blue 60", "Red"), shed("Red", "Blue 60"), ("Blue 60", "Old blue", "Red")),
        ):
            self.gears.follow(was, now)
            self.assertEqual(names(), want)
        # A name with a record of its own is left to it.
        self.gears.add(record("Green"))
        self.gears.follow(shed("Blue 60"), shed("Green"))
        self.assertEqual(names(), ("Blue 60", "Old blue", "Red"))
