"""The figures of a station: nothing leaves them, no label lies on another, both axes are to one scale."""

import json
import math
import re
import unittest
from itertools import pairwise
from xml.etree import ElementTree as ET

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.assess import assess
from reamer.core.errors import PlanError
from reamer.core.reading import read_plan
from reamer.demos import DEMOS
from reamer.figures.station import HEIGHT, LABELS, WIDTH, cutaway, from_above, profile, spare_words
from reamer.figures.svg import png
from tests import law
from tests.builders import known, unknown
from tests.rehearsing import descent_of, party

SVG = "{http://www.w3.org/2000/svg}"


def places(svg):
    """Every place that a figure's paths name, first and last of each [px]."""
    made = []
    for path in ET.fromstring(svg).iter(f"{SVG}path"):
        numbers = re.findall(r"[ML](-?[\d.]+) (-?[\d.]+)", path.get("d"))
        made += [(float(x), float(y)) for x, y in numbers]
    return made


class Cutaway(unittest.TestCase):
    def drawn(self, plan):
        for d in assess(plan, fixes=False).drops:
            for state in (d, d.last):
                if state is not None:
                    yield state, cutaway(plan, state)

    def holds(self, svg):
        for x, y in places(svg):
            self.assertTrue(-1 <= x <= WIDTH + 1 and -1 <= y <= HEIGHT + 1, (x, y))
        said = [t for t in ET.fromstring(svg).iter(f"{SVG}text") if float(t.get("x")) > WIDTH - LABELS]
        lines = sorted(float(t.get("y")) for t in said)
        for a, b in pairwise(lines):
            self.assertGreaterEqual(b - a, 11.5, svg)
        self.assertLessEqual(max(lines, default=0), HEIGHT)

    def test_the_demonstrations(self):
        for demo in DEMOS.values():
            plan = demo()
            for state, svg in self.drawn(plan):
                self.holds(svg)
                self.assertTrue(png(svg).startswith(b"\x89PNG"))
                for r in state.reach:
                    if r.spare is not None and (r.free or r.ridden):
                        self.assertIn(spare_words(r.spare), svg)
                above = from_above(state)
                self.assertEqual(above is None, state.bench is None and state.several is None)
            self.assertTrue(png(profile(assess(plan, fixes=False))).startswith(b"\x89PNG"))

    @law(40)
    @given(st.floats(0.5, 300), st.floats(0, 30), st.floats(0, 12), st.sampled_from(("pool", "ledge", "moving water")))
    def test_any_section(self, height, setback, recess, landing):
        data = json.loads(json.dumps(descent_of("doubled", party(2), landing, 1)))
        data["drops"][0]["section"] |= {
            "height_m": known(height, "tape"), "setback_m": known(setback, "tape"), "recess_m": known(recess, "eye"),
        }  # fmt: skip
        try:
            plan = read_plan(data)
        except PlanError:
            return
        for state, svg in self.drawn(plan):
            self.holds(svg)
            # Both axes are to one scale: a rope's way in pixels is its way in metres, down to where its end hangs.
            ropes = [p.get("d") for p in ET.fromstring(svg).iter(f"{SVG}path") if p.get("stroke-opacity")]
            hung = [r for r in state.reach if r.free or r.ridden]
            for d, r in zip(ropes, hung, strict=False):
                end = r.free or r.ridden
                way = [p for p in r.points if p[1] >= end.z_m - 1e-6]
                way += [(end.x_m, end.z_m)] if way[-1] != (end.x_m, end.z_m) else []
                drawn = [(float(x), float(y)) for x, y in re.findall(r"[ML](-?[\d.]+) (-?[\d.]+)", d)]
                ways = zip(pairwise(drawn), pairwise(way), strict=True)
                ratios = [math.dist(*px) / math.dist(*m) for px, m in ways if math.dist(*m) > 1]
                if ratios:
                    self.assertLess(max(ratios) - min(ratios), 0.15 * max(ratios))

    def test_what_is_missing_is_said(self):
        data = json.loads(json.dumps(descent_of("doubled", party(2), "ledge", 1)))
        data["drops"][0]["section"]["height_m"] = unknown("not measured")
        (_, svg), *_ = self.drawn(read_plan(data))
        self.assertIn("Not drawn: ", svg)


if __name__ == "__main__":
    unittest.main()
