"""What changed, in words."""

import json
import unittest

from reamer.core.plan.changes import describe_change
from reamer.core.reading import read_plan
from reamer.demos import canyon


def changed(edit):
    data = json.loads(canyon().model_dump_json())
    edit(data)
    return describe_change(canyon(), read_plan(data))


class Changes(unittest.TestCase):
    def test_words(self):
        def height(d):
            d["drops"][0]["section"]["height_m"]["value"] = 9.5

        self.assertEqual(changed(height), "drop Lintel: height, edge to landing 8 m → 9.5 m")
        self.assertEqual(
            changed(lambda d: d["drops"][2]["station"]["states"][0]["system"].update(rope="rope-slate")),
            "drop Long Quiet: rope Green 35 → Slate 50",
        )
        self.assertEqual(changed(lambda d: d["drops"].pop(1)), "drop Churn removed")
        self.assertEqual(changed(lambda d: d["drops"].reverse()), "drops put in another order")
        self.assertEqual(changed(lambda d: d.update(title="B")), "title Fernlid Slot → B")
        self.assertEqual(changed(lambda d: None), "nothing changed")
        self.assertEqual(describe_change(None, canyon()), "created")

    def test_many_changes_are_counted(self):
        def all_names(d):
            for drop in d["drops"]:
                drop["name"] += "!"

        self.assertRegex(changed(all_names), "; and 6 more$")
