"""The end of every chain of workings: which fields of the plan a term was typed into, and what was typed there."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from reamer.core.answer.say import Number, Quantity, Sentence
from reamer.core.answer.typed import SECTION
from reamer.core.answer.where import named, thing_at
from reamer.core.answer.working import Entered, Term, Working
from reamer.core.model import Drop, Known, Plan, Range
from reamer.core.plan.limits import limits_m

QUANTITIES: tuple[tuple[str, Quantity], ...] = (
    ("_kg_m", "line mass"),
    ("_mm", "diameter"),
    ("_kg", "mass"),
    ("_deg", "degrees"),
    ("_pct", "percent"),
    ("_kn", "force"),
    ("_m", "length"),
)


def with_entered(plan: Plan, drop: Drop | None, workings: Iterable[Working]) -> tuple[Working, ...]:
    """Workings, each term of which says which fields it was typed into, and what was typed there.

    plan: the plan; drop: the one they are of, None for the shed
    workings: as they were recorded
    returns: the same, with the fields of what no working computed and no table holds
    Source: none, a look-up.
    """
    made = []
    for w in workings:
        which = 1 if w.key.startswith("last.") else 0
        made.append(replace(w, terms=tuple(replace(t, entered=_entered(plan, drop, which, t)) for t in w.terms)))
    return tuple(made)


def _entered(plan: Plan, drop: Drop | None, which: int, term: Term) -> tuple[Entered, ...]:
    """The fields a term was typed into."""
    made = []
    for at in _figures(drop, term.typed):
        place = _filled(drop, which, at)
        found = thing_at(plan, place, drop)
        if found is not None:
            made.append(Entered(place, named(plan, place, drop), _said(place.rpartition("/")[2], found)))
    return tuple(made)


def _figures(drop: Drop | None, typed: tuple[str, ...]) -> tuple[str, ...]:
    """Places, the section as each of its figures."""
    if typed != SECTION or drop is None:
        return typed
    section = drop.section
    if section.kind == "quick":
        return tuple(f"{SECTION[0]}/{k}" for k in ("setback_m", "edge_fall_m", "height_m", "face_deg", "recess_m"))
    return tuple(f"{SECTION[0]}/shots/#{s.id}/{k}" for s in section.shots for k in ("slope_m", "incl_deg"))


def _filled(drop: Drop | None, which: int, place: str) -> str:
    """A place with what is in braces filled in: the drop, its station, and of a state its rig and its system."""
    if drop is None:
        return place
    station = f"drops/#{drop.id}/station"
    state = f"{station}/states/{min(which, len(drop.station.states) - 1)}"
    return place.format(drop=f"drops/#{drop.id}", station=station, rig=f"{state}/rig", system=f"{state}/system")


def _said(key: str, value: Any) -> Sentence:
    """What was typed into a field, with how it was measured and what its error is."""
    if isinstance(value, Known):
        quantity: Quantity = next((q for end, q in QUANTITIES if key.endswith(end)), "count")
        numbers = {"value": Number(value.value, quantity)}
        told = "{value}"
        if value.method != "given":
            told += f", by {value.method}"
        if key.endswith("_m"):
            low, high = limits_m(value)
            if high - low > 1e-9:
                numbers["error"] = Number((high - low) / 2, "fine length", "up")
                told += ", ± {error}" + ("" if value.error else " as its method has it")
        told += f", on {value.on}" if value.on else ""
        return Sentence(told + ("{by}" if value.by else ""), numbers, {"by": f", by {value.by}"} if value.by else {})
    if isinstance(value, Range):
        numbers = {"low": Number(value.low_kn, "force", "down"), "high": Number(value.high_kn, "force", "up")}
        told = "{low}" if value.low_kn == value.high_kn else "{low} to {high}"
        return Sentence(f"{told}: {{source}}", numbers, {"source": value.source})
    if getattr(value, "kind", "") == "unknown":
        return Sentence("unknown", {}, {})
    return Sentence("{value}", {}, {"value": value}) if isinstance(value, str) else Sentence("", {}, {})
