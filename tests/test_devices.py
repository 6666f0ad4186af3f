"""Instruments: the simulated ones against a client of the test's own, the link against instruments that misbehave."""

import asyncio
import contextlib
import datetime as dt
import json
import re
import socket
import statistics
import threading
import time
import unittest
from pathlib import Path
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

from reamer.core.errors import PlanError
from reamer.devices import link as linked
from reamer.devices.lines import MOST_LINE, SPOKEN, Ask, read_line
from reamer.devices.link import MOST_BAD, Link
from reamer.devices.simulated import PROFILE, served

HELLO = {"line": "hello", "protocol": 1, "device": "rangefinder"}
SHOT = {"line": "shot", "slope_m": 5.0, "incl_deg": -45.0}


def lines(*some):
    return b"".join(json.dumps(x).encode() + b"\n" for x in some)


@contextlib.contextmanager
def simulated(kind, seed=7):
    """A simulated instrument in a thread of its own; its port."""
    loop, ready = asyncio.new_event_loop(), threading.Event()
    port = []

    async def run():
        server = await served(kind, 0, seed, quick=True)
        port.append(server.sockets[0].getsockname()[1])
        ready.set()
        with contextlib.suppress(asyncio.CancelledError):
            await server.serve_forever()

    def whole():
        asyncio.set_event_loop(loop)
        with contextlib.suppress(RuntimeError):
            loop.run_until_complete(run())
        for task in asyncio.all_tasks(loop):
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                loop.run_until_complete(task)
        loop.close()

    thread = threading.Thread(target=whole)
    thread.start()
    ready.wait(5)
    try:
        yield port[0]
    finally:
        loop.call_soon_threadsafe(loop.stop)
        thread.join(5)


@contextlib.contextmanager
def instrument(*sends, hold=True):
    """An instrument that sends bytes as they are, and then holds the line or hangs up; its port."""
    with socket.create_server(("127.0.0.1", 0)) as server:
        over = threading.Event()

        def run():
            with contextlib.suppress(OSError):
                conn, _ = server.accept()
                with conn:
                    for data in sends:
                        if callable(data):
                            data = data(conn)
                        conn.sendall(data)
                    if hold:
                        over.wait(10)

        thread = threading.Thread(target=run)
        thread.start()
        try:
            yield server.getsockname()[1]
        finally:
            over.set()
            thread.join(5)


class Client:
    """A client that knows nothing of Reamer but the protocol's page."""

    def __init__(self, port):
        self.sock = socket.create_connection(("127.0.0.1", port), timeout=5)
        self.file = self.sock.makefile("rwb")

    def ask(self, what):
        self.file.write(json.dumps({"do": what}).encode() + b"\n")
        self.file.flush()

    def next(self, but=("alive",)):
        while True:
            made = json.loads(self.file.readline())
            if made["line"] not in but:
                return made

    def close(self):
        self.file.close()
        self.sock.close()


def until(said, seconds=5.0):
    end = time.monotonic() + seconds
    while not said():
        if time.monotonic() > end:
            raise AssertionError("it did not come to that")
        time.sleep(0.01)


class Simulated(unittest.TestCase):
    def client(self, kind):
        port = self.enterContext(simulated(kind))
        made = Client(port)
        self.addCleanup(made.close)
        hello = made.next()
        self.assertEqual(
            (hello["line"], hello["protocol"], hello["device"], hello["simulated"]), ("hello", 1, kind, True)
        )
        return made

    def test_a_rangefinder_shoots_down_its_drop_and_loses_some(self):
        client, shots, lost = self.client("rangefinder"), [], 0
        for _ in range(60):
            client.ask("shoot")
            said = client.next()
            shots += [said] if said["line"] == "shot" else []
            lost += said["line"] == "lost"
        self.assertTrue(2 <= lost <= 20, lost)
        for i, (slope, incl) in enumerate(PROFILE):
            same = shots[i :: len(PROFILE)]
            self.assertAlmostEqual(statistics.mean(s["slope_m"] for s in same), slope, delta=0.03)
            self.assertGreater(statistics.stdev(s["slope_m"] for s in same), 0)
            self.assertTrue(all(-90 <= s["incl_deg"] <= 90 and 0 <= s["azimuth_deg"] < 360 for s in same), incl)

    def test_a_load_cell_pulls_until_something_breaks_and_stops_when_asked(self):
        client = self.client("load cell")
        client.ask("start")
        forces = [client.next() for _ in range(900)]
        self.assertEqual([f["t_s"] for f in forces], [round(i / 100, 3) for i in range(900)])
        peak = max(f["kn"] for f in forces)
        self.assertTrue(10 < peak < 18, peak)
        self.assertLess(forces[-1]["kn"], 0.2)
        client.ask("stop")
        self.assertEqual(client.next(but=("force",))["line"], "alive")

    def test_a_gauge_tells_the_past_hour_and_then_goes_on(self):
        client = self.client("gauge")
        some = [client.next() for _ in range(63)]
        times = [dt.datetime.fromisoformat(s["at"]) for s in some]
        self.assertEqual(times, sorted(times))
        self.assertGreater(times[-1] - times[0], dt.timedelta(minutes=59))
        self.assertTrue(all(0 < s["level_m"] < 2 for s in some))

    def test_what_nobody_may_send_ends_nothing_but_itself(self):
        client = self.client("rangefinder")
        for bad in (b"\n", b"{}\n", b'{"do": "explode"}\n', b"\xff\xfe\n", b'{"do":"shoot"}{"do":"shoot"}\n'):
            client.file.write(bad)
        client.ask("shoot")
        client.file.flush()
        self.assertIn(client.next()["line"], ("shot", "lost"))


class Page(unittest.TestCase):
    def test_every_line_of_the_protocols_page_is_read(self):
        page = (Path(__file__).parents[1] / "docs/devices.md").read_text()
        seen = set()
        for head, body in re.findall(r"```(json[ a-z]*)\n(.*?)```", page, re.DOTALL):
            for line in body.strip().splitlines():
                if head == "json ask":
                    seen.add(Ask.model_validate_json(line).do)
                else:
                    seen.add(read_line(line.encode()).line)
        self.assertEqual(seen, {"hello", "alive", "shoot", "start", "stop", *(x for s in SPOKEN.values() for x in s)})


class Listening(unittest.TestCase):
    def link(self, *sends, kind="rangefinder", hold=True):
        port = self.enterContext(instrument(*sends, hold=hold))
        made = Link(kind, port)
        self.addCleanup(made.close)
        return made

    def ended(self, made):
        until(lambda: made.now()[0] == "ended")
        return made.now()[1]

    def test_it_reads_what_a_good_one_says_in_whatever_pieces(self):
        text = lines(HELLO, {"line": "alive"}, SHOT, {"line": "lost", "why": "spray"}, SHOT)
        made = self.link(*(text[i : i + 7] for i in range(0, len(text), 7)))
        until(lambda: made.count == 3)
        self.assertEqual([h.said.line for h in made.since(0, 0)[0]], ["shot", "lost", "shot"])
        self.assertEqual([h.number for h in made.since(2, 0)[0]], [3])
        self.assertEqual(made.now(), ("connected", ""))

    def test_one_that_hangs_is_said_to_be_silent_and_comes_back(self):
        with mock.patch.object(linked, "SILENT", 0.3):
            made = self.link(
                lines(HELLO), lambda conn: conn.recv(100) and b"", lambda _: time.sleep(0.8) or lines(SHOT)
            )
            until(lambda: made.hello)
            made.ask("shoot")
            until(lambda: made.now()[0] == "silent")
            self.assertIn("nothing was heard", made.now()[1])
            until(lambda: made.count == 1)
            self.assertEqual(made.now(), ("connected", ""))
            # Alive, and yet no answer: told too.
            made.waiting_since = time.monotonic() - 1
            made._last = time.monotonic()
            self.assertEqual(made.now(), ("connected", "it does not answer; ask again"))

    def test_one_that_hangs_up_in_the_middle_of_a_shot_gives_no_shot(self):
        made = self.link(lines(HELLO, SHOT), lines(SHOT)[:-20], hold=False)
        self.assertIn("middle of a line", self.ended(made))
        self.assertEqual(made.count, 1)
        with self.assertRaises(PlanError) as caught:
            made.ask("shoot")
        self.assertIn("not connected", str(caught.exception))

    def test_one_that_babbles_is_cut_off_and_what_was_heard_stays(self):
        some = [SHOT, *({"line": "babble", "n": n} for n in range(MOST_BAD + 5))]
        made = self.link(lines(HELLO, *some))
        self.assertIn("too much", self.ended(made))
        heard = made.since(0, 0)[0]
        self.assertEqual([bool(h.said) for h in heard], [True] + [False] * (MOST_BAD + 1))
        made = self.link(lines(HELLO) + b"x" * (MOST_LINE + 100))
        self.assertIn("more than", self.ended(made))
        # Noise now and then is told and borne.
        made = self.link(lines(HELLO, *([SHOT] * 15 + [{"line": "noise"}]) * 30))
        until(lambda: made.count == 480)
        self.assertEqual(made.now()[0], "connected")

    def test_what_is_not_what_it_should_be_is_said(self):
        for sends, why in (
            ([lines({**HELLO, "device": "gauge"})], "it is a gauge, not a rangefinder"),
            ([lines(SHOT)], "does not say what it is"),
            ([b"SSH-2.0-x\r\n" * (MOST_BAD + 1)], "too much"),
        ):
            self.assertIn(why, self.ended(self.link(*sends)))
        with mock.patch.object(linked, "HELLO", 0.2):
            self.assertIn("does not say what it is", self.ended(self.link(b"")))
            # A byte at a time and never a line's end.
            drip = [lambda _: time.sleep(0.02) or b"{"] * 100
            self.assertIn("does not say what it is", self.ended(self.link(*drip)))
        with socket.create_server(("127.0.0.1", 0)) as nobody:
            port = nobody.getsockname()[1]
        made = Link("rangefinder", port)
        self.addCleanup(made.close)
        self.assertIn(f"nothing answers on port {port}", self.ended(made))

    @given(
        st.sampled_from(
            [
                {**SHOT, "slope_m": 0},
                {**SHOT, "slope_m": 1e9},
                {**SHOT, "slope_m": "5"},
                {**SHOT, "slope_m": None},
                {**SHOT, "incl_deg": -91},
                {**SHOT, "azimuth_deg": 360},
                {**SHOT, "more": 1},
                {"line": "shot"},
                {"line": "water", "at": "2027-06-12T05:30:00", "level_m": 1},
                {"line": "water", "at": "2027-06-12T05:30:00Z", "level_m": 1e9},
                {"line": "force", "t_s": -1, "kn": 1},
                [],
                None,
            ]
        )
    )
    def test_what_cannot_be_is_refused(self, bad):
        with self.assertRaises(PlanError):
            read_line(json.dumps(bad).encode())
        for text in (b"", b"nan", b'{"line":"force","t_s":0,"kn":NaN}', b"\xff"):
            with self.assertRaises(PlanError):
                read_line(text)

    def test_a_peak_after_the_last_sample_that_is_kept_is_still_the_peak(self):
        forces = [
            {"line": "force", "t_s": i / 100, "kn": k} for i, k in enumerate((1.0, 2.0, 3.0, 2.0, 9.0, 9.0, 9.0, 1.0))
        ]
        with mock.patch("reamer.devices.link.MOST_SAMPLES", 4):
            made = self.link(lines({**HELLO, "device": "load cell"}, *forces), kind="load cell")
            until(lambda: made.peak == 9.0)
        self.assertEqual(len(made.samples), 4)
        told = [h.wrong for h in made.since(0, 0)[0]]
        self.assertEqual(sum("only the peak is followed" in w for w in told), 1, told)

    def test_no_single_sample_makes_a_peak_and_no_clock_runs_backwards(self):
        forces = [{"line": "force", "t_s": i / 100, "kn": float(k)} for i, k in enumerate((1, 2, 30, 4, 5, 3, 1))]
        late = {"line": "force", "t_s": 0.0, "kn": 40.0}
        made = self.link(lines({**HELLO, "device": "load cell"}, *forces, late), kind="load cell")
        until(lambda: made.count == 1)
        self.assertEqual((made.peak, len(made.samples)), (5.0, 7))
        self.assertIn("backwards", made.since(0, 0)[0][0].wrong)
        made.ask("start")
        self.assertEqual((made.samples, made.peak), ([], None))
        with self.assertRaises(PlanError):
            made.ask("shoot")
