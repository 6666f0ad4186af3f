"""The second check, the card, cards shown to phones in the room, and what comes home, over HTTP."""

from __future__ import annotations

import base64
import datetime as dt
import io
import threading
from collections import OrderedDict
from contextlib import closing
from dataclasses import dataclass
from typing import Literal

import segno
import zxingcpp
from flask import Flask, Response, current_app, request
from PIL import Image
from pydantic import BaseModel, Field
from pypdfium2 import PdfDocument

from reamer.core.answer.say import Sentence, UnitSystem
from reamer.core.errors import PlanError
from reamer.core.model import Name, Plan, VerdictKind
from reamer.core.onsite.handed import joined, read_handed
from reamer.core.onsite.home import Homecoming, homecoming, of_this_plan
from reamer.core.onsite.survey import given_back, taken_in
from reamer.core.plan.correction import Handed
from reamer.core.reading import read_plan
from reamer.core.rehearsal.rehearsal import station_run
from reamer.core.second.check import Checked, Said, decided, second_check
from reamer.figures.station import cutaway
from reamer.figures.svg import png
from reamer.formats.card import Answers, Card, Made, card
from reamer.formats.html import html
from reamer.formats.pdf import PAPERS, pdf
from reamer.store.database import connect, transaction
from reamer.store.handed import Came, Homecomings
from reamer.store.plans import Plans, StaleRevision
from reamer.store.record import Records
from reamer.web.endpoints import endpoint
from reamer.web.plans_api import (
    Body,
    PlanView,
    ahead_of,
    assessed,
    bp,
    drop_of,
    file_name,
    kept,
    open_rehearsal,
    plans,
    record_of,
    through,
    view_of,
)
from reamer.web.settings import card_parts
from reamer.web.share import Shared, Shown

MOST_PIXELS, MOST_PAPERS = 40_000_000, 4
DRAWING = threading.Lock()


def init_app(app: Flask) -> None:
    """Wire the cards into the app: which are shown to phones in the room, and where goes what they hand back."""

    def keep(shown: Shown, handed: Handed, sealed: bool) -> None:
        """It waits until the desk accepts it."""
        conn = connect(app.config["REAMER"].database)
        try:
            belongs(shown.plan, Plans(conn).head(shown.plan).plan, handed)
            Homecomings(conn).add(shown.plan, handed, "room", sealed)
        finally:
            conn.close()

    app.extensions["papers"] = OrderedDict()
    app.extensions["shared"] = Shared(app.config["REAMER"].share, keep)


def belongs(plan_id: str, plan: Plan, handed: Handed) -> None:
    """Refuse what was handed back of another plan, or of a day that is yet to come. Raises PlanError."""
    of_this_plan(plan_id, plan, handed)
    # A day ahead of this clock may be today elsewhere.
    if handed.on > dt.date.today() + dt.timedelta(days=1):
        raise PlanError("on", f"{handed.on} is yet to come: is the phone's clock right?")


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


class ShareBody(Body):
    """Which revision's card is shown to phones in the room, in which units, for how many minutes."""

    revision: int
    units: Literal["metric", "us"] = "metric"
    minutes: int = 30


class ShownCard(BaseModel):
    """A card that is shown. ``link`` and its ``code`` to be read from the screen are told once, when it begins."""

    id: str
    plan: str
    title: str
    revision: int
    until: dt.datetime
    link: str = ""
    code: str = ""


class Sharing(BaseModel):
    """Whether cards can be shown to phones in the room, and those that are shown now."""

    on: bool
    cards: list[ShownCard]


class HandedBody(Body):
    """What was read from a phone: a file's text, or the codes on its screen, each as it was read."""

    way: Literal["file", "codes"]
    texts: list[str] = Field(min_length=1, max_length=200)


class AcceptBody(Body):
    """Which corrections go into the survey, made from which revision."""

    revision: int
    take: list[str] = Field([], max_length=2000)


class UndoBody(Body):
    """The revision that a hand-back is given back from."""

    revision: int


class CardPages(BaseModel):
    """How many pages a card has on paper."""

    pages: int


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


def answers_of(plan_id: str, revision: int) -> Answers:
    """Everything that is worked out of a revision, with all that was said of it."""
    ctx, run = through(plan_id, revision)
    found, got = assessed(plan_id, revision)[1], open_rehearsal(plan_id, revision)
    ahead = ahead_of(plan_id, revision)
    runs = tuple(station_run(ctx, run, k) for k in range(len(ctx.plan.drops)))
    checked = second_check(ctx, found, ahead, runs, got, record_of(plan_id))
    return Answers(ctx.plan, found, ahead, got, runs, checked)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/check", Checked)
def open_check(plan_id: str, revision: int) -> Checked:
    """Everything that a second person looks at in a revision, and what was said of it."""
    return answers_of(plan_id, revision).checked


@dataclass(frozen=True, slots=True)
class Wanted:
    """What of a card is wanted: on which paper, in which units, which drops' pages, and whose acts."""

    paper: str
    units: UnitSystem
    drops: tuple[str, ...]
    who: str


def _wanted() -> Wanted:
    paper = request.args.get("paper", "a5")
    if paper not in PAPERS:
        raise PlanError("paper", f"a card is printed on {' or '.join(PAPERS)}, not {paper[:20]!r}")
    drops = tuple(d for d in request.args.get("drops", "").split(",") if d)
    return Wanted(paper, "us" if request.args.get("units") == "us" else "metric", drops, request.args.get("who", ""))


def _card(plan_id: str, revision: int, units: UnitSystem, got: Answers) -> Card:
    saved = next((r.saved_at[:10] for r in plans().history(plan_id) if r.number == revision), "")
    return card(got, units, Made(f"revision {revision}, {saved}", plan_id, revision))


def _paper(plan_id: str, revision: int, wanted: Wanted) -> bytes:
    """The card on paper; the last few that were made are kept, as their pages are looked at one by one."""
    held: OrderedDict[object, bytes] = current_app.extensions["papers"]
    # What was said of it is printed too.
    key = (plan_id, revision, len(record_of(plan_id).verdicts), wanted)
    if key not in held:
        got = answers_of(plan_id, revision)
        gone = next((d for d in wanted.drops if all(d != x.id for x in got.plan.drops)), None)
        if gone is not None:
            raise PlanError("drops", f"no drop {gone[:40]!r} in this revision")
        person = next(((p.id, p.name) for p in got.plan.party if p.id == wanted.who), None)
        if wanted.who and person is None:
            raise PlanError("who", f"nobody {wanted.who[:40]!r} is in the party")
        made = pdf(_card(plan_id, revision, wanted.units, got), wanted.paper, wanted.drops, person)
        with kept().lock:
            held[key] = made
            while len(held) > MOST_PAPERS:
                held.popitem(last=False)
        return made
    return held[key]


@bp.get("/plans/<plan_id>/revisions/<int:revision>/card.<form>")
def card_file(plan_id: str, revision: int, form: str) -> Response:
    """The card as PDF, or as one HTML file; ``?units=us`` for US units; of a PDF ``?paper=a5`` or a4, and ``?drops=``
    names those whose pages are wanted, ``?who=`` the one person whose acts are."""
    if form not in ("pdf", "html"):
        raise PlanError("form", "a card is written as pdf or html")
    title, wanted = plans().text(plan_id)[0], _wanted()
    named = {"Content-Disposition": f'attachment; filename="{file_name(title, "card")}.{form}"'}
    if form == "html":
        made = _card(plan_id, revision, wanted.units, answers_of(plan_id, revision))
        written = html(made, *card_parts(current_app.config["REAMER"].static))
        return Response(written, content_type="text/html; charset=utf-8", headers=named)
    return Response(_paper(plan_id, revision, wanted), content_type="application/pdf", headers=named)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/card/pages", CardPages)
def count_pages(plan_id: str, revision: int) -> CardPages:
    """How many pages a card has on paper; it is asked for as its PDF is."""
    paper = _paper(plan_id, revision, _wanted())
    with DRAWING, closing(PdfDocument(paper)) as made:
        return CardPages(pages=len(made))


@bp.get("/plans/<plan_id>/revisions/<int:revision>/card/pages/<int:n>.png")
def card_page(plan_id: str, revision: int, n: int) -> Response:
    """One page of a card as it is printed, from 1, as a picture; it is asked for as its PDF is."""
    paper = _paper(plan_id, revision, _wanted())
    # The library that draws pages is not made for several threads.
    with DRAWING, closing(PdfDocument(paper)) as made:
        if not 1 <= n <= len(made):
            raise PlanError("n", f"the card has pages 1 to {len(made)}, not {n}")
        out = io.BytesIO()
        made[n - 1].render(scale=2).to_pil().save(out, "PNG")
    return Response(out.getvalue(), content_type="image/png")


def _shared() -> Shared:
    found: Shared = current_app.extensions["shared"]
    return found


def _shown(s: Shown, link: str = "") -> ShownCard:
    # The code is dark on light, whatever the screen's theme: some readers want it so.
    code = segno.make(link, error="m").svg_data_uri(scale=6, border=4, light="#ffffff", dark="#000000") if link else ""
    return ShownCard(id=s.id, plan=s.plan, title=s.title, revision=s.revision, until=s.until, link=link, code=code)


@endpoint(bp, "GET", "/share", Sharing)
def list_shared() -> Sharing:
    """The cards that are shown to phones in the room."""
    return Sharing(on=bool(_shared().address), cards=[_shown(s) for s in _shared().shown()])


@endpoint(bp, "POST", "/plans/<plan_id>/share", ShownCard, ShareBody)
def share_card(plan_id: str, body: ShareBody) -> ShownCard:
    """Show a revision's card to phones in the room, under a link that cannot be guessed and expires."""
    got = answers_of(plan_id, body.revision)
    made = card(got, body.units, Made(f"revision {body.revision}", plan_id, body.revision))
    page = html(made, *card_parts(current_app.config["REAMER"].static), room=True)
    return _shown(*_shared().show(made, body.minutes, page))


@endpoint(bp, "DELETE", "/share/<shown_id>")
def end_shared(shown_id: str) -> None:
    """Show a card no longer."""
    _shared().end(shown_id)


@bp.get("/plans/<plan_id>/revisions/<int:revision>/cutaway/<drop_id>.<form>")
def cutaway_figure(plan_id: str, revision: int, drop_id: str, form: str) -> Response:
    """One drop cut through, in SVG or PNG; ``?units=us`` for US units, ``?last=1`` as the last person finds it."""
    if form not in ("svg", "png"):
        raise PlanError("form", "a figure is written as svg or png")
    ctx, a = assessed(plan_id, revision)
    d = a.drops[drop_of(ctx, drop_id)[0]]
    shown = d.last if d.last is not None and request.args.get("last") else d
    svg = cutaway(ctx.plan, shown, "us" if request.args.get("units") == "us" else "metric")
    if form == "svg":
        return Response(svg, content_type="image/svg+xml")
    return Response(png(svg), content_type="image/png")


@endpoint(bp, "POST", "/plans/<plan_id>/check", Checked, CheckBody)
def saychecked_of(plan_id: str, body: CheckBody) -> Checked:
    """Say something of items of the newest revision; 409 where another one is named. The plan is not changed."""
    head = plans().head(plan_id)
    if head.revision != body.revision:
        since = [r for r in plans().history(plan_id) if r.number > body.revision]
        raise StaleRevision(body.revision, head.revision, since)
    items = [x.item for x in answers_of(plan_id, body.revision).checked.looked]
    said = [Said(v.item, v.verdict, v.remark) for v in body.verdicts]
    now = dt.datetime.now(dt.UTC)
    Records(plans().conn).add(plan_id, decided(items, body.by, now, body.revision, said))
    return answers_of(plan_id, body.revision).checked


def _home() -> Homecomings:
    return Homecomings(plans().conn)


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
    plans().head(plan_id)
    return [_row(c) for c in _home().of(plan_id)]


@endpoint(bp, "POST", "/plans/<plan_id>/handed", CameHome, HandedBody)
def hand_in(plan_id: str, body: HandedBody) -> CameHome:
    """Keep what a phone hands back; it waits until it is accepted. The plan is not changed."""
    plan = plans().head(plan_id).plan
    handed, sealed = read_handed(joined(body.texts))
    belongs(plan_id, plan, handed)
    return _row(_home().one(plan_id, _home().add(plan_id, handed, body.way, sealed)))


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
    came, head = _home().one(plan_id, handed_id), plans().head(plan_id)
    others = [(c.handed, c.state == "accepted") for c in _home().of(plan_id) if c.state in ("accepted", "waiting")]
    return homecoming(plan_id, head.plan, assessed(plan_id, head.revision)[1], came.handed, others)


def _stale(plan_id: str, revision: int) -> None:
    newest = plans().head(plan_id).revision
    if newest != revision:
        raise StaleRevision(revision, newest, [r for r in plans().history(plan_id) if r.number > revision])


@endpoint(bp, "POST", "/plans/<plan_id>/handed/<handed_id>/accept", PlanView, AcceptBody)
def accept_handed(plan_id: str, handed_id: str, body: AcceptBody) -> PlanView:
    """Keep a hand-back for the log, and take chosen corrections of it into the survey; all of it or nothing."""
    came = _home().one(plan_id, handed_id)
    _stale(plan_id, body.revision)
    plan, taken = taken_in(plans().head(plan_id).plan, came.handed, body.take)
    with transaction(plans().conn):
        head = plans().save(plan_id, body.revision, read_plan(plan.model_dump(mode="json")))
        _home().act(plan_id, handed_id, "accepted", taken)
    return view_of(head)


@endpoint(bp, "POST", "/plans/<plan_id>/handed/<handed_id>/refuse", CameHome, Body)
def refuse_handed(plan_id: str, handed_id: str, body: Body) -> CameHome:
    """Refuse a hand-back that was not accepted; it can be accepted later."""
    if _home().one(plan_id, handed_id).state == "accepted":
        raise PlanError("", "it is accepted; undo that first")
    _home().act(plan_id, handed_id, "refused")
    return _row(_home().one(plan_id, handed_id))


@endpoint(bp, "POST", "/plans/<plan_id>/handed/<handed_id>/undo", GivenBack, UndoBody)
def undo_handed(plan_id: str, handed_id: str, body: UndoBody) -> GivenBack:
    """Take the acceptance of a hand-back back, out of the survey and out of the log; it waits again."""
    came = _home().one(plan_id, handed_id)
    if came.state != "accepted":
        raise PlanError("", "it is not accepted")
    _stale(plan_id, body.revision)
    undone = [t for c in _home().of(plan_id) for t in c.before]
    plan, left = given_back(plans().head(plan_id).plan, came.taken, undone)
    with transaction(plans().conn):
        head = plans().save(plan_id, body.revision, read_plan(plan.model_dump(mode="json")))
        _home().act(plan_id, handed_id, "undone")
    return GivenBack.model_construct(plan=view_of(head), left=list(left))
