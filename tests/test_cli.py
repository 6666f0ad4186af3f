"""The command line: what it prints, its exit codes, and that it says what the API says."""

import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from reamer.core.reading import PlanFile
from tests.builders import doubled, known, plan_of, two_drops
from tests.command import reamer as run
from tests.rehearsing import descent_of, party


def process(*args, stdin=""):
    return subprocess.run([sys.executable, "-m", "reamer", *args], input=stdin, capture_output=True, text=True)


class CommandLine(unittest.TestCase):
    def check(self, text, *more):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "plan.json"
            path.write_text(text)
            return run("check", str(path), *more)

    def test_demo_is_found_wanting(self):
        demo = process("demo", "canyon")
        self.assertEqual(demo.returncode, 0)
        checked = run("check", "-", stdin=demo.stdout)
        self.assertEqual(checked.returncode, 1)
        self.assertIn("SHORTFALL  Green 35 does not reach", checked.stdout)
        self.assertIn("Fix: Use Slate 50 instead", checked.stdout)
        self.assertNotIn("No shortfall found", checked.stdout)

    def test_clear_plan_exits_nought_and_still_says_what_was_not_looked_at(self):
        clear = self.check(json.dumps(plan_of(doubled())))
        self.assertEqual(clear.returncode, 0, clear.stdout)
        self.assertIn("No shortfall found in what was checked.\nNot looked at:", clear.stdout)
        self.assertIn("arithmetic on what was entered", clear.stdout)

    def test_a_second_persons_word(self):
        data = plan_of(doubled())
        data["drops"][0]["cracks"] = "unknown"

        def with_record(verdict):
            whole = json.loads(self.check(json.dumps(data), "--json").stdout)["check"]
            severity = "Not checked" if verdict == "accepted" else "Shortfall"
            said = [
                {"item": x["item"]["key"], "by": "Wren", "at": "2026-05-01T20:00:00Z", "verdict": verdict,
                 "remark": "looked at it from below", "revision": 1, "rests": x["item"]["rests"]}
                for x in whole["looked"] if x["item"]["severity"] == severity
            ]  # fmt: skip
            return json.dumps({**data, "record": {"verdicts": said}})

        self.assertEqual(self.check(json.dumps(data)).returncode, 1)
        got = self.check(with_record("accepted"))
        self.assertEqual(got.returncode, 0, got.stdout)
        self.assertIn("1 accepted by name", "\n".join(got.stdout.splitlines()[:4]))
        self.assertIn("-- accepted by name", got.stdout)
        self.assertIn("Accepted by Wren, 2026-05-01: looked at it from below", got.stdout)
        data["drops"][0]["section"]["height_m"] = known(44, "tape")
        got = self.check(with_record("overruled"))
        self.assertEqual(got.returncode, 1)
        self.assertIn("of the shortfalls overruled", got.stdout)
        self.assertIn("Overruled by Wren, 2026-05-01", got.stdout)
        self.assertNotIn("No shortfall found", got.stdout)

    def test_units(self):
        text = json.dumps(plan_of(doubled()))
        self.assertIn("15.0 m", self.check(text).stdout)
        self.assertIn("49.2 ft", self.check(text, "--units", "us").stdout)

    def test_json_holds_every_working(self):
        whole = json.loads(self.check(json.dumps(plan_of(doubled())), "--json").stdout)
        self.assertIn("wrap.holds.low", {w["key"] for w in whole["workings"]["d1"]})

    def test_unreadable_is_one_line_that_names_the_field(self):
        bad = plan_of(doubled())
        bad["drops"][0]["section"]["height_m"] = known(-4, "tape")
        for text, says in (
            (json.dumps(bad), "reamer: drops/0/section/height_m: a drop's height must lie"),
            ("{", "reamer: the file is not JSON"),
            (json.dumps({"format": 3}), "reamer: format: "),
        ):
            with self.subTest(says):
                got = self.check(text)
                self.assertEqual((got.returncode, got.stdout, got.stderr.count("\n")), (2, "", 1))
                self.assertTrue(got.stderr.startswith(says), got.stderr)
        self.assertEqual(run("check", "/nowhere/plan.json").returncode, 2)
        self.assertEqual(run("demo", "glacier").returncode, 2)

    def test_the_whole_descent_is_told_and_counts(self):
        demo = run("demo", "canyon").stdout
        checked = run("check", "-", stdin=demo)
        for said in (
            "SHORTFALL  If the rope sticks, or one is lost, at 5 to 8, you cannot leave 9",
            "Fix: Carry Red 70 too",
            "Lightest that does: Blue 60, Slate 50, Orange cord 42, Red 70, 11.7 kg.",
            "SHORTFALL  End B of Blue 60 is still above when it is to be threaded",
            "The pull here begins by 17:07 at the latest.",
            "Left behind:",
        ):
            self.assertIn(said, checked.stdout)
        # Nothing is wrong with either station: what would strand the party is in how one follows the other.
        two = two_drops(doubled(), doubled())
        got = self.check(json.dumps(two))
        self.assertEqual(got.returncode, 1)
        self.assertIn("you cannot leave 2 (Two)", got.stdout)
        self.assertNotIn("No shortfall found", got.stdout)
        two["contingencies"] = {"lost": False, "stuck": False}
        got = self.check(json.dumps(two))
        self.assertEqual(got.returncode, 0, got.stdout)
        self.assertIn("You have not asked for it: if ", got.stdout)

    def test_json_holds_what_lies_ahead(self):
        whole = json.loads(self.check(json.dumps(two_drops(doubled(), doubled())), "--json").stdout)
        self.assertEqual([r["number"] for r in whole["prospect"]["rows"]], [1, 2])
        self.assertEqual(whole["descent"]["ledger"]["ropes"], ["r1"])

    def test_a_rehearsal_says_aloud_what_is_wrong_first_and_counts(self):
        demo = run("demo", "buttress").stdout
        got = run("rehearse", "-", stdin=demo)
        self.assertEqual((got.returncode, got.stderr), (1, ""))
        first = got.stdout.index("Bram hangs on a device and a third hand that nobody has tested")
        self.assertLess(got.stdout.index("Say aloud first"), first)
        self.assertLess(first, got.stdout.index("1  Brow"))
        self.assertIn("Fix: Back to its place: Bram unclips the tether", got.stdout)
        self.assertIn("Lotte is held by the device (their own hand, Bram’s belay from below): one path.", got.stdout)
        self.assertIn(
            "Bram hangs on a device and a third hand that nobody has tested", run("check", "-", stdin=demo).stdout
        )
        one = run("rehearse", "-", "--station", "4", "--person", "lotte", stdin=demo).stdout
        self.assertNotIn("1  Brow", one)
        self.assertNotIn("Sunniva is held", one)
        whole = json.loads(run("rehearse", "-", "--json", stdin=demo).stdout)
        self.assertEqual(len(whole["runs"]), 7)
        self.assertTrue(all(s["held"] for s in whole["runs"][0]["steps"]))
        for arguments, said in (
            (("--station", "9"), "stations 1 to 7"),
            (("--person", "Nobody"), "in the party are Sunniva, Bram, Lotte"),
        ):
            wrong = run("rehearse", "-", *arguments, stdin=demo)
            self.assertEqual((wrong.returncode, wrong.stderr.count("\n")), (2, 1))
            self.assertIn(said, wrong.stderr)
        clean = run("rehearse", "-", stdin=json.dumps(descent_of("doubled", party(3))))
        self.assertEqual(clean.returncode, 0, clean.stdout)
        self.assertIn("No hazard found in what was rehearsed.", clean.stdout)

    def test_what_is_in_hand_if_a_rope_sticks(self):
        demo = run("demo", "canyon").stdout
        got = run("in-hand", "-", stdin=demo)
        self.assertEqual((got.returncode, got.stderr), (0, ""))
        self.assertIn("Until 21.2 m: both strands can be tied together and climbed", got.stdout)
        one = run("in-hand", "-", "--station", "6", "--units", "us", stdin=demo).stdout
        self.assertNotIn("5  Bolt of Cloth", one)
        self.assertNotIn("climbed", one)
        whole = json.loads(run("in-hand", "-", "--json", stdin=demo).stdout)
        self.assertEqual([m["number"] for m in whole], list(range(1, 10)))
        self.assertEqual(run("in-hand", "-", stdin=run("demo", "gully").stdout).returncode, 1)
        self.assertEqual(run("in-hand", "-", "--station", "10", stdin=demo).returncode, 2)

    def test_the_sheet_is_written(self):
        demo = run("demo", "gully").stdout
        with tempfile.TemporaryDirectory() as folder:
            for name, magic in (("o.svg", b"<svg"), ("o.png", b"\x89PNG")):
                path = Path(folder) / name
                got = run("overview", "-", "--out", str(path), stdin=demo)
                self.assertEqual((got.returncode, got.stderr), (0, ""))
                self.assertTrue(path.read_bytes().startswith(magic))
            got = run("overview", "-", "--out", str(Path(folder) / "o.gif"), stdin=demo)
            self.assertEqual((got.returncode, got.stderr.count("\n")), (2, 1))
            self.assertIn("written as .svg or .png", got.stderr)
            got = run("overview", "-", "--out", str(Path(folder) / "no" / "o.svg"), stdin=demo)
            self.assertEqual(got.returncode, 2)

    def test_the_card_is_written(self):
        demo = run("demo", "gully").stdout
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "card.pdf"
            got = run("card", "-", "--out", str(path), "--paper", "a4", "--units", "us", stdin=demo)
            self.assertEqual((got.returncode, got.stderr), (0, ""))
            self.assertTrue(path.read_bytes().startswith(b"%PDF-"))
            for more, said in (
                (("--out", str(Path(folder) / "card.txt")), "written as .pdf"),
                (("--out", str(path), "--station", "9"), "stations 1 to 4"),
                (("--out", str(Path(folder) / "no" / "card.pdf")), "No such file"),
            ):
                got = run("card", "-", *more, stdin=demo)
                self.assertEqual((got.returncode, got.stderr.count("\n")), (2, 1))
                self.assertIn(said, got.stderr)

    def test_schema(self):
        made = json.loads(run("schema").stdout)
        self.assertEqual(made.pop("$id"), "urn:reamer:plan:1")
        self.assertIn("2020-12", made.pop("$schema"))
        self.assertEqual(made, PlanFile.model_json_schema())
