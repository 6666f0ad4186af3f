"""Draws ``architecture.svg`` from the imports that are there; with ``--check``, compares it with them.

Boxes from the screen down to the tables, in the order that the contracts in ``pyproject.toml`` hold; an arc for what
imports what, as thick as it is used.
"""

from __future__ import annotations

import sys
import tomllib
from collections import Counter
from html import escape
from pathlib import Path

import grimp

ROOT = Path(__file__).parents[1]
FIGURE = ROOT / "docs/architecture.svg"
LEFT, WIDE, HIGH, STEP = 36, 430, 30, 40


def boxes() -> list[tuple[str, str]]:
    """The boxes from top to bottom: a module's name, and what it answers."""
    house, chapters = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"]["contracts"][:2]
    above = [n.strip() for layer in house["layers"][:-1] for n in layer.split("|")]
    return [(n, said(n)) for n in (*above, *(f"reamer.core.{n}" for n in chapters["layers"]))]


def said(name: str) -> str:
    """What a chapter's README says that it answers, or a module's first line."""
    at = ROOT.joinpath(*name.split("."))
    readme = at / "README.md"
    if readme.exists() and "**Answers:**" in readme.read_text():
        return readme.read_text().split("**Answers:** ")[1].split("\n")[0]
    file = at / "__init__.py" if at.is_dir() else at.with_suffix(".py")
    return file.read_text().split('"""')[1].split("\n")[0]


def arcs(names: list[str]) -> Counter[tuple[int, int]]:
    """How many imports go from one box to another."""
    graph = grimp.build_graph("reamer", cache_dir=None)
    whose = {m: max((n for n in names if m == n or m.startswith(f"{n}.")), key=len, default="") for m in graph.modules}
    found: Counter[tuple[int, int]] = Counter()
    for module, owner in whose.items():
        for used in graph.find_modules_directly_imported_by(module):
            other = whose.get(used, "")
            if owner and other and owner != other:
                found[names.index(owner), names.index(other)] += 1
    return found


def draw() -> str:
    """The figure as SVG."""
    made = boxes()
    y = {i: 92 + STEP * i + (14 if name.startswith("reamer.core") else 0) for i, (name, _) in enumerate(made)}
    high = max(y.values()) + HIGH + 24
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 800 {high}" font-family="system-ui, sans-serif">',
        f'<rect width="800" height="{high}" fill="#f5f1e7"/>',
        f'<rect x="{LEFT}" y="24" width="{WIDE}" height="{HIGH}" rx="4" fill="#2f4453"/>',
        f'<text x="{LEFT + 12}" y="44" font-size="14" fill="#fff"><tspan font-weight="700">frontend/src</tspan>'
        " draws what the core answers</text>",
        f'<path d="M{LEFT + 60} 54v38M{LEFT + 84} 92v-38" stroke="#2f4453" stroke-width="2" fill="none"/>',
        f'<text x="{LEFT + 96}" y="78" font-size="12" fill="#5f6a70">HTTP: the plan down, its answer up</text>',
    ]
    for (a, b), n in sorted(arcs([name for name, _ in made]).items()):
        x, ya, yb = LEFT + WIDE, y[a] + HIGH / 2 + 3, y[b] + HIGH / 2 - 3
        far = x + 30 + 13 * abs(b - a)
        width = 0.6 + 0.5 * n**0.5
        out.append(
            f'<path d="M{x} {ya}C{far} {ya} {far} {yb} {x} {yb}" stroke="#b5562d" stroke-opacity=".4" '
            f'stroke-width="{width:.1f}" fill="none"/>'
        )
    for i, (name, what) in enumerate(made):
        core = name.startswith("reamer.core")
        short = name.removeprefix("reamer.core.").removeprefix("reamer.")
        text = what.replace("``", "") if len(what) < 56 else f"{what[:54].rsplit(' ', 1)[0]} …"
        fill = "#fffdf6" if core else "#e6dfce"
        out += [
            f'<rect x="{LEFT}" y="{y[i]}" width="{WIDE}" height="{HIGH}" rx="4" fill="{fill}" stroke="#6d5e4b"/>',
            f'<text x="{LEFT + 12}" y="{y[i] + 20}" font-size="13"><tspan font-weight="700">{short}</tspan>',
            f'<tspan dx="8" font-size="11.5" fill="#5f6a70">{escape(text)}</tspan></text>',
        ]
    return "\n".join([*out, "</svg>", ""])


def main() -> int:
    """Write the figure; with ``--check``, say whether it is still what the imports are."""
    if "--check" not in sys.argv:
        FIGURE.write_text(draw())
        return 0
    if FIGURE.read_text() == draw():
        return 0
    print("docs/architecture.svg is not what the imports are: run make fix", file=sys.stderr)
    return 1


if __name__ == "__main__":
    sys.exit(main())
