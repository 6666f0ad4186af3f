"""Everything that can be worked out of one plan with its records, each thing once."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cached_property
from math import isqrt

from reamer.core.answer.context import Context, context, fingerprint
from reamer.core.answer.did import Did, did
from reamer.core.answer.findings import Finding
from reamer.core.answer.wanted import while_wanted
from reamer.core.assess import Assessment, assess_by_parts
from reamer.core.descent.in_hand import InHand
from reamer.core.descent.prospect import Known, Prospect, hand, prospect
from reamer.core.errors import Cancelled, PlanError
from reamer.core.gear.findings import has_been
from reamer.core.model import Drop, Gear, Plan, Record
from reamer.core.offers import OfferedActs, offers
from reamer.core.rehearsal.play import Play
from reamer.core.rehearsal.rehearsal import Rehearsal, StationRun, gone_through, hazards_at, rehearsal, station_run
from reamer.core.rehearsal.stage import same_but_drops
from reamer.core.second.check import Checked, Standing, more_of, second_check, standing
from reamer.core.station.comparison import Comparison
from reamer.desk.memory import Assessed, Been, Going, Memory, UnderWay, always
from reamer.formats.card import Answers


@dataclass(frozen=True, slots=True)
class Basis:
    """What answers rest on: a plan, what its things have been through, what was said of it. ``key``: of plan and gear,
    alike for what is alike; ``said``: of the record."""

    plan: Plan
    gear: Gear
    record: Record
    key: str
    said: str


def basis(plan: Plan, text: str, through: Been, record: Record | None = None, said: str = "") -> Basis:
    """What the answers to a plan rest on; text: as it is or would be stored; through: what things have been through;
    said: a key of the record."""
    used = through if has_been(plan, through.gear) else Been()
    return Basis(plan, used.gear, record or Record(), f"{fingerprint(text)} {used.key}", said)


# Stations times people twice over: about what a minute's work and half a gigabyte is.
MOST_GONE_THROUGH = 30_000


class Worked:
    """The answers of one basis, worked out when they are first asked for and kept in memory."""

    def __init__(self, of: Basis, memory: Memory, going: Going = always) -> None:
        """of: what they rest on; memory: where they are kept; going: whether they are still wanted, or Cancelled is
        raised."""
        self.of, self.memory, self.going = of, memory, going

    @cached_property
    def _assessed(self) -> Assessed:
        plan, gear = self.of.plan, self.of.gear

        def make() -> Assessed:
            return Assessed(context(plan, gear), assess_by_parts(plan, self.memory.parts, gear))

        return self.memory.assessed.of(self.of.key, make, self.going)

    @property
    def plan(self) -> Plan:
        """The plan itself."""
        return self.of.plan

    @property
    def rests(self) -> str:
        """Alike as long as every answer is that does not tell what somebody said."""
        return fingerprint(self.of.key)[:16]

    @property
    def ctx(self) -> Context:
        """The plan's context."""
        return self._assessed.ctx

    @property
    def a(self) -> Assessment:
        """The assessment, without workings and acts."""
        return self._assessed.a

    @property
    def known(self) -> Known:
        """What the prospect stands on."""
        return Known(self.a.drops, self.a.webbing, self.a.descent.times)

    def ahead(self, going: Going | None = None) -> Prospect:
        """What lies ahead; going: whether it is still wanted, if not as the rest."""
        wanted = going or self.going

        def make() -> Prospect:
            return prospect(self.ctx, self.memory.stations, self.known, wanted)

        return self.memory.ahead.of(self.of.key, make, wanted)

    def in_hand(self, drop_id: str) -> InHand:
        """What is in hand at one station if its rope sticks."""
        k = self.drop(drop_id)[0]

        def make() -> InHand:
            with while_wanted(self.going):
                return hand(self.ctx, self.memory.stations, self.known, k)

        return self.memory.hands.of((self.of.key, drop_id), make, self.going)

    @cached_property
    def play(self) -> Play:
        """The plan gone through act by act; what is alike in the last that was is taken over."""

        stations, people = len(self.plan.drops), len(self.plan.party)
        if stations * people**2 > MOST_GONE_THROUGH:
            why = f"{stations} stations with {people} people are more than are gone through act by act"
            most = isqrt(MOST_GONE_THROUGH // stations)
            raise PlanError("party", f"{why}; with {stations} stations at most {most} people")

        def make() -> Play:
            last = self.memory.runs.last(lambda p: same_but_drops(p.scene.plan, self.plan))
            with self._under_way("going through the acts") as step:
                return gone_through(self.ctx, self.a.drops, last, step)

        return self.memory.runs.of(self.of.key, make, self.going)

    @contextmanager
    def _under_way(self, what: str) -> Iterator[Callable[[int], None]]:
        """Something that goes from station to station: how far it is can be asked, and it ends where it is no longer
        wanted. Gives what is to be called before each."""

        def step(k: int) -> None:
            if not self.going():
                raise Cancelled
            self.memory.working[self.of.key] = UnderWay(what, k, len(self.plan.drops))

        try:
            yield step
        finally:
            self.memory.working.pop(self.of.key, None)

    @property
    def rehearsal(self) -> Rehearsal:
        """What is to be said of it; what ends a hazard is asked of it."""
        play = self.play

        def make() -> Rehearsal:
            with self._under_way("looking for hazards") as step:
                for k in range(len(self.plan.drops)):
                    step(k)
                    hazards_at(self.ctx, play, k)
            return rehearsal(self.ctx, play, mend=False)

        return self.memory.rehearsed.of(self.of.key, make, self.going)

    def compared(self, drop_id: str, which: int) -> Comparison:
        """The rope systems side by side at one of a station's states."""
        with while_wanted(self.going):
            return self.memory.parts.comparison(self.ctx, *self.state(drop_id, which), which)

    def offers(self, drop_id: str) -> tuple[OfferedActs, ...]:
        """The acts that settle what is said of the plan and of one drop, "" for the plan alone."""
        if drop_id:
            self.drop(drop_id, "drop")

        def make() -> tuple[OfferedActs, ...]:
            with while_wanted(self.going):
                return offers(self.ctx, self.memory.parts, drop_id)

        return self.memory.offered.of((self.of.key, drop_id), make, self.going)

    def run(self, drop_id: str) -> StationRun:
        """One station act by act."""
        return station_run(self.ctx, self.play, self.drop(drop_id)[0])

    @property
    def runs(self) -> tuple[StationRun, ...]:
        """Every station act by act."""
        made = list[StationRun]()
        with self._under_way("writing the acts down") as step:
            for k in range(len(self.plan.drops)):
                step(k)
                made.append(station_run(self.ctx, self.play, k))
        return tuple(made)

    @property
    def standing(self) -> Standing:
        """How the plan stands, by all of it that was worked out by now."""
        seen, got = self.memory.ahead.get(self.of.key), self.memory.rehearsed.get(self.of.key)
        more = (seen.findings if seen is not None else None, got.findings if got is not None else None)
        return standing(self.ctx, self.a, self.of.record, *more)

    def since(self, was: Worked) -> Did:
        """What a change did; was: the plan before it. Of the whole descent and the acts where both were worked out."""
        one, other = was.standing.tally, self.standing.tally
        more = more_of(one, other)

        def told(of: Worked) -> list[Finding]:
            made = [*of.a.findings, *(f for d in of.a.drops for f in d.findings)]
            for kept, name in ((self.memory.ahead, "descent"), (self.memory.rehearsed, "acts")):
                got = kept.get(of.of.key)
                made += got.findings if got is not None and more[name] is not None else ()
            return made

        return did((was.plan, told(was)), (self.plan, told(self)), more)

    @cached_property
    def answers(self) -> Answers:
        """Everything, with all that was said of it."""
        got, ahead, runs = self.rehearsal, self.ahead(), self.runs
        checked = second_check(self.ctx, self.a, ahead, runs, got, self.of.record)
        return Answers(self.plan, self.a, ahead, got, runs, checked)

    @property
    def checked(self) -> Checked:
        """Everything that a second person looks at, with what was said of it."""
        return self.answers.checked

    def drop(self, drop_id: str, field: str = "drop_id") -> tuple[int, Drop]:
        """A drop and where it stands in the plan. Raises PlanError naming the field where it is not there."""
        for i, drop in enumerate(self.plan.drops):
            if drop.id == drop_id:
                return i, drop
        raise PlanError(field, f"no drop {drop_id[:40]!r} in this plan")

    def state(self, drop_id: str, which: int) -> tuple[int, Drop]:
        """A drop whose station has that state, from 0, and where it stands in the plan."""
        index, drop = self.drop(drop_id)
        if which >= len(drop.station.states):
            raise PlanError("which", f"the station has {len(drop.station.states)} states")
        return index, drop

    def person(self, who: str, field: str = "who") -> str:
        """A person's name. Raises PlanError naming the field where nobody has this id."""
        for p in self.plan.party:
            if p.id == who:
                return p.name
        raise PlanError(field, f"nobody {who[:40]!r} is in the party")

    def ropes(self, named: Sequence[str]) -> frozenset[str]:
        """Ropes of the plan's shed. Raises PlanError naming the first that is not there, or where none is named."""
        gone = next((r for r in named if r not in self.ctx.ropes), None)
        if gone is not None or not named:
            raise PlanError("ropes", f"no rope {gone[:40]!r} in this plan's shed" if gone else "no rope is named")
        return frozenset(named)
