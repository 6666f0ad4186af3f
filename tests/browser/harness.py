"""A real server and a real browser for the tests that drive the interface."""

from __future__ import annotations

import functools
import logging
import multiprocessing.util
import socket
import sqlite3
import tempfile
import threading
import unittest
from contextlib import closing
from pathlib import Path

from playwright.sync_api import Browser, Page, expect, sync_playwright
from playwright.sync_api import TimeoutError as PlaywrightTimeout
from waitress.server import BaseWSGIServer

from reamer.core.model import Plan
from reamer.core.onsite.handed import MOST_BYTES
from reamer.demos import canyon
from reamer.store.backup import generation
from reamer.store.database import connect
from reamer.store.plans import Plans
from reamer.web import create_app, most_bytes
from reamer.web.listen import listening
from reamer.web.settings import Settings
from reamer.web.share import create_share_app
from tests.kept import memory

# Debian's headless build of Chromium: it draws no window, and so takes a third of the work.
CHROMIUM = "/usr/bin/chromium-headless-shell"
# What the console says where a request is refused, or a test stops its server.
EXPECTED = ("status of 4", "ERR_CONNECTION_REFUSED")
AXE = Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js"
ARGUMENTS = [
    "--no-sandbox",
    # Text is as wide as in a window.
    "--font-render-hinting=none",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


# A slow machine is no fault of what is tested: only what never comes fails.
PATIENCE_MS = 90_000
expect.set_options(PATIENCE_MS)


# A page asks for more at once than a server has threads: nothing to tell.
logging.getLogger("waitress.queue").setLevel(logging.ERROR)


# Counts what a page has asked and not been answered.
ASKED = """
window.asked = 0;
const plain = window.fetch;
window.fetch = (...given) => { window.asked += 1; return plain(...given).finally(() => { window.asked -= 1; }); };
"""
# A page is settled once nothing is asked, loaded or moving over a few frames; asked at each.
SETTLED = """() => {
  const moves = (a) => a.playState === 'running' && a.timeline instanceof DocumentTimeline
    && a.effect.getComputedTiming().endTime !== Infinity;
  const busy = window.asked || document.readyState !== 'complete' || document.fonts.status !== 'loaded'
    || document.body.textContent.includes('Opening…') || document.getAnimations().some(moves);
  window.calm = busy ? 0 : (window.calm ?? 0) + 1;
  if (window.calm > 3) window.calm = 0; else return false;
  return true;
}"""
THEME = "document.documentElement.dataset.theme"
# Goes where a link of the application would lead.
GO = "(path) => { history.pushState({}, '', path); dispatchEvent(new PopStateEvent('popstate', { state: {} })); }"


# What was worked out is by content: a server of a test's own need not do it again.
MEMORY = memory()


def free_port() -> int:
    """A port on which nobody listens."""
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


def stopped(server: BaseWSGIServer) -> None:
    """Stop a server once its threads have finished what they were at; it is closed in its own thread, which looks at
    its sockets."""
    server.task_dispatcher.shutdown(timeout=60)

    def close() -> None:
        server.close()
        for channel in list(server._map.values()):
            channel.close()

    if server._map:
        server.trigger.pull_trigger(close)


class Server:
    """Reamer on a free port with a database of its own."""

    def __init__(self, share: bool = False) -> None:
        """share: whether it shows cards on a second port of 127.0.0.1"""
        # In memory where there is room: every save waits for the disk, and this disk is nobody's.
        there = Path("/dev/shm")
        self.folder = tempfile.TemporaryDirectory(dir=there if there.is_dir() else None)
        self.port = free_port()
        self.database = Path(self.folder.name) / "t.sqlite3"
        second = free_port()
        app = create_app(Settings(self.database, self.port, share=f"127.0.0.1:{second}" if share else ""))
        # What is sent is compressed in `tests/web/test_wire`; here it only takes time.
        app.after_request_funcs[None] = [
            f for f in app.after_request_funcs[None] if "flask_compress" not in f.__module__
        ]
        app.extensions["memory"] = MEMORY
        self.app = app
        self.start()
        self.second = None
        if share:
            room = create_share_app(app.extensions["shared"])
            self.second = listening(room, "127.0.0.1", second, lambda *_: MOST_BYTES, 2)
            threading.Thread(target=self.second.run, daemon=True).start()
        self.address = f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        """Listen, again after it was stopped."""
        self.server = listening(self.app, "127.0.0.1", self.port, most_bytes(self.app))
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()

    def stop(self) -> None:
        """Answer nobody any more; what is being answered is answered first."""
        stopped(self.server)
        self.thread.join(5)

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

    def library(self) -> sqlite3.Connection:
        """A copy of all that is kept, as it stands."""
        made = sqlite3.connect(":memory:")
        with closing(connect(self.database)) as conn:
            conn.backup(made)
        return made

    def reset(self, library: sqlite3.Connection) -> None:
        """Have all that is kept as it stood before: what one test records, another must not meet."""
        with closing(library), closing(connect(self.database)) as conn:
            library.backup(conn)
        # The same library by its name, with other records: what is kept by their number is not of these.
        MEMORY.records.clear()
        MEMORY.gears.clear()

    def close(self) -> None:
        self.stop()
        if self.second is not None:
            stopped(self.second)
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


class Tab:
    """A page in a profile of its own, and what it complained of in the test that has it."""

    def __init__(self, units: str, theme: str, caution: str, width: int, height: int) -> None:
        context = browser().new_context(viewport={"width": width, "height": height})
        context.add_init_script(ASKED)
        context.add_init_script(
            f"for (const [k, v] of [['caution', '{caution}'], ['theme', '{theme}'], ['units', '{units}']])"
            " if (localStorage.getItem(k) === null) localStorage.setItem(k, v)"
        )
        self.prefs = {"caution": caution, "theme": theme, "units": units}
        self.page = page = context.new_page()
        self.faults: list[str] = []
        page.set_default_timeout(PATIENCE_MS)
        page.on("pageerror", lambda e: self.faults.append(str(e)))
        page.on("console", lambda m: self._told(m.type, m.text))

    def _told(self, kind: str, text: str) -> None:
        if kind == "error" and not any(x in text for x in EXPECTED):
            self.faults.append(text)

    def as_new(self) -> bool:
        """Leave what was open; whether nothing of it is kept, so that another test may have the page."""
        page = self.page
        if page.is_closed() or len(page.context.pages) > 1 or not page.url.startswith(f"{server().address}/"):
            return False
        page.unroute_all()
        page.emulate_media(media="null", reduced_motion="null")
        page.mouse.move(0, 0)
        page.evaluate(GO, "/nowhere")
        # What is still asked would be answered from this test's library, and shown in the next.
        try:
            page.wait_for_function("() => !window.asked", timeout=10_000)
        except PlaywrightTimeout:
            return False
        return dict(page.evaluate("Object.entries(localStorage)")) == self.prefs


# Pages that a test has done with, by what was asked of them: starting the application anew takes longer than many a
# test. One that was left otherwise than it was found is not used again.
TABS: dict[tuple[object, ...], list[Tab]] = {}


class Browsing(unittest.TestCase):
    """One server and one browser for the process; a page as new, and the demo plan, for each test."""

    @classmethod
    def setUpClass(cls) -> None:
        cls.server, cls.browser = server(), browser()

    def page_of(
        self, units: str = "metric", theme: str = "day", caution: str = "read", width: int = 1280, height: int = 800
    ) -> Page:
        asked = (units, theme, caution, width, height)
        free = TABS.setdefault(asked, [])
        tab = free.pop() if free and self.server is server() else Tab(*asked)
        self.faults = tab.faults
        self.addCleanup(self._leave, tab, free)
        return tab.page

    def _leave(self, tab: Tab, free: list[Tab]) -> None:
        faults, tab.faults[:] = list(tab.faults), []
        if not self._outcome.success or not tab.as_new():  # type: ignore[attr-defined]
            tab.page.context.close()
        elif len(free) < 2:
            free.append(tab)
        else:
            tab.page.context.close()
        self.assertEqual(faults, [])

    def setUp(self) -> None:
        self.begun()
        self.id = self.server.add(canyon())

    def begun(self) -> None:
        """A page, and a library that is put back after the pages are left: what they still ask is asked of the one that
        they know."""
        self.addCleanup(self.put_back, self.server, self.server.library())
        self.page = self.page_of()

    def put_back(self, server: Server, library: sqlite3.Connection) -> None:
        known, there = generation(library), server.library()
        with closing(there):
            other = generation(there) != known
        server.reset(library)
        # A page that has put another library in its place knows that one; it begins where nothing is read.
        if other and not self.page.is_closed():
            self.page.goto(f"{server.address}/nowhere")

    def go(self, path: str, page: Page | None = None) -> None:
        """To a place of the application: as its own links lead there, where it is open already."""
        page = page or self.page
        if page.url.startswith(f"{self.server.address}/"):
            page.evaluate(GO, f"/{path}")
        else:
            page.goto(f"{self.server.address}/{path}")

    def open(self, step: str, drop: str = "", page: Page | None = None, plan: str = "") -> None:
        page = page or self.page
        self.go(f"plans/{plan or self.id}/{step}/{drop}", page)
        # What is still there of the screen before takes no key that is meant for this one.
        page.locator(f'[data-at^="{plan or self.id}/{step}/{drop}"]').wait_for()
        there = page.get_by_test_id("tally").or_(page.get_by_test_id("count")).or_(page.get_by_test_id("act"))
        there.or_(page.get_by_role("region", name="Ropes")).or_(page.get_by_text("no drops yet")).first.wait_for()
        # Keys of a step are heard once it is there.
        page.get_by_text("Opening…", exact=True).first.wait_for(state="detached")

    def settled(self, page: Page | None = None) -> None:
        (page or self.page).wait_for_function(SETTLED)

    def accessible(self, page: Page, where: object, only: str = "", themes: bool = False, within: str = "html") -> None:
        """Hold that axe finds nothing on a page as it is, by all its rules or one; themes: nor in the other theme,
        which differs in its colours alone; within: the part that is new, where the rest was looked at before."""
        self.settled(page)
        if not page.evaluate("'axe' in window"):
            page.evaluate(AXE.read_text())
        rules = f"runOnly: ['{only}']" if only else "rules: { 'target-size': { enabled: true } }"
        found = page.evaluate(f"axe.run('{within}', {{ resultTypes: ['violations'], preload: false, {rules} }})")[
            "violations"
        ]
        told = [(v["id"], [n["html"][:160] for n in v["nodes"] if not self._cut(page, v["id"], n)][:3]) for v in found]
        self.assertEqual([t for t in told if t[1]], [], where)
        if themes:
            page.evaluate(f"{THEME} = 'headlamp'")
            self.accessible(page, (where, "headlamp"), "color-contrast", within=within)
            page.evaluate(f"{THEME} = 'day'")

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
