"""How wide two legs stand."""

from __future__ import annotations

import math

from reamer.core.anchor.post import equal_leg_share
from reamer.core.answer.codes import Severity
from reamer.core.answer.findings import Fix, Says, say
from reamer.core.answer.say import Number
from reamer.core.tables import row


def angle_finding(angle: Number, key: str, code: str, fix: Fix | None, shares: bool = False) -> Says[None]:
    """How wide two legs stand, by its class.

    angle: between them [rad]; key: the part's; code: the finding's; fix: for a caution
    or worse; shares: whether what each leg carries is worked out for itself, and told with it
    returns: nothing
    Source: P and J, table of loads.
    """
    degrees = math.degrees(angle.value)
    note, caution, short = (row("loads", f"angle.{k}").low for k in ("note", "caution", "shortfall"))
    if degrees < note:
        return
    severity: Severity = "Shortfall" if degrees >= short else "Caution" if degrees > caution else "Note"
    yield say(
        code,
        severity,
        key,
        "The legs stand at {angle}",
        ("" if shares else "Of two equal legs each carries {share} of the load. ")
        + "Under {note} is good, over {caution} a caution, {short} or more a shortfall of practice; a longer tie"
        " narrows the angle.",
        note=Number(note, "degrees"),
        caution=Number(caution, "degrees"),
        short=Number(short, "degrees"),
        angle=angle,
        share=None if shares else Number(equal_leg_share(min(angle.value, math.pi - 1e-6)), "part", "up"),
        working=angle,
        fix=None if severity == "Note" else fix,
    )
