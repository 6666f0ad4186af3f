"""The guide's own schools at a station and over a descent: whom each is followed for, what it changes, in words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from reamer.core.acts.act import Act, MoveName
from reamer.core.acts.changed import changed
from reamer.core.acts.own import keepable
from reamer.core.acts.stage import Scene
from reamer.core.answer.codes import Severity
from reamer.core.answer.context import Context, figured
from reamer.core.answer.say import Sentence
from reamer.core.model import ActEdit, Plan
from reamer.core.rehearsal.moves import phrase
from reamer.core.rehearsal.play import Play, Played

# Told of nobody, whoever does an act is named.
NOBODY = "-"


@dataclass(frozen=True, slots=True)
class KeptChange:
    """One change of a station's acts, by its place among them from 0, in words, and as an own school would keep it:
    None where it cannot be, and why. ``move``: of what it is; ``each``: several people do the same there, or would;
    ``guest``: whose it is is not able."""

    edit: int
    said: Sentence
    move: MoveName
    each: bool
    guest: bool
    kept: ActEdit | None
    why: Sentence | None


@dataclass(frozen=True, slots=True)
class SchoolHere:
    """An own school at one station. ``here``: whether it is followed there; ``place``: whether its acts are there;
    ``people``: whom it is followed for, none where it is of nobody in particular; ``changes``: what it changes for the
    first of them."""

    id: str
    name: str
    here: bool
    place: bool
    people: tuple[str, ...]
    changes: tuple[Sentence, ...]


@dataclass(frozen=True, slots=True)
class HazardChanged:
    """A hazard that an own school brings, or ends: at which station."""

    severity: Severity
    title: Sentence
    drop: str
    number: int


@dataclass(frozen=True, slots=True)
class SchoolOver:
    """An own school over the whole descent: each station with whom it is followed for; the hazards that it brings and
    those that it ends, as the plan stands; how many findings of the acts there are with it, and without."""

    id: str
    name: str
    stations: tuple[tuple[str, SchoolHere], ...]
    brings: tuple[HazardChanged, ...]
    ends: tuple[HazardChanged, ...]
    followed: dict[Severity, int]
    by_rule: dict[Severity, int]


def kept_changes(run: Play, k: int) -> tuple[KeptChange, ...]:
    """Each change of a station's acts as an own school would keep it.

    run: gone through; k: the station, from 0
    returns: one a change, in their order
    Source: none, the guide's own.
    """
    p, edits = run.stations[k], run.scene.stages[k].drop.station.through.edits
    if not edits:
        return ()
    acts = _known(p, [e for f in p.schools for e in f.edits] + list(edits))
    return tuple(
        KeptChange(x.edit, _said(run.scene, acts, edits[x.edit]), x.move, x.each, x.guest, x.change, x.why)
        for x in keepable(run.scene, k, p.generated.acts)
    )


def schools_here(run: Play, k: int) -> tuple[SchoolHere, ...]:
    """The own schools of a plan at one station.

    run: gone through; k: the station, from 0
    returns: those that the plan follows, in their order
    Source: none, the guide's own.
    """
    scene, p, made = run.scene, run.stations[k], list[SchoolHere]()
    by = {f.school.id: f for f in p.schools}
    for school in scene.plan.shed.own_schools:
        if not school.followed:
            continue
        f = by.get(school.id)
        edits = f.edits if f is not None else ()
        people = tuple(i for i in f.people if i) if f is not None else ()
        out = school.id in scene.stages[k].drop.station.through.without
        acts = _known(p, edits)
        # For the others it changes the same.
        told = tuple(_said(scene, acts, e) for e in edits[: len(school.edits)])
        made.append(SchoolHere(school.id, school.name, not out, bool(edits), people, told))
    return tuple(made)


@figured
def school_over(
    ctx: Context, school: str, runs: tuple[Play, Play], counts: tuple[dict[Severity, int], dict[Severity, int]]
) -> SchoolOver:
    """What an own school does over the whole descent.

    ctx: the plan's context; school: its id; runs: gone through with it and without; counts: of each the findings by
    severity
    returns: the school
    raises: KeyError where the plan has no such school
    Source: none, the guide's own.
    """
    follows = runs[0]
    own = next((s for s in follows.scene.plan.shed.own_schools if s.id == school), None)
    if own is None:
        raise KeyError(school)
    stations = []
    for k, stage in enumerate(follows.scene.stages):
        stations += [(stage.drop.id, s) for s in schools_here(follows, k) if s.id == school]
    one, other = map(_hazards, runs)
    return SchoolOver(
        own.id,
        own.name,
        tuple(stations),
        tuple(one[key] for key in one if key not in other),
        tuple(other[key] for key in other if key not in one),
        *counts,
    )


def _hazards(run: Play) -> dict[tuple[str, ...], HazardChanged]:
    """The hazards of a descent that the plan's own findings do not say already, by what tells them apart."""
    made = dict[tuple[str, ...], HazardChanged]()
    for h in run.hazards:
        if not h.seen.said:
            k, _ = run.place(h.begin)
            told = HazardChanged(h.seen.severity, h.seen.title, run.scene.stages[k].drop.id, k + 1)
            made[h.seen.key, h.seen.severity, h.seen.happens] = told
    return made


def _known(p: Played, edits: Sequence[ActEdit]) -> Mapping[str, Act]:
    """The acts that changes name, by their keys: those by rule, and those that are put in."""
    acts, _ = changed(p.generated.acts, [e for e in edits if e.kind == "add"], p.k)
    return {a.key: a for a in acts}


def _said(scene: Scene, acts: Mapping[str, Act], edit: ActEdit) -> Sentence:
    """A change in words, as short as acts are told in moves."""
    act = acts.get(f"own:{edit.id}" if edit.kind == "add" else edit.act)
    if act is None:
        return Sentence("A change of an act that is not there.")
    told = phrase(scene, act, NOBODY)
    if edit.kind == "drop":
        return Sentence("Left out: {told}.", {}, {"told": told})
    if edit.kind == "reword":
        return Sentence("In other words: {told}: “{own}”.", {}, {"told": told, "own": edit.words.rstrip(".")})
    if edit.after == "":
        after = "at the beginning"
    elif (before := acts.get(edit.after)) is None:
        after = "after an act that is not there"
    else:
        after = f"after {phrase(scene, before, NOBODY)}"
    how = "Added" if edit.kind == "add" else "Moved"
    return Sentence("{how}: {told}; {after}.", {}, {"told": told, "how": how, "after": after})


def as_followed(plan: Plan, school: str, followed: bool) -> Plan:
    """A plan that follows an own school, or does not.

    plan: the plan; school: its id; followed: which
    returns: the plan
    Source: none.
    """
    own = plan.shed.own_schools
    made = tuple(s.model_copy(update={"followed": followed}) if s.id == school else s for s in own)
    return plan.model_copy(update={"shed": plan.shed.model_copy(update={"own_schools": made})})
