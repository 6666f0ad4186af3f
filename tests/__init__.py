"""Tests of Reamer; they mirror its folders."""

from hypothesis import settings

# No test asserts a time: a slow machine is no fault of what is tested.
settings.register_profile("house", deadline=None)
settings.load_profile("house")
