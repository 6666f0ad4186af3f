"""The gear record over HTTP: it counts in every plan and goes along with files, the log books use, and what is wrong is
refused by its field."""

import json

from tests.command import reamer
from tests.web.test_log import Asking

ROPE = "Blue 60"
NEW = {"days": 0, "descents": 0, "metres": 0, "falls": 0, "wet_days": 0}


def record(*entries, **more):
    made = [{"id": f"e{i}", "on": "2026-05-01", **e} for i, e in enumerate(entries)]
    return {"list": "ropes", "names": [ROPE], "before": NEW, "entries": made, **more}


RETIRED = {"kind": "retired", "words": "core shot"}


class Gear(Asking):
    def setUp(self):
        super().setUp()
        self.canyons = [self.make({"kind": "demo", "name": "canyon"}) for _ in range(2)]

    def make(self, source):
        return self.client.post("/api/plans", json={"source": source}).json["id"]

    def gear(self, method="GET", path="", plan="", status=200, **body):
        got = self.client.open(
            f"/api/plans/{plan or self.canyons[0]}/gear{path}", method=method, **({"json": body} if body else {})
        )
        self.assertEqual(got.status_code, status, got.text[:300])
        return got.json

    def said(self, plan):
        view = self.client.get(f"/api/plans/{plan}").json
        return [f["code"] for f in view["assessment"]["findings"] if f["code"].startswith("gear.")]

    def school(self):
        got = self.client.get(f"/api/plans/{self.canyons[1]}/revisions/1/schools/focal").json
        return [c["tally"]["Shortfall"] for c in got["choices"]]

    def short(self, listed):
        return sum(part["count"]["open"]["Shortfall"] for part in listed["tally"].values())

    def test_what_is_retired_in_one_plan_is_in_all_at_once_and_in_the_list(self):
        before = {p["id"]: self.short(p) for p in self.client.get("/api/plans").json}
        self.assertEqual([self.said(p) for p in self.canyons], [[], []])
        school = self.school()
        made = self.gear("POST", revision=0, record=record(RETIRED))
        self.assertEqual([self.said(p) for p in self.canyons], [["gear.out"], ["gear.out"]])
        after = {p["id"]: self.short(p) for p in self.client.get("/api/plans").json}
        self.assertEqual({k: after[k] - before[k] for k in after if k in self.canyons}, dict.fromkeys(self.canyons, 1))
        # A school compared, a card written, a second check: all of the same answer.
        check = self.client.get(f"/api/plans/{self.canyons[1]}/revisions/1/check").json
        self.assertIn("gear.out", json.dumps(check))
        self.assertEqual(self.school(), [n + 1 for n in school])
        self.gear("POST", f"/{made['id']}/remove", revision=1)
        self.assertEqual([self.said(p) for p in self.canyons], [[], []])
        self.gear("POST", f"/{made['id']}/undo", revision=2)
        self.assertEqual([self.said(p) for p in self.canyons], [["gear.out"], ["gear.out"]])

    def test_a_retired_rope_by_another_name_is_still_retired(self):
        self.gear("POST", revision=0, record=record(RETIRED))
        plan = self.client.get(f"/api/plans/{self.canyons[0]}").json["plan"]
        plan["shed"]["ropes"][0]["name"] = "Good blue"
        view = self.client.put(f"/api/plans/{self.canyons[0]}", json={"revision": 1, "plan": plan}).json
        self.assertIn("gear.out", [f["code"] for f in view["assessment"]["findings"]])
        self.assertEqual(self.gear()["records"][0]["record"]["names"], [ROPE, "Good blue"])

    def test_the_log_books_use_and_a_removed_descent_takes_it_back(self):
        self.gear("POST", revision=0, record=record(rules={"descents": 1}))
        plan = self.canyons[0]
        self.assertEqual(self.said(plan), [])
        trip = self.client.get(f"/api/plans/{plan}/log/new?on=2026-06-03").json | {"flow": "dry"}
        # A descent that does not say what came along had what the plan has.
        logged = self.ask("POST", plan=plan, trip={**trip, "used": None})
        self.assertIn(ROPE, [u["name"] for u in logged["trip"]["used"]])
        self.assertEqual([self.said(p) for p in self.canyons], [["gear.rule"], ["gear.rule"]])
        # Of a descent whose water nobody noted the plan's dry rope is not taken for dry any more.
        self.ask("PUT", f"/{logged['id']}", plan=plan, revision=1, trip={**logged["trip"], "flow": "unknown"})
        self.assertEqual(self.said(plan), ["gear.rule", "gear.wet"])
        self.ask("POST", f"/{logged['id']}/undo", plan=plan, revision=2)
        without = {**trip, "used": [u for u in trip["used"] if u["name"] != ROPE]}
        self.ask("PUT", f"/{logged['id']}", plan=plan, revision=3, trip=without)
        self.assertEqual(self.said(plan), [])
        self.ask("POST", f"/{logged['id']}/undo", plan=plan, revision=4)
        self.assertEqual(self.said(plan), ["gear.rule"])
        self.ask("POST", f"/{logged['id']}/remove", plan=plan, revision=5)
        self.assertEqual(self.said(plan), [])

    def test_it_goes_along_with_the_file_and_counts_where_that_is_opened(self):
        made = self.gear("POST", revision=0, record=record(RETIRED))
        file = self.client.get(f"/api/plans/{self.canyons[0]}/file").json
        self.assertEqual(file["gear"]["records"][0]["entries"][0]["words"], "core shot")
        self.gear("POST", f"/{made['id']}/remove", revision=1)
        opened = self.make({"kind": "file", "plan": file})
        copied = self.make({"kind": "copy", "of": opened})
        self.assertEqual([self.said(p) for p in (opened, copied, self.canyons[0])], [["gear.out"], ["gear.out"], []])
        (came,) = self.gear(plan=opened)["records"]
        self.assertEqual((came["id"], came["record"]["names"]), ("", [ROPE]))
        file["drops"] = file["drops"][:1]
        for content, told in ((file, True), ({k: v for k, v in file.items() if k != "gear"}, False)):
            self.assertEqual(f"{ROPE} is retired" in reamer("check", "-", stdin=json.dumps(content)).stdout, told)

    def test_what_is_refused_names_its_field_and_changes_nothing(self):
        made = self.gear("POST", revision=0, record=record())
        for more, field in (
            ({"names": [" blue  60"]}, "record/names/0"),
            ({"names": ["A"], "entries": [{"id": "e", "kind": "retired", "on": "2999-01-01"}]}, "record/entries/0/on"),
            ({"names": ["A"], "first_used": "2999-01-01"}, "record/first_used"),
            ({"names": ["A"], "rules": {"days": -1}}, "record/rules/days"),
            ({"names": ["A"], "entries": [{"id": "e", "kind": "inspected", "on": "2026-01-01"}]}, "record/entries/0"),
        ):
            got = self.gear("POST", status=422, revision=0, record=record() | more)
            self.assertTrue(got["errors"][0]["field"].startswith(field), got["errors"])
        self.gear("PUT", f"/{made['id']}", revision=1, record=record(note="x"))
        stale = self.gear("PUT", f"/{made['id']}", status=409, revision=1, record=record())
        self.assertIn("newest revision is 2", stale["detail"])
        self.gear("PUT", "/ffffffffffff", status=404, revision=1, record=record())
        # A record of the same name that was begun meanwhile keeps a removed one out.
        self.gear("POST", f"/{made['id']}/remove", revision=2)
        self.gear("POST", revision=0, record=record())
        self.gear("POST", f"/{made['id']}/undo", status=422, revision=3)
        self.assertEqual(len(self.gear()["records"]), 1)
