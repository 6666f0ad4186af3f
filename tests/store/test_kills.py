"""Killed at any moment of saving, backing up, restoring or bringing up to date: nothing that was acknowledged is lost,
the library opens, and every check of it is good. A dozen times here, three hundred by the long run."""

import os
import random
import signal
import subprocess
import sys
import tempfile
import textwrap
import time
import unittest
from contextlib import closing
from pathlib import Path

from reamer.store.backup import back_up, look
from reamer.store.database import MIGRATIONS, connect, migrate
from tests import LONG

# Whoever says "saved" has saved, who says "restored" has put another in its place, with what was there in a file.
CHILD = """
    import sys
    from contextlib import closing
    from pathlib import Path
    from reamer.core.model import Plan
    from reamer.desk import library, saves
    from reamer.desk.desk import Desk
    from reamer.desk.memory import Memory
    folder, turn = Path(sys.argv[1]), sys.argv[2]
    database, n = folder / "t.sqlite3", 0
    library.prepare(database)
    print("begun", flush=True)
    memory = Memory()
    while True:
        with closing(Desk(database, memory)) as desk:
            made = saves.create(desk, Plan(format=1, title=f"{turn} {n}"), "created")
            print("saved", turn, n, flush=True)
            view = saves.rename(desk, made.id, made.revision, f"{turn} {n} again")
            print("saved", turn, n, "again", flush=True)
            saves.step(desk, made.id, view.revision, "undo")
            if n % 3 == 1:
                library.back_up_to(desk, folder / "backup.sqlite3")
            if n % 3 == 2:
                library.restore(desk, folder / "other.sqlite3", folder / f"before-{turn}-{n}.sqlite3")
        n += 1
"""


SCHEMA = "SELECT name, sql FROM sqlite_master ORDER BY name"


class Kills(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory(dir="/dev/shm" if Path("/dev/shm").is_dir() else None)
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        with closing(connect(self.folder / "o.sqlite3")) as conn:
            migrate(conn)
            back_up(conn, self.folder / "other.sqlite3")
        look(self.folder / "other.sqlite3")

    def child(self, turn):
        command = [sys.executable, "-c", textwrap.dedent(CHILD), str(self.folder), str(turn)]
        return subprocess.Popen(command, stdout=subprocess.PIPE, text=True)

    def titles(self, path):
        with closing(connect(path)) as conn:
            self.assertEqual(conn.execute("PRAGMA integrity_check").fetchone()[0], "ok", path)
            self.assertIsNone(conn.execute("PRAGMA foreign_key_check").fetchone(), path)
            return {r[0] for r in conn.execute("SELECT title FROM revision")}

    def test_nothing_acknowledged_is_lost(self):
        rng, said = random.Random(None if LONG else 5), set[str]()
        for turn in range(250 if LONG else 8):
            child = self.child(turn)
            self.assertEqual(child.stdout.readline().strip(), "begun")
            time.sleep(rng.uniform(0, 0.3))
            os.kill(child.pid, signal.SIGKILL)
            # A line that was cut off says nothing.
            lines = child.stdout.read().split("\n")[:-1]
            said |= {line.removeprefix("saved ") for line in lines if line.startswith("saved")}
            child.stdout.close()
            child.wait()
            # Only what is whole has the name of a backup.
            befores = list(self.folder.glob("before-*.sqlite3"))
            found = set[str]().union(*map(self.titles, (*befores, self.folder / "t.sqlite3")))
            self.assertEqual(said - found, set(), turn)
            if (made := self.folder / "backup.sqlite3").exists():
                look(made)
        self.assertGreater(len(said), 10)

    def test_half_brought_up_to_date_is_brought_the_rest_of_the_way(self):
        rng = random.Random(None if LONG else 3)
        first = sorted(MIGRATIONS.glob("*.sql"))[0]
        steps = self.folder / "steps"
        steps.mkdir()
        (steps / first.name).write_text(first.read_text())
        old = self.folder / "old.sqlite3"
        with closing(connect(old)) as conn:
            migrate(conn, steps)
            conn.execute("INSERT INTO plan VALUES ('p', '2026-01-01', NULL)")
            conn.execute(
                "INSERT INTO revision VALUES ('p', 1, 'edit', 1, NULL, '2026-01-01', 'created', 'Old', ?)",
                ('{"format": 1, "title": "Old"}',),
            )
            back_up(conn, self.folder / "first.sqlite3")
        for turn in range(50 if LONG else 4):
            for left in self.folder.glob("t.sqlite3*"):
                left.unlink()
            (self.folder / "t.sqlite3").write_bytes((self.folder / "first.sqlite3").read_bytes())
            child = self.child(turn)
            time.sleep(rng.uniform(0.2, 1.2))
            os.kill(child.pid, signal.SIGKILL)
            child.communicate()
            with closing(connect(self.folder / "t.sqlite3")) as conn:
                migrate(conn)
                tables = [tuple(r) for r in conn.execute(SCHEMA)]
            with closing(connect(self.folder / "o.sqlite3")) as conn:
                self.assertEqual(tables, [tuple(r) for r in conn.execute(SCHEMA)])
            found = set[str]().union(*map(self.titles, (*self.folder.glob("before-*"), self.folder / "t.sqlite3")))
            self.assertIn("Old", found)


if __name__ == "__main__":
    unittest.main()
