"""The Log step in a real browser: a descent logged from a card, compared, learnt from, and its figures adopted."""

import json
import urllib.request
from contextlib import closing
from pathlib import Path

from playwright.sync_api import expect

from reamer.demos import DEMOS, canyon
from reamer.store.backup import back_up, put_back
from reamer.store.database import connect
from tests.browser.harness import Browsing, Server
from tests.builders import handed_back
from tests.test_devices import simulated


class Calling(Browsing):
    def call(self, method, path, body=None):
        data = json.dumps(body).encode() if body is not None else None
        headers = {"Content-Type": "application/json"}
        url = f"{self.server.address}/api/plans/{self.id}{path}"
        with urllib.request.urlopen(urllib.request.Request(url, data, headers, method=method)) as got:
            return json.loads(got.read())


class Logging(Calling):
    def station(self, name):
        return self.page.get_by_role("region", name=name, exact=True)

    def test_logged_from_a_card_corrected_undone_removed_and_had_back(self):
        page = self.page
        sill = {"drop": "d4", "station": "Sill"}
        some = [
            {**sill, "what": "height", "m": 7.0, "method": "rangefinder", "was_m": 6.0},
            {**sill, "what": "pull", "felt": "stuck", "was": "easy"},
            {**sill, "what": "incident", "near": True, "words": "<b>slipped</b> at the edge"},
        ]
        text = handed_back(some, plan=self.id, by="Wren", on="2026-05-02")
        made = self.call("POST", "/handed", {"way": "file", "texts": [text]})["id"]
        self.call("POST", f"/handed/{made}/accept", {"revision": 1, "take": []})
        self.go(f"plans/{self.id}/log", page)
        page.get_by_role("button", name="Log 2026-05-02: 3 noted by Wren").click()
        page.get_by_role("heading", name="The descent of 2026-05-02").wait_for()
        self.assertEqual(page.get_by_role("button", name="Log 2026-05-02").count(), 0)
        station = self.station("Sill")
        beside = station.get_by_role("table", name="Sill beside the plan")
        self.assertIn("1.0 m longer", beside.inner_text())
        self.assertIn("harder", beside.inner_text())
        happened = page.get_by_role("region", name="over all descents")
        self.assertIn("<b>slipped</b> at the edge", happened.inner_text())
        beside.get_by_role("button", name="Take 7.0 m into the survey").click()
        self.saved(2)
        height = self.server.plan(self.id).drops[3].section.height_m
        self.assertEqual((height.value, height.method, str(height.on)), (7.0, "rangefinder", "2026-05-02"))
        page.keyboard.press("Control+z")
        self.saved(3)
        self.assertEqual(self.server.plan(self.id), canyon())
        # Typed by hand; what cannot be is refused by its field, and kept as it was typed.
        lintel = self.station("Lintel")
        lintel.get_by_label("arrived, Lintel").fill("09:30")
        lintel.get_by_label("first goes, Lintel").fill("09:10")
        lintel.get_by_label("left there, Lintel").fill("3 m of webbing")
        page.get_by_role("alert").filter(has_text="rigged at 09:10, before arrived at 09:30").first.wait_for()
        lintel.get_by_label("first goes, Lintel").fill("09:41")
        lintel.get_by_label("left there, Lintel").fill("3 m of webbing and a ring")
        lintel.get_by_label("left there, Lintel").press("Enter")
        lintel.locator('[data-beside="rigging"]').get_by_text("11 min").wait_for()
        for _ in range(50):
            left = self.call("GET", "/log")["trips"][0]["trip"]["stations"][0]["left"]
            if left == "3 m of webbing and a ring":
                break
            self.settled(page)
        self.assertEqual(left, "3 m of webbing and a ring")
        page.get_by_role("button", name="Take it out of the log").click()
        page.get_by_text("is out of the log").wait_for()
        page.get_by_role("button", name="Log 2026-05-02").wait_for()
        page.get_by_role("button", name="Undo", exact=True).click()
        page.get_by_role("heading", name="The descent of 2026-05-02").wait_for()
        self.accessible(page, "descents")

    def test_three_of_its_figures_learnt(self):
        for day in range(1, 7):
            trip = self.call("GET", f"/log/new?on=2026-05-0{day}")
            at = 9 * 60
            for s in trip["stations"]:
                for name, took in (("arrived", 6 * day), ("rigged", 31), ("down", 12 + 6 * day), ("gone", 9)):
                    s[name], at = f"{at // 60 % 24:02d}:{at % 60:02d}", at + took
            self.call("POST", "/log", {"revision": 0, "trip": trip})
        page = self.page_of(theme="headlamp")
        self.go(f"plans/{self.id}/log", page)
        page.get_by_role("tab", name="What the log teaches").click()
        down = page.get_by_role("region", name="pull and stack")
        down.get_by_text("54 cases, 6 days, 9 places").wait_for()
        self.assertIn("from 18 min to 48 min", down.inner_text())
        self.accessible(page, "learnt")
        down.get_by_role("img", name="54 cases").wait_for()
        before = self.call("GET", "")["assessment"]["descent"]["times"]["out_at"]
        for n in range(2):
            down.get_by_role("button", name="Adopt in this plan").first.click()
            page.get_by_text("adopted in this plan").nth(n).wait_for()
            # Edits that wait for each other are one revision.
            self.saved(n + 2, page)
        rig = page.get_by_role("region", name="rigging, doubled")
        rig.get_by_role("button", name="Adopt in this plan").click()
        page.get_by_text("adopted in this plan").nth(2).wait_for()
        self.saved(4, page)
        plan = self.call("GET", "")
        own = plan["plan"]["own_figures"]
        self.assertEqual(sorted(o["key"] for o in own), ["pull", "rig.doubled", "stack"])
        self.assertTrue(all("own log" in o["reason"] for o in own))
        self.assertNotEqual(plan["assessment"]["descent"]["times"]["out_at"], before)

    def test_files_out_and_in_previewed_taken_and_undone(self):
        page = self.page
        self.go(f"plans/{self.id}/log", page)
        page.get_by_role("tab", name="Files").click()
        self.accessible(page, "files")
        with page.expect_download() as got:
            page.get_by_role("link", name="Party, CSV").click()
        table = Path(got.value.path()).read_text("utf-8-sig")
        self.assertIn("Maren", table)
        take = page.get_by_label("Look at a file")

        def look(name, text):
            take.set_input_files({"name": name, "mimeType": "", "buffer": text.encode()})

        look("t.csv", table.replace("Maren", "=Mar<b>en"))
        page.get_by_test_id("look").get_by_text("=Mar<b>en comes in").wait_for()
        self.assertEqual(self.server.plan(self.id), canyon())
        page.get_by_role("button", name="Take it in").click()
        self.saved(2)
        self.assertEqual(len(self.server.plan(self.id).party), len(canyon().party) + 1)
        page.keyboard.press("Control+z")
        self.saved(3)
        self.assertEqual(self.server.plan(self.id), canyon())
        for name, text, words in (
            ("t.csv", "drop,slope (m),inclination (°)\nLintel,five,-80\n", "row 2/slope: 'five' is not a number"),
            ("t.gpx", "<gpx", "not GPX"),
            ("t.xls", "x", "none of .json, .gpx, .csv"),
        ):
            look(name, text)
            page.get_by_role("alert").filter(has_text=words).wait_for()
        # What may be two figures is asked, and taken as it is answered.
        look("t.csv", "drop;slope (m);inclination (°);method\nLintel;9,125;-80;tape\n")
        page.get_by_role("button", name="9.125: the comma is before decimals").click()
        page.get_by_test_id("look").get_by_text("Lintel: 1 shots in place of").wait_for()
        page.get_by_role("button", name="Leave it").click()
        log = "descent,descent on,drop,station,pull\n1,2026-03-01,d4,Sill,hard\n2,2026-03-02,d4,Sill,easy\n"
        look("log.csv", "table," + log.replace("\n1,", "\nlog,1,").replace("\n2,", "\nlog,2,"))
        page.get_by_text("the descent of 2026-03-02 is logged, 1 stations").wait_for()
        page.get_by_role("button", name="Take it in").click()
        page.get_by_text("2 logged.").wait_for()
        self.assertEqual(len(self.call("GET", "/log")["trips"]), 2)
        page.get_by_role("button", name="Undo", exact=True).click()
        page.get_by_text("2 logged.").wait_for(state="detached")
        self.assertEqual(self.call("GET", "/log")["trips"], [])


class Library(Browsing):
    """The list of plans, and the library as one file. It has a server of its own: what is restored is everything."""

    def setUp(self):
        self.begun()
        self.ids = [self.server.add(demo()) for demo in DEMOS.values()]

    def titles(self):
        return self.page.get_by_role("list", name="plans").locator("li a.text-lg").all_inner_texts()

    def test_found_put_in_order_put_aside_and_made_from_parts(self):
        page = self.page
        self.go("", page)
        page.get_by_text("3 of 3").wait_for()
        page.get_by_label("in which order").select_option("title")
        self.assertEqual(self.titles(), sorted(self.titles()))
        first = self.titles()[0]
        page.get_by_label("find a plan").fill(f"{first[:4].lower()} {first[-3:]}")
        page.get_by_text("1 of 3").wait_for()
        self.assertEqual(self.titles(), [first])
        page.get_by_role("button", name="Put aside").click()
        page.get_by_text("0 of 3").wait_for()
        page.get_by_label("find a plan").fill("")
        page.get_by_label("1 put aside").check()
        page.get_by_text("3 of 3").wait_for()
        page.get_by_role("button", name="Take up again").click()
        page.get_by_role("button", name="Take up again").wait_for(state="detached")
        page.get_by_role("button", name="New from it").first.click()
        self.accessible(page, "plans")
        form = page.get_by_role("form", name=f"a new plan from {first}")
        form.get_by_label("title of the new plan").fill("Another slot")
        form.get_by_role("button", name="Start it").click()
        page.wait_for_url("**/survey")
        made = self.server.plan(page.url.split("/plans/")[1].split("/")[0])
        of = next(d() for d in DEMOS.values() if d().title == first)
        self.assertEqual((made.title, made.drops, made.shed, made.party), ("Another slot", (), of.shed, of.party))

    def test_anything_is_found_from_one_key(self):
        page = self.page
        self.go("", page)
        page.get_by_text("3 of 3").wait_for()
        page.keyboard.press("/")
        field = page.get_by_label("what to find")
        field.fill("long qui")
        first = page.get_by_role("listbox", name="what was found").get_by_role("option").first
        first.get_by_text("Fernlid Slot").wait_for()
        self.assertEqual(first.locator("mark").all_inner_texts(), ["Long", "Quiet"])
        self.accessible(page, "find")
        field.press("Enter")
        page.wait_for_url("**/survey/d3")
        page.keyboard.press("/")
        field.fill("no such thing at all")
        page.get_by_text("Nothing holds these words.").wait_for()
        page.keyboard.press("Escape")
        field.wait_for(state="detached")

    def test_backed_up_wiped_restored_and_undone(self):
        page = self.page
        self.go("", page)
        page.get_by_text("3 of 3").wait_for()
        with page.expect_download() as got:
            page.get_by_role("link", name="Write a backup").click()
        file = got.value.path()
        before = self.titles()
        for n in (2, 1, 0):
            page.get_by_role("button", name="Bin", exact=True).first.click()
            expect(page.get_by_role("list", name="plans").locator("> li")).to_have_count(n)
        restore = page.get_by_label("Restore from a backup")
        restore.set_input_files({"name": "x.sqlite3", "mimeType": "", "buffer": b"nothing"})
        page.get_by_role("alert").filter(has_text="no backup of Reamer's").wait_for()
        restore.set_input_files(file)
        offered = page.get_by_test_id("offered")
        offered.get_by_text("The backup holds 3 plans").wait_for()
        self.assertEqual(self.titles(), [])
        offered.get_by_role("button", name="Put it in the library's place").click()
        page.get_by_text("3 of 3").wait_for()
        self.assertEqual(self.titles(), before)
        page.get_by_role("button", name="Undo: have back what was there").click()
        page.get_by_text("No plans yet").wait_for()

    def test_what_cannot_be_read_says_so_and_a_restore_from_elsewhere_is_met(self):
        page, plan = self.page, self.ids[0]
        with closing(connect(self.server.database)) as conn:
            back_up(conn, self.server.database.with_name("was.sqlite3"))
            conn.execute("INSERT INTO gear VALUES ('g')")
            conn.execute("INSERT INTO gear_revision VALUES ('g', 1, '', '{\"names\": [\"Blue 60\"], \"kind\": 9}')")
        self.go(f"plans/{plan}/shed", page)
        row = page.get_by_test_id("unreadable").get_by_role("listitem")
        row.get_by_text("The gear record of Blue 60 cannot be read").wait_for()
        page.get_by_text("What things have been through cannot all be read").first.wait_for()
        with page.expect_download() as got:
            row.get_by_role("link", name="Save as it is").click()
        self.assertIn("Blue 60", Path(got.value.path()).read_text())
        self.accessible(page, "unreadable")
        row.get_by_role("button", name="Put it away").click()
        page.get_by_text("What things have been through cannot all be read").first.wait_for(state="detached")
        row.get_by_role("button", name="Have it back").click()
        page.get_by_text("What things have been through cannot all be read").first.wait_for()
        self.settled()
        # From the command line, say, while this page is open: its next edit goes nowhere, and is kept.
        with closing(connect(self.server.database)) as conn:
            put_back(conn, self.server.database.with_name("was.sqlite3"))
        name = page.get_by_label("name", exact=True).first
        name.fill("Of the other")
        name.press("Enter")
        moved = page.get_by_role("dialog", name="The library is another one")
        moved.wait_for()
        self.accessible(page, "moved")
        self.assertEqual(self.server.plan(plan).shed, canyon().shed)
        moved.get_by_role("button", name="Open what is there now").click()
        kept = page.get_by_role("dialog").filter(has_text="Edits that could not be sent were kept")
        kept.wait_for()
        self.assertEqual(page.get_by_test_id("unreadable").count(), 0)
        kept.get_by_role("button", name="Drop my edit, show the newest").click()
        kept.wait_for(state="detached")
        self.assertEqual(self.server.plan(plan).shed, canyon().shed)


class Story(Calling):
    """Everything that a season leaves: logged, learnt, retired, tested, shot; then exported, wiped and restored."""

    def setUp(self):
        self.begun()
        self.id = self.server.add(canyon())

    def test_a_season_is_recorded_exported_wiped_and_restored(self):
        page, revisions = self.page, iter(range(2, 20))
        self.from_a_card(page)
        self.learnt(page, revisions)
        self.retired(page)
        self.own_tests(page, revisions)
        self.shot(page, revisions)
        with page.expect_download() as plan:
            self.go(f"plans/{self.id}/log", page)
            page.get_by_role("tab", name="Files").click()
            page.get_by_role("link", name="The plan, JSON").click()
        self.go("", page)
        with page.expect_download() as library:
            page.get_by_role("link", name="Write a backup").click()
        before = [self.call("GET", p) for p in ("", "/log", "/gear")]
        file = json.loads(Path(plan.value.path()).read_text())
        self.assertEqual(file["gear"]["records"][0]["names"], ["Blue 60"])
        backup = {"name": "b.sqlite3", "mimeType": "", "buffer": Path(library.value.path()).read_bytes()}
        # Wiped: a server that never had any of it.
        self.server = Server()
        self.addCleanup(self.server.close)
        self.go("", page)
        page.get_by_text("No plans yet").wait_for()
        page.get_by_label("Restore from a backup").set_input_files(backup)
        offered = page.get_by_test_id("offered")
        offered.get_by_text("7 descents").wait_for()
        offered.get_by_role("button", name="Put it in the library's place").click()
        page.get_by_role("list", name="plans").get_by_role("link", name="Fernlid Slot").first.wait_for()
        self.assertEqual([self.call("GET", p) for p in ("", "/log", "/gear")], before)
        self.go(f"plans/{self.id}/shed", page)
        expect(page.locator('[data-code="gear.out"]')).to_contain_text("Blue 60 is retired")

    def from_a_card(self, page):
        note = {"drop": "d4", "station": "Sill", "what": "pull", "felt": "hard", "was": "easy"}
        text = handed_back([note], plan=self.id, by="Wren", on="2026-05-01")
        made = self.call("POST", "/handed", {"way": "file", "texts": [text]})["id"]
        self.call("POST", f"/handed/{made}/accept", {"revision": 1, "take": []})
        self.go(f"plans/{self.id}/log", page)
        page.get_by_role("button", name="Log 2026-05-01: 1 noted by Wren").click()
        page.get_by_role("heading", name="The descent of 2026-05-01").wait_for()

    def learnt(self, page, revisions):
        for day in range(2, 8):
            trip = self.call("GET", f"/log/new?on=2026-05-0{day}")
            at = 9 * 60
            for s in trip["stations"]:
                for name, took in (("arrived", 4 + day), ("rigged", 31), ("down", 12 + day), ("gone", 9)):
                    s[name], at = f"{at // 60 % 24:02d}:{at % 60:02d}", at + took
            self.call("POST", "/log", {"revision": 0, "trip": trip})
        page.reload()
        page.get_by_role("tab", name="What the log teaches").click()
        lesson = page.get_by_role("region", name="rigging, doubled")
        lesson.get_by_role("button", name="Adopt in this plan").first.click()
        page.get_by_text("adopted in this plan").wait_for()
        self.saved(next(revisions))

    def retired(self, page):
        self.open("shed")
        record = page.get_by_role("region", name="record of Blue 60")
        record.get_by_role("button", name="Begin a record: it is new").click()
        # The log has booked its use already.
        expect(record.locator("dl")).to_contain_text("7")
        record.get_by_role("button", name="Retire it").click()
        record.get_by_label("in words").fill("seven descents over one edge")
        record.get_by_role("button", name="Note it").click()
        page.locator('[data-code="gear.out"]').wait_for()

    def own_tests(self, page, revisions):
        page.get_by_role("button", name="add to Own pull tests").click()
        self.saved(next(revisions))
        page.get_by_label("samples", exact=True).fill("15.1 14.8 15.4 15.0 14.9 15.2")
        page.get_by_label("samples", exact=True).press("Enter")
        self.saved(next(revisions))
        page.get_by_label("use it in this plan").select_option(label="for one strand of 25 mm tubular nylon")
        self.saved(next(revisions))
        webbing = self.server.plan(self.id).shed.webbing[0].strength_kn
        self.assertIn("6 samples", webbing.source)

    def shot(self, page, revisions):
        drop = next(d for d in canyon().drops if d.section.kind == "shots").id
        port = self.enterContext(simulated("rangefinder", seed=2))
        self.go(f"plans/{self.id}/survey/{drop}", page)
        page.get_by_text("Shoot it with a rangefinder").click()
        page.get_by_label("port of the rangefinder").fill(str(port))
        page.get_by_role("button", name="Connect").click()
        page.get_by_role("button", name="Begin the section anew").click()
        self.saved(next(revisions))
        page.get_by_role("button", name="Shoot", exact=True).click()
        page.get_by_role("list", name="shots heard").locator("li").first.wait_for()
        self.saved(next(revisions))
        page.get_by_role("button", name="Leave it").click()


if __name__ == "__main__":
    import unittest

    unittest.main()
