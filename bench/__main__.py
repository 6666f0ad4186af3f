"""Figures, not verdicts: ``make bench``. How long an assessment, a preview, a drag and a first load take here."""

from __future__ import annotations

import itertools
import json
import math
import re
import statistics
import tempfile
import time
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from reamer.cli import tune_memory
from reamer.core.anchor.equilibrium import Member, rest, swings
from reamer.core.answer.context import context
from reamer.core.assess import Kept, assess, assess_by_parts
from reamer.core.descent.events import matrix
from reamer.core.descent.field import Field
from reamer.core.descent.sets import lightest
from reamer.core.descent.stations import Stations, asked, longest
from reamer.core.model import Contingencies, Known, Plan
from reamer.core.reading import read_plan
from reamer.core.rehearsal.faults import faults
from reamer.core.rehearsal.rehearsal import gone_through, rehearsal
from reamer.core.schools import schools
from reamer.core.station.comparison import compare_systems
from reamer.core.station.drop import assess_drop, compare_patterns, pull_curve
from reamer.core.station.serves import served
from reamer.demos import buttress, canyon
from reamer.formats.card import card
from reamer.formats.html import html
from reamer.formats.importing import look
from reamer.formats.pdf import pdf
from reamer.formats.traces import read_trace
from reamer.store.database import connect, migrate
from reamer.store.plans import Plans
from reamer.store.search import Search
from reamer.web import create_app
from reamer.web.settings import STATIC, Settings, card_parts
from tests.browser.harness import ARGUMENTS, CHROMIUM, Server
from tests.rehearsing import descent_of, party
from tests.test_card import answers

DRAG = """
async ({ moves, handle, out }) => {
  const el = document.querySelector(`[data-handle="${handle}"]`);
  const box = el.getBoundingClientRect();
  const from = [box.left + box.width / 2, box.top + box.height / 2];
  const painted = () => new Promise((done) => requestAnimationFrame(() => {
    const c = new MessageChannel();
    c.port1.onmessage = () => done(performance.now());
    c.port2.postMessage(0);
  }));
  const took = [];
  for (let i = 1; i <= moves; i++) {
    const way = 12 + 2 * (i % 40);
    const was = el.getAttribute("transform");
    const changed = new Promise((done) => {
      const o = new MutationObserver(() => {
        if (el.getAttribute("transform") !== was) { o.disconnect(); done(); }
      });
      o.observe(el, { attributes: true });
    });
    const start = performance.now();
    const to = { clientX: from[0] + out * way, clientY: from[1] + way / 4, bubbles: true };
    el.dispatchEvent(new PointerEvent("pointermove", to));
    await changed;
    took.push((await painted()) - start);
    await new Promise((done) => setTimeout(done, 8));
  }
  return took;
}
"""


SLIDE = """
async (frames) => {
  const el = document.querySelector('input[aria-label="rope pulled"]');
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set;
  const took = [];
  let last = await new Promise(requestAnimationFrame);
  for (let i = 1; i <= frames; i++) {
    set.call(el, String((i / frames) * Number(el.max)));
    el.dispatchEvent(new Event("input", { bubbles: true }));
    const now = await new Promise(requestAnimationFrame);
    took.push(now - last);
    last = now;
  }
  return took;
}
"""


# What a step to another act takes of a frame: script and layout, from the key [ms].
SCRUB = """
async ([steps, on, back]) => {
  const took = [];
  for (let i = 0; i < steps; i++) {
    await new Promise((done) => requestAnimationFrame(() => setTimeout(done, 2)));
    const key = i % 80 < 40 ? on : back;
    const start = performance.now();
    window.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
    await Promise.resolve();
    document.body.getBoundingClientRect();
    took.push(performance.now() - start);
  }
  return took;
}
"""
# From the key that moves or drops an act to the paint of the station without it there [ms].
EDIT = """
async (key) => {
  const act = () => document.querySelector("aside").innerText.match(/Act \\d+ of \\d+/)[0];
  const was = act();
  const start = performance.now();
  window.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
  while (act() === was) await new Promise(requestAnimationFrame);
  return performance.now() - start;
}
"""


OPEN = """
async (link) => {
  const start = performance.now();
  link.click();
  while (!document.querySelector('[data-testid="answer"]')) await new Promise(requestAnimationFrame);
  return performance.now() - start;
}
"""
ENTER = """
async (text) => {
  const field = document.querySelector('input[aria-label="height, edge to landing"]');
  const said = () => document.querySelector('.aside h1').textContent;
  const was = said();
  field.focus();
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, text);
  field.dispatchEvent(new Event('input', { bubbles: true }));
  const start = performance.now();
  field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
  while (said() === was) await new Promise(requestAnimationFrame);
  return performance.now() - start;
}
"""


# The plain loop of this run [ms], so that machines and days compare.
LOOP: list[float] = []


def loop() -> None:
    """200,000 steps of integer arithmetic."""
    n = 0
    for i in range(200_000):
        n += i * i % 7


def told(text: str) -> None:
    """Print a figure, its time also beside that of the plain loop."""
    ms = re.search(r"([\d.]+) ms", text)
    print(f"{text}   = {float(ms[1]) / LOOP[0]:.2f} loops" if ms else text, flush=True)


def of_drops(n: int) -> Plan:
    """The demonstration with n drops."""
    plan = canyon()
    drops = tuple(plan.drops[i % 9].model_copy(update={"id": f"d{i + 1}"}) for i in range(n))
    return plan.model_copy(update={"drops": drops})


def best_ms(run, times: int = 15) -> float:
    """Median time of one run in milliseconds."""
    took = []
    for _ in range(times):
        start = time.perf_counter()
        run()
        took.append((time.perf_counter() - start) * 1000)
    return statistics.median(took)


def again(plan: Plan, full: float, least: int, least_save: int) -> None:
    """Print what an edit of one drop costs against a full assessment: assessed again, and saved as a whole."""
    kept, n = Kept(), len(plan.drops)
    named = itertools.count()

    def edited() -> Plan:
        drop = plan.drops[1].model_copy(update={"name": f"edited {next(named)}"})
        return plan.model_copy(update={"drops": (plan.drops[0], drop, *plan.drops[2:])})

    assess_by_parts(plan, kept)
    plans = iter([edited() for _ in range(40)])
    took = best_ms(lambda: assess_by_parts(next(plans), kept), 15)
    told(f"assessed again, {n:<3} {took:7.1f} ms   1/{full / took:.1f} of a full assessment (bar 1/{least})")
    with tempfile.TemporaryDirectory() as folder:
        settings = Settings(Path(folder) / "bench.sqlite3", 8420, hosts=("localhost",))
        http = create_app(settings).test_client()
        source = {"kind": "file", "plan": json.loads(plan.model_dump_json())}
        view = http.post("/api/plans", json={"source": source}).json
        path, stamps = f"/api/plans/{view['id']}", [view["stamp"]]

        def save() -> None:
            drop = json.loads(edited().drops[1].model_dump_json())
            changes = {"set": [], "lists": [{"at": ["drops"], "put": [drop], "order": None}]}
            body = {"revision": len(stamps), "changes": changes, "seen": stamps[-1]}
            told = http.post(f"{path}/edits", data=json.dumps(body), content_type="application/json").json
            stamps.append(next(s["value"] for s in told["set"] if s["at"] == ["stamp"]))

        took = best_ms(save, 15)
    told(f"saved, {n:<3} drops    {took:7.1f} ms   1/{full / took:.1f} (bar 1/{least_save}), told what changed")


def drag(page: Page, handle: str) -> list[float]:
    """Times from a pointer's move to the paint of that position's own answer [ms]."""
    box = page.locator(f'[data-handle="{handle}"]').bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    took = page.evaluate(DRAG, {"moves": 200, "handle": handle, "out": -1 if handle == "post" else 1})
    page.keyboard.press("Escape")
    page.mouse.up()
    return sorted(took)


def of_ropes(plan: Plan, n: int) -> Plan:
    """A plan whose shed has n ropes, of few kinds and many lengths."""
    own = plan.shed.ropes
    made = list(own)
    for i in range(n - len(own)):
        like, long = own[i % len(own)], 20.0 + 7.5 * (i % 7)
        figure = Known(kind="known", value=long, method="tape")
        made.append(
            like.model_copy(update={"id": f"x{i}", "name": f"X {i}", "nominal_m": figure, "measured_m": figure})
        )
    shed = plan.shed.model_copy(update={"ropes": tuple(made)})
    return plan.model_copy(update={"shed": shed})


def whole(drops: int, ropes: int, bars: tuple[float, float]) -> None:
    """Print what choosing ropes takes: which serve each station, then the exact choice, then all that lies ahead."""
    want = Contingencies(lost=True, stuck=True, spare=True, two_sets=True)
    plan = of_ropes(of_drops(drops), ropes).model_copy(update={"contingencies": want})
    ctx, kept = context(plan), Stations()
    each = [best_ms(lambda k=k: served(context(plan), k, plan.drops[k]), 3) for k in range(min(9, drops))]
    told(
        f"serving, {ropes} ropes   {statistics.median(each):7.1f} ms   a station, the slowest {max(each):.0f} ms"
        f" (bar {bars[0]:g})"
    )
    for k in range(drops):
        kept.of(ctx, k)
    far = longest(tuple(kept.of(ctx, k) for k in range(drops)))
    by = [kept.with_ridden(ctx, k) if k == far else kept.of(ctx, k) for k in range(drops)]
    question = asked(ctx, tuple(by)).question
    took = best_ms(lambda: lightest(question), 3)
    told(f"choice, {drops} × {ropes}     {took:7.1f} ms   exact, all contingencies (bar {bars[1]:g})")
    a = assess_by_parts(plan, Kept())
    field = Field(ctx, tuple(by), a.drops)
    took = best_ms(lambda: matrix(field, a.descent.times, a.webbing), 3)
    told(f"what if, {drops} drops   {took:7.1f} ms   nine events at each" + (" (bar 1000)" if drops == 12 else ""))


def rehearsed(system: str, people: int, drops: int) -> None:
    """Print what going through one station and a whole descent takes, with every single fault on every state."""

    def took(n: int, times: int) -> float:
        plan = read_plan(descent_of(system, party(people), "hanging stance", n))
        drops = assess(plan).drops

        def all_of_it() -> None:
            ctx = context(plan)
            play = gone_through(ctx, drops)
            rehearsal(ctx, play)
            for p in play.stations:
                for world in p.states:
                    faults(play.scene, world)

        return best_ms(all_of_it, times)

    told(f"rehearsed, 1 drop   {took(1, 5):7.1f} ms   {system}, {people} people, every single fault (bar 300)")
    told(f"rehearsed, {drops} drops {took(drops, 3):7.1f} ms   (bar 3000)")


def on_paper() -> None:
    """Print what writing the demonstration's card takes, on paper and for a phone, everything worked out before."""
    of, parts = answers(canyon()), card_parts()
    papers = best_ms(lambda: pdf(card(of)), 5)
    told(f"card, 9 stations    {papers:7.1f} ms   PDF (bar 2000)")
    told(f"card, 9 stations    {best_ms(lambda: html(card(of), *parts), 5):7.1f} ms   HTML (bar 1000)")


def rehearse_screen(page: Page, server: Server, people: int, bars: str) -> None:
    """Print what stepping through acts and moving one takes on the screen."""
    data = json.loads(json.dumps(descent_of("doubled", party(people), "hanging stance", 12)))
    plan_id = server.add(read_plan(data))
    page.goto(f"{server.address}/plans/{plan_id}/rehearse/d4")
    page.get_by_test_id("act").wait_for()
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(3000)
    for what, keys in (("acts", ".,"), ("moves", ("ArrowRight", "ArrowLeft"))):
        took = sorted(page.evaluate(SCRUB, [300, *keys]))
        told(
            f"step by key, {people}      300 {what}, of a frame: median {took[150]:5.1f} ms, p95 {took[285]:5.1f}"
            " (bar 16.7)"
        )
    page.goto(f"{server.address}/plans/{plan_id}/rehearse/d4")
    page.get_by_test_id("act").wait_for()
    page.wait_for_timeout(2000)
    page.keyboard.press("Home")
    for _ in range(9):
        page.keyboard.press(".")
    # What is dropped stays away to the end of the station: nothing after it is as it was.
    for what, keys in (("move", "][" * 4 + "]"), ("drop", ["Delete"] * 9)):
        took = []
        for key in keys:
            took.append(page.evaluate(EDIT, key))
            page.wait_for_timeout(2500)
        middle, most = statistics.median(took), max(took)
        told(f"{what} an act, {people}      to the paint: median {middle:5.0f} ms, most {most:5.0f} (bar {bars})")


def forty(page: Page, server: Server) -> None:
    """Print what opening a plan of forty drops takes on the screen, and what an edit takes until its answer stands."""
    plan_id = server.add(of_drops(40))
    took = []
    for _ in range(5):
        page.goto(server.address)
        row = page.locator(f'a[href*="{plan_id}"]').first
        row.wait_for()
        page.wait_for_load_state("networkidle")
        took.append(row.evaluate(OPEN))
    # The first time the drops are worked out, and the plan's screens fetched.
    told(f"open 40 drops       {statistics.median(took[1:]):7.0f} ms, the first time {took[0]:.0f} (bars 150, 300)")
    page.goto(f"{server.address}/plans/{plan_id}/survey/d5")
    page.get_by_label("height, edge to landing", exact=True).wait_for()
    page.wait_for_timeout(1500)
    for pause in (2000, 600):
        took = []
        for n in range(20):
            took.append(page.evaluate(ENTER, f"{19 + n / 10 + pause / 20000:.2f}"))
            page.wait_for_timeout(pause)
        middle, p95 = statistics.median(took), sorted(took)[18]
        told(f"edit with 40 drops  {middle:7.0f} ms to the paint, every {pause} ms, p95 {p95:.0f} (bars 80, 150)")


def library() -> None:
    """Print what taking in a large table takes, and looking for words in many plans."""
    rows = "".join(f"D{n // 100},{5 + n % 7},{-80 - n % 9},tape\n" for n in range(10_000))
    table = f"drop,slope (m),inclination (°),method\n{rows}".encode()
    took = best_ms(lambda: look(Plan(format=1, title="Empty"), "shots.csv", table), 3)
    told(f"10,000 shots        {took:7.1f} ms   looked at (bar 2000)")
    pull = "time (s),force (kN)\n" + "".join(f"{n / 100:.2f},{n % 4999 / 300:.3f}\n" for n in range(50_000))
    took = best_ms(lambda: read_trace(pull.encode()), 3)
    told(f"50,000 load samples {took:7.1f} ms   read (bar 2000)")
    with tempfile.TemporaryDirectory() as folder:
        conn = connect(Path(folder) / "t.sqlite3")
        migrate(conn)
        for n in range(200):
            Plans(conn).create(canyon().model_copy(update={"title": f"Slot {n}"}))
        search = Search(conn)
        begun = time.perf_counter()
        search.find("slot")
        first = (time.perf_counter() - begun) * 1000
        took = best_ms(lambda: search.find("long qui"), 5)
        told(f"search, 200 plans   {took:7.1f} ms   (bar 100); all of them put in anew {first:.0f}")
        conn.close()


def wire() -> None:
    """Print what the first page takes on the wire: all that it names, its own part, the fonts."""
    page, assets = (STATIC / "index.html").read_text(), STATIC / "assets"
    named = {assets / n for n in re.findall(r"/assets/([^\"]+)", page)}
    files = named | set(assets.glob("PlanList-*.js")) | set(assets.glob("*.woff2"))
    sizes = [min(len(f.read_bytes()) for f in (f, f.with_name(f"{f.name}.br")) if f.is_file()) for f in files]
    told(f"first load          {sum(sizes) / 1000:7.1f} kB on the wire (bar 170)")


def main() -> None:
    """Print every figure."""
    LOOP.append(best_ms(loop, 31))
    print(f"plain loop          {LOOP[0]:7.1f} ms   200,000 steps; each time below is also told in these", flush=True)
    tune_memory()
    small, large = of_drops(12), of_drops(120)
    t12, t120 = best_ms(lambda: assess(small)), best_ms(lambda: assess(large), 5)
    told(f"assess, 12 drops    {t12:7.1f} ms   (bar 1.2 loops)")
    told(f"assess, 120 drops   {t120:7.1f} ms   {t120 / t12:.1f} times as long (bar 10)")
    again(small, t12, 6, 4)
    again(large, t120, 30, 15)
    ctx = context(small)
    told(f"one drop            {best_ms(lambda: assess_drop(ctx, 2, small.drops[2])):7.2f} ms")
    told(f"twelve patterns     {best_ms(lambda: compare_patterns(ctx, small.drops[0])):7.2f} ms   (bar 10)")
    ways = compare_systems(ctx, 2, small.drops[2]).ways
    told(
        f"{len(ways)} rope systems     {best_ms(lambda: compare_systems(ctx, 2, small.drops[2])):7.2f} ms   all of a"
        f" station compared (bar 120)"
    )
    told(f"pull curve          {best_ms(lambda: pull_curve(ctx, 2, small.drops[2])):7.2f} ms   200 points (bar 5)")
    points = [(-0.5, -0.6, 0.2), (-0.6, 0.0, 0.3), (-0.5, 0.5, 0.1), (-0.4, 0.9, 0.0)]
    legs = [Member((i,), math.dist(p, (0.4, 0, -0.3)), 200.0) for i, p in enumerate(points)]
    ways = swings((1, 0, -0.5), math.radians(15), points, (0.4, 0, -0.3))
    loads, without = zip(*(((4 * w[0], 4 * w[1], 4 * w[2]), n) for w in ways for n in (None, 0, 1, 2, 3)), strict=True)
    # A balance that was found is kept: each run hangs the ring a little elsewhere.
    starts = iter((0.4, 0, -0.3 + n / 1e6) for n in range(99))
    took = best_ms(lambda: rest(points, legs, next(starts), list(loads), list(without)))
    told(f"four-point balance  {took:7.2f} ms   nine directions, each whole and with each point gone (bar 10)")
    b = context(buttress())
    told(f"drop of 3 points    {best_ms(lambda: assess_drop(b, 3, b.plan.drops[3])):7.2f} ms")
    now = assess(small)
    told(f"schools             {best_ms(lambda: schools(context(small), now), 5):7.1f} ms")
    whole(12, 14, (40, 500))
    whole(40, 20, (80, 5000))
    for system in ("doubled", "releasable"):
        rehearsed(system, 8, 12)
    on_paper()
    library()
    wire()
    server = Server()
    with sync_playwright() as driver:
        browser = driver.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.add_init_script("localStorage.setItem('caution', 'read')")
        forty(page, server)
        plan_id = server.add(small)
        start = time.perf_counter()
        page.goto(f"{server.address}/plans/{plan_id}/survey/d5")
        page.locator("[data-handle]").first.wait_for()
        told(f"open a plan, cold   {(time.perf_counter() - start) * 1000:7.0f} ms (bar 500)")
        for drop, handle in (("d5", "edge"), ("d3", "shot-4"), ("d5", "ring"), ("d5", "post")):
            page.goto(f"{server.address}/plans/{plan_id}/rig/{drop}")
            page.locator(f'[data-handle="{handle}"]').wait_for()
            page.wait_for_timeout(300)
            took = drag(page, handle)
            told(
                f"drag {handle:<10} 200 moves, to the paint of its own answer: median {took[100]:5.1f} ms, p95"
                f" {took[190]:5.1f} ms (bar 40)"
            )
        page.goto(f"{server.address}/plans/{plan_id}/rig/d9")
        page.get_by_role("tab", name="Pull").click()
        page.get_by_role("slider", name="rope pulled").wait_for()
        frames = sorted(page.evaluate(SLIDE, 180))
        told(f"pull slider         180 frames: median {frames[90]:5.1f} ms, p95 {frames[171]:5.1f} ms a frame (bar 17)")
        plan_id = server.add(buttress())
        for drop, handle in (("d4", "l1-plan"), ("d4", "focal-plan")):
            page.goto(f"{server.address}/plans/{plan_id}/rig/{drop}")
            page.locator(f'[data-handle="{handle}"]').wait_for()
            page.wait_for_timeout(300)
            took = drag(page, handle)
            told(
                f"drag {handle:<10} 200 moves, to the paint of its own answer: median {took[100]:5.1f} ms, p95"
                f" {took[190]:5.1f} ms (bar 40)"
            )
        rehearse_screen(page, server, 4, "150")
        rehearse_screen(page, server, 8, "350")
        browser.close()
    server.close()


if __name__ == "__main__":
    main()
