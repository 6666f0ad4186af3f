"""The second check: what there is to look at in a revision, what was said of it, and whether that still holds."""

from __future__ import annotations

import datetime as dt
import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from reamer.core.answer.codes import SEVERITIES, Severity
from reamer.core.answer.context import Context, figured
from reamer.core.answer.findings import Finding
from reamer.core.answer.say import Sentence, words
from reamer.core.assess import Assessment
from reamer.core.descent.prospect import Prospect
from reamer.core.errors import PlanError
from reamer.core.plan.plan import Plan
from reamer.core.plan.record import REASONED, Record, Verdict, VerdictKind
from reamer.core.rehearsal.moves import Move
from reamer.core.rehearsal.rehearsal import Rehearsal, Span, StationRun
from reamer.core.second.rests import IN_WORDS, Basis, Rests, digest

ItemKind = Literal["station", "finding", "acts", "act", "gone"]
ItemState = Literal["open", "agreed", "objected", "accepted", "overruled"]
HELD = "who is held by what"
# What may be accepted by name; a shortfall can only be overruled, and stays one.
ACCEPTABLE: tuple[Severity, ...] = ("Not checked", "Caution")


@dataclass(frozen=True, slots=True)
class Item:
    """One thing to look at. ``severity``: a finding's, None for others; ``rests``: what it rests on; ``field``,
    ``field_name``: the place in the plan that settles a finding, and what the screen calls it."""

    key: str
    kind: ItemKind
    drop: str
    title: Sentence
    reason: Sentence | None
    severity: Severity | None
    rests: Rests
    field: str = ""
    field_name: str = ""


@dataclass(frozen=True, slots=True)
class Mark:
    """The last that one person said of an item. ``changed``: what has changed since, in words; then it no longer holds,
    but for an objection, which holds until it is taken back."""

    by: str
    at: dt.datetime
    verdict: VerdictKind
    remark: str
    revision: int
    changed: tuple[str, ...]

    @property
    def holds(self) -> bool:
        """Whether it still counts."""
        return self.verdict == "objected" or not self.changed


@dataclass(frozen=True, slots=True)
class Looked:
    """An item, how it stands, and what people last said of it; ``may``: what can be said of it."""

    item: Item
    state: ItemState
    marks: tuple[Mark, ...]
    may: tuple[VerdictKind, ...]


@dataclass(frozen=True, slots=True)
class Count:
    """How findings stand: those still open of each severity, what is accepted by name, what is overruled, and
    objections of any kind. A shortfall that is overruled is still a shortfall, and counted with the open ones too."""

    open: dict[Severity, int]
    accepted: dict[Severity, int]
    overruled: int
    objections: int

    @property
    def clear(self) -> bool:
        """Whether no shortfall stands, nobody objects, and everything not checked is accepted by name."""
        return not (self.open["Shortfall"] or self.open["Not checked"] or self.objections)


@dataclass(frozen=True, slots=True)
class Counted:
    """How one kind of findings stands. ``pending``: not all of it has been worked out, so that there may be more."""

    count: Count
    pending: bool


@dataclass(frozen=True, slots=True)
class Tally:
    """The one answer to how a plan stands, in three figures side by side: what is said of its stations, of the whole
    descent, and of the acts. Whatever tells how a plan stands tells this."""

    stations: Counted
    descent: Counted
    acts: Counted

    @property
    def parts(self) -> tuple[Counted, ...]:
        """The three of them."""
        return self.stations, self.descent, self.acts

    @property
    def named(self) -> tuple[tuple[str, Counted, str], ...]:
        """The three of them by name, each with what is said while nothing of it is worked out."""
        yet = ("", "not worked out yet", "not gone through yet")
        return tuple(zip(("stations", "descent", "acts"), self.parts, yet, strict=True))

    @property
    def objections(self) -> int:
        """Objections of any kind."""
        return sum(p.count.objections for p in self.parts)

    @property
    def clear(self) -> bool:
        """Whether all of it is worked out, no shortfall stands, nobody objects, and everything not checked is accepted
        by name."""
        return all(p.count.clear and not p.pending for p in self.parts)


@dataclass(frozen=True, slots=True)
class Checked:
    """A revision with what was said of it. ``counts``: the assessment's findings by drop; ``people``: everybody who
    said anything that holds; ``reopened``: how many items are open again because something changed; ``moves``: by drop
    those in which its acts are told, in their order."""

    looked: tuple[Looked, ...]
    counts: dict[str, Count]
    tally: Tally
    people: tuple[str, ...]
    reopened: int
    moves: dict[str, tuple[Move, ...]]


@dataclass(frozen=True, slots=True)
class Standing:
    """How many verdicts there are on a plan, how its findings stand of which somebody said something, by their keys,
    and all counts by drop, none where nobody said anything; and how the plan stands."""

    verdicts: int
    findings: dict[str, Looked]
    counts: dict[str, Count]
    tally: Tally


def finding_items(basis: Basis, findings: Iterable[Finding]) -> list[Item]:
    """Findings as items; of those alike in key one, which rests on all of them and is as severe as the worst.

    basis: the plan's parts; findings: of any kind
    returns: the items, in order
    Source: none, gathering.
    """
    made: dict[str, Item] = {}
    for f in findings:
        key, rests = f"finding:{f.key}", basis.of_finding(f)
        item = Item(key, "finding", f.subject.drop, f.title, f.reason, f.severity, rests, f.field, f.field_name)
        had, worded = made.get(item.key), basis.in_words.get(item.key)
        basis.word(item.key, lambda f=f: basis.finding_in_words(f))  # type: ignore[misc]
        if had is not None and had.severity is not None:
            worst = min(had, item, key=lambda i: SEVERITIES.index(i.severity or "Note"))
            item = replace(worst, rests=_both(had.rests, item.rests))
            if worded is not None:
                basis.in_words[item.key] = _both(worded, basis.in_words[item.key])
        made[item.key] = item
    return list(made.values())


def _both(one: Rests, other: Rests) -> Rests:
    return {k: digest([one.get(k), other.get(k)]) for k in {**one, **other}}


def station_items(basis: Basis, a: Assessment) -> list[Item]:
    """Stations as items.

    basis: the plan's parts; a: the assessment
    returns: the items, in order
    Source: none, gathering.
    """
    made = []
    for d in a.drops:
        states = [s for s in (d, d.last) if s is not None]
        found = sorted([f.code, f.severity] for f in d.findings)
        said = [found, basis.figures(*(s.answer for s in states))]
        rests, key = {"its figures": digest(said), **basis.of_drop(d.id)}, f"station:{d.id}"
        basis.word(key, lambda s=states: {"what is said": digest([words(x.answer) for x in s])})  # type: ignore[misc]
        made.append(Item(key, "station", d.id, Sentence("{name}", {}, {"name": d.name}), d.answer, None, rests))
    return made


def act_items(basis: Basis, run: StationRun) -> list[Item]:
    """A station's order of acts as an item, and every act.

    basis: the plan's parts; run: the station gone through
    returns: the order, then its acts
    Source: none, gathering.
    """
    plan, rests = basis.of_drop(run.drop), dict[str, str]()
    for part in ("the anchor", "the rope system", "the landing", "the party", "names"):
        rests[part] = plan[part]
    title, barred = Sentence("The order of acts at {name}", {}, {"name": run.name}), run.barred
    key = f"acts:{run.drop}"
    if not run.steps:
        # An empty order is nothing to agree with.
        why = words(barred) if barred is not None else "no system or nobody to go"
        title = Sentence("{name} is not gone through: {why}", {}, {"name": run.name, "why": why.rstrip(".")})
        basis.word(key, lambda: {"what is said": digest(words(title))})
        whole = {"its figures": digest([barred is not None, basis.figures(barred)])}
        return [Item(key, "acts", run.drop, title, None, None, {**whole, **rests})]
    each = [_act_rests(basis, run, n) for n in range(len(run.steps))]
    hazards = [[*_hazard(basis, s), s.begin, s.end] for s in run.spans]
    whole = {
        "the order of acts": digest([e["the act itself"] for e in each]),
        "who is held": digest([e["who is held"] for e in each]),
        "hazards here": digest(hazards),
    }
    basis.word(key, lambda: _acts_in_words(run))
    items = [Item(key, "acts", run.drop, title, None, None, {**whole, **rests})]
    for n, (step, own) in enumerate(zip(run.steps, each, strict=True)):
        key = f"act:{run.drop}:{step.key}"
        basis.word(key, lambda n=n: _act_in_words(run, n))  # type: ignore[misc]
        items.append(Item(key, "act", run.drop, step.words, None, None, {**own, **rests}))
    return items


def _act_rests(basis: Basis, run: StationRun, n: int) -> Rests:
    step, before = run.steps[n], run.steps[n - 1].key if n else ""
    here = sorted(_hazard(basis, s) for s in _standing(run, n))
    own = step.words.words.get("own", "") if step.own else ""
    pause = [step.pause.looks, step.pause.at] if step.pause is not None else None
    said = [step.do, step.who, step.what, own, pause, basis.figures(step.words, step.refused)]
    return {
        "the act itself": digest(said),
        "the act before it": digest(before),
        "who is held": digest([[h.who, h.place, h.exposed, h.paths, basis.figures(h.said)] for h in step.held]),
        "hazards here": digest(here),
    }


def _standing(run: StationRun, n: int) -> list[Span]:
    """The hazards that stand after an act, from 0."""
    return [s for s in run.spans if s.begin <= n + 1 and (s.end == 0 or n + 1 < s.end)]


def _hazard(basis: Basis, s: Span) -> list[Any]:
    """A hazard by its key, with how far somebody falls."""
    return [s.key, s.severity, s.happens, json.dumps(basis.figures(s.title, s.story), sort_keys=True)]


def _acts_in_words(run: StationRun) -> Rests:
    """What an order of acts rested on in words."""
    each = [_act_in_words(run, n) for n in range(len(run.steps))]
    hazards = [[s.key, s.severity, words(s.title), words(s.story), s.begin, s.end] for s in run.spans]
    return {
        "the acts": digest([e["the act"] for e in each]),
        HELD: digest([e[HELD] for e in each]),
        "hazards": digest(hazards),
    }


def _act_in_words(run: StationRun, n: int) -> Rests:
    """What an act rested on in words."""
    step = run.steps[n]
    refused = words(step.refused) if step.refused is not None else ""
    here = sorted([s.key, s.severity, words(s.title), words(s.story)] for s in _standing(run, n))
    return {
        "the act": digest([step.do, step.who, step.what, words(step.words), refused]),
        HELD: digest([[h.who, words(h.said)] for h in step.held]),
        "hazards": digest(here),
    }


def may_be(item: Item) -> tuple[VerdictKind, ...]:
    """What can be said of an item.

    item: any
    returns: the verdicts
    Source: J, our judgement.
    """
    if item.kind == "gone":
        return ("withdrawn",)
    if item.kind == "acts" and "the order of acts" not in item.rests:
        return ("objected", "withdrawn")
    said: tuple[VerdictKind, ...] = ("agreed", "objected", "withdrawn")
    if item.severity in ACCEPTABLE:
        return (*said, "accepted")
    return (*said, "overruled") if item.severity == "Shortfall" else said


@figured
def second_check(
    ctx: Context, a: Assessment, ahead: Prospect, runs: Sequence[StationRun], got: Rehearsal, record: Record
) -> Checked:
    """Everything there is to look at in a revision, with what was said of it.

    ctx: the plan's context; a: the assessment; ahead: what lies ahead; runs: every station gone through; got: what
    going through it found; record: everything that was said
    returns: stations, findings, orders of acts and acts, then objections to what is no longer there
    Source: J, our judgement: worse input never brings a milder state.
    """
    basis = Basis(ctx.plan, _worded(record))
    own = [*(f for d in a.drops for f in d.findings), *a.findings]
    findings = [*own, *ahead.findings, *got.findings]
    items = [*station_items(basis, a), *finding_items(basis, findings)]
    for run in runs:
        items += act_items(basis, run)
    last = _follow(_last(record), findings)
    looked = [_looked(basis, i, last.pop(i.key, {})) for i in items]
    looked += _objections(basis, last)
    people = dict.fromkeys(m.by for x in looked for m in x.marks if m.holds)
    reopened = sum(x.state == "open" and bool(x.marks) for x in looked)
    told = {run.drop: run.moves for run in runs if run.steps}
    tally = tally_of(ctx.plan, a, ahead.findings, got.findings, looked)
    return Checked(tuple(looked), counts_of(ctx.plan, own, looked), tally, tuple(people), reopened, told)


@figured
def standing(
    ctx: Context,
    a: Assessment,
    record: Record,
    ahead: Sequence[Finding] | None = None,
    acts: Sequence[Finding] | None = None,
) -> Standing:
    """How a plan stands, and its assessment's findings of which somebody said something.

    ctx: the plan's context; a: the assessment; record: everything that was said; ahead, acts: what the whole descent
    and going through the acts found, None while that is not worked out
    returns: those findings, and the counts
    Source: J, our judgement.
    """
    if not record.verdicts:
        return Standing(0, {}, {}, tally_of(ctx.plan, a, ahead, acts, ()))
    basis, last = Basis(ctx.plan, _worded(record)), _last(record)
    own = [*(f for d in a.drops for f in d.findings), *a.findings]
    findings = [*own, *(ahead or ()), *(acts or ())]
    last = _follow(last, findings)
    items = finding_items(basis, [f for f in findings if f"finding:{f.key}" in last])
    looked = [_looked(basis, i, last.pop(i.key)) for i in items]
    # What else is objected to is counted, whatever it is of: an act, a station, or a finding of another step.
    looked += _objections(basis, last)
    kept = {x.item.key.removeprefix("finding:"): x for x in looked if x.item.kind == "finding"}
    tally = tally_of(ctx.plan, a, ahead, acts, looked)
    return Standing(len(record.verdicts), kept, counts_of(ctx.plan, own, looked), tally)


def _worded(record: Record) -> frozenset[str]:
    """The items of which a verdict rests on words, as those did that are older."""
    return frozenset(v.item for v in record.verdicts if set(v.rests) & set(IN_WORDS))


def _last(record: Record) -> dict[str, dict[str, Verdict]]:
    """By item what each person last said of it."""
    made: dict[str, dict[str, Verdict]] = {}
    for v in record.verdicts:
        made.setdefault(v.item, {})[v.by.casefold()] = v
    return made


def _follow(last: dict[str, dict[str, Verdict]], findings: Sequence[Finding]) -> dict[str, dict[str, Verdict]]:
    """What was said of a finding that is only titled otherwise now is said of that: the one finding of the same code
    about the same. Whether it still holds is asked of what it rests on."""
    here, about = {f"finding:{f.key}" for f in findings}, dict[str, set[str]]()
    for f in findings:
        about.setdefault(f"finding:{f.about}", set()).add(f"finding:{f.key}")
    made = dict(last)
    for key in last:
        if key in here or not key.startswith("finding:"):
            continue
        found = [keys for start, keys in about.items() if key.startswith(start)]
        if len(found) == 1 and len(found[0]) == 1 and not found[0] & set(made):
            made[found[0].pop()] = made.pop(key)
    return made


def _objections(basis: Basis, rest: dict[str, dict[str, Verdict]]) -> list[Looked]:
    """Objections to what was not looked at: it is not there any more, or belongs to another step."""
    made = []
    for key, by in rest.items():
        objections = {who: v for who, v in by.items() if v.verdict == "objected"}
        if objections:
            kind, *more = key.split(":")
            drop = next(iter(more[1:2] if kind == "finding" else more[:1]), "")
            said = next(iter(objections.values())).said or key
            item = Item(key, "gone", drop, Sentence("{said}", {}, {"said": said}), None, None, {})
            made.append(_looked(basis, item, objections))
    return made


def tally_of(
    plan: Plan, a: Assessment, ahead: Sequence[Finding] | None, acts: Sequence[Finding] | None, looked: Sequence[Looked]
) -> Tally:
    """How a plan stands.

    plan: the plan; a: its assessment; ahead, acts: what the whole descent and going through the acts found, None while
    that is not worked out; looked: items with what was said of them
    returns: the three figures; what is said of the plan and holds at a station is counted there, once
    Source: none, counting.
    """
    wide = [f for f in a.findings if f.drops or f.subject.drop]
    groups = (
        [*(f for d in a.drops for f in d.findings), *wide],
        [*(f for f in a.findings if f not in wide), *(ahead or ())],
        list(acts or ()),
    )
    keys = [{f"finding:{f.key}" for f in some} for some in groups]
    made = []
    for n, some in enumerate(groups):
        own = [x for x in looked if _group(x.item, keys) == n]
        made.append(counts_of(plan, some, own)[""])
    return Tally(Counted(made[0], False), Counted(made[1], ahead is None), Counted(made[2], acts is None))


def more_of(was: Tally, now: Tally) -> dict[str, dict[Severity, int] | None]:
    """How many more are open of each severity, in each of the three figures.

    was, now: how a plan stood and stands
    returns: by the figure's name; None where one of the two is not worked out
    Source: none, counting.
    """
    return {
        name: None if p.pending or q.pending else {s: q.count.open[s] - p.count.open[s] for s in SEVERITIES}
        for (name, p, _), (_, q, _) in zip(was.named, now.named, strict=True)
    }


def _group(item: Item, keys: list[set[str]]) -> int:
    """Which of the three figures an item belongs to: stations, the whole descent, acts."""
    if item.key in keys[1]:
        return 1
    return 2 if item.key in keys[2] or item.key.startswith(("acts:", "act:")) else 0


def counts_of(plan: Plan, findings: Iterable[Finding], looked: Sequence[Looked]) -> dict[str, Count]:
    """How findings stand.

    plan: the plan; findings: any of its; looked: items with what was said of them
    returns: the counts by drop, "" for all
    Source: none, counting.
    """
    by, ids = {x.item.key: x for x in looked}, [d.id for d in plan.drops]
    made = {i: Count(dict.fromkeys(SEVERITIES, 0), dict.fromkeys(SEVERITIES, 0), 0, 0) for i in ("", *ids)}

    def add(drop: str, **more: int) -> None:
        for i in {"", drop} & set(made):
            made[i] = replace(made[i], **{k: getattr(made[i], k) + n for k, n in more.items()})

    for f in findings:
        x = by.get(f"finding:{f.key}")
        accepted = x is not None and x.state == "accepted"
        for i in {"", f.subject.drop} & set(made):
            (made[i].accepted if accepted else made[i].open)[f.severity] += 1
        if x is not None and x.state == "overruled":
            add(f.subject.drop, overruled=1)
    for x in looked:
        if x.state == "objected":
            add(x.item.drop, objections=1)
    return made


def _looked(basis: Basis, item: Item, by: dict[str, Verdict]) -> Looked:
    marks = tuple(
        Mark(v.by, v.at, v.verdict, v.remark, v.revision, basis.changed(v.rests, item.rests, item.key))
        for v in by.values()
        if v.verdict != "withdrawn"
    )
    may = may_be(item)
    # An imported record may say what cannot be said of it.
    held = {m.verdict for m in marks if m.holds and m.verdict in (*may, "objected")}
    ranked: tuple[ItemState, ...] = ("objected", "accepted", "overruled", "agreed")
    return Looked(item, next((s for s in ranked if s in held), "open"), marks, may)


@dataclass(frozen=True, slots=True)
class Said:
    """What somebody says of one item."""

    item: str
    verdict: VerdictKind
    remark: str


def decided(
    items: Sequence[Item], by: str, at: dt.datetime, revision: int, said: Sequence[Said]
) -> tuple[Verdict, ...]:
    """What somebody says of items, as it is kept.

    items: what there is to look at in the revision; by: their name; at: now; revision: which they looked at; said: of
    which item what
    returns: the verdicts
    raises: PlanError naming the field: an item that is not there, a verdict that cannot be given of it, no reason
    Source: J, our judgement.
    """
    known = {i.key: i for i in items}
    made = []
    for n, s in enumerate(said):
        item = known.get(s.item)
        if item is None:
            raise PlanError(f"verdicts/{n}/item", "it is not part of this revision")
        if s.verdict not in may_be(item):
            what = (
                "a shortfall is overruled, never accepted"
                if item.severity == "Shortfall"
                else f"it cannot be {s.verdict}"
            )
            raise PlanError(f"verdicts/{n}/verdict", what)
        if s.verdict in REASONED and not s.remark.strip():
            raise PlanError(f"verdicts/{n}/remark", f"it is {s.verdict} with a reason, and none is given")
        made.append(
            Verdict(
                item=s.item,
                by=by,
                at=at,
                verdict=s.verdict,
                remark=s.remark,
                revision=revision,
                said=words(item.title)[:300],
                rests=item.rests if s.verdict != "withdrawn" else {},
            )
        )
    return tuple(made)
