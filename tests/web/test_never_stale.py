"""Whatever a library is asked, a server that has kept answers says the same as one that has just begun: after an edit,
a record, a verdict, a restore, in this server, in another or from the command line, and on another day."""

import contextlib
import datetime as dt
import io
import re
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from reamer.cli import main
from reamer.core.assess import Kept
from reamer.core.descent.stations import Stations
from reamer.demos import gully
from reamer.desk.memory import Memory
from reamer.web import create_app
from reamer.web.settings import Settings

RECORD = {"list": "ropes", "before": {"days": 0, "descents": 0, "metres": 0, "falls": 0, "wet_days": 0}}
PARTS, STATIONS = Kept(), Stations()
# What tells when it was asked, and what is of the process and not of the library.
NOT_ASKED = {"openapi_document", "list_shared", "open_device", "backup_file", "page", "open_water"}
# What a PDF says of when it was made.
MADE = re.compile(rb"/(?:CreationDate|ModDate) \([^)]*\)|/ID\s*\[[^\]]*\]|DTSTAMP:\S+")


class NeverStale(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder, self.database = Path(folder.name), Path(folder.name) / "t.sqlite3"
        self.warm, self.other = self.server(), self.server()
        plan = gully().model_dump(mode="json")
        self.rope = plan["shed"]["ropes"][0]["name"]
        plan["drops"] = plan["drops"][:2]
        view = self.send("POST", "", {"source": {"kind": "file", "plan": plan}}, root="/api/plans")
        self.id, self.revision, self.drop = view["id"], view["revision"], view["plan"]["drops"][0]["id"]
        self.who = view["plan"]["party"][0]["id"]

    def server(self):
        app = create_app(Settings(self.database, hosts=("localhost",)))
        # What is kept of single drops is by their text, and held to what is worked out anew in tests of its own.
        app.extensions["memory"] = Memory(PARTS, STATIONS)
        return app.test_client()

    def send(self, method, rest, body, http=None, root=None):
        made = (http or self.warm).open((root or f"/api/plans/{self.id}") + rest, method=method, json=body)
        self.assertLess(made.status_code, 300, made.text[:300])
        return made.json

    def every_path(self):
        """Every resource that can be read, with what it needs filled in: none can be forgotten."""
        at = f"/api/plans/{self.id}/revisions/1"
        run = self.warm.get(f"{at}/rehearsal/{self.drop}").json
        states = (self.warm.get(f"{at}/rehearsal/{self.drop}/acts/{n}").json for n in range(1, len(run["steps"]) + 1))
        n, fault = next((n, s["faults"][0]["key"]) for n, s in enumerate(states, 1) if s["faults"])
        hazards = self.warm.get(f"{at}/rehearsal").json["hazards"]
        values = {
            "plan_id": [self.id],
            "revision": ["{revision}"],
            "drop_id": [self.drop],
            "which": ["0"],
            "who": [self.who],
            "subject": ["shed", self.drop],
            "key": ["join"],
            "n": [str(n)],
            "name": ["times.ics", "shed.csv", "log.csv", "places.gpx"],
            "handed_id": [],
        }
        asked = {
            "open_fault": f"?key={fault}",
            "list_mending": f"?hazard={hazards[0]['key']}",
            "open_grip": "?device_m=0.3&loop_m=0.2",
            "open_adoption": "?ropes=" + ",".join(x["id"] for x in gully().model_dump(mode="json")["shed"]["ropes"]),
            "list_offers": f"?drop={self.drop}",
            "begin_trip": "?on=2026-05-01",
            "search": f"?q={self.rope.split()[0]}",
        }
        made = []
        for rule in self.warm.application.url_map.iter_rules():
            name = rule.endpoint.partition(".")[2] or rule.endpoint
            if "GET" not in rule.methods or name in NOT_ASKED:
                continue
            paths = [rule.rule]
            for part, arg in re.findall(r"(<(?:\w+:)?(\w+)>)", rule.rule):
                forms = ("pdf", "html") if "/card." in rule.rule else ("svg",)
                given = forms if arg == "form" else ["1"] if (name, arg) == ("card_page", "n") else values[arg]
                paths = [p.replace(part, v) for p in paths for v in given]
            made += [p + asked.get(name, "") for p in paths]
            if name in ("overview_figure", "count_pages", "export"):
                made += [f"{p}?units=us" for p in paths]
        self.assertGreater(len(made), 50)
        # How a plan stands is told by all that was worked out by then: that first.
        return sorted(made, key=lambda p: not re.search(r"/(prospect|rehearsal)(\?|$)", p))

    def told(self, http):
        made = {}
        for path in self.paths:
            got = http.get(path.replace("{revision}", str(self.revision)))
            made[path] = (got.status_code, MADE.sub(b"", got.data))
        self.assertEqual({p: s for p, (s, _) in made.items() if s >= 400 and s not in (410, 422)}, {})
        return made

    def same(self, what):
        """Both servers that have kept answers say what a third says that has just begun."""
        warm, fresh = self.told(self.warm), self.told(self.server())
        other = self.told(self.other)
        for kept in (warm, other):
            self.assertEqual([p for p in fresh if kept[p] != fresh[p]], [], what)
        return fresh

    def gear(self, entry, http=None):
        made = {**RECORD, "names": [self.rope], "entries": [{"id": "e", "on": "2026-05-01", **entry}]}
        return self.send("POST", "/gear", {"revision": 0, "record": made}, http)

    def test_every_answer_is_of_what_it_rests_on(self):
        self.paths = self.every_path()
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
        with mock.patch("reamer.desk.desk.today", lambda: dt.date.today() + dt.timedelta(days=400)):
            changed("condemned, on another day", "/check", "card.html", "card/pages")
        item = next(x["item"]["key"] for x in self.warm.get(f"/api/plans/{self.id}/revisions/1/check").json["looked"])
        said = {"revision": 1, "by": "Wren", "verdicts": [{"item": item, "verdict": "objected", "remark": "loose"}]}
        self.send("POST", "/check", said, self.other)
        trip = self.warm.get(f"/api/plans/{self.id}/log/new?on=2026-05-01").json
        self.send("POST", "/log", {"trip": {**trip, "conditions": f"{self.rope} stiff"}})
        parts = ("/check", "card.pdf", "card/pages", "standing", "/file", "/api/plans", "log.csv", "/search")
        changed("a verdict and a descent logged", *parts)
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
        changed("restored and said otherwise", "/check", "card.pdf", "/gear", "/log", "/file", "/search", "/shed")

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
