"""The Card step in a real browser: the second check."""

import io
import json
import re
import tempfile
import urllib.request
from pathlib import Path

import zxingcpp
from PIL import Image
from playwright.sync_api import expect
from pypdf import PdfReader

from reamer.core.onsite.handed import joined
from reamer.demos import canyon
from tests.browser.harness import PATIENCE_MS, Browsing, Server
from tests.command import reamer


def first(drops):
    """The first drops of the demonstration."""
    whole = canyon()
    return whole.model_copy(update={"drops": whole.drops[:drops]})


class SecondCheck(Browsing):
    """On the first four drops of the demonstration: what goes through all nine is the core's."""

    def setUp(self):
        self.begun()
        self.id = self.server.add(first(4))

    def begin(self, drop="d3", page=None, by="Tove"):
        page = page or self.page
        self.open("card", drop, page)
        page.get_by_label("Who checks").fill(by)
        page.locator("[data-item]").first.wait_for()

    def row(self, words):
        return self.page.locator("[data-item]").filter(has_text=words).first

    def say(self, words, button, remark):
        self.row(words).get_by_role("button", name=button, exact=False).first.click()
        self.page.locator("textarea").fill(remark)
        self.page.locator("textarea").press("Control+Enter")
        self.page.locator("textarea").wait_for(state="detached")
        self.row(remark).wait_for()

    def test_said_by_key_and_pointer_and_counted_everywhere(self):
        page = self.page
        self.begin()
        before = page.get_by_test_id("count").inner_text()
        page.locator("main").click(position={"x": 300, "y": 50})
        page.keyboard.press("ArrowDown")
        page.keyboard.press("g")
        self.row("Agreed by Tove").wait_for()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("e")
        page.get_by_label("It stays a shortfall").fill("We carry the 50 too.")
        page.get_by_role("button", name="Overrule as Tove").click()
        self.row("Overruled by Tove").wait_for()
        self.say("What the block holds", "Accept", "Pulled it myself: <b>12</b> kN")
        self.say("The order of acts", "Object", "Pim is asked too much")
        self.assertEqual(page.locator("[data-item] b").count(), 0)
        count = page.get_by_test_id("count").inner_text()
        self.assertNotEqual(count, before)
        for told in ("1 accepted by name", "1 of the shortfalls overruled", "1 objection"):
            self.assertIn(told, count)
        # A shortfall that is overruled stays one.
        self.assertEqual(count.split(" · ")[0], before.split(" · ")[0])
        # The same is said in the rig, in the strip, in the list, and on the command line.
        self.open("rig", "d3")
        self.assertIn("1 accepted by name · 1 of the shortfalls overruled · 1 objection", self.tally())
        apart = page.get_by_role("region", name="accepted by name")
        self.assertIn("Accepted by Tove", apart.inner_text())
        self.assertIn("1 objected", page.locator('[data-stop="d3"]').inner_text())
        file = page.request.get(f"{self.server.address}/api/plans/{self.id}/file").json()
        got = reamer("check", "-", stdin=json.dumps(file))
        self.assertEqual(got.returncode, 1)
        long_quiet = next(x for x in got.stdout.splitlines() if x.startswith("3  Long Quiet"))
        self.assertTrue(long_quiet.endswith(self.tally().replace("\n", "")), (long_quiet, self.tally()))
        self.assertIn("Objected to by Tove", got.stdout)
        self.go("", page)
        page.get_by_text("1 objection").first.wait_for()

    def test_a_move_is_agreed_with_at_once_and_a_change_opens_just_the_acts_it_touches(self):
        page = self.page
        self.begin("d4")
        acts = page.get_by_role("region", name="acts")
        turn = acts.locator('[data-move="turn"]')
        turn.get_by_text(re.compile(r"^\d+ acts$")).wait_for()
        turn.get_by_role("button", name="Agree with the move: Noor, Pim, Wren and Ilya in turn").click()
        turn.get_by_text(re.compile(r"^(\d+) acts, \1 agreed with$")).wait_for()
        self.assertEqual(turn.get_by_role("button", name=re.compile("^Agree with the move")).count(), 0)
        # An act can be spoken of by itself.
        turn.get_by_role("button", name=re.compile("agreed with$")).click()
        act = turn.locator("[data-item]").filter(has_text="Wren clips the tether").first
        act.get_by_role("button", name=re.compile("^Take back")).click()
        act.get_by_text("Agreed by Tove").wait_for(state="detached")
        self.accessible(page, "moves in the check")
        plan = self.server.plan(self.id).model_dump(mode="json")
        run = page.request.get(f"{self.server.address}/api/plans/{self.id}/revisions/1/rehearsal/d4").json()
        last = next(m for m in run["moves"] if m["kind"] == "turn")
        step = run["steps"][last["end"] - 1]
        edits = [{"kind": "reword", "act": step["key"], "words": "Ilya shouts it twice"}]
        plan["drops"][3]["station"]["through"] = {**plan["drops"][3]["station"]["through"], "edits": edits}
        got = page.request.put(f"{self.server.address}/api/plans/{self.id}", data={"revision": 1, "plan": plan})
        self.assertEqual(got.status, 200, got.text())
        page.reload()
        self.begin("d4")
        n = last["end"] - last["begin"] + 1
        turn.get_by_text(f"{n} acts, {n - 2} agreed with").wait_for()

    def test_a_change_opens_again_what_it_touches_and_undo_closes_it(self):
        page = self.page
        self.begin()
        self.say("Green 35 was never measured", "Accept", "Laid out on the road in May")
        page.locator('[data-item="station:d3"]').get_by_role("button", name="Agree").click()
        page.locator('[data-item="station:d3"]').get_by_text("Agreed by Tove").wait_for()
        page.locator('[data-stop="d4"]').click()
        page.locator('[data-item="station:d4"]').get_by_role("button", name="Agree").click()
        page.locator('[data-item="station:d4"]').get_by_text("Agreed by Tove").wait_for()
        plan = self.server.plan(self.id).model_dump(mode="json")
        plan["drops"][2]["rock"] = "smooth" if plan["drops"][2]["rock"] != "smooth" else "coarse"
        got = page.request.put(f"{self.server.address}/api/plans/{self.id}", data={"revision": 1, "plan": plan})
        self.assertEqual(got.status, 200, got.text())
        page.reload()
        self.begin("d3")
        again = page.get_by_role("region", name="Open again, because something changed")
        self.assertIn("Changed since: the rock. It no longer holds.", again.inner_text())
        self.assertEqual(page.locator('[data-item="station:d3"]').get_attribute("data-state"), "open")
        page.locator('[data-stop="d4"]').click()
        page.locator('[data-item="station:d4"][data-state="agreed"]').wait_for()
        page.keyboard.press("Control+z")
        self.saved(3)
        page.locator('[data-stop="d3"]').click()
        page.locator('[data-item="station:d3"][data-state="agreed"]').wait_for()
        page.locator('[data-item="station:d3"]').get_by_role("button", name="Take back").click()
        page.locator('[data-item="station:d3"][data-state="open"]').wait_for()

    def test_nobody_says_nothing_and_refusals_are_told(self):
        page = self.page
        self.begin(by=" ")
        self.assertTrue(page.get_by_role("button", name="Agree").first.is_disabled())
        page.get_by_label("Who checks").fill("Tove")
        # Somebody saves in between.
        plan = self.server.plan(self.id).model_dump(mode="json")
        plan["title"] = "Another"
        page.request.put(f"{self.server.address}/api/plans/{self.id}", data={"revision": 1, "plan": plan})
        page.locator('[data-item="station:d3"]').get_by_role("button", name="Agree").click()
        page.get_by_role("alert").filter(has_text="Not kept").wait_for()

    def test_the_card_on_paper(self):
        page = self.page
        self.begin()
        page.get_by_role("tab", name="What goes along").click()
        page.get_by_test_id("page").get_by_text("page 1 of").wait_for()
        page.get_by_label("A4").check()
        page.get_by_label("3 Long Quiet").check()
        page.get_by_test_id("page").get_by_text("page 1 of 4").wait_for()
        page.get_by_label("the next page").click()
        page.get_by_test_id("page").get_by_text("page 2 of 4").wait_for()
        shown = page.get_by_role("img", name="page 2 of the card as it is printed")
        self.assertGreater(shown.evaluate("e => e.decode().then(() => e.naturalWidth)"), 1000)
        with page.expect_download() as got:
            page.get_by_role("link", name="Write the PDF").click()
        self.assertEqual(got.value.suggested_filename, "fernlid-slot.card.pdf")
        made = PdfReader(got.value.path())
        self.assertEqual(round(made.pages[0].mediabox.width), 595)
        self.assertEqual(len(made.pages), 4)
        self.assertIn("Long Quiet", made.pages[0].extract_text())

    def test_axe_finds_nothing(self):
        self.begin()
        for view in ("This station", "The plan as a whole", "All that is open", "What goes along", "What came home"):
            self.page.get_by_role("tab", name=view).click()
            # The first is looked at whole; of the others, what is new.
            self.accessible(self.page, view, themes=True, within="html" if view == "This station" else "main")


class InTheRoom(Browsing):
    """A card shown to a phone in the room, over a second port."""

    def test_off_unless_it_was_asked_for(self):
        self.open("card", "d3")
        self.page.get_by_role("tab", name="What goes along").click()
        room = self.page.get_by_role("region", name="a phone in the room")
        room.get_by_text("reamer serve --share").wait_for()
        self.assertEqual(room.get_by_role("button").count(), 0)

    def test_shown_read_on_the_phone_and_ended(self):
        server = Server(share=True)
        self.addCleanup(server.close)
        plan = server.add(first(4))
        page = self.page
        page.goto(f"{server.address}/plans/{plan}/card/d3")
        page.get_by_role("tab", name="What goes along").click()
        room = page.get_by_role("region", name="a phone in the room")
        room.get_by_role("button", name="Show it").click()
        code = room.get_by_role("img")
        code.wait_for()
        link = room.get_by_test_id("link").locator("figcaption").inner_text()
        self.assertEqual(zxingcpp.read_barcode(Image.open(io.BytesIO(code.screenshot()))).text, link)
        context = self.browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True)
        self.addCleanup(context.close)
        phone = context.new_page()
        phone.set_default_timeout(PATIENCE_MS)
        told: list[str] = []
        phone.on("console", lambda m: told.append(m.text) if m.type == "error" else None)
        phone.goto(link)
        phone.locator("#next").click()
        phone.wait_for_function("() => document.querySelector('#where').textContent === '1 · Lintel'")
        phone.locator("#d1 input").first.check()
        phone.reload()
        self.assertTrue(phone.locator("#d1 input").first.is_checked())
        self.assertEqual([t for t in told if "favicon" not in t and "404" not in t], [])
        phone.evaluate("document.documentElement.classList.remove('paged')")
        phone.check('[name="d4|pull"][value=stuck]')
        phone.fill("#by", "Pim")
        phone.locator("#send").click()
        phone.get_by_text("It waits at the desk").wait_for()
        page.get_by_role("tab", name="1 waiting").click()
        page.get_by_role("region", name="what Pim noted").get_by_text("from a phone in the room").wait_for()
        page.get_by_role("tab", name="What goes along").click()
        room.get_by_role("button", name="End it").click()
        room.get_by_role("button", name="End it").wait_for(state="detached")
        phone.reload()
        self.assertIn("has expired", phone.inner_text("body"))


class Carried(Browsing):
    """The file on a phone: without a network, from the device itself."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.folder.cleanup)
        cls.addClassCleanup(cls.server.reset, cls.server.library())
        cls.of = cls.server.add(first(6))
        made = urllib.request.urlopen(f"{cls.server.address}/api/plans/{cls.of}/revisions/1/card.html").read()
        cls.file = Path(cls.folder.name) / "card.html"
        cls.file.write_bytes(made)

    def phone(self, **more):
        context = self.browser.new_context(
            viewport={"width": 390, "height": 844}, offline=True, has_touch=True, is_mobile=True, **more
        )
        self.addCleanup(context.close)
        page = context.new_page()
        page.set_default_timeout(PATIENCE_MS)
        self.asked = []
        page.on("request", lambda r: self.asked.append(r.url))
        page.on("console", lambda m: self.faults.append(m.text) if m.type == "error" else None)
        return page

    def test_stepped_through_ticked_and_kept(self):
        page = self.phone()
        page.goto(self.file.as_uri())
        where = page.locator("#where")
        self.assertEqual(where.inner_text(), "Fernlid Slot")
        self.assertFalse(page.locator("#unkept").is_visible())
        for _ in range(3):
            page.locator("#next").click()
        page.wait_for_function("() => document.querySelector('#pages').scrollLeft === 3 * innerWidth")
        self.assertEqual(where.inner_text(), "3 · Long Quiet")
        self.assertTrue(page.get_by_text("8.0 m short").first.is_visible())
        box = page.locator("#d3 input").nth(4)
        box.check()
        # The browser writes down what is kept a moment later.
        for _ in range(20):
            page.reload()
            if page.locator("#d3 input").nth(4).is_checked():
                break
        self.assertTrue(page.locator("#d3 input").nth(4).is_checked())
        told = f"1 of {page.locator('#d3 li.act input').count()} acts ticked"
        self.assertEqual(page.locator('#d3 [data-done="d3"]').inner_text(), told)
        # From the overview to a station, and its ticks are told there too.
        self.assertIn(told, page.locator('a[data-to="d3"]').inner_text())
        page.locator('a[data-to="d6"]').click()
        page.wait_for_function("() => document.querySelector('#where').textContent === '6 · Cellar'")
        # Everything that is pressed is large enough for a wet thumb, and nothing is wider than the screen.
        small = page.evaluate("""() =>
            [...document.querySelectorAll('button, a, label:has(input), input:not([type=checkbox]), select, textarea')]
            .map(e => [e.textContent.trim().slice(0, 30), e.getBoundingClientRect()])
            .filter(([, r]) => r.width && (r.height < 48 || r.width < 48)).map(([t]) => t)""")
        self.assertEqual(small, [])
        wide = page.evaluate("""() => [...document.querySelectorAll('.page')]
            .filter(e => e.scrollWidth > e.clientWidth + 1).map(e => e.id)""")
        self.assertEqual(wide, [])
        self.assertEqual([a for a in self.asked if not a.startswith("file:")], [])

    def noted(self, page, by="Wren", height="6,5"):
        """What is noted at two stations, and the file that is handed back."""
        page.goto(self.file.as_uri())
        page.evaluate("document.documentElement.classList.remove('paged')")
        page.fill('[name="d4|height"]', height)
        page.select_option('[name="d4|method"]', "known rope")
        page.check('[name="d3|reach0"][value=no]')
        page.fill('[name="d3|by0"]', "2")
        page.check('[name="d3|anchor0"][value=worn]')
        page.fill('[name="d3|words0"]', "moss – <b>né</b>")
        page.fill('[name="d6|incident"]', "Pim unclipped too early")
        page.check('[name="d6|near"][value=near]')
        page.fill("#by", by)
        with page.expect_download() as got:
            page.locator("#save").click()
        return Path(got.value.path()).read_text()

    def codes(self, page):
        """Every code that is shown, as it is photographed."""
        made = []
        page.locator("#codes").click()
        while True:
            made.append(page.locator("#qr").screenshot())
            if page.locator("#code-next").is_disabled():
                return made
            page.locator("#code-next").click()

    def test_noted_without_a_network_kept_and_handed_back_as_file_and_codes(self):
        page = self.phone()
        text = self.noted(page)
        got = json.loads(text)
        self.assertEqual([c["what"] for c in got["corrections"]], ["reach", "anchor", "height", "incident"])
        self.assertEqual((got["corrections"][2]["m"], got["by"], got["revision"]), (6.5, "Wren", 1))
        self.assertEqual(got["corrections"][1]["words"], "moss – <b>né</b>")
        page.reload()
        self.assertEqual(page.input_value('[name="d3|by0"]'), "2")
        self.assertIn("4 noted", page.locator("#overview [data-number]").inner_text())
        page.evaluate("document.documentElement.classList.remove('paged')")
        pieces = [zxingcpp.read_barcode(Image.open(io.BytesIO(c))).text for c in self.codes(page)]
        self.assertGreater(len(pieces), 1)
        self.assertEqual(joined(pieces).decode(), text)
        # What is wrong names its field, and nothing is handed back until it is mended.
        page.fill('[name="d4|height"]', "3O")
        page.locator("#save").click()
        self.assertIn("4 · Sill: height: “3O” is not a number of m", page.locator("#wrong").inner_text())
        page.fill('[name="d4|height"]', "")
        page.fill("#by", "")
        page.locator("#codes").click()
        self.assertEqual(page.locator("#wrong").inner_text(), "Say who noted it.")
        self.assertFalse(page.locator("#code").is_visible())
        self.assertEqual([a for a in self.asked if not a.startswith(("file:", "blob:"))], [])

    def desk(self):
        page = self.page_of()
        self.open("card", "d3", page, plan=self.plan)
        page.get_by_role("tab", name="What came home").click()
        return page

    def test_checked_printed_walked_come_home_merged_and_undone(self):
        plan = self.plan = self.server.add(first(6))
        root = f"{self.server.address}/api/plans/{plan}/revisions/1"
        self.open("card", "d3", plan=plan)
        self.page.get_by_label("Who checks").fill("Tove")
        self.page.locator('[data-item="station:d3"]').get_by_role("button", name="Agree").click()
        self.page.locator('[data-item="station:d3"][data-state="agreed"]').wait_for()
        paper = PdfReader(io.BytesIO(urllib.request.urlopen(f"{root}/card.pdf").read()))
        self.assertIn("Looked at by Tove.", paper.pages[0].extract_text())
        self.file = Path(self.folder.name) / "walked.html"
        self.file.write_bytes(urllib.request.urlopen(f"{root}/card.html").read())
        text = self.noted(self.phone(), height="6,5")
        other = self.noted(self.phone(), "Pim", height="7")
        before = self.server.plan(plan)
        page = self.desk()
        take = page.get_by_label("A file from a phone")
        for name, text_ in (("w.json", text), ("p.json", other), ("w2.json", text)):
            take.set_input_files({"name": name, "mimeType": "application/json", "buffer": text_.encode()})
            page.get_by_role("region", name=f"what {'Pim' if name[0] == 'p' else 'Wren'} noted").wait_for()
        # Twice the same is one; what two phones differ in is told.
        self.assertEqual(page.get_by_label("everything that came home").locator("li").count(), 2)
        wren = page.get_by_role("region", name="what Wren noted")
        height = wren.locator('[data-what="height"]')
        height.get_by_text("Pim, ").wait_for()
        self.assertIn("7.0 m by known rope", height.inner_text())
        self.assertIn("2 waiting", page.get_by_role("tab", name="What came home").inner_text())
        self.assertEqual(self.server.plan(plan), before)
        self.accessible(page, "came home")
        # What asks for more care is ticked already, the shorter height of a coarser method is not.
        self.assertTrue(wren.locator('[data-what="anchor"]').get_by_role("checkbox").is_checked())
        height.get_by_role("checkbox").check()
        wren.get_by_role("button", name="Accept, 4 into the survey").click()
        wren.get_by_text("accepted, 4 in the survey").wait_for()
        now = self.server.plan(plan)
        self.assertEqual((now.drops[3].section.height_m.value, now.drops[3].section.height_m.by), (6.5, "Wren"))
        self.assertTrue(any("moss – <b>né</b>" in i.found for i in now.drops[2].station.inspections))
        self.assertIn("changed since the card", height.inner_text())
        self.assertEqual(wren.locator("b b").count(), 0)
        self.assertIn("revision 2", page.locator("header").inner_text())
        wren.get_by_role("button", name="Undo it, in the survey too").click()
        wren.get_by_text("taken back, waits again").wait_for()
        self.assertEqual(self.server.plan(plan), before)
        # A plain undo of the plan is one act too, and keeps what came home.
        wren.get_by_role("button", name="into the survey").click()
        wren.get_by_text("in the survey").first.wait_for()
        page.keyboard.press("Control+z")
        page.locator("header").get_by_text("revision 5").wait_for()
        self.assertEqual(self.server.plan(plan), before)
        wren.get_by_text("accepted").first.wait_for()

    def test_codes_from_pictures_piece_by_piece_and_what_is_refused(self):
        self.plan = self.of
        phone = self.phone()
        text = self.noted(phone)
        pictures = self.codes(phone)
        page = self.desk()
        alert = page.get_by_role("alert")
        take, photos = page.get_by_label("A file from a phone"), page.get_by_label("Pictures of its codes")
        for buffer, words in (
            (text[:200].encode(), "cut off"),
            (b"x" * 200_001, "too large"),
            (text.replace('"eye"', '"x"').replace("known rope", "guess").encode(), "method"),
            (text.replace(self.plan, "0" * 12).replace("Sill", "Elsewhere").encode(), "of another plan"),
        ):
            take.set_input_files({"name": "f.json", "mimeType": "application/json", "buffer": buffer})
            alert.filter(has_text=words).wait_for()
        photos.set_input_files({"name": "a.png", "mimeType": "image/png", "buffer": b"no picture"})
        alert.filter(has_text="not a picture").wait_for()
        self.assertEqual(page.locator("[data-correction]").count(), 0)
        photos.set_input_files({"name": "1.png", "mimeType": "image/png", "buffer": pictures[0]})
        alert.filter(has_text="missing").wait_for()
        page.get_by_text("1 code read so far").wait_for()
        rest = [{"name": f"{n}.png", "mimeType": "image/png", "buffer": p} for n, p in enumerate(pictures[1:])]
        photos.set_input_files(rest)
        page.get_by_role("region", name="what Wren noted").get_by_text("read from a screen").wait_for()
        expect(page.locator("[data-correction]")).to_have_count(4)
        # What somebody changed on the way is told.
        changed = text.replace("6.5", "5.5").encode()
        take.set_input_files({"name": "f.json", "mimeType": "application/json", "buffer": changed})
        page.get_by_text("This is not as the phone wrote it").wait_for()
        page.get_by_role("button", name="Refuse it").click()
        page.get_by_role("region", name="what Wren noted").get_by_text("refused").wait_for()

    def test_without_scripts_and_without_storage_it_reads_whole(self):
        page = self.phone(java_script_enabled=False)
        page.goto(self.file.as_uri())
        self.assertTrue(page.locator("#unkept").is_visible())
        self.assertFalse(page.locator("#next").is_visible())
        for d in ("d1", "d5", "d6", "party"):
            box = page.locator(f"#{d}").bounding_box()
            self.assertGreater(box["height"], 300)
            self.assertEqual(box["x"], 0)
        refusing = self.phone()
        refusing.add_init_script(
            "Object.defineProperty(window, 'localStorage', { get() { throw new DOMException('no', 'SecurityError') } })"
        )
        refusing.goto(self.file.as_uri())
        self.assertTrue(refusing.locator("#unkept").is_visible())
        refusing.locator("#next").click()
        refusing.wait_for_function("() => document.querySelector('#where').textContent === '1 · Lintel'")
        refusing.locator("#d1 input").first.check()
        self.assertIn("1 of", refusing.locator('#d1 [data-done="d1"]').inner_text())

    def test_axe_finds_nothing_by_day_and_in_the_dark(self):
        colours = "[...document.querySelectorAll('body, body *')].map(e => [getComputedStyle(e).color,"
        colours += " getComputedStyle(e).backgroundColor].join())"
        # Three stations have all that nine have.
        whole, seen = canyon(), []
        few = self.server.add(whole.model_copy(update={"drops": whole.drops[1:4]}))
        made = urllib.request.urlopen(f"{self.server.address}/api/plans/{few}/revisions/1/card.html").read()
        file = Path(self.folder.name) / "few.html"
        file.write_bytes(made)
        for scheme in ("light", "dark"):
            page = self.phone(color_scheme=scheme, bypass_csp=True)
            page.goto(file.as_uri())
            self.accessible(page, scheme, "" if scheme == "light" else "color-contrast")
            seen.append(page.evaluate(colours))
            page.locator("#theme").click()
            seen.append(page.evaluate(colours))
        # What is chosen by hand has the colours of what the device asks for: looked at already.
        self.assertEqual(seen[0], seen[3])
        self.assertEqual(seen[1], seen[2])
        self.assertNotEqual(seen[0], seen[2])
