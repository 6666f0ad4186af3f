"""The whole plan, and the guide's choices where practitioners disagree."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator

from reamer.core.plan.descent import MOST_TRACK, Carry, Clock, Contingencies, Position, Whereabouts
from reamer.core.plan.figures import Date, Line, M, Name, Num, Text, unique
from reamer.core.plan.people import Person
from reamer.core.plan.shed import OwnFigure, Shed
from reamer.core.plan.station import Drop
from reamer.core.plan.systems import JoinKnot

FORMAT = 1
MOST_DROPS = 200


class PeakMargin(M):
    """Low-end capacity at least 2.0 times the peak load."""

    kind: Literal["peak"]


class StaticRatio(M):
    """Capacity at least ten times the static load."""

    kind: Literal["static ratio"]


class OwnMargin(M):
    """Low-end capacity at least ``times`` the peak load; one below the table's own needs a reason."""

    kind: Literal["own"]
    times: Annotated[Num, Field(ge=1, le=20)]
    reason: Line = ""


Margin = Annotated[PeakMargin | StaticRatio | OwnMargin, Field(discriminator="kind")]


class Policies(M):
    """The guide's choices where practitioners disagree. ``retention``: graded by knot, or any knot halves it;
    ``bend``: of a wrap at the back, where it keeps more, or in view, where it can be looked at; ``focal``: the ring
    free to slide at the focal point, or held there by a knot; ``join``: of two ropes; ``ends``: knotted always, or not
    where they are seen down; ``strands``: doubled or single where both would do; ``releasable``: for everyone, for
    novices, or not asked for; ``novices``: what backs them up.
    """

    margin: Margin = PeakMargin(kind="peak")
    retention: Literal["graded", "flat half"] = "graded"
    bend: Literal["back", "in view"] = "back"
    focal: Literal["free", "knotted"] = "free"
    join: JoinKnot = "flat overhand, second behind"
    ends: Literal["always", "unless seen down"] = "always"
    strands: Literal["doubled", "single"] = "doubled"
    releasable: Literal["always", "for novices", "not wanted"] = "always"
    novices: Literal["fireman's belay", "third hand", "top line"] = "fireman's belay"


# Two sets of choices to start a plan with, each free of contradiction.
POLICY_SETS: dict[str, Policies] = {
    "canyon": Policies(strands="single", releasable="for novices"),
    "multi-pitch": Policies(strands="doubled", releasable="not wanted"),
}


class Plan(M):
    """A whole descent on paper. ``start``: when the first station is begun, and ``last_light``: when the party must be
    out, where that is before sunset; both on the clock at the place. ``approach``: the way to the first station."""

    format: Literal[1]
    title: Name
    place: Annotated[Line, StringConstraints(max_length=120)] = ""
    on: Date | None = None
    notes: Text = ""
    drops: Annotated[tuple[Drop, ...], Field(max_length=MOST_DROPS)] = ()
    shed: Shed = Shed()
    party: Annotated[tuple[Person, ...], Field(max_length=60)] = ()
    policies: Policies = Policies()
    own_figures: Annotated[tuple[OwnFigure, ...], Field(max_length=200)] = ()
    spot: Whereabouts | None = None
    start: Clock | None = None
    last_light: Clock | None = None
    contingencies: Contingencies = Contingencies()
    carry: Carry = Carry()
    approach: Annotated[tuple[Position, ...], Field(max_length=MOST_TRACK)] = ()

    @model_validator(mode="after")
    def _named_apart(self) -> Plan:
        for where, things in (("drops", self.drops), ("party", self.party), ("own_figures", self.own_figures)):
            unique((t.id for t in things), where, "id")
        unique((t.name.casefold() for t in self.party), "party", "name")
        unique((f"{f.table}: {f.key}" for f in self.own_figures), "own_figures", "key")
        unique(self.carry.ropes or (), "carry/ropes", "rope")
        unique((b.what for b in self.carry.borne), "carry/borne", "what")
        return self
