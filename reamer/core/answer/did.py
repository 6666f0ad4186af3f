"""What a change did to what is said of a plan: gone, new, worse, better, still open with other figures."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from reamer.core.answer.codes import SEVERITIES, Severity
from reamer.core.answer.findings import Finding
from reamer.core.answer.say import Sentence, listed, spoken
from reamer.core.model import Plan
from reamer.core.plan.changes import describe_change

Became = Literal["new", "worse", "still open", "better", "gone"]
# What wants a look first.
ORDER: tuple[Became, ...] = ("new", "worse", "still open", "better", "gone")
# What is short and what is not checked are both open: neither is the milder, and what becomes unknown is no better.
OPEN: tuple[Severity, ...] = ("Shortfall", "Not checked")


@dataclass(frozen=True, slots=True)
class Otherwise:
    """One thing that is said otherwise than before. ``severity``: as it is now, where it is gone as it was; ``was``:
    how serious it was, None where it is new; ``before``, ``after``: what was said and what is, None where it was not;
    ``drop``: of which, "" of the whole plan, with its ``number`` from 1 (0: of none, or the drop is gone) and ``name``;
    ``drops``: where else it holds; ``field``: what settles it, "" where nothing does or it is gone."""

    became: Became
    code: str
    severity: Severity
    was: Severity | None
    before: Sentence | None
    after: Sentence | None
    drop: str
    number: int
    name: str
    drops: tuple[str, ...]
    part: str
    field: str


@dataclass(frozen=True, slots=True)
class Did:
    """What a change did. ``what``: the change itself; ``said``: in one line; ``rows``: what wants a look first comes
    first; ``more``: how many more are open of each severity than before, of the stations, the whole descent and the
    acts, None where that was or is not worked out."""

    what: str
    said: Sentence
    rows: tuple[Otherwise, ...]
    more: dict[str, dict[Severity, int] | None]


def did(
    before: tuple[Plan, Sequence[Finding]],
    after: tuple[Plan, Sequence[Finding]],
    more: dict[str, dict[Severity, int] | None],
) -> Did:
    """What a change did to what is said.

    before, after: the plan, and what is said of it; more: how many more are open, by what and severity
    returns: every finding that is not said as it was
    Source: none, comparison.
    """
    places = {d.id: (0, d.name) for d in before[0].drops} | {d.id: (n, d.name) for n, d in enumerate(after[0].drops, 1)}
    made = []
    for was, now in _paired(before[1], after[1]):
        became, shown = _became(was, now), now or was
        if became is None or shown is None:
            continue
        made.append(
            Otherwise(
                became,
                shown.code,
                shown.severity,
                was.severity if was is not None else None,
                was.title if was is not None else None,
                now.title if now is not None else None,
                shown.subject.drop,
                *places.get(shown.subject.drop, (0, "")),
                shown.drops,
                shown.subject.part,
                now.field if now is not None else "",
            )
        )
    made.sort(key=lambda d: (ORDER.index(d.became), SEVERITIES.index(d.severity), d.number, d.code))
    return Did(describe_change(before[0], after[0]), _said(made, more), tuple(made), more)


def _paired(before: Sequence[Finding], after: Sequence[Finding]) -> list[tuple[Finding | None, Finding | None]]:
    """What was said with what is said of the same thing: first what is said as it was; then by what tells a finding
    from others, whatever its figures; then by what it is about."""
    pairs: list[tuple[Finding | None, Finding | None]] = []
    left, rest = list(before), list(after)
    for alike in (_whole, _same, _about):
        known = defaultdict[tuple[str, ...], list[Finding]](list)
        for f in left:
            known[alike(f)].append(f)
        unpaired = []
        for f in rest:
            was = known[alike(f)]
            if was:
                pairs.append((was.pop(0), f))
            else:
                unpaired.append(f)
        left, rest = [f for some in known.values() for f in some], unpaired
    return [*pairs, *((f, None) for f in left), *((None, f) for f in rest)]


def _whole(f: Finding) -> tuple[str, ...]:
    return (f.key, f.severity, repr(_told(f)))


def _same(f: Finding) -> tuple[str, ...]:
    return (f.key, *f.drops) if not f.subject.drop else (f.key,)


def _about(f: Finding) -> tuple[str, ...]:
    """What it is about: another of its kind in its place is the same thing said otherwise."""
    return (f.code.partition(".")[0], f.subject.drop, f.subject.part, f.subject.state)


def _became(was: Finding | None, now: Finding | None) -> Became | None:
    """What a finding became; None where it is said as it was."""
    if was is None or now is None:
        return "new" if was is None else "gone"
    if was.severity != now.severity:
        if was.severity in OPEN and now.severity in OPEN:
            return "worse" if now.severity == "Shortfall" else "still open"
        return "worse" if SEVERITIES.index(now.severity) < SEVERITIES.index(was.severity) else "better"
    return None if _told(was) == _told(now) else "still open"


def _told(f: Finding) -> list[Any]:
    """What is told of a finding: its words with the figures as they are told, and where it holds."""
    said = (f.title, f.reason)
    return [f.code, f.drops, *((s.template, s.words, {k: spoken(n) for k, n in s.numbers.items()}) for s in said)]


def _said(made: Sequence[Otherwise], more: dict[str, dict[Severity, int] | None]) -> Sentence:
    """What a change did, in one line."""
    stations = {i for d in made for i in ((d.drop,) if d.drop else d.drops)}
    counts = []
    for severity in SEVERITIES:
        n = sum(part[severity] for part in more.values() if part is not None)
        if n:
            one = severity.lower()
            many = one if severity == "Not checked" else f"{one}s"
            counts.append(f"{abs(n)} {one if abs(n) == 1 else many} {'more' if n > 0 else 'fewer'}")
    if not made and not counts:
        return Sentence("Nothing else changed.")
    where = f"{len(stations)} station{'' if len(stations) == 1 else 's'}" if stations else "The whole plan"
    told = listed(counts) if counts else "as many as before"
    return Sentence("{where}: {told}.", {}, {"where": where, "told": told})
