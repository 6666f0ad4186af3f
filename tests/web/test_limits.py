"""Every limit that is promised, through the real server: what is just under it is taken, what is just over is refused
in a sentence that names it, and whoever says nothing keeps nobody out."""

import http.client
import json
import socket
import sqlite3
import tempfile
import threading
import time
import unittest
from contextlib import ExitStack, closing
from pathlib import Path

from reamer.core.onsite.handed import MOST_BYTES as MOST_HANDED
from reamer.core.reading import MOST_BYTES as MOST_PLAN
from reamer.demos import gully
from reamer.formats.sheets import MOST_BYTES as MOST_TABLE
from reamer.formats.traces import MOST_SAMPLES
from reamer.web import create_app, most_bytes
from reamer.web.listen import CONNECTIONS, listening
from reamer.web.settings import Settings
from reamer.web.share import create_share_app
from tests.browser.harness import free_port, stopped

JSON, FILE, LIBRARY = "application/json", "application/octet-stream", "application/vnd.sqlite3"


class Limits(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.database = Path(folder.name) / "t.sqlite3"
        self.port, self.second = free_port(), free_port()
        self.app = create_app(Settings(self.database, self.port, share=f"127.0.0.1:{self.second}"))
        self.serve(listening(self.app, "127.0.0.1", self.port, most_bytes(self.app)))
        room = create_share_app(self.app.extensions["shared"])
        self.serve(listening(room, "127.0.0.1", self.second, lambda *_: MOST_HANDED, idle_s=2))
        plan = gully().model_dump(mode="json")
        plan["drops"] = plan["drops"][:1]
        made = self.ask("POST", "/api/plans", {"source": {"kind": "file", "plan": plan}})[1]
        self.id, self.plan = made["id"], made["plan"]

    def serve(self, server):
        thread = threading.Thread(target=server.run, daemon=True)
        thread.start()
        self.addCleanup(thread.join, 5)
        self.addCleanup(stopped, server)

    def ask(self, method, path, body=None, kind=JSON, port=None):
        data = body if isinstance(body, (bytes, type(None))) else json.dumps(body).encode()
        with closing(http.client.HTTPConnection("127.0.0.1", port or self.port, timeout=120)) as conn:
            conn.request(method, path, data, {"Content-Type": kind} if data is not None else {})
            got = conn.getresponse()
            text = got.read()
            return got.status, json.loads(text) if "json" in (got.getheader("Content-Type") or "") else text

    def over(self, path, size, kind, method="POST"):
        """One byte too many is refused in words; so is far too many, which is not even read."""
        status, said = self.ask(method, path, b" " * (size + 1), kind)
        self.assertEqual(status, 413, said)
        self.assertIn(f"at most {size:,} bytes", said["detail"])
        with socket.create_connection(("127.0.0.1", self.port), 30) as raw:
            head = f"{method} {path} HTTP/1.1\r\nHost: 127.0.0.1:{self.port}\r\nContent-Type: {kind}\r\n"
            raw.sendall(f"{head}Content-Length: {size + 10**9}\r\n\r\n".encode())
            got = b"".join(iter(lambda: raw.recv(65536), b""))
        self.assertTrue(got.startswith(b"HTTP/1.1 413"), got[:100])
        self.assertIn(f"at most {size:,} bytes".encode(), got)

    def test_a_plan(self):
        limit = self.app.config["REAMER"].body_limit_bytes
        # White space counts, and is no part of what is kept.
        body = json.dumps({"revision": 1, "plan": self.plan}).encode()
        status, said = self.ask("PUT", f"/api/plans/{self.id}", body.ljust(limit))
        self.assertEqual(status, 200, said)
        self.over(f"/api/plans/{self.id}", limit, JSON, "PUT")
        file = json.dumps({"source": {"kind": "file", "plan": self.plan}}).encode().ljust(MOST_PLAN + 60)
        self.assertEqual(self.ask("POST", "/api/plans", file)[0], 200)

    def test_tables_and_traces(self):
        head, row = b"role,name,mass (lb),mass method\n", b"guide,New One,180,given\n"
        url = f"/api/plans/{self.id}/import?name=t.csv"
        status, said = self.ask("POST", url, (head + row + (b" " * 399 + b"\n") * 49_990).ljust(MOST_TABLE), FILE)
        self.assertEqual((status, said.get("changes")), (200, ["New One comes in"]), said)
        self.over(url, MOST_TABLE, FILE)
        rows = "".join(f"{n / 100:.2f},{n % 977 / 60:.3f}\n" for n in range(MOST_SAMPLES))
        status, said = self.ask("POST", "/api/traces", f"time (s),force (kN)\n{rows}".encode(), FILE)
        self.assertEqual((status, said.get("samples")), (200, MOST_SAMPLES), said)
        status, said = self.ask("POST", "/api/traces", f"time (s),force (kN)\n{rows}9999,1\n".encode(), FILE)
        self.assertEqual((status, said["detail"]), (422, f"file: it has more than {MOST_SAMPLES:,} samples"))
        self.over("/api/traces", MOST_TABLE, FILE)

    def test_a_library_of_many_saves(self):
        """Larger than any plan, and than what is kept in memory of a body: 40 MB of revisions."""
        with closing(sqlite3.connect(self.database)) as conn, conn:
            conn.execute(
                "INSERT INTO revision SELECT plan_id, number + n, kind, number + n, parent, saved_at, what, title,"
                " body || printf('%*s', 400000, ''), NULL FROM revision, (WITH RECURSIVE k(n) AS (SELECT 1 UNION ALL"
                " SELECT n + 1 FROM k WHERE n < 100) SELECT n FROM k) WHERE number = 1"
            )
        status, backup = self.ask("GET", "/api/backup")
        self.assertGreater(len(backup), 40_000_000)
        status, said = self.ask("POST", "/api/restore/look", backup, LIBRARY)
        self.assertEqual((status, said["holds"]["revisions"]), (200, 101), said)
        self.assertEqual(self.ask("POST", "/api/restore", {"token": said["token"]})[0], 200)
        self.assertEqual(self.ask("GET", "/api/limits")[1]["look_at_backup"], 500_000_000)

    def test_what_a_phone_hands_back(self):
        shown = self.ask("POST", f"/api/plans/{self.id}/share", {"revision": 1})[1]
        path = "/" + shown["link"].rpartition("/")[2]
        # No corrections of this card, but as many bytes as they may have: they are read.
        for size, status in ((999, 422), (1001, 422), (MOST_HANDED, 422), (MOST_HANDED + 1, 413)):
            got = self.ask("POST", path, b"{}".ljust(size), port=self.second)
            self.assertEqual(got[0], status, got[1])
        self.assertIn(f"{MOST_HANDED:,} bytes", got[1].decode())

    def test_whoever_says_nothing_keeps_nobody_out(self):
        shown = self.ask("POST", f"/api/plans/{self.id}/share", {"revision": 1})[1]
        path = "/" + shown["link"].rpartition("/")[2]
        with ExitStack() as idle, self.assertLogs("waitress", "WARNING"):
            for n in range(CONNECTIONS + 30):
                made = idle.enter_context(socket.create_connection(("127.0.0.1", self.second), 30))
                if n % 2:
                    made.sendall(b"GET / HTTP/1.1\r\nHost:")
            status, said = self.ask("GET", path, port=self.second)
            self.assertEqual((status, b"<title>" in said), (200, True))

    def test_what_takes_long_says_how_far_it_is_and_ends_when_nobody_waits(self):
        """Twenty people down many stations: gone through for whoever waits, and no longer when they have left."""
        plan = gully().model_dump(mode="json")
        person = plan["party"][0]
        plan["drops"] = [{**d, "id": f"s{n}"} for n, d in enumerate(plan["drops"][:1] * 40)]
        plan["party"] = [{**person, "id": f"p{n}", "name": f"P{n}"} for n in range(20)]
        made = self.ask("POST", "/api/plans", {"source": {"kind": "file", "plan": plan}})[1]
        at = f"/api/plans/{made['id']}/revisions/1"
        working = self.app.extensions["memory"].working
        with socket.create_connection(("127.0.0.1", self.port), 30) as raw:
            raw.sendall(f"GET {at}/rehearsal HTTP/1.1\r\nHost: 127.0.0.1:{self.port}\r\n\r\n".encode())
            self.until(lambda: any(w.done > 1 for w in working.values()))
            status, said = self.ask("GET", f"{at}/working")
            self.assertEqual((status, said["of"]), (200, 40), said)
            # Beside it small things are answered.
            self.assertEqual(self.ask("GET", "/api/search?q=x")[0], 200)
        self.until(lambda: not working)
        self.assertIsNone(self.app.extensions["memory"].rehearsed.last(lambda _: True))
        self.assertEqual(self.ask("GET", f"{at}/working"), (200, None))

    def test_more_than_is_gone_through_is_refused_by_what_is(self):
        plan = gully().model_dump(mode="json")
        person = plan["party"][0]
        plan["drops"] = [{**d, "id": f"s{n}"} for n, d in enumerate(plan["drops"][:1] * 30)]
        plan["party"] = [{**person, "id": f"p{n}", "name": f"P{n}"} for n in range(32)]
        made = self.ask("POST", "/api/plans", {"source": {"kind": "file", "plan": plan}})[1]
        for what in ("rehearsal", "check", "card.pdf"):
            status, said = self.ask("GET", f"/api/plans/{made['id']}/revisions/1/{what}")
            self.assertEqual(status, 422, said)
            self.assertIn("with 30 stations at most 31 people", said["detail"])
        # It stands as not gone through, never as good.
        self.assertTrue(self.ask("GET", f"/api/plans/{made['id']}")[1]["standing"]["tally"]["acts"]["pending"])

    def until(self, so):
        """Wait for what comes about by itself."""
        for _ in range(600):
            if so():
                return
            time.sleep(0.05)
        self.fail("it did not come about in half a minute")


if __name__ == "__main__":
    unittest.main()
