"""A library backed up and restored: bit for bit, and nothing that is not one of Reamer's."""

import contextlib
import io
import json
import sqlite3
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from reamer.core.errors import PlanError
from reamer.demos import DEMOS
from reamer.store.backup import back_up, content, look, put_back
from reamer.store.database import connect, migrate
from reamer.store.plans import Plans
from reamer.web import create_app
from reamer.web.guard import LIBRARY
from reamer.web.settings import Settings


class Backup(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.client = create_app(Settings(self.folder / "t.sqlite3", hosts=("localhost",))).test_client()
        self.plans = [self.demo(n) for n in DEMOS]

    def demo(self, name):
        return self.client.post("/api/plans", json={"source": {"kind": "demo", "name": name}}).json["id"]

    @contextlib.contextmanager
    def library(self):
        conn = connect(self.folder / "t.sqlite3")
        try:
            yield conn
        finally:
            conn.close()

    def bits(self):
        with self.library() as conn:
            return list(conn.iterdump())

    def look(self, data, status=200):
        got = self.client.post("/api/restore/look", data=data, content_type=LIBRARY)
        self.assertEqual(got.status_code, status, got.text[:200])
        return got.json

    def test_exported_wiped_and_restored_bit_for_bit_and_undone(self):
        self.client.post("/api/plans/" + self.plans[0] + "/log", json={"trip": {"on": "2026-02-03"}})
        file, before = self.client.get("/api/backup").data, self.bits()
        for plan in self.plans:
            self.client.delete(f"/api/plans/{plan}")
        new = self.demo("canyon")
        after = self.bits()
        offered = self.look(file)
        self.assertEqual((offered["holds"]["plans"], offered["now"]["plans"]), (3, 4))
        self.assertEqual((offered["holds"]["descents"], offered["holds"]["unreadable"]), (1, []))
        self.assertEqual(self.bits(), after)
        made = self.client.post("/api/restore", json={"token": offered["token"]}).json
        self.assertEqual(self.bits(), before)
        self.assertEqual({p["id"] for p in self.client.get("/api/plans").json}, set(self.plans))
        self.assertEqual(self.client.get(f"/api/plans/{new}").status_code, 404)
        # The same file again gives the same file.
        self.assertEqual(self.client.get("/api/backup").data, file)
        self.client.post("/api/restore", json={"token": made["before"]})
        self.assertEqual([p["id"] for p in self.client.get("/api/plans").json], [new])

    def test_what_is_no_backup_is_refused_and_nothing_is_changed(self):
        file, before = self.client.get("/api/backup").data, self.bits()

        def changed(*statements):
            conn = sqlite3.connect(":memory:")
            conn.deserialize(file)
            for s in statements:
                conn.execute(s)
            conn.commit()
            return conn.serialize()

        middle = len(file) // 2
        for data, words in (
            (b"", "no backup"),
            (json.dumps({"format": 1}).encode(), "no backup"),
            (file[:middle], "damaged"),
            (file[:5000] + b"\xff" * 20000 + file[25000:], "damaged"),
            (changed("CREATE TABLE more (x)"), "no backup"),
            (changed("CREATE TRIGGER t AFTER INSERT ON plan BEGIN DELETE FROM plan; END"), "triggers"),
            (changed("CREATE VIEW v AS SELECT 1"), "views"),
            (changed("INSERT INTO migration VALUES ('9999_later.sql', '')"), "newer program"),
            (changed("DELETE FROM plan"), "belongs to no plan"),
        ):
            self.assertIn(words, self.look(data, 422)["detail"])
        for token in ("", "../t", "0" * 16):
            self.assertEqual(self.client.post("/api/restore", json={"token": token}).status_code, 422)
        got = self.client.post("/api/restore/look", data=file, content_type="application/json")
        self.assertEqual(got.status_code, 415)
        self.assertEqual(self.bits(), before)
        self.assertEqual(list((self.folder / "restores").iterdir()), [])
        # A plan of which this program can make nothing is told by its title, and kept.
        odd = changed(
            f"UPDATE revision SET body = '{{\"format\": 9}}', title = 'Odd' WHERE plan_id = '{self.plans[0]}'"
        )
        self.assertEqual(self.look(odd)["holds"]["unreadable"], ["Odd"])

    def test_from_the_command_line(self):
        def run(*more):
            command = [sys.executable, "-m", "reamer", *more, "--database", str(self.folder / "t.sqlite3")]
            return subprocess.run(command, capture_output=True, text=True)

        out = self.folder / "b.sqlite3"
        self.assertIn("3 plans", run("backup", "--out", str(out)).stdout)
        kept = out.read_bytes()
        self.client.delete(f"/api/plans/{self.plans[0]}")
        got = run("restore", str(out))
        self.assertEqual(got.returncode, 0, got.stderr)
        self.assertEqual(len(self.client.get("/api/plans").json), 3)
        self.assertEqual(out.read_bytes(), kept)
        before = connect(self.folder / "t-before.sqlite3")
        self.assertEqual(len(Plans(before).listed(True)), 1)
        before.close()
        for args in (("restore", str(self.folder / "none")), ("backup", "--out", str(self.folder / "no/b"))):
            bad = run(*args)
            self.assertEqual((bad.returncode, len(bad.stderr.splitlines())), (2, 1), bad.stderr)

    def test_an_older_library_is_brought_up_to_date(self):
        old = self.folder / "old.sqlite3"
        conn = connect(old)
        with tempfile.TemporaryDirectory() as steps:
            from reamer.store.database import MIGRATIONS

            first = sorted(MIGRATIONS.glob("*.sql"))[0]
            (Path(steps) / first.name).write_text(first.read_text())
            migrate(conn, Path(steps))
        conn.close()
        self.assertEqual((look(old).plans, look(old).descents), (0, 0))
        with self.library() as library:
            put_back(library, old)
            self.assertEqual(content(library).plans, 0)
            back_up(library, self.folder / "again.sqlite3")
        self.assertEqual(look(self.folder / "again.sqlite3").plans, 0)
        with self.assertRaises(PlanError):
            (self.folder / "x").write_bytes(io.BytesIO(b"SQLite format 3\0").read())
            look(self.folder / "x")


if __name__ == "__main__":
    unittest.main()
