"""A figure at the limits of its error."""

from __future__ import annotations

from typing import Literal

from reamer.core.plan.figures import Figure, Known
from reamer.core.tables import row

Bound = Literal["low", "nominal", "high"]


def limits_m(figure: Known) -> tuple[float, float]:
    """A measured length at its two limits.

    low, high = value × (1 ∓ e) for a share e, or value ∓ e for a length

    figure: a known length [m]
    returns: low and high, low never under 0 [m]
    Source: J, the table of methods, or the figure's own error.
    """
    if figure.error is not None:
        share = figure.error.value if figure.error.kind == "share" else 0.0
        length = figure.error.value if figure.error.kind == "length" else 0.0
    else:
        method = row("methods", figure.method)
        share = method.high if method.unit == "share" else 0.0
        length = method.high if method.unit == "m" else 0.0
    by = abs(figure.value) * share + length
    low = figure.value - by
    return (max(0.0, low) if figure.value >= 0 else low), figure.value + by


def at_bound(figure: Figure, bound: Bound) -> float | None:
    """A figure's value at a bound of its error; None where it is unknown.

    figure: a length [m]; bound: low, nominal or high
    returns: the length, or None [m]
    Source: J, the table of methods.
    """
    if figure.kind == "unknown":
        return None
    if bound == "nominal":
        return figure.value
    low, high = limits_m(figure)
    return low if bound == "low" else high
