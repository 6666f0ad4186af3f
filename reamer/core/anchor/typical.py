"""What a bolt holds where nobody knows more: typical of its kind, not checked until somebody says that it is so."""

from __future__ import annotations

from dataclasses import replace

from reamer.core.anchor.inspection import used
from reamer.core.answer.findings import Fix, Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence, listed
from reamer.core.model import Feature, Range, Rated
from reamer.core.plan.edits import Edit, Place
from reamer.core.tables import row


def typical_bolt() -> Range:
    """What the product holds in test material, pulled along and across: no bolt that was found is known to.

    returns: the range [kN]
    Source: EN 959, from memory; table of standards.
    """
    axial, radial = row("standards", "EN 959.axial"), row("standards", "EN 959.radial")
    return Range(
        kind="range",
        low_kn=axial.low,
        high_kn=radial.high,
        source=f"typical of a bolt, not of this one ({axial.source})",
    )


def _of(look: Look) -> list[tuple[int, Rated]]:
    """The rated things that the station is tied to, each with its place among the features."""
    ids = {f.id for f in used(look.station)}
    return [(i, f) for i, f in enumerate(look.station.features) if f.id in ids and isinstance(f, Rated)]


def _place(look: Look, i: int) -> Place[Rated]:
    return look.station_place.at(lambda station: station.features[i]).of(Rated)


def typical_fix(look: Look, feature: Feature | None) -> Fix | None:
    """An act that takes what is typical for every bolt of a station of which nothing is known, marked as typical.

    look: the station; feature: the one that is asked of
    returns: the act, None where it is no bolt or something is known of it
    Source: J, our judgement: a typical figure is not checked for this one.
    """
    if feature is None or feature.kind != "rated" or feature.what != "bolt" or feature.holds.kind != "unknown":
        return None
    held = typical_bolt()
    some = [(i, f) for i, f in _of(look) if f.what == "bolt" and f.holds.kind == "unknown"]
    edits: list[Edit] = []
    for i, _ in some:
        at = _place(look, i)
        edits += [at.at(lambda rated: rated.holds).set(held), at.at(lambda rated: rated.typical).set(True)]
    label = "Take what is typical of a bolt for {names}: {low}, not checked until you say that it is so"
    low = Number(held.low_kn, "force", "down")
    return Fix(
        Sentence(label, {"low": low}, {"names": listed([f.name for _, f in some])}), tuple(edits), allows="Shortfall"
    )


def typical_findings(look: Look) -> Says[None]:
    """Things tied to whose figures are typical of their kind: said once a station, with an act for each and for all.

    look: the station
    returns: nothing
    Source: J, our judgement: a figure of somebody else's is not checked for this one.
    """
    some = [(i, f) for i, f in _of(look) if f.typical]
    if not some:
        return
    title = "What is typical or taken over from elsewhere, and not known of what is here"
    said = say(
        "anchor.typical",
        "Not checked",
        f"point.{_leg(look, some[0][1])}" if look.rig.kind == "several" else "anchor",
        title,
        "{names}: put in what is known, by a mark, a test, or who placed it; or say that it holds what it says.",
        names=listed([f.name for _, f in some]),
        fix=_is_so(look, some),
    )
    each = tuple(_is_so(look, [x]) for x in some) if len(some) > 1 else ()
    yield replace(said.finding(look.drop.id), others=each)


def _leg(look: Look, feature: Rated) -> str:
    rig = look.rig
    return next((leg.id for leg in rig.legs if leg.anchor == feature.id), "") if rig.kind == "several" else ""


def _is_so(look: Look, some: list[tuple[int, Rated]]) -> Fix:
    edits = tuple(_place(look, i).at(lambda rated: rated.typical).set(False) for i, _ in some)
    names, hold = listed([f.name for _, f in some]), "holds" if len(some) == 1 else "hold"
    return Fix(
        Sentence("{names} {hold} what it says", {}, {"names": names, "hold": hold}),
        edits,
        allows="Shortfall",
        partly=True,
    )
