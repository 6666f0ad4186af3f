"""Plans over HTTP: list, open, save, undo, bin, file."""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

from flask import Response, request
from pydantic import BaseModel, Field

from reamer.core.errors import PlanError
from reamer.core.gear.along import going_along
from reamer.core.model import POLICY_SETS, Name, Plan
from reamer.core.plan.differences import Changes, Key, changed
from reamer.core.plan.gear import GearFile
from reamer.core.plan.parts import parts_of
from reamer.core.reading import MOST_BYTES, beside, read_file
from reamer.core.section.meaning import MeaningfulPlan
from reamer.demos import DEMOS
from reamer.desk import saves
from reamer.desk.told import written, written_since
from reamer.desk.views import ListedPlan, PlanView, listed, opened, read_ruled, seen
from reamer.store.plans import RevisionRow, Step
from reamer.web.base import Body, StepBody, bp, desk, download, file_name, memory
from reamer.web.endpoints import endpoint, validated


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
    """Start with a plan file's content; ``of``: the plan that it was before it was changed, where that is known."""

    kind: Literal["file"]
    plan: dict[str, Any]
    of: str = ""


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


class PlanStepBody(StepBody):
    """The revision to go on from; key: by which it is known if it is sent again, "" for none; seen: the stamp of the
    view that the asker has, to be told what changed since."""

    key: Key = ""
    seen: Key = ""


class EditBody(PlanStepBody):
    """What changed in a plan since a revision."""

    changes: Changes


class Edited(Body):
    """A plan with changes put into it."""

    plan: MeaningfulPlan


class RenameBody(Body):
    """A new title and the revision it was made from."""

    revision: int
    title: Name


class Twin(BaseModel):
    """Whether a file's plan is here already: which plan it is, "" for none, and its title."""

    id: str
    title: str


@endpoint(bp, "GET", "/plans", list[ListedPlan])
def list_plans() -> list[ListedPlan]:
    """Plans in use, newest save first."""
    return listed(desk())


@endpoint(bp, "GET", "/bin", list[ListedPlan])
def list_bin() -> list[ListedPlan]:
    """Plans in the bin."""
    return listed(desk(), deleted=True)


@endpoint(bp, "POST", "/plans", PlanView, CreateBody)
def create_plan(body: CreateBody) -> PlanView:
    """Make a plan: empty, from a demonstration, from a file, or as a copy."""
    match body.source:
        case Empty(title=title, style=style):
            return saves.begun(desk(), Plan(format=1, title=title, policies=POLICY_SETS[style]))
        case FromDemo(name=name):
            if name not in DEMOS:
                raise PlanError("source/name", f"no demonstration {name[:40]!r}; there are {', '.join(DEMOS)}")
            return saves.create(desk(), DEMOS[name](), "created from the demonstration", origin=f"demo:{name}")
        case FromFile(plan=data, of=of):
            return saves.open_file(desk(), read_file(data), of)
        case CopyOf(of=of):
            return saves.copy(desk(), of, _copied)
        case PartsOf(of=of, title=title, parts=parts):

            def made(plan: Plan) -> tuple[Plan, str]:
                return parts_of(plan, title, parts), f"made from the {' and '.join(parts)} of {plan.title}"

            return saves.copy(desk(), of, made)


def _copied(plan: Plan) -> tuple[Plan, str]:
    return plan.model_copy(update={"title": f"{plan.title[:72]} (copy)"}), f"copied from {plan.title}"


@endpoint(bp, "POST", "/plans/known", Twin, FromFile)
def known_file(body: FromFile) -> Twin:
    """The plan in use that stood as this file has it, now or in an earlier revision."""
    found = desk().plans.same_as(read_file(body.plan).plan)
    return Twin(id=found[0], title=found[1]) if found else Twin(id="", title="")


def _told(view: PlanView, stamp: str) -> Response:
    """A plan as it stands: what changed since the view that the asker has, whole where that is not at hand."""
    had = seen(desk(), view.id, stamp) if stamp else None
    made = written_since(memory(), had, view) if had is not None else written(memory(), view)
    return Response(made, content_type="application/json")


@endpoint(bp, "GET", "/plans/<plan_id>", PlanView | Changes)
def open_plan(plan_id: str) -> Response:
    """A plan as it stands, with its assessment; or what changed since the view with the stamp ``?seen=``."""
    return _told(opened(desk(), plan_id), request.args.get("seen", ""))


@endpoint(bp, "PUT", "/plans/<plan_id>", PlanView, SaveBody)
def save_plan(plan_id: str, body: SaveBody) -> PlanView:
    """Save an edit as a new revision; 409 if it was made from an old one."""
    return saves.save(desk(), plan_id, body.revision, body.plan)


@endpoint(bp, "POST", "/plans/<plan_id>/edits", PlanView | Changes, EditBody)
def edit_plan(plan_id: str, body: EditBody) -> Response:
    """Save what changed since a revision as a new one; 409 if that is not the newest."""

    def make() -> PlanView:
        made = {"plan": changed(desk().newest(plan_id, body.revision).plan, body.changes)}
        plan = validated(Edited.model_validate, made).plan
        return saves.save(desk(), plan_id, body.revision, plan, key=body.key)

    return _told(saves.once(desk(), plan_id, body.key, make), body.seen)


@endpoint(bp, "POST", "/plans/<plan_id>/ruled/read", None, Body)
def read_ruled_plan(plan_id: str, body: Body) -> None:
    """Somebody has read what the rules say anew of a plan."""
    read_ruled(desk(), plan_id)


@endpoint(bp, "PATCH", "/plans/<plan_id>", PlanView, RenameBody)
def rename_plan(plan_id: str, body: RenameBody) -> PlanView:
    """Give a plan another title, as a new revision."""
    return saves.rename(desk(), plan_id, body.revision, body.title)


@endpoint(bp, "DELETE", "/plans/<plan_id>")
def bin_plan(plan_id: str) -> None:
    """Put a plan in the bin."""
    saves.put_in_bin(desk(), plan_id)


@endpoint(bp, "POST", "/plans/<plan_id>/archive", None, ArchiveBody)
def archive_plan(plan_id: str, body: ArchiveBody) -> None:
    """Put a plan aside, or take it up again; nothing of it is changed."""
    saves.archive(desk(), plan_id, body.aside)


@endpoint(bp, "POST", "/bin/<plan_id>/restore", PlanView, Body)
def restore_plan(plan_id: str, body: Body) -> PlanView:
    """Take a plan out of the bin."""
    return saves.unbin(desk(), plan_id)


def _stepped(plan_id: str, body: PlanStepBody, which: Step) -> Response:
    def make() -> PlanView:
        return saves.step(desk(), plan_id, body.revision, which, body.key)

    return _told(saves.once(desk(), plan_id, body.key, make), body.seen)


@endpoint(bp, "POST", "/plans/<plan_id>/undo", PlanView | Changes, PlanStepBody)
def undo(plan_id: str, body: PlanStepBody) -> Response:
    """Step back one edit."""
    return _stepped(plan_id, body, "undo")


@endpoint(bp, "POST", "/plans/<plan_id>/redo", PlanView | Changes, PlanStepBody)
def redo(plan_id: str, body: PlanStepBody) -> Response:
    """Step forward one edit."""
    return _stepped(plan_id, body, "redo")


@endpoint(bp, "GET", "/plans/<plan_id>/revisions", list[RevisionRow])
def list_revisions(plan_id: str) -> list[RevisionRow]:
    """What was saved and when, newest first."""
    return desk().plans.history(plan_id)


@bp.get("/plans/<plan_id>/file")
def plan_file(plan_id: str) -> Response:
    """The plan as a file, with what was said of it beside it; spaced for reading where it can then be read back."""
    with desk().reading():
        title, body = desk().plans.text(plan_id)
        try:
            gear = going_along(desk().plans.head(plan_id).plan, desk().gear(plan_id))
        except PlanError:
            # What cannot be read can still be had as it is.
            gear = GearFile()
        more = beside(desk().records.of(plan_id), gear)
    if more:
        body = json.dumps({**json.loads(body), **more}, ensure_ascii=False)
    spaced = json.dumps(json.loads(body), indent=1, ensure_ascii=False)
    if len(spaced.encode()) <= MOST_BYTES:
        body = spaced
    return download(body, "application/json", f"{file_name(title, 'reamer')}.json")
