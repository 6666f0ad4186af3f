"""Whether a section has a meaning: it must not cross itself, and it must go down."""

from __future__ import annotations

from typing import Annotated

from pydantic import AfterValidator
from pydantic_core import PydanticCustomError

from reamer.core.answer.kept import ByThings
from reamer.core.errors import GeometryError
from reamer.core.model import Drop, Plan, Quick, Shots
from reamer.core.section.polyline import crossing
from reamer.core.section.terrain import terrain

DEEPEST_M = 1000.0


# Most sections of a plan are those of its last save.
_KNOWN = ByThings(2000)


def _senseless(section: Quick | Shots) -> str:
    """Why a section has no meaning, "" if it has one."""
    return _KNOWN.of("section", (section,), (), lambda: _why(section))


def _why(section: Quick | Shots) -> str:
    try:
        check(section)
    except GeometryError as e:
        return str(e)
    return ""


def check(section: Quick | Shots) -> None:
    """Refuse a section that has no meaning.

    section: quick entry or shots
    returns: nothing
    raises: GeometryError if it crosses itself, does not end below its start, or is absurdly deep
    Source: J, our judgement of what is a slip of the pen.
    """
    if (
        section.kind == "quick"
        and section.face_deg.kind == "known"
        and section.recess_m.kind == "known"
        and section.face_deg.value < 90
        and section.recess_m.value > 0
    ):
        raise GeometryError(
            "a landing set back under its edge goes with a plumb face (90°); enter the section "
            "as shots to have both a slope and an overhang"
        )
    for bound in ("nominal", "low", "high"):
        made = terrain(section, bound)
        if bound == "nominal" or not made.missing:
            crossed = crossing(made.points)
            if crossed and section.kind == "shots":
                raise GeometryError(
                    f"shots {crossed[0] + 1} and {crossed[1] + 1} cross or touch each other"
                    + ("" if bound == "nominal" else f" at the {bound} limit of their error")
                )
            if crossed:
                raise GeometryError("the section crosses itself")
        if bound == "nominal" and not made.missing:
            down = -made.points[-1][1]
            if down <= 0:
                raise GeometryError(f"the landing lies {-down:.1f} m above the ring's level; it must lie below it")
            if down > DEEPEST_M:
                raise GeometryError(
                    f"the landing lies {down:.0f} m down; a drop of more than {DEEPEST_M:.0f} m is taken for a slip"
                )


def meaningful(drop: Drop) -> Drop:
    """A drop whose section has a meaning.

    drop: the drop
    returns: the same
    raises: PydanticCustomError that names the section
    Source: see check.
    """
    if why := _senseless(drop.section):
        raise PydanticCustomError("section", "{why}", {"where": "section", "why": why})
    return drop


def all_meaningful(plan: Plan) -> Plan:
    """A plan of which every drop's section has a meaning.

    plan: the plan
    returns: the same
    raises: PydanticCustomError that names the first section without
    Source: see check.
    """
    for i, drop in enumerate(plan.drops):
        if why := _senseless(drop.section):
            raise PydanticCustomError("section", "{why}", {"where": f"drops/{i}/section", "why": why})
    return plan


MeaningfulDrop = Annotated[Drop, AfterValidator(meaningful)]
MeaningfulPlan = Annotated[Plan, AfterValidator(all_meaningful)]
