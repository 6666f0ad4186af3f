"""The link to an instrument: a thread that listens, checks every line and keeps what was said, whatever the other end
does."""

from __future__ import annotations

import contextlib
import socket
import threading
import time
from collections import deque
from dataclasses import dataclass
from typing import Literal

from reamer.core.errors import PlanError
from reamer.core.load.trace import middle
from reamer.devices.lines import (
    ASKED,
    MOST_LINE,
    SPOKEN,
    Alive,
    Ask,
    Asked,
    Force,
    Hello,
    Kind,
    Said,
    read_line,
    written,
)

LinkState = Literal["connecting", "connected", "silent", "ended"]
# Seconds without a line: a link that is not alive is said to be silent; one that never says what it is is closed.
SILENT, HELLO = 5.0, 4.0
MOST_SAID, MOST_SAMPLES, MOST_BAD = 5_000, 200_000, 20


@dataclass(frozen=True, slots=True)
class Heard:
    """Something that was heard, by its number; ``wrong``: why it was not taken, "" for what was."""

    number: int
    said: Said | None
    wrong: str = ""


class Link:
    """A link to one instrument on this machine. It ends when the other end does, or babbles; what was heard stays."""

    def __init__(self, kind: Kind, port: int):
        self.kind, self.port = kind, port
        self.state: LinkState = "connecting"
        self.why = ""
        self.hello: Hello | None = None
        self.heard: deque[Heard] = deque(maxlen=MOST_SAID)
        self.samples: list[tuple[float, float]] = []
        self.peak: float | None = None
        self._newest: deque[float] = deque(maxlen=3)
        self._told_full = False
        self.count = 0
        self.bad = 0.0
        self.waiting_since: float | None = None
        # Shots that went into a survey: each goes there once.
        self.taken: set[int] = set()
        self._last = time.monotonic()
        self._socket: socket.socket | None = None
        self._lock = threading.Lock()
        self._over = threading.Event()
        self._thread = threading.Thread(target=self._run, daemon=True)
        self._thread.start()

    def ask(self, do: Asked) -> None:
        """Ask it to do something. Raises PlanError where it cannot be asked."""
        if do not in ASKED[self.kind]:
            raise PlanError("do", f"a {self.kind} is not asked to {do}")
        sock = self._socket
        if self.state not in ("connected", "silent") or sock is None or self.hello is None:
            raise PlanError("do", f"the {self.kind} is not connected: {self.why or self.state}")
        with self._lock:
            if do == "start":
                self.samples, self.peak = [], None
                self._newest.clear()
                self._told_full = False
            if do == "shoot":
                self.waiting_since = time.monotonic()
        try:
            sock.sendall(written(Ask(do=do)))
        except OSError as e:
            self._end(f"it cannot be reached: {e.strerror or e}")
            raise PlanError("do", self.why) from None

    def now(self) -> tuple[LinkState, str]:
        """How the link stands, and why."""
        if self.state == "connected" and time.monotonic() - self._last > SILENT:
            return "silent", f"nothing was heard for {time.monotonic() - self._last:.0f} s"
        if self.waiting_since is not None and time.monotonic() - self.waiting_since > SILENT:
            return self.state, "it does not answer; ask again"
        return self.state, self.why

    def since(self, number: int, sample: int) -> tuple[list[Heard], list[tuple[float, float]], int]:
        """What was heard after a number; of a load cell's samples those from a place on, and how many there are."""
        with self._lock:
            return [h for h in self.heard if h.number > number], self.samples[sample : sample + 5000], len(self.samples)

    def close(self) -> None:
        """End it."""
        self._end("it was closed here")
        self._thread.join(2)

    def _run(self) -> None:
        try:
            sock = socket.create_connection(("127.0.0.1", self.port), timeout=3)
        except OSError as e:
            self._end(f"nothing answers on port {self.port} of this machine: {e.strerror or e}")
            return
        with sock:
            self._socket = sock
            sock.settimeout(0.25)
            self._last = time.monotonic()
            self._end(self._listen(sock))
            self._socket = None

    def _listen(self, sock: socket.socket) -> str:
        """Listen until it is over; why it is."""
        rest = b""
        while not self._over.is_set():
            # Whatever drips in: without a whole line it says nothing.
            if self.hello is None and time.monotonic() - self._last > HELLO:
                return "it does not say what it is"
            try:
                piece = sock.recv(65536)
            except TimeoutError:
                continue
            except OSError as e:
                return f"the connection broke: {e.strerror or e}"
            if not piece:
                return "it hung up" + (" in the middle of a line; that line was not taken" if rest else "")
            *lines, rest = (rest + piece).split(b"\n")
            for line in lines:
                if not self._over.is_set():
                    self._take(line.rstrip(b"\r"))
            if len(rest) > MOST_LINE:
                return f"it sends a line of more than {MOST_LINE} bytes"
        return self.why

    def _take(self, line: bytes) -> None:
        """One line: kept, or told why not."""
        try:
            if len(line) > MOST_LINE:
                raise PlanError("line", f"it has more than {MOST_LINE} bytes")
            said = read_line(line)
            self._fits(said)
        except PlanError as e:
            self.bad += 1
            self._keep(None, f"a line was not taken: {e}"[:200])
            if self.bad > MOST_BAD:
                self._end("it sends too much that is no line of a " + self.kind)
            return
        if self._over.is_set():
            return
        self._last = time.monotonic()
        # Now and then a bad line is noise; one in ten is babble.
        self.bad = max(0.0, self.bad - 0.1)
        if isinstance(said, Hello):
            self.hello, self.state, self.why = said, "connected", ""
        elif isinstance(said, Force):
            with self._lock:
                full = len(self.samples) == MOST_SAMPLES
                if not full:
                    self.samples.append((said.t_s, said.kn))
                self._newest.append(said.kn)
                if len(self._newest) == 3:
                    # As core.load.trace has it: no single wild sample makes a peak. It is followed on when no more
                    # of the trace is kept.
                    self.peak = max(self.peak or 0.0, middle(*self._newest))
            if full and not self._told_full:
                self._told_full = True
                self._keep(
                    None, f"the trace holds its {MOST_SAMPLES:,} samples; only the peak is followed from here on"
                )
        elif not isinstance(said, Alive):
            self.waiting_since = None
            self._keep(said, "")

    def _fits(self, said: Said) -> None:
        if isinstance(said, Hello):
            if said.device != self.kind:
                self._end(f"it is a {said.device}, not a {self.kind}")
        elif self.hello is None:
            self._end("it does not say what it is")
        elif said.line not in ("alive", *SPOKEN[self.kind]):
            raise PlanError("line", f"a {self.kind} says no {said.line}")
        elif isinstance(said, Force) and self.samples and said.t_s < self.samples[-1][0]:
            raise PlanError("t_s", "its clock runs backwards")

    def _keep(self, said: Said | None, wrong: str) -> None:
        with self._lock:
            self.count += 1
            self.heard.append(Heard(self.count, said, wrong))

    def _end(self, why: str) -> None:
        if not self._over.is_set():
            self._over.set()
            self.state, self.why, self.waiting_since = "ended", why, None
        if self._socket is not None:
            with contextlib.suppress(OSError):
                self._socket.shutdown(socket.SHUT_RDWR)
