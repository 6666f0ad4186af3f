"""The log over HTTP: edits against old revisions, removal and its undoing, what came home, and what is refused."""

import datetime as dt
import tempfile
import unittest
from pathlib import Path

from reamer.web import create_app
from reamer.web.settings import Settings
from tests.builders import handed_back
from tests.kept import memory


class Asking(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.app = create_app(Settings(Path(folder.name) / "t.sqlite3", hosts=("localhost",)))
        self.app.extensions["memory"] = memory()
        self.client = self.app.test_client()
        self.plan, self.other = (
            self.client.post("/api/plans", json={"source": {"kind": "demo", "name": name}}).json["id"]
            for name in ("gully", "buttress")
        )

    def ask(self, method, path="", plan="", status=200, **body):
        got = self.client.open(
            f"/api/plans/{plan or self.plan}/log{path}",
            method=method,
            **({"json": body} if method in ("POST", "PUT") else {}),
        )
        self.assertEqual(got.status_code, status, got.text[:300])
        return got.json

    def begun(self, on="2026-02-03"):
        return self.ask("GET", f"/new?on={on}")


class Log(Asking):
    def test_every_save_is_a_revision_and_an_old_one_is_told(self):
        trip = self.begun()
        self.assertEqual(self.ask("GET")["trips"], [])
        made = self.ask("POST", trip=trip)
        wet = self.ask("PUT", f"/{made['id']}", revision=1, trip={**trip, "conditions": "thaw"})
        self.assertEqual((wet["revision"], wet["trip"]["conditions"]), (2, "thaw"))
        said = self.ask("PUT", f"/{made['id']}", revision=1, trip=trip, status=409)
        self.assertIn("newest revision is 2", said["detail"])
        # What changes nothing is no revision.
        self.assertEqual(self.ask("PUT", f"/{made['id']}", revision=2, trip=wet["trip"])["revision"], 2)
        back = self.ask("POST", f"/{made['id']}/undo", revision=2)
        self.assertEqual((back["revision"], back["trip"]["conditions"]), (3, ""))
        gone = self.ask("POST", f"/{made['id']}/remove", revision=3)
        self.assertIsNone(gone["trip"])
        self.assertEqual(self.ask("GET")["trips"], [])
        self.assertEqual(self.client.get("/api/learnt").json, [])
        self.ask("POST", f"/{made['id']}/undo", revision=gone["revision"])
        self.assertEqual([t["trip"]["on"] for t in self.ask("GET")["trips"]], ["2026-02-03"])

    def test_what_is_refused_names_its_field_and_keeps_nothing(self):
        trip = self.begun()
        later = (dt.date.today() + dt.timedelta(days=3)).isoformat()
        first = trip["stations"][0]
        for more, field in (
            ({"on": later}, "trip/on"),
            ({"on": "2026-02-30"}, "trip/on"),
            ({"people": -1}, "trip/people"),
            ({"stations": [first, first]}, "trip/stations/1/drop"),
            ({"stations": [{**first, "pull": "soft"}]}, "trip/stations/0/pull"),
            ({"stations": [{**first, "arrived": "10:00", "gone": "09:00"}]}, "trip/stations/0/gone"),
            ({"stations": [{**first, "height": {"kind": "known", "value": 9e9, "method": "eye"}}]}, "trip/stations/0"),
            ({"words": "\x00"}, "trip/words"),
        ):
            got = self.ask("POST", trip={**trip, **more}, status=422)
            self.assertTrue(got["errors"][0]["field"].startswith(field), (field, got["errors"]))
        for on in ("", "yesterday", "2026-13-01"):
            self.ask("GET", f"/new?on={on}", status=422)
        self.assertEqual(self.ask("GET")["trips"], [])
        self.ask("POST", "/together", trips=[trip, {**trip, "on": later}], status=422)
        self.assertEqual(self.ask("GET")["trips"], [])
        made = self.ask("POST", trip=trip)
        got = self.ask("PUT", f"/{made['id']}", revision=1, trip={**trip, "on": later}, status=422)
        self.assertEqual(
            (got["errors"][0]["field"], self.ask("GET")["trips"][0]["trip"]["on"]), ("trip/on", trip["on"])
        )
        for path in (f"/{made['id']}", "/ffffffffffff"):
            plan = self.other if path != "/ffffffffffff" else ""
            self.ask("PUT", path, plan=plan, revision=1, trip=trip, status=404)
        self.ask("POST", f"/{made['id']}/undo", revision=1, status=409)

    def test_a_plan_and_its_copies_are_the_same_places(self):
        def plan(**source):
            return self.client.post("/api/plans", json={"source": source}).json["id"]

        first = self.client.get(f"/api/plans/{self.plan}").json["plan"]
        copy = plan(kind="copy", of=self.plan)
        some = [
            self.plan,
            copy,
            plan(kind="copy", of=copy),
            plan(kind="parts", of=copy, title="Its drops", parts=["drops", "kit", "party"]),
            plan(kind="demo", name="gully"),
            plan(kind="file", plan=first),
            plan(kind="file", plan={**first, "title": "Mine"}, of=self.plan),
        ]
        for n, i in enumerate(some, 1):
            trip = self.ask("GET", f"/new?on=2026-02-0{n}", plan=i)
            # Renamed: where it came from tells, and its height.
            one = {**trip["stations"][0], "pull": "hard"}
            one["station"] += str(n)
            self.ask("POST", plan=i, trip={**trip, "stations": [one]})
        lessons = [x for x in self.client.get("/api/learnt").json if x["about"] == "pull"]
        self.assertEqual([(x["days"], x["places"]) for x in lessons if x["counts"]], [(7, 1)])

    def test_what_came_home_waits_to_be_logged_until_it_is(self):
        drop = self.begun()["stations"][0]
        note = {"drop": drop["drop"], "station": drop["station"], "what": "pull", "felt": "hard"}
        ids = []
        for by in ("Wren", "Pim"):
            text = handed_back([note], plan=self.plan, by=by, device=f"{len(by):016x}", on="2026-02-03")
            body = {"way": "file", "texts": [text]}
            ids.append(self.client.post(f"/api/plans/{self.plan}/handed", json=body).json["id"])
        self.assertEqual(self.ask("GET")["days"], [])
        for i in ids:
            self.client.post(f"/api/plans/{self.plan}/handed/{i}/accept", json={"revision": 1, "take": []})
        (day,) = self.ask("GET")["days"]
        self.assertEqual((day["on"], day["by"], day["corrections"]), ("2026-02-03", ["Pim", "Wren"], 2))
        trip = self.begun()
        self.assertEqual((sorted(trip["cards"]), trip["stations"][0]["pull"]), (sorted(ids), "hard"))
        self.assertEqual(self.begun("2026-02-04")["cards"], [])
        self.ask("POST", trip=trip)
        self.assertEqual(self.ask("GET")["days"], [])


class Files(Asking):
    def test_every_export_is_what_its_name_says(self):
        root = f"/api/plans/{self.plan}/revisions/1/export"
        kinds = {
            "places.gpx": "application/gpx+xml",
            "places.geojson": "application/geo+json",
            "times.ics": "text/calendar",
            "shots.csv": "text/csv",
            "shed.csv": "text/csv",
            "party.csv": "text/csv",
            "log.csv": "text/csv",
            "pull-tests.csv": "text/csv",
        }
        told = {t["name"]: t for t in self.client.get(f"{root}s").json}
        self.assertEqual(set(told), set(kinds))
        self.assertTrue(all(told[n]["why"] for n in ("places.gpx", "places.geojson", "pull-tests.csv", "log.csv")))
        for name, kind in kinds.items():
            got = self.client.get(f"{root}/{name}?units=us")
            # What has nothing to say is no file, and says why.
            if told[name]["why"]:
                self.assertEqual(got.status_code, 422, name)
                self.assertIn(told[name]["why"], got.json["detail"])
                continue
            self.assertEqual(got.status_code, 200, (name, got.text[:200]))
            self.assertTrue(got.content_type.startswith(kind))
            self.assertIn(f".{name.rpartition('.')[2]}", got.headers["Content-Disposition"])
        self.assertIn("(ft)", self.client.get(f"{root}/shed.csv?units=us").text)
        for name in ("plan.exe", "shed.gpx", "..%2fplan"):
            self.assertIn(self.client.get(f"{root}/{name}").status_code, (404, 422))

    def test_a_file_is_looked_at_and_nothing_is_saved(self):
        plan = self.client.get(f"/api/plans/{self.plan}").json

        def look(name, data):
            url = f"/api/plans/{self.plan}/import?name={name}"
            return self.client.post(url, data=data, content_type="application/octet-stream")

        got = look("t.csv", b"role,name,mass (lb),mass method\nguide,New One,180,given\n")
        self.assertEqual(got.json["changes"], ["New One comes in"])
        self.assertAlmostEqual(got.json["plan"]["party"][-1]["mass_kg"]["value"], 180 * 0.45359237, 6)
        whole = self.client.get(f"/api/plans/{self.other}/file").data
        self.assertTrue(look("other.json", whole).json["changes"])
        for name, data in (("t.csv", b""), ("t.json", b"{"), ("t.gpx", b"<a>"), ("t", b"x")):
            self.assertEqual(look(name, data).status_code, 422)
        (open_,) = look("t.csv", b"drop;slope (m);inclination (\xc2\xb0)\nOne;9,125;-80\n").json["errors"]
        self.assertEqual(open_["readings"], {",": "9.125", ".": "9125"})
        self.assertEqual(look("t.csv&decimal=;", b"x").status_code, 422)
        bad = self.client.post(f"/api/plans/{self.plan}/import?name=t.csv", json={})
        self.assertEqual((bad.status_code, "octet-stream" in bad.json["detail"]), (415, True))
        self.assertEqual(self.client.get(f"/api/plans/{self.plan}").json["plan"], plan["plan"])

    def test_descents_are_logged_together_or_not_at_all(self):
        trip = self.begun()
        self.ask("POST", "/together", trips=[trip, {**trip, "flow": "sideways"}], status=422)
        made = self.ask("POST", "/together", trips=[trip, {**trip, "on": "2026-02-04"}])["trips"]
        self.assertEqual(len(self.ask("GET")["trips"]), 2)
        first = next(iter(made))
        self.ask("POST", "/apart", trips={**made, first: 7}, status=409)
        self.assertEqual(len(self.ask("GET")["trips"]), 2)
        self.ask("POST", "/apart", trips=made)
        self.assertEqual(self.ask("GET")["trips"], [])


if __name__ == "__main__":
    unittest.main()
