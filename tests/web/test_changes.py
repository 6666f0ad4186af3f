"""Edits that travel as changes come to the same as plans sent whole, and what they are answered to what is asked anew;
one that is sent again is made once. The front end's own tests run here, too."""

import json
import os
import random
import subprocess
import tempfile
import threading
import unittest
from pathlib import Path
from unittest import mock

from reamer.core.model import Plan
from reamer.core.plan.differences import Changes, changed
from reamer.core.reading import read_plan
from reamer.demos import buttress, canyon
from reamer.desk import saves
from reamer.desk.memory import Memory
from reamer.web import create_app
from reamer.web.settings import Settings
from tests import LONG

FRONTEND = Path(__file__).parents[2] / "frontend"


def differ(was, now):
    """The changes that lead from one plan to another, both as plain data."""
    made = {"set": [], "lists": []}
    for key, value in now.items():
        if key != "drops" and was.get(key) != value:
            made["set"].append({"at": [key], "value": value})
    had = {d["id"]: d for d in was["drops"]}
    put = [d for d in now["drops"] if had.get(d["id"]) != d]
    ids = [d["id"] for d in now["drops"]]
    order = ids if ids != list(had) else None
    if put or order is not None:
        made["lists"].append({"at": ["drops"], "put": put, "order": order})
    return made


def unknown(why):
    return {"kind": "unknown", "why": why}


def known(value):
    return {"kind": "known", "value": value, "method": "given"}


def edited(plan, rng):
    """A plan with something of it other, as plain data."""
    made = json.loads(json.dumps(plan))
    drops = made["drops"]
    which = rng.randrange(7) if len(drops) > 1 else 0
    drop = rng.choice(drops)
    if which in (0, 1):
        drop["name"] = f"Step {rng.randrange(1000)}"
        drop["landing"] = {**drop["landing"], "kind": rng.choice(["ledge", "unknown"])}
    elif which == 2:
        drops.remove(drop)
    elif which == 3:
        drops.insert(rng.randrange(len(drops)), {**drop, "id": f"n{rng.randrange(10**6)}", "name": "A twin"})
    elif which == 4:
        rng.shuffle(drops)
    elif which == 5:
        made["shed"]["ropes"][0]["nominal_m"] = {
            **made["shed"]["ropes"][0]["nominal_m"],
            "value": rng.randrange(20, 90),
        }
    else:
        made["notes"] = f"note {rng.randrange(1000)}"
    return made


class Travelling(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.settings = Settings(Path(folder.name) / "t.sqlite3", hosts=("localhost",))
        self.http = create_app(self.settings).test_client()
        self.fresh = create_app(self.settings).test_client()

    def made(self, plan):
        source = {"kind": "file", "plan": json.loads(plan.model_dump_json())}
        return self.http.post("/api/plans", json={"source": source}).json

    def send(self, view, what, **body):
        """What a page that has a view asks, and what it is answered."""
        body = {"revision": view["revision"], "seen": view["stamp"], **body}
        return self.http.post(f"/api/plans/{view['id']}/{what}", json=body)

    def test_what_is_answered_leads_to_what_a_server_tells_that_has_just_begun(self):
        rng = random.Random(None if LONG else 5)
        told = []
        for demo in (canyon, buttress):
            view = self.made(demo())
            for n in range(200 if LONG else 14):
                what = rng.choice(["edits", "edits", "edits", "undo", "redo", "seen"])
                if what == "edits":
                    plan = edited(view["plan"], rng)
                    answer = self.send(view, what, changes=differ(view["plan"], plan))
                elif what == "seen":
                    answer = self.http.get(f"/api/plans/{view['id']}?seen={view['stamp']}")
                else:
                    answer = self.send(view, what)
                    if answer.status_code == 409:
                        continue
                self.assertEqual(answer.status_code, 200, answer.data[:300])
                self.assertIn("set", answer.json, "told whole")
                whole = create_app(self.settings).test_client() if n % 7 == 0 else self.fresh
                whole = whole.get(f"/api/plans/{view['id']}").json
                told.append({"had": view, "answer": answer.json, "whole": whole})
                view = whole
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "answers.jsonl"
            path.write_text("\n".join(json.dumps(t) for t in told))
            self.front("--testNamePattern", "as the server tells", ANSWERS=str(path))

    def test_what_the_front_end_makes_of_two_plans_leads_from_one_to_the_other(self):
        rng = random.Random(None if LONG else 8)
        pairs = []
        for demo in (canyon, buttress):
            was = json.loads(demo().model_dump_json())
            for n in range(400 if LONG else 40):
                now = edited(was, rng)
                # Other kinds of the same thing, which share some of their fields.
                margin = rng.choice([{"kind": "peak"}, {"kind": "own", "times": 2.5, "reason": "tried"}])
                now["policies"] = {**now["policies"], "margin": margin}
                now["party"] = now["party"][n % 2 :] + now["party"][: n % 2]
                now["shed"]["rings"] = rng.sample(now["shed"]["rings"], len(now["shed"]["rings"]))
                now["carry"] = {**now["carry"], "rings": rng.choice([unknown("not said"), known(3)])}
                now["spot"] = rng.choice([None, was["spot"], {"latitude_deg": 46, "longitude_deg": 9}])
                now = json.loads(read_plan(now).model_dump_json())
                pairs.append((was, now))
                was = now
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "pairs.jsonl"
            path.write_text("\n".join(json.dumps(p) for p in pairs))
            self.front("--testNamePattern", "are made of pairs", PAIRS=str(path))
            made = Path(f"{path}.changes").read_text().splitlines()
        self.assertEqual(len(made), len(pairs))
        for (was, now), line in zip(pairs, made, strict=True):
            put = changed(read_plan(was), Changes.model_validate_json(line))
            self.assertEqual(Plan.model_validate(put), read_plan(now))

    def front(self, *asked, **given):
        """The front end's own tests, all or some."""
        runs = {"RUNS": "20000"} if LONG else {}
        command = ["npx", "--no-install", "vitest", "run", "--testTimeout=600000", *asked]
        done = subprocess.run(
            command, cwd=FRONTEND, env={**os.environ, **runs, **given}, capture_output=True, text=True
        )
        self.assertEqual(done.returncode, 0, done.stdout[-6000:] + done.stderr[-2000:])
        self.assertRegex(done.stdout, r"Tests .*[1-9]\d* passed")

    def test_the_front_ends_own_tests(self):
        self.front()

    def test_changes_come_to_the_plan_they_were_made_of(self):
        rng, memory = random.Random(None if LONG else 6), Memory()
        was = json.loads(canyon().model_dump_json())
        for _ in range(500 if LONG else 60):
            now = edited(was, rng)
            made = changed(read_plan(was), Changes.model_validate(differ(was, now)))
            plan = Plan.model_validate(made)
            self.assertEqual(plan, read_plan(now))
            was = now
            self.assertEqual(memory.text(plan), plan.model_dump_json())

    def test_a_view_that_is_no_longer_at_hand_is_told_whole(self):
        view = self.made(canyon())
        other = self.made(buttress())
        for stamp in ("", "gone", other["stamp"]):
            answer = self.http.get(f"/api/plans/{view['id']}?seen={stamp}").json
            self.assertEqual(answer, view)
        self.assertEqual(self.http.get(f"/api/plans/{view['id']}?seen={view['stamp']}").json, {"set": [], "lists": []})

    def test_what_is_sent_again_is_made_once_and_what_others_saved_stays(self):
        view = self.made(canyon())
        now = {**view["plan"], "title": "Once"}
        changes = differ(view["plan"], now)
        first = self.send(view, "edits", key="k1", changes=changes)
        self.assertEqual(first.status_code, 200)
        later = self.http.get(f"/api/plans/{view['id']}").json
        self.send(later, "edits", key="k2", changes=differ(now, {**now, "notes": "theirs"}))
        again = self.send(view, "edits", key="k1", changes=changes, seen="")
        self.assertEqual((again.status_code, again.json["revision"], again.json["plan"]["notes"]), (200, 3, "theirs"))
        self.assertEqual(self.send(view, "edits", key="k3", changes=changes).status_code, 409)
        at = self.http.get(f"/api/plans/{view['id']}").json
        for _ in range(2):
            self.assertEqual(self.send(at, "undo", key="k4", seen="").json["revision"], 4)

    def test_of_the_same_sent_by_several_at_once_one_is_made(self):
        view = self.made(canyon())
        changes = differ(view["plan"], {**view["plan"], "title": "Once"})
        codes = []

        def ask():
            body = {"revision": 1, "key": "k", "changes": changes}
            http = create_app(self.settings).test_client()
            codes.append(http.post(f"/api/plans/{view['id']}/edits", json=body).status_code)

        asking = [threading.Thread(target=ask) for _ in range(4)]
        for t in asking:
            t.start()
        for t in asking:
            t.join()
        self.assertEqual(codes, [200] * 4)
        self.assertEqual(len(self.http.get(f"/api/plans/{view['id']}/revisions").json), 2)

    def test_what_another_saved_by_the_same_key_meanwhile_is_made_once(self):
        view = self.made(canyon())
        changes = differ(view["plan"], {**view["plan"], "title": "Once"})
        for path, name, what in (("edits", "save", {"changes": changes}), ("undo", "step", {})):
            at = self.http.get(f"/api/plans/{view['id']}").json["revision"]
            really, asked = getattr(saves, name), []

            def late(*args, path=path, name=name, what=what, really=really, asked=asked, **named):
                # Between looking for the key and saving, the same asked a second time is answered.
                setattr(saves, name, really)
                asked.append(self.send(view, path, revision=at, key=f"k {path}", seen="", **what).status_code)
                return really(*args, **named)

            with mock.patch.object(saves, name, late):
                asked.append(self.send(view, path, revision=at, key=f"k {path}", seen="", **what).status_code)
            self.assertEqual(asked, [200, 200])
            self.assertEqual(self.http.get(f"/api/plans/{view['id']}").json["revision"], at + 1)

    def test_a_change_that_fits_nowhere_is_refused_by_its_place_and_nothing_is_saved(self):
        view = self.made(canyon())
        drop = view["plan"]["drops"][0]
        for changes, field in (
            ({"set": [{"at": ["colour"], "value": 1}]}, "changes/set/0/at"),
            ({"set": [{"at": [], "value": {}}]}, "changes/set/0/at"),
            ({"set": [{"at": ["shed", "boats"], "value": 1}]}, "changes/set/0/at"),
            ({"set": [{"at": ["drops", "0", "name"], "value": "x"}]}, "changes/set/0/at"),
            ({"lists": [{"at": ["title"], "put": [], "order": None}]}, "changes/lists/0/at"),
            ({"lists": [{"at": ["drops"], "put": [{"name": "no id"}], "order": None}]}, "changes/lists/0/at"),
            ({"lists": [{"at": ["drops"], "put": [], "order": ["d1", "gone"]}]}, "changes/lists/0/order"),
            ({"lists": [{"at": ["drops"], "put": [], "order": ["d1", "d1"]}]}, "plan/drops/1/id"),
            ({"lists": [{"at": ["drops"], "put": [{**drop, "name": ""}], "order": None}]}, "plan/drops/0/name"),
            ({"set": [{"at": ["title"], "value": 7}]}, "plan/title"),
            ({"set": [{"at": ["shed", "ropes"], "value": None}]}, "plan/shed/ropes"),
        ):
            with self.subTest(changes):
                answer = self.send(view, "edits", changes=changes)
                self.assertEqual((answer.status_code, answer.json["errors"][0]["field"]), (422, field))
        self.assertEqual(self.http.get(f"/api/plans/{view['id']}").json, view)
