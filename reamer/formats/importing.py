"""A file laid beside a plan: what it would change, before anything is."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel

from reamer.core.errors import PlanError
from reamer.core.model import Drop, Landing, Plan, Section, Shed, Shots, State, Station, Unknown
from reamer.core.plan.changes import changes_between, describe_change
from reamer.core.plan.log import Trip
from reamer.core.reading import beside, parse, read_file, read_plan
from reamer.core.section.shooting import as_shots
from reamer.formats.sheets import Decimal
from reamer.formats.tables import Read, read
from reamer.formats.tracks import Track, read_gpx


@dataclass(frozen=True, slots=True)
class Import:
    """What a file would do: which kind it is, in words what changes and what is not taken, the plan as it would be,
    and descents that would be logged."""

    kind: str
    changes: tuple[str, ...]
    left: tuple[str, ...]
    plan: Plan
    trips: tuple[Trip, ...] = ()


def look(plan: Plan, name: str, data: bytes, decimal: Decimal = "") -> Import:
    """What a file would change in a plan.

    plan: as it is; name: the file's; data: its content; decimal: the sign before decimals where a table's own
    numbers leave it open
    returns: the changes, and the plan as it would be
    raises: PlanError where it cannot be read, naming row and column or field
    Source: none.
    """
    ending = name.rpartition(".")[2].casefold()
    if ending == "gpx":
        return _places(plan, read_gpx(data))
    if ending == "csv":
        return _table(plan, read(data, decimal))
    if ending == "json":
        came = read_file(parse(data))
        told = {"record": "what a second person said of it", "gear": "what its things have been through"}
        left = [f"{told[k]} is not taken; open it as a plan of its own for that" for k in beside(*came[1:])]
        return _made("plan", plan, came.plan, left)
    raise PlanError("file", "it ends in none of .json, .gpx, .csv")


def _made(kind: str, was: Plan, now: Plan, left: Sequence[str], told: Sequence[str] = ()) -> Import:
    # Whatever it came from, it is validated as any plan is.
    made = read_plan(json.loads(now.model_dump_json()))
    said = tuple(told) or (() if made == was else (describe_change(was, made),))
    return Import(kind, said, tuple(left), made)


def _by_name(plan: Plan) -> tuple[dict[str, Drop], set[str]]:
    """The drops by their names, and names that more than one has: nobody can tell which is meant."""
    names = [d.name.casefold() for d in plan.drops]
    twice = {n for n in names if names.count(n) > 1}
    return {d.name.casefold(): d for d in plan.drops if d.name.casefold() not in twice}, twice


def _fresh(taken: set[str], letter: str) -> str:
    n = 1
    while f"{letter}{n}" in taken:
        n += 1
    taken.add(f"{letter}{n}")
    return f"{letter}{n}"


def _places(plan: Plan, track: Track) -> Import:
    (known, twice), told, left = _by_name(plan), [], list(track.left)
    drops = {d.id: d for d in plan.drops}
    left += [f"more than one station is called {name}" for name, _ in track.places if name.casefold() in twice]
    strange = [name for name, _ in track.places if name.casefold() not in {*known, *twice}]
    for name, at in track.places:
        drop = known.get(name.casefold())
        if drop is not None and drop.position != at:
            told.append(
                f"{drop.name} {'moves to' if drop.position else 'lies at'} {at.latitude_deg:g}, {at.longitude_deg:g}"
            )
            drops[drop.id] = drop.model_copy(update={"position": at})
    if strange:
        left.append(f"no station is called {', '.join(strange[:5])}" + (" and more" if len(strange) > 5 else ""))
    now = plan.model_copy(update={"drops": tuple(drops.values())})
    if track.points and track.points != plan.approach:
        told.append(f"the approach becomes {len(track.points):,} points")
        now = now.model_copy(update={"approach": track.points})
    return _made("places", plan, now, left, told)


def _table(plan: Plan, got: Read) -> Import:
    left = [f"columns that mean nothing here: {', '.join(got.unknown[:8])}"] if got.unknown else []
    if got.kind == "shots":
        return _shots(plan, got, left)
    if got.kind == "log":
        told = [f"the descent of {t.on} is logged, {len(t.stations)} stations" for t in got.trips]
        return Import("log", tuple(told), tuple(left), plan, got.trips)
    if got.kind == "party":
        party, told = _merged(plan.party, got.party, "p")
        return _made("party", plan, plan.model_copy(update={"party": party}), left, told)
    lists: Mapping[str, Sequence[BaseModel]] = {"pull_tests": got.tests} if got.kind == "pull tests" else got.shed
    shed, told = plan.shed, []
    for name, some in lists.items():
        items, said = _merged(getattr(shed, name), some, name[0])
        shed = shed.model_copy(update={name: items})
        told += said
    return _made(got.kind, plan, plan.model_copy(update={"shed": Shed.model_validate(shed.model_dump())}), left, told)


def _merged(had: Sequence[Any], came: Sequence[Any], letter: str) -> tuple[tuple[Any, ...], list[str]]:
    """Things by their names: of one of the same name what the table tells is changed where it stands, others come
    after. Nothing is removed, and what has no column stays as it was: a table that tells nothing of a rope's damage
    does not mend it."""
    made = {x.name.casefold(): x for x in had}
    taken = {x.id for x in had}
    told = []
    seen: set[str] = set()
    for x in came:
        key = x.name.casefold()
        if key in seen:
            raise PlanError("file", f"two rows are called {x.name!r}")
        seen.add(key)
        old = made.get(key)
        # What stations name stays what they name.
        told_of = {f: v for f in x.model_fields_set - {"id"} if not _empty(v := getattr(x, f))}
        new = x.model_copy(update={"id": _free(x.id, taken, letter)}) if old is None else old.model_copy(update=told_of)
        if old is None:
            told.append(f"{x.name} comes in")
        elif old != new:
            told.append(f"{x.name}: {changes_between(old.model_dump(mode='json'), new.model_dump(mode='json'))}")
        made[key] = new
    return tuple(made.values()), told


def _empty(value: Any) -> bool:
    """Whether a table says nothing of a figure: no number, and no reason why there is none."""
    return isinstance(value, Unknown) and not value.why


def _free(wanted: str, taken: set[str], letter: str) -> str:
    if wanted in taken:
        return _fresh(taken, letter)
    taken.add(wanted)
    return wanted


def _shots(plan: Plan, got: Read, left: Sequence[str]) -> Import:
    (known, twice), told = _by_name(plan), []
    drops = {d.id: d for d in plan.drops}
    taken = set(drops)
    for name, section in got.shots.items():
        if name.casefold() in twice:
            raise PlanError("drop", f"more than one drop is called {name[:40]}; give each its own name first")
        shots = section.shots
        drop = known.get(name.casefold())
        if drop is None:
            fresh = _fresh(taken, "d")
            drops[fresh] = _new_drop(fresh, name, section)
            told.append(f"{name} comes in, {len(shots)} shots")
            continue
        if isinstance(drop.section, Shots) and "first_edge" not in section.model_fields_set:
            section = section.model_copy(update={"first_edge": drop.section.first_edge})
        if not told_by(drop.section, section):
            was = "five figures" if not isinstance(drop.section, Shots) else f"{len(drop.section.shots)} shots"
            told.append(f"{drop.name}: {len(shots)} shots in place of {was}")
            drops[drop.id] = drop.model_copy(update={"section": section})
    return _made("shots", plan, plan.model_copy(update={"drops": tuple(drops.values())}), left, told)


def told_by(had: Section, came: Shots) -> bool:
    """Whether shots are what a section tells already: five figures stay five where the shots are theirs, but for the
    digits that a unit's factor takes."""
    if isinstance(had, Shots):
        return had == came
    return bool(_rounded(as_shots(had).model_dump()) == _rounded(came.model_dump()))


def _rounded(value: Any) -> Any:
    if isinstance(value, dict):
        return {k: _rounded(v) for k, v in value.items() if k != "id"}
    if isinstance(value, list | tuple):
        return [_rounded(v) for v in value]
    return float(f"{value:.9g}") if isinstance(value, float) else value


def _new_drop(drop_id: str, name: str, section: Section) -> Drop:
    state = State.model_validate({"id": "main", "serves": "all", "rig": {"kind": "none"}, "system": {"kind": "none"}})
    return Drop(
        id=drop_id, name=name, section=section, landing=Landing(kind="unknown"), station=Station(states=(state,))
    )
