"""The rope's lines against a geometry library, an independent shortest path, and laws."""

import itertools
import math
import unittest

import networkx
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely import LineString, MultiPoint, Polygon

from reamer.core.section.polyline import crossing, draped_line, length_m, taut_line
from tests import law
from tests.builders import descents
from tests.outside import Outside

CHAIN = Outside("the taut line where rock never leans back", "the convex hull of the section", "shapely", "m")
SHORTEST = Outside("the taut line over any section", "the shortest way in a graph of what sees what", "networkx", "m")
WORKED = Outside("taut and draped lines of worked sections", "common practice, no source", unit="m")


SECTION = [(0.0, 0.0), (3.0, -0.3), (3.6, -4.0), (5.0, -22.0), (5.0, -30.0)]
LEDGED = [(0.0, 0.0), (1.0, -0.2), (1.5, -12.0), (6.0, -13.0), (6.5, -28.0)]


def rock(points):
    """The rock under a terrain as a polygon, for an independent view of what a rope may not cross."""
    deep = min(z for _, z in points) - 50
    left = min(x for x, _ in points) - 50
    return Polygon([*points, (points[-1][0], deep), (left, deep), (left, points[0][1])])


def shortest_path(points):
    """Shortest way from the first point to the last that does not enter the rock: visibility graph and Dijkstra."""
    inside = rock(points).buffer(-1e-6)
    graph = networkx.Graph()
    for (i, a), (j, b) in itertools.combinations(enumerate(points), 2):
        if not LineString([a, b]).intersects(inside):
            graph.add_edge(i, j, weight=math.dist(a, b))
    return networkx.dijkstra_path_length(graph, 0, len(points) - 1)


class CheckValues(unittest.TestCase):
    """Worked sections; common practice, no source."""

    def test_section_of_thirty_metres(self):
        line = taut_line(SECTION)
        WORKED.near(self, line.length_m, 32.82, 5e-3)
        self.assertEqual([round(math.degrees(c.turn_rad), 1) for c in line.contacts], [75.1, 4.8, 4.4])

    def test_taut_and_draped_over_a_mid_ledge(self):
        WORKED.near(self, taut_line(LEDGED).length_m, 29.77, 5e-3)
        WORKED.near(self, draped_line(LEDGED).length_m, 32.45, 5e-3)

    def test_ring_extended_over_the_edge_leaves_the_edge_alone(self):
        line = taut_line(SECTION, (3.2, -0.9), 1)
        self.assertEqual([c.index for c in line.contacts], [2, 3])

    def test_recessed_landing_hangs_plumb_and_adds_the_slant(self):
        line = taut_line([(0, 0), (2, 0), (0.4, -6), (-1, -12)])
        self.assertEqual(line.points, ((0, 0), (2, 0), (2, -12)))
        self.assertAlmostEqual(line.recess_m, 3.0)
        self.assertAlmostEqual(line.length_m, 2 + math.hypot(12, 3))
        self.assertAlmostEqual(math.degrees(line.contacts[0].turn_rad), 90.0)

    def test_rock_between_lip_and_landing_is_gone_round(self):
        line = taut_line([(0, 0), (2, 0), (1, -6), (-1, -12)])
        self.assertEqual((line.points[-1], line.recess_m), ((2, -12), 3.0))
        self.assertAlmostEqual(line.length_m, 2 + math.hypot(1, 6) + math.hypot(2, 6))

    def test_draped_falls_from_a_lip_to_the_ledge_below_and_follows_it(self):
        line = draped_line([(0, 0), (3, 0), (1, -5), (4, -8), (4, -10)])
        self.assertIn((3.0, -7.0), line.points)
        self.assertAlmostEqual(line.length_m, 3 + 7 + math.hypot(1, 1) + 2)

    def test_free_ring_drops_to_the_surface_first(self):
        self.assertEqual(draped_line(LEDGED, (4.0, -5.0), 1, on_surface=False).points[1][0], 4.0)

    def test_crossings(self):
        self.assertIsNone(crossing(SECTION))
        self.assertEqual(crossing([(0, 0), (4, 0), (4, -4), (2, 2)]), (0, 2))
        self.assertEqual(crossing([(0, 0), (4, -4), (2, -2)]), (0, 1))


class AgainstLibraries(unittest.TestCase):
    @given(descents(overhangs=False))
    @law(150)
    def test_hull_where_the_terrain_never_leans_back(self, points):
        """On a terrain that only goes out and down the taut line is the upper chain of the convex hull."""
        hull = MultiPoint([*points, (points[0][0] - 1, points[-1][1] - 1)]).convex_hull
        ring = list(hull.exterior.coords)
        on_chain = [p for p in points if any(math.dist(p, q) < 1e-9 for q in ring)]
        CHAIN.near(self, taut_line(points).length_m, length_m(on_chain), 5e-7)

    @given(descents())
    @law(150)
    def test_shortest_path_where_rock_overhangs_and_juts_out_again(self, points):
        assume(crossing(points) is None)
        # To a recessed landing too: the way from the lip round the rock, which may be hidden from it.
        SHORTEST.near(self, taut_line(points).length_m, shortest_path(points), 5e-6)


class Laws(unittest.TestCase):
    @given(descents(), st.data())
    @law(200)
    def test_adding_rock_never_shortens_the_taut_line(self, points, data):
        assume(crossing(points) is None and len(points) > 2)
        i = data.draw(st.integers(1, len(points) - 2))
        (x, z), out = points[i], data.draw(st.floats(0.0, 3.0))
        more = [*points[:i], (x + out, z), *points[i + 1 :]]
        assume(crossing(more) is None)
        before, after = taut_line(points), taut_line(more)
        # What a recess adds is counted from the last lip: another lip above it makes that part, and only that, smaller.
        self.assertGreaterEqual(after.length_m - after.extra_m, before.length_m - before.extra_m - 1e-9)

    @given(descents())
    @law(200)
    def test_line_lies_on_the_air_side_and_never_shorter_than_straight(self, points):
        assume(crossing(points) is None)
        line = taut_line(points)
        inside = rock(points).buffer(-1e-6)
        for a, b in zip(line.points, line.points[1:], strict=False):
            self.assertFalse(LineString([a, b]).intersects(inside), (a, b))
        self.assertGreaterEqual(line.length_m, math.dist(points[0], points[-1]) - 1e-9)
        for c in line.contacts:
            self.assertGreaterEqual(c.turn_rad, -1e-9)

    @given(descents())
    @law(200)
    def test_draped_is_never_shorter_than_taut(self, points):
        assume(crossing(points) is None and taut_line(points).recess_m == 0)
        self.assertGreaterEqual(draped_line(points).length_m, taut_line(points).length_m - 1e-6)


if __name__ == "__main__":
    unittest.main()
