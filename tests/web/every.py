"""A small library asked for everything that can be read of it."""

import re
import tempfile
import unittest
from pathlib import Path

from reamer.demos import gully
from reamer.web import create_app
from reamer.web.settings import Settings
from tests.kept import memory

RECORD = {"list": "ropes", "before": {"days": 0, "descents": 0, "metres": 0, "falls": 0, "wet_days": 0}}
# What tells when it was asked, and what is of the process and not of the library.
NOT_ASKED = {"openapi_document", "list_shared", "open_device", "backup_file", "unreadable_file", "page", "open_water"}
# What a PDF says of when it was made.
MADE = re.compile(rb"/(?:CreationDate|ModDate) \([^)]*\)|/ID\s*\[[^\]]*\]|DTSTAMP:\S+")


class Everything(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder, self.database = Path(folder.name), Path(folder.name) / "t.sqlite3"
        self.warm, self.other = self.server(), self.server()
        plan = gully().model_dump(mode="json")
        self.rope = plan["shed"]["ropes"][0]["name"]
        plan["drops"] = plan["drops"][:2]
        # Every file out has something to say.
        plan["drops"][0]["position"] = {k: plan["spot"][k] for k in ("latitude_deg", "longitude_deg")}
        view = self.send("POST", "", {"source": {"kind": "file", "plan": plan}}, root="/api/plans")
        self.id, self.revision, self.drop = view["id"], view["revision"], view["plan"]["drops"][0]["id"]
        self.who = view["plan"]["party"][0]["id"]

    def server(self):
        app = create_app(Settings(self.database, hosts=("localhost",)))
        app.extensions["memory"] = memory()
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
            "school": [],
            "before": ["{revision}"],
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

    def told(self, http, paths):
        made = {}
        for path in paths:
            got = http.get(path.replace("{revision}", str(self.revision)))
            made[path] = (got.status_code, MADE.sub(b"", got.data))
        self.assertEqual({p: s for p, (s, _) in made.items() if s >= 400 and s not in (410, 422)}, {})
        return made

    def gear(self, entry, http=None):
        made = {**RECORD, "names": [self.rope], "entries": [{"id": "e", "on": "2026-05-01", **entry}]}
        return self.send("POST", "/gear", {"revision": 0, "record": made}, http)
