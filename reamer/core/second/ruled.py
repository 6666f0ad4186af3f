"""What a plan is told anew because the rules changed, and not the plan."""

from __future__ import annotations

import hashlib
from collections import Counter
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from reamer.core.answer.codes import Severity
from reamer.core.answer.findings import Finding
from reamer.core.answer.say import Sentence
from reamer.core.assess import Assessment

CORE = Path(__file__).parents[1]
# What is said anew as days go by is not said by a rule.
OF_THE_DAY = ("gear.",)


@dataclass(frozen=True, slots=True)
class Ruled:
    """A finding that the plan did not have when it was saved and has now, by a rule that came since: of which drop, ""
    where it is the plan's."""

    drop: str
    severity: Severity
    title: Sentence
    code: str


@cache
def rules() -> str:
    """What this program judges by: another wherever anything of the core is.

    returns: a digest of the core and its tables
    Source: none.
    """
    made = hashlib.sha256()
    for path in sorted(p for p in CORE.rglob("*") if p.suffix in (".py", ".json")):
        made.update(path.relative_to(CORE).as_posix().encode())
        made.update(path.read_bytes())
    return made.hexdigest()[:24]


def _findings(a: Assessment) -> list[Finding]:
    every = [*a.findings, *(f for d in a.drops for f in d.findings)]
    return [f for f in every if f.severity != "Note" and not f.code.startswith(OF_THE_DAY)]


def _key(f: Finding) -> str:
    return "|".join((f.subject.drop, f.code, f.subject.part, f.subject.state, f.severity))


def said_of(a: Assessment) -> tuple[str, ...]:
    """What is said of a plan, as keys that are kept with it: whatever the words and the figures.

    a: its assessment
    returns: one key a finding, in order
    Source: none.
    """
    return tuple(sorted(_key(f) for f in _findings(a)))


def by_rule(said: tuple[str, ...], then: Assessment, now: Assessment) -> tuple[Ruled, ...]:
    """What is said of a plan now that was not said when it was saved, though it would have been by today's rules.

    said: kept of a revision that other rules judged; then: the same revision by today's; now: the plan as it stands
    returns: each; where one of several alike is new, all of them
    Source: none, a difference.
    """
    new = Counter(said_of(then)) - Counter(said)
    return tuple(Ruled(f.subject.drop, f.severity, f.title, f.code) for f in _findings(now) if new[_key(f)])
