"""The guide's own pull tests: mean, spread, and the figure a label would give."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from reamer.core.answer.say import Number
from reamer.core.answer.working import Book, Term, computed, from_row
from reamer.core.model import PullTest, Range
from reamer.core.tables import row


@dataclass(frozen=True, slots=True)
class Retention:
    """What knotted samples kept of unknotted ones of the same material, pulled the same way. ``of``: the unknotted
    ones' name; ``low``, ``high``: within which it lies 95 times in 100, None where one side has fewer than two."""

    of: str
    kept: Number
    low: Number | None
    high: Number | None


@dataclass(frozen=True, slots=True)
class PullTestAssessment:
    """A set of pull tests. ``least``: the mean less three spreads; ``tolerance``: what 95 of 100 pieces hold at the
    least, so far as the samples tell; ``odd``: a sample far from the others, by its number from 1; it is told and stays
    in. ``use``: the capacity it gives, None where there are too few samples, and ``why``."""

    id: str
    count: Number
    mean: Number | None
    spread: Number | None
    least: Number | None
    use: Range | None
    why: str
    tolerance: Number | None = None
    odd: tuple[int, ...] = ()
    retention: Retention | None = None


SHARE = SURE = 0.95


def tolerance_k(n: int) -> float:
    """How many spreads the one-sided tolerance limit of a normal sample lies below its mean.

    k = t'(0.95; n − 1, z·√n)/√n, t' the noncentral t, z the 95 % quantile

    n: samples, at least two
    returns: k, so that 95 % of all pieces hold more than x̄ − k·s, 95 times in 100 [-]
    Source: STD, ISO 16269-6 (from memory), by way of SciPy.
    """
    # Loaded when somebody has pulled something: it takes its time.
    from scipy.stats import nct, norm

    return float(nct.ppf(SURE, n - 1, norm.ppf(SHARE) * math.sqrt(n)) / math.sqrt(n))


def outlier(samples: tuple[float, ...]) -> int | None:
    """The sample farthest from the mean, where it lies farther than chance lets it.

    G = max|x − x̄|/s against Grubbs' two-sided limit at 5 %

    samples: of one thing [any unit]
    returns: its index, None where there is none or fewer than three samples
    Source: HB, Grubbs' test (from memory), by way of SciPy.
    """
    n = len(samples)
    if n < 3:
        return None
    from scipy.stats import t

    mean, sd = mean_and_sd(samples)
    far = max(range(n), key=lambda i: abs(samples[i] - mean))
    q = t.ppf(1 - 0.05 / (2 * n), n - 2)
    limit = (n - 1) / math.sqrt(n) * math.sqrt(q * q / (n - 2 + q * q))
    return far if sd > 0 and abs(samples[far] - mean) / sd > limit else None


def kept(knotted: tuple[float, ...], plain: tuple[float, ...]) -> tuple[float, float | None, float | None]:
    """What knotted samples kept of unknotted ones, and within which it lies.

    exp(difference of the means of logarithms), Welch's interval at 95 %

    knotted, plain: samples, at least one each [the same unit]
    returns: share kept; low and high, None where one side has fewer than two [-]
    Source: HB, Welch's t (from memory), by way of SciPy.
    """
    logs = [[math.log(x) for x in some] for some in (knotted, plain)]
    middle = math.exp(math.fsum(logs[0]) / len(logs[0]) - math.fsum(logs[1]) / len(logs[1]))
    if min(len(knotted), len(plain)) < 2:
        return middle, None, None
    from scipy.stats import ttest_ind

    interval = ttest_ind(*logs, equal_var=False).confidence_interval(0.95)
    # Samples all alike have no spread, and no interval.
    if not math.isfinite(interval.low) or not math.isfinite(interval.high):
        return middle, None, None
    return middle, math.exp(interval.low), math.exp(interval.high)


def with_retention(tests: Sequence[PullTest], made: Sequence[PullTestAssessment]) -> tuple[PullTestAssessment, ...]:
    """Knotted tests beside unknotted ones of the same material, pulled the same way.

    tests: all of a shed; made: their assessments, in the same order
    returns: the assessments, with what was kept
    Source: see ``kept``.
    """

    def like(t: PullTest) -> tuple[str, str]:
        return t.material.casefold(), t.configuration.casefold()

    plain = {like(t): t for t in reversed(tests) if t.knot.casefold() == "none" and t.material and t.samples_kn}
    out = []
    for t, a in zip(tests, made, strict=True):
        of = plain.get(like(t))
        if of is None or t.knot.casefold() in ("", "none") or not t.samples_kn:
            out.append(a)
            continue
        middle, low, high = kept(t.samples_kn, of.samples_kn)
        share = [None if x is None else Number(x, "share", "up" if x is high else "down") for x in (low, high)]
        out.append(replace(a, retention=Retention(of.name, Number(middle, "share"), *share)))
    return tuple(out)


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

    x̄ − 3·s, as labels give it; and x̄ − k·s, which few samples ask more of

    test: the samples [kN]; book: how numbers are made
    returns: mean, spread, mean less three spreads, tolerance limit [kN]; the lower of the two is what may be used
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
    tolerance = _tolerance(test, n, (mean_n, mean), (sd_n, sd), book)
    low = min(least.value, tolerance.value)
    odd = outlier(test.samples_kn)
    why = ""
    if n < enough.low:
        why = f"{n} samples are too few for it: at least {enough.low:g}"
    elif low <= 0:
        why = "the samples lie too far apart: nothing is left"
    use = (
        None
        if why
        else Range(
            kind="range",
            low_kn=math.floor(low * 1000) / 1000,
            high_kn=round(mean, 3),
            source=f"own pull tests “{test.name}”, {n} samples, {least_of(least, tolerance)} to mean"[:300],
        )
    )
    far = () if odd is None else (odd + 1,)
    return PullTestAssessment(test.id, count, mean_n, sd_n, least, use, why, tolerance, far)


def _tolerance(test: PullTest, n: int, mean: tuple[Number, float], sd: tuple[Number, float], book: Book) -> Number:
    k = tolerance_k(n)
    terms = [
        computed("m", "mean", mean[0]),
        Term("k", f"of {n} samples, for 95 % of pieces 95 times in 100", k, "ratio", "STD: ISO 16269-6"),
        computed("s", "standard deviation", sd[0]),
    ]
    value = mean[1] - k * sd[1]
    name = f"tolerance limit of {test.name}"
    return book.number(f"test.{test.id}.tolerance", name, "m - k*s", terms, value, "force", "down")


def least_of(least: Number, tolerance: Number) -> str:
    """Which of the two is the lower, in words.

    least: the mean less three spreads; tolerance: the tolerance limit
    returns: the words
    Source: none.
    """
    return "tolerance limit" if tolerance.value < least.value else "mean less three standard deviations"
