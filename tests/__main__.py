"""Runs every test: ``python -m tests``, or some by name: ``python -m tests tests.core.test_anchor``."""

import sys
import unittest


def main() -> int:
    loader = unittest.TestLoader()
    suite = loader.loadTestsFromNames(sys.argv[1:]) if sys.argv[1:] else loader.discover("tests", top_level_dir=".")
    result = unittest.TextTestRunner(verbosity=1).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    print(f"{result.testsRun - failed - len(result.skipped)} passed, {failed} failed", flush=True)
    return 0 if result.testsRun and not failed and not result.skipped else 1


if __name__ == "__main__":
    sys.exit(main())
