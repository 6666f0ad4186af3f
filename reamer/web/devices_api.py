"""Instruments over HTTP: connected on this machine, asked, listened to; a shot goes into the survey, a pull's peak into
the bench, a gauge against the stations' limits."""

from __future__ import annotations

import datetime as dt
from typing import Literal

from flask import Flask, current_app
from pydantic import BaseModel, Field

from reamer.core.descent.gauge import Flow, Limited, Reading, flow_now, limited
from reamer.core.errors import PlanError
from reamer.desk import saves
from reamer.desk.views import PlanView
from reamer.devices.lines import Asked, Kind, Laser, Said, Water
from reamer.devices.link import Link, LinkState
from reamer.web.base import Body, bp, desk, whole
from reamer.web.endpoints import endpoint

KINDS: dict[str, Kind] = {"rangefinder": "rangefinder", "load-cell": "load cell", "gauge": "gauge"}


class ConnectBody(Body):
    """On which port of this machine an instrument, or what bridges to it, listens."""

    port: int = Field(ge=1, le=65535, strict=True)


class AskBody(Body):
    """What an instrument is asked to do."""

    do: Asked


class ShotBody(Body):
    """A shot that was heard, by its number, for one drop of a revision; ``first``: from where on shots are this
    section's."""

    revision: int
    drop: str = Field(max_length=64)
    number: int
    first: int = 1


class HeardView(BaseModel):
    """Something that was heard, by its number; ``wrong``: why it was not taken."""

    number: int
    said: Said | None
    wrong: str


class DeviceView(BaseModel):
    """How an instrument stands and what was heard after a number. Of a load cell's pull: samples from a place on, each
    seconds and kN, how many there are, and its peak so far [kN]."""

    state: LinkState | Literal["none"]
    why: str
    port: int
    name: str
    simulated: bool
    heard: list[HeardView]
    samples: list[tuple[float, float]]
    count: int
    peak_kn: float | None


class WaterView(BaseModel):
    """What the gauge says now, and every station that has limits against it."""

    state: LinkState | Literal["none"]
    why: str
    flow: Flow
    stations: list[Limited]


def init_app(app: Flask) -> None:
    """Keep the links to instruments, one of each kind."""
    app.extensions["links"] = {}


def _links() -> dict[Kind, Link]:
    found: dict[Kind, Link] = current_app.extensions["links"]
    return found


def _kind(name: str) -> Kind:
    if name not in KINDS:
        raise PlanError("kind", f"no instrument {name[:40]!r}; there are {', '.join(KINDS)}")
    return KINDS[name]


def _view(link: Link | None, after: int = 0, sample: int = 0) -> DeviceView:
    if link is None:
        return DeviceView(
            state="none", why="", port=0, name="", simulated=False, heard=[], samples=[], count=0, peak_kn=None
        )
    state, why = link.now()
    heard, samples, count = link.since(after, sample)
    return DeviceView.model_construct(
        state=state,
        why=why,
        port=link.port,
        name=link.hello.name if link.hello else "",
        simulated=link.hello.simulated if link.hello else False,
        heard=[HeardView.model_construct(number=h.number, said=h.said, wrong=h.wrong) for h in heard],
        samples=samples,
        count=count,
        peak_kn=link.peak,
    )


@endpoint(bp, "GET", "/devices/<kind>", DeviceView)
def open_device(kind: str) -> DeviceView:
    """How an instrument stands and what was heard, ``?after=`` a number and ``&sample=`` a place."""
    return _view(_links().get(_kind(kind)), whole("after"), whole("sample"))


@endpoint(bp, "POST", "/devices/<kind>", DeviceView, ConnectBody)
def connect_device(kind: str, body: ConnectBody) -> DeviceView:
    """Connect to an instrument on a port of this machine, in the place of another of its kind."""
    named = _kind(kind)
    had = _links().pop(named, None)
    if had is not None:
        had.close()
    _links()[named] = Link(named, body.port)
    return _view(_links()[named])


@endpoint(bp, "DELETE", "/devices/<kind>")
def leave_device(kind: str) -> None:
    """End the link to an instrument."""
    had = _links().pop(_kind(kind), None)
    if had is not None:
        had.close()


@endpoint(bp, "POST", "/devices/<kind>/ask", DeviceView, AskBody)
def ask_device(kind: str, body: AskBody) -> DeviceView:
    """Ask an instrument to do something; what it answers is heard later."""
    link = _links().get(_kind(kind))
    if link is None:
        raise PlanError("do", f"no {_kind(kind)} is connected")
    link.ask(body.do)
    return _view(link, link.count)


@endpoint(bp, "POST", "/plans/<plan_id>/shot", PlanView, ShotBody)
def take_shot(plan_id: str, body: ShotBody) -> PlanView:
    """Put a shot that was heard into the section of a drop, as a new revision."""
    link = _links().get("rangefinder")
    heard = [h for h in link.since(body.first - 1, 0)[0] if h.number <= body.number] if link is not None else []
    shots = [h.said for h in heard if isinstance(h.said, Laser)]
    if link is not None and body.number in link.taken:
        raise PlanError("number", "this shot is in a survey already")
    if not heard or heard[-1].number != body.number or not isinstance(heard[-1].said, Laser):
        raise PlanError("number", "no shot of this number was heard")
    saved = saves.take_shot(desk(), plan_id, body.revision, body.drop, shots)
    if link is not None:
        link.taken.add(body.number)
    return saved


@endpoint(bp, "GET", "/plans/<plan_id>/water", WaterView)
def open_water(plan_id: str) -> WaterView:
    """What the gauge says now, against the limits of every station that has some."""
    plan, link = desk().head(plan_id).plan, _links().get("gauge")
    state, why = link.now() if link is not None else ("none", "")
    said = [h.said for h in link.since(0, 0)[0]] if link is not None else []
    readings = [Reading(s.at, s.level_m, s.rain_mm_h) for s in said if isinstance(s, Water)]
    flow = flow_now(readings, dt.datetime.now(dt.UTC))
    stations = [limited(d.id, d.watch, flow) for d in plan.drops if d.watch is not None]
    return WaterView.model_construct(state=state, why=why, flow=flow, stations=stations)
