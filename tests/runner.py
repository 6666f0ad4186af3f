"""Runs every test, two files at a time: ``python -m tests``; or some: ``python -m tests tests.core.test_aids``."""

from __future__ import annotations

import io
import multiprocessing
import sys
import time
import unittest
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parent


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


def outcome(name: str) -> Outcome:
    """Run the tests of one name."""
    told = io.StringIO()
    began = time.perf_counter()
    result = unittest.TextTestRunner(told, verbosity=0).run(unittest.defaultTestLoader.loadTestsFromName(name))
    failures, errors = len(result.failures) + len(result.unexpectedSuccesses), len(result.errors)
    return Outcome(
        name,
        result.testsRun,
        failures,
        errors,
        len(result.skipped),
        time.perf_counter() - began,
        told.getvalue() if failures or errors or result.skipped else "",
    )


def everything() -> list[str]:
    """Every file of tests by its module's name, those that take longest first."""
    files = sorted(ROOT.rglob("test_*.py"), key=lambda f: (not slow(f), -f.stat().st_size))
    return [".".join(f.relative_to(ROOT.parent).with_suffix("").parts) for f in files]


def main() -> int:
    names = sys.argv[1:]
    began = time.perf_counter()
    done = []
    with multiprocessing.get_context("spawn").Pool(1 if len(names) == 1 else 2, maxtasksperchild=None) as pool:
        for o in pool.imap_unordered(outcome, names or everything()):
            done.append(o)
            print(f"{o.name}: {o.run} in {o.seconds:.1f} s", *[f"\n{o.told}"] * bool(o.told), flush=True)
        pool.close()
        pool.join()
    run, failures, errors, skipped = (
        sum(getattr(o, k) for o in done) for k in ("run", "failures", "errors", "skipped")
    )
    good = bool(run) and not failures and not errors and not skipped
    counts = ", ".join(f"{k}={n}" for k, n in (("failures", failures), ("errors", errors), ("skipped", skipped)) if n)
    print(f"\n{'-' * 70}\nRan {run} tests in {time.perf_counter() - began:.3f}s\n")
    print("OK" if good else f"FAILED ({counts or 'no tests'})")
    print(f"{run - failures - errors - skipped} passed, {failures + errors} failed", flush=True)
    return 0 if good else 1
