"""What a plan is. These models are the file format, the API's body and the source of the front end's types.

Every measured number is a Figure: known, with its value and method, or unknown, with why. Values are in base
units named in the field (``_m``, ``_mm``, ``_kn``, ``_kg``, ``_deg``). A strand is named by its rope's
permanent end. Trees, blocks and bolts belong to the station; the tying belongs to one of its states.
"""

from __future__ import annotations

import datetime as dt
import unicodedata
from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field, StringConstraints, TypeAdapter, model_validator
from pydantic_core import PydanticCustomError

from reamer.core import section as _section
from reamer.core.errors import GeometryError, TableError
from reamer.core.tables import replaceable, row

FORMAT = 1
MOST_DROPS = 200


class M(BaseModel):
    """Base of all: nothing unknown slips in, nothing changes after it is made, no NaN or infinity."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


def _readable(allowed: str):
    """A validator that holds text to characters that can be shown: no control characters, and none that turn the direction of writing."""

    def check(text: str) -> str:
        bad = next((c for c in text if c not in allowed and (unicodedata.category(c) in ("Cc", "Cs") or c in TURNS)), None)
        if bad is not None:
            raise PydanticCustomError("text", "it holds the character U+{code}, which cannot be shown", {"code": f"{ord(bad):04X}"})
        return text

    return AfterValidator(check)


def _written(value: object) -> object:
    if not isinstance(value, (str, dt.date)):
        raise PydanticCustomError("date", "a date is written as 2027-06-12")
    return value


TURNS = "\u200e\u200f\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069"
# A number is a number and a yes is a yes: nothing is guessed from text, and 0 is no date.
Num = Annotated[float, Field(strict=True)]
Flag = Annotated[bool, Field(strict=True)]
Date = Annotated[dt.date, BeforeValidator(_written)]
Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80), _readable("")]
Text = Annotated[str, StringConstraints(max_length=4000), _readable("\n\r\t")]
Line = Annotated[str, StringConstraints(strip_whitespace=True, max_length=300), _readable("")]
Tri = Literal["yes", "no", "unknown"]
Method = Literal["tape", "rangefinder", "known rope", "guidebook", "eye", "given"]
Sharpness = Literal["rounded", "coarse", "sharp", "unknown"]


class Error(M):
    """A figure's own limit of error, instead of its method's: a share of the value, or a length in metres."""

    kind: Literal["share", "length"]
    value: Annotated[Num, Field(ge=0, le=100)]

    @model_validator(mode="after")
    def _at_most_all(self) -> Error:
        if self.kind == "share" and self.value > 1:
            raise PydanticCustomError("out_of_range", "a figure's error is at most 100 % of it, not {value} %", {"where": "value", "value": f"{self.value * 100:g}"})
        return self


class Known(M):
    """A number somebody measured, was given or decided."""

    kind: Literal["known"]
    value: Num
    method: Method
    error: Error | None = None
    on: Date | None = None


class Unknown(M):
    """A number nobody knows yet, and why."""

    kind: Literal["unknown"]
    why: Annotated[Line, StringConstraints(max_length=200)] = ""


Figure = Annotated[Known | Unknown, Field(discriminator="kind")]


def _whole(figure: Known | Unknown) -> Known | Unknown:
    """Refuse a count that is no whole number."""
    if figure.kind == "known" and figure.value != int(figure.value):
        raise PydanticCustomError("whole", "a count is a whole number, not {value}", {"value": f"{figure.value:g}"})
    return figure


def _within(low: float, high: float, unit: str, what: str, surveyed: bool = False):
    """A validator that holds a figure inside the range a person could mean."""

    def check(figure: Known | Unknown) -> Known | Unknown:
        if figure.kind == "known":
            if not low <= figure.value <= high:
                raise PydanticCustomError("out_of_range", "{what} must lie from {low} to {high}{unit}, not {value}", {
                    "what": what, "low": f"{low:g}", "high": f"{high:g}", "unit": f" {unit}" if unit else "", "value": f"{figure.value:g}"})
            if surveyed and figure.method == "given":
                raise PydanticCustomError("no_method", "{what} needs the method it was measured by: tape, "
                                          "rangefinder, known rope, guidebook or eye", {"what": what})
        return figure

    return AfterValidator(check)


Setback = Annotated[Figure, _within(0, 200, "m", "a set-back", True)]
EdgeFall = Annotated[Figure, _within(-20, 100, "m", "the fall to the edge", True)]
Height = Annotated[Figure, _within(0.5, 600, "m", "a drop's height", True)]
Recess = Annotated[Figure, _within(0, 100, "m", "a recess", True)]
Slope = Annotated[Figure, _within(0.05, 600, "m", "a slope distance", True)]
Girth = Annotated[Figure, _within(0.05, 40, "m", "a girth", True)]
Fibre = Literal["nylon", "polyester", "HMPE", "aramid", "polypropylene", "unknown"]
FaceAngle = Annotated[Figure, _within(15, 90, "°", "a face angle")]
Inclination = Annotated[Figure, _within(-170, 90, "°", "an inclination")]
Gain = Annotated[Figure, _within(0.01, 60, "m", "the reach of the tie")]
Extension = Annotated[Figure, _within(0.05, 60, "m", "the extension")]
RopeLength = Annotated[Figure, _within(1, 600, "m", "a rope's length")]
Diameter = Annotated[Figure, _within(4, 16, "mm", "a rope's diameter")]
Elongation = Annotated[Figure, _within(0.1, 60, "%", "an elongation")]
MiddleOff = Annotated[Figure, _within(0, 50, "m", "how far the middle mark is off")]
RideLength = Annotated[Figure, _within(0.5, 600, "m", "the ride strand's length")]
Mass = Annotated[Figure, _within(15, 250, "kg", "a person's weight with kit")]
Thickness = Annotated[Figure, _within(0.5, 60, "mm", "a thickness")]
Opening = Annotated[Figure, _within(5, 200, "mm", "an opening")]
Stock = Annotated[Figure, _within(0, 1000, "m", "a piece of webbing")]
LaidLength = Annotated[Figure, _within(0.1, 10, "m", "a sling's laid length")]
LinkReach = Annotated[Figure, _within(0, 20, "m", "how much further a link takes the ring")]
LegAngle = Annotated[Figure, _within(0, 170, "°", "an angle between legs")]
RopeMass = Annotated[Figure, _within(0.01, 0.3, "kg/m", "a rope's mass")]
BoxSide = Annotated[Figure, _within(0, 20, "m", "a block's measure")]
Offset = Annotated[Figure, _within(-30, 30, "m", "a place")]
Impact = Annotated[Figure, _within(2, 20, "kN", "an impact force")]
Aside = Annotated[Figure, _within(0, 60, "m", "how far it lies off to the side", True)]
TetherLength = Annotated[Figure, _within(0.1, 10, "m", "a tether's length")]


class Range(M):
    """What something holds, low to high, and who says so or why."""

    kind: Literal["range"]
    low_kn: Annotated[Num, Field(gt=0, le=1000)]
    high_kn: Annotated[Num, Field(gt=0, le=1000)]
    source: Annotated[Line, StringConstraints(min_length=1)]

    @model_validator(mode="after")
    def _ordered(self) -> Range:
        if self.low_kn > self.high_kn:
            raise PydanticCustomError("range", "the low end {low} kN lies above the high end {high} kN",
                                      {"low": f"{self.low_kn:g}", "high": f"{self.high_kn:g}"})
        return self


Capacity = Annotated[Range | Unknown, Field(discriminator="kind")]


# The section of a drop

# The rock of one face, where it is another than the drop's.
Face = Literal["as the drop", "smooth", "coarse"]


class Quick(M):
    """A drop in five figures: set-back, fall to the edge, height, face angle (90° plumb) and recess. ``padded``: textile lies on its
    edge under the rope, to be had back; ``face``: of the wall."""

    kind: Literal["quick"]
    setback_m: Setback
    edge_fall_m: EdgeFall
    height_m: Height
    face_deg: FaceAngle
    recess_m: Recess
    edge: Sharpness = "unknown"
    padded: Flag = False
    face: Face = "as the drop"


class Shot(M):
    """One leg of a survey: slope distance and inclination to the next point; −90° is plumb down, past it the rock
    leans back under (an overhang). ``padded``: textile lies on the edge at its end; ``face``: the rock it runs over."""

    id: Id
    slope_m: Slope
    incl_deg: Inclination
    edge: Sharpness = "unknown"
    padded: Flag = False
    face: Face = "as the drop"


class Shots(M):
    """A drop as survey shots in order, from the tie to the landing."""

    kind: Literal["shots"]
    shots: Annotated[tuple[Shot, ...], Field(min_length=1, max_length=100)]


Section = Annotated[Quick | Shots, Field(discriminator="kind")]
LandingKind = Literal["ledge", "ground", "pool", "wading", "moving water", "hanging stance", "unknown"]


class Landing(M):
    """What is at the bottom. ``aside_m``: how far off to the side of the plumb line it lies; ``next_m``: at a hanging stance, from
    where one hangs to the master point of the next station."""

    kind: LandingKind
    aside_m: Aside = Known(kind="known", value=0, method="eye")
    next_m: Annotated[Figure, _within(0, 10, "m", "how far the next station is", True)] = Unknown(kind="unknown", why="not measured")


# The shed

RopeKind = Literal["low-stretch", "dynamic single", "dynamic half", "dynamic twin", "pull cord"]
Stripe = Literal["plain", "dashes", "dots", "bars", "twin line", "long dash"]
Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9a-fA-F]{6}$")]


class Damage(M):
    """A damaged place, from end A: tied out of use by a knot that everyone passes, with the rope that takes; or the rope is not
    used past it, only the longest sound piece."""

    at_m: Annotated[Figure, _within(0, 600, "m", "where the damage is")]
    takes_m: Annotated[Figure, _within(0, 50, "m", "rope lost to the damage")]
    use: Literal["knot passed", "longest sound piece"] = "knot passed"
    note: Text = ""


class Rope(M):
    """A rope or pull cord. ``wet_since_measured``: wet since it was last measured, or since new if never. ``middle_nearer``: to which
    end the mark lies nearer, where it is off. A damaged place lies in the rope as it was when its length was taken."""

    id: Id
    name: Name
    kind: RopeKind
    nominal_m: RopeLength
    measured_m: RopeLength
    wet_since_measured: Tri = "unknown"
    diameter_mm: Diameter
    fibre: Fibre = "unknown"
    strength_kn: Capacity
    elongation_pct: Elongation
    mass_kg_m: RopeMass = Unknown(kind="unknown", why="no label figure")
    middle_mark: Flag = False
    middle_off_m: MiddleOff
    middle_nearer: Literal["a", "b", "unknown"] = "unknown"
    damage: Annotated[tuple[Damage, ...], Field(max_length=20)] = ()
    colour: Colour = "#3c6e8f"
    stripe: Stripe = "plain"

    @model_validator(mode="after")
    def _damage_in_it(self) -> Rope:
        length = self.measured_m if self.measured_m.kind == "known" else self.nominal_m
        for i, d in enumerate(self.damage):
            if length.kind == d.at_m.kind == "known" and d.at_m.value > length.value:
                raise PydanticCustomError("damage", "the damage at {at} m lies past the rope's {length} m", {
                    "where": f"damage/{i}/at_m", "at": f"{d.at_m.value:g}", "length": f"{length.value:g}"})
        return self


class Piece(M):
    """A length of webbing as it lies in the shed."""

    id: Id
    length_m: Stock


class Webbing(M):
    """Webbing to be cut. Strength is one strand's, unknotted."""

    id: Id
    name: Name
    fibre: Literal["nylon", "polyester", "HMPE", "unknown"]
    thickness_mm: Thickness
    strength_kn: Capacity
    pieces: Annotated[tuple[Piece, ...], Field(max_length=40)] = ()
    colour: Colour = "#7a3b6b"

    @model_validator(mode="before")
    @classmethod
    def _one_length(cls, data: object) -> object:
        # Older files give one length in stock.
        if isinstance(data, dict) and "stock_m" in data and "pieces" not in data:
            data = {**data, "pieces": [{"id": "p1", "length_m": data["stock_m"]}]}
            del data["stock_m"]
        return data


class Sling(M):
    """A sewn loop. Its rating is the whole loop's, pulled straight, end to end; laid, it is half as long as round."""

    id: Id
    name: Name
    fibre: Literal["nylon", "polyester", "HMPE", "aramid", "unknown"]
    rating_kn: Capacity
    length_m: LaidLength
    colour: Colour = "#4b4a8c"


class Ring(M):
    """A connector: a closed ring, a link that screws shut, a carabiner, or a thin plate with a hole. The first rating is along its long axis;
    the others are for what can be loaded otherwise."""

    id: Id
    name: Name
    kind: Literal["ring", "link", "carabiner", "plate"] = "ring"
    thickness_mm: Thickness
    opening_mm: Opening
    rating_kn: Capacity
    cross_kn: Capacity = Unknown(kind="unknown", why="no cross rating")
    open_kn: Capacity = Unknown(kind="unknown", why="no gate-open rating")


class Device(M):
    """What a person rides on, or what holds a rope until it lets go, and the ropes its maker states it for."""

    id: Id
    name: Name
    rating_kn: Capacity
    use: Literal["to ride on", "elastic release"] = "to ride on"
    thinnest_mm: Diameter = Unknown(kind="unknown", why="not stated")
    thickest_mm: Diameter = Unknown(kind="unknown", why="not stated")
    strands: Literal["one", "two", "one or two", "unknown"] = "unknown"

    @model_validator(mode="after")
    def _ordered(self) -> Device:
        if self.thinnest_mm.kind == self.thickest_mm.kind == "known" and self.thinnest_mm.value > self.thickest_mm.value:
            raise PydanticCustomError("range", "the thinnest rope, {low} mm, is thicker than the thickest, {high} mm",
                                      {"where": "thinnest_mm", "low": f"{self.thinnest_mm.value:g}", "high": f"{self.thickest_mm.value:g}"})
        return self


class Tether(M):
    """What joins a person to a master point: a sewn sling, or a length of dynamic rope by its rated impact force. ``kept``: how its
    users stand on it; with slack a fall onto it is to be reckoned with."""

    id: Id
    name: Name
    made_of: Literal["sewn sling", "dynamic rope"]
    fibre: Literal["nylon", "polyester", "HMPE", "aramid", "unknown"]
    strength_kn: Capacity
    knot: Literal["none", "overhand", "figure eight", "bowline on a bight", "clove hitch", "girth hitch"] = "none"
    impact_kn: Impact = Unknown(kind="unknown", why="no label figure")
    rated: Literal["single", "half", "twin"] = "single"
    length_m: TetherLength = Unknown(kind="unknown", why="not measured")
    kept: Literal["tight, below the point", "with slack", "unknown"] = "unknown"


def _unique(values: Iterable[str], where: str, what: str) -> None:
    seen: set[str] = set()
    for i, value in enumerate(values):
        if value in seen:
            raise PydanticCustomError("twice", "the {what} “{value}” is taken; each needs its own",
                                      {"where": f"{where}/{i}/{what}", "what": what, "value": value})
        seen.add(value)


class OwnFigure(M):
    """A figure that the guide puts in place of a table's, and why."""

    id: Id
    table: Annotated[str, StringConstraints(max_length=40)]
    key: Annotated[str, StringConstraints(max_length=80)]
    low: Annotated[Num, Field(ge=-10, le=1000)]
    high: Annotated[Num, Field(ge=-10, le=1000)]
    reason: Annotated[Line, StringConstraints(min_length=1)]

    @model_validator(mode="after")
    def _there(self) -> OwnFigure:
        try:
            was = row(self.table, self.key)
        except TableError as e:
            raise PydanticCustomError("figure", "{why}", {"where": "key", "why": str(e)}) from None
        if not replaceable(self.table, self.key):
            raise PydanticCustomError("figure", "{name} is there to be read; nothing is computed from it",
                                      {"where": "key", "name": was.name})
        if self.low > self.high:
            raise PydanticCustomError("figure", "the low end {low} lies above the high end {high}",
                                      {"where": "low", "low": f"{self.low:g}", "high": f"{self.high:g}"})
        if (self.table, self.key) == ("loads", "tests.enough") and self.low < 3:
            raise PydanticCustomError("figure", "fewer than 3 pull tests are never enough for a spread", {"where": "low"})
        if self.low <= 0 < was.low or (was.unit == "share" and was.high <= 1 < self.high):
            raise PydanticCustomError("figure", "{low} to {high} is no figure for {name}: it must be above 0{most}",
                                      {"where": "low", "low": f"{self.low:g}", "high": f"{self.high:g}", "name": was.name,
                                       "most": " and at most 1" if was.unit == "share" and was.high <= 1 else ""})
        return self


class PullTest(M):
    """The guide's own pull tests of one thing: what was pulled, and the load at which each sample failed or slipped."""

    id: Id
    name: Name
    samples_kn: Annotated[tuple[Annotated[Num, Field(gt=0, le=1000)], ...], Field(max_length=100)] = ()
    on: Date | None = None
    note: Text = ""


SHED_LISTS = ("ropes", "webbing", "slings", "rings", "devices", "tethers", "pull_tests")


class Shed(M):
    """Kit to choose from, with the figures and the pull tests of its owner's own."""

    ropes: Annotated[tuple[Rope, ...], Field(max_length=60)] = ()
    webbing: Annotated[tuple[Webbing, ...], Field(max_length=60)] = ()
    slings: Annotated[tuple[Sling, ...], Field(max_length=60)] = ()
    rings: Annotated[tuple[Ring, ...], Field(max_length=60)] = ()
    devices: Annotated[tuple[Device, ...], Field(max_length=60)] = ()
    tethers: Annotated[tuple[Tether, ...], Field(max_length=60)] = ()
    own_figures: Annotated[tuple[OwnFigure, ...], Field(max_length=200)] = ()
    pull_tests: Annotated[tuple[PullTest, ...], Field(max_length=100)] = ()

    @model_validator(mode="after")
    def _named_apart(self) -> Shed:
        for where in SHED_LISTS:
            _unique((t.id for t in getattr(self, where)), where, "id")
            _unique((t.name.casefold() for t in getattr(self, where)), where, "name")
        # A tie round a post names either.
        webbing = {w.id for w in self.webbing}
        for i, sling in enumerate(self.slings):
            if sling.id in webbing:
                raise PydanticCustomError("twice", "the id “{value}” is taken by webbing; each needs its own",
                                          {"where": f"slings/{i}/id", "value": sling.id})
        _unique((f.id for f in self.own_figures), "own_figures", "id")
        _unique((f"{f.table}: {f.key}" for f in self.own_figures), "own_figures", "key")
        return self


class Person(M):
    """Somebody in the party; weight with clothes, kit and a wet pack."""

    id: Id
    name: Name
    role: Literal["guide", "second guide", "able", "novice"]
    mass_kg: Mass
    device: Id | None = None
    tether: Id | None = None


# The station

class Mass(M):
    """What a block, chockstone or dead-man holds by its weight alone: its box, its bed, and where the webbing pulls.
    ``slope_deg``: of its bed down toward the edge. ``height_m``: of the webbing above the base; ``depth_m``: of the
    base along the pull. Without these two it is not known whether it topples."""

    kind: Literal["mass"]
    long_m: BoxSide
    wide_m: BoxSide
    high_m: BoxSide
    bed: Literal["dry rock", "wet or loose", "ice or snow", "unknown"] = "unknown"
    slope_deg: Annotated[Figure, _within(-30, 60, "°", "the slope of the bed")]
    under_water: Tri = "unknown"
    height_m: BoxSide
    depth_m: BoxSide

    @model_validator(mode="after")
    def _base_in_box(self) -> Mass:
        sides = (self.long_m, self.wide_m, self.high_m)
        if self.depth_m.kind == "known" and all(f.kind == "known" for f in sides) and self.depth_m.value > max(self.long_m.value, self.wide_m.value) + 1e-9:
            raise PydanticCustomError("out_of_range", "its base cannot be {depth} m deep: its box is {long} by {wide} m", {
                "where": "depth_m", "depth": f"{self.depth_m.value:g}", "long": f"{self.long_m.value:g}", "wide": f"{self.wide_m.value:g}"})
        return self


Holds = Annotated[Range | Unknown | Mass, Field(discriminator="kind")]


class Post(M):
    """A tree, boulder, horn or pillar that webbing goes round. What it holds is the guide's own judgement, or a block's
    weight on its bed. ``sharpness``: of its surface where the webbing sits. ``sound``: of a tree, alive, well rooted and
    its crown healthy. ``webbing_at``: high on it or low."""

    kind: Literal["post"]
    id: Id
    name: Name
    what: Literal["tree", "boulder", "horn", "pillar"]
    girth_m: Girth
    surface: Literal["bark", "rock"]
    sharpness: Sharpness = "unknown"
    holds: Holds
    sound: Tri = "unknown"
    webbing_at: Literal["low", "high", "unknown"] = "unknown"


class Rated(M):
    """An anchor whose strength is given, in kN, by somebody. ``in_place``: found there, not placed by this party.
    ``good_strands``: of textile found in place, how many strands were looked at all round and found good; then
    ``holds`` is one strand's, unknotted and dry, of ``fibre`` and closed by ``knot``. ``pieces``: side by side, joined so that
    ``holds`` is what is left with any one of them gone."""

    kind: Literal["rated"]
    id: Id
    name: Name
    what: Literal["bolt", "piton", "placed piece", "chain", "textile", "thread", "other"] = "other"
    holds: Capacity
    in_place: Tri = "unknown"
    good_strands: Annotated[Figure, _within(0, 20, "", "a count of strands"), AfterValidator(_whole)] = Unknown(kind="unknown", why="nobody has counted")
    pieces: Annotated[int, Field(strict=True, ge=1, le=6)] = 1
    fibre: Fibre = "unknown"
    knot: Literal["sewn", "ring bend", "double fisherman's", "triple fisherman's", "overhand", "unknown"] = "unknown"


# The usual one is a ring bend in webbing and a double fisherman's in cord; in HMPE and aramid there is none that goes without saying.
ClosedBy = Literal["usual", "ring bend", "double fisherman's", "triple fisherman's", "overhand"]


class IceThread(M):
    """Two holes drilled to meet in ice, and what goes through them. ``cord``: a rope of the shed, tied in a loop; none for
    a rope-direct thread. The angles are those of the holes to the surface."""

    kind: Literal["ice thread"]
    id: Id
    name: Name
    screw_m: Annotated[Figure, _within(0.05, 0.6, "m", "a screw's usable length")]
    spacing_m: Annotated[Figure, _within(0.02, 1, "m", "the spacing of the holes")]
    first_deg: Annotated[Figure, _within(5, 175, "°", "a hole's angle")]
    second_deg: Annotated[Figure, _within(5, 175, "°", "a hole's angle")]
    ice: Literal["solid", "white, aerated", "unknown"] = "unknown"
    wet_cold: Tri = "unknown"
    cord: Id | None = None
    closed_by: ClosedBy = "usual"
    in_place: Tri = "no"
    seen_whole: Tri = "unknown"
    backed_up: Literal["to the rope", "to the rope, slack", "to the cord", "no", "unknown"] = "unknown"


Feature = Annotated[Post | Rated | IceThread, Field(discriminator="kind")]


PatternName = Literal[
    "simple wrap", "simple wrap, overhand", "frost knot", "wrap two, pull one", "wrap three, pull two",
    "redundant wrap two, pull one", "redundant wrap, quick tie", "basket", "redundant basket", "girth hitch",
    "threaded eye", "re-threaded overhand"]


Loaded = Literal["long axis", "cross", "gate open", "unknown"]
SlingUse = Literal["straight", "overhand", "basket", "basket double", "shortened", "girth"]


class SlingLink(M):
    """A sewn sling between the anchor and the ring, and how it is rigged. ``angle_deg``: between a basket's legs."""

    kind: Literal["sling"]
    id: Id
    sling: Id
    use: SlingUse
    angle_deg: LegAngle = Unknown(kind="unknown", why="not measured")
    reach_m: LinkReach


class RingLink(M):
    """A connector between the anchor and the ring, and how it is loaded. ``stacked``: it hangs beside the ring and the rope runs
    through both, so that either alone holds."""

    kind: Literal["connector"]
    id: Id
    ring: Id
    loaded: Loaded = "unknown"
    stacked: Flag = False
    reach_m: LinkReach


class WebbingLink(M):
    """Webbing doubled between two overhands, to carry the ring further, as over an edge for the last person. ``same``: it is
    the wrap's own webbing, re-threaded and long enough, not a second piece."""

    kind: Literal["webbing"]
    id: Id
    webbing: Id
    same: Flag = False
    reach_m: LinkReach


Link = Annotated[SlingLink | RingLink | WebbingLink, Field(discriminator="kind")]
Links = Annotated[tuple[Link, ...], Field(max_length=6)]


class Wrap(M):
    """Webbing, or a sewn sling, round a post. ``gain_m``: from the post's near face to the focal point, where the ring
    hangs unless a single strand extends the tie by ``extension_m`` (re-threaded overhand) or links follow."""

    kind: Literal["wrap"]
    post: Id
    pattern: PatternName
    webbing: Id
    ring: Id
    gain_m: Gain
    bend_at: Literal["leg", "side", "back"]
    extension_m: Extension = Unknown(kind="unknown", why="no extension")
    links: Links = ()
    ring_loaded: Loaded = "unknown"


class Direct(M):
    """A ring on a rated anchor or an ice thread, with links between them or none. Without a ring the rope runs straight
    round a tree, or through a thread or textile."""

    kind: Literal["direct"]
    anchor: Id
    ring: Id | None
    gain_m: Gain
    links: Links = ()
    ring_loaded: Loaded = "unknown"


class Leg(M):
    """One point of an anchor of several and what joins it to the focal point: two strands of webbing, a sewn sling or
    cord, or a chain. Its place: out toward the edge, aside to the left as one looks out, up. ``closed_by``: the knot that
    closes its loop; ``lies``: how a carabiner or link in it is loaded."""

    id: Id
    anchor: Id
    of: Id
    closed_by: ClosedBy = "usual"
    lies: Loaded = "unknown"
    out_m: Offset
    aside_m: Offset
    up_m: Offset


class Several(M):
    """Several points drawn together to one focal point: tied there (knotted), each with a loop of its own, unknotted, clipped to
    the ring (clipped), sliding, or sliding between limiting knots that let it go ``slack_m`` further. The pull: ``down_deg`` below level and ``aside_deg`` to the left; unknown means as
    the rope runs."""

    kind: Literal["several"]
    legs: Annotated[tuple[Leg, ...], Field(min_length=2, max_length=8)]
    focal: Literal["knotted", "sliding", "limited", "clipped"] = "knotted"
    knot: Literal["overhand", "figure eight", "bowline on a bight"] = "overhand"
    slack_m: Annotated[Figure, _within(0, 2, "m", "the limiting knots' slack")] = Unknown(kind="unknown", why="no limiting knots")
    out_m: Annotated[Figure, _within(0.02, 30, "m", "the focal point's place")]
    aside_m: Offset
    up_m: Offset
    down_deg: Annotated[Figure, _within(-60, 90, "°", "the pull's angle")] = Unknown(kind="unknown", why="as the rope runs")
    aside_deg: Annotated[Figure, _within(-90, 90, "°", "the pull's angle")] = Known(kind="known", value=0, method="given")
    swing_deg: Annotated[Figure, _within(0, 60, "°", "the swing")] = Known(kind="known", value=15, method="given")
    ring: Id
    links: Links = ()
    ring_loaded: Loaded = "unknown"

    @model_validator(mode="after")
    def _apart(self) -> Several:
        _unique((leg.id for leg in self.legs), "legs", "id")
        _unique((leg.anchor for leg in self.legs), "legs", "anchor")
        return self


class TwoPosts(M):
    """One band round two posts, four strands tied in one overhand; each post is held by two strands.
    ``angle_deg``: between the two posts' lines at the focal point; ``first_gain_m``, ``second_gain_m``: from each post's
    near face to it."""

    kind: Literal["two posts"]
    first: Id
    second: Id
    webbing: Id
    ring: Id
    first_gain_m: Gain
    second_gain_m: Gain
    angle_deg: LegAngle
    swing_deg: Annotated[Figure, _within(0, 60, "°", "the swing")] = Known(kind="known", value=15, method="given")
    links: Links = ()
    ring_loaded: Loaded = "unknown"


class NoRig(M):
    """No anchor chosen yet."""

    kind: Literal["none"]


Rig = Annotated[Wrap | Direct | Several | TwoPosts | NoRig, Field(discriminator="kind")]


class EndRef(M):
    """A strand's name for the whole descent: its rope and that rope's end."""

    rope: Id
    end: Literal["a", "b"]


BlockKind = Literal["figure eight", "overhand", "butterfly", "clove hitch", "stone hitch"]


Stoppers = Annotated[tuple[EndRef, ...], Field(max_length=4)]
JoinKnot = Literal["flat overhand", "flat overhand, second behind", "flat figure eight", "opposed overhand"]
Tails = Annotated[Figure, _within(0.02, 5, "m", "the join's tails")]


class Doubled(M):
    """One rope, its middle at the ring, both strands ridden."""

    kind: Literal["doubled"]
    rope: Id
    middle_by: Literal["mark", "ends run together"]
    pulled_end: Literal["a", "b"]
    stoppers: Stoppers = ()


class Joined(M):
    """Two ropes tied together at the ring, both ridden. ``through`` runs through the ring; the join lies on
    the side of ``other``. ``pulled``: which of them is to be pulled. ``through_end`` and ``other_end`` are the ends that hang
    down. ``slips_kn``: where the party has tested its own join."""

    kind: Literal["joined"]
    through: Id
    through_end: Literal["a", "b"]
    other: Id
    other_end: Literal["a", "b"]
    pulled: Literal["other", "through"] = "other"
    knot: JoinKnot = "flat overhand"
    tails_m: Tails
    slips_kn: Capacity = Unknown(kind="unknown", why="no pull test of the party's own")
    stoppers: Stoppers = ()


class TiedOn(M):
    """A second rope tied to the lower end of a ride strand: everyone passes the join. ``end``: of the second rope, the one that hangs down."""

    rope: Id
    end: Literal["a", "b"] = "b"
    knot: JoinKnot = "flat overhand, second behind"
    tails_m: Tails = Known(kind="known", value=0.3, method="given")
    slips_kn: Capacity = Unknown(kind="unknown", why="no pull test of the party's own")


class BlockedSame(M):
    """One rope: a block against the ring, one strand ridden, the rest of the same rope pulled. ``block_on``: the side of the
    ring that the block lies on; it holds a rider only from the pulled side."""

    kind: Literal["blocked, same rope"]
    rope: Id
    ridden_end: Literal["a", "b"]
    ride_m: RideLength
    block: BlockKind
    block_on: Literal["pull", "ride"] = "pull"
    carabiner: Flag
    block_holds: Capacity = Unknown(kind="unknown", why="not tested")
    tied_on: TiedOn | None = None
    stoppers: Stoppers = ()


class BlockedCord(M):
    """A rope blocked at the ring and ridden single, a cord joined above the block to pull it."""

    kind: Literal["blocked, pull cord"]
    rope: Id
    ridden_end: Literal["a", "b"]
    cord: Id
    cord_end: Literal["a", "b"]
    knot: JoinKnot = "flat overhand"
    tails_m: Tails
    slips_kn: Capacity = Unknown(kind="unknown", why="no pull test of the party's own")
    block: BlockKind
    block_on: Literal["pull", "ride"] = "pull"
    carabiner: Flag
    block_holds: Capacity = Unknown(kind="unknown", why="not tested")
    tied_on: TiedOn | None = None
    stoppers: Stoppers = ()


TieOff = Literal["munter-mule-overhand", "figure-eight device mule"]


class Releasable(M):
    """A rope tied off so that it can be let out under load, one strand ridden, the rest in reserve at the top; it serves the
    party and is converted for the last person. ``reserve_rope``: a second rope joined on behind the reserve, by which end and knot."""

    kind: Literal["releasable"]
    rope: Id
    ridden_end: Literal["a", "b"]
    ride_m: RideLength
    tie_off: TieOff
    reserve_rope: Id | None = None
    reserve_end: Literal["a", "b"] = "a"
    reserve_knot: JoinKnot = "opposed overhand"
    tied_on: TiedOn | None = None
    stoppers: Stoppers = ()


class ElasticRelease(M):
    """A rope tied to a device that lets go after it is loaded and unloaded often enough; one strand ridden, nothing pulled."""

    kind: Literal["elastic-release device"]
    rope: Id
    ridden_end: Literal["a", "b"]
    device: Id
    stoppers: Stoppers = ()


class Bights(M):
    """A chain of alternating bights at the anchor, of one rope's two strands or of two ropes: one strand is ridden, the other
    undoes the bights in turn. ``middle_by``: how the middle of one rope is found. ``clipped``: a carabiner holds the last bight to the ride strand for all but the last."""

    kind: Literal["alternating bights"]
    rope: Id
    ridden_end: Literal["a", "b"]
    other: Id | None = None
    other_end: Literal["a", "b"] = "b"
    middle_by: Literal["mark", "ends run together"] = "mark"
    bights: Annotated[Figure, _within(1, 20, "", "a count of bights"), AfterValidator(_whole)]
    last_on: Literal["pull", "ride"] = "pull"
    last_m: Annotated[Figure, _within(0.02, 3, "m", "the last bight")]
    clipped: Flag = True
    block_holds: Capacity = Unknown(kind="unknown", why="not tested")
    stoppers: Stoppers = ()


class Lowered(M):
    """People are lowered on a rope by a belayer, who stands at the anchor or at the landing; it serves the party and is
    converted for the last person. ``far_end_closed``: the belayer's end is knotted or tied in."""

    kind: Literal["lowered"]
    rope: Id
    end: Literal["a", "b"]
    belayer: Literal["above", "below"] = "above"
    far_end_closed: Flag = False
    stoppers: Stoppers = ()


class NoSystem(M):
    """No rope system chosen yet."""

    kind: Literal["none"]


System = Annotated[Doubled | Joined | BlockedSame | BlockedCord | Releasable | ElasticRelease | Bights | Lowered | NoSystem,
                   Field(discriminator="kind")]


_SYSTEM: TypeAdapter = TypeAdapter(System)


def read_system(data: dict) -> System:
    """A rope system from plain data.

    data: as in a plan's file
    returns: the system
    raises: ValidationError if it is none
    Source: none, reading.
    """
    return _SYSTEM.validate_python(data)


class Inspection(M):
    """What somebody saw of a thing found in place, and what was decided. Nothing is known until someone looks.
    ``answers``: to the questions of its kind, by their key."""

    id: Id
    on: Date | None = None
    item: Name
    found: Text = ""
    condition: Literal["good", "worn", "bad", "unknown"] = "unknown"
    answers: Annotated[dict[Id, Tri], Field(max_length=30)] = {}
    decision: Literal["use", "back up", "replace", "undecided"] = "undecided"


class Accepted(M):
    """A single point that the guide accepts, and why. ``part``: its key in the load path. ``of``: what it was when it was accepted;
    entered by the program, and no longer accepted once the part is another thing."""

    part: Annotated[Line, StringConstraints(min_length=1, max_length=60)]
    reason: Annotated[Line, StringConstraints(min_length=1, max_length=200)]
    of: Annotated[Line, StringConstraints(max_length=300)] = ""


class State(M):
    """One way the station is rigged, and whom it serves. ``pulled_lies``: where the strand that is pulled hangs, as one faces the
    rock; settled when it is threaded."""

    id: Id
    serves: Literal["all", "party", "last"]
    rig: Rig
    system: System
    pulled_lies: Literal["left", "right", "against the rock", "outside", "unknown"] = "unknown"
    accepted: Annotated[tuple[Accepted, ...], Field(max_length=20)] = ()


class Deviation(M):
    """A redirect that holds the rope off its line: how far down the rope it is, by how much it turns it, what its anchor holds.
    ``left_in``: nobody removes it before the pull."""

    id: Id
    name: Name
    below_m: Annotated[Figure, _within(0, 600, "m", "how far down the deviation is")]
    turn_deg: Annotated[Figure, _within(0, 170, "°", "a deviation's turn")]
    holds: Capacity
    left_in: Flag = False


class Traverse(M):
    """A line to clip to on the way to the station: its span and sag, the rope it is made of, retrieved doubled, and what its two
    anchors hold."""

    rope: Id
    span_m: Annotated[Figure, _within(0.5, 200, "m", "a traverse line's span", True)]
    sag_m: Annotated[Figure, _within(0.01, 100, "m", "a traverse line's sag", True)]
    near: Capacity
    far: Capacity


class Station(M):
    """What is there to tie to, how it is rigged, and whether what is tied gets wet. One state serves all; or one serves the
    party and another the last person. ``hanging``: who hangs from the anchor besides the rider. ``together``: two people ride at once, each on a strand of their own or both on one. ``strands_hang``: as surveyed
    below the ring, beside each other or one between the other and the rock."""

    features: Annotated[tuple[Feature, ...], Field(max_length=20)] = ()
    states: Annotated[tuple[State, ...], Field(min_length=1, max_length=2)]
    wet: Tri = "unknown"
    hanging: Annotated[tuple[Id, ...], Field(max_length=10)] = ()
    together: Literal["no", "own strands", "one strand"] = "no"
    strands_hang: Literal["side by side", "one behind", "unknown"] = "unknown"
    deviations: Annotated[tuple[Deviation, ...], Field(max_length=5)] = ()
    traverse: Traverse | None = None
    inspections: Annotated[tuple[Inspection, ...], Field(max_length=100)] = ()
    notes: Text = ""


def thing_of(part: str, state: State, features: tuple[Feature, ...]) -> str:
    """What a part of a station is, as far as accepting it as a single point goes: another thing, material or pattern gives another text.

    part: its key in the load path; state: how the station is rigged; features: of the station
    returns: what it is; "" where there is nothing to tell it by
    Source: none, text only.
    """
    rig, names = state.rig, {f.id: f for f in features}
    if rig.kind == "none":
        return ""
    family, _, name = part.partition(".")

    def feature(feature_id: str) -> str:
        f = names.get(feature_id)
        told = (f.kind, f.id, getattr(f, "what", ""), getattr(f, "surface", ""), getattr(f, "in_place", ""), getattr(f, "cord", "") or "") if f else ("gone",)
        return " ".join(filter(None, told))

    if family == "anchor":
        return feature(getattr(rig, "post", "") or getattr(rig, "anchor", ""))
    if family == "webbing":
        at = (rig.first, rig.second) if rig.kind == "two posts" else (getattr(rig, "post", "") or getattr(rig, "anchor", ""),)
        return " ".join((*map(feature, at), getattr(rig, "webbing", ""), getattr(rig, "pattern", rig.kind)))
    if family == "ring":
        return rig.ring or ""
    if family == "link":
        link = next((x for x in rig.links if x.id == name), None)
        return "" if link is None else " ".join(filter(None, (link.kind, *(getattr(link, k, "") for k in ("sling", "ring", "webbing", "use")))))
    if rig.kind == "two posts" and family == "point":
        return feature(rig.first if name == "first" else rig.second)
    legs = [leg for leg in getattr(rig, "legs", ()) if family == "loop" or leg.id == name]
    return " ".join((*(f"{feature(leg.anchor)} {leg.of} {leg.closed_by}" for leg in legs), getattr(rig, "focal", "")))[:300] if legs else part


class Drop(M):
    """One drop, from its station to its landing. ``rock``: smooth and water-worn, or coarse as sandstone and granite;
    ``cracks``: whether cracks or flakes under the line may catch a rope."""

    id: Id
    name: Name
    section: Section
    landing: Landing
    rock: Literal["smooth", "coarse", "unknown"] = "unknown"
    cracks: Tri = "unknown"
    station: Station
    notes: Text = ""

    @model_validator(mode="after")
    def _meaningful(self) -> Drop:
        try:
            _section.check(self.section)
        except GeometryError as e:
            raise PydanticCustomError("section", "{why}", {"where": "section", "why": str(e)}) from None
        _unique((f.id for f in self.station.features), "station/features", "id")
        _unique((i.id for i in self.station.inspections), "station/inspections", "id")
        _unique((d.id for d in self.station.deviations), "station/deviations", "id")
        serves = [s.serves for s in self.station.states]
        if serves not in (["all"], ["party", "last"]):
            raise PydanticCustomError("states", "one state serves all, or the first the party and the second the last person",
                                      {"where": "station/states"})
        for n, state in enumerate(self.station.states):
            if state.rig.kind != "none":
                _unique((link.id for link in state.rig.links), f"station/states/{n}/rig/links", "id")
        return self._bound()

    def _bound(self) -> Drop:
        """The drop with every acceptance bound to what its part is now, unless it is bound already."""
        if all(a.of for s in self.station.states for a in s.accepted):
            return self
        states = tuple(s.model_copy(update={"accepted": tuple(a if a.of else a.model_copy(update={"of": thing_of(a.part, s, self.station.features)}) for a in s.accepted)})
                       for s in self.station.states)
        return self.model_copy(update={"station": self.station.model_copy(update={"states": states})})


# Policies and the whole

class PeakMargin(M):
    """Low-end capacity at least 2.0 times the peak load."""

    kind: Literal["peak"]


class StaticRatio(M):
    """Capacity at least ten times the static load."""

    kind: Literal["static ratio"]


class OwnMargin(M):
    """Low-end capacity at least ``times`` the peak load; one below the table's own needs a reason."""

    kind: Literal["own"]
    times: Annotated[Num, Field(ge=1, le=20)]
    reason: Line = ""


Margin = Annotated[PeakMargin | StaticRatio | OwnMargin, Field(discriminator="kind")]


class Policies(M):
    """The guide's choices where practitioners disagree. ``retention``: graded by knot, or any knot halves it;
    ``bend``: of a wrap at the back, where it keeps more, or in view, where it can be looked at; ``focal``: the ring
    free to slide at the focal point, or held there by a knot; ``join``: of two ropes; ``ends``: knotted always, or not where
    they are seen down; ``strands``: doubled or single where both would do; ``releasable``: for everyone, for novices, or not asked for."""

    margin: Margin = PeakMargin(kind="peak")
    retention: Literal["graded", "flat half"] = "graded"
    bend: Literal["back", "in view"] = "back"
    focal: Literal["free", "knotted"] = "free"
    join: JoinKnot = "flat overhand, second behind"
    ends: Literal["always", "unless seen down"] = "always"
    strands: Literal["doubled", "single"] = "doubled"
    releasable: Literal["always", "for novices", "not wanted"] = "always"


# Two sets of choices to start a plan with, each free of contradiction.
POLICY_SETS: dict[str, Policies] = {
    "canyon": Policies(strands="single", releasable="for novices"),
    "multi-pitch": Policies(strands="doubled", releasable="not wanted"),
}


class Plan(M):
    """A whole descent on paper."""

    format: Literal[1]
    title: Name
    place: Annotated[Line, StringConstraints(max_length=120)] = ""
    on: Date | None = None
    notes: Text = ""
    drops: Annotated[tuple[Drop, ...], Field(max_length=MOST_DROPS)] = ()
    shed: Shed = Shed()
    party: Annotated[tuple[Person, ...], Field(max_length=60)] = ()
    policies: Policies = Policies()
    own_figures: Annotated[tuple[OwnFigure, ...], Field(max_length=200)] = ()

    @model_validator(mode="after")
    def _named_apart(self) -> Plan:
        for where, things in (("drops", self.drops), ("party", self.party), ("own_figures", self.own_figures)):
            _unique((t.id for t in things), where, "id")
        _unique((t.name.casefold() for t in self.party), "party", "name")
        _unique((f"{f.table}: {f.key}" for f in self.own_figures), "own_figures", "key")
        return self
