"""What backs up each person at each station: proposed by rule, compared side by side."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.answer.context import Context
from reamer.core.answer.say import Number, Sentence
from reamer.core.model import BackedUp, BackupKind, Drop, Person, System, able
from reamer.core.plan.party import order_of
from reamer.core.rope.strands import ropes_at
from reamer.core.tables import row

KINDS: tuple[BackupKind, ...] = (
    "third hand",
    "fireman's belay",
    "top line",
    "stacked",
    "stacked, isolating clove",
    "lowered",
    "tandem",
    "none",
)
STACKED: tuple[BackupKind, ...] = ("stacked", "stacked, isolating clove")


@dataclass(frozen=True, slots=True)
class Backup:
    """What backs one person up. ``helper``: who belays them, takes them along or checks them, "" nobody; ``refused``:
    why what the guide has chosen cannot be had, and the rule's stands in its place."""

    who: str
    by: BackupKind
    helper: str
    chosen: bool
    refused: Sentence | None = None


@dataclass(frozen=True, slots=True)
class Option:
    """One way to back a person up here: what it needs, what it excludes, what it loads, how long it takes; ``why_not``:
    why it cannot be had, None where it can."""

    by: BackupKind
    proposed: bool
    chosen: bool
    needs: tuple[Sentence, ...]
    excludes: tuple[Sentence, ...]
    loads: tuple[Sentence, ...]
    low_min: Number | None
    high_min: Number | None
    why_not: Sentence | None


def rigged_for(drop: Drop, order: tuple[Person, ...], i: int) -> System:
    """The rope system that somebody meets at a station.

    drop: the station's; order: who goes; i: their place in it
    returns: the party's, or the last person's
    Source: none, a look-up.
    """
    states = drop.station.states
    return states[-1 if i == len(order) - 1 else 0].system


def backups_of(ctx: Context, drop: Drop) -> tuple[Backup, ...]:
    """What backs everybody up at a station, in the order in which they go.

    ctx: the plan's context; drop: the station's
    returns: the guide's choices, the rule's where there is none
    Source: P, common practice, no source.
    """
    order, own = order_of(ctx.plan, drop), {b.who: b for b in drop.station.through.backups}
    made: list[Backup] = []
    system = drop.station.states[0].system
    if system.kind == "lowered" and system.from_top and order:
        # One is up there, on a belay from below.
        foot = [q for q in order[:-1] if able(q)] or list(order[:-1])
        up = Backup(order[-1].id, "lowered", foot[0].id if foot else "", False)
        return (*(Backup(q.id, "none", "", False) for q in order[:-1]), up)
    for i, p in enumerate(order):
        mine, rule = own.get(p.id), proposed(ctx, drop, order, i)
        refused = _refused(ctx, drop, order, i, mine)
        by = mine.by if mine is not None and refused is None else rule
        taken = {b.helper for b in made if b.by == "tandem"}
        helper = _helper(order, i, by, mine, taken)
        if by == "tandem" and not helper:
            by, refused = rule, Sentence("Nobody able is free to ride with.")
            helper = _helper(order, i, by, None, taken)
        made.append(Backup(p.id, by, helper, mine is not None, refused))
    return tuple(made)


def last_riders(ctx: Context, drop: Drop) -> tuple[str, ...]:
    """Who rides last at a station: one person, or two on one device where the last two go so.

    ctx: the plan's context; drop: the station's
    returns: their ids
    Source: P, common practice, no source.
    """
    made = backups_of(ctx, drop)
    if not made:
        return ()
    last = made[-1]
    along = [b.who for b in made if b.by == "tandem" and b.helper == last.who]
    taken = [last.helper] if last.by == "tandem" and last.helper else []
    return (last.who, *(along or taken))


def _refused(ctx: Context, drop: Drop, order: tuple[Person, ...], i: int, mine: BackedUp | None) -> Sentence | None:
    """Why the guide's choice cannot be had; a third hand that nobody has entered is said by itself."""
    if mine is None or (mine.by == "third hand" and rigged_for(drop, order, i).kind != "lowered"):
        return None
    return why_not(ctx, drop, order, i, mine.by)


def proposed(ctx: Context, drop: Drop, order: tuple[Person, ...], i: int) -> BackupKind:
    """What backs one person up by rule.

    ctx: the plan's context; drop: the station's; order: who goes; i: their place in it
    returns: the kind
    Source: P, common practice, no source; for novices the plan's own choice.
    """
    p, system = order[i], rigged_for(drop, order, i)
    water = drop.landing.kind == "moving water"
    if system.kind == "lowered":
        return "lowered"
    if water and i == 0 and len(order) > 1 and system.kind == "releasable":
        return "lowered"
    if able(p):
        return "third hand"
    if i > 0 and not any(able(q) for q in order[i:]):
        return "stacked"
    if i == 0 or len(order) == 1:
        return "third hand"
    want = ctx.plan.policies.novices
    if want == "fireman's belay" and not water:
        return "fireman's belay"
    if water and system.kind == "releasable":
        return "lowered"
    if want == "top line" and i < len(order) - 1 and spare_rope(ctx, drop) and able(order[-1]):
        return "top line"
    return "third hand"


def spare_rope(ctx: Context, drop: Drop) -> str:
    """A rope that is carried and not in use at a station, by which somebody may be held.

    ctx: the plan's context; drop: the station's
    returns: the rope's id, "" where there is none
    Source: P, common practice, no source.
    """
    used = ropes_at(drop)
    said, drops = ctx.plan.carry.ropes, ctx.plan.drops
    carried = frozenset[str]().union(*map(ropes_at, drops)) if said is None else frozenset(said)
    free = (r for r in ctx.plan.shed.ropes if r.id in carried and r.id not in used)
    good = (r.id for r in free if r.kind != "pull cord")
    return next(good, "")


def _helper(order: tuple[Person, ...], i: int, by: BackupKind, own: BackedUp | None, taken: set[str]) -> str:
    """Who helps: the guide's choice, else an able person who is where the backup needs them."""
    p = order[i]
    named = own.helper if own is not None else None
    if named and named != p.id and any(q.id == named for q in order):
        return named
    below, above = [q for q in order[:i] if able(q)], [q for q in order[i + 1 :] if able(q)]
    if by == "fireman's belay":
        return (below or list(order[:i]) or [p])[0].id if i else ""
    if by in STACKED:
        return order[0].id if i else ""
    if by in ("top line", "lowered"):
        return above[-1].id if above else ""
    if by == "tandem":
        # The last stays for the anchor, unless the two are the last to go.
        free = [q for q in (*below, *above) if q.id not in taken and (q is not order[-1] or i == len(order) - 2)]
        return free[0].id if free else ""
    return ""


def compare_backups(ctx: Context, drop: Drop, who: str) -> tuple[Option, ...]:
    """Every backup for one person at one station, side by side.

    ctx: the plan's context; drop: the station's; who: the person's id
    returns: all kinds, with why those that cannot be had cannot
    Source: P, common practice, no source; times J, table of people.
    """
    order = order_of(ctx.plan, drop)
    i = next((n for n, p in enumerate(order) if p.id == who), None)
    if i is None:
        return ()
    rule, chosen = proposed(ctx, drop, order, i), next(b.by for b in backups_of(ctx, drop) if b.who == who)
    return tuple(_option(ctx, drop, order, i, by, (rule == by, chosen == by)) for by in KINDS)


TIMES = {
    "third hand": "time.third hand",
    "fireman's belay": "time.fireman",
    "top line": "time.top line",
    "stacked": "time.stacked",
    "stacked, isolating clove": "time.stacked",
    "lowered": "time.lowered",
    "tandem": "time.tandem",
}


def _option(
    ctx: Context, drop: Drop, order: tuple[Person, ...], i: int, by: BackupKind, marks: tuple[bool, bool]
) -> Option:
    timed = row("people", TIMES[by]) if by in TIMES else None
    low = Number(timed.low, "minutes", "down") if timed else None
    high = Number(timed.high, "minutes", "up") if timed else None
    needs, excludes, loads = (tuple(Sentence(s) for s in some) for some in SAID[by])
    return Option(by, *marks, needs, excludes, loads, low, high, why_not(ctx, drop, order, i, by))


SAID: dict[BackupKind, tuple[tuple[str, ...], tuple[str, ...], tuple[str, ...]]] = {
    "third hand": (
        ("A loop of cord that stays clear of the device, tested before the tether comes off.",),
        ("Whoever hangs on it can be lowered only from above; the fireman's belay from below does not lower them.",),
        (),
    ),
    "fireman's belay": (
        ("Somebody down who watches, and holds every strand in the device.",),
        ("Not for the first. Not with alternating bights on both strands.",),
        ("The belayer's pull comes on ring and anchor besides the rider.",),
    ),
    "top line": (
        ("A second rope on a second solid point; a belayer, tethered; the ride line tied off releasable.",),
        ("Not for the last.",),
        ("The second point takes the rider alone.",),
    ),
    "stacked": (
        ("A device on the rope before the first goes, checked by somebody else.",),
        ("No third hand: then the first can ease the strand from below.",),
        ("Everybody waiting hangs on the anchor as well.",),
    ),
    "stacked, isolating clove": (
        ("As stacked, and a clove hitch at the master point between the devices, undone by the second.",),
        ("The first rider's weight then neither locks the device nor tests ring and block: the tether stays in.",),
        ("Everybody waiting hangs on the anchor as well.",),
    ),
    "lowered": (
        ("A rope that can be let out; a belayer at the anchor, and a hitch on their brake strand or a second hand.",),
        ("Not for the last. Never with rope that runs over textile.",),
        ("The rope moves under weight over every edge.",),
    ),
    "tandem": (
        ("A longer tether in the other's device; the heavier one higher; both keep a tether for below.",),
        ("Not alone, and not two novices.",),
        ("Two people on one device and one strand: the load path is asked for both.",),
    ),
    "none": ((), ("A hand let go is a fall.",), ()),
}


def why_not(ctx: Context, drop: Drop, order: tuple[Person, ...], i: int, by: BackupKind) -> Sentence | None:
    """Why a backup cannot be had by one person at one station.

    ctx: the plan's context; drop: the station's; order: who goes; i: their place in it; by: the kind
    returns: the reason, None where it can be had
    Source: P, common practice, no source.
    """
    p, system, party = order[i], rigged_for(drop, order, i), drop.station.states[0].system
    below, above = order[:i], order[i + 1 :]
    water = drop.landing.kind == "moving water"
    said: dict[BackupKind, str | None] = {
        "third hand": "{name} has no third hand." if p.hitch is None else None,
        "fireman's belay": "Nobody is below yet."
        if not below
        else "Nobody can stand and watch in moving water."
        if drop.landing.kind == "moving water"
        else None,
        "top line": "Nobody able stays above to belay."
        if not any(able(q) for q in above)
        else "Nobody able is left for the reserve."
        if water and party.kind == "releasable" and sum(map(able, above)) < 2
        else "No second rope is carried that is not in use here."
        if not spare_rope(ctx, drop)
        else None,
        "lowered": "Nobody able stays above to lower."
        if not any(able(q) for q in above)
        else "The rope cannot be let out: it is not tied off releasable."
        if party.kind not in ("releasable", "lowered")
        else None,
        "tandem": "There is nobody able to ride with." if not any(able(q) for q in order if q is not p) else None,
        "none": None,
    }
    stacked = None
    if not below:
        stacked = "The first is not pre-rigged: their weight locks the others."
    elif party.kind in ("releasable", "lowered", "elastic-release device") or drop.landing.kind == "moving water":
        stacked = "The rope moves, or is converted, while they would be on it."
    for kind in STACKED:
        said[kind] = stacked
    if system.kind == "lowered" and by != "lowered":
        return Sentence("They hang on the belayer’s rope.")
    text = said[by]
    return Sentence(text, {}, {"name": p.name}) if text else None
