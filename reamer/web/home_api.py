"""What comes home from phones, over HTTP: kept, looked at beside the plan, accepted or refused."""

from __future__ import annotations

import base64
import io
from typing import Literal

import zxingcpp
from PIL import Image
from pydantic import BaseModel, Field

from reamer.core.answer.say import Sentence
from reamer.core.errors import PlanError
from reamer.core.onsite.handed import joined, read_handed
from reamer.core.onsite.home import Homecoming
from reamer.desk import saves
from reamer.desk.home import beside_plan, keep
from reamer.desk.views import PlanView
from reamer.store.handed import Came
from reamer.web.base import Body, StepBody, bp, desk
from reamer.web.endpoints import endpoint

MOST_PIXELS = 40_000_000


class HandedBody(Body):
    """What was read from a phone: a file's text, or the codes on its screen, each as it was read."""

    way: Literal["file", "codes"]
    texts: list[str] = Field(min_length=1, max_length=200)


class AcceptBody(Body):
    """Which corrections go into the survey, made from which revision."""

    revision: int
    take: list[str] = Field([], max_length=2000)


class PictureBody(Body):
    """A picture, PNG or JPEG, as base64."""

    picture: str


class CameHome(BaseModel):
    """A hand-back: when and how it came, how it stands, how many corrections it has, and how many of them are in the
    survey by it. ``sealed``: its text is as the phone wrote it."""

    id: str
    at: str
    way: Literal["file", "codes", "room"]
    sealed: bool
    state: Literal["waiting", "accepted", "refused", "undone"]
    by: str
    on: str
    revision: int
    corrections: int
    taken: int


class GivenBack(BaseModel):
    """A plan out of which corrections were taken again, and what stays of them."""

    plan: PlanView
    left: list[Sentence]


class ReadCodes(BaseModel):
    """What a picture of codes says."""

    texts: list[str]


def _row(c: Came) -> CameHome:
    return CameHome(
        id=c.id,
        at=c.at,
        way=c.way,
        sealed=c.sealed,
        state=c.state,
        by=c.handed.by,
        on=c.handed.on.isoformat(),
        revision=c.handed.revision,
        corrections=len(c.handed.corrections),
        taken=len(c.taken),
    )


@endpoint(bp, "GET", "/plans/<plan_id>/handed", list[CameHome])
def list_handed(plan_id: str) -> list[CameHome]:
    """What phones handed back of a plan's cards, newest first."""
    with desk().reading():
        desk().plans.text(plan_id)
        return [_row(c) for c in desk().home.of(plan_id)]


@endpoint(bp, "POST", "/plans/<plan_id>/handed", CameHome, HandedBody)
def hand_in(plan_id: str, body: HandedBody) -> CameHome:
    """Keep what a phone hands back; it waits until it is accepted. The plan is not changed."""
    handed, sealed = read_handed(joined(body.texts))
    return _row(keep(desk(), plan_id, handed, body.way, sealed))


@endpoint(bp, "POST", "/codes", ReadCodes, PictureBody)
def read_codes(body: PictureBody) -> ReadCodes:
    """What the codes say on a picture."""
    try:
        # Its size is told before anything of it is unpacked.
        picture = Image.open(io.BytesIO(base64.b64decode(body.picture, validate=True)), formats=("PNG", "JPEG"))
        big = picture.width * picture.height > MOST_PIXELS
        qr = zxingcpp.BarcodeFormats([zxingcpp.BarcodeFormat.QRCode])
        found = [] if big else zxingcpp.read_barcodes(picture.convert("L"), formats=qr)
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError):
        raise PlanError("picture", "it is not a picture that can be read") from None
    if big:
        raise PlanError("picture", f"it has more than {MOST_PIXELS // 10**6} million points")
    return ReadCodes(texts=[x.text for x in found if x.text])


@endpoint(bp, "GET", "/plans/<plan_id>/handed/<handed_id>", Homecoming)
def open_handed(plan_id: str, handed_id: str) -> Homecoming:
    """One hand-back beside what its card said and what the plan says now."""
    return beside_plan(desk(), plan_id, handed_id)


@endpoint(bp, "POST", "/plans/<plan_id>/handed/<handed_id>/accept", PlanView, AcceptBody)
def accept_handed(plan_id: str, handed_id: str, body: AcceptBody) -> PlanView:
    """Keep a hand-back for the log, and take chosen corrections of it into the survey; all of it or nothing."""
    return saves.accept(desk(), plan_id, handed_id, body.revision, body.take)


@endpoint(bp, "POST", "/plans/<plan_id>/handed/<handed_id>/refuse", CameHome, Body)
def refuse_handed(plan_id: str, handed_id: str, body: Body) -> CameHome:
    """Refuse a hand-back that was not accepted; it can be accepted later."""
    saves.refuse(desk(), plan_id, handed_id)
    return _row(desk().home.one(plan_id, handed_id))


@endpoint(bp, "POST", "/plans/<plan_id>/handed/<handed_id>/undo", GivenBack, StepBody)
def undo_handed(plan_id: str, handed_id: str, body: StepBody) -> GivenBack:
    """Take the acceptance of a hand-back back, out of the survey and out of the log; it waits again."""
    plan, left = saves.give_back(desk(), plan_id, handed_id, body.revision)
    return GivenBack.model_construct(plan=plan, left=list(left))
