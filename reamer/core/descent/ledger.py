"""The rope ledger: which rope is where, which end comes down first and is threaded next, from station to station.

Nothing of it is stored: it follows from what each station rigs."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from reamer.core.acts.threading import Hung, coming_down, threaded_of
from reamer.core.answer.context import Context
from reamer.core.answer.findings import Finding, Fix, say, told_of, value
from reamer.core.answer.kept import NOTHING, ByThings
from reamer.core.answer.look import Look, look_at
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.working import Book
from reamer.core.model import BlockedCord, BlockedSame, EndRef, Joined, Plan, Ring, Rope, System
from reamer.core.plan.edits import PLAN
from reamer.core.reach.ends import DOWN
from reamer.core.reach.passed import knots_threaded
from reamer.core.rope.damage import knotted
from reamer.core.rope.fit import fit
from reamer.core.rope.rigged import strands
from reamer.core.rope.strands import SYSTEM_NAMES, pulled_strand, ropes_at, ropes_of
from reamer.core.station.state import DropAssessment
from reamer.core.tables import row

RopePlace = Literal["in use", "carried"]


@dataclass(frozen=True, slots=True)
class Rigged:
    """One state of a station in the ledger: whom it serves, its strands, the end to be threaded, and whether the rope
    is first run through for it; the end that comes down first, the one that comes last, None where nothing is pulled;
    what to do, in words and in order."""

    serves: str
    system: str
    strands: tuple[Hung, ...]
    threaded: EndRef | None
    run_through: bool
    join: str
    block: str
    first: EndRef | None
    last: EndRef | None
    said: tuple[Sentence, ...]


@dataclass(frozen=True, slots=True)
class Entry:
    """One station in the ledger; ``places``: where every rope of the descent is while it is in use, by rope id;
    ``extra_min``: what threading another end than the one that arrives costs, low to high, None where it costs nothing.
    """

    drop: str
    number: int
    name: str
    states: tuple[Rigged, ...]
    places: dict[str, RopePlace]
    extra_min: tuple[Number, Number] | None


@dataclass(frozen=True, slots=True)
class Ledger:
    """Every station in order; the ropes that the descent takes, in the order of the shed; and what it costs in time to
    thread other ends than those that arrive, low to high."""

    entries: tuple[Entry, ...]
    ropes: tuple[str, ...]
    extra_min: tuple[Number, Number] | None


def used(plan: Plan) -> tuple[str, ...]:
    """The ropes that the stations name, traverse lines among them.

    plan: the plan
    returns: ids in the order of the shed, those that are not in it last
    Source: none, a look-up.
    """
    named = frozenset[str]().union(*(ropes_at(d) for d in plan.drops))
    inside = [r.id for r in plan.shed.ropes]
    return (*(r for r in inside if r in named), *sorted(named - set(inside)))


def carried(plan: Plan) -> tuple[str, ...]:
    """The ropes that are carried: those that the plan says, or else those that the stations use.

    plan: the plan
    returns: ids in the order of the shed
    Source: none, a look-up.
    """
    if plan.carry.ropes is None:
        return used(plan)
    return tuple(r.id for r in plan.shed.ropes if r.id in plan.carry.ropes)


class _Made:
    """The ledger as it is written, station after station."""

    def __init__(self, ctx: Context, drops: tuple[DropAssessment, ...]) -> None:
        self.ctx, self.plan, self.drops = ctx, ctx.plan, drops
        self.found: list[Finding] = []
        self.alternates: list[tuple[int, str, str]] = []
        # What the station above sends down, in order, and where it is pulled.
        self.arriving: tuple[EndRef, ...] = ()
        self.above: Look | None = None

    def name(self, rope: str) -> str:
        made = self.ctx.ropes.get(rope)
        return made.name if made is not None else "a rope that is not in the shed"

    def kept_entry(self, index: int, every: tuple[str, ...], kept: ByThings) -> Entry:
        """A station's entry, made anew where something that it rests on is another: its own assessment, which stands
        for the drop and all that the drops share, the one above, and what arrives from there."""

        def make() -> tuple[Entry, list[Finding], list[tuple[int, str, str]], tuple[EndRef, ...]]:
            found, alternates = len(self.found), len(self.alternates)
            made = self.entry(index, every)
            return made, self.found[found:], self.alternates[alternates:], self.arriving

        drop, had = self.plan.drops[index], (len(self.found), len(self.alternates))
        made, found, alternates, self.arriving = kept.of(
            "entry", (drop, *self.drops[max(0, index - 1) : index + 1]), (index, self.arriving, every), make
        )
        self.found[had[0] :], self.alternates[had[1] :] = found, alternates
        self.above = look_at(self.ctx, index, drop, len(drop.station.states) - 1)
        return made

    def entry(self, index: int, every: tuple[str, ...]) -> Entry:
        drop = self.plan.drops[index]
        states: list[Rigged] = []
        cost: list[str] = []
        hanging: tuple[Hung, ...] = ()
        look = look_at(self.ctx, index, drop)
        for n in range(len(drop.station.states)):
            look = look_at(self.ctx, index, drop, n)
            hanging = self.hanging(look)
            states.append(self.rigged(look, hanging, cost if n == 0 else []))
        here = ropes_at(drop)
        self.arriving, self.above = coming_down(look.system, hanging), look
        rows = [row("times", key) for key in cost]
        extra = None
        if rows:
            extra = (
                Number(sum(r.low for r in rows), "minutes", "down"),
                Number(sum(r.high for r in rows), "minutes", "up"),
            )
        places: dict[str, RopePlace] = {r: "in use" if r in here else "carried" for r in every}
        return Entry(drop.id, index + 1, drop.name, tuple(states), places, extra)

    def told(self, look: Look) -> DropAssessment:
        """A state's own assessment."""
        a = self.drops[look.index]
        return a.last if look.which == 1 and a.last is not None else a

    def hanging(self, look: Look) -> tuple[Hung, ...]:
        """What hangs at a state: as it was assessed, or, where nobody knows how far down, as the system has it."""
        reached = self.told(look).reach
        if reached:
            return tuple(Hung(r.rope, r.end, r.role, r.knotted, r.top if r.top != r.rope else "") for r in reached)
        made = value(strands(look))
        return tuple(
            Hung(s.foot.rope.id, s.foot.end, s.role, s.knotted, s.rope.id if s.foot.rope is not s.rope else "")
            for s in made
        )

    def rigged(self, look: Look, hanging: tuple[Hung, ...], cost: list[str]) -> Rigged:
        """One state, and what is wrong with how it follows the station above."""
        system, state = look.system, look.state
        threaded = threaded_of(state, self.arriving) if hanging else None
        before = [e for e in self.arriving if e.rope in ropes_of(system)] if look.which == 0 else []
        run = state.run_through and threaded is not None and threaded.rope in {e.rope for e in before}
        if threaded is not None and look.which == 0 and self.fits_here(look, threaded) and before:
            self.follow(look, threaded, before, cost)
        if threaded is not None:
            self.knots(look, threaded, run)
        order = coming_down(system, hanging)
        join, block = _join(self, system), _block(system)
        told = list(_threading(self, look, threaded, before, run, cost))
        told += _words(self, look, hanging, order)
        first, last = (order[0], order[-1]) if order else (None, None)
        return Rigged(
            state.serves, SYSTEM_NAMES[system.kind], hanging, threaded, run, join, block, first, last, tuple(told)
        )

    def knots(self, look: Look, threaded: EndRef, run: bool) -> None:
        """Whether what is threaded passes the ring; what goes up through it is asked with the strand that does."""
        rig, rope = look.rig, self.ctx.ropes.get(threaded.rope)
        if rope is None or not knotted(rope):
            return
        ring = self.ctx.rings.get(rig.ring) if rig.kind != "none" and rig.ring is not None else None
        look = replace(look, book=Book(keeps=False))
        hanging = value(strands(look))
        down = pulled_strand(look.system, hanging)
        for s in hanging:
            asked = s is down or down is None
            if asked and s.rope.id == threaded.rope and (run or s.end == threaded.end):
                self.found += told_of(knots_threaded(look, s, ring), look.drop.id)

    def fits_here(self, look: Look, threaded: EndRef) -> bool:
        """Whether the end that is to be threaded is one of the ropes of the station that runs through its ring."""
        system = look.system
        if threaded.rope in ((system.through,) if isinstance(system, Joined) else ropes_of(system)):
            return True
        label = Sentence("Thread what arrives first")
        said = say(
            "ledger.end",
            "Shortfall",
            "ledger",
            "End {end} of {rope} is to be threaded, and does not run through this ring",
            "The system here is rigged otherwise. Choose an end of the rope that runs through the ring.",
            end=threaded.end.upper(),
            rope=self.name(threaded.rope),
            fix=Fix(label, (look.place.at(lambda s: s.threaded).set(None),)),
        )
        self.found.append(said.finding(drops=(look.drop.id,)))
        return False

    def follow(self, look: Look, threaded: EndRef, before: list[EndRef], cost: list[str]) -> None:
        """Whether the end that is threaded is the one that arrives; what else is to be said."""
        first = before[0]
        if threaded.rope not in {e.rope for e in before}:
            return  # it comes out of a bag
        if look.state.run_through:
            if threaded != first:
                cost += ["run through"]
            return
        if threaded == first:
            return
        system, above = look.system, self.above
        if isinstance(system, Joined) and look.state.threaded is None:
            thick, thin = (self.ctx.ropes.get(i) for i in (system.through, system.other))
            a, b = (r.diameter_mm.known if r is not None else None for r in (thick, thin))
            if threaded.rope == first.rope:
                # The same rope, hung by its other end: it is tied anew once all of it is down.
                cost += ["untie join"]
                return
            if a is not None and b is not None and a > b:
                self.alternates.append((look.index, self.name(system.other), self.name(system.through)))
                cost += ["run through"]
                return
        fix = self.mended(look, threaded, first, above)
        said = say(
            "ledger.end-above",
            "Shortfall",
            "ledger",
            "End {end} of {rope} is still above when it is to be threaded",
            "At drop {n} end {first} of {arrives} is pulled and comes down first; end {end} of {rope} goes up through"
            " the ring there. Thread what arrives, pull the other side there, or run the rope through once it is down.",
            end=threaded.end.upper(),
            rope=self.name(threaded.rope),
            first=first.end.upper(),
            arrives=self.name(first.rope),
            fix=fix[0],
            n=Number(look.index, "count"),
        )
        self.found.append(replace(said.finding(drops=(look.drop.id,)), others=tuple(fix[1:])))

    def mended(self, look: Look, threaded: EndRef, first: EndRef, above: Look | None) -> list[Fix]:
        """Acts that let the threading go on: the other end here, the other side there, or the rope run through."""
        made: list[Fix] = []
        if look.state.threaded is not None:
            label = Sentence(
                "Thread end {end} of {rope} here", {}, {"end": first.end.upper(), "rope": self.name(first.rope)}
            )
            made.append(Fix(label, (look.place.at(lambda s: s.threaded).set(first),)))
        if above is not None:
            side = self.told(above).retrieval.side
            flipped = {"doubled", "alternating bights"}
            if side.flip and above.system.kind in flipped and threaded.rope == first.rope:
                label = Sentence("Pull the other side at drop {n}", {"n": Number(above.index + 1, "count")})
                made.append(Fix(label, side.flip))
        run = Sentence("Run {rope} through first", {}, {"rope": self.name(threaded.rope)})
        made.append(Fix(run, (look.place.at(lambda s: s.run_through).set(True),)))
        return made

    def places(self, entries: list[Entry]) -> None:
        """Ropes that are wanted at two places at once, and ropes that nobody carries."""
        plan, named = self.plan, used(self.plan)
        for i in range(1, len(plan.drops) if plan.contingencies.two_sets else 0):
            above, here = ropes_at(plan.drops[i - 1]), ropes_at(plan.drops[i])
            both = [r for r in named if r in above & here]
            if both:
                label = Sentence("Go with one set, each station rigged after the one above")
                edit = PLAN.at(lambda p: p.contingencies.two_sets).set(False)
                said = say(
                    "ledger.two-places",
                    "Shortfall",
                    "ledger",
                    "{rope} is wanted here while it still hangs at drop {n}",
                    "Two sets of ropes go by turns: a station is rigged while the one above is in use, and they may not"
                    " share a rope. Rig one of them with another.",
                    rope=self.name(both[0]),
                    n=Number(i, "count"),
                    fix=Fix(label, (edit,)),
                )
                self.found.append(said.finding(drops=(plan.drops[i].id,)))
        if plan.carry.ropes is None:
            return
        for rope in named:
            drops = tuple(e.drop for e in entries if e.places.get(rope) == "in use")
            if rope in plan.carry.ropes or not drops:
                continue
            label = Sentence("Carry {rope} too", {}, {"rope": self.name(rope)})
            edit = PLAN.at(lambda p: p.carry.ropes).set((*plan.carry.ropes, rope))
            said = say(
                "ledger.not-carried",
                "Shortfall",
                f"rope.{rope}",
                "{rope} is not carried",
                "Stations are rigged with it.",
                rope=self.name(rope),
                fix=Fix(label, (edit,)) if rope in self.ctx.ropes else None,
            )
            self.found.append(said.finding(drops=drops))

    def alternating(self) -> None:
        """Two ropes of which the thin one would come to lie in the ring in turn. Said once, with every station."""
        if not self.alternates:
            return
        plan = self.plan
        _, thin, thick = self.alternates[0]
        edits = tuple(
            PLAN.at(lambda p, n=n: p.drops[n].station.states[0].run_through).set(True)  # type: ignore[misc]
            for n, _, _ in self.alternates
        )
        count = len(self.alternates)
        rows = row("times", "run through")
        said = say(
            "ledger.alternates",
            "Caution",
            "ledger",
            "{thin} arrives first, and {thick} is to run through the next ring",
            "Joined ropes change sides at each station, for the end that is pulled is threaded next. So the thin rope"
            " would come to lie in the ring. Run the rope through, each time, so that the thick one does: {low} to"
            " {high} in all. Nothing in the plan says so yet.",
            thin=thin,
            thick=thick,
            low=Number(count * rows.low, "minutes", "down"),
            high=Number(count * rows.high, "minutes", "up"),
            fix=Fix(Sentence("Run it through at each of these"), edits),
        )
        drops = tuple(plan.drops[n].id for n, _, _ in self.alternates)
        self.found.append(said.finding(drops=drops))


def _join(made: _Made, system: System) -> str:
    if isinstance(system, Joined):
        return f"{system.knot}, on the side of {made.name(system.other)}"
    if isinstance(system, BlockedCord):
        return f"{system.knot}, cord to rope"
    return ""


def _block(system: System) -> str:
    if not isinstance(system, (BlockedSame, BlockedCord)):
        return ""
    on = "the pull strand" if system.block_on == "pull" else "the ride strand"
    return f"{system.block}{' with a carabiner' if system.carabiner else ''}, on {on}"


def _threading(
    made: _Made, look: Look, threaded: EndRef | None, before: list[EndRef], run: bool, cost: list[str]
) -> list[Sentence]:
    """How the rope gets into the ring."""
    system = look.system
    if threaded is None or look.which != 0:
        return []
    words = {"end": threaded.end.upper(), "rope": made.name(threaded.rope)}
    if run and cost:
        return [Sentence("Pull the rope down whole, run it through, and thread end {end} of {rope}.", {}, words)]
    if threaded.rope not in {e.rope for e in before}:
        return [Sentence("Thread end {end} of {rope} from the bag.", {}, words)]
    told = [Sentence("End {end} of {rope} arrives first: thread it as the rope comes down.", {}, words)]
    if threaded != before[0]:
        return [Sentence("Thread end {end} of {rope}.", {}, words)]
    if isinstance(system, BlockedCord) and before[0].rope == system.cord and system.rope in {e.rope for e in before}:
        told.append(_through_next(made, look, system, cost))
    return told


def _passes(knot: str, thick: Rope, ring: Ring) -> bool:
    return fit(knot, thick, ring, "ledger.fit", Book(keeps=False), "passes").verdict == "passes"


def _through_next(made: _Made, look: Look, system: BlockedCord, cost: list[str]) -> Sentence:
    """A pull cord's end arrives first; the rope must still come through the ring: the join passes it or is untied."""
    ring = look.ctx.rings.get("" if look.rig.kind == "none" else look.rig.ring or "")
    ropes: list[Rope] = [look.ctx.ropes[i] for i in (system.rope, system.cord) if i in look.ctx.ropes]
    thick = max(ropes, key=lambda r: r.diameter_mm.known or 0.0)
    knot = "flat figure eight" if system.knot == "flat figure eight" else "flat overhand"
    known = ring is not None and all(r.diameter_mm.kind == "known" for r in ropes)
    if ring is not None and known and _passes(knot, thick, ring):
        return Sentence("The join passes {ring}: draw the rope through after the cord.", {}, {"ring": ring.name})
    cost += ["untie join"]
    text = "The join may not pass {ring}: untie it, thread {rope}, and join the cord again."
    words = {"ring": ring.name if ring is not None else "the ring", "rope": made.name(system.rope)}
    return Sentence(text, {}, words)


def _words(made: _Made, look: Look, hanging: tuple[Hung, ...], order: tuple[EndRef, ...]) -> list[Sentence]:
    """What is knotted and untied, pulled and in hand next."""
    system, told = look.system, []
    knotted = [f"end {s.end.upper()} of {made.name(s.rope)}" for s in hanging if s.knotted]
    if knotted:
        told.append(Sentence("Knot {ends} before it is thrown.", {}, {"ends": " and ".join(knotted)}))
    if look.state.serves == "party" or system.kind == "none" or not hanging:
        return told
    side = made.told(look).retrieval.side
    up = [s for s in hanging if s.knotted and side.strand and f"{s.rope}-{s.end}" != side.strand]
    for s in up:
        words = {"end": s.end.upper(), "rope": made.name(s.rope), "down": DOWN[look.drop.landing.kind]}
        told.append(
            Sentence("Untie end {end} of {rope} at {down} before the pull: it goes up through the ring.", {}, words)
        )
    if order:
        told.append(side.said)
        alone = len(made.plan.party) < 2
        who = "Whoever is down pulls" if alone else "Those who are down pull, once the last is clear of the fall"
        words = {"who": who, "end": order[-1].end.upper(), "rope": made.name(order[-1].rope)}
        told.append(Sentence("{who}; end {end} of {rope} comes down last.", {}, words))
    return told


def ledger(
    ctx: Context, drops: tuple[DropAssessment, ...], kept: ByThings = NOTHING
) -> tuple[Ledger, tuple[Finding, ...]]:
    """The rope ledger of a plan.

    ctx: the plan's context; drops: their assessments; kept: entries that were made before
    returns: the ledger, and what is wrong with how the stations follow each other
    Source: P, common practice, no source; times J.
    """
    made, every = _Made(ctx, drops), tuple(dict.fromkeys((*carried(ctx.plan), *used(ctx.plan))))
    entries = [made.kept_entry(i, every, kept) for i in range(len(ctx.plan.drops))]
    made.places(entries)
    made.alternating()
    extra = [e.extra_min for e in entries if e.extra_min is not None]
    total = None
    if extra:
        total = (
            Number(sum(low.value for low, _ in extra), "minutes", "down"),
            Number(sum(high.value for _, high in extra), "minutes", "up"),
        )
    return Ledger(tuple(entries), every, total), tuple(made.found)
