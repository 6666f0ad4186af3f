"""Descents to rehearse: every rope system, stance, party and backup, as plans."""

from __future__ import annotations

from typing import Any

from reamer.core.answer.context import context
from reamer.core.assess import assess
from reamer.core.model import Plan
from reamer.core.reading import read_plan
from reamer.core.rehearsal.play import Play
from reamer.core.rehearsal.rehearsal import gone_through
from tests.builders import bights, doubled, known, plan_of, quick, releasable, rope

BLOCKED = {
    "kind": "blocked, same rope",
    "rope": "r1",
    "ridden_end": "b",
    "ride_m": known(20, "tape"),
    "block": "figure eight",
    "carabiner": True,
    "stoppers": [{"rope": "r1", "end": "b"}],
}
CORD = {
    "kind": "blocked, pull cord",
    "rope": "r1",
    "ridden_end": "b",
    "cord": "c1",
    "cord_end": "b",
    "tails_m": known(0.4),
    "block": "figure eight",
    "carabiner": True,
    "stoppers": [{"rope": "r1", "end": "b"}],
}
JOINED = {
    "kind": "joined",
    "through": "r1",
    "through_end": "b",
    "other": "r2",
    "other_end": "b",
    "tails_m": known(0.4),
    "stoppers": [{"rope": "r1", "end": "b"}, {"rope": "r2", "end": "b"}],
}
ELASTIC = {
    "kind": "elastic-release device",
    "rope": "r1",
    "ridden_end": "b",
    "device": "elastic",
    "stoppers": [{"rope": "r1", "end": "b"}],
}
LOWERED = {"kind": "lowered", "rope": "r1", "end": "b", "belayer": "above", "far_end_closed": True}
# Each system for the party, and the one for the last person where it is another.
SYSTEMS: dict[str, tuple[dict[str, Any], dict[str, Any] | None]] = {
    "doubled": (doubled(), None),
    "joined": (JOINED, None),
    "blocked": (BLOCKED, None),
    "pull cord": (CORD, None),
    "releasable": (releasable(20), BLOCKED),
    "elastic": (ELASTIC, None),
    "bights": (bights(), None),
    "lowered": (LOWERED, doubled()),
}
LANDINGS = ("ledge", "hanging stance", "ground", "moving water")
ROLES = ("guide", "second guide", "novice", "novice", "able", "novice", "novice", "novice")
NAMES = ("Ada", "Bo", "Cleo", "Dan", "Eva", "Finn", "Gro", "Hal")


def third(**more: Any) -> dict[str, Any]:
    """A third hand that fits."""
    return {"loop": "loop-60", "knot": "autoblock", "wraps": known(4), "clipped_m": known(-0.1), **more}


def person(n: int, role: str, **more: Any) -> dict[str, Any]:
    return {
        "id": f"p{n}",
        "name": NAMES[n],
        "role": role,
        "mass_kg": known(70 + n),
        "device": "eight",
        "tether": "rope",
        "hitch": third(),
        "attachment": {"way": "double-length nylon sling", "device_m": known(0.5)},
        **more,
    }


def party(n: int) -> list[dict[str, Any]]:
    roles = ("able",) if n == 1 else ROLES[:n]
    return [person(i, role) for i, role in enumerate(roles)]


def descent_of(
    system: str,
    people: list[dict[str, Any]],
    landing: str = "ledge",
    drops: int = 2,
    courtesy: bool = False,
    **more: Any,
) -> dict[str, Any]:
    """A descent of drops alike, as plain data."""
    first, last = SYSTEMS[system]
    ropes = [rope(), rope("r2"), rope("c1", 60, 6, "pull cord"), rope("spare")]
    data = plan_of(first, section=quick(0, 0, 15, "tape", "rounded"), ropes=ropes, landing=landing, **more)
    data["party"] = people
    data["shed"]["loops"] = [
        {"id": "loop-60", "name": "60 cm loop", "fibre": "nylon", "diameter_mm": known(6), "length_m": known(0.6)}
    ]
    data["shed"]["devices"].append(
        {"id": "elastic", "name": "elastic", "rating_kn": {"kind": "unknown"}, "use": "elastic release"}
    )
    # A ring small enough that every carabiner and join is stopped.
    data["shed"]["rings"][0]["opening_mm"] = known(12)
    data["shed"]["rings"][0]["id"] = "ring-steel"
    one = data["drops"][0]
    states = one["station"]["states"]
    if landing == "moving water":
        for s in (first, last or {}):
            s = {**s, "stoppers": []}
        states[0]["system"] = {**first, "stoppers": []} if "stoppers" in first else first
        last = {**last, "stoppers": []} if last and "stoppers" in last else last
    if last is not None or courtesy:
        rig = states[0]["rig"]
        if courtesy:
            rig = {**rig, "links": [{"kind": "webbing", "id": "ext", "webbing": "web-25", "reach_m": known(1.0)}]}
        states[:] = [
            {**states[0], "serves": "party"},
            {**states[0], "id": "last", "serves": "last", "rig": rig, "system": last or states[0]["system"]},
        ]
    every = [p["part"] for s in states for p in s["accepted"]]
    for s in states:
        parts = dict.fromkeys([*every, "ring", "link.ext"])
        s["accepted"] = [{"part": p, "reason": "looked at"} for p in parts]
    data["drops"] = [{**one, "id": f"d{n}", "name": f"Drop {n}", "onward": []} for n in range(1, drops + 1)]
    data["carry"] = {"ropes": ["r1", "r2", "c1", "spare"]}
    return data


def backed(data: dict[str, Any], by: str, who: list[str] | None = None, **through: Any) -> dict[str, Any]:
    """The same with somebody backed up so at every station; by default everybody but the first and the last."""
    ids = [p["id"] for p in data["party"]]
    for d in data["drops"]:
        d["station"] = {
            **d["station"],
            "through": {"backups": [{"who": i, "by": by} for i in (who if who is not None else ids[1:-1])], **through},
        }
    return data


def run_of(plan: Plan) -> Play:
    return gone_through(context(plan), assess(plan, fixes=False).drops)


def run(data: dict[str, Any]) -> Play:
    return run_of(read_plan(data))
