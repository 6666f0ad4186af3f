"""Whether the rest holds the fall when one of several points fails."""

from __future__ import annotations

from reamer.core.anchor.removal import Removal
from reamer.core.anchor.several import SeveralView
from reamer.core.anchor.two_posts import TwoPostsView
from reamer.core.answer.findings import Fix, Says, say
from reamer.core.answer.look import Look
from reamer.core.answer.say import Number, Sentence
from reamer.core.load.asked import Load
from reamer.core.load.features import At
from reamer.core.load.part import Part
from reamer.core.model import Several, TwoPosts, decided
from reamer.core.tables import row


def removal_findings(
    view: SeveralView | TwoPostsView, rig: Several | TwoPosts, parts: list[Part], rider: Load, here: At
) -> Says[None]:
    """What happens when one point fails: does all that then carries the fall hold it, and how far does it fall.

    view: the anchor as computed; rig: as it is tied; parts: of the load path; rider: the load; here: the station
    returns: nothing
    Source: HB and J.
    """
    worst = None
    for gone in view.removals:
        if gone.peak is None:
            title, why = "What happens if {point} fails is not known", "Not checked: {why}."
            yield say("legs.removal", "Not checked", f"point.{gone.id}", title, why, point=gone.name, why=gone.why)
            continue
        for p, pull in _pulled(gone, gone.peak, rig, parts, (rider, here.load)):
            if p.low is not None and pull > p.low.value and (worst is None or pull / p.low.value > worst[0]):
                worst = (pull / p.low.value, gone, p, Number(pull, "force", "up"))
    if worst:
        _, gone, p, more = worst
        yield say(
            "legs.cascade",
            "Shortfall",
            f"point.{gone.id}",
            "If {point} fails, {next} may follow",
            "The load falls {drop}, peaks at {peak}, and puts {pull} on a part that holds {low}.",
            point=gone.name,
            next=p.name,
            drop=gone.drop,
            peak=gone.peak,
            pull=more,
            low=p.low,
            working=gone.peak,
        )
    falls = [g for g in view.removals if g.peak is not None and g.drop.value >= row("loads", "legs.drop").low]
    if falls:
        yield from _far(here.look, rig, max(falls, key=lambda g: g.drop.value), len(falls))


def _pulled(
    gone: Removal, peak: Number, rig: Several | TwoPosts, parts: list[Part], loads: tuple[Load, Load]
) -> list[tuple[Part, float]]:
    """Every part that the fall comes on, and what it gets of it: all who hang there fall; the rope, and what is on it,
    get the rider's part."""
    (rider, everyone), by_key = loads, {p.key: p for p in parts}
    own = rider.static.value / everyone.static.value if rider.static and everyone.static else 1.0
    names = [leg.id for leg in rig.legs] if rig.kind == "several" else ["first", "second"]
    pulled: list[tuple[Part, float]] = []
    for name, pull in zip(names, gone.pulls, strict=True):
        if name != gone.id:
            pulled += [(by_key[k], pull.value) for k in (f"point.{name}", f"leg.{name}", "loop") if k in by_key]
    for p in parts:
        family, share = p.key.split(".")[0], 0.0
        if family in ("link", "ring") or (family == "webbing" and rig.kind == "two posts"):
            share = 1.0
        elif family in ("block", "device") and p.where == "riding":
            share = own
        elif family == "rope" and p.demand and rider.peak:
            share = own * (p.demand.value / rider.peak.value)
        if share:
            pulled.append((p, peak.value * share))
    return pulled


def _far(look: Look, rig: Several | TwoPosts, most: Removal, count: int) -> Says[None]:
    """A focal point that falls far when a point fails, of so many that do."""
    advice, fix = "Points closer together, or a focal point further out, shorten it.", None
    if rig.kind == "several" and rig.focal == "limited":
        advice = "Less slack between the limiting knots shortens it."
    elif rig.kind == "several" and rig.focal == "sliding":
        advice, place = "Limiting knots, or a knotted focal point, shorten the fall.", look.rig_as(Several)
        slack = decided(row("loads", "legs.slack").high)
        edits = place.at(lambda r: r.focal).set("limited"), place.at(lambda r: r.slack_m).set(slack)
        fix = Fix(Sentence("Tie limiting knots"), edits)
    yield say(
        "legs.drop",
        "Caution",
        f"point.{most.id}",
        "If {point} fails, the focal point falls {drop}" + (", and not much less for another" if count > 1 else ""),
        "It peaks at {peak}. " + advice,
        point=most.name,
        drop=most.drop,
        peak=most.peak,
        working=most.drop,
        fix=fix,
    )
