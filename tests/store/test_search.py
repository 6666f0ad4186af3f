"""Looking for things by their words: what is saved is found, what is gone is not, and no text breaks it."""

import tempfile
import unittest
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.model import Shed
from reamer.demos import DEMOS
from reamer.store.database import connect, migrate
from reamer.store.log import Log
from reamer.store.plans import Plans
from reamer.store.search import BEGIN, END, Search
from reamer.store.shed import Sheds
from tests import law
from tests.core.test_log import trip


class Searching(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.conn = connect(Path(folder.name) / "t.sqlite3")
        self.addCleanup(self.conn.close)
        migrate(self.conn)
        self.plans = Plans(self.conn)
        self.ids = {name: self.plans.create(demo()).id for name, demo in DEMOS.items()}
        self.search = Search(self.conn)

    def found(self, text):
        return [(h.kind, h.told.replace(BEGIN, "").replace(END, ""), h.place) for h in self.search.find(text)]

    def test_every_kind_of_thing_by_any_of_its_words(self):
        canyon = f"/plans/{self.ids['canyon']}"
        self.assertEqual(self.found("Long Quiet")[0], ("station", "Long Quiet", f"{canyon}/survey/d3"))
        self.assertEqual(self.found("fern sl")[0], ("plan", "Fernlid Slot", f"{canyon}/survey"))
        # A station is found by its plan's words too, in any order and any case.
        self.assertIn(("station", "Lintel", f"{canyon}/survey/d1"), self.found("SLOT lint"))
        self.assertIn(("person", "Maren", f"{canyon}/shed"), self.found("maren"))
        self.assertIn(("kit", "Blue 60", f"{canyon}/shed"), self.found("blue"))
        self.assertTrue(any(k == "reference" for k, _, _ in self.found("ring bend")))
        made = Log(self.conn).add(self.ids["canyon"], trip(words="wasps under the ledge"))
        self.assertEqual(self.found("wasps")[0][0::2], ("log", f"{canyon}/log"))
        Log(self.conn).save(self.ids["canyon"], made.id, 1, None)
        self.assertEqual(self.found("wasps"), [])
        shed = DEMOS["gully"]().shed
        rope = shed.ropes[0].model_copy(update={"name": "Purple Zephyr"})
        Sheds(self.conn).save(0, Shed(ropes=(rope,)))
        self.assertEqual(self.found("zephyr"), [("kit", "Purple Zephyr", "")])

    def test_what_is_saved_undone_binned_and_had_back(self):
        plan_id = self.ids["gully"]
        head = self.plans.head(plan_id)
        self.plans.save(plan_id, head.revision, head.plan.model_copy(update={"title": "Ördög-árok"}))
        self.assertEqual(self.found("ordog arok")[0][0], "plan")
        self.plans.step(plan_id, 2, "undo")
        self.assertEqual(self.found("ordog"), [])
        self.plans.bin(plan_id)
        self.assertEqual([h for h in self.found("fan") if plan_id in h[2]], [])
        self.plans.restore(plan_id)
        self.assertTrue([h for h in self.found("fan") if plan_id in h[2]])

    def test_what_was_looked_for_is_marked(self):
        hit = self.search.find("quiet")[0]
        self.assertEqual(hit.told, f"Long {BEGIN}Quiet{END}")

    @given(st.text(max_size=60) | st.sampled_from(('"', "a OR b", "NEAR(", "title:x", "*", "-x", "a AND NOT", "^")))
    @law(60)
    def test_no_text_breaks_it(self, text):
        for hit in self.search.find(text):
            self.assertTrue(hit.told or hit.text)


if __name__ == "__main__":
    unittest.main()
