"""``python -m reamer``."""

import sys

from reamer.cli import main

sys.exit(main())
