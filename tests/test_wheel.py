"""The wheel: what is installed without the repository runs with Python alone."""

import os
import re
import shutil
import subprocess
import sys
import tempfile
import time
import unittest
import urllib.error
import urllib.request
import venv
import zipfile
from importlib import metadata
from pathlib import Path

from reamer import __version__
from reamer.demos import DEMOS
from tests.browser.harness import free_port

ROOT = Path(__file__).parents[1]


def run(*command, **more):
    env = {**os.environ, "PYTHONDONTWRITEBYTECODE": ""}
    return subprocess.run([str(c) for c in command], capture_output=True, text=True, env=env, **more)


class Wheel(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.at = Path(folder.name)
        pip = [sys.executable, "-m", "pip", "wheel", "-q", "--no-deps", "--no-build-isolation", "-w", cls.at, ROOT]
        # What an earlier build left would be packed too.
        shutil.rmtree(ROOT / "build", ignore_errors=True)
        cls.addClassCleanup(shutil.rmtree, ROOT / "build", ignore_errors=True)
        built = run(*pip)
        if built.returncode:
            raise AssertionError(built.stderr)
        (cls.wheel,) = cls.at.glob("reamer-*.whl")
        bare = cls.at / "bare"
        venv.create(bare)
        cls.python, cls.reamer = bare / "bin/python", bare / "bin/reamer"
        # Of what is installed here, from the lock file, just what that file names, and no more.
        (to,) = bare.glob("lib/python*/site-packages")
        for name in re.findall(r"^([\w.-]+)==", (ROOT / "requirements.lock").read_text(), re.M):
            dist = metadata.distribution(name)
            for top in {f.parts[0] for f in dist.files or () if f.parts[0] not in ("..", "__pycache__")}:
                if not (to / top).exists():
                    (to / top).symlink_to(Path(str(dist.locate_file(top))))
        pip = [sys.executable, "-m", "pip", "--python", cls.python, "install", "-q", "--disable-pip-version-check"]
        installed = run(*pip, "--no-deps", cls.wheel)
        if installed.returncode:
            raise AssertionError(installed.stderr)

    def test_it_holds_all_that_the_application_reads(self):
        names = set(zipfile.ZipFile(self.wheel).namelist())
        for folder in ("reamer/core/tables", "reamer/demos", "reamer/store/migrations"):
            for path in (p for p in (ROOT / folder).iterdir() if p.suffix in (".json", ".sql")):
                self.assertIn(f"{folder}/{path.name}", names)
        self.assertIn("reamer/web/static/index.html", names)
        self.assertFalse([n for n in names if n.startswith(("tests", "bench", "docs"))])

    def test_commands(self):
        self.assertEqual(run(self.reamer, "--version", cwd=self.at).stdout, f"reamer {__version__}\n")
        for name in DEMOS:
            demo = run(self.reamer, "demo", name, cwd=self.at)
            self.assertEqual(demo.returncode, 0, demo.stderr)
        checked = run(self.reamer, "check", "-", input=demo.stdout, cwd=self.at)
        self.assertEqual(checked.returncode, 1, checked.stderr)
        self.assertIn("SHORTFALL", checked.stdout)

    def test_it_serves_its_own_front_end_and_answers(self):
        port = free_port()
        command = [str(self.reamer), "serve", "--port", str(port), "--database", str(self.at / "t.sqlite3"), "--demo"]
        server = subprocess.Popen(command, cwd=self.at, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        self.addCleanup(server.wait)
        self.addCleanup(server.terminate)
        address = f"http://127.0.0.1:{port}"
        for _ in range(100):
            try:
                with urllib.request.urlopen(f"{address}/api/plans") as answer:
                    plans = answer.read().decode()
                break
            except urllib.error.URLError:
                time.sleep(0.2)
        self.assertIn("Fernlid Slot", plans)
        with urllib.request.urlopen(f"{address}/") as page:
            self.assertIn('<div id="root">', page.read().decode())
