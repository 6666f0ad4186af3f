"""The survey of a drop: its section, in five figures or in shots, and its landing."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from reamer.core.plan.figures import (
    Aside,
    EdgeFall,
    FaceAngle,
    Figure,
    Flag,
    Height,
    Id,
    Inclination,
    Known,
    M,
    Recess,
    Setback,
    Sharpness,
    Slope,
    Unknown,
    whole_count,
    within,
)

# The rock of one face, where it is another than the drop's.
Face = Literal["as the drop", "smooth", "coarse"]


class Quick(M):
    """A drop in five figures: set-back, fall to the edge, height, face angle (90° plumb) and recess. ``padded``:
    textile lies on its edge under the rope, to be had back; ``face``: of the wall."""

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
    """A drop as survey shots in order, from the tie to the landing. ``first_edge``: how sharp the rock is where the
    first one starts; asked only where the rope starts there and the rock falls away."""

    kind: Literal["shots"]
    first_edge: Sharpness = "unknown"
    shots: Annotated[tuple[Shot, ...], Field(min_length=1, max_length=100)]


Section = Annotated[Quick | Shots, Field(discriminator="kind")]
LandingKind = Literal["ledge", "ground", "pool", "wading", "moving water", "hanging stance", "unknown"]


class Landing(M):
    """What is at the bottom. ``aside_m``: how far off to the side of the plumb line it lies; ``next_m``: at a hanging
    stance, from where one hangs to the master point of the next station; ``room``: people who can stand there."""

    kind: LandingKind
    aside_m: Aside = Known(kind="known", value=0, method="eye")
    next_m: Annotated[Figure, within(0, 10, "m", "how far the next station is", True)] = Unknown(
        kind="unknown", why="not measured"
    )
    room: Annotated[Figure, within(1, 60, "", "people who can stand at the landing"), AfterValidator(whole_count)] = (
        Unknown(kind="unknown", why="not counted")
    )
