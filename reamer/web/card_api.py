"""The card, its pages, and cards shown to phones in the room, over HTTP."""

from __future__ import annotations

import datetime as dt
from contextlib import closing
from typing import Literal

import segno
from flask import Flask, Response, current_app, request
from pydantic import BaseModel

from reamer.core.errors import PlanError
from reamer.core.plan.correction import Handed
from reamer.desk.desk import Desk
from reamer.desk.home import keep
from reamer.desk.papers import Wanted, card_of, count_pages, page, paper
from reamer.formats.html import html
from reamer.web.base import Body, bp, desk, download, file_name, in_units, settings
from reamer.web.endpoints import endpoint
from reamer.web.settings import card_parts
from reamer.web.share import Shared, Shown


def init_app(app: Flask) -> None:
    """Wire the cards into the app: which are shown to phones in the room, and where goes what they hand back."""

    def came(shown: Shown, handed: Handed, sealed: bool) -> None:
        """It waits until somebody at the desk accepts it."""
        with closing(Desk(app.config["REAMER"].database, app.extensions["memory"])) as at:
            keep(at, shown.plan, handed, "room", sealed)

    app.extensions["shared"] = Shared(app.config["REAMER"].share, came)


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


class CardPages(BaseModel):
    """How many pages a card has on paper."""

    pages: int


def _wanted() -> Wanted:
    drops = tuple(d for d in request.args.get("drops", "").split(",") if d)
    return Wanted(in_units(), request.args.get("paper", "a5"), drops, request.args.get("who", ""))


@bp.get("/plans/<plan_id>/revisions/<int:revision>/card.<form>")
def card_file(plan_id: str, revision: int, form: str) -> Response:
    """The card as PDF, or as one HTML file; ``?units=us`` for US units; of a PDF ``?paper=a5`` or a4, and ``?drops=``
    names those whose pages are wanted, ``?who=`` the one person whose acts are."""
    if form not in ("pdf", "html"):
        raise PlanError("form", "a card is written as pdf or html")
    name = f"{file_name(desk().plans.text(plan_id)[0], 'card')}.{form}"
    if form == "html":
        made = card_of(desk(), plan_id, revision, in_units())
        return download(html(made, *card_parts(settings().static)), "text/html; charset=utf-8", name)
    return download(paper(desk(), plan_id, revision, _wanted()), "application/pdf", name)


@endpoint(bp, "GET", "/plans/<plan_id>/revisions/<int:revision>/card/pages", CardPages)
def list_pages(plan_id: str, revision: int) -> CardPages:
    """How many pages a card has on paper; it is asked for as its PDF is."""
    return CardPages(pages=count_pages(paper(desk(), plan_id, revision, _wanted())))


@bp.get("/plans/<plan_id>/revisions/<int:revision>/card/pages/<int:n>.png")
def card_page(plan_id: str, revision: int, n: int) -> Response:
    """One page of a card as it is printed, from 1, as a picture; it is asked for as its PDF is."""
    return Response(page(paper(desk(), plan_id, revision, _wanted()), n), content_type="image/png")


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
    made = card_of(desk(), plan_id, body.revision, body.units)
    return _shown(*_shared().show(made, body.minutes, html(made, *card_parts(settings().static), room=True)))


@endpoint(bp, "DELETE", "/share/<shown_id>")
def end_shared(shown_id: str) -> None:
    """Show a card no longer."""
    _shared().end(shown_id)
