"""A library backed up and restored: bit for bit, and nothing that is not one of Reamer's."""

import contextlib
import io
import json
import sqlite3
import subprocess
import sys
import tempfile
import threading
import unittest
from pathlib import Path
from unittest import mock

from reamer.core.errors import PlanError
from reamer.demos import DEMOS
from reamer.store.backup import back_up, content, generation, look, put_back
from reamer.store.database import connect, migrate
from reamer.store.plans import Plans
from reamer.store.search import Search
from reamer.web import create_app
from reamer.web.settings import Settings

KIND = "application/vnd.sqlite3"
# The same tables and columns, of which other things are true.
WITHOUT_CHECK = (
    "PRAGMA writable_schema = ON",
    "UPDATE sqlite_master SET sql = replace(sql, 'CHECK (kind IN (''edit'', ''undo'', ''redo''))', '')",
)
WITHOUT_KEY = (
    "PRAGMA writable_schema = ON",
    "UPDATE sqlite_master SET sql = replace(sql, 'REFERENCES plan (id)', '') WHERE name = 'verdict'",
)


class Backup(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.client = create_app(Settings(self.folder / "t.sqlite3", hosts=("localhost",))).test_client()
        self.plans = [self.demo(n) for n in DEMOS]

    def demo(self, name):
        return self.made({"kind": "demo", "name": name})

    def made(self, source):
        return self.client.post("/api/plans", json={"source": source}).json["id"]

    @contextlib.contextmanager
    def library(self):
        conn = connect(self.folder / "t.sqlite3")
        try:
            yield conn
        finally:
            conn.close()

    def bits(self):
        """Everything that is in it but its name, and the words, which are made anew."""
        with self.library() as conn:
            tables = [r[0] for r in conn.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY 1")]
            kept = [t for t in tables if t not in ("library", "found", "found_of") and not t.startswith("found_")]
            return {t: sorted(tuple(r) for r in conn.execute(f"SELECT * FROM {t}")) for t in kept}

    def look(self, data, status=200):
        got = self.client.post("/api/restore/look", data=data, content_type="application/vnd.sqlite3")
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
        # A file of what was put back holds the same.
        self.assertEqual(self.look(self.client.get("/api/backup").data)["holds"], offered["holds"])
        self.client.post("/api/restore", json={"token": made["before"]})
        self.assertEqual([p["id"] for p in self.client.get("/api/plans").json], [new])

    def in_larger_pages(self, file):
        path = self.folder / "pages.sqlite3"
        path.write_bytes(file)
        with contextlib.closing(sqlite3.connect(path)) as conn:
            conn.execute("PRAGMA journal_mode = DELETE")
            conn.execute("PRAGMA page_size = 8192")
            conn.execute("VACUUM")
        return path.read_bytes()

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
            (self.in_larger_pages(file), "another size"),
            (changed(*WITHOUT_CHECK), "no backup"),
            (changed(*WITHOUT_KEY), "no backup"),
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

    def test_a_save_that_is_acknowledged_is_in_the_library_or_in_what_was_before(self):
        """Four write through two servers while a third restores, again and again: no save that was answered for is in
        neither, and none that was made from one library went into another."""
        plans = [self.made({"kind": "empty", "title": f"empty {n}"}) for n in range(3)]
        file = self.client.get("/api/backup").data
        done, said = threading.Event(), [[] for _ in range(4)]
        servers = [create_app(Settings(self.folder / "t.sqlite3", hosts=("localhost",))) for _ in range(2)]

        def write(n):
            http, k = servers[n % 2].test_client(), 0
            # A pause between saves, as people have: whoever restores gets a turn.
            while not done.wait(0.005):
                url = f"/api/plans/{plans[n % 3]}"
                seen = http.get(url)
                of = seen.headers["X-Library"]
                title = f"writer {n} no {k} in {of}"
                plan = {**seen.json["plan"], "title": title}
                body = {"revision": seen.json["revision"], "plan": plan}
                if http.put(url, json=body, headers={"X-Library": of}).status_code == 200:
                    said[n].append((of, title))
                    k += 1

        writers = [threading.Thread(target=write, args=(n,)) for n in range(4)]
        for w in writers:
            w.start()
        befores = []
        try:
            for n in range(1, 5):
                while sum(map(len, said)) < 5 * n and not done.wait(0.01):
                    pass
                token = self.look(file)["token"]
                befores.append(self.client.post("/api/restore", json={"token": token}).json["before"])
        finally:
            done.set()
            for w in writers:
                w.join()
        found: set[tuple[str, str]] = set()
        for path in (*(self.folder / f"restores/{b}.sqlite3" for b in befores), self.folder / "t.sqlite3"):
            with contextlib.closing(connect(path)) as conn:
                of = generation(conn)
                found |= {(of, r[0]) for r in conn.execute("SELECT title FROM revision")}
        self.assertGreaterEqual(sum(map(len, said)), 20)
        self.assertEqual({t for some in said for t in some} - found, set())

    def test_a_restore_that_fails_changes_nothing(self):
        file = self.folder / "b.sqlite3"
        with self.library() as conn:
            back_up(conn, file)
        self.client.delete(f"/api/plans/{self.plans[0]}")
        was = self.bits()
        with contextlib.closing(connect(file)) as conn:
            conn.execute("PRAGMA foreign_keys = OFF")
            conn.execute("DELETE FROM plan")
        with self.library() as conn, self.assertRaises(sqlite3.IntegrityError):
            put_back(conn, file, self.folder / "before.sqlite3")
        self.assertEqual(self.bits(), was)

    def test_a_server_that_is_open_notices_a_restore_from_elsewhere(self):
        """What was kept of a revision is not told of another library's revision of the same number."""
        plan = self.plans[0]
        file = self.folder / "b.sqlite3"
        with self.library() as conn:
            back_up(conn, file)
        head = self.client.get(f"/api/plans/{plan}").json
        drops = head["plan"]["drops"]
        shorter = {**head["plan"], "drops": drops[:1]}
        saved = self.client.put(f"/api/plans/{plan}", json={"revision": head["revision"], "plan": shorter})
        self.assertEqual(saved.status_code, 200, saved.text[:200])
        with self.library() as conn:
            put_back(conn, file)
            store = Plans(conn)
            other = store.head(plan)
            store.save(plan, other.revision, other.plan.model_copy(update={"drops": other.plan.drops[:2]}))
        got = self.client.get(f"/api/plans/{plan}").json
        self.assertEqual((len(got["plan"]["drops"]), len(got["assessment"]["drops"])), (2, 2))

    def test_a_disk_that_is_full_is_one_sentence_and_nothing_half_is_left(self):
        """A file can grow to 40 kB and no further, as on a disk that is nearly full."""
        out, was = self.folder / "full" / "b.sqlite3", self.bits()
        out.parent.mkdir()
        full = "import resource, sys; resource.setrlimit(resource.RLIMIT_FSIZE, (40000, 40000));"
        command = f"{full} from reamer.cli import main; sys.exit(main(sys.argv[1:]))"
        args = ["backup", "--database", str(self.folder / "t.sqlite3"), "--out", str(out)]
        got = subprocess.run([sys.executable, "-c", command, *args], capture_output=True, text=True)
        self.assertEqual((got.returncode, len(got.stderr.splitlines())), (2, 1), got.stderr)
        self.assertIn("the backup b.sqlite3 cannot be written", got.stderr)
        self.assertEqual(list(out.parent.iterdir()), [])

        client = self.client
        with mock.patch("reamer.desk.library.os.chmod", side_effect=OSError(28, "No space left on device")):
            got = client.post("/api/restore/look", data=b"x", content_type=KIND)
        self.assertEqual((got.status_code, got.json["errors"][0]["field"]), (422, "file"))
        self.assertIn("No space left", got.json["detail"])
        self.assertEqual(list((self.folder / "restores").iterdir()), [])
        self.assertTrue(client.get("/api/search?q=long").json["hits"])
        with mock.patch.object(Search, "refresh", side_effect=sqlite3.OperationalError("database or disk is full")):
            self.assertTrue(client.get("/api/search?q=long").json["hits"])
        with mock.patch("reamer.desk.library.put_back", side_effect=OSError(5, "Input/output error", "x.sqlite3")):
            token = self.look(client.get("/api/backup").data)["token"]
            with self.assertLogs("reamer", "WARNING"):
                got = client.post("/api/restore", json={"token": token})
        self.assertEqual((got.status_code, "x.sqlite3" in got.json["detail"]), (503, True))
        self.assertEqual(self.bits(), was)

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
