"""The common shed and the reference over HTTP: kits, knots, questions, schools, tables."""

from __future__ import annotations

import json

from flask import Response
from pydantic import BaseModel

from reamer.core.model import Plan, Quick, Shed, Shots
from reamer.core.plan.kit import Difference, differences
from reamer.core.schools import CHOICES
from reamer.core.section.shooting import as_shots
from reamer.core.tables import NAMES, KnotGuide, Question, Row, knot_guide, patterns, questions, replaceable, table
from reamer.desk import saves
from reamer.kits import UsualKit, usual_kits
from reamer.store.shed import ShedHead
from reamer.web.base import Body, StepBody, bp, desk
from reamer.web.endpoints import REGISTRY, endpoint, openapi


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


@endpoint(bp, "GET", "/questions", list[Question])
def list_questions() -> list[Question]:
    """What to ask of a thing found in place, by what it is."""
    return list(questions())


@endpoint(bp, "GET", "/schools", list[str])
def list_schools() -> list[str]:
    """The keys of the questions on which practitioners disagree, in order."""
    return [key for key, _, _ in CHOICES]


def _shed(head: ShedHead, plan: Plan) -> ShedView:
    return ShedView.model_construct(
        revision=head.revision,
        saved_at=head.saved_at,
        what=head.what,
        shed=head.shed,
        differences=list(differences(plan.shed, head.shed)),
    )


@endpoint(bp, "GET", "/plans/<plan_id>/shed", ShedView)
def open_shed(plan_id: str) -> ShedView:
    """The common shed, and what this plan's own copy does not have alike."""
    with desk().reading():
        return _shed(desk().sheds.head(), desk().head(plan_id).plan)


@endpoint(bp, "PUT", "/plans/<plan_id>/shed", ShedView, ShedBody)
def save_shed(plan_id: str, body: ShedBody) -> ShedView:
    """Save the common shed as a new revision; 409 if it was made from an old one. The plan is not changed."""
    plan = desk().head(plan_id).plan
    return _shed(saves.save_shed(desk(), body.revision, body.shed), plan)


@endpoint(bp, "POST", "/plans/<plan_id>/shed/undo", ShedView, StepBody)
def take_shed_back(plan_id: str, body: StepBody) -> ShedView:
    """Take the last change of the common shed back, as a new revision; 409 if it is no longer the last."""
    plan = desk().head(plan_id).plan
    return _shed(saves.undo_shed(desk(), body.revision), plan)


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


@endpoint(bp, "POST", "/sections/shots", Shots, Quick)
def section_as_shots(body: Quick) -> Shots:
    """A section in five figures as the shots it is. Nothing is saved."""
    return as_shots(body)


@endpoint(bp, "GET", "/limits", dict[str, int])
def list_limits() -> dict[str, int]:
    """How many bytes a file may have, by the operation that takes it."""
    return {e.name: e.sent.most for e in REGISTRY.values() if e.sent is not None}


@bp.get("/openapi.json")
def openapi_document() -> Response:
    """The OpenAPI document."""
    return Response(json.dumps(openapi()), content_type="application/json")
