"""What is worked out of a revision, over HTTP: previews, offers, workings, side by sides, what lies ahead."""

from __future__ import annotations

from flask import Response, request
from pydantic import BaseModel, Field

from reamer.core.anchor.courtesy import CourtesyWay, courtesy_ways
from reamer.core.anchor.patterns import PatternRow
from reamer.core.answer.did import Did
from reamer.core.answer.working import Working
from reamer.core.assess import workings_of
from reamer.core.descent.bought import ToBuy, to_buy
from reamer.core.descent.choice import Adoption
from reamer.core.descent.field import Cell
from reamer.core.descent.harder import longer
from reamer.core.descent.in_hand import InHand
from reamer.core.descent.prospect import Prospect, adopted
from reamer.core.errors import PlanError
from reamer.core.model import Name, VerdictKind
from reamer.core.offers import OfferedActs
from reamer.core.retrieval.curve import Curve
from reamer.core.schools import School, schools
from reamer.core.second.check import Checked, Said, Standing
from reamer.core.section.meaning import MeaningfulDrop
from reamer.core.station.comparison import Comparison
from reamer.core.station.drop import assess_drop, compare_patterns, pull_curve
from reamer.core.station.state import DropAssessment
from reamer.desk import saves
from reamer.desk.memory import UnderWay
from reamer.desk.papers import sheet
from reamer.figures.station import cutaway
from reamer.web.base import Body, bp, desk, figure, in_units, memory
from reamer.web.endpoints import endpoint


class PreviewBody(Body):
    """A drop as it would be, in the plan's saved revision."""

    revision: int
    index: int = Field(ge=0)
    drop: MeaningfulDrop


class Progress(BaseModel):
    """How many of a revision's stations have been asked which ropes serve them, and how many there are."""

    done: int
    of: int


class VerdictBody(Body):
    """What is said of one item, by its key."""

    item: str = Field(max_length=300)
    verdict: VerdictKind
    remark: str = Field("", max_length=1000)


class CheckBody(Body):
    """What somebody says of items of the newest revision."""

    revision: int
    by: Name
    verdicts: list[VerdictBody] = Field(min_length=1, max_length=200)


@endpoint(bp, "POST", "/plans/<plan_id>/preview", DropAssessment, PreviewBody)
def preview_drop(plan_id: str, body: PreviewBody) -> DropAssessment:
    """One drop as it would be, assessed in the plan's saved revision; nothing is saved."""
    found = desk().at(plan_id, body.revision)
    if body.index >= len(found.plan.drops):
        raise PlanError("index", f"the plan has {len(found.plan.drops)} drops")
    return assess_drop(found.ctx, body.index, body.drop, False)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/since/<int:before>", Did)
def open_since(plan_id: str, revision: int, before: int) -> Did:
    """What a revision says otherwise than an earlier one: gone, new, worse, better, still open with other figures."""
    return desk().at(plan_id, revision).since(desk().at(plan_id, before))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/offers", list[OfferedActs])
def list_offers(plan_id: str, revision: int) -> list[OfferedActs]:
    """The acts that settle what is said of the plan, each tried out; ``?drop=`` names one whose own are wanted too."""
    return list(desk().at(plan_id, revision).offers(request.args.get("drop", "")))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/workings/<subject>", list[Working])
def list_workings(plan_id: str, revision: int, subject: str) -> list[Working]:
    """The workings behind one drop's numbers, or the shed's (``shed``)."""
    found = desk().at(plan_id, revision)
    index = None if subject == "shed" else found.drop(subject, "subject")[0]
    return list(workings_of(found.ctx, found.a, index))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/patterns/<drop_id>/<int:which>", list[PatternRow])
def list_patterns(plan_id: str, revision: int, drop_id: str, which: int) -> list[PatternRow]:
    """Every pattern round the post of one drop's station, side by side, for one of its states."""
    found = desk().at(plan_id, revision)
    return list(compare_patterns(found.ctx, found.state(drop_id, which)[1], which))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/courtesy/<drop_id>", list[CourtesyWay])
def list_courtesy(plan_id: str, revision: int, drop_id: str) -> list[CourtesyWay]:
    """The ways to rig one drop's station as a courtesy rig, with the edits that do so, and back."""
    found = desk().at(plan_id, revision)
    return list(courtesy_ways(found.ctx, *found.drop(drop_id)))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/pull/<drop_id>/<int:which>", Curve)
def list_pull(plan_id: str, revision: int, drop_id: str, which: int) -> Curve:
    """The whole pull of one drop: force at the hand against rope pulled, for one of its station's states."""
    found = desk().at(plan_id, revision)
    return pull_curve(found.ctx, *found.state(drop_id, which), which)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/in-hand/<drop_id>", InHand)
def open_in_hand(plan_id: str, revision: int, drop_id: str) -> InHand:
    """What is in hand at one station if its rope sticks, after whatever is pulled of it."""
    return desk().at(plan_id, revision).in_hand(drop_id)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/systems/<drop_id>/<int:which>", Comparison)
def list_systems(plan_id: str, revision: int, drop_id: str, which: int) -> Comparison:
    """Every rope system the kit allows at one station, side by side, for one of its states."""
    return desk().at(plan_id, revision).compared(drop_id, which)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/serving/<drop_id>", Progress)
def ask_serving(plan_id: str, revision: int, drop_id: str) -> Progress:
    """Ask which ropes serve one station, and keep it: what lies ahead is then quick to say."""
    found, stations = desk().at(plan_id, revision), memory().stations
    stations.of(found.ctx, found.drop(drop_id)[0])
    count = len(found.plan.drops)
    return Progress(done=sum(stations.known(found.ctx, k) for k in range(count)), of=count)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/prospect", Prospect)
def open_prospect(plan_id: str, revision: int) -> Prospect:
    """Which ropes to carry, what if, and the points of no return; a newer question ends this one."""
    found, newest, still = desk().at(plan_id, revision), memory().newest(plan_id), desk().going
    return found.ahead(lambda: newest() and still())


@endpoint(bp, "DELETE", "/plans/<plan_id>/prospect")
def cancel_prospect(plan_id: str) -> None:
    """End the question what lies ahead of a plan."""
    memory().end(plan_id)
    memory().end(f"bought {plan_id}")


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/adoption", Adoption)
def open_adoption(plan_id: str, revision: int) -> Adoption:
    """What carrying a set of ropes does to every station, and the act that does it; ``?ropes=`` names them."""
    found = desk().at(plan_id, revision)
    named = [r for r in request.args.get("ropes", "").split(",") if r]
    return adopted(found.ctx, memory().stations, found.ropes(named))


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/bought", list[ToBuy])
def open_bought(plan_id: str, revision: int) -> list[ToBuy]:
    """The least total length of one, two and three new ropes that would do; a newer question ends this one."""
    found, newest, still = desk().at(plan_id, revision), memory().newest(f"bought {plan_id}"), desk().going
    return list(to_buy(found.ctx, lambda: newest() and still()))


@bp.get("/plans/<plan_id>/revisions/<int:revision>/overview.<form>")
def overview_figure(plan_id: str, revision: int, form: str) -> Response:
    """The whole descent as a figure, in SVG or PNG; ``?units=us`` for US units."""
    return figure(form, lambda: sheet(desk().at(plan_id, revision), in_units()))


@bp.get("/plans/<plan_id>/revisions/<int:revision>/cutaway/<drop_id>.<form>")
def cutaway_figure(plan_id: str, revision: int, drop_id: str, form: str) -> Response:
    """One drop cut through, in SVG or PNG; ``?units=us`` for US units, ``?last=1`` as the last person finds it."""

    def made() -> str:
        found = desk().at(plan_id, revision)
        d = found.a.drops[found.drop(drop_id)[0]]
        return cutaway(found.plan, d.last if d.last is not None and request.args.get("last") else d, in_units())

    return figure(form, made)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/drops/<drop_id>/longer", Cell)
def open_longer(plan_id: str, revision: int, drop_id: str) -> Cell:
    """How much longer a drop may be than it is written, as what if has it."""
    found = desk().at(plan_id, revision)
    k = found.drop(drop_id)[0]
    return longer(found.ctx, k, found.a.drops[k])


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/standing", Standing)
def open_standing(plan_id: str, revision: int) -> Standing:
    """How a revision stands, by all that is worked out of it by now."""
    return desk().at(plan_id, revision).standing


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/schools/<key>", School)
def open_school(plan_id: str, revision: int, key: str) -> School:
    """One question on which practitioners disagree, and what each choice would change in this plan."""
    found = desk().at(plan_id, revision)
    made = schools(found.ctx, found.a, key)
    if not key or not made:
        raise PlanError("key", f"no such question {key[:40]!r}")
    return made[0]


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/working", UnderWay | None)
def open_working(plan_id: str, revision: int) -> UnderWay | None:
    """How far what takes long of a revision is, None while nothing does."""
    return memory().working.get(desk().at(plan_id, revision).of.key)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/check", Checked)
def open_check(plan_id: str, revision: int) -> Checked:
    """Everything that a second person looks at in a revision, and what was said of it."""
    return desk().at(plan_id, revision).checked


@endpoint(bp, "POST", "/plans/<plan_id>/check", Checked, CheckBody)
def say_checked(plan_id: str, body: CheckBody) -> Checked:
    """Say something of items of the newest revision; 409 where another one is named. The plan is not changed."""
    said = [Said(v.item, v.verdict, v.remark) for v in body.verdicts]
    return saves.say(desk(), plan_id, body.revision, body.by, said).checked
