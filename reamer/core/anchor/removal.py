"""What happens when one of several points fails: how far the focal point falls, and the peak of that fall."""

from __future__ import annotations

from dataclasses import dataclass

from reamer.core.anchor.equilibrium import drop_force_kn
from reamer.core.answer.say import Number
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.tables import row

Point3 = tuple[float, float, float]

# The ropes of a system, one of which catches a fall.
ROPES_AT = ("{system}/rope", "{system}/through", "{system}/other")


@dataclass(frozen=True, slots=True)
class Removal:
    """What happens when one point fails: where the ring comes to rest, what each point then carries of the load, how
    far the focal point falls, the peak force of that fall and each point's share of it. ``drop`` and ``peak`` are None
    where unknown."""

    id: str
    name: str
    at: Point3
    shares: tuple[Number, ...]
    drop: Number
    peak: Number | None
    pulls: tuple[Number, ...]
    why: str


@dataclass(frozen=True, slots=True)
class Catch:
    """Who falls when a point fails, and on what: everyone who hangs there [kN], EA of the rope that catches [kN]; None
    where unknown."""

    static_kn: float | None
    rope_kn: float | None

    @property
    def why(self) -> str:
        """What is unknown, "" if nothing is."""
        return (
            "the load is unknown"
            if self.static_kn is None
            else ""
            if self.rope_kn
            else "how the rope stretches is unknown"
        )


def fall_peak(key: str, name: str, catch: Catch, drop: Number, legs: Term, book: Book) -> Number:
    """The peak force of a fall onto what is left of an anchor, in series with the shortest rope that can be out.

    F = W + √(W² + 2·W·h/(1/k + L/EA))

    key: the workings' prefix; name: of the point that fails; catch: who falls and on what, known; drop: h [m]
    legs: k, the stiffness of what is left [kN/m]; book: where the working goes
    returns: F [kN]
    Source: HB, energy of a fall in linear springs; the rope's length J.
    """
    length, weight, rope = row("loads", "legs.rope"), catch.static_kn or 0.0, catch.rope_kn or 0.0
    terms = [
        Term("W", "everyone who hangs on it", weight, "force", "HB: weight"),
        computed("h", "fall of the focal point", drop),
        legs,
        from_row("L", length, length.low, "fine length"),
        Term("EA", "stiffness of the rope", rope, "force", "its label's elongation", typed=ROPES_AT),
    ]
    value = drop_force_kn(weight, drop.value, 1 / (1 / legs.value + length.low / rope))
    formula = "W + sqrt(W**2 + 2*W*h/(1/kl + L/EA))"
    return book.number(f"{key}.peak", f"peak force when {name} fails", formula, terms, value, "force", "up")
