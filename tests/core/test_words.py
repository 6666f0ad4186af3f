"""What the demonstrations say can be read by somebody whose second language it is: no long sentence."""

import re
import unittest
from dataclasses import fields, is_dataclass

from reamer.core.answer.context import context
from reamer.core.answer.say import Sentence, words
from reamer.core.assess import assess
from reamer.core.descent.prospect import Known, prospect
from reamer.core.descent.stations import Stations
from reamer.core.rehearsal.rehearsal import gone_through, rehearsal, station_run
from reamer.demos import DEMOS

MOST = 25


def sentences(of, seen=None):
    """Every sentence of a value, however deep it lies."""
    seen = set() if seen is None else seen
    if isinstance(of, Sentence):
        yield words(of)
    elif id(of) in seen:
        return
    elif is_dataclass(of):
        seen.add(id(of))
        for f in fields(of):
            yield from sentences(getattr(of, f.name), seen)
    elif isinstance(of, (tuple, list, set, frozenset)):
        for x in of:
            yield from sentences(x, seen)
    elif isinstance(of, dict):
        for x in of.values():
            yield from sentences(x, seen)


def told(plan):
    """All that is said of a plan: its stations, what lies ahead, and what happens when it is gone through."""
    a, ctx = assess(plan), context(plan)
    run = gone_through(ctx, a.drops)
    ahead = prospect(ctx, Stations(), Known(a.drops, a.webbing, a.descent.times))
    runs = [station_run(ctx, run, k) for k in range(len(plan.drops))]
    return {x for of in (a, rehearsal(ctx, run), ahead, runs) for x in sentences(of)}


class Words(unittest.TestCase):
    def test_no_sentence_of_a_demonstration_is_long(self):
        for name in DEMOS:
            said = told(DEMOS[name]())
            self.assertGreater(len(said), 150)
            parts = {p for text in said for p in re.split(r"(?<=[.!?;])\s+", text)}
            self.assertEqual([p for p in sorted(parts) if len(p.split()) > MOST], [], name)


if __name__ == "__main__":
    unittest.main()
