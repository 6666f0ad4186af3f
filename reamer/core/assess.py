"""The one front door: a plan in, everything there is to say about it out. Pure and deterministic."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Generic, TypeVar

from reamer.core.anchor.cutting import WebbingAssessment, webbing_assessments
from reamer.core.answer.codes import Severity
from reamer.core.answer.context import Context, context, figured, fingerprint, on_the_way, shared_by
from reamer.core.answer.entered import with_entered
from reamer.core.answer.findings import Finding, Heard, Says, said_once, say, tally, worst_first
from reamer.core.answer.kept import NOTHING, ByThings
from reamer.core.answer.say import Number
from reamer.core.answer.where import placed
from reamer.core.answer.working import Book, Working, workings_in
from reamer.core.descent.descent import Descent, descent
from reamer.core.gear.findings import gear_findings
from reamer.core.gear.typical import typical_findings
from reamer.core.load.asked import MarginSaid, margin_said
from reamer.core.load.pull_tests import PullTestAssessment, pull_test, with_retention
from reamer.core.load.rider import TetherAssessment, rider_findings, tether_assessments
from reamer.core.model import NO_GEAR, Drop, Gear, Plan, Rope, Unknown
from reamer.core.rope.length import real_length
from reamer.core.station.comparison import Comparison, compare_systems
from reamer.core.station.drop import assess_drop
from reamer.core.station.state import VERDICT, DropAssessment
from reamer.core.tables import row

T = TypeVar("T")

# What a rehearsal looks at, and an assessment does not.
WHO_IS_HELD = "backups and who is held by what"
NOT_COVERED = (
    "rope in a current",
    "harnesses, and how each knot is tied and dressed",
    WHO_IS_HELD,
    "rope wear over edges, rock fall, weather and flow",
)


@dataclass(frozen=True, slots=True)
class RopeAssessment:
    """A rope of the shed: its real length, low and high, or why it is unknown."""

    id: str
    low: Number | None
    high: Number | None
    why: str


@dataclass(frozen=True, slots=True)
class Assessment:
    """The whole plan: its drops, its shed, findings about the whole, the tally of all, and what was not covered."""

    drops: tuple[DropAssessment, ...]
    ropes: tuple[RopeAssessment, ...]
    webbing: tuple[WebbingAssessment, ...]
    tethers: tuple[TetherAssessment, ...]
    pull_tests: tuple[PullTestAssessment, ...]
    descent: Descent
    findings: tuple[Finding, ...]
    tally: dict[Severity, int]
    total_height: Number
    heights_unknown: int
    verdict: str
    not_covered: tuple[str, ...]
    margin: MarginSaid

    @property
    def workings(self) -> dict[str, tuple[Working, ...]]:
        """The workings behind its numbers by subject, a drop's id or "" for the rest: those that were kept."""
        return {**{d.id: workings_in(d) for d in self.drops}, "": workings_in(replace(self, drops=()), self.drops)}


class Shelf(Generic[T]):
    """Answers by all that they rest on; those asked for longest ago go when there are too many."""

    def __init__(self, most: int) -> None:
        self.most = most
        self._held: OrderedDict[tuple[str, ...], T] = OrderedDict()
        self._lock = threading.Lock()

    def __len__(self) -> int:
        return len(self._held)

    def of(self, key: tuple[str, ...], make: Callable[[], T]) -> T:
        """What is kept under a key, or else made.

        key: all that the answer rests on, as texts; make: makes it
        returns: the answer
        Source: none, keeping.
        """
        with self._lock:
            if key in self._held:
                self._held.move_to_end(key)
                return self._held[key]
        made = make()
        with self._lock:
            self._held[key] = made
            while len(self._held) > self.most:
                self._held.popitem(last=False)
        return made


class Kept:
    """Drops already assessed, by all that their answers rest on, without workings and acts that have to be looked for;
    and the rope systems compared at them. An edit of one drop then assesses that drop again, and what is said of the
    plan as a whole."""

    def __init__(self, most: int = 600) -> None:
        self.assessed: Shelf[DropAssessment] = Shelf(most)
        self.compared: Shelf[Comparison] = Shelf(most // 5)
        # Fingerprints of drops, and what of a descent is each drop's own.
        self.made = ByThings(6 * most)

    def drops(self, ctx: Context) -> tuple[DropAssessment, ...]:
        """Every drop of a plan, as ``assess_drop`` without fixes gives it.

        ctx: the plan's context
        returns: the assessments
        Source: see assess_drop.
        """
        rest = shared_by(ctx.plan)

        def one(i: int, drop: Drop) -> DropAssessment:
            key = (rest, str(i), on_the_way(ctx, i), self._print(drop))
            return self.assessed.of(key, lambda: assess_drop(ctx, i, drop, False))

        return tuple(one(i, drop) for i, drop in enumerate(ctx.plan.drops))

    def comparison(self, ctx: Context, index: int, drop: Drop, which: int) -> Comparison:
        """The rope systems side by side at one of a station's states, as ``compare_systems`` gives them.

        ctx: the plan's context; index: the drop's place, from 0; drop: the drop; which: of its states, from 0
        returns: the comparison
        Source: see compare_systems.
        """
        key = (shared_by(ctx.plan), str(index), on_the_way(ctx, index), self._print(drop), str(which))
        return self.compared.of(key, lambda: compare_systems(ctx, index, drop, which))

    def bare(self, d: DropAssessment) -> DropAssessment:
        """A drop's answer that offers no act, the very same for the same.

        d: the answer
        returns: it without acts
        Source: none, keeping.
        """
        return self.made.of("bare", (d,), (), lambda: _without_acts(d))

    def _print(self, part: Drop) -> str:
        """A part's content by its fingerprint; one that was not read anew is not written anew."""
        return self.made.of("print", (part,), (), lambda: fingerprint(part.model_dump_json()))


@figured
def assess(plan: Plan, fixes: bool = True, gear: Gear = NO_GEAR) -> Assessment:
    """Everything there is to say about a plan.

    plan: the plan; fixes: whether to look for acts that may settle findings, none of them tried yet, and to keep
    workings; gear: what things have been through
    returns: the assessment, the same for the same plan
    Source: see the functions it calls.
    """
    ctx = context(plan, gear)
    drops = tuple(assess_drop(ctx, i, drop, fixes) for i, drop in enumerate(plan.drops))
    whole = _whole(ctx, drops, _bare(plan, _each), keeps=fixes)
    done = _gathered(plan, drops, whole)
    return done if fixes else without_acts(done)


@figured
def assess_by_parts(plan: Plan, kept: Kept, gear: Gear = NO_GEAR) -> Assessment:
    """Everything there is to say about a plan, as ``assess`` without workings and acts: drops that were assessed before
    keep their answer.

    plan: the plan; kept: what was assessed before, and from now on; gear: what things have been through
    returns: the assessment
    Source: as for ``assess``.
    """
    a = gathered(context(plan, gear), kept)
    return replace(a, findings=_bare_findings(a.findings), drops=tuple(map(kept.bare, a.drops)))


@figured
def gathered(ctx: Context, kept: Kept) -> Assessment:
    """The same with the acts that need no looking for, none of them tried yet.

    ctx: the plan's context; kept: what was assessed before, and from now on
    returns: the assessment
    Source: as for ``assess``.
    """
    drops = kept.drops(ctx)
    return _gathered(ctx.plan, drops, _whole(ctx, drops, _bare(ctx.plan, kept.drops), False, kept.made))


def without_acts(a: Assessment) -> Assessment:
    """An assessment whose findings offer no act: one that was not tried is not offered.

    a: the assessment
    returns: the same without
    Source: none.
    """
    return replace(a, findings=_bare_findings(a.findings), drops=tuple(map(_without_acts, a.drops)))


def _bare_findings(findings: tuple[Finding, ...]) -> tuple[Finding, ...]:
    return tuple(replace(f, fix=None, others=()) if f.fix is not None or f.others else f for f in findings)


def _without_acts(d: DropAssessment) -> DropAssessment:
    return replace(d, findings=_bare_findings(d.findings), last=None if d.last is None else _without_acts(d.last))


@figured
def workings_of(ctx: Context, done: Assessment, index: int | None) -> tuple[Working, ...]:
    """The workings behind one drop's numbers, or the shed's, made anew.

    ctx: the plan's context; done: its assessment; index: the drop's place, from 0, None for the shed
    returns: the workings
    Source: as for ``assess``.
    """
    if index is not None:
        drop = ctx.plan.drops[index]
        return with_entered(ctx.plan, drop, workings_in(assess_drop(ctx, index, drop)))
    return with_entered(ctx.plan, None, workings_in(_whole(ctx, done.drops, None), done.drops))


@dataclass(frozen=True, slots=True)
class _Whole:
    """What is to be said of the plan as a whole: its shed, its party, and the findings about them."""

    ropes: tuple[RopeAssessment, ...]
    webbing: tuple[WebbingAssessment, ...]
    tethers: tuple[TetherAssessment, ...]
    pull_tests: tuple[PullTestAssessment, ...]
    descent: Descent
    findings: tuple[Finding, ...]


def _gathered(plan: Plan, drops: tuple[DropAssessment, ...], whole: _Whole) -> Assessment:
    """The drops and what is said of the whole, in one."""
    heights = [d.height.value for d in drops if d.height]
    wide = said_once([f for d in drops for s in (d, d.last) if s for f in s.wide])
    findings = placed(plan, worst_first([*whole.findings, *wide]))
    return Assessment(
        drops=drops,
        ropes=whole.ropes,
        webbing=whole.webbing,
        tethers=whole.tethers,
        pull_tests=whole.pull_tests,
        descent=whole.descent,
        findings=findings,
        tally=tally([f for d in drops for f in d.findings] + list(findings)),
        total_height=Number(sum(heights), "length"),
        heights_unknown=len(drops) - len(heights),
        verdict=VERDICT if drops and all(d.verdict for d in drops) else "",
        not_covered=NOT_COVERED,
        margin=margin_said(plan.policies.margin),
    )


def _whole(
    ctx: Context,
    drops: tuple[DropAssessment, ...],
    bare: tuple[DropAssessment, ...] | None,
    keeps: bool = True,
    made: ByThings = NOTHING,
) -> _Whole:
    """What is to be said of the plan as a whole; bare: its drops as the tables alone would have them, None where there
    are no own figures; keeps: whether workings are; made: what of it was made before."""
    plan, book, heard = ctx.plan, Book(keeps=keeps), Heard()
    heard.of(_plan_findings(ctx, drops, bare))
    ropes = tuple(_rope(rope, book) for rope in plan.shed.ropes)
    heard.of(_party_findings(plan))
    webbing = heard.of(webbing_assessments(plan, {d.id: _cuts(d) for d in drops}))
    whole, follow = descent(ctx, drops, webbing, book, made)
    heard.findings += follow
    tethers = tether_assessments(ctx, book)
    heard.of(rider_findings(ctx, tethers, book))
    heard.findings += [*gear_findings(ctx), *typical_findings(ctx)]
    tests = with_retention(plan.shed.pull_tests, [pull_test(t, book) for t in plan.shed.pull_tests])
    return _Whole(ropes, webbing, tethers, tests, whole, worst_first(heard.findings))


def _party_findings(plan: Plan) -> Says[None]:
    """Whether there is a party, and what each weighs."""
    if not plan.party:
        yield say("party.none", "Not checked", "party", "Nobody is in the party", "Loads are not checked.")
    for person in plan.party:
        if person.mass_kg.kind == "unknown":
            key, title = f"person.{person.id}", "The weight of {name} is unknown"
            why = "Loads are not checked until it is entered."
            yield say("person.unknown", "Not checked", key, title, why, name=person.name)


def _plan_findings(
    ctx: Context, drops: tuple[DropAssessment, ...], bare: tuple[DropAssessment, ...] | None
) -> Says[None]:
    """What is to be said of the plan's own figures, its margin, and its date."""
    plan = ctx.plan
    if not plan.drops:
        yield say("plan.empty", "Not checked", "plan", "The plan has no drops", "Add the first one.")
    for own in (*plan.shed.own_figures, *plan.own_figures):
        # The table's own row may be in another unit than a quantity shown: the words carry the plain figures.
        title, name, ends = "Own figure for {name}: {low} to {high}", row(own.table, own.key).name, (own.low, own.high)
        low, high = (f"{end:g}" for end in ends)
        yield say("figure.own", "Note", "figures", title, "{reason}", name=name, low=low, high=high, reason=own.reason)
    if bare is not None:
        yield from _bold_figures(drops, bare)
    margin, least = plan.policies.margin, row("loads", "margin.peak")
    if margin.kind == "own" and margin.times < least.high:
        yield say(
            "margin.low",
            "Caution" if margin.reason else "Shortfall",
            "plan",
            "The margin of this plan is {ours} instead of {least}",
            "{why}",
            ours=Number(margin.times, "ratio", "down"),
            least=Number(least.high, "ratio", "up"),
            why=margin.reason or "No reason is given for it: say why, or follow the table.",
        )
    if plan.on is None and any(i.on is not None for d in plan.drops for i in d.station.inspections):
        title = "How old the records of what was found in place are is not checked"
        yield say("inspection.old", "Not checked", "plan", title, "The plan has no date.")


def _rope(rope: Rope, book: Book) -> RopeAssessment:
    """A rope's real length, or why it is unknown."""
    length = real_length(rope, book)
    if isinstance(length, Unknown):
        return RopeAssessment(rope.id, None, None, length.why)
    return RopeAssessment(rope.id, length[0], length[1], "")


def _cuts(d: DropAssessment) -> tuple[tuple[str, Number | None], ...]:
    """What a station takes of each webbing: of two states the last person's piece only where it is another."""
    if d.last is None:
        return d.cuts
    seen = {(w, c.value if c else None) for w, c in d.cuts}
    return d.cuts + tuple((w, c) for w, c in d.last.cuts if (w, c.value if c else None) not in seen)


def _each(ctx: Context) -> tuple[DropAssessment, ...]:
    """Every drop of a plan, without fixes."""
    return tuple(assess_drop(ctx, i, drop, fixes=False) for i, drop in enumerate(ctx.plan.drops))


def _bare(plan: Plan, each: Callable[[Context], tuple[DropAssessment, ...]]) -> tuple[DropAssessment, ...] | None:
    """The drops as the tables alone would have them, None where there are no own figures."""
    if not (plan.own_figures or plan.shed.own_figures):
        return None
    shed = plan.shed.model_copy(update={"own_figures": ()})
    return each(context(plan.model_copy(update={"own_figures": (), "shed": shed})))


def _bold_figures(ours: tuple[DropAssessment, ...], bare: tuple[DropAssessment, ...]) -> Says[None]:
    """Own figures against the tables': one caution for the plan where they raise what a part holds, or lower what is
    asked of it."""
    touched = [
        f"{a.number} {a.name}"
        for a, b in zip(ours, bare, strict=True)
        if _milder(a, b) or (a.last is not None and b.last is not None and _milder(a.last, b.last))
    ]
    if touched:
        names = ", ".join(touched[:6]) + (f" and {len(touched) - 6} more" if len(touched) > 6 else "")
        title = "Own figures raise what parts hold, or lower what is asked of them"
        why = "They do so at {drops}. Nobody but you stands for them."
        yield say("figure.bold", "Caution", "figures", title, why, drops=names)


def _milder(ours: DropAssessment, theirs: DropAssessment) -> bool:
    """Whether own figures make anything of one drop look better than the tables do."""

    def better(a: Number | None, b: Number | None, sign: float) -> bool:
        return a is not None and b is not None and sign * (a.value - b.value) > 1e-9

    was = {p.key: p for p in theirs.parts}
    parts = [(p, was[p.key]) for p in ours.parts if p.key in was]
    reached = zip(ours.reach, theirs.reach, strict=False)
    return (
        any(better(a.low, b.low, 1) or better(a.required, b.required, -1) for a, b in parts)
        or any(better(a.low, b.low, 1) or better(a.need, b.need, -1) for a, b in reached)
        or better(ours.pull.worst, theirs.pull.worst, -1)
    )
