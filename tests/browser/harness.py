"""A real server and a real browser for the tests that drive the interface."""

from __future__ import annotations

import functools
import multiprocessing.util
import socket
import tempfile
import threading
import unittest
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright
from waitress import create_server

from reamer.core.model import Plan
from reamer.demos import canyon
from reamer.store.database import connect
from reamer.store.plans import Plans
from reamer.web import create_app
from reamer.web.settings import Settings
from reamer.web.share import create_share_app

CHROMIUM = "/usr/bin/chromium"
# What the console says where a request is refused, or a test stops its server.
EXPECTED = ("status of 4", "ERR_CONNECTION_REFUSED")
AXE = Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js"
ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


def free_port() -> int:
    """A port on which nobody listens."""
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


class Server:
    """Reamer on a free port with a database of its own."""

    def __init__(self, share: bool = False) -> None:
        """share: whether it shows cards on a second port of 127.0.0.1"""
        # In memory where there is room: every save waits for the disk, and this disk is nobody's.
        memory = Path("/dev/shm")
        self.folder = tempfile.TemporaryDirectory(dir=memory if memory.is_dir() else None)
        self.port = free_port()
        self.database = Path(self.folder.name) / "t.sqlite3"
        second = free_port()
        app = create_app(Settings(self.database, self.port, share=f"127.0.0.1:{second}" if share else ""))
        self.app = app
        self.start()
        self.second = None
        if share:
            room = create_share_app(app.extensions["shared"])
            self.second = create_server(room, host="127.0.0.1", port=second, threads=2)
            threading.Thread(target=self.second.run, daemon=True).start()
        self.address = f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        """Listen, again after it was stopped."""
        self.server = create_server(self.app, host="127.0.0.1", port=self.port, threads=8)
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()

    def stop(self) -> None:
        """Answer nobody any more."""
        self.server.close()
        self.thread.join(5)
        for channel in list(self.server._map.values()):
            channel.close()

    def add(self, plan: Plan) -> str:
        conn = connect(self.database)
        try:
            return Plans(conn).create(plan).id
        finally:
            conn.close()

    def plan(self, plan_id: str) -> Plan:
        conn = connect(self.database)
        try:
            return Plans(conn).head(plan_id).plan
        finally:
            conn.close()

    def close(self) -> None:
        self.server.close()
        if self.second is not None:
            self.second.close()
        self.thread.join(5)
        self.folder.cleanup()


@functools.cache
def server() -> Server:
    """The one server of this process; it closes with it."""
    made = Server()
    multiprocessing.util.Finalize(None, made.close, exitpriority=10)
    return made


@functools.cache
def browser() -> Browser:
    """The one browser of this process; it closes with it."""
    driver = sync_playwright().start()
    made = driver.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
    multiprocessing.util.Finalize(None, driver.stop, exitpriority=10)
    multiprocessing.util.Finalize(None, made.close, exitpriority=11)
    return made


class Browsing(unittest.TestCase):
    """One server and one browser for the process; a fresh page, and the demo plan, for each test."""

    @classmethod
    def setUpClass(cls) -> None:
        cls.server, cls.browser = server(), browser()

    def page_of(
        self, units: str = "metric", theme: str = "day", caution: str = "read", width: int = 1280, height: int = 800
    ) -> Page:
        context = self.browser.new_context(viewport={"width": width, "height": height})
        self.addCleanup(context.close)
        context.add_init_script(
            f"for (const [k, v] of [['caution', '{caution}'], ['theme', '{theme}'], ['units', '{units}']])"
            " if (localStorage.getItem(k) === null) localStorage.setItem(k, v)"
        )
        page = context.new_page()
        page.set_default_timeout(15_000)
        self.faults: list[str] = []
        page.on("pageerror", lambda e: self.faults.append(str(e)))
        page.on(
            "console",
            lambda m: (
                self.faults.append(m.text) if m.type == "error" and not any(x in m.text for x in EXPECTED) else None
            ),
        )
        self.addCleanup(lambda: self.assertEqual(self.faults, []))
        return page

    def setUp(self) -> None:
        self.page = self.page_of()
        self.id = self.server.add(canyon())

    def open(self, step: str, drop: str = "", page: Page | None = None, plan: str = "") -> None:
        page = page or self.page
        page.goto(f"{self.server.address}/plans/{plan or self.id}/{step}/{drop}")
        there = page.get_by_test_id("tally").or_(page.get_by_test_id("count")).or_(page.get_by_test_id("act"))
        there.or_(page.get_by_role("region", name="Ropes")).or_(page.get_by_text("no drops yet")).first.wait_for()
        # Keys of a step are heard once it is there.
        page.get_by_text("Opening…", exact=True).wait_for(state="detached")

    def accessible(self, page: Page, where: object) -> None:
        """Hold that axe finds nothing on a page as it is."""
        page.evaluate(AXE.read_text())
        run = "axe.run({ resultTypes: ['violations'], rules: { 'target-size': { enabled: true } } })"
        found = page.evaluate(run)["violations"]
        told = [(v["id"], [n["html"][:160] for n in v["nodes"] if not self._cut(page, v["id"], n)][:3]) for v in found]
        self.assertEqual([t for t in told if t[1]], [], where)

    def _cut(self, page: Page, rule: str, node: dict) -> bool:
        """Whether a target is only too small as it is half scrolled out of sight."""
        if rule != "target-size":
            return False
        box = page.locator(node["target"][0]).bounding_box()
        return bool(box and min(box["width"], box["height"]) >= 23.5)

    def saved(self, revision: int, page: Page | None = None) -> None:
        (page or self.page).get_by_text(f"· revision {revision}", exact=True).wait_for()

    def tally(self, page: Page | None = None) -> str:
        return (page or self.page).get_by_test_id("tally").inner_text()

    def apart(self, page: Page, least: int = 3) -> None:
        """Hold every label of the drawing apart from the others and inside it."""
        boxes = page.evaluate("""() => [...document.querySelectorAll('[data-label]')].map(e => {
            const r = e.getBoundingClientRect(); return [e.dataset.label, r.left, r.top, r.right, r.bottom]; })""")
        frame = page.get_by_test_id("cutaway").bounding_box()
        self.assertGreaterEqual(len(boxes), least)
        for i, (name, left, top, right, bottom) in enumerate(boxes):
            self.assertTrue(
                frame["x"] <= left and right <= frame["x"] + frame["width"] + 1,
                f"{name} leaves the drawing: {left}-{right}",
            )
            self.assertTrue(
                frame["y"] <= top and bottom <= frame["y"] + frame["height"] + 1, f"{name} leaves the drawing"
            )
            for other, l2, t2, r2, b2 in boxes[i + 1 :]:
                self.assertFalse(
                    left < r2 - 0.5 and l2 < right - 0.5 and top < b2 - 0.5 and t2 < bottom - 0.5,
                    f"{name} lies on {other}",
                )
