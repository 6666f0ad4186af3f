"""What a knot keeps of what it is tied in, and which knots slip."""

from __future__ import annotations

from reamer.core.answer.findings import Says, say
from reamer.core.answer.say import Number
from reamer.core.model import (
    Bights,
    BlockedCord,
    BlockedSame,
    Doubled,
    ElasticRelease,
    Joined,
    Lowered,
    NoSystem,
    Range,
    Releasable,
    Rope,
    Sling,
    System,
    Webbing,
)
from reamer.core.tables import Row, row, table


def slips(name: str) -> str:
    """Why a knot that closes a loop of HMPE counts for nothing.

    name: of what it is tied in
    returns: the reason in words
    Source: P, table of pull tests.
    """
    return f"an overhand that closes a loop of {name} slips: HMPE is too slippery for it"


def slip_finding(name: str, knot: str, key: str) -> Says[None]:
    """Say that a knot which closes a loop of HMPE slips, and at what.

    name: of what it is tied in; knot: as the tables name it; key: the part's
    returns: nothing
    Source: P, table of pull tests.
    """
    seen = row(
        "pull_tests",
        {"ring bend": "HMPE ring bend", "double fisherman's": "HMPE single fisherman"}.get(knot, "HMPE overhand"),
    )
    yield say(
        "webbing.knot",
        "Shortfall",
        key,
        "A {knot} does not hold in {webbing}",
        "HMPE is too slippery for it: a loop so closed slips at {low} to {high}. Use nylon, or a sewn sling.",
        low=Number(seen.low, "force", "down"),
        high=Number(seen.high, "force", "up"),
        webbing=name,
        knot=knot,
    )


def family(fibre: str) -> str:
    """Which rows of the knot table a fibre takes.

    fibre: the material
    returns: nylon (and polyester) or HMPE (and aramid)
    Source: P, common practice, no source.
    """
    return "HMPE" if fibre in ("HMPE", "aramid") else "nylon"


def retention_graded(knot: str, fibre: str) -> Row | None:
    """The share a knot keeps, by knot and fibre.

    knot: as the table names it; fibre: the material
    returns: the table's row, None where it has none: the knot is not to be used in that fibre
    Source: HB and P, knot table.
    """
    key = f"retention.{knot}.{family(fibre)}"
    return row("knots", key) if key in table("knots").rows else None


def retention_general(fibre: str) -> Row:
    """The share any knot keeps, by the rule that a knot halves it.

    fibre: the material
    returns: the table's row
    Source: P, common practice, no source.
    """
    return row("knots", f"retention.general.{family(fibre)}")


def retention(knot: str, fibre: str, school: str) -> Row | None:
    """The share a knot keeps, by the school the plan follows.

    knot, fibre: as for retention_graded; school: graded or flat half
    returns: the table's row, None where the knot is not to be used in that fibre, whatever the school
    Source: HB and P, knot table.
    """
    graded = retention_graded(knot, fibre)
    return graded if graded is None or school == "graded" else retention_general(fibre)


def joining_knot(thing: Webbing | Sling | Rope, closed_by: str = "usual") -> str | None:
    """The knot that closes a loop of it.

    thing: what the loop is of; closed_by: as entered, or the usual one
    returns: as the knot table names it, "" for a sewn one, None where none goes without saying: cord of HMPE or aramid
    Source: P, common practice, no source.
    """
    if isinstance(thing, Sling):
        return ""
    if closed_by != "usual":
        return closed_by
    return (
        "ring bend"
        if isinstance(thing, Webbing)
        else None
        if thing.fibre in ("HMPE", "aramid")
        else "double fisherman's"
    )


def slips_closed(thing: Webbing | Sling | Rope, closed_by: str) -> str:
    """The knot that closes a loop of HMPE and does not hold, "" if there is none.

    thing: what the loop is of; closed_by: as entered
    returns: the knot
    Source: P, table of pull tests: of these only a triple fisherman's holds.
    """
    knot = joining_knot(thing, closed_by)
    return knot if knot and thing.fibre == "HMPE" and knot != "triple fisherman's" else ""


TIE_OFFS = ("munter-mule-overhand", "figure-eight device mule")


def station_knot(system: System) -> str:
    """The knot that a single ride strand hangs in.

    system: as rigged
    returns: its name in the knot table, "" where there is none or no figure
    Source: P, common practice, no source.
    """
    match system:
        case ElasticRelease() | Lowered():
            return "figure eight"
        case BlockedSame() | BlockedCord():
            return system.block
        case Releasable():
            return system.tie_off
        case Doubled() | Joined() | Bights() | NoSystem():
            return ""


def rating_of(thing: Webbing | Sling | Rope) -> Range:
    """What one strand holds, or a sewn loop as a whole, where that is known.

    thing: webbing, a sling or a rope of which the strength was asked about before
    returns: the range [kN]
    Source: whoever gives it.
    """
    own = thing.rating_kn if isinstance(thing, Sling) else thing.strength_kn
    assert own.kind == "range", "an unknown strength is said before it is used"
    return own
