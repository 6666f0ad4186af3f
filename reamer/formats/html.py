"""A card as one file to be carried on a phone: words, figures, script and fonts within, and no request to anywhere."""

from __future__ import annotations

import base64
import hashlib
import re
from dataclasses import asdict
from functools import cache

from jinja2 import Environment, PackageLoader, Template
from markupsafe import Markup

from reamer.core.answer.say import Number, figure, spoken
from reamer.formats.card import Card


def _whole(value: object) -> object:
    """A text in which no figure is parted from its unit at the end of a line."""
    return UNIT.sub("\u00a0", value) if type(value) is str else value


UNIT = re.compile(r"(?<=\d) (?=(?:mm?|kN|N|kg|g|ft|in|lbf?|h|min)\b)")


@cache
def _template() -> Template:
    pages = Environment(
        loader=PackageLoader("reamer.formats"),
        autoescape=True,
        trim_blocks=True,
        lstrip_blocks=True,
        auto_reload=False,
        finalize=_whole,
    )
    return pages.get_template("card.html")


def html(made: Card, script: str, style: str, room: bool = False) -> str:
    """A card as one HTML file.

    made: the card; script, style: the card's own, as they were built; room: it is shown to phones in the room, and what
    they note can be sent to where they have it from
    returns: the file's content
    Source: none, put together with Jinja.
    """
    # Its own end tags are the only way out of script and style.
    if "</script" in script.lower() or "</style" in style.lower():
        raise ValueError("the card's script or style holds an end tag")
    hashed = base64.b64encode(hashlib.sha256(script.encode()).digest()).decode()
    return _template().render(
        card=made,
        room=room,
        unit=figure(Number(0, "length"), made.units)[1],
        length=lambda m, toward="near": spoken(Number(m, "length", toward), made.units),
        data={
            "card": made.id,
            "plan": made.of.plan,
            "title": made.title,
            "revision": made.of.revision,
            "version": made.version,
            "units": made.units,
            "stations": [asdict(s) for s in made.on_site],
        },
        script=Markup(script),
        style=Markup(style),
        hash=Markup(f"'sha256-{hashed}'"),
        drawn=Markup,  # figures are put together as XML, every text in them escaped
    )
