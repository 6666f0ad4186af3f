"""The shed: ropes, webbing, slings, connectors, devices, tethers, and figures, pull tests and schools of its owner's
own."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, StringConstraints, model_validator
from pydantic_core import PydanticCustomError

from reamer.core.errors import TableError
from reamer.core.plan.figures import (
    Capacity,
    ConnectorLength,
    Date,
    Diameter,
    Elongation,
    Fibre,
    Figure,
    Flag,
    Id,
    Impact,
    ItemMass,
    LaidLength,
    Line,
    M,
    MiddleOff,
    Name,
    Num,
    Opening,
    RopeLength,
    RopeMass,
    Stock,
    TetherLength,
    Text,
    Thickness,
    Tri,
    Unknown,
    unique,
    whole_count,
    within,
)
from reamer.core.plan.rehearsal import OwnSchool
from reamer.core.tables import replaceable, row

RopeKind = Literal["low-stretch", "dynamic single", "dynamic half", "dynamic twin", "pull cord"]
Stripe = Literal["plain", "dashes", "dots", "bars", "twin line", "long dash"]
# Its figures are typical of its kind: nobody has looked at this one.
Typical = Flag
Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9a-fA-F]{6}$")]


class Damage(M):
    """A damaged place, from end A: tied out of use by a knot that everyone passes, with the rope that takes; or the
    rope is not used past it, only the longest sound piece, whether what lies beyond still hangs on it or is cut off.
    ``as_now``: the place was measured in the rope as it is now, shrunk, and not by its length as entered."""

    at_m: Annotated[Figure, within(0, 600, "m", "where the damage is")]
    takes_m: Annotated[Figure, within(0, 50, "m", "rope lost to the damage")]
    use: Literal["knot passed", "longest sound piece", "cut off"] = "knot passed"
    as_now: Tri = "unknown"
    note: Text = ""


class KnotWidth(M):
    """How wide a knot is that was tied in a rope and set hard: across its narrowest, one sample each time it was
    tied anew. Of a knot of two strands both are of this rope."""

    knot: Literal["overhand", "flat overhand", "figure eight", "flat figure eight", "butterfly"]
    samples_mm: Annotated[tuple[Annotated[Num, Field(ge=5, le=200)], ...], Field(max_length=100)] = ()
    on: Date | None = None


class Rope(M):
    """A rope or pull cord. ``wet_since_measured``: wet since it was last measured, or since new if never.
    ``length_confirmed``: its measured length is right, though it looks as if it were in feet. ``middle_nearer``: to
    which end the mark lies nearer, where it is off; ``widths``: of knots that were measured in it."""

    id: Id
    name: Name
    kind: RopeKind
    nominal_m: RopeLength
    measured_m: RopeLength
    length_confirmed: Flag = False
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
    widths: Annotated[tuple[KnotWidth, ...], Field(max_length=10)] = ()
    colour: Colour = "#3c6e8f"
    stripe: Stripe = "plain"
    typical: Typical = False

    @model_validator(mode="after")
    def _each_knot_once(self) -> Rope:
        unique((w.knot for w in self.widths), "widths", "knot")
        return self

    @model_validator(mode="after")
    def _damage_in_it(self) -> Rope:
        length = self.measured_m if self.measured_m.kind == "known" else self.nominal_m
        for i, d in enumerate(self.damage):
            if length.kind == d.at_m.kind == "known" and d.at_m.value > length.value:
                raise PydanticCustomError(
                    "damage",
                    "the damage at {at} m lies past the rope's {length} m",
                    {"where": f"damage/{i}/at_m", "at": f"{d.at_m.value:g}", "length": f"{length.value:g}"},
                )
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
    mass_kg_m: RopeMass = Unknown(kind="unknown", why="not weighed")
    colour: Colour = "#7a3b6b"
    typical: Typical = False

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
    mass_kg: ItemMass = Unknown(kind="unknown", why="not weighed")
    typical: Typical = False


class Ring(M):
    """A connector: a closed ring, a link that screws shut, a carabiner, or a thin plate with a hole. The first rating
    is along its long axis; the others are for what can be loaded otherwise. ``length_m``: how far it takes what hangs
    in it."""

    id: Id
    name: Name
    kind: Literal["ring", "link", "carabiner", "plate"] = "ring"
    thickness_mm: Thickness
    opening_mm: Opening
    rating_kn: Capacity
    cross_kn: Capacity = Unknown(kind="unknown", why="no cross rating")
    open_kn: Capacity = Unknown(kind="unknown", why="no gate-open rating")
    length_m: ConnectorLength = Unknown(kind="unknown", why="not measured")
    mass_kg: ItemMass = Unknown(kind="unknown", why="not weighed")
    typical: Typical = False


class Device(M):
    """What a person rides on, or what holds a rope until it lets go, and the ropes its maker states it for.
    ``lets_go_after``: of an elastic release, so many unloadings, by its maker or as tried."""

    id: Id
    name: Name
    rating_kn: Capacity
    use: Literal["to ride on", "elastic release"] = "to ride on"
    thinnest_mm: Diameter = Unknown(kind="unknown", why="not stated")
    thickest_mm: Diameter = Unknown(kind="unknown", why="not stated")
    strands: Literal["one", "two", "one or two", "unknown"] = "unknown"
    lets_go_after: Annotated[Figure, within(1, 1000, "", "a count of unloadings"), AfterValidator(whole_count)] = (
        Unknown(kind="unknown", why="not stated")
    )
    mass_kg: ItemMass = Unknown(kind="unknown", why="not weighed")
    typical: Typical = False

    @model_validator(mode="after")
    def _ordered(self) -> Device:
        if (
            self.thinnest_mm.kind == self.thickest_mm.kind == "known"
            and self.thinnest_mm.value > self.thickest_mm.value
        ):
            raise PydanticCustomError(
                "range",
                "the thinnest rope, {low} mm, is thicker than the thickest, {high} mm",
                {"where": "thinnest_mm", "low": f"{self.thinnest_mm.value:g}", "high": f"{self.thickest_mm.value:g}"},
            )
        return self


class Tether(M):
    """What joins a person to a master point: a sewn sling, or a length of dynamic rope by its rated impact force.
    ``kept``: how its users stand on it; with slack a fall onto it is to be reckoned with."""

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
    mass_kg: ItemMass = Unknown(kind="unknown", why="not weighed")
    typical: Typical = False


class Loop(M):
    """A closed loop of cord for a third hand. Laid, it is half as long as round. ``made_for_hitch``: by its maker;
    asked only of HMPE, which else slips and melts."""

    id: Id
    name: Name
    fibre: Literal["nylon", "polyester", "HMPE", "aramid", "unknown"]
    diameter_mm: Annotated[Figure, within(3, 12, "mm", "a cord's diameter")]
    length_m: LaidLength
    made_for_hitch: Tri = "unknown"
    mass_kg: ItemMass = Unknown(kind="unknown", why="not weighed")
    typical: Typical = False


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
            raise PydanticCustomError(
                "figure", "{name} is there to be read; nothing is computed from it", {"where": "key", "name": was.name}
            )
        if self.low > self.high:
            raise PydanticCustomError(
                "figure",
                "the low end {low} lies above the high end {high}",
                {"where": "low", "low": f"{self.low:g}", "high": f"{self.high:g}"},
            )
        if (self.table, self.key) == ("loads", "tests.enough") and self.low < 3:
            raise PydanticCustomError(
                "figure", "fewer than 3 pull tests are never enough for a spread", {"where": "low"}
            )
        if self.low <= 0 < was.low or (was.unit == "share" and was.high <= 1 < self.high):
            raise PydanticCustomError(
                "figure",
                "{low} to {high} is no figure for {name}: it must be above 0{most}",
                {
                    "where": "low",
                    "low": f"{self.low:g}",
                    "high": f"{self.high:g}",
                    "name": was.name,
                    "most": " and at most 1" if was.unit == "share" and was.high <= 1 else "",
                },
            )
        return self


class PullTest(M):
    """The guide's own pull tests of one thing: what was pulled, and the load at which each sample failed or slipped.
    ``knot``: "none" for unknotted samples, "" where nobody has said; tests of one material pulled one way are compared
    with the unknotted ones. ``broke``: what gave way, sample by sample."""

    id: Id
    name: Name
    samples_kn: Annotated[tuple[Annotated[Num, Field(gt=0, le=1000)], ...], Field(max_length=100)] = ()
    on: Date | None = None
    material: Annotated[Line, StringConstraints(max_length=80)] = ""
    knot: Annotated[Line, StringConstraints(max_length=80)] = ""
    configuration: Annotated[Line, StringConstraints(max_length=80)] = ""
    broke: Annotated[tuple[Annotated[Line, StringConstraints(max_length=80)], ...], Field(max_length=100)] = ()
    note: Text = ""


SHED_LISTS = ("ropes", "webbing", "slings", "rings", "devices", "tethers", "loops", "pull_tests")


class Shed(M):
    """Kit to choose from, with the figures, the pull tests and the schools of its owner's own."""

    ropes: Annotated[tuple[Rope, ...], Field(max_length=60)] = ()
    webbing: Annotated[tuple[Webbing, ...], Field(max_length=60)] = ()
    slings: Annotated[tuple[Sling, ...], Field(max_length=60)] = ()
    rings: Annotated[tuple[Ring, ...], Field(max_length=60)] = ()
    devices: Annotated[tuple[Device, ...], Field(max_length=60)] = ()
    tethers: Annotated[tuple[Tether, ...], Field(max_length=60)] = ()
    loops: Annotated[tuple[Loop, ...], Field(max_length=60)] = ()
    own_figures: Annotated[tuple[OwnFigure, ...], Field(max_length=200)] = ()
    pull_tests: Annotated[tuple[PullTest, ...], Field(max_length=100)] = ()
    own_schools: Annotated[tuple[OwnSchool, ...], Field(max_length=20)] = ()

    @model_validator(mode="after")
    def _named_apart(self) -> Shed:
        for where in SHED_LISTS:
            unique((t.id for t in getattr(self, where)), where, "id")
            unique((t.name.casefold() for t in getattr(self, where)), where, "name")
        # A tie round a post names either.
        webbing = {w.id for w in self.webbing}
        for i, sling in enumerate(self.slings):
            if sling.id in webbing:
                raise PydanticCustomError(
                    "twice",
                    "the id “{value}” is taken by webbing; each needs its own",
                    {"where": f"slings/{i}/id", "value": sling.id},
                )
        unique((f.id for f in self.own_figures), "own_figures", "id")
        unique((f"{f.table}: {f.key}" for f in self.own_figures), "own_figures", "key")
        unique((s.id for s in self.own_schools), "own_schools", "id")
        unique((s.name.casefold() for s in self.own_schools), "own_schools", "name")
        return self
