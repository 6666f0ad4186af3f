"""The guide's own pull tests: mean, spread, and the figure a label would give."""

from __future__ import annotations

import math
from dataclasses import dataclass

from reamer.core.answer.say import Number
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.model import PullTest, Range
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class PullTestAssessment:
    """A set of pull tests. ``use``: the capacity it gives, None where there are too few samples, and ``why``."""

    id: str
    count: Number
    mean: Number | None
    spread: Number | None
    least: Number | None
    use: Range | None
    why: str


def mean_and_sd(samples: tuple[float, ...]) -> tuple[float, float]:
    """Mean and sample standard deviation.

    x̄ = Σx/n, s = √(Σ(x − x̄)²/(n − 1))

    samples: at least two [any unit]
    returns: mean and standard deviation [the same unit]
    Source: HB, statistics.

    >>> mean_and_sd((10.0, 11.0, 12.0))
    (11.0, 1.0)
    """
    mean = math.fsum(samples) / len(samples)
    return mean, math.sqrt(math.fsum((x - mean) ** 2 for x in samples) / (len(samples) - 1))


def pull_test(test: PullTest, book: Book) -> PullTestAssessment:
    """What a set of pull tests says.

    x̄ − 3·s, as labels give it

    test: the samples [kN]; book: where workings go
    returns: mean, spread, mean less three spreads [kN]
    Source: P, common practice, no source: a label is often the mean of a batch less three standard deviations.
    """
    n, key, enough = len(test.samples_kn), f"test.{test.id}", row("loads", "tests.enough")
    count = Number(n, "count")
    if n < 2:
        return PullTestAssessment(test.id, count, None, None, None, None, "two samples at least give a spread")
    mean, sd = mean_and_sd(test.samples_kn)
    terms = [Term(f"x{i}", f"sample {i}", x, "force", "pulled") for i, x in enumerate(test.samples_kn, 1)]
    names = [t.symbol for t in terms]
    mean_n = book.number(f"{key}.mean", f"mean of {test.name}", f"({' + '.join(names)})/{n}", terms, mean, "force")
    sd_n = book.number(
        f"{key}.sd",
        f"sample standard deviation of {test.name}",
        f"sqrt(({' + '.join(f'({x} - m)**2' for x in names)})/{n - 1})",
        [*terms, computed("m", "mean", mean_n)],
        sd,
        "force",
        "up",
    )
    times = row("loads", "tests.spreads")
    least = book.number(
        f"{key}.least",
        f"mean less three standard deviations of {test.name}",
        "m - k*s",
        [
            computed("m", "mean", mean_n),
            from_row("k", times, times.high, "ratio"),
            computed("s", "standard deviation", sd_n),
        ],
        mean - times.high * sd,
        "force",
        "down",
    )
    why = ""
    if n < enough.low:
        why = f"{n} samples are too few for it: at least {enough.low:g}"
    elif least.value <= 0:
        why = "the samples lie too far apart: nothing is left"
    use = (
        None
        if why
        else Range(
            kind="range",
            low_kn=round(least.value, 3),
            high_kn=round(mean, 3),
            source=f"own pull tests “{test.name}”, {n} samples, mean less three standard deviations to mean"[:300],
        )
    )
    return PullTestAssessment(test.id, count, mean_n, sd_n, least, use, why)
