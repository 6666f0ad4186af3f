"""The front of the rehearsal: orders, hazards, findings; one station act by act; one state; one fault."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from reamer.core.acts.holding import Held, closed, held, independent
from reamer.core.acts.world import World
from reamer.core.answer.codes import Severity, settled
from reamer.core.answer.context import Context, context, figured
from reamer.core.answer.findings import Finding, Fix, Says, Subject, say, tally, told_of, worst_first
from reamer.core.answer.say import Number, Sentence, listed, run_on, words
from reamer.core.answer.verdict import Verdict
from reamer.core.answer.where import placed
from reamer.core.answer.working import Book
from reamer.core.model import Pause, Person, Plan
from reamer.core.people.attachment import Grip, advised, gripped, knot_high
from reamer.core.people.backups import Option, compare_backups
from reamer.core.rehearsal.faults import HAPPENS, Fault, exposed, faults
from reamer.core.rehearsal.fixes import fixes
from reamer.core.rehearsal.hazards import Hazard, hazards, seen
from reamer.core.rehearsal.moves import Move, moves, to_untie
from reamer.core.rehearsal.picture import Picture
from reamer.core.rehearsal.play import Play, Played, play
from reamer.core.rehearsal.quiz import QuizQuestion, quiz
from reamer.core.rehearsal.schools import KeptChange, SchoolHere, kept_changes, schools_here
from reamer.core.rehearsal.stage import same_but_drops, scene
from reamer.core.rehearsal.vocabulary import Vocable, vocabulary
from reamer.core.rehearsal.words import NEEDS, changes, held_words, met, said, system_words, undone_by
from reamer.core.station.state import DropAssessment
from reamer.core.tables import row

FIRST = 5
RANK = {happens: n for n, happens in enumerate(HAPPENS)}


@dataclass(frozen=True, slots=True)
class HeldBy:
    """One person in one state: where they are, whether a slip is a fall, by how many independent paths they are held,
    and by what."""

    who: str
    place: str
    exposed: bool
    paths: int
    said: Sentence


# What is said of somebody in one state holds in the next for whoever is as they were.
Memo = dict[object, HeldBy]


@dataclass(frozen=True, slots=True)
class ActStep:
    """One act: its words, what must be true before it, why it cannot be done, the act that still takes it back (""
    where none does), and after it: whether the rope is closed, in words too, what must still come out before the pull,
    what has changed, who is held by what, and the picture. ``pause``: everybody stops and somebody looks."""

    key: str
    number: int
    do: str
    who: str
    what: str
    words: Sentence
    needs: str
    own: bool
    added: bool
    refused: Sentence | None
    undone_by: str
    closed: bool | None
    system: Sentence
    to_untie: tuple[str, ...]
    changes: tuple[Sentence, ...]
    pause: Pause | None
    held: tuple[HeldBy, ...]
    shows: Picture


@dataclass(frozen=True, slots=True)
class DraftView:
    """A change of the guide's that does nothing, and why: its place among the station's changes from 0, or the own
    school whose it is, "" where it is the station's."""

    edit: int
    why: Sentence
    school: str


@dataclass(frozen=True, slots=True)
class Span:
    """A hazard as far as it stands at one station: from the act after which it is there to the act that ends it, both
    from 1; ``end`` 0: it is still there when the station is left; ``earlier``: it was there when it was reached."""

    key: str
    code: str
    severity: Severity
    happens: str
    who: str
    title: Sentence
    story: Sentence
    high: Number | None
    begin: int
    end: int
    earlier: bool
    said: bool


@dataclass(frozen=True, slots=True)
class StationRun:
    """One station act by act, and in moves. ``why``: what the rule asks for and cannot be done here; ``barred``: why
    the party does not get there; then its moves are those by rule, and their acts are none of ``steps``; ``spans``:
    the hazards as far as they stand here; ``can``: what can be entered by hand; ``kept``: the changes made here as an
    own school would keep them; ``schools``: the own ones that the plan follows."""

    drop: str
    number: int
    name: str
    order: tuple[str, ...]
    backups: tuple[tuple[str, str, str], ...]
    steps: tuple[ActStep, ...]
    moves: tuple[Move, ...]
    drafts: tuple[DraftView, ...]
    why: tuple[Sentence, ...]
    spans: tuple[Span, ...]
    barred: Sentence | None
    can: tuple[Vocable, ...]
    kept: tuple[KeptChange, ...]
    schools: tuple[SchoolHere, ...]


@dataclass(frozen=True, slots=True)
class HazardView:
    """A hazard: from which act to which (None: to the end of the descent), what happens, how far the fall is, and the
    acts that end it. ``said``: a finding of the plan says it already."""

    key: str
    code: str
    severity: Severity
    happens: str
    who: str
    title: Sentence
    story: Sentence
    high: Number | None
    drop: str
    begin: str
    begin_number: int
    begin_words: Sentence
    end_drop: str
    end: str
    end_number: int
    acts: int
    said: bool
    fixes: tuple[Fix, ...]


@dataclass(frozen=True, slots=True)
class PersonView:
    """How one person is attached: their third hand on the strands of each station, whether the knot for the device sits
    too high, and what suits the stances of the descent."""

    who: str
    grips: tuple[Grip, ...]
    knot_high: bool | None
    advice: tuple[Sentence, ...]


@dataclass(frozen=True, slots=True)
class StationHead:
    """One station in short: how many acts, how many hazards begin there."""

    drop: str
    number: int
    name: str
    acts: int
    hazards: int
    order: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Rehearsal:
    """The whole descent rehearsed. ``first``: what to say aloud first, places among the hazards from 0."""

    stations: tuple[StationHead, ...]
    hazards: tuple[HazardView, ...]
    first: tuple[int, ...]
    people: tuple[PersonView, ...]
    findings: tuple[Finding, ...]
    tally: dict[Severity, int]


@dataclass(frozen=True, slots=True)
class RopeView:
    """Where a rope is in one state, where its ends are, and what is on it from end A to end B, each with its metre."""

    rope: str
    place: str
    end_a: str
    end_b: str
    on: tuple[tuple[Number, str], ...]


@dataclass(frozen=True, slots=True)
class StateView:
    """One state: who is held by what, where every rope is, what must still come out before the pull, and every single
    fault, worst first; accepted single points apart."""

    held: tuple[HeldBy, ...]
    ropes: tuple[RopeView, ...]
    to_untie: tuple[str, ...]
    faults: tuple[Fault, ...]
    accepted: tuple[Fault, ...]


@figured
def gone_through(
    ctx: Context,
    drops: tuple[DropAssessment, ...],
    kept: Play | None = None,
    before_each: Callable[[int], None] = lambda _: None,
) -> Play:
    """Go through the whole descent, to ask of it afterwards.

    ctx: the plan's context; drops: as assessed; kept: another revision's, of which what is alike is taken; before_each:
    called with each station's place, from 0, before it is gone through; what it raises ends it
    returns: every station with its acts and states
    Source: see the functions it calls.
    """
    if kept is not None and not same_but_drops(kept.scene.plan, ctx.plan):
        kept = None
    return play(scene(ctx, drops, kept.scene if kept is not None else None), kept, before_each)


@figured
def hazards_at(ctx: Context, run: Play, k: int) -> int:
    """Look for the hazards of one station, which are kept with the run: what is said of all is then quick to say.

    ctx: the plan's context; run: gone through; k: the station, from 0
    returns: how many states there were to look at
    Source: as for rehearsal.
    """
    return len(run.sights(k))


@figured
def rehearsal(ctx: Context, run: Play, mend: bool = True) -> Rehearsal:
    """What is to be said of a descent that was gone through.

    ctx: the plan's context; run: gone through; mend: whether to look for the acts that end each hazard
    returns: the rehearsal
    Source: P, common practice, no source.
    """
    views = tuple(_view(run, h, mend) for h in run.hazards)
    order = sorted(range(len(views)), key=lambda n: (-run.hazards[n].weight, n))
    found = list[Finding]()
    for view in views:
        if view.said:
            continue
        made = _finding(run, view)
        if view.code == "rehearse.hitch":
            # One third hand is one thing to mend, at however many stations.
            drops = tuple(dict.fromkeys(v.drop for v in views if (v.code, v.who) == (view.code, view.who)))
            if drops[0] != view.drop:
                continue
            made = replace(made, subject=Subject("", f"person.{view.who}"), drops=drops)
        found.append(made)
    found += [*told_of(_people(ctx, run, found)), *told_of(_left_behind(run)), *told_of(_drafts(ctx, run))]
    findings = placed(ctx.plan, worst_first(found))
    heads = tuple(
        StationHead(
            run.scene.stages[p.k].drop.id,
            p.k + 1,
            run.scene.stages[p.k].drop.name,
            len(p.acts),
            sum(run.place(h.begin)[0] == p.k for h in run.hazards),
            tuple(b.who for b in run.scene.stages[p.k].backups),
        )
        for p in run.stations
    )
    people = tuple(_person(ctx, run, p) for p in ctx.plan.party)
    return Rehearsal(heads, views, tuple(order[:FIRST]), people, findings, tally(list(findings)))


@figured
def mended(ctx: Context, run: Play, key: str) -> tuple[Fix, ...] | None:
    """What would end one hazard.

    ctx: the plan's context; run: gone through; key: the hazard's
    returns: the acts, each tried; None where there is no such hazard
    Source: see fixes.
    """
    h = next((h for h in run.hazards if h.seen.key == key), None)
    return None if h is None else fixes(run, h)


def _view(run: Play, h: Hazard, mend: bool) -> HazardView:
    k, n = run.place(h.begin)
    acts, s = run.stations[k].acts, h.seen
    end_drop, end, number = "", "", 0
    if h.end is not None:
        j, m = run.place(h.end)
        end_drop, end, number = run.scene.stages[j].drop.id, run.stations[j].acts[m].key, m + 1
    return HazardView(
        key=s.key,
        code=s.code,
        severity=s.severity,
        happens=s.happens,
        who=s.who,
        title=s.title,
        story=s.story,
        high=s.high,
        drop=run.scene.stages[k].drop.id,
        begin=acts[n].key,
        begin_number=n + 1,
        begin_words=said(run.scene, acts[n]),
        end_drop=end_drop,
        end=end,
        end_number=number,
        acts=h.acts,
        said=s.said,
        fixes=fixes(run, h) if mend else (),
    )


def _finding(run: Play, view: HazardView) -> Finding:
    """A hazard as a finding of the plan; its working is its story."""
    begin = words(view.begin_words)
    begin = begin.replace("Everybody", "everybody", 1) if begin.startswith("Everybody") else begin
    span = f" It begins at act {view.begin_number}: {begin}"
    if view.end:
        place = "" if view.end_drop == view.drop else " of a later station"
        span += f" It ends at act {view.end_number}{place}."
    reason = Sentence(view.story.template + "{span}", view.story.numbers, {**view.story.words, "span": span})
    fix, others = (view.fixes[0], view.fixes[1:]) if view.fixes else (None, ())
    subject = Subject(view.drop, f"act.{view.begin}")
    return Finding(view.code, view.severity, subject, view.title, reason, "", fix, settled(view.code), (), others)


def _people(ctx: Context, run: Play, hazards: list[Finding]) -> Says[None]:
    """Third hands of which nobody knows whether they grip, and knots that sit too high; hazards: already told."""
    blank: dict[str, str] = {}
    odd: dict[str, Verdict] = {}
    crowded = [s for s in run.scene.stages if s.below == "hanging" and s.room is None and len(ctx.plan.party) > 2]
    if crowded:
        n = str(len(ctx.plan.party))
        head = Sentence("Whether all {n} fit at a hanging stance is not known", {}, {"n": n})
        why = Sentence("Nobody has said how many people can stand at the landing.")
        made = Finding("rehearse.full", "Not checked", Subject("", "party"), head, why, "", None)
        drops = tuple(s.drop.id for s in crowded)
        yield replace(made, settled=settled("rehearse.full"), drops=drops)
    for p in ctx.plan.party:
        for stage in run.scene.stages:
            mine = next((b for b in stage.backups if b.who == p.id), None)
            if mine is None or mine.by not in ("third hand", "tandem"):
                continue
            for grip in stage.grips.get(p.id, ()):
                if grip.stand in ("unknown", "none"):
                    blank.setdefault(p.name, grip.why)
                if grip.grips.cause in ("unusual", "wraps", "thick", "HMPE"):
                    odd.setdefault(p.id, grip.grips)
        told = any(f.code == "rehearse.hitch" and f.subject.part == f"person.{p.id}" for f in hazards)
        if p.id in odd and not (told and odd[p.id].holds == "no"):
            yield from _odd(p, odd[p.id])
        if knot_high(ctx, p):
            yield say(
                "attachment.knot",
                "Caution",
                f"person.{p.id}",
                "The knot for {name}’s device sits above half of the sling",
                "On steep ground the tether cannot be unclipped while it is weighted.",
                name=p.name,
            )
    if blank:
        yield say(
            "hitch.unknown",
            "Not checked",
            "party",
            "Whether the third hand of {names} grips and stays clear of the device is not known",
            "Not checked: {why}. In the rehearsal it is taken to grip.",
            names=listed(list(blank)),
            why=next(iter(blank.values())),
        )


def _odd(person: Person, made: Verdict) -> Says[None]:
    """A third hand that does not grip, or whose cord is outside what is common."""
    common, share = row("people", "hitch.cord"), row("people", "hitch.ratio")
    title, why = "{name}’s third hand does not grip", "Because {why}: it holds nobody."
    if made.holds == "no":
        yield say("hitch.grips", "Shortfall", f"person.{person.id}", title, why, name=person.name, why=made.why)
        return
    yield say(
        "hitch.grips",
        "Caution",
        f"person.{person.id}",
        "The cord of {name}’s third hand is unusual for its ropes",
        "Common is {least} to {most}, and {low} to {high} of each strand. Try it under load before it is relied on.",
        name=person.name,
        least=Number(common.low, "diameter"),
        most=Number(common.high, "diameter"),
        low=Number(share.low, "ratio"),
        high=Number(share.high, "ratio"),
    )


def _left_behind(run: Play) -> Says[None]:
    """Ropes that hang when everybody is down, and that nobody pulls."""
    end = run.stations[-1].after if run.stations else None
    told = {h.seen.k for h in run.hazards if h.end is None and h.seen.code in ("rehearse.left", "rehearse.pull")}
    for p in run.stations:
        if end is None or not p.acts or p.k in told or end.top(p.k) or end.riding(p.k):
            continue
        done = end.stations[p.k].done
        if "threaded" in done and not done & {"pulled", "stuck"}:
            title = Sentence("Nobody pulls the rope of station {n}", {}, {"n": str(p.k + 1)})
            reason, by = Sentence("Everybody is down, and it is left behind."), settled("rehearse.pull")
            subject = Subject(run.scene.stages[p.k].drop.id, "acts")
            yield Finding("rehearse.pull", "Shortfall", subject, title, reason, "", None, by)


def _drafts(ctx: Context, run: Play) -> Says[None]:
    """Acts that cannot be done, changes whose act is gone, stations that cannot be rehearsed."""

    def draft_of(k: int, key: str, title: str, reason: str, **named: str) -> Finding:
        subject = Subject(run.scene.stages[k].drop.id, key)
        made = Sentence(title, {}, named), Sentence(reason, {}, named)
        return Finding("rehearse.draft", "Not checked", subject, *made, "", None, settled("rehearse.draft"))

    barred = [p for p in run.stations if p.barred is not None]
    if barred and barred[0].barred is not None:
        drops = tuple(run.scene.stages[p.k].drop.id for p in barred)
        head = Sentence("The party does not get to station {n} with its ropes", {}, {"n": str(barred[0].k + 1)})
        made = Finding("rehearse.none", "Not checked", Subject("", "acts"), head, barred[0].barred, "", None)
        yield replace(made, settled=settled("rehearse.none"), drops=drops)
    for p in run.stations:
        undone = [(a, w) for a, w in zip(p.acts, p.refused, strict=True) if w is not None]
        if undone:
            act, why = undone[0]
            told = words(said(run.scene, act)).rstrip(".")
            n = len(undone) - 1
            more = f" {n} more after it {'stay drafts' if n > 1 else 'stays a draft'} too." if n else ""
            title, reason = "“{act}” cannot be done there", "{why} It stays as a draft.{more}"
            yield draft_of(p.k, f"act.{act.key}", title, reason, act=told, why=words(why), more=more)
        for draft in p.drafts:
            if draft.school:
                name = next(f.school.name for f in p.schools if f.school.id == draft.school)
                title, reason = "“{name}” is not followed whole here", "{why} The rest of it is done."
                yield draft_of(p.k, f"school.{draft.school}", title, reason, name=name, why=words(draft.why))
                continue
            title = "A change of the acts does nothing"
            yield draft_of(p.k, f"edit.{draft.edit}", title, "{why} It stays as a draft.", why=words(draft.why))
        keys = {a.key for a in p.acts}
        lost = [x for x in run.scene.stages[p.k].drop.station.through.pauses if x.act not in keys]
        # Where the party does not get, nobody stops either.
        if lost and p.barred is None:
            title = "Nobody stops where everybody was to stop"
            reason = "The act after which a second person was to look is not part of the order now."
            yield draft_of(p.k, "acts", title, reason)
        for b in run.scene.stages[p.k].backups:
            if b.refused is not None:
                title, reason = "{name} cannot be backed up as chosen", "{why} The order has what the rule has: {by}."
                yield draft_of(
                    p.k, f"backup.{b.who}", title, reason, name=run.scene.name(b.who), by=b.by, why=words(b.refused)
                )
        through, party = run.scene.stages[p.k].drop.station.through, {q.id for q in ctx.plan.party}
        named = [i for i in through.order or () if i not in party]
        named += [b.who for b in through.backups if b.who not in party]
        if named:
            yield draft_of(p.k, "order", "Order or backups name somebody who is not in the party", "They are left out.")
        if not p.acts and p.barred is None:
            subject = Subject(run.scene.stages[p.k].drop.id, "system")
            said_ = Sentence("No rope system is chosen." if ctx.plan.party else "Nobody is in the party.")
            head = Sentence("This station cannot be rehearsed")
            yield Finding("rehearse.none", "Not checked", subject, head, said_, "", None, settled("rehearse.none"))


def _person(ctx: Context, run: Play, p: Person) -> PersonView:
    grips = tuple(g for stage in run.scene.stages for g in stage.grips.get(p.id, ())[-1:])
    stances = dict.fromkeys(stage.stance == "hanging" for stage in run.scene.stages)
    return PersonView(p.id, grips, knot_high(ctx, p), tuple(advised(p, hanging) for hanging in stances))


def _held(run: Play, world: World, by: Held, memo: Memo | None = None) -> tuple[HeldBy, ...]:
    """Everybody in one state. ``memo``: what was said of people in other states, for those who are as they were."""
    made = []
    for who, body in world.people.items():
        found = by[who]
        known = memo.get((who, body, found)) if memo is not None else None
        if known is not None:
            made.append(known)
            continue
        place = {
            "station": f"at station {body.at + 1}",
            "rope": f"on the rope of drop {body.at + 1}",
            "landing": f"at the landing of drop {body.at + 1}",
        }[body.spot]
        out = exposed(run.scene, world, who)
        made.append(HeldBy(who, place, out, independent(found), held_words(run.scene, world, who, found)))
        if memo is not None:
            memo[who, body, found] = made[-1]
    return tuple(made)


@figured
def station_run(ctx: Context, run: Play, k: int) -> StationRun:
    """One station act by act, with who is held by what after each.

    ctx: the plan's context; run: gone through; k: the station, from 0
    returns: the station
    Source: see paths.
    """
    p, stage = run.stations[k], run.scene.stages[k]
    pauses = {x.act: x for x in stage.drop.station.through.pauses}
    by = [held(run.scene, p.before), *(run.held(k, n) for n in range(len(p.acts)))]
    shown, memo = run.pictures(k), Memo()
    steps = tuple(
        _step(run, p, n, pauses.get(p.acts[n].key), by[n : n + 2], shown[n], memo) for n in range(len(p.acts))
    )
    spans = _spans(run, k)
    return StationRun(
        stage.drop.id,
        k + 1,
        stage.drop.name,
        tuple(b.who for b in stage.backups),
        tuple((b.who, b.by, b.helper) for b in stage.backups),
        steps,
        _moves(run, p, spans),
        tuple(DraftView(d.edit, d.why, d.school) for d in p.drafts),
        p.why,
        spans,
        p.barred,
        vocabulary(run.scene, k),
        kept_changes(run, k),
        schools_here(run, k),
    )


def _moves(run: Play, p: Played, spans: tuple[Span, ...]) -> tuple[Move, ...]:
    """A station's moves; those by rule where the party does not get there."""
    if p.barred is not None:
        rule = p.generated
        return moves(run.scene, p.k, rule.before, rule.acts, rule.states)
    begun = [(s.key, s.begin) for s in spans if not s.earlier]
    drafts = {n for n, why in enumerate(p.refused, 1) if why is not None}
    return moves(run.scene, p.k, p.before, p.acts, p.states, begun, drafts)


def _spans(run: Play, k: int) -> tuple[Span, ...]:
    before = {s.key for s in seen(run.scene, run.stations[k].before)} if k else set[str]()
    count = len(run.stations[k].states)
    made = []
    for h in hazards(run.sights(k)):
        s, end = h.seen, 0 if h.end is None else h.end + 1
        earlier = s.key in before
        made.append(
            Span(
                s.key,
                s.code,
                s.severity,
                s.happens,
                s.who,
                s.title,
                s.story,
                s.high,
                h.begin + 1,
                min(end, count),
                earlier,
                s.said,
            )
        )
    return tuple(made)


def _step(run: Play, p: Played, n: int, pause: Pause | None, by: list[Held], shown: Picture, memo: Memo) -> ActStep:
    had, has = by
    act, world = p.acts[n], p.states[n]
    now = world.stations[p.k]
    hangs = "thrown" in now.done and "pulled" not in now.done
    told = said(run.scene, act, world)
    if act.do == "test-pull" and not act.own and p.refused[n] is None:
        told = run_on([told, met(world, p.k)])
    shut = closed(world, now, run.scene.stages[p.k].way(now.which)) if hangs else None
    return ActStep(
        act.key,
        n + 1,
        act.do,
        act.who,
        act.what,
        told,
        NEEDS.get(act.do, ""),
        bool(act.own),
        act.added,
        p.refused[n],
        undone_by(act, world) if p.refused[n] is None else "",
        shut,
        system_words(run.scene, world, p.k, shut),
        to_untie(run.scene, world, p.k),
        changes(run.scene, had, has),
        pause,
        _held(run, world, has, memo),
        shown,
    )


@dataclass(frozen=True, slots=True)
class Broken:
    """Every single fault of one state, worst first; those whose only victim is accepted apart."""

    faults: tuple[Fault, ...]
    accepted: tuple[Fault, ...]


def _broken(run: Play, world: World) -> Broken:
    every = [(f, f.worst) for f in faults(run.scene, world)]
    own = tuple(f for f, worst in every if worst is not None and not worst.accepted)
    return Broken(own, tuple(f for f, worst in every if worst is not None and worst.accepted))


@figured
def broken_at(ctx: Context, run: Play, k: int) -> tuple[Broken, ...]:
    """Every single fault after every act of a station.

    ctx: the plan's context; run: gone through; k: the station, from 0
    returns: the faults, act by act
    Source: see faults.
    """
    return tuple(_broken(run, world) for world in run.stations[k].states)


@figured
def state_of(ctx: Context, run: Play, k: int, n: int) -> StateView:
    """One state: who is held by what, where every rope is, and every single fault tried on it.

    ctx: the plan's context; run: gone through; k: the station; n: after which of its acts, from 0
    returns: the state
    Source: see faults.
    """
    world = run.stations[k].states[n]
    ropes = tuple(
        RopeView(i, r.place, *r.ends, tuple((Number(o.at_m, "length"), o.what) for o in r.on))
        for i, r in world.ropes.items()
        if r.place != "carried" or r.on
    )
    broken = _broken(run, world)
    return StateView(
        _held(run, world, run.held(k, n)), ropes, to_untie(run.scene, world, k), broken.faults, broken.accepted
    )


@figured
def what_if(ctx: Context, run: Play, k: int, n: int, key: str) -> Fault | None:
    """What one fault does in one state.

    ctx: the plan's context; run: gone through; k: the station; n: after which of its acts, from 0; key: the fault's
    returns: the fault with what happens to whom, None where it cannot happen there
    Source: see faults.
    """
    return next((f for f in faults(run.scene, run.stations[k].states[n]) if f.key == key), None)


@dataclass(frozen=True, slots=True)
class Matrix:
    """Acts × people: the worst unaccepted outcome of any single fault after each act, "" where nothing happens to
    them."""

    acts: tuple[str, ...]
    people: tuple[str, ...]
    worst: tuple[tuple[str, ...], ...]


@figured
def matrix_of(ctx: Context, run: Play, k: int) -> Matrix:
    """The worst that one fault can do to each person after each act of a station.

    ctx: the plan's context; run: gone through; k: the station, from 0
    returns: the matrix
    Source: see faults.
    """
    people = tuple(p.id for p in ctx.plan.party)
    rows = []
    for world in run.stations[k].states:
        worst, ranks = dict.fromkeys(people, ""), dict[str, int]()
        for fault in faults(run.scene, world):
            for o in fault.outcomes:
                if not o.accepted and o.who in worst and RANK[o.happens] < ranks.get(o.who, len(RANK)):
                    worst[o.who], ranks[o.who] = o.happens, RANK[o.happens]
        rows.append(tuple(worst[i] for i in people))
    return Matrix(tuple(a.key for a in run.stations[k].acts), people, tuple(rows))


@figured
def quiz_of(ctx: Context, run: Play, k: int) -> tuple[QuizQuestion, ...]:
    """What the second guide is asked of one station.

    ctx: the plan's context; run: gone through; k: the station, from 0
    returns: as quiz
    Source: see quiz.
    """
    return quiz(run, k)


@figured
def grip_as(ctx: Context, run: Play, k: int, who: str, device_m: float, laid_m: float) -> Grip | None:
    """A third hand as it would grip with the device elsewhere and a loop of another length.

    ctx: the plan's context; run: gone through; k: the station, from 0; who: the person's id; device_m: the device's
    lower edge above the belay loop [m]; laid_m: the loop's laid length [m]
    returns: the grip on the strands that are ridden last there; None where they have no third hand
    raises: ValidationError where a figure is out of its bounds
    Source: see gripped.
    """
    person = next((p for p in ctx.plan.party if p.id == who), None)
    if person is None or person.hitch is None:
        return None
    data = ctx.plan.model_dump(mode="json")
    for p in data["party"]:
        if p["id"] == who:
            p["attachment"]["device_m"] = {"kind": "known", "value": device_m, "method": "given"}
    for loop in data["shed"]["loops"]:
        if loop["id"] == person.hitch.loop:
            loop["length_m"] = {"kind": "known", "value": laid_m, "method": "given"}
    made = context(Plan.model_validate(data))
    person = next(p for p in made.plan.party if p.id == who)
    ropes = tuple(ctx.ropes[s.rope] for s in run.scene.stages[k].last.ride if s.rope in ctx.ropes)
    return gripped(made, person, ropes, Book(keeps=False))


@figured
def backups_at(ctx: Context, index: int, who: str) -> tuple[Option, ...]:
    """Every backup for one person at one station, side by side.

    ctx: the plan's context; index: the station, from 0; who: the person's id
    returns: as compare_backups
    Source: P, common practice, no source.
    """
    return compare_backups(ctx, ctx.plan.drops[index], who)
