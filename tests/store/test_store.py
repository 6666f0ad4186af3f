"""Migrations that are whole or not at all; revisions that are never lost; undo and redo against a simple model."""

import os
import random
import signal
import sqlite3
import subprocess
import sys
import tempfile
import textwrap
import unittest
from contextlib import closing
from pathlib import Path

from reamer.core.model import Shed
from reamer.demos import canyon
from reamer.store.database import MigrationError, connect, migrate, snapshot, statements, trouble
from reamer.store.plans import NoSuchPlan, NothingToUndo, Plans, StaleRevision
from reamer.store.shed import Sheds, StaleShed


class Fresh(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.conn = connect(self.folder / "t.sqlite3")
        self.addCleanup(self.conn.close)


class Strange(Fresh):
    """A database that this program does not know is left as it is."""

    def bytes(self):
        return {p.name: p.read_bytes() for p in self.folder.iterdir()}

    def test_of_a_newer_version(self):
        migrate(self.conn)
        self.conn.execute("INSERT INTO migration (name, applied_at) VALUES ('9999_later.sql', 'x')")
        self.conn.close()
        before = self.bytes()
        conn = connect(self.folder / "t.sqlite3")
        with self.assertRaisesRegex(MigrationError, "version 9999, this program knows up to 00"):
            migrate(conn)
        conn.close()
        self.assertEqual(self.bytes(), before)

    def test_of_something_else(self):
        self.conn.execute("CREATE TABLE songs (title TEXT)")
        self.conn.close()
        before = self.bytes()
        conn = connect(self.folder / "t.sqlite3")
        with self.assertRaisesRegex(MigrationError, "something else"):
            migrate(conn)
        conn.close()
        self.assertEqual(self.bytes(), before)

    def test_no_database_at_all(self):
        (self.folder / "text.sqlite3").write_text("not a database, but long enough to look at " * 40)
        with self.assertRaises(sqlite3.DatabaseError) as caught:
            migrate(connect(self.folder / "text.sqlite3"))
        self.assertIn("not a database", trouble(caught.exception) + str(caught.exception))


class CommonShed(Fresh):
    def test_every_save_stays_and_the_last_change_can_be_taken_back(self):
        migrate(self.conn)
        sheds, full = Sheds(self.conn), canyon().shed
        self.assertEqual(sheds.take_back(0).revision, 0)  # nothing kept, nothing to take back
        less = full.model_copy(update={"ropes": full.ropes[1:]})
        self.assertEqual(sheds.save(sheds.save(0, full).revision, less).shed, less)
        for want, revision in ((full, 3), (less, 4), (full, 5)):
            head = sheds.take_back(revision - 1)
            self.assertEqual((head.revision, head.shed), (revision, want))
            self.assertIn("taken back: ", head.what)
        with self.assertRaises(StaleShed):
            sheds.take_back(2)
        self.assertEqual(self.conn.execute("SELECT count(*) FROM shed_revision").fetchone()[0], 5)

    def test_the_first_save_taken_back_leaves_it_empty(self):
        migrate(self.conn)
        sheds = Sheds(self.conn)
        sheds.save(0, canyon().shed)
        self.assertEqual(sheds.take_back(1).shed, Shed())


class Migrations(Fresh):
    def write(self, name, sql):
        (self.folder / name).write_text(sql)

    def test_a_failing_one_undoes_itself_wholly_and_runs_once_repaired(self):
        self.write("0001_a.sql", "CREATE TABLE a (x);\nINSERT INTO a VALUES (1);")
        self.write("0002_b.sql", "CREATE TABLE b (x);\nINSERT INTO nowhere VALUES (1);")
        with self.assertRaisesRegex(MigrationError, "0002_b.sql: no such table: nowhere"):
            migrate(self.conn, self.folder)
        tables = {r["name"] for r in self.conn.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        self.assertEqual(tables, {"migration", "a"})
        self.write("0002_b.sql", "CREATE TABLE b (x);")
        self.assertEqual(migrate(self.conn, self.folder), ["0002_b.sql"])
        self.assertEqual(migrate(self.conn, self.folder), [])
        self.assertEqual(self.conn.execute("SELECT count(*) FROM a").fetchone()[0], 1)

    def test_statements_are_cut_where_sqlite_says(self):
        sql = (
            "CREATE TABLE t (x TEXT DEFAULT 'a;b');\nCREATE TRIGGER g AFTER INSERT ON t BEGIN\n SELECT 1;\n SELECT"
            " 2;\nEND;\n-- end\n"
        )
        self.assertEqual(len(list(statements(sql))), 2)

    def test_house_settings(self):
        migrate(self.conn)
        self.assertEqual(self.conn.execute("PRAGMA journal_mode").fetchone()[0], "wal")
        self.assertEqual(self.conn.execute("PRAGMA foreign_keys").fetchone()[0], 1)


class Revisions(Fresh):
    def setUp(self):
        super().setUp()
        migrate(self.conn)
        self.plans = Plans(self.conn)
        self.id = self.plans.create(canyon()).id

    def titled(self, title):
        return canyon().model_copy(update={"title": title})

    def test_undo_and_redo_follow_a_list_and_a_cursor(self):
        """Model: edits in a list with a cursor; an edit cuts what lies ahead. The store keeps everything besides."""
        rng = random.Random(7)
        titles, cursor, revision = ["Fernlid Slot"], 0, 1
        for n in range(120):
            act = rng.choice(("edit", "undo", "redo", "undo"))
            if act == "edit":
                titles, cursor = [*titles[: cursor + 1], f"T{n}"], cursor + 1
                head = self.plans.save(self.id, revision, self.titled(f"T{n}"))
            else:
                to = cursor + (1 if act == "redo" else -1)
                if not 0 <= to < len(titles):
                    with self.assertRaises(NothingToUndo):
                        self.plans.step(self.id, revision, act)
                    continue
                cursor = to
                head = self.plans.step(self.id, revision, act)
            revision += 1
            self.assertEqual((head.plan.title, head.revision), (titles[cursor], revision))
            self.assertEqual((head.can_undo, head.can_redo), (cursor > 0, cursor < len(titles) - 1))
        self.assertEqual([r.number for r in self.plans.history(self.id, 1000)], list(range(revision, 0, -1)))

    def test_survives_closing(self):
        self.plans.save(self.id, 1, self.titled("B"))
        again = Plans(connect(self.folder / "t.sqlite3"))
        self.addCleanup(again.conn.close)
        self.assertEqual(again.step(self.id, 2, "undo").plan.title, "Fernlid Slot")

    def test_stale_edit_is_a_conflict_that_says_what_was_saved_since(self):
        self.plans.save(self.id, 1, self.titled("B"))
        for act in (lambda: self.plans.save(self.id, 1, self.titled("C")), lambda: self.plans.step(self.id, 1, "undo")):
            with self.assertRaises(StaleRevision) as caught:
                act()
            self.assertEqual([r.what for r in caught.exception.since], ["title Fernlid Slot → B"])
        self.assertEqual(self.plans.head(self.id).plan.title, "B")

    def test_a_save_that_changes_nothing_adds_no_revision(self):
        self.assertEqual(self.plans.save(self.id, 1, canyon()).revision, 1)

    def test_revisions_cannot_be_orphaned_or_malformed(self):
        for sql in (
            "INSERT INTO revision VALUES ('nobody', 1, 'edit', 1, NULL, 't', 'w', 't', '{}', NULL)",
            f"INSERT INTO revision VALUES ('{self.id}', 2, 'edit', 2, 1, 't', 'w', 't', NULL, NULL)",
            f"INSERT INTO revision VALUES ('{self.id}', 2, 'undo', 2, NULL, 't', 'w', 't', NULL, NULL)",
        ):
            with self.subTest(sql), self.assertRaises(sqlite3.IntegrityError):
                self.conn.execute(sql)

    def test_bin_and_back(self):
        self.plans.bin(self.id)
        self.assertEqual(
            ([p.id for p in self.plans.listed()], [p.id for p in self.plans.listed(True)]), ([], [self.id])
        )
        with self.assertRaises(NoSuchPlan):
            self.plans.head(self.id)
        self.plans.restore(self.id)
        self.assertEqual(self.plans.head(self.id).plan, canyon())
        with self.assertRaises(NoSuchPlan):
            self.plans.restore(self.id)


class OneMoment(Fresh):
    def test_what_is_read_together_is_of_one_moment(self):
        """While another puts an empty library in its place, as a restore does."""
        migrate(self.conn)
        made = Plans(self.conn).create(canyon())
        path = self.conn.execute("PRAGMA database_list").fetchone()["file"]
        with closing(connect(path)) as one, closing(connect(path)) as other, snapshot(one):
            before = one.execute("SELECT count(*) FROM revision").fetchone()[0]
            other.execute("DELETE FROM said")
            other.execute("DELETE FROM revision")
            other.execute("DELETE FROM plan")
            self.assertEqual(one.execute("SELECT count(*) FROM revision").fetchone()[0], before)
            self.assertEqual(Plans(one).head(made.id).plan, canyon())
        with self.assertRaises(NoSuchPlan):
            Plans(self.conn).head(made.id)


class Kill(Fresh):
    def test_a_kill_in_the_middle_of_saving_loses_nothing_saved(self):
        script = textwrap.dedent("""
            import sys
            from reamer.demos import canyon
            from reamer.store.database import connect, migrate
            from reamer.store.plans import Plans
            conn = connect(sys.argv[1]); migrate(conn)
            plans = Plans(conn); head = plans.create(canyon()); print(head.id, flush=True)
            while True:
                head = plans.save(head.id, head.revision, head.plan.model_copy(update={"title": f"T{head.revision}"}))
                print(head.revision, flush=True)
        """)
        path = self.folder / "k.sqlite3"
        child = subprocess.Popen([sys.executable, "-c", script, str(path)], stdout=subprocess.PIPE, text=True)
        plan_id = child.stdout.readline().strip()
        said = [int(child.stdout.readline()) for _ in range(12)]
        os.kill(child.pid, signal.SIGKILL)
        said += [int(line) for line in child.stdout.read().split() if line.isdigit()]
        child.stdout.close()
        child.wait()
        conn = connect(path)
        self.addCleanup(conn.close)
        head = Plans(conn).head(plan_id)
        self.assertIn(head.revision, (max(said), max(said) + 1))
        self.assertEqual(head.plan.title, f"T{head.revision - 1}")
        self.assertEqual(conn.execute("PRAGMA integrity_check").fetchone()[0], "ok")
