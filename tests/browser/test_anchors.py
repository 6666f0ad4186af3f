"""Anchors of every kind as a guide builds, drags and takes them apart."""

import math
import re
import unittest

from reamer.core.answer.context import context
from reamer.core.answer.say import spoken
from reamer.core.assess import assess
from reamer.core.plan.edits import apply
from reamer.core.station.comparison import compare_systems
from reamer.demos import buttress, canyon, gully
from tests.browser.harness import Browsing


class Points(Browsing):
    def setUp(self):
        super().setUp()
        self.id = self.server.add(buttress())

    def plan(self):
        return self.server.plan(self.id)

    def rig(self, drop=0, state=0):
        return self.plan().drops[drop].station.states[state].rig

    def put(self, scope, label, text):
        field = scope.get_by_label(label, exact=True)
        field.fill(text)
        field.press("Enter")

    def test_an_anchor_of_three_points_is_built_from_nothing(self):
        self.open("rig", "d2")
        self.page.keyboard.press("w")
        self.page.get_by_label("tied to", exact=True).select_option("several")
        self.saved(2)
        self.page.get_by_role("button", name="point", exact=True).click()
        self.saved(3)
        legs = self.page.locator("[data-leg]")
        self.assertEqual(legs.count(), 3)
        for i, (out, left, up) in enumerate((("0", "0.3", "0"), ("0.1", "-0.4", "0"), ("-0.2", "0", "0.4"))):
            for label, text in (("out", out), ("left", left), ("up", up)):
                if legs.nth(i).get_by_label(label, exact=True).input_value() != text:
                    self.put(legs.nth(i), label, text)
        self.page.get_by_role("figure", name="the anchor from above and from the side").wait_for()
        self.page.get_by_role("button", name="what left point holds…").click()
        self.put(self.page, "what the anchor holds, and by whom it is given, who says so", "placed today")
        self.put(self.page, "what the anchor holds, and by whom it is given, low", "15")
        self.settled()
        seen = assess(self.plan()).drops[1].several
        self.assertEqual(len(seen.legs), 3)
        legs.nth(0).get_by_text(f"carries up to {spoken(seen.legs[0].worst)}").wait_for()

    def test_several_points_begin_where_their_load_can_be_shared_however_near_the_edge(self):
        for setback in (0, 0.5, 2):
            data = buttress().model_dump(mode="json")
            data["drops"][5]["section"]["setback_m"]["value"] = setback
            self.id = self.server.add(type(buttress()).model_validate(data))
            self.open("rig", "d6", plan=self.id)
            self.page.get_by_role("tab", name="Tied to").click()
            self.page.get_by_label("tied to", exact=True).select_option(label="several points")
            self.saved(2)
            a = assess(self.plan()).drops[5]
            with self.subTest(setback):
                self.assertIsNotNone(a.several)
                self.assertNotIn("legs.unknown", {f.code for f in a.findings})

    def test_a_leg_may_go_to_a_tree_and_a_wrong_place_is_refused_in_words(self):
        self.open("rig", "d1")
        self.page.keyboard.press("w")
        leg = self.page.locator("[data-leg]").first
        self.put(leg, "out", "here")
        leg.get_by_role("alert").filter(has_text="“here” is not a number").wait_for()
        self.put(leg, "out", "99")
        leg.get_by_role("alert").filter(has_text="must lie from").wait_for()
        self.assertEqual(self.plan(), buttress())
        self.put(leg, "out", "0")
        leg.get_by_role("button", name="what left bolt holds…").click()
        leg.get_by_label("kind of point").select_option("post")
        leg.get_by_label("kind of post").select_option("tree")
        self.page.locator('[data-code="tree.sound"]').wait_for()
        leg.get_by_label("alive, well rooted, crown healthy").select_option("yes")
        self.page.locator('[data-code="tree.sound"]').wait_for(state="detached")
        self.page.get_by_text("What left bolt holds is unknown").wait_for()
        feature = self.plan().drops[0].station.features[0]
        self.assertEqual((feature.kind, feature.what, feature.sound), ("post", "tree", "yes"))

    def test_a_point_is_dragged_shares_follow_and_it_is_one_revision(self):
        self.open("rig", "d1")
        figure = self.page.get_by_role("figure", name="the anchor from above and from the side")
        before = figure.locator("text.num").all_text_contents()
        box = self.page.locator('[data-handle="l1-plan"]').bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        for i in range(1, 7):
            self.page.mouse.move(x, y - 4 * i)
        self.page.wait_for_function(
            "t => [...document.querySelectorAll('figure text.num')].map(e => e.textContent).join() !== t",
            arg=",".join(before),
        )
        self.assertEqual(self.plan(), buttress())
        self.page.mouse.up()
        self.saved(2)
        leg = self.rig().legs[0]
        self.assertGreater(leg.aside_m.value, 0.2)
        self.assertEqual((leg.aside_m.method, leg.up_m.value), ("eye", 0.35))

    def test_escape_takes_the_focal_point_back_and_arrow_keys_move_it(self):
        self.open("rig", "d1")
        box = self.page.locator('[data-handle="focal-side"]').bounding_box()
        self.page.mouse.move(box["x"] + 12, box["y"] + 12)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + 32, box["y"] + 32)
        self.page.keyboard.press("Escape")
        self.page.mouse.up()
        self.settled()
        self.assertEqual(self.plan(), buttress())
        self.page.locator('[data-handle="focal-plan"]').focus()
        self.page.keyboard.press("ArrowRight")
        self.saved(2)
        self.assertAlmostEqual(self.rig().out_m.value, 0.65)

    def test_a_piece_is_taken_away_to_see_what_happens(self):
        gone = assess(buttress()).drops[3].several.removals[0]
        self.open("rig", "d4")
        self.page.get_by_role("button", name="hand-size cam", exact=True).click()
        said = self.page.get_by_test_id("removal").inner_text()
        self.assertIn(f"{gone.drop.value + 0.0049:.2f} m", said)
        self.assertIn("nut, high", said)
        self.assertNotIn("hand-size cam", said)
        self.assertEqual(self.plan(), buttress())

    def test_limiting_knots_that_overload_a_point_are_not_offered(self):
        with self.page.expect_response("**/offers?drop=d4"):
            self.open("rig", "d4")
        self.page.locator('[data-code="legs.drop"]').first.wait_for()
        self.settled()
        self.assertEqual(self.page.get_by_role("button", name="Tie limiting knots").count(), 0)

    def test_legs_that_stand_too_wide_are_put_right_with_one_act(self):
        self.open("rig", "d3")
        self.page.locator('[data-code="legs.angle"]').get_by_role("button", name="Put the focal point").click()
        self.saved(2)
        self.assertIn("0 shortfalls", self.tally())

    def test_found_in_place_asks_its_own_questions(self):
        self.open("rig", "d6")
        self.page.keyboard.press("i")
        question = self.page.get_by_role("group", name="Are there cuts, glazed")
        question.get_by_label("no", exact=True).check()
        self.saved(2)
        self.page.locator('[data-code="inspection.answer"]').wait_for(state="detached")
        question.get_by_label("not seen").check()
        self.saved(3)
        self.page.locator('[data-code="inspection.open"]').wait_for()

    def test_both_states_of_a_courtesy_rig_are_seen_and_edited_apart(self):
        self.open("rig", "d7")
        ring = self.page.get_by_test_id("cutaway").locator('circle[aria-label="ring"]').first
        near = ring.get_attribute("cx")
        self.page.get_by_role("button", name="last person").click()
        self.page.wait_for_function(
            "v => document.querySelector('[data-testid=cutaway] circle[aria-label=ring]').getAttribute('cx') !== v",
            arg=near,
        )
        self.page.locator('[data-part="link.over"]').wait_for()
        self.page.keyboard.press("w")
        self.put(self.page.locator('[data-link="over"]'), "takes the ring", "2.6")
        self.saved(2)
        self.assertEqual((self.rig(6, 1).links[0].reach_m.value, self.rig(6, 0).links), (2.6, ()))
        self.page.evaluate("document.activeElement.blur()")
        self.page.keyboard.press("c")
        table = self.page.get_by_role("table", name="both states")
        self.assertIn("for the last person", table.inner_text())
        self.page.get_by_role("button", name="Go back: one state for everyone").click()
        self.saved(3)
        self.assertEqual([s.serves for s in self.plan().drops[6].station.states], ["all"])

    def test_each_way_of_a_courtesy_rig_can_be_rigged(self):
        for _n, (way, pattern, links) in enumerate(
            (
                ("frost knot and a second webbing", "frost knot", 1),
                ("re-threaded frost knot in one long webbing", "frost knot", 1),
                ("single strand extended, and a basket for the party", "re-threaded overhand", 0),
            )
        ):
            with self.subTest(way):
                self.id = self.server.add(buttress())
                self.open("rig", "d2")
                self.page.keyboard.press("c")
                self.page.get_by_role("button", name=f"Rig it so: {way}").click()
                self.saved(2)
                last = self.rig(1, 1)
                self.assertEqual((last.pattern, len(last.links)), (pattern, links))
                a = assess(self.plan()).drops[1]
                self.assertGreater(a.last.geometry.ring[0], a.geometry.ring[0])

    def test_two_posts_are_drawn_in_and_one_is_taken_away(self):
        self.open("rig", "d5")
        self.page.locator('[data-handle="two-focal"]').focus()
        self.page.keyboard.press("ArrowRight")
        self.saved(2)
        rig = self.rig(4)
        self.assertEqual((rig.first_gain_m.value, rig.second_gain_m.value), (0.8, 0.85))
        gone = assess(self.plan()).drops[4].two.removals[0]
        self.page.get_by_role("button", name="left tooth", exact=True).click()
        self.assertIn(
            f"{math.ceil(gone.drop.value * 100 - 1e-4) / 100:.2f} m", self.page.get_by_test_id("removal").inner_text()
        )

    def test_who_hangs_at_the_station_is_counted(self):
        self.open("rig", "d1")
        self.page.keyboard.press("w")
        before = assess(self.plan()).drops[0].parts[0].demand.value
        self.page.get_by_role("group", name="hang at the station").get_by_label("Lotte").check()
        self.saved(2)
        self.assertGreater(assess(self.plan()).drops[0].parts[0].demand.value, before)


class IceAndBlocks(Browsing):
    def setUp(self):
        super().setUp()
        self.id = self.server.add(gully())

    def test_a_thread_that_does_not_meet_and_one_that_does(self):
        self.open("rig", "d4")
        self.page.locator('[data-code="ice.meets"]').get_by_text("The two holes do not meet").wait_for()
        self.page.locator('[data-code="ice.strength"]').wait_for()
        self.page.keyboard.press("w")
        field = self.page.get_by_label("screw's usable length", exact=True)
        field.fill("0.21")
        field.press("Enter")
        self.saved(2)
        self.page.locator('[data-code="ice.meets"]').wait_for(state="detached")
        self.page.get_by_text("The strength of ice is not computed.", exact=True).wait_for()

    def test_a_blocks_weight_can_be_judged_instead(self):
        self.open("rig", "d1")
        self.page.keyboard.press("w")
        self.page.get_by_label("it lies on", exact=True).select_option("wet or loose")
        self.saved(2)
        self.page.locator('[data-code="anchor.weak"]').wait_for()
        self.page.get_by_label("what it holds is", exact=True).select_option("judged")
        self.saved(3)
        self.page.locator('[data-code="anchor.unknown"]').wait_for()

    def test_every_kind_can_be_chosen(self):
        self.open("rig", "d1")
        self.page.keyboard.press("w")
        for n, kind in enumerate(("two posts", "several", "direct", "ice", "wrap", "none"), 2):
            self.page.get_by_label("tied to", exact=True).select_option(kind)
            self.saved(n)
            self.assertEqual(self.page.get_by_role("alert").count(), 0)


class Systems(Browsing):
    def test_one_act_adopts_a_system_and_one_undoes_it(self):
        self.open("rig", "d3")
        self.page.keyboard.press("v")
        table = self.page.get_by_role("table", name="systems compared")
        table.locator("tbody").nth(11).wait_for()
        self.assertIn("does not reach", table.inner_text())
        table.get_by_role("button", name="use two ropes joined, Slate 50 and Blue 60").click()
        self.saved(2)
        self.assertEqual(self.server.plan(self.id).drops[2].station.states[0].system.kind, "joined")
        self.page.keyboard.press("Control+z")
        self.saved(3)
        self.assertEqual(self.server.plan(self.id), canyon())

    def test_the_rule_of_the_order_can_be_changed_and_what_is_never_offered_stands_below(self):
        self.open("rig", "d3")
        self.page.keyboard.press("v")
        panel = self.page.get_by_label("systems compared").first
        panel.locator("tbody").nth(11).wait_for()
        rows = compare_systems(context(canyon()), 2, canyon().drops[2]).ways
        self.page.get_by_label("order of the systems").select_option("spare")
        best = max((w for w in rows if w.spare), key=lambda w: w.spare.value)
        self.assertEqual(panel.locator("tbody").first.get_attribute("data-system"), best.key)
        self.assertIn("cannot be had back from below", panel.inner_text())

    def test_a_key_takes_the_next_system_and_another_pulls_the_other_side(self):
        self.open("rig", "d1")
        self.page.keyboard.press("x")
        self.saved(2)
        self.assertIn("Pull end A, on the right", self.page.get_by_test_id("answer").inner_text())
        self.page.keyboard.press("x")
        self.saved(3)
        ways = compare_systems(context(canyon()), 0, canyon().drops[0]).ways
        here = next(i for i, w in enumerate(ways) if w.in_use)
        self.page.keyboard.press("n")
        self.saved(4)
        after = self.server.plan(self.id).drops[0].station
        self.assertEqual(after, apply(canyon(), ways[here + 1].edits).drops[0].station)

    def test_a_releasable_strand_is_converted_and_its_reserve_drawn(self):
        self.open("rig", "d5")
        self.page.keyboard.press("s")
        self.page.get_by_label("rope system", exact=True).select_option("releasable")
        self.saved(2)
        self.page.get_by_role("button", name=re.compile("^Give the ride strand")).click()
        self.saved(3)
        self.page.get_by_role("button", name="Convert it for the last person").click()
        self.saved(4)
        self.page.get_by_test_id("cutaway").get_by_label("reserve", exact=True).first.wait_for()
        self.assertIn("The last person:", self.page.get_by_test_id("last-answer").inner_text())
        states = self.server.plan(self.id).drops[4].station.states
        self.assertEqual([s.serves for s in states], ["party", "last"])

    def test_a_deviation_and_a_traverse_line_can_be_entered(self):
        self.open("rig", "d5")
        self.page.keyboard.press("s")
        self.page.get_by_role("button", name="deviation", exact=True).click()
        self.saved(2)
        for n, (label, text) in enumerate((("down the rope from the ring", "4"), ("turns the rope by", "60")), 3):
            self.page.get_by_label(label, exact=True).fill(text)
            self.page.get_by_label(label, exact=True).press("Enter")
            self.saved(n)
        want = assess(self.server.plan(self.id)).drops[4].aids[0]
        self.assertIn(
            f"{math.ceil(want.peak.value * 10 - 1e-6) / 10} kN",
            self.page.get_by_label("deviations and traverse line").inner_text(),
        )
        for n, (label, choice) in enumerate((("hung on its anchor", 2), ("its connector", 1), ("taken out by", 1)), 5):
            self.page.get_by_label(label, exact=True).select_option(index=choice)
            self.saved(n)
        made = self.server.plan(self.id).drops[4].station.deviations[0]
        self.assertEqual(made.hung, "sling")
        self.assertTrue(made.sling and made.ring and made.by)
        self.page.get_by_role("button", name="traverse line", exact=True).click()
        self.saved(8)
        self.assertIn("What the traverse line puts on its anchors is unknown", self.page.locator("body").inner_text())


class Pull(Browsing):
    def test_the_pull_is_answered_drawn_and_walked_through(self):
        want = assess(self.server.plan(self.id)).drops[4].pull
        self.open("rig", "d5")
        self.page.keyboard.press("l")
        panel = self.page.get_by_label("pull", exact=True)
        self.assertIn(f"{math.ceil(want.high.value - 1e-6)} N", panel.inner_text())
        self.assertEqual(panel.get_by_role("table").locator("tbody tr").count(), len(want.steps) + 1)
        strand = self.page.get_by_test_id("cutaway").locator("[data-rope] path").first
        before = strand.get_attribute("d")
        slider = self.page.get_by_role("slider", name="rope pulled")
        slider.focus()
        for _ in range(5):
            slider.press("PageUp")
        self.page.wait_for_function(
            "v => document.querySelector('[data-testid=cutaway] [data-rope] path').getAttribute('d') !== v", arg=before
        )
        self.assertNotIn("0.0 m pulled", self.page.get_by_test_id("pulled-now").inner_text())
        self.page.keyboard.press("r")
        self.page.evaluate("document.activeElement.blur()")
        self.page.keyboard.press("r")
        self.page.wait_for_function(
            "v => document.querySelector('[data-testid=cutaway] [data-rope] path').getAttribute('d') === v", arg=before
        )
        self.assertEqual(self.server.plan(self.id), canyon())

    def test_play_runs_to_the_end_and_the_rock_changes_the_force(self):
        self.open("rig", "d1")
        self.page.keyboard.press("l")
        self.page.get_by_role("button", name="play the pull").click()
        self.page.get_by_role("button", name="stop the pull").click()
        self.page.get_by_role("button", name="play the pull").wait_for()
        before = assess(canyon()).drops[0].pull.high.value
        self.page.get_by_label("rock under the rope").select_option("smooth")
        self.saved(2)
        self.assertLess(assess(self.server.plan(self.id)).drops[0].pull.high.value, before)


if __name__ == "__main__":
    unittest.main()
