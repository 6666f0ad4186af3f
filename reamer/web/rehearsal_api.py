"""The descent gone through act by act, over HTTP."""

from __future__ import annotations

from flask import Response, request
from pydantic import ValidationError

from reamer.core.answer.findings import Fix
from reamer.core.errors import PlanError
from reamer.core.people.attachment import Grip
from reamer.core.people.backups import Option
from reamer.core.rehearsal.faults import Fault
from reamer.core.rehearsal.quiz import QuizQuestion
from reamer.core.rehearsal.rehearsal import (
    Broken,
    Matrix,
    Rehearsal,
    StateView,
    StationRun,
    backups_at,
    broken_at,
    grip_as,
    matrix_of,
    mended,
    quiz_of,
    state_of,
    what_if,
)
from reamer.core.rehearsal.schools import SchoolOver, as_followed, school_over
from reamer.core.section.meaning import MeaningfulPlan
from reamer.desk.worked import Worked
from reamer.figures.attachment import attachment
from reamer.web.base import Body, bp, desk, in_units
from reamer.web.endpoints import endpoint


class TriedBody(Body):
    """A plan as it would be, beside one of its saved revisions."""

    revision: int
    plan: MeaningfulPlan


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal", Rehearsal)
def open_rehearsal(plan_id: str, revision: int) -> Rehearsal:
    """The descent gone through act by act: hazards with begin and end, findings. What ends a hazard is asked of it."""
    return desk().at(plan_id, revision).rehearsal


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal/<drop_id>", StationRun)
def open_station_run(plan_id: str, revision: int, drop_id: str) -> StationRun:
    """One station act by act, with who is held by what after each."""
    return desk().at(plan_id, revision).run(drop_id)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal/<drop_id>/broken", list[Broken])
def list_broken(plan_id: str, revision: int, drop_id: str) -> list[Broken]:
    """Every single fault after every act of a station, worst first."""
    found = desk().at(plan_id, revision)
    return list(broken_at(found.ctx, found.play, found.drop(drop_id)[0]))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/mending", list[Fix])
def list_mending(plan_id: str, revision: int) -> list[Fix]:
    """The acts that end one hazard and bring no other, at most three, each tried; ``?hazard=`` is its key."""
    found = desk().at(plan_id, revision)
    made = mended(found.ctx, found.play, request.args.get("hazard", ""))
    if made is None:
        raise PlanError("hazard", f"no hazard {request.args.get('hazard', '')[:60]!r} in this revision")
    return list(made)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/own-schools/<school>", SchoolOver)
def open_own_school(plan_id: str, revision: int, school: str) -> SchoolOver:
    """What an own school does over the whole descent: where it is followed, the hazards that it brings and ends."""
    found = desk().at(plan_id, revision)
    if all(s.id != school for s in found.plan.shed.own_schools):
        raise PlanError("school", f"no school of your own {school[:40]!r} in this revision")
    both = [desk().as_if(plan_id, as_followed(found.plan, school, on)) for on in (True, False)]
    follows, by_rule = both
    counts = follows.rehearsal.tally, by_rule.rehearsal.tally
    return school_over(follows.ctx, school, (follows.play, by_rule.play), counts)


@endpoint(bp, "POST", "/plans/<plan_id>/rehearsal/<drop_id>/tried", StationRun, TriedBody)
def try_plan(plan_id: str, drop_id: str, body: TriedBody) -> StationRun:
    """One station as it would be gone through with another plan than the saved one; nothing is saved."""
    desk().at(plan_id, body.revision)
    return desk().as_if(plan_id, body.plan).run(drop_id)


def _act(plan_id: str, revision: int, drop_id: str, n: int) -> tuple[Worked, int]:
    found = desk().at(plan_id, revision)
    index, _ = found.drop(drop_id)
    count = len(found.play.stations[index].acts)
    if not 1 <= n <= count:
        raise PlanError("act", f"the station has acts 1 to {count}, not {n}")
    return found, index


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal/<drop_id>/acts/<int:n>", StateView)
def open_state(plan_id: str, revision: int, drop_id: str, n: int) -> StateView:
    """The state after one act, from 1: who is held by what, where every rope is, every single fault."""
    found, index = _act(plan_id, revision, drop_id, n)
    return state_of(found.ctx, found.play, index, n - 1)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal/<drop_id>/acts/<int:n>/fault", Fault)
def open_fault(plan_id: str, revision: int, drop_id: str, n: int) -> Fault:
    """What one fault does after one act, from 1; ``?key=`` names it as the state does."""
    found, index = _act(plan_id, revision, drop_id, n)
    made = what_if(found.ctx, found.play, index, n - 1, request.args.get("key", ""))
    if made is None:
        raise PlanError("key", f"no fault {request.args.get('key', '')[:40]!r} can happen there")
    return made


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal/<drop_id>/matrix", Matrix)
def open_matrix(plan_id: str, revision: int, drop_id: str) -> Matrix:
    """The worst that one fault can do to each person after each act of a station."""
    found = desk().at(plan_id, revision)
    return matrix_of(found.ctx, found.play, found.drop(drop_id)[0])


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/rehearsal/<drop_id>/quiz", list[QuizQuestion])
def list_quiz(plan_id: str, revision: int, drop_id: str) -> list[QuizQuestion]:
    """What the second guide is asked of one station, with the right answers and the reasons."""
    found = desk().at(plan_id, revision)
    return list(quiz_of(found.ctx, found.play, found.drop(drop_id)[0]))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/grip/<drop_id>/<who>", Grip)
def open_grip(plan_id: str, revision: int, drop_id: str, who: str) -> Grip:
    """A third hand as it would grip with the device elsewhere, ``?device_m=``, and another loop, ``&loop_m=``."""
    found = desk().at(plan_id, revision)
    figures = []
    for name in ("device_m", "loop_m"):
        try:
            figures.append(float(request.args.get(name, "")))
        except ValueError:
            raise PlanError(name, f"{request.args.get(name, '')[:20]!r} is not a number of metres") from None
    try:
        made = grip_as(found.ctx, found.play, found.drop(drop_id)[0], who, *figures)
    except ValidationError as e:
        wrong = e.errors()[0]
        raise PlanError("device_m" if "device_m" in wrong["loc"] else "loop_m", wrong["msg"]) from None
    if made is None:
        raise PlanError("who", f"nobody {who[:40]!r} with a third hand is in the party")
    return made


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/backups/<drop_id>/<who>", list[Option])
def list_backups(plan_id: str, revision: int, drop_id: str, who: str) -> list[Option]:
    """Every backup for one person at one station, side by side."""
    found = desk().at(plan_id, revision)
    made = backups_at(found.ctx, found.drop(drop_id)[0], who)
    if not made:
        found.person(who)
    return list(made)


@bp.get("/plans/<plan_id>/revisions/<int:revision>/attachment/<drop_id>/<who>.svg")
def attachment_figure(plan_id: str, revision: int, drop_id: str, who: str) -> Response:
    """One person's attachment at one station, to scale; ``?units=us`` for US units."""
    found = desk().at(plan_id, revision)
    index, drop = found.drop(drop_id)
    found.person(who)
    person, grips = next(p for p in found.plan.party if p.id == who), found.play.scene.stages[index].grips.get(who)
    if not grips:
        raise PlanError("who", f"{person.name} does not ride here")
    return Response(attachment(person, grips[-1], drop.name, in_units()), content_type="image/svg+xml")
