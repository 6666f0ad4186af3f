"""The end of every chain of workings: which fields of the plan a term was typed into, and what was typed there."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

from reamer.core.answer.say import Number, Quantity, Sentence
from reamer.core.answer.where import named, thing_at
from reamer.core.answer.working import Entered, Term, Working
from reamer.core.model import Drop, Known, Plan, Range
from reamer.core.plan.limits import limits_m


@dataclass(frozen=True, slots=True)
class _At:
    """Where a term is looked for: the plan, the drop, which of its states, and the working's key."""

    plan: Plan
    drop: Drop | None
    which: int
    key: str


# By a term's name: the fields that it came from. ``@`` stands for the thing that is named, wherever the shed, the party
# or the station has it; of several fields those that the thing has.
NAMED: tuple[tuple[str, tuple[str, ...]], ...] = (
    (r"measured length of (.+)", ("@/measured_m",)),
    (r"nominal length of (.+)", ("@/nominal_m",)),
    (r"laid length of (.+)", ("@/length_m",)),
    (r"mass of a metre of (.+)", ("@/mass_kg_m", "@/diameter_mm")),
    (r"mass of (.+) on its label", ("@/mass_kg_m",)),
    (r"mass of (.+) with kit", ("@/mass_kg",)),
    (r"girth of (.+), high end", ("@/girth_m",)),
    (r"(?:diameter|thickness) of (.+)", ("@/diameter_mm", "@/thickness_mm")),
    (r"opening of (.+)", ("@/opening_mm",)),
    (r"elongation of (.+), as a share", ("@/elongation_pct",)),
    (r"(?:rating|strength) of (.+?)(?:, the whole loop|, high end)?", ("@/rating_kn", "@/strength_kn")),
    (r"one strand of (.+?)(?:, unknotted)?", ("@/strength_kn",)),
    (r"(.+), unknotted(?:, the weaker)?", ("@/strength_kn",)),
    (r"length of (?!its box)(.+)", ("@/measured_m", "@/nominal_m")),
    (r"length of its box, .+()", ("{thing}/holds/long_m",)),
    (r"width of its box, .+()", ("{thing}/holds/wide_m",)),
    (r"height of its box, .+()", ("{thing}/holds/high_m",)),
    (r"slope of its bed toward the pull()", ("{thing}/holds/slope_deg",)),
    (r"depth of its base along the pull()", ("{thing}/holds/depth_m",)),
    (r"height of its centre()", ("{thing}/holds/high_m",)),
    (r"height of the webbing above its base()", ("{thing}/holds/height_m",)),
    (r"spacing of the holes, high end()", ("{thing}/spacing_m",)),
    (r"first hole to the surface()", ("{thing}/first_deg",)),
    (r"second hole to the surface()", ("{thing}/second_deg",)),
    (r"strands looked at all round and found good()", ("{thing}/good_strands",)),
    (r"one of its strands()", ("{thing}/holds",)),
    (r"how far the mark is off.*()", ("{rope}/middle_off_m",)),
    (r"shrinkage: .*()", ("{rope}/wet_since_measured",)),
    (r"rope tied out of use at damaged places()", ("{rope}/damage",)),
    (r"from (?:the|its) near face to the focal point()", ("{rig}/gain_m", "{rig}/first_gain_m", "{rig}/second_gain_m")),
    (r"extension, focal point to ring()", ("{rig}/extension_m",)),
    (r"angle between the two posts' lines()", ("{rig}/angle_deg",)),
    (r"swing at which it has most()", ("{rig}/swing_deg",)),
    (r"how much further it takes the ring()", ("{rig}/links",)),
    (r"rope given to the ride strand()", ("{system}/ride_m",)),
    (r"tail of the join()", ("{system}/tails_m", "{system}/tied_on/tails_m")),
    (r"bights()", ("{system}/bights",)),
    (r".+ block on its ring()", ("{system}/block_holds",)),
    (r".+, slips()|the join slips at.*()", ("{system}/slips_kn",)),
    (r"landing off to the side()|off to the side.*()", ("{drop}/landing/aside_m",)),
    (r"from the centre of (.+) to the focal point", ("@/girth_m",)),
    (r"rated impact force()", ("{tether}/impact_kn",)),
    (r"stiffness of the rope()", ("{system}/rope", "{system}/through", "{system}/other")),
    (r"people()", ("party",)),
    (r"(?:wraps|the cord|where it is clipped.*|its carabiner|the device's lower edge.*)()", ("party",)),
    (r"span, (?:low|high) end()", ("{station}/traverse/span_m",)),
    (r"sag, low end()", ("{station}/traverse/sag_m",)),
    (r"fall of the line()", ("{station}/traverse/slope_deg",)),
    (r"the guide's own margin()", ("policies/margin",)),
)
BY_NAME = tuple((re.compile(pattern), places) for pattern, places in NAMED)
QUANTITIES: tuple[tuple[str, Quantity], ...] = (
    ("_kg_m", "line mass"),
    ("_mm", "diameter"),
    ("_kg", "mass"),
    ("_deg", "degrees"),
    ("_pct", "percent"),
    ("_kn", "force"),
    ("_m", "length"),
)


def with_entered(plan: Plan, drop: Drop | None, workings: Iterable[Working]) -> tuple[Working, ...]:
    """Workings, each term of which says which fields it was typed into, and what was typed there.

    plan: the plan; drop: the one they are of, None for the shed
    workings: as they were recorded
    returns: the same, with the fields of what no working computed and no table holds
    Source: none, a look-up.
    """
    made = []
    for w in workings:
        at = _At(plan, drop, 1 if w.key.startswith("last.") else 0, w.key.removeprefix("last."))
        made.append(replace(w, terms=tuple(replace(t, entered=_entered(at, t)) for t in w.terms)))
    return tuple(made)


def _entered(at: _At, term: Term) -> tuple[Entered, ...]:
    """The fields a term was typed into."""
    if term.working or re.match(r"(STD|HB|P|J)\b", term.source):
        return ()
    made = []
    for place in _places(at, term):
        found = thing_at(at.plan, place, at.drop)
        if found is not None:
            made.append(Entered(place, named(at.plan, place, at.drop), _said(place.rpartition("/")[2], found)))
    return tuple(made)


def _places(at: _At, term: Term) -> list[str]:
    if at.drop is not None and term.source.startswith("section") and term.source != "section: entered":
        return _of_section(at, term)
    own = _thing(at, term.name)
    if own:
        return [f"{own}/{field}" for field in ("holds", "rating_kn", "strength_kn")]
    for pattern, places in BY_NAME:
        found = pattern.fullmatch(term.name)
        if found:
            thing = _thing(at, next((g for g in found.groups() if g), ""))
            filled = [_filled(at, p) for p in places]
            return [p.replace("@", thing) for p in filled if thing or "@" not in p]
    return []


def _of_section(at: _At, term: Term) -> list[str]:
    """Every figure of the section, or the places of an anchor of several points."""
    assert at.drop is not None
    if term.source != "section":
        return [_filled(at, "{station}/hanging" if "everyone" in term.source else "{rig}/legs")]
    here, section = f"drops/#{at.drop.id}/section", at.drop.section
    if section.kind == "quick":
        return [f"{here}/{k}" for k in ("setback_m", "edge_fall_m", "height_m", "face_deg", "recess_m")]
    return [f"{here}/shots/#{s.id}/{k}" for s in section.shots for k in ("slope_m", "incl_deg")]


def _thing(at: _At, name: str) -> str:
    """Where the thing of a name stands, "" where nothing is called so."""
    shed = at.plan.shed
    lists: list[tuple[str, Iterable[Any]]] = [
        (f"shed/{n}", getattr(shed, n)) for n in ("ropes", "webbing", "slings", "rings", "devices", "tethers", "loops")
    ]
    lists.append(("party", at.plan.party))
    if at.drop is not None:
        lists.insert(0, (f"drops/#{at.drop.id}/station/features", at.drop.station.features))
        lists.append((f"drops/#{at.drop.id}/station/deviations", at.drop.station.deviations))
    return next((f"{where}/#{x.id}" for where, things in lists for x in things if x.name == name), "")


def _filled(at: _At, place: str) -> str:
    shed = re.match(r"(rope|tether)\.(.+?)(?:\.[ab])?\.(?:low|high|modulus)$", at.key)
    kit = {shed[1]: f"shed/{shed[1]}s/#{shed[2]}"} if shed else {}
    if at.drop is None:
        return re.sub(r"\{(\w+)\}", lambda m: kit.get(m[1], ""), place)
    station = f"drops/#{at.drop.id}/station"
    state = f"{station}/states/{at.which}"
    rig = at.drop.station.states[min(at.which, len(at.drop.station.states) - 1)].rig
    tied = str(getattr(rig, "post", "") or getattr(rig, "anchor", ""))
    filled = {
        "drop": f"drops/#{at.drop.id}",
        "station": station,
        "rig": f"{state}/rig",
        "system": f"{state}/system",
        "thing": f"{station}/features/#{tied}",
        **kit,
    }
    return re.sub(r"\{(\w+)\}", lambda m: filled.get(m[1], ""), place)


def _said(key: str, value: Any) -> Sentence:
    """What was typed into a field, with how it was measured and what its error is."""
    if isinstance(value, Known):
        quantity: Quantity = next((q for end, q in QUANTITIES if key.endswith(end)), "count")
        numbers = {"value": Number(value.value, quantity)}
        told = "{value}"
        if value.method != "given":
            told += f", by {value.method}"
        if key.endswith("_m"):
            low, high = limits_m(value)
            if high - low > 1e-9:
                numbers["error"] = Number((high - low) / 2, "fine length", "up")
                told += ", ± {error}" + ("" if value.error else " as its method has it")
        told += f", on {value.on}" if value.on else ""
        return Sentence(told + ("{by}" if value.by else ""), numbers, {"by": f", by {value.by}"} if value.by else {})
    if isinstance(value, Range):
        numbers = {"low": Number(value.low_kn, "force", "down"), "high": Number(value.high_kn, "force", "up")}
        told = "{low}" if value.low_kn == value.high_kn else "{low} to {high}"
        return Sentence(f"{told}: {{source}}", numbers, {"source": value.source})
    if getattr(value, "kind", "") == "unknown":
        return Sentence("unknown", {}, {})
    return Sentence("{value}", {}, {"value": value}) if isinstance(value, str) else Sentence("", {}, {})
