"""Whatever a library is asked, a server that has kept answers says the same as one that has just begun: after an edit,
a record, a verdict, a restore, in this server, in another or from the command line, and on another day."""

import contextlib
import datetime as dt
import io
import unittest
from unittest import mock

from reamer.cli import main
from tests.web.every import Everything


class NeverStale(Everything):
    def same(self, what):
        """Both servers that have kept answers say what a third says that has just begun."""
        warm, fresh = self.told(self.warm, self.paths), self.told(self.server(), self.paths)
        other = self.told(self.other, self.paths)
        for kept in (warm, other):
            self.assertEqual([p for p in fresh if kept[p] != fresh[p]], [], what)
        return fresh

    def test_every_answer_is_of_what_it_rests_on(self):
        self.paths = self.every_path()
        trip = self.warm.get(f"/api/plans/{self.id}/log/new?on=2026-04-30").json
        self.send("POST", "/log", {"trip": trip})
        before = self.same("begun")
        self.assertEqual({s for s, _ in before.values()}, {200})
        backup = self.warm.get("/api/backup").data

        def changed(what, *least):
            nonlocal before
            after = self.same(what)
            changes = {p for p in after if after[p] != before.get(p)}
            for part in least:
                self.assertTrue([p for p in changes if part in p], f"{what}: {part} says nothing of it")
            before = after

        made = self.gear({"kind": "measured", "length_m": 20, "method": "tape"}, self.other)
        changed(
            "a rope measured shorter",
            "/check",
            "card.pdf",
            "card/pages",
            "standing",
            "/file",
            "/gear",
            "overview.svg",
            "times.ics",
        )
        self.send("POST", f"/gear/{made['id']}/remove", {"revision": made["revision"]})
        self.gear({"kind": "retired", "words": "core shot"}, self.other)
        trip = self.warm.get(f"/api/plans/{self.id}/log/new?on=2026-05-01").json
        self.send("POST", "/log", {"trip": {**trip, "conditions": f"{self.rope} stiff"}})
        changed("condemned", "/check", "card.html", "card/pages", "log.csv", "/search")
        item = next(x["item"]["key"] for x in self.warm.get(f"/api/plans/{self.id}/revisions/1/check").json["looked"])
        said = {"revision": 1, "by": "Wren", "verdicts": [{"item": item, "verdict": "objected", "remark": "loose"}]}
        self.send("POST", "/check", said, self.other)
        parts = ("/check", "card.pdf", "card/pages", "standing", "/file", "/api/plans")
        changed("a verdict", *parts)
        plan = self.warm.get(f"/api/plans/{self.id}").json["plan"]
        plan["own_figures"] = [
            {"id": "o", "table": "friction", "key": "ring", "low": 0.3, "high": 0.4, "reason": "polished"}
        ]
        self.send("PUT", "", {"revision": 1, "plan": plan}, self.other)
        self.send("PUT", "/shed", {"revision": 0, "shed": plan["shed"]}, self.other)
        self.revision = 2
        changed("own figures and the common shed", "/workings/", "card.pdf", "/file", "/shed")
        # A restore from the command line, of a library in which none of it was: revision 2 is not there any more.
        (self.folder / "b.sqlite3").write_bytes(backup)
        with contextlib.redirect_stdout(io.StringIO()):
            self.assertEqual(main(["restore", str(self.folder / "b.sqlite3"), "--database", str(self.database)]), 0)
        self.assertEqual(self.warm.get(f"/api/plans/{self.id}/revisions/2/check").status_code, 410)
        self.revision = 1
        # As many records of the same revision as there were before, and others.
        self.gear({"kind": "damaged", "words": "a nick"}, self.other)
        said["verdicts"][0]["remark"] = "it is not"
        self.send("POST", "/check", said)
        with mock.patch("reamer.desk.desk.today", lambda: dt.date.today() + dt.timedelta(days=400)):
            changed(
                "restored and said otherwise, on another day",
                "/check",
                "card.pdf",
                "/gear",
                "/log",
                "/file",
                "/search",
                "/shed",
            )

    def test_who_asks_of_another_library_is_told_so(self):
        seen = self.warm.get(f"/api/plans/{self.id}")
        name = {"X-Library": seen.headers["X-Library"]}
        backup = self.warm.get("/api/backup").data
        look = self.other.post("/api/restore/look", data=backup, content_type="application/vnd.sqlite3").json
        put = self.other.post("/api/restore", json={"token": look["token"]}, headers=name)
        self.assertNotEqual(put.headers["X-Library"], name["X-Library"])
        plan = {**seen.json["plan"], "title": "of the other one"}
        for act in (
            lambda h: self.warm.get(f"/api/plans/{self.id}", headers=h),
            lambda h: self.warm.put(f"/api/plans/{self.id}", json={"revision": 1, "plan": plan}, headers=h),
            lambda h: self.warm.post("/api/plans", json={"source": {"kind": "copy", "of": self.id}}, headers=h),
            lambda h: self.warm.delete(f"/api/plans/{self.id}", headers=h),
        ):
            got = act(name)
            self.assertEqual((got.status_code, got.json["type"]), (409, "urn:reamer:other-library"), got.text)
            self.assertEqual(got.headers["X-Library"], put.headers["X-Library"])
        self.assertEqual(self.warm.get("/api/plans").json[0]["title"], seen.json["plan"]["title"])
        now = {"X-Library": put.headers["X-Library"]}
        self.assertEqual(
            self.warm.put(f"/api/plans/{self.id}", json={"revision": 1, "plan": plan}, headers=now).status_code, 200
        )


if __name__ == "__main__":
    unittest.main()
