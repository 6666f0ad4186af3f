"""Cards shown to phones in the room: nothing but the chosen cards, only to who has the link, and only for a while."""

import base64
import datetime as dt
import io
import json
import re
import sqlite3
import subprocess
import sys
import tempfile
import unittest
import urllib.error
import urllib.request
from pathlib import Path
from unittest import mock

import segno
import zxingcpp
from PIL import Image

from reamer.web import create_app
from reamer.web.guard import HEADERS
from reamer.web.settings import Settings
from reamer.web.share import MOST, MOST_HANDED, Shared, create_share_app
from tests.browser.harness import free_port
from tests.builders import handed_back
from tests.kept import memory

ADDRESS = "192.0.2.7:8421"


class Share(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        settings = Settings(Path(folder.name) / "t.sqlite3", hosts=("localhost",), share=ADDRESS)
        self.app = create_app(settings)
        self.app.extensions["memory"] = memory()
        self.desk = self.app.test_client()
        self.room = create_share_app(self.app.extensions["shared"]).test_client()
        self.plan = self.desk.post("/api/plans", json={"source": {"kind": "demo", "name": "gully"}}).json["id"]

    def show(self, **more):
        return self.desk.post(f"/api/plans/{self.plan}/share", json={"revision": 1, **more})

    def ask(self, path, method="GET", host=ADDRESS, **headers):
        return self.room.open(path, method=method, headers={"Host": host, **headers})

    def test_a_card_is_shown_under_its_link_and_nothing_else_is(self):
        made = self.show(units="us").json
        path = made["link"].removeprefix(f"http://{ADDRESS}")
        self.assertGreaterEqual(len(path), 33)
        got = self.ask(path)
        self.assertEqual((got.status_code, got.content_type), (200, "text/html; charset=utf-8"))
        self.assertIn("Winter Fan", got.text)
        self.assertIn(" ft", got.text)
        script = re.search(r"script-src ('sha256-[^']+')", got.text)[1]
        policy = got.headers["Content-Security-Policy"]
        self.assertIn(f"script-src {script};", policy)
        self.assertIn("default-src 'none'", policy)
        for name in set(HEADERS) - {"Content-Security-Policy"}:
            self.assertEqual(got.headers[name], HEADERS[name])
        self.assertEqual(got.headers["Cache-Control"], "no-store")
        for other in (
            "/",
            "/api/plans",
            f"/api/plans/{self.plan}",
            "/index.html",
            path[:-1],
            path + "x",
            "/" + "A" * 500,
        ):
            refused = self.ask(other)
            self.assertEqual(refused.status_code, 404, other)
            self.assertNotIn("Winter Fan", refused.text)
            self.assertIn("script-src 'none'", refused.headers["Content-Security-Policy"])
        for method in ("PUT", "DELETE", "PATCH"):
            self.assertEqual(self.ask(path, method).status_code, 405)
        self.assertEqual(self.ask(path, host="example.org").status_code, 400)
        self.assertEqual(self.ask(path, Origin="http://example.org").status_code, 403)
        # The link is told once, and never by the list.
        listed = self.desk.get("/api/share").json
        self.assertEqual([(c["title"], c["link"], c["code"]) for c in listed["cards"]], [("Winter Fan", "", "")])

    def test_it_expires_and_is_ended(self):
        first, second = self.show(minutes=5).json, self.show(minutes=120).json
        paths = [m["link"].removeprefix(f"http://{ADDRESS}") for m in (first, second)]
        self.assertNotEqual(*paths)
        later = dt.datetime.now(dt.UTC) + dt.timedelta(minutes=6)
        with mock.patch("reamer.web.share._now", return_value=later):
            gone = self.ask(paths[0])
            self.assertEqual(gone.status_code, 404)
            self.assertIn("expired", gone.text)
            self.assertEqual(self.ask(paths[1]).status_code, 200)
        self.assertEqual(self.desk.delete(f"/api/share/{second['id']}").status_code, 204)
        self.assertEqual(self.ask(paths[1]).status_code, 404)
        self.assertEqual(self.desk.get("/api/share").json["cards"], [])

    def test_refused_with_a_sentence(self):
        for more, words in (
            ({"minutes": 4}, "5 to 120"),
            ({"minutes": 121}, "5 to 120"),
            ({"units": "ells"}, "metric"),
        ):
            got = self.show(**more)
            self.assertEqual(got.status_code, 422)
            self.assertIn(words, got.json["detail"])
        for _ in range(MOST):
            self.show()
        self.assertIn("end one first", self.show().json["detail"])
        self.app.extensions["shared"] = Shared()
        self.assertFalse(self.desk.get("/api/share").json["on"])
        self.assertIn("reamer serve --share", self.show().json["detail"])

    def test_corrections_are_taken_for_that_card_only_and_wait_at_the_desk(self):
        made = self.show().json
        path = made["link"].removeprefix(f"http://{ADDRESS}")
        data = json.loads(re.search(r'id="data">(.*?)</script>', self.ask(path).text)[1])
        plan = self.desk.get(f"/api/plans/{self.plan}").json["plan"]
        drop = plan["drops"][0]
        note = {"drop": drop["id"], "station": drop["name"], "what": "pull", "felt": "stuck", "was": "firm"}
        good = handed_back([note], card=data["card"], plan=data["plan"], title=data["title"])

        def hand(text, to=path, **headers):
            more = {"Host": ADDRESS, "Content-Type": "application/json", **headers}
            return self.room.post(to, data=text, headers=more)

        for text, status, words in (
            (good[:-30], 422, "cut off"),
            (handed_back([note], card="0" * 16, plan=data["plan"], title=data["title"]), 422, "of another card"),
            (handed_back([{**note, "felt": "soft"}], card=data["card"], plan=data["plan"]), 422, "easy"),
            ("x" * 300_000, 413, "bytes"),
        ):
            got = hand(text)
            self.assertEqual(got.status_code, status)
            self.assertIn(words, got.text)
        self.assertEqual(hand(good, Origin="http://example.org").status_code, 403)
        self.assertEqual(hand(good, **{"Content-Type": "text/plain"}).status_code, 415)
        self.assertEqual(hand(good, path[:-1]).status_code, 404)
        self.assertEqual(self.desk.get(f"/api/plans/{self.plan}/handed").json, [])
        for _ in range(2):
            self.assertIn("waits at the desk", hand(good).text)
        (row,) = self.desk.get(f"/api/plans/{self.plan}/handed").json
        self.assertEqual((row["way"], row["state"], row["sealed"]), ("room", "waiting", True))
        self.assertEqual(self.desk.get(f"/api/plans/{self.plan}").json["plan"], plan)
        for _ in range(MOST_HANDED):
            last = hand(good)
        self.assertIn("too much", last.text)
        self.desk.delete(f"/api/share/{made['id']}")
        self.assertIn("ended or expired", hand(good).text)

    def test_at_the_desk_all_of_it_or_nothing(self):
        plan = self.desk.get(f"/api/plans/{self.plan}").json["plan"]
        drop = plan["drops"][0]
        at = {"drop": drop["id"], "station": drop["name"]}
        text = handed_back([{**at, "what": "incident", "near": False, "words": "=cmd|' /C calc'!A0"}], plan=self.plan)
        root = f"/api/plans/{self.plan}/handed"

        def post(path, **body):
            return self.desk.post(f"{root}{path}", json=body)

        tomorrow = (dt.date.today() + dt.timedelta(days=3)).isoformat()
        late = handed_back([{**at, "what": "pull", "felt": "easy"}], plan=self.plan, on=tomorrow)
        for texts, words in (([late], "yet to come"), ([text, text], "none of it"), (["reamer:0:"], "cut off")):
            self.assertIn(words, post("", way="codes", texts=texts).json["detail"])
        self.assertEqual(self.desk.get(root).json, [])
        made = post("", way="file", texts=[text]).json["id"]
        (came,) = self.desk.get(f"{root}/{made}").json["came"]
        for body, status in (
            ({"revision": 2, "take": [came["id"]]}, 409),
            ({"revision": 1, "take": [came["id"], "0" * 16]}, 422),
            ({"revision": 1, "take": ["x"]}, 422),
        ):
            self.assertEqual(post(f"/{made}/accept", **body).status_code, status)
        self.assertEqual(post(f"/{made}/undo", revision=1).status_code, 422)
        self.assertEqual(post("/0000/accept", revision=1, take=[]).status_code, 404)
        with mock.patch("reamer.store.handed.Homecomings.act", side_effect=sqlite3.OperationalError("disk full")):
            self.assertEqual(post(f"/{made}/accept", revision=1, take=[came["id"]]).status_code, 503)
        self.assertEqual(self.desk.get(f"/api/plans/{self.plan}").json["plan"], plan)
        self.assertEqual(self.desk.get(root).json[0]["state"], "waiting")
        self.assertEqual(post(f"/{made}/accept", revision=1, take=[came["id"]]).json["revision"], 2)
        self.assertEqual(post(f"/{made}/refuse").status_code, 422)
        again = self.desk.get(f"{root}/{made}").json["came"][0]
        self.assertTrue(again["had"] and again["taken"])
        self.assertEqual(post(f"/{made}/undo", revision=2).json["plan"]["plan"], plan)

    def test_pictures_and_pages_that_are_not_there(self):
        for picture in ("", "no base64!", base64.b64encode(b"\x89PNG\r\n\x1a\n").decode()):
            self.assertEqual(self.desk.post("/api/codes", json={"picture": picture}).status_code, 422)
        out = io.BytesIO()
        Image.new("L", (8000, 6000)).save(out, "PNG")
        got = self.desk.post("/api/codes", json={"picture": base64.b64encode(out.getvalue()).decode()})
        self.assertIn("million points", got.json["detail"])
        pages = f"/api/plans/{self.plan}/revisions/1/card/pages"
        count = self.desk.get(f"{pages}?paper=a4").json["pages"]
        self.assertEqual(self.desk.get(f"{pages}/{count}.png?paper=a4").data[:4], b"\x89PNG")
        for path in (f"/{count + 1}.png?paper=a4", "/0.png", "?paper=a6", "?drops=d99", "?who=nobody"):
            self.assertEqual(self.desk.get(pages + path).status_code, 422, path)

    def test_the_code_is_read_back(self):
        made = self.show().json
        self.assertTrue(made["code"].startswith("data:image/svg+xml"))
        out = io.BytesIO()
        segno.make(made["link"], error="m").save(out, kind="png", scale=6, border=4)
        self.assertEqual(zxingcpp.read_barcode(Image.open(out)).text, made["link"])

    def test_a_second_port_shows_cards_only_where_it_is_asked_for(self):
        with tempfile.TemporaryDirectory() as folder:
            ports = free_port(), free_port()
            command = [sys.executable, "-m", "reamer", "serve", "--demo", "--database", f"{folder}/t.sqlite3"]
            command += ["--port", str(ports[0]), "--share", "--share-port", str(ports[1])]
            with subprocess.Popen([*command, "--share-address", "127.0.0.1"], stdout=subprocess.PIPE, text=True) as run:
                try:
                    said = run.stdout.readline() + run.stdout.readline()
                    self.assertIn(f"http://127.0.0.1:{ports[1]}, and nothing else", said)
                    desk = f"http://127.0.0.1:{ports[0]}/api/share"
                    self.assertIn(b'"on":true', urllib.request.urlopen(desk).read())
                    with self.assertRaises(urllib.error.HTTPError) as caught:
                        urllib.request.urlopen(f"http://127.0.0.1:{ports[1]}/api/plans")
                    self.assertEqual(caught.exception.code, 404)
                    caught.exception.close()
                finally:
                    run.terminate()


if __name__ == "__main__":
    unittest.main()
