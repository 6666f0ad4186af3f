"""What would end a hazard: each candidate is tried, and kept only if the hazard is gone and none has come."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from reamer.core.acts.act import Act
from reamer.core.acts.stage import Scene
from reamer.core.answer.context import Context
from reamer.core.answer.findings import Fix
from reamer.core.answer.say import Sentence, words
from reamer.core.answer.working import Book
from reamer.core.model import ActAdded, ActName, BackedUp, BackupKind, GoThrough, Known, Plan
from reamer.core.people.attachment import gripped
from reamer.core.people.backups import KINDS, backups_of, why_not
from reamer.core.plan.edits import PLAN, Edit
from reamer.core.plan.party import order_of
from reamer.core.rehearsal.hazards import Hazard
from reamer.core.rehearsal.play import Play, play
from reamer.core.rehearsal.words import SAID, said, thing

MOST = 3
Candidate = tuple[Sentence, GoThrough]


def fixes(run: Play, hazard: Hazard) -> tuple[Fix, ...]:
    """The acts that end a hazard and bring no other.

    run: the descent as it is gone through; hazard: one of its
    returns: at most three, the guide's own changes taken back first
    Source: P, common practice, no source; each is tried.
    """
    k, _ = run.place(hazard.begin)
    had = {h.seen.key for h in run.hazards}
    # What comes to light at stations that the party did not get to before was there all along.
    reached = sum(p.barred is None for p in run.stations)
    refused = _refused(run, reached)
    made: list[Fix] = []
    for label, through in _candidates(run, hazard, k):
        if any(words(f.label) == words(label) for f in made):
            continue
        after = play(_with(run.scene, k, through), run)
        now = {h.seen.key for h in after.hazards if after.place(h.begin)[0] < reached}
        if hazard.seen.key not in now and now <= had and _refused(after, reached) <= refused:
            made.append(Fix(label, (_edit(k, through),)))
            if len(made) == MOST:
                break
    return (*made, *_kit(run, hazard, had))[:MOST]


def _refused(run: Play, reached: int) -> int:
    """How many acts and changes do nothing, at the first stations."""
    return sum(sum(w is not None for w in p.refused) + len(p.drafts) for p in run.stations[:reached])


def _edit(k: int, through: GoThrough) -> Edit:
    return PLAN.at(lambda plan: plan.drops[k].station.through).set(through)


def _with(scene: Scene, k: int, through: GoThrough) -> Scene:
    """The descent with one station gone through otherwise."""
    stage = scene.stages[k]
    drop = stage.drop.model_copy(update={"station": stage.drop.station.model_copy(update={"through": through})})
    order = {p.id for p in order_of(scene.plan, drop)}
    grips = {i: g for i, g in stage.grips.items() if i in order}
    made = replace(stage, drop=drop, backups=backups_of(scene.ctx, drop), grips=grips)
    return replace(scene, stages=(*scene.stages[:k], made, *scene.stages[k + 1 :]))


def _candidates(run: Play, hazard: Hazard, k: int) -> Iterator[Candidate]:
    scene, through = run.scene, run.scene.stages[k].drop.station.through
    generated = {a.key: a for a in run.stations[k].generated.acts}
    for n, e in enumerate(through.edits):
        if e.kind == "reword":
            continue
        act = (generated.get(e.act) or _whole(run, k, e.act)) if e.kind != "add" else None
        what = _bare(scene, act) if act is not None else "the act that was added"
        label = {"drop": "Put back: {what}", "move": "Back to its place: {what}", "add": "Take out {what}"}[e.kind]
        yield (
            Sentence(label, {}, {"what": what}),
            through.model_copy(update={"edits": (*through.edits[:n], *through.edits[n + 1 :])}),
        )
    for f in run.stations[k].schools:
        if f.edits:
            without = through.model_copy(update={"without": (*through.without, f.school.id)})
            yield Sentence("Do not follow “{name}” here", {}, {"name": f.school.name}), without
    if len(through.edits) > 1:
        yield Sentence("Take back every change of the acts here"), through.model_copy(update={"edits": ()})
    if through.order is not None:
        yield Sentence("Go in the order of the rule"), through.model_copy(update={"order": None})
    who = hazard.seen.who
    own = next((b for b in through.backups if b.who == who), None)
    if own is not None:
        rest = tuple(b for b in through.backups if b.who != who)
        yield (
            Sentence("Back {name} up as the rule has it", {}, {"name": scene.name(who)}),
            through.model_copy(update={"backups": rest}),
        )
    yield from _added(run, hazard, k, through)
    yield from _backed(run, hazard, k, through)


def _whole(run: Play, k: int, key: str) -> Act | None:
    """The one act that a key was, which is now made up of several."""
    part = next((a for a in run.stations[k].generated.acts if a.part_of == key), None)
    named = key.split(":", 3)
    if part is None or len(named) < 4 or named[2] not in SAID:
        return None
    return replace(part, key=key, do=named[2], who=named[1], what=named[3], part_of="")


def _bare(scene: Scene, act: Act) -> str:
    told = words(said(scene, act))
    return told[:-1] if told.endswith(".") else told


ADD: dict[str, tuple[tuple[ActName, str], ...]] = {
    "rehearse.unclipped": (("clip tether", "master"), ("load tether", "")),
    "rehearse.drawn": (("pull back", ""),),
    "rehearse.dropped": (("secure the rope", "clipped"),),
}
UNDONE_BY: dict[str, ActName] = {
    "conversion": "convert",
    "over": "set over the edge",
    "traverse line": "reel in the traverse line",
    "ride line": "untie",
    "line": "pull up the end",
}
LABELS: dict[ActName, str] = {
    "clip tether": "{name} clips the tether first",
    "load tether": "{name} loads the tether first",
    "test": "{name} tests it with the tether in first",
    "pull back": "{name} pulls it back to the ring first",
    "secure the rope": "{name} clips the rope first",
    "convert": "{name} converts the station first",
    "take out": "{name} takes out {what} first",
    "set over the edge": "{name} sets the ring over the edge first",
    "untie": "{name} unties {what} first",
    "tie": "{name} ties {what} first",
    "call": "{name} calls “{what}” first",
    "attend the reserve": "{name} stays at the reserve",
    "reel in the traverse line": "{name} reels in the traverse line first",
    "test-pull": "{name} test-pulls first, and it is pulled back",
    "take tight": "{name} takes it tight first",
    "pull up the end": "{name} pulls {what} up first",
}


def _added(run: Play, hazard: Hazard, k: int, through: GoThrough) -> Iterator[Candidate]:
    """Acts put in before the hazard begins."""
    scene, s = run.scene, hazard.seen
    at, n = run.place(hazard.begin)
    acts = run.stations[k].acts
    if at != k:
        return
    who = s.who or acts[n].who or (scene.plan.party[0].id if scene.plan.party else "")
    last = scene.stages[k].backups[-1].who if scene.stages[k].backups else who
    todo: list[tuple[str, ActName, str]] = [(who, do, what) for do, what in ADD.get(s.code, ())]
    if s.code == "rehearse.untested":
        todo = [(who, "load tether", "")] if s.of == "tether" else [(who, "test", "")]
    elif s.code == "rehearse.end":
        todo = [(who, "tie", f"stopper {key}") for key in s.of.split("+")]
        if s.of == "out":
            todo = [(acts[n].who, "tie", "overhand below")]
    elif s.code == "rehearse.left":
        do = UNDONE_BY.get(s.of, "take out")
        todo = [(last, do, s.of if do in ("take out", "untie", "pull up the end") else "")]
    elif s.code == "rehearse.pull":
        way = scene.stages[k].way(run.stations[k].states[n].stations[k].which)
        if s.of == "stopper" and way.up is not None:
            todo = [(acts[n].who, "untie", f"stopper {way.up.key}")]
        elif s.of == "untold" and way.pull is not None:
            todo = [(last, "call", f"pull {way.pull.key}")]
    elif s.code == "rehearse.water" and s.of == "reserve":
        todo = [(last, "attend the reserve", "")]
    elif s.code == "rehearse.thrown":
        below = run.stations[k].states[n].foot(k, scene.stages[k].walk)
        todo = [(below[0], "call", "clear")] if below else []
    elif s.code == "rehearse.untried":
        below = run.stations[k].states[n].foot(k, scene.stages[k].walk)
        todo = [(below[0], "test-pull", ""), (who, "pull back", "")] if below else []
    elif s.code == "rehearse.slack":
        by = next((x.to for x in run.stations[k].states[n].people[who].links if x.slack_m), "")
        todo = [(by, "take tight", who)] if by else []
    if not todo:
        return
    fresh = _fresh(through)
    named = {"name": scene.name(todo[0][0]), "what": thing(scene, todo[0][2], todo[0][1], k)}
    label = Sentence(LABELS[todo[0][1]], {}, named)
    # Before the hazard begins, and, where that is too late, before each act further back at this station.
    for back in range(n, max(-1, n - 14), -1):
        after, made = acts[back - 1].key if back else "", list[ActAdded]()
        for i, (by, do_, what) in enumerate(todo):
            made.append(ActAdded(kind="add", id=f"{fresh}{i}", after=after, do=do_, who=by, what=what))
            after = f"own:{fresh}{i}"
        yield label, through.model_copy(update={"edits": (*through.edits, *made)})


def _fresh(through: GoThrough) -> str:
    taken = {e.id for e in through.edits if e.kind == "add"}
    return next(f"f{n}-" for n in range(1000) if not any(t.startswith(f"f{n}-") for t in taken))


def _backed(run: Play, hazard: Hazard, k: int, through: GoThrough) -> Iterator[Candidate]:
    """Another backup for the person whom the hazard is about."""
    s, scene = hazard.seen, run.scene
    stage = scene.stages[k]
    if s.code == "rehearse.slab":
        stacked = [b.who for b in stage.backups if b.by == "stacked"]
        clove = tuple(BackedUp(who=i, by="stacked, isolating clove") for i in stacked[:1])
        rest = tuple(b for b in through.backups if b.who not in stacked[:1])
        yield (
            Sentence("Tie an isolating clove at the master point"),
            through.model_copy(update={"backups": (*rest, *clove)}),
        )
    if s.code not in ("rehearse.hand", "rehearse.hitch") or not s.who:
        return
    order = order_of(scene.plan, stage.drop)
    i = next((n for n, p in enumerate(order) if p.id == s.who), None)
    if i is None:
        return
    kinds: list[BackupKind] = [b for b in KINDS if b not in ("none", "tandem", "stacked", "stacked, isolating clove")]
    for by in kinds:
        if why_not(scene.ctx, stage.drop, order, i, by) is None:
            rest = tuple(b for b in through.backups if b.who != s.who)
            named = {"name": scene.name(s.who), "by": by}
            backups = (*rest, BackedUp(who=s.who, by=by))
            yield Sentence("Back {name} up by {by}", {}, named), through.model_copy(update={"backups": backups})


def _kit(run: Play, hazard: Hazard, had: set[str]) -> list[Fix]:
    """A third hand with as many wraps as keep it clear of the device."""
    s, scene = hazard.seen, run.scene
    n = next((i for i, p in enumerate(scene.plan.party) if p.id == s.who), None)
    if s.code != "rehearse.hitch" or n is None:
        return []
    person = scene.plan.party[n]
    hitch = person.hitch
    grips = [g for stage in scene.stages for g in stage.grips.get(s.who, ())]
    fewest = max((g.wraps or 0 for g in grips), default=0)
    if hitch is None or not fewest or any(g.wraps is None for g in grips if g.stand != "unknown"):
        return []
    wraps = Known(kind="known", value=float(fewest), method="given")
    party = tuple(
        p.model_copy(update={"hitch": hitch.model_copy(update={"wraps": wraps})}) if i == n else p
        for i, p in enumerate(scene.plan.party)
    )
    after = play(_anew(scene, scene.plan.model_copy(update={"party": party})))
    now = {h.seen.key for h in after.hazards}
    if s.key in now or not now <= had:
        return []
    edit = PLAN.at(lambda plan: plan.party[n].hitch).set(hitch.model_copy(update={"wraps": wraps}))
    named = {"name": person.name, "n": str(fewest)}
    return [Fix(Sentence("{name} ties the third hand with {n} wraps", {}, named), (edit,))]


def _anew(scene: Scene, plan: Plan) -> Scene:
    """The descent with another party; nothing else of the plan is changed."""
    ctx: Context = replace(scene.ctx, plan=plan)
    stages = tuple(
        replace(
            stage,
            grips={
                p.id: tuple(
                    gripped(ctx, p, tuple(ctx.ropes[s.rope] for s in w.ride if s.rope in ctx.ropes), Book(keeps=False))
                    for w in stage.ways
                )
                for p in plan.party
            },
        )
        for stage in scene.stages
    )
    return replace(scene, ctx=ctx, stages=stages)
