"""Would a test notice? ``python -m tests.mutants rope --each 25 --seed 1`` changes one place of a chapter at a time, in
a copy, and runs the chapter's tests on it; what no test notices is printed as it was and as it became."""

from __future__ import annotations

import argparse
import ast
import copy
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[1]
# The tests of each chapter, those that are quick and near first.
EVERY = ("test_comfort", "test_carried", "test_assess", "test_codes", "test_chain", "test_undecided", "test_any_plan")
TESTS = {
    "rope": ("test_rope", "test_shed", "test_pull", "test_serves", "test_systems", "test_hardware", "test_section"),
    "anchor": ("test_anchor", "test_patterns", "test_several", "test_shed"),
    "load": ("test_redundancy", "test_hardware", "test_pull_tests", "test_rope", "test_systems", "test_several"),
    "reach": ("test_rope", "test_section", "test_both", "test_serves", "test_systems"),
    "retrieval": ("test_pull", "test_systems", "test_serves", "test_both"),
    "descent": ("test_descent", "test_sets", "test_prospect", "test_gauge", "test_any_descent", "test_second"),
    "rehearsal": ("test_holding", "test_going", "test_rehearsal", "test_second"),
    "onsite": ("test_onsite",),
}
COMPARED = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
}
RECKONED = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.And: ast.Or, ast.Or: ast.And}
NAMED = {"min": "max", "max": "min", "any": "all", "all": "any", "low": "high", "high": "low", "sin": "cos"}


def changed(node: ast.AST) -> ast.AST | None:
    """A node that says the opposite, the next, or the other bound; None where there is nothing to change."""
    new = copy.deepcopy(node)
    match new:
        case ast.Compare(ops=[op]) if type(op) in COMPARED:
            new.ops = [COMPARED[type(op)]()]
        case ast.BinOp(op=op) | ast.BoolOp(op=op) if type(op) in RECKONED:
            new.op = RECKONED[type(op)]()
        case ast.UnaryOp(op=ast.Not()):
            return new.operand
        case ast.Name(id=name) if name in NAMED:
            new.id = NAMED[name]
        case ast.Attribute(attr=name) if name in NAMED:
            new.attr = NAMED[name]
        case ast.Constant(value=bool(value)):
            new.value = not value
        case ast.Constant(value=int(value)):
            new.value = value + 1
        case ast.Constant(value=float(value)):
            new.value = value * 1.5 + 0.01
        case ast.If(test=test) | ast.IfExp(test=test):
            new.test = ast.UnaryOp(ast.Not(), test)
        case _:
            return None
    return new


def places(tree: ast.Module) -> Iterator[tuple[ast.AST, str, int | None]]:
    """Where a module's code can be changed: the parent, its field, the place in it; no types."""
    for parent in ast.walk(tree):
        if isinstance(parent, (ast.Subscript, ast.AnnAssign, ast.arg, ast.ImportFrom, ast.Assert, ast.JoinedStr)):
            continue
        for name, value in ast.iter_fields(parent):
            if name in ("annotation", "returns", "bases", "keywords", "decorator_list"):
                continue
            for n, child in enumerate(value) if isinstance(value, list) else ((None, value),):
                if isinstance(child, ast.AST) and changed(child) is not None:
                    yield parent, name, n


def mutants(chapter: str, each: int, seed: int) -> Iterator[tuple[Path, int, str, str, str]]:
    """A seeded sample of changes: file, line, the code before and after, and the whole module with it."""
    sites = []
    for path in sorted((ROOT / "reamer/core" / chapter).glob("*.py")):
        sites += [(path, i) for i, _ in enumerate(places(ast.parse(path.read_text())))]
    for path, i in random.Random(f"{seed} {chapter}").sample(sites, min(each, len(sites))):
        tree = ast.parse(path.read_text())
        parent, name, n = list(places(tree))[i]
        held = getattr(parent, name)
        node = held if n is None else held[n]
        new = changed(node)
        assert new is not None
        line = getattr(node, "lineno", getattr(parent, "lineno", 0))
        before, after = (ast.unparse(x).split("\n")[0] for x in (node, new))
        if n is None:
            setattr(parent, name, new)
        else:
            held[n] = new
        yield path, line, before, after, ast.unparse(ast.fix_missing_locations(tree))


def noticed(at: Path, chapter: str) -> bool:
    """Whether a test of a chapter fails in a copy; one that never ends has noticed too."""
    names = [f"tests.core.{n}" for n in dict.fromkeys((*TESTS[chapter], *EVERY))]
    command = [sys.executable, "-m", "unittest", "-q", "-f", *names]
    try:
        return subprocess.run(command, cwd=at, capture_output=True, timeout=900).returncode != 0
    except subprocess.TimeoutExpired:
        return True


def main() -> int:
    asked = argparse.ArgumentParser(prog="python -m tests.mutants", description=__doc__)
    asked.add_argument("chapters", nargs="*", choices=[*TESTS, []])
    asked.add_argument("--each", type=int, default=25)
    asked.add_argument("--seed", type=int, default=1)
    args = asked.parse_args()
    with tempfile.TemporaryDirectory() as folder:
        at = Path(folder)
        for part in ("reamer", "tests"):
            shutil.copytree(ROOT / part, at / part, ignore=shutil.ignore_patterns("static", "__pycache__"))
        for chapter in args.chapters or TESTS:
            if noticed(at, chapter):
                raise SystemExit(f"{chapter}: its tests fail before anything is changed")
            killed = tried = 0
            for path, line, before, after, module in mutants(chapter, args.each, args.seed):
                there = at / path.relative_to(ROOT)
                kept = there.read_text()
                there.write_text(module)
                tried += 1
                if noticed(at, chapter):
                    killed += 1
                else:
                    print(f"  {path.relative_to(ROOT)}:{line}: {before}  ->  {after}", flush=True)
                there.write_text(kept)
            print(f"{chapter}: {killed} of {tried} noticed", flush=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
