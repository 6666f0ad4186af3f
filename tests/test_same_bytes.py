"""Every answer is the same bytes in every process: nothing rests on the order of a set, which differs between starts.
Verdicts would open again with every restart, and a hand be left out of a sentence."""

import hashlib
import json
import os
import subprocess
import sys
import unittest
from concurrent.futures import ThreadPoolExecutor

from pydantic import TypeAdapter

from reamer.core.assess import assess
from reamer.core.offers import offers
from reamer.core.rehearsal.rehearsal import broken_at, matrix_of, mended, quiz_of
from reamer.core.schools import CHOICES, schools
from reamer.demos import DEMOS
from reamer.desk.memory import Been, Memory
from reamer.desk.worked import Worked, basis
from reamer.formats.card import card
from reamer.formats.html import html
from reamer.formats.rehearsed import rehearsed
from reamer.formats.report import report
from tests import LONG


def told(name):
    """Everything that is worked out of a demonstration, each as a digest."""
    plan = DEMOS[name]()
    at = Worked(basis(plan, plan.model_dump_json(), Been()), Memory())
    ctx, play = at.ctx, at.play
    made = {
        "assessment": assess(plan),
        "by parts": at.a,
        "ahead": at.ahead(),
        "rehearsal": at.rehearsal,
        "runs": at.runs,
        "check": at.checked,
        "mended": [mended(ctx, play, h.key) for h in at.rehearsal.hazards[:4]],
        "schools": [schools(ctx, at.a, key) for key, _, _ in CHOICES[:2]],
        "report": report(plan, at.a, "us", at.ahead(), at.rehearsal, at.checked),
        "acts": rehearsed(plan, at.rehearsal, at.runs, "metric", ""),
        "card": html(card(at.answers), "", ""),
    }
    for k, drop in enumerate(plan.drops[:2]):
        made[f"offers {k}"] = offers(ctx, at.memory.parts, drop.id)
        made[f"compared {k}"] = at.memory.parts.comparison(ctx, k, drop, 0)
        made[f"asked {k}"] = [broken_at(ctx, play, k), matrix_of(ctx, play, k), quiz_of(ctx, play, k)]
    return {f"{name}, {k}": hashlib.sha256(_bytes(v)).hexdigest() for k, v in made.items()}


def _bytes(answer):
    if isinstance(answer, (list, tuple)):
        return b"".join(map(_bytes, answer))
    return TypeAdapter(type(answer)).dump_json(answer)


class SameBytes(unittest.TestCase):
    def test_whatever_order_sets_have(self):
        names, seeds = (tuple(DEMOS), range(6)) if LONG else (("gully",), (0, 1, 2))

        def run(seed):
            env = {**os.environ, "PYTHONHASHSEED": str(seed)}
            command = [sys.executable, "-m", "tests.test_same_bytes", *names]
            return json.loads(subprocess.run(command, env=env, capture_output=True, check=True).stdout)

        with ThreadPoolExecutor(2) as pool:
            first, *others = pool.map(run, seeds)
        self.assertGreater(len(first), 15)
        for other in others:
            self.assertEqual({k for k in first if first[k] != other.get(k)}, set())


if __name__ == "__main__":
    print(json.dumps({k: v for name in sys.argv[1:] for k, v in told(name).items()}))
