"""One thing that is stored and cannot be read: it says so in its own place, can be had as it is and put away, and
nothing else is harmed by it. What it may have said counts as unknown, never as nothing."""

import json
import sqlite3
from contextlib import closing

from tests.web.every import Everything

# How a text can be bad: of a newer program, torn, of no kind at all, and not even text.
WRONG = ("unknown", "torn", "list", "bytes")


class OneBad(Everything):
    def setUp(self):
        super().setUp()
        self.gear({"kind": "inspected", "found": "good"})
        trip = self.warm.get(f"/api/plans/{self.id}/log/new?on=2026-05-01").json
        self.send("POST", "/log", {"trip": trip})
        item = next(x["item"] for x in self.check()["looked"] if x["item"]["kind"] == "station")["key"]
        said = [{"item": item, "verdict": "agreed", "remark": ""}, {"item": item, "verdict": "objected", "remark": "!"}]
        for by, verdict in zip(("Wren", "Heron"), said, strict=True):
            self.send("POST", "/check", {"revision": 1, "by": by, "verdicts": [verdict]})
        self.send("PUT", "/shed", {"revision": 0, "shed": self.view()["plan"]["shed"]})
        file = self.warm.get(f"/api/plans/{self.id}/file").json
        self.other_id = self.send("POST", "", {"source": {"kind": "file", "plan": file}}, root="/api/plans")["id"]
        with closing(sqlite3.connect(self.database)) as conn, conn:
            conn.execute(
                "INSERT INTO handed VALUES (?, 'h', '2026-05-01T10:00:00Z', 'file', 1, '{\"format\": 9}')", (self.id,)
            )

    def check(self, plan=""):
        return self.warm.get(f"/api/plans/{plan or self.id}/revisions/1/check").json

    def view(self, plan=""):
        got = self.warm.get(f"/api/plans/{plan or self.id}")
        self.assertEqual(got.status_code, 200, got.text[:200])
        return got.json

    def spoil(self, table, where, how):
        """One row's text made bad, as a damaged disk or another program would."""
        with closing(sqlite3.connect(self.database)) as conn, conn:
            was = conn.execute(f"SELECT body FROM {table} WHERE {where}").fetchone()[0]
            made = {
                "unknown": json.dumps({**json.loads(was), "from_next_year": 1}),
                "torn": was[: len(was) // 2],
                "list": "[" * 5000,
                "bytes": None,
            }[how]
            value = "CAST(CAST(substr(body, 1, 20) AS BLOB) || x'ff' AS TEXT)" if made is None else "?"
            conn.execute(f"UPDATE {table} SET body = {value} WHERE {where}", () if made is None else (made,))
        return made

    def findings(self, plan=""):
        return [f for f in self.view(plan)["assessment"]["findings"] if f["code"] == "gear.unread"]

    def unread(self, http=None):
        return {(u["kind"], u["told"]): u for u in (http or self.warm).get("/api/unreadable").json}

    def put_away(self, u, away=True):
        got = self.warm.post("/api/unreadable", json={"kind": u["kind"], "id": u["id"], "away": away})
        self.assertEqual(got.status_code, 200, got.text)

    def every_way(self):
        for how in WRONG:
            with self.subTest(how):
                yield how

    def test_each_kind_says_so_in_its_own_place_and_harms_nothing_else(self):
        paths = self.every_path()
        for n, (kind, table, where) in enumerate(
            (
                ("gear record", "gear_revision", "1"),
                ("descent", "trip_revision", "1"),
                ("verdict", "verdict", f"plan_id = '{self.id}' AND number = 1"),
                ("common shed", "shed_revision", "1"),
                ("records of a file", "gear_came", "1"),
            )
        ):
            how = WRONG[n % len(WRONG)]
            with self.subTest(kind, how=how):
                made = self.spoil(table, where, how)
                (u,) = (u for u in self.unread().values() if u["kind"] == kind)
                self.assertFalse(u["away"])
                text = self.warm.get("/api/unreadable/file", query_string={"kind": kind, "id": u["id"]})
                self.assertEqual(text.text, made if made is not None else text.text)
        self.assertEqual(len(self.unread()), 6)
        bad = {p: s for p, (s, _) in self.told(self.warm, paths).items() if s != 200}
        log = f"/api/plans/{self.id}/revisions/{{revision}}/export/log.csv"
        self.assertEqual(set(bad), {f"/api/plans/{self.id}/shed", log, f"{log}?units=us"})
        self.assertIn("descents cannot be read", self.warm.get(log.format(revision=1)).json["detail"])
        self.assertIn("the common shed cannot be read", self.warm.get(f"/api/plans/{self.id}/shed").json["detail"])
        # The look before a restore names every one of them.
        backup = self.warm.get("/api/backup").data
        look = self.warm.post("/api/restore/look", data=backup, content_type="application/vnd.sqlite3").json
        self.assertEqual(len(look["holds"]["unreadable"]), 6, look)

    def test_what_a_thing_has_been_through_is_then_not_known(self):
        self.assertEqual((self.findings(), self.findings(self.other_id)), ([], []))
        for how in self.every_way():
            was = self.spoiled("gear_revision", how)
            (found,) = self.findings()
            self.assertEqual(found["severity"], "Not checked")
            (u,) = (u for u in self.unread().values() if u["kind"] == "gear record")
            self.put_away(u)
            self.assertEqual(self.findings(), [])
            self.put_away(u, away=False)
            self.assertEqual(len(self.findings()), 1)
            self.restored("gear_revision", was)
        # A record of a thing that is none of this plan's is no news here; one of nobody knows what is.
        self.spoil_as("gear_revision", {"names": ["Yellow 9"], "list": "ropes", "from_next_year": 1})
        self.assertEqual(self.findings(), [])
        self.spoil_as("gear_revision", {"names": [7], "list": "ropes"})
        self.assertEqual(len(self.findings()), 1)

    def test_an_objection_that_cannot_be_read_is_still_one(self):
        before = self.view()["standing"]["counts"][""]["objections"]
        self.assertEqual(before, 1)
        for how in self.every_way():
            was = self.spoiled("verdict", how, f"plan_id = '{self.id}' AND number = 2")
            self.assertEqual(self.view()["standing"]["counts"][""]["objections"], 1)
            if how == WRONG[0]:
                gone = [x for x in self.check()["looked"] if x["item"]["kind"] == "gone"]
                self.assertEqual([x["state"] for x in gone], ["objected"])
            (u,) = (u for u in self.unread().values() if u["kind"] == "verdict")
            self.put_away(u)
            self.assertEqual(self.view()["standing"]["counts"][""]["objections"], 0)
            self.put_away(u, away=False)
            self.restored("verdict", was, f"plan_id = '{self.id}' AND number = 2")
        self.assertEqual(self.view()["standing"]["counts"][""]["objections"], before)

    def test_a_plan_without_a_revision_is_listed_and_can_be_binned(self):
        with closing(sqlite3.connect(self.database)) as conn, conn:
            conn.execute("DELETE FROM revision WHERE plan_id = ?", (self.other_id,))
        rows = {r["id"]: r for r in self.warm.get("/api/plans").json}
        self.assertIn("no revision", rows[self.other_id]["trouble"])
        self.assertEqual(rows[self.id]["trouble"], "")
        self.assertEqual(self.warm.get(f"/api/plans/{self.other_id}").status_code, 422)
        self.assertEqual(self.warm.get("/api/learnt").status_code, 200)
        self.assertEqual(self.warm.delete(f"/api/plans/{self.other_id}").status_code, 204)
        self.assertEqual([r["id"] for r in self.warm.get("/api/bin").json], [self.other_id])

    def test_nothing_else_can_be_put_away(self):
        for kind, made, status in (("gear record", "none", 404), ("plan", self.id, 422), ("verdict", "", 404)):
            got = self.warm.post("/api/unreadable", json={"kind": kind, "id": made, "away": True})
            self.assertEqual(got.status_code, status, got.text)
        self.assertEqual(self.warm.get("/api/unreadable/file?kind=verdict&id=x").status_code, 404)

    def spoiled(self, table, how, where="1"):
        with closing(sqlite3.connect(self.database)) as conn:
            was = conn.execute(f"SELECT body FROM {table} WHERE {where}").fetchone()[0]
        self.spoil(table, where, how)
        self.begin_again()
        return was

    def spoil_as(self, table, made):
        self.restored(table, json.dumps(made))

    def restored(self, table, was, where="1"):
        with closing(sqlite3.connect(self.database)) as conn, conn:
            conn.execute(f"UPDATE {table} SET body = ? WHERE {where}", (was,))
        self.begin_again()

    def begin_again(self):
        """Rows are never changed by Reamer: what is changed under a server is seen by the next."""
        self.warm = self.server()
