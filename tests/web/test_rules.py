"""After an update each plan says once what is new by rule, and not by edit."""

import json
from unittest import mock

from reamer.core.second import ruled
from reamer.web import create_app
from reamer.web.settings import Settings
from tests.builders import known, unknown
from tests.web.test_api import Client


class NewByRule(Client):
    def setUp(self):
        # A program that asked less: it knew of no caution, and called what is not checked a note.
        with self.older():
            super().setUp()

    def older(self, rules="older"):
        def said_of(a):
            return tuple(k for k in ruled.said_of(a) if not k.endswith(("|Caution", "|Not checked")))

        return mock.patch.multiple("reamer.desk.views", rules=lambda: rules, said_of=said_of)

    def opened(self):
        """The plan as a program of today opens it anew."""
        self.app = create_app(Settings(self.database, hosts=("localhost",), static=self.static))
        self.http = self.app.test_client()
        return self.http.get(self.url()).json

    def test_it_is_said_until_it_is_read_and_then_no_more(self):
        self.assertEqual(self.plan["ruled"], [])
        view = self.opened()
        found = view["assessment"]
        every = [*found["findings"], *(f for d in found["drops"] for f in d["findings"])]
        want = sorted((f["subject"]["drop"], f["code"]) for f in every if f["severity"] in ("Caution", "Not checked"))
        want = [w for w in want if not w[1].startswith(ruled.OF_THE_DAY)]
        self.assertTrue(want)
        self.assertEqual(sorted((r["drop"], r["code"]) for r in view["ruled"]), want)
        # What an edit brings is not the rules'; what it takes away is no news.
        plan = json.loads(json.dumps(view["plan"]))
        plan["party"][0]["mass_kg"] = unknown("nobody asked")
        made = self.http.put(self.url(), json={"revision": 1, "plan": plan}).json
        self.assertNotIn("person.unknown", {r["code"] for r in made["ruled"]})
        self.assertTrue({(r["drop"], r["code"]) for r in made["ruled"]} <= set(want))
        self.assertEqual(self.opened()["ruled"], made["ruled"])
        self.assertEqual(self.http.post(self.url("/ruled/read"), json={}).status_code, 204)
        self.assertEqual(self.opened()["ruled"], [])
        plan["party"][0]["mass_kg"] = known(80)
        self.assertEqual(self.http.put(self.url(), json={"revision": 2, "plan": plan}).json["ruled"], [])

    def test_another_update_says_only_its_own(self):
        self.opened()
        self.http.post(self.url("/ruled/read"), json={})
        with mock.patch("reamer.desk.views.rules", lambda: "newer"):
            self.assertEqual(self.opened()["ruled"], [])

    def test_a_plan_that_is_new_or_was_never_judged_has_no_news(self):
        self.opened()
        made = self.http.post("/api/plans", json={"source": {"kind": "demo", "name": "buttress"}}).json
        self.assertEqual(made["ruled"], [])
        self.assertEqual(self.http.post("/api/plans/nothing/ruled/read", json={}).status_code, 404)
