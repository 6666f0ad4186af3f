"""Write docs/checks.md: what of the main job was checked against what outside the project, in how many cases, and how
far off the worst of them was. It runs the tests that hold such checks and reads what they noted."""

from __future__ import annotations

import ast
import importlib.metadata
import json
import os
import subprocess
import sys
import tempfile
from dataclasses import dataclass, field
from pathlib import Path

ROOT = Path(__file__).parent.parent
PAGE = ROOT / "docs" / "checks.md"

HEAD = """# What was checked against what

Every figure that Reamer shows is worked out from what was entered and from tables of the trade. This page says which of
its results were held against something outside the project. It says in how many cases, too, and how far off the worst
of them was. It is written by `make checks`, which runs the tests that hold these checks; each names its source where it
stands.

*From memory* means that the standard or handbook was not at hand when its figure was written down. *Common practice, no
source* means what it says: practitioners hold it so, and nobody has published it. A library is one that knows nothing
of this work: where both agree, neither says that the rope, the rock or the knot is as it was entered. How far off a
figure is from a published one is mostly the rounding of what was published.

What stands here says nothing of the figures that are our own judgement; those are marked so in every table, under
*Figures and their sources* in the application and in [values.md](values.md).

| checked | against | cases | farthest off | allowed | test |
|---|---|---:|---:|---:|---|
"""


@dataclass
class Check:
    """One check as it is declared, and what its cases came to."""

    what: str
    source: str
    package: str
    unit: str
    test: str
    cases: int = 0
    off: list[float] = field(default_factory=list)
    within: list[float] = field(default_factory=list)


def declared() -> list[Check]:
    """Every check that the tests declare, by the module it stands in."""
    made = []
    for path in sorted((ROOT / "tests").rglob("test_*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call) and getattr(node.func, "id", "") == "Outside":
                put = [a.value for a in node.args if isinstance(a, ast.Constant)]
                by_name = {k.arg: k.value.value for k in node.keywords if isinstance(k.value, ast.Constant)}
                said = dict(zip(("what", "source", "package", "unit"), map(str, put), strict=False)) | by_name
                module = str(path.relative_to(ROOT))
                package, unit = str(said.get("package", "")), str(said.get("unit", ""))
                made.append(Check(str(said["what"]), str(said["source"]), package, unit, module))
    return made


def ran(checks: list[Check]) -> None:
    """Run the tests that hold them, and put what they noted beside them."""
    modules = sorted({c.test.removesuffix(".py").replace("/", ".") for c in checks})
    by = {(c.what, c.source): c for c in checks}
    with tempfile.TemporaryDirectory() as folder:
        noted = Path(folder) / "noted"
        done = subprocess.run(
            [sys.executable, "-m", "tests", *modules], cwd=ROOT, env={**os.environ, "REAMER_CHECKS": str(noted)}
        )
        if done.returncode:
            sys.exit("a check failed: the page stays as it was")
        for line in noted.read_text(encoding="utf-8").splitlines():
            one = json.loads(line)
            check = by[one["what"], one["source"]]
            check.cases += 1
            if one["off"] is not None:
                check.off.append(one["off"])
                check.within.append(one["within"])


def _told(off: float, unit: str) -> str:
    # What digits a machine keeps is no news.
    return f"{off:.2g} {unit}" if off >= 1e-6 or off == 0 else f"under 0.000001 {unit}"


def rows(checks: list[Check]) -> list[str]:
    """The page's table."""
    made = []
    for c in checks:
        against = c.source + (f" ({c.package} {importlib.metadata.version(c.package)})" if c.package else "")
        off, within = "the same", "the same"
        if c.off:
            off, within = (_told(max(x), c.unit) for x in (c.off, c.within))
        test = c.test.removeprefix("tests/")
        made.append(f"| {c.what} | {against} | {c.cases:,} | {off} | {within} | [{test}](../{c.test}) |")
    return made


def main() -> None:
    """Write the page."""
    checks = declared()
    ran(checks)
    idle = [c.what for c in checks if not c.cases]
    if idle:
        sys.exit(f"declared and not made: {', '.join(idle)}")
    PAGE.write_text(HEAD + "\n".join(rows(checks)) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
