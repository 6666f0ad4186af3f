"""Plans over HTTP: list, open, save, undo, preview, workings, bin."""

from __future__ import annotations

import datetime as dt
import hashlib
import json
import logging
import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import asdict, dataclass, field, replace
from typing import Annotated, Any, Literal

from flask import Blueprint, Flask, Response, current_app, g, request
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from reamer.core.anchor.courtesy import CourtesyWay, courtesy_ways
from reamer.core.anchor.patterns import PatternRow
from reamer.core.answer.context import Context, context
from reamer.core.answer.findings import Fix
from reamer.core.answer.say import Number, UnitSystem
from reamer.core.answer.working import Working
from reamer.core.assess import Assessment, Kept, assess_by_parts, workings_of
from reamer.core.descent.bought import ToBuy, to_buy
from reamer.core.descent.choice import Adoption
from reamer.core.descent.field import Cell
from reamer.core.descent.harder import longer
from reamer.core.descent.prospect import Known, Prospect, adopted, prospect
from reamer.core.descent.sets import Cancelled
from reamer.core.descent.stations import Stations
from reamer.core.errors import PlanError
from reamer.core.gear.along import going_along
from reamer.core.gear.findings import recorded
from reamer.core.model import MOST_DROPS, NO_GEAR, POLICY_SETS, Drop, Gear, Name, Plan, Record, Shed
from reamer.core.offers import OfferedActs, offers
from reamer.core.people.attachment import Grip
from reamer.core.people.backups import Option
from reamer.core.plan.gear import GearFile
from reamer.core.plan.kit import Difference, differences
from reamer.core.plan.parts import parts_of
from reamer.core.reading import MOST_BYTES, beside, read_file
from reamer.core.rehearsal.faults import Fault
from reamer.core.rehearsal.play import Play
from reamer.core.rehearsal.quiz import QuizQuestion
from reamer.core.rehearsal.rehearsal import (
    Broken,
    Matrix,
    Rehearsal,
    StateView,
    StationRun,
    backups_at,
    broken_at,
    gone_through,
    grip_as,
    matrix_of,
    mended,
    quiz_of,
    rehearsal,
    state_of,
    station_run,
    what_if,
)
from reamer.core.retrieval.curve import Curve
from reamer.core.schools import CHOICES, School, schools
from reamer.core.second.check import Standing, Tally, standing
from reamer.core.second.ruled import Ruled, by_rule, rules, said_of
from reamer.core.section.meaning import MeaningfulDrop, MeaningfulPlan
from reamer.core.station.comparison import Comparison
from reamer.core.station.drop import assess_drop, compare_patterns, pull_curve
from reamer.core.station.state import DropAssessment
from reamer.core.tables import NAMES, KnotGuide, Question, Row, knot_guide, patterns, questions, replaceable, table
from reamer.demos import DEMOS
from reamer.figures.attachment import attachment
from reamer.figures.overview import overview
from reamer.figures.svg import png
from reamer.kits import UsualKit, usual_kits
from reamer.store.backup import generation
from reamer.store.database import connect, transaction
from reamer.store.gear import Gears
from reamer.store.plans import Head, NoSuchRevision, Plans, RevisionRow
from reamer.store.record import Records, fits
from reamer.store.said import Sayings
from reamer.store.shed import ShedHead, Sheds
from reamer.web.endpoints import endpoint, openapi

bp = Blueprint("plans", __name__, url_prefix="/api")


class Body(BaseModel):
    """Base of request bodies."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class Empty(Body):
    """Start with nothing but a title, and the choices of canyons or of multi-pitch climbs."""

    kind: Literal["empty"]
    title: Name
    style: Literal["canyon", "multi-pitch"] = "canyon"


class FromDemo(Body):
    """Start with a demonstration plan."""

    kind: Literal["demo"]
    name: str


class FromFile(Body):
    """Start with a plan file's content."""

    kind: Literal["file"]
    plan: dict[str, Any]


class CopyOf(Body):
    """Start with a copy of another plan."""

    kind: Literal["copy"]
    of: str


class PartsOf(Body):
    """Start with some of another plan: its drops, its kit, its party."""

    kind: Literal["parts"]
    of: str
    title: Name
    parts: list[Literal["drops", "kit", "party"]] = Field(min_length=1, max_length=3)


class ArchiveBody(Body):
    """Whether a plan is put aside."""

    aside: bool


class CreateBody(Body):
    """What a new plan starts from."""

    source: Annotated[Empty | FromDemo | FromFile | CopyOf | PartsOf, Field(discriminator="kind")]


class SaveBody(Body):
    """An edited plan and the revision it was made from."""

    revision: int
    plan: MeaningfulPlan


class StepBody(Body):
    """The revision to step from."""

    revision: int


class RenameBody(Body):
    """A new title and the revision it was made from."""

    revision: int
    title: Name


class PreviewBody(Body):
    """A drop as it would be, in the plan's saved revision."""

    revision: int
    index: int = Field(ge=0)
    drop: MeaningfulDrop


class TriedBody(Body):
    """A plan as it would be, beside one of its saved revisions."""

    revision: int
    plan: MeaningfulPlan


class PlanView(BaseModel):
    """A plan as it stands, with its assessment, without acts: those are tried out when they are asked for.
    ``standing``: how it stands, and its findings of which a second person said something; ``ruled``: what the rules
    say anew of it, until that is read."""

    id: str
    revision: int
    saved_at: str
    what: str
    can_undo: bool
    can_redo: bool
    plan: Plan
    assessment: Assessment
    standing: Standing
    ruled: list[Ruled]


class ListedPlan(BaseModel):
    """A plan in the list or the bin. ``outline``: the rock of all its drops from the first tie down [m], a drop without
    a section as a plumb line; ``tally``: how it stands, None in the bin; ``trouble``: why it cannot be opened, "" if
    it can."""

    id: str
    title: str
    place: str
    on: str | None
    revision: int
    saved_at: str
    what: str
    deleted_at: str | None
    archived_at: str | None
    drops: int
    total_height: Number
    outline: list[tuple[float, float]] = []
    tally: Tally | None = None
    trouble: str = ""


class ShedBody(Body):
    """The common shed edited, and the revision it was made from."""

    revision: int
    shed: Shed


class ShedView(BaseModel):
    """The common shed as it stands, and what one plan's own copy does not have alike."""

    revision: int
    saved_at: str
    what: str
    shed: Shed
    differences: list[Difference]


class TableView(BaseModel):
    """A table of the trade's figures, every value with its source; ``replaceable``: keys of those a plan may put its
    own for."""

    name: str
    title: str
    about: str
    rows: list[Row]
    replaceable: list[str]


@dataclass(frozen=True, slots=True)
class Answered:
    """A revision and its answer; ``read``: its drops by the text they came in as."""

    ctx: Context
    assessment: Assessment
    read: dict[str, Drop] = field(default_factory=dict)


class Progress(BaseModel):
    """How many of a revision's stations have been asked which ropes serve them, and how many there are."""

    done: int
    of: int


class Assessed:
    """Answers by plan and revision, without workings and acts; those used longest ago go when there are too many
    drops."""

    MOST_DROPS = 400

    def __init__(self) -> None:
        self.held: OrderedDict[tuple[str, int], Answered] = OrderedDict()
        self.parts = Kept()
        self.stations = Stations()
        self.asked: dict[str, object] = {}
        # By what they were worked out from, so that an undone edit and a copied plan are gone through already.
        self.runs: OrderedDict[str, tuple[Play, Rehearsal | None]] = OrderedDict()
        self.ahead: OrderedDict[str, Prospect] = OrderedDict()
        self.contents: OrderedDict[tuple[str, int], tuple[Answered, str]] = OrderedDict()
        self.records: dict[str, tuple[int, Record]] = {}
        self.gears: dict[str, tuple[object, Gear]] = {}
        self.thens: dict[str, tuple[int, Assessment]] = {}
        self.lock = threading.Lock()
        # Of which library; the first that asks names it.
        self.generation = ""

    def of(self, library: str) -> Assessed:
        """What is kept of another library: what rests on content alone."""
        if not self.generation:
            self.generation = library
            return self
        made = Assessed()
        made.generation, made.parts, made.stations = library, self.parts, self.stations
        return made

    def get(self, plan_id: str, revision: int) -> Answered | None:
        """What is kept of a revision."""
        with self.lock:
            if (plan_id, revision) in self.held:
                self.held.move_to_end((plan_id, revision))
                return self.held[plan_id, revision]
        return None

    def put(self, plan_id: str, revision: int, plan: Plan, gear: Gear) -> Answered:
        """Assess a revision and keep the answer."""
        made = Answered(context(plan, gear), assess_by_parts(plan, self.parts, gear))
        with self.lock:
            self.held[plan_id, revision] = made
            self.held.move_to_end((plan_id, revision))
            while len(self.held) > 1 and sum(1 + len(a.ctx.plan.drops) for a in self.held.values()) > self.MOST_DROPS:
                self.held.popitem(last=False)
        return made

    def then(self, plan_id: str, number: int, read: Callable[[], Plan]) -> Assessment:
        """An older revision by the rules of now; the last that was asked for of a plan is kept."""
        found = self.thens.get(plan_id)
        if found is None or found[0] != number:
            self.thens[plan_id] = found = (number, assess_by_parts(read(), self.parts))
        return found[1]

    def forget(self) -> None:
        """Forget everything that is known by a plan's number: the library is another."""
        with self.lock:
            self.held.clear()
            self.contents.clear()
            self.records.clear()
            self.gears.clear()
            self.asked.clear()
            self.thens.clear()

    def remember(self, plan_id: str, revision: int, read: dict[str, Drop]) -> None:
        """Keep the drops of a revision as they came in."""
        with self.lock:
            if (plan_id, revision) in self.held:
                self.held[plan_id, revision] = replace(self.held[plan_id, revision], read=read)

    MOST_RUNS = 6

    def content(self, plan_id: str, revision: int, found: Answered) -> str:
        """All that going through a revision rests on, as a digest."""
        with self.lock:
            was = self.contents.get((plan_id, revision))
            if was is None or was[0] is not found:
                text = f"{found.ctx.plan.model_dump_json()}{found.ctx.gear!r}"
                was = self.contents[plan_id, revision] = found, hashlib.sha256(text.encode()).hexdigest()
                self.contents.move_to_end((plan_id, revision))
                while len(self.contents) > 10 * self.MOST_RUNS:
                    self.contents.popitem(last=False)
            return was[1]

    def run(self, plan_id: str, revision: int, found: Answered) -> Play:
        """A revision gone through act by act; what did not change since another revision of it was is taken over."""
        key = self.content(plan_id, revision, found)
        with self.lock:
            if key in self.runs:
                self.runs.move_to_end(key)
                return self.runs[key][0]
            mine = {digest for (of, _), (_, digest) in self.contents.items() if of == plan_id}
            last = next((r for k, (r, _) in reversed(self.runs.items()) if k in mine), None)
        made = gone_through(found.ctx, found.assessment.drops, last)
        self.keep_run(key, made, None)
        return made

    def keep_run(self, key: str, run: Play, got: Rehearsal | None) -> None:
        """Keep what going through a content gave; those asked for longest ago go."""
        with self.lock:
            self.runs[key] = run, got
            self.runs.move_to_end(key)
            while len(self.runs) > self.MOST_RUNS:
                self.runs.popitem(last=False)

    def rehearsed(self, plan_id: str, revision: int) -> Rehearsal | None:
        """What is kept of a revision's rehearsal, as long as its things have been through the same."""
        with self.lock:
            now, (was, key) = self.held.get((plan_id, revision)), self.contents.get((plan_id, revision), (None, ""))
            if was is None or (now is not None and now.ctx.gear is not was.ctx.gear):
                return None
            return self.runs.get(key, (None, None))[1]

    def keep_ahead(self, plan_id: str, revision: int, found: Answered, seen: Prospect) -> None:
        """Keep what lies ahead of a revision."""
        key = self.content(plan_id, revision, found)
        with self.lock:
            self.ahead[key] = seen
            self.ahead.move_to_end(key)
            while len(self.ahead) > 10 * self.MOST_RUNS:
                self.ahead.popitem(last=False)

    def seen_ahead(self, plan_id: str, revision: int, found: Answered) -> Prospect | None:
        """What is kept of what lies ahead of a revision, None where it was not asked for."""
        if not self.ahead:
            return None
        key = self.content(plan_id, revision, found)
        with self.lock:
            return self.ahead.get(key)

    def record(self, plan_id: str, number: int, read: Callable[[str], Record]) -> Record:
        """A plan's record, read again where it has more verdicts than were read before."""
        found = self.records.get(plan_id)
        if found is None or found[0] != number:
            self.records[plan_id] = found = (number, read(plan_id) if number else Record())
        return found[1]

    def gear(self, plan_id: str, state: object, read: Callable[[], Gear]) -> Gear:
        """What a plan's things have been through, read again where anything of it changed."""
        found = self.gears.get(plan_id)
        if found is None or found[0] != state:
            self.gears[plan_id] = found = (state, read())
        return found[1]

    def newest(self, plan_id: str) -> Callable[[], bool]:
        """Whether what is asked of a plan's prospect now is still the last that was asked."""
        mine = self.asked[plan_id] = object()
        return lambda: self.asked.get(plan_id) is mine

    def recall(self, plan_id: str, revision: int) -> Plan | None:
        """The content of a revision that is kept."""
        found = self.get(plan_id, revision)
        return found.ctx.plan if found else None


def init_app(app: Flask) -> None:
    """Wire the plans into the app: one connection a request, assessments of the newest revisions kept."""

    app.extensions["assessed"] = Assessed()

    @app.teardown_appcontext
    def close(_: BaseException | None) -> None:
        conn = g.pop("conn", None)
        if conn is not None:
            conn.close()

    app.register_blueprint(bp)


def _open() -> None:
    """This request's own connection, and which library it reads."""
    if "conn" not in g:
        g.conn = connect(current_app.config["REAMER"].database)
        g.generation = generation(g.conn)


def plans() -> Plans:
    """The store, on this request's own connection."""
    _open()

    def sure(plan_id: str, revision: int, plan: Plan) -> None:
        """Nothing is saved of which no answer can be given; what is said of it is kept with it."""
        found = kept().put(plan_id, revision, plan, gear_of(plan_id, plan))
        Sayings(g.conn).keep(plan_id, revision, rules(), said_of(found.assessment))

    return Plans(g.conn, sure, kept().recall)


def kept() -> Assessed:
    """The assessments that are kept of the library that this request reads: whoever has restored another, here, in
    another server or from the command line."""
    _open()
    found: Assessed = current_app.extensions["assessed"]
    if found.generation != g.generation:
        found = current_app.extensions["assessed"] = found.of(g.generation)
    return found


def renewed() -> None:
    """The library of this request is another from here on."""
    g.generation = generation(plans().conn)


def gear_of(plan_id: str, plan: Plan) -> Gear:
    """What a plan's things have been through, as of today; nothing where none of them has a record."""
    gears, today = Gears(g.conn), dt.date.today()
    state = (today, gears.state())
    whole = kept().gear("", state, lambda: gears.gear(today))
    if came := gears.came(plan_id):
        both = replace(whole, records=(*whole.records, *came))
        whole = kept().gear(plan_id, (state, came), lambda: both)
    return whole if recorded(plan, whole) else NO_GEAR


def answered(plan_id: str, revision: int) -> Answered:
    """A revision with its answer. Raises NoSuchRevision where it is no longer at hand."""
    store, found = plans(), kept().get(plan_id, revision)
    if found is not None:
        gear = gear_of(plan_id, found.ctx.plan)
        return found if found.ctx.gear is gear else kept().put(plan_id, revision, found.ctx.plan, gear)
    head = store.head(plan_id)
    if head.revision != revision:
        raise NoSuchRevision(revision, head.revision)
    return kept().put(plan_id, revision, head.plan, gear_of(plan_id, head.plan))


def assessed(plan_id: str, revision: int) -> tuple[Context, Assessment]:
    """A revision and its assessment. Raises NoSuchRevision where it is no longer at hand."""
    found = answered(plan_id, revision)
    return found.ctx, found.assessment


def stands(plan_id: str, revision: int, found: Answered) -> Standing:
    """How a revision stands, by all that is worked out of it."""
    seen, got = kept().seen_ahead(plan_id, revision, found), kept().rehearsed(plan_id, revision)
    more = (seen.findings if seen is not None else None, got.findings if got is not None else None)
    return standing(found.ctx, found.assessment, record_of(plan_id), *more)


def view_of(head: Head) -> PlanView:
    """A plan as it stands."""
    found, gear = kept().get(head.id, head.revision), gear_of(head.id, head.plan)
    if found is None or found.ctx.gear is not gear:
        found = kept().put(head.id, head.revision, head.plan, gear)
    return PlanView.model_construct(
        id=head.id,
        revision=head.revision,
        saved_at=head.saved_at,
        what=head.what,
        can_undo=head.can_undo,
        can_redo=head.can_redo,
        plan=head.plan,
        assessment=found.assessment,
        standing=stands(head.id, head.revision, found),
        ruled=ruled(head, found),
    )


def ruled(head: Head, found: Answered) -> list[Ruled]:
    """What the rules say anew of a plan since it was last saved under others, until somebody has read it."""
    sayings = Sayings(g.conn)
    if not sayings.has(head.id, head.revision):
        sayings.keep(head.id, head.revision, rules(), said_of(found.assessment))
    before = sayings.other(head.id, rules())
    if before is None:
        return []
    try:
        then = kept().then(head.id, before.number, lambda: plans().at(head.id, before.number))
    except PlanError:
        return []
    made = by_rule(before.keys, then, found.assessment)
    if not made:
        sayings.read(head.id, head.revision, rules(), said_of(found.assessment))
    return list(made)


def file_name(title: str, kind: str) -> str:
    """A plan's title as a file's name."""
    return ("".join(c if c.isascii() and c.isalnum() else "-" for c in title.lower()).strip("-") or "plan") + f".{kind}"


def record_of(plan_id: str) -> Record:
    """Everything that was said of a plan."""
    records = Records(plans().conn)
    return kept().record(plan_id, records.number(plan_id), records.of)


UNKNOWN_M, WALK_M = 6.0, 2.0


def _outline(a: Assessment) -> list[tuple[float, float]]:
    """The rock of all drops one after another, with a short walk between."""
    x, z, made = 0.0, 0.0, [(0.0, 0.0)]
    for d in a.drops:
        some = [] if d.geometry.missing else [(p.x_m, p.z_m) for p in d.geometry.terrain]
        some = some or [(0.0, -UNKNOWN_M)]
        made += [(round(x + px, 1), round(z + pz, 1)) for px, pz in some]
        x, z = x + some[-1][0] + WALK_M, z + some[-1][1]
        made.append((round(x, 1), round(z, 1)))
    return made


def _listed(deleted: bool) -> list[ListedPlan]:
    made = []
    for row in plans().listed(deleted):
        blank = ListedPlan(**asdict(row), place="", on=None, drops=0, total_height=Number(0, "length"))
        if deleted:
            made.append(blank)
            continue
        try:
            found = answered(row.id, row.revision)
            ctx, a = found.ctx, found.assessment
        except PlanError as e:
            made.append(blank.model_copy(update={"trouble": f"It cannot be read: {e}."}))
        except Exception as e:
            # No plan may keep the others from being listed.
            logging.getLogger("reamer").exception("a plan cannot be assessed", exc_info=e)
            made.append(
                blank.model_copy(update={"trouble": "It cannot be worked out: something failed inside Reamer."})
            )
        else:
            made.append(
                blank.model_copy(
                    update={
                        "place": ctx.plan.place,
                        "on": str(ctx.plan.on) if ctx.plan.on else None,
                        "drops": len(a.drops),
                        "total_height": a.total_height,
                        "outline": _outline(a),
                        "tally": stands(row.id, row.revision, found).tally,
                    }
                )
            )
    return made


@endpoint(bp, "GET", "/plans", list[ListedPlan])
def list_plans() -> list[ListedPlan]:
    """Plans in use, newest save first."""
    return _listed(False)


@endpoint(bp, "GET", "/bin", list[ListedPlan])
def list_bin() -> list[ListedPlan]:
    """Plans in the bin."""
    return _listed(True)


@endpoint(bp, "POST", "/plans", PlanView, CreateBody)
def create_plan(body: CreateBody) -> PlanView:
    """Make a plan: empty, from a demonstration, from a file, or as a copy."""
    source = body.source
    if source.kind == "empty":
        return view_of(plans().create(Plan(format=1, title=source.title, policies=POLICY_SETS[source.style])))
    if source.kind == "demo":
        if source.name not in DEMOS:
            raise PlanError("source/name", f"no demonstration {source.name[:40]!r}; there are {', '.join(DEMOS)}")
        return view_of(plans().create(DEMOS[source.name](), "created from the demonstration"))
    if source.kind == "file":
        plan, record, gear = read_file(source.plan)
        fits(record.verdicts)
        head = plans().create(plan, "opened from a file")
        Records(plans().conn).add(head.id, record.verdicts)
        Gears(plans().conn).keep(head.id, gear)
        return view_of(head)
    plan = plans().head(source.of).plan
    made, how = plan.model_copy(update={"title": f"{plan.title[:72]} (copy)"}), f"copied from {plan.title}"
    if source.kind == "parts":
        told = " and ".join(source.parts)
        made, how = parts_of(plan, source.title, source.parts), f"made from the {told} of {plan.title}"
    head = plans().create(made, how)
    Gears(plans().conn).keep(head.id, GearFile(records=Gears(plans().conn).came(source.of)))
    return view_of(head)


class Twin(BaseModel):
    """Whether a file's plan is here already: which plan it is, "" for none, and its title."""

    id: str
    title: str


@endpoint(bp, "POST", "/plans/known", Twin, FromFile)
def known_file(body: FromFile) -> Twin:
    """The plan in use that stood as this file has it, now or in an earlier revision."""
    plan, _, _ = read_file(body.plan)
    found = plans().same_as(plan)
    return Twin(id=found[0], title=found[1]) if found else Twin(id="", title="")


@endpoint(bp, "GET", "/plans/<plan_id>", PlanView)
def open_plan(plan_id: str) -> PlanView:
    """A plan as it stands, with its assessment."""
    return view_of(plans().head(plan_id))


def _known_drops(data: Any, plan_id: str) -> Any:
    """A save's data with the drops that did not change since its revision as they were read then: what is alike needs
    no second validation."""
    match data:
        case {"revision": int(revision), "plan": {"drops": list(drops), **rest}, **more} if len(drops) <= MOST_DROPS:
            # Told apart as text: to Python true is 1, and what is no number must be refused.
            g.drops = [json.dumps(d) for d in drops]
            found = kept().get(plan_id, revision)
            read = found.read if found else {}
            taken = [read.get(text, d) for text, d in zip(g.drops, drops, strict=True)]
            return {"revision": revision, "plan": {"drops": taken, **rest}, **more}
        case _:
            return data


@endpoint(bp, "PUT", "/plans/<plan_id>", PlanView, SaveBody, known=_known_drops)
def save_plan(plan_id: str, body: SaveBody) -> PlanView:
    """Save an edit as a new revision; 409 if it was made from an old one."""
    was = kept().recall(plan_id, body.revision) or plans().head(plan_id).plan
    with transaction(plans().conn):
        head = plans().save(plan_id, body.revision, body.plan)
        Gears(plans().conn).follow(was.shed, head.plan.shed)
    view = view_of(head)
    read = dict(zip(g.get("drops", []), head.plan.drops, strict=True))
    kept().remember(plan_id, head.revision, read)
    return view


@endpoint(bp, "POST", "/plans/<plan_id>/ruled/read", None, Body)
def read_ruled(plan_id: str, body: Body) -> None:
    """Somebody has read what the rules say anew of a plan."""
    head = plans().head(plan_id)
    Sayings(g.conn).read(plan_id, head.revision, rules(), said_of(answered(plan_id, head.revision).assessment))


@endpoint(bp, "PATCH", "/plans/<plan_id>", PlanView, RenameBody)
def rename_plan(plan_id: str, body: RenameBody) -> PlanView:
    """Give a plan another title, as a new revision."""
    plan = plans().head(plan_id).plan
    return view_of(plans().save(plan_id, body.revision, plan.model_copy(update={"title": body.title})))


@endpoint(bp, "DELETE", "/plans/<plan_id>")
def bin_plan(plan_id: str) -> None:
    """Put a plan in the bin."""
    plans().bin(plan_id)


@endpoint(bp, "POST", "/plans/<plan_id>/archive", None, ArchiveBody)
def archive_plan(plan_id: str, body: ArchiveBody) -> None:
    """Put a plan aside, or take it up again; nothing of it is changed."""
    plans().archive(plan_id, body.aside)


@endpoint(bp, "POST", "/bin/<plan_id>/restore", PlanView, Body)
def restore_plan(plan_id: str, body: Body) -> PlanView:
    """Take a plan out of the bin."""
    plans().restore(plan_id)
    return view_of(plans().head(plan_id))


@endpoint(bp, "POST", "/plans/<plan_id>/undo", PlanView, StepBody)
def undo(plan_id: str, body: StepBody) -> PlanView:
    """Step back one edit."""
    return view_of(plans().undo(plan_id, body.revision))


@endpoint(bp, "POST", "/plans/<plan_id>/redo", PlanView, StepBody)
def redo(plan_id: str, body: StepBody) -> PlanView:
    """Step forward one edit."""
    return view_of(plans().redo(plan_id, body.revision))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions", list[RevisionRow])
def list_revisions(plan_id: str) -> list[RevisionRow]:
    """What was saved and when, newest first."""
    return plans().history(plan_id)


@endpoint(bp, "POST", "/plans/<plan_id>/preview", DropAssessment, PreviewBody)
def preview_drop(plan_id: str, body: PreviewBody) -> DropAssessment:
    """One drop as it would be, assessed in the plan's saved revision; nothing is saved."""
    ctx, _ = assessed(plan_id, body.revision)
    if body.index >= len(ctx.plan.drops):
        raise PlanError("index", f"the plan has {len(ctx.plan.drops)} drops")
    return assess_drop(ctx, body.index, body.drop, False)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/offers", list[OfferedActs])
def list_offers(plan_id: str, revision: int) -> list[OfferedActs]:
    """The acts that settle what is said of the plan, each tried out; ``?drop=`` names one whose own are wanted too."""
    ctx, _ = assessed(plan_id, revision)
    drop_id = request.args.get("drop", "")
    if drop_id:
        drop_of(ctx, drop_id, "drop")
    return list(offers(ctx, kept().parts, drop_id))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/workings/<subject>", list[Working])
def list_workings(plan_id: str, revision: int, subject: str) -> list[Working]:
    """The workings behind one drop's numbers, or the shed's (``shed``)."""
    ctx, assessment = assessed(plan_id, revision)
    if subject == "shed":
        return list(workings_of(ctx, assessment, None))
    return list(workings_of(ctx, assessment, drop_of(ctx, subject, "subject")[0]))


def drop_of(ctx: Context, drop_id: str, field: str = "drop_id") -> tuple[int, Drop]:
    """A drop and where it stands in the plan. Raises PlanError naming the field where it is not there."""
    for i, drop in enumerate(ctx.plan.drops):
        if drop.id == drop_id:
            return i, drop
    raise PlanError(field, f"no drop {drop_id[:40]!r} in this plan")


def _state(plan_id: str, revision: int, drop_id: str, which: int) -> tuple[Context, int, Drop]:
    """One drop of a revision whose station has that state."""
    ctx, _ = assessed(plan_id, revision)
    index, drop = drop_of(ctx, drop_id)
    if which >= len(drop.station.states):
        raise PlanError("which", f"the station has {len(drop.station.states)} states")
    return ctx, index, drop


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/patterns/<drop_id>/<int:which>", list[PatternRow])
def list_patterns(plan_id: str, revision: int, drop_id: str, which: int) -> list[PatternRow]:
    """Every pattern round the post of one drop's station, side by side, for one of its states."""
    ctx, _, drop = _state(plan_id, revision, drop_id, which)
    return list(compare_patterns(ctx, drop, which))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/courtesy/<drop_id>", list[CourtesyWay])
def list_courtesy(plan_id: str, revision: int, drop_id: str) -> list[CourtesyWay]:
    """The ways to rig one drop's station as a courtesy rig, with the edits that do so, and back."""
    ctx, _ = assessed(plan_id, revision)
    index, drop = drop_of(ctx, drop_id)
    return list(courtesy_ways(ctx, index, drop))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/pull/<drop_id>/<int:which>", Curve)
def list_pull(plan_id: str, revision: int, drop_id: str, which: int) -> Curve:
    """The whole pull of one drop: force at the hand against rope pulled, for one of its station's states."""
    ctx, index, drop = _state(plan_id, revision, drop_id, which)
    return pull_curve(ctx, index, drop, which)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/systems/<drop_id>/<int:which>", Comparison)
def list_systems(plan_id: str, revision: int, drop_id: str, which: int) -> Comparison:
    """Every rope system the kit allows at one station, side by side, for one of its states."""
    ctx, index, drop = _state(plan_id, revision, drop_id, which)
    return kept().parts.comparison(ctx, index, drop, which)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/serving/<drop_id>", Progress)
def ask_serving(plan_id: str, revision: int, drop_id: str) -> Progress:
    """Ask which ropes serve one station, and keep it: what lies ahead is then quick to say."""
    ctx, _ = assessed(plan_id, revision)
    index, _ = drop_of(ctx, drop_id)
    stations = kept().stations
    stations.of(ctx, index)
    count = len(ctx.plan.drops)
    return Progress(done=sum(stations.known(ctx, k) for k in range(count)), of=count)


def _ahead(plan_id: str, revision: int) -> tuple[Context, Known]:
    ctx, a = assessed(plan_id, revision)
    return ctx, Known(a.drops, a.webbing, a.descent.times)


def ahead_of(plan_id: str, revision: int, going: Callable[[], bool] = lambda: True) -> Prospect:
    """What lies ahead of a revision, worked out once for what it rests on; Cancelled where it is no longer asked."""
    found = answered(plan_id, revision)
    seen = kept().seen_ahead(plan_id, revision, found)
    if seen is None:
        seen = prospect(found.ctx, kept().stations, _ahead(plan_id, revision)[1], going)
        kept().keep_ahead(plan_id, revision, found, seen)
    return seen


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/prospect", Prospect)
def open_prospect(plan_id: str, revision: int) -> Prospect:
    """Which ropes to carry, what if, and the points of no return; a newer question ends this one."""
    try:
        return ahead_of(plan_id, revision, kept().newest(plan_id))
    except Cancelled:
        raise PlanError("revision", "the question was asked anew or taken back") from None


@endpoint(bp, "DELETE", "/plans/<plan_id>/prospect")
def cancel_prospect(plan_id: str) -> None:
    """End the question what lies ahead of a plan."""
    kept().newest(plan_id)
    kept().newest(f"bought {plan_id}")


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/adoption", Adoption)
def open_adoption(plan_id: str, revision: int) -> Adoption:
    """What carrying a set of ropes does to every station, and the act that does it; ``?ropes=`` names them."""
    ctx, _ = _ahead(plan_id, revision)
    named = [r for r in request.args.get("ropes", "").split(",") if r]
    gone = next((r for r in named if r not in ctx.ropes), None)
    if gone is not None or not named:
        raise PlanError("ropes", f"no rope {gone[:40]!r} in this plan's shed" if gone else "no rope is named")
    return adopted(ctx, kept().stations, frozenset(named))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/bought", list[ToBuy])
def open_bought(plan_id: str, revision: int) -> list[ToBuy]:
    """The least total length of one, two and three new ropes that would do; a newer question ends this one."""
    ctx, _ = _ahead(plan_id, revision)
    try:
        return list(to_buy(ctx, kept().newest(f"bought {plan_id}")))
    except Cancelled:
        raise PlanError("revision", "the question was asked anew or taken back") from None


@bp.get("/plans/<plan_id>/revisions/<int:revision>/overview.<form>")
def overview_figure(plan_id: str, revision: int, form: str) -> Response:
    """The whole descent as a figure, in SVG or PNG; ``?units=us`` for US units."""
    if form not in ("svg", "png"):
        raise PlanError("form", "a figure is written as svg or png")
    ctx, a = assessed(plan_id, revision)
    seen = ahead_of(plan_id, revision)
    units: UnitSystem = "us" if request.args.get("units") == "us" else "metric"
    svg = overview(ctx.plan, a, seen, units, record_of(plan_id))
    if form == "svg":
        return Response(svg, content_type="image/svg+xml")
    return Response(png(svg), content_type="image/png")


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/drops/<drop_id>/longer", Cell)
def open_longer(plan_id: str, revision: int, drop_id: str) -> Cell:
    """How much longer a drop may be than it is written, as what if has it."""
    ctx, a = assessed(plan_id, revision)
    k = drop_of(ctx, drop_id)[0]
    return longer(ctx, k, a.drops[k])


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/standing", Standing)
def open_standing(plan_id: str, revision: int) -> Standing:
    """How a revision stands, by all that is worked out of it by now."""
    return stands(plan_id, revision, answered(plan_id, revision))


def through(plan_id: str, revision: int) -> tuple[Context, Play]:
    """A revision gone through act by act."""
    found = answered(plan_id, revision)
    return found.ctx, kept().run(plan_id, revision, found)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal", Rehearsal)
def open_rehearsal(plan_id: str, revision: int) -> Rehearsal:
    """The descent gone through act by act: hazards with begin and end, findings. What ends a hazard is asked of it."""
    found = answered(plan_id, revision)
    run, got = kept().run(plan_id, revision, found), kept().rehearsed(plan_id, revision)
    if got is None:
        got = rehearsal(found.ctx, run, mend=False)
        kept().keep_run(kept().content(plan_id, revision, found), run, got)
    return got


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal/<drop_id>", StationRun)
def open_station_run(plan_id: str, revision: int, drop_id: str) -> StationRun:
    """One station act by act, with who is held by what after each."""
    ctx, run = through(plan_id, revision)
    index, _ = drop_of(ctx, drop_id)
    return station_run(ctx, run, index)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal/<drop_id>/broken", list[Broken])
def list_broken(plan_id: str, revision: int, drop_id: str) -> list[Broken]:
    """Every single fault after every act of a station, worst first."""
    ctx, run = through(plan_id, revision)
    return list(broken_at(ctx, run, drop_of(ctx, drop_id)[0]))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/mending", list[Fix])
def list_mending(plan_id: str, revision: int) -> list[Fix]:
    """The acts that end one hazard and bring no other, at most three, each tried; ``?hazard=`` is its key."""
    ctx, run = through(plan_id, revision)
    made = mended(ctx, run, request.args.get("hazard", ""))
    if made is None:
        raise PlanError("hazard", f"no hazard {request.args.get('hazard', '')[:60]!r} in this revision")
    return list(made)


@endpoint(bp, "POST", "/plans/<plan_id>/rehearsal/<drop_id>/tried", StationRun, TriedBody)
def try_plan(plan_id: str, drop_id: str, body: TriedBody) -> StationRun:
    """One station as it would be gone through with another plan than the saved one; nothing is saved."""
    _, run = through(plan_id, body.revision)
    found = assess_by_parts(body.plan, kept().parts)
    ctx = context(body.plan)
    return station_run(ctx, gone_through(ctx, found.drops, run), drop_of(ctx, drop_id)[0])


def _act(plan_id: str, revision: int, drop_id: str, n: int) -> tuple[Context, Play, int]:
    ctx, run = through(plan_id, revision)
    index, _ = drop_of(ctx, drop_id)
    if not 1 <= n <= len(run.stations[index].acts):
        raise PlanError("act", f"the station has acts 1 to {len(run.stations[index].acts)}, not {n}")
    return ctx, run, index


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal/<drop_id>/acts/<int:n>", StateView)
def open_state(plan_id: str, revision: int, drop_id: str, n: int) -> StateView:
    """The state after one act, from 1: who is held by what, where every rope is, every single fault."""
    ctx, run, index = _act(plan_id, revision, drop_id, n)
    return state_of(ctx, run, index, n - 1)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal/<drop_id>/acts/<int:n>/fault", Fault)
def open_fault(plan_id: str, revision: int, drop_id: str, n: int) -> Fault:
    """What one fault does after one act, from 1; ``?key=`` names it as the state does."""
    ctx, run, index = _act(plan_id, revision, drop_id, n)
    found = what_if(ctx, run, index, n - 1, request.args.get("key", ""))
    if found is None:
        raise PlanError("key", f"no fault {request.args.get('key', '')[:40]!r} can happen there")
    return found


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal/<drop_id>/matrix", Matrix)
def open_matrix(plan_id: str, revision: int, drop_id: str) -> Matrix:
    """The worst that one fault can do to each person after each act of a station."""
    ctx, run = through(plan_id, revision)
    index, _ = drop_of(ctx, drop_id)
    return matrix_of(ctx, run, index)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal/<drop_id>/quiz", list[QuizQuestion])
def list_quiz(plan_id: str, revision: int, drop_id: str) -> list[QuizQuestion]:
    """What the second guide is asked of one station, with the right answers and the reasons."""
    ctx, run = through(plan_id, revision)
    return list(quiz_of(ctx, run, drop_of(ctx, drop_id)[0]))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/grip/<drop_id>/<who>", Grip)
def open_grip(plan_id: str, revision: int, drop_id: str, who: str) -> Grip:
    """A third hand as it would grip with the device elsewhere, ``?device_m=``, and another loop, ``&loop_m=``."""
    ctx, run = through(plan_id, revision)
    index, _ = drop_of(ctx, drop_id)
    figures = []
    for name in ("device_m", "loop_m"):
        try:
            figures.append(float(request.args.get(name, "")))
        except ValueError:
            raise PlanError(name, f"{request.args.get(name, '')[:20]!r} is not a number of metres") from None
    try:
        made = grip_as(ctx, run, index, who, *figures)
    except ValidationError as e:
        wrong = e.errors()[0]
        raise PlanError("device_m" if "device_m" in wrong["loc"] else "loop_m", wrong["msg"]) from None
    if made is None:
        raise PlanError("who", f"nobody {who[:40]!r} with a third hand is in the party")
    return made


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/backups/<drop_id>/<who>", list[Option])
def list_backups(plan_id: str, revision: int, drop_id: str, who: str) -> list[Option]:
    """Every backup for one person at one station, side by side."""
    ctx, _ = assessed(plan_id, revision)
    index, _ = drop_of(ctx, drop_id)
    made = backups_at(ctx, index, who)
    if not made:
        raise PlanError("who", f"nobody {who[:40]!r} is in the party")
    return list(made)


@bp.get("/plans/<plan_id>/revisions/<int:revision>/attachment/<drop_id>/<who>.svg")
def attachment_figure(plan_id: str, revision: int, drop_id: str, who: str) -> Response:
    """One person's attachment at one station, to scale; ``?units=us`` for US units."""
    ctx, run = through(plan_id, revision)
    index, drop = drop_of(ctx, drop_id)
    person, grips = next((p for p in ctx.plan.party if p.id == who), None), run.scene.stages[index].grips.get(who)
    if person is None or not grips:
        raise PlanError("who", f"nobody {who[:40]!r} is in the party")
    svg = attachment(person, grips[-1], drop.name, "us" if request.args.get("units") == "us" else "metric")
    return Response(svg, content_type="image/svg+xml")


@endpoint(bp, "GET", "/questions", list[Question])
def list_questions() -> list[Question]:
    """What to ask of a thing found in place, by what it is."""
    return list(questions())


@endpoint(bp, "GET", "/schools", list[str])
def list_schools() -> list[str]:
    """The keys of the questions on which practitioners disagree, in order."""
    return [key for key, _, _ in CHOICES]


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/schools/<key>", School)
def open_school(plan_id: str, revision: int, key: str) -> School:
    """One question on which practitioners disagree, and what each choice would change in this plan."""
    ctx, assessment = assessed(plan_id, revision)
    made = schools(ctx, assessment, key)
    if not key or not made:
        raise PlanError("key", f"no such question {key[:40]!r}")
    return made[0]


def _shed(head: ShedHead, plan: Plan) -> ShedView:
    return ShedView.model_construct(
        revision=head.revision,
        saved_at=head.saved_at,
        what=head.what,
        shed=head.shed,
        differences=list(differences(plan.shed, head.shed)),
    )


def _sheds() -> Sheds:
    return Sheds(plans().conn)


@endpoint(bp, "GET", "/plans/<plan_id>/shed", ShedView)
def open_shed(plan_id: str) -> ShedView:
    """The common shed, and what this plan's own copy does not have alike."""
    return _shed(_sheds().head(), plans().head(plan_id).plan)


@endpoint(bp, "PUT", "/plans/<plan_id>/shed", ShedView, ShedBody)
def save_shed(plan_id: str, body: ShedBody) -> ShedView:
    """Save the common shed as a new revision; 409 if it was made from an old one. The plan is not changed."""
    plan = plans().head(plan_id).plan
    return _shed(_sheds().save(body.revision, body.shed), plan)


@endpoint(bp, "POST", "/plans/<plan_id>/shed/undo", ShedView, StepBody)
def take_shed_back(plan_id: str, body: StepBody) -> ShedView:
    """Take the last change of the common shed back, as a new revision; 409 if it is no longer the last."""
    plan = plans().head(plan_id).plan
    return _shed(_sheds().take_back(body.revision), plan)


@endpoint(bp, "GET", "/kits", list[UsualKit])
def list_kits() -> list[UsualKit]:
    """Usual kits to start from, everything in them marked as typical."""
    return list(usual_kits())


@endpoint(bp, "GET", "/knots", list[KnotGuide])
def list_knots() -> list[KnotGuide]:
    """What each knot is for, how it unties and how it is dressed."""
    return list(knot_guide())


@endpoint(bp, "GET", "/tables", list[TableView])
def list_tables() -> list[TableView]:
    """Every table with its values and their sources."""
    made = [
        TableView(
            name=n,
            title=t.title,
            about=t.about,
            rows=list(t.rows.values()),
            replaceable=[k for k in t.rows if replaceable(n, k)],
        )
        for n in NAMES
        for t in [table(n)]
    ]
    rows = [
        Row(p.key, p.name, p.carry_low, p.carry_high, "strands that carry", p.tag, p.source, p.notes, p.cited)
        for p in patterns().values()
    ]
    return [
        *made,
        TableView(
            name="patterns",
            title="Patterns round one post",
            about="How many strands carry, low to high.",
            rows=rows,
            replaceable=[],
        ),
    ]


@bp.get("/plans/<plan_id>/file")
def plan_file(plan_id: str) -> Response:
    """The plan as a file, with what was said of it beside it; spaced for reading where it can then be read back."""
    title, body = plans().text(plan_id)
    try:
        plan = plans().head(plan_id).plan
        gear = going_along(plan, gear_of(plan_id, plan))
    except PlanError:
        # What cannot be read can still be had as it is.
        gear = GearFile()
    if more := beside(record_of(plan_id), gear):
        body = json.dumps({**json.loads(body), **more}, ensure_ascii=False)
    name = file_name(title, "reamer")
    spaced = json.dumps(json.loads(body), indent=1, ensure_ascii=False)
    if len(spaced.encode()) <= MOST_BYTES:
        body = spaced
    return Response(
        body, content_type="application/json", headers={"Content-Disposition": f'attachment; filename="{name}.json"'}
    )


@bp.get("/openapi.json")
def openapi_document() -> Response:
    """The OpenAPI document."""
    return Response(json.dumps(openapi()), content_type="application/json")
