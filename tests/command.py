"""The command line within the tests' own process: a process of its own takes a second to start."""

from __future__ import annotations

import contextlib
import io
import subprocess
from unittest import mock

from reamer.cli import main
from tests.kept import memory


def reamer(*args: str, stdin: str = "") -> subprocess.CompletedProcess[str]:
    """What ``reamer`` with these arguments prints, and its exit code."""
    out, err = (io.TextIOWrapper(io.BytesIO(), "utf-8", write_through=True) for _ in range(2))
    given = io.TextIOWrapper(io.BytesIO(stdin.encode()), "utf-8")
    kept = mock.patch("reamer.desk.memory.Memory", memory)
    with kept, mock.patch("sys.stdin", given), contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        try:
            code = main(list(args))
        except SystemExit as e:
            code = e.code if isinstance(e.code, int) else 1
    said, told = (s.buffer.getvalue().decode() for s in (out, err))  # type: ignore[attr-defined]
    return subprocess.CompletedProcess(args, code, said, told)
