"""The guide's changes to an order of acts. A change whose act is gone stays, as a draft that says so."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from reamer.core.answer.say import Sentence
from reamer.core.model import ActEdit
from reamer.core.rehearsal.acts import Act


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

    def at(key: str) -> int | None:
        """Where what comes after an act goes, None where the act is not there."""
        if key == "":
            return 0
        return next((i + 1 for i, a in enumerate(made) if a.key == key), None)

    for n, e in enumerate(edits):
        key = e.after if e.kind == "add" else e.act
        place = at(key)
        if place is None:
            drafts.append(Draft(n, Sentence("The act it names is not part of the order now.")))
        elif e.kind == "add":
            made.insert(place, Act(f"own:{e.id}", k, e.do, e.who, e.what, added=True))
        elif place == 0:
            drafts.append(Draft(n, Sentence("It names no act.")))
        elif e.kind == "drop":
            del made[place - 1]
        elif e.kind == "reword":
            made[place - 1] = replace(made[place - 1], own=e.words)
        else:
            moved = made.pop(place - 1)
            to = at(e.after)
            made.insert(place - 1 if to is None else to, moved)
            if to is None:
                drafts.append(Draft(n, Sentence("The act it was to come after is not part of the order now.")))
    return tuple(made), tuple(drafts)
