"""``python -m tests``; see the runner, which its processes must be able to import by name."""

import sys

from tests.runner import main

if __name__ == "__main__":
    sys.exit(main())
