"""How a station is gone through: in which order, who is backed up how, and the guide's changes to the acts."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator

from reamer.core.plan.figures import Flag, Id, Line, M, Name, unique

BackupKind = Literal[
    "third hand", "fireman's belay", "top line", "stacked", "stacked, isolating clove", "lowered", "tandem", "none"
]
ActKey = Annotated[Line, StringConstraints(max_length=160)]
ActName = Literal[
    "go to the edge",
    "come back from the edge",
    "clip tether",
    "load tether",
    "unclip tether",
    "thread",
    "pull to the middle",
    "tie",
    "untie",
    "put in",
    "take out",
    "set over the edge",
    "set back",
    "call",
    "throw the rope",
    "see the ends down",
    "check",
    "look up",
    "load device",
    "take off device",
    "hand on the brake",
    "hand off the brake",
    "tie third hand",
    "take off third hand",
    "add a wrap",
    "test",
    "take fireman's belay",
    "leave fireman's belay",
    "take top belay",
    "leave top belay",
    "tie in",
    "untie from the rope",
    "pass the bight through",
    "tie in to the bight",
    "untie the bight",
    "untie the end",
    "pass the end through",
    "tie the end again",
    "take lowering belay",
    "leave lowering belay",
    "clip passenger",
    "unclip passenger",
    "attend the reserve",
    "leave the reserve",
    "unlock the tie-off",
    "lock the tie-off",
    "convert",
    "test-pull",
    "pull back",
    "descend",
    "be lowered",
    "arrive",
    "walk on",
    "pull up the end",
    "secure the rope",
    "let go of the rope",
    "hold clear",
    "pull",
    "stack",
    "clip second tether",
    "unclip second tether",
    "unthread",
    "run the rope through",
    "load the block",
    "give slack",
    "take tight",
    "tie off the belay",
    "undo the belay",
    "stop at",
    "weight off",
    "weight on",
    "pass",
    "fix the traverse line",
    "reel in the traverse line",
    "lower the bag",
    "pull up the bag",
    "stop pulling",
    "pull through",
]


class BackedUp(M):
    """How one person is backed up at a station, where the guide has chosen it; ``helper``: who belays them, takes them
    along or checks them, None as the rule has it."""

    who: Id
    by: BackupKind
    helper: Id | None = None


class ActAdded(M):
    """An act put in after another, "" at the beginning. ``what``: a strand, a knot, a person, as the act needs."""

    kind: Literal["add"]
    id: Id
    after: ActKey = ""
    do: ActName
    who: Id | Literal[""] = ""
    what: Annotated[Line, StringConstraints(max_length=160)] = ""


class ActDropped(M):
    """An act left out."""

    kind: Literal["drop"]
    act: ActKey


class ActMoved(M):
    """An act done at another time, after another act, "" at the beginning."""

    kind: Literal["move"]
    act: ActKey
    after: ActKey = ""


class ActReworded(M):
    """An act said in other words; what it does stays."""

    kind: Literal["reword"]
    act: ActKey
    words: Annotated[Line, StringConstraints(min_length=1, max_length=300)]


ActEdit = Annotated[ActAdded | ActDropped | ActMoved | ActReworded, Field(discriminator="kind")]


class OwnSchool(M):
    """A guide's own school: changes of the acts kept once, by whose they are and not by who it was: their keys say
    "they" of whom a move is told of, "another" of whoever helps them, and a role of anybody else. ``whom``: where a
    move has several people, whether it is for all of them, for those who are not able, or for the first and the last
    too; ``followed``: by this plan."""

    id: Id
    name: Name
    whom: Literal["each", "guests", "everybody"] = "each"
    edits: Annotated[tuple[ActEdit, ...], Field(min_length=1, max_length=30)]
    followed: Flag = True

    @model_validator(mode="after")
    def _named_apart(self) -> OwnSchool:
        unique((e.id for e in self.edits if e.kind == "add"), "edits", "id")
        return self


class Pause(M):
    """An act after which everybody stops and a second person looks."""

    act: ActKey
    looks: Id | None = None
    at: Annotated[Line, StringConstraints(max_length=200)] = ""


class GoThrough(M):
    """How a station is gone through. ``order``: who goes first to last, None as the rule has it; ``backups``: those
    that the guide has chosen; ``edits``: changes to the acts, in the order in which they were made; ``stowed``: those
    who are pre-rigged have their tethers off and stowed before the first goes."""

    order: Annotated[tuple[Id, ...], Field(max_length=60)] | None = None
    backups: Annotated[tuple[BackedUp, ...], Field(max_length=60)] = ()
    edits: Annotated[tuple[ActEdit, ...], Field(max_length=200)] = ()
    pauses: Annotated[tuple[Pause, ...], Field(max_length=60)] = ()
    stowed: Flag = False
    without: Annotated[tuple[Id, ...], Field(max_length=20)] = ()
