"""Findings: a stable code, how serious, about what, in words whose numbers lead to workings, and the act that
settles it."""

from __future__ import annotations

import re
from collections.abc import Callable, Generator, Iterable
from dataclasses import dataclass, replace
from dataclasses import field as attribute
from typing import Annotated, Any, TypeVar

from pydantic import Field as Excluded

from reamer.core.answer.codes import CODES, SEVERITIES, Settled, Severity, settled
from reamer.core.answer.say import Number, Sentence, words
from reamer.core.plan.edits import Edit

T = TypeVar("T")
X = TypeVar("X")


@dataclass(frozen=True, slots=True)
class Subject:
    """What a finding is about: a drop's id ("" for the whole plan), the part's key ("" for the whole drop), and the
    state of the station it holds for, where it has two."""

    drop: str
    part: str = ""
    state: str = ""


@dataclass(frozen=True, slots=True)
class Brought:
    """What an act brings: how serious, and its title."""

    severity: Severity
    title: Sentence


@dataclass(frozen=True, slots=True)
class Fix:
    """Edits that would settle a finding, in words; applied with one act and undone with one. ``brings``: what it
    brings, told with it; ``allows``: the worst that it may bring, for one that only says what is so a shortfall, for
    one that rigs what was not there something that is not checked, else a caution; ``partly``: it settles a part of
    what is said once for several things; ``instead``: what else may be tried where it does not."""

    label: Sentence
    edits: tuple[Edit, ...]
    brings: tuple[Brought, ...] = ()
    allows: Severity = "Caution"
    partly: bool = False
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
    behind: Annotated[Any, Excluded(exclude=True)] = attribute(default=None, compare=False, repr=False)

    def __post_init__(self) -> None:
        if self.code not in CODES:
            raise KeyError(self.code)
        named = self.title.words
        title = re.sub(r"\{(\w+)\}", lambda m: named.get(m[1], m[0]), self.title.template)
        object.__setattr__(self, "key", f"{self.about}{title}"[:280])

    @property
    def about(self) -> str:
        """What it is about, without its title: how its key begins."""
        return f"{self.code}:{self.subject.drop}:{self.subject.part}:{self.subject.state}:"


@dataclass(slots=True)
class Say:
    """One thing that a question has to say, before it is known of which drop and state: the words are put together only
    where somebody listens. ``once``: for the whole plan, however many stations it holds at."""

    code: str
    severity: Severity
    part: str
    title: str
    reason: str
    working: Number | None
    fix: Fix | None
    once: bool
    put: dict[str, Number | str | None]

    def finding(self, drop: str = "", state: str = "", drops: tuple[str, ...] = ()) -> Finding:
        """What is said, of a drop and a state of its station, or of the plan at some drops."""
        numbers = {k: v for k, v in self.put.items() if isinstance(v, Number)}
        words = {k: v for k, v in self.put.items() if isinstance(v, str)}
        title, reason = (Sentence(t, numbers, words) for t in (self.title, self.reason))
        about, who = Subject(drop, self.part, state), settled(self.code)
        key, behind = ("", None) if self.working is None else (self.working.working, self.working.behind)
        return Finding(self.code, self.severity, about, title, reason, key, self.fix, who, drops, behind=behind)


# A question: it yields what it has to say, one after the other, and returns what it worked out.
Says = Generator[Say | Finding, None, T]


def say(
    code: str,
    severity: Severity,
    part: str,
    title: str,
    reason: str,
    /,
    *,
    working: Number | None = None,
    fix: Fix | None = None,
    **put: Number | str | None,
) -> Say:
    """One thing to say; title and reason are templates over the same numbers and words, what is None left out.

    code: a stable code; severity: how serious; part: what it is about; title, reason: in words
    working: the number whose working it rests on; fix: what may settle it; put: what the templates name
    returns: it
    Source: none.
    """
    return Say(code, severity, part, title, reason, working, fix, False, put)


def once(said: Say) -> Say:
    """What is said once for the plan, however many stations it holds at.

    said: of one of them
    returns: the same, for the plan
    Source: none.
    """
    said.once = True
    return said


def listened(question: Says[T], hear: Callable[[Say | Finding], X | None]) -> T | X:
    """What a question works out, or what ends the asking.

    question: asked; hear: takes each thing that it says; what it returns, other than None, ends the asking
    returns: the question's value, or what ended it
    Source: none.
    """
    while True:
        try:
            ends = hear(next(question))
        except StopIteration as done:
            made: T = done.value
            return made
        if ends is not None:
            return ends


def value(question: Says[T]) -> T:
    """What a question works out, whatever it has to say.

    question: asked
    returns: its value
    Source: none.
    """
    return listened(question, lambda said: None)


class Heard:
    """What was said of one state of a drop's station, or of the plan: ``findings``, and in ``wide`` what is said once
    for the plan."""

    def __init__(self, drop: str = "", state: str = "") -> None:
        self.drop, self.state = drop, state
        self.findings: list[Finding] = []
        self.wide: list[Finding] = []

    def of(self, question: Says[T]) -> T:
        """What a question works out, with what it says kept."""
        return listened(question, self._keep)

    def _keep(self, said: Say | Finding) -> None:
        if isinstance(said, Finding):
            self.findings.append(said)
        else:
            (self.wide if said.once else self.findings).append(said.finding(self.drop, self.state))


def told_of(question: Says[None], *drops: str) -> tuple[Finding, ...]:
    """What a question says, as findings of the whole plan that hold at some drops.

    question: asked; drops: where it holds, by id
    returns: the findings
    Source: none.
    """
    return tuple(said if isinstance(said, Finding) else said.finding(drops=drops) for said in question)


def worst_first(findings: Iterable[Finding]) -> tuple[Finding, ...]:
    """Findings, worst first, otherwise in the order of the work.

    findings: any
    returns: the same, sorted
    Source: none, sorting.
    """
    return tuple(sorted(findings, key=lambda f: SEVERITIES.index(f.severity)))


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
