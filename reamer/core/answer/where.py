"""Where in a plan a finding is settled: the field that whoever reads it should be taken to."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from reamer.core.answer.findings import Finding
from reamer.core.model import SHED_LISTS, Drop, Person, Plan, State
from reamer.core.plan.labels import label_of

# The field that settles each code. ``*`` stands for any way there: of several fields the first of which nothing is
# known. What stands in braces is looked up in the plan; a name that leads nowhere leaves the whole drop.
SETTLED_BY = {
    "section.unknown": "{drop}/section",
    "section.recess": "{drop}/section",
    "edge.unknown": "{drop}/section/*edge",
    "edge.sharp": "{drop}/section/*padded",
    "ring.beyond": "{rig}/*gain_m",
    "anchor.none": "{rig}/kind",
    "anchor.missing": "{rig}/kind",
    "anchor.kind": "{rig}/kind",
    "anchor.weak": "{rig}/kind",
    "anchor.unknown": "{thing}/holds",
    "anchor.typical": "{thing}/holds",
    "legs.unknown": "{rig}/*_m",
    "legs.mixed": "{rig}/focal",
    "legs.angle": "{rig}/*_m",
    "legs.removal": "{thing}/holds",
    "legs.cascade": "{thing}/holds",
    "legs.drop": "{rig}/focal",
    "load.hanging": "{station}/hanging",
    "kit.typical": "",
    "gear.unread": "shed/unread",
    "load.unknown": "{who}/mass_kg",
    "tree.thin": "{thing}/girth_m",
    "tree.sound": "{thing}/sound",
    "ice.strength": "{rig}/kind",
    "ice.meets": "{thing}/*_deg",
    "ice.kind": "{thing}/ice",
    "ice.freezes": "{thing}/wet_cold",
    "ice.found": "{thing}/seen_whole",
    "ice.backup": "{thing}/backed_up",
    "inspection.old": "on",
    "webbing.unknown": "{webbing}/strength_kn",
    "webbing.weak": "{rig}/pattern",
    "webbing.wet": "{station}/wet",
    "webbing.angle": "{rig}/gain_m",
    "webbing.cut": "{rig}/webbing",
    "webbing.stock": "shed/webbing/#{id}/pieces",
    "webbing.knot": "{rig}/pattern",
    "webbing.abrades": "{rig}/pattern",
    "webbing.surface": "{thing}/sharpness",
    "part.single": "{state}/accepted",
    "ring.unknown": "{ring}/rating_kn",
    "ring.thin": "{rig}/ring",
    "ring.small": "{rig}/ring",
    "rope.feet": "shed/ropes/#{rope}/measured_m",
    "ring.opening": "{ring}/opening_mm",
    "ring.weak": "{rig}/ring",
    "connector.lie": "{rig}/*loaded",
    "link.unknown": "{link}",
    "link.weak": "{rig}/links",
    "link.reach": "{rig}/links",
    "device.none": "{who}/device",
    "device.unknown": "shed/devices/#{id}/rating_kn",
    "device.weak": "{who}/device",
    "device.range": "shed/devices/#{id}/thinnest_mm",
    "device.kind": "{system}/device",
    "tether.none": "{who}/tether",
    "tether.unknown": "shed/tethers/#{id}/strength_kn",
    "tether.weak": "{who}/tether",
    "tether.fall": "shed/tethers/#{id}",
    "rope.unknown": "shed/ropes/#{rope}/strength_kn",
    "rope.weak": "{system}/kind",
    "rope.nominal": "shed/ropes/#{rope}/measured_m",
    "rope.length": "shed/ropes/#{rope}/nominal_m",
    "rope.too-short": "{system}/kind",
    "rope.outside": "shed/ropes/#{rope}/damage",
    "rope.passed": "shed/ropes/#{rope}/damage",
    "block.unchecked": "{system}/block_holds",
    "block.weak": "{system}/block",
    "join.passes": "{system}/*knot",
    "join.unchecked": "{system}/*slips_kn",
    "join.slips": "{system}/*slips_kn",
    "join.weak": "{system}/*knot",
    "join.pull": "{system}/*slips_kn",
    "pull.side": "{state}/pulled_lies",
    "pull.cracks": "{drop}/cracks",
    "pull.current": "{system}/kind",
    "pull.textile": "{system}/kind",
    "pull.undone": "{system}/kind",
    "pull.unknown": "{system}/kind",
    "pull.hard": "{system}/kind",
    "system.missing": "{system}",
    "system.middle": "shed/ropes/#{rope}/middle_off_m",
    "reach.short": "{system}",
    "reach.unknown": "{system}",
    "reach.stance": "{drop}/landing/next_m",
    "reach.aside": "{drop}/landing/aside_m",
    "deviation.unknown": "{station}/deviations/#{id}",
    "deviation.weak": "{station}/deviations/#{id}/holds",
    "deviation.unsaid": "{station}/deviations/#{id}",
    "deviation.early": "{station}/deviations/#{id}/by",
    "deviation.catches": "{station}/deviations/#{id}",
    "end.open": "{system}/stoppers",
    "end.stretch": "shed/ropes/#{rope}/elongation_pct",
    "person.unknown": "party/#{id}/mass_kg",
    "margin.low": "policies/margin",
    "ledger.end": "{state}/threaded",
    "ledger.end-above": "{state}/threaded",
    "ledger.knot": "{state}/threaded",
    "ledger.two-places": "{system}/kind",
    "ledger.not-carried": "carry/ropes",
    "kit.nobody": "carry/ropes",
    "time.onward": "drops/*/onward",
    "time.unknown": "start",
    "time.late": "start",
    "hitch.unknown": "{who}/hitch",
    "hitch.grips": "{who}/hitch",
    "rehearse.full": "{drop}/landing/room",
    "rehearse.none": "{system}/kind",
    "rehearse.doubt": "{system}/kind",
    "rehearse.textile": "{system}/kind",
}
# What settles every other code of a family.
FAMILY = {
    "inspection": "{station}/inspections",
    "system": "{system}/kind",
    "device": "{who}/device",
    "tether": "{who}/tether",
    "reach": "{system}",
    "release": "{system}/kind",
    "block": "{system}/block",
    "bights": "{system}/bights",
    "lower": "{system}/kind",
    "traverse": "{station}/traverse",
    "party": "party",
    "plan": "drops",
    "gear": "shed/{list}/#{id}",
    "kit": "shed/ropes/#{rope}/nominal_m",
    "time": "start",
    "event": "contingencies",
    "end": "{system}",
    "rehearse": "{station}/through",
    "attachment": "party/#{id}/attachment",
    "figure": "own_figures",
}
LISTS = {
    "rope": "ropes",
    "webbing": "webbing",
    "sling": "slings",
    "ring": "rings",
    "device": "devices",
    "tether": "tethers",
    "loop": "loops",
    "person": "party",
}


def settled_by(plan: Plan, finding: Finding, drop: Drop | None = None) -> str:
    """The field that settles a finding.

    plan: the plan; finding: of it; drop: as it is looked at, None to take the plan's
    returns: the field's place, with things by their ids, as in ``shed/ropes/#r1/measured_m``; "" where there is none
    Source: none, a look-up.
    """
    template = SETTLED_BY.get(finding.code, FAMILY.get(finding.code.split(".")[0], ""))
    about = finding.subject
    drop_id = about.drop or (finding.drops[0] if finding.drops else "")
    drop = drop or next((d for d in plan.drops if d.id == drop_id), None)
    if drop is None and re.search(r"\{(?:drop|rig|system|station|state|thing|webbing|ring)\}", template):
        return ""
    if finding.code == "time.unknown":
        spot = plan.spot
        whole = spot is not None and None not in (spot.latitude_deg, spot.longitude_deg) and spot.zone
        asked = "on" if plan.on is None else "start" if plan.start is None else "start" if whole else "spot"
        return about.part.partition(".")[2] or asked
    if finding.code == "block.passes" and finding.working:
        # It rests on how wide the knot is, which can be measured.
        template = "shed/ropes/#{tied}/widths"
    if drop is not None and (finding.code.endswith(".unknown") or finding.code == "webbing.surface"):
        template = _root(plan, drop, finding) or template
    if finding.code == "load.hanging" and drop is not None and {*drop.station.hanging} <= {p.id for p in plan.party}:
        template = "{station}/together"  # two at once, and the party is one
    family, _, named = about.part.partition(".")
    ends = re.match(r"(.+)-[ab]$", named)
    names = {"id": named, "rope": ends[1] if (ends and family != "rope") or (ends and not _has(plan, named)) else named}
    names["who"] = _who(plan, template, named)
    names["list"] = LISTS.get(family, "")
    if drop is not None:
        names |= _names(plan, drop, 1 if about.state == "last" and len(drop.station.states) > 1 else 0, named)
    made = re.sub(r"\{(\w+)\}", lambda m: names.get(m[1], ""), template)
    return "party" if made.startswith("party/") and not plan.party else made


def _who(plan: Plan, template: str, named: str) -> str:
    """The first of the party who has what is named, or has nothing where something is wanted."""
    key = template.rpartition("/")[2]

    def meant(person: Person) -> bool:
        has = getattr(person, key, None)
        return has is None or has == named or getattr(has, "kind", "") == "unknown"

    who = next((p for p in plan.party if meant(p)), plan.party[0] if plan.party else None)
    return f"party/#{who.id}" if who else "party"


def _has(plan: Plan, rope: str) -> bool:
    return any(r.id == rope for r in plan.shed.ropes)


def _root(plan: Plan, drop: Drop, finding: Finding) -> str:
    """What has to be entered before anything can be said: of a strand the section, the landing or a rope's length, of
    webbing the girth that it goes round."""
    state = drop.station.states[-1 if finding.subject.state == "last" else 0]
    if finding.code == "webbing.surface":
        # Of rock that a part lies on: the post's, where nobody has said it, else that of the edge that it crosses.
        rig, (family, _, named) = state.rig, finding.subject.part.partition(".")
        things = [rig.first, rig.second] if rig.kind == "two posts" else [tied(state, named)]
        posts = [f for f in drop.station.features if f.kind == "post" and f.id in things and f.surface == "rock"]
        unsaid = next((f.id for f in posts if f.sharpness == "unknown" and family != "link"), None)
        return f"{{station}}/features/#{unsaid}/sharpness" if unsaid else "{drop}/section/*edge"
    if finding.code == "webbing.unknown":
        post = next((f for f in drop.station.features if f.id == tied(state, "")), None)
        return "{thing}/girth_m" if post and post.kind == "post" and post.girth_m.kind == "unknown" else ""
    if finding.code not in ("reach.unknown", "pull.unknown"):
        return ""
    section = drop.section
    figures = (
        (section.setback_m, section.edge_fall_m, section.height_m, section.face_deg, section.recess_m)
        if section.kind == "quick"
        else tuple(f for s in section.shots for f in (s.slope_m, s.incl_deg))
    )
    if any(f.kind == "unknown" for f in figures):
        return "{drop}/section"
    if finding.code == "reach.unknown" and drop.landing.kind == "unknown":
        return "{drop}/landing/kind"
    system = state.system
    used = [getattr(system, k, None) for k in ("rope", "through", "other", "cord", "reserve_rope")]
    for rope in plan.shed.ropes:
        if rope.id in used and rope.nominal_m.kind == "unknown" and rope.measured_m.kind == "unknown":
            return f"shed/ropes/#{rope.id}/nominal_m"
    return ""


def _names(plan: Plan, drop: Drop, which: int, named: str) -> dict[str, str]:
    """What the names in braces stand for at one drop."""
    station = f"drops/#{drop.id}/station"
    place, state = f"{station}/states/{which}", drop.station.states[which]
    rig = f"{place}/rig"
    thing = tied(state, named)
    found = any(f.id == thing for f in drop.station.features)
    return {
        "drop": f"drops/#{drop.id}",
        "station": station,
        "state": place,
        "rig": rig,
        "system": f"{place}/system",
        "tied": getattr(state.system, "rope", ""),
        "thing": f"{station}/features/#{thing}" if found else rig,
        "webbing": _shed(plan, ("webbing", "slings"), getattr(state.rig, "webbing", "")) or f"{rig}/webbing",
        "ring": _shed(plan, ("rings",), getattr(state.rig, "ring", "")) or f"{rig}/ring",
        "link": _link(plan, state, named) or f"{rig}/links",
    }


def tied(state: State, named: str) -> str:
    """What a rig is tied to.

    state: how the station is rigged; named: of several, the leg or the post
    returns: the feature's id; of several points the one that is named, else the first
    Source: none, a look-up.
    """
    rig = state.rig
    if rig.kind == "several":
        return next((leg.anchor for leg in rig.legs if leg.id == named), rig.legs[0].anchor)
    if rig.kind == "two posts":
        return named if named in (rig.first, rig.second) else rig.first
    return str(getattr(rig, "post", "") or getattr(rig, "anchor", ""))


def _link(plan: Plan, state: State, named: str) -> str:
    """What is hung between the tie and the ring, where the shed has it."""
    link = next((x for x in getattr(state.rig, "links", ()) if x.id == named), None)
    item = getattr(link, "sling", "") or getattr(link, "ring", "") or getattr(link, "webbing", "")
    return _shed(plan, ("slings", "rings", "webbing"), item)


def _shed(plan: Plan, lists: Iterable[str], item: str | None) -> str:
    return next((f"shed/{n}/#{item}" for n in lists if any(x.id == item for x in getattr(plan.shed, n))), "")


def named(plan: Plan, field: str, drop: Drop | None = None) -> str:
    """What the screen calls a field; a thing is called by its own name.

    plan: the plan; field: its place, "" for none; drop: the one it is of
    returns: its name, "" for none
    Source: none, a look-up.
    """
    top, sign, thing = field.rpartition("#")
    if sign and "/" not in thing:
        lists = (*(getattr(plan.shed, n) for n in SHED_LISTS), plan.party, drop.station.deviations if drop else ())
        return next((x.name for x in (y for of in lists for y in of) if x.id == thing), label_of(top))
    return label_of(field) if field else ""


def thing_at(plan: Plan, place: str, drop: Drop | None = None) -> Any:
    """What stands at a place of the plan.

    plan: the plan; place: with things by index or ``#id``; drop: the one it is of, as it is looked at
    returns: the value, None where nothing stands there
    Source: none, a look-up.
    """
    here: Any = plan
    for key in place.split("/"):
        if here is plan.drops and drop is not None and key == f"#{drop.id}":
            here = drop
        elif isinstance(here, tuple):
            here = next((x for n, x in enumerate(here) if key in (f"#{getattr(x, 'id', '')}", str(n))), None)
        else:
            here = getattr(here, key, None)
    return here


def placed(plan: Plan, findings: Iterable[Finding], drop: Drop | None = None) -> tuple[Finding, ...]:
    """Findings, each with the field that settles it and its name on screen.

    plan: the plan; findings: of it; drop: the one they are all of, as it is looked at
    returns: the same findings in the same order
    Source: none, a look-up.
    """
    made = []
    for f in findings:
        field = f.field or settled_by(plan, f, drop)
        made.append(replace(f, field=field, field_name=named(plan, field, drop)))
    return tuple(made)
