"""Where in a plan a figure was typed: the place that a term of a working names."""

from __future__ import annotations

from reamer.core.answer.say import Quantity
from reamer.core.answer.working import Term
from reamer.core.model import (
    Deviation,
    Device,
    IceThread,
    Loop,
    Person,
    Post,
    Rated,
    Ring,
    Rope,
    Sling,
    Tether,
    Webbing,
)

Thing = Deviation | Device | IceThread | Loop | Person | Post | Rated | Ring | Rope | Sling | Tether | Webbing
# Where things of a kind stand; what is in braces is filled in for the station that asks.
LISTS: dict[type[Thing], str] = {
    Rope: "shed/ropes",
    Webbing: "shed/webbing",
    Sling: "shed/slings",
    Ring: "shed/rings",
    Device: "shed/devices",
    Tether: "shed/tethers",
    Loop: "shed/loops",
    Person: "party",
    Post: "{station}/features",
    Rated: "{station}/features",
    IceThread: "{station}/features",
    Deviation: "{station}/deviations",
}
# The section as a whole: each of its figures.
SECTION = ("{drop}/section",)


def typed(thing: Thing, *fields: str) -> tuple[str, ...]:
    """The places of some fields of a thing.

    thing: of the shed, the party or the station; fields: by their names; those that it does not have are passed over
    when they are looked up
    returns: places, those of the station with braces
    Source: none, a look-up.
    """
    return tuple(f"{LISTS[type(thing)]}/#{thing.id}/{field}" for field in fields)


def of_section(symbol: str, name: str, value: float, quantity: Quantity = "fine length") -> Term:
    """A term that was measured on the section.

    symbol: as in the formula; name: what it is; value: measured [quantity's base unit]; quantity: what it is
    returns: the term, typed with the section's figures
    Source: the section.
    """
    return Term(symbol, name, value, quantity, "section", typed=SECTION)
