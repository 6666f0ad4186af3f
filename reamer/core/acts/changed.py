"""The guide's changes to an order of acts. A change whose act is gone stays, as a draft that says so."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from reamer.core.acts.act import Act
from reamer.core.acts.own import Followed, followed
from reamer.core.acts.stage import Scene
from reamer.core.answer.say import Sentence
from reamer.core.model import ActEdit


@dataclass(frozen=True, slots=True)
class Draft:
    """A change that does nothing, and why: by its place among the station's changes from 0, or the own school whose it
    is, which is "" where it is the station's."""

    edit: int
    why: Sentence
    school: str = ""


@dataclass(frozen=True, slots=True)
class Changed:
    """A station's order with all that the guide has changed: the own schools that are followed there, then what was
    changed at the station itself."""

    acts: tuple[Act, ...]
    drafts: tuple[Draft, ...]
    schools: tuple[Followed, ...]


def as_changed(scene: Scene, k: int, acts: Sequence[Act]) -> Changed:
    """A station's order with the guide's changes.

    scene: the descent; k: the station, from 0; acts: its acts by rule
    returns: the order, the changes that do nothing, the own schools
    Source: none, editing.
    """
    schools, edits = followed(scene, k, acts), scene.stages[k].drop.station.through.edits
    theirs = [(f.school.id, e) for f in schools for e in f.edits]
    made, drafts = changed(acts, (*(e for _, e in theirs), *edits), k)
    lead = len(theirs)
    return Changed(
        made,
        tuple(Draft(d.edit - lead, d.why) if d.edit >= lead else Draft(0, d.why, theirs[d.edit][0]) for d in drafts),
        schools,
    )


def changed(acts: Sequence[Act], edits: Sequence[ActEdit], k: int) -> tuple[tuple[Act, ...], tuple[Draft, ...]]:
    """An order with the guide's changes made, one after another.

    acts: as generated; edits: the changes; k: the station, from 0
    returns: the order, and the changes whose act is not there
    Source: none, editing.
    """
    made, drafts = list(acts), list[Draft]()

    def parts(key: str) -> list[Act]:
        """The acts that a key names: one, or all those that it is now made up of."""
        return [a for a in made if key and key in (a.key, a.part_of)]

    def at(key: str) -> int | None:
        """Where what comes after an act goes, None where the act is not there."""
        if key == "":
            return 0
        return next((i + 1 for i in reversed(range(len(made))) if made[i] in parts(key)), None)

    for n, e in enumerate(edits):
        key = e.after if e.kind == "add" else e.act
        place = at(key)
        if place is None:
            drafts.append(Draft(n, Sentence("The act it names is not part of the order now.")))
        elif e.kind == "add":
            # It is done for what the act before it is done for.
            beside = made[max(place - 1, 0)].move if made else "rig"
            made.insert(place, Act(f"own:{e.id}", k, e.do, e.who, e.what, added=True, move=beside))
        elif place == 0:
            drafts.append(Draft(n, Sentence("It names no act.")))
        elif e.kind == "drop":
            made = [a for a in made if a not in parts(key)]
        elif e.kind == "reword":
            first = next(i for i, a in enumerate(made) if a in parts(key))
            made[first] = replace(made[first], own=e.words)
        else:
            moved = parts(key)
            before, made = made, [a for a in made if a not in moved]
            to = at(e.after)
            made = before if to is None else [*made[:to], *moved, *made[to:]]
            if to is None:
                drafts.append(Draft(n, Sentence("The act it was to come after is not part of the order now.")))
    return tuple(made), tuple(drafts)
