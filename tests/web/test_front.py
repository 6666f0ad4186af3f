"""The built front end: what a first page loads, and what waits until it is opened."""

import gzip
import re
import unittest

from reamer.web.settings import STATIC

STEPS = ("PlanList", "Reference", "Survey", "Shed", "Rig", "Descent")


class FirstLoad(unittest.TestCase):
    def test_each_step_is_a_file_of_its_own_that_the_page_does_not_name(self):
        page = (STATIC / "index.html").read_text()
        for step in STEPS:
            self.assertEqual(len(list((STATIC / "assets").glob(f"{step}-*.js"))), 1, step)
            self.assertNotIn(step, page)

    def test_the_page_with_its_heaviest_step_is_at_most_180_kb_compressed(self):
        waiting = {s: self.load([next((STATIC / "assets").glob(f"{s}-*.js")).name]) for s in STEPS}
        first = self.load(re.findall(r"assets/([\w-]+\.js)", (STATIC / "index.html").read_text()))
        for step, files in waiting.items():
            size = sum(len(gzip.compress((STATIC / "assets" / f).read_bytes())) for f in first | files)
            self.assertLessEqual(size, 180_000, step)

    def load(self, names):
        """The files that some files load before they run."""
        seen, todo = set(), list(names)
        while todo:
            name = todo.pop()
            if name not in seen:
                seen.add(name)
                text = (STATIC / "assets" / name).read_text()
                todo += re.findall(r'(?:from|import)"\./([\w-]+\.js)"', text)
        return seen
