"""A judgement, made once: whatever reads it – a finding, a comparison, a rehearsal – reads the same value."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from reamer.core.answer.say import Number

Holds = Literal["yes", "no", "unknown"]


@dataclass(frozen=True, slots=True)
class Verdict:
    """Whether something holds. ``question``: the code of the finding that it may become; ``cause``: which of the
    question's rules decides, "" where none does; ``width``, ``ratio``: what it rests on, and ``by`` who says so;
    ``why``: what is not known."""

    question: str
    holds: Holds
    cause: str = ""
    width: Number | None = None
    ratio: Number | None = None
    why: str = ""
    by: str = ""
