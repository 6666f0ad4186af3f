"""Where practitioners disagree: each school's choices, what each is for, and what switching would change in this
plan."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import get_args

from reamer.core.answer.codes import Severity
from reamer.core.answer.context import Context, context, figured
from reamer.core.answer.findings import value
from reamer.core.answer.look import Look, look_at
from reamer.core.answer.say import Number
from reamer.core.assess import Assessment, assess
from reamer.core.load.part import Part
from reamer.core.model import (
    BlockedCord,
    BlockedSame,
    Doubled,
    ElasticRelease,
    EndRef,
    Joined,
    JoinKnot,
    Known,
    Margin,
    PeakMargin,
    Plan,
    Policies,
    Releasable,
    RopeEnd,
    StaticRatio,
    Unknown,
    Wrap,
)
from reamer.core.plan.edits import PLAN, Edit, apply
from reamer.core.reach.need import ride_wanted_m
from reamer.core.rope.strands import ridden_end
from reamer.core.station.lie import lengths_of, lie_of


@dataclass(frozen=True, slots=True)
class Change:
    """The part of one drop that a choice leaves worst off of those it touches: what it holds at its low end, and how
    much of what is asked of it that is, before and after. None where unknown."""

    drop: str
    number: int
    name: str
    part: str
    low_before: Number | None
    low_after: Number | None
    share_before: Number | None
    share_after: Number | None


@dataclass(frozen=True, slots=True)
class Choice:
    """One way of a school: why it is followed, the edits that adopt it, and what these would change.

    ``changed``: drops of which a part changes; ``tally``: of the whole plan with this choice
    """

    key: str
    name: str
    why: str
    current: bool
    edits: tuple[Edit, ...]
    changed: tuple[Change, ...]
    tally: dict[Severity, int]


@dataclass(frozen=True, slots=True)
class School:
    """A question on which practitioners differ, and its choices, the default first."""

    key: str
    name: str
    choices: tuple[Choice, ...]


CHOICES = (
    (
        "retention",
        "How much does a knot cost?",
        (
            ("graded", "graded by knot", "Each knot has its own range by what it is tied in; the low end decides."),
            (
                "flat half",
                "any knot halves it",
                "One number for every knot is easily remembered and never flatters a good one.",
            ),
        ),
    ),
    (
        "bend",
        "Where does the bend of a wrap sit?",
        (
            ("back", "at the back", "The post takes most of the pull before the knot: stronger."),
            ("in view", "in view", "In a leg, where everyone who clips in can look at it."),
        ),
    ),
    (
        "focal",
        "What holds the ring at the focal point?",
        (
            ("free", "ring free", "It slides to where the load is, and no knot weakens the webbing."),
            ("knotted", "ring knotted", "The ring stays where it is put, and the legs are held apart from each other."),
        ),
    ),
    (
        "join",
        "How are two ropes joined?",
        (
            (
                "flat overhand, second behind",
                "flat overhand, a second behind",
                "It tips over edges; the second stops the first from rolling.",
            ),
            (
                "flat overhand",
                "single flat overhand, long tails",
                "Less to catch at an edge, less rope used; long tails allow for rolling.",
            ),
            (
                "opposed overhand",
                "bends with opposite tails only",
                "They do not roll. They catch at edges, and jam after load.",
            ),
        ),
    ),
    (
        "ends",
        "Is every ridden end knotted?",
        (
            (
                "always",
                "always",
                (
                    "Nobody can ride off an end, whoever threw the rope. What goes up through the ring is untied before"
                    " the pull."
                ),
            ),
            (
                "unless seen down",
                "not where the ends are seen down",
                "A knot less to catch or forget; it asks for somebody who sees both ends lie.",
            ),
        ),
    ),
    (
        "strands",
        "Which comes first where both would do?",
        (
            ("doubled", "doubled rope", "Nothing is blocked, nothing is set to length, either side pulls."),
            (
                "single",
                "single strand",
                "Half of the rope hangs spare, and a rider cannot take the wrong strand for a brake.",
            ),
        ),
    ),
    (
        "releasable",
        "Where is the strand to be releasable?",
        (
            ("always", "for everyone", "Whoever is stuck can be let down from above."),
            (
                "for novices",
                "where there are novices",
                "It takes time and an able person at the top; who can free themselves does not need it.",
            ),
            (
                "not wanted",
                "nowhere by rule",
                "On walls and doubled ropes: who is stuck is climbed to, or frees themselves.",
            ),
        ),
    ),
    (
        "novices",
        "What backs a novice up?",
        (
            (
                "fireman's belay",
                "a fireman's belay, no third hand",
                "Whoever stands below can ease the strand for them.",
            ),
            (
                "third hand",
                "a third hand",
                "It holds without anybody looking; then they can be lowered only from above.",
            ),
            ("top line", "a top line", "Held apart from rope, ring and device; it takes a second rope and time."),
        ),
    ),
    (
        "margin",
        "How much more than the load must a part hold?",
        (
            ("peak", "2.0 × peak", "The low end of each part against the most a rider puts on it."),
            ("static ratio", "10 × static", "The rescue habit: no peak is estimated, the still weight is."),
        ),
    ),
)
# The knots that a choice of how to join names.
KNOTS: dict[str, JoinKnot] = {k: k for k in get_args(JoinKnot)}
BEND_CHOSEN = ("simple wrap", "simple wrap, overhand", "basket")


def _edits(plan: Plan, school: str, choice: str) -> tuple[Edit, ...]:
    """What adopting a choice sets: the policy, and every station of this plan that follows it."""
    made, ctx = [_policy(school, choice)], context(plan)
    for i, drop in enumerate(plan.drops):
        for n in range(len(drop.station.states)):
            look = look_at(ctx, i, drop, n)
            made += _tied(look, school, choice) + _roped(look, school, choice)
    return tuple(made)


def _policy(school: str, choice: str) -> Edit:
    """The edit that sets the policy of a school."""
    if school == "margin":
        margin: Margin = PeakMargin(kind="peak") if choice == "peak" else StaticRatio(kind="static ratio")
        return PLAN.at(lambda plan: plan.policies.margin).set(margin)
    if school not in Policies.model_fields:
        raise KeyError(school)
    return PLAN.at(lambda plan: plan.policies).at(lambda policies: getattr(policies, school)).set(choice)


def _tied(look: Look, school: str, choice: str) -> list[Edit]:
    """How a station is tied by a choice."""
    rig, place = look.rig, look.rig_as(Wrap)
    if rig.kind != "wrap":
        return []
    if school == "bend" and rig.pattern in BEND_CHOSEN:
        return [place.at(lambda r: r.bend_at).set("back" if choice == "back" else "leg")]
    if school == "focal" and rig.pattern in ("simple wrap", "simple wrap, overhand"):
        return [place.at(lambda r: r.pattern).set("simple wrap" if choice == "free" else "simple wrap, overhand")]
    return []


def _roped(look: Look, school: str, choice: str) -> list[Edit]:
    """How a station's rope is rigged by a choice; over moving water ends and strands stay as they are."""
    system = look.system
    if school == "join" and isinstance(system, (Joined, BlockedCord)):
        return [look.system_as(Joined).at(lambda s: s.knot).set(KNOTS[choice])]
    if look.drop.landing.kind == "moving water":
        return []
    if school == "ends" and choice == "always":
        return _knotted(look)
    if school == "strands" and choice == "single" and isinstance(system, Doubled):
        return [look.place.at(lambda state: state.system).set(_single(look, system))]
    if school == "strands" and choice == "doubled" and isinstance(system, BlockedSame):
        rope = look.ctx.ropes.get(system.rope)
        by_mark = rope is not None and rope.middle_mark and rope.middle_off_m.kind == "known"
        doubled = Doubled(
            kind="doubled",
            rope=system.rope,
            middle_by="mark" if by_mark else "ends run together",
            pulled_end="a" if system.ridden_end == "b" else "b",
            stoppers=(EndRef(rope=system.rope, end="a"), EndRef(rope=system.rope, end="b")),
        )
        return [look.place.at(lambda state: state.system).set(doubled)]
    return []


def _knotted(look: Look) -> list[Edit]:
    """A stopper in every end that is ridden."""
    match look.system:
        case Doubled(rope=rope):
            ends = [EndRef(rope=rope, end="a"), EndRef(rope=rope, end="b")]
        case Joined(through=through, through_end=one, other=other, other_end=two):
            ends = [EndRef(rope=through, end=one), EndRef(rope=other, end=two)]
        case BlockedSame() | BlockedCord() | Releasable() | ElasticRelease():
            ends = [ridden_end(look.system)]
        case _:
            return []
    return [look.stoppers_place.set(tuple(ends))]


def _single(look: Look, system: Doubled) -> BlockedSame:
    """A doubled rope ridden on one strand instead, blocked on the other, given just what it needs."""
    end: RopeEnd = "a" if system.pulled_end == "b" else "b"
    made = BlockedSame(
        kind="blocked, same rope",
        rope=system.rope,
        ridden_end=end,
        ride_m=Unknown(kind="unknown", why="not decided"),
        block="figure eight",
        carabiner=True,
        stoppers=(EndRef(rope=system.rope, end=end),),
    )
    there = look.trying(made)
    there = replace(there, state=there.state.model_copy(update={"serves": "all"}))
    wanted = ride_wanted_m(there, lengths_of(look, value(lie_of(look)).by_bound))
    given = None if wanted is None else Known(kind="known", value=wanted, method="tape")
    return made if given is None else made.model_copy(update={"ride_m": given})


def _share(p: Part) -> Number | None:
    return (
        Number(p.low.value / p.required.value, "ratio", "down")
        if p.low and p.required and p.required.value > 0
        else None
    )


def _changes(before: Assessment, after: Assessment) -> tuple[Change, ...]:
    made = []
    for a, b in zip(before.drops, after.drops, strict=True):
        was = {p.key: p for p in a.parts}
        touched = [
            (was[p.key], p) for p in b.parts if p.where == "riding" and p.key in was and _told(was[p.key]) != _told(p)
        ]
        if touched:
            old, new = min(touched, key=lambda t: share.value if (share := _share(t[1])) else -1)
            made.append(
                Change(a.id, a.number, a.name, new.name, _bare(old.low), _bare(new.low), _share(old), _share(new))
            )
    return tuple(made)


def _told(p: Part) -> tuple[float | None, float | None]:
    return (p.low.value if p.low else None, p.required.value if p.required else None)


def _bare(n: Number | None) -> Number | None:
    """Without its working, which belongs to another assessment."""
    return Number(n.value, n.quantity, n.toward) if n else None


@figured
def schools(ctx: Context, now: Assessment, only: str = "") -> tuple[School, ...]:
    """Every school with its choices and what each would change.

    ctx: the plan's context; now: its assessment; only: the key of one school, "" for all
    returns: the schools, in the order of their list
    Source: P, common practice, no source: practitioners differ; J, our judgement, for which is the default.
    """
    made, plan = list[School](), ctx.plan
    for key, name, options in CHOICES:
        if only not in ("", key):
            continue
        current = plan.policies.margin.kind if key == "margin" else getattr(plan.policies, key)
        choices = []
        for option, title, why in options:
            edits = _edits(plan, key, option)
            same = option == current and not edits[1:]
            after = now if same else assess(apply(plan, edits), fixes=False, gear=ctx.gear)
            choices.append(Choice(option, title, why, option == current, edits, _changes(now, after), after.tally))
        made.append(School(key, name, tuple(choices)))
    return tuple(made)
