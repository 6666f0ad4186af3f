"""Single points: against a graph library's articulation points, and on the load path."""

import json
import unittest

import networkx
from hypothesis import given
from hypothesis import strategies as st

from reamer.core.assess import assess
from reamer.core.errors import PlanError
from reamer.core.load.redundancy import single_points
from reamer.core.reading import read_plan
from tests import law
from tests.builders import doubled, plan_of, quick, wrap
from tests.core.test_assess import KIT, SINGLE, codes
from tests.outside import Outside

SINGLE_POINTS = Outside("single points of a load path", "articulation points of a graph", "networkx")


NODES = ["rock", "rider", "a", "b", "c", "d", "e", "f"]


class AgainstALibrary(unittest.TestCase):
    @given(
        st.lists(st.tuples(st.sampled_from(NODES), st.sampled_from(NODES)).filter(lambda e: e[0] != e[1]), max_size=16)
    )
    @law(400)
    def test_single_points_are_the_articulation_points_between_the_ends(self, edges):
        graph = networkx.Graph(edges)
        graph.add_nodes_from(["rock", "rider"])
        if not networkx.has_path(graph, "rock", "rider"):
            self.assertEqual(single_points(edges, "rock", "rider"), set())
            return
        graph.add_edge("rock", "rider, again")
        want = {
            n
            for n in networkx.articulation_points(graph)
            if n not in ("rock", "rider") and not networkx.has_path(graph.subgraph(set(graph) - {n}), "rock", "rider")
        }
        SINGLE_POINTS.same(self, single_points(edges, "rock", "rider"), want)


def singles(data):
    return {p.key: p.accepted for p in assess(read_plan(data)).drops[0].parts if p.single}


class OnTheLoadPath(unittest.TestCase):
    def data(self, pattern="simple wrap", system=None, accepted=(), **more):
        data = plan_of(system or doubled(), **more)
        state = data["drops"][0]["station"]["states"][0]
        state["rig"]["pattern"] = pattern
        state["accepted"] = list(accepted)
        return data

    def test_two_loops_are_not_a_single_point_but_a_shared_knot_is(self):
        """Common practice, no source: which patterns are redundant."""
        for pattern, single in (
            ("simple wrap", True),
            ("wrap three, pull two", True),
            ("basket", True),
            ("redundant wrap two, pull one", False),
            ("redundant basket", False),
            ("redundant wrap, quick tie", True),
        ):
            with self.subTest(pattern):
                self.assertEqual("webbing" in singles(self.data(pattern)), single)

    def test_what_practice_accepts_and_what_it_does_not(self):
        got = singles(self.data())
        self.assertEqual({k for k, why in got.items() if why}, {"ring", "rope.r1-a", "rope.r1-b", "device.eight"})
        self.assertEqual(singles(self.data(system=SINGLE, ropes=KIT))["ring"], "")

    def test_accepting_needs_a_reason_and_quietens_that_part_only(self):
        part = {"part": "anchor", "reason": "one big living tree"}
        p = self.data(accepted=[part])
        self.assertEqual(singles(p)["anchor"], "one big living tree")
        self.assertEqual(
            [f.subject.part for f in assess(read_plan(p)).drops[0].findings if f.code == "part.single"], ["webbing"]
        )
        with self.assertRaisesRegex(PlanError, "accepted/0/reason: .*at least 1"):
            read_plan(self.data(accepted=[{**part, "reason": " "}]))

    def test_accepting_never_makes_an_unknown_post_known(self):
        data = self.data(accepted=[{"part": "anchor", "reason": "looks good"}])
        data["drops"][0]["station"]["features"][0]["holds"] = {"kind": "unknown", "why": "not tried"}
        self.assertIn("anchor.unknown", codes(read_plan(data), "Not checked"))

    def test_webbing_over_a_coarse_edge_is_a_shortfall_unless_it_is_redundant(self):
        """Common practice, no source: textile that is a single point on sharp or coarse rock."""
        for pattern, found in (("simple wrap", True), ("redundant wrap two, pull one", False)):
            data = self.data(
                pattern,
                rig=wrap(2.6),
                section=quick(2, 0.2, 15, "tape", "coarse"),
                accepted=[{"part": "webbing", "reason": "accepted, but it does not help here"}],
            )
            self.assertEqual("webbing.abrades" in codes(read_plan(data), "Shortfall"), found)

    def test_bark_is_not_rock(self):
        data = self.data()
        data["drops"][0]["station"]["features"][0].update(what="tree", surface="bark", sharpness="unknown")
        self.assertNotIn("webbing.surface", codes(read_plan(data)))

    def test_a_plan_written_before_there_was_acceptance_still_reads(self):
        data = json.loads(json.dumps(self.data()))
        del data["drops"][0]["station"]["states"][0]["accepted"]
        del data["drops"][0]["station"]["features"][0]["sharpness"]
        self.assertTrue({"part.single"} <= codes(read_plan(data), "Caution"))
