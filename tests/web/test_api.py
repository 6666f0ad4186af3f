"""The API at its edge: what is refused and how, what is promised in the document, what the headers say."""

import datetime as dt
import json
import socket
import sqlite3
import tempfile
import threading
import unittest
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing, suppress
from pathlib import Path
from unittest import mock

import jsonschema
import openapi_spec_validator
from pydantic import TypeAdapter

from reamer.core.answer.context import context
from reamer.core.assess import assess
from reamer.core.descent.prospect import Known, Prospect, prospect
from reamer.core.descent.stations import Stations
from reamer.core.errors import Cancelled
from reamer.core.model import NO_GEAR, Gear, GearRecord
from reamer.core.people.backups import KINDS
from reamer.core.reading import read_plan
from reamer.core.rehearsal.rehearsal import Rehearsal, gone_through, rehearsal
from reamer.core.station.state import DropAssessment
from reamer.demos import canyon
from reamer.desk.desk import Desk
from reamer.desk.memory import Memory, Shelf, been
from reamer.desk.worked import Worked, basis
from reamer.web import create_app, most_bytes
from reamer.web.endpoints import openapi
from reamer.web.listen import listening
from reamer.web.settings import Settings
from reamer.web.typescript import FRONTEND, typescript
from tests.builders import known
from tests.kept import PARTS


class Client(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        static = Path(folder.name) / "static"
        (static / "assets").mkdir(parents=True)
        (static / "index.html").write_text("<p>front</p>")
        self.static, self.database = static, Path(folder.name) / "t.sqlite3"
        self.app = create_app(Settings(self.database, hosts=("localhost",), static=static))
        # What single drops came to is alike for every test; how far a question is, is this one's.
        self.app.extensions["memory"] = Memory(PARTS)
        self.http = self.app.test_client()
        self.plan = self.http.post("/api/plans", json={"source": {"kind": "demo", "name": "canyon"}}).json

    def url(self, rest=""):
        return f"/api/plans/{self.plan['id']}{rest}"

    def put(self, plan, revision=1):
        return self.http.put(self.url(), json={"revision": revision, "plan": plan})

    def changed(self, change):
        plan = json.loads(json.dumps(self.plan["plan"]))
        change(plan)
        return plan

    def refused(self, response, status, field="", words="."):
        """A problem response of RFC 9457 that names its field; and the plan is as it was."""
        self.assertEqual(
            (response.status_code, response.content_type), (status, "application/problem+json"), response.text
        )
        body = response.json
        self.assertEqual(body["status"], status)
        self.assertTrue(body["detail"])
        if field:
            self.assertIn(field, [e["field"] for e in body["errors"]])
        self.assertRegex(response.text, words)
        now = self.http.get(self.url()).json
        self.assertEqual((now["revision"], now["plan"]), (self.plan["revision"], self.plan["plan"]))


class KeptByContent(unittest.TestCase):
    def test_what_is_alike_is_gone_through_already_and_other_gear_asks_again(self):
        memory = Memory(PARTS)

        def worked(name, gear=NO_GEAR):
            plan = canyon().model_copy(update={"title": name})
            return Worked(basis(plan, plan.model_dump_json(), been(gear)), memory)

        first = worked("Fernlid Slot")
        run, got = first.play, first.rehearsal
        again = worked("Fernlid Slot", Gear(on=dt.date(2027, 6, 1)))
        self.assertIs(again.play, run)
        self.assertIs(again.rehearsal, got)
        rope = canyon().shed.ropes[0]
        other = worked("Fernlid Slot", Gear(dt.date(2027, 6, 1), (GearRecord(list="ropes", names=(rope.name,)),)))
        self.assertIsNone(memory.rehearsed.get(other.of.key))
        self.assertIsNot(other.play, run)
        self.assertIsNot(worked("B").play, run)

    def test_one_makes_it_and_the_others_wait(self):
        shelf, made, begun, go = Shelf[int](9), [], threading.Event(), threading.Event()

        def make():
            made.append(1)
            begun.set()
            go.wait(10)
            return 7

        with ThreadPoolExecutor(8) as pool:
            first = pool.submit(shelf.of, "k", make)
            begun.wait(10)
            rest = [pool.submit(shelf.of, "k", make) for _ in range(6)]
            gone = pool.submit(shelf.of, "k", make, lambda: False)
            with self.assertRaises(Cancelled):
                gone.result(10)
            go.set()
            self.assertEqual([x.result(10) for x in (first, *rest)], [7] * 7)
        self.assertEqual(len(made), 1)

    def test_who_fails_leaves_it_to_the_next(self):
        shelf = Shelf[int](9)
        with self.assertRaises(ZeroDivisionError):
            shelf.of("k", lambda: 1 // 0)
        self.assertEqual(shelf.of("k", lambda: 3), 3)

    def test_what_was_used_longest_ago_goes_by_weight(self):
        shelf = Shelf[int](10, lambda x: x)
        for x in (4, 5, 1, 4, 5):
            shelf.put(x, x)
        self.assertEqual([shelf.get(x) for x in (1, 4, 5)], [1, 4, 5])
        shelf.put(9, 9)
        self.assertEqual([shelf.get(x) for x in (4, 5, 1, 9)], [None, None, None, 9])
        shelf.put(99, 99)
        self.assertEqual([shelf.get(x) for x in (9, 99)], [None, 99])


class SecondCheck(Client):
    def say(self, *verdicts, by="Wren", revision=1):
        return self.http.post(self.url("/check"), json={"revision": revision, "by": by, "verdicts": list(verdicts)})

    def items(self, severity):
        looked = self.http.get(self.url("/revisions/1/check")).json["looked"]
        return [x["item"] for x in looked if x["item"]["severity"] == severity]

    def test_said_kept_counted_and_carried(self):
        short, blank = self.items("Shortfall"), self.items("Not checked")
        own = [i for i in blank if i["drop"]]
        said = {"item": own[0]["key"], "verdict": "accepted", "remark": "<b>I looked</b>"}
        got = self.say(said, {"item": short[0]["key"], "verdict": "overruled", "remark": "=1+1 it reaches"})
        self.assertEqual(got.status_code, 200, got.text)
        self.assertEqual(got.json["people"], ["Wren"])
        view = self.http.get(self.url()).json
        count, before = view["standing"]["counts"][""], self.plan["assessment"]["tally"]
        self.assertEqual(count["open"]["Not checked"], before["Not checked"] - 1)
        self.assertEqual((count["open"]["Shortfall"], count["overruled"]), (before["Shortfall"], 1))
        self.assertEqual((view["revision"], view["plan"]), (1, self.plan["plan"]))
        file = self.http.get(self.url("/file")).json
        self.assertEqual([v["remark"] for v in file["record"]["verdicts"]], ["<b>I looked</b>", "=1+1 it reaches"])
        again = self.http.post("/api/plans", json={"source": {"kind": "file", "plan": file}}).json
        self.assertEqual(again["standing"]["counts"], view["standing"]["counts"])
        # What it rests on changed; undone, it holds again.
        drop = next(n for n, d in enumerate(view["plan"]["drops"]) if d["id"] == own[0]["drop"])
        edited = self.put(
            self.changed(lambda p: p["drops"][drop].update(section=p["drops"][(drop + 1) % 9]["section"]))
        )
        self.assertEqual(edited.json["standing"]["counts"][""]["accepted"]["Not checked"], 0)
        self.refused_as_old(said)
        undone = self.http.post(self.url("/undo"), json={"revision": 2}).json
        self.assertEqual(undone["standing"]["counts"], view["standing"]["counts"])

    def test_the_card_and_its_figure(self):
        who = self.plan["plan"]["party"][0]["id"]
        for query in ("", "?paper=a4&units=us", "?drops=d3,d5", f"?who={who}"):
            got = self.http.get(self.url(f"/revisions/1/card.pdf{query}"))
            self.assertEqual((got.status_code, got.content_type), (200, "application/pdf"))
            self.assertTrue(got.data.startswith(b"%PDF-"))
            self.assertIn('filename="fernlid-slot.card.pdf"', got.headers["Content-Disposition"])
        self.assertEqual(self.http.get(self.url("/revisions/1/card.pdf?paper=a3")).status_code, 422)
        self.assertEqual(self.http.get(self.url("/revisions/1/card.pdf?drops=d99")).status_code, 422)
        self.assertEqual(self.http.get(self.url("/revisions/1/card.pdf?who=nobody")).status_code, 422)
        svg = self.http.get(self.url("/revisions/1/cutaway/d3.svg"))
        self.assertIn("8.0 m short", svg.text)
        self.assertIn("26.", self.http.get(self.url("/revisions/1/cutaway/d3.svg?units=us")).text)
        self.assertTrue(self.http.get(self.url("/revisions/1/cutaway/d6.png?last=1")).data.startswith(b"\x89PNG"))
        self.assertEqual(self.http.get(self.url("/revisions/1/cutaway/d3.gif")).status_code, 422)

    def refused_as_old(self, said):
        got = self.say(said)
        self.assertEqual((got.status_code, got.json["revision"]), (409, 2))

    def test_refused_and_nothing_kept(self):
        short = self.items("Shortfall")[0]["key"]
        good = {"item": self.items("Caution")[0]["key"], "verdict": "accepted", "remark": "seen"}
        for said, field in (
            ({"item": short, "verdict": "accepted", "remark": "it will do"}, "verdicts/1/verdict"),
            ({"item": short, "verdict": "overruled", "remark": "  "}, "verdicts/1/remark"),
            ({"item": "finding:x", "verdict": "agreed"}, "verdicts/1/item"),
            ({"item": short, "verdict": "fine"}, "verdicts/1/verdict"),
            ({"item": short, "verdict": "objected", "remark": "x" * 1001}, "verdicts/1/remark"),
        ):
            with self.subTest(field):
                self.refused(self.say(good, said), 422, field)
        self.refused(self.say(good, by=" "), 422, "by")
        self.refused(self.say(), 422, "verdicts")
        self.assertEqual(self.http.get(self.url()).json["standing"]["verdicts"], 0)
        self.assertEqual(self.http.get("/api/plans/none/revisions/1/check").status_code, 404)


class Plans(Client):
    def test_a_plan_goes_round(self):
        self.assertEqual(self.plan["assessment"]["tally"]["Shortfall"], assess(canyon()).tally["Shortfall"])
        edited = {**self.plan["plan"], "title": "B"}
        saved = self.http.put(self.url(), json={"revision": 1, "plan": edited}).json
        self.assertEqual((saved["revision"], saved["what"], saved["can_undo"]), (2, "title Fernlid Slot → B", True))
        self.assertEqual(self.http.post(self.url("/undo"), json={"revision": 2}).json["plan"]["title"], "Fernlid Slot")
        self.assertEqual(self.http.post(self.url("/redo"), json={"revision": 3}).json["plan"]["title"], "B")
        self.assertEqual(self.http.patch(self.url(), json={"revision": 4, "title": "C"}).json["plan"]["title"], "C")
        self.assertEqual(
            [r["kind"] for r in self.http.get(self.url("/revisions")).json], ["edit", "redo", "undo", "edit", "edit"]
        )
        copy = self.http.post("/api/plans", json={"source": {"kind": "copy", "of": self.plan["id"]}}).json
        self.assertEqual(copy["plan"]["title"], "C (copy)")
        self.assertEqual(self.http.delete(self.url()).status_code, 204)
        self.assertEqual([p["id"] for p in self.http.get("/api/plans").json], [copy["id"]])
        self.assertEqual([p["id"] for p in self.http.get("/api/bin").json], [self.plan["id"]])
        self.http.post(f"/api/bin/{self.plan['id']}/restore", json={})
        self.assertEqual(len(self.http.get("/api/plans").json), 2)

    def test_file_out_and_in_is_the_same_plan(self):
        out = self.http.get(self.url("/file"))
        self.assertIn("fernlid-slot.reamer.json", out.headers["Content-Disposition"])
        back = self.http.post("/api/plans", json={"source": {"kind": "file", "plan": json.loads(out.data)}}).json
        self.assertEqual(back["plan"], self.plan["plan"])

    def test_preview_answers_what_saving_would_and_saves_nothing(self):
        drop = json.loads(json.dumps(self.plan["plan"]["drops"][0]))
        drop["section"]["height_m"] = known(9, "eye")
        seen = self.http.post(self.url("/preview"), json={"revision": 1, "index": 0, "drop": drop}).json
        self.assertEqual(self.http.get(self.url()).json["revision"], 1)
        self.plan["plan"]["drops"][0] = drop
        body = {"revision": 1, "plan": self.plan["plan"]}
        saved = self.http.put(self.url(), json=body).json
        alike = {**seen, "findings": [{**f, "fix": None, "others": []} for f in seen["findings"]]}
        self.assertEqual(alike, saved["assessment"]["drops"][0])

    def test_what_did_not_change_is_taken_as_it_was_read_and_what_did_is_read(self):
        for n, height in enumerate((9, 10, 11), 1):
            plan = json.loads(json.dumps(self.plan["plan"]))
            plan["drops"][0]["section"]["height_m"]["value"] = float(height)
            self.plan = self.http.put(self.url(), json={"revision": n, "plan": plan}).json
            self.assertEqual(self.plan["plan"], plan)
            self.assertEqual(self.plan["assessment"]["drops"], json.loads(self.fresh(plan)))
        same = self.http.put(self.url(), json={"revision": 4, "plan": plan}).json
        self.assertEqual(same["revision"], 4)
        for i, wrong in ((1, {**plan["drops"][1], "name": "\u0007"}), (1, plan["drops"][0]), (2, {"id": "d3"})):
            drops = [*plan["drops"][:i], wrong, *plan["drops"][i + 1 :]]
            self.refused(self.http.put(self.url(), json={"revision": 4, "plan": {**plan, "drops": drops}}), 422)

    def test_true_is_no_number_though_it_equals_one(self):
        plan = json.loads(json.dumps(self.plan["plan"]))
        plan["drops"][0]["section"]["height_m"]["value"] = 1
        self.plan = self.http.put(self.url(), json={"revision": 1, "plan": plan}).json
        plan["drops"][0]["section"]["height_m"]["value"] = True
        response = self.http.put(self.url(), json={"revision": 2, "plan": plan})
        self.refused(response, 422, "plan/drops/0/section/height_m/value")

    def test_a_drop_that_is_not_changed_is_not_read_again(self):
        for n in (1, 2):
            put = [{**self.plan["plan"]["drops"][0], "name": f"name {n}"}]
            changes = {"lists": [{"at": ["drops"], "put": put, "order": None}]}
            self.http.post(self.url("/edits"), json={"revision": n, "changes": changes})
        with closing(Desk(self.database, self.app.extensions["memory"])) as at:
            before, after = (at.at(self.plan["id"], n).plan.drops for n in (2, 3))
        self.assertEqual([a is b for a, b in zip(before, after, strict=True)], [False] + [True] * (len(after) - 1))

    def test_acts_are_offered_once_they_were_tried_out(self):
        whole = assess(canyon())
        said = [f for f in (*whole.findings, *(f for d in whole.drops for f in d.findings)) if f.fix or f.others]
        told = self.plan["assessment"]
        for f in (*told["findings"], *(f for d in told["drops"] for f in d["findings"])):
            self.assertEqual((f["fix"], f["others"]), (None, []))
        url = self.url("/revisions/1/offers")
        of_all = {o["finding"] for o in self.http.get(url).json}
        self.assertTrue(of_all and of_all <= {f.key for f in said if not f.subject.drop})
        for d in whole.drops:
            seen = {o["finding"]: o["fixes"] for o in self.http.get(f"{url}?drop={d.id}").json}
            self.assertTrue(of_all <= set(seen) <= of_all | {f.key for f in d.findings})
            self.assertTrue(all(seen.values()))
        self.assertIn("reach.short", {f.code for f in said if f.key in {o["finding"] for o in self.offers("d3")}})
        # What it would leave unchecked is not offered.
        self.assertNotIn("join.passes", {f.code for f in said if f.key in {o["finding"] for o in self.offers("d9")}})
        self.refused(self.http.get(f"{url}?drop=nobody"), 422, "drop")

    def test_how_much_longer_is_one_figure(self):
        rows = self.http.get(self.url("/revisions/1/prospect")).json["rows"]
        for row in rows:
            cell = next(c for c in row["cells"] if c["event"] == "longer")
            self.assertEqual(self.http.get(self.url(f"/revisions/1/drops/{row['drop']}/longer")).json, cell)

    def offers(self, drop):
        return self.http.get(self.url(f"/revisions/1/offers?drop={drop}")).json

    def test_a_plan_may_leave_its_drops_out(self):
        plan = {k: v for k, v in self.plan["plan"].items() if k != "drops"}
        for n in (1, 2):
            saved = self.http.put(self.url(), json={"revision": n, "plan": {**plan, "title": f"without {n}"}})
            self.assertEqual((saved.status_code, saved.json["plan"]["drops"]), (200, []))

    def fresh(self, plan):
        return TypeAdapter(tuple[DropAssessment, ...]).dump_json(assess(read_plan(plan), fixes=False).drops)

    def test_workings_of_what_is_shown(self):
        workings = {w["key"] for w in self.http.get(self.url("/revisions/1/workings/d3")).json}
        for finding in self.plan["assessment"]["drops"][2]["findings"]:
            self.assertTrue(finding["working"] in workings | {""})
        self.assertTrue(self.http.get(self.url("/revisions/1/workings/shed")).json)


class CommonShed(Client):
    def test_it_is_kept_and_compared_and_a_stale_edit_is_a_conflict(self):
        shed = self.plan["plan"]["shed"]
        empty = self.http.get(self.url("/shed")).json
        self.assertEqual((empty["revision"], {d["kind"] for d in empty["differences"]}), (0, {"only in the plan"}))
        kept = self.http.put(self.url("/shed"), json={"revision": 0, "shed": shed}).json
        self.assertEqual((kept["revision"], kept["differences"]), (1, []))
        again = self.http.put(self.url("/shed"), json={"revision": 1, "shed": shed}).json
        self.assertEqual(again["revision"], 1)  # nothing changed, nothing added
        self.refused(
            self.http.put(self.url("/shed"), json={"revision": 0, "shed": {"ropes": []}}),
            409,
            words="changed meanwhile",
        )
        less = {**shed, "ropes": [{**shed["ropes"][0], "name": "Blue 58"}, *shed["ropes"][2:]]}
        changed = self.http.put(self.url("/shed"), json={"revision": 1, "shed": less}).json
        self.assertEqual(
            [(d["name"], d["kind"], d["what"]) for d in changed["differences"]],
            [("Blue 60", "differs", "name Blue 60 → Blue 58"), ("Green 35", "only in the plan", "")],
        )
        self.assertEqual(changed["what"], "Blue 58 changed; Green 35 taken out")

    def test_a_shed_that_is_wrong_names_its_field_and_is_not_kept(self):
        shed = json.loads(json.dumps(self.plan["plan"]["shed"]))
        shed["slings"][0]["rating_kn"]["low_kn"] = 0
        self.refused(
            self.http.put(self.url("/shed"), json={"revision": 0, "shed": shed}), 422, "shed/slings/0/rating_kn/low_kn"
        )
        shed = {
            **self.plan["plan"]["shed"],
            "own_figures": [{"id": "o", "table": "loads", "key": "peak.least", "low": 5, "high": 5, "reason": ""}],
        }
        self.refused(
            self.http.put(self.url("/shed"), json={"revision": 0, "shed": shed}), 422, "shed/own_figures/0/reason"
        )
        self.assertEqual(self.http.get(self.url("/shed")).json["revision"], 0)


class Refusals(Client):
    def test_bad_plans_name_their_field(self):
        def figure(**more):
            return lambda p: p["drops"][0]["section"]["height_m"].update(more)

        cases = [
            (figure(value=-2), "plan/drops/0/section/height_m", "0.5 to 600"),
            (figure(value=5000), "plan/drops/0/section/height_m", "not 5000"),
            (figure(value="tall"), "plan/drops/0/section/height_m/value", "number"),
            (lambda p: p["shed"]["ropes"][1].update(name="Blue 60"), "plan/shed/ropes/1/name", "is taken"),
            (lambda p: p["drops"][2]["section"].update(shots=[]), "plan/drops/2/section/shots", "at least 1"),
            (
                lambda p: p["drops"][0]["section"]["edge_fall_m"].update(value=-19),
                "plan/drops/0/section",
                "above the ring",
            ),
            (lambda p: p.update(format=7), "plan/format", "1"),
            (lambda p: p["drops"][0]["station"].update(states=[]), "plan/drops/0/station/states", "at least 1"),
        ]
        for change, field, words in cases:
            with self.subTest(field=field, words=words):
                self.refused(self.put(self.changed(change)), 422, field, words)

    def test_not_a_number_and_not_json(self):
        for text, words in (
            ('{"revision": 1, "plan": {"format": NaN}}', "NaN"),
            ("{", "not JSON"),
            ("[]", "dictionary|object"),
        ):
            with self.subTest(text):
                self.refused(self.http.put(self.url(), data=text, content_type="application/json"), 422, words=words)

    def test_too_large(self):
        self.refused(self.http.put(self.url(), data=b"[" + b" " * 3_000_000, content_type="application/json"), 413)
        self.refused(
            self.http.put(self.url(), data=b"[" + b" " * 2_509_900, content_type="application/json"),
            422,
            words="not JSON",
        )

    def test_stale(self):
        self.put(self.changed(lambda p: p.update(title="B")))
        answer = self.put(self.changed(lambda p: p.update(title="C")))
        self.assertEqual((answer.status_code, answer.json["revision"]), (409, 2))
        self.assertEqual([r["what"] for r in answer.json["since"]], ["title Fernlid Slot → B"])
        self.assertEqual(
            self.http.post(
                self.url("/preview"), json={"revision": 1, "index": 0, "drop": self.plan["plan"]["drops"][0]}
            ).status_code,
            200,
        )

    def test_nothing_there(self):
        self.refused(self.http.get("/api/plans/nobody"), 404)
        self.refused(self.http.get("/api/nothing"), 404)
        self.refused(self.http.post(self.url("/undo"), json={"revision": 1}), 409, words="nothing to undo")
        self.refused(self.http.post("/api/plans", json={"source": {"kind": "demo", "name": "x"}}), 422, "source/name")
        self.refused(
            self.http.post("/api/plans", json={"source": {"kind": "file", "plan": {"format": 9}}}), 422, "format"
        )
        self.refused(self.http.get(self.url("/revisions/1/workings/d99")), 422, "subject")
        self.refused(
            self.http.post(
                self.url("/preview"), json={"revision": 1, "index": 99, "drop": self.plan["plan"]["drops"][0]}
            ),
            422,
            "index",
        )

    def test_foreign_pages_and_hosts(self):
        body = {"revision": 1, "plan": self.changed(lambda p: p.update(title="Evil"))}
        self.refused(
            self.http.put(self.url(), json=body, headers={"Origin": "http://example.invalid"}), 403, words="Origin"
        )
        self.refused(self.http.put(self.url(), json=body, headers={"Origin": "null"}), 403, words="Origin")
        self.refused(self.http.put(self.url(), json=body, headers={"Sec-Fetch-Site": "cross-site"}), 403)
        self.refused(self.http.put(self.url(), json=body, headers={"Host": "example.invalid"}), 400, words="Host")
        self.refused(
            self.http.put(self.url(), data=json.dumps(body), content_type="text/plain"), 415, words="Content-Type"
        )
        self.assertEqual(self.http.get(self.url(), headers={"Origin": "http://localhost"}).status_code, 200)
        # Whoever follows a link from elsewhere gets the page, and nothing of the API.
        followed = {"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "navigate"}
        with self.http.get("/plans/x/rig", headers=followed) as page:
            self.assertEqual(page.status_code, 200)
        self.refused(self.http.get("/api/plans", headers=followed), 403)
        # Nor does a page on another port of this machine make it write a file.
        for path in (self.url("/file"), "/api/backup", self.url("/revisions/1/overview.svg")):
            for mode in ("navigate", "no-cors"):
                near = {"Sec-Fetch-Site": "same-site", "Sec-Fetch-Mode": mode}
                self.refused(self.http.get(path, headers=near), 403)


class NothingFallsOver(Client):
    """A plan that cannot be worked out or read takes nothing else down, and nothing of it is saved."""

    def test_an_answer_that_fails_leaves_nothing_saved_and_says_so(self):
        with (
            mock.patch("reamer.desk.worked.assess_by_parts", side_effect=ZeroDivisionError),
            self.assertLogs("reamer", "ERROR"),
        ):
            answer = self.put(self.changed(lambda p: p.update(title="Half")))
        self.refused(answer, 500, words="Nothing was saved")
        self.assertEqual(self.put(self.changed(lambda p: p.update(title="Whole"))).json["revision"], 2)

    def test_one_plan_in_trouble_is_listed_with_the_others_and_can_be_got_out_of_it(self):
        other = self.http.post("/api/plans", json={"source": {"kind": "demo", "name": "gully"}}).json
        self.put(self.changed(lambda p: p.update(title="B")))
        with closing(sqlite3.connect(self.database)) as conn, conn:
            conn.execute(
                "UPDATE revision SET body = replace(body, '\"format\":1', '\"format\":7') WHERE plan_id = ? AND"
                " number = 2",
                (self.plan["id"],),
            )
        rows = {r["id"]: r for r in self.http.get("/api/plans").json}
        self.assertIn("format", rows[self.plan["id"]]["trouble"])
        self.assertEqual((rows[other["id"]]["trouble"], rows[other["id"]]["drops"]), ("", 4))
        self.assertEqual(self.http.get(self.url()).status_code, 422)
        self.assertEqual(json.loads(self.http.get(self.url("/file")).data)["format"], 7)
        self.assertEqual(self.http.post(self.url("/undo"), json={"revision": 2}).json["plan"]["title"], "Fernlid Slot")
        self.assertEqual(self.http.delete(self.url()).status_code, 204)

    def test_what_is_wrong_with_the_database_is_one_sentence(self):
        for error, says in (
            ("database or disk is full", "the disk is full"),
            ("database is locked", "in use by another program"),
            ("attempt to write a readonly database", "only be read"),
        ):
            with mock.patch("reamer.store.plans.Plans.save", side_effect=sqlite3.OperationalError(error)):
                answer = self.put(self.plan["plan"])
            self.assertEqual(
                (answer.status_code, "Nothing was saved" in answer.text, says in answer.text), (503, True, True)
            )

    def test_every_plan_that_can_be_saved_can_be_read_back(self):
        many = [
            {"id": f"s{n}", "slope_m": known(1.234567 + n / 1000, "tape"), "incl_deg": known(-89.123)}
            for n in range(20)
        ]

        def grown(p):
            drop = {**p["drops"][0], "section": {"kind": "shots", "shots": many}}
            p["drops"] = [{**drop, "id": f"d{n}"} for n in range(200)]

        saved = self.put(self.changed(grown))
        self.assertEqual(saved.status_code, 200, saved.text[:200])
        back = self.http.post(
            "/api/plans",
            data=b'{"source": {"kind": "file", "plan": ' + self.http.get(self.url("/file")).data + b"}}",
            content_type="application/json",
        )
        self.assertEqual(back.json["plan"]["drops"], saved.json["plan"]["drops"])

    def test_an_answer_is_of_the_revision_it_stands_beside(self):
        """Whatever is newest, and whatever another server on the same library has saved since."""
        other = create_app(Settings(self.database, hosts=("localhost",), static=self.static)).test_client()
        asked = ("/revisions/1/schools/join", "/revisions/1/workings/d1", "/revisions/1/systems/d1/0")
        before = [self.http.get(self.url(rest)).json for rest in asked]
        other.put(self.url(), json={"revision": 1, "plan": self.changed(lambda p: p["drops"].pop(0))})
        for http in (self.http, other):
            self.assertEqual([http.get(self.url(rest)).json for rest in asked], before)
        self.assertEqual(self.http.get(self.url("/revisions/2/workings/d1")).status_code, 422)
        self.assertEqual(self.http.get(self.url("/revisions/3/workings/d2")).status_code, 410)

    def test_the_servers_own_refusals_carry_the_headers(self):
        server = listening(self.app, "127.0.0.1", 0, most_bytes(self.app), 1)

        def run():
            with suppress(OSError):  # it is closed under it
                server.run()

        threading.Thread(target=run, daemon=True).start()
        try:
            with socket.create_connection(("127.0.0.1", server.effective_port), 10) as raw:
                raw.sendall(b"NONSENSE\r\n\r\n")
                self.assertIn(b"Content-Security-Policy", raw.recv(65536))
        finally:
            # What is being answered is answered first.
            server.task_dispatcher.shutdown(timeout=60)
            server.close()


class Promises(Client):
    def test_the_document_is_valid_openapi_and_answers_keep_to_it(self):
        document = openapi()
        openapi_spec_validator.validate(document)
        for name, answer in (
            ("PlanView", self.plan),
            ("ListedPlan", self.http.get("/api/plans").json[0]),
            ("Problem", self.http.get("/api/plans/x").json),
        ):
            jsonschema.validate(answer, {"$ref": f"#/components/schemas/{name}", "components": document["components"]})

    def test_generated_types_are_fresh(self):
        self.assertEqual((FRONTEND / "src/api/types.gen.ts").read_text(), typescript(), "run `make types`")

    def test_headers(self):
        for path in ("/", "/plans/x/rig", "/api/plans", "/api/nothing"):
            with self.http.get(path) as answer:
                headers = answer.headers
            self.assertIn("default-src 'none'", headers["Content-Security-Policy"])
            self.assertNotIn("unsafe", headers["Content-Security-Policy"])
            self.assertEqual(headers["X-Content-Type-Options"], "nosniff")

    def test_front_end_is_served_for_every_page_but_not_for_missing_files(self):
        (self.static / ".env").write_text("secret")
        for path, status in (
            ("/", 200),
            ("/plans/x/rig", 200),
            ("/assets/none.js", 404),
            ("/.env", 404),
            ("/%2eenv", 404),
            ("/assets/..%2f..%2fsecret", 404),
            ("/assets/%2e%2e/x", 404),
            ("/" + "a" * 5000, 404),
        ):
            answer = self.http.get(path)
            self.assertEqual(answer.status_code, status)
            if status == 200:
                self.assertIn("front", answer.text)
            answer.close()


class Together(Client):
    def test_of_many_edits_from_one_revision_exactly_one_is_saved(self):
        from concurrent.futures import ThreadPoolExecutor

        def save(n):
            plan = {**self.plan["plan"], "title": f"T{n}"}
            return self.app.test_client().put(self.url(), json={"revision": 1, "plan": plan}).status_code

        with ThreadPoolExecutor(8) as pool:
            answers = list(pool.map(save, range(16)))
        self.assertEqual(sorted(answers), [200] + [409] * 15)
        self.assertEqual(self.http.get(self.url()).json["revision"], 2)

    def test_every_declared_endpoint_is_a_route_and_every_route_is_declared(self):
        documented = {(m.upper(), p) for p, ops in openapi()["paths"].items() for m in ops}
        routes = {
            (m, __import__("re").sub(r"<(?:\w+:)?(\w+)>", r"{\1}", r.rule))
            for r in self.app.url_map.iter_rules()
            if r.rule.startswith("/api/")
            for m in r.methods - {"HEAD", "OPTIONS"}
        }
        files = {"/api/plans/{plan_id}/file", "/api/openapi.json", "/api/backup", "/api/unreadable/file"}
        files |= {
            f"/api/plans/{{plan_id}}/revisions/{{revision}}/{f}"
            for f in ("overview.{form}", "card.{form}", "card/pages/{n}.png", "export/{name}")
        }
        files |= {"/api/plans/{plan_id}/revisions/{revision}/cutaway/{drop_id}.{form}"}
        files |= {"/api/plans/{plan_id}/revisions/{revision}/attachment/{drop_id}/{who}.svg"}
        self.assertEqual(routes - documented, {("GET", path) for path in files})
        self.assertEqual(documented - routes, set())

    def test_an_unexpected_failure_is_a_problem_without_its_inside(self):
        def fail(*_):
            raise RuntimeError("secret")

        self.app.extensions["memory"].plan = fail
        with self.assertLogs("reamer", "ERROR"):
            answer = self.http.get(self.url())
        self.assertEqual((answer.status_code, answer.content_type), (500, "application/problem+json"))
        self.assertNotIn("secret", answer.text)


class Ahead(Client):
    """What lies ahead of a plan, asked station by station and then as a whole."""

    def at(self, rest, revision=1):
        return self.http.get(self.url(f"/revisions/{revision}/{rest}"))

    def test_the_answer_is_the_cores(self):
        done = [self.at(f"serving/{d['id']}").json for d in self.plan["plan"]["drops"]]
        self.assertEqual([p["done"] for p in done], list(range(1, 10)))
        self.assertEqual({p["of"] for p in done}, {9})
        plan, a = canyon(), assess(canyon())
        want = prospect(context(plan), Stations(), Known(a.drops, a.webbing, a.descent.times))
        got = self.at("prospect").json
        self.assertEqual(got, TypeAdapter(Prospect).dump_python(want, mode="json"))

    def test_an_edit_asks_again_only_the_station_that_changed(self):
        self.at("prospect")

        def lower(plan):
            plan["drops"][3]["section"]["height_m"]["value"] = 5.0

        self.assertEqual(self.put(self.changed(lower)).status_code, 200)
        first = self.at("serving/d1", 2).json
        self.assertEqual((first["done"], first["of"]), (8, 9))
        self.assertEqual(self.at("serving/d4", 2).json["done"], 9)

    def test_adopting_is_an_edit_that_can_be_saved(self):
        chosen = self.at("prospect").json["choice"]["chosen"]["ropes"]
        got = self.at("adoption?ropes=" + ",".join(chosen)).json
        self.assertEqual(len(got["stations"]), 9)

        def adopt(plan):
            for edit in got["fix"]["edits"]:
                here = plan
                for key in edit["path"][:-1]:
                    here = here[key]
                here[edit["path"][-1]] = edit["value"]

        saved = self.put(self.changed(adopt))
        self.assertEqual(saved.status_code, 200, saved.text)
        self.assertEqual(saved.json["plan"]["carry"]["ropes"], chosen)

    def test_what_is_refused(self):
        self.refused(self.at("adoption?ropes=gone"), 422, "ropes", "no rope")
        self.refused(self.at("adoption"), 422, "ropes", "no rope is named")
        self.refused(self.at("serving/d99"), 422, "drop_id", "no drop")
        self.refused(self.at("overview.pdf"), 422, "form", "svg or png")
        self.assertEqual(self.at("prospect", 7).status_code, 410)

    def test_a_question_taken_back_ends(self):
        with mock.patch("reamer.desk.worked.prospect", side_effect=Cancelled):
            self.refused(self.at("prospect"), 422, "", "asked anew or taken back")
        with mock.patch("reamer.web.answers_api.to_buy", side_effect=Cancelled):
            self.refused(self.at("bought"), 422, "", "asked anew or taken back")
        going = self.app.extensions["memory"].newest(self.plan["id"])
        self.assertTrue(going())
        self.assertEqual(self.http.delete(self.url("/prospect")).status_code, 204)
        self.assertFalse(going())

    def test_the_sheet(self):
        svg, png = self.at("overview.svg"), self.at("overview.png?units=us")
        self.assertEqual((svg.content_type.split(";")[0], png.content_type), ("image/svg+xml", "image/png"))
        self.assertIn("Fernlid Slot", svg.text)
        self.assertTrue(png.data.startswith(b"\x89PNG"))
        self.assertIn("script-src 'self'", svg.headers["Content-Security-Policy"])

    def test_another_plan_has_its_own(self):
        other = self.http.post("/api/plans", json={"source": {"kind": "demo", "name": "gully"}}).json
        got = self.http.get(f"/api/plans/{other['id']}/revisions/1/prospect").json
        self.assertEqual(len(got["rows"]), 4)
        new = self.http.get(f"/api/plans/{other['id']}/revisions/1/bought").json
        self.assertEqual([b["count"] for b in new], [1, 2, 3])

    def test_bad_whereabouts_name_their_field(self):
        def put(key, value):
            return self.put(self.changed(lambda plan: plan.update({key: value})))

        self.refused(put("spot", {"latitude_deg": "x", "longitude_deg": 0}), 422, "plan/spot/latitude_deg")
        self.refused(put("spot", {"latitude_deg": 0, "longitude_deg": 0, "zone": "../x"}), 422, "plan/spot/zone")
        self.refused(put("start", "noon"), 422, "plan/start", "09:30")
        self.refused(put("carry", {"borne": [{"what": "", "by": "p1"}]}), 422, "plan/carry/borne/0/what")


class Through(Client):
    """A plan gone through act by act."""

    def acts(self):
        return self.http.get(self.url()).json["standing"]["tally"]["acts"]

    def at(self, rest, revision=1):
        return self.http.get(self.url(f"/revisions/{revision}/{rest}"))

    def test_the_answer_is_the_cores_and_is_counted_once_it_was_asked_for(self):
        self.assertTrue(self.acts()["pending"])
        plan, a = canyon(), assess(canyon())
        play = gone_through(context(plan), a.drops)
        want = rehearsal(context(plan), play, mend=False)
        self.assertEqual(self.at("rehearsal").json, TypeAdapter(Rehearsal).dump_python(want, mode="json"))
        self.assertEqual(self.acts(), {"count": {**self.acts()["count"], "open": want.tally}, "pending": False})
        self.assertEqual(self.at("standing").json, self.http.get(self.url()).json["standing"])
        got = self.at("rehearsal/d3").json
        self.assertEqual([s["key"] for s in got["steps"]], [x.key for x in play.stations[2].acts])
        self.assertEqual(len(self.at("rehearsal/d3/matrix").json["worst"]), len(got["steps"]))
        self.assertEqual([o["by"] for o in self.at("backups/d3/g3").json], list(KINDS))

    def test_one_state_and_one_fault(self):
        got = self.at("rehearsal/d1").json
        n = next(s["number"] for s in got["steps"] if s["key"] == "d1:second:descend:")
        state = self.at(f"rehearsal/d1/acts/{n}").json
        key = state["faults"][0]["key"]
        self.assertEqual(self.at(f"rehearsal/d1/acts/{n}/fault?key={key}").json, state["faults"][0])
        self.assertEqual({r["rope"] for r in state["ropes"]}, {"rope-blue"})
        for rest, said in (
            ("rehearsal/d1/acts/0", "acts 1 to"),
            ("rehearsal/d1/acts/999", "acts 1 to"),
            (f"rehearsal/d1/acts/{n}/fault?key=x", "can happen there"),
            ("rehearsal/d99", "d99"),
            ("backups/d1/nobody", "nobody"),
        ):
            wrong = self.at(rest)
            self.assertIn(wrong.status_code, (404, 422), rest)
            self.assertIn(said, wrong.text)

    def test_what_the_screen_asks_besides(self):
        steps = self.at("rehearsal/d4").json["steps"]
        broken = self.at("rehearsal/d4/broken").json
        self.assertEqual(len(broken), len(steps))
        self.assertEqual(broken[20]["faults"], self.at("rehearsal/d4/acts/21").json["faults"])
        self.assertTrue(all(sum(o["right"] for o in q["options"]) == 1 for q in self.at("rehearsal/d4/quiz").json))
        grip = self.at("grip/d4/lead?device_m=0.45&loop_m=0.6").json
        self.assertLess(self.at("grip/d4/lead?device_m=0.45&loop_m=0.7").json["clear"]["value"], grip["clear"]["value"])
        for query, field in (
            ("device_m=high&loop_m=0.6", "device_m"),
            ("device_m=0.4", "loop_m"),
            ("device_m=9&loop_m=0.6", "device_m"),
            ("device_m=nan&loop_m=0.6", "device_m"),
            ("device_m=0.4&loop_m=inf", "loop_m"),
        ):
            self.refused(self.at(f"grip/d4/lead?{query}"), 422, field)
        self.refused(self.at("grip/d4/nobody?device_m=0.4&loop_m=0.6"), 422, "who", "nobody")
        for rest in ("quiz", "broken", "matrix", "acts/1"):
            self.refused(self.at(f"rehearsal/d99/{rest}"), 422, words="d99")
        self.refused(self.at("grip/d99/lead?device_m=0.4&loop_m=0.6"), 422, words="d99")

    def test_a_plan_that_is_no_plan_is_not_tried(self):
        def nobody(plan):
            plan["drops"][0]["station"]["through"]["edits"] = [{"kind": "drop"}]

        def longer(plan):
            plan["drops"][0]["section"]["height_m"]["value"] = -4

        for change in (nobody, longer):
            body = {"revision": 1, "plan": self.changed(change)}
            self.refused(self.http.post(self.url("/rehearsal/d1/tried"), json=body), 422)
        body = {"revision": 1, "plan": self.plan["plan"]}
        self.refused(self.http.post(self.url("/rehearsal/d99/tried"), json=body), 422, words="d99")
        tried = self.http.post(self.url("/rehearsal/d1/tried"), json=body)
        self.assertEqual(tried.json, self.at("rehearsal/d1").json)
        self.assertTrue(self.acts()["pending"])

    def test_what_ends_a_hazard_is_an_edit_that_can_be_saved(self):
        hazards = self.at("rehearsal").json["hazards"]
        hazard, fixes = next((h, f) for h in hazards if (f := self.at(f"mending?hazard={h['key']}").json))
        wrong = self.at("mending?hazard=x")
        self.assertEqual(wrong.status_code, 422)
        self.assertIn("no hazard", wrong.text)

        def mend(plan):
            for edit in fixes[0]["edits"]:
                here = plan
                for key in edit["path"][:-1]:
                    here = here[key]
                here[edit["path"][-1]] = edit["value"]

        tried = self.http.post(
            self.url(f"/rehearsal/{hazard['drop']}/tried"), json={"revision": 1, "plan": self.changed(mend)}
        )
        self.assertNotIn(hazard["key"], [s["key"] for s in tried.json["spans"]])
        self.assertIn(hazard["key"], [s["key"] for s in self.at(f"rehearsal/{hazard['drop']}").json["spans"]])
        self.assertEqual(self.put(self.changed(mend)).status_code, 200)
        left = [h["key"] for h in self.at("rehearsal", 2).json["hazards"]]
        self.assertNotIn(hazard["key"], left)
        self.assertEqual(tried.json, self.at(f"rehearsal/{hazard['drop']}", 2).json)
