"""The rehearsal as a guide goes through it: by keys and by pointer, with one thing broken, mended and taken back."""

import json
import re
import unittest

from playwright.sync_api import expect

from reamer.core.model import Plan
from reamer.core.reading import read_plan
from reamer.core.rehearsal.rehearsal import station_run
from reamer.demos import DEMOS, buttress, canyon, gully
from tests import LONG
from tests.browser.harness import Browsing
from tests.builders import doubled, plan_of
from tests.command import reamer
from tests.core.test_rehearsal import Demos
from tests.rehearsing import descent_of, party, run_of

# Every act of the station by the key, and what overlaps or leaves the stage after each.
WALK = """
async (from) => {
  const painted = () => new Promise((done) => requestAnimationFrame(() => setTimeout(done)));
  const wrong = [];
  let acts = 0;
  for (;;) {
    const act = document.querySelector('[data-testid=act]').textContent;
    const stage = document.querySelector('[data-testid=stage]').getBoundingClientRect();
    const boxes = [...document.querySelectorAll('[data-testid=stage] [data-label]')].map((e) => {
      const r = e.getBoundingClientRect();
      return { id: e.dataset.label, l: r.left, t: r.top, r: r.right, b: r.bottom };
    });
    acts += 1;
    for (const [i, a] of boxes.entries()) {
      if (a.l < stage.left - 1 || a.r > stage.right + 1 || a.t < stage.top - 1 || a.b > stage.bottom + 1)
        wrong.push(`${act}: ${a.id} leaves the stage`);
      for (const b of boxes.slice(i + 1))
        if (a.l < b.r - 0.5 && b.l < a.r - 0.5 && a.t < b.b - 0.5 && b.t < a.b - 0.5)
          wrong.push(`${act}: ${a.id} lies on ${b.id}`);
    }
    const spans = [...document.querySelectorAll("[data-label^=span-]")]
      .map((e) => [e.dataset.label, e.getBoundingClientRect()]);
    for (const [i, [id, a]] of spans.entries())
      for (const [other, b] of spans.slice(i + 1))
        if (a.left < b.right - 1 && b.left < a.right - 1 && a.top < b.bottom - 2 && b.top < a.bottom - 2)
          wrong.push(`${act}: ${id} lies on ${other}`);
    const [, n, of] = document.body.innerText.match(/Act (\\d+) of (\\d+)/);
    if (n === of) return [acts, Number(of), wrong];
    window.dispatchEvent(new KeyboardEvent('keydown', { key: '.', bubbles: true }));
    await painted();
  }
}
"""


class Rehearse(Browsing):
    def plan(self) -> Plan:
        return self.server.plan(self.id)

    def begin(self, plan: Plan | None = None, drop: str = "d1", page=None) -> None:
        if plan is not None:
            self.id = self.server.add(plan)
        page = page or self.page
        self.open("rehearse", drop, page)
        page.get_by_test_id("act").wait_for()
        page.get_by_test_id("standing-acts").filter(has_text="shortfall").wait_for()

    def act(self) -> int:
        return int(re.search(r"Act (\d+) of", self.page.locator("aside").inner_text()).group(1))

    def said(self) -> str:
        return self.page.get_by_test_id("act").inner_text()

    def plan_run(self, k: int = 2):
        run = run_of(self.plan())
        return station_run(run.scene.ctx, run, k)

    def to(self, act: str) -> None:
        """To the first act that is said so, by the key."""
        while act not in self.said():
            said = self.said()
            self.press(".")
            self.page.get_by_test_id("act").filter(has_not_text=said).wait_for()

    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)

    def hazard(self, code: str):
        return self.page.locator(f'aside [data-code="{code}"]')


class Mistakes(Rehearse):
    def test_each_is_found_walked_to_broken_mended_and_taken_back_by_keys_alone(self):
        """One of each demonstration, all of them in the long run: that each is found is the core's."""
        for demo, every in Demos.PLANTED.items():
            planted = every if LONG else every[:1]
            plan = demo()
            play = run_of(plan)
            places = {a.key: (p.k, n + 1) for p in play.stations for n, a in enumerate(p.acts)}
            self.begin(plan)
            revision = 1
            for code, key in planted:
                with self.subTest(demo=plan.title, code=code):
                    k, n = places[key]
                    for _ in range(20):
                        self.press("h")
                        self.settled()
                        if self.hazard(code).count() and (f"/{plan.drops[k].id}" in self.page.url) and self.act() == n:
                            break
                    self.hazard(code).first.wait_for()
                    self.assertEqual(self.act(), n)
                    self.page.get_by_label("break one thing here").wait_for()
                    if self.page.locator("[data-fault]").count():
                        self.press("B", "b")
                        self.page.get_by_test_id("story").first.wait_for()
                        self.assertTrue(self.page.get_by_test_id("story").first.inner_text())
                        self.press("B")
                        self.page.get_by_test_id("story").wait_for(state="detached")
                    self.hazard(code).get_by_role("button").first.wait_for()
                    self.press("g")
                    tried = self.page.get_by_label("tried on the time line")
                    tried.get_by_role("button", name="Apply", disabled=False).wait_for()
                    self.assertEqual(self.page.locator(f'[data-hazard="{code}"][data-act="{n}"]').count(), 0)
                    self.press("Enter")
                    self.saved(revision + 1)
                    tried.wait_for(state="detached")
                    self.assertNotEqual(self.plan(), plan)
                    self.press("Control+z")
                    self.saved(revision + 2)
                    self.page.get_by_test_id("standing-acts").filter(has_text="shortfall").wait_for()
                    revision += 2
                    self.assertEqual(self.plan(), plan)

    def test_what_is_tried_is_left_by_escape_and_nothing_is_saved(self):
        self.begin(drop="d6")
        self.press("h")
        self.hazard("rehearse.left").get_by_role("button").first.wait_for()
        self.press("g")
        self.page.get_by_label("tried on the time line").wait_for()
        self.press("Escape")
        self.page.get_by_label("tried on the time line").wait_for(state="detached")
        self.assertEqual(self.plan(), canyon())


class Words(Rehearse):
    def test_the_screen_and_the_command_line_say_the_same(self):
        whole = canyon()
        few = whole.model_copy(update={"drops": whole.drops[:3]})
        out = reamer("rehearse", "-", "--station", "3", stdin=few.model_dump_json()).stdout
        told = re.findall(r"^[ +] +(\d+)  (.+)$", out, re.M)
        self.begin(few, drop="d3")
        self.press("Home")
        self.assertEqual(int(told[-1][0]), len(told))
        for n, words in told:
            said = self.said()
            self.assertEqual(self.act(), int(n))
            self.assertEqual(words.removeprefix("DRAFT  ")[: len(said)], said)
            self.press(".")
        held = re.findall(r"^ {6,}(\w+ is held by .+)$", out, re.M)
        self.assertTrue(held)
        every = self.page.request.get(f"{self.server.address}/api/plans/{self.id}/revisions/1/rehearsal/d3").json()
        first = next(s for s in every["steps"] if any(h["paths"] > 1 for h in s["held"]))
        self.press("Home", *["."] * (first["number"] - 1))
        self.assertIn(self.page.get_by_test_id("held").inner_text(), held)


class Drawn(Rehearse):
    def test_no_label_lies_on_another_on_any_act_of_the_demos(self):
        """Of stations that are rigged alike one is gone through; in the long run, one over each landing."""
        seen = set()
        for name, demo in DEMOS.items():
            plan = demo()
            self.begin(plan)
            play = run_of(plan)
            for d, p in zip(plan.drops, play.stations, strict=True):
                alike = tuple(st.system.kind for st in d.station.states)
                alike = (*alike, d.landing.kind, len(plan.party)) if LONG else alike
                if p.barred or alike in seen:
                    continue
                seen.add(alike)
                self.go(f"plans/{self.id}/rehearse/{d.id}")
                self.settled()
                self.page.get_by_test_id("act").wait_for()
                self.page.get_by_test_id("stage").wait_for()
                self.press("Home")
                acts, of, wrong = self.page.evaluate(WALK)
                self.assertEqual((acts, wrong), (of, []), (name, d.id))

    def test_axe_finds_nothing(self):
        page = self.page
        self.begin()
        page.keyboard.press("h")
        for view in ("Time line", "Acts × people", "People", "Read aloud", "Quiz"):
            if view in ("Read aloud", "Quiz"):
                page.get_by_role("button", name=view).click()
                page.get_by_role("dialog").wait_for()
            else:
                page.get_by_role("tab", name=view, exact=True).click()
            # The first is looked at whole; of the others, what is new.
            part = "dialog" if view in ("Read aloud", "Quiz") else "main"
            self.accessible(page, view, themes=True, within="html" if view == "Time line" else part)
            if view in ("Read aloud", "Quiz"):
                page.keyboard.press("Escape")
                page.get_by_role("dialog").wait_for(state="detached")

    def test_a_pitch_that_was_climbed_is_drawn_and_gone_through(self):
        system = {"kind": "lowered", "rope": "r1", "end": "b", "belayer": "below", "far_end_closed": True}
        for top, word in (("bight through", "bight"), ("end re-tied", "again")):
            data = descent_of("doubled", party(2), "ledge", 1)
            data["drops"][0]["station"]["states"][0]["system"] = {**system, "top": top}
            self.begin(read_plan(data))
            every = self.page.request.get(f"{self.server.address}/api/plans/{self.id}/revisions/1/rehearsal/d1").json()
            n = next(s["number"] for s in every["steps"] if word in json.dumps(s["words"]))
            self.press("Home", *["."] * (n - 1))
            self.assertIn(word, self.said())
            self.assertEqual(self.page.locator("[data-person]").count(), 2)

    def test_who_holds_the_person_in_view_is_lit_path_by_path(self):
        self.begin()
        every = self.page.request.get(f"{self.server.address}/api/plans/{self.id}/revisions/1/rehearsal/d1").json()
        for n in (1, 14, 34, 36):
            step = every["steps"][n - 1]
            self.press("Home", *["."] * (n - 1))
            who = next(p for p in step["shows"]["people"] if p["who"] == step["who"])
            lit = self.page.get_by_test_id("stage").locator("[data-path]")
            self.assertEqual(lit.count(), len(who["lit"]))
            self.assertEqual(len(who["lit"]), who["paths"])
        self.press("ArrowDown")
        self.assertIn("Maren", self.page.get_by_test_id("held").inner_text())

    def test_people_move_and_stand_still_where_less_motion_is_asked_for(self):
        for motion, moves in (("no-preference", "0.18s"), ("reduce", "0s")):
            self.page.emulate_media(reduced_motion=motion)
            self.begin()
            person = self.page.locator("[data-person]").first
            self.assertEqual(person.evaluate("e => getComputedStyle(e).transitionDuration"), moves)

    def test_figures_are_in_us_units_where_those_are_chosen(self):
        page = self.page_of(units="us")
        self.begin(drop="d3", page=page)
        page.keyboard.press("h")
        page.get_by_label("hazard").first.wait_for()
        page.locator("[data-fault]").first.wait_for(state="attached")
        page.keyboard.press("b")
        page.get_by_test_id("story").first.wait_for()
        self.assertRegex(page.locator("aside").inner_text(), r"\d ft")
        self.assertNotRegex(page.locator("aside").inner_text(), r"\d m\b")


class Walking(Rehearse):
    def test_keys_walk_over_acts_people_and_stations(self):
        self.begin(drop="d1")
        self.press("End")
        last = self.act()
        self.press(".")
        self.page.wait_for_url("**/rehearse/d2")
        self.page.get_by_text(re.compile("^Act 1 of")).wait_for()
        self.press(",")
        self.page.wait_for_url("**/rehearse/d1")
        self.page.get_by_text(re.compile(f"^Act {last} of")).wait_for()
        self.press("Shift+ArrowRight")
        self.page.get_by_role("heading", name="Churn, act 1").wait_for()
        self.press("j")
        self.page.wait_for_url("**/rehearse/d3")

    def test_arrows_walk_over_moves_and_stations_and_commas_over_the_acts_of_one(self):
        self.begin(drop="d3")
        run = self.page.request.get(f"{self.server.address}/api/plans/{self.id}/revisions/1/rehearsal/d3").json()
        blocks = self.page.get_by_role("list", name="moves").get_by_role("button")
        self.assertEqual(blocks.count(), len(run["moves"]))
        self.press("Home")
        for m in run["moves"]:
            self.assertEqual(self.act(), m["begin"])
            open_ = blocks.and_(self.page.locator("[aria-current=step]"))
            self.assertEqual(open_.get_attribute("data-move"), m["kind"])
            # The time line holds the acts of the move that is open.
            beads = self.page.locator("[data-bead]").evaluate_all("bs => bs.map(b => +b.dataset.bead + 1)")
            who = [s["number"] for s in run["steps"][m["begin"] - 1 : m["end"]] if s["who"]]
            self.assertEqual(beads, who)
            self.press("ArrowRight")
        # The place is in the address before the station is there to take a key.
        self.page.get_by_role("heading", name="Sill, act 1 of").wait_for()
        self.press("ArrowLeft")
        self.page.wait_for_url("**/rehearse/d3")
        last = run["moves"][-1]
        self.page.get_by_text(re.compile(f"^Act {last['begin']} of")).wait_for()
        # From within a move back goes to its beginning first.
        self.press(".", ".", "ArrowLeft")
        self.assertEqual(self.act(), last["begin"])
        turn = next(m for m in run["moves"] if m["kind"] == "turn")
        blocks.nth(run["moves"].index(turn)).click()
        self.assertEqual(self.act(), turn["begin"])
        seen = self.page.get_by_role("region", name="the move in view")
        seen.get_by_text("Pim: device on end B of Orange cord 42").wait_for()
        self.accessible(self.page, "moves")

    def test_the_pointer_scrubs_and_zooms_to_the_whole_descent(self):
        self.begin()
        self.press("z")
        self.page.get_by_role("button", name="station", exact=True).wait_for()
        line = self.page.get_by_test_id("timeline")
        box = line.bounding_box()
        self.page.mouse.move(box["x"] + 130, box["y"] + 22)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + 400, box["y"] + 22, steps=6)
        self.page.mouse.up()
        self.assertGreater(self.act(), 30)
        self.press("z")
        self.page.get_by_role("button", name="act", exact=True).wait_for()
        self.press("z")
        self.page.get_by_role("button", name="whole descent", exact=True).wait_for()
        # Every station that is reached is there, the last by its number.
        line.get_by_text("8", exact=True).wait_for()
        every = self.page.get_by_role("list", name="moves of all stations").get_by_role("listitem")
        self.assertEqual(every.count(), 9)
        every.nth(8).get_by_text("not reached").wait_for()
        self.assertTrue(every.nth(8).get_by_role("button").first.is_disabled())
        self.page.mouse.click(box["x"] + box["width"] - 60, line.bounding_box()["y"] + 60)
        self.page.wait_for_url(re.compile("/rehearse/d[78]$"))

    def test_the_matrix_is_folded_by_moves_and_goes_to_its_act(self):
        self.begin(drop="d3")
        self.press("v")
        matrix = self.page.get_by_role("table", name="acts and people")
        matrix.wait_for()
        moves = matrix.locator("button[aria-expanded]")
        # A row a move, and those of the acts of the one in view.
        opened = self.plan_run().moves[0]
        self.assertEqual(moves.count(), len(self.plan_run().moves))
        self.assertEqual(matrix.locator("tbody tr").count(), moves.count() + opened.end - opened.begin + 1)
        matrix.get_by_role("button", name=re.compile(r"^move \d+, Pim: falls")).first.click()
        cell = matrix.get_by_role("button", name=re.compile(r"^act \d+, Pim: falls")).first
        n = int(re.search(r"act (\d+)", cell.get_attribute("aria-label")).group(1))
        self.assertEqual(self.act(), n)
        cell.click()
        self.assertEqual(self.act(), n)
        self.assertIn("Pim", self.page.get_by_test_id("held").inner_text())


class Editing(Rehearse):
    def edits(self, drop: int = 0):
        return self.plan().drops[drop].station.through.edits

    def test_an_act_is_moved_dropped_reworded_paused_and_added(self):
        self.begin(drop="d4")
        self.press("Home", ".")
        first = self.said()
        self.press("]")
        self.saved(2)
        self.page.get_by_text(re.compile("^Act 3 of")).wait_for()
        self.assertEqual(self.said(), first)  # the act stays in view where it has gone
        self.press("[")
        self.saved(3)
        self.page.get_by_text(re.compile("^Act 2 of")).wait_for()
        self.assertEqual(len(self.edits(3)), 1)  # one move of an act stands for both
        self.settled()
        self.page.get_by_role("button", name="Other words").click()
        self.page.get_by_label("in your words; what it does stays").fill("Lean back hard, say it aloud")
        self.press("Enter")
        self.saved(4)
        self.page.get_by_test_id("act").filter(has_text="Lean back hard, say it aloud").wait_for()
        self.page.get_by_role("button", name="Everybody stops here").click()
        self.saved(5)
        self.page.locator("aside").get_by_text("Everybody stops here; a second person looks.").wait_for()
        self.page.get_by_role("button", name="Add after it").click()
        form = self.page.get_by_role("form", name="add an act")
        form.get_by_label("what is done").select_option("call")
        form.get_by_label("which").select_option("rope")
        form.get_by_role("button", name="Add it").click()
        self.saved(6)
        self.page.get_by_test_id("act").filter(has_text="calls “rope”").wait_for()
        self.press("Delete")
        self.saved(7)
        through = self.plan().drops[3].station.through
        self.assertEqual([e.kind for e in through.edits], ["move", "reword"])
        self.assertEqual(len(through.pauses), 1)

    def test_a_change_is_kept_as_a_school_for_this_plan_and_all_new_ones(self):
        self.begin(drop="d4")
        self.to("Noor unclips the tether")
        self.page.get_by_role("button", name="Leave out").click()
        self.saved(2)
        self.settled()
        self.page.get_by_role("button", name="Keep as a school of your own").click()
        form = self.page.get_by_role("form", name="keep as a school")
        form.get_by_role("button", name="For this plan").click()
        form.get_by_role("alert").get_by_text("Give it a name").wait_for()
        form.get_by_label("its name").fill("Guests keep their tethers")
        form.get_by_role("button", name="For all new plans too").click()
        self.saved(3)
        form.wait_for(state="detached")
        (kept,) = self.plan().shed.own_schools
        self.assertEqual((kept.name, kept.whom, len(kept.edits)), ("Guests keep their tethers", "guests", 1))
        self.assertEqual(self.edits(3), ())
        here = self.page.get_by_role("region", name="schools of your own here")
        here.get_by_text("Guests keep their tethers, Noor, Pim, Wren").wait_for()
        here.get_by_role("button", name="not here").click()
        self.saved(4)
        self.assertEqual(self.plan().drops[3].station.through.without, (kept.id,))
        self.open("shed")
        self.page.get_by_role("button", name=re.compile("^Schools and margin")).click()
        mine = self.page.get_by_role("region", name="Guests keep their tethers")
        mine.get_by_text("not followed here").wait_for()
        mine.get_by_text(re.compile("It brings, station 5")).first.wait_for()
        follows = mine.get_by_role("checkbox", name="this plan follows it")
        follows.click()
        self.saved(5)
        self.assertFalse(self.plan().shed.own_schools[0].followed)
        mine.get_by_role("checkbox", name="for all new plans", checked=True).wait_for()
        made = self.page.request.post(
            f"{self.server.address}/api/plans", data={"source": {"kind": "empty", "title": "New", "style": "canyon"}}
        ).json()
        self.assertEqual([s["name"] for s in made["plan"]["shed"]["own_schools"]], [kept.name])
        self.assertTrue(made["plan"]["shed"]["own_schools"][0]["followed"])
        # A plan without kit is still asked what it starts with, and keeps the school whatever that is.
        self.open("shed", plan=made["id"])
        self.page.get_by_role("button", name=re.compile("^Your shed, people as usual")).first.click()
        self.saved(2)
        self.assertEqual(len(self.server.plan(made["id"]).shed.own_schools), 1)

    def test_a_bead_is_dragged_and_what_cannot_be_done_stays_as_a_draft_with_its_reason(self):
        self.begin(drop="d4")
        beads = self.page.locator("[data-bead]")
        a, b = beads.nth(0).bounding_box(), beads.nth(6).bounding_box()
        self.page.mouse.move(a["x"] + a["width"] / 2, a["y"] + a["height"] / 2)
        self.page.mouse.down()
        self.page.mouse.move(b["x"] + b["width"] / 2, b["y"] + b["height"] / 2, steps=8)
        self.page.mouse.up()
        self.saved(2)
        (moved,) = self.edits(3)
        self.assertEqual(moved.kind, "move")
        refused = self.page.get_by_role("button", name=re.compile("cannot be done as they stand"))
        refused.or_(self.page.get_by_test_id("refused")).first.wait_for()
        if refused.count():
            refused.click()
        self.page.get_by_test_id("refused").wait_for()
        self.assertIn("A draft, it is not done", self.page.get_by_test_id("refused").inner_text())

    def test_a_change_whose_act_is_gone_is_shown_and_thrown_out(self):
        data = canyon().model_dump(mode="json")
        data["drops"][3]["station"]["through"] = {"edits": [{"kind": "drop", "act": "d4:nobody:test:"}]}
        self.begin(read_plan(data), "d4")
        drafts = self.page.get_by_label("drafts")
        drafts.get_by_text("not part of the order now").wait_for()
        drafts.get_by_role("button", name="Throw out").click()
        self.saved(2)
        drafts.wait_for(state="detached")
        self.assertEqual(self.edits(3), ())


class PeopleHere(Rehearse):
    def test_order_backup_and_attachment(self):
        self.begin(drop="d4")
        self.press("v", "v")
        order = self.page.get_by_label("who goes when").locator("ol button")
        order.nth(5).wait_for()
        names = order.all_inner_texts()
        order.nth(1).focus()
        self.press("Shift+ArrowDown")
        self.saved(2)
        self.page.get_by_text("as you have it").wait_for()
        order.nth(2).filter(has_text=names[1].split("\n")[2]).wait_for()
        one, two = order.nth(3).bounding_box(), order.nth(4).bounding_box()
        self.page.mouse.move(one["x"] + 60, one["y"] + 10)
        self.page.mouse.down()
        self.page.mouse.move(two["x"] + 60, two["y"] + 14, steps=5)
        self.page.mouse.up()
        self.saved(3)
        self.page.get_by_role("button", name="As the rule has it").click()
        self.saved(4)
        self.assertIsNone(self.plan().drops[3].station.through.order)
        order.filter(has_text="Noor").click()
        table = self.page.get_by_role("table", name="backups of Noor")
        expect(table.get_by_role("radio")).to_have_count(8)
        self.assertTrue(table.get_by_role("radio", disabled=True).count())
        table.get_by_label("stacked", exact=True).click()
        self.saved(5)
        (chosen,) = self.plan().drops[3].station.through.backups
        self.assertEqual((chosen.who, chosen.by), ("g2", "stacked"))

    def test_the_handles_move_device_and_loop_and_the_core_answers(self):
        self.begin(drop="d4")
        self.press("v", "v")
        self.page.get_by_label("who goes when").locator("ol button").filter(has_text="Maren").click()
        grip = self.page.get_by_test_id("grip")
        grip.filter(has_text="stays clear of the device").wait_for()
        device = self.page.get_by_role("slider", name=re.compile("^device"))
        before = float(device.get_attribute("aria-valuenow"))
        box = device.bounding_box()
        self.page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2 + 70, steps=6)
        grip.filter(has_text="reaches the device").wait_for()  # while it moves, before anything is saved
        self.assertEqual(self.plan(), canyon())
        self.page.mouse.up()
        self.saved(2)
        maren = next(p for p in self.plan().party if p.name == "Maren")
        self.assertLess(maren.attachment.device_m.value, before)
        loop = self.page.get_by_role("slider", name="loop, laid length")
        loop.focus()
        self.press("ArrowDown")
        self.saved(3)
        now = next(x for x in self.plan().shed.loops if x.id == maren.hitch.loop)
        was = next(x for x in canyon().shed.loops if x.id == maren.hitch.loop)
        self.assertAlmostEqual(now.length_m.value, was.length_m.value - 0.01)


class Aloud(Rehearse):
    def test_one_move_a_screen_for_everybody_or_one(self):
        self.begin(drop="d4")
        self.page.locator("body").press(" ")
        aloud = self.page.get_by_test_id("aloud")
        aloud.wait_for()
        first = aloud.inner_text()
        self.press(" ")
        self.assertNotEqual(aloud.inner_text(), first)
        self.press("ArrowLeft")
        self.assertEqual(aloud.inner_text(), first)
        dialog = self.page.get_by_role("dialog", name="read aloud")
        dialog.get_by_label("for").select_option(label="Wren")
        dialog.get_by_role("button", name="As a page").click()
        page = self.page.get_by_test_id("page")
        page.get_by_role("heading", name="What Wren does at drop 4").wait_for()
        self.assertTrue(all("Wren" in x or "Everybody" in x for x in page.locator("li").all_inner_texts()))
        self.page.emulate_media(media="print")
        self.assertEqual(page.evaluate("e => getComputedStyle(e).visibility"), "visible")
        self.assertEqual(self.page.locator("header").evaluate("e => getComputedStyle(e).visibility"), "hidden")
        self.assertFalse(dialog.get_by_role("button", name="Close").is_visible())

    def test_acts_that_cannot_be_done_are_left_out_and_that_is_said(self):
        self.begin(buttress(), "d1")
        self.page.locator("body").press(" ")
        dialog = self.page.get_by_role("dialog", name="read aloud")
        dialog.get_by_text("cannot be done as it stands").wait_for()
        dialog.get_by_role("button", name="As a page").click()
        self.assertIn("Left out", self.page.get_by_test_id("page").inner_text())

    def test_what_cannot_be_gone_through_says_why(self):
        nobody, unrigged = plan_of(doubled(), mass=None), plan_of({"kind": "none"})
        for data, why in ((nobody, "Nobody is in the party."), (unrigged, "No rope system is chosen.")):
            plan = self.server.add(read_plan(data))
            self.go(f"plans/{plan}/rehearse/d1")
            self.page.locator("aside").get_by_text(why).wait_for()
        stuck = self.server.add(gully())
        self.go(f"plans/{stuck}/rehearse/d4")
        self.page.locator("aside").get_by_text("Ice 60 is still at station 2.").wait_for()

    def test_the_quiz_tells_the_reason_and_keeps_the_score_here_only(self):
        self.begin(drop="d4")
        self.press("q")
        self.page.get_by_text(re.compile("^question 1 of")).wait_for()
        asked = self.page.request.get(f"{self.server.address}/api/plans/{self.id}/revisions/1/rehearsal/d4/quiz").json()
        for n, q in enumerate(asked[:4]):
            right = next(i for i, o in enumerate(q["options"]) if o["right"])
            self.press(str(right + 1 if n % 2 == 0 else (right + 1) % len(q["options"]) + 1))
            self.page.get_by_test_id("score").filter(has_text=f"{n // 2 + 1} of {n + 1} right").wait_for()
            self.press("Enter")
        self.page.reload()
        self.page.get_by_test_id("act").wait_for()
        self.press("q")
        self.page.get_by_test_id("score").filter(has_text="2 of 4 right").wait_for()
        self.assertEqual(self.plan(), canyon())


if __name__ == "__main__":
    unittest.main()
