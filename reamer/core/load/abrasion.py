"""Textile and rope on coarse or sharp rock."""

from __future__ import annotations

from reamer.core.anchor.patterns import EXTENDED
from reamer.core.answer.codes import Severity
from reamer.core.answer.findings import Says, say
from reamer.core.answer.look import Look
from reamer.core.load.part import Part
from reamer.core.model import Direct, Several, TwoPosts, Wrap
from reamer.core.plan.rigs import tied_to

Rigged = Wrap | Direct | Several | TwoPosts


def abrasion(look: Look, parts: list[Part], tie_edges: tuple[tuple[float, str], ...]) -> Says[None]:
    """Textile on coarse or sharp rock.

    look: the station; parts: of the load path; tie_edges: that the tie crosses, how far along it [m], how sharp
    returns: nothing
    Source: P, common practice, no source, for single points; J for the rest.
    """
    rig = look.rig
    if rig.kind == "none":
        return
    worn: list[tuple[str, str, Part, bool]] = []
    unknown: list[Part] = []
    for p in parts:
        if not p.textile or p.where != "riding":
            continue
        # Webbing doubled between two overhands is redundant where it crosses an edge; its knots and ends are not.
        doubled = any(p.key == f"link.{link.id}" and link.kind == "webbing" for link in rig.links)
        where, single = _where(look, p.key, rig, tie_edges), p.single and not doubled
        hurt = sorted(((e, place) for place, e in where if e in ("coarse", "sharp")), reverse=True)
        if hurt and (single or hurt[0][0] == "sharp"):
            worn.append((*hurt[0], p, single))
        elif any(e == "unknown" for _, e in where):
            unknown.append(p)
    for alone in (True, False):
        yield from _worn(look, [w for w in worn if w[3] == alone], alone)
    for alone in (True, False):
        yield from _unknown(look, [p for p in unknown if p.single == alone], alone)


def _where(look: Look, key: str, rig: Rigged, tie_edges: tuple[tuple[float, str], ...]) -> list[tuple[str, str]]:
    """What rock a part lies on: where, and how sharp it is."""
    legs = {f"leg.{leg.id}": leg.anchor for leg in rig.legs} if isinstance(rig, Several) else {}
    at: list[str] = []
    if key in legs:
        at = [legs[key]]
    elif key in ("webbing", "loop") and not isinstance(rig, Direct):
        at = tied_to(rig)
    posts = [f for i in at if (f := look.feature(i)) is not None and f.kind == "post" and f.surface == "rock"]
    lies = _lies(key, rig)
    crossed = [e for along, e in tie_edges if lies is None or lies[0] - 1e-9 <= along <= lies[1] + 1e-9]
    return [*((f.name, f.sharpness) for f in posts), *(("an edge it crosses", e) for e in crossed)]


def _worn(look: Look, some: list[tuple[str, str, Part, bool]], alone: bool) -> Says[None]:
    """Textile that rock may cut: a shortfall where it alone holds the rider."""
    if not some:
        return
    sharp, place, p, _ = max(some, key=lambda w: w[0])
    title, why = "{part} lies on {sharpness} rock", "At {place} it may be cut or worn through"
    if alone:
        title += " with nothing beside it"
        why += ", and it alone holds the rider. Tie a redundant pattern, or pad and move it."
    else:
        why += ", and both strands lie there. Pad or move it."
    names = " and ".join(dict.fromkeys(w[2].name for w in some))
    severity: Severity = "Shortfall" if alone else "Caution"
    yield say("webbing.abrades", severity, p.key, title, why, part=names, sharpness=sharp, place=place)


def _unknown(look: Look, some: list[Part], alone: bool) -> Says[None]:
    """Rock that nobody has looked at is as bad as what it may turn out to be: where both strands would have to wear
    through, a caution."""
    if not some:
        return
    why = "Feel it before anybody hangs there; if it is sharp, pad or move what lies on it."
    severity: Severity = "Caution"
    if alone:
        severity, why = "Not checked", "Whether it may be worn through is not checked."
    names, title = " and ".join(dict.fromkeys(p.name for p in some)), "How sharp the rock is under {part} is unknown"
    yield say("webbing.surface", severity, some[0].key, title, why, part=names)


def _lies(key: str, rig: Rigged) -> tuple[float, float] | None:
    """From where to where along the tie a part lies [m]; None where that is not known: then it may lie anywhere."""
    own = rig.out_m if rig.kind == "several" else rig.first_gain_m if rig.kind == "two posts" else rig.gain_m
    end, more = own.known, 0.0 if rig.kind != "wrap" or rig.pattern != EXTENDED else rig.extension_m.known
    if end is None or more is None:
        return None
    end += more
    if not key.startswith("link."):
        return 0.0, end
    for link in rig.links:
        further = link.reach_m.known
        if further is None:
            return None
        if key == f"link.{link.id}":
            return end, end + further
        end += 0.0 if link.kind == "connector" and link.stacked else further
    return None


def over_rock(look: Look) -> Says[None]:
    """A rope straight round a post of rock.

    look: the station
    returns: nothing
    Source: J, our judgement: the loaded rope moves there.
    """
    rig = look.rig
    post = look.feature(rig.anchor) if rig.kind == "direct" and rig.ring is None else None
    if post is None or post.kind != "post" or post.surface != "rock" or look.system.kind == "none":
        return
    if post.sharpness == "sharp":
        title, why = (
            "The rope runs straight round sharp rock",
            "{name} may cut it, loaded or pulled. Tie webbing with a",
        )
        yield say("edge.sharp", "Shortfall", "anchor", title, why + " ring round it.", name=post.name)
    elif post.sharpness == "unknown":
        title, why = "How sharp {name} is under the rope is unknown", "Whether it may be cut is not checked."
        yield say("webbing.surface", "Not checked", "anchor", title, why, name=post.name)
