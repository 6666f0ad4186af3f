"""The command line: what it prints, its exit codes, and that it says what the API says."""

import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from reamer.core.model import Plan
from tests.builders import doubled, known, plan_of


def run(*args, stdin=""):
    return subprocess.run([sys.executable, "-m", "reamer", *args], input=stdin, capture_output=True, text=True)


class CommandLine(unittest.TestCase):
    def check(self, text, *more):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "plan.json"
            path.write_text(text)
            return run("check", str(path), *more)

    def test_demo_is_found_wanting(self):
        demo = run("demo", "canyon")
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

    def test_schema(self):
        self.assertEqual(json.loads(run("schema").stdout), Plan.model_json_schema())
