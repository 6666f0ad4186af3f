"""Simulated instruments, each behind the line protocol: what they measure is invented."""

from __future__ import annotations

import asyncio
import datetime as dt
import math
import random
from collections.abc import Awaitable, Callable

from pydantic import ValidationError

from reamer.core.plan.figures import M
from reamer.devices.lines import MOST_LINE, PORTS, Alive, Ask, Force, Hello, Kind, Laser, Lost, Water, written

# A drop as it would be shot from its tie: out to the edge, over two bulges, down to the pool.
PROFILE = ((2.4, -6.0), (7.8, -83.0), (1.1, -41.0), (11.6, -88.0), (5.2, -96.0))
BEARING, LOST_SHOTS = 214.0, 0.12
HERTZ, RAMP_KN_S = 100, 2.4
ALIVE_S = 1.5


class Wire:
    """One connection: lines out, requests in."""

    def __init__(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter):
        self.reader, self.writer = reader, writer

    async def say(self, line: M) -> None:
        """Send a line."""
        self.writer.write(written(line))
        await self.writer.drain()

    async def asked(self, seconds: float) -> str:
        """What is asked for within some seconds, "" for nothing."""
        try:
            line = await asyncio.wait_for(self.reader.readline(), seconds)
        except TimeoutError:
            return ""
        if not line:
            raise ConnectionResetError
        try:
            return Ask.model_validate_json(line[:MOST_LINE]).do
        except ValidationError:
            return ""


async def rangefinder(wire: Wire, rng: random.Random, quick: bool) -> None:
    """Shoots on request, point by point down an invented drop; now and then nothing comes back."""
    n = 0
    while True:
        if await wire.asked(ALIVE_S) != "shoot":
            await wire.say(Alive(line="alive"))
            continue
        await asyncio.sleep(0 if quick else 0.5)
        if rng.random() < LOST_SHOTS:
            await wire.say(Lost(line="lost", why="nothing came back: wet rock or spray"))
            continue
        slope, incl = PROFILE[n % len(PROFILE)]
        n += 1
        # Past plumb the instrument looks down the other way.
        down, turned = (incl, 0.0) if incl >= -90 else (-180 - incl, 180.0)
        await wire.say(
            Laser(
                line="shot",
                slope_m=round(slope + rng.gauss(0, 0.015), 3),
                incl_deg=round(max(-90.0, down + rng.gauss(0, 0.15)), 2),
                azimuth_deg=round((BEARING + turned + rng.gauss(0, 0.4)) % 360, 1) % 360,
            )
        )


async def load_cell(wire: Wire, rng: random.Random, quick: bool) -> None:
    """Once started, a pull that grows until something breaks, a hundred samples a second."""
    while True:
        if await wire.asked(ALIVE_S) != "start":
            await wire.say(Alive(line="alive"))
            continue
        breaks, broken = rng.gauss(14.0, 0.8), False
        begun = asyncio.get_running_loop().time()
        for i in range(HERTZ * 600):
            t = i / HERTZ
            force = RAMP_KN_S * t * (1 + 0.02 * math.sin(7 * t))
            broken = broken or force >= breaks
            kn = rng.gauss(0.02, 0.01) if broken else force + rng.gauss(0, 0.02)
            await wire.say(Force(line="force", t_s=round(t, 3), kn=round(kn, 3)))
            late = begun + (i + 1) / HERTZ - asyncio.get_running_loop().time()
            if await wire.asked(0.0005 if quick else max(0.0005, late)) == "stop":
                break


async def gauge(wire: Wire, rng: random.Random, quick: bool) -> None:
    """An hour of readings, then one a second: a stream that rises slowly after rain."""
    now = dt.datetime.now(dt.UTC)

    def reading(at: dt.datetime) -> Water:
        hours = (at - now).total_seconds() / 3600
        level = 0.34 + 0.06 * math.exp(min(2.0, hours)) + rng.gauss(0, 0.003)
        return Water(line="water", at=at, level_m=round(level, 3), rain_mm_h=round(max(0.0, 2.5 + hours), 1))

    for minute in range(60, 0, -1):
        await wire.say(reading(now - dt.timedelta(minutes=minute)))
    while True:
        await wire.say(reading(dt.datetime.now(dt.UTC)))
        await wire.asked(0.05 if quick else 1.0)


SIMULATED: dict[Kind, Callable[[Wire, random.Random, bool], Awaitable[None]]] = {
    "rangefinder": rangefinder,
    "load cell": load_cell,
    "gauge": gauge,
}


async def served(kind: Kind, port: int, seed: int | None = None, quick: bool = False) -> asyncio.Server:
    """A simulated instrument that listens on 127.0.0.1.

    kind: which; port: 0 for a free one; seed: of its noise, None for another one each time; quick: without waiting
    returns: the server
    raises: OSError where the port cannot be used
    """

    async def run(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        wire = Wire(reader, writer)
        try:
            await wire.say(Hello(line="hello", protocol=1, device=kind, name=f"simulated {kind}", simulated=True))
            await SIMULATED[kind](wire, random.Random(seed), quick)
        except (ConnectionError, ValueError, asyncio.CancelledError):
            pass  # It hung up, sent a line without an end, or all of it was stopped.
        finally:
            writer.close()

    return await asyncio.start_server(run, "127.0.0.1", port, limit=4 * MOST_LINE)


async def serve_all(ports: dict[Kind, int], said: Callable[[str], None]) -> None:
    """Serve every instrument until it is stopped.

    ports: by kind; said: told where each is
    raises: OSError where a port cannot be used
    """
    servers = [(kind, await served(kind, ports.get(kind, port))) for kind, port in PORTS.items()]
    for kind, server in servers:
        said(f"a simulated {kind} on port {server.sockets[0].getsockname()[1]} of this machine")
    await asyncio.gather(*(server.serve_forever() for _, server in servers))
