"""The guide's changes to an order of acts. A change whose act is gone stays, as a draft that says so."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from reamer.core.acts.act import Act
from reamer.core.answer.say import Sentence
from reamer.core.model import ActEdit


@dataclass(frozen=True, slots=True)
class Draft:
    """A change that does nothing, by its place among the changes from 0, and why."""

    edit: int
    why: Sentence


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
