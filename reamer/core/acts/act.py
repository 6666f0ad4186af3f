"""An act, what it is done with, and the reasons for which it cannot be done."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from reamer.core.acts.stage import RopeWay, Scene, Stage
from reamer.core.acts.world import Body, StationNow, StrandRef, World, strand
from reamer.core.answer.say import Sentence
from reamer.core.model import ActName

# What an act is done for: the station rigged, looked at, its rope let down; everybody onto it ahead; the first down,
# the end through the next ring, those between, what is done before the last goes, the last, the rope down. At the top
# of a single pitch: threaded, and down.
MoveName = Literal["rig", "check", "rope", "onto", "first", "ahead", "turn", "before", "last", "pull", "top", "down"]


@dataclass(frozen=True, slots=True)
class Act:
    """One act. ``key``: stable from one time to the next; ``k``: the station it belongs to, from 0; ``what``: a strand,
    a knot, a person, as the act needs; ``own``: the guide's words, "" the usual ones; ``added``: by the guide;
    ``part_of``: the key of what it is a part of, "" of nothing; ``move``: what it is done for."""

    key: str
    k: int
    do: ActName
    who: str = ""
    what: str = ""
    own: str = ""
    added: bool = False
    part_of: str = ""
    move: MoveName = "rig"


class Refused(Exception):
    """An act that cannot be done in its state, and why."""

    def __init__(self, why: str, **words: str) -> None:
        super().__init__(why)
        self.why = Sentence(why, {}, words)


@dataclass(frozen=True, slots=True)
class At:
    """An act about to be done in a state."""

    scene: Scene
    world: World
    act: Act

    @property
    def k(self) -> int:
        """The station, from 0."""
        return self.act.k

    @property
    def stage(self) -> Stage:
        """The station as it is planned."""
        return self.scene.stages[self.act.k]

    @property
    def stands(self) -> StationNow:
        """The station as it stands."""
        return self.world.stations[self.act.k]

    @property
    def way(self) -> RopeWay:
        """As it is rigged."""
        return self.stage.way(self.stands.which)

    @property
    def body(self) -> Body:
        """Whoever does it."""
        return self.world.people[self.act.who]

    def name(self, who: str = "") -> str:
        """Somebody's name, theirs who does it by default."""
        return self.scene.name(who or self.act.who)

    def here(self, now: StationNow) -> World:
        """The state with this station otherwise."""
        return self.world.station(self.act.k, now)

    def me(self, body: Body) -> World:
        """The state with whoever does it otherwise."""
        return self.world.body(self.act.who, body)

    def top(self) -> None:
        """Refuse whoever is not at the station."""
        if self.act.who not in self.world.top(self.k):
            raise Refused("{name} is not at the station.", name=self.name())

    def low(self) -> None:
        """Refuse whoever has not come down, or has gone on."""
        if self.act.who not in self.world.below(self.k):
            raise Refused("{name} has not come down yet.", name=self.name())
        if self.act.who not in self.world.foot(self.k, self.stage.walk):
            raise Refused("{name} is no longer below this station.", name=self.name())

    def other(self) -> str:
        """The other person an act names."""
        who = self.act.what.partition(",")[0]
        if who not in self.world.people or who == self.act.who:
            raise Refused("It names nobody else of the party.")
        return who

    def strands(self) -> frozenset[StrandRef]:
        """The strands that an act names, those that hang here; the ridden ones where it names none."""
        if self.stands.which < 0 or self.stands.done & {"pulling", "pulled"}:
            raise Refused("No rope hangs at the station.")
        named = frozenset(s for t in self.act.what.split(",") if (s := strand(t)) is not None)
        made = named or frozenset(self.way.ride)
        if not made or not made <= set(self.way.strands):
            raise Refused("That strand does not hang at the station.")
        return made

    def able_here(self) -> bool:
        """Whether whoever does it is able, or somebody able stands beside them."""
        return any(self.scene.able(i) for i in {self.act.who, *self.world.top(self.k)})


def said_now(at: At) -> World:
    """An act that changes nothing but that it has been said or done.

    at: the act and the state
    returns: the state after
    raises: Refused where it cannot be done
    Source: P, common practice, no source.
    """
    return at.world.saying(f"{at.act.do} {at.act.what} {at.k}".replace("  ", " "))
