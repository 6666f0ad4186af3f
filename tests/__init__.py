"""Tests of Reamer; they mirror its folders."""

import os

from hypothesis import HealthCheck, settings

# By default every law tries the same examples each time: what fails, fails again. `make test-long` tries fifteen times
# as many, fresh ones. No test asserts a time: a slow machine is no fault of what is tested.
LONG = os.environ.get("REAMER_TESTS") == "long"
ALL = list(HealthCheck)
settings.register_profile("house", deadline=None, database=None, derandomize=True, suppress_health_check=ALL)
settings.register_profile(
    "long", deadline=None, print_blob=True, max_examples=1000, suppress_health_check=ALL, derandomize=False
)
settings.load_profile("long" if LONG else "house")


def law(examples: int, **more: object) -> settings:
    """How many examples a law is tried on: two thirds of what it is given, and ten times that in the long run."""
    return settings(max_examples=examples * 10 if LONG else max(5, examples * 2 // 3), **more)  # type: ignore[arg-type]
