"""What share of the code the tests are: lines of code, without blank ones, comments and docstrings; types that are
generated do not count."""

from __future__ import annotations

import ast
import io
import sys
import tokenize
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[1]
LEAST, MOST = 0.25, 0.33
SKIPPED = {tokenize.COMMENT, tokenize.NL, tokenize.NEWLINE, tokenize.INDENT, tokenize.DEDENT, tokenize.ENDMARKER}


def python(text: str) -> int:
    """Lines of Python that do something."""
    said: set[int] = set()
    for node in ast.walk(ast.parse(text)):
        if isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef)) and ast.get_docstring(node) is not None:
            said |= set(range(node.body[0].lineno, (node.body[0].end_lineno or 0) + 1))
    lines: set[int] = set()
    for token in tokenize.generate_tokens(io.StringIO(text).readline):
        if token.type not in SKIPPED:
            lines |= set(range(token.start[0], token.end[0] + 1))
    return len(lines - said)


def script(text: str) -> int:
    """Lines of TypeScript or CSS that are neither blank nor a comment's own."""
    lines = (line.strip() for line in text.splitlines())
    return sum(bool(line) and not line.startswith(("//", "/*", "* ", "*/")) for line in lines)


def files(folder: str, *kinds: str) -> Iterator[Path]:
    """The files of a folder that somebody wrote."""
    for kind in kinds:
        for path in (ROOT / folder).rglob(f"*.{kind}"):
            if "static" not in path.parts and not path.name.endswith(".gen.ts"):
                yield path


def is_test(path: Path) -> bool:
    """Whether a file of the front end is one of tests."""
    return path.name.endswith(".test.ts")


def counted() -> tuple[int, int]:
    """Lines of tests, and of all else."""
    tests = sum(python(p.read_text()) for p in files("tests", "py"))
    rest = sum(python(p.read_text()) for folder in ("reamer", "bench", "docs") for p in files(folder, "py"))
    front = [(is_test(p), script(p.read_text())) for p in files("frontend/src", "ts", "tsx", "css")]
    return tests + sum(n for test, n in front if test), rest + sum(n for test, n in front if not test)


def main() -> int:
    """Print the share; fail where it is not between its bounds."""
    tests, rest = counted()
    share = tests / (tests + rest)
    print(f"tests: {tests} of {tests + rest} lines of code, {100 * share:.1f} %")
    return 0 if LEAST <= share <= MOST else 1


if __name__ == "__main__":
    sys.exit(main())
