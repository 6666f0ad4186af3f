"""Reamer: a planning bench for descents on retrievable ropes."""

__version__ = "0.1.0"
