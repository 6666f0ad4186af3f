"""A correction in words: what it is of, what was found, what the card said and what the plan says now."""

from __future__ import annotations

from reamer.core.answer.say import Number, Sentence
from reamer.core.onsite.figures import OnCard
from reamer.core.plan.correction import AnchorFound, Correction, Handed, Happened, HeightFelt, Passed, PullFelt, Reached
from reamer.core.second.rests import digest

WHEN = {"arrived": "Arrived", "rigged": "Rigged, the first goes", "down": "All are down", "left": "Rope down, gone"}


def id_of(handed: Handed, c: Correction) -> str:
    """A correction's id: the same for the same content from the same phone, whatever the card said.

    handed: what it came with; c: the correction
    returns: 16 hexadecimal digits
    Source: SHA-256, cut.
    """
    content = c.model_dump(mode="json", exclude={"was", "was_m", "station"})
    return digest([handed.device, handed.by, handed.on.isoformat(), content])


def about(c: Correction) -> tuple[str, ...]:
    """What a correction is of: two of the same may differ.

    c: the correction
    returns: the station, and what of it
    Source: none, text only.
    """
    match c:
        case Reached():
            return (c.drop, c.what, c.end)
        case AnchorFound():
            return (c.drop, c.what, c.item.casefold())
        case Passed():
            return (c.drop, c.what, c.which)
        case Happened():
            return (c.drop, c.what, c.words)
        case _:
            return (c.drop, c.what)


def title_of(c: Correction) -> Sentence:
    """What a correction is of, in words.

    c: the correction
    returns: the words
    Source: none, text only.
    """
    match c:
        case HeightFelt():
            return Sentence("Height")
        case Reached():
            return Sentence("Reach of {end}", {}, {"end": c.end})
        case AnchorFound():
            return Sentence("{item}", {}, {"item": c.item})
        case PullFelt():
            return Sentence("The pull")
        case Passed():
            return Sentence(WHEN[c.which])
        case Happened():
            return Sentence("Near miss" if c.near else "Incident")


def length(m: float) -> Number:
    """A length as it was told.

    m: the length [m]
    returns: the number
    Source: none.
    """
    return Number(m, "length")


def found_on_site(c: Correction) -> Sentence:
    """What was found, in words.

    c: the correction
    returns: the words
    Source: none, text only.
    """
    match c:
        case HeightFelt():
            return Sentence("{m} by {how}", {"m": length(c.m)}, {"how": str(c.method)})
        case Reached():
            said = "reached" if c.reached else "did not reach"
            if c.by_m is None:
                return Sentence(said)
            return Sentence(said + (", {m} over" if c.reached else ", {m} short"), {"m": length(c.by_m)})
        case AnchorFound():
            return Sentence("{state}" + (": {words}" if c.words else ""), {}, {"state": c.state, "words": c.words})
        case PullFelt():
            return Sentence("{felt}", {}, {"felt": c.felt})
        case Passed():
            return Sentence("{clock}", {}, {"clock": c.clock})
        case Happened():
            return Sentence("{words}", {}, {"words": c.words})


def _spare(m: float | None) -> Sentence | None:
    if m is None:
        return None
    over = m >= 0
    return Sentence("{m} to spare" if over else "{m} short", {"m": Number(abs(m), "length", "down" if over else "up")})


def _in_words(text: str) -> Sentence | None:
    return Sentence("{text}", {}, {"text": text}) if text else None


def card_said(c: Correction) -> Sentence | None:
    """What the card said of it.

    c: the correction
    returns: the words, None where it said nothing
    Source: none, text only.
    """
    match c:
        case HeightFelt():
            return Sentence("{m}", {"m": length(c.was_m)}) if c.was_m is not None else None
        case Reached():
            return _spare(c.was_m)
        case AnchorFound() | PullFelt() | Passed():
            return _in_words(c.was)
        case Happened():
            return None


def plan_says(c: Correction, s: OnCard | None) -> Sentence | None:
    """What the plan says of it now.

    c: the correction; s: its station in the plan, None where it is gone
    returns: the words, None where it says nothing
    Source: none, text only.
    """
    if s is None:
        return None
    match c:
        case HeightFelt():
            return Sentence("{m}", {"m": length(s.height_m)}) if s.height_m is not None else None
        case Reached():
            return _spare(next((e.spare_m for e in s.ends if e.end == c.end), None))
        case AnchorFound():
            named = (x.state for x in s.anchors if x.item.casefold() == c.item.casefold())
            return _in_words(next(named, ""))
        case PullFelt():
            return _in_words(s.pull)
        case Passed():
            return _in_words(s.arrive) if c.which == "arrived" else None
        case Happened():
            return None
