"""A load cell's trace of one pull: its peak."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Peak:
    """The peak of a pull [kN]; ``alone``: a single sample that stands above it by itself, which is noise and not taken,
    None where there is none."""

    kn: float
    alone: float | None


def middle(a: float, b: float, c: float) -> float:
    """The middle one of three.

    a, b, c: any
    returns: the one that is neither the most nor the least
    Source: none.
    """
    return max(min(a, b), min(max(a, b), c))


def peak_of(forces_kn: Sequence[float]) -> Peak | None:
    """The peak of a pull, that no single wild sample makes: the most of the middle ones of three after another.

    forces_kn: samples in order [kN]
    returns: the peak, None for fewer than three samples or where nothing was pulled
    Source: J, our judgement: a running median of three; a strength is never taken from one sample.
    """
    if len(forces_kn) < 3:
        return None
    kn = max(middle(*t) for t in zip(forces_kn, forces_kn[1:], forces_kn[2:], strict=False))
    most = max(forces_kn)
    return Peak(kn, most if most > 1.05 * kn else None) if kn > 0 else None
