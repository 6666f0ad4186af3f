"""One look at a station: what belongs to one state of one station, in one object that every question is put to."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import TypeVar

from reamer.core.answer.context import Context
from reamer.core.answer.working import Book
from reamer.core.model import Device, Doubled, Drop, EndRef, Feature, Plan, Policies, Rig, State, Station, System, Tri
from reamer.core.plan.edits import PLAN, Place
from reamer.core.plan.station import with_states
from reamer.core.plan.waters import worse

T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class Look:
    """One state of one station: the plan's context, the drop and its place from 0, which state and the state itself;
    where workings go; ``fixes``: whether acts are looked for that have to be tried out."""

    ctx: Context
    index: int
    drop: Drop
    which: int
    state: State
    book: Book
    fixes: bool = False

    @property
    def plan(self) -> Plan:
        """The whole plan."""
        return self.ctx.plan

    @property
    def policies(self) -> Policies:
        """The guide's choices."""
        return self.ctx.plan.policies

    @property
    def station(self) -> Station:
        """The station."""
        return self.drop.station

    @property
    def wet(self) -> Tri:
        """Whether what is tied here gets wet."""
        return self.drop.station.wet

    @property
    def kit_wet(self) -> Tri:
        """Whether rope, tethers and what is carried are wet here: they get wet here, or on the way here."""
        on_the_way = self.ctx.carried_wet[self.index] if self.index < len(self.ctx.carried_wet) else "no"
        return worse(self.wet, on_the_way)

    @property
    def rig(self) -> Rig:
        """How it is tied."""
        return self.state.rig

    @property
    def system(self) -> System:
        """Its rope system."""
        return self.state.system

    @property
    def place(self) -> Place[State]:
        """The state's place in the plan, for edits."""
        return self.states_place.at(lambda states: states[self.which])

    @property
    def states_place(self) -> Place[tuple[State, ...]]:
        """The place of all states of the station, for edits."""
        return self.station_place.at(lambda station: station.states)

    @property
    def station_place(self) -> Place[Station]:
        """The station's place in the plan, for edits."""
        return PLAN.at(lambda plan: plan.drops[self.index].station)

    def system_as(self, kind: type[T]) -> Place[T]:
        """The rope system's place, where it is known of which kind it is.

        kind: the system's class
        returns: the place
        Source: none, types only.
        """
        return self.place.at(lambda state: state.system).of(kind)

    def rig_as(self, kind: type[T]) -> Place[T]:
        """The rig's place, where it is known of which kind it is.

        kind: the rig's class
        returns: the place
        Source: none, types only.
        """
        return self.place.at(lambda state: state.rig).of(kind)

    @property
    def stoppers_place(self) -> Place[tuple[EndRef, ...]]:
        """The place of its stoppers, for edits; every system has them by this name."""
        return self.system_as(Doubled).at(lambda system: system.stoppers)

    def feature(self, feature_id: str) -> Feature | None:
        """A thing at this station to tie to.

        feature_id: its id
        returns: the thing, None if it is gone
        Source: none, a look-up.
        """
        return next((f for f in self.station.features if f.id == feature_id), None)

    def device(self, device_id: str) -> Device | None:
        """A device of the shed.

        device_id: its id
        returns: the device, None if it is gone
        Source: none, a look-up.
        """
        return next((d for d in self.plan.shed.devices if d.id == device_id), None)

    def trying(self, system: System) -> Look:
        """The same station with another rope system.

        system: to be tried
        returns: the look
        Source: none.
        """
        state = self.state.model_copy(update={"system": system})
        drop = with_states(self.drop, *(state if i == self.which else s for i, s in enumerate(self.station.states)))
        return replace(self, drop=drop, state=state, book=Book(keeps=False), fixes=False)

    def at(self, which: int) -> Look:
        """The look at another state of the same station.

        which: of its states, from 0
        returns: the look
        Source: none.
        """
        return replace(self, which=which, state=self.station.states[which], fixes=False)

    def once(self, key: tuple[object, ...], given: tuple[object, ...], make: Callable[[Book], T]) -> T:
        """What is alike for everything that is compared at one drop, as ``Context.once``.

        key, given: as there, for this drop; make: makes it
        returns: what ``make`` returned
        Source: none, keeping.
        """
        return self.ctx.once((*key, self.drop.id), given, self.book, make)


def look_at(ctx: Context, index: int, drop: Drop, which: int = 0, keeps: bool = False) -> Look:
    """A look at one state of a drop's station.

    ctx: the plan's context; index: the drop's place, from 0; drop: the drop, which may be a draft; which: of its
    states, from 0; keeps: whether workings are wanted
    returns: the look
    Source: none.
    """
    return Look(ctx, index, drop, which, drop.station.states[which], Book(keeps=keeps))
