"""What every drop's assessment needs of the whole plan, looked up once."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from reamer.core.answer.working import Book
from reamer.core.model import NO_GEAR, Gear, Person, Plan, Ring, Rope, Sling, Tri, Webbing
from reamer.core.plan.waters import carried_wet, swum_to
from reamer.core.tables import own_figures

T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class Context:
    """The plan with its shed by id and its heaviest person; ``weight_unknown`` says why there is none.
    ``carried_wet``: at each drop whether rope and kit have been carried through water; ``swum_to``: whether it is
    reached by a swim; ``hung_to``: whether it is reached at a hanging stance, so that everybody hangs there;
    ``gear``: what things have been through; ``kept``: what is alike at every drop and is worked out once."""

    plan: Plan
    ropes: dict[str, Rope]
    webbing: dict[str, Webbing]
    slings: dict[str, Sling]
    rings: dict[str, Ring]
    heaviest: Person | None
    weight_unknown: str
    carried_wet: tuple[Tri, ...] = ()
    swum_to: tuple[Tri, ...] = ()
    hung_to: tuple[bool, ...] = ()
    gear: Gear = NO_GEAR
    kept: dict[tuple[object, ...], tuple[tuple[object, ...], Any]] = field(
        default_factory=dict, compare=False, repr=False
    )

    def once(self, key: tuple[object, ...], given: tuple[object, ...], book: Book, make: Callable[[Book], T]) -> T:
        """What is alike for everything that is compared at one drop, worked out once.

        key: what it is, besides the book's prefix; given: what it is made from, the very same objects as before or it
        is made anew
        book: how numbers are made there; make: makes it
        returns: what ``make`` returned
        Source: none, keeping.
        """
        key = (*key, book.prefix)
        kept = self.kept.get(key)
        if kept is None or any(a is not b for a, b in zip(kept[0], given, strict=True)):
            kept = self.kept[key] = given, make(Book(book.prefix))
        made: T = kept[1]
        return made


def figures_of(plan: Plan) -> list[tuple[str, str, float, float, str]]:
    """The shed's and the plan's own figures, as the tables take them; of two for one row the plan's, which comes later.

    plan: the plan
    returns: table, key, low, high and reason of each
    Source: the guide.
    """
    return [(f.table, f.key, f.low, f.high, f.reason) for f in (*plan.shed.own_figures, *plan.own_figures)]


P = ParamSpec("P")


def figured(front: Callable[P, T]) -> Callable[P, T]:
    """Make a front function of the core run under the own figures of the plan it is asked about. Whatever the web or
    the command line calls with a plan or its context goes through this; a test holds that.

    front: takes a plan or its context first
    returns: the same, under those figures
    Source: the guide.
    """

    @wraps(front)
    def run(*args: P.args, **named: P.kwargs) -> T:
        first = args[0]
        plan = first.plan if isinstance(first, Context) else first
        assert isinstance(plan, Plan), "a front function takes a plan or its context first"
        with own_figures(figures_of(plan)):
            return front(*args, **named)

    FIGURED.add(run)
    return run


# Every front function that holds own figures.
FIGURED: set[object] = set()


# What no drop's own answer rests on.
ELSEWHERE = {"drops", "title", "place", "notes", "spot", "start", "last_light", "contingencies", "carry"}


def fingerprint(text: str) -> str:
    """A text told apart from any other by little, for what is kept under it.

    text: the text
    returns: 64 signs
    Source: SHA-256 (FIPS 180-4).
    """
    return hashlib.sha256(text.encode("utf-8", "surrogatepass")).hexdigest()


def shared_by(plan: Plan) -> str:
    """Everything besides itself that a drop's own answer may rest on.

    plan: the plan
    returns: its fingerprint, the same for the same content
    Source: none, text only.
    """
    return fingerprint(plan.model_dump_json(exclude=ELSEWHERE))


def on_the_way(ctx: Context, index: int) -> str:
    """What a drop's own answer rests on of the drops before it.

    ctx: the plan's context; index: the drop's place, from 0
    returns: as text, the same for the same
    Source: none, text only.
    """
    return f"{ctx.carried_wet[index]} {ctx.swum_to[index]} {ctx.hung_to[index]}"


def context(plan: Plan, gear: Gear = NO_GEAR) -> Context:
    """Gather a plan's context.

    plan: the plan; gear: what things have been through
    returns: its context; one person of unknown weight makes the heaviest unknown [kg]
    Source: none, look-ups.
    """
    known = [(p.mass_kg.value, p) for p in plan.party if p.mass_kg.kind == "known"]
    unknown = [p.name for p in plan.party if p.mass_kg.kind == "unknown"]
    why = f"the weight of {' and '.join(unknown)} is unknown" if unknown else "" if known else "nobody is in the party"
    return Context(
        plan,
        {r.id: r for r in plan.shed.ropes},
        {w.id: w for w in plan.shed.webbing},
        {s.id: s for s in plan.shed.slings},
        {r.id: r for r in plan.shed.rings},
        None if why else max(known, key=lambda p: p[0])[1],
        why,
        carried_wet(plan.drops),
        ("no", *(swum_to(d) for d in plan.drops[:-1])),
        (False, *(d.landing.kind == "hanging stance" for d in plan.drops[:-1])),
        gear,
    )
