"""Writes the front end's types from the OpenAPI document: ``python -m reamer.web.typescript OUT.ts``."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path

# The endpoints are declared by what is imported here, with those of plans.
from reamer.web import create_app  # noqa: F401
from reamer.web.endpoints import openapi

FRONTEND = Path(__file__).parents[2] / "frontend"


def typescript() -> str:
    """The generated types as text."""
    with tempfile.TemporaryDirectory() as folder:
        source, target = Path(folder) / "openapi.json", Path(folder) / "types.ts"
        source.write_text(json.dumps(openapi()), encoding="utf-8")
        subprocess.run(
            [
                FRONTEND / "node_modules" / ".bin" / "openapi-typescript",
                source,
                "-o",
                target,
                "--root-types",
                "--root-types-no-schema-prefix",
            ],
            cwd=FRONTEND,
            check=True,
            capture_output=True,
            text=True,
        )
        return target.read_text(encoding="utf-8")


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(typescript(), encoding="utf-8")
