"""Instruments over HTTP: a shot goes into the survey once, a gauge against the limits, and what is refused."""

import datetime as dt
import json
import time

from reamer.formats.traces import read_trace
from tests.test_devices import HELLO, SHOT, instrument, lines
from tests.web.test_log import Asking


def until(said):
    end = time.monotonic() + 5
    while not (got := said()):
        if time.monotonic() > end:
            raise AssertionError("it did not come to that")
        time.sleep(0.02)
    return got


class Devices(Asking):
    def call(self, method, path, status=200, **body):
        got = self.client.open(f"/api{path}", method=method, **({"json": body} if method == "POST" else {}))
        self.assertEqual(got.status_code, status, got.text[:300])
        return got.json

    def connected(self, kind, *said):
        name = kind.replace("-", " ")
        port = self.enterContext(instrument(lines({**HELLO, "device": name}, *said)))
        self.call("POST", f"/devices/{kind}", port=port)
        self.addCleanup(lambda: self.client.delete(f"/api/devices/{kind}"))
        return until(lambda: (v := self.call("GET", f"/devices/{kind}"))["state"] == "connected" and v)

    def canyon(self):
        made = self.call("POST", "/plans", source={"kind": "demo", "name": "canyon"})
        drop = next(d for d in made["plan"]["drops"] if d["section"]["kind"] == "shots")
        return made["id"], drop

    def test_a_shot_that_was_heard_goes_into_the_survey_and_out_with_one_act(self):
        plan, drop = self.canyon()
        back = {**SHOT, "slope_m": 6.5, "incl_deg": -84.0, "azimuth_deg": 34.0}
        self.connected("rangefinder", {**SHOT, "azimuth_deg": 214.0}, {"line": "lost", "why": "spray"}, back)
        until(lambda: len(self.call("GET", "/devices/rangefinder")["heard"]) == 3)
        self.assertEqual([h["number"] for h in self.call("GET", "/devices/rangefinder?after=1")["heard"]], [2, 3])
        count = len(drop["section"]["shots"])
        view = self.call("POST", f"/plans/{plan}/shot", revision=1, drop=drop["id"], number=3)
        made = next(d for d in view["plan"]["drops"] if d["id"] == drop["id"])["section"]["shots"]
        self.assertEqual(len(made), count + 1)
        self.assertEqual((made[-1]["slope_m"]["value"], made[-1]["incl_deg"]["value"]), (6.5, -96.0))
        self.assertEqual(made[-1]["slope_m"]["on"], dt.date.today().isoformat())
        # Of two pages that listen, one takes it.
        said = self.call("POST", f"/plans/{plan}/shot", 422, revision=2, drop=drop["id"], number=3)
        self.assertIn("in a survey already", said["detail"])
        undone = self.call("POST", f"/plans/{plan}/undo", revision=2)
        self.assertEqual(next(d for d in undone["plan"]["drops"] if d["id"] == drop["id"]), drop)
        for more, status in (
            ({"number": 2}, 422),
            ({"number": 9}, 422),
            ({"number": 1, "drop": "gone"}, 422),
            ({"number": 1, "revision": 1}, 409),
            ({"number": 1, "drop": "d1"}, 422),
        ):
            self.call("POST", f"/plans/{plan}/shot", status, **{"revision": 3, "drop": drop["id"], **more})

    def test_a_gauge_stands_against_the_limits_of_each_station(self):
        plan, _ = self.canyon()
        view = self.call("GET", f"/plans/{plan}")
        view["plan"]["drops"][0]["watch"] = {"turn_back_m": 0.6}
        view["plan"]["drops"][1]["watch"] = {"turn_back_m": 0.5, "go_below_m": 0.2}
        got = self.client.put(f"/api/plans/{plan}", json={"revision": 1, "plan": view["plan"]})
        self.assertEqual(got.status_code, 200, got.text[:200])
        water = self.call("GET", f"/plans/{plan}/water")
        self.assertEqual((water["state"], [s["stands"] for s in water["stations"]]), ("none", ["not known"] * 2))
        now = dt.datetime.now(dt.UTC).isoformat()
        self.connected("gauge", {"line": "water", "at": now, "level_m": 0.55, "rain_mm_h": 0.0})
        until(lambda: self.call("GET", f"/plans/{plan}/water")["flow"]["level"])
        water = self.call("GET", f"/plans/{plan}/water")
        self.assertEqual([(s["drop"], s["stands"]) for s in water["stations"]], [("d1", "go"), ("d2", "turn back")])
        page = self.client.get(f"/api/plans/{plan}/revisions/2/card.html").text
        self.assertTrue("turn back from 0.60 m" in page.replace("\u00a0", " "))

    def test_what_is_refused(self):
        self.call("POST", "/devices/toaster", 422, port=8431)
        for port in (0, 70000, "8431"):
            self.call("POST", "/devices/gauge", 422, port=port)
        self.call("POST", "/devices/rangefinder/ask", 422, do="shoot")
        self.call("GET", "/devices/gauge?after=x", 422)
        self.connected("rangefinder")
        self.call("POST", "/devices/rangefinder/ask", 422, do="start")
        self.call("POST", "/devices/rangefinder/ask", 422, do="explode")
        self.client.delete("/api/devices/rangefinder")
        self.assertEqual(self.call("GET", "/devices/rangefinder")["state"], "none")


class Traces(Asking):
    def look(self, text, status=200):
        data = text if isinstance(text, bytes) else text.encode()
        got = self.client.post("/api/traces", data=data, content_type="application/octet-stream")
        self.assertEqual(got.status_code, status, got.text[:300])
        return json.loads(got.text)

    def test_a_pull_is_read_in_whatever_unit_and_its_peak_is_no_wild_sample(self):
        forces = [0.1, 4.0, 9.0, 12.0, 12.2, 12.1, 0.3]
        for unit, factor in (("kN", 1), ("N", 1000), ("lbf", 224.80894309971), ("kgf", 101.9716212978)):
            rows = "".join(f"{i * 10},{f * factor}\r\n" for i, f in enumerate(forces))
            got = self.look(f"note,Time (ms),Load ({unit})\r\n".removeprefix("note,") + rows)
            self.assertAlmostEqual(got["peak"]["kn"], 12.1, places=6)
            self.assertAlmostEqual(got["seconds"], 0.06)
        wild = self.look("t (s),f (kN)\n" + "".join(f"{i},{f}\n" for i, f in enumerate([1, 2, 90, 3, 2])))
        self.assertEqual((wild["peak"]["kn"], wild["peak"]["alone"]), (3, 90))

    def test_many_samples_are_thinned_for_the_eye_and_keep_their_ends(self):
        text = "time (s),force (kN)\n" + "".join(f"{i / 100:.2f},{(i * 7919) % 977 / 60:.4f}\n" for i in range(50_000))
        got = read_trace(text.encode())
        self.assertEqual(got.samples, 50_000)
        self.assertLessEqual(len(got.points), 602)
        self.assertEqual(max(f for _, f in got.points), max((i * 7919) % 977 / 60 for i in range(977)).__round__(4))

    def test_what_is_no_trace_is_refused_by_row_and_column(self):
        head = "time (s),force (kN)\n"
        for text, told in (
            ("", "row 1"),
            (head, "no samples"),
            ("time (s),height (m)\n0,1", "force (kN)"),
            ("time (h),force (kN)\n0,1", "no unit 'h'"),
            ("time (s),force (kN),load (N)\n0,1,1", "two columns of force"),
            (head + "0,=1+1\n", "row 2, force"),
            (head + "0,nan\n", "row 2, force"),
            (head + "0,1\n1\n", "row 3, force"),
            (head + "1,1\n0,1\n", "runs backwards"),
            (head + "0,1e9\n", "more than anything"),
            (b"\xff\xfe\x00", "UTF-8"),
            (b"\x89PNG\r\n\x1a\n\xff", "UTF-8"),
        ):
            self.assertIn(told, self.look(text, 422)["detail"], told)
