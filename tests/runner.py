"""Runs every test, a few files at a time: ``python -m tests``; or some: ``python -m tests tests.core.test_aids``.

``--slowest N`` ends with the N tests that took longest; ``--shuffle SEED`` runs files, and the tests of each, in
another order; ``--long`` gives every law ten times its budget and fresh seeds (see tests/__init__.py)."""

from __future__ import annotations

import argparse
import io
import multiprocessing
import os
import random
import time
import unittest
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

from reamer.cli import tune_memory

ROOT = Path(__file__).parent
# One more than there are cores: a browser waits now and then.
WORKERS = (os.cpu_count() or 1) + 1


def slow(file: Path) -> bool:
    """Whether a file of tests waits for a browser or an installation."""
    return file.parent.name == "browser" or file.stem == "test_wheel"


@dataclass(frozen=True)
class Outcome:
    """What a run of some tests came to; ``told``: the failures as unittest writes them."""

    name: str
    run: int
    failures: int
    errors: int
    skipped: int
    seconds: float
    told: str
    each: dict[str, float] = field(repr=False)


class Timed(unittest.TextTestResult):
    """A result that knows how long each test took, its setting up and its clearing away with it."""

    def __init__(self, *given: object) -> None:
        super().__init__(*given)  # type: ignore[arg-type]
        self.each: dict[str, float] = {}
        self.since = time.perf_counter()

    def stopTest(self, test: unittest.TestCase) -> None:
        super().stopTest(test)
        now = time.perf_counter()
        # Some tests have an ``id`` of their own.
        self.each[unittest.TestCase.id(test)] = now - self.since
        self.since = now


def single(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    """The tests of a suite, one by one."""
    for test in suite:
        if isinstance(test, unittest.TestSuite):
            yield from single(test)
        else:
            yield test


def own(test: unittest.TestCase, name: str) -> bool:
    """Whether a test is one of a module's own: one that it imports from another is run there."""
    module = type(test).__module__
    return not module.startswith("tests.") or f"{name}.".startswith(f"{module}.")


def outcome(job: tuple[str, int | None]) -> Outcome:
    """Run the tests of one name, in their own order or by a seed in another."""
    name, seed = job
    told = io.StringIO()
    began = time.perf_counter()
    tests = [t for t in single(unittest.defaultTestLoader.loadTestsFromName(name)) if own(t, name)]
    if seed is not None:
        random.Random(f"{seed} {name}").shuffle(tests)
    result = unittest.TextTestRunner(told, verbosity=0, resultclass=Timed).run(unittest.TestSuite(tests))
    failures, errors = len(result.failures) + len(result.unexpectedSuccesses), len(result.errors)
    return Outcome(
        name,
        result.testsRun,
        failures,
        errors,
        len(result.skipped),
        time.perf_counter() - began,
        told.getvalue() if failures or errors or result.skipped else "",
        result.each,
    )


def everything() -> list[str]:
    """Every file of tests by its module's name: first those that wait, then the longest."""
    files = sorted(ROOT.rglob("test_*.py"), key=lambda f: (not slow(f), -f.stat().st_size))
    return [".".join(f.relative_to(ROOT.parent).with_suffix("").parts) for f in files]


def main() -> int:
    asked = argparse.ArgumentParser(prog="python -m tests", description=__doc__)
    asked.add_argument("names", nargs="*", help="modules, classes or tests; without: everything")
    asked.add_argument("--slowest", type=int, default=0, metavar="N")
    asked.add_argument("--shuffle", type=int, metavar="SEED")
    asked.add_argument("--long", action="store_true")
    args = asked.parse_args()
    if args.long:
        os.environ["REAMER_TESTS"] = "long"
    began = time.perf_counter()
    names = args.names or everything()
    if args.shuffle is not None:
        random.Random(args.shuffle).shuffle(names)
    done = []
    with multiprocessing.get_context("spawn").Pool(min(WORKERS, len(names)), tune_memory) as pool:
        for o in pool.imap_unordered(outcome, [(n, args.shuffle) for n in names]):
            done.append(o)
            print(f"{o.name}: {o.run} in {o.seconds:.1f} s", *[f"\n{o.told}"] * bool(o.told), flush=True)
        pool.close()
        pool.join()
    slowest = sorted(((s, n) for o in done for n, s in o.each.items()), reverse=True)[: args.slowest]
    print(*(f"{s:7.1f} s  {n}" for s, n in slowest), sep="\n")
    run, failures, errors, skipped = (
        sum(getattr(o, k) for o in done) for k in ("run", "failures", "errors", "skipped")
    )
    good = bool(run) and not failures and not errors and not skipped
    counts = ", ".join(f"{k}={n}" for k, n in (("failures", failures), ("errors", errors), ("skipped", skipped)) if n)
    print(f"\n{'-' * 70}\nRan {run} tests in {time.perf_counter() - began:.3f}s\n")
    print("OK" if good else f"FAILED ({counts or 'no tests'})")
    print(f"{run - failures - errors - skipped} passed, {failures + errors} failed", flush=True)
    return 0 if good else 1
