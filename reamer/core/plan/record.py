"""What a second person said of a plan. It lies beside the plan, never in it: there it would change what it checks."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AwareDatetime, Field, StringConstraints, model_validator
from pydantic_core import PydanticCustomError

from reamer.core.plan.figures import Line, M, Name, Text

MOST_VERDICTS = 20_000
VerdictKind = Literal["agreed", "objected", "accepted", "overruled", "withdrawn"]
ItemKey = Annotated[Line, StringConstraints(max_length=300, min_length=1)]
Digest = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{16}$")]
Remark = Annotated[Text, StringConstraints(strip_whitespace=True, max_length=1000)]
# What is said against the tool, or against the plan, is said with a reason.
REASONED: tuple[VerdictKind, ...] = ("objected", "accepted", "overruled")


class Verdict(M):
    """What one person said of one item of a revision, when and why. ``item``: its key; ``said``: the item in words as
    it was then; ``rests``: what it rested on, each as a digest of its content."""

    item: ItemKey
    by: Name
    at: AwareDatetime
    verdict: VerdictKind
    remark: Remark = ""
    revision: Annotated[int, Field(ge=1, le=10**9)]
    said: Annotated[Line, StringConstraints(max_length=300)] = ""
    rests: Annotated[dict[Annotated[str, StringConstraints(max_length=120)], Digest], Field(max_length=200)] = {}

    @model_validator(mode="after")
    def _reasoned(self) -> Verdict:
        if self.verdict in REASONED and not self.remark:
            raise PydanticCustomError(
                "remark", f"it is {self.verdict} with a reason, and none is given", {"where": "remark"}
            )
        return self


class Record(M):
    """Every verdict on a plan, in the order in which they were given."""

    verdicts: Annotated[tuple[Verdict, ...], Field(max_length=MOST_VERDICTS)] = ()
