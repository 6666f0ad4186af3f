"""Findings: a stable code, how serious, about what, in words whose numbers lead to workings, and the act that
settles it."""

from __future__ import annotations

import re
from dataclasses import dataclass, field, replace

from reamer.core.answer.codes import CODES, SEVERITIES, Settled, Severity, settled
from reamer.core.answer.say import Number, Sentence, words
from reamer.core.plan.edits import Edit


@dataclass(frozen=True, slots=True)
class Subject:
    """What a finding is about: a drop's id ("" for the whole plan), the part's key ("" for the whole drop), and the
    state of the station it holds for, where it has two."""

    drop: str
    part: str = ""
    state: str = ""


@dataclass(frozen=True, slots=True)
class Fix:
    """Edits that would settle a finding, in words; applied with one act and undone with one. ``brings``: the cautions
    that it brings; ``instead``: what else may be tried where it does not."""

    label: Sentence
    edits: tuple[Edit, ...]
    brings: tuple[Sentence, ...] = ()
    instead: tuple[Fix, ...] = ()


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing to know: a stable code, how serious, about what, in words whose numbers lead to workings. ``settled``:
    who can settle it; ``drops``: of one that is said once for the plan, where it holds; ``others``: acts that would
    settle it as well; ``key``: what tells it from other findings, whatever its numbers; ``field``: the place in the
    plan that settles it, ``field_name`` what the screen calls it."""

    code: str
    severity: Severity
    subject: Subject
    title: Sentence
    reason: Sentence
    working: str = ""
    fix: Fix | None = None
    settled: Settled = "at home"
    drops: tuple[str, ...] = ()
    others: tuple[Fix, ...] = ()
    key: str = ""
    field: str = ""
    field_name: str = ""

    def __post_init__(self) -> None:
        if self.code not in CODES:
            raise KeyError(self.code)
        about, named = self.subject, self.title.words
        title = re.sub(r"\{(\w+)\}", lambda m: named.get(m[1], m[0]), self.title.template)
        object.__setattr__(self, "key", f"{self.code}:{about.drop}:{about.part}:{about.state}:{title}"[:280])


@dataclass(slots=True)
class Findings:
    """Where one drop's findings are gathered. ``fixes``: whether to look for those that have to be tried out; ``wide``:
    what is said once for the plan."""

    drop: str
    state: str = ""
    fixes: bool = True
    found: list[Finding] = field(default_factory=list)
    wide: list[Finding] = field(default_factory=list)

    def add(
        self,
        code: str,
        severity: Severity,
        part: str,
        title: str,
        reason: str,
        /,
        *,
        working: str = "",
        fix: Fix | None = None,
        **put: Number | str | None,
    ) -> None:
        """Add one finding; title and reason are templates over the same numbers and words, what is None left out."""
        numbers = {k: v for k, v in put.items() if isinstance(v, Number)}
        words = {k: v for k, v in put.items() if isinstance(v, str)}
        said, why = (Sentence(t, numbers, words) for t in (title, reason))
        subject = Subject(self.drop, part, self.state)
        self.found.append(Finding(code, severity, subject, said, why, working, fix, settled(code)))

    @property
    def once(self) -> Findings:
        """Where what is said once for the plan is added, however many stations it holds at."""
        return Findings(self.drop, self.state, self.fixes, self.wide)

    def worst_first(self) -> tuple[Finding, ...]:
        """All, worst first, otherwise in the order of the work."""
        return tuple(sorted(self.found, key=lambda f: SEVERITIES.index(f.severity)))


def said_once(wide: list[Finding]) -> tuple[Finding, ...]:
    """Findings that hold at many stations, each said once: of those alike in code and title the worst, with the
    stations it holds at.

    wide: of all drops, in their order
    returns: one a code and title as it reads, about the plan
    Source: none, gathering.
    """
    groups: dict[tuple[str, str], list[Finding]] = {}
    for f in wide:
        groups.setdefault((f.code, words(f.title)), []).append(f)
    made = []
    for same in groups.values():
        worst = min(same, key=lambda f: SEVERITIES.index(f.severity))
        bare = [
            Sentence(s.template, {k: Number(n.value, n.quantity, n.toward) for k, n in s.numbers.items()}, s.words)
            for s in (worst.title, worst.reason)
        ]
        drops = tuple(dict.fromkeys(f.subject.drop for f in same))
        made.append(
            replace(
                worst,
                subject=Subject("", worst.subject.part),
                title=bare[0],
                reason=bare[1],
                working="",
                fix=worst.fix if len(drops) == 1 else None,
                drops=drops,
            )
        )
    return tuple(made)


def tally(findings: tuple[Finding, ...] | list[Finding]) -> dict[Severity, int]:
    """How many findings there are of each severity.

    findings: any
    returns: severity -> count, every severity present
    Source: none, counting.
    """
    return {s: sum(1 for f in findings if f.severity == s) for s in SEVERITIES}
