"""Usual kits to start from: generic things with figures typical of their kind, each marked as such until its owner has
looked at their own."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from reamer.core.model import Plan, Shed
from reamer.core.plan.people import Person
from reamer.core.reading import read_plan


@dataclass(frozen=True, slots=True)
class UsualKit:
    """A kit to start from: what it is for, what is in it, who goes."""

    key: str
    name: str
    about: str
    shed: Shed
    party: tuple[Person, ...]


@cache
def usual_kits() -> tuple[UsualKit, ...]:
    """Every usual kit.

    returns: the kits, everything in them marked as typical
    Source: each figure names its own, from memory or our judgement.
    """
    made = []
    for k in json.loads((Path(__file__).parent / "kits.json").read_text(encoding="utf-8")):
        plan: Plan = read_plan({"format": 1, "title": k["name"], "shed": k["shed"], "party": k["party"]})
        made.append(UsualKit(k["key"], k["name"], k["about"], plan.shed, plan.party))
    return tuple(made)
