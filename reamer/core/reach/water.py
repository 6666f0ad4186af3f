"""The end of a strand over moving water: what to pay out, and what must be found on site."""

from __future__ import annotations

from dataclasses import dataclass, replace

from reamer.core.answer.findings import Fix, Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.answer.working import computed, from_row
from reamer.core.model import BlockedSame, Known, Releasable, System
from reamer.core.plan.limits import limits_m
from reamer.core.plan.station import for_two
from reamer.core.reach.ends import Reach
from reamer.core.reach.need import (
    HALF_CM,
    LEAST_M,
    LONGEST_M,
    STEP_M,
    deviations_longer,
    let_out,
    longest_m,
    paid_out_m,
)
from reamer.core.rope.strands import tied_on
from reamer.core.section.lengths import Lengths
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class Water:
    """How to set a strand over moving water: what to pay out from the ring, or to begin with where that is to be found
    on site; between what, low to high, it leaves the end just above the surface; and the reserve that stays in the bag
    at the station."""

    out: Number
    low: Number
    high: Number
    on_site: bool
    reserve: Number | None


@dataclass(frozen=True, slots=True)
class _Window:
    """What may be paid out, low to high, and whether only the site tells; the longest line there may be."""

    low: Number
    high: Number
    on_site: bool
    longest: Number

    @property
    def out(self) -> float:
        """What to give a strand, or to begin with, in steps of a hand [m]."""
        return self._paid[0]

    @property
    def told(self) -> Number:
        """The same as it is told, with its working."""
        return Number(self.out, "paid out", "down", self.low.working, self.low.behind)

    @property
    def least(self) -> float:
        """What may be given at the least: where no step serves what is begun with may be too short, and is let out on
        site [m]."""
        return self.low.value if self.serves else min(self.out, self.low.value)

    @property
    def _paid(self) -> tuple[float, bool]:
        return paid_out_m(self.low.value, -1.0 if self.on_site else self.high.value)

    @property
    def serves(self) -> bool:
        """Whether what is told serves at both limits of paying out."""
        return self._paid[1]

    def given(self, system: System) -> Number | None:
        """What a strand has where that is right for it, and a step of a hand, or no step serves."""
        ride = system.ride_m if isinstance(system, (BlockedSame, Releasable)) else None
        if ride is None or ride.kind == "unknown":
            return None
        least, most = limits_m(ride)
        if not (self.low.value - HALF_CM <= least and most <= self.high.value + HALF_CM):
            return None
        step = abs(ride.value / STEP_M - round(ride.value / STEP_M)) < 1e-6
        if self.serves and not step:
            return None
        return Number(ride.value, "paid out" if step else "fine length", "down", self.low.working, self.low.behind)


def water_findings(look: Look, reached: tuple[Reach, ...], lengths: Lengths) -> Says[Water | None]:
    """What is to be said of the end of a strand over moving water, and how to set it.

    look: the station; reached: every strand; lengths: of the lines [m]
    returns: what to pay out; None elsewhere
    Source: P, common practice, no source: a knotted rider drowns; J for the 0.3 m.
    """
    if look.drop.landing.kind != "moving water" or not reached:
        return None
    window, above = _window(look, lengths), -row("landings", "moving water").low
    knotted = [r for r in reached if r.knotted and r.role != "reserve"]
    if knotted:
        yield say(
            "end.water",
            "Shortfall",
            f"end.{knotted[0].rope}-{knotted[0].end}",
            "A knot in an end over moving water",
            "A rider held at a knot in the current drowns. Take the stopper out of {rope}.",
            rope=" and ".join(dict.fromkeys(r.name for r in knotted)),
            fix=Fix(Sentence("Take the stoppers out"), (look.stoppers_place.set(()),)),
        )
    rides = [r for r in reached if "ride" in r.role]
    if look.system.kind not in ("releasable", "lowered") and look.state.serves != "last":
        yield say(
            "reach.water-fixed",
            "Shortfall",
            "reach",
            "Over moving water this strand cannot be set from the top",
            "Its end belongs 0 to {above} over the surface and must be let out or taken in while somebody is on it: a"
            " releasable single strand, or lowered.",
            above=Number(above, "fine length"),
            fix=_releasable_fix(look, rides[0] if rides else None, window),
        )
    on_site = window.on_site
    if look.system.kind != "lowered":
        on_site |= yield from _rides(look, rides, window)
        down = next((r for r in rides if "pull" in r.role), None)
        if down is not None and down.low is not None and window.longest.value - down.low.value > above + HALF_CM:
            yield say(
                "reach.pull-out",
                "Shortfall",
                down.key,
                "The end of {rope} to be pulled may hang out of reach",
                "It ends up to {above} above the water: nobody below can take hold of it.",
                above=Number(window.longest.value - down.low.value, "fine length", "up"),
                rope=f"{down.name} {down.end.upper()}",
            )
    own = None if on_site else window.given(look.system)
    out, on_site = own or window.told, on_site or (own is None and not window.serves)
    return Water(out, window.low, window.high, on_site, next((r.low for r in reached if r.role == "reserve"), None))


def _window(look: Look, lengths: Lengths) -> _Window:
    """What may be paid out whatever line within the survey's bounds the rope takes."""
    book, allow = look.book, row("landings", "moving water")
    long, short = longest_m(lengths), min(lengths.values(), key=lambda b: b.low.value).low
    around = deviations_longer(look, lengths) if look.station.deviations else None
    by = around.of(look.state.serves) if around is not None and around.party is not None else None
    if by is not None and by.value > 0:
        # Whoever takes one out shortens the line again: the shortest stays the one without.
        terms = [computed("path", "the longest line without them", long), computed("dev", "what they add", by)]
        name, value = "the longest line there may be, round what deviations stay", long.value + by.value
        long = book.number("water.around", name, "path + dev", terms, value, "fine length", "up")
    a = from_row("a", allow, allow.low, "fine length")
    longest, shortest = (
        computed("path", f"the {what} line there may be", n) for what, n in (("longest", long), ("shortest", short))
    )
    value, name = long.value + allow.low, "pay out at the least"
    low = book.number("water.low", name, "path + a", [longest, a], value, "fine length", "up")
    high = book.number("water.high", "pay out at the most", "path", [shortest], short.value, "fine length", "down")
    if low.value <= high.value:
        return _Window(low, high, False, long)
    # No length is right for every line within the bounds: begin where it cannot be too long.
    value, name = short.value + allow.low, "the longest line there may be"
    low = book.number("water.start", "begin with", "path + a", [shortest, a], value, "fine length", "down")
    return _Window(low, book.number("water.end", name, "path", [longest], long.value, "fine length", "up"), True, long)


def _rides(look: Look, rides: list[Reach], window: _Window) -> Says[bool]:
    """Every ride strand against what may hang; whether one can only be set on site."""
    on_site, lows = window.on_site, [r.low.value for r in rides if r.low is not None]
    # Two halves that are alike are said once.
    halves = look.system.kind == "doubled" and len(rides) == len(lows) == 2 and abs(lows[0] - lows[1]) < HALF_CM
    for ride in rides[-1:] if halves else rides:
        if ride.low is None or ride.high is None:
            title, why = "Whether {rope} reaches is not checked", "Not checked: {why}."
            yield say("reach.unknown", "Not checked", ride.key, title, why, rope=ride.name, why=ride.why)
            continue
        hangs = let_out(look.system, ride.low.value, ride.high.value)
        on_site |= yield from _hung(look, ride, hangs, replace(window, on_site=on_site))
        yield from _dips(ride, look.ctx.ropes[ride.rope].kind.startswith("dynamic"))
    return on_site


def _dips(ride: Reach, dynamic: bool) -> Says[None]:
    """Stretch that draws a ridden end under water while somebody is near its foot; of a rope that hardly stretches only
    what is much.
    Source: J, table of ropes."""
    if ride.ridden is None or ride.free is None:
        return
    by, most = ride.free.above.value - ride.ridden.above.value, 0.0 if dynamic else row("ropes", "end.dips").high
    if ride.ridden.above.value < -most - HALF_CM and ride.free.above.value >= ride.ridden.above.value + HALF_CM:
        yield say(
            "end.dips",
            "Caution",
            ride.key,
            "With a rider at its foot the end of {rope} is drawn {by} down, into the water",
            "It stretches by {stretch}. Hang it so much higher, or use a rope that stretches less.",
            # What lies in the water without anybody on it is said of its length.
            by=Number(min(-ride.ridden.above.value, by), "fine length", "up"),
            stretch=Number(by, "fine length", "up"),
            rope=ride.name,
            working=ride.ridden.above,
        )


def _hung(look: Look, ride: Reach, hangs: tuple[float, float], window: _Window) -> Says[bool]:
    """What hangs over moving water, least and most, against what may; returns whether it can only be set on site. Past
    either bound no line within the survey's limits is right for it."""
    (least, most), low, high, name = hangs, window.low, window.high, f"{ride.name} {ride.end.upper()}"
    given, fix, settable = (least + most) / 2, None, isinstance(look.system, (BlockedSame, Releasable))
    if settable and LEAST_M <= window.out <= LONGEST_M:
        figure = Known(kind="known", value=window.out, method="tape")
        edit = look.system_as(Releasable).at(lambda s: s.ride_m).set(figure)
        fix = Fix(Sentence("Let out {m}", {"m": window.told}), (edit,))
    # A length that cannot be measured out as narrowly as the end may hang is right only by watching.
    blunt = most - least > high.value - low.value + 2 * HALF_CM
    vague = window.on_site or blunt or least < low.value - HALF_CM or most > high.value + HALF_CM
    shortest = window.least if settable else low.value
    if not shortest - HALF_CM <= given <= high.value + HALF_CM or (not settable and vague):
        title = "The end of {rope} must be set on site, and cannot be"
        if given > high.value:
            title = "The end of {rope} would hang in the current"
        elif given < shortest:
            title = "The end of {rope} would hang too far above the water"
        yield say(
            "reach.water",
            "Shortfall",
            ride.key,
            title,
            "{given} is let out; {low} to {high} leaves the end just above the surface.",
            given=Number(given, "fine length"),
            low=low,
            high=high,
            rope=name,
            working=low,
            fix=fix,
        )
        return False
    if vague:
        why = "It cannot be measured out as narrowly as the end may hang over the water. "
        if window.on_site:
            why = "The lines that it may take lie further apart than the end may hang over the water. "
        why += "Begin with {out} and let out, watching or by signal, until the end is just above the surface; the first"
        why += " is lowered or belayed."
        fix = None if window.on_site or blunt else fix
        title = "The length of {rope} is to be set on site"
        yield say(
            "reach.on-site", "Not checked", ride.key, title, why, out=window.told, rope=name, working=low, fix=fix
        )
    return vague


def _releasable_fix(look: Look, ride: Reach | None, window: _Window) -> Fix | None:
    """The same rope, tied off releasable for the party; what is rigged now stays for the last person."""
    last = look.system
    if ride is None or look.state.serves != "all" or last.kind == "none" or tied_on(last) is not None:
        return None  # what is tied on would have to be tied off at the ring
    if not LEAST_M <= window.out <= LONGEST_M:
        return None
    given = Known(kind="known", value=window.out, method="tape")
    system = Releasable(
        kind="releasable",
        rope=ride.rope,
        ridden_end=ride.end,
        ride_m=given,
        tie_off="munter-mule-overhand",
        stoppers=(),
    )
    more = {"ride_m": given} if isinstance(last, (BlockedSame, Releasable)) else {}
    states = for_two(look.state, system, last.model_copy(update={"stoppers": (), **more}))
    label = Sentence("Tie {rope} off releasable for the party", {}, {"rope": ride.name})
    return Fix(label, (look.states_place.set(states),))
