"""The interface as a guide uses it: open, see, drag, fix, undo, reload, build from nothing, settle a conflict."""

import itertools
import json
import math
import re
import sqlite3
import tempfile
import unittest
from contextlib import closing
from pathlib import Path

from hypothesis import Phase, given

from reamer.core.assess import assess
from reamer.core.errors import PlanError
from reamer.core.reading import read_plan
from reamer.demos import canyon
from reamer.formats.report import report
from tests import LONG, law
from tests.browser.harness import Browsing
from tests.builders import descents, doubled, known, plan_of


class Demo(Browsing):
    def centre(self, name):
        box = self.page.locator(f'[data-handle="{name}"]').bounding_box()
        return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    def drag(self, name, dx, dy, release=True):
        x, y = self.centre(name)
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        for i in range(1, 9):
            self.page.mouse.move(x + dx * i / 8, y + dy * i / 8)
        if release:
            self.page.mouse.up()

    def test_planted_shortfalls_are_in_sight_and_the_short_rope_is_fixed_kept_and_undone(self):
        self.open("rig", "d3")
        self.assertIn("1 shortfall", self.tally())
        finding = self.page.locator('[data-code="reach.short"]')
        self.assertIn("Green 35 does not reach", finding.inner_text())
        finding.get_by_role("button", name="Use Slate 50 instead").click()
        self.saved(2)
        self.assertEqual(self.page.locator('[data-code="reach.short"]').count(), 0)
        self.assertIn("Ride Slate 50 alone", self.page.get_by_test_id("answer").inner_text())
        self.page.reload()
        self.saved(2)
        self.assertIn("0 shortfalls", self.tally())
        self.page.keyboard.press("Control+z")
        self.saved(3)
        self.page.locator('[data-code="reach.short"]').wait_for()
        self.assertEqual(self.server.plan(self.id), canyon())
        self.page.keyboard.press("Control+Shift+Z")
        self.saved(4)
        self.assertIn("0 shortfalls", self.tally())

    def test_dragging_the_edge_moves_number_and_drawing_and_is_one_revision(self):
        self.open("survey", "d5")
        field = self.page.get_by_label("set-back, anchor to edge", exact=True)
        before, rope = field.input_value(), self.page.locator("[data-rope] path").first.get_attribute("d")
        self.drag("edge", -30, 0, release=False)
        self.page.wait_for_function(
            "v => document.querySelector('[aria-label=\"set-back, anchor to edge\"]').value !== v", arg=before
        )
        during = self.page.locator("[data-rope] path").first.get_attribute("d")
        self.assertNotEqual(rope, during)
        self.page.mouse.up()
        self.saved(2)
        figure = self.server.plan(self.id).drops[4].section.setback_m
        self.assertEqual(figure.method, "eye")
        self.assertLess(figure.value, float(before))
        self.assertEqual(field.input_value(), f"{figure.value:g}")
        self.assertEqual(self.server.plan(self.id).drops[4].section.edge_fall_m, canyon().drops[4].section.edge_fall_m)

    def test_escape_takes_a_drag_back(self):
        self.open("survey", "d5")
        before = self.page.get_by_label("set-back, anchor to edge", exact=True).input_value()
        self.drag("edge", -40, 0, release=False)
        self.page.keyboard.press("Escape")
        self.page.mouse.up()
        self.settled()
        self.assertEqual(self.page.get_by_label("set-back, anchor to edge", exact=True).input_value(), before)
        self.assertEqual(self.server.plan(self.id), canyon())

    def test_every_handle_moves_its_own_figure_by_keys(self):
        def shots(p):
            return [s.slope_m.value for s in p.drops[2].section.shots]

        self.open("survey", "d3")
        for n, handle in enumerate(("post", "shot-2", "shot-7", "ring"), 2):
            before = self.server.plan(self.id)
            self.page.locator(f'[data-handle="{handle}"]').focus()
            self.page.keyboard.press("Shift+ArrowRight")
            self.saved(n)
            after = self.server.plan(self.id)
            with self.subTest(handle):
                if handle == "ring":
                    moved = (
                        after.drops[2].station.states[0].rig.gain_m.value
                        - before.drops[2].station.states[0].rig.gain_m.value
                    )
                    self.assertAlmostEqual(moved, 1.0)
                else:
                    changed = [i for i, (a, b) in enumerate(zip(shots(before), shots(after), strict=False)) if a != b]
                    self.assertEqual(changed, [0 if handle == "post" else int(handle[5:]) - 1])

    def test_a_drag_to_nonsense_is_refused_in_words_and_changes_nothing(self):
        self.open("survey", "d4")
        self.drag("landing", 0, -700)
        self.page.get_by_role("alert").filter(has_text="Not saved").wait_for()
        self.assertEqual(self.server.plan(self.id), canyon())

    def test_screen_says_what_the_command_line_says(self):
        """Every finding and every verdict on the load path; in the other system of units where every kind of figure
        is."""
        for units, drops in (("metric", canyon().drops), ("us", canyon().drops[::3])):
            page = self.page_of(units=units)
            printed = re.sub(r"\s+", " ", report(canyon(), assess(canyon()), units))
            for drop in drops:
                self.open("rig", drop.id, page)
                page.get_by_role("heading", name=drop.name).wait_for()
                texts = page.locator(
                    "ol[aria-label^=findings] li > div:nth-child(2), ol[aria-label^=findings] li > div:nth-child(3)"
                ).all_inner_texts()
                self.assertTrue(texts)
                for text in [*texts, page.get_by_test_id("answer").inner_text()]:
                    self.assertIn(re.sub(r"\s+", " ", text).strip(), printed)
                for row in page.locator("table[aria-label=reach] tbody tr").all():
                    name, spare, need = (re.sub(r"\s+", " ", t).strip() for t in row.locator("td").all_inner_texts())
                    self.assertIn(f"spare {spare}, need {need}", printed, name)

    def test_a_number_opens_its_working_down_to_the_sources(self):
        self.open("rig", "d3")
        self.page.locator('[data-code="reach.short"]').get_by_role("button", name="38.5 m").click()
        self.page.get_by_test_id("working-formula").wait_for()
        self.assertEqual(self.page.get_by_test_id("working-value").inner_text(), "38.5 m")
        panel = self.page.get_by_role("region", name="Working")
        self.assertIn("our judgement", panel.inner_text())
        panel.locator("dl button").first.click()
        self.page.get_by_text("upper bound, high bound").or_(self.page.get_by_text("taut line, high bound")).or_(
            self.page.get_by_text("draped line, high bound")
        ).first.wait_for()
        self.page.keyboard.press("Escape")
        self.assertEqual(self.page.get_by_role("region", name="Working").count(), 0)

    def test_keys(self):
        self.open("rig", "d3")
        self.page.keyboard.press("j")
        self.page.get_by_role("heading", name="Sill").wait_for()
        self.page.keyboard.press("k")
        self.page.keyboard.press("k")
        self.page.get_by_role("heading", name="Churn").wait_for()
        self.page.keyboard.press("1")
        self.page.get_by_label("name of the drop").wait_for()
        self.page.keyboard.press("m")
        self.page.get_by_role("heading", name="Churn · 39.2 ft").wait_for()
        self.page.keyboard.press("t")
        self.page.locator('html[data-theme="headlamp"]').wait_for()
        self.page.keyboard.press("?")
        self.page.get_by_role("dialog", name="First steps and keys").wait_for()
        self.page.keyboard.press("Escape")
        self.page.get_by_role("dialog", name="First steps and keys").wait_for(state="detached")

    def test_fields_take_other_units_and_refuse_nonsense(self):
        self.open("survey", "d1")
        height = self.page.get_by_label("height, edge to landing", exact=True)
        height.fill("30 ft")
        height.press("Enter")
        self.saved(2)
        self.assertAlmostEqual(self.server.plan(self.id).drops[0].section.height_m.value, 9.144)
        height.fill("tall")
        height.press("Enter")
        self.page.get_by_text("is not a number in m").wait_for()
        height.fill("5000")
        height.press("Enter")
        self.page.get_by_role("alert").filter(has_text="from 0.5 to 600 m").first.wait_for()
        self.assertAlmostEqual(self.server.plan(self.id).drops[0].section.height_m.value, 9.144)
        height.fill("")
        height.press("Enter")
        self.saved(3)
        self.page.get_by_text("Not measured yet").wait_for()
        self.page.locator('[data-code="section.unknown"]').wait_for()

    def test_every_revision_can_be_read(self):
        self.open("rig", "d3")
        self.page.get_by_role("button", name="Use Slate 50 instead").click()
        self.saved(2)
        self.page.keyboard.press("Control+z")
        self.saved(3)
        self.page.get_by_role("banner").get_by_role("status").click()
        rows = self.page.get_by_role("list", name="revisions").locator("li")
        rows.nth(2).wait_for()
        said = rows.all_inner_texts()
        self.assertEqual(len(said), 3)
        for text, what in zip(
            said, ("undo: drop Long Quiet: ", "drop Long Quiet: rope Green 35 → Slate 50", "created"), strict=False
        ):
            self.assertIn(what, text)

    def test_first_run_shows_the_caution(self):
        page = self.page_of(caution="unread")
        self.go("", page)
        page.get_by_role("dialog", name="Before you plan with this").get_by_role("button").click()
        page.reload()
        page.get_by_role("list", name="plans").wait_for()
        self.assertEqual(page.get_by_role("dialog").count(), 0)

    def test_conflict_is_explained_and_settled_three_ways(self):
        mine, theirs = self.page_of(), self.page_of()
        for n, (button, title) in enumerate(
            (
                ("Drop my edit", "Fernlid Slot"),
                ("Make my edit", "Fernlid Slot"),
                ("Keep mine", "Fernlid Slot (my version)"),
            )
        ):
            with self.subTest(button):
                plan_id = self.server.add(canyon())
                for page in (mine, theirs):
                    self.open("survey", "d1", page, plan_id)
                for page, label, text in (
                    (theirs, "name of the drop", "Theirs"),
                    (mine, "height, edge to landing", "7"),
                ):
                    field = page.get_by_label(label, exact=True)
                    field.fill(text)
                    field.press("Enter")
                    if page is theirs:
                        self.saved(2, theirs)
                dialog = mine.get_by_role("dialog", name="This plan was changed somewhere else")
                self.assertIn("name of the drop Lintel → Theirs", dialog.inner_text())
                dialog.get_by_role("button", name=button).click()
                dialog.wait_for(state="detached")
                mine.locator("header").get_by_text(title, exact=False).wait_for()
                self.saved((2, 3, 1)[n], mine)
                drop = self.server.plan(plan_id).drops[0]
                self.assertEqual((drop.name, drop.section.height_m.value), ("Theirs", 7 if n == 1 else 8))


class Bench(Browsing):
    """The tie from above and the patterns side by side."""

    def test_patterns_are_compared_and_one_act_adopts_one(self):
        self.open("rig", "d4")
        self.page.keyboard.press("p")
        table = self.page.get_by_role("table", name="patterns compared")
        table.locator("tbody tr").nth(11).wait_for()
        self.assertEqual(table.locator("tbody tr").count(), 12)
        table.get_by_role("button", name="holds, low").click()
        kn = [float(t.split()[0]) for t in table.locator("tbody tr td:nth-child(2)").all_inner_texts() if "kN" in t]
        self.assertEqual(kn, sorted(kn, reverse=True))
        self.assertIn("1 shortfall", self.tally())
        table.get_by_role("button", name="use wrap two, pull one", exact=True).click()
        self.saved(2)
        self.assertEqual(self.server.plan(self.id).drops[3].station.states[0].rig.pattern, "wrap two, pull one")
        self.assertIn("0 shortfalls", self.tally())
        self.page.keyboard.press("Control+z")
        self.saved(3)
        self.assertIn("1 shortfall", self.tally())

    def test_every_pattern_is_drawn_with_its_strands_and_knots(self):
        from reamer.core.tables import patterns

        self.open("rig", "d1")
        self.page.keyboard.press("w")
        view = self.page.get_by_role("figure", name="the tie from above")
        for n, (key, p) in enumerate(patterns().items(), 1):
            if n > 1:
                self.page.get_by_label("pattern", exact=True).select_option(key)
            self.saved(n)
            view.get_by_text(re.compile(f"^{p.strands} strand")).wait_for()
            with self.subTest(key):
                self.assertEqual(view.locator("rect[aria-label]").count(), len(p.weak_points))
                self.assertEqual(view.get_by_label("full turn").count(), min(1, p.turns))

    def test_dragging_the_focal_point_changes_angle_strength_and_webbing(self):
        self.open("rig", "d5")
        self.page.keyboard.press("w")
        before = self.page.get_by_text(re.compile("^Takes ")).inner_text()
        box = self.page.locator('[data-handle="focal"]').bounding_box()
        x, y = box["x"] + 12, box["y"] + 12
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + 60, y, steps=6)
        self.page.wait_for_function(
            "t => ![...document.querySelectorAll('p')].some(p => p.innerText === t)", arg=before
        )
        self.page.mouse.up()
        self.saved(2)
        self.assertGreater(self.server.plan(self.id).drops[4].station.states[0].rig.gain_m.value, 0.3)
        self.assertIn("0 shortfalls", self.tally())


class LoadPath(Browsing):
    def test_a_single_point_is_accepted_with_a_reason_and_taken_back(self):
        self.open("rig", "d7")
        row = self.page.locator('[data-part="link.link"]')
        row.get_by_role("button", name="accept screw link").click()
        reason = self.page.get_by_label("why screw link 8 mm is accepted")
        reason.fill("both loaded, backed up by the tree")
        reason.press("Enter")
        self.saved(2)
        row.get_by_text("accepted: both loaded, backed up by the tree").wait_for()
        self.page.locator('[data-code="anchor.unknown"]').wait_for()
        self.page.locator('[data-code="part.single"]').wait_for(state="detached")
        row.get_by_role("button", name="take back").click()
        self.saved(3)
        self.page.locator('[data-code="part.single"]').wait_for()

    def test_what_was_found_in_place_is_recorded_and_counts(self):
        self.open("rig", "d7")
        self.page.locator('[data-code="inspection.none"]').wait_for()
        self.page.keyboard.press("i")
        self.page.get_by_role("button", name="I looked at two bolts found in place").click()
        self.saved(2)
        self.page.locator('[data-code="inspection.open"]').first.wait_for()
        self.page.get_by_label("its state").select_option("good")
        self.saved(3)
        # What is good is used, unless something else is decided.
        self.assertEqual(self.page.get_by_label("decision").input_value(), "use")
        for n, (question, answer) in enumerate(
            (("Does the bolt", "no"), ("Is there rust", "no"), ("Is the rock round it", "yes")), 4
        ):
            self.page.get_by_role("group", name=question).get_by_label(answer, exact=True).check()
            self.saved(n)
        self.page.locator('[data-code="inspection.open"]').wait_for(state="detached")
        self.page.locator('[data-code="anchor.unknown"]').wait_for()

    def test_pointing_at_a_part_lights_it_in_the_cutaway(self):
        self.open("rig", "d3")
        for part, drawn in (
            ("ring", 'circle[aria-label="ring"].lit'),
            ("webbing", 'path[aria-label="tie"].lit'),
            ("rope.rope-green-b", "g.lit [data-rope]"),
            ("anchor", "g.lit [aria-label='flat boulder']"),
        ):
            self.page.locator(f'[data-part="{part}"]').hover()
            self.page.locator(drawn).first.wait_for(state="attached")
        self.page.get_by_test_id("answer").hover()
        self.assertEqual(self.page.locator(".lit").count(), 0)


class Lost(Browsing):
    def test_an_edit_of_what_is_gone_says_so_and_changes_nothing(self):
        mine, theirs = self.page_of(), self.page_of()
        for page in (mine, theirs):
            self.open("survey", "d1", page)
        theirs.get_by_role("button", name="Remove").click()
        self.saved(2, theirs)
        height = mine.get_by_label("height, edge to landing", exact=True)
        height.fill("7")
        height.press("Enter")
        mine.get_by_role("dialog", name="This plan was changed somewhere else").get_by_role(
            "button", name="Make my edit"
        ).click()
        mine.get_by_role("alert").filter(has_text="no longer in the newest revision").wait_for()
        self.assertEqual([d.name for d in self.server.plan(self.id).drops], [d.name for d in canyon().drops[1:]])


class FromNothing(Browsing):
    def test_a_kit_of_ones_own_and_a_drop_with_nothing_open_from_an_empty_list(self):
        page = self.page
        self.go("", page)
        page.get_by_label("title of a new plan").fill("Three Steps")
        page.keyboard.press("Enter")
        page.get_by_text("This plan has no drops yet").wait_for()

        def put(label, text):
            field = page.get_by_label(label, exact=True)
            field.fill(text)
            field.press("Enter")

        page.keyboard.press("2")
        page.get_by_role("button", name="add to Ropes").click()
        for label, text in (
            ("nominal length, on its label", "60"),
            ("measured length", "59"),
            ("diameter", "9"),
            ("elongation, 50 to 150 kg", "3"),
        ):
            put(label, text)
        page.get_by_label("wet since it was measured").select_option("no")
        put("breaking strength on its label, unknotted, who says so", "label")
        put("breaking strength on its label, unknotted, low", "20")
        page.get_by_label("has a middle mark").check()
        put("middle mark off by", "0")
        page.get_by_role("button", name="add to Webbing").click()
        put("piece 1", "30")
        put("thickness", "3")
        page.get_by_role("button", name="add to Rings, links, carabiners").click()
        put("thickness of its bar", "10")
        put("rating; with no rating it is unknown, a working load is not a breaking load, who says so", "stamped")
        put("rating; with no rating it is unknown, a working load is not a breaking load, low", "25")
        page.get_by_role("button", name="add to People").click()
        put("weight with clothes, kit and wet pack", "85")
        page.get_by_role("button", name="add to Devices").click()
        put("rating; with none it is unknown, who says so", "stamped")
        put("rating; with none it is unknown, low", "25")
        put("thinnest rope it is stated for", "8")
        put("thickest rope it is stated for", "11")
        page.get_by_label("strands it is stated for").select_option("one or two")
        page.get_by_role("button", name="add to Tethers").click()
        put("breaking strength, unknotted, low", "22")
        page.get_by_role("region", name="People").get_by_role("button", name="Person 1").click()
        page.get_by_label("rides on").select_option("device-1")
        page.get_by_label("clips in with").select_option("tether-1")
        page.keyboard.press("Escape")
        page.get_by_role("button", name=re.compile("Add a drop")).click()
        page.get_by_text("Not measured yet").wait_for()
        put("set-back, anchor to edge", "1.5")
        put("height, edge to landing", "9")
        page.get_by_label("the edge is").select_option("rounded")
        page.get_by_label("landing", exact=True).select_option("ground")
        page.get_by_label("the rig gets wet").select_option("no")
        page.get_by_label("strands hang below the ring").select_option("side by side")
        page.get_by_label("cracks or flakes under the line").select_option("no")
        page.get_by_role("button", name="Rig", exact=False).first.click()
        page.get_by_label("tied to", exact=True).select_option("wrap")
        page.get_by_label("its surface is").select_option("rounded")
        put("girth", "1.3")
        put("what the post itself holds: your own judgement, low and high, and why, who says so", "wedged")
        put("what the post itself holds: your own judgement, low and high, and why, low", "12")
        put("what the post itself holds: your own judgement, low and high, and why, high", "18")
        page.get_by_role("tab", name="Rope system").click()
        page.get_by_label("rope system", exact=True).select_option("doubled")
        page.wait_for_function(
            "() => document.querySelector('[data-testid=tally]').innerText.startsWith('0 shortfalls · 0 not checked')"
        )
        page.get_by_test_id("verdict").wait_for()
        # What was added began with typical figures: they are said to be one's own, in one list.
        page.get_by_role("button", name="Shed").first.click()
        page.get_by_role("button", name="All of them are as they say").click()
        page.locator('[data-code="kit.typical"]').wait_for(state="detached")
        plan_id = page.url.split("/plans/")[1].split("/")[0]
        a = assess(self.server.plan(plan_id))
        # Nobody has said when it begins: that alone is not checked.
        self.assertEqual((len(a.drops), a.tally["Shortfall"], a.tally["Not checked"]), (1, 0, 1))
        self.assertEqual([f.code for f in a.findings if f.severity == "Not checked"], ["time.unknown"])

    def test_every_system_can_be_chosen_and_shots_entered(self):
        self.open("rig", "d2")
        self.page.get_by_role("tab", name="Rope system").click()
        for n, (kind, answer) in enumerate(
            (
                ("doubled", "Ride both strands of Blue 60. Pull end B"),
                ("joined", "Ride both strands. Pull"),
                ("releasable", "Convert for the last person"),
                ("lowered", "Lower each on"),
                ("elastic-release device", "until it lets go"),
                ("alternating bights", "Then the strands in turn"),
                ("blocked, same rope", "alone. Pull end A"),
                ("blocked, pull cord", "Pull Orange cord 42"),
                ("none", "No rope system chosen yet"),
            ),
            2,
        ):
            self.page.get_by_label("rope system", exact=True).select_option(kind)
            self.saved(n)
            self.assertIn(answer, self.page.get_by_test_id("answer").inner_text())
        self.open("survey", "d1")
        self.page.get_by_label("section entered").select_option("shots")
        self.page.get_by_label("shot 2, slope distance", exact=True).wait_for()
        self.saved(11)
        seen = self.server.plan(self.id).drops[0].section
        self.assertEqual((seen.kind, len(seen.shots)), ("shots", 2))


class List(Browsing):
    def test_rename_copy_bin_restore_and_files(self):
        page = self.page
        self.go("", page)
        row = (
            page.get_by_role("list", name="plans")
            .locator("li")
            .filter(has=page.locator(f'a[href="/plans/{self.id}/rig"]'))
        )
        row.get_by_role("button", name="Rename").click()
        page.get_by_label("new title").fill("Fernlid by night")
        page.keyboard.press("Enter")
        page.get_by_role("link", name="Fernlid by night", exact=True).wait_for()
        row.get_by_role("button", name="Copy").click()
        page.get_by_role("link", name="Fernlid by night (copy)").wait_for()
        with page.expect_download() as out:
            row.get_by_role("link", name="Save as file").click()
        text = Path(out.value.path()).read_text()
        self.assertEqual(read_plan(json.loads(text)).title, "Fernlid by night")
        row.get_by_role("button", name="Bin").click()
        page.get_by_role("link", name="Fernlid by night", exact=True).wait_for(state="detached")
        page.locator("summary").click()
        page.get_by_role("list", name="bin").get_by_role("button", name="Put back").first.click()
        page.get_by_role("link", name="Fernlid by night", exact=True).wait_for()
        with tempfile.TemporaryDirectory() as folder:
            for name, body, says in (
                ("bad.json", "{", "not JSON"),
                ("old.json", '{"format": 0}', "reads format 1"),
                ("odd.json", text.replace('"format": 1,', '"format": 1, "odd": 1,'), "odd: Extra inputs"),
            ):
                path = Path(folder) / name
                path.write_text(body)
                page.get_by_label("plan file").set_input_files(path)
                page.get_by_role("alert").filter(has_text=says).wait_for()
            path.write_text(text)
            page.get_by_label("plan file").set_input_files(path)
            # It is the file of a plan that is here.
            page.get_by_role("button", name="Open the file as another plan").click()
            page.get_by_test_id("answer").wait_for()


class Trouble(Browsing):
    """What the screen does when the server is away, slow or has nothing."""

    def test_an_edit_waits_in_sight_until_the_server_answers_again(self):
        self.open("survey", "d1")
        self.page.route("**/api/plans/*/edits", lambda r: r.abort())
        field = self.page.get_by_label("height, edge to landing", exact=True)
        field.fill("7")
        field.press("Enter")
        waiting = self.page.get_by_role("button", name=re.compile("not saved"))
        waiting.wait_for()
        self.assertEqual(field.input_value(), "7")
        self.assertEqual(self.server.plan(self.id), canyon())
        self.faults.clear()
        self.page.unroute("**/api/plans/*/edits")
        waiting.click()
        self.saved(2)
        self.assertEqual(self.server.plan(self.id).drops[0].section.height_m.value, 7)

    def test_of_several_edits_sent_together_only_the_one_refused_is_lost(self):
        self.open("survey", "d1")
        self.page.route("**/api/plans/*/edits", lambda r: r.abort())
        for label, text in (
            ("height, edge to landing", "7"),
            ("set-back, anchor to edge", "5000"),
            ("name of the drop", "First step"),
        ):
            field = self.page.get_by_label(label, exact=True)
            field.fill(text)
            field.press("Enter")
        waiting = self.page.get_by_role("button", name=re.compile("not saved"))
        waiting.wait_for()
        self.faults.clear()
        self.page.unroute("**/api/plans/*/edits")
        waiting.click()
        self.saved(3)
        self.page.get_by_role("alert").filter(has_text="set-back").first.wait_for()
        drop, was = self.server.plan(self.id).drops[0], canyon().drops[0]
        self.assertEqual(
            (drop.section.height_m.value, drop.section.setback_m, drop.name), (7, was.section.setback_m, "First step")
        )

    def test_what_could_not_be_sent_is_sent_after_the_page_was_left(self):
        self.open("survey", "d1")
        self.page.route("**/api/plans/*/edits", lambda r: r.abort())
        self.page.get_by_label("height, edge to landing", exact=True).fill("7")
        self.page.get_by_label("height, edge to landing", exact=True).press("Enter")
        self.page.get_by_role("button", name=re.compile("not saved")).wait_for()
        asked = []
        self.page.once("dialog", lambda d: (asked.append(d.type), d.accept()))
        self.page.unroute("**/api/plans/*/edits")
        self.page.reload()
        self.saved(2)
        self.faults.clear()
        self.assertEqual(asked, ["beforeunload"])
        self.assertEqual(self.server.plan(self.id).drops[0].section.height_m.value, 7)
        self.assertEqual(self.page.evaluate("Object.keys(localStorage).filter(k => k.startsWith('unsent'))"), [])

    def test_a_plan_in_trouble_stands_in_the_list_with_a_way_out(self):
        with closing(sqlite3.connect(self.server.database)) as conn, conn:
            conn.execute(
                "INSERT INTO revision (plan_id, number, kind, position, parent, saved_at, what, title, body) SELECT"
                " plan_id, 2, 'edit', 2, 1, saved_at, 'odd', title, replace(body, '\"format\":1', '\"format\":7') FROM"
                " revision WHERE plan_id = ? AND number = 1",
                (self.id,),
            )
        self.go("")
        row = (
            self.page.get_by_role("list", name="plans")
            .locator("li")
            .filter(has=self.page.locator(f'a[href^="/plans/{self.id}/"]'))
        )
        row.get_by_role("alert").filter(has_text="cannot be read").wait_for()
        row.get_by_role("link", name="Save as file").wait_for()
        row.get_by_role("button", name="Undo").click()
        row.get_by_role("alert").wait_for(state="detached")
        self.assertEqual(self.server.plan(self.id), canyon())

    def test_a_drag_over_a_slow_line_shows_only_answers_with_their_own_position_and_saves_the_last(self):
        self.open("survey", "d5")
        seen = []

        def slow(route):
            seen.append(route.request.post_data_json["drop"]["section"]["setback_m"]["value"])
            self.page.wait_for_timeout(120)
            route.continue_()

        self.page.route("**/preview", slow)
        box = self.page.locator('[data-handle="edge"]').bounding_box()
        x, y = box["x"] + 12, box["y"] + 12
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        for i in range(40):
            self.page.mouse.move(x + i * 2, y)
        self.page.mouse.up()
        self.saved(2)
        saved = self.server.plan(self.id).drops[4].section.setback_m.value
        self.assertGreater(saved, max(v for v in seen[:1]))
        self.assertLess(len(seen), 40, "one request at a time, the newest position wins")
        field = self.page.get_by_label("set-back, anchor to edge", exact=True)
        self.assertAlmostEqual(float(field.input_value()), saved)

    def test_a_plan_that_is_gone_and_a_page_that_never_was(self):
        self.go("plans/nobody/rig")
        self.page.get_by_text("This plan cannot be opened").wait_for()
        self.go("nowhere/at/all")
        self.page.get_by_text("There is nothing here").wait_for()
        self.page.get_by_role("link", name="All plans").click()
        self.page.get_by_role("list", name="plans").wait_for()

    def test_zoom_pan_and_fit(self):
        self.open("rig", "d5")
        cutaway = self.page.get_by_test_id("cutaway")
        fitted = float(cutaway.get_attribute("data-scale"))
        box = cutaway.bounding_box()
        self.page.mouse.move(box["x"] + 330, box["y"] + 200)
        self.page.mouse.wheel(0, -400)
        self.page.wait_for_function(
            "s => Number(document.querySelector('[data-testid=cutaway]').dataset.scale) > s * 1.5", arg=fitted
        )
        at = self.page.locator('[data-handle="edge"]').get_attribute("transform")
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + 380, box["y"] + 240, steps=4)
        self.page.mouse.up()
        self.assertNotEqual(self.page.locator('[data-handle="edge"]').get_attribute("transform"), at)
        self.page.keyboard.press("f")
        self.page.wait_for_function(
            "s => Number(document.querySelector('[data-testid=cutaway]').dataset.scale) === s", arg=fitted
        )
        self.assertEqual(self.server.plan(self.id), canyon())

    def test_a_tall_drop_gets_insets_and_a_short_one_is_not_blown_up(self):
        for height, insets in ((90, 2), (1.2, 0)):
            data = plan_of(doubled())
            data["drops"][0]["section"]["height_m"] = known(height, "tape")
            self.open("rig", "d1", plan=self.server.add(read_plan(data)))
            self.assertEqual(self.page.get_by_text(re.compile("^at the (ring|landing)$")).count(), insets)
            self.assertLessEqual(float(self.page.get_by_test_id("cutaway").get_attribute("data-scale")), 60)


class Shed(Browsing):
    def test_removing_a_rope_in_use_is_said_and_undone(self):
        self.open("shed", "d1")
        self.page.get_by_role("button", name=re.compile("^Blue 60")).first.click()
        self.page.get_by_role("button", name="Remove").click()
        self.saved(2)
        self.page.keyboard.press("3")
        self.page.locator('[data-code="system.missing"]').wait_for()
        self.page.get_by_role("button", name="undo (Ctrl Z)").click()
        self.saved(3)
        self.page.locator('[data-code="system.missing"]').wait_for(state="detached")
        self.assertEqual(self.server.plan(self.id), canyon())

    def test_two_ropes_of_one_name_are_refused_at_the_field(self):
        self.open("shed", "d1")
        self.page.get_by_role("button", name=re.compile("^Green 35")).click()
        name = self.page.get_by_label("name", exact=True)
        name.fill("blue 60")
        name.press("Enter")
        self.page.get_by_role("alert").filter(has_text="is taken").first.wait_for()
        self.assertEqual(self.server.plan(self.id), canyon())

    def test_damage_margin_and_title_are_saved(self):
        self.open("shed", "d1")
        region = self.page.locator("main")
        region.get_by_role("heading", name="Damaged places").locator("..").get_by_role("button").click()
        self.saved(2)
        for revision, label, text in ((3, "from end A", "12"), (4, "rope it takes", "0.8")):
            field = self.page.get_by_label(label, exact=True)
            field.fill(text)
            field.press("Enter")
            self.saved(revision)
        self.page.get_by_text("57.9").first.wait_for()
        self.page.get_by_role("button", name=re.compile("^Schools and margin")).click()
        self.page.get_by_role("button", name="follow 10 × static").click()
        self.page.get_by_role("button", name="follow 2.0 × peak").wait_for()
        self.page.get_by_role("button", name=re.compile("^Title, place")).click()
        place = self.page.get_by_label("place", exact=True)
        place.fill("somewhere wet")
        place.press("Enter")
        self.saved(6)
        plan = self.server.plan(self.id)
        self.assertEqual(
            (plan.place, plan.policies.margin.kind, len(plan.shed.ropes[0].damage)),
            ("somewhere wet", "static ratio", 1),
        )


class OwnFigures(Browsing):
    def test_a_figure_of_ones_own_needs_a_reason_is_used_and_shown_and_can_be_dropped(self):
        self.open("shed", "d1")
        self.page.get_by_role("button", name=re.compile("^Own figures")).click()
        self.page.get_by_label("figure to replace").fill("least peak load counted (4 kN)")
        self.page.get_by_label("own low").fill("6")
        self.page.get_by_role("button", name="Use it").click()
        self.page.get_by_text("needs its reason").wait_for()
        self.assertEqual(self.server.plan(self.id), canyon())
        self.page.get_by_label("own reason").fill("bouncy novices")
        self.page.get_by_role("button", name="Use it").click()
        self.saved(2)
        self.page.locator('[data-code="figure.own"]').get_by_text("bouncy novices").wait_for()
        self.open("rig", "d1")
        self.page.locator('[data-part="anchor"]').get_by_role("button", name="1.5 ×").click()
        panel = self.page.get_by_role("region", name="Working")
        panel.locator("dl button").last.click()
        panel.locator("dl button").last.click()
        panel.get_by_text("own figure, in place of 4 to 4: bouncy novices").wait_for()
        self.open("shed", "d1")
        self.page.get_by_role("button", name=re.compile("^Own figures")).click()
        low = self.page.get_by_label("low of least peak load counted")
        low.fill("-3")
        low.press("Enter")
        self.page.get_by_role("alert").filter(has_text="above 0").first.wait_for()
        self.page.get_by_role("button", name=re.compile("^drop the own figure")).click()
        self.saved(3)
        self.assertEqual(self.server.plan(self.id), canyon())


class Reference(Browsing):
    def test_every_figure_is_there_with_its_source_and_can_be_searched(self):
        from reamer.core.tables import NAMES, patterns, table

        every = sum(len(table(n).rows) for n in NAMES) + len(patterns())
        self.go("")
        self.page.get_by_role("link", name="figures and their sources").click()
        self.page.get_by_text(f"{every} figures").wait_for()
        self.page.get_by_label("search the tables").fill("ring bend hmpe")
        self.page.get_by_text("HMPE cord loop closed with a ring bend, slips").wait_for()
        self.assertIn("1.9–2.5", self.page.get_by_role("region", name="Pull tests").inner_text())
        self.page.get_by_label("search the tables").fill("granny")
        self.page.get_by_text("Nothing in the tables answers").wait_for()


class Labels(Browsing):
    """Labels are never on top of each other, nor outside the drawing, on the demo and on random sections."""

    def test_demo(self):
        for units, drops in (("metric", canyon().drops), ("us", canyon().drops[::2])):
            page = self.page_of(units=units)
            for drop in drops:
                self.open("survey", drop.id, page)
                page.get_by_role("heading", name=drop.name).wait_for()
                self.apart(page)

    def test_random_sections(self):
        drops = []

        @given(descents())
        @law(40, phases=[Phase.generate])
        def gather(points):
            shots = [
                {
                    "id": f"s{i}",
                    "slope_m": known(math.hypot(x2 - x1, z2 - z1), "guidebook"),
                    "edge": "coarse",
                    "incl_deg": known(math.degrees(math.atan2(z2 - z1, x2 - x1))),
                }
                for i, ((x1, z1), (x2, z2)) in enumerate(itertools.pairwise(points))
            ]
            data = plan_of(doubled(), section={"kind": "shots", "shots": shots})
            try:
                plan = read_plan(data)
            except PlanError:
                return
            if len(plan.drops[0].section.shots) > 1 and assess(plan).drops[0].geometry.ring:
                drops.append({**data["drops"][0], "id": f"d{len(drops) + 1}", "name": f"Random {len(drops) + 1}"})

        gather()
        data = plan_of(doubled())
        data["drops"] = drops if LONG else drops[:12]
        self.assertGreaterEqual(len(data["drops"]), 10)
        plan_id = self.server.add(read_plan(data))
        self.open("survey", "d1", plan=plan_id)
        for drop in data["drops"]:
            self.page.get_by_role("heading", name=re.compile(rf"· {drop['name']}( ·|$)")).wait_for()
            with self.subTest(drop["name"]):
                self.apart(self.page)
            self.page.keyboard.press("j")


class Strip(Browsing):
    def test_forty_stations_still_read_and_the_one_in_view_is_never_hidden(self):
        data = json.loads(canyon().model_dump_json())
        data["drops"] = [{**data["drops"][i % 9], "id": f"d{i + 1}", "name": f"Step {i + 1}"} for i in range(40)]
        plan_id = self.server.add(read_plan(data))
        self.open("rig", "d33", plan=plan_id)
        self.page.get_by_role("heading", name="33 · Step 33").wait_for()
        stops = self.page.evaluate("""() => [...document.querySelectorAll('[data-stop]')].map(e => {
            const r = e.getBoundingClientRect(); return [r.top, r.bottom]; })""")
        self.assertEqual(len(stops), 40)
        for (_, bottom), (top, _) in itertools.pairwise(stops):
            self.assertLessEqual(bottom, top + 0.5)
        box = self.page.locator('[data-stop="d33"]').bounding_box()
        self.assertTrue(box["y"] >= 46 and box["y"] + box["height"] <= 800)


if __name__ == "__main__":
    unittest.main()
