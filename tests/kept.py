"""What single drops came to in this process, kept for every test in it: by what it was worked out from. That it is the
same as worked out anew is held by tests of its own (`tests/web/every.py`, `tests/core/test_by_parts.py`)."""

from reamer.core.assess import Kept
from reamer.core.descent.stations import Stations
from reamer.desk.memory import Memory

PARTS, STATIONS = Kept(), Stations()


def memory() -> Memory:
    """A memory in which nothing was asked of a plan as a whole."""
    return Memory(PARTS, STATIONS)
